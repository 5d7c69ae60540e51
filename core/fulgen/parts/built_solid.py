"""Solids: what parts come to that are no lettering. One body, in one film or several, and lines beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import shapely

from fulgen.geometry import measure
from fulgen.geometry.outline import Outline, Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import Shape
from fulgen.joining.anchors import Anchor, within_reach
from fulgen.joining.bars import snapped
from fulgen.parts.built_part import BuiltPart, Layer, Mark


@dataclass(frozen=True, eq=False)
class BuiltSolid(BuiltPart):
    """A body in the part's frame: what is of the part's own film, what is of others, and what is not cut;
    ``says`` is what a maker calls it."""

    part_id: str
    display_name: str
    body: Shape
    in_other_films: Mapping[str, Shape] = field(default_factory=dict)
    uncut: tuple[Mark, ...] = ()

    @property
    def kept_bytes(self) -> int:
        """About how many bytes it keeps alive."""
        shapes = (self.body, *self.in_other_films.values())
        return 2_000 + sum(shape.kept_bytes for shape in shapes)

    @property
    def shapes(self) -> Sequence[tuple[Shape, Placement]]:
        return [(self.body, Placement())] if self.body else []

    @property
    def others(self) -> Sequence[Layer]:
        return [Layer(film, [(shape, Placement())]) for film, shape in self.in_other_films.items() if shape]

    @property
    def marks(self) -> Sequence[Mark]:
        return self.uncut

    @cached_property
    def region(self) -> Region:
        """All of it, whatever its film."""
        regions = [shape.region for shape in (self.body, *self.in_other_films.values()) if shape]
        return polygonal(shapely.union_all(regions)) if len(regions) != 1 else regions[0]

    @cached_property
    def size(self) -> float:
        """The larger measure of what it is."""
        outlines = [shape.outline for shape in (self.body, *self.in_other_films.values()) if shape]
        outlines += [mark.outline for mark in self.uncut]
        box = measure.box(Outline.joined(outlines))
        return max(box.width, box.height, 1.0)

    def find(self, anchor: Anchor) -> Point | None:
        return anchor.x * self.size, anchor.y * self.size

    def anchor(self, x: float, y: float) -> Anchor:
        return Anchor(self.part_id, within_reach(x / self.size), within_reach(y / self.size))

    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        return (self.display_name,)

    def vector_on(self, anchor: Anchor, dx: float, dy: float) -> Point:
        return dx / self.size, dy / self.size

    def snapped(self, x: float, y: float) -> Point:
        size = self.size
        on = snapped(Placement(scale=1 / size).region(self.region), (x / size, y / size)) if size else (x, y)
        return on[0] * size, on[1] * size

    def region_at(self, anchor: Anchor) -> Region | None:
        return self.region
