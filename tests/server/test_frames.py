"""The API of frames: the library, pictures with the design's own name, bands, and the shop's own frames."""

import pytest

from tests.server.conftest import recipe as old_recipe

pytestmark = pytest.mark.django_db

JOIN = {"how": "auto", "marks": "lower", "tie": True}


def name(part_id="name", text="Piers", **more):
    return {"kind": "lettering", "id": part_id, "text": text, "join": JOIN, **more}


def frame(form="name ring", members=("name",), **more):
    return {"kind": "frame", "id": "frame", "form": form, "members": list(members), **more}


def recipe(*parts):
    return {"format": "fulgen-recipe", "version": 6, "parts": list(parts)}


RING = {"kind": "shape", "id": "ring", "form": "ring", "width_mm": 60.0, "height_mm": 60.0}
OWN = frame("own", (), ground="ring", bands=[{"x": 0.0, "y": 0.0, "width_mm": 30.0, "height_mm": 15.0}])


def part_of(told, part_id):
    return next(part for part in told["parts"] if part["id"] == part_id)


class TestLibrary:
    def test_frames_with_what_can_be_set_of_them(self, api):
        status, frames = api.get("/frames")
        assert status == 200
        by_name = {frame["name"]: frame for frame in frames}
        assert len(by_name) >= 16
        assert by_name["split initial"]["has_initial"]
        gap = next(m for m in by_name["split initial"]["measures"] if m["key"] == "gap")
        assert gap["default"] is None  # it follows from the name
        assert by_name["crew board"]["most_names"] == 12

    def test_a_picture_of_a_name_in_a_frame(self, api):
        status, told = api.post("/frames/picture", {"recipe": recipe(name(), frame()), "part": "frame"})
        assert status == 200
        assert told["problem"] is None
        assert told["box"]["width"] == pytest.approx(80.0, abs=0.01)
        assert told["films"][0]["d"].count("M") > 3

    def test_where_it_does_not_fit_the_picture_says_why(self, api):
        body = {"recipe": recipe(name(text="a" * 60), frame()), "part": "frame"}
        status, told = api.post("/frames/picture", body)
        assert status == 200
        assert told["box"] is None
        assert told["problem"]["kind"] == "too-small"


class TestEvaluation:
    def test_a_frame_tells_its_bands_and_the_names_in_them(self, api):
        told = api.evaluated(recipe(name(), frame("split initial")))
        (band,) = part_of(told, "frame")["bands"]
        assert band["manner"] == "upright"
        assert band["name"] == "name"
        assert band["name_box"]["x"] - band["box"]["x"] == pytest.approx(3.0, abs=0.1)
        assert part_of(told, "name")["within"] == "frame"
        assert len(told["films"][0]["pieces"]) == 1

    def test_contacts_of_a_name_with_its_frame_are_seams(self, api):
        seams = api.seams(recipe(name(), frame()))
        met = [seam for seam in seams if seam["meets"] == "frame"]
        assert {seam["left_text"] for seam in met} == {"P", "s"}
        assert all(seam["state"] in ("joined", "lettering") for seam in met)

    def test_letters_on_a_circle_are_told_with_how_they_are_turned(self, api):
        told = api.evaluated(recipe(name(course={"kind": "circle", "diameter_mm": 90.0}, align="centre")))
        turns = [letter["turn"] for letter in told["letters"]]
        assert turns == sorted(turns)
        assert turns[0] < 0 < turns[-1]
        assert part_of(told, "name")["curved"]

    def test_a_frame_in_the_way_is_told_beside_it_and_its_name(self, api):
        told = api.evaluated(recipe(name(text="a" * 60), frame()))
        assert part_of(told, "frame")["problem"]["kind"] == "too-small"
        assert part_of(told, "name")["problem"]["kind"] == "too-small"

    def test_a_file_of_a_framed_name_is_one_piece(self, api):
        status, svg = api.post("/svg", {"recipe": recipe(name(), frame()), "name": "Piers"})
        assert status == 200
        assert svg.count(b"<path") == 1


class TestTheShopsOwn:
    def test_a_frame_is_kept_listed_and_taken_out(self, api):
        status, kept = api.post("/frames/own", {"name": "Porthole", "recipe": recipe(RING, OWN)})
        assert status == 201
        listed = api.get("/frames/own")[1]
        assert [(frame["name"], len(frame["recipe"]["parts"])) for frame in listed] == [("Porthole", 2)]
        assert api.call("DELETE", f"/frames/own/{kept['id']}", "")[0] == 204
        assert api.get("/frames/own")[1] == []

    def test_what_is_kept_can_be_used(self, api):
        api.post("/frames/own", {"name": "Porthole", "recipe": recipe(RING, OWN)})
        (kept,) = api.get("/frames/own")[1]
        parts = [
            {**part, "members": ["name"]} if part["kind"] == "frame" else part
            for part in kept["recipe"]["parts"]
        ]
        told = api.evaluated({**kept["recipe"], "parts": [name(), *parts]})
        assert len(told["films"][0]["pieces"]) == 1

    @pytest.mark.parametrize(
        "parts", [(RING,), (name(), frame()), (RING, name(), {**OWN, "members": ["name"]})]
    )
    def test_nothing_but_a_frame_of_artwork_is_kept(self, api, parts):
        status, told = api.post("/frames/own", {"name": "No", "recipe": recipe(*parts)})
        assert status == 422
        assert told["kind"] == "not-a-frame"
        assert api.get("/frames/own")[1] == []

    def test_the_library_is_not_without_bounds(self, api, monkeypatch):
        monkeypatch.setattr("designs.api.own_frames.MOST_OWN_FRAMES", 1)
        body = {"name": "Porthole", "recipe": recipe(RING, OWN)}
        assert api.post("/frames/own", body)[0] == 201
        status, told = api.post("/frames/own", body)
        assert status == 422
        assert "up to 1 frames" in told["what"]

    def test_a_recipe_that_is_none_keeps_nothing(self, api):
        assert api.post("/frames/own", {"name": "No", "recipe": {"parts": 3}})[0] == 422
        assert api.post("/frames/own", {"name": "", "recipe": recipe(RING, OWN)})[0] == 422


def test_recipes_from_before_frames_still_come_to_the_same(api):
    assert len(api.evaluated(old_recipe("Tern"))["letters"]) == 4
