"""One judgement of strength: Join, Check, the report and the simulated cutter tell the same of a joint."""

import random

import pytest
import shapely

from fulgen.geometry.thin import thinness, weak_places
from fulgen.readiness.findings import findings
from fulgen.readiness.joints import joints
from fulgen.readiness.thinnest_stroke import thinnest_stroke
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.judged import framed, same_everywhere, word


@pytest.mark.parametrize("seed", range(24))
def test_of_words(seed):
    same_everywhere(evaluate(word(random.Random(seed))))


@pytest.mark.parametrize("seed", range(30))
def test_of_frames(seed):
    same_everywhere(evaluate(framed(random.Random(seed))))


def test_a_joint_mended_by_hand_is_judged_as_it_is_then():
    part = {
        "id": "word",
        "text": "Jazz",
        "face": {"family": "courgette"},
        "size": {"measure": "capitals", "mm": 12.0},
        "join": {"how": "auto", "neck_mm": 0.5},
    }
    before = Recipe.model_validate({"parts": [part], "material": {"name": "Ply, 3 mm"}})
    weak = [f for f in findings(evaluate(before)) if f.kind == "neck" and "between" in f.message]
    assert weak
    mended = weak[0].remedy.take(before)
    after = evaluate(mended)
    assert weak[0].message not in [f.message for f in findings(after) if f.box == weak[0].box]
    seam = next(
        joint.judgement
        for joint in joints(after)
        if shapely.dwithin(shapely.LineString(joint.judgement.ends), shapely.Point(weak[0].place), 1.0)
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
