"""The smallest disturbance that gives two neighbours the neck asked for.

Sliding comes first: letters are brought nearer until the neck is wide enough, and not further, unless
a little more gets rid of a pinhole or a slit. Where sliding would squeeze the letters into each other,
a stroke end reaches across, or a bridge is laid. A pair that holds as the face sets it is left alone.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import shapely

from fulgen.geometry.polygons import Region, moved
from fulgen.joining.reaches import Bar, bridges, reach
from fulgen.joining.seam import Seam
from fulgen.lettering.letters import Way

STEP = 0.02
"""The first, coarse step of sliding."""

FARTHEST = 0.6
"""No letter is slid further than this."""

COMFORT = 0.12
"""A slide of this much costs 1: what the eye takes for tight spacing. (†)"""

CLEARANCE = 0.03
"""Letters that are to stay apart keep at least this distance, unless asked for more."""


@dataclass(frozen=True)
class Wish:
    """What is asked of a seam, as shares of the size: the neck, and the width of a hole that is too
    small to weed. ``way`` is the maker's choice, or None for the best."""

    neck: float
    hole: float
    way: Way | None = None


@dataclass(frozen=True, eq=False)
class Joint:
    """What is to be done at a seam: the way, how far the right letter slides (negative is to the left),
    and the bar that is added, in the frame of the left letter."""

    way: Way
    shift: float = 0.0
    bar: Bar | None = None


def join_pair(left: Region, right: Region, wish: Wish) -> Joint:
    """What to do at the seam of two neighbours, the right one where the face sets it."""
    if wish.way is Way.LEAVE:
        return Joint(Way.LEAVE)
    if wish.way is Way.APART:
        return _kept_apart(left, right)
    as_set = Seam(left, right)
    good_as_set = as_set.neck > 0 and as_set.holds(wish.neck)
    if good_as_set and wish.way in (None, Way.SLIDE):
        return Joint(Way.LEAVE)
    options = list(_options(left, right, wish))
    if not options:
        return Joint(Way.LEAVE)
    return min(options, key=lambda option: option[0])[1]


def _options(left: Region, right: Region, wish: Wish) -> Iterator[tuple[float, Joint]]:
    """Ways to join with what each costs."""
    slid = _slide(left, right, wish)
    cost = math.inf
    if slid is not None and wish.way in (None, Way.SLIDE):
        cost, shift = slid
        yield cost, Joint(Way.SLIDE, shift)
    if wish.way is Way.SLIDE or (wish.way is None and cost < _EASY):
        return
    nearer = 0.0 if slid is None else max(slid[1], -0.5 * COMFORT)
    for shift in dict.fromkeys((0.0, nearer)):
        other = moved(right, shift, 0.0)
        if Seam(left, other).holds(wish.neck):
            continue
        bars: list[Bar | None] = []
        if wish.way in (None, Way.REACH):
            bars += [reach(left, other, wish.neck, True), reach(other, left, wish.neck, False)]
        if wish.way in (None, Way.BRIDGE) or not any(bars):
            bars += bridges(left, other, wish.neck)
        for bar in bars:
            if bar is not None:
                seam = Seam(left, other, bar.region)
                own = _COST_OF[bar.kind] + (0.0 if bar.kind == "reach" or _at_feet(bar, left, other) else 1.0)
                yield (
                    own + (bar.length / 0.15) ** 2 + _defects(seam, wish) + (shift / COMFORT) ** 2,
                    Joint(Way(bar.kind), shift, bar),
                )


_FUSED = 0.25
"""Stems that lie against each other for longer than this begin to fuse; at twice this they read as one.
(†)"""

_EASY = 1.6
"""A slide that costs less than this is taken without looking for another way."""


_COST_OF = {"reach": 1.1, "bridge": 1.7}
"""What a bar costs before its length counts. A bridge that is not at the letters' feet costs more: in the
middle it reads as a hyphen or makes an H of two stems. (†)"""


def _at_feet(bar: Bar, left: Region, right: Region) -> bool:
    return float(bar.corners[:, 1].max()) > min(left.bounds[3], right.bounds[3]) - 0.08


def _slide(left: Region, right: Region, wish: Wish) -> tuple[float, float] | None:
    """The cost and shift of the best slide to the left; None when the letters never meet."""

    def at(shift: float) -> Seam:
        return Seam(left, moved(right, shift, 0.0))

    contact = _contact(left, right)
    if contact is None:
        return None
    shift = contact
    best: tuple[float, float] | None = None
    previous = contact
    while shift >= contact - 0.3 and shift >= -FARTHEST:
        shift -= STEP
        seam = at(shift)
        if seam.neck > 0 and seam.holds(wish.neck):
            good = _first_good(at, previous, shift, wish)
            best = _cost(at(good), good, wish), good
            # A little further may close a slit or swallow a pinhole or a stub.
            for further in (0.012, 0.025, 0.045, 0.07):
                if best[0] - (best[1] / COMFORT) ** 2 < 0.1:
                    break
                cost = _cost(at(good - further), good - further, wish)
                if cost < best[0]:
                    best = cost, good - further
            return best
        cost = _cost(seam, shift, wish)
        if best is None or cost < best[0]:
            best = cost, shift
        elif shift < best[1] - 6 * STEP:
            break
        previous = shift
    return best


def _first_good(at: Callable[[float], Seam], short: float, good: float, wish: Wish) -> float:
    """The smallest slide between one that does not do and one that does."""
    for _ in range(3):
        middle = (short + good) / 2
        seam = at(middle)
        if seam.neck > 0 and seam.holds(wish.neck):
            good = middle
        else:
            short = middle
    return good


def _cost(seam: Seam, shift: float, wish: Wish) -> float:
    return (shift / COMFORT) ** 2 + _defects(seam, wish)


def _defects(seam: Seam, wish: Wish) -> float:
    """What is wrong with a seam, in units of a comfortable slide."""
    missing = 0.0
    if not seam.holds(wish.neck):
        missing = 2 + 4 * (1 - seam.neck / wish.neck)
    holes = seam.pinholes(wish.hole)
    return (
        missing
        + 0.6 * len(holes)
        + sum(0.25 if stub.is_true else 0.8 for stub in seam.stubs)
        + 0.4 * len(seam.deep_notches)
        + 5 * max(0.0, seam.covered - 0.05)
        + 6 * max(0.0, seam.overlap - 0.12)
        + 2.2 * min(1.0, max(0.0, (seam.contact - _FUSED) / _FUSED))
    )


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
