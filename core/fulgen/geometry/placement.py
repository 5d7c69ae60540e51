"""Placement: where a thing drawn in its own frame lies in the frame around it.

A thing is flipped (left and right swapped), scaled, turned and moved, in this order, all about its own
origin. As complex numbers: w = f · z + m, where z becomes -z̄ first when it is flipped; f is scale and turn.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated

import numpy as np
import shapely
from pydantic import Field

from fulgen.frozen import STRICT, Flag
from fulgen.geometry.outline import Floats, Ints, Outline, Point
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import Shape

Coordinate = Annotated[float, Field(strict=True, ge=-5000.0, le=5000.0)]


@dataclass(frozen=True)
class Placement:
    """x, y: where the thing's origin lies, in mm; turn: degrees clockwise; scale: how much larger; flip:
    whether left and right are swapped first.

    >>> Placement(10, 0, turn=90).point(1, 0)
    (10.0, 1.0)
    """

    __pydantic_config__ = STRICT

    x: Coordinate = 0.0
    y: Coordinate = 0.0
    turn: Annotated[float, Field(strict=True, ge=-360.0, le=360.0)] = 0.0
    scale: Annotated[float, Field(strict=True, ge=0.01, le=100.0)] = 1.0
    flip: Flag = False

    @cached_property
    def factor(self) -> complex:
        if self.turn % 90 == 0:
            quarter = (1, 1j, -1, -1j)[int(self.turn // 90) % 4]
            return quarter * complex(self.scale)
        return cmath.rect(self.scale, math.radians(self.turn))

    @property
    def is_plain(self) -> bool:
        """Whether it only scales and moves."""
        return self.turn == 0.0 and not self.flip

    def points(self, xy: Floats) -> Floats:
        """Points (N, 2) of the thing, in the frame around it."""
        if self.is_plain:
            return np.asarray(xy * self.scale + (self.x, self.y))
        z = xy[:, 0] + 1j * xy[:, 1]
        if self.flip:
            z = -z.conj()
        w = z * self.factor + complex(self.x, self.y)
        return np.stack([w.real, w.imag], axis=1)

    def points_back(self, xy: Floats) -> Floats:
        """Points (N, 2) of the frame around the thing, in its own."""
        z = (xy[:, 0] + 1j * xy[:, 1] - complex(self.x, self.y)) / self.factor
        if self.flip:
            z = -z.conj()
        return np.stack([z.real, z.imag], axis=1)

    def point(self, x: float, y: float) -> Point:
        """A point of the thing, in the frame around it."""
        z = complex(-x if self.flip else x, y) * self.factor
        return z.real + self.x, z.imag + self.y

    def back(self, x: float, y: float) -> Point:
        """A point of the frame around the thing, in its own."""
        z = complex(x - self.x, y - self.y) / self.factor
        return (-z.real if self.flip else z.real), z.imag

    def vector(self, dx: float, dy: float) -> Point:
        """A move in the thing's frame, in the frame around it."""
        z = complex(-dx if self.flip else dx, dy) * self.factor
        return z.real, z.imag

    def vector_back(self, dx: float, dy: float) -> Point:
        """A move in the frame around the thing, in its own."""
        z = complex(dx, dy) / self.factor
        return (-z.real if self.flip else z.real), z.imag

    def within(self, outer: Placement) -> Placement:
        """The placement in the frame in which ``outer`` lies."""
        x, y = outer.point(self.x, self.y)
        turn = (outer.turn - self.turn if outer.flip else outer.turn + self.turn) % 360
        return Placement(x, y, turn, outer.scale * self.scale, outer.flip != self.flip)

    def seen_from(self, other: Placement) -> Placement:
        """The placement in the frame of another thing that lies in the same frame around it."""
        x, y = other.back(self.x, self.y)
        turn = (other.turn - self.turn if other.flip else self.turn - other.turn) % 360
        turn = turn - 360 if turn > 180 else turn
        return Placement(x, y, turn, self.scale / other.scale, other.flip != self.flip)

    def region_back(self, region: Region) -> Region:
        """A region of the frame around it, in its own."""
        return polygonal(shapely.transform(region, self.points_back))

    def outline(self, outline: Outline) -> Outline:
        """The outline in the frame around it; outer contours keep their winding."""
        moved = outline.moved_by(self.points)
        return moved.reversed() if self.flip else moved

    def region(self, region: Region) -> Region:
        """The region in the frame around it."""
        return polygonal(shapely.transform(region, self.points))

    def shape_back(self, shape: Shape) -> Shape:
        """A shape of the frame around it, in its own."""
        moved = shape.moved_by(self.points_back, 1 / self.scale)
        return moved.walked_back() if self.flip else moved

    def shape(self, shape: Shape) -> Shape:
        """The shape in the frame around it."""
        moved = shape.moved_by(self.points, self.scale)
        return moved.walked_back() if self.flip else moved


def placed(shapes: Sequence[Shape], at: Sequence[Placement]) -> list[Shape]:
    """Shapes each at its placement: many letters in one go."""
    if not shapes:
        return []
    regions = np.array([shape.region for shape in shapes], dtype=object)
    counts = np.asarray(shapely.get_num_coordinates(regions), dtype=np.intp)
    moved = shapely.transform(regions, lambda xy: _all_placed(xy, counts, at))
    tables = [shape.outline.all_points for shape in shapes]
    sizes = np.array([len(table) for table in tables], dtype=np.intp)
    points = _all_placed(np.concatenate(tables), sizes, at)
    starts = [0, *np.cumsum(sizes).tolist()]
    found = []
    for n, (shape, place, region) in enumerate(zip(shapes, at, moved, strict=True)):
        outline = shape.outline.with_moved(points[starts[n] : starts[n + 1]])
        moved_one = Shape(outline, region, shape.tolerance * place.scale, shape.chords, shape.origins)
        found.append(moved_one.walked_back() if place.flip else moved_one)
    return found


def _all_placed(xy: Floats, counts: Ints, at: Sequence[Placement]) -> Floats:
    """Points (N, 2) of several things in a row, so many of each, each at its placement."""
    moves = np.repeat([(p.x, p.y) for p in at], counts, axis=0)
    if all(p.is_plain for p in at):
        scales = [p.scale for p in at]
        same = scales.count(scales[0]) == len(scales)
        return np.asarray(xy * (scales[0] if same else np.repeat(scales, counts)[:, None]) + moves)
    factors = np.repeat([p.factor for p in at], counts)
    sides = np.repeat([-1.0 if p.flip else 1.0 for p in at], counts)
    w = (xy[:, 0] * sides + 1j * xy[:, 1]) * factors
    return np.asarray(np.stack([w.real, w.imag], axis=1) + moves)
