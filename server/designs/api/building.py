"""Building: shapes and ornaments to choose from, what an operation would leave, and edges to point at."""

from collections.abc import Iterator, Sequence
from functools import cache
from typing import Annotated

import shapely
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs.api.values import AnyRecipe, BoxOut, Problems, problem_out
from designs.faces import face_of
from designs.problems import ProblemOut
from fulgen.geometry import measure
from fulgen.geometry.flatten import flat_contours
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.shape_library import LIBRARY_SHAPES, Parameter
from fulgen.geometry.weld import clean
from fulgen.lettering.catalogue import FaceChoice
from fulgen.parts.artwork import BuiltArtwork, crossing_lines
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.combination import Combination, Halo, Operation
from fulgen.parts.ornament import glyphs_of, name_of
from fulgen.parts.part import Use
from fulgen.parts.welding import body_of
from fulgen.problem import Problem
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.model import Recipe
from fulgen.recipe.tree import Tree
from fulgen.units import counted

router = Router(tags=["building"])

PICTURE = 100.0
"""Pictures of shapes are this large in their larger measure."""

PartIds = Annotated[list[Annotated[str, Field(max_length=40)]], Field(min_length=1, max_length=60)]


class LibraryShapeOut(Schema):
    """A form of the library: its picture around 0, 0, its usual width to height, and its parameters."""

    name: str
    group: str
    ratio: float
    d: str
    parameters: tuple[Parameter, ...]


@router.get("/forms", response={200: list[LibraryShapeOut], **Problems}, operation_id="listForms")
def list_library_shapes(request: HttpRequest) -> list[LibraryShapeOut]:
    """The shape library."""
    return _library()


@cache
def _library() -> list[LibraryShapeOut]:
    """The library as it is answered: it is the same as long as the server runs."""
    answers = []
    for form in LIBRARY_SHAPES.values():
        scale = PICTURE / max(form.ratio, 1.0)
        drawn = clean(form.drawn(form.ratio * scale, scale, {}), FLATNESS_MM)
        d = path_data(drawn.outline, decimals=1)
        answers.append(
            LibraryShapeOut(
                name=form.name, group=form.group, ratio=form.ratio, d=d, parameters=form.parameters
            )
        )
    return answers


# --- ornaments -----------------------------------------------------------------------------------------


class GlyphsIn(Schema):
    """A face, and which of its glyphs are asked for: so many from one on."""

    face: FaceChoice
    start: Annotated[int, Field(ge=0, le=70_000)] = 0
    count: Annotated[int, Field(ge=1, le=400)] = 240


class GlyphOut(Schema):
    """A glyph of a face by its file and number, as a picture, and what the face calls it."""

    file: int
    glyph: int
    name: str
    d: str
    box: BoxOut


class GlyphsOut(Schema):
    """Glyphs of a face, and how many there are in all."""

    total: int
    glyphs: list[GlyphOut]


@router.post("/faces/glyphs", response={200: GlyphsOut, **Problems}, operation_id="listGlyphs")
def list_glyphs(request: HttpRequest, wanted: GlyphsIn) -> GlyphsOut:
    """The glyphs of a face that draw something."""
    face = face_of(wanted.face)
    every = glyphs_of(face)
    answers = []
    for file, glyph in every[wanted.start : wanted.start + wanted.count]:
        shape = face.glyph(file, glyph)
        if not shape:
            continue
        outline = shape.outline.placed(0, 0, PICTURE)
        answers.append(
            GlyphOut(
                file=file,
                glyph=glyph,
                name=name_of(face, file, glyph),
                d=path_data(outline, decimals=1),
                box=BoxOut.of(measure.box(outline)),
            )
        )
    return GlyphsOut(total=len(every), glyphs=answers)


# --- operations ----------------------------------------------------------------------------------------


class PreviewIn(Schema):
    """Parts of one level of a recipe, and how a halo would be laid: what would operations make of them?"""

    recipe: AnyRecipe
    parts: PartIds
    halo: Halo = Halo()


class PreviewFilm(Schema):
    colour: str
    d: str


class PreviewOut(Schema):
    """What an operation would make of parts: its picture on the work, how many pieces with how many holes,
    how many of them are small, and in words; or what stands in its way."""

    how: Operation
    films: list[PreviewFilm]
    box: BoxOut | None
    pieces: int
    holes: int
    small: int
    summary: str
    problem: ProblemOut | None


_OFFERED: tuple[Operation, ...] = ("weld", "cut", "overlap", "divide", "halo")


@router.post("/build/preview", response={200: list[PreviewOut], **Problems}, operation_id="previewOperations")
def preview_operations(request: HttpRequest, wanted: PreviewIn) -> list[PreviewOut]:
    """What each operation would make of parts, on the real parts, before it is taken."""
    recipe, tree = wanted.recipe, Tree(wanted.recipe)
    chosen = _on_one_level(recipe, tree, wanted.parts)
    needed = _with_needed(tree, chosen)
    parts = tuple(part for part in recipe.parts if part.id in needed)
    alone = recipe.model_copy(update={"parts": parts, "bars": (), "touch_ups": (), "accepted_findings": ()})
    film = tree.by_id[chosen[0]].film
    offered = (
        Combination(id=_PREVIEW, how=how, members=tuple(chosen), halo=wanted.halo, film=film)
        for how in _OFFERED
    )
    return [_preview(alone, tree, combination) for combination in offered]


def _on_one_level(recipe: Recipe, tree: Tree, parts: Sequence[str]) -> list[str]:
    chosen = [part.id for part in recipe.parts if part.id in parts]
    if len(chosen) < len(set(parts)):
        raise Problem("no-part", "A part that was chosen is not there any more.", "Choose again.", "parts")
    if len({tree.parent.get(part_id) for part_id in chosen}) > 1:
        raise Problem(
            "other-level",
            "One of the parts is inside a combination, and another is not.",
            "Choose parts beside each other, or release the combination first.",
            "parts",
        )
    return [part_id for part_id in parts if part_id in chosen]


_PREVIEW = "preview"


def _with_needed(tree: Tree, chosen: Sequence[str]) -> set[str]:
    """Parts, and all that they are made from."""
    needed: set[str] = set()
    waiting = list(chosen)
    while waiting:
        part_id = waiting.pop()
        if part_id in tree.by_id and part_id not in needed:
            needed.add(part_id)
            waiting += tree.by_id[part_id].needs
    return needed


def _preview(alone: Recipe, tree: Tree, combination: Combination) -> PreviewOut:
    """What a combination would be on the work that ``tree`` is of; ``alone`` holds nothing but its parts."""
    evaluation = evaluate(alone.model_copy(update={"parts": (*alone.parts, combination)}), face_of)
    placed = evaluation.built.get(_PREVIEW)
    if placed is None:
        problem = problem_out(evaluation.failures[-1].problem)
        return PreviewOut(
            how=combination.how, films=[], box=None, pieces=0, holes=0, small=0, summary="", problem=problem
        )
    outer = tree.lies_on_work(tree.parent.get(combination.members[0]))
    shown = placed if outer is None else placed.under(outer, f"{placed.key} shown")
    return _told(combination.how, shown, evaluation)


def _told(how: Operation, placed: PlacedPart, evaluation: Evaluation) -> PreviewOut:
    films: dict[str, list[Outline]] = {}
    pieces: list[shapely.Polygon] = []
    for layer in placed.in_films:
        films.setdefault(layer.film, []).extend(shape.outline for shape in layer.shapes)
        pieces += [part for shape in layer.shapes for part in shapely.get_parts(shape.region)]
    small = sum(bool(shapely.buffer(p, -evaluation.recipe.limits.piece_mm / 2).is_empty) for p in pieces)
    holes = sum(len(piece.interiors) for piece in pieces)
    x0, y0, x1, y1 = placed.box
    said = counted(len(pieces), "piece")
    if holes:
        said += f", {counted(holes, 'hole')}"
    if small:
        said += f"; {small} too small to hold"
    return PreviewOut(
        how=how,
        films=[PreviewFilm(colour=c, d=path_data(Outline.joined(o))) for c, o in films.items()],
        box=BoxOut(x=x0, y=y0, width=x1 - x0, height=y1 - y0),
        pieces=len(pieces),
        holes=holes,
        small=small,
        summary=said,
        problem=None,
    )


# --- edges to point at ---------------------------------------------------------------------------------


class PartIn(Schema):
    """A part of a recipe."""

    recipe: AnyRecipe
    part: Annotated[str, Field(max_length=40)]


class ContourOut(Schema):
    """A contour of a part, on the work: its number, whether it is the edge of a hole, an open line, or left
    out; of a drawing also its film (None: that of the part), what it is for, its group, and the contour it
    lies on. met: something that is welded to the part runs over it."""

    number: int
    d: str
    hole: bool
    open: bool
    off: bool
    film: str | None
    use: Use
    group: str
    double_of: int | None
    gap_mm: float
    met: bool = False


class ContoursOut(Schema):
    """The contours of a part, and how many pairs of them cross."""

    contours: list[ContourOut]
    crossing: int


@router.post("/build/contours", response={200: ContoursOut, **Problems}, operation_id="listContours")
def list_contours(request: HttpRequest, wanted: PartIn) -> ContoursOut:
    """The contours of a part to point at: those of a drawing as they were read, those of others as they are
    made."""
    placed = _made(wanted, evaluate(wanted.recipe, face_of))
    if isinstance(placed.built, BuiltArtwork):
        return _of_drawing(placed, placed.built)
    return ContoursOut(contours=_of_shape(body_of(placed)), crossing=0)


@router.post("/build/edges", response={200: ContoursOut, **Problems}, operation_id="listEdges")
def list_edges(request: HttpRequest, wanted: PartIn) -> ContoursOut:
    """The edges of a part as it is made, by the numbers that a weld to chosen edges goes by."""
    evaluation = evaluate(wanted.recipe, face_of)
    placed = _made(wanted, evaluation)
    body = body_of(placed)
    contours = _of_shape(body)
    others = [body_of(other).region for other in _laid_on(evaluation, wanted.part)]
    over = shapely.boundary(shapely.union_all(others))
    for contour, ring in zip(contours, flat_contours(body.outline, FLATNESS_MM), strict=True):
        contour.met = bool(shapely.intersects(shapely.linestrings(ring), over))
    return ContoursOut(contours=contours, crossing=0)


def _laid_on(evaluation: Evaluation, ground: str) -> Iterator[PlacedPart]:
    """The other parts of the combination that a part is the ground of, on the work."""
    for part in evaluation.recipe.parts:
        if isinstance(part, Combination) and part.members[0] == ground:
            yield from (evaluation.built[name] for name in part.members[1:] if name in evaluation.built)


def _made(wanted: PartIn, evaluation: Evaluation) -> PlacedPart:
    """A part as it is made. Raises the Problem it has, or "no-part" where there is none."""
    placed = evaluation.built.get(wanted.part)
    if placed is None:
        problem = next((f.problem for f in evaluation.failures if wanted.part in f.parts), None)
        raise problem or Problem("no-part", "This part is not there any more.", "Choose another.", "part")
    return placed


def _of_drawing(placed: PlacedPart, built: BuiltArtwork) -> ContoursOut:
    gaps = dict(built.open_gaps)
    answers = [
        ContourOut(
            number=contour.number,
            d=path_data(placed.place.outline(contour.outline), closed=not contour.line),
            hole=False,
            open=contour.line,
            off=contour.off,
            film=contour.film,
            use=contour.use,
            group=contour.group,
            double_of=contour.double_of,
            gap_mm=gaps.get(contour.number, 0.0) * placed.place.scale,
        )
        for contour in built.contours
    ]
    return ContoursOut(contours=answers, crossing=crossing_lines(built))


def _of_shape(shape: Shape) -> list[ContourOut]:
    areas = measure.contour_areas(shape.outline).tolist()
    return [
        ContourOut(
            number=number, d=path_data(contour), hole=area < 0, open=False, off=False, film=None, use="cut",
            group="", double_of=None, gap_mm=0.0,
        )
        for number, (contour, area) in enumerate(zip(shape.outline.contours(), areas, strict=True))
    ]  # fmt: skip
