"""Outlines as nodes to be worked on by hand: moved, taken out, put in, made smooth or sharp.

A node is a point on the outline with a handle on each side where a curve leaves it. Lengths are those of
the outline; places are complex numbers, x + iy.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from fulgen.geometry.bezier import point
from fulgen.geometry.fit import fit_cubic, furthest_off
from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline

_SAMPLES = 24
"""Points of a side that a curve drawn in its place is fitted to."""

_NEAR_END = 0.02
"""A node is put into a side no nearer to its ends than this time."""

_IN_LINE = math.radians(2)
"""Handles that turn by no more than this at a node flow into each other."""


@dataclass(frozen=True)
class Node:
    """A point of an outline. before, after: the handles towards the node before and the one after, as
    places; None where the side is straight. name: its number in the outline it was read from; sharp: said
    to be a corner, so that its handles move by themselves."""

    name: int
    at: complex
    before: complex | None = None
    after: complex | None = None
    sharp: bool = False

    def moved(self, by: complex) -> Node:
        """The node and its handles moved."""
        shift = [None if handle is None else handle + by for handle in (self.before, self.after)]
        return replace(self, at=self.at + by, before=shift[0], after=shift[1])

    @property
    def smooth(self) -> bool:
        """Whether the outline flows through the node without a corner, as far as its handles say."""
        if self.sharp or self.before is None or self.after is None:
            return False
        into, out = self.at - self.before, self.after - self.at
        return abs(into) > 0 and abs(out) > 0 and abs(math.atan2(*_parts(out / into))) < _IN_LINE


def _parts(z: complex) -> tuple[float, float]:
    return z.imag, z.real


Contour = tuple[Node, ...]


def nodes_of(outline: Outline) -> tuple[Contour, ...]:
    """The nodes of each contour, numbered through the outline; quadratic sides are raised to cubic."""
    contours: list[Contour] = []
    name = 0
    for contour in outline.contours():
        nodes: list[Node] = []
        at = 0
        for verb in contour.verbs.tolist():
            points = [complex(x, y) for x, y in contour.points[at : at + (1, 1, 2, 3)[verb]].tolist()]
            at += len(points)
            end = points[-1]
            if verb == MOVE or not nodes:
                nodes.append(Node(name, end))
            else:
                last = nodes[-1]
                before = after = None
                if verb == QUAD:
                    after = last.at + (points[0] - last.at) * 2 / 3
                    before = end + (points[0] - end) * 2 / 3
                elif verb == CUBIC:
                    after, before = points[0], points[1]
                elif verb == LINE and end == last.at:
                    continue
                nodes[-1] = replace(last, after=after)
                nodes.append(Node(name, end, before))
            name += 1
        if len(nodes) > 1 and nodes[-1].at == nodes[0].at:
            nodes[0] = replace(nodes[0], before=nodes[-1].before)
            nodes.pop()
        contours.append(tuple(nodes))
    return tuple(contours)


def outline_of(contours: Sequence[Contour]) -> Outline:
    """The outline that runs through nodes; contours of fewer than two nodes are left out."""
    parts = []
    for nodes in contours:
        if len(nodes) < 2:
            continue
        verbs, points = [MOVE], [nodes[0].at]
        for node, following in zip(nodes, (*nodes[1:], nodes[0]), strict=True):
            if node.after is None and following.before is None:
                verbs.append(LINE)
                points.append(following.at)
            else:
                verbs.append(CUBIC)
                points += [*_side(node, following)[1:]]
        z = np.array(points)
        parts.append(Outline(np.array(verbs, np.uint8), np.stack([z.real, z.imag], axis=1)))
    return Outline.joined(parts)


def _side(node: Node, following: Node) -> tuple[complex, complex, complex, complex]:
    """The side between two nodes as a cubic; straight ones have their handles a third of the way."""
    third = (following.at - node.at) / 3
    both_straight = node.after is None and following.before is None
    one = node.at if node.after is None else node.after
    other = following.at if following.before is None else following.before
    if both_straight:
        one, other = node.at + third, following.at - third
    return node.at, one, other, following.at


def _sampled(node: Node, following: Node) -> list[complex]:
    return list(point(_side(node, following), np.linspace(0, 1, _SAMPLES + 1)).tolist())


def with_handle(node: Node, before: bool, to: complex) -> Node:
    """The node with one handle moved; where the outline flows through it, the other turns along."""
    was_smooth = node.smooth
    moved = replace(node, before=to) if before else replace(node, after=to)
    other = node.after if before else node.before
    if not was_smooth or other is None or to == node.at:
        return moved
    turned = node.at - (to - node.at) / abs(to - node.at) * abs(other - node.at)
    return replace(moved, after=turned) if before else replace(moved, before=turned)


def inserted(nodes: Contour, after: int, time: float, name: int) -> Contour:
    """A node put into the side that follows ``nodes[after]``, at a time of it; the outline stays as it is
    (de Casteljau)."""
    here, following = nodes[after], nodes[(after + 1) % len(nodes)]
    if here.after is None and following.before is None:
        new = Node(name, here.at + (following.at - here.at) * time)
        return (*nodes[: after + 1], new, *nodes[after + 1 :])
    p0, p1, p2, p3 = _side(here, following)
    a, b, c = p0 + (p1 - p0) * time, p1 + (p2 - p1) * time, p2 + (p3 - p2) * time
    d, e = a + (b - a) * time, b + (c - b) * time
    new = Node(name, d + (e - d) * time, d, e)
    changed = list(nodes)
    changed[after] = replace(here, after=a)
    changed[(after + 1) % len(nodes)] = replace(following, before=c)
    changed.insert(after + 1, new)
    return tuple(changed)


def nearest_on(nodes: Contour, at: complex) -> tuple[float, int, float]:
    """How far the outline is from a place, and where it is nearest: the node before, and the time of the side
    that follows it. Ends of sides are left out: there are nodes."""
    best = (math.inf, 0, 0.5)
    times = np.linspace(_NEAR_END, 1 - _NEAR_END, _SAMPLES + 1)
    for n, node in enumerate(nodes):
        side = _side(node, nodes[(n + 1) % len(nodes)])
        far = abs(np.asarray(point(side, times)) - at)
        k = int(far.argmin())
        # Between the neighbours of the nearest sample the distance has one least: it is narrowed down.
        low, high = times[max(k - 1, 0)], times[min(k + 1, len(times) - 1)]
        for _ in range(40):
            third = (high - low) / 3
            closer = abs(point(side, low + third) - at) <= abs(point(side, high - third) - at)
            low, high = (low, high - third) if closer else (low + third, high)
        time = float(low + high) / 2
        best = min(best, (float(abs(point(side, time) - at)), n, time))
    return best


def removed(nodes: Contour, gone: set[int], *, curved: bool = False) -> tuple[Contour, float]:
    """The contour without some of its nodes, by their places in it, and the greatest distance from where it
    was. A stretch between nodes that stay is drawn as the curve that comes nearest to it, or straight where
    it was of straight sides, unless it is to be ``curved``."""
    stay = [n for n in range(len(nodes)) if n not in gone]
    if len(stay) < 2:
        return (), math.inf
    changed = {n: nodes[n] for n in stay}
    furthest = 0.0
    for here, there in zip(stay, (*stay[1:], stay[0]), strict=True):
        skipped = (there - here) % len(nodes)
        if skipped == 1:
            continue
        run = [nodes[(here + k) % len(nodes)] for k in range(skipped + 1)]
        straight = all(a.after is None and b.before is None for a, b in itertools.pairwise(run))
        off = furthest_off(np.array([node.at for node in run]), np.array([run[0].at, run[-1].at]))
        if straight and (not curved or off < 1e-9):
            furthest = max(furthest, off)
            changed[here] = replace(changed[here], after=None)
            changed[there] = replace(changed[there], before=None)
            continue
        points = [run[0].at]
        for a, b in itertools.pairwise(run):
            points += _sampled(a, b)[1:]
        sides = _side(run[0], run[1]), _side(run[-2], run[-1])
        fitted = fit_cubic(np.array(points), *_directions(*sides))
        furthest = max(furthest, fitted.error)
        changed[here] = replace(changed[here], after=fitted.curve[1])
        changed[there] = replace(changed[there], before=fitted.curve[2])
    return tuple(changed[n] for n in stay), furthest


def merged(nodes: Contour, place: int) -> Contour:
    """The contour with a node taken together with the one before it, for a side too short to matter: where
    the one at the end of a straight side is, so that this does not turn."""
    node, before = nodes[place], nodes[place - 1]
    straight_after = node.after is None and nodes[(place + 1) % len(nodes)].before is None
    at = node.at if straight_after and before.before is not None else before.at
    kept = list(nodes)
    kept[place - 1] = replace(before, at=at, after=node.after)
    del kept[place]
    return tuple(kept)


def _directions(first: tuple[complex, ...], last: tuple[complex, ...]) -> tuple[complex, complex]:
    """The direction in which a side leaves, and that in which another arrives."""
    leaving = next((p - first[0] for p in first[1:] if p != first[0]), 1 + 0j)
    arriving = next((last[3] - p for p in last[2::-1] if p != last[3]), 1 + 0j)
    return leaving, arriving


def smoothed(nodes: Contour, place: int) -> Contour:
    """The contour flowing through a node: its handles in one line, as near to how they were as can be."""
    node = nodes[place]
    before, after = nodes[place - 1], nodes[(place + 1) % len(nodes)]
    into = node.at - (node.before if node.before is not None else node.at + (before.at - node.at) / 3)
    out = (node.after if node.after is not None else node.at + (after.at - node.at) / 3) - node.at
    way = into / (abs(into) or 1) + out / (abs(out) or 1)
    if abs(way) < 1e-9:
        way = into * 1j
    way /= abs(way)
    changed = list(nodes)
    changed[place] = replace(
        node, before=node.at - way * abs(into), after=node.at + way * abs(out), sharp=False
    )
    return tuple(changed)


def rounded(nodes: Contour, place: int, radius: float) -> Contour:
    """The contour with a corner rounded: by an arc of the radius where both sides are straight, else by
    the curve that leaves and meets the sides as such an arc would; smaller where there is no room."""
    node = nodes[place]
    before, after = nodes[place - 1], nodes[(place + 1) % len(nodes)]
    arriving = _directions(_side(before, node), _side(before, node))[1]
    leaving = _directions(_side(node, after), _side(node, after))[0]
    turn = abs(math.atan2(*_parts(leaving / arriving)))
    if turn < 1e-3 or turn > math.pi - 1e-3:
        return nodes
    cut = radius * math.tan(turn / 2)
    into = _time_from_end(_side(before, node), cut)
    out = _time_from_end(tuple(reversed(_side(node, after))), cut)
    name = max(n.name for n in nodes) + 1
    changed = inserted(nodes, place, 1 - out, name)
    changed = inserted(changed, (place - 1) % len(changed), into, name + 1)
    where = next(n for n, known in enumerate(changed) if known.name == node.name)
    one, other = changed[where - 1], changed[(where + 1) % len(changed)]
    # The handle of an arc (4/3 tan of a quarter of its angle, textbook), for the sides as they are there.
    share = 4 / 3 * math.tan(turn / 4) / math.tan(turn / 2)
    one = replace(one, after=one.at + (node.at - one.at) * share)
    other = replace(other, before=other.at + (node.at - other.at) * share)
    kept = list(changed)
    kept[where - 1], kept[(where + 1) % len(kept)] = one, other
    return tuple(n for n in kept if n.name != node.name)


def _time_from_end(side: tuple[complex, ...], distance: float) -> float:
    """The time at which a side is a distance from its end, along it; no further than its middle."""
    t = np.linspace(0, 1, 129)
    points = point(side, t)
    left = np.concatenate((np.cumsum(np.abs(np.diff(points))[::-1])[::-1], [0.0]))
    wanted = min(distance, float(left[0]) * 0.5)
    return float(np.interp(-wanted, -left, t))
