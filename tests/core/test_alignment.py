"""Parts that keep their place: closed forms, boxes by shapely. Letters that lean: HarfBuzz's own slant."""

import io
import math

import pytest
import shapely
import shapely.affinity
import uharfbuzz as hb
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from fulgen.geometry.flatten import flat_contours
from fulgen.geometry.outline import Outline
from fulgen.geometry.pen import OutlinePen
from fulgen.geometry.placement import Placement
from fulgen.lettering.catalogue import FaceChoice, shipped_face
from fulgen.parts.part import Alignment
from fulgen.problem import Problem
from fulgen.recipe.alignment import aligned
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from fulgen.units import MM_PER_INCH

SHARES = {"left": 0.0, "centre": 0.5, "right": 1.0, "top": 0.0, "middle": 0.5, "bottom": 1.0}


def made(*parts):
    return evaluate(recipe_from({"format": "fulgen-recipe", "version": 11, "parts": list(parts)}))


def plate(part_id="plate", width=100.0, height=60.0, x=0.0, y=0.0, **more):
    return {"kind": "shape", "id": part_id, "form": "rectangle", "width_mm": width, "height_mm": height,
            "place": {"x": x, "y": y}, **more}  # fmt: skip


def word(text="Ann", part_id="name", x=0.0, y=0.0, mm=12.0, **more):
    return {"kind": "lettering", "id": part_id, "text": text, "face": {"family": "anton"},
            "size": {"measure": "capitals", "mm": mm}, "place": {"x": x, "y": y}, **more}  # fmt: skip


def at(box, across=None, down=None):
    left, top, right, bottom = box
    return (
        None if across is None else left + (right - left) * SHARES[across],
        None if down is None else top + (bottom - top) * SHARES[down],
    )


coordinate = st.floats(-500, 500)
size = st.floats(0, 300)


@given(
    *(coordinate, coordinate, size, size, coordinate, coordinate, size, size, coordinate, coordinate),
    st.sampled_from(["left", "centre", "right"]),
    st.sampled_from(["top", "middle", "bottom"]),
)
def test_the_edge_that_is_held_lies_as_far_off_as_its_place_says(
    x, y, w, h, ox, oy, ow, oh, px, py, across, down
):
    box, other = (x, y, x + w, y + h), (ox, oy, ox + ow, oy + oh)
    place = aligned(Placement(px, py), box, Alignment("other", across, down), other)
    moved = tuple(v + d for v, d in zip(box, 2 * (place.x - px, place.y - py), strict=True))
    there, its = at(moved, across, down), at(other, across, down)
    assert there == pytest.approx((its[0] + px, its[1] + py), abs=1e-6)


@pytest.mark.parametrize("across", ["left", "centre", "right"])
@pytest.mark.parametrize("down", ["top", "middle", "bottom"])
def test_a_changed_word_stays_where_it_is_held(across, down):
    held = {"to": "plate", "across": across, "down": down}
    for text in ("Ann", "Christabel", "gy"):
        evaluation = made(plate(x=13.0, y=-8.0), word(text, x=2.0, y=-1.5, alignment=held))
        name, ground = (evaluation.built[part].box for part in ("name", "plate"))
        there, its = at(name, across, down), at(ground, across, down)
        assert there == pytest.approx((its[0] + 2.0, its[1] - 1.5), abs=1e-6)


def test_held_by_its_own_place_it_grows_to_both_sides():
    middles = []
    for text in ("Ann", "Christabel"):
        evaluation = made(word(text, x=40.0, y=5.0, alignment={"across": "centre"}))
        left, _, right, _ = evaluation.built["name"].box
        middles.append((left + right) / 2)
        # Down it is not held: its baseline is where its place says, as letters without descenders show.
        assert evaluation.built["name"].place.y == 5.0
    assert middles == pytest.approx([40.0, 40.0], abs=1e-6)


def test_what_is_aligned_goes_along_through_others_and_inside_combinations():
    """A chain of three, in a plate that lies turned by a quarter and twice as large."""
    parts = (
        plate(),
        word("Ann", alignment={"to": "plate", "across": "centre", "down": "middle"}),
        plate("dot", 4.0, 4.0, x=0.0, y=3.0, alignment={"to": "name", "across": "right", "down": "bottom"}),
        {"kind": "combination", "id": "whole", "how": "weld", "members": ["plate", "name", "dot"],
         "place": {"x": 200.0, "y": 10.0, "turn": 90.0, "scale": 2.0}},
    )  # fmt: skip
    evaluation = made(*parts)
    assert evaluation.failures == ()
    plate_box, name, dot = (evaluation.built[part].box for part in ("plate", "name", "dot"))
    # Turned by a quarter clockwise, right is below and below is left.
    assert at(name, "centre", "middle") == pytest.approx(at(plate_box, "centre", "middle"), abs=1e-5)
    assert dot[3] == pytest.approx(name[3], abs=1e-5)
    assert dot[0] == pytest.approx(name[0] - 6.0, abs=1e-5)


def test_a_backing_follows_its_part_where_that_is_aligned_to():
    held = {"to": "plate", "across": "centre", "down": "middle"}
    backing = {"kind": "backing", "id": "under", "of": "name", "by_mm": 2.0, "film": "#C9A24A"}
    evaluation = made(plate(x=50.0), word(alignment=held), backing)
    name, under = evaluation.built["name"].box, evaluation.built["under"].box
    grown = (name[0] - 2, name[1] - 2, name[2] + 2, name[3] + 2)
    assert under == pytest.approx(grown, abs=0.02)


def test_aligned_to_words_that_are_not_typed_yet_it_lies_where_they_begin():
    held = {"to": "other", "across": "left", "down": "top"}
    evaluation = made(word("", "other", x=30.0, y=7.0), word(alignment=held))
    assert evaluation.failures == ()
    assert evaluation.built["name"].box[:2] == pytest.approx((30.0, 7.0), abs=1e-6)


def test_what_cannot_be_is_told_and_nothing_else_fails():
    held = {"to": "plate", "across": "left"}
    inside = {"kind": "combination", "id": "whole", "members": ["plate", "more"]}
    evaluation = made(plate(), plate("more", x=20.0), inside, word(alignment=held))
    (failure,) = evaluation.failures
    assert failure.parts == ("name",)
    assert "another combination" in failure.problem.what
    assert evaluation.built["whole"].shapes
    with pytest.raises(Problem, match="which is not there"):
        made(word(alignment={"to": "gone", "across": "left"}))
    with pytest.raises(Problem, match="in a ring"):
        made(
            word(alignment={"to": "plate", "across": "left"}), plate(alignment={"to": "name", "down": "top"})
        )
    with pytest.raises(Problem, match="alignment"):
        made(word(alignment={"across": "middle"}))


class TestOffItsGround:
    def told(self, *parts):
        evaluation = made(*parts)
        return [one.problem.what for one in evaluation.unmet if one.problem.kind == "off-ground"]

    def test_a_word_that_is_longer_than_its_plate_says_by_how_much(self):
        """The plate ends at x = 10, and how far the word goes is its box (shapely)."""
        cut = {"kind": "combination", "id": "whole", "how": "cut", "members": ["plate", "name"]}
        right = shapely.union_all([s.region for s in made(word("Heron")).built["name"].shapes]).bounds[2]
        (said,) = self.told(plate(width=20.0, height=80.0), word("Heron"), cut)
        assert said == f"“Heron” runs {right - 10:.1f} mm off what it lies on."

    def test_not_while_it_lies_on_it_nor_over_a_hole_of_it_nor_beside_it(self):
        ring = {"kind": "shape", "id": "plate", "form": "ring", "width_mm": 120.0, "height_mm": 120.0}
        held = {"to": "plate", "across": "centre", "down": "middle"}
        assert self.told(plate(width=200.0), word(alignment=held)) == []
        assert self.told(ring, word(alignment=held)) == []
        assert self.told(plate(width=10.0), word(x=300.0, alignment={"to": "plate", "down": "middle"})) == []
        assert len(self.told(plate(width=10.0), word(alignment=held))) == 1


class TestSlant:
    @pytest.mark.parametrize("degrees", [12.0, -20.0, 45.0])
    def test_letters_lean_as_harfbuzz_slants_them(self, degrees):
        """The area of the difference to HarfBuzz's outline of a slanted H, by shapely; 40 mm large."""
        anton = shipped_face(FaceChoice("anton"))
        face = anton.files[anton.file_for("H")]
        font = hb.Font(face.face)
        font.synthetic_slant = math.tan(math.radians(degrees))
        pen = OutlinePen(1000)
        font.draw_glyph_with_pen(font.get_nominal_glyph(ord("H")), pen)
        upem = face.face.upem
        drawn = Outline(pen.outline.verbs, pen.outline.points * (40 / upem, -40 / upem))
        (ring,) = flat_contours(drawn, 0.001)
        ours = made(
            {
                "text": "H",
                "face": {"family": "anton"},
                "size": {"measure": "face", "mm": 40.0},
                "slant": degrees,
            }
        )
        region = ours.films[0].shape.region
        theirs = shapely.Polygon(ring)
        # Where a line of letters begins is a matter of its own.
        theirs = shapely.affinity.translate(theirs, region.bounds[0] - theirs.bounds[0], 0)
        assert shapely.symmetric_difference(region, theirs).area < 1e-3 * region.area

    def test_a_slant_keeps_area_and_height(self):
        upright, slanted = (
            made({"text": "Heron", "face": {"family": "anton"}, "slant": degrees}).built["lettering-1"]
            for degrees in (0.0, 15.0)
        )
        areas = [sum(s.region.area for s in part.shapes) for part in (upright, slanted)]
        assert areas[0] == pytest.approx(areas[1], rel=1e-3)
        assert upright.box[1::2] == pytest.approx(slanted.box[1::2], abs=1e-6)

    def test_a_slanted_word_is_as_wide_as_asked(self):
        part = {
            "text": "Heron",
            "size": {"measure": "width", "mm": 90.0},
            "slant": 18.0,
            "join": {"how": "auto"},
        }
        left, _, right, _ = made(part).built["lettering-1"].box
        assert right - left == pytest.approx(90.0, abs=0.02)


def test_a_size_in_points_is_that_of_the_face():
    """100 pt are 100/72 in of the em (ISO 32000-1, 8.3.2.3); how high an H is of it, fontTools says."""
    mm = 100 / 72 * MM_PER_INCH
    evaluation = made({"text": "H", "face": {"family": "anton"}, "size": {"measure": "face", "mm": mm}})
    _, top, _, bottom = evaluation.built["lettering-1"].box
    face = shipped_face(FaceChoice("anton"))
    font = TTFont(io.BytesIO(bytes(face.files[face.file_for("H")].face.blob.data)))
    pen = BoundsPen(font.getGlyphSet())
    font.getGlyphSet()[font.getBestCmap()[ord("H")]].draw(pen)
    high = (pen.bounds[3] - pen.bounds[1]) / font["head"].unitsPerEm
    assert bottom - top == pytest.approx(mm * high, rel=1e-3)
