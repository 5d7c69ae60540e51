"""The bench cutter as the server knows it: its process, started when it is first needed, and its panel."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from cutters.lines import NetworkLine, away

_WAIT_S = 20.0
_DYING_S = 2.0
_TRIES = 3


class CutterHost:
    """The cutter's process, and its two sockets. ``folder``: where its film lies."""

    def __init__(self, folder: Callable[[], Path]) -> None:
        self._folder = folder
        self._lock = threading.Lock()
        self._process: subprocess.Popen[str] | None = None
        self._ports = (0, 0)
        self.pace = float(os.environ.get("FULGEN_CUTTER_PACE", "1"))

    def _started(self) -> tuple[subprocess.Popen[str], int, int]:
        """The process, and the ports of its line and its panel."""
        with self._lock:
            if self._process is None or self._process.poll() is not None:
                self._process = subprocess.Popen(
                    [sys.executable, "-m", "cutters.simulated", str(self._folder())],
                    stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=dict(os.environ),
                )  # fmt: skip
                assert self._process.stdout is not None
                words = self._process.stdout.readline().split()
                if len(words) != 2:
                    raise away()
                self._ports = (int(words[0]), int(words[1]))
            return self._process, *self._ports

    def ask(self, do: str, **more: object) -> dict[str, Any]:
        """What the cutter's panel answers; where its process has just died, that of the next one. Raises
        Problem "cutter-away"."""
        for _ in range(_TRIES):
            process, _, panel = self._started()
            try:
                with socket.create_connection(("127.0.0.1", panel), timeout=_WAIT_S) as line:
                    line.sendall((json.dumps({"do": do, **more}) + "\n").encode())
                    with line.makefile("r") as answers:
                        found: dict[str, Any] = json.loads(answers.readline())
                        return found
            except (OSError, ValueError):
                if not _has_died(process):
                    break
        raise away()

    def line(self) -> NetworkLine:
        """A line to the cutter, by which what is cut is its job's own. Raises LineLost."""
        line = NetworkLine("127.0.0.1", self._started()[1])
        self.ask("take", port=line.own_port)
        return line


def _has_died(process: subprocess.Popen[str]) -> bool:
    """Whether a process has ended, or does so just now."""
    try:
        process.wait(_DYING_S)
    except subprocess.TimeoutExpired:
        return False
    return True
