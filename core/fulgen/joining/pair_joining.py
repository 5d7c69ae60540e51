"""What can be done at a seam: the ways to join two neighbours, and what each costs to look at.

A pair that holds as the face sets it is left alone. Else it is looked at in a few places, as set and slid
together more and more; where the letters do not hold by themselves there, the joint is given what it lacks: a
gusset where they meet too thinly, a stroke carried on into the neighbour, a web across the gap. Which of
these is taken is decided for the whole word (`joining.rhythm`).
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import shapely

from fulgen.geometry.outline import Floats
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, holes_of, moved, polygonal
from fulgen.joining.flow import Flows, FoundFlow, core_tie, core_tie_around, flow_cost, shaped
from fulgen.joining.heights import Hand, heights_of
from fulgen.joining.letter_gap import letter_gap, overlapping
from fulgen.joining.seam import LARGEST_PINHOLE, Seam
from fulgen.joining.strength import Body, held_together
from fulgen.joining.stroke_extensions import Addition, best_bridge, extend_stroke
from fulgen.joining.webs import Webs, gussets, webs_across
from fulgen.lettering.letters import FlowShape, Way

STEP = 0.02
"""The first, coarse step of sliding."""

FARTHEST = 0.6
"""No letter is slid further than this."""

TRIED = (0.0, -0.02, -0.045)
"""Where a pair is looked at that does not hold by itself. (†)"""

CLEARANCE = 0.03
"""Letters that are to stay apart keep at least this distance, unless asked for more."""

AS_GIVEN = 0.98
"""Where the letters give less than is asked for, a joint is to be this share of that: at its own limit a
stroke has no core left that a joint could hold to."""

_MORE, _LITTLE_MORE = 1.03, 1.008
"""What is added is so much wider than needed, for outlines are flattened and welded after; only a little
where the letters themselves have no more."""

_OVERLAP = 1e-3
"""Letters hold only where they overlap by this much: those that just abut come apart by rounding."""


@dataclass(frozen=True)
class JoinRequest:
    """What is asked of a seam, as shares of the size: the neck, and the width of a hole that is too
    small to weed. ``way`` is the maker's choice, or None for the best; ``flow`` how a hand has shaped one.
    ``in_place``: letters stay where they are set, but where the maker says otherwise of a pair."""

    neck: float
    hole: float
    way: Way | None = None
    flow: FlowShape | None = None
    in_place: bool = False

    @property
    def may_slide(self) -> bool:
        return self.way is Way.SLIDE or (self.way is None and not self.in_place)


@dataclass(frozen=True, eq=False)
class Joint:
    """What is to be done at a seam: the way, how far the right letter slides (negative is to the left),
    and what is added, in the frame of the left letter."""

    way: Way
    shift: float = 0.0
    bar: Addition | None = None


@dataclass(frozen=True, eq=False)
class Option:
    """A way to join a pair: the joint, what is wrong with how it looks (0: nothing), the white it leaves, and
    the share of the band in which the letters then overlap."""

    joint: Joint
    cost: float
    letter_gap: float
    overlapping: float


_HERE = Placement()
_NO_MARKS = shapely.MultiPolygon()


@dataclass(frozen=True, eq=False)
class Neighbours:
    """Two letters that are to be joined, as the left one sees them.

    left, right: their bodies; left_marks, right_marks: their dots and accents.
    hand: how the face is written; ends_high: whether the left letter ends at its top; there: where the right
    one lies.
    """

    left: Body
    right: Body
    hand: Hand
    left_marks: Region = _NO_MARKS
    right_marks: Region = _NO_MARKS
    ends_high: bool = False
    there: Placement = _HERE


def needed(left: Body, right: Body, target: float) -> float:
    """The neck that two letters need: as asked, or what they themselves give."""
    given = min(left.gives(target), right.gives(target))
    return target if given >= target else AS_GIVEN * given


def options(neighbours: Neighbours, request: JoinRequest, gaps: Floats) -> tuple[Option, ...]:
    """What can be done at the seam of two neighbours, the right one where the face sets it; ``gaps`` are
    those of the band. At least one."""

    def option(joint: Joint, cost: float) -> Option:
        return Option(joint, cost, letter_gap(gaps, joint.shift), overlapping(gaps, joint.shift))

    if request.way is Way.LEAVE:
        return (option(Joint(Way.LEAVE), 0.0),)
    if request.way is Way.APART:
        return (option(_kept_apart(neighbours.left.region, neighbours.right.region), 0.0),)
    pair = _Pair(neighbours, request)
    if request.way in (None, Way.SLIDE) and pair.holds(0.0):
        return (option(Joint(Way.LEAVE), 0.0),)
    found = [option(joint, cost) for joint, cost in pair.ways()]
    return tuple(found) or (option(pair.last_resort(), _LAST),)


class _Pair:
    """Two neighbours looked at in several places."""

    def __init__(self, neighbours: Neighbours, request: JoinRequest) -> None:
        self.left, self.right, self.request = neighbours.left, neighbours.right, request
        self.hand, self.there = neighbours.hand, neighbours.there
        self.left_marks, self.right_marks = neighbours.left_marks, neighbours.right_marks
        self.need = needed(self.left, self.right, request.neck)
        self.heights = heights_of(self.left.region, self.right.region, self.hand, neighbours.ends_high)
        self.target_width = self.need * (_MORE if self.need >= request.neck else _LITTLE_MORE)
        self._seams: dict[float, Seam] = {}

    def seam(self, shift: float) -> Seam:
        if shift not in self._seams:
            right = self.right.moved(shift, 0.0)
            self._seams[shift] = Seam(self.left.region, right.region, None, (self.left, right))
        return self._seams[shift]

    @cached_property
    def flows(self) -> tuple[Flows, Flows]:
        """The flows from the left letter into the right one, and from the right one into the left."""
        heights = self.heights if self.hand.is_written else None
        return (
            Flows(self.left, self.right, self.target_width, True, heights),
            Flows(self.right, self.left, self.target_width, False, heights),
        )  # fmt: skip

    @cached_property
    def web(self) -> Webs | None:
        return webs_across(self.left, self.right, self.hand.x_height)

    def holds(self, shift: float) -> bool:
        seam = self.seam(shift)
        if not seam.overlaps_by(_OVERLAP * self.need):
            return False
        return held_together(seam.whole, self.left, self.right.moved(shift, 0.0), self.need)

    def ways(self) -> Iterator[tuple[Joint, float]]:
        way = self.request.way
        slid = self._slid() if self.request.may_slide else None
        if slid is not None:
            for shift in slid:
                defects = self.defects(self.seam(shift)) + self._marks_met(shift)
                yield Joint(Way.SLIDE, shift), defects
                if defects < _FLAWLESS:
                    break
            if way is Way.SLIDE:
                return
        nearest = slid[0] if slid else -1.0
        for shift in TRIED:
            if shift < nearest or (shift and self.request.in_place):
                break
            if shift and self.holds(shift):
                continue
            yield from self.additions(shift, way)

    def additions(self, shift: float, way: Way | None) -> Iterator[tuple[Joint, float]]:
        """What makes the pair hold in a place, likeliest first: each looks better than those before it."""
        yield from _Additions(self, shift).all(way)

    def last_resort(self) -> Joint:
        """A straight bar, where all that looks better fails."""
        bar = best_bridge(self.left, self.right, self.target_width)
        return Joint(Way.LEAVE) if bar is None else Joint(Way.BRIDGE, 0.0, bar)

    def cost_of(self, bar: Addition, shift: float, seam: Seam, most: float) -> float | None:
        """How a joint with something added looks; None where it does not hold, covers a counter, or costs as
        much as ``most``."""
        right = self.right.moved(shift, 0.0)
        # What is cheap to look at comes first.
        cost = _OWN[bar.kind]
        if cost >= most:
            return None
        shown = shapely.difference(bar.region, seam.whole)
        cost += shown.area / _SHOWN
        cost += self.heights.cost_of(shown if self.hand.is_written else bar.region)
        if cost >= most:
            return None
        for letter in (self.left, right):
            for counter in holes_of(letter.region):
                if shapely.intersection(bar.region, counter).area > 0.04 * counter.area:
                    return None
        whole = polygonal(shapely.union(seam.whole, bar.region))
        cost += self._holes(whole, seam) + 0.5 * self._defects_of_letters(seam)
        if cost >= most or not held_together(whole, self.left, right, self.need):
            return None
        cost += self._near_miss(seam, bar.region) + self._over_marks(shift, bar.region)
        return cost if cost < most else None

    def _holes(self, whole: Region, seam: Seam) -> float:
        """What new holes cost: pinholes are filled, larger ones stay."""
        known = [hole.area for letter in (self.left, self.right) for hole in holes_of(letter.region)]
        cost = 0.0
        for hole in holes_of(whole):
            if any(abs(hole.area - area) <= 1e-3 * area + 1e-6 for area in known):
                continue
            small = bool(shapely.buffer(hole, -min(self.request.hole, LARGEST_PINHOLE) / 2).is_empty)
            cost += 0.5 if small else 0.8
        return cost

    def _near_miss(self, seam: Seam, added: Region | None) -> float:
        """What it costs where the two nearly touch beside their joint: the sliver of a gap tears."""
        limit = _NEAR_MISS * self.request.hole
        if not seam.overlaps_by(0.0) and seam.gap > limit:
            return 0.0
        around = _BESIDE * self.need
        joint = [shapely.intersection(seam.left, seam.right), *([added] if added is not None else [])]
        near = shapely.buffer(shapely.union_all(joint), around, quad_segs=3)
        one, other = (shapely.difference(side, near) for side in (seam.left, seam.right))
        apart = float(shapely.distance(one, other))
        return _TEARS if apart < limit else 0.0

    def _over_marks(self, shift: float, added: Region) -> float:
        """What it costs where something runs over a dot or an accent, which then reads as none."""
        marks = [self.left_marks, moved(self.right_marks, shift, 0.0)]
        over = any(shapely.intersects(mark, added) for mark in marks if not mark.is_empty)
        return _OVER_A_MARK if over else 0.0

    def _marks_met(self, shift: float) -> float:
        """What it costs where a letter has slid onto the other's dot or accent, which it does not meet where
        the face sets it."""
        left, right = self.left.region, self.right.region
        met = any(
            shapely.intersects(mark, moved(other, slid, 0.0)) and not shapely.intersects(mark, other)
            for mark, other, slid in ((self.left_marks, right, shift), (self.right_marks, left, -shift))
            if not mark.is_empty
        )
        return _OVER_A_MARK if met else 0.0

    def _defects_of_letters(self, seam: Seam) -> float:
        if not shapely.intersects(seam.left, seam.right):
            return 0.0
        return 5 * max(0.0, seam.covered - 0.05) + sum(0.5 for stub in seam.stubs if not stub.is_true)

    def _met_elsewhere(self, seam: Seam) -> float:
        if not self.hand.is_written:
            return 0.0
        return self.heights.cost_of(shapely.intersection(seam.left, seam.right))

    def _slid(self) -> list[float] | None:
        """Slides that make the pair hold by itself, the least first; None where none does."""
        contact = _contact(self.left.region, self.right.region)
        if contact is None:
            return None
        shift = previous = contact
        while shift >= contact - 0.16 and shift >= -0.3:
            shift -= STEP
            if self.holds(shift):
                good = self._first_good(previous, shift)
                return [good, *(good - further for further in (0.015, 0.035))]
            previous = shift
        return None

    def _first_good(self, short: float, good: float) -> float:
        for _ in range(3):
            middle = (short + good) / 2
            short, good = (short, middle) if self.holds(middle) else (middle, good)
        return good

    def defects(self, seam: Seam) -> float:
        """What is wrong with two letters that hold by themselves."""
        holes = seam.pinholes(self.request.hole)
        return (
            0.6 * len(holes)
            + sum(0.25 if stub.is_true else 0.8 for stub in seam.stubs)
            + 0.4 * len(seam.deep_notches)
            + self._near_miss(seam, None)
            + 5 * max(0.0, seam.covered - 0.05)
            + 6 * max(0.0, seam.overlap - 0.12)
            + 2.2 * min(1.0, max(0.0, (seam.contact - _FUSED) / _FUSED))
            + _MET_ELSEWHERE * self._met_elsewhere(seam)
        )


class _Additions:
    """What can be added to a pair in one place so that it holds there. ``least`` is what the best of what was
    tried costs; what would cost more is not looked at."""

    def __init__(self, pair: _Pair, shift: float) -> None:
        self.pair, self.shift = pair, shift
        self.right = pair.right.moved(shift, 0.0)
        self.seam = pair.seam(shift)
        self.meets = bool(shapely.intersects(self.seam.left, self.seam.right))
        self.least = math.inf

    def all(self, way: Way | None) -> Iterator[tuple[Joint, float]]:
        """Those of a way, or of every way."""
        if way in (None, Way.SLIDE) and self.meets:
            yield from self._gussets()
            yield from self._heavier_strokes()
        if way is Way.REACH:
            yield from self._extended_strokes()
        if way in (None, Way.FLOW) or (way is Way.REACH and self.least == math.inf):
            by_hand = self._flow_by_hand() if way is Way.FLOW else None
            if by_hand is not None:
                yield by_hand, 0.0
                return
            yield from self._flows("reach" if way is Way.REACH else "flow")
        if way in (None, Way.BRIDGE) and not self.meets:
            yield from self._web()
        if self.least == math.inf:
            yield from self._tie()

    def _tried(self, way: Way, bar: Addition, more: float = 0.0) -> Iterator[tuple[Joint, float]]:
        cost = self.pair.cost_of(bar, self.shift, self.seam, self.least - more)
        if cost is not None:
            self.least = cost + more
            yield Joint(way, self.shift, bar), self.least

    def _gussets(self) -> Iterator[tuple[Joint, float]]:
        corners = self.seam.corners
        if len(corners) != 2:
            return
        for web in gussets(self.pair.left, self.right, self.seam.whole, corners, self.pair.target_width):
            yield from self._tried(Way.SLIDE, Addition("gusset", web.outline, web.region, 0.0, True))
            if self.least < math.inf:
                return

    def _heavier_strokes(self) -> Iterator[tuple[Joint, float]]:
        if self.least <= _OWN["stroke"]:
            return
        for some in self.pair.flows:
            heavier = some.heavier(self.shift)
            if heavier is not None and heavier.region.is_valid:
                bar = Addition("stroke", heavier.outline, heavier.region, 0.0, some.of_left)
                yield from self._tried(Way.SLIDE, bar)

    def _extended_strokes(self) -> Iterator[tuple[Joint, float]]:
        left, right = self.pair.left.region, self.right.region
        for of_left, ends in ((True, (left, right)), (False, (right, left))):
            straight = extend_stroke(*ends, self.pair.target_width, of_left)
            if straight is not None:
                yield from self._tried(Way.REACH, straight, (straight.length / 0.15) ** 2)

    @cached_property
    def _found_flows(self) -> list[FoundFlow]:
        return sorted((flow for some in self.pair.flows for flow in some.at(self.shift)), key=flow_cost)

    def _flow_by_hand(self) -> Joint | None:
        pair = self.pair
        if pair.request.flow is None:
            return None
        begun = self._found_flows[0] if self._found_flows else None
        there = replace(pair.there, x=pair.there.x + self.shift)
        flow = shaped(pair.left, self.right, pair.target_width, begun, pair.request.flow, there)
        return None if flow is None else Joint(Way.FLOW, self.shift, _added(flow, "flow"))

    def _flows(self, kind: Literal["flow", "reach"]) -> Iterator[tuple[Joint, float]]:
        if self.least <= _OWN["flow"]:
            return
        for flow in self._found_flows[:3]:
            before = self.least
            yield from self._tried(Way(kind), _added(flow, kind), flow_cost(flow))
            if self.least < before:
                return

    def _web(self) -> Iterator[tuple[Joint, float]]:
        more = (self.seam.gap / 0.065) ** 2
        if self.pair.web is None or self.least <= _OWN["bridge"] + more:
            return
        web = self.pair.web.at(self.shift, self.pair.target_width)
        if web is not None:
            bar = Addition("bridge", web.outline, web.region, self.seam.gap, True)
            yield from self._tried(Way.BRIDGE, bar, more)

    def _tie(self) -> Iterator[tuple[Joint, float]]:
        """A straight stroke, beside dots and accents where it can be."""
        pair = self.pair
        marks = polygonal(shapely.union(pair.left_marks, moved(pair.right_marks, self.shift, 0.0)))
        ends = (pair.left, self.right, pair.target_width)
        ties = [core_tie(*ends)]
        if not marks.is_empty and ties[0] is not None and shapely.intersects(ties[0].region, marks):
            ties.insert(0, core_tie_around(*ends, marks))
        for tie in ties:
            if tie is not None and self.least == math.inf:
                bar = Addition("bridge", tie.outline, tie.region, self.seam.gap, True)
                yield from self._tried(Way.BRIDGE, bar, 0.5 + (self.seam.gap / 0.05) ** 2)


_FLAWLESS = 0.1
"""Where so little is wrong with a slide, deeper ones are not looked at. (†)"""

_MET_ELSEWHERE = 0.9
"""Letters that meet too low or too high show it less than a stroke that was added there. (†)"""

_FUSED = 0.25
"""Stems that lie against each other for longer than this begin to fuse; at twice this they read as one.
(†)"""


def _added(found: FoundFlow, kind: Literal["flow", "reach"]) -> Addition:
    return Addition(kind, found.flow.outline, found.flow.region, found.length, found.of_left, found.ends)


def relaid(neighbours: Neighbours, request: JoinRequest, kind: str) -> Addition | None:
    """What was added to two letters, laid anew where hands have moved them to; None where they hold without
    it, or nothing of the kind goes across."""
    way = request.way if request.way in (Way.FLOW, Way.REACH, Way.BRIDGE) else None
    if shapely.distance(neighbours.left.region, neighbours.right.region) > (
        _FAR if way is None else _FAR_BY_CHOICE
    ):
        return None
    pair = _Pair(neighbours, request)
    if kind in ("gusset", "stroke") and pair.holds(0.0):
        return None
    # Only its own kind is looked for: letters are moved at the speed of a hand.
    kept = way or {"flow": Way.FLOW, "bridge": Way.BRIDGE, "reach": Way.REACH}.get(kind)
    laid = [(cost, joint.bar) for joint, cost in pair.additions(0.0, kept) if joint.bar is not None]
    alike = [row for row in laid if row[1].kind == kind] or laid
    if alike:
        return min(alike, key=lambda row: row[0])[1]
    return pair.last_resort().bar


_FAR, _FAR_BY_CHOICE = 0.2, 0.5
"""No bar goes after a letter that a hand has moved further away than this, unless it was chosen."""

_SHOWN = 0.0055
"""So much area added in the open costs 1: a stroke 0.055 heavy over a gap of 0.1. (†)"""

_NEAR_MISS = 0.3
"""Edges nearer than this share of a hole that is too small to weed almost touch: as for film. (†)"""

_BESIDE = 1.2
"""What is nearer to a joint than so many times the neck is its notches."""

_TEARS = 0.8
"""An edge that almost touches another costs this. (†)"""

_OVER_A_MARK = 2.0
"""What runs over a dot or an accent costs this. (†)"""

_LAST = 6.0
"""A bar where all else fails costs this."""

_OWN = {"gusset": 0.1, "stroke": 0.15, "flow": 0.3, "reach": 0.3, "bridge": 0.7}
"""What an addition costs before it is looked at. (†)"""


def _contact(left: Region, right: Region) -> float | None:
    """The slide at which the right letter, coming from the right, first touches the left one."""
    if shapely.intersects(left, right):
        return 0.0
    shift = 0.0
    # Each step goes the distance between them, which can never be too far.
    for _ in range(60):
        apart = float(shapely.distance(left, moved(right, shift, 0.0)))
        if apart < 2e-3:
            return shift
        shift -= apart
        if shift < -FARTHEST:
            return None
    return shift


def _kept_apart(left: Region, right: Region) -> Joint:
    """The right letter moved away until there is a clear gap."""
    shift = 0.0
    for _ in range(40):
        other = moved(right, shift, 0.0)
        lacking = CLEARANCE - float(shapely.distance(left, other))
        if lacking <= 1e-4:
            break
        shift += max(lacking, 0.5 * CLEARANCE if shapely.intersects(left, other) else 1e-3)
    return Joint(Way.APART, shift)
