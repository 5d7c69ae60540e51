"""Designs of several lettering parts, and answers that come late, in the browser."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench, Held, drag, middle


def recipe_of(*parts, **more):
    return {"format": "fulgen-recipe", "version": 3, "parts": list(parts), **more}


def part(text, part_id, y=0.0, face="anton", **more):
    size = {"measure": "capitals", "mm": 20}
    place = {"x": 0.0, "y": y}
    return {"id": part_id, "text": text, "face": {"family": face}, "size": size, "place": place, **more}


@pytest.fixture
def opened(page, server):
    def at(*parts, **more):
        body = {"name": "Test", "recipe": recipe_of(*parts, **more)}
        bench = Bench(page).open(f"/design/{server.call('POST', '/designs', body)['id']}")
        bench.server = server
        return bench

    return at


def saved_recipe(bench):
    bench.saved()
    return bench.server.call("GET", f"/designs/{bench.page.url.rsplit('/', 1)[1]}")["recipe"]


class TestOneFails:
    def test_the_others_are_drawn_it_is_told_beside_it_and_mended_it_is_there(self, opened, tmp_path):
        bench = opened(
            part("Tern", "one"), part("Жук", "two", 60, face="sacramento"), part("Heron", "three", 120)
        )
        page = bench.page
        bench.shown(9)
        expect(bench.problem).to_contain_text("Sacramento has no Cyrillic letters.")
        with page.expect_response("**/api/svg") as refused:
            page.get_by_role("button", name="Save as SVG").click()
        assert refused.value.status == 422
        expect(bench.problem).to_contain_text("“Жук”: Sacramento has no Cyrillic letters.")
        bench.problem.get_by_role("button", name="Lobster").click()
        expect(bench.problem).to_have_count(0)
        faces = [made["face"]["family"] for made in saved_recipe(bench)["parts"]]
        assert faces == ["anton", "lobster", "anton"]
        bench.choose("Жук")
        expect(bench.words).to_have_value("Жук")
        bench.words.fill("Kite")
        assert saved_recipe(bench)["parts"][1]["text"] == "Kite"
        assert bench.download(tmp_path, anyway=True).stat().st_size > 1000


class TestAnother:
    def test_choosing_another_part_lets_go_of_the_letters_of_the_first(self, opened):
        bench = opened(part("Tern", "one"), part("Heron", "two", 60))
        page = bench.page
        bench.shown(9)
        bench.stage("Join")
        bench.choose_letter("r")
        expect(page.locator("[data-chosen=true]")).to_have_count(1)
        bench.stage("Letter")
        bench.choose("Heron")
        bench.stage("Join")
        expect(page.locator("[data-chosen=true]")).to_have_count(0)
        drag(page, middle(bench.letter("H")), [at + 20 for at in middle(bench.letter("H"))])
        recipe = saved_recipe(bench)
        assert recipe["parts"][0].get("letters", {}) == {}
        assert list(recipe["parts"][1]["letters"]) == ["1"]


def test_an_empty_new_design_asks_for_nothing_and_says_nothing_wrong(page, server):
    asked, wrong = [], []
    page.on("request", lambda request: asked.append(request.url))
    page.on("console", lambda message: wrong.append(message.text) if message.type == "error" else None)
    page.goto("/")
    page.get_by_role("button", name="New lettering", exact=True).click()
    bench = Bench(page)
    expect(bench.words).to_be_visible()
    bench.words.press_sequentially("   ")
    bench.saved()
    assert not [url for url in asked if re.search("/evaluate|/seams|/findings", url)]
    assert wrong == []
    bench.words.fill("Tern")
    bench.shown(1)
    bench.words.fill("")
    bench.shown(0)
    bench.saved()
    assert wrong == []


class TestBeforeTheWeld:
    """In the Film look letters follow the hand at once, while the weld is still on its way."""

    @pytest.mark.parametrize("mirror", [False, True])
    def test_a_nudge_and_a_drag_are_seen_at_once_and_the_weld_takes_their_place(self, opened, mirror):
        bench = opened(part("Tern", "one", spacing_mm=9), mirror=mirror)
        page = bench.page
        bench.shown(4)
        bench.stage("Join")
        page.keyboard.press("1")  # from here on the view stays where it is
        bench.choose_letter("r")
        held = Held(page, "/evaluate")
        x, _ = middle(bench.letter("r"))
        page.keyboard.press("Shift+ArrowRight")
        moved = page.locator("[data-ahead] [data-moved=true]")
        expect(moved).to_have_count(2)
        seen = middle(moved.first, answered=False)
        assert seen[0] > x + 2
        expect(bench.pieces).to_have_count(0)
        held.let_go()
        bench.shown(4)
        expect(page.locator("[data-ahead]")).to_have_count(0)
        # Moved by the keys, the letter lies where it was drawn ahead.
        assert min(abs(middle(piece)[0] - seen[0]) for piece in bench.pieces.all()) < 0.75
        held = Held(page, "/evaluate")
        start = middle(bench.letter("T"))
        page.mouse.move(*start)
        page.mouse.down()
        page.mouse.move(start[0] + 40, start[1] + 25, steps=4)
        expect(moved.first).to_be_visible()
        held.let_go()
        page.mouse.up()
        bench.shown(4)
        expect(page.locator("[data-ahead]")).to_have_count(0)


class TestLateAnswers:
    """An answer goes into the design and part it was asked for, or nowhere."""

    def asked(self, bench):
        """A thickening asked for, whose answer is held."""
        held = Held(bench.page, "/thicken-until")
        field = bench.page.get_by_role("textbox", name="Thinnest stroke to be")
        field.fill("2 mm")
        field.press("Enter")
        expect(field).to_have_value("2 mm")
        return held

    def test_a_thickening_goes_to_the_part_it_was_asked_for(self, opened):
        bench = opened(part("Tern", "one", face="alex-brush"), part("Heron", "two", 60))
        bench.shown(7)
        held = self.asked(bench)
        bench.choose("Heron")
        expect(bench.words).to_have_value("Heron")
        before = bench.outline()
        held.let_go()
        bench.outline_differs_from(before)
        expect(bench.page.get_by_role("textbox", name="Thicker all around")).to_have_value("0 mm")
        first, second = saved_recipe(bench)["parts"]
        assert first["thicken_mm"] > 0
        assert second.get("thicken_mm", 0) == 0

    def test_one_for_a_design_that_was_left_goes_nowhere(self, opened):
        bench = opened(part("Tern", "one", face="alex-brush"))
        page = bench.page
        bench.shown(2)
        held = self.asked(bench)
        page.get_by_role("link", name="To the shelf").click()
        page.get_by_role("button", name="New lettering", exact=True).click()
        expect(bench.words).to_have_value("")
        bench.words.fill("Egret")
        expect(bench.pieces.first).to_be_visible()
        with page.expect_response("**/api/thicken-until"):
            held.let_go()
        bench.words.press("End")
        before = bench.outline()
        bench.words.press_sequentially("s")
        bench.outline_differs_from(before)
        assert saved_recipe(bench)["parts"][0].get("thicken_mm", 0) == 0
