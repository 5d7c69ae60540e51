"""A finding: one thing that would go wrong on the material, its place, its measure and what repairs it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import zip_longest
from typing import TypeAlias

from fulgen.geometry.measure import Box
from fulgen.joining.anchors import Anchor
from fulgen.parts.built_part import PlacedPart
from fulgen.recipe.changes import Change
from fulgen.recipe.model import AcceptedFinding
from fulgen.units import MM_PER_INCH, Unit

_SAME_PLACE = 0.03
"""An accepted finding is the same within this share of the size, and within _SAME_MEASURE of its measure."""


_SAME_MEASURE = 0.1


_MORE = 1.1


def wide_enough(limit: float) -> float:
    """How wide something thinner than a limit is made: a little wider, so that the repair itself is not
    in question."""
    return limit * _MORE


@dataclass(frozen=True, eq=False)
class Remedy:
    """What repairs a finding in one action: a word for it, and the recipe with it taken."""

    label: str
    take: Change


LENGTH = "\0"
"""Where a length goes in what a finding says: a sign that nobody can type."""


@dataclass(frozen=True, eq=False)
class Finding:
    """One thing that the check has found; lengths in mm, places on the work.

    said: the fact, with LENGTH where ``lengths`` go, which are shown in the maker's unit. measure: how
    wide, large or many; limit: what it breaks. at: the place it is kept by. known_as: the numbers of what the
    recipe accepts that it is.
    """

    kind: str
    message: str
    lengths: tuple[float, ...]
    blocks: bool
    box: Box
    measure: float
    limit: float
    at: Anchor
    size: float
    remedy: Remedy | None = None
    film: str = ""
    accepted_as: tuple[int, ...] = ()

    kept_bytes = 1_000

    def what(self, unit: Unit) -> str:
        """The fact in one sentence."""
        return with_lengths(self.message, self.lengths, unit)

    @property
    def accepted(self) -> bool:
        """Whether the maker knows of it and takes it as it is."""
        return bool(self.accepted_as)

    @property
    def place(self) -> tuple[float, float]:
        return self.box.x + self.box.width / 2, self.box.y + self.box.height / 2

    @property
    def as_accepted(self) -> AcceptedFinding:
        """The finding as a recipe says that it is accepted."""
        return AcceptedFinding(self.kind, self.at, round(self.measure, 4))


def with_lengths(said: str, lengths: Iterable[float], unit: Unit) -> str:
    """Words with lengths put in where LENGTH stands."""
    parts = said.split(LENGTH)
    shown = (_shown(length, unit) for length in lengths)
    return "".join(text + length for text, length in zip_longest(parts, shown, fillvalue=""))


def _shown(mm: float, unit: Unit) -> str:
    return f"{mm / MM_PER_INCH:.3f} in" if unit == "in" else f"{mm:.2f} mm"


def is_accepted_by(finding: Finding, known: AcceptedFinding) -> bool:
    if known.kind != finding.kind or known.at.place != finding.at.place:
        return False
    if known.at.of not in ("", finding.at.of):
        return False
    away = math.hypot(known.at.x - finding.at.x, known.at.y - finding.at.y)
    return away <= _SAME_PLACE and abs(known.mm - finding.measure) <= _SAME_MEASURE * max(
        finding.measure, 0.01
    )


Repair: TypeAlias = Callable[[PlacedPart, Anchor], Remedy | None]
"""Makes the remedy of a finding from the part and the place it is kept by."""
