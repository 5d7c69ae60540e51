"""Outlines as rings of short straight sides, for the polygon engine and for point-in-shape tests."""

from __future__ import annotations

import numpy as np

from fulgen.geometry.outline import Floats, Ints, Outline

MAX_STEPS = 1024
"""Chords to a side at most, so that no file can ask for an unbounded polygon."""


def flatten(outline: Outline, tolerance: float) -> tuple[Floats, Ints]:
    """Points (N, 2) of all contours as polygons, and the contour each point belongs to (N,).

    No point of a curve is further than ``tolerance`` from its polygon: a Bézier stays within
    max|B''| / (8 n²) of n equal chords, and |B''| ≤ 6 max(|p0 - 2p1 + p2|, |p1 - 2p2 + p3|)
    (textbook bound on linear interpolation). Rings are open: the first point is not repeated.
    """
    sides, contour_of = outline.cubics
    second = sides[:, :2] - 2 * sides[:, 1:3] + sides[:, 2:]
    bends = np.hypot(second[..., 0], second[..., 1]).max(axis=1, initial=0.0)
    steps = np.ceil(np.sqrt(0.75 * bends / tolerance)).astype(np.intp)
    steps = np.clip(steps, 1, MAX_STEPS)
    side = np.repeat(np.arange(len(sides)), steps)
    first = np.cumsum(steps) - steps
    t = ((np.arange(len(side)) - first[side]) / steps[side])[:, None]
    p0, p1, p2, p3 = (sides[:, k] for k in range(4))
    a, b, c = p3 - p0 + 3 * (p1 - p2), 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0)
    points = ((a[side] * t + b[side]) * t + c[side]) * t + p0[side]
    return points, contour_of[side]
