"""What making ready has done to a design, place by place, in words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from fulgen.geometry.measure import Box
from fulgen.joining.anchors import Anchor
from fulgen.parts.ready import MEND_KINDS, Mend, MendKind, Way
from fulgen.readiness.finding import LENGTH, with_lengths
from fulgen.readiness.place_names import PlaceNames
from fulgen.recipe.evaluation import Cluster, Evaluation
from fulgen.units import Unit, counted

_SAID: dict[tuple[MendKind, Way], str] = {
    ("stroke", "heavier"): "Thin stroke {where}: {length}",
    ("neck", "heavier"): "Weak neck {where}: {length}",
    ("sliver", "taken off"): "Sliver {where}",
    ("gap", "closed"): "Narrow gap {where}: {length}",
    ("hole", "opened"): "Small hole {where}, opened: {length}",
    ("hole", "filled"): "Small hole {where}, filled: {length}",
    ("piece", "larger"): "Small piece {where}, made larger: {length}",
    ("piece", "tied"): "Small piece {where}, tied to its neighbour: {length}",
    ("piece", "left out"): "Small piece {where}, left out: {length}",
}

_COUNTED: dict[MendKind, tuple[str, str]] = {
    "stroke": ("thin stroke made heavier", "thin strokes made heavier"),
    "neck": ("weak neck made stronger", "weak necks made stronger"),
    "sliver": ("sliver taken off", "slivers taken off"),
    "gap": ("narrow gap closed", "narrow gaps closed"),
    "hole": ("small hole opened or filled", "small holes opened or filled"),
    "piece": ("small piece made larger, tied or left out", "small pieces made larger, tied or left out"),
}

KIND_WORDS: dict[MendKind, str] = {
    "stroke": "Thin strokes", "neck": "Weak necks", "sliver": "Slivers", "gap": "Narrow gaps",
    "hole": "Small holes", "piece": "Small pieces",
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Mended:
    """A place that was mended: what it was, with LENGTH where its width goes, the box around it on the work,
    and the place it is kept by."""

    kind: MendKind
    text: str
    was: float
    box: Box
    at: Anchor
    size: float

    def what(self, unit: Unit) -> str:
        """What it was, in words."""
        return with_lengths(self.text, (self.was,), unit)


def mended(evaluation: Evaluation) -> tuple[Mended, ...]:
    """All that was mended, kind by kind, from left to right: a place that took two rounds is listed once."""
    found = [one for cluster in evaluation.clusters for one in _of(cluster, evaluation)]
    return tuple(sorted(found, key=lambda one: (MEND_KINDS.index(one.kind), one.box.x)))


def _of(cluster: Cluster, evaluation: Evaluation) -> Iterator[Mended]:
    if not cluster.mends or cluster.as_welded is None:
        return
    around = PlaceNames(cluster.members, cluster.as_welded, evaluation.recipe.limits.neck_mm)
    for mend in cluster.mends:
        part, anchor = around.anchor(mend.place)
        x0, y0, x1, y1 = mend.place.bounds
        yield Mended(
            mend.kind, _words(mend, around), mend.was, Box(x0, y0, x1 - x0, y1 - y0), anchor, part.size
        )  # fmt: skip


def _words(mend: Mend, around: PlaceNames) -> str:
    said = _SAID[mend.kind, mend.way]
    return said.format(where=around.whose_place(mend.place), length=LENGTH)


def counts(evaluation: Evaluation) -> dict[MendKind, int]:
    """How many places of each kind were mended."""
    many = Counter(mend.kind for cluster in evaluation.clusters for mend in cluster.mends)
    return {kind: many[kind] for kind in MEND_KINDS if many[kind]}


def counted_mends(kind: MendKind, count: int) -> str:
    """So many of a kind, in words.

    >>> counted_mends("neck", 2)
    '2 weak necks made stronger'
    """
    return counted(count, *_COUNTED[kind])
