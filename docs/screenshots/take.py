"""Takes the pictures of this folder anew, from the demo shop: ./fulgen screenshots."""

import shutil
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

HERE = Path(__file__).parent
ROOT = HERE.parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "core")]

from tests.browser.bench import Bench  # noqa: E402
from tests.served import Server  # noqa: E402

HELP_PUT_AWAY = """localStorage.setItem('fulgen-help', JSON.stringify(
  { state: { stages: ['join', 'build', 'check', 'cut'] }, version: 0 }))"""
"""A maker who has been here before; the first picture shows the help of its stage."""


def take(page: Page, name: str) -> None:
    page.mouse.move(640, 780)
    page.wait_for_timeout(500)
    page.screenshot(path=HERE / f"{name}.png")
    print(f"docs/screenshots/{name}.png")


def open_design(page: Page, name: str) -> Bench:
    page.goto("/")
    page.get_by_role("link", name=f"Open {name}").click()
    bench = Bench(page)
    bench.pieces.first.wait_for()
    bench.saved()
    return bench


def pictures(page: Page) -> None:
    page.goto("/")
    page.get_by_role("listitem").first.wait_for()
    take(page, "shelf")
    page.goto("/orders")
    page.get_by_role("link", name="Open Regatta crew, locker rings").click()
    page.locator("[data-working=false]").wait_for(timeout=60_000)
    page.get_by_role("button", name="Row 12, Gwendolyn").click()
    take(page, "order-names")
    page.get_by_role("radio", name="Sheets", exact=True).check(force=True)
    page.get_by_role("combobox", name="Numbers beside").select_option("draw")
    page.locator("[data-stale=false] [data-numbers]").first.wait_for()
    take(page, "order-sheets")
    open_design(page, "Willowmere, transom")
    take(page, "workbench-film")
    bench = open_design(page, "Little Egret, dinghy")
    bench.choose("Film")
    bench.stage("Join")
    ways = page.get_by_role("group", name="Ways to join, by picture")
    expect(ways.locator("svg")).to_have_count(6)
    take(page, "join-gaps")
    page.get_by_role("button", name="Join all letters").click()
    page.get_by_test_id("before-after").wait_for()
    take(page, "join-joined")
    page.get_by_text("Show the white between letters").click()
    bench.seams.nth(2).click()
    take(page, "join-seam")
    page.get_by_text("Show the white between letters").click()
    bench.letter("L").click(force=True)
    page.get_by_role("button", name="Change its shape").click()
    page.locator("[data-node]").nth(2).click()
    take(page, "letter-shape")
    page.get_by_role("button", name="Done", exact=True).click()
    bench = open_design(page, "Jib & Tiller, ticket")
    bench.stage("Check")
    page.locator("[data-alike=hairline]").wait_for()
    page.locator("[data-preview]").wait_for(state="attached")
    take(page, "check-findings")
    page.get_by_role("button", name="Make it ready").click()
    strokes = page.locator("[data-mended=stroke]")
    strokes.get_by_role("button", name="Where").click()
    strokes.get_by_role("listitem").nth(2).get_by_role("button").first.click()
    page.locator("[data-preview]").wait_for(state="attached")
    take(page, "check-remedy")
    bench = open_design(page, "Launch day, disc")
    bench.stage("Build")
    take(page, "build-cut-out")
    parts = page.get_by_role("list", name="Parts")
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("button", name="wheel", exact=True).wait_for()
    take(page, "build-shapes")
    page.keyboard.press("Escape")
    bench = open_design(page, "Sextant box, lid")
    bench.stage("Build")
    parts.get_by_role("button", name="Marlowe", exact=True).click()
    page.get_by_text("A beam fills it").wait_for()
    take(page, "build-uses")
    bench = open_design(page, "Marlowe, initial")
    bench.stage("Build")
    parts.get_by_role("button", name="Split initial", exact=True).click()
    page.locator("[data-air]").first.wait_for()
    take(page, "frame-initial")
    bench = open_design(page, "Otterbrook, life-ring")
    bench.stage("Build")
    parts.get_by_role("button", name="Word ring", exact=True).click()
    take(page, "frame-life-ring")
    bench = open_design(page, "Heron, kit in two films")
    bench.choose("Film")
    bench.stage("Cut")
    page.get_by_text("Deep blue, sheet 1 of 1").wait_for()
    page.locator("[data-film-card]").nth(1).get_by_role("button").first.click()
    page.locator("[data-film-card]").nth(1).get_by_role("button").first.click()
    take(page, "cut-sheets")
    page.get_by_role("button", name="Cut deep blue").click()
    page.locator("[data-job=cutting]").wait_for()
    page.wait_for_timeout(14_000)
    take(page, "cut-at-work")
    page.get_by_role("button", name="Stop", exact=True).click()
    bench = open_design(page, "Willowmere, transom")
    bench.stage("Build")
    page.get_by_role("button", name="Frame", exact=True).click()
    page.locator("[data-waiting]").last.wait_for(state="detached", timeout=60_000)
    take(page, "frames")
    page.keyboard.press("Escape")
    bench = open_design(page, "Cabin sign")
    bench.choose("Film")
    page.get_by_role("button", name="Face: Grand Hotel").click()
    page.locator("[data-face] > svg > path").nth(3).wait_for()
    page.wait_for_timeout(800)
    take(page, "faces")


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as folder:
        server = Server(folder)
        server.start()
        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu"]
                )
                size = {"width": 1280, "height": 800}
                page = browser.new_page(viewport=size, base_url=server.url)
                page.add_init_script(HELP_PUT_AWAY)
                pictures(page)
                browser.close()
        finally:
            server.stop()
