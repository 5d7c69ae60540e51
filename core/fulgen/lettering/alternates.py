"""Other shapes that a face offers for a letter: swashes, beginnings, endings, style sets."""

from __future__ import annotations

from dataclasses import dataclass

from fulgen.geometry.outline import Outline
from fulgen.lettering.faces import FEATURE_NAMES, Face
from fulgen.lettering.shaping import Features, Glyph, ShapedLetter, Special, shape_line

_TAGS = ("swsh", "salt", "init", "fina", "medi", "isol", "calt", "titl", "hist", "cswh", "onum", "smcp",
         *(f"ss{n:02}" for n in range(1, 21)), *(f"cv{n:02}" for n in range(1, 31)))  # fmt: skip
_NUMBERED = ("swsh", "salt", "cswh")
_MOST = 5


@dataclass(frozen=True, eq=False)
class Alternate:
    """A shape for a letter: the features that bring it (empty: as the face sets it), a name for it, and
    its contours for a size of 1."""

    features: Features
    name: str
    outline: Outline


def alternates(face: Face, line: str, at: int, features: Features = ()) -> list[Alternate]:
    """The shapes a face has for the letter at ``at`` of a line, the one it is set in first; each once."""
    usual = _letter(shape_line(face, line, features), at)
    if usual is None:
        return []
    found: dict[tuple[Glyph, ...], Alternate] = {
        usual.glyphs: Alternate((), "As the face sets it", usual.drawn)
    }
    for tag in _TAGS:
        if tag not in face.substitutions:
            continue
        values = (0,) if tag == "calt" else range(1, _MOST + 1) if tag in _NUMBERED else (1,)
        for value in values:
            special = {at: Special(features=((tag, value),))}
            letter = _letter(shape_line(face, line, features, special), at)
            if letter is not None and letter.text == usual.text:
                found.setdefault(letter.glyphs, Alternate(((tag, value),), _name(tag, value), letter.drawn))
    return list(found.values())


def _letter(letters: tuple[ShapedLetter, ...], at: int) -> ShapedLetter | None:
    return next((letter for letter in letters if letter.at == at), None)


def _name(tag: str, value: int) -> str:
    named = {
        "swsh": "Swash", "cswh": "Swash", "salt": "Other shape", "titl": "Display shape",
        "hist": "Old shape", "init": "First letter", "fina": "Last letter",
        "calt": "Without regard to its neighbours", "medi": "Middle letter", "isol": "Letter alone",
    }  # fmt: skip
    name = named.get(tag) or (FEATURE_NAMES[tag][0] if tag in FEATURE_NAMES else f"Variant {tag[2:]}")
    return f"{name} {value}" if value > 1 else name
