"""Sheets: designs laid on them in rows, what is refused, and how they are cut."""

import math
from dataclasses import replace
from itertools import pairwise
from types import SimpleNamespace

import numpy as np
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st
from shapely.ops import substring

from fulgen.cutter.blade import cut, trailed
from fulgen.cutter.cut_simulation import compare_with_promise, simulate_cut
from fulgen.formats.hpgl import read_strokes
from fulgen.formats.stroke_texts import stroke_texts
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.problem import Problem
from fulgen.recipe.cutting import CutPlan, LaidCopy
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from fulgen.sheet import nest
from fulgen.sheet.machines import MACHINES, machine
from fulgen.sheet.motifs import Motif, marks_around, motifs_of
from fulgen.sheet.nest import nested
from fulgen.sheet.plan import sheets_of
from fulgen.sheet.sheets import LaidMotif, Sheet, turning, turning_at
from fulgen.sheet.sheets import laid_out as laid_out_by
from fulgen.sheet.skyline import laid_by_skyline
from fulgen.sheet.verification import verify_job
from tests.figures import disc, rectangle, ring, shape

SHEET = Sheet(300, 200)


def laid_out(motifs, sheet, copies=1, **plan):
    return laid_out_by([replace(m, copies=copies) for m in motifs], lambda _film: sheet, CutPlan(**plan))


def motif(width=50.0, height=20.0, film="#A00000", design="a"):
    return Motif(design, film, shape(rectangle(7, -3, width, height)))


def boxes(laid):
    return [shapely.box(*piece.bounds) for piece in laid.promised]


def begun(path, share):
    """A path up to where so much of it is done."""
    line = shapely.LineString(path)
    return np.array(substring(line, 0, share, normalized=True).coords)


class TestLaidOut:
    @given(
        st.lists(st.tuples(st.integers(5, 290), st.integers(5, 190)), min_size=1, max_size=12),
        st.integers(1, 3), st.sampled_from([0.0, 3.0, 10.0]),
    )  # fmt: skip
    @settings(max_examples=40, deadline=None)
    def test_all_lie_inside_the_margins_and_apart(self, sizes, copies, spacing):
        sheets = laid_out([motif(*size) for size in sizes], Sheet(300, 200, 5, spacing), copies)
        assert sum(len(laid.motifs) for laid in sheets) == len(sizes) * copies
        inside = shapely.box(5, 5, 295, 195).buffer(1e-6)
        for laid in sheets:
            found = boxes(laid)
            assert all(inside.covers(box) for box in found)
            for n, box in enumerate(found):
                assert all(box.distance(other) >= spacing - 1e-6 for other in found[:n])
                assert all(box.intersection(other).area < 1e-6 for other in found[:n])

    def test_each_film_has_its_own_sheets(self):
        sheets = laid_out([motif(film="#A00000"), motif(film="#0000A0"), motif(film="#A00000")], SHEET)
        assert [(laid.film, len(laid.motifs)) for laid in sheets] == [("#A00000", 2), ("#0000A0", 1)]

    def test_copies_fill_one_sheet_after_the_other(self):
        # 5 in a row (5·50 + 4·3 = 262 of 290 mm), 8 rows (8·20 + 7·3 = 181 of 190 mm).
        sheets = laid_out([motif()], SHEET, copies=50)
        assert [len(laid.motifs) for laid in sheets] == [40, 10]
        assert sheets[0].used == pytest.approx(40 * 1000 / 60_000)

    def test_parts_of_a_design_keep_their_place(self):
        one = Motif("a", "#A00000", shape(Outline.joined([rectangle(0, 0, 10, 10), rectangle(30, 5, 4, 4)])))
        [laid] = laid_out([one], SHEET)
        left, right = sorted(laid.promised, key=lambda piece: piece.bounds[0])
        assert np.subtract(right.bounds[:2], left.bounds[:2]) == pytest.approx((30, 5))

    def test_what_is_too_large_is_told_with_what_would_fit(self):
        with pytest.raises(Problem, match=r"a is 400.0 mm × 20.0 mm, and 290.0 mm × 190.0 mm") as told:
            laid_out([motif(400)], SHEET)
        assert told.value.kind == "no-room"
        assert "make it 290.0 mm wide" in told.value.todo

    @pytest.mark.parametrize(
        "sheet", [Sheet(0, 200), Sheet(300, -1), Sheet(10, 200), Sheet(300, 200, 100), Sheet(1e9, 10)]
    )
    def test_a_sheet_that_cannot_be_cut_is_refused(self, sheet):
        with pytest.raises(Problem) as told:
            laid_out([motif(5, 5)], sheet)
        assert told.value.kind == "no-sheet"

    @pytest.mark.parametrize("copies", [0, -1, 501])
    def test_so_many_copies_are_refused(self, copies):
        with pytest.raises(Problem, match="copies") as told:
            laid_out([motif(1, 1)], SHEET, copies)
        assert told.value.kind == "too-many-copies"


class TestJob:
    @pytest.mark.parametrize("name", [m.name for m in MACHINES])
    def test_what_a_machine_cuts_is_what_was_promised(self, name):
        chosen = machine(name)
        [laid] = laid_out([Motif("a", "#A00000", shape(ring(0, 0, 20, 12)))], SHEET, copies=4)
        job = laid.job(chosen)
        came = simulate_cut(cut(job.paths, chosen.offset_mm), chosen.kerf_mm)
        assert compare_with_promise(laid.promised, came).is_kept
        assert [piece.area for piece in came.pieces] == pytest.approx([math.pi * (400 - 144)] * 4, rel=2e-3)

    def test_the_hole_is_cut_before_the_edge(self):
        [laid] = laid_out([Motif("a", "#A00000", shape(ring(0, 0, 20, 12)))], SHEET)
        spans = [np.ptp(path, axis=0)[0] for path in laid.job(machine("Laser")).paths]
        # Moved out by half the kerf of 0.15 mm: the hole gets smaller, the edge larger.
        assert spans == pytest.approx([24 - 0.15, 40 + 0.15], abs=0.01)

    def test_how_long_the_cut_is(self):
        [laid] = laid_out([Motif("a", "#A00000", shape(disc(r=10)))], SHEET)
        job = laid.job(machine("Drag knife that allows"))
        assert job.length_mm == pytest.approx(math.tau * 10 + 0.3, rel=1e-3)
        assert job.way_mm == pytest.approx(math.hypot(15, 15) - 10, abs=1.5)

    def test_the_way_between_goes_on_to_the_lines_that_help_weeding(self):
        [laid] = laid_out([Motif("a", "#A00000", shape(disc(r=10)))], SHEET, copies=2, boxes="each")
        job = laid.job(machine("Laser"))
        drawn = [np.zeros((1, 2)), *job.paths, *job.weeding_cuts]
        way = sum(math.dist(before[-1], after[0]) for before, after in pairwise(drawn))
        assert job.weeding_cuts
        assert job.way_mm == pytest.approx(way, abs=1.0)

    def test_an_unknown_machine_is_told(self):
        for name in ("", "Anvil", "Drag"):
            with pytest.raises(Problem, match="not a machine"):
                machine(name)


class TestRolls:
    def test_no_more_of_a_roll_is_taken_than_is_needed(self):
        roll = Sheet(120, 3000, 5, 3, roll=True)
        [laid] = laid_out([motif(50, 20)], roll, copies=5)
        # Two beside each other, three rows: 3·20 + 2·3, and the margins.
        assert laid.sheet.height_mm == pytest.approx(66 + 10)

    def test_a_roll_that_is_too_short_goes_on_with_the_next(self):
        sheets = laid_out([motif(50, 20)], Sheet(60, 100, 5, 3, roll=True), copies=5)
        assert [len(laid.motifs) for laid in sheets] == [4, 1]
        assert sheets[1].sheet.height_mm == pytest.approx(30)


class TestHandAndRows:
    def test_what_was_laid_lies_there_turned_about_its_middle(self):
        at = LaidCopy("#A00000", "", 0, "#A00000", 0, 100.0, 80.0, 90.0)
        [laid] = laid_out([motif(50, 20)], SHEET, laid=(at,))
        x, y, right, bottom = laid.promised[0].bounds
        assert (x, y, right, bottom) == pytest.approx((90, 55, 110, 105))

    def test_it_goes_onto_the_sheet_of_another_film_on_purpose(self):
        at = LaidCopy("#0000A0", "", 0, "#A00000", 0, 100.0, 80.0)
        [laid] = laid_out([motif(), motif(film="#0000A0")], SHEET, laid=(at,))
        assert laid.others == ["#0000A0"]
        assert len(laid.promised) == 2

    def test_a_sheet_that_nothing_lies_on_is_left_out(self):
        at = LaidCopy("#A00000", "", 0, "#A00000", 7, 100.0, 80.0)
        assert len(laid_out([motif()], SHEET, laid=(at,))) == 1


class TestMarks:
    def test_three_crosses_lie_beside_the_box_and_nowhere_else(self):
        box = Box(10, 20, 60, 40)
        marks = list(shapely.get_parts(marks_around(box).region))
        assert len(marks) == 3
        inside = shapely.box(box.x, box.y, box.right, box.bottom)
        assert all(mark.distance(inside) > 1 for mark in marks)
        # A film laid upside down or mirrored does not meet them again.
        places = {(mark.centroid.x < 10, mark.centroid.y < 20) for mark in marks}
        assert places == {(True, True), (False, True), (True, False)}

    def test_they_are_cut_as_pieces(self):
        whole = replace(motif(), marks=marks_around(motif().box))
        [laid] = laid_out([whole], SHEET, copies=2)
        assert (len(laid.promised), laid.mark_count) == (8, 6)
        assert verify_job(laid.promised, laid.job(machine("Laser")).strokes, machine("Laser"))[0].is_kept


class TestTurning:
    @pytest.mark.parametrize("heading", [0.0, 1.6, math.pi, -2.0])
    def test_however_the_knife_stands_before_all_comes_off(self, heading):
        knife = replace(machine("Drag knife that"), offset_mm=0.9, overcut_mm=0.9)
        [laid] = laid_out([motif(20, 10)], SHEET, copies=3)
        told, _ = verify_job(laid.promised, laid.job(knife).strokes, knife, heading)
        assert told.is_kept

    @given(st.floats(-math.pi, math.pi), st.integers(-180, 180).map(math.radians))
    @example(0.0, math.pi)
    @example(math.pi / 2, -math.pi / 2)
    def test_the_knife_is_turned_wherever_it_stood(self, wanted, before):
        [path] = turning_at(np.zeros(2), wanted, 0.25)
        _, heading = trailed(path, before, 0.25)
        assert abs(math.remainder(heading - wanted, math.tau)) < 0.001

    @given(st.lists(st.tuples(st.integers(0, 7), st.floats(0.02, 0.98)), min_size=1, max_size=4).map(sorted))
    @example([(1, 0.6)])  # the knife is left along the top of a rectangle, against the way it is turned to
    @settings(max_examples=30, deadline=None)
    def test_a_job_taken_up_where_it_was_broken_off_gives_what_was_promised(self, broken):
        knife = machine("Drag knife")
        [laid] = laid_out([motif(20, 10)], SHEET, copies=7)
        strokes = laid.job(knife).strokes
        sent = stroke_texts(strokes, laid.sheet, laid.promised, knife.offset_mm)
        done, taken_up = [], 0
        for number, share in [*broken, (len(strokes), 0.0)]:
            turn = read_strokes(f"IN;{sent[taken_up].turn}".encode(), "turn", laid.sheet.height_mm)
            done += [*turn, *strokes[taken_up:number]]
            if share:
                pen, path = strokes[number]
                done.append((pen, begun(path, share)))
            taken_up = number
        told, _ = verify_job(laid.promised, done, knife)
        assert told.is_kept

    def test_it_is_done_in_the_corner_that_is_farthest_from_all_pieces(self):
        [laid] = laid_out([motif(40, 20)], SHEET)
        [turn] = turning(laid.sheet, laid.promised, 0.0, 0.25)
        assert turn[:, 0].min() > 250
        assert turn[:, 1].min() > 150
        assert turning(laid.sheet, laid.promised, 0.0, 0.0) == []


class TestNesting:
    def shapes(self):
        rng = np.random.default_rng(3)
        outlines = [disc(r=float(r)) for r in rng.uniform(5, 20, 6)]
        outlines += [rectangle(0, 0, float(w), float(h)) for w, h in rng.uniform(8, 60, (8, 2))]
        # Two pieces that belong together: packed as one.
        outlines.append(Outline.joined([rectangle(0, 0, 20, 5), disc(40, 2, 4)]))
        return [Motif(f"{n}", "#A00000", shape(outline)) for n, outline in enumerate(outlines)]

    @pytest.mark.parametrize("turns", ["none", "half", "any"])
    def test_nothing_overlaps_the_room_is_kept_and_little_film_is_used(self, turns):
        roll = Sheet(150, 2000, 5, 3, roll=True)
        motifs = self.shapes()
        [found] = nested([LaidMotif(m, 0, 0) for m in motifs], roll, turns, 1)
        assert sorted(one.motif.design for one in found) == sorted(m.design for m in motifs)
        regions = [one.whole.region for one in found]
        for n, region in enumerate(regions):
            assert all(region.distance(other) >= 3 - 1e-6 for other in regions[:n])
        x, y, right, bottom = shapely.total_bounds(regions)
        assert min(x, y) >= 5 - 1e-6
        assert right <= 145 + 1e-6
        assert turns != "none" or all(one.turn == 0 for one in found)
        assert turns != "half" or all(one.turn % 180 == 0 for one in found)
        [rows] = laid_out(motifs, roll)
        assert bottom + 5 <= rows.sheet.height_mm + 1e-6

    def test_what_the_packing_lays_too_near_is_not_taken(self, monkeypatch):
        """A solution in which all lie in one place."""
        asked = []

        def solved(strip, config):
            asked.append(strip)
            placed = [
                SimpleNamespace(id=item.id, rotation=0.0, translation=(40.0, -60.0))
                for item in strip.items
                for _ in range(item.demand)
            ]
            return SimpleNamespace(width=80.0, placed_items=placed)

        monkeypatch.setattr(nest, "_solved", solved)
        roll = Sheet(150, 2000, 5, 3, roll=True)
        [found] = nested([LaidMotif(m, 0, 0) for m in self.shapes()], roll, "none", 1)
        assert asked
        regions = [one.whole.region for one in found]
        for n, region in enumerate(regions):
            assert all(region.distance(other) >= 3 - 1e-6 for other in regions[:n])

    def test_what_does_not_fit_on_one_sheet_goes_onto_more(self):
        found = nested([LaidMotif(motif(60, 60), 0, 0, 0, n) for n in range(5)], Sheet(150, 150), "none", 1)
        assert sum(len(own) for own in found) == 5
        assert len(found) == 2
        for own in found:
            regions = [one.whole.region for one in own]
            assert all(shapely.box(5, 5, 145, 145).buffer(1e-6).covers(region) for region in regions)

    def test_what_time_is_too_short_for_lies_in_rows(self):
        wanted = [LaidMotif(motif(60, 60), 0, 0, 0, n) for n in range(40)]
        found = nested(wanted, Sheet(150, 150), "none", 1)
        assert sum(len(own) for own in found) == 40
        for own in found:
            regions = [one.whole.region for one in own]
            assert all(
                one.distance(other) >= 3 - 1e-6 for n, one in enumerate(regions) for other in regions[:n]
            )

    def test_a_part_larger_than_any_sheet_is_told(self):
        with pytest.raises(Problem, match="400"):
            nested([LaidMotif(motif(400, 20), 0, 0)], SHEET, "any", 1)


class TestHelps:
    def test_they_never_come_nearer_to_a_piece_than_the_clearance(self):
        [laid] = laid_out([motif(40, 20)], SHEET, copies=6, boxes="each", waste_lines=True, clearance_mm=1.5)
        assert laid.weeding_cuts
        pieces = shapely.union_all(laid.promised)
        for line in laid.weeding_cuts:
            assert shapely.distance(shapely.LineString(line), pieces) >= 1.5 - 0.01

    def test_large_waste_is_cut_through(self):
        [without] = laid_out([motif(20, 150), motif(250, 20, design="b")], SHEET, boxes="sheet")
        [laid] = laid_out(
            [motif(20, 150), motif(250, 20, design="b")], SHEET, boxes="sheet", waste_lines=True
        )
        assert len(laid.weeding_cuts) > len(without.weeding_cuts)


def test_names_with_lowered_dots_one_under_the_other_are_laid_and_cut():
    """Names over each other, as a name copied twice and changed: what is flattened has three sides at
    least."""
    joined = {"how": "auto", "marks": "lower"}
    parts = [
        {"id": f"part-{n}", "text": text, "face": {"family": "kaushan-script"}, "join": joined,
         "size": {"measure": "capitals", "mm": 20.0}, "place": {"x": 6.0 * n, "y": 12.0 * n}}
        for n, text in enumerate(("Anna", "Bjarne", "Celia"))
    ]  # fmt: skip
    evaluation = evaluate(recipe_from({"format": "fulgen-recipe", "version": 8, "parts": parts}))
    (laid,) = sheets_of("names", evaluation)
    assert len(laid.promised) == len(evaluation.pieces)
    assert laid.job(machine("drag knife")).strokes


class TestBySkyline:
    """Pieces laid by their profiles; distances and areas by GEOS."""

    @staticmethod
    def words(count):
        names = [f"{a}{b}{c}" for a in ("Bel", "Gwy", "Tam", "Jo", "Pe") for b in ("i", "lly", "na", "fo")
                 for c in ("th", "g", "den", "ra")]  # fmt: skip
        found = []
        for number, name in enumerate(names[:count]):
            part = {"kind": "lettering", "id": "w", "text": name, "join": {"how": "auto"}}
            recipe = recipe_from({"format": "fulgen-recipe", "version": 12, "parts": [part]})
            found += motifs_of(f"{number} {name}", evaluate(recipe), recipe.cut)
        return [LaidMotif(motif, 0.0, 0.0) for motif in found]

    @pytest.mark.parametrize("angles", [(0.0,), (0.0, 180.0), (0.0, 90.0, 180.0, 270.0)])
    def test_pieces_keep_their_distance_and_stay_on_their_sheets(self, angles):
        sheet = Sheet(300.0, 260.0, 5.0, 3.0)
        laid = laid_by_skyline(self.words(60), sheet.usable, 3.0, angles)
        assert sum(map(len, laid)) == 60
        usable = shapely.box(5, 5, 295, 255).buffer(1e-6)
        for there in laid:
            for one in there:
                assert one.turn in angles
                assert usable.covers(one.covers)
            for n, one in enumerate(there):
                assert all(one.covers.distance(other.covers) >= 3 - 1e-6 for other in there[:n])

    def test_it_takes_less_film_than_rows_and_the_same_for_the_same(self):
        sheet, words = Sheet(400.0, 5_000.0, 5.0, 3.0), self.words(80)
        (close,) = laid_by_skyline(words, sheet.usable, 3.0, (0.0, 180.0))
        rows = laid_out_by([one.motif for one in words], lambda _film: sheet)
        reach = max(one.covers.bounds[3] for one in close)
        assert reach < 0.95 * sum(one.reach_mm for one in rows)
        (again,) = laid_by_skyline(words, sheet.usable, 3.0, (0.0, 180.0))
        assert [(one.x, one.y, one.turn) for one in again] == [(one.x, one.y, one.turn) for one in close]
