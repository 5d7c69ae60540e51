"""Contact: where the edges of shapes come near each other, so near that their flattening could tell a touch
from a gap wrongly. There the twins are made finer, and only there.

Two round strokes that overlap by less than their flattening have twins that are apart, though the joint
between them may be twenty times as wide as deep.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from fulgen.geometry import bezier
from fulgen.geometry.outline import LINE, Bools, Floats
from fulgen.geometry.shape import Shape

_PARTS = 8
"""Each chord there is made so many: the flattening is 64 times as true."""


def finer_where_near(shapes: Sequence[Shape]) -> list[Shape]:
    """The same shapes with finer twins where an edge of one may touch an edge of another."""
    if len(shapes) < 2:
        return list(shapes)
    x0, y0, x1, y1 = shapely.bounds([shape.region for shape in shapes]).T
    reach = max(shape.tolerance for shape in shapes)
    meets = (x0[:, None] <= x1 + reach) & (x1[:, None] >= x0 - reach)
    meets &= (y0[:, None] <= y1 + reach) & (y1[:, None] >= y0 - reach)
    boxes: dict[int, Floats] = {}
    near: dict[int, Bools] = {}
    for one, other in np.argwhere(np.triu(meets, 1)).tolist():
        for n in (one, other):
            if n not in boxes:
                boxes[n] = _chord_boxes(shapes[n])
                near[n] = np.zeros(boxes[n].shape[1], np.bool_)
        common = np.array([max(x0[one], x0[other]), max(y0[one], y0[other]),
                           min(x1[one], x1[other]), min(y1[one], y1[other])])  # fmt: skip
        rows = [np.flatnonzero(_meet_box(boxes[n], common)) for n in (one, other)]
        if not (len(rows[0]) and len(rows[1])):
            continue
        a, b = boxes[one][:, rows[0], None], boxes[other][:, None, rows[1]]
        touch = (a[0] <= b[2]) & (a[2] >= b[0]) & (a[1] <= b[3]) & (a[3] >= b[1])
        near[one][rows[0]] |= touch.any(axis=1)
        near[other][rows[1]] |= touch.any(axis=0)
    return [_finer(shape, near[n]) if n in near else shape for n, shape in enumerate(shapes)]


def _meet_box(boxes: Floats, box: Floats) -> Bools:
    return np.asarray(
        (boxes[0] <= box[2]) & (boxes[2] >= box[0]) & (boxes[1] <= box[3]) & (boxes[3] >= box[1])
    )


def _chord_boxes(shape: Shape) -> Floats:
    """Left, top, right and bottom (4, N) of the chords of a twin, as far as their curves may reach beyond;
    the rows that close its rings are nowhere."""
    xy = shapely.get_coordinates(shape.region).T
    following = np.concatenate((xy[:, 1:], xy[:, :1]), axis=1)
    low, high = np.minimum(xy, following), np.maximum(xy, following)
    boxes = np.concatenate((low - shape.tolerance, high + shape.tolerance))
    boxes[:2, shape.chords.closing] = np.inf
    return boxes


def _finer(shape: Shape, near: Bools) -> Shape:
    """The shape with those chords of its twin divided that lie on curves."""
    chords = shape.chords
    rows = np.flatnonzero(near & (shape.outline.sides.verbs[chords.side] != LINE) & ~chords.closing)
    if not len(rows):
        return shape
    cubics = np.ascontiguousarray(shape.outline.sides.cubics).view(np.complex128)[..., 0].T
    shares = np.arange(1, _PARTS) / _PARTS
    start, end = chords.start[rows, None], chords.end[rows, None]
    at = start + shares * (end - start)
    points = bezier.point(cubics[:, chords.side[rows], None], at)
    return shape.with_vertices(rows, at, points)
