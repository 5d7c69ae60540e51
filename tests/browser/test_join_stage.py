"""Joining in the browser as a maker does it: by one click, by key, by hand, with a face of one's own."""

import re

import pytest
import svgelements
from playwright.sync_api import expect

from fulgen.lettering.catalogue import FACES_DIR
from tests.browser.bench import Bench, box_at_rest, face_row, tick
from tests.browser.test_letter_stage import measured

LOBSTER = FACES_DIR / "lobster" / "Lobster_400Regular.ttf"


@pytest.fixture
def joining(page, server):
    """Opens a design in the Join stage."""

    def opened(text="Moss", face="courgette", **part):
        size = part.pop("size", {"measure": "capitals", "mm": 30})
        bench = Bench(page).open(server.design(text, face={"family": face}, size=size, **part))
        bench.stage("Join")
        return bench

    return opened


def test_a_word_that_does_not_join_becomes_one_piece_by_one_click_and_the_file_is_one(joining, tmp_path):
    bench = joining()
    bench.shown(4)
    expect(bench.page.get_by_test_id("seam-count")).to_have_text("3 seams: 3 have a gap.")
    expect(bench.figure("gaps")).to_contain_text(re.compile(r"3\s*gaps"))
    bench.page.get_by_role("button", name="Join all letters").click()
    bench.shown(1)
    expect(bench.page.get_by_test_id("seam-count")).to_have_text("3 seams: 3 hold.")
    expect(bench.page.get_by_test_id("before-after")).to_contain_text("Before: 4 pieces. Now: 1 piece")
    assert {seam.get_attribute("data-state") for seam in bench.seams.all()} == {"joined"}
    neck = float(re.match(r"[\d.]+", bench.told("neck"))[0])
    assert neck >= 1.2  # † what film is given: common practice, no published source
    _, _, outline = measured(bench.download(tmp_path))
    outer = [path for path in outline.as_subpaths() if signed_area(svgelements.Path(path)) > 0]
    assert len(outer) == 1
    bench.page.get_by_role("button", name="Undo", exact=True).click()
    bench.shown(4)


def signed_area(path):
    """By the shoelace formula over each side's own points, enough to tell outer edges from holes."""
    points = [segment.point(n / 8) for segment in path for n in range(1, 9) if segment.end is not None]
    return sum(a.x * b.y - b.x * a.y for a, b in zip(points, [*points[1:], points[0]], strict=True)) / 2


def test_what_is_typed_after_joining_is_joined_too(joining):
    bench = joining()
    bench.page.get_by_role("button", name="Join all letters").click()
    bench.shown(1)
    bench.stage("Letter")
    bench.words.press("End")
    bench.page.keyboard.type("wood")
    expect(bench.figure("size")).not_to_contain_text("0 × 0")
    bench.stage("Join")
    expect(bench.seams).to_have_count(7)
    expect(bench.page.get_by_test_id("seam-count")).to_have_text("7 seams: 7 hold.")


def test_a_letter_is_nudged_by_keyboard_the_strips_figure_changes_and_undo_returns_all(joining):
    bench = joining()
    seam = bench.seams.nth(1)
    shown = seam.locator("[data-figure]")
    before = shown.inner_text()
    seam.click()
    expect(bench.page.get_by_role("heading", name="Seam o · s")).to_be_visible()
    expect(bench.letter("s").first).to_have_attribute("data-chosen", "true")
    bench.page.keyboard.press("Shift+ArrowLeft")
    expect(shown).not_to_have_text(before)
    nudged = shown.inner_text()
    assert 0 < gap(nudged) < gap(before) - 2
    bench.page.keyboard.press("ArrowLeft")
    bench.page.keyboard.press("Alt+ArrowLeft")
    expect(shown).not_to_have_text(nudged)
    expect(bench.page.get_by_role("textbox", name="Sideways")).to_have_value("-3.33 mm")
    bench.page.keyboard.press("ArrowUp")
    expect(bench.page.get_by_role("textbox", name="Down")).to_have_value("-0.3 mm")
    for _ in range(5):
        bench.page.keyboard.press("Control+z")
    expect(shown).to_have_text(before)


def gap(text):
    return float(re.search(r"gap ([\d.]+) mm", text)[1])


def test_tab_walks_the_seams_and_the_work_follows(joining):
    bench = joining()
    bench.seams.first.focus()
    for name in ("M · o", "o · s", "s · s"):
        expect(bench.page.get_by_role("heading", name=f"Seam {name}")).to_be_visible()
        bench.page.keyboard.press("Tab")
    bench.seams.first.focus()
    expect(bench.page.get_by_role("button", name="True size on this screen")).not_to_have_text("100 %")
    bench.page.keyboard.press("Escape")
    expect(bench.page.get_by_role("heading", name=re.compile("^Seam"))).to_have_count(0)


def test_arrows_in_a_list_or_among_choices_choose_there_and_move_no_letter(joining):
    bench = joining()
    page = bench.page
    bench.choose_letter("s")
    expect(bench.letter("s").first).to_have_attribute("data-chosen", "true")
    before = bench.outline()
    material = page.get_by_role("combobox", name="Material")
    name = material.input_value()
    material.focus()
    page.keyboard.press("ArrowDown")
    expect(material).not_to_have_value(name)
    dots = page.get_by_role("radiogroup", name="Dots and accents")
    dots.get_by_role("radio", name="Apart").focus()
    page.keyboard.press("ArrowRight")
    expect(dots.get_by_role("radio", name="Lowered")).to_be_checked()
    bench.outline_is(before)
    page.get_by_role("application").focus()
    page.keyboard.press("ArrowRight")
    bench.outline_differs_from(before)


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_in_a_strip_of_many_seams_no_figure_runs_into_its_mark_or_out_of_its_card(joining, unit):
    bench = joining("Otterbrooks", spacing_mm=5.5, unit=unit)
    expect(bench.seams).to_have_count(10)
    for card in bench.seams.all():
        room, mark = box_at_rest(card), box_at_rest(card.locator("svg").last)
        words = card.locator("[data-figure]").evaluate(
            """figure => {
                const text = document.createRange()
                text.selectNodeContents(figure)
                return text.getBoundingClientRect().toJSON()
            }"""
        )
        assert words["x"] + words["width"] <= room["x"] + room["width"] - 2
        apart = (
            words["x"] + words["width"] <= mark["x"]
            or mark["y"] + mark["height"] <= words["y"] + 2
            or words["y"] + words["height"] <= mark["y"]
        )
        assert apart, card.inner_text()


def test_a_nudge_survives_editing_the_text_another_size_and_a_reload(joining):
    bench = joining(text="Moss")
    bench.seams.nth(1).click()
    bench.page.keyboard.press("Shift+ArrowUp")
    expect(bench.page.get_by_role("textbox", name="Down")).to_have_value("-3 mm")
    bench.stage("Letter")
    bench.words.fill("Tall Moss")
    bench.size("60 mm", "Height of a capital")
    expect(bench.page.locator("[data-piece]")).not_to_have_count(4)
    bench.saved()
    bench.page.reload()
    bench.stage("Join")
    bench.seam("o · s").click()
    # Twice the size: the same share of it.
    expect(bench.page.get_by_role("textbox", name="Down")).to_have_value("-6 mm")
    bench.stage("Letter")
    bench.words.fill("Tall Mo")
    bench.stage("Join")
    expect(bench.page.get_by_role("button", name=re.compile("Reset all"))).to_have_count(0)


def test_a_letter_is_dragged_alone_snaps_to_the_baseline_and_one_undo_puts_it_back(joining):
    bench = joining()
    bench.page.get_by_text("Carry the rest of the line along").click()
    before = bench.outline()
    box = box_at_rest(bench.letter("o"))
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    bench.page.mouse.move(x, y)
    bench.page.mouse.down()
    bench.page.mouse.move(x - 30, y + 3, steps=8)
    bench.page.mouse.up()
    bench.outline_differs_from(before)
    # Nothing is left hanging on the pointer.
    expect(bench.page.locator("[data-drag]")).to_have_count(0)
    expect(bench.page.get_by_role("heading", name="Letter o")).to_be_visible()
    expect(bench.page.get_by_role("textbox", name="Down")).to_have_value("0 mm")
    assert bench.page.get_by_role("textbox", name="Sideways").input_value().startswith("-")
    bench.page.keyboard.press("Control+z")
    expect(bench.page.get_by_role("textbox", name="Sideways")).to_have_value("0 mm")
    bench.outline_is(before)


def test_several_letters_at_once_turned_aligned_and_reset(joining):
    bench = joining()
    bench.choose_letter("s")
    bench.page.keyboard.press("Shift+ArrowDown")
    bench.choose_letter("s", 1, modifiers=["Shift"])
    expect(bench.page.get_by_role("heading", name="2 letters: s s")).to_be_visible()
    bench.page.get_by_role("button", name="Align their feet").click()
    expect(
        bench.page.get_by_role("button", name=re.compile("Reset all that was done to 2 letters"))
    ).to_be_visible()
    turn = bench.page.get_by_role("textbox", name="Turn")
    turn.fill("12°")
    turn.press("Enter")
    expect(turn).to_have_value("12°")
    turn.fill("a lot")
    turn.press("Enter")
    expect(bench.page.get_by_text("Type -180 to 180 °.")).to_be_visible()
    turn.press("Escape")
    bench.page.get_by_role("button", name="Reset these letters").click()
    expect(bench.page.get_by_role("button", name=re.compile("Reset all"))).to_have_count(0)


def test_one_seam_is_decided_otherwise_and_reset(joining):
    bench = joining()
    bench.page.get_by_role("button", name="Join all letters").click()
    bench.shown(1)
    bench.seam("o · s").click()
    ways = bench.page.get_by_role("radiogroup", name="How to join here")
    ways.get_by_role("radio", name=re.compile("^Keep apart")).click()
    bench.shown(2)
    expect(bench.seam("o · s")).to_have_attribute("data-state", "gap")
    ways.get_by_role("radio", name=re.compile("^Bridge")).click()
    bench.shown(1)
    expect(bench.page.get_by_text(re.compile("^Bridge of"))).to_be_visible()
    bench.page.get_by_role("button", name="Reset this seam").click()
    expect(ways.get_by_role("radio", name=re.compile("^Best"))).to_have_attribute("aria-checked", "true")
    expect(bench.seam("o · s")).to_have_attribute("data-state", "joined")


def test_material_sets_the_neck_and_smoothing_rounds_the_seams(joining):
    bench = joining()
    bench.page.get_by_role("button", name="Join all letters").click()
    bench.shown(1)
    film = bench.outline()
    bench.page.get_by_role("combobox", name="Material").select_option("Ply, 3 mm")
    expect(bench.page.get_by_role("textbox", name="Neck at least")).to_have_value("2 mm")
    bench.outline_differs_from(film)
    ply = bench.outline()
    smooth = bench.page.get_by_role("textbox", name="Smooth seams by")
    smooth.fill("0.5 mm")
    smooth.press("Enter")
    bench.outline_differs_from(ply)
    bench.shown(1)


def test_another_shape_is_kept_and_said_where_a_face_lacks_it(joining):
    bench = joining("Rose", "allura")
    bench.choose_letter("e")
    shapes = bench.page.get_by_role("group", name="Shapes").get_by_role("button")
    expect(shapes.first).to_have_attribute("aria-pressed", "true")
    before = bench.outline()
    shapes.nth(1).click()
    bench.outline_differs_from(before)
    bench.stage("Letter")
    bench.pick_face("Anton")
    expect(bench.page.get_by_text("Anton has no other shape for e")).to_be_visible()
    bench.pick_face("Allura")
    expect(bench.page.get_by_text("has no other shape")).to_have_count(0)


def test_faces_say_how_they_join_and_are_filtered_by_it(page, server):
    bench = Bench(page).open(server.design("Tern"))
    page.get_by_role("button", name=re.compile("^Face:")).click()
    page.get_by_role("button", name="Looks").click()
    page.get_by_role("button", name="joins by itself").click()
    expect(face_row(page, "Pacifico")).to_contain_text("joins by itself")
    expect(face_row(page, "Anton")).to_have_count(0)
    page.get_by_role("button", name="joins by itself").click()
    expect(face_row(page, "Anton")).to_contain_text("needs joining")
    expect(face_row(page, "Pinyon Script")).to_contain_text(re.compile(r"strokes 0\.\d, counters \d\.\d mm"))
    assert bench.problem.count() == 0


class TestAFaceOfOnesOwn:
    def add(self, page, file):
        page.get_by_role("button", name=re.compile("^Face:")).click()
        page.get_by_role("button", name="Add your own").click()
        page.get_by_role("textbox", name="Licence note").fill("OFL, ours to cut")
        page.get_by_label("Face file").set_input_files(file)

    def test_it_is_rated_and_used_taken_off_and_put_back(self, page, server):
        bench = Bench(page).open(server.design("Tern", face={"family": "anton"}))
        bench.shown(4)
        self.add(page, LOBSTER)
        own = page.get_by_role("option", name="Lobster").first
        expect(own).to_have_attribute("aria-selected", "true")
        expect(own).to_contain_text("Own")
        expect(own.locator("[data-joins]")).to_contain_text("nearly joins")
        # It is written as a hand does, so it is joined.
        bench.shown(1)
        page.get_by_role("button", name="Take Lobster off the list").click()
        expect(page.get_by_text("is off the list. Designs that use it keep it.")).to_be_visible()
        bench.shown(1)
        page.get_by_role("button", name="Put it back").click()
        expect(face_row(page, "Lobster")).to_have_count(2)
        # The server serves other tests too.
        page.get_by_role("button", name="Take Lobster off the list").click()
        expect(page.get_by_role("option", name="Lobster")).to_have_count(1)

    def test_a_broken_one_is_refused_and_the_design_is_as_it_was(self, page, server, tmp_path):
        broken = tmp_path / "broken.ttf"
        broken.write_bytes(LOBSTER.read_bytes()[:3000])
        bench = Bench(page).open(server.design("Tern", face={"family": "anton"}))
        bench.shown(4)
        before = bench.outline()
        self.add(page, broken)
        expect(page.get_by_role("alert")).to_contain_text("broken.ttf")
        bench.outline_is(before)


def test_a_dot_is_lowered_another_letters_bridged_and_undo_puts_them_back(joining):
    bench = joining("Nip", "anton")
    expect(bench.figure("pieces")).to_contain_text("3pieces + 1 dot or accent")
    bench.choose("Lowered")
    bench.shown(3)
    expect(bench.figure("pieces")).not_to_contain_text("dot")
    lowered = bench.outline()
    bench.choose_letter("i")
    own = bench.page.get_by_role("radiogroup", name="Dot or accent of the letter")
    tick(own.get_by_role("radio", name="Bridged"))
    bench.outline_differs_from(lowered)
    bench.shown(3)
    for _ in range(2):
        bench.page.keyboard.press("Control+z")
    bench.shown(4)


class TestFlow:
    """A stroke carried on: chosen at a seam, shaped by hand, undone."""

    JOINED = {"how": "auto", "neck_mm": 1.2}

    def measured_anew(self, bench):
        """Waits until the seams of a change are measured: its outline came before."""
        return bench.page.expect_response("**/api/seams")

    def chosen(self, joining):
        bench = joining("Clementine", "kaushan-script", join=self.JOINED)
        expect(bench.seams).to_have_count(9)
        bench.seams.nth(4).click()
        with self.measured_anew(bench):
            bench.page.get_by_role("radio", name="Flow").click()
        expect(bench.page.locator("[data-flow-end]")).to_have_count(2)
        bench.page.mouse.move(900, 200)
        return bench

    def test_it_is_chosen_shaped_by_dragging_its_end_and_undone(self, joining):
        bench = self.chosen(joining)
        page = bench.page
        expect(page.locator("[data-piece]").first).to_be_attached()
        expect(bench.seams.nth(4)).to_have_attribute("data-state", re.compile("joined|lettering"))
        before = bench.outline()
        arrives = page.locator("[data-flow-end=arrives]")
        box = box_at_rest(arrives)
        page.mouse.move(box["x"] + 7, box["y"] + 7)
        page.mouse.down()
        page.mouse.move(box["x"] + 3, box["y"] - 24, steps=4)
        with self.measured_anew(bench):
            page.mouse.up()
        bench.outline_differs_from(before)
        shaped = bench.outline()
        with self.measured_anew(bench):
            page.get_by_role("slider", name="Fullness of the bend").press("End")
        bench.outline_differs_from(shaped)
        page.get_by_role("button", name="Undo", exact=True).click()
        bench.outline_is(shaped)
        page.get_by_role("button", name="Undo", exact=True).click()
        bench.outline_is(before)

    def test_the_ways_are_shown_on_the_work_before_they_are_chosen(self, joining):
        bench = self.chosen(joining)
        before = bench.outline()
        bench.page.get_by_role("radio", name=re.compile("^Bridge lay")).hover()
        expect(bench.page.locator("[data-preview]")).to_be_attached()
        assert bench.outline() == before
        bench.page.mouse.move(900, 200)
        expect(bench.page.locator("[data-preview]")).to_have_count(0)


class TestRhythm:
    JOINED = {"how": "auto", "neck_mm": 1.2}

    def test_the_white_between_letters_follows_a_letter_that_is_nudged(self, joining):
        bench = joining("Hannah", "courgette", join=self.JOINED)
        page = bench.page
        page.get_by_text("Show the white between letters").click()
        bar = page.locator("[data-white=nn] path").first
        expect(bar).to_be_attached()
        expect(page.locator("[data-white]")).to_have_count(5)
        before = bar.get_attribute("d")
        bench.seams.nth(2).click()
        page.get_by_role("button", name="Fit in the window").click()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowRight")
        expect(bar).not_to_have_attribute("d", before)
        expect(page.locator("[data-white=nn]")).to_have_attribute("data-uneven", "true")

    def test_holding_shows_how_the_face_sets_it_and_letting_go_what_is_cut(self, joining):
        bench = joining("Hannah", "courgette", join=self.JOINED)
        page = bench.page
        bench.shown(1)
        page.get_by_role("application").focus()
        page.keyboard.down("b")
        expect(page.locator("[data-before]")).to_have_text("As the face sets it")
        expect(page.locator("[data-film] [data-piece]")).to_have_count(6)
        page.keyboard.up("b")
        expect(page.locator("[data-before]")).to_have_count(0)
        bench.shown(1)
        hold = page.get_by_role("button", name="Hold to compare with the face")
        box = box_at_rest(hold)
        page.mouse.move(box["x"] + 20, box["y"] + 10)
        page.mouse.down()
        expect(page.locator("[data-before]")).to_be_attached()
        page.mouse.up()
        expect(page.locator("[data-before]")).to_have_count(0)
        expect(page.get_by_role("button", name="Undo: nothing to undo yet")).to_be_disabled()

    def test_tightly_joined_is_shorter_than_as_drawn(self, joining):
        bench = joining("Hannah", "courgette", join=self.JOINED)
        slider = bench.page.get_by_role("slider", name="How tightly letters are joined")
        widths = []
        for key in ("Home", "End"):
            before = bench.outline()
            slider.press(key)
            bench.outline_differs_from(before)
            widths.append(box_at_rest(bench.page.locator("[data-film]").first))
        sizes = [bench.told("size")]
        slider.press("Home")
        expect(bench.figure("size")).not_to_have_text(sizes[0])
        tight, drawn = (float(re.match(r"[\d.]+", t)[0]) for t in (sizes[0], bench.told("size")))
        assert tight < drawn - 1


def test_joints_that_are_weak_because_the_letters_are_thin_are_mended_by_one_action(page, server):
    bench = Bench(page).open(
        server.design(
            "Kestrel",
            face={"family": "alex-brush"},
            size={"measure": "capitals", "mm": 16.0},
            join={"how": "auto"},
        )
    )
    bench.stage("Join")
    weak = page.locator("[data-seam][data-state=weak]")
    expect(page.get_by_text("joints are weak, for the letters themselves are thin")).to_be_visible()
    expect(weak).not_to_have_count(0)
    page.get_by_role("button", name="Thicken the lettering to 0.6 mm").first.click()
    expect(weak).to_have_count(0)
    expect(page.get_by_text("All letters are joined")).to_be_visible()
    # The check says the same: no neck between letters is weak.
    bench.stage("Check")
    expect(page.get_by_test_id("verdict")).to_be_visible()
    expect(page.locator("[data-finding=neck]").filter(has_text="between")).to_have_count(0)


class TestAlwaysSo:
    """One joint corrected, and so in every word of the face from then on."""

    @pytest.fixture(autouse=True)
    def none_left(self, server):
        yield
        for habit in server.call("GET", "/habits"):
            server.call("DELETE", f"/habits?family={habit['family']}&letters={habit['letters']}")

    def corrected(self, joining):
        """Corn, its r and n tied by a bridge, always."""
        bench = joining("Corn", join={"how": "auto"})
        bench.shown(1)
        bench.seam("r · n").click()
        self.bridge(bench).click()
        bench.page.get_by_role("button", name="Always join r · n so", exact=True).click()
        expect(bench.page.get_by_test_id("habit")).to_have_text(
            re.compile("^r · n is always joined so in Courgette")
        )
        return bench

    def bridge(self, bench):
        ways = bench.page.get_by_role("radiogroup", name="How to join here")
        return ways.get_by_role("radio", name=re.compile("^Bridge"))

    def is_bridged(self, bench):
        expect(self.bridge(bench)).to_be_checked()

    def test_it_is_so_in_the_next_design_too_and_at_another_size(self, joining, page, server):
        self.corrected(joining).saved()
        page.goto("/")
        page.get_by_role("button", name="New lettering", exact=True).click()
        bench = Bench(page)
        bench.words.fill("Acorns turn")
        bench.pick_face("Courgette")
        bench.size("40 mm", "Height of a capital")
        bench.stage("Join")
        expect(page.get_by_text("All letters are joined, and stay so as you type.")).to_be_visible()
        for seam in bench.seams.filter(has_text="r · n").all():
            seam.click()
            expect(page.get_by_test_id("habit")).to_contain_text("always joined so")
            self.is_bridged(bench)
        bench.seam("o · r").click()
        expect(page.get_by_test_id("habit")).to_have_count(0)

    def test_it_is_undone_like_all_else_and_left_out_of_these_words_alone(self, joining, page, server):
        bench = self.corrected(joining)
        page.get_by_role("button", name="Not in these words", exact=True).click()
        expect(page.get_by_test_id("habit")).to_have_count(0)
        page.get_by_role("button", name="Undo", exact=True).click()
        self.is_bridged(bench)
        assert [habit["letters"] for habit in server.call("GET", "/habits")] == ["rn"]

    def test_it_is_taken_back_for_the_shop(self, joining, page, server):
        self.corrected(joining)
        with page.expect_response(lambda answer: answer.request.method == "DELETE"):
            page.get_by_role("button", name="No longer", exact=True).click()
        expect(page.get_by_test_id("habit")).to_have_count(0)
        assert server.call("GET", "/habits") == []


def test_a_way_to_join_the_whole_word_is_chosen_by_its_picture(joining):
    bench = joining("Marlowe", "allura", join={"how": "auto"})
    ways = bench.page.get_by_role("group", name="Ways to join, by picture")

    def way(name):
        return ways.get_by_role("button", name=name, exact=True)

    expect(ways.locator("svg")).to_have_count(6)
    expect(way("Evenly")).to_have_attribute("aria-pressed", "true")
    bench.shown(1)
    way("Capital apart").click()
    bench.shown(2)
    expect(way("Capital apart")).to_have_attribute("aria-pressed", "true")
    joined_evenly = bench.outline()
    way("With a swash").click()
    bench.outline_differs_from(joined_evenly).shown(1)
    expect(ways.get_by_role("button", pressed=True)).to_have_count(1)
    way("As the face sets it").click()
    expect(bench.page.get_by_role("button", name="Join all letters")).to_be_visible()
    for _ in range(3):
        bench.page.get_by_role("button", name="Undo", exact=True).click()
    bench.shown(1)
    expect(way("Evenly")).to_have_attribute("aria-pressed", "true")
