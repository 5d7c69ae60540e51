"""The gate in front of every way out: what is to be known before a design is saved, sent or cut.

Nothing stops for good what a maker wants to cut; what goes out all the same is noted where it goes.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.readiness.findings import blocking, findings
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.model import AnyPart
from fulgen.units import counted


@dataclass(frozen=True)
class Stop:
    """Something to be known first: that parts would tear or be lost, or that a word comes off in pieces; what
    is to be said, and what to do."""

    about: Literal["findings", "loose"]
    what: str
    todo: str


def stops(evaluation: Evaluation) -> tuple[Stop, ...]:
    """What stands at the gate."""
    return (*faults(evaluation), *loose_words(evaluation))


def validate_ready(evaluation: Evaluation) -> None:
    """Raises Problem "at-gate" while anything stands there."""
    for stop in stops(evaluation):
        raise Problem("at-gate", stop.what, stop.todo, stop.about)


def faults(evaluation: Evaluation) -> Iterator[Stop]:
    """That something would tear or be lost, if anything would."""
    count = len(blocking(findings(evaluation)))
    if count:
        things = counted(count, "thing is", "things are")
        yield Stop(
            "findings", f"{things} too weak or too small for {evaluation.recipe.material.name.lower()}.",
            "Make it ready, or see in the Check stage where.",
        )  # fmt: skip


_MOST_WORDS = 3
"""More words than these are reported together."""


def loose_words(evaluation: Evaluation) -> Iterator[Stop]:
    """Words that come off in pieces, unless that is known."""
    if evaluation.recipe.cut.pieces_accepted:
        return
    loose = [f.at for f in findings(evaluation) if f.kind == "piece" and not f.accepted]
    words = Counter(_word_of(evaluation.recipe.part(at.part), at.letter) for at in loose)
    words.pop("", None)
    todo = "Join it, or say that you know."
    if len(words) > _MOST_WORDS:
        yield Stop("loose", f"{len(words)} words come off in pieces.", todo)
        return
    for word, count in words.items():
        yield Stop("loose", f"\u201c{word}\u201d comes off in {count + 1} pieces.", todo)


def _word_of(part: AnyPart | None, letter_id: int | None) -> str:
    """The word that a letter of a part is in; "" where it is none's."""
    if not isinstance(part, Lettering) or letter_id not in part.ids:
        return ""
    at = part.ids.index(letter_id)
    return next((m[0] for m in re.finditer(r"\S+", part.text) if m.start() <= at < m.end()), "")
