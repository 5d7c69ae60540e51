"""HP-GL as text: instructions, read whole or as they come, the steps of the carriage that they mean, and
strokes written. The one place where the language is known: files, jobs and the simulated machine use it.

Instructions: "HP-GL/2 and HP RTL Reference Guide", Hewlett-Packard (IN, SP, PU, PD, PA, PR); OA, OS and VS
are of the older language (HP 7475A Interfacing and Programming Manual, from memory), FS in grams is how
cutters take it (common practice). No numpy here: the simulated machine is a small process.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import Literal, NamedTuple

from fulgen.problem import Problem

UNITS_PER_MM = 40
"""A plotter unit is 0.025 mm."""

LINE_POINTS = 40
"""Points to one instruction: old plotters take no more than a few hundred bytes at once."""

END = "PU0,0;\nSP0;\n"
"""The carriage goes home, and the pen is put back."""

Instruction = tuple[str, tuple[float, ...]]
"""A code of two letters, and its numbers."""


class Step(NamedTuple):
    """What the carriage does: it takes a pen, lifts or lowers it, goes to x, y in plotter units, y up, or
    goes at another speed from now on (0: its usual one)."""

    do: Literal["pen", "up", "down", "to", "speed"]
    x: float = 0.0
    y: float = 0.0
    pen: int = 0
    mm_s: float = 0.0


_INSTRUCTION = re.compile(r"[;\s]*([A-Za-z]{2})([^A-Za-z;]*);?\s*")
_ESCAPE = re.compile(r"\x1b\.[A-Za-z@()](?:[0-9;]{0,40}:)?")
_WITH_NUMBERS = frozenset(("PA", "PR", "PU", "PD", "SP", "IR", "RO", "SC", "VS"))


def instructions(text: str, name: str) -> Iterator[Instruction]:
    """Each instruction of a text, with its numbers where they count. Escape sequences to the device come
    first. Raises Problem "bad-hpgl"."""
    text = _ESCAPE.sub("", text).strip("\0; \r\n\t")
    at = 0
    while at < len(text):
        found = _INSTRUCTION.match(text, at)
        if found is None:
            raise not_hpgl(name)
        code, rest, at = found[1].upper(), found[2], found.end()
        if code not in _WITH_NUMBERS:
            yield code, ()
            continue
        try:
            numbers = tuple(float(n) for n in re.split(r"[,\s]+", rest.strip(", \r\n\t")) if n)
        except ValueError:
            raise bad(f"{name} has {code} with something that is no number.", "Save it again.") from None
        if code in ("PA", "PR", "PU", "PD") and len(numbers) % 2:
            raise bad(f"{name} has {code} with half a point.", "Save it again, or send it again whole.")
        yield code, numbers


class Carriage:
    """The carriage of a plotter, as instructions lead it."""

    def __init__(self) -> None:
        self.at = (0.0, 0.0)
        self._relative = False

    def steps(self, instruction: Instruction) -> Iterator[Step]:
        """What it does for an instruction, one thing after the other."""
        code, numbers = instruction
        if code in ("PA", "PR"):
            self._relative = code == "PR"
        elif code == "IN":
            self._relative = False
            yield Step("up")
            yield Step("speed")
        elif code == "VS":
            yield Step("speed", mm_s=10.0 * numbers[0] if numbers else 0.0)
        elif code == "SP":
            yield Step("up")
            yield Step("pen", pen=int(numbers[0]) if numbers else 0)
        elif code == "PU":
            yield Step("up")
        elif code == "PD":
            yield Step("down")
        if code in ("PA", "PR", "PU", "PD"):
            for x, y in zip(numbers[::2], numbers[1::2], strict=True):
                self.at = (self.at[0] + x, self.at[1] + y) if self._relative else (x, y)
                yield Step("to", *self.at)


def tool_text(force_g: float | None, speed_mm_s: float | None) -> str:
    """How hard a tool works, in grams, and how fast: as the machine itself has it, where that is not said.

    >>> tool_text(80, 120.0), tool_text(None, None)
    ('FS80;VS12;', 'FS;VS;')
    """
    force = "" if force_g is None else f"{force_g:g}"
    speed = "" if speed_mm_s is None else f"{speed_mm_s / 10:g}"
    return f"FS{force};VS{speed};"


def stroke_lines(points: Sequence[tuple[float, float]], pen: int | None = None, tool: str = "") -> list[str]:
    """The instructions of one stroke through points in plotter units, y up; ``pen``: taken before, with what
    is said of it as a ``tool``."""
    lines = [] if pen is None else [f"SP{pen};{tool}"]
    (x, y), *others = points
    lines.append(f"PU{_number(x)},{_number(y)};")
    for start in range(0, len(others), LINE_POINTS):
        numbers = ",".join(f"{_number(x)},{_number(y)}" for x, y in others[start : start + LINE_POINTS])
        lines.append(f"PD{numbers};")
    return lines


def _number(value: float) -> str:
    return str(int(value)) if value == int(value) else f"{value:.2f}"


def not_hpgl(name: str) -> Problem:
    """The word about a file that is something else."""
    return bad(f"{name} is not HP-GL.", "Save it as HP-GL, often named .plt.")


def bad(what: str, todo: str) -> Problem:
    """HP-GL that cannot be read, in words."""
    return Problem("bad-hpgl", what, todo)
