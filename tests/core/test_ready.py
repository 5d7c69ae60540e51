"""Made ready: what a material would not hold is mended, all else stays; measured with shapely alone."""

import pytest
import shapely

from fulgen.geometry import polygons
from fulgen.geometry.outline import Outline
from fulgen.geometry.weld import clean, weld
from fulgen.joining.materials import Limits
from fulgen.parts.built_part import SourceOfShape
from fulgen.parts.ready import LeftSpot, ReadyRequest, make_ready
from fulgen.readiness.findings import blocking, findings
from fulgen.readiness.gate import stops
from fulgen.readiness.joints import Holding, joints
from fulgen.readiness.mend_summary import counted_mends, counts, mended
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from tests.figures import disc

LIMITS = Limits(neck_mm=0.8, stroke_mm=0.6, hole_mm=1.0, piece_mm=1.5, gap_mm=0.3)


def box(x0, y0, x1, y1):
    return clean(Outline.polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)]), 0.01)


def plate(*holes, width=20.0, height=10.0):
    """A plate with holes in it, drawn as one."""
    contours = [[(0, 0), (width, 0), (width, height), (0, height)]]
    contours += [[(x, y), (x, y + h), (x + w, y + h), (x + w, y)] for x, y, w, h in holes]
    return clean(Outline.joined(Outline.polygon(c) for c in contours), 0.01)


def made_ready(shape, **left):
    return make_ready(ReadyRequest(shape, "test", LIMITS, **left))


def ways(made):
    return [(mend.kind, mend.way) for mend in made.mends]


def word(text, family="great-vibes", mm=25.0, **more):
    part = {
        "id": "word", "text": text, "face": {"family": family},
        "size": {"measure": "capitals", "mm": mm}, "join": {"how": "auto"},
    }  # fmt: skip
    return {"format": "fulgen-recipe", "version": 9, "parts": [part], **more}


class TestHoles:
    def test_between_shapes_a_small_one_is_filled(self):
        frame = [box(0, 0, 10, 4), box(0, 4.5, 10, 9), box(0, 3, 4.7, 5), box(5.3, 3, 10, 5)]
        named = [shape.named(SourceOfShape("part", n)) for n, shape in enumerate(frame)]
        made = made_ready(weld(named))
        assert ways(made) == [("hole", "filled")]
        assert polygons.count(made.shape.region) == (1, 0)

    def test_a_letters_own_is_opened_where_its_strokes_are_thick_enough(self):
        letter = plate((8, 4, 0.8, 3)).named(SourceOfShape("word", 0))
        made = made_ready(letter)
        assert ways(made) == [("hole", "opened")]
        (hole,) = polygons.holes_of(made.shape.region)
        assert not shapely.buffer(hole, -0.499).is_empty

    def test_and_filled_where_it_would_become_another_one(self):
        letter = plate((8, 4, 0.3, 0.3)).named(SourceOfShape("word", 0))
        assert ways(made_ready(letter)) == [("hole", "filled")]

    def test_and_filled_where_the_strokes_around_it_give_too_little(self):
        letter = plate((0.61, 4, 0.8, 3)).named(SourceOfShape("word", 0))
        assert ways(made_ready(letter)) == [("hole", "filled")]

    def test_a_large_one_stays_to_the_last_point(self):
        shape = plate((8, 4, 2, 2))
        made = made_ready(shape)
        assert made.mends == ()
        assert made.shape is shape


class TestGaps:
    def test_a_slit_is_closed(self):
        comb = clean(Outline.polygon([(0, 0), (20, 0), (20, 10), (9.26, 10), (9.26, 4), (9, 4), (9, 10),
                                      (0, 10)]), 0.01)  # fmt: skip
        made = made_ready(comb)
        assert ways(made) == [("gap", "closed")]
        assert made.mends[0].was == pytest.approx(0.26, abs=0.02)
        assert made.shape.region.area == pytest.approx(200, rel=2e-3)

    def test_a_bay_that_comes_to_a_point_is_none(self):
        bay = clean(Outline.polygon([(0, 0), (20, 0), (20, 10), (11, 10), (10, 2), (9, 10), (0, 10)]), 0.01)
        assert made_ready(bay).mends == ()

    def test_two_edges_that_almost_touch_are_one(self):
        made = made_ready(weld([box(0, 0, 10, 4), box(0, 4.2, 10, 8)]))
        assert ways(made) == [("gap", "closed")]
        assert polygons.count(made.shape.region) == (1, 0)


class TestPieces:
    def test_one_that_is_nearly_large_enough_is_made_larger(self):
        made = made_ready(weld([box(0, 0, 10, 4), box(4, 6, 5.3, 7.3)]))
        assert ways(made) == [("piece", "larger")]
        small = min(shapely.get_parts(made.shape.region), key=lambda p: p.area)
        assert not shapely.buffer(small, -0.749).is_empty

    def test_a_smaller_one_is_tied_to_its_neighbour(self):
        made = made_ready(weld([box(0, 0, 10, 4), box(4, 5, 4.6, 5.6)]))
        assert ("piece", "tied") in ways(made)
        assert polygons.count(made.shape.region)[0] == 1

    def test_one_far_away_is_left_out_and_said(self):
        made = made_ready(weld([box(0, 0, 10, 4), box(4, 25, 4.5, 25.5)]))
        assert ways(made) == [("piece", "left out")]
        assert polygons.count(made.shape.region) == (1, 0)

    def test_a_design_of_nothing_else_keeps_it(self):
        speck = box(0, 0, 0.4, 0.4)
        assert made_ready(speck).shape.region.area >= speck.region.area


class TestNecks:
    def test_one_between_two_notches_is_made_as_strong_as_the_material_asks(self):
        waist = clean(Outline.polygon([(0, 0), (8, 0), (10, 3.8), (12, 0), (20, 0), (20, 8), (12, 8),
                                       (10, 4.2), (8, 8), (0, 8)]), 0.01)  # fmt: skip
        made = made_ready(waist)
        assert {kind for kind, _ in ways(made)} == {"neck"}
        assert len(shapely.get_parts(shapely.buffer(made.shape.region, -0.985 * 0.4))) == 1
        assert len(shapely.get_parts(shapely.buffer(waist.region, -0.985 * 0.4))) == 2

    def test_it_grows_by_what_was_lacking_and_not_much_more(self):
        waist = clean(Outline.polygon([(0, 0), (8, 0), (10, 3.7), (12, 0), (20, 0), (20, 8), (12, 8),
                                       (10, 4.3), (8, 8), (0, 8)]), 0.01)  # fmt: skip
        added = shapely.difference(made_ready(waist).shape.region, waist.region)
        assert added.area < 1.0
        assert shapely.box(8.5, 2, 11.5, 6).covers(shapely.buffer(added, -0.002))


class TestLeftAsItIs:
    def both(self):
        return weld([box(0, 0, 10, 4), box(0, 4.2, 10, 8), box(4, 10, 5.3, 11.3)])

    def test_a_kind_is(self):
        assert ways(made_ready(self.both(), kinds_left=("gap",))) == [("piece", "larger")]
        assert ways(made_ready(self.both(), kinds_left=("piece", "gap"))) == []

    def test_a_place_is_and_others_of_its_kind_are_not(self):
        two = weld([box(0, 0, 10, 4), box(0, 4.2, 10, 8), box(0, 8.2, 10, 12)])
        left = made_ready(two, spots_left=(LeftSpot("gap", (5.0, 4.1), 0.5),))
        assert ways(left) == [("gap", "closed")]
        assert polygons.count(left.shape.region) == (2, 0)

    def test_a_place_of_another_kind_is_mended(self):
        left = made_ready(self.both(), spots_left=(LeftSpot("stroke", (4.6, 10.6), 2.0),))
        assert ("piece", "larger") in ways(left)


FACES = ("great-vibes", "pinyon-script", "alex-brush", "parisienne", "sacramento", "kaushan-script", "charm",
         "alfa-slab-one")  # fmt: skip


class TestWords:
    @pytest.mark.parametrize("family", FACES)
    @pytest.mark.parametrize(("text", "mm"), [("Rosalind", 25.0), ("Ditto", 15.0)])
    def test_nothing_blocks_the_cut_of_a_word_made_ready(self, family, text, mm):
        after = evaluate(recipe_from(word(text, family, mm, ready={}))).whole()
        assert [finding.what("mm") for finding in blocking(findings(after))] == []
        assert not any(stop.about == "findings" for stop in stops(after))
        assert all(joint.judgement.holding is not Holding.WEAK for joint in joints(after))

    def test_its_hairlines_hold_when_worn_and_did_not(self):
        before, after = (evaluate(recipe_from(word("Rosalind", **more))) for more in ({}, {"ready": {}}))

        def cores(evaluation):
            whole = shapely.union_all([cluster.shape.region for cluster in evaluation.clusters])
            parts = shapely.get_parts(shapely.buffer(whole, -0.29))
            return sum(part.area > 0.05 for part in parts)

        assert cores(before) > 5
        assert cores(after) == 2  # the word, and the dot of its i

    def test_it_looks_as_it_did(self):
        before, after = (evaluate(recipe_from(word("Rosalind", **more))) for more in ({}, {"ready": {}}))
        old, new = (shapely.union_all([c.shape.region for c in e.clusters]) for e in (before, after))
        assert new.area < 1.03 * old.area
        points = shapely.points(shapely.get_coordinates(new))
        holes = [mend.place for c in after.clusters for mend in c.mends if mend.kind == "hole"]
        outside = points[~shapely.contains(shapely.union_all([old, *holes]), points)]
        assert float(shapely.distance(outside, old).max()) < 0.3
        assert after.nodes < 1.1 * before.nodes
        # A thick stroke stays to the last point: a good part of the outline's nodes are where they were.
        kept = {tuple(p) for c in before.clusters for p in c.shape.outline.sides.cubics[:, 0].tolist()}
        now = {tuple(p) for c in after.clusters for p in c.shape.outline.sides.cubics[:, 0].tolist()}
        assert len(kept & now) > 0.3 * len(kept)

    def test_what_needs_no_mending_is_the_same_to_the_last_point(self):
        before, after = (
            evaluate(recipe_from(word("Heron", "pacifico", **more))) for more in ({}, {"ready": {}})
        )
        assert [c.shape.outline.digest for c in before.clusters] == [
            c.shape.outline.digest for c in after.clusters
        ]
        assert counts(after) == {}

    def test_it_is_done_anew_for_another_material(self):
        film, card = (
            evaluate(recipe_from(word("Rosalind", ready={}, material={"name": name})))
            for name in ("Iron-on film", "Card")
        )
        assert counts(film)["stroke"] < counts(card)["stroke"]
        assert blocking(findings(card)) == ()

    def test_what_is_mended_is_told_kind_by_kind_and_place_by_place(self):
        after = evaluate(recipe_from(word("Rosalind", ready={})))
        told = mended(after)
        assert len(told) == sum(counts(after).values())
        assert any(one.what("mm").startswith("Thin stroke between s and o: 0.4") for one in told)
        assert counted_mends("stroke", counts(after)["stroke"]).endswith("thin strokes made heavier")
        assert all(one.at.part == "word" for one in told)

    def test_a_letter_that_is_a_brace_is_told_as_it_is(self):
        after = evaluate(recipe_from(word("{}", "pinyon-script", 8.0, ready={})))
        assert mended(after)
        assert all("{where}" not in one.what("mm") for one in mended(after))

    def test_a_place_left_as_it_is_goes_with_its_letter(self):
        after = evaluate(recipe_from(word("Rosalind", ready={})))
        place = next(one for one in mended(after) if one.kind == "stroke")
        at = {name: value for name, value in vars(place.at).items() if value not in (None, "")}
        left = {"places_left": [{"kind": "stroke", "at": at}]}
        for turn in (0.0, 40.0):
            raw = word("Rosalind", ready=left)
            raw["parts"][0]["place"] = {"turn": turn, "x": 7.0}
            again = evaluate(recipe_from(raw))
            assert counts(again)["stroke"] == counts(after)["stroke"] - 1
            assert "hairline" in {finding.kind for finding in blocking(findings(again))}

    def test_a_place_on_a_part_that_is_gone_changes_nothing(self):
        gone = {"places_left": [{"kind": "stroke", "at": {"part": "other", "x": 0.1, "y": 0.1}}]}
        assert counts(evaluate(recipe_from(word("Rosalind", ready=gone)))) == counts(
            evaluate(recipe_from(word("Rosalind", ready={})))
        )


class TestParts:
    @pytest.mark.parametrize("text", ["Tern", "Heron", "Sedge"])
    def test_letters_that_barely_stand_on_a_bar_hold_to_it(self, text):
        """0.12 mm of their feet lie on it, as round as they are: each is a joint that would tear, though the
        others hold the word."""
        raw = word(text, "pacifico")
        raw["parts"].append({"id": "bar", "kind": "shape", "form": "bar", "width_mm": 140.0, "height_mm": 6.0,
                             "place": {"x": 60.0, "y": 3.12}})  # fmt: skip
        before, after = (evaluate(recipe_from({**raw, **more})).whole() for more in ({}, {"ready": {}}))
        weak = [joint for joint in joints(before) if joint.judgement.holding is Holding.WEAK]
        assert weak
        assert [finding.what("mm") for finding in blocking(findings(after))] == []
        assert all(joint.judgement.holding is not Holding.WEAK for joint in joints(after))


class TestFrames:
    @pytest.mark.parametrize(
        "form", ["name ring", "split initial", "on a bar", "banner plate", "stencil plate", "crew board"]
    )
    def test_a_name_in_a_frame_is_ready(self, form):
        name = {"id": "name", "text": "Poppy", "face": {"family": "courgette"},
                "join": {"how": "auto", "tie": True, "marks": "lower"}}  # fmt: skip
        frame = {"id": "frame", "kind": "frame", "form": form, "members": ["name"], "width_mm": 80.0}
        raw = {"format": "fulgen-recipe", "version": 9, "parts": [name, frame], "ready": {}}
        after = evaluate(recipe_from(raw)).whole()
        assert [finding.what("mm") for finding in blocking(findings(after))] == []


class TestAtTheGate:
    def test_a_word_in_pieces_is_asked_about_until_that_is_known(self):
        raw = word("Heron", "anton")
        raw["parts"][0]["join"] = {"how": "set"}
        (stop,) = stops(evaluate(recipe_from(raw)))
        assert (stop.about, stop.what) == ("loose", "“Heron” comes off in 5 pieces.")
        assert stops(evaluate(recipe_from({**raw, "cut": {"pieces_accepted": True}}))) == ()

    def test_a_dot_is_no_piece_of_a_word(self):
        assert stops(evaluate(recipe_from(word("Tim", "pacifico")))) == ()

    def test_what_would_tear_is_counted(self):
        (stop,) = stops(evaluate(recipe_from(word("Rosalind"))))
        assert stop.about == "findings"
        assert stop.what.endswith("too weak or too small for adhesive film.")


def test_a_ring_that_is_wide_enough_keeps_its_eight_curves():
    ring = clean(Outline.joined([disc(0, 0, 10), disc(0, 0, 7, hole=True)]), 0.01)
    assert made_ready(ring).shape is ring
