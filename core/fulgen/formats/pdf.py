"""PDF: a sheet at true size, one page, outlines filled or as lines; written by fpdf2, read by PDFium.

A point of PDF's user space is 1/72 inch (ISO 32000-1, section 8.3.2.3).
"""

from __future__ import annotations

import datetime
from collections.abc import Iterable

from fpdf import FPDF
from fpdf.drawing import PaintedPath
from fpdf.enums import PathPaintRule

from fulgen.formats import pdf_in
from fulgen.formats.carried import FILE_IN_PDF, for_pdf
from fulgen.formats.drawn_path import ReadRequest
from fulgen.formats.drawn_sheet import USE_COLOURS, USES, DrawnSheet, ReadSheet, as_steps
from fulgen.formats.read_back import read_back
from fulgen.geometry.outline import Outline
from fulgen.lettering.catalogue import FACES_DIR
from fulgen.lettering.writing_systems import SYSTEMS
from fulgen.parts.built_part import Mark
from fulgen.parts.part import Use
from fulgen.problem import Problem
from fulgen.units import MM_PER_INCH

MOST_MM = 14_400 * MM_PER_INCH / 72
"""The longest page that readers take (ISO 32000-1, annex C.2)."""

MADE = datetime.datetime(2000, 1, 1, tzinfo=datetime.UTC)
"""A fixed moment, so that the same sheet gives the same file."""


def write_sheet(drawn: DrawnSheet, _tolerance: float) -> bytes:
    """The sheet as a page of its size. Raises Problem "no-room" for a longer page than readers take."""
    if max(drawn.width, drawn.height) > MOST_MM:
        raise Problem(
            "no-room",
            "A page of a PDF can be up to 5 m long.",
            "Cut fewer copies at once, or take another kind of file.",
        )
    plain = _page(drawn)
    if drawn.design is None:
        return plain
    seen = pdf_in.read(plain, drawn.name, ReadRequest()).drawn
    return _page(drawn, for_pdf(drawn.about.title, drawn.design, seen))


def _page(drawn: DrawnSheet, carried: bytes | None = None) -> bytes:
    """The page of a sheet, with the recipe that it carries."""
    page = new_document(drawn.about.title, (drawn.width, drawn.height))
    if carried is not None:
        page.embed_file(
            basename=FILE_IN_PDF, bytes=carried, mime_type="application/json", modification_date=MADE,
            creation_date=MADE, desc="The recipe of this design, for Fulgen",
        )  # fmt: skip
    page.set_subject(drawn.about.description)
    page.add_page()
    with page.drawing_context() as context:
        for mark in (mark for use in USES for mark in drawn.marks(use)):
            context.add_item(painted_mark(mark, drawn.line_mm))
        for piece in drawn.pieces:
            path = painted(piece)
            context.add_item(
                stroked(path, "cut", drawn.hairline_mm) if drawn.hairline_mm else filled(path, drawn.colour)
            )
        for help_line in drawn.weeding_cuts:
            path = PaintedPath()
            path.style.stroke_color = "#808080"
            path.style.stroke_width = 0.1
            path.style.paint_rule = PathPaintRule.STROKE
            path.move_to(*help_line[0].tolist())
            for x, y in help_line[1:].tolist():
                path.line_to(x, y)
            context.add_item(path)
    return bytes(page.output())


def new_document(title: str, paper: str | tuple[float, float]) -> FPDF:
    """A document of pages without margins that end where they end."""
    document = FPDF(unit="mm", format=paper)
    document.set_creation_date(MADE)
    document.set_title(title)
    document.set_creator("Fulgen")
    document.set_margin(0)
    document.set_auto_page_break(False)
    return document


_ALSO = "comfortaa/Comfortaa"
_OTHER_ALPHABETS = {
    "Arabic": "el-messiri/ElMessiri",
    "Hebrew": "fredoka/Fredoka",
    "Devanagari": "baloo-2/Baloo2",
    "Thai": "mali/Mali",
    "Armenian": "noto-sans-armenian/NotoSansArmenian",
    "Georgian": "noto-sans-georgian/NotoSansGeorgian",
}
"""The faces, all of which ship with Fulgen, in which words are set that the face of the page has not got: one
for Vietnamese, Cyrillic and Greek letters, and one each for those of other writing systems."""


def set_in_our_face(page: FPDF, texts: Iterable[str]) -> None:
    """The text of a page is set in "nunito", and what that has not in another face, so that names stand there
    as they are written. ``texts``: the names among what is to stand there."""
    letters = set().union(*texts)
    for name, subset in (("nunito", "latin"), ("nunito-ext", "latin-ext")):
        file = FACES_DIR / "nunito" / f"nunito-{subset}-wght-normal.ttf"
        page.add_font(name, fname=file, variations={"": {"wght": 450.0}, "B": {"wght": 750.0}})
    written = [system.name for system in SYSTEMS if any(map(system.has, letters))]
    others = [face for name, face in _OTHER_ALPHABETS.items() if name in written]
    for other in (_ALSO, *others):
        for style, weight in (("", "400Regular"), ("B", "700Bold")):
            page.add_font(other, style, FACES_DIR / f"{other}_{weight}.ttf")
    page.set_fallback_fonts(["nunito-ext", _ALSO, *others], exact_match=True)
    page.set_text_shaping(bool(others))


def filled(path: PaintedPath, colour: str) -> PaintedPath:
    """The path filled."""
    path.style.fill_color = colour
    path.style.paint_rule = PathPaintRule.FILL_NONZERO
    return path


def painted_mark(mark: Mark, width: float) -> PaintedPath:
    """What is not cut, as its use is seen: an area filled, or lines so wide."""
    path = painted(mark.outline, mark.closed)
    is_area = mark.use == "engrave"
    return filled(path, USE_COLOURS["engrave"]) if is_area else stroked(path, mark.use, width)


def stroked(path: PaintedPath, use: Use, width: float) -> PaintedPath:
    """The path as a line, in the colour of its use."""
    path.style.stroke_color = USE_COLOURS[use]
    path.style.stroke_width = width
    path.style.paint_rule = PathPaintRule.STROKE
    return path


def painted(outline: Outline, closed: bool = True) -> PaintedPath:
    """An outline as a path of fpdf2's."""
    path = PaintedPath()
    path.style.auto_close = closed
    for n, (kind, points) in enumerate(as_steps(outline)):
        if kind == 0:
            if n and closed:
                path.close()
            path.move_to(*points.tolist())
        elif kind == 1:
            path.line_to(*points.tolist())
        else:
            path.curve_to(*points.ravel().tolist())
    if closed:
        path.close()
    return path


def read_sheet(data: bytes, tolerance: float) -> ReadSheet:
    """What the page fills, or encloses by lines to be cut, what else it draws, and how large it is."""
    return read_back(*pdf_in.page_size(data), pdf_in.read(data, "sheet.pdf", ReadRequest()).drawn, tolerance)
