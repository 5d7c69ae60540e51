"""How well names hold in frames, measured with shapely alone: ./fulgen bench frames.

Every built-in frame × 16 names of 1 to 14 letters × 8 faces, 80 mm wide, necks of 1.2 mm. Nothing of
`fulgen.framing` is asked whether a name holds: what is cut is united by GEOS and worn.

    ./fulgen bench frames [--only FRAME,…] [--faces FACE,…] [--jobs 2] [-o OUT.json]

one        designs that come off in one piece
torn at d  of designs whose letters and frame each stay in one core when worn by d/2 all round: those that do
not
           (d is 0.4 mm, 0.8 mm and nine tenths of the neck)
held       letters that overlap an edge by more than a hair, and that are still in one with the frame when
both
           are worn by nine tenths of the neck, or of what they themselves hold
air        names beside which less air than asked is left, or not the same at both sides, by over 0.1 mm
stretch    names made wider or narrower by more than the limit
"""

from __future__ import annotations

import argparse
import json
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

from fulgen.framing.frames import FRAMES  # noqa: E402
from fulgen.joining.join_options import JoinOptions  # noqa: E402
from fulgen.lettering.catalogue import FaceChoice  # noqa: E402
from fulgen.lettering.letters import MarkWay  # noqa: E402
from fulgen.parts.built_lettering import BuiltLettering  # noqa: E402
from fulgen.parts.frame import Frame  # noqa: E402
from fulgen.parts.frame_builder import BuiltFrame  # noqa: E402
from fulgen.parts.lettering import Lettering  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen.recipe.evaluate import evaluate  # noqa: E402
from fulgen.recipe.model import Recipe  # noqa: E402

NAMES = (
    "J", "Al", "Eve", "Mika", "Piers", "Zoë", "Ágnes", "Poppy", "WREN", "ISLA", "Theodora", "Guðrún", "BJÖRN",
    "Wilhelmina", "Maximiliane", "Bartholomäuss",
)  # fmt: skip
FACES = ("pacifico", "anton", "courgette", "allura", "kaushan-script", "lobster", "alfa-slab-one", "nunito")
WIDE, NECK, AIR, STRETCH = 80.0, 1.2, 3.0, 1.15
WORN = (0.4, 0.8, 0.9 * NECK)
SPECK = 0.3
JOIN = JoinOptions(how="auto", neck_mm=NECK, marks=MarkWay.LOWER, tie=True)


def design(form: str, name: str, face: str) -> Recipe:
    """A name in a frame; a monogram takes three letters of it, a board two names more."""
    texts = [name]
    if "monogram" in form:
        texts = [(name.upper() + "KB")[:3]]
    elif form == "crew board":
        texts = [name, "Mo", "Theodora"]
    words = [
        Lettering(id=f"name-{n}", text=text, face=FaceChoice(face), join=JOIN) for n, text in enumerate(texts)
    ]
    height = WIDE / FRAMES[form].ratio
    frame = Frame(id="frame", form=form, width_mm=WIDE, height_mm=height, members=tuple(w.id for w in words))
    return Recipe(parts=(*words, frame))


def cores(region: Any, width: float) -> Any:
    """What is left of a region worn by half a width, specks left out."""
    parts = shapely.get_parts(shapely.buffer(region, -width / 2, quad_segs=8))
    return parts[shapely.area(parts) > (SPECK * width) ** 2]


def stays_one(region: Any, width: float) -> bool:
    return all(len(cores(part, width)) == 1 for part in shapely.get_parts(region) if part.area > width**2)


def holds(letter: Any, frame: Any, share: float) -> bool:
    """Whether a letter and what it meets of a frame are one when worn as far as both hold by themselves."""
    width = share * NECK
    # Of a letter drawn in several strokes, those that meet the frame hold there.
    parts = shapely.get_parts(letter)
    letter = shapely.union_all(parts[shapely.intersects(parts, frame)])
    near = shapely.intersection(frame, shapely.box(*shapely.buffer(letter, 6 * NECK).bounds))
    while width > 0.05 and not (stays_one(letter, width) and len(cores(near, width))):
        width *= 0.9
    whole = shapely.union(letter, near)
    left = cores(whole, width)
    own = cores(letter, width)
    if not len(own) or not len(left):
        return True  # nothing of the letter is left: it gives nothing by itself
    biggest = own[int(np.argmax(shapely.area(own)))]
    within = left[shapely.intersects(left, shapely.point_on_surface(biggest))]
    return bool(shapely.intersects(within, cores(near, width)[:, None]).any()) if len(within) else False


def look(job: tuple[str, str, str]) -> dict[str, Any]:
    form, name, face = job
    row: dict[str, Any] = {"frame": form, "name": name, "face": face, "problem": ""}
    start = time.perf_counter()
    try:
        evaluation = evaluate(design(form, name, face)).whole()
    except Problem as problem:
        return row | {"problem": f"{problem.kind}: {problem.what}"}
    row["ms"] = 1000 * (time.perf_counter() - start)
    cut = shapely.union_all([film.shape.region for film in evaluation.films])
    row["one"] = len(shapely.get_parts(cut)) == 1
    placed = evaluation.part("frame")
    made = placed.built if placed else None
    assert isinstance(made, BuiltFrame)
    assert made.bare is not None
    letters = [
        part.place.region(region)
        for part in evaluation.parts
        if isinstance(part.built, BuiltLettering)
        for region in part.built.regions
    ]
    is_holes = FRAMES[form].uses[0] == "holes"
    bare = made.bare.body.region
    for width in WORN:
        counts = stays_one(bare, width) and (is_holes or all(stays_one(letter, width) for letter in letters))
        row[f"torn {width:.1f}"] = len(cores(cut, width)) != 1 if counts else None
    met = [] if is_holes else [r for r in letters if shapely.intersection(r, bare).area > 0.05]
    row["contacts"], row["held"] = len(met), sum(holds(letter, bare, 0.9) for letter in met)
    beside = [one for one in made.fitted if one.band.manner in ("upright", "stand")]
    row["air"] = any(
        abs(left - right) > 0.1 or min(left, right) < AIR - 0.1 for left, right in (one.air for one in beside)
    )
    row["stretch"] = any(not 1 / STRETCH - 1e-3 <= one.stretch <= STRETCH + 1e-3 for one in made.fitted)
    return row


def share(rows: list[dict[str, Any]], key: str) -> str:
    known = [bool(row[key]) for row in rows if row.get(key) is not None]
    return f"{100 * sum(known) / len(known):7.2f} %" if known else "        –"


def table(rows: list[dict[str, Any]]) -> None:
    heads = ["one", *(f"torn {width:.1f}" for width in WORN), "air", "stretch"]
    print(
        f"{'':18}{'designs':>9}{'refused':>9}"
        + "".join(f"{head:>10}" for head in heads)
        + f"{'held':>18}{'ms':>7}"
    )

    def show(name: str, some: list[dict[str, Any]]) -> None:
        done = [row for row in some if not row["problem"]]
        met, held = (sum(row[key] for row in done) for key in ("contacts", "held"))
        told = f"{held} of {met}" if met else "–"
        ms = sorted(row["ms"] for row in done)
        print(
            f"{name:18}{len(some):9}{len(some) - len(done):9}"
            + "".join(f"{share(done, head):>10}" for head in heads)
            + f"{told:>18}{ms[len(ms) // 2] if ms else 0:7.0f}"
        )

    for key in ("frame", "face"):
        groups = defaultdict(list)
        for row in rows:
            groups[row[key]].append(row)
        for name, some in groups.items():
            show(name, some)
        print()
    show("all", rows)
    for row in rows:
        if row["problem"]:
            print(f"refused: {row['frame']}, {row['name']}, {row['face']}: {row['problem']}")


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(prog="./fulgen bench frames")
    parser.add_argument("--only", default=",".join(form for form in FRAMES if form != "word ring"))
    parser.add_argument("--faces", default=",".join(FACES))
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("-o", "--out")
    given = parser.parse_args(arguments)
    jobs = [
        (form, name, face)
        for face in given.faces.split(",")
        for form in given.only.split(",")
        for name in NAMES
    ]
    with Pool(given.jobs) as pool:
        rows = pool.map(look, jobs, chunksize=len(NAMES))
    if given.out:
        Path(given.out).write_text(json.dumps(rows))
    table(rows)


if __name__ == "__main__":
    main()
