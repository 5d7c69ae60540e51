"""Bands: where a name goes in a frame, and what it has to run into there."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np
import shapely

from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.polygons import Region, polygonal
from fulgen.joining.strength import Body

Manner = Literal["across", "upright", "stand", "between", "within", "around"]
"""How a name is held: across runs into edges at its left and right; upright into one above and one below;
stand has its feet in an edge below; between runs into posts at both sides and has its feet in an edge below;
within touches nothing; around runs along a ring, its feet in one edge and its tops in another, if there is
one."""

_THROUGH_MM = 0.02
"""What is out of the material by less is still in it: outlines are flattened."""

_SHARE = 0.05
"""Strengths are looked for in shares of a size: here one of which the neck asked for is so much. (†)"""

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

    @cached_property
    def opening(self) -> Outline:
        """What is open of its place, as it is shown."""
        b = self.box
        shown: shapely.Geometry = shapely.box(b.x, b.y, b.right, b.bottom)
        for open_ in (self.sides, self.rows):
            if open_ is not None:
                shown = shapely.intersection(shown, open_)
        parts = shapely.get_parts(shown)
        return Outline.joined(
            Outline.polygon(shapely.get_coordinates(shapely.simplify(part.exterior, 0.02))[:-1])
            for part in parts
            if part.geom_type == "Polygon" and not part.is_empty
        )

    def depths(self, points: Floats, across: bool) -> Floats:
        """How deep points (N, 2) lie in the edges at the sides, or in those above and below: negative for
        those that are still in the open, (N,)."""
        opening = self._across if across else self._along
        away = shapely.distance(opening.rim, shapely.points(points))
        return np.where(shapely.intersects_xy(opening.region, points), -away, away)

    def decisive(self, points: Floats, across: bool) -> Floats:
        """Those of points (N, 2) among which the deepest one is, wherever they are moved together and however
        large they are made. In a convex opening depth is a convex function (the signed distance to a convex
        set), so that it is greatest at a corner of their hull."""
        if not (self._across if across else self._along).is_convex:
            return points
        return shapely.get_coordinates(shapely.convex_hull(shapely.multipoints(points)))

    @cached_property
    def _across(self) -> _Opening:
        return _Opening.of(self.sides)

    @cached_property
    def _along(self) -> _Opening:
        return _Opening.of(self.rows)

    @cached_property
    def pieces(self) -> list[Region]:
        """The pieces of its edges."""
        return [polygonal(piece) for piece in shapely.get_parts(self.edges)]

    def gives(self, target: float) -> list[float]:
        """What each piece of the edges gives of a neck in mm."""
        if target not in self._given:
            scale = _SHARE / target
            self._given[target] = [
                Body(shapely.transform(piece, lambda xy: xy * scale)).gives(_SHARE) / scale
                for piece in self.pieces
            ]
        return self._given[target]

    @cached_property
    def _given(self) -> dict[float, list[float]]:
        return {}

    def pierced(self, points: Floats) -> bool:
        """Whether a name goes through the material that it runs into."""
        beyond = shapely.distance(self.edges, shapely.points(points)) > _THROUGH_MM
        return bool((beyond & (self.depths(points, across=self.sides is not None) > 0)).any())


class _Opening(NamedTuple):
    """What is open, made ready to be asked about many points, its rim, and whether it is convex."""

    region: Region
    rim: shapely.Geometry
    is_convex: bool

    @classmethod
    def of(cls, region: Region | None) -> _Opening:
        assert region is not None
        shapely.prepare(region)
        hull = shapely.area(shapely.convex_hull(region))
        return cls(region, shapely.boundary(region), bool(hull - shapely.area(region) <= 1e-9 * hull))


def strip(top: float, bottom: float) -> Region:
    """What is open between two levels."""
    return shapely.box(-FAR, top, FAR, bottom)


def gap(left: float, right: float) -> Region:
    """What is open between two posts."""
    return shapely.box(left, -FAR, right, FAR)


_LOOKS = 241
"""So many lines are looked along when the opening around a place is found."""


def opening_around(box: Box, material: Region, across: bool) -> Region:
    """What is open of a place between the material at its left and right, or above and below it: the hole
    that the place lies in, if it lies in one, else what is seen from its middle line, along lines of sight.
    Where nothing is in sight, the place ends there."""
    x, y = box.x + box.width / 2, box.y + box.height / 2
    middle_point = shapely.Point(x, y)
    for part in shapely.get_parts(material):
        for ring in part.interiors:
            hole = shapely.Polygon(ring)
            if shapely.contains(hole, middle_point):
                return hole
    low, high, middle = (box.y, box.bottom, x) if across else (box.x, box.right, y)
    lines = np.linspace(low, high, _LOOKS)
    starts = np.stack(
        [np.full(_LOOKS, middle), lines] if across else [lines, np.full(_LOOKS, middle)], axis=1
    )
    reach = 0.5 * (box.width if across else box.height) + max(box.width, box.height)
    ends: list[Floats] = []
    for side in (-1.0, 1.0):
        far = starts + (np.array([side * reach, 0.0]) if across else np.array([0.0, side * reach]))
        seen = shapely.intersection(material, shapely.linestrings(np.stack([starts, far], axis=1)))
        # Of what stands one behind the other, the nearest counts.
        nearest = shapely.distance(seen, shapely.points(starts))
        ends.append(middle + side * np.where(np.isnan(nearest), reach, nearest))
    # Beyond the place the edges go on as they are at its ends: what stands out there is held by them, too.
    along = np.concatenate([[low - FAR], lines, [high + FAR]])
    one, other = (np.concatenate([end[:1], end, end[-1:]]) for end in ends)
    across_them = np.concatenate([one, other[::-1]])
    along_them = np.concatenate([along, along[::-1]])
    corners = np.stack([across_them, along_them] if across else [along_them, across_them], axis=1)
    return polygonal(shapely.make_valid(shapely.Polygon(corners)))
