"""HP-GL files: the instructions of plotters and craft cutters, in steps of 1/40 mm, y up.

The language itself is in ``hpgl_text``; y is turned over here and nowhere else.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np

from fulgen.formats.hpgl_text import (
    END,
    UNITS_PER_MM,
    Carriage,
    bad,
    instructions,
    not_hpgl,
    stroke_lines,
    tool_text,
)
from fulgen.geometry.outline import Floats, Point
from fulgen.problem import Problem
from fulgen.sheet.machines import Machine
from fulgen.sheet.strokes import Stroke, settings_by_pen

MAX_FILE_BYTES = 16 * 2**20

MAX_POINTS = 1_000_000

MAX_MM = 20_000.0
"""No roll of film is longer."""

NO_TOOLS: Mapping[int, str] = MappingProxyType({})

_DRAWS = frozenset(("AA", "AR", "AT", "BR", "BZ", "CI", "EA", "EP", "ER", "EW", "FP", "LB", "PE", "RA", "RR",
    "RT", "WG"))  # fmt: skip
_CHANGES_SIZE = frozenset(("IR", "RO", "SC"))
_KNOWN = frozenset(("PA", "PR", "PU", "PD", "IN"))


def tools_of(machine: Machine, material: str) -> dict[int, str]:
    """What is said of each pen when it is taken, for a machine that is set for a material."""
    if not any(setting.material == material for setting in machine.settings):
        return {}
    by_pen = settings_by_pen(machine, material).items()
    return {pen: tool_text(setting.force_g, setting.speed_mm_s) for pen, setting in by_pen}


def write_hpgl(strokes: Sequence[Stroke], height: float, tools: Mapping[int, str] = NO_TOOLS) -> str:
    """The strokes, each with its pen and its path (N, 2) in mm, in their order, as HP-GL for a sheet so high;
    ``tools`` is what is said of a pen when it is taken.

    Raises Problem "off-sheet" where a cut goes below the origin of the plotter or lies beyond its numbers.
    """
    lines = ["IN;"]
    held = 0
    for pen, path in strokes:
        points = plotter_points(path, height)
        if points:
            lines += stroke_lines(points, pen if pen != held else None, tools.get(pen, ""))
            held = pen
    return "\n".join([*lines, END])


def stroke_text(stroke: Stroke, height: float) -> str:
    """One stroke by itself, with its pen; nothing, where it is a point."""
    pen, path = stroke
    points = plotter_points(path, height)
    return "".join(stroke_lines(points, pen)) if points else ""


def plotter_points(path: Floats, height: float) -> list[tuple[int, int]]:
    """A path in mm on a sheet so high, as steps of a plotter; none for what is a point to it. Raises Problem
    "off-sheet"."""
    steps = np.rint(np.column_stack((path[:, 0], height - path[:, 1])) * UNITS_PER_MM).astype(np.int64)
    if len(steps) and (steps.min() < 0 or steps.max() > MAX_MM * UNITS_PER_MM):
        raise Problem(
            "off-sheet",
            "A cut lies outside the sheet, where the cutter cannot go.",
            "Move the part onto the sheet, or take a larger sheet.",
            "sheet",
        )
    moved = np.append(True, np.any(np.diff(steps, axis=0) != 0, axis=1))
    found = [(x, y) for x, y in steps[moved].tolist()]
    return found if len(found) > 1 else []


def read_hpgl(data: bytes, name: str, height: float | None = None) -> list[Floats]:
    """The cuts of an HP-GL file, paths (N, 2) in mm, y down on a sheet so high; as high as they reach, where
    that is not said. See ``read_strokes``."""
    return [path for _, path in read_strokes(data, name, height)]


def read_strokes(
    data: bytes, name: str, height: float | None = None, most_bytes: int = MAX_FILE_BYTES
) -> list[Stroke]:
    """The cuts of an HP-GL file, each with its pen.

    Raises Problem "bad-hpgl" for what is not HP-GL, for arcs and text, which are not read, for a scale of the
    file's own, and for files without end.
    """
    if len(data) > most_bytes:
        raise bad(f"{name} is larger than {most_bytes // 2**20} MB.", "Check that this is the right file.")
    carriage = Carriage()
    cuts: list[tuple[int, list[Point]]] = []
    at, down, pen, count, known = (0.0, 0.0), False, 1, 0, False
    path: list[Point] = []
    for instruction in instructions(data.decode("latin-1"), name):
        code, numbers = instruction
        if code in _DRAWS or (code in _CHANGES_SIZE and numbers):
            raise bad(
                f"{name} has the instruction {code}, which is not read here.",
                "Save it again with lines only, in plotter units.",
            )
        known |= code in _KNOWN
        for step in carriage.steps(instruction):
            if step.do == "to":
                at, before = (step.x, step.y), at
                count += 1
                if max(map(abs, at)) > MAX_MM * UNITS_PER_MM or count > MAX_POINTS:
                    raise bad(f"{name} goes on further than any sheet.", "Check that this is the right file.")
                if down:
                    path = path or [before]
                    path.append(at)
            elif step.do == "pen":
                pen = step.pen
            elif step.do != "speed":
                down = step.do == "down"
                if not down and path:
                    cuts.append((pen, path))
                    path = []
    if path:
        cuts.append((pen, path))
    if not known:
        raise not_hpgl(name)
    drawn = [(pen, np.array(path) / UNITS_PER_MM) for pen, path in cuts]
    top = max((float(path[:, 1].max()) for _, path in drawn), default=0.0) if height is None else height
    return [(pen, np.column_stack((path[:, 0], top - path[:, 1]))) for pen, path in drawn]
