"""The rows of an order laid on sheets together, film by film, and the list by which they are picked."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from fulgen.orders.working import WorkedRow
from fulgen.recipe.cutting import CutPlan, Turns
from fulgen.sheet.sheets import LaidMotif, LaidSheet, Sheet, laid_out
from fulgen.units import Unit

AS_IT_COMES = CutPlan()


def sheets_of_order(
    worked: Sequence[WorkedRow],
    sheet: Sheet,
    plan: CutPlan = AS_IT_COMES,
    turns: Turns | None = None,
    unit: Unit = "mm",
) -> list[LaidSheet]:
    """All rows that could be made, on as many sheets of their films as they need: in rows, or closely where
    turns says how they may be turned. Raises Problem as ``laid_out`` does, and "nesting"."""
    motifs = [motif for row in worked for motif in row.motifs]
    if turns is None:
        return laid_out(motifs, lambda _film: sheet, plan, unit)
    # With its packing library: imported when it is wanted.
    from fulgen.sheet.nest import copies_by_film, nested_sheets

    return nested_sheets(copies_by_film(motifs, plan), sheet, plan, turns, unit)


@dataclass(frozen=True)
class Pick:
    """Where one copy of a row lies: the sheet by its name, its film, and the middle of it from the sheet's
    top left corner, in mm; what else is said of the row. A row that is on no sheet has no sheet."""

    row: int
    words: str
    state: str
    reasons: str
    sheet: str = ""
    film: str = ""
    copy: int = 0
    x_mm: float = 0.0
    y_mm: float = 0.0


def pick_list(worked: Sequence[WorkedRow], sheets: Mapping[str, LaidSheet]) -> list[Pick]:
    """Each copy of each row with its place, in the order of the list. sheets are by their names."""
    by_title: dict[str, list[tuple[str, str, LaidMotif]]] = {}
    for name, sheet in sheets.items():
        for laid in sheet.motifs:
            by_title.setdefault(laid.motif.design, []).append((name, sheet.film, laid))
    picks = []
    for one in worked:
        said = (one.row.number, one.row.words, one.state, " ".join(one.reasons))
        places = sorted(by_title.get(one.row.title, []), key=lambda place: place[2].copy)
        picks += [
            Pick(*said, name, film, laid.copy + 1, round(laid.x, 1), round(laid.y, 1))
            for name, film, laid in places
        ]
        if not places:
            picks.append(Pick(*said))
    return picks


_PICK_HEADINGS = ("row", "words", "sheet", "film", "copy", "x_mm", "y_mm", "state", "reasons")


def pick_list_csv(picks: Sequence[Pick]) -> str:
    """The list as CSV (RFC 4180), to be ticked off. What a spreadsheet would take for a formula is a text
    there."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(_PICK_HEADINGS)
    for pick in picks:
        place = (
            (pick.sheet, pick.film, pick.copy, pick.x_mm, pick.y_mm) if pick.sheet else ("", "", "", "", "")
        )
        rows.writerow(map(_defused, (pick.row, pick.words, *place, pick.state, pick.reasons)))
    return out.getvalue()


def _defused(value: object) -> object:
    """A cell that no spreadsheet takes for a formula: those begin with one of these signs (OWASP, "CSV
    Injection")."""
    return f"'{value}" if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r") else value
