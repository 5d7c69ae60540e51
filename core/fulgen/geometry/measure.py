"""Measures of outlines, taken from the curves themselves and not from a polygon."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from fulgen.geometry import bezier
from fulgen.geometry.outline import Floats, Outline


class Box(NamedTuple):
    """A rectangle along the axes, in mm; y down."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.x + self.width

    @property
    def bottom(self) -> float:
        return self.y + self.height


def contour_areas(outline: Outline) -> Floats:
    """Signed area of each contour in mm², (C,): positive for outer contours, negative for holes.

    Green's theorem, ∮ x dy, which is a polynomial for a cubic Bézier; with control points
    p0…p3 and cross products pi×pj it is (from memory, checked against discs and polygons in tests)
    (6 p0×p1 + 3 p0×p2 + p0×p3 + 3 p1×p2 + 3 p1×p3 + 6 p2×p3) / 20.
    """
    sides, contour_of = outline.cubics
    # Measuring about each contour's own first point keeps the sums small and exact.
    firsts = _complex(outline.points[outline.point_starts[outline.contour_starts]])[contour_of]
    p0, p1, p2, p3 = _complex(sides).T - firsts
    # The cross product of two points is the imaginary part of one's conjugate times the other.
    crosses = p0.conj() * (6 * p1 + 3 * p2 + p3) + p1.conj() * (3 * (p2 + p3)) + p2.conj() * (6 * p3)
    count = len(outline.contour_starts)
    return np.asarray(np.bincount(contour_of, crosses.imag / 20, count).astype(np.float64))


def _complex(points: Floats) -> NDArray[np.complex128]:
    """Points (..., 2) as complex numbers (...), x + iy."""
    return np.ascontiguousarray(points).view(np.complex128)[..., 0]


def area(outline: Outline) -> float:
    """Area in mm² of a clean outline (holes taken away)."""
    return float(contour_areas(outline).sum())


def contour_boxes(outline: Outline) -> Floats:
    """Left, top, right and bottom of each contour (C, 4): the curves' turning points, not their
    control points."""
    sides, contour_of = outline.cubics
    ends = sides[:, ::3]
    low, high = ends.min(axis=1), ends.max(axis=1)
    # Only where a handle stands outside the ends can a curve turn back between them.
    controls = sides[:, 1:3]
    turning = ((controls < low[:, None]) | (controls > high[:, None])).any(axis=(1, 2))
    if turning.any():
        turned = _turning_points(sides[turning])
        low[turning] = np.minimum(low[turning], turned.min(axis=0))
        high[turning] = np.maximum(high[turning], turned.max(axis=0))
    # A contour without sides is a point.
    points = outline.points[outline.point_starts[outline.contour_starts]]
    boxes = np.concatenate((points, points), axis=1)
    present, first = np.unique(contour_of, return_index=True)
    if len(first):
        boxes[present, :2] = np.minimum.reduceat(low, first)
        boxes[present, 2:] = np.maximum.reduceat(high, first)
    return boxes


def _turning_points(sides: Floats) -> Floats:
    """Where sides (S, 4, 2) turn back on each axis, (2, S, 2); their starts where they do not."""
    p0, p1, p2, p3 = (sides[:, k] for k in range(4))
    # B'(t) = 0 is a t² + b t + c = 0 on each axis.
    a, b, c = 3 * (p3 - 3 * p2 + 3 * p1 - p0), 6 * (p2 - 2 * p1 + p0), 3 * (p1 - p0)
    with np.errstate(divide="ignore", invalid="ignore"):
        root = np.sqrt(b * b - 4 * a * c)
        # Numerically stable pair of roots; the second also serves a = 0.
        q = -0.5 * (b + np.copysign(root, b))
        times = np.stack([q / a, c / q])
    times = np.where((times > 0) & (times < 1), times, 0.0)
    return np.asarray(((a / 3 * times + b / 2) * times + c) * times + p0)


def box_around(boxes: Floats) -> Box:
    """The smallest box around boxes given as left, top, right and bottom (N, 4)."""
    if not len(boxes):
        return Box(0.0, 0.0, 0.0, 0.0)
    (left, top), (right, bottom) = boxes[:, :2].min(axis=0).tolist(), boxes[:, 2:].max(axis=0).tolist()
    return Box(left, top, right - left, bottom - top)


def box(outline: Outline) -> Box:
    """The smallest box around an outline."""
    return box_around(contour_boxes(outline))


_STRAIGHT = 1e-9
"""Handles this near to the thirds of a side, in mm, make it straight."""

_GAUSS_AT, _GAUSS_WEIGHT = np.polynomial.legendre.leggauss(8)


def length(outline: Outline) -> float:
    """Length of all contours in mm: what the knife travels while it is down.

    Gauss-Legendre quadrature of |B'(t)| with 8 points a side.
    """
    sides, _ = outline.cubics
    p0, p1, p2, p3 = z = _complex(sides).T
    # A straight side, its handles at thirds, is as long as it is.
    straight = (np.abs(p1 - (2 * p0 + p3) / 3) < _STRAIGHT) & (np.abs(p2 - (p0 + 2 * p3) / 3) < _STRAIGHT)
    curved = z[:, ~straight]
    speed = np.abs(bezier.derivative(curved[:, None], ((_GAUSS_AT + 1) / 2)[:, None]))
    return float((_GAUSS_WEIGHT @ speed).sum() / 2 + np.abs((p3 - p0)[straight]).sum())


def node_count(outline: Outline) -> int:
    """How many points lie on the outline: one for each side that has a length."""
    return len(outline.cubics[0])
