"""Random orders of what happens at a cutter: sheets asked for once and twice, begun, paused, stopped, a
pulled cable, power off, film out, the machine or the server killed, somebody else at its socket, edits in
between. Whatever the order: no job is there twice, none is lost, never is another sheet cut than the one
shown, and in the end what was promised came off. Used by the tests, and run for thousands of orders by hand:

    python -m tests.job_orders 2000
"""

from __future__ import annotations

import contextlib
import functools
import os
import socket
import sys
import tempfile
import traceback
from collections.abc import Callable
from typing import Any
from uuid import UUID, uuid4

import django
import pytest
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule
from hypothesis.stateful import run_state_machine_as_test as run

_folder = tempfile.TemporaryDirectory()
os.environ |= {"DJANGO_SETTINGS_MODULE": "fulgen_server.settings", "FULGEN_DATA": _folder.name}
os.environ.setdefault("FULGEN_CUTTER_PACE", "60")
django.setup()

from django.core.management import call_command  # noqa: E402

from designs import jobs, shelf, shop  # noqa: E402
from designs.cutting import CutWork  # noqa: E402
from designs.models import CutJob, CutStroke, Design, JobState, JobStroke  # noqa: E402
from designs.revisions import newest  # noqa: E402
from fulgen.problem import Problem  # noqa: E402
from fulgen.recipe.versions import read_stored, recipe_from  # noqa: E402
from fulgen.sheet.machines import MACHINES  # noqa: E402
from tests.served import until  # noqa: E402

_PATIENCE_S = 60.0

DISC = {"kind": "shape", "id": "disc", "form": "disc", "width_mm": 30.0, "height_mm": 30.0}


def recipe(width: float, copies: int, also: UUID | None = None) -> dict[str, Any]:
    part = {**DISC, "width_mm": width, "height_mm": width}
    plan: dict[str, Any] = {"copies": copies}
    if also is not None:
        plan["extra_designs"] = [{"design": str(also), "copies": 1}]
    return {"format": "fulgen-recipe", "version": 8, "parts": [part], "cut": plan}


def _told(step: Callable[..., None]) -> Callable[..., None]:
    """A step that says what has happened so far where it goes wrong: how threads and processes fall is not
    the same twice, so it cannot be tried again."""

    @functools.wraps(step)
    def told(self: Orders, **given: Any) -> None:
        self.events.append(f"{step.__name__} {given}")
        try:
            step(self, **given)
        except Exception:
            states = list(CutJob.objects.values_list("pk", "state", "done", "outcome"))
            print(*self.events, states, traceback.format_exc(), sep="\n", flush=True)
            os._exit(1)

    return told


class Orders(RuleBasedStateMachine):
    """A shop with two designs, one of them on the other's sheet, and a cutter."""

    def __init__(self) -> None:
        super().__init__()
        self.events: list[str] = []

    @initialize()
    def opened(self) -> None:
        self.asked: dict[UUID, str] = {}
        self.foreign = False
        self._panel("power", on=True)
        self._panel("plug", on=True)
        self._panel("film", mm=None)
        self.other = self._design("Other", recipe(20.0, 1))
        self.design = self._design("Yard", recipe(30.0, 2, self.other.pk))

    def _design(self, name: str, of: dict[str, Any]) -> Design:
        return shelf.make(name, recipe_from(of))

    def _panel(self, do: str, **more: object) -> dict[str, Any]:
        return jobs.bench.ask(do, **more)

    def _made(self) -> CutWork:
        kept = Design.objects.get(pk=self.design.pk)
        return CutWork(kept.name, read_stored(newest(kept)))

    # --- what a maker does ------------------------------------------------------------------------------

    @rule(twice=st.booleans())
    @_told
    def asks_for_a_sheet(self, twice: bool) -> None:
        made, job = self._made(), uuid4()
        key = made.sheets[0].cut_key(made.machine)
        for _ in range(1 + twice):
            made.look_whether_shown(0, key)
            made.job(Design.objects.get(pk=self.design.pk), 0, job)
        self.asked[job] = key

    @rule(width=st.sampled_from([18.0, 22.0, 26.0]), what=st.sampled_from(["other", "knife"]))
    @_told
    def edits_in_another_window(self, width: float, what: str) -> None:
        before = self._made()
        key = before.sheets[0].cut_key(before.machine)
        if what == "other":
            card = Design.objects.get(pk=self.other.pk)
            shelf.save(card.pk, "Other", recipe_from(recipe(width, 1)), card.head)
        else:
            knife = MACHINES[0]
            shop.keep_machine(type(knife)(**{**vars(knife), "overcut_mm": round(width / 60, 2)}))
        after = self._made()
        if after.sheets[0].cut_key(after.machine) == key:
            return
        with pytest.raises(Problem, match="has changed since it was shown"):
            after.look_whether_shown(0, key)

    def _one(self, which: int) -> UUID:
        jobs_asked = sorted(self.asked)
        return jobs_asked[which % len(jobs_asked)]

    def _some(self, *states: JobState) -> list[UUID]:
        return list(CutJob.objects.filter(state__in=states).order_by("pk").values_list("pk", flat=True))

    @precondition(lambda self: self.asked)
    @rule(which=st.integers(0, 9), after=st.integers(0, 3))
    @_told
    def begins(self, which: int, after: int) -> None:
        job = self._one(which)
        busy = self._some(JobState.CUTTING)
        refused = ""
        try:
            jobs.start(job)
        except Problem as problem:
            refused = problem.kind
        assert refused in ("", "job-done", "cutter-busy", "cutter-off", "cutter-unplugged")
        assert refused != "cutter-busy" or busy
        if not refused:
            self._until(lambda: self._done(job) >= after or self._state(job) != JobState.CUTTING)

    @precondition(lambda self: self.asked)
    @rule(which=st.integers(0, 9), what=st.sampled_from([jobs.pause, jobs.stop]))
    @_told
    def holds(self, which: int, what: Callable[[UUID], CutJob]) -> None:
        job = self._one(which)
        before = self._state(job)
        after = what(job).state
        if before == JobState.CUTTING:
            assert after != JobState.CUTTING
        elif what is jobs.pause:
            assert after == before
        else:
            assert after == (before if before in (JobState.DONE, JobState.WAITING) else JobState.STOPPED)

    # --- what happens at the machine --------------------------------------------------------------------

    @rule(what=st.sampled_from(["power", "plug"]), on=st.booleans())
    @_told
    def switch(self, what: str, on: bool) -> None:
        self._panel(what, on=on)
        self._settle()

    @rule(mm=st.sampled_from([None, 15.0, 40.0]))
    @_told
    def film(self, mm: float | None) -> None:
        self._panel("film", mm=mm)
        self._settle()

    @rule()
    @_told
    def machine_dies(self) -> None:
        process, _, _ = jobs.bench._started()
        process.kill()
        process.wait()
        self._settle()

    @rule(unwritten=st.integers(0, 1))
    @_told
    def server_dies(self, unwritten: int) -> None:
        """What it had begun stands as it was last written: so many strokes less than were cut."""
        for job in self._some(JobState.CUTTING):
            jobs.pause(job)
            if self._state(job) != JobState.PAUSED:
                continue
            kept = CutJob.objects.get(pk=job)
            kept.cut.filter(number__gte=max(0, kept.cut.count() - unwritten)).delete()
            CutJob.objects.filter(pk=job).update(state=JobState.CUTTING, done=max(0, kept.done - unwritten))
        process, _, _ = jobs.bench._started()
        process.kill()
        process.wait()
        jobs.after_restart()

    @rule()
    @_told
    def somebody_else_sends(self) -> None:
        _, port, _ = jobs.bench._started()
        busy = self._panel("state")["busy"]
        with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), timeout=5) as line:
            line.sendall(b"?;PU8,8;PD60,8;PU;OA;")
            line.settimeout(5)
            line.recv(64)
        self.foreign |= not busy
        self._until(lambda: bool(self._some(JobState.CUTTING)) or not self._panel("state")["busy"])

    # --- what is always so ------------------------------------------------------------------------------

    def _state(self, job: UUID) -> JobState:
        return JobState(CutJob.objects.values_list("state", flat=True).get(pk=job))

    def _done(self, job: UUID) -> int:
        return int(CutJob.objects.values_list("done", flat=True).get(pk=job))

    def _until(self, is_so: Callable[[], bool]) -> None:
        until(is_so, bool, "so", _PATIENCE_S, pause_s=0.001)

    def _settle(self) -> None:
        """Waits until a job that has lost its machine has seen it."""
        panel = self._panel("state")
        if not (panel["on"] and panel["plugged"]) or not panel["busy"]:
            self._until(lambda: not any(jobs._senders.sending(job) for job in self.asked)
                        or self._panel("state")["busy"])  # fmt: skip

    @invariant()
    @_told
    def each_is_there_once(self) -> None:
        found = {job.pk: job.key for job in CutJob.objects.all()}
        assert found == getattr(self, "asked", {})
        assert len(self._some(JobState.CUTTING)) <= 1
        for job in CutJob.objects.exclude(state=JobState.WAITING):
            assert 0 <= job.done <= len(job.lengths)

    @_told
    def teardown(self) -> None:
        """All that was begun is cut to its end, and what was promised came off."""
        if not hasattr(self, "asked"):
            return
        self._panel("power", on=True)
        self._panel("plug", on=True)
        self._panel("film", mm=None)
        for job in sorted(self.asked):
            if self._state(job) == JobState.WAITING:
                continue
            self._until(lambda: not any(jobs._senders.sending(one) for one in self.asked))
            if self._state(job) != JobState.DONE:
                jobs.start(job)
            self._until(lambda job=job: CutJob.objects.get(pk=job).outcome is not None)
            told = CutJob.objects.get(pk=job).outcome
            assert told["as_promised"], told
            assert told["came_off"] == told["promised"]
            assert self.foreign or not told["foreign"]
        self._until(lambda: not any(jobs._senders.sending(one) for one in self.asked))
        for model in (CutStroke, JobStroke, CutJob, Design):
            model.objects.all().delete()
        shop.forget_machine(MACHINES[0].name)


def tried(orders: int) -> None:
    """Tries so many random orders."""
    quiet = settings(
        max_examples=orders, stateful_step_count=14, deadline=None, derandomize=orders < 500, database=None,
        suppress_health_check=list(HealthCheck), phases=[Phase.generate],
    )  # fmt: skip
    run(Orders, settings=quiet)


def main(orders: int = 2_000) -> int:
    """Tries orders in a shop of its own, and says so."""
    call_command("migrate", verbosity=0)
    tried(orders)
    print(f"{orders} orders of events: all as promised")
    return 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
