"""The command line, as a script would call it."""

import errno
import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pypdfium2
import pytest
import svgelements

from fulgen.cli import main
from fulgen.formats.file_names import safe_names
from fulgen.geometry.placement import Placement
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.parts.shape import ShapePart
from fulgen.readiness.findings import findings
from fulgen.recipe.changes import with_accepted
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import recipe_from, to_store
from tests.figures import PX_PER_MM
from tests.fonts import make_font
from tests.hostile import EDGES
from tests.names import NAMES

ROOT = Path(__file__).parents[2]


def run(capsys, *arguments):
    """Exit code, stdout and stderr of a command."""
    try:
        code = main([str(a) for a in arguments])
    except SystemExit as stop:
        code = stop.code
    out, err = capsys.readouterr()
    return code, out, err


def refused(capsys, *arguments):
    code, out, err = run(capsys, *arguments)
    assert code == 2
    assert out == ""
    assert err.startswith("fulgen: ")
    assert len(err.strip().splitlines()) == 1
    assert "Traceback" not in err
    return err


def width_mm(path):
    svg = svgelements.SVG.parse(str(path))
    return svg.width / PX_PER_MM


class TestLetter:
    def test_a_word_becomes_a_file_at_true_size(self, capsys, tmp_path):
        out = tmp_path / "w.svg"
        assert run(capsys, "letter", "Willowmere", "--width", "7in", "-o", out)[0] == 0
        assert width_mm(out) == pytest.approx(177.8)

    def test_the_report_has_the_figures_under_their_names(self, capsys, tmp_path):
        out, report = tmp_path / "w.svg", tmp_path / "w.json"
        arguments = ["letter", "Bee", "--face", "anton", "--height", "40mm", "--spacing", "-0.4mm"]
        assert run(capsys, *arguments, "-o", out, "--report", report)[0] == 0
        figures = json.loads(report.read_text())
        assert set(figures) == {
            "size", "pieces", "cut_length_mm", "nodes", "face", "seams", "contacts", "bands", "findings",
            "lost_touch_ups", "unmet", "made_ready", "not_ready",
        }  # fmt: skip
        assert figures["size"]["height_mm"] == pytest.approx(40)
        assert figures["face"] == "Anton"
        assert [p["holes"] for p in figures["pieces"]] == [2, 1, 1]
        x, y, w, h = figures["pieces"][0]["box_mm"]
        assert (x, y) == pytest.approx((0, 0), abs=0.5)
        assert w > 0
        assert h > 0

    def test_joining_reports_every_seam_with_what_was_done(self, capsys, tmp_path):
        out, report = tmp_path / "w.svg", tmp_path / "w.json"
        arguments = ["letter", "Moss", "--face", "Courgette", "--join", "auto", "--neck", "1/16in"]
        assert run(capsys, *arguments, "--smooth", "0.3mm", "-o", out, "--report", report)[0] == 0
        figures = json.loads(report.read_text())
        assert len(figures["pieces"]) == 1
        assert [seam["left"] + seam["right"] for seam in figures["seams"]] == ["Mo", "os", "ss"]
        for seam in figures["seams"]:
            assert set(seam) == {"left", "right", "gap_mm", "neck_mm", "state", "remedy", "shift_mm"}
            assert (seam["state"], seam["gap_mm"]) == ("joined", 0)
            assert seam["neck_mm"] >= 1.587
            assert seam["remedy"].endswith(f"moved {-seam['shift_mm']:.1f} mm left")
        contours = len(list(svgelements.Path(next(svgelements.SVG.parse(str(out)).select(
            lambda e: isinstance(e, svgelements.Path)))).as_subpaths()))  # fmt: skip
        assert contours == 1 + figures["pieces"][0]["holes"]
        # The words and how they were set stay in the file.
        assert "“Moss” in Courgette" in out.read_text()

    def test_marks_are_tied_so_that_a_word_comes_off_whole(self, capsys, tmp_path):
        counts = {}
        for marks in ("keep", "lower", "bridge"):
            report = tmp_path / "w.json"
            arguments = ["letter", "Kiwi", "--face", "Courgette", "--join", "auto", "--marks", marks]
            assert run(capsys, *arguments, "-o", tmp_path / "w.svg", "--report", report)[0] == 0
            counts[marks] = len(json.loads(report.read_text())["pieces"])
        assert counts == {"keep": 3, "lower": 1, "bridge": 1}

    def test_without_asking_the_letters_stay_as_the_face_sets_them(self, capsys, tmp_path):
        report = tmp_path / "w.json"
        arguments = ["letter", "Moss", "--face", "Courgette", "-o", tmp_path / "w.svg", "--report", report]
        assert run(capsys, *arguments)[0] == 0
        figures = json.loads(report.read_text())
        assert len(figures["pieces"]) == 4
        assert {seam["state"] for seam in figures["seams"]} == {"gap"}

    def test_a_long_list_is_worked_on_by_all_cores_and_reported_in_order(self, tmp_path):
        names = tmp_path / "names.txt"
        names.write_text("\n".join([*(f"Tern {n}" for n in range(14)), "🦦"]), "utf-8")
        done = subprocess.run(
            [ROOT / "fulgen", "letter", "--list", names, "--out-dir", tmp_path / "out", "--join", "auto"],
            capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert done.returncode == 2
        assert [line.split()[0] for line in done.stderr.splitlines()[:15]] == [
            f"{n}/15" for n in range(1, 16)
        ]
        assert len(list((tmp_path / "out").iterdir())) == 14

    def test_spacing_as_a_share_lines_mirror_and_features(self, capsys, tmp_path):
        out = tmp_path / "w.svg"
        code, _, err = run(
            capsys, "letter", "Tern\\nThistle", "--spacing", "-2%", "--align", "centre", "--mirror",
            "--feature", "liga=off", "--line-spacing", "0.9", "--join", "set", "--width", "1/2 in", "-o", out,
            "--anyway",
        )  # fmt: skip
        assert (code, err) == (0, "fulgen: “Tern” comes off in 2 pieces.\n")
        assert width_mm(out) == pytest.approx(12.7, abs=1e-3)
        assert "letter spacing -2 % of the size" in out.read_text()

    def test_a_face_from_a_file_and_an_axis(self, capsys, tmp_path):
        font = tmp_path / "square.otf"
        font.write_bytes(make_font("otf"))
        out = tmp_path / "w.svg"
        assert run(capsys, "letter", "ab", "--face", font, "--width", "120mm", "-o", out)[0] == 0
        assert "“ab” in Test Square" in out.read_text()
        light, bold = tmp_path / "l.svg", tmp_path / "b.svg"
        for path, weight in ((light, "400"), (bold, "700")):
            axis = f"wght={weight}"
            assert run(capsys, "letter", "ab", "--face", "Caveat", "--axis", axis, "-o", path)[0] == 0
        assert light.read_text() != bold.read_text()

    def test_a_list_makes_one_file_a_line_with_safe_names_and_shows_progress(self, capsys, tmp_path):
        names = tmp_path / "names.txt"
        names.write_text("Zoë\n\n../../etc/passwd\nZOË\nCON\n", "utf-8")
        out = tmp_path / "out"
        code, _, err = run(capsys, "letter", "--list", names, "--out-dir", out, "--capitals", "20mm")
        assert code == 0
        assert sorted(p.name for p in out.iterdir()) == [
            "CON-name.svg",
            "ZOË-2.svg",
            "Zoë.svg",
            "etc-passwd.svg",
        ]
        assert "4/4" in err

    @pytest.mark.parametrize(
        ("system", "face"),
        [("Arabic", "Lalezar"), ("Hebrew", "Secular One"), ("Devanagari", "Modak"), ("Thai", "Pattaya"),
         ("Armenian", "Noto Serif Armenian"), ("Georgian", "Noto Serif Georgian")],
    )  # fmt: skip
    def test_a_list_of_names_in_another_alphabet(self, capsys, tmp_path, system, face):
        words = NAMES[system].split()[:3]
        (tmp_path / "names.txt").write_text("\n".join(words), "utf-8")
        names, out, told = tmp_path / "names.txt", tmp_path / "out", tmp_path / "told.json"
        one = ("--join", "auto", "--marks", "bridge", "--tie")
        assert run(capsys, "letter", "--list", names, "--out-dir", out, "--face", face, *one,
                   "--report", told)[0] == 0  # fmt: skip
        assert {path.stem for path in out.iterdir()} == set(safe_names(words))
        rows = json.loads(told.read_text("utf-8"))
        assert [row["pieces"] for row in rows] == [1] * len(words)

    def test_a_line_that_cannot_be_set_is_named_and_the_others_are_written(self, capsys, tmp_path):
        names = tmp_path / "names.txt"
        names.write_text("Tern\n🦦\nEgret\n", "utf-8")
        code, _, err = run(capsys, "letter", "--list", names, "--out-dir", tmp_path / "out")
        assert code == 2
        assert "U+1F9A6" in err
        assert "1 of 3 lines could not be set" in err
        assert len(list((tmp_path / "out").iterdir())) == 2


class TestMistakes:
    @pytest.mark.parametrize(
        ("arguments", "said"),
        [
            (["--width", "7 inn"], "“7 inn” is not a length"),
            (["--width", "0"], "too small"),
            (["--height=-3"], "too small"),
            (["--capitals", "NaN"], "not a length"),
            (["--capitals", "1e9"], "not a length"),
            (["--capitals", "999999999"], "too large"),
            (["--face", "Pacifco"], "Did you mean Pacifico?"),
            (["--face", "nowhere/none.ttf"], "no face file none.ttf"),
            (["--spacing", "wide"], "not a length"),
            (["--neck", "thick"], "not a length"),
            (["--neck", "0"], "The neck is too small"),
            (["--smooth", "-1mm"], "The smoothing is too small"),
            (["--join", "glue"], "invalid choice"),
            (["--spacing", "x%"], "not a spacing"),
            (["--axis", "wght"], "not an axis"),
            (["--feature", "liga=maybe"], "not a feature"),
            (["--line-spacing", "0"], "line spacing is too small"),
            (["--width", "1in", "--height", "1in"], "not allowed with"),
            (["--glow"], "unrecognized"),
        ],
    )
    def test_options_that_make_no_sense(self, capsys, tmp_path, arguments, said):
        out = tmp_path / "w.svg"
        assert said in refused(capsys, "letter", "Tern", "-o", out, *arguments)
        assert not out.exists()

    @pytest.mark.parametrize(
        ("text", "said"),
        [("", "nothing to cut"), ("  ", "nothing to cut"), ("🦦", "U+1F9A6"), ("a" * 5000, "5,000 letters")],
    )
    def test_texts_that_cannot_be_cut(self, capsys, tmp_path, text, said):
        assert said in refused(capsys, "letter", text, "-o", tmp_path / "w.svg")

    def test_a_broken_face_file(self, capsys, tmp_path):
        font = tmp_path / "cut.ttf"
        font.write_bytes(make_font()[:300])
        assert "damaged or cut off" in refused(
            capsys, "letter", "a", "--face", font, "-o", tmp_path / "w.svg"
        )

    def test_no_text_or_no_place_to_write(self, capsys, tmp_path):
        assert "no text or no output" in refused(capsys, "letter", "Tern")
        assert "--out-dir" in refused(capsys, "letter", "--list", tmp_path / "n.txt")
        assert "cannot be written" in refused(capsys, "letter", "Tern", "-o", tmp_path / "no" / "w.svg")

    def test_a_failed_write_leaves_the_old_file_whole(self, capsys, tmp_path):
        out = tmp_path / "w.svg"
        out.write_text("old")
        refused(capsys, "letter", "🦦", "-o", out)
        assert out.read_text() == "old"
        assert [p.name for p in tmp_path.iterdir()] == ["w.svg"]

    def test_lists_that_are_none(self, capsys, tmp_path):
        names = tmp_path / "names.txt"
        assert "cannot be read" in refused(capsys, "letter", "--list", names, "--out-dir", tmp_path)
        names.write_bytes(b"\xff\xfe\x00")
        assert "not a text file" in refused(capsys, "letter", "--list", names, "--out-dir", tmp_path)
        names.write_text("\n \n")
        assert "no words" in refused(capsys, "letter", "--list", names, "--out-dir", tmp_path)


class TestBuild:
    def test_a_recipe_becomes_a_file(self, capsys, tmp_path):
        path, out = tmp_path / "r.json", tmp_path / "r.svg"
        path.write_text(Recipe(parts=(Lettering(text="Tern"),)).stored())
        assert run(capsys, "build", path, "-o", out)[0] == 0
        assert "Tern" in out.read_text()

    @pytest.mark.parametrize("recipe", sorted((ROOT / "demo").glob("*.json")), ids=lambda p: p.stem)
    def test_the_demo_shop_builds(self, capsys, tmp_path, recipe):
        report = tmp_path / "r.json"
        assert run(capsys, "build", recipe, "-o", tmp_path / "r.svg", "--report", report, "--ready")[0] == 0
        assert json.loads(report.read_text())["pieces"]

    @pytest.mark.parametrize(
        ("content", "said"),
        [
            ("{", "not complete JSON"),
            ("{}", "not a Fulgen recipe"),
            ('{"format": "fulgen-recipe", "version": 99}', "newer Fulgen"),
            ('{"format": "fulgen-recipe", "version": 1, "parts": []}', "parts"),
        ],
    )
    def test_recipes_that_cannot_be_read(self, capsys, tmp_path, content, said):
        path = tmp_path / "r.json"
        path.write_text(content)
        assert said in refused(capsys, "build", path, "-o", tmp_path / "r.svg")


class TestWhereItWrites:
    def test_a_link_stays_a_link_and_what_it_points_to_is_written(self, capsys, tmp_path):
        real, link = tmp_path / "real.svg", tmp_path / "link.svg"
        real.write_text("old")
        link.symlink_to(real)
        assert run(capsys, "letter", "Tern", "-o", link)[0] == 0
        assert link.is_symlink()
        assert real.read_text().startswith("<?xml")

    def test_a_file_keeps_its_mode(self, capsys, tmp_path):
        out = tmp_path / "w.svg"
        out.write_text("old")
        out.chmod(0o600)
        run(capsys, "letter", "Tern", "-o", out)
        assert out.stat().st_mode & 0o777 == 0o600
        assert out.read_text().startswith("<?xml")

    def test_pipes_devices_and_folders_are_refused(self, capsys, tmp_path):
        pipe = tmp_path / "pipe"
        os.mkfifo(pipe)
        for odd in (pipe, "/dev/null", tmp_path):
            assert "no plain file" in refused(capsys, "letter", "Tern", "-o", odd)
        assert pipe.is_fifo()
        assert Path("/dev/null").is_char_device()
        assert list(tmp_path.iterdir()) == [pipe]


class TestWhatItReads:
    @pytest.mark.parametrize("odd", ["/dev/zero", "pipe", "."])
    def test_endless_files_and_pipes_are_refused_at_once(self, capsys, tmp_path, odd):
        if odd == "pipe":
            odd = tmp_path / "pipe.ttf"
            os.mkfifo(odd)
        out = tmp_path / "w.svg"
        refused(capsys, "letter", "Tern", "--face", odd if odd != "." else f"{tmp_path}/", "-o", out)
        refused(capsys, "letter", "--list", odd, "--out-dir", tmp_path / "out")
        refused(capsys, "build", odd, "-o", out)
        refused(capsys, "check", odd)
        assert not out.exists()

    def test_a_face_file_beyond_all_measure(self, capsys, tmp_path):
        face = tmp_path / "a.ttf"
        with face.open("wb") as file:
            file.truncate(2**33)
        said = refused(capsys, "letter", "Tern", "--face", face, "-o", tmp_path / "w.svg")
        assert "larger than 12 MB" in said


class TestExits:
    def test_a_fault_of_fulgens_own_is_told_apart_from_a_finding(self, capsys, tmp_path, monkeypatch):
        def fails(*_):
            raise IndexError("oh")

        monkeypatch.setattr("fulgen.recipe.evaluate.evaluate", fails)
        code, out, err = run(capsys, "letter", "Tern", "-o", tmp_path / "w.svg")
        assert (code, out) == (70, "")
        assert "something went wrong inside Fulgen (IndexError in test_cli.py" in err
        assert "Nothing was written" in err
        assert list(tmp_path.iterdir()) == []

    def test_what_is_too_much_is_refused_in_words(self, capsys, tmp_path, monkeypatch):
        monkeypatch.setattr("fulgen.cli.output.BUDGET_S", 0.0)
        recipe = tmp_path / "r.json"
        recipe.write_text(json.dumps(EDGES["a page, tied and smoothed"]))
        assert "too much to work out at once" in refused(capsys, "build", recipe, "-o", tmp_path / "w.svg")
        assert "too much to work out at once" in refused(capsys, "check", recipe)

    def test_a_reader_that_has_left(self):
        command = [sys.executable, "-m", "fulgen.cli", "faces"]
        process = subprocess.Popen(
            command, stdout=subprocess.PIPE, env={**os.environ, "PYTHONPATH": f"{ROOT}/core"}
        )
        process.stdout.close()
        assert process.wait() == 141


@pytest.mark.parametrize("port", ["99999", "65536", "80", "0", "x", ""])
def test_a_port_that_is_none_is_refused(port):
    told = subprocess.run([ROOT / "fulgen", "start", "--port", port], capture_output=True, text=True)
    assert told.returncode == 2
    assert "--port takes a number from 1024 to 65535" in told.stderr


def test_the_faces_are_listed(capsys):
    code, out, _ = run(capsys, "faces", "--json")
    rows = json.loads(out)
    assert code == 0
    assert {"name", "kind", "weights", "axes", "features", "letters"} <= set(rows[0])
    assert "Pacifico" in run(capsys, "faces")[1]


def test_names_are_safe_and_never_alike():
    assert safe_names(["a/b", "a b", "A-B", "...", "x" * 300])[:4] == ["a-b", "a-b-2", "A-B-3", "lettering"]
    assert len(safe_names(["ż" * 300])[0].encode()) <= 100


def test_help_and_mistakes_do_not_load_the_geometry():
    code = (
        "import sys, fulgen.cli as c\n"
        "try: c.main(['letter', '--help'])\n"
        "except SystemExit: print([m for m in ('shapely', 'numpy', 'pydantic') if m in sys.modules])"
    )
    env = {**os.environ, "PYTHONPATH": str(ROOT / "core")}
    out = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=True)
    assert out.stdout.strip().endswith("[]")


class TestRepairs:
    def report(self, capsys, tmp_path, *arguments):
        out, report = tmp_path / "w.svg", tmp_path / "w.json"
        assert run(capsys, "letter", *arguments, "-o", out, "--report", report)[0] == 0
        return json.loads(report.read_text())

    @pytest.mark.parametrize("marks", ["keep", "lower", "bridge"])
    def test_marks_are_kept_lowered_or_bridged(self, capsys, tmp_path, marks):
        figures = self.report(capsys, tmp_path, "Nié", "--face", "anton", "--join", "auto", "--marks", marks)
        kinds = [finding["kind"] for finding in figures["findings"]]
        assert len(figures["pieces"]) == (3 if marks == "keep" else 1)
        assert kinds == (["mark", "mark"] if marks == "keep" else [])

    def test_tie_makes_one_piece_whatever_it_takes(self, capsys, tmp_path):
        words = "Ji is\nnaïve; é!"
        assert len(self.report(capsys, tmp_path, words, "--join", "auto")["pieces"]) > 4
        assert len(self.report(capsys, tmp_path, words, "--join", "auto", "--tie")["pieces"]) == 1

    def test_thicken_moves_every_edge(self, capsys, tmp_path):
        plain = self.report(capsys, tmp_path, "I", "--face", "anton")
        for corners in ("round", "mitred"):
            thick = self.report(
                capsys, tmp_path, "I", "--face", "anton", "--thicken", "0.3mm", "--corners", corners
            )
            grown = thick["size"]["width_mm"] - plain["size"]["width_mm"]
            assert grown == pytest.approx(0.6, abs=5e-3)

    def test_another_material_has_other_limits(self, capsys, tmp_path):
        words = ["light", "--face", "great-vibes", "--join", "auto", "--height", "60mm", "--anyway"]
        found = [
            sum(f["blocks"] for f in self.report(capsys, tmp_path, *words, "--material", name)["findings"])
            for name in ("iron-on film", "Ply, 3 mm")
        ]
        assert found[0] < found[1]

    def test_a_material_or_a_length_that_is_not_known_is_refused(self, capsys, tmp_path):
        out = tmp_path / "w.svg"
        assert "Adhesive film" in refused(capsys, "letter", "a", "--material", "moon rock", "-o", out)
        assert "--thicken" in refused(capsys, "letter", "a", "--thicken", "lots", "-o", out)
        assert "thicken" in refused(capsys, "letter", "a", "--thicken=-9mm", "-o", out)
        assert not out.exists()


class TestCheck:
    def recipe(self, tmp_path, **changes):
        part = {"text": "light", "face": {"family": "great-vibes"}, **changes.pop("part", {})}
        path = tmp_path / "r.json"
        path.write_text(
            json.dumps(
                recipe_from({"format": "fulgen-recipe", "version": 2, "parts": [part], **changes}).model_dump(
                    mode="json"
                )
            )
        )
        return path

    def test_it_says_what_blocks_and_exits_with_1(self, capsys, tmp_path):
        code, out, err = run(capsys, "check", self.recipe(tmp_path))
        assert code == 1
        assert err == ""
        assert "blocks  A stroke" in out
        assert "[Thicken here]" in out
        assert re.search(r"\d+ to repair before the cut \(Adhesive film\)", out.splitlines()[-1])

    def test_it_exits_with_0_when_all_is_clear(self, capsys, tmp_path):
        path = self.recipe(
            tmp_path, part={"text": "HIM", "face": {"family": "anton"}, "join": {"how": "auto"}}
        )
        assert run(capsys, "check", path) == (0, "Clear to cut (Adhesive film).\n", "")

    def test_what_is_accepted_does_not_block(self, capsys, tmp_path):
        path = self.recipe(tmp_path)
        recipe = Recipe.model_validate_json(path.read_text())
        for finding in findings(evaluate(recipe)):
            recipe = with_accepted(recipe, finding.as_accepted)
        path.write_text(recipe.model_dump_json())
        code, out, _ = run(capsys, "check", path)
        assert code == 0
        assert out.startswith("known   ")

    def test_as_json_with_places_and_measures(self, capsys, tmp_path):
        code, out, _ = run(capsys, "check", self.recipe(tmp_path), "--json")
        told = json.loads(out)
        assert code == 1
        assert {"kind", "what", "blocks", "accepted", "at_mm", "measure", "limit", "remedy"} == set(told[0])
        assert all(f["measure"] < f["limit"] for f in told if f["kind"] == "hairline")

    def test_for_another_material(self, capsys, tmp_path):
        path = self.recipe(tmp_path, part={"text": "HER", "face": {"family": "oswald"}, "size": {"mm": 8}})
        assert run(capsys, "check", path, "--material", "Ply, 3 mm")[0] == 1
        assert "moon" in refused(capsys, "check", path, "--material", "moon rock")

    def test_a_touch_up_that_lost_its_place_is_said_here_and_when_building(self, capsys, tmp_path):
        lost = {"kind": "remove", "part": "lettering-1", "at": {"letter": 77, "x": 0, "y": 0}}
        part = {"text": "HER", "face": {"family": "anton"}}
        path = self.recipe(tmp_path, part=part, touch_ups=[lost])
        said = "Touch-up 1 (remove) no longer finds its place, and was left out."
        assert f"look    {said}" in run(capsys, "check", path)[1]
        report = tmp_path / "report.json"
        code, _, err = run(capsys, "build", path, "-o", tmp_path / "w.svg", "--report", report)
        assert (code, err) == (0, f"fulgen: {said}\nfulgen: “HER” comes off in 3 pieces.\n")
        assert json.loads(report.read_text())["lost_touch_ups"] == [{"number": 1, "kind": "remove"}]

    @pytest.mark.parametrize(
        "text", ["", "{}}", '{"version": 99}', '{"format": "fulgen-recipe", "parts": 3}']
    )
    def test_what_is_no_recipe_is_refused(self, capsys, tmp_path, text):
        path = tmp_path / "r.json"
        path.write_text(text)
        refused(capsys, "check", path)
        refused(capsys, "check", tmp_path / "none.json")


class TestImport:
    SVG = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" viewBox="0 0 80 80">'
        '<circle cx="40" cy="40" r="30" fill="#2F6B4F"/><text>Heron</text></svg>'
    )

    def test_a_drawing_becomes_a_recipe_that_is_built_and_checked(self, capsys, tmp_path):
        drawing, recipe, out = (tmp_path / name for name in ("sign.svg", "sign.json", "out.svg"))
        drawing.write_text(self.SVG, "utf-8")
        code, _, err = run(capsys, "import", drawing, "-o", recipe)
        assert code == 0
        assert "60.00 × 60.00 mm" in err
        assert "Text was passed over" in err
        assert run(capsys, "build", recipe, "-o", out)[0] == 0
        assert width_mm(out) == pytest.approx(60, rel=1e-3)
        assert run(capsys, "check", recipe)[0] == 0

    def test_units_where_the_file_does_not_say(self, capsys, tmp_path):
        drawing, recipe = tmp_path / "sign.svg", tmp_path / "sign.json"
        drawing.write_text(self.SVG.replace('width="80mm" ', ""), "utf-8")
        assert "does not say its size" in run(capsys, "import", drawing, "-o", recipe)[2]
        assert "1524.00" in run(capsys, "import", drawing, "--units", "in", "-o", recipe)[2]

    def test_what_cannot_be_read_is_said_and_nothing_is_written(self, capsys, tmp_path):
        drawing, recipe = tmp_path / "sign.pdf", tmp_path / "sign.json"
        drawing.write_bytes(b"%PDF-1.4")
        assert "broken" in refused(capsys, "import", drawing, "-o", recipe)
        assert not recipe.exists()
        assert "cannot be read" in refused(capsys, "import", tmp_path / "gone.svg", "-o", recipe)

    def test_parts_of_every_kind_are_built(self, capsys, tmp_path):
        recipe, out, report = (tmp_path / name for name in ("r.json", "r.svg", "r.report.json"))
        parts = [
            {"kind": "shape", "id": "a", "form": "ring", "width_mm": 80, "height_mm": 80},
            {"kind": "shape", "id": "b", "form": "rectangle", "width_mm": 70, "height_mm": 6},
        ]
        recipe.write_text(json.dumps({"format": "fulgen-recipe", "version": 5, "parts": parts}), "utf-8")
        assert run(capsys, "build", recipe, "-o", out, "--report", report)[0] == 0
        told = json.loads(report.read_text("utf-8"))
        assert [c["parts"] for c in told["contacts"]] == [["a", "b"]]
        assert told["contacts"][0]["state"] == "joined"


class TestShapesListed:
    def test_by_name_with_their_parameters(self, capsys):
        out = run(capsys, "shapes")[1]
        assert "compass rose" in out
        assert "points 3 to 40 (5)" in out

    def test_as_json(self, capsys):
        rows = json.loads(run(capsys, "shapes", "--json")[1])
        assert len(rows) >= 24
        assert {"name", "group", "ratio", "parameters"} <= set(rows[0])


class TestFrames:
    def test_a_name_in_a_frame_becomes_a_file_of_one_piece(self, capsys, tmp_path):
        out, told = tmp_path / "ring.svg", tmp_path / "ring.json"
        command = ("frame", "name ring", "--text", "Piers", "--width", "60mm", "--set", "rim=4mm")
        assert run(capsys, *command, "-o", out, "--report", told)[0] == 0
        assert width_mm(out) == pytest.approx(60.0, abs=0.02)
        report = json.loads(told.read_text())
        assert len(report["pieces"]) == 1
        assert {contact["state"] for contact in report["contacts"]} == {"joined"}
        (band,) = report["bands"]
        assert band["held"] == "across"
        assert band["air_mm"][0] == -band["depth_mm"]

    def test_several_names_go_into_several_bands(self, capsys, tmp_path):
        out, told = tmp_path / "crew.svg", tmp_path / "crew.json"
        texts = ("--text", "Ada", "--text", "Bo", "--text", "Cas")
        assert run(capsys, "frame", "crew board", *texts, "-o", out, "--report", told)[0] == 0
        assert [band["name"] for band in json.loads(told.read_text())["bands"]] == [
            "lettering-1", "lettering-2", "lettering-3",
        ]  # fmt: skip

    def test_a_list_gives_a_file_for_each_name_and_says_which_do_not_fit(self, capsys, tmp_path):
        names = tmp_path / "names.txt"
        names.write_text(f"Ada\n{'m' * 90}\nBo\n")
        code, _, err = run(
            capsys,
            "frame",
            "split initial",
            "--list",
            names,
            "--out-dir",
            tmp_path / "out",
            "--set",
            "bar=5mm",
        )
        assert code == 2
        assert sorted(path.name for path in (tmp_path / "out").iterdir()) == ["Ada.svg", "Bo.svg"]
        assert "left out" in err

    def test_an_initial_of_its_own_and_a_name_cut_out(self, capsys, tmp_path):
        out = tmp_path / "out.svg"
        own = ("frame", "split initial", "--text", "Ada", "--initial", "Q", "--initial-face", "Lobster")
        assert run(capsys, *own, "-o", out)[0] == 0
        assert run(capsys, "frame", "key tag", "--text", "Ada", "--holes", "-o", out)[0] == 0

    @pytest.mark.parametrize(
        ("arguments", "says"),
        [
            (("no such", "--text", "Ada"), "no frame called"),
            (("name ring", "--text", "a" * 40, "--width", "30mm"), "too small to cut"),
            (("name ring", "--text", "Ada", "--set", "rim=70mm"), "it can be"),
            (("name ring", "--text", "Ada", "--set", "spokes=3"), "sets nothing of a name ring"),
            (("name ring", "--text", "Ada", "--set", "rim=wide"), "not a length"),
            (("name ring", "--text", "Ada", "--text", "Bo"), "1 place"),
            (("name ring",), "no text"),
        ],
    )
    def test_what_cannot_be_is_said_and_nothing_is_written(self, capsys, tmp_path, arguments, says):
        out = tmp_path / "out.svg"
        assert says in refused(capsys, "frame", *arguments, "-o", out)
        assert not out.exists()

    def test_frames_are_listed_with_what_can_be_set(self, capsys):
        code, out, _ = run(capsys, "frames")
        assert code == 0
        assert "split initial" in out
        rows = json.loads(run(capsys, "frames", "--json")[1])
        assert {"name", "measures", "uses", "ratio"} <= set(rows[0])


class TestAlongALine:
    @pytest.mark.parametrize(
        "line", ["circle:80mm", "circle:160mm,inside,inward,bottom", "circle:80mm,bent", "arc:120mm,0.3",
                 "wave:150mm,8mm,2", "down", "down,3mm"],
    )  # fmt: skip
    def test_words_run_along_it_in_one_piece(self, capsys, tmp_path, line):
        out, told = tmp_path / "w.svg", tmp_path / "w.json"
        command = ("letter", "Tern", "--join", "auto", "--capitals", "12mm", "--on", line, "--ready")
        assert run(capsys, *command, "-o", out, "--report", told)[0] == 0
        assert len(json.loads(told.read_text())["pieces"]) == 1

    @pytest.mark.parametrize("line", ["spiral:3mm", "circle", "circle:80mm,sideways", "arc:9mm,bent,x"])
    def test_a_line_that_is_none_is_said(self, capsys, tmp_path, line):
        said = refused(capsys, "letter", "Tern", "--on", line, "-o", tmp_path / "w.svg")
        assert "is not a line to set words on" in said

    def test_a_circle_smaller_than_a_letter_is_said(self, capsys, tmp_path):
        said = refused(capsys, "letter", "Tern", "--on", "circle:8mm,inside", "-o", tmp_path / "w.svg")
        assert "too small for capitals" in said


class TestSimulate:
    def test_what_was_promised_comes_off(self, capsys, tmp_path):
        drawing = tmp_path / "bee.svg"
        run(capsys, "letter", "Bee", "--face", "anton", "--join", "auto", "-o", drawing)
        code, out, _ = run(capsys, "simulate", drawing, "--report", tmp_path / "off.json")
        assert code == 0
        assert "Promised 1, came off 1." in out
        figures = json.loads((tmp_path / "off.json").read_text())
        assert figures["as_promised"] is True
        assert [piece["holes"] for piece in figures["pieces"]] == [4]

    def test_letters_that_only_lie_over_each_other_are_found_out(self, capsys, tmp_path):
        drawing = tmp_path / "two.svg"
        drawing.write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="40mm" viewBox="0 0 50 40">'
            '<path d="M5 5H25V25H5Z"/><path d="M20 10H40V30H20Z"/></svg>'
        )
        code, out, _ = run(capsys, "simulate", drawing)
        assert code == 1
        assert "did not come off as promised" in out
        assert "Promised 1, came off 2." in out

    def test_a_file_for_the_cutter_is_held_against_the_drawing(self, capsys, tmp_path):
        drawing, cutter = tmp_path / "a.svg", tmp_path / "a.plt"
        drawing.write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="10mm" viewBox="0 0 20 10">'
            '<path d="M0 0H20V10H0Z"/></svg>'
        )
        cutter.write_text("IN;SP1;PU400,400;PD1200,400,1200,800,400,800,400,400;PU0,0;")
        assert run(capsys, "simulate", cutter, "--promised", drawing)[0] == 0
        cutter.write_text("IN;SP1;PU400,400;PD1200,400,1200,800,400,800,400,440;PU0,0;")
        code, out, _ = run(capsys, "simulate", cutter, "--promised", drawing)
        assert code == 1
        assert "Promised 1, came off 0." in out
        code, out, _ = run(capsys, "simulate", cutter)
        assert code == 1
        assert "A cut ends in the material at 10.0 mm" in out

    def test_a_blade_that_the_file_does_not_allow_for_is_found_out(self, capsys, tmp_path):
        drawing = tmp_path / "bee.svg"
        run(capsys, "letter", "Bee", "--face", "anton", "--join", "auto", "-o", drawing)
        assert run(capsys, "simulate", drawing, "--blade-offset", "0.3mm")[0] == 1

    def test_mistakes_are_told(self, capsys, tmp_path):
        text = tmp_path / "notes.txt"
        text.write_text("Buy film.")
        assert "is not HP-GL" in refused(capsys, "simulate", text)
        assert "--blade-offset" in refused(capsys, "simulate", text, "--blade-offset", "9mm")
        assert "--kerf" in refused(capsys, "simulate", text, "--kerf", "9mm")
        assert "cannot be read" in refused(capsys, "simulate", tmp_path / "none.plt")


class TestPattern:
    def test_a_recipe_to_print_at_true_size(self, capsys, tmp_path):
        lid = {"kind": "shape", "id": "lid", "form": "rectangle", "width_mm": 400.0, "height_mm": 250.0}
        recipe, out = tmp_path / "lid.json", tmp_path / "lid.pdf"
        recipe.write_text(json.dumps({"format": "fulgen-recipe", "version": 10, "parts": [lid]}))
        assert run(capsys, "pattern", recipe, "-o", out)[0] == 0
        with pypdfium2.PdfDocument(out.read_bytes()) as read:
            assert len(read) == 3
            assert "lid. A1, page 1 of 3" in read[0].get_textpage().get_text_range()
        assert run(capsys, "pattern", recipe, "-o", out, "--paper", "letter")[0] == 0
        with pypdfium2.PdfDocument(out.read_bytes()) as read:
            assert max(read[0].get_size()) == pytest.approx(11 * 72, abs=0.1)

    def test_what_is_not_ready_is_printed_anyway_only(self, capsys, tmp_path):
        word = {"id": "w", "text": "Tern", "face": {"family": "anton"}, "join": {"how": "set"}}
        recipe, out = tmp_path / "tern.json", tmp_path / "tern.pdf"
        recipe.write_text(json.dumps({"format": "fulgen-recipe", "version": 10, "parts": [word]}))
        code, _, err = run(capsys, "pattern", recipe, "-o", out)
        assert (code, out.exists()) == (1, False)
        assert "comes off in 4 pieces" in err
        assert run(capsys, "pattern", recipe, "-o", out, "--anyway")[0] == 0


class TestCut:
    def test_what_is_engraved_and_scored_goes_to_the_laser_in_its_order(self, capsys, tmp_path):
        lid = {"kind": "shape", "id": "lid", "form": "rectangle", "width_mm": 80.0, "height_mm": 50.0}
        spot = {"kind": "shape", "id": "spot", "form": "disc", "width_mm": 10.0, "height_mm": 10.0,
                "use": "engrave"}  # fmt: skip
        fold = {"kind": "line", "id": "fold", "use": "score", "place": {"y": 15.0}}
        recipe, out = tmp_path / "lid.json", tmp_path / "out"
        recipe.write_text(json.dumps({"format": "fulgen-recipe", "version": 10, "parts": [lid, spot, fold]}))
        asked = ("cut", recipe, "--sheet", "200x100mm", "--machine", "Laser", "-o", out)
        assert run(capsys, *asked)[0] == 0
        (file,) = out.glob("*.plt")
        pens = re.findall(r"SP(\d);", file.read_text())
        assert pens == ["5", "4", "1", "0"]
        code, told, _ = run(capsys, "simulate", file, "--kerf", "0.15mm")
        assert (code, told) == (0, "1 piece off the sheet, 0 holes weeded.\n")

    def drawing(self, tmp_path, name="tag.svg", size=(40, 20)):
        path, (w, h) = tmp_path / name, size
        path.write_text(
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{w}mm" height="{h}mm" viewBox="0 0 {w} {h}">'
            f'<path fill="#336699" d="M0 0H{w}V{h}H0ZM5 5V15H15V5Z"/></svg>'
        )
        return path

    def test_copies_come_off_the_files_that_are_written(self, capsys, tmp_path):
        folder, report = tmp_path / "out", tmp_path / "cut.json"
        code, out, _ = run(
            capsys, "cut", self.drawing(tmp_path), "--sheet", "300x200mm", "--copies", "5",
            "-o", folder, "--report", report,
        )  # fmt: skip
        assert code == 0
        [sheet] = json.loads(report.read_text())["sheets"]
        assert sheet["file"] in out
        assert (sheet["motifs"], sheet["promised"], sheet["came_off"]) == (5, 5, 5)
        assert sheet["used"] == pytest.approx(5 * 700 / 60_000, abs=1e-4)
        code, out, _ = run(capsys, "simulate", folder / sheet["file"], "--blade-offset", "0.25mm")
        assert code == 0
        assert out.startswith("5 pieces off the sheet, 5 holes weeded.")

    def test_a_word_of_two_films_is_cut_from_two_sheets(self, capsys, tmp_path):
        recipe = tmp_path / "two.json"
        parts = (ShapePart(id="a", film="#aa0000"), ShapePart(id="b", film="#0000aa", place=Placement(x=80)))
        recipe.write_text(to_store(Recipe(parts=parts)))
        code, _, err = run(capsys, "cut", recipe, "--sheet", "12x24in", "-o", tmp_path / "out")
        assert (code, err) == (0, "")
        assert len(list((tmp_path / "out").glob("*.plt"))) == 2

    @pytest.mark.parametrize("kind", ["svg", "dxf", "dxf-r12", "pdf", "eps", "png"])
    def test_files_of_every_kind(self, capsys, tmp_path, kind):
        folder, report = tmp_path / "out", tmp_path / "cut.json"
        code, _, err = run(
            capsys, "cut", self.drawing(tmp_path), "--sheet", "300x200mm", "--to", kind, "--nest",
            "--turns", "half", "--copies", "3", "--boxes", "each", "-o", folder, "--report", report,
        )  # fmt: skip
        assert (code, err) == (0, "")
        [sheet] = json.loads(report.read_text())["sheets"]
        assert (sheet["promised"], sheet["came_off"]) == (3, 3)
        [file] = folder.iterdir()
        assert file.name == sheet["file"]
        assert file.suffix == f".{kind[:3]}"
        assert file.stat().st_size > 200

    def test_what_blocks_the_cut_is_told_and_nothing_is_written(self, capsys, tmp_path):
        recipe, folder = tmp_path / "word.json", tmp_path / "out"
        word = Lettering(id="a", text="Heron", face=FaceChoice("allura"), size=Size("capitals", 4.0))
        recipe.write_text(to_store(Recipe(parts=(word,))))
        code, out, err = run(capsys, "cut", recipe, "--sheet", "300x200mm", "-o", folder)
        assert (code, out) == (1, "")
        assert "word.json" in err
        assert not folder.exists()

    def test_a_full_disk_is_told_and_leaves_no_half_a_file(self, capsys, tmp_path, monkeypatch):
        folder, whole = tmp_path / "out", os.fdopen

        class Full:
            """A file that takes nothing more."""

            def __init__(self, handle, mode):
                self.file = whole(handle, mode)

            def __enter__(self):
                return self

            def __exit__(self, *_):
                self.file.close()

            def write(self, _data):
                raise OSError(errno.ENOSPC, "No space left on device")

        monkeypatch.setattr(os, "fdopen", Full)
        says = refused(capsys, "cut", self.drawing(tmp_path), "--sheet", "300x200mm", "-o", folder)
        assert "cannot be written (No space left on device)" in says
        assert list(folder.iterdir()) == []

    def test_a_mirror_that_is_not_as_the_material_is_cut_is_told(self, capsys, tmp_path):
        code, _, err = run(
            capsys, "cut", self.drawing(tmp_path), "--sheet", "300x200mm", "--material", "Iron-on",
            "-o", tmp_path / "out",
        )  # fmt: skip
        assert code == 0
        assert "tag.svg is not mirrored, and Iron-on film is cut mirrored" in err

    @pytest.mark.parametrize(
        ("options", "says"),
        [
            (["--sheet", "30x20mm"], "tag is 40.0 mm × 20.0 mm"),
            (["--sheet", "0x20mm"], "cannot be cut"),
            (["--sheet", "300mm"], "is not a size"),
            (["--sheet", "axb"], "is not a length"),
            (["--sheet", "300x200mm", "--margin", "150mm"], "leave nothing"),
            (["--sheet", "300x200mm", "--margin=-2mm"], "--margin"),
            (["--sheet", "300x200mm", "--copies", "501"], "501 copies"),
            (["--sheet", "300x200mm", "--tolerance", "0"], "--tolerance"),
            (["--sheet", "300x200mm", "--to", "pdf", "--sheet", "300x9000mm"], "5 m"),
            (["--sheet", "300x200mm", "--machine", "Anvil"], "not a machine"),
        ],
    )
    def test_mistakes_are_told_and_nothing_is_written(self, capsys, tmp_path, options, says):
        folder = tmp_path / "out"
        assert says in refused(capsys, "cut", self.drawing(tmp_path), *options, "-o", folder)
        assert not folder.exists()
