"""Steps: pure functions of one value, whose results are kept under the digest of that value.

A step of the build takes one frozen value that holds all it may read, and gives a result. Its key is made
here, by walking the value, and nowhere else: so nothing that the result depends on can be left out of it, and
what is kept is what would be made anew. What an earlier step gave goes in by that step's own key.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any, Generic, TypeVar

import numpy as np
import shapely
from pydantic import BaseModel

from fulgen.bounded import BoundedCache, weight_of
from fulgen.problem import Problem

Given = TypeVar("Given")
Result = TypeVar("Result")


def key_of(value: object) -> str:
    """A short key for a value: the same for equal values only, in any process.

    Numbers, texts, rows of them, models, dataclasses, arrays and areas are walked. What stands for more than
    it holds, such as the result of an earlier step, says what by an attribute ``step_key``.
    Raises TypeError for what cannot be walked.
    """
    seen = hashlib.blake2b(digest_size=12)  # RFC 7693, of 96 bits
    _walk(value, seen.update)
    return seen.hexdigest()


def _walk(value: Any, say: Callable[[bytes], None]) -> None:
    own = getattr(value, "step_key", None)
    if own is not None:
        say(b"k" + type(value).__qualname__.encode() + b"\0" + own.encode() + b"\0")
    elif value is None or isinstance(value, bool | int | float | complex | str | bytes | Enum):
        said = repr(value).encode()
        say(b"v%d:" % len(said) + said)
    elif isinstance(value, BaseModel):
        said = value.model_dump_json().encode()
        say(b"m" + type(value).__qualname__.encode() + b"%d:" % len(said) + said)
    elif isinstance(value, tuple | list):
        say(b"t%d:" % len(value))
        for member in value:
            _walk(member, say)
    elif isinstance(value, dict):
        say(b"d%d:" % len(value))
        for name in sorted(value, key=repr):
            _walk(name, say)
            _walk(value[name], say)
    elif isinstance(value, np.ndarray):
        say(f"a{value.dtype}{value.shape}:".encode())
        say(np.ascontiguousarray(value).tobytes())
    elif isinstance(value, shapely.Geometry):
        said = shapely.to_wkb(value)
        say(b"g%d:" % len(said) + said)
    elif is_dataclass(value):
        say(b"c" + type(value).__qualname__.encode() + b":")
        for field in fields(value):
            _walk(getattr(value, field.name), say)
    else:
        raise TypeError(f"{type(value).__qualname__} cannot be part of a step's value")


class Step(Generic[Given, Result]):
    """A pure function of one value, with its results kept, up to about ``limit`` bytes in all."""

    def __init__(
        self, work: Callable[[Given], Result], limit: int, weigh: Callable[[Any], int] = weight_of
    ) -> None:
        self._work = work
        self._kept: BoundedCache[str, Result | Problem] = BoundedCache(limit, weigh)

    def __call__(self, given: Given, key: str | None = None) -> Result:
        """The result; ``key`` is the value's, where it is known already. What raises is not kept."""
        found = self._kept.get(key or key_of(given), lambda: self._work(given))
        if isinstance(found, Problem):
            raise found.fresh()
        return found

    def clear(self) -> None:
        """Forgets all results."""
        self._kept.clear()

    def result_or_problem(self, given: Given, key: str | None = None) -> Result | Problem:
        """The result, or the Problem that stands in its way: a value that is kept as others are."""
        return self._kept.get(key or key_of(given), lambda: self._or_problem(given))

    def _or_problem(self, given: Given) -> Result | Problem:
        try:
            return self._work(given)
        except Problem as problem:
            return problem.fresh()
