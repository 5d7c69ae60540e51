"""Smooth seams: the notches where letters cross are rounded, and no other corner."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from fulgen.geometry.fillet import round_bays, sharp_bays
from fulgen.geometry.shape import Shape


def smooth_seams(welded: Shape, letters: Sequence[Shape], radius: float) -> Shape:
    """The weld of ``letters`` (bars among them) with the notches at their seams rounded by ``radius`` mm.

    A letter's own corners stay: a notch is a sharp bay that lies on the edges of two of them.
    """
    if radius <= 0:
        return welded
    bays = sharp_bays(welded.outline)
    if not len(bays):
        return welded
    edges = shapely.boundary([letter.region for letter in letters])
    # Flattened edges are true to the tolerance only, and so are the crossings found on them.
    near = max(letter.tolerance for letter in letters) * 1.5
    tree = shapely.STRtree(edges)
    bay, _ = tree.query(shapely.points(bays), predicate="dwithin", distance=near)
    on_two = np.bincount(bay, minlength=len(bays)) >= 2
    return round_bays(welded, bays[on_two], radius)
