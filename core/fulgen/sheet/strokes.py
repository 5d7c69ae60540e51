"""Strokes: what the carriage of a machine does with its tool down, each with its pen."""

from fulgen.geometry.outline import Floats
from fulgen.parts.part import Use
from fulgen.sheet.machines import Machine, Setting

CUT_PEN = 1

WEEDING_PEN = 2
"""The pen of cuts that only help weeding, or turn the knife."""

PENS: dict[Use, int] = {"cut": CUT_PEN, "draw": 3, "score": 4, "engrave": 5}
"""The pen of each use: the tool, or how hard it works."""

BLADE_PENS = frozenset((CUT_PEN, WEEDING_PEN, PENS["score"]))
"""What a knife does: where it trails, it trails through all of these."""

Stroke = tuple[int, Floats]
"""A pen, and a path of the carriage with it down (N, 2)."""


def settings_by_pen(machine: Machine, material: str) -> dict[int, Setting]:
    """How a machine is set for a material, pen by pen: what only helps is cut as all else is."""
    found = {pen: machine.setting(material, use) for use, pen in PENS.items()}
    return {**found, WEEDING_PEN: found[CUT_PEN]}
