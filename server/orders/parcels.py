"""Parcels: what a task needs and is too large to travel with it, such as a design or a face, by its digest.

They lie beside the queue: in a folder for workers of this machine, in Redis for those of others. A worker
keeps what it has opened. A parcel is never changed; one that is lost is laid down again with the next task.
"""

from __future__ import annotations

import os
import re
import time
from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache
from hashlib import sha256
from pathlib import Path
from typing import Protocol

from django.conf import settings

KEPT_S = 24 * 3600
"""A parcel that nobody laid down again for so long is let go of."""

_DIGEST = re.compile(r"[0-9a-f]{64}")


class Parcels(Protocol):
    """Where parcels lie."""

    def lay_down(self, data: bytes) -> str:
        """Keeps data; returns its digest (SHA-256)."""
        ...

    def fetch(self, digest: str) -> bytes:
        """The data of a digest. Raises LookupError."""
        ...


class ParcelFolder:
    """Parcels in a folder of this machine."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def lay_down(self, data: bytes) -> str:
        digest = sha256(data).hexdigest()
        path = self._folder / digest
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        with suppress(FileNotFoundError):
            os.utime(path)
            return digest
        part = path.with_suffix(f".{os.getpid()}")
        part.write_bytes(data)
        part.replace(path)
        self._let_go_of_old()
        return digest

    def fetch(self, digest: str) -> bytes:
        try:
            return (self._folder / _checked(digest)).read_bytes()
        except FileNotFoundError:
            raise LookupError(digest) from None

    def _let_go_of_old(self) -> None:
        before = time.time() - KEPT_S
        for path in self._folder.iterdir():
            with suppress(FileNotFoundError):
                if path.stat().st_mtime < before:
                    path.unlink()


class ParcelsInRedis:
    """Parcels in Redis, for workers of other machines."""

    def __init__(self, url: str) -> None:
        from redis import Redis

        self._redis = Redis.from_url(url)

    def lay_down(self, data: bytes) -> str:
        digest = sha256(data).hexdigest()
        if not self._redis.expire(self._key(digest), KEPT_S):
            self._redis.set(self._key(digest), data, ex=KEPT_S)
        return digest

    def fetch(self, digest: str) -> bytes:
        data = self._redis.get(self._key(_checked(digest)))
        if not isinstance(data, bytes):
            raise LookupError(digest)
        return data

    @staticmethod
    def _key(digest: str) -> str:
        return f"fulgen:parcel:{digest}"


def _checked(digest: str) -> str:
    """A digest and nothing else: it may come from outside."""
    if not _DIGEST.fullmatch(digest):
        raise LookupError(digest)
    return digest


@lru_cache(maxsize=1)
def parcels() -> Parcels:
    """Those beside the queue of this server, or of this worker."""
    if settings.QUEUE_URL:
        return ParcelsInRedis(settings.QUEUE_URL)
    return ParcelFolder(settings.DATA_DIR / "parcels")


@lru_cache(maxsize=60)
def opened(digest: str, read: Callable[[bytes], object]) -> object:
    """What a parcel holds, read once in each worker. Raises LookupError."""
    return read(parcels().fetch(digest))
