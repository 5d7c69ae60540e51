"""Jobs at the cutter while the server and the machine are killed again and again, at any moment: in the
end what was promised came off, every finished piece was known, and nobody else cut. Used by the tests, and
run for hundreds of kills by hand:

    python -m tests.kills 100 [seed]
"""

from __future__ import annotations

import os
import random
import signal
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal
from uuid import uuid4

import psutil

from tests import served
from tests.served import Server

Victim = Literal["server", "machine"]

MACHINES: dict[str, dict[str, Any]] = {
    "knife": {"kind": "knife", "offset_mm": 0.25, "overcut_mm": 0.5},
    "offset of 1 mm": {"kind": "knife", "offset_mm": 1.0, "overcut_mm": 2.0},
    "laser": {"kind": "laser", "offset_mm": 0.0, "overcut_mm": 0.0, "kerf_mm": 0.15},
}
"""Machines by how they cut: with the knife of the shop, with a blade that trails far, and with a beam."""


@dataclass
class Outcome:
    """How a job ended after so many kills, and how often less was known than had been finished."""

    kills: int
    found: dict[str, Any]
    gone_back: int

    @property
    def is_right(self) -> bool:
        return bool(self.found["as_promised"]) and not self.found["foreign"] and self.gone_back == 0


def laid_out(server: Server, machine: str, copies: int, text: str = "") -> str:
    """A design's sheet, made ready for a machine; returns the job's path."""
    own = {**server.call("GET", "/machines")[0]["machine"], "name": machine, **MACHINES[machine]}
    server.call("PUT", "/machines", {"machine": own})
    heart = {"kind": "shape", "id": "h", "form": "heart", "width_mm": 40.0, "height_mm": 40.0}
    word = {"id": "w", "text": text, "join": {"how": "auto"}, "size": {"measure": "capitals", "mm": 25.0}}
    recipe = {"format": "fulgen-recipe", "version": 8, "parts": [word if text else heart],
              "cut": {"copies": copies, "machine": machine}}  # fmt: skip
    body = {"name": "Yard", "recipe": recipe}
    design = server.call("POST", "/designs", body)["id"]
    key = server.call("POST", "/cut/sheets", body)["sheets"][0]["key"]
    asked = {**body, "job": str(uuid4()), "design": design, "sheet": 0, "key": key}
    return f"/jobs/{server.call('POST', '/cut/job', asked)['id']}"


def machine_of(server: Server) -> psutil.Process | None:
    """The process of the server's cutter."""
    for process in psutil.Process(server.process.pid).children(recursive=True):
        try:
            if "cutters.simulated" in process.cmdline():
                return process
        except psutil.Error:
            continue
    return None


def until(server: Server, path: str, is_so: Callable[[dict[str, Any]], bool], what: str) -> dict[str, Any]:
    """A job, once something is so of it."""
    seen: dict[str, Any] = served.until(lambda: server.call("GET", path), is_so, what)
    return seen


def attacked(server: Server, path: str, victims: list[Victim], rng: random.Random) -> Outcome:
    """The job, cut while its server and its machine are killed in turn, as long as there are victims."""
    finished = gone_back = kills = 0
    for victim in victims:
        server.call("POST", f"{path}/start")
        strokes = server.call("GET", path)["strokes"]
        # On a little, and then at any moment within a stroke or between two.
        goal = min(finished + rng.randrange(3), strokes - 1)
        seen = until(server, path, lambda job, goal=goal: job["done"] >= goal or job["outcome"], "so far")
        if seen["state"] == "done":
            break
        moment = time.monotonic() + rng.uniform(0.0, 0.12)
        while time.monotonic() < moment:
            pass
        finished = server.call("GET", path)["done"]
        if victim == "server":
            server.process.send_signal(signal.SIGKILL)
            server.process.wait()
            server.start()
        else:
            process = machine_of(server)
            assert process is not None
            process.kill()
        kills += 1
        seen = until(server, path, lambda job: job["state"] != "cutting", "seen to be lost")
        gone_back += seen["done"] < finished
        finished = seen["done"]
        if seen["state"] == "done":
            break
    if server.call("GET", path)["state"] not in ("done", "cutting"):
        server.call("POST", f"{path}/start")
    found = until(server, path, lambda job: job["outcome"] is not None, "worked out")["outcome"]
    return Outcome(kills, found, gone_back)


def main(kills: int = 100, seed: int = 1) -> int:
    """Kills servers and machines so many times each, and says how the jobs ended."""
    rng = random.Random(seed)
    wrong = 0
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), FULGEN_CUTTER_PACE=os.environ.get("FULGEN_CUTTER_PACE", "4"))
        server.start()
        done: dict[Victim, int] = {"server": 0, "machine": 0}
        jobs = 0
        while min(done.values()) < kills:
            machine = rng.choice(list(MACHINES))
            path = laid_out(server, machine, 1 if jobs % 3 == 0 else 4, "Heron" if jobs % 3 == 0 else "")
            victims: list[Victim] = rng.choices(["server", "machine"], k=rng.randrange(2, 7))
            outcome = attacked(server, path, victims, rng)
            jobs += 1
            for victim in victims[: outcome.kills]:
                done[victim] += 1
            wrong += not outcome.is_right
            if not outcome.is_right:
                print(f"  {machine}, {victims}: {outcome}", flush=True)
        server.stop()
    print(
        f"{jobs} jobs, {done['server']} kills of the server, {done['machine']} of the machine: {wrong} wrong"
    )
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
