"""Parts welded: one outline of all that lies over each other, its pinholes filled and its notches rounded."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import replace
from functools import partial

from fulgen.bounded import BoundedCache
from fulgen.geometry.operations import fill_holes
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import CLOSE_NODES_MM, FINEST_MM, FLATNESS_MM, Shape
from fulgen.geometry.weld import geos_errors_as_problems, weld
from fulgen.joining.smooth import smooth_seams
from fulgen.parts.built_part import Mark, PlacedPart, SourceOfShape


def welded(members: Sequence[PlacedPart], more: Sequence[Shape] = ()) -> Shape:
    """Parts of one film and whatever else is welded in. Raises Problem "weld", "too-crowded"."""
    shape = weld(
        [*(shape for member in members for shape in member.shapes), *more], FINEST_MM, CLOSE_NODES_MM
    )
    shape = fill_holes(shape, [fill for member in members for fill in member.fills])
    for member in members:
        if member.built.is_smoothed:
            shape = smooth_seams(shape, partial(_smoothing, member))
    return shape


def _smoothing(member: PlacedPart, one: Hashable, other: Hashable) -> float:
    """By how much the notch between two sources of a weld is rounded, where both are of a part."""
    if not isinstance(one, SourceOfShape) or not isinstance(other, SourceOfShape):
        return 0.0
    if one.part != member.id or other.part != member.id:
        return 0.0
    return member.built.smoothing(one.shape, other.shape) * member.place.scale


def body_of(part: PlacedPart) -> Shape:
    """All of a part as one shape where it lies, whatever its films. It is welded in the part's own frame, and
    kept: wherever the part goes, its contours keep their order."""
    own = _bodies.get(part.build_key, lambda: _body(replace(part, place=Placement(), key=part.build_key)))
    return part.place.shape(own.refined(FLATNESS_MM / part.place.scale))


def _body(part: PlacedPart) -> Shape:
    bodies = [welded([layer]) for layer in part.in_films]
    return bodies[0] if len(bodies) == 1 else weld(bodies, FINEST_MM, CLOSE_NODES_MM)


def marks_of(part: PlacedPart, *, whole: bool = True) -> tuple[Mark, ...]:
    """What of a part is not cut, where it lies: see ``own_marks``."""
    return tuple(replace(mark, outline=part.place.outline(mark.outline)) for mark in own_marks(part, whole))


def own_marks(part: PlacedPart, whole: bool = True) -> tuple[Mark, ...]:
    """What of a part is not cut, in its own frame: its marks, and where the part is not to be cut the whole
    of it. Of a guide, all is a guide."""
    own = tuple(part.built.marks)
    if part.use == "cut" or not whole:
        return own
    with geos_errors_as_problems():
        body = body_of(replace(part, place=Placement(), key=part.build_key))
    if part.use == "guide":
        own = tuple(replace(mark, use="guide") for mark in own)
    return (*own, Mark(body.outline, part.use, closed=True)) if body else own


_bodies: BoundedCache[str, Shape] = BoundedCache(24 * 2**20)
