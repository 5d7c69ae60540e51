"""Frames to choose from, and how a design's own name looks in one."""

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs.api.building import PreviewFilm
from designs.api.values import AnyRecipe, BoxOut, Problems, problem_out
from designs.faces import face_of
from designs.problems import ProblemOut
from fulgen.framing.frames import FRAMES, Measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.recipe.evaluate import evaluate

router = Router(tags=["frames"])


class FrameFormOut(Schema):
    """A frame of the library: its name and what it is for, its usual width to height, what can become of
    names, how many it takes, whether it has letters of its own, and its measures. Bounds of a length are
    shares of the larger of the frame's width and height."""

    name: str
    description: str
    ratio: float
    uses: tuple[Literal["edges", "holes", "letters"], ...]
    most_names: int
    has_initial: bool
    measures: tuple[Measure, ...]


@router.get("/frames", response={200: list[FrameFormOut], **Problems}, operation_id="listFrames")
def list_frames(request: HttpRequest) -> list[FrameFormOut]:
    """The frames of the library."""
    return [
        FrameFormOut(
            name=form.name,
            description=form.description,
            ratio=form.ratio,
            uses=form.uses,
            most_names=form.most_names,
            has_initial=form.has_initial,
            measures=form.measures,
        )
        for form in FRAMES.values()
    ]


class PictureIn(Schema):
    """A recipe, and the part of it that is looked at."""

    recipe: AnyRecipe
    part: Annotated[str, Field(max_length=40)]


class PictureOut(Schema):
    """A part as it would be cut, film by film, and the box around it; or what stands in its way."""

    films: list[PreviewFilm]
    box: BoxOut | None
    problem: ProblemOut | None


@router.post("/frames/picture", response={200: PictureOut, **Problems}, operation_id="drawFrame")
def draw_frame(request: HttpRequest, wanted: PictureIn) -> PictureOut:
    """A frame with its names in it, before it is taken."""
    evaluation = evaluate(wanted.recipe, face_of)
    placed = evaluation.built.get(wanted.part)
    if placed is None or not placed.everything:
        failures = [f.problem for f in evaluation.failures if wanted.part in f.parts]
        return PictureOut(films=[], box=None, problem=problem_out(failures[0]) if failures else None)
    films: dict[str, list[Outline]] = {}
    for layer in placed.in_films:
        films.setdefault(layer.film, []).extend(shape.outline for shape in layer.shapes)
    x0, y0, x1, y1 = placed.box
    return PictureOut(
        films=[PreviewFilm(colour=c, d=path_data(Outline.joined(o), decimals=2)) for c, o in films.items()],
        box=BoxOut(x=x0, y=y0, width=x1 - x0, height=y1 - y0),
        problem=None,
    )
