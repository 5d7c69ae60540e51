"""Runs: stretches of a region's edge that follow one contour of a source."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fulgen.geometry import bezier
from fulgen.geometry.chords import Complexes
from fulgen.geometry.outline import Bools, Floats, Ints
from fulgen.geometry.overlay_edges import Edges, Table, cross_product, ring_of_contours


@dataclass(eq=False)
class Runs:
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

    def some(self, rows: Ints) -> Runs:
        return Runs(**{name: value[rows] for name, value in vars(self).items()})


def find_runs(table: Table, edges: Edges) -> Runs:
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
    return Runs(
        of_ring, starts, ends, contour, sides, onward, low, high, edges.begins[starts], edges.ends[ends]
    )


_LOOK_AHEAD = 6
"""A run is looked for again among so many that come after it."""


def absorb_runs(table: Table, edges: Edges, runs: Runs, tolerance: float) -> tuple[Runs, Ints]:
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
    run_of_edge = spread_over_rings(runs, len(edges.chord), edges)
    return runs.some(kept), number[into][run_of_edge]


def spread_over_rings(runs: Runs, count: int, edges: Edges) -> Ints:
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
    table: Table, edges: Edges, runs: Runs, walked: Floats, chord_lengths: Floats, tolerance: float
) -> list[tuple[int, int]]:
    """Pairs of a run and a later one of its ring that may be one: both along the same contour in the same
    direction, and as far from each other along the contour as along the ring."""
    count = len(runs.ring)
    first_of_ring = np.flatnonzero(np.append(True, runs.ring[1:] != runs.ring[:-1]))
    many = np.diff(np.append(first_of_ring, count))
    ring_first, ring_many = first_of_ring[runs.ring], many[runs.ring]
    every = np.arange(count)
    chord, last_chord = edges.chord[runs.first_edge], edges.chord[runs.last_edge]
    ring_of_chord = ring_of_contours(table)
    along, swept = _Sums(chord_lengths), _Sums(cross_product(table.begins, table.ends))
    seen_swept = _Sums(cross_product(edges.begins, edges.ends))
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
        area = (
            swept.before[m]
            - swept.before[k]
            + cross_product(table.begins[m], s)
            - cross_product(table.begins[k], e)
        )
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


def _join_up(
    table: Table, edges: Edges, runs: Runs, candidates: list[tuple[int, int]], tolerance: float
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


def _extend(runs: Runs, run: int, to: int) -> None:
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


def _close(runs: Runs, run: int) -> None:
    """Makes a run go all the way round its contour, from a node."""
    at = np.floor(runs.low[run])
    runs.low[run], runs.high[run] = at, at + runs.sides[run]
    runs.last_edge[run] = runs.first_edge[run] - 1


def _lies_along(table: Table, edges: Edges, runs: Runs, one: int, other: int, tolerance: float) -> bool:
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
    hidden = sample_sides(table, contour, sides, start, length, onward)
    seen = _curves_between(table, runs, one, other)
    if len(seen) < 2 or len(hidden) < 2:
        return True
    return _all_within(seen, hidden, tolerance * _SAME) and _all_within(hidden, seen, tolerance * _SAME)


def _all_within(points: Complexes, line: Complexes, distance: float) -> bool:
    """Whether all of some points are so near to a line; the one in the middle, where it mostly fails, first.
    Of a very long row some forty are looked at."""
    step = max(1, len(points) // _MOST_LOOKED_AT)
    return _are_near(points[len(points) // 2 :][:1], line, distance) and _are_near(
        points[::step], line, distance
    )


_MOST_LOOKED_AT = 40


def _are_near(points: Complexes, line: Complexes, distance: float) -> bool:
    begins, ways = line[:-1], np.diff(line)
    to = points[:, None] - begins
    share = np.clip((to * ways.conj()).real / np.maximum((ways * ways.conj()).real, 1e-300), 0.0, 1.0)
    return bool((np.abs(to - share * ways).min(axis=1) <= distance).all())


_SAMPLES = 6
"""Points of a side that are looked at where it is asked whether an edge lies along it."""


_MOST_HIDDEN = 200.0


_SAME = 0.3
"""Curves that are nowhere further apart than so many tolerances are one: 0.01 mm on the work."""


def sample_sides(
    table: Table, contour: int, sides: int, start: float, length: float, onward: bool
) -> Complexes:
    """Points along a contour from a place, as far as so many sides."""
    steps = max(2, int(np.ceil(length * _SAMPLES)))
    places = start + np.linspace(0.0, length, steps + 1) * (1 if onward else -1)
    nodes = np.arange(np.ceil(places.min()), np.floor(places.max()) + 1)
    places = np.sort(np.concatenate((places, nodes)))
    side = np.floor(places).astype(np.intp)
    points = bezier.point(table.cubics[:, contour + side % sides], places - side)
    return np.asarray(points if onward else points[::-1])


def _curves_between(table: Table, runs: Runs, one: int, other: int) -> Complexes:
    """Points along the runs of a ring between one of its runs and another."""
    of_ring = np.flatnonzero(runs.ring == runs.ring[one])
    first, many = int(of_ring[0]), len(of_ring)
    found: list[Complexes] = []
    n = first + (one - first + 1) % many
    while n != other:
        onward = bool(runs.onward[n])
        low, high = float(runs.low[n]), float(runs.high[n])
        start = low if onward else high
        found.append(sample_sides(table, int(runs.contour[n]), int(runs.sides[n]), start, high - low, onward))
        n = first + (n - first + 1) % many
    return np.concatenate(found) if found else np.zeros(0, np.complex128)


_A_POINT = 1e-3


_LOOPS_FROM = 0.2
"""So much of a side may go away and come back to where it began; less does not bend so far."""


def without_short_segments(table: Table, runs: Runs, shortest: float) -> tuple[Runs, Ints]:
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


def _is_point(table: Table, runs: Runs, run: int, shortest: float) -> bool:
    """Whether a run that ends where it begins has not been anywhere in between: a letter may hang on another
    by a point."""
    low, high = float(runs.low[run]), float(runs.high[run])
    along = sample_sides(table, int(runs.contour[run]), int(runs.sides[run]), low, high - low, True)
    return bool(np.abs(along - along[0]).max() < shortest)
