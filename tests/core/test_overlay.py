"""The overlay: topology as GEOS has it on a finer flattening, curves those of the sources, and every side
knows where it comes from. skia-pathops is the outside engine for curves, where it is right."""

import cmath
import math

import numpy as np
import pathops
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.geometry import bezier, measure, polygons
from fulgen.geometry.operations import intersect, subtract
from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline
from fulgen.geometry.shape import Shape, without_flecks
from fulgen.geometry.weld import clean, weld
from fulgen.lettering.catalogue import FaceChoice, families
from fulgen.lettering.setting import Size
from fulgen.lettering.shaping import shape_line
from fulgen.parts.lettering import Lettering
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import disc, lens_area, rectangle, ring, shape

FINE = 1e-4


def turned(outline, degrees):
    z = (outline.points[:, 0] + 1j * outline.points[:, 1]) * cmath.exp(1j * math.radians(degrees))
    return Outline(outline.verbs, np.stack([z.real, z.imag], axis=1))


def counts(made):
    return polygons.count(made.region)


def is_sound(made):
    """The promises of a shape: a contour to each ring, each vertex of the twin where its side says it is."""
    assert counts(made) == (
        int((measure.contour_areas(made.outline) > 0).sum()),
        int((measure.contour_areas(made.outline) < 0).sum()),
    )
    chords, xy = made.chords, shapely.get_coordinates(made.region)
    z, sides = xy[:, 0] + 1j * xy[:, 1], made.outline.sides.cubics
    cubics = (sides[..., 0] + 1j * sides[..., 1]).T
    off = np.abs(bezier.point(cubics[:, chords.side], chords.start) - z)
    assert off[~chords.closing].max(initial=0.0) < 10 * made.tolerance
    assert shapely.is_valid(made.region)


class TestCurvesOnEachOther:
    """One shape upon itself, however it is drawn, is that shape: not a chain of the two's sides in turns."""

    @pytest.mark.parametrize("degrees", [0.0, 1.0, 7.7, 11.0, 22.5])
    def test_a_circle_on_the_same_circle_has_the_sides_of_one(self, degrees):
        welded = weld([shape(disc(0, 0, 10)), shape(turned(disc(0, 0, 10), degrees))])
        assert measure.node_count(welded.outline) == 16
        assert measure.area(welded.outline) == pytest.approx(100 * math.pi, rel=1e-6)
        is_sound(welded)

    def test_what_both_cover_is_it_too_and_nothing_is_left_of_one_without_the_other(self):
        one, other = shape(disc(0, 0, 10)), shape(turned(disc(0, 0, 10), 5.0))
        assert measure.node_count(intersect([one, other]).outline) == 16
        assert not subtract(one, [other])

    def test_a_letter_twice_on_one_spot_is_that_letter_to_the_last_bit(self):
        (letter,) = shape_line(families()["pacifico"].face(), "e")
        welded = weld([letter.shape, letter.shape])
        assert sorted(map(tuple, welded.outline.points)) == sorted(map(tuple, letter.shape.outline.points))

    def test_abutting_rectangles_are_one_of_four_sides(self):
        welded = weld([shape(rectangle(0, 0, 10, 10)), shape(rectangle(10, 0, 7, 10))])
        assert sorted(map(tuple, welded.outline.points)) == [(0, 0), (0, 10), (17, 0), (17, 10)]


class TestTouching:
    """Round edges that overlap, or lie apart, by less than the flattening: the twins are finer there."""

    @pytest.mark.parametrize("overlap", [0.0005, 0.002, 0.01])
    def test_discs_that_overlap_by_a_hair_are_one_piece(self, overlap):
        # A lens as deep as the overlap is far wider: 2 sqrt(r h) for two discs of radius r (textbook).
        welded = weld([shape(disc(0, 0, 10), 0.03), shape(disc(20 - overlap, 0, 10), 0.03)])
        assert counts(welded) == (1, 0)
        assert measure.area(welded.outline) == pytest.approx(
            200 * math.pi - lens_area(10, 20 - overlap), abs=2e-3
        )

    @pytest.mark.parametrize("gap", [0.0005, 0.002, 0.01])
    def test_discs_that_lie_apart_by_a_hair_are_two(self, gap):
        assert counts(weld([shape(disc(0, 0, 10), 0.03), shape(disc(20 + gap, 0, 10), 0.03)])) == (2, 0)

    @pytest.mark.parametrize("wall", [0.002, 0.01])
    def test_a_ring_inside_a_ring_with_a_thin_wall_of_air_keeps_it(self, wall):
        made = subtract(shape(disc(0, 0, 10), 0.03), [shape(disc(0, 0, 10 - wall), 0.03)])
        assert measure.area(made.outline) < 20 * math.pi * wall * 1.01


heap = st.lists(
    st.tuples(
        st.sampled_from(["disc", "ring", "box", "tiny"]), st.integers(-30, 30), st.integers(-20, 20),
        st.integers(2, 14), st.sampled_from([0.0, 0.0, 5.0, 45.0]),
    ),
    min_size=2, max_size=8,
)  # fmt: skip


def drawn(kind, x, y, r, degrees):
    forms = {
        "disc": lambda: disc(0, 0, r), "ring": lambda: ring(0, 0, r, r / 2),
        "box": lambda: rectangle(-r, -r / 2, 2 * r, r), "tiny": lambda: disc(0, 0, 0.1),
    }  # fmt: skip
    return turned(forms[kind](), degrees).placed(x, y)


class TestAgainstGeos:
    """Whole numbers for places make edges abut, coincide and touch; turning makes them cross at every
    angle."""

    @given(heap)
    @settings(max_examples=150, deadline=None)
    def test_a_weld(self, things):
        shapes = [shape(drawn(*thing), 0.02) for thing in things]
        welded = weld(shapes)
        fine = shapely.union_all([polygons.region_of(s.outline, FINE) for s in shapes])
        edge = sum(s.region.length for s in shapes)
        assert measure.area(welded.outline) == pytest.approx(fine.area, abs=2e-4 * edge + 1e-3)
        is_sound(welded)

    @given(heap)
    @settings(max_examples=100, deadline=None)
    def test_cutting_out_and_what_is_common(self, things):
        first, *rest = [shape(drawn(*thing), 0.02) for thing in things]
        fine, *others = [polygons.region_of(s.outline, FINE) for s in (first, *rest)]
        edge = first.region.length + sum(s.region.length for s in rest)
        for made, by_geos in (
            (subtract(first, rest), shapely.difference(fine, shapely.union_all(others))),
            (intersect([first, rest[0]]), shapely.intersection(fine, others[0])),
        ):
            # Slivers thinner than the flattening are left out.
            assert abs((measure.area(made.outline) if made else 0.0) - by_geos.area) < 0.02 * edge
            if made:
                is_sound(made)

    def test_a_large_thing_beside_a_tiny_one(self):
        welded = weld([shape(disc(0, 0, 300), 0.03), shape(ring(300, 0, 0.2, 0.1), 0.01)])
        assert counts(welded)[0] == 1
        is_sound(welded)


def by_skia(outlines):
    """The union by skia-pathops: one nonzero pass over all contours drawn into one path."""
    path = pathops.Path()
    for outline in outlines:
        at, opened = 0, False
        points = outline.points.tolist()
        for verb in outline.verbs.tolist():
            if verb == MOVE:
                if opened:
                    path.close()
                opened = True
            draw = {MOVE: path.moveTo, LINE: path.lineTo, QUAD: path.quadTo, CUBIC: path.cubicTo}[verb]
            count = (1, 1, 2, 3)[verb]
            draw(*(c for point in points[at : at + count] for c in point))
            at += count
        path.close()
    path.simplify(fix_winding=True, keep_starting_points=False)
    return abs(path.area)


@pytest.mark.parametrize("slug", ["pacifico", "lobster", "great-vibes", "courgette"])
def test_words_have_the_area_that_another_engine_finds(slug):
    face = families()[slug].face()
    same = 0
    for word in ("Willowmere", "Rosalind", "Heron", "Öykü"):
        letters = [s for s in shape_line(face, word) if s.shape]
        shapes = [
            s.shape.placed(s.x - 0.05 * n, 0.0, 1.0).placed(0.0, 0.0, 40.0) for n, s in enumerate(letters)
        ]
        welded = weld(shapes)
        is_sound(welded)
        fine = shapely.union_all([polygons.region_of(s.outline, 2e-4) for s in shapes])
        assert measure.area(welded.outline) == pytest.approx(fine.area, rel=6e-5)
        same += by_skia([s.outline for s in shapes]) == pytest.approx(fine.area, rel=1e-3)
    assert same >= 3, "the other engine errs now and then; mostly the two agree"


class TestWhereSidesComeFrom:
    def test_every_side_is_the_part_of_its_source_that_it_says(self):
        face = families()["courgette"].face()
        named = [
            s.shape.placed(s.x - 0.06 * n, 0.0).named(n)
            for n, s in enumerate(shape_line(face, "Heron"))
            if s.shape
        ]
        welded = weld(named)
        by_name = {shape.origins.sources[0]: shape for shape in named}
        cubics, origins = welded.outline.sides.cubics, welded.origins
        whole = 0
        for row in range(len(cubics)):
            source = by_name[origins.sources[origins.source[row]]].outline.sides.cubics[origins.side[row]]
            start, end = origins.start[row], origins.end[row]
            middle = bezier.point(source, (start + end) / 2)
            assert np.abs(bezier.point(cubics[row], 0.5) - middle).max() < 2e-3
            whole += {start, end} == {0.0, 1.0}
        assert whole > len(cubics) / 2, "most sides are whole ones of their letters"

    def test_they_are_known_through_a_second_weld_and_a_mirror(self):
        first = weld([shape(disc(0, 0, 10)).named("a"), shape(disc(12, 0, 10)).named("b")]).mirrored()
        second = weld([first, shape(disc(-40, 0, 30)).named("c")])
        names = {second.origins.sources[n] for n in second.origins.source.tolist()}
        assert names == {"a", "c"} or names == {"a", "b", "c"}
        areas = measure.contour_areas(second.outline)
        assert areas.sum() == pytest.approx(measure.area(second.outline))


def test_outlines_that_cross_themselves_cover_what_their_winding_says():
    loop = Outline(
        np.array([MOVE, CUBIC, LINE], np.uint8),
        np.array([(0, 0), (60, 40), (-40, 40), (20, 0), (10, -10.0)]),
    )
    made = clean(loop, 0.01)
    assert measure.area(made.outline) == pytest.approx(polygons.region_of(loop, FINE).area, rel=1e-4)
    is_sound(made)


def test_pieces_and_holes_no_disc_of_a_width_fits_into_go():
    plate = shapely.box(0, 0, 20, 20) - shapely.box(5, 5, 5.02, 15) - shapely.box(10, 10, 12, 12)
    both = shapely.MultiPolygon([plate, shapely.box(30, 0, 30.03, 9)])
    left = without_flecks(both, 0.06)
    assert polygons.count(left) == (1, 1)
    assert without_flecks(both, 0.0) is both


def test_a_shape_whose_edges_nearly_touch_is_flattened_finer_until_they_do_not_cross():
    eye = Outline(
        np.array([MOVE, CUBIC, CUBIC, MOVE, CUBIC, CUBIC], np.uint8),
        np.array([
            (0, 0), (5, 8), (15, 8), (20, 0), (15, -8), (5, -8), (0, 0),
            (0.01, 0), (5, -7.98), (15, -7.98), (19.99, 0), (15, 7.98), (5, 7.98), (0.01, 0.0),
        ]),
    )  # fmt: skip
    made = Shape.of(eye, 0.05)
    assert shapely.is_valid(made.region)
    assert measure.area(made.outline) == pytest.approx(measure.area(eye), rel=1e-3)


@pytest.mark.parametrize("tip", [1e-6, 1e-7, 1e-5, 1e-4])
@pytest.mark.parametrize("sides", [1, 2])
def test_what_hangs_on_another_by_a_point_is_not_lost(tip, sides):
    """A drop whose tip is a hair inside a square: its edge leaves that and comes back at nearly one point."""
    x = 10.0 - tip
    loops = {
        1: [(x, 5), (30, -15), (30, 25), (x, 5)],
        2: [(x, 5), (14, 2), (18, 2), (20, 5), (18, 8), (14, 8), (x, 5)],
    }
    verbs = np.array([MOVE] + [CUBIC] * sides, np.uint8)
    drop = shape(Outline(verbs, np.array(loops[sides], float)))
    square = shape(rectangle(0, 0, 10, 10))
    for first, second in ((square, drop), (drop, square)):
        made = weld([first, second])
        is_sound(made)
        area = measure.area(drop.outline) + 100.0
        assert measure.area(made.outline) == pytest.approx(area, abs=1e-2)


def test_a_letter_that_only_just_touches_the_one_before_it():
    """Parisienne's r touches the e before it at one point of its tip, at this size."""
    face = FaceChoice(family="parisienne")
    word = Lettering(text="Otter\nbrook", face=face, size=Size("capitals", 30.0))
    evaluation = evaluate(Recipe(parts=(word,))).whole()
    letters = evaluation.parts[0].shapes
    covered = shapely.union_all([letter.refined(2e-3).region for letter in letters])
    assert sum(piece.area for piece in evaluation.pieces) == pytest.approx(covered.area, rel=2e-4)


class TestSharedEdges:
    """What lies along two sides of another shape and a corner between them: its edges are that shape's."""

    @settings(max_examples=60, deadline=None)
    @given(
        wide=st.floats(5, 300), high=st.floats(2, 40), across=st.floats(0.1, 0.97), down=st.floats(0.1, 0.97),
        twice=st.booleans(), corner=st.integers(0, 3),
    )  # fmt: skip
    def test_a_rectangle_in_the_corner_of_another_leaves_it_as_it_is(
        self, wide, high, across, down, twice, corner
    ):
        x = (corner % 2) * wide * (1 - across)
        y = (corner // 2) * high * (1 - down)
        outer, inner = rectangle(0, 0, wide, high), rectangle(x, y, wide * across, high * down)
        made = weld([shape(outer), *([shape(outer)] if twice else []), shape(inner)])
        is_sound(made)
        assert measure.area(made.outline) == pytest.approx(wide * high)
        # It can be cut out of a plate, and something be cut out of it.
        plate = shape(rectangle(-20, -20, wide + 40, high + 40))
        is_sound(subtract(plate, [made]))
        bar = shape(rectangle(wide * 0.4, -5, wide * 0.2, high + 10))
        is_sound(subtract(made, [bar]))
