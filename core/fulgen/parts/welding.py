"""Parts welded: one outline of all that lies over each other, its pinholes filled and its notches rounded."""

from __future__ import annotations

from collections.abc import Sequence

from fulgen.bounded import Bounded
from fulgen.geometry.crumbs import CLOSE_NODES_MM
from fulgen.geometry.weld import Shape, fill_holes, weld
from fulgen.joining.smooth import smooth_seams
from fulgen.parts.made import Placed


def welded(members: Sequence[Placed], more: Sequence[Shape] = ()) -> Shape:
    """Parts of one film and whatever else is welded in. Raises Problem "weld", "too-crowded"."""
    shape = weld([*(shape for member in members for shape in member.shapes), *more], CLOSE_NODES_MM)
    shape = fill_holes(shape, [fill for member in members for fill in member.fills])
    for member in members:
        shape = smooth_seams(shape, member.shapes, member.smooth_mm)
    return shape


def body_of(part: Placed) -> Shape:
    """All of a part as one shape, whatever its films; kept."""
    return _bodies.get(part.key, lambda: _body(part))


def _body(part: Placed) -> Shape:
    bodies = [welded([film]) for film in part.in_films]
    return bodies[0] if len(bodies) == 1 else weld(bodies, CLOSE_NODES_MM)


_bodies: Bounded[str, Shape] = Bounded(24 * 2**20)
