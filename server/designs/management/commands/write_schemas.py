"""Writes what is kept in the project though it follows from the rest: the API's description for the web
app, the recipe's for makers, and how the shipped faces join.

./fulgen schemas runs it; a test fails when either is stale.
"""

import json
from importlib import import_module
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from fulgen.joining.rating import rate
from fulgen.lettering.catalogue import families
from fulgen.recipe.model import Recipe


def schemas() -> dict[str, str]:
    """The text of each description by its path in the project."""

    api = import_module(settings.ROOT_URLCONF).api

    def text(schema: Any) -> str:
        return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"

    return {
        "web/openapi.json": text(api.get_openapi_schema()),
        "docs/recipe.schema.json": text(Recipe.model_json_schema()),
    }


def ratings() -> str:
    """How the shipped families join, rounded so that it is the same on every machine."""
    rated = {
        slug: {name: round(value, 3) for name, value in rate(family.face()).as_dict().items()}
        for slug, family in families().items()
    }
    return json.dumps(rated, indent=1) + "\n"


class Command(BaseCommand):
    help = "Writes web/openapi.json, docs/recipe.schema.json and faces/ratings.json."

    def handle(self, *args: Any, **options: Any) -> None:
        for path, text in schemas().items():
            (settings.ROOT / path).write_text(text, "utf-8")
        (settings.ROOT / "faces" / "ratings.json").write_text(ratings(), "utf-8")
