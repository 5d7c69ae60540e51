"""Courses: lines that lettering runs along other than a straight one.

Terms. A *path* is a line that can be followed: for a length along it, where that is and how the line goes on
there. A letter *stands* on a path by the middle of its feet: there its own x axis lies along the line.
Letters read along the path; above is at the left hand of who follows it, as on a straight line.
"""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import Field

from fulgen.frozen import STRICT, WHOLE, Flag
from fulgen.geometry.bend import Bend, Complexes
from fulgen.geometry.flatten import open_points
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement
from fulgen.problem import Problem
from fulgen.units import show_length

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Course:
    """What lettering runs along. Lengths in mm.

    circle: around one of a diameter, its middle at 0, 0; letters stand outside or inside of it, and read
    outward (heads away from the middle) or inward. arc: part of a circle over a chord of a length, standing
    off by ``bulge`` of it; wave: a sine over a length. line: the edge of another part, or the line that it
    is. down: one letter under the other.

    place is where the middle of the lettering lies (its start or end, when it is aligned left or right):
    degrees clockwise from the top of a circle, a share of any other line. spread fills so many degrees of a
    circle, such a share of another line, by the room between letters; 0 leaves that as it is. distance_mm is
    how far above the line letters stand. letters are turned as they stand, or bent with the line.
    stands says that they run into the line, so that every foot holds on it.
    """

    __pydantic_config__ = STRICT

    kind: Literal["circle", "arc", "wave", "line", "down"] = "circle"
    letters: Literal["turned", "bent"] = "turned"
    diameter_mm: Annotated[float, Field(strict=True, ge=1.0, le=5000.0)] = 80.0
    side: Literal["outside", "inside"] = "outside"
    reading: Literal["outward", "inward"] = "outward"
    length_mm: Annotated[float, Field(strict=True, ge=1.0, le=5000.0)] = 120.0
    bulge: Annotated[float, Field(strict=True, ge=-1.0, le=1.0)] = 0.2
    swing_mm: Annotated[float, Field(strict=True, ge=0.0, le=500.0)] = 8.0
    waves: Annotated[float, Field(strict=True, ge=0.25, le=20.0)] = 1.0
    of: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")] | None = None
    contour: Annotated[int, Field(ge=0, le=100_000), WHOLE] = 0
    back: Flag = False
    place: Annotated[float, Field(strict=True, ge=-360.0, le=360.0)] = 0.0
    spread: Annotated[float, Field(strict=True, ge=0.0, le=360.0)] = 0.0
    distance_mm: Annotated[float, Field(strict=True, ge=-500.0, le=500.0)] = 0.0
    stands: Flag = False
    gap_share: Annotated[float, Field(strict=True, ge=-1.0, le=2.0)] = 0.1
    spine_mm: Annotated[float, Field(strict=True, ge=0.0, le=100.0)] = 0.0

    @property
    def is_down(self) -> bool:
        return self.kind == "down"


@dataclass(frozen=True)
class Stand:
    """Where something stands on its line, in shares of the size: how far along, how far below, how many
    letters come before it, and the middle of the letter it belongs to, from its origin."""

    x: float
    y: float
    order: int
    middle: float


class Path(ABC):
    """A line to follow, in mm or in shares of a size."""

    turned_by = 0.0
    """How letters are turned against the line, in degrees."""

    @abstractmethod
    def at(self, along: Floats, below: Floats) -> tuple[Complexes, Complexes]:
        """Where one is after a length, so far below the line, and the direction onwards (of length 1)."""

    @abstractmethod
    def scaled(self, by: float) -> Path:
        """The same line so many times as large."""

    @abstractmethod
    def lowered(self, by: float) -> Path:
        """The line so far below it, along which lengths are measured anew: that of another row of letters."""

    def pose(self, along: float, below: float, middle: float, scale: float = 1.0) -> Placement:
        """Where a thing of a scale lies whose own origin is ``along`` the line, and that stands by its
        ``middle`` (in the line's measure)."""
        z, way = self.at(np.array([along + middle]), np.array([below]))
        origin = complex(z[0] - way[0] * middle)
        turn = math.degrees(math.atan2(way[0].imag, way[0].real)) + self.turned_by
        return Placement(origin.real, origin.imag, turn, scale)


@dataclass(frozen=True)
class Circle(Path):
    """A circle around 0, 0, followed clockwise (way 1) or against it (-1) along a radius; 0 along it lies
    ``start`` radians clockwise from the top. Lengths are measured ``lift`` above it."""

    radius: float
    way: int
    start: float
    lift: float = 0.0

    @property
    def measured(self) -> float:
        """The radius along which lengths are measured."""
        return self.radius + self.way * self.lift

    def lowered(self, by: float) -> Circle:
        return Circle(self.radius - self.way * by, self.way, self.start, self.lift)

    def scaled(self, by: float) -> Circle:
        return Circle(self.radius * by, self.way, self.start, self.lift * by)

    def at(self, along: Floats, below: Floats) -> tuple[Complexes, Complexes]:
        angle = self.start + self.way * along / self.measured
        out = np.exp(1j * (angle - math.pi / 2))
        return out * (self.radius - self.way * below), self.way * 1j * out


@dataclass(frozen=True, eq=False)
class Polyline(Path):
    """Any line by points along it (N,), near enough together to stand for its curves. It is closed, or goes
    on straight beyond its ends. 0 along it lies at ``start``; what stands on it lies ``lift`` below it."""

    points: Complexes
    closed: bool
    start: float = 0.0
    lift: float = 0.0

    def lowered(self, by: float) -> Polyline:
        if not by:
            return self
        lower = Polyline(self.points + 1j * self.ways * by, self.closed)
        return Polyline(lower.points, self.closed, self.start / self.length * lower.length, self.lift)

    def scaled(self, by: float) -> Polyline:
        return Polyline(self.points * by, self.closed, self.start * by, self.lift * by)

    @cached_property
    def lengths(self) -> Floats:
        return np.concatenate(([0.0], np.cumsum(np.abs(np.diff(self.points)))))

    @property
    def length(self) -> float:
        return float(self.lengths[-1])

    @cached_property
    def ways(self) -> Complexes:
        """The directions at the points: smooth between them, as the line is that they stand for."""
        steps = np.diff(self.points)
        steps = steps / np.maximum(np.abs(steps), 1e-12)
        ways = np.concatenate([steps[:1], (steps[1:] + steps[:-1]) / 2, steps[-1:]])
        if self.closed:
            ways[0] = ways[-1] = (steps[0] + steps[-1]) / 2
        return np.asarray(ways / np.maximum(np.abs(ways), 1e-12), np.complex128)

    def at(self, along: Floats, below: Floats) -> tuple[Complexes, Complexes]:
        u = along + self.start
        if self.closed:
            u = np.mod(u, self.length)
        inside = np.clip(u, 0.0, self.length)
        z = np.interp(inside, self.lengths, self.points.real) + 1j * np.interp(
            inside, self.lengths, self.points.imag
        )
        way = np.interp(inside, self.lengths, self.ways.real) + 1j * np.interp(
            inside, self.lengths, self.ways.imag
        )
        way = way / np.maximum(np.abs(way), 1e-12)
        z = z + way * (u - inside)
        return np.asarray(z + 1j * way * (below + self.lift), np.complex128), np.asarray(way, np.complex128)


@dataclass(frozen=True)
class Down(Path):
    """A vertical line: letters stand upright, one under the other, in the middle of it, ``right`` of 0."""

    turned_by = -90.0
    right: float = 0.0

    def lowered(self, by: float) -> Down:
        return Down(self.right + by)

    def scaled(self, by: float) -> Down:
        return Down(self.right * by)

    def at(self, along: Floats, below: Floats) -> tuple[Complexes, Complexes]:
        return np.asarray(1j * along + self.right - below), np.full(np.shape(along), 1j, np.complex128)

    def pose(self, along: float, below: float, middle: float, scale: float = 1.0) -> Placement:
        return Placement(self.right - middle + below, along, 0.0, scale)


@dataclass(frozen=True, eq=False)
class AlongPath(Bend):
    """Straight lettering laid along a path: what is right above a place stays right above it. ``start`` is
    where the path's own 0 lies, ``baseline`` what is laid on the path."""

    path: Path
    start: float
    baseline: float
    name: str

    @property
    def key(self) -> str:
        return self.name

    def at(self, z: Complexes) -> Complexes:
        return self.path.at(np.asarray(z.real - self.start), np.asarray(z.imag - self.baseline))[0]


@dataclass(frozen=True)
class Warp:
    """A bend of lettering as a whole, within its box: an arch lifts its middle, a wave lifts and lowers it, a
    bulge makes the middle higher, as an oval is; by a share of its height (of its width, for an arch)."""

    __pydantic_config__ = STRICT

    kind: Literal["arch", "wave", "bulge"] = "arch"
    amount: Annotated[float, Field(strict=True, ge=-1.0, le=1.0)] = 0.2
    waves: Annotated[float, Field(strict=True, ge=0.25, le=10.0)] = 1.0


@dataclass(frozen=True, eq=False)
class Warped(Bend):
    """A warp of what lies in a box. Verticals stay vertical.

    arch: a parabola over the width, of 4 u (1 - u); wave: a sine; bulge: heights times 1 + 4 a u (1 - u),
    about the middle (all textbook).
    """

    warp: Warp
    box: Box

    @property
    def key(self) -> str:
        return f"{self.warp} {self.box}"

    def at(self, z: Complexes) -> Complexes:
        u = (z.real - self.box.x) / self.box.width
        hump = 4 * u * (1 - u)
        amount, kind = self.warp.amount, self.warp.kind
        if kind == "bulge":
            middle = self.box.y + self.box.height / 2
            low = -0.9
            return np.asarray(
                z.real + 1j * (middle + (z.imag - middle) * (1 + np.maximum(amount, low) * hump))
            )
        lift = (
            amount * self.box.width * hump
            if kind == "arch"
            else (amount * self.box.height * np.sin(2 * math.pi * self.warp.waves * u))
        )
        return np.asarray(z - 1j * lift)


_FINENESS = 1e-3
"""Lines to follow are flattened to this, in mm: directions between their points come out true to about a
tenth of a degree on a radius of 20 mm."""


_LIFT = 0.3
"""Lengths along a course are measured this much of a capital above where letters stand: about the middle of
the small letters, so that they are neither squeezed nor spread by the bend as a whole. (†)"""


def path_of(course: Course, capital: float, line: tuple[Outline, bool] | None, raised: float = 0.0) -> Path:
    """The line that a course is, 0 along it where the lettering's place is. ``capital`` is the height of a
    capital in mm, ``line`` the outline of another part and whether it is closed; ``raised`` is added to the
    distance.

    Raises Problem "small-circle", "no-line".
    """
    distance = course.distance_mm + raised
    if course.kind == "down":
        return Down()
    if course.kind == "circle":
        return _circle(course, capital, distance)
    if course.kind == "arc":
        points = _arc(course)
    elif course.kind == "wave":
        points = _wave(course)
    else:
        points, closed = _line(course, line)
        return _raised(Polyline(points, closed), course, distance, _LIFT * capital)
    return _raised(Polyline(points, False), course, distance, _LIFT * capital)


def _raised(line: Polyline, course: Course, distance: float, lift: float) -> Polyline:
    """The line at a distance, and 0 along it where the course has its place."""
    raised = Polyline(line.points - 1j * line.ways * (distance + lift), line.closed)
    middle = 0.5 if not line.closed else 0.0
    return Polyline(raised.points, line.closed, (middle + course.place) * raised.length, lift)


def _circle(course: Course, capital: float, distance: float) -> Circle:
    radius = course.diameter_mm / 2
    outward = course.reading == "outward"
    sign = 1 if course.side == "outside" else -1
    # Whose heads are at the line stands a capital's height away from it.
    heads = (course.side == "inside") == outward
    stands = radius + sign * (distance + (capital if heads else 0.0))
    if stands < 0.25 * capital or (not outward and stands - capital < 0.1 * capital):
        raise Problem(
            "small-circle",
            f"A circle of {show_length(course.diameter_mm)} is too small for capitals "
            f"{show_length(capital)} high.",
            "Make the circle larger or the letters smaller, or set them outside of it.",
            "course",
        )
    return Circle(stands, 1 if outward else -1, math.radians(course.place), _LIFT * capital)


_SAMPLES = 1440


def _arc(course: Course) -> Complexes:
    """The circular arc over a chord whose middle is 0, 0: the sagitta s of a chord c gives an angle of
    4 atan(2 s / c) (textbook)."""
    half = course.length_mm / 2
    if abs(course.bulge) < 1e-6:
        return np.linspace(-half, half, 3).astype(np.complex128)
    angle = 4 * math.atan(2 * course.bulge)
    radius = half / math.sin(angle / 2)
    t = np.linspace(-angle / 2, angle / 2, _SAMPLES)
    sagitta = course.bulge * course.length_mm
    return np.asarray(radius * np.sin(t) - 1j * (radius * np.cos(t) - radius + sagitta))


def _wave(course: Course) -> Complexes:
    u = np.linspace(0.0, 1.0, _SAMPLES)
    y = course.swing_mm * np.sin(2 * math.pi * course.waves * u)
    return np.asarray((u - 0.5) * course.length_mm - 1j * y)


def _line(course: Course, line: tuple[Outline, bool] | None) -> tuple[Complexes, bool]:
    contours = list(line[0].contours()) if line is not None else []
    if line is None or course.contour >= len(contours):
        raise Problem(
            "no-line", "The line that the lettering runs along is not there any more.",
            "Choose another line for it.", "course",
        )  # fmt: skip
    closed = line[1]
    points = open_points(contours[course.contour], _FINENESS)
    z = points[:, 0] + 1j * points[:, 1]
    if closed:
        # It begins at its highest point, as a circle does.
        z = np.roll(z, -int(np.argmin(z.imag)))
        z = np.append(z, z[0])
    apart = np.concatenate(([True], np.abs(np.diff(z)) > 1e-9))
    z = z[apart]
    if len(z) < 2:
        raise Problem("no-line", "The line has no length.", "Choose another line.", "course")
    if not shapely.is_simple(shapely.linestrings(np.stack([z.real, z.imag], axis=1))):
        raise Problem(
            "crossed-line",
            "The line crosses itself: letters would lie on each other there.",
            "Choose a line that does not, or move its points apart.",
            "course",
        )
    return (z[::-1] if course.back else z), closed
