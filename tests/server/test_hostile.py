"""Random recipes, faces and drawings, by a seed, in the budget that the server gives: an answer or a Problem,
never another exception. FULGEN_EXPLORE=1 tries many more, other ones each time."""

import os
import random
import time
from functools import partial

import pytest

from fulgen.budget import within
from fulgen.formats.drawing import read_drawing
from fulgen.formats.svg import write_svg
from fulgen.lettering.catalogue import FACES_DIR, own_family
from fulgen.lettering.faces import FontFile, face_name
from fulgen.lettering.layout import lay_out
from fulgen.lettering.setting import Faces, Setting
from fulgen.problem import Problem
from fulgen.readiness.findings import findings
from fulgen.readiness.mend_summary import mended
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from tests.fonts import make_font, substituting, tagged_axis, with_corners
from tests.hostile import EDGES, random_design, random_drawing, random_recipe

EXPLORE = bool(os.environ.get("FULGEN_EXPLORE"))
FIRST = time.time_ns() if EXPLORE else 0
RECIPES, FACES, DRAWINGS = (3_000, 2_000, 5_000) if EXPLORE else (60, 120, 200)
BUDGET_S = 5.0


def all_that_is_asked_of(recipe):
    """What the workbench asks of a recipe: outline, seams, check, a remedy, what is mended, the file."""
    evaluation = evaluate(recipe)
    assert evaluation.cut_length >= 0
    assert all(seam.state and seam.ends for seam in evaluation.seams)
    found = findings(evaluation)
    assert all(finding.what("mm") for finding in found)
    remedy = next((finding.remedy for finding in found if finding.remedy), None)
    if remedy:
        evaluate(remedy.take(recipe))
    assert all(one.what("mm") for one in mended(evaluation))
    write_svg(evaluation)


def is_answered_in_words(work, what):
    """Does the work within the budget: it succeeds, or says in words what is wrong and what to do."""
    try:
        with within(BUDGET_S):
            work()
    except Problem as problem:
        return bool(problem.what and problem.todo)
    except Exception as error:
        raise AssertionError(what) from error
    return True


@pytest.mark.parametrize("block", range(6))
def test_random_recipes(block):
    for seed in range(FIRST + block, FIRST + RECIPES, 6):
        recipe = recipe_from(random_recipe(seed))
        assert is_answered_in_words(partial(all_that_is_asked_of, recipe), f"recipe {seed}")


@pytest.mark.parametrize("block", range(6))
def test_random_designs_of_every_kind_of_part(block):
    for seed in range(FIRST + block, FIRST + RECIPES, 6):
        asked = partial(lambda raw: all_that_is_asked_of(recipe_from(raw)), random_design(seed))
        assert is_answered_in_words(asked, f"design {seed}")


@pytest.mark.parametrize("block", range(3))
def test_no_request_about_a_random_design_fails_inside(api, block):
    for seed in range(FIRST + block, FIRST + RECIPES, 3):
        body = {"recipe": random_design(seed), "have": []}
        for question in ("evaluate", "seams", "findings", "ready"):
            status, _ = api.post(f"/{question}", body)
            assert status in (200, 422, 429), f"design {seed}: {question}"


DISC_AND_BACKING = {"kind": "backing", "id": "b", "of": "a"}


@pytest.mark.parametrize(
    "parts",
    [
        [{"id": "a"}, DISC_AND_BACKING],
        [{"id": "a", "text": ""}, {"id": "c", "text": "Mo", "course": {"kind": "line", "of": "a"}}],
        [{"id": "a", "text": "", }, {"kind": "frame", "id": "f", "form": "name ring", "members": ["a"]},
         DISC_AND_BACKING],
        [{"id": "a", "text": "Mo", "hidden": True},
         {"kind": "frame", "id": "f", "form": "name ring", "members": ["a"]}, DISC_AND_BACKING],
    ],
    ids=["a backing of no words", "along no words", "a backing of an empty name",
    "a backing of a hidden name"],
)  # fmt: skip
def test_what_is_made_of_something_empty_says_so_and_the_others_stay(api, parts):
    plate = {"kind": "shape", "id": "plate", "form": "disc"}
    recipe = {"format": "fulgen-recipe", "version": 8, "parts": [*parts, plate]}
    status, answer = api.post("/evaluate", {"recipe": recipe, "have": []})
    assert status == 200
    by_id = {part["id"]: part for part in answer["parts"]}
    assert "empty, or not shown" in by_id[parts[-1]["id"]]["problem"]["what"]
    assert by_id["plate"]["problem"] is None
    assert by_id["plate"]["built"]


def test_braces_in_a_letter_are_said_as_they_are():
    parts = [
        {"id": "a", "text": "{n}", "face": {"family": "allura"}, "size": {"measure": "capitals", "mm": 6.0}}
    ]
    recipe = recipe_from({"format": "fulgen-recipe", "version": 8, "parts": parts})
    assert any("{" in finding.what("mm") for finding in findings(evaluate(recipe)))


@pytest.mark.parametrize("name", EDGES)
def test_recipes_at_the_edge_of_the_limits(name, monkeypatch):
    if not EXPLORE:
        monkeypatch.setattr(f"{__name__}.BUDGET_S", 1.0)
    recipe = recipe_from(EDGES[name])
    assert is_answered_in_words(partial(all_that_is_asked_of, recipe), name)


def use(data):
    """What is done with a face file when it is added, and when it is first typed in."""
    file = FontFile(data, "mine.ttf")
    family = own_family(f"own-{file.key}", face_name(file), file)
    family.face().features()
    assert len(family.axes) < 100
    lay_out(Setting(text="Willow"), Faces(family.face()))


def test_faces_with_flipped_bits():
    sources = [
        (FACES_DIR / "lobster" / "Lobster_400Regular.ttf").read_bytes(),
        *(make_font(kind, "Wilow") for kind in ("ttf", "otf", "woff", "woff2")),
    ]
    for seed in range(FIRST, FIRST + FACES):
        dice = random.Random(seed)
        data = bytearray(dice.choice(sources))
        for _ in range(dice.choice((1, 3, 30))):
            data[dice.randrange(min(len(data), dice.choice((200, 10**9))))] ^= 1 << dice.randrange(8)
        assert is_answered_in_words(partial(use, bytes(data)), f"face {seed}")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (with_corners(1_000), "crosses itself"),
        (with_corners(7_000), "more than 6,000 sides"),
        (substituting(6), "far too many signs"),
        (tagged_axis(b"w\xffht"), "axis"),
    ],
    ids=["crossings", "sides", "substitutions", "axis"],
)
def test_faces_built_to_do_harm_are_refused_in_words(data, said):
    with pytest.raises(Problem, match=said) as told:
        use(data)
    assert told.value.todo


def test_random_drawings():
    for seed in range(FIRST, FIRST + DRAWINGS):
        data = random_drawing(seed)
        assert is_answered_in_words(partial(read_drawing, data, "a.svg"), f"drawing {seed}")
