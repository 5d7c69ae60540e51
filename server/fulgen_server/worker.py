"""A worker: a process in which geometry is computed, apart from the shelf and from other designs.

It answers *jobs*, each on a line of its own (a pipe), a thread to a line, so that the questions of one design
share what is known of it. A job has a budget of processor time and ends early when whoever waits says so
(``fulgen.budget``). What no budget inside Python can end, a single call into a library, the system ends: the
process may take so much processor time for a job, and hold so much memory.

Imported by the process that workers are forked from, so that faces are read once for all.
"""

import gc
import logging
import math
import os
import pickle
import resource
import threading
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from io import BytesIO
from multiprocessing.connection import Connection
from typing import Any

import django
from django.core.handlers.wsgi import WSGIRequest
from django.db import connections
from django.http import HttpResponse
from django.urls import resolve

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
django.setup()

from computing.pool import MOST_BYTES, STOP, Answer, Asked, Job  # noqa: E402
from designs import cut_verification, faces, shelf  # noqa: E402
from designs.problems import problem_response, unforeseen  # noqa: E402
from fulgen.budget import Cancelled, Priority, within  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen_server import urls  # noqa: E402, F401

log = logging.getLogger("fulgen")

Task = Callable[[Any], Answer]
Tasks = Mapping[str, Task]

_GRACE_S = 2
"""Seconds of processor time beyond a job's budget after which the system ends the process."""

# What was read by now stays for good, so the collector need not look through it while a maker waits.
gc.collect()
gc.freeze()


def work(lines: Sequence[Connection], tasks: Tasks | None = None) -> None:
    """Answers jobs on the lines, by ``tasks`` or the server's own, until they are closed."""
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_BYTES, MOST_BYTES))
    bounds = _ProcessorTime()
    given = (bounds, tasks or _TASKS)
    threads = [threading.Thread(target=_answer_all, args=(line, *given)) for line in lines]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def _answer_all(line: Connection, bounds: "_ProcessorTime", tasks: Tasks) -> None:
    try:
        while True:
            message = line.recv_bytes()
            if message == STOP:
                continue  # it came when the answer was on its way already
            job: Job = pickle.loads(message)
            with bounds.of(job):
                answer = _answer(line, job, tasks[job.task])
            line.send_bytes(pickle.dumps(answer))
    except (EOFError, OSError):
        # Whoever asks has gone, and with it all reason to be here.
        os._exit(0)


def _answer(line: Connection, job: Job, task: Task) -> Answer | None:
    """The answer, or what stands in its way; None when nobody wants it."""
    try:
        with within(job.seconds, wanted=lambda: not line.poll(), turn=_turn_of(job)):
            return task(job.about)
    except Cancelled:
        return None
    except Problem as problem:
        return _as_answer(problem_response(problem))
    except Exception:
        # Whoever waits gets the answer at once, and the line goes on to the next job.
        log.exception("a job failed: %s", job.task)
        return _as_answer(problem_response(unforeseen()))
    finally:
        connections.close_all()


_FIRST, _LAST = frozenset({"/api/evaluate"}), frozenset({"/api/seams", "/api/findings", "/api/ready"})


def _turn_of(job: Job) -> Priority:
    """An outline is waited for; its seams and findings can wait for the next one."""
    if not isinstance(job.about, Asked):
        return "any"
    return "first" if job.about.path in _FIRST else "last" if job.about.path in _LAST else "any"


def _request(asked: Asked) -> Answer:
    """A request, answered as the server itself would."""
    request = WSGIRequest(
        {
            "REQUEST_METHOD": asked.method,
            "PATH_INFO": asked.path,
            "CONTENT_TYPE": asked.content_type,
            "CONTENT_LENGTH": str(len(asked.body)),
            "SERVER_NAME": "localhost",
            "SERVER_PORT": "80",
            "wsgi.input": BytesIO(asked.body),
        }
    )
    match = resolve(asked.path)
    return _as_answer(match.func(request, *match.args, **match.kwargs))


def _as_answer(response: HttpResponse) -> Answer:
    return Answer(response.status_code, dict(response.headers), response.content)


def _done(task: Callable[[str], None]) -> Callable[[str], Answer]:
    def do(about: str) -> Answer:
        task(about)
        return Answer(204, {}, b"")

    return do


_TASKS: Tasks = {
    "request": _request,
    "card": _done(shelf.draw_card),
    "rate": _done(faces.rate_own),
    "proof": _done(cut_verification.prove),
}


class _ProcessorTime:
    """Has the system end the process when all jobs in it are far beyond their budgets."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._ends: dict[int, float] = {}

    @contextmanager
    def of(self, job: Job) -> Iterator[None]:
        me = threading.get_ident()
        self._change(lambda: self._ends.update({me: time.process_time() + job.seconds + _GRACE_S}))
        try:
            yield
        finally:
            self._change(lambda: self._ends.pop(me))

    def _change(self, change: Callable[[], object]) -> None:
        with self._lock:
            change()
            most = math.ceil(max(self._ends.values())) if self._ends else resource.RLIM_INFINITY
            resource.setrlimit(resource.RLIMIT_CPU, (most, resource.RLIM_INFINITY))
