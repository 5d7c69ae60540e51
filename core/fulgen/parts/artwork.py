"""Artwork: a drawing that was read in, kept with its groups, layers and colours, contour by contour."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field, model_validator

from fulgen.bounded import BoundedCache
from fulgen.frozen import STRICT, Flag
from fulgen.geometry import measure
from fulgen.geometry.flatten import flatten, open_points
from fulgen.geometry.offset import Ends, band
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import outline_of
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import clean, geos_errors_as_problems, weld
from fulgen.parts.built_part import Mark
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.part import KIND_IS_REQUIRED, FilmColour, Part, PartName, Use
from fulgen.problem import Problem

MAX_ITEMS = 3_000
MAX_ART_DATA = 1_600_000
"""Signs of path data in a piece of artwork: about 25,000 nodes of curves."""

Contour = Annotated[int, Field(ge=0, le=100_000)]


@dataclass(frozen=True)
class ArtItem:
    """One thing in a drawing, in mm around the drawing's middle: an area with all its contours, or a line;
    its colour, and the group or layer it is in. A line has the width it was drawn with."""

    __pydantic_config__ = STRICT

    d: Annotated[str, Field(max_length=MAX_ART_DATA, pattern=r"^[MLQCZ0-9 .,e+-]*$")]
    film: FilmColour = "#2B5674"
    group: Annotated[str, Field(max_length=80)] = ""
    line: Flag = False
    width_mm: Annotated[float, Field(strict=True, ge=0.0, le=500.0)] = 0.0


@dataclass(frozen=True)
class ContourChoice:
    """What the maker decides about one contour: another film, what it is for, or that it is left out."""

    __pydantic_config__ = STRICT

    film: FilmColour | None = None
    off: Flag = False
    use: Use | None = None


class Artwork(Part):
    """A drawing that was read in: where it came from, its items, and what was decided about contours, by
    their numbers over all items. Its colours are films of their own, or all of it is cut from the part's
    film; each colour can be for something else than to be cut.

    Lines whose ends are within ``close_mm`` of each other are closed; the others are drawn, scored, or become
    bands of a width.
    """

    model_config = KIND_IS_REQUIRED

    kind: Literal["artwork"] = "artwork"
    source: PartName = ""
    items: tuple[ArtItem, ...] = Field(min_length=1, max_length=MAX_ITEMS)
    contours: dict[Contour, ContourChoice] = Field(
        default_factory=dict,
        max_length=5_000,
        json_schema_extra={"propertyNames": {"pattern": "^(0|[1-9][0-9]{0,4}|100000)$"}},
    )
    colours: Literal["own", "one"] = "one"
    uses: dict[FilmColour, Use] = Field(
        default_factory=dict,
        max_length=200,
        json_schema_extra={"propertyNames": {"pattern": "^#[0-9A-Fa-f]{6}$"}},
    )
    across: Annotated[float, Field(strict=True, ge=0.01, le=100.0)] = 1.0
    down: Annotated[float, Field(strict=True, ge=0.01, le=100.0)] = 1.0
    close_mm: Annotated[float, Field(strict=True, ge=0.0, le=20.0)] = 0.1
    lines: Literal["draw", "score", "band"] = "draw"
    band_mm: Annotated[float, Field(strict=True, ge=0.0, le=100.0)] = 0.0
    ends: Ends = "round"

    @model_validator(mode="after")
    def _within_bounds(self) -> Artwork:
        if sum(len(item.d) for item in self.items) > MAX_ART_DATA:
            raise ValueError("The drawing has more points than a design holds.")
        return self

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or self.source or "drawing"


@dataclass(frozen=True, eq=False)
class ArtContour:
    """A contour of a drawing as it is used: its number, the number of its item, its outline, the film it is
    cut from (None: the part's own), what it is for, and notes about it."""

    number: int
    item: int
    outline: Outline
    film: str | None
    off: bool
    line: bool
    group: str
    use: Use = "cut"
    double_of: int | None = None


@dataclass(frozen=True, eq=False)
class BuiltArtwork(BuiltSolid):
    """What a drawing comes to, with its contours."""

    contours: tuple[ArtContour, ...] = field(default=())

    @cached_property
    def open_gaps(self) -> tuple[tuple[int, float], ...]:
        """Lines that stay open: their numbers, and how far their ends are apart in mm."""
        return tuple((c.number, _gap(c.outline)) for c in self.contours if c.line and not c.off)


def build_artwork(part: Artwork) -> BuiltArtwork:
    """A drawing as it is used. Raises Problem "bad-artwork", "weld"."""
    contours = tuple(_contours(part))
    display_name = f"the {part.display_name}" if not part.name and not part.source else part.display_name
    marks: list[Mark] = []
    areas: dict[_Layer, dict[int, list[Outline]]] = {}
    bands: dict[_Layer, list[Shape]] = {}
    for contour in contours:
        if contour.off:
            continue
        use, width = contour.use, part.band_mm or part.items[contour.item].width_mm
        if contour.line and use == "cut" and (part.lines != "band" or not width):
            use = "score" if part.lines == "score" else "draw"
        if contour.line and use == "engrave" and not width:
            use = "score"  # a beam that follows a line scores it
        if use != "cut" and use != "engrave":
            marks.append(Mark(contour.outline, use, closed=not contour.line))
            continue
        layer = (use, contour.film if use == "cut" else None)
        if contour.line:
            bands.setdefault(layer, []).append(band(contour.outline, width, FLATNESS_MM, part.ends))
        else:
            areas.setdefault(layer, {}).setdefault(contour.item, []).append(contour.outline)
    layers: dict[_Layer, Shape] = {}
    for layer in dict.fromkeys([*areas, *bands]):
        shapes = [_area(outlines) for outlines in areas.get(layer, {}).values()]
        layers[layer] = weld([*shapes, *bands.get(layer, [])])
    body, engraved = (layers.pop((use, None), Shape.empty()) for use in ("cut", "engrave"))
    if engraved:
        marks.insert(0, Mark(engraved.outline, "engrave", closed=True))
    others = {film: shape for (_, film), shape in layers.items() if film is not None}
    return BuiltArtwork(part.id, display_name, body, others, tuple(marks), contours)


_Layer = tuple[Literal["cut", "engrave"], str | None]
"""What areas are for, and the film that they are cut from where it is not the part's own."""


def _area(outlines: Sequence[Outline]) -> Shape:
    """What the contours of an item cover: those within others are holes, as they were filled."""
    whole = Outline.joined(outlines)
    points = whole.points
    if not len(points) or np.ptp(points, axis=0).max() == 0.0:
        return Shape.empty()
    with geos_errors_as_problems():
        return clean(whole, FLATNESS_MM, even_odd=True)


def _contours(part: Artwork) -> Iterator[ArtContour]:
    stretch = np.array([part.across, part.down])
    number = 0
    seen: dict[tuple[float, ...], int] = {}
    uses = {film.upper(): use for film, use in part.uses.items()}
    for n, item in enumerate(part.items):
        for contour in _read(item.d).contours():
            choice = part.contours.get(number, ContourChoice())
            outline = Outline(contour.verbs, contour.points * stretch)
            open_ = item.line and _gap(outline) > part.close_mm
            film = choice.film or (item.film if part.colours == "own" else None)
            mark = _mark(outline, open_)
            double = seen.setdefault(mark, number)
            yield ArtContour(
                number, n, outline, None if film is None else film.upper(), choice.off, open_, item.group,
                choice.use or uses.get(item.film.upper(), "cut"), double if double != number else None,
            )  # fmt: skip
            number += 1


def _mark(outline: Outline, open_: bool) -> tuple[float, ...]:
    """What tells a contour from all others but those that lie on it: its box and its length, to 0.01 mm."""
    box = measure.box(outline)
    length = float(np.hypot(*np.diff(open_points(outline, FLATNESS_MM), axis=0).T).sum()) if open_ else 0.0
    area = abs(float(measure.contour_areas(outline).sum()))
    return tuple(round(v, 2) for v in (box.x, box.y, box.width, box.height, area, length))


def _gap(outline: Outline) -> float:
    """How far the ends of a contour are apart."""
    return float(np.hypot(*(outline.points[0] - outline.points[-1])))


def crossing_lines(built: BuiltArtwork) -> int:
    """How many pairs of contours cross each other that are cut from one film."""
    films: dict[str | None, list[Outline]] = {}
    for contour in built.contours:
        if not contour.off and not contour.line:
            films.setdefault(contour.film, []).append(contour.outline)
    found = 0
    for outlines in films.values():
        points, ring_of = flatten(Outline.joined(outlines), FLATNESS_MM)
        rings = np.asarray(shapely.linearrings(points, indices=ring_of))
        one, other = shapely.STRtree(rings).query(rings, predicate="crosses")
        found += int((one < other).sum())
    return found


def _read(d: str) -> Outline:
    """Path data of an item, read once. Raises Problem "bad-artwork"."""

    def read() -> Outline:
        try:
            return outline_of(d)
        except ValueError:
            raise Problem(
                "bad-artwork",
                "A part of the drawing cannot be read.",
                "Read the drawing in again.",
                "items",
            ) from None

    return _outlines.get(d, read)


_outlines: BoundedCache[str, Outline] = BoundedCache(16 * 2**20)
