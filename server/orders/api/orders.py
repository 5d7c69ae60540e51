"""Orders and their rows: listed, made, changed, worked out and looked at."""

from collections import Counter
from typing import Any, cast, get_args
from uuid import UUID

from django.db.models import Count, Q
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile
from ninja.responses import Status

from designs.api.values import Problems, files_of
from fulgen.orders.fields import Field, fields_of, headings_of, matched
from fulgen.orders.lists import Table, read_list, read_pasted
from fulgen.orders.working import State
from fulgen.parts.frame import Frame
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from orders import keeping, versions
from orders.api.schemas import (
    ColumnOut,
    Counts,
    FieldOut,
    ListOut,
    NewOrder,
    NumbersIn,
    OpenedRow,
    OrderCard,
    OrderOut,
    PastedIn,
    RowIn,
    RowOut,
    RowsIn,
    RowsOut,
    SaveOrder,
    StopIn,
    VersionName,
    VersionOut,
)
from orders.dispatch import dispatch, workers_there
from orders.models import Order, OrderRow, RowResult, Stage
from orders.sheets import copies_cut

router = Router(tags=["orders"])

_PICTURES = 4
_SAMPLES = 4

Answers: dict[Any, Any] = {200: OrderOut, **Problems}


def counts_of(order: Order) -> Counts:
    """How many rows an order has, by their states."""
    states: tuple[State, ...] = get_args(State)
    each: dict[str, Any] = {name.replace("-", "_"): Count("pk", filter=Q(state=name)) for name in states}
    each |= {
        "waiting": Count("pk", filter=Q(made_key="")),
        "look_again": Count("pk", filter=Q(look_again=True)),
    }
    return Counts(**order.rows.filter(removed=False).aggregate(rows=Count("pk"), **each))


def _picture(row: OrderRow) -> str:
    return f"/api/orders/{row.order_id}/rows/{row.number}/picture?of={row.made_key}" if row.pieces else ""


def _card(order: Order) -> OrderCard:
    shown = order.rows.filter(removed=False, pieces__gt=0)[:_PICTURES]
    return OrderCard(
        id=order.pk, name=order.name, customer=order.customer, due=order.due, stage=Stage(order.stage),
        design=order.design_id, design_name=order.design.name or order.design.card.get("called", ""),
        changed=order.changed, counts=counts_of(order), sheets_cut=order.cut_sheets.count(),
        pictures=[_picture(row) for row in shown],
    )  # fmt: skip


def _opened(order: Order) -> OrderOut:
    design = keeping.design_of(order)
    return OrderOut(
        **_card(order).model_dump(), plan=keeping.plan_of(order),
        fields=[_field(design, field) for field in fields_of(design)], unit=design.unit,
        films=list(dict.fromkeys(part.film.upper() for part in design.parts if not part.hidden)),
        in_frame=any(isinstance(part, Frame) for part in design.parts),
        edit=order.edit, stopped=order.stopped, workers=workers_there(),
    )  # fmt: skip


def _field(design: Recipe, field: Field) -> FieldOut:
    part = design.part(field.part) if field.kind == "words" else None
    words = " ".join(part.text.split()) if isinstance(part, Lettering) else ""
    return FieldOut(key=field.key, kind=field.kind, heading=field.heading, as_designed=words)


@router.get("", response={200: list[OrderCard], **Problems}, operation_id="listOrders")
def list_orders(request: HttpRequest) -> list[OrderCard]:
    """All orders, newest change first."""
    return [_card(order) for order in Order.objects.filter(deleted=None).select_related("design")]


@router.post("", response={201: OrderOut, **Problems}, operation_id="makeOrder")
def make_order(request: HttpRequest, new: NewOrder) -> Status[OrderOut]:
    """A new order of a design of the shelf."""
    return Status(201, _opened(keeping.make(new.design)))


@router.post("/read-list", response={200: ListOut, **Problems}, operation_id="readPastedList")
def read_pasted_list(request: HttpRequest, pasted: PastedIn) -> ListOut:
    """A list as it was pasted, with what its columns say; nothing is kept of it."""
    fields = _fields_of(pasted.order)
    return _listed(read_pasted(pasted.text, headings_of(fields)), fields)


@router.post("/{order_id}/read-file", response={200: ListOut, **Problems}, operation_id="readListFile")
def read_list_file(request: HttpRequest, order_id: UUID, file: File[UploadedFile]) -> ListOut:
    """A list from a file, with what its columns say; nothing is kept of it."""
    fields = _fields_of(order_id)
    return _listed(read_list(file.read(), (file.name or "The list")[-80:], headings_of(fields)), fields)


def _fields_of(order_id: UUID) -> tuple[Field, ...]:
    return fields_of(keeping.design_of(keeping.find(order_id)))


def _listed(table: Table, fields: tuple[Field, ...]) -> ListOut:
    try:
        columns = dict(matched(table, fields).columns)
    except Problem:
        # What its columns say is for the maker to tell.
        columns = {}
    return ListOut(
        columns=[
            ColumnOut(
                heading=heading, field=columns[n].key if n in columns else "",
                samples=[cell for cell in table.column(n) if cell.strip()][:_SAMPLES],
            )
            for n, heading in enumerate(table.headings)
        ],
        rows=[list(cells) for _, cells in table.rows],
    )  # fmt: skip


@router.get("/{order_id}", response=Answers, operation_id="openOrder")
def open_order(request: HttpRequest, order_id: UUID) -> OrderOut:
    """An order with all that is asked for."""
    return _opened(keeping.find(order_id))


@router.put("/{order_id}", response=Answers, operation_id="saveOrder")
def save_order(request: HttpRequest, order_id: UUID, said: SaveOrder) -> OrderOut:
    """What is asked for, changed; refused with 409 when it has been changed since ``based_on``."""
    order = keeping.save(order_id, said.name, said.customer, said.due, said.stage, said.plan, said.based_on)
    dispatch.watch(order_id)
    return _opened(order)


@router.delete("/{order_id}", response={204: None, **Problems}, operation_id="deleteOrder")
def delete_order(request: HttpRequest, order_id: UUID) -> Status[None]:
    """Away; it can be put back."""
    keeping.delete(order_id)
    return Status(204, None)


@router.post("/{order_id}/restore", response=Answers, operation_id="restoreOrder")
def restore_order(request: HttpRequest, order_id: UUID) -> OrderOut:
    """A deleted order again."""
    return _opened(keeping.restore(order_id))


@router.post("/{order_id}/stop", response={200: RowsOut, **Problems}, operation_id="stopOrder")
def stop_order(request: HttpRequest, order_id: UUID, wanted: StopIn) -> RowsOut:
    """Rows are not worked out any further, or again."""
    order = keeping.stop(order_id, wanted.stopped)
    dispatch.watch(order_id)
    return _rows(order, order.change)


# --- rows -----------------------------------------------------------------------------------------------


@router.get("/{order_id}/rows", response={200: RowsOut, **Problems}, operation_id="listRows")
def list_rows(request: HttpRequest, order_id: UUID, since: int = -1) -> RowsOut:
    """The rows that have changed since a change. Whoever asks is looking: they are worked out."""
    dispatch.watch(order_id)
    return _rows(keeping.find(order_id), since)


def _rows(order: Order, since: int) -> RowsOut:
    # First of all: what is told of rows is never older than what is told of the work on them.
    busy = dispatch.is_busy(order)
    order.refresh_from_db()
    rows = order.rows.filter(change__gt=since).defer("began", "free_key", "free_letters_mm")
    if since < 0:
        rows = rows.filter(removed=False)
    cut: Counter[int] = Counter()
    for (number, _), copies in copies_cut(order, {row.number: row for row in rows}).items():
        # Of a row in two films a copy is cut where both are.
        cut[number] = min(cut.get(number, copies), copies)
    return RowsOut(
        change=order.change, edit=order.edit, counts=counts_of(order), working=busy,
        stopped=order.stopped, workers=workers_there(), rows=[_row(row, cut[row.number]) for row in rows],
    )  # fmt: skip


def _row(row: OrderRow, cut: int) -> RowOut:
    return RowOut(
        number=row.number, values=row.values, notes=row.notes, state=cast(State, row.state),
        reasons=row.reasons,
        width_mm=row.width_mm, height_mm=row.height_mm, pieces=row.pieces, films=row.films,
        picture=_picture(row), by_hand=row.by_hand_id is not None, cut=cut,
        looked=bool(row.looked_key) and not row.look_again, look_again=row.look_again, removed=row.removed,
        change=row.change,
    )  # fmt: skip


def _after(order: Order, since: int) -> RowsOut:
    dispatch.watch(order.pk)
    return _rows(order, since)


@router.post("/{order_id}/rows", response={200: RowsOut, **Problems}, operation_id="addRows")
def add_rows(request: HttpRequest, order_id: UUID, said: RowsIn) -> RowsOut:
    """More rows, below all others."""
    order = keeping.add_rows(order_id, said.rows)
    return _after(order, order.change - 1)


@router.put("/{order_id}/rows/{int:number}", response={200: RowsOut, **Problems}, operation_id="changeRow")
def change_row(request: HttpRequest, order_id: UUID, number: int, said: RowIn) -> RowsOut:
    """What a row says; refused with 409 when it has been changed since ``based_on``."""
    order = keeping.change_row(order_id, number, said.values, said.based_on)
    return _after(order, order.change - 1)


@router.post("/{order_id}/rows/remove", response={200: RowsOut, **Problems}, operation_id="removeRows")
def remove_rows(request: HttpRequest, order_id: UUID, which: NumbersIn) -> RowsOut:
    """Rows out of the order; they can be put back."""
    order = keeping.remove_rows(order_id, which.numbers)
    return _after(order, order.change - 1)


@router.post("/{order_id}/rows/restore", response={200: RowsOut, **Problems}, operation_id="restoreRows")
def restore_rows(request: HttpRequest, order_id: UUID, which: NumbersIn) -> RowsOut:
    """Rows that were taken out, again."""
    order = keeping.remove_rows(order_id, which.numbers, removed=False)
    return _after(order, order.change - 1)


@router.post("/{order_id}/rows/looked", response={200: RowsOut, **Problems}, operation_id="lookedAtRows")
def looked_at_rows(request: HttpRequest, order_id: UUID, which: NumbersIn) -> RowsOut:
    """The maker has looked at rows as they are now."""
    order = keeping.looked_at(order_id, which.numbers)
    return _after(order, order.change - 1)


@router.post(
    "/{order_id}/rows/{int:number}/open", response={200: OpenedRow, **Problems}, operation_id="openRow"
)
def open_row(request: HttpRequest, order_id: UUID, number: int) -> OpenedRow:
    """A row as a design to be worked on."""
    return OpenedRow(design=keeping.open_row(order_id, number).pk)


@router.delete("/{order_id}/rows/{int:number}/by-hand", response={200: RowsOut, **Problems},
               operation_id="letGoOfHand")  # fmt: skip
def let_go_of_hand(request: HttpRequest, order_id: UUID, number: int) -> RowsOut:
    """The row as the design and the list have it."""
    order = keeping.let_go_of_hand(order_id, number)
    return _after(order, order.change - 1)


@router.get(
    "/{order_id}/rows/{int:number}/picture", response={200: None, **Problems}, operation_id="seeRow",
    openapi_extra=files_of("image/svg+xml"),
)  # fmt: skip
def see_row(request: HttpRequest, order_id: UUID, number: int, of: str = "") -> HttpResponse:
    """The picture of a row. Its address changes with it, so it is kept by whoever has seen it."""
    result = RowResult.objects.filter(row__order=order_id, row__number=number).first()
    if result is None:
        raise Problem("not-found", "This row has no picture.", "Reload the order.")
    kept = {"Cache-Control": "private, max-age=86400, immutable"} if of else {}
    return HttpResponse(result.picture, "image/svg+xml", headers=kept)


# --- versions -------------------------------------------------------------------------------------------


@router.get(
    "/{order_id}/versions", response={200: list[VersionOut], **Problems}, operation_id="listOrderVersions"
)
def list_versions(request: HttpRequest, order_id: UUID) -> list[VersionOut]:
    """The order as it was, the newest first."""
    return [
        VersionOut(
            id=version.pk, what=version.what, name=version.name, rows=version.rows, made=version.made,
            words=versions.first_words(version),
        )
        for version in keeping.find(order_id).versions.all()[:200]
    ]  # fmt: skip


@router.put("/{order_id}/versions/{int:version_id}", response={200: list[VersionOut], **Problems},
            operation_id="nameOrderVersion")  # fmt: skip
def name_version(
    request: HttpRequest, order_id: UUID, version_id: int, said: VersionName
) -> list[VersionOut]:
    """A version with a name: it is kept for good."""
    keeping.name_version(order_id, version_id, said.name)
    return list_versions(request, order_id)


@router.post(
    "/{order_id}/versions/{int:version_id}/restore", response=Answers, operation_id="restoreOrderVersion"
)
def restore_version(request: HttpRequest, order_id: UUID, version_id: int) -> OrderOut:
    """The order as it was then; how it is now is a version, too."""
    order = keeping.restore_version(order_id, version_id)
    dispatch.watch(order_id)
    return _opened(order)
