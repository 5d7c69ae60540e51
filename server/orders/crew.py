"""The workers of the queue on this machine: processes with less weight than whatever a maker waits for.

They are there while something is on its way, and end by themselves when the server does.
"""

from __future__ import annotations

import logging
import os
import resource
import signal
import threading
import time
from collections import deque
from dataclasses import dataclass, field
from multiprocessing import get_context, parent_process
from multiprocessing.process import BaseProcess
from uuid import uuid4

from computing.pool import MOST_BYTES

log = logging.getLogger("fulgen")

LESS_WEIGHT = 10
_LINGER_S = 10.0
_AGAIN_S = 0.5
"""Where one has ended of itself, the next is hired so much later: it may end just so."""

_LOOK_S = 0.02


@dataclass(eq=False)
class Crew:
    """So many workers at most; ``dead`` names some that ended with a task in their hands."""

    size: int = field(default_factory=lambda: int(os.environ.get("FULGEN_CREW", os.cpu_count() or 1)))
    runs: bool = False
    dead: deque[str] = field(default_factory=lambda: deque(maxlen=1_000))
    _members: dict[str, BaseProcess] = field(default_factory=dict)
    _last_busy: float = 0.0
    _hires_again: float = 0.0

    def start(self) -> None:
        """From now on workers are made when they are needed."""
        self.runs = True

    def keep(self, *, busy: bool) -> None:
        """Has all workers there while there is work, and lets them go some time after."""
        if not self.runs:
            return
        now = time.monotonic()
        if busy:
            self._last_busy = now
        for name, process in list(self._members.items()):
            if not process.is_alive():
                self.dead.append(name)
                del self._members[name]
                self._hires_again = now + _AGAIN_S
        if busy and now >= self._hires_again:
            while len(self._members) < self.size:
                self._hire()
        elif now - self._last_busy > _LINGER_S:
            self.dismiss()

    def dismiss(self) -> None:
        """Lets all workers end."""
        for process in self._members.values():
            process.terminate()
        for name, process in list(self._members.items()):
            process.join(timeout=0.1)
            if not process.is_alive():
                del self._members[name]

    @property
    def processes(self) -> list[int]:
        """The ids of the workers' processes."""
        return [process.pid for process in self._members.values() if process.pid]

    def _hire(self) -> None:
        name = uuid4().hex
        process = get_context("forkserver").Process(target=work, args=(name,), daemon=True)
        process.start()
        self._members[name] = process


crew = Crew()
"""That of this server."""


def work(name: str) -> None:
    """A worker's life: it takes tasks from the queue until it is told to end, or whoever made it has gone."""
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
    django.setup()
    from django.conf import settings

    os.nice(LESS_WEIGHT)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_BYTES, MOST_BYTES))
    threading.Thread(target=_end_with_server, daemon=True).start()
    if settings.QUEUE_URL:
        _work_in_redis(name)
    else:
        _work_here(name)


def _end_with_server() -> None:
    server = parent_process()
    if server is not None:
        server.join()
        os._exit(0)


def _work_here(name: str) -> None:
    from django_tasks_db.management.commands.db_worker import Worker

    worker = Worker(
        queue_names=["default"], interval=_LOOK_S, batch=False, backend_name="default", startup_delay=False,
        max_tasks=None, worker_id=name, excluded_queue_names=[],
    )  # fmt: skip
    signal.signal(signal.SIGTERM, worker.shutdown)
    worker.run()


def _work_in_redis(name: str) -> None:
    import django_rq
    from django_tasks_rq import Job
    from rq import SimpleWorker

    # Not one process for each task: what a worker has learnt of faces and joints stays with it.
    queue = django_rq.get_queue("default", job_class=Job)
    worker = SimpleWorker([queue], name=name, connection=queue.connection, job_class=Job)
    worker.work(logging_level="WARNING")
