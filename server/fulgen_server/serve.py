"""Serves Fulgen on this machine: python -m fulgen_server.serve PORT.

The server reads each request whole before it gives it a thread, so a slow or silent visitor holds none.
Threads only wait: geometry is computed by workers, and there are more threads than requests that may wait for
one.
"""

import os
import signal
import socket
import sys
from typing import NoReturn

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
    from designs.alone import take_shop
    from designs.backup import keep_daily_from_now_on
    from designs.faces import shipped_faces
    from fulgen.problem import Problem
    from fulgen_server.worker_dispatch import work
    from orders.crew import crew
    from orders.dispatch import dispatch

    try:
        listener = socket.create_server(("127.0.0.1", port), reuse_port=False)
    except OSError as error:
        said = f"fulgen: port {port} cannot be used ({error.strerror}). Try another: --port N"
        print(said, file=sys.stderr)
        raise SystemExit(2) from None
    try:
        shop = take_shop(settings.DATA_DIR, f"http://127.0.0.1:{port}")
    except Problem as problem:
        print(f"fulgen: {problem.what[0].lower()}{problem.what[1:]} {problem.todo}", file=sys.stderr)
        raise SystemExit(2) from None
    shipped_faces()
    workers.start(work)
    crew.start()
    dispatch.start()
    jobs.after_restart()
    keep_daily_from_now_on(settings.DATABASE)
    signal.signal(signal.SIGTERM, _stop)
    with shop:
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


def _stop(_signal: int, _frame: object) -> NoReturn:
    raise SystemExit(0)


if __name__ == "__main__":
    main(int(sys.argv[1]))
