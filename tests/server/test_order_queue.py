"""Rows through the queue, by both backends: in this folder, and in a Redis."""

import os
import random
import shutil
import subprocess
import sys
from types import SimpleNamespace
from uuid import uuid4

import psutil
import pytest
from django_tasks.base import TaskResultStatus

from orders import dispatch as dispatching
from orders import keeping
from orders.dispatch import GIVEN_UP, Dispatch
from orders.parcels import ParcelFolder, ParcelsInRedis
from orders.tasks import work_rows
from tests.fonts import make_font
from tests.order_faults import (
    NAMES,
    RECIPE,
    Redis,
    finished,
    kill_server,
    kill_worker,
    make,
    rounds,
    what_they_came_to,
    workers_of,
)
from tests.served import ROOT, Server


@pytest.fixture(scope="module")
def redis(tmp_path_factory):
    if shutil.which("redis-server") is None:
        pytest.skip("there is no Redis here: ./fulgen test installs it where it can")
    redis = Redis(tmp_path_factory.mktemp("redis"))
    yield redis
    redis.kill()


@pytest.fixture(scope="module")
def servers():
    """Servers by how their queue is reached, once they were asked for."""
    started: dict[str, Server] = {}
    yield started
    for server in started.values():
        server.stop()


@pytest.fixture(params=["here", "redis"])
def queued(request, servers, tmp_path_factory):
    """A server whose queue is in its folder, and one with a Redis."""
    if request.param not in servers:
        queue = request.getfixturevalue("redis").url if request.param == "redis" else ""
        server = Server(tmp_path_factory.mktemp(f"shop-{request.param}"), FULGEN_QUEUE=queue)
        server.start()
        servers[request.param] = server
    return servers[request.param]


@pytest.fixture
def inside(api):
    """The same order worked out without any queue."""

    def rows(names=NAMES):
        design = api.post("/designs", {"name": "Strip", "recipe": RECIPE})[1]["id"]
        order = api.post("/orders", {"design": design})[1]["id"]
        api.post(f"/orders/{order}/rows", {"rows": [{"words:name": name} for name in names]})
        return api.get(f"/orders/{order}/rows")[1]["rows"]

    return rows


class TestBothQueues:
    def test_rows_come_to_the_same_as_without_a_queue(self, queued, inside):
        assert what_they_came_to(finished(queued, make(queued))) == what_they_came_to(inside())

    def test_a_worker_that_is_killed_is_taken_over_from(self, queued):
        assert rounds(queued, kill_worker, 2, seed=3)[0] == 2

    def test_it_goes_on_after_a_restart_of_the_server(self, queued):
        assert rounds(queued, kill_server, 2, seed=5)[0] == 2

    def test_workers_end_with_their_server(self, queued):
        make(queued)
        members = workers_of(queued)
        kill_server(queued, random.Random(1))
        _, alive = psutil.wait_procs(members, timeout=30)
        assert alive == []


def test_it_goes_on_when_the_queue_was_lost(redis, tmp_path):
    server = Server(tmp_path, FULGEN_QUEUE=redis.url)
    server.start()

    def kill_redis(_server, _rng):
        redis.kill()
        redis.start()

    try:
        assert rounds(server, kill_redis, 2, seed=7)[0] == 2
    finally:
        server.stop()


def test_a_worker_of_another_machine_has_only_the_queue_in_common(redis, tmp_path):
    """The server is kept from hiring; a worker started beside it does the work, with faces that only the shop
    has, also when they are taken off its list meanwhile."""
    for name in ("shop", "elsewhere", "redis"):
        (tmp_path / name).mkdir()
    own = Redis(tmp_path / "redis")
    server = Server(tmp_path / "shop", FULGEN_QUEUE=own.url, FULGEN_CREW="0")
    elsewhere = {**server.env, "FULGEN_DATA": str(tmp_path / "elsewhere")}
    command = [sys.executable, "-m", "django", "work", "--workers", "1"]
    try:
        server.start()
        order = make(server)
        assert server.call("GET", f"/orders/{order}/rows")["workers"] == 0
        face = server.send_file("/own-faces", "mine.ttf", make_font(letters="abc"))["slug"]
        own_row = {"words:name": "abc", "face:": "Test Square"}
        server.call("POST", f"/orders/{order}/rows", {"rows": [own_row]})
        server.call("DELETE", f"/own-faces/{face}")
        with subprocess.Popen(command, env=elsewhere, stdout=subprocess.DEVNULL) as worker:
            try:
                rows = finished(server, order)
            finally:
                worker.terminate()
        assert {row["state"] for row in rows} == {"as-designed"}
        assert rows[-1]["values"]["face:"] == "Test Square"
    finally:
        server.stop()
        own.kill()


@pytest.mark.parametrize("command", ["work", "set_up"])
def test_a_queue_that_does_not_answer_is_said(tmp_path, command):
    env = {**os.environ, "FULGEN_DATA": str(tmp_path), "FULGEN_QUEUE": "redis://127.0.0.1:1/0",
           "PYTHONPATH": os.pathsep.join(map(str, (ROOT / "core", ROOT / "server"))),
           "DJANGO_SETTINGS_MODULE": "fulgen_server.settings"}  # fmt: skip
    told = subprocess.run([sys.executable, "-m", "django", command], env=env, capture_output=True, text=True)
    assert told.returncode != 0
    assert "The queue at redis://127.0.0.1:1/0 does not answer" in told.stderr
    assert "Traceback" not in told.stderr


class FakeQueue:
    """A queue that answers at once, but for one row, on which every worker dies."""

    def __init__(self, poison):
        self.poison, self.results, self.sizes = poison, {}, []

    def enqueue(self, asked):
        numbers = [row["number"] for row in asked["rows"]]
        self.sizes.append(len(numbers))
        failed = self.poison in numbers
        result = SimpleNamespace(
            id=uuid4(), is_finished=True, errors=[], worker_ids=[],
            status=TaskResultStatus.FAILED if failed else TaskResultStatus.SUCCESSFUL,
            return_value=None if failed else work_rows.call(asked),
        )  # fmt: skip
        self.results[str(result.id)] = result
        return result

    def get_result(self, task_id):
        return self.results[task_id]


@pytest.mark.django_db(databases=["default", "queue"])
def test_a_poisoned_row_is_given_up_after_three_and_takes_no_other_along(api, monkeypatch):
    design = api.post("/designs", {"name": "Strip", "recipe": RECIPE})[1]["id"]
    order = keeping.make(design)
    keeping.stop(order.pk, stopped=True)
    keeping.add_rows(order.pk, [{"words:name": name} for name in NAMES[:12]])
    keeping.stop(order.pk, stopped=False)
    queue = FakeQueue(poison=7)
    monkeypatch.setattr(dispatching, "work_rows", queue)
    monkeypatch.setattr(dispatching, "default_task_backend", queue)
    monkeypatch.setattr(dispatching.crew, "runs", True)
    monkeypatch.setattr(dispatching.crew, "keep", lambda busy: None)
    monkeypatch.setattr(dispatching.crew, "size", 1)
    at_work = Dispatch()
    for _ in range(40):
        at_work.step()
    rows = {row.number: row for row in order.rows.all()}
    assert (rows[7].state, rows[7].reasons) == ("cannot-be-made", [GIVEN_UP])
    assert {row.state for number, row in rows.items() if number != 7} == {"as-designed"}
    # The first four and the last four go alone; of the four between them one is poisoned: they are tried
    # again, each by itself, and that one twice more.
    assert queue.sizes[:5] == [1, 1, 1, 1, 4]
    assert queue.sizes[5:] == [1] * (4 + 4 + 1)


class TestParcels:
    @pytest.fixture(params=["folder", "redis"])
    def parcels(self, request, tmp_path):
        if request.param == "folder":
            return ParcelFolder(tmp_path)
        return ParcelsInRedis(request.getfixturevalue("redis").url)

    def test_what_was_laid_down_is_fetched(self, parcels):
        digest = parcels.lay_down(b"a design")
        assert parcels.lay_down(b"a design") == digest
        assert parcels.fetch(digest) == b"a design"

    @pytest.mark.parametrize("name", ["0" * 64, "../fulgen.sqlite3", "", "A" * 64])
    def test_what_is_none_is_not_found(self, parcels, name):
        with pytest.raises(LookupError):
            parcels.fetch(name)
