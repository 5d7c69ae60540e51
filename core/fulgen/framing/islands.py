"""Islands: what would fall out of a plate from which letters are cut, and the bridges that hold it."""

from __future__ import annotations

import numpy as np
import shapely

from fulgen.budget import check
from fulgen.framing.initials import bar
from fulgen.geometry.measure import Box
from fulgen.geometry.operations import without_small
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import clean, weld
from fulgen.joining.strength import Body
from fulgen.joining.stroke_extensions import best_bridge

_PLACES = (0.0, 0.15, -0.15, 0.3, -0.3)
"""Where a bridge is tried across an island, in its widths from the middle: the middle first. (†)"""


def with_bridges(plate: Shape, width: float) -> Shape:
    """A plate with its islands held: each by two upright bridges of a width, one above and one below it, as
    stencils have them; level ones where those would be much longer, and the shortest where neither goes.
    Raises Problem "weld"."""
    held = plate
    for holding in (_holding, _shortest, _shortest):
        # What hangs on by less than half a bridge is an island.
        parts = shapely.get_parts(shapely.buffer(held.region, -width / 4, join_style="mitre"))
        parts = parts[shapely.area(parts) > (width / 8) ** 2]
        if len(parts) < 2:
            break
        main = int(shapely.area(parts).argmax())
        bars: list[Shape] = []
        for n in np.argsort(-shapely.area(parts)).tolist():
            check()
            if n != main:
                rest = polygonal(shapely.union_all(np.delete(parts, n)))
                bars += holding(parts[n], rest, width)
        held = weld([held, *bars]) if bars else held
    # A counter too small for a bridge would be lost on the machine in any case.
    return without_small(held, _LOST * width) if len(shapely.get_parts(held.region)) > 1 else held


_LOST = 0.8


_SIZE = 20.0
"""Bridges are looked for in shares of a size: here one of so many widths. (†)"""


def _shortest(island: Region, rest: Region, width: float) -> list[Shape]:
    size = Placement(scale=_SIZE * width)
    found = best_bridge(Body(size.region_back(island)), Body(size.region_back(rest)), 1 / _SIZE)
    return [] if found is None else [clean(size.outline(found.outline), FLATNESS_MM)]


_LONGER = 1.6
"""Level bridges are laid where upright ones would be so many times as long. (†)"""


def _holding(island: Region, rest: Region, width: float) -> list[Shape]:
    upright, level = _pair(island, rest, width, True), _pair(island, rest, width, False)
    if not upright or (level and _length(level, False) * _LONGER < _length(upright, True)):
        upright = level
    return [bar(box) for box in upright]


def _length(bars: list[Box], upright: bool) -> float:
    return sum(b.height if upright else b.width for b in bars) / max(len(bars), 1) ** 2


def _pair(island: Region, rest: Region, width: float, upright: bool) -> list[Box]:
    """The shortest bridges from an island to both sides, at one of a few places across it."""
    x0, y0, x1, y1 = island.bounds
    middle, across = ((x0 + x1) / 2, x1 - x0) if upright else ((y0 + y1) / 2, y1 - y0)
    best: tuple[float, list[Box]] = (np.inf, [])
    for place in _PLACES:
        at = middle + place * across
        found = [b for b in (_bridge(island, rest, at, width, upright, side) for side in (-1, 1)) if b]
        cost = _length(found, upright) + 0.1 * abs(place) * across if found else np.inf
        if cost < best[0]:
            best = (cost, found)
    return best[1]


def _bridge(island: Region, rest: Region, at: float, width: float, upright: bool, side: int) -> Box | None:
    """The bridge from an island to what lies above it or below (at its left or right) in a lane."""
    x0, y0, x1, y1 = rest.bounds
    half = width / 2
    lane = (
        shapely.box(at - half, y0 - 1, at + half, y1 + 1)
        if upright
        else shapely.box(x0 - 1, at - half, x1 + 1, at + half)
    )
    own, others = shapely.intersection(island, lane), shapely.intersection(rest, lane)
    if own.is_empty or others.is_empty:
        return None
    n = 1 if upright else 0
    own_low, own_high = own.bounds[n], own.bounds[n + 2]
    parts = shapely.get_parts(others)
    bounds = shapely.bounds(parts)
    middle = (own_low + own_high) / 2
    beyond = bounds[:, n + 2] <= middle if side < 0 else bounds[:, n] >= middle
    if not beyond.any():
        return None
    far = float(bounds[beyond, n + 2].max()) if side < 0 else float(bounds[beyond, n].min())
    near = own_low if side < 0 else own_high
    for deep in _BURIED:
        start, end = sorted((far + side * deep * width, near - side * deep * width))
        box = (
            Box(at - half, start, width, end - start)
            if upright
            else Box(start, at - half, end - start, width)
        )
        drawn = shapely.box(box.x, box.y, box.right, box.bottom)
        held = min(shapely.intersection(drawn, region).area for region in (own, others))
        if held >= _ENOUGH * width**2:
            return box
    return None


_BURIED = (1.0, 1.6, 2.4)
"""How deep a bridge goes into what it holds, in its widths: far enough to hold by its area."""

_ENOUGH = 0.6
