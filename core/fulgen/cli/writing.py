"""The commands that write designs: letter, frame, build, pattern and import."""

from __future__ import annotations

import argparse
import csv
import io
import json
import sys
from collections.abc import Iterator, Sequence
from typing import Any

from fulgen.cli.output import (
    make_folder,
    one_design,
    read_bytes,
    read_text,
    write_bytes,
    write_outline,
    write_results,
    write_text,
)
from fulgen.cli.recipes import readied, recipe_maker
from fulgen.problem import Problem

_MAX_LIST_LINES = 5_000


def write_letter(options: argparse.Namespace) -> None:
    _written(options, None if options.text is None else (options.text.replace("\\n", "\n"),))


def write_frame(options: argparse.Namespace) -> None:
    _written(options, None if options.text is None else tuple(t.replace("\\n", "\n") for t in options.text))


def _written(options: argparse.Namespace, texts: tuple[str, ...] | None) -> None:
    """Writes the file of some texts, or those of a list."""
    recipe_for, faces = recipe_maker(options)
    if options.list:
        if texts is not None or options.output:
            raise Problem(
                "usage", "--list writes files of its own.", "Leave out the text and -o; give --out-dir."
            )
        if not options.out_dir:
            raise Problem("usage", "--list needs a folder for its files.", "Add --out-dir DIR.")
        _letter_list(options)
        return
    if texts is None or not options.output:
        framed = options.framed
        raise Problem(
            "usage",
            "There is no text or no output file.",
            'Try: ./fulgen frame "name ring" --text "Piers" -o ring.svg'
            if framed
            else 'Try: ./fulgen letter "Willowmere" --width 7in -o name.svg',
        )
    from fulgen.recipe.evaluate import evaluate

    with one_design():
        evaluation = evaluate(recipe_for(*texts), faces).whole()
        write_results(evaluation, options.output, options)


def import_drawing(options: argparse.Namespace) -> None:
    from fulgen.formats.artwork import read_artwork
    from fulgen.formats.drawn_path import MAX_FILE_BYTES, ReadRequest
    from fulgen.recipe.model import Recipe
    from fulgen.recipe.versions import to_store

    data = read_bytes(options.drawing, MAX_FILE_BYTES + 1)
    with one_design():
        found = read_artwork(data, options.drawing.name, ReadRequest(options.page, options.units))
        stored = to_store(Recipe(parts=(found.artwork,)))
    write_text(options.output, stored + "\n")
    size = f"{found.width_mm:.2f} × {found.height_mm:.2f} mm"
    if not found.size_stated:
        size += "; the file does not say its size: check it, or give --units"
    for note in (f"Read at {size}.", *found.notes):
        print(note, file=sys.stderr)


def _letter_list(options: argparse.Namespace) -> None:
    lines = [line.strip() for line in read_text(options.list).splitlines()]
    texts = [line for line in lines if line]
    if not texts:
        raise Problem("no-letters", f"There are no words in {options.list.name}.", "Put one on each line.")
    if len(texts) > _MAX_LIST_LINES:
        raise Problem(
            "too-many-lines",
            f"{options.list.name} has {len(texts):,} lines; a list holds up to {_MAX_LIST_LINES:,}.",
            "Split the list.",
        )
    make_folder(options.out_dir)
    failed = 0
    rows: list[dict[str, Any]] = []
    for done, (text, name, result) in enumerate(_each_written(options, texts), 1):
        if isinstance(result, str):
            failed += 1
            print(f"{done}/{len(texts)}  “{text[:40]}” left out: {result}", file=sys.stderr)
            rows.append({"text": text, "file": "", "left_out": result})
        else:
            print(f"{done}/{len(texts)}  {name}.svg", file=sys.stderr)
            rows.append({"text": text, "file": f"{name}.svg", "left_out": "", **result})
    if options.report:
        write_text(options.report, _rows_as(rows, options.report.suffix))
    if failed:
        raise Problem(
            "list-incomplete",
            f"{failed} of {len(texts)} lines could not be set.",
            "The lines above say why; the other files are written.",
        )


def _rows_as(rows: Sequence[dict[str, Any]], kind: str) -> str:
    """The figures of a list, a row a text: as CSV (RFC 4180), or as JSON."""
    if kind.lower() != ".csv":
        return json.dumps(rows, indent=2, ensure_ascii=False) + "\n"
    names = dict.fromkeys(name for row in rows for name in row)
    out = io.StringIO()
    table = csv.DictWriter(out, list(names), restval="")
    table.writeheader()
    table.writerows(rows)
    return out.getvalue()


def _each_written(
    options: argparse.Namespace, texts: Sequence[str]
) -> Iterator[tuple[str, str, dict[str, Any] | str]]:
    """Writes the file of each text, on all cores; yields text, name, and its figures or what was wrong, in
    order."""
    from functools import partial

    from fulgen.cli.processes import on_all_cores
    from fulgen.formats.file_names import safe_names

    names = safe_names(texts)
    written = on_all_cores(partial(_write_one, options), list(zip(texts, names, strict=True)), _WRITES)
    yield from zip(texts, names, written, strict=True)


_WRITES = ("fulgen.cli.writing", "fulgen.formats.svg", "fulgen.recipe.evaluate", "fulgen.report")


def _write_one(options: argparse.Namespace, item: tuple[str, str]) -> dict[str, Any] | str:
    """Sets a text and writes the file of a name; returns its figures, where they are wanted, or what is
    wrong."""
    from fulgen.recipe.evaluate import evaluate
    from fulgen.report import summary

    text, name = item
    recipe_for, faces = recipe_maker(options)
    try:
        with one_design():
            evaluation = evaluate(recipe_for(text), faces).whole()
            write_outline(evaluation, options.out_dir / f"{name}.svg", options.anyway)
            return summary(evaluation) if options.report else {}
    except Problem as problem:
        return str(problem)


def build_recipe(options: argparse.Namespace) -> None:
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.versions import read_recipe

    with one_design():
        evaluation = evaluate(readied(read_recipe(read_text(options.recipe)), options)).whole()
        write_results(evaluation, options.output, options)


def write_pattern_file(options: argparse.Namespace) -> None:
    from fulgen.formats.pattern import write_pattern
    from fulgen.readiness.gate import validate_ready
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.versions import read_recipe

    with one_design():
        evaluation = evaluate(readied(read_recipe(read_text(options.recipe)), options)).whole()
        data = write_pattern(options.recipe.stem, evaluation, options.paper)
        if not options.anyway:
            validate_ready(evaluation)
    write_bytes(options.output, data)
