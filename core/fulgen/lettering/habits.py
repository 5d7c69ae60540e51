"""Habits: what a hand does to a letter, or to a pair of letters, of a family wherever they come.

A letterer corrects one joint and wants it so in every word. A habit is a change of a letter kept by what the
letters are instead of by where they stand; what was done to one letter by itself goes before it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field

from fulgen.frozen import STRICT
from fulgen.lettering.letters import AS_SET, LetterChange, SeamAfter
from fulgen.lettering.reshape import LetterShape, Move

MOST_HABITS = 200

_AS_FOUND = SeamAfter()


@dataclass(frozen=True)
class Habit:
    """What is always done to ``letters`` of a family: to one, its ``shape``; to a pair, the ``seam`` between
    the two and the room ``after`` the first, in shares of the size."""

    __pydantic_config__ = STRICT

    family: Annotated[str, Field(min_length=1, max_length=80)]
    letters: Annotated[str, Field(min_length=1, max_length=2)]
    seam: SeamAfter = _AS_FOUND
    after: Move = 0.0
    shape: LetterShape | None = None


def with_habits(
    text: str, family: str, habits: Sequence[Habit], changes: dict[int, LetterChange]
) -> dict[int, LetterChange]:
    """The changes of letters, by their places in a text of a family, with the hand's habits."""
    by_letters = {habit.letters: habit for habit in habits if habit.family == family}
    if not by_letters:
        return changes
    found = dict(changes)
    for at, letter in enumerate(text):
        own = found.get(at, AS_SET)
        follows = found.get(at + 1, AS_SET)
        if own.face is not None or own.stand_in is not None:
            continue
        one = by_letters.get(letter)
        if one is not None and own.shape is None:
            own = replace(own, shape=one.shape)
        pair = by_letters.get(text[at : at + 2]) if at + 1 < len(text) else None
        if pair is not None and follows.face is None and follows.stand_in is None:
            own = replace(
                own,
                seam=pair.seam if own.seam == _AS_FOUND else own.seam,
                after=pair.after if own.after == 0.0 else own.after,
            )
        if own != AS_SET:
            found[at] = own
    return found
