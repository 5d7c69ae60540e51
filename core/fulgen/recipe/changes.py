"""Changes of a recipe, each a function from one recipe to another: what remedies are made of.

Every change is held to the model's limits: a recipe that comes out of one can be stored and read again.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from difflib import SequenceMatcher
from typing import Any

from pydantic import ValidationError

from fulgen.joining.bars import Bar
from fulgen.lettering.letters import AS_SET
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.lettering import Lettering
from fulgen.parts.ready import Ready
from fulgen.parts.touchups import TouchUp
from fulgen.problem import Problem
from fulgen.recipe.model import (
    MAX_ACCEPTED_FINDINGS,
    MAX_BARS,
    MAX_TOUCH_UPS,
    AcceptedFinding,
    AnyPart,
    Recipe,
)

Change = Callable[[Recipe], Recipe]

_MOST = {
    "touch_ups": (MAX_TOUCH_UPS, "repairs"),
    "accepted_findings": (MAX_ACCEPTED_FINDINGS, "accepted findings"),
    "bars": (MAX_BARS, "bridges"),
}


def with_part(recipe: Recipe, part_id: str, change: Callable[[AnyPart], AnyPart]) -> Recipe:
    """The recipe with one part changed."""
    parts = tuple(change(p) if p.id == part_id else p for p in recipe.parts)
    return _held(recipe, {"parts": parts})


def with_lettering(recipe: Recipe, part_id: str, change: Callable[[Lettering], Lettering]) -> Recipe:
    """The recipe with a lettering changed."""
    return with_part(recipe, part_id, lambda part: change(part) if isinstance(part, Lettering) else part)


def with_fixed_ids(recipe: Recipe, part_ids: set[str]) -> Recipe:
    """The recipe with the letters of parts named by ids that stay, as anchors on them need."""
    parts = tuple(
        p.model_copy(update={"letter_ids": p.ids}) if isinstance(p, Lettering) and p.id in part_ids else p
        for p in recipe.parts
    )
    return recipe.model_copy(update={"parts": parts})


def with_letter(part: Lettering, letter_id: int, **update: Any) -> Lettering:
    """The lettering with one letter's change changed."""
    now = part.letters.get(letter_id, AS_SET)
    letters = {**part.letters, letter_id: replace(now, **update)}
    return part.model_copy(update={"letters": letters, "letter_ids": part.ids})


def retyped(part: Lettering, text: str) -> Lettering:
    """The lettering with other words. Characters that both texts share keep their ids, and so what a hand has
    done to them; others get ids of their own, as if they had been typed (difflib's longest common runs)."""
    whole = Lettering.model_validate({"id": part.id, "text": text})
    runs = SequenceMatcher(None, part.text, whole.text, autojunk=False).get_matching_blocks()
    kept = {new + n: part.ids[old + n] for old, new, size in runs for n in range(size)}
    fresh = iter(range(part.next_letter_id, part.next_letter_id + len(whole.text)))
    ids = tuple(kept[at] if at in kept else next(fresh) for at in range(len(whole.text)))
    letters = {name: change for name, change in part.letters.items() if name in ids}
    change = {"text": whole.text, "letter_ids": ids, "letters": letters}
    return part.model_copy(update=change | {"next_letter_id": max((*ids, part.next_letter_id - 1)) + 1})


def with_feet_aligned(recipe: Recipe, built: BuiltLettering, letter_ids: Sequence[int]) -> Recipe:
    """The recipe with the feet of letters on one line: that of the first of them."""
    letters = [built.by_id[letter_id] for letter_id in letter_ids if letter_id in built.by_id]
    feet = [letter.place.y / built.size + letter.form.box.bottom for letter in letters]
    lacks = {built.id_of(letter): feet[0] - foot for letter, foot in zip(letters, feet, strict=True)}

    def aligned(part: Lettering) -> Lettering:
        for letter_id, lacking in lacks.items():
            now = part.letters.get(letter_id, AS_SET)
            part = with_letter(part, letter_id, dy=round(now.dy + lacking, 7))
        return part

    return with_lettering(recipe, built.lettering.id, aligned)


def with_touch_ups(recipe: Recipe, touch_ups: Sequence[TouchUp]) -> Recipe:
    """The recipe with touch-ups after those it has."""
    named = with_fixed_ids(recipe, {touch_up.at.part for touch_up in touch_ups})
    return _held(named, {"touch_ups": (*recipe.touch_ups, *touch_ups)})


def with_bar(recipe: Recipe, bar: Bar) -> Recipe:
    """The recipe with a bridge laid by hand."""
    return _held(with_fixed_ids(recipe, set(bar.parts)), {"bars": (*recipe.bars, bar)})


def readied(recipe: Recipe) -> Recipe:
    """The recipe made ready to cut; as it asks for that, where it does."""
    return recipe if recipe.ready else recipe.model_copy(update={"ready": Ready()})


def with_accepted(recipe: Recipe, known: AcceptedFinding) -> Recipe:
    """The recipe with a finding accepted as it is."""
    return _held(
        with_fixed_ids(recipe, {known.at.part}), {"accepted_findings": (*recipe.accepted_findings, known)}
    )


def _held(recipe: Recipe, update: dict[str, Any]) -> Recipe:
    """The recipe changed, if it is within its limits. Raises Problem "full" or what else is wrong with it."""
    for field, (most, name) in _MOST.items():
        if len(update.get(field, ())) > most:
            raise Problem(
                "full",
                f"A design holds up to {most} {name}.",
                "Take some out first; the design is as it was.",
                field,
            )
    changed = recipe.model_copy(update=update)
    try:
        return Recipe.model_validate(changed)
    except ValidationError as error:
        from fulgen.recipe.versions import problem_in

        raise problem_in(error) from None
