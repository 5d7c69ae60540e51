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


def _from_2(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 3: a part has a placement, anchors name their part and what was seen where they were laid,
    bridges belong to the design, and a lettering keeps its next letter id."""
    parts = [_placed(part) for part in _rows(recipe.get("parts"))]
    by_id = {part.get("id", "lettering-1"): part for part in parts if isinstance(part.get("id", ""), str)}
    bars = [
        {**bar, "start": _anchor(bar.get("start"), part_id), "end": _anchor(bar.get("end"), part_id)}
        for part_id, part in by_id.items()
        for bar in _rows(part.pop("bars", None))
    ]
    touch_ups = []
    for row in _rows(recipe.get("touch_ups")):
        touch_up = dict(row)
        part_id = touch_up.pop("part", None)
        for end in ("at", "to"):
            if touch_up.get(end) is not None:
                touch_up[end] = _seen(_anchor(touch_up[end], part_id), by_id)
        touch_ups.append(touch_up)
    known = []
    for row in _rows(recipe.get("known")):
        finding = dict(row)
        finding["at"] = _seen(
            _anchor(finding.get("at"), finding.pop("part", "") or next(iter(by_id), "")), by_id
        )
        known.append(finding)
    for part in parts:
        _keep_next_id(part, [bar[end] for bar in bars for end in ("start", "end")],
                      [t.get("at") for t in touch_ups], [k["at"] for k in known])  # fmt: skip
    kept = {"bars": bars, "touch_ups": touch_ups, "known": known}
    return {
        **recipe, "version": 3, **({"parts": parts} if isinstance(recipe.get("parts"), list) else {}),
        **{name: rows for name, rows in kept.items() if rows},
    }  # fmt: skip


def _from_3(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 4 knows flows, how they are shaped, and how tightly letters are joined; what a recipe of
    version 3 asks for is joined as it is now."""
    return {**recipe, "version": 4}


def _from_4(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 5 knows parts of other kinds than lettering."""
    return {**recipe, "version": 5}


def _from_5(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 6 knows frames, courses and bends."""
    return {**recipe, "version": 6}


def _from_6(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 7 knows how the design is cut."""
    return {**recipe, "version": 7}


def _from_7(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 8 knows habits of the hand."""
    return {**recipe, "version": 8}


def _from_8(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 9 knows designs that are made ready to cut."""
    return {**recipe, "version": 9}


def _from_9(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 10 says of every part what it is for: a line that was a band is one that is cut."""
    parts = recipe.get("parts")
    if not isinstance(parts, list):
        return {**recipe, "version": 10}
    return {**recipe, "version": 10, "parts": [_with_use(part) for part in parts]}


def _from_10(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 11 knows parts that are aligned, letters that are slanted, and a photograph under the work."""
    return {**recipe, "version": 11}


_NAMES_OF_12 = {
    "recipe": {"known": "accepted_findings"},
    "part": {"travels": "group_id"},
    "cut": {"also": "extra_designs", "mirror_known": "mirror_accepted", "pieces_known": "pieces_accepted"},
    "stocks": {"onto": "substitute_film"},
    "laid": {"onto": "sheet_film"},
}


def _from_11(recipe: dict[str, Any]) -> dict[str, Any]:
    """Version 12 names a few fields by standard terms; nothing means anything else."""

    def renamed(row: Any, names: dict[str, str]) -> Any:
        return {names.get(key, key): value for key, value in row.items()} if isinstance(row, dict) else row

    recipe = renamed(recipe, _NAMES_OF_12["recipe"])
    if isinstance(recipe.get("parts"), list):
        recipe["parts"] = [renamed(part, _NAMES_OF_12["part"]) for part in recipe["parts"]]
    if isinstance(recipe.get("cut"), dict):
        cut = renamed(recipe["cut"], _NAMES_OF_12["cut"])
        for rows in ("stocks", "laid"):
            if isinstance(cut.get(rows), list):
                cut[rows] = [renamed(row, _NAMES_OF_12[rows]) for row in cut[rows]]
        recipe["cut"] = cut
    return {**recipe, "version": 12}


def _with_use(part: Any) -> Any:
    is_band = isinstance(part, dict) and part.get("kind") == "line" and part.get("use") == "band"
    return {**part, "use": "cut"} if is_band else part


def _rows(data: Any) -> list[dict[str, Any]]:
    """The rows of a list; what is none is for the model to say."""
    return [dict(row) for row in data if isinstance(row, dict)] if isinstance(data, list) else []


def _placed(part: dict[str, Any]) -> dict[str, Any]:
    place = {axis: part.pop(axis) for axis in ("x", "y") if axis in part}
    join = part.get("join")
    if isinstance(join, dict) and _rows(join.get("refused")):
        part_id = part.get("id", "lettering-1")
        ends = [
            {end: {"part": part_id, "letter": pair.get(end)} for end in ("one", "other")}
            for pair in _rows(join["refused"])
        ]
        part["join"] = {**join, "refused": ends}
    return {**part, **({"place": place} if place else {})}


def _anchor(data: Any, part_id: Any) -> Any:
    return {**data, "part": part_id} if isinstance(data, dict) else data


def _seen(anchor: Any, parts: dict[str, dict[str, Any]]) -> Any:
    """The anchor with what is to be seen where it was laid."""
    part = parts.get(str(anchor.get("part"))) if isinstance(anchor, dict) else None
    if part is None or not isinstance(part.get("text", ""), str):
        return anchor
    text, letter = part.get("text", ""), anchor.get("letter")
    ids = part.get("letter_ids") or ()
    if not isinstance(ids, list | tuple) or len(ids) != len(text):
        ids = range(1, len(text) + 1)
    letters = part.get("letters")
    change = letters.get(str(letter)) if isinstance(letters, dict) else None
    stand_in = change.get("stand_in") if isinstance(change, dict) else None
    if isinstance(stand_in, dict):
        return {**anchor, "of": f"({stand_in.get('shape', 'heart')})"[:20]}
    # A letter that the face merges with the next shows its sign first.
    shown = next((sign for sign, name in zip(text, ids, strict=True) if name == letter), "")
    return {**anchor, "of": shown}


def _keep_next_id(part: dict[str, Any], *anchors: list[Any]) -> None:
    """A next id beyond all that were ever named."""
    named = [
        anchor.get("letter")
        for anchor in (a for rows in anchors for a in rows if isinstance(a, dict))
        if anchor.get("part") == part.get("id", "lettering-1")
    ]
    ids = [*named, *(part.get("letter_ids") or [])]
    known = [i for i in ids if isinstance(i, int) and 0 < i < 999_999]
    if known:
        part["next_letter_id"] = max(known) + 1


MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
    5: _from_5,
    6: _from_6,
    7: _from_7,
    8: _from_8,
    9: _from_9,
    10: _from_10,
    11: _from_11,
}

MAX_RECIPE_BYTES = 2 * 2**20
"""The one limit on how large a recipe may be: as JSON in UTF-8, read from a file, sent, or stored."""


def read_recipe(text: str | bytes) -> Recipe:
    """A recipe from JSON of any source. Raises Problem saying what is wrong, where, and what to do."""
    _check_size(len(text.encode(errors="surrogatepass") if isinstance(text, str) else text))
    return read_stored(text)


def to_store(recipe: Recipe) -> str:
    """The recipe as it is stored. Raises Problem "recipe-too-large" where it could not be read back."""
    stored = recipe.stored()
    _check_size(len(stored.encode(errors="surrogatepass")))
    return stored


def _check_size(size: int) -> None:
    if size > MAX_RECIPE_BYTES:
        raise Problem(
            "recipe-too-large",
            f"The recipe is larger than {MAX_RECIPE_BYTES // 2**20} MB.",
            "Use fewer shapes of your own in place of letters, or simpler ones.",
        )


def read_stored(text: str | bytes) -> Recipe:
    """A recipe that was kept: what is on the shelf is opened, however large it is. Raises Problem."""
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
    "spacing_share": "the letter spacing", "stretch": "the width of the letters", "slant": "the slant",
    "alignment": "the alignment", "line_spacing": "the line spacing", "film": "the film’s colour",
    "place": "the place",
    "face": "the face", "weight": "the weight", "features": "the features", "axes": "the axes",
    "neck_mm": "the neck", "smooth_mm": "the smoothing", "letters": "what was done to a letter",
    "letter_ids": "the letters’ ids", "join": "the joining",
    "parts": "the parts", "align": "the alignment", "measure": "what is measured", "unit": "the unit",
}  # fmt: skip


def problem_in(error: ValidationError) -> Problem:
    """The first thing a model finds wrong, in a maker's words."""
    first = error.errors(include_url=False, include_input=False)[0]
    loc = list(first["loc"])
    if "parts" in loc[:-2] and isinstance(loc[loc.index("parts") + 1], int):
        del loc[loc.index("parts") + 2]  # the kind of the part, which nobody looks for
    where = ".".join(str(step + 1) if isinstance(step, int) else step for step in loc)
    field = next((_FIELD_WORDS[s] for s in reversed(loc) if s in _FIELD_WORDS), "")
    name = field or (f"“{where[:60]}”" if where else "The recipe")
    name = name[0].upper() + name[1:]
    context = first.get("ctx", {})
    kind = first["type"]
    unit = " mm" if field == "the size" or str((loc or ("",))[-1]).endswith("_mm") else ""
    if kind in ("too_many_letters", "too_many_lines"):
        return Problem(kind.replace("_", "-"), first["msg"], "Split it into several designs.", where)
    if kind == "too_long" and first["loc"] == ("parts",):
        what = f"A design holds up to {context['max_length']} parts."
        return Problem("too-many-parts", what, "Split it into several.", "parts")
    if kind == "two_places":
        return Problem("two-places", first["msg"], "Leave it in one of them.", where)
    if kind == "no_name":
        return Problem("no-name", first["msg"], "Lay other parts beside the frame.", where)
    if kind == "same_id":
        return Problem("same-id", first["msg"], "Give each an id of its own.", where)
    if kind in ("greater_than_equal", "greater_than"):
        low = context.get("ge", context.get("gt"))
        what = f"{name} is too small: it must be {low:g}{unit} or more."
    elif kind in ("less_than_equal", "less_than"):
        high = context.get("le", context.get("lt"))
        what = f"{name} is too large: it can be {high:g}{unit} at most."
    elif kind in ("finite_number", "float_type", "float_parsing", "int_type", "int_parsing"):
        what = f"{name} is not a number."
    elif kind in ("bool_type", "bool_parsing"):
        what = f"{name} must be true or false."
    elif kind == "missing":
        what = f"{name} is missing."
    elif kind in ("extra_forbidden", "unexpected_keyword_argument"):
        what = f"“{str(loc[-1])[:60]}” is nothing a recipe can have there."
    elif kind in ("literal_error", "enum"):
        what = f"{name} must be {context.get('expected', 'one of the known words')}."
    else:
        what = f"{name}: {first['msg'].rstrip('.')}."
    return Problem("bad-value", what, "Correct it and try again.", where[:120])
