"""Strokes brought to a least width, against figures whose widths and areas are known in closed form."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.geometry.least_width import MARGIN, widened
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean, weld
from tests.figures import disc

FINE = 0.002
EVERYWHERE = [shapely.box(-100, -100, 100, 100)]


def polygon(*corners):
    return clean(Outline.polygon(corners), FINE)


def dumbbell(neck, apart=14.0):
    bar = polygon((0, -neck / 2), (apart, -neck / 2), (apart, neck / 2), (0, neck / 2))
    balls = [clean(disc(x, 0.0, 3.0), FINE) for x in (0.0, apart)]
    return weld([*balls, bar])


def turned(shape, degrees):
    return shape.turned(degrees)


def holds(shape, width):
    """Whether a disc of a width passes everywhere: worn by half of it the shape stays in one."""
    return len(shapely.get_parts(shapely.buffer(shape.region, -width / 2))) == 1


class TestABar:
    @settings(max_examples=25, deadline=None)
    @given(neck=st.floats(0.1, 0.55), turn=st.floats(0, 360))
    def test_between_two_discs_becomes_as_wide_as_asked_and_no_wider(self, neck, turn):
        before = turned(dumbbell(neck), turn)
        after = widened(before, 0.6, EVERYWHERE)
        assert holds(after, 0.6)
        assert not holds(after, 0.66)
        # No point has moved further than half of what was lacking, the margin and the drawing's fineness.
        allowed = shapely.buffer(before.region, (0.6 * MARGIN - neck) / 2 + 0.03)
        assert allowed.covers(after.region)
        assert after.region.covers(shapely.buffer(before.region, -0.02))

    def test_that_is_wide_enough_stays_as_it_is_to_the_last_point(self):
        before = dumbbell(0.7)
        assert widened(before, 0.6, EVERYWHERE) is before

    def test_is_left_where_no_place_is_said(self):
        before = dumbbell(0.3)
        assert widened(before, 0.6, []) is before
        assert widened(before, 0.6, [shapely.Point(-2.9, 0).buffer(0.05)]) is before

    def test_the_discs_beside_it_keep_their_far_sides_to_the_last_point(self):
        before, after = dumbbell(0.3), widened(dumbbell(0.3), 0.6, EVERYWHERE)
        far = {(x, y) for x, y in before.outline.points.tolist() if not -0.5 < x < 14.5}
        assert far <= set(map(tuple, after.outline.points.tolist()))

    def test_grows_by_its_length_times_what_was_lacking(self):
        before, after = dumbbell(0.3), widened(dumbbell(0.3), 0.6, EVERYWHERE)
        # The bar in the open is 14 - 2 * 3 mm long, nearly.
        assert after.region.area - before.region.area == pytest.approx(8 * (0.6 * MARGIN - 0.3), rel=0.05)

    def test_takes_few_nodes_more(self):
        before, after = dumbbell(0.3), widened(dumbbell(0.3), 0.6, EVERYWHERE)
        assert len(after.outline.verbs) <= len(before.outline.verbs) + 6


class TestALongBar:
    def test_that_is_looked_at_in_part_ends_without_a_step(self):
        xs = [4.0 * n for n in range(16)]
        bar = polygon(*[(x, -0.15) for x in xs], *[(x, 0.15) for x in reversed(xs)])
        after = widened(bar, 0.6, [shapely.box(28, -0.15, 32, 0.15)])
        slice_ = shapely.intersection(after.region, shapely.LineString([(30, -5), (30, 5)]))
        assert slice_.length == pytest.approx(0.6 * MARGIN, abs=0.02)
        ring = shapely.get_coordinates(after.region.exterior)[:-1]
        ways = np.diff(np.concatenate([ring, ring[:2]]), axis=0)
        turns = np.abs(np.angle((ways[1:] @ (1, 1j)) * (ways[:-1] @ (1, 1j)).conj()))
        assert sum(turns > np.radians(25)) == 4  # the ends of the bar


class TestARing:
    def test_thin_all_round_becomes_as_wide_as_asked(self):
        ring = clean(Outline.joined([disc(0, 0, 5.2), disc(0, 0, 4.8, hole=True)]), FINE)
        after = widened(ring, 0.6, EVERYWHERE)
        half = 0.6 * MARGIN / 2
        assert after.region.area == pytest.approx(math.pi * ((5 + half) ** 2 - (5 - half) ** 2), rel=0.01)
        assert len(shapely.get_parts(after.region)) == 1
        assert after.region.interiors


class TestEnds:
    def test_a_point_stays_a_point_and_is_no_ball(self):
        needle = polygon((0, -2), (6, -0.2), (14, 0), (6, 0.2), (0, 2))
        after = widened(needle, 0.6, EVERYWHERE)
        right = max(x for x, _ in shapely.get_coordinates(after.region).tolist())
        assert right == pytest.approx(14, abs=0.01)
        tip = shapely.intersection(after.region, shapely.box(13.8, -5, 15, 5))
        assert tip.bounds[3] - tip.bounds[1] < 0.35
        # Two of its widths from the tip it is as wide as asked.
        slice_ = shapely.intersection(after.region, shapely.LineString([(12, -5), (12, 5)]))
        assert slice_.length >= 0.6

    def test_a_flat_end_stays_flat_and_where_it_is(self):
        bar = weld([clean(disc(0, 0, 3), FINE), polygon((0, -0.15), (10, -0.15), (10, 0.15), (0, 0.15))])
        after = widened(bar, 0.6, EVERYWHERE)
        assert after.region.bounds[2] == pytest.approx(10, abs=1e-6)
        slice_ = shapely.intersection(after.region, shapely.LineString([(8, -5), (8, 5)]))
        assert slice_.length == pytest.approx(0.6 * MARGIN, abs=0.02)

    def test_two_thin_strokes_that_meet_at_an_angle_meet_still(self):
        for angle in (40, 90, 140):
            a = math.radians(angle)
            along = np.array([math.cos(a), math.sin(a)])
            over = np.array([-along[1], along[0]]) * 0.15
            arm = polygon(*[tuple(p) for p in (over, over + 9 * along, 9 * along - over, -over)])
            flat = polygon((-9, -0.15), (9, -0.15), (9, 0.15), (-9, 0.15))
            after = widened(weld([arm, flat]), 0.6, EVERYWHERE)
            middle = shapely.intersection(after.region, shapely.Point(0, 0).buffer(5))
            assert len(shapely.get_parts(shapely.buffer(middle, -0.29))) == 1, angle
            assert shapely.is_valid(after.region)


class TestWhereItComesFrom:
    def test_sides_that_have_moved_still_know_their_source(self):
        bar = polygon((0, -0.15), (14, -0.15), (14, 0.15), (0, 0.15)).named("bar")
        balls = [clean(disc(x, 0.0, 3.0), FINE).named(f"ball {x:g}") for x in (0.0, 14.0)]
        after = widened(weld([*balls, bar]), 0.6, EVERYWHERE)
        assert after.origins is not None
        assert len(after.origins.source) == len(after.outline.sides.verbs)
        middles = after.outline.sides.cubics[:, [0, 3]].mean(axis=1)
        names = [after.origins.sources[n] for n in after.origins.source.tolist()]
        for (x, _), name in zip(middles.tolist(), names, strict=True):
            if 4 < x < 10:
                assert name == "bar"

    def test_the_twin_has_a_chord_for_every_side(self):
        after = widened(dumbbell(0.3), 0.6, EVERYWHERE)
        assert isinstance(after, Shape)
        known = set(after.chords.side[~after.chords.closing].tolist())
        assert known == set(range(len(after.outline.sides.verbs)))
