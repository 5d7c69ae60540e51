"""The chords of a recovered outline: which part of which new side each of them stands for."""

from __future__ import annotations

import numpy as np
import shapely

from fulgen.geometry.chords import Chords, Complexes
from fulgen.geometry.outline import Bools, Floats, Ints
from fulgen.geometry.overlay_edges import ON_CHORD, Edges, Table, distance_off, parameter_on
from fulgen.geometry.overlay_runs import Runs
from fulgen.geometry.polygons import Region


def chords_on_merged(
    rows: Chords, region: Region, merged: Bools, begins: Complexes, ends: Complexes
) -> Chords:
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


def chords_of_runs(
    table: Table,
    edges: Edges,
    runs: Runs,
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


def _places(edges: Edges, runs: Runs, run: Ints, known: Bools, place: Floats) -> Floats:
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


def _since(edges: Edges, runs: Runs, run: Ints, size: Floats) -> Floats:
    """For each edge the sum of sizes of those before it in its run, round its ring."""
    before = np.cumsum(size) - size
    whole = np.add.reduceat(size, edges.firsts)
    first = runs.first_edge[run]
    return np.asarray(before - before[first] + np.where(first > np.arange(len(run)), whole[edges.ring], 0.0))


def _spread_out(table: Table, edges: Edges, runs: Runs, run: Ints, known: Bools, place: Floats) -> None:
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


def _nearest_place(table: Table, chords: Ints, sides: int, at: complex, about: float) -> float:
    """Where on a contour, given by its chords, a point is: of places as near to it, that nearest to another
    place."""
    here = np.full(len(chords), at)
    off = distance_off(table, chords, here)
    nearest = chords[off <= off.min() + ON_CHORD * max(1.0, abs(at))]
    parameter = parameter_on(table, nearest, np.full(len(nearest), at))
    first = table.first_side[table.side[nearest]]
    ahead = (table.side[nearest] - first + parameter - about + sides / 2) % sides - sides / 2
    return about + float(ahead[np.abs(ahead).argmin()])
