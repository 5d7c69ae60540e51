"""The API of the work: a recipe evaluated, saved as a file, and the faces to choose from.

These calls keep nothing: the browser sends the whole recipe and gets what it comes to.
"""

from typing import Annotated, Any, Literal
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile
from ninja.responses import Status
from pydantic import Field

from designs import faces
from designs.api import AnyRecipe, Problems
from designs.faces import face_of
from fulgen.cli import safe_names
from fulgen.formats.svg import path_data, write_svg
from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.weld import Shape
from fulgen.joining.bars import Tie
from fulgen.joining.materials import MATERIALS, Material
from fulgen.lettering.alternates import alternates
from fulgen.lettering.catalogue import Family
from fulgen.lettering.layout import PlacedLetter
from fulgen.lettering.shaping import missing_letters, shape_line
from fulgen.recipe.evaluate import (
    Evaluation,
    LaidBar,
    PlacedSeam,
    SetPart,
    evaluate,
    letter_box,
    letter_trace,
)

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


class PointOut(Schema):
    x: float
    y: float


class LetterOut(Schema):
    """A letter's own outline before the weld, its id, where it stands in the text, and how many dots or
    accents it has."""

    part: str
    id: int
    at: int
    line: int
    text: str
    d: str
    box: BoxOut
    marks: int


class SeamOut(Schema):
    """Where two neighbours meet: left and right are letters' ids; lengths in mm.

    neck is 0 where they do not meet; at_least says that it is wider than Fulgen tells. ends are those of
    the gap or of the chord across the neck. chosen is the maker's way, done the one that was taken.
    squeeze is the slide as a share of the left letter's width.
    """

    part: str
    left: int
    right: int
    left_text: str
    right_text: str
    line: int
    gap_mm: float
    neck_mm: float
    at_least: bool
    state: Literal["gap", "touching", "thin", "joined"]
    by_stroke: bool
    ends: list[PointOut]
    chosen: str | None
    done: str
    shift_mm: float
    squeeze: float
    covered: float
    remedy: str
    stubs: int
    pinholes: int
    notches: int
    trimmed: int
    filled: int


class PartOut(Schema):
    """Where a lettering part stands: baselines from the top, capital height and the face's size; and the
    letters for which a shape was chosen that the face in use does not have; waiting_shapes are letters whose
    nodes were changed on another outline than they have now."""

    id: str
    baselines_mm: list[float]
    capital_height_mm: float
    size_mm: float
    lost_shapes: list[str]
    waiting_shapes: list[str]


class BarOut(Schema):
    """A bridge laid by hand: its number in its part, where its ends are on the work, and the necks by which
    it hangs there. A bar without ends has lost a letter."""

    part: str
    number: int
    d: str
    ends: list[PointOut]
    necks_mm: list[float]


class TieOut(Schema):
    """A bridge laid to tie what is loose: its outline, the ids of the letters at its ends and their texts,
    and how much of it is in the open."""

    part: str
    d: str
    letters: list[int]
    texts: list[str]
    length_mm: float


class EvaluationOut(Schema):
    """What a recipe comes to, in mm on the work; y down. loose_marks of the pieces are dots and accents."""

    box: BoxOut
    films: list[FilmOut]
    letters: list[LetterOut]
    bars: list[BarOut]
    ties: list[TieOut]
    parts: list[PartOut]
    cut_length_mm: float
    nodes: int
    loose_marks: int


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


class JoinsOut(Schema):
    """How a face joins as it is set: the shares of common pairs that are joined, the thinnest stroke as
    a share of the size, and a word for it."""

    small: float
    capital: float
    thinnest: float
    words: str


class FaceOut(Schema):
    """A family to choose: its kind, weights or axes, what can be switched, and how it joins; while that
    is being worked out, rated_share says how far it is."""

    slug: str
    name: str
    kind: str
    weights: list[int]
    axes: list[AxisOut]
    features: list[FeatureOut]
    licence: str
    joins: JoinsOut | None
    rated_share: float


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
        "letters": [_letter(part, letter, mirror) for part, letter in evaluation.letters],
        "bars": [
            _bar(part, n, laid, mirror) for part in evaluation.parts for n, laid in enumerate(part.laid)
        ],
        "ties": [_tie(part, tie, mirror) for part in evaluation.parts for tie in part.ties],
        "parts": [
            {
                "id": part.part.id,
                "baselines_mm": [part.part.y + y for y in part.layout.baselines],
                "capital_height_mm": part.capital_height,
                "size_mm": part.layout.size,
                "lost_shapes": part.lost_shapes,
                "waiting_shapes": part.waiting_shapes,
            }
            for part in evaluation.parts
        ],
        "cut_length_mm": evaluation.cut_length,
        "nodes": evaluation.nodes,
        "loose_marks": evaluation.loose_marks,
    }


def _letter(part: SetPart, letter: PlacedLetter, mirror: bool) -> dict[str, Any]:
    at = letter.letter.at
    return {
        "part": part.part.id,
        "id": part.part.ids[at],
        "at": at,
        "line": letter.line,
        "text": letter.text,
        "d": path_data(letter_trace(part, letter, mirror)),
        "box": _box(letter_box(part, letter, mirror)),
        "marks": len(part.joined.marks.get(at, ())),
    }


def _on_work(part: SetPart, shape: Shape, mirror: bool) -> str:
    placed = shape.outline.placed(part.part.x, part.part.y, part.layout.size)
    return path_data(placed.mirrored() if mirror else placed)


def _bar(part: SetPart, number: int, laid: LaidBar, mirror: bool) -> dict[str, Any]:
    size, side = part.layout.size, -1 if mirror else 1
    return {
        "part": part.part.id,
        "number": number,
        "d": _on_work(part, laid.shape, mirror),
        "ends": [
            {"x": side * (part.part.x + x * size), "y": part.part.y + y * size} for x, y in laid.ends or ()
        ],
        "necks_mm": laid.necks,
    }


def _tie(part: SetPart, tie: Tie, mirror: bool) -> dict[str, Any]:
    letters = [part.layout.letters[n] for n in tie.ends]
    return {
        "part": part.part.id,
        "d": _on_work(part, tie.shape, mirror),
        "letters": [part.id_of(letter) for letter in letters],
        "texts": [letter.text for letter in letters],
        "length_mm": tie.length * part.layout.size,
    }


def _seam(placed: PlacedSeam, mirror: bool) -> dict[str, Any]:
    seam, measured, part = placed.seam, placed.seam.measured, placed.part.part
    side = -1 if mirror else 1
    choice = part.changes.get(seam.left)
    return {
        "part": part.id,
        "left": part.ids[seam.left],
        "right": part.ids[seam.right],
        "left_text": placed.left_text,
        "right_text": placed.right_text,
        "line": seam.line,
        "gap_mm": placed.gap,
        "neck_mm": placed.neck,
        "at_least": placed.neck >= placed.widest_told,
        "state": placed.state.value,
        "by_stroke": placed.by_stroke,
        "ends": [{"x": x * side, "y": y} for x, y in placed.ends],
        "chosen": choice.seam.way if choice else None,
        "done": seam.joint.way.value,
        "shift_mm": placed.shift,
        "squeeze": seam.squeeze,
        "covered": measured.covered,
        "remedy": placed.remedy,
        "stubs": max(0, sum(stub.is_true for stub in measured.stubs) - len(seam.trimmed)),
        "pinholes": max(0, placed.pinholes - seam.filled),
        "notches": len(measured.deep_notches),
        "trimmed": len(seam.trimmed),
        "filled": seam.filled,
    }


@router.post("/evaluate", response={200: EvaluationOut, **Problems}, operation_id="evaluate")
def evaluate_recipe(request: HttpRequest, recipe: AnyRecipe) -> dict[str, Any]:
    """The outline the knife will follow, and its figures but those of its seams."""
    return _evaluation(evaluate(recipe, face_of))


@router.post("/seams", response={200: list[SeamOut], **Problems}, operation_id="measureSeams")
def measure_seams(request: HttpRequest, recipe: AnyRecipe) -> list[dict[str, Any]]:
    """The seams of a recipe, each measured: asked for after its outline, which is there sooner."""
    return [_seam(placed, recipe.mirror) for placed in evaluate(recipe, face_of).seams]


@router.post("/svg", response={200: str, **Problems}, operation_id="saveSvg")
def save_svg(request: HttpRequest, file: FileRequest) -> HttpResponse:
    """The design as an SVG file."""
    document = write_svg(evaluate(file.recipe, face_of))
    name = f"{safe_names([file.name or 'lettering'])[0]}.svg"
    disposition = f"attachment; filename=\"lettering.svg\"; filename*=UTF-8''{quote(name)}"
    return HttpResponse(document, "image/svg+xml", headers={"Content-Disposition": disposition})


@router.get("/faces", response=list[FaceOut], operation_id="listFaces")
def list_faces(request: HttpRequest) -> list[dict[str, Any]]:
    """The families to choose from: the maker's own first, then those that ship."""
    return [faces.as_out(family, row) for family, row in faces.listed()]


@router.post("/own-faces", response={201: FaceOut, **Problems}, operation_id="addFace")
def add_face(
    request: HttpRequest, file: File[UploadedFile], licence: Form[str] = ""
) -> Status[dict[str, Any]]:
    """A face of the maker's own, checked and put on the list."""
    row = faces.add(file.read(), file.name or "the file", licence)
    return Status(201, faces.as_out(faces.family_of(row.slug), row))


@router.delete("/own-faces/{slug}", response={204: None, **Problems}, operation_id="takeOffFace")
def take_off_face(request: HttpRequest, slug: str) -> Status[None]:
    """A face of the maker's own off the list; designs that use it keep it."""
    faces.take_off(slug)
    return Status(204, None)


@router.post("/own-faces/{slug}/restore", response={200: FaceOut, **Problems}, operation_id="putBackFace")
def put_back_face(request: HttpRequest, slug: str) -> dict[str, Any]:
    """A face back on the list."""
    row = faces.put_back(slug)
    return faces.as_out(faces.family_of(slug), row)


class AlternatesRequest(Schema):
    """A letter of a recipe: the part it stands in, and the place of its first character in the text."""

    recipe: AnyRecipe
    part: str
    at: Annotated[int, Field(ge=0, le=2_000)]


class AlternateOut(Schema):
    """A shape for a letter, in units of 1/100 of the size, and the features that bring it."""

    features: dict[str, int]
    name: str
    d: str
    box: BoxOut


@router.post("/faces/alternates", response={200: list[AlternateOut], **Problems}, operation_id="alternates")
def letter_alternates(request: HttpRequest, wanted: AlternatesRequest) -> list[dict[str, Any]]:
    """The shapes the face offers for a letter, the one it is set in first."""
    part = next((p for p in wanted.recipe.parts if p.id == wanted.part), wanted.recipe.parts[0])
    start = part.text.rfind("\n", 0, wanted.at) + 1
    line = part.text[start:].split("\n")[0]
    own = part.changes.get(wanted.at)
    face = faces.face_of(own.face if own and own.face else part.face)
    features = tuple(sorted(part.features.items()))
    drawn = []
    for alternate in alternates(face, line, wanted.at - start, features):
        outline = alternate.outline.placed(0, 0, SAMPLE_UNITS)
        drawn.append(
            {
                "features": dict(alternate.features),
                "name": alternate.name,
                "d": path_data(outline, decimals=1),
                "box": _box(measure.box(outline)),
            }
        )
    return drawn


class MaterialOut(Schema):
    """A material: the neck that a joint in it is given, and the least it holds, in mm."""

    name: str
    joint_mm: float
    neck_mm: float
    stroke_mm: float
    hole_mm: float
    piece_mm: float
    gap_mm: float


@router.get("/materials", response=list[MaterialOut], operation_id="listMaterials")
def list_materials(request: HttpRequest) -> list[Material]:
    """Materials with what they hold."""
    return list(MATERIALS)


@router.post("/faces/samples", response={200: list[SampleOut], **Problems}, operation_id="faceSamples")
def face_samples(request: HttpRequest, wanted: SamplesRequest) -> list[dict[str, Any]]:
    """The first word or so of a text in each face, or the face's own name where there is none."""
    line = next((part for part in wanted.text.split("\n") if part.strip()), "").strip()
    if wanted.faces is None:
        return [_sample(family, line) for family, _ in faces.listed()]
    return [_sample(faces.family_of(name), line) for name in wanted.faces]


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
