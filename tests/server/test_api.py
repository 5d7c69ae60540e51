"""The API of the work, and what bad requests get: one shape of answer, nothing lost, the server alive."""

import json
from pathlib import Path

import pytest
from django.test import Client

from designs.management.commands.write_schemas import schemas
from designs.models import Design
from fulgen.lettering.catalogue import families
from fulgen.recipe.model import VERSION
from tests.server.conftest import recipe

ROOT = Path(__file__).parents[2]


def refused(answer, status=422):
    code, problem = answer
    assert code == status
    assert set(problem) == {"kind", "what", "where", "todo", "faces"}
    assert problem["what"]
    assert problem["todo"]
    assert "Traceback" not in json.dumps(problem)
    return problem


def of_part(answer):
    """What stands in the way of the one part there is: told beside it, in an answer that is whole."""
    status, told = answer
    assert status == 200
    assert told["films"] == []
    return refused((422, told["parts"][0]["problem"]))


class TestEvaluating:
    def test_a_recipe_comes_back_as_pieces_letters_and_figures(self, api):
        result = api.evaluated(recipe("CREW", face={"family": "anton"}))
        (film,) = result["films"]
        assert len(film["pieces"]) == 4
        assert [letter["text"] for letter in result["letters"]] == list("CREW")
        assert result["parts"][0]["capital_height_mm"] == pytest.approx(25)
        assert result["parts"][0]["baselines_mm"] == [0]
        assert result["cut_length_mm"] > result["box"]["width"]

    def test_the_outline_on_the_screen_is_the_outline_in_the_file(self, api):
        body = recipe(face={"family": "pacifico"}, size={"measure": "width", "mm": 100})
        screen = api.evaluated(body)
        file = api.post("/svg", {"name": "w", "recipe": body})[1].decode()
        nodes = sum(c in "LQC" for c in file.split(' d="')[1])
        on_screen = sum(sum(c in "LQC" for c in p["d"]) for f in screen["films"] for p in f["pieces"])
        assert nodes == on_screen
        assert f'width="{screen["box"]["width"]:g}mm"' in file

    def test_the_file_has_a_safe_name(self, api):
        body = json.dumps({"name": '../Zoë "x"\r\n', "recipe": recipe("a")})
        answer = api.client.post("/api/svg", body, "application/json")
        assert answer["Content-Disposition"].endswith("filename*=UTF-8''Zo%C3%AB-x.svg")
        assert answer["Content-Type"] == "image/svg+xml"

    def test_faces_are_listed_with_what_they_can_do(self, api):
        faces = {face["slug"]: face for face in api.get("/faces")[1]}
        assert faces["caveat"]["axes"][0]["name"] == "Weight"
        assert faces["caveat"]["axes"][0]["default"] == 700
        assert faces["charm"]["weights"] == [400, 700]
        assert all(f["name"][0].isupper() for face in faces.values() for f in face["features"])

    @pytest.mark.parametrize("first", range(0, len(families()), 40))
    def test_every_face_shows_the_typed_word_or_its_name(self, api, first):
        asked = list(families())[first : first + 40]
        for text in ("Wren", "  ", "Жук"):
            samples = api.post("/faces/samples", {"text": text, "faces": asked})[1]
            assert [s["slug"] for s in samples] == asked
            assert all(s["d"].startswith("M") and s["box"]["width"] > 0 for s in samples)
            assert text == "Жук" or not any(s["lacks"] for s in samples)

    def test_faces_show_the_typed_word_or_name_what_they_lack(self, api):
        body = {"text": "\n Жук \nx", "faces": ["pacifico", "sacramento"]}
        samples = {s["slug"]: s for s in api.post("/faces/samples", body)[1]}
        assert samples["pacifico"]["lacks"] == []
        assert samples["sacramento"]["lacks"] == ["Ж", "у", "к"]
        assert all(s["d"].startswith("M") and s["box"]["width"] > 0 for s in samples.values())

    def test_only_the_faces_asked_for_are_shown(self, api):
        body = {"text": "Heron", "faces": ["anton", "Great Vibes"]}
        assert [s["slug"] for s in api.post("/faces/samples", body)[1]] == ["anton", "great-vibes"]
        # One that was taken off meanwhile does not take the others with it.
        with_none = api.post("/faces/samples", {**body, "faces": ["none", "anton"]})[1]
        assert [s["slug"] for s in with_none] == ["anton"]


class TestByKey:
    """The browser says what it holds, and is sent only what is new."""

    def keys(self, told):
        return [row["key"] for rows in ("clusters", "built", "forms") for row in told[rows]]

    def ask(self, api, body, have=()):
        return api.post("/evaluate", {"recipe": body, "have": list(have)})[1]

    def test_what_is_held_is_not_sent_again(self, api):
        body = {**recipe("Tern", face={"family": "anton"}), "version": 2}
        first = self.ask(api, body)
        again = self.ask(api, body, self.keys(first))
        assert self.keys(again) == []
        assert (again["films"], again["parts"], again["box"]) == (
            first["films"],
            first["parts"],
            first["box"],
        )

    def test_a_nudge_sends_the_weld_and_places_but_no_letter(self, api):
        body = {**recipe("Tern", face={"family": "anton"}), "version": 2}
        first = self.ask(api, body)
        nudged = {**recipe("Tern", face={"family": "anton"}, letters={"2": {"dx": 0.01}}), "version": 2}
        told = self.ask(api, nudged, self.keys(first))
        assert [len(told[rows]) for rows in ("clusters", "built", "forms")] == [1, 1, 0]

    def test_another_unit_colour_or_mirror_sends_nothing_at_all(self, api):
        body = {**recipe("Tern", face={"family": "anton"}), "version": 2}
        first = self.ask(api, body)
        part = {**body["parts"][0], "film": "#123456"}
        changed = {**body, "unit": "in", "mirror": True, "parts": [part]}
        told = self.ask(api, changed, self.keys(first))
        assert self.keys(told) == []
        assert told["films"][0]["colour"] == "#123456"

    def test_only_seams_that_changed_are_sent(self, api):
        body = recipe("Moss", face={"family": "courgette"}, join={"how": "auto"}, letter_ids=[1, 2, 3, 4])
        (part,) = api.post("/seams", {"recipe": body})[1]
        assert part["keys"] == [one["key"] for one in part["seams"]]
        assert len(part["keys"]) == 3
        (again,) = api.post("/seams", {"recipe": body, "have": part["keys"]})[1]
        assert (again["keys"], again["seams"]) == (part["keys"], [])
        # The last letter is lifted: the first two seams are as they were.
        body["parts"][0]["letters"] = {"4": {"dy": -0.05}}
        (moved,) = api.post("/seams", {"recipe": body, "have": part["keys"]})[1]
        assert moved["keys"][:2] == part["keys"][:2]
        assert [one["key"] for one in moved["seams"]] == moved["keys"][2:]

    @pytest.mark.parametrize("have", [["x" * 100], ["x"] * 2_000, "x", [1]])
    def test_keys_that_are_none_are_refused(self, api, have):
        refused(api.post("/evaluate", {"recipe": recipe(), "have": have}))


class TestSeveralParts:
    """One part that fails is told beside it; the others are there; a file is refused meanwhile."""

    body = {
        "format": "fulgen-recipe",
        "version": 3,
        "parts": [
            {"id": "one", "text": "Tern", "face": {"family": "anton"}},
            {"id": "two", "text": "Жук", "face": {"family": "sacramento"}, "place": {"y": 60}},
            {"id": "three", "text": "Egret", "face": {"family": "anton"}, "place": {"y": 120}},
        ],
    }

    def test_the_others_are_drawn(self, api):
        told = api.evaluated(self.body)
        assert [part["problem"] and part["problem"]["kind"] for part in told["parts"]] == [
            None, "missing-letters", None,
        ]  # fmt: skip
        assert len(told["films"][0]["pieces"]) == 9
        assert {letter["part"] for letter in told["letters"]} == {"one", "three"}
        assert {seam["part"] for seam in api.seams(self.body)} == {"one", "three"}

    def test_a_file_is_refused_in_words_and_the_design_is_kept(self, api):
        problem = refused(api.post("/svg", {"recipe": self.body}))
        assert problem["kind"] == "missing-letters"
        made = api.post("/designs", {"name": "three", "recipe": self.body})[1]
        assert len(made["recipe"]["parts"]) == 3
        (card,) = api.get("/designs")[1]
        assert card["pieces"] == 9
        assert "no Cyrillic letters" in card["why_not"]


class TestBadRequests:
    @pytest.mark.parametrize("text", ["", "   ", "\n"])
    def test_nothing_to_cut(self, api, text):
        assert of_part(api.post("/evaluate", {"recipe": recipe(text)}))["kind"] == "no-letters"

    def test_missing_letters_come_with_faces_that_have_them(self, api):
        body = recipe("Жук", face={"family": "sacramento"})
        problem = of_part(api.post("/evaluate", {"recipe": body}))
        assert problem["kind"] == "missing-letters"
        assert "Pacifico" in problem["faces"]

    def test_emoji(self, api):
        assert "U+1F9A6" in of_part(api.post("/evaluate", {"recipe": recipe("🦦")}))["what"]

    @pytest.mark.parametrize("path", ["/evaluate", "/designs"])
    def test_five_thousand_letters(self, api, path):
        body = recipe("a" * 5000)
        body = {"name": "x", "recipe": body} if path == "/designs" else {"recipe": body}
        problem = refused(api.post(path, body))
        assert "5,000 letters" in problem["what"]
        assert not Design.objects.exists()

    @pytest.mark.parametrize("size", ["0", "-3", "NaN", "1e9", "Infinity", '"7 inn"', "null", "[]"])
    def test_sizes_that_are_none(self, api, size):
        body = json.dumps(recipe(size={"measure": "width", "mm": 111})).replace("111", size)
        assert refused(api.post("/evaluate", f'{{"recipe": {body}}}'))["what"].startswith("The size is")

    @pytest.mark.parametrize("body", ["", "{", "[]", "null", '"x"', b"\xff\xfe", "[" * 200_000])
    @pytest.mark.parametrize("path", ["/evaluate", "/designs", "/svg", "/faces/samples"])
    def test_malformed_bodies(self, api, body, path):
        code, problem = api.post(path, body)
        assert code in (400, 422)
        refused((code, problem), code)

    def test_a_recipe_of_the_future(self, api):
        newer = {**recipe(), "version": VERSION + 1}
        assert refused(api.post("/evaluate", {"recipe": newer}))["kind"] == "newer-recipe"

    def test_an_unknown_face(self, api):
        assert (
            of_part(api.post("/evaluate", {"recipe": recipe(face={"family": "../../etc"})}))["kind"]
            == "no-face"
        )

    def test_a_body_of_50_mb_is_refused_before_it_is_read(self, api):
        answer = api.call("POST", "/evaluate", "x", CONTENT_LENGTH=str(50 * 2**20))
        assert "2 MB" in refused(answer, 413)["what"]

    def test_designs_that_do_not_exist(self, api):
        nobody = "00000000-0000-4000-8000-000000000000"
        assert refused(api.get(f"/designs/{nobody}"), 404)["kind"] == "not-found"
        assert refused(api.call("DELETE", f"/designs/{nobody}"), 404)
        assert refused(api.post(f"/designs/{nobody}/copy"), 404)
        assert refused(api.post(f"/designs/{nobody}/restore"), 404)
        body = {"name": "x", "recipe": recipe(), "based_on": 1}
        assert refused(api.put(f"/designs/{nobody}", body), 404)
        assert refused(api.get("/designs/not-an-id"))

    def test_addresses_that_do_not_exist(self, api):
        assert refused(api.get("/nothing/here"), 404)["kind"] == "not-found"

    def test_an_error_nobody_foresaw_is_still_an_answer(self, api, monkeypatch):
        monkeypatch.setattr("designs.api.evaluations.evaluate", lambda recipe: 1 / 0)
        problem = refused(api.post("/evaluate", {"recipe": recipe()}), 500)
        assert "Your design is safe" in problem["todo"]


class TestTheDoor:
    def test_another_site_cannot_change_anything(self, api):
        answer = api.call("POST", "/designs", {"name": "x"}, headers={"origin": "https://elsewhere.example"})
        assert refused(answer, 403)["kind"] == "other-site"
        assert not Design.objects.exists()

    def test_our_own_page_can(self, api):
        answer = api.call("POST", "/designs", {"name": "x"}, headers={"origin": "http://localhost"})
        assert answer[0] == 201

    def test_another_host_name_is_not_answered(self, db):
        assert Client(headers={"host": "elsewhere.example"}).get("/api/designs").status_code == 400

    def test_pages_may_load_only_what_is_ours(self, api):
        answer = api.client.get("/api/faces")
        assert "default-src 'self'" in answer["Content-Security-Policy"]
        assert answer["Cross-Origin-Resource-Policy"] == "same-origin"
        assert answer["X-Frame-Options"] == "DENY"

    def test_the_web_app_is_served_at_any_address_of_its_own(self, api):
        for path in ("/", "/design/00000000-0000-4000-8000-000000000000"):
            page = api.client.get(path)
            assert page.status_code == 200
            assert b'<div id="root">' in page.content


def test_the_kept_descriptions_are_current():
    stale = [path for path, text in schemas().items() if (ROOT / path).read_text("utf-8") != text]
    assert not stale, "run ./fulgen schemas"
