"""Places of what is welded, in words a maker has for them."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry.outline import Ints
from fulgen.geometry.shape import Shape
from fulgen.joining.anchors import Anchor
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart, SourceOfShape

_ON_RIM = 0.15
"""Edges this near to a place, in shares of ``reach``, are around it: places are found on outlines that are
looked at a little more coarsely."""


@dataclass(frozen=True, eq=False)
class PlaceNames:
    """The parts that an outline is welded of, and how far around a place its edges are looked for, in mm."""

    members: tuple[PlacedPart, ...]
    shape: Shape
    reach: float

    def near(self, x: float, y: float) -> PlacedPart:
        """The part nearest to a place."""
        return min(self.members, key=lambda part: part.distance(x, y))

    def where(self, x: float, y: float) -> str:
        """A place in words: in a letter, or between two."""
        names = self.near(x, y).names_at(x, y)
        one, *other = names
        return f"between {one} and {other[0]}" if other else f"in {one}"

    def whose(self, contour: int) -> str:
        """Of which letters or parts the edge of a hole is, in words, as its sides know; "" where they do not:
        the outline was mended by hand."""
        return self._of_sides(np.flatnonzero(self.shape.outline.sides.contour_of == contour))

    def whose_place(self, place: shapely.Geometry) -> str:
        """Where a place is in words, by the letters or parts that the edges around it are of."""
        close = shapely.dwithin(self._rim, place, _ON_RIM * self.reach)
        x, y = shapely.get_coordinates(shapely.point_on_surface(place))[0].tolist()
        return self._of_sides(self.shape.chords.side[close]) or self.where(x, y)

    def anchor(self, place: shapely.Geometry) -> tuple[PlacedPart, Anchor]:
        """The part that a place is on, and the place on it."""
        x, y = shapely.get_coordinates(shapely.point_on_surface(place))[0].tolist()
        part = self.near(x, y)
        return part, part.anchor(x, y)

    @cached_property
    def _rim(self) -> NDArray[np.object_]:
        """The points of its edges."""
        return np.asarray(shapely.points(shapely.get_coordinates(self.shape.region)))

    def _of_sides(self, sides: Ints) -> str:
        """Whose some sides of the outline are, in words: of the two that most of them are of."""
        origins = self.shape.origins
        if origins is None or not len(sides):
            return ""
        many = Counter(self._named(origins.sources[n]) for n in origins.source[sides].tolist())
        one, *other = [name for name, _ in many.most_common() if name] or [""]
        return f"between {one} and {other[0]}" if other else f"in {one}" if one else ""

    def _named(self, source: object) -> str:
        """The letter or part that a side comes from; "" for what was added to join letters."""
        if not isinstance(source, SourceOfShape):
            return ""
        part = next((member for member in self.members if member.id == source.part), None)
        if part is None:
            return ""
        if isinstance(part.built, BuiltLettering):
            letters = part.built.own_letters
            return letters[source.shape].text if source.shape < len(letters) else ""
        return part.built.names_at(0.0, 0.0)[0]
