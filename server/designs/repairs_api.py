"""The API of repairs: what the check finds and its remedies, bars, shapes of letters, touch-ups.

These calls keep nothing: the browser sends the whole recipe, with places on the work as it is shown.
"""

import math
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from designs.api import AnyRecipe, Problems
from designs.faces import face_of
from designs.lettering_api import BoxOut, PointOut
from fulgen.formats.svg import MAX_FILE_BYTES, path_data, read_drawing
from fulgen.geometry import measure
from fulgen.geometry.nodes import Node, nodes_of
from fulgen.joining.bars import snapped
from fulgen.lettering.layout import PlacedLetter
from fulgen.lettering.reshape import edited, mark_of, stroke_ends
from fulgen.lettering.stand_ins import in_unit_square, library_shape, names
from fulgen.problem import Problem
from fulgen.readiness.findings import Finding, findings, thinnest_stroke, wide_enough
from fulgen.recipe.evaluate import Evaluation, SetPart, evaluate, limits_of
from fulgen.recipe.model import Anchor, Bar, Known, Limits, Recipe, TouchUp
from fulgen.recipe.touchups import strayed_by

router = Router(tags=["repairs"])

Place = Annotated[float, Field(ge=-20_000, le=20_000)]


class PlaceIn(Schema):
    """A place on the work, in mm."""

    x: Place
    y: Place


# --- findings ------------------------------------------------------------------------------------------


class FindingOut(Schema):
    """What the check found: where, how large (measure_mm is a number of points for points), the limit it
    breaks, and what repairs it. known is what a recipe keeps when the maker accepts it."""

    number: int
    kind: str
    what: str
    blocks: bool
    accepted: bool
    box: BoxOut
    measure: float
    limit: float
    part: str
    remedy: str | None
    known: Known


class LostTouchUp(Schema):
    """A touch-up that no longer finds its place: its number in the recipe, and what it did."""

    number: int
    what: str


class FindingsOut(Schema):
    """All that the check finds, the limits it goes by, how wide strokes are made that are under theirs, and
    touch-ups that have lost their place."""

    material: str
    limits: Limits
    wide_enough_mm: float
    findings: list[FindingOut]
    lost: list[LostTouchUp]


class RecipeIn(Schema):
    recipe: AnyRecipe


class RemedyIn(Schema):
    """A finding of a recipe, by its number."""

    recipe: AnyRecipe
    number: Annotated[int, Field(ge=0, le=10_000)]


_DID = {
    "fill": "a hole was filled", "cut": "a sliver was taken off", "thicken": "a thin place was thickened",
    "close": "a gap was closed", "remove": "a point was taken out", "move": "a point was moved",
    "smooth": "a stretch was smoothed", "round": "a corner was rounded",
}  # fmt: skip


@router.post("/findings", response={200: FindingsOut, **Problems}, operation_id="findings")
def list_findings(request: HttpRequest, wanted: RecipeIn) -> dict[str, Any]:
    """What would go wrong on the material."""
    evaluation = evaluate(wanted.recipe, face_of)
    limits = limits_of(wanted.recipe)
    return {
        "material": wanted.recipe.material.name,
        "limits": limits,
        "wide_enough_mm": wide_enough(limits.stroke_mm),
        "findings": [_finding(n, f, evaluation) for n, f in enumerate(findings(evaluation))],
        "lost": [
            {"number": n, "what": f"Where {_DID[wanted.recipe.touch_ups[n].kind]}"} for n in evaluation.lost
        ],
    }


def _finding(number: int, finding: Finding, evaluation: Evaluation) -> dict[str, Any]:
    box = finding.box
    x = -box.right if evaluation.recipe.mirror else box.x
    return {
        "number": number,
        "kind": finding.kind,
        "what": finding.what,
        "blocks": finding.blocks,
        "accepted": finding.accepted,
        "box": {"x": x, "y": box.y, "width": box.width, "height": box.height},
        "measure": finding.measure,
        "limit": finding.limit,
        "part": finding.part,
        "remedy": finding.remedy.label if finding.remedy else None,
        "known": finding.known,
    }


@router.post("/findings/remedy", response={200: Recipe, **Problems}, operation_id="takeRemedy")
def take_remedy(request: HttpRequest, wanted: RemedyIn) -> Recipe:
    """The recipe with a finding's remedy taken."""
    found = findings(evaluate(wanted.recipe, face_of))
    remedy = found[wanted.number].remedy if wanted.number < len(found) else None
    if remedy is None:
        raise Problem("no-remedy", "There is no remedy for this.", "Repair it by hand, or accept it.")
    mended = remedy.take(wanted.recipe)
    if len(evaluate(mended, face_of).lost) > len(evaluate(wanted.recipe, face_of).lost):
        raise Problem(
            "no-remedy", "The repair finds no place to hold there.", "Repair it by hand, or accept it."
        )
    return mended


class StrokeIn(Schema):
    """How wide the thinnest stroke of a part is to be."""

    recipe: AnyRecipe
    part: str
    stroke_mm: Annotated[float, Field(ge=0.05, le=50)]


class ThickenOut(Schema):
    """By how much to thicken, and how wide the thinnest stroke was and is then."""

    thicken_mm: float
    before_mm: float
    after_mm: float


@router.post("/thicken-until", response={200: ThickenOut, **Problems}, operation_id="thickenUntil")
def thicken_until(request: HttpRequest, wanted: StrokeIn) -> dict[str, float]:
    """By how much a part is to be thickened until its thinnest stroke is as wide as asked."""
    alone = wanted.recipe.model_copy(
        update={"parts": tuple(p for p in wanted.recipe.parts if p.id == wanted.part) or wanted.recipe.parts}
    )
    now = alone.parts[0].thicken_mm
    before = thinnest_stroke(evaluate(alone, face_of))
    by = now + (wanted.stroke_mm - before) / 2
    if by < 0:
        raise Problem(
            "thick-enough",
            f"The thinnest stroke is {before:.2f} mm wide already.",
            "Type a wider one, or thin the lettering by a length below 0.",
            "thicken_mm",
        )
    thicker = alone.parts[0].model_copy(update={"thicken_mm": round(by, 3)})
    after = thinnest_stroke(evaluate(alone.model_copy(update={"parts": (thicker,)}), face_of))
    return {"thicken_mm": round(by, 3), "before_mm": before, "after_mm": after}


# --- bars ----------------------------------------------------------------------------------------------


class BarIn(Schema):
    """A bridge to be laid from one place on the work to another, or to hold its other measures."""

    recipe: AnyRecipe
    part: str
    start: PlaceIn
    end: PlaceIn
    width_mm: Annotated[float, Field(ge=0.1, le=100)] | None = None
    bulge: Annotated[float, Field(ge=-1, le=1)] = 0.0


@router.post("/bars/lay", response={200: Bar, **Problems}, operation_id="layBar")
def lay_bar(request: HttpRequest, wanted: BarIn) -> Bar:
    """A bridge whose ends lie in the strokes nearest to two places."""
    evaluation = evaluate(wanted.recipe, face_of)
    part = _part(evaluation, wanted.part)
    start = _in_a_stroke(part, wanted.start, wanted.recipe.mirror)
    end = _in_a_stroke(part, wanted.end, wanted.recipe.mirror)
    if start.letter == end.letter and math.hypot(start.x - end.x, start.y - end.y) < 0.02:
        raise Problem(
            "no-bar",
            "Both ends of the bridge would lie in the same place.",
            "Drag from one stroke to another.",
            "bars",
        )
    width = part.part.join.neck_mm if wanted.width_mm is None else wanted.width_mm
    return Bar(start=start, end=end, width_mm=width, bulge=wanted.bulge)


def _part(evaluation: Evaluation, part_id: str) -> SetPart:
    return next((p for p in evaluation.parts if p.part.id == part_id), evaluation.parts[0])


def _in_a_stroke(part: SetPart, place: PlaceIn, mirror: bool) -> Anchor:
    x, y = (-place.x if mirror else place.x), place.y
    letter = part.nearest(x, y)
    size = part.layout.size
    own = ((x - part.part.x - letter.x) / size, (y - part.part.y - letter.y) / size)
    at = snapped(letter.form.region, own)
    return part.anchor(letter, part.part.x + letter.x + at[0] * size, part.part.y + letter.y + at[1] * size)


# --- shapes of letters -----------------------------------------------------------------------------------


class LetterIn(Schema):
    """A letter of a recipe, by its part and its id."""

    recipe: AnyRecipe
    part: str
    id: int


class NodeOut(Schema):
    """A node of a letter's outline on the work, with its handles; contour and place say where in it."""

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


@router.post("/letters/nodes", response={200: NodesOut, **Problems}, operation_id="letterNodes")
def letter_nodes(request: HttpRequest, wanted: LetterIn) -> dict[str, Any]:
    """The nodes of a letter's outline, with what a hand has changed of them."""
    evaluation = evaluate(wanted.recipe, face_of)
    part = _part(evaluation, wanted.part)
    letter = part.by_id.get(wanted.id)
    if letter is None or letter.letter.stands_in:
        raise Problem(
            "no-shape",
            "This letter has no outline of its own to change.",
            "Choose another letter.",
            "letters",
        )
    drawn = letter.letter.drawn.outline
    reshaping = letter.letter.key[1].reshaping
    mark = mark_of(drawn)
    edits = reshaping.edits if reshaping is not None and reshaping.of == mark else ()
    contours = edited(drawn, edits)
    side = -1.0 if wanted.recipe.mirror else 1.0

    def on_work(at: complex) -> dict[str, float]:
        x, y = letter.letter.from_drawn(at.real, at.imag)
        size = part.layout.size
        return {
            "x": side * (part.part.x + letter.x + x * size),
            "y": part.part.y + letter.y + y * size,
        }

    def node(number: int, n: Node) -> dict[str, Any]:
        return {
            "name": n.name, "contour": number, **on_work(n.at), "smooth": n.smooth,
            "before": None if n.before is None else on_work(n.before),
            "after": None if n.after is None else on_work(n.after),
        }  # fmt: skip

    ends = []
    for end in stroke_ends(contours):
        tip, ahead = on_work(end.tip), on_work(end.tip + end.way)
        long = math.hypot(ahead["x"] - tip["x"], ahead["y"] - tip["y"]) or 1.0
        ends.append({
            **tip, "dx": (ahead["x"] - tip["x"]) / long, "dy": (ahead["y"] - tip["y"]) / long,
            "width_mm": end.width * long, "nodes": list(end.nodes),
        })  # fmt: skip
    return {
        "mark": mark,
        "nodes": [node(number, n) for number, contour in enumerate(contours) for n in contour],
        "ends": ends,
        "per_mm": _per_mm(part, letter, side),
        "next": 1 + max(n.name for contour in (*contours, *nodes_of(drawn)) for n in contour),
    }


def _per_mm(part: SetPart, letter: PlacedLetter, side: float) -> list[float]:
    """From a move on the work in mm to shares of the letter as drawn: rows (a, b) and (c, d)."""
    x0, y0 = letter.letter.to_drawn(0.0, 0.0)
    x1, y1 = letter.letter.to_drawn(1.0, 0.0)
    x2, y2 = letter.letter.to_drawn(0.0, 1.0)
    size = part.layout.size
    return [side * (x1 - x0) / size, (x2 - x0) / size, side * (y1 - y0) / size, (y2 - y0) / size]


class ShapeOut(Schema):
    """A shape of the library, in a square of 100."""

    name: str
    d: str
    box: BoxOut


@router.get("/shapes", response=list[ShapeOut], operation_id="listShapes")
def list_shapes(request: HttpRequest) -> list[dict[str, Any]]:
    """The shape library."""
    found = []
    for name in names():
        outline = library_shape(name).outline.placed(0, 0, 100)
        box = measure.box(outline)._asdict()
        found.append({"name": name, "d": path_data(outline, decimals=1), "box": box})
    return found


class OwnShapeOut(Schema):
    """A shape of the maker's own, read from a file: its name and its path in a square of 100."""

    name: str
    d: str


@router.post("/shapes/read", response={200: OwnShapeOut, **Problems}, operation_id="readShape")
def read_shape(request: HttpRequest, file: File[UploadedFile]) -> dict[str, str]:
    """A shape from an SVG file."""
    name = file.name or "The file"
    drawing = read_drawing(file.read(MAX_FILE_BYTES + 1), name)
    d = path_data(in_unit_square(drawing.outline, name).outline.placed(0, 0, 100))
    stem = name.rsplit(".", 1)[0]
    return {"name": stem[:60] or "own shape", "d": d}


# --- touch-ups -------------------------------------------------------------------------------------------


class OutlineNodesOut(Schema):
    """The nodes of the welded outline on the work: x and y in turn."""

    places: list[float]


@router.post("/outline/nodes", response={200: OutlineNodesOut, **Problems}, operation_id="outlineNodes")
def outline_nodes(request: HttpRequest, wanted: RecipeIn) -> dict[str, list[float]]:
    """Where the nodes of the welded outline are."""
    places: list[float] = []
    for film in evaluate(wanted.recipe, face_of).films:
        for contour in nodes_of(film.shape.outline):
            places += [v for n in contour for v in (round(n.at.real, 4), round(n.at.imag, 4))]
    return {"places": places}


class TouchUpIn(Schema):
    """A touch-up to be made at a place on the work; dx_mm and dy_mm are how far a point is moved."""

    recipe: AnyRecipe
    kind: Literal["fill", "cut", "thicken", "close", "remove", "move", "smooth", "round"]
    at: PlaceIn
    to: PlaceIn | None = None
    size_mm: Annotated[float, Field(ge=0, le=100)] = 0.0
    dx_mm: Annotated[float, Field(ge=-500, le=500)] = 0.0
    dy_mm: Annotated[float, Field(ge=-500, le=500)] = 0.0


class LaidTouchUp(Schema):
    """A touch-up that was made, and how far the outline moved by it at most."""

    touch_up: TouchUp
    moved_mm: float


_NOT_THERE = {
    "fill": ("There is no hole here.", "Click inside a hole."),
    "cut": ("Nothing here is thinner than that.", "Click on the sliver, or type a larger width."),
    "thicken": ("Nothing here is thinner than that.", "Click on the thin place, or type a larger width."),
    "close": ("There is no gap here as narrow as that.", "Click in the gap, or type a larger width."),
    "remove": ("This point cannot be taken out.", "Click on a point of the outline."),
    "move": ("This point cannot be moved there.", "Move it less far: edges must not cross."),
    "smooth": ("This stretch cannot be smoothed.", "Choose two points on the same edge."),
    "round": ("No corner here can be rounded so.", "Click on a corner, or type a smaller radius."),
}  # fmt: skip


@router.post("/touch-ups/lay", response={200: LaidTouchUp, **Problems}, operation_id="layTouchUp")
def lay_touch_up(request: HttpRequest, wanted: TouchUpIn) -> dict[str, Any]:
    """A touch-up at a place of the welded outline. Refused where it cannot be done."""
    evaluation = evaluate(wanted.recipe, face_of)
    side = -1.0 if wanted.recipe.mirror else 1.0
    x, y = side * wanted.at.x, wanted.at.y
    part = min(evaluation.parts, key=lambda p: p.distance(x, y))
    size = part.layout.size
    to = None
    if wanted.to is not None:
        to = part.anchor(part.nearest(side * wanted.to.x, wanted.to.y), side * wanted.to.x, wanted.to.y)
    touch_up = TouchUp(
        kind=wanted.kind, part=part.part.id, at=part.anchor(part.nearest(x, y), x, y), to=to,
        size_mm=wanted.size_mm, dx=side * wanted.dx_mm / size, dy=wanted.dy_mm / size,
    )  # fmt: skip
    with_it = wanted.recipe.model_copy(update={"touch_ups": (*wanted.recipe.touch_ups, touch_up)})
    made = evaluate(with_it, face_of)
    if len(wanted.recipe.touch_ups) in made.lost:
        what, todo = _NOT_THERE[wanted.kind]
        raise Problem("no-place", what, todo, "touch_ups")
    films = zip(evaluation.films, made.films, strict=True)
    return {"touch_up": touch_up, "moved_mm": max(strayed_by(b.plain, a.plain) for b, a in films)}
