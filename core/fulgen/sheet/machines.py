"""Machines that cut: what their files have to allow for."""

from __future__ import annotations

from dataclasses import dataclass

from fulgen.cutter.blade import Knife
from fulgen.problem import Problem


@dataclass(frozen=True)
class Machine:
    """A machine by its name: the offset of its blade and how far closed cuts go on past their start, both of
    which a file allows for; and how much its beam or blade takes away. In mm."""

    name: str
    offset_mm: float = 0.0
    overcut_mm: float = 0.0
    kerf_mm: float = 0.0

    @property
    def knife(self) -> Knife:
        return Knife(self.offset_mm, self.overcut_mm)


MACHINES = (
    Machine("Drag knife", 0.25, 0.5),
    Machine("Drag knife that allows for its own blade", 0.0, 0.3),
    Machine("Laser", kerf_mm=0.15),
)
"""(†)"""


def machine(name: str) -> Machine:
    """The machine that a name means: the whole of it, or enough of it to tell it from others."""
    wanted = name.casefold().strip()
    exact = [m for m in MACHINES if m.name.casefold() == wanted]
    found = exact or [m for m in MACHINES if wanted and m.name.casefold().startswith(wanted)]
    if len(found) != 1:
        raise Problem(
            "no-machine",
            f"“{name}” is not a machine.",
            f"Choose one of: {'; '.join(m.name for m in MACHINES)}.",
            "machine",
        )
    return found[0]
