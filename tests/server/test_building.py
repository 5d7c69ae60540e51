"""The API of building: what there is to choose from, what operations leave, edges, and drawings read."""

import math

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from fpdf import FPDF

pytestmark = pytest.mark.django_db

SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50">'
    b'<circle cx="25" cy="25" r="20" fill="#2F6B4F"/><circle cx="25" cy="25" r="8" fill="#8C2F39"/></svg>'
)


def disc(part_id, x=0.0, size=20.0, **more):
    return {"kind": "shape", "id": part_id, "form": "disc", "width_mm": size, "height_mm": size,
            "place": {"x": x}, **more}  # fmt: skip


def recipe(*parts):
    return {"format": "fulgen-recipe", "version": 5, "parts": list(parts)}


def refused(answer, status=422):
    assert answer[0] == status, answer
    assert answer[1]["what"]
    assert answer[1]["todo"]
    return answer[1]


TWO = (disc("a"), disc("b", 12.0))


class TestLibrary:
    def test_forms_with_their_pictures_and_parameters(self, api):
        status, forms = api.get("/forms")
        assert status == 200
        by_name = {form["name"]: form for form in forms}
        assert len(by_name) >= 24
        assert "compass rose" in by_name
        assert [p["key"] for p in by_name["star"]["parameters"]] == ["points", "depth"]
        assert all(form["d"].startswith("M") for form in forms)

    def test_glyphs_of_a_face_a_page_at_a_time(self, api):
        body = {"face": {"family": "great-vibes"}, "start": 0, "count": 40}
        status, told = api.post("/faces/glyphs", body)
        assert status == 200
        assert len(told["glyphs"]) == 40 < told["total"]
        more = api.post("/faces/glyphs", {**body, "start": 40})[1]["glyphs"]
        assert not {(g["file"], g["glyph"]) for g in told["glyphs"]} & {(g["file"], g["glyph"]) for g in more}
        glyph = told["glyphs"][3]
        part = {"kind": "ornament", "id": "o", "face": {"family": "great-vibes"}, "height_mm": 30.0,
                "file": glyph["file"], "glyph": glyph["glyph"]}  # fmt: skip
        assert api.evaluated(recipe(part))["box"]["height"] == pytest.approx(30, rel=1e-3)


class TestEvaluation:
    def test_members_are_told_with_where_they_lie_on_the_work(self, api):
        whole = {"kind": "combination", "id": "c", "how": "weld", "members": ["a", "b"],
                 "place": {"x": 100.0, "scale": 2.0}}  # fmt: skip
        told = api.evaluated(recipe(*TWO, whole))
        parts = {part["id"]: part for part in told["parts"]}
        assert parts["b"]["within"] == "c"
        assert parts["b"]["place"]["x"] == pytest.approx(124)
        assert parts["c"]["within"] is None
        assert parts["c"]["bodies"][0]["film"] is None
        assert len(told["films"]) == 1

    def test_a_shape_tells_where_its_parameters_are_taken_hold_of(self, api):
        part = {"kind": "shape", "id": "r", "form": "ring", "width_mm": 60.0, "height_mm": 60.0}
        (handle,) = api.evaluated(recipe(part))["parts"][0]["handles"]
        assert handle["key"] == "width"
        assert (handle["x"], handle["dx"]) == pytest.approx((30 - 0.32 * 30, -30), rel=1e-6)

    def test_hidden_parts_are_told_and_not_cut(self, api):
        told = api.evaluated(recipe(disc("a"), disc("b", 60.0, hidden=True)))
        assert [part["shown"] for part in told["parts"]] == [True, False]
        assert len(told["films"][0]["pieces"]) == 1

    def test_contacts_are_seams_of_their_part(self, api):
        word = {"kind": "lettering", "id": "w", "text": "HI", "face": {"family": "anton"},
                "size": {"measure": "width", "mm": 30.0}}  # fmt: skip
        bar = {"kind": "shape", "id": "bar", "form": "rectangle", "width_mm": 40.0, "height_mm": 4.0,
               "place": {"x": 15.0, "y": 1.0}}  # fmt: skip
        seams = api.seams(recipe(word, bar))
        assert [(s["left_text"], s["right_text"], s["meets"]) for s in seams if s["meets"]] == [
            ("H", "rectangle", "bar"),
            ("I", "rectangle", "bar"),
        ]


class TestPreview:
    def told(self, api, parts, *ids, **more):
        status, told = api.post("/build/preview", {"recipe": recipe(*parts), "parts": list(ids), **more})
        assert status == 200, told
        return {row["how"]: row for row in told}

    def test_what_each_operation_would_leave_on_the_real_parts(self, api):
        told = self.told(api, TWO, "a", "b")
        assert set(told) == {"weld", "cut", "overlap", "divide", "halo"}
        assert told["weld"]["summary"] == "1 piece"
        assert told["divide"]["pieces"] == 3
        assert told["overlap"]["box"]["width"] == pytest.approx(8, abs=0.02)

    def test_what_would_leave_nothing_is_said_beside_the_others(self, api):
        told = self.told(api, (disc("a"), disc("b", 80.0)), "a", "b")
        assert "no place in common" in told["overlap"]["problem"]["what"]
        assert told["weld"]["pieces"] == 2

    def test_small_pieces_are_counted(self, api):
        bar = {"kind": "shape", "id": "k", "form": "rectangle", "width_mm": 19.0, "height_mm": 30.0}
        told = self.told(api, (disc("a"), bar), "a", "k")
        assert told["cut"]["small"] == 2
        assert "too small to hold" in told["cut"]["summary"]

    def test_parts_of_other_levels_are_refused(self, api):
        parts = (*TWO, disc("c", 40.0), {"kind": "combination", "id": "w", "members": ["a", "b"]})
        body = {"recipe": recipe(*parts), "parts": ["a", "c"]}
        assert "inside a combination" in refused(api.post("/build/preview", body))["what"]

    def test_a_part_that_is_gone_is_said(self, api):
        refused(api.post("/build/preview", {"recipe": recipe(*TWO), "parts": ["a", "gone"]}))


class TestEdges:
    def test_edges_by_the_numbers_that_a_weld_goes_by(self, api):
        ring = {"kind": "shape", "id": "r", "form": "ring", "width_mm": 60.0, "height_mm": 60.0}
        status, told = api.post("/build/edges", {"recipe": recipe(ring), "part": "r"})
        assert status == 200
        assert [(c["number"], c["hole"]) for c in told["contours"]] == [(0, False), (1, True)]

    def test_the_edges_that_what_is_laid_on_it_runs_over_are_told(self, api):
        """A ring of 60 mm: a bar of 56 mm reaches into it, one of 70 mm beyond it."""
        ring = {"kind": "shape", "id": "r", "form": "ring", "width_mm": 60.0, "height_mm": 60.0,
                "values": {"width": 0.2}}  # fmt: skip
        for long, met in ((40.0, []), (56.0, [1]), (70.0, [0, 1])):
            bar = {"kind": "shape", "id": "b", "form": "rectangle", "width_mm": long, "height_mm": 5.0}
            whole = {"kind": "combination", "id": "w", "how": "edges", "members": ["r", "b"]}
            told = api.post("/build/edges", {"recipe": recipe(ring, bar, whole), "part": "r"})[1]
            assert [c["number"] for c in told["contours"] if c["met"]] == met

    @pytest.mark.parametrize("path", ["/build/edges", "/build/contours"])
    def test_a_part_that_is_gone_is_said(self, api, path):
        refused(api.post(path, {"recipe": recipe(*TWO), "part": "gone"}))


class TestDrawings:
    def read(self, api, data, name="sign.svg", **fields):
        answer = api.client.post("/api/artwork/read", {"file": SimpleUploadedFile(name, data), **fields})
        return answer.status_code, answer.json()

    def test_a_drawing_becomes_a_part_with_its_colours(self, api):
        status, told = self.read(api, SVG)
        assert status == 200
        assert told["size_stated"]
        assert (told["width_mm"], told["height_mm"]) == pytest.approx((40, 40), rel=1e-3)
        evaluation = api.evaluated(recipe({**told["artwork"], "id": "art"}))
        assert {film["colour"] for film in evaluation["films"]} == {"#2F6B4F", "#8C2F39"}
        body = {"recipe": recipe({**told["artwork"], "id": "art"}), "part": "art"}
        contours = api.post("/build/contours", body)[1]["contours"]
        assert [c["film"] for c in contours] == ["#2F6B4F", "#8C2F39"]

    def test_pages_of_a_pdf_by_their_pictures(self, api):
        document = FPDF()
        for _ in range(14):
            document.add_page()
            document.rect(10, 10, 50, 20, style="F")
        file = SimpleUploadedFile("a.pdf", bytes(document.output()))
        told = api.client.post("/api/artwork/pages", {"file": file, "start": 13}).json()
        assert told["count"] == 14
        assert [page["number"] for page in told["pages"]] == [13, 14]
        assert told["pages"][0]["picture"].startswith("data:image/png;base64,")
        status, read = self.read(api, bytes(document.output()), "a.pdf", page=14)
        assert status == 200
        assert read["width_mm"] == pytest.approx(50, rel=1e-4)

    def test_a_file_without_pages_has_one(self, api):
        file = SimpleUploadedFile("a.svg", SVG)
        assert api.client.post("/api/artwork/pages", {"file": file}).json() == {"count": 1, "pages": []}

    @pytest.mark.parametrize(
        ("data", "name"), [(b"", "a.svg"), (b"%PDF", "a.pdf"), (b"0\nSECTION", "a.dxf"), (b"GIF89a", "a.gif")]
    )
    def test_what_is_no_drawing_is_refused(self, api, data, name):
        assert refused(self.read(api, data, name))["kind"] == "bad-artwork"

    def test_a_file_of_80_mb_is_refused_at_the_door(self, api):
        answer = api.client.post(
            "/api/artwork/read", {"file": SimpleUploadedFile("a.svg", b"x" * (80 * 2**20))}
        )
        assert answer.status_code == 413
        assert "smaller drawing" in answer.json()["todo"]

    def test_a_letter_s_shape_keeps_its_colours(self, api):
        answer = api.client.post("/api/shapes/read", {"file": SimpleUploadedFile("rose.svg", SVG)})
        shape = answer.json()
        assert [layer["film"] for layer in shape["layers"]] == ["#2F6B4F", "#8C2F39"]
        word = {
            "kind": "lettering",
            "text": "HOH",
            "face": {"family": "anton"},
            "letters": {"2": {"stand_in": shape}},
        }
        films = {film["colour"]: film for film in api.evaluated(recipe(word))["films"]}
        green, red = (sum(p["area_mm2"] for p in films[c]["pieces"]) for c in ("#2F6B4F", "#8C2F39"))
        assert green / red == pytest.approx((400 - 64) / 64, rel=1e-2)
        assert math.isfinite(green)


class TestABadRecipe:
    def test_a_thousand_parts(self, api):
        parts = [disc(f"d-{n}") for n in range(1000)]
        assert "400" in refused(api.post("/evaluate", {"recipe": recipe(*parts)}))["what"]

    def test_parts_made_from_each_other_in_a_ring(self, api):
        parts = [{"kind": "combination", "id": a, "members": [b]} for a, b in ("ab", "ba")]
        assert refused(api.post("/evaluate", {"recipe": recipe(*parts)}))["kind"] == "cycle"

    def test_one_that_leaves_nothing_does_not_take_the_others_away(self, api):
        gone = {"kind": "combination", "id": "c", "how": "cut", "members": ["b", "a"]}
        told = api.evaluated(recipe(disc("a", size=50.0), disc("b"), disc("x", 90.0), gone))
        problems = {part["id"]: part["problem"] for part in told["parts"]}
        assert "covers all of it" in problems["c"]["what"]
        assert problems["x"] is None
        assert len(told["films"][0]["pieces"]) == 1
