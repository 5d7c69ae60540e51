"""Patterns to print: at true size, whole, and with marks that meet. Read by PDFium.

Sizes of paper: ISO 216 (A4 is 210 × 297 mm), ANSI/ASME Y14.1 (size A is 8.5 × 11 in); a point of PDF's user
space is 1/72 in (ISO 32000-1, section 8.3.2.3).
"""

import re
from itertools import pairwise

import pypdfium2
import pypdfium2.raw as raw
import pytest

from fulgen.formats.pattern import EDGE_MM, MOST_PAGES, OVERLAP_MM, pages_for, write_pattern
from fulgen.geometry.measure import Box
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from

MM = 25.4 / 72


def plate(width, height, **more):
    return {"kind": "shape", "id": "p", "form": "rectangle", "width_mm": width, "height_mm": height, **more}


def design(*parts, **more):
    return evaluate(recipe_from({"format": "fulgen-recipe", "version": 10, "parts": list(parts), **more}))


def pages_of(data):
    """The pages of a PDF: size in mm, the boxes of what is drawn on each in mm, y down, and its text."""
    document = pypdfium2.PdfDocument(data)
    found = []
    for page in document:
        wide, high = (side * MM for side in page.get_size())
        boxes = []
        for thing in page.get_objects([raw.FPDF_PAGEOBJ_PATH]):
            left, bottom, right, top = (side * MM for side in thing.get_bounds())
            boxes.append((left, high - top, right, high - bottom))
        found.append(((wide, high), boxes, page.get_textpage().get_text_range()))
    document.close()
    return found


@pytest.mark.parametrize(("paper", "size"), [("a4", (210.0, 297.0)), ("letter", (215.9, 279.4))])
def test_one_page_at_true_size(paper, size):
    ((there, boxes, text),) = pages_of(write_pattern("Tag", design(plate(120.0, 60.0)), paper))
    assert sorted(there) == pytest.approx(sorted(size), abs=0.1)
    sides = [(right - left, bottom - top) for left, top, right, bottom in boxes]
    # PDFium's bounds of a line reach its width of 0.3 mm further on each side.
    assert any(side == pytest.approx((120.6, 60.6), abs=0.02) for side in sides)
    assert any(side == pytest.approx((100.6, 0.6), abs=0.02) for side in sides)  # the bar of 100 mm
    assert "Tag. page 1 of 1" in text
    assert "100 mm: measure it" in text


def test_the_bar_is_in_inches_where_the_design_is():
    ((_, _, text),) = pages_of(write_pattern("Tag", design(plate(120.0, 60.0), unit="in")))
    assert "4 in: measure it" in text


def test_a_design_larger_than_paper_lies_on_as_many_pages_as_it_takes():
    data = write_pattern("Lid", design(plate(400.0, 250.0)))
    pages = pages_of(data)
    assert len(pages) == 3
    assert [re.search(r"A\d, page \d of \d", text)[0] for _, _, text in pages] == [
        "A1, page 1 of 3", "A2, page 2 of 3", "A3, page 3 of 3",
    ]  # fmt: skip
    # Each page shows the same plate, moved on by the step: its left edge as seen from each page.
    lefts = [min(left for left, top, right, bottom in boxes if right - left > 399) for _, boxes, _ in pages]
    steps = [round(before - after, 2) for before, after in pairwise(lefts)]
    assert steps == [210.0 - 2 * EDGE_MM - OVERLAP_MM] * 2


@pytest.mark.parametrize(
    "size", [(186.0, 261.0), (187.0, 261.0), (1000.0, 700.0), (20.0, 900.0), (400.0, 250.0)]
)
def test_pages_cover_all_of_it_and_overlap(size):
    box = Box(-30.0, 12.0, *size)
    pages = pages_for(box, "a4")
    corner = pages.shown(pages.across - 1, pages.down - 1)
    assert pages.first.x <= box.x + 1e-6
    assert corner.right >= box.right - 1e-6
    assert pages.first.y <= box.y + 1e-6
    assert corner.bottom >= box.bottom - 1e-6
    for column in range(pages.across - 1):
        one, other = pages.shown(column, 0), pages.shown(column + 1, 0)
        assert one.right - other.x == pytest.approx(OVERLAP_MM)
    # One page less would not do, on upright paper or on its side.
    assert pages.across * pages.down == 1 or max(size) > 186.0


def test_a_page_with_nothing_on_it_is_left_out():
    far = plate(20.0, 20.0, id="q", place={"x": 900.0, "y": 0.0})
    pages = pages_of(write_pattern("Two", design(plate(20.0, 20.0), far)))
    assert len(pages) == 2
    assert all("of 2" in text for _, _, text in pages)


def test_all_uses_are_on_it_and_guides_are_not():
    fold = {
        "kind": "line",
        "id": "f",
        "use": "score",
        "points": [{"x": -50.0, "y": 0.0}, {"x": 50.0, "y": 0.0}],
    }
    seen = [
        design(plate(120.0, 60.0), *more)
        for more in ((), (fold,), ({**plate(30, 30), "id": "g", "use": "guide"},))
    ]
    bare, folded, guided = (len(pages_of(write_pattern("x", one))[0][1]) for one in seen)
    assert folded == bare + 1
    assert guided == bare


def test_names_are_written_as_they_are():
    ((_, _, text),) = pages_of(write_pattern("Łucja & Zoë", design(plate(50.0, 20.0))))
    assert "Łucja & Zoë" in text


def test_too_many_pages_and_nothing_at_all_are_said():
    with pytest.raises(Problem, match=f"up to {MOST_PAGES}"):
        pages_for(Box(0, 0, 5000.0, 5000.0), "a4")
    with pytest.raises(Problem, match="nothing to print yet"):
        write_pattern("x", design(plate(50.0, 20.0, use="guide")))
