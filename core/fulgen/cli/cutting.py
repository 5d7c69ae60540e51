"""The commands that lay sheets and simulate the cut: cut and simulate."""

from __future__ import annotations

import argparse
import json
import sys
from typing import TYPE_CHECKING, Any

from fulgen.cli.output import (
    BLOCKED,
    length_between,
    make_folder,
    one_design,
    read_bytes,
    read_text,
    write_bytes,
    write_text,
)
from fulgen.cli.recipes import material_named, readied
from fulgen.problem import Problem
from fulgen.units import Unit, counted, parse_length, show_length

if TYPE_CHECKING:
    from fulgen.formats.drawn_sheet import JobCaption
    from fulgen.sheet.motifs import Motif


def cut_sheets(options: argparse.Namespace) -> int:
    from fulgen.formats.drawn_sheet import about_all, drawn_sheet
    from fulgen.formats.file_names import safe_names
    from fulgen.formats.sheet_files import proven_files
    from fulgen.recipe.cutting import CutPlan
    from fulgen.sheet.machines import machine
    from fulgen.sheet.nest import nested_sheets
    from fulgen.sheet.sheets import Sheet, laid_out

    chosen = machine(options.machine)
    margin, spacing, tolerance = (
        length_between(text, option, least, most)
        for text, option, least, most in (
            (options.margin, "--margin", 0.0, 1000.0),
            (options.spacing, "--spacing", 0.0, 1000.0),
            (options.tolerance, "--tolerance", 0.001, 1.0),
        )
    )
    sheet = Sheet(*sheet_size(options.sheet), margin, spacing)
    hairline = chosen.hairline_mm
    if options.lines is not None:
        hairline = length_between(options.lines, "--lines", 0.0, 5.0)
    figures: list[dict[str, Any]] = []
    files = []
    with one_design():
        motifs, abouts, stops = _motifs(options)
        if stops and not options.anyway:
            print("fulgen: make it ready with --ready, or cut it with --anyway.", file=sys.stderr)
            return BLOCKED
        plan = CutPlan(boxes=options.boxes)
        laid_sheets = laid_out(motifs, lambda _film: sheet, plan)
        if options.nest:
            by_film = {film: [m for s in laid_sheets if s.film == film for m in s.motifs]
                       for film in dict.fromkeys(s.film for s in laid_sheets)}  # fmt: skip
            laid_sheets = nested_sheets(by_film, lambda _film: sheet, plan, options.turns)
        names = safe_names([f"sheet {n} {laid.film}" for n, laid in enumerate(laid_sheets, 1)])
        for laid, name in zip(laid_sheets, names, strict=True):
            job = laid.job(chosen)
            designs = list(dict.fromkeys(one.motif.design for one in laid.motifs))
            drawn = drawn_sheet(name, job, about_all([abouts[d] for d in designs], laid.film), hairline)
            (file,), comparison = proven_files(drawn, [options.to], tolerance)
            files.append(file)
            figures.append({
                "file": file.name, "film": laid.film, "motifs": len(laid.motifs),
                "promised": comparison.promised, "came_off": comparison.came_off,
                "cut_length_mm": round(job.length_mm, 1), "way_between_mm": round(job.way_mm, 1),
                "used": round(laid.used, 4),
            })  # fmt: skip
    make_folder(options.output)
    for file in files:
        write_bytes(options.output / file.name, file.data)
    for one in figures:
        print(f"{one['file']}  {counted(one['promised'], 'piece')}, {one['used']:.0%} of the sheet used")
    if options.report:
        noted = {"sheets": figures, "cut_anyway": stops}
        write_text(options.report, json.dumps(noted, indent=2) + "\n")
    return 0


def sheet_size(text: str, option: str = "--sheet") -> tuple[float, float]:
    """300x600mm, 12x24in, 300mm x 2m. Raises Problem "usage", "not-a-length"."""
    width, cross, height = text.lower().replace("×", "x").partition("x")
    if not cross:
        raise Problem("usage", f"“{text}” is not a size.", "Give both sides, such as 300x600mm.", option)
    unit: Unit = "in" if height.strip().endswith(("in", '"')) else "mm"
    return parse_length(width, unit, option), parse_length(height, unit, option)


def _motifs(options: argparse.Namespace) -> tuple[list[Motif], dict[str, JobCaption], int]:
    """What is cut from each film of the files, as it is cut, and what is to be said of each design; and how
    many findings block that, and which."""
    from fulgen.formats.artwork import read_artwork
    from fulgen.formats.drawn_path import MAX_FILE_BYTES
    from fulgen.formats.drawn_sheet import about_of
    from fulgen.readiness.findings import blocking, findings
    from fulgen.readiness.gate import loose_words
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.model import MaterialChoice, Recipe
    from fulgen.recipe.versions import read_recipe
    from fulgen.sheet.motifs import motifs_of

    motifs, abouts, stops = [], {}, 0
    for path in options.files:
        if path.suffix.lower() == ".json":
            recipe = read_recipe(read_text(path))
        else:
            drawing = read_artwork(read_bytes(path, MAX_FILE_BYTES + 1), path.name)
            recipe = Recipe(parts=(drawing.artwork,))
        if options.material:
            choice = MaterialChoice(name=material_named(options.material).name)
            recipe = recipe.model_copy(update={"material": choice})
        evaluation = evaluate(readied(recipe, options)).whole()
        for finding in blocking(findings(evaluation)):
            print(f"fulgen: {path.name}: {finding.what(recipe.unit)}", file=sys.stderr)
            stops += 1
        for word in loose_words(evaluation):
            print(f"fulgen: {path.name}: {word.what}", file=sys.stderr)
        if recipe.mirror != recipe.material_named(recipe.material.name).mirrored:
            said, usual = (
                ("is mirrored", "as it is seen") if recipe.mirror else ("is not mirrored", "mirrored")
            )
            print(
                f"fulgen: {path.name} {said}, and {recipe.material.name} is cut {usual}: make sure.",
                file=sys.stderr,
            )
        motifs += motifs_of(path.stem, evaluation, recipe.cut, options.copies)
        abouts[path.stem] = about_of(path.stem, evaluation)
    return motifs, abouts, stops


def simulate_file(options: argparse.Namespace) -> int:
    from fulgen.cutter.cut_simulation import compare_with_promise, simulate_cut, torn_pieces
    from fulgen.formats.hpgl import MAX_FILE_BYTES, read_strokes
    from fulgen.formats.svg_in import read_cuts
    from fulgen.geometry.polygons import count
    from fulgen.sheet.sheets import CUT_TO_MM
    from fulgen.sheet.strokes import WEEDING_PEN
    from fulgen.sheet.verification import tips_of

    offset = length_between(options.blade_offset, "--blade-offset", 0.0, 5.0)
    kerf = length_between(options.kerf, "--kerf", 0.0, 5.0)
    holds = length_between(options.holds, "--holds", 0.0, 50.0)
    data, name = read_bytes(options.file, MAX_FILE_BYTES + 1), options.file.name
    comparison = None
    with one_design():
        if name.lower().endswith(".svg"):
            paths, promised = read_cuts(data, name, CUT_TO_MM)
            strokes = [(1, path) for path in paths]
        else:
            strokes, promised = read_strokes(data, name), []
        if options.promised:
            shown = read_bytes(options.promised, MAX_FILE_BYTES + 1)
            promised = read_cuts(shown, options.promised.name, CUT_TO_MM)[1]
        real, helps = tips_of(strokes, offset)
        came = simulate_cut(real, kerf, helps)
        if promised:
            knife_paths = [path for pen, path in strokes if pen != WEEDING_PEN]
            comparison = compare_with_promise(promised, came, knife_paths)
        thin = torn_pieces(came.pieces, holds) if holds else []
    ends = came.open_ends if comparison is None else comparison.nicks
    print(f"{counted(len(came.pieces), 'piece')} off the sheet, {counted(len(came.holes), 'hole')} weeded.")
    for x, y in ends:
        print(f"look    A cut ends in the material at {show_length(x)}, {show_length(y)}.")
    for says, regions in () if comparison is None else (
        ("did not come off as promised", comparison.missing), ("was not promised", comparison.others)
    ):  # fmt: skip
        for x, y, right, bottom in (region.bounds for region in regions):
            size = f"{show_length(right - x)} × {show_length(bottom - y)}"
            print(f"look    A piece of {size} at {show_length(x)}, {show_length(y)} {says}.")
    for x, y, _, _ in (place.bounds for place in thin):
        print(f"look    It is thinner than the material holds at {show_length(x)}, {show_length(y)}.")
    if comparison is not None:
        print(f"Promised {comparison.promised}, came off {comparison.came_off}.")
    if options.report:
        figures = {
            "pieces": [{"area_mm2": round(piece.area, 3), "holes": count(piece)[1]} for piece in came.pieces],
            "open_ends_mm": [[round(x, 3), round(y, 3)] for x, y in came.open_ends],
            "tears_mm": [[round(x, 3), round(y, 3)] for x, y, _, _ in (place.bounds for place in thin)],
            "promised": None if comparison is None else comparison.promised,
            "as_promised": None if comparison is None else comparison.is_kept,
        }
        write_text(options.report, json.dumps(figures, indent=2) + "\n")
    return BLOCKED if ends or thin or (comparison is not None and not comparison.is_kept) else 0
