"""A real server on loopback with a shop of its own, and Debian's Chromium."""

import json
import shutil
import urllib.request

import pytest
from playwright.sync_api import expect, sync_playwright

from tests.browser.bench import ASKED
from tests.browser.building import Building, word
from tests.browser.cutting import Cutting
from tests.served import Server

# Nothing waits so long but on a machine that is busy with something else.
expect.set_options(timeout=90_000)


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    fonts = tmp_path_factory.mktemp("fonts")
    server = Server(tmp_path_factory.mktemp("shop"), FULGEN_CUTTER_PACE="6", FULGEN_FONT_FOLDERS=str(fonts))
    server.fonts = fonts
    server.start()
    yield server
    server.stop()


@pytest.fixture(scope="session")
def chromium():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=shutil.which("chromium"),
            args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        yield browser
        browser.close()


@pytest.fixture
def context(chromium, server):
    before = server.on_the_shelf()
    context = chromium.new_context(
        viewport={"width": 1280, "height": 800},
        base_url=server.url,
        accept_downloads=True,
        reduced_motion="reduce",
    )
    context.add_init_script(ASKED)
    yield context
    context.close()
    # The shelf is shared by all tests of a process: each leaves it as it was.
    for design in server.on_the_shelf() - before:
        server.call("DELETE", f"/designs/{design}")


@pytest.fixture
def page(context):
    page = context.new_page()
    broken = []
    page.on("pageerror", lambda error: broken.append(str(error)))
    yield page
    assert broken == []


@pytest.fixture
def building(page, server):
    """Opens a design of some parts in the Build stage."""

    def opened(*parts, text="Heron", **lettering):
        recipe = {"format": "fulgen-recipe", "version": 5, "parts": list(parts) or [word(text, **lettering)]}
        body = json.dumps({"name": "Test", "recipe": recipe}).encode()
        headers = {"Content-Type": "application/json"}
        request = urllib.request.Request(f"{server.url}/api/designs", body, headers)
        with urllib.request.urlopen(request) as answer:
            design = json.load(answer)["id"]
        bench = Building(page)
        page.goto(f"/design/{design}")
        page.get_by_role("navigation", name="Stages").get_by_role("button", name="Build").click()
        expect(bench.pieces.first).to_be_attached()
        return bench

    return opened


@pytest.fixture
def cutting(page, server):
    """Opens a design of some parts in the Cut stage."""

    def opened(*parts, **more):
        recipe = {"format": "fulgen-recipe", "version": 8, "parts": list(parts), **more}
        design = server.call("POST", "/designs", {"name": "Kit bag", "recipe": recipe})["id"]
        server.make_cutter_ready()
        page.goto(f"/design/{design}")
        bench = Cutting(page)
        bench.stage("Cut")
        expect(bench.copies.first).to_be_visible()
        return bench

    return opened
