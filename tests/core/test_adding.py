"""The examples of docs/adding.md: put into a copy of the code, each is there for a whole job."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
import shapely

ROOT = Path(__file__).parents[2]
ADDING = (ROOT / "docs" / "adding.md").read_text("utf-8")

RECIPE = {
    "format": "fulgen-recipe", "version": 12,
    "parts": [
        {"kind": "lettering", "id": "name", "text": "Heron", "face": {"family": "pacifico-second"}},
        {"kind": "shape", "id": "kite", "form": "kite", "width_mm": 200.0, "height_mm": 100.0,
         "place": {"x": 0.0, "y": 120.0}},
        {"kind": "dots", "id": "dots", "count": 4, "place": {"x": 0.0, "y": 60.0}},
    ],
}  # fmt: skip

JOB = """
from fulgen.cli.run import main
for command in (
    ["check", "recipe.json", "--json"],
    ["cut", "recipe.json", "--sheet", "300x400mm", "--machine", "Bench laser", "--to", "wkt", "-o", "sheets",
     "--anyway"],
    ["import", "sheets/sheet-1-2B5674.wkt", "-o", "back.json"],
    ["build", "back.json", "-o", "back.svg", "--anyway"],
    ["frame", "heavy bar", "--text", "Heron", "--width", "100mm", "-o", "framed.svg"],
):
    print("::", command[0], main(command), flush=True)
"""


def hunks(section: str) -> Iterator[tuple[str, list[str]]]:
    """The file and the lines of each hunk of the examples in a section; a new file has "+++" before it."""
    for block in re.findall(r"^```diff\n(.*?)^```$", section, re.MULTILINE | re.DOTALL):
        for whole in re.split(r"^(?=--- |\+\+\+ )", block, flags=re.MULTILINE)[1:]:
            head, body = whole.split("\n", 1)
            for hunk in re.split(r"^@@\n", body, flags=re.MULTILINE):
                yield head, hunk.splitlines()


def put_into(tree: Path, section: str) -> set[str]:
    """Puts the examples of a section into a copy of the code. Returns the files they touch."""
    touched = set()
    for head, lines in hunks(section):
        path = tree / head[4:]
        touched.add(head[4:])
        after = "".join(f"{line[1:]}\n" for line in lines if line[0] in "+ ")
        if head.startswith("+++"):
            path.write_text(after, "utf-8")
            continue
        before = "".join(f"{line[1:]}\n" for line in lines if line[0] in "- ")
        text = path.read_text("utf-8")
        assert text.count(before) == 1, f"{head}: these lines are not there, or not only there:\n{before}"
        path.write_text(text.replace(before, after), "utf-8")
    return touched


@pytest.fixture(scope="module")
def tree(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A copy of the code with all examples in it."""
    copy = tmp_path_factory.mktemp("adding")
    for folder in ("core", "web/src/stages/build/kinds"):
        shutil.copytree(ROOT / folder, copy / folder, ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copytree(ROOT / "faces", copy / "faces")
    shutil.copytree(ROOT / "faces" / "pacifico", copy / "faces" / "pacifico-second")
    put_into(copy, ADDING)
    return copy


@pytest.fixture(scope="module")
def job(tree: Path) -> dict[str, str]:
    """What each command of the job said."""
    (tree / "recipe.json").write_text(json.dumps(RECIPE), "utf-8")
    done = subprocess.run(
        [sys.executable, "-c", JOB], cwd=tree, env={"PYTHONPATH": str(tree / "core")},
        capture_output=True, text=True, timeout=300,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    said: dict[str, str] = {}
    before = ""
    for line in done.stdout.splitlines():
        if line.startswith(":: "):
            said[line.split()[1]] = before
            before = ""
        else:
            before += line + "\n"
    return said


def findings(job: dict[str, str]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.loads(job["check"])
    return found


class TestAWholeJob:
    def test_a_finding_is_made_about_the_shape(self, job: dict[str, str]) -> None:
        wide = [finding for finding in findings(job) if finding["kind"] == "wide-piece"]
        assert [finding["measure"] for finding in wide] == [pytest.approx(200.0)]

    def test_a_sheet_of_it_is_written_and_read_again(self, tree: Path, job: dict[str, str]) -> None:
        sheet, pieces = map(
            shapely.from_wkt, (tree / "sheets" / "sheet-1-2B5674.wkt").read_text().splitlines()
        )
        assert sheet.contains(pieces)
        kite = max(pieces.geoms, key=lambda piece: piece.area)
        # A kite covers half of its box; the laser takes 0.2 mm, half of it around the outside.
        assert kite.area == pytest.approx(200.0 * 100.0 / 2 + 0.1 * kite.length, rel=1e-3)
        dots = [piece for piece in pieces.geoms if abs(piece.area - 3.1416 * 3.1**2) < 0.1]
        assert len(dots) == 4
        back = json.loads((tree / "back.json").read_text("utf-8"))
        assert [part["kind"] for part in back["parts"]] == ["artwork"]
        assert "<path" in (tree / "back.svg").read_text("utf-8")

    def test_a_name_stands_in_the_frame(self, tree: Path, job: dict[str, str]) -> None:
        assert "<path" in (tree / "framed.svg").read_text("utf-8")


@pytest.mark.parametrize(
    ("what", "files"),
    [("shape", 1), ("frame", 1), ("machine", 1), ("face", 1), ("finding", 2), ("kind of drawing", 2),
     ("kind of file", 2), ("kind of part", 4)],
)  # fmt: skip
def test_so_many_files_are_touched(what: str, files: int) -> None:
    section = ADDING.split(f"## A {what}\n")[1].split("\n## ")[0]
    assert len({head[4:] for head, _ in hunks(section)}) == files
