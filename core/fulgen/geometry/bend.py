"""Bend: an outline laid on a map of the plane, with its curves kept.

Each side becomes one cubic or a few: their ends, and the directions and speeds there, are those of the map
(Hermite's form: handles of a third of the speed, textbook), and a side is halved until the cubic lies within
the tolerance of the map's own image of it.
"""

from __future__ import annotations

from abc import ABC, abstractmethod

import numpy as np
from numpy.typing import NDArray

from fulgen.budget import check
from fulgen.geometry.bezier import derivative, point
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Outline
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.problem import Problem

Complexes = NDArray[np.complex128]


class Bend(ABC):
    """A map of the plane, as complex numbers. Whoever makes one sees to it that it does not fold where
    things lie."""

    @property
    @abstractmethod
    def key(self) -> str:
        """All that the map depends on."""

    @abstractmethod
    def at(self, z: Complexes) -> Complexes:
        """Where points go, of any shape of array."""


_TIMES = np.array([0.2, 0.4, 0.6, 0.8])
"""Where a cubic is held against the image."""

_MOST_HALVINGS = 9

_STRAIGHT = 0.02
"""A side whose handles are nearer to its chord than this share of the tolerance is drawn straight."""

MAX_BENT_SIDES = 200_000


def bent(outline: Outline, bend: Bend, tolerance: float) -> Outline:
    """The outline under the map, true to ``tolerance`` mm. Raises Problem "too-bent" where that takes
    countless sides."""
    sides, contour_of = outline.cubics
    z = sides[..., 0] + 1j * sides[..., 1]
    order = np.arange(len(z)).astype(np.float64)
    done: list[tuple[NDArray[np.float64], Complexes, NDArray[np.intp]]] = []
    share = 0.5
    for halving in range(_MOST_HALVINGS + 1):
        check()
        if not len(z):
            break
        image = _hermite(z, bend)
        off = np.abs(point(tuple(image.T[:, None, :]), _TIMES[:, None]) - bend.at(_points(z)))
        good = (off.max(axis=0) <= tolerance) if halving < _MOST_HALVINGS else np.ones(len(z), bool)
        done.append((order[good], image[good], contour_of[good]))
        z, order, contour_of = z[~good], order[~good], contour_of[~good]
        if 2 * len(z) > MAX_BENT_SIDES:
            raise Problem(
                "too-bent",
                "The bend is too sharp to be drawn.",
                "Bend less, or use a simpler outline.",
                "course",
            )
        one, other = _halves(z)
        z = np.concatenate([one, other])
        order = np.concatenate([order, order + share])
        contour_of = np.concatenate([contour_of, contour_of])
        share /= 2
    if not done:
        return Outline.empty()
    orders, images, contours = (np.concatenate(rows) for rows in zip(*done, strict=True))
    rank = np.argsort(orders, kind="stable")
    return _drawn(images[rank], contours[rank], tolerance)


def bent_shape(shape: Shape, bend: Bend, tolerance: float) -> Shape:
    """The shape under the map. Raises Problem "weld" where it folds over itself."""
    return clean(bent(shape.outline, bend, tolerance), tolerance) if shape else shape


def _points(z: Complexes) -> Complexes:
    """Points of sides (S, 4) at the times they are looked at, (T, S)."""
    return np.asarray(point(tuple(z.T[:, None, :]), _TIMES[:, None]))


def _hermite(z: Complexes, bend: Bend) -> Complexes:
    """Cubics (S, 4) with the ends of the image and its speeds there."""
    p = tuple(z.T)
    speeds = np.stack([derivative(p, 0.0), derivative(p, 1.0)])
    ends = np.stack([z[:, 0], z[:, 3]])
    # A central difference along the way: exact to the square of its step.
    size = np.maximum(np.abs(speeds), 1e-12)
    step = 1e-5 * np.maximum(np.abs(z).max(initial=1.0), 1e-9) / size
    ways = (bend.at(ends + step * speeds) - bend.at(ends - step * speeds)) / (2 * step)
    there = bend.at(ends)
    return np.stack([there[0], there[0] + ways[0] / 3, there[1] - ways[1] / 3, there[1]], axis=1)


def _halves(z: Complexes) -> tuple[Complexes, Complexes]:
    """Sides (S, 4) cut in the middle (de Casteljau)."""
    a, b, c, d = z.T
    ab, bc, cd = (a + b) / 2, (b + c) / 2, (c + d) / 2
    abc, bcd = (ab + bc) / 2, (bc + cd) / 2
    middle = (abc + bcd) / 2
    return np.stack([a, ab, abc, middle], axis=1), np.stack([middle, bcd, cd, d], axis=1)


def _drawn(z: Complexes, contour_of: NDArray[np.intp], tolerance: float) -> Outline:
    chord = z[:, 3] - z[:, 0]
    long = np.maximum(np.abs(chord), 1e-12)
    aside = np.abs(((z[:, 1:3] - z[:, :1]) * (chord / long).conj()[:, None]).imag).max(axis=1)
    along = (((z[:, 1:3] - z[:, :1]) * (chord / long).conj()[:, None]).real).T
    straight = (aside <= _STRAIGHT * tolerance) & (along.min(axis=0) >= 0) & (along.max(axis=0) <= long)
    verbs: list[NDArray[np.uint8]] = []
    points: list[Complexes] = []
    starts = np.flatnonzero(np.diff(contour_of, prepend=-1))
    for start, end in zip(starts.tolist(), [*starts[1:].tolist(), len(z)], strict=True):
        kinds = np.where(straight[start:end], LINE, CUBIC).astype(np.uint8)
        verbs += [np.array([MOVE], np.uint8), kinds]
        points.append(z[start : start + 1, 0])
        wanted = np.stack([~straight[start:end], ~straight[start:end], np.ones(end - start, bool)], axis=1)
        points.append(z[start:end, 1:][wanted])
    flat = np.concatenate(points)
    return Outline(np.concatenate(verbs), np.stack([flat.real, flat.imag], axis=1))
