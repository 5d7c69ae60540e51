"""Takes the shop back from a file; what is there now is kept beside it."""

import argparse
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connections

from designs.backup import before_restore, restore
from designs.management.outcome import or_said
from fulgen.units import counted


class Command(BaseCommand):
    help = "Takes the shop back from a file that backup wrote."
    requires_system_checks = ()  # they read the whole API, which takes as long as the rest

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        connections.close_all()
        kept = or_said(lambda: restore(options["file"], settings.DATABASE))
        call_command("migrate", verbosity=0)
        self.stdout.write(
            f"The shop of {options['file'].name} is back: {counted(kept.designs, 'design')}. "
            f"What was here before is in {before_restore(settings.DATABASE).name}."
        )
