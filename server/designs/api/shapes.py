"""Shapes that stand in for letters: files of the maker's own. The library is that of forms (building)."""

from django.http import HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile

from designs.api.values import Problems
from fulgen.formats.drawing import MAX_FILE_BYTES, read_coloured
from fulgen.geometry.paths import path_data
from fulgen.lettering.stand_ins import StandIn, in_unit_square, own_stand_in

router = Router(tags=["shapes"])


@router.post("/shapes/read", response={200: StandIn, **Problems}, operation_id="readShape")
def read_shape(request: HttpRequest, file: File[UploadedFile]) -> StandIn:
    """A shape from an SVG file, as a stand-in that a recipe can hold, with its colours where it has
    several."""
    name = file.name or "The file"
    whole, colours = read_coloured(file.read(MAX_FILE_BYTES + 1), name)
    made = in_unit_square(whole.outline, name)
    scale = 100 * made.box.width / whole.box.width
    by = (100 * made.box.x - whole.box.x * scale, 100 * made.box.y - whole.box.y * scale)
    d = path_data(made.outline.placed(0, 0, 100))
    layers = {colour: path_data(shape.outline.placed(*by, scale)) for colour, shape in colours.items()}
    return own_stand_in(name, d, layers if len(layers) > 1 else {})
