"""Backings: the outline of a part grown by a distance, in another film. They follow when the part changes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

import shapely
from pydantic import Field

from fulgen.geometry.offset import Corners, offset
from fulgen.geometry.operations import filled
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import weld
from fulgen.joining.anchors import PartId
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.kind import Surroundings, missing_source
from fulgen.parts.part import ANY_FILM, KIND_IS_REQUIRED, FilmColour, Part
from fulgen.problem import Problem


class Backing(Part):
    """The outline of another part, grown by a distance (shrunk where negative). Holes are kept, filled
    where a disc of ``fill_mm`` does not fit through, or all filled. Its place is moved on from that of the
    other part."""

    model_config = KIND_IS_REQUIRED

    kind: Literal["backing"] = "backing"
    of: PartId
    by_mm: Annotated[float, Field(strict=True, ge=-100.0, le=200.0)] = 3.0
    corners: Corners = "round"
    holes: Literal["keep", "fill small", "fill all"] = "fill small"
    fill_mm: Annotated[float, Field(strict=True, ge=0.0, le=500.0)] = 4.0
    film: FilmColour = "#C9A24A"

    @property
    def needs(self) -> tuple[str, ...]:
        return (self.of,)

    def _ignored_by_build(self) -> dict[str, Any]:
        return {"film": ANY_FILM}

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or "backing"


@dataclass(frozen=True)
class BackingInput:
    """All that a backing is built from: the part it is of, in whose frame it is built, and how many times as
    large lengths there are on the work."""

    part: Backing
    source: PlacedPart
    scale: float


def gather_backing(part: Backing, around: Surroundings) -> BackingInput:
    """Raises Problem "no-part"."""
    source = around.built(part.of)
    if source is None:
        raise missing_source(part)
    source = replace(source, place=Placement(), key=source.build_key)
    return BackingInput(part.build_input(), source, around.scale_of(part.id))


def build_backing(given: BackingInput) -> BuiltSolid:
    """A backing in the frame of its source.

    Raises Problem "nothing-left" where shrinking leaves nothing, "weld".
    """
    part, source, scale = given.part, given.source, given.scale
    tolerance = FLATNESS_MM / scale
    body = weld([shape for placed in source.in_films for shape in placed.shapes])
    grown = offset(body.refined(tolerance), part.by_mm / scale, part.corners)
    if not grown:
        raise Problem(
            "nothing-left",
            "Shrunk by so much, nothing of the part is left.",
            "Let the backing reach further out.",
            "by_mm",
        )
    if part.holes != "keep":
        grown = _filled(grown, None if part.holes == "fill all" else part.fill_mm / scale)
    return BuiltSolid(part.id, f"the {part.display_name}", grown)


def _filled(shape: Shape, most: float | None) -> Shape:
    """The shape with its holes filled, those that a disc of ``most`` fits into left."""

    def goes(hole: shapely.Polygon) -> bool:
        return most is None or bool(shapely.buffer(hole, -most / 2).is_empty)

    return filled(shape, goes)
