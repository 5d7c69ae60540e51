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


class Bench:
    """The cutter's process, and its two sockets. ``folder``: where its film lies."""

    def __init__(self, folder: Callable[[], Path]) -> None:
        self._folder = folder
        self._lock = threading.Lock()
        self._process: subprocess.Popen[str] | None = None
        self._ports = (0, 0)
        self.pace = float(os.environ.get("FULGEN_CUTTER_PACE", "1"))

    def _started(self) -> tuple[int, int]:
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
            return self._ports

    @property
    def process(self) -> int:
        """The id of the cutter's process."""
        self._started()
        assert self._process is not None
        return self._process.pid

    def ask(self, do: str, **more: object) -> dict[str, Any]:
        """What the cutter's panel answers. Raises Problem "cutter-away"."""
        try:
            with socket.create_connection(("127.0.0.1", self._started()[1]), timeout=_WAIT_S) as line:
                line.sendall((json.dumps({"do": do, **more}) + "\n").encode())
                with line.makefile("r") as answers:
                    found: dict[str, Any] = json.loads(answers.readline())
                    return found
        except (OSError, ValueError):
            raise away() from None

    def line(self) -> NetworkLine:
        """A line to the cutter, by which what is cut is its job's own. Raises LineLost."""
        line = NetworkLine("127.0.0.1", self._started()[0])
        self.ask("take", port=line.own_port)
        return line
