"""The pool: what a job may cost, what becomes of it and of others when it costs more, and who answers
meanwhile."""

import json
import os
import sys
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress

import psutil
import pytest
from django.conf import settings

from computing import pool as workers
from computing.pool import Job, Pool
from fulgen.problem import Problem
from tests.server import odd_worker


def job(what, seconds=0.5):
    return Job("request", what, seconds)


@pytest.fixture
def pool(monkeypatch):
    # As ./fulgen does: what workers are forked from finds its modules by it.
    monkeypatch.setenv("PYTHONPATH", os.pathsep.join(sys.path))
    workers.prepare("fulgen_server.worker")
    return Pool(odd_worker.work)


@pytest.fixture
def sign(tmp_path):
    """A file that a job waits for."""
    return tmp_path / "go on"


def busy(pool, count=1):
    """Waits until so many workers are at something."""
    while sum(bool(worker.began) for worker in pool._workers) < count:
        pass


def said(pool, what="say", design="", **more):
    return pool.answer(job(what), design, **more).content.decode()


def has_ended(process):
    """Waits until a process is no more."""
    with suppress(psutil.NoSuchProcess):
        psutil.Process(process).wait(timeout=20)
    return not psutil.pid_exists(process)


def refused(pool, what, **more):
    try:
        return json.loads(pool.answer(job(what), **more).content)["kind"]
    except Problem as problem:
        return problem.kind


def test_a_design_stays_with_its_worker(pool):
    assert len({said(pool, design="a") for _ in range(4)}) == 1


def test_questions_of_one_design_are_answered_side_by_side_by_one_worker(pool, sign):
    said(pool)
    with ThreadPoolExecutor(1) as threads:
        waiting = threads.submit(said, pool, f"wait for {sign}", "a")
        busy(pool)
        assert said(pool, design="a")
        sign.touch()
        assert waiting.result() == "waited"
    assert len(pool.processes) == 1


def test_another_design_has_another_worker_while_the_first_is_busy(pool, sign):
    first = said(pool, design="a")
    with ThreadPoolExecutor(1) as threads:
        waiting = threads.submit(said, pool, f"wait for {sign}", "a")
        busy(pool)
        assert said(pool, design="b") != first
        sign.touch()
        waiting.result()


@pytest.mark.parametrize("what", ["spin", "hang", "eat", "crash"])
def test_a_job_beyond_its_budget_is_told_and_the_next_one_answered(pool, what):
    assert refused(pool, what) == "too-much"
    assert said(pool)


def test_what_nobody_foresaw_is_an_answer_and_the_worker_goes_on(pool):
    before = said(pool)
    assert refused(pool, "fail") == "server"
    assert said(pool) == before


def test_a_job_that_can_be_ended_leaves_its_worker_with_all_it_knows(pool):
    before = said(pool)
    refused(pool, "spin")
    assert said(pool) == before


def test_what_stands_beside_a_job_that_kills_its_worker_is_asked_again(pool):
    with ThreadPoolExecutor(2) as threads:
        hanging = threads.submit(refused, pool, "hang", design="a")
        busy(pool)
        beside = threads.submit(said, pool, "say", "a")
        assert hanging.result() == "too-much"
        assert beside.result().isdigit()


class TestWhoeverAskedHasGone:
    def test_the_job_ends_and_the_worker_stays(self, pool):
        before = said(pool)
        assert pool.answer(job("spin", 60), gone=lambda: True) is None
        assert said(pool) == before

    def test_the_next_question_goes_to_the_worker_that_knows_the_design(self, pool, monkeypatch):
        monkeypatch.setattr(workers, "_LONG_S", 0.05)
        monkeypatch.setattr(workers, "_LET_GO_S", 5.0)
        before, left = said(pool, design="a"), []
        with ThreadPoolExecutor(1) as threads:
            spinning = threads.submit(pool.answer, job("spin", 60), "a", lambda: bool(left))
            busy(pool)
            while not pool._workers[0].is_long:
                pass
            left.append(True)
            assert said(pool, design="a") == before
            assert spinning.result() is None

    def test_a_worker_that_does_not_hear_is_ended(self, pool, monkeypatch):
        monkeypatch.setattr(workers, "_STOP_S", 0.2)
        before = said(pool)
        with pytest.raises(Problem):
            pool.answer(job("hang", 60), gone=lambda: True)
        assert has_ended(int(before))
        assert said(pool) != before


def test_more_than_may_wait_are_told_that_it_is_busy(pool, sign, monkeypatch):
    monkeypatch.setattr(workers, "MOST_WAITING", 0)
    assert refused(pool, "say") == "busy"


def test_one_that_waits_too_long_for_a_worker_is_told_that_it_is_busy(pool, sign, monkeypatch):
    monkeypatch.setattr(workers, "MOST_WORKERS", 1)
    monkeypatch.setattr(workers, "LINES", 1)
    monkeypatch.setattr(workers, "_WAIT_S", 0.05)
    said(pool)
    with ThreadPoolExecutor(1) as threads:
        waiting = threads.submit(said, pool, f"wait for {sign}")
        busy(pool)
        assert refused(pool, "say") == "busy"
        sign.touch()
        assert waiting.result() == "waited"


def test_one_whose_own_clock_has_hardly_run_is_not_told_that_it_is_too_much(pool, sign, monkeypatch):
    # It only waits, as a job does that others take the time from.
    with monkeypatch.context() as short:
        short.setattr(workers, "_WALL_S", 0.5)
        assert refused(pool, f"wait for {sign}") == "busy"
    sign.touch()
    assert said(pool)


def test_no_more_than_a_few_take_long_at_once(pool, monkeypatch):
    monkeypatch.setattr(workers, "MOST_LONG", 1)
    monkeypatch.setattr(workers, "_LONG_S", 0.1)
    with ThreadPoolExecutor(3) as threads:
        told = sorted(threads.map(lambda n: refused(pool, "spin", design=f"{n}"), range(3)))
    assert told.count("busy") >= 1
    assert told.count("too-much") >= 1
    assert said(pool)


def test_workers_beyond_those_at_rest_are_let_go(pool, sign, monkeypatch):
    monkeypatch.setattr(workers, "_IDLE_S", 0.0)
    with ThreadPoolExecutor(6) as threads:
        waiting = [threads.submit(said, pool, f"wait for {sign}", f"{n}") for n in range(6)]
        busy(pool, 6)
        sign.touch()
        assert [one.result() for one in waiting] == ["waited"] * 6
    said(pool)
    assert len(pool.processes) <= workers.AT_REST


def test_a_file_that_is_not_read_in_ten_seconds_of_work_is_refused():
    """The budget of a job, and what the system allows beyond it before it ends the process."""
    assert set(settings.UPLOADS) <= settings.PATIENCE.keys()
    for path in settings.UPLOADS:
        assert workers.JOB_S * settings.PATIENCE[path] + odd_worker.worker._GRACE_S < 10
