"""What all parts of a design have in common."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal, Self

from pydantic import ConfigDict, Field

from fulgen.frozen import STRICT, Flag, Frozen
from fulgen.geometry.placement import Placement
from fulgen.joining.anchors import PartId

FilmColour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Millimetres = Annotated[float, Field(strict=True, ge=0.1, le=5000.0)]
PartName = Annotated[str, Field(max_length=60)]

Use = Literal["cut", "engrave", "draw", "score", "guide"]
"""What an outline is for: cut through, engraved as an area, drawn with a pen, scored for a fold, or only seen
on the work."""


def _require_kind(schema: dict[str, Any]) -> None:
    schema["required"] = sorted({*schema.get("required", ()), "kind"})


KIND_IS_REQUIRED = ConfigDict(json_schema_extra=_require_kind)
"""For kinds of parts that a recipe has to name: a part of which nothing is said is lettering."""


@dataclass(frozen=True)
class Alignment:
    """What stays in its place when a part changes: an edge or the middle of the box around it, across, down,
    or both. It is measured from the same edge or middle of another part of its level, or of nothing: from the
    level's origin. Where it is aligned, the part's place says how far off."""

    __pydantic_config__ = STRICT

    to: PartId | None = None
    across: Literal["left", "centre", "right"] | None = None
    down: Literal["top", "middle", "bottom"] | None = None


_IGNORED_BY_BUILD: dict[str, Any] = {"place": Placement(), "hidden": False, "locked": False, "group_id": "",
                            "use": "cut", "alignment": None}  # fmt: skip
ANY_FILM = "#000000"
"""What the making of a part sees of its film, where its colour makes no difference."""


class Part(Frozen):
    """A thing in a design: its id, the maker's own name for it, the film it is cut from, where it lies (on
    the work, or in the combination that it is a member of), and what its outline is for.

    hidden: it is neither shown nor cut; locked: hands on the work pass over it. Parts with the same
    ``travels`` are moved together and stay what they are.
    """

    id: PartId
    name: PartName = ""
    film: FilmColour = "#2B5674"
    place: Placement = Placement()
    hidden: Flag = False
    locked: Flag = False
    group_id: Annotated[str, Field(pattern=r"^[a-z0-9-]{0,40}$")] = ""
    use: Use = "cut"
    alignment: Alignment | None = None

    @property
    def contains(self) -> tuple[str, ...]:
        """The parts that lie in it."""
        return ()

    @property
    def needs(self) -> tuple[str, ...]:
        """The parts that have to be made before it."""
        return ()

    @property
    def placed_after(self) -> tuple[str, ...]:
        """The parts that have to be made and placed before it."""
        to = self.alignment.to if self.alignment else None
        return self.needs if to is None else (*self.needs, to)

    def build_input(self) -> Self:
        """The part as its making sees it: where it lies, and what else it has no business with, is as
        usual."""
        return self.model_copy(update={**_IGNORED_BY_BUILD, **self._ignored_by_build()})

    def _ignored_by_build(self) -> dict[str, Any]:
        """What else the making of its kind does not see."""
        return {}
