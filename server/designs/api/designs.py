"""The API of the shelf: designs listed, made, opened, saved, copied, deleted and put back."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import Field

from designs import shelf
from designs.api.values import AnyRecipe, Problems
from designs.models import Design
from designs.shelf import CardFigures
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_recipe

router = Router(tags=["designs"])

Name = Annotated[str, Field(max_length=400)]


class Card(CardFigures):
    """A design as the shelf shows it."""

    id: UUID
    name: str
    changed: datetime


class DesignOut(Schema):
    """A design, opened: its newest revision."""

    id: UUID
    name: str
    revision: int
    changed: datetime
    recipe: Recipe


class NewDesign(Schema):
    name: Name
    recipe: AnyRecipe = Recipe()


class SaveDesign(Schema):
    """The name and recipe to keep, and the revision they were made from."""

    name: Name
    recipe: AnyRecipe
    based_on: int


class Saved(Schema):
    revision: int
    name: str
    changed: datetime


def _card(design: Design) -> Card:
    return Card(id=design.id, name=design.name, changed=design.changed, **design.card)


def _opened(design: Design) -> DesignOut:
    return DesignOut(
        id=design.id, name=design.name, revision=design.head, changed=design.changed,
        recipe=read_recipe(design.recipe),
    )  # fmt: skip


@router.get("", response=list[Card], operation_id="listDesigns")
def list_designs(request: HttpRequest) -> list[Card]:
    """The shelf, newest change first."""
    return [_card(design) for design in Design.objects.filter(deleted=None)]


@router.post("", response={201: DesignOut, **Problems}, operation_id="makeDesign")
def make_design(request: HttpRequest, new: NewDesign) -> Status[DesignOut]:
    """A new design."""
    return Status(201, _opened(shelf.make(new.name, new.recipe)))


@router.get("/{design_id}", response={200: DesignOut, **Problems}, operation_id="openDesign")
def open_design(request: HttpRequest, design_id: UUID) -> DesignOut:
    """A design with its newest recipe."""
    return _opened(shelf.find(design_id))


@router.put("/{design_id}", response={200: Saved, **Problems}, operation_id="saveDesign")
def save_design(request: HttpRequest, design_id: UUID, design: SaveDesign) -> Saved:
    """A new revision; refused with 409 when the design has moved on since ``based_on``."""
    saved = shelf.save(design_id, design.name, design.recipe, design.based_on)
    return Saved(revision=saved.head, name=saved.name, changed=saved.changed)


@router.post("/{design_id}/copy", response={201: Card, **Problems}, operation_id="copyDesign")
def copy_design(request: HttpRequest, design_id: UUID) -> Status[Card]:
    """A second design like this one."""
    return Status(201, _card(shelf.copy(design_id)))


@router.delete("/{design_id}", response={204: None, **Problems}, operation_id="deleteDesign")
def delete_design(request: HttpRequest, design_id: UUID) -> Status[None]:
    """Off the shelf; it can be put back."""
    shelf.delete(design_id)
    return Status(204, None)


@router.post("/{design_id}/restore", response={200: Card, **Problems}, operation_id="restoreDesign")
def restore_design(request: HttpRequest, design_id: UUID) -> Card:
    """A deleted design back on the shelf."""
    return _card(shelf.restore(design_id))
