"""Points that no cutter can tell from their neighbours."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np
import shapely

from fulgen.geometry.shape import CLOSE_NODES_MM
from fulgen.joining.anchors import Anchor, Place
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.touchups import TouchUp
from fulgen.readiness.cluster_view import ClusterView, Search
from fulgen.readiness.finding import LENGTH, Finding, Remedy
from fulgen.recipe.changes import with_touch_ups


def _points(look: ClusterView) -> Iterator[Finding]:
    """Nodes that no cutter can tell from their neighbours."""
    sides, _ = look.cluster.shape.outline.cubics
    if not len(sides):
        return
    chords = np.hypot(*(sides[:, 3] - sides[:, 0]).T)
    short = np.flatnonzero(chords < CLOSE_NODES_MM)
    if not len(short):
        return
    close: dict[Place, list[tuple[Anchor, float, float]]] = {}
    for x, y in sides[short[:_MOST_POINTS], 3].tolist():
        anchor = look.near(x, y).anchor(x, y)
        close.setdefault(anchor.place, []).append((anchor, x, y))
    for spots in close.values():
        _, x, y = spots[0]
        name = look.near(x, y).names_at(x, y)[0]
        many = f"{len(spots)} points in {name} are" if len(spots) > 1 else f"1 point in {name} is"
        yield look.finding(
            "points", f"{many} nearer to the next than {LENGTH}: more than a knife can follow.",
            shapely.MultiPoint([(x, y) for _, x, y in spots]), float(len(spots)), CLOSE_NODES_MM,
            CLOSE_NODES_MM, blocks=False, remedy=partial(_taken_out, [anchor for anchor, _, _ in spots]),
        )  # fmt: skip


_MOST_POINTS = 60
"""No more needless points are reported, for each of them takes a touch-up."""


def _taken_out(spots: list[Anchor], part: PlacedPart, anchor: Anchor) -> Remedy:
    touch_ups = [TouchUp("remove", at) for at in spots]
    return Remedy("Take them out", lambda recipe: with_touch_ups(recipe, touch_ups))


NEEDLESS_POINTS = Search(
    _points,
    {
        "points": "Without these points a piece or a hole would come or go.",
    },
)
