"""Runs one command. Errors are one line on stderr, and an exit code says of what kind."""

from __future__ import annotations

import argparse
import os
import sys
import traceback
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from fulgen.cli.output import BLOCKED, CRASHED, REFUSED, STOPPED, UNREAD
from fulgen.cli.parser import argument_parser, hold_negative_values
from fulgen.problem import Problem

if TYPE_CHECKING:
    pass


def main(argv: Sequence[str] | None = None) -> int:
    """Runs one command; returns its exit code."""
    arguments = hold_negative_values(list(sys.argv[1:] if argv is None else argv))
    try:
        options = argument_parser().parse_args(arguments)
        command: Callable[[argparse.Namespace], int | None] = options.command
        code = command(options)
    except Problem as problem:
        print(f"fulgen: {problem}", file=sys.stderr)
        return BLOCKED if problem.kind == "at-gate" else REFUSED
    except BrokenPipeError:
        # Whoever read our output has left; nothing more to say.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return UNREAD
    except KeyboardInterrupt:
        print("fulgen: stopped", file=sys.stderr)
        return STOPPED
    except Exception as error:
        at = traceback.extract_tb(error.__traceback__)[-1]
        where = f"{type(error).__name__} in {Path(at.filename).name}, line {at.lineno}"
        print(f"fulgen: something went wrong inside Fulgen ({where}). Nothing was written.", file=sys.stderr)
        return CRASHED
    return code or 0
