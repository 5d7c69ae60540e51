"""Faces looked into: files of the maker's own checked, those of this computer listed, and how words and
letters look in a face."""

from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from functools import partial
from typing import Annotated

from django.http import HttpRequest
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile
from ninja.responses import Status
from pydantic import Field

from designs import faces, installed
from designs.api.values import AnyRecipe, BoxOut, Problems
from designs.faces import FaceOut
from fulgen.frozen import WHOLE
from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.lettering.alternates import alternates
from fulgen.lettering.catalogue import FaceChoice, Family
from fulgen.lettering.faces import FEATURE_NAMES
from fulgen.lettering.shaping import ShapedLetter, missing_letters, shape_line
from fulgen.lettering.writing_systems import ARABIC, system_of
from fulgen.problem import Problem

router = Router(tags=["faces"])

SAMPLE_LETTERS = 14
SAMPLE_UNITS = 100


class SamplesRequest(Schema):
    """A few words to be shown in the faces named."""

    text: Annotated[str, Field(max_length=2_000)]
    faces: Annotated[list[str], Field(max_length=40)]


class SampleOut(Schema):
    """The words in one face, in units of 1/100 of its size; ``lacks`` names letters it has not."""

    slug: str
    d: str
    box: BoxOut
    lacks: list[str]


class AbleRequest(Schema):
    """A few words to be written."""

    text: Annotated[str, Field(max_length=2_000)]


class AbleOut(Schema):
    """The writing system of some words, and the faces that have all of their letters."""

    system: str
    faces: list[str]


class InstalledFaceOut(Schema):
    """A face installed on this computer: the writing systems that it says it writes, and what its licence
    bits forbid."""

    key: str
    name: str
    systems: list[str]
    forbids: str


class InstalledSamplesRequest(Schema):
    """A few words to be shown in some faces of this computer."""

    text: Annotated[str, Field(max_length=2_000)]
    keys: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=24)]


class TakeRequest(Schema):
    """A face of this computer to be copied into the shop."""

    key: Annotated[str, Field(max_length=40)]


class FeaturesRequest(Schema):
    """A few words in a face, with what is switched on and off already."""

    text: Annotated[str, Field(max_length=2_000)]
    face: FaceChoice
    features: Annotated[dict[str, bool], Field(max_length=64)]


class FeatureOut(Schema):
    """What the words are with a feature switched the other way, in units of 1/100 of the size; whether that
    changes them."""

    tag: str
    changes: bool
    d: str
    box: BoxOut


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
    """The first word or so of a text in each face, or the face's own name where there is none. A face that
    was taken off the list meanwhile is left out."""
    return list(_samples((partial(faces.family_of, slug) for slug in wanted.faces), wanted.text))


def _samples(opened: Iterable[Callable[[], Family]], text: str) -> Iterator[SampleOut]:
    """The first line of a text in families; those that cannot be opened are left out."""
    line = _first_line(text)
    for open_family in opened:
        with suppress(Problem):
            yield _sample(open_family(), line)


@router.post("/faces/able", response={200: AbleOut, **Problems}, operation_id="ableFaces")
def able_faces(request: HttpRequest, wanted: AbleRequest) -> AbleOut:
    """The faces that have every letter of a text: the maker's own first."""
    return AbleOut(system=system_of(wanted.text).name, faces=faces.able(wanted.text))


@router.post("/faces/features", response={200: list[FeatureOut], **Problems}, operation_id="faceFeatures")
def face_features(request: HttpRequest, wanted: FeaturesRequest) -> list[FeatureOut]:
    """What each thing that a face can do makes of the first line of a text, switched the other way."""
    face = faces.face_of(wanted.face)
    line = _first_line(wanted.text)
    if not line or missing_letters(face, line):
        return []
    now = {tag: on for tag, on in wanted.features.items() if tag in FEATURE_NAMES}
    plain = _picture(shape_line(face, line, _switched(now)))[0]
    found = []
    for feature in face.features():
        if feature.tag in ("init", "fina") and system_of(line) is ARABIC:
            continue  # these are the forms that every word has
        other = {**now, feature.tag: not now.get(feature.tag, feature.default)}
        d, box = _picture(shape_line(face, line, _switched(other)))
        found.append(FeatureOut(tag=feature.tag, changes=d != plain, d=d, box=box))
    return found


def _switched(features: dict[str, bool]) -> tuple[tuple[str, int], ...]:
    return tuple((tag, int(on)) for tag, on in sorted(features.items()))


@router.get(
    "/installed-faces", response={200: list[InstalledFaceOut], **Problems}, operation_id="listInstalled"
)
def list_installed(request: HttpRequest) -> list[InstalledFaceOut]:
    """The faces installed on the computer that Fulgen runs on."""
    return [
        InstalledFaceOut(key=face.key, name=face.name, systems=list(face.systems), forbids=face.forbids)
        for face in installed.listed()
    ]


@router.post(
    "/installed-faces/samples", response={200: list[SampleOut], **Problems}, operation_id="installedSamples"
)
def installed_samples(request: HttpRequest, wanted: InstalledSamplesRequest) -> list[SampleOut]:
    """The first word or so of a text in some of them; files that are no faces to Fulgen are left out."""
    there = {face.key: face for face in installed.listed()}
    asked = (there[key] for key in wanted.keys if key in there)
    return list(_samples((partial(installed.family, face) for face in asked), wanted.text))


@router.post("/installed-faces/take", response={201: FaceOut, **Problems}, operation_id="takeInstalled")
def take_installed(request: HttpRequest, wanted: TakeRequest) -> Status[FaceOut]:
    """A face of this computer copied into the shop."""
    return Status(201, installed.take(wanted.key))


def _first_line(text: str) -> str:
    return next((part for part in text.split("\n") if part.strip()), "").strip()


def _sample(family: Family, line: str) -> SampleOut:
    face = family.face()
    lacks = missing_letters(face, line)
    shown = line[:SAMPLE_LETTERS].strip() if line and not lacks else _own_words(family)
    d, box = _picture(shape_line(face, shown))
    return SampleOut(slug=family.slug, d=d, box=box, lacks=lacks)


def _own_words(family: Family) -> str:
    """A family's name, or, where it does not write Latin, some letters of what it writes."""
    if not missing_letters(family.face(), family.name):
        return family.name
    return next((system.pairs.split()[0] for system in family.facts.systems), "")


def _picture(letters: Iterable[ShapedLetter]) -> tuple[str, BoxOut]:
    # Points alone are moved: what else an outline knows of itself is not asked for.
    glyphs = [(one.face.drawn(g.file, g.id), (one.x + g.x, g.y)) for one in letters for g in one.glyphs]
    moved = [Outline(drawn.verbs, (drawn.points + at) * SAMPLE_UNITS) for drawn, at in glyphs]
    outline = Outline.joined(moved)
    return path_data(outline, decimals=1), BoxOut.of(measure.box(outline))
