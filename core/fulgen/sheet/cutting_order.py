"""The order of cutting: what lies inside before what frees it, and as short a way between cuts as can be.

A contour that lies inside another is cut before it: once the outer one is cut, the piece may move (common
practice, no source). Between cuts the carriage goes with the knife up from where one contour is closed to
where the next one starts; each may start at any of its points. That is a travelling salesman's way with
things that come before others; it is found by taking the nearest next one and then by moving runs of cuts and
turning them around while that makes the way shorter (2-opt and Or-opt; Croes 1958, Or 1976).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import STRtree
from shapely.geometry import MultiPoint, Polygon

from fulgen.budget import check
from fulgen.geometry.outline import Floats, Ints, Point

_STARTS = 12
"""Points at which a contour may start, at most: evenly around it."""

_CORNER = math.radians(25)
"""Cuts start where a contour turns by less: a start shows a little, and corners tear. (†)"""

_SEEN_MM = 0.5
"""How far along a contour it is looked whether there is a corner."""

_LONGEST_RUN = 3

_FIRSTS = 6
"""The order is worked out from so many first contours, and the shortest is taken."""

_MOST_POLISHED = 80
"""With more contours than this, one first contour is taken, and runs are only moved near to where they
are."""

_REACH = 30

_GAIN_MM = 1e-6


@dataclass(frozen=True)
class Cut:
    """A contour, and the index of the point of it at which its cut starts."""

    contour: int
    start: int


_KEPT_OFF_MM = 1.5
"""Cuts start at least so far from joints, where they can. (†)"""


def cutting_order(
    contours: Sequence[Floats], origin: Point = (0.0, 0.0), keep_off: Floats | None = None
) -> list[Cut]:
    """The order of closed contours (N, 2), in mm, for a carriage that waits at ``origin``. No cut starts at
    the places (M, 2) that are kept off, if it can start elsewhere."""
    if not contours:
        return []
    off = None if keep_off is None or not len(keep_off) else STRtree(list(MultiPoint(keep_off).geoms))
    starts = [_starts(contour, off) for contour in contours]
    way = _Way(contours, starts, _around(contours), origin)
    found = [way.shortened(way.nearest_first(first)) for first in way.firsts()]
    return min(found, key=lambda cuts: way_between(contours, cuts, origin))


def way_between(contours: Sequence[Floats], cuts: Sequence[Cut], origin: Point = (0.0, 0.0)) -> float:
    """How far the carriage goes with the knife up, in mm: to the first cut, and from each to the next."""
    stops = np.array([origin, *(contours[cut.contour][cut.start] for cut in cuts)])
    return float(np.hypot(*np.diff(stops, axis=0).T).sum())


def _around(contours: Sequence[Floats]) -> list[int]:
    """For each contour the one right around it, that is to be cut after it; -1 where there is none. Contours
    do not cross."""
    rings = [Polygon(contour) for contour in contours]
    areas = [ring.area for ring in rings]
    inner, outer = STRtree(rings).query(rings, predicate="covered_by")
    found = [-1] * len(rings)
    for one, other in zip(inner.tolist(), outer.tolist(), strict=True):
        if areas[one] < areas[other] and (found[one] < 0 or areas[other] < areas[found[one]]):
            found[one] = other
    return found


def _starts(contour: Floats, off: STRtree | None = None) -> Ints:
    """Where a contour may start: evenly around it, away from corners and from what is kept off; anywhere, if
    it is all corners."""
    gone = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff([*contour, contour[0]], axis=0).T))))
    around = float(gone[-1])
    if around <= 0:
        return np.zeros(1, np.intp)
    looped = np.concatenate((contour, contour[:1]))
    seen = min(_SEEN_MM, around / 8)

    def at(where: Floats) -> Floats:
        return np.column_stack([np.interp(where % around, gone, looped[:, axis]) for axis in (0, 1)])

    here = gone[:-1]
    back, ahead = contour - at(here - seen), at(here + seen) - contour
    cross = back[:, 0] * ahead[:, 1] - back[:, 1] * ahead[:, 0]
    turn = np.abs(np.arctan2(cross, (back * ahead).sum(axis=1)))
    smooth = np.flatnonzero(turn < _CORNER)
    usable = smooth if len(smooth) else np.arange(len(contour))
    if off is not None:
        near = off.query(shapely.points(contour[usable]), predicate="dwithin", distance=_KEPT_OFF_MM)[0]
        far = np.ones(len(usable), bool)
        far[near] = False
        usable = usable[far] if far.any() else usable
    evenly = np.searchsorted(here[usable], np.linspace(0, around, _STARTS, endpoint=False))
    return np.unique(usable[np.minimum(evenly, len(usable) - 1)])


@dataclass(frozen=True, eq=False)
class _Way:
    """The way between contours, with the points at which each may start and the contour right around it."""

    contours: Sequence[Floats]
    allowed: Sequence[Ints]
    around: Sequence[int]
    origin: Point

    def firsts(self) -> list[int]:
        """Contours that the cut may begin with: those nearest to the origin that have nothing inside."""
        free = sorted(set(range(len(self.contours))) - set(self.around), key=lambda c: self._from_origin(c))
        return free[: _FIRSTS if len(self.contours) <= _MOST_POLISHED else 1]

    def _from_origin(self, contour: int) -> float:
        return float(np.hypot(*(self._stops(contour) - self.origin).T).min())

    def _stops(self, contour: int) -> Floats:
        """The points at which a contour may start (S, 2)."""
        return self.contours[contour][self.allowed[contour]]

    def nearest_first(self, first: int) -> list[int]:
        """An order in which the nearest contour comes next that has nothing left inside."""
        stops = [self._stops(contour) for contour in range(len(self.contours))]
        ends = np.cumsum([0, *map(len, stops)])
        points, owner = np.concatenate(stops), np.repeat(np.arange(len(stops)), np.diff(ends))
        waiting = [0] * len(stops)
        for outer in self.around:
            if outer >= 0:
                waiting[outer] += 1
        closed = np.array(waiting)[owner] > 0
        order: list[int] = []
        chosen, at = first, np.array(self.origin)
        while True:
            if len(order) % 64 == 0:
                check()
            mine = slice(ends[chosen], ends[chosen + 1])
            at = points[mine][np.hypot(*(points[mine] - at).T).argmin()]
            order.append(chosen)
            closed[mine] = True
            outer = self.around[chosen]
            if outer >= 0:
                waiting[outer] -= 1
                if not waiting[outer]:
                    closed[ends[outer] : ends[outer + 1]] = False
            if len(order) == len(stops):
                return order
            chosen = int(owner[np.where(closed, np.inf, np.hypot(*(points - at).T)).argmin()])

    def shortened(self, order: list[int]) -> list[Cut]:
        """The order with runs moved and turned around while that helps, and starts chosen anew."""
        cuts = self._with_best_starts(order)
        length = way_between(self.contours, cuts, self.origin)
        while True:
            check()
            order = self._rearranged(cuts)
            better = self._with_best_starts(order)
            shorter = way_between(self.contours, better, self.origin)
            if shorter >= length - _GAIN_MM:
                return cuts
            cuts, length = better, shorter

    def _with_best_starts(self, order: Sequence[int]) -> list[Cut]:
        """Where each contour of an order starts, so that the way is shortest (dynamic programming)."""
        at, cost, came = np.array([self.origin]), np.zeros(1), []
        for contour in order:
            stops = self._stops(contour)
            ways = cost[:, None] + np.hypot(*(stops[None, :, :] - at[:, None, :]).transpose(2, 0, 1))
            came.append(ways.argmin(axis=0))
            at, cost = stops, ways.min(axis=0)
        found, best = [], int(cost.argmin())
        for contour, back in zip(reversed(order), reversed(came), strict=True):
            found.append(Cut(contour, int(self.allowed[contour][best])))
            best = int(back[best])
        return found[::-1]

    def _rearranged(self, cuts: Sequence[Cut]) -> list[int]:
        """The order with runs of cuts moved or turned around, while the way between their starts gets
        shorter."""
        stops = np.array([self.origin, *(self.contours[cut.contour][cut.start] for cut in cuts)])
        apart = np.hypot(*(stops[:, None, :] - stops[None, :, :]).transpose(2, 0, 1)).tolist()
        contour_at = [-1, *(cut.contour for cut in cuts)]  # by stop; stop 0 is the origin
        order = list(range(len(stops)))
        reach = len(order) if len(order) <= _MOST_POLISHED else _REACH
        begin, improved = 1, True
        while improved or begin > 1:
            check()
            # Of many cuts only those near a change are looked at again at once; all of them in the end.
            begin = max(1, begin - reach)
            improved = False
            for first, changed in self._changes(order, apart, begin, reach):
                if self._is_allowed([contour_at[stop] for stop in changed[1:]]):
                    order, begin, improved = changed, first, True
                    break
            else:
                if begin > 1:
                    begin, improved = 1, True
        return [contour_at[stop] for stop in order[1:]]

    def _is_allowed(self, order: Sequence[int]) -> bool:
        """Whether everything inside a contour is cut before it."""
        place = {contour: n for n, contour in enumerate(order)}
        return all(outer < 0 or place[inner] < place[outer] for inner, outer in enumerate(self.around))

    @staticmethod
    def _changes(
        order: list[int], apart: list[list[float]], begin: int, reach: int
    ) -> Iterator[tuple[int, list[int]]]:
        """Orders with a shorter way, each with the place of the run that is moved in it: from a place on, and
        moved by so many places at most."""
        count = len(order)
        for i in range(begin, count):
            before = apart[order[i - 1]]
            for j in range(i, min(count, i + reach)):
                following = order[j + 1] if j + 1 < count else None
                after = 0.0 if following is None else apart[order[j]][following]
                # 2-opt: the run from i to j the other way around.
                turned = before[order[j]] + (0.0 if following is None else apart[order[i]][following])
                if turned < before[order[i]] + after - _GAIN_MM:
                    yield i, order[:i] + order[i : j + 1][::-1] + order[j + 1 :]
                if j - i >= _LONGEST_RUN:
                    continue
                # Or-opt: the run moved, either way around.
                saved = before[order[i]] + after - (0.0 if following is None else before[following])
                rest, run = order[:i] + order[j + 1 :], order[i : j + 1]
                for k in range(max(1, i - reach), min(len(rest), i + reach) + 1):
                    here = apart[rest[k - 1]]
                    beyond = rest[k] if k < len(rest) else None
                    broken = 0.0 if beyond is None else here[beyond]
                    for piece in (run, run[::-1]):
                        last = 0.0 if beyond is None else apart[piece[-1]][beyond]
                        if here[piece[0]] + last - broken < saved - _GAIN_MM:
                            yield i, rest[:k] + piece + rest[k:]
