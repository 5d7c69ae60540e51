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

from django.db.models import TextChoices
from django.utils import timezone


class State(TextChoices):
    WAITING = "waiting"
    CUTTING = "cutting"
    PAUSED = "paused"
    LOST = "lost"
    OFF = "off"
    NO_FILM = "no-film"
    STOPPED = "stopped"
    DONE = "done"


_HELD = frozenset({State.PAUSED, State.LOST, State.OFF, State.NO_FILM})

ENDED = frozenset({State.DONE, State.STOPPED, State.WAITING})
"""What is let go when there are too many: nothing of it is at a machine."""


class Event(Enum):
    """What happens to a job: the states in which it can, and the state that it leads to."""

    START = _HELD | {State.WAITING, State.STOPPED}, State.CUTTING
    PAUSE = frozenset({State.CUTTING}), State.PAUSED
    STOP = _HELD | {State.CUTTING}, State.STOPPED
    LINE_LOST = frozenset({State.CUTTING}), State.LOST
    SWITCHED_OFF = frozenset({State.CUTTING}), State.OFF
    FILM_OUT = frozenset({State.CUTTING}), State.NO_FILM
    FINISHED = frozenset({State.CUTTING}), State.DONE

    @property
    def states(self) -> frozenset[State]:
        return self.value[0]

    @property
    def leads_to(self) -> State:
        return self.value[1]


def happens(event: Event, job: UUID | None = None, **more: Any) -> bool:
    """Notes that something happened to a job, or to every job that it can happen to; with what else is known
    of it. False where the job's state does not allow it: then nothing is changed."""
    from designs.models import CutJob

    jobs = CutJob.objects.filter(state__in=event.states)
    if job is not None:
        jobs = jobs.filter(pk=job)
    return bool(jobs.update(state=event.leads_to, changed=timezone.now(), **more))
