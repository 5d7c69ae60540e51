"""The states of a job at a cutter, and what leads from one to another.

    waiting ──start──▶ cutting ──finished──▶ done
                        │  ▲
        pause, stop, a line lost, power off, film out
                        ▼  │ start
              paused, stopped, lost, off, no-film

A job changes its state here and nowhere else: in one step of the database, and only where the state it is in
allows it. So two who ask at once, or a server that comes back, can never have a job in two states.
"""

from __future__ import annotations

from enum import Enum
from typing import Any
from uuid import UUID

from django.utils import timezone

from designs.models import CutJob, JobState

_HELD = frozenset({JobState.PAUSED, JobState.LOST, JobState.OFF, JobState.NO_FILM})

ENDED = frozenset({JobState.DONE, JobState.STOPPED, JobState.WAITING})
"""What is let go when there are too many: nothing of it is at a machine."""


class Event(Enum):
    """What happens to a job: the states in which it can, and the state that it leads to."""

    START = _HELD | {JobState.WAITING, JobState.STOPPED}, JobState.CUTTING
    PAUSE = frozenset({JobState.CUTTING}), JobState.PAUSED
    STOP = _HELD | {JobState.CUTTING}, JobState.STOPPED
    LINE_LOST = frozenset({JobState.CUTTING}), JobState.LOST
    SWITCHED_OFF = frozenset({JobState.CUTTING}), JobState.OFF
    FILM_OUT = frozenset({JobState.CUTTING}), JobState.NO_FILM
    FINISHED = frozenset({JobState.CUTTING}), JobState.DONE

    @property
    def states(self) -> frozenset[JobState]:
        return self.value[0]

    @property
    def leads_to(self) -> JobState:
        return self.value[1]


def happens(event: Event, job: UUID | None = None, **more: Any) -> bool:
    """Notes that something happened to a job, or to every job that it can happen to; with what else is known
    of it. False where the job's state does not allow it: then nothing is changed."""
    jobs = CutJob.objects.filter(state__in=event.states)
    if job is not None:
        jobs = jobs.filter(pk=job)
    return bool(jobs.update(state=event.leads_to, changed=timezone.now(), **more))
