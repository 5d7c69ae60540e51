"""Rhythm and white: the white against plane geometry, the word's decision against trying everything."""

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fulgen.joining import rhythm
from fulgen.joining.letter_gap import CAP, LINES, gaps_between, letter_gap, overlapping, scan_extent
from fulgen.joining.pair_joining import Joint, Option
from fulgen.joining.rhythm import TIGHTENINGS, Choices, decide
from fulgen.lettering.letters import Way


def stem(x):
    return shapely.box(x, -0.7, x + 0.1, 0)


class TestWhite:
    def test_of_two_stems_is_their_distance(self):
        gaps = gaps_between(scan_extent(stem(0), 0.5), scan_extent(stem(0.3), 0.5), 0.0)
        assert letter_gap(gaps) == pytest.approx(0.2)
        assert letter_gap(gaps, -0.05) == pytest.approx(0.15)
        assert letter_gap(gaps, -0.3) == 0.0

    def test_of_two_discs_is_the_mean_over_the_band(self):
        discs = [shapely.Point(x, -0.25).buffer(0.25, 128) for x in (0, 0.6)]
        gaps = gaps_between(*(scan_extent(disc, 0.5) for disc in discs), 0.0)
        ys = np.linspace(-0.5, 0, LINES + 2)[1:-1] + 0.25
        assert letter_gap(gaps) == pytest.approx(
            np.minimum(0.6 - 2 * np.sqrt(0.25**2 - ys**2), CAP).mean(), abs=1e-3
        )

    def test_where_a_letter_has_nothing_the_cap_counts(self):
        short = shapely.box(0.3, -0.2, 0.4, 0)
        gaps = gaps_between(scan_extent(stem(0), 0.4), scan_extent(short, 0.4), 0.0)
        assert letter_gap(gaps) == pytest.approx((0.2 + CAP) / 2)

    def test_overlapping_is_the_share_of_the_band(self):
        half = shapely.box(0.3, -0.2, 0.4, 0)
        gaps = gaps_between(scan_extent(stem(0), 0.4), scan_extent(half, 0.4), 0.0)
        assert overlapping(gaps, -0.25) == pytest.approx(0.5)
        assert overlapping(gaps) == 0.0


def option(shift, cost, white=0.1, fused=0.0, way=Way.SLIDE):
    return Option(Joint(way, shift), cost, max(0.0, white + shift), fused)


options = st.lists(
    st.tuples(st.sampled_from([0.0, -0.02, -0.045, -0.09]), st.floats(0, 5), st.floats(0, 0.5)),
    min_size=1, max_size=4,
)  # fmt: skip


def cost_of(seams, chosen, tightening):
    """What a choice costs, added up as the module says."""
    median_set = float(np.median([s.letter_gap for s in seams]))
    median = max(median_set + tightening, 0.02)
    total = len(seams) * (tightening / rhythm._TIGHTER) ** 2
    for seam, one in zip(seams, chosen, strict=True):
        total += rhythm._cost(seam, one, tightening, median, median_set, 1.0)
    for one, other in itertools.pairwise(chosen):
        total += 0.5 * min(((one.joint.shift - other.joint.shift) / rhythm._UNLIKE) ** 2, 4.0)
    return total


class TestTheWord:
    @given(st.lists(options, min_size=1, max_size=5))
    def test_no_other_choice_costs_less(self, rows):
        seams = [Choices([option(s, c, 0.12, f) for s, c, f in row], 0.12, 0.0) for row in rows]
        every = [
            cost_of(seams, chosen, t)
            for t in TIGHTENINGS for chosen in itertools.product(*(s.options for s in seams))
        ]  # fmt: skip
        best = min(cost_of(seams, decide(seams), t) for t in TIGHTENINGS)
        if any(len(seam.options) > 1 for seam in seams):
            assert best == pytest.approx(min(every))

    def test_a_word_that_holds_as_it_is_set_stays_so(self):
        seams = [Choices([option(0.0, 0.0, way=Way.LEAVE)], 0.1, 0.0)] * 4
        assert all(one.joint.way is Way.LEAVE for one in decide(seams))

    def test_all_pairs_are_tightened_alike_rather_than_one_by_much(self):
        row = [option(0.0, 4.0), option(-0.02, 1.0), option(-0.045, 0.9)]
        chosen = decide([Choices(row, 0.12, 0.0)] * 6)
        assert len({one.joint.shift for one in chosen}) == 1

    def test_fused_stems_are_avoided(self):
        fused, stroke = option(-0.09, 0.0, fused=0.9), option(0.0, 1.5)
        assert decide([Choices([fused, stroke], 0.1, 0.0)] * 3)[0] is stroke

    def test_as_drawn_moves_less_than_tightly_joined(self):
        row = [option(0.0, 1.5), option(-0.02, 0.9), option(-0.045, 0.4), option(-0.09, 0.0)]
        moved = [
            sum(-one.joint.shift for one in decide([Choices(row, 0.15, 0.0)] * 5, tight))
            for tight in (0.0, 0.5, 1.0)
        ]
        assert moved == sorted(moved)
        assert moved[0] < moved[2]
