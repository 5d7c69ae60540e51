"""Stand-ins: shapes used in place of a letter or of a mark, from the shape library or of the maker's own.

A shape of the library (`geometry.shape_library`) fills the square from 0, 0 to 1, 1 (y down) in its larger
measure and stands in the middle of it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from fontTools.svgLib.path import parse_path
from pydantic import Field

from fulgen.frozen import STRICT
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Outline
from fulgen.geometry.pen import OutlinePen
from fulgen.geometry.shape import Shape
from fulgen.geometry.shape_library import LIBRARY_SHAPES, library_shape
from fulgen.geometry.weld import clean
from fulgen.problem import Problem

FINENESS = 6e-4
"""Shapes are flattened as closely as letters are, for a size of 1."""

MAX_SIDES = 4_000
MAX_PATH_LETTERS = 60_000


MAX_LAYERS = 12


Film = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]


@dataclass(frozen=True)
class ColourLayer:
    """What of a maker's own shape is cut from a film of its own, as path data in the shape's coordinates."""

    __pydantic_config__ = STRICT

    film: Film
    d: Annotated[str, Field(max_length=MAX_PATH_LETTERS)]


@dataclass(frozen=True)
class StandIn:
    """A shape in place of a letter or a mark: one of the shape library by its name, or the maker's own as
    SVG path data; as high as the letter, or filling its box. One with colours comes to these alone."""

    __pydantic_config__ = STRICT

    shape: Annotated[str, Field(min_length=1, max_length=60)] = "heart"
    d: Annotated[str, Field(max_length=MAX_PATH_LETTERS)] = ""
    to: Literal["height", "box"] = "height"
    layers: Annotated[tuple[ColourLayer, ...], Field(max_length=MAX_LAYERS)] = ()

    @property
    def drawn(self) -> Shape:
        """The shape in the square from 0, 0 to 1, 1."""
        return own_shape(self.d) if self.d else shape_from_library(self.shape)


@lru_cache(maxsize=64)
def shape_from_library(name: str) -> Shape:
    """A shape of the library. Raises Problem "no-shape" where there is none of that name."""
    form = library_shape(name, "letters")
    return in_unit_square(form.drawn(form.ratio, 1.0, {}), name)


@lru_cache(maxsize=64)
def own_shape(d: str) -> Shape:
    """A shape of the maker's own from SVG path data (SVG 2, chapter 9).

    Raises Problem "bad-shape" when it cannot be read or encloses nothing.
    """
    return in_unit_square(path_outline(d), "The shape")


def own_stand_in(file_name: str, d: str, colours: Mapping[str, str] | None = None) -> StandIn:
    """A stand-in of the maker's own, called as its file is, with path data of its colours by their films.

    Raises Problem "bad-shape" when its paths are longer than a recipe may hold.
    """
    layers = tuple(ColourLayer(film, path) for film, path in (colours or {}).items())
    if len(d) + sum(len(layer.d) for layer in layers) > MAX_PATH_LETTERS or len(layers) > MAX_LAYERS:
        raise _bad(f"{file_name} is drawn with more points than Fulgen keeps in a letter’s place.")
    return StandIn(file_name.rsplit(".", 1)[0][:60] or "own shape", d, layers=layers)


def in_unit_square(outline: Outline, name: str) -> Shape:
    """An outline as the shape of a stand-in: its larger measure 1, in the middle of the square.

    Raises Problem "bad-shape" when it encloses nothing.
    """
    box = measure.box(outline)
    reach = max(box.width, box.height)
    if not outline or reach <= 1e-9:
        raise _bad(f"{name} encloses no area.")
    scale = 1 / reach
    fitted = outline.placed(-box.x * scale, -box.y * scale, scale)
    shape = clean(fitted.placed((1 - box.width * scale) / 2, (1 - box.height * scale) / 2), FINENESS)
    if not shape:
        raise _bad(f"{name} encloses no area.")
    return shape


def fitted(shape: Shape, box: Box, to: str) -> Shape:
    """A stand-in at the place of a letter's box: as high as it ("height"), or filling it ("box")."""
    own = shape.box
    across = box.height / own.height if to == "height" else box.width / own.width
    down = box.height / own.height
    outline = Outline(
        shape.outline.verbs, (shape.outline.points - (own.x, own.y)) * (across, down) + (box.x, box.y)
    )
    return clean(outline, shape.tolerance)


def fitted_layers(stand_in: StandIn, box: Box) -> list[tuple[str, Shape]]:
    """The colours of a stand-in at the place of a letter's box, where the stand-in itself is fitted to it:
    the film of each, and its shape."""
    if not stand_in.layers:
        return []
    own = measure.box(path_outline(stand_in.d))
    there = fitted(stand_in.drawn, box, stand_in.to).box
    scale = (there.width / own.width, there.height / own.height)
    found = []
    for layer in stand_in.layers:
        drawn = path_outline(layer.d)
        points = (drawn.points - (own.x, own.y)) * scale + (there.x, there.y)
        found.append((layer.film.upper(), clean(Outline(drawn.verbs, points), FINENESS)))
    return found


_PATH_LETTERS = re.compile(r"[MmLlHhVvCcSsQqTtAaZz\d\s.,+\-eE]*")


def path_outline(d: str) -> Outline:
    """The closed contours of SVG path data; open ones are closed by a straight side.

    Raises Problem "bad-shape".
    """
    return outline_from(path_drawn(d, MAX_SIDES))


def path_drawn(d: str, most: int, longest: int = MAX_PATH_LETTERS) -> OutlinePen:
    """SVG path data of up to so many sides and signs as a pen takes it down. Raises Problem "bad-shape"."""
    if len(d) > longest:
        raise _bad("The shape’s path is too long.")
    if not _PATH_LETTERS.fullmatch(d):
        raise _bad("The shape’s path holds signs that no path has.")
    pen = OutlinePen(most)
    try:
        parse_path(d, pen)
    except Problem:
        raise
    except Exception:  # the reader fails in many ways on what is no path
        raise _bad("The shape’s path cannot be read.") from None
    return pen


def outline_from(pen: OutlinePen) -> Outline:
    """What a pen has taken down, as an outline. Raises Problem "bad-shape" when it is out of bounds."""
    if pen.astray:
        raise _bad("The shape’s path cannot be read.")
    if pen.overflowed:
        raise _bad(f"The shape has more than {pen.most:,} sides.")
    outline = pen.outline
    if not np.isfinite(outline.points).all() or np.abs(outline.points).max(initial=0.0) > 1e6:
        raise _bad("The shape is drawn far outside any sensible size.")
    return outline


def _bad(what: str) -> Problem:
    return Problem("bad-shape", what, "Choose a file with one or more closed outlines.", "letters")


def names() -> Sequence[str]:
    """What is in the library, in order."""
    return tuple(LIBRARY_SHAPES)
