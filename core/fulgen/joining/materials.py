"""What materials hold. All values are †: from memory or common practice, no published source; a maker sets
others where the shop knows better."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Material:
    """A material by the word makers use, with lengths in mm.

    joint_mm: the neck that a joint is given. neck_mm, stroke_mm, hole_mm, piece_mm: the narrowest neck that
    holds, stroke that does not tear, hole that can be weeded and piece that can be handled. gap_mm: edges
    nearer than this tear what is between them.
    """

    name: str
    joint_mm: float
    neck_mm: float
    stroke_mm: float
    hole_mm: float
    piece_mm: float
    gap_mm: float


MATERIALS = (
    Material("Adhesive film", 1.2, 0.8, 0.6, 1.0, 1.5, 0.3),
    Material("Iron-on film", 1.0, 0.7, 0.5, 0.8, 1.2, 0.3),
    Material("Card", 1.5, 1.0, 0.8, 1.0, 1.5, 0.4),
    Material("Ply, 3 mm", 2.0, 1.5, 1.2, 0.6, 3.0, 0.3),
    Material("Acrylic, 3 mm", 2.5, 1.8, 1.5, 0.6, 3.0, 0.4),
)
"""A knife's film seldom holds detail under about 1 mm; ply wants joints of 2 mm and more. (†)"""


def material(name: str) -> Material:
    """The material of that name; adhesive film, with another name, where there is none."""
    first = MATERIALS[0]
    return next((m for m in MATERIALS if m.name == name), first)
