"""Lines to machines: raw sockets and serial ports, what a machine answers on them, and which may be reached.

A machine is sent HP-GL as plotters take it. After a stroke it is asked where it is (OA) or how it is (OS),
which it answers when all before is done; see ``fulgen.formats.hpgl_text``. Port 9100 is what network
printers and plotters take raw data at (common practice)."""

from __future__ import annotations

import ipaddress
import re
import select
import socket
import stat
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Literal, Protocol

import serial
from pydantic import Field
from serial.tools import list_ports

from fulgen.frozen import STRICT, WHOLE
from fulgen.problem import Problem

RAW_PORT = 9100
_CONNECT_S = 5.0
_LOOK_S = 0.1
_LONGEST_ANSWER = 4_096


@dataclass(frozen=True)
class Connection:
    """How a machine is reached: not at all but by the simulated one on the bench, at an address of the
    network, or at a serial line (its device, its speed, and whether it is held off by its RTS and CTS wires
    or by XON and XOFF). ``patience_s``: how long its answer is waited for beyond the time that a cut takes.
    """

    __pydantic_config__ = STRICT

    by: Literal["bench", "network", "serial"] = "bench"
    host: Annotated[str, Field(max_length=200)] = ""
    port: Annotated[int, Field(ge=1, le=65_535), WHOLE] = RAW_PORT
    device: Annotated[str, Field(max_length=120)] = ""
    baud: Literal[1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200] = 9600
    flow: Literal["none", "wires", "signs"] = "wires"
    patience_s: Annotated[float, Field(strict=True, ge=0.1, le=120.0)] = 10.0

    @property
    def where(self) -> str:
        """In words."""
        if self.by == "network":
            return f"{self.host}:{self.port}"
        return self.device if self.by == "serial" else "the bench"


class LineLost(Exception):
    """The line to a machine is broken."""


class Line(Protocol):
    """A line to a machine."""

    def send(self, text: str, given_up: Callable[[], bool]) -> bool:
        """Sends a text, as fast as it is taken; False when that was given up. Raises LineLost."""
        ...

    def heard(self) -> str:
        """What came, after a short wait for it. Raises LineLost."""
        ...

    def close(self) -> None: ...


class _OpenLine:
    """What sockets and serial ports have in common: neither is waited for longer than a look."""

    _end: socket.socket | serial.Serial

    def send(self, text: str, given_up: Callable[[], bool]) -> bool:
        left = text.encode("ascii")
        try:
            while left:
                if given_up():
                    return False
                if select.select([], [self._end], [], _LOOK_S)[1]:
                    left = left[self._put(left) :]
        except (OSError, ValueError) as error:
            raise LineLost(str(error)) from None
        return True

    def heard(self) -> str:
        try:
            if not select.select([self._end], [], [], _LOOK_S)[0]:
                return ""
            data = self._got()
        except (OSError, ValueError) as error:
            raise LineLost(str(error)) from None
        if not data:
            raise LineLost("closed")
        return data.decode("latin-1")

    def close(self) -> None:
        with suppress(OSError):
            self._end.close()

    def _put(self, data: bytes) -> int:
        """Sends what is taken at once; returns how much that is."""
        raise NotImplementedError

    def _got(self) -> bytes:
        raise NotImplementedError


class NetworkLine(_OpenLine):
    """A line over a socket."""

    _end: socket.socket

    def __init__(self, host: str, port: int) -> None:
        try:
            self._end = socket.create_connection((host, port), timeout=_CONNECT_S)
        except OSError as error:
            raise LineLost(str(error)) from None
        self._end.setblocking(False)
        self.own_port = int(self._end.getsockname()[1])

    def _put(self, data: bytes) -> int:
        return self._end.send(data[:65_536])

    def _got(self) -> bytes:
        return self._end.recv(_LONGEST_ANSWER)


class SerialLine(_OpenLine):
    """A line over a serial port: 8 bits, no parity, one stop bit."""

    _end: serial.Serial

    def __init__(self, reached: Connection) -> None:
        try:
            self._end = serial.Serial(
                reached.device, reached.baud, timeout=0, write_timeout=0,
                rtscts=reached.flow == "wires", xonxoff=reached.flow == "signs", exclusive=True,
            )  # fmt: skip
        except (OSError, ValueError) as error:  # a SerialException is an OSError
            raise LineLost(str(error)) from None

    def _put(self, data: bytes) -> int:
        return int(self._end.write(data[:256]) or 0)

    def _got(self) -> bytes:
        return bytes(self._end.read(_LONGEST_ANSWER))


_OA = re.compile(r"\s*(-?\d+(?:\.\d+)?)\s*,\s*(-?\d+(?:\.\d+)?)\s*,\s*[01]\s*")
_OS = re.compile(r"\s*\d{1,3}\s*")


class Answers:
    """What a machine answers, bit by bit: where it is, or how it is."""

    def __init__(self) -> None:
        self._rest = ""

    def take(self, text: str) -> list[tuple[float, float] | None]:
        """The whole answers there are now: a place in plotter units, or None for a status. What is broken is
        passed over."""
        *whole, self._rest = re.split(r"[\r\n;]", (self._rest + text)[-_LONGEST_ANSWER:])
        found: list[tuple[float, float] | None] = []
        for words in whole:
            if at := _OA.fullmatch(words):
                found.append((float(at[1]), float(at[2])))
            elif _OS.fullmatch(words):
                found.append(None)
        return found


def opened(reached: Connection) -> Line:
    """A line to a machine of the shop's own. Raises LineLost; Problem "bad-address"."""
    if reached.by == "network":
        return NetworkLine(private_address(reached.host), reached.port)
    _look_at_device(reached.device)
    return SerialLine(reached)


def validate_address(reached: Connection) -> None:
    """Raises Problem "bad-address" for what is not near: an address of the wide internet, or a file that is
    no serial port. One that is not said yet may be said later."""
    if reached.by == "network" and reached.host:
        private_address(reached.host)
    elif reached.by == "serial" and reached.device:
        _look_at_device(reached.device, there=False)


def private_address(host: str) -> str:
    """The address of a machine in the shop's own network. Raises Problem "bad-address"."""
    if not host.strip():
        raise Problem(
            "bad-address",
            "The machine's address is not said yet.",
            "Type the address that the machine shows, such as 192.168.1.40.",
            "host",
        )
    try:
        found = {row[4][0] for row in socket.getaddrinfo(host.strip(), None, type=socket.SOCK_STREAM)}
    except (OSError, UnicodeError):
        raise Problem(
            "bad-address",
            f"“{host}” is not found in this network.",
            "Type the address that the machine shows, such as 192.168.1.40.",
            "host",
        ) from None
    for text in found:
        address = ipaddress.ip_address(str(text).split("%")[0])
        if not address.is_private or address.is_multicast or address.is_unspecified:
            raise Problem(
                "bad-address",
                f"{host} is not in this shop's own network.",
                "Fulgen sends only to machines near by, such as 192.168.1.40.",
                "host",
            )
    return str(min(found, key=lambda text: (":" in str(text), text)))


_DEVICE = re.compile(r"/dev/(tty[A-Za-z0-9._-]+|cu\.[A-Za-z0-9._-]+|pts/\d+|serial/by-id/[A-Za-z0-9._:-]+)")


def _look_at_device(device: str, there: bool = True) -> None:
    windows = re.fullmatch(r"COM\d{1,3}", device)
    if not windows and not _DEVICE.fullmatch(device):
        raise Problem(
            "bad-address",
            f"“{device}” is not a serial line." if device else "No serial line is chosen.",
            "Choose one of those that are found, or type its name, such as /dev/ttyUSB0.",
            "device",
        )
    if there and not windows:
        path = Path(device)
        if not path.exists():
            raise LineLost(f"{device} is not there")
        if not stat.S_ISCHR(path.stat().st_mode):
            raise LineLost(f"{device} is no serial line")


def serial_lines() -> list[tuple[str, str]]:
    """The serial lines of this computer, each with what is said of it."""
    return sorted((port.device, port.description or "") for port in list_ports.comports())


def away(what: str = "The cutter does not answer.") -> Problem:
    """The word about a machine that is not reached."""
    return Problem("cutter-away", what, "Switch it on and look at its cable, then try again.")
