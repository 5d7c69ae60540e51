"""Building in the browser: whole jobs as a maker does them, files read back by a reader that is not ours."""

import math

import pytest
from fpdf import FPDF
from playwright.sync_api import expect

from tests.browser.bench import Bench, box_at_rest, hindrances
from tests.browser.building import Building, films, form, word

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
TARGET = (
    f'{HEAD}<g fill="none" stroke="black"><circle cx="50" cy="50" r="48"/><circle cx="50" cy="50" r="42"/>'
    '<path d="M30 20C40 10 60 10 70 20L66 25C58 17 42 17 34 25Z"/></g></svg>'
)


def test_three_words_out_of_a_disc_and_one_word_changed(building, tmp_path):
    bench = building(
        form("disc", "disc", 120.0, film="#6B4A2B"),
        word("Pike", "w0", 60.0, -30.0, -18.0), word("Rudd", "w1", 60.0, -30.0, 8.0),
        word("Tench", "w2", 60.0, -30.0, 34.0),
    )  # fmt: skip
    before = films(bench.download(tmp_path, anyway=True))
    bench.choose_parts("Disc", "Pike", "Rudd", "Tench")
    expect(bench.together("Cut out")).to_be_visible()
    bench.together("Cut out").hover()
    expect(bench.page.locator("[data-preview=cut]")).to_be_attached()
    bench.together("Cut out").click()
    expect(bench.card("Cut-out")).to_have_attribute("aria-pressed", "true")
    cut = films(bench.saved().download(tmp_path, anyway=True))
    inked = sum(area for film, area in before.items() if film.upper() != "#6B4A2B")
    assert cut["#6b4a2b"] == pytest.approx(math.pi * 3600 - inked, rel=5e-3)
    bench.card("Rudd").click()
    bench.page.get_by_role("button", name="Words and face…").click()
    outline = bench.outline()
    bench.words.fill("Carp")
    bench.outline_differs_from(outline)
    again = films(bench.saved().download(tmp_path, anyway=True))
    assert again["#6b4a2b"] != pytest.approx(cut["#6b4a2b"], rel=1e-3)
    bench.page.get_by_role("navigation", name="Stages").get_by_role("button", name="Build").click()
    bench.page.get_by_role("button", name="Take it apart").click()
    expect(bench.card("Cut-out")).to_have_count(0)
    expect(bench.card("Carp")).to_be_visible()


def test_small_names_over_a_big_word_with_a_halo(building, tmp_path):
    bench = building(
        word("CREW", "big", 160.0, film="#8C2F39"),
        word("Piers", "name", 50.0, 40.0, -26.0, face="grand-hotel", film="#1F4E6B"),
    )
    alone = films(bench.download(tmp_path, anyway=True))
    bench.choose_parts("CREW", "Piers")
    bench.type_into("Halo", "3 mm")
    bench.together("Halo").click()
    expect(bench.card("Parts with a halo")).to_be_visible()
    made = films(bench.saved().download(tmp_path, anyway=True))
    assert made["#1f4e6b"] == pytest.approx(alone["#1f4e6b"], rel=5e-3)
    assert made["#8c2f39"] < alone["#8c2f39"] - alone["#1f4e6b"] * 0.8
    outline = bench.outline()
    bench.choose("Names cut through")
    bench.outline_differs_from(outline)
    bench.page.get_by_role("button", name="Undo", exact=True).click()
    bench.outline_is(outline)
    bench.saved()
    assert films(bench.download(tmp_path, anyway=True)) == pytest.approx(made)


def test_a_name_welded_to_one_edge_of_a_drawing_with_the_rest_unchanged(building, tmp_path):
    bench = building(word("Heron", "name", 86.0, -43.0, 8.0, face="pacifico"))
    bench.page.get_by_role("button", name="Drawing").click()
    bench.page.get_by_label("Drawing", exact=True).set_input_files(
        {"name": "target.svg", "mimeType": "image/svg+xml", "buffer": TARGET.encode()}
    )
    expect(bench.page.get_by_text("96 mm × 96 mm")).to_be_visible()
    bench.page.get_by_role("button", name="Put it on the work").click()
    expect(bench.card("target.svg")).to_be_visible()
    bench.type_into("Middle, to the right", "0 mm")
    bench.type_into("Middle, down", "0 mm")
    plain = contours(bench.saved().download(tmp_path, anyway=True))
    bench.choose_parts("target.svg", "Heron")
    # The edge that the name runs over is chosen from the start; another one is pointed at, and let go of.
    bench.together("Weld to edges").click()
    expect(bench.page.get_by_text("Welded to 1 edge; all others stay as they are.")).to_be_visible()
    bench.page.get_by_role("button", name="Point at edges", exact=True).click()
    targets = bench.page.locator("[data-contour]")
    expect(targets).to_have_count(3)
    for said in ("Welded to 2 edges", "Welded to 1 edge"):
        targets.nth(0).dispatch_event("pointerdown", {"button": 0})
        expect(bench.page.get_by_text(f"{said}; all others stay as they are.")).to_be_visible()
    expect(
        bench.page.get_by_role("button", name="Seam H target.svg: holds", exact=False).first
    ).to_be_visible()
    made = contours(bench.saved().download(tmp_path, anyway=True))
    kept = [d for d in plain if d in made]
    assert {"M96 48", "M28 18"} <= {d[:6] for d in kept}, "the outer circle and the arch, to the last sign"
    bench.page.get_by_role("button", name="Done", exact=True).click()


def contours(path):
    """The contours of a file, each as it is written."""
    text = path.read_text("utf-8")
    d = "".join(part.split('"')[0] for part in text.split(' d="')[1:])
    return [f"M{rest}" for rest in d.replace("Z", "").split("M") if rest]


def test_a_letter_replaced_by_a_drawing_of_three_colours(page, server, tmp_path):
    rose = (
        f'{HEAD}<circle cx="50" cy="50" r="50" fill="#1F4E6B"/>'
        '<circle cx="50" cy="50" r="34" fill="#C8932B"/>'
        '<path d="M50 20L58 50L50 80L42 50Z" fill="#8C2F39"/></svg>'
    )
    bench = Bench(page).open(server.design("HOH", face={"family": "anton"}))
    bench.stage("Join")
    bench.choose_letter("O")
    page.get_by_role("button", name="A shape in its place").click()
    page.get_by_label("Stand-in: a file of your own").set_input_files(
        {"name": "rose.svg", "mimeType": "image/svg+xml", "buffer": rose.encode()}
    )
    expect(page.get_by_text("Your own shape: rose, in 3 colours")).to_be_visible()
    bench.saved()
    found = films(bench.download(tmp_path, anyway=True))
    assert {"#1f4e6b", "#c8932b", "#8c2f39"} <= set(found)


def test_a_page_of_a_pdf_chosen_by_its_picture(building, tmp_path):
    document = FPDF(unit="mm", format=(200, 100))
    for n in range(3):
        document.add_page()
        document.set_fill_color(200, 60 * n, 0)
        document.rect(20, 20, 30 + 20 * n, 25, style="F")
    bench = building()
    bench.page.get_by_role("button", name="Drawing").click()
    bench.page.get_by_label("Drawing", exact=True).set_input_files(
        {"name": "signs.pdf", "mimeType": "application/pdf", "buffer": bytes(document.output())}
    )
    expect(bench.page.get_by_role("group", name="Pages").get_by_role("button")).to_have_count(3)
    bench.page.get_by_role("button", name="Page 3").click()
    expect(bench.page.get_by_text("70 mm × 25 mm, 1 shape")).to_be_visible()
    bench.type_into("Width", "35 mm")
    bench.page.get_by_role("button", name="Put it on the work").click()
    expect(bench.card("signs.pdf")).to_contain_text("35 mm × 12.5 mm")
    found = films(bench.saved().download(tmp_path, anyway=True))
    assert found["#c87800"] == pytest.approx(35 * 12.5, rel=1e-3)


def test_a_file_that_is_no_drawing_is_told_and_nothing_is_lost(building):
    bench = building()
    outline = bench.outline()
    bench.page.get_by_role("button", name="Drawing").click()
    for name, data, said in (
        ("notes.txt", b"hello", "no drawing that Fulgen reads"),
        ("half.pdf", b"%PDF-1.4", "broken"),
        ("empty.svg", f"{HEAD}<text>Heron</text></svg>".encode(), "no outlines"),
    ):
        file = {"name": name, "mimeType": "application/octet-stream", "buffer": data}
        bench.page.get_by_label("Drawing", exact=True).set_input_files(file)
        expect(bench.problem).to_contain_text(said)
    bench.page.keyboard.press("Escape")
    expect(bench.card("Heron")).to_be_visible()
    assert bench.outline() == outline


FOCUSED = "document.activeElement.getAttribute('aria-label') ?? document.activeElement.innerText"


def test_parts_aligned_kept_together_and_spread_by_keyboard_alone(building):
    bench = building(
        form("disc", "a", 20.0, film="#112233"),
        form("heart", "b", 20.0, x=37.0, y=9.0, film="#445566"),
        form("star", "c", 20.0, x=80.0, y=-14.0, film="#778899"),
    )
    page = bench.page

    def tab_to(name):
        for _ in range(80):
            page.keyboard.press("Tab")
            if page.evaluate(FOCUSED) == name:
                return
        raise AssertionError(f"{name} is not reached by Tab")

    bench.work.click(position={"x": 300, "y": 30})
    page.keyboard.press("Control+a")
    expect(page.get_by_role("group", name="Align")).to_be_visible()
    tab_to("Centre side by side")
    page.keyboard.press("Enter")
    expect(bench.figure("size")).to_contain_text("100 × 20")
    tab_to("Spread across, middles evenly apart")
    page.keyboard.press("Enter")
    tab_to("Move them together")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Move each by itself again")).to_be_visible()
    middles = [bench.box(part)["x"] + bench.box(part)["width"] / 2 for part in "abc"]
    assert middles[1] - middles[0] == pytest.approx(middles[2] - middles[1], abs=1.5)
    bench.card("Heart").focus()
    page.keyboard.press("Enter")
    before = bench.box("a")
    bench.work.locator("xpath=..").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    page.wait_for_function(
        "x => document.querySelector('[data-hit=a]').getBoundingClientRect().x !== x", arg=before["x"]
    )
    bench.saved()


def test_a_name_on_a_plate_from_an_empty_shelf(page, server):
    """The steps counted: New design, type, Build, Shape, rectangle, To the back, film: seven."""
    page.goto("/")
    page.get_by_role("button", name="New lettering", exact=True).click()
    bench = Building(page)
    expect(bench.words).to_be_visible()
    page.keyboard.type("Sedge")
    expect(bench.pieces.first).to_be_attached()
    page.get_by_role("navigation", name="Stages").get_by_role("button", name="Build").click()
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("button", name="rectangle", exact=True).click()
    expect(bench.card("Rectangle")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="To the back by one").click()
    page.get_by_role("group", name="Colour of the film").get_by_role("button", name="Gold").click()
    expect(page.locator("[data-film]")).to_have_count(2)
    bench.saved()


class TestHands:
    """What a pointer does on the work: each drag is one step to undo."""

    parts = (form("disc", "a", 40.0), form("star", "b", 30.0, x=60.0, y=20.0, film="#8C2F39"))

    def test_a_part_is_dragged_snaps_and_comes_back(self, building):
        bench = building(*self.parts)
        before = bench.outline()
        box = bench.box("b")
        bench.drag(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, -40, 30)
        bench.outline_differs_from(before)
        expect(bench.card("Star")).to_have_attribute("aria-pressed", "true")
        bench.page.get_by_role("button", name="Undo", exact=True).click()
        bench.outline_is(before)

    def test_edges_snap_to_those_of_other_parts(self, building):
        bench = building(*self.parts)
        disc, star = bench.box("a"), bench.box("b")
        by = disc["x"] + disc["width"] - star["x"] + 3  # 3 px short of the disc's edge
        x, y = star["x"] + star["width"] / 2, star["y"] + star["height"] / 2
        bench.page.mouse.move(x, y)
        bench.page.mouse.down()
        bench.page.mouse.move(x + by, y + 60, steps=4)
        expect(bench.page.locator("[data-guide=across]")).to_be_attached()
        bench.page.mouse.up()
        expect(bench.page.locator("[data-guide]")).to_have_count(0)
        bench.saved()
        assert bench.box("b")["x"] == pytest.approx(bench.box("a")["x"] + bench.box("a")["width"], abs=0.6)

    def test_corners_keep_proportions_sides_stretch_and_the_round_grip_turns(self, building):
        bench = building(*self.parts)
        bench.card("Disc").click()
        corner = box_at_rest(bench.grip("bottom right"))
        bench.drag(corner["x"] + 5, corner["y"] + 5, 60, 60)
        expect(bench.card("Disc")).not_to_contain_text("40 mm × 40 mm")
        bench.settled()
        width, height = size_of(bench, "Disc")
        assert width == pytest.approx(height, abs=0.11)
        side = box_at_rest(bench.grip("right"))
        bench.drag(side["x"] + 5, side["y"] + 5, 50, 0)
        expect(bench.card("Disc")).not_to_contain_text(f"{width:g} mm × {height:g} mm")
        bench.settled()
        assert size_of(bench, "Disc")[1] == pytest.approx(height, abs=0.11)
        turn = box_at_rest(bench.grip("turn"))
        bench.drag(turn["x"] + 6, turn["y"] + 6, -90, -40, keys=["Shift"])
        expect(bench.field("Turned")).not_to_have_value("0°")
        assert float(bench.field("Turned").input_value().rstrip("°")) % 15 == 0

    def test_a_rectangle_drawn_on_the_ground_chooses(self, building):
        bench = building(*self.parts)
        a, b = bench.box("a"), bench.box("b")
        x, y = min(a["x"], b["x"]) - 20, min(a["y"], b["y"]) - 14
        right = max(a["x"] + a["width"], b["x"] + b["width"])
        bottom = max(a["y"] + a["height"], b["y"] + b["height"])
        bench.drag(x, y, right - x + 14, bottom - y + 14)
        expect(bench.page.get_by_role("group", name="Put together")).to_be_visible()

    def test_a_shape_s_own_handle_changes_its_parameter(self, building):
        bench = building(form("ring", "a", 60.0))
        before = bench.outline()
        handle = box_at_rest(bench.page.locator("[data-parameter=width]"))
        bench.drag(handle["x"] + 7, handle["y"] + 7, -60, 0)
        bench.outline_differs_from(before)

    def test_a_locked_part_stays_and_a_hidden_one_is_not_cut(self, building):
        bench = building(*self.parts)
        bench.page.get_by_role("button", name="Lock Star").click()
        expect(bench.page.get_by_role("button", name="Unlock Star")).to_be_visible()
        before = bench.outline()
        box = box_at_rest(bench.page.locator("[data-hit=a]"))
        bench.drag(box["x"] + 20, box["y"] + 60, 0, 0)
        bench.page.get_by_role("button", name="Hide Star").click()
        bench.outline_differs_from(before)
        bench.shown(1)

    def test_copies_and_what_is_taken_out_by_key(self, building):
        bench = building(*self.parts)
        bench.card("Star").click()
        bench.page.keyboard.press("Control+d")
        expect(bench.card("Star")).to_have_count(2)
        bench.page.keyboard.press("Delete")
        expect(bench.card("Star")).to_have_count(1)
        bench.page.get_by_role("button", name="Undo", exact=True).click()
        expect(bench.card("Star")).to_have_count(2)

    def test_a_line_through_points_is_shaped_by_hand(self, building):
        bench = building()
        bench.page.get_by_role("button", name="Line", exact=True).click()
        expect(bench.card("Band")).to_have_attribute("aria-pressed", "true")
        bench.choose("Free")
        expect(bench.page.locator("[data-point]")).to_have_count(3)
        before = bench.outline()
        middle = box_at_rest(bench.page.locator("[data-point='1']"))
        bench.drag(middle["x"] + 6, middle["y"] + 6, 0, 50)
        bench.outline_differs_from(before)
        between = box_at_rest(bench.page.locator("[data-between='0']"))
        bench.drag(between["x"] + 4, between["y"] + 4, 0, -40)
        expect(bench.page.locator("[data-point]")).to_have_count(4)
        bench.choose("Score")
        expect(bench.page.get_by_text("Its lines are pressed in for a fold. It is not cut.")).to_be_visible()
        expect(bench.page.locator("[data-uncut] [data-use=score]")).to_be_attached()


def size_of(bench, name):
    """Width and height of a part, as its card says."""
    text = bench.card(name).inner_text().split("\n")[-1]
    return [float(word.split(" ")[0]) for word in text.split(" × ")]


def test_an_ornament_of_a_face_is_put_on_the_work(building):
    bench = building()
    bench.page.get_by_role("button", name="Ornament", exact=True).click()
    bench.page.get_by_role("button", name="ampersand", exact=True).click()
    expect(bench.card("Ornament")).to_contain_text("× 40 mm")


def test_a_face_whose_ornaments_cannot_be_had_is_told_and_nothing_is_lost(building):
    told = {
        "kind": "bad-face",
        "what": "A letter of Tern cannot be drawn.",
        "where": "",
        "todo": "Choose another.",
    }
    bench = building(form("disc", "a", 40.0))
    bench.page.route("**/api/faces/glyphs", lambda route: route.fulfill(status=422, json=told))
    bench.page.get_by_role("button", name="Ornament", exact=True).click()
    expect(bench.page.get_by_role("alert")).to_have_text(told["what"] + told["todo"])
    bench.page.get_by_role("button", name="Back", exact=True).click()
    expect(bench.card("Disc")).to_contain_text("40 mm")


def test_a_division_gives_regions_films_and_leaves_some_out(building, tmp_path):
    bench = building(form("disc", "a", 40.0), form("heart", "b", 40.0, x=24.0, film="#8C2F39"))
    bench.choose_parts("Disc", "Heart")
    bench.together("Divide").click()
    bench.shown(3)
    overlap = bench.page.get_by_role("group", name="Film of Disc and Heart")
    overlap.get_by_role("button", name="Gold").click()
    expect(bench.page.locator("[data-film]")).to_have_count(3)
    bench.page.get_by_text("Cut it").last.click()
    expect(bench.page.locator("[data-film]")).to_have_count(2)


def test_the_stage_is_told_to_those_who_cannot_see_it(building):
    bench = building(form("disc", "a", 40.0), word("Sedge", "w", 30.0, -15.0, 8.0))
    bench.choose_parts("Disc", "Sedge")
    expect(bench.together("Cut out")).to_be_visible()
    assert hindrances(bench.page) == []


def test_what_is_not_worked_out_yet_cannot_be_made_a_frame(building):
    bench = building(form("disc", "a", 40.0), word("Sedge", "w", 30.0, -15.0, 8.0))
    bench.choose_parts("Disc")
    make = bench.page.get_by_role("button", name="Make it a frame for a name")
    expect(make).to_be_enabled()
    held = []
    bench.page.route("**/api/evaluate", lambda route: held.append(route))
    bench.page.keyboard.press("Control+d")
    expect(bench.page.get_by_role("list", name="Parts").get_by_role("listitem")).to_have_count(3)
    expect(make).to_be_disabled()
    bench.page.unroute("**/api/evaluate")  # what was held goes on
    make.click()
    expect(bench.page.get_by_role("button", name="Make it a frame for a name")).to_have_count(0)
