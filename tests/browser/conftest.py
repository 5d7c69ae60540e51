"""A real server on loopback with a shop of its own, and Debian's Chromium."""

import shutil

import pytest
from playwright.sync_api import expect, sync_playwright

from tests.served import Server

expect.set_options(timeout=15_000)


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    server = Server(tmp_path_factory.mktemp("shop"))
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
    context = chromium.new_context(
        viewport={"width": 1280, "height": 800}, base_url=server.url, accept_downloads=True
    )
    yield context
    context.close()


@pytest.fixture
def page(context):
    page = context.new_page()
    broken = []
    page.on("pageerror", lambda error: broken.append(str(error)))
    yield page
    assert broken == []
