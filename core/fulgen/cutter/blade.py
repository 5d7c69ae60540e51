"""The drag knife: how its tip follows the carriage, and how the carriage leads it so that it cuts true.

Terms. The *pivot* is the point of the carriage that the knife turns about; the *tip* trails it at the blade
offset; the *heading* is the direction from tip to pivot, in radians (y down, so it turns clockwise).

A knife in the material cannot slide sideways: the tip moves only towards the pivot. While the pivot moves
along a straight line, the tip draws a tractrix (Weisstein, "Tractrix", MathWorld; the same model as the rear
wheel of a bicycle): with φ the angle from the way of the pivot to the heading and s the way gone,

    dφ/ds = -sin φ / offset,   so   tan(φ/2) = tan(φ₀/2) · exp(-s / offset).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fulgen.geometry.outline import Floats

_SWEEP = 0.05
"""Radians that the knife turns by between two points of the path of its tip: the path is then true to less
than a thousandth of the offset."""

_SWIVEL = 0.1
"""Radians to a chord of the arc on which the pivot is led around a corner."""

_STILL_MM = 1e-9


def _directions(headings: Floats) -> Floats:
    return np.column_stack((np.cos(headings), np.sin(headings)))


def trailed(pivots: Floats, heading: float, offset: float) -> tuple[Floats, float]:
    """The path of the tip (M, 2) while the pivot goes through points (N, 2) with the knife down, and the
    heading at the end. An offset of 0 is a knife or a beam right under the carriage."""
    steps = np.diff(pivots, axis=0)
    lengths = np.hypot(*steps.T)
    moving = lengths > _STILL_MM
    if offset <= 0 or not moving.any():
        return (pivots if offset <= 0 else pivots[:1] - offset * _directions(np.array([heading]))), heading
    starts, lengths = pivots[:-1][moving], lengths[moving]
    ways = np.arctan2(steps[moving, 1], steps[moving, 0])
    halves = []  # tan(φ/2) at the start of each step
    for way, length in zip(ways.tolist(), lengths.tolist(), strict=True):
        half = math.tan(math.remainder(heading - way, math.tau) / 2)
        halves.append(half)
        heading = way + 2 * math.atan(half * math.exp(-length / offset))
    first = np.array(halves)
    turned = 2 * np.abs(np.arctan(first) - np.arctan(first * np.exp(-lengths / offset)))
    counts = np.maximum(1, np.ceil(turned / _SWEEP)).astype(np.intp)
    step = np.repeat(np.arange(len(counts)), counts)
    # Where the knife turns it does so at the start of a step: points are closer together there.
    n = np.arange(len(step)) - (np.cumsum(counts) - counts)[step] + 1
    angles = np.arctan(first)[step] + (n / counts[step]) * np.sign(-first[step]) * (turned / 2)[step]
    with np.errstate(divide="ignore", invalid="ignore"):
        gone = np.where(turned[step] > 1e-12, offset * np.log(np.abs(first[step] / np.tan(angles))), 0.0)
    gone = np.where(n == counts[step], lengths[step], np.clip(np.nan_to_num(gone), 0.0, lengths[step]))
    phi = 2 * np.arctan(first[step] * np.exp(-gone / offset))
    unit = _directions(ways)[step]
    tips = starts[step] + gone[:, None] * unit - offset * _directions(ways[step] + phi)
    opening = starts[:1] - offset * _directions(np.array([ways[0] + 2 * math.atan(halves[0])]))
    return np.concatenate((opening, tips)), heading


@dataclass(frozen=True)
class Knife:
    """How a knife is led: its offset, and how far each closed cut goes on past its start, in mm."""

    offset: float = 0.0
    overcut: float = 0.0

    def leading(self, line: Floats, heading: float, *, is_closed: bool = True) -> tuple[Floats, float]:
        """The path of the pivot (M, 2) that makes the tip follow a line (N, 2), and the heading at the end.
        Of a closed contour the first point is not repeated. The knife is let down at its start with the
        heading that it has, is turned on the spot, and again at each corner."""
        path = closed(line, self.overcut) if is_closed else line
        steps = np.diff(path, axis=0)
        path = path[np.append(np.hypot(*steps.T) > _STILL_MM, True)]
        steps = np.diff(path, axis=0)
        if self.offset <= 0 or not len(steps):
            return path, heading
        ways = np.arctan2(steps[:, 1], steps[:, 0])
        before = np.concatenate(([heading], ways[:-1]))
        turns = np.remainder(ways - before + math.pi, math.tau) - math.pi
        counts = np.ceil(np.abs(turns) / _SWIVEL).astype(np.intp) + 1
        corner = np.repeat(np.arange(len(ways)), counts)
        n = np.arange(len(corner)) - (np.cumsum(counts) - counts)[corner]
        share = n / np.maximum(counts[corner] - 1, 1)
        around = path[corner] + self.offset * _directions(before[corner] + share * turns[corner])
        last = path[-1:] + self.offset * _directions(ways[-1:])
        return np.concatenate((around, last)), float(ways[-1])


def closed(contour: Floats, overcut: float = 0.0) -> Floats:
    """A closed contour (N, 2) back to its start, and on along itself by the overcut, once around at most."""
    path = np.concatenate((contour, contour[:1]))
    if overcut <= 0:
        return path
    gone = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))))
    far = min(overcut, float(gone[-1]))
    inside = np.flatnonzero((gone > 0) & (gone < far))
    end = [np.interp(far, gone, path[:, axis]) for axis in (0, 1)]
    return np.concatenate((path, path[inside], [end]))


def cut(pivots: Sequence[Floats], offset: float, heading: float = 0.0) -> list[Floats]:
    """The paths of the tip for all cuts of a job, one after the other; a lifted knife keeps its heading."""
    tips = []
    for path in pivots:
        tip, heading = trailed(path, heading, offset)
        tips.append(tip)
    return tips
