"""Figures with known measures, for tests."""

from __future__ import annotations

import math

import numpy as np

from fulgen.geometry.outline import CUBIC, MOVE, Outline
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean

MM_PER_INCH = 25.4
"""International yard and pound agreement, 1959 (NIST SP 811, appendix B.6)."""

PX_PER_MM = 96 / MM_PER_INCH
"""1 in = 96 px: CSS Values and Units 4, section 6.2, from which SVG 2, section 8.9, takes its units."""

ARCS = 16
"""Cubic arcs to a circle: with 16 the area is true to 7e-8 (measured against pi r²)."""


def disc(x: float = 0.0, y: float = 0.0, r: float = 10.0, hole: bool = False) -> Outline:
    """A circle of cubic arcs; the handle of an arc of angle a is 4/3 tan(a/4) radii long (textbook)."""
    step = 2 * math.pi / ARCS
    handle = 4 / 3 * math.tan(step / 4)
    points = [(x + r, y)]
    for i in range(ARCS):
        a, b = i * step, (i + 1) * step
        points += [
            (x + r * (math.cos(a) - handle * math.sin(a)), y + r * (math.sin(a) + handle * math.cos(a))),
            (x + r * (math.cos(b) + handle * math.sin(b)), y + r * (math.sin(b) - handle * math.cos(b))),
            (x + r * math.cos(b), y + r * math.sin(b)),
        ]
    points[-1] = points[0]
    verbs = np.full(ARCS + 1, CUBIC, np.uint8)
    verbs[0] = MOVE
    outline = Outline(verbs, np.array(points))
    return outline.reversed() if hole else outline


def ring(x: float, y: float, outer: float, inner: float) -> Outline:
    return Outline.joined([disc(x, y, outer), disc(x, y, inner, hole=True)])


def rectangle(x: float, y: float, width: float, height: float) -> Outline:
    return Outline.polygon([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])


def shape(outline: Outline, tolerance: float = 0.01) -> Shape:
    return clean(outline, tolerance)


def lens_area(r: float, distance: float) -> float:
    """Overlap of two circles of radius r (Weisstein, "Circle-Circle Intersection", MathWorld, eq. 14)."""
    d = distance
    return 2 * r * r * math.acos(d / (2 * r)) - d / 2 * math.sqrt(4 * r * r - d * d)
