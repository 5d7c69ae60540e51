"""Work that gives way: what goes last waits at its checks while something goes first, and never for ever."""

import threading

import pytest

from fulgen import budget
from fulgen.bounded import BoundedCache


@pytest.mark.parametrize(("turn", "waits"), [("last", [budget._GIVES_WAY_S]), ("any", []), ("first", [])])
def test_only_what_goes_last_gives_way_and_only_while_something_goes_first(turn, waits, monkeypatch):
    waited = []
    monkeypatch.setattr(budget._none_ahead, "wait_for", lambda _, seconds: waited.append(seconds))
    with budget.within(60.0, turn="first"), budget.within(60.0, turn=turn):
        budget.check()
    assert waited == waits
    with budget.within(60.0, turn=turn):
        budget.check()
    assert waited == waits


def test_what_gave_way_goes_on_when_nothing_is_ahead():
    gave_way, goes_on = threading.Event(), threading.Event()

    def last():
        with budget.within(60.0, turn="last"):
            budget.check()
            gave_way.set()
            goes_on.wait(10)
            budget.check()

    thread = threading.Thread(target=last, daemon=True)
    with budget.within(60.0, turn="first"):
        thread.start()
        assert gave_way.wait(10)  # it never waits for ever, either
    goes_on.set()
    thread.join(10)
    assert not thread.is_alive()


def test_who_waits_for_what_another_makes_does_not_keep_that_one_waiting():
    kept, begun, entered, ahead = BoundedCache(1000), threading.Event(), threading.Event(), []

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
