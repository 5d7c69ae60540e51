"""The curve engine: unions that keep Béziers, by Skia's path operations.

Skia works in single precision and its mistakes are silent, so nothing here is believed until
the polygon engine agrees (see weld). Outlines are brought to a size at which single precision
is ample, and the winding of what comes back is set by nesting, never taken from Skia.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import chain

import numpy as np
import pathops

from fulgen.geometry.outline import CUBIC, LINE, MOVE, POINTS_OF, QUAD, Outline

_WORKING_SIZE = 8192.0
"""Single precision resolves 0.0005 here: 12 nm in a word 200 mm wide."""


def _to_path(outline: Outline, scale: float, turn: complex) -> pathops.Path:
    path = pathops.Path(fillType=pathops.FillType.WINDING)
    z = (outline.points[:, 0] + 1j * outline.points[:, 1]) * (scale * turn)
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
    if opened:
        path.close()
    return path


_VERB = np.full(8, 255, np.uint8)
_VERB[int(pathops.PathVerb.MOVE)] = MOVE
_VERB[int(pathops.PathVerb.LINE)] = LINE
_VERB[int(pathops.PathVerb.QUAD)] = QUAD
_VERB[int(pathops.PathVerb.CUBIC)] = CUBIC


def _from_path(path: pathops.Path, scale: float, turn: complex) -> Outline:
    verbs = _VERB[np.frombuffer(bytes(path.verbs), np.uint8)]
    verbs = verbs[verbs != 255]  # CLOSE; conics never occur, for none go in
    points = np.fromiter(chain.from_iterable(path.points), np.float64).reshape(-1, 2)
    if len(points) != POINTS_OF[verbs].sum():
        raise pathops.PathOpsError("the path holds verbs that were never drawn")
    z = (points[:, 0] + 1j * points[:, 1]) / (scale * turn)
    return Outline(verbs, np.stack([z.real, z.imag], axis=1))


def _by_one_pass(paths: list[pathops.Path]) -> pathops.Path:
    """All contours in one path, simplified once: the surest way measured."""
    whole = pathops.Path(fillType=pathops.FillType.WINDING)
    for path in paths:
        whole.addPath(path)
    whole.simplify(fix_winding=False, keep_starting_points=False)
    return whole


def _by_builder(paths: list[pathops.Path]) -> pathops.Path:
    builder = pathops.OpBuilder(fix_winding=False, keep_starting_points=False)
    for path in paths:
        builder.add(path, pathops.PathOp.UNION)
    return builder.resolve()


Route = Callable[[list[Outline]], Outline]


def _route(by: Callable[[list[pathops.Path]], pathops.Path], grow: float, degrees: float) -> Route:
    turn = complex(math.cos(math.radians(degrees)), math.sin(math.radians(degrees)))

    def united(outlines: list[Outline]) -> Outline:
        reach = max(float(np.abs(o.points).max()) for o in outlines)
        scale = grow * 2.0 ** math.floor(math.log2(_WORKING_SIZE / reach)) if reach else 1.0
        return _from_path(by([_to_path(o, scale, turn) for o in outlines]), scale, turn)

    return united


ROUTES: tuple[Route, ...] = (
    _route(_by_one_pass, 1.0, 0.0),
    _route(_by_one_pass, 0.73, 11.0),
    _route(_by_one_pass, 0.11, 37.0),
    _route(_by_builder, 1.0, 0.0),
    _route(_by_builder, 0.73, 53.0),
)
"""Ways to unite outlines, best first. Skia's mistakes hang on where curves meet its grid, so
another size and angle is in effect another engine."""
