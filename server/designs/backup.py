"""The whole shop kept in one file, and taken back from it: designs with all revisions, faces, drawings,
photographs, machines, materials and jobs are in one database.

A copy is made by SQLite itself while the shop is in use (https://www.sqlite.org/backup.html), looked through,
and only then put where it is asked for: a copy that is interrupted leaves what was there before.
"""

import datetime
import logging
import os
import sqlite3
import threading
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path

from django.db.migrations.loader import MigrationLoader

from designs.alone import take_shop
from fulgen.problem import Problem

log = logging.getLogger("fulgen")

DAYS_KEPT = 14
"""So many daily copies are kept."""

_FIRST_AFTER_S = 120.0
_EVERY_S = 3_600.0


@dataclass(frozen=True)
class Kept:
    """A copy: how many designs are on its shelf, and how large it is."""

    designs: int
    megabytes: float


def write_backup(database: Path, to: Path) -> Kept:
    """Copies the shop into a file. Raises Problem "backup" where that cannot be written."""
    part = to.with_name(f".{to.name}.part")
    try:
        to.parent.mkdir(parents=True, exist_ok=True)
        part.unlink(missing_ok=True)
        part.touch(mode=0o600)
        _copy(database, part)
        kept = look_through(part)
        with part.open("rb+") as file:
            os.fsync(file.fileno())
        part.replace(to)
    except (OSError, sqlite3.Error) as error:
        with suppress(OSError):
            part.unlink(missing_ok=True)
        why = error.strerror if isinstance(error, OSError) else str(error)
        raise Problem("backup", f"{to.name} could not be written ({why}).", "Choose another place.") from None
    return kept


def _copy(database: Path, to: Path) -> None:
    """One database into another, as one file without a log beside it."""
    with closing(sqlite3.connect(database)) as shop, closing(sqlite3.connect(to)) as copy:
        shop.backup(copy, pages=2_000)
        copy.execute("PRAGMA journal_mode=DELETE")


def look_through(path: Path) -> Kept:
    """Whether a file is a shop that this Fulgen can take. Raises Problem "backup"."""
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as copy:
            sound = copy.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok"
            rows = copy.execute("SELECT app, name FROM django_migrations").fetchall()
            columns = [row[1] for row in copy.execute("PRAGMA table_info(designs_design)")]
            # Rows of orders that a hand has changed are designs, too, and not on the shelf.
            shelf = 'deleted IS NULL AND "order" IS NULL' if "order" in columns else "deleted IS NULL"
            designs = copy.execute(f"SELECT COUNT(*) FROM designs_design WHERE {shelf}").fetchone()[0]
    except sqlite3.Error:
        raise Problem(
            "backup", f"{path.name} is no copy of a shop.", "Choose a file that ./fulgen backup wrote."
        ) from None
    if not sound:
        raise Problem("backup", f"{path.name} is damaged.", "Take an older copy.")
    # A shop that was once served with a queue in Redis has tables of that, which nothing is in.
    shops = {(app, name) for app, name in rows if app != "django_rq"}
    if not shops <= set(MigrationLoader(None, ignore_no_migrations=True).disk_migrations):
        raise Problem("backup", f"{path.name} was written by a newer Fulgen.", "Restore it there.")
    return Kept(int(designs), path.stat().st_size / 1e6)


def restore(path: Path, database: Path) -> Kept:
    """Puts the shop of a file in place of the one that is there, which is kept beside it. Raises Problem
    "backup", and "served" while a server has the shop."""
    if not path.is_file():
        raise Problem("backup", f"{path.name} is not there.", "Check the path.")
    kept = look_through(path)
    with take_shop(database.parent, "being restored"):
        write_backup(database, before_restore(database))
        with closing(sqlite3.connect(database)) as shop:
            # The log of the old shop must never be read into the new one.
            shop.execute("PRAGMA journal_mode=DELETE")
        write_backup(path, database)
    return kept


def before_restore(database: Path) -> Path:
    """Where the shop is kept that was there before."""
    return database.with_name("before-restore.sqlite3")


def keep_daily(database: Path, today: datetime.date) -> None:
    """Copies the shop once a day, and lets go of copies that are older than two weeks."""
    folder = database.parent / "backups"
    if not (folder / f"{today}.sqlite3").exists():
        write_backup(database, folder / f"{today}.sqlite3")
    for old in sorted(folder.glob("????-??-??.sqlite3"))[:-DAYS_KEPT]:
        old.unlink(missing_ok=True)


def keep_daily_from_now_on(database: Path) -> None:
    """Looks every hour whether the copy of the day is there."""

    def work() -> None:
        after = _FIRST_AFTER_S
        while not _never.wait(after):
            after = _EVERY_S
            try:
                keep_daily(database, datetime.datetime.now().astimezone().date())
            except Problem as problem:
                log.warning("%s", problem)

    threading.Thread(target=work, daemon=True, name="daily backup").start()


_never = threading.Event()
