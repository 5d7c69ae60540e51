"""Bodies and marks: which bits of a letter hang together with the word, and which float.

A *mark* is a detached bit that a letter has by nature: the dot of i and j, an accent, the foot of an
exclamation mark. The *body* is the rest: what is joined to the neighbours. Some scripts draw a
capital in two strokes that do not touch; both are body.
"""

from __future__ import annotations

import unicodedata

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry.polygons import Region, polygonal
from fulgen.lettering.shaping import clusters

_DOTS_ABOVE, _DOTS_BELOW = frozenset("تثخذزشضظغفقنةژڤڭٹڈڑ"), frozenset("بجيپچی")
"""Arabic letters with dots or another small sign apart from their strokes (i'jam), by the side on which that
is. (The Unicode Standard, section 9.2)"""

_DOTTED = frozenset('ijİĳǆǉǌ!?¡¿;:%‰÷=…"“”„«»іїјёگःॐ') | _DOTS_ABOVE | _DOTS_BELOW
"""Letters and signs with a bit that floats, which Unicode does not take apart."""

_THAI = frozenset(map(chr, range(0x0E00, 0x0E80)))

_THAI_LETTERS_STAND = -0.2
"""Every Thai letter crosses this height, of the size; signs over and under it do not. (†)"""

_SCRAP = 0.25
"""Dots of one letter are alike. What is smaller than this share of the largest is a scrap of the drawing: the
end of a stroke that the next letter is to cover."""

_FOOTED = frozenset("!?¡¿")

_SPECK = 2e-4
"""What is smaller than this (in squares of the size), beside the strokes of a letter, is spatter of a brush:
half a millimetre across in lettering 35 mm high. It hangs on nothing, and nothing hangs on it. (†)"""

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
    """The body of a letter and its marks, either of which may be empty. Specks are neither."""
    parts = np.asarray(shapely.get_parts(region))
    if len(parts) > 1:
        seen = shapely.area(parts) >= _SPECK
        if seen.any() and not seen.all():
            parts, region = parts[seen], shapely.MultiPolygon(list(parts[seen]))
    thai = not _THAI.isdisjoint(text)
    if len(parts) < 2 or not (thai or _has_marks(text)):
        return region, shapely.MultiPolygon()
    if len(text) == 1 and text in _DOTS_ABOVE | _DOTS_BELOW:
        is_mark = _dots(parts, text in _DOTS_BELOW)
    elif thai:
        is_mark = _over_and_under(parts)
    else:
        is_mark = _detached_bits(text, parts)
    return shapely.MultiPolygon(list(parts[~is_mark])), shapely.MultiPolygon(list(parts[is_mark]))


def _dots(parts: NDArray[np.object_], below: bool) -> NDArray[np.bool_]:
    """Which parts are the dots of an Arabic letter: those on their side of its stroke, which may be little
    larger than they are, and small ones within its bowl. An upright beside it is no dot."""
    areas = shapely.area(parts)
    left, top, right, bottom = shapely.bounds(parts).T
    stroke = int(top.argmin() if below else bottom.argmax())
    middle = (top + bottom) / 2
    beyond = middle > middle[stroke] if below else middle < middle[stroke]
    dots: NDArray[np.bool_] = beyond | (areas < _SMALL * areas[stroke])
    upright = bottom - top > 2 * (right - left)
    dots &= ~(upright & (bottom > top[stroke]) & (top < bottom[stroke]))
    dots[stroke] = False
    dots &= areas >= _SCRAP * areas[dots].max(initial=0.0)
    return dots


def _over_and_under(parts: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which parts of a Thai letter float over or under it: vowels, tones, the feet of some. They may be
    larger than what they belong to."""
    _, top, _, bottom = shapely.bounds(parts).T
    apart: NDArray[np.bool_] = (bottom < _THAI_LETTERS_STAND) | (top > _THAI_LETTERS_STAND)
    return apart & (not apart.all())


def _detached_bits(text: str, parts: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which parts are small, or clear of the largest, and hang on it."""
    areas = shapely.area(parts)
    _, top, _, bottom = shapely.bounds(parts).T
    # The foot of a hairline's ! is larger than its stroke: there the taller bit is what the foot hangs on.
    footed = text in _FOOTED
    main = int((bottom - top if footed else areas).argmax())
    clear = 0.02 * (bottom[main] - top[main])
    beyond = (bottom <= top[main] + clear) | (top >= bottom[main] - clear)
    small = areas < _SMALL * areas[main]
    if len(clusters(text)) > 1 and _DOTS_ABOVE.isdisjoint(text) and _DOTS_BELOW.isdisjoint(text):
        # Of letters that a face merges, but leaves apart, only what floats high is a mark. Arabic ones hang
        # together.
        small &= (top + bottom) / 2 < top[main] + _HIGH * (bottom[main] - top[main])
    is_mark: NDArray[np.bool_] = small | (beyond & (footed | (areas < _ABOVE_OR_BELOW * areas[main])))
    is_mark[main] = False
    return is_mark


def _has_marks(text: str) -> bool:
    return any(
        char in _DOTTED or any(unicodedata.category(c) == "Mn" for c in unicodedata.normalize("NFD", char))
        for char in text
    )
