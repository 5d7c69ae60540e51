"""Shapes that stand in for letters: the library, and files of the maker's own."""

from django.http import HttpRequest
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from designs.api.values import BoxOut, Problems
from fulgen.formats.drawing import MAX_FILE_BYTES, read_drawing
from fulgen.geometry import measure
from fulgen.geometry.paths import path_data
from fulgen.lettering.stand_ins import StandIn, in_unit_square, library_shape, names, own_stand_in

router = Router(tags=["shapes"])


class ShapeOut(Schema):
    """A shape of the library, in a square of 100."""

    name: str
    d: str
    box: BoxOut


@router.get("/shapes", response={200: list[ShapeOut], **Problems}, operation_id="listShapes")
def list_shapes(request: HttpRequest) -> list[ShapeOut]:
    """The shape library."""
    found = []
    for name in names():
        outline = library_shape(name).outline.placed(0, 0, 100)
        found.append(
            ShapeOut(name=name, d=path_data(outline, decimals=1), box=BoxOut.of(measure.box(outline)))
        )
    return found


@router.post("/shapes/read", response={200: StandIn, **Problems}, operation_id="readShape")
def read_shape(request: HttpRequest, file: File[UploadedFile]) -> StandIn:
    """A shape from an SVG file, as a stand-in that a recipe can hold."""
    name = file.name or "The file"
    drawing = read_drawing(file.read(MAX_FILE_BYTES + 1), name)
    d = path_data(in_unit_square(drawing.outline, name).outline.placed(0, 0, 100))
    return own_stand_in(name, d)
