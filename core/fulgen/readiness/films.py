"""Films by what the shop calls them, and those that look alike."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import combinations

from fulgen.recipe.model import Recipe

ALIKE = 30.0
"""Colours nearer to each other than this, of 255 in each of red, green and blue, look alike. (†)"""


def alike_films(films: Sequence[str]) -> list[tuple[str, str]]:
    """Pairs of films that look alike."""
    pairs = combinations(films, 2)
    return [(one, other) for one, other in pairs if math.dist(_rgb(one), _rgb(other)) < ALIKE]


def film_name(recipe: Recipe, film: str) -> str:
    """What the shop calls a film; its colour, where it has no name."""
    return recipe.cut.stock(film).name.strip() or colour_word(film)


COLOUR_WORDS = {
    "Black": "#23201C", "White": "#FFFFFF", "Silver": "#8A9199", "Red": "#B03030", "Orange": "#D07A28",
    "Gold": "#C8932B", "Yellow": "#E8CF3A", "Green": "#2F6B4F", "Blue": "#2B5674", "Light blue": "#7FB2D6",
    "Purple": "#6B4A86", "Pink": "#D98CA6", "Brown": "#6B4A2B",
}  # fmt: skip
"""Words for films without a name: the nearest colour's."""


def colour_word(film: str) -> str:
    """A word for a colour.

    >>> colour_word("#8C2F39"), colour_word("#1F4E6B")
    ('Red', 'Blue')
    """

    def apart(word: str) -> int:
        return sum(abs(a - b) for a, b in zip(_rgb(COLOUR_WORDS[word]), _rgb(film), strict=True))

    return min(COLOUR_WORDS, key=apart)


def _rgb(colour: str) -> tuple[int, int, int]:
    red, green, blue = (int(colour[n : n + 2], 16) for n in (1, 3, 5))
    return red, green, blue
