"""Flow: a stroke carried on as a smooth curve from one letter into the next.

      leaves          The *spine* is one cubic: it leaves in the stroke's direction, in the middle of it,
    ══════╮           where the stroke is as wide as the neck asked for, and arrives along the neighbour's
          ╲ arrives   stroke, in its middle. The width goes smoothly from the one stroke's to the other's.
           ╰══════    Both ends are buried, so nothing of them shows.

A disc as wide as the neck can go along the spine from the one letter into the other: that is what makes the
joint hold. All in shares of the size, y down.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely

from fulgen.geometry import bezier
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Bools, Floats, Outline, Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region
from fulgen.joining.heights import Heights
from fulgen.joining.strength import Body
from fulgen.joining.strokes import (
    Frames,
    Stroke,
    frame_near,
    frames_facing,
    joined_frames,
    strokes_of,
    walked,
)
from fulgen.lettering.letters import FlowShape

_SPANS = 4
"""Each edge is drawn in so many cubics."""

_SAMPLES = np.linspace(0.0, 1.0, 25)

_BURIED = 0.96
"""A flow is this share of the stroke it leaves or arrives in: so its edges are inside where it begins."""

_HEAVIER = 1.15
"""It arrives at most so much heavier than it left."""

_FARTHEST = 0.42
"""No flow goes further than this."""

_MOST_TURN_OUT, _MOST_TURN_IN = math.radians(70), math.radians(88)
"""How far from the straight way a flow may set out, and arrive. (†)"""

_TIGHTEST = 0.62
"""No bend is tighter than this many widths: its inner edge would fold."""

_TRIED = 24
"""So many of the likeliest curves are looked at closely."""

_CLOSELY = np.linspace(0.0, 1.0, 17)


@dataclass(frozen=True, eq=False)
class Flow:
    """A curved stroke: the cubics of its spine (S, 4, 2), each going on in the direction of the last, and its
    widths where they meet (S + 1,)."""

    spine: Floats
    widths: Floats

    def edge(self, n: int, t: Floats, side: float) -> tuple[Floats, Floats]:
        """Points of an edge (+1: to the right of the way, -1: to the left) along one cubic of the spine, and
        how they move with time. The width goes from the one end's to the other's, level at both."""
        cubic = self.spine[n][:, None]
        c1 = bezier.derivative(cubic, t[:, None])
        c2 = bezier.second_derivative(cubic, t[:, None])
        speed = np.maximum(np.hypot(c1[:, 0], c1[:, 1]), 1e-12)[:, None]
        along = c1 / speed
        turning = (c2 - along * (along * c2).sum(axis=1)[:, None]) / speed
        normal = np.stack([-along[:, 1], along[:, 0]], axis=1)
        normal_turning = np.stack([-turning[:, 1], turning[:, 0]], axis=1)
        start, end = self.widths[n], self.widths[n + 1]
        half = (start + (end - start) * t * t * (3 - 2 * t))[:, None] / 2
        half_change = ((end - start) * 6 * t * (1 - t))[:, None] / 2
        points = bezier.point(cubic, t[:, None]) + side * normal * half
        return points, c1 + side * (normal_turning * half + normal * half_change)

    @property
    def folds(self) -> bool:
        """Whether an edge runs back somewhere, for a bend is tighter than half the width."""
        for n, cubic in enumerate(self.spine):
            way = bezier.derivative(cubic[:, None], _CLOSELY[:, None])
            for side in (1.0, -1.0):
                if ((self.edge(n, _CLOSELY, side)[1] * way).sum(axis=1) <= 0).any():
                    return True
        return False

    @cached_property
    def outline(self) -> Outline:
        """Its outline: two edges of cubics, straight across at the ends."""
        spans = _SPANS if len(self.spine) == 1 else 2
        t = np.linspace(0.0, 1.0, spans + 1)
        sides: list[list[Floats]] = []
        for side in (1.0, -1.0):
            cubics = []
            for n in range(len(self.spine)):
                points, moves = self.edge(n, t, side)
                handles = moves / (3 * spans)
                cubics += [
                    np.stack(
                        [points[k], points[k] + handles[k], points[k + 1] - handles[k + 1], points[k + 1]]
                    )
                    for k in range(spans)
                ]
            sides.append(cubics)
        there, back = sides[0], [cubic[::-1] for cubic in reversed(sides[1])]
        rows = [there[0][:1], *(c[1:] for c in there), back[0][:1], *(c[1:] for c in back)]
        verbs = [MOVE, *[CUBIC] * len(there), LINE, *[CUBIC] * len(back)]
        return Outline(np.array(verbs, np.uint8), np.concatenate(rows))

    @cached_property
    def region(self) -> Region:
        """Its area, as a polygon."""
        t = _SAMPLES if len(self.spine) == 1 else _SAMPLES[::3]
        one, other = (
            np.concatenate([self.edge(n, t, side)[0] for n in range(len(self.spine))]) for side in (1.0, -1.0)
        )
        return shapely.Polygon(np.concatenate((one, other[::-1])))


@dataclass(frozen=True, eq=False)
class FoundFlow:
    """A flow between two letters, how much of it is in the open, how much it bends (0: straight), and whether
    it is a stroke of the left letter that is carried on. ``crossing`` is the cubic of its spine that goes
    across; the others lie in the letters."""

    flow: Flow
    length: float
    bend: float
    of_left: bool
    misplaced: float = 0.0
    crossing: int = -1

    @property
    def ends(self) -> tuple[Point, Point]:
        """Where it leaves the left letter and arrives in the right one."""
        spine = self.flow.spine[self.crossing]
        (x0, y0), (x1, y1) = spine[0].tolist(), spine[3].tolist()
        return ((x0, y0), (x1, y1)) if self.of_left else ((x1, y1), (x0, y0))


@dataclass(frozen=True, eq=False)
class _Start:
    """Where a stroke may be taken up, the nearest to its tip first; where it is thinner than needed there,
    the way along it from where it is not, (K, 2). ``weight`` is the share of its width that goes on."""

    places: Frames
    ways: tuple[Floats | None, ...]
    weight: float = _BURIED

    def moved(self, dx: float) -> _Start:
        ways = tuple(None if w is None else w + np.array((dx, 0.0)) for w in self.ways)
        return replace(self, places=self.places.moved(dx), ways=ways)


class Flows:
    """The flows that carry on a stroke of one letter into another: where they may leave and arrive is found
    once, which of them is best for every place that the right letter is moved to. Written letters on one
    baseline are joined at the ``heights`` where a letterer would."""

    def __init__(
        self, from_: Body, into: Body, need: float, of_left: bool, heights: Heights | None = None
    ) -> None:
        self.from_, self.into, self.need, self.of_left, self.heights = from_, into, need, of_left, heights
        self.pairs: list[tuple[_Start, Frames]] = []
        for stroke in _facing(from_, into):
            start = _start_of(from_, stroke, need)
            if start is not None:
                self.pairs.append((start, arrivals(into, start.places.middles[0], need)))
        if of_left and heights is not None:
            start = _leaving(from_, heights, need)
            if start is not None:
                self.pairs.append((start, arrivals(into, start.places.middles[0], need)))
        self.thin_ends: list[tuple[Floats, Floats]] = []
        if of_left and heights is not None:
            exits, entries = _thin_ends(from_, into, need), _thin_ends(into, from_, need)
            self.thin_ends = [(way, entry) for way in exits for entry in entries]

    def at(self, shift: float, most: int = 2) -> list[FoundFlow]:
        """The likeliest flows once the right letter is moved by ``shift``."""
        found: list[FoundFlow] = []
        from_, into = self._moved(shift)
        for start, end in self.pairs:
            if self.of_left:
                end = end.moved(shift)
            else:
                start = start.moved(shift)
            found += _best(start, end, from_, into, self.need, self.of_left, self.heights)
        for way, entry in self.thin_ends:
            through = _through(way, entry + np.array((shift, 0.0)), from_, into, self.need, self.heights)
            found += [] if through is None else [through]
        return sorted(found, key=flow_cost)[:most]

    def heavier(self, shift: float) -> Flow | None:
        """The thin end of a stroke that meets the other letter already, made as heavy as needed: along the
        stroke, from where it is heavy enough until it is in the other letter's core."""
        _, into = self._moved(shift)
        core = into.core(self.need)
        if core is None:
            return None
        by = 0.0 if self.of_left else shift
        for start, _ in self.pairs:
            way = start.ways[0]
            path = start.places.middles[:1] if way is None else way
            path = path + np.array((by, 0.0))
            inside = np.flatnonzero(shapely.contains_xy(core, *path.T))
            if len(inside):
                path = path[: max(2, inside[0] + 1)]
            else:
                # It turns into the core gently: from two widths before it.
                near = shapely.get_coordinates(shapely.shortest_line(shapely.Point(path[-1]), core))[1]
                if math.hypot(*(near - path[-1])) > _NEAR_CORE:
                    continue
                before = np.hypot(*(path - near).T) > 2 * self.need
                before[0] = True
                path = np.concatenate((path[before], near[None]))
            if len(path) < 2:
                continue
            spine = chain_through(path)
            return Flow(spine, np.full(len(spine) + 1, self.need))
        return None

    def _moved(self, shift: float) -> tuple[Body, Body]:
        if not shift:
            return self.from_, self.into
        if self.of_left:
            return self.from_, self.into.moved(shift, 0.0)
        return self.from_.moved(shift, 0.0), self.into


_DIAGONAL, _LEVEL = (0.0, 0.3), (0.72, 1.0)
"""A diagonal join leaves the side of a letter this high in the band, and a level one. (†)"""

_DIAGONAL_WAYS, _LEVEL_WAYS = np.radians((8.0, 30.0, 55.0)), np.radians((0.0, -15.0))
"""The directions in which they leave, upwards from the baseline. (†)"""


def _leaving(body: Body, heights: Heights, need: float) -> _Start | None:
    """Where a join may leave a letter that ends without a stroke to carry on: from the side of its last one,
    as a pen goes on from there."""
    core = body.core(need)
    if core is None:
        return None
    found = []
    level = ((_LEVEL, _LEVEL_WAYS),) if heights.ends_high else ()
    for (low, high), ways in ((_DIAGONAL, _DIAGONAL_WAYS), *level):
        band = (-high * heights.band, -low * heights.band)
        place = np.array((float(body.region.bounds[2]) + 0.1, (band[0] + band[1]) / 2))
        frames = frames_facing(body, place, _FARTHEST)
        ys = frames.middles[:, 1]
        frames = frames.only(
            (ys >= band[0]) & (ys <= band[1])
            & shapely.contains_xy(core, *frames.middles.T) & (frames.widths >= need)
        )  # fmt: skip
        for way in ways.tolist():
            along = np.broadcast_to(np.array((math.cos(way), -math.sin(way))), frames.middles.shape)
            found.append(Frames(frames.middles, along, frames.widths))
    frames = joined_frames(found)
    return _Start(frames, (None,) * len(frames), _LIGHTER) if len(frames) else None


_LEVEL_ENOUGH = 0.35
"""The y of the direction in which such a join may arrive at most: down, a little. (†)"""

_LIGHTER = 0.65
"""A join that leaves the side of a stroke is this share of its weight, as upstrokes are lighter. (†)"""

_NEAR_CORE = 0.09
"""A stroke that meets a letter ends no further from that letter's core: else it is another stroke's. (†)"""


def _start_of(body: Body, stroke: Stroke, need: float) -> _Start | None:
    core = body.core(need)
    if core is None:
        return None
    wide = shapely.contains_xy(core, *stroke.middles.T) & (stroke.widths >= need)
    middles = stroke.middles
    if not wide.any():
        # The walk ended where a hairline runs into its stem: the stem's core is near.
        near = shapely.get_coordinates(shapely.shortest_line(shapely.Point(middles[-1]), core))[1]
        if not 0 < math.hypot(*(near - middles[-1])) < _NEAR_CORE:
            return None
        middles = np.concatenate((middles, near[None]))
    first = int(wide.argmax()) if wide.any() else len(middles) - 1
    if wide.any() and first <= _TAPER:
        places = np.flatnonzero(wide)[:3]
        ways: tuple[Floats | None, ...] = (None,) * len(places)
    else:
        places = np.array([place for place in (1, 3) if place < first])
        if not len(places):
            return None
        ways = tuple(middles[first : place - 1 if place else None : -1] for place in places.tolist())
    return _Start(Frames(stroke.middles[places], stroke.outwards[places], stroke.widths[places]), ways)


def _thin_ends(body: Body, other: Body, need: float) -> list[Floats]:
    """The strokes of a letter that end near another and are thinner than needed, each from where the letter
    is wide enough to near its tip, (K, 2)."""
    starts = (_start_of(body, stroke, need) for stroke in _facing(body, other))
    return [way for start in starts if start is not None and (way := start.ways[0]) is not None]


_MEET_WITHIN, _MEET_AT = 0.08, math.cos(math.radians(60))
"""Two thin strokes are one where their ends are no further apart, and turn by no more from one to the other.
(†)"""


def _through(
    way: Floats, entry: Floats, from_: Body, into: Body, need: float, heights: Heights | None
) -> FoundFlow | None:
    """The thin last stroke of a letter and the thin first one of the next as one stroke, as heavy as needed
    all along; None where they do not go on in each other. Both are given from where they are wide enough to
    their tips."""
    if heights is None or len(way) < 2 or len(entry) < 2:
        return None
    out, into_way = way[-1] - way[-2], entry[-2] - entry[-1]
    across = entry[-1] - way[-1]
    if math.hypot(*across) > _MEET_WITHIN:
        return None
    if out @ into_way < _MEET_AT * math.hypot(*out) * math.hypot(*into_way) or across @ (out + into_way) <= 0:
        return None
    spine = chain_through(np.concatenate((way, entry[::-1])))
    flow = Flow(spine, np.full(len(spine) + 1, need))
    if flow.folds or not shapely.is_valid(flow.region):
        return None
    middle = (way[-1] + entry[-1]) / 2
    crossing = int(np.hypot(*(spine[:, 0] + spine[:, 3] - 2 * middle).T).argmin())
    length = float(np.asarray(shapely.distance(from_.region, into.region)))
    return FoundFlow(flow, length, 0.0, True, float(heights.cost(middle[1])), crossing)


_TAPER = 5
"""So many chords from its tip a stroke may be thin because it tapers; one that is thin for longer is thin by
itself, and is made heavier along its own way."""


_KNOTS_APART = 0.085
"""About how far apart the knots of a chain are: what is walked step by step shivers, and a hand does not."""


def chain_through(path: Floats, ends: Floats | None = None) -> Floats:
    """A smooth chain of cubics (S, 4, 2) along a path of points: through places evenly spread over it, each
    in the direction from the one before to the one after (Catmull and Rom's way); it ends in the direction
    ``ends``, where that is given."""
    for _ in range(2):
        if len(path) > 2:
            path = np.concatenate((path[:1], (path[:-2] + 2 * path[1:-1] + path[2:]) / 4, path[-1:]))
    along = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))))
    count = max(1, round(float(along[-1]) / _KNOTS_APART))
    at = np.linspace(0.0, along[-1], count + 1)
    knots = np.stack([np.interp(at, along, path[:, axis]) for axis in (0, 1)], axis=1)
    apart = along[-1] / count
    # The direction at a knot is that of the path around it.
    around = np.stack(
        [
            np.interp(np.clip(at + by, 0, along[-1]), along, path[:, axis])
            for by in (-0.3 * apart, 0.3 * apart)
            for axis in (0, 1)
        ],
        axis=1,
    )
    ways = around[:, 2:] - around[:, :2]
    ways = ways / np.maximum(np.hypot(*ways.T), 1e-9)[:, None]
    if ends is not None:
        ways[-1] = ends
    chords = np.hypot(*np.diff(knots, axis=0).T)[:, None]
    return np.stack(
        [knots[:-1], knots[:-1] + ways[:-1] * chords / 3, knots[1:] - ways[1:] * chords / 3, knots[1:]],
        axis=1,
    )


def shaped(
    left: Body, right: Body, need: float, best: FoundFlow | None, shape: FlowShape, there: Placement
) -> FoundFlow | None:
    """A flow as a hand has shaped it: it leaves and arrives in the strokes nearest to the places chosen, or
    where the best one does. ``there`` is where the right letter lies as the left one sees it."""
    ends = None if best is None else best.ends
    found = []
    for body, spot, lies, n in ((left, shape.leaves, Placement(), 0), (right, shape.arrives, there, 1)):
        if spot is not None:
            place = np.array(lies.point(spot.x, spot.y))
        elif ends is not None:
            place = np.array(ends[n])
        else:
            place = shapely.get_coordinates(shapely.shortest_line(left.region, right.region))[n]
        frame = frame_near(body, place)
        if frame is None:
            return None
        found.append(frame)
    (start, out, wide), (end, into, wide_there) = found
    way = end - start
    if math.hypot(*way) < 1e-3:
        return None
    out, into = (along if along @ way >= 0 else -along for along in (out, into))
    spine = spine_of(start, out, end, into, shape.full)
    leaves = max(need, _BURIED * wide)
    flow = Flow(spine[None], np.array([leaves, max(need, min(_BURIED * wide_there, _HEAVIER * leaves))]))
    if not shapely.is_valid(flow.region):
        return None
    length, _, _ = _looked_at(spine[None], flow.widths[:1], flow.widths[1:], left, right)
    return FoundFlow(flow, float(length[0]), 0.0, True)


def made_heavier(
    region: Region, way: Floats, width: float, size: float
) -> tuple[Outline, list[Floats]] | None:
    """A stroke as heavy as asked along a thin place of a region in mm, and the tips where it ends with the
    stroke, (2, 2) each. It goes on along the stroke that it makes heavier until that is heavy enough by
    itself, so nothing of its ends shows. ``way`` is the way through the thin place (N, 2), in shares of the
    ``size`` like all else. None where no stroke is to be walked along."""
    body = Body(shapely.transform(region, lambda xy: xy / size))
    middle = len(way) // 2
    at = (way[middle - 1] + way[middle]) / 2
    along = way[min(middle + 1, len(way) - 1)] - way[max(middle - 2, 0)]
    if not math.hypot(*along):
        return None
    along = along / math.hypot(*along)
    core = shapely.buffer(body.region, -width / 2)
    path: list[Floats] = []
    tips: list[Floats] = []
    for middles, _ in walked(body, np.array([at, at]), np.array([along, -along])):
        places = np.array(middles).reshape(-1, 2)
        enough = np.flatnonzero(shapely.contains_xy(core, places[:, 0], places[:, 1]))
        if len(enough):
            middles = middles[: enough[0] + 1]
        else:
            last = middles[-1] if middles else at
            near = shapely.get_coordinates(shapely.shortest_line(shapely.Point(last), core))
            if len(near) and math.hypot(*(near[1] - last)) < 1.5 * width:
                middles = [*(middles or [at]), near[1]]
            elif len(middles) > 1:
                tips.append(np.array(middles[-2:]))
        path = [*reversed(path), *middles[1:]] if path else middles
    if len(path) < 2:
        return None
    spine = chain_through(np.array(path))
    flow = Flow(spine, np.full(len(spine) + 1, width))
    return (flow.outline, tips) if shapely.is_valid(flow.region) else None


def core_tie(left: Body, right: Body, need: float) -> Flow | None:
    """The straight stroke as wide as needed from the one letter's core to the other's: it ties where nothing
    else does."""
    one, other = left.core(need), right.core(need)
    if one is None or other is None:
        return None
    start, end = shapely.get_coordinates(shapely.shortest_line(one, other))
    if math.hypot(*(end - start)) < 1e-6:
        return None
    spine = np.array([[start, (2 * start + end) / 3, (start + 2 * end) / 3, end]])
    return Flow(spine, np.full(2, need))


_ROOM = 1.3
"""A tie keeps so many times its width from what it goes around, measured from its middle. (†)"""


def core_tie_around(left: Body, right: Body, need: float, around: Region) -> Flow | None:
    """The shortest such stroke, straight or of one bend, that leaves something alone: dots, accents. None
    where there is none."""
    one, other = left.core(need), right.core(need)
    if one is None or other is None:
        return None
    kept_free = shapely.buffer(around, _ROOM * need, quad_segs=2)
    corners = shapely.points(shapely.get_coordinates(shapely.buffer(around, 1.2 * _ROOM * need, quad_segs=2)))
    starts, ends = (
        shapely.get_coordinates(shapely.shortest_line(area, corners))[::2] for area in (one, other)
    )
    bends = [
        bezier.bend_through(start, by, end)
        for start, by, end in zip(starts, shapely.get_coordinates(corners), ends, strict=True)
    ]
    lines = np.asarray(
        shapely.linestrings([bezier.point(bend[:, None], _CLOSELY[:, None]) for bend in bends])
    )
    free = ~shapely.intersects(lines, kept_free)
    ties = [Flow(bends[n][None], np.full(2, need)) for n in np.argsort(shapely.length(lines)) if free[n]]
    return next((tie for tie in ties if not tie.folds), None)


_WITHIN = 0.3
"""A stroke that ends further from a letter is not carried on into it."""

_MOST_STROKES = 3


def _facing(from_: Body, into: Body) -> list[Stroke]:
    """The strokes of a letter that end near another, the nearest first."""
    strokes = strokes_of(from_)
    if not strokes:
        return []
    tips = shapely.points([stroke.tip for stroke in strokes])
    far = np.asarray(shapely.distance(into.region, tips))
    near = [n for n in np.argsort(far).tolist() if far[n] < _WITHIN]
    return [strokes[n] for n in near[:_MOST_STROKES]]


def arrivals(into: Body, place: Floats, need: float) -> Frames:
    """Where a stroke may arrive in a letter: along strokes that face the place it comes from, either way, and
    head on at the ends of strokes."""
    core = into.core(need)
    facing = frames_facing(into, place, _FARTHEST)
    both = [facing, Frames(facing.middles, -facing.along, facing.widths)]
    for end in strokes_of(into):
        if math.hypot(*(end.tip - place)) < _FARTHEST:
            both.append(Frames(end.middles[:8], -end.outwards[:8], end.widths[:8]))
    ends = joined_frames(both)
    if core is None or not len(ends):
        return Frames.none()
    return ends.only(shapely.contains_xy(core, *ends.middles.T) & (ends.widths >= need))


def handle(turn: Floats) -> Floats:
    """How long the handle of a side is, as a share of its chord, that turns by ``turn`` radians from the
    chord's way: as in a circular arc, which turns as much at each end (4/3 tan(a/4) radii, textbook)."""
    turn = np.clip(np.abs(turn), 1e-3, 1.5)
    return np.asarray((4 / 3) * np.tan(turn / 2) / (2 * np.sin(turn)))


def spine_of(start: Floats, out: Floats, end: Floats, into: Floats, full: float = 1.0) -> Floats:
    """The spine from a place in a direction to a place in a direction (unit vectors); ``full`` makes its bend
    rounder."""
    one, away, other, along = (np.array([row]) for row in (start, out, end, into))
    spines, _ = _spines(one, away, other, along, full)
    return np.asarray(spines[0])


def _spines(
    start: Floats, out: Floats, end: Floats, into: Floats, full: float = 1.0
) -> tuple[Floats, tuple[Floats, Floats]]:
    """Spines (N, 4, 2), and by how much each turns away from the straight way at its ends."""
    way = end - start
    distance = np.maximum(np.hypot(*way.T), 1e-9)
    e = way / distance[:, None]

    def turn(direction: Floats) -> Floats:
        cross = e[:, 0] * direction[:, 1] - e[:, 1] * direction[:, 0]
        return np.asarray(np.arctan2(cross, (e * direction).sum(axis=1)))

    a, b = turn(out), turn(into)
    one, other = ((full * distance * handle(angle))[:, None] for angle in (a, b))
    return np.stack([start, start + out * one, end - into * other, end], axis=1), (a, b)


def _best(
    start_: _Start,
    ends: Frames,
    from_: Body,
    into: Body,
    need: float,
    of_left: bool,
    heights: Heights | None,
) -> list[FoundFlow]:
    start = start_.places
    if not len(ends):
        return []
    i, j = (grid.ravel() for grid in np.meshgrid(np.arange(len(start)), np.arange(len(ends)), indexing="ij"))
    spines, (a, b) = _spines(start.middles[i], start.along[i], ends.middles[j], ends.along[j])
    distance = np.hypot(*(spines[:, 3] - spines[:, 0]).T)
    bend = a * a + a * b + b * b
    # A join that leaves the side of a stroke rises, or is level: else it would be an arch.
    rises = ends.along[j, 1] < _LEVEL_ENOUGH if start_.weight < _BURIED else True
    good = (
        rises
        & (np.abs(a) < _MOST_TURN_OUT)
        & (np.abs(b) < _MOST_TURN_IN)
        & (distance > 0.02)
        & (distance < _FARTHEST)
    )
    order = np.flatnonzero(good)
    likely = (distance / 0.15) ** 2 + bend
    if heights is not None:
        likely += heights.cost((spines[:, 0, 1] + spines[:, 3, 1]) / 2)
    order = order[np.argsort(likely[order])][:_TRIED]
    if not len(order):
        return []
    spines, bend = spines[order], bend[order]
    # Never much heavier than the lighter of the two strokes.
    heaviest = ends.widths[j[order]] * (_HEAVIER if start_.weight == _BURIED else start_.weight)
    leaves = np.maximum(need, np.minimum(start_.weight * start.widths[i[order]], heaviest))
    arrives = np.maximum(need, np.minimum(_BURIED * ends.widths[j[order]], _HEAVIER * leaves))
    length, middle, good = _looked_at(spines, leaves, arrives, from_, into)
    height = np.zeros(len(spines))
    if heights is not None:
        height = heights.cost(middle) + heights.cost_of_waves(spines)
    cost = _cost(length, bend) + height
    found: list[FoundFlow] = []
    for n in np.argsort(np.where(good, cost, np.inf))[: int(good.sum())].tolist():
        before = start_.ways[int(i[order[n]])]
        prefix = (
            spines[:0]
            if before is None or len(before) < 2
            else chain_through(before, start.along[i[order[n]]])
        )
        widths = np.array([*[leaves[n]] * (len(prefix) + 1), arrives[n]])
        flow = Flow(np.concatenate((prefix, spines[n : n + 1])), widths)
        if not (len(prefix) and flow.folds) and shapely.is_valid(flow.region):
            found.append(FoundFlow(flow, float(length[n]), float(bend[n]), of_left, float(height[n])))
            break
    return found


def _cost(length: Floats, bend: Floats) -> Floats:
    return (length / 0.15) ** 2 + 0.45 * bend


def flow_cost(found: FoundFlow) -> float:
    """How a flow looks: short and straight ones show least."""
    return float(_cost(np.array(found.length), np.array(found.bend))) + found.misplaced


def _looked_at(
    spines: Floats, leaves: Floats, arrives: Floats, from_: Body, into: Body
) -> tuple[Floats, Floats, Bools]:
    """How much of each flow (N, 4, 2) is in the open, how high the middle of that is (y), and whether it is
    any good: it does not fold, and goes straight from the one letter through the open into the other."""
    t = _CLOSELY[None, :, None]
    sides = spines.transpose(1, 0, 2)[:, :, None]
    points, c1, c2 = bezier.point(sides, t), bezier.derivative(sides, t), bezier.second_derivative(sides, t)
    speed = np.maximum(np.hypot(c1[..., 0], c1[..., 1]), 1e-9)
    curvature = np.abs(c1[..., 0] * c2[..., 1] - c1[..., 1] * c2[..., 0]) / speed**3
    good = (curvature * np.maximum(leaves, arrives)[:, None] < 1 / _TIGHTEST).all(axis=1)
    flat = points.reshape(-1, 2)
    in_from, in_into = (
        shapely.contains_xy(body.region, *flat.T).reshape(points.shape[:2]) for body in (from_, into)
    )
    good &= in_from[:, 0] & in_into[:, -1]
    # Once it has left it does not come back, and once it has arrived it stays.
    good &= ~(np.logical_or.accumulate(~in_from, axis=1) & in_from & ~in_into).any(axis=1)
    good &= ~(np.logical_or.accumulate(in_into, axis=1) & ~in_into).any(axis=1)
    open_ = ~in_from & ~in_into
    steps = np.hypot(*np.diff(points, axis=1).transpose(2, 0, 1))
    shown = steps * (open_[:, 1:] | open_[:, :-1])
    length = shown.sum(axis=1)
    ys = (points[:, 1:, 1] + points[:, :-1, 1]) / 2
    middle = np.where(length > 0, (ys * shown).sum(axis=1) / np.maximum(length, 1e-9), points[:, 8, 1])
    return length, middle, good
