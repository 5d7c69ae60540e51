"""Holes that are too small to weed, and counters that thickening has closed."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import shapely

from fulgen.geometry.polygons import numbered_holes
from fulgen.geometry.thin import (
    inscribed_width,
)
from fulgen.joining.anchors import Anchor
from fulgen.parts.built_part import PlacedPart
from fulgen.readiness.cluster_view import ClusterView, Search, change_of_letter, touch_up_remedy
from fulgen.readiness.finding import LENGTH, Finding, Remedy


def _holes(look: ClusterView) -> Iterator[Finding]:
    limit = look.limits.hole_mm
    for contour, hole in numbered_holes(look.region):
        if not shapely.buffer(hole, -limit / 2).is_empty:
            continue
        width = inscribed_width(hole, 1e-2)
        if width >= limit:
            continue
        x, y = shapely.get_coordinates(shapely.point_on_surface(hole))[0].tolist()
        yield look.finding(
            "hole",
            f"A hole {look.whose(contour) or look.where(x, y)} is too small to weed: {LENGTH} across.",
            hole, width, limit, width, remedy=touch_up_remedy("Fill it", "fill", width),
        )  # fmt: skip


def _counters(look: ClusterView) -> Iterator[Finding]:
    """Counters that thickening has closed."""
    for part, built in look.letterings:
        closed = set(built.closed_counters)
        for letter, shape in zip(built.own_letters, part.shapes, strict=False):
            if letter.text in closed:
                closed.discard(letter.text)
                thicken = built.lettering.thicken_mm
                yield look.finding(
                    "counter", f"Thickening has closed a counter of {letter.text}.",
                    shape.region, thicken, thicken, remedy=partial(_thinner, thicken),
                )  # fmt: skip


def _thinner(thicken: float, part: PlacedPart, anchor: Anchor) -> Remedy:
    half = round(thicken / 2, 4)
    return Remedy(
        "Thicken by half as much",
        change_of_letter(anchor, lambda p: p.model_copy(update={"thicken_mm": half})),
    )


SMALL_HOLES = Search(
    _holes,
    {"hole": "The hole is not there any more, or has become another one."},
)
CLOSED_COUNTERS = Search(
    _counters,
    {
        "counter": "",
    },
)
