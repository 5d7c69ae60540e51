"""Bands: where a name goes in a frame, and what it has to run into there."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
import shapely

from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region, polygonal

Manner = Literal["across", "upright", "stand", "between", "within", "around"]
"""How a name is held: across runs into edges at its left and right; upright into one above and one below;
stand has its feet in an edge below; between runs into posts at both sides and has its feet in an edge below;
within touches nothing; around runs along a ring, its feet in one edge and its tops in another, if there is
one."""

_THROUGH_MM = 0.02
"""What is out of the material by less is still in it: outlines are flattened."""

FAR = 10_000.0
"""Where nothing bounds a band it is open so far."""


@dataclass(frozen=True, eq=False)
class Band:
    """A place for a name.

    box: the place, as a maker sees it. sides: what is open between the edges at its left and right, rows:
    between those above and below; None where there are none. edges: the material that is run into.
    """

    box: Box
    manner: Manner
    edges: Region
    sides: Region | None = None
    rows: Region | None = None
    alike: bool = False
    radii: tuple[float, float, bool] | None = None
    bottom: bool = False

    @cached_property
    def middle(self) -> tuple[float, float]:
        return self.box.x + self.box.width / 2, self.box.y + self.box.height / 2

    def depths(self, points: Floats, across: bool) -> Floats:
        """How deep points (N, 2) lie in the edges at the sides, or in those above and below: negative for
        those that are still in the open, (N,)."""
        opening = self.sides if across else self.rows
        assert opening is not None
        at = shapely.points(points)
        into = shapely.distance(opening, at)
        lacking = shapely.distance(shapely.boundary(opening), at)
        return np.where(into > 0, into, -lacking)

    def pierced(self, points: Floats) -> bool:
        """Whether a name goes through the material that it runs into."""
        beyond = shapely.distance(self.edges, shapely.points(points)) > _THROUGH_MM
        return bool((beyond & (self.depths(points, across=self.sides is not None) > 0)).any())


def strip(top: float, bottom: float) -> Region:
    """What is open between two levels."""
    return shapely.box(-FAR, top, FAR, bottom)


def gap(left: float, right: float) -> Region:
    """What is open between two posts."""
    return shapely.box(left, -FAR, right, FAR)


_LOOKS = 241
"""So many lines are looked along when the opening around a place is found."""


def opening_around(box: Box, material: Region, across: bool) -> Region:
    """What is open of a place between the material at its left and right, or above and below it: seen from
    the middle line of the place, along lines of sight. Where nothing is in sight, the place ends there."""
    x, y = box.x + box.width / 2, box.y + box.height / 2
    lines = np.linspace(box.y, box.bottom, _LOOKS) if across else np.linspace(box.x, box.right, _LOOKS)
    reach = max(box.width, box.height)
    ends: list[tuple[list[float], list[float]]] = []
    middle = x if across else y
    for side in (-1.0, 1.0):
        far = middle + side * (0.5 * (box.width if across else box.height) + reach)
        if across:
            sight = shapely.linestrings([[(middle, v), (far, v)] for v in lines])
        else:
            sight = shapely.linestrings([[(v, middle), (v, far)] for v in lines])
        seen = shapely.intersection(material, sight)
        bounds = shapely.bounds(seen)
        low, high = (bounds[:, 0], bounds[:, 2]) if across else (bounds[:, 1], bounds[:, 3])
        edge = np.where(np.isnan(low), far, high if side < 0 else low)
        # Of what stands one behind the other, the nearest counts.
        nearest = shapely.distance(seen, shapely.points(sight_starts(lines, middle, across)))
        edge = np.where(np.isnan(nearest), edge, middle + side * nearest)
        ends.append((edge.tolist(), lines.tolist()))
    (one, along), (other, _) = ends
    corners = [*zip(one, along, strict=True), *zip(other[::-1], along[::-1], strict=True)]
    found = shapely.Polygon(corners if across else [(b, a) for a, b in corners])
    return polygonal(shapely.make_valid(found))


def sight_starts(lines: Floats, middle: float, across: bool) -> Floats:
    """Where the lines of sight begin, (N, 2)."""
    start = np.full_like(lines, middle)
    return np.stack([start, lines] if across else [lines, start], axis=1)
