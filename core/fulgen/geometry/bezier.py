"""Cubic Béziers: their points, tangents and parts, each formula once.

A side is four control points, whatever they are made of: complex numbers, rows of an array (4, 2), or
arrays of many sides at once (4, S, 2). Times run from 0 to 1. The forms are textbook (Bernstein, Casteljau).
"""

from __future__ import annotations

import cmath
import math
from typing import Any

import numpy as np

from fulgen.geometry.outline import Floats


def bernstein(t: Any) -> tuple[Any, Any, Any, Any]:
    """The weights of the four control points."""
    return (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3


def point(side: Any, t: Any) -> Any:
    """The point of a side at a time."""
    p0, p1, p2, p3 = side
    b0, b1, b2, b3 = bernstein(t)
    return b0 * p0 + b1 * p1 + b2 * p2 + b3 * p3


def derivative(side: Any, t: Any) -> Any:
    """How the point moves with time."""
    p0, p1, p2, p3 = side
    return 3 * ((1 - t) ** 2 * (p1 - p0) + 2 * t * (1 - t) * (p2 - p1) + t * t * (p3 - p2))


def second_derivative(side: Any, t: Any) -> Any:
    """How that changes with time."""
    p0, p1, p2, p3 = side
    return 6 * ((1 - t) * (p2 - 2 * p1 + p0) + t * (p3 - 2 * p2 + p1))


def bend_through(start: Floats, middle: Floats, end: Floats) -> Floats:
    """The side (4, 2) of one bend, a parabola, that is at a point at half its time."""
    control = 2 * middle - (start + end) / 2
    return np.array([start, start + 2 / 3 * (control - start), end + 2 / 3 * (control - end), end])


def part(side: Floats, start: float, end: float) -> Floats:
    """A side (4, 2) from one time to another (de Casteljau, as blossoms)."""

    def blossom(a: float, b: float, c: float) -> Floats:
        p = side
        for t in (a, b, c):
            p = (1 - t) * p[:-1] + t * p[1:]
        return np.asarray(p[0])

    return np.array([blossom(start, start, start), blossom(start, start, end), blossom(start, end, end),
                     blossom(end, end, end)])  # fmt: skip


def arc(centre: complex, arm: complex, angle: float) -> list[list[complex]]:
    """An arc from ``centre + arm``, turned by an angle (radians), as cubics of a quarter circle at most: the
    handle of an arc of angle a is 4/3 tan(a/4) radii long (textbook)."""
    count = max(1, math.ceil(abs(angle) / (math.pi / 2) - 1e-9))
    step = angle / count
    handle = 4 / 3 * math.tan(step / 4) * 1j
    found = []
    for _ in range(count):
        turned = arm * cmath.exp(1j * step)
        found.append(
            [centre + arm, centre + arm * (1 + handle), centre + turned * (1 - handle), centre + turned]
        )
        arm = turned
    return found
