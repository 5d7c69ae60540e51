"""Drawings read from files: against files written by other libraries, the specifications' own formulas, and
whatever a hostile file may hold."""

import io
import itertools
import math

import ezdxf
import numpy as np
import pytest
import shapely
import svgelements
from ezdxf import colors
from fpdf import FPDF
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.formats.artwork import backwards, chained, read_artwork
from fulgen.formats.drawn_path import MAX_FILE_BYTES, ReadRequest
from fulgen.formats.pdf_in import pages
from fulgen.formats.readers import reader_for
from fulgen.geometry import measure
from fulgen.geometry.flatten import open_points
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Outline
from fulgen.geometry.paths import outline_of, path_data
from fulgen.parts.artwork import MAX_ART_DATA, build_artwork
from fulgen.problem import Problem
from tests.figures import MM_PER_INCH


def is_answered_in_words(work):
    """Whether something is done, or refused with what is wrong and what to do."""
    try:
        work()
    except Problem as problem:
        return bool(problem.what and problem.todo)
    return True


HEAD = '<svg xmlns="http://www.w3.org/2000/svg"'


def svg(body, size='width="100mm" height="100mm" viewBox="0 0 100 100"'):
    return f"{HEAD} {size}>{body}</svg>".encode()


def read(data, name="a.svg", **more):
    return read_artwork(data, name, ReadRequest(**more))


def area(found, **change):
    return build_artwork(found.artwork.model_copy(update=change)).region.area


class TestSvg:
    @pytest.mark.parametrize(
        ("size", "mm"),
        [
            ('width="100mm" viewBox="0 0 100 100"', 20.0),
            ('width="50mm" viewBox="0 0 100 100"', 10.0),
            ('width="4in" viewBox="0 0 400 400"', 20 * MM_PER_INCH / 100),
            ('width="10cm"', 20 * MM_PER_INCH / 96),
            ('height="72pt" viewBox="0 0 72 72"', 20 * MM_PER_INCH / 72),
            ('width="6pc" viewBox="0 0 72 72"', 20 * MM_PER_INCH / 72),
            ('width="80q" viewBox="0 0 20 20"', 20.0),
        ],
    )
    def test_true_size_where_the_file_says_it(self, size, mm):
        """CSS Values 4, section 6.2: 1in is 96px, 72pt and 6pc, and 1Q a quarter of a millimetre."""
        found = read(svg('<rect x="5" y="7" width="20" height="20"/>', size))
        assert found.size_stated
        assert (found.width_mm, found.height_mm) == pytest.approx((mm, mm), rel=1e-9)

    @pytest.mark.parametrize(
        ("how", "mm"),
        [
            ("", (10.0, 10.0)),
            ('preserveAspectRatio="xMinYMax meet"', (10.0, 10.0)),
            ('preserveAspectRatio="xMidYMid slice"', (20.0, 20.0)),
            ('preserveAspectRatio="none"', (10.0, 20.0)),
        ],
    )
    def test_a_drawing_in_a_place_of_another_ratio(self, how, mm):
        """SVG 2, section 8.6: what is not said otherwise keeps its ratio, and fits into its place."""
        square = '<rect x="40" y="40" width="20" height="20"/>'
        for size, sides in ((("50mm", "100mm"), mm), (("100mm", "50mm"), mm[::-1])):
            found = read(svg(square, f'width="{size[0]}" height="{size[1]}" viewBox="0 0 100 100" {how}'))
            assert found.size_stated
            assert (found.width_mm, found.height_mm) == pytest.approx(sides, rel=1e-9)

    @pytest.mark.parametrize("size", ['viewBox="0 0 100 100"', 'width="100" viewBox="0 0 100 100"', ""])
    def test_asked_where_it_does_not(self, size):
        data = svg('<rect width="20" height="20"/>', size)
        found = read(data)
        assert not found.size_stated
        assert found.width_mm == pytest.approx(20 * MM_PER_INCH / 96)
        assert read(data, units="mm").width_mm == pytest.approx(20)
        assert read(data, units="in").width_mm == pytest.approx(20 * MM_PER_INCH)

    @given(
        st.floats(2, 40), st.floats(2, 40), st.floats(0, 180), st.booleans(), st.booleans(),
        st.floats(10, 90), st.floats(10, 90),
    )  # fmt: skip
    @settings(max_examples=40, deadline=None)
    def test_arcs_are_those_of_the_specification(self, rx, ry, turn, large, sweep, x, y):
        """Endpoint to centre parameters: SVG 2, appendix B.2.4 and B.2.5."""
        x1, y1 = 50.0, 50.0
        if math.hypot(x - x1, y - y1) < 1:
            return
        arc = f"M{x1} {y1}A{rx} {ry} {turn} {int(large)} {int(sweep)} {x} {y}"
        (item,) = read(svg(f'<path d="{arc}" fill="none" stroke="red"/>')).artwork.items
        phi = math.radians(turn)
        c, s = math.cos(phi), math.sin(phi)
        dx, dy = (x1 - x) / 2, (y1 - y) / 2
        xp, yp = c * dx + s * dy, -s * dx + c * dy
        over = (xp / rx) ** 2 + (yp / ry) ** 2
        if over > 1:
            rx, ry = rx * math.sqrt(over), ry * math.sqrt(over)
        root = max(0.0, (rx * ry) ** 2 - (rx * yp) ** 2 - (ry * xp) ** 2)
        k = math.sqrt(root / ((rx * yp) ** 2 + (ry * xp) ** 2)) * (-1 if large == sweep else 1)
        cxp, cyp = k * rx * yp / ry, -k * ry * xp / rx
        cx, cy = c * cxp - s * cyp + (x1 + x) / 2, s * cxp + c * cyp + (y1 + y) / 2
        start = math.atan2((yp - cyp) / ry, (xp - cxp) / rx)
        end = math.atan2((-yp - cyp) / ry, (-xp - cxp) / rx)
        swept = (end - start) % (2 * math.pi) if sweep else -((start - end) % (2 * math.pi))
        t = start + swept * np.linspace(0, 1, 4000)
        along = cx + rx * np.cos(t) * c - ry * np.sin(t) * s
        down = cy + rx * np.cos(t) * s + ry * np.sin(t) * c
        there = np.stack([along, down], axis=1)
        there -= (there.min(axis=0) + there.max(axis=0)) / 2  # as artwork lies
        mine = open_points(outline_of(item.d), 1e-3)
        drawn, true = shapely.LineString(mine), shapely.LineString(there)
        # A cubic is off a quarter of a circle by 0.00027 radii (textbook).
        assert shapely.hausdorff_distance(drawn, true) < 3e-4 * max(rx, ry) + 0.012

    def test_colours_groups_and_paint(self):
        found = read(
            svg(
                '<style>.leaf{fill:#0a0}</style><g id="stem"><rect class="leaf" width="10" height="20"/></g>'
                '<g fill="rgb(255,0,0)"><circle cx="50" cy="50" r="9"/></g>'
                '<g color="navy"><rect x="70" fill="currentColor" width="5" height="5"/></g>'
                '<rect x="80" width="5" height="5" fill="url(#shine)"/>'
                '<rect x="90" width="5" height="5" fill="none"/>'
            )
        )
        told = [(item.film, item.group) for item in found.artwork.items]
        assert told == [("#00AA00", "stem"), ("#FF0000", ""), ("#000080", ""), ("#000000", "")]
        assert found.artwork.colours == "own"

    def test_strokes_are_lines_with_their_width_and_those_that_close_are_areas(self):
        found = read(
            svg(
                '<g fill="none" stroke="red"><path d="M0 0L30 0" stroke-width="2"/>'
                '<g transform="scale(2)"><path d="M0 10L20 10" stroke-width="1.5"/></g>'
                '<circle cx="50" cy="50" r="20"/><circle cx="50" cy="50" r="10"/></g>'
            )
        )
        lines = [item for item in found.artwork.items if item.line]
        assert sorted(item.width_mm for item in lines) == [3.0, 3.0]
        assert area(found) == pytest.approx(math.pi * (400 - 100), rel=5e-3)

    def test_lines_are_put_together_where_their_ends_meet(self):
        found = read(
            svg(
                '<g fill="none" stroke="red"><line x1="0" y1="0" x2="40" y2="0"/><path d="M40 30L40 0"/>'
                '<polyline points="40,30 0,30 0,0"/></g>'
            )
        )
        (item,) = found.artwork.items
        assert not item.line
        assert area(found) == pytest.approx(1200)

    def test_a_path_that_ends_in_mid_air_is_a_line(self):
        found = read(svg('<path d="M0 0L30 0C40 0 40 10 40 20" fill="none" stroke="black"/>'))
        assert [item.line for item in found.artwork.items] == [True]

    def test_white_areas_are_left_out_and_said(self):
        found = read(svg('<rect width="100" height="100" fill="#fff"/><circle cx="50" cy="50" r="10"/>'))
        assert "white" in found.notes[0]
        assert area(found) == pytest.approx(100 * math.pi, rel=1e-2)

    def test_text_is_passed_over_and_said(self):
        found = read(svg("<text>Tern</text><rect width='9' height='9'/>"))
        assert "Text" in found.notes[0]

    def test_what_another_reader_makes_of_it(self):
        """Boxes by svgelements, which is not the reader."""
        body = (
            '<g transform="translate(20 10) rotate(25)"><path d="M0 0c10-20 30-20 40 0s-10 30-20 20z"/>'
            '<rect x="50" y="15" width="12" height="5" transform="skewX(15)"/></g>'
        )
        data = svg(body)
        told = svgelements.SVG.parse(io.BytesIO(data), ppi=96).bbox()
        found = read(data)
        assert found.width_mm == pytest.approx((told[2] - told[0]) * MM_PER_INCH / 96, rel=2e-3)
        assert found.height_mm == pytest.approx((told[3] - told[1]) * MM_PER_INCH / 96, rel=2e-3)


def dxf(draw, units=4, version="R2000"):
    document = ezdxf.new(version)
    document.header["$INSUNITS"] = units
    draw(document, document.modelspace())
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


class TestDxf:
    @pytest.mark.parametrize(("units", "mm"), [(4, 1.0), (5, 10.0), (1, MM_PER_INCH), (6, 1000.0)])
    def test_units_by_insunits(self, units, mm):
        """DXF Reference, HEADER section: 1 inches, 4 mm, 5 cm, 6 m."""
        found = read(dxf(lambda _, m: m.add_circle((0, 0), 0.5), units), "a.dxf")
        assert found.size_stated
        assert found.width_mm == pytest.approx(mm, rel=1e-6)

    def test_without_units_it_is_asked(self):
        data = dxf(lambda _, m: m.add_circle((0, 0), 10), 0)
        assert not read(data, "a.dxf").size_stated
        assert read(data, "a.dxf", units="in").width_mm == pytest.approx(20 * MM_PER_INCH)

    @given(st.floats(-3, 3).filter(lambda b: abs(b) > 0.05))
    @settings(max_examples=25, deadline=None)
    def test_a_bulge_is_the_tangent_of_a_quarter_of_the_angle(self, bulge):
        """DXF Reference, LWPOLYLINE: group code 42. The segment's area is r²(a - sin a)/2 (textbook)."""
        draw = lambda _, m: m.add_lwpolyline([(0, 0, 0, 0, bulge), (40, 0, 0, 0, 0)], close=True)  # noqa: E731
        found = read(dxf(draw), "a.dxf")
        angle = 4 * math.atan(abs(bulge))
        radius = 20 / math.sin(angle / 2)
        expected = radius**2 * (angle - math.sin(angle)) / 2
        drawn = sum(abs(measure.area(outline_of(item.d))) for item in found.artwork.items)
        assert drawn == pytest.approx(expected, rel=2e-3)

    def test_the_binary_kind(self, tmp_path):
        document = ezdxf.new("R2000", units=4)
        document.modelspace().add_circle((0, 0), 10)
        document.saveas(tmp_path / "a.dxf", fmt="bin")
        data = (tmp_path / "a.dxf").read_bytes()
        found = read(data, "a.dxf")
        assert (found.size_stated, found.width_mm) == (True, pytest.approx(20, rel=1e-6))
        with pytest.raises(Problem, match="cannot be read as DXF"):
            read(data[: len(data) // 2], "a.dxf")

    def test_all_that_has_an_outline(self):
        def draw(document, model):
            model.add_circle((0, 0), 10)
            model.add_arc((50, 0), 10, 0, 180)
            model.add_line((40, 0), (60, 0))
            model.add_ellipse((100, 0), (20, 0), 0.5)
            model.add_polyline2d([(0, 40), (20, 40), (20, 60)], close=True)
            hatch = model.add_hatch()
            hatch.paths.add_polyline_path([(40, 40), (60, 40), (60, 60), (40, 60)])
            block = document.blocks.new("SIGN")
            block.add_circle((0, 0), 2)
            model.add_blockref("SIGN", (100, 50), dxfattribs={"xscale": 3, "yscale": 3})
            model.add_text("Tern")

        found = read(dxf(draw), "a.dxf")
        expected = 100 * math.pi + 50 * math.pi + 200 * math.pi + 200 + 400 + 36 * math.pi
        assert area(found, colours="one") == pytest.approx(expected, rel=5e-3)
        assert "passed over" in found.notes[0]

    def test_splines(self):
        points = [(0, 0), (10, 20), (30, 20), (40, 0)]
        found = read(dxf(lambda _, m: m.add_open_spline(points, degree=3)), "a.dxf")
        (item,) = found.artwork.items
        assert item.line
        # One Bézier: its middle is at (p0 + 3 p1 + 3 p2 + p3) / 8.
        line = outline_of(item.d)
        assert measure.box(line).height == pytest.approx(15, rel=1e-3)

    def test_layers_that_are_off_are_left_out_and_colours_are_kept(self):
        def draw(document, model):
            document.layers.add("red", color=1)
            document.layers.add("off").off()
            model.add_circle((0, 0), 10, dxfattribs={"layer": "red"})
            model.add_circle((0, 0), 50, dxfattribs={"layer": "off"})
            model.add_circle((30, 0), 5, dxfattribs={"true_color": colors.rgb2int((1, 2, 3))})

        found = read(dxf(draw, version="R2007"), "a.dxf")
        told = {(item.film, item.group) for item in found.artwork.items}
        assert told == {("#FF0000", "red"), ("#010203", "0")}

    @pytest.mark.parametrize("version", ["R12", "R2000", "R2007", "R2018"])
    def test_versions(self, version):
        found = read(dxf(lambda _, m: m.add_circle((0, 0), 10), version=version), "a.dxf")
        assert found.width_mm == pytest.approx(20, rel=1e-6)

    def test_y_is_up_there(self):
        draw = lambda _, m: m.add_lwpolyline([(0, 0), (10, 0), (0, 30)], close=True)  # noqa: E731
        outline = outline_of(read(dxf(draw), "a.dxf").artwork.items[0].d)
        top = outline.points[outline.points[:, 1].argmin()]
        assert top[0] == pytest.approx(-5)

    def test_blocks_without_end_are_refused_in_words(self):
        def draw(document, model):
            inner = document.blocks.new("B0")
            inner.add_circle((0, 0), 1)
            for n in range(1, 7):
                block = document.blocks.new(f"B{n}")
                for k in range(10):
                    block.add_blockref(f"B{n - 1}", (k * 3, n))
            model.add_blockref("B6", (0, 0))

        def itself(document, model):
            block = document.blocks.new("A")
            block.add_circle((0, 0), 1)
            block.add_blockref("A", (1, 1))
            model.add_blockref("A", (0, 0))

        def rows(document, model):
            document.blocks.new("A").add_circle((0, 0), 1)
            many = {"row_count": 300, "column_count": 300, "row_spacing": 2, "column_spacing": 2}
            model.add_blockref("A", (0, 0), many)

        for endless in (draw, itself, rows):
            with pytest.raises(Problem, match="without end"):
                read(dxf(endless), "a.dxf")


def pdf(draw, count=1):
    document = FPDF(unit="mm", format=(200, 100))
    document.set_compression(False)
    for n in range(count):
        document.add_page()
        draw(document, n)
    return bytes(document.output())


class TestPdf:
    def test_true_size_by_points(self):
        """ISO 32000-1, section 8.3.2.3: 72 units of user space to the inch. Written by fpdf2."""

        def draw(document, _):
            document.set_fill_color(200, 0, 0)
            document.rect(20, 30, 50, 25, style="F")

        found = read(pdf(draw), "a.pdf")
        assert found.size_stated
        assert (found.width_mm, found.height_mm) == pytest.approx((50, 25), rel=1e-4)
        assert found.artwork.items[0].film == "#C80000"
        assert area(found) == pytest.approx(1250, rel=1e-3)

    def test_curves_lines_and_the_page_that_is_chosen(self):
        def draw(document, n):
            if n == 1:
                document.set_line_width(2)
                document.line(10, 10, 60, 10)
                document.ellipse(20, 20, 40, 20, style="F")

        data = pdf(draw, 3)
        found = read(data, "a.pdf", page=2)
        assert area(found, colours="one") == pytest.approx(math.pi * 20 * 10, rel=5e-3)
        (line,) = (item for item in found.artwork.items if item.line)
        assert line.width_mm == pytest.approx(2, rel=1e-3)
        count, pictures = pages(data, "a.pdf")
        assert (count, len(pictures)) == (3, 3)
        assert pictures[0].png.startswith(b"\x89PNG")
        assert (pictures[0].width_mm, pictures[0].height_mm) == pytest.approx((200, 100), rel=1e-3)

    @pytest.mark.parametrize("page", [1, 3, 99])
    def test_a_page_without_outlines_or_that_is_not_there_is_said(self, page):
        data = pdf(lambda document, n: document.rect(1, 1, 9, 9, style="F") if n == 1 else None, 3)
        with pytest.raises(Problem, match=f"page {page}|Page {page}") as told:
            read(data, "a.pdf", page=page)
        assert told.value.todo

    def test_text_only_is_said(self):
        def draw(document, _):
            document.set_font("helvetica", size=30)
            document.cell(text="Tern")

        with pytest.raises(Problem, match="no outlines"):
            read(pdf(draw), "a.pdf")

    def test_locked_is_said(self):
        document = FPDF()
        document.set_encryption(owner_password="a", user_password="b")
        document.add_page()
        document.rect(1, 1, 9, 9, style="F")
        with pytest.raises(Problem, match="password"):
            read(bytes(document.output()), "a.pdf")


SQUARE = '<rect width="9" height="9"/>'


class TestWhatIsRefused:
    @pytest.mark.parametrize(
        ("data", "name", "said"),
        [
            (b"", "a.svg", "cannot be read"),
            (b"%PDF-1.7 and no more", "a.pdf", "broken"),
            (b"  0\nSECTION\n  2\nENTITIES\n", "a.dxf", "outlines|cannot"),
            (b"\x89PNG\r\n", "a.png", "no drawing"),
            (svg("<script>alert(1)</script>"), "a.svg", "no outlines"),
            (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg/>', "a.svg", "declarations"),
            (svg('<image href="http://example.org/a.png" width="9" height="9"/>'), "a.svg", "no outlines"),
            (svg('<use href="other.svg#a"/>'), "a.svg", "not in it"),
            (svg('<path d="M0 0L1e400 5"/>'), "a.svg", "."),
            (svg('<path d="MNaN 0L1 5"/>'), "a.svg", "signs"),
            (svg(SQUARE, 'width="99000mm" viewBox="0 0 99 99"'), "a.svg", "m across"),
            (svg(SQUARE, 'width="0.001mm" viewBox="0 0 900 900"'), "a.svg", "too small"),
            (b"x" * (MAX_FILE_BYTES + 1), "a.svg", "larger than"),
            (svg('<path d="M0 0' + "L1 1L2 0" * 400_000 + '"/>'), "a.svg", "."),
        ],
    )
    def test_in_words(self, data, name, said):
        with pytest.raises(Problem, match=said) as told:
            read(data, name)
        assert told.value.what
        assert told.value.todo

    def test_more_than_a_design_holds(self):
        saw = " ".join(f"{x}.123,{x % 2}.456" for x in range(2_600))
        body = "".join(
            f'<polygon points="0,9 {saw} 2600,9" transform="translate(0 {10 * n})"/>' for n in range(60)
        )
        with pytest.raises(Problem, match="more points than"):
            read(svg(body))

    @pytest.mark.parametrize("seed", range(12))
    def test_damaged_files_are_refused_or_read_and_nothing_else(self, seed):
        rng = np.random.default_rng(seed)
        whole = [
            svg('<g id="a"><path d="M0 0h9v9z"/><circle r="4"/></g><use href="#a"/>'),
            dxf(lambda _, m: (m.add_circle((0, 0), 10), m.add_lwpolyline([(0, 0), (9, 0), (5, 5)]))),
            pdf(lambda document, _: document.rect(1, 1, 9, 9, style="F")),
        ]
        for data, name in zip(whole, ("a.svg", "a.dxf", "a.pdf"), strict=True):
            for _ in range(6):
                damaged = bytearray(data)
                for at in rng.integers(0, len(data), 8).tolist():
                    damaged[at] = int(rng.integers(0, 256))
                cut = bytes(damaged[: int(rng.integers(10, len(data)))] if rng.random() < 0.4 else damaged)
                assert is_answered_in_words(lambda: build_artwork(read(cut, name).artwork))  # noqa: B023


class TestPaths:
    @given(st.lists(st.tuples(st.floats(-500, 500), st.floats(-500, 500)), min_size=3, max_size=12))
    @settings(max_examples=40, deadline=None)
    def test_what_is_written_is_read_back_to_a_micrometre(self, points):
        outline = Outline.polygon(points)
        back = outline_of(path_data(outline))
        assert (back.verbs == outline.verbs).all()
        assert np.abs(back.points - outline.points).max() <= 5.1e-4

    @pytest.mark.parametrize("d", ["M0", "M0 0L1", "L1 1", "M0 0Q1 1", "M0 0X1 1", "M0 0Lnan 1", "M1 1 2 2"])
    def test_what_is_none_is_refused(self, d):
        with pytest.raises(ValueError, match=r"path data|number"):
            outline_of(d)

    def test_chains_go_on_whichever_way_their_lines_were_drawn(self):
        rng = np.random.default_rng(3)
        corners = rng.uniform(0, 100, (30, 2))
        lines = []
        for a, b in itertools.pairwise(corners):
            line = Outline(np.array([MOVE, LINE], np.uint8), np.array([a, b]))
            lines.append(backwards(line) if rng.random() < 0.5 else line)
        rng.shuffle(lines)
        (chain,) = chained(lines)
        ends = {tuple(np.round(p, 9)) for p in (chain.points[0], chain.points[-1])}
        assert ends == {tuple(np.round(p, 9)) for p in (corners[0], corners[-1])}
        assert len(chain.verbs) == 30

    def test_a_curve_turned_around_is_the_same_curve(self):
        line = Outline(np.array([MOVE, CUBIC, LINE], np.uint8), np.arange(10.0).reshape(-1, 2))
        again = backwards(backwards(line))
        assert (again.points == line.points).all()
        assert (again.verbs == line.verbs).all()


@pytest.mark.parametrize(
    ("start", "kind"),
    [
        (b"<?xml", "svg"),
        (b"%PDF-1.4", "pdf"),
        (b"  0\r\nSECTION", "dxf"),
        (b"999\nmade by", "dxf"),
    ],
)
def test_kinds_by_how_files_begin(start, kind):
    assert kind in reader_for(start, "no-ending").suffixes


def test_what_begins_like_nothing_that_is_read_is_known_by_its_ending_or_refused():
    assert reader_for(b"hello", "plan.DXF").name == "DXF"
    with pytest.raises(Problem, match="Choose an SVG, PDF or DXF file") as caught:
        reader_for(b"hello", "no-ending")
    assert caught.value.kind == "bad-artwork"


def test_a_drawing_of_20_000_nodes_fits_into_a_design():
    rng = np.random.default_rng(1)
    steps = np.cumsum(rng.uniform(0.01, 0.02, 20_000))
    points = [(s, 10 * math.sin(s / 7)) for s in steps]
    d = "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points)
    found = read(svg(f'<path fill="none" stroke="red" d="{d}"/>', 'width="400mm" viewBox="0 0 400 100"'))
    assert len(found.artwork.items[0].d) < MAX_ART_DATA
