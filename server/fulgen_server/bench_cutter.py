"""The bench cutter: a simulated machine in a process of its own, started by the server.

It listens at two sockets of this machine. At the first it takes HP-GL like a plotter, moves its carriage
along at its own pace, and answers OA (where it is) when all before is done; one sender at a time. At the
second stands its *panel*, which is what a person at a real machine would see and do: a line of JSON asks, a
line answers. What the carriage really did is kept as HP-GL for the sheet that is loaded.

HP-GL: "HP-GL/2 and HP RTL Reference Guide", Hewlett-Packard; OA is of the older language (HP 7475A
Interfacing and Programming Manual, from memory). Steps are of 1/40 mm."""

from __future__ import annotations

import asyncio
import json
import math
import os
import sys
import time
from collections import deque
from typing import Any

STEPS_PER_MM = 40
LIFTED_TIMES = 4.0
"""So many times as fast it goes with the knife up. (†)"""

_TICK_S = 0.01
_MOST_WAITING = 4_000
"""Instructions that it holds; a sender waits when there are more."""

_LONGEST = 1_000_000


class Cutter:
    """The machine: its carriage, what it is to do, and what it did on the sheet that is loaded."""

    def __init__(self, pace: float) -> None:
        self.pace = pace
        self.speed = 100.0
        self.on = True
        self.film_mm = math.inf
        self.height_mm = 300.0
        self.no_film = False
        self.at = (0.0, 0.0)
        self.down = False
        self.pen = 0
        self.waiting: deque[tuple[str, tuple[float, ...], asyncio.StreamWriter | None]] = deque()
        self.strokes: list[tuple[int, list[tuple[float, float]]]] = []
        self.sender: asyncio.StreamWriter | None = None
        self._room = asyncio.Event()
        self._room.set()

    # --- the sender's side ------------------------------------------------------------------------------

    async def serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if not self.on or self.sender is not None:
            writer.close()  # off, or busy with somebody else
            return
        self.sender = writer
        rest = ""
        try:
            while data := await reader.read(65_536):
                rest += data.decode("latin-1")
                if len(rest) > _LONGEST:
                    break
                *whole, rest = rest.split(";")
                for text in whole:
                    self._take(text.strip(), writer)
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
        writer.close()

    def _take(self, text: str, writer: asyncio.StreamWriter) -> None:
        code, numbers = text[:2].upper(), text[2:]
        try:
            values = tuple(float(number) for number in numbers.replace(",", " ").split())
        except ValueError:
            return
        if code in ("PU", "PD"):
            self.waiting.append((code, (), None))
            self.waiting.extend((code, values[n : n + 2], None) for n in range(0, len(values) - 1, 2))
        elif code in ("SP", "OA"):
            self.waiting.append((code, values, writer))

    # --- the carriage -----------------------------------------------------------------------------------

    async def run(self) -> None:
        before = time.monotonic()
        while True:
            await asyncio.sleep(_TICK_S)
            now = time.monotonic()
            left = now - before
            before = now
            while left > 0 and self.waiting and self.on and not self.no_film:
                left = self._do(left)
            if len(self.waiting) < _MOST_WAITING // 2:
                self._room.set()

    def _do(self, seconds: float) -> float:
        """Goes on with the first instruction for so long; returns the time that is left."""
        code, values, writer = self.waiting[0]
        if code == "SP":
            self._lift()
            self.pen = int(values[0]) if values else 0
        elif code == "OA" and writer is not None:
            x, y = self.at
            writer.write(f"{x:.0f},{y:.0f},{int(self.down)}\r".encode())
        elif not values:
            self._lower() if code == "PD" else self._lift()
        else:
            return self._go((values[0], values[1]), seconds)
        self.waiting.popleft()
        return seconds

    def _go(self, to: tuple[float, float], seconds: float) -> float:
        away = math.dist(self.at, to)
        fast = self.speed * self.pace * STEPS_PER_MM * (1.0 if self.down else LIFTED_TIMES)
        if away > fast * seconds:
            share = fast * seconds / away
            to = (self.at[0] + (to[0] - self.at[0]) * share, self.at[1] + (to[1] - self.at[1]) * share)
            seconds = 0.0
        else:
            self.waiting.popleft()
            seconds -= away / fast
        # The sheet runs in from its top: y is up from its lower edge.
        if self.down and self.height_mm - to[1] / STEPS_PER_MM > self.film_mm:
            self.no_film = True
            self._lift()
            return 0.0
        self.at = to
        if self.down:
            self.strokes[-1][1].append(to)
        return seconds

    def _lower(self) -> None:
        if not self.down:
            self.down = True
            self.strokes.append((self.pen, [self.at]))

    def _lift(self) -> None:
        self.down = False

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
        if what == "power":
            self.on = bool(asked["on"])
            if not self.on:
                self._hang_up()
        elif what == "unplug":
            self._hang_up()
        elif what == "film":
            self.film_mm = math.inf if asked["mm"] is None else float(asked["mm"])
            self.no_film = False
        elif what == "load":
            self.strokes, self.no_film = [], False
            self.height_mm, self.speed = float(asked["height"]), float(asked["speed"])
        elif what == "cut":
            return {"hpgl": self._log(int(asked["from"])), "strokes": len(self.strokes)}
        x, y = self.at
        return {
            "on": self.on, "no_film": self.no_film, "busy": self.sender is not None,
            "x": x / STEPS_PER_MM, "y": self.height_mm - y / STEPS_PER_MM, "down": self.down,
            "speed": self.speed * self.pace,
            "film_mm": None if math.isinf(self.film_mm) else self.film_mm,
        }  # fmt: skip

    def _hang_up(self) -> None:
        if self.sender is not None:
            self._let_go(self.sender)

    def _log(self, first: int) -> str:
        """What was cut, from the stroke of that number on, as HP-GL."""
        lines = []
        for pen, points in self.strokes[first:]:
            start, *others = ((round(x), round(y)) for x, y in points)
            numbers = ",".join(f"{x},{y}" for x, y in others)
            if numbers:
                lines.append(f"SP{pen};PU{start[0]},{start[1]};PD{numbers};PU;")
        return "\n".join(lines)


async def main() -> None:
    cutter = Cutter(float(os.environ.get("FULGEN_CUTTER_PACE", "1")))
    plot = await asyncio.start_server(cutter.serve, "127.0.0.1", 0)
    panel = await asyncio.start_server(cutter.panel, "127.0.0.1", 0, limit=2**22)
    ports = [server.sockets[0].getsockname()[1] for server in (plot, panel)]
    print(*ports, flush=True)
    work = asyncio.create_task(cutter.run())
    # It lives as long as the server, which holds the other end of its input.
    await asyncio.get_running_loop().run_in_executor(None, sys.stdin.read)
    work.cancel()


if __name__ == "__main__":
    asyncio.run(main())
