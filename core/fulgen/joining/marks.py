"""Marks: the dots, accents and feet of letters, and how they are kept from being left behind.

Three ways. *Keep*: a mark stays apart, a piece of its own. *Lower*: it is moved towards its letter, along
the line from its middle to the nearest stroke (which follows the slant of an italic), until the two share a
neck as wide as asked; what hangs below, such as a cedilla or the foot of an exclamation mark, is raised.
*Bridge*: a bar is laid from the mark to that stroke. A mark that a neighbour already holds stays where it is.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from fulgen.geometry.operations import fill_holes
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.polygons import Region, holes_of, moved, polygonal
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean, weld
from fulgen.joining.seam import TOUCH, Seam
from fulgen.joining.strength import Body
from fulgen.joining.stroke_extensions import bridges_across
from fulgen.joining.webs import webs_across
from fulgen.lettering.letters import MarkWay

MOST_OF_A_MARK = 0.8
"""A mark goes into its letter by this share of its own depth at most: then it is still to be seen."""

_FINE = 5e-4


@dataclass(frozen=True, eq=False)
class SettledMark:
    """A mark of a letter: what was done with it, how far it was moved, and the neck it hangs by (0 when it
    is left as it is). held: whether a neighbour holds it as well as asked; touched: whether one does so at
    all."""

    way: MarkWay
    by: float
    neck: float
    held: bool
    touched: bool = False

    @property
    def loose(self) -> bool:
        """Whether it comes off as a piece of its own."""
        return self.neck == 0.0 and not self.touched


@dataclass(frozen=True, eq=False)
class Settled:
    """A letter with its marks settled: its shape, and each of its marks."""

    form: Shape
    marks: tuple[SettledMark, ...]


def settle(
    form: Shape,
    body: Region,
    marks: Region,
    others: Sequence[Region],
    way: MarkWay,
    neck: float,
    instead: Shape | None = None,
    hole: float = 0.0,
    bar: float | None = None,
    *,
    chained: bool = False,
) -> Settled:
    """A letter whose marks are kept, lowered or bridged; ``others`` is what else stands near it. ``instead``
    is a shape in the place of each mark; ``bar`` is how wide bars are, where it is said. ``chained``
    marks may hang on one another. Holes closed in by it that are narrower than ``hole`` are filled."""
    parts = [polygonal(part) for part in shapely.get_parts(marks)]
    if not parts:
        return Settled(form, ())
    parts.sort(key=lambda part: float(shapely.distance(part, body)))
    touching = [[other for other in others if shapely.intersects(part, other)] for part in parts]
    held = [any(_holds(part, o, neck) for o in touching[n]) for n, part in enumerate(parts)]
    kept = [SettledMark(MarkWay.KEEP, 0.0, 0.0, h, bool(t)) for h, t in zip(held, touching, strict=True)]
    if instead is None and (way is MarkWay.KEEP or all(held)):
        return Settled(form, tuple(kept))
    stays, pieces = _split(form, parts)
    carrier: Region | None = body if chained else None
    if instead is not None:
        pieces = [_in_place_of(piece, instead) for piece in pieces]
        parts = [polygonal(piece.region) for piece in pieces]
    shapes, settled = [stays], []
    for part, piece, as_it_is in zip(parts, pieces, kept, strict=True):
        if as_it_is.held or way is MarkWay.KEEP:
            shapes.append(piece)
            settled.append(as_it_is)
        elif way is MarkWay.LOWER:
            stroke = _nearest_stroke(part, body)
            move = _move(part, stroke, neck)
            shapes.append(piece.placed(*move.tolist()))
            hangs = Seam(moved(part, *move.tolist()), stroke).neck
            settled.append(SettledMark(way, float(math.hypot(*move)), hangs, False))
        else:
            shapes.append(piece)
            laid = _bar(part, carrier or _nearest_stroke(part, body), neck, bar)
            if laid is not None:
                if (
                    carrier is not None
                ):  # what is tied carries what lies beyond it, such as the last dot of three
                    carrier = polygonal(shapely.union_all([carrier, part, laid.region]))
                shapes.append(clean(laid.outline, form.tolerance))
            settled.append(SettledMark(way, 0.0, laid.neck if laid else 0.0, False))
    made = weld(shapes, form.tolerance)
    known = [*holes_of(form.region), *(h for piece in pieces for h in holes_of(piece.region))]
    pinholes = [
        closed
        for closed in holes_of(made.region)
        if shapely.buffer(closed, -hole / 2).is_empty and not shapely.intersects(closed, known).any()
    ]
    return Settled(fill_holes(made, pinholes), tuple(settled))


def _nearest_stroke(mark: Region, body: Region) -> Region:
    """The stroke of a letter drawn in several that a mark hangs on."""
    strokes = shapely.get_parts(body)
    if len(strokes) < 2:
        return body
    return polygonal(strokes[int(shapely.distance(strokes, shapely.centroid(mark)).argmin())])


def _holds(mark: Region, other: Region, neck: float) -> bool:
    seam = Seam(mark, other)
    return seam.neck > TOUCH and seam.holds(neck)


_AS_LARGE = 1.3
"""A shape in place of a mark is so much larger: a heart as high as a dot reads smaller than it. (†)"""


def _in_place_of(mark: Shape, shape: Shape) -> Shape:
    """A shape where a mark was, about as large."""
    box, own = mark.box, shape.box
    scale = _AS_LARGE * max(box.width, box.height) / max(own.width, own.height)
    middle = (box.x + box.width / 2, box.y + box.height / 2)
    placed = shape.placed(
        middle[0] - (own.x + own.width / 2) * scale, middle[1] - (own.y + own.height / 2) * scale, scale
    )
    return placed.refined(mark.tolerance)


def _split(form: Shape, parts: Sequence[Region]) -> tuple[Shape, list[Shape]]:
    """A letter's shape without its marks, and each mark as a shape of its own."""
    pieces = shapely.get_parts(form.region)
    many = 1 + shapely.get_num_interior_rings(pieces)
    firsts = np.cumsum(many) - many
    contours = [
        list(range(first, first + own)) for first, own in zip(firsts.tolist(), many.tolist(), strict=True)
    ]
    centres = shapely.point_on_surface(parts)
    marks = [int(shapely.distance(pieces, centre).argmin()) for centre in centres]
    rest = [n for n in range(len(pieces)) if n not in marks]
    stays = form.with_contours([c for n in rest for c in contours[n]]) if rest else Shape.empty()
    return stays, [form.with_contours(contours[n]) for n in marks]


def _move(mark: Region, body: Region, neck: float) -> Floats:
    """How a mark is to be moved into its letter: no further than the neck needs."""
    line = shapely.get_coordinates(shapely.shortest_line(shapely.centroid(mark), body))
    way = line[1] - line[0]
    way = way / (math.hypot(*way) or 1.0)
    depth = float(np.ptp(shapely.get_coordinates(mark) @ way))
    low = float(shapely.distance(mark, body))
    high = low + MOST_OF_A_MARK * depth

    def holds(by: float) -> bool:
        return _holds(moved(mark, *(way * by).tolist()), body, neck)

    # The first depth that holds: so small a mark may give no such neck, and must not be swallowed for it.
    steps = np.linspace(low, high, 13)[1:].tolist()
    deep = next((by for by in steps if holds(by)), high)
    low = deep - (steps[1] - steps[0])
    while deep - low > _FINE:
        middle = (low + deep) / 2
        low, deep = (low, middle) if holds(middle) else (middle, deep)
    return np.asarray(way * deep)


_CLEAR = 0.004
"""A bar ends so far from a counter, as a share of the size: within the thinnest stroke. (†)"""


@dataclass(frozen=True, eq=False)
class _Laid:
    """A bar between a mark and its letter, and the neck it gives."""

    outline: Outline
    region: Region
    neck: float


def _bar(mark: Region, body: Region, neck: float, wide: float | None) -> _Laid | None:
    """The bar that ties a mark to its letter best. Its ends do not show in a counter, and where nothing is
    said of its width it runs out into both, as a hand would draw it."""
    counters = shapely.buffer(shapely.MultiPolygon([*holes_of(mark), *holes_of(body)]), _CLEAR)
    webs = webs_across(Body(mark), Body(body)) if wide is None else None
    web = webs.at(0.0, neck) if webs is not None else None
    if web is not None and not shapely.intersects(web.region, counters):
        width = Seam(mark, body, web.region).neck
        if width >= neck:
            return _Laid(web.outline, web.region, width)
    laid = []
    for bar in bridges_across(mark, body, neck, wide):
        left = max(shapely.get_parts(shapely.difference(bar.region, counters)), key=shapely.area)
        if shapely.get_type_id(left) == _POLYGON and not left.interiors:
            outline = Outline.polygon(shapely.get_coordinates(left)[:-1])
            laid.append(_Laid(outline, left, Seam(mark, body, left).neck))
    good = [row for row in laid if row.neck > TOUCH]
    if not good and shapely.intersects(mark, body):
        return _corner_filled(mark, body, neck)
    return max(good, key=lambda row: min(row.neck, neck), default=None)


def _corner_filled(mark: Region, body: Region, neck: float) -> _Laid:
    """What fills the corners beside the point at which a mark touches its letter, where no bar has a length:
    both closed by half a neck (a dilation and an erosion by discs), as far as that reaches."""
    reach = neck / 2
    closed = shapely.buffer(shapely.buffer(shapely.union_all([mark, body]), reach), -reach)
    around = shapely.buffer(shapely.intersection(mark, body), reach)
    filled = shapely.intersection(closed, around)
    edge = shapely.get_exterior_ring(max(shapely.get_parts(filled), key=shapely.area))
    region = polygonal(shapely.polygons(edge))
    outline = Outline.polygon(shapely.get_coordinates(edge)[:-1])
    return _Laid(outline, region, Seam(mark, body, region).neck)


_POLYGON = 3
"""GEOS's number of that type."""
