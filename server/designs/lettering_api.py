"""The API of the work: a recipe evaluated, saved as a file, and the faces to choose from.

These calls keep nothing: the browser sends the whole recipe and gets what it comes to.
"""

from typing import Annotated, Any
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from designs.api import AnyRecipe, Problems
from fulgen.cli import safe_names
from fulgen.formats.svg import path_data, write_svg
from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.lettering.catalogue import Family, families, find_family
from fulgen.lettering.shaping import missing_letters, shape_line
from fulgen.recipe.evaluate import Evaluation, evaluate, letter_trace

router = Router(tags=["lettering"])


class BoxOut(Schema):
    """A rectangle on the work, in mm."""

    x: float
    y: float
    width: float
    height: float


class PieceOut(Schema):
    d: str
    area_mm2: float
    box: BoxOut
    holes: int


class FilmOut(Schema):
    colour: str
    pieces: list[PieceOut]


class LetterOut(Schema):
    """A letter's own outline before the weld."""

    part: str
    line: int
    text: str
    d: str


class PartOut(Schema):
    """Where a lettering part stands: baselines from the top, capital height and the face's size."""

    id: str
    baselines_mm: list[float]
    capital_height_mm: float
    size_mm: float


class EvaluationOut(Schema):
    """What a recipe comes to, in mm on the work; y down."""

    box: BoxOut
    films: list[FilmOut]
    letters: list[LetterOut]
    parts: list[PartOut]
    cut_length_mm: float
    nodes: int


class FileRequest(Schema):
    name: Annotated[str, Field(max_length=400)] = ""
    recipe: AnyRecipe


class AxisOut(Schema):
    tag: str
    name: str
    low: float
    usual: float
    high: float


class FeatureOut(Schema):
    tag: str
    name: str
    usual: bool


class FaceOut(Schema):
    """A family to choose: its kind, weights or axes, and what can be switched."""

    slug: str
    name: str
    kind: str
    weights: list[int]
    axes: list[AxisOut]
    features: list[FeatureOut]


class SamplesRequest(Schema):
    """A few words to be shown in the faces named, or in every face."""

    text: Annotated[str, Field(max_length=2_000)]
    faces: Annotated[list[str], Field(max_length=200)] | None = None


class SampleOut(Schema):
    """The words in one face, in units of 1/100 of its size; ``lacks`` names letters it has not."""

    slug: str
    d: str
    box: BoxOut
    lacks: list[str]


SAMPLE_LETTERS = 14
SAMPLE_UNITS = 100


def _box(box: measure.Box) -> dict[str, float]:
    return box._asdict()


def _evaluation(evaluation: Evaluation) -> dict[str, Any]:
    mirror = evaluation.recipe.mirror
    return {
        "box": _box(evaluation.box),
        "films": [
            {
                "colour": film.colour,
                "pieces": [
                    {
                        "d": path_data(piece.outline),
                        "area_mm2": piece.area,
                        "box": _box(piece.box),
                        "holes": piece.holes,
                    }
                    for piece in film.pieces
                ],
            }
            for film in evaluation.films
        ],
        "letters": [
            {
                "part": part.part.id,
                "line": letter.line,
                "text": letter.text,
                "d": path_data(letter_trace(part, letter, mirror)),
            }
            for part, letter in evaluation.letters
        ],
        "parts": [
            {
                "id": part.part.id,
                "baselines_mm": [part.part.y + y for y in part.layout.baselines],
                "capital_height_mm": part.capital_height,
                "size_mm": part.layout.size,
            }
            for part in evaluation.parts
        ],
        "cut_length_mm": evaluation.cut_length,
        "nodes": evaluation.nodes,
    }


@router.post("/evaluate", response={200: EvaluationOut, **Problems}, operation_id="evaluate")
def evaluate_recipe(request: HttpRequest, recipe: AnyRecipe) -> dict[str, Any]:
    """The outline the knife will follow, and its figures."""
    return _evaluation(evaluate(recipe))


@router.post("/svg", response={200: str, **Problems}, operation_id="saveSvg")
def save_svg(request: HttpRequest, file: FileRequest) -> HttpResponse:
    """The design as an SVG file."""
    document = write_svg(evaluate(file.recipe))
    name = f"{safe_names([file.name or 'lettering'])[0]}.svg"
    disposition = f"attachment; filename=\"lettering.svg\"; filename*=UTF-8''{quote(name)}"
    return HttpResponse(document, "image/svg+xml", headers={"Content-Disposition": disposition})


@router.get("/faces", response=list[FaceOut], operation_id="listFaces")
def list_faces(request: HttpRequest) -> list[dict[str, Any]]:
    """The families that ship with Fulgen, by name."""
    return [
        {
            "slug": family.slug,
            "name": family.name,
            "kind": family.kind,
            "weights": list(family.numbered_weights),
            "axes": family.axes,
            "features": family.face().features(),
        }
        for family in families().values()
    ]


@router.post("/faces/samples", response={200: list[SampleOut], **Problems}, operation_id="faceSamples")
def face_samples(request: HttpRequest, wanted: SamplesRequest) -> list[dict[str, Any]]:
    """The first word or so of a text in each face, or the face's own name where there is none."""
    line = next((part for part in wanted.text.split("\n") if part.strip()), "").strip()
    shown = families().values() if wanted.faces is None else map(find_family, wanted.faces)
    return [_sample(family, line) for family in shown]


def _sample(family: Family, line: str) -> dict[str, Any]:
    face = family.face()
    lacks = missing_letters(face, line)
    shown = line[:SAMPLE_LETTERS].strip() if line and not lacks else family.name
    outline = Outline.joined(
        letter.drawn.placed(letter.x * SAMPLE_UNITS, 0, SAMPLE_UNITS) for letter in shape_line(face, shown)
    )
    return {
        "slug": family.slug,
        "d": path_data(outline, decimals=1),
        "box": _box(measure.box(outline)),
        "lacks": lacks,
    }
