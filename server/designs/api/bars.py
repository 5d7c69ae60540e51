"""Bridges laid by hand."""

import math
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs.api.values import AnyRecipe, PlaceIn, Problems
from designs.faces import face_of
from fulgen.joining.anchors import Anchor
from fulgen.joining.bars import Bar
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.problem import Problem
from fulgen.recipe.changes import with_bar
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation

router = Router(tags=["bars"])


class BarIn(Schema):
    """A bridge to be laid from one place on the work to another, or to hold its other measures."""

    recipe: AnyRecipe
    start: PlaceIn
    end: PlaceIn
    width_mm: Annotated[float, Field(strict=True, ge=0.1, le=100)] | None = None
    bulge: Annotated[float, Field(strict=True, ge=-1, le=1)] = 0.0


@router.post("/bars/lay", response={200: Bar, **Problems}, operation_id="layBar")
def lay_bar(request: HttpRequest, wanted: BarIn) -> Bar:
    """A bridge whose ends lie in the strokes nearest to two places."""
    evaluation = evaluate(wanted.recipe, face_of)
    if not evaluation.parts:
        evaluation.whole()
    start, end = _in_a_stroke(evaluation, wanted.start), _in_a_stroke(evaluation, wanted.end)
    if start.place == end.place and math.hypot(start.x - end.x, start.y - end.y) < 0.02:
        raise Problem(
            "no-bar",
            "Both ends of the bridge would lie in the same place.",
            "Drag from one stroke to another.",
            "bars",
        )
    built = evaluation.nearest(wanted.start.x, wanted.start.y).built
    neck = built.lettering.join.neck_mm if isinstance(built, BuiltLettering) else wanted.recipe.limits.neck_mm
    bar = Bar(start, end, neck if wanted.width_mm is None else wanted.width_mm, wanted.bulge)
    with_bar(wanted.recipe, bar)  # refuses one more than a design may hold
    return bar


def _in_a_stroke(evaluation: Evaluation, place: PlaceIn) -> Anchor:
    part = evaluation.nearest(place.x, place.y)
    return part.anchor(*part.snapped(place.x, place.y))
