"""Work that gives way: what goes last waits at its checks while something goes first, and never for ever."""

import threading
import time

from fulgen import budget
from fulgen.bounded import Bounded


class Worker(threading.Thread):
    """Checks until it is told to end; counts its checks."""

    def __init__(self, turn):
        super().__init__(daemon=True)
        self.turn, self.checks, self.ends = turn, 0, threading.Event()
        self.started = threading.Event()

    def run(self):
        with budget.within(60.0, turn=self.turn):
            while not self.ends.is_set():
                budget.check()
                self.checks += 1
                self.started.set()


def checks_beside_something_first(turn):
    """How many checks are passed while something that goes first takes as long as a few waits."""
    worker = Worker(turn)
    worker.start()
    worker.started.wait(10)
    with budget.within(60.0, turn="first"):
        before = worker.checks
        until = time.monotonic() + 4 * budget._GIVES_WAY_S
        while time.monotonic() < until:
            threading.Event().wait(budget._GIVES_WAY_S)
        during = worker.checks - before
    before = worker.checks
    while worker.checks < before + 1000:  # it goes on as soon as nothing is ahead
        threading.Event().wait(0.001)
    worker.ends.set()
    worker.join(10)
    return during


def test_what_goes_last_gives_way():
    assert checks_beside_something_first("last") <= 20 < checks_beside_something_first("any")


def test_who_waits_for_what_another_makes_does_not_keep_that_one_waiting():
    kept, begun, entered, ahead = Bounded(1000), threading.Event(), threading.Event(), []

    def slow():
        begun.set()
        entered.wait(10)
        for _ in range(1000):
            if not budget._ahead:
                break
            threading.Event().wait(0.01)
        ahead.append(budget._ahead)
        return 1

    def last():
        with budget.within(60.0, turn="last"):
            kept.get("key", slow)

    thread = threading.Thread(target=last, daemon=True)
    thread.start()
    begun.wait(10)
    with budget.within(60.0, turn="first"):
        entered.set()
        assert kept.get("key", slow) == 1
    thread.join(10)
    assert ahead == [0]
