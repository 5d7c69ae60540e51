"""A worker whose tasks do what no task should, for the tests of the pool."""

import os
import re
import time
from pathlib import Path

import numpy as np

from computing.pool import Answer
from fulgen.budget import check
from fulgen_server import worker


def _said(text):
    return Answer(200, {}, str(text).encode())


def _spin():
    while True:
        check()


def _hang():
    re.match("(a+)+$", "a" * 60 + "b")  # holds the interpreter, and takes for ever


def _eat():
    return [np.ones(2**24) for _ in range(1_000)]


def _fail():
    raise KeyError("nobody foresaw this")


def odd(what):
    """Says its process, or misbehaves."""
    if what == "say":
        return _said(os.getpid())
    if what.startswith("wait for "):
        path = Path(what.removeprefix("wait for "))
        while not path.exists():
            time.sleep(0.01)
        return _said("waited")
    return {"spin": _spin, "hang": _hang, "eat": _eat, "crash": os.abort, "fail": _fail}[what]()


def work(lines):
    worker._GRACE_S = 1
    worker.work(lines, {"request": odd})
