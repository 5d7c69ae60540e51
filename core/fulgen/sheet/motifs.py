"""Motifs: what is laid on sheets as one thing, as it is cut.

All that a design cuts from one film is a motif, so that its parts keep their place to each other; or, where
the maker asks for it, each part by itself. Where a design has marks by which its films meet, they are part of
every film's motif, at the same places.
"""

from __future__ import annotations

from collections.abc import Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import shapely

from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM, Shape, joined
from fulgen.geometry.weld import clean
from fulgen.parts.built_part import Mark
from fulgen.recipe.cutting import CutPlan
from fulgen.recipe.evaluation import Evaluation

MARK_MM = 6.0
"""How large a registration mark is. (†)"""

_ARM = 0.3
_BESIDE_MM = 4.0


@dataclass(frozen=True, eq=False)
class Motif:
    """What is cut from one film of a design, or one part of it, and how often; origin is the design's id,
    where it is another than that whose sheets they are. Its shape and the registration marks that go with it,
    both as they are cut, the places on it where no cut should start (N, 2), and what is on it that is not
    cut. All is as it lies on the sheet: mirrored, where the film is."""

    design: str
    film: str
    shape: Shape
    part: str = ""
    origin: str = ""
    copies: int = 1
    marks: Shape = field(default_factory=Shape.empty)
    keep_off: Floats = field(default_factory=lambda: np.zeros((0, 2)))
    uncut: tuple[Mark, ...] = ()

    @cached_property
    def whole(self) -> Shape:
        """The shape and its marks."""
        return joined([self.shape, self.marks]) if self.marks else self.shape

    @cached_property
    def box(self) -> Box:
        return measure.box(Outline.joined([self.whole.outline, *(mark.outline for mark in self.uncut)]))

    @property
    def middle(self) -> tuple[float, float]:
        return self.box.x + self.box.width / 2, self.box.y + self.box.height / 2


def motifs_of(
    design: str, evaluation: Evaluation, plan: CutPlan, copies: int | None = None, origin: str = ""
) -> list[Motif]:
    """What a design cuts from its films, as the plan of the sheets has it: mirrored where the design or the
    film says so. Where nothing is cut, what is drawn is a motif by itself.

    Raises Problem while a part of it cannot be made.
    """
    films = evaluation.whole().films
    many = plan.copies if copies is None else copies
    joints = np.array([end for seam in evaluation.seams for end in seam.ends]).reshape(-1, 2)

    def motif(film: str, shape: Shape, part: str = "", marks: Shape | None = None) -> Motif:
        seen = Placement(flip=evaluation.recipe.mirrors(film))
        keep_off = seen.points(joints) if len(joints) else joints
        own = Shape.empty() if marks is None else seen.shape(marks)
        return Motif(design, film, seen.shape(shape), part, origin, many, own, keep_off)

    if not plan.together:
        clusters = [(film.colour, cluster) for film in films for cluster in film.clusters if cluster.shape]
        found = [motif(film, one.shape, one.members[0].id) for film, one in clusters]
        return _with_uncut(found, [{m.id for m in one.members} for _, one in clusters], evaluation)
    shapes = [(film.colour, film.shape) for film in films]
    marks = Shape.empty()
    if plan.marks and shapes:
        marks = marks_around(measure.box(Outline.joined(shape.outline for _, shape in shapes)))
    found = [motif(film, shape, marks=marks) for film, shape in shapes if shape]
    if not found and (drawn := [one.film for one in evaluation.marks if one.mark.use != "guide"]):
        found = [motif(drawn[0], Shape.empty())]
    return _with_uncut(found, [set() for _ in found], evaluation)


def _with_uncut(
    motifs: Sequence[Motif], parts: Sequence[AbstractSet[str]], evaluation: Evaluation
) -> list[Motif]:
    """The motifs, each with what is drawn on it: what is of one of its parts; else what lies on it: on
    that of its own film, or on that which it covers most of. The rest is with that of its film, or the
    first."""
    if not motifs:
        return []
    found: list[list[Mark]] = [[] for _ in motifs]
    for one in evaluation.marks:
        if one.mark.use == "guide":
            continue
        of_part = [n for n, own in enumerate(parts) if one.part in own]
        outline = one.mark.outline
        boxes = [measure.box(_seen(motif, evaluation).outline(outline)) for motif in motifs]
        shared = [
            shapely.box(b.x, b.y, b.right, b.bottom).intersection(motif.shape.region).area
            for b, motif in zip(boxes, motifs, strict=True)
        ]
        if of_part:
            n = of_part[0]
        else:
            of_film = [motif.film == one.film for motif in motifs]
            n = max(
                range(len(motifs)), key=lambda n: (of_film[n] and shared[n] > 0, shared[n], of_film[n], -n)
            )
        found[n].append(replace(one.mark, outline=_seen(motifs[n], evaluation).outline(outline)))
    return [replace(motif, uncut=tuple(own)) for motif, own in zip(motifs, found, strict=True)]


def _seen(motif: Motif, evaluation: Evaluation) -> Placement:
    return Placement(flip=evaluation.recipe.mirrors(motif.film))


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
