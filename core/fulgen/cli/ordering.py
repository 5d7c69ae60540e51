"""The command that makes an order: a design, a list of names, and the sheets they are cut from."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any

from fulgen.cli.cutting import sheet_size
from fulgen.cli.output import length_between, make_folder, read_bytes, read_text, write_bytes, write_text
from fulgen.problem import Problem
from fulgen.units import counted

if TYPE_CHECKING:
    from fulgen.orders.laying import Pick
    from fulgen.orders.plan import GiveWay
    from fulgen.orders.rows import Row
    from fulgen.orders.working import WorkedRow
    from fulgen.recipe.model import Recipe
    from fulgen.sheet.machines import Machine
    from fulgen.sheet.sheets import LaidSheet


def make_order(options: argparse.Namespace) -> None:
    """Works out every row, lays what could be made on sheets, and writes their files and the pick list. Rows
    that cannot be made are named; the others are written all the same. Raises Problem "order-incomplete"
    then."""
    from fulgen.orders.laying import pick_list, pick_list_csv, sheets_of_order
    from fulgen.orders.plan import OrderPlan, OrderSheet
    from fulgen.orders.proof import write_proof
    from fulgen.recipe.versions import read_recipe
    from fulgen.sheet.machines import machine

    chosen = machine(options.machine)
    give_way = _give_way(options)
    design = read_recipe(read_text(options.design))
    rows = _rows(design, options)
    margin, spacing = (
        length_between(text, option, 0.0, 1000.0)
        for text, option in ((options.margin, "--margin"), (options.spacing, "--spacing"))
    )
    wide, high = sheet_size(options.sheet)
    plan = OrderPlan(
        sheet=OrderSheet(width_mm=wide, height_mm=high, margin_mm=margin), spacing_mm=spacing,
        arrangement="closely" if options.nest else "rows", turns=options.turns or "half",
        numbers=options.numbers,
    )  # fmt: skip
    worked = list(_worked(design, rows, give_way, options.design.stem))
    laid = sheets_of_order(worked, design, plan) if any(w.motifs for w in worked) else []
    make_folder(options.output)
    by_name = _written_sheets(worked, laid, chosen, options)
    picks = pick_list(worked, by_name)
    write_text(options.output / "pick-list.csv", pick_list_csv(picks))
    if options.proof:
        write_bytes(options.output / "proof.pdf", write_proof(options.design.stem, worked))
    _tell(worked, by_name)
    if options.report:
        write_text(
            options.report, json.dumps(_figures(worked, by_name, picks), indent=2, ensure_ascii=False) + "\n"
        )
    left = [one for one in worked if one.state == "cannot-be-made"]
    if left:
        raise Problem(
            "order-incomplete",
            f"{len(left)} of {counted(len(worked), 'row')} could not be made.",
            "The lines above say why; all others are written.",
        )


def _rows(design: Recipe, options: argparse.Namespace) -> Sequence[Row]:
    from fulgen.orders.fields import fields_of, headings_of, matched
    from fulgen.orders.lists import MOST_BYTES, read_list
    from fulgen.orders.rows import has_words, rows_of

    fields = fields_of(design)
    table = read_list(read_bytes(options.list, MOST_BYTES + 1), options.list.name, headings_of(fields))
    said = {}
    for text in options.field:
        column, equals, field = text.partition("=")
        if not equals:
            raise Problem(
                "usage",
                f"“{text}” is not a column and a field.",
                'Write it like "Name=lettering-1".',
                "--field",
            )
        said[column] = field
    matching = matched(table, fields, said)
    for column, field in matching.columns:
        heading = table.headings[column] or f"column {column + 1}"
        print(f"{heading} is {field.heading}", file=sys.stderr)
    for column in matching.unused:
        print(f"{table.headings[column] or f'column {column + 1}'} is not used", file=sys.stderr)
    rows = rows_of(table, matching)
    if not has_words(rows):
        raise Problem(
            "bad-list", f"There are no names in {options.list.name}.", "Put a name on each line.", "list"
        )
    return rows


def _give_way(options: argparse.Namespace) -> GiveWay:
    from fulgen.lettering.catalogue import find_family
    from fulgen.orders.plan import GiveWay, RowRoom

    return GiveWay(
        narrower=_share(options.narrower, "--narrower"),
        smaller=_share(options.smaller, "--smaller"),
        two_lines=options.two_lines,
        faces=tuple(find_family(name).name for name in options.other_face),
        ready=options.ready,
        room=RowRoom(*sheet_size(options.within, "--within")) if options.within else None,
    )


def _share(text: str, option: str) -> float:
    """10% as a share: up to a half."""
    try:
        share = float(text.strip().rstrip("%").replace(",", ".")) / 100
    except ValueError:
        share = -1.0
    if not 0 <= share <= 0.5:
        raise Problem("usage", f"“{text}” is not a share from 0% to 50%.", "Write it like 10%.", option)
    return share


def _worked(design: Recipe, rows: Sequence[Row], give_way: GiveWay, name: str) -> Iterator[WorkedRow]:
    """The rows made, in their order, on all cores; how far that is, where somebody looks at it."""
    from functools import partial

    from fulgen.cli.processes import on_all_cores
    from fulgen.orders.working import worked_out

    work = partial(worked_out, design, give_way=give_way)
    yield from _counted_aloud(on_all_cores(work, rows, ["fulgen.orders.working"]), len(rows), name)


def _counted_aloud(worked: Iterator[WorkedRow], count: int, name: str) -> Iterator[WorkedRow]:
    shown = sys.stderr.isatty()
    for done, one in enumerate(worked, 1):
        if shown:
            print(
                f"\r{name}: {done} of {count}", end="\n" if done == count else "", file=sys.stderr, flush=True
            )
        yield one


def _written_sheets(
    worked: Sequence[WorkedRow], sheets: Sequence[LaidSheet], chosen: Machine, options: argparse.Namespace
) -> dict[str, LaidSheet]:
    """Writes a file for each sheet, each cut on the simulated machine first; the sheets by their files'
    names."""
    from fulgen.cli.output import one_design
    from fulgen.formats.drawn_sheet import about_all, drawn_sheet
    from fulgen.formats.file_names import safe_names
    from fulgen.formats.sheet_files import proven_files

    captions = {one.row.title: one.caption for one in worked if one.caption is not None}
    names = safe_names([f"{options.design.stem} {n} {laid.film}" for n, laid in enumerate(sheets, 1)])
    found = {}
    for laid, name in zip(sheets, names, strict=True):
        with one_design():
            designs = dict.fromkeys(one.motif.design for one in laid.motifs)
            about = about_all([captions[design] for design in designs], laid.film)
            drawn = drawn_sheet(name, laid.job(chosen), about, chosen.hairline_mm)
            (file,), _ = proven_files(drawn, [options.to])
        write_bytes(options.output / file.name, file.data)
        found[file.name] = laid
    return found


def _tell(worked: Sequence[WorkedRow], sheets: dict[str, LaidSheet]) -> None:
    from fulgen.orders.laying import room_left

    for one in worked:
        if one.reasons:
            is_made = "" if one.state != "cannot-be-made" else " cannot be made"
            reasons = " ".join(one.reasons)
            print(f"fulgen: row {one.row.number} “{one.row.words[:40]}”{is_made}: {reasons}", file=sys.stderr)
    for name, laid in sheets.items():
        print(f"{name}  {counted(len(laid.promised), 'piece')}, {room_left(laid):.0f} mm left at the end")


def _figures(
    worked: Sequence[WorkedRow], sheets: dict[str, LaidSheet], picks: Sequence[Pick]
) -> dict[str, Any]:
    from dataclasses import asdict

    return {
        "rows": [
            {
                "row": one.row.number, "words": one.row.words, "state": one.state,
                "reasons": list(one.reasons),
                "width_mm": one.width_mm, "height_mm": one.height_mm, "pieces": one.pieces,
            }
            for one in worked
        ],
        "sheets": [
            {
                "file": name, "film": laid.film, "promised": len(laid.promised),
                "reach_mm": round(laid.reach_mm, 1),
            }
            for name, laid in sheets.items()
        ],
        "picks": [asdict(pick) for pick in picks],
    }  # fmt: skip
