"""How a face joins at its natural spacing, and how thin it gets.

Rated over common pairs: every small letter after each of the common ones, and small letters after
capitals. Each pair is shaped as the face sets it, alone.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely

from fulgen.geometry.polygons import Region, moved
from fulgen.joining.seam import Seam
from fulgen.lettering.bodies import body_and_marks
from fulgen.lettering.faces import Face
from fulgen.lettering.shaping import missing_letters, shape_line
from fulgen.roots import bisect

COMMON_PAIRS = (
    "th he in er an re nd on en at ou ed ha to or it is hi es ng st ar te se me le ve co de ri ro li "
    "io ic ne ea ra ce ll ta ma si om ur el la be il ol am us ss ee tt oo wi wo ov ow ry ly ey ck"
)
"""Common pairs of small letters in English names and words (common practice; written down from memory)."""

CAPITAL_PAIRS = "An Be Ca Da El Fr Ga Ha Is Ja Ka Le Ma No Ol Pa Qu Ro Sa Th Ul Va Wi Xa Yo Zo"
"""Each capital before a small letter that often follows it in names (from memory)."""

_THINNEST_LETTERS = "aehnostrvwxMNW"

JOINS, NEARLY = 0.9, 0.55
"""Shares of pairs that are joined from which a face is said to join by itself, and nearly. (†)"""


@dataclass(frozen=True)
class Rating:
    """small, capital: shares of the pairs of small letters, and of capital and small letter, that are
    joined as set; thinnest: the width of the thinnest stroke, as a share of the size."""

    small: float
    capital: float
    thinnest: float

    def as_dict(self) -> dict[str, float]:
        return {"small": self.small, "capital": self.capital, "thinnest": self.thinnest}

    @property
    def words(self) -> str:
        if self.small >= JOINS:
            return "joins by itself"
        return "nearly joins" if self.small >= NEARLY else "needs joining"


def rate(face: Face, done: Callable[[float], None] = lambda _: None) -> Rating:
    """How a face joins. Pairs with a letter the face lacks are passed over. ``done`` hears now and then
    what share of the work is done."""
    count = 0
    whole = len(COMMON_PAIRS.split()) + len(CAPITAL_PAIRS.split())

    def joined(pair: str) -> bool | None:
        nonlocal count
        count += 1
        if count % 16 == 0:
            done(count / whole)
        return _joined(face, pair)

    def share(pairs: str) -> float:
        found = [j for j in map(joined, pairs.split()) if j is not None]
        return sum(found) / len(found) if found else 0.0

    return Rating(share(COMMON_PAIRS), share(CAPITAL_PAIRS), _thinnest(face))


def _joined(face: Face, pair: str) -> bool | None:
    if missing_letters(face, pair):
        return None
    letters = [letter for letter in shape_line(face, pair) if letter.shape]
    if len(letters) < 2:
        return True  # the face merges them
    left, right = letters[0], letters[1]
    one = body_and_marks(left.text, left.shape.region)[0]
    other = body_and_marks(right.text, right.shape.region)[0]
    return Seam(one, moved(other, right.x - left.x, 0.0)).meets


def _thinnest(face: Face) -> float:
    """The thinnest stroke: twice the least wear that takes a tenth of a letter's length away.

    A stroke of width w is gone when worn by w / 2 from both sides; a hairline goes first.
    """
    widths = []
    for char in _THINNEST_LETTERS:
        if missing_letters(face, char):
            continue
        for letter in shape_line(face, char):
            if letter.shape:
                widths.append(_hairline(letter.shape.region))
    return float(np.median(widths)) if widths else 0.0


def _hairline(region: Region) -> float:
    whole = region.area

    def holds(width: float) -> bool:
        # Opened: what a disc of this width can still paint.
        opened = shapely.buffer(shapely.buffer(region, -width / 2, quad_segs=4), width / 2, quad_segs=4)
        return bool(opened.area > 0.9 * whole)

    return sum(bisect(holds, 0.0, 0.3, 0.3 / 500)) / 2
