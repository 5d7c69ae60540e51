"""Stand-ins: shapes used in place of a letter or of a mark, from the shape library or of the maker's own.

A shape of the library fills the square from 0, 0 to 1, 1 (y down) in its larger measure and stands in the
middle of it. All were drawn for Fulgen.
"""

from __future__ import annotations

import cmath
import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from fontTools.svgLib.path import parse_path
from pydantic import Field

from fulgen.frozen import STRICT
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import CUBIC, MOVE, Outline
from fulgen.geometry.pen import OutlinePen
from fulgen.geometry.weld import Shape, clean
from fulgen.problem import Problem

FINENESS = 6e-4
"""Shapes are flattened as closely as letters are, for a size of 1."""

MAX_SIDES = 4_000
MAX_PATH_LETTERS = 60_000


@dataclass(frozen=True)
class StandIn:
    """A shape in place of a letter or a mark: one of the shape library by its name, or the maker's own as
    SVG path data; as high as the letter, or filling its box."""

    __pydantic_config__ = STRICT

    shape: Annotated[str, Field(min_length=1, max_length=60)] = "heart"
    d: Annotated[str, Field(max_length=MAX_PATH_LETTERS)] = ""
    to: Literal["height", "box"] = "height"

    @property
    def drawn(self) -> Shape:
        """The shape in the square from 0, 0 to 1, 1."""
        return own_shape(self.d) if self.d else library_shape(self.shape)


def _star(points: int, inner: float, turn: float = 0.0) -> Outline:
    rim = [
        cmath.rect(0.5 if n % 2 == 0 else inner / 2, math.pi * n / points - math.pi / 2 + turn)
        for n in range(2 * points)
    ]
    return Outline.polygon([(z.real + 0.5, z.imag + 0.5) for z in rim])


def _disc(x: float, y: float, radius: float, *, hole: bool = False) -> Outline:
    """Four cubics; handles of 4/3 tan(22.5°) radii (textbook)."""
    k = 4 / 3 * math.tan(math.pi / 8)
    at = [
        1,
        1 + k * 1j,
        k + 1j,
        1j,
        -k + 1j,
        -1 + k * 1j,
        -1,
        -1 - k * 1j,
        -k - 1j,
        -1j,
        k - 1j,
        1 - k * 1j,
        1,
    ]
    z = np.array(at) * radius + complex(x, y)
    drawn = Outline(
        np.array([MOVE, CUBIC, CUBIC, CUBIC, CUBIC], np.uint8), np.stack([z.real, z.imag], axis=1)
    )
    return drawn.reversed() if hole else drawn


def _compass() -> Outline:
    return Outline.joined(
        [_star(4, 0.2), _star(4, 0.13, math.pi / 4).placed(0.16, 0.16, 0.68), _ring(0.5, 0.5, 0.3, 0.035)]
    )


def _ring(x: float, y: float, radius: float, width: float) -> Outline:
    return Outline.joined([_disc(x, y, radius + width / 2), _disc(x, y, radius - width / 2, hole=True)])


def _sun() -> Outline:
    rays = [_star(12, 0.58)]
    return Outline.joined([*rays, _disc(0.5, 0.5, 0.3)])


def _flower() -> Outline:
    petals = [cmath.rect(0.3, 2 * math.pi * n / 5 - math.pi / 2) for n in range(5)]
    return Outline.joined([_disc(0.5 + z.real, 0.5 + z.imag, 0.2) for z in petals] + [_disc(0.5, 0.5, 0.22)])


def _paw() -> Outline:
    toes = [(0.14, 0.42, 0.1), (0.36, 0.2, 0.115), (0.64, 0.2, 0.115), (0.86, 0.42, 0.1)]
    pad = path_outline(
        "M.5 .42C.66 .42 .82 .66 .82 .8C.82 .94 .68 .98 .5 .9C.32 .98 .18 .94 .18 .8C.18 .66 .34 .42 .5 .42Z"
    )
    tied = [path_outline(f"M.5 .7L{x - 0.035} {y}L{x + 0.035} {y}Z") for x, y, _ in toes]
    return Outline.joined([_disc(x, y, r) for x, y, r in toes] + [pad, *tied])


_PATHS = {
    "heart": "M.5 1C.2 .78 0 .58 0 .33C0 .14 .14 0 .3 0C.39 0 .46 .05 .5 .13C.54 .05 .61 0 .7 0C.86 0 1 .14 1 .33"
    "C1 .58 .8 .78 .5 1Z",
    "drop": "M.5 0C.6 .22 .82 .42 .82 .67C.82 .86 .68 1 .5 1C.32 1 .18 .86 .18 .67C.18 .42 .4 .22 .5 0Z",
    "moon": "M.68 .02C.4 -.03 .1 .18 .1 .5C.1 .82 .4 1.03 .68 .98C.5 .9 .38 .72 .38 .5C.38 .28 .5 .1 .68 .02Z",
    "leaf": "M.5 0C.86 .2 .92 .58 .54 .86L.54 1L.46 1L.46 .86C.08 .58 .14 .2 .5 0Z",
    "fish": "M0 .5C.16 .26 .46 .18 .7 .42L1 .24C.93 .42 .93 .58 1 .76L.7 .58C.46 .82 .16 .74 0 .5Z",
    "boat": "M.46 0C.7 .16 .84 .38 .88 .62L.46 .62ZM.4 .14L.4 .62L.12 .62C.16 .42 .26 .26 .4 .14Z"
    "M.4 0L.46 0L.46 .72L.4 .72ZM0 .68L1 .68C.94 .86 .82 1 .66 1L.34 1C.18 1 .06 .86 0 .68Z",
    "anchor": "M.45 .26L.55 .26L.55 .34L.74 .34L.74 .44L.55 .44L.55 .87C.7 .84 .82 .74 .86 .6L.78 .62L.9 .42L1 .62"
    "L.95 .61C.9 .84 .72 1 .5 1C.28 1 .1 .84 .05 .61L0 .62L.1 .42L.22 .62L.14 .6C.18 .74 .3 .84 .45 .87L.45 .44"
    "L.26 .44L.26 .34L.45 .34Z",
}


def _anchor() -> Outline:
    return Outline.joined([path_outline(_PATHS["anchor"]), _ring(0.5, 0.15, 0.11, 0.08)])


LIBRARY: dict[str, Callable[[], Outline]] = {
    "heart": lambda: path_outline(_PATHS["heart"]),
    "star": lambda: _star(5, 0.45),
    "compass rose": _compass,
    "anchor": _anchor,
    "boat": lambda: path_outline(_PATHS["boat"]),
    "fish": lambda: path_outline(_PATHS["fish"]),
    "sun": _sun,
    "moon": lambda: path_outline(_PATHS["moon"]),
    "drop": lambda: path_outline(_PATHS["drop"]),
    "leaf": lambda: path_outline(_PATHS["leaf"]),
    "flower": _flower,
    "paw": _paw,
    "disc": lambda: _disc(0.5, 0.5, 0.5),
    "ring": lambda: _ring(0.5, 0.5, 0.42, 0.16),
}
"""The shape library, by the words makers use."""


@lru_cache(maxsize=64)
def library_shape(name: str) -> Shape:
    """A shape of the library. Raises Problem "no-shape" where there is none of that name."""
    if name not in LIBRARY:
        raise Problem(
            "no-shape",
            f"There is no shape called “{name[:40]}”.",
            "Choose one from the shape library.",
            "letters",
        )
    return in_unit_square(LIBRARY[name](), name)


@lru_cache(maxsize=64)
def own_shape(d: str) -> Shape:
    """A shape of the maker's own from SVG path data (SVG 2, chapter 9).

    Raises Problem "bad-shape" when it cannot be read or encloses nothing.
    """
    return in_unit_square(path_outline(d), "The shape")


def own_stand_in(file_name: str, d: str) -> StandIn:
    """A stand-in of the maker's own, called as its file is. Raises Problem "bad-shape" when its path is longer
    than a recipe may hold."""
    if len(d) > MAX_PATH_LETTERS:
        raise _bad(f"{file_name} is drawn with more points than Fulgen keeps in a letter’s place.")
    return StandIn(file_name.rsplit(".", 1)[0][:60] or "own shape", d)


def in_unit_square(outline: Outline, name: str) -> Shape:
    """An outline as the shape of a stand-in: its larger measure 1, in the middle of the square.

    Raises Problem "bad-shape" when it encloses nothing.
    """
    box = measure.box(outline)
    reach = max(box.width, box.height)
    if not outline or reach <= 1e-9:
        raise _bad(f"{name} encloses no area.")
    scale = 1 / reach
    fitted = outline.placed(-box.x * scale, -box.y * scale, scale)
    shape = clean(fitted.placed((1 - box.width * scale) / 2, (1 - box.height * scale) / 2), FINENESS)
    if not shape:
        raise _bad(f"{name} encloses no area.")
    return shape


def fitted(shape: Shape, box: Box, to: str) -> Shape:
    """A stand-in at the place of a letter's box: as high as it ("height"), or filling it ("box")."""
    own = shape.box
    across = box.height / own.height if to == "height" else box.width / own.width
    down = box.height / own.height
    outline = Outline(
        shape.outline.verbs, (shape.outline.points - (own.x, own.y)) * (across, down) + (box.x, box.y)
    )
    return clean(outline, shape.tolerance)


_PATH_LETTERS = re.compile(r"[MmLlHhVvCcSsQqTtAaZz\d\s.,+\-eE]*")


def path_outline(d: str) -> Outline:
    """The closed contours of SVG path data; open ones are closed by a straight side.

    Raises Problem "bad-shape".
    """
    if len(d) > MAX_PATH_LETTERS:
        raise _bad("The shape’s path is too long.")
    if not _PATH_LETTERS.fullmatch(d):
        raise _bad("The shape’s path holds signs that no path has.")
    pen = OutlinePen(MAX_SIDES)
    try:
        parse_path(d, pen)
    except Problem:
        raise
    except Exception:  # the reader fails in many ways on what is no path
        raise _bad("The shape’s path cannot be read.") from None
    return outline_from(pen)


def outline_from(pen: OutlinePen) -> Outline:
    """What a pen has taken down, as an outline. Raises Problem "bad-shape" when it is out of bounds."""
    if pen.astray:
        raise _bad("The shape’s path cannot be read.")
    if pen.overflowed:
        raise _bad(f"The shape has more than {MAX_SIDES:,} sides.")
    outline = pen.outline
    if not np.isfinite(outline.points).all() or np.abs(outline.points).max(initial=0.0) > 1e6:
        raise _bad("The shape is drawn far outside any sensible size.")
    return outline


def _bad(what: str) -> Problem:
    return Problem("bad-shape", what, "Choose a file with one or more closed outlines.", "letters")


def names() -> Sequence[str]:
    """What is in the library, in order."""
    return tuple(LIBRARY)
