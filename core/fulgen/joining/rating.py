"""How a face joins at its natural spacing, how thin it gets, and how small its counters are.

Rated over common pairs of a writing system: small letters, and small letters after capitals, each pair shaped
as the face sets it, alone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np
import shapely

from fulgen.geometry.polygons import Region, holes_of, moved
from fulgen.joining.seam import Seam
from fulgen.lettering.bodies import body_and_marks
from fulgen.lettering.faces import Face
from fulgen.lettering.shaping import letters_alone, missing_letters, shape_line
from fulgen.lettering.writing_systems import LATIN, WritingSystem
from fulgen.roots import bisect

_THINNEST_LETTERS = "aehnostrvwxMNW"
_COUNTERS = "abdegopqABDOPQR"
"""Latin letters that are the thinnest of their faces, and those with counters (from memory); of other writing
systems all letters are looked at."""

JOINS, NEARLY = 0.9, 0.55
"""Shares of pairs that are joined from which a face is said to join by itself, and nearly. (†)"""


@dataclass(frozen=True)
class Rating:
    """small, capital: shares of the pairs of small letters, and of capital and small letter, that are
    joined as set; thinnest: the width of the thinnest stroke, and counter: how wide the smallest counter is,
    as shares of the size; counter is 0 where letters have none."""

    small: float
    capital: float
    thinnest: float
    counter: float

    def as_dict(self) -> dict[str, float]:
        return {
            "small": self.small,
            "capital": self.capital,
            "thinnest": self.thinnest,
            "counter": self.counter,
        }

    @property
    def words(self) -> str:
        if self.small >= JOINS:
            return "joins by itself"
        return "nearly joins" if self.small >= NEARLY else "needs joining"


def rate(face: Face, system: WritingSystem = LATIN, done: Callable[[float], None] = lambda _: None) -> Rating:
    """How a face joins in a writing system. Pairs with a letter the face lacks are passed over. ``done``
    hears now and then what share of the work is done."""
    count = 0
    whole = len(system.pairs.split()) + len(system.capital_pairs.split())

    def joined(pair: str) -> bool | None:
        nonlocal count
        count += 1
        if count % 16 == 0:
            done(count / whole)
        return _joined(face, pair)

    def share(pairs: str) -> float:
        found = [j for j in map(joined, pairs.split()) if j is not None]
        return sum(found) / len(found) if found else 0.0

    thin, hollow = (_THINNEST_LETTERS, _COUNTERS) if system is LATIN else (system.letters, system.letters)
    return Rating(
        share(system.pairs),
        share(system.capital_pairs),
        _thinnest(_regions(face, thin)),
        _smallest_counter(_regions(face, hollow)),
    )


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


def _regions(face: Face, text: str) -> list[Region]:
    return [letter.shape.region for letter in letters_alone(face, text)]


def _thinnest(regions: Iterable[Region]) -> float:
    """The thinnest stroke: twice the least wear that takes a tenth of a letter's length away, in the median
    of some letters.

    A stroke of width w is gone when worn by w / 2 from both sides; a hairline goes first.
    """
    widths = [_hairline(region) for region in regions]
    return float(np.median(widths)) if widths else 0.0


def _hairline(region: Region) -> float:
    whole = region.area

    def holds(width: float) -> bool:
        # Opened: what a disc of this width can still paint.
        opened = shapely.buffer(shapely.buffer(region, -width / 2, quad_segs=4), width / 2, quad_segs=4)
        return bool(opened.area > 0.9 * whole)

    return sum(bisect(holds, 0.0, 0.3, 0.3 / 500)) / 2


_A_COUNTER = 0.02
"""Holes narrower than this share of the size are slits of the drawing, not counters. (†)"""


def _smallest_counter(regions: Iterable[Region]) -> float:
    """The diameter of the largest disc that fits into the smallest counter."""
    holes = [hole for region in regions for hole in holes_of(region)]
    if not holes:
        return 0.0
    radii = shapely.length(shapely.maximum_inscribed_circle(np.array(holes), tolerance=1e-3))
    wide = [2 * float(radius) for radius in radii if 2 * radius >= _A_COUNTER]
    return min(wide, default=0.0)
