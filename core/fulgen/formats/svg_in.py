"""SVG files as artwork: fills as areas, strokes as lines, at the size the file states."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from xml.etree.ElementTree import Element

import numpy as np
import shapely

from fulgen.formats.drawing import Bounds, Walk, parsed
from fulgen.formats.drawn_path import (
    MAX_FILE_BYTES,
    PX_MM,
    DrawnPath,
    ReadDrawing,
    ReadRequest,
    areas_and_lines,
    bad,
    filled_area,
)
from fulgen.formats.drawn_sheet import USES
from fulgen.formats.svg_values import view_box, view_scale
from fulgen.geometry.flatten import flat_contours
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.polygons import Region, region_of
from fulgen.geometry.shape import Shape
from fulgen.parts.artwork import MAX_ART_DATA
from fulgen.problem import Problem
from fulgen.units import MM_PER_INCH

READ_BOUNDS = Bounds(
    MAX_FILE_BYTES, elements=30_000, data=3 * MAX_ART_DATA, path=3 * MAX_ART_DATA, sides=40_000
)

_LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d{1,3})?)\s*(mm|cm|in|pt|pc|px|q|Q|)\s*")
_MM = {
    "mm": 1.0,
    "cm": 10.0,
    "in": MM_PER_INCH,
    "pt": MM_PER_INCH / 72,
    "pc": MM_PER_INCH / 6,
    "px": PX_MM,
    "q": 0.25,
    "Q": 0.25,
}
"""Millimetres to each unit (CSS Values 4, section 6.2)."""


def read(data: bytes, name: str, request: ReadRequest) -> ReadDrawing:
    """An SVG file. Raises Problem "bad-artwork"."""
    with _as_artwork():
        root = parsed(data, name, READ_BOUNDS)
        scale, stated = _scale(root, request.units)
        walk = Walk(root, name, READ_BOUNDS, with_lines=True)
        drawn: list[DrawnPath] = []
        for shape in walk.shapes():
            outline = _scaled(shape.outline, scale)
            even = math.sqrt(scale[0] * scale[1])
            clips = [Shape.of(_scaled(clip.outline, scale), clip.tolerance * even) for clip in shape.clips]
            area = Outline.empty() if shape.fill is None else filled_area(outline, shape.even_odd, clips)
            if area and shape.fill is not None:
                drawn.append(DrawnPath(area, shape.fill, shape.group))
            elif shape.stroke is not None and _is_seen(outline, clips):
                wide = shape.stroke_width * even
                drawn += areas_and_lines(outline, shape.closed, shape.stroke, shape.group, wide)
    notes = ("Text was passed over: turn it into outlines to have it.",) if _has_text(root) else ()
    return ReadDrawing(name, tuple(drawn), stated, notes)


def read_cuts(data: bytes, name: str, tolerance: float) -> tuple[list[Floats], list[Region]]:
    """The lines that a knife follows which knows nothing of fill: every path as it is drawn, (N, 2) in mm,
    and the pieces that the file shows: what is filled. Groups that are named by another use than to be cut
    are passed over. Raises Problem "bad-artwork"."""
    with _as_artwork():
        root = parsed(data, name, READ_BOUNDS)
        scale, _ = _scale(root, None)
        cuts: list[Floats] = []
        shown: list[Region] = []
        for shape in Walk(root, name, READ_BOUNDS, with_lines=True).shapes():
            if shape.group in USES:
                continue
            outline = _scaled(shape.outline, scale)
            for n, path in enumerate(flat_contours(outline, tolerance)):
                returns = shape.fill is not None or n in shape.closed
                cuts.append(np.concatenate((path, path[:1])) if returns else path)
            if shape.fill is not None:
                shown.append(region_of(outline, tolerance, even_odd=shape.even_odd))
    return cuts, list(shapely.get_parts(shapely.union_all(shown)))


def stated_size(data: bytes) -> tuple[float, float]:
    """The width and height that a file states, in mm; 0 where it states none."""
    root = parsed(data, "the file", READ_BOUNDS)
    sides = [_LENGTH.fullmatch(root.get(name, "")[:60]) for name in ("width", "height")]
    width, height = (float(side[1]) * _MM.get(side[2], 0.0) if side else 0.0 for side in sides)
    return width, height


@contextmanager
def _as_artwork() -> Iterator[None]:
    """Tells what is wrong with a drawing as of artwork, not of a shape."""
    try:
        yield
    except Problem as problem:
        if problem.kind == "bad-shape":
            raise bad(problem.what, problem.todo) from None
        raise


def _scaled(outline: Outline, scale: tuple[float, float]) -> Outline:
    return outline.moved_by(lambda points: points * scale)


def _scale(root: Element, units: str | None) -> tuple[tuple[float, float], bool]:
    """Millimetres to a user unit, across and down, and whether the file says so: a width or height in a
    physical unit, over that of its view box (SVG 2, sections 8.2 and 8.6)."""
    if units is not None:
        return (_MM[units], _MM[units]), True
    box = view_box(root)
    found = [_LENGTH.fullmatch(root.get(name, "")[:60]) for name in ("width", "height")]
    sides = [side if side is not None and float(side[1]) > 0 else None for side in found]
    stated = any(side is not None and side[2] not in ("", "px") for side in sides)
    if box is None or not any(sides):
        return (PX_MM, PX_MM), stated  # without a view box a user unit is a pixel
    ratio = box[2] / box[3]
    width, height = (None if side is None else float(side[1]) * (_MM.get(side[2]) or PX_MM) for side in sides)
    size = (width or (height or 0.0) * ratio, height or (width or 0.0) / ratio)
    return view_scale(box, size, root.get("preserveAspectRatio", "")), stated


def _is_seen(line: Outline, clips: Sequence[Shape]) -> bool:
    """Whether clip paths let anything of a line be seen: then it is read whole, as its maker drew it."""
    points = shapely.MultiPoint(line.points)
    return all(shapely.intersects(shapely.convex_hull(points), clip.region) for clip in clips)


def _has_text(root: Element) -> bool:
    return any(str(element.tag).rpartition("}")[2] == "text" for element in root.iter())
