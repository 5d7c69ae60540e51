"""Heights: where between the baseline and the top of two letters a letterer would join them.

Writing teachers know two joins: the *diagonal* one, from the baseline up to the middle of the next letter,
and the *horizontal* one, level and high, after letters that end at the top. Heights are shares of the band
that the two letters have in common: from the baseline to the height of an x, or to the top of the lower of
two capitals. Measured on nine faces drawn to join (676 pairs each, as set): 0.40 in the median, 0.33 to 0.50
from the 10th to the 90th percentile; f and o go up to 0.85 and 0.59. Block letters are no handwriting: what
ties them is a bar at their feet, and only above the small letters it is out of place.
"""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from fulgen.geometry import bezier
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region

_ENDS_HIGH = frozenset("bforvw")
"""Small letters whose last stroke ends at the top (handwriting, common practice)."""

_LOWEST, _HIGHEST, _HIGHEST_AFTER_HIGH = 0.3, 0.55, 0.95
"""Between these a join looks right. (†)"""

_TOLERANCE = 0.1
"""A join that is so much lower or higher costs 1, twice as much 4. (†)"""

_MOST = 5.0

_BLOCK_TOLERANCE, _BLOCK_MOST = 0.08, 1.5
"""Block letters tied so much above their small letters, in shares of the size, cost 1, and no more than the
second. (†)"""

_FLAT, _WAVE = 0.03, 0.06
"""A join that dips or rises by less than the first is flat; by the second more costs 1. (†)"""

_ALONG = np.linspace(0.0, 1.0, 9)


@dataclass(frozen=True)
class Hand:
    """How a face is written: the height of an x, as a share of the size, and whether its letters are
    written, as a hand does (``Face.is_written``)."""

    x_height: float
    is_written: bool


@dataclass(frozen=True)
class Heights:
    """The band of two letters of a hand, as a share of the size, and whether the left one ends at its top."""

    band: float
    is_written: bool
    ends_high: bool

    def cost(self, y: Floats | float) -> Floats:
        """What a join costs whose middle is at some y (down, in shares of the size)."""
        height = -np.asarray(y) / self.band
        if not self.is_written:
            return np.asarray(np.clip((height - 1.0) * self.band / _BLOCK_TOLERANCE, 0.0, _BLOCK_MOST))
        highest = _HIGHEST_AFTER_HIGH if self.ends_high else _HIGHEST
        off = np.maximum(0.0, np.maximum(_LOWEST - height, height - highest)) / _TOLERANCE
        return np.asarray(np.minimum(_MOST, off**2))

    def cost_of(self, joint: BaseGeometry) -> float:
        """What a joint costs by where it is."""
        if joint.is_empty:
            return 0.0
        middle, top = float(shapely.centroid(joint).y), float(joint.bounds[1])
        return float(self.cost(middle if self.is_written else (middle + top) / 2))

    def cost_of_waves(self, spines: Floats) -> Floats:
        """What it costs that curves (N, 4, 2) dip below both their ends or rise above them."""
        ys = bezier.point(spines[..., 1].T[:, :, None], _ALONG)
        ends = spines[:, (0, 3), 1]
        beyond = np.maximum(ys.max(axis=1) - ends.max(axis=1), ends.min(axis=1) - ys.min(axis=1))
        return np.asarray(np.minimum(_MOST, (np.maximum(0.0, beyond / self.band - _FLAT) / _WAVE) ** 2))


def ends_high(text: str) -> bool:
    """Whether the last stroke of a letter, or of several drawn as one, ends at the top, or may: capitals end
    anywhere."""
    last = unicodedata.normalize("NFD", text)[:1] if len(text) == 1 else text[-1:]
    return last in _ENDS_HIGH or not last.islower()


def heights_of(left: Region, right: Region, hand: Hand, high: bool) -> Heights:
    """The heights of two letters that stand on one baseline, y = 0."""
    common = min(-float(left.bounds[1]), -float(right.bounds[1])) if hand.is_written else 0.0
    return Heights(max(hand.x_height, common), hand.is_written, high)
