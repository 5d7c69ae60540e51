"""Values that several calls take and give."""

from typing import Annotated, Any
from urllib.parse import quote

from django.http import HttpResponse
from ninja import Schema
from pydantic import BaseModel, BeforeValidator, Field

from designs.problems import ProblemOut
from fulgen.formats.sheet_files import Written
from fulgen.geometry.measure import Box
from fulgen.parts.built_part import MarkUse
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import recipe_from

AnyRecipe = Annotated[Recipe, BeforeValidator(recipe_from)]
"""A recipe of any version; what is wrong with one is said in a maker's words."""

Problems = {frozenset({400, 403, 404, 409, 413, 422, 429}): ProblemOut}
"""What else a call may answer. The kinds "bad-value" and "not-a-recipe" say that the body is not as
described; every other kind of 422 says that what it asks for cannot be done."""


def files_of(*media_types: str) -> dict[str, Any]:
    """What a call that answers with a file says of it in the API's description."""
    of_each = {kind: {"schema": {"type": "string", "format": "binary"}} for kind in media_types}
    return {"responses": {200: {"content": of_each}}}


def download(file: Written) -> HttpResponse:
    """A file as the answer, to be saved under its name (RFC 6266)."""
    disposition = f"attachment; filename=\"file\"; filename*=UTF-8''{quote(file.name)}"
    return HttpResponse(file.data, file.media_type, headers={"Content-Disposition": disposition})


Coordinate = Annotated[float, Field(strict=True, ge=-20_000, le=20_000)]


class PlaceIn(Schema):
    """A place on the work, in mm."""

    x: Coordinate
    y: Coordinate


class PointOut(Schema):
    x: float
    y: float


class BoxOut(Schema):
    """A rectangle, in mm."""

    x: float
    y: float
    width: float
    height: float

    @classmethod
    def of(cls, box: Box) -> "BoxOut":
        return cls(x=box.x, y=box.y, width=box.width, height=box.height)


class MarkOut(Schema):
    """What is not cut, in the frame of what it is of: a line, or the outline of an area to engrave, and what
    it is for."""

    d: str
    use: MarkUse


class RecipeIn(Schema):
    recipe: AnyRecipe


def answered(model: BaseModel) -> HttpResponse:
    """A model as the answer, written once: what was built of checked values is not checked again."""
    return HttpResponse(model.model_dump_json(), "application/json")


def problem_out(problem: Problem) -> ProblemOut:
    """A problem as part of an answer."""
    return ProblemOut(
        kind=problem.kind,
        what=problem.what,
        where=problem.where,
        todo=problem.todo,
        faces=list(problem.faces),
    )
