"""Numbers of rows in the waste beside their pieces, so that nobody mixes up Maud and Maude.

The figures are single strokes, drawn on a grid of two by four: for a pen, or a knife that scarcely cuts.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Literal, TypeAlias

import numpy as np
import shapely
from shapely.geometry import LineString

from fulgen.geometry.outline import LINE, MOVE, Floats, Outline
from fulgen.parts.built_part import Mark, MarkUse
from fulgen.sheet.motifs import Motif

HIGH_MM = 4.0
"""How high figures are: read at arm's length. (†)"""

_CLEAR_MM = 1.0
"""So far they stay off what is cut. (†)"""

NumberPlace: TypeAlias = Literal["corner", "below"]
"""Where the number of a row lies: in a corner of its piece's box or a hole where there is room for it, else
below; or below its middle, whatever room there is."""

_FIGURES: dict[str, tuple[str, ...]] = {
    "0": ("00 20 24 04 00",), "1": ("01 10 14",), "2": ("01 00 20 22 04 24",),
    "3": ("00 20 12 22 24 04",), "4": ("14 10 03 23",), "5": ("20 00 02 22 24 04",),
    "6": ("20 02 04 24 22 02",), "7": ("00 20 04",), "8": ("00 20 24 04 00", "02 22"),
    "9": ("22 02 00 20 22 04",),
}  # fmt: skip


def strokes_of(number: int) -> list[Floats]:
    """The lines of a number (N, 2) in mm, its top left corner at the origin."""
    unit = HIGH_MM / 4
    found = []
    for place, figure in enumerate(str(number)):
        for stroke in _FIGURES[figure]:
            points = np.array([(int(at[0]), int(at[1])) for at in stroke.split()], dtype=np.float64)
            found.append((points + np.array([3 * place, 0])) * unit)
    return found


def width_of(number: int) -> float:
    """How wide a number is, in mm."""
    return (3 * len(str(number)) - 1) * HIGH_MM / 4


def numbered(motif: Motif, number: int, use: MarkUse, place: NumberPlace = "corner") -> Motif:
    """The motif with a number beside it."""
    wide = width_of(number)
    box, below = motif.box, motif.box.bottom + _CLEAR_MM
    if place == "below":
        x, y = box.x + (box.width - wide) / 2, below
    else:
        x, y = next(_free_places(motif, wide), (box.x, below))
    lines = [line + np.array([x, y]) for line in strokes_of(number)]
    verbs = [np.array([MOVE] + [LINE] * (len(line) - 1), np.uint8) for line in lines]
    outline = Outline(np.concatenate(verbs), np.concatenate(lines))
    return replace(motif, uncut=(*motif.uncut, Mark(outline, use)))


def place_of_number(motif: Motif, number: int) -> NumberPlace:
    """Where the number of a motif lies that was given one."""
    *others, last = motif.uncut
    below = numbered(replace(motif, uncut=tuple(others)), number, last.use, "below").uncut[-1]
    return "below" if below.outline.digest == last.outline.digest else "corner"


def _free_places(motif: Motif, wide: float) -> Iterator[tuple[float, float]]:
    """Corners of the motif's box in which nothing lies, where a number finds room in the waste around it."""
    box = motif.box
    drawn = [LineString(mark.outline.points) for mark in motif.uncut if len(mark.outline.points) > 1]
    # Inside of an outer edge is the piece: a number there would be on it, or in a counter too small to find.
    pieces = [shapely.Polygon(part.exterior) for part in shapely.get_parts(motif.whole.region)]
    filled = shapely.union_all([*pieces, *drawn])
    shapely.prepare(filled)
    right, bottom = box.right - wide, box.bottom - HIGH_MM
    for x, y in ((box.x, bottom), (right, bottom), (box.x, box.y), (right, box.y)):
        if x < box.x - 1e-9 or y < box.y - 1e-9:
            continue
        if shapely.distance(filled, shapely.box(x, y, x + wide, y + HIGH_MM)) >= _CLEAR_MM:
            yield x, y
