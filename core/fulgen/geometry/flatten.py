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
    # As complex numbers, which halves the steps.
    p0, p1, p2, p3 = np.ascontiguousarray(sides).view(np.complex128)[..., 0].T
    second = np.maximum(np.abs(p0 - p1 - p1 + p2), np.abs(p1 - p2 - p2 + p3))
    steps = np.ceil(np.sqrt((0.75 / tolerance) * second)).astype(np.intp)
    np.clip(steps, 1, MAX_STEPS, out=steps)
    side = np.repeat(np.arange(len(steps)), steps)
    first = np.cumsum(steps) - steps
    t = (np.arange(len(side)) - first[side]) / steps[side]
    forms = np.stack((p3 - p0 + 3 * (p1 - p2), 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0), p0))
    a, b, c, start = forms[:, side]
    points = ((a * t + b) * t + c) * t + start
    return points.view(np.float64).reshape(-1, 2), contour_of[side]


def flat_contours(outline: Outline, tolerance: float) -> list[Floats]:
    """Each contour as the points (N, 2) of a polygon; see ``flatten``."""
    points, contour_of = flatten(outline, tolerance)
    return np.split(points, np.searchsorted(contour_of, np.arange(1, len(outline.contour_starts))))
