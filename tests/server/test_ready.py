"""The API of making ready: what it would do and does, what is left, and the gate before every way out."""

from dataclasses import replace

import pypdfium2
import pytest

from designs.api import findings as findings_api
from tests.server.test_api import refused

HAIRLINES = {"id": "word", "text": "Rosalind", "face": {"family": "great-vibes"},
             "size": {"measure": "capitals", "mm": 25.0}, "join": {"how": "auto"}}  # fmt: skip
APART = {"id": "word", "text": "Heron", "face": {"family": "anton"}, "join": {"how": "set"}}
SOUND = {"id": "word", "text": "Heron", "face": {"family": "pacifico"}, "join": {"how": "auto"}}


def recipe(part, **more):
    return {"format": "fulgen-recipe", "version": 10, "parts": [part], **more}


def told(api, part, **more):
    status, answer = api.post("/ready", {"recipe": recipe(part, **more)})
    assert status == 200, answer
    return answer


class TestWhatItDoes:
    def test_is_told_before_it_is_asked_for(self, api):
        would = told(api, HAIRLINES)
        assert not would["asked"]
        assert would["still"] == []
        kinds = {kind["kind"]: kind for kind in would["kinds"]}
        assert kinds["stroke"]["what"] == f"{len(kinds['stroke']['places'])} thin strokes made heavier"
        assert kinds["stroke"]["places"][0]["what"].startswith("Thin stroke in R: 0.")
        assert kinds["stroke"]["places"][0]["at"]["part"] == "word"
        assert [stop["about"] for stop in would["stops"]] == ["findings"]

    def test_is_the_same_once_it_is_asked_for_and_the_gate_is_open(self, api):
        would, does = told(api, HAIRLINES), told(api, HAIRLINES, ready={})
        assert does["asked"]
        assert does["kinds"] == would["kinds"]
        assert does["stops"] == []
        found = api.post("/findings", {"recipe": recipe(HAIRLINES, ready={})})[1]["findings"]
        assert not [finding for finding in found if finding["blocks"]]

    def test_a_kind_left_is_told_as_left(self, api):
        does = told(api, HAIRLINES, ready={"kinds_left": ["stroke"]})
        (stroke,) = (kind for kind in does["kinds"] if kind["kind"] == "stroke")
        assert (stroke["left"], stroke["places"]) == (True, [])
        assert does["still"]

    def test_a_place_left_is_told_with_its_kind(self, api):
        would = told(api, HAIRLINES)
        place = next(kind for kind in would["kinds"] if kind["kind"] == "stroke")["places"][1]
        does = told(api, HAIRLINES, ready={"places_left": [{"kind": "stroke", "at": place["at"]}]})
        assert does["places_left"] == [{"number": 0, "what": "Thin strokes"}]
        before = next(kind for kind in would["kinds"] if kind["kind"] == "stroke")
        after = next(kind for kind in does["kinds"] if kind["kind"] == "stroke")
        assert len(after["places"]) == len(before["places"]) - 1

    def test_where_nothing_is_thin_nothing_is_done(self, api):
        assert told(api, SOUND)["kinds"] == []
        assert told(api, SOUND, ready={})["kinds"] == []

    @pytest.mark.parametrize(
        "ready",
        [{"kinds_left": ["everything"]}, {"places_left": [{"kind": "stroke"}]}, {"more": 1}, 3,
         {"kinds_left": ["gap"] * 9},
         {"places_left": [{"kind": "gap", "at": {"part": "word", "x": 1e9, "y": 0}}]},
         {"places_left": [{"kind": "gap", "at": {"part": "word", "x": 0, "y": 0}}] * 301}],
    )  # fmt: skip
    def test_what_is_no_such_rule_is_refused(self, api, ready):
        problem = refused(api.post("/ready", {"recipe": recipe(SOUND, ready=ready)}))
        assert problem["kind"] in ("bad-value", "bad-recipe")


class TestTheGate:
    @pytest.mark.parametrize("part", [HAIRLINES, APART], ids=["too weak", "in pieces"])
    def test_nothing_is_saved_until_it_is_known(self, api, part):
        body = {"name": "Tag", "recipe": recipe(part)}
        problem = refused(api.post("/svg", body))
        assert problem["kind"] == "at-gate"
        assert problem["todo"]
        status, document = api.post("/svg", {**body, "anyway": True})
        assert status == 200
        assert document.startswith(b"<?xml")
        problem = refused(api.post("/cut/file", body))
        assert problem["kind"] == "at-gate"
        assert api.post("/cut/file", {**body, "anyway": True, "kind": "svg", "sheet": 0})[0] == 200

    def test_it_opens_for_what_is_made_ready_or_known(self, api):
        assert api.post("/svg", {"recipe": recipe(HAIRLINES, ready={})})[0] == 200
        assert api.post("/svg", {"recipe": recipe(APART, cut={"pieces_accepted": True})})[0] == 200

    def test_no_job_is_made_until_it_is_known(self, api):
        _, design = api.post("/designs", {"name": "Tag", "recipe": recipe(HAIRLINES)})
        body = {"name": "Tag", "recipe": recipe(HAIRLINES)}
        _, sheets = api.post("/cut/sheets", body)
        assert ("ask", "findings") in {(p["state"], p["about"]) for p in sheets["checklist"]}
        job = {**body, "design": design["id"], "sheet": 0, "key": sheets["sheets"][0]["key"],
               "job": "6b1f3a7e-92c4-4d0b-8e05-3f5d1c2a7b90"}  # fmt: skip
        assert refused(api.post("/cut/job", job))["kind"] == "at-gate"
        assert api.get(f"/jobs?design={design['id']}")[1] == []
        assert api.post("/cut/job", {**job, "anyway": True})[0] == 201
        # What stood there is noted on the job.
        (made,) = api.get(f"/jobs?design={design['id']}")[1]
        assert made["noted"] == [p["what"] for p in sheets["checklist"] if p["state"] == "ask"]
        assert "too weak or too small" in made["noted"][0]

    def test_no_pattern_is_printed_until_it_is_known(self, api):
        body = {"name": "Tag", "recipe": recipe(HAIRLINES), "paper": "letter"}
        assert refused(api.post("/pattern", body))["kind"] == "at-gate"
        status, document = api.post("/pattern", {**body, "anyway": True})
        assert status == 200
        with pypdfium2.PdfDocument(document) as read:
            assert max(read[0].get_size()) == pytest.approx(11 * 72, abs=0.1)


class TestARepairThatFindsNoPlace:
    @pytest.mark.parametrize(
        ("part", "kind", "why"),
        [(HAIRLINES, "hairline", "The thin place is not there any more"),
         (HAIRLINES, "hole", "The hole is not there any more")],
    )  # fmt: skip
    def test_it_says_why_and_changes_nothing(self, api, monkeypatch, part, kind, why):
        body = {"recipe": recipe(part)}
        found = [f for f in api.post("/findings", body)[1]["findings"] if f["kind"] == kind]
        if not found:
            pytest.fail(f"no {kind} to repair")
        evaluate = findings_api.evaluate

        def without_a_place(asked, faces):
            """An evaluation in which every touch-up has lost its place."""
            made = evaluate(asked, faces)
            return replace(made, lost=tuple(range(len(asked.touch_ups))))

        monkeypatch.setattr(findings_api, "evaluate", without_a_place)
        problem = refused(api.post("/findings/remedy", {**body, "numbers": [found[0]["number"]]}))
        assert problem["kind"] == "no-remedy"
        assert problem["what"].startswith(why)
        assert problem["todo"]


class TestRepairAll:
    def test_findings_that_are_alike_are_repaired_at_once(self, api):
        found = api.post("/findings", {"recipe": recipe(HAIRLINES)})[1]["findings"]
        thin = [finding["number"] for finding in found if finding["kind"] == "hairline"]
        assert len(thin) > 3
        status, mended = api.post("/findings/remedy", {"recipe": recipe(HAIRLINES), "numbers": thin})
        assert status == 200
        assert len(mended["touch_ups"]) >= len(thin)
        after = api.post("/findings", {"recipe": mended})[1]["findings"]
        assert sum(finding["kind"] == "hairline" for finding in after) < len(thin) / 3

    def test_none_and_too_many_are_refused(self, api):
        for numbers in ([], list(range(401)), "all"):
            refused(api.post("/findings/remedy", {"recipe": recipe(HAIRLINES), "numbers": numbers}))
