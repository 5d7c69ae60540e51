"""Pieces: what comes off the sheet, each area of material that hangs together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Shape


@dataclass(frozen=True, eq=False)
class Piece:
    """One piece: its outline, area in mm², box in mm and number of holes."""

    outline: Outline
    area: float
    box: Box
    holes: int


def pieces(shape: Shape) -> tuple[Piece, ...]:
    """The pieces of a clean shape, from left to right."""
    outline = shape.outline
    areas, boxes = measure.contour_areas(outline), measure.contour_boxes(outline)
    starts = np.flatnonzero(areas > 0)
    ends = np.append(starts[1:], len(areas))
    found = (
        Piece(
            outline.stretch(start, end),
            float(areas[start:end].sum()),
            measure.box_around(boxes[start : start + 1]),
            end - start - 1,
        )
        for start, end in zip(starts.tolist(), ends.tolist(), strict=True)
    )
    return tuple(sorted(found, key=lambda piece: piece.box.x))
