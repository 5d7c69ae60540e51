"""How wide a joint each material wants. All values are †: from memory, no published source; a maker
sets others where the shop knows better."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Material:
    """A material by the word makers use, and the neck a joint in it wants, in mm."""

    name: str
    neck_mm: float


MATERIALS = (
    Material("Adhesive film", 1.2),
    Material("Iron-on film", 1.0),
    Material("Card", 1.5),
    Material("Ply, 3 mm", 2.0),
    Material("Acrylic, 3 mm", 2.5),
)
