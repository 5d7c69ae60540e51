"""Sheets: designs laid on them in rows, what is refused, and how they are cut."""

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.cutter.blade import cut
from fulgen.cutter.comes_off import comes_off, compared
from fulgen.geometry.outline import Outline
from fulgen.problem import Problem
from fulgen.recipe.cutting import CutPlan
from fulgen.sheet.machines import MACHINES, machine
from fulgen.sheet.motifs import Motif
from fulgen.sheet.sheets import Sheet
from fulgen.sheet.sheets import laid_out as laid_out_by
from tests.figures import disc, rectangle, ring, shape

SHEET = Sheet(300, 200)


def laid_out(motifs, sheet, copies=1, **plan):
    return laid_out_by([replace(m, copies=copies) for m in motifs], lambda _film: sheet, CutPlan(**plan))


def motif(width=50.0, height=20.0, film="#A00000", design="a"):
    return Motif(design, film, shape(rectangle(7, -3, width, height)))


def boxes(laid):
    return [shapely.box(*piece.bounds) for piece in laid.promised]


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
        came = comes_off(cut(job.paths, chosen.offset_mm), chosen.kerf_mm)
        assert compared(laid.promised, came).is_kept
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

    def test_an_unknown_machine_is_told(self):
        for name in ("", "Anvil", "Drag"):
            with pytest.raises(Problem, match="not a machine"):
                machine(name)
