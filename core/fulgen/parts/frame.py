"""Frames as parts of a design: what is asked of one, and the names that it holds."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from fulgen.framing.bands import Manner
from fulgen.framing.fit_solver import Centre, Feet
from fulgen.frozen import NO_OTHERS, STRICT, WHOLE, Flag
from fulgen.joining.anchors import PartId
from fulgen.lettering.catalogue import FaceChoice
from fulgen.parts.part import KIND_IS_REQUIRED, Millimetres, Part

MAX_NAMES = 12

ContourNumber = Annotated[int, Field(ge=0, le=100_000), WHOLE]
Along = Annotated[float, Field(strict=True, ge=-3000.0, le=3000.0)]


@dataclass(frozen=True)
class Fit:
    """How names are fitted: the air beside them, how deep they run into edges (as deep as their necks need,
    unless said), and how they may bend: made wider or narrower by so much at most, their letters spread to
    fill the room, each reached down to a lower edge. feet says what stands on that, centre what is laid in
    the middle."""

    __pydantic_config__ = STRICT

    air_mm: Annotated[float, Field(strict=True, ge=0.0, le=300.0)] = 3.0
    depth_mm: Annotated[float, Field(strict=True, ge=0.05, le=50.0)] | None = None
    stretch: Annotated[float, Field(strict=True, ge=1.0, le=1.6)] = 1.15
    spread: Flag = False
    reach: Flag = False
    feet: Feet | None = None
    centre: Centre = "box"


@dataclass(frozen=True)
class OwnBand:
    """A band drawn on artwork: its box from the middle of the work, how a name is held there, and the edges
    it runs into, by the numbers of their contours: all, where none are named."""

    __pydantic_config__ = STRICT

    x: Along
    y: Along
    width_mm: Millimetres
    height_mm: Millimetres
    manner: Manner = "across"
    edges: Annotated[tuple[ContourNumber, ...], Field(max_length=60)] = ()


class Frame(Part):
    """A frame and the names in its bands: members, in the order of the bands. form is one of the library, or
    "own": then ground is what it is made of, and bands are drawn on it. values are measures that are set,
    holes says that names are cut out of it, text are letters of its own: the name's first one, unless
    said."""

    model_config = KIND_IS_REQUIRED

    kind: Literal["frame"] = "frame"
    form: Annotated[str, Field(min_length=1, max_length=40)] = "name ring"
    width_mm: Millimetres = 80.0
    height_mm: Millimetres = 80.0
    values: dict[
        Annotated[str, Field(pattern=r"^[a-z]{1,20}$")], Annotated[float, Field(strict=True, ge=-1e4, le=1e4)]
    ] = Field(default_factory=dict, max_length=12, json_schema_extra=NO_OTHERS)
    holes: Flag = False
    text: Annotated[str, Field(max_length=6)] = ""
    face: FaceChoice = FaceChoice("anton")
    fit: Fit = Fit()
    members: tuple[PartId, ...] = Field((), max_length=MAX_NAMES)
    ground: PartId | None = None
    bands: tuple[OwnBand, ...] = Field((), max_length=MAX_NAMES)

    @property
    def contains(self) -> tuple[str, ...]:
        return self.members if self.ground is None else (self.ground, *self.members)

    @property
    def needs(self) -> tuple[str, ...]:
        """Names are made in it: only what it is made of comes first."""
        return () if self.ground is None else (self.ground,)

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or ("frame" if self.form == "own" else self.form)
