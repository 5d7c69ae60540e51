"""The Cut stage's API: sheets and their checklist, files, tickets, what the shop knows, and jobs at a cutter
that is switched off, busy, unplugged, or out of film."""

import io
import json
import sqlite3
import zipfile
from contextlib import closing
from pathlib import Path
from uuid import UUID, uuid4

import pypdfium2
import pytest
import svgelements
from django.db import OperationalError

from designs.models import CutJob
from fulgen.cutter.blade import cut
from fulgen.cutter.cut_simulation import simulate_cut
from fulgen.formats.hpgl import read_hpgl
from tests.served import Server, until

HEART = {"kind": "shape", "id": "heart", "form": "heart", "film": "#8C2F39", "place": {"x": 60.0, "y": 60.0}}
DISC = {"kind": "shape", "id": "disc", "form": "disc", "film": "#C8932B", "width_mm": 40.0, "height_mm": 40.0}


def recipe(*parts, version=8, material="Adhesive film", mirror=False, **plan):
    return {
        "format": "fulgen-recipe", "version": version, "material": {"name": material}, "mirror": mirror,
        "parts": list(parts) or [HEART], "cut": plan,
    }  # fmt: skip


def stock(film="#8C2F39", **more):
    return {"film": film, **more}


def sheets(api, *parts, **more):
    status, told = api.post("/cut/sheets", {"name": "Tag", "recipe": recipe(*parts, **more)})
    assert status == 200, told
    return told


def points(told, about):
    return [(point["state"], point["what"]) for point in told["checklist"] if point["about"] == about]


class TestSheets:
    def test_each_film_has_its_sheets_and_copies(self, api):
        told = sheets(api, HEART, DISC, copies=12)
        assert [(s["film"], s["film_name"], s["number"], s["of"]) for s in told["sheets"]] == [
            ("#8C2F39", "Red", 1, 1), ("#C8932B", "Gold", 1, 1),
        ]  # fmt: skip
        assert [len(s["laid"]) for s in told["sheets"]] == [12, 12]
        assert sum(s["pieces"] for s in told["sheets"]) == 24
        assert points(told, "pieces") == [("good", "24 pieces are promised on 2 sheets.")]

    @pytest.mark.parametrize("marks", ["keep", "lower", "bridge"])
    def test_three_names_of_one_crew(self, api, marks):
        """Copies of a name, each changed to another: joined scripts whose marks are lowered."""
        names = [
            {
                "id": f"name-{n}", "text": text, "face": {"family": "kaushan-script"},
                "size": {"measure": "capitals", "mm": 20.0}, "join": {"how": "auto", "marks": marks},
                "place": {"x": x, "y": y},
            }
            for n, (text, x, y) in enumerate((("Anna", 0.0, 0.0), ("Bjarne", 6.0, 6.0), ("Celia", 9.0, 40.0)))
        ]  # fmt: skip
        told = sheets(api, *names)
        assert sum(s["pieces"] for s in told["sheets"]) >= 2
        assert all(sheet["laid"] for sheet in told["sheets"])

    def test_a_roll_is_as_long_as_is_needed(self, api):
        told = sheets(api, copies=3, stocks=[stock(roll=True, width_mm=100.0, height_mm=2000.0)])
        # Three hearts of 60 mm, 3 mm between, 5 mm at both ends.
        assert told["sheets"][0]["height_mm"] == pytest.approx(3 * 60 + 2 * 3 + 10, abs=0.1)

    def test_films_are_cut_together_on_purpose_and_told(self, api):
        told = sheets(api, HEART, DISC, stocks=[stock("#C8932B", name="Brass", onto="#8C2F39")])
        [sheet] = told["sheets"]
        assert sheet["others"] == ["Brass"]
        assert points(told, "guests") == [
            ("know", "Brass is cut with Red: lay the brass where its parts are.")
        ]

    @pytest.mark.parametrize(
        ("material", "mirror", "known", "state"),
        [
            ("Iron-on film", True, False, "good"),
            ("Iron-on film", False, False, "ask"),
            ("Iron-on film", False, True, "know"),
            ("Adhesive film", True, False, "ask"),
            ("Adhesive film", False, False, "good"),
        ],
    )
    def test_a_mirror_is_held_against_its_material(self, api, material, mirror, known, state):
        told = sheets(api, material=material, mirror=mirror, mirror_accepted=known)
        assert [point[0] for point in points(told, "mirror")] == [state]
        body = {"name": "Tag", "recipe": recipe(material=material, mirror=mirror, mirror_accepted=known)}
        status, answer = api.post("/cut/file", {**body, "kind": "svg", "sheet": 0})
        assert (status == 422) == (state == "ask")
        assert state != "ask" or answer["kind"] == "at-gate"

    def test_marks_lie_at_the_same_places_on_all_films(self, api):
        told = sheets(api, HEART, DISC, marks=True)
        red, gold = told["sheets"]
        assert red["marks"] == gold["marks"] == 3
        assert (red["laid"][0]["x"], red["laid"][0]["y"]) == (gold["laid"][0]["x"], gold["laid"][0]["y"])
        assert len({(m["width"], m["height"]) for m in told["motifs"]}) == 1

    def test_parts_by_themselves(self, api):
        other = {**HEART, "id": "other", "place": {"x": 300.0, "y": 0.0}}
        assert len(sheets(api, HEART, other, stocks=[stock(width_mm=500.0)])["sheets"][0]["laid"]) == 1
        assert len(sheets(api, HEART, other, together=False)["sheets"][0]["laid"]) == 2

    def test_other_designs_are_cut_from_the_same_sheets(self, api):
        _, other = api.post("/designs", {"name": "Brass disc", "recipe": recipe(DISC)})
        _, gone = api.post("/designs", {"name": "Gone", "recipe": recipe(DISC)})
        _, thin = api.post("/designs", {"name": "Thin", "recipe": recipe({
            "id": "a", "text": "Heron", "face": {"family": "allura"},
            "size": {"measure": "capitals", "mm": 4.0},
        })})  # fmt: skip
        api.call("DELETE", f"/designs/{gone['id']}", "")
        also = [{"design": other["id"], "copies": 3}]
        told = sheets(api, HEART, also=also)
        assert [(s["film"], len(s["laid"])) for s in told["sheets"]] == [("#8C2F39", 1), ("#C8932B", 3)]
        assert {m["name"] for m in told["motifs"]} == {"Tag", "Brass disc"}
        assert points(told, "others") == []
        told = sheets(api, HEART, also=[*also, {"design": gone["id"]}, {"design": thin["id"]}])
        assert {point[0] for point in points(told, "others")} == {"ask", "know"}
        body = {"name": "Tag", "recipe": recipe(HEART, also=[*also, {"design": thin["id"]}])}
        assert api.post("/cut/file", body)[1]["kind"] == "at-gate"
        status, nested = api.post("/cut/nest", {"name": "Tag", "recipe": recipe(HEART, also=also)})
        assert status == 200
        assert {row["design"] for row in nested["recipe"]["cut"]["laid"]} == {"", other["id"]}
        status, _ = api.post("/cut/file", {"name": "Tag", "recipe": nested["recipe"]})
        assert status == 200

    def laid(self, **more):
        return {"film": "#8C2F39", "part": "", "copy": 0, "sheet_film": "#8C2F39", "sheet": 0, **more}

    def test_what_a_hand_laid_stays_and_the_rest_goes_below(self, api):
        told = sheets(api, copies=2, laid=[self.laid(x=200.0, y=50.0, turn=90.0)])
        one, other = told["sheets"][0]["laid"]
        assert (one["x"], one["y"], one["turn"]) == (200.0, 50.0, 90.0)
        assert other["y"] > 100

    @pytest.mark.parametrize(
        ("laid", "about", "state"),
        [
            ([{"x": 10.0, "y": 10.0}], "outside", "blocks"),
            ([{"x": 100.0, "y": 100.0}, {"copy": 1, "x": 105.0, "y": 100.0}], "overlap", "blocks"),
            ([{"x": 100.0, "y": 100.0}, {"copy": 1, "x": 161.0, "y": 100.0}], "near", "know"),
        ],
    )
    def test_parts_in_the_wrong_place_are_told(self, api, laid, about, state):
        rows = [self.laid(**row) for row in laid]
        told = sheets(api, copies=len(rows), laid=rows)
        assert [point[0] for point in points(told, about)] == [state]

    def test_what_is_to_be_repaired_blocks_the_cut(self, api):
        word = {
            "id": "a",
            "text": "Heron",
            "face": {"family": "allura"},
            "size": {"measure": "capitals", "mm": 15.0},
        }
        told = sheets(api, word)
        assert points(told, "findings")[0][0] == "ask"
        body = {"name": "", "recipe": recipe(word)}
        status, answer = api.post("/cut/file", body)
        assert (status, answer["kind"]) == (422, "at-gate")
        assert "adhesive film" in answer["what"]
        status, _ = api.post("/cut/file", {**body, "anyway": True})
        assert status == 200

    def test_the_ticket_notes_what_was_cut_all_the_same(self, api):
        word = {"id": "a", "text": "Heron", "face": {"family": "allura"},
                "size": {"measure": "capitals", "mm": 4.0}}  # fmt: skip
        status, ticket = api.post("/cut/ticket", {"name": "Heron", "recipe": recipe(word)})
        assert status == 200
        with pypdfium2.PdfDocument(ticket) as document:
            text = "".join(page.get_textpage().get_text_range() for page in document)
        assert "too weak or too small for adhesive film" in " ".join(text.split())

    def test_lines_that_are_not_cut_lie_on_the_sheet(self, api):
        fold = {"id": "fold", "kind": "line", "course": "straight", "use": "score",
                "points": [{"x": -10.0, "y": 0.0}, {"x": 10.0, "y": 0.0}]}  # fmt: skip
        told = sheets(api, HEART, fold)
        (motif,) = told["motifs"]
        assert [line["use"] for line in motif["marks"]] == ["score"]
        assert ("know", "1 line is scored, and not cut.") in points(told, "uses")

    def test_films_that_look_alike_are_told(self, api):
        told = sheets(api, {**HEART, "film": "#2B5674"}, {**DISC, "film": "#1F4E6B"})
        ((state, what),) = points(told, "alike")
        assert state == "know"
        assert "#2B5674" in what
        assert "#1F4E6B look alike." in what
        assert points(sheets(api, HEART, DISC), "alike") == []

    def test_a_machine_too_small_for_the_sheet(self, api):
        told = sheets(api, machine="Laser", stocks=[stock(height_mm=500.0)])
        assert points(told, "area") == [("blocks", "Laser cuts 400.0 mm long, and a sheet is 500.0 mm.")]

    @pytest.mark.parametrize(
        ("plan", "kind", "says"),
        [
            ({"stocks": [stock(width_mm=50.0)]}, "no-room", "60.0 mm × 60.0 mm"),
            ({"stocks": [stock(width_mm=0.0)]}, "no-sheet", "0 × 300 mm cannot be cut"),
            ({"stocks": [stock(margin_mm=150.0)]}, "no-sheet", "leave nothing"),
            ({"copies": 501}, "bad-value", "500"),
            ({"copies": 0}, "bad-value", "1 or more"),
        ],
    )
    def test_what_cannot_be_laid_out_is_told(self, api, plan, kind, says):
        status, told = api.post("/cut/sheets", {"name": "Tag", "recipe": recipe(**plan)})
        assert (status, told["kind"]) == (422, kind)
        assert says in told["what"]

    def test_nothing_to_cut_yet(self, api):
        status, told = api.post("/cut/sheets", {"name": "", "recipe": recipe({"id": "a", "text": ""})})
        assert status == 422
        assert told["todo"]

    def test_a_close_arrangement_comes_as_a_recipe(self, api):
        body = {"name": "Tag", "recipe": recipe(copies=6, turns="half")}
        status, nested = api.post("/cut/nest", body)
        assert status == 200
        close = nested["recipe"]
        assert len(close["cut"]["laid"]) == 6
        assert close["cut"]["closely"]
        rows = sheets(api, copies=6)["sheets"][0]
        status, told = api.post("/cut/sheets", {"name": "Tag", "recipe": close})
        assert [p for p in told["checklist"] if p["state"] != "good"] == []
        assert (
            max(one["y"] for one in told["sheets"][0]["laid"]) <= max(one["y"] for one in rows["laid"]) + 0.5
        )

        def reach(plan):
            """How far down the sheet the file's outlines reach (svgelements)."""
            body = {"name": "Tag", "recipe": plan, "kind": "svg", "sheet": 0, "anyway": True}
            _, data = api.post("/cut/file", body)
            drawn = svgelements.SVG.parse(io.BytesIO(data), ppi=25.4)
            paths = [path for path in drawn.elements() if isinstance(path, svgelements.Path)]
            return max(path.bbox()[3] for path in paths)

        # Sheets have a margin of their own above what is laid there.
        assert nested["closely_mm"] == pytest.approx(reach(close), abs=0.1)
        in_rows = {**close, "cut": {**close["cut"], "laid": [], "closely": False}}
        assert nested["rows_mm"] == pytest.approx(reach(in_rows), abs=0.1)


class TestFiles:
    @pytest.mark.parametrize("kind", ["svg", "dxf", "dxf-r12", "pdf", "eps", "hpgl", "png"])
    def test_a_file_of_each_kind(self, api, kind):
        status, data = api.post("/cut/file", {"name": "Tag", "recipe": recipe(), "kind": kind, "sheet": 0})
        assert status == 200
        assert len(data) > 200

    def test_hpgl_gives_the_pieces(self, api):
        body = {"name": "Tag", "recipe": recipe(copies=5, boxes="none"), "kind": "hpgl", "sheet": 0}
        _, data = api.post("/cut/file", body)
        assert len(simulate_cut(cut(read_hpgl(data, "tag", 300), 0.25)).pieces) == 5

    def test_all_as_one_archive_with_the_ticket(self, api):
        body = {"name": "Zoë’s tag", "recipe": recipe(HEART, DISC, stocks=[stock(name="Ruby: red/shiny")])}
        status, data = api.post("/cut/file", body)
        assert status == 200
        names = zipfile.ZipFile(io.BytesIO(data)).namelist()
        assert len(names) == 2 * 3 + 1
        assert "Zoë-s-tag-Ruby-red-shiny.plt" in names
        assert "Zoë-s-tag-ticket.pdf" in names

    def test_all_that_a_machine_reads_has_a_name_of_its_own(self, api):
        knife = api.get("/machines")[1][0]["machine"]
        formats = ["hpgl", "svg", "dxf", "dxf-r12", "pdf", "eps", "png"]
        api.put("/machines", {"machine": {**knife, "formats": formats}})
        _, data = api.post("/cut/file", {"name": "Tag", "recipe": recipe()})
        names = zipfile.ZipFile(io.BytesIO(data)).namelist()
        assert len(names) == len(set(names)) == len(formats) + 1
        assert {"Tag-Red.dxf", "Tag-Red.r12.dxf"} <= set(names)

    def test_of_one_film_only(self, api):
        body = {"name": "Tag", "recipe": recipe(HEART, DISC), "kind": "svg", "film": "#C8932B"}
        _, data = api.post("/cut/file", body)
        assert b"#C8932B" in data
        assert b"#8C2F39" not in data

    def test_a_sheet_that_is_gone(self, api):
        body = {"name": "Tag", "recipe": recipe(), "kind": "svg", "sheet": 3}
        status, told = api.post("/cut/file", body)
        assert (status, told["kind"]) == (422, "no-sheet")


class TestFullDisk:
    def test_a_job_that_cannot_be_kept_is_told_and_nothing_is_lost(self, api, monkeypatch):
        body = {"name": "Tag", "recipe": recipe()}
        _, design = api.post("/designs", body)

        def full(**_):
            raise OperationalError("database or disk is full")

        asked = job_of(api, body, design["id"])
        monkeypatch.setattr(CutJob.objects, "get_or_create", full)
        status, told = api.post("/cut/job", asked)
        assert (status, told["kind"]) == (507, "disk-full")
        assert "Make room" in told["todo"]
        assert api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"] == design["recipe"]["parts"]
        assert api.get(f"/jobs?design={design['id']}") == (200, [])


def job_of(api, body, design, sheet=0):
    """What is sent to cut a sheet as it is shown."""
    status, told = api.post("/cut/sheets", body)
    assert status == 200, told
    key = told["sheets"][sheet]["key"]
    return {**body, "job": str(uuid4()), "design": design, "sheet": sheet, "key": key}


class TestOnlyWhatIsShownIsCut:
    @pytest.fixture
    def shown(self, api):
        """A design with another one on its sheet, and what is sent to cut that."""
        _, other = api.post("/designs", {"name": "Disc", "recipe": recipe({**DISC, "film": HEART["film"]})})
        body = {"name": "Heart", "recipe": recipe(also=[{"design": other["id"]}])}
        _, design = api.post("/designs", body)
        return other, job_of(api, body, design["id"])

    def is_refused(self, api, asked):
        status, told = api.post("/cut/job", asked)
        assert (status, told["kind"]) == (422, "other-sheet")
        assert "Nothing was cut" in told["todo"]
        assert not CutJob.objects.exists()

    def test_asked_for_twice_it_is_one_job(self, api, shown):
        _, asked = shown
        made = [api.post("/cut/job", asked) for _ in range(3)]
        assert made == [(201, {"id": asked["job"]})] * 3
        assert CutJob.objects.count() == 1
        _, told = api.post("/cut/sheets", {"name": asked["name"], "recipe": asked["recipe"]})
        assert CutJob.objects.get().key == told["sheets"][0]["key"]

    def test_not_when_a_design_on_the_sheet_was_changed_elsewhere(self, api, shown):
        other, asked = shown
        larger = {**other["recipe"], "parts": [{**other["recipe"]["parts"][0], "width_mm": 55.0}]}
        saved = {"name": other["name"], "recipe": larger, "based_on": other["revision"]}
        status, _ = api.put(f"/designs/{other['id']}", saved)
        assert status == 200
        self.is_refused(api, asked)

    def test_not_when_the_knife_was_changed_elsewhere(self, api, shown):
        _, asked = shown
        knife = api.get("/machines")[1][0]["machine"]
        status, _ = api.put("/machines", {"machine": {**knife, "offset_mm": knife["offset_mm"] + 0.1}})
        assert status == 200
        self.is_refused(api, asked)

    @pytest.mark.parametrize("sheet", [1, 7])
    def test_not_when_the_sheet_is_not_there(self, api, shown, sheet):
        self.is_refused(api, {**shown[1], "sheet": sheet})

    def test_old_jobs_go_only_where_they_have_ended(self, api, shown, monkeypatch):
        monkeypatch.setattr("designs.cutting.MOST_JOBS", 2)
        _, asked = shown
        states = ("paused", "done", "lost", "waiting", "no-film", "done", "stopped")
        for n, state in enumerate(states):
            status, _ = api.post("/cut/job", {**asked, "job": str(UUID(int=n + 1))})
            assert status == 201
            CutJob.objects.filter(pk=UUID(int=n + 1)).update(state=state)
        api.post("/cut/job", asked)
        kept = sorted(CutJob.objects.values_list("state", flat=True))
        assert kept == ["done", "lost", "no-film", "paused", "stopped", "waiting"]


class TestTicket:
    def test_it_says_all_that_goes_with_the_job(self, api):
        word = {"id": "a", "text": "Zoë Łucja", "face": {"family": "pacifico"}, "join": {"how": "auto"}}
        api.put("/press", {"material": "Iron-on film", "degrees": 150.0, "seconds": 15.0, "peel": "warm"})
        api.post(
            "/press/tests", {"material": "Iron-on film", "on": "2026-06-03", "words": "Scorched at 160 °C."}
        )
        body = {"name": "Zoë’s bag", "recipe": recipe(word, material="Iron-on film", mirror=True)}
        status, data = api.post("/cut/ticket", body)
        assert status == 200
        document = pypdfium2.PdfDocument(data)
        assert len(document) == 1
        assert document[0].get_size() == pytest.approx((595.3, 841.9), abs=0.5)
        text = " ".join(document[0].get_textpage().get_text_range().split())
        for words in ("Zoë’s bag", "Zoë Łucja", "Pacifico", "mirrored, cut from the back",
                      "150 °C (302 °F), 15 s", "peel warm", "Warning, 3 June 2026: Scorched at 160 °C.",
                      "shiny carrier side down",
                      "all pieces counted"):  # fmt: skip
            assert words in text, words


class TestShop:
    def test_a_note_that_failed_warns_the_next_time(self, api):
        assert points(sheets(api), "press") == []
        _, press = api.post(
            "/press/tests", {"material": "Adhesive film", "on": "2026-06-03", "words": "Tore at 5 mm."}
        )
        api.post("/press/tests", {"material": "Card", "on": "2026-06-03", "words": "Burnt."})
        api.post(
            "/press/tests", {"material": "Adhesive film", "on": "2026-06-04", "words": "Held.", "good": True}
        )
        assert points(sheets(api), "press") == [("know", "Adhesive film, 3 June: Tore at 5 mm.")]
        api.call("DELETE", f"/press/tests/{press['tests'][0]['id']}?material=Adhesive%20film", "")
        assert points(sheets(api), "press") == []

    @pytest.mark.parametrize(
        "wrong",
        [{"degrees": 900.0}, {"seconds": 0.0}, {"peel": "never"}, {"passes": 0}, {"cover": "x" * 200}],
    )
    def test_a_note_beyond_reason_is_refused(self, api, wrong):
        status, told = api.put("/press", {"material": "Card", **wrong})
        assert (status, told["kind"]) == (422, "bad-value")

    def test_a_number_that_is_none_is_told_as_that(self, api):
        status, told = api.put("/press", {"material": "Card", "degrees": float("nan")})
        assert (status, told["what"]) == (422, "“note.degrees” is not a number.")

    @pytest.mark.parametrize("day", [1_750_032_000, "1750032000", "3 June", "2026-02-30", None])
    def test_a_day_is_written_as_a_day(self, api, day):
        status, told = api.post("/press/tests", {"material": "Card", "on": day, "words": "Held."})
        assert (status, told["kind"]) == (422, "bad-value")
        assert "A day is written as 2026-06-03." in told["what"]

    def test_a_machine_keeps_its_profile(self, api):
        _, rows = api.get("/machines")
        knife = rows[0]["machine"]
        assert (knife["name"], knife["offset_mm"], rows[0]["is_default"]) == ("Drag knife", 0.25, True)
        _, rows = api.put("/machines", {"machine": {**knife, "offset_mm": 0.4}})
        assert (rows[0]["machine"]["offset_mm"], rows[0]["is_default"]) == (0.4, False)
        assert sheets(api)["machine"]["offset_mm"] == 0.4
        _, rows = api.put("/machines", {"machine": {**knife, "name": "Aft knife"}})
        assert rows[-1]["own"]
        api.call("DELETE", "/machines?name=Aft%20knife", "")
        _, rows = api.call("DELETE", "/machines?name=Drag%20knife", "")
        assert (rows[0]["machine"]["offset_mm"], rows[0]["is_default"]) == (0.25, True)
        assert not any(row["own"] for row in rows)

    FELT = {"name": "Harbour felt", "joint_mm": 3.0, "mirrored": True, "note": "Blunt blade.",
            "limits": {"neck_mm": 4.0, "stroke_mm": 3.5, "hole_mm": 2.0, "piece_mm": 5.0, "gap_mm": 1.0},
            }  # fmt: skip

    def test_materials_of_its_own_and_others_as_it_has_them(self, api):
        _, rows = api.put("/materials", {"material": self.FELT})
        assert (rows[-1]["material"], rows[-1]["own"], rows[-1]["is_default"]) == (self.FELT, True, False)
        film = rows[0]["material"]
        _, rows = api.put("/materials", {"material": {**film, "note": "From the loft."}})
        assert (rows[0]["material"]["note"], rows[0]["own"], rows[0]["is_default"]) == (
            "From the loft.",
            False,
            False,
        )
        _, rows = api.call("DELETE", "/materials?name=Adhesive%20film", "")
        assert (rows[0]["material"], rows[0]["is_default"]) == (film, True)
        _, rows = api.call("DELETE", "/materials?name=Harbour%20felt", "")
        assert not any(row["own"] for row in rows)

    @pytest.mark.parametrize(
        "wrong",
        [{"name": ""}, {"joint_mm": 0.0}, {"limits": {"neck_mm": 1.0}}, {"note": "x" * 300}, {"more": 1}],
    )
    def test_a_material_beyond_reason_is_refused(self, api, wrong):
        status, told = api.put("/materials", {"material": {**self.FELT, **wrong}})
        assert (status, told["kind"]) == (422, "bad-value")
        assert not any(row["own"] for row in api.get("/materials")[1])

    def test_a_shop_keeps_so_many_materials_and_says_so(self, api):
        for n in range(40):
            api.put("/materials", {"material": {**self.FELT, "name": f"Felt {n}"}})
        status, told = api.put("/materials", {"material": self.FELT})
        assert (status, told["kind"]) == (422, "too-many-materials")
        # One that is kept can still be changed.
        assert api.put("/materials", {"material": {**self.FELT, "name": "Felt 3", "note": "New."}})[0] == 200

    def test_machines_say_what_they_do(self, api):
        does = {row["machine"]["name"]: row["does"] for row in api.get("/machines")[1]}
        assert does["Drag knife"] == ["cut", "draw", "score"]
        assert "engrave" in does["Laser"]
        assert "cut" not in does["Pen plotter"]

    def test_a_machine_that_is_gone_is_told(self, api):
        told = sheets(api, machine="Aft knife")
        assert told["machine"]["name"] == "Drag knife"
        assert points(told, "machine")[0][1].startswith("The machine “Aft knife” is not in this shop")

    @pytest.mark.parametrize("wrong", [{"offset_mm": 9.0}, {"passes": 0}, {"kind": "plasma"}, {"name": ""}])
    def test_a_machine_beyond_reason_is_refused(self, api, wrong):
        knife = api.get("/machines")[1][0]["machine"]
        status, told = api.put("/machines", {"machine": {**knife, **wrong}})
        assert (status, told["kind"]) == (422, "bad-value")


@pytest.fixture(scope="module")
def yard(tmp_path_factory):
    """A server with a quick cutter."""
    server = Server(tmp_path_factory.mktemp("yard"), FULGEN_CUTTER_PACE="8")
    server.start()
    yield server
    server.stop()


class Cutter:
    """A job at the cutter of a server."""

    def __init__(self, yard, **plan):
        self.yard = yard
        yard.make_cutter_ready()
        body = {"name": "Hearts", "recipe": recipe(**plan)}
        self.design = yard.call("POST", "/designs", body)["id"]
        key = yard.call("POST", "/cut/sheets", body)["sheets"][0]["key"]
        asked = {**body, "job": str(uuid4()), "design": self.design, "sheet": 0, "key": key}
        made = yard.call("POST", "/cut/job", asked)
        self.path = f"/jobs/{made['id']}"

    def do(self, what):
        return self.yard.call("POST", f"{self.path}/{what}")

    def touch(self, do, **more):
        return self.yard.call("POST", "/cutter", {"do": do, **more})

    def seen(self):
        return self.yard.call("GET", self.path)

    def until(self, is_so):
        return until(self.seen, is_so)

    def ended(self):
        return self.until(lambda job: job["outcome"] is not None)


def refused(call):
    """What a server says when it refuses."""
    import json
    import urllib.error

    with pytest.raises(urllib.error.HTTPError) as told:
        call()
    return json.loads(told.value.read())


class TestJobs:
    """At a cutter in a process of its own, over sockets."""

    def test_what_was_promised_came_off(self, yard):
        cutter = Cutter(yard, copies=3, boxes="each")
        assert cutter.seen()["state"] == "waiting"
        cutter.do("start")
        at_work = cutter.until(lambda job: job["at"] is not None and job["done"] > 0)
        assert at_work["seconds_left"] > 0
        assert 0 < at_work["share"] < 1
        ended = cutter.ended()
        assert (ended["state"], ended["outcome"]["promised"], ended["outcome"]["came_off"]) == ("done", 3, 3)
        assert ended["outcome"]["as_promised"]
        assert ended["pieces_off"] == ended["pieces"] == 3
        assert len(yard.call("GET", f"{cutter.path}/lines")["lines"]) == ended["strokes"]
        assert refused(lambda: cutter.do("start"))["kind"] == "job-done"

    def test_a_pause_and_a_lost_line_leave_nothing_out(self, yard):
        cutter = Cutter(yard, copies=4)
        cutter.do("start")
        cutter.until(lambda job: job["done"] >= 1)
        paused = cutter.do("pause")
        assert paused["state"] == "paused"
        assert cutter.seen()["done"] == paused["done"]
        cutter.do("start")
        cutter.until(lambda job: job["done"] > paused["done"])
        cutter.touch("unplug")
        lost = cutter.until(lambda job: job["state"] != "cutting")
        assert lost["state"] == "lost"
        assert 0 < lost["done"] < lost["strokes"]
        assert refused(lambda: cutter.do("start"))["kind"] == "cutter-unplugged"
        cutter.touch("plug")
        cutter.do("start")
        assert cutter.ended()["outcome"]["as_promised"]

    def test_a_cutter_that_is_switched_off(self, yard):
        cutter = Cutter(yard, copies=3)
        cutter.touch("off")
        assert refused(lambda: cutter.do("start"))["kind"] == "cutter-off"
        cutter.touch("on")
        cutter.do("start")
        cutter.until(lambda job: job["done"] >= 1)
        cutter.touch("off")
        assert cutter.until(lambda job: job["state"] != "cutting")["state"] == "off"
        cutter.touch("on")
        cutter.do("start")
        assert cutter.ended()["outcome"]["as_promised"]

    def test_film_that_runs_out(self, yard):
        cutter = Cutter(yard, copies=9, stocks=[stock(width_mm=80.0, roll=True, height_mm=3000.0)])
        cutter.touch("film", film_mm=200.0)
        cutter.do("start")
        assert cutter.until(lambda job: job["state"] != "cutting")["state"] == "no-film"
        cutter.do("start")  # onto a new film, from the beginning
        ended = cutter.ended()
        assert (ended["outcome"]["promised"], ended["outcome"]["came_off"]) == (9, 9)

    def test_one_sheet_at_a_time(self, yard):
        first = Cutter(yard, copies=6)
        first.do("start")
        second = Cutter(yard)
        told = refused(lambda: second.do("start"))
        assert told["kind"] == "cutter-busy"
        assert first.do("stop")["state"] == "stopped"
        second.do("start")
        assert second.ended()["outcome"]["as_promised"]
        # The first one's sheet is laid in again, and cut from where it stopped.
        first.do("start")
        assert first.ended()["outcome"]["as_promised"]
        assert {job["state"] for job in yard.call("GET", f"/jobs?design={first.design}")} == {"done"}

    def test_a_server_that_ends_in_the_middle(self, yard):
        cutter = Cutter(yard, copies=6)
        cutter.do("start")
        done = cutter.until(lambda job: job["done"] >= 2)["done"]
        yard.process.kill()
        yard.process.wait()
        yard.start()
        seen = cutter.seen()
        assert seen["state"] == "lost"
        assert seen["done"] >= done
        cutter.do("start")
        assert cutter.ended()["outcome"]["as_promised"]

    def test_a_server_that_ends_before_it_is_worked_out_what_came_off(self, yard):
        cutter = Cutter(yard)
        cutter.do("start")
        outcome = cutter.ended()["outcome"]
        yard.stop()
        with closing(sqlite3.connect(Path(yard.env["FULGEN_DATA"]) / "fulgen.sqlite3")) as shop:
            shop.execute("UPDATE designs_cutjob SET outcome = NULL")
            shop.commit()
        yard.start()
        assert cutter.ended()["outcome"] == outcome

    def test_a_job_that_is_not_kept(self, yard):
        path = "/jobs/00000000-0000-4000-8000-000000000000"
        assert refused(lambda: yard.call("POST", f"{path}/start"))["kind"] == "not-found"


def test_the_demo_shop_has_a_job_half_done(tmp_path):
    Server(tmp_path)
    with closing(sqlite3.connect(tmp_path / "fulgen.sqlite3")) as shop:
        jobs = 'SELECT id, state, done, lengths, height_mm FROM designs_cutjob WHERE "order" IS NULL'
        [(job, state, done, lengths, height)] = shop.execute(jobs)
        texts = "SELECT text FROM designs_cutstroke WHERE job_id = ? ORDER BY number"
        cut = [text for (text,) in shop.execute(texts, (job,))]
        [(strokes,)] = shop.execute("SELECT count(*) FROM designs_jobstroke WHERE job_id = ?", (job,))
    assert state == "stopped"
    assert 0 < done < strokes == len(json.loads(lengths))
    assert len(read_hpgl(("IN;" + "".join(cut)).encode(), "cut", height)) == done
