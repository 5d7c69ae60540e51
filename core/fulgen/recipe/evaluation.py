"""What a recipe comes to: its parts, films, pieces and measures, as plain values.

Terms. A *cluster* is parts of one film whose boxes meet, with the bridges between them: what is welded
together. A *film* is all clusters of one colour.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property, partial

import numpy as np
import shapely

from fulgen.bounded import BoundedCache, weight_of
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.pieces import Piece, pieces
from fulgen.geometry.shape import Shape, joined
from fulgen.joining.bars import Bar
from fulgen.joining.materials import MATERIALS, is_known
from fulgen.lettering.layout import PlacedLetter
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import Mark, PlacedPart
from fulgen.parts.combination import standing_in
from fulgen.parts.ready import Mend
from fulgen.parts.seams import PlacedSeam
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from fulgen.recipe.overhang import overhangs


@dataclass(frozen=True, eq=False)
class Bridge:
    """A bridge laid by hand on the work: its number in the recipe, the bar's shape and ends, and the necks in
    mm by which it hangs. Without ends it has lost what it held to."""

    number: int
    bar: Bar
    shape: Shape
    ends: tuple[tuple[float, float], tuple[float, float]] | None
    necks: tuple[float, float]


@dataclass(frozen=True, eq=False)
class Cluster:
    """What is welded together: its members, the outline with all that was done to it, and the numbers of the
    touch-ups that found no place on it. ``key`` tells the outline. ``mends`` are the places at which it was
    made ready, and ``as_made`` what it was before."""

    members: tuple[PlacedPart, ...]
    shape: Shape
    lost: tuple[int, ...]
    key: str
    mends: tuple[Mend, ...] = ()
    as_welded: Shape | None = None

    @property
    def step_key(self) -> str:
        return self.key

    @cached_property
    def pieces(self) -> tuple[Piece, ...]:
        return _measured(self).pieces

    @property
    def cut_length(self) -> float:
        return _measured(self).length

    @property
    def nodes(self) -> int:
        return _measured(self).nodes


@dataclass(frozen=True, eq=False)
class Film:
    """What is cut from one film: its colour, and all that is welded from it. Not mirrored."""

    colour: str
    clusters: tuple[Cluster, ...]

    @cached_property
    def shape(self) -> Shape:
        """All of it as one shape."""
        return joined([cluster.shape for cluster in self.clusters])

    @cached_property
    def outline(self) -> Outline:
        return Outline.joined(cluster.shape.outline for cluster in self.clusters)

    @cached_property
    def pieces(self) -> tuple[Piece, ...]:
        """The pieces from left to right."""
        found = [piece for cluster in self.clusters for piece in cluster.pieces]
        return tuple(sorted(found, key=lambda piece: piece.box.x))


@dataclass(frozen=True, eq=False)
class PartMark:
    """A mark on the work, the part it is of, and that part's film."""

    part: str
    film: str
    mark: Mark


@dataclass(frozen=True)
class Failure:
    """What stands in the way of some parts, by their ids; the others are there all the same."""

    parts: tuple[str, ...]
    problem: Problem


@dataclass(frozen=True)
class Unmet:
    """Something that was asked for and is not so: of a part, by its id, or of the whole recipe. All is made
    all the same."""

    part: str | None
    problem: Problem


@dataclass(frozen=True, eq=False)
class Evaluation:
    """What a recipe comes to. Millimetres, y down, never mirrored: that is for who shows or writes it.

    parts are those that could be made and are shown, where they lie on the work: also members of
    combinations. lost are the touch-ups, by their place in the recipe, that no longer find theirs on the
    work. marks are what is not cut. made are all parts, hidden ones too, by their ids; tops are those of
    parts that are in no combination."""

    recipe: Recipe
    parts: tuple[PlacedPart, ...]
    films: tuple[Film, ...]
    bridges: tuple[Bridge, ...]
    lost: tuple[int, ...]
    failures: tuple[Failure, ...]
    marks: tuple[PartMark, ...] = ()
    built: Mapping[str, PlacedPart] = field(default_factory=dict)
    tops: tuple[PlacedPart, ...] = ()

    def whole(self) -> Evaluation:
        """Itself, if every part of it could be made and welded. Raises the first Problem otherwise."""
        if self.failures:
            raise self.failures[0].problem.fresh()
        return self

    @cached_property
    def unmet(self) -> tuple[Unmet, ...]:
        """What was asked for and is not so."""
        of_parts = [Unmet(part.id, problem) for part in self.parts for problem in part.built.unmet]
        off = [Unmet(name, problem) for name, problem in overhangs(self.recipe, self.built)]
        return (*of_parts, *off, *map(partial(Unmet, None), _unknown_materials(self)))

    @cached_property
    def pieces(self) -> tuple[Piece, ...]:
        return tuple(piece for film in self.films for piece in film.pieces)

    @cached_property
    def box(self) -> Box:
        boxes = [piece.box for piece in self.pieces]
        return measure.box_around(np.array([(b.x, b.y, b.right, b.bottom) for b in boxes]))

    @cached_property
    def extent(self) -> Box:
        """The box around all that is cut; where nothing is, around what is drawn or engraved."""
        if self.pieces or not self.marks:
            return self.box
        drawn = [one for one in self.marks if one.mark.use != "guide"] or self.marks
        boxes = [measure.box(one.mark.outline) for one in drawn]
        return measure.box_around(np.array([(b.x, b.y, b.right, b.bottom) for b in boxes]))

    @property
    def cut_length(self) -> float:
        return sum(cluster.cut_length for cluster in self.clusters)

    @property
    def nodes(self) -> int:
        return sum(cluster.nodes for cluster in self.clusters)

    @property
    def clusters(self) -> Iterator[Cluster]:
        return (cluster for film in self.films for cluster in film.clusters)

    @property
    def letterings(self) -> Iterator[tuple[PlacedPart, BuiltLettering]]:
        """The parts that are lettering."""
        return ((part, part.built) for part in self.parts if isinstance(part.built, BuiltLettering))

    @property
    def loose_marks(self) -> int:
        """How many dots and accents come off as pieces of their own: those of words that are cut out do
        not, nor those that lie on something else of their film."""
        return sum(
            part.built.loose_marks if cluster.members == (part,) else _stay_loose(cluster, part, part.built)
            for cluster in self.clusters
            for member in cluster.members
            for part in standing_in(member)
            if isinstance(part.built, BuiltLettering) and part.built.loose_marks
        )

    @cached_property
    def seams(self) -> tuple[PlacedSeam, ...]:
        return tuple(
            PlacedSeam(built, seam, part.place)
            for part, built in self.letterings
            for seam in built.joined.seams
        )

    @property
    def letters(self) -> list[tuple[PlacedPart, PlacedLetter]]:
        """Every letter with the part it stands in."""
        return [(part, letter) for part, built in self.letterings for letter in built.layout.letters]

    def marked(self, placed: PlacedPart) -> bool:
        """Whether anything of a part is not cut."""
        failed = any(placed.id in failure.parts for failure in self.failures)
        return not failed and (placed.use != "cut" or bool(placed.built.marks))

    def part(self, part_id: str) -> PlacedPart | None:
        return next((part for part in self.parts if part.id == part_id), None)

    def nearest(self, x: float, y: float) -> PlacedPart:
        """The part nearest to a place on the work, of those that are cut.

        Raises Problem "no-letters" where nothing is.
        """
        cut = [part for part in self.tops if part.use == "cut" and part.everything]
        if not cut:
            raise Problem("no-letters", "There is nothing to cut yet.", "Type a word, or add a shape.")
        return min(cut, key=lambda part: part.distance(x, y))


def _stay_loose(cluster: Cluster, part: PlacedPart, built: BuiltLettering) -> int:
    """How many of a lettering's loose dots and accents are pieces of what it is welded into."""
    pieces = shapely.get_parts(cluster.shape.region)
    tree = shapely.STRtree(pieces)
    count = 0
    for bit in built.loose_bits:
        placed = part.place.region(bit)
        found = pieces[tree.query(placed.representative_point(), predicate="within")]
        count += any(piece.area < _STILL_A_MARK * placed.area for piece in found)
    return min(count, built.loose_marks)


_STILL_A_MARK = 1.5
"""A piece that is larger than a mark by no more than this is that mark, maybe made heavier."""


def _unknown_materials(evaluation: Evaluation) -> Iterator[Problem]:
    """Materials of which Fulgen does not know what they hold, where the maker has not said so."""
    recipe = evaluation.recipe
    own = [] if recipe.material.limits is not None else [recipe.material.name]
    stock = [recipe.cut.stock(film.colour).material for film in evaluation.films]
    known = {kept.name for kept in recipe.materials}
    names = dict.fromkeys(name for name in (*own, *stock) if name is not None and name not in known)
    for name in (name for name in names if not is_known(name)):
        usual = MATERIALS[0].name.lower()
        yield Problem(
            "unknown-material",
            f"Fulgen does not know what “{name}” holds: it is judged as {usual} is.",
            "Choose another material, or set its limits in the Check stage.",
            "material",
        )


@dataclass(frozen=True, eq=False)
class _Measures:
    pieces: tuple[Piece, ...]
    length: float
    nodes: int


def _measured(cluster: Cluster) -> _Measures:
    outline = cluster.shape.outline
    return _measures.get(
        cluster.key,
        lambda: _Measures(pieces(cluster.shape), measure.length(outline), measure.node_count(outline)),
    )


_measures: BoundedCache[str, _Measures] = BoundedCache(16 * 2**20, weight_of)


def as_cut(outline: Outline, recipe: Recipe) -> Outline:
    """An outline on the work as it is cut: mirrored where the recipe says so."""
    return outline.mirrored() if recipe.mirror else outline


def box_as_cut(box: Box, recipe: Recipe) -> Box:
    """A box on the work as it is cut."""
    return Box(-box.right, box.y, box.width, box.height) if recipe.mirror else box
