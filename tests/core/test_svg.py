"""The SVG file, read back by readers that are not ours: svgelements and the standard XML parser."""

import io
from xml.etree import ElementTree

import numpy as np
import pytest
import shapely
import svgelements

from fulgen.formats.svg import write_svg
from fulgen.geometry import measure
from fulgen.geometry.paths import path_data
from fulgen.geometry.placement import Placement
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.setting import Size
from fulgen.parts.lettering import Lettering
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from tests.figures import PX_PER_MM, disc, rectangle

SVG = "{http://www.w3.org/2000/svg}"


def design(text="Willowmere", family="pacifico", mm=177.8, **more):
    part = Lettering(text=text, face=FaceChoice(family=family), size=Size(measure="width", mm=mm))
    return evaluate(Recipe(parts=(part,), **more))


def read_back(document):
    """Paths as svgelements sees them, in CSS pixels."""
    svg = svgelements.SVG.parse(io.StringIO(document), reify=True)
    return svg, [e for e in svg.elements() if isinstance(e, svgelements.Path)]


def area_px(path):
    """Area by the even-odd rule of a path read by svgelements, flattened by svgelements' own curves."""
    area = shapely.Polygon()
    for subpath in path.as_subpaths():
        points = [
            s.point(t) for s in subpath if not isinstance(s, svgelements.Move) for t in np.linspace(0, 1, 12)
        ]
        area = area ^ shapely.Polygon([(p.x, p.y) for p in points]).buffer(0)
    return area.area


@pytest.mark.parametrize(
    "family", ["pacifico", "great-vibes", "alfa-slab-one", "caveat", "playwrite-us-trad"]
)
def test_another_reader_finds_the_same_size_and_area(family):
    evaluation = design(family=family)
    _, (path,) = read_back(write_svg(evaluation))
    x0, y0, x1, y1 = path.bbox()
    assert (x1 - x0) / PX_PER_MM == pytest.approx(177.8, abs=0.01)
    assert (y1 - y0) / PX_PER_MM == pytest.approx(evaluation.box.height, abs=0.01)
    assert (x0, y0) == pytest.approx((0, 0), abs=0.01)
    assert area_px(path) / PX_PER_MM**2 == pytest.approx(sum(p.area for p in evaluation.pieces), rel=1e-3)


def test_seven_inches_is_672_css_pixels():
    svg, _ = read_back(write_svg(design(mm=7 * 25.4)))
    assert svg.width == pytest.approx(672)


def test_the_document_is_plain():
    root = ElementTree.fromstring(write_svg(design()))
    assert root.tag == f"{SVG}svg"
    assert root.get("width") == "177.8mm"
    assert root.get("viewBox").startswith("0 0 177.8 ")
    paths = root.findall(f"{SVG}path")
    assert len(paths) == len(list(root.iter(f"{SVG}path"))) == 1
    assert not [e for e in root.iter() if e.get("transform") or e.get("stroke") or e.get("style")]
    assert set("".join(c for c in paths[0].get("d") if c.isalpha())) <= set("MLQCZ")


def test_curves_are_written_as_curves():
    d = ElementTree.fromstring(write_svg(design())).find(f"{SVG}path").get("d")
    assert d.count("Q") + d.count("C") > 10 * d.count("L") / 2


def test_numbers_are_short():
    d = path_data(disc(1 / 3, -2 / 3, 10.00000001))
    assert max(len(n) for n in d.replace("M", " ").replace("C", " ").replace("Z", " ").split()) <= 7


def test_a_rectangle_by_hand():
    assert path_data(rectangle(0, 0, 20, 5.5)) == "M0 0L20 0L20 5.5L0 5.5Z"


def test_words_and_face_are_in_the_file_so_that_nobody_forgets():
    root = ElementTree.fromstring(write_svg(design("Tern & <Thistle>", "lobster")))
    assert root.find(f"{SVG}title").text == "Tern & <Thistle>"
    assert "“Tern & <Thistle>” in Lobster" in root.find(f"{SVG}desc").text


def test_one_path_for_each_film():
    parts = (
        Lettering(text="a", id="a", film="#112233"),
        Lettering(text="b", id="b", film="#445566", place=Placement(0, 60)),
    )
    root = ElementTree.fromstring(write_svg(evaluate(Recipe(parts=parts))))
    assert [p.get("fill") for p in root.findall(f"{SVG}path")] == ["#112233", "#445566"]


def test_a_mirrored_file_has_the_same_box():
    _, (path,) = read_back(write_svg(design(mirror=True)))
    assert path.bbox()[0] == pytest.approx(0, abs=0.01)
    assert path.bbox()[2] / PX_PER_MM == pytest.approx(177.8, abs=0.01)


def test_nodes_in_the_file_are_the_nodes_reported():
    evaluation = design()
    d = ElementTree.fromstring(write_svg(evaluation)).find(f"{SVG}path").get("d")
    drawn = sum(d.count(c) for c in "LQC")
    # A contour whose last point is its first needs no closing side.
    assert drawn <= evaluation.nodes <= drawn + d.count("M")
    assert measure.node_count(evaluation.films[0].shape.outline) == evaluation.nodes
