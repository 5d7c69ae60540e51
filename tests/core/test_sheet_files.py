"""Files of sheets: each kind read by a program that is not ours, and what is wrong with one found before it
is handed out.

Units by their specifications: SVG 2 and CSS Values 4, section 6.2 (96 px to the inch); ISO 32000-1, section
8.3.2.3 (72 points to the inch); AutoCAD DXF Reference, $INSUNITS 4 (mm); HP-GL/2 Reference Guide (40 plotter
units to the mm); PNG, third edition, section 11.3.4.3 (pixels to the metre).
"""

import io
import json
import math
import re
import shutil
import subprocess
import zipfile
from dataclasses import replace
from pathlib import Path

import numpy as np
import pyogrio
import pypdfium2
import pypdfium2.raw as raw
import pytest
import shapely
import svgelements
from PIL import Image
from shapely.geometry import Polygon

from fulgen.formats import svg as svg_format
from fulgen.formats.drawn_sheet import USE_COLOURS, JobCaption, drawn_sheet
from fulgen.formats.sheet_files import cut_file, write_file, writer_of, zipped
from fulgen.formats.svg import write_svg
from fulgen.geometry.outline import Outline
from fulgen.lettering.catalogue import shipped_face
from fulgen.parts.built_part import Mark
from fulgen.problem import Problem
from fulgen.recipe.cutting import CutPlan
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import read_recipe, recipe_from
from fulgen.sheet.machines import MACHINES, machine
from fulgen.sheet.motifs import Motif, motifs_of
from fulgen.sheet.sheets import Sheet, laid_out
from tests.figures import disc, rectangle, ring, shape

ABOUT = JobCaption("Zoë’s tag", "Zoë & Łucja", "Pacifico", "40.0 mm × 20.0 mm", "#205080", "Adhesive film")
KINDS = ("svg", "dxf", "dxf-r12", "pdf", "eps", "hpgl", "png")
NO_OFFSET = machine("Drag knife that")

FIGURE = shape(Outline.joined([ring(30, 25, 20, 12), disc(80, 25, 7), rectangle(60, 40, 30, 8)]))
AREA = math.pi * (400 - 144 + 49) + 240
"""Closed form."""


def drawn(
    figure=FIGURE, width=150.0, height=90.0, chosen=NO_OFFSET, name="sheet-1", film="#205080",
    uncut=(), hairline=0.0, **plan
):  # fmt: skip
    motif = Motif("tag", film, figure, uncut=tuple(uncut))
    [laid] = laid_out([motif], lambda _film: Sheet(width, height), CutPlan(**plan))
    return drawn_sheet(name, laid.job(chosen), ABOUT, hairline)


def polygon_of(rings):
    """What rings enclose, even-odd: holes are taken out of what they lie in."""
    found = shapely.MultiPolygon()
    for points in rings:
        found = shapely.symmetric_difference(found, Polygon(points))
    return found


def promised(sheet):
    return shapely.union_all(sheet.job.laid.promised)


def same(region, sheet, strip=0.03):
    """Whether a region is what was promised, where it was promised."""
    return shapely.symmetric_difference(region, promised(sheet)).area <= strip * promised(sheet).length


class TestReadByOthers:
    def test_svg_at_96_px_to_the_inch(self):
        sheet = drawn()
        data = write_file(sheet, "svg").data
        read = svgelements.SVG.parse(io.BytesIO(data), ppi=96)
        to_mm = 25.4 / 96
        assert (read.width * to_mm, read.height * to_mm) == pytest.approx((150, 90), abs=1e-3)
        rings = []
        for path in read.elements(lambda e: isinstance(e, svgelements.Path)):
            for part in path.as_subpaths():
                points = [side.point(t) for side in part for t in np.linspace(0, 1, 40)]
                rings.append([(p.x * to_mm, p.y * to_mm) for p in points])
        assert polygon_of(rings).area == pytest.approx(AREA, rel=2e-3)
        assert same(polygon_of(rings), sheet)

    @pytest.mark.parametrize("kind", ["dxf", "dxf-r12"])
    def test_dxf_in_millimetres(self, kind, tmp_path):
        sheet = drawn()
        path = tmp_path / "sheet.dxf"
        path.write_bytes(write_file(sheet, kind, 0.005).data)
        table = pyogrio.raw.read(path, sql="SELECT * FROM entities")
        lines = shapely.from_wkb(table[2])
        rings = [shapely.get_coordinates(line) * (1, -1) + (0, 90) for line in lines]
        assert len(rings) == 4
        assert same(polygon_of(rings), sheet)
        text = path.read_text()
        assert ("$INSUNITS" in text) == (kind == "dxf")
        if kind == "dxf":
            assert re.search(r"\$INSUNITS\s+70\s+4\s", text)
        assert bool(re.search(r"^SPLINE$", text, re.MULTILINE)) == (kind == "dxf")

    def test_pdf_at_72_points_to_the_inch(self):
        sheet = drawn()
        document = pypdfium2.PdfDocument(write_file(sheet, "pdf").data)
        assert document[0].get_size() == pytest.approx((150 / 25.4 * 72, 90 / 25.4 * 72), abs=0.01)
        assert document.get_metadata_dict()["Title"] == "Zoë’s tag"
        assert "Zoë & Łucja; Pacifico" in document.get_metadata_dict()["Subject"]
        # The corners of the boxes of its paths, in points, y up.
        boxes = []
        for thing in document[0].get_objects([raw.FPDF_PAGEOBJ_PATH]):
            left, bottom, right, top = thing.get_bounds()
            boxes.append((left / 72 * 25.4, 90 - top / 72 * 25.4, right / 72 * 25.4, 90 - bottom / 72 * 25.4))
        assert shapely.union_all([shapely.box(*box) for box in boxes]).bounds == pytest.approx(
            promised(sheet).bounds, abs=0.02
        )

    @pytest.mark.skipif(shutil.which("gs") is None, reason="Ghostscript is not installed")
    @pytest.mark.parametrize("kind", ["eps", "pdf"])
    def test_ghostscript_covers_what_was_promised(self, kind, tmp_path):
        sheet = drawn(film="#000000")
        path, out = tmp_path / f"sheet.{kind}", tmp_path / "out.png"
        path.write_bytes(write_file(sheet, kind).data)
        subprocess.run(
            ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-dEPSCrop", "-sDEVICE=pnggray", "-r508",
             "-dGraphicsAlphaBits=4", f"-sOutputFile={out}", path],
            check=True,
        )  # fmt: skip
        with Image.open(out) as picture:
            ink = 1 - np.asarray(picture.convert("L"), dtype=float) / 255
        # 508 dots to the inch are 20 to the mm.
        assert ink.shape == pytest.approx((90 * 20, 150 * 20), abs=25)
        assert ink.sum() / 400 == pytest.approx(AREA, rel=0.01)

    @pytest.mark.skipif(shutil.which("hp2xx") is None, reason="hp2xx is not installed")
    def test_hp2xx_reads_hpgl_at_40_units_to_the_mm(self, tmp_path):
        sheet = drawn()
        path, out = tmp_path / "sheet.plt", tmp_path / "sheet.eps"
        path.write_bytes(write_file(sheet, "hpgl").data)
        subprocess.run(["hp2xx", "-q", "-t", "-m", "eps", "-f", out, path], check=True, capture_output=True)
        box = re.search(r"%%BoundingBox: (\S+) (\S+) (\S+) (\S+)", out.read_text())
        left, bottom, right, top = (float(number) / 72 * 25.4 for number in box.groups())
        x, y, to_x, to_y = promised(sheet).bounds
        # It draws around all that the pen touched, with its width, in whole points.
        assert (right - left, top - bottom) == pytest.approx((to_x - x, to_y - y), abs=1.5)

    def test_png_is_as_large_as_it_says_and_clear_around(self):
        sheet = drawn()
        with Image.open(io.BytesIO(write_file(sheet, "png").data)) as picture:
            dpi = picture.info["dpi"][0]
            assert (picture.width / dpi * 25.4, picture.height / dpi * 25.4) == pytest.approx(
                (150, 90), abs=0.1
            )
            assert picture.getpixel((0, 0))[3] == 0
            alpha = np.asarray(picture.getchannel("A"), dtype=float) / 255
        assert alpha.sum() * (25.4 / dpi) ** 2 == pytest.approx(AREA, rel=2e-3)


class TestWords:
    @pytest.mark.parametrize("kind", KINDS)
    @pytest.mark.parametrize("recipe", ["willowmere-transom", "locker-tag", "launch-day-disc", "life-ring"])
    def test_demo_designs_are_written_in_every_kind(self, kind, recipe):
        evaluation = evaluate(read_recipe(Path(f"demo/{recipe}.json").read_bytes()), shipped_face)
        motifs = motifs_of(recipe, evaluation, CutPlan())
        for laid in laid_out(motifs, lambda _film: Sheet(900, 900, roll=True)):
            file = write_file(drawn_sheet(recipe, laid.job(NO_OFFSET), ABOUT), kind)
            assert len(file.data) > 500

    def test_files_say_what_they_are_of(self):
        sheet = drawn()
        for kind in ("svg", "dxf", "eps"):
            text = write_file(sheet, kind).data.decode("utf-8", "replace")
            assert "Pacifico" in text
            assert "Adhesive film" in text
        svg = write_file(sheet, "svg").data.decode()
        assert "<title>Zoë’s tag</title>" in svg
        assert "Zoë &amp; Łucja" in svg


class TestOrderAndHelps:
    def test_pieces_stand_in_the_order_of_the_cut(self):
        sheet = drawn(shape(Outline.joined([disc(90, 10, 8), disc(10, 10, 8), disc(50, 10, 8)])))
        lefts = [piece.points[:, 0].min() for piece in sheet.pieces]
        starts = [float(path[0, 0]) for path in sheet.job.paths]
        assert np.argsort(lefts).tolist() == np.argsort(starts).tolist()

    def test_what_helps_weeding_is_apart_from_what_is_cut(self):
        sheet = drawn(boxes="each", waste_lines=True)
        assert sheet.weeding_cuts
        svg = write_file(sheet, "svg").data.decode()
        assert '<g id="weeding"' in svg
        assert "WEEDING" in write_file(sheet, "dxf").data.decode()
        plotted = write_file(sheet, "hpgl").data.decode()
        assert plotted.index("SP1;") < plotted.index("SP2;")

    @pytest.mark.parametrize("chosen", MACHINES, ids=lambda m: m.name)
    @pytest.mark.parametrize("boxes", ["none", "each", "sheet"])
    def test_with_boxes_the_same_pieces_come_off(self, chosen, boxes):
        _, told = cut_file(drawn(chosen=chosen, boxes=boxes, waste_lines=boxes != "none"))
        assert (told.promised, told.came_off) == ((3, 3) if chosen.cuts else (0, 0))

    def test_helps_keep_their_clearance(self):
        sheet = drawn(boxes="each", waste_lines=True, clearance_mm=3.0)
        for line in sheet.weeding_cuts:
            assert shapely.distance(shapely.LineString(line), promised(sheet)) >= 3.0 - 0.01

    def test_passes_are_cut_one_after_the_other(self):
        thrice = drawn(chosen=replace(NO_OFFSET, passes=3))
        once, told = cut_file(drawn())
        plotted, told = cut_file(thrice)
        assert plotted.data.count(b"PU") - 1 == 3 * (once.data.count(b"PU") - 1)
        assert told.came_off == 3


class TestHeldBack:
    """Broken writers: what they write is not handed out."""

    def broken(self, monkeypatch, kind, change):
        writer = writer_of(kind)
        write = writer.write_sheet
        monkeypatch.setattr(writer, "write_sheet", lambda sheet, tolerance: write(change(sheet), tolerance))
        with pytest.raises(Problem) as told:
            write_file(drawn(), kind)
        assert told.value.kind == "not-as-promised"
        assert "was not handed out" in told.value.what

    @pytest.mark.parametrize("kind", ["svg", "dxf", "dxf-r12", "pdf", "eps", "png"])
    def test_a_lost_counter(self, monkeypatch, kind):
        def change(sheet):
            return replace(sheet, pieces=tuple(next(reversed(list(p.contours()))) for p in sheet.pieces))

        self.broken(monkeypatch, kind, change)

    @pytest.mark.parametrize("kind", ["svg", "dxf", "dxf-r12", "pdf", "eps"])
    def test_a_piece_that_is_moved(self, monkeypatch, kind):
        def change(sheet):
            return replace(sheet, pieces=(sheet.pieces[0].placed(0.5, 0), *sheet.pieces[1:]))

        self.broken(monkeypatch, kind, change)

    @pytest.mark.parametrize("kind", ["svg", "dxf", "pdf", "eps", "png"])
    def test_another_size(self, monkeypatch, kind):
        self.broken(monkeypatch, kind, lambda sheet: replace(sheet, width=sheet.width + 1))

    def test_a_sheet_that_the_blade_would_tear(self):
        # The file makes no allowance for a blade that trails far behind.
        sheet = drawn(shape(ring(0, 0, 3, 1)))
        trailing = replace(sheet.job.machine, offset_mm=2.0)
        with pytest.raises(Problem, match="1 of 1 piece would not come off sheet-1") as told:
            cut_file(replace(sheet, job=replace(sheet.job, machine=trailing)))
        assert "finer blade" in told.value.todo


def test_all_in_one_archive():
    files = [write_file(drawn(name=name), "svg") for name in ("sheet-1", "sheet-2")]
    with zipfile.ZipFile(io.BytesIO(zipped(files))) as archive:
        assert archive.testzip() is None
        assert archive.namelist() == ["sheet-1.svg", "sheet-2.svg"]
        assert archive.read("sheet-2.svg") == files[1].data
    assert json.dumps(archive.namelist())
    assert svg_format.read_sheet(files[0].data, 0.01).area == pytest.approx(AREA, rel=2e-3)


FOLD = Mark(Outline(np.array([0, 1], np.uint8), np.array([[20.0, 25.0], [40.0, 25.0]])), "score")
LOOP = Mark(disc(80, 25, 4), "draw", closed=True)


def strokes_of(svg):
    """The strokes of an SVG file by their colours, in the order in which they are drawn: by svgelements."""
    found = {}
    for element in svgelements.SVG.parse(io.BytesIO(svg), ppi=96).elements():
        if isinstance(element, svgelements.Path) and element.stroke.value is not None:
            found.setdefault(element.stroke.hex, []).append(element)
    return found


class TestLines:
    """Lines that are drawn or scored, and cuts drawn as lines: read by readers that are not ours."""

    def test_what_is_drawn_and_scored_is_in_every_kind_that_can_carry_it(self, tmp_path):
        sheet = drawn(uncut=(FOLD, LOOP))
        svg = write_file(sheet, "svg").data
        found = strokes_of(svg)
        assert list(found) == [USE_COLOURS["draw"].lower(), USE_COLOURS["score"].lower()]
        (fold,) = found[USE_COLOURS["score"].lower()]
        assert fold.length() * 25.4 / 96 == pytest.approx(20.0, rel=1e-4)
        (loop,) = found[USE_COLOURS["draw"].lower()]
        assert loop.length() * 25.4 / 96 == pytest.approx(2 * math.pi * 4, rel=1e-4)
        path = tmp_path / "sheet.dxf"
        path.write_bytes(write_file(sheet, "dxf").data)
        layers = list(pyogrio.raw.read(path, sql="SELECT Layer FROM entities")[3][0])
        assert (layers.count("SCORE"), layers.count("DRAW")) == (1, 1)
        page = pypdfium2.PdfDocument(write_file(sheet, "pdf").data)
        try:
            kinds = [thing.type for thing in page[0].get_objects()]
            assert kinds.count(pypdfium2.raw.FPDF_PAGEOBJ_PATH) == 3 + 2
        finally:
            page.close()
        assert write_file(sheet, "eps").data.count(b"stroke") == 2

    @pytest.mark.parametrize("kind", ["svg", "pdf", "eps"])
    @pytest.mark.parametrize("width", [0.25, 0.01])
    def test_cuts_are_lines_that_enclose_what_was_promised(self, kind, width):
        sheet = drawn(uncut=(FOLD,), hairline=width)
        data = write_file(sheet, kind).data  # held against what was promised, or refused
        assert writer_of(kind).read_sheet(data, 0.01).region.area == pytest.approx(AREA, rel=2e-3)
        if kind == "svg":
            cut = strokes_of(data)[USE_COLOURS["cut"].lower()]
            assert len(cut) == 3
            assert all(path.fill.value is None for path in cut)
            assert all(path.stroke_width * 25.4 / 96 == pytest.approx(width, rel=1e-6) for path in cut)
            assert sum(path.length(error=1e-4) for path in cut) * 25.4 / 96 == pytest.approx(
                2 * math.pi * (20 + 12 + 7) + 76, rel=1e-3
            )

    def test_a_line_turns_and_mirrors_with_its_motif(self):
        part = {"id": "w", "text": "Heron", "face": {"family": "pacifico"}, "join": {"how": "auto"}}
        line = {"id": "fold", "kind": "line", "course": "straight", "use": "score",
                "points": [{"x": -10.0, "y": 0.0}, {"x": 30.0, "y": 0.0}], "place": {"y": 12.0}}  # fmt: skip
        plain, mirrored = (
            evaluate(recipe_from({"format": "fulgen-recipe", "version": 10, "mirror": mirror,
                                  "parts": [part, line]}))
            for mirror in (False, True)
        )  # fmt: skip
        for evaluation in (plain, mirrored):
            (motif,) = motifs_of("tag", evaluation, evaluation.recipe.cut)
            (free,) = motif.uncut
            xs = free.outline.points[:, 0]
            expected = (-30.0, 10.0) if evaluation is mirrored else (-10.0, 30.0)
            assert (xs.min(), xs.max()) == pytest.approx(expected)
            laid = laid_out([motif], lambda _film: Sheet(200.0, 120.0))[0].motifs[0]
            below = free.outline.points[:, 1].max() - motif.whole.box.bottom
            assert laid.uncut[0].outline.points[:, 1].max() - laid.whole.box.bottom == pytest.approx(below)

    def test_the_file_of_a_design_has_them_too(self):
        part = {"id": "w", "text": "Heron", "face": {"family": "pacifico"}, "join": {"how": "auto"}}
        line = {"id": "fold", "kind": "line", "course": "straight", "use": "draw"}
        raw = {"format": "fulgen-recipe", "version": 10, "parts": [part, line]}
        found = strokes_of(write_svg(evaluate(recipe_from(raw))).encode())
        assert list(found) == [USE_COLOURS["draw"].lower()]
