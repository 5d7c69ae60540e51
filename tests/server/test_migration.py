"""A shop kept by Fulgen as it was before parts had placements opens with every adjustment.

before_parts.sqlite3 was made by that Fulgen (recipes of version 2): three designs with letters moved, turned,
resized, stood in for and reshaped, bridges, ties and refused ties, a thickening, touch-ups and an accepted
finding. DIGESTS are of the SVG that it wrote of them; AREA_MM2 and CUT_MM of the one with two parts, where it
redrew the untouched part with every repair of the other.
"""

import hashlib
import json
import os
import shutil
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

from fulgen.formats.svg import write_svg
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import VERSION
from fulgen.recipe.versions import recipe_from

ROOT = Path(__file__).parents[2]
KEPT = Path(__file__).parent / "before_parts.sqlite3"
DIGESTS = {"Plain, version 1": "3ecc0fbf5761d9ba"}

AREA_MM2, CUT_MM = 1489.26, 1002.4
"""As the version before parts had it. Letters are joined otherwise since: by strokes carried on and webs, and
thin places are made heavier along their strokes."""

OPEN_ALL = """
import json, django
django.setup()
from django.test import Client
client = Client(headers={"host": "localhost"})
cards = client.get("/api/designs").json()
print(json.dumps([client.get(f"/api/designs/{card['id']}").json() for card in cards]))
"""


@pytest.fixture(scope="module")
def opened(tmp_path_factory):
    """The designs of the kept shop, migrated and opened by the server as it is now, by name."""
    data = tmp_path_factory.mktemp("shop")
    shutil.copy(KEPT, data / "fulgen.sqlite3")
    env = {
        **os.environ,
        "FULGEN_DATA": str(data),
        "PYTHONPATH": f"{ROOT / 'core'}{os.pathsep}{ROOT / 'server'}",
        "DJANGO_SETTINGS_MODULE": "fulgen_server.settings",
    }
    subprocess.run([sys.executable, "-m", "django", "migrate", "--verbosity", "0"], env=env, check=True)
    told = subprocess.run(
        [sys.executable, "-c", OPEN_ALL], env=env, check=True, capture_output=True, text=True
    )
    return {design["name"]: design for design in json.loads(told.stdout)}


def stored(name):
    with sqlite3.connect(KEPT) as shop:
        (text,) = shop.execute(
            "select recipe from designs_revision r join designs_design d on d.id = design_id where name = ?",
            (name,),
        ).fetchone()
    return json.loads(text)


def test_all_of_them_open(opened):
    assert set(opened) == {*DIGESTS, "Touched up", "Every adjustment"}
    assert all(design["recipe"]["version"] == VERSION for design in opened.values())


@pytest.mark.parametrize("name", DIGESTS)
def test_each_comes_to_the_very_same_outline(opened, name):
    evaluation = evaluate(recipe_from(opened[name]["recipe"]))
    svg = write_svg(evaluation)
    assert hashlib.sha256(svg.encode()).hexdigest()[:16] == DIGESTS[name]
    assert evaluation.lost == ()


def test_every_touch_up_finds_its_place(opened):
    assert evaluate(recipe_from(opened["Touched up"]["recipe"])).lost == ()


def test_one_with_two_parts_comes_to_the_same_pieces_and_nearly_the_same_area_and_cut(opened):
    evaluation = evaluate(recipe_from(opened["Every adjustment"]["recipe"]))
    assert evaluation.lost == ()
    assert len(evaluation.pieces) == 2
    assert sum(piece.area for piece in evaluation.pieces) == pytest.approx(AREA_MM2, rel=0.05)
    # Letters are joined as they are now: elsewhere than then, by strokes of another length.
    assert evaluation.cut_length == pytest.approx(CUT_MM, rel=0.08)


def _as_then(part):
    """A part without what nobody could say then."""
    part = {k: v for k, v in part.items() if k not in ("name", "hidden", "locked", "group_id")}
    assert (part.pop("habits"), part.pop("use")) == ([], "cut")
    assert (part.pop("course"), part.pop("warp"), part.pop("stretch")) == (None, None, 1.0)
    assert (part.pop("alignment"), part.pop("slant")) == (None, 0.0)
    letters = {}
    for name, change in part["letters"].items():
        seam = dict(change["seam"])
        assert (seam.pop("flow"), seam.pop("smooth_mm")) == (None, None)
        assert change["film"] is None
        letters[name] = {key: value for key, value in change.items() if key != "film"} | {"seam": seam}
        for shape in ("stand_in", "mark_shape"):
            if change[shape] is not None:
                kept = dict(change[shape])
                assert kept.pop("layers") == []
                letters[name][shape] = kept
    return {**part, "letters": letters}


def test_nothing_that_was_adjusted_is_lost(opened):
    before, after = stored("Every adjustment"), opened["Every adjustment"]["recipe"]
    assert before["version"] == 2
    for field in ("unit", "mirror", "material"):
        assert after[field] == before[field]
    for old, new in zip(before["parts"], after["parts"], strict=True):
        moved = {"x", "y", "bars", "join"}
        assert {k: v for k, v in old.items() if k not in moved} == {
            k: v for k, v in _as_then(new).items() if k not in ("place", "join", "next_letter_id")
        }
        assert (new["place"]["x"], new["place"]["y"]) == (old["x"], old["y"])
        assert {**old["join"], "refused": 0, "tight": 0.5} == {**new["join"], "refused": 0}
        assert new["next_letter_id"] > max(old["letter_ids"], default=len(old["text"]))
    (bar,) = before["parts"][0]["bars"]
    assert [after["bars"][0][end]["letter"] for end in ("start", "end")] == [4, 9]
    assert after["bars"][0]["bulge"] == bar["bulge"]
    assert after["parts"][1]["join"]["refused"] == [
        {end: {"part": "below", "letter": n, "contour": None} for end, n in (("one", 1), ("other", 2))}
    ]
    assert len(after["touch_ups"]) == len(before["touch_ups"]) == 2
    assert after["accepted_findings"][0]["at"] == {
        "part": "name", "letter": 7, "contour": None, "x": 0.1, "y": -0.6, "of": "i",
    }  # fmt: skip


@pytest.mark.parametrize(("text", "found"), [("fish", True), ("fog", True), ("ash", False)])
def test_an_adjustment_of_a_letter_that_the_face_merges_with_the_next_is_kept(text, found):
    """Lobster draws f and i as one letter; an anchor of version 2 names it by the f."""
    part = {"id": "name", "text": "fish", "face": {"family": "lobster"}}
    fill = {"kind": "fill", "part": "name", "at": {"letter": 1, "x": 0.1, "y": -0.1}}
    recipe = recipe_from({"format": "fulgen-recipe", "version": 2, "parts": [part], "touch_ups": [fill]})
    (anchor,) = [touch_up.at for touch_up in recipe.touch_ups]
    edited = recipe.parts[0].model_copy(update={"text": text})
    (made,) = evaluate(recipe.model_copy(update={"parts": (edited,)})).parts
    assert (made.find(anchor) is not None) == found


@pytest.mark.parametrize(
    "part",
    [
        {"bars": "none"}, {"bars": [3]}, {"x": "left"}, {"join": {"refused": [{"one": "a"}]}}, {"id": 3},
        {"bars": [{"start": 1, "end": {}}]}, {"letter_ids": "ab"}, {"letters": [1]}, {"join": 5},
    ],
)  # fmt: skip
@pytest.mark.parametrize("whole", [{}, {"touch_ups": [{"at": 3}]}, {"known": [{}]}, {"parts": 4}])
def test_an_old_recipe_with_nonsense_in_it_is_refused_in_words(api, part, whole):
    from tests.server.test_api import refused

    body = {"format": "fulgen-recipe", "version": 2, "parts": [{"text": "Tern", **part}], **whole}
    status, told = api.post("/evaluate", {"recipe": body})
    assert status in (200, 422)
    if status == 422:
        refused((status, told))
