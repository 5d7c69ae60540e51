"""Operations against closed forms and GEOS: cutting out, what is common, dividing, and bands along lines."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.geometry import measure
from fulgen.geometry.flatten import flatten
from fulgen.geometry.offset import band
from fulgen.geometry.operations import MOST_DIVIDED, divided, filled, intersect, subtract
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Outline
from fulgen.geometry.polygons import count
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.geometry.shape_library import LIBRARY_SHAPES, ellipse
from fulgen.geometry.weld import clean, weld
from fulgen.parts.line import LinePart, PathPoint, course_of
from fulgen.problem import Problem
from tests.figures import disc, lens_area, rectangle, ring, shape


def area(shape):
    return measure.area(shape.outline) if shape else 0.0


class TestTwoDiscs:
    """Radius 10, 12 apart: the lens by the circular segment formula (textbook)."""

    one, other = shape(disc(0, 0, 10)), shape(disc(12, 0, 10))
    lens = lens_area(10, 12)

    def test_one_cut_out_of_the_other_leaves_a_crescent(self):
        left = subtract(self.one, [self.other])
        assert area(left) == pytest.approx(100 * math.pi - self.lens, rel=1e-5)
        assert set(left.outline.verbs.tolist()) <= {MOVE, CUBIC, 2}, "its curves stay curves"

    def test_what_they_have_in_common_is_the_lens(self):
        assert area(intersect([self.one, self.other])) == pytest.approx(self.lens, rel=1e-5)

    def test_divided_they_are_three_regions_that_add_up(self):
        shares = divided([self.one, self.other])
        assert [share.covers for share in shares] == [(0,), (1,), (0, 1)]
        assert sum(area(s.shape) for s in shares) == pytest.approx(200 * math.pi - self.lens, rel=1e-5)

    def test_a_ring_of_two_discs(self):
        left = subtract(self.one, [shape(disc(0, 0, 4))])
        assert area(left) == pytest.approx(math.pi * (100 - 16), rel=1e-6)
        assert count(left.region) == (1, 1)


class TestNothing:
    def test_cut_out_of_all_of_it_is_nothing(self):
        assert not subtract(shape(disc(0, 0, 4)), [shape(disc(0, 0, 10))])

    def test_apart_there_is_nothing_in_common(self):
        assert not intersect([shape(disc(0, 0, 4)), shape(disc(20, 0, 4))])

    def test_what_does_not_meet_it_leaves_a_shape_as_it_is(self):
        one = shape(disc(0, 0, 4))
        assert subtract(one, [shape(disc(20, 0, 4))]) is one

    def test_too_many_parts_are_not_divided(self):
        many = [shape(disc(n, 0, 4)) for n in range(MOST_DIVIDED + 1)]
        with pytest.raises(Problem, match="would be divided"):
            divided(many)


def test_abutting_squares_divide_into_themselves():
    left, right = shape(rectangle(0, 0, 10, 10)), shape(rectangle(10, 0, 10, 10))
    assert sorted(round(area(s.shape), 6) for s in divided([left, right])) == [100, 100]


def test_no_sliver_is_left_where_edges_almost_run_along_each_other():
    left = subtract(shape(rectangle(0, 0, 40, 20)), [shape(rectangle(0.01, 0.004, 40, 20.5))])
    assert area(left) < 0.5
    assert all(part.buffer(-0.015).area > 0 for part in shapely.get_parts(left.region))


def test_holes_are_filled_and_nothing_else_moves():
    plate = shape(ring(0, 0, 10, 6))
    full = filled(plate, lambda hole: True)
    assert area(full) == pytest.approx(100 * math.pi, rel=1e-6)
    assert np.array_equal(full.outline.points, next(iter(plate.outline.contours())).points)


names = st.sampled_from(sorted(LIBRARY_SHAPES))
places = st.tuples(st.floats(-25, 25), st.floats(-25, 25))
sizes = st.floats(15, 60)


@st.composite
def shapes_at_random(draw):
    form = LIBRARY_SHAPES[draw(names)]
    across = draw(sizes)
    values = {p.key: p.low + draw(st.floats(0, 1)) * (p.high - p.low) for p in form.parameters}
    dx, dy = draw(places)
    return clean(form.drawn(across, across / form.ratio, values).placed(dx, dy), FLATNESS_MM)


class TestAgainstGeos:
    """Each operation on forms at random is what GEOS makes of the same polygons, to the flattening."""

    def allowed(self, *shapes):
        return sum(FLATNESS_MM * s.region.length for s in shapes) + 0.01

    @given(shapes_at_random(), shapes_at_random())
    @settings(max_examples=60, deadline=None)
    def test_operations(self, a, b):
        allowed = self.allowed(a, b)
        for made, by_geos in (
            (weld([a, b]), shapely.union(a.region, b.region)),
            (subtract(a, [b]), shapely.difference(a.region, b.region)),
            (intersect([a, b]), shapely.intersection(a.region, b.region)),
        ):
            assert area(made) == pytest.approx(by_geos.area, abs=allowed)
            if made:
                assert shapely.symmetric_difference(made.region, by_geos).area < allowed

    @given(st.lists(shapes_at_random(), min_size=2, max_size=4))
    @settings(max_examples=25, deadline=None)
    def test_divided_regions_are_apart_and_add_up_to_the_union(self, shapes):
        shares = divided(shapes)
        allowed = self.allowed(*shapes) * len(shares)
        whole = shapely.union_all([s.region for s in shapes])
        assert sum(area(s.shape) for s in shares) == pytest.approx(whole.area, abs=allowed)
        for n, one in enumerate(shares):
            for other in shares[n + 1 :]:
                assert shapely.intersection(one.shape.region, other.shape.region).area < allowed

    def test_every_side_of_a_result_is_a_part_of_a_side_of_a_source(self):
        """Curves stay the sources' own curves, and straight sides their straight sides."""
        rng = np.random.default_rng(5)
        forms = list(LIBRARY_SHAPES.values())
        for _ in range(60):
            a, b = (
                clean(
                    form.drawn(40, 40 / form.ratio, {}).placed(*rng.uniform(-12, 12, 2)), FLATNESS_MM
                ).named(n)
                for n, form in enumerate(forms[int(k)] for k in rng.integers(len(forms), size=2))
            )
            made = subtract(a, [b])
            if made:
                sides, origins = made.outline.sides, made.origins
                for row, verb in enumerate(sides.verbs.tolist()):
                    of = (a, b)[origins.source[row]].outline.sides
                    assert verb == of.verbs[origins.side[row]]


class TestBands:
    """A band along a smooth line has width times length (Pappus' rule), and its ends besides."""

    @given(st.floats(-1.2, 1.2), st.floats(0.5, 6), st.sampled_from(["round", "square", "pointed"]))
    @settings(max_examples=40, deadline=None)
    def test_an_arc(self, bulge, width, ends):
        part = LinePart(
            id="l", course="arc", bulge=bulge, points=(PathPoint(-30.0, 0.0), PathPoint(30.0, 0.0)), ends=ends
        )
        line = course_of(part)
        angle = 4 * math.atan(2 * bulge)
        radius = math.inf if abs(angle) < 1e-9 else 60 / (2 * math.sin(abs(angle) / 2))
        length = 60 if radius == math.inf else radius * abs(angle)
        extra = {"round": math.pi / 4, "square": 0.0, "pointed": 0.5}[ends] * width**2
        made = band(line, width, FLATNESS_MM, ends)
        assert area(made) == pytest.approx(width * length + extra, rel=2e-3)

    def test_steiner_s_rule_for_a_closed_curve_grown(self):
        """A + P r + pi r² for a convex shape (J. Steiner, 1840)."""
        from fulgen.geometry.offset import offset

        plate = shape(rectangle(0, 0, 40, 25))
        assert area(offset(plate, 3)) == pytest.approx(1000 + 130 * 3 + math.pi * 9, rel=1e-4)

    def test_a_wave_swings_as_far_as_asked(self):
        part = LinePart(id="l", course="wave", swing_mm=5.0, waves=3)
        box = measure.box(course_of(part))
        assert box.height == pytest.approx(10, rel=0.05)

    def test_a_line_through_points_goes_through_them_and_is_sharp_at_corners_only(self):
        points = (
            PathPoint(0.0, 0.0),
            PathPoint(20.0, 10.0),
            PathPoint(40.0, -5.0, True),
            PathPoint(60.0, 0.0),
        )
        line = course_of(LinePart(id="l", course="free", points=points))
        assert line.points[::3].tolist() == [[p.x, p.y] for p in points]
        ways = np.diff(line.points, axis=0)
        into, out = ways[2::3][:-1], ways[3::3]
        crossed = np.abs(into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0])
        turned = crossed / (np.hypot(*into.T) * np.hypot(*out.T))
        assert turned[0] < 1e-9 < turned[1]

    def test_a_line_of_no_length_is_told(self):
        with pytest.raises(Problem, match="no length"):
            course_of(LinePart(id="l", points=(PathPoint(1.0, 1.0), PathPoint(1.0, 1.0))))


class TestForms:
    def test_there_are_enough(self):
        assert len(LIBRARY_SHAPES) >= 24

    @pytest.mark.parametrize("name", sorted(LIBRARY_SHAPES))
    @given(share=st.floats(0, 1), wide=st.floats(2, 300), high=st.floats(2, 300))
    @settings(max_examples=12, deadline=None)
    def test_each_fills_its_box_whatever_its_parameters(self, name, share, wide, high):
        form = LIBRARY_SHAPES[name]
        values = {p.key: p.low + share * (p.high - p.low) for p in form.parameters}
        box = clean(form.drawn(wide, high, values), FLATNESS_MM / 10).box
        assert (box.width, box.height) == pytest.approx((wide, high), rel=2e-3, abs=0.01)

    @pytest.mark.parametrize("name", [name for name, form in LIBRARY_SHAPES.items() if form.parameters])
    def test_a_handle_says_where_its_parameter_goes(self, name):
        """Dragged along its way by as much as it says, the parameter changes by as much."""
        form = LIBRARY_SHAPES[name]
        for parameter in form.parameters:
            middle = (parameter.low + parameter.high) / 2
            handle = form.handle(parameter.key, 60, 60 / form.ratio, {parameter.key: middle})
            assert (handle is None) == (parameter.kind == "count")
            if handle is None:
                continue
            by = (parameter.high - parameter.low) * 0.02
            further = form.drawn(60, 60 / form.ratio, {parameter.key: middle + by})
            there = np.array([handle.x + handle.dx * by, handle.y + handle.dy * by])
            moved = math.hypot(handle.dx, handle.dy) * by
            near = shapely.distance(shapely.LineString(flatten(further, 1e-3)[0]), shapely.Point(there))
            assert near < 0.25 * moved + 0.02

    def test_an_ellipse_has_the_area_of_one(self):
        assert measure.area(ellipse(3, 4, 20, 10)) == pytest.approx(math.pi * 200, rel=1e-3)

    def test_a_ring_has_the_area_of_one(self):
        plate = clean(LIBRARY_SHAPES["ring"].drawn(80, 80, {"width": 0.25}), FLATNESS_MM)
        assert area(plate) == pytest.approx(math.pi * (40**2 - 30**2), rel=1e-3)

    def test_a_polygon_has_the_area_of_one(self):
        plate = clean(LIBRARY_SHAPES["polygon"].drawn(2 * math.sqrt(3), 4, {"sides": 6}), FLATNESS_MM)
        assert area(plate) > 0
        hexagon = clean(LIBRARY_SHAPES["polygon"].drawn(4, 2 * math.sqrt(3), {"sides": 6}), FLATNESS_MM)
        assert area(hexagon) == pytest.approx(3 * math.sqrt(3) / 2 * 4, rel=1e-6)


def test_a_straight_line_is_an_outline_of_one_side():
    line = course_of(LinePart(id="l"))
    assert isinstance(line, Outline)
    assert line.verbs.tolist() == [MOVE, LINE]
