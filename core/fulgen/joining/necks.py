"""The neck: how wide a disc can pass from one side to the other inside a shape.

Where two outlines cross at two notches, every way through the joint passes between them, so the neck
is the shortest way across from the outline around one notch to the outline around the other. Anything
odder is worn away until it parts: a shape eroded by r is where the centre of a disc of radius r can
go, and the disc passes while some part of the erosion meets both sides. The erosion is a negative
buffer (GEOS).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from fulgen.geometry.erosion import eroded
from fulgen.geometry.outline import Floats, Point
from fulgen.geometry.polygons import Region
from fulgen.roots import bisect

Ends = tuple[Point, Point]

FINENESS = 5e-4
"""How exact a neck is that is found by wearing away: 0.02 mm where the face's size is 40 mm."""

NEARBY = 0.08
"""How far from a notch the outline still belongs to the seam, as a share of the size: about one stroke
of a bold script. (†)"""

_AT = 1e-6


Edges = tuple[Floats, Floats]
"""The outline from a notch backwards and forwards."""


@dataclass(frozen=True, eq=False)
class Chord:
    """The straight way across a joint where it is narrowest: its width and ends."""

    width: float
    ends: Ends


def narrowest_chord(whole: Region, notches: tuple[Point, Point]) -> Chord | None:
    """The narrowest chord between two notches of the outline of ``whole``.

    None when the chord would leave the shape: then it is no way across.
    """
    rings = [shapely.get_coordinates(ring)[:-1] for ring in shapely.get_parts(shapely.boundary(whole))]
    one, other = notches
    around_one, around_other = _around(rings, one, other), _around(rings, other, one)
    if around_one is None or around_other is None:
        return None
    # Walked in one direction, the outline comes from one shape into a notch and leaves by the other.
    edges = around_one, around_other
    chains = [np.concatenate((behind[::-1], ahead[1:])) for behind, ahead in edges]
    lines = [shapely.LineString(chain) for chain in chains]
    ends = shapely.get_coordinates(shapely.shortest_line(lines[0], lines[1]))
    width = math.hypot(*(ends[1] - ends[0]))
    if not shapely.contains_xy(whole, *ends.mean(axis=0)) and width > _AT:
        return None
    (x0, y0), (x1, y1) = ends.tolist()
    return Chord(width, ((x0, y0), (x1, y1)))


def _around(rings: list[Floats], corner: Point, far: Point) -> Edges | None:
    """The outline from a corner backwards and forwards, NEARBY each way but less than half way to
    ``far``."""
    for ring in rings:
        at = np.flatnonzero(_is_at(ring, corner))
        if len(at):
            ahead = np.concatenate((ring[at[0] :], ring[: at[0] + 1]))
            along, back = _lengths(ahead), _lengths(ahead[::-1])
            opposite = np.flatnonzero(_is_at(ahead, far))
            limits = NEARBY, NEARBY
            if len(opposite):
                limits = 0.4 * back[len(back) - 1 - opposite[-1]], 0.4 * along[opposite[0]]
            return (
                _walk(ahead[::-1], min(limits[0], NEARBY), back),
                _walk(ahead, min(limits[1], NEARBY), along),
            )
    return None


def _is_at(points: Floats, place: Point) -> NDArray[np.bool_]:
    return np.asarray((np.abs(points[:, 0] - place[0]) < _AT) & (np.abs(points[:, 1] - place[1]) < _AT))


def _lengths(line: Floats) -> Floats:
    """How far along a line each of its points (N, 2) is."""
    steps = line[1:] - line[:-1]
    along = np.empty(len(line))
    along[0] = 0.0
    np.cumsum(np.hypot(steps[:, 0], steps[:, 1]), out=along[1:])
    return along


def _walk(line: Floats, distance: float, along: Floats) -> Floats:
    """The line up to a distance from its start, the last point cut to it; ``along`` is how far each is."""
    if distance <= 0:
        return line[:1]
    end = int(np.searchsorted(along, distance))
    if end >= len(along):
        return line
    share = (distance - along[end - 1]) / (along[end] - along[end - 1])
    return np.concatenate((line[:end], [line[end - 1] + share * (line[end] - line[end - 1])]))


def worn_neck(whole: Region, one: BaseGeometry, other: BaseGeometry, ceiling: float) -> float:
    """The neck between ``one`` and ``other``, both inside ``whole``, by wearing it away; at most
    ``ceiling``."""
    if _passes(whole, one, other, ceiling):
        return ceiling
    low, high = bisect(lambda width: _passes(whole, one, other, width), 0.0, ceiling, FINENESS)
    return (low + high) / 2 if low else 0.0


def _passes(whole: Region, one: BaseGeometry, other: BaseGeometry, width: float) -> bool:
    parts = eroded(whole, width)
    return bool((shapely.intersects(parts, one) & shapely.intersects(parts, other)).any())


def stopped_at(whole: Region, one: BaseGeometry, other: BaseGeometry, width: float) -> Ends | None:
    """A chord where a disc a little wider than the neck is stopped; None where nothing stops it."""
    parts = eroded(whole, width + 4 * FINENESS)
    first, second = parts[shapely.intersects(parts, one)], parts[shapely.intersects(parts, other)]
    if not len(first) or not len(second):
        return None
    between = shapely.get_coordinates(
        shapely.shortest_line(shapely.multipolygons(first), shapely.multipolygons(second))
    )
    centre, along = between.mean(axis=0), between[1] - between[0]
    if not along.any() or not shapely.contains_xy(whole, *centre):
        return None
    across = np.array([-along[1], along[0]]) / math.hypot(*along) * (width / 2)
    (x0, y0), (x1, y1) = (centre - across).tolist(), (centre + across).tolist()
    return (x0, y0), (x1, y1)
