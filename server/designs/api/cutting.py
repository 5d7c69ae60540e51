"""The Cut stage: sheets, their checklist, close arrangements, files, tickets, and jobs made ready.

Places are in mm on a sheet, y down, as the cutter meets it.
"""

from dataclasses import asdict, replace
from typing import Annotated, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import Field

from designs import shelf
from designs.api.values import AnyRecipe, MarkOut, PointOut, Problems, answered, download, files_of
from designs.cutting import CutWork
from designs.faces import face_of
from designs.models import CutJob, PressTest
from fulgen.formats.drawn_sheet import about_of
from fulgen.formats.file_names import safe_names
from fulgen.formats.paper import Paper
from fulgen.formats.sheet_files import Written, zipped
from fulgen.frozen import WHOLE, Flag
from fulgen.geometry.paths import line_data, path_data
from fulgen.readiness.films import film_name
from fulgen.readiness.gate import validate_ready
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe
from fulgen.sheet.checklist import side_up
from fulgen.sheet.file_kinds import FILE_KINDS, FileKind
from fulgen.sheet.machines import Machine
from fulgen.sheet.motifs import Motif
from fulgen.sheet.plan import film_taken, nested_closely

router = Router(tags=["cutting"])

NEST_S = 4
"""Seconds for a close arrangement."""

Name = Annotated[str, Field(max_length=400)]


class CutIn(Schema):
    """A design by its name and recipe."""

    name: Name = ""
    recipe: AnyRecipe


class MotifOut(Schema):
    """What is laid as one: all of a film of the design, or one part of it; its outline and what is on it that
    is not cut, about its own middle, and the box around that."""

    key: str
    design: str
    name: str
    film: str
    part: str
    d: str
    marks: list[MarkOut]
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
    """A sheet of a film, by a key that changes with how it is cut: what it is made of and how large,
    what lies on it, the way of the carriage between the starts of the cuts, how long that and the cuts are,
    what only helps weeding, and what is promised."""

    key: str
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
    weeding_cuts: list[str]
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
    """How a design is cut, and what is to be said of it: its words, faces and size."""

    words: str
    face: str
    size: str
    motifs: list[MotifOut]
    sheets: list[SheetOut]
    checklist: list[CheckPoint]
    machine: Machine


@router.post("/cut/sheets", response={200: SheetsOut, **Problems}, operation_id="laySheets")
def lay_sheets(request: HttpRequest, wanted: CutIn) -> HttpResponse:
    """The sheets of a design, the order in which they are cut, and the checklist."""
    work = CutWork(wanted.name, wanted.recipe)
    motifs: dict[str, MotifOut] = {}
    for sheet in work.sheets:
        for laid in sheet.motifs:
            key = _key(laid.motif)
            if key not in motifs:
                x, y = laid.motif.middle
                motifs[key] = MotifOut(
                    key=key, design=laid.motif.origin, name=laid.motif.design, film=laid.motif.film,
                    part=laid.motif.part,
                    d=path_data(laid.motif.whole.outline.placed(-x, -y)),
                    marks=[
                        MarkOut(
                            d=path_data(mark.outline.placed(-x, -y), closed=mark.closed), use=mark.use
                        )
                        for mark in laid.motif.uncut
                    ],
                    width=laid.motif.box.width, height=laid.motif.box.height,
                )  # fmt: skip
    sheets = [_sheet(work, index) for index in range(len(work.sheets))]
    points = [CheckPoint(**asdict(point)) for point in work.checklist]
    points += _warnings({sheet.material for sheet in sheets})
    about = about_of(work.name, work.evaluation)
    order = ["blocks", "ask", "know", "good"]
    points.sort(key=lambda point: order.index(point.state))
    return answered(
        SheetsOut(
            words=about.words,
            face=about.face,
            size=about.size,
            motifs=list(motifs.values()),
            sheets=sheets,
            checklist=points,
            machine=work.machine,
        )
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


def _key(motif: Motif) -> str:
    return f"{motif.origin} {motif.film} {motif.part}"


def _sheet(work: CutWork, index: int) -> SheetOut:
    sheet = work.sheets[index]
    job = sheet.job(work.machine)
    number, of = work.number_of(index)
    return SheetOut(
        key=sheet.cut_key(work.machine),
        film=sheet.film,
        film_name=film_name(work.evaluation.recipe, sheet.film),
        material=work.material(index),
        side=side_up(work.evaluation.recipe.material_of(sheet.film)),
        number=number,
        of=of,
        roll=sheet.sheet.roll,
        width_mm=sheet.sheet.width_mm,
        height_mm=sheet.sheet.height_mm,
        margin_mm=sheet.sheet.margin_mm,
        laid=[
            LaidOut(
                motif=_key(laid.motif), copy_number=laid.copy,
                x=laid.x, y=laid.y, turn=laid.turn, number=n,
            )
            for laid, n in zip(sheet.motifs, job.numbers, strict=True)
        ],
        way=[PointOut(x=round(float(x), 2), y=round(float(y), 2)) for x, y in job.starts],
        weeding_cuts=[line_data(line) for line in sheet.weeding_cuts],
        pieces=len(sheet.promised) - sheet.mark_count,
        marks=sheet.mark_count,
        used=sheet.used,
        cut_length_mm=job.length_mm,
        way_mm=job.way_mm,
        seconds=job.seconds(work.material(index)),
        others=[film_name(work.evaluation.recipe, film) for film in sheet.others],
    )  # fmt: skip


class NestedOut(Schema):
    """A recipe with all that is cut arranged to use little film, and how much length of film that takes, and
    would take in rows."""

    recipe: Recipe
    rows_mm: float
    closely_mm: float


@router.post("/cut/nest", response={200: NestedOut, **Problems}, operation_id="nestClosely")
def nest_closely(request: HttpRequest, wanted: CutIn) -> NestedOut:
    """All that is cut, arranged to use little film."""
    work = CutWork(wanted.name, wanted.recipe)
    nested = nested_closely(work.name, work.evaluation, NEST_S, work.others)
    in_rows = nested.model_copy(update={"cut": replace(nested.cut, laid=(), closely=False)})
    rows, closely = (film_taken(work.name, work.evaluation, one, work.others) for one in (in_rows, nested))
    return NestedOut(recipe=nested, rows_mm=rows, closely_mm=closely)


class FileIn(CutIn):
    """Which files: of one sheet, or of all; of one kind, or of every kind the machine reads. tolerance_mm is
    that of chords, in kinds that have no curves. hairline_mm: areas are drawn as lines so wide, or filled for
    0; as the machine wants it unless said. anyway: whatever stands at the gate."""

    anyway: Flag = False

    sheet: Annotated[int, Field(ge=0, le=10_000), WHOLE] | None = None
    film: Annotated[str, Field(max_length=7)] | None = None
    kind: FileKind | None = None
    tolerance_mm: Annotated[float, Field(strict=True, ge=0.001, le=1.0)] = 0.02
    hairline_mm: Annotated[float, Field(strict=True, ge=0.0, le=5.0)] | None = None


SHEET_FILES = sorted({"application/zip", *(kind.media_type for kind in FILE_KINDS)})
"""What a file of a sheet can be to a browser."""


@router.post(
    "/cut/file",
    response={200: None, **Problems},
    operation_id="saveSheets",
    openapi_extra=files_of(*SHEET_FILES),
)
def save_sheets(request: HttpRequest, wanted: FileIn) -> HttpResponse:
    """A file for the machine, or several as one ZIP. Each was read back, and its sheet cut on the simulated
    machine, before it is handed out."""
    work = CutWork(wanted.name, wanted.recipe)
    work.look_whether_ready(wanted.anyway)
    files = work.files(wanted.sheet, wanted.film, wanted.kind, wanted.tolerance_mm, wanted.hairline_mm)
    if len(files) == 1:
        return download(files[0])
    return download(Written(f"{safe_names([work.name])[0]}.zip", "application/zip", zipped(files)))


class PatternIn(CutIn):
    """A design to print at true size, and the paper. anyway: whatever stands at the gate."""

    paper: Paper = "a4"
    anyway: Flag = False


@router.post(
    "/pattern",
    response={200: None, **Problems},
    operation_id="savePattern",
    openapi_extra=files_of("application/pdf"),
)
def save_pattern(request: HttpRequest, wanted: PatternIn) -> HttpResponse:
    """The design as a pattern to print, on as many pages as it takes, as PDF."""
    from fulgen.formats.pattern import write_pattern  # with all that writes PDF: imported when it is wanted

    name = wanted.name.strip() or wanted.recipe.display_name
    evaluation = evaluate(wanted.recipe, face_of)
    data = write_pattern(name, evaluation, wanted.paper)
    if not wanted.anyway:
        validate_ready(evaluation)
    return download(Written(f"{safe_names([name])[0]}-pattern.pdf", "application/pdf", data))


@router.post(
    "/cut/ticket",
    response={200: None, **Problems},
    operation_id="saveTicket",
    openapi_extra=files_of("application/pdf"),
)
def save_ticket(request: HttpRequest, wanted: CutIn) -> HttpResponse:
    """The page that goes with the job, as PDF."""
    return download(CutWork(wanted.name, wanted.recipe).ticket())


class JobIn(CutIn):
    """A sheet to be cut: the design it is of, the place of the sheet among all, and the key by which it was
    shown. ``job`` is made by whoever asks: asked twice, it is one job. anyway: whatever stands at the
    gate."""

    anyway: Flag = False

    job: UUID
    design: UUID
    sheet: Annotated[int, Field(ge=0, le=10_000), WHOLE]
    key: Annotated[str, Field(max_length=40)]


class JobMade(Schema):
    id: UUID


@router.post("/cut/job", response={201: JobMade, **Problems}, operation_id="makeJob")
def make_job(request: HttpRequest, wanted: JobIn) -> Status[JobMade]:
    """A job for the cutter, ready to start; its file was cut on the simulated machine first. It is that of
    the sheet that was shown, or none."""
    design = shelf.find(wanted.design)
    if CutJob.objects.filter(pk=wanted.job, design=design).exists():
        return Status(201, JobMade(id=wanted.job))
    work = CutWork(wanted.name, wanted.recipe)
    work.look_whether_ready(wanted.anyway)
    work.look_whether_shown(wanted.sheet, wanted.key)
    return Status(201, JobMade(id=work.job(design, wanted.sheet, wanted.job).pk))
