"""Shapes in place of letters and marks, from the library and from files that may be hostile."""

import math

import pytest

from fulgen.formats.drawing import read_drawing
from fulgen.geometry import measure, polygons
from fulgen.joining.join_options import JoinOptions
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import LetterChange
from fulgen.lettering.stand_ins import (
    MAX_PATH_LETTERS,
    MAX_SIDES,
    StandIn,
    in_unit_square,
    names,
    own_shape,
    own_stand_in,
    shape_from_library,
)
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe


def recipe(text="BOAT", face="anton", how="auto", **part):
    join = part.pop("join", JoinOptions(how=how))
    return Recipe(parts=(Lettering(text=text, face=FaceChoice(family=face), join=join, **part),))


class TestLibrary:
    @pytest.mark.parametrize("name", names())
    def test_every_shape_is_one_piece_that_fills_its_square(self, name):
        shape = shape_from_library(name)
        assert polygons.count(shape.region)[0] == 1
        box = shape.box
        assert max(box.width, box.height) == pytest.approx(1.0)
        assert box.x == pytest.approx((1 - box.width) / 2)
        assert shape.region.area > 0.12

    def test_a_disc_is_a_disc(self):
        assert measure.area(shape_from_library("disc").outline) == pytest.approx(math.pi / 4, rel=1e-3)

    def test_an_unknown_one_is_refused(self):
        with pytest.raises(Problem, match="no shape called “gnu”"):
            shape_from_library("gnu")


class TestInPlaceOfALetter:
    def test_a_compass_rose_for_the_o_has_its_height_and_baseline_and_is_joined_like_a_letter(self):
        plain = evaluate(recipe())
        rose = evaluate(recipe(letters={2: LetterChange(stand_in=StandIn(shape="compass rose"))}))
        before, after = (e.letters[1][1].form.box for e in (plain, rose))
        assert (after.y, after.height) == pytest.approx((before.y, before.height))
        assert len(rose.pieces) == 1
        assert all(seam.neck >= 1.19 or seam.as_lettering for seam in rose.seams)
        assert rose.recipe.parts[0].text == "BOAT"

    def test_filling_the_box(self):
        made = evaluate(recipe(letters={2: LetterChange(stand_in=StandIn(shape="star", to="box"))}))
        plain = evaluate(recipe())
        assert made.letters[1][1].form.box == pytest.approx(plain.letters[1][1].form.box)

    def test_a_shape_of_ones_own(self):
        made = evaluate(recipe(letters={2: LetterChange(stand_in=StandIn(shape="mine", d="M0 0H10V20H0Z"))}))
        assert len(made.pieces) == 1
        box = made.letters[1][1].form.box
        assert box.height == pytest.approx(2 * box.width)

    @pytest.mark.parametrize("marks", ["keep", "lower", "bridge"])
    def test_a_heart_for_the_dot_of_an_i_kept_lowered_or_bridged(self, marks):
        join = JoinOptions(how="set", marks=marks, mark_shape=StandIn(shape="heart"))
        made = evaluate(recipe("i", join=join))
        assert len(made.pieces) == (2 if marks == "keep" else 1)
        plain = evaluate(recipe("i", join=JoinOptions(how="set", marks=marks)))
        assert made.films[0].shape.region.area != pytest.approx(plain.films[0].shape.region.area, rel=1e-3)

    def test_for_one_dot_alone(self):
        letters = {1: LetterChange(mark_shape=StandIn(shape="star"))}
        one, other = (p.area for p in evaluate(recipe("ii", how="set", letters=letters)).pieces[:2])
        assert one != pytest.approx(other, rel=1e-3)


class TestHostile:
    @pytest.mark.parametrize(
        ("d", "what"),
        [
            ("", "encloses no area"),
            ("M0 0L10 10", "encloses no area"),
            ("M0 0", "encloses no area"),
            ("L5 5L0 9Z", "cannot be read"),
            ("M0 0L1e308 1e308L0 5Z", "outside any sensible size"),
            ("M0 0Lnan 3Z", "signs that no path has"),
            ("M0 0<script>", "signs that no path has"),
            ("M0 0" + "L1 1" * (MAX_SIDES + 1), "sides"),
            ("M0 0" + " " * MAX_PATH_LETTERS, "too long"),
            ("M0 0A1", "cannot be read"),
        ],
    )
    def test_a_path_that_is_no_shape_is_refused_in_words(self, d, what):
        with pytest.raises(Problem, match=what):
            own_shape(d)

    @pytest.mark.parametrize(
        "svg",
        [
            b"",
            b"not a drawing",
            b"<svg",
            b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">'
            b'<path d="M0 0H9V9Z"/>&b;</svg>',
            b'<!DOCTYPE svg SYSTEM "file:///etc/passwd"><svg xmlns="http://www.w3.org/2000/svg"/>',
            b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>',
            b'<svg xmlns="http://www.w3.org/2000/svg"><image href="http://elsewhere/x.png"/></svg>',
            b"<html><body/></html>",
            b"<svg>" + b"<g>" * 5000 + b"</g>" * 5000 + b"</svg>",
            b"<svg>"
            + b"".join(b'<g id="a%d">' % n + b'<use href="#a%d"/>' % (n + 1) * 10 + b"</g>" for n in range(9))
            + b'<path id="a9" d="M0 0h9v9z"/></svg>',
            b"<svg><style>" + b"a{" * 100_000 + b"</style></svg>",
            b'<svg><path d="M0 0h9v9z' + b"Z" * 390_000 + b'"/></svg>',
            b'<?xml version="1.0" encoding="UTF-7"?><svg/>',
            b'<svg><path d="M0 0h9v9z" transform="' + b"rotate(" * 20_000 + b'"/></svg>',
            b'<svg><polygon points="'
            + b" ".join(b"%d,%d" % (n * 7919 % 1000, n * 104729 % 997) for n in range(3000))
            + b'"/></svg>',
            b'<svg><path d="' + b"M0 0h9v9z" * 50_000 + b'"/></svg>',
            b'<svg><path d="' + b"M0 0h9v9z" * 4_000 + b'"/></svg>',
            b'<svg><path transform="scale(1e300)" d="M0 0h9e200v9z"/></svg>',
            b"x" * (2**20 + 1),
        ],
        ids=[
            "empty",
            "text",
            "cut off",
            "entities",
            "outside entity",
            "script",
            "image",
            "html",
            "deep",
            "copies",
            "braces",
            "Z",
            "UTF-7",
            "transforms",
            "crossings",
            "much data",
            "many sides",
            "far",
            "large",
        ],
    )
    def test_a_file_that_is_no_drawing_is_refused_in_words(self, svg):
        with pytest.raises(Problem) as told:
            read_drawing(svg, "boat.svg")
        assert told.value.what
        assert told.value.todo

    def test_a_drawing_longer_than_a_recipe_may_hold_is_refused_in_words(self):
        with pytest.raises(Problem) as told:
            own_stand_in("long.svg", "M0 0" + "L1 1" * (MAX_PATH_LETTERS // 4) + "Z")
        assert "long.svg" in told.value.what
        assert told.value.todo

    def test_a_drawing_is_read_with_its_transforms_and_what_is_not_drawn_is_left_out(self):
        svg = b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 80 40">
            <defs><rect id="r" width="900" height="1"/></defs>
            <pattern id="p"><rect width="1" height="900"/></pattern>
            <g transform="translate(5 2) scale(2)">
              <rect x="1" y="1" width="10" height="6"/>
              <g transform="rotate(90 25 8)"><circle cx="25" cy="8" r="5"/></g>
              <rect width="99" height="99" style="display:none"/>
            </g>
            <path d="M40 30l10 0 0 8z"/><text>BOAT</text></svg>"""
        drawing = read_drawing(svg, "boat.svg")
        # In user units: a rectangle 20 x 12 from 7, 4; a circle of radius 10 around 55, 18; a triangle.
        assert drawing.region.area == pytest.approx(240 + math.pi * 100 + 40, rel=1e-3)
        left, top, right, bottom = drawing.region.bounds
        assert (right - left, bottom - top) == pytest.approx((65 - 7, 38 - 4), rel=1e-3)
        made = in_unit_square(drawing.outline, "boat")
        assert made.box.height / made.box.width == pytest.approx(34 / 58, rel=1e-3)

    @pytest.mark.parametrize(("rule", "area"), [("nonzero", 8 * 8), ("evenodd", 8 * 8 - 4 * 4)])
    def test_a_shape_is_filled_by_its_own_rule(self, rule, area):
        svg = f'<svg><path fill-rule="{rule}" d="M0 0h8v8h-8zM2 2h4v4h-4z"/></svg>'
        assert read_drawing(svg.encode(), "a").region.area == pytest.approx(area)

    def test_a_star_drawn_in_one_stroke_keeps_its_middle_open_by_the_even_odd_rule(self):
        points = " ".join(
            f"{math.sin(4 * math.pi * n / 5):.6f} {-math.cos(4 * math.pi * n / 5):.6f}" for n in range(5)
        )
        svg = f'<svg><polygon style="fill-rule:evenodd" points="{points}"/></svg>'
        drawing = read_drawing(svg.encode(), "star")
        # A pentagram of circumradius 1: five triangles around a pentagon of circumradius 1/phi^2.
        phi = (1 + math.sqrt(5)) / 2
        pentagon = 2.5 * math.sin(math.radians(72)) / phi**4
        whole = 5 * math.sin(math.radians(36)) / phi**2
        assert drawing.region.area == pytest.approx(whole - pentagon, rel=1e-4)
        assert polygons.count(drawing.region) == (5, 0)
