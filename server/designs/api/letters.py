"""The shapes of letters: nodes, handles and stroke ends, on the work."""

import math
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs.api.values import AnyRecipe, PointOut, Problems
from designs.faces import face_of
from fulgen.geometry.nodes import Node, nodes_of
from fulgen.lettering.reshape import edited, stroke_ends
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.problem import Problem
from fulgen.recipe.changes import with_feet_aligned
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import Recipe

router = Router(tags=["letters"])


class LetterIn(Schema):
    """A letter of a recipe, by its part and its id."""

    recipe: AnyRecipe
    part: str
    id: int


class LettersIn(Schema):
    """Letters of a recipe, by their part and ids."""

    recipe: AnyRecipe
    part: str
    letters: Annotated[list[int], Field(min_length=1, max_length=500)]


class NodeOut(Schema):
    """A node of a letter's outline on the work, with its handles; contour says where in it."""

    name: int
    contour: int
    x: float
    y: float
    before: PointOut | None
    after: PointOut | None
    smooth: bool


class EndOut(Schema):
    """A stroke's end on the work: its tip, the direction outwards, its width, and the nodes that make it."""

    x: float
    y: float
    dx: float
    dy: float
    width_mm: float
    nodes: list[int]


class NodesOut(Schema):
    """A letter's outline as nodes. mark tells the outline again; per_mm (a, b, c, d) turns a move on the
    work, in mm, into shares as edits keep them: (a·x + b·y, c·x + d·y). next is a free name for a node."""

    mark: str
    nodes: list[NodeOut]
    ends: list[EndOut]
    per_mm: list[float]
    next: int


@router.post("/letters/align", response={200: Recipe, **Problems}, operation_id="alignFeet")
def align_feet(request: HttpRequest, wanted: LettersIn) -> Recipe:
    """The recipe with the feet of letters on one line: that of the first of them."""
    part = evaluate(wanted.recipe, face_of).whole().part(wanted.part)
    if part is None or not isinstance(part.built, BuiltLettering):
        raise Problem("no-letters", "These letters are not there any more.", "Choose others.", "parts")
    return with_feet_aligned(wanted.recipe, part.built, wanted.letters)


@router.post("/letters/nodes", response={200: NodesOut, **Problems}, operation_id="letterNodes")
def letter_nodes(request: HttpRequest, wanted: LetterIn) -> NodesOut:
    """The nodes of a letter's outline, with what a hand has changed of them."""
    evaluation = evaluate(wanted.recipe, face_of)
    part = evaluation.part(wanted.part)
    if part is None:
        evaluation.whole()
    letter = part.built.by_id.get(wanted.id) if part and isinstance(part.built, BuiltLettering) else None
    if part is None or letter is None or letter.letter.stands_in:
        raise Problem(
            "no-shape",
            "This letter has no outline of its own to change.",
            "Choose another letter.",
            "letters",
        )
    drawn, shape = letter.letter.drawn.outline, letter.letter.treatment.shape
    mark = letter.letter.mark()
    contours = edited(drawn, shape.edits if shape is not None and shape.of == mark else ())
    on = letter.drawn_place.within(part.place)

    def place(at: complex) -> PointOut:
        x, y = on.point(at.real, at.imag)
        return PointOut(x=x, y=y)

    def node(number: int, n: Node) -> NodeOut:
        at = place(n.at)
        return NodeOut(
            name=n.name, contour=number, x=at.x, y=at.y, smooth=n.smooth,
            before=None if n.before is None else place(n.before),
            after=None if n.after is None else place(n.after),
        )  # fmt: skip

    ends = []
    for end in stroke_ends(contours):
        tip, way = place(end.tip), on.vector(end.way.real, end.way.imag)
        long = math.hypot(*way) or 1.0
        ends.append(
            EndOut(
                x=tip.x, y=tip.y, dx=way[0] / long, dy=way[1] / long, width_mm=end.width * long,
                nodes=list(end.nodes),
            )
        )  # fmt: skip
    (a, c), (b, d) = on.vector_back(1.0, 0.0), on.vector_back(0.0, 1.0)
    return NodesOut(
        mark=mark,
        nodes=[node(number, n) for number, contour in enumerate(contours) for n in contour],
        ends=ends,
        per_mm=[a, b, c, d],
        next=1 + max(n.name for contour in (*contours, *nodes_of(drawn)) for n in contour),
    )
