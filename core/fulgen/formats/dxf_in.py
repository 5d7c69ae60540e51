"""DXF files as artwork: what layers and blocks draw, read by ezdxf; y is up there, and is turned over
here."""

from __future__ import annotations

import io
import math
import struct
from collections.abc import Iterator
from itertools import islice
from typing import Any

import ezdxf
import ezdxf.colors
import ezdxf.disassemble
import ezdxf.path
import ezdxf.recover
import numpy as np
from ezdxf.document import Drawing
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.enums import InsertUnits
from ezdxf.lldxf.const import DXFError
from ezdxf.lldxf.tagger import binary_tags_loader
from ezdxf.units import conversion_factor

from fulgen.budget import check
from fulgen.formats.drawn_path import DrawnPath, ReadDrawing, ReadRequest, areas_and_lines, bad, filled_area
from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline
from fulgen.problem import Problem
from fulgen.units import MM_PER_INCH

MAX_ENTITIES = 30_000
"""Entities that are drawn, those of blocks anew with every insert."""

MAX_SIDES = 200_000
_OUTLINES = frozenset(
    ("LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE", "LWPOLYLINE", "POLYLINE", "HELIX", "SOLID", "TRACE")
)
_HATCHES = frozenset(("HATCH", "MPOLYGON"))
_TEXT = frozenset(("TEXT", "MTEXT", "ATTRIB", "ATTDEF", "DIMENSION"))


_UNREADABLE = (DXFError, OSError, ValueError, KeyError, TypeError, IndexError, RecursionError, struct.error)


def _document(data: bytes) -> Drawing | None:
    """A file of either kind, text or binary; None where it is neither."""
    try:
        return ezdxf.recover.read(io.BytesIO(data))[0]
    except _UNREADABLE:
        pass
    try:
        return Drawing.load(binary_tags_loader(data))
    except _UNREADABLE:
        return None


def read(data: bytes, name: str, request: ReadRequest) -> ReadDrawing:
    """A DXF file. Raises Problem "bad-artwork"."""
    document = _document(data)
    if document is None:
        raise bad(f"{name} cannot be read as DXF.", "Save it again as DXF of the year 2000 or later.")
    code = int(document.header.get("$INSUNITS", 0) or 0)
    stated = request.units is not None or code != 0
    scale = {"mm": 1.0, "in": MM_PER_INCH}.get(request.units or "")
    if scale is None:
        scale = float(conversion_factor(InsertUnits(code), InsertUnits.Millimeters)) if 0 < code < 25 else 1.0
    drawn: list[DrawnPath] = []
    passed_over = False
    try:
        for entity in _entities(document, name):
            kind = entity.dxftype()
            passed_over |= kind in _TEXT
            if kind in _OUTLINES or kind in _HATCHES:
                drawn += _drawn(entity, document, scale)
            if sum(len(d.outline.verbs) for d in drawn[-1:]) > MAX_SIDES or len(drawn) > MAX_ENTITIES:
                raise _too_much(name)
    except (DXFError, ValueError, KeyError, TypeError, IndexError, ZeroDivisionError, RecursionError):
        raise bad(f"{name} holds something that cannot be read.", "Save it again as DXF 2000.") from None
    notes = ("Text and dimensions were passed over.",) if passed_over else ()
    return ReadDrawing(name, tuple(drawn), stated, notes)


def _too_much(name: str) -> Problem:
    return bad(
        f"{name} draws more than {MAX_ENTITIES:,} things, or blocks without end.",
        "Leave out what is not needed, or take blocks apart first.",
    )


def _entities(document: Any, name: str) -> Iterator[DXFEntity]:
    """All entities of the model, blocks taken apart."""
    # Blocks in blocks grow by powers: they are counted before they are drawn.
    if _entity_count(document.modelspace(), document, {}) > MAX_ENTITIES:
        raise _too_much(name)
    found = ezdxf.disassemble.recursive_decompose(document.modelspace())
    for number, entity in enumerate(islice(found, MAX_ENTITIES + 1)):
        if number % 256 == 0:
            check()
        if number == MAX_ENTITIES:
            raise _too_much(name)
        if _is_seen(entity, document):
            yield entity


def _entity_count(layout: Any, document: Any, counts: dict[str, float]) -> float:
    """How many entities a layout or block draws, those of inserted blocks with each insert; infinite for a
    block that holds itself. ``counts``: of the blocks counted before, by name."""
    total = 0.0
    for entity in layout:
        name = entity.dxf.get("name", "") if entity.dxftype() == "INSERT" else ""
        block = document.blocks.get(name) if name else None
        if block is None:
            total += 1
            continue
        if name not in counts:
            counts[name] = math.inf  # until it is counted: met again before, it holds itself
            counts[name] = _entity_count(block, document, counts)
        total += counts[name] * max(1, entity.mcount)
    return total


def _is_seen(entity: DXFEntity, document: Any) -> bool:
    if entity.dxf.get("invisible", 0):
        return False
    layer = document.layers.get(entity.dxf.get("layer", "0")) if _has_layer(entity, document) else None
    return layer is None or not (layer.is_off() or layer.is_frozen())


def _has_layer(entity: DXFEntity, document: Any) -> bool:
    return entity.dxf.get("layer", "0") in document.layers


def _drawn(entity: DXFEntity, document: Any, scale: float) -> list[DrawnPath]:
    layer = str(entity.dxf.get("layer", "0"))
    colour = _colour(entity, document)
    if entity.dxftype() in _HATCHES:
        outline = Outline.joined(_outline(path, scale)[0] for path in ezdxf.path.from_hatch(entity))  # type: ignore[arg-type]
        return [DrawnPath(filled_area(outline, True), colour, layer)] if outline else []
    path = ezdxf.path.make_path(entity)
    if not len(path):
        return []
    outline, closed = _outline(path, scale)
    return areas_and_lines(outline, closed, colour, layer, 0.0)


def _outline(path: Any, scale: float) -> tuple[Outline, set[int]]:
    """A path of ezdxf as contours, and which of them close."""
    verbs, points = [MOVE], [path.start]
    for command in path.commands():
        kind = command.type
        if kind == ezdxf.path.Command.LINE_TO:
            verbs.append(LINE)
        elif kind == ezdxf.path.Command.CURVE3_TO:
            verbs.append(QUAD)
            points.append(command.ctrl)
        elif kind == ezdxf.path.Command.CURVE4_TO:
            verbs.append(CUBIC)
            points += [command.ctrl1, command.ctrl2]
        else:
            verbs.append(MOVE)
        points.append(command.end)
    flat = np.array([(p.x, -p.y) for p in points], dtype=np.float64) * scale
    if not np.isfinite(flat).all() or np.abs(flat).max(initial=0.0) > 1e7:
        raise ValueError("far outside any sensible size")
    outline = Outline(np.array(verbs, np.uint8), flat)
    return outline, {0} if len(outline.contour_starts) == 1 and path.is_closed else set()


def _colour(entity: DXFEntity, document: Any) -> str:
    """The colour of an entity: its own, or that of its layer (DXF Reference, group codes 62 and 420)."""
    true = entity.dxf.get("true_color")
    if true is not None:
        return "#{:02X}{:02X}{:02X}".format(*ezdxf.colors.int2rgb(int(true)))
    index = int(entity.dxf.get("color", 256))
    if index in (0, 256):
        layer = document.layers.get(entity.dxf.get("layer", "0")) if _has_layer(entity, document) else None
        index = abs(int(layer.color)) if layer is not None else 7
    if index in (0, 7, 255) or not 0 < index < 256:
        return "#000000"  # white on a black ground there, black here
    return "#{:02X}{:02X}{:02X}".format(*ezdxf.colors.aci2rgb(index))
