"""Bars laid over a design: bridges by hand, ties of what is loose, underlines. GEOS counts what hangs
together; that ties are the shortest is held against every tree there is."""

import itertools
import math

import pytest
import shapely

from fulgen.joining.anchors import Anchor, Place
from fulgen.joining.bars import Bar, Underline, bar_shape, neck_at, snapped, ties
from fulgen.joining.join_options import JoinOptions, RefusedTie
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import LetterChange
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.shipped import LOOKED_AT, written


def recipe(text="OO", face="anton", join=None, mm=25, bars=(), **part):
    part = Lettering(
        text=text, face=FaceChoice(family=face), join=join or JoinOptions(), size=Size(mm=mm), **part
    )
    return Recipe(parts=(part,), bars=bars)


def bar_between(made, one, other, width=1.5, bulge=0.0):
    """A bar from the left stroke's middle of one letter to that of another, as a hand would lay it."""
    part = made.parts[0]
    ends = []
    for letter in (part.built.layout.letters[one], part.built.layout.letters[other]):
        box = letter.form.box
        at = snapped(letter.form.region, (box.x + box.width / 2, box.y + box.height * 0.5))
        ends.append(part.built.anchor_on(letter, *letter.place.point(*at)))
    return Bar(start=ends[0], end=ends[1], width_mm=width, bulge=bulge)


class TestShape:
    @pytest.mark.parametrize("bulge", [0.0, 0.3, -0.5])
    def test_a_bar_is_as_wide_as_asked_and_its_middle_stands_off_by_its_bulge(self, bulge):
        bar = bar_shape((0.0, 0.0), (1.0, 0.0), 0.1, bulge).region
        across = shapely.intersection(bar, shapely.LineString([(0.5, -2), (0.5, 2)]))
        low, high = across.bounds[1], across.bounds[3]
        assert high - low == pytest.approx(0.1, abs=2e-3)
        assert (low + high) / 2 == pytest.approx(bulge, abs=2e-3)

    def test_an_end_snaps_to_the_middle_of_the_nearest_stroke(self):
        stroke = shapely.box(0, 0, 0.1, 1)
        x, y = snapped(stroke, (0.4, 0.5))
        assert x == pytest.approx(0.05, abs=0.01)
        assert abs(y - 0.5) < 0.1

    def test_a_bar_that_reaches_no_letter_has_no_neck_there(self):
        assert neck_at(shapely.box(0, 0, 0.1, 1), shapely.box(0.5, 0, 1, 0.1)) == 0
        held = neck_at(shapely.box(0, 0, 0.1, 1), shapely.box(0.05, 0.4, 1, 0.45))
        assert held == pytest.approx(0.05, abs=5e-3)


class TestByHand:
    def test_it_ties_two_letters_and_keeps_its_hold_when_they_move_turn_and_grow(self):
        plain = evaluate(recipe())
        assert len(plain.pieces) == 2
        bar = bar_between(plain, 0, 1)
        for changes, mm in (({}, 25), ({2: LetterChange(dx=0.3, dy=-0.2, turn=25)}, 25), ({}, 60)):
            made = evaluate(recipe(bars=(bar,), letters=changes, letter_ids=(1, 2), mm=mm))
            assert len(made.pieces) == 1
            (laid,) = made.parts[0].built.laid
            assert min(laid.necks) >= 1.4

    def test_the_seam_it_goes_over_is_told_as_held_by_it(self):
        plain = evaluate(recipe())
        assert [seam.state for seam in plain.seams] == ["gap"]
        made = evaluate(recipe(bars=(bar_between(plain, 0, 1),), letter_ids=(1, 2)))
        (seam,) = made.seams
        assert (seam.state, seam.gap, seam.remedy("mm")) == ("joined", 0, "bridged by hand")
        assert seam.neck == pytest.approx(1.5, abs=0.1)
        thin = evaluate(recipe(bars=(bar_between(plain, 0, 1, width=0.5),), letter_ids=(1, 2)))
        assert thin.seams[0].state == "thin"
        (tied,) = evaluate(recipe(join=JoinOptions(tie=True))).seams
        assert (tied.state, tied.remedy("mm")) == ("joined", "tied")

    def test_it_is_gone_with_its_letter_and_nothing_else_is(self):
        bar = bar_between(evaluate(recipe()), 0, 1)
        made = evaluate(recipe("O", bars=(bar,), letter_ids=(1,)))
        assert len(made.pieces) == 1
        assert not made.parts[0].built.laid[0].shape

    def test_it_stays_with_its_letters_when_letters_are_put_between(self):
        bar = bar_between(evaluate(recipe()), 0, 1)
        made = evaluate(recipe("OIO", bars=(bar,), letter_ids=(1, 3, 2)))
        assert len(made.pieces) == 1
        assert made.parts[0].built.laid[0].necks[1] > 1


@pytest.mark.parametrize("face", LOOKED_AT)
def test_tying_what_is_loose_makes_one_piece_of_two_words_with_dots_in_every_face(face):
    for text in written(face, ("Ji är\nMöwe!", "of; Niño?")):
        for marks in ("keep", "bridge"):
            made = evaluate(recipe(text, face, JoinOptions(how="auto", marks=marks, tie=True)))
            assert len(made.pieces) == 1, (text, marks)
            assert made.parts[0].built.ties


class TestTies:
    def squares(self):
        at = [(0, 0), (0.5, 0.02), (0.56, 0.7), (1.5, 0.3), (1.4, 1.3)]
        return [shapely.box(x, y, x + 0.3, y + 0.3) for x, y in at]

    def test_the_bridges_are_the_shortest_that_make_one_piece(self):
        areas = self.squares()
        made = ties(areas, [], 0.05, lambda a, b: True)
        apart = {(a, b): areas[a].distance(areas[b]) for a, b in itertools.combinations(range(5), 2)}
        # Every spanning tree of five areas: Cayley has 125 of them.
        least = min(
            sum(apart[e] for e in edges) for edges in itertools.combinations(apart, 4) if _is_one(edges, 5)
        )
        assert sum(tie.length for tie in made) == pytest.approx(least)
        whole = shapely.union_all([*areas, *(tie.shape.region for tie in made)])
        assert shapely.get_num_geometries(whole) == 1

    def test_a_refused_one_is_not_laid_and_another_way_is_taken(self):
        areas = self.squares()
        made = ties(areas, [], 0.05, lambda a, b: {a, b} != {0, 1})
        assert {0, 1} not in [set(tie.ends) for tie in made]
        whole = shapely.union_all([*areas, *(tie.shape.region for tie in made)])
        assert shapely.get_num_geometries(whole) == 1

    def test_refusing_all_leaves_them_loose(self):
        assert ties(self.squares(), [], 0.05, lambda a, b: False) == []

    def test_in_a_recipe_by_the_ids_of_the_letters(self):
        join = JoinOptions(tie=True)
        tied = evaluate(recipe("OOO", join=join))
        assert len(tied.pieces) == 1
        join = JoinOptions(tie=True, refused=(RefusedTie(Place("lettering-1", 2), Place("lettering-1", 1)),))
        other_way = evaluate(recipe("OOO", join=join))
        ends = [set(tie.ends) for tie in other_way.parts[0].built.ties]
        assert {0, 1} not in ends
        assert len(other_way.pieces) == 1


def _is_one(edges, count):
    group = list(range(count))
    for a, b in edges:
        group = [group[a] if g == group[b] else g for g in group]
    return len(set(group)) == 1


class TestUnderline:
    @pytest.mark.parametrize("style", ["bar", "swash"])
    def test_a_line_through_all_words_makes_one_piece_of_two(self, style):
        line = Underline(style=style, thick_mm=3, over_mm=1.5, beyond_mm=4)
        plain = evaluate(recipe("NED ANN", join=JoinOptions(how="auto")))
        made = evaluate(recipe("NED ANN", join=JoinOptions(how="auto"), underline=line))
        assert len(plain.pieces) == 2
        assert len(made.pieces) == 1
        assert made.box.width == pytest.approx(plain.box.width + 8, abs=0.05)

    def test_a_bar_is_as_thick_as_asked_and_where_asked(self):
        line = Underline(style="bar", thick_mm=4, over_mm=-2, beyond_mm=0)
        made = evaluate(recipe("II", underline=line))
        bar = max(made.pieces, key=lambda piece: piece.box.width)
        assert (bar.box.y, bar.box.height) == pytest.approx((2, 4))

    def test_each_line_has_its_own(self):
        made = evaluate(recipe("A\n\nB", underline=Underline()))
        assert len(made.parts[0].built.underlines) == 2


def test_an_anchor_on_a_turned_letter_is_found_again():
    made = evaluate(recipe("OR", letters={2: LetterChange(turn=30, scale=1.5, dx=0.2)}))
    part = made.parts[0]
    letter = part.built.layout.letters[1]
    x, y = part.find(Anchor("lettering-1", letter=2, x=0.2, y=-0.3))
    again = part.built.anchor_on(letter, x, y)
    assert (again.x, again.y) == pytest.approx((0.2, -0.3), abs=1e-5)
    origin = part.find(Anchor("lettering-1", letter=2, x=0.0, y=0.0))
    assert math.hypot(x - origin[0], y - origin[1]) == pytest.approx(
        1.5 * math.hypot(0.2, 0.3) * part.built.size, rel=1e-5
    )
