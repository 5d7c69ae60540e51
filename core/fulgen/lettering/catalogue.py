"""The families that ship with Fulgen, found by name, and the choice among their weights."""

from __future__ import annotations

import difflib
import json
import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache, partial
from pathlib import Path
from types import MappingProxyType
from typing import Annotated, Any

from pydantic import Field, Strict

from fulgen.bounded import BoundedCache
from fulgen.frozen import NO_OTHERS, STRICT, WHOLE
from fulgen.lettering.faces import Axis, Face, FontFile, Location, at_location
from fulgen.lettering.facts import Facts
from fulgen.problem import Problem

FACES_DIR = Path(__file__).parents[3] / "faces"

OWN = "own"
"""The kind of families that makers add."""

AxisTag = Annotated[str, Field(pattern=r"^[A-Za-z0-9]{4}$")]
Number = Annotated[float, Strict()]

KINDS = ("script", "brush", "school", "serif", "plain", "slab", "wide", "condensed", "rounded", "stencil")


@dataclass(frozen=True)
class FaceChoice:
    """A family by its name, and the weight or axes wanted of it."""

    __pydantic_config__ = STRICT

    family: Annotated[str, Field(min_length=1, max_length=80)] = "pacifico"
    weight: Annotated[int, Field(ge=1, le=1000), WHOLE] | None = None
    axes: Annotated[dict[AxisTag, Number], Field(max_length=16, json_schema_extra=NO_OTHERS)] = field(
        default_factory=dict
    )


FaceSource = Callable[[FaceChoice], Face]
"""Finds the face that is chosen. Raises Problem "no-face"."""


def shipped_face(choice: FaceChoice) -> Face:
    """The face chosen, from the families that ship with Fulgen."""
    return find_family(choice.family).face(choice.weight, choice.axes)


@dataclass(frozen=True, eq=False)
class Weight:
    """One weight of a family: its files, and its number; where an axis sets the weight there is
    no number, but one that is usual."""

    weight: int | None
    default: int | None
    read: Callable[[], tuple[FontFile, ...]]

    @cached_property
    def face(self) -> Face:
        return Face("", self.read())


@dataclass(frozen=True, eq=False)
class Family:
    """A family as a maker picks it. ``kind`` is one of KINDS, or OWN; ``known`` are its facts, where they are
    kept beside its files."""

    slug: str
    name: str
    kind: str
    weights: tuple[Weight, ...]
    known: Facts | None = None

    def face(self, weight: int | None = None, axes: dict[str, float] | None = None) -> Face:
        """The face of the nearest weight, its other axes set."""
        wanted = weight or 400
        nearest = min(self.weights, key=lambda w: abs((w.weight or wanted) - wanted))
        places = dict(axes or {})
        if nearest.default is not None:
            places.setdefault("wght", float(weight or nearest.default))
        key = (self.slug, nearest.weight, tuple(sorted(places.items())))
        return _faces.get(key, lambda: at_location(Face(self.name, nearest.face.files), places))

    @cached_property
    def facts(self) -> Facts:
        """What its files say of themselves."""
        return self.known or Facts.of(self.weights[0].face)

    @cached_property
    def axes(self) -> tuple[Axis, ...]:
        default = self.weights[0].default
        return tuple(
            replace(axis, default=float(default)) if axis.tag == "wght" and default else axis
            for axis in self.facts.axes
        )

    @cached_property
    def numbered_weights(self) -> tuple[int, ...]:
        """The weights to choose from; empty where an axis sets the weight."""
        return tuple(w.weight for w in self.weights if w.weight is not None)

    @property
    def letters(self) -> frozenset[int]:
        return self.facts.letters


# Each place of a variable face has fonts of its own. The files of shipped families stay for good; those of a
# maker's own are kept alive by the faces here.
_faces: BoundedCache[tuple[str, int | None, Location], Face] = BoundedCache(
    96 * 2**20, lambda face: face.kept_bytes + sum(file.size for file in face.files if not file.shipped)
)


INDEX = "index.json"
"""The file beside the families in which it stands what is known of them."""


@lru_cache(maxsize=1)
def face_index() -> dict[str, dict[str, Any]]:
    """What is known of the families that ship, by slug, as ./fulgen schemas wrote it down."""
    rows: dict[str, dict[str, Any]] = json.loads((FACES_DIR / INDEX).read_text("utf-8"))
    return rows


@lru_cache(maxsize=1)
def families() -> dict[str, Family]:
    """Shipped families by slug, in the order of their names."""
    table = tomllib.loads((FACES_DIR / "families.toml").read_text("utf-8"))
    known = face_index()
    found = [
        Family(
            row["slug"],
            row["name"],
            row["kind"],
            tuple(
                Weight(
                    w.get("weight"),
                    w.get("usual"),
                    partial(_read, [FACES_DIR / row["slug"] / f for f in w["files"]]),
                )
                for w in row["weight"]
            ),
            Facts.from_dict(known[row["slug"]]) if row["slug"] in known else None,
        )
        for row in table["family"]
    ]
    return {family.slug: family for family in sorted(found, key=lambda f: f.name.lower())}


def _read(paths: list[Path]) -> tuple[FontFile, ...]:
    return tuple(FontFile(path.read_bytes(), path.name, shipped=True) for path in paths)


def own_family(slug: str, name: str, file: FontFile) -> Family:
    """A family of the maker's own, from one file."""
    usual = next((int(axis.default) for axis in file.axes() if axis.tag == "wght"), None)
    return Family(slug, name, OWN, (Weight(None, usual, lambda: (file,)),))


def find_family(name: str) -> Family:
    """The family called ``name`` (its name or slug, in any case). Raises Problem "no-face"."""
    wanted = name.strip().lower()
    by_name = {f.name.lower(): f for f in families().values()}
    found = families().get(wanted) or by_name.get(wanted)
    if found:
        return found
    close = difflib.get_close_matches(wanted, by_name, n=3, cutoff=0.5)
    names = tuple(by_name[c].name for c in close)
    shown = name.strip() if len(name) <= 40 else name.strip()[:39] + "…"
    raise Problem(
        "no-face",
        f"There is no face called “{shown}”.",
        f"Did you mean {' or '.join(names)}?" if names else "Choose one from the list of faces.",
        faces=names,
    )


NO_OWN: Mapping[str, str] = MappingProxyType({})


def named_family(said: str, own: Mapping[str, str] = NO_OWN) -> tuple[str, str]:
    """The slug and name of the family that is meant: one of the maker's own, whose names are given by their
    slugs, or one that ships. Raises Problem "no-face"."""
    wanted = said.strip().lower()
    for slug, name in own.items() if said not in families() else ():
        if wanted in (slug, name.lower()):
            return slug, name
    family = find_family(said)
    return family.slug, family.name


def families_with(text: str) -> tuple[str, ...]:
    """Names of the shipped families that have every letter of ``text``."""
    needed = {ord(c) for c in text if not c.isspace()}
    return tuple(f.name for f in families().values() if needed <= f.letters)
