"""Touch-ups: repairs of the welded outline, replayed after every change.

Each finds its own place again (a node, a hole, a thin place, a corner) near where it was laid, and is done
only there; where there is none, nothing is done and the caller is told.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely

from fulgen.geometry import polygons
from fulgen.geometry.nodes import Contour, merged, nodes_of, outline_of, removed, rounded, smoothed
from fulgen.geometry.offset import stroked
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.thin import inscribed_width, slots, thinness
from fulgen.geometry.weld import Shape, clean, cut_out, fill_holes, weld
from fulgen.problem import Problem

Point = tuple[float, float]

NEAR = 0.035
"""A touch-up looks for its place this far around where it was laid, as a share of the size. (†)"""

_PINHOLE = 3.0
"""Holes that reach no further than this from a gap, as a share of the width it is closed by, are filled with
it: they are what the gap leaves at its ends. (†)"""

CLOSE_NODES_MM = 0.02
"""Nodes nearer to each other than this are needless: a cutter's step is 0.025 mm (HP-GL's plotter unit)."""

_SMOOTH_WITHIN = 0.02
"""A smoothed stretch stays within this of where it was, as a share of the size."""


@dataclass(frozen=True)
class Place:
    """What is to be done, and where on the work, in mm; dx and dy are shares of ``size``."""

    kind: str
    at: Point
    to: Point | None
    size_mm: float
    dx: float
    dy: float
    size: float

    @property
    def near(self) -> float:
        return NEAR * self.size


def touched_up(shape: Shape, place: Place) -> Shape | None:
    """The shape after a touch-up; None where its place is not to be found, or it cannot be done there."""
    try:
        return _DONE[place.kind](shape, place)
    except Problem:
        return None


def _fill(shape: Shape, place: Place) -> Shape | None:
    holes = polygons.holes_of(shape.region)
    if not holes:
        return None
    distances = shapely.distance(np.array(holes, dtype=object), shapely.Point(place.at))
    nearest = int(distances.argmin())
    if distances[nearest] > place.near:
        return None
    # A hole that has become quite another one is left alone: size_mm is its width when it was filled.
    width = inscribed_width(holes[nearest], 1e-3)
    if place.size_mm and not 0.4 * place.size_mm <= width <= 2.5 * place.size_mm:
        return None
    return fill_holes(shape, [holes[nearest]])


@dataclass(frozen=True, eq=False)
class _Thin:
    """A thin place, and the way through it, worked out when it is asked for."""

    region: Region
    way: Callable[[], Floats]


def _thin_place(shape: Shape, place: Place) -> _Thin | None:
    """The thin place there: within a word only what is around it is looked at."""
    width = place.size_mm
    if width <= 0:
        return None
    at = shapely.Point(place.at)
    around = shapely.buffer(at, max(12 * width, 0.6 * place.size))
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
    return spots[nearest] if distances[nearest] <= place.near else None


def _thicken(shape: Shape, place: Place) -> Shape | None:
    thin = _thin_place(shape, place)
    if thin is None:
        return None
    return _tidied(weld([shape, stroked(thin.way(), place.size_mm, shape.tolerance)]), shape)


def _cut(shape: Shape, place: Place) -> Shape | None:
    thin = _thin_place(shape, place)
    if thin is None:
        return None
    patch = polygonal(shapely.buffer(thin.region, shape.tolerance, join_style="mitre"))
    left = cut_out(shape, patch)
    return _tidied(left, shape) if left else None


def _close(shape: Shape, place: Place) -> Shape | None:
    if place.size_mm <= 0:
        return None
    at = shapely.Point(place.at)
    local = polygonal(shapely.intersection(shape.region, shapely.buffer(at, 0.6 * place.size)))
    open_ones = [slot.region for slot in slots(local, place.size_mm) if slot.through]
    if not open_ones:
        return None
    distances = shapely.distance(np.array(open_ones, dtype=object), at)
    nearest = int(distances.argmin())
    if distances[nearest] > place.near:
        return None
    # A little over both edges, so that nothing is left between.
    filled = polygonal(shapely.buffer(open_ones[nearest], 2 * shape.tolerance, join_style="mitre"))
    rings = [ring for part in shapely.get_parts(filled) for ring in (part.exterior, *part.interiors)]
    patch = Outline.joined(Outline.polygon(shapely.get_coordinates(ring)[:-1]) for ring in rings)
    closed = weld([shape, clean(patch, shape.tolerance)])
    near = shapely.buffer(open_ones[nearest], _PINHOLE * place.size_mm)
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


def _on_node(shape: Shape, place: Place, reach: float | None = None) -> tuple[list[Contour], int, int] | None:
    contours = nodes_of(shape.outline)
    found = _nearest_node(contours, place.at, place.near if reach is None else reach)
    return None if found is None else (list(contours), *found)


def _remove(shape: Shape, place: Place) -> Shape | None:
    found = _on_node(shape, place)
    if found is None:
        return None
    contours, number, n = found
    contour = contours[number]
    if _is_close(contour, n) and len(contour) > 3:
        contours[number] = merged(contour, n)
    else:
        contours[number], _ = removed(contour, {n})
    return _redrawn(shape, contours)


def _move(shape: Shape, place: Place) -> Shape | None:
    found = _on_node(shape, place)
    if found is None:
        return None
    contours, number, n = found
    by = complex(place.dx, place.dy) * place.size
    contours[number] = tuple(node.moved(by) if k == n else node for k, node in enumerate(contours[number]))
    return _redrawn(shape, contours)


def _round(shape: Shape, place: Place) -> Shape | None:
    contours = nodes_of(shape.outline)
    corners = tuple(tuple(n for n in c) for c in contours)
    found = _nearest_node(_only_corners(corners), place.at, place.near)
    if found is None or place.size_mm <= 0:
        return None
    number, n = found
    changed = list(contours)
    changed[number] = rounded(changed[number], n, place.size_mm)
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


def _smooth(shape: Shape, place: Place) -> Shape | None:
    """One curve for all between two nodes, the shorter way round; where that strays too far from what was
    there, each node between is made smooth instead."""
    found = _on_node(shape, place)
    if found is None or place.to is None:
        return None
    contours, number, first = found
    end = _nearest_node((contours[number],), place.to, place.near)
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
    if strayed > _SMOOTH_WITHIN * place.size or not smoother:
        smoother = contour
        for n in between:
            smoother = smoothed(smoother, n)
    contours[number] = smoother
    made = _redrawn(shape, contours)
    within = made is not None and strayed_by(shape, made) <= _SMOOTH_WITHIN * place.size + shape.tolerance
    return made if within else None


def strayed_by(before: Shape, after: Shape) -> float:
    """The greatest distance between two outlines, either way, at the corners of their twins."""
    edges = [shapely.boundary(shape.region) for shape in (before, after)]
    at = [shapely.points(shapely.get_coordinates(edge)) for edge in edges]
    for edge in edges:
        shapely.prepare(edge)
    return max(float(shapely.distance(at[0], edges[1]).max()), float(shapely.distance(at[1], edges[0]).max()))


_DONE = {
    "fill": _fill,
    "cut": _cut,
    "thicken": _thicken,
    "close": _close,
    "remove": _remove,
    "move": _move,
    "smooth": _smooth,
    "round": _round,
}
