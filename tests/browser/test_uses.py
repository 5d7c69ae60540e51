"""What is not cut, in the browser: an engraved lid to its files, a job in which a pen draws before a knife
cuts, materials and films. Files are read by svgelements and PDFium."""

import io
import re

import pypdfium2
import pytest
import svgelements
from playwright.sync_api import expect

from tests.browser.bench import Bench, tick
from tests.browser.building import films, form, word
from tests.browser.cutting import Cutting


def groups(data):
    """The groups of an SVG file, each with how much is drawn in it, in the order of the file."""
    read = svgelements.SVG.parse(io.BytesIO(data), ppi=96)
    found = {}
    for group in read.elements(lambda e: isinstance(e, svgelements.Group) and e.id):
        found[group.id] = sum(isinstance(e, svgelements.Path) for e in group)
    return found


def test_a_lid_with_an_engraved_name_from_the_work_to_the_laser(building, page, tmp_path):
    bench = building(
        form("rectangle", "lid", 120.0, 60.0, film="#C9A24A"), word("Heron", "name", 60.0, -30.0, 8.0),
    )  # fmt: skip
    bench.card("Heron").click()
    bench.choose("Engrave")
    expect(page.get_by_text("A beam fills it, line by line.")).to_be_visible()
    expect(page.locator("[data-use=engrave]")).to_have_count(2)  # on the work and on its card
    bench.shown(1)
    bench.card("Rectangle").click()
    page.get_by_role("button", name="Line", exact=True).click()
    bench.choose("Score")
    expect(page.locator("[data-use=score]").first).to_be_attached()
    saved = films(bench.saved().download(tmp_path))
    assert saved["#c9a24a"] == pytest.approx(7200.0, rel=1e-3)
    bench.stage("Cut")
    cutting = Cutting(page)
    page.get_by_role("combobox", name="Machine").select_option("Laser")
    expect(page.get_by_text("1 area is engraved, and not cut.")).to_be_visible()
    _, path = cutting.saved_as(cutting.button("Save the sheet as SVG", exact=True))
    assert groups(path.read_bytes()) == {"engrave": 1, "score": 1, "cut": 1}
    page.get_by_role("combobox", name="Machine").select_option("Drag knife")
    expect(page.get_by_text("1 area is engraved: Drag knife does not engrave.")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_role("combobox", name="Machine")).to_have_value("Laser")


def test_a_guide_is_seen_and_never_saved(building, page, tmp_path):
    bench = building(form("disc", "ring", 60.0), word("Heron", "name", 40.0))
    bench.card("Disc").click()
    bench.choose("Guide")
    expect(page.locator("[data-use=guide]").first).to_be_attached()
    path = bench.saved().download(tmp_path, anyway=True)
    assert "guide" not in path.read_text()
    outline = bench.outline()
    page.get_by_role("button", name="Undo", exact=True).click()
    bench.outline_differs_from(outline)


def test_a_word_that_is_only_drawn_is_seen_laid_out_and_drawn_by_a_pen(page, server):
    part = word("Heron", "name", 60.0, use="draw", join={"how": "auto"})
    recipe = {"format": "fulgen-recipe", "version": 10, "parts": [part], "cut": {"machine": "Pen plotter"}}
    design = server.call("POST", "/designs", {"name": "Only drawn", "recipe": recipe})["id"]
    page.goto(f"/design/{design}")
    bench = Cutting(page)
    expect(page.locator("[data-use=draw]").first).to_be_visible()
    expect(bench.figure("size")).to_contain_text("60 ×")
    bench.stage("Cut")
    expect(page.get_by_text("1 line is drawn, and not cut.")).to_be_visible()
    _, path = bench.saved_as(bench.button("Save the sheet as PLT", exact=True))
    assert set(re.findall(r"SP(\d);", path.read_text())) == {"3", "0"}


def test_a_job_in_which_a_pen_draws_before_the_knife_cuts(cutting, page, server):
    bench = cutting(
        form("disc", "tag", 30.0, film="#C8932B"), form("heart", "heart", 10.0, film="#C8932B", use="draw"),
    )  # fmt: skip
    page.get_by_role("button", name="Cut gold").click()
    bench.is_("done")
    expect(bench.strip).to_contain_text("Promised 1, came off 1")
    design = page.url.rsplit("/", 1)[-1]
    (job,) = server.call("GET", f"/jobs?design={design}")
    assert (job["outcome"]["as_promised"], job["noted"]) == (True, [])


def test_force_and_speed_are_kept_for_the_material_and_go_into_the_file(cutting, page):
    bench = cutting(form("disc", "tag", 30.0))
    bench.button("Force and speed").click()
    bench.type("Force, cut, Adhesive film", "90")
    bench.type("Speed, cut, Adhesive film", "80 mm/s")
    expect(page.get_by_role("textbox", name="Speed, cut, Adhesive film")).to_have_value("80 mm/s")
    _, path = bench.saved_as(bench.button("Save the sheet as PLT", exact=True))
    assert "SP1;FS90;VS8;" in path.read_text()
    bench.type("Force, cut, Adhesive film", "much")
    expect(page.get_by_text("It can be 1 to 5000 g, or nothing.")).to_be_visible()
    bench.button("Its profile").click()
    bench.button("Back to the usual values").click()
    expect(page.get_by_role("textbox", name="Force, cut, Adhesive film")).to_have_value("— g")


def test_a_film_that_is_cut_from_its_back_beside_one_that_is_not(cutting, page):
    bench = cutting(
        form("disc", "disc", 30.0, film="#C8932B"), form("arrow", "arrow", 30.0, film="#1F4E6B", x=60.0)
    )
    copy = page.locator("[data-copy]").last.locator("path").first
    before = copy.get_attribute("d")
    bench.open_film("#1F4E6B")
    page.get_by_role("combobox", name="Whether Blue is mirrored").select_option("yes")
    expect(page.get_by_text("Adhesive film is cut as it reads, and Blue is mirrored.")).to_be_visible()
    expect(copy).not_to_have_attribute("d", before)


def test_a_pattern_of_what_is_larger_than_any_sheet(cutting, page):
    bench = cutting(form("rectangle", "lid", 150.0, 100.0))
    bench.type("Copies", "1")
    _, path = bench.saved_as(bench.button("Pattern as PDF"))
    with pypdfium2.PdfDocument(path.read_bytes()) as document:
        assert len(document) == 1
    page.get_by_role("navigation", name="Stages").get_by_role("button", name="Build").click()
    page.get_by_role("list", name="Parts").get_by_role("button", name="Rectangle", exact=True).click()
    bench.type("Width", "500 mm")
    bench.stage("Cut")
    expect(bench.problem).to_contain_text("can be cut from this sheet")
    name, path = bench.saved_as(bench.button("Pattern as PDF"))
    assert name == "Kit-bag-pattern.pdf"
    with pypdfium2.PdfDocument(path.read_bytes()) as document:
        assert len(document) > 3
        text = document[0].get_textpage().get_text_range()
    assert re.search(r"A1, page 1 of \d", text)


def test_a_material_of_the_shop_is_kept_with_its_limits_and_taken_for_a_design(building, page, server):
    bench = building(form("disc", "disc", 40.0))
    bench.stage("Check")
    bench.type_into("Narrowest neck", "3 mm")
    page.get_by_role("textbox", name="Name of the material in the shop").fill("Harbour felt")
    page.get_by_role("textbox", name="A note on the material").fill("Blunt blade, slowly")
    page.get_by_role("button", name="Keep as Harbour felt").click()
    material = page.get_by_role("combobox", name="Material")
    try:
        expect(material).to_have_value("Harbour felt")
        expect(page.get_by_text("Blunt blade, slowly")).to_be_visible()
        material.select_option("Card")
        expect(page.get_by_role("textbox", name="Narrowest neck")).to_have_value("1 mm")
        material.select_option("Harbour felt")
        expect(page.get_by_role("textbox", name="Narrowest neck")).to_have_value("3 mm")
        bench.saved()
        page.reload()
        bench.stage("Check")
        expect(page.get_by_role("textbox", name="Narrowest neck")).to_have_value("3 mm")
        page.get_by_role("button", name="Take Harbour felt out").click()
        expect(page.get_by_role("button", name="Take Harbour felt out")).to_have_count(0)
        # The design is made for it all the same.
        expect(page.get_by_role("textbox", name="Narrowest neck")).to_have_value("3 mm")
    finally:
        server.call("DELETE", "/materials?name=Harbour%20felt")


def test_films_that_look_alike_become_one_in_check(building, page, tmp_path):
    bench = building(
        form("disc", "a", 40.0, film="#2B5674"), form("heart", "b", 30.0, x=80.0, film="#1F4E6B")
    )
    bench.stage("Check")
    expect(page.get_by_text("are cut as two films.")).to_be_visible()
    page.get_by_role("button", name="Both #1F4E6B").click()
    expect(page.get_by_text("are cut as two films.")).to_have_count(0)
    assert set(films(bench.saved().download(tmp_path))) == {"#1f4e6b"}


def test_one_letter_of_another_film(building, page, tmp_path):
    bench = building(word("HERON", "name", 90.0))
    page.get_by_role("button", name="Join its letters…").click()
    bench.letter("R").click()
    page.get_by_role("group", name="Film of the letter").get_by_role("button", name="Red").click()
    expect(page.get_by_text("so it is joined to nothing")).to_be_visible()
    assert set(films(bench.saved().download(tmp_path, anyway=True))) == {"#2b5674", "#8c2f39"}


def test_a_new_design_begins_as_the_last_one_here(page, server):
    page.goto("/")
    page.get_by_role("button", name="New lettering", exact=True).click()
    bench = Bench(page)
    bench.words.fill("Piers")
    bench.pick_face("Allura")
    tick(page.get_by_role("radio", name="in", exact=True))
    bench.saved()
    page.get_by_role("link", name="Fulgen").click()
    page.get_by_role("button", name="New lettering", exact=True).click()
    expect(bench.words).to_have_value("")
    expect(page.get_by_role("button", name=re.compile("^Face: Allura"))).to_be_visible()
    expect(page.get_by_role("radio", name="in", exact=True)).to_be_checked()
