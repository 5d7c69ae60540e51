"""Work on many items, on all cores."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from typing import TypeVar

Item = TypeVar("Item")
Result = TypeVar("Result")

_FEW = 8
"""So few items are done sooner than more processes are started."""


def on_all_cores(
    work: Callable[[Item], Result], items: Sequence[Item], modules: Sequence[str]
) -> Iterator[Result]:
    """What becomes of each item, in their order; modules are those that the work needs. Processes are forked
    from one that has no threads: a thread that holds a lock when its process is forked never lets go of it
    there."""
    cores = os.cpu_count() or 1
    if cores < 2 or len(items) <= _FEW:
        yield from map(work, items)
        return
    context = get_context("forkserver")
    context.set_forkserver_preload(list(modules))
    with ProcessPoolExecutor(cores, mp_context=context) as pool:
        yield from pool.map(work, items, chunksize=2)
