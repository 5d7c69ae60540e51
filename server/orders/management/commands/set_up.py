"""All that a server needs before it serves, by one process: reading Django takes longer than most of it."""

import argparse
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = "Brings the shop and its queue to what this version needs, and loads the demo shop."
    requires_system_checks = ()  # they read the whole API, which takes as long as the rest

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("--workers", type=int, default=0, help="processes that work out the demo's order")

    def handle(self, *args: Any, **options: Any) -> None:
        for database in ("default", "queue"):
            call_command("migrate", database=database, verbosity=0)
        call_command("load_demo", workers=options["workers"])
