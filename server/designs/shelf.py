"""Keeping designs: what the API and the demo shop do to the shelf."""

from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from designs.faces import face_of
from designs.models import Design, Revision
from fulgen.formats.svg import path_data
from fulgen.geometry.outline import Outline
from fulgen.problem import Problem
from fulgen.recipe.evaluate import Evaluation, evaluate
from fulgen.recipe.model import Recipe

THUMBNAIL_UNITS = 400
"""The longer side of a thumbnail, in its own units; one decimal is then finer than a pixel."""

MAX_DESIGNS = 5_000


def card_of(recipe: Recipe) -> dict[str, Any]:
    """What the shelf shows of a recipe: thumbnail, size and pieces; or why there is none."""
    try:
        evaluation = evaluate(recipe, face_of)
    except Problem as problem:
        return {"why_not": problem.what}
    return {
        "width_mm": evaluation.box.width,
        "height_mm": evaluation.box.height,
        "pieces": len(evaluation.pieces),
        "unit": recipe.unit,
        "thumbnail": thumbnail(evaluation),
    }


def thumbnail(evaluation: Evaluation) -> dict[str, Any]:
    """The films as small paths in a box of their own."""
    box = evaluation.box
    scale = THUMBNAIL_UNITS / max(box.width, box.height)

    def small(outline: Outline) -> str:
        return path_data(outline.placed(-box.x * scale, -box.y * scale, scale), decimals=1)

    return {
        "width": round(box.width * scale, 1),
        "height": round(box.height * scale, 1),
        "films": [{"colour": film.colour, "d": small(film.shape.outline)} for film in evaluation.films],
    }


def find(design_id: UUID, *, deleted: bool = False) -> Design:
    """A design on the shelf (or among the deleted). Raises Problem "not-found"."""
    design = Design.objects.filter(pk=design_id, deleted__isnull=not deleted).first()
    if design is None:
        raise Problem("not-found", "This design is not on the shelf.", "Go to the shelf and choose another.")
    return design


@transaction.atomic
def make(name: str, recipe: Recipe, demo: str | None = None) -> Design:
    """A new design with its first revision."""
    if Design.objects.filter(deleted=None).count() >= MAX_DESIGNS:
        raise Problem(
            "shelf-full", f"The shelf holds {MAX_DESIGNS:,} designs and is full.", "Delete some first."
        )
    design = Design(name=_name(name), changed=timezone.now(), head=1, demo=demo, card=card_of(recipe))
    design.save()
    Revision.objects.create(design=design, number=1, recipe=recipe.stored())
    return design


def save(design_id: UUID, name: str, recipe: Recipe, based_on: int) -> Design:
    """The design with a new revision, if it is still as the caller knew it.

    Raises Problem "changed-elsewhere" when someone else saved in between; nothing is written then.
    """
    card = card_of(recipe)
    with transaction.atomic():
        design = find(design_id)
        stored = recipe.stored()
        if design.head != based_on:
            raise Problem(
                "changed-elsewhere",
                "This design was changed in another window.",
                "Load that version, or save yours as a copy. Both are kept.",
            )
        if design.name == _name(name) and design.recipe == stored:
            return design
        design.head += 1
        design.name, design.card, design.changed = _name(name), card, timezone.now()
        Revision.objects.create(design=design, number=design.head, recipe=stored)
        design.save()
    return design


def copy(design_id: UUID) -> Design:
    """A second design like the first."""
    from fulgen.recipe.versions import read_recipe

    design = find(design_id)
    return make(f"{design.name[:112]} copy", read_recipe(design.recipe))


def delete(design_id: UUID) -> None:
    """Takes the design off the shelf; it is kept, and can be put back."""
    design = find(design_id)
    design.deleted = timezone.now()
    design.save(update_fields=["deleted"])


def restore(design_id: UUID) -> Design:
    """Puts a deleted design back on the shelf."""
    design = find(design_id, deleted=True)
    design.deleted = None
    design.save(update_fields=["deleted"])
    return design


def _name(name: str) -> str:
    shown = " ".join("".join(c if c.isprintable() else " " for c in name).split())
    return shown[:120] or "Untitled"
