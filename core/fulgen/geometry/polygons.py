"""The polygon engine: shapes as polygons of straight sides, by GEOS.

It loses the curves, but it is sound: it decides what is covered, and the curves are found again (see
overlay).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TypeAlias

import numpy as np
import shapely
import shapely.errors
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from fulgen.geometry.flatten import flatten
from fulgen.geometry.outline import Bools, Floats, Ints, Outline
from fulgen.problem import Problem

Region: TypeAlias = Polygon | MultiPolygon


def region_of(outline: Outline, tolerance: float, *, even_odd: bool = False) -> Region:
    """All points with a winding number other than 0, or with an odd one (SVG 2, section 13.4.2).

    Works for any contours, crossing ones too: the plane is cut along every side, and each
    face is kept if the contours wind around a point inside it. Raises Problem "too-crossed".
    """
    points, ring_of = flatten(outline, tolerance)
    counts = np.bincount(ring_of) if len(ring_of) else np.zeros(0, np.intp)
    if not (counts >= 3).any():
        return MultiPolygon()
    solid = (counts >= 3)[ring_of]
    points, ring_of = points[solid], np.unique(ring_of[solid], return_inverse=True)[1]
    return _covered(points, ring_of, even_odd=even_odd)


def covered(xy: Floats, closing: Bools, *, even_odd: bool = False) -> Region:
    """The same of rings given by their coordinates (N, 2), each ring closed by a coordinate that is
    marked."""
    ring_of = ring_numbers(closing)
    return _covered(xy[~closing], ring_of[~closing], even_odd=even_odd) if len(xy) else MultiPolygon()


def covered_by_each(xy: Floats, closing: Bools) -> Region:
    """All that rings cover, each by itself (nonzero), whatever the way it is wound; see ``covered``."""
    ring_of = ring_numbers(closing)
    areas = np.asarray(shapely.polygons(shapely.linearrings(xy, indices=ring_of)))
    valid = shapely.is_valid(areas)
    own: list[BaseGeometry] = list(areas[valid])
    for ring in np.flatnonzero(~valid).tolist():
        points = xy[ring_of == ring][:-1]
        own.append(_covered(points, np.zeros(len(points), np.intp), even_odd=False))
    return polygonal(shapely.union_all(own))


def _covered(points: Floats, ring_of: Ints, *, even_odd: bool) -> Region:
    if cross_too_often(points, ring_of):
        raise Problem(
            "too-crossed",
            "The outline crosses itself so often that it would take minutes to work out.",
            "Use a simpler one, or take its crossings out in a drawing program.",
        )
    rings = shapely.get_parts(shapely.linearrings(points, indices=ring_of))
    lines = shapely.unary_union(shapely.MultiLineString(list(rings)))
    faces = shapely.get_parts(shapely.polygonize(np.array([lines])))
    if not len(faces):
        return MultiPolygon()
    inside = shapely.get_coordinates(shapely.point_on_surface(faces))
    winding = winding_numbers(inside, points, ring_of)
    filled = faces[winding % 2 != 0 if even_odd else winding != 0]
    return polygonal(shapely.union_all(filled))


MOST_CROSSINGS = 4_000
"""How often the sides of an outline may cross: each crossing makes a face, and so many take about 0.5 s. The
busiest letter of the faces that ship has 35."""

_BLOCK = 64


def cross_too_often(points: Floats, ring_of: Ints) -> bool:
    """Whether the sides of rings cross each other more than about MOST_CROSSINGS times."""
    if len(points) ** 2 / 2 <= MOST_CROSSINGS:
        return False  # not so many can cross
    ends = np.append(ring_of[1:] != ring_of[:-1], True)
    following = np.arange(1, len(points) + 1)
    following[ends] = np.flatnonzero(np.append(True, ends[:-1]))
    sides = np.asarray(shapely.linestrings(np.stack([points, points[following]], axis=1)))
    tree = shapely.STRtree(sides)
    # Pairs are found from both their sides. Most whose boxes meet are neighbours, which do not cross.
    near = crossed = 0
    for start in range(0, len(sides), _BLOCK):
        one, other = tree.query(sides[start : start + _BLOCK])
        one = one + start
        apart = (one != other) & (following[one] != other) & (following[other] != one)
        near += int(np.count_nonzero(apart))
        if near > 2 * MOST_CROSSINGS:
            crossed += int(np.count_nonzero(shapely.crosses(sides[one[apart]], sides[other[apart]])))
        if crossed > 2 * MOST_CROSSINGS:
            return True
    return False


def winding_numbers(at: Floats, points: Floats, ring_of: Ints) -> Ints:
    """How often rings wind around each of ``at`` (M, 2): signed crossings of a ray to the right.

    Sunday's crossing rule (D. Sunday, "Inclusion of a Point in a Polygon", 2001).
    """
    ends = np.append(ring_of[1:] != ring_of[:-1], True)
    starts = np.flatnonzero(np.append(True, ends[:-1]))
    following = np.arange(1, len(points) + 1)
    following[ends] = starts
    a, b = points, points[following]
    winding = np.zeros(len(at), np.intp)
    for block in range(0, len(at), 64):  # keeps the table of points × sides small
        x, y = at[block : block + 64, 0, None], at[block : block + 64, 1, None]
        left = (b[:, 0] - a[:, 0]) * (y - a[:, 1]) - (x - a[:, 0]) * (b[:, 1] - a[:, 1])
        up = (a[:, 1] <= y) & (b[:, 1] > y) & (left > 0)
        down = (a[:, 1] > y) & (b[:, 1] <= y) & (left < 0)
        winding[block : block + 64] = up.sum(axis=1) - down.sum(axis=1)
    return winding


def union(regions: list[Region]) -> Region:
    """Everything covered by at least one region.

    Regions whose boxes are apart need no overlay, so they are first gathered in a few layers
    (a greedy colouring: a word's odd and even letters, mostly); then the layers are united.
    """
    x0, y0, x1, y1 = shapely.bounds(regions).T
    meets = (x0[:, None] <= x1) & (x1[:, None] >= x0) & (y0[:, None] <= y1) & (y1[:, None] >= y0)
    layer_of = np.zeros(len(regions), np.intp)
    for index in range(1, len(regions)):
        taken = layer_of[:index][meets[index, :index]].tolist()
        layer_of[index] = next(layer for layer in range(index + 1) if layer not in taken)
    parts, part_of = shapely.get_parts(regions, return_index=True)
    layers = [MultiPolygon(list(parts[layer_of[part_of] == n])) for n in range(layer_of.max() + 1)]
    united: BaseGeometry = layers[0]
    try:
        for layer in layers[1:]:
            united = united.union(layer)
    except shapely.errors.GEOSException:
        # Edges that touch themselves: made valid, on a grid that is finer than anything that is cut.
        united = shapely.union_all(shapely.make_valid(np.array(regions, dtype=object)), grid_size=_FINE)
    return polygonal(united)


_FINE = 1e-6


def overlay(how: Callable[..., BaseGeometry], one: Region, other: Region) -> BaseGeometry:
    """The union, intersection or difference of two regions; of their valid forms, where rounding made edges
    touch themselves, as turning a letter may."""
    try:
        return how(one, other)
    except shapely.errors.GEOSException:
        return how(shapely.make_valid(one), shapely.make_valid(other), grid_size=_FINE)


def uncrossed(region: Region) -> Region:
    """The region; where its edges cross themselves, its valid form. Buffers and simplified outlines may leave
    such an edge (23 of 3,000 outlines drawn in the steps of a plotter), which overlays need not take."""
    return region if shapely.is_valid(region) else polygonal(shapely.make_valid(region))


def moved(region: Region, dx: float, dy: float) -> Region:
    """The region moved."""
    by = np.array([dx, dy])
    return polygonal(shapely.transform(region, lambda xy: xy + by)) if by.any() else region


def holes_of(region: Region) -> list[Polygon]:
    """The holes of a region, as polygons."""
    return [Polygon(ring) for part in shapely.get_parts(region) for ring in part.interiors]


def numbered_holes(region: Region) -> Iterator[tuple[int, Polygon]]:
    """The holes of a region, each with the number of its ring."""
    number = 0
    for part in shapely.get_parts(region):
        for n, ring in enumerate(part.interiors, number + 1):
            yield n, Polygon(ring)
        number += 1 + len(part.interiors)


def longest_side(region: Region) -> float:
    """That of the box around a region."""
    x0, y0, x1, y1 = region.bounds
    return float(max(x1 - x0, y1 - y0))


def count(region: Region) -> tuple[int, int]:
    """Pieces and holes."""
    parts = shapely.get_parts(region)
    return len(parts), int(shapely.get_num_interior_rings(parts).sum())


def ring_numbers(closing: Bools) -> Ints:
    """The ring of each coordinate, where those that close one are marked."""
    return np.asarray(np.cumsum(closing) - closing.astype(np.intp), np.intp)


def parts_of_rings(xy: Floats, closing: Bools, counts: Ints) -> NDArray[np.object_]:
    """The polygons of rings given by their coordinates (N, 2), each closed by one that is marked; so many
    rings to each of its parts, the outer one first."""
    rings = np.asarray(shapely.linearrings(xy, indices=ring_numbers(closing)))
    firsts = np.cumsum(counts) - counts
    parts = np.asarray(shapely.polygons(rings[firsts]))
    for n in np.flatnonzero(counts > 1).tolist():
        at = int(firsts[n])
        parts[n] = shapely.polygons(rings[at], holes=rings[at + 1 : at + int(counts[n])])
    return parts


def of_rings(xy: Floats, closing: Bools, counts: Ints) -> Region:
    """The same as one region."""
    parts = parts_of_rings(xy, closing, counts)
    return parts[0] if len(parts) == 1 else MultiPolygon(list(parts))


def with_rings(region: Region, kept: Sequence[int]) -> Region:
    """The region with some of its rings only, counted shell after shell, each before its holes."""
    stays = set(kept)
    parts, number = [], 0
    for part in shapely.get_parts(region):
        if number in stays:
            holes = [ring for n, ring in enumerate(part.interiors, number + 1) if n in stays]
            parts.append(Polygon(part.exterior, holes))
        number += 1 + len(part.interiors)
    return MultiPolygon(parts)


def polygonal(geometry: BaseGeometry) -> Region:
    """Only the areas of a result; a union may leave a stray line where two shapes touch."""
    if isinstance(geometry, Polygon | MultiPolygon):
        return geometry
    return MultiPolygon([g for g in shapely.get_parts(geometry) if isinstance(g, Polygon)])
