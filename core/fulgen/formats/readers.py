"""Kinds of drawings that are read. A new one is a module with a function ``read``, and a row here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module

from fulgen.formats.drawn_path import MAX_FILE_BYTES, ReadDrawing, ReadRequest, bad


@dataclass(frozen=True)
class DrawingReader:
    """A kind of drawing: its name on the screen, the endings of its files, whether a file begins like one,
    and the module that reads it, which is imported when it is wanted: few are, and they take much memory."""

    name: str
    suffixes: tuple[str, ...]
    begins: Callable[[bytes], bool]
    module: str
    has_pages: bool = False

    def read(self, data: bytes, name: str, request: ReadRequest) -> ReadDrawing:
        """Raises Problem "bad-artwork"."""
        found: ReadDrawing = import_module(f"fulgen.formats.{self.module}").read(data, name, request)
        return found


def _begins_as_dxf(start: bytes) -> bool:
    # Group code 0 or a comment, or the sentinel of the binary kind (DXF Reference, "DXF File Format").
    return start.startswith((b"0\n", b"0\r", b"999", b"AutoCAD Binary DXF")) or b"SECTION" in start[:200]


def _begins_as_svg(start: bytes) -> bool:
    return start.startswith((b"<", b"\xff\xfe<", b"\xfe\xff"))


def _begins_as_pdf(start: bytes) -> bool:
    return start.startswith(b"%PDF")


READERS = (
    DrawingReader("SVG", ("svg",), _begins_as_svg, "svg_in"),
    DrawingReader("PDF", ("pdf",), _begins_as_pdf, "pdf_in", has_pages=True),
    DrawingReader("DXF", ("dxf",), _begins_as_dxf, "dxf_in"),
)


def reader_for(data: bytes, name: str) -> DrawingReader:
    """The reader of a file, by how it begins, and by its name where that says nothing.

    Raises Problem "bad-artwork" where it is too large, or of no kind that is read.
    """
    if len(data) > MAX_FILE_BYTES:
        raise bad(f"{name} is larger than {MAX_FILE_BYTES // 2**20} MB.", "Use a smaller file.")
    start = data[:2048].lstrip(b"\xef\xbb\xbf \t\r\n")
    suffix = name.rsplit(".", 1)[-1].lower()
    found = next((reader for reader in READERS if reader.begins(start)), None) or next(
        (reader for reader in READERS if suffix in reader.suffixes), None
    )
    if found is None:
        raise bad(f"{name} is no drawing that Fulgen reads.", f"Choose {kinds_read()} file.")
    return found


def kinds_read() -> str:
    """The kinds in words: an SVG, PDF or DXF."""
    *names, last = (reader.name for reader in READERS)
    return f"an {', '.join(names)} or {last}"
