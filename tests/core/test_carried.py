"""Files that carry their recipe: opened, they are the design again; changed elsewhere, they say so."""

import base64
import io
import re
import zlib
from dataclasses import replace

import pypdfium2
import pytest
import svgelements

from fulgen.formats.carried import FILE_IN_PDF, NAMESPACE, read_carried, svg_with_recipe
from fulgen.formats.drawn_sheet import about_of, drawn_sheet
from fulgen.formats.sheet_files import write_file
from fulgen.formats.svg import write_svg
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from
from fulgen.sheet.machines import machine
from fulgen.sheet.plan import sheets_of

RECIPE = recipe_from({
    "format": "fulgen-recipe",
    "version": 12,
    "parts": [
        {"kind": "lettering", "id": "one", "text": "Zoë & Maud", "face": {"family": "pacifico"},
         "join": {"how": "auto"}},
        {"kind": "shape", "id": "disc", "form": "disc", "width_mm": 30.0, "height_mm": 30.0,
         "film": "#B03030", "place": {"x": 0.0, "y": 60.0}},
    ],
})  # fmt: skip


@pytest.fixture(scope="module")
def svg():
    return svg_with_recipe(write_svg(evaluate(RECIPE).whole()), "Zoë", RECIPE)


@pytest.fixture(scope="module")
def drawn():
    evaluation = evaluate(RECIPE).whole()
    sheet = sheets_of("Zoë", evaluation)[0]
    job = sheet.job(machine("Drag knife"))
    return replace(drawn_sheet("zoe", job, about_of("Zoë", evaluation)), design=RECIPE)


def test_an_outline_is_the_design_again(svg):
    carried = read_carried(svg.encode(), "zoe.svg")
    assert (carried.name, carried.recipe, carried.is_changed) == ("Zoë", RECIPE, False)


@pytest.mark.parametrize("hairline", [0.0, 0.25])
@pytest.mark.parametrize("kind", ["svg", "pdf"])
def test_a_sheet_is_the_design_again(drawn, kind, hairline):
    file = write_file(replace(drawn, hairline_mm=hairline), kind)
    carried = read_carried(file.data, file.name)
    assert (carried.recipe, carried.is_changed) == (RECIPE, False)


def test_other_readers_find_what_they_found_before(svg, drawn):
    """svgelements reads the outline, PDFium the page and the file within."""
    paths = [p for p in svgelements.SVG.parse(io.StringIO(svg)).elements()
             if isinstance(p, svgelements.Path)]  # fmt: skip
    assert len(paths) == 2
    document = pypdfium2.PdfDocument(write_file(drawn, "pdf").data)
    assert [document.get_attachment(0).get_name(), len(document)] == [FILE_IN_PDF, 1]


def test_the_same_design_gives_the_same_file(svg, drawn):
    assert svg == svg_with_recipe(write_svg(evaluate(RECIPE).whole()), "Zoë", RECIPE)
    assert write_file(drawn, "pdf").data == write_file(drawn, "pdf").data


@pytest.mark.parametrize(
    "change",
    [
        lambda text: text.replace("#B03030", "#2F6B4F"),
        lambda text: re.sub(r'<path id="film-2"[^>]*/>', "", text),
        lambda text: text.replace("</svg>", '<path fill="#000000" d="M0 0H9V9H0Z"/></svg>'),
    ],
    ids=["another colour", "a shape less", "a shape more"],
)
def test_what_was_drawn_otherwise_elsewhere_is_told(svg, change):
    carried = read_carried(change(svg).encode(), "zoe.svg")
    assert (carried.recipe, carried.is_changed) == (RECIPE, True)


def test_written_anew_by_another_program_it_is_unchanged(svg):
    """Other spaces, other decimals, the paths in another order: as programs write that pass a file on."""
    again = svg.replace("><", ">\n <")
    again = re.sub(r"(\d+\.\d+)", lambda found: f"{float(found[1]):.5f}", again)
    paths = re.findall(r"<path[^>]*/>", again)
    again = again.replace(paths[0], "@").replace(paths[1], paths[0]).replace("@", paths[1])
    assert read_carried(again.encode(), "zoe.svg").is_changed is False


def test_a_file_that_carries_none(svg):
    assert read_carried(write_svg(evaluate(RECIPE).whole()).encode(), "zoe.svg") is None
    assert read_carried(b"0\nSECTION\n", "zoe.dxf") is None


def test_a_recipe_by_itself_is_a_design():
    assert read_carried(RECIPE.stored().encode(), "zoe.json").recipe == RECIPE


@pytest.mark.parametrize(
    "packed",
    ["no base64 at all!", "AAAA", "eJzLSM3JyQcABiwCFQ=="],
    ids=["no base64", "not packed", "no recipe"],
)
def test_a_damaged_one_is_refused(svg, packed):
    broken = re.sub(rf'(xmlns="{NAMESPACE}"[^>]*>)[^<]*', rf"\g<1>{packed}", svg)
    with pytest.raises(Problem) as refused:
        read_carried(broken.encode(), "zoe.svg")
    assert refused.value.what == "zoe.svg carries a design that is damaged."


def test_a_bomb_is_refused(svg):
    bomb = base64.b64encode(zlib.compress(b"{" + b" " * 60_000_000)).decode()
    broken = re.sub(rf'(xmlns="{NAMESPACE}"[^>]*>)[^<]*', rf"\g<1>{bomb}", svg)
    with pytest.raises(Problem):
        read_carried(broken.encode(), "zoe.svg")
