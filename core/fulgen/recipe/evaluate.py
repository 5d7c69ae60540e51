"""evaluate: from a recipe to the outline the knife will follow.

A pure function. Glyphs, shaped lines and whole evaluations are kept by what they depend on, in
caches of bounded size, so a change costs the layout and the weld of what it touched.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fulgen.bounded import Bounded
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.pieces import Piece, pieces
from fulgen.geometry.polygons import Region
from fulgen.geometry.weld import Shape, fill_holes, placed_at, weld
from fulgen.joining.marks import MarkWay
from fulgen.joining.seam import WIDEST_NECK, State
from fulgen.joining.smooth import smooth_seams
from fulgen.joining.solve import Way
from fulgen.joining.words import Joined, Joining, LineSeam, Patch, SeamChoice, join_lines
from fulgen.lettering.catalogue import find_family
from fulgen.lettering.faces import Face
from fulgen.lettering.layout import Layout, Own, PlacedLetter, Setting, place, set_lines, size_of
from fulgen.lettering.shaping import Special
from fulgen.recipe.model import FaceChoice, Lettering, Recipe
from fulgen.units import Unit, show_length

SMALLEST_HOLE_MM = 1.0
"""A narrower hole cannot be weeded from film. († from memory)"""

FaceSource = Callable[[FaceChoice], Face]
"""Finds the face a recipe names. Raises Problem "no-face"."""


@dataclass(frozen=True, eq=False)
class Film:
    """What is cut from one film: its colour, the welded outline and its pieces."""

    colour: str
    shape: Shape
    pieces: tuple[Piece, ...]


@dataclass(frozen=True, eq=False)
class SetPart:
    """A lettering part as laid out: where its letters and baselines are, and how its letters meet."""

    part: Lettering
    face: Face
    layout: Layout
    joined: Joined
    unit: Unit

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
        return [*placed, *(self._placed(bar) for bar in self.joined.bars)]

    @property
    def fills(self) -> list[Region]:
        """Pinholes to be filled, in mm on the work."""
        return [self._placed(fill).region for fill in self.joined.fills]

    @cached_property
    def seams(self) -> tuple[PlacedSeam, ...]:
        return tuple(PlacedSeam(self, seam, self.unit) for seam in self.joined.seams)


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
        return self.seam.measured.gap * self._size

    @property
    def neck(self) -> float:
        return self.seam.measured.neck * self._size

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
        return len(self.seam.measured.pinholes(SMALLEST_HOLE_MM / self._size))

    @cached_property
    def state(self) -> State:
        return self.seam.measured.state(self.target / self._size)

    @property
    def by_stroke(self) -> bool:
        """Whether the neck is under the one asked for, but all that the strokes give."""
        return self.state is State.JOINED and self.neck < self.target - 1e-3 * self._size

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """The ends of the gap, or of the chord across the neck."""
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

        said = []
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
    """What a recipe comes to. Millimetres, y down; mirrored if the recipe says so."""

    recipe: Recipe
    parts: tuple[SetPart, ...]
    films: tuple[Film, ...]

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
            not mark.held and mark.neck == 0.0
            for part in self.parts
            for marks in part.joined.marks.values()
            for mark in marks
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
    parts = tuple(_set(*row, recipe.unit) for row in zip(recipe.parts, faces, own, strict=True))
    by_film: dict[str, list[SetPart]] = {}
    for set_part in parts:
        by_film.setdefault(set_part.part.film.upper(), []).append(set_part)
    films = []
    for colour, members in by_film.items():
        shape = weld([shape for member in members for shape in member.shapes])
        shape = fill_holes(shape, [fill for member in members for fill in member.fills])
        for member in members:
            shape = smooth_seams(shape, member.shapes, member.part.join.smooth_mm)
        if recipe.mirror:
            shape = shape.mirrored()
        films.append(Film(colour, shape, pieces(shape)))
    return Evaluation(recipe, parts, tuple(films))


_SIZE_ROUNDS = 4
"""The necks asked for hang on the size, and the size that makes a width hangs on how far letters slide.
A few rounds settle it; the last one sets the size exactly."""


def _set(part: Lettering, face: Face, own_faces: dict[int, Face], unit: Unit) -> SetPart:
    setting = _setting(part, face, own_faces)
    lines = set_lines(setting)
    changes = part.changes
    how = Joining(
        auto=part.join.how == "auto",
        neck=part.join.neck_mm,
        hole=SMALLEST_HOLE_MM,
        choices={
            at: SeamChoice(Way(change.seam.way) if change.seam.way else None, change.seam.trim)
            for at, change in changes.items()
        },
        apart={at: change.apart for at, change in changes.items() if change.apart is not None},
        marks=MarkWay(part.join.marks),
        own_marks={at: MarkWay(change.marks) for at, change in changes.items() if change.marks},
    )
    size = size_of(setting, lines)
    for _ in range(_SIZE_ROUNDS):
        joined = join_lines(lines, size, part.spacing_mm, how)
        settled, size = size, size_of(setting, joined.lines)
        if abs(size - settled) <= 1e-3 * size:
            break
    return SetPart(part, face, place(setting, joined.lines, size), joined, unit)


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
            )
            for at, change in part.changes.items()
        },
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
