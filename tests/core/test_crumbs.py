"""Crumbs: what the weld leaves at flat crossings goes, and what was drawn stays."""

import numpy as np
import pytest
import shapely

from fulgen.geometry.crumbs import without_crumbs
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Outline
from fulgen.geometry.polygons import region_of
from fulgen.geometry.weld import weld
from tests.figures import disc, rectangle, shape


def test_a_short_side_between_two_others_is_taken_out():
    crumbed = Outline.polygon([(0, 0), (10, 0), (10, 5), (10, 5.004), (10, 10), (0, 10)])
    drawn = [Outline.polygon([(0, 0), (10, 0), (10, 10), (0, 10)])]
    tidy = without_crumbs(crumbed, 0.02, drawn)
    assert tidy.points.tolist() == [[0, 0], [10, 0], [10, 5.004], [10, 10], [0, 10]]


def test_one_at_the_beginning_of_a_contour_too():
    points = np.array([(0, 0), (0.004, 0), (10, 0), (10, 10), (0, 10), (0, 0)], dtype=float)
    crumbed = Outline(np.array([MOVE, LINE, LINE, LINE, LINE, LINE], np.uint8), points)
    tidy = without_crumbs(crumbed, 0.02, [rectangle(50, 50, 1, 1)])
    assert len(tidy.verbs) == 5
    assert tidy.points[0].tolist() == tidy.points[-1].tolist()
    assert region_of(tidy, 0.01).area == pytest.approx(100, rel=1e-3)


def test_the_curve_before_a_crumb_keeps_its_direction():
    points = np.array([(0, 0), (3, 0), (10, 4), (10, 10), (10, 10.01), (0, 10)], dtype=float)
    crumbed = Outline(np.array([MOVE, CUBIC, LINE, LINE], np.uint8), points)
    tidy = without_crumbs(crumbed, 0.02, [rectangle(50, 50, 1, 1)])
    (side, *_), _ = tidy.cubics
    assert (side[3] - side[2]).tolist() == pytest.approx([0, 6])
    assert side[3].tolist() == [10, 10.01]


def test_short_sides_that_were_drawn_stay():
    drawn = Outline.polygon([(0, 0), (10, 0), (10, 5), (10, 5.004), (10, 10), (0, 10)])
    assert without_crumbs(drawn, 0.02, [drawn]) is drawn


def test_a_weld_whose_edges_run_along_each_other_has_no_short_sides():
    # Two discs of nearly one radius about one centre: their outlines cross at flat angles.
    one, other = shape(disc(0, 0, 10)), shape(disc(0.003, 0.002, 10.001))
    welded = weld([one, other], 0.02)
    sides, _ = welded.outline.cubics
    assert np.hypot(*(sides[:, 3] - sides[:, 0]).T).min() >= 0.02
    assert shapely.area(region_of(welded.outline, 0.01)) == pytest.approx(welded.region.area, rel=1e-3)
