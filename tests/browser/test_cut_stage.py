"""The Cut stage as a maker uses it: films and sheets, moving by hand, files, and whole jobs at the cutter."""

import io
import math
import re
import zipfile

import pypdfium2
import pytest
from playwright.sync_api import expect

from cutters import cutter_host as bench_cutter
from fulgen.cutter.blade import cut
from fulgen.cutter.cut_simulation import simulate_cut
from fulgen.formats.hpgl import read_strokes
from tests import kills
from tests.browser.bench import box_at_rest
from tests.browser.building import form, word
from tests.browser.cutting import Cutting
from tests.served import Server

BLUE, BRASS = "#1F4E6B", "#C8932B"


def name(face="pacifico", **more):
    return word("Heron", face=face, film=BLUE, join={"how": "auto", "neck_mm": 1.2}, **more)


def disc(y=0.0):
    return form("disc", "disc", 60.0, y=y, film=BRASS)


class TestKitBag:
    """An iron-on in two films, as a whole job."""

    def test_mirrored_marked_cut_with_a_pause_and_a_lost_line(self, cutting, page):
        bench = cutting(name(), disc(y=60.0), material={"name": "Iron-on film"})
        # Iron-on film is cut from the back: the stage asks before anything else.
        expect(bench.point("mirror", "ask")).to_contain_text("Iron-on film is cut mirrored")
        bench.button("Cut blue").click()
        gate = page.get_by_role("dialog")
        expect(gate).to_contain_text("Iron-on film is cut mirrored")
        gate.get_by_role("button", name="Not yet").click()
        expect(gate).to_be_hidden()
        bench.button("Mirror it").click()
        expect(bench.point("mirror", "good")).to_contain_text("shiny carrier side down")
        expect(page.get_by_text("Seen from the back, as the machine meets it").first).to_be_visible()
        page.get_by_text("Marks by which films meet").click()
        expect(bench.point("pieces")).to_contain_text("6 marks by which the films meet")
        bench.open_film(BLUE)
        page.get_by_role("textbox", name="What the film is called").fill("Deep blue")
        page.get_by_role("textbox", name="What the film is called").blur()
        expect(bench.film(BLUE)).to_contain_text("Deep blue")
        bench.type("Copies", "4")
        expect(bench.copies).to_have_count(8)

        bench.button("Cut deep blue").click()
        bench.is_("cutting")
        bench.button("Pause", exact=True).click()
        bench.is_("paused")
        expect(bench.strip).to_contain_text("Nothing moves")
        bench.button("Go on", exact=True).click()
        bench.is_("cutting")
        bench.button("At the cutter").click()
        bench.button("Pull its cable").click()
        expect(page.locator("[data-cutter='cable out']")).to_be_visible()
        bench.is_("lost")
        expect(bench.strip).to_contain_text("What is cut is kept")
        bench.button("Go on where it stopped").click()
        expect(bench.strip).to_contain_text("The cutter's cable is out. Plug it in, then cut.")
        bench.button("Plug its cable in").click()
        expect(page.locator("[data-cutter=ready]")).to_be_visible()
        bench.button("Go on where it stopped").click()
        outcome = page.locator("[data-outcome=kept]")
        expect(outcome).to_be_visible(timeout=60_000)
        # A word of one piece and three marks, four times.
        expect(outcome).to_contain_text("Promised 16, came off 16")

    def test_the_file_gives_the_pieces_and_the_right_way_round(self, cutting, page):
        bench = cutting(word("L", film=BLUE), material={"name": "Iron-on film"}, mirror=True)
        file, path = bench.saved_as(bench.button("Save the sheet as PLT"))
        assert file == "Kit-bag-Blue.plt"
        strokes = [stroke for pen, stroke in read_strokes(path.read_bytes(), file, 300.0) if pen == 1]
        [piece] = simulate_cut(cut(strokes, 0.25)).pieces
        # The upright of an L stands left; mirrored it stands right.
        left, _, right, _ = piece.bounds
        assert piece.centroid.x > (left + right) / 2

    def test_a_ticket_and_a_note_that_warns_next_time(self, cutting, page):
        bench = cutting(name(), material={"name": "Card"})
        expect(bench.point("press")).to_have_count(0)
        page.get_by_role("textbox", name="What you saw in a test").fill("Scorched at 160 °C.")
        bench.button("Warn me next time").click()
        expect(bench.point("press", "know")).to_contain_text("Scorched at 160 °C.")
        bench.type("Heat for Card", "300 °F")
        expect(page.get_by_role("textbox", name="Heat for Card")).to_have_value("149 °C (300 °F)")
        _, path = bench.saved_as(bench.button("Ticket as PDF"))
        text = " ".join(pypdfium2.PdfDocument(path.read_bytes())[0].get_textpage().get_text_range().split())
        assert "Kit bag" in text
        assert "149 °C (300 °F)" in text
        page.get_by_role("link", name="Ticket").click()
        ticket = page.get_by_test_id("ticket")
        expect(ticket).to_contain_text("Heron")
        expect(ticket).to_contain_text("Scorched at 160 °C.")
        page.get_by_role("link", name="Back to the design").click()
        # The next design of that material is warned, too; until the note is taken out.
        bench = cutting(disc(), material={"name": "Card"})
        expect(bench.point("press", "know")).to_contain_text("Scorched at 160 °C.")
        bench.button("Take this note out").click()
        expect(bench.point("press")).to_have_count(0)


class TestSheets:
    def test_copies_are_dragged_moved_by_keys_and_turned_and_undone(self, cutting, page):
        bench = cutting(disc(), cut={"copies": 2})
        first = bench.place()
        box = box_at_rest(bench.copies.first)
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 40, y + 90, steps=4)
        page.mouse.up()
        expect(bench.copies.first).not_to_have_attribute("transform", first)
        dragged = bench.place()
        bench.copies.first.focus()
        page.keyboard.press("ArrowRight")
        expect(bench.copies.first).not_to_have_attribute("transform", dragged)
        bench.copies.first.focus()
        page.keyboard.press("r")
        expect(bench.copies.first).to_have_attribute("transform", re.compile(r"rotate\(90\)"))
        for _ in range(3):
            page.keyboard.press("Control+z")
        expect(bench.copies.first).to_have_attribute("transform", first)

    def test_parts_over_each_other_block_the_cut_until_they_are_arranged_anew(self, cutting, page):
        bench = cutting(disc(), cut={"copies": 2})
        bench.copies.first.click()
        bench.type("Middle, from left", "80 mm")
        expect(bench.point("overlap", "blocks")).to_be_visible()
        expect(page.get_by_text("First see to what blocks the cut.")).to_be_visible()
        bench.button("Arrange anew").click()
        expect(bench.point("overlap")).to_have_count(0)

    def test_a_part_goes_to_a_new_sheet_and_to_that_of_another_film(self, cutting, page):
        bench = cutting(name(), disc(y=60.0))
        bench.page.locator(f"[data-copy*='{BRASS}']").click()
        on = page.get_by_role("combobox", name="On which sheet")
        on.select_option(f"{BLUE} 0")
        expect(bench.point("guests")).to_contain_text("is cut with")
        expect(page.locator("[data-sheet]")).to_have_count(1)
        on.select_option(f"{BLUE} 1")
        expect(page.locator("[data-sheet]")).to_have_count(2)

    def test_another_design_of_the_shelf_shares_the_sheets(self, cutting, page, server):
        server.design("Tern", name="Tern, tag", film=BLUE, face={"family": "pacifico"})
        bench = cutting(name())
        bench.button("Other designs on these sheets").click()
        page.get_by_role("combobox", name="Another design on these sheets").select_option(label="Tern, tag")
        expect(bench.copies).to_have_count(2)
        bench.type("Copies of Tern, tag", "5")
        expect(bench.copies).to_have_count(6)
        expect(page.locator("[data-sheet]")).to_have_count(1)
        bench.button("Take Tern, tag off these sheets").click()
        expect(bench.copies).to_have_count(1)

    def test_close_arrangement_uses_less_film_and_is_one_step_to_undo(self, cutting, page):
        roll = {"film": BLUE, "roll": True, "width_mm": 200.0, "height_mm": 2000.0}
        bench = cutting(name(), cut={"copies": 8, "stocks": [roll], "turns": "half"})
        used = page.locator("[data-used]")
        rows = used.text_content()
        bench.button("Closely, less film").click()
        expect(used).not_to_have_text(rows, timeout=30_000)
        assert int(used.text_content().split()[0]) > int(rows.split()[0])
        expect(bench.point("overlap")).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(used).to_have_text(rows)

    def test_a_sheet_too_small_says_what_would_fit_and_nothing_is_lost(self, cutting, page):
        bench = cutting(disc())
        bench.open_film(BRASS)
        bench.type("Width", "50 mm")
        expect(bench.problem).to_contain_text("60.0 mm × 60.0 mm")
        expect(bench.problem).to_contain_text("make it 40.0 mm wide")
        bench.type("Width", "0")
        expect(bench.problem).to_contain_text("0 × 300 mm cannot be cut")
        bench.type("Width", "7in")
        expect(bench.problem).to_have_count(0)
        bench.type("Margin", "200 mm")
        expect(bench.problem).to_contain_text("leave nothing")
        bench.type("Margin", "5 mm")
        expect(bench.problem).to_have_count(0)
        bench.type("Copies", "501")
        expect(page.get_by_text("Type a whole number from 1 to 500.")).to_be_visible()
        expect(bench.copies).to_have_count(1)


class TestFiles:
    def test_every_kind_is_handed_out(self, cutting, page):
        bench = cutting(name())
        for kind, starts in (("SVG", b"<?xml"), ("DXF", b"999"), ("PDF", b"%PDF"), ("EPS", b"%!PS"),
                             ("PLT", b"IN;"), ("PNG", b"\x89PNG")):  # fmt: skip
            file, path = bench.saved_as(bench.button(f"Save the sheet as {kind}", exact=True))
            assert path.read_bytes().startswith(starts), file

    def test_all_as_one_archive(self, cutting, page):
        bench = cutting(name(), disc(y=60.0))
        page.get_by_role("combobox", name="Files of").select_option("all")
        file, path = bench.saved_as(bench.button("All as ZIP"))
        assert file == "Kit-bag.zip"
        names = zipfile.ZipFile(io.BytesIO(path.read_bytes())).namelist()
        assert {"Kit-bag-Blue.plt", "Kit-bag-Gold.svg", "Kit-bag-ticket.pdf"} <= set(names)

    def test_what_is_not_ready_is_not_handed_out(self, cutting, page):
        bench = cutting(name(face="allura", width=20.0))
        expect(bench.point("findings", "ask")).to_be_visible()
        bench.button("Save the sheet as SVG").click()
        gate = page.get_by_role("dialog")
        expect(gate).to_contain_text("too weak or too small for adhesive film")
        with page.expect_download() as caught:
            gate.get_by_role("button", name="Save all the same").click()
        assert caught.value.suggested_filename.endswith(".svg")
        bench.button("See it").click()
        expect(page.get_by_test_id("verdict")).to_be_visible()

    def test_what_is_not_ready_is_made_so_at_the_cutter(self, cutting, page):
        bench = cutting(name(face="allura", width=40.0))
        expect(bench.point("findings", "ask")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Cut ")).click()
        gate = page.get_by_role("dialog")
        gate.get_by_role("button", name="Make it ready").click()
        expect(gate).to_contain_text("All is seen to.")
        gate.get_by_role("button", name="Cut it").click()
        bench.is_("cutting")
        expect(bench.point("findings", "good")).to_be_visible()


class TestMachine:
    def test_a_profile_is_the_shops_own_and_goes_back(self, cutting, page):
        bench = cutting(disc())
        bench.button("Its profile").click()
        bench.type("Blade offset †", "0.4 mm")
        back = bench.button("Back to the usual values")
        expect(back).to_be_visible()
        page.reload()
        bench.stage("Cut")
        bench.button("Its profile").click()
        field = page.get_by_role("textbox", name="Blade offset †")
        expect(field).to_have_value("0.4 mm")
        back.click()
        expect(field).to_have_value("0.25 mm")

    def test_a_cutter_that_is_off_and_film_that_ends(self, cutting, page):
        bench = cutting(disc(), cut={"copies": 4})
        bench.button("At the cutter").click()
        bench.button("Switch it off").click()
        expect(page.locator("[data-cutter=off]")).to_be_visible()
        bench.button("Cut gold").click()
        expect(bench.problem.first).to_contain_text("The cutter is switched off.")
        bench.button("Switch it on").click()
        expect(page.locator("[data-cutter=ready]")).to_be_visible()
        bench.type("Film ends after", "20 mm")
        bench.button("Let the film end").click()
        bench.button("Cut gold").click()
        bench.is_("no-film")
        bench.button("Cut it anew").click()
        expect(page.locator("[data-outcome=kept]")).to_contain_text("Promised 4, came off 4", timeout=60_000)

    def test_a_stopped_job_is_kept_and_goes_on_after_a_reload(self, cutting, page):
        bench = cutting(disc(), cut={"copies": 9})
        bench.button("Cut gold").click()
        bench.is_("cutting")
        bench.button("Stop", exact=True).click()
        bench.is_("stopped")
        page.reload()
        bench.stage("Cut")
        bench.is_("stopped")
        bench.button("Go on where it stopped").click()
        expect(page.locator("[data-outcome=kept]")).to_be_visible(timeout=60_000)
        expect(page.locator("[data-kept=done]")).to_have_count(1)


@pytest.fixture
def yard(tmp_path):
    """A server of one's own, that may be killed."""
    server = Server(tmp_path, FULGEN_CUTTER_PACE="3")
    server.start()
    yield server
    server.stop()


class TestEveryFault:
    def opened(self, page, yard, *parts, **more):
        recipe = {"format": "fulgen-recipe", "version": 8, "parts": list(parts), **more}
        design = yard.call("POST", "/designs", {"name": "Kit bag", "recipe": recipe})["id"]
        page.goto(f"{yard.url}/design/{design}")
        bench = Cutting(page)
        bench.stage("Cut")
        expect(bench.copies.first).to_be_visible()
        bench.button("At the cutter").click()
        return bench

    def test_a_kit_in_two_films_to_the_end_with_each_fault_once(self, page, yard):
        bench = self.opened(page, yard, name(), disc(y=60.0), cut={"copies": 4, "marks": True})
        go_on = bench.button("Go on where it stopped")
        stands = page.locator("[data-cutter]")

        bench.open_film(BLUE)
        bench.button("Cut blue").click()
        bench.is_("cutting")
        bench.button("Pause", exact=True).click()
        bench.is_("paused")
        bench.button("Go on", exact=True).click()
        bench.is_("cutting")
        bench.button("Pull its cable").click()
        bench.is_("lost")
        expect(stands).to_contain_text("cable out")
        bench.button("Plug its cable in").click()
        go_on.click()
        bench.is_("cutting")
        bench.button("Switch it off").click()
        bench.is_("off")
        bench.button("Switch it on").click()
        go_on.click()
        bench.is_("cutting")
        machine = kills.machine_of(yard)
        machine.kill()
        bench.is_("lost")
        go_on.click()
        bench.is_("cutting")
        bench.button("Stop", exact=True).click()
        bench.is_("stopped")
        go_on.click()
        kept = page.locator("[data-outcome=kept]")
        expect(kept).to_contain_text("Promised 16, came off 16", timeout=60_000)

        bench.open_film(BRASS)
        bench.button("Cut gold").click()
        bench.is_("cutting")
        yard.process.kill()
        yard.process.wait()
        yard.start()
        bench.is_("lost")
        bench.type("Film ends after", "20 mm")
        bench.button("Let the film end").click()
        go_on.click()
        bench.is_("no-film")
        expect(stands).to_contain_text("out of film")
        bench.button("Cut it anew").click()
        expect(kept).to_contain_text("Promised 16, came off 16", timeout=60_000)

    def test_a_machine_of_ones_own_over_the_network(self, page, yard, tmp_path):
        plotter = bench_cutter.CutterHost(lambda: tmp_path / "plotter")
        try:
            plotter.ask("load", sheet="own", height=300.0, speed=800.0, cut=[])
            process, port, _ = plotter._started()
            bench = self.opened(page, yard, disc())
            bench.button("How it is reached").click()
            page.get_by_role("radiogroup", name="Cut by").get_by_text("Network").click()
            bench.type("Address", "8.8.8.8")
            expect(bench.problem.first).to_contain_text("is not in this shop's own network")
            bench.type("Address", "127.0.0.1")
            bench.type("Port", str(port))
            bench.button("Try the line").click()
            expect(page.get_by_text("It answers, and says where it is.")).to_be_visible()
            expect(page.get_by_text(f"at 127.0.0.1:{port}")).to_be_visible()
            bench.button("Cut gold").click()
            expect(bench.strip).to_contain_text("count 1 piece.", timeout=60_000)
            text = "".join(text for text, _ in plotter.ask("cut", **{"from": 0})["strokes"])
            strokes = [line for pen, line in read_strokes(f"IN;{text}".encode(), "disc", 300.0) if pen == 1]
            [piece] = simulate_cut(cut(strokes, 0.25)).pieces
            assert piece.area == pytest.approx(math.pi * 30.0**2, rel=0.01)
        finally:
            process.kill()
            process.wait()
            process.stdin.close()
            process.stdout.close()
