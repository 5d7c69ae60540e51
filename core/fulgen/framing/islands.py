"""Islands: what would fall out of a plate from which letters are cut, and the bridges that hold it."""

from __future__ import annotations

import numpy as np
import shapely

from fulgen.budget import check
from fulgen.framing.initials import bar
from fulgen.geometry.measure import Box
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.weld import Shape, weld

_PLACES = (0.0, 0.15, -0.15, 0.3, -0.3)
"""Where a bridge is tried across an island, in its widths from the middle: the middle first. (†)"""


def with_bridges(plate: Shape, width: float) -> Shape:
    """A plate with its islands held: each by two upright bridges of a width, one above and one below it, as
    stencils have them; level ones where those would be much longer. Raises Problem "weld"."""
    parts = shapely.get_parts(plate.region)
    if len(parts) < 2:
        return plate
    main = int(shapely.area(parts).argmax())
    bars = []
    held = [parts[main]]
    islands = sorted((p for n, p in enumerate(parts) if n != main), key=lambda p: -p.area)
    for island in islands:
        check()
        rest = polygonal(shapely.union_all([p for p in parts if p is not island]))
        bars += _holding(island, rest, width)
        held.append(island)
    return weld([plate, *(bar(box) for box in bars)]) if bars else plate


_LONGER = 1.6
"""Level bridges are laid where upright ones would be so many times as long. (†)"""


def _holding(island: Region, rest: Region, width: float) -> list[Box]:
    upright, level = _pair(island, rest, width, True), _pair(island, rest, width, False)
    if not upright or (level and _length(level, False) * _LONGER < _length(upright, True)):
        return level
    return upright


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
    if side < 0:
        beyond = bounds[:, n + 2][bounds[:, n + 2] <= (own_low + own_high) / 2]
        if not len(beyond):
            return None
        start, end = float(beyond.max()) - width, own_low + width
    else:
        beyond = bounds[:, n][bounds[:, n] >= (own_low + own_high) / 2]
        if not len(beyond):
            return None
        start, end = own_high - width, float(beyond.min()) + width
    return Box(at - half, start, width, end - start) if upright else Box(start, at - half, end - start, width)
