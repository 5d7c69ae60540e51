"""What is asked of a size is so on the work, within 0.02 mm, or is told beside the part."""

import random

import numpy as np
import pytest
import shapely

from fulgen.geometry import measure
from fulgen.parts.built_lettering import REPORTED_FROM_MM
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from fulgen.report import report

FACES = ("courgette", "kaushan-script", "pacifico", "allura", "anton", "lobster", "great-vibes", "caveat")
WORDS = ("Willowmere", "Anna", "jiffy", "Éloïse", "Otter\nbrook", "Quay 7", "ff", "Aa", "Vyvyan Jazz", "i")
WARPS = (
    {"kind": "bulge", "amount": 0.8},
    {"kind": "arch", "amount": 0.6},
    {"kind": "arch", "amount": -0.5},
    {"kind": "wave", "amount": 0.7, "waves": 2.5},
    {"kind": "bulge", "amount": -0.7},
)
COURSES = (
    {"kind": "circle", "diameter_mm": 90.0},
    {"kind": "circle", "diameter_mm": 110.0, "side": "inside", "reading": "inward", "letters": "bent"},
    {"kind": "circle", "diameter_mm": 120.0, "spread": 200.0},
    {"kind": "arc", "length_mm": 140.0, "bulge": 0.3},
    {"kind": "wave", "length_mm": 160.0, "swing_mm": 9.0, "waves": 2.0},
    {"kind": "wave", "length_mm": 150.0, "swing_mm": 14.0, "waves": 3.0, "spread": 0.9},
    {"kind": "down", "spine_mm": 2.0},
)


def random_lettering(dice):
    """A lettering of any kind for which a size can be asked."""
    measured = dice.choice(("width", "height", "capitals"))
    asked = {
        "id": "word",
        "text": dice.choice(WORDS),
        "face": {"family": dice.choice(FACES)},
        "size": {
            "measure": measured,
            "mm": round(dice.uniform(15, 45) * (4 if measured == "width" else 1), 2),
        },
        "join": {"how": dice.choice(("auto", "set")), "tie": dice.random() < 0.3},
        "spacing_mm": dice.choice((0.0, 0.0, -0.6, 1.5)),
    }
    if dice.random() < 0.4:
        asked["thicken_mm"] = round(dice.uniform(-0.2, 1.2), 2)
    if dice.random() < 0.35:
        asked["course"] = dice.choice(COURSES)
    else:
        if dice.random() < 0.5:
            asked["warp"] = dice.choice(WARPS)
        if dice.random() < 0.5:
            asked["underline"] = {"thick_mm": 1.5, "beyond_mm": round(dice.uniform(0, 12), 1)}
    return asked


def reached(evaluation, part):
    """What was asked of the size, measured on what is cut; along a line as if that were straight."""
    measured, course = part["size"]["measure"], part.get("course")
    (placed,) = evaluation.parts
    if measured == "capitals":
        return placed.built.capital_height
    if course is None:
        box = measure.box(evaluation.films[0].outline)
        return box.width if measured == "width" else box.height
    if course.get("letters") == "bent":
        # Lengths are measured at 0.3 of the height of capitals; heads point to the middle here.
        radius = course["diameter_mm"] / 2 - 0.3 * placed.built.capital_height
        return on_a_circle(placed.built, radius, measured)
    along = (measured == "width") != (course["kind"] == "down")
    layout = placed.built.layout
    return longest(layout, course, part["spacing_mm"]) if along else across(layout, course)


def on_a_circle(made, radius, measured):
    """How far bent letters reach around the circle that they stand on, or how high they are on it."""
    xy = np.concatenate([shapely.get_coordinates(region) for region in made.regions])
    z = xy[:, 0] + 1j * xy[:, 1]
    if measured == "height":
        return float(np.ptp(np.abs(z)))
    angles = np.angle(z * np.exp(-1j * np.angle(z.mean())))
    return float(np.ptp(angles)) * radius


def across(layout, course):
    """How high lines of letters are that are not turned; how wide columns of them are."""
    if course["kind"] == "down":
        sides = [(p.form.box.x, p.form.box.right, p.letter.stand.middle, p.line) for p in layout.letters]
    else:
        sides = [(p.form.box.y, p.form.box.bottom, -p.letter.y, p.line) for p in layout.letters]
    ends = [v - off + n * layout_spacing(layout) for low, high, off, n in sides for v in (low, high)]
    return (max(ends) - min(ends)) * layout.size


def layout_spacing(layout):
    """From baseline to baseline, in shares of the size."""
    return np.diff(layout.baselines)[0] / layout.size if len(layout.baselines) > 1 else 0.0


def longest(layout, course, spacing):
    """The length of the longest line, as if it were straight and not spread."""
    lines = {}
    for p in layout.letters:
        at, box = p.letter.x * layout.size + p.letter.order * spacing, p.form.box
        low, high = (box.y, box.bottom) if course["kind"] == "down" else (box.x, box.right)
        left, right = lines.get(p.line, (1e9, -1e9))
        lines[p.line] = min(left, at + low * layout.size), max(right, at + high * layout.size)
    return max(right - left for left, right in lines.values())


@pytest.mark.parametrize("seed", range(40))
def test_a_size_is_met_or_told(seed):
    part = random_lettering(random.Random(seed))
    evaluation = evaluate(Recipe.model_validate({"parts": [part]}))
    if evaluation.failures:
        assert evaluation.failures[0].problem.kind in ("small-circle", "impossible-size", "too-thick")
        return
    told = {problem.kind for problem in evaluation.parts[0].built.unmet}
    off = abs(reached(evaluation, part) - part["size"]["mm"])
    assert off <= REPORTED_FROM_MM or "size-not-met" in told


def lettering(**more):
    return {"id": "word", "text": "Willowmere", "face": {"family": "courgette"}, **more}


class TestWhatIsNotMetIsTold:
    def test_a_spread_that_is_further_than_letters_go(self):
        course = {"kind": "circle", "diameter_mm": 1000.0, "spread": 300.0}
        part = lettering(text="Aa", size={"measure": "height", "mm": 15.0}, course=course)
        evaluation = evaluate(Recipe.model_validate({"parts": [part]}))
        (unmet,) = evaluation.unmet
        assert unmet.part == "word"
        assert unmet.problem.kind == "spread-not-met"
        assert "was asked for" in unmet.problem.what

    def test_pieces_that_are_too_many_to_tie(self):
        parts = [lettering(text="n\n".join("o" * 20 for _ in range(4)), join={"how": "set", "tie": True})]
        parts[0]["spacing_mm"] = 8.0
        told = [one.problem.kind for one in evaluate(Recipe.model_validate({"parts": parts})).unmet]
        assert told == ["not-tied"]

    def test_a_material_that_fulgen_does_not_know(self):
        felt = {"parts": [lettering()], "material": {"name": "Felt"}}
        (unmet,) = evaluate(Recipe.model_validate(felt)).unmet
        assert unmet.part is None
        assert unmet.problem.what == (
            "Fulgen does not know what “Felt” holds: it is judged as adhesive film is."
        )

    def test_a_material_of_the_makers_own_limits_is_no_question(self):
        limits = {"neck_mm": 2.0, "stroke_mm": 1.0, "hole_mm": 1.0, "piece_mm": 3.0, "gap_mm": 0.5}
        felt = {"parts": [lettering()], "material": {"name": "Felt", "limits": limits}}
        assert evaluate(Recipe.model_validate(felt)).unmet == ()

    def test_the_report_says_so_too(self):
        felt = Recipe.model_validate({"parts": [lettering()], "material": {"name": "Felt"}})
        assert [row["kind"] for row in report(evaluate(felt))["unmet"]] == ["unknown-material"]
