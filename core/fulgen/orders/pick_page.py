"""The pick list to print: each copy of each row with its sheet and a box to tick, as PDF."""

from __future__ import annotations

from collections.abc import Sequence

from fpdf.enums import TableCellFillMode, TableHeadingsDisplay
from fpdf.fonts import FontFace

from fulgen.budget import check
from fulgen.formats.paper import PAPERS, Paper
from fulgen.formats.pdf import new_document, set_in_our_face
from fulgen.orders.laying import Pick
from fulgen.orders.proof import printable
from fulgen.readiness.films import colour_word

_EDGE_MM = 12.0
_HEADINGS = ("", "Row", "Words", "Sheet", "Film", "Across, down")
_SHARES = (4, 7, 36, 30, 12, 17)
_SHADE = (245, 241, 232)


def write_pick_page(title: str, picks: Sequence[Pick], paper: Paper = "a4") -> bytes:
    """All picks, in the order of the list, on as many pages as it takes."""
    wide, high = PAPERS[paper]
    pdf = new_document(f"{title}, pick list", (wide, high))
    set_in_our_face(pdf, [title, *(pick.words for pick in picks), *(pick.reasons for pick in picks)])
    pdf.set_margins(_EDGE_MM, _EDGE_MM)
    pdf.set_auto_page_break(True, _EDGE_MM)
    pdf.add_page()
    pdf.set_font("nunito", "B", 14)
    pdf.cell(0, 9, printable(pdf, title), new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("nunito", "", 9)
    with pdf.table(
        col_widths=_SHARES, line_height=5.5, text_align="LEFT", borders_layout="HORIZONTAL_LINES",
        cell_fill_color=_SHADE, cell_fill_mode=TableCellFillMode.ROWS,
        headings_style=FontFace(emphasis="BOLD"), repeat_headings=TableHeadingsDisplay.ON_TOP_OF_EVERY_PAGE,
    ) as table:  # fmt: skip
        table.row(_HEADINGS)
        for pick in picks:
            check()
            said = pick.words + (f" ({pick.copy})" if pick.copy > 1 else "")
            place = f"{pick.x_mm:.0f}, {pick.y_mm:.0f} mm" if pick.sheet else ""
            film = colour_word(pick.film) if pick.film else ""
            row = ("[  ]" if pick.sheet else "", str(pick.row), said, pick.sheet or _why(pick), film, place)
            table.row([printable(pdf, cell) for cell in row])
    return bytes(pdf.output())


def _why(pick: Pick) -> str:
    return pick.reasons or "on no sheet"
