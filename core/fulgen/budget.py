"""A budget of work: what one computation may cost, however odd the recipe that asks for it.

Bounds on what goes in (letters, sides, crossings) keep ordinary work quick, but no set of them bounds what
their combinations cost. So a computation is given seconds of its thread's processor time, and the places
where work repeats call ``check``. Who gives a budget may also turn away: then the work ends at the next
check. Outside ``within`` nothing is bounded.

What is raised inside is no Problem, so that no result is ever taken from it and kept.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Literal, ParamSpec, TypeVar

from fulgen.problem import Problem

Given = ParamSpec("Given")
Result = TypeVar("Result")

Priority = Literal["first", "any", "last"]
"""Whose turn it is where one process works at several things: what goes last gives way to what goes first."""

_LOOK_S = 0.05
"""How often it is asked whether the work is still wanted, in seconds of the thread's processor time."""


class _Exhausted(BaseException):
    """The budget is used up."""


class Cancelled(BaseException):
    """Nobody waits for the result any more."""


_GIVES_WAY_S = 0.05
"""Who gives way goes on after so long for a while: it may hold what the other one waits for."""


@dataclass
class _Budget:
    ends: float
    wanted: Callable[[], bool]
    next_look: float
    priority: Priority = "any"


_ahead = 0
"""How many computations that go first are on their way in this process."""
_none_ahead = threading.Condition()
_budget: ContextVar[_Budget | None] = ContextVar("budget", default=None)


@contextmanager
def within(
    seconds: float, wanted: Callable[[], bool] = lambda: True, turn: Priority = "any"
) -> Iterator[None]:
    """What is done inside may take so many seconds of this thread's processor time, while it is wanted.
    What goes ``last`` gives way, wherever it checks, to what goes ``first``.

    Raises Problem "too-much" when it takes more, or more memory or depth than there is; Unwanted when nobody
    waits any more.
    """
    now = time.thread_time()
    token = _budget.set(_Budget(now + seconds, wanted, now + _LOOK_S, turn))
    try:
        with _goes_first() if turn == "first" else nullcontext():
            yield
    except (_Exhausted, MemoryError, RecursionError):
        raise too_much_work() from None
    finally:
        _budget.reset(token)


@contextmanager
def _goes_first(by: int = 1) -> Iterator[None]:
    _count_ahead(by)
    try:
        yield
    finally:
        _count_ahead(-by)


def _count_ahead(by: int) -> None:
    global _ahead
    with _none_ahead:
        _ahead += by
        if not _ahead:
            _none_ahead.notify_all()


def waiting() -> AbstractContextManager[None]:
    """While one computation waits for what another one makes, that one need not give way to it."""
    budget = _budget.get()
    return _goes_first(-1) if budget is not None and budget.priority == "first" else nullcontext()


def check() -> None:
    """Ends the work here when its budget is used up or nobody waits any more."""
    budget = _budget.get()
    if budget is None:
        return
    if _ahead and budget.priority == "last":
        with _none_ahead:
            _none_ahead.wait_for(lambda: not _ahead, _GIVES_WAY_S)
    now = time.thread_time()
    if now > budget.ends:
        raise _Exhausted
    if now > budget.next_look:
        budget.next_look = now + _LOOK_S
        if not budget.wanted():
            raise Cancelled


def with_this_budget(work: Callable[Given, Result]) -> Callable[Given, Result]:
    """The work as a part of this budget for another thread: it may take what is left of it now."""
    budget = _budget.get()
    left = 0.0 if budget is None else budget.ends - time.thread_time()

    def bounded(*given: Given.args, **named: Given.kwargs) -> Result:
        if budget is None:
            return work(*given, **named)
        now = time.thread_time()
        token = _budget.set(_Budget(now + left, budget.wanted, now + _LOOK_S, budget.priority))
        try:
            return work(*given, **named)
        finally:
            _budget.reset(token)

    return bounded


def too_much_work() -> Problem:
    """What is said of a computation that was ended because it took too much."""
    return Problem(
        "too-much",
        "This is too much to work out at once.",
        "Undo the last change, or split the design: fewer letters, repairs or points at a time.",
    )
