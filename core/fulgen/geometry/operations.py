"""Operations on shapes: one cut out of another, what several have in common, and the plane divided by all.

Each is done by the curve engine and held against the polygon engine, as a weld is (see weld).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from fulgen.budget import check
from fulgen.geometry import curves, measure
from fulgen.geometry.flatten import flatten
from fulgen.geometry.outline import Bools, Outline
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.weld import Shape, agreed, region_within, weld
from fulgen.problem import Problem


def without(shape: Shape, taken: Sequence[Shape]) -> Shape:
    """The shape without what others cover. Raises Problem "weld" when the two engines cannot agree."""
    near = [t for t in taken if t and shape and shapely.intersects(t.region, shape.region)]
    if not near:
        return shape
    shape, other = _alike(shape, weld(near))
    twin = _solid(shapely.difference(shape.region, other.region), shape.tolerance)
    return _done(shape, other, twin, curves.DIFFERENCES)


def common(shapes: Sequence[Shape]) -> Shape:
    """What all of some shapes cover. Raises Problem "weld" when the two engines cannot agree."""
    if not shapes:
        return Shape.empty()
    found = shapes[0]
    for other in shapes[1:]:
        if not found or not other or not shapely.intersects(found.region, other.region):
            return Shape.empty()
        found, other = _alike(found, other)
        twin = _solid(shapely.intersection(found.region, other.region), found.tolerance)
        found = _done(found, other, twin, curves.INTERSECTIONS)
    return found


@dataclass(frozen=True, eq=False)
class Share:
    """A part of the plane: the shapes that cover it, by their numbers, and what it is."""

    covers: tuple[int, ...]
    shape: Shape


MOST_DIVIDED = 12
"""More shapes are not divided at once: each can double the number of regions."""

MOST_REGIONS = 400


def divided(shapes: Sequence[Shape]) -> list[Share]:
    """All regions into which shapes divide what they cover, by what covers them: no two overlap, and together
    they are the union.

    Raises Problem "too-many" where there are more shapes or regions than can be handled, "weld" when the two
    engines cannot agree.
    """
    if len(shapes) > MOST_DIVIDED:
        raise _too_many(
            f"{len(shapes)} parts would be divided by each other, and up to {MOST_DIVIDED} can be."
        )
    shares: list[Share] = []
    for number, shape in enumerate(shapes):
        if not shape:
            continue
        found: list[Share] = []
        for share in shares:
            both = common([share.shape, shape])
            if not both:
                found.append(share)
                continue
            found.append(Share((*share.covers, number), both))
            rest = without(share.shape, [shape])
            if rest:
                found.append(Share(share.covers, rest))
        alone = without(shape, [share.shape for share in shares])
        shares = [*found, *([Share((number,), alone)] if alone else [])]
        if len(shares) > MOST_REGIONS:
            raise _too_many(f"More than {MOST_REGIONS} regions would be left.")
    return sorted(shares, key=lambda share: (len(share.covers), share.covers))


def _too_many(what: str) -> Problem:
    return Problem("too-many", what, "Divide fewer parts at a time.", "members")


_ALIKE = 4.0
"""Twins whose tolerances differ by more are made alike first, or one's flattening is the other's sliver."""


def _alike(one: Shape, other: Shape) -> tuple[Shape, Shape]:
    finest = min(one.tolerance, other.tolerance) * _ALIKE
    return one.refined(finest), other.refined(finest)


def _done(one: Shape, other: Shape, twin: Region, routes: Sequence[curves.Route]) -> Shape:
    check()
    tolerance = max(one.tolerance, other.tolerance)
    if twin.is_empty:
        return Shape.empty()
    spared: Region = shapely.MultiPolygon()
    try:
        return without_slivers(agreed([one.outline, other.outline], twin, tolerance, routes, spared))
    except Problem:
        # Edges that run along each other: as true as straight sides are, and never wrong.
        return straight_sided(twin, tolerance)


def straight_sided(region: Region, tolerance: float) -> Shape:
    """A region as a shape of straight sides."""
    contours = []
    for part in shapely.get_parts(shapely.orient_polygons(region, exterior_cw=False)):
        contours += [shapely.get_coordinates(ring)[:-1] for ring in (part.exterior, *part.interiors)]
    return Shape(Outline.joined(Outline.polygon(ring) for ring in contours), region, tolerance)


def _solid(found: BaseGeometry, tolerance: float) -> Region:
    """An area without parts that are thinner than the flattening."""
    region = polygonal(found)
    parts = shapely.get_parts(region)
    firm = _firm(parts, tolerance)
    return region if firm.all() else shapely.MultiPolygon(list(parts[firm]))


def _firm(areas: NDArray[np.object_], tolerance: float) -> Bools:
    """Which areas are no slivers: a disc of the tolerance fits into them."""
    with np.errstate(invalid="ignore", divide="ignore"):  # GEOS divides by the length of a side of none
        return np.asarray(~shapely.is_empty(shapely.buffer(areas, -tolerance)))


def filled(shape: Shape, goes: Callable[[shapely.Polygon], bool]) -> Shape:
    """The shape without those of its holes that are to go; all else stays to the last point."""
    outline = shape.outline
    holes = np.flatnonzero(measure.contour_areas(outline) < 0)
    if not len(holes):
        return shape
    points, ring_of = flatten(outline, shape.tolerance)
    rings = np.asarray(shapely.polygons(shapely.linearrings(points, indices=ring_of)))
    gone = {n for n in holes.tolist() if goes(rings[n])}
    if not gone:
        return shape
    kept = outline.arranged([n for n in range(len(rings)) if n not in gone], np.zeros(len(rings), np.bool_))
    return Shape(kept, region_within(kept, shape.tolerance), shape.tolerance)


def without_small(shape: Shape, width: float) -> Shape:
    """The shape without pieces that a disc of a width does not fit into, holes and all; the others stay."""
    if not shape or width <= 0:
        return shape
    parts = shapely.get_parts(shape.region)
    if not any(part.area < _SMALL_AREAS * width * width for part in parts):
        return shape
    outline = shape.outline
    starts = np.flatnonzero(measure.contour_areas(outline) > 0)
    ends = np.append(starts[1:], len(outline.contour_starts))
    pieces = [outline.stretch(int(a), int(b)) for a, b in zip(starts, ends, strict=True)]
    regions = [region_within(piece, shape.tolerance) for piece in pieces]
    kept = [n for n, region in enumerate(regions) if not shapely.buffer(region, -width / 2).is_empty]
    if len(kept) == len(pieces):
        return shape
    if not kept:
        return Shape.empty()
    whole = Outline.joined(pieces[n] for n in kept)
    return Shape(whole, region_within(whole, shape.tolerance), shape.tolerance)


_SMALL_AREAS = 400
"""A piece of more squares of a width than this is never so thin all over, as pieces are."""


def without_slivers(shape: Shape) -> Shape:
    """The shape without pieces and holes that are thinner than its flattening."""
    outline = shape.outline
    points, ring_of = flatten(outline, shape.tolerance)
    rings = np.asarray(shapely.polygons(shapely.linearrings(points, indices=ring_of)))
    firm = _firm(rings, shape.tolerance)
    if firm.all():
        return shape
    kept = outline.arranged(np.flatnonzero(firm).tolist(), np.zeros(len(rings), np.bool_))
    if not kept:
        return Shape.empty()
    return Shape(kept, region_within(kept, shape.tolerance), shape.tolerance)
