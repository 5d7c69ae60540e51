"""Keeping designs: what the API and the demo shop do to the shelf.

Saving computes no geometry: the card that shows a design on the shelf is drawn afterwards, outside any
transaction, and whatever becomes of it, the design is kept.
"""

import logging
from collections.abc import Iterable
from dataclasses import dataclass
from uuid import UUID

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from ninja import Schema

from designs import revisions
from designs.faces import face_of, family_name
from designs.models import Design
from designs.typed import one_line
from fulgen.budget import too_much_work
from fulgen.formats.proof import INKS
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation, PartMark, as_cut, box_as_cut
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored, to_store
from fulgen.units import Unit

log = logging.getLogger("fulgen")

THUMBNAIL_UNITS = 400
"""The longer side of a thumbnail, in its own units; one decimal is then finer than a pixel."""

MAX_DESIGNS = 5_000
MOST_IN_A_NAME = 120


class ThumbnailFilm(Schema):
    """What is drawn in one colour: areas, or lines."""

    colour: str
    d: str
    line: bool = False


class Thumbnail(Schema):
    width: float
    height: float
    films: list[ThumbnailFilm]


class CardFigures(Schema):
    """What the shelf shows of a recipe, and what it is found by: what it is called by its words, its words
    and faces, thumbnail, size and pieces. Where something of it could not be made, ``why_not`` says why."""

    called: str = "Untitled"
    words: list[str] = []
    faces: list[str] = []

    width_mm: float | None = None
    height_mm: float | None = None
    pieces: int | None = None
    unit: Unit = "mm"
    thumbnail: Thumbnail | None = None
    why_not: str = ""


def draw_card(design_id: str) -> None:
    """Draws the card of a design anew, when it is not that of its newest recipe. Whatever stands in the way
    of it is shown on the card."""
    design = Design.objects.filter(pk=design_id).first()
    if design is None or design.card_of == design.head:
        return
    card = CardFigures()
    try:
        recipe = read_stored(revisions.newest(design))
        card = _found_by(recipe)
        card = _drawn(card, evaluate(recipe, face_of))
    except Problem as problem:
        card.why_not = problem.what
    except Exception as error:
        log.error("the card of %s could not be drawn", design_id, exc_info=error)
        card.why_not = _NO_CARD
    _keep_card(design, card)


def card_failed(design_id: str) -> None:
    """A card that cannot be drawn within the budget says so."""
    design = Design.objects.filter(pk=design_id).first()
    if design is not None:
        _keep_card(design, CardFigures(why_not=too_much_work().what))


_NO_CARD = "Its picture could not be drawn."


def _keep_card(design: Design, card: CardFigures) -> None:
    """Keeps a card, unless the design has moved on meanwhile."""
    newest = Design.objects.filter(pk=design.pk, head=design.head)
    newest.update(card=card.model_dump(), card_of=design.head)


def _found_by(recipe: Recipe) -> CardFigures:
    faces = [family_name(slug) for slug in recipe.families]
    return CardFigures(unit=recipe.unit, called=recipe.display_name, words=recipe.words, faces=faces)


def _drawn(card: CardFigures, evaluation: Evaluation) -> CardFigures:
    """The card with the picture and the figures of what its recipe comes to."""
    figures: dict[str, object] = {}
    if evaluation.failures:
        figures["why_not"] = evaluation.failures[0].problem.what
    if evaluation.pieces or _seen_marks(evaluation):
        figures |= {
            "width_mm": evaluation.extent.width,
            "height_mm": evaluation.extent.height,
            "pieces": len(evaluation.pieces),
            "thumbnail": thumbnail(evaluation),
        }
    return card.model_copy(update=figures)


def _seen_marks(evaluation: Evaluation) -> list[PartMark]:
    return [one for one in evaluation.marks if one.mark.use != "guide"]


def thumbnail(evaluation: Evaluation) -> Thumbnail:
    """The outline as it is cut, with what is engraved, drawn and scored, in the thumbnail's own units."""
    box = box_as_cut(evaluation.extent, evaluation.recipe)
    scale = THUMBNAIL_UNITS / max(box.width, box.height)

    def small(outline: Outline, closed: bool = True) -> str:
        cut = as_cut(outline, evaluation.recipe)
        return path_data(cut.placed(-box.x * scale, -box.y * scale, scale), decimals=1, closed=closed)

    films = [ThumbnailFilm(colour=film.colour, d=small(film.outline)) for film in evaluation.films]
    for mark in (one.mark for one in _seen_marks(evaluation)):
        engraved = mark.use == "engrave"
        drawn = small(mark.outline, closed=engraved or mark.closed)
        films.append(ThumbnailFilm(colour=INKS[mark.use], d=drawn, line=not engraved))
    return Thumbnail(width=round(box.width * scale, 1), height=round(box.height * scale, 1), films=films)


def find(design_id: UUID, *, deleted: bool = False) -> Design:
    """A design on the shelf (or among the deleted). Raises Problem "not-found"."""
    design = Design.objects.filter(pk=design_id, deleted__isnull=not deleted).first()
    if design is None:
        raise Problem("not-found", "This design is not on the shelf.", "Go to the shelf and choose another.")
    return design


@dataclass(frozen=True)
class Edit:
    """Which edit a save keeps: the window it was made in, and its number there, which only grows."""

    window: str = ""
    number: int = 0


def on_the_shelf() -> QuerySet[Design]:
    """The designs of the shelf."""
    return Design.objects.filter(deleted=None, order=None)


def make(name: str, recipe: Recipe, demo: str | None = None, order: UUID | None = None) -> Design:
    """A new design with its first revision; one of an order is not on the shelf. Raises Problem
    "recipe-too-large", "shelf-full"."""
    stored = to_store(recipe)
    with transaction.atomic():
        if on_the_shelf().count() >= MAX_DESIGNS:
            raise Problem(
                "shelf-full", f"The shelf holds {MAX_DESIGNS:,} designs and is full.", "Delete some first."
            )
        design = Design.objects.create(
            name=one_line(name, MOST_IN_A_NAME), changed=timezone.now(), head=1, demo=demo, order=order
        )
        revisions.keep(design, 1, stored)
    return design


def save(design_id: UUID, name: str, recipe: Recipe, based_on: int, edit: Edit = Edit()) -> Design:
    """The design with a new revision, if nobody else changed it since ``based_on``.

    What the same window saved since then is its own, also when it never heard that it was saved: it is
    written over by a later edit, and stays as it is at an earlier one. Raises Problem "changed-elsewhere"
    when another window saved in between, "recipe-too-large"; nothing is written then.
    """
    stored, shown = to_store(recipe), one_line(name, MOST_IN_A_NAME)
    with transaction.atomic():
        design = find(design_id)
        if design.name == shown and revisions.newest(design) == stored:
            return design
        since = list(design.revisions.filter(number__gt=based_on).defer("packed"))
        # Some that came since may have been let go: whose they were is not known.
        others = len(since) != design.head - based_on
        if others or any(not edit.window or edit.window != r.window for r in since):
            raise Problem(
                "changed-elsewhere",
                "This design was changed in another window.",
                "Load that version, or save yours as a copy. Both are kept.",
            )
        if any(r.edit >= edit.number for r in since):
            return design
        design.head += 1
        design.name, design.changed = shown, timezone.now()
        revisions.keep(design, design.head, stored, edit.window, edit.number)
        design.save(update_fields=["head", "name", "changed"])
    return design


def copy(design_id: UUID) -> Design:
    """A second design like the first."""
    design = find(design_id)
    recipe = read_stored(revisions.newest(design))
    copied = make(f"{(design.name or recipe.display_name)[:112]} copy", recipe)
    Design.objects.filter(pk=copied.pk).update(tags=design.tags)
    copied.tags = design.tags
    return copied


MOST_TAGS = 12
MOST_IN_A_TAG = 30


def tag(design_id: UUID, tags: Iterable[str]) -> Design:
    """The design with other tags: each on one line, none twice in whatever case."""
    design = find(design_id)
    lines = (one_line(tag, MOST_IN_A_TAG).strip() for tag in tags)
    design.tags = list({tag.casefold(): tag for tag in lines if tag}.values())[:MOST_TAGS]
    design.save(update_fields=["tags"])
    return design


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
