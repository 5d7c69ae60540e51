"""Nothing typed is lost: not by an absent server, a reload, or a second window. And the shelf."""

import re
import urllib.error
import urllib.request

import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench, hindrances
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
        page.get_by_role("button", name="New lettering", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("The server is away")
        own_server.start()
        page.get_by_role("button", name="New lettering", exact=True).click()
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


@pytest.mark.parametrize("where", ["shelf", "bench", "faces", "joining", "shape", "check", "cut", "ticket"])
def test_everything_is_named_and_contrasts_enough(page, server, where):
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
            bench.choose_letter("H")
            page.get_by_role("button", name="Change its shape").click()
            page.locator("[data-node]").first.click()
            expect(page.get_by_role("heading", name="1 point")).to_be_visible()
        if where in ("cut", "ticket"):
            Bench(page).stage("Cut")
            page.locator("[data-copy]").first.click()
            page.locator("[data-film-card]").get_by_role("button").first.click()
            for more in ("At the cutter", "Its profile", "Other designs on these sheets"):
                page.get_by_role("button", name=more).click()
        if where == "ticket":
            page.get_by_role("link", name="Ticket").click()
            expect(page.get_by_test_id("ticket")).to_be_visible()
        if where == "check":
            page.get_by_role("textbox", name="Words").fill("Hi")
            Bench(page).stage("Check")
            page.locator("[data-finding]").first.get_by_role("button").click()
            page.get_by_role("button", name="Round corner").click()
            expect(page.locator("[data-outline-point]").first).to_be_visible()
        if where == "faces":
            page.get_by_role("button", name="Face: Pacifico").click()
            expect(page.get_by_role("option").first).to_be_visible()
    assert hindrances(page) == []


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


GO_TO = "to => { history.pushState({}, '', to); dispatchEvent(new PopStateEvent('popstate')) }"
"""Another address within the page, as a link of it goes there."""

FILL = """() => {
  let piece = 'x'.repeat(2 ** 20)
  for (let n = 0; piece.length > 0; n++) {
    try { localStorage.setItem(`full-${n}`, piece) } catch { piece = piece.slice(piece.length / 2 + 1) }
  }
}"""
"""Fills the browser's store to the last sign."""


class Saves:
    """What a page saves, held up or answered otherwise by the test, at the browser's border."""

    def __init__(self, page, hold=False):
        self.hold, self.held, self.answer = hold, [], None
        page.route("**/api/designs/*", self._take)

    def _take(self, route):
        if route.request.method != "PUT":
            route.continue_()
        elif self.answer is not None:
            route.fulfill(status=self.answer[0], json=self.answer[1])
        elif self.hold:
            self.held.append(route)
        else:
            route.continue_()

    def arrives(self, page):
        """Waits until a save is on its way."""
        while not self.held:
            page.wait_for_timeout(20)

    def go(self):
        self.hold = False
        for route in self.held:
            route.continue_()
        self.held = []


def kept(server, address):
    """The words of a design on the server."""
    return server.call("GET", address.replace("/design/", "/designs/"))["recipe"]["parts"][0]["text"]


def is_kept(page, server, address, text):
    """Waits until the server has these words."""
    for _ in range(400):
        if kept(server, address) == text:
            return
        page.wait_for_timeout(25)
    assert kept(server, address) == text


def edited_twice(page, bench):
    """Two edits, the save of the first unanswered until the test lets it go."""
    saves = Saves(page, hold=True)
    bench.words.fill("one")
    saves.arrives(page)
    bench.words.fill("two")
    return saves


class TestLeavingWhileASaveIsUnanswered:
    """Each edit is there at the end, whatever the order of edit, save, leave and return."""

    @pytest.mark.parametrize("way", ["the brand", "back", "another design"])
    def test_a_second_edit_is_saved_too(self, page, server, way):
        first, other = server.design("heron"), server.design("grebe")
        page.goto(server.url)
        bench = Bench(page).open(first)
        saves = edited_twice(page, bench)
        if way == "the brand":
            page.get_by_role("link", name="Fulgen: to the shelf").click()
        elif way == "back":
            page.go_back()
        else:
            page.evaluate(GO_TO, other)
            expect(bench.words).to_have_value("grebe")
        saves.go()
        is_kept(page, server, first, "two")
        assert kept(server, other) == "grebe"

    def test_coming_back_before_it_is_saved_finds_it(self, page, server):
        address = server.design("heron")
        bench = Bench(page).open(address)
        saves = edited_twice(page, bench)
        page.get_by_role("link", name="Fulgen: to the shelf").click()
        expect(page.get_by_role("heading", name="The shelf")).to_be_visible()
        page.go_back()
        expect(bench.words).to_have_value("two")
        bench.words.fill("three")
        saves.go()
        bench.saved()
        is_kept(page, server, address, "three")

    def test_a_reload_during_a_save_is_no_conflict(self, page, server):
        address = server.design("heron")
        bench = Bench(page).open(address)
        saves = Saves(page, hold=True)
        bench.words.fill("one")
        saves.arrives(page)
        # The save arrives, and its answer never does.
        body = saves.held[0].request.post_data_json
        server.call("PUT", address.replace("/design/", "/designs/"), body)
        bench.words.fill("two")
        page.unroute_all(behavior="ignoreErrors")
        page.reload()
        expect(bench.words).to_have_value("two")
        bench.saved()
        is_kept(page, server, address, "two")

    def test_a_conflict_of_the_design_that_was_left_is_not_told_of_the_next(self, page, server):
        first, other = server.design("heron"), server.design("grebe")
        page.goto(server.url + first)
        bench = Bench(page)
        saves = Saves(page, hold=True)
        bench.words.fill("mine")
        saves.arrives(page)
        theirs = server.call("GET", first.replace("/design/", "/designs/"))
        theirs["recipe"]["parts"][0]["text"] = "theirs"
        body = {"name": "Test", "recipe": theirs["recipe"], "based_on": theirs["revision"]}
        server.call("PUT", first.replace("/design/", "/designs/"), body)
        page.evaluate(GO_TO, other)
        expect(bench.words).to_have_value("grebe")
        saves.go()
        bench.words.fill("grebe II")
        bench.saved()
        expect(bench.problem).to_have_count(0)
        is_kept(page, server, other, "grebe II")
        # Back there, the work and the question are as they were left.
        bench.open(first)
        expect(bench.words).to_have_value("mine")
        expect(bench.save_note).to_have_attribute("data-save", "conflict")
        assert kept(server, first) == "theirs"


class TestTwoWindowsOfOneBrowser:
    def test_neither_touches_the_others_draft(self, context, own_server):
        address = own_server.url + own_server.design("heron")
        one, other = Bench(context.new_page()).open(address), Bench(context.new_page()).open(address)
        one.shown(1)
        other.shown(1)
        own_server.stop()
        for bench, words in ((one, "ours"), (other, "theirs")):
            bench.words.fill(words)
            expect(bench.save_note).to_have_attribute("data-save", "away")
        one.page.close()
        other.page.close()
        own_server.start()
        again = Bench(context.new_page()).open(address)
        again.saved()
        # One goes on, the other is a design of its own, and the maker is told.
        expect(again.words).to_have_value("theirs")
        expect(again.page.get_by_text("It is on the shelf as “Test (another window)”")).to_be_visible()
        again.page.get_by_role("link", name="Open it").click()
        expect(again.words).to_have_value("ours")

    def test_undoing_in_one_leaves_the_other_its_draft(self, context, own_server):
        address = own_server.url + own_server.design("heron")
        one, other = Bench(context.new_page()).open(address), Bench(context.new_page()).open(address)
        one.shown(1)
        own_server.stop()
        other.words.fill("theirs")
        expect(other.save_note).to_have_attribute("data-save", "away")
        one.words.fill("ours")
        one.page.get_by_role("button", name="Undo", exact=True).click()
        expect(one.words).to_have_value("heron")
        other.page.close()
        one.page.close()
        own_server.start()
        again = Bench(context.new_page()).open(address)
        expect(again.words).to_have_value(re.compile("theirs|heron"))
        texts = {again.words.input_value()}
        again.saved()
        again.page.goto(own_server.url)
        again.page.get_by_role("listitem").first.wait_for()
        for card in own_server.call("GET", "/designs"):
            if card["name"].startswith("Test"):
                texts.add(kept(own_server, f"/design/{card['id']}"))
        assert "theirs" in texts

    def test_the_losers_draft_outlives_the_winners_next_saves(self, context, server):
        address = server.design("heron")
        one, other = Bench(context.new_page()).open(address), Bench(context.new_page()).open(address)
        one.words.fill("first")
        one.saved()
        other.words.fill("second")
        expect(other.save_note).to_have_attribute("data-save", "conflict")
        one.words.fill("first again")
        one.saved()
        other.page.reload()
        expect(other.words).to_have_value("second")
        expect(other.save_note).to_have_attribute("data-save", "conflict")


class TestAServerInTrouble:
    def test_a_500_is_told_and_tried_again(self, page, server):
        address = server.design("heron")
        bench = Bench(page).open(address)
        saves = Saves(page)
        saves.answer = (500, {"kind": "server", "what": "Something went wrong.", "todo": "", "faces": []})
        bench.words.fill("one")
        expect(bench.save_note).to_have_attribute("data-save", "failed")
        expect(bench.save_note).to_contain_text("It is tried again. It is kept in this browser.")
        saves.answer = None
        bench.saved()
        is_kept(page, server, address, "one")

    def test_a_full_browser_store_is_told_as_that(self, page, server):
        address = server.design("heron")
        bench = Bench(page).open(address)
        page.evaluate(FILL)
        bench.words.fill("one")
        bench.saved()
        is_kept(page, server, address, "one")
        saves = Saves(page)
        saves.answer = (500, {})
        bench.words.fill("two")
        expect(bench.save_note).to_have_attribute("data-save", "failed")
        expect(bench.save_note).to_contain_text("no room to keep it: leave this window open")
        saves.answer = None
        bench.saved()
        is_kept(page, server, address, "two")


class TestLongWork:
    def test_it_is_said_and_can_be_stopped_and_what_was_there_stays(self, page, server):
        bench = Bench(page).open(server.design("heron"))
        before = bench.outline()
        page.route("**/api/evaluate", lambda route: None)
        bench.words.fill("heron heron")
        expect(page.get_by_text("Working it out…")).to_be_visible()
        page.get_by_role("button", name="Stop", exact=True).click()
        expect(page.get_by_text("Working it out…")).to_have_count(0)
        expect(bench.problem).to_contain_text("Working it out was stopped")
        assert bench.outline() == before
        page.unroute("**/api/evaluate")
        bench.words.fill("grebe")
        bench.outline_differs_from(before)
        expect(bench.problem).to_have_count(0)

    def test_a_change_does_not_wait_for_the_one_before(self, page, server):
        bench = Bench(page).open(server.design("heron"))
        before = bench.outline()
        asked = []

        def first_never_answered(route):
            asked.append(route)
            if len(asked) > 1:
                route.continue_()

        page.route("**/api/evaluate", first_never_answered)
        bench.words.fill("heron heron")
        page.wait_for_timeout(600)
        bench.words.fill("grebe")
        bench.outline_differs_from(before)
