"""Initials: one or more letters as bodies that frames are made of, cut across where a name goes."""

from __future__ import annotations

from fulgen.framing.contact import ties
from fulgen.geometry.measure import Box
from fulgen.geometry.operations import subtract
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.shape_library import rectangle
from fulgen.geometry.weld import clean, weld
from fulgen.lettering.faces import LETTER_FLATNESS, Face
from fulgen.lettering.shaping import missing_letters, shape_line
from fulgen.problem import Problem


def initial(text: str, face: Face, height: float) -> Shape:
    """Letters as the face sets them, welded, so many mm high and with the middle of their box at 0, 0; what
    stands by itself, such as an accent, is tied to the rest.

    Raises Problem "missing-letters" where the face lacks some, "no-initial" where nothing is drawn.
    """
    if missing_letters(face, text):
        raise Problem(
            "missing-letters", f"{face.name} has no “{text}”.", "Use another face for the initial.", "face"
        )
    letters = [letter for letter in shape_line(face, text, (), {}) if letter.shape]
    if not letters:
        raise Problem("no-initial", "The frame has no initial yet.", "Type one, or a name.", "text")
    whole = weld([letter.shape.placed(letter.x, 0.0) for letter in letters])
    bars = [clean(outline, LETTER_FLATNESS) for outline, _ in ties([], whole.region, _TIE)]
    whole = weld([whole, *bars]) if bars else whole
    box = whole.box
    scale = height / box.height
    middle = box.x + box.width / 2, box.y + box.height / 2
    return clean(
        whole.outline.placed(-middle[0] * scale, -middle[1] * scale, scale),
        min(LETTER_FLATNESS * scale, FLATNESS_MM),
    )


_TIE = 0.06
"""The neck by which bits of an initial hang on it, as a share of its size. (†)"""


def bar(box: Box, radius: float = 0.0) -> Shape:
    """A bar, its corners rounded."""
    drawn = rectangle(box.width, box.height, radius)
    return clean(drawn.placed(box.x + box.width / 2, box.y + box.height / 2), FLATNESS_MM)


def split(letter: Shape, top: float, bottom: float) -> Shape:
    """A letter without what lies between two levels."""
    box = letter.box
    return subtract(letter, [bar(Box(box.x - 1, top, box.width + 2, bottom - top))])
