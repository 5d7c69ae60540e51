"""Orders while servers, workers and queues are killed at any moment: in the end every row has the result that
it has where nothing is killed, once. Used by the tests, and run for many rounds by hand:

    python -m tests.order_faults 50 [seed]
"""

from __future__ import annotations

import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import psutil

from tests.served import Server

NAMES = (
    "Maud", "Jago", "Tern", "Wren", "Zoë", "Bartholomew", "Ansel", "Corwen", "Elowen", "Merryn", "Tamsin",
    "Denzil", "Petroc", "Lowenna", "Piers", "Rosalind", "Reed", "Sedge", "Otter", "Heron",
)  # fmt: skip
RECIPE = {
    "format": "fulgen-recipe",
    "version": 12,
    "parts": [
        {
            "kind": "lettering",
            "id": "name",
            "text": "Heron",
            "face": {"family": "pacifico"},
            "join": {"how": "auto"},
        }
    ],
}


class Redis:
    """A Redis of its own, on loopback; what it holds goes with it."""

    def __init__(self, folder: Path) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.folder = folder
        self.url = f"redis://127.0.0.1:{self.port}/0"
        self.start()

    def start(self) -> None:
        command = [
            shutil.which("redis-server") or "redis-server",
            "--port",
            str(self.port),
            "--bind",
            "127.0.0.1",
        ]
        command += ["--save", "", "--appendonly", "no", "--dir", str(self.folder)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        ends = time.monotonic() + 20
        while time.monotonic() < ends:
            try:
                socket.create_connection(("127.0.0.1", self.port), timeout=1).close()
                return
            except OSError:
                time.sleep(0.02)
        raise AssertionError("Redis did not start")

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()


def make(server: Server, names: Any = NAMES) -> str:
    """An order of names; returns its id."""
    design = server.call("POST", "/designs", {"name": "Strip", "recipe": RECIPE})["id"]
    order = str(server.call("POST", "/orders", {"design": design})["id"])
    server.call("POST", f"/orders/{order}/rows", {"rows": [{"words:name": name} for name in names]})
    return order


def finished(server: Server, order: str, seconds: float = 180) -> list[dict[str, Any]]:
    """The rows of an order, once all are worked out."""
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        told = server.call("GET", f"/orders/{order}/rows")
        if not told["working"]:
            rows: list[dict[str, Any]] = told["rows"]
            return rows
        time.sleep(0.1)
    raise AssertionError("the rows were not worked out")


def what_they_came_to(rows: list[dict[str, Any]]) -> list[tuple[Any, ...]]:
    """All of the rows that is the same however they were worked out."""
    names = ("number", "values", "state", "reasons", "width_mm", "height_mm", "pieces", "films")
    return [tuple(str(row[name]) for name in names) for row in rows]


def workers_of(server: Server) -> list[psutil.Process]:
    """The processes of a server that work for the queue: those with less weight."""
    found = []
    for process in psutil.Process(server.process.pid).children(recursive=True):
        try:
            if process.nice() >= 10:
                found.append(process)
        except psutil.Error:
            continue
    return found


def kill_worker(server: Server, rng: random.Random) -> None:
    members = workers_of(server)
    if members:
        rng.choice(members).kill()


def kill_server(server: Server, _rng: random.Random) -> None:
    server.process.send_signal(signal.SIGKILL)
    server.process.wait()
    server.start()


def rounds(
    server: Server, fault: Callable[[Server, random.Random], None], count: int, seed: int
) -> tuple[int, int]:
    """So many orders, each with a fault at some moment; how many came out right, and how often the fault came
    while rows were being worked out."""
    rng = random.Random(seed)
    expected = what_they_came_to(finished(server, make(server)))
    right = met = 0
    for _ in range(count):
        order = make(server)
        time.sleep(rng.random() * 0.5)
        met += bool(server.call("GET", f"/orders/{order}/rows")["working"])
        fault(server, rng)
        found = what_they_came_to(finished(server, order))
        right += found == expected
        for row, wanted in zip(found, expected, strict=True):
            if row != wanted:
                print(f"  {row} and not {wanted}", flush=True)
    return right, met


def main(count: int, seed: int) -> None:
    with tempfile.TemporaryDirectory() as work:
        redis = Redis(Path(work))

        def kill_redis(_server: Server, _rng: random.Random) -> None:
            redis.kill()
            redis.start()

        for queue, faults in (
            ("", (kill_worker, kill_server)),
            (redis.url, (kill_worker, kill_server, kill_redis)),
        ):
            folder = Path(work) / ("redis" if queue else "here")
            folder.mkdir()
            server = Server(folder, FULGEN_QUEUE=queue)
            server.start()
            for fault in faults:
                began = time.monotonic()
                right, met = rounds(server, fault, count, seed)
                name = f"{fault.__name__}, queue {'in Redis' if queue else 'here'}"
                seconds = time.monotonic() - began
                print(f"{name}: {right} of {count} right, {met} met it at work, {seconds:.0f} s", flush=True)
            server.stop()
        redis.kill()


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
