"""Works for the queue of another machine: ./fulgen work --queue redis://host:port/0."""

import argparse
import os
import signal
import time
from multiprocessing import forkserver
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from orders.crew import Crew
from orders.management.queue import reach_queue

_LOOK_S = 0.5


class Command(BaseCommand):
    help = "Works out rows of orders for a server with which this machine has only the queue in common."
    requires_system_checks = ()  # they read the whole API, which takes as long as the rest

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)

    def handle(self, *args: Any, **options: Any) -> None:
        if not settings.QUEUE_URL:
            raise CommandError("Say where the queue is: --queue redis://host:port/0")
        if not 1 <= options["workers"] <= 256:
            raise CommandError("--workers takes a number from 1 to 256.")
        reach_queue()
        forkserver.set_forkserver_preload(["fulgen_server.worker"])
        crew = Crew(size=options["workers"])
        crew.start()
        stopped: list[int] = []
        for sign in (signal.SIGTERM, signal.SIGINT):
            signal.signal(sign, lambda number, _frame: stopped.append(number))
        self.stdout.write(f"{crew.size} workers for {settings.QUEUE_URL}   (Ctrl+C stops them)")
        while not stopped:
            # Whoever ended, by whatever, has a successor.
            crew.keep(busy=True)
            time.sleep(_LOOK_S)
        crew.dismiss()
