"""Random edits of recipes, and all that an evaluation says, as bytes: what is kept must be what would be made
anew. Used by the tests, and run for thousands of edits by hand:

    python -m tests.warm_and_cold 5000 [seed]
"""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from fulgen.bounded import clear_all_caches
from fulgen.formats.svg import write_svg
from fulgen.problem import Problem
from fulgen.readiness.findings import findings
from fulgen.recipe.contacts import contacts
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.versions import recipe_from

DEMO = Path(__file__).parents[1] / "demo"
FACES = ("pacifico", "kaushan-script", "courgette", "anton", "allura", "lobster")
COLOURS = ("#2B5674", "#C4502E", "#C9A24A")


def demo_recipes() -> dict[str, dict[str, Any]]:
    """The recipes of the demo shop, by name."""
    found = {path.stem: json.loads(path.read_text()) for path in sorted(DEMO.glob("*.json"))}
    return {name: recipe for name, recipe in found.items() if "parts" in recipe}


def edited(recipe: dict[str, Any], rng: random.Random) -> dict[str, Any]:
    """The recipe with one random edit, such as a hand makes."""
    recipe = json.loads(json.dumps(recipe))
    part = rng.choice(recipe["parts"])
    kind = part.get("kind", "lettering")
    choices = ["film", "hide", "lock", "move", "name", "limit", "material", "ready", "align"]
    if kind == "lettering":
        choices += ["text", "face", "size", "join", "letter", "letter", "slant", "seam"]
    if kind == "frame":
        choices += ["width", "width", "height"]
    what = rng.choice(choices)
    if what == "film":
        part["film"] = rng.choice(COLOURS)
    elif what == "hide":
        part["hidden"] = not part.get("hidden", False)
    elif what == "lock":
        part["locked"] = not part.get("locked", False)
    elif what == "name":
        part["name"] = rng.choice(("", "Heron", "plate"))
    elif what == "move":
        place = part.setdefault("place", {})
        place["x"] = place.get("x", 0.0) + rng.choice((-7.5, 0.6, 12.0))
        place["turn"] = rng.choice((0.0, 0.0, 15.0))
    elif what == "limit":
        limits = {"neck_mm": 0.8, "stroke_mm": 0.6, "hole_mm": rng.choice((0.8, 1.0, 1.6)), "piece_mm": 1.5}
        recipe["material"] = {"name": "Adhesive film", "limits": {**limits, "gap_mm": 0.3}}
    elif what == "material":
        recipe["material"] = {"name": rng.choice(("Card", "Adhesive film", "Ply, 3 mm"))}
    elif what == "ready":
        recipe["ready"] = rng.choice(({}, {}, {"kinds_left": [rng.choice(("stroke", "hole", "gap"))]}, None))
    elif what == "text":
        part["text"] = rng.choice(("Piers", "Ada", "Mo", "Wren", "Zoë", ""))
        for own in ("letters", "letter_ids", "next_letter_id"):
            part.pop(own, None)
    elif what == "face":
        part["face"] = {"family": rng.choice(FACES)}
    elif what == "size":
        part["size"] = {"measure": "capitals", "mm": rng.choice((14.0, 22.0, 31.0))}
    elif what == "join":
        part["join"] = {**part.get("join", {}), "how": rng.choice(("auto", "set")),
                        "neck_mm": rng.choice((0.8, 1.2, 2.0))}  # fmt: skip
    elif what == "align":
        others = [None, *(other["id"] for other in recipe["parts"] if other["id"] != part["id"])]
        across, down = rng.choice(("left", "centre", None)), rng.choice(("middle", "bottom", None))
        part["alignment"] = rng.choice((None, {"to": rng.choice(others), "across": across, "down": down}))
    elif what == "slant":
        part["slant"] = rng.choice((0.0, 8.0, -15.0))
    elif what == "seam":
        part.setdefault("letters", {})["2"] = {"seam": {"smooth_mm": rng.choice((0.3, 0.8, None))}}
    elif what == "letter":
        part.setdefault("letters", {})["1"] = {"dy": rng.choice((-0.05, 0.02)), "carry": 0.01}
    else:
        part[f"{what}_mm"] = rng.choice((70.0, 80.0, 95.0, 120.0))
    return recipe


def said(raw: dict[str, Any]) -> list[str]:
    """All that is said of a recipe: its SVG, seams, films, findings, contacts and troubles."""
    try:
        evaluation = evaluate(recipe_from(raw))
    except Problem as problem:
        return [f"refused: {problem}"]
    rows: list[str] = [repr([(failure.parts, str(failure.problem)) for failure in evaluation.failures])]
    rows.append(repr((evaluation.lost, [(b.number, b.ends, b.necks) for b in evaluation.bridges])))
    for film in evaluation.films:
        rows.append(film.colour)
        rows += [cluster.shape.outline.digest for cluster in film.clusters]
    if not evaluation.failures:
        rows += _written(evaluation)
    rows += [repr((s.left_text, s.right_text, s.gap, s.neck, s.target)) for s in evaluation.seams]
    for look in (findings, contacts):
        try:
            rows.append(repr([_plain(found) for found in look(evaluation)]))
        except Problem as problem:
            rows.append(str(problem))
    return rows


def _written(evaluation: Evaluation) -> list[str]:
    try:
        return [str(write_svg(evaluation))]
    except Problem as problem:
        return [str(problem)]


def _plain(found: object) -> str:
    """What a finding or contact says, without what cannot be compared."""
    return repr({name: value for name, value in vars(found).items()
                 if isinstance(value, str | int | float | bool | tuple)})  # fmt: skip


def edits(seed: int, count: int) -> Iterator[tuple[str, dict[str, Any]]]:
    """Recipes one after the other, each an edit of one before: the demo shop's, taken in turns."""
    rng = random.Random(seed)
    now = demo_recipes()
    before: dict[str, list[dict[str, Any]]] = {name: [recipe] for name, recipe in now.items()}
    for _ in range(count):
        name = rng.choice(sorted(before))
        kept = before[name]
        if len(kept) > 1 and rng.random() < 0.15:
            kept.pop()  # undone
        else:
            kept.append(edited(kept[-1], rng))
            recipe_from(kept[-1])  # a hand makes no recipe that is none
            del kept[:-6]
        yield name, kept[-1]


def differences(seed: int, count: int) -> list[tuple[str, dict[str, Any]]]:
    """The recipes that are said otherwise after all those before them than with every cache emptied."""
    rows = list(edits(seed, count))
    warm = [said(recipe) for _, recipe in rows]
    found = []
    for (name, recipe), kept in zip(rows, warm, strict=True):
        clear_all_caches()
        if said(recipe) != kept:
            found.append((name, recipe))
    return found


def main(count: int = 5_000, seed: int = 1) -> int:
    """Tells how many recipes differ; the number of them."""
    odd = differences(seed, count)
    print(f"{count} edits, {len(odd)} otherwise when made anew")
    for name, recipe in odd[:10]:
        print(name, json.dumps(recipe)[:2000])
    return len(odd)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
