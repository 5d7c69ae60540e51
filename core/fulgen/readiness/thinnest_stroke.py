"""How wide the thinnest stroke is."""

from __future__ import annotations

from collections.abc import Sequence

from fulgen.geometry.shape import Shape
from fulgen.geometry.thin import (
    is_stroke,
    stroke_width,
)
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.weak_places import thinness
from fulgen.parts.welding import body_of
from fulgen.problem import Problem
from fulgen.recipe.evaluation import Evaluation

_WIDEST_STROKE = 0.4
"""No stroke is looked for that is wider than this share of the size."""


def thinnest_stroke(evaluation: Evaluation) -> float:
    """How wide the thinnest stroke is, in mm: the width from which on the check finds a thin stroke; to a
    hundredth of a millimetre."""
    if not evaluation.parts:
        raise Problem("no-letters", "There is nothing to measure: no part is shown.", "Show a part again.")
    size = max(part.size for part in evaluation.parts)
    return _thinnest([cluster.shape for cluster in evaluation.clusters], size)


def thinnest_stroke_of(part: PlacedPart) -> float:
    """How wide the thinnest stroke of a part is by itself, likewise."""
    return _thinnest([body_of(part)], part.size)


def _thinnest(shapes: Sequence[Shape], size: float) -> float:
    most = _WIDEST_STROKE * size
    width = _NARROWEST_STROKE_MM
    # From below: a shape that is thin all over has no strokes that are thinner than the rest.
    while width < most:
        worn = [thinness(shape, width) for shape in shapes]
        found = [
            stroke_width(thin, place) for thin in worn for place in thin.places if is_stroke(thin, place)
        ]
        if found:
            return min(found)
        width *= _WIDER
    return most


_NARROWEST_STROKE_MM, _WIDER = 0.1, 1.3
"""Strokes are looked for from so many mm on, in steps of so many times as wide."""
