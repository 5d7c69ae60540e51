"""What comes off a sheet: the pieces that cuts part it into, and whether they are those that were promised.

The sheet less what the cuts take away falls into areas. Going over a cut from the rim of the sheet inwards,
areas are in turn waste, pieces, and holes: film is weeded so (common practice, no source).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import substring

from fulgen.budget import check
from fulgen.geometry.groups import Groups
from fulgen.geometry.outline import Floats, Point
from fulgen.geometry.polygons import Region, polygonal, uncrossed
from fulgen.geometry.thin import thinness, weak_places

KNIFE_MM = 0.03
"""How wide a cut of a knife is: film that is held by less does not hold. (†)"""

_RIM_MM = 5.0
"""How much sheet there is around all cuts."""

_CRUMB = 1.0
"""Areas that a disc of so many widths of the cut does not fit into are nothing that anybody would find."""

_FINE_MM = 0.0075
"""How true cuts are looked at: finer than the steps of a plotter, which make edges rough."""

_ALIKE = 0.98
"""A piece is the one that was promised when they share so much of what both cover. (†)"""

_NICK_MM = 0.1
"""Cuts that end so deep in a piece are seen. (†)"""


@dataclass(frozen=True, eq=False)
class CutResult:
    """The pieces that came off, from left to right; the holes that were weeded; and the ends of cuts that do
    not meet any cut."""

    pieces: tuple[Region, ...]
    holes: tuple[Region, ...]
    open_ends: tuple[Point, ...]


def simulate_cut(cuts: Sequence[Floats], kerf: float = 0.0, helps: Sequence[Floats] = ()) -> CutResult:
    """What comes off a sheet that was cut along paths (N, 2), in mm: with a knife, which parts the material
    and takes nothing away, or with a beam or saw that takes a kerf. ``helps`` are cuts that only help
    weeding: what lies on their two sides is of one kind."""
    width = kerf or KNIFE_MM
    real, helping = (
        [_plain(path) for path in paths if len(path) > 1 and np.ptp(path, axis=0).max() > 0]
        for paths in (cuts, helps)
    )
    found = [_of_group(own, beside, width, kerf) for own, beside in _groups(real, helping, width)]
    pieces = [piece for one in found for piece in one.pieces]
    pieces.sort(key=lambda piece: piece.bounds[0])
    holes = tuple(hole for one in found for hole in one.holes)
    return CutResult(tuple(pieces), holes, tuple(end for one in found for end in one.open_ends))


def _groups(
    real: Sequence[LineString], helping: Sequence[LineString], width: float
) -> Iterator[tuple[list[LineString], list[LineString]]]:
    """Cuts whose boxes meet, with the helps that come near to them: what is apart makes no difference."""
    if not real:
        return
    bounds = shapely.bounds(list(real)) + np.array([-1, -1, 1, 1]) * 2 * width
    boxes = [shapely.box(*row) for row in bounds.tolist()]
    one, other = shapely.STRtree(boxes).query(boxes, predicate="intersects")
    for group in Groups(len(real), zip(one.tolist(), other.tolist(), strict=True)).all():
        around = shapely.box(*shapely.total_bounds([boxes[n] for n in group]))
        yield [real[n] for n in group], [line for line in helping if shapely.intersects(line, around)]


def _of_group(
    real: Sequence[LineString], helping: Sequence[LineString], width: float, kerf: float
) -> CutResult:
    check()
    lines = [*real, *helping]
    around = shapely.union_all([shapely.buffer(line, width / 2, quad_segs=3) for line in lines])
    x, y, right, bottom = around.bounds
    whole = shapely.box(x - _RIM_MM, y - _RIM_MM, right + _RIM_MM, bottom + _RIM_MM)
    parts = shapely.get_parts(shapely.difference(whole, around))
    areas = [area for area in parts if _is_found(area, width)]
    depths = _depths(areas, width, whole, _widened(helping, width), _widened(real if helping else (), width))

    def whole_again(odd: int) -> tuple[Region, ...]:
        """Areas of pieces or of holes; a knife takes nothing away from them."""
        found = [area for area, depth in zip(areas, depths, strict=True) if depth and depth % 2 == odd]
        if not kerf:
            return tuple(uncrossed(polygonal(shapely.buffer(area, width / 2, quad_segs=3))) for area in found)
        return tuple(found)

    return CutResult(whole_again(1), whole_again(0), tuple(_open_ends(lines, len(real), width)))


def _is_found(area: Polygon, width: float) -> bool:
    """Whether an area is large enough for anybody to find: a disc as wide as the cut fits into it. It does
    where the area is more than a strip of that along all its edges."""
    if area.area > _CRUMB * width * area.length:
        return True
    return not shapely.buffer(area, -_CRUMB * width / 2, quad_segs=1).is_empty


def _plain(path: Floats) -> LineString:
    """A path without the points that make no difference to its cut."""
    plain = shapely.simplify(LineString(path), _FINE_MM, preserve_topology=False)
    return plain if isinstance(plain, LineString) and plain.length > 0 else LineString(path)


def _widened(lines: Sequence[LineString], width: float) -> Region | None:
    """Where lines lie, and as far beside them as areas reach."""
    if not lines:
        return None
    return polygonal(shapely.union_all([shapely.buffer(line, 0.8 * width, quad_segs=2) for line in lines]))


def _depths(
    areas: Sequence[Polygon], width: float, whole: Polygon, helping: Region | None, real: Region | None
) -> list[int]:
    """How many cuts lie between each area and the rim of the sheet, those that only help not counted: areas
    lie beside each other where they share some length of a cut, not where they only meet in a corner."""
    tree = shapely.STRtree(areas)
    one, other = tree.query(areas, predicate="dwithin", distance=1.2 * width)
    beside: list[list[tuple[int, int]]] = [[] for _ in areas]
    for a, b in zip(one.tolist(), other.tolist(), strict=True):
        if a < b:
            near = _near(areas[a], areas[b], 1.2 * width)
            if near.length > 6 * width:
                step = 1 if helping is None else int(_is_cut(near, helping, real))
                beside[a].append((b, step))
                beside[b].append((a, step))
    depths = [-1] * len(areas)
    found = [n for n, area in enumerate(areas) if shapely.intersects(area, whole.boundary)]
    depth = 0
    while found:
        following: set[int] = set()
        while found:
            n = found.pop()
            if depths[n] >= 0:
                continue
            depths[n] = depth
            for m, step in beside[n]:
                if depths[m] < 0:
                    (following.add if step else found.append)(m)
        found = sorted(m for m in following if depths[m] < 0)
        depth += 1
    return [max(depth, 0) for depth in depths]


def _near(one: Polygon, other: Polygon, distance: float) -> BaseGeometry:
    """What of the edge of the one with more points lies so near to the other."""
    if shapely.get_num_coordinates(one) < shapely.get_num_coordinates(other):
        one, other = other, one
    x, y, right, bottom = other.bounds
    edge = shapely.clip_by_rect(one.boundary, x - distance, y - distance, right + distance, bottom + distance)
    return shapely.intersection(edge, shapely.buffer(other, distance, quad_segs=3))


def _is_cut(border: BaseGeometry, helping: Region, real: Region | None) -> bool:
    """Whether it is a real cut, and not only a help, that lies along a border."""
    helped = shapely.intersection(border, helping)
    if real is not None:
        helped = shapely.difference(helped, real)
    return bool(helped.length < 0.5 * border.length)


def _open_ends(lines: Sequence[LineString], count: int, width: float) -> list[Point]:
    """The ends of the first so many cuts that stop in the middle of the material."""
    tree, found = shapely.STRtree(lines), []
    for n, line in enumerate(lines[:count]):
        if line.length <= 4 * width:
            continue
        for back in (False, True):
            end = shapely.get_point(line, -1 if back else 0)
            near = tree.query(end, predicate="dwithin", distance=width)
            if any(m != n for m in near.tolist()):
                continue
            rest = substring(line, 0, -4 * width) if back else substring(line, 4 * width, line.length)
            if shapely.distance(end, rest) > width:
                found.append((float(end.x), float(end.y)))
    return found


def torn_pieces(pieces: Sequence[Region], holds: float) -> list[Region]:
    """Places at which pieces would tear when they are lifted: those thinner than the material holds, in mm,
    with something of some size on both sides. They are judged as the Check does."""
    return [weak.place for piece in pieces for weak in weak_places(thinness(piece, holds), math.inf)]


@dataclass(frozen=True, eq=False)
class CutComparison:
    """What was promised against what came off: the pieces that did not come off as they were promised,
    those that nobody promised, and ends of cuts in the middle of pieces."""

    promised: int
    came_off: int
    missing: tuple[Region, ...]
    others: tuple[Region, ...]
    nicks: tuple[Point, ...]

    @property
    def is_kept(self) -> bool:
        """Whether all came off as promised."""
        return not (self.missing or self.others or self.nicks)


def compare_with_promise(
    promised: Sequence[Region], came: CutResult, led: Sequence[Floats] | None = None
) -> CutComparison:
    """Which of the promised pieces came off: a piece is the one that was promised when it covers nearly the
    same. Where the pieces lie elsewhere than they were drawn, they are looked for where the carriage was
    ``led`` along."""
    if led and promised:
        drawn, cut = shapely.total_bounds(list(promised)), np.concatenate(list(led))
        moved = (cut.min(axis=0) + cut.max(axis=0) - drawn[:2] - drawn[2:]) / 2
        promised = [shapely.transform(piece, lambda points: points + moved) for piece in promised]
    left = dict(enumerate(came.pieces))
    missing = []
    for piece in promised:
        check()
        best, alike = None, _ALIKE
        for n, other in left.items():
            if not shapely.intersects(shapely.box(*piece.bounds), shapely.box(*other.bounds)):
                continue
            shared = shapely.intersection(piece, other).area
            whole = piece.area + other.area - shared
            if whole > 0 and shared / whole >= alike:
                best, alike = n, shared / whole
        if best is None:
            missing.append(piece)
        else:
            del left[best]
    inside = shapely.buffer(shapely.union_all(list(promised)), -_NICK_MM)
    nicks = tuple(end for end in came.open_ends if shapely.contains_xy(inside, *end))
    return CutComparison(len(promised), len(came.pieces), tuple(missing), tuple(left.values()), nicks)
