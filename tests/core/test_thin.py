"""Thin places against figures built to measure: dumbbells, rings with a slit, tapers, slots."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fulgen.geometry.thin import centreline, least_across, slots, thinness


def dumbbell(neck, ball=4.0, apart=14.0, turn=0.0):
    """Two discs with a bar of a width between."""
    discs = [shapely.Point(x, 0).buffer(ball, quad_segs=32) for x in (0, apart)]
    whole = shapely.union_all([*discs, shapely.box(0, -neck / 2, apart, neck / 2)])
    return shapely.affinity.rotate(whole, turn, origin=(0, 0))


def slit_ring(width, left):
    """A ring with a notch from outside that leaves so much of its width; a straight place, at its top."""
    ring = shapely.Point(0, 0).buffer(10, quad_segs=64) - shapely.Point(0, 0).buffer(10 - width, quad_segs=64)
    return ring - shapely.box(-0.15, 10 - width + left, 0.15, 20)


def looped_disc(along, one, other):
    """A disc with a loop in its edge: two points put in after one of its corners, off that side."""
    ring = shapely.get_coordinates(shapely.Point(0, 0).buffer(20, quad_segs=15))[:-1]
    start, end = ring[along], ring[(along + 1) % len(ring)]
    loop = [start + 0.6 * (end - start) + one, start + 0.4 * (end - start) + other]
    return shapely.Polygon(np.insert(ring, along + 1, loop, axis=0))


class TestAnEdgeThatCrossesItself:
    @given(st.integers(0, 59), *[st.tuples(*[st.floats(-4, 4)] * 2)] * 2)
    def test_is_judged_and_what_is_wide_holds(self, along, one, other):
        """GEOS refuses to overlay many of those that cross themselves (TopologyException)."""
        whole = looped_disc(along, one, other)
        seen = thinness(whole, 1.0)
        inside = shapely.Point(0, 0).buffer(13)
        assert not any(place.region.intersects(inside) for place in seen.places)

    def test_one_that_geos_refuses(self):
        whole = looped_disc(46, (1.3, 0.9), (0.1, 1.0))
        assert not shapely.is_valid(whole)
        seen = thinness(whole, 1.0)
        assert shapely.is_valid(seen.whole)
        assert seen.whole.area == pytest.approx(math.pi * 400, rel=0.01)


class TestNecks:
    @given(st.floats(0.1, 0.93), st.floats(0, 180))
    def test_a_dumbbells_neck_is_told_to_two_hundredths_of_the_limit_at_any_angle(self, neck, turn):
        seen = thinness(dumbbell(neck, turn=turn), 1.0)
        ((cores, place, freed),) = seen.ties()
        assert seen.neck(cores, place) == pytest.approx(neck, abs=0.03)
        assert freed == pytest.approx(math.pi * 16, rel=0.05)

    @pytest.mark.parametrize("neck", [1.03, 1.5, 6.0])
    def test_a_wide_enough_one_is_not(self, neck):
        assert thinness(dumbbell(neck), 1.0).ties() == []

    def test_nothing_tears_off_a_whole_ring_and_a_slit_in_it_is_no_tie_either(self):
        whole = shapely.Point(0, 0).buffer(10) - shapely.Point(0, 0).buffer(8)
        assert thinness(whole, 1.0).ties() == []
        # Torn at one place a ring still hangs together; slit at two, either may tear alone.
        once = slit_ring(2.0, 0.4)
        twice = shapely.intersection(once, shapely.affinity.rotate(once, 180, origin=(0, 0)))
        assert thinness(once, 1.0).ties() == []
        assert thinness(twice, 1.0).ties() == []

    def test_a_ring_that_is_cut_open_hangs_by_its_slit(self):
        open_ring = slit_ring(2.0, 0.4) - shapely.box(-0.5, -20, 0.5, 0)
        seen = thinness(open_ring, 1.0)
        ((cores, place, freed),) = seen.ties()
        assert seen.neck(cores, place) == pytest.approx(0.4, abs=0.03)
        assert freed == pytest.approx(open_ring.area / 2, rel=0.1)

    def test_the_tip_of_a_taper_ties_nothing(self):
        wedge = shapely.Polygon([(0, -2), (20, 0), (0, 2)])
        seen = thinness(wedge, 1.0)
        assert seen.ties() == []
        tip = max(seen.places, key=lambda place: place.length)
        # 4 mm over 20 mm: half as wide as the limit 2.5 mm from its point. The last disc that goes in leaves
        # a tip from its rim to the point, 1 / (2 sin(atan(0.1))) less its radius, and horns beside it.
        assert tip.length == pytest.approx(0.5 / math.sin(math.atan(0.1)) - 0.5, abs=0.6)
        assert 0.3 < tip.width < 0.5


class TestStrokes:
    @given(st.floats(0.15, 0.9), st.floats(4, 30), st.floats(0, 180))
    def test_a_bar_thinner_than_the_limit_is_told_with_its_length_and_width(self, width, length, turn):
        bar = shapely.affinity.rotate(shapely.box(0, 0, length, width), turn, origin=(0, 0))
        (place,) = thinness(bar, 1.0).places
        assert place.cores == ()
        assert place.length == pytest.approx(length, rel=0.02)
        assert place.width == pytest.approx(width, rel=0.03)

    @pytest.mark.parametrize("width", [1.02, 1.3, 5.0])
    def test_a_bar_wide_enough_is_not(self, width):
        # At its four corners a disc leaves a little out, which is no stroke.
        assert all(place.length < 0.8 for place in thinness(shapely.box(0, 0, 20, width), 1.0).places)

    @given(st.floats(0, 360))
    def test_the_middle_of_a_bar_runs_along_it(self, turn):
        bar = shapely.affinity.rotate(shapely.box(0, -0.2, 12, 0.2), turn, origin=(0, 0))
        way = shapely.LineString(centreline(bar, 1.0))
        assert way.length == pytest.approx(12, abs=0.5)
        middle = shapely.affinity.rotate(shapely.LineString([(0, 0), (12, 0)]), turn, origin=(0, 0))
        assert shapely.hausdorff_distance(way, middle) < 0.3


class TestAcross:
    """The least way across a chord, from edge to edge."""

    BAR = shapely.box(0.0, 0.0, 20.0, 3.0)

    def test_of_a_slanting_chord_it_is_the_bars_own_width(self):
        assert least_across(self.BAR, ((9.5, 0.0), (10.5, 3.0)), 1.5) == pytest.approx(3.0)

    def test_where_there_is_nothing_it_is_none(self):
        assert least_across(self.BAR, ((109.0, 0.0), (109.0, 3.0)), 2.0) == 0.0


class TestSlots:
    @given(st.floats(0.06, 0.9), st.floats(0, 180))
    def test_a_gap_between_two_bars_is_told_to_a_few_hundredths(self, gap, turn):
        bars = shapely.union(shapely.box(0, 0, 10, 3), shapely.box(0, 3 + gap, 10, 6 + gap))
        (slot,) = slots(shapely.affinity.rotate(bars, turn, origin=(0, 0)), 1.0)
        assert slot.through
        assert slot.width == pytest.approx(gap, abs=0.02)

    def test_a_gap_wide_enough_is_not(self):
        assert slots(shapely.union(shapely.box(0, 0, 10, 3), shapely.box(0, 4.05, 10, 7)), 1.0) == []

    def test_the_bay_where_two_edges_meet_is_no_gap(self):
        notch = shapely.box(0, 0, 20, 10) - shapely.Polygon([(9, 11), (10, 4), (11, 11)])
        assert not any(slot.through for slot in slots(notch, 1.0))

    def test_a_right_angle_is_nothing(self):
        corner = shapely.union(shapely.box(0, 0, 20, 4), shapely.box(0, 0, 4, 20))
        assert slots(corner, 1.0) == []
