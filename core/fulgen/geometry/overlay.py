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

from fulgen.geometry.chords import Chords, Complexes, Source
from fulgen.geometry.outline import CUBIC, LINE, MOVE, POINTS_OF, QUAD, Bools, Floats, Ints, Outline
from fulgen.geometry.overlay_chords import chords_of_runs, chords_on_merged
from fulgen.geometry.overlay_crossings import end_at_nodes, meeting_points
from fulgen.geometry.overlay_edges import Edges, Table, find_edges, parts_of_sides, table_of
from fulgen.geometry.overlay_runs import Runs, absorb_runs, find_runs, without_short_segments
from fulgen.geometry.polygons import Region


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


def recovered(source: Source, region: Region, tolerance: float, shortest: float = 0.0) -> Recovered:
    """A region that the polygon engine has made of the rings of a source, with the source's own curves.

    region: its shells and holes are made of pieces of the source's rings.
    tolerance: how true the rings are. Sides that lie nearer to each other than that are one of them.
    shortest: runs shorter than this, left by sides that cross at a flat angle, are taken out.
    """
    if region.is_empty:
        return _nothing()
    region = shapely.orient_polygons(region, exterior_cw=False)
    table = table_of(source)
    edges = find_edges(table, region)
    runs = find_runs(table, edges)
    runs, run_of_edge = absorb_runs(table, edges, runs, tolerance)
    runs, into = without_short_segments(table, runs, shortest)
    meeting = meeting_points(table, edges, runs, tolerance)
    end_at_nodes(table, runs, meeting, shortest)
    return _drawn(table, edges, region, runs, into, run_of_edge, meeting, tolerance)


def _nothing() -> Recovered:
    none, at = np.zeros(0, np.intp), np.zeros(0)
    no = np.zeros(0, np.bool_)
    rows = Chords(none, at, at, no, no)
    return Recovered(Outline.empty(), shapely.MultiPolygon(), rows, none, at, at)


def _drawn(
    table: Table,
    edges: Edges,
    region: Region,
    runs: Runs,
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
    points, control = parts_of_sides(table, side, start, end)
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
    rows = chords_of_runs(table, edges, runs, into[run_of_edge], begins, firsts, firsts + counts - 1, number)
    if gone.any():
        rows = chords_on_merged(rows, region, merged, points[0, kept], points[3, kept])
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
