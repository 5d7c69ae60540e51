"""Rows brought to the queue, and what became of them brought back: by one thread of the server, the only one
that writes results.

What a row's result hangs on has a digest, its key; a row whose result is of another key is sent. A result is
kept with the key it was sent for: where that has changed meanwhile, the row is sent once more. So a task that
is done twice, or for nothing, does no harm, and after a restart of whatever part it goes on where it was.
"""

from __future__ import annotations

import base64
import json
import logging
import threading
import time
from collections import deque
from collections.abc import Collection, Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import asdict, dataclass, field, replace
from functools import lru_cache
from typing import Any
from uuid import UUID

import shapely
from django.conf import settings
from django.db import connections, transaction
from django.db.models import Exists, OuterRef, Q
from django_tasks import default_task_backend
from django_tasks.base import TaskResult, TaskResultStatus
from django_tasks.exceptions import TaskResultDoesNotExist
from django_tasks_db.models import DBTaskResult

from computing.pool import workers
from designs import revisions
from designs.faces import OWN_PREFIX, own_names
from designs.models import OwnFace
from fulgen.bounded import digest
from fulgen.geometry.polygons import Region
from fulgen.orders.kept import unpacked
from fulgen.orders.working import ROW_SECONDS
from fulgen.problem import Problem
from fulgen.recipe.versions import read_stored
from fulgen.sheet.motifs import Motif
from orders import keeping
from orders.crew import crew
from orders.models import Order, OrderRow, RowResult
from orders.parcels import parcels
from orders.tasks import RowIn, RowOut, RowsIn, work_rows

log = logging.getLogger("fulgen")

ROWS_OF_A_TASK = 4
MOST_TRIES = 3

_ALONE = 4
_TASKS_A_WORKER = 3
"""So many tasks wait for each worker, so that none is idle and little is done for nothing."""

_SOON_S, _LOOK_S, _IDLE_S = 0.05, 0.25, 2.0
_BEGINNING_S = 2.0
"""What is on its way is looked after often in the beginning, for somebody waits to see the first rows; later
less, for looking takes from what is looked for."""

_LEASE_S = 90.0
"""A task that was begun so much longer ago than its rows may take is lost with its worker."""

_OVERTAKEN_S, _STANDS_S = 3.0, 30.0
"""Tasks are taken in the order in which they were sent, but for so much; and one comes back so often at
least, where there is a worker."""

_WATCHED_S = 30.0
"""An order is looked at for so long after its rows were asked for: what has changed is worked out anew."""

HAIR_MM = 0.1
"""A row that differs by no more than this is as it was. (†)"""

_SAME_SIZE = 0.002


@dataclass(frozen=True)
class _Wanted:
    """A row to be worked out, by the key of its result, with letters of a size where all have one."""

    row: int
    number: int
    key: str
    letters_mm: float | None = None


@dataclass(frozen=True)
class _Sent:
    """A task on its way: the rows that it is of, and since when."""

    order: UUID
    rows: tuple[_Wanted, ...]
    since: float


@dataclass(eq=False)
class _Waiting:
    """Rows of an order that are to be sent, as it looked then: rows that go together in a task; and whether
    all of it is done."""

    looks: tuple[object, ...]
    groups: deque[tuple[_Wanted, ...]]
    is_done: bool


@dataclass(eq=False)
class Dispatch:
    """What is on its way, and how often rows were tried in vain, by their keys."""

    sent: dict[str, _Sent] = field(default_factory=dict)
    tries: dict[str, int] = field(default_factory=dict)
    watched: dict[UUID, float] = field(default_factory=dict)
    _wake: threading.Event = field(default_factory=threading.Event)
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _waiting: dict[UUID, _Waiting] = field(default_factory=dict)
    _newest_done: float = 0.0
    """When the newest of the tasks was sent that have come back; and when the last one came."""
    _last_done: float = 0.0

    def start(self) -> None:
        """Works from now on, in a thread of its own. What lies in the queue was asked for by nobody who is
        here still."""
        if not settings.QUEUE_URL:
            DBTaskResult.objects.all().delete()
        threading.Thread(target=self._run, daemon=True, name="orders").start()

    def watch(self, order: UUID) -> None:
        """An order is looked at: what has changed in it is worked out anew."""
        self.watched[order] = time.monotonic()
        if workers.serves:
            self._wake.set()
        else:
            self.all_at_once()

    def all_at_once(self) -> None:
        """Works out all that is to be worked out: where no server runs; by a crew, where there is one."""
        while crew.runs and self.step():
            time.sleep(_SOON_S)
        with self._lock:
            for order in self._orders():
                while self._groups_of(order):
                    self._send(order, 1)

    def _run(self) -> None:
        began = time.monotonic()
        while True:
            try:
                busy = self.step()
            except Exception as error:
                # Mostly a queue that does not answer: it is asked again until it does.
                log.warning("orders: %s", error)
                busy = False
            finally:
                connections.close_all()
            now = time.monotonic()
            # A change is heard at once; while rows are on their way it waits for the next look.
            if busy:
                time.sleep(_SOON_S if now - began < _BEGINNING_S else _LOOK_S)
                continue
            began = now
            if self._wake.wait(_IDLE_S):
                self._wake.clear()

    def step(self) -> bool:
        """Takes what has come back, and sends more. Returns whether anything is on its way."""
        with self._lock:
            under_way = _under_way(self.sent)
            for task_id, sent in list(self.sent.items()):
                if task_id not in under_way or self._is_late(sent):
                    self._look_after(task_id)
            most = _TASKS_A_WORKER * max(1, crew.size)
            for order in self._orders():
                if len(self.sent) >= most:
                    break
                self._send(order, most - len(self.sent))
            crew.keep(busy=bool(self.sent))
            return bool(self.sent)

    # --- what is wanted ---------------------------------------------------------------------------------

    def _orders(self) -> Iterable[Order]:
        """Those that are looked at, and those with rows that never were worked out."""
        now = time.monotonic()
        watched = [order for order, since in self.watched.items() if now - since < _WATCHED_S]
        new = OrderRow.objects.filter(order=OuterRef("pk"), removed=False, made_key="")
        open_ones = Order.objects.filter(deleted=None, stopped=False).select_related("design")
        return open_ones.filter(Q(pk__in=watched) | Exists(new))

    def _groups_of(self, order: Order) -> deque[tuple[_Wanted, ...]]:
        """What of an order is to be sent: looked up when it has changed, and once more when all has come
        back."""
        looks = _looks(order)
        waiting = self._waiting.get(order.pk)
        is_out = any(sent.order == order.pk for sent in self.sent.values())
        is_over = waiting is not None and not (waiting.is_done or waiting.groups or is_out)
        if waiting is None or waiting.looks != looks or is_over:
            on_their_way = {one.key for sent in self.sent.values() for one in sent.rows}
            wanted = _wanted(order)
            groups = deque(_groups([one for one in wanted if one.key not in on_their_way], self.tries))
            waiting = self._waiting[order.pk] = _Waiting(looks, groups, not wanted)
        return waiting.groups

    def is_busy(self, order: Order) -> bool:
        """Whether rows of an order are to be worked out still."""
        if order.stopped or not crew.runs:
            return is_busy(order)
        waiting = self._waiting.get(order.pk)
        return waiting is None or not waiting.is_done or waiting.looks != _looks(order)

    def _send(self, order: Order, most: int) -> None:
        groups = self._groups_of(order)
        if not groups:
            return
        design = revisions.newest(order.design)
        parcel = parcels().lay_down(design.encode())
        while groups and most > 0:
            group = groups.popleft()
            try:
                asked = _asked(order, design, parcel, group)
            except Problem as problem:
                keep_failures(order.pk, group, f"{problem.what} {problem.todo}".strip())
                continue
            self._enqueue(order.pk, group, asked)
            most -= 1

    def _enqueue(self, order: UUID, rows: tuple[_Wanted, ...], asked: RowsIn) -> None:
        if not crew.runs:
            keep_results(order, {one.number: one for one in rows}, work_rows.call(asked))
            return
        result = work_rows.enqueue(asked)
        self.sent[str(result.id)] = _Sent(order, rows, time.monotonic())

    # --- what comes back --------------------------------------------------------------------------------

    def _look_after(self, task_id: str) -> None:
        try:
            result = default_task_backend.get_result(task_id)
        except TaskResultDoesNotExist:
            # The queue was emptied: no fault of its rows.
            self._sent_again(self.sent.pop(task_id).order)
            return
        if result.is_finished:
            self._take(task_id, result)
        elif result.status == TaskResultStatus.RUNNING:
            if self._is_lost(task_id, result):
                self._lost(task_id)
        elif self._is_forgotten(self.sent[task_id]):
            # A worker died with it before it had begun: no fault of its rows.
            _withdraw(task_id)
            self._sent_again(self.sent.pop(task_id).order)

    def _is_lost(self, task_id: str, result: TaskResult[Any]) -> bool:
        if result.worker_ids and result.worker_ids[-1] in crew.dead:
            return True
        return self._is_overdue(self.sent[task_id])

    def _is_late(self, sent: _Sent) -> bool:
        """Whether a task is to be looked after, whether it waits or was begun."""
        return self._is_forgotten(sent) or self._is_overdue(sent)

    def _is_overdue(self, sent: _Sent) -> bool:
        return time.monotonic() - sent.since > _LEASE_S + ROW_SECONDS * len(sent.rows)

    def _is_forgotten(self, sent: _Sent) -> bool:
        """Whether a task that waits was overtaken by tasks that were sent after it, or all has come to a
        stop though there are workers."""
        now = time.monotonic()
        overtaken = sent.since < self._newest_done - _OVERTAKEN_S
        stands = now - max(sent.since, self._last_done) > _STANDS_S
        return overtaken or (stands and workers_there() > 0)

    def _take(self, task_id: str, result: TaskResult[Any]) -> None:
        sent = self.sent[task_id]
        self._newest_done = max(self._newest_done, sent.since)
        self._last_done = time.monotonic()
        if result.status != TaskResultStatus.SUCCESSFUL:
            log.warning("rows %s failed: %s", [one.number for one in sent.rows], _why(result))
            self._lost(task_id)
            return
        del self.sent[task_id]
        if not settings.QUEUE_URL:
            DBTaskResult.objects.filter(pk=task_id).delete()
        keep_results(sent.order, {one.number: one for one in sent.rows}, result.return_value or [])

    def _lost(self, task_id: str) -> None:
        """A task that failed or never came back: its rows are tried again, each by itself, and given up after
        three times."""
        sent = self.sent.pop(task_id)
        for one in sent.rows:
            self.tries[one.key] = self.tries.get(one.key, 0) + 1
            if self.tries[one.key] >= MOST_TRIES:
                keep_failures(sent.order, [one], GIVEN_UP)
        self._sent_again(sent.order)

    def _sent_again(self, order: UUID) -> None:
        """What of an order has no result and is not on its way is looked up anew."""
        self._waiting.pop(order, None)


GIVEN_UP = "It could not be worked out, though it was tried three times. Change its words, or ask for less."

dispatch = Dispatch()
"""That of this server."""


def _under_way(task_ids: Collection[str]) -> set[str]:
    """Those of some tasks that wait in the queue of this folder, or are in the hands of a worker that lives,
    by one question about all of them: each that is asked for by itself costs more than this. None, where the
    queue is a Redis."""
    if settings.QUEUE_URL or not task_ids:
        return set()
    unfinished = (TaskResultStatus.READY, TaskResultStatus.RUNNING)
    tasks = DBTaskResult.objects.filter(pk__in=list(task_ids), status__in=unfinished)
    held = tasks.values_list("pk", "worker_ids")
    return {str(pk) for pk, hands in held if not hands or hands[-1] not in crew.dead}


def _withdraw(task_id: str) -> None:
    """Takes a task that waits from the queue."""
    if not settings.QUEUE_URL:
        DBTaskResult.objects.filter(pk=task_id, status=TaskResultStatus.READY).delete()
        return
    import django_rq
    from django_tasks_rq import Job
    from rq.exceptions import NoSuchJobError

    with suppress(NoSuchJobError):
        Job.fetch(task_id, connection=django_rq.get_connection()).delete()


def _why(result: TaskResult[Any]) -> str:
    return result.errors[-1].traceback.strip().splitlines()[-1] if result.errors else "no reason"


def _looks(order: Order) -> tuple[object, ...]:
    """What of an order changes where its rows are to be worked out anew."""
    hands = order.rows.filter(removed=False).exclude(by_hand=None).values_list("by_hand__head", flat=True)
    return order.said, order.edit, order.design.head, tuple(hands)


def _wanted(order: Order) -> list[_Wanted]:
    """The rows whose results are not what is asked for, in their order; those that were never worked out
    first."""
    rows = list(order.rows.filter(removed=False).select_related("by_hand").defer("began", "reasons"))
    plan = keeping.plan_of(order)
    give_way = json.dumps(asdict(plan.give_way), sort_keys=True)
    about = f"{order.design_id} {order.design.head} {give_way}"

    def key_of(row: OrderRow, *more: str) -> str:
        hand = f"{row.by_hand.pk} {row.by_hand.head}" if row.by_hand else ""
        return digest(about, json.dumps(row.values, sort_keys=True), hand, *more)

    free = {row.pk: key_of(row) for row in rows}
    found = [_Wanted(row.pk, row.number, free[row.pk]) for row in rows if row.free_key != free[row.pk]]
    if not found and plan.same_size:
        size = min((row.free_letters_mm for row in rows if row.free_letters_mm > 0), default=0.0)
        for row in rows:
            other = row.free_letters_mm > size * (1 + _SAME_SIZE) > 0
            key = key_of(row, f"{size:.4f}") if other else free[row.pk]
            if row.made_key != key:
                found.append(_Wanted(row.pk, row.number, key, size if other else None))
    elif not found:
        found = [_Wanted(row.pk, row.number, free[row.pk]) for row in rows if row.made_key != free[row.pk]]
    made = {row.pk: bool(row.made_key) for row in rows}
    return sorted(found, key=lambda one: (made[one.row], one.number))


def _groups(wanted: Sequence[_Wanted], tries: Mapping[str, int]) -> Iterable[tuple[_Wanted, ...]]:
    """Rows that go together in a task. By themselves go the first ones, so that something is seen soon; the
    last ones, so that no worker has nothing to do while another has many; and those that were tried in vain,
    so that they take no other along."""
    last = len(wanted) - _ALONE * max(1, crew.size)
    group: list[_Wanted] = []
    for n, one in enumerate(wanted):
        alone = n < _ALONE or n >= last or one.key in tries
        if group and (alone or len(group) >= ROWS_OF_A_TASK or group[0].letters_mm != one.letters_mm):
            yield tuple(group)
            group = []
        if alone:
            yield (one,)
        else:
            group.append(one)
    if group:
        yield tuple(group)


def _asked(order: Order, design: str, parcel: str, group: Sequence[_Wanted]) -> RowsIn:
    """A task for some rows of a design, which lies in a parcel. Raises Problem "no-face" where a face of the
    shop's own is not here any more."""
    rows = {row.number: row for row in order.rows.filter(pk__in=[one.row for one in group])}
    plan = keeping.plan_of(order)
    give_way = replace(plan.give_way, letters_mm=group[0].letters_mm)
    told: list[RowIn] = []
    families, said = list(_families(design)), list(give_way.faces)
    for one in group:
        row = rows[one.number]
        hands = None
        if row.by_hand is not None and row.began is not None:
            texts = (revisions.unpacked(row.began), revisions.newest(row.by_hand))
            hands = [parcels().lay_down(text.encode()) for text in texts]
            families += _families(texts[1])
        said += [value for key, value in row.values.items() if key == "face:"]
        told.append({"number": row.number, "values": row.values, "by_hand": hands})
    meant = {one.strip().lower() for one in said}
    named = [slug for slug, name in own_names().items() if meant & {slug, name.lower()}]
    own = {family for family in families if family.startswith(OWN_PREFIX)}
    return {"design": parcel, "give_way": asdict(give_way), "faces": _faces(own.union(named)), "rows": told}


@lru_cache(maxsize=16)
def _families(stored: str) -> tuple[str, ...]:
    """The families of a design as it is stored. Every task of an order asks for them."""
    return tuple(read_stored(stored).families)


def _faces(own: Iterable[str]) -> dict[str, list[str]]:
    found = {}
    for face in OwnFace.objects.filter(slug__in=list(own)).order_by("-listed", "pk"):
        found[face.slug] = [parcels().lay_down(bytes(face.data)), face.name, face.file_name]
    return found


# --- keeping results --------------------------------------------------------------------------------------


def keep_results(order_id: UUID, wanted: dict[int, _Wanted], results: Sequence[RowOut]) -> None:
    """Keeps what rows came to."""
    with transaction.atomic():
        order = Order.objects.filter(pk=order_id).first()
        if order is None:
            return
        order.change += 1
        for result in results:
            one = wanted[result["number"]]
            row = OrderRow.objects.filter(pk=one.row).first()
            if row is None:
                continue
            data = base64.b64decode(result["packed"])
            row.state, row.reasons, row.films = result["state"], result["reasons"], result["films"]
            row.width_mm, row.height_mm, row.pieces = (
                result["width_mm"],
                result["height_mm"],
                result["pieces"],
            )
            row.made_key, row.change = one.key, order.change
            if one.letters_mm is None:
                row.free_key, row.free_letters_mm = one.key, result["letters_mm"]
            kept = RowResult.objects.filter(row=row).first() or RowResult(row=row)
            _look_again(row, kept, data)
            kept.packed, kept.picture = data, result["picture"]
            kept.recipe = revisions.packed(result["recipe"]) if result["recipe"] else None
            row.save()
            kept.save()
        order.save(update_fields=["change"])


def _look_again(row: OrderRow, kept: RowResult, data: bytes) -> None:
    """A row that was looked at is to be looked at again where it has changed by more than a hair."""
    if row.looked_key and kept.looked is not None and row.looked_key != row.made_key:
        said = keeping.row_as_said(row)
        old, new = (_regions(unpacked(packed, said).motifs) for packed in (bytes(kept.looked), data))
        row.look_again = differs(old, new)
        if not row.look_again:
            row.looked_key = row.made_key


def _regions(motifs: Iterable[Motif]) -> list[Region]:
    return [motif.whole.region for motif in motifs]


def differs(old: Sequence[Region], new: Sequence[Region]) -> bool:
    """Whether shapes differ by more than a hair anywhere (Hausdorff's distance, at their points)."""
    if len(old) != len(new):
        return True
    return any(
        bool(shapely.is_empty(one)) != bool(shapely.is_empty(other))
        or shapely.hausdorff_distance(one, other) > HAIR_MM
        for one, other in zip(old, new, strict=True)
    )


def keep_failures(order_id: UUID, rows: Sequence[_Wanted], why: str) -> None:
    """Rows that nobody could work out say so."""
    with transaction.atomic():
        order = Order.objects.filter(pk=order_id).first()
        if order is None:
            return
        order.change += 1
        for one in rows:
            OrderRow.objects.filter(pk=one.row).update(
                state="cannot-be-made", reasons=[why], made_key=one.key, free_key=one.key,
                free_letters_mm=0.0, pieces=0, films=[], change=order.change,
            )  # fmt: skip
        RowResult.objects.filter(row__in=[one.row for one in rows]).delete()
        order.save(update_fields=["change"])


def is_busy(order: Order) -> bool:
    """Whether rows of an order are to be worked out still, as its rows say."""
    return bool(_wanted(order))


def workers_there() -> int:
    """How many workers there are for the queue; of other machines, too. None, where it does not answer."""
    if not settings.QUEUE_URL:
        return crew.size
    import django_rq
    from redis.exceptions import RedisError
    from rq import Worker

    try:
        return max(crew.size, Worker.count(connection=django_rq.get_connection()))
    except RedisError:
        return 0
