"""A sheet as it is drawn in a file, and as it is read from one."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from fulgen.geometry.measure import contour_areas
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Outline
from fulgen.geometry.polygons import Region
from fulgen.parts.built_part import Mark, MarkUse
from fulgen.parts.part import Use
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.model import Recipe
from fulgen.sheet.sheets import Job, with_kerf
from fulgen.units import show_length

HAIRLINE_MM = 0.25
"""A line that machines which follow lines take for one. (†)"""

USE_COLOURS: dict[Use, str] = {"cut": "#D33F27", "engrave": "#4A4B4C", "draw": "#23201C", "score": "#2F6B4F"}
"""A colour for each use. In files, no film has that of engraving."""

USES: tuple[MarkUse, ...] = ("engrave", "draw", "score")
"""What is not cut, in the order in which it is done and stands in files."""


@dataclass(frozen=True)
class JobCaption:
    """What a file says of itself where its kind has a place for it."""

    title: str
    words: str = ""
    face: str = ""
    size: str = ""
    film: str = ""
    material: str = ""

    @property
    def description(self) -> str:
        """All of it in one line."""
        film = f"{self.film}, {self.material}" if self.film and self.material else self.film or self.material
        return "; ".join(
            text for text in (self.words, self.face, self.size, film, "Made with Fulgen") if text
        )


@dataclass(frozen=True, eq=False)
class DrawnSheet:
    """A sheet for a file: its name, size in mm, the colour of its film, its pieces in the order of the cut,
    each an outline with its holes first, the cuts that only help weeding (N, 2), what is to be said of it,
    the job that it is cut by, which of its cuts frees each piece, and what is not cut. hairline_mm: where it
    is not 0, pieces are drawn as lines so wide, and not filled. design: the recipe that files carry, where it
    is the sheet of one design."""

    name: str
    width: float
    height: float
    colour: str
    pieces: tuple[Outline, ...]
    weeding_cuts: tuple[Floats, ...]
    about: JobCaption
    job: Job
    frees: tuple[int, ...]
    uncut: tuple[Mark, ...] = ()
    hairline_mm: float = 0.0
    design: Recipe | None = None

    def marks(self, use: MarkUse) -> list[Mark]:
        """What is not cut, of one use."""
        return [mark for mark in self.uncut if mark.use == use]

    @property
    def line_mm(self) -> float:
        """How wide lines are drawn that are not cut."""
        return self.hairline_mm or HAIRLINE_MM


@dataclass(frozen=True, eq=False)
class ReadSheet:
    """What was read from a file: the size of the sheet, what is filled there, and its area; a picture has no
    outlines, and is only so coarse, in mm. ``marks`` is how much there is for each other use: the area that
    is engraved, or how long lines are, in mm; a kind of file that does not tell has none."""

    width: float
    height: float
    region: Region | None
    area: float
    coarse: float = 0.0
    marks: Mapping[MarkUse, float] | None = None


def drawn_sheet(name: str, job: Job, about: JobCaption, hairline: float = 0.0) -> DrawnSheet:
    """A sheet as its files draw it: filled, or as lines of a width."""
    contours: list[Outline] = []
    pieces: list[list[int]] = []
    for laid in job.laid.motifs:
        for contour in with_kerf(laid.whole, job.machine.kerf_mm).outline.contours():
            # In a shape each outer edge is followed by its holes.
            if _is_outer(contour):
                pieces.append([])
            pieces[-1].append(len(contours))
            contours.append(contour)
    when = {contour: n for n, contour in enumerate(job.contours)}
    pieces.sort(key=lambda own: when[own[0]])
    outlines = [
        Outline.joined(contours[n] for n in [*sorted(own[1:], key=lambda n: when[n]), own[0]])
        for own in pieces
    ]
    sheet = job.laid.sheet
    colour = job.laid.film.upper()
    return DrawnSheet(
        name, sheet.width_mm, sheet.height_mm, colour if colour != USE_COLOURS["engrave"] else _NEXT_TO_IT,
        tuple(outlines), job.laid.weeding_cuts, about, job, tuple(when[own[0]] for own in pieces),
        tuple(mark for laid in job.laid.motifs for mark in laid.uncut), hairline,
    )  # fmt: skip


_NEXT_TO_IT = "#4A4B4D"


def _is_outer(contour: Outline) -> bool:
    return bool(contour_areas(contour)[0] > 0)


def about_of(title: str, evaluation: Evaluation) -> JobCaption:
    """What is to be said of a design: its words, faces and size."""
    faces = []
    for _, made in evaluation.letterings:
        weight = made.lettering.face.weight
        faces.append(f"{made.faces.face.name}{f' {weight}' if weight else ''}")
    words = " / ".join(" ".join(made.lettering.text.split()) for _, made in evaluation.letterings)
    box, unit = evaluation.extent, evaluation.recipe.unit
    return JobCaption(
        title,
        words,
        ", ".join(dict.fromkeys(faces)),
        f"{show_length(box.width, unit)} × {show_length(box.height, unit)}",
        material=evaluation.recipe.material.name,
    )


def about_all(abouts: Sequence[JobCaption], film: str) -> JobCaption:
    """What is to be said of a sheet with several designs on it."""
    if len(abouts) == 1:
        return replace(abouts[0], film=film)

    def each(of: Callable[[JobCaption], str]) -> str:
        return ", ".join(dict.fromkeys(text for about in abouts if (text := of(about))))

    return JobCaption(
        each(lambda a: a.title), each(lambda a: a.words), each(lambda a: a.face), each(lambda a: a.size),
        film, each(lambda a: a.material),
    )  # fmt: skip


def rgb(colour: str) -> tuple[float, float, float]:
    """A colour such as #2B5674 as shares of red, green and blue."""
    red, green, blue = (int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5))
    return red, green, blue


def as_steps(outline: Outline) -> list[tuple[int, Floats]]:
    """The sides of an outline with at most cubic curves: (0, start) for each contour, (1, end), (3,
    points)."""
    steps: list[tuple[int, Floats]] = []
    starts = outline.point_starts
    last = np.zeros(2)
    for n, verb in enumerate(outline.verbs.tolist()):
        points = outline.points[starts[n] : starts[n + 1]]
        if verb == MOVE:
            steps.append((0, points[0]))
        elif verb == LINE:
            steps.append((1, points[0]))
        elif verb == CUBIC:
            steps.append((3, points))
        else:  # a quadratic curve is a cubic one, exactly
            control, end = points
            steps.append(
                (3, np.array([last + (control - last) * (2 / 3), end + (control - end) * (2 / 3), end]))
            )
        last = points[-1]
    return steps
