"""What is welded together, as the check looks at it: what every search for findings begins from."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

import shapely

from fulgen.geometry.measure import Box
from fulgen.geometry.polygons import Region
from fulgen.geometry.thin import (
    Slot,
    Thinness,
    WeakPlace,
)
from fulgen.joining.anchors import Anchor
from fulgen.joining.materials import Limits
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.combination import standing_in
from fulgen.parts.lettering import Lettering
from fulgen.parts.touchups import TouchUp, TouchUpKind
from fulgen.readiness.finding import Finding, Remedy, Repair
from fulgen.readiness.joints import (
    Judgement,
)
from fulgen.readiness.place_names import PlaceNames
from fulgen.recipe.changes import Change, with_lettering, with_touch_ups
from fulgen.recipe.evaluation import Cluster


@dataclass(frozen=True, eq=False)
class ClusterView(PlaceNames):
    """What is welded together as it is looked at: where it is thinner than strokes may be, where it would
    tear, how its joints hold, and its narrow gaps."""

    cluster: Cluster
    limits: Limits
    strokes: Thinness
    weak: tuple[WeakPlace, ...]
    joints: tuple[Judgement, ...]
    gaps: tuple[Slot, ...]

    @property
    def region(self) -> Region:
        return self.cluster.shape.region

    @property
    def letterings(self) -> Iterator[tuple[PlacedPart, BuiltLettering]]:
        standing = (part for member in self.cluster.members for part in standing_in(member))
        return ((part, part.built) for part in standing if isinstance(part.built, BuiltLettering))

    def finding(
        self, kind: str, said: str, place: shapely.Geometry, measure: float, limit: float,
        *lengths: float, blocks: bool = True, remedy: Repair | None = None,
    ) -> Finding:  # fmt: skip
        x0, y0, x1, y1 = shapely.bounds(place).tolist()
        part, anchor = self.anchor(place)
        return Finding(
            kind, said, lengths, blocks, Box(x0, y0, x1 - x0, y1 - y0), measure, limit, anchor, part.size,
            remedy(part, anchor) if remedy else None,
        )  # fmt: skip


@dataclass(frozen=True)
class Search:
    """One way to look at a cluster: what it does, and the kinds of findings that it gives, each with why its
    repair may find no place to hold ("" where it always does)."""

    run: Callable[[ClusterView], Iterator[Finding]]
    kinds: Mapping[str, str]


def touch_up_remedy(label: str, kind: TouchUpKind, size_mm: float) -> Repair:
    """A remedy that is a touch-up of the welded outline."""

    def remedy(part: PlacedPart, anchor: Anchor) -> Remedy:
        touch_up = TouchUp(kind, anchor, size_mm=round(size_mm, 4))
        return Remedy(label, lambda recipe: with_touch_ups(recipe, [touch_up]))

    return remedy


def change_of_letter(anchor: Anchor, change: Callable[[Lettering], Lettering]) -> Change:
    return lambda recipe: with_lettering(recipe, anchor.part, change)
