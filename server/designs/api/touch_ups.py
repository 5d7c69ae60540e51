"""Touch-ups of the welded outline, laid by hand."""

from dataclasses import replace
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs.api.values import AnyRecipe, PlaceIn, Problems, RecipeIn
from designs.faces import face_of
from fulgen.geometry.nodes import Node, nodes_of
from fulgen.parts.touchups import TouchUp, TouchUpKind, spot_of, strayed_by
from fulgen.problem import Problem
from fulgen.recipe.changes import with_touch_ups
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation

router = Router(tags=["touch-ups"])


class HandleOut(Schema):
    x: float
    y: float


class OutlineNodeOut(Schema):
    """A node of the welded outline on the work, with its handles; smooth: the outline flows through it."""

    x: float
    y: float
    before: HandleOut | None
    after: HandleOut | None
    smooth: bool


class OutlineNodesOut(Schema):
    """The nodes of each contour of the welded outline, in their order."""

    contours: list[list[OutlineNodeOut]]


class TouchUpIn(Schema):
    """A touch-up to be made at a place on the work; dx_mm and dy_mm are how far a point is moved."""

    recipe: AnyRecipe
    kind: TouchUpKind
    at: PlaceIn
    to: PlaceIn | None = None
    size_mm: Annotated[float, Field(strict=True, ge=0, le=100)] = 0.0
    dx_mm: Annotated[float, Field(strict=True, ge=-500, le=500)] = 0.0
    dy_mm: Annotated[float, Field(strict=True, ge=-500, le=500)] = 0.0


class LaidTouchUp(Schema):
    """A touch-up that was made, and how far the outline moved by it at most. goes_on: it moves what the last
    one moved, and takes its place."""

    touch_up: TouchUp
    moved_mm: float
    goes_on: bool


_NOT_THERE: dict[TouchUpKind, tuple[str, str]] = {
    "fill": ("There is no hole here.", "Click inside a hole."),
    "cut": ("Nothing here is thinner than that.", "Click on the sliver, or type a larger width."),
    "thicken": ("Nothing here is thinner than that.", "Click on the thin place, or type a larger width."),
    "close": ("There is no gap here as narrow as that.", "Click in the gap, or type a larger width."),
    "remove": ("This point cannot be taken out.", "Click on a point of the outline."),
    "move": ("This point cannot be moved there.", "Move it less far: edges must not cross."),
    "smooth": ("This stretch cannot be smoothed.", "Choose two points on the same edge."),
    "round": ("No corner here can be rounded so.", "Click on a corner, or type a smaller radius."),
    "insert": ("There is no edge here to put a point on.", "Click on the outline."),
    "before": ("The curve cannot be pulled there.", "Pull it less far: edges must not cross."),
    "after": ("The curve cannot be pulled there.", "Pull it less far: edges must not cross."),
}  # fmt: skip

_FURTHEST_MOVE = 20.0
"""No point is moved further than this, in shares of the size."""


@router.post("/outline/nodes", response={200: OutlineNodesOut, **Problems}, operation_id="outlineNodes")
def outline_nodes(request: HttpRequest, wanted: RecipeIn) -> OutlineNodesOut:
    """Where the nodes of the welded outline are."""
    return OutlineNodesOut(
        contours=[
            [_node(node) for node in contour]
            for cluster in evaluate(wanted.recipe, face_of).clusters
            for contour in nodes_of(cluster.shape.outline)
        ]
    )


def _node(node: Node) -> OutlineNodeOut:
    return OutlineNodeOut(
        x=round(node.at.real, 4),
        y=round(node.at.imag, 4),
        before=_handle(node.before),
        after=_handle(node.after),
        smooth=node.smooth,
    )


def _handle(at: complex | None) -> HandleOut | None:
    return None if at is None else HandleOut(x=round(at.real, 4), y=round(at.imag, 4))


@router.post("/touch-ups/lay", response={200: LaidTouchUp, **Problems}, operation_id="layTouchUp")
def lay_touch_up(request: HttpRequest, wanted: TouchUpIn) -> LaidTouchUp:
    """A touch-up at a place of the welded outline. Refused where it cannot be done."""
    before = evaluate(wanted.recipe, face_of)
    if not before.parts:
        before.whole()
    part = before.nearest(wanted.at.x, wanted.at.y)
    at = part.anchor(wanted.at.x, wanted.at.y)
    to = part.anchor(wanted.to.x, wanted.to.y) if wanted.to else None
    dx, dy = part.vector_on(at, wanted.dx_mm, wanted.dy_mm)
    what, todo = _NOT_THERE[wanted.kind]
    if max(abs(dx), abs(dy)) > _FURTHEST_MOVE:
        raise Problem("no-place", what, todo, "touch_ups")
    touch_up = TouchUp(wanted.kind, at, to, wanted.size_mm, dx, dy)
    last = _moved_last(before, wanted)
    if last is not None:
        touch_up = replace(last, dx=last.dx + dx, dy=last.dy + dy)
    earlier = wanted.recipe.touch_ups[: -1 if last else None]
    kept = wanted.recipe.model_copy(update={"touch_ups": earlier})
    after = evaluate(with_touch_ups(kept, [touch_up]), face_of)
    if len(earlier) in after.lost:
        raise Problem("no-place", what, todo, "touch_ups")
    return LaidTouchUp(touch_up=touch_up, moved_mm=_moved(before, after), goes_on=last is not None)


_SAME_MM = 1e-3


def _moved_last(evaluation: Evaluation, wanted: TouchUpIn) -> TouchUp | None:
    """The last touch-up, where it moved just what is moved now."""
    touch_ups = wanted.recipe.touch_ups
    if wanted.kind not in ("move", "before", "after") or not touch_ups or touch_ups[-1].kind != wanted.kind:
        return None
    part = evaluation.part(touch_ups[-1].at.part)
    spot = spot_of(touch_ups[-1], part) if part else None
    if spot is None or len(touch_ups) - 1 in evaluation.lost:
        return None
    there = complex(*spot.at) + (spot.by if wanted.kind == "move" else 0)
    return touch_ups[-1] if abs(there - complex(wanted.at.x, wanted.at.y)) <= _SAME_MM else None


def _moved(before: Evaluation, after: Evaluation) -> float:
    """How far the outline moved at most."""
    known = {tuple(part.id for part in cluster.members): cluster for cluster in before.clusters}
    pairs = ((known.get(tuple(part.id for part in cluster.members)), cluster) for cluster in after.clusters)
    moves = [strayed_by(b.shape, a.shape) for b, a in pairs if b is not None and b.key != a.key]
    return max(moves, default=0.0)
