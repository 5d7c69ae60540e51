"""Keeping orders: what the API does to them. Nothing here computes geometry: rows are worked out by the queue
(``dispatch``), sheets by the workers that answer (``sheets``)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict
from datetime import date
from uuid import UUID

from django.db import transaction
from django.db.models import F
from django.utils import timezone
from pydantic import TypeAdapter

from designs import revisions, shelf
from designs.faces import own_names
from designs.models import Design
from designs.revisions import packed as compressed
from designs.revisions import unpacked
from designs.typed import one_line
from fulgen.orders.fields import Field, fields_of
from fulgen.orders.lists import MOST_LETTERS, MOST_ROWS
from fulgen.orders.plan import GiveWay, OrderPlan
from fulgen.orders.rows import Row, noted, recipe_of
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored, to_store
from orders import versions
from orders.models import Order, OrderRow, OrderVersion, RowResult, Stage
from orders.tasks import field_of

MOST_ORDERS = 1_000
MOST_IN_A_NAME, MOST_IN_A_VERSION_NAME = 120, 80
"""Letters of an order's name and its customer's, and of a version's name."""

_PLAN = TypeAdapter(OrderPlan)


def plan_of(order: Order) -> OrderPlan:
    """What an order asks for, once for all rows."""
    return _PLAN.validate_python(order.plan)


def design_of(order: Order) -> Recipe:
    """The recipe of an order's design as it is now."""
    return read_stored(revisions.newest(order.design))


def find(order_id: UUID, *, deleted: bool = False) -> Order:
    """An order. Raises Problem "not-found"."""
    order = Order.objects.filter(pk=order_id, deleted__isnull=not deleted).select_related("design").first()
    if order is None:
        raise Problem("not-found", "This order is not kept any more.", "Go to the orders and choose another.")
    return order


def make(design_id: UUID) -> Order:
    """A new order of a design of the shelf. Raises Problem "not-found", "too-many-orders", "no-fields"."""
    design = shelf.find(design_id)
    recipe = read_stored(revisions.newest(design))
    if not any(field.kind == "words" for field in fields_of(recipe)):
        raise Problem(
            "no-fields", "There is no lettering in this design that a list could change.",
            "Add lettering to it first.",
        )  # fmt: skip
    if Order.objects.filter(deleted=None).count() >= MOST_ORDERS:
        what = f"There are {MOST_ORDERS:,} orders."
        raise Problem("too-many-orders", what, "Delete some that are done.")
    name = f"{design.name or recipe.display_name}, order"[:MOST_IN_A_NAME]
    return Order.objects.create(name=name, design=design, plan=asdict(_BEGINS), changed=timezone.now())


_BEGINS = OrderPlan(GiveWay(narrower=0.12, ready=True))
"""What a new order asks for: a name that is a little long is made narrower, and thin places are mended; what
gave way is to be looked at. (†)"""


def save(
    order_id: UUID, name: str, customer: str, due: date | None, stage: Stage, plan: OrderPlan, based_on: int
) -> Order:
    """The order with what is asked for changed. Raises Problem "changed-elsewhere" where another window has
    changed it since ``based_on``; nothing is written then."""
    with transaction.atomic():
        order = find(order_id)
        if order.edit != based_on:
            raise Problem(
                "changed-elsewhere", "This order was changed in another window.",
                "Look at it as it is now, then change it again. Nothing is lost.",
            )  # fmt: skip
        versions.keep(order, "What the order asks for")
        order.name = one_line(name, MOST_IN_A_NAME) or order.name
        order.customer, order.due, order.stage = one_line(customer, MOST_IN_A_NAME), due, stage
        order.plan = asdict(plan)
        order.edit += 1
        _touch(order)
    return order


def _touch(order: Order) -> None:
    order.changed = timezone.now()
    order.save()


def delete(order_id: UUID) -> None:
    """Takes an order away; it is kept, and can be put back."""
    order = find(order_id)
    order.deleted = timezone.now()
    order.save(update_fields=["deleted"])


def restore(order_id: UUID) -> Order:
    """A deleted order again."""
    order = find(order_id, deleted=True)
    order.deleted = None
    order.save(update_fields=["deleted"])
    return order


def stop(order_id: UUID, stopped: bool) -> Order:
    """Rows are not worked out any further, or again."""
    order = find(order_id)
    order.stopped = stopped
    order.save(update_fields=["stopped"])
    return order


# --- rows -----------------------------------------------------------------------------------------------


def row_as_said(row: OrderRow) -> Row:
    """A row as the core has it: what the list says."""
    return Row(row.number, {field_of(key): value for key, value in row.values.items()}, tuple(row.notes))


def add_rows(order_id: UUID, said: Sequence[Mapping[str, str]]) -> Order:
    """More rows, below all others. Raises Problem "too-many-rows", "bad-row"."""
    with transaction.atomic():
        order = find(order_id)
        known = {field.key: field for field in fields_of(design_of(order))}
        if order.rows.filter(removed=False).count() + len(said) > MOST_ROWS:
            raise Problem(
                "too-many-rows",
                f"An order holds up to {MOST_ROWS:,} rows.",
                "Make a second order of the rest.",
            )
        versions.keep(order, "Rows added")
        order.change += 1
        rows = [
            OrderRow(
                order=order, number=order.next_number + n, values=checked(values, known), change=order.change
            )
            for n, values in enumerate(said)
        ]
        OrderRow.objects.bulk_create(rows, batch_size=200)
        order.next_number += len(rows)
        _rows_changed(order)
    return order


def checked(values: Mapping[str, str], known: Mapping[str, Field]) -> dict[str, str]:
    """What a row says, where that can be. An empty cell says nothing, but for words."""
    found = {}
    for key, value in values.items():
        if key not in known:
            raise Problem(
                "bad-row", "The design has no such lettering any more.", "Reload the order.", "rows"
            )
        if len(value) > MOST_LETTERS:
            what = f"A cell holds up to {MOST_LETTERS} letters."
            raise Problem("bad-row", what, "Type less.", known[key].heading)
        if value.strip() or known[key].kind == "words":
            found[key] = value.strip()
    return found


def change_row(order_id: UUID, number: int, values: Mapping[str, str], based_on: int) -> Order:
    """What one row says, changed. Raises Problem "changed-elsewhere", "not-found", "bad-row"."""
    with transaction.atomic():
        order = find(order_id)
        row = find_row(order, number)
        if row.change > based_on and row.values != values:
            raise Problem(
                "changed-elsewhere", f"Row {number} was changed in another window.",
                "Look at it as it is now, then change it again.",
            )  # fmt: skip
        known = {field.key: field for field in fields_of(design_of(order))}
        said = checked(values, known)
        if said != row.values:
            versions.keep(order, f"Row {number}")
            order.change += 1
            row.values, row.change = said, order.change
            row.save(update_fields=["values", "change"])
            _rows_changed(order)
    return order


def find_row(order: Order, number: int) -> OrderRow:
    """A row of an order. Raises Problem "not-found"."""
    row = order.rows.filter(number=number, removed=False).first()
    if row is None:
        raise Problem("not-found", f"There is no row {number} in this order.", "Reload the order.")
    return row


def remove_rows(order_id: UUID, numbers: Iterable[int], removed: bool = True) -> Order:
    """Takes rows out of an order, or puts them back."""
    with transaction.atomic():
        order = find(order_id)
        versions.keep(order, "Rows taken out" if removed else "Rows put back")
        order.change += 1
        order.rows.filter(number__in=list(numbers)).update(removed=removed, change=order.change)
        _rows_changed(order)
    return order


def _rows_changed(order: Order) -> None:
    """What rows say has changed: notes beside them are made anew, and the order is saved."""
    order.said += 1
    _note(order)
    _touch(order)


def _note(order: Order) -> None:
    """Notes beside each row what is to be known of it among the others."""
    rows = list(order.rows.filter(removed=False))
    changed = []
    for row, now in zip(rows, noted([row_as_said(row) for row in rows]), strict=True):
        if list(now.notes) != row.notes:
            row.notes, row.change = list(now.notes), order.change
            changed.append(row)
    OrderRow.objects.bulk_update(changed, ["notes", "change"], batch_size=200)


def looked_at(order_id: UUID, numbers: Iterable[int]) -> Order:
    """The maker has looked at rows as they are now."""
    with transaction.atomic():
        order = find(order_id)
        order.change += 1
        rows = list(order.rows.filter(number__in=list(numbers)))
        RowResult.objects.filter(row__in=rows).update(looked=F("packed"))
        for row in rows:
            row.looked_key, row.look_again, row.change = row.made_key, False, order.change
        OrderRow.objects.bulk_update(rows, ["looked_key", "look_again", "change"], batch_size=200)
        order.save(update_fields=["change"])
    return order


# --- rows changed by hand -------------------------------------------------------------------------------


def open_row(order_id: UUID, number: int) -> Design:
    """A row as a design to be worked on; what is changed there is kept for the row. Raises Problem where its
    words cannot be put into the design."""
    with transaction.atomic():
        order = find(order_id)
        row = find_row(order, number)
        if row.by_hand is not None:
            return row.by_hand
        said = row_as_said(row)
        recipe = recipe_of(design_of(order), said, own_names())
        result = RowResult.objects.filter(row=row, row__made_key=row.made_key).first()
        # It begins as it was made: what gave way is to be seen.
        made = read_stored(unpacked(result.recipe)) if result and result.recipe else recipe
        row.by_hand = shelf.make(said.words or f"Row {number}", made, order=order.pk)
        row.began = compressed(to_store(recipe))
        order.change += 1
        row.change = order.change
        row.save(update_fields=["by_hand", "began", "change"])
        order.said += 1
        order.save(update_fields=["change", "said"])
        return row.by_hand


def let_go_of_hand(order_id: UUID, number: int) -> Order:
    """The row as the design and the list have it, without what a hand has changed."""
    with transaction.atomic():
        order = find(order_id)
        row = find_row(order, number)
        versions.keep(order, f"Changes by hand of row {number} let go")
        design, row.by_hand, row.began = row.by_hand, None, None
        order.change += 1
        row.change = order.change
        row.save(update_fields=["by_hand", "began", "change"])
        order.said += 1
        _touch(order)
        if design is not None:
            shelf.delete(design.pk)
    return order


# --- versions -------------------------------------------------------------------------------------------


def _version(order: Order, version_id: int) -> OrderVersion:
    version = order.versions.filter(pk=version_id).first()
    if version is None:
        raise Problem("not-found", "This version is not kept any more.", "Choose another.")
    return version


def name_version(order_id: UUID, version_id: int, name: str) -> None:
    """Gives a version a name: it is kept for good. "" takes it away."""
    version = _version(find(order_id), version_id)
    version.name = one_line(name, MOST_IN_A_VERSION_NAME)
    version.save(update_fields=["name"])


def restore_version(order_id: UUID, version_id: int) -> Order:
    """The order as it was at a version: rows that were taken out are back, those that were added since are
    taken out. What a hand has changed in a row stays with it. Raises Problem "not-found"."""
    with transaction.atomic():
        order = find(order_id)
        kept = versions.read(_version(order, version_id))
        versions.keep(order, "An earlier version brought back")
        order.name, order.customer, order.stage = kept["name"], kept["customer"], kept["stage"]
        order.due = date.fromisoformat(kept["due"]) if kept["due"] else None
        order.plan = kept["plan"]
        order.edit += 1
        order.change += 1
        said: dict[int, dict[str, str]] = dict(kept["rows"])
        rows = list(order.rows.all())
        for row in rows:
            removed, values = row.number not in said, said.get(row.number, row.values)
            if (row.removed, row.values) != (removed, values):
                row.removed, row.values, row.change = removed, values, order.change
        OrderRow.objects.bulk_update(rows, ["removed", "values", "change"], batch_size=200)
        _rows_changed(order)
    return order
