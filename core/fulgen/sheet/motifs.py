"""Motifs: what is laid on sheets as one thing, as it is cut.

All that a design cuts from one film is a motif, so that its parts keep their place to each other; or, where
the maker asks for it, each part by itself. Where a design has marks by which its films meet, they are part of
every film's motif, at the same places.
"""

from __future__ import annotations

from collections.abc import Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np

from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM, Shape, joined
from fulgen.geometry.weld import clean
from fulgen.parts.made import DrawnLine
from fulgen.recipe.cutting import CutPlan
from fulgen.recipe.evaluate import Evaluation

MARK_MM = 6.0
"""How large a registration mark is. (†)"""

_ARM = 0.3
_BESIDE_MM = 4.0


@dataclass(frozen=True, eq=False)
class Motif:
    """What is cut from one film of a design, or one part of it, and how often; origin is the design's id,
    where it is another than that whose sheets they are. Its shape and the marks that go with it, both as they
    are cut, the places on it where no cut should start (N, 2), and the lines on it that are not cut."""

    design: str
    film: str
    shape: Shape
    part: str = ""
    origin: str = ""
    copies: int = 1
    marks: Shape = field(default_factory=Shape.empty)
    keep_off: Floats = field(default_factory=lambda: np.zeros((0, 2)))
    lines: tuple[DrawnLine, ...] = ()

    @cached_property
    def whole(self) -> Shape:
        """The shape and its marks."""
        return joined([self.shape, self.marks]) if self.marks else self.shape

    @cached_property
    def box(self) -> Box:
        return measure.box(Outline.joined([self.whole.outline, *(line.outline for line in self.lines)]))

    @property
    def middle(self) -> tuple[float, float]:
        return self.box.x + self.box.width / 2, self.box.y + self.box.height / 2


def motifs_of(
    design: str, evaluation: Evaluation, plan: CutPlan, copies: int | None = None, origin: str = ""
) -> list[Motif]:
    """What a design cuts from its films, as the plan of the sheets has it: mirrored where the design says so.

    Raises Problem while a part of it cannot be made.
    """
    seen = Placement(flip=evaluation.recipe.mirror)
    films = evaluation.whole().films
    many = plan.copies if copies is None else copies
    joints = np.array([end for seam in evaluation.seams for end in seam.ends]).reshape(-1, 2)
    keep_off = seen.points(joints) if len(joints) else joints
    whole = partial(Motif, design, origin=origin, copies=many, keep_off=keep_off)
    if not plan.together:
        clusters = [(film.colour, cluster) for film in films for cluster in film.clusters if cluster.shape]
        own = [{member.id for member in one.members} for _, one in clusters]
        lines = _lines_on([free.part for free in evaluation.lines], own, evaluation, seen)
        return [
            whole(film, seen.shape(one.shape), one.members[0].id, lines=of)
            for (film, one), of in zip(clusters, lines, strict=True)
        ]
    marks = Shape.empty()
    shapes = [seen.shape(film.shape) for film in films]
    if plan.marks and shapes:
        marks = marks_around(measure.box(Outline.joined(shape.outline for shape in shapes)))
    cut = [(film, shape) for film, shape in zip(films, shapes, strict=True) if shape]
    colours = [{film.colour} for film, _ in cut]
    lines = _lines_on([free.film.upper() for free in evaluation.lines], colours, evaluation, seen)
    return [
        whole(film.colour, shape, marks=marks, lines=of) for (film, shape), of in zip(cut, lines, strict=True)
    ]


def _lines_on(
    of: Sequence[str], owners: Sequence[AbstractSet[str]], evaluation: Evaluation, seen: Placement
) -> list[tuple[DrawnLine, ...]]:
    """The lines that are not cut, each with the first that owns what it is of; one that none owns is with the
    first."""
    found: list[list[DrawnLine]] = [[] for _ in owners]
    for what, free in zip(of, evaluation.lines, strict=True) if owners else ():
        n = next((n for n, own in enumerate(owners) if what in own), 0)
        found[n].append(replace(free.line, outline=seen.outline(free.line.outline)))
    return [tuple(lines) for lines in found]


def marks_around(box: Box) -> Shape:
    """Three crosses beside a box, at all its corners but one, so that no film can be laid the wrong way
    around."""
    out = _BESIDE_MM + MARK_MM / 2
    places = (
        (box.x - out, box.y - out),
        (box.right + out, box.y - out),
        (box.x - out, box.bottom + out),
    )
    long, thin = MARK_MM / 2, MARK_MM * _ARM / 2
    cross = np.array([
        (thin, -long), (thin, -thin), (long, -thin), (long, thin), (thin, thin), (thin, long),
        (-thin, long), (-thin, thin), (-long, thin), (-long, -thin), (-thin, -thin), (-thin, -long),
    ])  # fmt: skip
    return clean(Outline.joined(Outline.polygon(cross + place) for place in places), FLATNESS_MM)
