"""Smooth seams: the notches where letters cross are rounded, and no other corner."""

from __future__ import annotations

from collections.abc import Callable, Hashable

import numpy as np

from fulgen.geometry.fillet import round_bays, sharp_bays
from fulgen.geometry.shape import Shape


def smooth_seams(welded: Shape, is_letter: Callable[[Hashable], bool], radius: float) -> Shape:
    """A weld with the notches at its seams rounded by ``radius`` mm: sharp bays between the sides of two of
    its sources that are letters (bars among them). A letter's own corners stay."""
    origins = welded.origins
    if radius <= 0 or origins is None:
        return welded
    bays = sharp_bays(welded.outline)
    if not len(bays):
        return welded
    letters = np.array([is_letter(source) for source in origins.sources])
    one, other = origins.source[welded.outline.sides.before[bays]], origins.source[bays]
    return round_bays(welded, bays[(one != other) & letters[one] & letters[other]], radius)
