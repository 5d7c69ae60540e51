"""Strokes extended and bridges: bars that tie two letters where sliding would squeeze them.

A *reach* lengthens a stroke end: a bar of the stroke's width that goes on in the stroke's direction
until it is buried in the neighbour. A *bridge* is a short bar across the gap in the weight of the
strokes it ties, buried at both ends. Both have straight sides, as a lengthened stroke has.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
import shapely

from fulgen.budget import check
from fulgen.geometry.outline import Floats, Outline, Point
from fulgen.geometry.polygons import Region, holes_of, polygonal
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.joining.seam import Seam
from fulgen.joining.strength import Body
from fulgen.lettering.faces import LETTER_FLATNESS

_END = 0.07
"""How far around a stroke's tip its width is taken."""

_STROKE = 0.16
"""How far around a stroke's tip its direction is taken."""

_LONGEST = 0.5
"""No bar goes further through the open than this."""

_TURN = math.cos(math.radians(50))
"""A reach turns no further away from its stroke than this: else it is a bridge."""


@dataclass(frozen=True, eq=False)
class Addition:
    """What is added to tie two letters: what it is, its outline and area, how much of it is in the open, and
    whether it is a stroke of the left letter that goes on. A flow's ``ends`` are where it leaves the left
    letter and arrives in the right one."""

    kind: Literal["flow", "gusset", "stroke", "reach", "bridge"]
    outline: Outline
    region: Region
    length: float
    of_left: bool
    ends: tuple[Point, Point] | None = None

    @cached_property
    def shape(self) -> Shape:
        """What is welded in."""
        return clean(self.outline, LETTER_FLATNESS)


def straight(kind: Literal["reach", "bridge"], corners: Floats, length: float, of_left: bool) -> Addition:
    """A bar with straight sides, by its corners (4, 2)."""
    return Addition(kind, Outline.polygon(corners), shapely.Polygon(corners), length, of_left)


@dataclass(frozen=True)
class _End:
    """A stroke's end: a point in its middle, the direction outwards, its width, and whether it is longer
    than wide there."""

    middle: Floats
    outwards: Floats
    width: float
    is_stroke: bool


def extend_stroke(letter: Region, neighbour: Region, target: float, of_left: bool) -> Addition | None:
    """The stroke end of ``letter`` nearest its neighbour, lengthened into it; None where no stroke end
    points that way."""
    line = shapely.get_coordinates(shapely.shortest_line(letter, neighbour))
    end = _end_at(letter, line[0])
    if end is None or not end.is_stroke:
        return None
    towards = line[1] - end.middle
    towards /= math.hypot(*towards) or 1.0
    for direction in (end.outwards, (end.outwards + towards) / 2, towards):
        direction = direction / math.hypot(*direction)
        if direction @ end.outwards < _TURN:
            continue
        bar = _bar("reach", end.middle, direction, max(end.width, target), letter, neighbour, of_left)
        if bar is not None:
            return bar
    return None


def bridges_across(left: Region, right: Region, target: float, wide: float | None = None) -> list[Addition]:
    """Bars across the narrowest gap between two letters: one buried in both, and one from the middle of a
    stroke to the middle of the other, for tips too thin to bury it in. They are in their strokes' weight and
    give the neck asked for, unless it is said how ``wide`` they are."""
    nearest = shapely.get_coordinates(shapely.shortest_line(left, right))
    near = _end_at(left, nearest[0]), _end_at(right, nearest[1])
    if near[0] is None or near[1] is None:
        return []
    width = wide or max(target, min(near[0].width, near[1].width, _HEAVIEST))
    line = _across_the_gap(left, right, width)
    ends = _end_at(left, line[0]) or near[0], _end_at(right, line[1]) or near[1]
    direction = line[1] - line[0]
    if math.hypot(*direction) < 1e-4:
        direction = ends[1].middle - ends[0].middle
    length = math.hypot(*direction) or 1.0
    direction = direction / length
    depth = min(0.8 * width, 0.5 * ends[0].width)
    buried = _bar("bridge", line[0] - direction * depth, direction, width, left, right, True)
    found = [buried] if buried is not None else []
    if _span(nearest) < _LONGEST:
        start, end = near[0].middle, near[1].middle
        along = (end - start) / (math.hypot(*(end - start)) or 1.0)
        across = np.array([-along[1], along[0]]) * (wide or target) / 2
        # No further than the far side of the strokes, where it would show.
        start, end = start - along * 0.45 * near[0].width, end + along * 0.45 * near[1].width
        corners = np.array([start - across, end - across, end + across, start + across])
        found.append(straight("bridge", corners, _span(nearest), True))
    return found


def best_bridge(left: Body, right: Body, target: float) -> Addition | None:
    """The bridge that gives the widest neck; the first that is as wide as asked for."""
    best: tuple[float, Addition | None] = (-1.0, None)
    for bar in bridges_across(left.region, right.region, target):
        neck = Seam(left.region, right.region, bar.region, (left, right)).neck
        if neck >= target:
            return bar
        if neck > best[0]:
            best = neck, bar
    return best[1]


def tied_together(
    pieces: Sequence[Region], target: float, dust: float, fewer_than: float = math.inf
) -> Iterator[Addition]:
    """The bridges that make one piece of some, the smallest first, where there are fewer than so many; areas
    up to ``dust`` are left out."""
    whole = polygonal(shapely.union_all(pieces))
    before = fewer_than
    while True:
        check()
        parts = shapely.get_parts(whole)
        parts = parts[shapely.area(parts) > dust]
        # Each bridge makes one piece of two, or it is the last.
        if not 2 <= len(parts) < before:
            return
        before = len(parts)
        smallest = int(shapely.area(parts).argmin())
        rest = polygonal(shapely.MultiPolygon(list(np.delete(parts, smallest))))
        bar = best_bridge(Body(parts[smallest]), Body(rest), target)
        if bar is None:
            return
        yield bar
        whole = polygonal(shapely.union(whole, bar.region))


_HEAVIEST = 0.06
"""No bridge is heavier than this, however bold the face, unless a wider neck is asked for. (†)"""

_AS_NARROW = 0.02
"""Where the gap is wider than at its narrowest by no more than this, a bridge may stand."""


def _across_the_gap(left: Region, right: Region, width: float) -> Floats:
    """The two ends of the narrowest gap. Between stems side by side it is at their feet: a bar in the
    middle would make an H of them."""
    line = shapely.shortest_line(left, right)
    narrow = line.length + _AS_NARROW
    feet = min(left.bounds[3], right.bounds[3]) - width / 2
    at_feet = _level(left, right, feet)
    stems = _level(left, right, feet - 4 * width)
    if at_feet is not None and stems is not None and max(_span(at_feet), _span(stems)) <= narrow:
        return at_feet
    near = narrow / 2
    grown = [shapely.buffer(side, near, quad_segs=4) for side in (left, right)]
    gap = polygonal(shapely.intersection(grown[0], grown[1]))
    part = _part_at(gap, shapely.Point(shapely.get_coordinates(line)[0]))
    if part is not None:
        middle = shapely.centroid(part)
        a, b = (shapely.get_coordinates(shapely.shortest_line(middle, side))[1] for side in (left, right))
        if math.hypot(*(b - a)) <= line.length + 2 * _AS_NARROW:
            return np.array([a, b])
    return np.asarray(shapely.get_coordinates(line))


def _level(left: Region, right: Region, y: float) -> Floats | None:
    """The gap between two letters at one height: from the right edge of one to the left edge of the other."""
    far = shapely.LineString([(left.bounds[0] - 1, y), (right.bounds[2] + 1, y)])
    one, other = shapely.intersection(far, left), shapely.intersection(far, right)
    if one.is_empty or other.is_empty or one.bounds[2] >= other.bounds[0]:
        return None
    return np.array([(one.bounds[2], y), (other.bounds[0], y)])


def _span(line: Floats) -> float:
    return float(math.hypot(*(line[1] - line[0])))


def _end_at(letter: Region, tip: Floats) -> _End | None:
    """What ends at a point of a letter's edge."""
    point = shapely.Point(tip)
    close, wide = (
        _part_at(polygonal(shapely.intersection(letter, shapely.buffer(point, size))), point)
        for size in (_END, _STROKE)
    )
    if close is None or wide is None:
        return None
    circle = shapely.get_coordinates(shapely.maximum_inscribed_circle(close, tolerance=1e-3))
    middle, width = circle[0], 2 * math.hypot(*(circle[1] - circle[0]))
    back = middle - shapely.get_coordinates(shapely.centroid(wide))[0]
    if math.hypot(*back) < 0.15 * width or width < 1e-3:
        back = tip - middle
    outwards = back / (math.hypot(*back) or 1.0)
    along = shapely.get_coordinates(wide) @ outwards
    across = shapely.get_coordinates(wide) @ np.array([-outwards[1], outwards[0]])
    is_stroke = float(np.ptp(along)) > 1.4 * width and float(np.ptp(across)) < 2.6 * width
    return _End(middle, outwards, width, is_stroke)


def _part_at(region: Region, point: shapely.Point) -> Region | None:
    parts = shapely.get_parts(region)
    parts = parts[shapely.area(parts) > 1e-7]
    return parts[int(shapely.distance(parts, point).argmin())] if len(parts) else None


def _bar(
    kind: Literal["reach", "bridge"],
    start: Floats,
    direction: Floats,
    width: float,
    letter: Region,
    neighbour: Region,
    of_left: bool,
) -> Addition | None:
    """A bar from a point inside a letter until its end is buried in the neighbour."""
    ray = shapely.LineString([start, start + direction * (_LONGEST + 0.4)])
    inside = shapely.intersection(ray, neighbour)
    if inside.is_empty:
        return None
    runs = sorted(
        (ray.project(shapely.Point(part.coords[0])), ray.project(shapely.Point(part.coords[-1])))
        for part in shapely.get_parts(inside) if part.geom_type == "LineString"
    )  # fmt: skip
    if not runs:
        return None
    first, last = min(runs[0]), max(runs[0])
    way = shapely.LineString([start, start + direction * max(first, 1e-6)])
    open_length = max(0.0, first - float(shapely.intersection(way, letter).length))
    if open_length > _LONGEST:
        return None
    across = np.array([-direction[1], direction[0]]) * width / 2
    depth = (first + last) / 2
    for at in np.arange(first + 0.25 * width, last, 0.01).tolist():
        edge = shapely.linestrings([start + direction * at - across, start + direction * at + across])
        if shapely.covers(neighbour, edge):
            depth = at
            break
    end = start + direction * depth
    corners = np.array([start - across, end - across, end + across, start + across])
    bar = shapely.Polygon(corners)
    counters = [counter for shape in (letter, neighbour) for counter in holes_of(shape)]
    if any(shapely.intersection(bar, counter).area > 0.03 * counter.area for counter in counters):
        return None
    return straight(kind, corners, open_length, of_left)
