"""The cache: bounded, shared by threads, and made once."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from threading import Barrier, Event

import numpy as np
import pytest
import shapely

from fulgen.bounded import BoundedCache, weight_of
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Shape


def test_what_was_used_longest_ago_goes_first():
    room = 3 * (10 + weight_of("a"))
    cache = BoundedCache(room, len)
    for name in "abcd":
        cache.get(name, lambda: "x" * 10)
    assert cache.bytes_kept == room
    made = []
    cache.get("d", lambda: made.append("d") or "y" * 10)
    cache.get("a", lambda: made.append("a") or "y" * 10)
    assert made == ["a"]


def test_a_value_over_the_whole_limit_is_handed_out_and_not_kept():
    cache = BoundedCache(30, len)
    assert [cache.get("a", lambda n=n: str(n) * 40)[0] for n in (1, 2)] == ["1", "2"]


def test_several_threads_asking_at_once_have_it_made_once():
    cache = BoundedCache(1000, len)
    made, start, go_on = [], Barrier(4), Event()

    def make():
        made.append(1)
        go_on.wait(20)
        return "value"

    def ask():
        start.wait(20)
        return cache.get("key", make)

    with ThreadPoolExecutor(4) as pool:
        asked = [pool.submit(ask) for _ in range(3)]
        start.wait(20)
        go_on.set()
        assert {a.result(20) for a in asked} == {"value"}
    assert made == [1]


def test_keys_count_in_full():
    """A million bytes of keys are a million bytes, however small what they lead to."""
    cache = BoundedCache(100_000)
    for n in range(100):
        cache.get((f"{n}" * 5_000, n), lambda: None)
    assert cache.bytes_kept <= 100_000
    assert len(cache._kept) < 20


@pytest.mark.parametrize(
    ("value", "least"),
    [
        (np.zeros(1000), 8_000),
        (shapely.Point(0, 0).buffer(1, quad_segs=250), 1_000 * 16),
        (replace(Shape.empty(), outline=Outline.polygon(np.zeros((500, 2)))), 500 * 16),
        ("x" * 1000, 1_000),
        ({"a": ["x" * 1000] * 3}, 3_000),
    ],
)
def test_a_value_weighs_no_less_than_its_numbers(value, least):
    assert least <= weight_of(value) <= 40 * least


def test_what_raises_is_not_kept_and_the_next_tries_again():
    cache = BoundedCache(1000, len)
    with pytest.raises(ZeroDivisionError):
        cache.get("key", lambda: 1 / 0)
    assert cache.get("key", lambda: "value") == "value"
