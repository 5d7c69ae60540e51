"""Puts the demo shop on the shelf, once: what the maker changed or deleted stays so."""

import argparse
import tomllib
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import connections

from computing.pool import prepare
from designs import cutting, shelf
from designs.models import Design, PressNote, PressTest
from fulgen.recipe.versions import read_recipe
from orders import demo
from orders.crew import crew
from orders.management.queue import reach_queue
from orders.models import Order


class Command(BaseCommand):
    help = "Loads the demo designs that were not loaded before."
    requires_system_checks = ()

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        parser.add_argument("--workers", type=int, default=0, help="processes that work out its order")

    def handle(self, *args: Any, **options: Any) -> None:
        shop = tomllib.loads((settings.DEMO_DIR / "shop.toml").read_text("utf-8"))
        orders = [row for row in shop["order"] if not Order.objects.filter(demo=row["demo"]).exists()]
        is_crewed = bool(orders and options["workers"])
        if orders:
            reach_queue()
        if is_crewed:
            prepare("fulgen_server.worker")
            crew.size = options["workers"]
            crew.start()
        known = set(Design.objects.exclude(demo=None).values_list("demo", flat=True))
        # The last one made comes first on the shelf.
        made = [_made(row) for row in reversed(shop["design"]) if row["file"] not in known]
        if is_crewed:
            # Its workers have the one processor, the cards another.
            with ThreadPoolExecutor(1) as beside:
                loaded = beside.submit(_load_orders, orders)
                _draw(made, shop["job"])
            loaded.result()
        else:
            _draw(made, shop["job"])
            for row in orders:
                demo.load_order(row)
        crew.dismiss()
        if not known:
            for note in shop["press"]:
                PressNote.objects.get_or_create(material=note["material"], defaults=note)
            for test in shop["test"]:
                PressTest.objects.create(**test)


def _made(row: dict[str, Any]) -> Design:
    recipe = read_recipe((settings.DEMO_DIR / row["file"]).read_bytes())
    return shelf.make(row["name"], recipe, demo=row["file"])


def _draw(designs: list[Design], jobs: list[dict[str, Any]]) -> None:
    """Draws the cards of designs, and cuts half of the jobs of theirs."""
    for design in designs:
        shelf.draw_card(str(design.id))
        for job in jobs:
            if job["design"] == design.demo:
                cutting.half_done(design, job["film"])


def _load_orders(orders: list[dict[str, Any]]) -> None:
    """Loads orders in a thread of its own."""
    try:
        for row in orders:
            demo.load_order(row)
    finally:
        connections.close_all()
