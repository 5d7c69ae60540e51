"""Orders kept: rows worked out, changed, looked at and changed by hand; sheets laid, cut and picked from."""

import csv
import io
import zipfile
from uuid import UUID, uuid4

import pypdfium2
import pytest
import svgelements
from django.core.files.uploadedfile import SimpleUploadedFile

from designs.models import CutJob, Design
from fulgen.problem import Problem
from orders import keeping
from orders.models import CutSheet, Order, OrderRow
from orders.sheets import OrderWork
from tests.fonts import make_font

pytestmark = pytest.mark.django_db

WORDS = "words:name"
NOBODY = "00000000-0000-4000-8000-000000000000"


def recipe(*parts, **more):
    words = {
        "kind": "lettering",
        "id": "name",
        "text": "Heron",
        "face": {"family": "pacifico"},
        "join": {"how": "auto"},
    }
    return {"format": "fulgen-recipe", "version": 12, "parts": list(parts) or [words], **more}


@pytest.fixture
def design(api):
    return api.post("/designs", {"name": "Locker strip", "recipe": recipe()})[1]["id"]


@pytest.fixture
def order(api, design):
    return api.post("/orders", {"design": design})[1]["id"]


def added(api, order, *names, **more):
    rows = [name if isinstance(name, dict) else {WORDS: name, **more} for name in names]
    status, told = api.post(f"/orders/{order}/rows", {"rows": rows})
    assert status == 200, told
    return told


def rows(api, order):
    return {row["number"]: row for row in api.get(f"/orders/{order}/rows")[1]["rows"]}


def saved(api, order, **change):
    now = api.get(f"/orders/{order}")[1]
    said = {name: now[name] for name in ("name", "customer", "due", "stage", "plan")}
    said["plan"] = {**said["plan"], **change.pop("plan", {})}
    status, told = api.put(f"/orders/{order}", {**said, **change, "based_on": now["edit"]})
    assert status == 200, told
    return told


def laid(api, order):
    status, told = api.post("/orders/sheets", {"order": order})
    assert status == 200, told
    return told


class TestRows:
    def test_each_name_is_the_design_with_its_own_words(self, api, order):
        told = added(api, order, "Maud", "Zoë ", "Zoe", "", "東京")
        assert told["counts"]["rows"] == 5
        found = rows(api, order)
        assert [row["state"] for row in found.values()] == [
            "as-designed", "as-designed", "as-designed", "empty", "cannot-be-made",
        ]  # fmt: skip
        assert found[3]["notes"] == ["The same as row 2, but for spaces, capitals or accents."]
        assert found[4]["notes"] == ["There is no name in this row."]
        assert "has no “東”" in found[5]["reasons"][0]
        assert found[1]["pieces"] == 1
        picture = api.client.get(found[1]["picture"])
        assert picture.headers["Content-Type"] == "image/svg+xml"
        drawn = list(svgelements.SVG.parse(io.BytesIO(picture.content)).elements())
        assert sum(isinstance(one, svgelements.Path) for one in drawn) == 1

    def test_only_what_has_changed_is_told_again(self, api, order):
        change = added(api, order, "Maud", "Jago")["change"]
        now = api.get(f"/orders/{order}/rows?since=-1")[1]
        api.put(f"/orders/{order}/rows/2", {"values": {WORDS: "Tern"}, "based_on": now["change"]})
        since = api.get(f"/orders/{order}/rows?since={now['change']}")[1]
        assert [row["values"][WORDS] for row in since["rows"]] == ["Tern"]
        assert since["change"] > now["change"] >= change

    def test_a_row_that_two_windows_change_is_changed_by_one(self, api, order):
        added(api, order, "Maud")
        seen = rows(api, order)[1]["change"]
        say = {"values": {WORDS: "Maude"}, "based_on": seen}
        assert api.put(f"/orders/{order}/rows/1", say)[0] == 200
        status, told = api.put(f"/orders/{order}/rows/1", {"values": {WORDS: "Mawd"}, "based_on": seen})
        assert (status, told["kind"]) == (409, "changed-elsewhere")
        assert rows(api, order)[1]["values"][WORDS] == "Maude"

    def test_rows_are_taken_out_and_put_back_with_their_numbers(self, api, order):
        added(api, order, "Maud", "Jago", "Tern")
        api.post(f"/orders/{order}/rows/remove", {"numbers": [2]})
        assert list(rows(api, order)) == [1, 3]
        added(api, order, "Wren")
        assert list(rows(api, order)) == [1, 3, 4]
        told = api.post(f"/orders/{order}/rows/restore", {"numbers": [2]})[1]
        assert [row["number"] for row in told["rows"]] == [2]
        assert list(rows(api, order)) == [1, 2, 3, 4]

    def test_film_face_size_and_how_many_are_said_by_the_row(self, api, order):
        row = {WORDS: "Maud", "film:": "Red", "face:": "Lobster", "size:": "40 mm", "copies:": "3"}
        added(api, order, row, {WORDS: "Jago", "film:": "mauve"}, {WORDS: "Tern", "copies:": "many"})
        found = rows(api, order)
        assert found[1]["films"] == ["#B03030"]
        assert found[2]["reasons"][0].startswith("No film is called “mauve”.")
        assert found[3]["reasons"][0].startswith("“many” is not how many to cut.")
        sheets = laid(api, order)["sheets"]
        assert [(sheet["film"], len(sheet["laid"])) for sheet in sheets] == [("#B03030", 3)]

    def test_a_row_takes_a_face_of_the_shops_own_by_its_name_or_where_letters_are_missing(self, api, order):
        file = SimpleUploadedFile("mine.ttf", make_font(letters="abc東京"))
        own = api.client.post("/api/own-faces", {"file": file, "licence": ""}).json()["slug"]
        saved(api, order, plan={"give_way": {"faces": [own]}})
        added(api, order, {WORDS: "abc", "face:": "test square"}, "東京", {WORDS: "abc", "face:": "Lobster"})
        found = rows(api, order)
        assert found[1]["state"] == "as-designed", found[1]["reasons"]
        assert found[2]["state"] == "gave-way", found[2]["reasons"]
        assert found[2]["reasons"] == ["In Test Square."]

        def face_of(number):
            made = api.post(f"/orders/{order}/rows/{number}/open")[1]["design"]
            return api.get(f"/designs/{made}")[1]["recipe"]["parts"][0]["face"]["family"]

        assert [face_of(number) for number in (1, 2, 3)] == [own, own, "lobster"]
        # Off the list, it is still what rows mean that say its name; one on the list of that name goes first.
        assert api.client.delete(f"/api/own-faces/{own}").status_code == 204
        added(api, order, {WORDS: "bca", "face:": "Test Square"})
        assert rows(api, order)[4]["state"] == "as-designed"
        assert face_of(4) == own
        more = SimpleUploadedFile("mine.ttf", make_font(letters="abcd"))
        newer = api.client.post("/api/own-faces", {"file": more, "licence": ""}).json()["slug"]
        added(api, order, {WORDS: "dab", "face:": "Test Square"})
        assert rows(api, order)[5]["state"] == "as-designed"
        assert face_of(5) == newer

    def test_the_design_changes_and_all_rows_follow(self, api, order, design):
        added(api, order, "Maud", "Jago")
        before = {n: row["height_mm"] for n, row in rows(api, order).items()}
        api.post(f"/orders/{order}/rows/looked", {"numbers": [1]})
        bigger = recipe()
        bigger["parts"][0]["size"] = {"measure": "capitals", "mm": 40.0}
        api.put(f"/designs/{design}", {"name": "Locker strip", "recipe": bigger, "based_on": 1})
        found = rows(api, order)
        assert all(found[n]["height_mm"] > 1.5 * before[n] for n in before)
        assert (found[1]["look_again"], found[2]["look_again"]) == (True, False)
        told = api.post(f"/orders/{order}/rows/looked", {"numbers": [1]})[1]
        assert told["counts"]["look_again"] == 0

    def test_a_change_of_less_than_a_hair_asks_for_no_look(self, api, order, design):
        added(api, order, "Maud")
        api.post(f"/orders/{order}/rows/looked", {"numbers": [1]})
        moved = recipe(mirror=False)
        moved["parts"][0]["size"] = {"measure": "capitals", "mm": 25.01}
        api.put(f"/designs/{design}", {"name": "Locker strip", "recipe": moved, "based_on": 1})
        row = rows(api, order)[1]
        assert (row["looked"], row["look_again"]) == (True, False)

    def test_letters_of_one_size_have_that_of_the_longest_that_fits(self, api, order):
        added(api, order, "Maud", "Bartholomew", "Jago")
        free = {n: row["height_mm"] for n, row in rows(api, order).items()}
        room = {"width_mm": 90.0, "height_mm": 200.0}
        give_way = {"smaller": 0.5, "room": room}
        saved(api, order, plan={"same_size": True, "give_way": give_way})
        found = rows(api, order)
        assert found[2]["width_mm"] <= 90.05
        share = found[2]["height_mm"] / free[2]
        assert share < 0.8
        for n in (1, 3):
            assert found[n]["height_mm"] == pytest.approx(free[n] * share, rel=0.03)
        saved(api, order, plan={"same_size": False})
        assert rows(api, order)[1]["height_mm"] == pytest.approx(free[1], rel=1e-6)

    def test_stopped_rows_wait_until_it_goes_on(self, api, order):
        api.post(f"/orders/{order}/stop", {"stopped": True})
        told = added(api, order, "Maud")
        assert (told["stopped"], told["counts"]["waiting"]) == (True, 1)
        assert rows(api, order)[1]["state"] == ""
        api.post(f"/orders/{order}/stop", {"stopped": False})
        assert rows(api, order)[1]["state"] == "as-designed"

    def test_what_cannot_be_is_refused_and_nothing_is_lost(self, api, order, design):
        added(api, order, "Maud")
        drawn = {"kind": "shape", "id": "disc", "form": "disc"}
        plain = api.post("/designs", {"name": "Disc", "recipe": recipe(drawn)})[1]["id"]
        refused = {
            "no-fields": ("POST", "/orders", {"design": plain}),
            "not-found": ("POST", "/orders", {"design": NOBODY}),
            "bad-row": ("POST", f"/orders/{order}/rows", {"rows": [{"words:other": "Jago"}]}),
            "bad-value": ("POST", f"/orders/{order}/rows", {"rows": [{WORDS: "x" * 501}]}),
            "changed-elsewhere": ("PUT", f"/orders/{order}", {"name": "x", "plan": {}, "based_on": 9}),
            "bad-list": ("POST", "/orders/read-list", {"order": order, "text": "\n"}),
        }
        for kind, (method, path, body) in refused.items():
            status, told = api.call(method, path, body)
            assert status >= 400, (kind, told)
            assert told["kind"] == kind, told
        assert api.get(f"/orders/{NOBODY}")[1]["what"] == "This order is not kept any more."
        assert api.get(f"/orders/{order}/rows/9/picture")[0] == 404
        assert api.post(f"/orders/{order}/rows/9/open")[1]["what"] == "There is no row 9 in this order."
        assert [row["values"][WORDS] for row in rows(api, order).values()] == ["Maud"]


class TestLists:
    def test_columns_are_matched_before_they_are_taken(self, api, order):
        text = "Name\tColour\tNotes\tQty\nMaud\tRed\tport side\t2\nJago\t\t\t"
        told = api.post("/orders/read-list", {"order": order, "text": text})[1]
        assert [(one["heading"], one["field"]) for one in told["columns"]] == [
            ("Name", WORDS), ("Colour", "film:"), ("Notes", ""), ("Qty", "copies:"),
        ]  # fmt: skip
        assert told["columns"][2]["samples"] == ["port side"]
        assert told["rows"] == [["Maud", "Red", "port side", "2"], ["Jago", "", "", ""]]
        assert rows(api, order) == {}

    def test_a_file_is_read_and_a_column_that_nobody_knows_is_asked_about(self, api, order):
        file = SimpleUploadedFile("crew.csv", b"Vorname;Nachname\nMaud;Reed\n")
        answer = api.client.post(f"/api/orders/{order}/read-file", {"file": file})
        told = answer.json()
        assert [one["field"] for one in told["columns"]] == [WORDS, ""]
        assert told["rows"] == [["Vorname", "Nachname"], ["Maud", "Reed"]]

    def test_a_file_that_is_none_is_refused(self, api, order):
        file = SimpleUploadedFile("crew.xlsx", b"PK\3\4 no archive")
        answer = api.client.post(f"/api/orders/{order}/read-file", {"file": file})
        assert answer.json()["what"] == "crew.xlsx cannot be read as a spreadsheet."


class TestByHand:
    def opened(self, api, order, number=1):
        return api.post(f"/orders/{order}/rows/{number}/open")[1]["design"]

    def moved(self, api, design, dx=0.1):
        """The second letter moved by hand, as the workbench saves it."""
        now = api.get(f"/designs/{design}")[1]
        part = now["recipe"]["parts"][0]
        ids = part["letter_ids"] or list(range(1, len(part["text"]) + 1))
        part |= {"letter_ids": ids, "letters": {str(ids[1]): {"carry": dx}}}
        body = {"name": now["name"], "recipe": now["recipe"], "based_on": now["revision"]}
        assert api.put(f"/designs/{design}", body)[0] == 200

    def test_what_a_hand_has_changed_stays_when_the_design_changes(self, api, order, design):
        added(api, order, "Maud", "Jago")
        width = rows(api, order)[1]["width_mm"]
        opened = self.opened(api, order)
        assert opened not in [one["id"] for one in api.get("/designs")[1]]
        assert api.get(f"/designs/{opened}")[1]["order"] == order
        self.moved(api, opened)
        by_hand = rows(api, order)[1]
        assert by_hand["by_hand"]
        assert by_hand["width_mm"] != pytest.approx(width, abs=0.1)
        red = recipe()
        red["parts"][0]["film"] = "#B03030"
        api.put(f"/designs/{design}", {"name": "", "recipe": red, "based_on": 1})
        after = rows(api, order)
        assert after[1]["films"] == after[2]["films"] == ["#B03030"]
        assert after[1]["width_mm"] == by_hand["width_mm"]
        api.call("DELETE", f"/orders/{order}/rows/1/by-hand")
        free = rows(api, order)[1]
        assert (free["by_hand"], free["width_mm"]) == (False, width)

    def test_it_is_told_what_no_longer_fits(self, api, design, order):
        two = recipe()
        two["parts"].append(
            {**two["parts"][0], "id": "second", "text": "Reed", "place": {"x": 0.0, "y": 40.0}}
        )
        api.put(f"/designs/{design}", {"name": "", "recipe": two, "based_on": 1})
        added(api, order, {WORDS: "Maud", "words:second": "Lee"})
        opened = self.opened(api, order)
        now = api.get(f"/designs/{opened}")[1]
        now["recipe"]["parts"][1]["stretch"] = 0.8
        api.put(f"/designs/{opened}", {"name": "", "recipe": now["recipe"], "based_on": 1})
        assert rows(api, order)[1]["reasons"] == []
        api.put(f"/designs/{design}", {"name": "", "recipe": recipe(), "based_on": 2})
        (row,) = rows(api, order).values()
        assert row["reasons"][:2] == [
            "The design has no place for “Lee” any more.",
            "“second” was changed by hand, and the design does not have it any more.",
        ]

    def test_a_row_opens_as_it_gave_way(self, api, order):
        added(api, order, "Bartholomew")
        room = {"width_mm": 90.0, "height_mm": 200.0}
        saved(api, order, plan={"give_way": {"smaller": 0.5, "room": room}})
        row = rows(api, order)[1]
        assert row["state"] == "gave-way"
        opened = api.get(f"/designs/{self.opened(api, order)}")[1]
        assert opened["recipe"]["parts"][0]["size"]["mm"] < 20
        assert rows(api, order)[1]["width_mm"] == pytest.approx(row["width_mm"], rel=0.01)


class TestSheets:
    @pytest.fixture
    def crew(self, api, order):
        added(api, order, "Maud", {WORDS: "Jago", "copies:": "2"}, "Tern", "東京")
        saved(api, order, plan={"sheet": {"width_mm": 200.0, "height_mm": 100.0}})
        return order

    def test_all_rows_lie_on_sheets_and_stay_where_they_are(self, api, crew):
        told = laid(api, crew)
        assert told["left_out"] == 1
        copies = [(one["row"], one["copy_number"]) for sheet in told["sheets"] for one in sheet["laid"]]
        assert sorted(copies) == [(1, 0), (2, 0), (2, 1), (3, 0)]
        assert laid(api, crew) == told
        assert all(sheet["room_left_mm"] >= 0 for sheet in told["sheets"])

    def test_closely_stays_as_it_was_found(self, api, crew):
        saved(api, crew, plan={"arrangement": "closely"})
        assert laid(api, crew) == laid(api, crew)

    def test_files_are_named_by_order_and_sheet(self, api, crew):
        """Read by svgelements, the list by Python's csv."""
        saved(api, crew, name="Regatta crew")
        told = laid(api, crew)
        status, data = api.post("/orders/files", {"order": crew, "kind": "svg"})
        assert status == 200
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            names = packed.namelist()
            assert names[0] == "Regatta-crew-sheet-1-Blue.svg"
            drawings = [packed.read(name) for name in names if name.endswith(".svg")]
            picks = packed.read("Regatta-crew-pick-list.csv").decode("utf-8-sig")
        assert len(drawings) == len(told["sheets"])
        paths = [one for data in drawings for one in svgelements.SVG.parse(io.BytesIO(data)).elements()
                 if isinstance(one, svgelements.Path) and len(one)]  # fmt: skip
        assert len(paths) == sum(sheet["pieces"] for sheet in told["sheets"])
        assert [row["words"] for row in csv.DictReader(io.StringIO(picks))] == [
            "Maud", "Jago", "Jago", "Tern", "東京",
        ]  # fmt: skip

    def test_a_sheet_waits_until_it_is_full(self, api, crew):
        saved(api, crew, plan={"hold_back": True, "sheet": {"width_mm": 200.0, "height_mm": 900.0}})
        (sheet,) = laid(api, crew)["sheets"]
        assert sheet["held"]
        status, told = api.post("/orders/files", {"order": crew, "kind": "svg"})
        assert (status, told["kind"]) == (422, "no-sheets")

    def test_numbers_are_drawn_in_the_waste(self, api, crew):
        saved(api, crew, plan={"numbers": "draw"})
        told = laid(api, crew)
        assert all(motif["marks"] for motif in told["motifs"])
        # As they are kept, they lie as they were laid first.
        assert laid(api, crew) == told
        data = api.post("/orders/files", {"order": crew, "kind": "hpgl", "sheet": 0})[1]
        assert b"SP3;" in data

    def test_numbers_of_staggered_rows_are_kept_where_they_are(self, api):
        name = {"kind": "lettering", "id": "name", "text": "Heron", "join": {"how": "auto", "marks": "lower"},
                "face": {"family": "lobster"}}  # fmt: skip
        ring = {"kind": "frame", "id": "ring", "members": ["name"], "width_mm": 70.0, "height_mm": 70.0}
        recipe = {"format": "fulgen-recipe", "version": 12, "parts": [name, ring], "ready": {}}
        design = api.post("/designs", {"name": "Rings", "recipe": recipe})[1]["id"]
        order = api.post("/orders", {"design": design})[1]["id"]
        added(api, order, *(["Maud", "Jago", "Tern", "Wren"] * 2))
        saved(api, order, plan={"numbers": "draw", "sheet": {"width_mm": 240.0, "height_mm": 400.0}})
        told = laid(api, order)
        (sheet,) = told["sheets"]
        assert len({round(one["x"]) for one in sheet["laid"]}) > 3  # more places than a row has: staggered
        assert laid(api, order) == told

    def test_proof_pick_list_and_pictures(self, api, crew):
        """The pages are read by PDFium."""
        saved(api, crew, customer="Otterbrook Rowers")
        pages = pypdfium2.PdfDocument(api.post("/orders/proof", {"order": crew})[1])
        text = "".join(page.get_textpage().get_text_range() for page in pages)
        assert "Otterbrook Rowers" in text
        assert "1 Maud" in " ".join(text.split())
        picks = pypdfium2.PdfDocument(api.post("/orders/pick-list", {"order": crew, "to": "pdf"})[1])
        assert "Jago (2)" in picks[0].get_textpage().get_text_range()
        pictures = zipfile.ZipFile(io.BytesIO(api.post("/orders/pictures", {"order": crew})[1]))
        assert pictures.namelist() == ["001-Maud.png", "002-Jago.png", "003-Tern.png"]

    def test_what_was_cut_is_not_laid_again_and_rows_added_later_are_cut_alone(self, api, crew):
        first = laid(api, crew)["sheets"][0]
        job = str(uuid4())
        body = {"order": crew, "sheet": 0, "key": first["key"], "job": job}
        assert api.post("/orders/job", body)[0] == 201
        assert api.post("/orders/job", body)[0] == 201
        assert CutJob.objects.filter(order=crew).count() == CutSheet.objects.count() == 1
        told = laid(api, crew)
        assert told["cut"][0]["copies"] == len(first["laid"])
        assert api.get(f"/orders/{crew}")[1]["stage"] == "cutting"
        cut = {one["row"] for one in first["laid"]}
        left = {one["row"] for sheet in told["sheets"] for one in sheet["laid"]}
        assert sum(row["cut"] for row in rows(api, crew).values()) == len(first["laid"])
        added(api, crew, "Wren")
        again = {one["row"] for sheet in laid(api, crew)["sheets"] for one in sheet["laid"]}
        assert again == left | {5}
        # A row that says something else now is to be cut again.
        corrected = min(cut - left)
        seen = rows(api, crew)[corrected]["change"]
        api.put(f"/orders/{crew}/rows/{corrected}", {"values": {WORDS: "Mawd"}, "based_on": seen})
        assert corrected in {one["row"] for sheet in laid(api, crew)["sheets"] for one in sheet["laid"]}

    def test_a_sheet_that_was_cut_elsewhere(self, api, crew):
        first = laid(api, crew)["sheets"][0]
        body = {"order": crew, "sheet": 0, "key": first["key"]}
        assert api.post("/orders/cut-elsewhere", body)[0] == 204
        told = laid(api, crew)
        assert (told["cut"][0]["job"], told["cut"][0]["number"]) == (None, 1)
        assert [sheet["number"] for sheet in told["sheets"]] == list(range(2, 2 + len(told["sheets"])))

    def test_a_sheet_that_has_changed_since_is_not_cut(self, api, crew):
        key = laid(api, crew)["sheets"][0]["key"]
        saved(api, crew, plan={"spacing_mm": 6.0})
        body = {"order": crew, "sheet": 0, "key": key, "job": str(uuid4())}
        status, told = api.post("/orders/job", body)
        assert (status, told["kind"]) == (422, "other-sheet")
        assert CutJob.objects.count() == CutSheet.objects.count() == 0

    def test_two_windows_cut_two_sheets_in_the_same_moment(self, api, crew):
        saved(api, crew, plan={"sheet": {"width_mm": 200.0, "height_mm": 50.0}})
        first, second = laid(api, crew)["sheets"][:2]
        one, other = (OrderWork(keeping.find(UUID(crew))) for _ in range(2))
        assert len(one.sheets) == len(other.sheets) > 0
        one.job(0, first["key"], uuid4())
        with pytest.raises(Problem) as told:
            other.job(1, second["key"], uuid4())
        assert told.value.kind == "other-sheet"
        with pytest.raises(Problem):
            other.cut_elsewhere(1, second["key"])
        assert CutJob.objects.count() == CutSheet.objects.count() == 1
        # As it is shown now, it can be cut.
        body = {"order": crew, "sheet": 0, "key": laid(api, crew)["sheets"][0]["key"], "job": str(uuid4())}
        assert api.post("/orders/job", body)[0] == 201
        assert [sheet.number for sheet in CutSheet.objects.all()] == [1, 2]

    def test_the_same_job_is_asked_for_twice_in_the_same_moment(self, api, crew):
        first = laid(api, crew)["sheets"][0]
        one, other = (OrderWork(keeping.find(UUID(crew))) for _ in range(2))
        assert len(one.sheets) == len(other.sheets) > 0
        job = uuid4()
        assert one.job(0, first["key"], job) == other.job(0, first["key"], job)
        assert CutJob.objects.count() == CutSheet.objects.count() == 1

    def test_what_did_not_come_off_is_told_by_its_row(self, api, crew):
        first = laid(api, crew)["sheets"][0]
        body = {"order": crew, "sheet": 0, "key": first["key"], "job": str(uuid4())}
        api.post("/orders/job", body)
        sheet = CutSheet.objects.get()
        lost = sheet.laid[0]
        x0, y0, x1, y1 = lost["box"]
        box = [x0 + 0.3 * (x1 - x0), y0 + 0.3 * (y1 - y0), x1, y1]
        sheet.job.outcome = {"promised": 2, "came_off": 1, "wrong": [{"what": "missing", "box": box}]}
        sheet.job.save()
        told = {row["row"]: row["not_as_promised"] for row in laid(api, crew)["cut"][0]["rows"]}
        assert told[lost["row"]] == 1
        assert sum(told.values()) == 1

    def test_sheets_wait_for_the_rows(self, api, order):
        api.post(f"/orders/{order}/stop", {"stopped": True})
        added(api, order, "Maud")
        Order.objects.update(stopped=False)
        status, told = api.post("/orders/sheets", {"order": order})
        assert (status, told["kind"]) == (422, "rows-waiting")


class TestVersions:
    def test_an_order_is_brought_back_as_it_was(self, api, order):
        added(api, order, "Maud", "Jago")
        saved(api, order, customer="Otterbrook Rowers")
        api.post(f"/orders/{order}/rows/remove", {"numbers": [1]})
        added(api, order, "Wren")
        versions = api.get(f"/orders/{order}/versions")[1]
        before = next(one for one in versions if one["what"] == "Rows taken out")
        assert (before["rows"], before["words"]) == (2, ["Maud", "Jago"])
        told = api.post(f"/orders/{order}/versions/{before['id']}/restore")[1]
        assert told["customer"] == "Otterbrook Rowers"
        assert [row["values"][WORDS] for row in rows(api, order).values()] == ["Maud", "Jago"]
        last = api.get(f"/orders/{order}/versions")[1][0]
        api.post(f"/orders/{order}/versions/{last['id']}/restore")
        assert [row["values"][WORDS] for row in rows(api, order).values()] == ["Jago", "Wren"]

    def test_one_with_a_name_is_kept(self, api, order):
        added(api, order, "Maud")
        version = api.get(f"/orders/{order}/versions")[1][0]["id"]
        told = api.put(f"/orders/{order}/versions/{version}", {"name": "As the customer saw it"})[1]
        assert told[0]["name"] == "As the customer saw it"
        assert api.put(f"/orders/{order}/versions/999", {"name": ""})[0] == 404

    def test_a_deleted_order_is_put_back(self, api, order):
        added(api, order, "Maud")
        assert api.call("DELETE", f"/orders/{order}")[0] == 204
        assert api.get("/orders")[1] == []
        assert api.get(f"/orders/{order}")[0] == 404
        assert api.post(f"/orders/{order}/restore")[0] == 200
        (card,) = api.get("/orders")[1]
        assert (card["counts"]["rows"], len(card["pictures"])) == (1, 1)


def test_what_of_an_order_is_kept_can_be_read_by_the_core(api, order, design):
    """The rows of the database are those of the core, and a design that was taken off the shelf stays with
    its order."""
    added(api, order, "Maud")
    api.call("DELETE", f"/designs/{design}")
    assert rows(api, order)[1]["state"] == "as-designed"
    assert keeping.row_as_said(OrderRow.objects.get()).words == "Maud"
    assert Design.objects.filter(pk=design).exists()
