"""Versions of an order: what it asked for and what its rows said, before each change that is not of the same
minute.

Old ones are let go by the rule of designs (``designs.revisions``); those with a name stay."""

from __future__ import annotations

import json
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone

from designs.revisions import kept_by_age, packed, unpacked
from orders.models import Order, OrderVersion

_SAME = timedelta(minutes=1)


def keep(order: Order, what: str) -> None:
    """Keeps an order as it is, before it is changed in the way that ``what`` says."""
    now = timezone.now()
    last = order.versions.first()
    if last is not None and last.what == what and now - last.made < _SAME:
        return
    rows = list(order.rows.filter(removed=False).values_list("number", "values"))
    kept = {
        "name": order.name, "customer": order.customer, "due": order.due and order.due.isoformat(),
        "stage": order.stage, "plan": order.plan, "rows": rows,
    }  # fmt: skip
    order.versions.create(packed=packed(json.dumps(kept)), what=what, rows=len(rows), made=now)
    _let_go(order, now)


def read(version: OrderVersion) -> dict[str, Any]:
    """What an order was at a version."""
    return dict(json.loads(unpacked(version.packed)))


def _let_go(order: Order, now: datetime) -> None:
    unnamed = order.versions.filter(name="")
    kept = kept_by_age(unnamed.order_by("made", "pk").values_list("pk", "made"), now)
    unnamed.exclude(pk__in=kept).delete()


def first_words(version: OrderVersion) -> list[str]:
    """The words of its first rows."""
    rows = read(version)["rows"][:4]
    said = (
        " ".join(value for key, value in values.items() if key.startswith("words:")) for _, values in rows
    )
    return [words.replace("\n", " ") for words in said]
