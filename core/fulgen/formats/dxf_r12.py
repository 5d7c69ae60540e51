"""Sheets as DXF R12, all of it polylines: for machines that know no splines."""

from __future__ import annotations

from fulgen.formats import dxf
from fulgen.formats.drawn_sheet import DrawnSheet

read_sheet = dxf.read_sheet


def write_sheet(drawn: DrawnSheet, tolerance: float) -> bytes:
    """The sheet, curves as chords within the tolerance, in mm."""
    return dxf.written(drawn, tolerance, "R12")
