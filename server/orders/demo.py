"""The order of the demo shop: made, looked at, and half cut."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from designs.models import CutStroke, Design, JobState
from fulgen.orders.fields import fields_of
from orders import keeping
from orders.dispatch import dispatch
from orders.models import Order
from orders.sheets import OrderWork


def load_order(said: dict[str, Any]) -> None:
    """Makes an order of the demo shop; nothing where its design is not on the shelf any more. Its first sheet
    is cut."""
    design = Design.objects.filter(demo=said["design"], deleted=None).first()
    if design is None:
        return
    order = keeping.make(design.pk)
    order.name, order.customer, order.due = said["name"], said["customer"], said["due"]
    order.demo = said["demo"]
    order.save()
    keys = {field.heading if field.kind != "words" else "Name": field.key
            for field in fields_of(keeping.design_of(order))}  # fmt: skip
    rows = [{keys[column]: value for column, value in row.items()} for row in said["row"]]
    keeping.add_rows(order.pk, rows)
    dispatch.watch(order.pk)
    _cut_first(Order.objects.get(pk=order.pk))


def _cut_first(order: Order) -> None:
    work = OrderWork(order)
    job = work.job(0, work.sheets[0].cut_key(work.machine), uuid4())
    job.state, job.film_piece, job.done = JobState.DONE, 1, len(job.lengths)
    job.outcome = {"promised": len(job.pieces_free), "came_off": len(job.pieces_free), "as_promised": True,
                   "foreign": 0, "tears": [], "wrong": []}  # fmt: skip
    job.save()
    CutStroke.objects.bulk_create(
        CutStroke(job=job, film_piece=1, number=stroke.number, text=stroke.text)
        for stroke in job.strokes.all()
    )
