"""Smooth seams: the notches where letters cross are rounded, and no other corner."""

from __future__ import annotations

from collections.abc import Callable, Hashable

import numpy as np

from fulgen.geometry.fillet import round_bays, sharp_bays
from fulgen.geometry.outline import Floats
from fulgen.geometry.shape import Shape


def smooth_seams(welded: Shape, radius_between: Callable[[Hashable, Hashable], float]) -> Shape:
    """A weld with the notches at its seams rounded: sharp bays between the sides of two of its sources, by
    the radius in mm that is asked for between these two (0: not at all). A letter's own corners stay."""
    for radius in sorted(set(_radii(welded, radius_between).tolist()) - {0.0}, reverse=True):
        # Rounding numbers the sides anew.
        bays = sharp_bays(welded.outline)
        welded = round_bays(welded, bays[_radii(welded, radius_between) == radius], radius)
    return welded


def _radii(welded: Shape, radius_between: Callable[[Hashable, Hashable], float]) -> Floats:
    """The radius at each sharp bay of a weld (K,)."""
    bays = sharp_bays(welded.outline)
    origins = welded.origins
    if origins is None or not len(bays):
        return np.zeros(len(bays))
    one, other = origins.source[welded.outline.sides.before[bays]], origins.source[bays]
    return np.array(
        [
            radius_between(origins.sources[a], origins.sources[b]) if a != b else 0.0
            for a, b in zip(one.tolist(), other.tolist(), strict=True)
        ]
    )
