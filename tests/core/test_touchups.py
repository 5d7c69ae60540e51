"""Repairs of the welded outline: done in their place, replayed after changes, never done elsewhere."""

import math
from dataclasses import replace

import pytest
import shapely

from fulgen.geometry import measure, polygons
from fulgen.geometry.nodes import nodes_of
from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import region_of
from fulgen.joining.anchors import Anchor
from fulgen.joining.join_options import JoinOptions
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import LetterChange
from fulgen.lettering.setting import Size
from fulgen.lettering.stand_ins import StandIn
from fulgen.parts.lettering import Lettering
from fulgen.parts.touchups import Spot, TouchUp, touched_up
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import disc, rectangle, shape

SIZE = 100.0


def touch_up(kind, at, to=None, size_mm=0.0, dx=0.0, dy=0.0):
    """A touch-up with its spot: the anchors are where a part would have found them."""
    ends = [Anchor("figure", 0.0, 0.0), Anchor("figure", 0.0, 0.0) if to else None]
    return TouchUp(kind, *ends, size_mm=size_mm, dx=dx, dy=dy), Spot(at, to, complex(dx, dy) * SIZE, SIZE)


def done(figure, *args, **named):
    made = touched_up(figure, *touch_up(*args, **named))
    assert made is not None
    return made


def edge(figure):
    return shapely.boundary(region_of(figure.outline, 1e-3))


class TestEach:
    def test_a_hole_is_filled_and_only_that_one(self):
        figure = shape(
            Outline.joined([rectangle(0, 0, 100, 50), disc(20, 25, 2, True), disc(80, 25, 9, True)])
        )
        made = done(figure, "fill", (20, 25), size_mm=4)
        assert made.region.area == pytest.approx(5000 - math.pi * 81, rel=1e-3)
        # There is no hole there any more; and the other is another one.
        assert touched_up(made, *touch_up("fill", (20, 25), size_mm=4)) is None
        assert touched_up(figure, *touch_up("fill", (80, 25), size_mm=1)) is None

    def test_a_thin_place_is_made_as_wide_as_asked_and_nothing_else_changes(self):
        dumbbell = Outline.joined([disc(0, 0, 10), disc(40, 0, 10), rectangle(0, -0.3, 40, 0.6)])
        made = done(shape(dumbbell), "thicken", (20, 0), size_mm=2)
        across = shapely.intersection(made.region, shapely.LineString([(20, -9), (20, 9)]))
        assert across.length == pytest.approx(2, abs=0.03)
        changed = shapely.symmetric_difference(made.region, shape(dumbbell).region)
        assert shapely.difference(changed, shapely.box(5, -2, 35, 2)).area < 0.02

    def test_a_sliver_is_taken_off_and_the_rest_stays(self):
        figure = shape(Outline.joined([rectangle(0, 0, 30, 30), rectangle(30, 14, 20, 0.2)]))
        made = done(figure, "cut", (40, 14.1), size_mm=1)
        assert made.region.area == pytest.approx(900, abs=0.2)

    def test_a_gap_is_closed(self):
        figure = shape(Outline.joined([rectangle(0, 0, 30, 10), rectangle(0, 10.2, 30, 10)]))
        made = done(figure, "close", (15, 10.1), size_mm=0.5)
        assert polygons.count(made.region) == (1, 0)
        assert made.region.area == pytest.approx(30 * 20.2, rel=2e-3)

    def test_a_bump_goes_with_its_point(self):
        bump = Outline.polygon([(0, 0), (14, 0), (15, -1), (16, 0), (30, 0), (30, 20), (0, 20)])
        made = done(shape(bump), "remove", (15, -1))
        assert made.region.area == pytest.approx(600, rel=1e-3)

    def test_a_point_is_moved(self):
        made = done(shape(rectangle(0, 0, 30, 20)), "move", (30, 20), dx=0.05, dy=0.0)
        assert made.region.area == pytest.approx(600 + 5 * 20 / 2)

    def test_a_corner_is_rounded_by_its_radius(self):
        made = done(shape(rectangle(0, 0, 30, 20)), "round", (29, 19), size_mm=4)
        assert measure.area(made.outline) == pytest.approx(600 - 16 * (1 - math.pi / 4), rel=1e-4)

    @pytest.mark.parametrize("rough", [0.3, 1.0])
    def test_a_rough_stretch_is_smoothed_within_two_hundredths_of_the_size(self, rough):
        top = [(x, -rough if x % 4 == 2 else 0.0) for x in range(0, 61, 2)]
        figure = shape(Outline.polygon([*top, (60, 30), (0, 30)]))
        made = done(figure, "smooth", (0, 0), to=(60, 0))
        assert measure.node_count(made.outline) < measure.node_count(figure.outline) / 3
        strayed = shapely.hausdorff_distance(edge(made), edge(figure))
        assert strayed <= 0.02 * SIZE

    def test_what_would_cross_edges_or_free_a_part_is_not_done(self):
        dumbbell = shape(
            Outline.joined([rectangle(0, 0, 20, 20), rectangle(20, 8, 20, 4), rectangle(40, 0, 20, 20)])
        )
        assert touched_up(dumbbell, *touch_up("move", (20, 8), dx=0.0, dy=0.08)) is None

    @pytest.mark.parametrize("kind", ["fill", "cut", "thicken", "close", "remove", "move", "smooth", "round"])
    def test_where_there_is_nothing_of_its_kind_nothing_is_done(self, kind):
        figure = shape(disc(0, 0, 40))
        assert touched_up(figure, *touch_up(kind, (0, 0), to=(1, 1), size_mm=1, dx=0.01)) is None


def recipe(text="Boat", touch_ups=(), **part):
    mirror = part.pop("mirror", False)
    part = {
        "face": FaceChoice(family="lobster"),
        "join": JoinOptions(how="auto"),
        "size": Size(mm=30),
        **part,
    }
    part.setdefault("letter_ids", tuple(range(1, len(text) + 1)))
    return Recipe(parts=(Lettering(text=text, **part),), touch_ups=touch_ups, mirror=mirror)


def round_the_top_of_the_b():
    """A touch-up at the node of the B that is furthest up: it is taken out."""
    made = evaluate(recipe())
    part = made.parts[0]
    left = [n for c in nodes_of(made.films[0].shape.outline) for n in c if n.at.real < 6]
    top = min(left, key=lambda node: node.at.imag)
    at = part.built.anchor_on(part.built.layout.letters[0], top.at.real, top.at.imag)
    return TouchUp("remove", at), top.at


class TestReplayed:
    def test_it_follows_its_letter_when_the_text_the_size_and_the_place_change(self):
        repair, _ = round_the_top_of_the_b()
        for change in (
            {}, {"text": "Boats"}, {"size": Size(mm=90)}, {"mirror": True}, {"spacing_mm": 1.0},
            {"place": Placement(200.0)}, {"place": Placement(10, 20, 35, 1.5, flip=True)},
            {"text": "aBoat", "letter_ids": (9, 1, 2, 3, 4)},
        ):  # fmt: skip
            plain, mended = (evaluate(recipe(touch_ups=t, **change)) for t in ((), (repair,)))
            assert mended.lost == (), change
            assert mended.nodes == plain.nodes - 1
            assert mended.films[0].shape.region.area != plain.films[0].shape.region.area

    def test_without_its_letter_it_is_told_as_lost_and_kept(self):
        repair, _ = round_the_top_of_the_b()
        plain, gone = (evaluate(recipe("oat", t, letter_ids=(2, 3, 4))) for t in ((), (repair,)))
        assert gone.lost == (0,)
        assert gone.recipe.touch_ups == (repair,)
        assert gone.films[0].shape.region.equals(plain.films[0].shape.region)

    def test_where_the_outline_is_quite_another_it_is_told_as_lost_not_done_elsewhere(self):
        repair, _ = round_the_top_of_the_b()
        changed = {1: LetterChange(stand_in=StandIn(shape="disc"))}
        plain, gone = (evaluate(recipe(touch_ups=t, letters=changed)) for t in ((), (repair,)))
        assert gone.lost == (0,)
        assert gone.films[0].shape.region.equals(plain.films[0].shape.region)
        far = replace(repair, at=replace(repair.at, x=3.0, y=3.0))
        assert evaluate(recipe(touch_ups=(far,))).lost == (0,)

    def test_of_a_part_that_is_not_there_it_is_told_as_lost(self):
        repair, _ = round_the_top_of_the_b()
        other = replace(repair, at=replace(repair.at, part="lettering-9"))
        assert evaluate(recipe(touch_ups=(other, repair))).lost == (0,)
