"""Operations on shapes: one cut out of another, what several have in common, and the plane divided by all;
holes filled and small pieces left out. All are overlays, as a weld is (see overlay).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import shapely
from shapely.geometry.base import BaseGeometry

from fulgen.budget import check
from fulgen.geometry.contact import finer_where_near
from fulgen.geometry.outline import Outline
from fulgen.geometry.polygons import Region, overlay, polygonal
from fulgen.geometry.shape import Gathered, Shape, combined
from fulgen.geometry.weld import have_same_area, weld
from fulgen.problem import Problem

SLIVER = 2.0
"""Where edges almost run along each other, what is left between them that a disc of so many flattenings does
not fit into is none: the flattening could not tell it from nothing."""


def subtract(shape: Shape, taken: Sequence[Shape]) -> Shape:
    """The shape without what others cover."""
    near = [t for t in taken if t and shape and shapely.intersects(t.region, shape.region)]
    if not near:
        return shape
    return _done(shapely.difference, shape, weld(near))


def intersect(shapes: Sequence[Shape]) -> Shape:
    """What all of some shapes cover."""
    if not shapes:
        return Shape.empty()
    found = shapes[0]
    for other in shapes[1:]:
        if not found or not other or not shapely.intersects(found.region, other.region):
            return Shape.empty()
        found = _done(shapely.intersection, found, other)
    return found


def _done(how: Callable[..., BaseGeometry], one: Shape, other: Shape) -> Shape:
    check()
    gathered = finer_where_near(Gathered.of(have_same_area([one, other])))
    region = polygonal(overlay(how, *gathered.regions))
    return combined(gathered, region, SLIVER * gathered.tolerance)


def cut_out(shape: Shape, patch: Region) -> Shape:
    """The shape without what a patch of straight sides covers; its other curves are kept."""
    if not shapely.intersects(shape.region, patch):
        return shape
    gathered = Gathered.of([shape, straight_sided(patch, shape.tolerance)])
    return combined(gathered, polygonal(overlay(shapely.difference, *gathered.regions)))


def straight_sided(region: Region, tolerance: float) -> Shape:
    """A region as a shape of straight sides."""
    contours = []
    for part in shapely.get_parts(shapely.orient_polygons(region, exterior_cw=False)):
        contours += [shapely.get_coordinates(ring)[:-1] for ring in (part.exterior, *part.interiors)]
    return Shape.of(Outline.joined(Outline.polygon(ring) for ring in contours), tolerance)


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

    Raises Problem "too-many" where there are more shapes or regions than can be handled.
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
            both = intersect([share.shape, shape])
            if not both:
                found.append(share)
                continue
            found.append(Share((*share.covers, number), both))
            rest = subtract(share.shape, [shape])
            if rest:
                found.append(Share(share.covers, rest))
        alone = subtract(shape, [share.shape for share in shares])
        shares = [*found, *([Share((number,), alone)] if alone else [])]
        if len(shares) > MOST_REGIONS:
            raise _too_many(f"More than {MOST_REGIONS} regions would be left.")
    return sorted(shares, key=lambda share: (len(share.covers), share.covers))


def _too_many(what: str) -> Problem:
    return Problem("too-many", what, "Divide fewer parts at a time.", "members")


def filled(shape: Shape, goes: Callable[[shapely.Polygon], bool]) -> Shape:
    """The shape without those of its holes that are to go; all else stays to the last point."""
    kept: list[int] = []
    number = 0
    for part in shapely.get_parts(shape.region):
        kept.append(number)
        kept += [number + n for n, ring in enumerate(part.interiors, 1) if not goes(shapely.Polygon(ring))]
        number += 1 + len(part.interiors)
    return shape.with_contours(kept)


def fill_holes(shape: Shape, fills: Sequence[Region]) -> Shape:
    """The shape with those holes filled that lie in one of ``fills``; nothing else changes."""
    if not fills:
        return shape
    area = shapely.union_all([shapely.buffer(f, shape.tolerance * 4) for f in fills])
    return filled(shape, lambda hole: bool(shapely.covers(area, hole)))


def without_small(shape: Shape, width: float) -> Shape:
    """The shape without pieces that a disc of a width does not fit into, holes and all; the others stay."""
    if not shape or width <= 0:
        return shape
    kept: list[int] = []
    number = 0
    for part in shapely.get_parts(shape.region):
        large = part.area >= _SMALL_AREAS * width * width
        many = 1 + len(part.interiors)
        if large or not shapely.buffer(part, -width / 2).is_empty:
            kept += range(number, number + many)
        number += many
    return shape.with_contours(kept) if kept else Shape.empty()


_SMALL_AREAS = 400
"""A piece of more squares of a width than this is never so thin all over, as pieces are."""
