"""The gap between two letters: what the eye takes for their distance.

It is the mean distance in the band of the small letters, from the baseline up to the height of an x, on
scan lines; each counts up to a cap, so that the open side of an r or a T is not taken for a wide gap. (†)
In shares of the size.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region

LINES = 24
"""Scan lines in the band."""

CAP = 0.35
"""A scan line counts no more than this."""


@dataclass(frozen=True, eq=False)
class ScanExtent:
    """How far a letter goes to the left and to the right on each scan line, (LINES,) each; nan where it has
    nothing."""

    left: Floats
    right: Floats


def scan_extent(letter: Region, x_height: float, dy: float = 0.0) -> ScanExtent:
    """How far a letter goes on the scan lines of its band, moved down by ``dy``."""
    ys = np.linspace(-x_height, 0.0, LINES + 2)[1:-1] - dy
    x0, _, x1, _ = letter.bounds
    ends = np.empty((LINES, 2, 2))
    ends[:, 0, 0], ends[:, 1, 0] = x0 - 1, x1 + 1
    ends[:, :, 1] = ys[:, None]
    on = shapely.bounds(shapely.intersection(shapely.linestrings(ends), letter))
    return ScanExtent(on[:, 0], on[:, 2])


def gaps_between(left: ScanExtent, right: ScanExtent, dx: float) -> Floats:
    """How far apart two letters are on each scan line, (LINES,), the right one ``dx`` to the right: negative
    where they overlap, the cap where one has nothing."""
    gaps = right.left + dx - left.right
    return np.where(np.isnan(gaps), CAP, np.minimum(gaps, CAP))


def letter_gap(gaps: Floats, shift: float = 0.0) -> float:
    """The white, once the right letter is moved by ``shift``."""
    return float(np.clip(np.where(gaps >= CAP, CAP, gaps + shift), 0.0, CAP).mean())


def overlapping(gaps: Floats, shift: float = 0.0) -> float:
    """The share of the band in which the two overlap."""
    return float(((gaps < CAP) & (gaps + shift < 0)).mean())
