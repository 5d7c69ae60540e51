"""Puts the demo shop on the shelf, once: what the maker changed or deleted stays so."""

import tomllib
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from designs import shelf
from designs.models import Design
from fulgen.recipe.versions import read_recipe


class Command(BaseCommand):
    help = "Loads the demo designs that were not loaded before."

    def handle(self, *args: Any, **options: Any) -> None:
        known = set(Design.objects.exclude(demo=None).values_list("demo", flat=True))
        shop = tomllib.loads((settings.DEMO_DIR / "shop.toml").read_text("utf-8"))
        # The last one made comes first on the shelf.
        for row in reversed(shop["design"]):
            if row["file"] not in known:
                recipe = read_recipe((settings.DEMO_DIR / row["file"]).read_bytes())
                design = shelf.make(row["name"], recipe, demo=row["file"])
                shelf.draw_card(str(design.id))
