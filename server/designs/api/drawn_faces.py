"""Faces looked into: files of the maker's own checked, and how words and letters look in a face."""

from typing import Annotated

from django.http import HttpRequest
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile
from ninja.responses import Status
from pydantic import Field

from designs import faces
from designs.api.values import AnyRecipe, BoxOut, Problems
from designs.faces import FaceOut
from fulgen.frozen import WHOLE
from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.lettering.alternates import alternates
from fulgen.lettering.catalogue import Family
from fulgen.lettering.shaping import missing_letters, shape_line

router = Router(tags=["faces"])

SAMPLE_LETTERS = 14
SAMPLE_UNITS = 100


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


class AlternatesRequest(Schema):
    """A letter of a recipe: the part it stands in, and the place of its first character in the text."""

    recipe: AnyRecipe
    part: str
    at: Annotated[int, Field(ge=0, le=2_000), WHOLE]


class AlternateOut(Schema):
    """A shape for a letter, in units of 1/100 of the size, and the features that bring it."""

    features: dict[str, int]
    name: str
    d: str
    box: BoxOut


@router.post("/own-faces", response={201: FaceOut, **Problems}, operation_id="addFace")
def add_face(request: HttpRequest, file: File[UploadedFile], licence: Form[str] = "") -> Status[FaceOut]:
    """A face of the maker's own, checked and put on the list."""
    return Status(201, faces.add(file.read(), file.name or "the file", licence))


@router.post("/faces/alternates", response={200: list[AlternateOut], **Problems}, operation_id="alternates")
def letter_alternates(request: HttpRequest, wanted: AlternatesRequest) -> list[AlternateOut]:
    """The shapes the face offers for a letter, the one it is set in first."""
    part = wanted.recipe.lettering(wanted.part)
    if part is None:
        return []
    start = part.text.rfind("\n", 0, wanted.at) + 1
    line = part.text[start:].split("\n")[0]
    own = part.changes.get(wanted.at)
    face = faces.face_of(own.face if own and own.face else part.face)
    features = tuple(sorted(part.features.items()))
    drawn = []
    for alternate in alternates(face, line, wanted.at - start, features):
        outline = alternate.outline.placed(0, 0, SAMPLE_UNITS)
        drawn.append(
            AlternateOut(
                features=dict(alternate.features),
                name=alternate.name,
                d=path_data(outline, decimals=1),
                box=BoxOut.of(measure.box(outline)),
            )
        )
    return drawn


@router.post("/faces/samples", response={200: list[SampleOut], **Problems}, operation_id="faceSamples")
def face_samples(request: HttpRequest, wanted: SamplesRequest) -> list[SampleOut]:
    """The first word or so of a text in each face, or the face's own name where there is none."""
    line = next((part for part in wanted.text.split("\n") if part.strip()), "").strip()
    slugs = [face.slug for face in faces.listed()] if wanted.faces is None else wanted.faces
    return [_sample(faces.family_of(slug), line) for slug in slugs]


def _sample(family: Family, line: str) -> SampleOut:
    face = family.face()
    lacks = missing_letters(face, line)
    shown = line[:SAMPLE_LETTERS].strip() if line and not lacks else family.name
    outline = Outline.joined(
        letter.drawn.placed(letter.x * SAMPLE_UNITS, 0, SAMPLE_UNITS) for letter in shape_line(face, shown)
    )
    box = BoxOut.of(measure.box(outline))
    return SampleOut(slug=family.slug, d=path_data(outline, decimals=1), box=box, lacks=lacks)
