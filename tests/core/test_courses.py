"""Lettering along circles, arcs, waves and other parts' lines, downwards, and bent as a whole."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely

from fulgen.joining.join_options import JoinOptions
from fulgen.joining.seam import State
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.course import Circle, Course, Down, Polyline, Warp, path_of
from fulgen.lettering.letters import LetterChange, MarkWay
from fulgen.lettering.setting import Size
from fulgen.parts.combination import Combination
from fulgen.parts.lettering import Lettering
from fulgen.parts.line import LinePart, PathPoint
from fulgen.parts.shape import ShapePart
from fulgen.problem import Problem
from fulgen.recipe.contacts import contacts
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_recipe

AUTO = JoinOptions(how="auto", marks=MarkWay.LOWER)


def word(text="Otterbrook", face="pacifico", capitals=14.0, course=None, join=AUTO, **more):
    return Lettering(
        id="word",
        text=text,
        face=FaceChoice(face),
        size=Size("capitals", capitals),
        align=more.pop("align", "centre"),
        join=join,
        course=course,
        **more,
    )


def whole(*parts):
    return evaluate(Recipe(parts=parts)).whole()


def made(evaluation):
    return evaluation.part("word").built


def regions(evaluation):
    part = evaluation.part("word")
    return [part.place.region(region) for region in part.built.regions]


def radii(evaluation):
    return np.hypot(*np.concatenate([shapely.get_coordinates(r) for r in regions(evaluation)]).T)


class TestPaths:
    def test_once_around_a_circle_is_two_pi_r(self):
        path = Circle(30.0, 1, 0.0)
        start, end = path.at(np.array([0.0, 2 * math.pi * 30.0]), np.zeros(2))[0]
        assert start == pytest.approx(end)
        assert start == pytest.approx(-30j)

    def test_an_arc_is_as_long_as_its_angle_says(self):
        # Sagitta s and chord c: angle 4 atan(2 s / c), radius c / (2 sin(angle / 2)) (textbook).
        path = path_of(Course(kind="arc", length_mm=100.0, bulge=0.25), 0.0, None)
        angle = 4 * math.atan(0.5)
        assert path.length == pytest.approx(angle * 50 / math.sin(angle / 2), rel=1e-5)

    def test_a_line_raised_by_a_distance_is_that_far_away(self):
        course = Course(kind="wave", swing_mm=6.0, distance_mm=4.0)
        low, high = path_of(Course(kind="wave", swing_mm=6.0), 0.0, None), path_of(course, 0.0, None)
        lows = shapely.linestrings(np.stack([low.points.real, low.points.imag], axis=1))
        highs = shapely.points(high.points.real, high.points.imag)
        assert shapely.distance(lows, highs) == pytest.approx(4.0, abs=0.02)

    def test_beyond_its_ends_a_line_goes_on_straight(self):
        path = Polyline(np.array([0 + 0j, 10 + 0j]), False)
        assert path.at(np.array([-5.0, 15.0]), np.zeros(2))[0].tolist() == pytest.approx([-5, 15])

    def test_a_row_below_a_closed_line_begins_at_the_same_share_of_its_length(self):
        turns = np.exp(2j * np.pi * np.arange(241) / 240)
        ring = Polyline(30 * turns, True, start=0.25 * 2 * np.pi * 30)
        lower = ring.lowered(5.0)
        assert lower.start / lower.length == pytest.approx(0.25, rel=1e-3)
        assert lower.length != pytest.approx(ring.length, rel=0.1)

    def test_a_closed_line_has_no_end(self):
        square = Polyline(np.array([0, 10, 10 + 10j, 10j, 0]), True)
        assert square.at(np.array([45.0]), np.zeros(1))[0][0] == pytest.approx(5 + 0j)

    def test_downwards_letters_stand_upright_under_each_other(self):
        pose = Down().pose(12.0, 0.0, 3.0)
        assert (pose.x, pose.y, pose.turn) == (-3.0, 12.0, 0.0)


class TestAroundACircle:
    def test_letters_are_as_far_apart_along_it_as_on_a_straight_line(self):
        join = JoinOptions()
        flat = whole(word(face="anton", join=join))
        around = whole(word(face="anton", join=join, course=Course(diameter_mm=120.0)))
        path = made(around).layout.paths[0]
        for one, other in pairwise(range(len(made(flat).layout.letters))):
            straight, bent = ([e.layout.letters[n] for n in (one, other)] for e in (made(flat), made(around)))
            apart = [p.place.point(p.letter.middle, 0.0) for p in straight]
            angles = [math.atan2(*p.place.point(p.letter.middle, 0.0)) for p in bent]
            turned = (angles[0] - angles[1] + math.pi) % (2 * math.pi) - math.pi
            assert turned * path.measured == pytest.approx(apart[1][0] - apart[0][0], abs=1e-6)

    @pytest.mark.parametrize(
        ("side", "reading", "touches"),
        [
            ("outside", "outward", min),
            ("outside", "inward", min),
            ("inside", "outward", max),
            ("inside", "inward", max),
        ],
    )
    def test_capitals_stand_on_the_side_that_was_asked_for(self, side, reading, touches):
        course = Course(
            diameter_mm=100.0, side=side, reading=reading, place=180.0 if reading == "inward" else 0.0
        )
        found = radii(whole(word("HIN", face="anton", join=JoinOptions(), course=course)))
        # The straight foot or head of a letter touches the circle in its middle or by its ends.
        assert touches(found) == pytest.approx(50.0, abs=0.6)
        assert (touches(found) >= 49.9) if side == "outside" else (touches(found) <= 50.6)

    @pytest.mark.parametrize("reading", ["outward", "inward"])
    def test_heads_point_as_asked(self, reading):
        course = Course(diameter_mm=100.0, reading=reading, place=180.0 if reading == "inward" else 0.0)
        letter = made(whole(word("T", face="anton", join=JoinOptions(), course=course))).layout.letters[0]
        head, foot = (
            letter.place.point(letter.letter.middle, -0.7),
            letter.place.point(letter.letter.middle, 0.0),
        )
        assert (math.hypot(*head) > math.hypot(*foot)) == (reading == "outward")
        # At the top it reads outward, at the bottom inward: either way it stands upright.
        assert head[1] < foot[1]

    @pytest.mark.parametrize("face", ["pacifico", "courgette", "kaushan-script", "lobster", "anton"])
    @pytest.mark.parametrize("diameter", [45.0, 90.0])
    def test_joined_letters_are_one_piece_and_hold_as_they_lie(self, face, diameter):
        evaluation = whole(word(face=face, course=Course(diameter_mm=diameter)))
        assert len(evaluation.pieces) == 1
        assert {seam.state for seam in evaluation.seams} == {State.JOINED}

    def test_seams_lie_where_the_letters_meet_on_the_work(self):
        evaluation = whole(word(course=Course(diameter_mm=50.0)))
        material = shapely.union_all([film.shape.region for film in evaluation.films])
        for seam in evaluation.seams:
            middle = shapely.Point(np.mean(seam.ends, axis=0))
            assert shapely.dwithin(material, middle, 0.05)
            ids = made(evaluation).texts
            near = [r for r, p in zip(regions(evaluation), made(evaluation).layout.letters, strict=True)
                    if p.letter.at in (seam.seam.left, seam.seam.right)]  # fmt: skip
            assert max(shapely.distance(r, middle) for r in near) < 4.0
            assert ids

    def test_lettering_is_spread_over_the_arc_that_was_asked_for(self):
        course = Course(diameter_mm=100.0, spread=270.0)
        letters = made(whole(word("BOATYARD", face="anton", join=JoinOptions(), course=course)))
        path, spans = letters.layout.paths[0], []
        for p in (letters.layout.letters[0], letters.layout.letters[-1]):
            half = p.form.box.width * letters.size / 2
            spans.append((math.atan2(*p.place.point(p.letter.middle, 0.0)), half / path.measured))
        between = (spans[1][0] - spans[0][0]) % (2 * math.pi)
        told = 2 * math.pi - between if between < math.pi / 2 else between
        whole_arc = (2 * math.pi - told if told < math.pi else told) + spans[0][1] + spans[1][1]
        assert math.degrees(whole_arc) == pytest.approx(270.0, abs=1.0)

    def test_bent_letters_follow_the_circle_themselves(self):
        # The feet of a bent capital lie on the circle along their whole length.
        flat = radii(whole(word("HHH", face="anton", join=JoinOptions(), course=Course(diameter_mm=60.0))))
        bent = radii(
            whole(
                word("HHH", face="anton", join=JoinOptions(), course=Course(diameter_mm=60.0, letters="bent"))
            )
        )
        assert bent.min() == pytest.approx(30.0, abs=0.02)
        assert np.sum(np.abs(bent - 30.0) < 0.02) > np.sum(np.abs(flat - 30.0) < 0.02)

    def test_bent_letters_stay_joined(self):
        evaluation = whole(word(course=Course(diameter_mm=60.0, letters="bent")))
        assert len(evaluation.pieces) == 1
        assert {seam.state for seam in evaluation.seams} == {State.JOINED}

    def test_each_row_of_words_is_set_along_its_own_line(self):
        layout = made(whole(word("Otter\nbrook", capitals=8.0, course=Course(diameter_mm=120.0)))).layout
        outer, inner = layout.paths
        assert outer.radius - inner.radius == pytest.approx(layout.baselines[1])

    def test_a_letter_moved_by_hand_goes_along_the_line(self):
        still = whole(word("Tern", join=JoinOptions(), course=Course()))
        moved = whole(word("Tern", join=JoinOptions(), course=Course(), letters={3: LetterChange(dx=0.2)}))
        before, after = (made(e).layout.letters[2].place for e in (still, moved))
        path = made(still).layout.paths[0]
        assert math.radians(after.turn - before.turn) * path.measured == pytest.approx(
            0.2 * made(still).size, rel=1e-6
        )

    @pytest.mark.parametrize("course", [
        Course(diameter_mm=12.0, side="inside"), Course(diameter_mm=20.0, side="inside", reading="inward"),
    ])  # fmt: skip
    def test_a_circle_smaller_than_a_letter_is_told(self, course):
        with pytest.raises(Problem, match="too small for capitals") as told:
            whole(word(course=course))
        assert "larger" in told.value.todo

    def test_bent_letters_that_reach_the_middle_are_told(self):
        with pytest.raises(Problem, match="reach its middle"):
            whole(word("Typ\nTyp", course=Course(diameter_mm=30.0, letters="bent")))


class TestAlongOtherLines:
    BAND = LinePart(
        id="line", course="arc", bulge=0.2, points=(PathPoint(-60.0, 0.0), PathPoint(60.0, 0.0)), width_mm=4.0
    )

    @pytest.mark.parametrize("kind", ["arc", "wave"])
    @pytest.mark.parametrize("letters", ["turned", "bent"])
    def test_words_along_an_arc_or_a_wave_are_one_piece(self, kind, letters):
        evaluation = whole(word("Willowmere", course=Course(kind=kind, letters=letters)))
        assert len(evaluation.pieces) == 1

    def test_every_foot_runs_into_a_band_it_stands_on(self):
        course = Course(kind="line", of="line", stands=True)
        evaluation = whole(word("HARBOUR", face="anton", capitals=10.0, course=course), self.BAND)
        assert len(evaluation.pieces) == 1
        met = {c.one.letter for c in contacts(evaluation) if c.other.part == "line"}
        assert met == set(range(1, 8))
        assert all(c.state is State.JOINED for c in contacts(evaluation))

    def test_words_go_around_the_edge_of_a_shape(self):
        oval = ShapePart(id="plate", form="oval", width_mm=90.0, height_mm=60.0)
        evaluation = whole(
            word("AROUND", face="anton", capitals=8.0, course=Course(kind="line", of="plate")), oval
        )
        plate = evaluation.part("plate").shapes[0].region
        # They stand on it, at its highest point.
        assert shapely.distance(plate, shapely.union_all(regions(evaluation))) < 0.3
        assert all(shapely.intersection(plate, r).area < 0.3 for r in regions(evaluation))

    def test_moving_the_line_moves_the_words(self):
        course = Course(kind="line", of="line")
        here = whole(word("Tern", capitals=8.0, course=course), self.BAND)
        there = whole(word("Tern", capitals=8.0, course=course), self.BAND.model_copy(
            update={"place": self.BAND.place.__class__(20.0, 5.0)}))  # fmt: skip
        moved = [b - a for a, b in zip(here.part("word").box, there.part("word").box, strict=True)]
        assert moved == pytest.approx([20.0, 5.0, 20.0, 5.0], abs=1e-6)

    def test_a_line_that_crosses_itself_is_told_and_stays(self):
        points = tuple(PathPoint(x, y) for x, y in ((-40, 0), (40, 0), (0, 30), (0, -30)))
        loop = LinePart(id="line", course="free", points=points)
        evaluation = evaluate(Recipe(parts=(loop, word("Tern", course=Course(kind="line", of="line")))))
        assert [f.problem.kind for f in evaluation.failures] == ["crossed-line"]
        assert evaluation.part("line") is not None

    def test_a_line_that_is_gone_is_told(self):
        evaluation = evaluate(
            Recipe(parts=(self.BAND, word(course=Course(kind="line", of="line", contour=7))))
        )
        assert evaluation.failures[0].problem.kind == "no-line"

    def test_a_line_in_another_combination_is_told(self):
        parts = (
            self.BAND,
            Combination(id="both", members=("line",)),
            word(course=Course(kind="line", of="line")),
        )
        evaluation = evaluate(Recipe(parts=parts))
        assert "another combination" in evaluation.failures[0].problem.what


class TestDownwards:
    def test_letters_stand_under_each_other_in_the_middle(self):
        evaluation = whole(word("HULL", face="anton", join=JoinOptions(), course=Course(kind="down")))
        middles = [np.mean(np.array(r.bounds)[[0, 2]]) for r in regions(evaluation)]
        assert np.ptp(middles) < 1e-6
        tops = [r.bounds[1] for r in regions(evaluation)]
        assert tops == sorted(tops)

    def test_the_gap_between_them_is_as_asked(self):
        evaluation = whole(
            word("HH", face="anton", join=JoinOptions(), course=Course(kind="down", gap_share=0.2))
        )
        upper, lower = regions(evaluation)
        assert lower.bounds[1] - upper.bounds[3] == pytest.approx(0.2 * made(evaluation).size)

    @pytest.mark.parametrize("face", ["pacifico", "anton"])
    def test_joined_downwards_they_are_one_piece(self, face):
        evaluation = whole(word("Piers", face=face, course=Course(kind="down")))
        assert len(evaluation.pieces) == 1

    def test_on_a_spine_they_hang_by_it(self):
        evaluation = whole(word("HULL", face="anton", course=Course(kind="down", spine_mm=3.0)))
        assert len(evaluation.pieces) == 1

    def test_the_height_asked_for_is_that_of_the_column(self):
        part = word("HULL", face="anton", join=JoinOptions(), course=Course(kind="down")).model_copy(
            update={"size": Size("height", 90.0)}
        )
        assert whole(part).box.height == pytest.approx(90.0, abs=1e-3)


class TestWarps:
    @pytest.mark.parametrize("kind", ["arch", "wave", "bulge"])
    @pytest.mark.parametrize("amount", [0.3, -0.3])
    def test_a_bent_word_is_in_as_many_pieces_as_before(self, kind, amount):
        evaluation = whole(word("Willowmere", warp=Warp(kind, amount)))
        assert len(evaluation.pieces) == 1
        assert {seam.state for seam in evaluation.seams} == {State.JOINED}

    def test_the_width_asked_for_is_that_of_the_bent_word(self):
        part = word("Willowmere", warp=Warp("arch", 0.3)).model_copy(update={"size": Size("width", 120.0)})
        assert whole(part).box.width == pytest.approx(120.0, abs=1e-3)

    def test_no_bend_changes_nothing(self):
        plain, bent = whole(word("Tern")), whole(word("Tern", warp=Warp("arch", 0.0)))
        assert bent.box == plain.box


def test_courses_and_warps_come_back_from_what_is_stored():
    part = word(course=Course(kind="arc", bulge=-0.4, spread=0.8), warp=Warp("wave", 0.2, 2.0))
    recipe = Recipe(parts=(part,))
    assert read_recipe(recipe.stored()) == recipe
