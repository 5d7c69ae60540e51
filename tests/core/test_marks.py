"""Dots and accents: kept, lowered, bridged, in every face; GEOS counts what hangs together."""

import pytest
import shapely
from shapely import affinity

from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import joined
from fulgen.geometry.weld import clean
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.marks import settle
from fulgen.joining.seam import Seam
from fulgen.lettering.catalogue import FaceChoice, families
from fulgen.lettering.letters import LetterChange, MarkWay
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.readiness.findings import findings
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import disc
from tests.shipped import LOOKED_AT, written

WORDS = ("Jijiöé", "Niño!", "façÑ:", "Šimůnek")


def recipe(text, face, marks, how="auto", **part):
    join = JoinOptions(how=how, marks=marks)
    return Recipe(parts=(Lettering(text=text, face=FaceChoice(family=face), join=join, **part),))


def dotted(slant=0.0):
    """A stem 0.1 wide and 0.5 high with a dot of radius 0.06 a tenth above it, leaning by ``slant`` to the
    height: the letter, its body and its mark."""
    top = 0.5 * slant
    stem = clean(Outline.polygon([(0, 0), (0.1, 0), (0.1 + top, -0.5), (top, -0.5)]), 1e-4)
    dot = clean(disc(0.05 + 0.66 * slant, -0.66, 0.06), 1e-4)
    return joined([stem, dot]), stem.region, dot.region


@pytest.mark.parametrize("slant", [0.0, 0.25])
def test_a_dot_is_lowered_no_further_than_the_neck_needs_along_the_slant(slant):
    form, body, dot = dotted(slant)
    settled = settle(form, body, dot, [], MarkWay.LOWER, 0.05)
    (mark,) = settled.marks
    assert len(shapely.get_parts(settled.form.region)) == 1
    # A chord of 0.05 of a circle of radius 0.06 lies sqrt(0.06² - 0.025²) from its centre.
    if not slant:
        assert mark.by == pytest.approx(0.16 - (0.06**2 - 0.025**2) ** 0.5, abs=2e-3)
    assert mark.neck == pytest.approx(0.05, abs=2e-3)
    top = settled.form.region.bounds[1]
    assert top < -0.55  # the dot is still to be seen


def test_a_bar_ties_a_dot_to_its_stem_and_both_stay_where_they_are():
    form, body, dot = dotted()
    settled = settle(form, body, dot, [], MarkWay.BRIDGE, 0.04)
    assert len(shapely.get_parts(settled.form.region)) == 1
    assert settled.marks[0].neck >= 0.04
    assert settled.form.region.bounds == pytest.approx(form.region.bounds, abs=1e-6)
    bar = settled.form.region.difference(shapely.union(body, dot))
    x0, y0, x1, y1 = bar.bounds
    assert (x0 + x1) / 2 == pytest.approx(0.05, abs=5e-3)
    assert y1 - y0 < 0.15


@pytest.mark.parametrize("width", [0.5, 2.0])
def test_the_width_of_the_bars_is_set(width):
    join = JoinOptions(how="set", marks="bridge", mark_bar_mm=width)
    part = Lettering(text="i", face=FaceChoice(family="anton"), join=join)
    plain, tied = (
        evaluate(Recipe(parts=(p,))) for p in (part.model_copy(update={"join": JoinOptions(how="set")}), part)
    )
    bar = tied.films[0].shape.region.difference(plain.films[0].shape.region)
    x0, _, x1, _ = bar.bounds
    assert x1 - x0 == pytest.approx(width, abs=0.05)


def test_a_bar_keeps_its_width_in_mm_at_another_size_and_neck():
    widths = []
    for factor in (1, 2):
        join = JoinOptions(how="set", marks="bridge", neck_mm=1.2 * factor, mark_bar_mm=1.0)
        size = Size(mm=25 * factor)
        part = Lettering(text="i", face=FaceChoice(family="anton"), size=size, join=join)
        plain = part.model_copy(update={"join": JoinOptions(how="set")})
        tied, apart = (evaluate(Recipe(parts=(p,))).films[0].shape.region for p in (part, plain))
        x0, _, x1, _ = tied.difference(apart).bounds
        widths.append(x1 - x0)
    assert widths == pytest.approx([1.0, 1.0], abs=0.05)


def test_a_dot_that_a_neighbour_holds_stays():
    form, body, dot = dotted()
    crossbar = shapely.box(-0.3, -0.68, 0.3, -0.62)
    settled = settle(form, body, dot, [crossbar], MarkWay.LOWER, 0.05)
    assert settled.marks[0].held
    assert settled.form is form


def test_kept_marks_are_counted_and_nothing_changes():
    as_set = evaluate(recipe("Jijiöé", "anton", "keep", "set"))
    assert as_set.loose_marks == 6
    assert len(as_set.pieces) == 6 + 6


@pytest.mark.parametrize("way", ["lower", "bridge"])
@pytest.mark.parametrize("face", LOOKED_AT)
def test_in_every_face_nothing_is_left_behind(face, way):
    for word in written(face, WORDS):
        evaluation = evaluate(recipe(word, face, way))
        apart = word[-1] in "!:"  # a sign that stands apart is one piece with its foot or dot
        pieces = [piece for piece in evaluation.pieces if not is_spatter(piece)]
        # A lowered foot may come to touch its neighbour.
        assert 1 <= len(pieces) <= 1 + apart, word
        assert evaluation.loose_marks == 0
        for marks in evaluation.parts[0].built.joined.marks.values():
            for mark in marks:
                assert mark.held or mark.neck > 0


@pytest.mark.parametrize("face", LOOKED_AT)
def test_no_bar_crosses_a_counter(face):
    text = "".join(written(face, "öéåã"))
    if not text:
        return
    plain, tied = (evaluate(recipe(text, face, way, "set")) for way in ("keep", "bridge"))
    size = plain.parts[0].built.layout.size
    for (_, before), (_, after) in zip(plain.letters, tied.letters, strict=True):
        holes = [shapely.Polygon(r) for p in shapely.get_parts(before.form.region) for r in p.interiors]
        # A brush's ink has pinholes; a counter is wider.
        counters = shapely.union_all([hole for hole in holes if not hole.buffer(-0.01).is_empty])
        bars = after.form.region.difference(before.form.region.buffer(1e-4))
        assert affinity.scale(bars.intersection(counters.buffer(-2e-3)), size, size).area < 1e-3


def is_spatter(piece):
    """What a brush has left beside its letters, at this size too small to hang on anything."""
    return measure.area(piece.outline) < 0.45


@pytest.mark.parametrize("way", ["lower", "bridge"])
@pytest.mark.parametrize("face", LOOKED_AT)
def test_signs_of_like_bits_are_tied_and_never_lowered(face, way):
    for sign in (sign for sign in ":;=%÷…“”«" if ord(sign) in families()[face].letters):
        plain, tied = (evaluate(recipe(sign, face, marks, "set")) for marks in ("keep", way))
        assert len([piece for piece in tied.pieces if not is_spatter(piece)]) == 1, sign
        assert tied.box.height >= plain.box.height - 0.05, sign
        assert tied.box.width >= plain.box.width - 0.05, sign


def test_a_speck_that_touches_in_a_point_is_tied():
    """That of the equals sign of bowlby-one, 0.2 mm wide: no bar has a length there."""
    plain, tied = (evaluate(recipe("=", "bowlby-one", marks, "set")) for marks in ("keep", "bridge"))
    assert (len(plain.pieces), len(tied.pieces)) == (3, 1)


def test_a_dot_that_the_letter_beside_it_holds_stays_where_it_is():
    """The f of abril-fatface reaches over the dot of its j."""
    made = evaluate(recipe("fj", "abril-fatface", "lower", "set"))
    (mark,) = made.parts[0].built.joined.marks[1]
    assert mark.held
    assert mark.by == 0.0
    assert len(made.pieces) == 1


def test_both_dots_of_an_umlaut_hang_on_the_letter_itself():
    made = evaluate(recipe("ö", "nunito", "bridge", "set"))
    assert len(made.parts[0].built.joined.marks[0]) == 2
    whole = made.letters[0][1].form.region
    left, top, right, _ = whole.bounds
    # Across the middle of the dots there is a gap between them: no bar runs from dot to dot.
    across = whole.intersection(shapely.LineString([(left - 1, top + 0.07), (right + 1, top + 0.07)]))
    assert shapely.get_num_geometries(across) == 2


def test_the_parts_of_a_colon_are_found_and_tied_by_one_remedy():
    plain = recipe("a:b", "anton", "keep")
    (dot,) = [finding for finding in findings(evaluate(plain)) if finding.kind == "mark"]
    assert dot.what("mm") == "The dot of : comes off as a piece of its own."
    mended = dot.remedy.take(plain)
    assert dot.remedy.label == "Tie its parts together"
    assert len(evaluate(mended).pieces) == len(evaluate(plain).pieces) - 1


def test_one_letter_otherwise_than_the_word_and_a_mark_moves_with_its_letter():
    lowered = evaluate(recipe("ii", "anton", "lower", "set", letters={2: LetterChange(marks="keep")}))
    assert len(lowered.pieces) == 3
    raised = evaluate(recipe("i", "anton", "keep", "set", letters={1: LetterChange(dy=-0.3, turn=20)}))
    body, mark = (Seam(p, p).left for p in shapely.get_parts(raised.films[0].shape.region))
    assert body.distance(mark) < 0.2 * raised.parts[0].built.layout.size
