"""Webs: what fills the bays beside a joint, tangent to both outlines, as ink would between two strokes.

    L ╲___╱ R     Each side of a web is one cubic that leaves the one letter's edge in that edge's
      ▒▒▒▒▒       direction and arrives along the other's. A *gusset* fills the notch of a joint that is
    L ╱───╲ R     too thin; a web across a gap has two sides and ties two letters.

The further from the joint a side starts, the wider the joint becomes: it starts no further than the neck
asked for needs. All in shares of the size, y down.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely

from fulgen.geometry import bezier
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Bools, Floats, Outline
from fulgen.geometry.polygons import Region, polygonal
from fulgen.joining.flow import handle
from fulgen.joining.strength import Body

_WALK = np.array([0.006, 0.012, 0.018, 0.026, 0.035, 0.045, 0.057, 0.07, 0.085, 0.105, 0.13, 0.16])
"""How far from the joint a side may start, along the edges."""

_CORNER = math.radians(32)
"""Where an edge turns by more than this it has a corner: a side starts there at the latest."""

_INSET = 0.012
"""A web lies so far inside the letters it ties, so that no edges run on each other."""

_STRAIGHT = 0.03
"""A straight side of a flattened edge that is longer than this is straight in the letter, too."""

_T = np.linspace(0.0, 1.0, 17)


@dataclass(frozen=True, eq=False)
class Side:
    """One side of a web: a cubic (4, 2) from the left letter's edge to the right one's, with places inside
    each letter beside its ends."""

    curve: Floats
    inside_left: Floats
    inside_right: Floats

    @cached_property
    def points(self) -> Floats:
        return np.asarray(bezier.point(self.curve[:, None], _T[:, None]))


@dataclass(frozen=True, eq=False)
class Web:
    """A closed web of one or two sides."""

    outline: Outline
    region: Region
    waist: float


@dataclass(frozen=True, eq=False)
class _Edge:
    """An edge walked from a place: points (N, 2), directions of walking (N, 2), and whether its end is a
    corner of the letter."""

    points: Floats
    ways: Floats
    distances: Floats
    to_corner: bool

    @cached_property
    def walked(self) -> tuple[Floats, Floats]:
        """Where one is after each of _WALK, (N, 2), and in which direction."""
        at = np.searchsorted(self.distances, _WALK, side="right") - 1
        return self.points[at], self.ways[at]

    @cached_property
    def at_corner(self) -> Bools:
        """Whether one is at the corner by then, (N,)."""
        return np.asarray(self.to_corner & (self.distances[-1] <= _WALK))

    def at(self, n: int) -> tuple[Floats, Floats]:
        """The same after one of them."""
        points, ways = self.walked
        return points[n], ways[n]

    def moved(self, dx: float) -> _Edge:
        return replace(self, points=self.points + np.array((dx, 0.0))) if dx else self


def edge_from(body: Body, at: Floats, way: int) -> _Edge | None:
    """The edge of a letter from a place of it, forwards (1) or backwards (-1), up to the first corner."""
    ring = min(body.rings, key=lambda r: float(_distances(r, at).min()))
    points = ring[:-1]
    n = int(_distances(ring, at).argmin())  # the side that the place is on
    order = np.arange(1, len(points)) if way > 0 else -np.arange(0, len(points) - 1)
    rest = points[(n + order) % len(points)]
    path = [at]
    out_points: list[Floats] = []
    out_ways: list[Floats] = []
    out_distances: list[float] = []
    gone = 0.0
    to_corner = False
    before: Floats | None = None
    for p in rest:
        step = p - path[-1]
        length = math.hypot(*step)
        if length < 1e-7:
            continue
        ahead = step / length
        if before is not None:
            turn = math.acos(max(-1.0, min(1.0, float(before @ ahead))))
            if turn > _CORNER:
                to_corner = True
                break
            # A node of the flattened edge is on the letter's own: its direction is that of the circle there.
            last = path[-1] - path[-2]
            tangent = ahead * math.hypot(*last) + before * length
            out_points.append(path[-1])
            out_ways.append(tangent / math.hypot(*tangent))
            out_distances.append(gone)
        else:
            out_points.append(at)
            out_ways.append(ahead)
            out_distances.append(0.0)
        if length > _STRAIGHT:
            for share in np.arange(0.01, length, 0.01):
                out_points.append(path[-1] + ahead * share)
                out_ways.append(ahead)
                out_distances.append(gone + share)
        gone += length
        path.append(p)
        before = ahead
        if gone > _WALK[-1] + 0.02:
            break
    if before is not None:
        out_points.append(path[-1])
        out_ways.append(before)
        out_distances.append(gone)
    if not out_points:
        return None
    return _Edge(np.array(out_points), np.array(out_ways), np.array(out_distances), to_corner)


def _distances(ring: Floats, at: Floats) -> Floats:
    """How far each side of a ring is from a place."""
    a, e = ring[:-1], np.diff(ring, axis=0)
    square = np.maximum((e * e).sum(axis=1), 1e-18)
    t = np.clip(((at - a) * e).sum(axis=1) / square, 0, 1)
    return np.asarray(np.hypot(*(a + e * t[:, None] - at).T))


def sides_between(left: _Edge, right: _Edge) -> Floats:
    """The sides (N, 4, 2) that start further and further from the joint on both edges."""
    p, way_p = left.walked
    q, way_q = right.walked
    chord = np.hypot(*(q - p).T)
    # A side comes along the left edge towards the joint and goes along the right one away from it; a corner
    # has no direction to keep.
    straight = (q - p) / np.maximum(chord, 1e-9)[:, None]
    way_p = np.where(left.at_corner[:, None], -straight, way_p)
    way_q = np.where(right.at_corner[:, None], straight, way_q)
    turn = np.arccos(np.clip(-(way_p * way_q).sum(axis=1), -1.0, 1.0)) / 2
    reach = (chord * handle(turn))[:, None]
    return np.stack([p, p - way_p * reach, q - way_q * reach, q], axis=1)


def points_of(sides: Floats) -> Floats:
    """Points along each of some sides, (N, 17, 2)."""
    return np.asarray(bezier.point(sides.transpose(1, 0, 2)[:, :, None], _T[None, :, None]))


def _inside(body: Body, at: Floats, way: Floats) -> Floats:
    across = np.array([-way[1], way[0]]) * _INSET
    for place in (at + across, at - across, at + across / 4, at - across / 4):
        if shapely.contains_xy(body.region, *place):
            return np.asarray(place)
    return at


def _away(body: Body, corner: Floats, other: Body) -> int | None:
    """Which way along a letter's edge leads out of its neighbour."""
    for way in (1, -1):
        edge = edge_from(body, corner, way)
        if edge is None or len(edge.points) < 2:
            continue
        probe = edge.points[min(2, len(edge.points) - 1)]
        if not shapely.contains_xy(other.region, *probe):
            return way
    return None


class Webs:
    """The webs across the narrowest gap between two letters, for every place the right one is moved to."""

    def __init__(self, bodies: tuple[Body, Body], pairs: list[tuple[_Edge, _Edge]], middle: Floats) -> None:
        self.bodies, self.pairs, self.middle = bodies, pairs, middle

    def at(self, shift: float, need: float) -> Web | None:
        """The slightest web that is as wide as needed, once the right letter is moved by ``shift``."""
        pairs = [(left, right.moved(shift)) for left, right in self.pairs]
        one, other = (sides_between(*pair) for pair in pairs)
        places = _wide_enough(points_of(one), points_of(other), need)
        if places is None:
            return None
        left, right = self.bodies[0], self.bodies[1].moved(shift, 0.0)
        made = [
            Side(sides[places], _inside(left, *a.at(places)), _inside(right, *b.at(places)))
            for sides, (a, b) in zip((one, other), pairs, strict=True)
        ]
        middle = self.middle + np.array([(0.0, 0.0), (shift, 0.0)])
        return _closed(made[0], made[1], (left, right), (middle[0], middle[1]), need)


def _wide_enough(one: Floats, other: Floats, need: float) -> int | None:
    """The first of some pairs of sides, (N, P, 2) each, that are as far apart as needed."""
    apart = one[:, :, None] - other[:, None]
    waists = np.hypot(apart[..., 0], apart[..., 1]).min(axis=(1, 2))
    wide = np.flatnonzero(waists >= need)
    return int(wide[0]) if len(wide) else None


_AS_NARROW = (1.2, 0.012)
"""Where the gap is at most so many times as wide as at its narrowest, and this, a web may stand: between
slanted stems it is wider on the level than across."""

_LOWER = (1.5, 0.04)
"""Where the gap is narrower above the small letters a web still stands among them, while the gap there is at
most so many times as wide, and this. (†)"""

_FAR = 100.0

_FOOT = 0.03
"""How far above the feet of two stems a web between them has its middle."""


def narrowest_gap(left: Region, right: Region, x_height: float) -> Floats:
    """The two ends of the narrowest gap, (2, 2), below the height of an x if it can be. Between stems side by
    side it is at their feet: in the middle a web would make an H of them."""
    line = shapely.get_coordinates(shapely.shortest_line(left, right))
    narrowest = math.hypot(*(line[1] - line[0]))
    if line[:, 1].mean() < -x_height:
        low = [shapely.clip_by_rect(side, -_FAR, -x_height, _FAR, _FAR) for side in (left, right)]
        if not any(side.is_empty for side in low):
            lower = shapely.get_coordinates(shapely.shortest_line(*low))
            if math.hypot(*(lower[1] - lower[0])) <= _LOWER[0] * narrowest + _LOWER[1]:
                line = lower
                narrowest = math.hypot(*(line[1] - line[0]))
    y = min(left.bounds[3], right.bounds[3]) - _FOOT
    level = shapely.LineString([(left.bounds[0] - 1, y), (right.bounds[2] + 1, y)])
    ends = shapely.bounds(shapely.intersection(level, np.array([left, right])))
    if not np.isnan(ends).any() and 0 < ends[1][0] - ends[0][2] <= narrowest * _AS_NARROW[0] + _AS_NARROW[1]:
        return np.array([(ends[0][2], y), (ends[1][0], y)])
    return np.asarray(line)


def webs_across(left: Body, right: Body, x_height: float = math.inf) -> Webs | None:
    """The webs across the narrowest gap between two letters; None where no edges lead away from it."""
    middle = narrowest_gap(left.region, right.region, x_height)
    across = middle[1] - middle[0]
    if math.hypot(*across) < 1e-6:
        return None
    pairs = []
    for sign in (1, -1):
        edges = []
        for body, at in ((left, middle[0]), (right, middle[1])):
            for way in (1, -1):
                edge = edge_from(body, at, way)
                if edge is None or len(edge.points) < 2:
                    continue
                step = edge.points[-1] - at
                if sign * (across[0] * step[1] - across[1] * step[0]) > 0:
                    edges.append(edge)
                    break
        if len(edges) != 2:
            return None
        pairs.append((edges[0], edges[1]))
    return Webs((left, right), pairs, middle)


def _closed(
    one: Side, other: Side, bodies: tuple[Body, Body], middle: tuple[Floats, Floats], waist: float
) -> Web | None:
    """A web of two sides, its ends inside the letters."""
    inner = []
    for body, at in zip(bodies, middle, strict=True):
        centre = (one.points.mean(axis=0) + other.points.mean(axis=0)) / 2
        inward = at - centre
        inward = inward / (math.hypot(*inward) or 1.0)
        place = at + inward * _INSET
        inner.append(place if shapely.contains_xy(body.region, *place) else at + inward * _INSET / 4)
    points = np.array([
        *one.curve, one.inside_right, inner[1], other.inside_right,
        *other.curve[::-1], other.inside_left, inner[0], one.inside_left,
    ])  # fmt: skip
    verbs = [MOVE, CUBIC, LINE, LINE, LINE, LINE, CUBIC, LINE, LINE, LINE]
    outline = Outline(np.array(verbs, np.uint8), points)
    region = shapely.Polygon(np.concatenate([
        one.points, [one.inside_right, inner[1], other.inside_right],
        other.points[::-1], [other.inside_left, inner[0], one.inside_left],
    ]))  # fmt: skip
    return Web(outline, region, waist) if region.is_valid else None


def gussets(left: Body, right: Body, whole: Region, corners: Floats, need: float) -> list[Web]:
    """Gussets for a joint between two notches (2, 2): the slightest that make it as wide as needed, be it in
    both notches or in one; the likeliest first."""
    sides: list[tuple[_Edge, _Edge] | None] = []
    for corner in corners:
        ways = _away(left, corner, right), _away(right, corner, left)
        if ways[0] is None or ways[1] is None:
            sides.append(None)
            continue
        edges = edge_from(left, corner, ways[0]), edge_from(right, corner, ways[1])
        sides.append(None if edges[0] is None or edges[1] is None else (edges[0], edges[1]))
    found = []
    for use in ((True, True), (True, False), (False, True)):
        if any(used and side is None for used, side in zip(use, sides, strict=True)):
            continue
        curves = [
            sides_between(*side) if used and side is not None else None
            for used, side in zip(use, sides, strict=True)
        ]
        points = [
            np.broadcast_to(corners[n], (len(_WALK), 1, 2)) if some is None else points_of(some)
            for n, some in enumerate(curves)
        ]
        place = _wide_enough(points[0], points[1], need)
        if place is None:
            continue
        made = [
            Side(some[place], _inside(left, *side[0].at(place)), _inside(right, *side[1].at(place)))
            if some is not None and side is not None
            else None
            for some, side in zip(curves, sides, strict=True)
        ]
        web = _gusset(made, corners, need)
        if web is not None:
            found.append(web)
    return found


def _gusset(made: list[Side | None], corners: Floats, waist: float) -> Web | None:
    outlines, regions = [], []
    for n, side in enumerate(made):
        if side is None:
            continue
        towards = corners[1 - n] - corners[n]
        inner = corners[n] + towards * min(0.5, _INSET / (math.hypot(*towards) or 1.0))
        points = np.array([*side.curve, side.inside_right, inner, side.inside_left])
        outlines.append(Outline(np.array([MOVE, CUBIC, LINE, LINE, LINE], np.uint8), points))
        regions.append(shapely.Polygon(np.concatenate([side.points, points[4:]])))
    if not all(region.is_valid for region in regions):
        return None
    region = polygonal(shapely.union_all(regions))
    return Web(Outline.joined(outlines), region, waist)
