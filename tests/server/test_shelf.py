"""The shelf: designs are made, saved, copied, deleted and put back, and nothing is overwritten."""

import os
import signal
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.management import call_command

from designs.models import Design, Revision
from tests.server.conftest import recipe

ROOT = Path(__file__).parents[2]


def make(api, name="Tern", **part):
    status, design = api.post("/designs", {"name": name, "recipe": recipe(**part)})
    assert status == 201
    return design


def test_a_new_design_is_empty_and_ready_to_type_in(api):
    status, design = api.post("/designs", {"name": "New lettering"})
    assert status == 201
    assert design["revision"] == 1
    assert design["recipe"]["parts"][0]["text"] == ""
    status, shelf = api.get("/designs")
    assert [card["name"] for card in shelf] == ["New lettering"]
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
    texts = [r.recipe for r in Revision.objects.order_by("number")]
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


def test_a_name_is_one_line_and_never_empty(api):
    assert make(api, "  a\nb\x00c  ")["name"] == "a b c"
    assert make(api, "")["name"] == "Untitled"
    assert len(make(api, "x" * 300)["name"]) == 120


def test_the_demo_shop_is_loaded_once_and_what_was_deleted_stays_deleted(api):
    call_command("load_demo")
    shelf = api.get("/designs")[1]
    assert len(shelf) >= 4
    assert shelf[0]["name"] == "Willowmere, transom"
    assert len({card["width_mm"] for card in shelf}) == len(shelf)
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
    newest = database.execute("SELECT recipe FROM designs_revision WHERE number = ?", (head,)).fetchone()
    database.close()
    assert head >= said
    assert f'"text":"{head - 1}"' in newest[0]
