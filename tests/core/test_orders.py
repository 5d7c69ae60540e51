"""Orders: lists read, rows made, laid on sheets and handed out."""

import csv
import io
import json
import re
import zipfile
from pathlib import Path

import numpy as np
import openpyxl
import pypdfium2
import pytest
import shapely
import svgelements
from shapely import LineString

from fulgen.cli.run import main
from fulgen.orders.fields import fields_of, headings_of, matched
from fulgen.orders.laying import pick_list, pick_list_csv, sheets_of_order
from fulgen.orders.lists import MOST_LETTERS, MOST_ROWS, read_list, read_pasted
from fulgen.orders.numbers import numbered
from fulgen.orders.pick_page import write_pick_page
from fulgen.orders.plan import GiveWay, OrderPlan, OrderSheet, RowRoom
from fulgen.orders.proof import write_proof
from fulgen.orders.rows import recipe_of, rows_of
from fulgen.orders.working import worked_out
from fulgen.parts.lettering import Lettering
from fulgen.parts.ready import MEND_KINDS, Ready
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import read_recipe, recipe_from, to_store
from tests.names import NAMES as NAMES_BY_SYSTEM

ROOT = Path(__file__).parents[2]
HEADINGS = ("Name", "How many")
NAMES = [
    ["Name", "How many"],
    ["Zoë", "2"],
    ["Łukasz, jun.", "1"],
    ["Ann\nMarie", "3"],
    ["", ""],
    ["O'Hara", "1"],
]


def lettering(**more):
    part = {
        "kind": "lettering",
        "id": "name",
        "text": "Heron",
        "face": {"family": "pacifico"},
        "join": {"how": "auto"},
    }
    return {**part, **more}


def design(*parts, **more):
    whole = {"format": "fulgen-recipe", "version": 12, "parts": list(parts) or [lettering()], **more}
    return recipe_from(whole)


def ring(words="Heron"):
    return design(
        lettering(text=words, face={"family": "lobster"}, join={"how": "auto", "marks": "lower"}),
        {"kind": "frame", "id": "ring", "members": ["name"], "width_mm": 70.0, "height_mm": 70.0},
        ready={},
    )


RING = ring()


def rows(recipe, text, said=None):
    fields = fields_of(recipe)
    table = read_pasted(text, headings_of(fields))
    return rows_of(table, matched(table, fields, said))


NOTHING = GiveWay()


def on_sheets(width, height, **more):
    return OrderPlan(sheet=OrderSheet(width_mm=width, height_mm=height), spacing_mm=3.0, **more)


def made(recipe, text, give_way=NOTHING):
    return [worked_out(recipe, row, give_way) for row in rows(recipe, text)]


class TestLists:
    @pytest.mark.parametrize(
        "encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1250", "iso8859_2"]
    )
    @pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
    def test_csv_of_any_encoding_and_separator(self, encoding, separator):
        """Written by Python's csv module (RFC 4180): quoted cells hold separators and line ends."""
        out = io.StringIO()
        many = [*NAMES, *[[f"Zażółć gęślą jaźń {n}", "1"] for n in range(12)]]
        csv.writer(out, delimiter=separator).writerows(many)
        table = read_list(out.getvalue().encode(encoding), "crew.csv", HEADINGS)
        assert table.headings == ("Name", "How many")
        assert [list(cells) for _, cells in table.rows] == many[1:]

    @pytest.mark.parametrize(
        ("encoding", "names"),
        [
            ("cp1252", "Zoë François Jürgen Åsa Núñez Bjørn Élodie Grüße"), ("cp1252", "Zoë"),
            ("cp1250", "Łukasz Małgorzata Jiří Dvořák"), ("cp1251", "Иван Мария Сергей Ольга"),
            ("cp1253", "Γιώργος Ελένη Μαρία"), ("koi8_r", "Иван Мария Сергей Ольга"),
            ("mac_roman", "François Jürgen Zoë Núñez"),
        ],
    )  # fmt: skip
    def test_a_byte_a_letter(self, encoding, names):
        text = "Name\n" + names.replace(" ", "\n")
        table = read_list(text.encode(encoding), "crew.csv", HEADINGS)
        assert table.column(0) == names.split()

    def test_one_name_a_line_is_one_cell_whatever_it_holds(self):
        table = read_pasted("Maud, the elder\nJib & Tiller\nHeron")
        assert table.column(0) == ["Maud, the elder", "Jib & Tiller", "Heron"]
        assert table.headings == ("",)

    def test_cells_are_parted_by_what_most_rows_are_parted_by(self):
        table = read_pasted("Name;Boat\nMaud, the elder;Tern\nHeron;Sedge\nthe last one", HEADINGS)
        assert table.headings == ("Name", "Boat")
        assert table.column(0) == ["Maud, the elder", "Heron", "the last one"]

    def test_a_spreadsheet_is_what_its_cells_show(self, tmp_path):
        book = openpyxl.Workbook()
        for row in (["Name", "How many"], ["Zoë", 2], ["=1+1", 1.0], [None, None], ["Maud", None]):
            book.active.append(row)
        book.active["A3"].data_type = "s"
        book.create_sheet("Other").append(["not this"])
        book.save(tmp_path / "crew.xlsx")
        table = read_list((tmp_path / "crew.xlsx").read_bytes(), "crew.xlsx", HEADINGS)
        assert table.headings == ("Name", "How many")
        assert [cells for _, cells in table.rows] == [("Zoë", "2"), ("=1+1", "1"), ("", ""), ("Maud", "")]
        assert [number for number, _ in table.rows] == [2, 3, 4, 5]

    def test_a_formula_is_never_worked_out(self, tmp_path):
        book = openpyxl.Workbook()
        book.active.append(["Name"])
        book.active.append(['=CONCATENATE("He","ron")'])
        book.active.append(["Maud"])
        book.save(tmp_path / "crew.xlsx")
        table = read_list((tmp_path / "crew.xlsx").read_bytes(), "crew.xlsx", HEADINGS)
        assert table.column(0) == ["", "Maud"]

    def test_hostile_ones_are_refused_in_words(self):
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/workbook.xml", b"\0" * (70 * 2**20))
        refused = {
            "crew.xlsx holds more than a list may.": bomb.getvalue(),
            "crew.xlsx cannot be read as a spreadsheet.": b"PK\3\4 no archive",
            f"crew.xlsx has more than {MOST_ROWS:,} rows.": b"Maud\n" * (MOST_ROWS + 2),
            f"Row 1 of crew.xlsx has a cell of more than {MOST_LETTERS} letters.": b"M" * 10 * 2**18,
            "Row 1 of crew.xlsx has more than 40 cells.": b",".join([b"x"] * 41)
            + b"\n"
            + b",".join([b"y"] * 41),
            "crew.xlsx is larger than 8 MB.": b"Maud\n" * 2 * 2**20,
            "There are no rows in crew.xlsx.": b"\n \n\n",
            "crew.xlsx has headings and no rows.": b"Name,How many\n",
            "crew.xlsx is no list.": "Name\nMa\0ud".encode("utf-16"),
        }
        for what, data in refused.items():
            with pytest.raises(Problem) as problem:
                read_list(data, "crew.xlsx", HEADINGS)
            assert problem.value.what == what
            assert problem.value.todo


class TestFields:
    def test_columns_are_matched_by_their_headings(self):
        two = design(lettering(), lettering(id="boat", text="Otter"))
        table = read_pasted("qty;Surname;NAME;Shelf\n3;Reed;Maud;7", headings_of(fields_of(two)))
        matching = matched(table, fields_of(two))
        said = {table.headings[column]: (field.kind, field.part) for column, field in matching.columns}
        assert said == {"qty": ("copies", ""), "Surname": ("words", "boat"), "NAME": ("words", "name")}
        assert matching.unused == (3,)

    def test_without_headings_they_are_the_words_in_order(self):
        two = design(lettering(), lettering(id="boat", text="Otter"))
        (row,) = rows(two, "Maud\tHeron")
        assert row.words == "Maud Heron"
        assert [field.part for field in row.values] == ["name", "boat"]

    def test_a_column_is_what_somebody_says_it_is(self):
        (row,) = rows(design(), "Skipper,How many\nMaud,4", {"Skipper": "name"})
        assert (row.words, row.copies) == ("Maud", 4)

    def test_a_column_without_a_heading_is_meant_by_its_number(self):
        (row,) = rows(design(), "Boat,,How many\nTern,Maud,4", {"2": "name"})
        assert (row.words, row.copies) == ("Maud", 4)

    @pytest.mark.parametrize(
        ("said", "what"),
        [
            ({"Skipper": "name"}, "The list has no column “Skipper”."),
            ({"Name": "crew"}, "“crew” is nothing that a row can say."),
        ],
    )
    def test_what_is_not_there_is_said(self, said, what):
        with pytest.raises(Problem) as problem:
            rows(design(), "Name,How many\nMaud,1", said)
        assert problem.value.what == what

    def test_a_list_without_names_is_said(self):
        with pytest.raises(Problem, match="No column of the list is known to hold names"):
            rows(design(), "How many,Film\n3,Red")


class TestRows:
    def test_what_stands_there_twice_is_noted_and_stays(self):
        found = rows(design(), "Name\nZoë\nMaud\nZoë\nZoe \n\nHeron")
        assert [row.words for row in found] == ["Zoë", "Maud", "Zoë", "Zoe", "", "Heron"]
        assert [row.notes for row in found] == [
            (), (), ("The same as row 1.",), ("The same as row 1, but for spaces, capitals or accents.",),
            ("There is no name in this row.",), (),
        ]  # fmt: skip

    def test_each_field_is_in_the_design(self):
        (row,) = rows(RING, "Name,Film,Face,Size,How many\nMaud,Red,Pacifico,3 in,2")
        recipe = recipe_of(RING, row)
        word, ring = recipe.parts
        assert (word.text, word.face.family, word.film) == ("Maud", "pacifico", "#B03030")
        assert (ring.width_mm, ring.height_mm) == pytest.approx((76.2, 76.2))
        assert ring.film == "#B03030"
        assert row.copies == 2

    def test_a_film_is_that_of_what_the_words_are_cut_with(self):
        """A name cut out of a plate: the plate is red; a backing keeps its own film."""
        plate = design(
            {"kind": "shape", "id": "plate", "form": "rectangle", "width_mm": 90.0, "height_mm": 40.0},
            lettering(film="#111111", align="centre", size={"measure": "capitals", "mm": 10.0}),
            {"kind": "combination", "id": "cut", "how": "cut", "members": ["plate", "name"],
             "film": "#2F6B4F"},
            {"kind": "backing", "id": "back", "of": "cut", "film": "#C8932B"},
        )  # fmt: skip
        (row,) = made(plate, "Name,Film\nMaud,Red", GiveWay(ready=True))
        assert sorted(motif.film for motif in row.motifs) == ["#B03030", "#C8932B"], row.reasons

    def test_a_films_own_name_means_it(self):
        shop = design(cut={"stocks": [{"film": "#112233", "name": "Harbour blue"}]})
        (row,) = rows(shop, "Name,Film\nMaud,harbour BLUE")
        assert recipe_of(shop, row).parts[0].film == "#112233"

    def test_what_a_hand_did_to_letters_stays_with_those_that_stay(self):
        changed = {"1": {"scale": 1.5}, "5": {"scale": 0.8}}
        own = design(lettering(text="Heron", letters=changed, letter_ids=[1, 2, 3, 4, 5], next_letter_id=6))
        (row,) = rows(own, "Hero")
        (part,) = recipe_of(own, row).parts
        assert isinstance(part, Lettering)
        assert part.ids == (1, 2, 3, 4)
        assert part.letters == {1: own.parts[0].letters[1]}

    @pytest.mark.parametrize(
        ("row", "what"),
        [
            ("Maud,Purplish,,,1", "No film is called “Purplish”."),
            ("Maud,,Nosuch,,1", "There is no face called “Nosuch”"),
            ("Maud,,,wide,1", "“wide” is not a length."),
            ("Maud,,,,many", "“many” is not how many to cut."),
            ("Maud,,,,0", "“0” is not how many to cut."),
            ("東京,,,,1", "Lobster has no “東”"),
            (f"{'Maud' * 100},,,,1", "too small to cut"),
        ],
    )
    def test_a_row_that_is_wrong_is_its_own_failure(self, row, what):
        bad, good = made(RING, f"Name,Film,Face,Size,How many\n{row}\nMaud,,,,1")
        assert bad.state == "cannot-be-made"
        assert what in bad.reasons[0]
        assert not bad.motifs
        assert good.state == "as-designed"


class TestMade:
    def test_a_row_is_the_design_with_its_words(self):
        """Against the design evaluated by hand with these words."""
        (maud,) = made(RING, "Maud")
        by_hand = evaluate(ring("Maud"))
        assert maud.state == "as-designed"
        assert (maud.width_mm, maud.pieces) == (
            pytest.approx(by_hand.box.width, abs=1e-3),
            len(by_hand.pieces),
        )
        (motif,) = maud.motifs
        assert motif.shape.region.equals(by_hand.films[0].shape.region)

    def test_words_in_pieces_are_said_and_made_as_everywhere(self):
        set_apart = design(lettering(face={"family": "anton"}, join={"how": "set"}))
        (row,) = made(set_apart, "Maud")
        assert (row.state, row.reasons) == ("as-designed", ("“Maud” comes off in 4 pieces.",))
        assert row.pieces == 4

    def test_a_touch_up_that_finds_no_place_is_said(self):
        fill = {"kind": "fill", "at": {"part": "name", "letter": 1, "x": 5.0, "y": 5.0}, "size_mm": 1.0}
        (row,) = made(recipe_from({**json.loads(to_store(RING)), "touch_ups": [fill]}), "Maud")
        assert "Touch-up 1 (fill) no longer finds its place, and was left out." in row.reasons
        assert row.state == "gave-way"

    def test_a_fault_in_one_row_takes_no_other_along(self, monkeypatch):
        def broken(recipe, faces):
            if recipe.parts[0].text == "Maud":
                raise ZeroDivisionError
            return evaluate(recipe, faces)

        monkeypatch.setattr("fulgen.orders.working.evaluate", broken)
        bad, good = made(RING, "Maud\nPiers")
        assert (bad.state, bad.reasons) == (
            "cannot-be-made", ("Something went wrong inside Fulgen with this row.",),
        )  # fmt: skip
        assert good.motifs

    def test_what_the_designs_own_rules_did_is_told(self):
        (row,) = made(RING, "Willowmere-on-the-Water")
        assert row.state == "gave-way"
        assert any("made heavier" in reason for reason in row.reasons)

    def test_what_would_tear_cannot_be_made_unless_it_is_made_ready(self):
        thin = design(lettering(face={"family": "great-vibes"}, size={"measure": "capitals", "mm": 6.0}))
        (torn,), (mended,) = made(thin, "Maud"), made(thin, "Maud", GiveWay(ready=True))
        assert torn.state == "cannot-be-made"
        assert torn.reasons[0].endswith("Let it be made ready, or choose another face or size.")
        assert mended.state == "gave-way"
        # What is ready as far as it was let be is not told to be made ready.
        left = thin.model_copy(update={"ready": Ready(kinds_left=MEND_KINDS)})
        (torn,) = made(left, "Maud")
        assert torn.state == "cannot-be-made"
        assert torn.reasons[0].endswith(" mm. Choose another face or size.")

    @pytest.mark.parametrize(
        ("give_way", "said"),
        [
            (GiveWay(narrower=0.4, room=RowRoom(110.0, 200.0)), "Letters narrower by"),
            (GiveWay(smaller=0.45, room=RowRoom(110.0, 200.0)), "Smaller by"),
            (GiveWay(narrower=0.1, smaller=0.35, room=RowRoom(100.0, 200.0)), "Smaller by"),
            (GiveWay(two_lines=True, room=RowRoom(100.0, 200.0)), "In two lines."),
            (
                GiveWay(faces=("Big Shoulders Display",), room=RowRoom(130.0, 200.0)),
                "In Big Shoulders Display.",
            ),
        ],
    )
    def test_what_is_too_large_gives_way_until_it_fits(self, give_way, said):
        (as_it_is,) = made(design(), "Maud Heron", GiveWay(room=give_way.room))
        assert as_it_is.state == "cannot-be-made"
        assert "there is room for" in as_it_is.reasons[0]
        (row,) = made(design(), "Maud Heron", give_way)
        assert row.state == "gave-way"
        assert said in row.reasons[0]
        if told := re.search(r"Smaller by (\d+) %", row.reasons[0]):
            asked, given = (whole.parts[0].size.mm for whole in (design(), row.recipe))
            assert int(told[1]) == pytest.approx(100 * (1 - given / asked), abs=0.5)
        x0, y0, x1, y1 = shapely.total_bounds([motif.shape.region for motif in row.motifs])
        assert x1 - x0 <= give_way.room.width_mm + 0.05
        assert y1 - y0 <= give_way.room.height_mm + 0.05
        assert x1 - x0 >= 0.5 * give_way.room.width_mm

    def test_more_than_may_give_way_is_refused(self):
        (row,) = made(design(), "Maud Heron", GiveWay(narrower=0.05, smaller=0.05, room=RowRoom(40.0, 200.0)))
        assert row.state == "cannot-be-made"
        assert "Let it be narrower or smaller" in row.reasons[0]

    def test_what_fits_does_not_give_way(self):
        every = GiveWay(0.4, 0.4, True, ("Anton",), room=RowRoom(300.0, 300.0))
        (row,) = made(design(), "Maud", every)
        assert (row.state, row.reasons) == ("as-designed", ())


class TestSheets:
    def order(self, closely):
        worked = made(RING, "Name,Film,How many\nMaud,,2\nHeron,Red,1\n\nPiers,Red,3\n東京,,1")
        arrangement = "closely" if closely else "rows"
        sheets = sheets_of_order(worked, design(), on_sheets(300.0, 200.0, arrangement=arrangement))
        return worked, {f"sheet-{n}": sheet for n, sheet in enumerate(sheets, 1)}

    @pytest.mark.parametrize("closely", [False, True])
    def test_every_copy_is_on_a_sheet_of_its_film_once(self, closely):
        worked, sheets = self.order(closely)
        picks = [(one.row, one.copy, one.film) for one in pick_list(worked, sheets) if one.sheet]
        assert sorted(picks) == [
            (1, 1, "#2B5674"), (1, 2, "#2B5674"), (2, 1, "#B03030"),
            (4, 1, "#B03030"), (4, 2, "#B03030"), (4, 3, "#B03030"),
        ]  # fmt: skip
        for sheet in sheets.values():
            usable = shapely.box(5, 5, 295, 195).buffer(1e-6)
            assert all(usable.covers(piece) for piece in sheet.promised)
            for n, one in enumerate(sheet.promised):
                assert all(one.distance(other) >= 3 - 0.01 for other in sheet.promised[:n])
        assert sum(len(sheet.promised) for sheet in sheets.values()) == sum(
            w.pieces * w.row.copies for w in worked if w.motifs
        )

    @pytest.mark.parametrize("use", ["draw", "score"])
    @pytest.mark.parametrize("arrangement", ["rows", "closely"])
    def test_numbers_lie_in_the_waste_clear_of_every_piece(self, arrangement, use):
        # Rings with an eyelet: in staggered rows it lies between two others, where the corner of a box is.
        tagged = read_recipe((ROOT / "demo" / "piers-locker-ring.json").read_bytes())
        worked = made(tagged, "Maud\nAnsel\nTabitha\nRosalind\nCorwen\nElowen\nJago\nMerryn\nZoë\nWren")
        plan = on_sheets(300.0, 900.0, arrangement=arrangement, numbers=use)
        (sheet,) = sheets_of_order(worked, tagged, plan)
        outer = [shapely.Polygon(piece.exterior) for piece in sheet.promised]
        usable = shapely.box(5, 5, 295, 895).buffer(1e-6)
        numbers = [LineString(mark.outline.points) for one in sheet.motifs for mark in one.uncut]
        assert len(numbers) == 10
        for n, number in enumerate(numbers):
            assert usable.covers(number)
            assert min(shapely.distance(number, outer)) >= 1 - 1e-3
            assert all(number.distance(other) > 0.5 for other in numbers[:n])
        if arrangement == "rows":
            assert len({round(one.x) for one in sheet.motifs}) > 4  # they are staggered: film is saved

    def test_the_pick_list_has_every_row_in_order_and_no_formula(self):
        worked = made(RING, "Maud\n\n東京\n=SUM(A1)\n@Reed")
        (sheet,) = sheets_of_order(worked, design(), on_sheets(400.0, 200.0))
        sheets = {"one": sheet}
        found = list(csv.DictReader(io.StringIO(pick_list_csv(pick_list(worked, sheets)))))
        assert [row["row"] for row in found] == ["1", "2", "3", "4", "5"]
        assert [row["words"] for row in found] == ["Maud", "", "東京", "'=SUM(A1)", "'@Reed"]
        assert [row["sheet"] for row in found] == ["one", "", "", "one", "one"]
        assert "has no" in found[2]["reasons"]

    def test_the_proof_shows_every_name(self):
        """Read by PDFium."""
        worked = made(RING, "\n".join(["Maud", "Heron", "東京", *[f"Reed {n}" for n in range(9)]]))
        document = pypdfium2.PdfDocument(write_proof("Regatta", worked))
        pages = [page.get_textpage().get_text_range() for page in document]
        assert len(pages) == 2
        for row in worked[:2] + worked[3:10]:
            assert f"{row.row.number} {row.row.words}" in pages[0]
        assert "Reed 8" in pages[1]
        assert "has no" in pages[0]
        assert all("To be cut so" in page for page in pages)


def test_pages_name_everyone_in_their_own_letters():
    """Those of the proof and of the pick list, read by PDFium."""
    names = [words.split()[0] for words in NAMES_BY_SYSTEM.values()]
    worked = made(RING, "\n".join(names))
    for pdf in (write_proof("Regatta", worked), write_pick_page("Regatta", pick_list(worked, {}))):
        said = pypdfium2.PdfDocument(pdf)[0].get_textpage().get_text_range()
        assert [name for name in names if name not in said] == []


def test_a_number_in_a_corner_lies_clear_of_all_of_the_piece():
    """Over the foot of an L there is room, and beside it at the top; on the foot there is none."""
    letter = lettering(face={"family": "michroma"}, size={"measure": "capitals", "mm": 20.0})
    (row,) = made(design(letter), "L")
    (motif,) = row.motifs
    (mark,) = numbered(motif, 7, "draw").uncut
    line = LineString(mark.outline.points)
    assert line.distance(motif.shape.region) > 0.5
    assert motif.box.x <= line.bounds[0]
    assert line.bounds[3] <= motif.box.bottom


class TestProof:
    """The picture on the first card, painted by PDFium."""

    def inked(self, recipe, words):
        page = pypdfium2.PdfDocument(write_proof("Regatta", made(recipe, words)))[0]
        card = np.asarray(page.render(scale=3).to_pil().convert("L"))[:380, :890] < 160
        rows, columns = np.nonzero(card)
        return card[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]

    @pytest.mark.parametrize("mirror", [False, True])
    def test_what_is_cut_from_the_back_reads_as_it_will_be(self, mirror):
        """An L stands at the left all the way up, and at the right only its foot does."""
        letter = lettering(face={"family": "anton"}, join={"how": "set"})
        shown = self.inked(design(letter, mirror=mirror), "L")
        assert shown[:, : shown.shape[1] // 5].mean() > 0.9
        assert shown[: shown.shape[0] // 2, -shown.shape[1] // 5 :].mean() < 0.1

    def test_what_is_engraved_is_there(self):
        ring = {"kind": "shape", "id": "lid", "form": "ring", "width_mm": 60.0, "height_mm": 60.0}
        size = {"measure": "capitals", "mm": 10.0}
        name = lettering(face={"family": "anton"}, use="engrave", size=size, place={"x": -8.0, "y": 5.0})
        shown = self.inked(design(ring, name), "Maud")
        middle = shown[shown.shape[0] // 3 : -shown.shape[0] // 3, shown.shape[1] // 3 : -shown.shape[1] // 3]
        assert 0.1 < middle.mean() < 0.9


class TestCommandLine:
    @pytest.fixture
    def files(self, tmp_path):
        (tmp_path / "ring.json").write_text(to_store(RING), "utf-8")
        (tmp_path / "crew.csv").write_text("Name;How many;Film;Locker\nMaud;2;;7\nHeron;;Red;8\n", "utf-8")
        return tmp_path

    def run(self, capsys, *arguments):
        code = main([str(argument) for argument in arguments])
        return code, *capsys.readouterr()

    def test_a_list_becomes_sheets(self, capsys, files):
        """Read by svgelements."""
        code, out, err = self.run(
            capsys, "order", files / "ring.json", files / "crew.csv", "--sheet", "300mmx1m", "--to", "svg",
            "--proof", "-o", files / "out", "--report", files / "report.json",
        )  # fmt: skip
        assert code == 0, err
        assert "Name is Heron" in err
        assert "Locker is not used" in err
        assert "mm left at the end" in out
        made = sorted(path.name for path in (files / "out").iterdir())
        assert made == ["pick-list.csv", "proof.pdf", "ring-1-2B5674.svg", "ring-2-B03030.svg"]
        figures = json.loads((files / "report.json").read_text())
        assert [(row["row"], row["words"]) for row in figures["rows"]] == [(1, "Maud"), (2, "Heron")]
        assert {row["state"] for row in figures["rows"]} <= {"as-designed", "gave-way"}
        for sheet in figures["sheets"]:
            read = svgelements.SVG.parse(files / "out" / sheet["file"], ppi=96)
            paths = [one for one in read.elements() if isinstance(one, svgelements.Path)]
            assert len(paths) == sheet["promised"]

    def test_rows_that_cannot_be_made_are_named_and_the_others_written(self, capsys, files):
        (files / "crew.csv").write_text("Maud\n東京\nHeron\n", "utf-8")
        code, _, err = self.run(
            capsys,
            "order",
            files / "ring.json",
            files / "crew.csv",
            "--sheet",
            "300mmx1m",
            "-o",
            files / "out",
        )
        assert code == 2
        assert "row 2 “東京” cannot be made" in err
        assert "1 of 3 rows could not be made." in err
        with (files / "out" / "pick-list.csv").open(newline="") as picks:
            assert [row["sheet"] for row in csv.DictReader(picks)] == [
                "ring-1-2B5674.plt",
                "",
                "ring-1-2B5674.plt",
            ]

    @pytest.mark.parametrize(
        ("options", "what"),
        [
            (["--sheet", "wide"], "“wide” is not a size."),
            (["--sheet", "300mmx1m", "--machine", "Toaster"], "“Toaster” is not a machine."),
            (["--sheet", "300mmx1m", "--other-face", "Nosuch"], "There is no face called “Nosuch”."),
            (["--sheet", "300mmx1m", "--narrower", "80%"], "“80%” is not a share from 0% to 50%."),
            (["--sheet", "300mmx1m", "--field", "Name"], "“Name” is not a column and a field."),
            (["--sheet", "300mmx1m", "--field", "Boat=name"], "The list has no column “Boat”."),
            (["--sheet", "60mmx60mm"], "can be cut from this sheet"),
        ],
    )
    def test_what_is_wrong_is_said_and_nothing_written(self, capsys, files, options, what):
        code, _, err = self.run(
            capsys, "order", files / "ring.json", files / "crew.csv", *options, "-o", files / "out"
        )
        assert code == 2
        assert what in err
        assert not (files / "out").exists()

    def test_an_order_on_all_cores_is_the_same(self, capsys, files):
        (files / "crew.csv").write_text("\n".join(f"Reed {n}" for n in range(12)), "utf-8")
        code, _, err = self.run(
            capsys, "order", files / "ring.json", files / "crew.csv", "--sheet", "600mmx3m",
            "-o", files / "out", "--report", files / "report.json",
        )  # fmt: skip
        assert code == 0, err
        figures = json.loads((files / "report.json").read_text())
        alone = [worked_out(RING, row) for row in rows(RING, (files / "crew.csv").read_text())]
        assert [(row["width_mm"], row["pieces"]) for row in figures["rows"]] == [
            (o.width_mm, o.pieces) for o in alone
        ]
