"""Rows of letters as lines on the work, at the size a maker measures.

A maker measures the finished thing: its overall width, its overall height, or the height of a
capital. The face's own size (the em, in mm) follows from that. Lines are aligned by what will be
cut, not by the invisible room around letters.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from fulgen.geometry.outline import Floats
from fulgen.geometry.weld import Shape
from fulgen.lettering.catalogue import families_with
from fulgen.lettering.faces import Face
from fulgen.lettering.shaping import Features, missing_letters, shape_line
from fulgen.problem import Problem
from fulgen.units import show_length

Align = Literal["left", "centre", "right"]
SizeMeasure = Literal["width", "height", "capitals"]

MAX_EXTENT_MM = 10_000.0
"""Nothing is set wider or higher: no blank is that large, and outlines stay exact."""

_ALIGN_SHARE = {"left": 0.0, "centre": 0.5, "right": 1.0}


@dataclass(frozen=True)
class Setting:
    """How words are to be set. Lengths in mm; shares are of the size (the em)."""

    text: str
    face: Face
    measure: SizeMeasure
    size: float
    features: Features = ()
    spacing: float = 0.0
    spacing_share: float = 0.0
    line_spacing: float = 1.2
    align: Align = "left"


@dataclass(frozen=True, eq=False)
class PlacedLetter:
    """A letter on the work: its text, line number, origin in mm, and shape for a size of 1."""

    text: str
    line: int
    x: float
    y: float
    form: Shape


@dataclass(frozen=True, eq=False)
class Layout:
    """Letters in reading order, the size of the face in mm, and the baseline of each line.

    The first baseline is y = 0; the leftmost edge of the widest line is x = 0.
    """

    letters: tuple[PlacedLetter, ...]
    size: float
    baselines: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class _Row:
    """Edges of a line's letters at size s and spacing m: lefts·s + order·m, rights·s + order·m."""

    lefts: Floats
    rights: Floats
    order: Floats
    top: float
    bottom: float

    def extent(self, size: float, spacing: float) -> tuple[float, float]:
        if not len(self.order):
            return 0.0, 0.0
        return (
            float((self.lefts * size + self.order * spacing).min()),
            float((self.rights * size + self.order * spacing).max()),
        )


def lay_out(setting: Setting) -> Layout:
    """The words set and sized. Raises Problem when they cannot be: no letters, letters the
    face lacks, or a size that the spacing makes impossible."""
    lacking = missing_letters(setting.face, setting.text)
    if lacking:
        raise _lacks(setting, lacking)
    lines = setting.text.split("\n")
    shaped = [shape_line(setting.face, line, setting.features) for line in lines]
    rows = []
    for letters in shaped:
        drawn = [(n, s) for n, s in enumerate(letters) if s.shape]
        boxes = np.array([s.shape.box for _, s in drawn]).reshape(-1, 4)
        order = np.array([n for n, _ in drawn], dtype=np.float64)
        origins = np.array([s.x for _, s in drawn]) + order * setting.spacing_share
        rows.append(_Row(
            origins + boxes[:, 0], origins + boxes[:, 0] + boxes[:, 2], order,
            float(boxes[:, 1].min(initial=np.inf)),
            float((boxes[:, 1] + boxes[:, 3]).max(initial=-np.inf)),
        ))  # fmt: skip
    if not any(len(row.order) for row in rows):
        raise Problem("no-letters", "There is nothing to cut yet.", "Type a word.", "text")
    size = _size(setting, rows)
    extents = [row.extent(size, setting.spacing) for row in rows]
    widest = max(right - left for left, right in extents)
    height = size * _height(setting, rows)
    if max(widest, height) > MAX_EXTENT_MM:
        raise Problem(
            "too-large",
            f"The lettering would be {show_length(max(widest, height))} across.",
            f"Fulgen sets up to {MAX_EXTENT_MM / 1000:.0f} m: choose a smaller size or fewer letters.",
            "size",
        )
    placed = []
    for number, (letters, (left, right)) in enumerate(zip(shaped, extents, strict=True)):
        start = (widest - (right - left)) * _ALIGN_SHARE[setting.align] - left
        y = number * setting.line_spacing * size
        for index, letter in enumerate(letters):
            x = start + (letter.x + index * setting.spacing_share) * size + index * setting.spacing
            if letter.shape:
                placed.append(PlacedLetter(letter.text, number, x, y, letter.shape))
    baselines = tuple(n * setting.line_spacing * size for n in range(len(lines)))
    return Layout(tuple(placed), size, baselines)


def _height(setting: Setting, rows: list[_Row]) -> float:
    tops = [row.top + n * setting.line_spacing for n, row in enumerate(rows)]
    bottoms = [row.bottom + n * setting.line_spacing for n, row in enumerate(rows)]
    return max(bottoms) - min(tops)


def _size(setting: Setting, rows: list[_Row]) -> float:
    """The face's size in mm at which the lettering measures what was asked."""
    if setting.measure == "capitals":
        return setting.size / setting.face.capital_height
    if setting.measure == "height":
        return setting.size / _height(setting, rows)
    return min(_size_for_width(row, setting) for row in rows if len(row.order))


def _size_for_width(row: _Row, setting: Setting) -> float:
    """The largest size at which a line is as wide as asked.

    The width is a convex, piecewise linear function of the size (the greatest of right edges
    less the least of left edges), so Newton's method from above ends at its largest root.
    """
    spacing = setting.spacing
    natural = float(row.rights.max() - row.lefts.min())
    slack = abs(spacing) * len(row.order) * (1 + float(np.ptp(row.order)))
    size = (setting.size + slack) / max(natural, 1e-6) + 1.0
    for _ in range(200):
        last = int(np.argmax(row.rights * size + row.order * spacing))
        first = int(np.argmin(row.lefts * size + row.order * spacing))
        slope = float(row.rights[last] - row.lefts[first])
        if slope <= 0:
            break
        better = (setting.size - float(row.order[last] - row.order[first]) * spacing) / slope
        if better <= 0:
            break
        if abs(better - size) <= 1e-12 * size:
            return better
        size = better
    raise Problem(
        "impossible-size",
        f"With this letter spacing no size is {show_length(setting.size)} wide.",
        "Bring the spacing nearer to 0, or choose another width.",
        "spacing",
    )


def _lacks(setting: Setting, lacking: list[str]) -> Problem:
    named = [name_of(letter) for letter in lacking[:6]]
    more = f" and {len(lacking) - 6} more" if len(lacking) > 6 else ""
    able = families_with("".join(lacking)) and families_with(setting.text)
    if able:
        todo = f"Use {' or '.join(able[:3])}, or leave the letter out."
    else:
        todo = "No face here has all of these letters; leave out the ones named."
    return Problem(
        "missing-letters",
        f"{setting.face.name} has no {', '.join(named)}{more}.",
        todo,
        "text",
        able,
    )


def name_of(letter: str) -> str:
    """A letter as it is named to a maker: itself and its code, so that a box glyph is no riddle.

    >>> name_of("Ж")
    '“Ж” (U+0416)'
    """
    codes = " ".join(f"U+{ord(c):04X}" for c in letter[:3])
    return f"“{letter}” ({codes})" if letter.isprintable() else f"the sign {codes}"
