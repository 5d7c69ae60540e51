"""A job as a machine is sent it: stroke by stroke, so that it can be taken up at any of them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from fulgen.formats.hpgl import NO_TOOLS, plotter_points, stroke_text
from fulgen.formats.hpgl_text import stroke_lines
from fulgen.geometry.outline import Floats
from fulgen.geometry.paths import line_data
from fulgen.geometry.polygons import Region
from fulgen.sheet.machines import Machine
from fulgen.sheet.pace import LIFTED_TIMES
from fulgen.sheet.sheets import Sheet, turning_at, turning_place
from fulgen.sheet.strokes import BLADE_PENS, WEEDING_PEN, Stroke, settings_by_pen


@dataclass(frozen=True)
class StrokeText:
    """A stroke: its text, where the carriage then is, in plotter units, y up; its line on the sheet as path
    data in mm, y down; how far the carriage goes for it, in mm at the speed of a cut; and what is sent before
    it where the job is taken up here, so that a trailing knife stands as it did."""

    text: str
    end: tuple[int, int]
    line: str
    length_mm: float
    turn: str


NO_PACES: Mapping[int, float] = MappingProxyType({})


def paces_of(machine: Machine, material: str) -> dict[int, float]:
    """How many times as fast as its usual speed a machine goes with each pen, in a material."""
    by_pen = settings_by_pen(machine, material).items()
    return {pen: one.speed_mm_s / machine.speed_mm_s for pen, one in by_pen if one.speed_mm_s}


def stroke_texts(
    strokes: Sequence[Stroke], sheet: Sheet, promised: Sequence[Region], offset: float,
    tools: Mapping[int, str] = NO_TOOLS, paces: Mapping[int, float] = NO_PACES,
) -> list[StrokeText]:  # fmt: skip
    """Strokes as they are sent to a machine whose blade has that offset; ``tools`` is what is said of each
    pen, and ``paces`` how many times as fast as a cut it goes. Raises Problem "off-sheet"."""
    found: list[StrokeText] = []
    end: tuple[int, int] = (0, 0)
    at: Floats | None = None
    heading: float | None = None
    place = turning_place(sheet, promised, offset) if offset > 0 else None
    for pen, path in strokes:
        points = plotter_points(path, sheet.height_mm)
        end = points[-1] if points else end
        way = 0.0 if at is None else math.dist(path[0], at)
        steps = np.diff(path, axis=0)
        lengths = np.hypot(*steps.T)
        turn: list[Floats] = [] if heading is None or place is None else turning_at(place, heading, offset)
        found.append(
            StrokeText(
                "".join(stroke_lines(points, pen, tools.get(pen, ""))) if points else "",
                end,
                line_data(path),
                round((float(lengths.sum()) + way / LIFTED_TIMES) / paces.get(pen, 1.0), 3),
                "".join(stroke_text((WEEDING_PEN, line), sheet.height_mm) for line in turn),
            )
        )
        at = path[-1]
        if pen in BLADE_PENS and len(moving := np.flatnonzero(lengths > 0)):
            x, y = steps[moving[-1]].tolist()
            heading = math.atan2(y, x)
    return found
