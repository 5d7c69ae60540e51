"""Crumbs: sides too short for any cutter, left where outlines cross at a flat angle.

A weld's outline goes from node to node of the shapes that were welded, and to where they cross. Edges that
run along each other cross more than once within a hair, and leave sides a few thousandths of a millimetre
long. They are taken out: the side before ends where the crumb did. Short sides that a shape was drawn with
stay.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable

import numpy as np

from fulgen.geometry.outline import CUBIC, MOVE, Floats, Outline

CLOSE_NODES_MM = 0.02
"""Nodes nearer to each other than this are needless: a cutter's step is 0.025 mm (HP-GL's plotter
unit: HP 7475A Interfacing and Programming Manual, from memory)."""

_SAME = 1e-3
"""Nodes that are nearer than this to a drawn one, as a share of the shortest side, are it: the curve engine
works in single precision."""


def without_crumbs(outline: Outline, shortest: float, drawn: Iterable[Outline]) -> Outline:
    """The outline without sides shorter than ``shortest`` that none of the ``drawn`` outlines has both nodes
    of."""
    if not outline:
        return outline
    starts = outline.point_starts
    ends = outline.points[starts[1:] - 1]
    before = np.roll(ends, 1, axis=0)
    gap = ends - before
    is_crumb = (np.hypot(gap[:, 0], gap[:, 1]) < shortest) & (outline.verbs != MOVE)
    if not is_crumb.any():
        return outline
    rows = np.flatnonzero(is_crumb)
    known = np.concatenate([np.full((1, 2), np.inf), *(shape.points for shape in drawn)])
    own = np.array(
        [_is_among(known, np.array([before[n], ends[n]]), _SAME * shortest) for n in rows.tolist()]
    )
    crumbs = set(rows[~own].tolist())
    return _taken_out(outline, crumbs) if crumbs else outline


def _is_among(known: Floats, pair: Floats, near: float) -> bool:
    apart = np.abs(known[None] - pair[:, None]).max(axis=2)
    return bool((apart.min(axis=1) <= near).all())


def _taken_out(outline: Outline, crumbs: set[int]) -> Outline:
    starts = outline.point_starts.tolist()
    contours = [*outline.contour_starts.tolist(), len(outline.verbs)]
    verbs: list[int] = []
    points: list[Floats] = []
    for first, last in itertools.pairwise(contours):
        own: list[tuple[int, Floats]] = []
        moved_start: Floats | None = None
        for n in range(first, last):
            side = outline.points[starts[n] : starts[n + 1]]
            if n not in crumbs:
                own.append((int(outline.verbs[n]), side.copy()))
            elif len(own) > 1:
                _end_at(own[-1], side[-1])
            else:  # the contour begins with it: it begins where the crumb ends, and so does its last side end
                moved_start = own[0][1][0] if moved_start is None else moved_start
                own[0] = (MOVE, side[-1:].copy())
        if moved_start is not None and np.array_equal(own[-1][1][-1], moved_start):
            _end_at(own[-1], own[0][1][0])
        if len(own) < 3:  # nothing is left of a contour that is all crumbs
            own = [
                (int(outline.verbs[n]), outline.points[starts[n] : starts[n + 1]]) for n in range(first, last)
            ]
        verbs += [verb for verb, _ in own]
        points += [side for _, side in own]
    return Outline(np.array(verbs, np.uint8), np.concatenate(points))


def _end_at(side: tuple[int, Floats], place: Floats) -> None:
    verb, points = side
    by = place - points[-1]
    points[-1] = place
    if verb == CUBIC:
        points[-2] += by
