"""Placements: one value for where things lie, against the matrices of affine maps (textbook)."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement, placed
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.geometry.weld import weld
from tests.figures import disc, rectangle, ring, shape

PLACEMENTS = st.builds(
    Placement,
    x=st.floats(-500, 500), y=st.floats(-500, 500), turn=st.floats(-360, 360),
    scale=st.floats(0.05, 20), flip=st.booleans(),
)  # fmt: skip
COORDINATES = st.floats(-300, 300)


def matrix(place):
    """Flipped, then scaled, then turned clockwise (y down), then moved, as one 3 × 3 matrix."""
    a = math.radians(place.turn)
    turn = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
    move = np.array([[1, 0, place.x], [0, 1, place.y], [0, 0, 1]])
    return move @ turn @ np.diag([-place.scale if place.flip else place.scale, place.scale, 1])


@given(PLACEMENTS, COORDINATES, COORDINATES)
def test_a_point_goes_where_the_matrix_takes_it_and_back(place, x, y):
    there = place.point(x, y)
    assert there == pytest.approx(tuple((matrix(place) @ (x, y, 1))[:2]), abs=1e-6)
    assert place.back(*there) == pytest.approx((x, y), abs=1e-6)
    assert place.points(np.array([(x, y)]))[0] == pytest.approx(there, abs=1e-9)
    assert place.points_back(np.array([there]))[0] == pytest.approx((x, y), abs=1e-6)
    assert place.vector_back(*place.vector(x, y)) == pytest.approx((x, y), abs=1e-6)


@given(PLACEMENTS, PLACEMENTS, COORDINATES, COORDINATES)
def test_one_within_another_is_the_product_of_their_matrices(inner, outer, x, y):
    expected = (matrix(outer) @ matrix(inner) @ (x, y, 1))[:2]
    assert inner.within(outer).point(x, y) == pytest.approx(tuple(expected), rel=1e-6, abs=1e-5)


@given(PLACEMENTS)
def test_an_outline_keeps_its_winding_and_its_area_grows_with_the_square_of_the_scale(place):
    figure = shape(ring(3, 5, 10, 4))
    moved = place.shape(figure)
    assert measure.area(moved.outline) == pytest.approx(
        place.scale**2 * measure.area(figure.outline), rel=1e-6
    )
    assert (measure.contour_areas(moved.outline) > 0).tolist() == [True, False]
    assert moved.region.area == pytest.approx(place.scale**2 * figure.region.area, rel=1e-6)


@given(st.lists(PLACEMENTS, min_size=1, max_size=4))
def test_many_in_one_go_lie_where_each_lies_by_itself(at):
    figures = [shape(rectangle(0, 0, 3, 2)), shape(disc(1, 1, 4)), shape(ring(0, 0, 5, 2))] * 2
    together = placed(figures[: len(at)], at)
    for figure, place, moved in zip(figures, at, together, strict=False):
        alone = place.shape(figure)
        assert moved.outline.points == pytest.approx(alone.outline.points, abs=1e-9)
        assert shapely.equals_exact(moved.region, alone.region, 1e-9)


class TestAbsoluteTolerance:
    """However large what lies beside it, a small thing keeps its holes."""

    @pytest.mark.parametrize("hole", [0.3, 0.4, 0.5])
    def test_a_small_ring_beside_a_disc_of_300_mm_keeps_its_hole(self, hole):
        # As shapes come from a square of 1: true to a share of their size.
        large = Placement(scale=300).shape(shape(disc(0.5, 0.5, 0.5), 6e-4))
        small = Placement(299.2, 150, scale=3).shape(shape(ring(0.5, 0.5, 0.5, hole / 6), 6e-4))
        welded = weld([large, small])
        areas = measure.contour_areas(welded.outline)
        assert (areas > 0).sum() == 1
        assert -areas[areas < 0].sum() == pytest.approx(math.pi * (hole / 2) ** 2, rel=1e-3)
        assert shapely.get_num_interior_rings(shapely.get_parts(welded.region)).sum() == 1

    def test_a_finer_twin_is_made_once_and_is_as_true_as_asked(self):
        coarse = shape(disc(0, 0, 100), 1.0)
        fine = coarse.refined(FLATNESS_MM)
        assert fine is coarse.refined(FLATNESS_MM)
        assert fine.tolerance <= FLATNESS_MM
        assert fine.outline is coarse.outline
        # A polygon of sagitta t lies within t of the circle (textbook).
        assert math.pi * (100 - FLATNESS_MM) ** 2 < fine.region.area <= math.pi * 100**2

    def test_holes_stay_holes_in_a_finer_twin(self):
        figure = shape(Outline.joined([ring(0, 0, 50, 20), disc(0, 0, 10)]), 1.0)
        fine = figure.refined(0.01)
        assert fine.region.area == pytest.approx(math.pi * (2500 - 400 + 100), rel=3e-4)
