"""A cache with a bound on its memory, shared by threads: what was used longest ago goes first."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

Key = TypeVar("Key", bound=Hashable)
Value = TypeVar("Value")


class Bounded(Generic[Key, Value]):
    """Values by what they depend on, up to about ``limit`` bytes in all.

    A value asked for by several threads at once is made by one of them; the others wait for it.
    """

    def __init__(self, limit: int, size_of: Callable[[Value], int]) -> None:
        self._kept: LRUCache[Key, Value] = LRUCache(limit, size_of)
        self._lock = Lock()
        self._turns: dict[Key, Lock] = {}

    def get(self, key: Key, make: Callable[[], Value]) -> Value:
        """The value kept under ``key``, made first if it is not there. What raises is not kept."""
        with self._lock:
            if key in self._kept:
                return self._kept[key]
            turn = self._turns.setdefault(key, Lock())
        with turn:
            with self._lock:
                if key in self._kept:
                    return self._kept[key]
            try:
                value = make()
                with self._lock:
                    # A value over the whole limit is handed out and not kept.
                    if self._kept.getsizeof(value) <= self._kept.maxsize:
                        self._kept[key] = value
            finally:
                with self._lock:
                    self._turns.pop(key, None)
        return value

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
