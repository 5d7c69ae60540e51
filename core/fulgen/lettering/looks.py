"""How a face looks, measured on its letters: how heavy, slanted, wide, round and even it is."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, fields

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from fulgen.geometry.flatten import flat_contours
from fulgen.geometry.outline import Floats, Outline
from fulgen.lettering.faces import LETTER_FLATNESS, Face, steep_sides
from fulgen.lettering.shaping import letters_alone
from fulgen.lettering.writing_systems import LATIN, WritingSystem

_SAMPLE = "HAVOGRSEhamburgefonstiv"
"""Letters of every build: straight, round, slanted, with arches (common practice)."""

_CORNER = math.radians(25)
"""An edge that turns by more at one point has a corner there; flattened curves turn by less. (†)"""


@dataclass(frozen=True)
class Looks:
    """weight: the mean width of strokes. slant: by how many degrees small letters lean. width: that of a
    letter in the mean, as drawn. roundness: the share of all turning that is not done at corners. contrast:
    how much the width of strokes varies (its deviation by its mean). low: the height of small letters by that
    of capitals. Widths are shares of the height of capitals."""

    weight: float
    slant: float
    width: float
    roundness: float
    contrast: float
    low: float

    def as_dict(self) -> dict[str, float]:
        return {field.name: round(getattr(self, field.name), 4) for field in fields(self)}

    @property
    def words(self) -> tuple[str, ...]:
        """What a maker says of it: in a few words."""
        return tuple(word for word, holds in _TOLD.items() if holds(self))


_TOLD: dict[str, Callable[[Looks], bool]] = {
    "fine": lambda looks: looks.weight < 0.1,
    "thick": lambda looks: looks.weight > 0.2,
    "upright": lambda looks: abs(looks.slant) < 2.5,
    "slanted": lambda looks: looks.slant >= 2.5,
    "round": lambda looks: looks.roundness > 0.75,
    "even": lambda looks: looks.contrast < 0.25,
    "narrow": lambda looks: looks.width < 0.52,
    "wide": lambda looks: looks.width > 0.82,
}
"""(†) Bounds between what one calls fine and thick, narrow and wide, among the faces that ship."""


def looks_of(face: Face, system: WritingSystem = LATIN) -> Looks:
    """How a face looks by the letters of a writing system."""
    text = _SAMPLE if system is LATIN else system.letters
    outlines = [letter.shape.outline for letter in letters_alone(face, text)]
    if not outlines:
        return Looks(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    tall = face.capital_height
    widths = np.concatenate([_stroke_widths(outline) for outline in outlines]) / tall
    boxes = [np.ptp(outline.points, axis=0) for outline in outlines]
    leaning = np.concatenate([steep_sides(outline) for outline in outlines])
    weight = float(np.mean(widths)) if len(widths) else 0.0
    return Looks(
        weight,
        _slant(leaning),
        float(np.mean([box[0] for box in boxes])) / tall,
        _roundness(outlines),
        float(np.std(widths)) / weight if weight else 0.0,
        face.x_height / tall,
    )


def _slant(leaning: Floats) -> float:
    if not len(leaning):
        return 0.0
    ways, lengths = leaning.T
    return math.degrees(float(ways @ lengths) / float(lengths.sum()))


def _roundness(outlines: Iterable[Outline]) -> float:
    turned = cornered = 0.0
    for outline in outlines:
        for ring in flat_contours(outline, LETTER_FLATNESS):
            ways = np.diff(np.concatenate([ring, ring[:2]]), axis=0)
            ways = ways[np.hypot(*ways.T) > 0]
            z = ways[:, 0] + 1j * ways[:, 1]
            turns = np.abs(np.angle(np.roll(z, -1) / z))
            turned += float(turns.sum())
            cornered += float(turns[turns > _CORNER].sum())
    return 1.0 - cornered / turned if turned else 0.0


_PROBES = 24


def _stroke_widths(outline: Outline) -> Floats:
    """How wide strokes are where lines across a letter, level and upright, meet them: the widths of what is
    crossed, those that are wider than they are tall (bars along the line) left out."""
    rings = [ring for ring in flat_contours(outline, LETTER_FLATNESS) if len(ring) >= 4]
    area: BaseGeometry = shapely.Polygon()
    for ring in rings:
        area = area.symmetric_difference(shapely.Polygon(ring).buffer(0))
    x0, y0, x1, y1 = area.bounds if not area.is_empty else (0.0, 0.0, 0.0, 0.0)
    found: list[float] = []
    for share in (np.arange(_PROBES) + 0.5) / _PROBES:
        y, x = y0 + share * (y1 - y0), x0 + share * (x1 - x0)
        for line in (shapely.LineString([(x0, y), (x1, y)]), shapely.LineString([(x, y0), (x, y1)])):
            pieces = shapely.get_parts(shapely.intersection(line, area))
            lengths = shapely.length(pieces)
            whole = max(x1 - x0, y1 - y0)
            found += [float(length) for length in lengths if 0 < length < 0.4 * whole]
    return np.array(found)
