"""How a command ends that could not do what it was asked to."""

import sys
from collections.abc import Callable
from typing import TypeVar

from fulgen.problem import Problem

Result = TypeVar("Result")


def or_said(work: Callable[[], Result]) -> Result:
    """What the work gives; what is wrong is said in a line, and the command ends with 2."""
    try:
        return work()
    except Problem as problem:
        print(f"fulgen: {problem.what} {problem.todo}", file=sys.stderr)
        raise SystemExit(2) from None
