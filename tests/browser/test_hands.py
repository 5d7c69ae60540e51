"""What the hand does on the work itself, what keeps its place, and what is found by typing."""

import io
import re

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.bench import Bench, Held, box_at_rest, drag, middle
from tests.browser.building import Building, form, word


def undo(page):
    page.get_by_role("button", name="Undo", exact=True).click()


def mm(bench):
    """Width and height as the figures say."""
    return [float(number) for number in re.findall(r"[\d.]+", bench.told("size"))[:2]]


class TestTyped:
    """Figures typed faster than the work follows."""

    @pytest.fixture
    def waiting(self, building):
        """A disc and a chosen name 30 mm wide; what a change comes to is held back."""
        bench = building(form("disc", "a", 40.0), word("Sedge", "w", 30.0, 60.0, 8.0))
        bench.card("Sedge").click()
        expect(bench.field("Width")).to_have_value("30 mm")
        return bench, Held(bench.page, "/evaluate")

    def test_steps_add_up(self, waiting):
        bench, held = waiting
        middle_down = bench.field("Middle, down")
        before = float(middle_down.input_value().split()[0])
        for _ in range(3):
            middle_down.press("ArrowUp")
        held.let_go()
        expect(middle_down).to_have_value(f"{before + 3:g} mm")

    def test_a_second_width_before_the_first_is_worked_out_is_that_width(self, waiting):
        bench, held = waiting
        bench.type_into("Width", "50 mm")
        bench.page.wait_for_function("() => document.querySelector('[data-save]').dataset.save === 'saved'")
        bench.type_into("Width", "80 mm")
        bench.type_into("Middle, down", "90 mm")
        held.let_go()
        expect(bench.field("Width")).to_have_value("80 mm")
        expect(bench.field("Middle, down")).to_have_value("90 mm")

    def test_it_stays_while_the_work_follows_and_is_taken_for_what_was_chosen(self, waiting):
        bench, held = waiting
        bench.type_into("Width", "50 mm")
        bench.field("Width").fill("62")
        held.let_go()
        expect(bench.card("Sedge")).to_contain_text("50 mm")
        expect(bench.field("Width")).to_have_value("62")
        disc = bench.box("a")
        bench.page.mouse.click(disc["x"] + 12, disc["y"] + disc["height"] / 2)
        expect(bench.field("Width")).to_have_value("40 mm")
        expect(bench.card("Sedge")).to_contain_text("62 mm")
        expect(bench.card("Disc")).to_contain_text("40 mm × 40 mm")


class TestStretch:
    def test_a_side_grip_stretches_lettering_and_a_corner_does_not(self, page, server):
        """How much is arithmetic: the grip goes out by a fifth of the width."""
        bench = Bench(page).open(
            server.design("Heron", face={"family": "anton"}, size={"measure": "capitals", "mm": 40})
        )
        expect(page.locator("[data-chosen-box]")).to_be_visible()
        before, (wide, high) = bench.outline(), mm(bench)
        left, right = (middle(page.locator(f"[data-grip={side}]")) for side in ("left", "right"))
        drag(page, right, (right[0] - (right[0] - left[0]) / 5, right[1]))
        bench.outline_differs_from(before)
        expect(page.get_by_role("textbox", name="Width of the letters")).to_have_value("80 %")
        expect(page.get_by_role("textbox", name="Height of a capital")).to_have_value("40 mm")
        bench.saved()
        page.wait_for_function(
            """wide => Math.abs(parseFloat(document.querySelector('[data-figure=size]').innerText) - wide)
                    < 0.02 * wide""",
            arg=wide * 0.8,
        )
        assert mm(bench)[1] == pytest.approx(high, rel=0.02)
        undo(page)
        bench.outline_is(before)

    def test_as_wide_as_the_sheet_and_as_high_as_another(self, building):
        bench = building(form("disc", "a", 40.0), word("Sedge", "w", 30.0, 60.0, 8.0))
        bench.card("Sedge").click()
        bench.page.get_by_role("combobox", name="As wide as").select_option("the sheet")
        expect(bench.field("Width")).to_have_value("290 mm")
        bench.page.get_by_role("combobox", name="As wide as").select_option("Disc")
        expect(bench.field("Width")).to_have_value(re.compile(r"^(40|39\.9\d*|40\.0\d*) mm$"))
        # Stretched no further than letters can be.
        bench.page.get_by_text("Keep its proportions").click()
        high = bench.field("Height").input_value()
        bench.page.get_by_role("combobox", name="As wide as").select_option("the sheet")
        expect(bench.field("Width")).to_have_value(re.compile(r"^(80|79\.9\d*|80\.0\d*) mm$"))
        expect(bench.field("Height")).to_have_value(high)


class TestKeepsItsPlace:
    def test_a_changed_word_stays_centred_on_what_it_was_aligned_to(self, building):
        bench = building(form("disc", "a", 80.0, x=10.0), word("Ann", "w", 30.0, 60.0, 8.0, film="#8C2F39",
                         size={"measure": "capitals", "mm": 12.0}))  # fmt: skip
        bench.choose_parts("Ann", "Disc")
        bench.page.get_by_role("button", name="Centre one under the other").click()
        bench.settled()

        def off():
            disc, name = bench.box("a"), bench.box("w")
            return (name["x"] + name["width"] / 2) - (disc["x"] + disc["width"] / 2)

        assert off() == pytest.approx(0, abs=1.2)
        bench.card("Ann").click()
        expect(bench.page.get_by_text("Its centre goes with “Disc”, whatever changes.")).to_be_visible()
        bench.page.get_by_role("button", name="Words and face…").click()
        outline = bench.outline()
        bench.words.fill("Christabel")
        bench.outline_differs_from(outline)
        bench.stage("Build")
        bench.settled()
        assert off() == pytest.approx(0, abs=1.2)
        # What it lies on is moved, and it goes along; what runs off it is said.
        before = bench.box("w")
        disc = bench.box("a")
        bench.drag(disc["x"] + 12, disc["y"] + disc["height"] / 2, -60, 0)
        bench.settled()
        assert bench.box("w")["x"] == pytest.approx(before["x"] - 60, abs=1.5)
        bench.card("Christabel").click()
        expect(bench.page.get_by_role("button", name="Words and face…")).to_be_visible()
        bench.type_into("Width", "120 mm")
        expect(bench.page.get_by_text(re.compile("“Christabel” runs .* off what it lies on"))).to_be_visible()
        # Let go of, it stays where it is.
        bench.settled()
        there = bench.box("w")
        bench.page.get_by_role("combobox", name="Aligned to").select_option("nothing")
        bench.settled()
        assert bench.box("w") == pytest.approx(there, abs=0.6)

    def test_words_cut_out_of_a_plate_keep_their_middle(self, building):
        bench = building(form("disc", "a", 80.0, x=0.0), word("Ann", "w", 30.0, -15.0, 8.0,
                         size={"measure": "capitals", "mm": 12.0}))  # fmt: skip
        # The order in which they are chosen decides nothing: the larger is what the other is cut out of.
        bench.choose_parts("Ann", "Disc")
        expect(bench.page.get_by_role("combobox", name="Laid on")).to_have_value("a")
        bench.together("Cut out").click()
        expect(bench.card("Cut-out")).to_be_visible()
        bench.card("Ann").click()
        field = bench.field("Middle, to the right")
        expect(field).to_have_value("-4.98 mm")
        bench.page.get_by_role("button", name="Words and face…").click()
        outline = bench.outline()
        bench.words.fill("Annabel")
        bench.outline_differs_from(outline)
        bench.stage("Build")
        bench.card("Annabel").click()
        expect(field).to_have_value("-4.98 mm")
        # The other way round there is nothing left of the name, and it can be changed back.
        bench.card("Cut-out").click()
        whole = bench.outline()
        bench.page.get_by_role("combobox", name="Laid on").select_option("Annabel")
        bench.page.wait_for_function("""() => document.querySelector('[role=alert]')
            || document.querySelectorAll('[data-piece]').length !== 1""")
        undo(bench.page)
        bench.outline_is(whole)

    def test_a_copy_lies_beside_it_and_another_name_is_one_key_and_its_words(self, page, server):
        bench = Building(page)
        page.goto(server.design("Tern", size={"measure": "capitals", "mm": 20}, join={"how": "auto"}))
        bench.shown(1)
        expect(bench.figure("size")).not_to_contain_text("0 × 0")
        wide = mm(bench)[0]
        bench.words.press("Control+Enter")
        expect(bench.words).to_be_focused()
        page.keyboard.type("Tara")
        expect(bench.figure("pieces")).to_have_text(re.compile("^2 ?pieces"))
        bench.stage("Build")
        expect(bench.card("Tern")).to_be_visible()
        expect(bench.card("Tara")).to_be_visible()
        bench.settled()
        one, other = (bench.box(part) for part in ("lettering-1", "lettering-2"))
        assert other["y"] > one["y"] + one["height"]
        assert mm(bench)[0] < 1.5 * wide

    def test_each_line_becomes_a_part_where_it_stood(self, page, server):
        bench = Building(page)
        page.goto(server.design("Heron\nTern\nGull", align="centre", size={"measure": "width", "mm": 90}))
        before = bench.outline()
        size = bench.told("size")
        page.keyboard.press("Control+k")
        page.keyboard.type("each line")
        page.keyboard.press("Enter")
        for name in ("Heron", "Tern", "Gull"):
            expect(bench.card(name)).to_be_visible()
        bench.settled()
        expect(bench.figure("size")).to_have_text(size)
        middles = [bench.box(f"lettering-{n}") for n in (1, 2, 3)]
        middles = [box["x"] + box["width"] / 2 for box in middles]
        assert middles == pytest.approx([middles[0]] * 3, abs=1.5)
        undo(page)
        bench.outline_is(before)


class TestFinder:
    def found(self, page):
        return page.get_by_role("listbox", name="Actions").get_by_role("option")

    def test_an_action_is_found_by_a_few_letters_and_done_from_there(self, page, server):
        bench = Bench(page).open(server.design("Jib"))
        page.keyboard.press("Control+k")
        page.keyboard.type("dots acc")
        expect(self.found(page).first).to_contain_text("Keep dots and accents apart")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog")).to_have_count(0)
        bench.stage("Join")
        expect(page.get_by_role("radio", name="Lowered", exact=True)).to_be_checked()

    def test_what_cannot_be_done_says_why_and_nothing_happens(self, page, server):
        bench = Bench(page).open(server.design("Jib"))
        before = bench.outline()
        page.get_by_role("button", name="Find an action").click()
        page.get_by_role("combobox", name="What do you want to do?").fill("weld to edges")
        expect(self.found(page)).to_have_text(re.compile("Choose 2 parts first"))
        page.keyboard.press("Enter")
        expect(self.found(page)).to_have_count(1)
        page.get_by_role("combobox").fill("qqq")
        expect(page.get_by_text("Nothing is called so. Try another word for it.")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        bench.outline_is(before)

    def test_every_field_that_it_leads_to_is_there(self, page, server):
        """Each action that only leads somewhere puts the focus on something of that stage."""
        bench = Bench(page).open(server.design("Jib\nTiller", join={"how": "auto"}))
        expect(bench.pieces.first).to_be_attached()
        for typed in (
            "Space between letters", "Space between lines", "Make letters thicker", "Set the thinnest stroke",
            "Stretch the letters", "Slant the letters", "Set the words along", "Colour of the film",
            "Size by overall width", "Size by points", "How wide a neck", "Smooth the seams",
            "Choose the material", "How many copies", "Room between copies", "Whether copies may be turned",
            "Lay copies closely", "Choose the machine", "Files for the machine", "Print a pattern",
            "Lay a photograph",
        ):  # fmt: skip
            page.keyboard.press("Control+k")
            page.get_by_role("combobox", name="What do you want to do?").fill(typed)
            page.keyboard.press("Enter")
            expect(page.get_by_role("dialog")).to_have_count(0)
            page.wait_for_function(
                "typed => document.activeElement?.closest('aside') !== null || typed === ''", arg=typed
            )

    def test_points_slant_and_sizes_are_typed(self, page, server):
        bench = Bench(page).open(server.design("Heron", size={"measure": "capitals", "mm": 25}))
        before = bench.outline()
        bench.size("100pt", "Height of a capital")
        expect(page.get_by_role("textbox", name="Size of the face")).to_have_value("35.28 mm")
        expect(page.get_by_text("100 pt;")).to_be_visible()
        bench.outline_differs_from(before)
        upright = bench.outline()
        bench.size("12", "Slant to the right")
        expect(page.get_by_role("textbox", name="Slant to the right")).to_have_value("12°")
        bench.outline_differs_from(upright)
        slanted = bench.outline()
        bench.size("steep", "Slant to the right")
        expect(bench.problem).to_contain_text("“steep” is not a number of degrees.")
        bench.outline_is(slanted)
        bench.size("80", "Slant to the right")
        expect(bench.problem).to_contain_text("It can be -45° to 45°.")


class TestOnTheLetter:
    def test_a_stroke_s_end_is_dragged_without_opening_its_shape(self, page, server):
        bench = Bench(page).open(
            server.design("HI", face={"family": "anton"}, size={"measure": "capitals", "mm": 60})
        )
        bench.stage("Join")
        bench.choose_letter("I")
        end = page.locator("[data-end='0']")
        expect(end).to_be_visible()
        before = bench.outline()
        at = middle(end)
        drag(page, at, (at[0], at[1] - 40))
        bench.outline_differs_from(before)
        longer = bench.outline()
        # As far out as an end of another letter, that is pointed at.
        page.get_by_role("group", name="As far out as another end").get_by_role(
            "button", name="End 1"
        ).click()
        expect(page.get_by_text("Point at the end, of this or another letter,")).to_be_visible()
        ends = page.locator("[data-end='0']")
        expect(ends).to_have_count(2)
        target = min((middle(one) for one in ends.all()), key=lambda p: p[0])
        page.mouse.click(*target)
        bench.outline_differs_from(longer)
        expect(bench.figure("size")).to_have_text(re.compile(r"× (59\.[789]|60(\.[0-3])?)\s*mm"))
        expect(page.get_by_text("Point at the end, of this or another letter,")).to_have_count(0)

    def test_a_letter_dragged_in_the_letter_stage_is_looked_at_in_join(self, page, server):
        bench = Bench(page).open(server.design("Heron", join={"how": "auto"}))
        before = bench.outline()
        box = box_at_rest(bench.letter("r"))
        at = (box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.7)
        drag(page, at, (at[0], at[1] - 24))
        bench.outline_differs_from(before)
        expect(page.get_by_role("heading", name="Letter r")).to_be_visible()
        expect(page.get_by_role("navigation", name="Stages").locator("[aria-current=step]")).to_have_text(
            "Join"
        )

    def test_one_seam_is_smoothed_and_its_neck_is_told(self, page, server):
        bench = Bench(page).open(server.design("Heron", join={"how": "auto"}))
        bench.stage("Join")
        card = bench.seam("e · r")
        neck = card.inner_text()
        card.click()
        before = bench.outline()
        bench.size("0.6 mm", "Smooth it by")
        bench.outline_differs_from(before)
        expect(card).not_to_have_text(neck)
        page.get_by_role("button", name="Reset this seam").click()
        bench.outline_is(before)


def drawn_in(path):
    """What a file draws: without the design that it carries."""
    return re.sub(b"<metadata>.*</metadata>", b"", path.read_bytes())


class TestPhotograph:
    def picture(self):
        drawn = Image.new("RGB", (400, 200), (120, 140, 150))
        data = io.BytesIO()
        drawn.save(data, "JPEG")
        return {"name": "boat.jpg", "mimeType": "image/jpeg", "buffer": data.getvalue()}

    def test_it_is_scaled_by_two_places_and_saved_in_the_proof(self, building, tmp_path):
        bench = building(word("Heron", "w", 100.0))
        page = bench.page
        plain = drawn_in(bench.download(tmp_path, anyway=True))
        page.get_by_label("Photograph", exact=True).set_input_files(self.picture())
        expect(page.locator("[data-photo]")).to_be_visible()
        expect(bench.field("Its width")).to_have_value("180 mm")
        scale = box_at_rest(page.locator("[data-photo]"))["width"] / 180
        page.get_by_role("button", name="Set its scale").click()
        work = box_at_rest(bench.work)
        spots = [(work["x"] + 300, work["y"] + 200), (work["x"] + 500, work["y"] + 200)]
        for at in spots:
            page.mouse.click(*at)
        bench.field("Distance between them").fill("300 mm")
        bench.field("Distance between them").press("Enter")
        page.get_by_role("button", name="Scale it so").click()
        # 200 px of the screen are 300 mm now.
        expect(bench.field("Its width")).to_have_value(re.compile("mm"))
        wide = float(bench.field("Its width").input_value().split()[0])
        assert wide == pytest.approx(180 * 300 / (200 / scale), rel=0.02)
        with page.expect_download() as caught:
            page.get_by_role("button", name="Save a proof").click()
        path = tmp_path / caught.value.suggested_filename
        caught.value.save_as(path)
        with Image.open(path) as proof:
            assert max(proof.size) == 2000
            colours = {colour for _, colour in proof.getcolors(1 << 22)}
        assert (0x2B, 0x56, 0x74) in colours
        assert drawn_in(bench.saved().download(tmp_path, anyway=True)) == plain
        page.get_by_role("button", name="Take it away").click()
        expect(page.locator("[data-photo]")).to_have_count(0)

    def test_what_is_no_photograph_is_said(self, building):
        bench = building(word("Heron", "w", 100.0))
        before = bench.outline()
        file = {"name": "x.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"}
        bench.page.get_by_label("Photograph", exact=True).set_input_files(file)
        expect(bench.problem).to_contain_text("This is not a photograph that can be read.")
        bench.outline_is(before)


def test_thirty_steps_undone_and_done_again_give_the_same_bytes(building, tmp_path):
    bench = building(form("disc", "a", 60.0), word("Heron", "w", 50.0, 70.0, film="#8C2F39"))
    page = bench.page
    start = bench.outline()
    begun = bench.download(tmp_path, anyway=True).read_bytes()
    bench.card("Heron").click()
    bench.work.focus()
    for n in range(30):
        if n % 6 == 5:
            page.get_by_role("button", name="Flip left and right").click()
        else:
            page.keyboard.press("Shift+ArrowRight" if n % 2 else "ArrowDown")
        # Steps that follow each other closely are one.
        page.evaluate("() => new Promise(done => setTimeout(done, 470))")
    bench.settled()
    end = bench.outline()
    assert end != start
    ended = bench.download(tmp_path, anyway=True).read_bytes()
    for _ in range(30):
        page.keyboard.press("Control+z")
    bench.outline_is(start).saved()
    assert bench.download(tmp_path, anyway=True).read_bytes() == begun
    for _ in range(30):
        page.keyboard.press("Control+Shift+z")
    bench.outline_is(end).saved()
    assert bench.download(tmp_path, anyway=True).read_bytes() == ended


SMALL = """
() => [...document.querySelectorAll(
    'button, select, [role=option], a[href], label:has(input), input, [data-grip]')]
  .filter(e => !['radio', 'checkbox', 'file', 'range', 'color'].includes(e.type) && e.checkVisibility())
  .map(e => [e.ariaLabel || e.innerText || e.dataset.grip || e.tagName, e.getBoundingClientRect()])
  .filter(([, box]) => box.width > 1 && (box.width < 31.5 || box.height < 31.5))
  .map(([name, box]) => `${name}: ${box.width} x ${box.height}`)
"""


def test_under_a_finger_nothing_is_smaller_than_32_px_and_the_panel_folds_away(chromium, server):
    """1024 x 768 with touch, stage by stage."""
    context = chromium.new_context(
        viewport={"width": 1024, "height": 768}, has_touch=True, base_url=server.url
    )
    page = context.new_page()
    bench = Bench(page).open(server.design("Jib", join={"how": "auto"}))
    expect(bench.pieces.first).to_be_attached()
    for stage in ("Letter", "Join", "Build", "Check", "Cut"):
        page.get_by_role("navigation", name="Stages").get_by_role("button", name=stage).tap()
        expect(page.get_by_role("complementary", name=stage)).to_be_visible()
        assert page.evaluate(SMALL) == [], stage
    page.get_by_role("navigation", name="Stages").get_by_role("button", name="Letter").tap()
    wide = box_at_rest(bench.work)["width"]
    page.get_by_role("button", name="Fold the panel away").tap()
    expect(bench.words).to_have_count(0)
    assert box_at_rest(bench.work)["width"] > wide + 250
    page.get_by_role("navigation", name="Stages").get_by_role("button", name="Letter").tap()
    expect(bench.words).to_be_visible()
    context.close()


IN_THIS_ORDER = """(names) => {
  const cards = [...document.querySelectorAll('[aria-label=Designs] [role=listitem]')]
  const shown = cards.map((card) => card.getAttribute('aria-label')).filter((name) => names.includes(name))
  return JSON.stringify(shown) === JSON.stringify(names)
}"""


class TestShelf:
    def test_a_design_is_found_by_name_words_face_and_tag_and_is_named_by_its_words(self, page, server):
        for name, text, family in (
            ("", "Quillback", "anton"),
            ("Gudgeon sign", "Quarrel", "pacifico"),
            ("", "Zoë Quince", "lobster"),
        ):
            part = {"id": "w", "text": text, "face": {"family": family}}
            recipe = {"format": "fulgen-recipe", "version": 11, "parts": [part]}
            server.call("POST", "/designs", {"name": name, "recipe": recipe})
        page.goto("/")
        cards = page.get_by_role("list", name="Designs").get_by_role("listitem")
        search = page.get_by_role("textbox", name="Search the shelf")
        for typed, names in (
            ("quillb", ["Quillback"]),
            ("quarrel", ["Gudgeon sign"]),
            ("zoe qu", ["Zoë Quince"]),
            ("anton quill", ["Quillback"]),
        ):
            search.fill(typed)
            expect(cards).to_have_count(len(names))
            for name in names:
                expect(page.get_by_role("listitem", name=name, exact=True)).to_be_visible()
        search.fill("zoe qu")
        page.get_by_role("button", name="Tag Zoë Quince", exact=True).click()
        page.get_by_role("textbox", name="Tags, with commas between them").fill("spring, crew")
        page.keyboard.press("Enter")
        search.fill("")
        page.get_by_role("group", name="Tags").get_by_role("button", name="crew").click()
        expect(cards).to_have_count(1)
        search.fill("quillback")
        expect(page.get_by_text("No design is like that with the tag “crew”.")).to_be_visible()
        search.fill("")
        page.get_by_role("group", name="Tags").get_by_role("button", name="crew").click()
        page.get_by_role("combobox", name="Order of the shelf").select_option("By name")
        page.wait_for_function(IN_THIS_ORDER, arg=["Gudgeon sign", "Quillback", "Zoë Quince"])
