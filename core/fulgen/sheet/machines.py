"""Machines that cut: what their files have to allow for, how large they are, and what they read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from fulgen.cutter.blade import Knife
from fulgen.frozen import STRICT, WHOLE
from fulgen.problem import Problem

Kind = Literal["knife", "laser", "saw"]
FileKind = Literal["svg", "dxf", "dxf-r12", "pdf", "eps", "hpgl", "png"]

Small = Annotated[float, Field(strict=True, ge=0.0, le=5.0)]
Large = Annotated[float, Field(strict=True, ge=10.0, le=20_000.0)]


@dataclass(frozen=True)
class Machine:
    """A machine by its name: the offset of its blade and how far closed cuts go on past their start, both of
    which a file allows for; how much its beam or blade takes away; how often each line is cut; how wide and
    how long it cuts at most, and how fast; the files it reads; and how wide the lines are that it follows in
    files that show areas, or 0 where it follows the edges of these. In mm."""

    __pydantic_config__ = STRICT

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Kind = "knife"
    offset_mm: Small = 0.0
    overcut_mm: Small = 0.0
    kerf_mm: Small = 0.0
    passes: Annotated[int, Field(ge=1, le=10), WHOLE] = 1
    width_mm: Large = 610.0
    length_mm: Large = 3000.0
    speed_mm_s: Annotated[float, Field(strict=True, ge=1.0, le=2000.0)] = 100.0
    formats: Annotated[tuple[FileKind, ...], Field(max_length=7)] = ("hpgl", "svg")
    hairline_mm: Small = 0.0

    @property
    def knife(self) -> Knife:
        return Knife(self.offset_mm, self.overcut_mm)


MACHINES = (
    Machine("Drag knife", "knife", 0.25, 0.5, formats=("hpgl", "svg", "dxf")),
    Machine("Drag knife that allows for its own blade", "knife", 0.0, 0.3, formats=("hpgl", "svg", "dxf")),
    Machine("Laser", "laser", kerf_mm=0.15, width_mm=600.0, length_mm=400.0, speed_mm_s=25.0,
        formats=("svg", "dxf", "pdf"), hairline_mm=0.01),
    Machine("Scroll saw, from a pattern", "saw", kerf_mm=0.9, width_mm=400.0, length_mm=400.0, speed_mm_s=8.0,
        formats=("pdf", "svg", "png")),
)  # fmt: skip
"""What a shop begins with. (†)"""


def machine(name: str, known: Sequence[Machine] = MACHINES) -> Machine:
    """The machine that a name means: the whole of it, or enough of it to tell it from others."""
    wanted = name.casefold().strip()
    exact = [m for m in known if m.name.casefold() == wanted]
    found = exact or [m for m in known if wanted and m.name.casefold().startswith(wanted)]
    if len(found) != 1:
        raise Problem(
            "no-machine",
            f"“{name}” is not a machine.",
            f"Choose one of: {'; '.join(m.name for m in known)}.",
            "machine",
        )
    return found[0]
