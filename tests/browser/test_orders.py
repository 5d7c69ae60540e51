"""Orders as a maker handles them: names pasted, looked at, laid, cut and picked; files opened; versions."""

import csv
import io
import json
import re
import zipfile

import pytest
import svgelements
from playwright.sync_api import expect

from tests.browser.bench import hindrances, tick
from tests.browser.test_actions import Hands

CREW = (
    "Piers", "Maud", "Ansel", "Tabitha", "Rosalind", "Corwen", "Elowen", "Jago", "Merryn", "Lamorna",
    "Gwendolyn", "Bartholomew", "Zoë", "Morwenna", "Penrose", "Tamsin", "Wella", "Denzil", "Petroc",
    "Lowenna",
)  # fmt: skip
STRIP = {
    "format": "fulgen-recipe",
    "version": 12,
    "parts": [
        {"kind": "lettering", "id": "name", "text": "Heron", "face": {"family": "pacifico"},
         "join": {"how": "auto"}},
    ],
}  # fmt: skip


class OrderBench:
    """An order on the screen."""

    def __init__(self, page):
        self.page = page
        self.names = page.get_by_role("textbox", name="Names, one on each line")
        self.cards = page.get_by_role("list", name="Rows").get_by_role("listitem")
        self.stands = page.get_by_role("region", name="How the rows stand")
        self.sheets = page.get_by_role("list", name="Sheets to cut").get_by_role("listitem")

    def view(self, name):
        views = self.page.get_by_role("radiogroup", name="What is looked at")
        tick(views.get_by_role("radio", name=name, exact=True))

    def add(self, *names):
        self.names.fill("\n".join(names))
        self.page.get_by_role("button", name=re.compile("^Add ")).first.click()
        self.worked()

    def worked(self):
        expect(self.names).to_have_value("")
        expect(self.stands).to_have_attribute("data-working", "false", timeout=60_000)
        return self

    def card(self, number):
        return self.page.locator(f"[data-row='{number}']")

    def open(self, number):
        self.card(number).get_by_role("button").click()

    def laid(self):
        expect(self.sheets.first).to_be_visible(timeout=30_000)
        return self


@pytest.fixture
def order(page, server):
    """Opens an order of a strip with some names."""
    made = []

    def opened(*names, recipe=STRIP):
        design = server.call("POST", "/designs", {"name": "Locker strip", "recipe": recipe})["id"]
        made.append(server.call("POST", "/orders", {"design": design})["id"])
        page.goto(f"/order/{made[-1]}")
        bench = OrderBench(page)
        if names:
            bench.add(*names)
        return bench

    yield opened
    for one in made:
        server.call("DELETE", f"/orders/{one}")


@pytest.fixture
def leaves_no_order(server):
    """Orders made by hand are taken away again."""
    before = {one["id"] for one in server.call("GET", "/orders")}
    yield
    for one in server.call("GET", "/orders"):
        if one["id"] not in before:
            server.call("DELETE", f"/orders/{one['id']}")


def test_twenty_names_on_a_ring_from_an_empty_shelf(page, tmp_path, leaves_no_order):
    """At most twelve actions; each file is read by svgelements, the list by Python's csv."""
    hands = Hands(page, tmp_path)
    hands.new("New name in a frame")
    hands.click(page.get_by_role("button", name="name ring"))
    expect(hands.bench.words).to_be_focused()
    hands.type("Piers")
    expect(hands.bench.pieces.first).to_be_attached()
    hands.click("Make an order of it")
    bench = OrderBench(page)
    hands.count += 1
    bench.names.fill("\n".join(CREW))
    hands.click("Add 20 names")
    bench.worked()
    gave_way = bench.stands.get_by_role("button", name=re.compile("gave way"))
    expect(gave_way).to_be_visible()
    hands.click(gave_way)
    for _ in range(2):
        hands.click(page.get_by_role("button", name=re.compile("^It is good")))
    hands.click(bench.stands.get_by_role("button", name="Lay 20 copies on sheets"))
    bench.laid()
    with page.expect_download(timeout=120_000) as caught:
        hands.click("All as ZIP")
    path = tmp_path / caught.value.suggested_filename
    caught.value.save_as(path)
    assert hands.count <= 12, hands.count
    with zipfile.ZipFile(path) as packed:
        drawings = [name for name in packed.namelist() if name.endswith(".svg")]
        pieces = sum(
            isinstance(one, svgelements.Path) and len(one) > 0
            for name in drawings
            for one in svgelements.SVG.parse(io.BytesIO(packed.read(name))).elements()
        )
        (listed,) = [name for name in packed.namelist() if name.endswith("pick-list.csv")]
        picks = list(csv.DictReader(io.StringIO(packed.read(listed).decode("utf-8-sig"))))
    assert pieces == 20
    assert [row["words"] for row in picks] == list(CREW)


def test_a_list_of_several_columns_is_shown_before_it_is_taken(order, page, tmp_path):
    bench = order()
    path = tmp_path / "crew.csv"
    path.write_text("First name;Colour;Berth;Qty\nMaud;Red;port;2\nJago;;starboard;\n", "utf-8")
    page.get_by_label("A list as a file").set_input_files(path)
    columns = page.get_by_role("group", name="What the columns say")
    expect(columns.get_by_role("combobox", name="What Colour says")).to_have_value("film:")
    expect(columns.get_by_role("combobox", name="What Berth says")).to_have_value("")
    expect(columns).to_contain_text("port, starboard")
    expect(bench.cards).to_have_count(0)
    columns.get_by_role("button", name="Take 2 rows").click()
    bench.worked()
    expect(bench.cards).to_have_count(2)
    expect(bench.card(1)).to_contain_text("×2")
    bench.open(1)
    expect(page.get_by_role("textbox", name="Film")).to_have_value("Red")


def test_a_list_that_is_none_is_said_and_what_was_typed_stays(order, page, tmp_path):
    bench = order("Maud")
    bench.names.fill("Jago")
    path = tmp_path / "crew.xlsx"
    path.write_bytes(b"PK\3\4 no archive")
    page.get_by_label("A list as a file").set_input_files(path)
    alert = page.get_by_role("complementary", name="Names").get_by_role("alert")
    expect(alert).to_contain_text("crew.xlsx cannot be read as a spreadsheet.")
    expect(alert).to_contain_text("Save it again as XLSX or CSV.")
    expect(bench.names).to_have_value("Jago")
    expect(bench.cards).to_have_count(1)


def test_a_row_is_corrected_taken_out_and_put_back(order, page):
    bench = order("Maud", "Jago", "東京")
    expect(bench.card(3)).to_have_attribute("data-state", "cannot-be-made")
    bench.open(3)
    expect(page.get_by_role("alert")).to_contain_text("No face here has all of these letters")
    words = page.get_by_role("textbox", name="Words “Heron”")
    words.fill("Tern")
    words.press("Enter")
    expect(bench.card(3)).to_have_attribute("data-state", "as-designed")
    page.get_by_role("button", name="Take it out").click()
    expect(bench.cards).to_have_count(2)
    page.get_by_role("button", name="Put it back").click()
    expect(bench.cards).to_have_count(3)
    expect(bench.card(3)).to_contain_text("Tern")


def test_what_may_give_way_is_asked_once(order, page):
    bench = order("Maud", "Bartholomew")
    page.get_by_text("Each in a room of its own").click()
    width = page.get_by_role("textbox", name="Width at most")
    width.fill("100 mm")
    width.press("Enter")
    expect(bench.card(2)).to_have_attribute("data-state", "cannot-be-made")
    expect(bench.card(2)).to_contain_text("there is room for 100.0 mm × 50.0 mm")
    smaller = page.get_by_role("textbox", name="Smaller, to")
    smaller.fill("50 %")
    smaller.press("Enter")
    expect(bench.card(2)).to_have_attribute("data-state", "gave-way")
    expect(bench.card(2)).to_contain_text("Smaller by")
    expect(bench.card(1)).to_have_attribute("data-state", "as-designed")


def test_a_row_is_worked_on_by_hand_and_keeps_it(order, page):
    bench = order("Maud", "Jago")
    bench.open(1)
    page.get_by_role("button", name="Work on it by hand").click()
    words = page.get_by_role("textbox", name="Words")
    expect(words).to_have_value("Maud")
    size = page.get_by_role("textbox", name="Height of a capital")
    size.fill("40 mm")
    size.press("Enter")
    expect(page.locator("[data-save]")).to_have_attribute("data-save", "saved")
    page.get_by_role("link", name="To its order").click()
    expect(bench.card(1)).to_contain_text("43.4 mm")
    bench.open(1)
    expect(page.get_by_text("Changed by hand: it stays so when the design changes.")).to_be_visible()
    before = bench.card(1).inner_text()
    page.get_by_role("button", name="Let go of changes by hand").click()
    expect(bench.card(1)).not_to_have_text(before)


def test_two_windows_on_one_order(order, page, context, server):
    bench = order("Maud", "Jago")
    bench.open(1)
    number = page.url.rsplit("/", 1)[1]
    words = page.get_by_role("textbox", name="Words “Heron”")
    words.fill("Maude")
    other = context.new_page()
    other.goto(page.url)
    theirs = OrderBench(other)
    theirs.open(1)
    field = other.get_by_role("textbox", name="Words “Heron”")
    field.fill("Mawd")
    field.press("Enter")
    expect(theirs.card(1)).to_contain_text("Mawd")
    expect(bench.card(1)).to_contain_text("Mawd", timeout=20_000)
    customer = other.get_by_role("textbox", name="Customer")
    customer.fill("Otterbrook Rowers")
    customer.blur()
    expect(page.get_by_role("textbox", name="Customer")).to_have_value("Otterbrook Rowers", timeout=20_000)
    assert server.call("GET", f"/orders/{number}")["customer"] == "Otterbrook Rowers"


def test_sheets_are_cut_one_after_the_other_and_picked_from(order, page, server):
    bench = order("Maud", "Jago", "Tern", "Wren")
    server.make_cutter_ready()
    bench.view("Sheets")
    bench.laid()
    for label, mm in (("Width", "120 mm"), ("Height", "90 mm")):
        field = page.get_by_role("textbox", name=label, exact=True)
        field.fill(mm)
        field.press("Enter")
    expect(bench.sheets).not_to_have_count(1)
    page.get_by_role("button", name="Cut sheet 1").click()
    cut = page.get_by_role("list", name="Sheets that were cut")
    expect(cut.locator("[data-cut=done]")).to_have_count(1, timeout=90_000)
    expect(cut).to_contain_text("came off as promised", timeout=30_000)
    page.get_by_role("button", name="Sheet 2 was cut elsewhere").click()
    expect(cut.locator("[data-cut=elsewhere]")).to_have_count(1)
    bench.view("Pick list")
    table = page.get_by_role("table", name="Pick list")
    rows = table.get_by_role("row")
    expect(rows.filter(has_text="Maud")).to_contain_text("sheet 1")
    expect(rows.filter(has_text="Maud")).to_contain_text("cut")
    with page.expect_download() as caught:
        page.get_by_role("button", name="Pick list as CSV").click()
    picks = list(csv.DictReader(io.StringIO(caught.value.path().read_text("utf-8-sig"))))
    assert [row["words"] for row in picks] == ["Maud", "Jago", "Tern", "Wren"]
    assert picks[0]["sheet"] == "sheet 1, cut"


def test_a_cutter_that_is_off_is_said_and_the_sheet_is_there_to_go_on(order, page, server):
    bench = order("Maud")
    server.call("POST", "/cutter", {"do": "off"})
    try:
        bench.view("Sheets")
        bench.laid()
        page.get_by_role("button", name="Cut sheet 1").click()
        expect(page.get_by_role("alert")).to_contain_text("The cutter is switched off.", timeout=30_000)
        go_on = page.get_by_role("button", name="Cut it: sheet 1")
        expect(go_on).to_be_visible()
    finally:
        server.make_cutter_ready()
    go_on.click()
    done = page.get_by_role("list", name="Sheets that were cut").locator("[data-cut=done]")
    expect(done).to_have_count(1, timeout=90_000)


def test_an_earlier_version_of_an_order_is_brought_back(order, page):
    bench = order("Maud", "Jago")
    bench.open(1)
    page.get_by_role("button", name="Take it out").click()
    expect(bench.cards).to_have_count(1)
    page.get_by_role("button", name="Versions").click()
    versions = page.get_by_role("list", name="Versions")
    expect(versions).to_contain_text("Before: rows taken out. 2 rows: Maud, Jago")
    versions.get_by_role("listitem").filter(has_text="rows taken out").get_by_role("button").click()
    expect(bench.cards).to_have_count(2)


def test_two_thousand_rows_are_drawn_only_where_they_are_seen(order, page, server):
    bench = order()
    number = page.url.rsplit("/", 1)[1]
    server.call("POST", f"/orders/{number}/stop", {"stopped": True})
    rows = [{"words:name": f"Reed {n}"} for n in range(2000)]
    server.call("POST", f"/orders/{number}/rows", {"rows": rows})
    page.reload()
    expect(bench.stands).to_contain_text("of 2000 rows")
    assert bench.cards.count() < 80
    page.get_by_test_id("rows").evaluate("ground => ground.scrollTo(0, ground.scrollHeight)")
    expect(bench.card(2000)).to_be_visible()
    page.get_by_role("textbox", name="Search the names").fill("Reed 1999")
    expect(bench.cards).to_have_count(1)


@pytest.mark.parametrize("view", ["Names", "Sheets", "Pick list"])
def test_orders_can_be_used_by_everyone(order, page, view):
    bench = order("Maud", "Jago")
    bench.open(1)
    bench.view(view)
    if view == "Sheets":
        bench.laid()
    assert hindrances(page) == []


class TestFilesOpened:
    def saved(self, page, server, tmp_path):
        hands = Hands(page, tmp_path)
        page.goto(server.design("Sedge"))
        expect(hands.bench.pieces.first).to_be_attached()
        return hands.saved(anyway=True)

    def opened(self, page, path):
        page.goto("/")
        expect(page.get_by_role("button", name="Open a file")).to_be_visible()
        page.get_by_label("A file to open").set_input_files(path)

    def test_a_file_that_fulgen_wrote_is_the_design_again(self, page, server, tmp_path):
        self.opened(page, self.saved(page, server, tmp_path))
        expect(page.get_by_role("textbox", name="Words")).to_have_value("Sedge")

    def test_one_that_was_changed_elsewhere_asks(self, page, server, tmp_path):
        path = self.saved(page, server, tmp_path)
        text = path.read_text("utf-8")
        path.write_text(text.replace("</svg>", '<path fill="#000000" d="M0 0H9V9H0Z"/></svg>'), "utf-8")
        self.opened(page, path)
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("This file was changed since Fulgen wrote it")
        dialog.get_by_role("button", name="Open what it draws now").click()
        expect(page.locator("[data-piece]")).not_to_have_count(0)
        expect(page.get_by_text("Which words?").or_(page.get_by_text("No words yet"))).to_be_visible()

    def test_what_is_no_file_of_ours_is_said(self, page, tmp_path):
        path = tmp_path / "broken.json"
        path.write_text(json.dumps({"format": "something else"}))
        self.opened(page, path)
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("This is not a Fulgen recipe.")


def test_a_version_is_compared_named_and_brought_back_and_undo_outlives_a_reload(page, server):
    page.goto(server.design("Willow"))
    words = page.get_by_role("textbox", name="Words")
    expect(words).to_have_value("Willow")
    note = page.locator("[data-save]")
    words.fill("Willows")
    expect(page.locator("[data-piece]").first).to_be_attached()
    expect(note).to_have_attribute("data-save", "saved")
    page.get_by_role("button", name="Versions").click()
    panel = page.get_by_role("complementary", name="Versions")
    panel.get_by_role("button", name=re.compile("^Compare with")).first.click()
    expect(page.locator("[data-preview]")).to_be_attached()
    name = panel.get_by_role("textbox", name="Name of this version")
    name.fill("As the customer saw it")
    name.press("Enter")
    expect(panel).to_contain_text("As the customer saw it")
    panel.get_by_role("button", name="Bring it back").click()
    expect(words).to_have_value("Willow")
    expect(note).to_have_attribute("data-save", "saved")
    page.reload()
    expect(words).to_have_value("Willow")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(words).to_have_value("Willows")
