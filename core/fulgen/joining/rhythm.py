"""Rhythm: a whole word decided at once, so that its letters stand as evenly as the face sets them.

Each pair has its options (`joining.pair_joining`). The word may be tightened as a whole; each pair then costs
what its joint looks like, how far it is from that tightening, whether it is crowded or fused beside the
others, and how suddenly it differs from the pair before it. The least sum over the word is found by dynamic
programming (the Viterbi algorithm), once for each tightening.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fulgen.joining.pair_joining import Option

TIGHTENINGS = (0.0, -0.01, -0.02, -0.03, -0.045, -0.06)
"""How much a whole word may be tightened, a letter. (†)"""

_AWAY = 0.045
"""A pair that is this far from the word's tightening costs 1. (†)"""

_TIGHTER = 0.035
"""A word tightened by this costs each of its pairs 1. (†)"""

_UNLIKE = 0.06
"""Neighbouring pairs whose slides differ by this cost 1. (†)"""

_LOATH = 4.0
"""As drawn, moving letters costs so many times what it does otherwise; tightly joined, as much less."""

_CROWDED = 0.5
"""White under this share of the word's median is crowded, unless it is so as set. (†)"""

_FUSED = 0.15
"""Letters that overlap in so much more of the band than as set begin to fuse. (†)"""


@dataclass(frozen=True, eq=False)
class Choices:
    """What can be done at one seam, with the white and the overlapping share as set; ``fixed`` when the maker
    has decided."""

    options: Sequence[Option]
    letter_gap: float
    overlapping: float
    fixed: bool = False


def decide(seams: Sequence[Choices], tight: float = 0.5) -> list[Option]:
    """The best option for each seam of a word, as drawn (``tight`` is 0), tightly joined (1), or between."""
    if not seams:
        return []
    if all(len(seam.options) == 1 for seam in seams):
        return [seam.options[0] for seam in seams]
    median = float(np.median([seam.letter_gap for seam in seams]))
    best: tuple[float, list[Option]] | None = None
    loath = _LOATH ** (1 - 2 * tight)
    for tightening in TIGHTENINGS:
        cost, chosen = _decided(seams, tightening, max(median + tightening, 0.02), median, loath)
        if best is None or cost < best[0]:
            best = cost, chosen
    assert best is not None
    return best[1]


def _decided(
    seams: Sequence[Choices], tightening: float, median: float, median_set: float, loath: float
) -> tuple[float, list[Option]]:
    ways: list[list[int]] = []
    costs = np.zeros(1)
    shifts = np.zeros(0)
    for n, seam in enumerate(seams):
        own_shifts = np.array([option.joint.shift for option in seam.options])
        own = np.array(
            [_cost(seam, option, tightening, median, median_set, loath) for option in seam.options]
        )
        if n == 0:
            costs = own
            ways.append([0] * len(own))
        else:
            between = ((shifts[:, None] - own_shifts[None]) / _UNLIKE) ** 2
            total = costs[:, None] + 0.5 * np.minimum(between, 4.0)
            ways.append(total.argmin(axis=0).tolist())
            costs = total.min(axis=0) + own
        shifts = own_shifts
    at = int(costs.argmin())
    least = float(costs[at]) + loath * len(seams) * (tightening / _TIGHTER) ** 2
    chosen = []
    for seam, back in zip(reversed(seams), reversed(ways), strict=True):
        chosen.append(seam.options[at])
        at = back[at]
    return least, chosen[::-1]


def _cost(
    seam: Choices, option: Option, tightening: float, median: float, median_set: float, loath: float
) -> float:
    cost = option.cost
    if not seam.fixed:
        cost += loath * ((option.joint.shift - tightening) / _AWAY) ** 2
    share, share_set = option.letter_gap / median, seam.letter_gap / max(median_set, 1e-6)
    lacking = min(_CROWDED, share_set) - share
    if lacking > 0:
        cost += 12 * lacking
    more = option.overlapping - seam.overlapping - _FUSED
    if more > 0:
        cost += 20 * more
    return cost
