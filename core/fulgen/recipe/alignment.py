"""Where aligned parts lie: an edge or the middle of one box on that of another."""

from __future__ import annotations

from dataclasses import replace

from fulgen.geometry.placement import Placement
from fulgen.parts.part import Alignment

Bounds = tuple[float, float, float, float]
"""The box around a part: left, top, right, bottom."""

# How far along its box an edge or the middle is, in shares.
_ACROSS = {"left": 0.0, "centre": 0.5, "right": 1.0}
_DOWN = {"top": 0.0, "middle": 0.5, "bottom": 1.0}

ORIGIN: Bounds = (0.0, 0.0, 0.0, 0.0)


def aligned(place: Placement, box: Bounds, alignment: Alignment, other: Bounds) -> Placement:
    """Where a part lies that would be at ``place``, with ``box`` around it, aligned to the box of another.

    >>> aligned(Placement(5, 7), (5, 0, 25, 7), Alignment(across="centre"), (0, 0, 100, 100))
    Placement(x=45.0, y=7, turn=0.0, scale=1.0, flip=False)
    """
    x, y = place.x, place.y
    if alignment.across is not None:
        share = _ACROSS[alignment.across]
        x += _along(other[0], other[2], share) + place.x - _along(box[0], box[2], share)
    if alignment.down is not None:
        share = _DOWN[alignment.down]
        y += _along(other[1], other[3], share) + place.y - _along(box[1], box[3], share)
    return replace(place, x=x, y=y)


def _along(start: float, end: float, share: float) -> float:
    return start + (end - start) * share
