"""Kinds of parts: what the evaluation of a recipe has to know of each.

A kind is a model, a function that gathers all that a part of it is built from, and a function that builds it.
Whatever was gathered is one frozen value, so what is built is kept under its digest (`fulgen.steps`). All
kinds are listed in `parts.kinds`; the recipe's model and the evaluation follow from that list.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, Protocol, TypeVar

from fulgen.joining.bars import Bar
from fulgen.joining.materials import Limits
from fulgen.lettering.catalogue import FaceSource
from fulgen.parts.built_part import BuiltPart, PlacedPart
from fulgen.parts.part import Part
from fulgen.problem import Problem


class Surroundings(Protocol):
    """What a part may ask of the recipe that it is in, while it is built."""

    @property
    def faces(self) -> FaceSource: ...

    @property
    def limits(self) -> Limits:
        """Those of the recipe's material."""
        ...

    @property
    def bars(self) -> tuple[Bar, ...]:
        """All bridges laid by hand."""
        ...

    def part(self, part_id: str) -> Part | None: ...

    def built(self, part_id: str) -> PlacedPart | None:
        """A part built before this one, where it lies in its level; None where it is empty or failed."""
        ...

    def level_of(self, part_id: str) -> str | None:
        """The combination that a part is a member of; None where it lies on the work."""
        ...

    def scale_of(self, part_id: str) -> float:
        """How many times as large lengths in the frame of a part are on the work."""
        ...


AnyKindOfPart = TypeVar("AnyKindOfPart", bound=Part)
BuildInput = TypeVar("BuildInput")


@dataclass(frozen=True)
class PartKind(Generic[AnyKindOfPart, BuildInput]):
    """One kind of part. ``gather`` gives all that a part is built from, a value that ``steps.key_of`` can
    walk, and ``build`` what it comes to; both raise Problem."""

    model: type[AnyKindOfPart]
    gather: Callable[[AnyKindOfPart, Surroundings], BuildInput]
    build: Callable[[BuildInput], BuiltPart]

    @property
    def name(self) -> str:
        """What a recipe calls it."""
        return str(self.model.model_fields["kind"].default)


def by_itself(part: AnyKindOfPart, around: Surroundings) -> AnyKindOfPart:
    """Gathers what a part is built from that needs nothing but itself."""
    return part.build_input()


def missing_source(part: Part) -> Problem:
    """What is said where the part that another is made from is empty, hidden or failed."""
    return Problem(
        "no-part",
        "The part that this one is made from is empty, or not shown.",
        "Type its words or show it again, or delete this one.",
        part.id,
    )
