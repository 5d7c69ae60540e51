"""Faces: outlines and advances against fontTools and FreeType, every container, hostile files."""

import io
import struct
import zlib

import brotli
import freetype
import numpy as np
import pytest
import shapely
import uharfbuzz as hb
from fontTools.pens.areaPen import AreaPen
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

from fulgen.geometry import measure, polygons
from fulgen.geometry.outline import Outline
from fulgen.lettering import fontfile
from fulgen.lettering.catalogue import FACES_DIR, KINDS, families, families_with, find_family, named_family
from fulgen.lettering.faces import LETTER_FLATNESS, Face, FontFile, at_location, read_face
from fulgen.lettering.fontfile import sfnt_bytes
from fulgen.lettering.shaping import missing_letters, shape_line
from fulgen.lettering.writing_systems import SYSTEMS
from fulgen.problem import Problem
from tests.fonts import SQUARE, make_font, repacked, subset
from tests.shipped import THOROUGH

PACIFICO = FACES_DIR / "pacifico" / "Pacifico_400Regular.ttf"
FAMILIES = sorted(families())
LETTERS = "AaBbGgQqWwZzé&8?"


@pytest.fixture(params=FAMILIES)
def family(request):
    return families()[request.param]


class TestTheShippedFamilies:
    def test_there_are_many_of_every_kind_and_two_for_each_writing_system(self):
        assert len(FAMILIES) >= 120
        assert sum(f.kind == "script" for f in families().values()) >= 40
        for system in SYSTEMS:
            assert sum(system in family.facts.systems for family in families().values()) >= 2
        assert {f.kind for f in families().values()} == set(KINDS)

    def test_each_comes_with_its_open_font_licence(self, family):
        licence = (FACES_DIR / family.slug / "OFL.txt").read_text("utf-8")
        assert "SIL Open Font License, Version 1.1" in " ".join(licence.split()) or (
            "SIL OPEN FONT LICENSE Version 1.1" in " ".join(licence.split())
        )

    @pytest.mark.parametrize("slug", THOROUGH)
    def test_they_set_names_with_the_accents_of_latin_1_and_extended_a(self, slug):
        family = families()[slug]
        assert missing_letters(family.face(), "Zoë Łucja Šimůnek Øystein Ångström Çelik Ñandú Dvořák") == []
        # Rare or retired letters (ſ, ŉ, Ĳ, ¤ …) are lacking in some; the rest of both blocks is there.
        wanted = {*range(0xC0, 0x180)} - {0xD7, 0xF7}
        assert len(wanted - family.letters) <= 6

    def test_each_is_known_as_its_files_are(self, family):
        """What is kept beside the files is what fontTools reads in them."""
        points, features, axes = set(), set(), set()
        for file in family.weights[0].face.files:
            ttfont = TTFont(io.BytesIO(_sfnt(family, family.weights[0].face.files.index(file))), lazy=True)
            points |= set(ttfont.getBestCmap())
            for table in {"GSUB", "GPOS"} & set(ttfont.keys()):
                records = ttfont[table].table.FeatureList
                features |= {record.FeatureTag for record in records.FeatureRecord} if records else set()
            axes |= {axis.axisTag for axis in ttfont["fvar"].axes} if "fvar" in ttfont else set()
        assert family.known is not None
        assert family.letters == points
        assert {feature.tag for feature in family.known.features} - {"kern"} <= features
        assert {axis.tag for axis in family.axes} == axes

    def test_a_letter_is_drawn_as_fonttools_draws_it(self, family):
        # Area and bounds by fontTools' own pens, an implementation apart from HarfBuzz.
        face = Face("as is", family.weights[0].face.files)
        for letter in _of(LETTERS, family):
            file = face.file_for(letter)
            ttfont = TTFont(io.BytesIO(_sfnt(family, file)), lazy=True)
            glyphs = ttfont.getGlyphSet()
            glyph_name = ttfont.getBestCmap()[ord(letter)]
            area, bounds = AreaPen(glyphs), BoundsPen(glyphs)
            glyphs[glyph_name].draw(area)
            glyphs[glyph_name].draw(bounds)
            upem = ttfont["head"].unitsPerEm
            drawn = face.drawn(file, ttfont.getGlyphID(glyph_name))
            # Both axes' flips: y down turns the winding, so areas have opposite signs.
            assert measure.area(drawn) == pytest.approx(-area.value / upem**2, rel=1e-6, abs=1e-9)
            x0, y0, x1, y1 = (v / upem for v in bounds.bounds)
            assert measure.box(drawn) == pytest.approx((x0, -y1, x1 - x0, y1 - y0), abs=1e-6)

    def test_a_letter_covers_the_pixels_that_freetype_fills(self, family):
        # FreeType's rasteriser is a third engine; overlapping contours are its affair too.
        face = Face("as is", family.weights[0].face.files)
        for letter in _of("agWé", family):
            file = face.file_for(letter)
            ft = freetype.Face(io.BytesIO(_sfnt(family, file)))
            ft.set_pixel_sizes(0, 400)
            flags = freetype.FT_LOAD_NO_HINTING | freetype.FT_LOAD_RENDER
            ft.load_char(letter, flags)
            covered = np.array(ft.glyph.bitmap.buffer, dtype=float).sum() / 255 / 400**2
            shape = face.glyph(file, ft.get_char_index(letter))
            assert measure.area(shape.outline) == pytest.approx(covered, rel=0.01)

    def test_a_clean_letter_is_the_nonzero_area_of_its_contours(self, family):
        face = family.face()
        for letter in _of(LETTERS, family):
            file = face.file_for(letter)
            glyph = face.fonts[file].get_nominal_glyph(ord(letter))
            twin = polygons.region_of(face.drawn(file, glyph), 1e-5)
            shape = face.glyph(file, glyph)
            assert measure.area(shape.outline) == pytest.approx(twin.area, rel=3e-4)
            outer = int((measure.contour_areas(shape.outline) > 0).sum())
            # Flecks into which no disc of two tolerances fits may be left out, and those of half of one are.
            parts = shapely.get_parts(twin)
            holes = [shapely.Polygon(ring) for part in parts for ring in part.interiors]
            inner = len(shape.outline.contour_starts) - outer
            for found, areas in ((outer, parts), (inner, holes)):
                widths = np.array([_widest(area) for area in areas]) / (2 * LETTER_FLATNESS)
                assert (widths > 1.15).sum() <= found <= (widths > 0.25).sum()


def _widest(area):
    return 2 * shapely.maximum_inscribed_circle(area).length


def _of(letters, family):
    """Those that a family has: é is lacking in a few."""
    return [letter for letter in letters if letter.isascii() or ord(letter) in family.letters]


def _sfnt(family, file):
    name = family.weights[0].face.files[file].name
    return sfnt_bytes((FACES_DIR / family.slug / name).read_bytes(), "test")


class TestContainers:
    @pytest.mark.parametrize("kind", ["ttf", "otf", "woff", "woff2"])
    def test_every_container_gives_the_same_outline(self, kind):
        face = Face("Test", (FontFile(make_font(kind), f"test.{kind}"),))
        glyph = face.fonts[0].get_nominal_glyph(ord("a"))
        box = measure.box(face.drawn(0, glyph))
        assert box == pytest.approx((0.1, -0.5, 0.5, 0.5))
        assert measure.area(face.glyph(0, glyph).outline) == pytest.approx(0.25)
        assert face.capital_height == pytest.approx(max(y for _, y in SQUARE) / 1000)

    @pytest.mark.parametrize("flavor", ["woff", "woff2"])
    def test_a_shipped_face_is_the_same_from_the_web_s_containers(self, flavor):
        plain = Face("", (FontFile(PACIFICO.read_bytes(), "p.ttf"),))
        packed = Face("", (FontFile(repacked(PACIFICO, flavor), f"p.{flavor}"),))
        for one, other in zip(shape_line(plain, "Willow"), shape_line(packed, "Willow"), strict=True):
            assert one.advance == other.advance
            assert measure.area(one.drawn) == pytest.approx(measure.area(other.drawn))

    def test_subset_files_make_one_face(self):
        words = "Zoë Łucja Šimůnek"
        # A face without contextual letters, which a border between files would change.
        path = FACES_DIR / "kaushan-script" / "KaushanScript_400Regular.ttf"
        parts = [subset(path, "Zo ucjaimnek"), subset(path, "ëŁŠů")]
        split = Face("Split", tuple(FontFile(p, f"{i}.woff2") for i, p in enumerate(parts)))
        whole = Face("Whole", (FontFile(path.read_bytes(), "k.ttf"),))
        assert missing_letters(split, words) == []
        one, other = shape_line(split, words), shape_line(whole, words)
        assert [letter.text for letter in one] == [letter.text for letter in other] == list(words)
        drawn = Outline.joined(letter.drawn for letter in one)
        assert measure.area(drawn) == pytest.approx(measure.area(Outline.joined(x.drawn for x in other)))

    @pytest.mark.parametrize("weight", [400, 550, 700])
    def test_a_variable_face_at_a_place_is_what_fonttools_instantiates(self, weight):
        family = find_family("Dancing Script")
        face = family.face(weight)
        font = TTFont(io.BytesIO(_sfnt(family, 0)))
        instance = instantiateVariableFont(font, {"wght": weight})
        glyphs, name = instance.getGlyphSet(), instance.getBestCmap()[ord("B")]
        pen = AreaPen(glyphs)
        glyphs[name].draw(pen)
        upem = instance["head"].unitsPerEm
        drawn = face.drawn(0, instance.getGlyphID(name))
        # fontTools rounds an instance to whole units.
        assert abs(measure.area(drawn)) == pytest.approx(abs(pen.value) / upem**2, rel=5e-3)

    def test_an_axis_beyond_its_range_stays_at_its_end_and_an_unknown_one_does_nothing(self):
        face = at_location(find_family("Caveat").face(), {"wght": 9000, "wdth": 3})
        assert face.location == (("wght", 700.0),)


class TestHostileFiles:
    def refused(self, data, name="bad.ttf"):
        with pytest.raises(Problem) as caught:
            FontFile(data, name)
        assert caught.value.kind == "bad-face"
        assert name in caught.value.what
        assert caught.value.todo
        return caught.value.what

    @pytest.mark.parametrize("kind", ["ttf", "otf", "woff", "woff2"])
    @pytest.mark.parametrize("share", [0.02, 0.3, 0.7, 0.95])
    def test_a_file_that_is_cut_off(self, kind, share):
        data = make_font(kind)
        assert "damaged or cut off" in self.refused(data[: int(len(data) * share)])

    @pytest.mark.parametrize("data", [b"", b"\x00", b"hello", b"<svg/>", b"\x89PNG\r\n\x1a\n" + bytes(99)])
    def test_what_is_not_a_font(self, data):
        assert "is not a font" in self.refused(data)

    @pytest.mark.parametrize("head", [b"\x00\x01\x00\x00", b"OTTO", b"wOFF", b"wOF2"])
    @pytest.mark.parametrize("fill", [b"\x00", b"\xff", b"\x7f"])
    def test_a_font_s_first_bytes_and_then_nonsense(self, head, fill):
        self.refused(head + fill * 400)

    def test_flipped_bytes_never_escape_as_anything_but_a_problem(self):
        random = np.random.default_rng(7)
        for kind in ("ttf", "woff", "woff2"):
            good = bytearray(make_font(kind))
            for _ in range(60):
                data = bytearray(good)
                for at in random.integers(0, len(data), 3):
                    data[at] = int(random.integers(0, 256))
                try:
                    face = Face("", (FontFile(bytes(data), "flipped"),))
                    [letter.shape for letter in shape_line(face, "abH")]
                except Problem:
                    pass

    def test_a_woff2_that_unpacks_to_more_than_the_limit(self, monkeypatch):
        monkeypatch.setattr(fontfile, "MAX_UNPACKED_BYTES", 2**20)
        bomb = brotli.compress(bytes(64 * 2**20), quality=5)
        assert len(bomb) < 2**12
        data = make_font("woff2")
        header = bytearray(data[:48])
        struct.pack_into(">H", header, 12, 1)
        struct.pack_into(">L", header, 20, len(bomb))
        # One table, "head" (flag 1), said to be 54 bytes long.
        assert "unpacks to more than" in self.refused(bytes(header) + bytes([1, 54]) + bomb, "bomb.woff2")

    def test_a_woff_that_unpacks_to_more_than_it_says_or_than_the_limit(self):
        packed = zlib.compress(bytes(8 * 2**20))
        said = struct.pack(">4sLLLL", b"head", 64, len(packed), 20_000, 0)
        header = struct.pack(
            ">4s4sLHHLHHLLLLL", b"wOFF", b"\0\1\0\0", 64 + len(packed), 1, 0, 99, 1, 0, *[0] * 5
        )
        assert "damaged" in self.refused(header + said + packed, "liar.woff")
        said = struct.pack(">4sLLLL", b"head", 64, len(packed), 4_000_000_000, 0)
        assert "unpacks to more than" in self.refused(header + said + packed, "bomb.woff")

    def test_a_file_that_is_simply_too_large(self):
        assert "larger than 12 MB" in self.refused(b"\x00\x01\x00\x00" + bytes(12 * 2**20))

    def test_a_face_without_outlines(self):
        font = TTFont(io.BytesIO(make_font()))
        for tag in ("glyf", "loca"):
            del font[tag]
        out = io.BytesIO()
        font.save(out)
        assert "no outlines" in self.refused(out.getvalue())

    def test_a_letter_drawn_far_away(self):
        font = TTFont(io.BytesIO(make_font()))
        font["head"].unitsPerEm = 16
        font["glyf"]["u0061"].coordinates[1] = (100, 30_000)
        out = io.BytesIO()
        font.save(out)
        face = Face("Far", (FontFile(out.getvalue(), "far.ttf"),))
        with pytest.raises(Problem, match="far outside any sensible size"):
            [letter.shape for letter in shape_line(face, "a")]

    def test_a_path_to_nothing(self, tmp_path):
        with pytest.raises(Problem) as caught:
            read_face(tmp_path / "none.ttf")
        assert str(tmp_path) not in str(caught.value)
        assert "none.ttf" in caught.value.what


class TestFinding:
    def test_by_name_or_slug_in_any_case(self):
        assert find_family("great vibes") is find_family("great-vibes") is find_family("GREAT VIBES")

    def test_one_of_ones_own_is_meant_by_its_name_and_one_that_ships_by_its_slug(self):
        own = {"own-1": "Lobster", "own-2": "Crew Hand"}
        assert named_family("crew hand", own) == ("own-2", "Crew Hand")
        assert named_family("own-2", own) == ("own-2", "Crew Hand")
        assert named_family("Lobster", own) == ("own-1", "Lobster")
        assert named_family("lobster", own) == ("lobster", "Lobster")
        assert named_family("Great Vibes", own) == ("great-vibes", "Great Vibes")

    def test_a_slip_is_answered_with_close_names(self):
        with pytest.raises(Problem) as caught:
            find_family("Pacifco")
        assert caught.value.faces == ("Pacifico",)
        assert "Did you mean Pacifico?" in caught.value.todo

    def test_faces_that_have_all_letters(self):
        assert "Pacifico" in families_with("Ж")
        assert "Sacramento" not in families_with("Ж")
        assert families_with("🦦") == ()

    def test_advances_are_harfbuzz_s_own(self):
        blob = hb.Blob.from_file_path(str(PACIFICO))
        font = hb.Font(hb.Face(blob))
        buffer = hb.Buffer()
        buffer.add_str("AVATar Tofino")
        buffer.guess_segment_properties()
        hb.shape(font, buffer)
        face = find_family("pacifico").face()
        ours = [letter.advance for letter in shape_line(face, "AVATar Tofino")]
        theirs = [p.x_advance / font.face.upem for p in buffer.glyph_positions]
        assert ours == pytest.approx(theirs, abs=1e-12)
