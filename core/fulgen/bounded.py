"""A cache with a bound on its memory, shared by threads: what was used longest ago goes first."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from enum import Enum
from threading import Lock
from typing import Any, Generic, TypeVar
from weakref import WeakSet

import numpy as np
import shapely
from cachetools import LRUCache

from fulgen.budget import check, waiting

Key = TypeVar("Key", bound=Hashable)
Value = TypeVar("Value")

_OBJECT = 64
"""About what an object of Python takes beside what it holds."""

_GEOMETRY, _RING, _COORDINATE = 160, 120, 24
"""About what GEOS takes for a geometry, a ring of it and a coordinate (x, y and room for z)."""


_all: WeakSet[BoundedCache[Any, Any]] = WeakSet()


def clear_all_caches() -> None:
    """Empties every cache of this process: what is asked for next is made anew."""
    for cache in list(_all):
        cache.clear()


def digest(*parts: str) -> str:
    """A short key for texts, the same for the same texts only (BLAKE2b, RFC 7693, of 96 bits)."""
    return hashlib.blake2b("\x00".join(parts).encode(), digest_size=12).hexdigest()


def weight_of(value: Any) -> int:
    """About how many bytes a value keeps alive. What knows better says so by an attribute ``kept_bytes``:
    what grows after it was made, or shares most of what it holds."""
    kind = type(value)
    if kind in _PLAIN:
        return 32
    if kind is str or kind is bytes:
        return 60 + len(value)
    if kind is tuple or kind is list or kind is set or kind is frozenset:
        return _OBJECT + sum([8 + weight_of(member) for member in value])
    own = getattr(value, "kept_bytes", None)
    if own is not None:
        return int(own)
    if isinstance(value, Enum):
        return 0  # one of a few that are there for good
    if isinstance(value, np.ndarray):
        return 112 + (weight_of(value.ravel().tolist()) if value.dtype == object else value.nbytes)
    if isinstance(value, shapely.Geometry):
        parts = shapely.get_parts(value)
        rings = len(parts) + int(shapely.get_num_interior_rings(parts).sum())
        coordinates = int(shapely.get_num_coordinates(value))
        return _GEOMETRY * (1 + len(parts)) + _RING * rings + _COORDINATE * coordinates
    if isinstance(value, dict):
        return _OBJECT + weight_of([*value.keys(), *value.values()])
    return _OBJECT + weight_of(list(getattr(value, "__dict__", {}).values()))


_PLAIN = frozenset((type(None), bool, int, float, complex, type))


@dataclass(frozen=True, eq=False)
class _Entry(Generic[Value]):
    value: Value
    size: int


def _size(entry: _Entry[Any]) -> int:
    return entry.size


class BoundedCache(Generic[Key, Value]):
    """Values by what they depend on, up to about ``limit`` bytes in all, keys included.

    A value asked for by several threads at once is made by one of them; the others wait for it.
    """

    def __init__(self, limit: int, weigh: Callable[[Value], int] = weight_of) -> None:
        self._kept: LRUCache[Key, _Entry[Value]] = LRUCache(limit, _size)
        self._weigh = weigh
        self._lock = Lock()
        self._turns: dict[Key, Lock] = {}
        _all.add(self)

    def get(self, key: Key, make: Callable[[], Value]) -> Value:
        """The value kept under ``key``, made first if it is not there. What raises is not kept."""
        with self._lock:
            if key in self._kept:
                return self._kept[key].value
            turn = self._turns.setdefault(key, Lock())
        if not turn.acquire(blocking=False):
            with waiting():
                turn.acquire()
        try:
            with self._lock:
                if key in self._kept:
                    return self._kept[key].value
            try:
                check()
                value = make()
                entry = _Entry(value, self._weigh(value) + weight_of(key))
                with self._lock:
                    # A value over the whole limit is handed out and not kept.
                    if entry.size <= self._kept.maxsize:
                        self._kept[key] = entry
            finally:
                with self._lock:
                    self._turns.pop(key, None)
        finally:
            turn.release()
        return value

    @property
    def bytes_kept(self) -> int:
        """About how many bytes are kept now."""
        with self._lock:
            return int(self._kept.currsize)

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
