"""Nothing typed is lost: not by an absent server, a reload, or a second window. And the shelf."""

import urllib.error
import urllib.request

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.served import Server


@pytest.fixture(scope="module")
def spare_server(tmp_path_factory):
    server = Server(tmp_path_factory.mktemp("away"))
    yield server
    server.stop()


@pytest.fixture
def own_server(spare_server):
    """A server that may be stopped; the next test finds it started."""
    if spare_server.process is None:
        spare_server.start()
    return spare_server


class TestTheServerIsAway:
    def test_typing_goes_on_and_is_saved_when_it_is_back(self, page, own_server):
        address = own_server.url + own_server.design("heron")
        bench = Bench(page).open(address)
        bench.shown(1)
        own_server.stop()
        bench.words.fill("Teal Heron")
        expect(bench.save_note).to_have_attribute("data-save", "away")
        expect(bench.save_note).to_contain_text("saved when the server is back")
        expect(bench.problem).to_contain_text("The server is away")
        bench.words.press("End")
        page.keyboard.type(" II")
        expect(bench.words).to_have_value("Teal Heron II")
        own_server.start()
        bench.saved()
        expect(bench.problem).to_have_count(0)
        expect(bench.figure("pieces")).not_to_contain_text("1 piece")
        kept = own_server.call("GET", address.replace(own_server.url, "").replace("/design/", "/designs/"))
        assert kept["recipe"]["parts"][0]["text"] == "Teal Heron II"

    def test_what_was_typed_survives_a_closed_window(self, context, own_server):
        address = own_server.url + own_server.design("heron")
        first = context.new_page()
        bench = Bench(first).open(address)
        bench.shown(1)
        own_server.stop()
        bench.words.fill("Grey Heron")
        expect(bench.save_note).to_have_attribute("data-save", "away")
        first.close()
        own_server.start()
        again = Bench(context.new_page()).open(address)
        expect(again.words).to_have_value("Grey Heron")
        again.saved()

    def test_the_shelf_says_so_and_fills_when_it_is_back(self, page, own_server):
        page.goto(own_server.url)
        expect(page.get_by_role("listitem", name="Cabin sign")).to_be_visible()
        own_server.stop()
        page.get_by_role("button", name="New lettering").click()
        expect(page.get_by_role("alert")).to_contain_text("The server is away")
        own_server.start()
        page.get_by_role("button", name="New lettering").click()
        expect(page.get_by_role("textbox", name="Words")).to_be_visible()


class TestTwoWindows:
    def test_the_second_to_save_is_told_and_keeps_its_work_as_a_copy(self, context, server):
        address = server.design("heron")
        one, other = Bench(context.new_page()).open(address), Bench(context.new_page()).open(address)
        one.shown(1)
        other.shown(1)
        one.words.fill("Teal Heron")
        one.saved()
        other.words.fill("Grey Heron")
        expect(other.save_note).to_have_attribute("data-save", "conflict")
        expect(other.problem).to_contain_text("changed in another window")
        other.page.get_by_role("button", name="Keep mine as a copy").click()
        expect(other.page.get_by_role("textbox", name="Name of the design")).to_have_value("Test (mine)")
        expect(other.words).to_have_value("Grey Heron")
        other.saved()
        one.page.reload()
        expect(one.words).to_have_value("Teal Heron")

    def test_or_takes_the_other_version(self, context, server):
        address = server.design("heron")
        one, other = Bench(context.new_page()).open(address), Bench(context.new_page()).open(address)
        one.words.fill("Teal Heron")
        one.saved()
        other.words.fill("Grey Heron")
        other.page.get_by_role("button", name="Take the other version").click()
        expect(other.words).to_have_value("Teal Heron")
        expect(other.problem).to_have_count(0)
        other.words.fill("Teal Heron II")
        other.saved()


class TestTheShelf:
    def test_rename_copy_delete_and_put_back(self, page, server):
        server.design("Merganser", name="Merganser, stern")
        page.goto("/")
        card = page.get_by_role("listitem", name="Merganser, stern", exact=True)
        expect(card).to_contain_text("mm,")
        page.get_by_role("button", name="Rename Merganser, stern").click()
        field = page.get_by_role("textbox", name="New name")
        field.fill("Goosander, stern")
        field.press("Enter")
        expect(page.get_by_role("listitem", name="Goosander, stern", exact=True)).to_be_visible()
        page.get_by_role("button", name="Copy Goosander, stern").click()
        copied = page.get_by_role("listitem", name="Goosander, stern copy")
        expect(copied).to_be_visible()
        page.get_by_role("button", name="Delete Goosander, stern copy").click()
        expect(copied).to_have_count(0)
        page.get_by_role("button", name="Put it back").click()
        expect(copied).to_be_visible()
        page.get_by_role("link", name="Open Goosander, stern copy").click()
        expect(page.get_by_role("textbox", name="Words")).to_have_value("Merganser")

    def test_the_demo_shop_is_there(self, page):
        page.goto("/")
        for name in ("Willowmere, transom", "Tern & Thistle, bow", "Cabin sign", "Zoë Łucja, locker tag"):
            expect(page.get_by_role("listitem", name=name)).to_be_visible()


@pytest.mark.parametrize("where", ["shelf", "bench", "faces", "joining", "shape", "check"])
def test_everything_is_named_and_contrasts_enough(page, server, where):
    # axe-core's checks of WCAG 2.2 A and AA (axe-core is Deque's, from PyPI).
    if where == "shelf":
        page.goto("/")
        expect(page.get_by_role("listitem").first).to_be_visible()
    else:
        Bench(page).open(server.design("Heron\nBay")).saved()
        page.get_by_role("button", name="What this face can do").click()
        if where == "joining":
            bench = Bench(page)
            bench.stage("Join")
            bench.seams.first.click()
            expect(page.get_by_role("heading", name="Seam H · e")).to_be_visible()
        if where == "shape":
            bench = Bench(page)
            bench.stage("Join")
            bench.letter("H").click(force=True)
            page.get_by_role("button", name="Change its shape").click()
            page.locator("[data-node]").first.click()
            expect(page.get_by_role("heading", name="1 point")).to_be_visible()
        if where == "check":
            page.get_by_role("textbox", name="Words").fill("Hi")
            Bench(page).stage("Check")
            page.locator("[data-finding]").first.get_by_role("button").click()
            page.get_by_role("button", name="Round corner").click()
            expect(page.locator("[data-outline-point]").first).to_be_visible()
        if where == "faces":
            page.get_by_role("button", name="Face: Pacifico").click()
            expect(page.get_by_role("option").first).to_be_visible()
    tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
    results = Axe().run(page, options={"runOnly": {"type": "tag", "values": tags}})
    found = [(v["id"], [n["html"][:120] for n in v["nodes"]]) for v in results.response["violations"]]
    assert found == []


def test_a_50_mb_body_is_refused_and_the_server_lives(server):
    body = bytes(50 * 2**20)
    request = urllib.request.Request(f"{server.url}/api/evaluate", body, {"Content-Type": "application/json"})
    # Either the refusal arrives, or the server hangs up while we are still sending.
    with pytest.raises(OSError) as caught:  # noqa: PT011 (HTTPError is one too)
        urllib.request.urlopen(request, timeout=30)
    if isinstance(caught.value, urllib.error.HTTPError):
        assert caught.value.code == 413
        caught.value.close()
    assert server.call("GET", "/designs")
