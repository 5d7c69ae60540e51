"""The edges of a region found again on the chords of what it was made of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry.chords import Complexes, Source
from fulgen.geometry.outline import Bools, Floats, Ints
from fulgen.geometry.polygons import Region, ring_numbers


@dataclass(frozen=True, eq=False)
class Table:
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


def table_of(source: Source) -> Table:
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
    return Table(
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


def _hashes(z: Complexes) -> NDArray[np.uint64]:
    """A number for each point, the same for the same bits; others share one hardly ever."""
    bits = np.ascontiguousarray(z).view(np.uint64).reshape(-1, 2)
    mixed = bits[:, 0] * _MULTIPLIER
    return np.asarray((mixed ^ (mixed >> np.uint64(29))) + bits[:, 1])


@dataclass(frozen=True, eq=False)
class Edges:
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


ON_CHORD = 1e-9
"""A vertex that the polygon engine made lies so near to its chord, as a share of the largest coordinate: it
computes crossings in double-double precision."""


def find_edges(table: Table, region: Region) -> Edges:
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
        start[rest] = parameter_on(table, of, begins[rest])
        end[rest] = parameter_on(table, of, ends[rest])
    return Edges(begins, ends, ring, firsts, counts, chord, forward, start, end)


def parameter_on(table: Table, chord: Ints, at: Complexes) -> Floats:
    """The parameter on its side of a point on a chord."""
    share = share_along(table, chord, at)
    start, end = table.start[chord], table.end[chord]
    return np.where(share >= 1.0, end, start + share * (end - start))


def share_along(table: Table, chord: Ints, at: Complexes) -> Floats:
    """How far along its chord the nearest point to a point is, from 0 to 1."""
    begins = table.begins[chord]
    way = table.ends[chord] - begins
    length = np.maximum((way * way.conj()).real, 1e-300)
    return np.clip(((at - begins) * way.conj()).real / length, 0.0, 1.0)


def distance_off(table: Table, chord: Ints, at: Complexes) -> Floats:
    """How far points are from chords."""
    share = share_along(table, chord, at)
    return np.abs(table.begins[chord] + share * (table.ends[chord] - table.begins[chord]) - at)


def _chords_of(table: Table, begins: Complexes, ends: Complexes) -> tuple[Ints, Bools]:
    """The chord that each edge lies on, the first of those that do; and whether it runs with it."""
    marks = _hashes(table.begins)
    order = np.argsort(marks, kind="stable")
    sorted_marks = marks[order]
    own = _hashes(begins)
    low = np.searchsorted(sorted_marks, own)
    many = np.searchsorted(sorted_marks, own, side="right") - low
    count = len(begins)
    chord = np.full(count, -1)
    forward = np.zeros(count, np.bool_)
    reach = ON_CHORD * max(1.0, float(np.abs(table.begins).max()))
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
            on, off = distance_off(table, here, ends[rows]), distance_off(table, back, ends[rows])
            _take(chord, forward, rows, here, True, (on <= reach) & (on <= off))
            _take(chord, forward, rows, back, False, (off <= reach) & (off < on))
    rows = np.flatnonzero(chord < 0)
    if len(rows):
        # Those that begin at a crossing and end at a vertex: the same from their other end.
        low = np.searchsorted(sorted_marks, _hashes(ends[rows]))
        many = np.searchsorted(sorted_marks, _hashes(ends[rows]), side="right") - low
        for k in range(int(many.max(initial=0))):
            left = np.flatnonzero((chord[rows] < 0) & (many > k))
            here = order[low[left] + k]
            back = table.preceding[here]
            off, on = (
                distance_off(table, back, begins[rows[left]]),
                distance_off(table, here, begins[rows[left]]),
            )
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


def _nearest_chords(table: Table, begins: Complexes, ends: Complexes) -> Ints:
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
        found[n] = np.argmin(np.maximum(distance_off(table, every, one), distance_off(table, every, other)))
    return found


def cross_product(a: Complexes, b: Complexes) -> Floats:
    """Twice the area that lines from the origin sweep, going from ``a`` to ``b``."""
    return np.asarray((a.conj() * b).imag)


def ring_of_contours(table: Table) -> Ints:
    """For each chord the number of the ring of chords that it is in."""
    return ring_numbers(table.following <= np.arange(len(table.following)))


def powers_of(z: Complexes) -> tuple[Complexes, Complexes]:
    """The coefficients of sides (4, N) as polynomials, the highest first, and those of their derivatives."""
    p0, p1, p2, p3 = z
    forms = np.stack((p3 - p0 + 3 * (p1 - p2), 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0), p0))
    return forms, np.stack((3 * forms[0], 2 * forms[1], forms[2]))


def parts_of_sides(table: Table, side: Ints, start: Floats, end: Floats) -> tuple[Complexes, Complexes]:
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
