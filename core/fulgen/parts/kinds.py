"""All kinds of parts. A new one is a module with its model and a line here."""

from __future__ import annotations

from typing import Any

from fulgen.parts.artwork import Artwork, build_artwork
from fulgen.parts.backing import Backing, build_backing, gather_backing
from fulgen.parts.combination import Combination, build_combination, gather_combination
from fulgen.parts.frame import Frame
from fulgen.parts.frame_builder import build_frame, gather_frame
from fulgen.parts.kind import PartKind, by_itself
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_input import build_from_input, gather_lettering
from fulgen.parts.line import LinePart, build_line
from fulgen.parts.ornament import Ornament, build_ornament, gather_ornament
from fulgen.parts.shape import ShapePart, build_shape

PART_KINDS: tuple[PartKind[Any, Any], ...] = (
    PartKind(Lettering, gather_lettering, build_from_input),
    PartKind(ShapePart, by_itself, build_shape),
    PartKind(LinePart, by_itself, build_line),
    PartKind(Artwork, by_itself, build_artwork),
    PartKind(Ornament, gather_ornament, build_ornament),
    PartKind(Backing, gather_backing, build_backing),
    PartKind(Combination, gather_combination, build_combination),
    PartKind(Frame, gather_frame, build_frame),
)

KIND_OF_MODEL: dict[type, PartKind[Any, Any]] = {kind.model: kind for kind in PART_KINDS}
