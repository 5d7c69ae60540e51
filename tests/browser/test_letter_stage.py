"""A maker's whole job in the browser, and what goes wrong on the way."""

import re

import pytest
import svgelements
from playwright.sync_api import expect

from fulgen.lettering.catalogue import families
from tests.browser.bench import Bench, box_at_rest, first_row, tick
from tests.figures import MM_PER_INCH, PX_PER_MM


def measured(path):
    """Width and height in mm and the number of paths, by a reader that is not ours."""
    svg = svgelements.SVG.parse(str(path))
    (outline,) = [e for e in svg.elements() if isinstance(e, svgelements.Path)]
    x0, y0, x1, y1 = outline.bbox()
    return (x1 - x0) / PX_PER_MM, (y1 - y0) / PX_PER_MM, outline


def test_from_a_typed_word_to_a_file_at_true_size(page, tmp_path):
    page.goto("/")
    page.get_by_role("button", name="New lettering", exact=True).click()
    bench = Bench(page)
    expect(bench.words).to_be_focused()
    expect(page.get_by_text("Type a word on the left")).to_be_visible()
    page.keyboard.type("Teal Heron")
    # A script is joined from the first key: each word is one piece.
    bench.shown(2)
    natural = bench.outline()

    bench.pick_face("Kaushan Script")
    bench.shown(2)
    expect(page.get_by_role("button", name="Face: Kaushan Script")).to_be_visible()
    expect(bench.figure("pieces")).not_to_contain_text("0 piece")
    bench.outline_differs_from(natural)

    bench.choose("Width")
    bench.size("7in")
    expect(bench.figure("size")).to_contain_text("177.8 ×")
    bench.choose("in")
    expect(bench.figure("size")).to_contain_text("7 ×")
    expect(page.get_by_role("textbox", name="Overall width")).to_have_value("7 in")

    film = bench.outline()
    for look in ("Knife", "Pieces"):
        bench.choose(look)
        bench.outline_is(film)
    bench.choose("Knife")
    expect(page.locator("[data-trace] path").first).to_be_attached()

    page.get_by_role("button", name="Undo", exact=True).click()
    expect(bench.figure("size")).to_contain_text("mm")
    page.get_by_role("button", name="Redo", exact=True).click()
    expect(bench.figure("size")).to_contain_text("7 ×")

    bench.saved()
    page.reload()
    expect(bench.words).to_have_value("Teal Heron")
    expect(bench.figure("size")).to_contain_text("7 ×")

    page.get_by_role("textbox", name="Name of the design").fill("Heron, bow")
    file = bench.download(tmp_path)
    assert file.name == "Heron-bow.svg"
    width, height, outline = measured(file)
    assert width == pytest.approx(177.8, abs=0.01)
    inches = re.search(r"× ([\d.]+)", bench.told("size"))[1]
    assert height == pytest.approx(float(inches) * MM_PER_INCH, abs=0.13)
    # What you see is what the knife cuts: as many contours and nodes in the file as on the screen.
    on_screen = bench.outline()
    assert len(list(outline.as_subpaths())) == on_screen.count("M")
    drawn = file.read_text().split(' d="')[1]
    assert sum(drawn.count(c) for c in "LQC") == sum(on_screen.count(c) for c in "LQC")
    assert "“Teal Heron” in Kaushan Script" in file.read_text()


def test_a_script_is_joined_from_the_first_key_however_late_the_faces_come(page):
    held, come = [], []
    page.route("**/api/faces", lambda route: route.continue_() if come else held.append(route))
    page.goto("/")
    page.get_by_role("button", name="New lettering", exact=True).click()
    expect(page.get_by_text("Opening the design…")).to_be_visible()
    bench = Bench(page)
    expect(bench.words).to_have_count(0)
    come.append(True)
    for route in held:
        route.continue_()
    expect(bench.words).to_be_focused()
    page.keyboard.type("Heron")
    bench.shown(1)


def test_several_lines_alignment_and_spacing(page, server):
    bench = Bench(page).open(server.design("Otterbrook\nBay", size={"measure": "width", "mm": 200}))
    expect(bench.figure("size")).to_contain_text("200 ×")
    left = bench.outline()
    bench.choose("Lines centred")
    expect(bench.pieces.first).to_be_visible()
    bench.outline_differs_from(left)
    lines = page.get_by_role("textbox", name="Between lines, in % of the size")
    lines.fill("200 %")
    lines.press("Enter")
    expect(bench.figure("size")).not_to_contain_text("0 × 0")
    letters = page.get_by_role("textbox", name="Between letters, a length or % of the size")
    letters.fill("-2 %")
    letters.press("Enter")
    expect(letters).to_have_value("-2 %")
    expect(bench.figure("size")).to_contain_text("200 ×")
    letters.fill("-0,5 mm")
    letters.press("Enter")
    expect(letters).to_have_value("-0.5 mm")
    letters.press("ArrowUp")
    expect(letters).to_have_value("-0.4 mm")
    letters.press("Shift+ArrowDown")
    expect(letters).to_have_value("-1.4 mm")


def test_weight_features_film_and_mirror(page, server):
    bench = Bench(page).open(server.design("AVATAR", face={"family": "caveat"}))
    expect(bench.pieces.first).to_be_visible()
    heavy = bench.told("cut")
    thumb = page.get_by_role("slider", name="Weight")
    thumb.focus()
    thumb.press("Home")
    expect(bench.figure("cut")).not_to_have_text(heavy)
    page.get_by_role("button", name="What this face can do").click()
    kerning = page.get_by_role("switch", name=re.compile("^Pairs sit closer or wider"))
    expect(kerning).to_be_checked()
    before = bench.told("size")
    kerning.click()
    expect(page.get_by_text("(1 changed)")).to_be_visible()
    expect(bench.figure("size")).not_to_have_text(before)
    page.get_by_role("button", name="Gold").click()
    expect(page.locator("[data-film]")).to_have_attribute("fill", "#C8932B")
    tick(page.get_by_role("checkbox", name=re.compile("^Mirror")))
    expect(page.get_by_text("Mirrored: shown as the knife cuts it")).to_be_visible()


def test_the_face_list_by_search_kind_and_keyboard(page, server):
    bench = Bench(page).open(server.design("heron"))
    page.get_by_role("button", name=re.compile("^Face:")).click()
    options = page.get_by_role("option")
    expect(options.first).to_have_attribute("aria-setsize", str(len(families())))
    page.get_by_role("button", name="Narrow").click()
    narrow = [family for family in families().values() if family.kind == "condensed"]
    expect(options.first).to_have_attribute("aria-setsize", str(len(narrow)))
    page.get_by_role("button", name="All", exact=True).click()
    search = page.get_by_role("textbox", name="Search faces")
    search.fill("dancing")
    expect(page.get_by_role("option", name="Dancing Script")).to_be_visible()
    search.fill("zzz")
    expect(page.get_by_text("No face is like that")).to_be_visible()
    search.fill("")
    shown = bench.outline()
    search.press("ArrowDown")
    expect(page.locator("[role=option][aria-selected=true]")).not_to_have_attribute("aria-label", "Pacifico")
    bench.outline_differs_from(shown)
    chosen = page.locator("[role=option][aria-selected=true]").get_attribute("aria-label")
    search.press("Enter")
    expect(page.get_by_role("button", name=f"Face: {chosen}")).to_be_visible()
    # Used lately: it stands first when the list is opened again.
    page.get_by_role("button", name=re.compile("^Face:")).click()
    expect(first_row(page)).to_have_attribute("aria-label", chosen)


def test_the_keyboard_does_it_all(page, server):
    bench = Bench(page).open(server.design("heron"))
    bench.shown(1)
    bench.words.fill("herons")
    expect(bench.words).to_have_value("herons")
    bench.words.press("Control+z")
    expect(bench.words).to_have_value("heron")
    bench.words.press("Control+Shift+z")
    expect(bench.words).to_have_value("herons")
    view = bench.work.locator("g").first
    bench.work.locator("xpath=..").focus()
    for key, look in (("v", "Knife"), ("v", "Pieces"), ("v", "Film")):
        page.keyboard.press(key)
        expect(page.get_by_role("radio", name=look)).to_be_checked()
    page.keyboard.press("1")
    expect(page.get_by_role("button", name="True size on this screen")).to_have_text("100 %")
    before = view.get_attribute("transform")
    page.keyboard.press("ArrowLeft")
    expect(view).not_to_have_attribute("transform", before)
    page.keyboard.press("+")
    expect(page.get_by_role("button", name="True size on this screen")).to_have_text("125 %")
    page.keyboard.press("f")
    expect(page.get_by_role("button", name="True size on this screen")).not_to_have_text("125 %")


def test_the_wheel_zooms_to_the_pointer_and_dragging_pans(page, server):
    bench = Bench(page).open(server.design("heron"))
    bench.shown(1)
    box = box_at_rest(bench.pieces.first)
    corner = (box["x"], box["y"] + box["height"])
    view = bench.work.locator("g").first
    fitted = view.get_attribute("transform")
    page.mouse.move(*corner)
    page.mouse.wheel(0, -400)
    expect(view).not_to_have_attribute("transform", fitted)
    zoomed = box_at_rest(bench.pieces.first)
    assert zoomed["width"] > box["width"] * 1.5
    assert (zoomed["x"], zoomed["y"] + zoomed["height"]) == pytest.approx(corner, abs=3)
    before = view.get_attribute("transform")
    page.mouse.move(900, 600)
    page.mouse.down()
    page.mouse.move(950, 620)
    page.mouse.up()
    expect(view).not_to_have_attribute("transform", before)
    moved = box_at_rest(bench.pieces.first)
    assert (moved["x"] - zoomed["x"], moved["y"] - zoomed["y"]) == pytest.approx((50, 20), abs=1)


def test_true_size_is_96_pixels_to_the_inch(page, server):
    # CSS Values and Units 4, section 6.2.
    bench = Bench(page).open(server.design("heron", size={"measure": "width", "mm": 76.2}))
    bench.shown(1)
    true_size = page.get_by_role("button", name="True size on this screen")
    true_size.click()
    expect(true_size).to_have_text("100 %")
    assert box_at_rest(bench.pieces.first)["width"] == pytest.approx(288, abs=0.5)


class TestWhatGoesWrong:
    def test_a_letter_the_face_lacks_is_named_and_a_face_that_has_it_is_one_click_away(self, page, server):
        bench = Bench(page).open(server.design("heron", face={"family": "sacramento"}))
        expect(bench.pieces.first).to_be_visible()
        bench.words.fill("Жук")
        expect(bench.problem).to_contain_text("Sacramento has no Cyrillic letters.")
        expect(bench.work).to_have_attribute("data-stale", "true")
        bench.problem.get_by_role("button").first.click()
        expect(bench.problem).to_have_count(0)
        expect(bench.work).to_have_attribute("data-stale", "false")
        expect(bench.words).to_have_value("Жук")

    def test_an_emoji_no_face_has(self, page, server):
        bench = Bench(page).open(server.design("heron"))
        bench.shown(1)
        bench.words.fill("Heron 🦦")
        expect(bench.problem).to_contain_text("U+1F9A6")
        expect(bench.problem).to_contain_text("leave out")
        bench.saved()
        bench.words.press("Control+z")
        expect(bench.problem).to_have_count(0)

    def test_five_thousand_letters_are_refused_and_not_lost(self, page, server):
        bench = Bench(page).open(server.design("heron"))
        bench.shown(1)
        long = "Heron " * 834
        bench.words.fill(long)
        expect(bench.problem).to_contain_text("5,004 letters")
        expect(bench.save_note).to_have_attribute("data-save", "refused")
        page.reload()
        expect(bench.words).to_have_value(long)
        bench.words.fill("heron")
        expect(bench.problem).to_have_count(0)
        bench.saved()

    @pytest.mark.parametrize("text", ["", "   ", "\n"])
    def test_nothing_to_cut(self, page, server, text):
        bench = Bench(page).open(server.design("heron"))
        bench.shown(1)
        bench.words.fill(text)
        bench.shown(0)
        expect(page.get_by_text("Type a word on the left")).to_be_visible()
        page.get_by_role("button", name="Save as SVG").click()
        expect(bench.problem).to_contain_text("There is nothing to cut yet.")
        bench.words.fill("heron")
        expect(bench.problem).to_have_count(0)

    @pytest.mark.parametrize(
        ("typed", "said"),
        [
            ("7 inn", "“7 inn” is not a length"), ("NaN", "is not a length"), ("1e9", "is not a length"),
            ("0", "It can be 1 mm to 3000 mm"), ("-3", "It can be 1 mm"), ("99999", "It can be 1 mm"),
        ],
    )  # fmt: skip
    def test_a_size_that_is_none_is_said_and_changes_nothing(self, page, server, typed, said):
        bench = Bench(page).open(server.design("heron", size={"measure": "width", "mm": 120}))
        expect(bench.figure("size")).to_contain_text("120 ×")
        field = bench.size(typed)
        expect(bench.problem).to_contain_text(said)
        expect(field).to_have_value(typed)
        expect(bench.figure("size")).to_contain_text("120 ×")
        field.press("Escape")
        expect(field).to_have_value("120 mm")
        expect(bench.problem).to_have_count(0)

    def test_a_spacing_no_size_can_meet(self, page, server):
        bench = Bench(page).open(server.design("heron", size={"measure": "width", "mm": 20}))
        expect(bench.pieces.first).to_be_visible()
        letters = page.get_by_role("textbox", name="Between letters, a length or % of the size")
        letters.fill("30 mm")
        letters.press("Enter")
        expect(bench.problem).to_contain_text("no size is 20.0 mm wide")
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(bench.problem).to_have_count(0)

    def test_a_design_that_is_not_there(self, page):
        page.goto("/design/00000000-0000-4000-8000-000000000000")
        expect(page.get_by_role("alert")).to_contain_text("not on the shelf")
        page.get_by_role("link", name="To the shelf", exact=True).click()
        expect(page.get_by_role("heading", name="The shelf")).to_be_visible()


def test_what_is_not_as_asked_is_said_beside_the_words_until_it_is(page, server):
    course = {"kind": "circle", "diameter_mm": 1000.0, "spread": 300.0}
    bench = Bench(page).open(server.design("Aa", course=course))
    note = page.get_by_role("status").filter(has_text="was asked for")
    expect(note).to_contain_text("letters are not spread that far")
    expect(note).to_contain_text("ask for a shorter part of the line")
    diameter = page.get_by_role("textbox", name="Diameter")
    diameter.fill("80 mm")
    diameter.press("Enter")
    expect(note).to_have_count(0)
    bench.saved()
