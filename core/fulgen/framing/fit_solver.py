"""Fit: the size and place at which a name runs into the edges of a band by a depth, worked out.

A name is known by the points of its edge, in shares of its size. For a size and a place, the depth at a side
is that of its deepest point there; two depths and two unknowns are solved by Newton's method with
differences for derivatives (textbook), kept to steps that a depth can answer for.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from fulgen.budget import check
from fulgen.framing.bands import Band
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region

Feet = Literal["baseline", "lowest"]
Centre = Literal["box", "seen"]


@dataclass(frozen=True, eq=False)
class Ink:
    """What is seen of a name in shares of its size, its baseline's left end at 0, 0: the points of its edge
    (N, 2), the box around it, the middle of its area, and its last baseline."""

    points: Floats
    box: Box
    centroid: tuple[float, float]
    baseline: float

    @classmethod
    def of(cls, region: Region, baseline: float) -> Ink:
        """Of a region, with its last baseline."""
        x0, y0, x1, y1 = region.bounds
        middle = shapely.centroid(region)
        points = shapely.get_coordinates(shapely.simplify(region, _FINE))
        return cls(points, Box(x0, y0, x1 - x0, y1 - y0), (middle.x, middle.y), baseline)

    def stretched(self, by: float) -> Ink:
        """Made so many times as wide."""
        b = self.box
        return Ink(
            self.points * (by, 1.0), Box(b.x * by, b.y, b.width * by, b.height),
            (self.centroid[0] * by, self.centroid[1]), self.baseline,
        )  # fmt: skip

    def middle(self, centre: Centre) -> tuple[float, float]:
        """What is laid in the middle of a band: the middle of the box, or of the area."""
        b = self.box
        return self.centroid if centre == "seen" else (b.x + b.width / 2, b.y + b.height / 2)

    def lowest(self, feet: Feet) -> float:
        """Where it stands: its lowest point, or that of what stands on its baseline."""
        if feet == "lowest":
            return self.box.bottom
        standing = self.points[:, 1]
        standing = standing[standing <= self.baseline + _OVERSHOOT]
        foot = float(standing.max()) if len(standing) else self.box.bottom
        # A word that is bent far down stands on its lowest point after all.
        return foot if foot - self.box.y > _STANDS * self.box.height else self.box.bottom


_FINE = 4e-4
"""Points of an edge nearer to a line than this are left out."""

_STANDS = 0.2
"""At least this share of a word's height is above where it stands. (†)"""

_OVERSHOOT = 0.03
"""Round letters go below the baseline by less; what goes further down is a descender. (†)"""


@dataclass(frozen=True)
class Pose:
    """The size of a name in mm, and where its baseline's left end lies. ``off`` is how far its depths in
    edges are from what was asked, in mm."""

    size: float
    x: float
    y: float
    off: float = 0.0

    def points(self, ink: Ink) -> Floats:
        """Its edge in the frame."""
        return ink.points * self.size + (self.x, self.y)


Unknowns = tuple[float, float]

_NEAR_MM, _NEAR = 0.02, 0.02
"""A name whose depths are off by no more, and by such a share of what was asked, reaches both sides."""

_ROUNDS = 40
_EXACT_MM = 1e-4
_LARGEST_STEP = 0.25


def _solved(
    depths: Callable[[float, float], Unknowns], wanted: float, size: float, at: float, slack: float
) -> tuple[float, float, float]:
    """The size and the place along one axis at which both depths are as wanted. ``slack`` is how far a depth
    moves at most when the size grows by 1. Also how far off the two are."""
    best = (np.inf, size, at)
    for _ in range(_ROUNDS):
        check()
        a, b = depths(size, at)
        off = max(abs(a - wanted), abs(b - wanted))
        if off < best[0]:
            best = (off, size, at)
        if off <= _EXACT_MM:
            break
        ds, da = 1e-4 * size, 1e-4 * size * slack
        grown, moved = depths(size + ds, at), depths(size, at + da)
        slopes = np.array([[(grown[n] - v) / ds, (moved[n] - v) / da] for n, v in enumerate((a, b))])
        lacks = np.array([wanted - a, wanted - b])
        if abs(np.linalg.det(slopes)) < 1e-6 * slack:
            # A side that no move brings nearer: only the size is left, until the nearer one is there.
            n = int(np.argmax([a, b]))
            step = np.array([lacks[n] / max(slopes[n, 0], 0.05 * slack), 0.0])
            if abs(lacks[n]) <= _EXACT_MM:
                best = (off, size, at)
                break
        else:
            step = np.linalg.solve(slopes, lacks)
        most = _LARGEST_STEP * size
        share = min(1.0, most / max(abs(step[0]), abs(step[1]) / slack, 1e-12))
        size, at = max(size + share * step[0], 0.05 * size), at + share * step[1]
    off, size, at = best
    return size, at, off


def across(ink: Ink, band: Band, depth: float, centre: Centre, feet: Feet) -> Pose:
    """A name run into edges at its left and right: the first letter and the last, at the height where they
    meet them. It lies in the middle of the band's height, or stands on the edge below it."""
    middle = band.middle
    ahead, low = ink.middle(centre), ink.lowest(feet)
    is_left = ink.points[:, 0] < ink.box.x + ink.box.width / 2
    left, right = (band.decisive(ink.points[side], across=True) for side in (is_left, ~is_left))

    def y_of(size: float) -> float:
        return middle[1] - ahead[1] * size if band.rows is None else band.rows.bounds[3] + depth - low * size

    def depths(size: float, x: float) -> Unknowns:
        return _deepest(band, (left, right), size, (x, y_of(size)), across=True)

    start = 0.6 * min(band.box.width / ink.box.width, band.box.height / ink.box.height)
    x = middle[0] - (ink.box.x + ink.box.width / 2) * start
    size, x, off = _solved(depths, depth, start, x, ink.box.width / 2)
    if off <= _NEAR_MM + _NEAR * abs(depth) or band.rows is not None:
        return Pose(size, x, y_of(size), off)
    # Too short to reach both sides, it is held above and below.
    return _held_upright(ink, ink.points, band, depth, centre, across=True)


def upright(ink: Ink, band: Band, depth: float, feet: Feet, centre: Centre) -> Pose:
    """A name run into edges above and below: its tops and its feet."""
    counted = ink.points[ink.points[:, 1] <= ink.lowest(feet)]
    return _held_upright(ink, counted, band, depth, centre, across=False)


def _held_upright(
    ink: Ink, counted: Floats, band: Band, depth: float, centre: Centre, *, across: bool
) -> Pose:
    """The pose at which some points of a name are as deep above as below, in one of a band's openings."""
    top, low = float(counted[:, 1].min()), float(counted[:, 1].max())
    is_top = counted[:, 1] < (top + low) / 2
    tops, feet = (band.decisive(counted[side], across) for side in (is_top, ~is_top))
    x_ink, x_band = ink.middle(centre)[0], band.middle[0]

    def depths(size: float, y: float) -> Unknowns:
        return _deepest(band, (tops, feet), size, (x_band - x_ink * size, y), across=across)

    start = 0.8 * band.box.height / (low - top)
    y = band.middle[1] - (top + low) / 2 * start
    size, y, off = _solved(depths, depth, start, y, (low - top) / 2)
    return Pose(size, x_band - x_ink * size, y, off)


def _deepest(
    band: Band, ends: tuple[Floats, Floats], size: float, at: tuple[float, float], *, across: bool
) -> Unknowns:
    """How deep the deepest point lies of each of two ends of a name, made so large and moved there."""
    one, other = (float(band.depths(points * size + at, across).max()) for points in ends)
    return one, other


def standing(ink: Ink, band: Band, size: float, depth: float, feet: Feet, centre: Centre) -> Pose:
    """A name of a size with its feet in an edge below it."""
    low = ink.lowest(feet)
    counted = band.decisive(ink.points[ink.points[:, 1] <= low], across=False)
    x = band.middle[0] - ink.middle(centre)[0] * size
    y = band.box.bottom - low * size
    for _ in range(_ROUNDS):
        into = float(band.depths(counted * size + (x, y), across=False).max())
        if abs(into - depth) <= _EXACT_MM:
            break
        y += depth - into
    return Pose(size, x, y, abs(into - depth))


def within(ink: Ink, band: Band, air: float, centre: Centre) -> Pose:
    """A name in the middle of its band, as large as it can be with air all around it."""
    ahead, (x, y) = ink.middle(centre), band.middle
    counted = band.decisive(ink.points, across=True)

    def pose(size: float) -> Pose:
        return Pose(size, x - ahead[0] * size, y - ahead[1] * size)

    def deepest(size: float) -> float:
        there = pose(size)
        return float(band.depths(counted * size + (there.x, there.y), across=True).max())

    return pose(_largest(deepest, -air, ink, band))


def _largest(deepest: Callable[[float], float], most: float, ink: Ink, band: Band) -> float:
    """The largest size at which nothing is deeper than that."""
    low, high = 0.0, 1.05 * min(band.box.width / ink.box.width, band.box.height / ink.box.height) + 0.01
    while deepest(high) <= most and high < 1e5:
        high *= 1.5
    for _ in range(40):
        check()
        middle = (low + high) / 2
        low, high = (middle, high) if deepest(middle) <= most else (low, middle)
        if high - low <= 1e-5 * high:
            break
    return low
