"""The API of the shelf: designs listed, made, opened, saved, copied, deleted and put back."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import Field

from designs import background, shelf
from designs.api.values import AnyRecipe, Problems
from designs.models import Design
from designs.revisions import newest
from designs.shelf import CardFigures
from fulgen.frozen import WHOLE
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored

router = Router(tags=["designs"])

Name = Annotated[str, Field(max_length=400)]


class Card(CardFigures):
    """A design as the shelf shows it, by its name or by its words; drawn: the figures are of its newest
    recipe, not of one before."""

    id: UUID
    name: str
    tags: list[str]
    changed: datetime
    drawn: bool


class DesignOut(Schema):
    """A design, opened: its newest revision. Without a name it is called by its words. order: that of which
    it is a row changed by hand."""

    id: UUID
    name: str
    revision: int
    changed: datetime
    order: UUID | None = None
    recipe: Recipe


class NewDesign(Schema):
    name: Name
    recipe: AnyRecipe = Recipe()


class SaveDesign(Schema):
    """The name and recipe to keep, the revision they were made from, and the edit: the window it was made in
    and its number there, which grows with every edit."""

    name: Name
    recipe: AnyRecipe
    based_on: Annotated[int, Field(ge=0, le=2**31 - 1), WHOLE]
    window: Annotated[str, Field(max_length=40)] = ""
    edit: Annotated[int, Field(ge=0, le=2**53), WHOLE] = 0


class Tags(Schema):
    tags: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=50)]


class Saved(Schema):
    revision: int
    name: str
    changed: datetime


def _card(design: Design) -> Card:
    figures = CardFigures(**design.card)
    return Card(
        id=design.id,
        name=design.name or figures.called,
        tags=design.tags,
        changed=design.changed,
        drawn=design.card_of == design.head,
        **figures.model_dump(),
    )


def _opened(design: Design) -> DesignOut:
    return DesignOut(
        id=design.id, name=design.name, revision=design.head, changed=design.changed, order=design.order,
        recipe=read_stored(newest(design)),
    )  # fmt: skip


def _drawn_later(design: Design) -> Design:
    background.run_later("card", str(design.id))
    return design


@router.get("", response={200: list[Card], **Problems}, operation_id="listDesigns")
def list_designs(request: HttpRequest) -> list[Card]:
    """The shelf, newest change first. Cards that are not drawn yet are begun."""
    designs = list(shelf.on_the_shelf())
    for design in designs:
        if design.card_of != design.head:
            background.run_later("card", str(design.id))
    return [_card(design) for design in designs]


@router.post("", response={201: DesignOut, **Problems}, operation_id="makeDesign")
def make_design(request: HttpRequest, new: NewDesign) -> Status[DesignOut]:
    """A new design."""
    return Status(201, _opened(_drawn_later(shelf.make(new.name, new.recipe))))


@router.get("/{design_id}", response={200: DesignOut, **Problems}, operation_id="openDesign")
def open_design(request: HttpRequest, design_id: UUID) -> DesignOut:
    """A design with its newest recipe."""
    return _opened(shelf.find(design_id))


@router.put("/{design_id}", response={200: Saved, **Problems}, operation_id="saveDesign")
def save_design(request: HttpRequest, design_id: UUID, design: SaveDesign) -> Saved:
    """A new revision; refused with 409 when the design has moved on since ``based_on``."""
    edit = shelf.Edit(design.window, design.edit)
    saved = _drawn_later(shelf.save(design_id, design.name, design.recipe, design.based_on, edit))
    return Saved(revision=saved.head, name=saved.name, changed=saved.changed)


@router.put("/{design_id}/tags", response={200: Card, **Problems}, operation_id="tagDesign")
def tag_design(request: HttpRequest, design_id: UUID, wanted: Tags) -> Card:
    """The words that a design is found by on the shelf, besides its own."""
    return _card(shelf.tag(design_id, wanted.tags))


@router.post("/{design_id}/copy", response={201: Card, **Problems}, operation_id="copyDesign")
def copy_design(request: HttpRequest, design_id: UUID) -> Status[Card]:
    """A second design like this one."""
    return Status(201, _card(_drawn_later(shelf.copy(design_id))))


@router.delete("/{design_id}", response={204: None, **Problems}, operation_id="deleteDesign")
def delete_design(request: HttpRequest, design_id: UUID) -> Status[None]:
    """Off the shelf; it can be put back."""
    shelf.delete(design_id)
    return Status(204, None)


@router.post("/{design_id}/restore", response={200: Card, **Problems}, operation_id="restoreDesign")
def restore_design(request: HttpRequest, design_id: UUID) -> Card:
    """A deleted design back on the shelf."""
    return _card(shelf.restore(design_id))
