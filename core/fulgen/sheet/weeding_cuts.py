"""Cuts that only help weeding: boxes around what is cut, and lines through large waste.

They lie in the waste, at least a clearance away from every piece, and end in it: a help never parts a piece.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region
from fulgen.recipe.cutting import CutPlan

WASTE_MM = 60.0
"""Waste wider than this is cut through. (†)"""

_SHORTEST_MM = 8.0


def weeding_cuts_for(
    groups: Sequence[Sequence[Region]], usable: shapely.Polygon, plan: CutPlan
) -> list[Floats]:
    """The helps of a sheet, paths (N, 2) in mm, for the pieces on it, in groups that were laid as one;
    ``usable`` is what the machine can reach."""
    pieces = [piece for group in groups for piece in group]
    if not pieces or (plan.boxes == "none" and not plan.waste_lines):
        return []
    room = plan.clearance_mm
    clear = shapely.union_all([shapely.buffer(piece, room - 1e-3, quad_segs=4) for piece in pieces])
    around = [
        shapely.box(*shapely.total_bounds(list(group))).buffer(room, join_style="mitre") for group in groups
    ]
    boxed = shapely.union_all(around) if plan.boxes == "each" else shapely.envelope(shapely.union_all(around))
    boxed = shapely.intersection(boxed, usable)
    lines: list[Floats] = []
    if plan.boxes != "none":
        lines += _lines(shapely.difference(boxed.boundary, clear), 1e-6)
    if plan.waste_lines:
        waste = shapely.difference(boxed.buffer(-1e-6 if plan.boxes == "none" else -room), clear)
        lines += _lines(shapely.intersection(_grid(boxed.bounds), waste), _SHORTEST_MM)
    return lines


def _grid(bounds: tuple[float, float, float, float]) -> shapely.MultiLineString:
    x, y, right, bottom = bounds
    across = math.ceil((right - x) / WASTE_MM)
    down = math.ceil((bottom - y) / WASTE_MM)
    upright = [((at, y), (at, bottom)) for at in np.linspace(x, right, across + 1)[1:-1]]
    level = [((x, at), (right, at)) for at in np.linspace(y, bottom, down + 1)[1:-1]]
    return shapely.MultiLineString([*upright, *level])


def _lines(geometry: BaseGeometry, shortest: float) -> list[Floats]:
    merged = shapely.line_merge(geometry) if geometry.geom_type == "MultiLineString" else geometry
    parts = [part for part in shapely.get_parts(merged) if part.geom_type in ("LineString", "LinearRing")]
    return [shapely.get_coordinates(part) for part in parts if part.length > shortest]
