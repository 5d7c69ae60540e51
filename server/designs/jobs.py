"""Jobs: sheets sent to a cutter, stroke by stroke.

A thread sends a job and writes down after every stroke how far it is and what was really cut; so whatever
happens to the cutter, to the line to it, or to the server, the job can be taken up again at the stroke where
it stopped. No transaction is open while a machine is spoken to: saves wait for none. The cutters themselves
are in ``cutters``, the states of a job in ``job_states``."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from itertools import accumulate
from typing import Literal
from uuid import UUID

from django.conf import settings
from django.db import connections
from django.db.models import Max

from cutters.cutter_host import CutterHost
from cutters.lines import Answers, Connection, Line, LineLost, away, opened
from designs import background, shop
from designs.job_states import Event, happens
from designs.models import CutJob, CutStroke, JobState, JobStroke
from fulgen.formats.hpgl_text import END, UNITS_PER_MM
from fulgen.problem import Problem

log = logging.getLogger("fulgen")

_TRY_S = 3.0
_LIFT_S = 1.0
_END_S = 20.0
"""So long a sender is waited for that was asked to end."""

_SILENT_TIMES, _SILENT_S = 10.0, 60.0
"""A machine that has answered before is lost when it is silent for so many times as long as a stroke takes,
and so many seconds more. (†)"""

_AHEAD_S = 10.0
"""A machine that is followed by time may be so far behind: taken up again, so much is cut twice. (†)"""

bench = CutterHost(lambda: settings.DATA_DIR / "cutter")


# --- what is asked of a job -----------------------------------------------------------------------------


@dataclass(eq=False)
class _Sender:
    """The thread that sends to one machine: one at most."""

    job: UUID | None = None
    thread: threading.Thread | None = None
    wanted: Event | None = None

    @property
    def is_sending(self) -> bool:
        """Whether it sends; one whose job is cut no more is about to end, and is waited for."""
        if self.thread is None or not self.thread.is_alive():
            return False
        if self.job is None or not CutJob.objects.filter(pk=self.job, state=JobState.CUTTING).exists():
            self.thread.join(_END_S)
        return self.thread.is_alive()


@dataclass(eq=False)
class _Senders:
    lock: threading.Lock = field(default_factory=threading.Lock)
    by_machine: dict[str, _Sender] = field(default_factory=dict)

    def of(self, reached: Connection) -> _Sender:
        return self.by_machine.setdefault(reached.where, _Sender())

    def sending(self, job: UUID) -> _Sender | None:
        """Who sends a job just now."""
        return next((s for s in self.by_machine.values() if s.job == job and s.is_sending), None)


_senders = _Senders()


def find(job_id: UUID) -> CutJob:
    """A job. Raises Problem "not-found"."""
    job = CutJob.objects.filter(pk=job_id).first()
    if job is None:
        raise Problem("not-found", "This job is not kept any more.", "Start it again from the sheet.")
    return job


def after_restart() -> None:
    """Jobs that were being cut when the server ended have lost their line; what came off a sheet that was cut
    is worked out, where the server ended before that was done."""
    happens(Event.LINE_LOST)
    for job_id in CutJob.objects.filter(state=JobState.DONE, outcome__isnull=True).values_list(
        "pk", flat=True
    ):
        background.run_later("proof", str(job_id))


def start(job_id: UUID) -> CutJob:
    """Sends a job, from where it stopped; onto a new piece of film, where it has not begun or the film ran
    out. Asked while it is sent already, it does nothing.

    Raises Problem "cutter-busy", "cutter-off", "cutter-unplugged", "cutter-away", "job-done", "bad-address".
    """
    with _senders.lock:
        if _senders.sending(job_id):
            return find(job_id)
        # Read inside the lock: who held it may have changed the job.
        job = find(job_id)
        if job.state == JobState.DONE:
            raise Problem("job-done", "This sheet is cut already.", "Cut it again from the sheet: a new job.")
        reached = shop.reached(job.machine["name"])
        sender = _senders.of(reached)
        if sender.is_sending:
            raise Problem(
                "cutter-busy", "The cutter is busy with another sheet.", "Wait until it is cut, or stop it."
            )
        anew = job.state in (JobState.WAITING, JobState.NO_FILM)
        piece, done = (job.film_piece + 1, 0) if anew else (job.film_piece, job.done)
        if reached.by == "bench":
            _make_bench_ready(job, piece)
            line: Line = _line_to_bench()
        else:
            done = max(0, done - _behind(job)) if job.by_time else done
            line = _line_to(reached)
        if not happens(Event.START, job_id, film_piece=piece, done=done):
            line.close()
            return find(job_id)
        sender.job, sender.wanted = job_id, None
        sender.thread = threading.Thread(target=_send, args=(job_id, sender, reached, line), daemon=True)
        sender.thread.start()
    return find(job_id)


def _make_bench_ready(job: CutJob, piece: int) -> None:
    """Lays the job's film into the bench cutter, where another lies in it."""
    panel = bench.ask("state")
    if not panel["on"]:
        raise Problem("cutter-off", "The cutter is switched off.", "Switch it on, then cut.")
    if not panel["plugged"]:
        raise Problem("cutter-unplugged", "The cutter's cable is out.", "Plug it in, then cut.")
    if panel["busy"]:
        raise Problem(
            "cutter-busy", "Something else is sending to the cutter.", "Wait until it has ended, then cut."
        )
    if job.state == JobState.NO_FILM or panel["no_film"]:
        bench.ask("film", mm=None)
    sheet = f"{job.pk}-{piece}"
    if panel["sheet"] != sheet:
        kept = CutStroke.objects.filter(job=job, film_piece=piece).values_list("text", "own")
        bench.ask("load", sheet=sheet, height=job.height_mm, speed=job.machine["speed_mm_s"], cut=list(kept))


def _line_to_bench() -> Line:
    try:
        return bench.line()
    except LineLost:
        raise away() from None


def _line_to(reached: Connection) -> Line:
    try:
        return opened(reached)
    except LineLost:
        raise away(f"The machine at {reached.where} does not answer.") from None


def tried(reached: Connection) -> Literal["place", "status", "nothing"]:
    """What a machine answers when it is asked where it is, and then how it is. Raises Problem "cutter-away",
    "cutter-busy", "bad-address"."""
    with _senders.lock:
        if _senders.of(reached).is_sending:
            raise Problem("cutter-busy", "The machine is busy with a sheet.", "Wait until it is cut.")
        line = _line_to(reached)
    answers = Answers()
    try:
        for ask, answer in (("OA;", "place"), ("OS;", "status")):
            line.send(ask, lambda: False)
            ends = time.monotonic() + min(reached.patience_s, _TRY_S)
            while time.monotonic() < ends:
                for found in answers.take(line.heard()):
                    if (found is not None) == (answer == "place"):
                        return "place" if found is not None else "status"
    except LineLost:
        raise away(f"The machine at {reached.where} does not answer.") from None
    finally:
        line.close()
    return "nothing"


def _behind(job: CutJob) -> int:
    """How many strokes a machine that is followed by time may be behind."""
    behind, seconds = 0, 0.0
    while behind < job.done and seconds < _AHEAD_S:
        behind += 1
        seconds += job.lengths[job.done - behind] / job.machine["speed_mm_s"]
    return behind


def pause(job_id: UUID) -> CutJob:
    """Holds the cutter where it is; ``start`` goes on."""
    return _end(job_id, Event.PAUSE)


def stop(job_id: UUID) -> CutJob:
    """Stops a job; it can be taken up again."""
    job = _end(job_id, Event.STOP)
    if job.state != JobState.STOPPED:
        happens(Event.STOP, job_id)  # it was held already
    return find(job_id)


def _end(job_id: UUID, wanted: Event) -> CutJob:
    with _senders.lock:
        sender = _senders.sending(job_id)
        if sender is not None:
            sender.wanted = wanted
    if sender is not None and sender.thread is not None:
        sender.thread.join(_END_S)
    return find(job_id)


# --- sending --------------------------------------------------------------------------------------------


def _send(job_id: UUID, sender: _Sender, reached: Connection, line: Line) -> None:
    """Sends all that is left of a job; runs in a thread of its own."""
    try:
        job = find(job_id)
        try:
            event = _Sending(job, reached, line, lambda: sender.wanted).all()
            if event in (Event.PAUSE, Event.STOP):
                _lift(line)
        finally:
            line.close()
        if reached.by == "bench":
            if event is Event.LINE_LOST and not bench.ask("state")["on"]:
                event = Event.SWITCHED_OFF
            _wait_for_rest()
            _keep_cut(job)
        if happens(event, job_id) and event is Event.FINISHED:
            background.run_later("proof", str(job_id))
    except Exception:
        log.exception("job %s failed", job_id)
        happens(Event.LINE_LOST, job_id)
    finally:
        connections.close_all()


def _lift(line: Line) -> None:
    """Has a machine lift its knife, where its line still takes anything."""
    ends = time.monotonic() + _LIFT_S
    with suppress(LineLost):
        line.send("PU;", lambda: time.monotonic() > ends)


def _wait_for_rest() -> None:
    """Waits until the cutter has seen that its line is closed, and has lifted its knife."""
    ends = time.monotonic() + _END_S
    while bench.ask("state")["busy"] and time.monotonic() < ends:
        time.sleep(0.01)


def _keep_cut(job: CutJob) -> None:
    """Keeps what was really cut since the last time. The cutter is asked before anything is written."""
    kept = CutStroke.objects.filter(job=job, film_piece=job.film_piece)
    last = kept.aggregate(last=Max("number"))["last"]
    first = 0 if last is None else last + 1
    rows = [
        CutStroke(job=job, film_piece=job.film_piece, number=first + n, text=text, own=own)
        for n, (text, own) in enumerate(bench.ask("cut", **{"from": first})["strokes"])
    ]
    if rows:
        CutStroke.objects.bulk_create(rows, ignore_conflicts=True)


class _Sending:
    """The sending of a job over a line, stroke by stroke: each is waited for before the next one goes.

    A machine is asked where it is; where it does not say, how it is; and where it says nothing at all, it is
    followed by the time that its strokes take, and the job says so."""

    def __init__(
        self, job: CutJob, reached: Connection, line: Line, wanted: Callable[[], Event | None]
    ) -> None:
        self._job, self._reached, self._line, self._wanted = job, reached, line, wanted
        self._answers = Answers()
        self._has_answered = False
        self._asks = "" if job.by_time else "OA;"
        pace = bench.pace if reached.by == "bench" else 1.0
        self._speed = max(1e-6, float(job.machine["speed_mm_s"]) * pace)

    def all(self) -> Event:
        """Sends what is left; returns how it ended."""
        job = self._job
        try:
            opening = "IN;"
            for number in range(job.done, len(job.lengths)):
                # One by one: a query that stays open for as long as a job would hold up the database.
                stroke = JobStroke.objects.get(job=job, number=number)
                opening = f"{opening}{stroke.turn}" if opening else ""
                event = self._sent(opening + stroke.text, (stroke.end_x, stroke.end_y),
                                   job.lengths[stroke.number] / self._speed)  # fmt: skip
                opening = ""
                if event:
                    return event
                if self._reached.by == "bench":
                    _keep_cut(job)
                job.done = stroke.number + 1
                CutJob.objects.filter(pk=job.pk).update(done=job.done)
            return self._sent(END.replace("\n", ""), (0, 0), 0.0) or Event.FINISHED
        except (LineLost, Problem):
            return Event.LINE_LOST

    def _sent(self, text: str, end: tuple[int, int], seconds: float) -> Event | None:
        """Sends a stroke, and waits until it is cut; returns what came in between."""
        began = time.monotonic()
        if not self._line.send(text + self._asks, lambda: self._wanted() is not None):
            return self._wanted()
        while True:
            if event := self._wanted():
                return event
            heard = self._answers.take(self._line.heard())
            if self._asks and any(self._is_there(answer, end) for answer in heard):
                self._has_answered = True
                return None
            if self._reached.by == "bench":
                if bench.ask("state")["ran_out"]:
                    return Event.FILM_OUT
                continue
            gone = time.monotonic() - began
            if not self._asks:
                if gone >= seconds:
                    return None
            elif self._has_answered:
                if gone > _SILENT_TIMES * seconds + max(_SILENT_S, self._reached.patience_s):
                    return Event.LINE_LOST
            elif gone > seconds + self._reached.patience_s:
                began = time.monotonic() - seconds
                self._ask_otherwise()

    def _is_there(self, answer: tuple[float, float] | None, end: tuple[int, int]) -> bool:
        """Whether an answer is about the end of this stroke: one that comes late is about another."""
        if answer is None:
            return self._asks == "OS;"
        if max(abs(answer[0] - end[0]), abs(answer[1] - end[1])) > UNITS_PER_MM:
            return False
        self._asks = "OA;"  # it does say where it is, if late
        return True

    def _ask_otherwise(self) -> None:
        if self._asks == "OA;":
            self._asks = "OS;"
            self._line.send(self._asks, lambda: self._wanted() is not None)
        else:
            self._asks = ""
            CutJob.objects.filter(pk=self._job.pk).update(by_time=True)


# --- how far it is --------------------------------------------------------------------------------------


def seconds_left(job: CutJob, ways: Mapping[str, Connection]) -> float:
    """About how long a job takes from where it is. ``ways``: how the shop's machines are reached."""
    pace = bench.pace if ways.get(job.machine["name"], Connection()).by == "bench" else 1.0
    left: float = sum(job.lengths[job.done :])
    return left / max(float(job.machine["speed_mm_s"]) * pace, 1e-6)


def share_done(job: CutJob) -> float:
    """How much of a job is done."""
    done: float = sum(job.lengths[: job.done])
    return float(done / max(sum(job.lengths), 1e-9))


def shares_free(job: CutJob) -> list[float]:
    """At which share of a job each piece is free, in their order."""
    gone = list(accumulate(job.lengths))
    return sorted(round(gone[after - 1] / gone[-1], 4) for after in job.pieces_free)
