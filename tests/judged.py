"""Whether every stage judges a joint alike: words and frames at random, held against each other.

python -m tests.judged [words] [first seed]
"""

import random
import sys
import traceback

import shapely

from fulgen.cutter.cut_simulation import torn_pieces
from fulgen.framing.frames import FRAMES
from fulgen.geometry.erosion import WIDTH_TOLERANCE
from fulgen.parts.seams import PlacedSeam
from fulgen.readiness.findings import findings
from fulgen.readiness.joints import AT_JOINT, Holding, joints
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from fulgen.report import report

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
        {
            "parts": [part],
            "material": {"name": dice.choice(("Card", "Adhesive film"))},
            "ready": dice.choice(({}, None)),
        }
    )


def same_everywhere(evaluation):
    """Holds the stages against each other."""
    found, limits = findings(evaluation), evaluation.recipe.limits
    blocking = [(f, shapely.box(f.box.x, f.box.y, f.box.right, f.box.bottom)) for f in found if f.blocks]
    narrow = {round(f.measure, 6) for f in found if f.kind == "narrow"}
    every = joints(evaluation)
    for joint in every:
        judged = joint.judgement
        between = f"between {judged.between[0]} and {judged.between[1]} is"
        chord = shapely.LineString(judged.ends)
        near = [f for f, box in blocking if f.kind in ("neck", "hairline") and box.dwithin(chord, 0.1)]
        if judged.holding is Holding.WEAK:
            assert near, judged
            assert judged.neck < WIDTH_TOLERANCE * judged.limit
        own = [f for f in near if f.kind == "neck" and between in f.message]
        if own:  # two seams of the same letters may be near each other
            assert any(f.measure == j.judgement.neck for f in own for j in every)
        if judged.holding is Holding.NARROW:
            assert round(judged.neck, 6) in narrow
    told = report(evaluation)
    seams = [joint for joint in every if isinstance(joint.of, PlacedSeam)]
    assert [row["state"] for row in told["seams"]] == [joint.judgement.holding.value for joint in seams]
    assert [row["neck_mm"] for row in told["seams"]] == [round(j.judgement.neck, 4) for j in seams]
    # What would tear in the cutter's hands is told before the cut.
    holds = min(limits.neck_mm, limits.stroke_mm)
    for piece in (piece for film in evaluation.films for piece in shapely.get_parts(film.shape.region)):
        for place in torn_pieces([piece], holds):
            assert any(box.dwithin(place, 2 * AT_JOINT * limits.neck_mm) for _, box in blocking), place


TEXTS = {"round monogram": "PKB", "tall monogram": "PKB", "word ring": "Zoë Ma"}


def framed(dice):
    """A name in a frame, drawn as the library has it."""
    form = dice.choice(list(FRAMES))
    text = TEXTS.get(form) or dice.choice(("Piers", "Zoë", "Maximiliane", "Wren", "Poppy", "Theodora"))
    name = {
        "id": "name",
        "text": text,
        "face": {"family": dice.choice(("pacifico", "anton", "courgette", "allura"))},
        "join": {"how": "auto", "marks": "lower", "tie": True},
    }
    height = round(80 / FRAMES[form].ratio, 4)
    frame = {"kind": "frame", "id": "frame", "form": form, "width_mm": 80.0, "height_mm": height}
    return Recipe.model_validate({"parts": [name, frame | {"members": ["name"]}]})


def main(words: int = 2_000, first: int = 0) -> int:
    """Tells of words, and a tenth as many frames, that two stages judge otherwise; their number."""
    odd = 0
    for seed in range(first, first + words + words // 10):
        dice = random.Random(seed)
        recipe = word(dice) if seed < first + words else framed(dice)
        try:
            same_everywhere(evaluate(recipe))
        except AssertionError:
            odd += 1
            print(seed, recipe.parts[0].text, traceback.format_exc(limit=-1))
    print(f"{words} words and {words // 10} frames, {odd} judged otherwise by another stage")
    return odd


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
