"""Where pairs of letters are joined, and how heavily, measured with shapely alone: ./fulgen bench pairs.

    ./fulgen bench pairs [--faces a,b] [--capitals] [--size 25] [--neck 1.2] [--every 1] [--jobs 2] [-o OUT]

Every pair of small letters (or of a capital and a small letter) of the shipped scripts, joined as a word of
two. What is added outside both letters is looked at; of pairs that hold by themselves, where they meet.
Heights are shares of the height of an x, above the baseline.

own     pairs that the face does not join by itself
odd     of all pairs, those joined where no designer would: below 0.15 or above 0.70 (above 1.05 after b, f,
        o, r, v, w); left letters with descenders left out
stroke  of these, those in which only a stroke of the face's own was made heavier, where it is
sag     of all pairs, those that reach more than 0.08 below the baseline
10, 50, 90, spread   how high the middle of a joint is: percentiles and standard deviation, of own
heavy   of all pairs, those in which what is added is wider than 1.15 stems or more than 2.5 square stems
ms      processor time of a pair, in the mean
"""

from __future__ import annotations

import argparse
import json
import random
import statistics
import string
import sys
import time
from multiprocessing import Pool
from pathlib import Path
from typing import Any

import numpy as np
import shapely

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core"), str(ROOT / "bench")]

from joints import PINHOLE, x_band  # noqa: E402

from fulgen.joining.join_options import JoinOptions  # noqa: E402
from fulgen.joining.materials import Weedable  # noqa: E402
from fulgen.lettering.catalogue import families  # noqa: E402
from fulgen.lettering.setting import Faces, Size  # noqa: E402
from fulgen.parts.lettering import Lettering  # noqa: E402
from fulgen.parts.lettering_builder import build_lettering  # noqa: E402

ENDS_HIGH, DESCENDS = "bforvw", "gjpqyz"
FLATTENED = 0.01


def measured(name: str, pair: str, size: float, neck: float) -> dict[str, Any] | None:
    """A pair as it is joined; None where the face draws it as one."""
    face = families()[name].face()
    start = time.process_time()
    part = Lettering(
        text=pair, size=Size(measure="capitals", mm=size), join=JoinOptions(how="auto", neck_mm=neck)
    )
    made = build_lettering(part, Faces(face), (), Weedable(PINHOLE))
    took = time.process_time() - start
    letters = [letter.place.region(letter.form.region) for letter in made.layout.letters]
    if len(letters) != 2 or not made.joined.seams:
        return None
    x_height, base = -x_band(face, made.size)[0], made.layout.baselines[0]
    joint = made.joined.seams[0].joint
    kind = joint.bar.kind if joint.bar else "slide" if joint.shift else "set"
    whole = shapely.union_all([place.region(shape.region) for shape, place in made.shapes])
    added = shapely.difference(whole, shapely.buffer(shapely.union_all(letters), FLATTENED))
    if joint.bar is None or added.area < FLATTENED**2:
        added = shapely.MultiPolygon()
    at = added if not added.is_empty else shapely.intersection(*letters)
    if at.is_empty:
        at = shapely.shortest_line(*letters)
    stem = stem_of(name) * made.size
    circles = [shapely.maximum_inscribed_circle(p, tolerance=0.02) for p in shapely.get_parts(added)]
    widest = max((2 * circle.length for circle in circles), default=0.0)
    return {
        "face": name, "pair": pair, "kind": kind,
        "height": (base - at.centroid.y) / x_height, "foot": (base - at.bounds[3]) / x_height,
        "heavy": widest > 1.15 * stem or added.area > 2.5 * stem**2, "ms": took * 1000,
    }  # fmt: skip


def stem_of(name: str) -> float:
    """The weight of a face's strokes, as a share of the size: of n, twice its area by its perimeter."""
    face = families()[name].face()
    file = face.file_for("n")
    glyph = face.fonts[file or 0].get_nominal_glyph(ord("n"))
    region = face.glyph(file or 0, glyph or 0).region
    return float(2 * region.area / region.length)


def is_odd(row: dict[str, Any]) -> bool:
    first = row["pair"][0]
    highest = 1.05 if first in ENDS_HIGH else 0.70
    return row["kind"] != "set" and first not in DESCENDS and not 0.15 <= row["height"] <= highest


def is_sagging(row: dict[str, Any]) -> bool:
    return row["kind"] != "set" and row["pair"][0] not in DESCENDS + "f" and row["foot"] < -0.08


def run(job: tuple[str, list[str], float, float]) -> list[dict[str, Any]]:
    name, pairs, size, neck = job
    rows = (measured(name, pair, size, neck) for pair in pairs)
    return [row for row in rows if row is not None]


def table(rows: list[dict[str, Any]]) -> None:
    heads = ("pairs", "own", "odd %", "stroke", "sag %", "10", "50", "90", "spread", "heavy %", "ms")
    print(f"{'':20}" + "".join(f"{head:>9}" for head in heads))
    for name in [*dict.fromkeys(row["face"] for row in rows), "all"]:
        some = [row for row in rows if name in ("all", row["face"])]
        own = [row for row in some if row["kind"] != "set"]
        heights = [row["height"] for row in own if row["pair"][0] not in DESCENDS] or [float("nan")]
        odd = [row for row in some if is_odd(row)]
        percent = 100 / len(some)
        figures = (
            len(some), len(own), percent * len(odd), percent * sum(row["kind"] == "stroke" for row in odd),
            percent * sum(map(is_sagging, some)), *np.percentile(heights, (10, 50, 90)), np.std(heights),
            percent * sum(row["heavy"] and row["kind"] != "set" for row in some),
            statistics.mean(row["ms"] for row in some),
        )  # fmt: skip
        print(f"{name:20}" + "".join(f"{f:9d}" if isinstance(f, int) else f"{f:9.2f}" for f in figures))


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(prog="./fulgen bench pairs")
    parser.add_argument("--faces", default="")
    parser.add_argument("--capitals", action="store_true")
    parser.add_argument("--size", type=float, default=25.0)
    parser.add_argument("--neck", type=float, default=1.2)
    parser.add_argument("--every", type=int, default=1, help="one of so many pairs, drawn by lot")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("-o", "--out")
    given = parser.parse_args(arguments)
    scripts = [slug for slug, family in families().items() if family.kind == "script"]
    firsts = string.ascii_uppercase if given.capitals else string.ascii_lowercase
    pairs = [a + b for a in firsts for b in string.ascii_lowercase]
    random.Random(7).shuffle(pairs)
    pairs = pairs[: len(pairs) // given.every]
    names = given.faces.split(",") if given.faces else scripts
    jobs = [(name, pairs[k::4], given.size, given.neck) for name in names for k in range(4)]
    with Pool(given.jobs) as pool:
        rows = [row for some in pool.imap(run, jobs) for row in some]
    if given.out:
        Path(given.out).write_text(json.dumps(rows))
    table(rows)


if __name__ == "__main__":
    main()
