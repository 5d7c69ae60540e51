"""The bench cutter: a simulated machine in a process of its own, started by the server.

It listens at two sockets of this machine. At the first it takes HP-GL like a plotter, moves its carriage
along at its own pace, and answers OA (where it is) and OS (how it is) when all before is done; one sender at
a time. At the second stands its *panel*, which is what a person at a real machine would see and do: a line of
JSON asks, a line answers.

The film that lies in it is a file, written as it is cut: what was cut stays cut, whatever happens to this
process. A film that was taken out half cut can be laid in again.

HP-GL: see ``fulgen.formats.hpgl_text``."""

from __future__ import annotations

import asyncio
import fcntl
import json
import math
import os
import re
import sys
import time
from collections import deque
from contextlib import suppress
from pathlib import Path
from typing import Any

from fulgen.formats.hpgl_text import UNITS_PER_MM, Carriage, Step, instructions, stroke_lines
from fulgen.problem import Problem
from fulgen.sheet.pace import LIFTED_TIMES

_TICK_S = 0.01
_MOST_WAITING = 4_000
"""Steps that it holds; a sender waits when there are more."""

_LONGEST = 1_000_000
_MOST_UNWRITTEN = 2**24
_MOST_FILMS = 40

_READY = 16
"""The status of a plotter that is ready for data (HP 7475A manual, bit 4; from memory)."""

Point = tuple[float, float]


class Film:
    """A sheet of film with what was cut into it, stroke by stroke: the pen, whether it was the job's own
    sender that cut it, and the points. In its file a line is a stroke."""

    def __init__(self, path: Path, height: float = 300.0, speed: float = 100.0) -> None:
        self.path, self.height, self.speed = path, height, speed
        self.strokes: list[tuple[int, bool, list[Point]]] = []
        self.is_being_cut = False
        if path.exists():
            self._read()
        else:
            path.write_text(f"{height} {speed}\n", "ascii")
        # Room for all that is cut between two flushes: a point is written whole or not at all.
        self._file = path.open("a", _MOST_UNWRITTEN, encoding="ascii")
        if self.is_being_cut:
            self._write("\n")

    def _read(self) -> None:
        text = self.path.read_text("ascii")
        first, *lines = text.split("\n")
        self.height, self.speed = (float(number) for number in first.split())
        self.is_being_cut = bool(lines and lines[-1])
        for line in filter(None, lines):
            pen, own, *points = line.split()
            self.strokes.append((int(pen), own == "1", [_point(point) for point in points]))

    def _write(self, text: str) -> None:
        self._file.write(text)

    def lower(self, pen: int, own: bool, at: Point) -> None:
        self.lift()
        self.strokes.append((pen, own, [at]))
        self._write(f"{pen} {int(own)} {at[0]:.2f},{at[1]:.2f}")
        self.is_being_cut = True

    def cut_to(self, to: Point) -> None:
        self.strokes[-1][2].append(to)
        self._write(f" {to[0]:.2f},{to[1]:.2f}")

    def lift(self) -> None:
        if self.is_being_cut:
            self._write("\n")
            self.is_being_cut = False

    def flush(self) -> None:
        self._file.flush()

    def close(self) -> None:
        self.lift()
        self._file.close()

    def finished(self, first: int) -> list[tuple[str, bool]]:
        """The strokes from that number on that the knife has been lifted from, as HP-GL, and whether each
        is the job's own."""
        whole = self.strokes[first : len(self.strokes) - 1 if self.is_being_cut else None]
        return [("".join(stroke_lines(points, pen)), own) for pen, own, points in whole]


def _point(text: str) -> Point:
    x, _, y = text.partition(",")
    return float(x), float(y)


class Cutter:
    """The machine: its carriage, what it is to do, and the film that lies in it."""

    def __init__(self, folder: Path, pace: float) -> None:
        self._folder, self.pace = folder, pace
        self.on = self.plugged = True
        self.film_mm = math.inf
        self.no_film = False
        self.ran_out = False
        """Whether the film ran out under this sender: what was sent is forgotten then, and a new film alone
        does not bring it back."""
        self.at = (0.0, 0.0)
        self.down = False
        self.pen = 0
        self.mm_s = 0.0
        """The speed that it was told to go at; 0: its usual one."""
        self.waiting: deque[tuple[Step | str, asyncio.StreamWriter]] = deque()
        self.sender: asyncio.StreamWriter | None = None
        self._own_ports: set[int] = set()
        self._room = asyncio.Event()
        self._room.set()
        self.sheet = ""
        self._begin_again()

    def _begin_again(self) -> None:
        """Takes up the film that lay in the machine when its last process ended."""
        with suppress(OSError, ValueError, KeyError):
            kept = json.loads((self._folder / "panel.json").read_text("ascii"))
            self.sheet = str(kept["sheet"])
            self.on, self.plugged, self.no_film = kept["on"], kept["plugged"], kept["no_film"]
            self.film_mm = math.inf if kept["film_mm"] is None else float(kept["film_mm"])
        self.film = Film(self._film_path(self.sheet))

    def _film_path(self, sheet: str) -> Path:
        return self._folder / f"{re.sub('[^0-9A-Za-z-]', '', sheet)[:60] or 'none'}.film"

    def _keep_panel(self) -> None:
        kept = {"sheet": self.sheet, "on": self.on, "plugged": self.plugged, "no_film": self.no_film,
                "film_mm": None if math.isinf(self.film_mm) else self.film_mm}  # fmt: skip
        beside = self._folder / "panel.new"
        beside.write_text(json.dumps(kept), "ascii")
        beside.replace(self._folder / "panel.json")

    # --- the sender's side ------------------------------------------------------------------------------

    async def serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if not self.on or not self.plugged or self.sender is not None:
            writer.close()  # off, no cable, or busy with somebody else
            return
        self.sender, self.ran_out = writer, False
        carriage, rest = Carriage(), ""
        carriage.at = self.at
        try:
            while data := await reader.read(65_536):
                rest += data.decode("latin-1")
                if len(rest) > _LONGEST:
                    break
                *whole, rest = rest.split(";")
                for text in whole:
                    self._take(text, carriage, writer)
                if len(self.waiting) > _MOST_WAITING:
                    self._room.clear()
                    await self._room.wait()
        except (ConnectionError, asyncio.CancelledError):
            pass
        finally:
            self._let_go(writer)

    def _let_go(self, writer: asyncio.StreamWriter) -> None:
        """What was sent and not done is forgotten with its sender; the knife goes up."""
        if self.sender is writer:
            self.sender = None
            self.waiting.clear()
            self._room.set()
            self._lift()
            self.film.flush()
        writer.close()

    def _take(self, text: str, carriage: Carriage, writer: asyncio.StreamWriter) -> None:
        try:
            for instruction in instructions(text, "what was sent"):
                if instruction[0] in ("OA", "OS"):
                    self.waiting.append((instruction[0], writer))
                self.waiting.extend((step, writer) for step in carriage.steps(instruction))
        except Problem:
            pass  # as a plotter does, it goes on with what it can read

    # --- the carriage -----------------------------------------------------------------------------------

    async def run(self) -> None:
        before = time.monotonic()
        while True:
            await asyncio.sleep(_TICK_S)
            now = time.monotonic()
            left = now - before
            before = now
            answers: list[tuple[asyncio.StreamWriter, str]] = []
            while left > 0 and self.waiting and self.on and not self.no_film:
                left = self._do(left, answers)
            # What is answered for is on the film for good.
            self.film.flush()
            for writer, text in answers:
                writer.write(text.encode())
            if len(self.waiting) < _MOST_WAITING // 2:
                self._room.set()

    def _do(self, seconds: float, answers: list[tuple[asyncio.StreamWriter, str]]) -> float:
        """Goes on with the first step for so long; returns the time that is left."""
        step, writer = self.waiting[0]
        if isinstance(step, str):
            x, y = self.at
            answers.append((writer, f"{x:.0f},{y:.0f},{int(self.down)}\r" if step == "OA" else f"{_READY}\r"))
        elif step.do == "to":
            return self._go((step.x, step.y), seconds)
        elif step.do == "pen":
            self.pen = step.pen
        elif step.do == "speed":
            self.mm_s = step.mm_s
        elif step.do == "down":
            self._lower(writer)
        else:
            self._lift()
        self.waiting.popleft()
        return seconds

    def _go(self, to: Point, seconds: float) -> float:
        away = math.dist(self.at, to)
        fast = (
            (self.mm_s or self.film.speed) * self.pace * UNITS_PER_MM * (1.0 if self.down else LIFTED_TIMES)
        )
        arrives = away <= fast * seconds
        if arrives:
            seconds -= away / fast
        else:
            share = fast * seconds / away
            to = (self.at[0] + (to[0] - self.at[0]) * share, self.at[1] + (to[1] - self.at[1]) * share)
            seconds = 0.0
        # The sheet runs in from its top: y is up from its lower edge.
        ends = (self.film.height - self.film_mm) * UNITS_PER_MM
        if self.down and to[1] < ends:
            if self.at[1] > ends:
                share = (self.at[1] - ends) / (self.at[1] - to[1])
                self.at = (self.at[0] + (to[0] - self.at[0]) * share, ends)
                self.film.cut_to(self.at)
            self.no_film = self.ran_out = True
            self._lift()
            self.waiting.clear()
            self._keep_panel()
            return 0.0
        if arrives:
            self.waiting.popleft()
        self.at = to
        if self.down:
            self.film.cut_to(to)
        return seconds

    def _lower(self, writer: asyncio.StreamWriter) -> None:
        if not self.down:
            self.down = True
            self.film.lower(self.pen, _port_of(writer) in self._own_ports, self.at)

    def _lift(self) -> None:
        self.down = False
        self.film.lift()

    # --- the panel --------------------------------------------------------------------------------------

    async def panel(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            while line := await reader.readline():
                writer.write((json.dumps(self._answer(json.loads(line))) + "\n").encode())
                await writer.drain()
        except (ConnectionError, ValueError, KeyError, TypeError, asyncio.CancelledError):
            pass
        finally:
            writer.close()

    def _answer(self, asked: dict[str, Any]) -> dict[str, Any]:
        what = asked["do"]
        if what in ("power", "plug"):
            if what == "power":
                self.on = bool(asked["on"])
            else:
                self.plugged = bool(asked["on"])
            if not asked["on"]:
                self._hang_up()
        elif what == "film":
            self.film_mm = math.inf if asked["mm"] is None else float(asked["mm"])
            self.no_film = False
        elif what == "load":
            self._load(str(asked["sheet"]), float(asked["height"]), float(asked["speed"]), asked["cut"])
        elif what == "take":
            self._own_ports = {int(asked["port"])}
        elif what == "cut":
            return {"strokes": self.film.finished(int(asked["from"]))}
        if what != "state":
            self._keep_panel()
        return self._state()

    def _load(self, sheet: str, height: float, speed: float, cut: list[tuple[str, bool]]) -> None:
        """Lays a sheet in. One that was cut before is as it was then; where its file is gone, as it is said
        to have been cut."""
        self._lift()
        self.film.close()
        films = sorted(self._folder.glob("*.film"), key=lambda path: path.stat().st_mtime)
        for old in films[: max(0, len(films) - _MOST_FILMS)]:
            old.unlink()
        self.sheet, self.no_film = sheet, False
        self.film = Film(self._film_path(sheet), height, speed)
        for text, own in cut[len(self.film.strokes) :]:
            self._cut_again(text, own)
        self.film.flush()

    def _cut_again(self, text: str, own: bool) -> None:
        pen, carriage, at = 0, Carriage(), (0.0, 0.0)
        for step in (s for i in instructions(text, "a stroke") for s in carriage.steps(i)):
            if step.do == "pen":
                pen = step.pen
            elif step.do == "down":
                self.film.lower(pen, own, at)
            elif step.do == "to":
                at = (step.x, step.y)
                if self.film.is_being_cut:
                    self.film.cut_to(at)
        self.film.lift()

    def _state(self) -> dict[str, Any]:
        x, y = self.at
        return {
            "on": self.on, "plugged": self.plugged, "no_film": self.no_film, "ran_out": self.ran_out,
            "busy": self.sender is not None, "down": self.down,
            "x": x / UNITS_PER_MM, "y": self.film.height - y / UNITS_PER_MM,
            "film_mm": None if math.isinf(self.film_mm) else self.film_mm,
            "sheet": self.sheet, "sheet_mm": self.film.height if self.sheet else None,
        }  # fmt: skip

    def _hang_up(self) -> None:
        if self.sender is not None:
            self._let_go(self.sender)


def _port_of(writer: asyncio.StreamWriter) -> int:
    return int(writer.get_extra_info("peername")[1])


async def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    # There is one machine: that of a server that has just died is waited for.
    lock = (folder / "machine").open("w")
    fcntl.flock(lock, fcntl.LOCK_EX)
    cutter = Cutter(folder, float(os.environ.get("FULGEN_CUTTER_PACE", "1")))
    plot = await asyncio.start_server(cutter.serve, "127.0.0.1", 0)
    panel = await asyncio.start_server(cutter.panel, "127.0.0.1", 0, limit=2**22)
    ports = [server.sockets[0].getsockname()[1] for server in (plot, panel)]
    print(*ports, flush=True)
    work = asyncio.create_task(cutter.run())
    # It lives as long as the server, which holds the other end of its input.
    await asyncio.get_running_loop().run_in_executor(None, sys.stdin.read)
    work.cancel()
    cutter.film.flush()


if __name__ == "__main__":
    asyncio.run(main(Path(sys.argv[1])))
