"""What readers of drawings give: areas and lines in mm, with their colours and groups."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from fulgen.formats.drawing import clipped
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import clean, geos_errors_as_problems
from fulgen.problem import Problem
from fulgen.units import MM_PER_INCH

MAX_FILE_BYTES = 12 * 2**20
MAX_PAGES = 500
PX_MM = MM_PER_INCH / 96
"""A CSS pixel (CSS Values 4, section 6.2)."""


Units = Literal["mm", "in"]
"""What numbers mean in a file that does not say."""


@dataclass(frozen=True)
class ReadRequest:
    """What of a file is read: the page, where it has pages, and what its numbers mean, where it does not say
    (None: what is usual)."""

    page: int = 1
    units: Units | None = None


@dataclass(frozen=True, eq=False)
class DrawnPath:
    """What one thing in a file draws, in mm: an area or a line, its colour and its group. What was
    ``stroked`` is known by its edge only, and has the width of its stroke."""

    outline: Outline
    colour: str
    group: str
    line: bool = False
    stroked: bool = False
    width_mm: float = 0.0


@dataclass(frozen=True, eq=False)
class ReadDrawing:
    """A file as it was read: what is drawn, whether the file says how large it is, and notes for the
    maker."""

    name: str
    drawn: tuple[DrawnPath, ...]
    size_stated: bool
    notes: tuple[str, ...] = ()


def bad(what: str, todo: str) -> Problem:
    """A file that cannot be read, in words."""
    return Problem("bad-artwork", what, todo, "file")


def areas_and_lines(
    outline: Outline, closed: Iterable[int], colour: str, group: str, width_mm: float
) -> list[DrawnPath]:
    """What a stroked path draws: its closed contours as one thing, its open ones as lines."""
    rings = set(closed)
    contours = list(outline.contours())
    shut: list[Outline] = []
    open_: list[Outline] = []
    for number, contour in enumerate(contours):
        meets = math.dist(contour.points[0], contour.points[-1]) < 1e-9 and len(contour.verbs) > 2
        (shut if number in rings or meets else open_).append(contour)
    found = [DrawnPath(Outline.joined(shut), colour, group, False, True, width_mm)] if shut else []
    return found + [DrawnPath(contour, colour, group, True, True, width_mm) for contour in open_]


def filled_area(outline: Outline, even_odd: bool, clips: Sequence[Shape] = ()) -> Outline:
    """The edges of what a path covers by its fill rule, and of that what clip paths let be seen; where that
    cannot be worked out, as they are drawn.

    Raises Problem "too-crossed" where they cross too often.
    """
    reach = float(np.ptp(outline.points, axis=0).max()) if outline else 0.0
    if reach == 0.0:
        return Outline.empty()
    try:
        with geos_errors_as_problems():
            return clipped(clean(outline, min(FLATNESS_MM, reach / 500), even_odd=even_odd), clips).outline
    except Problem as problem:
        if problem.kind == "too-crossed":
            raise
        return outline
