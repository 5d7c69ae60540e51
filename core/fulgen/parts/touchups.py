"""Touch-ups: repairs of the welded outline, replayed after every change.

Each finds its own place again (a node, a hole, a thin place, a corner) near where it was laid, and is done
only there; where there is none, nothing is done and the caller learns of it.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from fulgen.frozen import STRICT
from fulgen.geometry import polygons
from fulgen.geometry.nodes import (
    Contour,
    inserted,
    merged,
    nearest_on,
    nodes_of,
    outline_of,
    removed,
    rounded,
    smoothed,
    with_handle,
)
from fulgen.geometry.offset import stroked
from fulgen.geometry.operations import cut_out, fill_holes
from fulgen.geometry.outline import Floats, Outline, Point
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import CLOSE_NODES_MM, Shape
from fulgen.geometry.thin import inscribed_width, slots, thinness
from fulgen.geometry.weld import clean, geos_errors_as_problems, weld
from fulgen.joining.anchors import Anchor
from fulgen.joining.flow import made_heavier
from fulgen.lettering.reshape import Move
from fulgen.parts.built_part import PlacedPart
from fulgen.problem import Problem

TouchUpKind = Literal[
    "fill", "cut", "thicken", "close", "remove", "move", "smooth", "round", "insert", "before", "after"
]

NEAR = 0.035
"""A touch-up looks for its place this far around where it was laid, as a share of the size. (†)"""

PINHOLE = 3.0
"""Holes that reach no further than this from a gap, as a share of the width it is closed by, are filled with
it: they are what the gap leaves at its ends. (†)"""

_SMOOTH_WITHIN = 0.02
"""A smoothed stretch stays within this of where it was, as a share of the size."""


@dataclass(frozen=True)
class TouchUp:
    """A repair of the welded outline, kept by its place on a part and replayed after every change.

    fill: the hole there is filled. cut: what is thinner than size_mm there is taken off. thicken: it is made
    size_mm wide. close: a gap narrower than size_mm is filled. remove: the node there goes, and a smooth
    curve is drawn in its place. move: it goes by dx, dy (shares of the size). smooth: the stretch from there
    to ``to`` is smoothed. round: the corner there is rounded by size_mm. insert: a node is put into the side
    there, and the outline stays as it is. before, after: that handle of the node there goes by dx, dy.
    """

    __pydantic_config__ = STRICT

    kind: TouchUpKind
    at: Anchor
    to: Anchor | None = None
    size_mm: Annotated[float, Field(strict=True, ge=0.0, le=100.0)] = 0.0
    dx: Move = 0.0
    dy: Move = 0.0


@dataclass(frozen=True)
class Spot:
    """Where a touch-up is to be made on the work, and by how much a node is moved: in mm. ``size`` is what
    shares of the part are of."""

    at: Point
    to: Point | None
    by: complex
    size: float

    @property
    def near(self) -> float:
        return NEAR * self.size


def spot_of(touch_up: TouchUp, placed: PlacedPart) -> Spot | None:
    """Where on the work a touch-up's place is now; None where what it names is gone."""
    at = placed.find(touch_up.at)
    to = placed.find(touch_up.to) if touch_up.to else None
    if at is None or (touch_up.to and to is None):
        return None
    by = complex(*placed.place.vector(touch_up.dx, touch_up.dy)) * placed.built.size
    return Spot(at, to, by, placed.size)


def touched_up(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    """The shape after a touch-up; None where its place is not to be found, or it cannot be done there."""
    try:
        with geos_errors_as_problems():
            return _DONE[touch_up.kind](shape, touch_up, spot)
    except Problem:
        return None


def _fill(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    holes = polygons.holes_of(shape.region)
    if not holes:
        return None
    distances = shapely.distance(np.array(holes, dtype=object), shapely.Point(spot.at))
    nearest = int(distances.argmin())
    if distances[nearest] > spot.near:
        return None
    # A hole that has become quite another one is left alone: size_mm is its width when it was filled.
    width = inscribed_width(holes[nearest], 1e-3)
    if touch_up.size_mm and not 0.4 * touch_up.size_mm <= width <= 2.5 * touch_up.size_mm:
        return None
    return fill_holes(shape, [holes[nearest]])


@dataclass(frozen=True, eq=False)
class _Thin:
    """A thin place, and the way through it, worked out when it is asked for."""

    region: Region
    way: Callable[[], Floats]


def _thin_place(shape: Shape, touch_up: TouchUp, spot: Spot) -> _Thin | None:
    """The thin place there: within a word only what is around it is looked at."""
    width = touch_up.size_mm
    if width <= 0:
        return None
    at = shapely.Point(spot.at)
    around = shapely.buffer(at, max(12 * width, 0.6 * spot.size))
    local = polygonal(shapely.intersection(shape.region, around))
    found = thinness(local, width)
    spots = [_Thin(p.region, partial(found.through, p)) for p in found.places]
    spots += [_Thin(spot, partial(found.across, cores, spot)) for cores, spot, _ in found.ties()]
    # What the look around cuts through is thin there by the cut alone.
    rim = shapely.boundary(around)
    spots = [thin for thin in spots if shapely.distance(thin.region, rim) > width]
    if not spots:
        return None
    distances = shapely.distance(np.array([thin.region for thin in spots], dtype=object), at)
    nearest = int(distances.argmin())
    return spots[nearest] if distances[nearest] <= spot.near else None


def _thicken(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    thin = _thin_place(shape, touch_up, spot)
    if thin is None:
        return None
    way = thin.way()
    width = touch_up.size_mm
    near = shapely.buffer(shapely.LineString(way), max(8 * width, 0.3 * spot.size))
    local = polygonal(shapely.intersection(shape.region, near))
    heavier = made_heavier(local, way / spot.size, width / spot.size, spot.size)
    if heavier is None:
        return _tidied(weld([shape, stroked(way, width, shape.tolerance)]), shape)
    outline, tips = heavier
    bands = [clean(outline.placed(0.0, 0.0, spot.size), shape.tolerance)]
    bands += [stroked(tip * spot.size, width, shape.tolerance) for tip in tips]
    return _tidied(weld([shape, *bands]), shape)


def _cut(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    thin = _thin_place(shape, touch_up, spot)
    if thin is None:
        return None
    patch = polygonal(shapely.buffer(thin.region, shape.tolerance, join_style="mitre"))
    left = cut_out(shape, patch)
    return _tidied(left, shape) if left else None


def _close(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    if touch_up.size_mm <= 0:
        return None
    at = shapely.Point(spot.at)
    local = polygonal(shapely.intersection(shape.region, shapely.buffer(at, 0.6 * spot.size)))
    open_ones = [slot.region for slot in slots(local, touch_up.size_mm) if slot.tears]
    if not open_ones:
        return None
    distances = shapely.distance(np.array(open_ones, dtype=object), at)
    nearest = int(distances.argmin())
    if distances[nearest] > spot.near:
        return None
    # A little over both edges, so that nothing is left between.
    filled = polygonal(shapely.buffer(open_ones[nearest], 2 * shape.tolerance, join_style="mitre"))
    rings = [ring for part in shapely.get_parts(filled) for ring in (part.exterior, *part.interiors)]
    patch = Outline.joined(Outline.polygon(shapely.get_coordinates(ring)[:-1]) for ring in rings)
    closed = weld([shape, clean(patch, shape.tolerance)])
    near = shapely.buffer(open_ones[nearest], PINHOLE * touch_up.size_mm)
    new = [hole for hole in polygons.holes_of(closed.region) if shapely.within(hole, near)]
    return _tidied(fill_holes(closed, new), shape)


def _tidied(changed: Shape, before: Shape) -> Shape:
    """A changed shape without the needless nodes that the change has made."""
    known = {node.at for contour in nodes_of(before.outline) for node in contour}
    contours = list(nodes_of(changed.outline))
    tidy = False
    for number, contour in enumerate(contours):
        for n in reversed(range(len(contour))):
            if len(contour) > 3 and contour[n].at not in known and _is_close(contour, n):
                contour = merged(contour, n)
                tidy = True
        contours[number] = contour
    return (_redrawn(changed, contours) if tidy else None) or changed


def _is_close(contour: Contour, n: int) -> bool:
    """Whether a node is needlessly close to the one before it."""
    return abs(contour[n - 1].at - contour[n].at) < CLOSE_NODES_MM


def _nearest_node(contours: tuple[Contour, ...], at: Point, near: float) -> tuple[int, int] | None:
    best, reach = None, near
    for number, contour in enumerate(contours):
        for n, node in enumerate(contour):
            distance = abs(node.at - complex(*at))
            if distance <= reach:
                best, reach = (number, n), distance
    return best


def _redrawn(shape: Shape, contours: list[Contour]) -> Shape | None:
    """The shape of changed nodes; None where pieces or holes would come or go by it."""
    result = clean(outline_of(contours), shape.tolerance)
    same = polygons.count(result.region) == polygons.count(shape.region)
    return result if result and same else None


def _on_node(shape: Shape, spot: Spot) -> tuple[list[Contour], int, int] | None:
    contours = nodes_of(shape.outline)
    found = _nearest_node(contours, spot.at, spot.near)
    return None if found is None else (list(contours), *found)


def _remove(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    found = _on_node(shape, spot)
    if found is None:
        return None
    contours, number, n = found
    contour = contours[number]
    if _is_close(contour, n) and len(contour) > 3:
        contours[number] = merged(contour, n)
    else:
        contours[number], _ = removed(contour, {n})
    return _redrawn(shape, contours)


def _move(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    found = _on_node(shape, spot)
    if found is None:
        return None
    contours, number, n = found
    contours[number] = tuple(
        node.moved(spot.by) if k == n else node for k, node in enumerate(contours[number])
    )
    return _redrawn(shape, contours)


def _insert(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    contours = list(nodes_of(shape.outline))
    at = complex(*spot.at)
    found = [(*nearest_on(contour, at), number) for number, contour in enumerate(contours)]
    distance, place, time, number = min(found, default=(math.inf, 0, 0.0, 0))
    if distance > spot.near:
        return None
    contours[number] = inserted(contours[number], place, time, name=0)
    # A weld would take a node out of a straight side again; the outline is the same without one.
    return Shape.of(outline_of(contours), shape.tolerance)


def _handle(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    found = _on_node(shape, spot)
    if found is None:
        return None
    contours, number, n = found
    node = contours[number][n]
    before = touch_up.kind == "before"
    handle = node.before if before else node.after
    bent = with_handle(node, before, (node.at if handle is None else handle) + spot.by)
    contours[number] = tuple(bent if k == n else other for k, other in enumerate(contours[number]))
    return _redrawn(shape, contours)


def _round(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    contours = nodes_of(shape.outline)
    corners = tuple(tuple(n for n in c) for c in contours)
    found = _nearest_node(_only_corners(corners), spot.at, spot.near)
    if found is None or touch_up.size_mm <= 0:
        return None
    number, n = found
    changed = list(contours)
    changed[number] = rounded(changed[number], n, touch_up.size_mm)
    return _redrawn(shape, changed)


def _only_corners(contours: tuple[Contour, ...]) -> tuple[Contour, ...]:
    """The same nodes, those that are no corners out of reach."""
    far = complex(math.inf, math.inf)
    kept = []
    for contour in contours:
        nodes = []
        for n, node in enumerate(contour):
            before, after = contour[n - 1], contour[(n + 1) % len(contour)]
            into = node.at - (node.before if node.before is not None else before.after or before.at)
            out = (node.after if node.after is not None else after.before or after.at) - node.at
            turn = abs(np.angle(out / into)) if into != 0 and out != 0 else math.pi
            nodes.append(node if turn > math.radians(12) else type(node)(node.name, far))
        kept.append(tuple(nodes))
    return tuple(kept)


def _smooth(shape: Shape, touch_up: TouchUp, spot: Spot) -> Shape | None:
    """One curve for all between two nodes, the shorter way round; where that strays too far from what was
    there, each node between is made smooth instead."""
    found = _on_node(shape, spot)
    if found is None or spot.to is None:
        return None
    contours, number, first = found
    end = _nearest_node((contours[number],), spot.to, spot.near)
    if end is None:
        return None
    contour, last = contours[number], end[1]
    count = len(contour)
    ahead = [(first + k) % count for k in range(1, (last - first) % count)]
    back = [(last + k) % count for k in range(1, (first - last) % count)]

    def girth(run: list[int]) -> float:
        at = [contour[n].at for n in run]
        return sum(abs(b - a) for a, b in itertools.pairwise(at))

    if first == last:
        between = [first]
    else:
        ways = ([first, *ahead, last], [last, *back, first])
        between = min(ways, key=girth)[1:-1]
    smoother, strayed = removed(contour, set(between), curved=True) if first != last else (contour, math.inf)
    if strayed > _SMOOTH_WITHIN * spot.size or not smoother:
        smoother = contour
        for n in between:
            smoother = smoothed(smoother, n)
    contours[number] = smoother
    built = _redrawn(shape, contours)
    within = built is not None and strayed_by(shape, built) <= _SMOOTH_WITHIN * spot.size + shape.tolerance
    return built if within else None


def strayed_by(before: Shape, after: Shape) -> float:
    """The greatest distance between two outlines, either way, at the corners of their twins."""
    edges = [shapely.boundary(shape.region) for shape in (before, after)]
    at = [shapely.points(shapely.get_coordinates(edge)) for edge in edges]
    for edge in edges:
        shapely.prepare(edge)
    return max(float(shapely.distance(at[0], edges[1]).max()), float(shapely.distance(at[1], edges[0]).max()))


_DONE: dict[TouchUpKind, Callable[[Shape, TouchUp, Spot], Shape | None]] = {
    "fill": _fill,
    "cut": _cut,
    "thicken": _thicken,
    "close": _close,
    "remove": _remove,
    "move": _move,
    "smooth": _smooth,
    "round": _round,
    "insert": _insert,
    "before": _handle,
    "after": _handle,
}
