"""Parts made of parts: combinations, backings, halos, chosen edges, and where all of it lies."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.formats.svg import write_svg
from fulgen.geometry import measure
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.joining.anchors import Anchor
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.seam import State
from fulgen.lettering.catalogue import FaceChoice, shipped_face
from fulgen.lettering.letters import LetterChange
from fulgen.lettering.setting import Size
from fulgen.lettering.stand_ins import ColourLayer, StandIn
from fulgen.parts.artwork import ArtItem, Artwork, ContourChoice, build_artwork, crossing_lines
from fulgen.parts.backing import Backing
from fulgen.parts.combination import Combination, Halo, welded_to_edges
from fulgen.parts.lettering import Lettering
from fulgen.parts.line import LinePart, PathPoint
from fulgen.parts.ornament import Ornament, OrnamentInput, build_ornament, glyphs_of, name_of
from fulgen.parts.shape import ShapePart
from fulgen.parts.touchups import TouchUp
from fulgen.problem import Problem
from fulgen.readiness.findings import findings
from fulgen.recipe.contacts import contacts
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import MAX_PARTS, Recipe
from fulgen.recipe.versions import read_recipe, recipe_from
from tests.figures import disc, lens_area, rectangle, ring, shape


def plate(part_id="plate", size=60.0, **more):
    return ShapePart(id=part_id, form="disc", width_mm=size, height_mm=size, **more)


def word(text="Tern", part_id="word", width=40.0, face="anton", **more):
    return Lettering(
        id=part_id, text=text, face=FaceChoice(family=face), size=Size(measure="width", mm=width), **more
    )


def area(evaluation):
    return sum(piece.area for piece in evaluation.pieces)


def whole(*parts, **more):
    return evaluate(Recipe(parts=parts, **more)).whole()


TWO = (plate("a", 20.0), plate("b", 20.0, place=Placement(12.0, 0.0)))
LENS = lens_area(10, 12)


class TestOperations:
    """Two discs of radius 10, 12 apart: against the lens (circular segments, textbook)."""

    @pytest.mark.parametrize(
        ("how", "expected", "pieces"),
        [
            ("weld", 200 * math.pi - LENS, 1),
            ("cut", 100 * math.pi - LENS, 1),
            ("overlap", LENS, 1),
            ("divide", 200 * math.pi - LENS, 3),
        ],
    )
    def test_area_and_pieces(self, how, expected, pieces):
        made = whole(*TWO, Combination(id="c", how=how, members=("a", "b")))
        assert area(made) == pytest.approx(expected, rel=1e-3)
        assert len(made.pieces) == pieces

    def test_members_are_not_cut_by_themselves_and_stay_to_be_changed(self):
        made = whole(*TWO, Combination(id="c", how="overlap", members=("a", "b")))
        assert [part.id for part in made.parts] == ["a", "b", "c"]
        larger = TWO[0].model_copy(update={"width_mm": 30.0, "height_mm": 30.0})
        again = whole(larger, TWO[1], Combination(id="c", how="overlap", members=("a", "b")))
        assert area(again) > area(made)

    def test_the_first_member_is_the_ground(self):
        one = whole(*TWO, Combination(id="c", how="cut", members=("a", "b")))
        other = whole(*TWO, Combination(id="c", how="cut", members=("b", "a")))
        assert one.box.x == pytest.approx(-10, abs=0.01)
        assert other.box.right == pytest.approx(22, abs=0.01)

    def test_a_combination_lies_and_turns_as_one_thing(self):
        place = Placement(100.0, 50.0, turn=90.0, scale=2.0)
        made = whole(*TWO, Combination(id="c", how="weld", members=("a", "b"), place=place))
        assert area(made) == pytest.approx(4 * (200 * math.pi - LENS), rel=1e-3)
        assert (made.box.x, made.box.y) == pytest.approx((80.0, 30.0), abs=0.02)
        assert (made.box.width, made.box.height) == pytest.approx((40.0, 64.0), abs=0.02)

    def test_combinations_of_combinations(self):
        hole = plate("hole", 6.0)
        made = whole(
            *TWO, hole,
            Combination(id="c", how="weld", members=("a", "b")),
            Combination(id="d", how="cut", members=("c", "hole")),
        )  # fmt: skip
        assert area(made) == pytest.approx(200 * math.pi - LENS - 9 * math.pi, rel=1e-3)

    def test_three_words_out_of_a_disc_is_one_action_and_follows_when_a_word_changes(self):
        words = [word(t, f"w{n}", 40.0, place=Placement(-20.0, y)) for n, (t, y) in enumerate(
            [("Pike", -20.0), ("Rudd", 5.0), ("Tench", 30.0)])]  # fmt: skip
        cut = Combination(id="c", how="cut", members=("plate", "w0", "w1", "w2"))
        made = whole(plate("plate", 110.0), *words, cut)
        inked = sum(area(whole(w)) for w in words)
        assert area(made) == pytest.approx(math.pi * 55**2 - inked, rel=1e-3)
        changed = words[1].model_copy(update={"text": "Carp"})
        again = whole(plate("plate", 110.0), words[0], changed, words[2], cut)
        assert area(again) != pytest.approx(area(made), abs=1.0)

    def test_what_leaves_nothing_is_said_and_the_rest_is_drawn(self):
        away = plate("b", 20.0, place=Placement(200.0, 0.0))
        made = evaluate(
            Recipe(
                parts=(TWO[0], away, plate("x", 5.0), Combination(id="c", how="overlap", members=("a", "b")))
            )
        )
        assert [failure.parts for failure in made.failures] == [("c",)]
        assert "no place in common" in made.failures[0].problem.what
        assert len(made.pieces) == 1
        with pytest.raises(Problem, match="no place in common"):
            write_svg(made)

    def test_hidden_members_are_left_out(self):
        hidden = TWO[1].model_copy(update={"hidden": True})
        made = whole(TWO[0], hidden, Combination(id="c", how="cut", members=("a", "b")))
        assert area(made) == pytest.approx(100 * math.pi, rel=1e-3)

    def test_a_hidden_part_is_not_cut(self):
        assert area(whole(TWO[0], TWO[1].model_copy(update={"hidden": True}))) == pytest.approx(
            100 * math.pi, rel=1e-3
        )

    def test_crumbs_are_left_out(self):
        ground = ShapePart(id="g", form="rectangle", width_mm=40.0, height_mm=20.0)
        cutter = ShapePart(id="k", form="rectangle", width_mm=39.8, height_mm=30.0)
        parts = (ground, cutter)
        kept = whole(*parts, Combination(id="c", how="cut", members=("g", "k"), least_mm=0.0))
        assert len(kept.pieces) == 2
        made = evaluate(
            Recipe(parts=(*parts, Combination(id="c", how="cut", members=("g", "k"), least_mm=0.3)))
        )
        assert made.failures
        assert not made.pieces

    def test_a_touch_up_on_a_letter_in_a_combination_is_done_on_the_whole(self):
        name = word("o", "w", 20.0, place=Placement(-10.0, 8.0))
        parts = (name, plate("p", 8.0, place=Placement(14.0, 0.0)), Combination(id="c", members=("w", "p")))
        before = whole(*parts)
        assert before.pieces[0].holes == 1
        fill = TouchUp("fill", before.part("w").anchor(0.0, 0.0), size_mm=0.0)
        after = whole(*parts, touch_ups=(fill,))
        assert not after.lost
        assert after.pieces[0].holes == 0


class TestDivide:
    def test_regions_get_films_or_are_left_out(self):
        films = {"a": "#112233", "a+b": "none", "b": "#445566"}
        made = whole(*TWO, Combination(id="c", how="divide", members=("a", "b"), films=films))
        assert [film.colour for film in made.films] == ["#112233", "#445566"]
        assert area(made) == pytest.approx(200 * math.pi - 2 * LENS, rel=1e-3)

    def test_regions_of_one_film_stay_pieces_of_their_own(self):
        made = whole(*TWO, Combination(id="c", how="divide", members=("a", "b")))
        assert len(made.films) == 1
        assert len(made.pieces) == 3


class TestHalo:
    """Cleared by an exact distance: the halo is what GEOS's buffer of the names covers."""

    ground = ShapePart(id="g", form="rectangle", width_mm=100.0, height_mm=40.0)
    name = word("Tern", "n", 50.0, place=Placement(-25.0, 8.0), film="#AA0000")

    def around(self, mm):
        region = whole(self.name).films[0].shape.region
        grown = shapely.buffer(region, mm, quad_segs=32)
        return shapely.union_all([shapely.Polygon(p.exterior) for p in shapely.get_parts(grown)])

    @given(st.floats(0.5, 6.0))
    @settings(max_examples=10, deadline=None)
    def test_names_stand_in_the_clear(self, mm):
        halo = Halo(mm=mm)
        made = whole(self.ground, self.name, Combination(id="c", how="halo", members=("g", "n"), halo=halo))
        by_film = {film.colour: film for film in made.films}
        expected = shapely.difference(shapely.box(-50, -20, 50, 20), self.around(mm))
        allowed = FLATNESS_MM * expected.length
        assert by_film["#2B5674"].shape.region.area == pytest.approx(expected.area, abs=allowed)
        assert by_film["#AA0000"].shape.region.area == pytest.approx(area(whole(self.name)), rel=2e-3)
        apart = shapely.distance(by_film["#2B5674"].shape.region, by_film["#AA0000"].shape.region)
        assert apart == pytest.approx(mm, abs=0.05)

    def test_names_cut_through_a_backing_that_is_welded_to_the_ground(self):
        name = self.name.model_copy(update={"place": Placement(20.0, 8.0)})  # over the edge
        halo = Halo(mm=3.0, manner="through")
        made = whole(self.ground, name, Combination(id="c", how="halo", members=("g", "n"), halo=halo))
        region = made.films[0].shape.region
        inked = whole(name).films[0].shape.region
        assert shapely.intersection(region, inked).area < 0.5
        assert made.box.right > 50.0

    def test_it_follows_when_the_name_changes(self):
        combination = Combination(id="c", how="halo", members=("g", "n"))
        longer = self.name.model_copy(update={"text": "Terns"})
        one, other = (whole(self.ground, n, combination) for n in (self.name, longer))
        assert one.films[0].shape.region.area != pytest.approx(other.films[0].shape.region.area, abs=1)


class TestEdges:
    """A name welded to chosen edges: the other contours stay to the last bit."""

    def target(self):
        # A ring, and within it a small disc that has nothing to do with the name.
        drawing = [*ring(0, 0, 40, 34).contours(), disc(0, -20, 5)]
        return shape(type(drawing[0]).joined(drawing), FLATNESS_MM)

    def test_edges_that_are_not_chosen_come_through_bit_for_bit(self):
        ground = self.target()
        areas = measure.contour_areas(ground.outline)
        hole = int(np.flatnonzero(areas < 0)[0])
        bar = shape(rectangle(-36, 2, 72, 6), FLATNESS_MM)
        made = welded_to_edges(ground, [bar], [hole])
        kept = [c.points for n, c in enumerate(ground.outline.contours()) if n != hole]
        found = [c.points for c in made.outline.contours()]
        for points in kept:
            assert any(f.shape == points.shape and (f == points).all() for f in found)
        expected = shapely.union(ground.region, bar.region).area
        assert measure.area(made.outline) == pytest.approx(expected, rel=1e-3)

    def test_an_outer_edge_grows_by_what_is_welded_to_it(self):
        ground = shape(disc(0, 0, 20), FLATNESS_MM)
        made = welded_to_edges(ground, [shape(rectangle(15, -3, 20, 6), FLATNESS_MM)], [0])
        assert measure.box(made.outline).right == pytest.approx(35)

    def test_both_edges_of_a_ring(self):
        ground = shape(ring(0, 0, 40, 34), FLATNESS_MM)
        made = welded_to_edges(ground, [shape(rectangle(-50, -3, 100, 6), FLATNESS_MM)], [0, 1])
        assert (len(shapely.get_parts(made.region)), made.region.is_valid) == (1, True)

    def test_running_over_another_edge_is_refused_in_words(self):
        ground = self.target()
        areas = measure.contour_areas(ground.outline)
        hole = int(np.flatnonzero(areas < 0)[0])
        with pytest.raises(Problem, match="not chosen") as told:
            welded_to_edges(ground, [shape(rectangle(-36, -22, 72, 6), FLATNESS_MM)], [hole])
        assert told.value.todo

    @pytest.mark.parametrize("edges", [(), (99,)])
    def test_no_edge_is_said(self, edges):
        with pytest.raises(Problem, match="edge"):
            welded_to_edges(self.target(), [shape(disc(0, 0, 3))], edges)

    def test_in_a_design_contacts_with_the_edge_are_seams_with_a_neck(self):
        tag = ShapePart(id="r", form="ring", width_mm=80.0, height_mm=80.0, values={"width": 0.15})
        bar = ShapePart(id="b", form="rectangle", width_mm=72.0, height_mm=6.0)
        made = whole(tag, bar, Combination(id="c", how="edges", members=("r", "b"), edges=(1,)))
        (contact,) = contacts(made)
        assert contact.state is State.JOINED
        assert contact.neck == pytest.approx(6.0, abs=0.3)


class TestContacts:
    def test_each_letter_that_stands_on_a_bar_is_a_seam(self):
        name = word("HI", "w", 30.0, place=Placement(0.0, 0.0))
        bar = ShapePart(id="b", form="rectangle", width_mm=40.0, height_mm=4.0, place=Placement(15.0, 1.0))
        found = contacts(whole(name, bar))
        assert [(c.one.display_name, c.other.display_name) for c in found] == [
            ("H", "rectangle"),
            ("I", "rectangle"),
        ]

    def test_parts_of_other_films_and_parts_apart_have_none(self):
        name = word("HI", "w", 30.0)
        bar = ShapePart(id="b", form="rectangle", width_mm=40.0, height_mm=4.0, place=Placement(15.0, 1.0))
        assert not contacts(whole(name, bar.model_copy(update={"film": "#000000"})))
        assert not contacts(whole(name, bar.model_copy(update={"place": Placement(15.0, 30.0)})))

    def test_what_is_cut_out_holds_to_nothing(self):
        made = whole(plate("p", 60.0), word("HI", "w", 30.0, place=Placement(-15.0, 10.0)),
                     Combination(id="c", how="cut", members=("p", "w")))  # fmt: skip
        assert not contacts(made)


def test_dots_of_words_that_are_cut_out_are_holes_and_no_pieces():
    size = {"measure": "capitals", "mm": 12.0}
    dotted = {"id": "l", "text": "fini", "face": {"family": "pacifico"}, "size": size}
    disc = {"kind": "shape", "id": "d", "form": "disc", "width_mm": 120.0, "height_mm": 120.0}
    made = {"kind": "combination", "id": "c", "how": "cut", "members": ["d", "l"]}

    def loose(*parts):
        recipe = recipe_from({"format": "fulgen-recipe", "version": 8, "parts": list(parts)})
        return evaluate(recipe).loose_marks

    assert loose(dotted) == 2
    assert loose(disc, dotted, made) == 0


class TestBacking:
    def test_it_is_the_outline_grown_and_follows_where_its_part_goes(self):
        """Steiner's formula: A + P r + pi r² (1840)."""
        parts = (plate("p", 20.0, place=Placement(30.0, 5.0)), Backing(id="b", of="p", by_mm=3.0))
        made = whole(*parts)
        (back,) = [film for film in made.films if film.colour == "#C9A24A"]
        assert measure.area(back.shape.outline) == pytest.approx(math.pi * 13**2, rel=3e-4)
        assert made.part("b").box == pytest.approx((17.0, -8.0, 43.0, 18.0), abs=0.02)

    def test_its_distance_is_that_of_the_work_however_large_its_part_is_made(self):
        large = plate("p", 20.0, place=Placement(scale=3.0))
        made = whole(large, Backing(id="b", of="p", by_mm=3.0))
        assert made.part("b").box == pytest.approx((-33.0, -33.0, 33.0, 33.0), abs=0.03)

    @pytest.mark.parametrize(("holes", "count"), [("keep", 1), ("fill small", 1), ("fill all", 0)])
    def test_holes(self, holes, count):
        tag = ShapePart(id="r", form="ring", width_mm=60.0, height_mm=60.0)
        made = whole(tag, Backing(id="b", of="r", by_mm=2.0, holes=holes, fill_mm=5.0))
        (back,) = [film for film in made.films if film.colour == "#C9A24A"]
        assert back.pieces[0].holes == count

    def test_it_follows_when_the_name_changes(self):
        def width(text):
            name = Lettering(id="w", text=text, face=FaceChoice(family="anton"))
            made = whole(name, Backing(id="b", of="w"))
            left, _, right, _ = made.part("b").box
            return right - left

        assert width("Willow") > width("Will") + 10

    def test_shrunk_to_nothing_is_said(self):
        made = evaluate(Recipe(parts=(plate("p", 4.0), Backing(id="b", of="p", by_mm=-3.0))))
        assert "nothing of the part is left" in made.failures[0].problem.what

    def test_it_can_be_a_member_with_its_part(self):
        parts = (plate("p", 20.0), Backing(id="b", of="p", by_mm=3.0))
        made = whole(*parts, Combination(id="c", how="cut", members=("b", "p"), place=Placement(50.0, 0.0)))
        assert area(made) == pytest.approx(math.pi * (13**2 - 10**2), rel=2e-3)

    def test_in_a_combination_without_its_part_is_said(self):
        parts = (
            plate("p", 20.0),
            Backing(id="b", of="p"),
            plate("q", 5.0),
            Combination(id="c", members=("b", "q")),
        )
        made = evaluate(Recipe(parts=parts))
        assert "in a combination" in made.failures[0].problem.what


class TestLines:
    def test_a_line_that_stays_a_line_is_never_cut(self):
        line = LinePart(id="l", use="score", points=(PathPoint(0.0, 0.0), PathPoint(30.0, 0.0)))
        made = whole(plate("p", 20.0), line)
        assert area(made) == pytest.approx(100 * math.pi, rel=1e-3)
        assert [row.mark.use for row in made.marks] == ["score"]
        document = write_svg(made)
        assert document.count("<path") == 2
        assert document.count('<g id="score" fill="none"') == 1
        assert document.index('id="score"') < document.index('id="film-1"')
        assert "1 line is scored, and not cut" in document

    def test_lines_survive_a_weld(self):
        line = LinePart(id="l", use="draw")
        made = whole(plate("p", 20.0), line, Combination(id="c", members=("p", "l")))
        assert len(made.marks) == 1


def artwork(*items, **more):
    return Artwork(id="art", items=items, **more)


SQUARE = "M0 0L40 0L40 40L0 40Z"
WITHIN = "M10 10L30 10L30 30L10 30Z"


class TestArtwork:
    def test_contours_within_others_are_holes(self):
        made = build_artwork(artwork(ArtItem(SQUARE + WITHIN)))
        assert made.region.area == pytest.approx(1600 - 400)

    def test_a_contour_is_switched_off(self):
        made = build_artwork(artwork(ArtItem(SQUARE + WITHIN), contours={1: ContourChoice(off=True)}))
        assert made.region.area == pytest.approx(1600)

    def test_a_contour_gets_another_film(self):
        part = artwork(ArtItem(SQUARE), ArtItem(WITHIN), contours={1: ContourChoice(film="#00AA00")})
        made = whole(part)
        areas = {film.colour: film.shape.region.area for film in made.films}
        assert areas == {"#2B5674": pytest.approx(1600), "#00AA00": pytest.approx(400)}

    def test_its_own_colours_are_films(self):
        items = (ArtItem(SQUARE, "#112233"), ArtItem(WITHIN, "#AA0000"))
        assert len(whole(artwork(*items, colours="own")).films) == 2
        assert len(whole(artwork(*items)).films) == 1

    def test_a_small_gap_is_closed_and_a_large_one_stays_a_line(self):
        item = ArtItem("M0 0L40 0L40 40L0 40L0 0.5", line=True)
        line = build_artwork(artwork(item, close_mm=0.1))
        assert line.open_gaps == ((0, pytest.approx(0.5)),)
        assert line.region.area == 0
        assert build_artwork(artwork(item, close_mm=0.6)).region.area == pytest.approx(1600, rel=1e-3)

    def test_open_lines_become_bands(self):
        item = ArtItem("M0 0L40 0", line=True, width_mm=2.0)
        made = build_artwork(artwork(item, lines="band", ends="square"))
        assert made.region.area == pytest.approx(80, rel=1e-3)

    def test_doubles_are_told(self):
        made = build_artwork(artwork(ArtItem(SQUARE), ArtItem(SQUARE)))
        assert [c.double_of for c in made.contours] == [None, 0]

    def test_crossings_are_told_within_a_film_only(self):
        over = "M20 20L60 20L60 60L20 60Z"
        assert crossing_lines(build_artwork(artwork(ArtItem(SQUARE), ArtItem(over)))) == 1
        apart = artwork(ArtItem(SQUARE, "#112233"), ArtItem(over, "#AA0000"), colours="own")
        assert crossing_lines(build_artwork(apart)) == 0

    def test_it_is_stretched(self):
        made = build_artwork(artwork(ArtItem(SQUARE), across=2.0, down=0.5))
        assert made.region.area == pytest.approx(1600)
        assert made.region.bounds == pytest.approx((0, 0, 80, 20))

    def test_path_data_that_is_none_is_said(self):
        made = evaluate(Recipe(parts=(plate(), artwork(ArtItem("M0 0L1")))))
        assert "cannot be read" in made.failures[0].problem.what


class TestOrnaments:
    def test_every_glyph_that_draws_is_offered_and_made(self):
        face = shipped_face(FaceChoice(family="great-vibes"))
        found = glyphs_of(face)
        assert len(found) > 100
        for file, glyph in found[:: len(found) // 12]:
            part = Ornament(id="o", face=FaceChoice(family="great-vibes"), file=file, glyph=glyph)
            made = build_ornament(OrnamentInput(part, face))
            assert made.body.box.height == pytest.approx(40, rel=1e-3)
            assert name_of(face, file, glyph)

    def test_one_that_is_not_there_is_said(self):
        made = evaluate(Recipe(parts=(plate(), Ornament(id="o", glyph=65_000))))
        assert "no such ornament" in made.failures[0].problem.what


class TestALetterOfAnotherFilm:
    LAYERS = (ColourLayer("#2F6B4F", "M0 0H50V100H0Z"), ColourLayer("#8C2F39", "M50 0H100V100H50Z"))

    def test_a_stand_in_of_two_colours_is_these_and_leaves_nothing_under_them(self):
        stand_in = StandIn("flag", "M0 0H100V100H0Z", layers=self.LAYERS)
        part = word("HOH", "w", 60.0, letters={2: LetterChange(stand_in=stand_in)})
        made = whole(part)
        films = {film.colour: film.shape.region for film in made.films}
        assert set(films) == {"#2B5674", "#2F6B4F", "#8C2F39"}
        letter = made.part("w").built.layout.letters[1]
        box = letter.place.region(letter.form.region).bounds
        green, red = films["#2F6B4F"].bounds, films["#8C2F39"].bounds
        assert green[0] == pytest.approx(box[0], abs=0.01)
        assert red[2] == pytest.approx(box[2], abs=0.01)
        assert green[2] == pytest.approx(red[0], abs=0.01)
        middle = shapely.Point((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
        assert not films["#2B5674"].intersects(middle.buffer(1.0))

    def test_what_of_it_is_of_the_words_own_film_is_cut_from_that(self):
        own = (ColourLayer("#2B5674", "M0 0H50V100H0Z"), self.LAYERS[1])
        part = word("HOH", "w", 60.0, letters={2: LetterChange(stand_in=StandIn("flag", "M0 0H100V100H0Z",
                                                                                 layers=own))})  # fmt: skip
        assert {film.colour: len(film.pieces) for film in whole(part).films} == {"#2B5674": 3, "#8C2F39": 1}

    @pytest.mark.parametrize("family", ["pacifico", "kaushan-script"])
    def test_a_letter_is_cut_from_its_film_and_joined_to_nothing(self, family):
        part = word("Heron", "w", 80.0, family, join=JoinOptions(how="auto", tie=True))
        red = part.model_copy(update={"letters": {3: LetterChange(film="#8C2F39")}})
        made = whole(red)
        films = {film.colour: film for film in made.films}
        assert set(films) == {"#2B5674", "#8C2F39"}
        letter = made.part("w").built.layout.letters[2]
        assert films["#8C2F39"].shape.region.area == pytest.approx(
            letter.place.region(letter.form.region).area, rel=1e-3
        )
        # Two films hold nothing together: no seam is told of, and nothing ties the letter.
        assert not any(2 in (placed.seam.left, placed.seam.right) for placed in made.seams)
        assert not any(2 in tie.ends for tie in made.part("w").built.ties)

    def test_the_film_of_the_word_is_no_other_film(self):
        part = word("Heron", "w", 80.0, join=JoinOptions(how="auto"))
        same = part.model_copy(update={"letters": {3: LetterChange(film=part.film, apart=False)}})
        assert len(whole(same).films) == 1


class TestLimits:
    def test_a_ring_of_parts_is_said(self):
        parts = (Combination(id="a", members=("b",)), Combination(id="b", members=("a",)))
        with pytest.raises(Problem, match="in a ring"):
            evaluate(Recipe(parts=parts))

    def test_a_part_that_is_not_there_is_said(self):
        with pytest.raises(Problem, match="not there"):
            evaluate(Recipe(parts=(Combination(id="a", members=("gone",)),)))

    def test_a_part_in_two_places_is_said(self):
        parts = [{"kind": "shape", "id": "s", "form": "disc"}] + [
            {"kind": "combination", "id": n, "members": ["s"]} for n in "ab"
        ]
        with pytest.raises(Problem, match="in two combinations") as told:
            recipe_from({"format": "fulgen-recipe", "version": 5, "parts": parts})
        assert told.value.todo

    def test_too_many_parts_are_refused(self):
        parts = [{"kind": "shape", "id": f"s-{n}", "form": "disc"} for n in range(1000)]
        with pytest.raises(Problem) as told:
            recipe_from({"format": "fulgen-recipe", "version": 5, "parts": parts})
        assert told.value.what
        assert MAX_PARTS < 1000

    def test_a_kind_that_is_none_is_refused(self):
        with pytest.raises(Problem):
            recipe_from({"format": "fulgen-recipe", "version": 5, "parts": [{"kind": "spell", "id": "s"}]})

    def test_an_unknown_shape_is_said_and_the_rest_is_drawn(self):
        made = evaluate(Recipe(parts=(plate(), ShapePart(id="x", form="spell"))))
        assert "no shape called" in made.failures[0].problem.what
        assert len(made.pieces) == 1

    def test_all_kinds_come_back_from_their_stored_form(self):
        recipe = Recipe(
            parts=(
                word(), plate(), LinePart(id="l"), artwork(ArtItem(SQUARE)), Ornament(id="o", glyph=40),
                Backing(id="b", of="word"), plate("x", 5.0), Combination(id="c", members=("plate", "x")),
            )
        )  # fmt: skip
        assert read_recipe(recipe.stored()) == recipe

    def test_lettering_without_words_beside_others_is_no_problem(self):
        made = whole(word(""), plate())
        assert len(made.pieces) == 1

    def test_findings_look_at_parts_of_every_kind(self):
        thin = ShapePart(id="t", form="rectangle", width_mm=40.0, height_mm=0.3, place=Placement(0.0, 40.0))
        found = findings(whole(plate(), thin))
        assert any("rectangle" in f.what("mm") for f in found)


def test_a_place_on_a_member_goes_where_the_combination_goes():
    name = word("Tern", "w", 30.0)
    parts = (name, plate("p", 10.0), Combination(id="c", members=("w", "p"), place=Placement(0.0, 0.0)))
    made = whole(*parts)
    anchor = made.part("w").anchor(5.0, -5.0)
    assert isinstance(anchor, Anchor)
    moved = (*parts[:2], replace_place(parts[2], Placement(100.0, 7.0)))
    assert whole(*moved).part("w").find(anchor) == pytest.approx((105.0, 2.0), abs=1e-3)


def replace_place(part, place):
    return part.model_copy(update={"place": place})


def test_placements_within_each_other_agree_with_points():
    inner, outer = Placement(3, 4, turn=20, scale=2, flip=True), Placement(-5, 1, turn=-70, scale=0.5)
    both = inner.within(replace(outer))
    assert both.point(2, 9) == pytest.approx(outer.point(*inner.point(2, 9)))
