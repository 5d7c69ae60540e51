"""The sheets of an order, their files, and what goes with them: computed by workers."""

from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.responses import Status

from designs import shop
from designs.api.cutting import SHEET_FILES, JobMade
from designs.api.jobs import job_out
from designs.api.values import Problems, answered, download, files_of
from designs.models import CutJob
from fulgen.formats.file_names import safe_names
from fulgen.formats.sheet_files import Written, zipped
from fulgen.geometry.paths import path_data
from fulgen.orders.laying import room_left
from fulgen.readiness.films import film_name
from fulgen.sheet.motifs import Motif
from fulgen.sheet.sheets import LaidMotif, LaidSheet
from orders import keeping
from orders.api.schemas import (
    CutRow,
    CutSheetOut,
    LaidRow,
    OrderFilesIn,
    OrderIn,
    OrderJobIn,
    OrderSheetOut,
    OrderSheetsOut,
    PickListIn,
    RowMotif,
    SheetIn,
)
from orders.models import CutSheet
from orders.sheets import OrderWork, outcome_of_rows, row_number

router = Router(tags=["orders"])

_DECIMALS = 2
"""Outlines are sent to a hundredth of a millimetre: they are looked at on sheets, no more."""


@router.post("/sheets", response={200: OrderSheetsOut, **Problems}, operation_id="layOrder")
def lay_order(request: HttpRequest, wanted: OrderIn) -> HttpResponse:
    """All rows on their sheets, and the sheets that were cut."""
    work = OrderWork(keeping.find(wanted.order))
    motifs: dict[str, RowMotif] = {}
    for sheet in work.sheets:
        for laid in sheet.motifs:
            key = _key(laid)
            if key not in motifs:
                motifs[key] = _motif(key, laid.motif)
    return answered(
        OrderSheetsOut(
            motifs=list(motifs.values()),
            sheets=[_sheet(work, index, sheet) for index, sheet in enumerate(work.sheets)],
            cut=[_cut(work, sheet) for sheet in work.order.cut_sheets.select_related("job")],
            left_out=sum(worked.state == "cannot-be-made" for worked in work.worked.values()),
            machine=work.machine.name,
        )
    )


def _key(laid: LaidMotif) -> str:
    return f"{row_number(laid.motif)} {laid.motif.film} {laid.motif.part}"


def _motif(key: str, motif: Motif) -> RowMotif:
    x, y = motif.middle
    marks = (path_data(m.outline.placed(-x, -y), _DECIMALS, closed=m.closed) for m in motif.uncut)
    return RowMotif(
        key=key, row=row_number(motif), film=motif.film, marks="".join(marks),
        d=path_data(motif.whole.outline.placed(-x, -y), _DECIMALS),
        width=motif.box.width, height=motif.box.height,
    )  # fmt: skip


def _sheet(work: OrderWork, index: int, sheet: LaidSheet) -> OrderSheetOut:
    length = sum(piece.length for piece in sheet.promised) * work.machine.passes
    return OrderSheetOut(
        key=sheet.cut_key(work.machine), number=work.first_number + index, film=sheet.film,
        film_name=film_name(work.design, sheet.film), material=work.design.material_of(sheet.film).name,
        roll=sheet.sheet.roll, width_mm=sheet.sheet.width_mm, height_mm=sheet.sheet.height_mm,
        margin_mm=sheet.sheet.margin_mm,
        laid=[
            LaidRow(
                row=row_number(one.motif), copy_number=one.copy, motif=_key(one),
                x=one.x, y=one.y, turn=one.turn,
            )
            for one in sheet.motifs
        ],
        pieces=len(sheet.promised), used=sheet.used, room_left_mm=room_left(sheet),
        held=work.is_held_back(sheet), cut_length_mm=length, seconds=length / work.machine.speed_mm_s,
    )  # fmt: skip


def _cut(work: OrderWork, sheet: CutSheet) -> CutSheetOut:
    told = sheet.job.outcome if sheet.job else None
    return CutSheetOut(
        number=sheet.number, film=sheet.film, film_name=film_name(work.design, sheet.film),
        width_mm=sheet.width_mm, height_mm=sheet.height_mm, copies=len(sheet.laid), made=sheet.made,
        job=job_out(sheet.job, shop.ways()) if sheet.job else None, known="wrong" in (told or {}),
        rows=[
            CutRow(row=row, copies=promised, not_as_promised=lost)
            for row, (promised, lost) in outcome_of_rows(sheet).items()
        ],
    )  # fmt: skip


@router.post("/files", response={200: None, **Problems}, operation_id="saveOrderFiles",
             openapi_extra=files_of(*SHEET_FILES))  # fmt: skip
def save_order_files(request: HttpRequest, wanted: OrderFilesIn) -> HttpResponse:
    """A file of a sheet, or of all sheets and the pick list as one ZIP. Each was read back, and its sheet cut
    on the simulated machine, before it is handed out."""
    work = OrderWork(keeping.find(wanted.order))
    files = work.files(wanted.kind, wanted.sheet)
    if len(files) == 1:
        return download(files[0])
    return download(_as_zip(work, files))


@router.post("/pick-list", response={200: None, **Problems}, operation_id="savePickList",
             openapi_extra=files_of("application/pdf", "text/csv"))  # fmt: skip
def save_pick_list(request: HttpRequest, wanted: PickListIn) -> HttpResponse:
    """The list by which rows are picked from their sheets."""
    work = OrderWork(keeping.find(wanted.order))
    return download(work.pick_list_csv() if wanted.to == "csv" else work.pick_list_pdf())


@router.post("/proof", response={200: None, **Problems}, operation_id="saveOrderProof",
             openapi_extra=files_of("application/pdf"))  # fmt: skip
def save_proof(request: HttpRequest, wanted: OrderIn) -> HttpResponse:
    """Every name as it will be, for the customer to sign."""
    return download(OrderWork(keeping.find(wanted.order)).proof())


@router.post("/pictures", response={200: None, **Problems}, operation_id="saveOrderPictures",
             openapi_extra=files_of("application/zip"))  # fmt: skip
def save_pictures(request: HttpRequest, wanted: OrderIn) -> HttpResponse:
    """A picture of each row, as one ZIP."""
    work = OrderWork(keeping.find(wanted.order))
    return download(_as_zip(work, work.pictures(), "-pictures"))


def _as_zip(work: OrderWork, files: list[Written], ending: str = "") -> Written:
    return Written(f"{safe_names([work.order.name])[0]}{ending}.zip", "application/zip", zipped(files))


@router.post("/job", response={201: JobMade, **Problems}, operation_id="makeOrderJob")
def make_order_job(request: HttpRequest, wanted: OrderJobIn) -> Status[JobMade]:
    """A job of a sheet, ready to start; its file was cut on the simulated machine first."""
    order = keeping.find(wanted.order)
    if not CutJob.objects.filter(pk=wanted.job, order=order.pk).exists():
        OrderWork(order).job(wanted.sheet, wanted.key, wanted.job)
    return Status(201, JobMade(id=wanted.job))


@router.post("/cut-elsewhere", response={204: None, **Problems}, operation_id="cutElsewhere")
def cut_elsewhere(request: HttpRequest, wanted: SheetIn) -> Status[None]:
    """A sheet was cut by a machine of which Fulgen knows nothing: what lies on it is not laid again."""
    OrderWork(keeping.find(wanted.order)).cut_elsewhere(wanted.sheet, wanted.key)
    return Status(204, None)
