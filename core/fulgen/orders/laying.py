"""The rows of an order laid on sheets together, film by film, and the list by which they are picked."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import shapely
import shapely.affinity

from fulgen.orders.numbers import NumberPlace, numbered
from fulgen.orders.plan import AS_THE_DESIGN, OrderPlan
from fulgen.orders.working import WorkedRow
from fulgen.recipe.model import Recipe
from fulgen.roots import bisect
from fulgen.sheet.motifs import Motif
from fulgen.sheet.sheets import LaidMotif, LaidSheet, Sheet, laid_out, sheet_with, validate_copies

MOST_PIECES = 6_000
"""So many copies of rows are laid at once."""


def motifs_to_lay(worked: Sequence[WorkedRow], plan: OrderPlan, place: NumberPlace = "corner") -> list[Motif]:
    """What is cut of all rows that could be made, with their numbers where these are wanted."""
    if plan.numbers == "none":
        return [motif for row in worked for motif in row.motifs]
    return [numbered(motif, row.row.number, plan.numbers, place) for row in worked for motif in row.motifs]


def sheets_of_order(
    worked: Sequence[WorkedRow], design: Recipe, plan: OrderPlan = AS_THE_DESIGN
) -> list[LaidSheet]:
    """All rows that could be made, on as many sheets of their films as they need. Raises Problem as
    ``laid_out`` does."""
    motifs = motifs_to_lay(worked, plan)
    cut = replace(design.cut, laid=())
    if plan.arrangement == "closely":
        # With its packing library: imported when it is wanted.
        from fulgen.sheet.nest import copies_by_film, nested_sheets

        validate_copies(motifs, MOST_PIECES)
        by_film = copies_by_film(motifs, cut)
        return nested_sheets(by_film, partial(plan.sheet_of, design), cut, plan.turns, design.unit)
    in_rows = laid_out(motifs, partial(plan.sheet_of, design), cut, design.unit, MOST_PIECES)
    # Between staggered rows there is room below a piece; in the corners of its box lie its neighbours.
    below = dict(zip(map(id, motifs), motifs_to_lay(worked, plan, "below"), strict=True))
    return _staggered_where_it_saves(in_rows, below, design, plan)


def _staggered_where_it_saves(
    in_rows: Sequence[LaidSheet], below: Mapping[int, Motif], design: Recipe, plan: OrderPlan
) -> list[LaidSheet]:
    """The sheets of each film with their rows staggered, where all its pieces are of one shape, as rings
    are, and less film is taken so. ``below``: each motif with its number below, by the id of that which was
    laid in rows."""
    found: list[LaidSheet] = []
    for film in dict.fromkeys(sheet.film for sheet in in_rows):
        own = [sheet for sheet in in_rows if sheet.film == film]
        sheet = plan.sheet_of(design, film)
        pieces = [replace(laid, motif=below[id(laid.motif)]) for one in own for laid in one.motifs]
        staggered = in_staggered_rows(pieces, sheet)
        if staggered:
            anew = [sheet_with(film, sheet, laid, design.cut) for laid in staggered]
            own = min(own, anew, key=lambda sheets: (len(sheets), sum(one.reach_mm for one in sheets)))
        found += own
    return found


_ONE_SHAPE = 0.02
"""Pieces whose boxes differ by less than this share are of one shape. (†)"""


def in_staggered_rows(motifs: Sequence[LaidMotif], sheet: Sheet) -> list[list[LaidMotif]]:
    """Pieces of one shape in rows, every other row moved by half a piece and as near to the one above as the
    room between pieces allows: as circles lie closest (Lagrange, 1773). None where they are not of one
    shape."""
    wide = max(one.motif.box.width for one in motifs)
    high = max(one.motif.box.height for one in motifs)
    least = min(min(one.motif.box.width / wide, one.motif.box.height / high) for one in motifs)
    if least < 1 - _ONE_SHAPE:
        return []
    usable, spacing = sheet.usable, sheet.spacing_mm
    hulls = [
        shapely.convex_hull(replace(one, x=0.0, y=0.0, turn=0.0).covers)
        for one in {id(one.motif): one for one in motifs}.values()
    ]
    body = shapely.convex_hull(shapely.union_all(hulls))
    left, top, right, bottom = body.bounds
    across = right - left + spacing

    def clear(down: float) -> float:
        # The two below are half a piece to the left and to the right; the row after that lies below this one.
        others = [(-across / 2, down), (across / 2, down), (0.0, 2 * down)]
        return min(shapely.distance(body, shapely.affinity.translate(body, *by)) for by in others) - spacing

    down = bottom - top + spacing
    if clear(0.0) < 0 <= clear(down):
        down = bisect(lambda d: clear(d) < 0, 0.0, down, 1e-4)[1]
    in_even = int((usable.width + spacing + 1e-9) // across)
    in_odd = int((usable.width - across / 2 + spacing + 1e-9) // across)
    rows = int((usable.height - (bottom - top) + 1e-9) // down) + 1
    if in_even < 1 or rows < 1:
        return []
    places = [
        (usable.x - left + across * (n + 0.5 * (row % 2)), usable.y - top + down * row)
        for row in range(rows)
        for n in range(in_odd if row % 2 else in_even)
    ]
    return [
        [replace(one, x=x, y=y, turn=0.0) for one, (x, y) in zip(motifs[at:], places, strict=False)]
        for at in range(0, len(motifs), len(places))
    ]


def has_room(sheet: LaidSheet) -> bool:
    """Whether one more piece, as low as the lowest on it, would find room at the end of a sheet."""
    lowest = min((one.motif.box.height for one in sheet.motifs), default=0.0)
    return room_left(sheet) >= lowest + sheet.sheet.spacing_mm


def room_left(sheet: LaidSheet) -> float:
    """How much is left at the end of a sheet, in mm."""
    return max(0.0, sheet.sheet.height_mm - sheet.sheet.margin_mm - sheet.reach_mm)


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
