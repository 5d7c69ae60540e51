"""What materials hold. All values are †: from memory or common practice, no published source; a maker sets
others where the shop knows better."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field

from fulgen.frozen import STRICT


@dataclass(frozen=True)
class Limits:
    """What a material holds, in mm: the narrowest neck that holds, stroke that does not tear, hole that can
    be weeded and piece that can be handled; edges nearer than gap_mm tear what is between them."""

    __pydantic_config__ = STRICT

    neck_mm: Annotated[float, Field(strict=True, ge=0.0, le=50.0)]
    stroke_mm: Annotated[float, Field(strict=True, ge=0.0, le=50.0)]
    hole_mm: Annotated[float, Field(strict=True, ge=0.0, le=50.0)]
    piece_mm: Annotated[float, Field(strict=True, ge=0.0, le=50.0)]
    gap_mm: Annotated[float, Field(strict=True, ge=0.0, le=20.0)]


@dataclass(frozen=True)
class Material:
    """A material by the word makers use, the neck that a joint in it is given, in mm, and what it holds."""

    name: str
    joint_mm: float
    limits: Limits
    mirrored: bool = False
    """Whether it is cut from its back: iron-on film lies with its carrier down. (†)"""


MATERIALS = (
    Material("Adhesive film", 1.2, Limits(0.8, 0.6, 1.0, 1.5, 0.3)),
    Material("Iron-on film", 1.0, Limits(0.7, 0.5, 0.8, 1.2, 0.3), mirrored=True),
    Material("Card", 1.5, Limits(1.0, 0.8, 1.0, 1.5, 0.4)),
    Material("Ply, 3 mm", 2.0, Limits(1.5, 1.2, 0.6, 3.0, 0.3)),
    Material("Acrylic, 3 mm", 2.5, Limits(1.8, 1.5, 0.6, 3.0, 0.4)),
)
"""A knife's film seldom holds detail under about 1 mm; ply wants joints of 2 mm and more. (†)"""


def material(name: str) -> Material:
    """The material of that name; one that holds what adhesive film does, where Fulgen knows none: that is
    told (see ``is_known``)."""
    return next((m for m in MATERIALS if m.name == name), replace(MATERIALS[0], name=name))


def is_known(name: str) -> bool:
    """Whether Fulgen knows what a material holds."""
    return any(m.name == name for m in MATERIALS)
