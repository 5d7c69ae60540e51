"""A row changed by hand: the changes are kept when the design, the list or the rules change under them.

A three-way merge of recipes as plain data: what the hand has changed stays, everything else follows. Parts
are known by their ids; lists of anything else are taken as a whole.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, cast

from fulgen.parts.lettering import Lettering
from fulgen.parts.part import Part
from fulgen.problem import Problem
from fulgen.recipe.changes import retyped
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import recipe_from


@dataclass(frozen=True)
class ByHand:
    """What a hand made of a row: the recipe that it began with, and what it became."""

    began: Recipe
    became: Recipe


def with_changes(by_hand: ByHand, onto: Recipe) -> tuple[Recipe, tuple[str, ...]]:
    """A row's recipe with the changes of a hand, and what of them no longer fits, in words.

    Raises Problem "by-hand" where changes and recipe cannot be one any more.
    """
    began, became = by_hand.began, by_hand.became
    lost = tuple(_lost(by_hand, onto))
    parts_onto: list[Part] = []
    for part in onto.parts:
        old, new = began.part(part.id), became.part(part.id)
        parts_onto.append(_words_followed(old, new, part))
    # The letters that were changed by hand go with the words of the list.
    parts_began = [_words_followed(None, became.part(part.id), part) if _is_retyped(part, onto) else part
                   for part in began.parts]  # fmt: skip
    rows = {
        name: recipe.model_dump(mode="json") | {"parts": _dumped(parts)}
        for name, recipe, parts in (
            ("began", began, parts_began), ("became", became, became.parts), ("onto", onto, parts_onto),
        )
    }  # fmt: skip
    merged = cast(dict[str, Any], _merged(rows["began"], rows["became"], rows["onto"]))
    for row in merged["parts"]:
        if row.get("kind") == "lettering":
            # Words, the ids of their letters and what was done to these belong together.
            row |= next((_letters_of(part) for part in parts_onto if part.id == row["id"]), {})
    try:
        return recipe_from(merged), lost
    except Problem as problem:
        raise Problem(
            "by-hand",
            f"What was changed by hand in this row no longer fits the design: {problem.what}",
            "Open the row and change it anew, or let go of the changes.",
        ) from None


def _dumped(parts: Any) -> list[dict[str, Any]]:
    return [part.model_dump(mode="json") for part in parts]


def _letters_of(part: Part) -> dict[str, Any]:
    row = part.model_dump(mode="json")
    return {name: row[name] for name in ("text", "letter_ids", "letters", "next_letter_id")}


def _is_retyped(part: Part, onto: Recipe) -> bool:
    other = onto.part(part.id)
    return isinstance(part, Lettering) and isinstance(other, Lettering) and other.text != part.text


def _words_followed(old: Part | None, new: Part | None, onto: Part) -> Part:
    """A part as the design has it now, with the letters that a hand has changed: by their ids, which stay
    with the letters that are still there."""
    if not (isinstance(new, Lettering) and isinstance(onto, Lettering)):
        return onto
    text = onto.text
    if isinstance(old, Lettering) and old.text == onto.text:
        text = new.text  # the list says what it said: the hand's own words stay
    followed = retyped(new, text)
    names = ("text", "letter_ids", "letters", "next_letter_id")
    return onto.model_copy(update={name: getattr(followed, name) for name in names})


def _merged(began: Any, became: Any, onto: Any) -> Any:
    """What a value is: as the hand has it where the hand has changed it, else as it is now."""
    if became == began:
        return onto
    if all(isinstance(one, dict) for one in (began, became, onto)):
        keys = [key for key in onto if key in became or key not in began]
        keys += [key for key in became if key not in onto and (key not in began or became[key] != began[key])]
        return {key: _merged(began.get(key), became.get(key, onto.get(key)), onto.get(key)) for key in keys}
    if all(_is_named(one) for one in (began, became, onto)):
        return _merged_rows(began, became, onto)
    return became


def _is_named(rows: Any) -> bool:
    return isinstance(rows, list) and all(isinstance(row, dict) and "id" in row for row in rows)


def _merged_rows(began: list[Any], became: list[Any], onto: list[Any]) -> list[Any]:
    """Rows with ids: in the order of the design as it is now, those of the hand after them."""
    old, new = ({row["id"]: row for row in rows} for rows in (began, became))
    found = [
        _merged(old[row["id"]], new[row["id"]], row) if row["id"] in old and row["id"] in new else row
        for row in onto
        if row["id"] in new or row["id"] not in old
    ]
    here = {row["id"] for row in onto}
    return [*found, *(row for row in became if row["id"] not in old and row["id"] not in here)]


def _lost(by_hand: ByHand, onto: Recipe) -> Iterator[str]:
    """Parts that were changed by hand, and are no part of the design any more."""
    for part in by_hand.became.parts:
        old = by_hand.began.part(part.id)
        if old is not None and old != part and onto.part(part.id) is None:
            yield f"“{part.name or part.id}” was changed by hand, and the design does not have it any more."
