"""Files of a sheet, of every kind that machines read: written, and read back before they are handed out.

A *drawing* is what a sheet comes to for all kinds alike: its pieces in the order of the cut, and the cuts
that only help weeding. Every kind is read back by other code than wrote it; what was read has to cover what
was promised, at the same size."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import shapely
from shapely.geometry import LineString

from fulgen.cutter.comes_off import Compared
from fulgen.formats.drawn_sheet import USES, DrawnSheet, ReadSheet
from fulgen.formats.hpgl import read_strokes, tools_of, write_hpgl
from fulgen.formats.read_back import line_length
from fulgen.geometry.flatten import drawn_lines
from fulgen.geometry.polygons import Region, polygonal, region_of
from fulgen.parts.made import MarkUse
from fulgen.problem import Problem
from fulgen.sheet.machines import FileKind
from fulgen.sheet.proof import not_as_promised, proven

TOLERANCE_MM = 0.02
"""How far a curve may be from its chords, where a kind of file has no curves."""

_SAME_MM = 0.03
"""What was read may differ by a strip so wide along all edges, on average."""

_SIZE_MM = 0.05


@dataclass(frozen=True)
class Written:
    """A file: its name, what it is to a browser, and what is in it."""

    name: str
    media_type: str
    data: bytes


@dataclass(frozen=True)
class _Kind:
    ending: str
    media_type: str
    write: Callable[[DrawnSheet, float], bytes]
    read: Callable[[bytes, float], ReadSheet]


def _kind(kind: FileKind) -> _Kind:
    """How a kind is written and read. What does it is imported when it is wanted: few of them are, and they
    take much memory."""
    if kind == "svg":
        from fulgen.formats import svg

        return _Kind("svg", "image/svg+xml", svg.write_sheet, svg.read_sheet)
    if kind in ("dxf", "dxf-r12"):
        from fulgen.formats import dxf

        ending, write = ("dxf", dxf.write_2000) if kind == "dxf" else ("r12.dxf", dxf.write_r12)
        return _Kind(ending, "image/vnd.dxf", write, dxf.read_sheet)
    if kind == "pdf":
        from fulgen.formats import pdf

        return _Kind("pdf", "application/pdf", pdf.write_sheet, pdf.read_sheet)
    if kind == "eps":
        from fulgen.formats import eps

        return _Kind("eps", "application/postscript", eps.write_sheet, eps.read_sheet)
    from fulgen.formats import png

    return _Kind("png", "image/png", png.write_sheet, png.read_sheet)


def write_file(drawn: DrawnSheet, kind: FileKind, tolerance: float = TOLERANCE_MM) -> Written:
    """The file of a sheet. Raises Problem "not-as-promised" when what is read back is not what was
    promised."""
    if kind == "hpgl":
        return cut_file(drawn)[0]
    how = _kind(kind)
    data = how.write(drawn, tolerance)
    _hold_against(drawn, how.read(data, tolerance), tolerance)
    return Written(f"{drawn.name}.{how.ending}", how.media_type, data)


def cut_file(drawn: DrawnSheet) -> tuple[Written, Compared]:
    """The file that a cutter is sent, and what came off when it was read back and cut on the simulated
    machine. Raises Problem "not-as-promised" when that is not what was promised."""
    job = drawn.job
    data = write_hpgl(job.strokes, drawn.height, tools_of(job.machine, drawn.about.material)).encode("ascii")
    told, _ = proven(job.laid.promised, read_strokes(data, drawn.name, drawn.height), job.machine)
    if not told.is_kept:
        raise not_as_promised(told, drawn.name)
    return Written(f"{drawn.name}.plt", "application/vnd.hp-hpgl", data), told


def _hold_against(drawn: DrawnSheet, read: ReadSheet, tolerance: float) -> None:
    promised = shapely.union_all([region_of(piece, tolerance / 2) for piece in drawn.pieces])
    allowed = max(_SAME_MM, 1.5 * tolerance) * promised.length
    same_size = max(abs(read.width - drawn.width), abs(read.height - drawn.height)) <= _SIZE_MM + read.coarse
    if read.region is None:
        seen = shapely.union_all([promised, *_seen(drawn, tolerance)])
        differs = abs(read.area - seen.area) > max(allowed, 0.5 * read.coarse * seen.length)
    else:
        differs = shapely.symmetric_difference(promised, read.region).area > allowed
    if read.marks is not None:
        differs |= _other_marks(drawn, read.marks, tolerance)
    if differs or not same_size:
        raise Problem(
            "not-as-promised",
            f"The file of {drawn.name} does not hold what was promised, so it was not handed out.",
            "Nothing is lost. Try another kind of file, and tell us which design it was.",
        )


def _seen(drawn: DrawnSheet, tolerance: float) -> Iterator[Region]:
    """The areas that what is not cut has in a picture."""
    for mark in drawn.uncut:
        if mark.use == "engrave":
            yield region_of(mark.outline, tolerance / 2)
        else:
            for line in drawn_lines(mark.outline, tolerance, closed=mark.closed):
                yield polygonal(shapely.buffer(LineString(line), drawn.line_mm / 2))


def _other_marks(drawn: DrawnSheet, read: Mapping[MarkUse, float], tolerance: float) -> bool:
    """Whether what is not cut is other than was read: how much is engraved, and how long lines are."""
    for use in USES:
        own = drawn.marks(use)
        if use == "engrave":
            whole = shapely.union_all([region_of(mark.outline, tolerance / 2) for mark in own])
            if abs(whole.area - read[use]) > max(_SAME_MM, 1.5 * tolerance) * whole.length + _DUST_MM2:
                return True
        else:
            length = sum(line_length(mark.outline, closed=mark.closed) for mark in own)
            if abs(length - read[use]) > _SAME_SHARE * length + _SIZE_MM:
                return True
    return False


_SAME_SHARE = 0.005
"""Lines are as long as they were by so much: chords are a little shorter than their curves."""

_DUST_MM2 = 1e-3


def zipped(files: Sequence[Written]) -> bytes:
    """Files as one."""
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as archive:
        for file in files:
            # A fixed moment, so that the same files give the same archive.
            archive.writestr(zipfile.ZipInfo(file.name, (2000, 1, 1, 0, 0, 0)), file.data)
    return data.getvalue()
