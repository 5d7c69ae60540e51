"""Files of a sheet, of every kind that machines read: written, and read back before they are handed out.

A *drawing* is what a sheet comes to for all kinds alike: its pieces in the order of the cut, and the cuts
that only help weeding. Every kind is read back by other code than wrote it; what was read has to cover what
was promised, at the same size."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from importlib import import_module
from typing import Protocol, cast

import shapely
from shapely.geometry import LineString

from fulgen.cutter.cut_simulation import CutComparison
from fulgen.formats.drawn_sheet import USES, DrawnSheet, ReadSheet
from fulgen.formats.hpgl import read_strokes, tools_of, write_hpgl
from fulgen.formats.read_back import line_length
from fulgen.geometry.flatten import drawn_lines
from fulgen.geometry.polygons import Region, polygonal, region_of
from fulgen.parts.built_part import MarkUse
from fulgen.problem import Problem
from fulgen.sheet.file_kinds import MACHINE_FILE, FileKind, file_kind
from fulgen.sheet.verification import broken_promise, verify_job

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


class SheetWriter(Protocol):
    """What the module of a kind of file does."""

    def write_sheet(self, drawn: DrawnSheet, tolerance: float, /) -> bytes: ...

    def read_sheet(self, data: bytes, tolerance: float, /) -> ReadSheet: ...


def writer_of(kind: FileKind) -> SheetWriter:
    """The module of a kind. It is imported when it is wanted: few are, and they take much memory."""
    return cast(SheetWriter, import_module(f"fulgen.formats.{file_kind(kind).module}"))


def write_file(drawn: DrawnSheet, kind: FileKind, tolerance: float = TOLERANCE_MM) -> Written:
    """The file of a sheet. Raises Problem "not-as-promised" when what is read back is not what was
    promised."""
    if kind == MACHINE_FILE:
        return cut_file(drawn)[0]
    how, writer = file_kind(kind), writer_of(kind)
    data = writer.write_sheet(drawn, tolerance)
    _hold_against(drawn, writer.read_sheet(data, tolerance), tolerance)
    return Written(f"{drawn.name}.{how.suffix}", how.media_type, data)


def cut_file(drawn: DrawnSheet) -> tuple[Written, CutComparison]:
    """The file that a cutter is sent, and what came off when it was read back and cut on the simulated
    machine. Raises Problem "not-as-promised" when that is not what was promised."""
    job = drawn.job
    data = write_hpgl(job.strokes, drawn.height, tools_of(job.machine, drawn.about.material)).encode("ascii")
    # What was just written is no stranger: it may be as long as it is.
    strokes = read_strokes(data, drawn.name, drawn.height, most_bytes=len(data))
    comparison, _ = verify_job(job.laid.promised, strokes, job.machine)
    if not comparison.is_kept:
        raise broken_promise(comparison, drawn.name)
    how = file_kind(MACHINE_FILE)
    return Written(f"{drawn.name}.{how.suffix}", how.media_type, data), comparison


def proven_files(
    drawn: DrawnSheet, kinds: Iterable[FileKind], tolerance: float = TOLERANCE_MM
) -> tuple[list[Written], CutComparison]:
    """The files of a sheet, of some kinds, and what came off when it was cut on the simulated machine: none
    is handed out before that. Raises Problem "not-as-promised"."""
    plotted, comparison = cut_file(drawn)
    files = [plotted if kind == MACHINE_FILE else write_file(drawn, kind, tolerance) for kind in kinds]
    return files, comparison


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
