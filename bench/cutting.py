"""Whether what is promised comes off, and how long sheets and files take: ./fulgen bench cutting.

    ./fulgen bench cutting [--words 300] [--jobs 2] [-o OUT.json]

promised   words × all shipped faces × two knives and a laser, and all demo designs: sheets written as
           HP-GL, read back, and cut on the simulated machine; those from which just the promised pieces came
broken     the same words unwelded, with a contour left open, without overcut, and without allowing for the
           blade: those that are found to be broken
sheets     50 names laid on sheets, ordered, and led for the knife: seconds, as after a start and with the
           outlines known
files      a file of each kind for a word of 12 letters: written and read back, in ms
way        the way between the cuts of those sheets over that of always taking the nearest
nesting    film used by 20 names: in rows, and closely; nothing overlaps and the room is kept, by shapely
"""

from __future__ import annotations

import argparse
import itertools
import json
import statistics
import sys
import time
from collections import Counter
from multiprocessing import Pool
from pathlib import Path
from typing import Any

import numpy as np
import shapely

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core")]

from fulgen.cutter.blade import Knife, cut  # noqa: E402
from fulgen.cutter.cut_simulation import compare_with_promise, simulate_cut  # noqa: E402
from fulgen.formats.drawn_sheet import JobCaption, drawn_sheet  # noqa: E402
from fulgen.formats.sheet_files import cut_file, write_file  # noqa: E402
from fulgen.geometry.flatten import flat_contours  # noqa: E402
from fulgen.lettering.catalogue import families  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen.recipe.cutting import CutPlan  # noqa: E402
from fulgen.recipe.evaluate import evaluate  # noqa: E402
from fulgen.recipe.model import Recipe  # noqa: E402
from fulgen.recipe.versions import read_recipe, recipe_from  # noqa: E402
from fulgen.sheet.machines import MACHINES, Machine, machine  # noqa: E402
from fulgen.sheet.motifs import Motif, motifs_of  # noqa: E402
from fulgen.sheet.nest import nested  # noqa: E402
from fulgen.sheet.sheets import CUT_TO_MM, LaidMotif, Sheet, laid_out  # noqa: E402
from tests.core.test_order import nearest_next  # noqa: E402

WORDS = (
    "Willowmere", "Heron", "Zoë", "Ågot", "Bartholomew", "jib & tiller", "Quay", "Ølve", "Maud!", "Rigmor",
    "Otterbrook", "Fjord",
)  # fmt: skip
NAMES = (
    "Piers", "Maud", "Ansel", "Odile", "Tarn", "Bramble", "Sedge", "Marlowe", "Linnet", "Fenwick",
    "Isolde", "Rowan", "Teal", "Curlew", "Avocet", "Plover", "Merle", "Wren", "Dunlin", "Garnet",
    "Petrel", "Siskin", "Bittern", "Godwit", "Whimbrel", "Knot", "Ruff", "Snipe", "Sanderling",
    "Turnstone", "Oyster", "Stilt", "Lapwing", "Redshank", "Crake", "Coot", "Moorhen", "Gadwall",
    "Pintail", "Shoveler", "Pochard", "Scaup", "Eider", "Scoter", "Smew", "Merganser", "Goosander",
    "Grebe", "Diver", "Fulmar",
)  # fmt: skip
ROLL = Sheet(1000.0, 5000.0, 5.0, 3.0, True)
MACHINES_TRIED = (MACHINES[0], MACHINES[1], MACHINES[2])
SQUEEZED_MM = 1.6
LONG = "Otterbrooker"


def word(text: str, face: str, how: str = "auto") -> Recipe:
    part = {
        "id": "a", "text": text, "face": {"family": face}, "size": {"measure": "capitals", "mm": 25.0},
        "join": {"how": how, "neck_mm": 1.2, "marks": "lower"},
    }  # fmt: skip
    if how == "set":
        part["spacing_mm"] = -SQUEEZED_MM
    return recipe_from({"format": "fulgen-recipe", "version": 8, "parts": [part]})


def sheets_of(recipe: Recipe) -> list[Any]:
    return laid_out(motifs_of("word", evaluate(recipe), recipe.cut), lambda _film: ROLL)


def came_off(recipe: Recipe, chosen: Machine) -> bool:
    """Whether what comes off all its sheets is what was promised."""
    try:
        for sheet in sheets_of(recipe):
            cut_file(drawn_sheet("sheet", sheet.job(chosen), JobCaption("word")))
    except Problem as problem:
        if problem.kind != "not-as-promised":
            raise
        return False
    return True


def broken(recipe: Recipe) -> dict[str, bool]:
    """Whether each way to break the file of a word is found, of those that this word can be broken by."""
    evaluation = evaluate(recipe)
    letters = [
        np.concatenate((ring, ring[:1]))
        for _, letter in evaluation.letters
        for ring in flat_contours(letter.place.outline(letter.form.outline), CUT_TO_MM)
    ]
    rings = [ring for film in evaluation.films for ring in flat_contours(film.outline, CUT_TO_MM)]
    whole = [np.concatenate((ring, ring[:1])) for ring in rings]
    promised = [piece for film in evaluation.films for piece in shapely.get_parts(film.shape.region)]
    longest = max(range(len(rings)), key=lambda n: len(rings[n]))

    def is_found(paths: list[Any]) -> bool:
        return not compare_with_promise(promised, simulate_cut(paths)).is_kept

    def led(knife: Knife) -> list[Any]:
        paths, heading = [], 2.0
        for ring in rings:
            path, heading = knife.leading(ring, heading)
            paths.append(path)
        return paths

    opened = [ring if n != longest else rings[n][: -max(2, len(ring) // 50)] for n, ring in enumerate(whole)]
    # A knife that lags behind its carriage by half a millimetre closes nothing without an overcut.
    short = [path[: np.searchsorted(gone(path), gone(path)[-1] - 0.3)] for path in led(Knife(0.0, 0.0))]
    crossing = any(
        shapely.LineString(one).crosses(shapely.LineString(other))
        for one, other in itertools.combinations(letters, 2)
    )
    return {
        **({"unwelded": is_found(letters)} if crossing else {}),
        "open contour": is_found(opened),
        "no overcut": is_found(short),
        "no allowance": is_found(cut(whole, 1.0, 2.0)),
        "nothing": is_found(whole),
    }


def gone(path: Any) -> Any:
    """How far along a path each of its points is."""
    return np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))))


def one_word(pair: tuple[str, str]) -> dict[str, Any]:
    text, face = pair
    recipe = word(text, face)
    told: dict[str, Any] = {"word": text, "face": face}
    for chosen in MACHINES_TRIED:
        told[chosen.name] = came_off(recipe, chosen)
    told["broken"] = broken(recipe)
    return told


def promised(count: int, jobs: int) -> list[dict[str, Any]]:
    pairs = [(text, face) for text in WORDS for face in families()][:count]
    with Pool(jobs) as pool:
        rows = pool.map(one_word, pairs, chunksize=2)
    for chosen in MACHINES_TRIED:
        lost = [f"{row['word']} in {row['face']}" for row in rows if not row[chosen.name]]
        print(f"{chosen.name}: {len(rows) - len(lost)} of {len(rows)} words as promised {lost[:8]}")
    found = Counter(way for row in rows for way, is_found in row["broken"].items() if is_found)
    tried = Counter(way for row in rows for way in row["broken"])
    print("broken and found: " + ", ".join(f"{way} {found[way]} of {tried[way]}" for way in tried))
    for path in sorted((ROOT / "demo").glob("*.json")):
        recipe = read_recipe(path.read_bytes())
        kept = [came_off(recipe, chosen) for chosen in MACHINES_TRIED]
        if not all(kept):
            print(f"{path.name}: {kept}")
    count = len(list((ROOT / "demo").glob("*.json")))
    print(f"demo designs: {count} tried, what is not named above is as promised")
    return rows


def sheets() -> None:
    faces = ("pacifico", "lobster", "courgette")
    recipes = [word(name, faces[n % 3]) for n, name in enumerate(NAMES)]
    began = time.perf_counter()
    motifs = [
        m
        for name, recipe in zip(NAMES, recipes, strict=True)
        for m in motifs_of(name, evaluate(recipe), CutPlan())
    ]
    outlined = time.perf_counter()
    laid = laid_out(motifs, lambda _film: Sheet(600.0, 900.0))
    jobs = [sheet.job(machine("Drag knife")) for sheet in laid]
    ended = time.perf_counter()
    print(
        f"50 names on {len(laid)} sheets: {ended - began:.2f} s from nothing, {ended - outlined:.2f} s with "
        f"outlines known (aim: under 10 s); {sum(len(job.paths) for job in jobs)} cuts"
    )
    ratios = []
    for sheet, job in zip(laid, jobs, strict=True):
        contours = [ring for one in sheet.motifs for ring in flat_contours(one.whole.outline, CUT_TO_MM)]
        ratios.append(job.way_mm / nearest_next(contours))
    print(f"way between cuts over that of the nearest next: {', '.join(f'{ratio:.3f}' for ratio in ratios)}")
    proofs = []
    for sheet, job in zip(laid, jobs, strict=True):
        began = time.perf_counter()
        _, told = cut_file(drawn_sheet("sheet", job, JobCaption("names")))
        proofs.append(time.perf_counter() - began)
        assert told.is_kept
        assert len(sheet.promised) == told.came_off
    print(
        f"each of these sheets written as HP-GL, read back and cut: {', '.join(f'{p:.2f} s' for p in proofs)}"
    )


def files() -> None:
    [sheet] = sheets_of(word(LONG, "pacifico"))
    drawn = drawn_sheet("sheet", sheet.job(machine("Drag knife")), JobCaption(LONG))
    for kind in ("svg", "dxf", "dxf-r12", "pdf", "eps", "hpgl", "png"):
        times = []
        for _ in range(7):
            began = time.perf_counter()
            write_file(drawn, kind)  # type: ignore[arg-type]
            times.append((time.perf_counter() - began) * 1000)
        print(
            f"{kind}: median {statistics.median(times):.0f} ms, longest {max(times):.0f} ms (aim: under 200)"
        )


def nesting() -> None:
    motifs: list[Motif] = []
    for name in NAMES[:20]:
        motifs += motifs_of(name, evaluate(word(name, "pacifico")), CutPlan())
    sheet = Sheet(300.0, 2000.0, 5.0, 3.0, True)
    [rows] = laid_out(motifs, lambda _film: sheet)
    area = sum(piece.area for piece in rows.promised)

    def used(long: float) -> str:
        return f"{long:.1f} mm of a roll of 300, {area / (300 * long):.1%} used"

    print(f"20 names in rows: {used(rows.sheet.height_mm)}")
    for turns in ("none", "half", "any"):
        [laid] = nested([LaidMotif(m, 0, 0) for m in motifs], sheet, turns, 4)  # type: ignore[arg-type]
        regions = [one.whole.region for one in laid]
        apart = min(one.distance(other) for one, other in itertools.combinations(regions, 2))
        x, _, right, bottom = shapely.total_bounds(regions)
        assert apart >= 3.0 - 1e-6
        assert x >= 5.0 - 1e-6
        assert right <= 295.0 + 1e-6
        print(
            f"20 names closely, turned {turns}: {used(bottom + 5)}; {apart:.2f} mm apart at least (asked: 3)"
        )


def main(arguments: list[str]) -> None:
    parser = argparse.ArgumentParser(prog="fulgen bench cutting")
    parser.add_argument("--words", type=int, default=300)
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("-o", "--output", type=Path)
    options = parser.parse_args(arguments)
    sheets()
    files()
    nesting()
    rows = promised(options.words, options.jobs)
    if options.output:
        options.output.write_text(json.dumps(rows, indent=1, ensure_ascii=False) + "\n")
