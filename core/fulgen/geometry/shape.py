"""Shape: a clean outline, its polygon twin, and how the two belong together.

The outline has the curves; the twin has straight sides, and is what the polygon engine works on. Every side
of the twin is a chord of a side of the outline, and knows which one and from where to where (``Chords``): so
a polygon that is made of pieces of twins can be turned back into curves (see ``overlay``).
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry import measure, polygons
from fulgen.geometry.outline import Bools, Floats, Ints, Outline
from fulgen.geometry.overlay import Chords, Recovered, Source, flattened, recovered, walked_back
from fulgen.geometry.polygons import Region

FLATNESS_MM = 0.03
"""How true polygon twins are on the work, whatever the size of what is cut: about a cutter's step (0.025 mm,
HP-GL's plotter unit: HP 7475A Interfacing and Programming Manual, from memory). Letters are true to a share
of their size, and flattened anew where that is more."""


@dataclass(frozen=True, eq=False)
class Origins:
    """Where the sides of an outline come from, a row a side: the number of the source in ``sources``, its
    side, and the parameters on that side at the two ends (start after end: walked against it)."""

    sources: tuple[Hashable, ...]
    source: Ints
    side: Ints
    start: Floats
    end: Floats

    def rows(self, rows: Ints) -> Origins:
        """Those of some sides."""
        return Origins(self.sources, self.source[rows], self.side[rows], self.start[rows], self.end[rows])

    def turned(self, rows: Bools) -> Origins:
        """Some sides walked the other way."""
        start, end = np.where(rows, self.end, self.start), np.where(rows, self.start, self.end)
        return Origins(self.sources, self.source, self.side, start, end)


@dataclass(frozen=True, eq=False)
class Shape:
    """A clean outline with its polygon twin.

    outline: contours that do not cross, outer ones wound positive, holes negative; each outer
    edge is followed by its holes.
    region: the same area as polygons, true to ``tolerance`` mm; a ring of it for each contour.
    chords: which side of the outline each side of the region is a chord of.
    origins: where the sides of the outline come from; None where they were drawn as they are.
    """

    outline: Outline
    region: Region
    tolerance: float
    chords: Chords
    origins: Origins | None = None

    @classmethod
    def empty(cls) -> Shape:
        none = np.zeros(0, np.intp)
        at, no = np.zeros(0), np.zeros(0, np.bool_)
        return cls(Outline.empty(), shapely.MultiPolygon(), 1.0, Chords(none, at, at, no, no))

    @classmethod
    def of(cls, outline: Outline, tolerance: float, origins: Origins | None = None) -> Shape:
        """The shape of a clean outline, flattened to a tolerance; to a finer one where its edges come nearer
        to each other than that."""
        if not outline:
            return cls.empty()
        found = _flattened(outline, tolerance, origins)
        return of_winding(outline, tolerance, origins=origins) if found is None else found

    def __bool__(self) -> bool:
        return bool(self.outline)

    @property
    def kept_bytes(self) -> int:
        """About how many bytes the shape keeps alive: its measured sides and its twins, too."""
        return 2000 + self.outline.points.nbytes * 16

    @cached_property
    def box(self) -> measure.Box:
        return measure.box(self.outline)

    def moved_by(self, move: Callable[[Floats], Floats], scale: float) -> Shape:
        """The shape with each point where ``move`` takes it: an affine map that keeps left and right, and
        makes things ``scale`` times as large."""
        outline = self.outline.moved_by(move)
        region = shapely.transform(self.region, move)
        return Shape(outline, region, self.tolerance * scale, self.chords, self.origins)

    def placed(self, dx: float, dy: float, scale: float = 1.0) -> Shape:
        """The shape scaled about the origin, then moved."""
        return self.moved_by(lambda xy: xy * scale + (dx, dy), scale)

    def stretched(self, across: float, down: float) -> Shape:
        """The shape made so many times as wide and as high, about the origin."""
        return self.moved_by(lambda xy: xy * (across, down), max(across, down))

    def refined(self, tolerance: float) -> Shape:
        """The shape with a twin at least so true; kept, for a few steps of fineness."""
        if self.tolerance <= tolerance or not self:
            return self
        halvings = math.ceil(math.log2(self.tolerance / tolerance))
        if halvings not in self._finer:
            self._finer[halvings] = Shape.of(self.outline, self.tolerance / 2**halvings, self.origins)
        return self._finer[halvings]

    @cached_property
    def _finer(self) -> dict[int, Shape]:
        return {}

    def turned(self, degrees: float, scale: float = 1.0) -> Shape:
        """The shape scaled about the origin, then turned clockwise about the middle of its box."""
        box = self.box
        centre = complex(box.x + box.width / 2, box.y + box.height / 2) * scale
        factor = scale * cmath.exp(1j * math.radians(degrees))

        def moved(xy: Floats) -> Floats:
            z = (xy[:, 0] + 1j * xy[:, 1]) * factor + centre * (1 - factor / scale)
            return np.stack([z.real, z.imag], axis=1)

        return self.moved_by(moved, scale)

    def mirrored(self) -> Shape:
        """Left and right swapped about x = 0."""
        return self.moved_by(lambda xy: xy * (-1.0, 1.0), 1.0).walked_back()

    def walked_back(self) -> Shape:
        """The shape with every contour walked the other way: what a mirror needs, or holes become pieces."""
        sides = self.outline.sides.contour_of
        origins = self.origins
        if origins is not None:
            rows = walked_back(sides)
            origins = origins.rows(rows).turned(np.ones(len(rows), np.bool_))
        rows_back = self.chords.of_reversed(sides)
        return Shape(self.outline.reversed(), self.region, self.tolerance, rows_back, origins)

    def with_contours(self, kept: Sequence[int]) -> Shape:
        """The shape with some of its contours only, in order; all else stays. Where an outer edge goes, its
        holes have to go, too."""
        count = len(self.outline.contour_starts)
        if len(kept) == count:
            return self
        stays = np.zeros(count, np.bool_)
        sides = self.outline.arranged_rows(kept, stays)
        number = np.zeros(len(self.outline.sides.verbs), np.intp)
        number[sides] = np.arange(len(sides))
        old = self.chords
        ring_of = polygons.ring_numbers(old.closing)
        rows = old.rows(np.flatnonzero(np.isin(ring_of, kept)))
        chords = replace(rows, side=number[rows.side])
        outline = self.outline.arranged(kept, stays)
        region = polygons.with_rings(self.region, kept)
        origins = self.origins.rows(sides) if self.origins else None
        return Shape(outline, region, self.tolerance, chords, origins)

    def with_vertices(self, rows: Ints, at: Floats, points: NDArray[np.complex128]) -> Shape:
        """The shape with more vertices on some chords of its twin (R,): their parameters and places (R,
        K)."""
        many = at.shape[1]
        old = self.chords
        after = np.repeat(rows + 1, many)
        start = np.insert(old.start, after, at.ravel())
        end = old.end.copy()
        last = end[rows].copy()
        end[rows] = at[:, 0]
        end = np.insert(end, after, np.concatenate((at[:, 1:], last[:, None]), axis=1).ravel())
        side = np.insert(old.side, after, np.repeat(old.side[rows], many))
        forward = np.insert(old.forward, after, np.repeat(old.forward[rows], many))
        closing = np.insert(old.closing, after, False)
        xy = np.insert(
            shapely.get_coordinates(self.region),
            after,
            points.ravel().view(np.float64).reshape(-1, 2),
            axis=0,
        )
        region = polygons.of_rings(xy, closing, polygons.ring_counts(self.region))
        return replace(self, region=region, chords=Chords(side, start, end, forward, closing))

    @property
    def source(self) -> Source:
        """The shape as a source of an overlay."""
        return Source(self.outline, shapely.get_coordinates(self.region), self.chords)

    def named(self, source: Hashable) -> Shape:
        """The shape with each of its sides known as one of ``source``."""
        count = len(self.outline.sides.verbs)
        at = np.zeros(count)
        zeros = np.zeros(count, np.intp)
        origins = Origins((source,), zeros, np.arange(count), at, at + 1.0)
        return Shape(self.outline, self.region, self.tolerance, self.chords, origins)


def _region(source: Source) -> Region:
    """The polygon twin of a clean outline, each outer edge followed by its holes."""
    count = int(source.chords.closing.sum())
    starts = np.flatnonzero(measure.contour_areas(source.outline) > 0)
    starts = starts if len(starts) else np.zeros(1, np.intp)
    return polygons.of_rings(source.xy, source.chords.closing, np.diff(np.append(starts, count)))


def of_winding(
    outline: Outline,
    tolerance: float,
    *,
    even_odd: bool = False,
    origins: Origins | None = None,
    fleck: float = 0.0,
) -> Shape:
    """What contours that may cross cover, by the nonzero rule or by the even-odd one.

    Raises Problem "too-crossed".
    """
    # Contours may cross themselves by less than the flattening.
    source = flattened(outline, tolerance / _FINER)
    region = polygons.covered(source.xy, source.chords.closing, even_odd=even_odd)
    made = _made([source], region, tolerance / _FINER, [origins], max(fleck, FLECK * tolerance))
    return (_flattened(made.outline, tolerance, made.origins) if made else None) or made


_FINER = 16.0


def _flattened(outline: Outline, tolerance: float, origins: Origins | None) -> Shape | None:
    """The shape of a clean outline with a twin true to a tolerance, or a finer one where its edges come
    nearer to each other than that; None where they cross."""
    for finer in (tolerance, tolerance / 4):
        source = flattened(outline, finer)
        region = _region(source)
        if shapely.is_valid(region):
            return Shape(outline, region, finer, source.chords, origins)
    return None


def combined(shapes: Sequence[Shape], region: Region, fleck: float = 0.0) -> Shape:
    """A region that the polygon engine has made of pieces of the twins of some shapes, with their curves.

    Pieces and holes into which no disc of the diameter ``fleck`` fits are left out.
    """
    sources = [shape.source for shape in shapes]
    origins = [shape.origins for shape in shapes]
    return _made(sources, region, max(s.tolerance for s in shapes), origins, fleck)


def combined_sources(sources: Sequence[Source], region: Region, tolerance: float) -> Shape:
    """The same of outlines that are no shapes themselves."""
    return _made(sources, region, tolerance, [None] * len(sources), 0.0)


CLOSE_NODES_MM = 0.02
"""Nodes nearer to each other than this are needless: a cutter's step is 0.025 mm (HP-GL's plotter unit: HP
7475A Interfacing and Programming Manual, from memory)."""

SHORTEST = CLOSE_NODES_MM / FLATNESS_MM
"""Nodes nearer to each other than so many flattenings, left where edges cross at a flat angle, are one."""

FINEST_MM = 0.06
"""What is welded for the knife has no piece and no hole that a disc of this diameter does not fit into: no
blade can cut it, and no flattening tells it from none."""

_SAME_VERTEX = 1e-7
"""Vertices nearer to each other than so many flattenings, where three sides cross at one place, are one."""

FLECK = 0.5
"""What the polygon engine leaves that a disc of so many flattenings does not fit into is rounding, and
goes."""


def _made(
    sources: Sequence[Source],
    region: Region,
    tolerance: float,
    origins: Sequence[Origins | None],
    fleck: float,
) -> Shape:
    region = without_flecks(region, max(fleck, FLECK * tolerance))
    if region.is_empty:
        return Shape.empty()
    region = shapely.remove_repeated_points(region, _SAME_VERTEX * tolerance)
    found = recovered(sources, region, tolerance, SHORTEST * tolerance)
    made = Shape(found.outline, found.region, tolerance, found.chords, _traced(found, origins))
    _check(made)
    return made


def joined(shapes: Sequence[Shape]) -> Shape:
    """Shapes that are apart, as one."""
    shapes = [shape for shape in shapes if shape]
    if len(shapes) < 2:
        return shapes[0] if shapes else Shape.empty()
    counts = [len(shape.outline.sides.verbs) for shape in shapes]
    firsts = np.cumsum([0, *counts[:-1]]).tolist()
    chords = Chords(
        np.concatenate([shape.chords.side + first for shape, first in zip(shapes, firsts, strict=True)]),
        np.concatenate([shape.chords.start for shape in shapes]),
        np.concatenate([shape.chords.end for shape in shapes]),
        np.concatenate([shape.chords.forward for shape in shapes]),
        np.concatenate([shape.chords.closing for shape in shapes]),
    )
    region = shapely.MultiPolygon(list(shapely.get_parts([shape.region for shape in shapes])))
    outline = Outline.joined(shape.outline for shape in shapes)
    return Shape(outline, region, max(shape.tolerance for shape in shapes), chords, _origins_of(shapes))


def _origins_of(shapes: Sequence[Shape]) -> Origins | None:
    if not any(shape.origins for shape in shapes):
        return None
    names: list[Hashable] = []
    rows: list[tuple[Ints, Ints, Floats, Floats]] = []
    for shape in shapes:
        own = shape.named(None).origins if shape.origins is None else shape.origins
        assert own is not None
        rows.append((own.source + len(names), own.side, own.start, own.end))
        names += own.sources
    source, side, start, end = (np.concatenate(column) for column in zip(*rows, strict=True))
    return Origins(tuple(names), source, side, start, end)


def _traced(found: Recovered, origins: Sequence[Origins | None]) -> Origins | None:
    """Where the sides come from in the end, through all that was made before."""
    if not any(origins):
        return None
    names: list[Hashable] = []
    source, side, start, end = found.source.copy(), found.side.copy(), found.start.copy(), found.end.copy()
    for number, own in enumerate(origins):
        rows = np.flatnonzero(found.source == number)
        if own is None:
            source[rows] = len(names)
            names.append(None)
            continue
        at = found.side[rows]
        long = own.end[at] - own.start[at]
        source[rows], side[rows] = own.source[at] + len(names), own.side[at]
        start[rows], end[rows] = (
            own.start[at] + found.start[rows] * long,
            own.start[at] + found.end[rows] * long,
        )
        names += own.sources
    return Origins(tuple(names), source, side, start, end)


class Unsound(AssertionError):
    """An overlay broke a promise that it always keeps: a fault of Fulgen, not of the design."""


_AREA_OFF = 4.0
"""What curves and chords may differ by in area: so many tolerances along all edges. A curve is within one of
its chords, and a crossing of two is moved by a few at most."""


def _check(shape: Shape) -> None:
    """Holds the outline against its twin: as many contours as rings, each wound its way, the same area."""
    areas = measure.contour_areas(shape.outline)
    parts = shapely.get_parts(shape.region)
    rings = len(parts) + int(shapely.get_num_interior_rings(parts).sum())
    off = abs(float(areas.sum()) - shape.region.area)
    if len(areas) != rings or off > _AREA_OFF * shape.tolerance * shape.region.length:
        raise Unsound(f"{len(areas)} contours of {rings} rings, area off by {off:.6f}")


def without_flecks(region: Region, width: float) -> Region:
    """A region without pieces and holes that a disc of a width does not fit into."""
    if width <= 0 or region.is_empty:
        return region
    rings = shapely.get_rings(shapely.get_parts(region))
    areas = np.asarray(shapely.polygons(rings))
    # Twice the area by the edge is the mean width of what is thin, and half the width of a disc.
    thin = 2 * shapely.area(areas) < width * shapely.length(rings)
    if not thin.any():
        return region
    goes = thin.copy()
    goes[thin] = shapely.is_empty(shapely.buffer(areas[thin], -width / 2))
    if not goes.any():
        return region
    return polygons.with_rings(region, np.flatnonzero(~_with_their_holes(region, goes)).tolist())


def _with_their_holes(region: Region, goes: Bools) -> Bools:
    """Rings that go, and the holes of those."""
    parts = shapely.get_parts(region)
    many = 1 + shapely.get_num_interior_rings(parts)
    firsts = np.cumsum(many) - many
    return np.asarray(goes | np.repeat(goes[firsts], many))
