"""Chords: the straight lines that an outline is flattened to, each with the part of a side it stands for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fulgen.geometry.flatten import chords
from fulgen.geometry.outline import Bools, Floats, Ints, Outline

Complexes = NDArray[np.complex128]


@dataclass(frozen=True, eq=False)
class Chords:
    """The sides of a polygon twin, a row for each of its coordinates: row n is the chord from coordinate n to
    n + 1. Its side in the outline, the parameters at its two ends, and whether it runs with the side or
    against it. The rows of coordinates that close a ring are no chords, and are marked."""

    side: Ints
    start: Floats
    end: Floats
    forward: Bools
    closing: Bools

    def of_reversed(self, contour_of: Ints) -> Chords:
        """The same chords, on the outline with every contour walked the other way from its first point."""
        side = walked_back(contour_of)[self.side]
        return Chords(side, 1.0 - self.start, 1.0 - self.end, ~self.forward, self.closing)

    def rows(self, rows: Ints) -> Chords:
        """Some of the rows."""
        return Chords(
            self.side[rows], self.start[rows], self.end[rows], self.forward[rows], self.closing[rows]
        )


def walked_back(contour_of: Ints) -> Ints:
    """The number that each side has when every contour is walked the other way."""
    first = np.searchsorted(contour_of, contour_of)
    last = np.searchsorted(contour_of, contour_of, side="right") - 1
    return np.asarray(first + last - np.arange(len(contour_of)))


@dataclass(frozen=True, eq=False)
class Source:
    """What goes into an overlay: an outline, the coordinates of its polygon twin (N, 2), each ring closed,
    and the chords they are the ends of."""

    outline: Outline
    xy: Floats
    chords: Chords


def flattened(outline: Outline, tolerance: float) -> Source:
    """An outline as a source of an overlay, each of its contours a ring."""
    flat = chords(outline, tolerance)
    ends = np.flatnonzero(np.append(flat.contour[1:] != flat.contour[:-1], True))
    firsts = np.append(0, ends[:-1] + 1)[: len(ends)]
    rows = np.insert(np.arange(len(flat.side)), ends + 1, firsts)
    closing = np.zeros(len(rows), np.bool_)
    closing[ends + 1 + np.arange(len(ends))] = True
    xy = flat.points.view(np.float64).reshape(-1, 2)[rows]
    forward = np.ones(len(rows), np.bool_)
    return Source(outline, xy, Chords(flat.side[rows], flat.start[rows], flat.end[rows], forward, closing))
