"""Strokes brought to a least width, and only where they are thinner.

        ______                    ______
    ___/      \\___            ___/      \\___      each edge of a thin stroke moves out by half of what is
    ---\\______/---      →     ___\\______/___      lacking; a thick stroke stays, and so does the contrast

At a point of an edge a stroke is as wide as the largest disc that touches the edge there and no edge across.
The disc through p with its middle on the inward normal n that touches q has the radius
|q - p|² / (2 n·(q - p)), and the least of these counts (the *shrinking ball*: J. Ma, S. W. Bae, S. Choi, "3D
medial axis point approximation using nearest neighbors and the normal field", 2012). Edges face each other
where their normals do, so corners and round ends are no thin strokes. By how much the edge moves is made to
rise and fall smoothly along it, and the moved sides are drawn anew as curves, side by side: nodes stay, and
corners stay corners.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.budget import check
from fulgen.geometry import bezier
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Bools, Floats, Ints, Outline
from fulgen.geometry.polygons import Region
from fulgen.geometry.shape import CLOSE_NODES_MM, Origins, Shape

Complexes = NDArray[np.complex128]

_STEP = 1 / 6
"""Edges are looked at in steps of this share of the width."""

_MOST_POINTS = 20_000
"""No more points are looked at, however fine the width is."""

_SEEN = 6.0
"""So many widths around a place its edges are looked at."""

_FEWEST = 6
"""Steps that a side is looked at in at least."""

_FACING = -0.34
"""Edges face each other where their normals are more than 110 degrees apart: this is the cosine."""

MARGIN = 1.035
"""A stroke is made a little wider than asked, so that the repair is not in question itself."""

_TAPER = 0.35
"""A tip stays a tip: from its end on an edge moves out by this share of how far it is along the edge, no
more. (†)"""

_BLEND = 0.2
"""The move rises and falls along the edge over this share of the width."""

_CORNER = np.cos(np.radians(20))
"""Edges that turn by more at a node meet in a corner. (†)"""

_FINE = 1 / 45
"""How true the moved sides are drawn, as a share of the width."""

_LONGEST_MITRE = 2.0
"""Edges moved by different lengths meet again within so many times the longer, or are tied straight."""


def widened(shape: Shape, width: float, places: Sequence[Region]) -> Shape:
    """The shape with its strokes at some places made as wide as ``width`` mm; elsewhere it stays as it is, to
    the last point. Sides still know where they come from."""
    if not len(places) or not shape:
        return shape
    edge = _looked_at(shape, width, places)
    if edge is None:
        return shape
    moved = _moved(edge, width * MARGIN, width, places)
    return _drawn(shape, edge, moved, width * _FINE) if moved.any() else shape


@dataclass(frozen=True, eq=False)
class _Edge:
    """Points of some sides of an outline, those of a side in a row, its ends too: the side of each, its
    parameter, the point, the way the edge goes there, and how far along its contour it is (all (N,));
    ``follows`` tells of a side whether it leaves the one before it without a corner (S,), ``girth`` how long
    the contour of each side is (S,)."""

    sides: Complexes  # (S, 4)
    contour_of: Ints
    before: Ints
    seen: Bools
    first: Ints
    last: Ints
    side: Ints
    t: Floats
    at: Complexes
    way: Complexes
    along: Floats
    girth: Floats
    follows: Bools

    @cached_property
    def points(self) -> shapely.STRtree:
        """The points, to be looked up by where they are."""
        return shapely.STRtree(np.asarray(shapely.points(self.at.real, self.at.imag)))

    @cached_property
    def after(self) -> Ints:
        """The side after each side, around its contour (S,)."""
        after = np.empty_like(self.before)
        after[self.before] = np.arange(len(after))
        return after

    @cached_property
    def stretches(self) -> list[Ints]:
        """Points of sides that flow into each other, from corner to corner; right round where there is
        none."""
        starts = np.flatnonzero(self.seen & ~self.follows)
        left = self.seen.copy()
        found = []
        for start in [*starts.tolist(), *np.flatnonzero(self.seen).tolist()]:
            run = []
            side = start
            while left[side] and (side == start or self.follows[side]):
                left[side] = False
                run.append(np.arange(self.first[side], self.last[side] + 1))
                side = int(self.after[side])
            if run:
                found.append(np.concatenate(run))
        return found

    @cached_property
    def corners(self) -> Ints:
        """The sides that begin at a corner with both its sides seen."""
        return np.flatnonzero(self.seen & self.seen[self.before] & ~self.follows)

    @cached_property
    def turns(self) -> Floats:
        """How much the edge turns at these: the sine, negative in a bay."""
        ways = self.way[self.last[self.before[self.corners]]], self.way[self.first[self.corners]]
        return np.asarray(np.imag(ways[0].conj() * ways[1]))

    @cached_property
    def bays(self) -> tuple[Complexes, Bools]:
        """The way into the material from each point that is a bay's corner, and which are."""
        deepest, bay = np.zeros(len(self.at), np.complex128), np.zeros(len(self.at), np.bool_)
        corners = self.corners[self.turns < 0]
        last, first = self.last[self.before[corners]], self.first[corners]
        inward = 1j * (self.way[last] + self.way[first])
        inward /= np.maximum(np.abs(inward), 1e-12)
        for points in (last, first):
            deepest[points], bay[points] = inward, True
        return deepest, bay


def _looked_at(shape: Shape, width: float, places: Sequence[Region]) -> _Edge | None:
    """The edges near some places, as points."""
    own = shape.outline.sides
    z = np.ascontiguousarray(own.cubics).view(np.complex128)[..., 0]
    low, high = own.cubics.min(axis=1), own.cubics.max(axis=1)
    boxes = shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
    near = shapely.STRtree(boxes).query(list(places), predicate="dwithin", distance=_SEEN * width)[1]
    seen = np.zeros(len(z), np.bool_)
    seen[near] = True
    if not seen.any():
        return None
    rough = np.abs(np.diff(bezier.point(z.T[:, :, None], np.linspace(0, 1, 9)), axis=1)).sum(axis=1)
    step = max(width * _STEP, float(rough[seen].sum()) / _MOST_POINTS)
    counts = np.maximum(_FEWEST, np.ceil(rough / step).astype(np.intp))
    rows = np.flatnonzero(seen)
    side = np.repeat(rows, counts[rows] + 1)
    starts = np.cumsum(counts[rows] + 1) - (counts[rows] + 1)
    first = np.full(len(z), -1, np.intp)
    first[rows] = starts
    last = np.where(seen, first + counts, -1)
    t = (np.arange(len(side)) - first[side]) / counts[side]
    curve = z[side].T
    at, way = bezier.point(curve, t), bezier.derivative(curve, t)
    # A handle of no length says nothing of the way: the next point does.
    still = np.abs(way) < 1e-6 * np.maximum(rough[side], 1e-9)
    if still.any():
        inner = np.where(t < 0.5, t + 1e-3, t - 1e-3)
        way = np.where(still, bezier.derivative(curve, inner), way)
    way = way / np.maximum(np.abs(way), 1e-12)
    begin = np.concatenate(([0.0], np.cumsum(rough)))[:-1]
    contour_first = np.searchsorted(own.contour_of, own.contour_of)
    begin = begin - begin[contour_first]
    girth = np.bincount(own.contour_of, weights=rough).astype(np.float64)[own.contour_of]
    before = own.before
    follows = seen & seen[before]
    both_seen = np.flatnonzero(follows)
    turn = np.real(way[last[before[both_seen]]] * way[first[both_seen]].conj())
    follows[both_seen] = turn > _CORNER
    # Where sides flow into each other, both go the same way.
    joint = np.flatnonzero(follows)
    both = way[last[before[joint]]] + way[first[joint]]
    both /= np.maximum(np.abs(both), 1e-12)
    way[last[before[joint]]] = way[first[joint]] = both
    along = begin[side] + t * rough[side]
    return _Edge(z, own.contour_of, before, seen, first, last, side, t, at, way, along, girth, follows)


def _across(edge: _Edge, width: float) -> tuple[Floats, Floats]:
    """At each point, the radius of the disc that touches the edge across, and how far it is to that edge
    along the contour; infinite where none of the width does."""
    one, other = edge.points.query(edge.points.geometries, predicate="dwithin", distance=width)
    to = edge.at[other] - edge.at[one]
    inward, facing = 1j * edge.way[one], 1j * edge.way[other]
    depth = np.real(inward.conj() * to)
    faces = (np.real(inward * facing.conj()) < _FACING) & (np.real(facing.conj() * to) < 0)
    # A bay's corner faces whatever lies within its two sides' normals.
    deepest, bay = edge.bays
    far = np.abs(to)
    faces |= bay[other] & (np.real(deepest[other].conj() * to) < 0) & (depth > _STRAIGHT_ACROSS * far)
    radius = far**2 / (2 * np.maximum(depth, 1e-12))
    both = bay[one] & bay[other] & (np.real(deepest[other].conj() * to) < -_STRAIGHT_ACROSS * far)
    both &= np.real(deepest[one].conj() * to) > _STRAIGHT_ACROSS * far
    radius = np.where(both, far / 2, radius)
    good = ((faces & (depth > 1e-9)) | both) & (far > 1e-6)
    one, other, radius = one[good], other[good], radius[good]
    order = np.lexsort((radius, one))
    one, other, radius = one[order], other[order], radius[order]
    firsts = np.flatnonzero(np.append(True, one[1:] != one[:-1])) if len(one) else np.zeros(0, np.intp)
    own, across = one[firsts], other[firsts]
    found, way_round = np.full(len(edge.at), np.inf), np.full(len(edge.at), np.inf)
    found[own] = radius[firsts]
    apart = np.abs(edge.along[own] - edge.along[across])
    apart = np.minimum(apart, edge.girth[edge.side[own]] - apart)
    same = edge.contour_of[edge.side[own]] == edge.contour_of[edge.side[across]]
    way_round[own] = np.where(same, apart, np.inf)
    return found, way_round


_STRAIGHT_ACROSS = 0.7
"""A bay's corner that lies more than 45 degrees off the normal is not across."""


def _moved(edge: _Edge, goal: float, width: float, places: Sequence[Region]) -> Floats:
    """By how much the edge moves out at each point."""
    radius, way_round = _across(edge, 1.2 * goal)
    most = _TAPER * way_round / 2
    lacking = np.minimum(np.maximum(goal / 2 - radius, 0.0), most)
    touching = edge.points.query(list(places), predicate="dwithin", distance=0.15 * width)[1]
    at_place = np.zeros(len(edge.at), np.bool_)
    at_place[touching] = True
    moved = np.zeros(len(edge.at))
    for stretch in edge.stretches:
        thin = lacking[stretch] > 1e-6
        if not (thin & at_place[stretch]).any():
            continue
        check()
        # Only runs that a place lies at; the others are left as they are.
        ends = np.flatnonzero(np.diff(np.concatenate(([0], thin.astype(np.int8), [0]))))
        chosen = np.zeros(len(stretch), np.bool_)
        for begin, end in ends.reshape(-1, 2).tolist():
            chosen[begin:end] = at_place[stretch[begin:end]].any()
        own = np.where(chosen, lacking[stretch], 0.0)
        closed = bool(edge.follows[edge.side[stretch[0]]])
        run = _run_of(edge, stretch)
        blended = np.minimum(_blended(run, own, width, closed), most[stretch])
        # What goes on further than is looked at stays where it is: the move ends before that.
        if not edge.seen[edge.before[edge.side[stretch[0]]]]:
            blended = np.minimum(blended, _TAPER * run)
        if not edge.seen[edge.after[edge.side[stretch[-1]]]]:
            blended = np.minimum(blended, _TAPER * (run[-1] - run))
        moved[stretch] = blended
    # Where sides flow into each other, the two ends are one point.
    flowing = np.flatnonzero(edge.follows)
    last, first = edge.last[edge.before[flowing]], edge.first[flowing]
    moved[last] = moved[first] = np.maximum(moved[last], moved[first])
    return moved


def _run_of(edge: _Edge, stretch: Ints) -> Floats:
    """How far along a stretch its points are."""
    at = edge.at[stretch]
    return np.concatenate(([0.0], np.cumsum(np.abs(np.diff(at)))))


def _blended(run: Floats, lacking: Floats, width: float, closed: bool) -> Floats:
    """Lengths along a run that are nowhere less than what is lacking, and rise and fall smoothly: the
    greatest around, in the mean around. A closed run goes on at its start."""
    mode: Literal["wrap", "edge"] = "wrap" if closed else "edge"
    count = max(2, min(_MOST_POINTS, int(np.ceil(12 * run[-1] / width)) + 1))
    even = np.linspace(0.0, run[-1], count)
    reach = max(1, min(count, round(_BLEND * width / max(even[1], 1e-9))))
    values = np.interp(even, run, lacking)
    padded = np.pad(values, reach, mode=mode)
    highest = np.lib.stride_tricks.sliding_window_view(padded, 2 * reach + 1).max(axis=1)
    half = max(1, reach // 2)
    for _ in range(2):
        highest = np.lib.stride_tricks.sliding_window_view(
            np.pad(highest, half, mode=mode), 2 * half + 1
        ).mean(axis=1)
    blended = np.interp(run, even, highest)
    blended[blended < 1e-5] = 0.0
    return np.asarray(blended)


# --- drawing ------------------------------------------------------------------------------------------------


class _Curve(NamedTuple):
    """A curve as it is drawn: its four points, the side that it is of and the parameters on that."""

    points: Complexes
    side: int
    start: float
    end: float
    verb: int = CUBIC


def _drawn(shape: Shape, edge: _Edge, moved: Floats, tolerance: float) -> Shape:
    """The outline with its edges where they have moved to."""
    at = edge.at - 1j * edge.way * moved
    flowing = np.flatnonzero(edge.follows)
    at[edge.first[flowing]] = at[edge.last[edge.before[flowing]]]
    ways = _ways(edge, at, moved)
    drawn, trimmed = _trimmed(replace(edge, at=at), moved)
    changed = np.unique(np.concatenate([edge.side[moved > 0], trimmed]))
    spans, kept = _spans(drawn, changed, moved)
    redrawn: dict[int, list[_Curve]] = {side: [] for side in changed.tolist()}
    for curve in sorted([*_fitted(drawn, ways, spans, tolerance), *kept], key=lambda c: c.start):
        redrawn[curve.side].append(curve)
    touched = set(edge.contour_of[changed].tolist())
    parts: list[Outline] = []
    rows: list[tuple[Ints, Floats, Floats]] = []
    for number, contour in enumerate(shape.outline.contours()):
        own = np.flatnonzero(edge.contour_of == number)
        if number not in touched:
            parts.append(contour)
            rows.append((own, np.zeros(len(own)), np.ones(len(own))))
            continue
        curves: list[_Curve] = []
        for side in own.tolist():
            curves += _corner(drawn, int(edge.before[side]), side, moved)
            verb = LINE if shape.outline.sides.verbs[side] == LINE else CUBIC
            curves += redrawn.get(side) or [_Curve(edge.sides[side].copy(), side, 0.0, 1.0, verb)]
        # What is too short to be a side is left out: its neighbours meet.
        curves[-1].points[3] = curves[0].points[0]
        parts.append(_contour(curves))
        columns = (np.array([curve[n] for curve in curves]) for n in (1, 2, 3))
        rows.append((next(columns), next(columns), next(columns)))
    return Shape.of(Outline.joined(parts), shape.tolerance, _origins(shape, rows))


def _trimmed(edge: _Edge, moved: Floats) -> tuple[_Edge, Ints]:
    """The edge, moved already, with the two sides of each bay ended where they cross: beyond that they lie in
    the material. The sides that have become shorter (K,). Where they do not cross they stay."""
    at, t, first, last = edge.at.copy(), edge.t.copy(), edge.first.copy(), edge.last.copy()
    shorter: list[int] = []
    for corner in edge.corners[edge.turns < 0].tolist():
        before = int(edge.before[corner])
        into, out = slice(first[before], last[before] + 1), slice(first[corner], last[corner] + 1)
        if before == corner or not (moved[into][-1] > 0 or moved[out][0] > 0):
            continue
        one, other = (shapely.LineString(np.stack([z.real, z.imag], axis=1)) for z in (at[into], at[out]))
        crossing = shapely.get_parts(shapely.intersection(one, other))
        crossing = crossing[shapely.get_type_id(crossing) == 0]
        if not len(crossing):
            continue
        # The one furthest from the corner: loops nearer to it are in the material.
        along = shapely.line_locate_point(one, crossing)
        nearest = int(along.argmin())
        x, y = shapely.get_coordinates(crossing[nearest])[0].tolist()
        n, share = _segment(at[into], float(along[nearest]))
        m, other_share = _segment(at[out], float(shapely.line_locate_point(other, crossing[nearest])))
        n, m = n + int(first[before]), m + int(first[corner])
        if n < first[before] + 1 or m > last[corner] - 2:
            continue
        t[n + 1] = t[n] + share * (t[n + 1] - t[n])
        t[m] = t[m] + other_share * (t[m + 1] - t[m])
        at[n + 1] = at[m] = complex(x, y)
        last[before], first[corner] = n + 1, m
        shorter += [before, corner]
    return replace(edge, at=at, t=t, first=first, last=last), np.array(shorter, np.intp)


def _segment(points: Complexes, along: float) -> tuple[int, float]:
    """The segment of a line at a length along it, and what share of it that is."""
    ends = np.concatenate(([0.0], np.cumsum(np.abs(np.diff(points)))))
    n = min(int(np.searchsorted(ends, along, side="right")) - 1, len(points) - 2)
    return n, float((along - ends[n]) / max(ends[n + 1] - ends[n], 1e-12))


def _spans(edge: _Edge, changed: Ints, moved: Floats) -> tuple[Ints, list[_Curve]]:
    """What of some sides is drawn anew, from which of its points to which (K, 2): where it has moved, or all
    of it where little is left; and what of them stays as it is."""
    spans: list[tuple[int, int]] = []
    kept: list[_Curve] = []
    for side in changed.tolist():
        first, last = int(edge.first[side]), int(edge.last[side])
        there = first + np.flatnonzero(moved[first : last + 1] > 0)
        if not len(there):
            kept.append(_part(edge, side, float(edge.t[first]), float(edge.t[last])))
            continue
        begin, end = max(first, int(there[0]) - 1), min(last, int(there[-1]) + 1)
        enough = _KEPT_FROM * (last - first)
        begin = begin if begin - first > enough else first
        end = end if last - end > enough else last
        spans.append((begin, end))
        kept += [
            _part(edge, side, float(edge.t[start]), float(edge.t[finish]))
            for start, finish in ((first, begin), (end, last))
            if finish > start
        ]
    return np.array(spans, np.intp).reshape(-1, 2), kept


_KEPT_FROM = 0.6
"""A side that has moved in part keeps the rest of it where that is more than this share."""


def _part(edge: _Edge, side: int, start: float, end: float) -> _Curve:
    """A side as it is, from one parameter to another."""
    whole = edge.sides[side].view(np.float64).reshape(4, 2)
    return _Curve(bezier.part(whole, start, end).view(np.complex128)[:, 0], side, start, end)


def _contour(curves: Sequence[_Curve]) -> Outline:
    verbs = np.array([MOVE, *(curve.verb for curve in curves)], np.uint8)
    drawn = [curve.points[1:] if curve.verb == CUBIC else curve.points[3:] for curve in curves]
    points = np.concatenate([curves[0].points[:1], *drawn])
    return Outline(verbs, points.view(np.float64).reshape(-1, 2))


def _origins(shape: Shape, rows: Sequence[tuple[Ints, Floats, Floats]]) -> Origins | None:
    if shape.origins is None:
        return None
    side, start, end = (np.concatenate(column) for column in zip(*rows, strict=True))
    return shape.origins.parts(side, start, end)


def _ways(edge: _Edge, at: Complexes, moved: Floats) -> Complexes:
    """Which way the moved edge goes at each point; where it has not moved, as it went."""
    ways = edge.way.copy()
    for stretch in edge.stretches:
        if not moved[stretch].any():
            continue
        # The ends of two sides that flow into each other are one point.
        here = at[stretch]
        apart = np.append(True, np.abs(np.diff(here)) > 1e-9)
        number = np.cumsum(apart) - 1
        points = here[apart]
        if len(points) < 3:
            continue
        gone = np.empty_like(points)
        gone[1:-1] = points[2:] - points[:-2]
        closed = edge.follows[edge.side[stretch[0]]]
        gone[0] = points[1] - (points[-2] if closed else points[0])
        gone[-1] = gone[0] if closed else points[-1] - points[-2]
        gone /= np.maximum(np.abs(gone), 1e-12)
        ways[stretch] = np.where(moved[stretch] > 0, gone[number], ways[stretch])
    return ways


def _fitted(edge: _Edge, ways: Complexes, spans: Ints, tolerance: float) -> list[_Curve]:
    """Rows of moved points, from a first to a last each (K, 2), as curves that are true to them: one for each
    row, or its halves where one is not. The points keep the parameters they had, so that only the two lengths
    of the handles are to be found (least squares; P. J. Schneider, "An Algorithm for Automatically Fitting
    Digitized Curves", Graphics Gems, 1990)."""
    found: list[_Curve] = []
    at = edge.at
    while len(spans):
        first, last = spans.T
        count = last - first + 1
        begins = np.cumsum(count) - count
        row = np.repeat(np.arange(len(spans)), count)
        n = np.arange(len(row)) - begins[row] + first[row]
        t0, t1 = edge.t[first], edge.t[last]
        u = (edge.t[n] - t0[row]) / (t1 - t0)[row]
        start, end, out, back = at[first], at[last], ways[first], -ways[last]
        b0, b1, b2, b3 = bezier.bernstein(u)
        rest = at[n] - start[row] * (b0 + b1) - end[row] * (b2 + b3)

        def total(values: Floats, begins: Ints = begins) -> Floats:
            return np.asarray(np.add.reduceat(values, begins))

        one, other = out[row] * b1, back[row] * b2
        c11, c22 = total(b1 * b1), total(b2 * b2)
        c12 = total(np.real(one * other.conj()))
        x1, x2 = total(np.real(one.conj() * rest)), total(np.real(other.conj() * rest))
        determinant = c11 * c22 - c12 * c12
        long = np.abs(end - start)
        safe = np.where(determinant > 1e-12, determinant, 1.0)
        lengths = np.stack([(x1 * c22 - x2 * c12) / safe, (c11 * x2 - c12 * x1) / safe])
        # A third of the way (Wu and Barsky's, as in Schneider) where the points say too little.
        poor = (determinant <= 1e-12) | (lengths.min(axis=0) <= 0) | (lengths.max(axis=0) > 3 * long)
        lengths = np.where(poor, long / 3, lengths)
        curves = np.stack([start, start + out * lengths[0], end + back * lengths[1], end])
        off = np.abs(bezier.point(curves[:, row], u) - at[n])
        error = np.maximum.reduceat(off, begins)
        good = (error <= tolerance) | (count < 2 * _FEWEST)
        for k in np.flatnonzero(good).tolist():
            found.append(_Curve(curves[:, k], int(edge.side[first[k]]), float(t0[k]), float(t1[k])))
        middle = (first + last) // 2
        left = np.stack([first, middle], axis=1)[~good]
        right = np.stack([middle, last], axis=1)[~good]
        spans = np.concatenate([left, right])
    return found


def _corner(edge: _Edge, before: int, side: int, moved: Floats) -> list[_Curve]:
    """What ties the moved end of a side to the moved start of the next, where the two meet in a corner."""
    if edge.follows[side] or not (edge.seen[before] or edge.seen[side]):
        return []
    corner = complex(edge.sides[side][0])
    last, first = int(edge.last[before]), int(edge.first[side])
    out, into = (float(moved[n]) if n >= 0 else 0.0 for n in (last, first))
    if not out and not into:
        return []
    end, begin = (complex(edge.at[n]) if n >= 0 else corner for n in (last, first))
    if abs(end - begin) <= CLOSE_NODES_MM:
        return []
    meets = corner
    if last >= 0 and first >= 0:
        ways = complex(edge.way[last]), complex(edge.way[first])
        is_bay = (ways[0].conjugate() * ways[1]).imag < 0
        # At a tip or a heel the two ends are tied straight.
        meets = _meeting(corner, ways, (out, into)) or (corner if is_bay or not (out and into) else begin)
    ties = ((end, meets, before, 1.0), (meets, begin, side, 0.0))
    return [
        _Curve(np.array([one, one, other, other]), of, t, t, LINE)
        for one, other, of, t in ties
        if abs(one - other) > CLOSE_NODES_MM
    ]


def _meeting(corner: complex, ways: tuple[complex, complex], out: tuple[float, float]) -> complex | None:
    """Where two edges meet that have moved out by some lengths, both carried on straight; None where that is
    behind one of them, or far: m with m·n₁ = d₁ and m·n₂ = d₂, n the outward normals."""
    (a, b), (d1, d2) = (-1j * ways[0], -1j * ways[1]), out
    determinant = (a.conjugate() * b).imag
    if abs(determinant) < _NEARLY_STRAIGHT:
        return None
    x, y = (d1 * b.imag - d2 * a.imag) / determinant, (d2 * a.real - d1 * b.real) / determinant
    m = complex(x, y)
    ahead = ((m + 1j * ways[0] * d1) * ways[0].conjugate()).real
    back = ((m + 1j * ways[1] * d2) * ways[1].conjugate()).real
    return corner + m if ahead >= -1e-9 and back <= 1e-9 and abs(m) <= _LONGEST_MITRE * max(out) else None


_NEARLY_STRAIGHT = 0.2
"""Edges that meet at a sine less than this meet too far away."""
