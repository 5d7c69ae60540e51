"""What is known of a face without opening its file: what it writes, what it can do, how it looks and joins.

Records of the faces that ship are worked out once, when a face is added to the project, and shipped; a face
of the maker's own gets one when it is rated.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import astuple, dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from fulgen.joining.rating import Rating, rate
from fulgen.lettering.catalogue import Family, face_index, families
from fulgen.lettering.looks import Looks, looks_of
from fulgen.lettering.writing_systems import ARABIC, LATIN, WritingSystem

_SWASHES = frozenset({"swsh", "cswh", "init", "fina"})
"""Features that give letters swashes (OpenType feature registry); init and fina of faces that write Latin."""


@dataclass(frozen=True)
class FaceRecord:
    """ratings: how it joins, by the name of each writing system that it writes, its own first. looks: how it
    looks by the letters of the first of them. written: whether its letters are written, as a hand does.
    swashes: whether it has letters with swashes."""

    ratings: dict[str, Rating]
    looks: Looks
    written: bool
    swashes: bool

    def as_dict(self) -> dict[str, Any]:
        """As JSON, rounded so that it is the same on every machine."""
        ratings = {
            name: {key: round(value, 3) for key, value in rating.as_dict().items()}
            for name, rating in self.ratings.items()
        }
        return {
            "ratings": ratings,
            "looks": self.looks.as_dict(),
            "written": self.written,
            "swashes": self.swashes,
        }

    @classmethod
    def from_dict(cls, row: dict[str, Any]) -> FaceRecord:
        ratings = {name: Rating(**rating) for name, rating in row["ratings"].items()}
        return cls(ratings, Looks(**row["looks"]), row["written"], row["swashes"])

    @property
    def measures(self) -> tuple[float, ...]:
        """All that is measured of how it looks and joins."""
        joined = next(iter(self.ratings.values())).small
        return (*astuple(self.looks), joined, float(self.written))

    @property
    def said(self) -> tuple[str, ...]:
        """What a maker says of its looks."""
        return (*self.looks.words, *(("swashes",) if self.swashes else ()))


@lru_cache(maxsize=1)
def shipped_records() -> dict[str, FaceRecord]:
    """Those of the faces that ship, as ./fulgen schemas wrote them down, by slug."""
    rows = face_index()
    return {slug: FaceRecord.from_dict(rows[slug]) for slug in families() if slug in rows}


def record_of(family: Family, done: Callable[[float], None] = lambda _: None) -> FaceRecord:
    """What is known of a family, by its usual weight. ``done`` hears what share of the work is done."""
    face = family.face()
    systems = family.facts.systems or (LATIN,)
    ratings: dict[str, Rating] = {}

    def so_far(share: float) -> None:
        done((len(ratings) + share) / len(systems))

    for system in systems:
        ratings[system.name] = rate(face, system, so_far)
    has_swashes = bool(_SWASHES & _tags(family, systems))
    return FaceRecord(ratings, looks_of(face, systems[0]), family.facts.written, has_swashes)


def _tags(family: Family, systems: tuple[WritingSystem, ...]) -> frozenset[str]:
    tags = family.face().substitutions
    # In Arabic these are the forms that every word has.
    return tags if ARABIC not in systems else tags - {"init", "fina"}


def alike(slug: str, records: Mapping[str, FaceRecord]) -> list[str]:
    """The other faces of some, the most similar one first: by all that is measured, each by how much it
    varies among them."""
    names = list(records)
    table = np.array([record.measures for record in records.values()])
    table = table / np.maximum(table.std(axis=0), 1e-9)
    away = np.linalg.norm(table - table[names.index(slug)], axis=1)
    return [names[n] for n in np.argsort(away, kind="stable").tolist() if names[n] != slug]
