"""Anchors: places on the parts of a design that things hold to, so that they go where the parts go.

A place is a part and what of it is meant: one of its letters, one of its contours, or, where neither is
named, its body.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from fulgen.frozen import STRICT, WHOLE
from fulgen.lettering.letters import LetterId
from fulgen.lettering.reshape import Move

PartId = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]


@dataclass(frozen=True)
class Place:
    """A part by its id, and of it a letter by its id or a contour by its number."""

    __pydantic_config__ = STRICT

    part: PartId
    letter: LetterId | None = None
    contour: Annotated[int, Field(ge=0, le=100_000), WHOLE] | None = None


@dataclass(frozen=True)
class Anchor:
    """A point of a place, from the origin of what is meant and in shares of its size: on a letter as the face
    draws it, in shares of the face's size. ``of`` is what was to be seen there when the anchor was laid: a
    letter's text, or the name of its stand-in; on anything else the anchor does not hold. Empty: on anything.
    """

    __pydantic_config__ = STRICT

    part: PartId
    x: Move
    y: Move
    letter: LetterId | None = None
    contour: Annotated[int, Field(ge=0, le=100_000), WHOLE] | None = None
    of: Annotated[str, Field(max_length=64)] = ""

    @property
    def place(self) -> Place:
        return Place(self.part, self.letter, self.contour)


def within_reach(share: float) -> float:
    """A coordinate of an anchor as it is kept."""
    return min(20.0, max(-20.0, round(share, 6)))
