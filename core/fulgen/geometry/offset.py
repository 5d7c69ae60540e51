"""Offset: a shape grown or shrunk by an exact distance all around, with its curves kept.

The curve engine draws the outline as a stroke of twice the distance and keeps the stroke's outer or inner
edge; the polygon engine's buffer is the twin that it is held against.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
import pathops
import shapely

from fulgen.geometry import curves
from fulgen.geometry.fit import Complexes, fit_cubic
from fulgen.geometry.flatten import flatten
from fulgen.geometry.outline import CUBIC, MOVE, Floats, Outline
from fulgen.geometry.polygons import Region, polygonal, region_of
from fulgen.geometry.weld import Shape, agreed, clean, weld
from fulgen.problem import Problem

Corners = Literal["round", "mitred"]

MITRE_LIMIT = 4.0
"""A mitred corner reaches no further than this many distances; a sharper one is cut off straight
(SVG 2, section 13.5.5: the initial value of stroke-miterlimit)."""

_QUARTER = 24
"""Chords to a quarter circle in the twin: an arc comes out at most 0.05 % of the distance short."""

_CORNER = 0.15
"""A turn of more than this (radians) is a corner."""


def offset(shape: Shape, distance: float, corners: Corners = "round", halvings: int = 3) -> Shape:
    """The shape with its edge moved outwards by ``distance`` (inwards where negative), in its own units.

    Counters that close and parts that vanish are gone from the result. Where the two engines cannot agree, it
    is done in two steps of half the distance, and so on, ``halvings`` times at most. Raises Problem "weld"
    when they still cannot.
    """
    if not shape or distance == 0.0:
        return shape
    region = region_of(shape.outline, min(shape.tolerance, 0.02 * abs(distance)))
    twin = polygonal(shapely.buffer(region, distance, quad_segs=_QUARTER))
    if twin.is_empty:
        return Shape.empty()
    routes = curves.offsets(distance, corners == "round", MITRE_LIMIT)
    if corners == "round":
        try:
            return _twinned(agreed([shape.outline], twin, shape.tolerance, routes, shapely.MultiPolygon()))
        except Problem:
            if not halvings or abs(distance) < shape.tolerance * 4:
                raise
        # A disc of a radius is two of half of it, one after the other: the curves are gentler then.
        half = offset(shape, distance / 2, corners, halvings - 1)
        return offset(half, distance / 2, corners, halvings - 1)
    # Mitred, it is the same but at corners, where no two engines cut a long mitre off alike.
    return _twinned(
        agreed([shape.outline], twin, shape.tolerance, routes, _around_corners(region, abs(distance)))
    )


def _twinned(shape: Shape) -> Shape:
    """The shape with a twin made from its own outline, so that both are flattened alike from here on."""
    return Shape(shape.outline, region_of(shape.outline, shape.tolerance), shape.tolerance)


def _around_corners(region: Region, distance: float) -> Region:
    """All that a mitre can reach."""
    corners = []
    for ring in shapely.get_parts(shapely.boundary(region)):
        at = shapely.get_coordinates(ring)[:-1]
        into, out = at - np.roll(at, 1, axis=0), np.roll(at, -1, axis=0) - at
        turn = np.angle((out[:, 0] + 1j * out[:, 1]) * (into[:, 0] - 1j * into[:, 1]))
        corners.append(at[np.abs(turn) > _CORNER])
    around = shapely.buffer(shapely.MultiPoint(np.concatenate(corners)), distance * (MITRE_LIMIT + 0.1))
    return polygonal(around)


Ends = Literal["round", "square", "pointed"]


def band(line: Outline, width: float, tolerance: float, ends: Ends = "round") -> Shape:
    """An open line, one contour that is not closed, as a band of a width: with round ends, square ones that
    end where the line does, or pointed ones that go half a width beyond.

    Raises Problem "weld" when the two engines cannot agree.
    """
    flat = open_points(line, min(tolerance, 0.02 * width))
    style: Literal["round", "flat"] = "round" if ends == "round" else "flat"
    spine = shapely.LineString(flat)
    twin = polygonal(shapely.buffer(spine, width / 2, quad_segs=_QUARTER, cap_style=style))
    cap = pathops.LineCap.ROUND_CAP if ends == "round" else pathops.LineCap.BUTT_CAP
    drawn = _twinned(agreed([line], twin, tolerance, curves.bands(width, cap), shapely.MultiPolygon()))
    if ends != "pointed":
        return drawn
    tips = []
    for at, before in ((flat[0], flat[1]), (flat[-1], flat[-2])):
        way = (at - before) / (np.hypot(*(at - before)) or 1.0)
        across = np.array([-way[1], way[0]]) * width / 2
        # The tip starts inside the band, so that no edges run along each other.
        back = at - way * width * 0.05
        corners = np.array([back + across, at + across, at + way * width / 2, at - across, back - across])
        tips.append(clean(Outline.polygon(corners), tolerance))
    return weld([drawn, *tips])


def open_points(line: Outline, tolerance: float) -> Floats:
    """The points of an open line (N, 2), true to a tolerance: its closing side is left out."""
    closed = bool((line.points[0] == line.points[-1]).all())
    points, _ = flatten(line, tolerance)
    return np.concatenate([points, line.points[-1:]]) if closed else points


def stroked(line: Floats, width: float, tolerance: float) -> Shape:
    """A line (N, 2) as a band of a width with round ends, drawn as a smooth curve through its points.

    Raises Problem "weld" when the two engines cannot agree.
    """
    points = line[:, 0] + 1j * line[:, 1]
    if np.abs(points - points[0]).max() < 1e-9:
        points = np.array([points[0], points[0] + 1e-6])
    return band(through(points, max(tolerance, width * 0.04)), width, tolerance)


def through(points: Complexes, tolerance: float) -> Outline:
    """A smooth open line through points, true to a tolerance."""
    along = _fitted(points, tolerance)
    return Outline(
        np.array([MOVE, *[CUBIC] * len(along)], np.uint8),
        np.array([(z.real, z.imag) for z in (along[0][0], *(p for c in along for p in c[1:]))]),
    )


Cubic = tuple[complex, complex, complex, complex]


def _fitted(points: Complexes, tolerance: float) -> list[Cubic]:
    """A row of smooth curves through points, each within the tolerance of them."""

    def way(at: int) -> complex:
        step = max(1, min(3, len(points) // 4))
        low, high = max(0, at - step), min(len(points) - 1, at + step)
        return complex(points[high] - points[low])

    def between(first: int, last: int, depth: int) -> list[Cubic]:
        result = fit_cubic(points[first : last + 1], way(first), way(last))
        if result.error <= tolerance or last - first < 4 or depth > 5:
            return [result.curve]
        middle = (first + last) // 2
        return [*between(first, middle, depth + 1), *between(middle, last, depth + 1)]

    return between(0, len(points) - 1, 0)
