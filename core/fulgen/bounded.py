"""A cache with a bound on its memory, shared by threads: what was used longest ago goes first."""

from __future__ import annotations

import sys
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from threading import Lock
from typing import Any, Generic, TypeVar

import numpy as np
import shapely
from cachetools import LRUCache

Key = TypeVar("Key", bound=Hashable)
Value = TypeVar("Value")

_OBJECT = 64
"""About what an object of Python takes beside what it holds."""

_GEOMETRY, _RING, _COORDINATE = 160, 120, 24
"""About what GEOS takes for a geometry, a ring of it and a coordinate (x, y and room for z)."""


def weight_of(value: Any) -> int:
    """About how many bytes a value keeps alive. What knows better says so by an attribute ``kept_bytes``:
    what grows after it was made, or shares most of what it holds."""
    own = getattr(value, "kept_bytes", None)
    if isinstance(own, int):
        return own
    if value is None or isinstance(value, bool | int | float | complex | type):
        return 32
    if isinstance(value, str | bytes):
        return sys.getsizeof(value)
    if isinstance(value, np.ndarray):
        return 112 + (_sum(value.ravel().tolist()) if value.dtype == object else value.nbytes)
    if isinstance(value, shapely.Geometry):
        parts = shapely.get_parts(value)
        rings = len(parts) + int(shapely.get_num_interior_rings(parts).sum())
        coordinates = int(shapely.get_num_coordinates(value))
        return _GEOMETRY * (1 + len(parts)) + _RING * rings + _COORDINATE * coordinates
    if isinstance(value, dict):
        return _OBJECT + _sum(value.keys()) + _sum(value.values()) + 16 * len(value)
    if isinstance(value, tuple | list | set | frozenset):
        return _OBJECT + 8 * len(value) + _sum(value)
    return _OBJECT + _sum(getattr(value, "__dict__", {}).values())


def _sum(values: Iterable[Any]) -> int:
    return sum(map(weight_of, values))


@dataclass(frozen=True, eq=False)
class _Entry(Generic[Value]):
    value: Value
    size: int


def _size(entry: _Entry[Any]) -> int:
    return entry.size


class Bounded(Generic[Key, Value]):
    """Values by what they depend on, up to about ``limit`` bytes in all, keys included.

    A value asked for by several threads at once is made by one of them; the others wait for it.
    """

    def __init__(self, limit: int, weigh: Callable[[Value], int] = weight_of) -> None:
        self._kept: LRUCache[Key, _Entry[Value]] = LRUCache(limit, _size)
        self._weigh = weigh
        self._lock = Lock()
        self._turns: dict[Key, Lock] = {}

    def get(self, key: Key, make: Callable[[], Value]) -> Value:
        """The value kept under ``key``, made first if it is not there. What raises is not kept."""
        with self._lock:
            if key in self._kept:
                return self._kept[key].value
            turn = self._turns.setdefault(key, Lock())
        with turn:
            with self._lock:
                if key in self._kept:
                    return self._kept[key].value
            try:
                value = make()
                entry = _Entry(value, self._weigh(value) + weight_of(key))
                with self._lock:
                    # A value over the whole limit is handed out and not kept.
                    if entry.size <= self._kept.maxsize:
                        self._kept[key] = entry
            finally:
                with self._lock:
                    self._turns.pop(key, None)
        return value

    @property
    def bytes_kept(self) -> int:
        """About how many bytes are kept now."""
        with self._lock:
            return int(self._kept.currsize)

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
