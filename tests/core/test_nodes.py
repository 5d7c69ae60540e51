"""Nodes by hand: what is put in changes nothing, what is taken out strays no further than is said."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fulgen.geometry import measure
from fulgen.geometry.fit import fit_cubic
from fulgen.geometry.nodes import inserted, nodes_of, outline_of, removed, rounded, smoothed, with_handle
from fulgen.geometry.outline import Outline
from fulgen.geometry.polygons import region_of
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import LetterChange
from fulgen.lettering.reshape import LetterShape, ShapeEdit, edited, mark_of, stroke_ends
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import disc, rectangle
from tests.shipped import LOOKED_AT


def letter(text="R", face="lobster"):
    """A letter as its face draws it, in shares of the size."""
    made = evaluate(Recipe(parts=(Lettering(text=text, face=FaceChoice(family=face)),)))
    return made.letters[0][1].letter.drawn


def edge(outline):
    return shapely.boundary(region_of(outline, 1e-5))


FACES = st.sampled_from(LOOKED_AT)
LETTERS = st.sampled_from("aRgs&")


class TestNodes:
    @given(FACES, LETTERS)
    def test_an_outline_of_nodes_is_the_outline_they_were_read_from(self, face, text):
        drawn = letter(text, face).outline
        again = outline_of(nodes_of(drawn))
        assert measure.area(again) == pytest.approx(measure.area(drawn), rel=1e-9)
        assert shapely.hausdorff_distance(edge(again), edge(drawn)) < 1e-4

    @given(FACES, LETTERS, st.integers(0, 200), st.floats(0.05, 0.95))
    def test_a_node_put_in_changes_nothing(self, face, text, place, time):
        drawn = letter(text, face).outline
        contours = list(nodes_of(drawn))
        place %= len(contours[0])
        contours[0] = inserted(contours[0], place, time, 999)
        made = outline_of(contours)
        assert measure.node_count(made) == measure.node_count(outline_of(nodes_of(drawn))) + 1
        assert measure.area(made) == pytest.approx(measure.area(drawn), rel=1e-9)

    @given(FACES, LETTERS, st.integers(0, 200))
    def test_taking_out_a_node_strays_as_far_as_is_said(self, face, text, place):
        (contour, *_) = nodes_of(letter(text, face).outline)
        place %= len(contour)
        made, furthest = removed(contour, {place})
        was, now = (edge(outline_of((c,))) for c in (contour, made))
        # GEOS measures how far the new edge is from the old one; the fit measured it the other way round too.
        strayed = max(shapely.distance(shapely.Point(p), was) for p in shapely.get_coordinates(now))
        assert strayed <= furthest + 1e-3

    def test_a_node_put_in_and_taken_out_again_leaves_the_curve_as_it_was(self):
        (contour,) = nodes_of(disc(0, 0, 10))
        there, furthest = removed(inserted(contour, 3, 0.4, 99), {4})
        assert furthest < 1e-3
        assert measure.area(outline_of((there,))) == pytest.approx(math.pi * 100, rel=1e-4)

    def test_a_needless_node_of_a_straight_side_goes_without_a_trace(self):
        square = Outline.polygon([(0, 0), (5, 0), (10, 0), (10, 10), (0, 10)])
        made, furthest = removed(nodes_of(square)[0], {1})
        assert furthest == 0.0
        assert measure.area(outline_of((made,))) == 100.0
        assert len(made) == 4

    def test_nothing_is_left_of_a_contour_with_one_node(self):
        assert removed(nodes_of(rectangle(0, 0, 1, 1))[0], {0, 1, 2}) == ((), math.inf)

    @pytest.mark.parametrize("corner", range(4))
    @pytest.mark.parametrize("radius", [0.5, 2.0, 4.9])
    def test_a_rounded_corner_is_a_quarter_circle(self, radius, corner):
        (square,) = nodes_of(rectangle(0, 0, 10, 10))
        cut = measure.area(outline_of((rounded(square, corner, radius),)))
        assert cut == pytest.approx(100 - radius**2 * (1 - math.pi / 4), rel=1e-4)

    def test_a_corner_is_rounded_no_further_than_there_is_room(self):
        (square,) = nodes_of(rectangle(0, 0, 10, 10))
        assert measure.area(outline_of((rounded(square, 2, 50.0),))) == pytest.approx(
            100 - 25 * (1 - math.pi / 4), rel=1e-4
        )

    def test_a_smooth_node_keeps_flowing_when_a_handle_is_dragged_and_a_sharp_one_does_not(self):
        (contour,) = nodes_of(disc(0, 0, 10))
        node = contour[4]
        turned = with_handle(node, False, node.at + 3 + 2j)
        assert turned.smooth
        assert abs(turned.before - turned.at) == pytest.approx(abs(node.before - node.at))
        (square,) = nodes_of(rectangle(0, 0, 10, 10))
        assert not square[1].smooth
        assert smoothed(square, 1)[1].smooth

    def test_a_corner_of_straight_sides_flows_across_its_middle(self):
        """By symmetry its handles lie at right angles to the line that halves the corner."""
        (square,) = nodes_of(rectangle(0, 0, 10, 10))
        node = smoothed(square, 2)[2]
        middle = complex(5, 5) - node.at
        for handle in (node.before - node.at, node.after - node.at):
            assert (handle * middle.conjugate()).real == pytest.approx(0.0, abs=1e-9)
            assert abs(handle) > 1
        sides = [square[1].at - node.at, square[3].at - node.at]
        assert ((node.before - node.at) * sides[0].conjugate()).real > 0
        assert ((node.after - node.at) * sides[1].conjugate()).real > 0


class TestFit:
    @given(
        st.complex_numbers(max_magnitude=10, allow_nan=False), st.complex_numbers(max_magnitude=10),
        st.floats(5, 20),
    )  # fmt: skip
    def test_points_of_a_cubic_are_met(self, one, other, apart):
        p = (0j, one + 1, apart + other * 0.2 - 1, apart + 0j)
        t = np.linspace(0, 1, 40)
        points = (1 - t) ** 3 * p[0] + 3 * t * (1 - t) ** 2 * p[1] + 3 * t * t * (1 - t) * p[2] + t**3 * p[3]
        made = fit_cubic(points, p[1] - p[0], p[3] - p[2])
        length = np.abs(np.diff(points)).sum()
        # A cubic with a loop has no single best fit by lengths along it; what is said of the error is true.
        far = np.abs(points[:, None] - _on(made.curve)[None, :]).min(axis=1).max()
        assert far <= made.error + 0.01 * length


def _on(curve):
    t = np.linspace(0, 1, 400)
    a, b, c, d = curve
    return (1 - t) ** 3 * a + 3 * t * (1 - t) ** 2 * b + 3 * t * t * (1 - t) * c + t**3 * d


class TestReshaping:
    def recipe(self, edits, text="Ttot", face="anton", of=None, kinds=False, mm=25, **part):
        drawn = letter("t", face)
        shape = LetterShape(of=of or mark_of(drawn.outline), edits=edits)
        if kinds:
            part["kinds"] = {"t": shape}
        else:
            part["letters"] = {2: LetterChange(shape=shape)}
        return Recipe(parts=(Lettering(text=text, face=FaceChoice(family=face), size=Size(mm=mm), **part),))

    def stretch(self, by=0.2):
        """The right end of the crossbar of t, reached by so much; and how far it goes."""
        ends = stroke_ends(nodes_of(letter("t", "anton").outline))
        right = max(ends, key=lambda end: end.way.real - abs(end.way.imag))
        return ShapeEdit(kind="move", nodes=right.nodes, dx=by), right

    def test_the_crossbar_of_a_t_is_stretched_by_the_typed_length_and_nothing_else_changes(self):
        edit, end = self.stretch()
        plain, longer = (evaluate(self.recipe(edits)) for edits in ((), (edit,)))
        size = longer.parts[0].built.layout.size
        forms = [e.letters[1][1].form.region for e in (plain, longer)]
        assert forms[1].area - forms[0].area == pytest.approx(0.2 * end.width, rel=0.02)
        # Only the letter that was changed is: the other t is as the face draws it.
        assert longer.letters[3][1].form.region.area == plain.letters[3][1].form.region.area
        assert size == plain.parts[0].built.layout.size

    def test_of_all_of_its_kind(self):
        edit, _ = self.stretch()
        made = evaluate(self.recipe((edit,), kinds=True))
        one, other = (made.letters[n][1].form.region.area for n in (1, 3))
        assert one == other > letter("t", "anton").region.area

    def test_it_grows_with_the_size(self):
        edit, _ = self.stretch()
        small, large = (evaluate(self.recipe((edit,), mm=mm)) for mm in (20, 60))
        assert large.box.width == pytest.approx(3 * small.box.width, rel=1e-6)

    def test_on_another_outline_it_waits_and_is_said_to(self):
        edit, _ = self.stretch()
        waiting = evaluate(self.recipe((edit,), of="0123456789ab"))
        assert waiting.parts[0].built.waiting_shapes == ("t",)
        assert waiting.letters[1][1].form.region.equals(letter("t", "anton").region)

    def test_nothing_left_of_a_letter_is_refused(self):
        nodes = tuple(n.name for c in nodes_of(letter("t", "anton").outline) for n in c)
        with pytest.raises(Problem, match="nothing is left of a letter’s shape"):
            evaluate(self.recipe((ShapeEdit(kind="remove", nodes=nodes),))).whole()

    def test_edits_of_nodes_that_are_gone_change_nothing(self):
        drawn = letter("o").outline
        once = edited(drawn, [ShapeEdit("remove", (3,))])
        again = edited(
            drawn, [ShapeEdit("remove", (3,)), ShapeEdit("move", (3,), dx=1.0), ShapeEdit("smooth", (4000,))]
        )
        assert again == once

    @pytest.mark.parametrize("face", ["anton", "oswald", "archivo-black"])
    def test_the_stroke_ends_of_plain_letters_are_found(self, face):
        for text, least in (("T", 3), ("L", 2), ("E", 3), ("I", 2)):
            assert len(stroke_ends(nodes_of(letter(text, face).outline))) >= least, text
        assert stroke_ends(nodes_of(letter("O", face).outline)) == ()
