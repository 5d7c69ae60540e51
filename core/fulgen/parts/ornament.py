"""Ornaments: one glyph of a face, chosen by its picture like a shape."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import uharfbuzz as hb
from pydantic import Field

from fulgen.frozen import WHOLE
from fulgen.geometry.weld import clean
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.faces import LETTER_FLATNESS, Face
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.kind import Surroundings
from fulgen.parts.part import ANY_FILM, KIND_IS_REQUIRED, Millimetres, Part
from fulgen.problem import Problem


class Ornament(Part):
    """A glyph of a face by its file and number there, and how high it is. It lies with its middle at its
    place."""

    model_config = KIND_IS_REQUIRED

    kind: Literal["ornament"] = "ornament"
    face: FaceChoice = FaceChoice()
    file: Annotated[int, Field(ge=0, le=50), WHOLE] = 0
    glyph: Annotated[int, Field(ge=0, le=65_535), WHOLE]
    height_mm: Millimetres = 40.0

    def _ignored_by_build(self) -> dict[str, Any]:
        return {"film": ANY_FILM}

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or "ornament"


@dataclass(frozen=True)
class OrnamentInput:
    """All that an ornament is built from."""

    part: Ornament
    face: Face


def gather_ornament(part: Ornament, around: Surroundings) -> OrnamentInput:
    """Raises Problem where its face is not there."""
    return OrnamentInput(part.build_input(), around.faces(part.face))


def build_ornament(given: OrnamentInput) -> BuiltSolid:
    """A glyph as a body. Raises Problem "no-glyph" where the face has none of that number, or it is empty."""
    part, face, shape = given.part, given.face, None
    if part.file < len(face.files) and part.glyph < face.files[part.file].face.glyph_count:
        shape = face.glyph(part.file, part.glyph)
    if not shape:
        raise Problem("no-glyph", "The face has no such ornament.", "Choose another one.", "glyph")
    box = shape.box
    scale = part.height_mm / box.height
    moved = shape.outline.placed(-(box.x + box.width / 2) * scale, -(box.y + box.height / 2) * scale, scale)
    return BuiltSolid(part.id, f"the {part.display_name}", clean(moved, LETTER_FLATNESS * scale))


def glyphs_of(face: Face) -> list[tuple[int, int]]:
    """All glyphs of a face that draw something, by file and number: signs first, then what no text shows by
    itself (swashes, ornaments), then letters and figures."""
    found = []
    for number, file in enumerate(face.files):
        font = face.fonts[number]
        signs = {font.get_nominal_glyph(point): chr(point) for point in file.face.unicodes}
        glyphs = (glyph for glyph in range(1, file.face.glyph_count) if _draws(font, glyph))
        found += [(_rank(signs.get(glyph)), number, glyph) for glyph in glyphs]
    return [(number, glyph) for _, number, glyph in sorted(found)]


def _draws(font: hb.Font, glyph: int) -> bool:
    """Whether a glyph draws something: no outline is made for it, for a face may have thousands."""
    extents = font.get_glyph_extents(glyph)
    return extents is not None and extents.width != 0 and extents.height != 0


def _rank(sign: str | None) -> int:
    if sign is None:
        return 1
    return 2 if unicodedata.category(sign)[0] in "LNM" else 0


def name_of(face: Face, file: int, glyph: int) -> str:
    """What the face calls a glyph."""
    font: hb.Font = face.fonts[file]
    return str(font.glyph_to_string(glyph))
