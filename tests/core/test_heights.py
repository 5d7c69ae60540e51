"""Heights: where a letterer would join two letters, and which letters are written."""

import numpy as np
import pytest

from fulgen.joining.heights import Heights, ends_high
from fulgen.lettering.catalogue import families
from fulgen.parts.lettering import Lettering
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from

WRITTEN = Heights(0.5, True, False)


class TestCost:
    def test_nothing_where_designers_join(self):
        # Faces drawn to join meet at 0.33 to 0.50 of the height of an x (measured, 676 pairs of nine faces).
        assert (WRITTEN.cost(-0.5 * np.array([0.33, 0.40, 0.50])) == 0).all()

    def test_more_the_further_from_there(self):
        low = WRITTEN.cost(-0.5 * np.array([0.3, 0.2, 0.1, -0.1]))
        high = WRITTEN.cost(-0.5 * np.array([0.55, 0.7, 0.8, 1.2]))
        for costs in (low, high):
            assert (np.diff(costs) >= 0).all()
            assert costs[-1] > 1

    def test_a_letter_that_ends_at_the_top_is_left_there(self):
        assert Heights(0.5, True, True).cost(-0.45) == 0 < WRITTEN.cost(-0.45)

    def test_block_letters_are_tied_at_their_feet(self):
        assert Heights(0.5, False, False).cost(0.0) == 0

    def test_a_curve_that_dips_below_both_its_ends_costs(self):
        level = np.array([[(0, 0), (0.1, 0), (0.2, 0), (0.3, 0)]])
        dips = np.array([[(0, 0), (0.1, 0.15), (0.2, 0.15), (0.3, 0)]])
        assert WRITTEN.cost_of_waves(level) == 0 < WRITTEN.cost_of_waves(dips)


@pytest.mark.parametrize(
    ("text", "high"),
    [("o", True), ("ö", True), ("v", True), ("n", False), ("é", False), ("B", True), ("ff", True)],
)
def test_letters_that_end_at_the_top(text, high):
    assert ends_high(text) is high


@pytest.mark.parametrize("slug", sorted(families()))
def test_faces_of_scripts_are_written_and_block_letters_are_not(slug):
    family = families()[slug]
    if family.kind == "script":
        assert family.face().is_written or slug in UPRIGHT_AND_APART
    elif family.kind in ("slab", "wide", "condensed", "stencil"):
        assert not family.face().is_written


UPRIGHT_AND_APART = ("berkshire-swash", "sevillana")
"""Scripts whose small letters stand upright, each by itself."""


@pytest.mark.parametrize("pair", ["nn", "an", "in", "ul"])
@pytest.mark.parametrize("face", ["charm", "kaushan-script", "courgette"])
def test_what_is_added_lies_between_foot_and_middle(face, pair):
    part = {"id": "a", "text": pair, "face": {"family": face}, "join": {"how": "auto"}}
    evaluation = evaluate(recipe_from({"format": "fulgen-recipe", "version": 8, "parts": [part]}))
    [seam] = evaluation.seams
    made = seam.built
    assert isinstance(made.lettering, Lettering)
    letters = [letter.place.region(letter.form.region) for letter in made.layout.letters]
    whole = evaluation.films[0].shape.region
    added = whole.difference(letters[0].union(letters[1]).buffer(0.01))
    if added.area < 0.05:
        return  # the face brings them together where they are
    height = (made.layout.baselines[0] - added.centroid.y) / (made.faces.face.x_height * made.size)
    assert 0.1 < height < 0.75
