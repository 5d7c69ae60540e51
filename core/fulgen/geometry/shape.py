"""Shape: a clean outline, its polygon twin, and how the two belong together.

The outline has the curves; the twin has straight sides, and is what the polygon engine works on. Every side
of the twin is a chord of a side of the outline, and knows which one and from where to where (``Chords``): so
a polygon that is made of pieces of twins can be turned back into curves (see ``overlay``).
"""

from __future__ import annotations

import cmath
import hashlib
import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry import bezier, measure, polygons
from fulgen.geometry.chords import Chords, Source, flattened, walked_back
from fulgen.geometry.outline import LINE, Bools, Floats, Ints, Outline
from fulgen.geometry.overlay import recovered
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

    def parts(self, rows: Ints, start: Floats, end: Floats) -> Origins:
        """Those of parts of some sides, each from one parameter to another."""
        own = self.rows(rows)
        long = own.end - own.start
        return Origins(own.sources, own.source, own.side, own.start + start * long, own.start + end * long)

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

    @cached_property
    def step_key(self) -> str:
        """All that makes it what it is; the outline and the twin are enough."""
        seen = hashlib.blake2b(self.outline.digest.encode(), digest_size=12)
        seen.update(shapely.to_wkb(self.region))
        seen.update(repr(self.tolerance).encode())
        return seen.hexdigest()

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

    def widened(self, across: float, slant: float) -> Shape:
        """The shape made so many times as wide, then slanted to the right by ``slant`` degrees: what lies on
        the line y = 0 stays where it is."""
        lean = math.tan(math.radians(slant))
        # Nothing grows by more than the larger of both ways and what the slant adds.
        return self.moved_by(
            lambda xy: np.stack([xy[:, 0] * across - xy[:, 1] * lean, xy[:, 1]], axis=1),
            max(across, 1.0) + abs(lean),
        )

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
    fleck = max(fleck, FLECK * tolerance)
    made = _made(source, region, tolerance / _FINER, fleck, origins)
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


@dataclass(frozen=True, eq=False)
class Gathered:
    """Shapes side by side in one source: what goes into an overlay of them.

    rows: how many coordinates each has; sides: how many sides; parts: how many polygons; rings: how many
    rings each of these polygons has.
    """

    shapes: Sequence[Shape]
    source: Source
    rows: Ints
    sides: Ints
    parts: Ints
    rings: Ints

    @classmethod
    def of(cls, shapes: Sequence[Shape]) -> Gathered:
        regions = np.array([shape.region for shape in shapes], dtype=object)
        parts, part_of = shapely.get_parts(regions, return_index=True)
        rows = np.array([len(shape.chords.side) for shape in shapes], np.intp)
        sides = np.array([len(shape.outline.sides.verbs) for shape in shapes], np.intp)
        chords = [shape.chords for shape in shapes]
        joined_chords = Chords(
            np.concatenate([c.side for c in chords]) + np.repeat(np.cumsum(sides) - sides, rows),
            np.concatenate([c.start for c in chords]),
            np.concatenate([c.end for c in chords]),
            np.concatenate([c.forward for c in chords]),
            np.concatenate([c.closing for c in chords]),
        )
        outline = Outline.joined(shape.outline for shape in shapes)
        source = Source(outline, shapely.get_coordinates(regions), joined_chords)
        own = np.bincount(part_of, minlength=len(shapes))
        return cls(
            shapes, source, rows, sides, own, 1 + np.asarray(shapely.get_num_interior_rings(parts), np.intp)
        )

    @property
    def tolerance(self) -> float:
        return max(shape.tolerance for shape in self.shapes)

    @cached_property
    def regions(self) -> NDArray[np.object_]:
        """The twin of each shape."""
        polys = polygons.parts_of_rings(self.source.xy, self.source.chords.closing, self.rings)
        of = np.repeat(np.arange(len(self.shapes)), self.parts)
        return np.asarray(shapely.multipolygons(polys, indices=of))

    def finer(self, near: Bools, count: int) -> Gathered:
        """The same with some chords made ``count`` chords each, where they lie on curves."""
        source, old = self.source, self.source.chords
        sides = source.outline.sides
        rows = np.flatnonzero(near & (sides.verbs[old.side] != LINE) & ~old.closing)
        if not len(rows):
            return self
        cubics = np.ascontiguousarray(sides.cubics).view(np.complex128)[..., 0].T
        shares = np.arange(1, count) / count
        first, last = old.start[rows, None], old.end[rows, None]
        at = first + shares * (last - first)
        points = bezier.point(cubics[:, old.side[rows], None], at)
        repeats = np.ones(len(old.side), np.intp)
        repeats[rows] = count
        where = np.repeat(np.arange(len(repeats)), repeats)
        new = np.flatnonzero(np.append(False, where[1:] == where[:-1]))
        start, end = old.start[where], old.end[where]
        xy = source.xy[where]
        start[new], xy[new] = at.ravel(), points.ravel().view(np.float64).reshape(-1, 2)
        end[new - 1] = start[new]
        of = np.repeat(np.arange(len(self.shapes)), self.rows)
        return replace(
            self,
            source=Source(
                source.outline,
                xy,
                Chords(old.side[where], start, end, old.forward[where], old.closing[where]),
            ),
            rows=np.bincount(of, repeats, len(self.shapes)).astype(np.intp),
        )


def combined(gathered: Gathered, region: Region, fleck: float = 0.0, shortest: float = 0.0) -> Shape:
    """A region that the polygon engine has made of pieces of the twins of some shapes, with their curves.

    Pieces and holes into which no disc of the diameter ``fleck`` fits are left out, and so are sides shorter
    than ``shortest`` that crossings leave.
    """
    shapes = gathered.shapes
    origins = _origins_of(shapes) if any(shape.origins for shape in shapes) else None
    return _made(gathered.source, region, gathered.tolerance, fleck, origins, shortest)


def combined_sources(source: Source, region: Region, tolerance: float) -> Shape:
    """The same of contours that are no shapes themselves."""
    return _made(source, region, tolerance, 0.0, None)


def beside(shape: Shape, source: Source) -> Source:
    """A shape and more contours as one source."""
    first, own = shape.chords, source.chords
    chords = Chords(
        np.append(first.side, own.side + len(shape.outline.sides.verbs)),
        np.append(first.start, own.start),
        np.append(first.end, own.end),
        np.append(first.forward, own.forward),
        np.append(first.closing, own.closing),
    )
    xy = np.concatenate((shapely.get_coordinates(shape.region), source.xy))
    return Source(Outline.joined([shape.outline, source.outline]), xy, chords)


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
    source: Source,
    region: Region,
    tolerance: float,
    fleck: float,
    origins: Origins | None,
    shortest: float = 0.0,
) -> Shape:
    region = without_flecks(region, max(fleck, FLECK * tolerance))
    if region.is_empty:
        return Shape.empty()
    region = shapely.remove_repeated_points(region, _SAME_VERTEX * tolerance)
    found = recovered(source, region, tolerance, max(shortest, SHORTEST * tolerance))
    traced = origins and origins.parts(found.side, found.start, found.end)
    made = Shape(found.outline, found.region, tolerance, found.chords, traced)
    _check(made)
    return made


def joined(shapes: Sequence[Shape]) -> Shape:
    """Shapes that are apart, as one."""
    shapes = [shape for shape in shapes if shape]
    if len(shapes) < 2:
        return shapes[0] if shapes else Shape.empty()
    gathered = Gathered.of(shapes)
    region = shapely.MultiPolygon(list(shapely.get_parts([shape.region for shape in shapes])))
    origins = _origins_of(shapes) if any(shape.origins for shape in shapes) else None
    return Shape(gathered.source.outline, region, gathered.tolerance, gathered.source.chords, origins)


def _origins_of(shapes: Sequence[Shape]) -> Origins:
    """Where the sides of shapes side by side come from."""
    names: list[Hashable] = []
    rows: list[tuple[Ints, Ints, Floats, Floats]] = []
    for shape in shapes:
        own = shape.origins or shape.named(None).origins
        assert own is not None
        rows.append((own.source + len(names), own.side, own.start, own.end))
        names += own.sources
    source, side, start, end = (np.concatenate(column) for column in zip(*rows, strict=True))
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
