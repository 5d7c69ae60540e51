"""Bodies and marks: which bits of a letter hang together with the word, and which float.

A *mark* is a detached bit that a letter has by nature: the dot of i and j, an accent, the foot of an
exclamation mark. The *body* is the rest: what is joined to the neighbours. Some scripts draw a
capital in two strokes that do not touch; both are body.
"""

from __future__ import annotations

import unicodedata

import numpy as np
import shapely

from fulgen.geometry.polygons import Region, polygonal
from fulgen.lettering.shaping import clusters

_DOTTED = frozenset('ijİĳǆǉǌ!?¡¿;:%‰÷=…"“”„«»іїјёبتثجخذزشضظغفقنيةپچژڤگ')
"""Letters and signs with a bit that floats: also the Arabic ones with dots (i'jam; The Unicode Standard,
section 9.2)."""

_FOOTED = frozenset("!?¡¿")

_SMALL = 0.4
"""A detached bit of a dotted letter is a mark when it is smaller than this share of the largest."""

_ABOVE_OR_BELOW = 0.6
"""One that is wholly above or below the largest may be this large."""

_HIGH = 0.4
"""What has its middle in this share of the height, from the top, floats high."""

HANGING = frozenset("'’‘`´ʼ\"“”„′″")
"""Signs that hang in the air between letters; the letters below them are each other's neighbours."""

APART = frozenset(".,:;!?…¡¿()[]{}«»‹›*•·|<>=~^°©®™¦§¶†‡")
"""Signs that stand apart unless the maker says otherwise: they end what is joined."""


LIKE_BITS = frozenset(':;=%‰÷…"“”„«»″')
"""Signs made of several bits none of which carries the others: they are tied to each other, and never
lowered, for a lowered colon is another sign."""


def carrier_and_bits(text: str, region: Region) -> tuple[Region, Region]:
    """What the detached bits of a letter are to hang on, and those bits: its body and its marks, or of a sign
    of like bits the largest and the rest."""
    if text not in LIKE_BITS:
        return body_and_marks(text, region)
    parts = np.asarray(shapely.get_parts(region))
    largest = int(shapely.area(parts).argmax())
    rest = [part for n, part in enumerate(parts) if n != largest]
    return polygonal(parts[largest]), shapely.MultiPolygon(rest)


def body_and_marks(text: str, region: Region) -> tuple[Region, Region]:
    """The body of a letter and its marks, either of which may be empty."""
    parts = np.asarray(shapely.get_parts(region))
    if len(parts) < 2 or not _has_marks(text):
        return region, shapely.MultiPolygon()
    areas = shapely.area(parts)
    _, top, _, bottom = shapely.bounds(parts).T
    # The foot of a hairline's ! is larger than its stroke: there the taller bit is what the foot hangs on.
    footed = text in _FOOTED
    main = int((bottom - top if footed else areas).argmax())
    clear = 0.02 * (bottom[main] - top[main])
    beyond = (bottom <= top[main] + clear) | (top >= bottom[main] - clear)
    small = areas < _SMALL * areas[main]
    if len(clusters(text)) > 1:
        # Of letters that a face merges, but leaves apart, only what floats high is a mark.
        small &= (top + bottom) / 2 < top[main] + _HIGH * (bottom[main] - top[main])
    is_mark = small | (beyond & (footed | (areas < _ABOVE_OR_BELOW * areas[main])))
    is_mark[main] = False
    return shapely.multipolygons(parts[~is_mark]), shapely.multipolygons(parts[is_mark])


def _has_marks(text: str) -> bool:
    return any(
        char in _DOTTED or any(unicodedata.category(c) == "Mn" for c in unicodedata.normalize("NFD", char))
        for char in text
    )
