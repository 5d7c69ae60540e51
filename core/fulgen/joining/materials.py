"""What materials hold. All values are †: from memory or common practice, no published source; a maker sets
others where the shop knows better."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from fulgen.frozen import STRICT, Flag


@dataclass(frozen=True)
class Weedable:
    """The smallest hole and the narrowest slit that can be weeded, in mm."""

    hole_mm: float
    gap_mm: float = 0.0


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

    @property
    def weedable(self) -> Weedable:
        return Weedable(self.hole_mm, self.gap_mm)


@dataclass(frozen=True)
class Material:
    """A material by the word makers use, the neck that a joint in it is given, in mm, what it holds, and what
    the shop notes of it."""

    __pydantic_config__ = STRICT

    name: Annotated[str, Field(min_length=1, max_length=60)]
    joint_mm: Annotated[float, Field(strict=True, ge=0.1, le=50.0)]
    limits: Limits
    mirrored: Flag = False
    """Whether it is cut from its back: iron-on film lies with its carrier down. (†)"""
    note: Annotated[str, Field(max_length=240)] = ""


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
    measured (see ``is_known``)."""
    return next((m for m in MATERIALS if m.name == name), replace(MATERIALS[0], name=name))


def is_known(name: str) -> bool:
    """Whether Fulgen knows what a material holds."""
    return any(m.name == name for m in MATERIALS)


_PROFILES = TypeAdapter(Material)


def material_from(profile: Mapping[str, Any]) -> Material:
    """A material from plain data that was kept. Raises ValidationError (of pydantic)."""
    return _PROFILES.validate_python(profile)
