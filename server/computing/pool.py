"""The pool of workers: who computes what, and when it is ended.

The server's own process keeps the shelf, saves and hands out files; it computes no geometry, so nothing that
is asked of it can block it. What computes goes to a worker (see worker), by these rules:

- A design stays with its worker, where much is known of it, as long as that one is not at something long.
- Else a worker with nothing to do is taken, else a new one is made, up to MOST_WORKERS; then a request waits.
- A job that takes long beside another design's has its worker run with less weight, so that small designs
  are answered meanwhile; no more than MOST_LONG may take long at once.
- When whoever asked has gone, the job is asked to stop, and its worker is ended where that does not help.
- A worker that dies takes what it knows with it, and nothing else: the job that was longest in it is told to
  be too much, the others are asked again of another worker.
"""

import math
import os
import pickle
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from multiprocessing import connection, forkserver, get_context
from multiprocessing.connection import Connection
from typing import Any, Literal

from fulgen.budget import too_much_work
from fulgen.problem import Problem

JOB_S = float(os.environ.get("FULGEN_JOB_S", "15"))
"""Processor time for one request: 15 s are about 250 times what a name of ten letters takes cold."""

RATING_S = 120.0
"""Processor time for the rating of a face of the maker's own, which nobody waits for."""

PROOF_S = 60.0
"""Processor time for working out what came off a sheet."""

MOST_WORKERS = 12
MOST_LONG = 9
AT_REST = 2
"""Workers that are kept when there is nothing to do."""

MOST_BYTES = 3 * 2**29
"""Memory of one worker, its caches (about 300 MB when full) included."""

LINES = 4
"""Jobs that a worker answers at once: the questions a page asks of one design."""

MOST_WAITING = 64
_LONG_S, _WAIT_S, _WALL_S, _STOP_S, _IDLE_S = 0.7, 10.0, 90.0, 2.0, 10.0
"""Seconds after which a job is long; a request waits for a worker at most; a job is ended on whatever it
waits; a job that was asked to stop is ended; a worker beyond those kept at rest is let go."""

_LET_GO_S = 0.15
"""So long a question about a design waits when the one before it takes long: it may be just let go of."""

_LOOK_S = 0.05
_LESS_WEIGHT = 10

STOP = b""


Work = Callable[[list[Connection]], None]


@dataclass(frozen=True)
class Asked:
    """A request to be answered by a worker."""

    method: str
    path: str
    content_type: str
    body: bytes


@dataclass(frozen=True)
class Answer:
    status: int
    headers: dict[str, str]
    content: bytes


@dataclass(frozen=True)
class Job:
    """A task by its name, what it is about, and its budget of processor time."""

    task: Literal["request", "card", "rate", "proof"]
    about: Any
    seconds: float = JOB_S


@dataclass(eq=False)
class _Worker:
    process: Any
    free: list[Connection]
    design: str = ""
    began: dict[Connection, float] = field(default_factory=dict)
    stopping: set[Connection] = field(default_factory=set)
    last_used: float = 0.0
    is_light: bool = False
    dead: bool = False
    blamed: Connection | None = None
    starved: bool = False

    @property
    def is_long(self) -> bool:
        """Whether a job in it takes long, and is wanted still."""
        wanted = (began for line, began in self.began.items() if line not in self.stopping)
        return time.monotonic() - min(wanted, default=math.inf) > _LONG_S

    def end(self, blamed: Connection) -> None:
        """Ends the process, for what it does on one of its lines."""
        self.dead = True
        self.blamed = self.blamed or blamed
        self.process.kill()


class Pool:
    """Workers, made when they are needed."""

    def __init__(self, work: Work | None = None) -> None:
        self._work = work
        self._context = get_context("forkserver")
        self._changed = threading.Condition()
        self._workers: list[_Worker] = []
        self._waiting = 0
        self.serves = False

    def answer(self, job: Job, design: str = "", gone: Callable[[], bool] = lambda: False) -> Any:
        """What a worker answers; None when whoever asked has gone.

        Raises Problem "too-much" when it is beyond its budget, "busy" when there is no worker for it.
        """
        for last_try in (False, True):
            worker, line = self._take(design)
            try:
                return self._ask(worker, line, job, gone)
            except (EOFError, OSError):
                if self._died_of(worker) is line or last_try:
                    raise (_busy() if worker.starved else too_much_work()) from None
            finally:
                self._give_back(worker, line)
        raise AssertionError("unreachable")

    def start(self, work: Work) -> None:
        """Makes the first worker, so that nobody waits for it. From now on the pool serves. ``work``: what a
        worker does with its lines until they are closed."""
        with self._changed:
            self._work = work
            self._made()
            self.serves = True

    @property
    def processes(self) -> list[int]:
        """The ids of the workers' processes."""
        with self._changed:
            return [worker.process.pid for worker in self._workers]

    # --- workers and lines ------------------------------------------------------------------------------

    def _take(self, design: str) -> tuple[_Worker, Connection]:
        ends = time.monotonic() + _WAIT_S
        with self._changed:
            if self._waiting >= MOST_WAITING:
                raise _busy()
            self._waiting += 1
            try:
                if any(w.design == design and w.is_long for w in self._workers):
                    # Mostly the page has just let go of that job, to ask about what is newer.
                    self._changed.wait(_LET_GO_S)
                while (worker := self._worker_for(design)) is None:
                    if not self._changed.wait(max(0.0, ends - time.monotonic())):
                        raise _busy()
            finally:
                self._waiting -= 1
            line = worker.free.pop()
            worker.design = design
            worker.began[line] = worker.last_used = time.monotonic()
            self._weigh_down()
            return worker, line

    def _worker_for(self, design: str) -> _Worker | None:
        for worker in self._workers:
            if worker.dead or not worker.process.is_alive():
                worker.dead = True
        self._workers = [w for w in self._workers if not w.dead]
        ready = [w for w in self._workers if w.free and not w.is_long]
        own = [w for w in ready if w.design == design and not w.is_light]
        idle = [w for w in self._workers if not w.began]
        if own:
            return own[0]
        if idle:
            return min(idle, key=lambda w: (w.is_light, w.last_used))
        if len(self._workers) < MOST_WORKERS:
            return self._made()
        return min(ready, key=lambda w: len(w.began), default=None)

    def _made(self) -> _Worker:
        pairs = [connection.Pipe() for _ in range(LINES)]
        theirs = [their_end for _, their_end in pairs]
        process = self._context.Process(target=self._work, args=(theirs,), daemon=True)
        process.start()
        for line in theirs:
            line.close()
        worker = _Worker(process, [ours for ours, _ in pairs])
        self._workers.append(worker)
        return worker

    def _weigh_down(self) -> None:
        """Gives long jobs less weight while there are others. There is no way back for such a process, so it
        is let go when its job is done."""
        busy = [w for w in self._workers if w.began]
        for worker in busy:
            if len(busy) > 1 and worker.is_long and not worker.is_light:
                with suppress(OSError):
                    os.setpriority(os.PRIO_PROCESS, worker.process.pid, _LESS_WEIGHT)
                worker.is_light = True

    def _give_back(self, worker: _Worker, line: Connection) -> None:
        with self._changed:
            worker.began.pop(line, None)
            worker.stopping.discard(line)
            worker.last_used = time.monotonic()
            if worker.dead:
                line.close()
            else:
                worker.free.append(line)
            idle = sorted((w for w in self._workers if not w.began), key=lambda w: (w.is_light, w.last_used))
            for other in idle:
                surplus = other is not worker and time.monotonic() - other.last_used > _IDLE_S
                if other.is_light or (len(self._workers) > AT_REST and surplus):
                    self._let_go(other)
            self._changed.notify_all()

    def _let_go(self, worker: _Worker) -> None:
        worker.dead = True
        self._workers.remove(worker)
        for line in worker.free:
            line.close()

    def _died_of(self, worker: _Worker) -> Connection | None:
        """The line of the job that a worker died of: that for which it was ended, or else the longest."""
        with self._changed:
            if worker.blamed is None:
                worker.end(min(worker.began, key=lambda line: worker.began[line]))
            return worker.blamed

    # --- a job --------------------------------------------------------------------------------------------

    def _ask(self, worker: _Worker, line: Connection, job: Job, gone: Callable[[], bool]) -> Any:
        line.send_bytes(pickle.dumps(job))
        began, told_to_stop = time.monotonic(), 0.0
        while not line.poll(_LOOK_S):
            now = time.monotonic()
            stopping_too_long = told_to_stop and now - told_to_stop > _STOP_S
            if now - began > max(_WALL_S, job.seconds * 2):
                # Its own clock has not run out: others took the time.
                worker.starved = True
                worker.end(line)
            elif stopping_too_long:
                worker.end(line)
            elif not told_to_stop and gone():
                line.send_bytes(STOP)
                told_to_stop = now
                with self._changed:
                    worker.stopping.add(line)
                    self._changed.notify_all()
            elif now - began > _LONG_S:
                self._look_at_long(worker, line)
        return pickle.loads(line.recv_bytes())

    def _look_at_long(self, worker: _Worker, line: Connection) -> None:
        with self._changed:
            self._weigh_down()
            long = [w for w in self._workers if w.is_long]
            if len(long) > MOST_LONG and worker is max(long, key=lambda w: min(w.began.values())):
                worker.end(line)
                raise _busy()
            self._changed.notify_all()


workers = Pool()
"""Those of the server."""


def prepare(module: str) -> None:
    """Begins to read the module that workers are forked from, so that it is there when the first is made."""
    forkserver.set_forkserver_preload([module])
    forkserver.ensure_running()


def _busy() -> Problem:
    return Problem(
        "busy",
        "Fulgen is working out several large designs just now.",
        "Wait until they are done, or close their windows; then try again.",
    )
