"""Writes what is kept in the project though it follows from the rest: the API's description for the web
app, the recipe's for makers, its defaults and limits for the web app, and how the shipped faces join.

./fulgen schemas runs it; a test fails when either is stale.
"""

import ast
import json
import re
from collections.abc import Callable
from importlib import import_module
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from pydantic import TypeAdapter

from fulgen.joining.rating import rate
from fulgen.lettering.catalogue import families
from fulgen.orders.plan import OrderPlan
from fulgen.parts.kinds import PART_KINDS
from fulgen.recipe.model import Recipe


def schemas() -> dict[str, str]:
    """The text of each description by its path in the project."""

    api = import_module(settings.ROOT_URLCONF).api

    def text(schema: Any) -> str:
        return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"

    return {
        "web/openapi.json": text(api.get_openapi_schema()),
        "docs/recipe.schema.json": text(Recipe.model_json_schema()),
        "web/src/shared/api/model.json": text(
            model(Recipe.model_json_schema(), TypeAdapter(OrderPlan).json_schema())
        ),
        "docs/map.md": module_map(),
    }


def model(schema: dict[str, Any], order: dict[str, Any]) -> dict[str, Any]:
    """What the browser has to know of the models of recipes and orders, by their types and fields: defaults,
    the limits of numbers, and how many items rows hold at most; defaults of parts by their kind, too."""
    types = {"Recipe": schema, "OrderPlan": order, **schema["$defs"], **order["$defs"]}
    rows = {name: type_["properties"] for name, type_ in types.items() if "properties" in type_}

    def of_each(of_field: Callable[[dict[str, Any]], Any]) -> dict[str, dict[str, Any]]:
        found = {
            name: {key: value for key, field in fields.items() if (value := of_field(field)) is not None}
            for name, fields in rows.items()
        }
        return {name: fields for name, fields in found.items() if fields}

    defaults = {
        name: {key: field["default"] for key, field in fields.items() if "default" in field}
        for name, fields in rows.items()
    }
    return {
        "defaults": defaults,
        "parts": {kind.name: defaults[kind.model.__name__] for kind in PART_KINDS},
        "limits": of_each(_limits),
        "most": of_each(lambda field: _first_of(field, "maxItems")),
    }


def _limits(field: dict[str, Any]) -> dict[str, float] | None:
    low, high = _first_of(field, "minimum"), _first_of(field, "maximum")
    return None if low is None or high is None else {"min": low, "max": high}


def _first_of(field: dict[str, Any], name: str) -> Any:
    """What a field says, or one of the forms that it can have."""
    return next((form[name] for form in (field, *field.get("anyOf", ())) if name in form), None)


def module_map() -> str:
    """Every module of the core and the server with the first sentence it says of itself, by package."""
    lines = ["# Every module in a line", "", "Written by `./fulgen schemas`, from what each says of itself."]
    for source in ("core/fulgen", "server"):
        for init in sorted((settings.ROOT / source).rglob("__init__.py")):
            package, about = init.parent, _first_sentence(init)
            modules = [path for path in sorted(package.glob("[!_]*.py")) if _first_sentence(path)]
            if modules and about:
                lines += ["", f"## {package.relative_to(settings.ROOT)}", "", about, ""]
                lines += [f"- `{path.stem}`: {_first_sentence(path)}" for path in modules]
    return "\n".join(lines) + "\n"


def _first_sentence(module: Path) -> str:
    said = ast.get_docstring(ast.parse(module.read_text("utf-8"))) or ""
    paragraph = " ".join(said.split("\n\n")[0].split())
    return re.split(r"(?<=\.) (?=[A-Z])", paragraph)[0]


def ratings() -> str:
    """How the shipped families join, rounded so that it is the same on every machine."""
    rated = {
        slug: {name: round(value, 3) for name, value in rate(family.face()).as_dict().items()}
        for slug, family in families().items()
    }
    return json.dumps(rated, indent=1) + "\n"


class Command(BaseCommand):
    help = (
        "Writes the API's and the recipe's descriptions, the model for the web app, and faces/ratings.json."
    )

    def handle(self, *args: Any, **options: Any) -> None:
        for path, text in schemas().items():
            (settings.ROOT / path).write_text(text, "utf-8")
        (settings.ROOT / "faces" / "ratings.json").write_text(ratings(), "utf-8")
