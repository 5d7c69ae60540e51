"""The shop kept in a file and taken back: whole, or not at all."""

import datetime
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing

import pytest

from designs.backup import DAYS_KEPT, keep_daily
from tests.served import Server

SMALL = {
    "format": "fulgen-recipe",
    "version": 12,
    "parts": [{"kind": "lettering", "id": "one", "text": "Tern"}],
}


@pytest.fixture
def shop(tmp_path):
    """A shop that is not served."""
    (tmp_path / "shop").mkdir()
    return Server(tmp_path / "shop")


@pytest.fixture
def served(shop):
    """A shop that is served, with a design more than the demo has."""
    shop.start()
    shop.call("POST", "/designs", {"name": "Reed's own", "recipe": SMALL})
    yield shop
    shop.stop()


def run(server, *command):
    django = [sys.executable, "-m", "django", *map(str, command)]
    return subprocess.run(django, env=server.env, capture_output=True, text=True, timeout=120)


def shelf(server):
    """All that is on the shelf, with its recipes."""
    designs = server.call("GET", "/designs")
    orders = server.call("GET", "/orders")
    return [
        *((d["name"], server.call("GET", f"/designs/{d['id']}")["recipe"]) for d in designs),
        *((o["name"], server.call("GET", f"/orders/{o['id']}/rows")["rows"]) for o in orders),
    ]


def renamed(database, name):
    """One of the shop's designs gets another name."""
    with closing(sqlite3.connect(database)) as kept:
        kept.execute(
            "UPDATE designs_design SET name = ? WHERE id = (SELECT min(id) FROM designs_design)", (name,)
        )
        kept.commit()


def names(database):
    with closing(sqlite3.connect(database)) as kept:
        return sorted(name for (name,) in kept.execute("SELECT name FROM designs_design"))


class TestBackAndForth:
    def test_an_empty_clone_gets_the_whole_shop(self, served, tmp_path):
        """Kept while it is served; the same designs are then in another folder."""
        before = shelf(served)
        kept = run(served, "backup", tmp_path / "far" / "shop.sqlite3")
        assert kept.returncode == 0, kept.stderr
        assert f"{len(served.call('GET', '/designs'))} designs" in kept.stdout
        (tmp_path / "clone").mkdir()
        clone = Server(tmp_path / "clone")
        back = run(clone, "restore", tmp_path / "far" / "shop.sqlite3")
        assert back.returncode == 0, back.stderr
        assert "What was here before is in before-restore.sqlite3." in back.stdout
        clone.start()
        try:
            assert shelf(clone) == before
        finally:
            clone.stop()
        assert "Reed's own" not in names(tmp_path / "clone" / "before-restore.sqlite3")

    def test_what_was_there_before_can_be_taken_back(self, shop, tmp_path):
        run(shop, "backup", tmp_path / "shop.sqlite3")
        database = tmp_path / "shop" / "fulgen.sqlite3"
        renamed(database, "A later one")
        assert run(shop, "restore", tmp_path / "shop.sqlite3").returncode == 0
        assert "A later one" not in names(database)
        shutil.copy(database.with_name("before-restore.sqlite3"), tmp_path / "later.sqlite3")
        assert run(shop, "restore", tmp_path / "later.sqlite3").returncode == 0
        assert "A later one" in names(database)

    def test_a_shop_that_was_served_with_a_queue_in_redis(self, shop, tmp_path):
        """The queue's own tables are noted in the shop's file, whose copy is served without it."""
        with closing(sqlite3.connect(tmp_path / "shop" / "fulgen.sqlite3")) as database:
            noted = "INSERT INTO django_migrations (app, name, applied) VALUES (?, ?, ?)"
            database.execute(noted, ("django_rq", "0001_initial", "2026-11-01"))
            database.commit()
        kept = run(shop, "backup", tmp_path / "shop.sqlite3")
        assert kept.returncode == 0, kept.stderr
        assert run(shop, "restore", tmp_path / "shop.sqlite3").returncode == 0


class TestRefused:
    def refused(self, shop, path):
        """Says no, and leaves the shop as it is."""
        before = names(path.parent / "shop" / "fulgen.sqlite3")
        done = run(shop, "restore", path)
        assert done.returncode == 2
        assert names(path.parent / "shop" / "fulgen.sqlite3") == before
        return done.stderr.strip()

    def test_while_it_is_served(self, served, tmp_path):
        run(served, "backup", tmp_path / "shop.sqlite3")
        said = self.refused(served, tmp_path / "shop.sqlite3")
        assert said == f"fulgen: This shop is served already, at {served.url}. Open that, or stop it first."
        assert served.call("GET", "/designs")

    def test_what_is_no_copy(self, shop, tmp_path):
        run(shop, "backup", tmp_path / "shop.sqlite3")
        whole = (tmp_path / "shop.sqlite3").read_bytes()
        (tmp_path / "words.sqlite3").write_text("Tern")
        (tmp_path / "cut.sqlite3").write_bytes(whole[: len(whole) // 2])
        assert "is no copy of a shop" in self.refused(shop, tmp_path / "words.sqlite3")
        assert any(
            word in self.refused(shop, tmp_path / "cut.sqlite3") for word in ("is damaged", "is no copy")
        )
        assert "is not there" in self.refused(shop, tmp_path / "nowhere.sqlite3")

    def test_what_a_newer_fulgen_wrote(self, shop, tmp_path):
        run(shop, "backup", tmp_path / "shop.sqlite3")
        with closing(sqlite3.connect(tmp_path / "shop.sqlite3")) as copy:
            later = "INSERT INTO django_migrations (app, name, applied) VALUES (?, ?, ?)"
            copy.execute(later, ("designs", "9999_later", "2030-01-01"))
            copy.commit()
        assert "was written by a newer Fulgen" in self.refused(shop, tmp_path / "shop.sqlite3")

    def test_a_place_that_cannot_be_written(self, shop, tmp_path):
        (tmp_path / "file").write_text("no folder")
        done = run(shop, "backup", tmp_path / "file" / "shop.sqlite3")
        assert done.returncode == 2
        assert "could not be written" in done.stderr


def test_a_copy_that_is_killed_leaves_the_last_one(shop, tmp_path):
    run(shop, "backup", tmp_path / "shop.sqlite3")
    before = (tmp_path / "shop.sqlite3").read_bytes()
    killed = (
        "import os, pathlib, sys\n"
        "import django; django.setup()\n"
        "from designs import backup\n"
        "def half(database, to):\n"
        "    to.write_bytes(database.read_bytes()[:50_000])\n"
        "    os.kill(os.getpid(), 9)\n"
        "backup._copy = half\n"
        "shop, copy = map(pathlib.Path, sys.argv[1:])\n"
        "backup.write_backup(shop, copy)\n"
    )
    places = [str(tmp_path / "shop" / "fulgen.sqlite3"), str(tmp_path / "shop.sqlite3")]
    done = subprocess.run([sys.executable, "-c", killed, *places], env=shop.env, timeout=60)
    assert done.returncode == -9
    assert (tmp_path / "shop.sqlite3").read_bytes() == before
    assert run(shop, "backup", tmp_path / "shop.sqlite3").returncode == 0
    assert sorted(path.name for path in tmp_path.iterdir()) == ["shop", "shop.sqlite3"]


def test_a_copy_a_day_for_two_weeks(shop, tmp_path):
    database = tmp_path / "shop" / "fulgen.sqlite3"
    renamed(database, "Reed's own")
    first = datetime.date(2026, 2, 20)
    for day in range(DAYS_KEPT + 2):
        keep_daily(database, first + datetime.timedelta(days=day))
    kept = sorted(path.name for path in (tmp_path / "shop" / "backups").iterdir())
    assert len(kept) == DAYS_KEPT
    assert (kept[0], kept[-1]) == ("2026-02-22.sqlite3", "2026-03-07.sqlite3")
    last = tmp_path / "shop" / "backups" / kept[-1]
    changed = last.stat().st_mtime_ns
    keep_daily(database, datetime.date(2026, 3, 7))
    assert last.stat().st_mtime_ns == changed
    assert "Reed's own" in names(last)
