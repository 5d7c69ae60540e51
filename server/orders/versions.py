"""Versions of an order: what it asked for and what its rows said, before each change that is not of the same
minute.

What is let go: of the last day all stay, of the last quarter of a year the last of each day; those with a
name stay."""

from __future__ import annotations

import json
import zlib
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone

from designs.revisions import packed
from orders.models import Order, OrderVersion

_SAME = timedelta(minutes=1)
_DAY, _QUARTER = timedelta(days=1), timedelta(days=92)


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
    return dict(json.loads(zlib.decompress(version.packed)))


def _let_go(order: Order, now: datetime) -> None:
    last_of_day: dict[datetime, int] = {}
    kept = set()
    for pk, name, made in order.versions.order_by("made").values_list("pk", "name", "made"):
        if name or now - made < _DAY:
            kept.add(pk)
        elif now - made < _QUARTER:
            last_of_day[made.replace(hour=0, minute=0, second=0, microsecond=0)] = pk
    order.versions.exclude(pk__in=kept | set(last_of_day.values())).delete()


def first_words(version: OrderVersion) -> list[str]:
    """The words of its first rows."""
    rows = read(version)["rows"][:4]
    said = (
        " ".join(value for key, value in values.items() if key.startswith("words:")) for _, values in rows
    )
    return [words.replace("\n", " ") for words in said]
