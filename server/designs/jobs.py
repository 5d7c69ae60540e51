"""Jobs: sheets sent to the cutter, contour by contour, each kept with its state.

A thread sends a job and writes down after every contour how far it is and what was really cut; so whatever
happens to the cutter, to the line to it, or to the server, the job can be taken up again at the contour where
it stopped. The cutter itself is a process of its own (fulgen_server.bench_cutter)."""

from __future__ import annotations

import json
import logging
import math
import os
import socket
import subprocess
import sys
import threading
from functools import lru_cache
from typing import Any
from uuid import UUID

import numpy as np
from django.db import connections
from django.db.models import F, Value
from django.db.models.functions import Concat

from designs import later
from designs.models import CutJob
from designs.proofs import machine_of, promised_of
from fulgen.formats.hpgl import read_strokes, write_hpgl
from fulgen.problem import Problem
from fulgen.sheet.sheets import Sheet, turning
from fulgen.sheet.strokes import WEEDING_PEN
from fulgen_server.bench_cutter import LIFTED_TIMES

log = logging.getLogger("fulgen")

MOST_JOBS = 500
_WAIT_S = 20.0
_LOOK_S = 0.1


class Bench:
    """The cutter's process, started when it is first needed, and its two sockets."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[str] | None = None
        self._ports = (0, 0)
        self.pace = float(os.environ.get("FULGEN_CUTTER_PACE", "1"))

    def _started(self) -> tuple[int, int]:
        with self._lock:
            if self._process is None or self._process.poll() is not None:
                self._process = subprocess.Popen(
                    [sys.executable, "-m", "fulgen_server.bench_cutter"],
                    stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=dict(os.environ),
                )  # fmt: skip
                assert self._process.stdout is not None
                words = self._process.stdout.readline().split()
                if len(words) != 2:
                    raise _away()
                self._ports = (int(words[0]), int(words[1]))
            return self._ports

    def ask(self, do: str, **more: object) -> dict[str, Any]:
        """What the cutter's panel answers."""
        try:
            with socket.create_connection(("127.0.0.1", self._started()[1]), timeout=_WAIT_S) as line:
                line.sendall((json.dumps({"do": do, **more}) + "\n").encode())
                with line.makefile("r") as answers:
                    found: dict[str, Any] = json.loads(answers.readline())
                    return found
        except (OSError, ValueError):
            raise _away() from None

    def line(self) -> socket.socket:
        """A line to the cutter. Raises OSError."""
        return socket.create_connection(("127.0.0.1", self._started()[0]), timeout=_WAIT_S)


bench = Bench()


def _away() -> Problem:
    return Problem("cutter-away", "The cutter does not answer.", "Switch it on, then try again.")


class _Senders:
    """The threads that send jobs: one at most, for there is one cutter."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.job: UUID | None = None
        self.thread: threading.Thread | None = None
        self.wanted = ""
        self.loaded: UUID | None = None
        """The job whose sheet lies in the cutter."""
        self.logged = 0
        """How many strokes of the cutter's log of that sheet are kept already."""


_senders = _Senders()


def find(job_id: UUID) -> CutJob:
    """A job. Raises Problem "not-found"."""
    job = CutJob.objects.filter(pk=job_id).first()
    if job is None:
        raise Problem("not-found", "This job is not kept any more.", "Start it again from the sheet.")
    return job


def after_restart() -> None:
    """Jobs that were being cut when the server ended have lost their line."""
    CutJob.objects.filter(state=CutJob.CUTTING).update(state=CutJob.LOST)


def start(job_id: UUID) -> CutJob:
    """Sends a job, from where it stopped; onto a new sheet, where it has not begun or the film ran out.

    Raises Problem "cutter-busy", "cutter-off", "cutter-away", "job-done".
    """
    with _senders.lock:
        # Read inside the lock: who held it may have changed the job.
        job = find(job_id)
        if job.state == CutJob.DONE:
            raise Problem("job-done", "This sheet is cut already.", "Cut it again from the sheet: a new job.")
        if _senders.thread is not None and _senders.thread.is_alive():
            if _senders.job == job_id:
                return job
            raise Problem(
                "cutter-busy", "The cutter is busy with another sheet.", "Wait until it is cut, or stop it."
            )
        panel = bench.ask("state")
        if not panel["on"]:
            raise Problem("cutter-off", "The cutter is switched off.", "Switch it on, then cut.")
        if job.state == CutJob.NO_FILM:
            bench.ask("film", mm=None)
        anew = job.state in (CutJob.WAITING, CutJob.NO_FILM)
        if anew:
            job.done, job.cut = 0, ""
        if anew or _senders.loaded != job_id:
            bench.ask("load", height=job.height_mm, speed=machine_of(job).speed_mm_s)
            _senders.loaded, _senders.logged = job_id, 0
        job.state = CutJob.CUTTING
        job.save(update_fields=["state", "done", "cut", "changed"])
        _senders.job, _senders.wanted = job_id, ""
        _senders.thread = threading.Thread(target=_send, args=(job_id,), daemon=True)
        _senders.thread.start()
    return job


def pause(job_id: UUID) -> CutJob:
    """Holds the cutter where it is; ``start`` goes on."""
    return _end(job_id, CutJob.PAUSED)


def stop(job_id: UUID) -> CutJob:
    """Stops a job; it can be taken up again."""
    job = find(job_id)
    if job.state in (CutJob.CUTTING, CutJob.PAUSED, CutJob.LOST, CutJob.OFF, CutJob.NO_FILM):
        job = _end(job_id, CutJob.STOPPED)
        if job.state not in (CutJob.DONE, CutJob.STOPPED):
            job.state = CutJob.STOPPED
            job.save(update_fields=["state", "changed"])
    return job


def _end(job_id: UUID, wanted: str) -> CutJob:
    with _senders.lock:
        thread = _senders.thread if _senders.job == job_id else None
        if thread is not None and thread.is_alive():
            _senders.wanted = wanted
    if thread is not None:
        thread.join(_WAIT_S)
    return find(job_id)


# --- sending --------------------------------------------------------------------------------------------


def _send(job_id: UUID) -> None:
    """Sends all that is left of a job; runs in a thread of its own."""
    try:
        job = find(job_id)
        state = _sent(job)
        _keep_log(job)
        CutJob.objects.filter(pk=job_id).update(state=state)
        if state == CutJob.DONE:
            later.do("proof", str(job_id))
    except Exception:
        log.exception("job %s failed", job_id)
        CutJob.objects.filter(pk=job_id, state=CutJob.CUTTING).update(state=CutJob.LOST)
    finally:
        connections.close_all()


def _sent(job: CutJob) -> str:
    """Sends what is left; returns the state that it ends in."""
    strokes = instructions(job.hpgl)
    try:
        with bench.line() as line:
            line.settimeout(_LOOK_S)
            line.sendall(_turned_for(job).encode())
            for n in range(job.done, len(strokes)):
                line.sendall((strokes[n] + "OA;").encode())
                state = _answered(line)
                if state:
                    return state
                _keep_log(job, done=n + 1)
    except (OSError, EOFError):
        return CutJob.LOST if bench.ask("state")["on"] else CutJob.OFF
    return CutJob.DONE


def _turned_for(job: CutJob) -> str:
    """Where a job is taken up again: a short cut that turns the knife as it stood before the next one."""
    if not job.done:
        return ""
    strokes = read_strokes(job.hpgl.encode(), job.title, job.height_mm)
    (_, before), (pen, _) = strokes[job.done - 1], strokes[job.done]
    dx, dy = (before[-1] - before[-2]).tolist()
    sheet = Sheet(job.width_mm, job.height_mm)
    turn = turning(sheet, promised_of(job), math.atan2(dy, dx), machine_of(job).offset_mm)
    text = write_hpgl([(WEEDING_PEN, path) for path in turn], job.height_mm)
    return "".join(instructions(text)) + f"SP{pen};"


def _answered(line: socket.socket) -> str:
    """Waits until the cutter says where it is; or returns the state that the job ends in."""
    while True:
        try:
            data = line.recv(64)
            if not data:
                raise EOFError
            if b"\r" in data:
                return ""
        except TimeoutError:
            pass
        if _senders.wanted:
            return _senders.wanted
        if bench.ask("state")["no_film"]:
            return CutJob.NO_FILM


def _keep_log(job: CutJob, **more: Any) -> None:
    """Keeps what was really cut since the last time, and what else is known of the job, in one step. The
    cutter is asked before: no save waits for it."""
    told = bench.ask("cut", **{"from": _senders.logged})
    if told["hpgl"]:
        more["cut"] = Concat(F("cut"), Value(told["hpgl"] + "\n"))
    if more:
        CutJob.objects.filter(pk=job.pk).update(**more)
    _senders.logged = told["strokes"]


def instructions(hpgl: str) -> list[str]:
    """The instructions of each stroke of a file, with those that choose its pen."""
    strokes: list[str] = []
    waiting = ""
    for text in hpgl.replace("\n", "").split(";"):
        if text.startswith("PU") and strokes and "PD" in strokes[-1]:
            strokes.append(waiting + text + ";")
            waiting = ""
        elif text.startswith("SP"):
            waiting = text + ";"
        elif text.startswith("PU") and not strokes:
            strokes.append(waiting + text + ";")
            waiting = ""
        elif text.startswith(("PU", "PD")):
            strokes[-1] += text + ";"
    # The last one only takes the carriage home.
    return strokes[:-1]


def seconds_left(job: CutJob, speed: float) -> float:
    """About how long a job takes from where it is, at a speed in mm/s."""
    lengths = _lengths(job.pk, job.hpgl, job.height_mm)
    return sum(lengths[job.done :]) / max(speed, 1e-6)


def share_done(job: CutJob) -> float:
    """How much of a job is done."""
    lengths = _lengths(job.pk, job.hpgl, job.height_mm)
    return sum(lengths[: job.done]) / max(sum(lengths), 1e-9)


def shares_free(job: CutJob) -> list[float]:
    """At which share of a job each piece is free, in their order."""
    gone = np.cumsum(_lengths(job.pk, job.hpgl, job.height_mm))
    return sorted(round(float(gone[after - 1] / gone[-1]), 4) for after in job.frees)


@lru_cache(64)
def _lengths(_job_id: UUID, hpgl: str, height: float) -> list[float]:
    """How far the carriage goes for each stroke, in mm with the knife down: lifted it is so much faster."""
    found, at = [], None
    for _, path in read_strokes(hpgl.encode(), "the job", height):
        way = 0.0 if at is None else float(np.hypot(*(path[0] - at)))
        found.append(float(np.hypot(*np.diff(path, axis=0).T).sum()) + way / LIFTED_TIMES)
        at = path[-1]
    return found
