"""evaluate: from a recipe to the outline the knife will follow.

A pure function. A recipe is a graph of parts; each part is made in its own frame and kept under all that its
making depends on, each weld under the parts that meet in it and where they lie, each touch-up
under what it was done to. So a change costs what it touches: moving a part costs the welds it has a share in,
and accepting a finding, a name or another unit costs nothing.

Terms. A *cluster* is parts of one film whose boxes meet, with the bridges between them: what is welded
together. A *film* is all clusters of one colour.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np
import shapely

from fulgen.bounded import Bounded, weight_of
from fulgen.framing.frames import FRAMES
from fulgen.geometry import measure
from fulgen.geometry.groups import Groups
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.pieces import Piece, pieces
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM, Shape, joined
from fulgen.geometry.wear import is_under
from fulgen.geometry.weld import clean, geos_errors_as_problems
from fulgen.joining.bars import Bar, bar_shape, neck_at
from fulgen.joining.materials import MATERIALS, Limits, Weedable, is_known
from fulgen.joining.seam import State
from fulgen.lettering.catalogue import FaceSource, shipped_face
from fulgen.lettering.faces import Face
from fulgen.lettering.layout import MAX_EXTENT_MM, PlacedLetter, too_large
from fulgen.lettering.setting import Faces
from fulgen.parts.artwork import Artwork, make_artwork
from fulgen.parts.backing import Backing, make_backing
from fulgen.parts.combination import Combination, make_combination, standing_in
from fulgen.parts.fitting import NameAsked
from fulgen.parts.frame import Frame
from fulgen.parts.framed import FrameAsked, MadeFrame, make_frame
from fulgen.parts.lettering import Lettering, Line, MadeLettering, make_lettering
from fulgen.parts.line import LinePart, course_of, make_line
from fulgen.parts.made import Made, Mark, Placed
from fulgen.parts.ornament import Ornament, make_ornament
from fulgen.parts.part import Use
from fulgen.parts.ready import LeftSpot, MadeReady, Mend, Ready, ReadyAsked, WeakJoint, make_ready
from fulgen.parts.seams import PlacedSeam, is_as_lettering, limit_of
from fulgen.parts.shape import ShapePart, make_shape
from fulgen.parts.touchups import NEAR, spot_of, touched_up
from fulgen.parts.welding import body_of, marks_of, welded
from fulgen.problem import Problem
from fulgen.recipe.alignment import ORIGIN, aligned
from fulgen.recipe.graph import in_order
from fulgen.recipe.grounds import off_ground
from fulgen.recipe.model import AnyPart, Recipe
from fulgen.recipe.tree import Tree
from fulgen.steps import Step, key_of


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

    members: tuple[Placed, ...]
    shape: Shape
    lost: tuple[int, ...]
    key: str
    mends: tuple[Mend, ...] = ()
    as_made: Shape | None = None

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
    parts: tuple[Placed, ...]
    films: tuple[Film, ...]
    bridges: tuple[Bridge, ...]
    lost: tuple[int, ...]
    failures: tuple[Failure, ...]
    marks: tuple[PartMark, ...] = ()
    made: Mapping[str, Placed] = field(default_factory=dict)
    tops: tuple[Placed, ...] = ()

    def whole(self) -> Evaluation:
        """Itself, if every part of it could be made and welded. Raises the first Problem otherwise."""
        if self.failures:
            raise self.failures[0].problem.fresh()
        return self

    @cached_property
    def unmet(self) -> tuple[Unmet, ...]:
        """What was asked for and is not so."""
        of_parts = [Unmet(part.id, problem) for part in self.parts for problem in part.made.unmet]
        off = [Unmet(name, problem) for name, problem in off_ground(self.recipe, self.made)]
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
    def letterings(self) -> Iterator[tuple[Placed, MadeLettering]]:
        """The parts that are lettering."""
        return ((part, part.made) for part in self.parts if isinstance(part.made, MadeLettering))

    @property
    def loose_marks(self) -> int:
        """How many dots and accents come off as pieces of their own: those of words that are cut out do
        not, nor those that lie on something else of their film."""
        return sum(
            part.made.loose_marks if cluster.members == (part,) else _stay_loose(cluster, part, part.made)
            for cluster in self.clusters
            for member in cluster.members
            for part in standing_in(member)
            if isinstance(part.made, MadeLettering) and part.made.loose_marks
        )

    @cached_property
    def seams(self) -> tuple[PlacedSeam, ...]:
        return tuple(
            PlacedSeam(made, seam, part.place) for part, made in self.letterings for seam in made.joined.seams
        )

    @property
    def letters(self) -> list[tuple[Placed, PlacedLetter]]:
        """Every letter with the part it stands in."""
        return [(part, letter) for part, made in self.letterings for letter in made.layout.letters]

    def marked(self, placed: Placed) -> bool:
        """Whether anything of a part is not cut."""
        failed = any(placed.id in failure.parts for failure in self.failures)
        return not failed and (placed.use != "cut" or bool(placed.made.marks))

    def part(self, part_id: str) -> Placed | None:
        return next((part for part in self.parts if part.id == part_id), None)

    def nearest(self, x: float, y: float) -> Placed:
        """The part nearest to a place on the work, of those that are cut.

        Raises Problem "no-letters" where nothing is.
        """
        cut = [part for part in self.tops if part.use == "cut" and part.everything]
        if not cut:
            raise Problem("no-letters", "There is nothing to cut yet.", "Type a word, or add a shape.")
        return min(cut, key=lambda part: part.distance(x, y))


def _stay_loose(cluster: Cluster, part: Placed, made: MadeLettering) -> int:
    """How many of a lettering's loose dots and accents are pieces of what it is welded into."""
    pieces = shapely.get_parts(cluster.shape.region)
    tree = shapely.STRtree(pieces)
    count = 0
    for bit in made.loose_bits:
        placed = part.place.region(bit)
        found = pieces[tree.query(placed.representative_point(), predicate="within")]
        count += any(piece.area < _STILL_A_MARK * placed.area for piece in found)
    return min(count, made.loose_marks)


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


def evaluate(recipe: Recipe, faces: FaceSource = shipped_face) -> Evaluation:
    """Outlines, pieces and measures of a recipe. What cannot be made or welded is told as failures."""
    tree = Tree(recipe)
    failures: list[Failure] = []
    in_level: dict[str, Placed] = {}
    for part_id in in_order({part.id: part.placed_after for part in recipe.parts}):
        part = tree.by_id[part_id]
        if isinstance(part, Lettering) and tree.is_left_out(part_id) and not part.hidden:
            continue
        if tree.is_framed(part_id):
            continue
        lacking = next((failure for failure in failures if set(part.needs) & set(failure.parts)), None)
        result = lacking.problem if lacking else _made(part, recipe, faces, tree, in_level)
        if isinstance(result, Problem):
            told = (part_id, *part.members) if isinstance(part, Frame) else (part_id,)
            failures.append(Failure(told, result))
            continue
        placed = _placed(part, *result, tree.lies_in_level(part))
        if tree.is_aligned(part):
            at = _alignment(part, placed, tree, in_level)
            if isinstance(at, Problem):
                failures.append(Failure((part_id,), at))
                continue
            tree.lies(part_id, at)
            placed = _placed(part, *result, at)
        across = _across(placed, tree)
        if across > MAX_EXTENT_MM:
            failures.append(Failure((part_id,), too_large(across, "place")))
        else:
            in_level[part_id] = placed
            if isinstance(part, Frame) and isinstance(placed.made, MadeFrame):
                in_level |= {
                    name: placed.made.members[name] for name in part.members if name in placed.made.members
                }
    made = {part_id: _on_the_work(placed, tree) for part_id, placed in in_level.items()}
    parts = tuple(made[part.id] for part in recipe.parts if part.id in made and not tree.is_left_out(part.id))
    tops = [part for part in parts if part.id not in tree.parent]
    bridges = _bridges(recipe, made)
    films = []
    lost = {n for n, touch_up in enumerate(recipe.touch_ups) if touch_up.at.part not in tree.by_id}
    for colour, members in _by_film(tops).items():
        clusters = []
        for group, between in _clusters(members, bridges, tree):
            cluster = _welded(group, between, recipe, tree)
            if isinstance(cluster, Problem):
                failures.append(Failure(tuple(dict.fromkeys(member.id for member in group)), cluster))
            else:
                clusters.append(cluster)
                lost.update(cluster.lost)
        films.append(Film(colour, tuple(clusters)))
    marks: list[PartMark] = []
    for top in tops:
        try:
            marks += (PartMark(top.id, top.film, mark) for mark in marks_of(top))
        except Problem as problem:
            failures.append(Failure((top.id,), problem.fresh()))
    return Evaluation(
        recipe,
        parts,
        tuple(films),
        bridges,
        tuple(sorted(lost)),
        tuple(failures),
        tuple(marks),
        made,
        tuple(tops),
    )


# --- making ---------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Making:
    """All that a part is made of: what is asked of it, and what of other parts and of the recipe it needs."""

    part: AnyPart
    faces: Faces | None = None
    face: Face | None = None
    bars: tuple[Bar, ...] = ()
    least: Weedable | None = None
    line: Line | None = None
    members: tuple[Placed, ...] = ()
    films: tuple[str, ...] = ()
    uses: tuple[Use, ...] = ()
    names: tuple[NameAsked, ...] = ()
    ground: Placed | None = None
    scale: float = 1.0


def _made(
    part: AnyPart, recipe: Recipe, source: FaceSource, tree: Tree, placed: Mapping[str, Placed]
) -> tuple[Made, str] | Problem:
    """What a part comes to, and the key it is kept under; or what stands in its way."""
    try:
        making = _making(part, recipe, source, tree, placed)
    except Problem as problem:
        return problem.fresh()
    key = key_of(making)
    made = _makings.tried(making, key)
    return made if isinstance(made, Problem) else (made, key)


def _making(
    part: AnyPart, recipe: Recipe, source: FaceSource, tree: Tree, placed: Mapping[str, Placed]
) -> _Making:
    """Gathers what a part is made of. Raises Problem where some of it is not there."""
    asked = part.as_made()
    if isinstance(part, Lettering | Backing) and not set(part.needs) <= placed.keys():
        raise Problem(
            "no-part",
            "The part that this one is made from is empty, or not shown.",
            "Type its words or show it again, or delete this one.",
            part.id,
        )
    if isinstance(part, Lettering):
        line = _line_for(part, placed, tree)
        return _Making(asked, Faces.of(part, source), bars=_own_bars(part, recipe),
                       least=recipe.limits.weedable, line=line)  # fmt: skip
    if isinstance(part, Ornament):
        return _Making(asked, face=source(part.face))
    if isinstance(part, Backing):
        origin = placed[part.of]
        origin = replace(origin, place=Placement(), key=origin.made_key)
        return _Making(asked, members=(origin,), scale=tree.scale_of(part.id))
    if isinstance(part, Frame):
        names = [_name(tree.by_id[m], recipe, source) for m in part.members if not _is_out(m, tree)]
        has_initial = part.form in FRAMES and FRAMES[part.form].has_initial
        ground = placed.get(part.ground) if part.ground else None
        face = source(part.face) if has_initial else None
        return _Making(asked, face=face, names=tuple(names), ground=ground, films=_films([ground]))
    if isinstance(part, Combination):
        members = [placed[m] for m in part.members if m in placed and not tree.by_id[m].hidden]
        if not members:
            raise Problem("no-part", "All parts of this are hidden.", "Show one of them again.", part.id)
        uses = tuple(member.use for member in members)
        scale = tree.scale_of(part.id)
        return _Making(asked, members=tuple(members), films=_films(members), uses=uses, scale=scale)
    return _Making(asked)


def _films(parts: Sequence[Placed | None]) -> tuple[str, ...]:
    return tuple(part.film for part in parts if part)


def _make(given: _Making) -> Made:
    """What a part comes to, of what it is made of and of nothing else."""
    part = given.part
    with geos_errors_as_problems():
        if isinstance(part, Lettering):
            assert given.faces is not None
            assert given.least is not None
            return make_lettering(part, given.faces, given.bars, given.least, given.line)
        if isinstance(part, Ornament):
            assert given.face is not None
            return make_ornament(part, given.face)
        if isinstance(part, ShapePart):
            return make_shape(part)
        if isinstance(part, LinePart):
            return make_line(part)
        if isinstance(part, Artwork):
            return make_artwork(part)
        if isinstance(part, Backing):
            return make_backing(part, given.members[0], given.scale)
        if isinstance(part, Frame):
            return make_frame(FrameAsked(part, given.names, given.ground, given.face))
        return make_combination(part, given.members, given.scale)


def _own_bars(part: Lettering, recipe: Recipe) -> tuple[Bar, ...]:
    """The bridges laid by hand from one letter of a part to another."""
    return tuple(bar for bar in recipe.bars if bar.parts == {part.id})


def _line_for(part: Lettering, placed: Mapping[str, Placed], tree: Tree) -> Line | None:
    """The line of another part that lettering runs along, in the level of both.

    Raises Problem "no-part" where they do not lie in the same one.
    """
    if not part.needs:
        return None
    (of,) = part.needs
    if tree.parent.get(of) != tree.parent.get(part.id):
        raise Problem(
            "no-part",
            "Lettering runs along a line that lies in another combination.",
            "Take both into it, or both out.",
            "course",
        )
    other = tree.by_id[of]
    if isinstance(other, LinePart):
        edge = other.width_mm * placed[of].place.scale / 2 if other.is_band else 0.0
        return Line(placed[of].place.outline(course_of(other)), False, edge)
    return Line(body_of(placed[of]).outline, True)


def _is_out(name: str, tree: Tree) -> bool:
    part = tree.by_id.get(name)
    return part is None or part.hidden or not isinstance(part, Lettering) or not part.text.strip()


def _name(part: AnyPart, recipe: Recipe, source: FaceSource) -> NameAsked:
    """A name for a frame, as it is asked for."""
    assert isinstance(part, Lettering)
    asked = part.as_made()
    return NameAsked(
        asked, Faces.of(part, source), _own_bars(part, recipe), recipe.limits.weedable, part.film
    )


def _placed(part: AnyPart, made: Made, key: str, place: Placement) -> Placed:
    placed_key = key_of((key, place))
    return _placings.get(
        (placed_key, part.id, part.film, part.use),
        lambda: Placed(part.id, part.film.upper(), made, place, key, placed_key, part.use),
    )


def _alignment(
    part: AnyPart, placed: Placed, tree: Tree, in_level: Mapping[str, Placed]
) -> Placement | Problem:
    """Where an aligned part lies in its level. What it is aligned to may not be there, for want of words:
    then it is where that would begin."""
    assert part.alignment is not None
    to = part.alignment.to
    if to is None:
        return aligned(placed.place, placed.box, part.alignment, ORIGIN)
    if tree.parent.get(to) != tree.parent.get(part.id):
        return Problem(
            "no-part",
            "A part is aligned to one that lies in another combination.",
            "Take both into it, or both out, or let it lie freely.",
            part.id,
        )
    start = tree.lies_in_level(tree.by_id[to])
    box = in_level[to].box if to in in_level else (start.x, start.y, start.x, start.y)
    return aligned(placed.place, placed.box, part.alignment, box)


def _on_the_work(placed: Placed, tree: Tree) -> Placed:
    """A part where it lies on the work, be it in a combination."""
    outer = tree.lies_on_work(tree.parent.get(placed.id))
    if outer is None:
        return placed
    key = key_of((placed.key, outer))
    return _placings.get((key, placed.id, placed.film, placed.use), lambda: placed.under(outer, key))


def _across(placed: Placed, tree: Tree) -> float:
    left, top, right, bottom = placed.box
    return max(right - left, bottom - top) * tree.scale_of(tree.parent.get(placed.id))


_makings: Step[_Making, Made] = Step(_make, 48 * 2**20)
_placings: Bounded[tuple[str, str, str, str], Placed] = Bounded(
    16 * 2**20, lambda placed: 2_000 + 8_000 * len(placed.made.shapes)
)


# --- welding --------------------------------------------------------------------------------------------


def _bridges(recipe: Recipe, made: dict[str, Placed]) -> tuple[Bridge, ...]:
    """The bridges laid by hand, where what they hold to is now."""
    found = []
    within = {
        (part_id, laid.bar): laid
        for part_id, placed in made.items()
        if isinstance(placed.made, MadeLettering)
        for laid in placed.made.laid
    }
    for number, bar in enumerate(recipe.bars):
        start, end = made.get(bar.start.part), made.get(bar.end.part)
        gone = Bridge(number, bar, Shape.empty(), None, (0.0, 0.0))
        if start is None or end is None:
            found.append(gone)
        elif start is end:
            laid = within.get((start.id, bar))
            if laid is None or laid.ends is None:
                found.append(gone)
                continue
            on = Placement(scale=start.made.size).within(start.place)
            necks = (laid.necks[0] * start.place.scale, laid.necks[1] * start.place.scale)
            ends = on.point(*laid.ends[0]), on.point(*laid.ends[1])
            found.append(Bridge(number, bar, on.shape(laid.shape), ends, necks))
        else:
            found.append(_between(number, bar, start, end) or gone)
    return tuple(found)


def _between(number: int, bar: Bar, start: Placed, end: Placed) -> Bridge | None:
    """A bridge from one part to another."""
    one, other = start.find(bar.start), end.find(bar.end)
    held, held_too = start.made.region_at(bar.start), end.made.region_at(bar.end)
    if one is None or other is None or held is None or held_too is None:
        return None
    size = start.size
    drawn = bar_shape(
        (one[0] / size, one[1] / size), (other[0] / size, other[1] / size), bar.width_mm / size, bar.bulge
    )
    shape = clean(drawn.outline.placed(0.0, 0.0, size), FLATNESS_MM)
    in_shares = Placement(scale=1 / size)
    necks = [
        size * neck_at(in_shares.region(part.place.region(region)), in_shares.region(shape.region))
        for part, region in ((start, held), (end, held_too))
    ]
    return Bridge(number, bar, shape, (one, other), (necks[0], necks[1]))


def _by_film(parts: Sequence[Placed]) -> dict[str, list[Placed]]:
    """The films, each where its foremost part is, and what is cut from them."""
    films: dict[str, list[Placed]] = {}
    for part in (part for part in parts if part.use == "cut"):
        for layer in part.in_films:
            films[layer.film] = [*films.pop(layer.film, []), layer]
    return films


def _clusters(
    members: Sequence[Placed], bridges: Sequence[Bridge], tree: Tree
) -> Iterator[tuple[tuple[Placed, ...], tuple[Bridge, ...]]]:
    """Parts of one film whose boxes meet, and the bridges from one of them to another. A bridge to a part of
    another film is cut with the part it starts from."""
    ids = {part.id: n for n, part in reversed(list(enumerate(members)))}
    between = [b for b in bridges if b.ends and len(b.bar.parts) > 1 and tree.top(b.bar.start.part) in ids]
    x0, y0, x1, y1 = np.array([part.weld_box for part in members]).T
    meets = (x0[:, None] <= x1) & (x1[:, None] >= x0) & (y0[:, None] <= y1) & (y1[:, None] >= y0)
    apart = np.array([part.made.apart for part in members])
    meets &= ~apart[:, None] & ~apart
    groups = Groups(len(members), np.argwhere(np.triu(meets, 1)).tolist())
    for bridge in between:
        start, end = (tree.top(place.part) for place in (bridge.bar.start, bridge.bar.end))
        groups.join(ids[start], ids.get(end, ids[start]))
    for group in groups.all():
        own = set(group)
        yield (
            tuple(members[n] for n in sorted(group)),
            tuple(b for b in between if ids[tree.top(b.bar.start.part)] in own),
        )


def _welded(
    members: tuple[Placed, ...], between: tuple[Bridge, ...], recipe: Recipe, tree: Tree
) -> Cluster | Problem:
    """The outline of a cluster: welded, holes filled, notches rounded, touched up, and made ready, in this
    order."""
    welding = _Welding(members, tuple(bridge.shape for bridge in between))
    key = key_of(welding)
    shape = _welds.tried(welding, key)
    if isinstance(shape, Problem):
        return shape
    by_id = {member.id: member for member in members}
    lost: list[int] = []
    for number, touch_up in enumerate(recipe.touch_ups):
        member = by_id.get(tree.top(touch_up.at.part))
        if member is None:
            continue
        spot = spot_of(touch_up, member)
        if spot is None:
            lost.append(number)
            continue
        next_key = key_of((key, touch_up, spot))
        changed = _touched.get(next_key, partial(touched_up, shape, touch_up, spot))
        if changed is None:
            lost.append(number)
        else:
            shape, key = changed, next_key
    if recipe.ready is None:
        return Cluster(members, shape, tuple(lost), key)
    asked = ReadyAsked(
        shape, key, recipe.limits, tuple(_weak_joints(members, recipe.limits)),
        recipe.ready.kinds_left, _spots_left(recipe.ready, by_id, tree),
    )  # fmt: skip
    made = _made_ready(asked)
    return Cluster(members, made.shape, tuple(lost), key_of(asked), made.mends, shape)


def _weak_joints(members: Sequence[Placed], limits: Limits) -> Iterator[WeakJoint]:
    """The seams of letterings that are weak by themselves."""
    for part in (part for member in members for part in standing_in(member)):
        if not isinstance(part.made, MadeLettering):
            continue
        for line_seam in part.made.joined.seams:
            seam = PlacedSeam(part.made, line_seam, part.place)
            if seam.state not in (State.GAP, State.TOUCHING) and is_under(seam.neck, limits.neck_mm):
                limit = limit_of(is_as_lettering(seam, seam.neck), limits)
                if is_under(seam.neck, limit):
                    yield WeakJoint(seam.ends, limit)


def _spots_left(ready: Ready, members: Mapping[str, Placed], tree: Tree) -> tuple[LeftSpot, ...]:
    """The places on some parts that are left as they are."""
    spots = []
    for left in ready.places_left:
        member = members.get(tree.top(left.at.part))
        at = member.find(left.at) if member else None
        if member and at:
            spots.append(LeftSpot(left.kind, at, NEAR * member.size))
    return tuple(spots)


@dataclass(frozen=True)
class _Welding:
    """All that a weld is made of: parts where they lie, and the bridges between them."""

    members: tuple[Placed, ...]
    bridges: tuple[Shape, ...]


def _weld(given: _Welding) -> Shape:
    with geos_errors_as_problems():
        return welded(given.members, given.bridges)


def _readied(given: ReadyAsked) -> MadeReady:
    with geos_errors_as_problems():
        return make_ready(given)


_welds: Step[_Welding, Shape] = Step(_weld, 48 * 2**20)
_touched: Bounded[str, Shape | None] = Bounded(48 * 2**20)
_made_ready: Step[ReadyAsked, MadeReady] = Step(_readied, 24 * 2**20)


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


_measures: Bounded[str, _Measures] = Bounded(16 * 2**20, weight_of)


def as_cut(outline: Outline, recipe: Recipe) -> Outline:
    """An outline on the work as it is cut: mirrored where the recipe says so."""
    return outline.mirrored() if recipe.mirror else outline


def box_as_cut(box: Box, recipe: Recipe) -> Box:
    """A box on the work as it is cut."""
    return Box(-box.right, box.y, box.width, box.height) if recipe.mirror else box
