"""Words in every writing system: set as HarfBuzz sets them, welded as GEOS says, joined to one piece that
holds. Which words and faces is drawn by lot, always the same."""

import random
import unicodedata

import numpy as np
import pytest
import shapely
import uharfbuzz as hb

from fulgen.geometry import measure, polygons
from fulgen.joining.face_record import shipped_records
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.seam import State
from fulgen.lettering.bodies import body_and_marks
from fulgen.lettering.catalogue import FaceChoice, families
from fulgen.lettering.course import Course
from fulgen.lettering.layout import lay_out
from fulgen.lettering.setting import Faces, Setting, Size
from fulgen.lettering.shaping import shape_line
from fulgen.lettering.writing_systems import ARABIC, BY_NAME, LATIN, SYSTEMS, as_ranges, system_of, systems_of
from fulgen.parts.lettering import Lettering
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.names import NAMES, words

RIGHT_TO_LEFT = ("Arabic", "Hebrew")


def faces_of(system, count):
    """Some faces that write it, those in one file first."""
    able = [family for family in families().values() if BY_NAME[system] in family.facts.systems]
    able.sort(key=lambda family: (len(family.weights[0].face.files), family.slug))
    return able[:count]


CASES = [
    (system, family.slug, word)
    for system in NAMES
    for family in faces_of(system, 2)
    for word in random.Random(f"{system} {family.slug}").sample(words(system, 100), 3)
]


@pytest.mark.parametrize(("system", "slug", "word"), CASES)
class TestWords:
    def test_they_are_set_as_harfbuzz_sets_them(self, system, slug, word):
        face = families()[slug].face()
        found = shape_line(face, word)
        buffer = hb.Buffer()
        buffer.add_str(word)
        buffer.guess_segment_properties()
        hb.shape(face.fonts[0], buffer, {})
        assert buffer.direction == ("rtl" if system in RIGHT_TO_LEFT else "ltr")
        upem = face.files[0].face.upem
        if len(face.files) == 1:
            assert [glyph.id for letter in found for glyph in letter.glyphs] == [
                info.codepoint for info in buffer.glyph_infos
            ]
            whole = sum(position.x_advance for position in buffer.glyph_positions) / upem
            assert sum(letter.advance for letter in found) == pytest.approx(whole)
        # Letters stand from left to right; those of a word that is read from the right begin with its end.
        starts = [letter.at for letter in found]
        assert starts == sorted(starts, reverse=system in RIGHT_TO_LEFT)

    def test_what_is_cut_is_what_geos_unites(self, system, slug, word):
        layout = lay_out(Setting(text=word, size=Size(mm=25.0)), Faces(families()[slug].face()))
        made = evaluate(recipe(word, slug, JoinOptions(how="set", marks="keep")))
        shapes = [letter.place.shape(letter.form) for letter in layout.letters]
        fine = polygons.union([polygons.region_of(shape.outline, layout.size * 6e-6) for shape in shapes])
        assert measure.area(made.films[0].shape.outline) == pytest.approx(fine.area, rel=3e-4)
        # What is smaller was left in the drawing of a letter by its maker.
        seen = [sum(part.area > 0.05 for part in shapely.get_parts(region))
                for region in (made.films[0].shape.region, fine)]  # fmt: skip
        assert seen[0] == seen[1]

    def test_joined_they_are_one_piece_and_every_seam_holds(self, system, slug, word):
        made = evaluate(recipe(word, slug, JoinOptions(how="auto", marks="bridge", tie=True)))
        assert len(made.pieces) == 1
        assert made.loose_marks == 0
        assert {seam.state for seam in made.seams} <= {State.JOINED}


def recipe(word, slug, join, **more):
    part = Lettering(text=word, face=FaceChoice(family=slug), size=Size(mm=25.0), join=join, **more)
    return Recipe(parts=(part,))


@pytest.mark.parametrize("system", RIGHT_TO_LEFT)
@pytest.mark.parametrize("kind", ["arc", "wave"])
def test_words_read_from_the_right_run_along_lines_as_they_stand(system, kind):
    """Along a line letters keep the order in which they stand on a straight one."""
    word = NAMES[system].split()[0]
    slug = faces_of(system, 1)[0].slug
    bent = evaluate(recipe(word, slug, JoinOptions(how="set"), course=Course(kind=kind)))
    straight = evaluate(recipe(word, slug, JoinOptions(how="set")))

    def order(made):
        return [letter.text for _, letter in sorted(made.letters, key=lambda pair: pair[1].place.x)]

    assert order(bent) == order(straight)


@pytest.mark.parametrize(
    ("word", "marks"), [("بنت", 4), ("خير", 3), ("ليلى", 2), ("قشف", 6), ("سلام", 0)],
)  # fmt: skip
def test_the_dots_of_arabic_letters_are_marks(word, marks):
    """How many dots letters have: The Unicode Standard, section 9.2, tables of letter shapes."""
    slug = "el-messiri"
    kept = evaluate(recipe(word, slug, JoinOptions(how="set", marks="keep")))
    bodies = evaluate(recipe(word, slug, JoinOptions(how="set", marks="bridge")))
    dots = len(kept.pieces) - len(bodies.pieces)
    assert kept.loose_marks == dots
    # Dots that a face draws as one bit count as one.
    assert (dots == 0) == (marks == 0)
    assert dots <= marks


DOTTED = dict.fromkeys("بجخذزضظغفن", 1) | dict.fromkeys("تقية", 2) | dict.fromkeys("ثشپچژ", 3)
"""How many dots Arabic and Persian letters have (The Unicode Standard, section 9.2)."""

UPRIGHT = "ظ"
"""Its upright may be drawn apart from its bowl."""


@pytest.mark.parametrize("face", faces_of("Arabic", 99), ids=lambda family: family.slug)
def test_every_dotted_arabic_letter_is_one_stroke_and_its_dots_in_all_its_forms(face):
    """Alone, at the beginning of a word, within it, and at its end. Some faces draw dots as one bit, or on to
    the stroke, as they are written quickly."""
    font, looked_at = face.face(), 0
    for char, dots in DOTTED.items():
        for word in (char, char + "ل", "ل" + char + "ل", "ل" + char, "م" + char + "م"):
            for letter in shape_line(font, word):
                if char not in letter.text or ord(char) not in face.letters:
                    continue
                body, marks = (shapely.get_parts(p) for p in body_and_marks(letter.text, letter.shape.region))
                # The end of a stroke that the next letter is to cover is drawn apart in one of the faces.
                strokes = [part for part in body if part.area > 0.0025]
                assert len(strokes) <= (2 if char in UPRIGHT else 1), (char, word)
                # One face cuts through an upright that its ة has.
                assert len(marks) <= (4 if (face.slug, char) == ("reem-kufi", "ة") else dots), (char, word)
                looked_at += len(marks) > 0
    assert looked_at > 60


@pytest.mark.parametrize("face", faces_of("Arabic", 99), ids=lambda family: family.slug)
def test_the_bar_over_a_gaf_is_a_mark_too(face):
    """It lies apart from the letter in all of these faces."""
    for word in ("گ", "گل", "لگل", "لگ"):
        for letter in shape_line(face.face(), word):
            if "گ" in letter.text and len(shapely.get_parts(letter.shape.region)) > 1:
                body, marks = body_and_marks(letter.text, letter.shape.region)
                assert len(shapely.get_parts(body)) == 1
                assert not marks.is_empty


@pytest.mark.parametrize("face", faces_of("Thai", 99), ids=lambda family: family.slug)
def test_what_floats_over_and_under_a_thai_letter_is_its_marks(face):
    """Also where it is larger than the letter. Which signs are so: The Unicode Standard, section 16.1,
    its combining signs (category Mn)."""
    font = face.face()
    signs = [chr(c) for c in range(0xE31, 0xE4F) if unicodedata.category(chr(c)) == "Mn"]
    assert len(signs) == 16
    bare = shape_line(font, "ก")[0].shape.region.area
    floating = 0
    for sign in signs:
        (letter,) = shape_line(font, "ก" + sign)
        body, marks = body_and_marks(letter.text, letter.shape.region)
        if letter.shape.region.area > 1.001 * body.area:
            assert body.area == pytest.approx(bare, rel=1e-6)
            floating += 1
        else:
            assert marks.is_empty
    # Some faces draw a few of them on to the letter.
    assert floating >= 12


@pytest.mark.parametrize("slug", ["aref-ruqaa", "rakkas"])
def test_a_bar_that_joins_letters_leaves_their_dots_alone(slug):
    """The dots of the yeh lie in the shortest way from the reh to it."""
    made = evaluate(recipe("مريم", slug, JoinOptions(how="auto", marks="keep")))
    assert len(made.pieces) == 2
    assert made.loose_marks == 1


class TestWhichWritingSystem:
    @pytest.mark.parametrize("system", NAMES)
    def test_names_are_known_by_their_letters(self, system):
        assert system_of(NAMES[system]).name == system

    def test_signs_and_figures_are_of_none(self):
        assert system_of("12 & !") is LATIN
        assert system_of("") is LATIN
        assert system_of("12 مريم 3") is ARABIC

    @pytest.mark.parametrize("system", SYSTEMS, ids=lambda system: system.name)
    def test_letters_and_pairs_are_of_it(self, system):
        for char in system.needs + system.letters:
            assert char.isspace() or system.has(char) or LATIN.has(char), char

    def test_a_face_writes_what_it_has_all_letters_of(self):
        every = {ord(char) for char in "".join(system.needs for system in SYSTEMS)}
        assert systems_of(every) == SYSTEMS
        assert "Greek" not in [system.name for system in systems_of(every - {ord("ω")})]

    def test_code_points_as_ranges(self):
        assert as_ranges([5, 1, 2, 3, 9]) == [(1, 3), (5, 5), (9, 9)]
        assert as_ranges([]) == []


def test_dots_above_and_below_are_tied_from_both_sides():
    made = evaluate(recipe("بنت", "el-messiri", JoinOptions(how="auto", marks="bridge", tie=True)))
    regions = [shape.region for shape in made.parts[0].shapes]
    whole = shapely.union_all(regions)
    assert len(shapely.get_parts(whole.buffer(1e-6))) == 1
    assert np.isfinite(whole.area)


def met(face, pair):
    """Whether the first two letters of a pair meet as HarfBuzz sets them; None where it draws but one."""
    buffer = hb.Buffer()
    buffer.add_str(pair)
    buffer.guess_segment_properties()
    hb.shape(face.fonts[0], buffer, {})
    upem = face.files[0].face.upem
    drawn, x = {}, 0
    for info, at in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        outline = face.drawn(0, info.codepoint).placed((x + at.x_offset) / upem, -at.y_offset / upem)
        drawn.setdefault(info.cluster, []).append(polygons.region_of(outline, 1e-4))
        x += at.x_advance
    areas = [shapely.union_all(regions) for regions in drawn.values()]
    areas = [area for area in areas if not area.is_empty]
    return shapely.intersects(areas[0], areas[1]) if len(areas) > 1 else None


@pytest.mark.parametrize(
    ("slug", "system"),
    [("pacifico", "Latin"), ("anton", "Latin"), ("lobster", "Cyrillic"), ("comfortaa", "Greek"),
     ("lalezar", "Arabic"), ("suez-one", "Hebrew"), ("modak", "Devanagari"),
     ("noto-sans-georgian", "Georgian")],
)  # fmt: skip
def test_how_a_face_joins_is_what_harfbuzz_and_shapely_find(slug, system):
    """Marks are left out of a rating and not here, which may join a pair more."""
    face = families()[slug].face()
    found = [met(face, pair) for pair in BY_NAME[system].pairs.split()]
    share = sum(one is None or bool(one) for one in found) / len(found)
    assert shipped_records()[slug].ratings[system].small == pytest.approx(share, abs=0.06)
