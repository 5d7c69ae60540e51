"""What of a design is not cut, in words."""

from __future__ import annotations

from collections.abc import Iterator

from fulgen.parts.built_part import MarkUse
from fulgen.recipe.evaluation import Evaluation

_WORDS: dict[MarkUse, tuple[str, str]] = {
    "engrave": ("area is engraved", "areas are engraved"),
    "draw": ("line is drawn", "lines are drawn"),
    "score": ("line is scored", "lines are scored"),
}


def uncut_words(evaluation: Evaluation) -> Iterator[tuple[MarkUse, str]]:
    """How much there is for each use, in the order in which it is done: "2 areas are engraved"."""
    for use, words in _WORDS.items():
        count = sum(one.mark.use == use for one in evaluation.marks)
        if count:
            yield use, f"{count} {words[count > 1]}"
