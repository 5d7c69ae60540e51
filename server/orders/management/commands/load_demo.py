"""Puts the demo shop on the shelf, once: what the maker changed or deleted stays so."""

import argparse
import tomllib
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from computing.pool import prepare
from designs import cutting, shelf
from designs.models import Design, PressNote, PressTest
from fulgen.recipe.versions import read_recipe
from orders import demo
from orders.crew import crew
from orders.models import Order


class Command(BaseCommand):
    help = "Loads the demo designs that were not loaded before."

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("--workers", type=int, default=0, help="processes that work out its order")

    def handle(self, *args: Any, **options: Any) -> None:
        shop = tomllib.loads((settings.DEMO_DIR / "shop.toml").read_text("utf-8"))
        known = set(Design.objects.exclude(demo=None).values_list("demo", flat=True))
        # The last one made comes first on the shelf.
        for row in reversed(shop["design"]):
            if row["file"] not in known:
                recipe = read_recipe((settings.DEMO_DIR / row["file"]).read_bytes())
                design = shelf.make(row["name"], recipe, demo=row["file"])
                shelf.draw_card(str(design.id))
                for job in shop["job"]:
                    if job["design"] == row["file"]:
                        cutting.half_done(design, job["film"])
        orders = [row for row in shop["order"] if not Order.objects.filter(demo=row["demo"]).exists()]
        if orders and options["workers"]:
            prepare("fulgen_server.worker")
            crew.size = options["workers"]
            crew.start()
        for row in orders:
            demo.load_order(row)
        crew.dismiss()
        if not known:
            for note in shop["press"]:
                PressNote.objects.get_or_create(material=note["material"], defaults=note)
            for test in shop["test"]:
                PressTest.objects.create(**test)
