"""Machines that cut, draw and engrave: what their files have to allow for, how large they are, what they can
do, and what they read."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from fulgen.cutter.blade import Knife
from fulgen.frozen import STRICT, WHOLE
from fulgen.parts.part import Use
from fulgen.problem import Problem
from fulgen.sheet.file_kinds import FILE_KINDS, FileKind

Kind = Literal["knife", "laser", "saw", "pen"]

Small = Annotated[float, Field(strict=True, ge=0.0, le=5.0)]
Large = Annotated[float, Field(strict=True, ge=10.0, le=20_000.0)]


DOES: dict[Kind, frozenset[Use]] = {
    "knife": frozenset(("cut", "draw", "score")),
    "laser": frozenset(("cut", "draw", "score", "engrave")),
    "saw": frozenset(("cut", "draw")),
    "pen": frozenset(("draw", "score", "engrave")),
}
"""What each kind of machine does: a knife has a pen beside it, a beam draws and scores with little power, a
saw follows a pattern on which lines are drawn, and a pen draws everything, what is to be cut, too. (†)"""


@dataclass(frozen=True)
class Setting:
    """How hard and how fast a machine works in a material, for one use: grams of force, and mm a second. What
    is not set is as the machine itself has it."""

    __pydantic_config__ = STRICT

    material: Annotated[str, Field(min_length=1, max_length=60)]
    use: Use = "cut"
    force_g: Annotated[float, Field(strict=True, ge=1.0, le=5000.0)] | None = None
    speed_mm_s: Annotated[float, Field(strict=True, ge=1.0, le=2000.0)] | None = None


@dataclass(frozen=True)
class Machine:
    """A machine by its name: the offset of its blade and how far closed cuts go on past their start, both of
    which a file allows for; how much its beam or blade takes away; how often each line is cut; how wide and
    how long it cuts at most, and how fast; the files it reads; how wide the lines are that it follows in
    files that show areas, or 0 where it follows the edges of these; how far apart the lines lie by which it
    engraves; and how it is set for materials. In mm."""

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
    formats: Annotated[tuple[FileKind, ...], Field(max_length=len(FILE_KINDS))] = ("hpgl", "svg")
    hairline_mm: Small = 0.0
    engrave_mm: Annotated[float, Field(strict=True, ge=0.05, le=5.0)] = 0.2
    settings: Annotated[tuple[Setting, ...], Field(max_length=100)] = ()

    @property
    def does(self) -> frozenset[Use]:
        return DOES[self.kind]

    @property
    def cuts(self) -> bool:
        """Whether anything comes off."""
        return "cut" in self.does

    def setting(self, material: str, use: Use) -> Setting:
        """How it is set for a use of a material."""
        found = (s for s in self.settings if s.use == use and s.material == material)
        return next(found, Setting(material, use))

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
    Machine("Pen plotter", "pen", width_mm=420.0, length_mm=600.0, speed_mm_s=150.0, engrave_mm=0.5,
        formats=("hpgl", "svg", "pdf")),
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


_PROFILES = TypeAdapter(Machine)


def profile_of(machine: Machine) -> dict[str, Any]:
    """A machine as plain data."""
    plain: dict[str, Any] = _PROFILES.dump_python(machine, mode="json")
    return plain


def machine_from(profile: Mapping[str, Any]) -> Machine:
    """A machine from plain data that was kept. Raises ValidationError (of pydantic)."""
    return _PROFILES.validate_python(profile, strict=False)
