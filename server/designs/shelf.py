"""Keeping designs: what the API and the demo shop do to the shelf."""

from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from ninja import Schema

from designs.faces import face_of
from designs.models import Design, Revision
from fulgen.formats.svg import path_data
from fulgen.geometry.outline import Outline
from fulgen.problem import Problem
from fulgen.recipe.evaluate import Evaluation, as_cut, box_as_cut, evaluate
from fulgen.recipe.model import Recipe
from fulgen.units import Unit

THUMBNAIL_UNITS = 400
"""The longer side of a thumbnail, in its own units; one decimal is then finer than a pixel."""

MAX_DESIGNS = 5_000


class ThumbnailFilm(Schema):
    colour: str
    d: str


class Thumbnail(Schema):
    width: float
    height: float
    films: list[ThumbnailFilm]


class CardFigures(Schema):
    """What the shelf shows of a recipe: thumbnail, size and pieces. Where something of it could not be made,
    ``why_not`` says why."""

    width_mm: float | None = None
    height_mm: float | None = None
    pieces: int | None = None
    unit: Unit = "mm"
    thumbnail: Thumbnail | None = None
    why_not: str = ""


def card_of(recipe: Recipe) -> dict[str, Any]:
    """The figures of a recipe as they are kept with its design."""
    evaluation = evaluate(recipe, face_of)
    figures = CardFigures(unit=recipe.unit)
    if evaluation.failures:
        figures.why_not = evaluation.failures[0].problem.what
    if evaluation.pieces:
        figures.width_mm, figures.height_mm = evaluation.box.width, evaluation.box.height
        figures.pieces = len(evaluation.pieces)
        figures.thumbnail = thumbnail(evaluation)
    return figures.model_dump()


def thumbnail(evaluation: Evaluation) -> Thumbnail:
    """The outline as it is cut, in the thumbnail's own units."""
    box = box_as_cut(evaluation.box, evaluation.recipe)
    scale = THUMBNAIL_UNITS / max(box.width, box.height)

    def small(outline: Outline) -> str:
        cut = as_cut(outline, evaluation.recipe)
        return path_data(cut.placed(-box.x * scale, -box.y * scale, scale), decimals=1)

    return Thumbnail(
        width=round(box.width * scale, 1),
        height=round(box.height * scale, 1),
        films=[ThumbnailFilm(colour=film.colour, d=small(film.outline)) for film in evaluation.films],
    )


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
