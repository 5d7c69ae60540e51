"""Sheets: what is cut from each film, laid on as many sheets as it needs, and how a machine cuts one."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from fulgen.bounded import BoundedCache, digest, weight_of
from fulgen.geometry.flatten import drawn_lines, flat_contours
from fulgen.geometry.measure import Box
from fulgen.geometry.offset import offset
from fulgen.geometry.outline import Floats
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal, region_of
from fulgen.geometry.shape import Shape
from fulgen.parts.built_part import Mark, MarkUse
from fulgen.problem import Problem
from fulgen.recipe.cutting import MOST_COPIES, MOST_LAID, MOST_MM, MOST_SHEETS, CutPlan, LaidCopy, Stock
from fulgen.sheet.cutting_order import cutting_order, way_between
from fulgen.sheet.engrave import engraving_lines
from fulgen.sheet.machines import Machine
from fulgen.sheet.motifs import Motif
from fulgen.sheet.pace import LIFTED_TIMES
from fulgen.sheet.strokes import BLADE_PENS, CUT_PEN, PENS, WEEDING_PEN, Stroke, settings_by_pen
from fulgen.sheet.weeding_cuts import weeding_cuts_for
from fulgen.units import Unit, show_length

CUT_TO_MM = 0.005
"""Cuts are led along curves by chords so near to them: a fifth of a step of a plotter."""


@dataclass(frozen=True)
class Sheet:
    """A piece of film or a length of a roll: how wide and high it is, the margin that the rollers need all
    around, and the room to be left between what is cut. In mm. Of a roll, no more is taken than is needed."""

    width_mm: float
    height_mm: float
    margin_mm: float = 5.0
    spacing_mm: float = 3.0
    roll: bool = False

    @classmethod
    def of(cls, stock: Stock, spacing: float) -> Sheet:
        return cls(stock.width_mm, stock.height_mm, stock.margin_mm, spacing, stock.roll)

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
class LaidMotif:
    """A copy of a motif, where the middle of its box lies on the sheet, and how it is turned there, in
    degrees clockwise."""

    motif: Motif
    x: float
    y: float
    turn: float = 0.0
    copy: int = 0

    @property
    def place(self) -> Placement:
        """From the motif's own frame to the sheet."""
        x, y = self.motif.middle
        return Placement(-x, -y).within(Placement(self.x, self.y, self.turn))

    @cached_property
    def whole(self) -> Shape:
        """All that is cut of it, on the sheet."""
        return self.place.shape(self.motif.whole)

    @cached_property
    def pieces(self) -> list[Region]:
        """The pieces that are to come off, those of its marks last."""
        return list(shapely.get_parts(self.whole.region))

    @property
    def uncut(self) -> list[Mark]:
        """What is on it that is not cut, on the sheet."""
        return [replace(mark, outline=self.place.outline(mark.outline)) for mark in self.motif.uncut]

    @cached_property
    def covers(self) -> BaseGeometry:
        """What it covers of the sheet, what is not cut, too."""
        region = self.whole.region
        if not self.motif.uncut:
            return region
        lines = [LineString(line) for mark in self.uncut for line in _lines_of(mark)]
        return shapely.union_all([region, *lines])

    @property
    def mark_count(self) -> int:
        return int(shapely.get_num_geometries(self.motif.marks.region))


@dataclass(frozen=True, eq=False)
class LaidSheet:
    """A sheet of one film with what is cut from it, and the cuts that only help weeding (N, 2)."""

    film: str
    sheet: Sheet
    motifs: tuple[LaidMotif, ...]
    weeding_cuts: tuple[Floats, ...] = ()

    @cached_property
    def promised(self) -> list[Region]:
        """The pieces that are to come off, where they lie on the sheet; marks are pieces, too."""
        return [piece for laid in self.motifs for piece in laid.pieces]

    @property
    def mark_count(self) -> int:
        return sum(laid.mark_count for laid in self.motifs)

    @cached_property
    def key(self) -> str:
        """A short mark by which a sheet with the very same pieces is known again."""
        return digest(self.film, *(piece.wkb_hex for piece in self.promised))

    @property
    def used(self) -> float:
        """The share of the sheet that ends up in pieces."""
        return sum(piece.area for piece in self.promised) / (self.sheet.width_mm * self.sheet.height_mm)

    @property
    def reach_mm(self) -> float:
        """How far down the sheet that reaches what is laid there."""
        return max((laid.covers.bounds[3] for laid in self.motifs), default=0.0)

    @property
    def others(self) -> list[str]:
        """The films whose parts are cut from this one on purpose."""
        return [film for film in dict.fromkeys(m.motif.film for m in self.motifs) if film != self.film]

    def job(self, machine: Machine) -> Job:
        """How the machine cuts it: in which order, and along which paths. Kept for sheets that are cut
        alike."""
        return _jobs.get(self.cut_key(machine), lambda: self._led(machine))

    def cut_key(self, machine: Machine) -> str:
        """A short mark of all that the paths hang on: the pieces, the machine with its knife, the sheet, the
        cuts that help weeding, what is kept off, and what is not cut."""
        beside = (*self.weeding_cuts, *(laid.motif.keep_off for laid in self.motifs))
        places = [repr((laid.x, laid.y, laid.turn)) for laid in self.motifs]
        lines = [line.tobytes().hex() for line in beside]
        uncut = [f"{one.use} {one.outline.digest}" for laid in self.motifs for one in laid.motif.uncut]
        return digest(self.key, repr(machine), repr(self.sheet), *places, *lines, *uncut)

    def _led(self, machine: Machine) -> Job:
        contours: list[Floats] = []
        owners: list[int] = []
        for n, laid in enumerate(self.motifs):
            own = _contours(laid.whole, machine.kerf_mm)
            contours += own
            owners += [n] * len(own)
        off = [laid.place.points(laid.motif.keep_off) for laid in self.motifs if len(laid.motif.keep_off)]
        cuts = cutting_order(contours, keep_off=np.concatenate(off) if off else None)
        paths, heading = [], 0.0
        for cut in cuts:
            path, heading = machine.knife.leading(np.roll(contours[cut.contour], -cut.start, axis=0), heading)
            paths.append(path)
        way = way_between(contours, cuts)
        at = contours[cuts[-1].contour][cuts[-1].start] if cuts else np.zeros(2)
        helping = []
        for line in _nearest_first(self.weeding_cuts if machine.cuts else (), at):
            way += float(np.hypot(*(line[0] - at)))
            at = line[-1]
            path, heading = machine.knife.leading(line, heading, is_closed=False)
            helping.append(path)
        length = sum(float(np.hypot(*np.diff(path, axis=0).T).sum()) for path in [*paths, *helping])
        return Job(
            self, machine, tuple(paths), tuple(helping), tuple(cut.contour for cut in cuts),
            tuple(owners[cut.contour] for cut in cuts),
            tuple(contours[cut.contour][cut.start] for cut in cuts), length * machine.passes, way,
            tuple(self._uncut(machine)),
        )  # fmt: skip

    def _uncut(self, machine: Machine) -> Iterator[Stroke]:
        """What the machine does before it cuts: it engraves, draws, and scores."""
        marks = [mark for laid in self.motifs for mark in laid.uncut]
        areas = [region_of(mark.outline, CUT_TO_MM) for mark in marks if mark.use == "engrave"]
        if "engrave" in machine.does:
            whole = polygonal(shapely.union_all(areas))
            for line in engraving_lines(whole, machine.engrave_mm):
                yield PENS["engrave"], line
        at = np.zeros(2)
        for use in _BEFORE:
            lines = [line for mark in marks if mark.use == use for line in _lines_of(mark)]
            for line in _nearest_first(lines, at) if use in machine.does else ():
                yield PENS[use], line
                at = line[-1]


@dataclass(frozen=True, eq=False)
class Job:
    """The cutting of a sheet: the paths of the carriage with the knife down, (N, 2) in mm, in their order,
    and those that only help weeding, which come last; for each of the first its contour, counted through all
    that is laid there, the motif it is of, by its place on the sheet, and where it starts; how long all are
    together, with every pass, and how far the carriage goes between them with the knife up; and what is done
    before, as it is to be seen on the sheet, each with its pen."""

    laid: LaidSheet
    machine: Machine
    paths: tuple[Floats, ...]
    weeding_cuts: tuple[Floats, ...]
    contours: tuple[int, ...]
    owners: tuple[int, ...]
    starts: tuple[Floats, ...]
    length_mm: float
    way_mm: float
    uncut: tuple[Stroke, ...] = ()

    @property
    def kept_bytes(self) -> int:
        """About how many bytes the job keeps alive, its sheet included."""
        pieces = sum(int(shapely.get_num_coordinates(piece)) for piece in self.laid.promised)
        paths = (*self.paths, *self.weeding_cuts, *(path for _, path in self.uncut))
        return sum(path.nbytes + 200 for path in paths) * 2 + 200 * pieces

    @cached_property
    def strokes(self) -> list[Stroke]:
        """All that the carriage does with its tool down: what is not cut; a knife is turned the right way;
        then each path as often as there are passes, and what helps weeding last. A pen draws it all."""
        pen = CUT_PEN if self.machine.cuts else PENS["draw"]
        return [
            *self._before,
            *((pen, path) for path in self.paths for _ in range(self.machine.passes)),
            *((WEEDING_PEN, path) for path in self.weeding_cuts),
        ]

    @property
    def _before(self) -> Iterator[Stroke]:
        """What is not cut, as the carriage is led. A knife trails where it scores, too: it is turned before,
        and once more before it cuts."""
        turn = turning(self.laid.sheet, self.laid.promised, 0.0, self.machine.offset_mm)
        heading = 0.0
        for n, (pen, line) in enumerate(self.uncut):
            if pen not in BLADE_PENS:
                yield pen, line
                continue
            if n == 0 or self.uncut[n - 1][0] not in BLADE_PENS:
                yield from ((WEEDING_PEN, path) for path in turn)
            path, heading = self.machine.knife.leading(line, heading, is_closed=False)
            yield pen, path
        yield from ((WEEDING_PEN, path) for path in turn)

    def seconds(self, material: str) -> float:
        """About how long the machine takes in a material: each stroke at the speed of its use, and the ways
        between with its tool up."""
        if not self.strokes:
            return 0.0
        usual = self.machine.speed_mm_s
        by_pen = settings_by_pen(self.machine, material).items()
        speeds = {pen: setting.speed_mm_s or usual for pen, setting in by_pen}
        ends = np.array([(path[0], path[-1]) for _, path in self.strokes])
        lifted = np.hypot(*(ends[1:, 0] - ends[:-1, 1]).T).sum() / (LIFTED_TIMES * usual)
        down = (np.hypot(*np.diff(path, axis=0).T).sum() / speeds[pen] for pen, path in self.strokes)
        return float(lifted + sum(down))

    def stroke_of(self, cut: int) -> int:
        """The place among all strokes at which a cut is done for the last time."""
        first = len(self.strokes) - len(self.weeding_cuts) - len(self.paths) * self.machine.passes
        return first + (cut + 1) * self.machine.passes - 1

    @property
    def numbers(self) -> list[int]:
        """For each motif of the sheet how many are free before it, counted from 1."""
        last = {owner: n for n, owner in enumerate(self.owners)}
        order = sorted(last, key=lambda owner: last[owner])
        return [order.index(n) + 1 if n in last else 0 for n in range(len(self.laid.motifs))]


def turning(sheet: Sheet, pieces: Sequence[Region], heading: float, offset: float) -> list[Floats]:
    """A short cut that turns a trailing knife the right way: nobody knows how the knife stands before. None
    for what does not trail."""
    return turning_at(turning_place(sheet, pieces, offset), heading, offset) if offset > 0 else []


def turning_place(sheet: Sheet, pieces: Sequence[Region], offset: float) -> Floats:
    """Where a trailing knife is turned: in the corner of a sheet that is farthest from what is cut of it."""
    inset = _turned_by(offset) + 0.5
    if not pieces:
        return np.array([inset, inset])
    corners = [(x, y) for y in (inset, sheet.height_mm - inset) for x in (inset, sheet.width_mm - inset)]
    tree = shapely.STRtree(list(pieces))
    far = [float(tree.query_nearest(shapely.Point(*at), return_distance=True)[1][0]) for at in corners]
    return np.array(corners[int(np.argmax(np.round(far, 3)))])


def turning_at(place: Floats, heading: float, offset: float) -> list[Floats]:
    """The cut that turns a trailing knife to a heading, in radians, around a place. It has a bend: a
    knife that stands straight against the way it is led does not turn around, and it can stand so against
    one of two ways only."""
    around = np.array([heading + math.pi - _BEND, heading + math.pi, heading])
    return [place + np.column_stack((np.cos(around), np.sin(around))) * _turned_by(offset)]


def _turned_by(offset: float) -> float:
    return max(_TURNED_MM, 5 * offset)


_TURNED_MM = 1.0

_BEND = math.radians(110)
"""How far the way that turns a knife bends: no common angle, for cuts leave a knife at those."""

_jobs: BoundedCache[str, Job] = BoundedCache(64 * 2**20, weight_of)


def _contours(shape: Shape, kerf: float) -> list[Floats]:
    """The contours to be cut; moved out by half of what the machine takes away."""
    return flat_contours(with_kerf(shape, kerf).outline, CUT_TO_MM) if shape else []


def with_kerf(shape: Shape, kerf: float) -> Shape:
    """A shape as it is cut by what takes away so much: moved out by half of it."""
    return offset(shape, kerf / 2) if kerf else shape


def _nearest_first(lines: Sequence[Floats], at: Floats) -> list[Floats]:
    """Open lines, each begun at the end that is nearest to where the last one ended."""
    left, found = list(lines), []
    while left:
        ends = np.array([(line[0], line[-1]) for line in left])
        ways = np.hypot(*(ends - at).transpose(2, 0, 1))
        n, end = divmod(int(ways.argmin()), 2)
        line = left.pop(n)
        found.append(line[::-1] if end else line)
        at = found[-1][-1]
    return found


_BEFORE: tuple[MarkUse, ...] = ("draw", "score")
"""What is done along lines before anything is cut, in this order."""


def _lines_of(mark: Mark) -> list[Floats]:
    """The lines along a mark, (N, 2), closed ones back to their start."""
    return drawn_lines(mark.outline, CUT_TO_MM, closed=mark.closed)


_ONE_OF_EACH = CutPlan()


# --- laying out -----------------------------------------------------------------------------------------


def laid_out(
    motifs: Sequence[Motif],
    stock_of: Callable[[str], Sheet],
    plan: CutPlan = _ONE_OF_EACH,
    unit: Unit = "mm",
    most_laid: int = MOST_LAID,
) -> list[LaidSheet]:
    """The motifs, each as often as it asks for, on as many sheets of their films as they need:
    where the plan says that they lie; the others in rows below, the highest first, each in the first row that
    has room (first fit of decreasing height; Coffman, Garey, Johnson and Tarjan, 1980).

    Raises Problem "no-sheet", "no-room" for a motif that fits on no sheet, "too-many-copies".
    """
    validate_copies(motifs, most_laid)
    by_hand = {(laid.design, laid.film.upper(), laid.part, laid.copy): laid for laid in plan.laid}
    wanted: dict[str, list[tuple[Motif, int, LaidCopy | None]]] = {}
    for motif in motifs:
        onto = (plan.stock(motif.film).substitute_film or motif.film).upper()
        for copy in range(motif.copies):
            laid = by_hand.get((motif.origin, motif.film, motif.part, copy))
            wanted.setdefault(laid.sheet_film.upper() if laid else onto, []).append((motif, copy, laid))
    sheets: list[LaidSheet] = []
    for film, own in wanted.items():
        sheet = stock_of(film)
        on_sheets = _on_sheets(own, sheet, unit)
        if len(sheets) + len(on_sheets) > MOST_SHEETS:
            raise Problem(
                "too-many-sheets",
                f"This takes more than {MOST_SHEETS} sheets.",
                "Cut fewer copies at once, or take larger sheets.",
                "copies",
            )
        for laid_here in on_sheets:
            if laid_here:
                sheets.append(sheet_with(film, sheet, laid_here, plan))
    return sheets


def sheet_with(film: str, sheet: Sheet, laid: Sequence[LaidMotif], plan: CutPlan) -> LaidSheet:
    """A sheet with what lies on it; of a roll, the length that is needed; with the cuts that help weeding, as
    the plan asks for them."""
    return with_weeding_cuts(LaidSheet(film, _taken(sheet, laid), tuple(laid)), plan)


def validate_copies(motifs: Sequence[Motif], most_laid: int = MOST_LAID) -> None:
    """Raises Problem "too-many-copies" for more than is laid out at once."""
    most = max((motif.copies for motif in motifs), default=1)
    least = min((motif.copies for motif in motifs), default=1)
    if not (least >= 1 and most <= MOST_COPIES and sum(motif.copies for motif in motifs) <= most_laid):
        raise Problem(
            "too-many-copies",
            f"{most if most > 1 else least} copies cannot be cut at once.",
            f"Ask for 1 to {min(MOST_COPIES, most_laid // max(1, len(motifs)))}.",
            "copies",
        )


def _on_sheets(
    wanted: Sequence[tuple[Motif, int, LaidCopy | None]], sheet: Sheet, unit: Unit
) -> list[list[LaidMotif]]:
    usable = sheet.usable
    sheets: list[list[LaidMotif]] = []
    rest = []
    for motif, copy, laid in wanted:
        if laid is None:
            validate_fit(motif, usable, unit)
            rest.append(LaidMotif(motif, 0.0, 0.0, 0.0, copy))
            continue
        while len(sheets) <= laid.sheet:
            sheets.append([])
        sheets[laid.sheet].append(LaidMotif(motif, laid.x, laid.y, laid.turn, copy))
    rest.sort(key=lambda laid: -laid.motif.box.height)
    return in_rows(rest, usable, sheet.spacing_mm, sheets)


def validate_fit(motif: Motif, usable: Box, unit: Unit) -> None:
    """Raises Problem "no-room" for a motif that fits on no sheet as it is."""
    box = motif.box
    # What is only drawn may be a straight line.
    fits = min(usable.width / max(box.width, 1e-9), usable.height / max(box.height, 1e-9))
    if fits < 1 - 1e-9:
        size = f"{show_length(box.width, unit)} × {show_length(box.height, unit)}"
        raise Problem(
            "no-room",
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


def in_rows(
    motifs: Sequence[LaidMotif], usable: Box, spacing: float, sheets: list[list[LaidMotif]]
) -> list[list[LaidMotif]]:
    """The motifs in rows, below what lies on the last sheet already."""
    rows: list[_Row] = []
    below = usable.y
    if sheets:
        bottoms = [laid.covers.bounds[3] for laid in sheets[-1]]
        below = max([usable.y, *(bottom + spacing for bottom in bottoms)])
    else:
        sheets = [[]]
    for laid in motifs:
        box = laid.motif.box
        row = next(
            (r for r in rows if r.x + box.width <= usable.right + 1e-9 and box.height <= r.height + 1e-9),
            None,
        )
        if row is None:
            if below + box.height > usable.bottom + 1e-9:
                sheets.append([])
                below = usable.y
            row = _Row(len(sheets) - 1, below, box.height, usable.x)
            rows.append(row)
            below += box.height + spacing
        at = replace(laid, x=row.x + box.width / 2, y=row.y + box.height / 2)
        sheets[row.sheet].append(at)
        row.x += box.width + spacing
    return sheets


def _taken(sheet: Sheet, laid: Sequence[LaidMotif]) -> Sheet:
    if not sheet.roll:
        return sheet
    bottom = max(one.covers.bounds[3] for one in laid)
    return replace(sheet, height_mm=min(sheet.height_mm, bottom + sheet.margin_mm))


def with_weeding_cuts(laid: LaidSheet, plan: CutPlan) -> LaidSheet:
    """The sheet with the cuts that help weeding, as the plan asks for them."""
    sheet = laid.sheet
    usable = shapely.box(0.5, 0.5, sheet.width_mm - 0.5, sheet.height_mm - 0.5)
    cuts = weeding_cuts_for([one.pieces for one in laid.motifs], usable, plan)
    return replace(laid, weeding_cuts=tuple(cuts)) if cuts else laid
