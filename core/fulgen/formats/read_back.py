"""A sheet as it was read back from its file: what is filled or enclosed there, and what is not cut."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from fulgen.formats.drawn_path import DrawnPath
from fulgen.formats.drawn_sheet import USE_COLOURS, USES, ReadSheet
from fulgen.geometry.flatten import drawn_lines
from fulgen.geometry.outline import Outline
from fulgen.geometry.polygons import Region, polygonal, region_of
from fulgen.parts.built_part import MarkUse


def read_back(width: float, height: float, drawn: Sequence[DrawnPath], tolerance: float) -> ReadSheet:
    """A sheet of that size, from what its file draws. What it is for follows from the colours of the uses:
    what is filled in another colour, and what lines to be cut enclose, is film."""
    fine = tolerance / 2
    pieces: list[Region] = []
    engraved: list[Region] = []
    lengths: dict[MarkUse, float] = {use: 0.0 for use in USES if use != "engrave"}
    for one in drawn:
        if not one.line and not one.stroked:
            into = engraved if one.colour == USE_COLOURS["engrave"] else pieces
            into.append(region_of(one.outline, fine))
        elif one.colour == USE_COLOURS["cut"] and not one.line:
            pieces.append(region_of(one.outline, fine, even_odd=True))
        for use in lengths:
            if one.stroked and one.colour == USE_COLOURS[use]:
                lengths[use] += line_length(one.outline, closed=not one.line)
    region = polygonal(shapely.union_all(pieces))
    area = float(shapely.union_all(engraved).area)
    return ReadSheet(width, height, region, region.area, marks={"engrave": area, **lengths})


def line_length(outline: Outline, *, closed: bool) -> float:
    """How long the lines of an outline are together, in mm, its contours taken back to their start or not."""
    lines = drawn_lines(outline, 0.005, closed=closed)
    return float(sum(np.hypot(*np.diff(line, axis=0).T).sum() for line in lines))
