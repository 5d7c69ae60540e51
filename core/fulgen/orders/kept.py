"""A worked row as bytes: what a worker sends back, and what the shop keeps of it.

JSON (RFC 8259) compressed by zlib (RFC 1950); arrays as base64 (RFC 4648) of their little-endian bytes, so
that they are read back to the last bit. Nothing that is read is run.
"""

from __future__ import annotations

import base64
import json
import zlib
from dataclasses import asdict
from typing import Any

import numpy as np

from fulgen.formats.drawn_sheet import JobCaption
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.orders.rows import Row
from fulgen.orders.working import WorkedRow
from fulgen.parts.built_part import Mark
from fulgen.sheet.motifs import Motif

MOST_BYTES = 32 * 2**20
"""More than this no row takes when it is unpacked."""


def packed(worked: WorkedRow) -> bytes:
    """A worked row without its recipe and what the list said."""
    row = {
        "state": worked.state, "reasons": worked.reasons, "width_mm": worked.width_mm,
        "height_mm": worked.height_mm, "letters_mm": worked.letters_mm, "pieces": worked.pieces,
        "mirrored": sorted(worked.mirrored), "motifs": [_motif(motif) for motif in worked.motifs],
        "caption": worked.caption and asdict(worked.caption),
    }  # fmt: skip
    return zlib.compress(json.dumps(row).encode(), 6)


def unpacked(data: bytes, row: Row) -> WorkedRow:
    """A worked row again. Raises ValueError where it is none."""
    read = zlib.decompressobj()
    text = read.decompress(data, MOST_BYTES)
    if read.unconsumed_tail:
        raise ValueError("larger than any row")
    kept = json.loads(text)
    return WorkedRow(
        row, kept["state"], tuple(kept["reasons"]), None, kept["width_mm"], kept["height_mm"], kept["pieces"],
        tuple(_motif_of(motif, row) for motif in kept["motifs"]),
        JobCaption(**kept["caption"]) if kept["caption"] else None,
        kept["letters_mm"], frozenset(kept["mirrored"]),
    )  # fmt: skip


def _array(values: Any, kind: str) -> str:
    return base64.b64encode(np.ascontiguousarray(values, kind).tobytes()).decode("ascii")


def _array_of(text: str, kind: str) -> Any:
    return np.frombuffer(base64.b64decode(text), kind).copy()


def _outline(outline: Outline) -> list[str]:
    return [_array(outline.verbs, "|u1"), _array(outline.points, "<f8")]


def _outline_of(kept: list[str]) -> Outline:
    return Outline(_array_of(kept[0], "|u1"), _array_of(kept[1], "<f8").reshape(-1, 2))


def _shape_of(kept: list[str]) -> Shape:
    return Shape.of(_outline_of(kept), FLATNESS_MM)


def _motif(motif: Motif) -> dict[str, Any]:
    return {
        "film": motif.film, "part": motif.part, "copies": motif.copies,
        "shape": _outline(motif.shape.outline), "marks": _outline(motif.marks.outline),
        "keep_off": _array(motif.keep_off, "<f8"),
        "uncut": [[*_outline(mark.outline), mark.use, mark.closed] for mark in motif.uncut],
    }  # fmt: skip


def _motif_of(kept: dict[str, Any], row: Row) -> Motif:
    return Motif(
        row.title, kept["film"], _shape_of(kept["shape"]), kept["part"], "", row.copies,
        _shape_of(kept["marks"]), _array_of(kept["keep_off"], "<f8").reshape(-1, 2),
        tuple(Mark(_outline_of(mark[:2]), mark[2], mark[3]) for mark in kept["uncut"]),
    )  # fmt: skip
