"""What letters give, against plane geometry."""

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity

from fulgen.joining.seam import Seam, State
from fulgen.joining.strength import Body, cores, held_together, neck_between


def dumbbell(waist):
    """Two discs of radius 0.2, 0.8 apart, with a bar between them."""
    discs = [shapely.Point(x, 0).buffer(0.2, 32) for x in (0, 0.8)]
    return shapely.union_all([*discs, shapely.box(0, -waist / 2, 0.8, waist / 2)])


@given(st.floats(0.02, 0.12))
def test_a_dumbbell_gives_its_waist(waist):
    assert Body(dumbbell(waist)).gives(0.2) == pytest.approx(waist, abs=1.5e-3)


def test_more_is_not_asked_for_than_wanted():
    assert Body(dumbbell(0.1)).gives(0.04) == 0.04


def test_a_stroke_that_tapers_to_a_point_takes_nothing():
    tapered = shapely.Polygon([(0, -0.1), (0.8, -0.1), (1.1, 0), (0.8, 0.1), (0, 0.1)])
    assert Body(tapered).gives(0.15) == 0.15


def test_a_letter_that_loses_its_hairlines_gives_no_more_than_they_do():
    # A stem with a long hairline: worn away, the stem alone is in one piece, and half of the letter is gone.
    letter = shapely.union(shapely.box(0, 0, 0.1, 0.4), shapely.box(0.1, 0, 2.0, 0.02))
    assert Body(letter).gives(0.06) == pytest.approx(0.02, abs=2e-3)


def test_a_serif_that_comes_off_does_not_count():
    stem = shapely.box(0, 0, 0.15, 0.7)
    serif = shapely.union(shapely.box(0.15, 0, 0.2, 0.01), shapely.box(0.2, 0, 0.23, 0.03))
    assert Body(shapely.union(stem, serif)).gives(0.08) == 0.08


@given(st.floats(0.28, 0.395))
def test_two_discs_hold_together_at_the_chord_of_their_lens(distance):
    left, right = shapely.Point(0, 0).buffer(0.2, 64), shapely.Point(distance, 0).buffer(0.2, 64)
    # Weisstein, "Circle-Circle Intersection", MathWorld, eq. 9.
    chord = 2 * math.sqrt(0.2**2 - distance**2 / 4)
    bodies = Body(left), Body(right)
    whole = shapely.union(left, right)
    assert neck_between(whole, *bodies, 0.5, 1e-4) == pytest.approx(chord, rel=0.01, abs=1e-3)
    assert held_together(whole, *bodies, chord * 0.98)


def test_what_is_known_of_a_body_is_known_wherever_it_is_moved():
    body = Body(dumbbell(0.05))
    moved = body.moved(3.0, -2.0)
    assert moved.gives(0.2) == body.gives(0.2)
    one, other = body.core(0.1), moved.core(0.1)
    assert other.centroid.x - one.centroid.x == pytest.approx(3.0)
    assert other.equals_exact(affinity.translate(one, 3.0, -2.0), 1e-9)
    again = moved.moved(-3.0, 2.0)
    assert again.region.equals_exact(body.region, 1e-9)


def test_a_stroke_that_tapers_behind_the_joint_is_seen():
    """The joint itself is wide, for the tip is a ball; the stroke that leads to it is not."""
    stem = shapely.box(-0.5, -0.1, 0, 0.1)
    taper = shapely.Polygon([(0, -0.1), (0.3, -0.01), (0.3, 0.01), (0, 0.1)])
    ball = shapely.Point(0.47, 0).buffer(0.17, 32)
    wall = shapely.box(0.5, -0.5, 1.0, 0.5)
    seam = Seam(shapely.union_all([stem, taper, shapely.box(0.29, -0.01, 0.32, 0.01), ball]), wall)
    assert seam.gives(0.15) == pytest.approx(0.02, abs=4e-3)


def test_a_tapered_end_that_only_just_reaches_is_thin_and_not_excused():
    stem = shapely.Polygon([(0, -0.06), (0.6, -0.06), (0.9, -0.004), (0.9, 0.004), (0.6, 0.06), (0, 0.06)])
    seam = Seam(stem, shapely.box(0.88, -0.5, 1.2, 0.5))
    assert seam.gives(0.05) == 0.05
    assert seam.neck < 0.02
    assert seam.state(0.05) is State.THIN


def test_cores_leave_specks_out():
    fleck = shapely.Point(1, 1).buffer(0.051)
    assert len(cores(shapely.union(shapely.box(0, 0, 0.5, 0.5), fleck), 0.1)) == 1
