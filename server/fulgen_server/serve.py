"""Serves Fulgen on this machine: python -m fulgen_server.serve PORT.

The server reads each request whole before it gives it a thread, so a slow or silent visitor holds none.
Threads only wait: geometry is computed by workers, and there are more threads than requests that may wait for
one.
"""

import fcntl
import os
import signal
import socket
import sys
from pathlib import Path
from typing import NoReturn, TextIO

from computing.pool import prepare, workers

THREADS = 80
MOST_CONNECTIONS = 1_000
SILENT_S = 60
"""Seconds after which a connection that says nothing is closed."""


def main(port: int) -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
    prepare("fulgen_server.worker")  # first of all, for it takes as long as all the rest
    import django

    django.setup()
    import waitress
    from django.conf import settings
    from django.core.wsgi import get_wsgi_application

    from designs import jobs
    from designs.faces import shipped_faces
    from fulgen_server.worker_dispatch import work

    try:
        listener = socket.create_server(("127.0.0.1", port), reuse_port=False)
    except OSError as error:
        said = f"fulgen: port {port} cannot be used ({error.strerror}). Try another: --port N"
        print(said, file=sys.stderr)
        raise SystemExit(2) from None
    _serve_alone(settings.DATA_DIR, port)
    shipped_faces()
    workers.start(work)
    jobs.after_restart()
    signal.signal(signal.SIGTERM, _stop)
    waitress.serve(
        get_wsgi_application(),
        sockets=[listener],
        threads=THREADS,
        connection_limit=MOST_CONNECTIONS,
        asyncore_use_poll=True,
        channel_timeout=SILENT_S,
        cleanup_interval=5,
        channel_request_lookahead=1,  # so that it is seen when a browser turns away
        max_request_body_size=settings.MAX_UPLOAD_BYTES + 2**20,
        ident=None,
    )


def _serve_alone(folder: Path, port: int) -> None:
    """Takes the folder for this server, for as long as it lives: two would take each other's jobs for lost,
    and start a second cutter on them. The system lets go of it however the server ends."""
    lock = (folder / "served").open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.seek(0)
        said = lock.read().strip() or "another server"
        print(
            f"fulgen: this shop is served already, at {said}. Open that, or stop it first.", file=sys.stderr
        )
        raise SystemExit(2) from None
    lock.truncate(0)
    lock.write(f"http://127.0.0.1:{port}\n")
    lock.flush()
    _held.append(lock)


_held: list[TextIO] = []
"""Open while the server lives."""


def _stop(_signal: int, _frame: object) -> NoReturn:
    raise SystemExit(0)


if __name__ == "__main__":
    main(int(sys.argv[1]))
