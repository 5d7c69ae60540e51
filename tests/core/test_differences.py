"""What a list of versions says was changed, in a maker's words."""

import pytest

from fulgen.recipe.differences import MOST_WORDS, differences
from fulgen.recipe.versions import recipe_from

WORDS = {"kind": "lettering", "id": "one", "text": "Heron"}
DISC = {"kind": "shape", "id": "disc", "form": "disc", "width_mm": 30.0, "height_mm": 30.0}


def recipe(*parts, **more):
    return recipe_from({"format": "fulgen-recipe", "version": 12, "parts": list(parts), **more})


@pytest.mark.parametrize(
    ("before", "after", "told"),
    [
        (recipe(WORDS), recipe({**WORDS, "text": "Tern"}), ["“Heron” is now “Tern”"]),
        (recipe(WORDS), recipe({**WORDS, "film": "#B03030"}), ["“Heron”: film"]),
        (recipe(WORDS), recipe({**WORDS, "face": {"family": "lobster"},
                                "size": {"measure": "width", "mm": 90.0}}), ["“Heron”: face, size"]),
        (recipe(WORDS), recipe(WORDS, DISC), ["shape added"]),
        (recipe(WORDS, {**DISC, "name": "Plate"}), recipe(WORDS), ["“Plate” taken out"]),
        (recipe(WORDS, DISC), recipe(DISC, WORDS), ["the parts in another order"]),
        (recipe(WORDS), recipe(WORDS, mirror=True), ["the mirror changed"]),
        (recipe(WORDS), recipe(WORDS, material={"name": "Card"}), ["the material changed"]),
        (recipe(WORDS), recipe(WORDS, cut={"copies": 3}), ["the sheets changed"]),
        (recipe(WORDS), recipe({**WORDS, "letters": {"2": {"carry": 0.1}}}), ["“Heron”: letters"]),
        (recipe(WORDS), recipe(WORDS), []),
    ],
)  # fmt: skip
def test_what_was_changed(before, after, told):
    assert list(differences(before, after)) == told


def test_it_is_a_few_words_and_no_more():
    many = [{**DISC, "id": f"disc-{n}"} for n in range(9)]
    assert len(differences(recipe(WORDS), recipe(WORDS, *many))) == MOST_WORDS
