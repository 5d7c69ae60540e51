"""What a maker decides about single letters: how they stand, what shape they have, how they are joined.

All of it is kept by the letter's id, so it stays with the letter when the text around it changes.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from fulgen.frozen import NO_OTHERS, STRICT, WHOLE, Flag
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.reshape import LetterShape, Move
from fulgen.lettering.stand_ins import Film, StandIn

LetterId = Annotated[int, Field(ge=1, le=1_000_000), WHOLE]
LetterKey = Annotated[int, Field(ge=1, le=1_000_000)]
"""A letter's id where it is a key: those of JSON are texts."""

Tag = Annotated[str, Field(pattern=r"^[a-z0-9]{4}$")]
Alternate = Annotated[int, Field(ge=0, le=99), WHOLE]


class Way(StrEnum):
    """What is done at a seam."""

    LEAVE = "leave"
    SLIDE = "slide"
    REACH = "reach"
    FLOW = "flow"
    BRIDGE = "bridge"
    APART = "apart"


class MarkWay(StrEnum):
    """What is done with a mark: kept apart, moved into its letter, or tied to it by a small bar."""

    KEEP = "keep"
    LOWER = "lower"
    BRIDGE = "bridge"


@dataclass(frozen=True)
class Spot:
    """A place on a letter, from its origin and in shares of the size."""

    __pydantic_config__ = STRICT

    x: Move
    y: Move


@dataclass(frozen=True)
class FlowShape:
    """How a hand has shaped a flow: where it leaves the left letter and arrives in the right one, None for
    the best place, and how full its bend is."""

    __pydantic_config__ = STRICT

    leaves: Spot | None = None
    arrives: Spot | None = None
    full: Annotated[float, Field(strict=True, ge=0.2, le=2.5)] = 1.0


@dataclass(frozen=True)
class SeamAfter:
    """What the maker chose for the seam after a letter: a way to join, or None for the best; whether stubs
    are trimmed and pinholes filled, or None for: where letters are brought together; how the flow is shaped,
    where that is the way; and by how much its notches are rounded, or None for: as those of the word."""

    __pydantic_config__ = STRICT

    way: Way | None = None
    trim: Flag | None = None
    flow: FlowShape | None = None
    smooth_mm: Annotated[float, Field(strict=True, ge=0.0, le=20.0)] | None = None


@dataclass(frozen=True)
class LetterChange:
    """What a hand has done to one letter. Lengths are shares of the face's size, so they scale with it.

    dx, dy move this letter alone (y down); carry moves it and all that follow on its line; after is
    room added behind it; turn is in degrees clockwise about its middle. alternates are features of
    its own, by tag. apart says whether it stands apart from its neighbours; None leaves that to what
    kind of sign it is. marks says what is done with its dots and accents, mark_shape what stands in their
    place; None leaves that to the word. shape are changes of its nodes, stand_in is a shape in its place.
    film is one of its own: it is joined to nothing then, for films do not hold each other.
    """

    __pydantic_config__ = STRICT

    dx: Move = 0.0
    dy: Move = 0.0
    carry: Move = 0.0
    after: Move = 0.0
    turn: Annotated[float, Field(strict=True, ge=-180.0, le=180.0)] = 0.0
    scale: Annotated[float, Field(strict=True, ge=0.1, le=10.0)] = 1.0
    alternates: Annotated[dict[Tag, Alternate], Field(max_length=8, json_schema_extra=NO_OTHERS)] = field(
        default_factory=dict
    )
    face: FaceChoice | None = None
    apart: Flag | None = None
    seam: SeamAfter = SeamAfter()
    marks: MarkWay | None = None
    mark_shape: StandIn | None = None
    shape: LetterShape | None = None
    stand_in: StandIn | None = None
    film: Film | None = None

    @property
    def stands_apart(self) -> bool | None:
        """Whether it stands apart from its neighbours; None leaves that to what kind of sign it is."""
        has_films = self.film is not None or (self.stand_in is not None and bool(self.stand_in.layers))
        return True if has_films and self.apart is None else self.apart


AS_SET = LetterChange()
"""A letter as the face sets it."""
