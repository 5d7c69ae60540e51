"""Made: what a part comes to, in its own frame, in mm."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from fulgen.geometry.outline import Point
from fulgen.geometry.placement import Placement, placed
from fulgen.geometry.polygons import Region
from fulgen.geometry.weld import FLATNESS_MM, Shape
from fulgen.joining.anchors import Anchor


class Made(ABC):
    """What every kind of part comes to."""

    @property
    @abstractmethod
    def shapes(self) -> Sequence[tuple[Shape, Placement]]:
        """All that is to be welded, each with where it lies in the part's frame."""

    @property
    def fills(self) -> Sequence[tuple[Region, Placement]]:
        """Holes to be filled once it is welded, likewise."""
        return ()

    @property
    def smooth_mm(self) -> float:
        """The radius by which notches between its shapes are rounded."""
        return 0.0

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
class Placed:
    """A part on the work: what it was made to, by ``made_key``, and where that lies; ``key`` tells both."""

    id: str
    film: str
    made: Made
    place: Placement
    made_key: str
    key: str

    @cached_property
    def shapes(self) -> list[Shape]:
        """All that is to be welded, on the work, with twins true to FLATNESS_MM."""
        own = self.made.shapes
        at = [place.within(self.place) for _, place in own]
        fine = [shape.refined(FLATNESS_MM / lies.scale) for (shape, _), lies in zip(own, at, strict=True)]
        return placed(fine, at)

    @cached_property
    def fills(self) -> list[Region]:
        return [place.within(self.place).region(fill) for fill, place in self.made.fills]

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        """The box around it on the work: left, top, right, bottom."""
        x0, y0, x1, y1 = shapely.total_bounds([shape.region for shape in self.shapes]).tolist()
        return x0, y0, x1, y1

    @property
    def size(self) -> float:
        """What shares are of, on the work."""
        return self.made.size * self.place.scale

    @property
    def smooth_mm(self) -> float:
        return self.made.smooth_mm * self.place.scale

    def find(self, anchor: Anchor) -> Point | None:
        """Where an anchor is on the work."""
        at = self.made.find(anchor)
        return None if at is None else self.place.point(*at)

    def anchor(self, x: float, y: float) -> Anchor:
        """A place on the work as one on the part."""
        return self.made.anchor(*self.place.back(x, y))

    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        return self.made.names_at(*self.place.back(x, y))

    def vector_on(self, anchor: Anchor, dx: float, dy: float) -> Point:
        """A move on the work, in mm, as shares of the part's size."""
        return self.made.vector_on(anchor, *self.place.vector_back(dx, dy))

    def snapped(self, x: float, y: float) -> Point:
        return self.place.point(*self.made.snapped(*self.place.back(x, y)))

    def distance(self, x: float, y: float) -> float:
        """How far a place on the work is from the box around the part."""
        x0, y0, x1, y1 = self.box
        return float(np.hypot(max(x0 - x, 0.0, x - x1), max(y0 - y, 0.0, y - y1)))
