"""Outlines as text: the path data of SVG (SVG 2, chapter 9), written short and read back."""

from __future__ import annotations

import re

import numpy as np

from fulgen.geometry.outline import CUBIC, LINE, MOVE, POINTS_OF, QUAD, Floats, Outline

DECIMALS = 3
"""A micrometre: finer than any cutter steps (HP-GL's plotter unit is 25 µm: HP 7475A
Interfacing and Programming Manual, from memory)."""

_LETTER = ("M", "L", "Q", "C")
_NUMBERS = (2, 2, 4, 6)
_VERB = {"M": MOVE, "L": LINE, "Q": QUAD, "C": CUBIC}
_STEP = re.compile(r"([MLQC])([^MLQCZ]*)(Z?)")
_NUMBER_SIGNS = r"[0-9 .,eE+-]+"
_OWN = re.compile(rf"(?:M{_NUMBER_SIGNS}(?:[LQC]{_NUMBER_SIGNS})*Z?)*")


def path_data(outline: Outline, decimals: int = DECIMALS, *, closed: bool = True) -> str:
    """An outline as the d of a path: absolute M, L, Q, C and Z, short numbers."""
    numbers = (np.round(outline.points, decimals) + 0.0).ravel().tolist()
    words = [f"{number:.7g}" for number in numbers]
    end_of = "Z" if closed else ""
    out: list[str] = []
    at = 0
    for verb in outline.verbs.tolist():
        if verb == MOVE and out:
            out.append(end_of)
        end = at + _NUMBERS[verb]
        out.append(_LETTER[verb] + " ".join(words[at:end]))
        at = end
    return "".join(out) + end_of if out else ""


def line_data(points: Floats, decimals: int = 2) -> str:
    """An open line through points (N, 2) as the d of a path."""
    verbs = np.full(len(points), LINE, np.uint8)
    verbs[0] = MOVE
    return path_data(Outline(verbs, points), decimals, closed=False)


def outline_of(d: str) -> Outline:
    """The outline of a text that `path_data` wrote.

    Raises ValueError where it is none.
    """
    if not _OWN.fullmatch(d):
        raise ValueError("not path data of this kind")
    steps = _STEP.findall(d)
    verbs = np.array([_VERB[letter] for letter, _, _ in steps], np.uint8)
    words = [text.replace(",", " ").split() for _, text, _ in steps]
    if [len(row) for row in words] != (POINTS_OF[verbs] * 2).tolist():
        raise ValueError("a step with another number of points")
    points = np.array([number for row in words for number in row], dtype=np.float64).reshape(-1, 2)
    if not np.isfinite(points).all():
        raise ValueError("a number that is none")
    return Outline(verbs, points)
