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
from fulgen.geometry.weld import Shape, placed_at, weld
from fulgen.lettering.catalogue import find_family
from fulgen.lettering.faces import Face
from fulgen.lettering.layout import Layout, PlacedLetter, Setting, lay_out
from fulgen.recipe.model import FaceChoice, Lettering, Recipe

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
    """A lettering part as laid out: where its letters and baselines are."""

    part: Lettering
    face: Face
    layout: Layout

    @property
    def capital_height(self) -> float:
        return self.face.capital_height * self.layout.size


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
    def letters(self) -> list[tuple[SetPart, PlacedLetter]]:
        """Every letter with the part it stands in."""
        return [(p, letter) for p in self.parts for letter in p.layout.letters]

    def weight(self) -> int:
        """About how many bytes this evaluation keeps alive."""
        return 20_000 + sum(f.shape.outline.points.nbytes * 16 for f in self.films)


def shipped_face(choice: FaceChoice) -> Face:
    """The face a recipe names, from the families that ship with Fulgen."""
    return find_family(choice.family).face(choice.weight, choice.axes)


def evaluate(recipe: Recipe, faces: FaceSource = shipped_face) -> Evaluation:
    """Outlines, pieces and measures of a recipe. Raises Problem where it cannot be cut."""
    chosen = [faces(part.face) for part in recipe.parts]
    key = (recipe.model_dump_json(), *(face.key for face in chosen))
    return _evaluations.get(key, lambda: _evaluated(recipe, chosen))


_evaluations: Bounded[tuple[str, ...], Evaluation] = Bounded(48 * 2**20, Evaluation.weight)


def _evaluated(recipe: Recipe, faces: list[Face]) -> Evaluation:
    parts = tuple(
        SetPart(part, face, lay_out(_setting(part, face)))
        for part, face in zip(recipe.parts, faces, strict=True)
    )
    by_film: dict[str, list[Shape]] = {}
    for set_part in parts:
        part, size = set_part.part, set_part.layout.size
        letters = set_part.layout.letters
        at = np.array([(letter.x + part.x, letter.y + part.y) for letter in letters])
        placed = placed_at([letter.form for letter in letters], at, size)
        by_film.setdefault(part.film.upper(), []).extend(placed)
    films = []
    for colour, shapes in by_film.items():
        shape = weld(shapes)
        if recipe.mirror:
            shape = shape.mirrored()
        films.append(Film(colour, shape, pieces(shape)))
    return Evaluation(recipe, parts, tuple(films))


def _setting(part: Lettering, face: Face) -> Setting:
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
    )


def letter_trace(part: SetPart, letter: PlacedLetter, mirror: bool) -> Outline:
    """A letter's own outline on the work, as it is before the weld."""
    placed = letter.form.outline.placed(letter.x + part.part.x, letter.y + part.part.y, part.layout.size)
    return placed.mirrored() if mirror else placed
