"""DXF: a sheet for machines that read drawings; written by ezdxf, read back tag by tag.

Version 2000 has splines: a contour with curves is one spline whose knots are threefold, so that it is exactly
the curve that was drawn. R12 has none: there all contours are polylines within a tolerance. Units are
millimetres ($INSUNITS 4, from version 2000 on; AutoCAD DXF Reference, header variables); y is up there, and
is turned over here. What the file says of itself is a comment (group code 999)."""

from __future__ import annotations

import io
import logging
from collections.abc import Iterator
from typing import Literal

import numpy as np
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from fulgen.formats.drawn_sheet import USES, DrawnSheet, ReadSheet
from fulgen.geometry.flatten import flat_contours, open_points
from fulgen.geometry.outline import LINE, Floats, Outline
from fulgen.geometry.polygons import region_of
from fulgen.parts.built_part import MarkUse
from fulgen.problem import Problem

MILLIMETRES = 4

# It says of every old file that units have no place there.
logging.getLogger("ezdxf").setLevel(logging.ERROR)

FILM, WEEDING = "FILM", "WEEDING"
"""Layers: names that R12 has room for (upper case letters, 31 at most)."""


_USE_COLOURS: dict[MarkUse, int] = {"engrave": 9, "draw": 7, "score": 3}
"""A layer for each use that is not to be cut, by its name in capitals, and its colour."""


def write_sheet(drawn: DrawnSheet, tolerance: float) -> bytes:
    """The sheet as DXF 2000, curves as splines."""
    return written(drawn, tolerance, "R2000")


def written(drawn: DrawnSheet, tolerance: float, version: Literal["R2000", "R12"]) -> bytes:
    """The sheet as a DXF of a version."""
    document = new(version, units=MILLIMETRES if version == "R2000" else 0)
    document.layers.add(FILM, color=1)
    document.layers.add(WEEDING, color=8)
    uses = [use for use in USES if drawn.marks(use)]
    for use in uses:
        document.layers.add(use.upper(), color=_USE_COLOURS[use])
    model = document.modelspace()
    model.reset_limits((0.0, 0.0), (drawn.width, drawn.height))
    layers: list[tuple[str, Outline, bool]] = [
        *((use.upper(), mark.outline, mark.closed) for use in uses for mark in drawn.marks(use)),
        *((FILM, piece, True) for piece in drawn.pieces),
    ]
    for layer, outline, closed in layers:
        for contour in outline.contours():
            up = Outline(contour.verbs, contour.points * (1.0, -1.0) + (0.0, drawn.height))
            if version == "R12" or not closed or (up.verbs[1:] == LINE).all():
                (points,) = flat_contours(up, tolerance) if closed else [open_points(up, tolerance)]
                _polyline(model, points, version, closed=closed, layer=layer)
            else:
                controls, knots = _spline(up)
                spline = model.add_spline(dxfattribs={"layer": layer})
                spline.dxf.degree = 3
                spline.control_points = [(x, y, 0.0) for x, y in controls.tolist()]
                spline.knots = knots
    for help_line in drawn.weeding_cuts:
        points = help_line * (1.0, -1.0) + (0.0, drawn.height)
        _polyline(model, points, version, closed=False, layer=WEEDING)
    out = io.StringIO()
    document.write(out)
    description = " ".join(f"{drawn.about.title}: {drawn.about.description}".split())[:240]
    return f"999\n{description}\n{out.getvalue()}".encode(
        "utf-8" if version == "R2000" else "ascii", "replace"
    )


def _polyline(model: Modelspace, points: Floats, version: str, *, closed: bool, layer: str) -> None:
    add = model.add_polyline2d if version == "R12" else model.add_lwpolyline
    add(points.tolist(), close=closed, dxfattribs={"layer": layer})


def _spline(contour: Outline) -> tuple[Floats, list[float]]:
    """Control points (N, 2) and knots of the one spline that runs along all sides of a contour."""
    sides, _ = contour.cubics
    controls = np.concatenate((sides[:1, 0], sides[:, 1:].reshape(-1, 2)))
    inner = np.repeat(np.arange(1, len(sides), dtype=np.float64), 3)
    return controls, [0.0] * 4 + inner.tolist() + [float(len(sides))] * 4


def read_sheet(data: bytes, tolerance: float) -> ReadSheet:
    """What the closed lines of a DXF file enclose, even-odd, what is on the layers of other uses, and its
    limits as the size of the sheet.

    Raises Problem "bad-dxf".
    """
    size = np.zeros(2)
    rings: dict[str, list[Floats]] = {}
    lengths = dict.fromkeys(_USE_COLOURS, 0.0)
    for kind, tags in _entities(data):
        if kind == "$LIMMAX":
            size = np.array([_numbers(tags, 10)[0], _numbers(tags, 20)[0]])
        layer = (tags.get(8) or [""])[0]
        xy = np.column_stack((_numbers(tags, 10), _numbers(tags, 20))) if 10 in tags else np.zeros((0, 2))
        if kind == "SPLINE":
            line = _along(xy, _numbers(tags, 40), tolerance)
        elif kind in ("LWPOLYLINE", "POLYLINE"):
            line = xy
        else:
            continue
        rings.setdefault(layer, []).append(line)
        shut = kind == "SPLINE" or bool(int((tags.get(70) or ["0"])[0]) & 1)
        for use in lengths:
            if layer == use.upper():
                lengths[use] += float(np.hypot(*np.diff([*line, *line[: int(shut)]], axis=0).T).sum())
    if not rings or not size.all():
        raise Problem("bad-dxf", "There is nothing to cut in this DXF file.", "Save it again.")
    turned = {
        layer: Outline.joined(Outline.polygon(ring * (1.0, -1.0) + (0.0, size[1])) for ring in own)
        for layer, own in rings.items()
    }
    region, engraved = (
        region_of(turned.get(layer, Outline.empty()), tolerance, even_odd=True) for layer in (FILM, "ENGRAVE")
    )
    marks = {**lengths, "engrave": engraved.area}
    return ReadSheet(float(size[0]), float(size[1]), region, region.area, marks=marks)


def _entities(data: bytes) -> Iterator[tuple[str, dict[int, list[str]]]]:
    """Entities and header variables by their names, each with its values by group code; the vertices of an
    old polyline are values of it."""
    lines = data.decode("utf-8", "replace").splitlines()
    name, tags, in_head = "", dict[int, list[str]](), False
    for code_line, text in zip(lines[::2], lines[1::2], strict=False):
        try:
            code, value = int(code_line), text.strip()
        except ValueError:
            raise Problem("bad-dxf", "This is not a DXF file.", "Save it again.") from None
        if code == 0 and value == "VERTEX":
            in_head = False
        elif code in (0, 9):
            yield name, tags
            # The head of an old polyline has a point that means nothing.
            name, tags, in_head = value, {}, value == "POLYLINE"
        elif not (in_head and code in (10, 20)):
            tags.setdefault(code, []).append(value)
    yield name, tags


def _numbers(tags: dict[int, list[str]], code: int) -> Floats:
    return np.array([float(value) for value in tags.get(code, [])])


def _along(controls: Floats, knots: Floats, tolerance: float) -> Floats:
    """Points along a cubic spline, worked out from its knots by de Boor's recursion (de Boor, "A Practical
    Guide to Splines", chapter X)."""
    steps = max(4, int(np.ceil(2.0 / np.sqrt(tolerance))))
    found = []
    for span in np.flatnonzero(np.diff(knots) > 0).tolist():
        t = np.linspace(knots[span], knots[span + 1], steps, endpoint=False)[:, None]
        points = [np.repeat(controls[n : n + 1], steps, axis=0) for n in range(span - 3, span + 1)]
        for level in range(1, 4):
            for n in range(3, level - 1, -1):
                low, high = knots[span - 3 + n], knots[span + 1 + n - level]
                share = (t - low) / (high - low)
                points[n] = (1 - share) * points[n - 1] + share * points[n]
        found.append(points[3])
    return np.concatenate(found)
