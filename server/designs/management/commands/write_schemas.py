"""Writes the descriptions that are kept in the project: the API's for the web app, the recipe's for makers.

./fulgen schemas runs it; a test fails when either is stale.
"""

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from fulgen.recipe.model import Recipe
from fulgen_server.urls import api


def schemas() -> dict[str, str]:
    """The text of each description by its path in the project."""

    def text(schema: Any) -> str:
        return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"

    return {
        "web/openapi.json": text(api.get_openapi_schema()),
        "docs/recipe.schema.json": text(Recipe.model_json_schema()),
    }


class Command(BaseCommand):
    help = "Writes web/openapi.json and docs/recipe.schema.json."

    def handle(self, *args: Any, **options: Any) -> None:
        for path, text in schemas().items():
            (settings.ROOT / path).write_text(text, "utf-8")
