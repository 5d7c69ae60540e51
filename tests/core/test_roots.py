"""The root finder against functions whose roots are known in closed form."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fulgen.roots import root


@given(st.floats(0.2, 50), st.floats(-40, 40), st.floats(0.1, 80))
def test_a_straight_line(slope, at, start):
    found = root(lambda x: slope * (x - at), start, 1.0, 1e-6, least=-1e3)
    assert found.is_exact
    assert found.at == pytest.approx(at, abs=1e-6 / slope + 1e-9)


@given(st.floats(0.5, 2000))
def test_a_cube_root(volume):
    found = root(lambda x: x**3 - volume, 1.0, 3.0, 1e-9 * volume)
    assert found.is_exact
    assert found.at == pytest.approx(math.cbrt(volume), rel=1e-8)


def test_what_jumps_over_zero_is_not_exact_and_near_the_jump():
    found = root(lambda x: x - 10 + (1.5 if x > 9 else 0.0), 2.0, 1.0, 1e-6)
    assert not found.is_exact
    assert found.at == pytest.approx(9.0, abs=1e-6)
    assert abs(found.off) == pytest.approx(0.5, abs=1e-6)


def test_what_is_never_zero_ends_at_the_bound():
    found = root(lambda x: x + 5.0, 4.0, 1.0, 1e-6, least=1.0)
    assert (found.at, found.is_exact) == (1.0, False)


def test_a_start_that_is_right_is_asked_once():
    asked = []
    root(lambda x: asked.append(x) or 0.0, 7.0, 1.0, 1e-6)
    assert asked == [7.0]
