"""Proof: a picture of the lettering, in its films, on the photograph of what it is for.

For the customer's eyes: it reads as the finished thing does, also where that is cut from the back.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator

import numpy as np
import shapely
from PIL import Image, ImageDraw, ImageOps

from fulgen.geometry.flatten import drawn_lines
from fulgen.geometry.polygons import Region, polygonal, region_of
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.parts.built_part import MarkUse
from fulgen.problem import Problem
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.photo import Photo

MOST_PHOTO_BYTES = 12 * 2**20
_MOST_PIXELS = 60_000_000
_KEPT_PX = 2_400
"""The longer side of a photograph as it is kept: finer than a screen."""

_PROOF_PX = 2_000
_FINER = 3
"""Edges are drawn so many times finer, and made smooth by it."""

_AIR = 0.06
"""Ground around the work where no photograph is, as a share of it."""

_GROUND = (245, 241, 232)


def read_photo(data: bytes) -> tuple[bytes, int, int]:
    """A photograph of any source as it is kept, and how many pixels it is wide and high: drawn anew as JPEG,
    upright, no larger than is seen, and with nothing else that its file held.

    Raises Problem "bad-photo".
    """
    if len(data) > MOST_PHOTO_BYTES:
        raise _bad("The photograph is larger than 12 MB.", "Save it smaller and choose it again.")
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                raise _bad("The photograph has more than 60 million points.", "Save it smaller.")
            upright = ImageOps.exif_transpose(opened)
            picture = Image.new("RGB", upright.size, _GROUND)
            whole = upright.convert("RGBA")
            picture.paste(whole, mask=whole.getchannel("A"))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise _bad(
            "This is not a photograph that can be read.", "Choose a JPEG, PNG or WebP file."
        ) from error
    picture.thumbnail((_KEPT_PX, _KEPT_PX))
    kept = io.BytesIO()
    picture.save(kept, "JPEG", quality=88, optimize=True)
    return kept.getvalue(), picture.width, picture.height


def _bad(what: str, todo: str) -> Problem:
    return Problem("bad-photo", what, todo, "photo")


def write_proof(evaluation: Evaluation, image: bytes | None) -> bytes:
    """The work on its photograph as PNG; on plain ground where there is none."""
    photo = evaluation.recipe.photo if image is not None else None
    left, top, right, bottom = _seen(evaluation, photo)
    scale = _PROOF_PX / max(right - left, bottom - top)
    size = max(1, round((right - left) * scale)), max(1, round((bottom - top) * scale))
    picture = Image.new("RGB", size, _GROUND)
    if photo is not None and image is not None and not photo.hidden:
        with Image.open(io.BytesIO(image)) as opened:
            _lay(picture, opened.convert("RGB"), photo, (left, top), scale)
    for colour, region in _layers(evaluation):
        mask = _mask(region, size, (left, top), scale)
        picture.paste(Image.new("RGB", size, colour), mask=mask)
    data = io.BytesIO()
    dpi = scale * 25.4
    picture.save(data, "PNG", dpi=(dpi, dpi))
    return data.getvalue()


def _seen(evaluation: Evaluation, photo: Photo | None) -> tuple[float, float, float, float]:
    """What is in the picture: the whole photograph and the whole work."""
    box = evaluation.extent
    air = _AIR * max(box.width, box.height, 1.0)
    bounds = [(box.x - air, box.y - air, box.right + air, box.bottom + air)]
    if photo is not None and not photo.hidden:
        xy = np.array(_corners(photo))
        bounds.append((*xy.min(axis=0), *xy.max(axis=0)))
    x0, y0, x1, y1 = np.array(bounds).T
    return float(x0.min()), float(y0.min()), float(x1.max()), float(y1.max())


def _corners(photo: Photo) -> list[tuple[float, float]]:
    angle = math.radians(photo.turn)
    cos, sin = math.cos(angle), math.sin(angle)
    half = photo.width_mm / 2, photo.height_mm / 2
    ways = ((-1, -1), (1, -1), (1, 1), (-1, 1))
    at = [(half[0] * across, half[1] * down) for across, down in ways]
    return [(photo.x + x * cos - y * sin, photo.y + x * sin + y * cos) for x, y in at]


def _lay(
    ground: Image.Image, opened: Image.Image, photo: Photo, origin: tuple[float, float], scale: float
) -> None:
    """Draws a photograph where it lies: each point of the picture is looked up in it."""
    angle = math.radians(photo.turn)
    cos, sin = math.cos(angle), math.sin(angle)
    per_x, per_y = opened.width / photo.width_mm, opened.height / photo.height_mm
    # From points of the picture to mm on the work, to mm from the photograph's middle, to its own points.
    dx, dy = origin[0] - photo.x, origin[1] - photo.y
    a, b = cos / scale * per_x, sin / scale * per_x
    c = (dx * cos + dy * sin + photo.width_mm / 2) * per_x
    d, e = -sin / scale * per_y, cos / scale * per_y
    f = (-dx * sin + dy * cos + photo.height_mm / 2) * per_y
    ways = (a, b, c, d, e, f)
    affine, smooth = Image.Transform.AFFINE, Image.Resampling.BILINEAR
    laid = opened.transform(ground.size, affine, ways, smooth)
    covered = Image.new("L", opened.size, round(255 * photo.shows))
    ground.paste(laid, mask=covered.transform(ground.size, affine, ways, smooth))


def _layers(evaluation: Evaluation) -> Iterator[tuple[str, Region]]:
    """What is seen of the work, each in its colour: films, over them what is engraved, drawn and scored."""
    for film in evaluation.films:
        yield film.colour, film.shape.region
    for mark in (one.mark for one in evaluation.marks if one.mark.use in INKS):
        if mark.use == "engrave":
            region = region_of(mark.outline, FLATNESS_MM)
        else:
            lines = drawn_lines(mark.outline, FLATNESS_MM, closed=mark.closed)
            region = polygonal(shapely.MultiLineString(lines).buffer(_LINE_MM / 2))
        yield INKS[mark.use], region


INKS: dict[MarkUse, str] = {"engrave": "#5B3A22", "draw": "#23201C", "score": "#2F6B4F"}
"""The colours in which what is not cut is shown, by its use."""
_LINE_MM = 0.5
"""How wide a line is shown that is drawn or scored (†)."""


def _mask(region: Region, size: tuple[int, int], origin: tuple[float, float], scale: float) -> Image.Image:
    fine = Image.new("L", (size[0] * _FINER, size[1] * _FINER), 0)
    draw = ImageDraw.Draw(fine)
    for part in shapely.get_parts(region):
        for ring, ink in ((part.exterior, 255), *((hole, 0) for hole in part.interiors)):
            xy = (shapely.get_coordinates(ring) - origin) * (scale * _FINER)
            draw.polygon([(float(x), float(y)) for x, y in xy], fill=ink)
    return fine.resize(size, Image.Resampling.BOX)
