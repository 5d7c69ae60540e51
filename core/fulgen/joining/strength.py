"""Strength: what a letter holds, and what two letters hold together, when they are worn away.

Terms. Worn by half a width all round (a negative buffer, GEOS), a shape falls into *cores*. It *holds at* a
width while it has one core: then a disc of that width can go everywhere in it. What a letter *gives* is the
greatest width at which it holds; a stroke that tapers to a point takes nothing from that, for the point only
grows shorter. Two letters hold together at a width when the whole, so worn, still has their cores in one.
Join and Check both measure so.
"""

from __future__ import annotations

import math
from functools import cached_property
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.budget import check
from fulgen.geometry.erosion import eroded
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region, moved

_SPECK = 0.3
"""A core smaller than a square of this share of the width holds nothing: it is the last of a serif."""

_SAME = 1e-3
"""Cores this near to each other are one: less than outlines are flattened by."""


def cores(region: Region, width: float) -> NDArray[np.object_]:
    """What is left of a shape worn by half a width, specks left out."""
    check()
    parts = eroded(region, width)
    return parts[shapely.area(parts) > (_SPECK * width) ** 2] if len(parts) else parts


class Body:
    """A letter's body with what is asked of it again and again, kept once it is known; in shares of the
    size."""

    kept_bytes = 30_000
    """About how many bytes a body keeps alive once it is looked at."""

    def __init__(self, region: Region, of: tuple[Body, float, float] | None = None) -> None:
        self.region = region
        self._of = of
        self._main_cores: dict[float, Region | None] = {}
        self._breaks: float | None = None
        self._looked = 0.0
        self.known: dict[str, Any] = {}

    def moved(self, dx: float, dy: float) -> Body:
        """The body elsewhere; what is known of it stays known."""
        if not dx and not dy:
            return self
        body, x, y = self._of or (self, 0.0, 0.0)
        return Body(moved(self.region, dx, dy), (body, x + dx, y + dy))

    @property
    def origin(self) -> tuple[Body, float, float]:
        """The body where it was first looked at, and how far it is from there."""
        return self._of or (self, 0.0, 0.0)

    def core(self, width: float) -> Region | None:
        """The largest core at a width; None where nothing is left."""
        if self._of is not None:
            body, dx, dy = self._of
            own = body.core(width)
            return None if own is None else moved(own, dx, dy)
        if width not in self._main_cores:
            parts = cores(self.region, width)
            self._main_cores[width] = parts[int(shapely.area(parts).argmax())] if len(parts) else None
        return self._main_cores[width]

    def gives(self, most: float) -> float:
        """The greatest width up to ``most`` at which it holds by itself."""
        if self._of is not None:
            return self._of[0].gives(most)
        if self._breaks is None and most > self._looked:
            self._breaks = _breaks_at(self.region, (self._looked, most))
            self._looked = most
        return most if self._breaks is None else min(most, self._breaks)

    @cached_property
    def sides(self) -> tuple[Floats, Floats]:
        """Where the straight sides of the outline start and end, (N, 2) each."""
        if self._of is not None:
            body, dx, dy = self._of
            starts, ends = body.sides
            by = np.array((dx, dy))
            return starts + by, ends + by
        points, ring = shapely.get_coordinates(
            shapely.get_parts(shapely.boundary(shapely.get_parts(self.region))), return_index=True
        )
        inner = ring[1:] == ring[:-1]
        return points[:-1][inner], points[1:][inner]

    @cached_property
    def rings(self) -> list[Floats]:
        """Its contours as points (N, 2), each closed: the last point is the first."""
        if self._of is not None:
            body, dx, dy = self._of
            by = np.array((dx, dy))
            return [ring + by for ring in body.rings]
        parts = shapely.get_parts(self.region)
        return [shapely.get_coordinates(ring) for part in parts for ring in (part.exterior, *part.interiors)]


_STEP = 0.005
"""Letters are looked at in steps of this width: one that has come apart may be one again once a part of it is
gone, and has come apart all the same."""

_REAL = 0.12
"""A part of a letter counts that is this share of its largest: less is a serif's."""


_MOST_LOST = 0.25
"""A letter that has lost so much of itself has lost its hairlines, and does not hold, for all that the rest
of it is in one. (†)"""


def _holds(region: Region, width: float) -> bool:
    parts = cores(region, width)
    areas = shapely.area(parts)
    if not len(areas) or int((areas > _REAL * areas.max()).sum()) != 1:
        return False
    return _grown(parts, width / 2) >= (1 - _MOST_LOST) * region.area


def _grown(parts: NDArray[np.object_], by: float) -> float:
    """The area of shapes grown by a distance: A + P r + pi r² (J. Steiner's formula, 1840; exact for convex
    ones), less pi r² for every hole."""
    holes = shapely.get_num_interior_rings(parts)
    return float((shapely.area(parts) + shapely.length(parts) * by + math.pi * by * by * (1 - holes)).sum())


def _breaks_at(region: Region, between: tuple[float, float]) -> float | None:
    """The width at which a letter first comes apart or is gone, looked for between two widths; None where it
    holds at all of them."""
    for n in range(math.floor(between[0] / _STEP + 1e-9) + 1, math.ceil(between[1] / _STEP - 1e-9) + 1):
        if not _holds(region, n * _STEP):
            low, high = (n - 1) * _STEP, n * _STEP
            for _ in range(3):
                middle = (low + high) / 2
                low, high = (middle, high) if _holds(region, middle) else (low, middle)
            return low
    return None


def held_together(whole: Region, left: Body, right: Body, width: float) -> bool:
    """Whether two bodies hold together at a width in a whole that has both in it."""
    one, other = left.core(width), right.core(width)
    if one is None or other is None:
        return False
    parts = cores(whole, width)
    if not len(parts):
        return False
    ends = shapely.point_on_surface([one, other])
    near = shapely.dwithin(parts[:, None], ends, _SAME)
    return bool(near.all(axis=1).any())


def neck_between(whole: Region, left: Body, right: Body, ceiling: float, fineness: float) -> float:
    """The greatest width up to ``ceiling`` at which two bodies hold together in a whole."""
    if held_together(whole, left, right, ceiling):
        return ceiling
    low, high = 0.0, ceiling
    while high - low > fineness:
        middle = (low + high) / 2
        low, high = (middle, high) if held_together(whole, left, right, middle) else (low, middle)
    return low
