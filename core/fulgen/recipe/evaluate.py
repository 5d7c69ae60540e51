"""evaluate: from a recipe to the outline the knife will follow.

A pure function. Glyphs, shaped lines and whole evaluations are kept by what they depend on, in
caches of bounded size, so a change costs the layout and the weld of what it touched.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely

from fulgen.bounded import Bounded
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.pieces import Piece, pieces
from fulgen.geometry.polygons import Region, count, moved
from fulgen.geometry.weld import Shape, fill_holes, placed_at, weld
from fulgen.joining.bars import Tie, bar_shape, neck_at, ties, underline
from fulgen.joining.marks import MarkWay
from fulgen.joining.materials import material
from fulgen.joining.seam import WIDEST_NECK, State
from fulgen.joining.smooth import smooth_seams
from fulgen.joining.solve import Way
from fulgen.joining.words import Joined, Joining, LineSeam, Patch, SeamChoice, join_lines
from fulgen.lettering import layout as laying
from fulgen.lettering.catalogue import find_family
from fulgen.lettering.faces import Face
from fulgen.lettering.layout import Layout, Own, PlacedLetter, Setting, place, set_lines, size_of
from fulgen.lettering.reshape import Edit, Reshaping, mark_of
from fulgen.lettering.shaping import Special
from fulgen.recipe.model import (
    Anchor,
    Bar,
    FaceChoice,
    Lettering,
    LetterShape,
    Limits,
    Recipe,
    StandIn,
)
from fulgen.recipe.touchups import Place, touched_up
from fulgen.units import Unit, show_length

FaceSource = Callable[[FaceChoice], Face]
"""Finds the face a recipe names. Raises Problem "no-face"."""


@dataclass(frozen=True, eq=False)
class Film:
    """What is cut from one film: its colour, the welded outline, the same not mirrored, and its pieces."""

    colour: str
    shape: Shape
    plain: Shape
    pieces: tuple[Piece, ...]


@dataclass(frozen=True, eq=False)
class SetPart:
    """A lettering part as laid out: where its letters and baselines are, and how its letters meet."""

    part: Lettering
    face: Face
    layout: Layout
    joined: Joined
    unit: Unit
    limits: Limits
    laid: tuple[LaidBar, ...]
    ties: tuple[Tie, ...]
    underlines: tuple[Shape, ...]

    @cached_property
    def by_id(self) -> dict[int, PlacedLetter]:
        """Letters by their ids."""
        ids = self.part.ids
        return {ids[letter.letter.at]: letter for letter in self.layout.letters}

    def id_of(self, letter: PlacedLetter) -> int:
        return self.part.ids[letter.letter.at]

    def find(self, anchor: Anchor) -> tuple[float, float] | None:
        """Where an anchor is on the work; None where its letter is gone."""
        letter = self.by_id.get(anchor.letter)
        if letter is None:
            return None
        x, y = letter.letter.from_drawn(anchor.x, anchor.y)
        size = self.layout.size
        return self.part.x + letter.x + x * size, self.part.y + letter.y + y * size

    def anchor(self, letter: PlacedLetter, x: float, y: float) -> Anchor:
        """A place on the work as a place on a letter."""
        size = self.layout.size
        own = letter.letter.to_drawn((x - self.part.x - letter.x) / size, (y - self.part.y - letter.y) / size)
        return Anchor(letter=self.id_of(letter), x=_within(own[0]), y=_within(own[1]))

    @cached_property
    def tree(self) -> shapely.STRtree:
        """The letters on the work, to be asked which is near."""
        return shapely.STRtree([shape.region for shape in self.shapes[: len(self.layout.letters)]])

    def distance(self, x: float, y: float) -> float:
        """How far a place on the work is from the box around the letters."""
        return float(shapely.distance(self.letters_hull, shapely.Point(x, y)))

    @cached_property
    def letters_hull(self) -> shapely.Polygon:
        """The box around the letters on the work."""
        x0, y0, x1, y1 = shapely.total_bounds(self.tree.geometries).tolist()
        return shapely.Polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])

    def nearest(self, x: float, y: float) -> PlacedLetter:
        """The letter nearest to a place on the work."""
        return self.layout.letters[int(self.tree.nearest(shapely.Point(x, y)))]

    @property
    def waiting_shapes(self) -> tuple[str, ...]:
        """Letters whose nodes were changed on another outline than they have now."""
        return tuple(
            letter.text
            for letter in self.layout.letters
            if (change := letter.letter.key[1].reshaping) is not None
            and not letter.letter.stands_in
            and change.edits
            and change.of != mark_of(letter.letter.drawn.outline)
        )

    @property
    def closed_counters(self) -> tuple[str, ...]:
        """Letters that have fewer holes than the face draws, because they were thickened."""
        if self.part.thicken_mm <= 0:
            return ()
        return tuple(
            letter.text
            for letter in self.layout.letters
            if not letter.letter.stands_in and _holes(letter.form) < _holes(letter.letter.drawn)
        )

    @property
    def capital_height(self) -> float:
        return self.face.capital_height * self.layout.size

    @property
    def lost_shapes(self) -> tuple[str, ...]:
        """Letters for which another shape was chosen that the face in use does not have."""
        return tuple(
            self.part.text[at]
            for at, change in self.part.changes.items()
            if change.face is None and not self.face.substitutions.issuperset(change.alternates)
        )

    def origin(self, line: int, x: float, y: float, order: int) -> tuple[float, float]:
        """A place on a line, in shares of the size and letters before it, as mm on the work."""
        size = self.layout.size
        return (
            self.part.x + self.layout.starts[line] + x * size + order * self.part.spacing_mm,
            self.part.y + self.layout.baselines[line] + y * size,
        )

    def _placed(self, patch: Patch) -> Shape:
        return patch.shape.placed(*self.origin(patch.line, patch.x, patch.y, patch.order), self.layout.size)

    @cached_property
    def shapes(self) -> list[Shape]:
        """All that is to be welded: letters and bars, in mm on the work."""
        letters = self.layout.letters
        at = np.array([(letter.x + self.part.x, letter.y + self.part.y) for letter in letters])
        placed = placed_at([letter.form for letter in letters], at, self.layout.size)
        return [*placed, *(self._placed(bar) for bar in self.joined.bars), *self.added]

    @cached_property
    def added(self) -> list[Shape]:
        """Bars laid by hand, ties and underlines, in mm on the work."""
        size = self.layout.size
        shapes = [bar.shape for bar in self.laid if bar.shape]
        shapes += [tie.shape for tie in self.ties] + list(self.underlines)
        return [shape.placed(self.part.x, self.part.y, size) for shape in shapes]

    def holds(self, left: int, right: int) -> Iterator[_Hold]:
        """The bars laid by hand and the ties from one letter to another, by their places in the text."""
        size, ids = self.layout.size, self.part.ids
        pair = {ids[left], ids[right]}
        for bar in self.laid:
            if bar.ends and {bar.bar.start.letter, bar.bar.end.letter} == pair:
                one, other = ((self.part.x + x * size, self.part.y + y * size) for x, y in bar.ends)
                yield _Hold("bridged by hand", min(bar.necks), (one, other))
        for tie in self.ties:
            if {self.id_of(self.layout.letters[n]) for n in tie.ends} == pair:
                box = tie.shape.placed(self.part.x, self.part.y, size).box
                middle = box.y + box.height / 2
                yield _Hold("tied", self.part.join.neck_mm, ((box.x, middle), (box.right, middle)))

    @property
    def fills(self) -> list[Region]:
        """Pinholes to be filled, in mm on the work."""
        return [self._placed(fill).region for fill in self.joined.fills]

    @cached_property
    def seams(self) -> tuple[PlacedSeam, ...]:
        return tuple(PlacedSeam(self, seam, self.unit) for seam in self.joined.seams)


@dataclass(frozen=True)
class _Hold:
    """A bar between two letters: what it is, its neck in mm and its ends on the work."""

    what: str
    neck: float
    ends: tuple[tuple[float, float], tuple[float, float]]


def _within(share: float) -> float:
    return min(20.0, max(-20.0, round(share, 6)))


def _holes(shape: Shape) -> int:
    return count(shape.region)[1]


@dataclass(frozen=True, eq=False)
class LaidBar:
    """A bridge laid by hand, in shares of the size from the part's place: its shape, and the necks by which
    it hangs on its letters. A bar is empty when a letter of it is gone."""

    bar: Bar
    shape: Shape
    ends: tuple[tuple[float, float], tuple[float, float]] | None
    necks: tuple[float, float]


@dataclass(frozen=True, eq=False)
class PlacedSeam:
    """A seam on the work: its figures in mm."""

    part: SetPart
    seam: LineSeam
    unit: Unit

    @property
    def _size(self) -> float:
        return self.part.layout.size

    @cached_property
    def _texts(self) -> dict[int, str]:
        return {letter.letter.at: letter.text for letter in self.part.layout.letters}

    @property
    def left_text(self) -> str:
        return self._texts[self.seam.left]

    @property
    def right_text(self) -> str:
        return self._texts[self.seam.right]

    @property
    def target(self) -> float:
        """The neck asked for."""
        return self.part.part.join.neck_mm

    @property
    def gap(self) -> float:
        return 0.0 if self._hand else self.seam.measured.gap * self._size

    @property
    def neck(self) -> float:
        return max(self.seam.measured.neck * self._size, self._hand.neck if self._hand else 0.0)

    @cached_property
    def _hand(self) -> _Hold | None:
        """The bar, laid by hand or as a tie, by which the two letters hang together better than here."""
        held = max(self.part.holds(self.seam.left, self.seam.right), key=lambda hold: hold.neck, default=None)
        return held if held and held.neck > self.seam.measured.neck * self._size else None

    @property
    def widest_told(self) -> float:
        """A neck as wide as this is at least as wide as this."""
        return WIDEST_NECK * self._size

    @property
    def shift(self) -> float:
        """How far joining slid the right letter; negative is to the left."""
        return self.seam.joint.shift * self._size

    @property
    def pinholes(self) -> int:
        """How many of the holes closed in here are too small to weed."""
        return len(self.seam.measured.pinholes(self.part.limits.hole_mm / self._size))

    @cached_property
    def state(self) -> State:
        if self._hand:
            return State.JOINED if self._hand.neck >= self.target - 1e-3 * self._size else State.THIN
        return self.seam.measured.state(self.target / self._size)

    @property
    def by_stroke(self) -> bool:
        """Whether the neck is under the one asked for, but all that the strokes give."""
        return self.state is State.JOINED and self.neck < self.target - 1e-3 * self._size

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """The ends of the gap, or of the chord across the neck; of the bar that holds the letters by hand."""
        if self._hand:
            return self._hand.ends
        one, other = (self.at(point) for point in self.seam.measured.ends)
        return one, other

    def at(self, point: tuple[float, float]) -> tuple[float, float]:
        """A point of the seam on the work, as it is cut."""
        seam = self.seam
        x, y = self.part.origin(seam.line, seam.x, seam.y, seam.order)
        return x + point[0] * self._size, y + point[1] * self._size

    @property
    def remedy(self) -> str:
        """What was done here, in one line; empty where nothing was."""
        joint, unit = self.seam.joint, self.unit

        def length(share: float) -> str:
            return show_length(abs(share) * self._size, unit)

        said = [self._hand.what] if self._hand else []
        if joint.bar is not None:
            letter = self.left_text if joint.bar.of_left else self.right_text
            if joint.bar.kind == "reach":
                said.append(f"stroke of {letter} reached {length(joint.bar.length)}")
            else:
                said.append(f"bridge of {length(joint.bar.length)}")
        if abs(joint.shift) * self._size >= 0.005:
            said.append(f"moved {length(joint.shift)} {'left' if joint.shift < 0 else 'right'}")
        if self.seam.trimmed:
            said.append("stub trimmed" if len(self.seam.trimmed) == 1 else "stubs trimmed")
        if self.seam.filled:
            said.append("pinhole filled" if self.seam.filled == 1 else "pinholes filled")
        return ", ".join(said)


@dataclass(frozen=True, eq=False)
class Evaluation:
    """What a recipe comes to. Millimetres, y down; mirrored if the recipe says so. lost are the touch-ups,
    by their place in the recipe, that no longer find theirs on the work."""

    recipe: Recipe
    parts: tuple[SetPart, ...]
    films: tuple[Film, ...]
    lost: tuple[int, ...]

    @cached_property
    def pieces(self) -> tuple[Piece, ...]:
        return tuple(piece for film in self.films for piece in film.pieces)

    @cached_property
    def box(self) -> Box:
        boxes = [piece.box for piece in self.pieces]
        return measure.box_around(np.array([(b.x, b.y, b.right, b.bottom) for b in boxes]))

    @cached_property
    def cut_length(self) -> float:
        return sum(measure.length(film.shape.outline) for film in self.films)

    @cached_property
    def nodes(self) -> int:
        return sum(measure.node_count(film.shape.outline) for film in self.films)

    @property
    def loose_marks(self) -> int:
        """How many dots and accents come off as pieces of their own."""
        return sum(
            mark.loose for part in self.parts for marks in part.joined.marks.values() for mark in marks
        )

    @property
    def seams(self) -> list[PlacedSeam]:
        return [seam for part in self.parts for seam in part.seams]

    @property
    def letters(self) -> list[tuple[SetPart, PlacedLetter]]:
        """Every letter with the part it stands in."""
        return [(p, letter) for p in self.parts for letter in p.layout.letters]

    def weight(self) -> int:
        """About how many bytes this evaluation keeps alive."""
        outlines = sum(f.shape.outline.points.nbytes * 16 for f in self.films)
        return 20_000 + outlines + 40_000 * len(self.seams)


def shipped_face(choice: FaceChoice) -> Face:
    """The face a recipe names, from the families that ship with Fulgen."""
    return find_family(choice.family).face(choice.weight, choice.axes)


def evaluate(recipe: Recipe, faces: FaceSource = shipped_face) -> Evaluation:
    """Outlines, pieces and measures of a recipe. Raises Problem where it cannot be cut."""
    chosen = [faces(part.face) for part in recipe.parts]
    own = [
        {at: faces(change.face) for at, change in part.changes.items() if change.face}
        for part in recipe.parts
    ]
    keys = [face.key for face in (*chosen, *(face for some in own for face in some.values()))]
    key = (recipe.model_dump_json(), *keys)
    return _evaluations.get(key, lambda: _evaluated(recipe, chosen, own))


_evaluations: Bounded[tuple[str, ...], Evaluation] = Bounded(48 * 2**20, Evaluation.weight)


def _evaluated(recipe: Recipe, faces: list[Face], own: list[dict[int, Face]]) -> Evaluation:
    limits = limits_of(recipe)
    parts = tuple(_set(*row, recipe.unit, limits) for row in zip(recipe.parts, faces, own, strict=True))
    by_film: dict[str, list[SetPart]] = {}
    for set_part in parts:
        by_film.setdefault(set_part.part.film.upper(), []).append(set_part)
    films = []
    lost: list[int] = []
    for colour, members in by_film.items():
        shape = weld([shape for member in members for shape in member.shapes])
        shape = fill_holes(shape, [fill for member in members for fill in member.fills])
        for member in members:
            shape = smooth_seams(shape, member.shapes, member.part.join.smooth_mm)
        shape = _with_touch_ups(shape, recipe, members, lost)
        cut = shape.mirrored() if recipe.mirror else shape
        films.append(Film(colour, cut, shape, pieces(cut)))
    return Evaluation(recipe, parts, tuple(films), tuple(sorted(lost)))


def _with_touch_ups(shape: Shape, recipe: Recipe, members: list[SetPart], lost: list[int]) -> Shape:
    """The film's outline with its touch-ups replayed in order; those that find no place are noted."""
    by_part = {member.part.id: member for member in members}
    for number, touch_up in enumerate(recipe.touch_ups):
        member = by_part.get(touch_up.part)
        if member is None:
            if all(part.id != touch_up.part for part in recipe.parts) and members[0].part is recipe.parts[0]:
                lost.append(number)
            continue
        at = member.find(touch_up.at)
        to = member.find(touch_up.to) if touch_up.to else None
        if at is None or (touch_up.to and to is None):
            lost.append(number)
            continue
        place = Place(touch_up.kind, at, to, touch_up.size_mm, touch_up.dx, touch_up.dy, member.layout.size)
        changed = touched_up(shape, place)
        if changed is None:
            lost.append(number)
        else:
            shape = changed
    return shape


def limits_of(recipe: Recipe) -> Limits:
    """What the recipe's material holds."""
    if recipe.material.limits is not None:
        return recipe.material.limits
    known = material(recipe.material.name)
    return Limits(
        neck_mm=known.neck_mm, stroke_mm=known.stroke_mm, hole_mm=known.hole_mm,
        piece_mm=known.piece_mm, gap_mm=known.gap_mm,
    )  # fmt: skip


_SIZE_ROUNDS = 4
"""The necks asked for hang on the size, and the size that makes a width hangs on how far letters slide.
A few rounds settle it; the last one sets the size exactly."""


def _set(part: Lettering, face: Face, own_faces: dict[int, Face], unit: Unit, limits: Limits) -> SetPart:
    setting = _setting(part, face, own_faces)
    changes = part.changes
    how = Joining(
        auto=part.join.how == "auto",
        neck=part.join.neck_mm,
        hole=limits.hole_mm,
        choices={
            at: SeamChoice(Way(change.seam.way) if change.seam.way else None, change.seam.trim)
            for at, change in changes.items()
        },
        apart={at: change.apart for at, change in changes.items() if change.apart is not None},
        marks=MarkWay(part.join.marks),
        mark_bar=part.join.mark_bar_mm,
        own_marks={at: MarkWay(change.marks) for at, change in changes.items() if change.marks},
        mark_shape=_stand_in(part.join.mark_shape),
        own_mark_shapes={
            at: shape for at, change in changes.items() if (shape := _stand_in(change.mark_shape)) is not None
        },
    )
    size = size_of(setting, set_lines(setting))
    for _ in range(_SIZE_ROUNDS):
        setting = replace(setting, thicker=_thicker(part.thicken_mm, size))
        joined = join_lines(set_lines(setting), size, part.spacing_mm, how)
        settled, size = size, size_of(setting, joined.lines)
        if abs(size - settled) <= 1e-3 * size:
            break
    layout = place(setting, joined.lines, size)
    regions: list[Region] = []
    if part.bars or part.join.tie:
        regions = [moved(p.form.region, p.x / size, p.y / size) for p in layout.letters]
    laid = _laid(part, layout, regions)
    lines = _underlines(part, layout)
    tied: list[Tie] = []
    if part.join.tie:
        bars = [
            moved(
                bar.shape.region,
                layout.starts[bar.line] / size + bar.x + bar.order * part.spacing_mm / size,
                layout.baselines[bar.line] / size + bar.y,
            )
            for bar in joined.bars
        ]
        refused = {frozenset((pair.one, pair.other)) for pair in part.join.refused}
        ids = [part.ids[letter.letter.at] for letter in layout.letters]
        tied = ties(
            regions,
            [*bars, *(bar.shape.region for bar in laid if bar.shape), *(line.region for line in lines)],
            part.join.neck_mm / size,
            lambda a, b: frozenset((ids[a], ids[b])) not in refused,
        )
    return SetPart(part, face, layout, joined, unit, limits, laid, tuple(tied), lines)


_THICKER_STEP = 1e-4
"""How finely a thickening is told, as a share of the size: 2 µm of it at a size of 40 mm, far below what a
cutter steps. So letters once thickened serve again when the size changes a little."""


def _thicker(mm: float, size: float) -> float:
    return round(round(mm / size / _THICKER_STEP) * _THICKER_STEP, 6)


def _laid(part: Lettering, layout: Layout, regions: list[Region]) -> tuple[LaidBar, ...]:
    """Bars laid by hand, where their letters are now."""
    index = {part.ids[letter.letter.at]: n for n, letter in enumerate(layout.letters)}
    size = layout.size
    found = []
    for bar in part.bars:
        ends = []
        for anchor in (bar.start, bar.end):
            if anchor.letter in index:
                letter = layout.letters[index[anchor.letter]]
                x, y = letter.letter.from_drawn(anchor.x, anchor.y)
                ends.append((letter.x / size + x, letter.y / size + y))
        if len(ends) < 2:
            found.append(LaidBar(bar, Shape.empty(), None, (0.0, 0.0)))
            continue
        shape = bar_shape(ends[0], ends[1], bar.width_mm / size, bar.bulge)
        one, other = (neck_at(regions[index[a.letter]], shape.region) for a in (bar.start, bar.end))
        found.append(LaidBar(bar, shape, (ends[0], ends[1]), (one * size, other * size)))
    return tuple(found)


def _underlines(part: Lettering, layout: Layout) -> tuple[Shape, ...]:
    """The underline of each line that has letters."""
    line = part.underline
    if line is None:
        return ()
    size, beyond = layout.size, line.beyond_mm / layout.size
    found = []
    for number, baseline in enumerate(layout.baselines):
        letters = [letter for letter in layout.letters if letter.line == number]
        if not letters:
            continue
        left = min(p.x / size + p.form.box.x for p in letters) - beyond
        right = max(p.x / size + p.form.box.right for p in letters) + beyond
        if right - left > 0.01:
            found.append(
                underline(left, right, baseline / size, line.thick_mm / size, line.over_mm / size, line.style)
            )
    return tuple(found)


def _stand_in(choice: StandIn | None) -> laying.StandIn | None:
    return None if choice is None else laying.StandIn(choice.shape, choice.d, choice.to)


def _reshaping(shape: LetterShape | None) -> Reshaping | None:
    if shape is None or not shape.edits:
        return None
    edits = (Edit(e.kind, e.nodes, e.dx, e.dy, e.time, e.new) for e in shape.edits)
    return Reshaping(shape.of, tuple(edits))


def _setting(part: Lettering, face: Face, own_faces: dict[int, Face]) -> Setting:
    return Setting(
        text=part.text,
        face=face,
        measure=part.size.measure,
        size=part.size.mm,
        features=tuple(sorted(part.features.items())),
        spacing=part.spacing_mm,
        spacing_share=part.spacing_share,
        line_spacing=part.line_spacing,
        align=part.align,
        own={
            at: Own(
                change.dx, change.dy, change.carry, change.after, change.turn, change.scale,
                Special(own_faces.get(at), tuple(sorted(change.alternates.items())))
                if at in own_faces or change.alternates else None,
                _reshaping(change.shape),
                _stand_in(change.stand_in),
            )
            for at, change in part.changes.items()
        },
        kinds={kind: made for kind, shape in part.kinds.items() if (made := _reshaping(shape)) is not None},
        corners=part.corners,
    )  # fmt: skip


def letter_trace(part: SetPart, letter: PlacedLetter, mirror: bool) -> Outline:
    """A letter's own outline on the work, as it is before the weld."""
    placed = letter.form.outline.placed(letter.x + part.part.x, letter.y + part.part.y, part.layout.size)
    return placed.mirrored() if mirror else placed


def letter_box(part: SetPart, letter: PlacedLetter, mirror: bool) -> Box:
    """The box around a letter's own outline on the work."""
    box, size = letter.form.box, part.layout.size
    x, y = letter.x + part.part.x + box.x * size, letter.y + part.part.y + box.y * size
    width = box.width * size
    return Box(-x - width if mirror else x, y, width, box.height * size)
