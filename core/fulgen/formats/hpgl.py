"""HP-GL: what plotters and craft cutters are told, in steps of 1/40 mm, y up.

The instructions are those of Hewlett-Packard's "HP-GL/2 and HP RTL Reference Guide": IN, SP, PU, PD, PA, PR;
a plotter unit is 0.025 mm. Read and written here, side by side; y is turned over here and nowhere else.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

import numpy as np

from fulgen.geometry.outline import Floats, Point
from fulgen.problem import Problem
from fulgen.sheet.strokes import Stroke

UNITS_PER_MM = 40

MAX_FILE_BYTES = 16 * 2**20

MAX_POINTS = 1_000_000

MAX_MM = 20_000.0
"""No roll of film is longer."""

_LINE_POINTS = 40
"""Points to one instruction: old plotters take no more than a few hundred bytes at once."""

_INSTRUCTION = re.compile(r"[;\s]*([A-Za-z]{2})([^A-Za-z;]*);?\s*")

_DRAWS = frozenset(("AA", "AR", "AT", "BR", "BZ", "CI", "EA", "EP", "ER", "EW", "FP", "LB", "PE", "RA", "RR",
    "RT", "WG"))  # fmt: skip
_CHANGES_SIZE = frozenset(("IR", "RO", "SC"))


def write_hpgl(strokes: Sequence[Stroke], height: float) -> str:
    """The strokes, each with its pen and its path (N, 2) in mm, in their order, as HP-GL for a sheet so high.

    Raises Problem "off-sheet" where a cut goes below the origin of the plotter or lies beyond its numbers.
    """
    lines = ["IN;"]
    held = 0
    for pen, path in strokes:
        if pen != held:
            lines.append(f"SP{pen};")
            held = pen
        steps = np.rint(np.column_stack((path[:, 0], height - path[:, 1])) * UNITS_PER_MM).astype(np.int64)
        if len(steps) and (steps.min() < 0 or steps.max() > MAX_MM * UNITS_PER_MM):
            raise Problem(
                "off-sheet",
                "A cut lies outside the sheet, where the cutter cannot go.",
                "Move the part onto the sheet, or take a larger sheet.",
                "sheet",
            )
        moved = np.append(True, np.any(np.diff(steps, axis=0) != 0, axis=1))
        steps = steps[moved]
        if len(steps) < 2:
            continue
        lines.append(f"PU{steps[0, 0]},{steps[0, 1]};")
        for start in range(1, len(steps), _LINE_POINTS):
            numbers = ",".join(map(str, steps[start : start + _LINE_POINTS].ravel().tolist()))
            lines.append(f"PD{numbers};")
    return "\n".join([*lines, "PU0,0;", "SP0;", ""])


def read_hpgl(data: bytes, name: str, height: float | None = None) -> list[Floats]:
    """The cuts of an HP-GL file, paths (N, 2) in mm, y down on a sheet so high; as high as they reach, where
    that is not said. See ``read_strokes``."""
    return [path for _, path in read_strokes(data, name, height)]


def read_strokes(data: bytes, name: str, height: float | None = None) -> list[Stroke]:
    """The cuts of an HP-GL file, each with its pen.

    Raises Problem "bad-hpgl" for what is not HP-GL, for arcs and text, which are not read, for a scale of the
    file's own, and for files without end.
    """
    if len(data) > MAX_FILE_BYTES:
        raise _bad(
            f"{name} is larger than {MAX_FILE_BYTES // 2**20} MB.", "Check that this is the right file."
        )
    text = data.decode("latin-1")
    cuts: list[tuple[int, list[Point]]] = []
    at, down, relative, count, known, pen = (0.0, 0.0), False, False, 0, False, 1
    path: list[Point] = []
    for code, numbers in _instructions(text, name):
        if code in _DRAWS or (code in _CHANGES_SIZE and numbers):
            raise _bad(
                f"{name} has the instruction {code}, which is not read here.",
                "Save it again with lines only, in plotter units.",
            )
        if code in ("PA", "PR"):
            relative = code == "PR"
        if code in ("PU", "PD"):
            down = code == "PD"
        known |= code in ("PA", "PR", "PU", "PD", "IN")
        if code == "SP":
            if path:
                cuts.append((pen, path))
                path = []
            pen, down = int(numbers[0]) if numbers else 0, False
        if code not in ("PA", "PR", "PU", "PD"):
            continue
        if len(numbers) % 2:
            raise _bad(f"{name} has {code} with half a point.", "Save it again, or send it again whole.")
        if not down and path:
            cuts.append((pen, path))
            path = []
        for x, y in zip(numbers[::2], numbers[1::2], strict=True):
            if down and not path:
                path = [at]
            at = (at[0] + x, at[1] + y) if relative else (x, y)
            count += 1
            if max(map(abs, at)) > MAX_MM * UNITS_PER_MM or count > MAX_POINTS:
                raise _bad(f"{name} goes on further than any sheet.", "Check that this is the right file.")
            if down:
                path.append(at)
    if path:
        cuts.append((pen, path))
    if not known:
        raise _not_hpgl(name)
    drawn = [(pen, np.array(path) / UNITS_PER_MM) for pen, path in cuts]
    top = max((float(path[:, 1].max()) for _, path in drawn), default=0.0) if height is None else height
    return [(pen, np.column_stack((path[:, 0], top - path[:, 1]))) for pen, path in drawn]


def _instructions(text: str, name: str) -> Iterator[tuple[str, list[float]]]:
    """Each instruction with its numbers, if it moves the pen. Escape sequences to the device come first."""
    text = re.sub(r"\x1b\.[A-Za-z@()](?:[0-9;]{0,40}:)?", "", text).strip("\0; \r\n\t")
    at = 0
    while at < len(text):
        found = _INSTRUCTION.match(text, at)
        if found is None:
            raise _not_hpgl(name)
        code, rest, at = found[1].upper(), found[2], found.end()
        if code not in ("PA", "PR", "PU", "PD", "SP", *_CHANGES_SIZE):
            yield code, []
            continue
        try:
            yield code, [float(number) for number in re.split(r"[,\s]+", rest.strip(", \r\n\t")) if number]
        except ValueError:
            raise _bad(f"{name} has {code} with something that is no number.", "Save it again.") from None


def _not_hpgl(name: str) -> Problem:
    return _bad(f"{name} is not HP-GL.", "Save it as HP-GL, often named .plt.")


def _bad(what: str, todo: str) -> Problem:
    return Problem("bad-hpgl", what, todo)
