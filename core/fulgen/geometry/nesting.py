"""Which contour lies inside which.

Terms. The *depth* of a contour is the number of contours around it. In a clean outline, contours
of even depth are the outer edges of pieces and those of odd depth are holes; the hole at depth
2k + 1 belongs to the piece whose edge surrounds it at depth 2k.

Contours must not cross each other; they may touch.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry.outline import Floats, Ints


@dataclass(frozen=True, eq=False)
class Nesting:
    """How the rings of a flattened outline lie in each other.

    rings: shapely polygons without holes, (C,); areas: their signed areas, (C,);
    inside: (C, C), True where the row's ring lies inside the column's.
    """

    rings: NDArray[np.object_]
    areas: Floats
    inside: NDArray[np.bool_]

    @cached_property
    def depth(self) -> Ints:
        return np.asarray(self.inside.sum(axis=1))

    def by_piece(self, is_hole: NDArray[np.bool_], kept: NDArray[np.bool_]) -> list[int]:
        """The kept rings in the order of a clean outline: each outer edge followed by its holes."""
        owner = np.arange(len(self.rings))
        # The innermost outer edge around a hole is the one of greatest depth.
        depth_around = np.where(self.inside & (kept & ~is_hole), self.depth + 1, 0)
        owner[is_hole] = depth_around[is_hole].argmax(axis=1)
        order = np.lexsort((is_hole, owner))
        return [int(ring) for ring in order if kept[ring]]


def ring_areas(points: Floats, ring_of: Ints, count: int) -> Floats:
    """Signed areas (C,) of rings given as points (N, 2) and the ring of each (N,)."""
    if not len(points):
        return np.zeros(count)
    starts = np.searchsorted(ring_of, np.arange(count))
    ends = np.searchsorted(ring_of, np.arange(count), side="right")
    following = np.arange(1, len(points) + 1)
    filled = ends > starts
    following[ends[filled] - 1] = starts[filled]
    local = points - points[np.minimum(starts, len(points) - 1)][ring_of]
    after = local[following]
    after[ends[filled] - 1] = 0.0
    cross = local[:, 0] * after[:, 1] - local[:, 1] * after[:, 0]
    return np.asarray(np.bincount(ring_of, cross, count) / 2)


def nest(points: Floats, ring_of: Ints, areas: Floats) -> Nesting:
    """The nesting of flattened contours with known areas (C,), none of them 0."""
    count = len(areas)
    rings: NDArray[np.object_] = np.empty(0, dtype=object)
    if count:
        rings = np.asarray(shapely.polygons(shapely.linearrings(points, indices=ring_of)))
    inside = np.zeros((count, count), np.bool_)
    if count > 1:
        x0, y0, x1, y1 = shapely.bounds(rings).T
        within_box = (x0[:, None] >= x0) & (x1[:, None] <= x1) & (y0[:, None] >= y0)
        within_box &= (y1[:, None] <= y1) & (np.abs(areas)[:, None] < np.abs(areas))
        inner, outer = np.nonzero(within_box)
        if len(inner):
            candidates = np.unique(inner)
            at = np.zeros((count, 2))
            at[candidates] = shapely.get_coordinates(shapely.point_on_surface(rings[candidates]))
            inside[inner, outer] = shapely.contains_xy(rings[outer], at[inner])
    return Nesting(rings, areas, inside)
