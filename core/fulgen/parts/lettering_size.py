"""The size at which lettering is as wide or as high as asked."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from fulgen.parts.built_lettering import REPORTED_FROM_MM, BuiltLettering, off_from_joints
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_ties import LEAST_SHARE
from fulgen.problem import Problem
from fulgen.roots import root
from fulgen.units import show_length

_EXACT_MM = 1e-4
"""A tenth of a micrometre: so true is the size of what is cut to the one that was asked for."""


def build_to_measure(
    part: Lettering, made_at: Callable[[float], BuiltLettering], start: float
) -> BuiltLettering:
    """Lettering at the size at which all of it is as wide or as high as asked, looked for from a size near
    it.

    Raises Problem "impossible-size" where what goes beyond the letters leaves no room for them.
    """
    asked = part.size.mm
    tried: dict[float, BuiltLettering] = {}

    def over(size: float) -> float:
        if size not in tried:
            tried[size] = made_at(size)
        return measured_size(tried[size]) - asked

    least = LEAST_SHARE * start
    slope = (over(start) + asked) / start
    found = root(over, start, slope, _EXACT_MM, least=least)
    if found.at <= least and not found.is_exact:
        raise Problem(
            "impossible-size",
            f"What goes beyond the letters leaves them no room within {show_length(asked)}.",
            "Choose a larger size, or let the underline reach less far.",
            "size",
        )
    return tried[found.at]


def measured_size(built: BuiltLettering) -> float:
    """What was asked of the size, as it is."""
    measure = built.lettering.size.measure
    if measure == "capitals":
        return built.capital_height
    if measure == "face":
        return built.size
    width, height = built.measures
    return width if measure == "width" else height


def unmet_sizes(part: Lettering, built: BuiltLettering, joined_for: float) -> Iterator[Problem]:
    """What was asked of the size and is not so; ``joined_for`` is the size that joints were made for."""
    got = measured_size(built)
    if abs(got - part.size.mm) > REPORTED_FROM_MM:
        what = _MEASURED[part.size.measure]
        yield Problem(
            "size-not-met",
            f"It is {show_length(got, places=2)} {what}: {show_length(part.size.mm, places=2)} was asked "
            "for, and no size gives just that.",
            "Choose a size a little larger or smaller.",
            "size",
        )
    yield from off_from_joints(built, built.size, joined_for)


_MEASURED = {"width": "wide", "height": "high", "capitals": "high, its capitals", "face": "large, its face"}
