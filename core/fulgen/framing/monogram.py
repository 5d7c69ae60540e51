"""Monograms: letters shaped to fill a disc side by side."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fulgen.geometry.bend import Bend, Complexes
from fulgen.geometry.measure import Box


@dataclass(frozen=True, eq=False)
class IntoDisc(Bend):
    """What is drawn in a box, shaped to the part of a disc around 0, 0 between two verticals: as high as the
    disc is there."""

    box: Box
    radius: float
    left: float
    right: float

    @property
    def key(self) -> str:
        return f"disc {self.box} {self.radius} {self.left} {self.right}"

    def at(self, z: Complexes) -> Complexes:
        u = (z.real - self.box.x) / self.box.width
        v = (z.imag - self.box.y) / self.box.height
        x = self.left + u * (self.right - self.left)
        high = np.sqrt(np.maximum(self.radius**2 - x**2, 0.0))
        return np.asarray(x + 1j * high * (2 * v - 1))


_NARROWEST = 0.94
"""The outer letters end where the disc is still this far out: further out it has no height. (†)"""


def cells(count: int, radius: float, middle: float, apart: float) -> Sequence[tuple[float, float]]:
    """The verticals between which each of a few letters is shaped: the middle one of three takes a share of
    the width; all are ``apart``."""
    wide = 2 * _NARROWEST * radius - (count - 1) * apart
    shares = [(1 - middle) / 2, middle, (1 - middle) / 2] if count == 3 else [1 / count] * count
    found = []
    x = -_NARROWEST * radius
    for share in shares:
        found.append((x, x + share * wide))
        x += share * wide + apart
    return found
