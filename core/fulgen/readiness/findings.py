"""Findings: what would go wrong on the material, each with its place, its measure and the limit it breaks.

The polygon twin of each cluster is looked at. A finding *blocks* when what comes off would tear or be lost;
others are for the maker to look at. A finding the maker accepts stays accepted while it is unchanged.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from itertools import islice
from typing import TYPE_CHECKING, Literal, TypeAlias

from fulgen.budget import with_this_budget
from fulgen.geometry.weld import geos_errors_as_problems
from fulgen.joining.materials import Limits
from fulgen.parts.combination import standing_in
from fulgen.parts.weak_places import narrow_gaps, thinness, weak_places
from fulgen.readiness.cluster_view import ClusterView
from fulgen.readiness.finding import Finding, is_accepted_by
from fulgen.readiness.joints import (
    Judgement,
    joints,
)
from fulgen.readiness.loose_pieces import LOOSE_PIECES
from fulgen.readiness.narrow_gaps import NARROW_GAPS
from fulgen.readiness.needless_points import NEEDLESS_POINTS
from fulgen.readiness.small_holes import CLOSED_COUNTERS, SMALL_HOLES
from fulgen.readiness.thin_places import THIN_PLACES
from fulgen.recipe.evaluation import Cluster, Evaluation
from fulgen.steps import Step

SEARCHES = (LOOSE_PIECES, THIN_PLACES, SMALL_HOLES, NARROW_GAPS, NEEDLESS_POINTS, CLOSED_COUNTERS)
"""All that is looked for, in this order. A new kind of finding is a search of its own, and a name here."""

if TYPE_CHECKING:
    FindingKind: TypeAlias = str
else:
    FindingKind = Literal[tuple(kind for search in SEARCHES for kind in search.kinds)]

MOST_OF_A_KIND = 40
"""No more of one kind are reported; a face thin all over would have hundreds."""


def findings(evaluation: Evaluation) -> tuple[Finding, ...]:
    """All that the check finds, what blocks the cut first, then in reading order. Each cluster is looked at
    once for as long as it, its joints and the limits stay."""
    recipe, limits = evaluation.recipe, evaluation.recipe.limits
    judged: dict[str, list[Judgement]] = {}
    for joint in joints(evaluation):
        judged.setdefault(joint.part, []).append(joint.judgement)
    found = [
        replace(
            finding,
            film=film.colour,
            accepted_as=tuple(
                n for n, accepted in enumerate(recipe.accepted_findings) if is_accepted_by(finding, accepted)
            ),
        )
        for film in evaluation.films
        for cluster in film.clusters
        for finding in _found(_ClusterToCheck(cluster, limits, tuple(_joints_of(cluster, judged))))
    ]
    return tuple(sorted(found, key=lambda f: (f.accepted, not f.blocks, round(f.box.y, -1), f.box.x)))


def _joints_of(cluster: Cluster, judged: Mapping[str, Sequence[Judgement]]) -> Iterator[Judgement]:
    for member in cluster.members:
        for part in standing_in(member):
            yield from judged.get(part.id, ())


@dataclass(frozen=True, eq=False)
class _ClusterToCheck:
    """All that the findings of a cluster depend on."""

    cluster: Cluster
    limits: Limits
    joints: tuple[Judgement, ...]


def _looked_at(asked: _ClusterToCheck) -> tuple[Finding, ...]:
    with geos_errors_as_problems():
        return tuple(_searched(asked))


_found: Step[_ClusterToCheck, tuple[Finding, ...]] = Step(_looked_at, 8 * 2**20)


def _searched(asked: _ClusterToCheck) -> Iterator[Finding]:
    cluster, limits = asked.cluster, asked.limits
    # Nearly all of the work is GEOS's, which lets threads go on side by side.
    weak = _workers.submit(with_this_budget(weak_places), cluster.shape, limits)
    gaps = _workers.submit(with_this_budget(narrow_gaps), cluster.shape, limits)
    strokes = thinness(cluster.shape, limits.stroke_mm)
    found = tuple(place for place, _ in weak.result())
    look = ClusterView(
        cluster.members, cluster.shape, limits.neck_mm,
        cluster, limits, strokes, found, asked.joints, gaps.result(),
    )  # fmt: skip
    for search in SEARCHES:
        yield from islice(search.run(look), MOST_OF_A_KIND)


_workers = ThreadPoolExecutor(2, "findings")


def blocking(found: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """Those that block the cut and are not accepted."""
    return tuple(f for f in found if f.blocks and not f.accepted)


def why_no_place(finding: Finding) -> str:
    """Why a repair can find no place to hold, in words."""
    return _WHY_NO_PLACE[finding.kind] or "The repair finds no place to hold there."


_WHY_NO_PLACE = {kind: why for search in SEARCHES for kind, why in search.kinds.items()}
