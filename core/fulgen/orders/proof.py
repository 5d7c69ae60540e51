"""The proof of an order: every name as it will be, with its number, size and film, and a line to sign, as
PDF."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from fpdf import FPDF
from fpdf.enums import MethodReturnValue
from fpdf.fonts import TTFFont

from fulgen.budget import check
from fulgen.formats.drawn_sheet import HAIRLINE_MM
from fulgen.formats.paper import PAPERS, Paper
from fulgen.formats.pdf import filled, new_document, painted, painted_mark, set_in_our_face
from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement
from fulgen.orders.picture import seen
from fulgen.orders.working import WorkedRow
from fulgen.readiness.films import colour_word

_EDGE_MM = 12.0
_ACROSS, _DOWN = 2, 5
_FOOT_MM = 26.0
_WORDS_MM = 17.0
"""What the words of a card take of its height."""


def write_proof(title: str, worked: Sequence[WorkedRow], paper: Paper = "a4") -> bytes:
    """All rows, ten on a page, those that cannot be made with the reason; at the foot of each page where to
    sign."""
    wide, high = PAPERS[paper]
    pdf = new_document(f"{title}, proof", (wide, high))
    set_in_our_face(
        pdf, [title, *(row.row.words for row in worked), *(" ".join(row.reasons) for row in worked)]
    )
    card = (wide - 2 * _EDGE_MM) / _ACROSS, (high - 2 * _EDGE_MM - _FOOT_MM) / _DOWN
    on_a_page = _ACROSS * _DOWN
    pages = max(1, -(-len(worked) // on_a_page))
    for page in range(pages):
        check()
        pdf.add_page()
        for place, row in enumerate(worked[page * on_a_page : (page + 1) * on_a_page]):
            x = _EDGE_MM + place % _ACROSS * card[0]
            y = _EDGE_MM + place // _ACROSS * card[1]
            _card(pdf, row, (x, y), card)
        _foot(pdf, f"{title}. Page {page + 1} of {pages}", wide, high)
    return bytes(pdf.output())


def _card(pdf: FPDF, worked: WorkedRow, at: tuple[float, float], size: tuple[float, float]) -> None:
    (x, y), (wide, high) = at, size
    draw_row(pdf, worked, (x + 3, y + 2), (wide - 6, high - _WORDS_MM - 4))
    top = y + high - _WORDS_MM
    pdf.set_text_color(35, 32, 28)
    pdf.set_font("nunito", "B", 10)
    pdf.set_xy(x + 3, top)
    pdf.cell(wide - 6, 5, _shortened(pdf, f"{worked.row.number}  {worked.row.words}", wide - 6))
    pdf.set_font("nunito", "", 8)
    pdf.set_xy(x + 3, top + 5)
    words = printable(pdf, "\n".join(_lines(worked)))
    lines = pdf.multi_cell(wide - 6, 3.6, words, align="L", dry_run=True, output=MethodReturnValue.LINES)
    assert isinstance(lines, list)
    pdf.multi_cell(wide - 6, 3.6, "\n".join(lines[:3]), align="L")


def printable(pdf: FPDF, text: str) -> str:
    """The text with a sign in place of letters that the page's faces have not got."""
    known = [font.cmap for font in pdf.fonts.values() if isinstance(font, TTFFont)]
    return "".join(sign if any(ord(sign) in cmap for cmap in known) else "\N{MIDDLE DOT}" for sign in text)


def _lines(worked: WorkedRow) -> list[str]:
    reasons = " ".join(worked.reasons)
    if worked.caption is None:
        return [reasons or "There is no name in this row."]
    films = ", ".join(dict.fromkeys(colour_word(motif.film) for motif in worked.motifs))
    pieces = f"{worked.caption.size}, {films}"
    copies = worked.row.copies
    return [f"{pieces}, {copies} times" if copies > 1 else pieces, *([reasons] if reasons else [])]


def draw_row(pdf: FPDF, worked: WorkedRow, at: tuple[float, float], size: tuple[float, float]) -> None:
    """The row as it is seen, also where it is cut from the back; as large as there is room, and no larger
    than it is."""
    shapes, marks = seen(worked)
    if not shapes and not marks:
        return
    box = measure.box(
        Outline.joined([*(outline for _, outline in shapes), *(mark.outline for mark in marks)])
    )
    scale = min(size[0] / max(box.width, 1e-6), size[1] / max(box.height, 1e-6), 1.0)
    place = Placement(
        at[0] + (size[0] - box.width * scale) / 2 - box.x * scale,
        at[1] + (size[1] - box.height * scale) / 2 - box.y * scale, 0.0, scale,
    )  # fmt: skip
    with pdf.drawing_context() as context:
        for film, outline in shapes:
            context.add_item(filled(painted(place.outline(outline)), film))
        for mark in marks:
            context.add_item(painted_mark(replace(mark, outline=place.outline(mark.outline)), HAIRLINE_MM))


def _foot(pdf: FPDF, words: str, wide: float, high: float) -> None:
    pdf.set_draw_color(120)
    pdf.set_line_width(0.2)
    y = high - _EDGE_MM - 8
    pdf.line(_EDGE_MM, y, _EDGE_MM + 60, y)
    pdf.line(_EDGE_MM + 70, y, _EDGE_MM + 110, y)
    pdf.set_font("nunito", "", 8)
    pdf.set_text_color(90)
    for x, text in ((_EDGE_MM, "To be cut so: name"), (_EDGE_MM + 70, "Date")):
        pdf.set_xy(x, y + 1)
        pdf.cell(60, 4, text)
    pdf.set_xy(_EDGE_MM, high - _EDGE_MM)
    pdf.cell(wide - 2 * _EDGE_MM, 4, words)


def _shortened(pdf: FPDF, text: str, width: float) -> str:
    text = printable(pdf, text)
    if pdf.get_string_width(text) <= width - 2:
        return text
    while text and pdf.get_string_width(f"{text}…") > width - 2:
        text = text[:-1]
    return f"{text}…"
