"""From a recipe to the outline the knife will follow.

A pure function. A recipe is a graph of parts; each part is built in its own frame and kept under all that it
is built from, and what meets is welded (`recipe.clusters`). So a change costs what it touches: moving a part
costs the welds it has a share in, and accepting a finding, a name or another unit costs nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fulgen.bounded import BoundedCache
from fulgen.geometry.placement import Placement
from fulgen.geometry.weld import geos_errors_as_problems
from fulgen.joining.bars import Bar
from fulgen.joining.materials import Limits
from fulgen.lettering.catalogue import FaceSource, shipped_face
from fulgen.lettering.layout import MAX_EXTENT_MM, too_large
from fulgen.parts.built_part import BuiltPart, PlacedPart
from fulgen.parts.frame import Frame
from fulgen.parts.frame_builder import BuiltFrame
from fulgen.parts.kinds import KIND_OF_MODEL
from fulgen.parts.lettering import Lettering
from fulgen.parts.part import Part
from fulgen.parts.welding import marks_of
from fulgen.problem import Problem
from fulgen.recipe.alignment import ORIGIN, aligned
from fulgen.recipe.clusters import bridges_of, by_film, clustered, weld_cluster
from fulgen.recipe.evaluation import Bridge, Evaluation, Failure, Film, PartMark
from fulgen.recipe.graph import in_order
from fulgen.recipe.model import Recipe
from fulgen.recipe.tree import Tree
from fulgen.steps import Step, key_of


def evaluate(recipe: Recipe, faces: FaceSource = shipped_face) -> Evaluation:
    """Outlines, pieces and measures of a recipe. What cannot be built or welded is given as failures."""
    tree = Tree(recipe)
    building = _Building(recipe, faces, tree)
    for part_id in in_order({part.id: part.placed_after for part in recipe.parts}):
        building.add(tree.by_id[part_id])
    built = {part_id: _on_the_work(placed, tree) for part_id, placed in building.in_level.items()}
    parts = tuple(built[p.id] for p in recipe.parts if p.id in built and not tree.is_left_out(p.id))
    tops = tuple(part for part in parts if part.id not in tree.parent)
    bridges = bridges_of(recipe, built)
    films, lost, not_welded = _films(tops, bridges, recipe, tree)
    marks, not_drawn = _marks(tops)
    failures = (*building.failures, *not_welded, *not_drawn)
    return Evaluation(recipe, parts, films, bridges, lost, failures, marks, built, tops)


class _Building:
    """The parts of a recipe, built one by one, each where it lies in its level; a part that fails is listed,
    and takes along what is built from it. It is the surroundings of each part (`parts.kind`)."""

    def __init__(self, recipe: Recipe, faces: FaceSource, tree: Tree) -> None:
        self.recipe, self.faces, self.tree = recipe, faces, tree
        self.in_level: dict[str, PlacedPart] = {}
        self.failures: list[Failure] = []

    @property
    def limits(self) -> Limits:
        return self.recipe.limits

    @property
    def bars(self) -> tuple[Bar, ...]:
        return self.recipe.bars

    def part(self, part_id: str) -> Part | None:
        return self.tree.by_id.get(part_id)

    def built(self, part_id: str) -> PlacedPart | None:
        return self.in_level.get(part_id)

    def level_of(self, part_id: str) -> str | None:
        return self.tree.parent.get(part_id)

    def scale_of(self, part_id: str) -> float:
        return self.tree.scale_of(part_id)

    def add(self, part: Part) -> None:
        """Builds a part; one that is empty, or that its frame builds, is passed over."""
        is_empty = isinstance(part, Lettering) and self.tree.is_left_out(part.id) and not part.hidden
        if is_empty or self.tree.is_framed(part.id):
            return
        try:
            placed = self._placed(part)
        except Problem as problem:
            names = part.members if isinstance(part, Frame) else ()
            self.failures.append(Failure((part.id, *names), problem.fresh()))
            return
        self.in_level[part.id] = placed
        if isinstance(part, Frame) and isinstance(placed.built, BuiltFrame):
            members = placed.built.members
            self.in_level |= {name: members[name] for name in part.members if name in members}

    def _placed(self, part: Part) -> PlacedPart:
        """A part where it lies in its level. Raises Problem."""
        lacking = next((failure for failure in self.failures if set(part.needs) & set(failure.parts)), None)
        if lacking:
            raise lacking.problem
        kind = KIND_OF_MODEL[type(part)]
        given = (kind.name, kind.gather(part, self))
        key = key_of(given)
        built = _builds(given, key)
        placed = _placed(part, built, key, self.tree.lies_in_level(part))
        if self.tree.is_aligned(part):
            self.tree.lies(part.id, self._aligned(part, placed))
            placed = _placed(part, built, key, self.tree.lies_in_level(part))
        across = _across(placed, self.tree)
        if across > MAX_EXTENT_MM:
            raise too_large(across, "place")
        return placed

    def _aligned(self, part: Part, placed: PlacedPart) -> Placement:
        """Where an aligned part lies in its level. What it is aligned to may not be there, for want of words:
        then it is where that would begin. Raises Problem "no-part"."""
        assert part.alignment is not None
        to = part.alignment.to
        if to is None:
            return aligned(placed.place, placed.box, part.alignment, ORIGIN)
        if self.level_of(to) != self.level_of(part.id):
            raise Problem(
                "no-part",
                "A part is aligned to one that lies in another combination.",
                "Take both into it, or both out, or let it lie freely.",
                part.id,
            )
        start = self.tree.lies_in_level(self.tree.by_id[to])
        box = self.in_level[to].box if to in self.in_level else (start.x, start.y, start.x, start.y)
        return aligned(placed.place, placed.box, part.alignment, box)


def _films(
    tops: Sequence[PlacedPart], bridges: tuple[Bridge, ...], recipe: Recipe, tree: Tree
) -> tuple[tuple[Film, ...], tuple[int, ...], list[Failure]]:
    """What is cut, film by film; the touch-ups that found no place; and what could not be welded."""
    films, failures = [], []
    lost = {n for n, touch_up in enumerate(recipe.touch_ups) if touch_up.at.part not in tree.by_id}
    for colour, members in by_film(tops).items():
        clusters = []
        for group, between in clustered(members, bridges, tree):
            cluster = weld_cluster(group, between, recipe, tree)
            if isinstance(cluster, Problem):
                failures.append(Failure(tuple(dict.fromkeys(member.id for member in group)), cluster))
            else:
                clusters.append(cluster)
                lost.update(cluster.lost)
        films.append(Film(colour, tuple(clusters)))
    return tuple(films), tuple(sorted(lost)), failures


def _marks(tops: Sequence[PlacedPart]) -> tuple[tuple[PartMark, ...], list[Failure]]:
    """What is not cut, and the parts of which that could not be drawn."""
    marks: list[PartMark] = []
    failures = []
    for top in tops:
        try:
            marks += (PartMark(top.id, top.film, mark) for mark in marks_of(top))
        except Problem as problem:
            failures.append(Failure((top.id,), problem.fresh()))
    return tuple(marks), failures


def _build(given: tuple[str, Any]) -> BuiltPart:
    """What a part of a kind comes to, of what was gathered and of nothing else."""
    name, gathered = given
    with geos_errors_as_problems():
        return _KIND_OF_NAME[name].build(gathered)


def _placed(part: Part, built: BuiltPart, key: str, place: Placement) -> PlacedPart:
    placed_key = key_of((key, place))
    return _placings.get(
        (placed_key, part.id, part.film, part.use),
        lambda: PlacedPart(part.id, part.film.upper(), built, place, key, placed_key, part.use),
    )


def _on_the_work(placed: PlacedPart, tree: Tree) -> PlacedPart:
    """A part where it lies on the work, be it in a combination."""
    outer = tree.lies_on_work(tree.parent.get(placed.id))
    if outer is None:
        return placed
    key = key_of((placed.key, outer))
    return _placings.get((key, placed.id, placed.film, placed.use), lambda: placed.under(outer, key))


def _across(placed: PlacedPart, tree: Tree) -> float:
    left, top, right, bottom = placed.box
    return max(right - left, bottom - top) * tree.scale_of(tree.parent.get(placed.id))


_KIND_OF_NAME = {kind.name: kind for kind in KIND_OF_MODEL.values()}
_builds: Step[tuple[str, Any], BuiltPart] = Step(_build, 48 * 2**20)
_placings: BoundedCache[tuple[str, str, str, str], PlacedPart] = BoundedCache(
    16 * 2**20, lambda placed: 2_000 + 8_000 * len(placed.built.shapes)
)
