"""Sheets: what is cut from each film, laid on as many sheets as it needs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from fulgen.geometry import measure
from fulgen.geometry.flatten import flat_contours
from fulgen.geometry.measure import Box
from fulgen.geometry.offset import offset
from fulgen.geometry.outline import Floats
from fulgen.geometry.polygons import Region
from fulgen.geometry.weld import Shape
from fulgen.problem import Problem
from fulgen.sheet.machines import Machine
from fulgen.sheet.order import cutting_order, way_between
from fulgen.units import Unit, show_length

MOST_MM = 20_000.0
"""No sheet or length of a roll is longer."""

MOST_COPIES = 500

CUT_TO_MM = 0.005
"""Cuts are led along curves by chords so near to them: a fifth of a step of a plotter."""


@dataclass(frozen=True)
class Sheet:
    """A piece of film or a length of a roll: how wide and high it is, the margin that the rollers need all
    around, and the room to be left between what is cut. In mm."""

    width_mm: float
    height_mm: float
    margin_mm: float = 5.0
    spacing_mm: float = 3.0

    @property
    def usable(self) -> Box:
        """What is left inside the margins. Raises Problem "no-sheet" where nothing is."""
        wide, high = (side - 2 * self.margin_mm for side in (self.width_mm, self.height_mm))
        if not (0 < self.width_mm <= MOST_MM and 0 < self.height_mm <= MOST_MM):
            raise Problem(
                "no-sheet",
                f"A sheet of {self.width_mm:g} × {self.height_mm:g} mm cannot be cut.",
                f"Give both sides, more than 0 and up to {MOST_MM / 1000:g} m.",
                "sheet",
            )
        if min(wide, high) <= 0:
            raise Problem(
                "no-sheet",
                f"Margins of {self.margin_mm:g} mm leave nothing of a sheet of {self.width_mm:g} × "
                f"{self.height_mm:g} mm.",
                "Take smaller margins or a larger sheet.",
                "margin",
            )
        return Box(self.margin_mm, self.margin_mm, wide, high)


@dataclass(frozen=True, eq=False)
class Motif:
    """What is cut from one film of a design. Its parts keep their place to each other."""

    design: str
    film: str
    shape: Shape

    @cached_property
    def box(self) -> Box:
        return measure.box(self.shape.outline)


@dataclass(frozen=True, eq=False)
class LaidMotif:
    """A motif, and where the top left corner of its box lies on the sheet."""

    motif: Motif
    x: float
    y: float

    @cached_property
    def shape(self) -> Shape:
        box = self.motif.box
        return self.motif.shape.placed(self.x - box.x, self.y - box.y)


@dataclass(frozen=True, eq=False)
class LaidSheet:
    """A sheet of one film with what is cut from it."""

    film: str
    sheet: Sheet
    motifs: tuple[LaidMotif, ...]

    @cached_property
    def promised(self) -> list[Region]:
        """The pieces that are to come off, where they lie on the sheet."""
        return [piece for laid in self.motifs for piece in shapely.get_parts(laid.shape.region)]

    @property
    def used(self) -> float:
        """The share of the sheet that ends up in pieces."""
        return sum(piece.area for piece in self.promised) / (self.sheet.width_mm * self.sheet.height_mm)

    def job(self, machine: Machine) -> Job:
        """How the machine cuts it: in which order, and along which paths."""
        contours = [contour for laid in self.motifs for contour in _contours(laid.shape, machine.kerf_mm)]
        cuts = cutting_order(contours)
        paths, heading = [], 0.0
        for cut in cuts:
            path, heading = machine.knife.leading(np.roll(contours[cut.contour], -cut.start, axis=0), heading)
            paths.append(path)
        length = sum(float(np.hypot(*np.diff(path, axis=0).T).sum()) for path in paths)
        return Job(self, machine, tuple(paths), length, way_between(contours, cuts))


@dataclass(frozen=True, eq=False)
class Job:
    """The cutting of a sheet: the paths of the carriage with the knife down, (N, 2) in mm, in their order;
    how long they are together, and how far it goes between them with the knife up."""

    laid: LaidSheet
    machine: Machine
    paths: tuple[Floats, ...]
    length_mm: float
    way_mm: float


def _contours(shape: Shape, kerf: float) -> list[Floats]:
    """The contours to be cut; moved out by half of what the machine takes away."""
    return flat_contours((offset(shape, kerf / 2) if kerf else shape).outline, CUT_TO_MM)


def laid_out(motifs: Sequence[Motif], sheet: Sheet, copies: int = 1, unit: Unit = "mm") -> list[LaidSheet]:
    """The motifs, so many of each, in rows on as many sheets of their films as they need: the highest first,
    each in the first row that has room (first fit of decreasing height; Coffman, Garey, Johnson and Tarjan,
    1980).

    Raises Problem "no-sheet", "too-large" for a motif that fits on no sheet, "too-many-copies".
    """
    if not 1 <= copies <= MOST_COPIES:
        raise Problem(
            "too-many-copies",
            f"{copies} copies cannot be cut at once.",
            f"Ask for 1 to {MOST_COPIES}.",
            "copies",
        )
    usable = sheet.usable
    sheets: list[LaidSheet] = []
    for film in dict.fromkeys(motif.film for motif in motifs):
        own = [motif for motif in motifs if motif.film == film for _ in range(copies)]
        for motif in own:
            _look(motif, usable, unit)
        own.sort(key=lambda motif: -motif.box.height)
        sheets += [LaidSheet(film, sheet, tuple(laid)) for laid in _in_rows(own, usable, sheet.spacing_mm)]
    return sheets


def _look(motif: Motif, usable: Box, unit: Unit) -> None:
    box = motif.box
    fits = min(usable.width / box.width, usable.height / box.height)
    if fits < 1 - 1e-9:
        size = f"{show_length(box.width, unit)} × {show_length(box.height, unit)}"
        raise Problem(
            "too-large",
            f"{motif.design} is {size}, and {show_length(usable.width, unit)} × "
            f"{show_length(usable.height, unit)} can be cut from this sheet.",
            f"Take a larger sheet, or make it {show_length(box.width * fits, unit)} wide.",
            "sheet",
        )


@dataclass
class _Row:
    sheet: int
    y: float
    height: float
    x: float


def _in_rows(motifs: Sequence[Motif], usable: Box, spacing: float) -> list[list[LaidMotif]]:
    rows: list[_Row] = []
    sheets: list[list[LaidMotif]] = []
    for motif in motifs:
        box = motif.box
        row = next((r for r in rows if r.x + box.width <= usable.right + 1e-9), None)
        if row is None:
            last = rows[-1] if rows else None
            below = last.y + last.height + spacing if last else usable.y
            if last is None or below + box.height > usable.bottom + 1e-9:
                sheets.append([])
                below = usable.y
            row = _Row(len(sheets) - 1, below, box.height, usable.x)
            rows.append(row)
        sheets[row.sheet].append(LaidMotif(motif, row.x, row.y))
        row.x += box.width + spacing
    return sheets
