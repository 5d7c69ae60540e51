"""The tree of a recipe's parts: which lie in which, and where that puts them on the work.

Terms. The *level* of a part is the combination it is a member of, or the work.

Where aligned parts lie is known once they are made: evaluate tells the tree (``lies``), each before what is
placed after it.
"""

from __future__ import annotations

from functools import cache

from fulgen.geometry.placement import Placement
from fulgen.parts.backing import Backing
from fulgen.parts.frame import Frame
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.model import AnyPart, Recipe

UNMOVED = Placement()


def _is_blank(part: AnyPart) -> bool:
    return isinstance(part, Lettering) and not part.text.strip()


class Tree:
    """Parts by their ids, and the combination that each is a member of."""

    def __init__(self, recipe: Recipe) -> None:
        self.by_id: dict[str, AnyPart] = {part.id: part for part in recipe.parts}
        self.parent: dict[str, str] = {member: part.id for part in recipe.parts for member in part.contains}
        self._has_others = not all(map(_is_blank, recipe.parts))
        self._aligned: dict[str, Placement] = {}
        self.scale_of = cache(self._scale_of)

    def top(self, part_id: str) -> str:
        """The part on the work that a part is in, or itself."""
        seen = {part_id}
        while part_id in self.parent and self.parent[part_id] not in seen:
            part_id = self.parent[part_id]
            seen.add(part_id)
        return part_id

    def is_framed(self, part_id: str) -> bool:
        """Whether a part is a name in a frame: it is made there."""
        holder = self.by_id.get(self.parent.get(part_id, ""))
        return isinstance(holder, Frame) and part_id in holder.members

    def is_left_out(self, part_id: str | None) -> bool:
        """Whether a part, or a combination that it is in, is hidden; or it is lettering without words."""
        while part_id is not None:
            part = self.by_id.get(part_id)
            if part is not None and (part.hidden or (self._has_others and _is_blank(part))):
                return True
            part_id = self.parent.get(part_id)
        return False

    def lies_in_level(self, part: AnyPart) -> Placement:
        """Where a part lies in its level: a backing moves on from where its part lies."""
        if isinstance(part, Backing):
            return self.from_level(part).within(part.place)
        if isinstance(part, Lettering) and part.needs:
            return UNMOVED  # it lies on the line that it runs along
        return self._aligned.get(part.id, part.place)

    def lies(self, part_id: str, place: Placement) -> None:
        """Says where an aligned part lies in its level."""
        self._aligned[part_id] = place

    def is_aligned(self, part: AnyPart) -> bool:
        """Whether its alignment says where a part lies, and not what it is made of."""
        follows = isinstance(part, Backing) or (isinstance(part, Lettering) and bool(part.needs))
        return part.alignment is not None and not follows and not self.is_framed(part.id)

    def from_level(self, part: Backing) -> Placement:
        """Where what a backing is of lies in the backing's level.

        Raises Problem "no-part" where it lies outside that.
        """
        level = self.parent.get(part.id)
        at: str | None = part.of
        place = UNMOVED
        while at is not None and at in self.by_id:
            place = place.within(self.lies_in_level(self.by_id[at]))
            at = self.parent.get(at)
            if at == level:
                return place
        raise Problem(
            "no-part",
            "A backing lies in a combination, and what it is the backing of does not.",
            "Take both into it, or both out.",
            part.id,
        )

    def lies_on_work(self, part_id: str | None) -> Placement | None:
        """Where the frame of a part lies on the work; None for the work itself."""
        if part_id is None:
            return None
        own = self.lies_in_level(self.by_id[part_id])
        outer = self.lies_on_work(self.parent.get(part_id))
        return own if outer is None else own.within(outer)

    def _scale_of(self, part_id: str | None) -> float:
        """How many times as large lengths in the frame of a part are on the work."""
        place = self.lies_on_work(part_id)
        return 1.0 if place is None else place.scale
