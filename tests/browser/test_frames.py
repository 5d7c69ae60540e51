"""Frames, monograms and lettering on curves in the browser: whole jobs as a maker does them, files read back
by a reader that is not ours."""

import math

import pytest
import svgelements
from playwright.sync_api import expect

from tests.browser.building import Building, films, form, word
from tests.figures import PX_PER_MM


def take(bench, name):
    """Puts the design's name in a frame, chosen by its picture."""
    before = bench.outline()
    bench.page.get_by_role("button", name="Frame", exact=True).click()
    bench.page.get_by_role("button", name=name).first.click()
    expect(bench.page.get_by_role("textbox", name="Name", exact=True)).to_be_visible()
    bench.outline_differs_from(before)


def pieces_in(path):
    """How many outer edges a file has: contours wound one way, by svgelements."""
    signs = []
    for element in svgelements.SVG.parse(str(path), ppi=96).elements():
        if isinstance(element, svgelements.Path):
            for sub in element.as_subpaths():
                at = [s.point(n / 8) for s in svgelements.Path(sub) if s.start is not None for n in range(8)]
                signs.append(
                    sum(a.x * b.y - b.x * a.y for a, b in zip(at, [*at[1:], at[0]], strict=True)) > 0
                )
    return signs


def size_mm(path):
    svg = svgelements.SVG.parse(str(path))
    return svg.width / PX_PER_MM, svg.height / PX_PER_MM


def test_a_name_in_a_ring_from_an_empty_shelf(page, tmp_path):
    bench = Building(page)
    page.goto("/")
    page.get_by_role("button", name="New lettering", exact=True).click()
    bench.words.fill("Piers")
    bench.stage("Build")
    take(bench, "Name ring")
    expect(bench.figure("pieces")).to_contain_text("1")
    bench.shown(1).saved()
    path = bench.download(tmp_path)
    assert size_mm(path)[0] == pytest.approx(80.0, abs=0.05)
    # One outer edge; all else are holes.
    signs = pieces_in(path)
    assert sorted([signs.count(True), signs.count(False)])[0] == 1
    # The contacts with the ring are seams like all others.
    expect(bench.seam("P · name ring")).to_be_visible()
    expect(bench.seam("s · name ring")).to_be_visible()


def test_a_split_initial_and_the_name_changed(building, tmp_path):
    bench = building(text="Tern", face="pacifico")
    take(bench, "Split initial")
    bench.shown(1).saved()
    first = films(bench.download(tmp_path))
    before = bench.outline()
    bench.page.get_by_role("textbox", name="Name", exact=True).fill("Willow")
    bench.outline_differs_from(before)
    bench.settled()
    bench.shown(1)
    # The initial follows the name, the gap does too, and the air beside the name stays as asked.
    expect(bench.page.locator("[data-air]").first).to_contain_text("3 mm")
    assert films(bench.download(tmp_path)) != pytest.approx(first, rel=1e-3)
    after = bench.outline()
    bench.type_into("Initial", "T")
    bench.outline_differs_from(after)
    bench.page.get_by_role("button", name="Undo", exact=True).click()
    bench.outline_is(after)
    bench.page.get_by_label("Face of the initial").select_option(label="Lobster")
    bench.outline_differs_from(after)
    bench.shown(1)


def test_a_round_monogram(building, tmp_path):
    bench = building(text="PKB")
    take(bench, "Round monogram")
    bench.shown(1).saved()
    width, height = size_mm(bench.download(tmp_path))
    assert (width, height) == pytest.approx((80.0, 80.0), abs=0.1)
    before = bench.outline()
    bench.page.get_by_role("textbox", name="Name", exact=True).fill("ABCDEFG")
    expect(bench.problem).to_contain_text("up to 5")
    bench.page.get_by_role("textbox", name="Name", exact=True).fill("PKB")
    bench.outline_is(before)


def test_artwork_made_a_frame_kept_and_used_again(building, tmp_path):
    bench = building(form("ring", "ring-1", 80.0), word("Heron", x=200.0))
    bench.card("Ring").click()
    bench.page.get_by_role("button", name="Make it a frame for a name").click()
    expect(bench.card("Frame")).to_have_attribute("aria-pressed", "true")
    bench.shown(1)
    # Only the inner edge is pointed at: it is what the name runs into.
    bench.page.get_by_role("button", name="Point at edges").click()
    edges = bench.page.locator("[data-contour]")
    expect(edges).to_have_count(2)
    edges.nth(1).dispatch_event("pointerdown", {"button": 0})
    expect(bench.page.get_by_text("It runs into 1 edge")).to_be_visible()
    bench.page.get_by_role("button", name="Done", exact=True).click()
    bench.shown(1)
    bench.page.get_by_role("textbox", name="Name of the kept frame").fill("Porthole")
    bench.page.get_by_role("button", name="Keep", exact=True).click()
    expect(bench.page.get_by_text("is in the library of frames")).to_be_visible()
    # In another design it is there with its picture, and takes that design's name.
    other = building(text="Egret", face="pacifico")
    other.page.get_by_role("button", name="Frame", exact=True).click()
    other.page.get_by_role("button", name="Porthole", exact=True).click()
    expect(other.card("Porthole")).to_be_visible()
    other.shown(1).saved()
    assert sum(films(other.download(tmp_path)).values()) > math.pi * (40**2 - 34**2) * 0.9
    other.page.get_by_role("button", name="Frame", exact=True).click()
    other.page.get_by_role("button", name="Take Porthole out of the library").click()
    expect(other.page.get_by_role("button", name="Porthole", exact=True)).to_have_count(0)


def test_lettering_around_a_life_ring(building, tmp_path):
    bench = building(text="OTTERBROOK", width=120.0)
    take(bench, "Word ring")
    bench.page.get_by_role("button", name="One more name").click()
    bench.page.get_by_role("textbox", name="Name 2").fill("BOATYARD")
    bench.settled()
    bench.shown(1)
    width, height = size_mm(bench.saved().download(tmp_path))
    assert (width, height) == pytest.approx((80.0, 80.0), abs=0.1)


def test_a_word_standing_on_a_bar_and_the_frame_taken_away(building, tmp_path):
    bench = building(text="Tern", face="pacifico")
    take(bench, "On a bar")
    bench.shown(1).saved()
    assert size_mm(bench.download(tmp_path))[0] == pytest.approx(80.0, abs=0.05)
    bench.type_into("Air beside the name", "10 mm")
    bench.settled()
    expect(bench.page.locator("[data-air]").first).to_contain_text("10 mm")
    bench.page.get_by_role("button", name="Take the frame away: the name stays").click()
    expect(bench.card("On a bar")).to_have_count(0)
    bench.settled()
    # The name is as large as it stood on the bar.
    assert size_mm(bench.saved().download(tmp_path))[0] == pytest.approx(60.0, abs=0.2)


def test_words_along_a_circle_joined_as_they_lie_there(building, tmp_path):
    bench = building(text="Otterbrook", face="pacifico")
    bench.page.get_by_role("button", name="Words and face…").click()
    before = bench.outline()
    bench.choose("Circle")
    bench.outline_differs_from(before)
    bench.stage("Join")
    bench.page.get_by_role("button", name="Join all letters").click()
    expect(bench.page.get_by_text("All letters are joined")).to_be_visible()
    bench.shown(1)
    round_ = bench.outline()
    # A letter moved by an arrow key goes along the line, and its joints follow.
    bench.letter("b").click()
    bench.page.keyboard.press("Shift+ArrowRight")
    bench.outline_differs_from(round_)
    bench.stage("Letter")
    bench.size("3 mm", "Diameter")
    expect(bench.problem).to_contain_text("too small for capitals")
    bench.size("80 mm", "Diameter")
    expect(bench.problem).to_have_count(0)


def test_a_whole_word_is_bent_and_straight_again(building):
    bench = building(text="Willowmere", face="pacifico")
    bench.page.get_by_role("button", name="Words and face…").click()
    before = bench.outline()
    bench.choose("Arch")
    bench.outline_differs_from(before)
    bench.choose("No bend")
    bench.outline_is(before)


def test_words_stand_on_a_band_that_is_drawn(building):
    band = {"kind": "line", "id": "line-1", "course": "arc", "bulge": 0.2, "width_mm": 5.0,
            "points": [{"x": -70.0, "y": 0.0}, {"x": 70.0, "y": 0.0}]}  # fmt: skip
    bench = building(word("HARBOUR", width=70.0, x=-30.0, y=60.0), band)
    bench.card("HARBOUR").click()
    bench.page.get_by_role("button", name="Words and face…").click()
    bench.choose("Part")
    bench.shown(1)
    expect(bench.page.get_by_label("The part it runs along")).to_have_value("line-1")


def test_a_frame_that_does_not_fit_says_so_and_loses_nothing(building):
    bench = building(text="Heron", face="pacifico")
    take(bench, "Name ring")
    outline = bench.outline()
    bench.page.get_by_role("textbox", name="Name", exact=True).fill("Heron" * 50)
    expect(bench.problem).to_contain_text("too small to cut", timeout=60_000)
    bench.page.get_by_role("textbox", name="Name", exact=True).fill("Heron")
    bench.outline_is(outline)
    bench.type_into("Rim", "39 mm")
    expect(bench.page.get_by_text("It can be")).to_be_visible()


def test_frames_by_picture_show_the_designs_own_name(building):
    bench = building(text="Heron", face="pacifico")
    bench.page.get_by_role("button", name="Frame", exact=True).click()
    panel = bench.page.get_by_role("complementary", name="Build")
    expect(panel.locator("svg path").nth(15)).to_be_attached(timeout=60_000)
    expect(panel.locator("[data-waiting]")).to_have_count(0, timeout=60_000)
    bench.page.keyboard.press("Escape")
    expect(bench.card("Heron")).to_be_visible()
