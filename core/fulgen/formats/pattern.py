"""A pattern to print: a design at true size on as many pages of paper as it takes, written by fpdf2.

Pages overlap by a strip; where they meet there are crosses at the same places of the design on both, so that
they can be laid on each other and taped. Each page says which it is, and has a bar to measure: a printer that
scales is found out by it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import shapely
from fpdf import FPDF

from fulgen.budget import check
from fulgen.formats.drawn_sheet import USES
from fulgen.formats.paper import PAPERS, Paper
from fulgen.formats.pdf import new_document, painted, painted_mark, set_in_our_face, stroked
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement
from fulgen.parts.built_part import Mark
from fulgen.problem import Problem
from fulgen.recipe.evaluation import Evaluation
from fulgen.units import MM_PER_INCH, Unit

EDGE_MM = 12.0
"""Printers leave so much of a page's edge white, or less. (†)"""

FOOT_MM = 12.0
"""Room for the bar and the words below the pattern."""

OVERLAP_MM = 10.0
"""Pages share so much with their neighbours. (†)"""

MOST_PAGES = 200

_LINE_MM = 0.3
_CROSS_MM = 4.0
_GREY = 120


@dataclass(frozen=True)
class Pages:
    """How a design lies on pages: their size, whether they lie on their side, how many across and down, and
    what of the design the page in the corner shows; each further one is moved on by ``step``."""

    paper: tuple[float, float]
    across: int
    down: int
    first: Box
    step: tuple[float, float]

    def shown(self, column: int, row: int) -> Box:
        """What of the design a page shows."""
        box = self.first
        return Box(box.x + column * self.step[0], box.y + row * self.step[1], box.width, box.height)


def pages_for(box: Box, paper: Paper) -> Pages:
    """The pages that a box takes, on upright paper or on its side, whichever takes fewer. The design lies in
    their middle. Raises Problem "too-many-pages"."""
    wide, high = PAPERS[paper]
    found = [_pages(box, size) for size in ((wide, high), (high, wide))]
    best = min(found, key=lambda pages: pages.across * pages.down)
    if best.across * best.down > MOST_PAGES:
        raise Problem(
            "too-many-pages",
            f"At true size this takes {best.across * best.down:,} pages; a pattern has up to {MOST_PAGES}.",
            "Make the design smaller, or print it elsewhere from the PDF of a sheet.",
            "paper",
        )
    return best


def _pages(box: Box, paper: tuple[float, float]) -> Pages:
    room = (paper[0] - 2 * EDGE_MM, paper[1] - 2 * EDGE_MM - FOOT_MM)
    step = (room[0] - OVERLAP_MM, room[1] - OVERLAP_MM)
    counts = [
        max(1, math.ceil((side - OVERLAP_MM) / one - 1e-9))
        for side, one in zip((box.width, box.height), step, strict=True)
    ]
    whole = [count * one + OVERLAP_MM for count, one in zip(counts, step, strict=True)]
    x = box.x - (whole[0] - box.width) / 2
    y = box.y - (whole[1] - box.height) / 2
    return Pages(paper, counts[0], counts[1], Box(x, y, *room), step)


@dataclass(frozen=True, eq=False)
class _Thing:
    """A thing on the pattern: what is to be cut, or what is not, and the box around it."""

    thing: Outline | Mark
    box: Box


def write_pattern(title: str, evaluation: Evaluation, paper: Paper = "a4") -> bytes:
    """The design as it is cut, as PDF: what is cut as lines, areas that are engraved in grey, lines that are
    scored dashed. Pages with nothing on them are left out. Raises Problem "too-many-pages", "no-letters"."""
    things = list(_things(evaluation))
    if not things:
        raise Problem("no-letters", "There is nothing to print yet.", "Type a word, or add a shape.")
    boxes = shapely.total_bounds([_rectangle(one.box) for one in things])
    box = Box(boxes[0], boxes[1], boxes[2] - boxes[0], boxes[3] - boxes[1])
    pages = pages_for(box, paper)
    pdf = new_document(f"{title}, pattern", pages.paper)
    set_in_our_face(pdf, [title])
    wanted = []
    for row in range(pages.down):
        for column in range(pages.across):
            shown = _rectangle(pages.shown(column, row))
            on_it = [one for one in things if shapely.intersects(shown, _rectangle(one.box))]
            if on_it:
                wanted.append((column, row, on_it))
    for number, (column, row, on_it) in enumerate(wanted, 1):
        check()
        pdf.add_page()
        _draw(pdf, pages.shown(column, row), on_it)
        _meet(pdf, pages, column, row)
        _foot(pdf, pages, f"{title}. {_place(pages, column, row)}page {number} of {len(wanted)}",
              evaluation.recipe.unit)  # fmt: skip
    return bytes(pdf.output())


def _things(evaluation: Evaluation) -> Iterator[_Thing]:
    seen = Placement(flip=evaluation.recipe.mirror)
    whole = evaluation.whole()
    for one in (one for use in USES for one in whole.marks if one.mark.use == use):
        mark = replace(one.mark, outline=seen.outline(one.mark.outline))
        yield _Thing(mark, measure.box(mark.outline))
    for piece in whole.pieces:
        outline = seen.outline(piece.outline)
        yield _Thing(outline, measure.box(outline))


def _rectangle(box: Box) -> shapely.Polygon:
    return shapely.box(box.x, box.y, box.right, box.bottom)


def _draw(pdf: FPDF, shown: Box, things: Sequence[_Thing]) -> None:
    by = (EDGE_MM - shown.x, EDGE_MM - shown.y)
    with pdf.rect_clip(EDGE_MM, EDGE_MM, shown.width, shown.height), pdf.drawing_context() as context:
        for one in things:
            if isinstance(one.thing, Outline):
                context.add_item(stroked(painted(one.thing.placed(*by)), "cut", _LINE_MM))
                continue
            path = painted_mark(replace(one.thing, outline=one.thing.outline.placed(*by)), _LINE_MM)
            if one.thing.use == "score":
                path.style.stroke_dash_pattern = [3.0, 2.0]
            context.add_item(path)


def _meet(pdf: FPDF, pages: Pages, column: int, row: int) -> None:
    """The edges of what the page shows, and crosses where it meets others: at the middle of the strip that
    both show, near its ends."""
    shown = pages.shown(column, row)
    pdf.set_draw_color(_GREY)
    pdf.set_line_width(0.15)
    pdf.rect(EDGE_MM, EDGE_MM, shown.width, shown.height)
    half = OVERLAP_MM / 2
    left, top = EDGE_MM + half, EDGE_MM + half
    right, bottom = EDGE_MM + shown.width - half, EDGE_MM + shown.height - half
    sides = (
        (column > 0, [(left, top + 20), (left, bottom - 20)]),
        (column + 1 < pages.across, [(right, top + 20), (right, bottom - 20)]),
        (row > 0, [(left + 20, top), (right - 20, top)]),
        (row + 1 < pages.down, [(left + 20, bottom), (right - 20, bottom)]),
    )
    for x, y in (at for meets, places in sides if meets for at in places):
        pdf.line(x - _CROSS_MM, y, x + _CROSS_MM, y)
        pdf.line(x, y - _CROSS_MM, x, y + _CROSS_MM)
        pdf.circle(x, y, _CROSS_MM / 2)


def _place(pages: Pages, column: int, row: int) -> str:
    """Where a page lies among all: rows by letters, columns by numbers."""
    if pages.across * pages.down == 1:
        return ""
    letters = ""
    n = row
    while n >= 0:
        letters = chr(ord("A") + n % 26) + letters
        n = n // 26 - 1
    return f"{letters}{column + 1}, "


def _foot(pdf: FPDF, pages: Pages, words: str, unit: Unit) -> None:
    """A bar to measure, and what the page is."""
    long, says = (100.0, "100 mm") if unit == "mm" else (4 * MM_PER_INCH, "4 in")
    wide, high = pages.paper
    y = high - EDGE_MM - 2.0
    pdf.set_draw_color(0)
    pdf.set_line_width(0.3)
    pdf.line(EDGE_MM, y, EDGE_MM + long, y)
    for n in range(5):
        x = EDGE_MM + n * long / 4
        pdf.line(x, y - (3.0 if n % 4 == 0 else 1.5), x, y)
    pdf.set_font("nunito", size=9)
    pdf.text(EDGE_MM + long + 2.0, y, f"{says}: measure it")
    pdf.set_xy(EDGE_MM, y - 9.0)
    pdf.cell(wide - 2 * EDGE_MM, 4.0, words)
