"""Versions of a design: its revisions that are kept, told apart by what was changed, looked at, named and
brought back. Bringing one back is an edit like any other, made by the browser."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs import shelf
from designs.api.values import Problems
from designs.models import Revision
from designs.revisions import recipe_of
from designs.typed import one_line
from fulgen.problem import Problem
from fulgen.recipe.differences import differences
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored

router = Router(tags=["designs"])

MOST_LISTED = 60
MOST_LETTERS = 80


class DesignVersion(Schema):
    """A revision: when it was kept, its name, if it has one, and what was changed by it."""

    number: int
    made: datetime
    name: str
    changes: list[str]


class VersionRecipe(Schema):
    recipe: Recipe


class VersionName(Schema):
    name: Annotated[str, Field(max_length=MOST_LETTERS)]


@router.get(
    "/{design_id}/versions", response={200: list[DesignVersion], **Problems}, operation_id="listVersions"
)
def list_versions(request: HttpRequest, design_id: UUID) -> list[DesignVersion]:
    """The newest versions that are kept, the newest first; what is named is among them, however old."""
    design = shelf.find(design_id)
    rows = list(design.revisions.all()[: MOST_LISTED + 1])
    named = design.revisions.exclude(name="").filter(number__lt=rows[-1].number if rows else 0)
    recipes = [read_stored(recipe_of(row)) for row in rows]
    found = []
    for n, row in enumerate(rows[:MOST_LISTED]):
        before = recipes[n + 1] if n + 1 < len(recipes) else None
        changes = list(differences(before, recipes[n])) if before else ["begun" if row.number == 1 else ""]
        found.append(_told(row, [change for change in changes if change]))
    return [*found, *(_told(row, []) for row in named)]


def _told(row: Revision, changes: list[str]) -> DesignVersion:
    return DesignVersion(number=row.number, made=row.made, name=row.name, changes=changes)


@router.get("/{design_id}/versions/{int:number}", response={200: VersionRecipe, **Problems},
            operation_id="openVersion")  # fmt: skip
def open_version(request: HttpRequest, design_id: UUID, number: int) -> VersionRecipe:
    """The recipe of a version."""
    return VersionRecipe(recipe=read_stored(recipe_of(_found(design_id, number))))


@router.put("/{design_id}/versions/{int:number}", response={200: list[DesignVersion], **Problems},
            operation_id="nameVersion")  # fmt: skip
def name_version(
    request: HttpRequest, design_id: UUID, number: int, said: VersionName
) -> list[DesignVersion]:
    """A version with a name: it is kept for good."""
    row = _found(design_id, number)
    row.name = one_line(said.name, MOST_LETTERS)
    row.save(update_fields=["name"])
    return list_versions(request, design_id)


def _found(design_id: UUID, number: int) -> Revision:
    row = shelf.find(design_id).revisions.filter(number=number).first()
    if row is None:
        raise Problem("not-found", "This version is not kept any more.", "Choose another.")
    return row
