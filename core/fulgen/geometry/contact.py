"""Contact: where the edges of shapes come near each other, so near that their flattening could tell a touch
from a gap wrongly. There the twins are made finer, and only there.

Two round strokes that overlap by less than their flattening have twins that are apart, though the joint
between them may be twenty times as wide as deep.
"""

from __future__ import annotations

import numpy as np
import shapely

from fulgen.geometry.outline import Bools, Floats
from fulgen.geometry.shape import Gathered

_PARTS = 8
"""Each chord there is made so many: the flattening is 64 times as true."""


def finer_where_near(gathered: Gathered) -> Gathered:
    """The same shapes with finer twins where an edge of one may touch an edge of another."""
    shapes = gathered.shapes
    boxes = _chord_boxes(gathered)
    of = np.repeat(np.arange(len(shapes)), gathered.rows)
    # Only what lies in the box around another shape can meet it.
    around = shapely.bounds([shape.region for shape in shapes]).T[:, None]
    inside = _meet(boxes[:, :, None], around)
    inside[np.arange(len(of)), of] = False
    rows = np.flatnonzero(inside.any(axis=1))
    rows = rows[np.argsort(boxes[0, rows], kind="stable")]
    # Sweep from left to right: each with those that begin before it ends.
    left, right = boxes[0, rows], boxes[2, rows]
    many = np.searchsorted(left, right, side="right") - np.arange(len(rows)) - 1
    one = np.repeat(np.arange(len(rows)), many)
    other = np.arange(len(one)) - np.repeat(np.cumsum(many) - many, many) + one + 1
    one, other = rows[one], rows[other]
    apart = of[one] != of[other]
    one, other = one[apart], other[apart]
    meets = (boxes[1, one] <= boxes[3, other]) & (boxes[3, one] >= boxes[1, other])
    near = np.zeros(len(of), np.bool_)
    near[one[meets]] = near[other[meets]] = True
    return gathered.finer(near, _PARTS)


def _meet(boxes: Floats, others: Floats) -> Bools:
    """Which boxes, given by left, top, right and bottom, meet."""
    return np.asarray(
        (boxes[0] <= others[2]) & (boxes[2] >= others[0]) & (boxes[1] <= others[3]) & (boxes[3] >= others[1])
    )


def _chord_boxes(gathered: Gathered) -> Floats:
    """Left, top, right and bottom (4, N) of the chords, as far as their curves may reach beyond; the rows
    that close a ring are nowhere."""
    reach = np.repeat([shape.tolerance for shape in gathered.shapes], gathered.rows)
    xy = gathered.source.xy.T
    following = np.roll(xy, -1, axis=1)
    boxes = np.concatenate((np.minimum(xy, following) - reach, np.maximum(xy, following) + reach))
    boxes[:2, gathered.source.chords.closing] = np.inf
    return boxes
