"""Wearing a shape away and growing it again: the one way in which widths are judged.

Worn by half a width all round (a negative buffer, GEOS), a shape is where the middle of a disc of that width
can be: the disc passes while what is left is in one. Grown again it is the *opening* of the shape (J. Serra,
"Image Analysis and Mathematical Morphology", 1982).
"""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

ARC_SEGMENTS = 8
"""Chords to a quarter circle: a width comes out at most 0.5 % wide (1 - cos(pi / 32))."""

WIDTH_TOLERANCE = 0.985
"""Widths are judged to a hundredth: from this share of what is asked for on something is as wide as that."""


def eroded(region: BaseGeometry, width: float) -> NDArray[np.object_]:
    """What is left of a shape worn by half a width, piece by piece."""
    parts = np.asarray(shapely.get_parts(shapely.buffer(region, -width / 2, quad_segs=ARC_SEGMENTS)))
    return parts[~shapely.is_empty(parts)]  # an empty polygon is a part of itself


def is_below_limit(width: float, limit: float) -> bool:
    """Whether a width is less than a limit, as closely as widths are judged."""
    return width < WIDTH_TOLERANCE * limit
