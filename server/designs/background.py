"""What is done after the answer is given: cards of designs drawn, faces rated, what came off a sheet worked
out.

In the server each task has a thread that has a worker do one thing after the other. Elsewhere (commands,
tests) it is done at once. Whatever goes wrong with it, what was saved is saved; what is missing is asked for
again when the shelf or the list of faces is next looked at.
"""

import logging
import queue
import threading
from collections.abc import Callable
from typing import Literal

from django.db import connections

from computing.pool import JOB_S, PROOF_S, RATING_S, Job, workers
from designs import cut_verification, faces, shelf
from fulgen.problem import Problem

log = logging.getLogger("fulgen")

LaterTask = Literal["card", "rate", "proof"]

_DO: dict[LaterTask, Callable[[str], object]] = {
    "card": shelf.draw_card,
    "rate": faces.rate_own,
    "proof": cut_verification.prove,
}
_GIVE_UP: dict[LaterTask, Callable[[str], None]] = {
    "card": shelf.card_failed,
    "rate": faces.rating_failed,
    "proof": cut_verification.proof_failed,
}
_SECONDS: dict[LaterTask, float] = {"card": JOB_S, "rate": RATING_S, "proof": PROOF_S}


def run_later(task: LaterTask, about: str) -> None:
    """Has a task done soon; one that is waited for already is done once."""
    if workers.serves:
        _queues[task].add(about)
    else:
        _DO[task](about)


class _Queue:
    def __init__(self, task: LaterTask) -> None:
        self._task = task
        self._asked: queue.SimpleQueue[str] = queue.SimpleQueue()
        self._waiting: set[str] = set()
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None

    def add(self, about: str) -> None:
        with self._lock:
            if about in self._waiting:
                return
            self._waiting.add(about)
            if self._thread is None:
                self._thread = threading.Thread(target=self._work, daemon=True)
                self._thread.start()
        self._asked.put(about)

    def _work(self) -> None:
        while True:
            about = self._asked.get()
            with self._lock:
                self._waiting.discard(about)
            try:
                self._do(about)
            except Exception:
                log.exception("%s of %s failed", self._task, about)
            finally:
                connections.close_all()

    def _do(self, about: str) -> None:
        job = Job(self._task, about, _SECONDS[self._task])
        try:
            answer = workers.answer(job, about if self._task == "card" else self._task)
            failed = "" if answer.status < 400 else "too-much"
        except Problem as problem:
            failed = problem.kind
        if failed == "too-much":
            _GIVE_UP[self._task](about)


_queues: dict[LaterTask, _Queue] = {task: _Queue(task) for task in _DO}
