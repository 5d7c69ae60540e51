"""Outlines as rings of short straight sides, for the polygon engine and for point-in-shape tests."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fulgen.geometry.outline import LINE, Floats, Ints, Outline

MAX_STEPS = 1024
"""Chords to a side at most, so that no file can ask for an unbounded polygon."""


@dataclass(frozen=True, eq=False)
class Flattened:
    """The chords of an outline, side after side: where each starts, as x + iy (N,), the side it is a chord of
    (N,), the parameters at its start and end (N,), and the contour it belongs to (N,)."""

    points: NDArray[np.complex128]
    side: Ints
    start: Floats
    end: Floats
    contour: Ints


def chords(outline: Outline, tolerance: float) -> Flattened:
    """All contours as chords.

    No point of a curve is further than ``tolerance`` from its chords: a Bézier stays within
    max|B''| / (8 n²) of n equal chords, and |B''| ≤ 6 max(|p0 - 2p1 + p2|, |p1 - 2p2 + p3|)
    (textbook bound on linear interpolation). A contour of one or two sides has at least three chords.
    """
    sides, contour_of = outline.cubics
    # As complex numbers, which halves the steps.
    p0, p1, p2, p3 = np.ascontiguousarray(sides).view(np.complex128)[..., 0].T
    second = np.maximum(np.abs(p0 - p1 - p1 + p2), np.abs(p1 - p2 - p2 + p3))
    steps = np.ceil(np.sqrt((0.75 / tolerance) * second)).astype(np.intp)
    np.clip(steps, 1, MAX_STEPS, out=steps)
    own = np.bincount(contour_of)[contour_of] if len(contour_of) else contour_of
    if len(own) and own.min() < 3:
        curved = outline.sides.verbs != LINE
        flat = ~np.bincount(contour_of, curved).astype(np.bool_)[contour_of]
        np.maximum(steps, np.where((own < 3) & (curved | flat), 4 - own, 1), out=steps)
    side = np.repeat(np.arange(len(steps)), steps)
    first = np.cumsum(steps) - steps
    step = np.arange(len(side)) - first[side]
    t = step / steps[side]
    forms = np.stack((p3 - p0 + 3 * (p1 - p2), 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0), p0))
    a, b, c, start = forms[:, side]
    points = ((a * t + b) * t + c) * t + start
    return Flattened(points, side, t, (step + 1) / steps[side], contour_of[side])


def flatten(outline: Outline, tolerance: float) -> tuple[Floats, Ints]:
    """Points (N, 2) of all contours as polygons, and the contour each point belongs to (N,); see ``chords``.
    Rings are open: the first point is not repeated."""
    flat = chords(outline, tolerance)
    return flat.points.view(np.float64).reshape(-1, 2), flat.contour


def flat_contours(outline: Outline, tolerance: float) -> list[Floats]:
    """Each contour as the points (N, 2) of a polygon; see ``flatten``."""
    points, contour_of = flatten(outline, tolerance)
    return np.split(points, np.searchsorted(contour_of, np.arange(1, len(outline.contour_starts))))


def open_points(line: Outline, tolerance: float) -> Floats:
    """The points of an open line (N, 2), true to a tolerance: the side that would close it is left out."""
    points, _ = flatten(line, tolerance)
    end = line.points[-1]
    if (line.points[0] == end).all():
        return np.concatenate((points, end[None]))
    # The side that closes it starts at its end.
    return points[: np.flatnonzero((points == end).all(axis=1))[-1] + 1]


def drawn_lines(outline: Outline, tolerance: float, *, closed: bool) -> list[Floats]:
    """The lines along all contours, each (N, 2), true to a tolerance: open ones, or closed ones back to their
    start."""
    if not closed:
        return [open_points(contour, tolerance) for contour in outline.contours()]
    return [np.concatenate((line, line[:1])) for line in flat_contours(outline, tolerance)]
