"""Faces as a maker finds them: by how they look, beside each other, of this computer; and names in every
alphabet. Files are read back by readers that are not ours."""

import re

import pytest
import svgelements
from playwright.sync_api import expect

from fulgen.lettering.catalogue import FACES_DIR, families
from tests.browser.bench import Bench, face_row, first_row, tick
from tests.browser.building import Building
from tests.browser.test_frames import pieces_in, size_mm, take
from tests.browser.test_orders import OrderBench
from tests.figures import PX_PER_MM
from tests.names import NAMES

LOBSTER = FACES_DIR / "lobster" / "Lobster_400Regular.ttf"


@pytest.fixture
def picker(page, server):
    """The list of faces, opened on a design of one word."""

    def opened(words="Tern", **lettering):
        bench = Bench(page).open(server.design(words, **lettering))
        page.get_by_role("button", name=re.compile("^Face:")).click()
        expect(page.get_by_role("option").first).to_be_visible()
        return bench

    return opened


@pytest.fixture
def option(page):
    return lambda name: face_row(page, name)


@pytest.fixture
def in_use(page):
    """What can be done with the face in use."""
    return page.get_by_role("group", name="The face in use")


class TestTheList:
    def test_it_is_searched_by_looks_and_by_what_faces_write(self, page, picker, option):
        picker()
        page.get_by_role("button", name="Looks").click()
        looks = page.get_by_role("group", name="How faces look")
        looks.get_by_role("button", name="thick").click()
        expect(option("Anton")).to_be_visible()
        expect(option("Great Vibes")).to_have_count(0)
        looks.get_by_role("button", name="slanted").click()
        expect(option("Anton")).to_have_count(0)
        expect(option("Knewave")).to_be_visible()
        page.get_by_role("button", name="Looks").click()
        page.get_by_role("button", name="Any look").click()
        page.get_by_role("button", name="Looks").click()
        page.get_by_role("textbox", name="Search faces").fill("")
        page.get_by_role("combobox", name="What faces write").select_option("Georgian")
        expect(page.locator("[data-face]")).to_have_count(2)

    def test_words_are_drawn_as_faces_come_into_sight(self, page, picker):
        picker("Marlowe")
        rows = page.get_by_role("option")
        expect(rows.first.locator("path")).to_be_attached()
        assert rows.count() < len(families()) / 4
        last = page.locator(f"[aria-posinset='{len(families())}']")
        expect(last).to_have_count(0)
        page.get_by_role("listbox", name="Faces").press("End")
        expect(last.locator("path")).to_be_attached()

    def test_a_favourite_is_the_shops_and_comes_first(self, page, picker, option, in_use):
        picker(face={"family": "unbounded"})
        in_use.get_by_role("button", name="Favourite").click()
        expect(option("Unbounded").get_by_label("a favourite")).to_be_visible()
        page.get_by_role("button", name="Favourites", exact=True).click()
        expect(page.get_by_role("option")).to_have_count(1)
        picker("Wren")
        expect(first_row(page)).to_have_accessible_name("Unbounded")
        option("Unbounded").click()
        in_use.get_by_role("button", name="Favourite").click()
        expect(option("Unbounded").get_by_label("a favourite")).to_have_count(0)

    def test_more_like_one(self, page, picker, in_use):
        picker(face={"family": "great-vibes"})
        in_use.get_by_role("button", name="More like this").click()
        expect(page.get_by_text("Faces that look like Great Vibes")).to_be_visible()
        expect(first_row(page)).to_have_accessible_name("Great Vibes")
        expect(page.get_by_role("option").nth(1)).to_contain_text("Script")
        page.get_by_role("button", name="All faces").click()
        expect(page.get_by_role("option").first).to_have_attribute("aria-setsize", str(len(families())))

    def test_three_are_held_beside_each_other_and_taken_with_a_click(self, page, picker, option, in_use):
        bench = picker("Heron")
        bench.shown(2)
        in_use.get_by_role("button", name="Hold beside").click()
        for name in ("Anton", "Courgette"):
            shown = bench.outline()
            option(name).click()
            bench.outline_differs_from(shown)
            in_use.get_by_role("button", name="Hold beside").click()
        shown = bench.outline()
        option("Caveat").click()
        bench.outline_differs_from(shown)
        expect(in_use.get_by_role("button", name="Hold beside")).to_be_disabled()
        page.get_by_role("button", name="Done", exact=True).click()
        held = page.get_by_role("group", name="Faces held beside each other")
        expect(held.locator("[aria-pressed] path")).to_have_count(3)
        before = bench.outline()
        held.get_by_role("button", name="Anton", exact=True).click()
        bench.outline_differs_from(before)
        expect(page.get_by_role("button", name="Face: Anton")).to_be_visible()
        for name in ("Pacifico", "Anton", "Courgette"):
            held.get_by_role("button", name=f"Put {name} away").click()
        expect(held).to_have_count(0)


class TestWhatAFaceCanDo:
    def test_it_is_shown_on_the_words_and_switched_by_its_picture(self, page, server):
        bench = Bench(page).open(server.design("Rose", face={"family": "allura"}))
        page.get_by_role("button", name="What this face can do").click()
        changes = page.get_by_role("group", name="Changes to these words")
        swash = changes.get_by_role("switch").first
        expect(swash.locator("path")).to_be_attached()
        before, was_on = bench.outline(), swash.get_attribute("aria-checked")
        swash.click()
        bench.outline_differs_from(before)
        expect(page.get_by_text("(1 changed)")).to_be_visible()
        page.keyboard.press("Control+z")
        bench.outline_is(before)
        expect(swash).to_have_attribute("aria-checked", was_on)


class TestFacesOfThisComputer:
    @pytest.fixture
    def installed(self, server):
        path = server.fonts / "lobster.ttf"
        path.write_bytes(LOBSTER.read_bytes())
        yield path
        path.unlink(missing_ok=True)
        for face in server.call("GET", "/faces"):
            if face["kind"] == "own":
                server.call("DELETE", f"/own-faces/{face['slug']}")

    def test_one_is_taken_into_the_shop_and_stays_when_it_is_uninstalled(
        self, page, picker, installed, tmp_path
    ):
        bench = picker("Tern", face={"family": "anton"})
        before = bench.outline()
        page.get_by_role("button", name="On this computer").click()
        row = page.get_by_role("listitem", name="Lobster")
        expect(row.locator("path")).to_be_attached()
        row.get_by_role("button", name="Use it").click()
        bench.outline_differs_from(before)
        installed.unlink()
        page.get_by_role("button", name="Done", exact=True).click()
        bench.saved()
        page.reload()
        expect(page.get_by_role("button", name="Face: Lobster")).to_be_visible()
        assert bench.download(tmp_path, anyway=True).stat().st_size > 1_000

    def test_one_that_is_gone_meanwhile_says_so_and_nothing_changes(self, page, picker, installed):
        bench = picker("Tern", face={"family": "anton"})
        before = bench.outline()
        page.get_by_role("button", name="On this computer").click()
        row = page.get_by_role("listitem", name="Lobster")
        expect(row).to_be_visible()
        installed.unlink()
        row.get_by_role("button", name="Use it").click()
        expect(page.get_by_role("alert")).to_contain_text("not installed on this computer any more")
        page.get_by_role("button", name="Back to all faces").click()
        bench.outline_is(before)

    def test_where_none_is_installed_that_is_said(self, page, picker):
        picker()
        page.get_by_role("button", name="On this computer").click()
        expect(page.get_by_text("No faces are installed on this computer.")).to_be_visible()


class TestNamesInEveryAlphabet:
    @pytest.mark.parametrize("system", NAMES)
    def test_every_letter_is_shown_on_the_page_by_a_face_that_ships(self, page, system):
        """Whatever the computer has: the browser is asked which of the page's own faces have a letter."""
        page.goto("/")
        asked = """(letters) => Promise.all([...letters].map(async (letter) => {
            const family = getComputedStyle(document.body).fontFamily
            return (await document.fonts.load(`16px ${family}`, letter)).length ? '' : letter
        }))"""
        letters = "".join(sorted(set(NAMES[system]) - {" "}))
        assert "".join(page.evaluate(asked, letters)) == ""

    def test_a_name_the_face_cannot_write_is_answered_by_pictures_and_put_in_a_ring(self, page, tmp_path):
        bench = Building(page)
        page.goto("/")
        page.get_by_role("button", name="New lettering", exact=True).click()
        bench.words.fill("مريم")
        expect(bench.words).to_have_attribute("dir", "auto")
        expect(page.get_by_role("alert")).to_contain_text("has no Arabic letters.")
        able = page.get_by_role("group", name="Faces that have all of these letters")
        expect(able.locator("path[d]").first).to_be_attached()
        able.get_by_role("button", name="Lalezar").click()
        expect(bench.pieces.first).to_be_attached()
        bench.stage("Build")
        take(bench, "Name ring")
        bench.shown(1).saved()
        path = bench.download(tmp_path, anyway=True)
        assert size_mm(path)[0] == pytest.approx(80.0, abs=0.05)
        signs = pieces_in(path)
        assert sorted([signs.count(True), signs.count(False)])[0] == 1

    def test_a_greek_name_along_a_circle(self, page, server, tmp_path):
        course = {"kind": "circle", "diameter_mm": 120.0}
        size = {"measure": "capitals", "mm": 14.0}
        join = {"how": "auto", "marks": "bridge"}
        bench = Bench(page).open(
            server.design("Ελένη", face={"family": "comfortaa"}, course=course, size=size, join=join)
        )
        path = bench.shown(1).download(tmp_path, anyway=True)
        box = svgelements.SVG.parse(str(path), ppi=96).bbox()
        # It lies on the circle: the middle of its letters is 60 mm and more from the circle's own.
        assert 0 < (box[2] - box[0]) / PX_PER_MM < 130
        assert (box[3] - box[1]) / PX_PER_MM > 14.0

    def test_a_vietnamese_name_with_its_marks_lowered(self, page, server, tmp_path):
        join = {"how": "auto", "marks": "keep"}
        bench = Bench(page).open(server.design("Hương", face={"family": "pacifico"}, join=join))
        bench.stage("Join")
        before = bench.pieces.count()
        tick(page.get_by_role("radiogroup", name="Dots and accents").get_by_role("radio", name="Lowered"))
        bench.shown(1)
        signs = pieces_in(bench.download(tmp_path, anyway=True))
        assert min(signs.count(True), signs.count(False)) == 1
        assert before >= 1

    def test_a_cyrillic_crew_list_as_an_order(self, page, server):
        part = {"kind": "lettering", "id": "name", "text": "Анна", "face": {"family": "lobster"},
                "join": {"how": "auto", "marks": "bridge"}}  # fmt: skip
        recipe = {"format": "fulgen-recipe", "version": 12, "parts": [part]}
        design = server.call("POST", "/designs", {"name": "Crew", "recipe": recipe})["id"]
        order = server.call("POST", "/orders", {"design": design})["id"]
        try:
            page.goto(f"/order/{order}")
            bench = OrderBench(page)
            bench.add(*NAMES["Cyrillic"].split())
            rows = server.call("GET", f"/orders/{order}/rows")["rows"]
            assert [row["state"] for row in rows] == ["as-designed"] * len(rows)
            assert [row["pieces"] for row in rows] == [1] * len(rows)
            # A name in other letters is answered by the faces that have them.
            bench.add("Ἀθηνᾶ")
            able = page.get_by_role("combobox", name="In another face").locator("optgroup").first
            expect(able).to_have_attribute("label", "With the letters that are missing")
            expect(able.locator("option", has_text="GFS Didot")).to_be_attached()
        finally:
            server.call("DELETE", f"/orders/{order}")
