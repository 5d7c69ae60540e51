"""Flows, webs and heavier strokes against plane geometry: tangents, widths, crossings, and GEOS for what
holds."""

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import affinity

from fulgen.geometry.outline import CUBIC
from fulgen.joining.flow import Flow, Flows, chain_through, made_heavier, spine_of
from fulgen.joining.heights import Hand, ends_high, heights_of
from fulgen.joining.strength import Body, cores
from fulgen.joining.strokes import chords, strokes_of
from fulgen.joining.webs import gussets, webs_across
from fulgen.lettering.bodies import body_and_marks
from fulgen.lettering.catalogue import find_family
from fulgen.lettering.shaping import shape_line

SCRIPTS = ("kaushan-script", "courgette", "caveat", "charm", "dancing-script", "alex-brush")
LETTERS = "abcdehiklmnorstuvxyz"


def pair(face, two):
    """Two letters as the face sets them."""
    letters = shape_line(find_family(face).face(), two)
    if len(letters) < 2:
        return None
    left, right = (body_and_marks(letter.text, letter.shape.region)[0] for letter in letters[:2])
    return Body(left), Body(right).moved(letters[1].x - letters[0].x, 0.0)


def flows_between(left, right, need):
    return [*Flows(left, right, need, True).at(0.0), *Flows(right, left, need, False).at(0.0)]


def angle_between(one, other):
    cross = one[0] * other[1] - one[1] * other[0]
    return abs(math.degrees(math.atan2(cross, float(np.dot(one, other)))))


def kinks(outline):
    """How much the outline's direction jumps from side to side, in degrees, its two straight ends left
    out."""
    sides, _ = outline.cubics
    curved = [n for n in range(len(sides)) if outline.verbs[(n + 1) % len(outline.verbs)] == CUBIC]
    found = []
    for n, m in itertools.pairwise(curved):
        if m == n + 1:
            found.append(angle_between(sides[n][3] - sides[n][2], sides[m][1] - sides[m][0]))
    return found


pairs_of_letters = st.tuples(st.sampled_from(SCRIPTS), st.sampled_from(LETTERS), st.sampled_from(LETTERS))


@settings(max_examples=60, deadline=None)
@given(which=pairs_of_letters, need=st.floats(0.015, 0.06))
def test_a_flow_leaves_and_arrives_along_strokes_is_as_wide_as_asked_and_has_no_kink(which, need):
    face, *letters = which
    found = pair(face, "".join(letters))
    if found is None:
        return
    left, right = found
    for one in flows_between(left, right, need):
        flow = one.flow
        start, end = (left, right) if one.of_left else (right, left)
        # It begins where a disc as wide as the neck fits, and ends so.
        for body, place in ((start, flow.spine[0, 0]), (end, flow.spine[-1, 3])):
            assert body.region.buffer(-need / 2 + 1e-3).distance(shapely.Point(place)) < 1e-3
        # Along its spine the directions go on: within a degree where cubics meet.
        for before, after in itertools.pairwise(flow.spine):
            assert angle_between(before[3] - before[2], after[1] - after[0]) < 1.0
        assert max(kinks(flow.outline), default=0.0) < 2.0
        # Its edges are never nearer to the spine than half the neck.
        line = np.concatenate([shapely.get_coordinates(_flat(cubic)) for cubic in flow.spine])
        t, count = np.linspace(0, 1, 40), range(len(flow.spine))
        edges = [np.concatenate([flow.edge(n, t, side)[0] for n in count]) for side in (1.0, -1.0)]
        for edge in edges:
            assert shapely.distance(shapely.LineString(edge), shapely.points(line)).min() >= need / 2 * 0.985
        assert flow.region.is_valid


def _flat(cubic):
    t = np.linspace(0, 1, 40)[:, None]
    p0, p1, p2, p3 = cubic
    points = (1 - t) ** 3 * p0 + 3 * t * (1 - t) ** 2 * p1 + 3 * t * t * (1 - t) * p2 + t**3 * p3
    return shapely.LineString(points)


@settings(max_examples=40, deadline=None)
@given(which=pairs_of_letters, need=st.floats(0.015, 0.05))
def test_a_flow_departs_in_the_direction_of_the_stroke_it_carries_on(which, need):
    face, *letters = which
    found = pair(face, "".join(letters))
    if found is None:
        return
    left, right = found
    for one in flows_between(left, right, need):
        body = left if one.of_left else right
        last = one.flow.spine[-1]
        strokes = [s for s in strokes_of(body) if len(s.middles)]
        gaps = [np.hypot(*(s.middles - last[0]).T) for s in strokes]
        nearest = min(range(len(strokes)), key=lambda n: gaps[n].min())
        stroke, at = strokes[nearest], int(gaps[nearest].argmin())
        assert gaps[nearest][at] < 1e-6
        assert angle_between(last[1] - last[0], stroke.outwards[at]) < 1.0


@given(
    st.floats(-1.2, 1.2), st.floats(-1.2, 1.2), st.floats(0.05, 0.4), st.floats(0.3, 2.0)
)  # fmt: skip
def test_a_spine_is_tangent_to_both_directions(out, into, distance, full):
    ends = np.array([0.0, 0.0]), np.array([distance, 0.0])
    ways = [np.array([math.cos(a), math.sin(a)]) for a in (out, into)]
    spine = spine_of(ends[0], ways[0], ends[1], ways[1], full)
    assert angle_between(spine[1] - spine[0], ways[0]) < 1e-6
    assert angle_between(spine[3] - spine[2], ways[1]) < 1e-6


def test_a_spine_that_turns_alike_at_both_ends_is_the_circular_arc():
    # A quarter of a circle of radius 1: its handles are 4/3 tan(90°/4) = 0.5523 long (textbook).
    half = math.pi / 4
    ends = np.array([0.0, 0.0]), np.array([1.0, 1.0])
    spine = spine_of(ends[0], np.array([1.0, 0.0]), ends[1], np.array([0.0, 1.0]))
    assert math.hypot(*(spine[1] - spine[0])) == pytest.approx(4 / 3 * math.tan(half / 2), rel=1e-6)


class TestStrokes:
    def test_a_bar_ends_at_both_ends_and_is_as_wide_as_it_is(self):
        bar = Body(shapely.box(0, 0, 1, 0.08))
        strokes = strokes_of(bar)
        assert sorted(round(s.tip[0]) for s in strokes) == [0, 1]
        for stroke in strokes:
            assert stroke.widths[5:] == pytest.approx(0.08, abs=1e-3)
            assert abs(stroke.outwards[6][0]) == pytest.approx(1, abs=1e-3)

    def test_an_arc_is_walked_along_its_middle(self):
        ring = shapely.Point(0, 0).buffer(0.33, 64).difference(shapely.Point(0, 0).buffer(0.27, 64))
        arc = ring.intersection(shapely.box(-1, -1, 1, 0))
        for stroke in strokes_of(Body(arc)):
            radii = np.hypot(*stroke.middles[3:].T)
            assert radii == pytest.approx(0.3, abs=4e-3)
            assert stroke.widths[5:12] == pytest.approx(0.06, abs=3e-3)

    def test_a_disc_has_no_stroke_that_ends(self):
        assert strokes_of(Body(shapely.Point(0, 0).buffer(0.2, 32))) == ()

    def test_chords_are_the_distances_to_both_sides(self):
        sides = Body(shapely.box(0, 0, 1, 0.3)).sides
        ahead, behind = chords(sides, np.array([[0.5, 0.1]]), np.array([[0.0, 1.0]]))
        assert (ahead[0], behind[0]) == pytest.approx((0.2, 0.1))


class TestWebs:
    @pytest.mark.parametrize("need", [0.03, 0.06, 0.1])
    def test_between_two_discs_it_is_as_wide_as_needed_and_tangent_to_both(self, need):
        left, right = (Body(shapely.Point(x, 0).buffer(0.25, 64)) for x in (0, 0.56))
        web = webs_across(left, right).at(0.0, need)
        whole = shapely.union_all([left.region, right.region, web.region])
        assert whole.geom_type == "Polygon"
        assert len(cores(whole, need * 0.99)) == 1
        sides, _ = web.outline.cubics
        curves = [sides[0], sides[5]]
        for curve in curves:
            for place, way in ((curve[0], curve[1] - curve[0]), (curve[3], curve[3] - curve[2])):
                centre = np.array([0.0 if place[0] < 0.28 else 0.56, 0.0])
                radius = place - centre
                assert math.hypot(*radius) == pytest.approx(0.25, abs=1e-3)
                # A circle's tangent is square to its radius.
                assert abs(90 - angle_between(radius, way)) < 1.0

    def test_stems_are_tied_at_their_feet(self):
        left, right = Body(shapely.box(0, -0.7, 0.1, 0)), Body(shapely.box(0.16, -0.7, 0.26, 0))
        web = webs_across(left, right).at(0.0, 0.04)
        assert web.region.bounds[3] == pytest.approx(0.0, abs=1e-6)
        assert web.region.bounds[1] > -0.25

    @pytest.mark.parametrize("need", [0.08, 0.12])
    def test_a_gusset_makes_a_thin_lens_as_strong_as_asked_and_closes_no_counter(self, need):
        ring = shapely.Point(0, 0).buffer(0.25, 64).difference(shapely.Point(0, 0).buffer(0.12, 64))
        other = affinity.translate(ring, 0.498)
        left, right = Body(ring), Body(other)
        whole = shapely.union(ring, other)
        corners = np.array([(0.249, y) for y in (-1, 1)]) * (1, math.sqrt(0.25**2 - 0.249**2))
        (web, *_) = gussets(left, right, whole, corners, need)
        mended = shapely.union(whole, web.region)
        assert len(cores(mended, need * 0.98)) == 1
        assert len(cores(whole, need * 0.98)) == 2
        assert sum(len(p.interiors) for p in shapely.get_parts(mended)) == 2


class TestHeavierStrokes:
    def test_a_waist_in_a_bar_is_made_as_wide_as_asked_and_nothing_else(self):
        bar = shapely.box(0, 0, 20, 3)
        waist = bar.difference(shapely.Point(10, -1.6).buffer(2.6)).difference(
            shapely.Point(10, 4.6).buffer(2.6)
        )
        assert len(cores(waist, 1.5)) == 2
        way = np.array([(9.0, 1.5), (10.0, 1.5), (11.0, 1.5)])
        outline, tips = made_heavier(waist, way / 30, 2.0 / 30, 30.0)
        added = shapely.Polygon(outline.placed(0, 0, 30).points)
        assert tips == []
        mended = shapely.union(waist, added)
        assert len(cores(mended, 1.9)) == 1
        assert mended.difference(bar).area < 1e-6

    def test_a_chain_goes_smoothly_through_a_path_that_shivers(self):
        t = np.linspace(0, math.pi, 40)
        path = np.stack([np.cos(t), np.sin(t)], axis=1) * 0.2
        shivering = path + np.where(np.arange(40) % 2, 1e-3, -1e-3)[:, None]
        spine = chain_through(shivering)
        for before, after in itertools.pairwise(spine):
            assert angle_between(before[3] - before[2], after[1] - after[0]) < 0.01
        flow = Flow(spine, np.full(len(spine) + 1, 0.03))
        assert max(kinks(flow.outline)) < 2.0
        for cubic in spine:
            assert np.hypot(*shapely.get_coordinates(_flat(cubic)).T) == pytest.approx(0.2, abs=6e-3)


@pytest.mark.parametrize(
    ("face", "two"),
    [("parisienne", "dm"), ("parisienne", "fm"), ("great-vibes", "vr"), ("pinyon-script", "tx")],
)
def test_a_thin_last_stroke_and_a_thin_first_one_go_on_in_each_other(face, two):
    """Most of the joint lies in the two strokes, at half the height of an x, and it holds as the letters do:
    a core of that width runs from the one into the other."""
    left, right = pair(face, two)
    need = 0.98 * min(left.gives(0.036), right.gives(0.036))
    x_height = -float(pair(face, "xx")[0].region.bounds[1])
    heights = heights_of(left.region, right.region, Hand(x_height, True), ends_high(two[0]))
    best = Flows(left, right, 1.008 * need, True, heights).at(0.0)[0]
    letters = shapely.union(left.region, right.region)
    assert shapely.difference(best.flow.region, letters).area < 0.35 * best.flow.region.area
    assert 0.2 < -(best.ends[0][1] + best.ends[1][1]) / 2 / x_height < 0.65
    joined = cores(shapely.union(letters, best.flow.region), need)
    one = joined[shapely.intersects(joined, left.core(need))]
    assert len(one) == 1
    assert shapely.intersects(one[0], right.core(need))
