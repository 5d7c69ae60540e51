"""The API of repairs: findings and remedies, bars, shapes of letters, touch-ups; and what bad asks get."""

import json
import math

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from designs.models import Design
from tests.server.conftest import recipe
from tests.server.test_api import of_part, refused

BOAT = b'<svg xmlns="http://www.w3.org/2000/svg"><path transform="scale(3)" d="M0 0H40L30 12H8Z"/></svg>'


def design(text="in", mirror=False, **part):
    part = {"face": {"family": "anton"}, "join": {"how": "auto"}, "size": {"mm": 40}, **part}
    part.setdefault("letter_ids", list(range(1, len(text) + 1)))
    return {**recipe(text, **part), "version": 2, "mirror": mirror}


def pieces(api, body):
    return [p for film in api.evaluated(body)["films"] for p in film["pieces"]]


class TestFindings:
    def test_what_is_found_comes_with_place_measure_limit_and_remedy(self, api):
        status, told = api.post("/findings", {"recipe": design()})
        assert status == 200
        (mark,) = told["findings"]
        assert (mark["kind"], mark["blocks"], mark["accepted"]) == ("mark", False, False)
        assert mark["remedy"] == "Lower it into its letter"
        assert told["material"] == "Adhesive film"
        assert told["limits"]["neck_mm"] == 0.8  # † common practice, no published source
        box = api.evaluated(design())["box"]
        assert box["x"] <= mark["box"]["x"] <= box["x"] + box["width"]

    def test_a_remedy_is_taken_and_the_finding_is_gone(self, api):
        mended = api.post("/findings/remedy", {"recipe": design(), "numbers": [0]})[1]
        assert api.post("/findings", {"recipe": mended})[1]["findings"] == []
        assert len(pieces(api, mended)) == 1

    def test_one_accepted_stays_so(self, api):
        known = api.post("/findings", {"recipe": design()})[1]["findings"][0]["as_accepted"]
        told = api.post("/findings", {"recipe": {**design(), "accepted_findings": [known]}})[1]["findings"]
        assert [f["accepted"] for f in told] == [True]

    def test_a_number_that_is_none_and_a_finding_without_a_remedy_are_refused(self, api):
        for number in (1, 9_999):
            problem = refused(api.post("/findings/remedy", {"recipe": design(), "numbers": [number]}))
            assert problem["what"] == "There is no remedy for this."
        refused(api.post("/findings/remedy", {"recipe": design(), "numbers": [-1]}))

    def test_lost_touch_ups_are_named(self, api):
        lost = {"kind": "fill", "part": "lettering-1", "at": {"letter": 9, "x": 0, "y": 0}}
        told = api.post("/findings", {"recipe": {**design(), "touch_ups": [lost]}})[1]
        assert told["lost"] == [{"number": 0, "what": "Where a hole was filled"}]

    def test_in_a_mirrored_design_places_are_the_same_for_mirroring_is_the_views(self, api):
        plain, mirrored = (
            api.post("/findings", {"recipe": design(mirror=m)})[1]["findings"][0]["box"]
            for m in (False, True)
        )
        assert mirrored == plain

    def test_a_design_as_full_of_repairs_as_it_may_be_says_so_and_stays_as_it_was(self, api):
        touch_up = {"kind": "fill", "at": {"part": "lettering-1", "letter": 1, "x": 9, "y": 9}}
        full = api.post("/designs", {"name": "d", "recipe": {**design("light"), "touch_ups": []}})[1][
            "recipe"
        ]
        thin = {**full, "touch_ups": [touch_up] * 300}
        thin["parts"][0]["face"] = {"family": "great-vibes"}
        found = api.post("/findings", {"recipe": thin})[1]["findings"]
        number = next(f["number"] for f in found if f["remedy"] == "Thicken here")
        problem = refused(api.post("/findings/remedy", {"recipe": thin, "numbers": [number]}))
        assert (problem["kind"], problem["where"]) == ("full", "touch_ups")
        assert "300 repairs" in problem["what"]

    @pytest.mark.parametrize("limits", [{"neck_mm": -1}, {"neck_mm": "NaN"}, 3])
    def test_limits_that_are_none_are_refused(self, api, limits):
        material = {"name": "Mine", "limits": limits}
        refused(api.post("/findings", {"recipe": {**design(), "material": material}}))


class TestThickenUntil:
    def body(self, mm, text="light", part="lettering-1", face="great-vibes"):
        return {"recipe": design(text, face={"family": face}), "part": part, "stroke_mm": mm}

    def test_the_thinnest_stroke_becomes_as_wide_as_asked(self, api):
        told = api.post("/thicken-until", self.body(2.0))[1]
        assert told["before_mm"] < 1.6
        assert told["is_met"]
        assert told["after_mm"] == pytest.approx(2.0, abs=0.011)
        body = self.body(2.0)["recipe"]
        body["parts"][0]["thicken_mm"] = told["thicken_mm"]
        again = api.post("/thicken-until", {"recipe": body, "part": "lettering-1", "stroke_mm": 2.0})[1]
        assert again["before_mm"] == pytest.approx(2.0, abs=0.011)

    def test_what_is_thick_enough_is_said_with_how_thick(self, api):
        problem = refused(api.post("/thicken-until", self.body(0.05, face="anton")))
        assert problem["kind"] == "thick-enough"
        assert "mm wide already" in problem["what"]


class TestBars:
    def lay(self, api, start, end, body=None, **more):
        body = body or design("OO", join={"how": "set"})
        return api.post("/bars/lay", {"recipe": body, "start": start, "end": end, **more})

    def places(self, api, body):
        boxes = [letter["box"] for letter in api.evaluated(body)["letters"]]
        # The right stroke of the first letter and the left one of the second.
        return (
            {"x": boxes[0]["x"] + boxes[0]["width"] - 1, "y": -20},
            {"x": boxes[1]["x"] + 1, "y": -20},
        )

    def test_it_snaps_to_the_strokes_and_holds_at_both_ends(self, api):
        body = design("OO", join={"how": "set"})
        status, bar = self.lay(api, *self.places(api, body), body)
        assert status == 200
        assert (bar["start"]["letter"], bar["end"]["letter"]) == (1, 2)
        assert bar["start"]["part"] == "lettering-1"
        assert bar["width_mm"] == 1.2  # † the neck that film is given: common practice
        kept = api.post("/designs", {"name": "d", "recipe": body})[1]["recipe"]
        tied = api.evaluated({**kept, "bars": [bar]})
        assert len(tied["films"][0]["pieces"]) == 1
        (laid,) = tied["bridges"]
        assert min(laid["necks_mm"]) > 1

    def test_from_one_part_to_another_it_ties_them_and_goes_where_they_go(self, api):
        part = {"text": "O", "face": {"family": "anton"}, "size": {"mm": 40}}
        body = {
            "format": "fulgen-recipe",
            "version": 3,
            "parts": [{**part, "id": "left"}, {**part, "id": "right", "place": {"x": 45, "y": 3}}],
        }
        assert len(pieces(api, body)) == 2
        bar = self.lay(api, {"x": 18, "y": -20}, {"x": 47, "y": -20}, body)[1]
        assert (bar["start"]["part"], bar["end"]["part"]) == ("left", "right")
        for place in ({"x": 45, "y": 3}, {"x": 60, "y": -8, "turn": 20, "scale": 1.2}):
            body["parts"][1]["place"] = place
            tied = api.evaluated({**body, "bars": [bar]})
            assert len(tied["films"][0]["pieces"]) == 1
            assert min(tied["bridges"][0]["necks_mm"]) > 1
        alone = api.evaluated({**body, "parts": body["parts"][:1], "bars": [bar]})
        assert alone["bridges"][0]["ends"] == []

    def test_a_bar_onto_itself_is_refused(self, api):
        start, _ = self.places(api, design("OO", join={"how": "set"}))
        assert refused(self.lay(api, start, start))["kind"] == "no-bar"

    @pytest.mark.parametrize("end", [{"x": 1e9, "y": 0}, {"x": 0}, None, {"x": "a", "y": 1}])
    def test_places_that_are_none_are_refused(self, api, end):
        refused(self.lay(api, {"x": 0, "y": 0}, end))

    @pytest.mark.parametrize("width", [0, -1, 1e6])
    def test_widths_that_are_none_are_refused(self, api, width):
        refused(self.lay(api, {"x": 1, "y": -1}, {"x": 30, "y": -1}, width_mm=width))


class TestLetterShapes:
    def nodes(self, api, body=None, letter=1):
        return api.post("/letters/nodes", {"recipe": body or design(), "part": "lettering-1", "id": letter})

    @pytest.mark.parametrize("turn", [0, 35])
    @pytest.mark.parametrize("place", [{}, {"x": 9, "turn": 50, "scale": 2, "flip": True}])
    def test_a_node_moved_by_so_many_mm_is_so_many_mm_further(self, api, place, turn):
        body = {**design("L", letters={1: {"turn": turn}}), "version": 3}
        body["parts"][0]["place"] = place
        told = self.nodes(api, body)[1]
        node = told["nodes"][0]
        a, b, c, d = told["per_mm"]
        edit = {"kind": "move", "nodes": [node["name"]], "dx": a * 3 + b * 4, "dy": c * 3 + d * 4}
        part = body["parts"][0]
        letters = {1: {**part["letters"][1], "shape": {"of": told["mark"], "edits": [edit]}}}
        moved = self.nodes(api, {**body, "parts": [{**part, "letters": letters}]})[1]["nodes"]
        others = {n["name"]: n for n in told["nodes"]}
        shift = {n["name"]: (n["x"] - others[n["name"]]["x"], n["y"] - others[n["name"]]["y"]) for n in moved}
        base = next(v for name, v in shift.items() if name != node["name"])
        # The word is laid from its left edge, so all of it may slide along with what was moved.
        assert shift[node["name"]][0] - base[0] == pytest.approx(3, abs=1e-3)
        assert shift[node["name"]][1] - base[1] == pytest.approx(4, abs=1e-3)

    def test_the_ends_of_strokes_are_told(self, api):
        told = self.nodes(api, design("T"))[1]
        assert len(told["ends"]) == 3
        assert {round(end["dx"]) for end in told["ends"]} == {-1, 0, 1}

    def test_a_letter_that_is_not_there_or_a_stand_in_has_no_nodes(self, api):
        assert refused(self.nodes(api, letter=77))["kind"] == "no-shape"
        body = design("O", letters={1: {"stand_in": {"shape": "star"}}})
        assert refused(self.nodes(api, body))["kind"] == "no-shape"

    def test_an_edit_that_leaves_nothing_is_refused(self, api):
        told = self.nodes(api, design("L"))[1]
        names = [n["name"] for n in told["nodes"]]
        shape = {"of": told["mark"], "edits": [{"kind": "remove", "nodes": names}]}
        body = design("L", letters={1: {"shape": shape}})
        assert of_part(api.post("/evaluate", {"recipe": body}))["kind"] == "reshape"

    @pytest.mark.parametrize(
        "edit",
        [
            {"kind": "bend", "nodes": [1]},
            {"kind": "move", "nodes": []},
            {"kind": "move", "nodes": [1], "dx": 1e9},
        ],
    )
    def test_edits_that_are_none_are_refused(self, api, edit):
        shape = {"of": "0123456789ab", "edits": [edit]}
        refused(api.post("/evaluate", {"recipe": design("L", letters={1: {"shape": shape}})}))


class TestShapes:
    def read(self, api, data, name="boat.svg"):
        answer = api.client.post("/api/shapes/read", {"file": SimpleUploadedFile(name, data)})
        return answer.status_code, answer.json()

    def test_a_file_of_ones_own_stands_in_for_a_letter(self, api):
        status, shape = self.read(api, BOAT)
        assert status == 200
        assert shape["shape"] == "boat"
        body = design("BOAT", letters={2: {"stand_in": shape}})
        assert len(pieces(api, body)) == 1

    @pytest.mark.parametrize(
        "data",
        [b"", b"GIF89a", b"<svg/>", b"<svg><script>1</script></svg>", b"x" * (2**20 + 5),
         b'<!DOCTYPE svg [<!ENTITY a "b">]><svg>&a;</svg>', b'<svg><path d="M0 0L9 9"/></svg>'],
    )  # fmt: skip
    def test_a_file_that_is_no_shape_is_refused(self, api, data):
        problem = refused(self.read(api, data))
        assert problem["kind"] == "bad-shape"
        assert "boat.svg" in problem["what"]

    @pytest.mark.parametrize(
        "stand_in", [{"shape": "gnu"}, {"shape": "mine", "d": "M0 0"}, {"shape": "mine", "d": "<script>"}]
    )
    def test_a_stand_in_that_is_none_is_said_beside_its_part(self, api, stand_in):
        of_part(api.post("/evaluate", {"recipe": design("O", letters={1: {"stand_in": stand_in}})}))

    def test_a_drawing_with_more_points_than_a_recipe_may_hold_is_refused(self, api):
        """400 discs make a path of more than the 60,000 signs that a stand-in holds."""
        discs = "".join(
            f'<circle cx="{n % 15 * 30 + 0.1234567}" cy="{n // 15 * 30 + 0.7654321}" r="{9.123 + n / 999}"/>'
            for n in range(400)
        )
        drawing = f'<svg xmlns="http://www.w3.org/2000/svg">{discs}</svg>'
        problem = refused(self.read(api, drawing.encode()))
        assert "more points than Fulgen keeps" in problem["what"]


class TestTouchUps:
    def lay(self, api, kind, body=None, **more):
        return api.post("/touch-ups/lay", {"recipe": body or design("H"), "kind": kind, **more})

    def corner(self, api, body):
        return max(((node["x"], node["y"]) for node in self.nodes(api, body)), key=lambda p: p[0] - p[1])

    def nodes(self, api, body):
        contours = api.post("/outline/nodes", {"recipe": body})[1]["contours"]
        return [node for contour in contours for node in contour]

    @pytest.mark.parametrize("place", [{}, {"y": 30, "turn": 90, "flip": True}])
    def test_a_corner_is_rounded_and_the_touch_up_comes_back_anchored(self, api, place):
        body = {**design("H"), "version": 3}
        body["parts"][0]["place"] = place
        x, y = self.corner(api, body)
        status, laid = self.lay(api, "round", body, at={"x": x, "y": y}, size_mm=1.5)
        assert status == 200
        touch_up = laid["touch_up"]
        # The corner itself is (sqrt(2) - 1) radii from the arc.
        assert laid["moved_mm"] == pytest.approx(1.5 * (2**0.5 - 1), rel=0.05)
        assert touch_up["at"]["letter"] == 1
        mended = {**body, "touch_ups": [touch_up]}
        assert api.evaluated(mended)["cut_length_mm"] < api.evaluated(body)["cut_length_mm"]
        assert api.post("/findings", {"recipe": mended})[1]["lost"] == []

    @pytest.mark.parametrize("place", [{}, {"y": 30, "turn": 180, "scale": 1.5, "flip": True}])
    def test_a_point_is_moved_by_mm_on_the_work(self, api, place):
        body = {**design("H"), "version": 3}
        body["parts"][0]["place"] = place
        x, y = self.corner(api, body)
        touch_up = self.lay(api, "move", body, at={"x": x, "y": y}, dx_mm=2, dy_mm=-1)[1]["touch_up"]
        there = self.corner(api, {**body, "touch_ups": [touch_up]})
        assert there == pytest.approx((x + 2, y - 1), abs=1e-3)

    def test_a_point_moved_again_is_one_touch_up(self, api):
        body = {**design("H"), "version": 3}
        x, y = self.corner(api, body)
        first = self.lay(api, "move", body, at={"x": x, "y": y}, dx_mm=2, dy_mm=-1)[1]
        assert not first["goes_on"]
        moved = {**body, "touch_ups": [first["touch_up"]]}
        again = self.lay(api, "move", moved, at={"x": x + 2, "y": y - 1}, dx_mm=1)[1]
        assert again["goes_on"]
        there = self.corner(api, {**body, "touch_ups": [again["touch_up"]]})
        assert there == pytest.approx((x + 3, y - 1), abs=1e-3)
        another = self.nodes(api, moved)[0]
        other = self.lay(api, "move", moved, at={"x": another["x"], "y": another["y"]}, dx_mm=0.5)[1]
        assert not other["goes_on"]

    def test_a_point_is_put_in_and_the_outline_stays(self, api):
        """A side of a stem is parted in its middle, by arithmetic; and the new point can be moved."""
        body = {**design("H"), "version": 3}
        nodes = self.nodes(api, body)
        x, y = self.corner(api, body)
        below = min((n for n in nodes if abs(n["x"] - x) < 1e-6 and n["y"] > y + 1), key=lambda n: n["y"])
        middle = {"x": x, "y": (y + below["y"]) / 2}
        laid = self.lay(api, "insert", body, at=middle)[1]
        assert laid["moved_mm"] == pytest.approx(0, abs=1e-6)
        put = {**body, "touch_ups": [laid["touch_up"]]}
        assert len(self.nodes(api, put)) == len(nodes) + 1
        pulled = self.lay(api, "move", put, at=middle, dx_mm=1.5)[1]
        there = self.nodes(api, {**put, "touch_ups": [laid["touch_up"], pulled["touch_up"]]})
        assert any(n["x"] == pytest.approx(x + 1.5, abs=1e-3) for n in there)

    def test_a_curve_is_pulled_by_its_handle(self, api):
        body = {**design("O"), "version": 3}
        node = next(n for n in self.nodes(api, body) if n["after"] and n["smooth"])
        at = {"x": node["x"], "y": node["y"]}
        laid = self.lay(api, "after", body, at=at, dx_mm=0.6, dy_mm=0.4)[1]
        now = self.nodes(api, {**body, "touch_ups": [laid["touch_up"]]})
        same = min(now, key=lambda n: abs(n["x"] - at["x"]) + abs(n["y"] - at["y"]))
        assert same["after"]["x"] == pytest.approx(node["after"]["x"] + 0.6, abs=2e-3)
        assert same["after"]["y"] == pytest.approx(node["after"]["y"] + 0.4, abs=2e-3)
        # The outline flows on through the point: its other handle turns along.
        into = (same["x"] - same["before"]["x"], same["y"] - same["before"]["y"])
        out = (same["after"]["x"] - same["x"], same["after"]["y"] - same["y"])
        cross = into[0] * out[1] - into[1] * out[0]
        assert cross == pytest.approx(0, abs=1e-3 * math.hypot(*into) * math.hypot(*out) + 1e-4)

    @pytest.mark.parametrize("kind", ["fill", "cut", "thicken", "close", "remove", "move", "smooth", "round",
                                      "insert", "before", "after"])  # fmt: skip
    def test_where_it_cannot_be_done_it_says_why_and_what_to_do(self, api, kind):
        problem = refused(self.lay(api, kind, at={"x": 500, "y": 500}, to={"x": 510, "y": 500}, size_mm=1))
        assert problem["kind"] == "no-place"
        assert problem["todo"]

    def test_a_kind_that_is_none_is_refused(self, api):
        refused(self.lay(api, "melt", at={"x": 0, "y": 0}))


class TestKept:
    def test_all_of_it_is_kept_with_the_design(self, api):
        body = design("OO", underline={"style": "swash"}, thicken_mm=0.2, corners="mitred")
        body["parts"][0]["letters"] = {"2": {"stand_in": {"shape": "heart"}, "marks": "bridge"}}
        body["material"] = {"name": "Card"}
        made = api.post("/designs", {"name": "d", "recipe": body})[1]
        kept = api.get(f"/designs/{made['id']}")[1]["recipe"]
        part = kept["parts"][0]
        assert part["underline"]["style"] == "swash"
        assert (part["thicken_mm"], part["corners"]) == (0.2, "mitred")
        assert part["letters"]["2"]["stand_in"]["shape"] == "heart"
        assert kept["material"]["name"] == "Card"

    @pytest.mark.parametrize("path", ["/findings", "/findings/remedy", "/bars/lay", "/touch-ups/lay",
                                      "/letters/nodes", "/outline/nodes", "/thicken-until"])  # fmt: skip
    @pytest.mark.parametrize("body", ["", "{", "[]", '"x"', b"\xff", json.dumps({"recipe": 3})])
    def test_malformed_bodies_are_refused_and_nothing_is_kept(self, api, path, body):
        code, problem = api.post(path, body)
        assert code in (400, 422)
        refused((code, problem), code)
        assert not Design.objects.exists()


def test_a_bridge_whose_letter_is_gone_does_no_harm_to_a_mirrored_design(api):
    """The bridge is told as lost, and everything else is there."""
    bar = {"start": {"part": "lettering-1", "letter": 1, "x": 0.2, "y": -0.3},
           "end": {"part": "lettering-1", "letter": 5, "x": 0.2, "y": -0.3}}  # fmt: skip
    body = {**recipe("Hero", place={"flip": True}), "version": 3, "mirror": True, "bars": [bar]}
    told = api.evaluated(body)
    assert told["films"][0]["pieces"]
    assert told["bridges"][0]["ends"] == []
    assert api.post("/svg", {"recipe": body, "anyway": True})[0] == 200
    assert api.post("/findings", {"recipe": body})[0] == 200


def test_one_bridge_more_than_a_design_may_hold_is_refused(api):
    bar = {"start": {"part": "lettering-1", "letter": 1, "x": 0.2, "y": -0.3},
           "end": {"part": "lettering-1", "letter": 2, "x": 0.2, "y": -0.3}}  # fmt: skip
    body = {**recipe("He"), "version": 3, "bars": [bar] * 200}
    wanted = {"recipe": body, "start": {"x": 2, "y": -5}, "end": {"x": 30, "y": -5}}
    assert refused(api.post("/bars/lay", wanted))["kind"] == "full"
