"""Promised = came off: all demo designs, a word in every face, and files that are broken on purpose. 300
words over all faces are cut by ./fulgen bench cutting.

Nothing of the weld is asked what came off: the HP-GL file is read back, a trailing blade is led along it, and
GEOS says what the sheet falls into."""

from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
import shapely

from fulgen.cutter.blade import cut
from fulgen.cutter.cut_simulation import compare_with_promise, simulate_cut
from fulgen.formats.drawn_sheet import JobCaption, drawn_sheet
from fulgen.formats.sheet_files import cut_file
from fulgen.geometry.flatten import flat_contours
from fulgen.problem import Problem
from fulgen.readiness.findings import blocking, findings
from fulgen.recipe.cutting import CutPlan
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import read_recipe, recipe_from
from fulgen.sheet.machines import machine
from fulgen.sheet.motifs import motifs_of
from fulgen.sheet.sheets import CUT_TO_MM, Sheet, laid_out
from tests.shipped import LOOKED_AT, written

ROLL = Sheet(1000.0, 5000.0, roll=True)
KNIFE = machine("Drag knife")
DEMO = sorted(Path(__file__).parents[2].glob("demo/*.json"))


def word(text, face):
    part = {
        "id": "a", "text": text, "face": {"family": face}, "size": {"measure": "capitals", "mm": 25.0},
        "join": {"how": "auto", "neck_mm": 1.2, "marks": "lower"},
    }  # fmt: skip
    return evaluate(recipe_from({"format": "fulgen-recipe", "version": 8, "parts": [part]}))


def came_off(evaluation, plan):
    """Of each sheet what was promised and what came off; raises where that differs."""
    for sheet in laid_out(motifs_of("it", evaluation, plan), lambda _film: ROLL, plan):
        _, told = cut_file(drawn_sheet("sheet", sheet.job(KNIFE), JobCaption("it")))
        yield told.promised, told.came_off


@pytest.mark.parametrize("path", DEMO, ids=lambda path: path.stem)
def test_demo_designs_come_off_as_promised(path):
    evaluation = evaluate(read_recipe(path.read_bytes()))
    told = list(came_off(evaluation, evaluation.recipe.cut))
    pieces = len(evaluation.pieces)
    copies = evaluation.recipe.cut.copies
    marks = 3 * len(told) * copies if evaluation.recipe.cut.marks else 0
    assert sum(promised for promised, _ in told) == pieces * copies + marks
    assert all(promised == came for promised, came in told)


TOO_FINE = {"gwendolyn", "comforter-brush"}
"""Faces whose hairlines and bristles no knife of 0.25 mm follows at this size."""


@pytest.mark.parametrize("face", LOOKED_AT)
def test_a_word_in_every_face_comes_off_in_as_many_pieces_as_promised(face):
    evaluation = word(written(face, ("Zoë & fjord", "Tern & fjord"))[0], face)
    if face in TOO_FINE:
        # Check blocks it, and whoever cuts it anyway is told before the film is.
        assert {"hairline", "hole"} <= {finding.kind for finding in blocking(findings(evaluation))}
        with pytest.raises(Problem, match="Details are too small for this blade"):
            list(came_off(evaluation, CutPlan()))
        return
    [(promised, came)] = came_off(evaluation, CutPlan())
    assert promised == came == len(evaluation.pieces)


@pytest.fixture(scope="module")
def whole():
    return word("Heron", "pacifico")


class TestBroken:
    def found(self, whole, paths):
        promised = [piece for film in whole.films for piece in shapely.get_parts(film.shape.region)]
        return not compare_with_promise(promised, simulate_cut(paths)).is_kept

    def rings(self, whole):
        return [ring for film in whole.films for ring in flat_contours(film.outline, CUT_TO_MM)]

    def test_nothing_is_found_where_nothing_is_broken(self, whole):
        assert not self.found(whole, [np.concatenate((ring, ring[:1])) for ring in self.rings(whole)])

    def test_letters_that_were_not_welded(self, whole):
        letters = [
            np.concatenate((ring, ring[:1]))
            for _, letter in whole.letters
            for ring in flat_contours(letter.place.outline(letter.form.outline), CUT_TO_MM)
        ]
        lines = [shapely.LineString(path) for path in letters]
        assert any(one.crosses(other) for one, other in combinations(lines, 2))
        assert self.found(whole, letters)

    def test_a_contour_left_open(self, whole):
        first, *others = (np.concatenate((ring, ring[:1])) for ring in self.rings(whole))
        assert self.found(whole, [first[: -len(first) // 40], *others])

    def test_a_blade_that_no_allowance_is_made_for(self, whole):
        rings = [np.concatenate((ring, ring[:1])) for ring in self.rings(whole)]
        assert self.found(whole, cut(rings, 1.0, 2.0))
