"""The job ticket: one printable page that goes with a job, as PDF.

It shows each sheet to scale, the words, face and size, films and pieces, what the shop knows of pressing, and
a list to tick off.
"""

from collections.abc import Sequence
from dataclasses import replace

from fpdf import FPDF
from fpdf.fonts import FontFace

from designs import shop
from designs.models import PressTest
from fulgen.formats.drawn_sheet import about_of
from fulgen.formats.pdf import filled, new_document, painted, painted_mark, set_in_our_face
from fulgen.readiness.films import film_name
from fulgen.recipe.evaluation import Evaluation
from fulgen.sheet.checklist import Point, side_up
from fulgen.sheet.sheets import Job
from fulgen.units import Unit, show_length

_WIDE, _EDGE = 210.0, 14.0
_INK, _SOFT, _RULE = (35, 32, 28), (107, 99, 88), (228, 220, 203)
_MOST_PICTURES = 6
_LINE_MM = 0.2
_PICTURE_MM = 78.0
_COLUMNS = (10, 34, 40, 22, 66)

_STEPS = (
    "Film lies as the ticket says, and the rollers hold it",
    "Blade, pressure and a test cut are right",
    "Cut, weeded, and all pieces counted",
    "Pressed or laid, and looked at in daylight",
)


def ticket_pdf(name: str, evaluation: Evaluation, jobs: Sequence[Job], points: Sequence[Point]) -> bytes:
    """The ticket of a design's sheets."""
    page = new_document(f"{name}, job ticket", "A4")
    set_in_our_face(page, [name, about_of(name, evaluation).words])
    page.set_margin(_EDGE)
    page.set_auto_page_break(True, _EDGE)
    page.add_page()
    _head(page, name, evaluation)
    _pictures(page, evaluation, jobs)
    _films(page, evaluation, jobs)
    _pressing(page, evaluation, jobs)
    _list(page, points)
    return bytes(page.output())


def _text(page: FPDF, size: float, words: str, style: str = "", ink: tuple[int, int, int] = _INK) -> None:
    page.set_font("nunito", style, size)
    page.set_text_color(*ink)
    page.multi_cell(0, size * 0.47, words, new_x="LMARGIN", new_y="NEXT")


def _heading(page: FPDF, words: str) -> None:
    page.ln(3)
    _text(page, 11, words, "B")
    page.ln(1)


def _head(page: FPDF, name: str, evaluation: Evaluation) -> None:
    about = about_of(name, evaluation)
    _text(page, 20, name, "B")
    page.ln(1)
    lines = [
        about.words and f"Words: {about.words}",
        about.face and f"Face: {about.face}",
        f"Size: {about.size}",
    ]
    mirrored = "mirrored, cut from the back" if evaluation.recipe.mirror else "cut as it reads"
    _text(page, 10, "   ".join(line for line in [*lines, mirrored] if line), ink=_SOFT)
    page.ln(2)


def _pictures(page: FPDF, evaluation: Evaluation, jobs: Sequence[Job]) -> None:
    """The sheets, all at one scale."""
    shown = jobs[:_MOST_PICTURES]
    columns = 1 if len(shown) == 1 else 2 if len(shown) < 5 else 3
    room = (_WIDE - 2 * _EDGE - 6 * (columns - 1)) / columns
    high = _PICTURE_MM if len(shown) <= columns else _PICTURE_MM * 0.62
    sheets = [job.laid.sheet for job in shown]
    scale = min(
        min(room / sheet.width_mm for sheet in sheets), min(high / sheet.height_mm for sheet in sheets)
    )
    top = page.get_y()
    for start in range(0, len(shown), columns):
        row = shown[start : start + columns]
        deep = max(job.laid.sheet.height_mm for job in row) * scale
        for n, job in enumerate(row):
            x = _EDGE + n * (room + 6)
            _picture(page, job, x, top, scale)
            page.set_xy(x, top + deep + 1)
            page.set_font("nunito", "", 8)
            page.set_text_color(*_SOFT)
            number = start + n + 1
            page.cell(
                room, 4, f"{number}. {film_name(evaluation.recipe, job.laid.film)}, 1 : {1 / scale:.1f}"
            )
        top += deep + 8
    page.set_xy(_EDGE, top)
    if len(jobs) > len(shown):
        _text(page, 9, f"{len(jobs) - len(shown)} more sheets are not shown.", ink=_SOFT)


def _picture(page: FPDF, job: Job, x: float, y: float, scale: float) -> None:
    sheet = job.laid.sheet
    page.set_draw_color(*_SOFT)
    page.set_line_width(0.2)
    page.rect(x, y, sheet.width_mm * scale, sheet.height_mm * scale)
    with page.drawing_context() as context:
        for laid in job.laid.motifs:
            path = painted(laid.whole.outline.placed(x, y, scale))
            context.add_item(filled(path, laid.motif.film))
            for mark in laid.uncut:
                there = replace(mark, outline=mark.outline.placed(x, y, scale))
                context.add_item(painted_mark(there, _LINE_MM))
    page.set_font("nunito", "B", 7)
    page.set_text_color(*_INK)
    for laid, number in zip(job.laid.motifs[:60], job.numbers, strict=False):
        box = laid.whole.box
        page.text(x + box.x * scale, max(y + 2.5, y + box.y * scale - 0.6), str(number))


def _films(page: FPDF, evaluation: Evaluation, jobs: Sequence[Job]) -> None:
    _heading(page, "Films and pieces")
    unit = evaluation.recipe.unit
    page.set_font("nunito", "", 9)
    page.set_text_color(*_INK)
    page.set_draw_color(*_RULE)
    with page.table(
        col_widths=_COLUMNS, text_align="LEFT", line_height=4.6, headings_style=FontFace(emphasis="BOLD"),
        borders_layout="HORIZONTAL_LINES",
    ) as table:  # fmt: skip
        table.row(("", "Film", "Sheet", "Pieces", "How it lies"))
        for n, job in enumerate(jobs[:24], 1):
            sheet, laid = job.laid.sheet, job.laid
            size = f"{show_length(sheet.width_mm, unit)} × {show_length(sheet.height_mm, unit)}"
            marks = f" + {laid.mark_count} marks" if laid.mark_count else ""
            pieces = f"{len(laid.promised) - laid.mark_count}{marks}"
            material = evaluation.recipe.material_of(laid.film)
            mirrored = evaluation.recipe.mirrors(laid.film)
            other = "" if mirrored == material.mirrored else " Mirrored." if mirrored else " Not mirrored."
            side = f"{side_up(material)}{other}"
            table.row((str(n), film_name(evaluation.recipe, laid.film), size, pieces, side))


def _pressing(page: FPDF, evaluation: Evaluation, jobs: Sequence[Job]) -> None:
    for name in dict.fromkeys(evaluation.recipe.material_of(job.laid.film).name for job in jobs):
        note = shop.press_note(name)
        tests = PressTest.objects.filter(material=name)[:4]
        if note.degrees is None and not note.side and not tests:
            continue
        _heading(page, f"Pressing {name.lower()}")
        parts = [
            note.side, note.degrees and degrees(note.degrees, evaluation.recipe.unit),
            note.seconds and f"{note.seconds:g} s", note.passes > 1 and f"{note.passes} times",
            note.peel and f"peel {note.peel}", note.cover,
        ]  # fmt: skip
        _text(page, 10, ", ".join(str(part) for part in parts if part) or "No note yet.")
        for test in tests:
            sign = "Good" if test.good else "Warning"
            _text(page, 9, f"{sign}, {test.on.day} {test.on:%B %Y}: {test.words}", ink=_SOFT)


def degrees(celsius: float, unit: Unit) -> str:
    """A temperature in both scales, that of the maker's unit first."""
    both = (f"{celsius:.0f} °C", f"{celsius * 9 / 5 + 32:.0f} °F")
    first, second = both if unit == "mm" else both[::-1]
    return f"{first} ({second})"


def _list(page: FPDF, points: Sequence[Point]) -> None:
    _heading(page, "Check list")
    said = [f"{point.what} {point.todo}".strip() for point in points if point.state != "good"]
    for line in (*said, *_STEPS):
        y = page.get_y()
        page.set_draw_color(*_INK)
        page.set_line_width(0.25)
        page.rect(_EDGE, y + 0.8, 3.2, 3.2)
        page.set_xy(_EDGE + 5.5, y)
        page.set_font("nunito", "", 10)
        page.set_text_color(*_INK)
        page.multi_cell(0, 5, line, new_x="LMARGIN", new_y="NEXT")
        page.ln(0.8)
