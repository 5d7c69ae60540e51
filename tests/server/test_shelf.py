"""The shelf: designs are made, saved, copied, deleted and put back, and nothing is overwritten."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
import zlib
from pathlib import Path

import pytest
from django.core.management import call_command
from django.db import transaction

from designs import shelf
from designs.models import Design, Revision
from designs.revisions import recipe_of
from fulgen.recipe import versions
from fulgen.recipe.versions import MAX_RECIPE_BYTES
from tests.server.conftest import recipe

ROOT = Path(__file__).parents[2]


def make(api, name="Tern", **part):
    status, design = api.post("/designs", {"name": name, "recipe": recipe(**part)})
    assert status == 201
    return design


def test_a_new_design_is_empty_and_ready_to_type_in(api):
    status, design = api.post("/designs", {"name": ""})
    assert status == 201
    assert design["revision"] == 1
    assert design["name"] == ""
    assert design["recipe"]["parts"][0]["text"] == ""
    status, shelf = api.get("/designs")
    assert [card["name"] for card in shelf] == ["Untitled"]
    assert shelf[0]["why_not"] == "There is nothing to cut yet."
    assert shelf[0]["thumbnail"] is None


def test_a_card_shows_size_pieces_and_a_small_picture(api):
    make(api, text="CREW", face={"family": "anton"}, size={"measure": "width", "mm": 100})
    (card,) = api.get("/designs")[1]
    assert card["width_mm"] == pytest.approx(100)
    assert card["pieces"] == 4
    assert card["thumbnail"]["width"] == 400
    assert card["thumbnail"]["films"][0]["d"].startswith("M")


def test_saving_makes_a_revision_and_keeps_the_earlier_ones(api):
    design = make(api, text="Tern")
    body = {"name": "Tern II", "recipe": recipe("Tern II"), "based_on": 1}
    status, saved = api.put(f"/designs/{design['id']}", body)
    assert (status, saved["revision"], saved["name"]) == (200, 2, "Tern II")
    assert api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"][0]["text"] == "Tern II"
    texts = [recipe_of(r) for r in Revision.objects.order_by("number")]
    assert '"text":"Tern"' in texts[0]
    assert '"text":"Tern II"' in texts[1]


def test_saving_the_same_again_makes_no_revision(api):
    design = make(api)
    body = {"name": "Tern", "recipe": recipe(), "based_on": 1}
    assert api.put(f"/designs/{design['id']}", body)[1]["revision"] == 1
    assert Revision.objects.count() == 1


def test_two_windows_never_overwrite_each_other(api):
    design = make(api)
    path = f"/designs/{design['id']}"
    assert api.put(path, {"name": "A", "recipe": recipe("first"), "based_on": 1})[0] == 200
    status, problem = api.put(path, {"name": "B", "recipe": recipe("second"), "based_on": 1})
    assert status == 409
    assert problem["kind"] == "changed-elsewhere"
    assert api.get(path)[1]["recipe"]["parts"][0]["text"] == "first"
    assert Revision.objects.count() == 2


def test_words_that_cannot_be_cut_yet_are_kept_all_the_same(api):
    design = make(api)
    body = {"name": "Tern", "recipe": recipe("crew 🦦"), "based_on": 1}
    assert api.put(f"/designs/{design['id']}", body)[0] == 200
    (card,) = api.get("/designs")[1]
    assert "U+1F9A6" in card["why_not"]


def test_a_copy_is_a_design_of_its_own(api):
    design = make(api)
    status, card = api.post(f"/designs/{design['id']}/copy")
    assert (status, card["name"]) == (201, "Tern copy")
    api.put(f"/designs/{card['id']}", {"name": "Other", "recipe": recipe("Other"), "based_on": 1})
    assert api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"][0]["text"] == "Willowmere"


def test_deleting_can_be_undone(api):
    design = make(api)
    assert api.call("DELETE", f"/designs/{design['id']}")[0] == 204
    assert api.get("/designs")[1] == []
    assert api.get(f"/designs/{design['id']}")[0] == 404
    assert api.post(f"/designs/{design['id']}/restore")[0] == 200
    assert [card["name"] for card in api.get("/designs")[1]] == ["Tern"]
    assert api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"][0]["text"] == "Willowmere"


def test_a_name_is_one_line(api):
    assert make(api, "  a\nb\x00c  ")["name"] == "a b c"
    assert len(make(api, "x" * 300)["name"]) == 120


def test_a_design_goes_by_its_words_until_it_has_a_name(api):
    design = make(api, "", text="Heron\n& Son")
    (card,) = api.get("/designs")[1]
    assert (design["name"], card["name"]) == ("", "Heron & Son")
    body = {"name": "", "recipe": recipe("Tern"), "based_on": 1}
    assert api.put(f"/designs/{design['id']}", body)[1]["name"] == ""
    (card,) = api.get("/designs")[1]
    assert card["name"] == "Tern"
    assert api.post(f"/designs/{design['id']}/copy")[1]["name"] == "Tern copy"
    api.put(f"/designs/{design['id']}", {**body, "name": "Sign", "based_on": 2})
    assert "Sign" in {card["name"] for card in api.get("/designs")[1]}


def test_a_file_is_named_as_its_design_is(api):
    def named(name, *parts):
        body = {"name": name, "recipe": {**recipe("Heron"), "parts": list(parts)}, "anyway": True}
        answer = api.client.post("/api/svg", json.dumps(body), content_type="application/json")
        return answer["Content-Disposition"].rsplit("''", 1)[1]

    def word(text):
        return {"id": f"l-{text.lower()}", "text": text}

    assert named("Sign", word("Heron")) == "Sign.svg"
    assert named("", word("Heron")) == "Heron.svg"
    assert named("", word("Heron"), word("Tern")) == "Heron-Tern.svg"
    assert named("", *map(word, ("Heron", "Tern", "Gull"))) == "Heron-Tern-and-1-more.svg"


def test_a_design_is_found_by_its_words_its_face_and_its_tags(api):
    design = make(api, "Sign", text="Heron", face={"family": "anton"})
    (card,) = api.get("/designs")[1]
    assert (card["words"], card["faces"], card["tags"]) == (["Heron"], ["Anton"], [])
    path = f"/designs/{design['id']}/tags"
    status, tagged = api.put(path, {"tags": ["  crew ", "Crew", "spring\n2027", "", "x" * 80]})
    assert status == 200
    assert tagged["tags"] == ["Crew", "spring 2027", "x" * 30]
    assert api.get("/designs")[1][0]["tags"] == tagged["tags"]
    assert api.post(f"/designs/{design['id']}/copy")[1]["tags"] == tagged["tags"]
    assert len(api.put(path, {"tags": [f"t{n}" for n in range(40)]})[1]["tags"]) == 12
    assert api.put(path, {"tags": "crew"})[0] in (400, 422)
    assert api.put("/designs/00000000-0000-0000-0000-000000000000/tags", {"tags": []})[0] == 404
    # Tags are no change of the design: it stays where it is, and is saved by nobody else.
    assert api.get(f"/designs/{design['id']}")[1]["revision"] == 1


def test_the_demo_shop_is_loaded_once_and_what_was_deleted_stays_deleted(api):
    call_command("load_demo")
    shelf = api.get("/designs")[1]
    assert len(shelf) >= 4
    assert shelf[0]["name"] == "Willowmere, transom"
    assert len({(card["width_mm"], card["height_mm"]) for card in shelf}) == len(shelf)
    assert all(card["thumbnail"] for card in shelf)
    api.call("DELETE", f"/designs/{shelf[0]['id']}")
    call_command("load_demo")
    assert len(api.get("/designs")[1]) == len(shelf) - 1
    assert Design.objects.count() == len(shelf)


SAVES_UNTIL_KILLED = """
import django, sys
django.setup()
from django.core.management import call_command
from designs import shelf
from fulgen.parts.lettering import Lettering
from fulgen.recipe.model import Recipe
call_command("migrate", verbosity=0)
design = shelf.make("Kill me", Recipe(parts=(Lettering(text="0"),)))
revision = 1
while True:
    saved = shelf.save(design.id, "Kill me", Recipe(parts=(Lettering(text=str(revision)),)), revision)
    revision = saved.head
    print(revision, flush=True)
"""


def test_what_was_said_to_be_saved_survives_a_kill(tmp_path):
    env = {
        **os.environ,
        "FULGEN_DATA": str(tmp_path),
        "PYTHONPATH": f"{ROOT / 'core'}:{ROOT / 'server'}",
        "DJANGO_SETTINGS_MODULE": "fulgen_server.settings",
    }
    process = subprocess.Popen(
        [sys.executable, "-c", SAVES_UNTIL_KILLED], env=env, stdout=subprocess.PIPE, text=True
    )
    said = 0
    for line in process.stdout:
        said = int(line)
        if said >= 20:
            process.send_signal(signal.SIGKILL)
            break
    said = max([said, *(int(line) for line in process.stdout if line.strip())])
    process.wait()
    process.stdout.close()
    database = sqlite3.connect(tmp_path / "fulgen.sqlite3")
    assert database.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    (head,) = database.execute("SELECT head FROM designs_design").fetchone()
    newest = database.execute("SELECT packed FROM designs_revision WHERE number = ?", (head,)).fetchone()
    database.close()
    assert head >= said
    assert f'"text":"{head - 1}"' in zlib.decompress(newest[0]).decode()


class TestOneLimit:
    """A recipe may be so large when it is sent, stored and read: the same everywhere."""

    @staticmethod
    def of_size(size):
        d = "M0 0L10 0L10 10Z" + " " * 55_000
        letters = {str(n): {"stand_in": {"shape": "own", "d": d}} for n in range(1, size // 55_000 + 1)}
        return {**recipe("m" * 60, letters=letters), "version": 3}

    @pytest.mark.parametrize("size", [1_200_000, 2_000_000])
    def test_what_is_saved_is_opened_again(self, api, size):
        big = self.of_size(size)
        design = make(api)
        assert api.put(f"/designs/{design['id']}", {"name": "T", "recipe": big, "based_on": 1})[0] == 200
        assert len(api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"][0]["letters"]) == size // 55_000
        assert api.post("/designs", {"name": "T", "recipe": big})[0] == 201
        assert api.post(f"/designs/{design['id']}/copy")[0] == 201

    def test_what_could_not_be_read_back_is_not_stored(self, api):
        # What is stored spells out all values, so it is longer than what was sent.
        d = "M0 0L9 0L9 9Z" + " " * 4_100
        letters = {str(n): {"dx": 0.1, "stand_in": {"d": d}} for n in range(1, 491)}
        sent = {**recipe("m" * 491, letters=letters), "version": 3}
        assert len(json.dumps(sent)) < MAX_RECIPE_BYTES
        design = make(api)
        for answer in (
            api.put(f"/designs/{design['id']}", {"name": "T", "recipe": sent, "based_on": 1}),
            api.post("/designs", {"name": "T", "recipe": sent}),
        ):
            assert answer[0] == 422
            assert answer[1]["kind"] == "recipe-too-large"
        assert Revision.objects.count() == Design.objects.count() == 1

    def test_one_that_was_stored_when_there_was_another_limit_is_opened(self, api, monkeypatch):
        design = make(api)
        monkeypatch.setattr(versions, "MAX_RECIPE_BYTES", 100)
        assert api.get(f"/designs/{design['id']}")[0] == 200


class TestSavesOfAWindow:
    """What a window saved, and never heard that it was saved, is its own."""

    @staticmethod
    def save(api, design, text, based_on, window="here", edit=1):
        body = {"name": text, "recipe": recipe(text), "based_on": based_on, "window": window, "edit": edit}
        return api.put(f"/designs/{design['id']}", body)

    def text(self, api, design):
        return api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"][0]["text"]

    def test_the_same_again_is_no_conflict_and_no_revision(self, api):
        design = make(api)
        assert self.save(api, design, "one", 1)[1]["revision"] == 2
        assert self.save(api, design, "one", 1)[1]["revision"] == 2

    def test_a_later_edit_goes_on_top(self, api):
        design = make(api)
        self.save(api, design, "one", 1, edit=1)
        assert self.save(api, design, "two", 1, edit=2)[1]["revision"] == 3
        assert self.text(api, design) == "two"

    def test_an_earlier_edit_that_comes_late_changes_nothing(self, api):
        design = make(api)
        self.save(api, design, "two", 1, edit=2)
        assert self.save(api, design, "one", 1, edit=1)[1]["revision"] == 2
        assert self.text(api, design) == "two"

    def test_another_window_between_is_a_conflict(self, api):
        design = make(api)
        self.save(api, design, "one", 1, edit=1)
        self.save(api, design, "theirs", 2, window="there", edit=9)
        assert self.save(api, design, "two", 1, edit=2)[0] == 409
        assert self.text(api, design) == "theirs"

    def test_saves_that_name_no_window_are_nobodys_own(self, api):
        design = make(api)
        self.save(api, design, "one", 1, window="")
        assert self.save(api, design, "two", 1, window="", edit=2)[0] == 409

    def test_a_revision_that_never_was_is_a_conflict(self, api):
        design = make(api)
        assert self.save(api, design, "one", 7)[0] == 409


class TestCards:
    """Whatever becomes of a card, the design is kept."""

    @pytest.mark.parametrize("error", [ValueError("odd"), MemoryError(), RecursionError()])
    def test_one_that_cannot_be_drawn_refuses_no_save(self, api, monkeypatch, error):
        def fails(*_):
            raise error

        monkeypatch.setattr(shelf, "evaluate", fails)
        design = make(api, text="Tern")
        body = {"name": "Tern", "recipe": recipe("Grebe"), "based_on": 1}
        assert api.put(f"/designs/{design['id']}", body)[0] == 200
        (card,) = api.get("/designs")[1]
        assert card["why_not"] == "Its picture could not be drawn."
        assert card["drawn"]
        assert api.get(f"/designs/{design['id']}")[1]["recipe"]["parts"][0]["text"] == "Grebe"

    def test_one_is_drawn_outside_any_transaction(self, api, monkeypatch):
        inside = []
        drawn = shelf.evaluate

        def watched(*given):
            # The test itself is in one.
            inside.append(len(transaction.get_connection().savepoint_ids))
            return drawn(*given)

        before = len(transaction.get_connection().savepoint_ids)
        monkeypatch.setattr(shelf, "evaluate", watched)
        make(api)
        assert inside == [before]

    def test_a_card_of_an_older_revision_never_takes_the_place_of_a_newer_one(self, api, monkeypatch):
        design = make(api, text="Tern")
        row = Design.objects.get(pk=design["id"])
        api.put(f"/designs/{design['id']}", {"name": "T", "recipe": recipe("CREW"), "based_on": 1})
        shelf._keep_card(row, shelf.CardFigures(why_not="old"))
        assert api.get("/designs")[1][0]["why_not"] == ""

    def test_one_that_was_never_drawn_is_drawn_when_the_shelf_is_looked_at(self, api):
        make(api, text="Tern")
        Design.objects.update(card={}, card_of=0)
        assert api.get("/designs")[1][0]["drawn"] is False
        (card,) = api.get("/designs")[1]
        assert card["drawn"]
        assert card["pieces"]


def test_a_design_that_is_only_drawn_has_its_picture(api):
    """A band of 40 mm that is drawn, and a disc that is only a guide."""
    line = {"kind": "line", "id": "l", "course": "straight", "use": "draw",
            "points": [{"x": -20.0, "y": 0.0}, {"x": 20.0, "y": 10.0}]}  # fmt: skip
    guide = {"kind": "shape", "id": "g", "form": "disc", "use": "guide", "width_mm": 90.0, "height_mm": 90.0}
    body = {**recipe(), "version": 11, "parts": [line, guide]}
    api.post("/designs", {"name": "Drawn", "recipe": body})
    (card,) = api.get("/designs")[1]
    assert card["why_not"] == ""
    assert not card["pieces"]
    assert (card["width_mm"], card["height_mm"]) == pytest.approx((40, 10))
    (film,) = card["thumbnail"]["films"]
    assert film["line"]
    assert "Z" not in film["d"]
