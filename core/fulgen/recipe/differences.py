"""What is different between two recipes, in a maker's words: what a list of versions says of each."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from fulgen.parts.lettering import Lettering
from fulgen.parts.part import Part
from fulgen.recipe.model import Recipe

MOST_WORDS = 4

_FIELDS = {
    "text": "words", "face": "face", "size": "size", "width_mm": "size", "height_mm": "size",
    "place": "place", "film": "film", "letters": "letters", "letter_ids": "", "next_letter_id": "",
    "join": "joints", "spacing_mm": "spacing", "spacing_share": "spacing", "line_spacing": "spacing",
    "thicken_mm": "thickness", "stretch": "shape", "slant": "shape", "warp": "bend", "course": "line",
    "features": "swashes", "contours": "contours", "members": "members", "fit": "fit", "values": "measures",
    "hidden": "whether it is seen", "use": "use", "alignment": "alignment", "name": "name",
    "kinds": "letters", "habits": "habits", "underline": "underline",
}  # fmt: skip
"""What fields of parts are called; "" for what changes along with others."""

_WHOLE = {
    "material": "the material", "materials": "the material", "cut": "the sheets", "bars": "the bridges",
    "touch_ups": "the repairs", "accepted_findings": "what is accepted", "ready": "what is made ready",
    "photo": "the photograph", "mirror": "the mirror", "unit": "the unit",
}  # fmt: skip


def differences(before: Recipe, after: Recipe) -> tuple[str, ...]:
    """What was changed from one recipe to the other, the most telling first; a few words, no more."""
    return tuple(_told(before, after))[:MOST_WORDS]


def _told(before: Recipe, after: Recipe) -> Iterator[str]:
    old, new = ({part.id: part for part in recipe.parts} for recipe in (before, after))
    for name, part in new.items():
        if name not in old:
            yield f"{_called(part)} added"
    for name, part in old.items():
        if name not in new:
            yield f"{_called(part)} taken out"
    for name, part in new.items():
        if name in old and old[name] != part:
            yield from _part_told(old[name], part)
    if list(old) != list(new) and old.keys() == new.keys():
        yield "the parts in another order"
    for field, words in _WHOLE.items():
        if getattr(before, field) != getattr(after, field):
            yield f"{words} changed"


def _part_told(old: Part, new: Part) -> Iterator[str]:
    if isinstance(old, Lettering) and isinstance(new, Lettering) and old.text != new.text:
        yield f"{_called(old)} is now {_called(new)}"
        return
    changed = [name for name in type(new).model_fields if _value(old, name) != _value(new, name)]
    words = dict.fromkeys(word for name in changed if (word := _FIELDS.get(name, "shape")))
    if words:
        yield f"{_called(new)}: {', '.join(words)}"


def _value(part: Part, field: str) -> Any:
    return getattr(part, field, None)


def _called(part: Part) -> str:
    if part.name:
        return f"“{part.name}”"
    if isinstance(part, Lettering) and part.text.strip():
        return f"“{' '.join(part.text.split())[:24]}”"
    return str(getattr(part, "kind", "part"))
