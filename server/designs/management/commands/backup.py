"""Keeps the whole shop in one file, also while it is served."""

import argparse
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from designs.backup import write_backup
from designs.management.outcome import or_said
from fulgen.units import counted


class Command(BaseCommand):
    help = "Keeps the whole shop in one file."
    requires_system_checks = ()  # they read the whole API, which takes as long as the rest

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        kept = or_said(lambda: write_backup(settings.DATABASE, options["file"]))
        self.stdout.write(
            f"{options['file'].name}: {counted(kept.designs, 'design')}, {kept.megabytes:.1f} MB."
        )
