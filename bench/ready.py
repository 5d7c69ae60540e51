"""Whether every job ends ready to cut after one action, and how faithful that is: ./fulgen bench ready.

Words: every face that ships × 48 names × capitals of 15, 25 and 40 mm × three materials, joined. Frames:
every built-in frame × 8 faces × 16 names, 80 and 120 mm wide, in adhesive film. Each is evaluated as it is,
and once more made ready.

    ./fulgen bench ready [--faces FACE,…] [--names N] [--sizes MM,…] [--materials A,B] [--frames] [--jobs 2]
                         [--every N] [--cut] [-o OUT.json]

before, after  designs of which nothing blocks the cut (as the check tells it)
still          what is left, by kind
held           of those that are ready: whose outline, worn by nine tenths of the stroke's limit, falls into
               no more parts than it has pieces, shapely alone (specks left out)
area           by how much the area grew, in percent: median and most
nodes          how many times as many nodes: median and most
moved          points of a mended outline that lie further from the old one than half of what was lacking
               there and 0.05 mm, of 1,000; of strokes only: what is filled, tied or rounded at a neck is left
               out
corners        corners of more than 8 degrees more than there were, where strokes alone were mended, a design
counters       letters' own holes that are gone, and are not told
ms             processor time that making ready took: median and most
"""

from __future__ import annotations

import argparse
import json
import random
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
sys.path[:0] = [str(ROOT), str(ROOT / "core"), str(ROOT / "bench")]

import frames as framed  # noqa: E402

from fulgen.cutter.cut_simulation import torn_pieces  # noqa: E402
from fulgen.framing.frames import FRAMES  # noqa: E402
from fulgen.geometry.outline import Outline  # noqa: E402
from fulgen.geometry.thin import slots  # noqa: E402
from fulgen.joining.join_options import JoinOptions  # noqa: E402
from fulgen.lettering.catalogue import FaceChoice, families  # noqa: E402
from fulgen.lettering.setting import Size  # noqa: E402
from fulgen.parts.lettering import Lettering  # noqa: E402
from fulgen.parts.ready import Ready  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen.readiness.findings import blocking, findings  # noqa: E402
from fulgen.recipe.evaluate import evaluate  # noqa: E402
from fulgen.recipe.evaluation import Cluster, Evaluation  # noqa: E402
from fulgen.recipe.model import MaterialChoice, Recipe  # noqa: E402
from fulgen.sheet.machines import machine  # noqa: E402
from fulgen.sheet.motifs import motifs_of  # noqa: E402
from fulgen.sheet.sheets import Sheet, laid_out  # noqa: E402
from fulgen.sheet.verification import verify_job  # noqa: E402

NAMES = (
    "Ada", "Rosalind", "Theodora", "Poppy", "Willowmere", "Otter", "Ditto", "Millie", "Hattie", "Annabelle",
    "Bartholomew", "Quentin", "Xavier", "Zoë", "Yusuf", "Jazz", "Kirsty", "Guðrún", "Björn", "Ágnes",
    "Łukasz",
    "Ivy", "Eve", "Fitzwilliam", "Gregory", "Lily", "Harbour", "Kestrel", "Mississippi", "Nutmeg", "Olive",
    "Piers", "Quill", "Raffi", "Saffron", "Tom", "Ursula", "Violet", "Wren", "Vyvyan", "Elliott", "Dorothea",
    "Cassiopeia", "Bee", "Heron", "Marigold", "Ingrid", "Llewellyn",
)  # fmt: skip
SIZES = (15.0, 25.0, 40.0)
MATERIALS = ("Adhesive film", "Iron-on film", "Card")
WIDTHS = (80.0, 120.0)

Job = tuple[str, str, str, float]


def word(face: str, name: str, material: str, size: float) -> Recipe:
    part = Lettering(
        id="word", text=name, face=FaceChoice(face), size=Size("capitals", size), join=JoinOptions(how="auto")
    )
    return Recipe(parts=(part,), material=MaterialChoice(material))


def frame(face: str, name: str, form: str, width: float) -> Recipe:
    made = framed.design(form, name, face)
    *words, ring = made.parts
    high = width / FRAMES[form].ratio
    return made.model_copy(
        update={"parts": (*words, ring.model_copy(update={"width_mm": width, "height_mm": high}))}
    )


def corners(outline: Outline) -> np.ndarray[Any, Any]:
    """Points at which an outline turns by more than 8 degrees (K, 2)."""
    sides = outline.sides.cubics
    z = np.ascontiguousarray(sides).view(np.complex128)[..., 0]

    def way(points: Any) -> Any:
        steps = points[:, 1:] - points[:, :1]
        first = np.abs(steps[:, 0]) > 1e-6
        second = np.abs(steps[:, 1]) > 1e-6
        return np.where(first, steps[:, 0], np.where(second, steps[:, 1], steps[:, 2]))

    leaving, arriving = way(z), -way(z[:, ::-1])
    turn = np.abs(np.angle(leaving * arriving[outline.sides.before].conj()))
    return np.asarray(sides[turn > np.radians(8), 0])


def faithful(cluster: Cluster, limit: float) -> dict[str, Any]:
    """How far strokes have moved, and where corners came to be."""
    old, new = cluster.as_welded, cluster.shape
    assert old is not None
    others = [m.place.buffer(1.5) for m in cluster.mends if m.kind != "stroke"]
    left_out = shapely.union_all(others)
    points = shapely.points(shapely.get_coordinates(new.region))
    points = points[~shapely.intersects(points, left_out)]
    edge = shapely.boundary(old.region)
    away = shapely.distance(points, edge)
    outside = (away > 0.05) & ~shapely.contains(old.region, points)
    too_far = 0
    for point, far in zip(points[outside], away[outside], strict=True):
        line = shapely.shortest_line(point, edge)
        (x0, y0), (x1, y1) = shapely.get_coordinates(line)
        along = np.array([x1 - x0, y1 - y0]) / far
        ray = shapely.LineString([(x1, y1), np.array([x1, y1]) + along * limit])
        within = shapely.get_parts(shapely.intersection(ray, old.region))
        across = max(
            (part.length for part in within if part.distance(shapely.Point(x1, y1)) < 1e-3), default=0
        )
        too_far += far > max(limit - across, 0) / 2 + 0.05
    was, now = corners(old.outline), corners(new.outline)
    new_ones = 0
    if len(now):
        # The corner of a bay that has become shallower is the same one: it has moved.
        new_ones = max(0, len(_unlike(now, was, left_out)) - len(_unlike(was, now, left_out)))
    return {"points": len(points), "moved": too_far, "corners": new_ones}


def _unlike(corners: Any, others: Any, left_out: Any) -> Any:
    """Corners that are not among others, where strokes alone were mended."""
    at = shapely.points(corners)
    known = shapely.MultiPoint(others) if len(others) else shapely.Point(1e6, 1e6)
    return at[~shapely.dwithin(at, known, 0.05) & ~shapely.intersects(at, left_out)]


def measured(recipe: Recipe) -> dict[str, Any] | None:
    try:
        before = evaluate(recipe).whole()
    except Problem:
        return None
    limits = recipe.limits
    found = Counter(f.kind for f in blocking(findings(before)))
    began = time.process_time()
    after = evaluate(recipe.model_copy(update={"ready": Ready()}))
    ms = 1000 * (time.process_time() - began)
    left = blocking(findings(after))
    regions = [cluster.shape.region for cluster in after.clusters]
    parts = [part for region in regions for part in shapely.get_parts(region)]
    held = all(framed.stays_one(region, 0.9 * limits.stroke_mm) for region in regions)
    trust = [faithful(cluster, limits.neck_mm) for cluster in after.clusters if cluster.mends]
    mends = Counter(f"{m.kind} {m.way}" for cluster in after.clusters for m in cluster.mends)
    was = sum(cluster.shape.region.area for cluster in before.clusters)
    slits = joined_slits(before, limits.gap_mm)
    return {
        "before": dict(found), "left": [finding.what("mm") for finding in left],
        "kinds": dict(Counter(f.kind for f in left)), "held": held, "pieces": len(parts) - len(before.pieces),
        "area": 100 * (sum(region.area for region in regions) / was - 1) if was else 0.0,
        "nodes": after.nodes / max(before.nodes, 1), "mends": dict(mends), "ms": ms, "slits": slits,
        **{key: int(sum(one[key] for one in trust)) for key in ("points", "moved", "corners")},
    }  # fmt: skip


def joined_slits(evaluation: Evaluation, gap: float) -> int:
    """Slits between letters, or a letter and what joins it: those that a face draws itself do not count."""
    count = 0
    for cluster in evaluation.clusters:
        areas = [shape.region for member in cluster.members for shape in member.shapes]
        for slot in slots(cluster.shape.region, gap):
            count += slot.slit and int(shapely.dwithin(areas, slot.region, 0.01).sum()) > 1
    return count


def recipe_of(job: Job) -> Recipe:
    face, name, what, size = job
    return frame(face, name, what, size) if what in FRAMES else word(face, name, what, size)


def run(job: Job) -> tuple[Job, dict[str, Any] | None]:
    return job, measured(recipe_of(job))


def cut(job: Job) -> tuple[Job, int, int, bool]:
    """A design made ready and cut on the simulated machine: what was promised, how many places are told as
    torn, and whether all came off as promised."""
    evaluation = evaluate(recipe_of(job).model_copy(update={"ready": Ready()}))
    limits = evaluation.recipe.limits
    chosen = machine("Drag knife that")
    motifs = motifs_of("design", evaluation, evaluation.recipe.cut)
    promised = torn = 0
    kept = True
    for sheet in laid_out(motifs, lambda _film: Sheet(400.0, 300.0)):
        strokes = sheet.job(chosen).strokes
        told, came = verify_job(sheet.promised, strokes, chosen)
        promised += len(sheet.promised)
        torn += len(torn_pieces(came.pieces, min(limits.neck_mm, limits.stroke_mm)))
        kept &= told.is_kept
    return job, promised, torn, kept


def table(rows: list[tuple[Job, dict[str, Any]]], column: int) -> None:
    heads = ("designs", "before %", "after %", "held %", "area", "most", "nodes", "most", "moved ‰",
             "corners", "ms", "most", "slits")  # fmt: skip
    print(f"\n{'':22}" + "".join(f"{head:>9}" for head in heads))
    for name in [*dict.fromkeys(job[column] for job, _ in rows), "all"]:
        some = [row for job, row in rows if name in ("all", job[column])]
        mended = [row for row in some if row["mends"]] or [{"area": 0, "nodes": 1, "ms": 0}]
        ready = [row for row in some if not row["left"]]
        percent = 100 / len(some)
        figures = (
            len(some), percent * sum(not row["before"] for row in some), percent * len(ready),
            100 * sum(row["held"] for row in ready) / max(len(ready), 1),
            *(f([row["area"] for row in mended]) for f in (statistics.median, max)),
            *(f([row["nodes"] for row in mended]) for f in (statistics.median, max)),
            1000 * sum(row["moved"] for row in some) / max(sum(row["points"] for row in some), 1),
            sum(row["corners"] for row in some) / len(some),
            *(f([row["ms"] for row in mended]) for f in (statistics.median, max)),
            sum(row["slits"] for row in some),
        )  # fmt: skip
        print(
            f"{str(name)[:21]:22}"
            + "".join(f"{f:9d}" if isinstance(f, int) else f"{f:9.2f}" for f in figures)
        )
    still = Counter(kind for _, row in rows for kind in row["kinds"])
    print("still:", dict(still))
    print("mended:", dict(sum((Counter(row["mends"]) for _, row in rows), Counter())))


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(prog="./fulgen bench ready")
    parser.add_argument("--faces", default="")
    parser.add_argument("--names", type=int, default=len(NAMES))
    parser.add_argument("--sizes", default="")
    parser.add_argument("--materials", default="")
    parser.add_argument("--frames", action="store_true")
    parser.add_argument("--cut", action="store_true", help="cut what was made ready on the simulated machine")
    parser.add_argument("--every", type=int, default=1, help="one of so many, drawn by lot")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("-o", "--out")
    given = parser.parse_args(arguments)
    sizes = [float(size) for size in given.sizes.split(",")] if given.sizes else None
    jobs: list[Job] = []
    if given.frames:
        faces = given.faces.split(",") if given.faces else list(framed.FACES)
        forms = given.materials.split(",") if given.materials else list(FRAMES)
        jobs = [(face, name, form, width) for face in faces for name in framed.NAMES[: given.names]
                for form in forms for width in sizes or WIDTHS]  # fmt: skip
    else:
        faces = given.faces.split(",") if given.faces else list(families())
        materials = given.materials.split(",") if given.materials else list(MATERIALS)
        jobs = [(face, name, material, size) for face in faces for name in NAMES[: given.names]
                for material in materials for size in sizes or SIZES]  # fmt: skip
    random.Random(7).shuffle(jobs)
    jobs = sorted(jobs[: max(1, len(jobs) // given.every)])
    if given.cut:
        with Pool(given.jobs, maxtasksperchild=400) as pool:
            all_cut = list(pool.imap(cut, jobs, chunksize=4))
        for job, _, torn, kept in all_cut:
            if torn or not kept:
                print(*job, f"{torn} torn" if torn else "", "" if kept else "not as promised")
        pieces = sum(row[1] for row in all_cut)
        print(
            f"{len(all_cut)} designs, {pieces} pieces: not as promised {sum(not row[3] for row in all_cut)}, "
            f"with a place told as torn {sum(row[2] > 0 for row in all_cut)}"
        )
        return
    with Pool(given.jobs, maxtasksperchild=400) as pool:
        found = pool.imap(run, jobs, chunksize=4)
        rows = [(job, row) for job, row in found if row is not None]
    print(f"{len(jobs) - len(rows)} of {len(jobs)} cannot be made at all")
    if given.out:
        Path(given.out).write_text(json.dumps(rows))
    table(rows, 0)
    table(rows, 2)
    if not given.frames:
        table(rows, 3)


if __name__ == "__main__":
    main()
