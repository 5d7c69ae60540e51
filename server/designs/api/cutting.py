"""The Cut stage: sheets, their checklist, close arrangements, files, tickets, and jobs made ready.

Places are in mm on a sheet, y down, as the cutter meets it.
"""

from dataclasses import asdict
from typing import Annotated, Literal
from urllib.parse import quote
from uuid import UUID

import numpy as np
import shapely
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import Field

from designs import shelf, shop
from designs.api.values import AnyRecipe, PointOut, Problems, answered
from designs.faces import face_of
from designs.jobs import MOST_JOBS
from designs.models import CutJob, PressTest
from designs.ticket import ticket_pdf
from fulgen.formats.drawn_sheet import DrawnSheet, about_of, drawn_sheet
from fulgen.formats.names import safe_names
from fulgen.formats.sheet_files import Written, cut_file, write_file, zipped
from fulgen.frozen import WHOLE
from fulgen.geometry.outline import LINE, MOVE, Floats, Outline
from fulgen.geometry.paths import path_data
from fulgen.problem import Problem
from fulgen.recipe.evaluate import Evaluation, evaluate
from fulgen.recipe.model import Recipe
from fulgen.sheet.checklist import checklist, film_name, material_of, side_up
from fulgen.sheet.machines import FileKind, Machine
from fulgen.sheet.plan import nested_closely, sheets_of
from fulgen.sheet.sheets import Job, LaidSheet

router = Router(tags=["cutting"])

NEST_S = 4
"""Seconds for a close arrangement."""

Name = Annotated[str, Field(max_length=400)]


class CutIn(Schema):
    """A design by its name and recipe."""

    name: Name = ""
    recipe: AnyRecipe


class MotifOut(Schema):
    """What is laid as one: all of a film of the design, or one part of it; its outline about its own middle,
    and the box around that."""

    key: str
    film: str
    part: str
    d: str
    width: float
    height: float


class LaidOut(Schema):
    """A copy of a motif, by its key, where its middle lies on the sheet, how it is turned there in degrees
    clockwise, and how many motifs of the sheet are free before it, counted from 1."""

    motif: str
    copy_number: int
    x: float
    y: float
    turn: float
    number: int


class SheetOut(Schema):
    """A sheet of a film: what it is made of and how large, what lies on it, the way of the carriage between
    the starts of the cuts, how long that and the cuts are, what only helps weeding, and what is promised."""

    film: str
    film_name: str
    material: str
    side: str
    number: int
    of: int
    roll: bool
    width_mm: float
    height_mm: float
    margin_mm: float
    laid: list[LaidOut]
    way: list[PointOut]
    helps: list[str]
    pieces: int
    marks: int
    used: float
    cut_length_mm: float
    way_mm: float
    seconds: float
    others: list[str]


class CheckPoint(Schema):
    """A line of the checklist: how it stands, what it is about, what is to be said, and what to do."""

    state: Literal["blocks", "ask", "know", "good"]
    about: str
    what: str
    todo: str


class SheetsOut(Schema):
    """How a design is cut."""

    motifs: list[MotifOut]
    sheets: list[SheetOut]
    checklist: list[CheckPoint]
    machine: Machine


class Made:
    """A design with its sheets, and how each is cut."""

    def __init__(self, name: str, recipe: Recipe) -> None:
        self.name = name.strip() or "Lettering"
        self.evaluation: Evaluation = evaluate(recipe, face_of).whole()
        self.machine = shop.machine_named(recipe.cut.machine)
        self.sheets: list[LaidSheet] = sheets_of(self.name, self.evaluation)
        if not self.sheets:
            raise Problem("no-letters", "There is nothing to cut yet.", "Type a word, or add a shape.")

    def number_of(self, index: int) -> tuple[int, int]:
        """Which sheet of its film it is, and of how many."""
        film = self.sheets[index].film
        own = [n for n, sheet in enumerate(self.sheets) if sheet.film == film]
        return own.index(index) + 1, len(own)

    def file_names(self) -> list[str]:
        """Names for the files of all sheets."""
        names = []
        for index, sheet in enumerate(self.sheets):
            number, of = self.number_of(index)
            film = film_name(self.evaluation, sheet.film)
            names.append(f"{self.name} {film}{f' {number}' if of > 1 else ''}")
        return safe_names(names)

    def drawn(self, index: int) -> DrawnSheet:
        sheet = self.sheets[index]
        film = film_name(self.evaluation, sheet.film)
        about = about_of(self.name, self.evaluation)
        about = type(about)(**{**asdict(about), "film": film, "material": self.material(index)})
        return drawn_sheet(self.file_names()[index], sheet.job(self.machine), about)

    def material(self, index: int) -> str:
        return material_of(self.evaluation, self.sheets[index].film).name

    def look_whether_ready(self) -> None:
        """Raises Problem "not-ready" while anything of the checklist blocks the cut, or asks."""
        for point in checklist(self.evaluation, self.sheets, self.machine):
            if point.state in ("blocks", "ask"):
                raise Problem("not-ready", point.what, point.todo or "See the checklist.", "checklist")

    def sheet(self, index: int) -> LaidSheet:
        if not 0 <= index < len(self.sheets):
            raise Problem("no-sheet", "This sheet is not there any more.", "Choose another sheet.", "sheet")
        return self.sheets[index]


@router.post("/cut/sheets", response={200: SheetsOut, **Problems}, operation_id="laySheets")
def lay_sheets(request: HttpRequest, wanted: CutIn) -> HttpResponse:
    """The sheets of a design, the order in which they are cut, and the checklist."""
    made = Made(wanted.name, wanted.recipe)
    motifs: dict[str, MotifOut] = {}
    for sheet in made.sheets:
        for laid in sheet.motifs:
            key = f"{laid.motif.film} {laid.motif.part}"
            if key not in motifs:
                x, y = laid.motif.middle
                motifs[key] = MotifOut(
                    key=key, film=laid.motif.film, part=laid.motif.part,
                    d=path_data(laid.motif.whole.outline.placed(-x, -y)),
                    width=laid.motif.box.width, height=laid.motif.box.height,
                )  # fmt: skip
    sheets = [_sheet(made, index) for index in range(len(made.sheets))]
    points = [CheckPoint(**asdict(point)) for point in checklist(made.evaluation, made.sheets, made.machine)]
    points += _warnings({sheet.material for sheet in sheets})
    order = ["blocks", "ask", "know", "good"]
    points.sort(key=lambda point: order.index(point.state))
    return answered(
        SheetsOut(motifs=list(motifs.values()), sheets=sheets, checklist=points, machine=made.machine)
    )


def _warnings(materials: set[str]) -> list[CheckPoint]:
    """What went wrong with these materials before."""
    return [
        CheckPoint(
            state="know",
            about="press",
            what=f"{test.material}, {test.on.day} {test.on:%B}: {test.words}",
            todo="Your own note. Take it out below when it is settled.",
        )
        for test in PressTest.objects.filter(material__in=materials, good=False)[:6]
    ]


def _sheet(made: Made, index: int) -> SheetOut:
    sheet = made.sheets[index]
    job = sheet.job(made.machine)
    number, of = made.number_of(index)
    return SheetOut(
        film=sheet.film,
        film_name=film_name(made.evaluation, sheet.film),
        material=made.material(index),
        side=side_up(material_of(made.evaluation, sheet.film)),
        number=number,
        of=of,
        roll=sheet.sheet.roll,
        width_mm=sheet.sheet.width_mm,
        height_mm=sheet.sheet.height_mm,
        margin_mm=sheet.sheet.margin_mm,
        laid=[
            LaidOut(
                motif=f"{laid.motif.film} {laid.motif.part}", copy_number=laid.copy,
                x=laid.x, y=laid.y, turn=laid.turn, number=n,
            )
            for laid, n in zip(sheet.motifs, job.numbers, strict=True)
        ],
        way=[PointOut(x=round(float(x), 2), y=round(float(y), 2)) for x, y in job.starts],
        helps=[_line(line) for line in sheet.helps],
        pieces=len(sheet.promised) - sheet.mark_count,
        marks=sheet.mark_count,
        used=sheet.used,
        cut_length_mm=job.length_mm,
        way_mm=job.way_mm,
        seconds=(job.length_mm + job.way_mm / 4) / made.machine.speed_mm_s,
        others=[film_name(made.evaluation, film) for film in sheet.others],
    )  # fmt: skip


def _line(points: Floats, decimals: int = 2) -> str:
    verbs = np.full(len(points), LINE, np.uint8)
    verbs[0] = MOVE
    return path_data(Outline(verbs, points), decimals, closed=False)


@router.post("/cut/nest", response={200: Recipe, **Problems}, operation_id="nestClosely")
def nest_closely(request: HttpRequest, wanted: CutIn) -> Recipe:
    """The recipe with all that is cut arranged to use little film."""
    evaluation = evaluate(wanted.recipe, face_of).whole()
    return nested_closely(wanted.name, evaluation, NEST_S)


class FileIn(CutIn):
    """Which files: of one sheet, or of all; of one kind, or of every kind the machine reads. tolerance_mm is
    that of chords, in kinds that have no curves."""

    sheet: Annotated[int, Field(ge=0, le=10_000), WHOLE] | None = None
    film: Annotated[str, Field(max_length=7)] | None = None
    kind: FileKind | None = None
    tolerance_mm: Annotated[float, Field(strict=True, ge=0.001, le=1.0)] = 0.02


@router.post("/cut/file", response={200: bytes, **Problems}, operation_id="saveSheets")
def save_sheets(request: HttpRequest, wanted: FileIn) -> HttpResponse:
    """A file for the machine, or several as one ZIP. Each was read back, and its sheet cut on the simulated
    machine, before it is handed out."""
    made = Made(wanted.name, wanted.recipe)
    made.look_whether_ready()
    if wanted.sheet is not None:
        made.sheet(wanted.sheet)
    indexes = [
        n
        for n, sheet in enumerate(made.sheets)
        if wanted.sheet in (None, n) and wanted.film in (None, sheet.film)
    ]
    kinds = [wanted.kind] if wanted.kind else list(made.machine.formats)
    files: list[Written] = []
    for index in indexes:
        drawn = made.drawn(index)
        plotted, _ = cut_file(drawn)
        files += [
            plotted if kind == "hpgl" else write_file(drawn, kind, wanted.tolerance_mm) for kind in kinds
        ]
    if len(files) == 1:
        return _download(files[0])
    if not wanted.kind:
        files.append(_ticket(made))
    return _download(Written(f"{safe_names([made.name])[0]}.zip", "application/zip", zipped(files)))


@router.post("/cut/ticket", response={200: bytes, **Problems}, operation_id="saveTicket")
def save_ticket(request: HttpRequest, wanted: CutIn) -> HttpResponse:
    """The page that goes with the job, as PDF."""
    return _download(_ticket(Made(wanted.name, wanted.recipe)))


def _ticket(made: Made) -> Written:
    points = checklist(made.evaluation, made.sheets, made.machine)
    jobs = [sheet.job(made.machine) for sheet in made.sheets]
    data = ticket_pdf(made.name, made.evaluation, jobs, points)
    return Written(f"{safe_names([made.name])[0]}-ticket.pdf", "application/pdf", data)


def _download(file: Written) -> HttpResponse:
    disposition = f"attachment; filename=\"sheet\"; filename*=UTF-8''{quote(file.name)}"
    return HttpResponse(file.data, file.media_type, headers={"Content-Disposition": disposition})


class JobIn(CutIn):
    """A sheet to be cut: the design it is of, and the place of the sheet among all."""

    design: UUID
    sheet: Annotated[int, Field(ge=0, le=10_000), WHOLE]


class JobMade(Schema):
    id: UUID


@router.post("/cut/job", response={201: JobMade, **Problems}, operation_id="makeJob")
def make_job(request: HttpRequest, wanted: JobIn) -> Status[JobMade]:
    """A job for the cutter, ready to start; its file was cut on the simulated machine first."""
    design = shelf.find(wanted.design)
    made = Made(wanted.name, wanted.recipe)
    sheet = made.sheet(wanted.sheet)
    made.look_whether_ready()
    drawn = made.drawn(wanted.sheet)
    plotted, _ = cut_file(drawn)
    job: Job = drawn.job
    kept = CutJob.objects.create(
        design=design,
        revision=design.head,
        title=drawn.name.replace("-", " "),
        film=sheet.film,
        sheet=wanted.sheet,
        width_mm=sheet.sheet.width_mm,
        height_mm=sheet.sheet.height_mm,
        machine={**asdict(made.machine), "formats": list(made.machine.formats)},
        hpgl=plotted.data.decode("ascii"),
        strokes=len(job.paths) * made.machine.passes + len(job.helps),
        frees=[(n + 1) * made.machine.passes for n in drawn.frees],
        promised=str(shapely.to_wkb(shapely.multipolygons(np.array(sheet.promised, dtype=object)), hex=True)),
    )
    old = CutJob.objects.values_list("pk", flat=True)[MOST_JOBS:]
    CutJob.objects.filter(pk__in=list(old)).delete()
    return Status(201, JobMade(id=kept.pk))
