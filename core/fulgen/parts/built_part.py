"""What a part comes to, in its own frame, in mm."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely

from fulgen.geometry import measure
from fulgen.geometry.outline import Outline, Point
from fulgen.geometry.placement import Placement, placed
from fulgen.geometry.polygons import Region
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.joining.anchors import Anchor
from fulgen.parts.part import Use
from fulgen.problem import Problem

MarkUse = Literal["engrave", "draw", "score", "guide"]
"""What an outline is for that is not cut."""


@dataclass(frozen=True, eq=False)
class Mark:
    """What is not cut: lines that are drawn, scored or only seen, open or closed, or the outline of an area
    that is engraved, which is closed."""

    outline: Outline
    use: MarkUse
    closed: bool = False


@dataclass(frozen=True, eq=False)
class Layer:
    """What of a part is cut from a film that is not its own. ``apart``: it is not welded with anything."""

    film: str
    shapes: Sequence[tuple[Shape, Placement]]
    apart: bool = False


class BuiltPart(ABC):
    """What every kind of part comes to."""

    @property
    @abstractmethod
    def shapes(self) -> Sequence[tuple[Shape, Placement]]:
        """All that is to be welded in the part's own film, each with where it lies in the part's frame."""

    @property
    def others(self) -> Sequence[Layer]:
        """What is cut from other films, or by itself."""
        return ()

    @property
    def apart(self) -> bool:
        """Whether it is not welded with anything, though it lies over it."""
        return False

    @property
    def marks(self) -> Sequence[Mark]:
        """What of it is not cut, whatever the part is for."""
        return ()

    @property
    def fills(self) -> Sequence[tuple[Region, Placement]]:
        """Holes to be filled once it is welded, likewise."""
        return ()

    @property
    def is_smoothed(self) -> bool:
        """Whether notches between its shapes are rounded."""
        return False

    def smoothing(self, one: int, other: int) -> float:
        """The radius by which the notches between two of its shapes, by their numbers, are rounded."""
        return 0.0

    @property
    def unmet(self) -> Sequence[Problem]:
        """What was asked of it and is not so, with the figure that it came to: it is made all the same."""
        return ()

    @property
    @abstractmethod
    def size(self) -> float:
        """What shares are of, in mm: the face's size, or the height of what has none."""

    @abstractmethod
    def find(self, anchor: Anchor) -> Point | None:
        """Where an anchor is in the part's frame; None where what it names is gone."""

    @abstractmethod
    def anchor(self, x: float, y: float) -> Anchor:
        """A place in the part's frame as one on the part: where it goes, the anchor goes."""

    @abstractmethod
    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        """What of the part is at a place, by the words a maker has for it, the nearest first; at most two."""

    @abstractmethod
    def vector_on(self, anchor: Anchor, dx: float, dy: float) -> Point:
        """A move in the part's frame, in mm, as shares of the size."""

    @abstractmethod
    def snapped(self, x: float, y: float) -> Point:
        """The middle of the stroke nearest to a place: there a bar's end is buried."""

    @abstractmethod
    def region_at(self, anchor: Anchor) -> Region | None:
        """What an anchor holds to, in the part's frame; None where it is gone."""


@dataclass(frozen=True, eq=False)
class LayerAsPart(BuiltPart):
    """A layer of a part, as if it were all of it."""

    whole: BuiltPart
    layer: Layer

    @property
    def shapes(self) -> Sequence[tuple[Shape, Placement]]:
        return self.layer.shapes

    @property
    def apart(self) -> bool:
        return self.layer.apart

    @property
    def size(self) -> float:
        return self.whole.size

    def find(self, anchor: Anchor) -> Point | None:
        return self.whole.find(anchor)

    def anchor(self, x: float, y: float) -> Anchor:
        return self.whole.anchor(x, y)

    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        return self.whole.names_at(x, y)

    def vector_on(self, anchor: Anchor, dx: float, dy: float) -> Point:
        return self.whole.vector_on(anchor, dx, dy)

    def snapped(self, x: float, y: float) -> Point:
        return self.whole.snapped(x, y)

    def region_at(self, anchor: Anchor) -> Region | None:
        return self.whole.region_at(anchor)


@dataclass(frozen=True)
class SourceOfShape:
    """Of which part a side of a weld is, and of which of its shapes."""

    part: str
    shape: int


@dataclass(frozen=True, eq=False)
class PlacedPart:
    """A part on the work, or in the combination it is a member of: what it was made to, by ``made_key``, and
    where that lies; ``key`` tells both, and ``step_key`` which part it is, too. What asks for its film, or
    what it is for, says so."""

    id: str
    film: str
    built: BuiltPart
    place: Placement
    build_key: str
    key: str
    use: Use = "cut"

    @property
    def step_key(self) -> str:
        return f"{self.id} {self.key}"

    @cached_property
    def in_films(self) -> Sequence[PlacedPart]:
        """What of it is cut from each film, or by itself: what is of its own film first."""
        own = [self] if self.built.shapes else []
        rest = (
            replace(self, film=layer.film, built=LayerAsPart(self.built, layer), key=f"{self.key} {number}")
            for number, layer in enumerate(self.built.others)
        )
        return [*own, *rest]

    @cached_property
    def everything(self) -> list[Shape]:
        """All its areas, whatever the film."""
        return [shape for part in self.in_films for shape in part.shapes]

    def under(self, outer: Placement, key: str) -> PlacedPart:
        """The part in the frame in which ``outer`` lies."""
        return replace(self, place=self.place.within(outer), key=key)

    @cached_property
    def shapes(self) -> list[Shape]:
        """All that is to be welded of its own film, where it lies, with twins true to FLATNESS_MM."""
        own = self.built.shapes
        at = [place.within(self.place) for _, place in own]
        fine = [shape.refined(FLATNESS_MM / lies.scale) for (shape, _), lies in zip(own, at, strict=True)]
        return [shape.named(SourceOfShape(self.id, n)) for n, shape in enumerate(placed(fine, at))]

    @cached_property
    def fills(self) -> list[Region]:
        return [place.within(self.place).region(fill) for fill, place in self.built.fills]

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        """The box around it on the work, its marks included: left, top, right, bottom."""
        bounds = [shape.region.bounds for shape in self.everything]
        for mark in self.built.marks:
            box = measure.box(self.place.outline(mark.outline))
            bounds.append((box.x, box.y, box.right, box.bottom))
        if not bounds:
            return self.place.x, self.place.y, self.place.x, self.place.y
        x0, y0, x1, y1 = np.array(bounds).T
        return float(x0.min()), float(y0.min()), float(x1.max()), float(y1.max())

    @cached_property
    def weld_box(self) -> tuple[float, float, float, float]:
        """The box around its shapes where it lies."""
        x0, y0, x1, y1 = shapely.total_bounds([shape.region for shape in self.shapes]).tolist()
        return x0, y0, x1, y1

    @property
    def size(self) -> float:
        """What shares are of, on the work."""
        return self.built.size * self.place.scale

    def find(self, anchor: Anchor) -> Point | None:
        """Where an anchor is on the work."""
        at = self.built.find(anchor)
        return None if at is None else self.place.point(*at)

    def anchor(self, x: float, y: float) -> Anchor:
        """A place on the work as one on the part."""
        return self.built.anchor(*self.place.back(x, y))

    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        return self.built.names_at(*self.place.back(x, y))

    def vector_on(self, anchor: Anchor, dx: float, dy: float) -> Point:
        """A move on the work, in mm, as shares of the part's size."""
        return self.built.vector_on(anchor, *self.place.vector_back(dx, dy))

    def snapped(self, x: float, y: float) -> Point:
        return self.place.point(*self.built.snapped(*self.place.back(x, y)))

    def distance(self, x: float, y: float) -> float:
        """How far a place on the work is from the box around the part."""
        x0, y0, x1, y1 = self.box
        return float(np.hypot(max(x0 - x, 0.0, x - x1), max(y0 - y, 0.0, y - y1)))
