"""Frames: what they are, how names are fitted into them, and what is said where they cannot be."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.framing.bands import Band, opening_around, strip
from fulgen.framing.contact import Edge
from fulgen.framing.contact import contacts as edge_contacts
from fulgen.framing.fit_solver import Ink, across, standing, upright, within
from fulgen.framing.frames import FRAMES, FormRequest
from fulgen.framing.initials import initial
from fulgen.framing.islands import with_bridges
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.operations import subtract
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.seam import State
from fulgen.joining.strength import Body, cores
from fulgen.lettering.catalogue import FaceChoice, shipped_face
from fulgen.lettering.letters import MarkWay
from fulgen.parts.artwork import ArtItem, Artwork
from fulgen.parts.frame import Fit, Frame, OwnBand
from fulgen.parts.lettering import Lettering
from fulgen.parts.shape import ShapePart
from fulgen.problem import Problem
from fulgen.recipe.contacts import contacts
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import VERSION, Recipe
from fulgen.recipe.versions import read_recipe, recipe_from
from tests.figures import disc, rectangle, ring, shape

ONE_PIECE = JoinOptions(how="auto", marks=MarkWay.LOWER, tie=True)
NECK = ONE_PIECE.neck_mm


def name(text="Piers", face="pacifico", part_id="name", **more):
    return Lettering(id=part_id, text=text, face=FaceChoice(face), join=more.pop("join", ONE_PIECE), **more)


def frame(form="name ring", width=80.0, names=("name",), **more):
    ratio = FRAMES[form].ratio if form in FRAMES else 1.0
    more.setdefault("height_mm", round(width / ratio, 4))
    return Frame(id="frame", form=form, width_mm=width, members=names, **more)


def framed(form="name ring", words="Piers", face="pacifico", **more):
    return evaluate(Recipe(parts=(name(words, face), frame(form, **more)))).whole()


def letters_of(evaluation, part="name"):
    placed = evaluation.part(part)
    return [placed.place.region(region) for region in placed.built.regions]


def points_of(evaluation, part="name"):
    return np.concatenate([shapely.get_coordinates(region) for region in letters_of(evaluation, part)])


def fitted(evaluation):
    return evaluation.part("frame").built.fitted


def material(evaluation):
    return shapely.union_all([film.shape.region for film in evaluation.films])


TEXTS = {"round monogram": "PKB", "tall monogram": "PKB"}


class TestEveryFrame:
    @pytest.mark.parametrize("face", ["pacifico", "anton"])
    @pytest.mark.parametrize("text", ["Zoë", "Maximiliane"])
    @pytest.mark.parametrize("form", FRAMES)
    def test_a_name_holds_in_it(self, form, text, face):
        use = FRAMES[form].uses[0]
        text = TEXTS.get(form, "Zoë Ma" if form == "word ring" and text != "Zoë" else text)
        evaluation = framed(form, text, face)
        assert len(evaluation.pieces) == 1
        met = contacts(evaluation)
        assert {contact.state for contact in met} <= {State.JOINED}
        assert bool(met) == (use != "holes")
        for one in fitted(evaluation):
            assert 1 / 1.151 < one.stretch < 1.151
            if one.band.manner in ("upright", "stand"):
                assert one.air[0] == pytest.approx(one.air[1], abs=0.1)
                assert min(one.air) >= 2.9

    @pytest.mark.parametrize("form", ["name ring", "split initial", "on a bar", "gate sign", "oval plate"])
    def test_worn_by_less_than_its_neck_it_is_still_one_piece(self, form):
        evaluation = framed(form, "Anna", "lobster")
        assert len(cores(material(evaluation), 0.75 * NECK)) == 1

    @pytest.mark.parametrize("form", FRAMES)
    def test_without_names_it_is_there_all_the_same(self, form):
        evaluation = evaluate(Recipe(parts=(frame(form, names=()),)))
        assert evaluation.whole().pieces

    @pytest.mark.parametrize("form", ["oval plate", "shield plate", "banner plate", "key tag"])
    def test_a_name_can_be_cut_out_of_a_plate(self, form):
        evaluation = framed(form, "Bod", "anton", holes=True)
        (piece,) = evaluation.pieces
        assert piece.holes >= 3
        # Nothing of the name is left: it is holes, but for the bridges that hold its counters.
        name_area = shapely.union_all(letters_of(evaluation)).area
        assert (
            shapely.intersection(material(evaluation), shapely.union_all(letters_of(evaluation))).area
            < 0.3 * name_area
        )

    def test_a_name_in_a_shield_holds_to_its_rim_and_leaves_half_of_it(self):
        evaluation = framed("shield plate", "I", "anton", values={"rim": 8.0})
        (piece,) = shapely.get_parts(material(evaluation))
        name = shapely.union_all(letters_of(evaluation))
        assert shapely.Polygon(piece.exterior).buffer(-4.0).covers(name)
        # Words stand in the upper part of what the rim leaves: below, the shield runs to a point.
        _, top, _, bottom = shapely.Polygon(piece.exterior).buffer(-8.0).bounds
        assert (name.bounds[1] + name.bounds[3]) / 2 == pytest.approx(top + 0.36 * (bottom - top), abs=0.3)


class TestRings:
    def test_two_rings_that_leave_nothing_open_are_refused(self):
        """15 mm of radius less two rims of 3.6 mm and a space of 6 mm leave 1.8 mm."""
        values = {"rim": 3.6, "space": 6.0}
        recipe = Recipe(parts=(name(), frame("double ring", 30.0, values=values)))
        (failure,) = evaluate(recipe).failures
        assert failure.problem.what == "The two rings leave nothing open for a name."

    def test_one_name_may_take_more_than_half_of_its_ring(self):
        recipe = Recipe(parts=(name("Otterbrook Boat", "anton"), frame("word ring", 100.0)))
        assert evaluate(recipe).failures == ()
        _, top, _, bottom = shapely.union_all(letters_of(evaluate(recipe).whole())).bounds
        assert top < -35
        assert bottom > 20

    def test_a_ring_has_the_area_of_a_ring(self):
        evaluation = evaluate(Recipe(parts=(frame(names=(), values={"rim": 5.0, "cord": 0.0}),))).whole()
        # Circles of four cubics are true to 3e-4 of their radius (textbook).
        assert evaluation.pieces[0].area == pytest.approx(math.pi * (40**2 - 35**2), rel=6e-4)

    def test_the_cord_hole_is_as_wide_as_asked_and_clear_of_the_rim(self):
        evaluation = evaluate(Recipe(parts=(frame(names=(), values={"cord": 6.0}),))).whole()
        (piece,) = shapely.get_parts(material(evaluation))
        hole = min((shapely.Polygon(i) for i in piece.interiors), key=lambda h: h.area)
        assert hole.area == pytest.approx(math.pi * 9, rel=0.02)

    @pytest.mark.parametrize("text", ["Piers", "Mo", "I", "Bartholomew"])
    def test_first_and_last_letter_run_into_the_inner_edge_by_the_depth(self, text):
        evaluation = framed(words=text, face="anton", values={"rim": 4.0}, fit=Fit(depth_mm=1.0))
        xy = points_of(evaluation)
        into = np.hypot(*xy.T) - 36.0
        middle = (xy[:, 0].min() + xy[:, 0].max()) / 2
        for half in (xy[:, 0] < middle, xy[:, 0] >= middle):
            assert into[half].max() == pytest.approx(1.0, abs=0.02)

    def test_no_letter_comes_out_at_the_far_side_of_the_rim(self):
        evaluation = framed(words="Jib", values={"rim": 3.0})
        assert np.hypot(*points_of(evaluation).T).max() < 40.0

    def test_another_name_fits_again_and_the_ring_stays(self):
        one, other = framed(words="Mo"), framed(words="Theodora")
        assert one.part("frame").built.bare.body.region.equals_exact(
            other.part("frame").built.bare.body.region, 1e-9
        ) or (
            other.part("frame").built.bare.body.region.area
            == pytest.approx(one.part("frame").built.bare.body.region.area, rel=0.02)
        )
        assert one.part("name").size > other.part("name").size


class TestFit:
    """The numbers of a fit against closed forms: the ink is a rectangle of the size 1 × 0.5."""

    INK = Ink.of(shapely.box(0.0, -0.5, 1.0, 0.0), 0.0)
    EDGES = shapely.box(-100, -100, 100, 100)

    def band(self, manner, **more):
        return Band(Box(-20, -10, 40, 20), manner, self.EDGES, **more)

    @settings(max_examples=20, deadline=None)
    @given(st.floats(0.2, 2.0))
    def test_across_a_circle_the_corners_meet_it(self, depth):
        hole = shapely.Point(0, 0).buffer(20, quad_segs=256)
        pose = across(self.INK, self.band("across", sides=hole), depth, "box", "baseline")
        # Half its width and half its height make the radius and the depth (Pythagoras).
        assert math.hypot(pose.size / 2, pose.size / 4) == pytest.approx(20 + depth, abs=2e-3)
        assert pose.x == pytest.approx(-pose.size / 2, abs=1e-2)

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(st.tuples(st.floats(-3, 3), st.floats(-3, 3)), min_size=1, max_size=40),
        st.floats(0.1, 20.0), st.tuples(st.floats(-30, 30), st.floats(-30, 30)),
        st.sampled_from(["circle", "levels", "star"]),
    )  # fmt: skip
    def test_the_deepest_point_is_among_the_decisive_ones(self, points, size, at, opening):
        # How far a place is from a convex set is a convex function of it (S. Boyd, L. Vandenberghe, "Convex
        # Optimization", 2004, section 3.2.5); a star is none, and all points count.
        star = shapely.Polygon([(r * math.cos(n * 0.6), r * math.sin(n * 0.6))
                                for n, r in enumerate([20, 6] * 5)])  # fmt: skip
        openings = {"circle": shapely.Point(0, 0).buffer(20), "levels": strip(-10, 10), "star": star}
        band = self.band("across", sides=openings[opening])
        points = np.array(points)
        some = band.decisive(points, across=True)
        assert opening != "star" or len(some) == len(points)
        deepest = [band.depths(these * size + at, across=True).max() for these in (points, some)]
        assert deepest[0] == pytest.approx(deepest[1], abs=1e-9)

    def test_between_two_levels_it_overlaps_both(self):
        pose = upright(self.INK, self.band("upright", rows=strip(-10, 10)), 0.5, "baseline", "box")
        assert pose.size * 0.5 == pytest.approx(21.0, abs=1e-3)
        assert pose.y == pytest.approx(10.5, abs=1e-3)

    def test_standing_it_goes_into_what_is_below(self):
        pose = standing(self.INK, self.band("stand", rows=strip(-1e4, 10)), 12.0, 0.7, "baseline", "box")
        assert (pose.y, pose.x) == (pytest.approx(10.7, abs=1e-3), pytest.approx(-6.0))

    def test_within_it_keeps_its_air_all_around(self):
        hole = shapely.box(-20, -10, 20, 10)
        pose = within(self.INK, self.band("within", sides=hole), 2.0, "box")
        assert pose.size == pytest.approx(32.0, rel=1e-3)  # 16 high and 32 wide, within 36 × 16

    def test_what_is_seen_is_centred_by_its_area(self):
        # A triangle's middle is a third of its height above its base (textbook moments).
        ink = Ink.of(shapely.Polygon([(0, 0), (1, 0), (0, -0.9)]), 0.0)
        hole = shapely.box(-50, -50, 50, 50)
        pose = within(ink, self.band("within", sides=hole), 2.0, "seen")
        assert pose.x + pose.size / 3 == pytest.approx(0.0, abs=1e-9)
        assert pose.y - 0.3 * pose.size == pytest.approx(0.0, abs=1e-9)

    def test_a_descender_does_not_stand(self):
        ink = Ink.of(shapely.union(shapely.box(0, -0.5, 1, 0.0), shapely.box(0.4, 0, 0.5, 0.25)), 0.0)
        assert ink.lowest("baseline") == pytest.approx(0.0)
        assert ink.lowest("lowest") == pytest.approx(0.25)

    def test_gap_and_letters_narrower_within_the_limit(self):
        evaluation = framed("between lines", "Willow", values={"gap": 24.0})
        (one,) = fitted(evaluation)
        assert 1 / 1.15 - 1e-6 <= one.stretch < 1
        assert one.air == pytest.approx((3.0, 3.0), abs=0.1)

    def test_a_short_name_stays_as_it_is_drawn(self):
        (one,) = fitted(framed("between lines", "Jo", values={"gap": 15.0}))
        assert one.stretch == 1.0
        assert min(one.air) > 10

    def test_or_is_spread_to_fill_the_room(self):
        evaluation = framed("between lines", "CREW", "anton", values={"gap": 18.0}, fit=Fit(spread=True))
        (one,) = fitted(evaluation)
        assert one.air[0] == pytest.approx(one.air[1], abs=0.1)
        plain = fitted(framed("between lines", "CREW", "anton", values={"gap": 18.0}))[0]
        assert one.air[0] < plain.air[0]

    def test_on_a_bar_the_air_is_as_asked_at_any_length(self):
        for text in ("Jo", "Theodora"):
            (one,) = fitted(framed("on a bar", text, fit=Fit(air_mm=5.0)))
            assert one.air == pytest.approx((5.0, 5.0), abs=0.1)

    def test_names_on_a_board_are_of_one_size(self):
        parts = (
            name("Ada", part_id="a"),
            name("Theodora", part_id="b"),
            frame("crew board", names=("a", "b")),
        )
        evaluation = evaluate(Recipe(parts=parts)).whole()
        assert evaluation.part("a").size == pytest.approx(evaluation.part("b").size, rel=1e-3)

    def test_two_names_go_around_a_ring(self):
        parts = (
            name("OTTER", "anton", "a"),
            name("BROOK", "anton", "b"),
            frame("word ring", names=("a", "b")),
        )
        evaluation = evaluate(Recipe(parts=parts)).whole()
        assert len(evaluation.pieces) == 1
        top, bottom = (np.mean(points_of(evaluation, part)[:, 1]) for part in ("a", "b"))
        assert top < 0 < bottom


class TestInitials:
    FACE = shipped_face(FaceChoice("anton"))

    def test_a_split_initial_is_the_letter_less_the_gap_with_two_bars(self):
        values = {"gap": 30.0, "bar": 4.0, "round": 0.0}
        evaluation = evaluate(
            Recipe(parts=(frame("split initial", 90.0, (), height_mm=100.0, values=values, text="H"),))
        ).whole()
        letter = initial("H", self.FACE, 100.0)
        bars = [shapely.box(-45, y, 45, y + 4) for y in (-19, 15)]
        expected = shapely.union_all(
            [shapely.difference(letter.region, shapely.box(-60, -15, 60, 15)), *bars]
        )
        assert shapely.symmetric_difference(material(evaluation), expected).area < 1e-3 * expected.area

    def test_it_is_as_high_as_asked(self):
        assert initial("Q", self.FACE, 73.0).box.height == pytest.approx(73.0)

    def test_it_is_the_first_letter_of_the_name_until_one_is_typed(self):
        own = evaluate(Recipe(parts=(frame("split initial", 90.0, (), text="T"),))).whole()
        follows = framed("split initial", "tern", width=90.0)
        typed = framed("split initial", "tern", width=90.0, text="W")
        widths = [e.part("frame").built.bare.body.region.bounds[0] for e in (follows, typed)]
        assert widths[0] == pytest.approx(own.box.x, abs=0.5)
        tops = [e.part("frame").built.bare.body.region.intersection(shapely.box(-99, -99, 99, -30)).area
                for e in (follows, typed)]  # fmt: skip
        assert tops[0] != pytest.approx(tops[1], rel=0.05)

    def test_an_accent_of_an_initial_hangs_on_it(self):
        assert len(shapely.get_parts(initial("Å", self.FACE, 80.0).region)) == 1

    def test_letters_the_face_lacks_are_told(self):
        with pytest.raises(Problem, match="has no"):
            evaluate(Recipe(parts=(frame("split initial", names=(), text="Ж"),))).whole()


class TestMonograms:
    def test_letters_fill_the_ring_and_hold_in_it(self):
        evaluation = framed("round monogram", "PKB", "anton", values={"rim": 4.0})
        reach = np.hypot(*points_of(evaluation).T)
        assert 36.0 < reach.max() < 40.0
        assert len({c.one.letter for c in contacts(evaluation)}) == 3

    def test_the_middle_letter_is_wider(self):
        evaluation = framed("round monogram", "HHH", "anton", values={"middle": 0.5})
        widths = [r.bounds[2] - r.bounds[0] for r in letters_of(evaluation)]
        assert widths[1] > 1.7 * widths[0]

    def test_or_taller_where_they_stand_side_by_side(self):
        evaluation = framed("tall monogram", "HHH", "anton", values={"middle": 2.0})
        heights = [r.bounds[3] - r.bounds[1] for r in letters_of(evaluation)]
        assert heights[1] == pytest.approx(2 * heights[0], rel=0.01)

    def test_too_many_letters_are_told(self):
        with pytest.raises(Problem, match="up to 5"):
            framed("round monogram", "ABCDEF")


class TestHoles:
    def test_a_counter_is_held_by_two_bridges(self):
        plate, letter = shape(rectangle(-20, -10, 40, 20)), shape(ring(0, 0, 6, 3))
        cut = subtract(plate, [letter])
        assert len(shapely.get_parts(cut.region)) == 2
        held = with_bridges(cut, 1.0)
        (piece,) = shapely.get_parts(held.region)
        # The ring is cut in two by an upright bridge above the counter and one below it.
        assert len(piece.interiors) == 2
        for side in (-4.5, 4.5):
            assert shapely.contains(piece, shapely.Point(0, side))

    def test_a_plate_without_islands_stays_as_it_is(self):
        plate = subtract(shape(rectangle(-20, -10, 40, 20)), [shape(disc(0, 0, 3))])
        assert with_bridges(plate, 1.0) is plate

    def test_bridges_are_as_wide_as_the_neck(self):
        evaluation = framed("stencil plate", "O", "anton")
        assert len(cores(material(evaluation), 0.9 * NECK)) == 1


class TestOwnFrames:
    """Artwork made a frame."""

    RING = ShapePart(id="art", form="ring", width_mm=80.0, height_mm=80.0, values={"width": 0.2})

    def own(self, ground, *bands, text="Piers", **more):
        parts = (ground, name(text), frame("own", names=("name",), ground=ground.id, bands=bands, **more))
        return evaluate(Recipe(parts=parts))

    def test_a_name_runs_into_the_hole_it_lies_in(self):
        evaluation = self.own(self.RING, OwnBand(0.0, 0.0, 40.0, 20.0)).whole()
        assert len(evaluation.pieces) == 1
        assert {c.one.display_name for c in contacts(evaluation)} >= {"P", "s"}

    def test_or_between_bars_of_a_drawing(self):
        bars = "M-40 -25L40 -25L40 -20L-40 -20ZM-40 10L40 10L40 15L-40 15Z"
        art = Artwork(id="art", items=(ArtItem(d=bars),))
        evaluation = self.own(art, OwnBand(0.0, -5.0, 70.0, 25.0, "upright"), text="Mo").whole()
        assert len(evaluation.pieces) == 1
        top, bottom = points_of(evaluation)[:, 1].min(), points_of(evaluation)[:, 1].max()
        assert top < -20 < 10 < bottom + 5

    def test_only_the_edge_pointed_at_is_welded_to(self):
        # A ring with a free disc in it: the inner edge is pointed at, the disc stays as it is.
        drawn = [ring(0, 0, 40, 34), disc(0, 25, 3)]
        art = Artwork(id="art", items=tuple(ArtItem(d=path_data(outline)) for outline in drawn))
        recipe = Recipe(parts=(art,))
        outline = evaluate(recipe).whole().films[0].outline
        areas = measure.contour_areas(outline)
        inner = int(np.argmin(areas))
        evaluation = self.own(art, OwnBand(0.0, -5.0, 40.0, 20.0, "across", (inner,))).whole()
        assert len(evaluation.pieces) == 2
        dot = min(evaluation.pieces, key=lambda piece: piece.area)
        assert dot.area == pytest.approx(math.pi * 9, rel=1e-3)

    def test_open_lines_of_a_drawing_are_kept_and_never_cut(self):
        art = Artwork(
            id="art",
            items=(
                ArtItem(d="M-40 -30L40 -30L40 30L-40 30ZM-35 -25L-35 25L35 25L35 -25Z"),
                ArtItem(d="M-30 20L30 20", line=True),
            ),
        )
        evaluation = self.own(art, OwnBand(0.0, -5.0, 40.0, 20.0)).whole()
        (line,) = evaluation.marks
        assert line.mark.outline.points.tolist() == [[-30.0, 20.0], [30.0, 20.0]]
        assert len(evaluation.pieces) == 1

    def test_a_drawing_keeps_its_colours(self):
        """A leaf of another film that reaches 2 mm under the frame's edge: the frame is as wide as it is
        without the leaf, and the leaf is whole (areas by arithmetic)."""
        leaf = ArtItem(d="M50 0L60 0L60 10L50 10Z", film="#2F6B4F")
        items = (ArtItem(d="M-40 -30L52 -30L52 30L-40 30ZM-35 -25L-35 25L35 25L35 -25Z"), leaf)
        for colours, films in (("own", 2), ("one", 1)):
            art = Artwork(id="art", items=items, colours=colours)
            evaluation = self.own(art, OwnBand(0.0, -5.0, 40.0, 20.0)).whole()
            assert [one for one in evaluation.unmet if one.part == "frame"] == []
            by_film = {film.colour: film.shape for film in evaluation.films}
            assert len(by_film) == films
            if colours == "own":
                assert by_film["#2F6B4F"].region.area == pytest.approx(100)
                (frame,) = (shape for film, shape in by_film.items() if film != "#2F6B4F")
                assert frame.region.bounds[2] == pytest.approx(52)

    def test_a_name_of_another_film_is_not_told_as_if_it_held(self):
        """A ring and a name that runs into it: of one film they meet, of two nothing is said to hold."""
        for film, met in (("#2B5674", True), ("#8C2F39", False)):
            evaluation = framed("name ring", "Heron", film=film)
            assert bool(contacts(evaluation)) is met

    def test_a_frame_that_hung_together_by_another_colour_says_so(self):
        """Two posts that only a coloured bar joins, and a name that meets one post and the bar."""
        posts = ArtItem(d="M-40 -30L-30 -30L-30 30L-40 30ZM30 -30L40 -30L40 -20L30 -20Z")
        bar = ArtItem(d="M-40 -30L40 -30L40 -22L-40 -22ZM28 -30L28 30L40 30L40 -30Z", film="#2F6B4F")
        art = Artwork(id="art", items=(posts, bar), colours="own")
        evaluation = self.own(art, OwnBand(0.0, 5.0, 70.0, 20.0))
        told = [one.problem for one in evaluation.unmet if one.part == "frame"]
        assert [problem.kind for problem in told] == ["colours-apart"]

    def test_an_edge_that_is_gone_is_told(self):
        evaluation = self.own(self.RING, OwnBand(0.0, 0.0, 40.0, 20.0, "across", (9,)))
        assert evaluation.failures[0].problem.kind == "no-edge"

    def test_a_place_on_material_is_told(self):
        plate = ShapePart(id="art", form="disc", width_mm=80.0, height_mm=80.0)
        told = self.own(plate, OwnBand(0.0, 0.0, 40.0, 20.0)).failures[0].problem
        assert "nothing is open there" in told.what

    def test_a_frame_without_a_place_is_told(self):
        assert self.own(self.RING).failures[0].problem.kind == "no-band"

    def test_what_is_open_is_seen_along_lines_of_sight(self):
        walls = shapely.union_all([shapely.box(-30, -50, -20, 50), shapely.box(25, -50, 30, 50)])
        found = opening_around(Box(-10, -10, 20, 20), walls, across=True)
        assert found.bounds[0] == pytest.approx(-20)
        assert found.bounds[2] == pytest.approx(25)


class TestWhatCannotBe:
    def problem(self, *parts):
        evaluation = evaluate(Recipe(parts=parts))
        (failure,) = evaluation.failures
        return failure

    def test_a_name_of_forty_letters_in_a_small_ring_is_told_with_what_would_do(self):
        told = self.problem(name("a" * 40), frame(width=30.0)).problem
        assert told.kind == "too-small"
        assert "mm wide" in told.todo

    def test_a_rim_that_leaves_nothing_open_is_told(self):
        told = self.problem(name(), frame(values={"rim": 39.0})).problem
        assert "it can be" in told.what

    def test_measures_that_contradict_each_other_are_told(self):
        names = [name(part_id=f"n{n}") for n in range(10)]
        board = frame("crew board", names=tuple(n.id for n in names), values={"rail": 8.0})
        told = self.problem(*names, board).problem
        assert "no room for 10 names" in told.what

    def test_an_initial_without_room_for_a_band_is_told(self):
        told = self.problem(
            name(), frame("split initial", values={"gap": 55.0, "bar": 15.0}, height_mm=90.0)
        ).problem
        assert "no room for a band" in told.what

    def test_a_name_too_long_for_a_gap_that_was_set_is_told(self):
        told = self.problem(name("Maximiliane"), frame("between lines", values={"gap": 30.0})).problem
        assert told.kind == "too-long"
        assert "follow the name" in told.todo

    def test_words_too_long_for_a_ring_are_told(self):
        words = name("Otterbrook Boatyard and Sons")
        told = self.problem(words, frame("word ring", values={"space": 14.0})).problem
        assert told.kind == "too-long"

    def test_words_around_a_ring_are_as_high_as_fits(self):
        evaluation = framed("word ring", "Otterbrook Boatyard", "anton")
        assert len(evaluation.pieces) == 1

    def test_more_names_than_places_are_told(self):
        parts = (name(part_id="a"), name(part_id="b"), frame(names=("a", "b")))
        assert self.problem(*parts).problem.kind == "too-many-names"

    def test_a_frame_that_is_not_known_is_told(self):
        assert self.problem(name(), frame("no such frame", height_mm=40.0)).problem.kind == "no-frame"

    def test_what_stands_in_the_way_of_a_frame_leaves_other_parts_alone(self):
        other = ShapePart(id="other")
        evaluation = evaluate(Recipe(parts=(other, name("a" * 40), frame(width=30.0))))
        assert evaluation.part("other") is not None
        assert set(evaluation.failures[0].parts) == {"frame", "name"}

    def test_nothing_but_lettering_is_fitted(self):
        with pytest.raises(Problem, match="lettering, and nothing else"):
            recipe_from(Recipe(parts=(ShapePart(id="name"), frame(names=()))).model_dump() | {
                "parts": [ShapePart(id="name").model_dump(), frame().model_dump()]})  # fmt: skip

    def test_a_frame_of_artwork_needs_its_artwork(self):
        with pytest.raises(Problem, match="made of a drawing, and has none"):
            evaluate(Recipe(parts=(name(), frame("own", height_mm=40.0)))).whole()


class TestInADesign:
    def test_a_hidden_name_leaves_its_frame(self):
        evaluation = evaluate(Recipe(parts=(name(hidden=True), frame()))).whole()
        assert not fitted(evaluation)

    def test_a_name_of_another_film_lies_over_its_frame(self):
        evaluation = evaluate(Recipe(parts=(name(film="#AA3322"), frame()))).whole()
        assert [film.colour for film in evaluation.films] == ["#2B5674", "#AA3322"]
        assert [len(film.pieces) for film in evaluation.films] == [1, 1]

    def test_a_frame_moves_and_turns_with_its_name(self):
        here = framed()
        there = framed(place=frame().place.__class__(30.0, 10.0, 90.0))
        assert there.pieces[0].area == pytest.approx(here.pieces[0].area, rel=1e-6)
        assert there.box.width == pytest.approx(here.box.height, rel=1e-6)

    def test_frames_come_back_from_what_is_stored(self):
        recipe = Recipe(parts=(name(), frame(values={"rim": 3.0}, fit=Fit(air_mm=2.0, centre="seen"))))
        assert read_recipe(recipe.stored()) == recipe

    def test_a_recipe_of_version_5_is_read(self):
        old = {"format": "fulgen-recipe", "version": 5, "parts": [{"text": "Tern"}]}
        assert recipe_from(old).version == VERSION

    def test_letters_made_wider_are_so_and_keep_their_joints(self):
        plain, wide = (
            evaluate(Recipe(parts=(name("HIH", "anton", stretch=by, join=JoinOptions()),))).whole()
            for by in (1.0, 1.4)
        )
        assert wide.box.width == pytest.approx(1.4 * plain.box.width, rel=1e-6)
        assert wide.box.height == pytest.approx(plain.box.height)


class TestContacts:
    def test_a_hairline_is_made_to_hold_by_what_is_added(self):
        letter = shapely.union(shapely.box(0, 0, 0.02, 0.5), shapely.box(0, 0.3, 0.3, 0.5))
        edge = shapely.box(-1, -0.1, 1, 0.004)
        (contact,) = edge_contacts([Body(letter)], [Edge(edge, 0.05)], 0.05)
        assert contact.need <= 0.05

    def test_a_letter_that_almost_meets_an_edge_is_made_to_hold(self):
        edge = Edge(shapely.box(0, 1.005, 1, 2), 0.05)
        (contact,) = edge_contacts([Body(shapely.box(0.3, 0, 0.7, 1))], [edge], 0.05)
        assert not contact.holds
        more = contact.strengthened()
        assert more is not None
        whole = shapely.union_all([contact.letter.region, edge.region, more[1]])
        assert len(cores(whole, 0.049)) == 1

    def test_a_letter_further_away_is_no_contact(self):
        edge = Edge(shapely.box(0, 1.1, 1, 2), 0.05)
        assert not list(edge_contacts([Body(shapely.box(0, 0, 1, 1))], [edge], 0.05))


def test_a_measure_out_of_its_bounds_is_told_in_words():
    asked = FormRequest(80.0, 80.0, {"rim": 70.0}, [], measures=FRAMES["name ring"].measures)
    with pytest.raises(Problem, match=r"it can be 0\.6 mm to 16\.0 mm"):
        asked["rim"]


def test_outlines_of_bands_are_closed():
    band = Band(Box(-5, -5, 10, 10), "across", shapely.box(-9, -9, 9, 9), sides=shapely.Point(0, 0).buffer(4))
    assert isinstance(band.opening, Outline)
    assert len(band.opening.contour_starts) == 1
