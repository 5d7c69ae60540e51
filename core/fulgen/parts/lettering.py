"""Lettering: live text, joined."""

from __future__ import annotations

from typing import Any, Literal

from fulgen.joining.anchors import PartId
from fulgen.joining.bars import Underline
from fulgen.joining.join_options import JoinOptions
from fulgen.lettering.setting import Setting
from fulgen.parts.part import ANY_FILM, Part


class Lettering(Setting, Part):
    """Live text as a part: how it is set and joined. Where it lies is where its first baseline's left end
    is."""

    kind: Literal["lettering"] = "lettering"
    id: PartId = "lettering-1"
    join: JoinOptions = JoinOptions()
    underline: Underline | None = None

    @property
    def needs(self) -> tuple[str, ...]:
        """The part whose line it runs along."""
        course = self.course
        return (course.of,) if course is not None and course.kind == "line" and course.of else ()

    def _ignored_by_build(self) -> dict[str, Any]:
        # Letters and stand-ins may have films of their own, where they are others.
        has_colours = any(change.stand_in or change.film for change in self.letters.values())
        film = {} if has_colours else {"film": ANY_FILM}
        return {"name": "", **film}


MOST_THICKER = 1.0
"""Letters are thickened by their size at most: a backing for a name is about a third of it."""
