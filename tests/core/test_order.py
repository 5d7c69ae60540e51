"""The order of cutting: against all orders there are, and against always taking the nearest."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fulgen.sheet.cutting_order import Cut, cutting_order, way_between

CORNERS = [(0, 0), (1, 0), (1, 1), (0, 1)]


def around(x, y, r, n=24):
    a = np.linspace(0, math.tau, n, endpoint=False)
    return np.column_stack((x + r * np.cos(a), y + r * np.sin(a)))


def square(x, y, side=1.0):
    return np.array(CORNERS) * side + (x, y)


def shortest_of_all(contours, before):
    """The shortest way over all orders that are allowed and all starts."""
    best = math.inf
    for order in itertools.permutations(range(len(contours))):
        if any(order.index(inner) > order.index(outer) for inner, outer in before):
            continue
        for starts in itertools.product(*(range(len(contours[c])) for c in order)):
            cuts = [Cut(c, s) for c, s in zip(order, starts, strict=True)]
            best = min(best, way_between(contours, cuts))
    return best


def nearest_next(contours):
    """The way when the nearest point of what is left always comes next."""
    at, way, left = np.zeros(2), 0.0, set(range(len(contours)))
    while left:
        far = {c: np.hypot(*(contours[c] - at).T) for c in left}
        best = min(left, key=lambda c: far[c].min())
        way += float(far[best].min())
        at = contours[best][far[best].argmin()]
        left.remove(best)
    return way


class TestOrder:
    @pytest.mark.parametrize("seed", range(4))
    def test_few_contours_are_cut_in_the_best_order_of_all(self, seed):
        places = np.random.default_rng(seed).uniform(0, 100, (5, 2))
        contours = [square(*place) for place in places]
        got = way_between(contours, cutting_order(contours))
        assert got == pytest.approx(shortest_of_all(contours, []), rel=1e-9)

    def test_with_holes_it_is_the_best_that_is_allowed(self):
        contours = [square(0, 0, 20), square(15, 2), square(40, 0, 20), square(42, 15), square(55, 3)]
        before = [(1, 0), (3, 2), (4, 2)]
        got = way_between(contours, cutting_order(contours))
        assert got == pytest.approx(shortest_of_all(contours, before), rel=1e-9)

    @given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 6)), min_size=1, max_size=9, unique=True))
    @settings(max_examples=40, deadline=None)
    def test_what_lies_inside_comes_first_and_nothing_is_lost(self, places):
        contours = []
        for x, y in places:
            contours += [around(30 * x, 30 * y, r) for r in (10, 6, 3)]
        cuts = cutting_order(contours)
        order = [cut.contour for cut in cuts]
        assert sorted(order) == list(range(len(contours)))
        for n in range(0, len(contours), 3):
            assert order.index(n + 2) < order.index(n + 1) < order.index(n)

    def test_many_contours_take_a_shorter_way_than_the_nearest_next(self):
        ratios = []
        for seed in range(4):
            places = np.random.default_rng(seed).uniform(0, 600, (70, 2))
            contours = [around(*place, 2.0) for place in places]
            ratios.append(way_between(contours, cutting_order(contours)) / nearest_next(contours))
        assert max(ratios) <= 1.0
        assert sum(ratios) / len(ratios) < 0.95

    def test_cuts_start_away_from_corners(self):
        side = np.linspace(0, 10, 21)[:-1]
        contour = np.concatenate([
            np.column_stack((side, 0 * side)), np.column_stack((10 + 0 * side, side)),
            np.column_stack((10 - side, 10 + 0 * side)), np.column_stack((0 * side, 10 - side)),
        ])  # fmt: skip
        [cut] = cutting_order([contour])
        assert min(math.dist(contour[cut.start], corner) for corner in np.array(CORNERS) * 10) >= 0.5

    def test_cuts_start_away_from_joints_where_they_can(self):
        contour = around(0, 0, 10, 200)
        [plain] = cutting_order([contour], (12, 0))
        joint = contour[plain.start]
        [cut] = cutting_order([contour], (12, 0), np.array([joint]))
        assert math.dist(contour[cut.start], joint) >= 1.5
        # With joints all around it starts somewhere all the same.
        assert len(cutting_order([contour], (12, 0), contour[::4])) == 1

    def test_nothing_is_cut_in_no_order(self):
        assert cutting_order([]) == []
