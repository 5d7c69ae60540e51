"""Lettering: live text, set, joined, tied and underlined, as a part of a design."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from fulgen.joining.bars import Bar
from fulgen.joining.materials import Weedable
from fulgen.lettering.layout import (
    place,
    set_lines,
    size_of,
)
from fulgen.lettering.setting import Faces
from fulgen.parts.built_lettering import SAME_SIZE, BuiltLettering
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_bends import with_warp
from fulgen.parts.lettering_course import Line, build_along
from fulgen.parts.lettering_size import build_to_measure, unmet_sizes
from fulgen.parts.lettering_ties import join_at_size, with_ties

_SIZE_ROUNDS = 4
"""The necks asked for hang on the size, and the size that makes a width hangs on how far letters slide.
A few rounds settle it; the last one sets the size exactly."""


def build_lettering(
    part: Lettering, faces: Faces, bars: Sequence[Bar], least: Weedable, line: Line | None = None
) -> BuiltLettering:
    """Words laid out, joined and tied; ``bars`` are those laid by hand from letter to letter, and holes
    and slits narrower than the ``least`` are too small to weed. ``line`` is what a course runs along that is
    no line of its own.

    Raises Problem when they cannot be set, or not at that size.
    """
    if part.course is not None:
        return with_warp(build_along(part, faces, bars, least, part.course, line))
    plain = set_lines(part, faces)
    size = size_of(part, faces.face, plain)
    joined_at = partial(join_at_size, part, faces, least, plain)
    if part.size.measure == "width":
        # How far letters slide makes nearly all of the difference, and is known sooner than the rest.
        for _ in range(_SIZE_ROUNDS):
            before, size = size, size_of(part, faces.face, joined_at(size, only_slid=True).lines)
            if abs(size - before) <= SAME_SIZE * size:
                break
    for _ in range(_SIZE_ROUNDS):
        joined, joined_for = joined_at(size), size
        size = size_of(part, faces.face, joined.lines)
        if abs(size - joined_for) <= SAME_SIZE * size:
            break

    def made_at(size: float) -> BuiltLettering:
        return with_warp(with_ties(part, faces, bars, joined, None, place(part, joined.lines, size)))

    if part.size.measure in ("capitals", "face"):
        built = made_at(size)
    else:
        # Underlines and bars go beyond the letters, and a bend makes them higher: the whole is measured.
        for _ in range(_SIZE_ROUNDS):
            built = build_to_measure(part, made_at, size)
            size = built.size
            if abs(size - joined_for) <= SAME_SIZE * size:
                break
            joined, joined_for = joined_at(size), size
    return replace(built, unmet=(*built.unmet, *unmet_sizes(part, built, joined_for)))
