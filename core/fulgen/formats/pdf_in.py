"""PDF files as artwork: the vector outlines of one page, read by PDFium; and pictures of pages to choose
from."""

from __future__ import annotations

import ctypes
import io
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Lock
from typing import Any

import numpy as np
import pypdfium2 as pdfium  # type: ignore[import-untyped]
import pypdfium2.raw as raw  # type: ignore[import-untyped]
from PIL import Image

from fulgen.budget import check
from fulgen.formats.drawn_path import (
    MAX_PAGES,
    DrawnPath,
    ReadDrawing,
    ReadRequest,
    areas_and_lines,
    bad,
    filled_area,
)
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Outline
from fulgen.units import MM_PER_INCH

POINT_MM = MM_PER_INCH / 72
"""A point of PDF's user space (ISO 32000-1, section 8.3.2.3)."""

MAX_OBJECTS = 30_000
MAX_SEGMENTS = 200_000
MAX_DEPTH = 12
_PICTURE_PX = 220

_pdfium = Lock()
"""PDFium is one at a time (its documentation: it is not thread-safe)."""


@dataclass(frozen=True)
class Page:
    """A page to choose: its number, how large it is in mm, and its picture as PNG."""

    number: int
    width_mm: float
    height_mm: float
    png: bytes


@contextmanager
def _document(data: bytes, name: str) -> Iterator[pdfium.PdfDocument]:
    with _pdfium:
        try:
            document = pdfium.PdfDocument(data)
        except pdfium.PdfiumError as error:
            locked = "password" in str(error).lower() or "security" in str(error).lower()
            if locked:
                raise bad(f"{name} is locked with a password.", "Save it without a password first.") from None
            raise bad(
                f"{name} is broken, or no PDF.", "Save it again from the program it comes from."
            ) from None
        try:
            if len(document) > MAX_PAGES:
                raise bad(f"{name} has more than {MAX_PAGES} pages.", "Save the page you need by itself.")
            yield document
        except pdfium.PdfiumError:
            raise bad(f"{name} is damaged.", "Save it again where it comes from.") from None
        finally:
            document.close()


def pages(
    data: bytes, name: str, start: int = 1, most: int = 12, wide_px: int = 220
) -> tuple[int, list[Page]]:
    """How many pages a file has, and pictures of some. Raises Problem "bad-artwork"."""
    with _document(data, name) as document:
        count = len(document)
        found = []
        for index in range(start - 1, min(count, start - 1 + most)):
            check()
            page = document[index]
            width, height = page.get_size()
            scale = _PICTURE_PX / max(width, height, 1.0)
            image = page.render(scale=scale).to_pil()
            out = io.BytesIO()
            image.save(out, "PNG")
            found.append(Page(index + 1, width * POINT_MM, height * POINT_MM, out.getvalue()))
        return count, found


def file_within(data: bytes, name: str, wanted: str, most_bytes: int) -> bytes | None:
    """A file that a PDF carries, by its name; None where it carries none. Raises Problem "bad-artwork"."""
    with _document(data, name) as document:
        for index in range(min(document.count_attachments(), _MOST_FILES)):
            file = document.get_attachment(index)
            if file.get_name() == wanted:
                found = bytes(file.get_data())
                if len(found) > most_bytes:
                    raise bad(f"{name} carries more than Fulgen reads.", "Take another copy of it.")
                return found
        return None


_MOST_FILES = 20


def page_size(data: bytes) -> tuple[float, float]:
    """How large the first page is, in mm."""
    with _document(data, "the file") as document:
        width, height = document[0].get_size()
        return width * POINT_MM, height * POINT_MM


def page_picture(data: bytes, dpi: float) -> Image.Image:
    """The first page as a picture on transparent ground."""
    with _document(data, "the file") as document:
        page = document[0].render(scale=dpi / 72, fill_color=(0, 0, 0, 0), rev_byteorder=True)
        return Image.fromarray(page.to_numpy().copy(), "RGBA")


def read(data: bytes, name: str, request: ReadRequest) -> ReadDrawing:
    """The outlines of a page. Raises Problem "bad-artwork"."""
    with _document(data, name) as document:
        count = len(document)
        if not 1 <= request.page <= count:
            raise bad(
                f"{name} has no page {request.page}: it has {count}.",
                "Choose another page.",
            )
        shown = document[request.page - 1]
        turned = _turned(shown)
        walk = _Walk(name)
        drawn = tuple(walk.drawn(shown.raw, turned))
    if not drawn:
        holds = "text and pictures" if walk.text or walk.pictures else "nothing"
        what = f"Page {request.page} of {name} holds {holds}, and no outlines."
        raise bad(what, "Turn it into outlines in a drawing program first, or choose another page.")
    notes = []
    if walk.text:
        notes.append("Text was passed over: turn it into outlines to have it.")
    if walk.pictures:
        notes.append("Pictures were passed over: only outlines can be cut.")
    return ReadDrawing(name, drawn, True, tuple(notes))


def _turned(page: pdfium.PdfPage) -> Floats:
    """From a page's user space to mm, y down, turned as the page is shown; an affine matrix (3, 3)."""
    width, height = page.get_size()
    scale = POINT_MM
    quarter = page.get_rotation() % 360
    by = {
        0: ((1, 0, 0), (0, -1, height)),
        90: ((0, 1, 0), (1, 0, 0)),
        180: ((-1, 0, width), (0, 1, 0)),
        270: ((0, -1, width), (-1, 0, height)),
    }[quarter]
    turned = np.array([by[0], by[1], (0, 0, 1)], dtype=np.float64)
    return np.asarray(turned * np.array([[scale], [scale], [1.0]]))


class _Walk:
    """The objects of a page, those of forms within it too."""

    def __init__(self, name: str) -> None:
        self._name = name
        self._objects = self._segments = 0
        self.text = self.pictures = 0

    def drawn(self, page: Any, on: Floats) -> Iterator[DrawnPath]:
        for n in range(raw.FPDFPage_CountObjects(page)):
            yield from self._object(raw.FPDFPage_GetObject(page, n), on, 0)

    def _object(self, thing: Any, on: Floats, depth: int) -> Iterator[DrawnPath]:
        self._objects += 1
        if self._objects > MAX_OBJECTS or depth > MAX_DEPTH:
            raise bad(
                f"{self._name} draws more than {MAX_OBJECTS:,} things.", "Leave out what is not needed."
            )
        if self._objects % 256 == 0:
            check()
        kind = raw.FPDFPageObj_GetType(thing)
        if kind == raw.FPDF_PAGEOBJ_FORM:
            inner = on @ _matrix(thing)
            for n in range(raw.FPDFFormObj_CountObjects(thing)):
                yield from self._object(raw.FPDFFormObj_GetObject(thing, n), inner, depth + 1)
        elif kind == raw.FPDF_PAGEOBJ_PATH:
            yield from self._path(thing, on @ _matrix(thing))
        self.text += kind == raw.FPDF_PAGEOBJ_TEXT
        self.pictures += kind in (raw.FPDF_PAGEOBJ_IMAGE, raw.FPDF_PAGEOBJ_SHADING)

    def _path(self, thing: Any, on: Floats) -> Iterator[DrawnPath]:
        fill, stroke = ctypes.c_int(), ctypes.c_int()
        raw.FPDFPath_GetDrawMode(thing, fill, stroke)
        if not fill.value and not stroke.value:
            return
        verbs: list[int] = []
        points: list[tuple[float, float]] = []
        closed: set[int] = set()
        x, y = ctypes.c_float(), ctypes.c_float()
        count = raw.FPDFPath_CountSegments(thing)
        self._segments += count
        if self._segments > MAX_SEGMENTS:
            raise bad(f"{self._name} has more than {MAX_SEGMENTS:,} points.", "Simplify it first.")
        contours = 0
        curve = 0
        for n in range(count):
            segment = raw.FPDFPath_GetPathSegment(thing, n)
            raw.FPDFPathSegment_GetPoint(segment, x, y)
            kind = raw.FPDFPathSegment_GetType(segment)
            if kind == raw.FPDF_SEGMENT_BEZIERTO:
                curve += 1
                if curve == 1:
                    verbs.append(CUBIC)
                curve %= 3
            else:
                verbs.append(MOVE if kind == raw.FPDF_SEGMENT_MOVETO else LINE)
                contours += kind == raw.FPDF_SEGMENT_MOVETO
            points.append((x.value, y.value))
            if raw.FPDFPathSegment_GetClose(segment):
                closed.add(contours - 1)
        if not verbs or verbs[0] != MOVE or curve:
            return
        flat = np.array(points, dtype=np.float64)
        flat = flat @ on[:2, :2].T + on[:2, 2]
        if not np.isfinite(flat).all() or np.abs(flat).max() > 1e6:
            raise bad(f"{self._name} is drawn far outside its page.", "Save it again.")
        outline = _without_lone_moves(Outline(np.array(verbs, np.uint8), flat))
        if not outline:
            return
        if fill.value:
            area = filled_area(outline, fill.value == raw.FPDF_FILLMODE_ALTERNATE)
            yield DrawnPath(area, _colour(thing, raw.FPDFPageObj_GetFillColor), "")
        else:
            wide = ctypes.c_float()
            raw.FPDFPageObj_GetStrokeWidth(thing, wide)
            mm = wide.value * float(np.sqrt(abs(np.linalg.det(on[:2, :2]))))
            yield from areas_and_lines(
                outline, closed, _colour(thing, raw.FPDFPageObj_GetStrokeColor), "", mm
            )


def _without_lone_moves(outline: Outline) -> Outline:
    return Outline.joined(contour for contour in outline.contours() if len(contour.verbs) > 1)


def _matrix(thing: Any) -> Floats:
    found = raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetMatrix(thing, found):
        return np.eye(3)
    return np.array([[found.a, found.c, found.e], [found.b, found.d, found.f], [0, 0, 1]], dtype=np.float64)


def _colour(thing: Any, ask: Any) -> str:
    parts = [ctypes.c_uint() for _ in range(4)]
    if not ask(thing, *parts):
        return "#000000"
    return "#{:02X}{:02X}{:02X}".format(*(part.value for part in parts[:3]))
