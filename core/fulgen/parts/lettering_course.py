"""Lettering along a course: letters stand on a line, a circle, an arc or a wave."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from fulgen.bounded import digest
from fulgen.geometry.outline import Floats, Outline
from fulgen.joining.bars import Bar
from fulgen.joining.line_of_letters import JoinedLines
from fulgen.joining.materials import Weedable
from fulgen.lettering.course import AlongPath, Circle, Course, Path, Polyline, path_of
from fulgen.lettering.layout import (
    Layout,
    place,
    set_lines,
    size_of,
)
from fulgen.lettering.setting import Faces
from fulgen.parts.built_lettering import REPORTED_FROM_MM, BuiltLettering
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_bends import bent_lettering, validate_bend
from fulgen.parts.lettering_size import unmet_sizes
from fulgen.parts.lettering_ties import join_at_size, with_ties
from fulgen.problem import Problem
from fulgen.units import show_length


@dataclass(frozen=True, eq=False)
class Line:
    """A line that lettering runs along, in its frame: whether it is closed, and how far from it its edge is,
    where it is a band."""

    outline: Outline
    closed: bool
    edge: float = 0.0


_COURSE_ROUNDS = 6
"""Where letters stand on a line hangs on how far joining slides them, and that on how they are turned there:
a few rounds settle it."""


_SETTLED = 2e-4
"""Letters that move along their line by less than this share of the size have settled."""


_SUNK = 0.6
"""Feet run into a line by this share of the neck that is asked for, where it lies highest under them. (†)"""


def build_along(
    part: Lettering, faces: Faces, bars: Sequence[Bar], least: Weedable, course: Course, line: Line | None
) -> BuiltLettering:
    """Lettering along a course: joined as its letters are turned there, or joined straight and bent."""
    plain = set_lines(part, faces)
    size = size_of(part, faces.face, plain)
    edge = 0.0 if line is None else line.edge
    drawn = None if line is None else (line.outline, line.closed)
    is_bent = course.letters == "bent" and not course.is_down
    if course.is_down and course.spine_mm:
        # What hangs on a spine need not hold by itself.
        part = part.model_copy(update={"join": replace(part.join, how="set")})
    joined, spacing, raised = JoinedLines(plain, (), (), (), {}), part.spacing_mm, edge
    joined_for, joined_at = size, np.zeros(0)
    starts: tuple[float, ...] = ()
    for _ in range(_COURSE_ROUNDS):
        path = path_of(course, faces.face.capital_height * size, drawn, raised)
        layout = place(part, joined.lines, size, path, spacing)
        spacing = _spread(course, path, layout, spacing)
        if course.stands:
            raised = edge - _SUNK * part.join.neck_mm - _falls_away(layout)
        path = path_of(course, faces.face.capital_height * size, drawn, raised)
        layout = place(part, joined.lines, size, path, spacing)
        at = _stand_of(layout, raised)
        if len(joined_at) and np.abs(at - joined_at).max() <= _SETTLED * size:
            starts = layout.starts
            break
        straight = replace(layout, paths=())
        joined = join_at_size(part, faces, least, plain, size, straight if is_bent else layout)
        joined_for, joined_at, starts = size, at, layout.starts
        size = size_of(part, faces.face, joined.lines)
    # Where they do not come to rest letters lie where they were joined: a joint holds before a middle is met.
    layout = place(part, joined.lines, size, path, spacing)
    beside = float(np.abs(np.subtract(layout.starts, starts)).max())
    layout = place(part, joined.lines, size, path, spacing, starts)
    if not is_bent:
        built = with_ties(part, faces, bars, joined, path, layout)
    else:
        validate_bend(layout)
        straight = place(part, joined.lines, size, None, spacing)
        moved_by = straight.starts[0] - layout.starts[0]
        line_key = "" if line is None else line.outline.digest
        course_key = digest(repr(course), repr((size, moved_by, raised)), line_key)
        bends = [
            AlongPath(own, moved_by, below, f"{course_key} {below}")
            for own, below in zip(layout.paths, layout.baselines, strict=True)
        ]
        built = bent_lettering(with_ties(part, faces, bars, joined, None, straight), bends, layout)
    unmet = (*built.unmet, *unmet_sizes(part, built, joined_for), *_unmet_along(course, path, layout, beside))
    return replace(built, unmet=unmet)


def _stand_of(layout: Layout, raised: float) -> Floats:
    """What tells how letters lie to each other along a path, in mm."""
    at = [layout.size, layout.spacing, raised]
    if isinstance(layout.paths[0], Polyline):  # other lines bend in the same way everywhere
        at += [v for letter in layout.letters for v in (letter.place.x, letter.place.y)]
    return np.array(at)


def _unmet_along(course: Course, path: Path, layout: Layout, beside: float) -> Iterator[Problem]:
    """What was asked of a course and is not so; ``beside`` is how far the lettering lies beside its place."""
    if beside > REPORTED_FROM_MM:
        yield Problem(
            "place-not-met",
            f"The words lie {show_length(beside, places=2)} beside their place on the line: how letters are "
            "joined here changes with every move along it.",
            "Choose a place or a size a little different, if that matters.",
            "course",
        )
    if course.spread and isinstance(path, Circle | Polyline) and len(layout.letters) > 1:
        wanted, reached = _spread_wanted(course, path), length_along(layout, _longest(layout))
        if abs(reached - wanted) > REPORTED_FROM_MM:
            yield Problem(
                "spread-not-met",
                f"The words are {show_length(reached)} long on their line: {show_length(wanted)} was asked "
                "for, and letters are not spread that far.",
                "Choose larger letters, or ask for a shorter part of the line.",
                "course",
            )


def _falls_away(layout: Layout) -> float:
    """How far the line falls away under the feet of a letter at most, in mm."""
    most = 0.0
    for p in layout.letters:
        stand, half = p.letter.stand, p.form.box.width * layout.size / 2
        at = layout.starts[p.line] + (stand.x + stand.middle) * layout.size + stand.order * layout.spacing
        z, way = layout.paths[p.line].at(np.array([at, at - half, at + half]), np.zeros(3))
        below = ((z[1:] - z[0]) * way[0].conjugate()).imag
        most = max(most, float(below.max()))
    return most


def _spread(course: Course, path: Path, layout: Layout, spacing: float) -> float:
    """The room between letters at which the longest line is as long as the course asks."""
    if not course.spread or not isinstance(path, Circle | Polyline):
        return spacing
    longest = _longest(layout)
    gaps = max((p.letter.order for p in layout.letters if p.line == longest), default=0)
    if not gaps:
        return spacing
    lacking = _spread_wanted(course, path) - length_along(layout, longest)
    return min(300.0, max(-100.0, spacing + lacking / gaps))


def _spread_wanted(course: Course, path: Circle | Polyline) -> float:
    """How long the longest line is to be, in mm."""
    if isinstance(path, Circle):
        return math.radians(course.spread) * path.measured
    return min(course.spread, 1.0) * path.length


def _longest(layout: Layout) -> int:
    """The line with the most letters and spaces."""
    orders = dict.fromkeys(range(len(layout.starts)), 0)
    for p in layout.letters:
        orders[p.line] = max(orders[p.line], p.letter.order)
    return max(orders, key=lambda line: orders[line])


def length_along(layout: Layout, line: int) -> float:
    """How long a line of letters is, measured along itself, in mm."""
    ends = [
        (p.letter.x * layout.size + p.letter.order * layout.spacing, p.form.box)
        for p in layout.letters
        if p.line == line
    ]
    left = min(at + box.x * layout.size for at, box in ends)
    return max(at + box.right * layout.size for at, box in ends) - left
