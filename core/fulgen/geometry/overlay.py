"""Overlay with provenance: the polygon engine decides what is covered, the sources give the curves.

    sources ──(flattened: every chord knows its side)──▶ polygons ──(GEOS: union, difference …)──▶ a region
                                                                                                     │
    outline of sub-curves ◀──(runs along one side become one sub-curve)── edges on chords ◀──(found again)

Terms. A *chord* is a straight side of a flattened outline; it lies on a side of that outline, from one
parameter to another. An *edge* is a side of the polygon engine's result: the engine moves no vertex, so an
edge is a chord or a part of one. A *run* is a row of edges along one contour of one source, in one direction.
Where one run ends and the next begins two sides cross: the parameters at the crossing are found on the curves
by Newton's method, from where the chords cross.

The result is right in its pieces and holes because the polygon engine is; each of its contours belongs to one
ring of the region. Nothing is ever refused: where curves only touch, or run along each other, the nearest
points of the two are brought together, which moves them by less than the flattening.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry import bezier
from fulgen.geometry.flatten import chords
from fulgen.geometry.outline import CUBIC, LINE, MOVE, POINTS_OF, QUAD, Bools, Floats, Ints, Outline
from fulgen.geometry.polygons import Region, ring_numbers

Complexes = NDArray[np.complex128]


@dataclass(frozen=True, eq=False)
class Chords:
    """The sides of a polygon twin, a row for each of its coordinates: row n is the chord from coordinate n to
    n + 1. Its side in the outline, the parameters at its two ends, and whether it runs with the side or
    against it. The rows of coordinates that close a ring are no chords, and are marked."""

    side: Ints
    start: Floats
    end: Floats
    forward: Bools
    closing: Bools

    def of_reversed(self, contour_of: Ints) -> Chords:
        """The same chords, on the outline with every contour walked the other way from its first point."""
        side = walked_back(contour_of)[self.side]
        return Chords(side, 1.0 - self.start, 1.0 - self.end, ~self.forward, self.closing)

    def rows(self, rows: Ints) -> Chords:
        """Some of the rows."""
        return Chords(
            self.side[rows], self.start[rows], self.end[rows], self.forward[rows], self.closing[rows]
        )


def walked_back(contour_of: Ints) -> Ints:
    """The number that each side has when every contour is walked the other way."""
    first = np.searchsorted(contour_of, contour_of)
    last = np.searchsorted(contour_of, contour_of, side="right") - 1
    return np.asarray(first + last - np.arange(len(contour_of)))


@dataclass(frozen=True, eq=False)
class Source:
    """What goes into an overlay: an outline, the coordinates of its polygon twin (N, 2), each ring closed,
    and the chords they are the ends of."""

    outline: Outline
    xy: Floats
    chords: Chords


@dataclass(frozen=True, eq=False)
class Recovered:
    """What comes out: the outline and its polygon twin, and where each side comes from: the side of the
    source, and the parameters at its two ends on that (start after end: walked against it)."""

    outline: Outline
    region: Region
    chords: Chords
    side: Ints
    start: Floats
    end: Floats


def flattened(outline: Outline, tolerance: float) -> Source:
    """An outline as a source of an overlay, each of its contours a ring."""
    flat = chords(outline, tolerance)
    ends = np.flatnonzero(np.append(flat.contour[1:] != flat.contour[:-1], True))
    firsts = np.append(0, ends[:-1] + 1)[: len(ends)]
    rows = np.insert(np.arange(len(flat.side)), ends + 1, firsts)
    closing = np.zeros(len(rows), np.bool_)
    closing[ends + 1 + np.arange(len(ends))] = True
    xy = flat.points.view(np.float64).reshape(-1, 2)[rows]
    forward = np.ones(len(rows), np.bool_)
    return Source(outline, xy, Chords(flat.side[rows], flat.start[rows], flat.end[rows], forward, closing))


# --- all chords of all sources in one table -----------------------------------------------------------------


@dataclass(frozen=True, eq=False)
class _Table:
    """The chords of a source: where each begins and ends, its side in ``cubics``, the parameters there,
    the chords before and after it in its ring, and whether it runs with its side."""

    begins: Complexes
    ends: Complexes
    side: Ints
    start: Floats
    end: Floats
    following: Ints
    preceding: Ints
    with_side: Bools
    cubics: Complexes  # (4, S)
    verbs: NDArray[np.uint8]
    controls: Complexes
    first_side: Ints  # of each side's contour
    last_side: Ints


def _table(source: Source) -> _Table:
    sides, chords = source.outline.sides, source.chords
    z = np.ascontiguousarray(source.xy).view(np.complex128)[:, 0] + 0.0  # no minus zero: bits are compared
    kept = np.flatnonzero(~chords.closing)
    number = np.arange(len(kept))
    lasts = np.flatnonzero(chords.closing[kept + 1])
    firsts = np.append(0, lasts[:-1] + 1)[: len(lasts)]
    following, preceding = number + 1, number - 1
    following[lasts], preceding[firsts] = firsts, lasts
    contours = sides.contour_of
    starts = np.flatnonzero(np.append(True, contours[1:] != contours[:-1]))
    counts = np.diff(np.append(starts, len(contours)))
    return _Table(
        z[kept],
        z[kept + 1],
        chords.side[kept],
        chords.start[kept],
        chords.end[kept],
        following,
        preceding,
        chords.forward[kept],
        np.ascontiguousarray(sides.cubics).view(np.complex128)[..., 0].T,
        sides.verbs,
        sides.controls,
        np.repeat(starts, counts),
        np.repeat(starts + counts - 1, counts),
    )


_MULTIPLIER = np.uint64(0x9E3779B97F4A7C15)
"""Spreads the bits of one coordinate before they are mixed with the other's (Knuth, TAOCP 3, section 6.4:
multiplicative hashing by the golden ratio)."""


def _marks(z: Complexes) -> NDArray[np.uint64]:
    """A number for each point, the same for the same bits; others share one hardly ever."""
    bits = np.ascontiguousarray(z).view(np.uint64).reshape(-1, 2)
    mixed = bits[:, 0] * _MULTIPLIER
    return np.asarray((mixed ^ (mixed >> np.uint64(29))) + bits[:, 1])


# --- edges: which chord each side of the result lies on -----------------------------------------------------


@dataclass(frozen=True, eq=False)
class _Edges:
    """The sides of a region, ring after ring: where each begins and ends, the ring, the first and the number
    of edges of each ring, the chord each lies on, whether it runs with that, and the parameters at its two
    ends."""

    begins: Complexes
    ends: Complexes
    ring: Ints
    firsts: Ints
    counts: Ints
    chord: Ints
    forward: Bools
    start: Floats
    end: Floats


_ON_CHORD = 1e-9
"""A vertex that the polygon engine made lies so near to its chord, as a share of the largest coordinate: it
computes crossings in double-double precision."""


def _edges(table: _Table, region: Region) -> _Edges:
    rings = shapely.get_rings(shapely.get_parts(region))
    xy, ring = shapely.get_coordinates(rings, return_index=True)
    z = np.ascontiguousarray(xy).view(np.complex128)[:, 0] + 0.0
    closes = np.append(ring[1:] != ring[:-1], True)
    kept = np.flatnonzero(~closes)
    begins, ends, ring = z[kept], z[kept + 1], ring[kept]
    firsts = np.flatnonzero(np.append(True, ring[1:] != ring[:-1]))
    counts = np.diff(np.append(firsts, len(ring)))
    chord, forward = _chords_of(table, begins, ends)
    whole = (begins == np.where(forward, table.begins[chord], table.ends[chord])) & (
        ends == np.where(forward, table.ends[chord], table.begins[chord])
    )
    start = np.where(forward, table.start[chord], table.end[chord])
    end = np.where(forward, table.end[chord], table.start[chord])
    rest = np.flatnonzero(~whole)
    if len(rest):
        of = chord[rest]
        start[rest] = _parameter(table, of, begins[rest])
        end[rest] = _parameter(table, of, ends[rest])
    return _Edges(begins, ends, ring, firsts, counts, chord, forward, start, end)


def _parameter(table: _Table, chord: Ints, at: Complexes) -> Floats:
    """The parameter on its side of a point on a chord."""
    share = _share(table, chord, at)
    start, end = table.start[chord], table.end[chord]
    return np.where(share >= 1.0, end, start + share * (end - start))


def _share(table: _Table, chord: Ints, at: Complexes) -> Floats:
    """How far along its chord the nearest point to a point is, from 0 to 1."""
    begins = table.begins[chord]
    way = table.ends[chord] - begins
    length = np.maximum((way * way.conj()).real, 1e-300)
    return np.clip(((at - begins) * way.conj()).real / length, 0.0, 1.0)


def _off(table: _Table, chord: Ints, at: Complexes) -> Floats:
    """How far points are from chords."""
    share = _share(table, chord, at)
    return np.abs(table.begins[chord] + share * (table.ends[chord] - table.begins[chord]) - at)


def _chords_of(table: _Table, begins: Complexes, ends: Complexes) -> tuple[Ints, Bools]:
    """The chord that each edge lies on, the first of those that do; and whether it runs with it."""
    marks = _marks(table.begins)
    order = np.argsort(marks, kind="stable")
    sorted_marks = marks[order]
    own = _marks(begins)
    low = np.searchsorted(sorted_marks, own)
    many = np.searchsorted(sorted_marks, own, side="right") - low
    count = len(begins)
    chord = np.full(count, -1)
    forward = np.zeros(count, np.bool_)
    reach = _ON_CHORD * max(1.0, float(np.abs(table.begins).max()))
    most = int(many.max(initial=0))
    # An edge begins at a vertex of a source, or at a crossing. From a vertex a chord goes on, and one comes
    # in.
    for k in range(most):
        rows = np.flatnonzero((chord < 0) & (many > k))
        if not len(rows):
            break
        here = order[low[rows] + k]
        _take(chord, forward, rows, here, True, table.ends[here] == ends[rows])
        back = table.preceding[here]
        _take(chord, forward, rows, back, False, table.begins[back] == ends[rows])
    if (chord < 0).any():
        for k in range(most):
            rows = np.flatnonzero((chord < 0) & (many > k))
            here = order[low[rows] + k]
            back = table.preceding[here]
            on, off = _off(table, here, ends[rows]), _off(table, back, ends[rows])
            _take(chord, forward, rows, here, True, (on <= reach) & (on <= off))
            _take(chord, forward, rows, back, False, (off <= reach) & (off < on))
    rows = np.flatnonzero(chord < 0)
    if len(rows):
        # Those that begin at a crossing and end at a vertex: the same from their other end.
        low = np.searchsorted(sorted_marks, _marks(ends[rows]))
        many = np.searchsorted(sorted_marks, _marks(ends[rows]), side="right") - low
        for k in range(int(many.max(initial=0))):
            left = np.flatnonzero((chord[rows] < 0) & (many > k))
            here = order[low[left] + k]
            back = table.preceding[here]
            off, on = _off(table, back, begins[rows[left]]), _off(table, here, begins[rows[left]])
            _take(chord, forward, rows[left], back, True, (off <= reach) & (off <= on))
            _take(chord, forward, rows[left], here, False, (on <= reach) & (on < off))
    rows = np.flatnonzero(chord < 0)
    if len(rows):
        found = _nearest_chords(table, begins[rows], ends[rows])
        way = table.ends[found] - table.begins[found]
        chord[rows] = found
        forward[rows] = ((ends[rows] - begins[rows]) * way.conj()).real >= 0
    return chord, forward


def _take(chord: Ints, forward: Bools, rows: Ints, which: Ints, runs_with: bool, holds: Bools) -> None:
    """Notes the chords of those rows for which it holds and that have none yet."""
    holds = holds & (chord[rows] < 0)
    chord[rows[holds]] = which[holds]
    forward[rows[holds]] = runs_with


_AT_ONCE = 1_000_000


def _nearest_chords(table: _Table, begins: Complexes, ends: Complexes) -> Ints:
    """The chord nearest to both ends of each edge: of those that neither begin nor end at a vertex."""
    count = len(table.begins)
    if len(begins) * count > _AT_ONCE:
        ends_of = np.stack([table.begins, table.ends], axis=1).view(np.float64).reshape(-1, 2, 2)
        tree = shapely.STRtree(np.asarray(shapely.linestrings(ends_of)))
        middle = (begins + ends) / 2
        return np.asarray(tree.nearest(shapely.points(middle.real, middle.imag)), np.intp)
    every = np.arange(count)
    found = np.empty(len(begins), np.intp)
    for n, (one, other) in enumerate(zip(begins.tolist(), ends.tolist(), strict=True)):
        found[n] = np.argmin(np.maximum(_off(table, every, one), _off(table, every, other)))
    return found


# --- runs: rows of edges along one contour ------------------------------------------------------------------


@dataclass(eq=False)
class _Runs:
    """Stretches of contours that make the rings, ring after ring in the order they are walked.

    Places along a contour are counted in sides from its first one: 3.25 is a quarter into its fourth side. A
    run goes from ``low`` to ``high``, which may go round past the contour's last side, or from high to low
    where it is not ``onward``. ``begins`` and ``ends`` are points of the region.
    """

    ring: Ints
    first_edge: Ints
    last_edge: Ints
    contour: Ints  # the first side of it
    sides: Ints  # how many it has
    onward: Bools
    low: Floats
    high: Floats
    begins: Complexes
    ends: Complexes

    def some(self, rows: Ints) -> _Runs:
        return _Runs(**{name: value[rows] for name, value in vars(self).items()})


def _runs(table: _Table, edges: _Edges) -> _Runs:
    """The runs of all rings."""
    count = len(edges.chord)
    before = np.arange(count) - 1
    before[edges.firsts] = edges.firsts + edges.counts - 1
    chord, previous = edges.chord, edges.chord[before]
    onward = edges.forward == table.with_side[chord]
    next_one = np.where(edges.forward, table.following[previous], table.preceding[previous])
    goes_on = (edges.forward == edges.forward[before]) & (onward == onward[before])
    goes_on &= (chord == next_one) | (chord == previous)
    breaks = ~goes_on
    unbroken = np.add.reduceat(breaks, edges.firsts) == 0
    if unbroken.any():
        # A ring that is a whole contour begins where the contour does.
        for ring in np.flatnonzero(unbroken).tolist():
            begin = int(edges.firsts[ring])
            own = slice(begin, begin + int(edges.counts[ring]))
            on_side = table.side[chord[own]]
            goes = bool(onward[begin])
            start_side = table.first_side[on_side] if goes else table.last_side[on_side]
            at = np.flatnonzero((on_side == start_side) & (edges.start[own] == (0.0 if goes else 1.0)))
            breaks[begin + (int(at[0]) if len(at) else 0)] = True
    starts = np.flatnonzero(breaks)
    of_ring = edges.ring[starts]
    # The last edge of a run is the one before the next run's first, round the ring.
    firsts = np.flatnonzero(np.append(True, of_ring[1:] != of_ring[:-1]))
    lasts = np.append(firsts[1:], len(starts)) - 1
    ends = before[np.roll(starts, -1)]
    ends[lasts] = before[starts[firsts]]
    steps = np.abs(edges.end - edges.start)
    along = np.cumsum(steps) - steps
    side, ends_side = table.side[chord[starts]], table.side[chord[ends]]
    contour = table.first_side[side]
    sides = table.last_side[side] - contour + 1
    onward = onward[starts]
    one = side - contour + edges.start[starts]
    other = ends_side - contour + edges.end[ends]
    low, high = np.where(onward, one, other), np.where(onward, other, one)
    total = along[ends] + steps[ends] - along[starts]
    wrapped = ends < starts
    total[wrapped] += (along + steps)[edges.firsts + edges.counts - 1][of_ring[wrapped]]
    total[wrapped] -= along[edges.firsts][of_ring[wrapped]]
    high += np.rint((total - (high - low)) / sides) * sides
    return _Runs(
        of_ring, starts, ends, contour, sides, onward, low, high, edges.begins[starts], edges.ends[ends]
    )


_LOOK_AHEAD = 6
"""A run is looked for again among so many that come after it."""


def _absorbed(table: _Table, edges: _Edges, runs: _Runs, tolerance: float) -> tuple[_Runs, Ints]:
    """Runs, with those left out that lie along the contour of the run before them; and the run of each edge.

    Where two sides lie on each other, or differ by less than the flattening, their chords take turns. Such a
    stretch is one of the two, whole.
    """
    count = len(runs.ring)
    into = np.arange(count)
    if count > 1:
        lengths = np.abs(edges.ends - edges.begins)
        walked = np.append(0.0, np.cumsum(lengths))
        chord_lengths = np.abs(table.ends - table.begins)
        candidates = _candidates(table, edges, runs, walked, chord_lengths, tolerance)
        if candidates:
            into = _join_up(table, edges, runs, candidates, tolerance)
    while (into[into] != into).any():  # one that took others in was taken in itself
        into = into[into]
    kept = np.flatnonzero(into == np.arange(count))
    number = np.cumsum(into == np.arange(count)) - 1
    run_of_edge = _spread(runs, len(edges.chord), edges)
    return runs.some(kept), number[into][run_of_edge]


def _spread(runs: _Runs, count: int, edges: _Edges) -> Ints:
    """The run of each edge."""
    marks = np.zeros(count, np.intp)
    marks[runs.first_edge] = 1
    run = np.cumsum(marks) - 1
    # Edges before a ring's first run belong to its last.
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
    last_of_ring = np.append(first_of_ring[1:], len(runs.ring)) - 1
    ring = edges.ring
    return np.where(run < first_of_ring[ring], last_of_ring[ring], run)


def _candidates(
    table: _Table, edges: _Edges, runs: _Runs, walked: Floats, chord_lengths: Floats, tolerance: float
) -> list[tuple[int, int]]:
    """Pairs of a run and a later one of its ring that may be one: both along the same contour in the same
    direction, and as far from each other along the contour as along the ring."""
    count = len(runs.ring)
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
    many = np.diff(np.append(first_of_ring, count))
    ring_first, ring_many = first_of_ring[runs.ring], many[runs.ring]
    every = np.arange(count)
    chord, last_chord = edges.chord[runs.first_edge], edges.chord[runs.last_edge]
    ring_of_chord = _ring_of(table)
    along, swept = _Sums(chord_lengths), _Sums(_cross(table.begins, table.ends))
    seen_swept = _Sums(_cross(edges.begins, edges.ends))
    ring_length = np.bincount(ring_of_chord, chord_lengths)
    ring_swept = np.bincount(ring_of_chord, swept.sizes)
    round_ring = np.add.reduceat(np.abs(edges.ends - edges.begins), edges.firsts)
    round_swept = np.add.reduceat(seen_swept.sizes, edges.firsts)
    found: list[tuple[int, int]] = []
    for ahead in range(2, _LOOK_AHEAD + 1):
        other = ring_first + (every - ring_first + ahead) % ring_many
        alike = (ring_many >= ahead) & (runs.contour == runs.contour[other])
        alike &= runs.onward == runs.onward[other]
        rows = np.flatnonzero(alike)
        if not len(rows):
            continue
        to = other[rows]
        # The stretch of the contour that is not on the ring, from chord k at E to chord m at S, or back.
        forward = edges.forward[runs.first_edge[rows]]
        here, there = runs.ends[rows], runs.begins[to]
        k, m = np.where(forward, last_chord[rows], chord[to]), np.where(forward, chord[to], last_chord[rows])
        e, s = np.where(forward, here, there), np.where(forward, there, here)
        on_e, on_s = np.abs(e - table.begins[k]), np.abs(s - table.begins[m])
        hidden = along.before[m] + on_s - along.before[k] - on_e
        wraps = hidden < -tolerance
        ring = ring_of_chord[k]
        hidden += np.where(wraps, ring_length[ring], 0.0)
        area = swept.before[m] - swept.before[k] + _cross(table.begins[m], s) - _cross(table.begins[k], e)
        area = (area + np.where(wraps, ring_swept[ring], 0.0)) * np.where(forward, 1.0, -1.0)
        # The stretch of the ring between the two runs.
        start, stop = runs.last_edge[rows] + 1, runs.first_edge[to]
        around = start > stop
        of = runs.ring[rows]
        seen = walked[stop] - walked[start] + np.where(around, round_ring[of], 0.0)
        seen_area = (
            seen_swept.before[stop] - seen_swept.before[start] + np.where(around, round_swept[of], 0.0)
        )
        near = np.abs(hidden - seen) <= 4 * tolerance + 0.1 * seen
        near &= np.abs(area - seen_area) <= 2 * tolerance * (seen + tolerance)
        found += zip(rows[near].tolist(), to[near].tolist(), strict=True)
    return found


class _Sums:
    """Sizes, and the sum of those before each and of all."""

    def __init__(self, sizes: Floats) -> None:
        self.sizes = sizes
        self.before = np.append(0.0, np.cumsum(sizes))


def _cross(a: Complexes, b: Complexes) -> Floats:
    """Twice the area that lines from the origin sweep, going from ``a`` to ``b``."""
    return np.asarray((a.conj() * b).imag)


def _ring_of(table: _Table) -> Ints:
    """For each chord the number of the ring of chords that it is in."""
    return ring_numbers(table.following <= np.arange(len(table.following)))


def _join_up(
    table: _Table, edges: _Edges, runs: _Runs, candidates: list[tuple[int, int]], tolerance: float
) -> Ints:
    """For each run the one that it becomes a part of (itself, mostly); the places of those are set anew."""
    count = len(runs.ring)
    into = list(range(count))
    ahead: dict[int, list[int]] = {}
    for one, other in candidates:
        ahead.setdefault(one, []).append(other)
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1])).tolist()
    many = np.diff(np.append(first_of_ring, count)).tolist()
    for first, of_ring in zip(first_of_ring, many, strict=True):
        taken: set[int] = set()
        for start in range(first, first + of_ring):
            if start in taken or start not in ahead:
                continue
            last = start
            while True:
                choices = [n for n in ahead.get(last, ()) if n == start or n not in taken]
                onward = next(
                    (n for n in choices if _lies_along(table, edges, runs, last, n, tolerance)), None
                )
                if onward is None:
                    break
                between = []
                n = first + (last - first + 1) % of_ring
                while n != onward:
                    between.append(n)
                    n = first + (n - first + 1) % of_ring
                if start in between or taken.intersection(between):
                    break
                if onward == start:  # all of the ring is this contour
                    taken.update(between)
                    for n in between:
                        into[n] = start
                    _close(runs, start)
                    break
                taken.update((*between, onward))
                for n in (*between, onward):
                    into[n] = start
                _extend(runs, start, onward)
                last = onward
    return np.array(into, np.intp)


def _extend(runs: _Runs, run: int, to: int) -> None:
    """Makes a run go on to the end of another, along its contour."""
    sides = runs.sides[run]
    if runs.onward[run]:
        runs.high[run] += (runs.high[to] - runs.high[run]) % sides
    else:
        low = runs.low[run] - (runs.low[run] - runs.low[to]) % sides
        turns = np.floor(low / sides) * sides
        runs.low[run], runs.high[run] = low - turns, runs.high[run] - turns
    runs.last_edge[run] = runs.last_edge[to]
    runs.ends[run] = runs.ends[to]


def _close(runs: _Runs, run: int) -> None:
    """Makes a run go all the way round its contour, from a node."""
    at = np.floor(runs.low[run])
    runs.low[run], runs.high[run] = at, at + runs.sides[run]
    runs.last_edge[run] = runs.first_edge[run] - 1


def _lies_along(table: _Table, edges: _Edges, runs: _Runs, one: int, other: int, tolerance: float) -> bool:
    """Whether the ring, from the end of one run to the start of another, lies along their contour."""
    sides, contour, onward = int(runs.sides[one]), int(runs.contour[one]), bool(runs.onward[one])
    if onward:
        start = float(runs.high[one])
        length = (float(runs.low[other]) - start + 1e-9) % sides - 1e-9
    else:
        start = float(runs.low[one])
        length = (start - float(runs.high[other]) + 1e-9) % sides - 1e-9
    if length > _MOST_HIDDEN:
        return False
    hidden = _sampled(table, contour, sides, start, length, onward)
    seen = _curves_between(table, runs, one, other)
    if len(seen) < 2 or len(hidden) < 2:
        return True
    return _within(seen, hidden, tolerance * _SAME) and _within(hidden, seen, tolerance * _SAME)


def _within(points: Complexes, line: Complexes, distance: float) -> bool:
    """Whether all of some points are so near to a line; the one in the middle, where it mostly fails, first.
    Of a very long row some forty are looked at."""
    step = max(1, len(points) // _MOST_LOOKED_AT)
    return _near(points[len(points) // 2 :][:1], line, distance) and _near(points[::step], line, distance)


_MOST_LOOKED_AT = 40


def _near(points: Complexes, line: Complexes, distance: float) -> bool:
    begins, ways = line[:-1], np.diff(line)
    to = points[:, None] - begins
    share = np.clip((to * ways.conj()).real / np.maximum((ways * ways.conj()).real, 1e-300), 0.0, 1.0)
    return bool((np.abs(to - share * ways).min(axis=1) <= distance).all())


_SAMPLES = 6
"""Points of a side that are looked at where it is asked whether an edge lies along it."""

_MOST_HIDDEN = 200.0

_SAME = 0.3
"""Curves that are nowhere further apart than so many tolerances are one: 0.01 mm on the work."""


def _sampled(table: _Table, contour: int, sides: int, start: float, length: float, onward: bool) -> Complexes:
    """Points along a contour from a place, as far as so many sides."""
    steps = max(2, int(np.ceil(length * _SAMPLES)))
    places = start + np.linspace(0.0, length, steps + 1) * (1 if onward else -1)
    nodes = np.arange(np.ceil(places.min()), np.floor(places.max()) + 1)
    places = np.sort(np.concatenate((places, nodes)))
    side = np.floor(places).astype(np.intp)
    points = bezier.point(table.cubics[:, contour + side % sides], places - side)
    return np.asarray(points if onward else points[::-1])


def _curves_between(table: _Table, runs: _Runs, one: int, other: int) -> Complexes:
    """Points along the runs of a ring between one of its runs and another."""
    of_ring = np.flatnonzero(runs.ring == runs.ring[one])
    first, many = int(of_ring[0]), len(of_ring)
    found: list[Complexes] = []
    n = first + (one - first + 1) % many
    while n != other:
        onward = bool(runs.onward[n])
        low, high = float(runs.low[n]), float(runs.high[n])
        start = low if onward else high
        found.append(_sampled(table, int(runs.contour[n]), int(runs.sides[n]), start, high - low, onward))
        n = first + (n - first + 1) % many
    return np.concatenate(found) if found else np.zeros(0, np.complex128)


# --- where runs meet ----------------------------------------------------------------------------------------


_A_POINT = 1e-3

_LOOPS_FROM = 0.2
"""So much of a side may go away and come back to where it began; less does not bend so far."""


def _without_crumbs(table: _Table, runs: _Runs, shortest: float) -> tuple[_Runs, Ints]:
    """Runs that are long enough to be seen or have a whole side, and for each of the others the one before
    it that stays; at least two of each ring stay."""
    count = len(runs.ring)
    apart = np.abs(runs.ends - runs.begins)
    long = runs.high - runs.low
    # What is drawn stays, however short, unless it is a point to all purposes.
    short = (apart < shortest) & ((long < 1.0) | (apart < _A_POINT * shortest))
    for n in np.flatnonzero(short & (long > _LOOPS_FROM)).tolist():
        short[n] = _is_point(table, runs, n, shortest)
    into = np.arange(count)
    if short.any():
        first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
        long_ones = np.add.reduceat((~short).astype(np.intp), first_of_ring)
        short &= long_ones[runs.ring] >= 2
    if not short.any():
        return runs, into
    kept = np.flatnonzero(~short)
    number = np.cumsum(~short) - 1
    into = number.copy()
    early = short & (np.append(-1, runs.ring[kept])[number + 1] != runs.ring)
    last_kept = np.searchsorted(runs.ring[kept], runs.ring, side="right") - 1
    into[early] = last_kept[early]
    return runs.some(kept), into


def _is_point(table: _Table, runs: _Runs, run: int, shortest: float) -> bool:
    """Whether a run that ends where it begins has not been anywhere in between: a letter may hang on another
    by a point."""
    low, high = float(runs.low[run]), float(runs.high[run])
    along = _sampled(table, int(runs.contour[run]), int(runs.sides[run]), low, high - low, True)
    return bool(np.abs(along - along[0]).max() < shortest)


_STEPS = 8
_DAMPING = 1e-9


def _meet(table: _Table, edges: _Edges, runs: _Runs, tolerance: float) -> Complexes:
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


def _end_at_nodes(table: _Table, runs: _Runs, meeting: Complexes, shortest: float) -> None:
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


def _chord_step(table: _Table, chord: Ints) -> Floats:
    return np.abs(table.end[chord] - table.start[chord])


class _Ends:
    """The ends of runs, or their starts: each a side of their contour, counted on from its first past its
    last, and the parameter there."""

    def __init__(
        self, runs: _Runs, rows: Ints, at_end: bool, side: Ints | None = None, at: Floats | None = None
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

    def cubics(self, table: _Table) -> Complexes:
        runs = self._runs
        return table.cubics[:, runs.contour[self.rows] + self.side % runs.sides[self.rows]]

    def points(self, table: _Table) -> Complexes:
        return np.asarray(bezier.point(self.cubics(table), self.at))

    def within(self, reach: Floats) -> tuple[Floats, Floats]:
        """From where to where on its side an end may go: as far as it reaches, and not past the middle of a
        run of one side."""
        low, high = np.maximum(0.0, self.at - reach), np.minimum(1.0, self.at + reach)
        middle = (self._runs.low[self.rows] + self._runs.high[self.rows]) / 2 - self.side
        low = np.where(self.is_high, np.maximum(low, np.minimum(middle, 1.0)), low)
        high = np.where(self.is_high, high, np.minimum(high, np.maximum(middle, 0.0)))
        return low, high


def _set_ends(runs: _Runs, ends: _Ends, starts: _Ends) -> None:
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
    table: _Table, one: _Ends, other: _Ends, reach_u: Floats, reach_v: Floats
) -> tuple[_Ends, _Ends]:
    """Where the sides at the ends of two runs cross or are nearest."""
    a, b, u, v = one.cubics(table), other.cubics(table), one.at, other.at
    within_u, within_v = one.within(reach_u), other.within(reach_v)
    forms, slopes = _powers(np.concatenate((a, b), axis=1))
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


def _powers(z: Complexes) -> tuple[Complexes, Complexes]:
    """The coefficients of sides (4, N) as polynomials, the highest first, and those of their derivatives."""
    p0, p1, p2, p3 = z
    forms = np.stack((p3 - p0 + 3 * (p1 - p2), 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0), p0))
    return forms, np.stack((3 * forms[0], 2 * forms[1], forms[2]))


# --- the outline --------------------------------------------------------------------------------------------


def recovered(source: Source, region: Region, tolerance: float, shortest: float = 0.0) -> Recovered:
    """A region that the polygon engine has made of the rings of a source, with the source's own curves.

    region: its shells and holes are made of pieces of the source's rings.
    tolerance: how true the rings are. Sides that lie nearer to each other than that are one of them.
    shortest: runs shorter than this, left by sides that cross at a flat angle, are taken out.
    """
    if region.is_empty:
        return _nothing()
    region = shapely.orient_polygons(region, exterior_cw=False)
    table = _table(source)
    edges = _edges(table, region)
    runs = _runs(table, edges)
    runs, run_of_edge = _absorbed(table, edges, runs, tolerance)
    runs, into = _without_crumbs(table, runs, shortest)
    meeting = _meet(table, edges, runs, tolerance)
    _end_at_nodes(table, runs, meeting, shortest)
    return _drawn(table, edges, region, runs, into, run_of_edge, meeting, tolerance)


def _nothing() -> Recovered:
    none, at = np.zeros(0, np.intp), np.zeros(0)
    no = np.zeros(0, np.bool_)
    rows = Chords(none, at, at, no, no)
    return Recovered(Outline.empty(), shapely.MultiPolygon(), rows, none, at, at)


def _drawn(
    table: _Table,
    edges: _Edges,
    region: Region,
    runs: _Runs,
    into: Ints,
    run_of_edge: Ints,
    meeting: Complexes,
    tolerance: float,
) -> Recovered:
    firsts, lasts = np.floor(runs.low).astype(np.intp), np.ceil(runs.high).astype(np.intp) - 1
    counts = np.maximum(lasts - firsts + 1, 1)
    run = np.repeat(np.arange(len(counts)), counts)
    begins = np.cumsum(counts) - counts
    step = np.arange(len(run)) - begins[run]
    onward = runs.onward[run]
    place = np.where(onward, firsts[run] + step, lasts[run] - step)
    low = np.clip(runs.low[run] - place, 0.0, 1.0)
    high = np.clip(runs.high[run] - place, 0.0, 1.0)
    start, end = np.where(onward, low, high), np.where(onward, high, low)
    side = runs.contour[run] + place % runs.sides[run]
    points, control = _parts(table, side, start, end)
    # Runs end where they meet; handles go along.
    ring = runs.ring[run]
    is_first, is_last = step == 0, step == counts[run] - 1
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
    previous = np.arange(len(runs.ring)) - 1
    previous[first_of_ring] = np.append(first_of_ring[1:], len(runs.ring)) - 1
    before, after = meeting[previous][run[is_first]], meeting[run[is_last]]
    points[1, is_first] += before - points[0, is_first]
    points[0, is_first] = before
    points[2, is_last] += after - points[3, is_last]
    points[3, is_last] = after
    verbs = table.verbs[side]
    kept = ~_without_length(points, verbs)
    into_side = np.arange(len(side))
    is_end = np.flatnonzero(is_last & kept & (verbs == LINE))
    if len(is_end):
        following = np.arange(len(side)) + 1
        first_sides = np.flatnonzero(np.append(True, ring[1:] != ring[:-1]))
        following[np.append(first_sides[1:], len(side)) - 1] = first_sides
        for one in is_end.tolist():
            _merge_straight(points, verbs, kept, into_side, one, int(following[one]), _SAME_LINE * tolerance)
    outline = _outline(points[:, kept], control[kept], verbs[kept], ring[kept])
    number = np.maximum(np.cumsum(kept) - 1, 0)
    merged = np.zeros(int(kept.sum()), np.bool_)
    gone = into_side != np.arange(len(side))
    while not kept[into_side[gone]].all():
        into_side[gone] = into_side[into_side[gone]]
    number[gone] = number[into_side[gone]]
    merged[number[gone]] = True
    rows = _new_chords(table, edges, runs, into[run_of_edge], begins, firsts, firsts + counts - 1, number)
    if gone.any():
        rows = _on_merged(rows, region, merged, points[0, kept], points[3, kept])
    return Recovered(
        outline,
        region,
        rows,
        side[kept],
        start[kept],
        end[kept],
    )


_SAME_LINE = 0.01
"""Straight sides of two sources that go on as one line, to so many tolerances, are one side."""


def _merge_straight(
    points: Complexes,
    verbs: NDArray[np.uint8],
    kept: Bools,
    into: Ints,
    one: int,
    other: int,
    off: float,
) -> None:
    """Makes a straight side and the one after it a single one, where they lie on one line."""
    while not kept[other] and into[other] != other:
        other = int(into[other])
    if one == other or not (kept[one] and kept[other]) or verbs[other] != LINE:
        return
    first, last = points[:, one], points[:, other]
    way, onward = first[3] - first[0], last[3] - last[0]
    whole = abs(way + onward)
    if (way * onward.conjugate()).real <= 0 or abs((way.conjugate() * onward).imag) > off * whole:
        return
    points[0, other] = points[0, one]
    points[1, other] = (2 * points[0, other] + points[3, other]) / 3
    points[2, other] = (points[0, other] + 2 * points[3, other]) / 3
    kept[one] = False
    into[one] = other


def _on_merged(rows: Chords, region: Region, merged: Bools, begins: Complexes, ends: Complexes) -> Chords:
    """The chords on merged sides by where they lie on them."""
    own = np.flatnonzero(merged[rows.side])
    z = np.ascontiguousarray(shapely.get_coordinates(region)).view(np.complex128)[:, 0]
    start, end = rows.start.copy(), rows.end.copy()
    side = rows.side[own]
    way = ends[side] - begins[side]
    size = (way * way.conj()).real
    start[own] = np.clip(((z[own] - begins[side]) * way.conj()).real / size, 0.0, 1.0)
    following = np.minimum(own + 1, len(z) - 1)
    end[own] = np.clip(((z[following] - begins[side]) * way.conj()).real / size, 0.0, 1.0)
    end[rows.closing] = 1.0
    return Chords(rows.side, start, end, rows.forward, rows.closing)


def _parts(table: _Table, side: Ints, start: Floats, end: Floats) -> tuple[Complexes, Complexes]:
    """Sides from one parameter to another as cubics (4, N), and the control points of those drawn as
    quadratics: blossoms, written so that at 0 and 1 the points are the side's own to the last bit."""
    p = table.cubics[:, side]
    whole = (start == 0.0) & (end == 1.0)
    back = (start == 1.0) & (end == 0.0)
    found = np.where(back, p[::-1], p)
    control = table.controls[side].copy()
    rows = np.flatnonzero(~(whole | back))
    if len(rows):
        p, s, e = p[:, rows], start[rows], end[rows]
        s1, e1 = 1.0 - s, 1.0 - e
        at_s, at_e = s1 * p[:-1] + s * p[1:], e1 * p[:-1] + e * p[1:]
        ss, ee = s1 * at_s[:-1] + s * at_s[1:], e1 * at_e[:-1] + e * at_e[1:]
        se = e1 * at_s[:-1] + e * at_s[1:]
        found[0, rows] = s1 * ss[0] + s * ss[1]
        found[1, rows] = e1 * ss[0] + e * ss[1]
        found[2, rows] = e1 * se[0] + e * se[1]
        found[3, rows] = e1 * ee[0] + e * ee[1]
        c = control[rows]
        control[rows] = s1 * (e1 * p[0] + e * c) + s * (e1 * c + e * p[3])
    return found, control


def _without_length(points: Complexes, verbs: NDArray[np.uint8]) -> Bools:
    """Which sides (4, N) are points."""
    none = points[0] == points[3]
    return np.asarray(none & ((verbs == LINE) | ((points[1] == points[0]) & (points[2] == points[0]))))


def _outline(points: Complexes, control: Complexes, verbs: NDArray[np.uint8], ring: Ints) -> Outline:
    """The outline of sides (4, N) in rings."""
    count = len(verbs)
    firsts = np.flatnonzero(np.append(True, ring[1:] != ring[:-1])) if count else np.zeros(0, np.intp)
    lasts = np.append(firsts[1:], count) - 1
    # A straight side that closes its contour is not said.
    said = np.ones(count, np.bool_)
    said[lasts[verbs[lasts] == LINE]] = False
    takes = np.where(said, POINTS_OF[verbs], 0)
    opens = np.zeros(count, np.intp)
    opens[firsts] = 1
    at = np.cumsum(takes + opens) - takes
    flat = np.empty(int((takes + opens).sum()), np.complex128)
    flat[at[firsts] - 1] = points[0, firsts]
    line, quad, cubic = said & (verbs == LINE), verbs == QUAD, verbs == CUBIC
    flat[at[line]] = points[3, line]
    flat[at[quad]], flat[at[quad] + 1] = control[quad], points[3, quad]
    for k in range(3):
        flat[at[cubic] + k] = points[k + 1, cubic]
    all_verbs = np.insert(verbs, firsts, np.uint8(MOVE))
    unsaid = (lasts + np.arange(len(lasts)) + 1)[~said[lasts]]
    all_verbs = np.delete(all_verbs, unsaid)
    return Outline(all_verbs, flat.view(np.float64).reshape(-1, 2))


def _new_chords(
    table: _Table,
    edges: _Edges,
    runs: _Runs,
    run: Ints,
    begins: Ints,
    firsts: Ints,
    lasts: Ints,
    number: Ints,
) -> Chords:
    """Which side of the outline each edge of the region is a chord of. ``run``: of each edge; ``begins``,
    ``firsts``, ``lasts``: the first side of each run in the outline, and its first and last along its
    contour."""
    low, high = runs.low[run], runs.high[run]
    onward = runs.onward[run]
    side = table.side[edges.chord]
    known = (table.first_side[side] == runs.contour[run]) & (
        (edges.forward == table.with_side[edges.chord]) == onward
    )
    place = _places(edges, runs, run, known, side - runs.contour[run] + edges.start)
    if not known.all():
        _spread_out(table, edges, runs, run, known, place)
    nodes = np.rint(place)
    place = np.where(np.abs(place - nodes) < _AT_NODE, nodes, place)
    # A run that goes all the way round begins at a node of its contour, wherever its first edge is on that.
    opens_at = np.where(runs.onward, runs.low, runs.high)
    goes_round = runs.high - runs.low == runs.sides
    goes_round &= np.abs(place[runs.first_edge] - opens_at) > _AT_NODE
    own_sides = runs.sides[run]
    turned = np.where(onward, low + (place - low) % own_sides, high - (high - place) % own_sides)
    place = np.clip(np.where(goes_round[run], turned, place), low, high)
    at_its_end = ~goes_round
    place[runs.first_edge[at_its_end]] = opens_at[at_its_end]
    own = np.where(onward, np.floor(place), np.ceil(place) - 1)
    own = np.clip(own, firsts[run], lasts[run]).astype(np.intp)
    row = begins[run] + np.where(onward, own - firsts[run], lasts[run] - own)
    start, stop = np.maximum(low, own), np.minimum(high, own + 1)
    share = np.where(onward, place - start, stop - place) / np.maximum(stop - start, 1e-300)
    share = np.clip(share, 0.0, 1.0)
    count = len(run)
    following = np.arange(count) + 1
    following[edges.firsts + edges.counts - 1] = edges.firsts
    # A run ends at its own end; so does each side of it.
    opens = np.zeros(count, np.bool_)
    opens[runs.first_edge[at_its_end]] = True
    ends = np.where((row[following] == row) & ~opens[following], share[following], 1.0)
    after = edges.firsts + edges.counts
    return Chords(
        np.insert(number[row], after, number[row[edges.firsts]]),
        np.insert(share, after, share[edges.firsts]),
        np.insert(np.maximum(ends, share), after, 1.0),
        np.ones(count + len(after), np.bool_),
        np.insert(np.zeros(count, np.bool_), after, True),
    )


_AT_NODE = 1e-9


def _places(edges: _Edges, runs: _Runs, run: Ints, known: Bools, place: Floats) -> Floats:
    """The places of edges, each known but for whole turns, in one row along their run: they never go back."""
    count = len(run)
    first = runs.first_edge[run]
    many = edges.counts[edges.ring]
    order = np.lexsort(((np.arange(count) - first) % many, run))
    order = order[known[order]]
    run, sides = run[order], runs.sides[run[order]]
    onward = runs.onward[run]
    base = place[runs.first_edge][run]
    gone = np.where(onward, place[order] - base, base - place[order]) % sides
    same = np.append(False, run[1:] == run[:-1])
    back = same & (np.append(0.0, gone[:-1]) - gone > sides / 2)
    turns = np.cumsum(back).astype(np.intp)
    firsts = np.flatnonzero(~same)
    turns -= np.repeat(turns[firsts], np.diff(np.append(firsts, len(run))))
    gone += turns * sides
    start = np.where(onward, runs.low[run], runs.high[run])
    start += (base - start + sides / 2) % sides - sides / 2
    found = place.copy()
    found[order] = np.where(onward, start + gone, start - gone)
    return found


def _since(edges: _Edges, runs: _Runs, run: Ints, size: Floats) -> Floats:
    """For each edge the sum of sizes of those before it in its run, round its ring."""
    before = np.cumsum(size) - size
    whole = np.add.reduceat(size, edges.firsts)
    first = runs.first_edge[run]
    return np.asarray(before - before[first] + np.where(first > np.arange(len(run)), whole[edges.ring], 0.0))


def _spread_out(table: _Table, edges: _Edges, runs: _Runs, run: Ints, known: Bools, place: Floats) -> None:
    """The places of edges that lie on another contour than their run: about as far as they go along the ring,
    and there nearest to where they begin."""
    contour_of = table.first_side[table.side]
    lengths = np.abs(edges.ends - edges.begins)
    gone = _since(edges, runs, run, lengths)
    for one in np.unique(run[~known]).tolist():
        rows = np.flatnonzero(run == one)
        rows = rows[np.argsort(gone[rows], kind="stable")]
        since = gone[rows]
        own = known[rows]
        start = float(place[runs.first_edge[one]])
        low, high = float(runs.low[one]), float(runs.high[one])
        if high - low == runs.sides[one]:
            end = start + (high - low) * (1 if runs.onward[one] else -1)
        else:
            end = high if runs.onward[one] else low
        total = float(since[-1] + lengths[rows[-1]])
        at = np.concatenate(([0.0], since[own], [total]))
        there = np.concatenate(([start], place[rows[own]], [end]))
        about = np.interp(since[~own], at, there)
        chords = np.flatnonzero(contour_of == runs.contour[one])
        found = [
            _nearest_place(table, chords, int(runs.sides[one]), complex(edges.begins[row]), near)
            for row, near in zip(rows[~own].tolist(), about.tolist(), strict=True)
        ]
        # An edge never begins before the one before it.
        along = np.minimum(np.maximum(found, min(start, end)), max(start, end))
        in_order = np.maximum.accumulate(along) if runs.onward[one] else np.minimum.accumulate(along)
        place[rows[~own]] = in_order


def _nearest_place(table: _Table, chords: Ints, sides: int, at: complex, about: float) -> float:
    """Where on a contour, given by its chords, a point is: of places as near to it, that nearest to another
    place."""
    here = np.full(len(chords), at)
    off = _off(table, chords, here)
    nearest = chords[off <= off.min() + _ON_CHORD * max(1.0, abs(at))]
    parameter = _parameter(table, nearest, np.full(len(nearest), at))
    first = table.first_side[table.side[nearest]]
    ahead = (table.side[nearest] - first + parameter - about + sides / 2) % sides - sides / 2
    return about + float(ahead[np.abs(ahead).argmin()])
