"""Necks, gaps, stubs, pinholes and notches against closed forms.

Lengths are as for letters: shares of a size of 1. The formulas are elementary plane geometry; the chord
of a lens is from Weisstein, "Circle-Circle Intersection", MathWorld, eq. 9.
"""

import math

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity

from fulgen.joining.necks import worn_neck
from fulgen.joining.seam import Seam, State


def disc(x, y, r):
    return shapely.Point(x, y).buffer(r, 128)


def bar(x, y, width, height):
    return shapely.box(x, y, x + width, y + height)


def chord_of_lens(r, distance):
    return 2 * math.sqrt(r * r - distance * distance / 4)


class TestTheNeck:
    @pytest.mark.parametrize("distance", [0.3, 0.36, 0.39, 0.399])
    def test_of_two_discs_is_the_chord_of_their_lens(self, distance):
        seam = Seam(disc(0, 0, 0.2), disc(distance, 0, 0.2))
        assert seam.neck == pytest.approx(min(0.3, chord_of_lens(0.2, distance)), abs=1e-3)

    def test_of_two_bars_end_to_end_is_their_width(self):
        seam = Seam(bar(0, 0, 1, 0.12), bar(0.9, 0, 1, 0.12))
        assert seam.neck == pytest.approx(0.12, abs=1e-3)

    @pytest.mark.parametrize(("along", "across"), [(0.1, 0.05), (0.02, 0.1), (0.004, 0.15)])
    def test_of_two_bars_set_off_is_the_diagonal_of_their_overlap(self, along, across):
        left, right = bar(0, 0, 1, 0.2), bar(1 - along, 0.2 - across, 1, 0.2)
        assert Seam(left, right).neck == pytest.approx(math.hypot(along, across), abs=1e-3)

    def test_of_a_bar_that_runs_into_a_ring_is_the_bars_width_where_that_is_less_than_the_band(self):
        ring = disc(0, 0, 0.4).difference(disc(0, 0, 0.25))
        seam = Seam(bar(-1.2, -0.03, 0.9, 0.06), ring)
        assert seam.neck == pytest.approx(0.06, abs=1e-3)
        assert seam.state(0.05) is State.JOINED

    def test_of_a_bar_through_a_ring_counts_the_better_of_its_two_joints(self):
        ring = disc(0, 0, 0.4).difference(disc(0, 0, 0.3))
        wedge = shapely.Polygon([(-0.6, -0.02), (0.6, -0.05), (0.6, 0.05), (-0.6, 0.02)])
        assert Seam(wedge, ring).neck == pytest.approx(0.08, abs=0.012)

    @pytest.mark.parametrize("depth", [0.1, 0.2, 0.3])
    def test_of_a_tapered_stroke_is_its_width_where_it_enters(self, depth):
        # A wedge 0.4 long and 0.2 wide at its foot, its tip buried to a depth in a wall.
        wedge = shapely.Polygon([(0, -0.1), (0.4, 0), (0, 0.1)])
        wall = bar(0.4 - depth, -0.5, 0.6, 1)
        assert Seam(wedge, wall).neck == pytest.approx(0.5 * depth, rel=0.05)

    def test_two_joints_hold_as_well_as_the_wider_one(self):
        left = shapely.union_all([bar(0, 0, 0.2, 1), bar(0.2, 0.1, 0.3, 0.04), bar(0.2, 0.7, 0.3, 0.09)])
        right = bar(0.45, 0, 0.2, 1)
        assert Seam(left, right).neck == pytest.approx(0.09, abs=1e-3)

    def test_with_a_third_letter_that_helps_to_hold(self):
        left, right = bar(0, 0, 0.3, 0.3), bar(0.4, 0, 0.3, 0.3)
        swash = bar(0, 0.28, 0.7, 0.08)
        assert Seam(left, right).state(0.05) is State.GAP
        helped = Seam(left, right, swash)
        assert helped.gap == 0
        assert helped.neck == pytest.approx(0.08, abs=5e-3)

    def test_both_ways_of_finding_it_agree(self):
        left, right = disc(0, 0, 0.2), disc(0.36, 0, 0.2)
        seam = Seam(left, right)
        worn = worn_neck(seam.whole, left.difference(right), right.difference(left), 0.3)
        assert worn == pytest.approx(seam.neck, rel=6e-3)

    def test_its_chord_lies_across_the_joint(self):
        (x0, y0), (x1, y1) = Seam(disc(0, 0, 0.2), disc(0.36, 0, 0.2)).ends
        assert (x0, x1) == pytest.approx((0.18, 0.18), abs=1e-3)
        assert abs(y1 - y0) == pytest.approx(chord_of_lens(0.2, 0.36), abs=1e-3)

    def test_a_hairline_is_told_as_all_its_stroke_can_give(self):
        hairline, stem = bar(0, 0, 0.5, 0.02), bar(0.45, -0.5, 0.1, 1)
        seam = Seam(hairline, stem)
        assert seam.neck == pytest.approx(0.02, abs=1e-3)
        assert seam.gives(0.05) == pytest.approx(0.02, abs=1e-3)
        assert seam.state(0.05) is State.JOINED
        # A thick stroke that is only just touched could give more.
        assert Seam(disc(0, 0, 0.2), disc(0.399, 0, 0.2)).state(0.05) is State.THIN


class TestGaps:
    def test_a_gap_is_the_distance_and_its_ends_are_where_it_is(self):
        seam = Seam(disc(0, 0, 0.2), disc(0.5, 0, 0.2))
        assert seam.gap == pytest.approx(0.1, abs=1e-6)
        assert seam.neck == 0
        assert seam.ends[0] == pytest.approx((0.2, 0), abs=1e-3)
        assert seam.ends[1] == pytest.approx((0.3, 0), abs=1e-3)
        assert seam.state(0.03) is State.GAP

    @pytest.mark.parametrize("distance", [0.4, 0.4 - 5e-6, 0.403])
    def test_letters_that_only_just_meet_touch(self, distance):
        assert Seam(disc(0, 0, 0.2), disc(distance, 0, 0.2)).state(0.03) is State.TOUCHING

    def test_a_letter_inside_another_holds_by_all_of_it(self):
        seam = Seam(disc(0, 0, 0.4), disc(0, 0, 0.1))
        assert seam.neck == pytest.approx(0.2, abs=2e-3)
        assert seam.stubs == ()


places = st.floats(-0.6, 0.6)


@given(x=places, y=places)
@settings(max_examples=80, deadline=None)
def test_the_neck_is_0_exactly_when_two_convex_strokes_are_apart(x, y):
    left, right = disc(0, 0, 0.2), affinity.translate(bar(-0.15, -0.1, 0.3, 0.2), x, y)
    seam = Seam(left, right)
    overlap = left.intersection(right).area
    if overlap > 1e-5:
        assert seam.neck > 0
        assert seam.gap == 0
    elif overlap == 0:
        assert seam.neck == 0
        assert seam.gap == pytest.approx(left.distance(right))


@given(y=st.floats(-0.1, 0.1), near=st.floats(0.12, 0.28), step=st.floats(0.005, 0.1))
@settings(max_examples=60, deadline=None)
def test_the_neck_never_shrinks_as_convex_strokes_slide_together(y, near, step):
    left = disc(0, 0, 0.2)
    wide, narrow = (Seam(left, disc(0.4 - d, y, 0.2)).neck for d in (near, near - min(step, near / 2)))
    assert wide >= narrow - 1e-3


@given(scale=st.floats(0.5, 1.0), distance=st.floats(0.3, 0.39))
@settings(max_examples=40, deadline=None)
def test_the_neck_scales_with_the_letters(scale, distance):
    def neck(by):
        return Seam(disc(0, 0, 0.15 * by), disc(0.75 * distance * by, 0, 0.15 * by)).neck

    assert neck(scale) == pytest.approx(neck(1.0) * scale, rel=0.02, abs=1e-3)


class TestWhatDisfigures:
    def test_a_stroke_end_past_the_far_side_is_a_stub(self):
        seam = Seam(bar(0, 0, 1.05, 0.08), bar(0.9, -0.4, 0.1, 1))
        (stub,) = seam.stubs
        assert stub.of_left
        assert stub.is_true
        assert stub.depth == pytest.approx(0.05, abs=1e-3)
        assert stub.region.area == pytest.approx(0.05 * 0.08, abs=1e-4)

    @pytest.mark.parametrize("length", [1.12, 1.3])
    def test_a_long_end_is_a_swash_and_no_stub_by_accident(self, length):
        (stub,) = Seam(bar(0, 0, length, 0.03), bar(0.9, -0.4, 0.1, 1)).stubs
        assert not stub.is_true

    def test_what_goes_on_for_long_is_a_limb_of_the_letter(self):
        assert Seam(bar(0, 0, 1.5, 0.04), bar(0.9, -0.4, 0.1, 1)).stubs == ()

    def test_an_arm_that_does_not_point_at_the_neighbour_is_no_stub_by_accident(self):
        # The tip of the right letter just crosses an arm of the left one: the arm goes on upwards.
        arm = bar(0.4, -0.5, 0.06, 0.6)
        left = shapely.union(bar(0, 0, 0.46, 0.06), arm)
        right = shapely.union(bar(0.39, -0.4, 0.3, 0.05), bar(0.6, -0.4, 0.08, 0.5))
        assert all(not stub.is_true for stub in Seam(left, right).stubs)

    def test_a_stub_is_trimmed_inside_the_neighbour_and_the_joint_holds_as_before(self):
        left, right = bar(0, 0, 1.05, 0.08), bar(0.9, -0.4, 0.1, 1)
        seam = Seam(left, right)
        (trim,) = seam.trims(all_of_them=True)
        after = shapely.union(left.difference(trim.patch), right)
        assert after.equals(shapely.union(left, right).difference(trim.stub.region)) or (
            after.symmetric_difference(seam.whole.difference(trim.stub.region)).area < 1e-6
        )
        assert Seam(left.difference(trim.patch), right).neck == pytest.approx(seam.neck, rel=0.03)

    def test_a_hole_closed_in_by_two_letters_is_new_and_a_counter_is_not(self):
        left = shapely.union(bar(0, 0, 0.5, 0.05), bar(0, 0.08, 0.5, 0.05)).union(bar(0, 0, 0.05, 0.13))
        right = bar(0.45, -0.3, 0.1, 0.8)
        seam = Seam(left, right)
        (hole,) = seam.holes
        assert hole.width == pytest.approx(0.03, abs=2e-3)
        assert seam.pinholes(0.04) == (hole,)
        assert seam.pinholes(0.02) == ()
        ring = disc(0, 0, 0.3).difference(disc(0, 0, 0.2))
        assert Seam(ring, bar(0.25, -0.05, 0.4, 0.1)).holes == ()

    def test_how_much_of_a_counter_is_covered(self):
        ring = disc(0, 0, 0.3).difference(disc(0, 0, 0.2))
        seam = Seam(ring, bar(0, -0.5, 0.8, 1))
        assert seam.covered == pytest.approx(0.5, abs=5e-3)

    @pytest.mark.parametrize("angle", [10, 20, 45, 90])
    def test_a_notch_has_the_angle_between_its_sides(self, angle):
        # Two bars from one point, an angle between them.
        one = affinity.rotate(bar(0, 0, 1, 0.1), 0, origin=(0, 0.1))
        other = affinity.rotate(bar(0, 0, 1, 0.1), angle, origin=(0, 0))
        seam = Seam(one, affinity.translate(other, 0.05, 0.08))
        sharpest = min(notch.angle for notch in seam.notches)
        assert sharpest == pytest.approx(angle, abs=2.5)
        assert bool(seam.deep_notches) == (angle == 10)
