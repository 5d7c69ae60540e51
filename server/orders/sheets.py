"""The sheets of an order: its rows laid together, their files, and their jobs at the cutter.

How rows lie is kept as long as the rows and the plan are as they were: files, jobs and what is shown are of
the same sheets. What lies on a sheet that was cut is not laid again.
"""

from __future__ import annotations

import json
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, replace
from functools import cached_property
from typing import Any, get_args
from uuid import UUID

from django.db import transaction

from designs import shop
from designs.cutting import keep_job
from designs.models import CutJob
from fulgen.bounded import digest
from fulgen.formats.drawn_sheet import DrawnSheet, about_all, drawn_sheet
from fulgen.formats.file_names import safe_names
from fulgen.formats.sheet_files import Written, proven_files
from fulgen.orders.kept import unpacked
from fulgen.orders.laying import Pick, has_room, motifs_to_lay, pick_list, pick_list_csv, sheets_of_order
from fulgen.orders.numbers import NumberPlace, place_of_number
from fulgen.orders.proof import write_proof
from fulgen.orders.working import WorkedRow
from fulgen.problem import Problem
from fulgen.readiness.films import film_name
from fulgen.sheet.file_kinds import FileKind
from fulgen.sheet.machines import Machine
from fulgen.sheet.motifs import Motif
from fulgen.sheet.sheets import LaidMotif, LaidSheet, Sheet, sheet_with
from orders import keeping
from orders.dispatch import is_busy
from orders.models import CutSheet, Order, OrderRow, Stage

MADE = ("as-designed", "gave-way")

Placed = list[Any]
"""A copy as it is kept: row, copy, film, part, x, y, turn, and where its number lies."""

_KEPT_AS = 2
"""Goes up when what is kept of an arrangement changes: those kept before are worked out anew."""


def said_key(row: OrderRow) -> str:
    """A mark of what a row says: one that says something else since it was cut is to be cut anew."""
    return digest(json.dumps(row.values, sort_keys=True))


def copies_cut(order: Order, rows: Mapping[int, OrderRow]) -> dict[tuple[int, str], int]:
    """How many copies of rows, by their numbers, are on sheets that were cut, by the film of the design."""
    found: Counter[tuple[int, str]] = Counter()
    if not rows:
        return found
    for sheet in order.cut_sheets.all():
        for laid in sheet.laid:
            row = rows.get(laid["row"])
            if row is not None and laid["said"] == said_key(row):
                found[laid["row"], laid["film"]] += 1
    return found


class OrderWork:
    """An order with its rows as they were worked out, and the sheets that they are cut from."""

    def __init__(self, order: Order) -> None:
        self.order = order
        self.design = keeping.design_of(order)
        self.plan = keeping.plan_of(order)
        self.machine: Machine = shop.machine_named(self.plan.machine or self.design.cut.machine)
        self.rows = {row.number: row for row in order.rows.filter(removed=False).select_related("result")}
        self.worked = {number: _worked(row) for number, row in self.rows.items()}

    @cached_property
    def copies_cut(self) -> dict[tuple[int, str], int]:
        """How many copies of each row are on sheets that were cut, by the film of the design."""
        return copies_cut(self.order, self.rows)

    @cached_property
    def to_lay(self) -> list[WorkedRow]:
        """The rows that could be made, with as many copies as are not cut yet."""
        found = []
        for worked in self.worked.values():
            motifs = tuple(self._left(worked, motif) for motif in worked.motifs)
            motifs = tuple(motif for motif in motifs if motif.copies > 0)
            if motifs:
                found.append(replace(worked, motifs=motifs))
        return found

    def _left(self, worked: WorkedRow, motif: Motif) -> Motif:
        cut = self.copies_cut.get((worked.row.number, motif.film), 0)
        return replace(motif, copies=max(0, worked.row.copies - cut))

    @cached_property
    def key(self) -> str:
        """A mark of all that the arrangement hangs on."""
        rows = [
            f"{number} {row.made_key} {row.values.get('copies:', '')}" for number, row in self.rows.items()
        ]
        plan = asdict(replace(self.plan, give_way=type(self.plan.give_way)(), hold_back=False, machine=""))
        cut = sorted((*key, many) for key, many in self.copies_cut.items())
        return digest(json.dumps([_KEPT_AS, plan, cut, repr(self.design.cut)]), *rows)

    @cached_property
    def sheets(self) -> list[LaidSheet]:
        """All that is left to be cut, on its sheets. Raises Problem "rows-waiting" while rows are being
        worked out, and as ``sheets_of_order`` does."""
        if is_busy(self.order):
            waiting = sum(not row.made_key for row in self.rows.values())
            what = f"{waiting} rows are being worked out still." if waiting else "Rows are being worked out."
            raise Problem("rows-waiting", what, "Wait a moment, then lay them on sheets.")
        kept = self.order.laid
        if kept.get("key") == self.key:
            return list(self._as_kept(kept["sheets"]))
        laid = sheets_of_order(self.to_lay, self.design, self.plan) if self.to_lay else []
        self._keep(laid)
        return laid

    def _keep(self, laid: Sequence[LaidSheet]) -> None:
        sheets = [
            [sheet.film, asdict(sheet.sheet), [self._placed(one) for one in sheet.motifs]] for sheet in laid
        ]
        kept = {"key": self.key, "sheets": sheets}
        Order.objects.filter(pk=self.order.pk).update(laid=kept)

    def _placed(self, one: LaidMotif) -> Placed:
        row = row_number(one.motif)
        place = "corner" if self.plan.numbers == "none" else place_of_number(one.motif, row)
        return [row, one.copy, one.motif.film, one.motif.part, one.x, one.y, one.turn, place]

    def _as_kept(self, kept: Sequence[Any]) -> Iterator[LaidSheet]:
        motifs: dict[tuple[int, str, str, NumberPlace], Motif] = {}
        for place in get_args(NumberPlace):
            for motif in motifs_to_lay(self.to_lay, self.plan, place):
                motifs[row_number(motif), motif.film, motif.part, place] = motif
        for film, sheet, placed in kept:
            laid = [
                LaidMotif(motifs[row, own, part, place], x, y, turn, copy)
                for row, copy, own, part, x, y, turn, place in placed
            ]
            yield sheet_with(film, Sheet(**{**sheet, "roll": False}), laid, replace(self.design.cut, laid=()))

    def is_held_back(self, sheet: LaidSheet) -> bool:
        """Whether a sheet waits until it is full."""
        return self.plan.hold_back and has_room(sheet)

    def sheet(self, index: int, key: str) -> LaidSheet:
        """A sheet by its place, as it was shown. Raises Problem "other-sheet"."""
        if not 0 <= index < len(self.sheets) or self.sheets[index].cut_key(self.machine) != key:
            raise _changed()
        return self.sheets[index]

    @cached_property
    def first_number(self) -> int:
        """The number of the next sheet: those that were cut keep theirs."""
        return 1 + max((sheet.number for sheet in self.order.cut_sheets.all()), default=0)

    @cached_property
    def file_names(self) -> list[str]:
        """Names for the files of all sheets: of the order, the sheet and its film."""
        return safe_names([
            f"{self.order.name} sheet {n} {film_name(self.design, sheet.film)}"
            for n, sheet in enumerate(self.sheets, self.first_number)
        ])  # fmt: skip

    def drawn(self, index: int) -> DrawnSheet:
        """A sheet as its files draw it."""
        sheet = self.sheets[index]
        captions = [
            caption
            for number in dict.fromkeys(row_number(one.motif) for one in sheet.motifs)
            if (caption := self.worked[number].caption) is not None
        ]
        film = film_name(self.design, sheet.film)
        about = replace(about_all(captions, film), material=self.design.material_of(sheet.film).name)
        return drawn_sheet(self.file_names[index], sheet.job(self.machine), about, self.machine.hairline_mm)

    def files(self, kind: FileKind | None, index: int | None = None) -> list[Written]:
        """The files of all sheets that do not wait, or of one; of one kind, or of all that the machine reads;
        with the pick list where they are all. Raises Problem "not-as-promised", "no-sheets"."""
        wanted = [n for n, sheet in enumerate(self.sheets) if index == n or
                  (index is None and not self.is_held_back(sheet))]  # fmt: skip
        if not wanted:
            raise Problem(
                "no-sheets", "There is no sheet to be cut now.", "Add rows, or let none be held back."
            )
        kinds = [kind] if kind else list(self.machine.formats)
        found = [file for n in wanted for file in proven_files(self.drawn(n), kinds)[0]]
        if index is None:
            found.append(self.pick_list_csv())
        return found

    @cached_property
    def picks(self) -> list[Pick]:
        """Where each copy of each row lies, on sheets that are to be cut and on those that were."""
        names = {f"sheet {n}": sheet for n, sheet in enumerate(self.sheets, self.first_number)}
        picks = {
            (pick.row, pick.copy, pick.film): pick for pick in pick_list(list(self.worked.values()), names)
        }
        to_come: dict[int, list[Pick]] = defaultdict(list)
        for pick in picks.values():
            to_come[pick.row].append(pick)
        cut: dict[int, list[Pick]] = defaultdict(list)
        for sheet in self.order.cut_sheets.all():
            name = f"sheet {sheet.number}, cut"
            for laid in sheet.laid:
                row = self.rows.get(laid["row"])
                if row is None:
                    continue
                left, top, right, bottom = laid["box"]
                cut[row.number].append(Pick(
                    row.number, self.worked[row.number].row.words, row.state, " ".join(row.reasons), name,
                    sheet.film, laid["copy"] + 1, round((left + right) / 2, 1), round((top + bottom) / 2, 1),
                ))  # fmt: skip
        found = []
        for number in self.rows:
            # A row that was cut and is on no sheet to come is not missing.
            left = [pick for pick in to_come[number] if pick.sheet or not cut[number]]
            found += [*cut[number], *left]
        return found

    def pick_list_csv(self) -> Written:
        name = f"{safe_names([self.order.name])[0]}-pick-list.csv"
        return Written(name, "text/csv", pick_list_csv(self.picks).encode("utf-8-sig"))

    def pick_list_pdf(self) -> Written:
        from fulgen.orders.pick_page import write_pick_page  # with all that writes PDF

        data = write_pick_page(self.order.name, self.picks)
        return Written(f"{safe_names([self.order.name])[0]}-pick-list.pdf", "application/pdf", data)

    def proof(self) -> Written:
        """Every row as it will be, to be signed."""
        title = f"{self.order.name} for {self.order.customer}" if self.order.customer else self.order.name
        rows = [worked for worked in self.worked.values() if not worked.row.is_empty]
        name = f"{safe_names([self.order.name])[0]}-proof.pdf"
        return Written(name, "application/pdf", write_proof(title, rows))

    def pictures(self) -> list[Written]:
        """One picture of each row that could be made, as PNG."""
        from fulgen.orders.row_pictures import write_row_pictures  # with all that draws: when it is wanted

        rows = [worked for worked in self.worked.values() if worked.motifs]
        names = safe_names([worked.row.title for worked in rows])
        return [
            Written(f"{name}.png", "image/png", data)
            for name, data in zip(names, write_row_pictures(rows), strict=True)
        ]

    # --- at the cutter ------------------------------------------------------------------------------------

    def job(self, index: int, key: str, job_id: UUID) -> CutJob:
        """A job of a sheet, ready to start; what lies on it is not laid again. Asked for twice by the same
        id, it is one job. Raises Problem "other-sheet", "not-as-promised"."""
        sheet = self.sheet(index, key)
        number = self.first_number
        material = self.design.material_of(sheet.film)
        about = {"design": self.order.design, "sheet": number - 1, "noted": [], "order": self.order.pk}
        drawn = self.drawn(index)
        with transaction.atomic():
            made = CutJob.objects.filter(pk=job_id, order=self.order.pk).first()
            if made is None:
                self._look_whether_as_read()
                made = keep_job(drawn, sheet, material, about, job_id)
                self._keep_cut(sheet, number, made)
        return made

    def cut_elsewhere(self, index: int, key: str) -> CutSheet:
        """A sheet that a machine has cut of which Fulgen knows nothing. Raises Problem "other-sheet"."""
        sheet = self.sheet(index, key)
        with transaction.atomic():
            self._look_whether_as_read()
            return self._keep_cut(sheet, self.first_number, None)

    def _look_whether_as_read(self) -> None:
        """Raises Problem "other-sheet" where another window has changed the order since it was read: cut
        another of its sheets, perhaps. No other writes to it while this transaction is open."""
        if Order.objects.get(pk=self.order.pk).change != self.order.change:
            raise _changed()

    def _keep_cut(self, sheet: LaidSheet, number: int, job: CutJob | None) -> CutSheet:
        laid = [
            {
                "row": row_number(one.motif),
                "copy": one.copy + self.copies_cut.get((row_number(one.motif), one.motif.film), 0),
                "film": one.motif.film,
                "said": said_key(self.rows[row_number(one.motif)]),
                "box": [round(side, 2) for side in one.covers.bounds],
            }
            for one in sheet.motifs
        ]
        kept = CutSheet.objects.create(
            order=self.order, number=number, film=sheet.film, key=sheet.cut_key(self.machine), laid=laid,
            width_mm=sheet.sheet.width_mm, height_mm=sheet.sheet.height_mm, job=job,
        )  # fmt: skip
        order = Order.objects.get(pk=self.order.pk)
        order.change += 1
        order.stage = order.stage if order.stage == Stage.DONE else Stage.CUTTING
        order.save(update_fields=["change", "stage"])
        order.rows.filter(number__in={one["row"] for one in laid}).update(change=order.change)
        return kept


def _changed() -> Problem:
    return Problem(
        "other-sheet",
        "This sheet has changed since it was shown: a row, the design or the machine was changed, or another "
        "sheet was cut.",
        "Nothing was cut. Look at the sheet as it is now, then cut it.",
        "sheet",
    )


def _worked(row: OrderRow) -> WorkedRow:
    """A row as it was worked out; one that was not says so."""
    said = keeping.row_as_said(row)
    if row.state in MADE and hasattr(row, "result"):
        worked = unpacked(bytes(row.result.packed), said)
        return replace(worked, reasons=(*said.notes, *worked.reasons))
    if said.is_empty:
        return WorkedRow(said, "empty", said.notes)
    return WorkedRow(said, "cannot-be-made", tuple(row.reasons) or ("It is not worked out yet.",))


def row_number(motif: Motif) -> int:
    """The number of the row that a motif is of: its title begins with it."""
    return int(motif.design.split(" ", 1)[0])


def outcome_of_rows(sheet: CutSheet) -> dict[int, tuple[int, int]]:
    """For each row on a sheet that was cut: how many copies of it, and how many of these did not come off as
    promised."""
    outcome = sheet.job.outcome if sheet.job else None
    wrong = [row["box"] for row in (outcome or {}).get("wrong", ()) if row["what"] == "missing"]
    found: dict[int, tuple[int, int]] = {}
    for laid in sheet.laid:
        left, top, right, bottom = laid["box"]
        missing = sum(
            left <= (x0 + x1) / 2 <= right and top <= (y0 + y1) / 2 <= bottom for x0, y0, x1, y1 in wrong
        )
        promised, lost = found.get(laid["row"], (0, 0))
        found[laid["row"]] = (promised + 1, lost + (1 if missing else 0))
    return found
