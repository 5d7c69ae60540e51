"""What lettering is built from: its faces, the bridges on it, and the line that it runs along."""

from __future__ import annotations

from dataclasses import dataclass

from fulgen.joining.bars import Bar
from fulgen.joining.materials import Weedable
from fulgen.lettering.setting import Faces
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.kind import Surroundings, missing_source
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_builder import build_lettering
from fulgen.parts.lettering_course import Line
from fulgen.parts.line import LinePart, course_of
from fulgen.parts.welding import body_of
from fulgen.problem import Problem


@dataclass(frozen=True)
class LetteringInput:
    """All that lettering is built from. Holes and slits narrower than ``least`` are too small to weed."""

    part: Lettering
    faces: Faces
    bars: tuple[Bar, ...]
    least: Weedable
    line: Line | None


def gather_lettering(part: Lettering, around: Surroundings) -> LetteringInput:
    """Raises Problem "no-part", and what a face that is not there raises."""
    faces = Faces.of(part, around.faces)
    line = _line_for(part, around)
    return LetteringInput(part.build_input(), faces, own_bars(part, around), around.limits.weedable, line)


def build_from_input(given: LetteringInput) -> BuiltLettering:
    """See ``build_lettering``."""
    return build_lettering(given.part, given.faces, given.bars, given.least, given.line)


def own_bars(part: Lettering, around: Surroundings) -> tuple[Bar, ...]:
    """The bridges laid by hand from one letter of a part to another."""
    return tuple(bar for bar in around.bars if bar.parts == {part.id})


def _line_for(part: Lettering, around: Surroundings) -> Line | None:
    """The line of another part that lettering runs along, in the level of both.

    Raises Problem "no-part" where it is not there, or does not lie in the same level.
    """
    if not part.needs:
        return None
    (of,) = part.needs
    placed, other = around.built(of), around.part(of)
    if placed is None:
        raise missing_source(part)
    if around.level_of(of) != around.level_of(part.id):
        raise Problem(
            "no-part",
            "Lettering runs along a line that lies in another combination.",
            "Take both into it, or both out.",
            "course",
        )
    if isinstance(other, LinePart):
        edge = other.width_mm * placed.place.scale / 2 if other.is_band else 0.0
        return Line(placed.place.outline(course_of(other)), False, edge)
    return Line(body_of(placed).outline, True)
