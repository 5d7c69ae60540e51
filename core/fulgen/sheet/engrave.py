"""Engraving: an area covered by level lines, as a beam does it."""

from __future__ import annotations

import math

import numpy as np
import shapely

from fulgen.budget import check
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region
from fulgen.problem import Problem

MOST_LINES = 60_000

_AT_ONCE = 200


def engraving_lines(area: Region, apart: float) -> list[Floats]:
    """Level lines over an area, so far apart in mm, each (2, 2): from the top down, every second row from
    right to left. Raises Problem "too-fine" for more than a machine is sent."""
    if area.is_empty:
        return []
    left, top, right, bottom = area.bounds
    count = math.ceil((bottom - top) / apart)
    if count > MOST_LINES:
        raise _too_fine()
    levels = top + (np.arange(count) + 0.5) * ((bottom - top) / max(count, 1))
    found: list[Floats] = []
    shapely.prepare(area)
    for first in range(0, count, _AT_ONCE):
        check()
        rows = levels[first : first + _AT_ONCE]
        across = shapely.linestrings([[(left - 1.0, y), (right + 1.0, y)] for y in rows.tolist()])
        for n, within in enumerate(shapely.intersection(across, area), first):
            lines = [part for part in shapely.get_parts(within) if part.length > 0]
            ends = sorted(sorted(shapely.get_coordinates(line)[[0, -1]].tolist()) for line in lines)
            found += [np.array(line[::-1]) for line in ends[::-1]] if n % 2 else map(np.array, ends)
        if len(found) > MOST_LINES:
            raise _too_fine()
    return found


def _too_fine() -> Problem:
    return Problem(
        "too-fine",
        f"Engraving this takes more than {MOST_LINES:,} lines.",
        "Let the lines of the machine lie further apart, or engrave less at once.",
        "engrave_mm",
    )
