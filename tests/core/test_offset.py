"""Offsets against closed forms and GEOS's buffer.

Steiner's formula: for a convex figure of area A and perimeter P the parallel figure at distance d has the
area A + P·d + π·d² and the perimeter P + 2π·d (J. Steiner 1840; R. Schneider,
"Convex Bodies: The Brunn–Minkowski Theory", section 4.1).
"""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fulgen.geometry import measure, polygons
from fulgen.geometry.nodes import nodes_of
from fulgen.geometry.offset import MITRE_LIMIT, offset, stroked
from fulgen.geometry.outline import CUBIC, Outline
from fulgen.geometry.polygons import region_of
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.joining.join_options import JoinOptions
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import disc, rectangle, ring, shape
from tests.shipped import LOOKED_AT

FINE = 0.002


def area(made):
    """The area that the curves themselves enclose (Green's theorem), not that of their twin."""
    return measure.area(made.outline)


@st.composite
def convex(draw):
    """A convex polygon: the hull of some points."""
    place = st.tuples(st.integers(0, 100), st.integers(0, 100))
    points = draw(st.lists(place, min_size=3, max_size=12, unique=True))
    hull = shapely.convex_hull(shapely.MultiPoint(points))
    if hull.geom_type != "Polygon" or hull.area < 20:
        hull = shapely.box(0, 0, 10, 10)
    return shape(Outline.polygon(list(hull.exterior.coords)[:-1]), FINE)


class TestClosedForms:
    @given(convex(), st.floats(0.2, 20))
    def test_a_convex_figure_grows_by_steiners_formula(self, figure, d):
        grown = offset(figure, d)
        before, girth = figure.region.area, figure.region.length
        assert area(grown) == pytest.approx(before + girth * d + math.pi * d * d, rel=2e-4)
        assert measure.length(grown.outline) == pytest.approx(girth + 2 * math.pi * d, rel=2e-4)

    @pytest.mark.parametrize("d", [-8.0, -1.0, -0.05, 0.05, 1.0, 30.0])
    def test_a_disc_stays_a_disc(self, d):
        made = offset(shape(disc(3, 4, 10), FINE), d)
        assert area(made) == pytest.approx(math.pi * (10 + d) ** 2, abs=2 * math.pi * (10 + d) * FINE)
        (contour,) = nodes_of(made.outline)
        assert max(abs(abs(node.at - (3 + 4j)) - (10 + d)) for node in contour) < 5e-3

    def test_a_ring_grows_outwards_and_inwards_and_its_counter_closes_when_it_must(self):
        figure = shape(ring(0, 0, 10, 4), FINE)
        assert area(offset(figure, 1.0)) == pytest.approx(math.pi * (11**2 - 3**2), rel=1e-4)
        closed = offset(figure, 4.5)
        assert polygons.count(closed.region) == (1, 0)
        assert area(closed) == pytest.approx(math.pi * 14.5**2, rel=1e-4)
        assert not offset(figure, -3.5)

    def test_a_mitred_square_stays_a_square_and_a_round_one_has_quarter_circles(self):
        square = shape(rectangle(0, 0, 20, 20), FINE)
        assert area(offset(square, 2.0, "mitred")) == pytest.approx(24 * 24, rel=1e-6)
        assert area(offset(square, 2.0)) == pytest.approx(400 + 80 * 2 + math.pi * 4, rel=1e-4)
        for corners in ("round", "mitred"):
            assert area(offset(square, -2.0, corners)) == pytest.approx(16 * 16, rel=1e-6)

    def test_a_mitre_reaches_no_further_than_its_limit(self):
        needle = shape(Outline.polygon([(0, 0), (100, -4), (100, 4)]), FINE)
        made = offset(needle, 1.0, "mitred")
        assert made.region.bounds[0] >= -MITRE_LIMIT - 0.01
        # Cut off straight at the point, SVG 2's bevel: no further out than the distance itself.
        assert made.region.bounds[0] >= -1.0 - 0.01

    def test_curves_are_kept_as_curves(self):
        made = offset(shape(disc(0, 0, 10), FINE), 1.0)
        assert (made.outline.verbs == CUBIC).any() or (made.outline.verbs == 2).any()
        assert measure.node_count(made.outline) < 60


@st.composite
def scatter(draw):
    """Rectangles and discs, welded: corners in and out, holes, several pieces."""
    parts = []
    for _ in range(draw(st.integers(1, 5))):
        x, y = draw(st.integers(0, 60)), draw(st.integers(0, 60))
        if draw(st.booleans()):
            parts.append(disc(x, y, draw(st.integers(4, 20))))
        else:
            parts.append(rectangle(x, y, draw(st.integers(4, 40)), draw(st.integers(4, 40))))
    return shape(Outline.joined(parts), 0.01)


@given(scatter(), st.floats(-3, 3).filter(lambda d: abs(d) > 0.05))
def test_any_figure_grows_and_shrinks_as_geos_says(figure, d):
    twin = shapely.buffer(figure.region, d, quad_segs=64)
    made = offset(figure, d)
    differs = shapely.symmetric_difference(region_of(made.outline, 1e-3), twin)
    # Wherever they differ it is by less than a few tolerances: worn away by that nothing is left.
    assert shapely.buffer(differs, -0.02).area < 1e-3


@pytest.mark.parametrize("slug", LOOKED_AT)
def test_letters_of_every_face_are_thickened_and_thinned_as_geos_says(slug):
    letters = evaluate(Recipe(parts=(Lettering(text="ag&R", face=FaceChoice(family=slug)),))).letters
    for plain in {letter.text: letter.letter.drawn for _, letter in letters}.values():
        for d in (0.01, -0.005):
            made = offset(plain, d)
            twin = shapely.buffer(region_of(plain.outline, 1e-4), d, quad_segs=32)
            differs = shapely.symmetric_difference(region_of(made.outline, 1e-4), twin)
            assert shapely.buffer(differs, -2 * plain.tolerance).area < 1e-6


def test_a_spike_whose_sides_cross_by_a_hair_is_round_too():
    """The tip of the a of fondamento: its sides turn back by more than half a circle."""
    (letter,) = evaluate(Recipe(parts=(Lettering(text="a", face=FaceChoice(family="fondamento")),))).letters
    plain = letter[1].letter.drawn
    made = offset(plain, 0.01)
    twin = shapely.buffer(region_of(plain.outline, 1e-4), 0.01, quad_segs=32)
    differs = shapely.symmetric_difference(region_of(made.outline, 1e-4), twin)
    assert shapely.buffer(differs, -2 * plain.tolerance).is_empty


def test_a_line_becomes_a_band_of_its_width_with_round_ends():
    band = stroked(np.array([(0.0, 0.0), (30.0, 0.0)]), 4.0, 0.01)
    assert area(band) == pytest.approx(30 * 4 + math.pi * 4, rel=1e-3)
    dot = stroked(np.array([(5.0, 5.0), (5.0, 5.0)]), 4.0, 0.01)
    assert area(dot) == pytest.approx(math.pi * 4, rel=2e-3)


class TestThickenedLettering:
    def made(self, mm, text="Boat", **part):
        part = {"face": FaceChoice(family="lobster"), "join": JoinOptions(how="auto"), **part}
        return evaluate(Recipe(parts=(Lettering(text=text, thicken_mm=mm, **part),)))

    def test_a_letter_grows_by_the_distance_on_every_side(self):
        plain, thick = (
            self.made(mm, "I", face=FaceChoice(family="anton"), join=JoinOptions()) for mm in (0, 0.4)
        )
        assert thick.box.width - plain.box.width == pytest.approx(0.8, abs=5e-3)
        assert thick.box.height - plain.box.height == pytest.approx(0.8, abs=5e-3)

    def test_a_closed_counter_is_named_and_an_open_one_is_kept(self):
        assert self.made(0.3).parts[0].built.closed_counters == ()
        assert polygons.count(self.made(0.3).films[0].shape.region)[1] >= 2
        assert set(self.made(6.0).parts[0].built.closed_counters) & set("Boa")

    def test_thinned_away_to_nothing_is_said(self):
        with pytest.raises(Problem, match="Made so much thinner, nothing is left of “B”") as told:
            self.made(-8.0).whole()
        assert told.value.where == "thicken_mm"


@pytest.mark.parametrize(("face", "text"), [("grand-hotel", "Maud"), ("pacifico", "Heron"), ("anton", "Se")])
@pytest.mark.parametrize("distance", [1.5, 1.9, 2.0, 2.1, 2.5])
def test_no_slit_runs_down_to_where_sides_go_on_without_a_corner(face, text, distance):
    """Nothing of what the offset leaves is nearer than the distance: GEOS measures it."""
    size = Size(measure="width", mm=50.0)
    word = evaluate(Recipe(parts=(Lettering(text=text, face=FaceChoice(face), size=size),))).films[0].shape
    around = offset(word.refined(FLATNESS_MM), distance)
    rest = shapely.box(*around.region.buffer(5.0).bounds).difference(around.region)
    assert shapely.distance(rest, word.region) == pytest.approx(distance, abs=2 * FLATNESS_MM)
