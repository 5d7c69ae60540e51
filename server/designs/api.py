"""The API of the shelf: designs listed, made, opened, saved, copied, deleted and put back."""

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import BeforeValidator, Field

from designs import shelf
from designs.models import Design
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_recipe, recipe_from
from fulgen_server.problems import ProblemOut

router = Router(tags=["designs"])

AnyRecipe = Annotated[Recipe, BeforeValidator(recipe_from)]
"""A recipe of any version; what is wrong with one is said in a maker's words."""

Name = Annotated[str, Field(max_length=400)]


class ThumbnailFilm(Schema):
    colour: str
    d: str


class Thumbnail(Schema):
    width: float
    height: float
    films: list[ThumbnailFilm]


class Card(Schema):
    """A design as the shelf shows it. Without a thumbnail, ``why_not`` says why."""

    id: UUID
    name: str
    changed: datetime
    width_mm: float | None = None
    height_mm: float | None = None
    pieces: int | None = None
    unit: str = "mm"
    thumbnail: Thumbnail | None = None
    why_not: str = ""


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


Problems = {frozenset({404, 409, 413, 422}): ProblemOut}


def _card(design: Design) -> dict[str, Any]:
    return {"id": design.id, "name": design.name, "changed": design.changed, **design.card}


def _opened(design: Design) -> dict[str, Any]:
    return {
        "id": design.id,
        "name": design.name,
        "revision": design.head,
        "changed": design.changed,
        "recipe": read_recipe(design.recipe),
    }


@router.get("", response=list[Card], operation_id="listDesigns")
def list_designs(request: HttpRequest) -> list[dict[str, Any]]:
    """The shelf, newest change first."""
    return [_card(design) for design in Design.objects.filter(deleted=None)]


@router.post("", response={201: DesignOut, **Problems}, operation_id="makeDesign")
def make_design(request: HttpRequest, new: NewDesign) -> Status[dict[str, Any]]:
    """A new design."""
    return Status(201, _opened(shelf.make(new.name, new.recipe)))


@router.get("/{design_id}", response={200: DesignOut, **Problems}, operation_id="openDesign")
def open_design(request: HttpRequest, design_id: UUID) -> dict[str, Any]:
    """A design with its newest recipe."""
    return _opened(shelf.find(design_id))


@router.put("/{design_id}", response={200: Saved, **Problems}, operation_id="saveDesign")
def save_design(request: HttpRequest, design_id: UUID, design: SaveDesign) -> dict[str, Any]:
    """A new revision; refused with 409 when the design has moved on since ``based_on``."""
    saved = shelf.save(design_id, design.name, design.recipe, design.based_on)
    return {"revision": saved.head, "name": saved.name, "changed": saved.changed}


@router.post("/{design_id}/copy", response={201: Card, **Problems}, operation_id="copyDesign")
def copy_design(request: HttpRequest, design_id: UUID) -> Status[dict[str, Any]]:
    """A second design like this one."""
    return Status(201, _card(shelf.copy(design_id)))


@router.delete("/{design_id}", response={204: None, **Problems}, operation_id="deleteDesign")
def delete_design(request: HttpRequest, design_id: UUID) -> Status[None]:
    """Off the shelf; it can be put back."""
    shelf.delete(design_id)
    return Status(204, None)


@router.post("/{design_id}/restore", response={200: Card, **Problems}, operation_id="restoreDesign")
def restore_design(request: HttpRequest, design_id: UUID) -> dict[str, Any]:
    """A deleted design back on the shelf."""
    return _card(shelf.restore(design_id))
