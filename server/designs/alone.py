"""One server for one shop: two would take each other's jobs for lost, and start a second cutter on them."""

import fcntl
from pathlib import Path
from typing import TextIO

from fulgen.problem import Problem


def take_shop(folder: Path, said: str) -> TextIO:
    """Takes the shop in a folder for as long as the file that is given stays open, and notes who has it. The
    system lets go of it however the process ends. Raises Problem "served" while another has it."""
    lock = (folder / "served").open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.seek(0)
        owner = lock.read().strip() or "another server"
        lock.close()
        what = f"This shop is served already, at {owner}."
        raise Problem("served", what, "Open that, or stop it first.") from None
    lock.truncate(0)
    lock.write(f"{said}\n")
    lock.flush()
    return lock
