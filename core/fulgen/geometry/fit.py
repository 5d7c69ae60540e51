"""One smooth curve through many points: what is drawn where points are taken away.

Least squares over the lengths of the two handles, with the ends and their directions held (P. J.
Schneider, "An Algorithm for Automatically Fitting Digitized Curves", Graphics Gems, 1990).
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from fulgen.geometry.bezier import bernstein, derivative, point, second_derivative

Complexes = NDArray[np.complex128]

_ROUNDS = 12


class Fitted(NamedTuple):
    """A cubic Bézier as four points, and the greatest distance between it and the line through the points it
    stands for, either way."""

    curve: tuple[complex, complex, complex, complex]
    error: float


def fit_cubic(points: Complexes, leaving: complex, arriving: complex) -> Fitted:
    """The cubic from the first point to the last of ``points`` (N,) that comes nearest to those between.

    ``leaving`` and ``arriving`` are directions: of the curve at its start, and at its end.
    """
    start, end = complex(points[0]), complex(points[-1])
    along = np.concatenate(([0.0], np.cumsum(np.abs(np.diff(points)))))
    total = float(along[-1]) or 1.0
    out, back = leaving / (abs(leaving) or 1.0), -arriving / (abs(arriving) or 1.0)
    times = along / total
    for _ in range(_ROUNDS):
        lengths = _handle_lengths(points, times, start, end, out, back, total)
        curve = (start, start + out * lengths[0], end + back * lengths[1], end)
        times = _nearest_times(curve, points, times)
    missed = float(np.abs(point(curve, times) - points).max())
    return Fitted(curve, max(missed, furthest_off(point(curve, np.linspace(0, 1, _LOOKS)), points)))


_LOOKS = 65
"""Places of a curve at which its distance from what it stands for is looked at."""


def furthest_off(places: Complexes, points: Complexes) -> float:
    """The greatest distance of places from the line through points."""
    starts, sides = points[:-1], np.diff(points)
    along = ((places[:, None] - starts) * sides.conj()).real / np.maximum(np.abs(sides) ** 2, 1e-300)
    off = np.abs(places[:, None] - starts - np.clip(along, 0.0, 1.0) * sides)
    return float(off.min(axis=1).max())


def _handle_lengths(
    points: Complexes, t: NDArray[np.float64], start: complex, end: complex,
    out: complex, back: complex, total: float,
) -> tuple[float, float]:  # fmt: skip
    """The two lengths that bring the curve nearest to the points in the sense of least squares."""
    b0, b1, b2, b3 = bernstein(t)
    a1, a2 = out * b1, back * b2
    rest = points - start * (b0 + b1) - end * (b2 + b3)

    def dot(a: NDArray[Any], b: NDArray[Any]) -> float:
        return float((a.real * b.real + a.imag * b.imag).sum())

    c11, c12, c22 = dot(a1, a1), dot(a1, a2), dot(a2, a2)
    x1, x2 = dot(a1, rest), dot(a2, rest)
    determinant = c11 * c22 - c12 * c12
    if determinant > 1e-12 * max(c11 * c22, 1e-30):
        lengths = ((x1 * c22 - x2 * c12) / determinant, (c11 * x2 - c12 * x1) / determinant)
        if 1e-4 * total < min(lengths) and max(lengths) < 3 * total:
            return lengths
    # Wu and Barsky's third of the way, where the points say too little (as in Schneider's).
    return (total / 3, total / 3)


def _nearest_times(
    curve: tuple[complex, ...], points: Complexes, t: NDArray[np.float64]
) -> NDArray[np.float64]:
    """One step of Newton's method towards the time at which the curve passes each point."""
    first, second = derivative(curve, t), second_derivative(curve, t)
    off = point(curve, t) - points
    above = (off * first.conj()).real
    below = np.abs(first) ** 2 + (off * second.conj()).real
    step = np.where(np.abs(below) > 1e-12, above / np.where(below == 0, 1.0, below), 0.0)
    moved = np.clip(t - step, 0.0, 1.0)
    moved[0], moved[-1] = 0.0, 1.0
    return np.asarray(np.maximum.accumulate(moved))
