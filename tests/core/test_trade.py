"""Facts of the trade, as makers have them from each other: common practice, without a published source. Each
is a whole small job with the figure that it has to come to, measured by GEOS or by hand."""

import io
import json
import math
import string

import pytest
import shapely
import svgelements

from fulgen.formats.drawn_sheet import JobCaption, drawn_sheet
from fulgen.formats.sheet_files import write_file
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from fulgen.sheet.machines import machine
from fulgen.sheet.motifs import motifs_of
from fulgen.sheet.sheets import Sheet, laid_out
from fulgen.units import parse_length

INCH = 25.4


def design(*parts, **more):
    raw = {"format": "fulgen-recipe", "version": 10, "parts": list(parts), **more}
    return evaluate(recipe_from(json.loads(json.dumps(raw)))).whole()


def word(text, face="pacifico", mm=60.0, measure="width", **more):
    return {"id": "word", "text": text, "face": {"family": face}, "size": {"measure": measure, "mm": mm},
            "join": {"how": "auto"}, **more}  # fmt: skip


def disc(number, x):
    return {"kind": "shape", "id": f"disc-{number}", "form": "disc", "width_mm": 40.0, "height_mm": 40.0,
            "place": {"x": x}}  # fmt: skip


@pytest.mark.parametrize("text", ["Linnet", "Marina"])
def test_a_joined_word_with_one_dot_comes_off_in_two_pieces(text):
    assert len(design(word(text)).pieces) == 2


def test_three_overlapping_discs_come_off_in_one():
    (piece,) = design(disc(1, 0.0), disc(2, 30.0), disc(3, 60.0)).pieces
    lens = 2 * 400 * math.acos(30 / 40) - 15 * math.sqrt(1600 - 900)  # of two circles 30 mm apart
    assert piece.area == pytest.approx(3 * math.pi * 400 - 2 * lens, rel=1e-3)


@pytest.mark.parametrize("clearance", ["2 mm", "3 mm", "1/8 in"])
def test_small_names_over_a_word_stand_so_far_clear_of_it(clearance):
    far = parse_length(clearance, "mm", "halo")
    big = word("CREW", "anton", 160.0, id="big", film="#8C2F39", join={"how": "set"})
    name = word("Maud", "grand-hotel", 50.0, film="#1F4E6B", place={"x": 40.0, "y": -26.0})
    halo = {"kind": "combination", "id": "both", "how": "halo", "members": ["big", "word"],
            "film": "#8C2F39", "halo": {"mm": far}}  # fmt: skip
    films = {film.colour: film.shape.region for film in design(big, name, halo).films}
    assert shapely.distance(films["#8C2F39"], films["#1F4E6B"]) == pytest.approx(far, abs=2 * FLATNESS_MM)


def test_a_sheet_of_eleven_by_eight_and_a_half_inches_lies_on_its_side():
    plate = {
        "kind": "shape",
        "id": "plate",
        "form": "rectangle",
        "width_mm": 10 * INCH,
        "height_mm": 7.5 * INCH,
    }
    found = design(plate)
    motifs = motifs_of("plate", found, found.recipe.cut)
    (laid,) = laid_out(motifs, lambda _film: Sheet(11 * INCH, 8.5 * INCH))
    assert laid.promised[0].bounds == pytest.approx((5.0, 5.0, 5.0 + 10 * INCH, 5.0 + 7.5 * INCH))
    with pytest.raises(Problem, match="can be cut from this sheet"):
        laid_out(motifs, lambda _film: Sheet(8.5 * INCH, 11 * INCH))


def test_a_beam_follows_lines_of_a_quarter_millimetre_without_fill():
    found = design(disc(1, 0.0))
    (laid,) = laid_out(motifs_of("disc", found, found.recipe.cut), lambda _film: Sheet(300.0, 300.0))
    drawn = drawn_sheet("disc", laid.job(machine("Laser")), JobCaption("disc"), 0.25)
    read = svgelements.SVG.parse(io.BytesIO(write_file(drawn, "svg").data), ppi=INCH)
    (path,) = read.elements(lambda e: isinstance(e, svgelements.Path))
    assert path.fill.value is None
    assert path.stroke_width == pytest.approx(0.25)


@pytest.mark.parametrize("initial", string.ascii_uppercase)
def test_one_name_across_each_initial_is_one_piece(initial):
    name = word("Heron", id="name", join={"how": "auto", "marks": "lower", "tie": True})
    frame = {"kind": "frame", "id": "frame", "form": "split initial", "members": ["name"], "text": initial,
             "width_mm": 90.0, "height_mm": 100.0}  # fmt: skip
    assert len(design(name, frame, ready={}).pieces) == 1


def test_a_name_no_wider_than_seven_inches_lies_on_a_blank_of_that_width():
    found = design(word("Willowmere", mm=7 * INCH))
    (laid,) = laid_out(
        motifs_of("name", found, found.recipe.cut), lambda _film: Sheet(7 * INCH, 4 * INCH, margin_mm=0.0)
    )
    left, _, right, _ = shapely.total_bounds(laid.promised)
    assert right - left == pytest.approx(7 * INCH, abs=0.02)
    wider = design(word("Willowmere", mm=7 * INCH + 0.5))
    motifs = motifs_of("name", wider, wider.recipe.cut)
    with pytest.raises(Problem, match=r"make it 177\.8 mm wide"):
        laid_out(motifs, lambda _film: Sheet(7 * INCH, 4 * INCH, margin_mm=0.0))


def test_what_is_pressed_is_no_larger_than_a_plate_of_nine_by_nine_inches():
    for side, fits in ((9 * INCH, True), (9 * INCH + 0.5, False)):
        found = design({**disc(1, 0.0), "width_mm": side, "height_mm": side})
        motifs = motifs_of("motif", found, found.recipe.cut)
        plate = Sheet(9 * INCH, 9 * INCH, margin_mm=0.0)
        if fits:
            assert len(laid_out(motifs, lambda _film, plate=plate: plate)) == 1
        else:
            with pytest.raises(Problem, match="can be cut from this sheet"):
                laid_out(motifs, lambda _film, plate=plate: plate)
