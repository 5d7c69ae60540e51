"""Marks, bridges, shapes of letters, touch-ups and the check, in the browser as a maker uses them.

What materials hold is marked †: common practice, no published source."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench, box_at_rest, drag, middle
from tests.browser.test_letter_stage import measured


@pytest.fixture
def opened(page, server):
    """Opens a design in a stage."""

    def at(stage, text, face="anton", join="auto", mm=40, **part):
        size = {"measure": "capitals", "mm": mm}
        join = {"how": join, **part.pop("joining", {})}
        address = server.design(text, face={"family": face}, size=size, join=join, **part)
        bench = Bench(page).open(address)
        expect(bench.pieces.first).to_be_visible()
        bench.stage(stage)
        return bench

    return at


def rightmost(locator):
    """The middle of what is farthest to the right, once anything is there."""
    expect(locator.first).to_be_attached()
    return max(middle(one) for one in locator.all())


def undo(bench):
    bench.page.keyboard.press("Control+z")


class TestBridges:
    def test_one_laid_by_hand_holds_both_letters_and_keeps_its_hold_when_one_moves(self, opened, tmp_path):
        bench = opened("Join", "OO", join="set")
        page = bench.page
        bench.shown(2)
        left, right = (box_at_rest(bench.letter("O").nth(n)) for n in (0, 1))
        page.get_by_role("button", name="Lay a bridge").click()
        y = left["y"] + left["height"] * 0.4
        drag(page, (left["x"] + left["width"] - 30, y), (right["x"] + 30, y))
        bench.shown(1)
        laid = page.locator("[data-bar]")
        expect(laid).to_contain_text(re.compile(r"Bridge 1: necks 1\.2\d? mm and 1\.2"))
        width = page.get_by_role("textbox", name="Width of the bridge")
        width.fill("3 mm")
        width.press("Enter")
        expect(laid).to_contain_text(re.compile(r"necks 3"))
        bend = page.get_by_role("textbox", name="Bend of the bridge")
        bend.fill("900")
        bend.press("Enter")
        expect(page.get_by_text("Type -100 to 100 %.")).to_be_visible()
        before = bench.outline()
        bend.fill("40 %")
        bend.press("Enter")
        bench.outline_differs_from(before).shown(1)
        page.keyboard.press("Escape")
        bench.choose_letter("O", 1)
        page.keyboard.press("Shift+ArrowDown")
        expect(page.get_by_role("textbox", name="Down")).to_have_value("3 mm")
        bench.shown(1)
        _, _, path = measured(bench.download(tmp_path))
        assert str(path.d()).count("M") == 3  # one outer edge and two counters
        page.get_by_role("button", name="Remove bridge 1").click()
        bench.shown(2)
        undo(bench)
        bench.shown(1)

    def test_one_end_dragged_elsewhere_turns_it(self, opened):
        bench = opened("Join", "OO", join="set")
        page = bench.page
        left, right = (box_at_rest(bench.letter("O").nth(n)) for n in (0, 1))
        page.get_by_role("button", name="Lay a bridge").click()
        y = left["y"] + left["height"] * 0.5
        drag(page, (left["x"] + left["width"] - 30, y), (right["x"] + 30, y))
        bench.shown(1)
        before = bench.outline()
        page.keyboard.press("Escape")
        x, y = middle(page.locator("[data-bar-end]").nth(1))
        drag(page, (x, y), (x, y + right["height"] * 0.25))
        bench.outline_differs_from(before).shown(1)
        expect(page.locator("[data-bar]")).to_have_count(1)

    def test_one_onto_itself_is_refused_and_nothing_is_lost(self, opened):
        bench = opened("Join", "OO", join="set")
        page = bench.page
        left = box_at_rest(bench.letter("O").first)
        page.get_by_role("button", name="Lay a bridge").click()
        x, y = left["x"] + left["width"] - 8, left["y"] + left["height"] / 2
        drag(page, (x, y), (x - 6, y))
        expect(bench.problem).to_contain_text("Both ends of the bridge would lie in the same place.")
        bench.shown(2)

    def test_what_is_loose_is_tied_and_a_tie_is_refused(self, opened):
        bench = opened("Join", "Ni is")
        page = bench.page
        bench.shown(4)
        page.get_by_text("Tie what is loose").click()
        bench.shown(1)
        ties = page.locator("[data-tie]")
        expect(ties).to_have_count(3)
        page.get_by_role("button", name="Refuse the tie i – i").first.click()
        expect(page.get_by_role("button", name="Bring back 1 refused")).to_be_visible()
        page.get_by_role("button", name="Bring back 1 refused").click()
        bench.shown(1)
        page.get_by_text("Tie what is loose").click()
        bench.shown(4)

    def test_a_swash_under_the_words_makes_one_piece_of_two(self, opened):
        bench = opened("Join", "NED ANN")
        bench.shown(2)
        bench.choose("Swash")
        bench.shown(1)
        bench.choose("Bar")
        bench.shown(1)
        before = bench.outline()
        thick = bench.page.get_by_role("textbox", name="Thickness")
        thick.fill("5 mm")
        thick.press("Enter")
        bench.outline_differs_from(before)
        bench.choose("Nothing")
        bench.shown(2)

    def test_the_bars_of_dots_are_as_wide_as_typed(self, opened):
        bench = opened("Join", "Nip")
        page = bench.page
        bench.shown(2)
        bench.choose("Bridged")
        bench.shown(1)
        heavy = bench.outline()
        page.get_by_text("Their bars as heavy as the strokes").click()
        bench.outline_differs_from(heavy)
        width = page.get_by_role("textbox", name="Width of their bars")
        expect(width).to_have_value("1.2 mm")  # †
        slim = bench.outline()
        width.fill("2.5 mm")
        width.press("Enter")
        bench.outline_differs_from(slim).shown(1)


class TestShapes:
    def test_a_crossbar_is_stretched_stays_text_and_is_reset(self, opened):
        bench = opened("Join", "Tern", join="set")
        page = bench.page
        bench.choose_letter("T")
        before = bench.outline()
        page.get_by_role("button", name="Change its shape").click()
        expect(page.get_by_role("heading", name="Shape of T")).to_be_visible()
        ends = page.locator("[data-end]")
        expect(ends).to_have_count(3)
        x, y = rightmost(ends)
        drag(page, (x, y), (x + 60, y + 25))
        bench.outline_differs_from(before)
        longer = bench.outline()
        # By a typed length, too.
        by = page.get_by_role("textbox", name="Longer by")
        by.fill("4 mm")
        by.press("Enter")
        page.get_by_role("button", name="Lengthen it").click()
        bench.outline_differs_from(longer)
        page.get_by_role("button", name="Done", exact=True).click()
        bench.stage("Letter")
        bench.words.press("End")
        page.keyboard.type("s")
        bench.shown(4)  # the crossbar reaches over the e
        expect(bench.words).to_have_value("Terns")
        bench.stage("Join")
        bench.choose_letter("T")
        page.get_by_role("button", name="Change its shape").click()
        page.get_by_role("button", name="As the face draws it").click()
        page.get_by_role("button", name="Done", exact=True).click()
        bench.stage("Letter")
        bench.words.fill("Tern")
        bench.shown(4)
        page.wait_for_function(
            """before => [...document.querySelectorAll('[data-piece]')]
                .map(path => path.getAttribute('d')).join('') === before""",
            arg=before,
        )

    def test_points_are_taken_moved_by_key_held_to_an_axis_put_in_and_taken_out(self, opened):
        bench = opened("Join", "LI", join="set")
        page = bench.page
        bench.choose_letter("L")
        page.get_by_role("button", name="Change its shape").click()
        nodes = page.locator("[data-node]")
        expect(nodes).to_have_count(6)
        # A marquee over all of them.
        boxes = [middle(nodes.nth(n)) for n in range(6)]
        x0, x1 = min(b[0] for b in boxes), max(b[0] for b in boxes)
        y0, y1 = min(b[1] for b in boxes), max(b[1] for b in boxes)
        drag(page, (x0 - 25, y0 - 25), (x1 + 25, y1 + 25))
        expect(page.get_by_role("heading", name="6 points")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_text("No point is chosen.")).to_be_visible()
        before = bench.outline()
        corner = max(range(6), key=lambda n: boxes[n][0] - boxes[n][1])
        nodes.nth(corner).click()
        page.keyboard.press("ArrowRight")
        bench.outline_differs_from(before)
        moved = bench.outline()
        # With Shift a drag is held to the nearer axis: it goes sideways only.
        x, y = middle(nodes.nth(corner))
        page.keyboard.down("Shift")
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 40, y + 9, steps=6)
        page.mouse.up()
        page.keyboard.up("Shift")
        bench.outline_differs_from(moved)
        expect(page.locator("[data-node]")).to_have_count(6)
        assert middle(nodes.nth(corner))[1] == pytest.approx(y, abs=1.5)
        expect(page.get_by_role("heading", name="1 point")).to_be_visible()
        page.get_by_role("button", name="Add one after it").click()
        expect(nodes).to_have_count(7)
        page.get_by_role("button", name="Take out").click()
        expect(nodes).to_have_count(6)
        page.get_by_role("button", name="As the face draws it").click()
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", name="Letter L")).to_be_visible()
        bench.outline_is(before)

    def test_every_letter_of_a_kind_at_once(self, opened):
        bench = opened("Join", "LL", join="set")
        page = bench.page
        bench.choose_letter("L")
        page.get_by_role("button", name="Change its shape").click()
        page.get_by_text("Every L in the words").click()
        width = bench.told("size")
        ends = page.locator("[data-end]")
        x, y = rightmost(ends)
        drag(page, (x, y), (x + 30, y))
        expect(bench.figure("size")).not_to_have_text(width)
        page.get_by_role("button", name="Done", exact=True).click()
        boxes = [box_at_rest(bench.letter("L").nth(n)) for n in (0, 1)]
        assert boxes[0]["width"] == pytest.approx(boxes[1]["width"], rel=0.01)

    def test_a_ligature_is_of_the_kind_of_all_its_letters(self, opened):
        bench = opened("Join", "of fi fi", "lobster", join="set")
        page = bench.page
        expect(bench.letter("fi")).to_have_count(2)
        alone = bench.letter("f").get_attribute("d")
        bench.choose_letter("fi")
        page.get_by_role("button", name="Change its shape").click()
        page.get_by_text("Every fi in the words").click()
        width = bench.told("size")
        x, y = rightmost(page.locator("[data-node]"))
        drag(page, (x, y), (x + 30, y))
        expect(bench.figure("size")).not_to_have_text(width)
        page.get_by_role("button", name="Done", exact=True).click()
        boxes = [box_at_rest(bench.letter("fi").nth(n)) for n in (0, 1)]
        assert boxes[0]["width"] == pytest.approx(boxes[1]["width"], rel=0.01)
        assert bench.letter("f").get_attribute("d") == alone

    def test_a_compass_rose_stands_in_for_an_o_and_is_joined_like_a_letter(self, opened, tmp_path):
        bench = opened("Join", "BOAT")
        page = bench.page
        bench.shown(1)
        before = bench.outline()
        bench.choose_letter("O")
        page.get_by_role("button", name="A shape in its place").click()
        shapes = page.get_by_role("group", name="Stand-in")
        shapes.get_by_role("button", name="compass rose").click()
        bench.outline_differs_from(before).shown(1)
        expect(shapes.get_by_role("button", name="compass rose")).to_have_attribute("aria-pressed", "true")
        _, height, _ = measured(bench.download(tmp_path))
        assert height == pytest.approx(40, abs=2)
        page.get_by_role("button", name="Back to the letter’s own").click()
        bench.shown(1)
        page.wait_for_function(
            """before => [...document.querySelectorAll('[data-piece]')]
                .map(path => path.getAttribute('d')).join('') === before""",
            arg=before,
        )

    def test_a_shape_of_ones_own_and_a_file_that_is_none(self, opened, tmp_path):
        good, bad = tmp_path / "tiller.svg", tmp_path / "notes.svg"
        good.write_text('<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H20V40H0Z"/></svg>')
        bad.write_text("remember the milk")
        bench = opened("Join", "BOAT")
        page = bench.page
        before = bench.outline()
        bench.choose_letter("O")
        page.get_by_role("button", name="A shape in its place").click()
        file = page.get_by_label("Stand-in: a file of your own")
        file.set_input_files(bad)
        expect(bench.problem).to_contain_text("notes.svg cannot be read as SVG.")
        bench.outline_is(before)
        file.set_input_files(good)
        expect(page.get_by_text("Your own shape: tiller")).to_be_visible()
        bench.outline_differs_from(before).shown(1)

    def test_a_heart_for_the_dots(self, opened):
        bench = opened("Join", "Nip", joining={"marks": "lower"})
        bench.shown(1)
        before = bench.outline()
        bench.page.get_by_role("button", name="A shape in their place").click()
        hearts = bench.page.get_by_role("group", name="Shape for dots")
        hearts.get_by_role("button", name="heart").click()
        bench.outline_differs_from(before).shown(1)


class TestCheck:
    def test_a_remedy_is_seen_before_it_is_taken_and_is_undone(self, opened):
        bench = opened("Letter", "in")
        page = bench.page
        expect(bench.figure("findings")).to_contain_text("1to look at")
        bench.figure("findings").click()
        page.get_by_role("button", name="The dot of i comes off as a piece of its own.").click()
        expect(page.locator("[data-preview]")).to_be_visible()
        bench.shown(2)
        page.get_by_role("button", name="Lower it into its letter").click()
        bench.shown(1)
        expect(page.get_by_test_id("verdict")).to_have_text("Clear to cut")
        expect(page.locator("[data-finding]")).to_have_count(0)
        undo(bench)
        bench.shown(2)
        expect(page.locator("[data-finding=mark]")).to_have_count(1)

    def test_thickening_clears_thin_strokes(self, opened):
        bench = opened("Check", "light", "great-vibes", join="set", mm=30)
        page = bench.page
        expect(page.get_by_test_id("verdict")).to_contain_text(re.compile(r"\d+ to repair"))
        page.get_by_role("button", name="Thicken all the lettering").click()
        expect(page.locator("[data-finding=hairline], [data-alike=hairline]")).to_have_count(0)
        bench.stage("Letter")
        thicker = page.get_by_role("textbox", name="Thicker all around")
        assert float(thicker.input_value().split()[0]) > 0
        undo(bench)
        expect(thicker).to_have_value("0 mm")

    def test_until_the_thinnest_stroke_is_as_wide_as_typed(self, opened):
        bench = opened("Letter", "light", "great-vibes", join="set", mm=30)
        page = bench.page
        field = page.get_by_role("textbox", name="Thinnest stroke to be")
        field.fill("1.5 mm")
        field.press("Enter")
        expect(page.get_by_test_id("thinnest")).to_contain_text(re.compile(r"now it is 1\.(49|5|51) mm"))
        bench.choose("Sharp corners")
        page.get_by_role("button", name="As the face draws it").click()
        expect(page.get_by_role("textbox", name="Thicker all around")).to_have_value("0 mm")

    def test_what_is_thinned_away_is_said_and_the_outline_before_stays(self, opened):
        bench = opened("Letter", "light", "great-vibes", join="set", mm=30)
        before = bench.outline()
        thicker = bench.page.get_by_role("textbox", name="Thicker all around")
        thicker.fill("-3 mm")
        thicker.press("Enter")
        expect(bench.problem).to_contain_text("Made so much thinner, nothing is left of")
        bench.outline_is(before)
        undo(bench)
        expect(bench.problem).to_have_count(0)

    def test_a_check_that_failed_is_done_again_or_said(self, opened):
        bench = opened("Check", "in")
        page = bench.page
        verdict = page.get_by_test_id("verdict")
        expect(verdict).to_contain_text("1 to look at")

        def refused_once(status, kind):
            said = {"kind": kind, "what": "Not now.", "todo": "Wait.", "faces": []}
            page.route("**/api/findings", lambda route: route.fulfill(status=status, json=said), times=1)

        # Busy: asked again by itself.
        refused_once(429, "busy")
        bench.stage("Letter")
        bench.words.fill("an")
        bench.stage("Check")
        expect(page.get_by_text("It could not be checked. Not now.")).to_be_visible()
        expect(verdict).to_have_text("Clear to cut")
        # Too much: said, and what was found before is not shown as if it were of this design.
        refused_once(422, "too-much")
        bench.stage("Letter")
        bench.words.fill("ii")
        bench.stage("Check")
        expect(page.get_by_text("It could not be checked. Not now.")).to_be_visible()
        expect(verdict).to_have_count(0)
        bench.stage("Letter")
        bench.words.fill("iii")
        bench.stage("Check")
        expect(verdict).to_contain_text("3 to look at")

    def test_one_is_accepted_and_stays_so_after_a_reload_until_it_is_checked_again(self, opened):
        bench = opened("Check", "in")
        page = bench.page
        page.locator("[data-finding=mark]").get_by_role("button").first.click()
        page.get_by_role("button", name="I know").click()
        expect(page.get_by_test_id("verdict")).to_contain_text("1 accepted")
        expect(bench.figure("findings")).to_have_text("clear to cut")
        bench.saved()
        page.reload()
        bench.stage("Check")
        expect(page.locator("[data-finding=mark]")).to_contain_text("You know of it.")
        page.locator("[data-finding=mark]").get_by_role("button").first.click()
        page.get_by_role("button", name="Check it again").click()
        expect(page.get_by_test_id("verdict")).to_contain_text("1 to look at")

    def test_another_material_and_limits_of_ones_own(self, opened):
        bench = opened("Check", "HIM", "oswald", mm=10)
        page = bench.page
        expect(page.get_by_test_id("verdict")).to_contain_text("Clear to cut")
        page.get_by_role("combobox", name="Material").select_option("Ply, 3 mm")
        expect(page.get_by_role("textbox", name="Narrowest stroke")).to_have_value("1.2 mm")  # †
        expect(page.get_by_test_id("verdict")).to_contain_text("to repair")
        for name in ("Narrowest stroke", "Narrowest neck"):
            field = page.get_by_role("textbox", name=name)
            field.fill("0.3 mm")
            field.press("Enter")
        expect(page.get_by_test_id("verdict")).to_contain_text("Clear to cut")
        page.get_by_role("button", name="Back to those of ply, 3 mm").click()
        expect(page.get_by_test_id("verdict")).to_contain_text("to repair")


class TestTouchUps:
    def take(self, bench, tool):
        group = bench.page.get_by_role("group", name="Touch-ups")
        group.get_by_role("button", name=tool, exact=True).click()

    def points(self, bench):
        """The outline in hand by a key, and where its points are on the screen."""
        bench.work.focus()
        bench.page.keyboard.press("p")
        points = bench.page.locator("[data-outline-point]")
        expect(points.first).to_be_visible()
        # The stage changes with it, and the work is fitted anew.
        stages = bench.page.get_by_role("navigation", name="Stages")
        expect(stages.get_by_role("button", name="Check")).to_have_attribute("aria-current", "step")
        points.first.element_handle().wait_for_element_state("stable")
        return points

    def done(self, bench):
        return bench.page.get_by_role("list", name="Touch-ups done").get_by_role("listitem")

    def test_a_bumps_point_goes_and_the_repair_is_kept_or_reported_when_the_text_changes(self, opened):
        bench = opened("Letter", "Moss", "lobster")
        page = bench.page
        nodes = int(re.match(r"\d+", bench.told("nodes"))[0])
        places = [middle(p) for p in self.points(bench).all()]
        page.mouse.move(*min(places, key=lambda p: p[0]))
        expect(page.locator("[data-pointed=true]")).to_have_count(1)
        page.keyboard.press("Delete")
        done = self.done(bench)
        expect(done).to_have_text(["1. Point taken out"])
        expect(bench.figure("nodes")).to_contain_text(str(nodes - 1))
        page.keyboard.press("Escape")
        expect(page.locator("[data-touch]")).to_have_count(0)
        bench.stage("Letter")
        bench.words.press("End")
        page.keyboard.type("y")
        bench.stage("Check")
        expect(done).to_have_text(["1. Point taken out"])
        bench.stage("Letter")
        bench.words.fill("ossy")
        bench.stage("Check")
        lost = page.locator("[data-lost]")
        expect(lost).to_contain_text("Where a point was taken out, the place is not there any more.")
        expect(bench.figure("findings")).to_contain_text("to look at")
        # With its letter it comes back; and it can be dropped.
        undo(bench)
        expect(lost).to_have_count(0)
        expect(done).to_have_text(["1. Point taken out"])
        page.keyboard.press("Control+Shift+z")
        page.get_by_role("button", name="Drop it").click()
        expect(lost).to_have_count(0)

    def test_a_corner_is_rounded_a_point_dragged_and_dragged_again_as_one(self, opened):
        bench = opened("Check", "L")
        page = bench.page
        before = bench.outline()
        self.take(bench, "Round corner")
        points = page.locator("[data-outline-point]")
        expect(points).to_have_count(6)
        places = [middle(p) for p in points.all()]
        corner = max(places, key=lambda p: p[0] - p[1])
        page.mouse.click(*corner)
        bench.outline_differs_from(before)
        expect(page.get_by_test_id("moved")).to_have_text("Done. The outline moved by up to 0.41 mm.")
        rounded = bench.outline()
        page.keyboard.press("Escape")
        left = min(places, key=lambda p: p[0] + p[1])
        expect(self.points(bench)).to_have_count(7)
        drag(page, left, (left[0] - 30, left[1] - 10))
        bench.outline_differs_from(rounded)
        done = self.done(bench)
        expect(done).to_have_text(["1. Round corner", "2. Point moved"])
        moved = bench.outline()
        expect(page.locator("[data-dragged]")).to_have_count(0)
        drag(page, (left[0] - 30, left[1] - 10), (left[0] - 40, left[1]))
        bench.outline_differs_from(moved)
        expect(done).to_have_text(["1. Round corner", "2. Point moved"])
        page.get_by_role("button", name="Drop touch-up 1").click()
        expect(done).to_have_text(["1. Point moved"])

    def test_a_point_is_put_in_a_curve_pulled_and_a_point_made_smooth(self, opened):
        bench = opened("Check", "L")
        page = bench.page
        points = self.points(bench)
        expect(points).to_have_count(6)
        places = [middle(p) for p in points.all()]
        foot = sorted(places, key=lambda p: -p[1])[:2]
        between = (sum(p[0] for p in foot) / 2, sum(p[1] for p in foot) / 2)
        page.mouse.dblclick(*between)
        expect(points).to_have_count(7)
        done = self.done(bench)
        expect(done).to_have_text(["1. Point put in"])
        before = bench.outline()
        # The pointer is there still.
        expect(page.locator("[data-pointed=true]")).to_have_count(1)
        page.keyboard.press("s")
        expect(done).to_have_text(["1. Point put in", "2. Smoothed"])
        page.mouse.click(*between)
        handle = page.locator("[data-handle=after]")
        expect(handle).to_be_visible()
        start = middle(handle)
        drag(page, start, (start[0], start[1] - 30))
        expect(done).to_have_text(["1. Point put in", "2. Smoothed", "3. Curve pulled"])
        bench.outline_differs_from(before)
        # Esc lets go of the point, then of the outline.
        page.keyboard.press("Escape")
        expect(handle).to_have_count(0)
        page.keyboard.press("Escape")
        expect(points).to_have_count(0)
        for _ in range(3):
            undo(bench)
        expect(done).to_have_count(0)

    def test_a_point_that_cannot_go_there_comes_back_and_it_is_said(self, opened):
        bench = opened("Check", "L")
        places = [middle(p) for p in self.points(bench).all()]
        before = bench.outline()
        left, right = min(places), max(places)
        drag(bench.page, left, (right[0] + 60, right[1] - 40))
        expect(bench.problem).to_contain_text("This point cannot be moved there.")
        expect(bench.page.locator("[data-dragged]")).to_have_count(0)
        bench.outline_is(before)

    def test_where_there_is_nothing_to_do_it_says_so(self, opened):
        bench = opened("Check", "L")
        self.take(bench, "Fill hole")
        before = bench.outline()
        box = box_at_rest(bench.page.locator("[data-touch]"))
        bench.page.mouse.click(box["x"] + box["width"] - 80, box["y"] + 100)
        expect(bench.problem).to_contain_text("There is no hole here.")
        bench.outline_is(before)
