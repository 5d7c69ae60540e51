"""One judgement of strength: Join, Check, the report and the simulated cutter tell the same of a joint."""

import random

import pytest
import shapely

from fulgen.cutter.comes_off import tears
from fulgen.framing.frames import FRAMES
from fulgen.geometry.thin import thinness, weak_places
from fulgen.geometry.wear import AS_WIDE
from fulgen.parts.seams import PlacedSeam
from fulgen.readiness.findings import findings, thinnest_stroke
from fulgen.readiness.joints import AT_JOINT, Holding, joints
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from fulgen.report import report
from tests.core.test_frames import TEXTS, framed

FACES = (
    "courgette",
    "kaushan-script",
    "allura",
    "pacifico",
    "great-vibes",
    "caveat",
    "lobster",
    "alex-brush",
)
NAMES = ("Willowmere", "Kestrel", "Quixby", "Jazz", "Vyvyan", "Anna", "Guðrún", "Poppy", "jiffy", "ottoman")


def word(dice):
    part = {
        "id": "word",
        "text": dice.choice(NAMES),
        "face": {"family": dice.choice(FACES)},
        "size": {"measure": "capitals", "mm": dice.choice((12.0, 18.0, 25.0, 35.0))},
        "join": {"how": dice.choice(("auto", "auto", "set"))},
    }
    return Recipe.model_validate(
        {"parts": [part], "material": {"name": dice.choice(("Card", "Adhesive film"))}}
    )


def same_everywhere(evaluation):
    """Holds the stages against each other."""
    found, limits = findings(evaluation), evaluation.recipe.limits
    blocking = [(f, shapely.box(f.box.x, f.box.y, f.box.right, f.box.bottom)) for f in found if f.blocks]
    narrow = {round(f.measure, 6) for f in found if f.kind == "narrow"}
    every = joints(evaluation)
    for joint in every:
        judged = joint.judged
        between = f"between {judged.between[0]} and {judged.between[1]} is"
        chord = shapely.LineString(judged.ends)
        near = [f for f, box in blocking if f.kind in ("neck", "hairline") and box.dwithin(chord, 0.1)]
        if judged.holding is Holding.WEAK:
            assert near, judged
            assert judged.neck < AS_WIDE * judged.limit
        own = [f for f in near if f.kind == "neck" and between in f.said]
        if own:  # two seams of the same letters may be near each other
            assert any(f.measure == j.judged.neck for f in own for j in every)
        if judged.holding is Holding.NARROW:
            assert round(judged.neck, 6) in narrow
    told = report(evaluation)
    seams = [joint for joint in every if isinstance(joint.of, PlacedSeam)]
    assert [row["state"] for row in told["seams"]] == [joint.judged.holding.value for joint in seams]
    assert [row["neck_mm"] for row in told["seams"]] == [round(j.judged.neck, 4) for j in seams]
    # What would tear in the cutter's hands is told before the cut.
    holds = min(limits.neck_mm, limits.stroke_mm)
    for piece in (piece for film in evaluation.films for piece in shapely.get_parts(film.shape.region)):
        for place in tears([piece], holds):
            assert any(box.dwithin(place, 2 * AT_JOINT * limits.neck_mm) for _, box in blocking), place


@pytest.mark.parametrize("seed", range(24))
def test_of_words(seed):
    same_everywhere(evaluate(word(random.Random(seed))))


@pytest.mark.parametrize("form", FRAMES)
def test_of_frames(form):
    same_everywhere(framed(form, TEXTS.get(form, "Piers")))


def test_a_joint_mended_by_hand_is_judged_as_it_is_then():
    part = {
        "id": "word",
        "text": "Jazz",
        "face": {"family": "courgette"},
        "size": {"measure": "capitals", "mm": 12.0},
        "join": {"how": "auto", "neck_mm": 0.5},
    }
    before = Recipe.model_validate({"parts": [part], "material": {"name": "Ply, 3 mm"}})
    weak = [f for f in findings(evaluate(before)) if f.kind == "neck" and "between" in f.said]
    assert weak
    mended = weak[0].remedy.take(before)
    after = evaluate(mended)
    assert weak[0].said not in [f.said for f in findings(after) if f.box == weak[0].box]
    seam = next(
        joint.judged
        for joint in joints(after)
        if shapely.dwithin(shapely.LineString(joint.judged.ends), shapely.Point(weak[0].place), 1.0)
    )
    assert seam.neck > weak[0].measure


def test_the_thinnest_stroke_is_where_the_check_begins_to_find_one():
    for face, mm in (("great-vibes", 25.0), ("allura", 20.0), ("courgette", 20.0)):
        part = {
            "id": "word",
            "text": "Anna",
            "face": {"family": face},
            "size": {"measure": "capitals", "mm": mm},
            "join": {"how": "auto"},
        }
        thinnest = thinnest_stroke(evaluate(Recipe.model_validate({"parts": [part]})))

        def hairlines(stroke, part=part):
            limits = dict.fromkeys(("neck_mm", "hole_mm", "piece_mm", "gap_mm"), 0.0) | {"stroke_mm": stroke}
            recipe = {"parts": [part], "material": {"name": "Felt", "limits": limits}}
            return [f for f in findings(evaluate(Recipe.model_validate(recipe))) if f.kind == "hairline"]

        assert hairlines(thinnest - 0.01) == []
        told = hairlines(1.2 * thinnest)
        assert min(f.measure for f in told) == pytest.approx(thinnest, abs=0.02 + 0.02 * thinnest)


def test_a_dumbbell_is_as_wide_as_its_bar():
    """Two squares and a bar 0.5 mm wide: the widest disc that passes is as wide as the bar."""
    squares = shapely.box(0, 0, 10, 10), shapely.box(11, 0, 21, 10)
    whole = shapely.union_all([*squares, shapely.box(9, 4.75, 12, 5.25)])
    (weak,) = weak_places(thinness(whole, 0.8))
    assert weak.width == pytest.approx(0.5, abs=0.01)
    assert weak_places(thinness(whole, 0.5)) == ()
