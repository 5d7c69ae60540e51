"""What is not cut: engraved, drawn, scored, only seen. On the work, in files, and at the machine.

Files are read by svgelements, GDAL and PDFium; HP-GL by its own text (HP-GL/2 Reference Guide: SPn takes a
pen; HP 7475A manual: VS in cm a second). Closed forms: lines at a distance d cover an area A with about A / d
of line; a disc has πr².
"""

import io
import math
import re

import numpy as np
import pyogrio
import pypdfium2
import pypdfium2.raw as raw
import pytest
import shapely
import svgelements
from shapely.geometry import LineString, Point

from fulgen.cutter.blade import cut
from fulgen.formats.artwork import read_artwork
from fulgen.formats.drawn_sheet import USE_COLOURS, JobCaption, drawn_sheet
from fulgen.formats.hpgl import write_hpgl
from fulgen.formats.hpgl_text import Carriage, instructions
from fulgen.formats.sheet_files import cut_file, write_file
from fulgen.formats.svg import write_svg
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from fulgen.sheet.checklist import checklist
from fulgen.sheet.engrave import engraving_lines
from fulgen.sheet.machines import MACHINES, Machine, Setting, machine, machine_from, profile_of
from fulgen.sheet.nest import nested
from fulgen.sheet.plan import sheets_of
from fulgen.sheet.sheets import Sheet

BASE = {"format": "fulgen-recipe", "version": 10}
PLATE = {"kind": "shape", "id": "plate", "form": "rectangle", "width_mm": 120.0, "height_mm": 60.0,
         "film": "#C9A24A"}  # fmt: skip
DISC = {"kind": "shape", "id": "disc", "form": "disc", "width_mm": 20.0, "height_mm": 20.0, "use": "engrave",
        "place": {"x": -40.0}}  # fmt: skip
FOLD = {
    "kind": "line",
    "id": "fold",
    "use": "score",
    "points": [{"x": -50.0, "y": 20.0}, {"x": 50.0, "y": 20.0}],
}
HEART = {"kind": "shape", "id": "heart", "form": "heart", "width_mm": 20.0, "height_mm": 20.0, "use": "draw",
         "place": {"x": 40.0}}  # fmt: skip
GUIDE = {
    "kind": "shape",
    "id": "guide",
    "form": "disc",
    "width_mm": 100.0,
    "height_mm": 100.0,
    "use": "guide",
}
PARTS = [PLATE, DISC, FOLD, HEART, GUIDE]


def evaluated(parts, **more):
    return evaluate(recipe_from({**BASE, "parts": parts, **more})).whole()


def sheet(parts=PARTS, chosen="Laser", material="Card", hairline=0.0, **more):
    """The first sheet of a design as its files draw it, and the machine."""
    one = machine(chosen) if isinstance(chosen, str) else chosen
    (laid, *_) = sheets_of("tag", evaluated(parts, **more))
    return drawn_sheet("sheet", laid.job(one), JobCaption("tag", material=material), hairline)


def pens_of(data):
    """The pens of an HP-GL file in their order, each as often as something is drawn with it."""
    pens, pen = [], None
    for code, numbers in re.findall(r"(SP|PD)([^;]*);", data.decode()):
        if code == "SP":
            pen = int(numbers)
        else:
            pens.append(pen)
    return pens


def asked(found):
    """What the checklist asks of a design."""
    points = checklist(found, sheets_of("t", found), machine("Drag knife"))
    return [point.what for point in points if point.state == "ask"]


class TestOnTheWork:
    def test_only_what_is_cut_is_film(self):
        found = evaluated(PARTS)
        assert [film.colour for film in found.films] == ["#C9A24A"]
        assert [piece.area for piece in found.pieces] == pytest.approx([7200.0])
        assert sorted(one.mark.use for one in found.marks) == ["draw", "engrave", "guide", "score"]

    def test_letters_are_welded_before_they_are_engraved(self):
        word = {"id": "w", "text": "Heron", "face": {"family": "pacifico"}, "use": "engrave"}
        cut_word = evaluated([{**word, "use": "cut"}])
        (one,) = evaluated([PLATE, word]).marks
        outer = [c for c in one.mark.outline.contours() if len(c.verbs) > 2]
        assert len(outer) == len(list(cut_word.films[0].outline.contours()))

    def test_a_recipe_of_before_keeps_its_bands(self):
        line = {"kind": "line", "id": "l", "use": "band", "width_mm": 4.0, "ends": "square"}
        found = evaluate(recipe_from({**BASE, "version": 9, "parts": [line]})).whole()
        assert [piece.area for piece in found.pieces] == pytest.approx([320.0])  # 80 by 4

    def test_a_line_that_is_engraved_has_its_width(self):
        line = {"kind": "line", "id": "l", "use": "engrave", "width_mm": 4.0, "ends": "square"}
        (one,) = evaluated([PLATE, line]).marks
        assert (one.mark.use, one.mark.closed) == ("engrave", True)
        assert np.ptp(one.mark.outline.points, axis=0) == pytest.approx([80.0, 4.0])

    def test_colours_of_a_drawing_are_for_something_each(self):
        svg = (
            '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="60mm" viewBox="0 0 100 60">'
            '<path fill="#C9A24A" d="M0 0H100V60H0Z"/><path fill="#23201C" d="M10 10H30V20H10Z"/>'
            '<path fill="none" stroke="#2F6B4F" d="M0 30H100"/></svg>'
        )
        read = read_artwork(svg.encode(), "a.svg").artwork.model_dump(mode="json")
        part = {**read, "id": "art", "uses": {"#23201c": "engrave", "#2F6B4F": "score"}}
        found = evaluated([part])
        assert [film.colour for film in found.films] == ["#C9A24A"]
        engraved, scored = sorted((one.mark for one in found.marks), key=lambda mark: mark.use)
        assert np.ptp(engraved.outline.points, axis=0) == pytest.approx([20.0, 10.0])
        assert np.ptp(scored.outline.points, axis=0) == pytest.approx([100.0, 0.0])
        # One contour otherwise than its colour.
        drawn = evaluated([{**part, "contours": {"1": {"use": "draw"}}}])
        assert sorted(one.mark.use for one in drawn.marks) == ["draw", "score"]

    def test_what_is_not_cut_lies_on_a_combination_and_has_no_share_in_it(self):
        hole = {**DISC, "id": "hole", "use": "cut", "place": {"x": 40.0}}
        whole = {"kind": "combination", "id": "c", "how": "cut", "members": ["plate", "disc", "hole"]}
        found = evaluated([PLATE, DISC, hole, whole])
        assert [piece.area for piece in found.pieces] == pytest.approx([7200.0 - math.pi * 100], rel=1e-4)
        assert [one.mark.use for one in found.marks] == ["engrave"]
        assert np.mean(found.marks[0].mark.outline.points[:, 0]) == pytest.approx(-40.0, abs=1.0)

    def test_a_guide_gives_lettering_its_line_and_is_never_seen_elsewhere(self):
        word = {"id": "w", "text": "Heron", "course": {"kind": "line", "of": "guide"}}
        found = evaluated([GUIDE, word])
        xs = np.concatenate([film.outline.points for film in found.films])
        assert np.hypot(*xs.T).min() > 49.0
        assert 'id="guide"' not in write_svg(found)
        assert 'width="100' not in write_svg(evaluated([GUIDE, {**DISC, "use": "cut"}]))


class TestInFiles:
    def test_svg_has_a_group_for_each_use_in_the_order_of_the_work(self):
        svg = write_file(sheet(), "svg").data
        read = svgelements.SVG.parse(io.BytesIO(svg), ppi=96)
        groups = [one.id for one in read.elements(lambda e: isinstance(e, svgelements.Group)) if one.id]
        assert groups == ["engrave", "draw", "score", "film"]
        found = {
            path.fill.hex: path
            for path in read.elements(lambda e: isinstance(e, svgelements.Path))
            if path.fill.value is not None
        }
        box = found[USE_COLOURS["engrave"].lower()].bbox()
        assert (box[2] - box[0]) * 25.4 / 96 == pytest.approx(20.0, abs=0.01)

    def test_dxf_has_a_layer_for_each_use(self, tmp_path):
        path = tmp_path / "sheet.dxf"
        path.write_bytes(write_file(sheet(), "dxf").data)
        _, _, shapes, fields = pyogrio.raw.read(path, sql="SELECT Layer FROM entities")
        layers = dict(zip(fields[0], shapely.from_wkb(shapes), strict=True))
        assert sorted(layers) == ["DRAW", "ENGRAVE", "FILM", "SCORE"]
        assert shapely.Polygon(layers["ENGRAVE"]).area == pytest.approx(math.pi * 100, rel=5e-3)
        assert layers["SCORE"].length == pytest.approx(100.0, abs=0.01)

    def test_pdf_fills_what_is_engraved_and_strokes_what_is_drawn(self):
        page = pypdfium2.PdfDocument(write_file(sheet(), "pdf").data)
        try:
            things = list(page[0].get_objects())
            assert [thing.type for thing in things] == [raw.FPDF_PAGEOBJ_PATH] * 4
            left, bottom, right, top = things[0].get_bounds()
            assert ((right - left) * 25.4 / 72, (top - bottom) * 25.4 / 72) == pytest.approx(
                (20, 20), abs=0.1
            )
        finally:
            page.close()

    def test_eps_has_all_of_it(self):
        data = write_file(sheet(), "eps").data.decode()
        assert re.findall(r"\b(fill|stroke)\b", data) == ["fill", "stroke", "stroke", "fill"]

    @pytest.mark.parametrize("kind", ["svg", "dxf", "dxf-r12", "pdf", "eps", "png", "hpgl"])
    @pytest.mark.parametrize("chosen", ["Laser", "Drag knife", "Scroll", "Pen"])
    def test_every_kind_is_handed_out_for_every_machine(self, kind, chosen):
        for hairline in (0.0, 0.25):
            assert write_file(sheet(chosen=chosen, hairline=hairline), kind).data

    def test_a_file_that_lost_its_fold_is_not_handed_out(self, monkeypatch):
        from fulgen.formats import svg

        whole = svg.write_sheet
        monkeypatch.setattr(svg, "write_sheet", lambda drawn, t: re.sub(
            rb'<g id="score".*?</g>', b"", whole(drawn, t), flags=re.DOTALL))  # fmt: skip
        with pytest.raises(Problem, match="does not hold what was promised"):
            write_file(sheet(), "svg")

    def test_our_own_file_is_read_with_its_uses(self):
        read = read_artwork(write_svg(evaluated(PARTS)).encode(), "tag.svg").artwork
        assert set(read.uses.values()) == {"engrave", "draw", "score"}


class TestAtTheMachine:
    def test_it_engraves_then_draws_then_scores_then_cuts(self):
        pens = pens_of(write_file(sheet(), "hpgl").data)
        assert list(dict.fromkeys(pens)) == [5, 3, 4, 1]

    def test_a_knife_leaves_out_what_it_cannot_do_and_is_told_so(self):
        knife = machine("Drag knife")
        assert 5 not in pens_of(write_file(sheet(chosen="Drag knife"), "hpgl").data)
        found = evaluated(PARTS)
        points = [p.what for p in checklist(found, sheets_of("tag", found), knife) if p.about == "uses"]
        assert points == [
            "1 area is engraved: Drag knife does not engrave.", "1 line is drawn, and not cut.",
            "1 line is scored, and not cut.",
        ]  # fmt: skip

    def test_a_trailing_knife_scores_true_and_then_cuts_as_promised(self):
        drawn = sheet(chosen="Drag knife")
        _, told = cut_file(drawn)
        assert (told.is_kept, told.promised) == (True, 1)
        blade = [(pen, path) for pen, path in drawn.job.strokes if pen != 3]
        tips = cut([path for _, path in blade], 0.25, 2.0)
        (tip,) = [tip for (pen, _), tip in zip(blade, tips, strict=True) if pen == 4]
        (fold,) = [mark for mark in drawn.uncut if mark.use == "score"]
        assert LineString(fold.outline.points).hausdorff_distance(LineString(tip)) < 0.03

    def test_a_pen_draws_it_all_and_nothing_comes_off(self):
        data = write_file(sheet(chosen="Pen"), "hpgl").data
        assert set(pens_of(data)) == {3, 4, 5}
        _, told = cut_file(sheet(chosen="Pen"))
        assert (told.promised, told.came_off, told.is_kept) == (0, 0, True)

    @pytest.mark.parametrize("chosen", [m.name for m in MACHINES])
    @pytest.mark.parametrize("parts", [[HEART], [DISC], [FOLD]], ids=["drawn", "engraved", "scored"])
    def test_what_is_not_cut_at_all_has_its_checklist_and_files(self, parts, chosen):
        found, one = evaluated(parts), machine(chosen)
        laid = sheets_of("tag", found)
        points = checklist(found, laid, one)
        assert not any(point.state == "blocks" for point in points)
        assert any(point.about == "uses" for point in points)
        drawn = sheet(parts=parts, chosen=chosen)
        assert write_file(drawn, "svg").data
        assert cut_file(drawn)[1].is_kept
        assert laid[0].job(one).seconds("Card") >= 0.0
        assert len(nested(laid[0].motifs, Sheet(300.0, 300.0), "quarter", 1)) == 1

    def test_what_is_only_drawn_has_a_sheet_too(self):
        drawn = sheet(parts=[HEART], chosen="Pen")
        assert drawn.pieces == ()
        assert pens_of(write_file(drawn, "hpgl").data) == [3] * len(pens_of(write_file(drawn, "hpgl").data))

    @pytest.mark.parametrize("apart", [0.1, 0.2, 0.5])
    def test_engraving_covers_its_area_line_by_line(self, apart):
        disc = Point(0, 0).buffer(10.0, quad_segs=64)
        lines = engraving_lines(disc, apart)
        assert sum(LineString(line).length for line in lines) * apart == pytest.approx(disc.area, rel=5e-3)
        levels = [line[0, 1] for line in lines]
        assert np.diff(levels) == pytest.approx([20.0 / len(lines)] * (len(lines) - 1))
        ways = [np.sign(line[1, 0] - line[0, 0]) for line in lines]
        assert ways == [(-1) ** n for n in range(len(lines))]
        around = shapely.buffer(shapely.MultiLineString(lines), apart / 2, cap_style="flat")
        assert shapely.difference(disc.buffer(-apart), around).area < 0.01 * disc.area

    def test_a_ring_is_engraved_beside_its_hole(self):
        ring = Point(0, 0).buffer(10.0).difference(Point(0, 0).buffer(5.0))
        assert not any(
            Point(0, 0).buffer(4.9).intersects(LineString(line)) for line in engraving_lines(ring, 0.5)
        )

    def test_nothing_is_engraved_between_areas(self):
        areas = shapely.MultiPolygon([shapely.box(0, 0, 10, 1), Point(5, 8).buffer(2.0)])
        lines = engraving_lines(areas, 0.25)
        assert all(areas.buffer(1e-9).covers(LineString(line)) for line in lines)
        assert sum(LineString(line).length for line in lines) * 0.25 == pytest.approx(areas.area, rel=0.03)

    def test_too_many_lines_are_refused(self):
        with pytest.raises(Problem, match="more than 60,000 lines"):
            engraving_lines(shapely.box(0, 0, 10, 4000), 0.05)

    def test_force_and_speed_go_with_each_pen(self):
        chosen = Machine("Mine", settings=(
            Setting("Card", "cut", 80.0, 120.0), Setting("Card", "score", 20.0),
        ))  # fmt: skip
        data = write_file(sheet(chosen=chosen), "hpgl").data.decode()
        assert re.findall(r"SP(\d);(FS[^;]*;VS[^;]*;)", data) == [
            ("3", "FS;VS;"), ("4", "FS20;VS;"), ("1", "FS80;VS12;"),
        ]  # fmt: skip
        assert "FS" not in write_file(sheet(chosen=chosen, material="Ply, 3 mm"), "hpgl").data.decode()
        assert machine_from(profile_of(chosen)) == chosen

    def test_the_carriage_takes_the_speed_it_is_told(self):
        carriage = Carriage()
        steps = [s for i in instructions("IN;SP1;FS80;VS12;PU0,0;VS;", "a") for s in carriage.steps(i)]
        assert [step.mm_s for step in steps if step.do == "speed"] == [0.0, 120.0, 0.0]

    def test_a_pen_is_said_where_it_is_taken(self):
        line = np.array([[1.0, 1.0], [5.0, 1.0]])
        text = write_hpgl([(1, line), (1, line + 1), (3, line)], 20.0, {1: "FS9;VS;", 3: "FS;VS;"})
        assert re.findall(r"SP(\d);FS", text) == ["1", "3"]


class TestMirrorByFilm:
    RED = {**PLATE, "id": "red", "film": "#8C2F39", "place": {"x": 200.0}}

    def test_only_the_film_that_is_cut_from_its_back(self):
        flag = {**HEART, "id": "flag", "use": "cut", "film": "#8C2F39", "place": {"x": 20.0, "y": 0.0}}
        cut_plan = {"stocks": [{"film": "#8C2F39", "mirror": True}]}
        lie = {s.film: s.motifs[0].motif.box for s in sheets_of("t", evaluated([PLATE, flag], cut=cut_plan))}
        assert (lie["#8C2F39"].x, lie["#C9A24A"].x) == pytest.approx((-30.0, -60.0), abs=0.2)

    def test_each_film_is_asked_about_by_itself(self):
        plan = {"stocks": [{"film": "#8C2F39", "mirror": True, "name": "Signal red"}]}
        found = evaluated([PLATE, self.RED], cut=plan)
        said = [
            p.what for p in checklist(found, sheets_of("t", found), machine("Drag knife")) if p.state == "ask"
        ]
        assert said == ["Adhesive film is cut as it reads, and Signal red is mirrored."]


class TestMaterialsOfTheShop:
    OWN = {"name": "Harbour felt", "joint_mm": 3.0, "mirrored": True, "note": "blunt blade",
           "limits": {"neck_mm": 4.0, "stroke_mm": 3.5, "hole_mm": 2.0, "piece_mm": 5.0, "gap_mm": 1.0},
           }  # fmt: skip

    def test_a_design_keeps_the_material_that_it_was_made_for(self):
        found = evaluated([PLATE], material={"name": "Harbour felt"}, materials=[self.OWN])
        assert found.recipe.limits.neck_mm == 4.0
        assert found.unmet == ()
        asked = [
            p for p in checklist(found, sheets_of("t", found), machine("Drag knife")) if p.state == "ask"
        ]
        assert [p.what for p in asked] == ["Harbour felt is cut mirrored, and this design is not."]

    def test_it_stands_before_what_fulgen_knows_by_that_name(self):
        own = {**self.OWN, "name": "Card"}
        assert evaluated([PLATE], material={"name": "Card"}, materials=[own]).recipe.limits.hole_mm == 2.0

    def test_another_shop_without_it_still_says_that_it_does_not_know(self):
        (told,) = evaluated([PLATE], material={"name": "Harbour felt"}).unmet
        assert told.problem.kind == "unknown-material"
