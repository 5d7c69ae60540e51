"""Artwork: drawings of the maker's own read from files, and the pages of a file to choose from."""

from base64 import b64encode
from typing import Literal

from django.http import HttpRequest
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile

from designs.api.values import Problems
from fulgen.formats.artwork import read_artwork
from fulgen.formats.carried import read_carried
from fulgen.formats.drawn_path import MAX_FILE_BYTES, ReadRequest
from fulgen.formats.readers import reader_for
from fulgen.parts.artwork import Artwork
from fulgen.recipe.model import Recipe

router = Router(tags=["artwork"])

Units = Literal["", "mm", "in"]


class ArtworkOut(Schema):
    """A drawing as a part that a recipe can hold; whether the file said how large it is; its size in mm, and
    notes for the maker."""

    artwork: Artwork
    size_stated: bool
    width_mm: float
    height_mm: float
    notes: list[str]


class OpenedFile(Schema):
    """What a file holds: the design that it carries, or is, with its name; and what it draws, where it
    carries none, or was changed since Fulgen wrote it."""

    name: str
    recipe: Recipe | None
    drawing: ArtworkOut | None


class PageOut(Schema):
    """A page of a file, its size in mm, and its picture."""

    number: int
    width_mm: float
    height_mm: float
    picture: str


class PagesOut(Schema):
    """How many pages a file has, and pictures of some; a file of another kind has one page and no picture."""

    count: int
    pages: list[PageOut]


@router.post("/artwork/read", response={200: ArtworkOut, **Problems}, operation_id="readArtwork")
def read(
    request: HttpRequest,
    file: File[UploadedFile],
    page: Form[int] = 1,
    units: Form[Units] = "",
) -> ArtworkOut:
    """A drawing from a file of a kind that is read."""
    return _drawing(file.read(MAX_FILE_BYTES + 1), file.name or "The file", ReadRequest(page, units or None))


@router.post("/artwork/open", response={200: OpenedFile, **Problems}, operation_id="openFile")
def open_file(request: HttpRequest, file: File[UploadedFile]) -> OpenedFile:
    """A file that Fulgen wrote is the design again; any other is a drawing. Nothing is kept of it."""
    data, name = file.read(MAX_FILE_BYTES + 1), file.name or "The file"
    carried = read_carried(data, name)
    if carried is None:
        return OpenedFile(
            name=name.rsplit(".", 1)[0], recipe=None, drawing=_drawing(data, name, ReadRequest())
        )
    drawing = _drawing(data, name, ReadRequest()) if carried.is_changed else None
    return OpenedFile(name=carried.name, recipe=carried.recipe, drawing=drawing)


def _drawing(data: bytes, name: str, wanted: ReadRequest) -> ArtworkOut:
    found = read_artwork(data, name, wanted)
    return ArtworkOut(
        artwork=found.artwork,
        size_stated=found.size_stated,
        width_mm=found.width_mm,
        height_mm=found.height_mm,
        notes=list(found.notes),
    )


@router.post("/artwork/pages", response={200: PagesOut, **Problems}, operation_id="listPages")
def list_pages(request: HttpRequest, file: File[UploadedFile], start: Form[int] = 1) -> PagesOut:
    """The pages of a PDF by their pictures, a dozen from one on."""
    from fulgen.formats.pdf_in import pages  # with all of PDFium: imported when it is wanted

    name = file.name or "The file"
    data = file.read(MAX_FILE_BYTES + 1)
    if not reader_for(data, name).has_pages:
        return PagesOut(count=1, pages=[])
    count, found = pages(data, name, max(1, start))
    return PagesOut(
        count=count,
        pages=[
            PageOut(
                number=page.number,
                width_mm=page.width_mm,
                height_mm=page.height_mm,
                picture="data:image/png;base64," + b64encode(page.png).decode(),
            )
            for page in found
        ],
    )
