"""Where one run ends and the next begins: the parameters at which two curves cross."""

from __future__ import annotations

import numpy as np

from fulgen.geometry import bezier
from fulgen.geometry.chords import Complexes
from fulgen.geometry.outline import Bools, Floats, Ints
from fulgen.geometry.overlay_edges import Edges, Table, powers_of
from fulgen.geometry.overlay_runs import Runs

_STEPS = 8


_DAMPING = 1e-9


def meeting_points(table: Table, edges: Edges, runs: Runs, tolerance: float) -> Complexes:
    """Moves the ends of runs to where their sides cross, and gives the points at which runs end.

    Newton's method on both sides at once, damped (Levenberg and Marquardt), so that sides which only come
    near each other end at their nearest points; the point is then between the two.
    """
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
    following = np.arange(len(runs.ring)) + 1
    following[np.append(first_of_ring[1:], len(runs.ring)) - 1] = first_of_ring
    one, other = _Ends(runs, np.arange(len(runs.ring)), True), _Ends(runs, following, False)
    meeting = one.points(table)
    rows = np.flatnonzero(meeting != other.points(table))
    if not len(rows):
        return meeting
    one, other = one.some(rows), other.some(rows)
    # A crossing is not looked for further than the chord before, and the one after.
    reach_u = 2 * _chord_step(table, edges.chord[runs.last_edge[rows]])
    reach_v = 2 * _chord_step(table, edges.chord[runs.first_edge[following[rows]]])
    p, q = one.points(table), other.points(table)
    best_one, best_other, apart = one, other, np.abs(p - q)
    found = _crossing(table, one, other, reach_u, reach_v)
    tries = [found]
    # Where a side ends before it gets to the crossing, it is looked for on the side beyond its node.
    stopped = np.abs(found[0].points(table) - found[1].points(table)) > _MEETS * tolerance
    stopped &= found[0].on_node | found[1].on_node
    if stopped.any():
        everywhere = np.ones(len(rows))
        for beyond_one, beyond_other in ((True, False), (False, True), (True, True)):
            ends = found[0].beyond_node() if beyond_one else found[0]
            starts = found[1].beyond_node() if beyond_other else found[1]
            tries.append(_crossing(table, ends, starts, everywhere, everywhere))
    for one, other in tries:
        p, q = one.points(table), other.points(table)
        better = (np.abs(p - q) < apart) & (np.abs((p + q) / 2 - runs.ends[rows]) <= _ASTRAY * tolerance)
        apart = np.where(better, np.abs(p - q), apart)
        best_one, best_other = best_one.where(better, one), best_other.where(better, other)
    _set_ends(runs, best_one, best_other)
    one, other = _Ends(runs, rows, True), _Ends(runs, following[rows], False)
    p, q = one.points(table), other.points(table)
    # A node that the other side runs into stays where it was drawn.
    on_node, on_other = one.on_node, other.on_node
    meeting[rows] = np.where(on_node & ~on_other, p, np.where(on_other & ~on_node, q, (p + q) / 2))
    return meeting


_MEETS = 1e-4
"""Points of two sides that are no further apart than so many tolerances are where they cross."""


def end_at_nodes(table: Table, runs: Runs, meeting: Complexes, shortest: float) -> None:
    """Ends runs at a node of their contour that lies hardly before where they meet: what is left of the side
    there would be too short to see."""
    count = len(runs.ring)
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
    previous = np.arange(count) - 1
    previous[first_of_ring] = np.append(first_of_ring[1:], count) - 1
    for at_end, junction in ((True, np.arange(count)), (False, previous)):
        ends = _Ends(runs, np.arange(count), at_end)
        node = np.where(ends.is_high, ends.side, ends.side + 1).astype(np.float64)
        has_more = np.where(ends.is_high, node > runs.low, node < runs.high)
        at_node = ends.with_at(np.where(ends.is_high, 0.0, 1.0)).points(table)
        rows = np.flatnonzero(~ends.on_node & has_more & (np.abs(at_node - meeting[junction]) < shortest))
        runs.high[rows] = np.where(ends.is_high[rows], node[rows], runs.high[rows])
        runs.low[rows] = np.where(ends.is_high[rows], runs.low[rows], node[rows])


_ASTRAY = 8.0
"""A crossing is no further from that of the chords than so many tolerances, or it is another one."""


def _chord_step(table: Table, chord: Ints) -> Floats:
    return np.abs(table.end[chord] - table.start[chord])


class _Ends:
    """The ends of runs, or their starts: each a side of their contour, counted on from its first past its
    last, and the parameter there."""

    def __init__(
        self, runs: Runs, rows: Ints, at_end: bool, side: Ints | None = None, at: Floats | None = None
    ) -> None:
        self._runs, self.rows, self._at_end = runs, rows, at_end
        self.is_high = runs.onward[rows] if at_end else ~runs.onward[rows]
        if side is None or at is None:
            place = np.where(self.is_high, runs.high[rows], runs.low[rows])
            side = np.where(self.is_high, np.ceil(place) - 1, np.floor(place)).astype(np.intp)
            at = place - side
        self.side, self.at = side, at

    def with_at(self, at: Floats) -> _Ends:
        return _Ends(self._runs, self.rows, self._at_end, self.side, at)

    def some(self, which: Ints) -> _Ends:
        return _Ends(self._runs, self.rows[which], self._at_end, self.side[which], self.at[which])

    def where(self, which: Bools, other: _Ends) -> _Ends:
        """The other's where it is to be, or these."""
        side, at = np.where(which, other.side, self.side), np.where(which, other.at, self.at)
        return _Ends(self._runs, self.rows, self._at_end, side, at)

    def beyond_node(self) -> _Ends:
        """Those at a node as the end of the side beyond it."""
        by = (self.at == 1.0).astype(np.intp) - (self.at == 0.0)
        at = np.where(by > 0, 0.0, np.where(by < 0, 1.0, self.at))
        return _Ends(self._runs, self.rows, self._at_end, self.side + by, at)

    @property
    def on_node(self) -> Bools:
        return np.asarray((self.at == 0.0) | (self.at == 1.0))

    @property
    def place(self) -> Floats:
        return np.asarray(self.side + self.at)

    def cubics(self, table: Table) -> Complexes:
        runs = self._runs
        return table.cubics[:, runs.contour[self.rows] + self.side % runs.sides[self.rows]]

    def points(self, table: Table) -> Complexes:
        return np.asarray(bezier.point(self.cubics(table), self.at))

    def within(self, reach: Floats) -> tuple[Floats, Floats]:
        """From where to where on its side an end may go: as far as it reaches, and not past the middle of a
        run of one side."""
        low, high = np.maximum(0.0, self.at - reach), np.minimum(1.0, self.at + reach)
        middle = (self._runs.low[self.rows] + self._runs.high[self.rows]) / 2 - self.side
        low = np.where(self.is_high, np.maximum(low, np.minimum(middle, 1.0)), low)
        high = np.where(self.is_high, high, np.minimum(high, np.maximum(middle, 0.0)))
        return low, high


def _set_ends(runs: Runs, ends: _Ends, starts: _Ends) -> None:
    """Moves ends and starts of runs, unless a run would be turned inside out."""
    low, high = runs.low.copy(), runs.high.copy()
    for one in (ends, starts):
        high[one.rows] = np.where(one.is_high, one.place, high[one.rows])
        low[one.rows] = np.where(one.is_high, low[one.rows], one.place)
    sound = (low < high) & (high - low <= runs.sides)
    # What goes round past the first side is counted from there.
    turns = np.where(sound, np.floor(low / runs.sides) * runs.sides, 0.0)
    runs.low[:] = np.where(sound, low - turns, runs.low)
    runs.high[:] = np.where(sound, high - turns, runs.high)


def _crossing(
    table: Table, one: _Ends, other: _Ends, reach_u: Floats, reach_v: Floats
) -> tuple[_Ends, _Ends]:
    """Where the sides at the ends of two runs cross or are nearest."""
    a, b, u, v = one.cubics(table), other.cubics(table), one.at, other.at
    within_u, within_v = one.within(reach_u), other.within(reach_v)
    forms, slopes = powers_of(np.concatenate((a, b), axis=1))
    count = len(u)
    at = np.concatenate((u, v))
    low, high = np.concatenate((within_u[0], within_v[0])), np.concatenate((within_u[1], within_v[1]))
    for _ in range(_STEPS):
        points = ((forms[0] * at + forms[1]) * at + forms[2]) * at + forms[3]
        ways = (slopes[0] * at + slopes[1]) * at + slopes[2]
        apart = points[count:] - points[:count]
        da, db = ways[:count], -ways[count:]
        sizes = (ways * ways.conj()).real * (1 + _DAMPING) + 1e-300
        aa, bb = sizes[:count], sizes[count:]
        ab = (da * db.conj()).real
        ra, rb = (apart * da.conj()).real, (apart * db.conj()).real
        determinant = np.maximum(aa * bb - ab * ab, 1e-300)
        step = np.concatenate((ra * bb - rb * ab, rb * aa - ra * ab)) / np.tile(determinant, 2)
        moved = np.clip(at + step, low, high)
        done = np.abs(moved - at).max() < _STILL
        at = moved
        if done:
            break
    return one.with_at(at[:count]), other.with_at(at[count:])


_STILL = 1e-13
