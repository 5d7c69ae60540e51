"""Where something that grows becomes as large as was asked, found by trying."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Root:
    """Where a function crosses zero: the argument, the value there, and whether that is as exact as asked."""

    at: float
    off: float
    is_exact: bool


def root(
    off: Callable[[float], float],
    start: float,
    slope: float,
    exact: float,
    *,
    least: float = 0.0,
    most: float = 1e9,
) -> Root:
    """Where a function that grows is zero to ``exact``, looked for from ``start`` between ``least`` and
    ``most``; ``slope`` is about how fast it grows. By secants, kept in a bracket as soon as there is one, and
    by halves where they are slow (regula falsi with the Illinois rule; Dowell and Jarratt, BIT 11, 1971).

    Where it jumps over zero, or is not zero in between, that is the best argument that was tried.
    """
    low: tuple[float, float] | None = None
    high: tuple[float, float] | None = None
    best = Root(start, off(start), False)
    at, value = best.at, best.off
    for tried in range(_TRIALS):
        if abs(value) < abs(best.off):
            best = Root(at, value, False)
        if abs(value) <= exact:
            return Root(at, value, True)
        if value < 0:
            # An end that stays where it is counts half, or false position creeps up on the root.
            high = (high[0], high[1] / 2) if high and low else high
            low = at, value
        else:
            low = (low[0], low[1] / 2) if high and low else low
            high = at, value
        if low and high:
            if high[0] - low[0] <= _NO_ROOM * max(abs(high[0]), _NO_ROOM):
                break
            at = low[0] + (high[0] - low[0]) * low[1] / (low[1] - high[1])
            if tried % 4 == 3 or not low[0] < at < high[0]:
                at = (low[0] + high[0]) / 2
        else:
            # Further every time: what grows more slowly is reached, too.
            further = min(max(at - value / slope * _FURTHER**tried, least), most)
            if further == at:
                break
            at = further
        value = off(at)
    return best


def bisect(is_below: Callable[[float], bool], low: float, high: float, within: float) -> tuple[float, float]:
    """Two values not further apart than ``within``, of which the lower is below where something changes and
    the upper is not, by halves between two of which that is known."""
    while high - low > within:
        middle = (low + high) / 2
        low, high = (middle, high) if is_below(middle) else (low, middle)
    return low, high


_TRIALS = 60
_FURTHER = 1.5
_NO_ROOM = 1e-13
