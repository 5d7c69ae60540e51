"""The weld against closed forms and GEOS, and what it does when an engine errs."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.geometry import measure, polygons
from fulgen.geometry.outline import CUBIC, QUAD, Outline
from fulgen.geometry.pieces import pieces
from fulgen.geometry.weld import clean, weld
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.problem import Problem
from tests.figures import disc, lens_area, rectangle, ring, shape


def test_two_discs_weld_to_their_sum_less_the_lens():
    welded = weld([shape(disc(0, 0, 10)), shape(disc(12, 0, 10))])
    assert measure.area(welded.outline) == pytest.approx(2 * math.pi * 100 - lens_area(10, 12), rel=1e-6)
    (piece,) = pieces(welded)
    assert piece.holes == 0
    assert piece.box == pytest.approx((-10, -10, 32, 20), abs=1e-4)


def test_curves_stay_curves():
    welded = weld([shape(disc(0, 0, 10)), shape(disc(12, 0, 10))])
    assert set(welded.outline.verbs[1:]) <= {CUBIC, QUAD, 0}
    assert measure.node_count(welded.outline) <= 32


def test_discs_apart_are_two_pieces_from_left_to_right():
    found = pieces(weld([shape(disc(30, 0, 10)), shape(disc(0, 0, 5))]))
    assert [round(p.area, 2) for p in found] == [round(math.pi * 25, 2), round(math.pi * 100, 2)]


def test_a_counter_travels_with_its_piece():
    welded = weld([shape(ring(0, 0, 10, 6)), shape(rectangle(8, -2, 30, 4))])
    (piece,) = pieces(welded)
    assert piece.holes == 1


def test_an_island_in_a_counter_is_a_piece_of_its_own():
    found = pieces(weld([shape(ring(0, 0, 10, 6)), shape(disc(0, 0, 3)), shape(disc(30, 0, 3))]))
    assert sorted(p.holes for p in found) == [0, 0, 1]


def test_a_bar_across_a_ring_makes_two_holes():
    (piece,) = pieces(weld([shape(ring(0, 0, 10, 6)), shape(rectangle(-9, -1, 18, 2))]))
    assert piece.holes == 2


def test_a_counter_that_is_covered_is_gone():
    (piece,) = pieces(weld([shape(ring(0, 0, 10, 6)), shape(disc(0, 0, 8))]))
    assert piece.holes == 0
    assert piece.area == pytest.approx(math.pi * 100, rel=1e-6)


def test_letters_wound_either_way_weld_alike():
    # TrueType winds outer contours clockwise (OpenType 1.9, "glyf"), PostScript the other way (Adobe Type 1
    # Font Format, section 3.5); together they must not cancel.
    one, other = disc(0, 0, 10), disc(12, 0, 10).reversed()
    welded = weld([shape(one), shape(other)])
    assert measure.area(welded.outline) == pytest.approx(2 * math.pi * 100 - lens_area(10, 12), rel=1e-6)


def test_outer_edges_are_wound_positive_and_holes_negative_so_both_fill_rules_agree():
    welded = weld([shape(ring(0, 0, 10, 6).reversed()), shape(ring(14, 0, 10, 6))])
    areas = measure.contour_areas(welded.outline)
    assert (areas > 0).sum() == 1
    assert (areas < 0).sum() == len(areas) - 1
    even_odd = shapely.Polygon()
    for contour in welded.outline.contours():
        even_odd = even_odd ^ polygons.region_of(contour, 0.001)
    assert even_odd.area == pytest.approx(measure.area(welded.outline), rel=1e-4)


def test_nothing_welds_to_nothing():
    assert not weld([])
    assert not weld([clean(Outline.empty(), 0.01)])


def test_what_touches_nothing_keeps_its_points_and_order_is_from_left_to_right():
    apart = [rectangle(50, 0, 5, 5), disc(0, 0, 10), rectangle(20, 40, 5, 5)]
    welded = weld([shape(o) for o in apart])
    assert sorted(map(tuple, welded.outline.points)) == sorted(tuple(p) for o in apart for p in o.points)
    assert [round(p.box.x) for p in pieces(welded)] == [-10, 20, 50]


def test_shapes_heaped_up_beyond_reason_are_refused_before_any_work():
    heap = [shape(disc(0.01 * n, 0, 10)) for n in range(120)]
    with pytest.raises(Problem) as caught:
        weld(heap)
    assert caught.value.kind == "too-crowded"
    assert "Widen the spacing" in caught.value.todo


def test_abutting_squares_are_one_piece():
    (piece,) = pieces(weld([shape(rectangle(0, 0, 10, 10)), shape(rectangle(10, 0, 10, 10))]))
    assert piece.area == pytest.approx(200)


def test_squares_that_touch_at_a_corner_are_welded_without_complaint():
    welded = weld([shape(rectangle(0, 0, 10, 10)), shape(rectangle(10, 10, 10, 10))])
    assert measure.area(welded.outline) == pytest.approx(200)


@pytest.mark.parametrize("scale", [0.01, 1.0, 300.0])
def test_the_weld_is_as_true_when_small_or_large(scale):
    parts = [clean(disc(0, 0, 10).placed(0, 0, scale), 0.01 * scale),
             clean(disc(12, 0, 10).placed(0, 0, scale), 0.01 * scale)]  # fmt: skip
    assert measure.area(weld(parts).outline) == pytest.approx(
        (2 * math.pi * 100 - lens_area(10, 12)) * scale**2, rel=1e-5
    )


class TestNonzero:
    """An outline covers where its winding number is not 0 (SVG 2, section 13.4.2)."""

    def test_contours_that_cross_are_united(self):
        crossing = Outline.joined([disc(0, 0, 10), disc(12, 0, 10)])
        assert measure.area(clean(crossing, 0.01).outline) == pytest.approx(
            2 * math.pi * 100 - lens_area(10, 12), rel=1e-6
        )

    def test_a_contour_wound_like_the_one_around_it_makes_no_hole(self):
        doubled = Outline.joined([disc(0, 0, 10), disc(0, 0, 6)])
        assert measure.area(clean(doubled, 0.01).outline) == pytest.approx(math.pi * 100, rel=1e-6)

    def test_a_counter_of_one_stroke_does_not_bite_into_another(self):
        # The hole lies in the first disc; the second disc covers half of it.
        drawn = Outline.joined([ring(0, 0, 10, 6), disc(6, 0, 10)])
        expected = shapely.Point(0, 0).buffer(10, 512) - shapely.Point(0, 0).buffer(6, 512)
        expected = expected | shapely.Point(6, 0).buffer(10, 512)
        assert measure.area(clean(drawn, 0.005).outline) == pytest.approx(expected.area, rel=1e-4)

    def test_a_figure_of_eight_keeps_both_loops(self):
        bow = Outline.polygon([(0, 0), (10, 10), (10, 0), (0, 10)])
        assert measure.area(clean(bow, 0.01).outline) == pytest.approx(50)

    def test_contours_that_do_not_cross_keep_their_points(self):
        drawn = ring(0, 0, 10, 6)
        assert sorted(map(tuple, clean(drawn, 0.01).outline.points)) == sorted(map(tuple, drawn.points))

    def test_both_ways_of_making_the_polygon_twin_agree(self):
        drawn = Outline.joined([ring(0, 0, 10, 6), ring(0, 0, 4, 2), disc(40, 0, 3)])
        twin = clean(drawn, 0.01).region
        assert shapely.symmetric_difference(twin, polygons.region_of(drawn, 0.01)).area < 1e-9


discs = st.lists(
    st.tuples(st.integers(-40, 40), st.integers(-15, 15), st.integers(3, 15)), min_size=2, max_size=9
)


@given(discs)
@settings(max_examples=120, deadline=None)
def test_any_heap_of_rings_welds_as_geos_says(heap):
    rings = [ring(x + 0.013 * i, y, r, r / 2) for i, (x, y, r) in enumerate(heap)]
    welded = weld([shape(o, 0.005) for o in rings])
    expected = shapely.union_all(
        [shapely.Point(x + 0.013 * i, y).buffer(r, 256) - shapely.Point(x + 0.013 * i, y).buffer(r / 2, 256)
         for i, (x, y, r) in enumerate(heap)]
    )  # fmt: skip
    assert measure.area(welded.outline) == pytest.approx(expected.area, rel=1e-4)
    assert sum(p.area for p in pieces(welded)) == pytest.approx(measure.area(welded.outline))


@given(discs)
@settings(max_examples=60, deadline=None)
def test_welding_what_is_welded_changes_nothing(heap):
    once = weld([shape(disc(x, y, r), 0.005) for x, y, r in heap])
    again = clean(once.outline, 0.005)
    assert measure.area(again.outline) == pytest.approx(measure.area(once.outline), rel=1e-6)


def test_winding_numbers_of_nested_and_overlapping_rings():
    points = np.array([(0, 0), (10, 0), (10, 10), (0, 10), (5, 5), (20, 5), (20, 8), (5, 8.0)])
    at = np.array([(2, 2), (7, 6), (15, 6), (30, 6.0)])
    assert polygons.winding_numbers(at, points, np.repeat([0, 1], 4)).tolist() == [1, 2, 1, 0]


@pytest.mark.parametrize("across", [0.15, 0.3, 0.4, 0.6])
def test_a_small_ring_beside_a_large_disc_keeps_its_hole(across):
    """What is small is welded as truly as if it were alone: tolerances are in mm on the work."""
    large = shape(disc(0, 0, 150), LETTER_FLATNESS * 300)
    small = shape(ring(135, 135, 1.0, across / 2), LETTER_FLATNESS * 2)
    welded = weld([large, small])
    assert [piece.holes for piece in pieces(welded)] == [0, 1]
    expected = math.pi * (150**2 + 1 - (across / 2) ** 2)
    assert measure.area(welded.outline) == pytest.approx(expected, rel=1e-6)


def test_contours_side_by_side_are_one_piece():
    whole = shape(Outline.joined([rectangle(0, 0, 20, 30), rectangle(20, 14, 2, 1)]))
    assert polygons.count(whole.region) == (1, 0)
    assert measure.area(whole.outline) == pytest.approx(602)
