"""From a word with hairlines to a file that can be cut: mended in one step, looked at, left here and there;
and the gate in front of every way out."""

import numpy as np
import pytest
import shapely
import svgelements
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.figures import PX_PER_MM

HAIRLINES = {"face": {"family": "great-vibes"}, "size": {"measure": "capitals", "mm": 25},
             "join": {"how": "auto"}}  # fmt: skip


@pytest.fixture
def checking(page, server):
    """Opens a design in the Check stage."""

    def opened(text="Rosalind", **part):
        bench = Bench(page).open(server.design(text, **{**HAIRLINES, **part}))
        expect(bench.pieces.first).to_be_visible()
        bench.stage("Check")
        return bench

    return opened


def button(bench, name):
    return bench.page.get_by_role("button", name=name, exact=True)


def cores(path, width):
    """Into how many parts worth the name a file's outline falls, worn by half a width all round: read by
    svgelements, worn by shapely."""
    regions = []
    for element in svgelements.SVG.parse(str(path), ppi=96).elements():
        if isinstance(element, svgelements.Path):
            for sub in element.as_subpaths():
                at = [
                    s.point(n / 16) for s in svgelements.Path(sub) if s.start is not None for n in range(16)
                ]
                regions.append(shapely.Polygon(np.array([(p.x, p.y) for p in at]) / PX_PER_MM).buffer(0))
    whole = shapely.MultiPolygon()
    for region in sorted(regions, key=lambda r: -r.area):  # what lies in a piece is its hole
        whole = shapely.symmetric_difference(whole, region)
    parts = shapely.get_parts(shapely.buffer(whole, -width / 2))
    return sum(part.area > 0.05 for part in parts)


def test_hairlines_are_mended_in_one_step_and_the_file_holds(checking, tmp_path):
    bench = checking()
    page = bench.page
    expect(page.get_by_test_id("verdict")).to_contain_text("to repair")
    expect(page.get_by_role("list", name="What would be done")).to_contain_text("thin strokes made heavier")
    # What would be done is on the work before it is taken.
    expect(page.locator("[data-preview]")).to_be_attached()
    assert cores(bench.download(tmp_path, anyway=True), 0.57) > 5
    before = bench.outline()
    button(bench, "Make it ready").click()
    bench.outline_differs_from(before)
    expect(page.get_by_test_id("verdict")).to_contain_text("Clear to cut")
    mended = bench.outline()
    with page.expect_download() as caught:  # the gate is open
        button(bench, "Save as SVG").click()
    path = tmp_path / caught.value.suggested_filename
    caught.value.save_as(path)
    assert cores(path, 0.57) == 2  # the word, and the dot of its i

    # It is done anew for other words, and taken back.
    page.keyboard.down("b")
    expect(page.locator("[data-before]")).to_have_text("Without what makes it ready")
    page.keyboard.up("b")
    expect(page.locator("[data-before]")).to_have_count(0)
    bench.stage("Letter")
    bench.words.fill("Dorothea")
    bench.outline_differs_from(mended)
    bench.stage("Check")
    expect(page.get_by_test_id("verdict")).to_contain_text("Clear to cut")
    expect(page.locator("[data-mended=stroke]")).to_be_visible()
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    bench.outline_is(before)
    expect(button(bench, "Make it ready")).to_be_visible()


def test_a_kind_and_a_place_are_left_as_they_are_and_mended_again(checking):
    bench = checking()
    page = bench.page
    button(bench, "Make it ready").click()
    strokes = page.locator("[data-mended=stroke]")
    expect(page.get_by_test_id("verdict")).to_contain_text("Clear to cut")
    all_mended = bench.outline()
    strokes.locator("label").click()
    expect(strokes).to_contain_text("Thin strokes left as they are")
    bench.outline_differs_from(all_mended)
    expect(page.get_by_test_id("verdict")).to_contain_text("to repair")
    strokes.locator("label").click()
    bench.outline_is(all_mended)

    strokes.get_by_role("button", name="Where").click()
    places = page.get_by_role("list", name="Thin strokes, place by place").get_by_role("listitem")
    expect(places.first).to_contain_text("Thin stroke in R")
    count = places.count()
    places.first.get_by_role("button", name="Leave it").click()
    expect(places).to_have_count(count - 1)
    left = page.get_by_role("list", name="Left as they are")
    expect(left).to_contain_text("Thin strokes: one place left as it is")
    bench.saved()
    page.reload()
    bench.stage("Check")
    left.get_by_role("button", name="Mend it").click()
    bench.outline_is(all_mended)
    expect(left).to_have_count(0)


def test_alike_findings_are_one_row_repaired_or_accepted_all_at_once(checking):
    bench = checking()
    page = bench.page
    row = page.locator("[data-alike=hairline]")
    expect(row).to_contain_text("strokes are thin")
    many = int(row.inner_text().split()[0])
    row.get_by_role("button").first.click()
    expect(row.locator("[data-finding]")).to_have_count(many)
    button(bench, "I know, all").click()
    expect(row).to_contain_text("You know of it.")
    row.get_by_role("button").first.click()
    button(bench, "Check them again").click()
    expect(row).not_to_contain_text("You know of it.")
    row.get_by_role("button").first.click()
    before = bench.outline()
    button(bench, "Repair all").click()
    bench.outline_differs_from(before)
    expect(page.get_by_role("list", name="Touch-ups done")).to_be_visible()
    page.keyboard.press("Control+z")
    bench.outline_is(before)


class TestTheGate:
    def test_what_is_not_ready_is_made_so_there_and_saved(self, checking):
        bench = checking()
        gate = bench.page.get_by_role("dialog")
        button(bench, "Save as SVG").click()
        expect(gate).to_contain_text("too weak or too small for adhesive film")
        gate.get_by_role("button", name="Make it ready").click()
        expect(gate).to_contain_text("All is seen to.")
        with bench.page.expect_download():
            gate.get_by_role("button", name="Save as SVG").click()
        expect(gate).to_have_count(0)

    def test_a_word_in_pieces_is_joined_or_known(self, checking, tmp_path):
        bench = checking("Heron", face={"family": "anton"}, join={"how": "set"})
        page = bench.page
        bench.shown(5)
        button(bench, "Save as SVG").click()
        gate = page.get_by_role("dialog")
        expect(gate).to_contain_text("“Heron” comes off in 5 pieces.")
        gate.get_by_role("button", name="Join it").click()
        bench.shown(1)
        expect(gate).to_contain_text("Ready")
        gate.get_by_role("button", name="Not yet").click()
        page.keyboard.press("Control+z")
        bench.shown(5)
        button(bench, "Save as SVG").click()
        gate.get_by_role("button", name="I know").click()
        with page.expect_download():
            gate.get_by_role("button", name="Save as SVG").click()
        # It is asked once.
        bench.saved().download(tmp_path)

    def test_nothing_is_saved_by_not_yet_and_nothing_is_lost(self, checking):
        bench = checking()
        before = bench.outline()
        saved = []
        bench.page.on("download", lambda download: saved.append(download.suggested_filename))
        button(bench, "Save as SVG").click()
        gate = bench.page.get_by_role("dialog")
        gate.get_by_role("button", name="Not yet").click()
        expect(gate).to_have_count(0)
        bench.outline_is(before)
        assert saved == []
