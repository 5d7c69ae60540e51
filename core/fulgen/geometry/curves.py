"""The curve engine: unions that keep Béziers, by Skia's path operations.

Skia works in single precision and its mistakes are silent, so nothing here is believed until
the polygon engine agrees (see weld). Outlines are brought to a size at which single precision
is ample, and the winding of what comes back is set by nesting, never taken from Skia.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from itertools import chain

import numpy as np
import pathops

from fulgen.geometry.flatten import flatten
from fulgen.geometry.outline import CUBIC, LINE, MOVE, POINTS_OF, QUAD, Outline
from fulgen.geometry.polygons import winding_numbers

_WORKING_SIZE = 8192.0
"""Single precision resolves 0.0005 here: 12 nm in a word 200 mm wide."""


def _to_path(outline: Outline, fit: complex, *, closed: bool = True) -> pathops.Path:
    path = pathops.Path(fillType=pathops.FillType.WINDING)
    z = (outline.points[:, 0] + 1j * outline.points[:, 1]) * fit
    points = list(zip(z.real.tolist(), z.imag.tolist(), strict=True))
    move, line, quad, cubic = path.moveTo, path.lineTo, path.quadTo, path.cubicTo
    at, opened = 0, False
    for verb in outline.verbs.tolist():
        if verb == MOVE:
            if opened:
                path.close()
            move(*points[at])
            opened = True
        elif verb == LINE:
            line(*points[at])
        elif verb == QUAD:
            quad(*points[at], *points[at + 1])
        else:
            cubic(*points[at], *points[at + 1], *points[at + 2])
        at += (1, 1, 2, 3)[verb]
    if opened and closed:
        path.close()
    return path


_VERB = np.full(8, 255, np.uint8)
_VERB[int(pathops.PathVerb.MOVE)] = MOVE
_VERB[int(pathops.PathVerb.LINE)] = LINE
_VERB[int(pathops.PathVerb.QUAD)] = QUAD
_VERB[int(pathops.PathVerb.CUBIC)] = CUBIC


def _from_path(path: pathops.Path, fit: complex) -> Outline:
    verbs = _VERB[np.frombuffer(bytes(path.verbs), np.uint8)]
    verbs = verbs[verbs != 255]  # CLOSE; conics never occur, for none go in
    points = np.fromiter(chain.from_iterable(path.points), np.float64).reshape(-1, 2)
    if len(points) != POINTS_OF[verbs].sum():
        raise pathops.PathOpsError("the path holds verbs that were never drawn")
    z = (points[:, 0] + 1j * points[:, 1]) / fit
    return Outline(verbs, np.stack([z.real, z.imag], axis=1))


Route = Callable[[list[Outline]], Outline]


def _by_one_pass(grow: float, degrees: float, rule: pathops.FillType = pathops.FillType.WINDING) -> Route:
    """All contours in one path, simplified once: the surest way measured."""

    def united(outlines: list[Outline]) -> Outline:
        whole = Outline.joined(outlines)
        fit = _fit(whole, grow, degrees)
        path = _to_path(whole, fit)
        path.fillType = rule
        path.simplify(fix_winding=False, keep_starting_points=False)
        return _from_path(path, fit)

    return united


def _by_builder(grow: float, degrees: float) -> Route:
    """One union operation for each outline."""

    def united(outlines: list[Outline]) -> Outline:
        fit = _fit(Outline.joined(outlines), grow, degrees)
        builder = pathops.OpBuilder(fix_winding=False, keep_starting_points=False)
        for outline in outlines:
            builder.add(_to_path(outline, fit), pathops.PathOp.UNION)
        return _from_path(builder.resolve(), fit)

    return united


def _by_two(operation: pathops.PathOp, grow: float, degrees: float) -> Route:
    """What an operation leaves of two outlines."""

    def left(outlines: list[Outline]) -> Outline:
        one, other = outlines
        fit = _fit(Outline.joined(outlines), grow, degrees)
        path = pathops.op(
            _to_path(one, fit), _to_path(other, fit), operation, fix_winding=False, keep_starting_points=False
        )
        return _from_path(path, fit)

    return left


def _fit(outline: Outline, grow: float, degrees: float) -> complex:
    """The factor that brings an outline to the working size, times ``grow``, and turns it."""
    reach = float(np.abs(outline.points).max(initial=0.0))
    scale = grow * 2.0 ** math.floor(math.log2(_WORKING_SIZE / reach)) if reach else 1.0
    return cmath.rect(scale, math.radians(degrees))


ROUTES: tuple[Route, ...] = (
    _by_one_pass(1.0, 0.0),
    _by_one_pass(0.73, 11.0),
    _by_one_pass(0.11, 37.0),
    _by_builder(1.0, 0.0),
    _by_builder(0.73, 53.0),
)
"""Ways to unite outlines, best first. Skia's mistakes hang on where curves meet its grid, so
another size and angle is in effect another engine."""

EVEN_ODD: tuple[Route, ...] = tuple(
    _by_one_pass(grow, degrees, pathops.FillType.EVEN_ODD)
    for grow, degrees in ((1.0, 0.0), (0.73, 11.0), (0.11, 37.0))
)
"""Ways to find what an outline covers by the even-odd rule, best first."""

_OTHER_SIZES = ((1.0, 0.0), (0.73, 11.0), (0.11, 37.0), (0.5, 71.0))

DIFFERENCES: tuple[Route, ...] = tuple(
    _by_two(pathops.PathOp.DIFFERENCE, grow, degrees) for grow, degrees in _OTHER_SIZES
)
"""Ways to take the second outline out of the first, best first."""

INTERSECTIONS: tuple[Route, ...] = tuple(
    _by_two(pathops.PathOp.INTERSECTION, grow, degrees) for grow, degrees in _OTHER_SIZES
)
"""Ways to find what two outlines both cover, best first."""


def offsets(distance: float, is_round: bool, mitre_limit: float) -> tuple[Route, ...]:
    """Ways to move an outline's edge outwards by a distance (inwards where negative), best first."""
    return tuple(
        _by_stroke(distance, is_round, mitre_limit, grow, degrees)
        for grow, degrees in ((1.0, 0.0), (0.73, 11.0), (0.11, 37.0), (0.37, 71.0))
    )


_CONIC_TOLERANCE = 0.05
"""How closely round corners, which Skia draws as conics, are followed by quadratics: in working units."""


def _by_stroke(distance: float, is_round: bool, mitre_limit: float, grow: float, degrees: float) -> Route:
    """The edges of a stroke of twice the distance along the outline: those outside it, or those inside."""

    def moved(outlines: list[Outline]) -> Outline:
        whole = Outline.joined(outlines)
        fit = _fit(whole, grow, degrees)
        edge = _to_path(whole, fit)
        join = pathops.LineJoin.ROUND_JOIN if is_round else pathops.LineJoin.MITER_JOIN
        edge.stroke(2 * abs(distance) * abs(fit), pathops.LineCap.BUTT_CAP, join, mitre_limit)
        edge.convertConicsToQuads(_CONIC_TOLERANCE)
        edge.simplify(fix_winding=False, keep_starting_points=False)
        stroked = _from_path(edge, fit)
        starts = stroked.points[stroked.point_starts[stroked.contour_starts]]
        # Every contour of the stroke runs at the distance from the outline, so any point tells its side.
        inside = winding_numbers(starts, *flatten(whole, abs(distance) / 32)) != 0
        kept = np.flatnonzero(inside == (distance < 0))
        return stroked.arranged(kept.tolist(), np.zeros(len(starts), np.bool_))

    return moved


def bands(width: float, cap: pathops.LineCap = pathops.LineCap.ROUND_CAP) -> tuple[Route, ...]:
    """Ways to draw open lines as bands of a width, best first."""
    return tuple(
        _by_band(width, cap, grow, degrees) for grow, degrees in ((1.0, 0.0), (0.73, 11.0), (0.37, 71.0))
    )


def _by_band(width: float, cap: pathops.LineCap, grow: float, degrees: float) -> Route:
    def drawn(outlines: list[Outline]) -> Outline:
        line = Outline.joined(outlines)
        fit = _fit(line, grow, degrees)
        path = _to_path(line, fit, closed=False)
        path.stroke(width * abs(fit), cap, pathops.LineJoin.ROUND_JOIN, 4.0)
        path.convertConicsToQuads(_CONIC_TOLERANCE)
        path.simplify(fix_winding=False, keep_starting_points=False)
        return _from_path(path, fit)

    return drawn
