"""Contact: where the letters of a name meet the edges of a band, and what is added so that they hold there.

Letters and edges are measured in shares of the name's size, as all strengths are (see ``joining.strength``).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import shapely

from fulgen.budget import check
from fulgen.geometry.outline import Outline
from fulgen.geometry.polygons import Region, polygonal
from fulgen.joining.flow import core_tie
from fulgen.joining.pair_joining import AS_GIVEN
from fulgen.joining.seam import Seam
from fulgen.joining.strength import Body, held_together
from fulgen.joining.stroke_extensions import tied_together
from fulgen.joining.webs import gussets

_AROUND = 0.35
"""Of edges only what is this near to where a letter meets them matters for how it holds. (†)"""

_NEAR = 0.2
"""What comes nearer to an edge than this share of a neck, and does not run into it, would tear there: it is
made to hold. (†)"""

_DUST = 1e-6
_MORE = 1.03


@dataclass(frozen=True, eq=False)
class Contact:
    """A letter that meets an edge: the letter, what of the edge is near to where they meet, the neck asked
    for, and what the edge as a whole gives of it."""

    letter: Body
    edge: Body
    target: float
    edge_gives: float

    @cached_property
    def need(self) -> float:
        """The neck that they need: as asked, or what they themselves give."""
        given = min(self.letter.gives(self.target), self.edge_gives)
        return self.target if given >= self.target else AS_GIVEN * given

    @cached_property
    def holds(self) -> bool:
        whole = polygonal(shapely.union(self.letter.region, self.edge.region))
        # What the two give takes longer to find than whether they hold at what is asked.
        if held_together(whole, self.letter, self.edge, self.target):
            return True
        return self.need < self.target and held_together(whole, self.letter, self.edge, self.need)

    def strengthened(self) -> tuple[Outline, Region] | None:
        """What makes it hold: gussets in its notches, or a stroke from core to core; None where nothing
        does."""
        seam = Seam(self.letter.region, self.edge.region, None, (self.letter, self.edge))
        for outline, region in self._additions(seam):
            whole = polygonal(shapely.union(seam.whole, region))
            if held_together(whole, self.letter, self.edge, self.need):
                return outline, region
        return None

    def _additions(self, seam: Seam) -> Iterator[tuple[Outline, Region]]:
        made = _MORE * self.need
        if len(seam.corners) == 2:
            for web in gussets(self.letter, self.edge, seam.whole, seam.corners, made):
                yield web.outline, web.region
        tie = core_tie(self.letter, self.edge, made)
        if tie is not None and tie.region.is_valid:
            yield tie.outline, tie.region


@dataclass(frozen=True, eq=False)
class Edge:
    """A piece of the material that a name runs into, and what it gives of the neck asked for."""

    region: Region
    gives: float


def contacts(letters: Sequence[Body], edges: Sequence[Edge], target: float) -> Iterator[Contact]:
    """Where letters meet edges, or almost do; a neck of ``target`` is asked for."""
    near = _NEAR * target
    for edge in edges:
        shapely.prepare(edge.region)
        for letter in letters:
            check()
            if not shapely.dwithin(edge.region, letter.region, near):
                continue
            shared = shapely.intersection(letter.region, edge.region)
            if shared.area < _DUST:
                shared = shapely.shortest_line(letter.region, edge.region)
            x0, y0, x1, y1 = shared.bounds
            around = shapely.box(x0 - _AROUND, y0 - _AROUND, x1 + _AROUND, y1 + _AROUND)
            parts = shapely.get_parts(shapely.intersection(edge.region, around))
            met = parts[shapely.dwithin(parts, shared, near)]
            yield Contact(letter, Body(polygonal(shapely.union_all(met))), target, edge.gives)


_HEAVIEST, _FURTHEST = 0.2, 0.8
"""A foot is no heavier than this share of the size, and goes down no further than that. (†)"""


def reached_down(
    letters: Sequence[Body], edges: Sequence[Edge], target: float
) -> Iterator[tuple[Outline, Region]]:
    """Feet for letters that do not meet the edge below them: each a stroke of the letter's own weight, from
    where it is lowest down into the edge."""
    if not edges:
        return
    lowest = max(edges, key=lambda edge: edge.region.bounds[3])
    for letter in letters:
        check()
        gap = float(shapely.distance(letter.region, lowest.region))
        if not 0 < gap < _FURTHEST:
            continue
        wide = max(target, letter.gives(_HEAVIEST))
        x0, y0, x1, y1 = letter.region.bounds
        foot = shapely.intersection(letter.region, shapely.box(x0, y1 - max(wide, (y1 - y0) / 4), x1, y1))
        at = float(shapely.centroid(foot).x)
        below = shapely.intersection(lowest.region, shapely.box(at - wide / 2, y1, at + wide / 2, y1 + 2))
        if below.is_empty:
            continue
        top, bottom = y1 - wide, float(below.bounds[1]) + min(wide, below.bounds[3] - below.bounds[1])
        left, right = at - wide / 2, at + wide / 2
        corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
        yield Outline.polygon(corners), shapely.Polygon(corners)


def ties(loose: Sequence[Region], frame: Region, target: float) -> Iterator[tuple[Outline, Region]]:
    """Bridges that make one piece of a frame and what is to hang on it, the smallest first."""
    for bar in tied_together([frame, *loose], target, _DUST * 10):
        yield bar.outline, bar.region
