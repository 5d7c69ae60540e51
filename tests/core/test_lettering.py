"""Shaping and layout: against HarfBuzz itself, and against what a ruler would say."""

import pytest
import uharfbuzz as hb
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.lettering.catalogue import FACES_DIR, find_family
from fulgen.lettering.faces import Face, FontFile
from fulgen.lettering.layout import lay_out
from fulgen.lettering.setting import Faces, Setting, Size
from fulgen.lettering.shaping import clusters, missing_letters, shape_line
from fulgen.problem import Problem
from tests.fonts import make_font

PACIFICO = find_family("pacifico").face()


def box_of(layout):
    return measure.box(Outline.joined(p.place.outline(p.form.outline) for p in layout.letters))


def set_words(text, measure_by="width", size=100.0, face=PACIFICO, **more):
    setting = Setting(text=text, size=Size(measure_by, size), **more)
    return lay_out(setting, Faces(face))


class TestShaping:
    @pytest.mark.parametrize(
        ("family", "file", "text"),
        [
            ("pacifico", "Pacifico_400Regular.ttf", "Willowmere"),
            ("lobster", "Lobster_400Regular.ttf", "Tern & Thistle"),
            ("great-vibes", "GreatVibes_400Regular.ttf", "Little Egret"),
            ("playwrite-us-trad", "PlaywriteUSTrad_400Regular.ttf", "boat voyage brew"),
        ],
    )
    def test_whole_lines_are_shaped_as_harfbuzz_shapes_them(self, family, file, text):
        font = hb.Font(hb.Face(hb.Blob.from_file_path(str(FACES_DIR / family / file))))
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(font, buffer)
        letters = shape_line(find_family(family).face(), text)
        assert [g.id for letter in letters for g in letter.glyphs] == [
            i.codepoint for i in buffer.glyph_infos
        ]
        total = sum(p.x_advance for p in buffer.glyph_positions) / font.face.upem
        assert letters[-1].x + letters[-1].advance == pytest.approx(total)

    def test_neighbours_change_a_letter_in_a_face_that_joins(self):
        # A school script draws o, v, w with another exit before the next letter.
        face = find_family("playwrite-us-trad").face()
        alone = shape_line(face, "o")[0].glyphs[0].id
        before_n = shape_line(face, "on")[0].glyphs
        assert [g.id for g in before_n] != [alone]

    def test_a_feature_can_be_switched_off(self):
        face = find_family("anton").face()
        on = shape_line(face, "AVAVA")
        off = shape_line(face, "AVAVA", (("kern", False),))
        assert on[-1].x != off[-1].x

    def test_a_ligature_is_one_letter(self):
        face = find_family("lobster").face()
        merged = shape_line(face, "fish")
        apart = shape_line(face, "fish", (("liga", False),))
        assert [letter.text for letter in apart] == ["f", "i", "s", "h"]
        assert [letter.text for letter in merged] in (["fi", "s", "h"], ["f", "i", "s", "h"])
        assert "".join(letter.text for letter in merged) == "fish"

    def test_an_accent_belongs_to_its_letter(self):
        assert clusters("Zoe\u0308") == ["Z", "o", "ë"]
        assert clusters("q\u0308") == ["q\u0308"]
        assert [letter.text for letter in shape_line(PACIFICO, "Zoe\u0308")] == ["Z", "o", "ë"]

    def test_letters_without_a_shape_are_not_missing(self):
        assert missing_letters(PACIFICO, "a\u200db \u00a0\ufe0f") == []

    def test_missing_letters_are_named_once_each_in_order(self):
        assert missing_letters(PACIFICO, "a漢b🦦字漢") == ["漢", "🦦", "字"]

    @pytest.mark.parametrize("family", ["pacifico", "dancing-script"])
    def test_any_text_the_face_has_is_shaped_with_no_letter_lost(self, family):
        face = find_family(family).face()
        text = "".join(map(chr, sorted(face.letters & {*range(0x21, 0x180)})))
        letters = shape_line(face, text, (("liga", False),))
        assert "".join(letter.text for letter in letters) == text


class TestRightToLeft:
    face = Face("Square", (FontFile(make_font(), "square.ttf"),))

    def test_hebrew_runs_from_the_right(self):
        letters = shape_line(self.face, "אבג")
        assert [letter.text for letter in letters] == ["ג", "ב", "א"]
        assert [letter.x for letter in letters] == pytest.approx([0.0, 0.7, 1.4])

    def test_latin_inside_hebrew_keeps_its_order(self):
        shown = "".join(letter.text for letter in shape_line(self.face, "אב ab ג"))
        assert [c for c in shown if c != " "] == ["ג", "a", "b", "ב", "א"]

    def test_it_is_set_and_measured_like_any_other(self):
        layout = set_words("אבג", "width", 190.0, self.face)
        # Two advances of 0.7 and a square of 0.5: 1.9 sizes wide.
        assert layout.size == pytest.approx(100.0)
        assert box_of(layout).width == pytest.approx(190.0)


class TestSize:
    @pytest.mark.parametrize("family", ["pacifico", "great-vibes", "anton", "unbounded", "nunito"])
    @pytest.mark.parametrize("spacing", [0.0, -0.7, 2.0])
    def test_the_overall_width_is_what_was_asked(self, family, spacing):
        layout = set_words("Willowmere", "width", 177.8, find_family(family).face(), spacing_mm=spacing)
        assert box_of(layout).width == pytest.approx(177.8, abs=1e-6)

    def test_the_widest_line_counts(self):
        layout = set_words("Otterbrook\nBay", "width", 280.0, spacing_mm=-1.3, align="right")
        assert box_of(layout).width == pytest.approx(280.0, abs=1e-6)
        assert box_of(layout).x == pytest.approx(0.0, abs=1e-6)

    def test_the_overall_height_is_what_was_asked(self):
        layout = set_words("Otterbrook\nBay", "height", 90.0, line_spacing=0.9)
        assert box_of(layout).height == pytest.approx(90.0, abs=1e-6)

    def test_a_capital_is_as_high_as_asked(self):
        layout = set_words("H", "capitals", 25.0, find_family("anton").face())
        assert -box_of(layout).y == pytest.approx(25.0, abs=1e-6)

    @given(st.floats(1, 2000), st.floats(-20, 60), st.sampled_from(["Willow", "i.i", "WAVE", "Ab\ncdefg"]))
    @settings(max_examples=80, deadline=None)
    def test_a_width_is_met_or_said_to_be_impossible(self, width, spacing, text):
        refusal = ""
        try:
            layout = set_words(text, "width", width, spacing_mm=spacing)
        except Problem as problem:
            refusal = problem.kind
        else:
            assert box_of(layout).width == pytest.approx(width, rel=1e-6)
        assert refusal in ("", "impossible-size", "too-large")
        assert not refusal or spacing != 0

    def test_a_line_too_short_for_its_spacing_is_no_width_for_the_others(self):
        # At the size that would make the second line 1 mm wide, the first is spread to 1.2 mm.
        with pytest.raises(Problem) as caught:
            set_words("Ab\ncdefg", "width", 1.0, spacing_mm=-0.625)
        assert caught.value.kind == "impossible-size"

    def test_a_spacing_wider_than_the_whole_is_said(self):
        with pytest.raises(Problem) as caught:
            set_words("Willowmere", "width", 20.0, spacing_mm=30.0)
        assert caught.value.kind == "impossible-size"
        assert "20.0 mm wide" in caught.value.what

    def test_ten_metres_is_the_most(self):
        with pytest.raises(Problem) as caught:
            set_words("Willowmere" * 20, "capitals", 500.0)
        assert caught.value.kind == "too-large"


class TestSpacing:
    def test_letter_spacing_moves_each_letter_by_that_much_more(self):
        face = find_family("anton").face()
        plain = set_words("CREW", "capitals", 25.0, face)
        wide = set_words("CREW", "capitals", 25.0, face, spacing_mm=2.0)
        moves = [b.place.x - a.place.x for a, b in zip(plain.letters, wide.letters, strict=True)]
        assert moves == pytest.approx([0, 2, 4, 6])

    def test_a_share_of_the_size_is_that_share(self):
        face = find_family("anton").face()
        plain = set_words("CREW", "capitals", 25.0, face)
        tight = set_words("CREW", "capitals", 25.0, face, spacing_share=-0.05)
        moves = [b.place.x - a.place.x for a, b in zip(plain.letters, tight.letters, strict=True)]
        assert moves == pytest.approx([-0.05 * plain.size * i for i in range(4)])

    def test_lines_stand_line_spacing_apart(self):
        layout = set_words("a\nb\nc", "capitals", 25.0, line_spacing=1.5)
        assert layout.baselines == pytest.approx((0, 1.5 * layout.size, 3.0 * layout.size))

    @pytest.mark.parametrize(("align", "share"), [("left", 0.0), ("centre", 0.5), ("right", 1.0)])
    def test_lines_are_aligned_by_what_is_cut(self, align, share):
        layout = set_words("Otterbrook\ni", "width", 280.0, align=align)
        (dot,) = [p for p in layout.letters if p.line == 1]
        box = measure.box(dot.place.outline(dot.form.outline))
        assert box.x == pytest.approx((280.0 - box.width) * share, abs=1e-6)

    def test_an_empty_line_keeps_its_place(self):
        layout = set_words("a\n\nb", "capitals", 25.0)
        assert [p.line for p in layout.letters] == [0, 2]


class TestWhatCannotBeSet:
    @pytest.mark.parametrize("text", ["", " ", "\n \n", "\u00a0\u2003"])
    def test_nothing_to_cut(self, text):
        with pytest.raises(Problem) as caught:
            set_words(text)
        assert caught.value.kind == "no-letters"
        assert caught.value.todo == "Type a word."

    def test_letters_the_face_lacks_are_named_and_faces_offered(self):
        with pytest.raises(Problem) as caught:
            set_words("Жук", face=find_family("sacramento").face())
        problem = caught.value
        assert problem.kind == "missing-letters"
        assert problem.what == "Sacramento has no Cyrillic letters."
        assert "Pacifico" in problem.faces
        with pytest.raises(Problem) as caught:
            set_words("Ξἄν", face=find_family("mynerve").face())
        assert caught.value.what == "Mynerve has no “ἄ” (U+1F04)."

    def test_emoji_no_face_has(self):
        with pytest.raises(Problem) as caught:
            set_words("crew 🦦")
        assert "U+1F9A6" in caught.value.what
        assert caught.value.faces == ()
        assert "leave out" in caught.value.todo

    def test_many_missing_letters_are_not_all_listed(self):
        with pytest.raises(Problem, match="and 3 more"):
            set_words("漢字仮名交文書体版")
