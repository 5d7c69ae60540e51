"""The simulated cutter: its knife against closed forms, what comes off, and HP-GL."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.cutter.blade import Knife, closed, cut, trailed
from fulgen.cutter.cut_simulation import compare_with_promise, simulate_cut, torn_pieces
from fulgen.formats.hpgl import read_hpgl, write_hpgl
from fulgen.geometry.flatten import flatten
from fulgen.joining.join_options import JoinOptions
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import MarkWay
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe

STEP_MM = 0.025
"""A plotter unit: 1/40 mm ("HP-GL/2 and HP RTL Reference Guide", Hewlett-Packard)."""


def square(x, y, side):
    return np.array([(x, y), (x + side, y), (x + side, y + side), (x, y + side)], dtype=float)


def around(x, y, r, n=400):
    a = np.linspace(0, math.tau, n, endpoint=False)
    return np.column_stack((x + r * np.cos(a), y + r * np.sin(a)))


def pens(paths):
    """Strokes of the first pen."""
    return [(1, path) for path in paths]


def led(contours, knife):
    """The paths of the carriage for contours one after the other."""
    paths, heading = [], 0.0
    for contour in contours:
        path, heading = knife.leading(contour, heading)
        paths.append(path)
    return paths


def drawn(word, face, mm=60.0, how="auto"):
    """The contours of a word, 10 mm from the corner of a sheet, the pieces it promises, and how high the
    sheet is."""
    join = JoinOptions(how=how, marks=MarkWay.LOWER if how == "auto" else MarkWay.KEEP, tie=how == "auto")
    lettering = Lettering(id="a", text=word, face=FaceChoice(face), join=join)
    made = evaluate(Recipe(parts=(lettering,))).whole()
    x, y, contours, promised = made.box.x - 10, made.box.y - 10, [], []
    for film in made.films:
        points, contour_of = flatten(film.outline.placed(-x, -y), 0.005)
        contours += [points[contour_of == n] for n in range(contour_of.max() + 1)]
        promised += list(shapely.get_parts(shapely.transform(film.shape.region, lambda p: p - (x, y))))
    return contours, promised, made.box.height + 20


class TestKnife:
    def test_along_a_line_the_tip_draws_a_tractrix(self):
        """x = s - a tanh(s/a), y = a sech(s/a): Weisstein, "Tractrix", MathWorld, eqs. 1 and 2."""
        offset = 0.25
        tips, heading = trailed(np.array([(0.0, 0.0), (2.0, 0.0)]), math.pi / 2, offset)
        s = offset * np.arccosh(np.maximum(1.0, offset / np.abs(tips[:, 1])))
        assert tips[0] == pytest.approx((0, -offset))
        assert len(tips) > 20
        assert tips[:, 0] == pytest.approx(s - offset * np.tanh(s / offset), abs=1e-9)
        assert tips[-1, 1] == pytest.approx(-offset / math.cosh(2.0 / offset))
        assert heading == pytest.approx(0, abs=1e-3)

    def test_around_a_circle_the_tip_settles_on_a_smaller_one(self):
        """The rear wheel of a bicycle whose front wheel goes around R runs around √(R² - a²) (Pythagoras)."""
        big, offset = 3.0, 0.5
        tips, _ = trailed(np.tile(around(0, 0, big, 2000), (4, 1)), math.pi / 2, offset)
        assert np.hypot(*tips[-500:].T) == pytest.approx(math.sqrt(big**2 - offset**2), abs=1e-3)

    def test_the_way_is_the_same_in_one_step_and_in_many(self):
        corner = np.array([(0.0, 0.0), (3.0, 0.0), (3.0, 2.0)])
        fine = np.concatenate([np.linspace(a, b, 50) for a, b in pairwise(corner)])
        for heading in (0.3, 2.0, -1.4):
            once, many = trailed(corner, heading, 0.4), trailed(fine, heading, 0.4)
            assert once[0][-1] == pytest.approx(many[0][-1])
            assert once[1] == pytest.approx(many[1])

    def test_without_an_offset_the_tip_is_the_pivot(self):
        path = around(0, 0, 5)
        assert trailed(path, 1.0, 0.0)[0] is path
        assert Knife().leading(path, 1.0)[0] == pytest.approx(closed(path))

    def test_a_knife_that_does_not_move_stays(self):
        tips, heading = trailed(np.array([(1.0, 1.0), (1.0, 1.0)]), 0.5, 0.25)
        assert heading == 0.5
        assert tips == pytest.approx(np.array([(1 - 0.25 * math.cos(0.5), 1 - 0.25 * math.sin(0.5))]))

    @given(
        st.lists(st.tuples(st.floats(0, 30), st.floats(0, 30)), min_size=3, max_size=8, unique=True),
        st.floats(0.05, 1.0), st.floats(-3, 3),
    )  # fmt: skip
    @settings(max_examples=60)
    def test_led_around_corners_the_tip_follows_the_contour(self, corners, offset, heading):
        contour = np.array(corners)
        path, _ = Knife(offset, overcut=0.3).leading(contour, heading)
        tips, _ = trailed(path, heading, offset)
        wanted = shapely.linestrings(closed(contour))
        assert shapely.hausdorff_distance(shapely.linestrings(tips), wanted) < 0.01 * offset + 1e-6

    def test_the_overcut_goes_on_past_the_start(self):
        path = closed(square(0, 0, 10), 12.0)
        assert path[-1] == pytest.approx((10, 2))
        assert shapely.length(shapely.linestrings(path)) == pytest.approx(52)

    def test_a_lifted_knife_keeps_its_heading(self):
        paths = [np.array([(0.0, 0.0), (5.0, 0.0)]), np.array([(0.0, 5.0), (0.0, 9.0)])]
        tips = cut(paths, 0.25)
        assert tips[1][0] == pytest.approx((-0.25, 5.0), abs=1e-3)


class TestComesOff:
    def test_a_square_comes_off(self):
        came = simulate_cut([closed(square(10, 10, 20))])
        assert (len(came.pieces), len(came.holes), came.open_ends) == (1, 0, ())
        assert came.pieces[0].area == pytest.approx(400, rel=1e-3)

    def test_a_ring_has_a_hole_and_its_island_is_a_piece(self):
        came = simulate_cut([closed(around(30, 30, r)) for r in (5, 10, 20)])
        assert (len(came.pieces), len(came.holes)) == (2, 1)
        areas = sorted(piece.area for piece in came.pieces)
        assert areas == pytest.approx([math.pi * 25, math.pi * (400 - 100)], rel=2e-3)

    def test_a_contour_that_does_not_close_gives_nothing_and_is_told(self):
        came = simulate_cut([closed(square(10, 10, 20))[:-1]])
        assert came.pieces == ()
        assert sorted(came.open_ends) == [(10, 10), (10, 30)]

    def test_a_slit_that_meets_a_cut_is_no_open_end_there(self):
        came = simulate_cut([closed(square(0, 0, 20)), np.array([(10.0, 0.0), (10.0, 5.0)])])
        assert came.open_ends == ((10, 5),)
        assert compare_with_promise([shapely.box(0, 0, 20, 20)], came).nicks == ((10, 5),)

    def test_a_slit_through_a_piece_parts_it(self):
        came = simulate_cut([closed(square(0, 0, 20)), np.array([(8.0, -1.0), (8.0, 21.0)])])
        assert len(came.pieces) == 2
        told = compare_with_promise([shapely.box(0, 0, 20, 20)], came)
        assert (len(told.missing), len(told.others), told.is_kept) == (1, 2, False)

    def test_letters_that_are_not_welded_fall_apart(self):
        one, other = square(0, 0, 20), square(15, 5, 20)
        welded = shapely.union(shapely.Polygon(one), shapely.Polygon(other))
        assert not compare_with_promise([welded], simulate_cut([closed(one), closed(other)])).is_kept
        outline = shapely.get_coordinates(welded.exterior)
        assert compare_with_promise([welded], simulate_cut([outline])).is_kept

    def test_pieces_are_found_where_the_carriage_was_led(self):
        paths = [closed(square(50, 70, 20))]
        assert not compare_with_promise([shapely.box(0, 0, 20, 20)], simulate_cut(paths)).is_kept
        assert compare_with_promise([shapely.box(0, 0, 20, 20)], simulate_cut(paths), paths).is_kept

    def test_a_kerf_takes_its_half_from_what_it_cuts_free(self):
        came = simulate_cut([closed(square(0, 0, 20))], kerf=0.2)
        assert [piece.area for piece in came.pieces] == pytest.approx([19.8**2])

    def test_nothing_cut_is_nothing_off(self):
        assert simulate_cut([]).pieces == ()
        assert simulate_cut([np.array([(1.0, 1.0)])]).pieces == ()


class TestPromised:
    WORDS = (
        ("Willowmere", "pacifico"), ("Bee", "anton"), ("Zoë", "lobster"), ("Piers", "courgette"),
        ("Haffner", "kaushan-script"), ("Öland", "nunito"),
    )  # fmt: skip

    @pytest.mark.parametrize(("word", "face"), WORDS)
    @pytest.mark.parametrize("offset", [0.0, 0.25, 0.5])
    def test_what_is_promised_comes_off_the_file(self, word, face, offset):
        contours, promised, height = drawn(word, face)
        text = write_hpgl(pens(led(contours, Knife(offset, overcut=2 * offset))), height)
        tips = cut(read_hpgl(text.encode(), "word.plt", height), offset)
        told = compare_with_promise(promised, simulate_cut(tips))
        assert told.is_kept
        assert (told.promised, told.came_off) == (1, 1)

    def test_a_knife_that_is_not_led_for_its_offset_does_not_close(self):
        contours, promised, _ = drawn("Zoë", "lobster")
        assert not compare_with_promise(
            promised, simulate_cut(cut([closed(c) for c in contours], 0.25))
        ).is_kept

    def test_a_script_that_is_not_welded_is_found_out(self):
        contours, promised, _ = drawn("Piers", "pacifico")
        letters, _, _ = drawn("Piers", "pacifico", how="set")
        assert compare_with_promise(promised, simulate_cut([closed(c) for c in contours])).is_kept
        slit = [closed(c) for c in contours] + [closed(letters[0] + (3.0, 0.0))]
        assert not compare_with_promise(promised, simulate_cut(slit)).is_kept


class TestHpgl:
    @given(
        st.lists(
            st.lists(st.tuples(st.floats(0, 300), st.floats(0, 200)), min_size=2, max_size=120),
            max_size=4,
        )
    )
    @settings(max_examples=60)
    def test_what_is_written_is_read_back(self, paths):
        paths = [np.array(path) for path in paths]
        read = [
            shapely.linestrings(p) for p in read_hpgl(write_hpgl(pens(paths), 200.0).encode(), "a.plt", 200.0)
        ]
        for path in paths:
            if np.ptp(path, axis=0).max() > 2 * STEP_MM:
                assert min(shapely.hausdorff_distance(shapely.linestrings(path), read)) <= STEP_MM

    def test_a_square_in_so_many_words(self):
        """Forty units to the millimetre, y up: a square of 10 mm on a sheet 20 mm high."""
        text = write_hpgl(pens([closed(square(5, 5, 10))]), 20.0)
        assert "PU200,600;\nPD600,600,600,200,200,200,200,600;" in text
        assert text.startswith("IN;\nSP1;\n")

    def test_relative_moves_and_old_spelling_are_read(self):
        data = b"\x1b.(;IN;SP1PU0,0;PR;PD400,0PD0,400,-400,0;PA;PD0 0;PU;SP0;"
        [path] = read_hpgl(data, "a.plt", 10.0)
        assert path == pytest.approx(np.array([(0, 10), (10, 10), (10, 0), (0, 0), (0, 10)]))

    def test_the_sheet_is_as_high_as_its_cuts_where_that_is_not_said(self):
        [path] = read_hpgl(b"IN;PU0,40;PD40,80;", "a.plt")
        assert path == pytest.approx(np.array([(0, 1), (1, 0)]))

    @pytest.mark.parametrize(
        ("data", "says"),
        [
            (b"", "is not HP-GL"),
            (b"\x00\xff\xfe", "is not HP-GL"),
            (b"# A title\n\nSome words of a text.", "is not HP-GL"),
            (b"IN;PD1,2,3;", "half a point"),
            (b"IN;PD1,2,x;", "is not HP-GL"),
            (b"IN;PD1,2-3-;", "no number"),
            (b"IN;PU0,0;CI200;", "instruction CI"),
            (b"IN;SC0,100,0,100;PD1,1;", "instruction SC"),
            (b"IN;PD1e9,0;", "half a point"),
            (b"IN;PD900000,900000;", "further than any sheet"),
            (b"IN;" + b"PD1,1,2,2;" * 600_000, "further than any sheet"),
            (b"PU;" * 6_000_000, "larger than 16 MB"),
        ],
    )
    def test_what_is_not_read_is_told(self, data, says):
        with pytest.raises(Problem, match=says) as told:
            read_hpgl(data, "a.plt")
        assert told.value.kind == "bad-hpgl"
        assert told.value.todo

    def test_a_cut_outside_the_sheet_is_refused(self):
        with pytest.raises(Problem, match="outside the sheet"):
            write_hpgl(pens([closed(square(-5, 0, 10))]), 20.0)
        with pytest.raises(Problem, match="outside the sheet"):
            write_hpgl(pens([closed(square(0, 15, 10))]), 20.0)


def heart_in_steps(seed):
    """The cut around a heart of some size and turn, in the steps of a plotter, with an overcut."""
    rng = np.random.default_rng(seed)
    t = np.linspace(0, math.tau, 400)
    high = 13 * np.cos(t) - 5 * np.cos(2 * t) - 2 * np.cos(3 * t) - np.cos(4 * t)
    heart = np.column_stack((16 * np.sin(t) ** 3, -high))
    size, turn = rng.uniform(0.3, 2), rng.uniform(0, math.tau)
    turned = heart @ np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    path = np.round((turned * size + rng.uniform(20, 300, 2)) / STEP_MM) * STEP_MM
    return np.vstack([path, path[1:6]])


class TestTears:
    @pytest.mark.parametrize("seed", [2353, 52, 113, 461])
    def test_a_piece_whose_edge_would_cross_itself_is_judged(self, seed):
        """Of 3,000 such hearts 23 pieces crossed themselves by a hair; GEOS refused to overlay the first."""
        (piece,) = simulate_cut([heart_in_steps(seed)]).pieces
        assert shapely.is_valid(piece)
        assert torn_pieces([piece], 0.5) == []

    def dumbbell(self, neck):
        return shapely.union_all([shapely.box(0, 0, 10, 10), shapely.box(9, 5 - neck / 2, 21, 5 + neck / 2),
                                  shapely.box(20, 0, 30, 10)])  # fmt: skip

    @pytest.mark.parametrize(("neck", "count"), [(0.3, 1), (0.49, 1), (0.6, 0), (2.0, 0)])
    def test_a_bar_thinner_than_the_material_holds(self, neck, count):
        found = torn_pieces([self.dumbbell(neck)], 0.5)
        assert len(found) == count
        for place in found:
            assert 9 < place.centroid.x < 21

    def test_a_thin_end_tears_nothing_off(self):
        spike = shapely.union_all([shapely.box(0, 0, 10, 10), shapely.Polygon([(9, 4), (30, 5), (9, 6)])])
        assert torn_pieces([spike], 0.5) == []
