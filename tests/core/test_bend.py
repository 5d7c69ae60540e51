"""Bends: outlines laid on a map of the plane, held against the map itself."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.framing.monogram import IntoDisc, cells
from fulgen.geometry import measure
from fulgen.geometry.bend import Bend, bent, bent_shape
from fulgen.geometry.flatten import flatten
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import CUBIC, LINE
from fulgen.lettering.catalogue import FaceChoice, shipped_face
from fulgen.lettering.course import AlongPath, Circle, Warp, Warped
from fulgen.lettering.shaping import shape_line
from fulgen.problem import Problem
from tests.figures import rectangle, shape


class Same(Bend):
    key = "same"

    def at(self, z):
        return z


def around(radius, way=1):
    return AlongPath(Circle(radius, way, 0.0), 0.0, 0.0, f"{radius} {way}")


def letters(text, face, size):
    found = shape_line(shipped_face(FaceChoice(face)), text, (), {})
    return [letter.shape.placed(letter.x * size, 0.0, size) for letter in found]


def furthest_from_map(outline, bend, drawn):
    """The greatest distance between a thousand points of an outline, where the map puts them, and a bent
    outline."""
    sides, _ = outline.cubics
    z = sides[..., 0] + 1j * sides[..., 1]
    t = np.linspace(0, 1, max(2, math.ceil(1000 / len(z))))
    points = sum(
        w[:, None] * z[:, n]
        for n, w in enumerate(((1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3))
    )
    there = bend.at(points.ravel())
    flat, ring_of = flatten(drawn, 1e-4)
    rings = shapely.multilinestrings(shapely.get_parts(shapely.linearrings(flat, indices=ring_of)))
    return float(shapely.distance(shapely.points(there.real, there.imag), rings).max())


BENDS = {
    "outside a circle": around(40.0),
    "inside a circle": around(60.0, -1),
    "arch": Warped(Warp("arch", 0.4), Box(0, -20, 80, 25)),
    "wave": Warped(Warp("wave", 0.6, 2.0), Box(0, -20, 80, 25)),
    "bulge": Warped(Warp("bulge", 0.8), Box(0, -20, 80, 25)),
    "pinch": Warped(Warp("bulge", -0.5), Box(0, -20, 80, 25)),
}


@pytest.mark.parametrize("name", BENDS)
@pytest.mark.parametrize("face", ["pacifico", "anton"])
def test_bent_letters_lie_where_the_map_puts_them(name, face):
    for letter in letters("Bay", face, 25.0):
        drawn = bent(letter.outline, BENDS[name], 0.005)
        assert furthest_from_map(letter.outline, BENDS[name], drawn) < 0.01


@settings(max_examples=25, deadline=None)
@given(st.floats(15, 200), st.floats(1, 30), st.floats(1, 30))
def test_a_rectangle_around_a_circle_is_a_sector_of_a_ring(radius, width, height):
    # The area of a sector of a ring: angle / 2 · (R² − r²) (textbook).
    within = 0.001
    drawn = bent(rectangle(0, -height, width, height), around(radius), within)
    angle = width / radius
    area = angle / 2 * ((radius + height) ** 2 - radius**2)
    # Both arcs may be off by what was allowed, all along.
    arcs = angle * (2 * radius + height)
    assert abs(measure.area(drawn)) == pytest.approx(area, abs=within * arcs)


def test_what_points_at_the_middle_stays_straight():
    drawn = bent(rectangle(0, -10, 6, 10), around(40.0), 0.001)
    assert sorted(drawn.verbs[drawn.verbs != 0].tolist()).count(LINE) == 2
    assert CUBIC in drawn.verbs


def test_a_map_that_changes_nothing_adds_no_points():
    for letter in letters("Sea", "pacifico", 30.0):
        same = bent(letter.outline, Same(), 0.001)
        assert measure.node_count(same) == measure.node_count(letter.outline)
        assert measure.area(same) == pytest.approx(measure.area(letter.outline), rel=1e-9)


def test_curves_stay_curves_with_few_points():
    letter = letters("O", "pacifico", 30.0)[0]
    assert measure.node_count(bent(letter.outline, around(40.0), 0.005)) <= 3 * measure.node_count(
        letter.outline
    )


def test_a_bend_without_end_is_refused():
    class Wild(Bend):
        key = "wild"

        def at(self, z):
            return z + 5 * np.sin(1e4 * z.real)

    wide = [rectangle(x, 0, 4, 4) for x in range(0, 4000, 5)]
    with pytest.raises(Problem, match="too sharp"):
        bent(type(wide[0]).joined(wide), Wild(), 1e-3)


def test_verticals_stay_vertical_in_a_warp():
    z = np.array([20 + 1j * y for y in (-15.0, 0.0, 4.0)])
    for name in ("arch", "wave", "bulge"):
        there = BENDS[name].at(z)
        assert np.ptp(there.real) == 0


def test_an_arch_lifts_its_middle_by_the_share_of_the_width():
    there = BENDS["arch"].at(np.array([0.0 + 0j, 40.0 + 0j, 80.0 + 0j]))
    assert there.imag.tolist() == pytest.approx([0.0, -0.4 * 80, 0.0])


def test_a_bulge_makes_its_middle_higher_and_leaves_its_ends():
    low, high = BENDS["bulge"].at(np.array([40 - 20j, 40 + 5j])).imag
    assert high - low == pytest.approx(25 * 1.8)
    low, high = BENDS["bulge"].at(np.array([0 - 20j, 0 + 5j])).imag
    assert high - low == pytest.approx(25)


def test_letters_of_a_monogram_fill_their_disc():
    box = Box(0, -7, 5, 7)
    bend = IntoDisc(box, 30.0, -10.0, 10.0)
    solid = bent_shape(shape(rectangle(0, -7, 5, 7)), bend, 0.005)
    # The part of a disc between two verticals: 2 · (x √(r² − x²) + r² asin(x / r)) (textbook integral).
    x, r = 10.0, 30.0
    assert measure.area(solid.outline) == pytest.approx(
        2 * (x * math.sqrt(r * r - x * x) + r * r * math.asin(x / r)), rel=1e-4
    )
    assert np.hypot(*shapely.get_coordinates(solid.region).T).max() < 30.005


def test_the_middle_cell_of_three_takes_its_share():
    found = cells(3, 20.0, 0.5, 1.0)
    widths = [right - left for left, right in found]
    assert widths[1] == pytest.approx(2 * widths[0]) == pytest.approx(2 * widths[2])
    assert found[1][0] - found[0][1] == pytest.approx(1.0)
