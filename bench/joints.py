"""How well words are joined, measured with shapely alone: ./fulgen bench joints.

Nothing of `fulgen.joining` is asked how good a joint is: letters are taken as they are laid out, everything
that is cut is united by GEOS, and that is looked at.

    ./fulgen bench joints [--faces DIR] [--only FACE,…] [--words N] [--sizes 15,25,40] [--necks 0.8,1.2,2]
                          [--jobs 2] [-o OUT.json]

What is counted, of words set as the face sets them and then joined:

one        words of which all letters come off in one piece (marks left out)
torn at d  of words whose letters each stay in one core when worn by d/2 all round: those that do not
crowded    neighbours whose white is under 0.4 of the word's median, though set at 0.7 or more of it
fused      neighbours that overlap over 25 % more of the x-height band than as set
uneven     spread of the white (standard deviation by mean), joined / as set, the median over words
slide      how far neighbours were moved, in the mean, as a share of the face's size
length     how much longer the word became, in percent
pinh.      holes narrower than 1 mm that the word as set does not have, over all words

*White* is the mean distance of neighbours in the x-height band, on 24 scan lines, each capped at 0.35 of the
size.
"""

from __future__ import annotations

import argparse
import json
import statistics
import sys
import time
from collections import defaultdict
from multiprocessing import Pool
from pathlib import Path
from typing import Any

import numpy as np
import shapely

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core")]

from fulgen.bounded import BoundedCache  # noqa: E402
from fulgen.joining import line_joining  # noqa: E402
from fulgen.joining.join_options import JoinOptions  # noqa: E402
from fulgen.joining.materials import Weedable  # noqa: E402
from fulgen.lettering.catalogue import families, own_family  # noqa: E402
from fulgen.lettering.faces import Face, FontFile  # noqa: E402
from fulgen.lettering.setting import Faces, Size  # noqa: E402
from fulgen.parts.built_lettering import BuiltLettering  # noqa: E402
from fulgen.parts.lettering import Lettering  # noqa: E402
from fulgen.parts.lettering_builder import build_lettering  # noqa: E402

NAMES = [
    "Clementine",
    "Willow",
    "Hannah",
    "Quixby",
    "Fjordlyn",
    "Vyvyan",
    "Kestrel",
    "Jazzy",
    "Minnie",
    "Hollis",
    "Oliver",
    "Charlotte",
    "Theodore",
    "Amelia",
    "Isabella",
    "Sebastian",
    "Beatrix",
    "Gwendolyn",
    "Maximilian",
    "Penelope",
    "Finnegan",
    "Rowan",
    "Harlow",
    "Magnolia",
    "Wyatt",
    "Xanthe",
    "Yvette",
    "Zachary",
    "Ulrich",
    "Thalia",
    "Sylvie",
    "Reuben",
    "Phoebe",
    "Nathaniel",
    "Lorcan",
    "Kirsty",
    "Imogen",
    "Gilbert",
    "Florence",
    "Edith",
    "Damaris",
    "Cosmo",
    "Barnaby",
    "Agatha",
    "Millhouse",
    "Dunn",
    "Bellamy",
    "Tilly",
]
"""First names and made-up ones: all letters, doubles, ascenders beside each other."""

DEPTHS = (0.4, 0.6, 0.8)
LINES = 24
CAP = 0.35
PINHOLE = 1.0
QUARTER = 8


def largest(region: Any) -> Any:
    return max(shapely.get_parts(region), key=lambda part: part.area)


def cores(region: Any, wide: float) -> Any:
    parts = shapely.get_parts(shapely.buffer(region, -wide / 2, quad_segs=QUARTER))
    return parts[shapely.area(parts) > 1e-4]


def x_band(face: Face, size: float) -> tuple[float, float]:
    """The x-height band, y down, from the letter x itself."""
    probe = build_lettering(
        Lettering(text="x", size=Size(measure="capitals", mm=10.0)), Faces(face), (), Weedable(1.0)
    )
    top = probe.layout.letters[0].form.box.y
    return top * size, 0.0


def edges(region: Any, ys: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The leftmost and rightmost place of a region on each scan line; nan where it has none."""
    x0, _, x1, _ = region.bounds
    lines = shapely.linestrings([[(x0 - 1, y), (x1 + 1, y)] for y in ys])
    on = shapely.bounds(shapely.intersection(lines, region))
    return on[:, 0], on[:, 2]


class Look:
    """A word as laid out: its letters' main parts, all that is cut, and where neighbours stand."""

    def __init__(self, made: BuiltLettering, band: tuple[float, float]) -> None:
        letters = made.layout.letters
        self.size = made.size
        self.regions = [letter.place.region(letter.form.region) for letter in letters]
        self.mains = [largest(region) for region in self.regions]
        self.whole = shapely.union_all([place.region(shape.region) for shape, place in made.shapes])
        fills = [place.region(fill) for fill, place in made.fills]
        if fills:
            self.whole = shapely.union(self.whole, shapely.buffer(shapely.union_all(fills), 0.02))
        self.origins = np.array([letter.place.x for letter in letters])
        ys = np.linspace(band[0], band[1], LINES + 2)[1:-1] + made.layout.baselines[0]
        sides = [edges(region, ys) for region in self.regions]
        gaps = [sides[n + 1][0] - sides[n][1] for n in range(len(sides) - 1)]
        cap = CAP * self.size
        self.whites = np.array([np.clip(np.nan_to_num(gap, nan=cap), 0, cap).mean() for gap in gaps])
        self.fused = np.array([(np.nan_to_num(gap, nan=1.0) < 0).mean() for gap in gaps])

    def pieces(self) -> int:
        parts = shapely.get_parts(self.whole)
        on = shapely.STRtree(parts).query(shapely.point_on_surface(self.mains), predicate="intersects")
        return len(set(on[1].tolist()))

    def torn(self, wide: float) -> bool:
        """Whether letters' cores lie in different parts of the word's."""
        parts = cores(self.whole, wide)
        tree = shapely.STRtree(parts)
        where = []
        for main in self.mains:
            own = cores(main, wide)
            if len(own):
                x, y = shapely.get_coordinates(shapely.point_on_surface(max(own, key=shapely.area)))[0]
                where.append(
                    frozenset(tree.query(shapely.Point(x, y), predicate="dwithin", distance=1e-3).tolist())
                )
        if not where:
            return False
        return not frozenset.intersection(*where)

    def pinholes(self, known: list[float]) -> int:
        count = 0
        for part in shapely.get_parts(self.whole):
            for ring in part.interiors:
                hole = shapely.Polygon(ring)
                if hole.area < 1e-3 or any(abs(hole.area - a) < 2e-3 * a + 1e-3 for a in known):
                    continue
                count += bool(shapely.buffer(hole, -PINHOLE / 2).is_empty)
        return count


def hold_each(mains: list[Any], wide: float) -> bool:
    return all(len(cores(main, wide)) == 1 for main in mains)


def measure(face_name: str, face: Face, word: str, capitals: float, neck: float) -> dict[str, Any] | None:
    faces = Faces(face)

    def made(how: str) -> BuiltLettering:
        part = Lettering(
            text=word, size=Size(measure="capitals", mm=capitals), join=JoinOptions(how=how, neck_mm=neck)
        )
        return build_lettering(part, faces, (), Weedable(PINHOLE))

    as_set = made("set")
    if len(as_set.layout.letters) != len(word):
        return None  # ligatures: there the neighbours are others
    start = time.perf_counter()
    joined = made("auto")
    took = time.perf_counter() - start
    band = x_band(face, as_set.size)
    before, after = Look(as_set, band), Look(joined, band)
    row: dict[str, Any] = {
        "face": face_name, "word": word, "capitals": capitals, "neck": neck, "ms": took * 1000,
        "one": after.pieces() == 1,
    }  # fmt: skip
    for depth in dict.fromkeys((*DEPTHS, neck)):
        if hold_each(before.mains, depth):
            row[f"torn {'neck' if depth == neck and depth not in DEPTHS else depth}"] = after.torn(depth)
        if depth == neck:
            row["torn neck"] = hold_each(before.mains, depth) and after.torn(depth)
            row["neck counts"] = hold_each(before.mains, depth)
    median_set, median = np.median(before.whites), np.median(after.whites)
    crowded = (after.whites < 0.4 * median) & (before.whites >= 0.7 * median_set)
    fused = after.fused > before.fused + 0.25
    row["pairs"] = len(crowded)
    row["crowded"], row["fused"] = int(crowded.sum()), int(fused.sum())
    row["bad"] = [word[n : n + 2] for n in np.flatnonzero(crowded | fused)]
    row["uneven"] = float(
        (after.whites.std() / max(after.whites.mean(), 1e-6))
        / max(before.whites.std() / max(before.whites.mean(), 1e-6), 1e-6)
    )
    row["spread set"] = float(before.whites.std() / max(before.whites.mean(), 1e-6))
    row["spread"] = float(after.whites.std() / max(after.whites.mean(), 1e-6))
    slides = np.diff(after.origins) / after.size - np.diff(before.origins) / before.size
    row["slide"] = float(np.abs(slides).mean())
    row["length"] = float(slides.sum() / (np.ptp(before.origins) / before.size))
    known = [h.area for region in after.regions for part in shapely.get_parts(region)
             for h in map(shapely.Polygon, part.interiors)]  # fmt: skip
    row["pinholes"] = max(0, after.pinholes(known) - before.pinholes(known))
    row["bars"] = len(joined.joined.bars)
    return row


def faces_in(folder: str | None) -> dict[str, tuple[str, str]]:
    if folder is None:
        return {slug: ("shipped", slug) for slug in families()}
    found = {}
    for path in sorted(Path(folder).glob("*/files/*-latin-400-normal.woff2")):
        found[path.parts[-3]] = ("file", str(path))
    return found


def face_of(where: tuple[str, str]) -> Face:
    kind, name = where
    if kind == "shipped":
        return families()[name].face()
    return own_family(name, name, FontFile(Path(name).read_bytes(), name)).face()


def run(job: tuple[str, tuple[str, str], list[str], list[tuple[float, float]]]) -> list[dict[str, Any]]:
    name, where, chosen, settings = job
    face = face_of(where)
    rows = []
    for capitals, neck in settings:
        for cache in vars(line_joining).values():
            if isinstance(cache, BoundedCache):
                cache.clear()
        for word in chosen:
            row = measure(name, face, word, capitals, neck)
            if row is not None:
                rows.append(row)
    return rows


def share(rows: list[dict[str, Any]], key: str) -> float:
    of = [row[key] for row in rows if key in row]
    return 100 * sum(of) / len(of) if of else 0.0


HEADS = (
    "words",
    "one %",
    "torn .4",
    ".6",
    ".8",
    "neck",
    "crowded",
    "fused",
    "uneven",
    "slide",
    "length",
    "pinh.",
    "ms",
)


def line(rows: list[dict[str, Any]]) -> tuple[float, ...]:
    pairs = sum(row["pairs"] for row in rows)
    at_neck = [row for row in rows if row["neck counts"]]
    return (
        len(rows), share(rows, "one"), share(rows, "torn 0.4"), share(rows, "torn 0.6"),
        share(rows, "torn 0.8"), share(at_neck, "torn neck"),
        100 * sum(row["crowded"] for row in rows) / pairs, 100 * sum(row["fused"] for row in rows) / pairs,
        statistics.median(row["uneven"] for row in rows), statistics.mean(row["slide"] for row in rows),
        100 * statistics.mean(row["length"] for row in rows),
        sum(row["pinholes"] for row in rows), statistics.median(row["ms"] for row in rows),
    )  # fmt: skip


def table(rows: list[dict[str, Any]]) -> None:
    print(f"{'':24}" + "".join(f"{head:>9}" for head in HEADS))

    def show(name: str, some: list[dict[str, Any]]) -> None:
        print(
            f"{name:24}"
            + "".join(f"{figure:9.3f}" if 0 < abs(figure) < 2 else f"{figure:9.1f}" for figure in line(some))
        )

    for key in ("face", "capitals", "neck"):
        groups = defaultdict(list)
        for row in rows:
            groups[row[key]].append(row)
        for name, some in groups.items():
            show(f"{key} {name}" if key != "face" else str(name), some)
        print()
    show("all", rows)


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(prog="./fulgen bench joints")
    parser.add_argument("--faces")
    parser.add_argument("--only", default="")
    parser.add_argument("--words", type=int, default=len(NAMES))
    parser.add_argument("--sizes", default="15,25,40")
    parser.add_argument("--necks", default="0.8,1.2,2")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("-o", "--out")
    given = parser.parse_args(arguments)
    settings = [(float(s), float(n)) for s in given.sizes.split(",") for n in given.necks.split(",")]
    chosen = NAMES[: given.words]
    of = {n: w for n, w in faces_in(given.faces).items() if not given.only or n in given.only.split(",")}
    jobs = [(name, where, list(chosen), settings) for name, where in of.items()]
    rows: list[dict[str, Any]] = []
    with Pool(given.jobs) as pool:
        for some in pool.imap_unordered(run, jobs):
            rows += some
    rows.sort(key=lambda row: (row["face"], row["capitals"], row["neck"]))
    if given.out:
        Path(given.out).write_text(json.dumps(rows))
    table(rows)


if __name__ == "__main__":
    main()
