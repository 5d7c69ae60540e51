"""Orders while servers, workers and queues are killed at any moment: in the end every row has the result that
it has where nothing is killed, once. Used by the tests, and run for many rounds by hand:

    python -m tests.order_faults 50 [seed] [kinds of faults]
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
import threading
import time
import urllib.error
from collections.abc import Callable, Sequence
from contextlib import nullcontext
from pathlib import Path
from typing import Any

import psutil

from tests.served import Server, until

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
        until(self._answers, bool, "Redis answers")

    def _answers(self) -> bool:
        try:
            socket.create_connection(("127.0.0.1", self.port), timeout=1).close()
        except OSError:
            return False
        return True

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
    told = until(
        lambda: server.call("GET", f"/orders/{order}/rows"),
        lambda told: not told["working"],
        "all worked out",
        seconds,
    )
    rows: list[dict[str, Any]] = told["rows"]
    return rows


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


def two_windows(server: Server, count: int, seed: int) -> int:
    """So many orders, each changed by two windows at once: rows added, changed and taken out. How many hold
    in the end just what was accepted."""
    right = 0
    for number in range(count):
        order = make(server, NAMES[:6])
        accepted: list[tuple[str, Any]] = []
        lock = threading.Lock()

        def window(name: str, dice: random.Random, order: str = order, lock: Any = lock,
                   accepted: list[tuple[str, Any]] = accepted) -> None:  # fmt: skip
            for step in range(8):
                words = f"{name} {step}"
                seen = server.call("GET", f"/orders/{order}/rows")["change"]
                row = dice.randrange(1, 7)
                with lock if dice.random() < 0.3 else nullcontext():
                    try:
                        if dice.random() < 0.5:
                            body = {"rows": [{"words:name": words}]}
                            server.call("POST", f"/orders/{order}/rows", body)
                            accepted.append(("added", words))
                        else:
                            body = {"values": {"words:name": words}, "based_on": seen}
                            server.call("PUT", f"/orders/{order}/rows/{row}", body)
                            accepted.append((f"row {row}", words))
                    except urllib.error.HTTPError as refused:
                        if refused.code != 409:
                            raise

        threads = [threading.Thread(target=window, args=(name, random.Random(f"{seed} {number} {name}")))
                   for name in ("port", "starboard")]  # fmt: skip
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        rows = {row["number"]: row for row in finished(server, order)}
        words = [row["values"]["words:name"] for row in rows.values()]
        added = sorted(said for what, said in accepted if what == "added")
        are_added = sorted(words[6:]) == added
        changed = {n: [said for what, said in accepted if what == f"row {n}"] for n in range(1, 7)}
        are_changed = all(words[n - 1] in (said or [NAMES[n - 1]]) for n, said in changed.items())
        right += are_added and are_changed and all(row["state"] for row in rows.values())
    return right


def disk_full(folder: Path, count: int, seed: int) -> int:
    """So many orders to which rows are added until the disk is full, on a disk of memory (needs root), each
    with a little more or less room. How many hold in the end just the rows that were accepted, all worked out
    once there is room."""
    rng = random.Random(seed)
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=160m", "tmpfs", folder], check=True)
    right = 0
    try:
        server = Server(folder)
        server.start()
        filler = folder / "filler"
        for _ in range(count):
            order = make(server, NAMES[:4])
            finished(server, order)
            room = shutil.disk_usage(folder).free
            filler.write_bytes(b"\0" * max(0, room - rng.randrange(20_000, 200_000)))
            accepted = 4
            for step in range(400):
                try:
                    body = {"rows": [{"words:name": f"{NAMES[step % len(NAMES)]} {step}"}]}
                    server.call("POST", f"/orders/{order}/rows", body)
                    accepted += 1
                except urllib.error.HTTPError as refused:
                    if refused.code != 507:
                        raise
                    break
            filler.unlink()
            rows = finished(server, order, 400)
            is_right = len(rows) == accepted and all(row["state"] == "as-designed" for row in rows)
            print(
                f"  {accepted} rows accepted, {len(rows)} there: {'right' if is_right else 'wrong'}",
                flush=True,
            )
            right += is_right
            server.call("DELETE", f"/orders/{order}")
        server.stop()
    finally:
        subprocess.run(["umount", "-l", folder], check=True)
    return right


def run(name: str, count: int, seed: int) -> str:
    """One kind of fault so many times; what came of it."""
    with tempfile.TemporaryDirectory() as work:
        folder = Path(work) / "shop"
        folder.mkdir()
        if name == "disk full":
            return f"{disk_full(folder, count, seed)} of {count} right"
        redis = Redis(Path(work)) if name.endswith("redis") else None

        def kill_redis(_server: Server, _rng: random.Random) -> None:
            assert redis is not None
            redis.kill()
            redis.start()

        server = Server(folder, FULGEN_QUEUE=redis.url if redis else "")
        server.start()
        try:
            if name == "two windows":
                return f"{two_windows(server, count, seed)} of {count} right"
            faults = {"worker": kill_worker, "server": kill_server, "queue": kill_redis}
            right, met = rounds(server, faults[name.split()[0]], count, seed)
            return f"{right} of {count} right, {met} met it at work"
        finally:
            server.stop()
            if redis:
                redis.kill()


RUNS = ("worker", "server", "worker, redis", "server, redis", "queue, redis", "two windows", "disk full")


def main(count: int, seed: int, names: Sequence[str] = RUNS) -> None:
    for name in names:
        began = time.monotonic()
        told = run(name.replace(",", ""), count, seed)
        print(f"{name}: {told}, {time.monotonic() - began:.0f} s", flush=True)


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1, sys.argv[3:] or RUNS)
