"""Proof of a sheet: its file, read back and cut on the simulated machine, gives what was promised."""

from __future__ import annotations

from collections.abc import Sequence

from fulgen.cutter.blade import cut
from fulgen.cutter.cut_simulation import CutComparison, CutResult, compare_with_promise, simulate_cut
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region
from fulgen.problem import Problem
from fulgen.sheet.machines import Machine
from fulgen.sheet.strokes import BLADE_PENS, PENS, WEEDING_PEN, Stroke


def tips_of(
    strokes: Sequence[Stroke], offset: float, heading: float = 0.0
) -> tuple[list[Floats], list[Floats]]:
    """The paths of the tip along strokes: of cuts, and of what only helps. What is scored turns the knife,
    and parts nothing; nor does what is drawn or engraved."""
    by_blade = [(pen, path) for pen, path in strokes if pen not in _UNCUT_PENS or pen in BLADE_PENS]
    tips = cut([path for _, path in by_blade], offset, heading)
    paths = [(pen, tip) for (pen, _), tip in zip(by_blade, tips, strict=True) if pen not in _UNCUT_PENS]
    real = [tip for pen, tip in paths if pen != WEEDING_PEN]
    return real, [tip for pen, tip in paths if pen == WEEDING_PEN]


_UNCUT_PENS = frozenset(pen for use, pen in PENS.items() if use != "cut")


def verify_job(
    promised: Sequence[Region], strokes: Sequence[Stroke], machine: Machine, heading: float = 2.0
) -> tuple[CutComparison, CutResult]:
    """What comes off when the carriage of a machine goes along strokes, and how it compares with what was
    promised. Nobody knows the heading of the knife at the beginning; it is taken to be a wrong one. What only
    draws frees nothing."""
    real, helps = tips_of(strokes, machine.offset_mm, heading)
    came = simulate_cut(real, machine.kerf_mm, helps)
    return compare_with_promise(promised if machine.cuts else [], came), came


def broken_promise(comparison: CutComparison, name: str) -> Problem:
    """The word about a sheet that would not come off as promised."""
    wrong = len(comparison.missing) or len(comparison.others) or len(comparison.nicks)
    return Problem(
        "not-as-promised",
        f"{wrong} of {comparison.promised} {'piece' if comparison.promised == 1 else 'pieces'} would not "
        f"come off {name} as promised.",
        "Details are too small for this blade: make the design larger, or take a finer blade.",
    )
