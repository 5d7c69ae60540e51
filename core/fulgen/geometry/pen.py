"""The pen that takes drawings down: what readers of faces and of paths draw on, by fontTools' protocol."""

from __future__ import annotations

from typing import Any

import numpy as np

from fulgen.geometry.outline import CUBIC, LINE, MOVE, QUAD, Outline


class OutlinePen:
    """Takes down verbs and points, up to ``most`` sides.

    Who draws may swallow what a pen raises (HarfBuzz's callbacks do), so nothing is raised here: what is
    beyond the bound is left out, and ``overflowed`` says so; ``astray`` says that a side came before a start.
    """

    def __init__(self, most: int) -> None:
        self.most = most
        self._verbs: list[int] = []
        self._points: list[tuple[float, float]] = []
        self._closed: set[int] = set()
        self._contours = 0
        self.overflowed = False
        self.astray = False

    def moveTo(self, to: tuple[float, float]) -> None:
        self._add(MOVE, to)

    def lineTo(self, to: tuple[float, float]) -> None:
        self._add(LINE, to)

    def qCurveTo(self, *points: tuple[float, float]) -> None:
        self._add(QUAD, *points)

    def curveTo(self, *points: tuple[float, float]) -> None:
        self._add(CUBIC, *points)

    def closePath(self) -> None:
        """Contours close by themselves; that this one was to close is kept."""
        self._closed.add(self._contours - 1)

    def endPath(self) -> None:
        """An open contour is closed by a straight side."""

    def _add(self, verb: int, *points: Any) -> None:
        self.astray |= not self._verbs and verb != MOVE
        self.overflowed |= len(self._verbs) >= self.most
        if not self.astray and not self.overflowed:
            self._verbs.append(verb)
            self._contours += verb == MOVE
            self._points.extend((float(x), float(y)) for x, y in points)

    @property
    def closed(self) -> frozenset[int]:
        """The contours, by their numbers, that were drawn to close."""
        return frozenset(self._closed)

    @property
    def outline(self) -> Outline:
        """What was drawn."""
        points = np.array(self._points, dtype=np.float64).reshape(-1, 2)
        return Outline(np.array(self._verbs, np.uint8), points)
