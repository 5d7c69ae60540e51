"""Proof of a sheet: its file, read back and cut on the simulated machine, gives what was promised."""

from __future__ import annotations

from collections.abc import Sequence

from fulgen.cutter.blade import cut
from fulgen.cutter.comes_off import CameOff, Compared, comes_off, compared
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region
from fulgen.problem import Problem
from fulgen.sheet.machines import Machine
from fulgen.sheet.strokes import WEEDING_PEN, Stroke


def tips_of(
    strokes: Sequence[Stroke], offset: float, heading: float = 0.0
) -> tuple[list[Floats], list[Floats]]:
    """The paths of the tip along strokes: of cuts, and of what only helps."""
    tips = cut([path for _, path in strokes], offset, heading)
    real = [tip for (pen, _), tip in zip(strokes, tips, strict=True) if pen != WEEDING_PEN]
    helps = [tip for (pen, _), tip in zip(strokes, tips, strict=True) if pen == WEEDING_PEN]
    return real, helps


def proven(
    promised: Sequence[Region], strokes: Sequence[Stroke], machine: Machine, heading: float = 2.0
) -> tuple[Compared, CameOff]:
    """What comes off when the carriage of a machine goes along strokes, and how it compares with what was
    promised. Nobody knows the heading of the knife at the beginning; it is taken to be a wrong one."""
    real, helps = tips_of(strokes, machine.offset_mm, heading)
    came = comes_off(real, machine.kerf_mm, helps)
    return compared(promised, came), came


def not_as_promised(told: Compared, name: str) -> Problem:
    """The word about a sheet that would not come off as promised."""
    wrong = len(told.missing) or len(told.others) or len(told.nicks)
    return Problem(
        "not-as-promised",
        f"{wrong} of {told.promised} {'piece' if told.promised == 1 else 'pieces'} would not come off "
        f"{name} as promised.",
        "Details are too small for this blade: make the design larger, or take a finer blade.",
    )
