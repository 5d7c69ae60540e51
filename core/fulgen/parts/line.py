"""Lines: straight, bent, waved, or through points by hand. A line that is cut or engraved is a band of a
width; one that is drawn, scored or a guide stays a line."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from fulgen.frozen import STRICT, WHOLE, Flag
from fulgen.geometry import bezier
from fulgen.geometry.offset import Ends, band
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Outline
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.parts.built_part import Mark
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.part import ANY_FILM, KIND_IS_REQUIRED, Part
from fulgen.problem import Problem

Along = Annotated[float, Field(strict=True, ge=-3000.0, le=3000.0)]


@dataclass(frozen=True)
class PathPoint:
    """A point of a line, in mm; corner: the line turns sharply there."""

    __pydantic_config__ = STRICT

    x: Along
    y: Along
    corner: Flag = False


class LinePart(Part):
    """A line through points. Straight ones go from the first to the last; an arc stands off by ``bulge`` of
    its length, a wave swings by ``swing_mm`` to both sides, so many times."""

    model_config = KIND_IS_REQUIRED

    kind: Literal["line"] = "line"
    course: Literal["straight", "arc", "wave", "free"] = "straight"
    points: tuple[PathPoint, ...] = Field(
        (PathPoint(-40.0, 0.0), PathPoint(40.0, 0.0)), min_length=2, max_length=300
    )
    bulge: Annotated[float, Field(strict=True, ge=-2.0, le=2.0)] = 0.25
    swing_mm: Annotated[float, Field(strict=True, ge=0.0, le=500.0)] = 5.0
    waves: Annotated[int, Field(ge=1, le=60), WHOLE] = 3
    width_mm: Annotated[float, Field(strict=True, ge=0.1, le=300.0)] = 4.0
    ends: Ends = "round"

    def _ignored_by_build(self) -> dict[str, Any]:
        return {"film": ANY_FILM, "use": self.use}

    @property
    def is_band(self) -> bool:
        """Whether it has a width."""
        return self.use in ("cut", "engrave")

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or ("bar" if self.is_band else "line")


def build_line(part: LinePart) -> BuiltSolid:
    """A line as a band, or as a line that stays one. Raises Problem "no-line", "weld"."""
    course = course_of(part)
    display_name = f"the {part.display_name}"
    if part.use == "cut" or part.use == "engrave":
        return BuiltSolid(part.id, display_name, band(course, part.width_mm, FLATNESS_MM, part.ends))
    return BuiltSolid(part.id, display_name, Shape.empty(), {}, (Mark(course, part.use),))


def course_of(part: LinePart) -> Outline:
    """The course of a line: one contour that is not closed. Raises Problem "no-line" where it has no
    length."""
    points = np.array([(p.x, p.y) for p in part.points])
    start, end = points[0], points[-1]
    if part.course == "free":
        drawn = _through(points, [p.corner for p in part.points])
    elif math.dist(start, end) < 0.01:
        drawn = Outline.empty()
    elif part.course == "straight" or (part.course == "arc" and abs(part.bulge) < 1e-6):
        drawn = Outline(np.array([MOVE, LINE], np.uint8), np.array([start, end]))
    elif part.course == "arc":
        drawn = _arc(start, end, part.bulge)
    else:
        drawn = _wave(start, end, part.swing_mm, part.waves)
    if not drawn:
        raise Problem(
            "no-line", "The line has no length.", "Move one of its ends away from the other.", "points"
        )
    return drawn


def _arc(start: Floats, end: Floats, bulge: float) -> Outline:
    """The circular arc that stands off its chord by a share of it, to the left of its way: the sagitta s of a
    chord c gives an angle of 4 atan(2 s/c) (textbook)."""
    a, b = complex(*start), complex(*end)
    angle = 4 * math.atan(2 * bulge)
    # The middle of the circle lies across the chord from the bulge.
    centre = (a + b) / 2 + 1j * (b - a) / 2 / math.tan(angle / 2)
    sides = bezier.arc(centre, a - centre, angle)
    inner = [z for side in sides for z in side[1:]][:-1]
    return _of_cubics([a, *inner, b])


def _wave(start: Floats, end: Floats, swing: float, waves: int) -> Outline:
    """Waves along a straight line: each half of one is a cubic with handles of 0.3642 of its length, which
    follows a sine (numerical fit, from memory)."""
    a, way = complex(*start), complex(*end) - complex(*start)
    across = 1j * way / abs(way)
    z = [a]
    half = way / (2 * waves)
    for n in range(2 * waves):
        at, side = a + n * half, (1 if n % 2 else -1) * 2 * swing
        # Level at its turning points: here it starts from the middle, so each half goes out and back.
        z += [at + half * 0.3642 + across * side * 0.64, at + half * 0.6358 + across * side * 0.64, at + half]
    return _of_cubics(z)


def _of_cubics(z: Sequence[complex]) -> Outline:
    count = (len(z) - 1) // 3
    return Outline(np.array([MOVE, *[CUBIC] * count], np.uint8), np.array([(p.real, p.imag) for p in z]))


def _through(points: Floats, corners: Sequence[bool]) -> Outline:
    """A line through points, smooth except at corners: the direction at a point is that from the one before
    to the one after (Catmull and Rom's way)."""
    apart = np.hypot(*np.diff(points, axis=0).T)
    points = points[np.concatenate(([True], apart > 1e-6))]
    sharp = np.array(corners)[np.concatenate(([True], apart > 1e-6))]
    if len(points) < 2:
        return Outline.empty()
    z = points[:, 0] + 1j * points[:, 1]
    ways = np.empty(len(z), np.complex128)
    ways[1:-1] = z[2:] - z[:-2]
    ways[0], ways[-1] = z[1] - z[0], z[-1] - z[-2]
    ways /= np.maximum(np.abs(ways), 1e-12)
    drawn: list[complex] = [complex(z[0])]
    for n in range(len(z) - 1):
        chord = z[n + 1] - z[n]
        out = chord / abs(chord) if sharp[n] else ways[n]
        into = chord / abs(chord) if sharp[n + 1] else ways[n + 1]
        third = abs(chord) / 3
        drawn += [complex(z[n] + out * third), complex(z[n + 1] - into * third), complex(z[n + 1])]
    return _of_cubics(drawn)
