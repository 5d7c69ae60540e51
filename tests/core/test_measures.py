"""Measures against closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fulgen.geometry import measure
from fulgen.geometry.flatten import flatten
from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline
from tests.figures import disc, rectangle, ring

coordinate = st.floats(-500, 500, allow_nan=False).map(lambda v: round(v, 3))
point = st.tuples(coordinate, coordinate)


@st.composite
def outlines(draw):
    """One to three contours of lines, quadratics and cubics; they may cross."""
    verbs, points = [], []
    for _ in range(draw(st.integers(1, 3))):
        verbs.append(MOVE)
        points.append(draw(point))
        for verb in draw(st.lists(st.sampled_from([LINE, QUAD, CUBIC]), min_size=2, max_size=6)):
            verbs.append(verb)
            points += [draw(point) for _ in range(verb)]
    return Outline(np.array(verbs, np.uint8), np.array(points, dtype=float))


def test_a_rectangle():
    o = rectangle(3, -4, 20, 5)
    assert measure.area(o) == pytest.approx(100)
    assert measure.length(o) == pytest.approx(50)
    assert measure.box(o) == (3, -4, 20, 5)
    assert measure.node_count(o) == 4


def test_a_disc_has_area_pi_r_squared_and_length_two_pi_r():
    o = disc(7, 9, 25)
    assert measure.area(o) == pytest.approx(math.pi * 625, rel=1e-7)
    assert measure.length(o) == pytest.approx(2 * math.pi * 25, rel=1e-7)
    assert measure.box(o) == pytest.approx((-18, -16, 50, 50), abs=1e-6)


def test_a_ring_is_the_difference_of_its_discs():
    assert measure.area(ring(0, 0, 10, 6)) == pytest.approx(math.pi * (100 - 36), rel=1e-7)


def test_the_length_of_a_parabola():
    # y = x²/4 from x = 0 to 2, as one quadratic; arc length ½ x √(1 + x²/4) + asinh(x/2) (calculus).
    o = Outline(np.array([MOVE, QUAD], np.uint8), np.array([(0, 0), (1, 0), (2, 1.0)]))
    arc = 0.5 * 2 * math.sqrt(2) + math.asinh(1)
    assert measure.length(o) == pytest.approx(arc + math.hypot(2, 1), rel=1e-9)
    # Archimedes: a parabola's segment is 2/3 of the triangle of its chord and tangents.
    assert abs(measure.area(o)) == pytest.approx(2 / 3 * 0.5, rel=1e-12)


def test_a_box_reaches_a_curves_turning_point_not_its_handles():
    o = Outline(np.array([MOVE, CUBIC], np.uint8), np.array([(0, 0), (0, 4), (6, 4), (6, 0.0)]))
    assert measure.box(o) == pytest.approx((0, 0, 6, 3))


@given(outlines())
def test_walking_back_turns_the_area_and_keeps_the_rest(o):
    back = o.reversed()
    assert measure.area(back) == pytest.approx(-measure.area(o), abs=1e-6)
    assert measure.length(back) == pytest.approx(measure.length(o), rel=1e-9, abs=1e-9)
    assert measure.node_count(back) == measure.node_count(o)
    assert measure.box(back) == pytest.approx(measure.box(o), abs=1e-9)


@given(outlines(), point, st.floats(0.1, 20))
def test_measures_follow_moving_and_scaling(o, by, scale):
    moved = o.placed(*by, scale)
    assert measure.area(moved) == pytest.approx(measure.area(o) * scale**2, rel=1e-6, abs=1e-3)
    assert measure.length(moved) == pytest.approx(measure.length(o) * scale, rel=1e-6, abs=1e-6)


@given(outlines())
def test_a_mirror_image_has_the_same_area_and_winding(o):
    assert measure.area(o.mirrored()) == pytest.approx(measure.area(o), abs=1e-6)
    assert measure.length(o.mirrored()) == pytest.approx(measure.length(o), rel=1e-9, abs=1e-9)


@given(outlines(), st.floats(0.01, 2))
def test_no_point_of_a_curve_is_further_from_its_polygon_than_the_tolerance(o, tolerance):
    import shapely

    rings, ring_of = flatten(o, tolerance)
    sides, contour_of = o.cubics
    t = np.linspace(0, 1, 40)[:, None]
    for contour in np.unique(contour_of):
        own = rings[ring_of == contour]
        line = shapely.linestrings(np.vstack([own, own[:1]])) if len(own) > 1 else shapely.Point(own[0])
        for p in sides[contour_of == contour]:
            curve = (
                (1 - t) ** 3 * p[0] + 3 * (1 - t) ** 2 * t * p[1] + 3 * (1 - t) * t**2 * p[2] + t**3 * p[3]
            )
            # The wildest curve drawn here needs 650 steps at 0.01 mm, under the bound.
            assert shapely.distance(line, shapely.points(curve)).max() <= tolerance + 1e-9
