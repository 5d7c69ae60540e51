"""Reading a recipe: any version, from any source, with a plain word about what is wrong.

MIGRATIONS turns a recipe of version n into one of version n + 1, as plain dictionaries.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from fulgen.problem import Problem
from fulgen.recipe.model import VERSION, Recipe


def _from_1(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 2 knows letters moved by hand and ways to join; a recipe of version 1 has neither."""
    return {**recipe, "version": 2}


MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _from_1}

MAX_RECIPE_BYTES = 2**20


def read_recipe(text: str | bytes) -> Recipe:
    """A recipe from JSON. Raises Problem saying what is wrong, where, and what to do."""
    if len(text) > MAX_RECIPE_BYTES:
        raise Problem(
            "recipe-too-large",
            "The recipe is larger than 1 MB.",
            "A recipe holds words and settings only; check that this is the right file.",
        )
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        place = f"line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise Problem(
            "not-a-recipe",
            "This is not a recipe: it is not complete JSON.",
            "Open the file Fulgen saved, or save the design again.",
            place,
        ) from None
    return recipe_from(data)


def recipe_from(data: object) -> Recipe:
    """A recipe from plain data, brought up to the present version."""
    if not isinstance(data, dict) or data.get("format") != "fulgen-recipe":
        raise Problem(
            "not-a-recipe",
            "This is not a Fulgen recipe.",
            "Open a file that was saved as a recipe.",
            "format",
        )
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise Problem("not-a-recipe", "The recipe does not say its version.", "Save it again.", "version")
    if version > VERSION:
        raise Problem(
            "newer-recipe",
            f"This recipe was made by a newer Fulgen: version {str(version)[:9]}, and this one "
            f"reads up to {VERSION}.",
            "Update Fulgen to open it. The file is unchanged.",
            "version",
        )
    while version < VERSION:
        data = MIGRATIONS[version](data)
        version += 1
    try:
        return Recipe.model_validate(data)
    except ValidationError as error:
        raise problem_in(error) from None


_FIELD_WORDS = {
    "text": "the text", "mm": "the size", "size": "the size", "spacing_mm": "the letter spacing",
    "spacing_share": "the letter spacing", "line_spacing": "the line spacing", "film": "the film’s colour",
    "face": "the face", "weight": "the weight", "features": "the features", "axes": "the axes",
    "neck_mm": "the neck", "smooth_mm": "the smoothing", "letters": "what was done to a letter",
    "letter_ids": "the letters’ ids", "join": "the joining",
    "parts": "the parts", "align": "the alignment", "measure": "what is measured", "unit": "the unit",
}  # fmt: skip


def problem_in(error: ValidationError) -> Problem:
    """The first thing a model finds wrong, in a maker's words."""
    first = error.errors(include_url=False, include_input=False)[0]
    where = ".".join(str(step + 1) if isinstance(step, int) else step for step in first["loc"])
    field = next((_FIELD_WORDS[s] for s in reversed(first["loc"]) if s in _FIELD_WORDS), "")
    name = field or (f"“{where[:60]}”" if where else "The recipe")
    name = name[0].upper() + name[1:]
    context = first.get("ctx", {})
    kind = first["type"]
    unit = " mm" if field == "the size" or str((first["loc"] or ("",))[-1]).endswith("_mm") else ""
    if kind in ("too_many_letters", "too_many_lines"):
        return Problem(kind.replace("_", "-"), first["msg"], "Split it into several designs.", where)
    if kind in ("greater_than_equal", "greater_than"):
        low = context.get("ge", context.get("gt"))
        what = f"{name} is too small: it must be {low:g}{unit} or more."
    elif kind in ("less_than_equal", "less_than"):
        high = context.get("le", context.get("lt"))
        what = f"{name} is too large: it can be {high:g}{unit} at most."
    elif kind in ("finite_number", "float_type", "float_parsing", "int_type", "int_parsing"):
        what = f"{name} is not a number."
    elif kind == "missing":
        what = f"{name} is missing."
    elif kind == "extra_forbidden":
        what = f"{name} is nothing a recipe can have."
    elif kind == "literal_error":
        what = f"{name} must be {context.get('expected', 'one of the known words')}."
    else:
        what = f"{name}: {first['msg'].rstrip('.')}."
    return Problem("bad-value", what, "Correct it and try again.", where[:120])
