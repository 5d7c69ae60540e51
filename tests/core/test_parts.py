"""Parts: each made in its own frame, kept under what it depends on, and failing by itself."""

import math
from dataclasses import replace

import pytest

from fulgen.bounded import clear_all_caches
from fulgen.formats.svg import write_svg
from fulgen.geometry import measure
from fulgen.geometry.placement import Placement
from fulgen.joining.anchors import Anchor, Place
from fulgen.joining.bars import Bar, Underline
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.line_of_letters import LineOfLetters
from fulgen.joining.seam import State
from fulgen.lettering.bodies import body_and_marks
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.letters import LetterChange
from fulgen.lettering.setting import Size
from fulgen.lettering.stand_ins import StandIn
from fulgen.parts.lettering import Lettering
from fulgen.parts.touchups import TouchUp
from fulgen.problem import Problem
from fulgen.readiness.findings import findings
from fulgen.recipe.changes import with_accepted, with_touch_ups
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.graph import in_order
from fulgen.recipe.model import MAX_ACCEPTED_FINDINGS, MAX_TOUCH_UPS, AcceptedFinding, Recipe
from tests.figures import rectangle, shape


def lettering(text="Tern", part_id="one", x=0.0, y=0.0, face="anton", **more):
    place = more.pop("place", Placement(x, y))
    return Lettering(text=text, id=part_id, face=FaceChoice(family=face), place=place, **more)


THREE = (lettering("Tern", "one"), lettering("Egret", "two", y=60), lettering("Heron", "three", y=120))


class TestKept:
    """What was built is kept under what it depends on, and nothing else: what is kept is the same object."""

    @pytest.fixture(autouse=True)
    def nothing_is_kept_yet(self):
        """Whatever ran before in this process: its values may fill what is kept, or be kept for others."""
        clear_all_caches()

    def evaluated(self, parts=THREE, **more):
        return evaluate(Recipe(parts=parts, **more))

    def built_anew(self, before, after):
        """Which parts were built, and which clusters welded, that were not before."""
        parts = {id(part.built) for part in before.parts}
        shapes = {id(cluster.shape) for cluster in before.clusters}
        return (
            [part.id for part in after.parts if id(part.built) not in parts],
            [[m.id for m in c.members] for c in after.clusters if id(c.shape) not in shapes],
        )

    def test_a_name_a_unit_a_mirror_a_film_and_an_accepted_finding_cost_nothing(self):
        before = self.evaluated()
        accepted = AcceptedFinding("mark", before.parts[0].anchor(1, -1), 2.0)
        for changed in (
            self.evaluated(unit="in"),
            self.evaluated(mirror=True),
            self.evaluated(accepted_findings=(accepted,)),
            self.evaluated(tuple(part.model_copy(update={"film": "#AA0000"}) for part in THREE)),
        ):
            assert self.built_anew(before, changed) == ([], [])

    def test_moving_a_part_builds_nothing_anew_and_welds_what_it_touches(self):
        before = self.evaluated()
        moved = THREE[2].model_copy(update={"place": Placement(7.5, 131)})
        assert self.built_anew(before, self.evaluated((*THREE[:2], moved))) == ([], [["three"]])

    def test_another_letter_builds_its_part_and_welds_it_only(self):
        before = self.evaluated()
        changed = THREE[1].model_copy(update={"letters": {2: LetterChange(dy=0.0123)}})
        after = self.evaluated((THREE[0], changed, THREE[2]))
        assert self.built_anew(before, after) == (["two"], [["two"]])

    def test_parts_apart_are_clusters_of_their_own_and_parts_that_meet_are_one(self):
        assert len(list(self.evaluated().clusters)) == 3
        near = THREE[1].model_copy(update={"place": Placement(0, 10)})
        assert len(list(self.evaluated((THREE[0], near, THREE[2])).clusters)) == 2


class TestFailing:
    """One failing part does not take the work away."""

    parts = (THREE[0], lettering("Жук", "two", y=60, face="sacramento"), THREE[2])

    def test_it_is_told_beside_that_part_and_the_others_are_there(self):
        evaluation = evaluate(Recipe(parts=self.parts))
        assert [part.id for part in evaluation.parts] == ["one", "three"]
        (failure,) = evaluation.failures
        assert (failure.parts, failure.problem.kind) == (("two",), "missing-letters")
        assert len(evaluation.pieces) == 9
        assert {seam.built.lettering.id for seam in evaluation.seams} == {"one", "three"}
        assert {finding.at.part for finding in findings(evaluation)} == {"one", "three"}

    def test_a_file_is_refused_while_it_lasts(self):
        with pytest.raises(Problem, match="Sacramento has no"):
            write_svg(evaluate(Recipe(parts=self.parts)))

    def test_its_touch_ups_wait_and_are_not_lost(self):
        waiting = TouchUp("fill", Anchor("two", 0.1, 0.1, 1))
        assert evaluate(Recipe(parts=self.parts, touch_ups=(waiting,))).lost == ()

    def test_what_cannot_be_welded_is_told_beside_its_parts(self):
        crowded = tuple(
            lettering("mmmmmmmmmmmmmmmmmmmm\n" * 15 + "m", f"p{n}", line_spacing=0.3, face="pacifico")
            for n in range(3)
        )
        evaluation = evaluate(Recipe(parts=(*crowded, lettering(y=3000))))
        (failure,) = evaluation.failures
        assert failure.problem.kind == "too-crowded"
        assert failure.parts == ("p0", "p1", "p2")
        assert len(evaluation.pieces) == 4


class TestGraph:
    def test_each_part_comes_after_what_it_needs(self):
        needs = {"name": ["ring", "bar"], "ring": ["bar"], "bar": [], "alone": []}
        order = in_order(needs)
        assert sorted(order) == sorted(needs)
        assert all(order.index(other) < order.index(part) for part in needs for other in needs[part])

    def test_a_ring_of_needs_is_refused_in_words(self):
        with pytest.raises(Problem) as told:
            in_order({"a": ["b"], "b": ["c"], "c": ["a"], "d": []})
        assert told.value.kind == "cycle"
        assert all(f"“{part}”" in told.value.what for part in "abc")
        assert "“d”" not in told.value.what

    def test_a_need_that_is_not_there_is_named(self):
        with pytest.raises(Problem, match="“name” is made from “ring”, which is not there"):
            in_order({"name": ["ring"]})


class TestPlaced:
    """A part turned, flipped and made larger is the same part: only where it lies changes."""

    place = Placement(40, -20, 35, 1.5, flip=True)

    def pair(self, text="Otter", **more):
        part = lettering(text, face="courgette", join=JoinOptions(how="auto"), **more)
        turned = part.model_copy(update={"place": self.place})
        return evaluate(Recipe(parts=(part,))), evaluate(Recipe(parts=(turned,)))

    def test_areas_pieces_and_necks_are_as_before_grown_by_the_scale(self):
        plain, turned = self.pair()
        assert measure.area(turned.films[0].outline) == pytest.approx(
            1.5**2 * measure.area(plain.films[0].outline), rel=1e-4
        )
        assert len(turned.pieces) == len(plain.pieces)
        for one, other in zip(plain.seams, turned.seams, strict=True):
            assert other.neck == pytest.approx(1.5 * one.neck)
            assert other.state is one.state is State.JOINED
            for a, b in zip(one.ends, other.ends, strict=True):
                assert b == pytest.approx(self.place.point(*a))

    def test_an_anchor_is_found_where_it_was_laid(self):
        _, turned = self.pair()
        for at in [(30.0, -5.0), (60.0, 10.0)]:
            assert turned.parts[0].find(turned.parts[0].anchor(*at)) == pytest.approx(at, abs=1e-4)

    def test_a_bar_ties_two_parts_and_an_anchor_on_the_body_goes_with_it(self):
        parts = (lettering("O", "left"), lettering("O", "right", place=Placement(40, 3)))
        apart = evaluate(Recipe(parts=parts))
        ends = [part.anchor(*part.snapped(*at)) for part, at in zip(apart.parts, [(12, -12), (42, -12)])]
        assert [end.part for end in ends] == ["left", "right"]
        bar = Bar(*ends, width_mm=2.0)
        for place in (Placement(40, 3), Placement(55, -10, 20, 1.2)):
            moved = (parts[0], parts[1].model_copy(update={"place": place}))
            tied = evaluate(Recipe(parts=moved, bars=(bar,)))
            assert len(tied.pieces) == 1
            assert min(tied.bridges[0].necks) > 1.5
        on_body = Anchor("right", 0.5, 0.25)
        assert tied.parts[1].find(on_body) == pytest.approx(
            tied.parts[1].place.point(0.5 * tied.parts[1].built.size, 0.25 * tied.parts[1].built.size)
        )

    def test_places_of_different_kinds_are_different(self):
        places = {Place("a"), Place("a", 1), Place("a", None, 1), Place("b", 1)}
        assert len(places) == 4


class TestIdsAreNeverUsedAgain:
    """A touch-up or accepted finding of a letter is not done on another that takes its place."""

    def filled_o(self, text, ids, next_id):
        part = lettering("Ho", "one", letter_ids=(1, 2), size=Size(mm=40))
        made = evaluate(Recipe(parts=(part,)))
        o = made.letters[1][1]
        middle = o.form.box.x + o.form.box.width / 2
        fill = TouchUp("fill", made.parts[0].anchor(*o.place.point(middle, -0.35)))
        changed = lettering(text, "one", letter_ids=ids, next_letter_id=next_id, size=Size(mm=40))
        return evaluate(Recipe(parts=(changed,), touch_ups=(fill,)))

    def holes(self, evaluation):
        return sum(piece.holes for piece in evaluation.pieces)

    def test_the_counter_of_the_o_is_filled(self):
        done = self.filled_o("Ho", (1, 2), 3)
        assert (done.lost, self.holes(done)) == ((), 0)

    def test_that_of_a_d_typed_in_its_place_is_not(self):
        gone = self.filled_o("Hd", (1, 3), 4)
        assert (gone.lost, self.holes(gone)) == ((0,), 1)

    def test_not_even_if_the_id_were_used_again(self):
        gone = self.filled_o("Hd", (1, 2), 3)
        assert (gone.lost, self.holes(gone)) == ((0,), 1)

    def test_the_next_id_is_beyond_all_that_are_used(self):
        assert lettering("abc", letter_ids=(4, 9, 2)).next_letter_id == 10
        assert lettering("abc").next_letter_id == 4
        assert lettering("abc", next_letter_id=77).next_letter_id == 77


class TestText:
    def test_a_control_character_shifts_no_id(self):
        part = Lettering(text="A\vBC", letter_ids=(5, 6, 7, 8), letters={8: LetterChange(dy=0.1)})
        assert (part.text, part.letter_ids) == ("ABC", (5, 7, 8))
        assert list(part.changes) == [2]

    def test_an_accent_typed_apart_keeps_the_id_of_its_letter(self):
        part = Lettering(text="Zoe\u0308x", letter_ids=(1, 2, 3, 4, 5))
        assert (part.text, part.letter_ids) == ("Zoëx", (1, 2, 3, 5))


class TestLimits:
    def test_repairs_beyond_the_limit_are_refused_and_none_is_taken(self):
        touch_up = TouchUp("fill", Anchor("one", 0.1, 0.1, 1))
        full = Recipe(parts=THREE, touch_ups=(touch_up,) * (MAX_TOUCH_UPS - 10))
        with pytest.raises(Problem, match="300 repairs") as told:
            with_touch_ups(full, [touch_up] * 20)
        assert told.value.todo
        assert len(with_touch_ups(full, [touch_up] * 10).touch_ups) == MAX_TOUCH_UPS

    def test_so_are_accepted_findings(self):
        known = AcceptedFinding("hole", Anchor("one", 0.1, 0.1, 1), 0.5)
        full = Recipe(parts=THREE, accepted_findings=(known,) * MAX_ACCEPTED_FINDINGS)
        with pytest.raises(Problem, match="300 accepted findings"):
            with_accepted(full, known)

    def test_what_a_change_makes_is_held_to_the_model(self):
        recipe = Recipe(parts=THREE)
        far = TouchUp("move", Anchor("one", 0.1, 0.1, 1), dx=1e6)
        with pytest.raises(Problem, match="too large"):
            with_touch_ups(recipe, [far])


def test_small_lettering_beside_a_disc_as_large_as_a_door_keeps_its_counters():
    large = lettering(
        "O", "one", size=Size("height", 300), letters={1: LetterChange(stand_in=StandIn(shape="disc"))}
    )
    disc = evaluate(Recipe(parts=(large,)))
    corner = disc.box
    place = Placement(corner.right - 12, corner.y + corner.height - 8)
    small = lettering("oo", "two", face="pacifico", size=Size(mm=3), place=place)
    alone = evaluate(Recipe(parts=(small,)))
    together = evaluate(Recipe(parts=(large, small)))
    assert len(list(together.clusters)) == 1
    holes = sum(piece.holes for piece in alone.pieces)
    assert sum(piece.holes for piece in together.pieces) == holes == 2
    one, other, both = (measure.area(e.films[0].outline) for e in (disc, alone, together))
    assert both - one == pytest.approx(other, rel=0.02)


class TestSizeOfWhatIsCut:
    """The size asked for is that of all that is cut, underlines and bars included."""

    @pytest.mark.parametrize("beyond", [-3.0, 0.0, 5.0, 12.0])
    @pytest.mark.parametrize("style", ["bar", "swash"])
    def test_the_width_with_an_underline(self, beyond, style):
        line = Underline(style=style, beyond_mm=beyond)
        part = lettering(
            "Tern", face="pacifico", size=Size("width", 100), underline=line, join=JoinOptions(how="auto")
        )
        assert evaluate(Recipe(parts=(part,))).box.width == pytest.approx(100, abs=1e-3)

    def test_the_height_with_an_underline_below(self):
        line = Underline(thick_mm=6, over_mm=-8)
        part = lettering("TERN", size=Size("height", 60), underline=line)
        assert evaluate(Recipe(parts=(part,))).box.height == pytest.approx(60, abs=1e-3)

    def test_the_height_of_a_capital_is_that_of_a_capital(self):
        part = lettering("HT", size=Size("capitals", 20), underline=Underline(over_mm=-5))
        made = evaluate(Recipe(parts=(part,)))
        assert made.letters[0][1].form.box.height * made.parts[0].size == pytest.approx(20, rel=1e-3)

    def test_an_underline_wider_than_the_whole_is_refused_in_words(self):
        part = lettering("Tern", size=Size("width", 20), underline=Underline(beyond_mm=15))
        (failure,) = evaluate(Recipe(parts=(part,))).failures
        assert failure.problem.kind == "impossible-size"
        assert "underline" in failure.problem.todo


def test_looking_for_what_else_holds_a_line_grows_with_its_letters_not_with_their_square(monkeypatch):
    """120 letters with gaps: each body is laid on the line once, and not once for every seam."""
    laid = []
    real = LineOfLetters.seen_from
    monkeypatch.setattr(LineOfLetters, "seen_from", lambda self, *args: laid.append(1) or real(self, *args))

    def count(letters):
        laid.clear()
        part = lettering("N" * letters, spacing_mm=4.0, size=Size(mm=10))
        seams = evaluate(Recipe(parts=(part,))).seams
        assert all(seam.state is State.GAP for seam in seams)
        return len(laid)

    assert count(120) <= 2.5 * count(60)


class TestMarksOfHairlines:
    def test_the_foot_of_an_exclamation_mark_is_its_mark_however_large(self):
        """In a hairline script the dot weighs more than the stroke: the taller bit carries the foot."""
        stroke, foot = rectangle(0.0, -0.7, 0.012, 0.5), rectangle(-0.04, -0.08, 0.09, 0.08)
        region = shape(stroke, 1e-4).region.union(shape(foot, 1e-4).region)
        body, marks = body_and_marks("!", region)
        assert body.bounds[1] == pytest.approx(-0.7)
        assert marks.area == pytest.approx(0.09 * 0.08)


def test_what_a_letter_is_tells_its_body_not_its_glyph_alone(tmp_path):
    """Two signs drawn by one glyph of two bits: of the i the upper is a mark, of the H it is none."""
    from fulgen.lettering.faces import read_face
    from tests.fonts import two_signs_of_one_glyph

    path = tmp_path / "two.ttf"
    path.write_bytes(two_signs_of_one_glyph("i", "H"))
    face = read_face(path)
    for text in ("i", "H", "iH", "Hi"):
        part = Lettering(
            text=text, face=FaceChoice(family="two"), join=JoinOptions(how="auto", marks="lower")
        )
        evaluation = evaluate(Recipe(parts=(part,)), lambda _: face)
        marks = evaluation.parts[0].built.joined.marks
        assert sorted(marks) == [at for at, sign in enumerate(text) if sign == "i"], text


def test_figures_of_a_part_are_true_whatever_its_turn():
    part = lettering("I", size=Size("capitals", 30), place=Placement(turn=90))
    box = evaluate(Recipe(parts=(part,))).box
    upright = evaluate(Recipe(parts=(replace_place(part),))).box
    assert (box.width, box.height) == pytest.approx((upright.height, upright.width))
    assert math.isclose(box.width, 30, rel_tol=1e-3)


def replace_place(part):
    return part.model_copy(update={"place": replace(part.place, turn=0.0)})
