"""Writes what is kept in the project though it follows from the rest: the API's description for the web
app, the recipe's for makers, its defaults and limits for the web app, and how the shipped faces join.

./fulgen schemas runs it; a test fails when either is stale.
"""

import ast
import hashlib
import json
import re
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from importlib import import_module
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from pydantic import TypeAdapter

from fulgen.joining import face_record, rating
from fulgen.lettering import facts, looks, writing_systems
from fulgen.lettering.catalogue import FACES_DIR, INDEX, families
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


def face_rows() -> str:
    """What is known of the shipped families, worked out on all cores where their files, or how they are
    looked at, have changed since it was written."""
    path = FACES_DIR / INDEX
    kept = json.loads(path.read_text("utf-8")) if path.exists() else {}
    marks = face_marks()
    changed = [slug for slug, mark in marks.items() if kept.get(slug, {}).get("made_of") != mark]
    with ProcessPoolExecutor() as pool:
        made = dict(zip(changed, pool.map(face_row, changed), strict=True))
    rows = {
        slug: {"made_of": marks[slug], **made[slug]} if slug in made else kept[slug] for slug in families()
    }
    lines = ",\n".join(
        f" {json.dumps(slug)}: {json.dumps(rows[slug], separators=(',', ':'))}" for slug in families()
    )
    return f"{{\n{lines}\n}}\n"


def face_marks() -> dict[str, str]:
    """For each shipped family a digest of what is known of it is made of."""
    return {slug: _mark(slug) for slug in families()}


def _mark(slug: str) -> str:
    """A digest of the files of a family and of what looks at them."""
    seen = hashlib.blake2b(digest_size=12)
    looking = (writing_systems, facts, looks, rating, face_record)
    files = sorted(path for path in (FACES_DIR / slug).iterdir() if path.suffix != ".txt")
    for path in (*files, *(Path(module.__file__ or "") for module in looking)):
        seen.update(path.read_bytes())
    return seen.hexdigest()


def face_row(slug: str) -> dict[str, Any]:
    """What is known of a shipped family, worked out anew."""
    family = replace(families()[slug], known=None)
    return {**family.facts.as_dict(), **face_record.record_of(family).as_dict()}


class Command(BaseCommand):
    help = (
        "Writes the API's and the recipe's descriptions, the model for the web app, and the index of faces."
    )

    def handle(self, *args: Any, **options: Any) -> None:
        for path, text in schemas().items():
            (settings.ROOT / path).write_text(text, "utf-8")
        (FACES_DIR / INDEX).write_text(face_rows(), "utf-8")
