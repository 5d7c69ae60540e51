"""Kinds of files that a sheet is written to: one row each.

A new kind is a row here, and a module of `fulgen.formats` with ``write_sheet`` and ``read_sheet``. The
command line, the machines' profiles, the API and the screen follow from these rows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal, TypeAlias

Carries = Literal["curves", "units", "films", "uses", "tools"]
"""What a kind of file can hold: curves as curves, how large it is, the colour of its film, what each line is
for, and what a cutter sets before it cuts."""


@dataclass(frozen=True)
class SheetFileKind:
    """A kind of file: its key in recipes and on the command line, its name on the screen, the ending of its
    files, what it is to a browser, what it can hold, and the module that writes it and reads it back."""

    key: str
    name: str
    suffix: str
    media_type: str
    carries: tuple[Carries, ...]
    module: str


FILE_KINDS = (
    SheetFileKind("svg", "SVG", "svg", "image/svg+xml", ("curves", "units", "films", "uses"), "svg"),
    SheetFileKind("dxf", "DXF", "dxf", "image/vnd.dxf", ("curves", "units", "uses"), "dxf"),
    SheetFileKind("dxf-r12", "DXF R12", "r12.dxf", "image/vnd.dxf", ("uses",), "dxf_r12"),
    SheetFileKind("pdf", "PDF", "pdf", "application/pdf", ("curves", "units", "films", "uses"), "pdf"),
    SheetFileKind("eps", "EPS", "eps", "application/postscript", ("curves", "units", "films", "uses"), "eps"),
    SheetFileKind("hpgl", "PLT", "plt", "application/vnd.hp-hpgl", ("units", "uses", "tools"), "hpgl"),
    SheetFileKind("png", "PNG", "png", "image/png", ("units", "films"), "png"),
)

if TYPE_CHECKING:
    FileKind: TypeAlias = str
else:
    FileKind = Literal[tuple(kind.key for kind in FILE_KINDS)]

MACHINE_FILE: FileKind = "hpgl"
"""The kind that machines are sent: it is proven by cutting it on the simulated machine."""


def file_kind(key: FileKind) -> SheetFileKind:
    """The kind with that key."""
    return next(kind for kind in FILE_KINDS if kind.key == key)
