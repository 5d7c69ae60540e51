"""Many pieces laid closely in a moment: each slid up as far as what lies above lets it, at the place across
the sheet where it ends highest.

A skyline packing (Burke, Kendall and Whitwell, "A new placement heuristic for the orthogonal stock-cutting
problem", Operations Research 52, 2004) with the true edges of the pieces in place of their boxes: a piece is
known by how far up and down it reaches in each column of the sheet.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
import shapely.affinity

from fulgen.budget import check
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats
from fulgen.sheet.sheets import LaidMotif

COLUMN_MM = 0.5

Angles = Sequence[float]


@dataclass(frozen=True, eq=False)
class _Profile:
    """A piece, turned, with half the room between pieces around it: how high and how low it reaches in each
    column, from its middle; left is where its first column begins."""

    turn: float
    left: float
    top: Floats
    bottom: Floats

    @property
    def lowest(self) -> float:
        return float(self.bottom.max())


def laid_by_skyline(
    motifs: Sequence[LaidMotif], usable: Box, spacing: float, angles: Angles
) -> list[list[LaidMotif]]:
    """The motifs on as few sheets as the highest first come to, each at one of the angles. All of them fit on
    a sheet as they are."""
    profiles: dict[int, list[_Profile]] = {}
    for one in motifs:
        if id(one.motif) not in profiles:
            check()
            profiles[id(one.motif)] = _profiles(one, usable, spacing, angles)
    tries = []
    for size in (_height, _area):
        wanted = sorted(motifs, key=lambda one: -size(profiles[id(one.motif)][0]))
        tries.append(_packed(wanted, profiles, usable, spacing))
    best = min(tries, key=lambda sheets: (len(sheets), sum(sheet.reach for sheet in sheets)))
    return [sheet.laid for sheet in best]


@dataclass(eq=False)
class _Sheet:
    """A sheet as it fills: how far down it is taken in each column, and what lies on it."""

    taken: Floats
    laid: list[LaidMotif]

    @property
    def reach(self) -> float:
        return float(self.taken.max())


def _packed(
    motifs: Sequence[LaidMotif], profiles: dict[int, list[_Profile]], usable: Box, spacing: float
) -> list[_Sheet]:
    left, top = usable.x - spacing / 2, usable.y - spacing / 2
    columns = int((usable.width + spacing) / COLUMN_MM + 1e-9)
    deepest = usable.bottom + spacing / 2 + 1e-9
    sheets: list[_Sheet] = []
    for one in motifs:
        check()
        for sheet in (*sheets, None):
            here = sheet or _Sheet(np.full(columns, top), [])
            found = _highest(here, profiles[id(one.motif)])
            if found is None or found[0] > deepest:
                continue
            _, profile, column, down = found
            span = slice(column, column + len(profile.top))
            here.taken[span] = np.maximum(here.taken[span], down + profile.bottom)
            x = left + column * COLUMN_MM - profile.left
            here.laid.append(replace(one, x=x, y=down, turn=profile.turn))
            if sheet is None:
                sheets.append(here)
            break
    return sheets


def _highest(sheet: _Sheet, profiles: Sequence[_Profile]) -> tuple[float, _Profile, int, float] | None:
    """Where a piece ends highest: how far down it then reaches, its profile, its first column, and where its
    middle is."""
    best: tuple[float, _Profile, int, float] | None = None
    for profile in profiles:
        if len(profile.top) > len(sheet.taken):
            continue
        windows = np.lib.stride_tricks.sliding_window_view(sheet.taken, len(profile.top))
        downs = (windows - profile.top).max(axis=1)
        column = int(downs.argmin())
        end = float(downs[column]) + profile.lowest
        if best is None or end < best[0] - 1e-6:
            best = end, profile, column, float(downs[column])
    return best


def _profiles(one: LaidMotif, usable: Box, spacing: float, angles: Angles) -> list[_Profile]:
    room = spacing / 2
    covers = replace(one, x=0.0, y=0.0, turn=0.0).covers
    # GEOS draws arcs with chords and leaves out corners that hardly turn: a little more is taken around, so
    # that no room is lost, and cut off where the sheet's edge may be.
    around = covers.buffer(room * _A_LITTLE_MORE, quad_segs=_ARC_SEGMENTS)
    found = []
    for angle in angles:
        bare, turned = (shapely.affinity.rotate(region, angle, origin=(0, 0)) for region in (covers, around))
        left, top, right, bottom = (shapely.bounds(bare) + np.array([-room, -room, room, room])).tolist()
        if right - left <= usable.width + spacing + 1e-6 and bottom - top <= usable.height + spacing + 1e-6:
            found.append(_profile(shapely.intersection(turned, shapely.box(left, top, right, bottom)), angle))
    return found


_ARC_SEGMENTS = 32
"""Chords of a quarter of a circle."""

_A_LITTLE_MORE = 1.001
"""The chords alone take 0.0003 of it; without this, pieces came up to 0.0008 mm nearer than 3 mm."""


def _profile(region: shapely.Geometry, turn: float) -> _Profile:
    left, _, right, _ = map(float, shapely.bounds(region))
    columns = max(1, math.ceil((right - left) / COLUMN_MM - 1e-9))
    top, bottom = np.full(columns, np.inf), np.full(columns, -np.inf)
    for line in shapely.get_parts(shapely.boundary(region)):
        xy = shapely.get_coordinates(shapely.segmentize(line, COLUMN_MM))
        column = np.clip(((xy[:, 0] - left) / COLUMN_MM).astype(np.intp), 0, columns - 1)
        # Each side belongs to the columns of both its ends, with both its heights.
        for ends in (column[:-1], column[1:]):
            for heights in (xy[:-1, 1], xy[1:, 1]):
                np.minimum.at(top, ends, heights)
                np.maximum.at(bottom, ends, heights)
    # Columns between parts that lie apart hold nothing.
    return _Profile(turn, left, np.minimum(top, _FAR), np.maximum(bottom, -_FAR))


_FAR = 1e9


def _height(profile: _Profile) -> float:
    return float(profile.lowest - profile.top.min())


def _area(profile: _Profile) -> float:
    reaches = profile.bottom > profile.top
    return float((profile.bottom - profile.top)[reaches].sum())
