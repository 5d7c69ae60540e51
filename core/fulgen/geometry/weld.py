"""Weld: one outline of everything that overlaps, with counters kept and curves kept.

Two engines do it. The curve engine makes the outline; the polygon engine makes the same union
from straight sides; the two must agree in area, pieces and holes. When they do not, the curve
engine takes another route. When every route fails, the maker is told where, and there is no
outline: a weld that silently loses a counter is the worst thing Fulgen could do.

A *Shape* is what can be welded: a clean outline and its polygon twin.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import pathops
import shapely
import shapely.errors

from fulgen.budget import check
from fulgen.geometry import curves, measure, polygons
from fulgen.geometry.crumbs import without_crumbs
from fulgen.geometry.flatten import flatten
from fulgen.geometry.groups import Groups
from fulgen.geometry.nesting import Nesting, nest, ring_areas
from fulgen.geometry.outline import Bools, Floats, Ints, Outline
from fulgen.geometry.polygons import Region
from fulgen.problem import Problem

AREA_AGREEMENT = 1e-3
"""Greatest difference in area between the engines, as a share of the area."""

FLATNESS_MM = 0.03
"""How true polygon twins are on the work, whatever the size of what is cut: about a cutter's step (0.025 mm,
HP-GL's plotter unit: HP 7475A Interfacing and Programming Manual, from memory). Letters are true to a share
of their size, and flattened anew where that is more."""

_SPECK = 2.0
"""A contour smaller than a square of this many tolerances is rounding or a fleck that no blade can
cut: at most 0.06 mm across on the work."""

MAX_CROWDING = 160_000
"""The most work a weld may be: nodes of shapes whose boxes meet, summed over all such pairs. A page
of 450 script letters is about 60,000; at the bound the slowest weld found took about 3 s."""

_CROSSING_FINENESS = 16
"""Contours are looked at this much more closely when it is asked whether they cross."""


@dataclass(frozen=True, eq=False)
class Shape:
    """A clean outline with its polygon twin.

    outline: contours that do not cross, outer ones wound positive, holes negative; each outer
    edge is followed by its holes.
    region: the same area as polygons, true to ``tolerance`` mm.
    """

    outline: Outline
    region: Region
    tolerance: float

    @classmethod
    def empty(cls) -> Shape:
        return cls(Outline.empty(), shapely.MultiPolygon(), 1.0)

    def __bool__(self) -> bool:
        return bool(self.outline)

    @property
    def kept_bytes(self) -> int:
        """About how many bytes the shape keeps alive: its measured sides and its twins, too."""
        return 2000 + self.outline.points.nbytes * 16

    @cached_property
    def box(self) -> measure.Box:
        return measure.box(self.outline)

    def placed(self, dx: float, dy: float, scale: float = 1.0) -> Shape:
        """The shape scaled about the origin, then moved."""
        region = shapely.transform(self.region, lambda xy: xy * scale + (dx, dy))
        return Shape(self.outline.placed(dx, dy, scale), region, self.tolerance * scale)

    def stretched(self, across: float, down: float) -> Shape:
        """The shape made so many times as wide and as high, about the origin."""
        region = shapely.transform(self.region, lambda xy: xy * (across, down))
        outline = Outline(self.outline.verbs, self.outline.points * (across, down))
        return Shape(outline, region, self.tolerance * max(across, down))

    def refined(self, tolerance: float) -> Shape:
        """The shape with a twin at least so true; kept, for a few steps of fineness."""
        if self.tolerance <= tolerance or not self:
            return self
        halvings = math.ceil(math.log2(self.tolerance / tolerance))
        if halvings not in self._finer:
            finer = self.tolerance / 2**halvings
            self._finer[halvings] = Shape(self.outline, region_within(self.outline, finer), finer)
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

        outline = Outline(self.outline.verbs, moved(self.outline.points))
        return Shape(outline, shapely.transform(self.region, moved), self.tolerance * scale)

    def mirrored(self) -> Shape:
        """Left and right swapped about x = 0."""
        flipped = shapely.transform(self.region, lambda xy: xy * (-1.0, 1.0))
        return Shape(self.outline.mirrored(), flipped, self.tolerance)


def region_within(outline: Outline, tolerance: float) -> Region:
    """The region of a clean outline, true to a tolerance: each outer edge is followed by its holes."""
    points, ring_of = flatten(outline, tolerance)
    if not _all_rings(ring_of, outline):
        return polygons.region_of(outline, tolerance)
    rings = np.asarray(shapely.linearrings(points, indices=ring_of))
    starts = np.flatnonzero(measure.contour_areas(outline) > 0)
    ends = np.append(starts[1:], len(rings))
    region = shapely.multipolygons(
        [shapely.polygons(rings[a], holes=rings[a + 1 : b]) for a, b in zip(starts, ends, strict=True)]
    )
    return region if shapely.is_valid(region) else polygons.region_of(outline, tolerance)


def clean(outline: Outline, tolerance: float, *, even_odd: bool = False) -> Shape:
    """The area an outline covers by the nonzero rule, or by the even-odd one, as a Shape.

    Contours that do not cross keep their points exactly; only their winding is set.
    Raises Problem "weld" when contours cross and the two engines cannot agree on their union.
    """
    points, ring_of = flatten(outline, tolerance)
    if _all_rings(ring_of, outline) and not _crossing(outline, tolerance / _CROSSING_FINENESS):
        areas = ring_areas(points, ring_of, len(outline.contour_starts))
        return _wound(outline, nest(points, ring_of, areas), tolerance, even_odd=even_odd)
    region = polygons.region_of(outline, tolerance, even_odd=even_odd)
    routes = curves.EVEN_ODD if even_odd else curves.ROUTES
    return Shape.empty() if region.is_empty else agreed([outline], region, tolerance, routes)


def weld(shapes: Sequence[Shape], shortest: float = 0.0) -> Shape:
    """The union of shapes. Sides shorter than ``shortest`` that none of them has are taken out.

    Raises Problem "weld" when the two engines cannot agree, "too-crowded" when so much lies over
    each other that it would take minutes.
    """
    solid = [s for s in shapes if s]
    groups = [_weld_group([solid[n] for n in group], shortest) for group in _groups(solid)]
    if len(groups) < 2:
        return groups[0] if groups else Shape.empty()
    region = shapely.MultiPolygon(list(shapely.get_parts([g.region for g in groups])))
    return Shape(Outline.joined(g.outline for g in groups), region, max(g.tolerance for g in groups))


def cut_out(shape: Shape, patch: Region) -> Shape:
    """The shape without what a patch of straight sides covers; its other curves are kept.

    Raises Problem "weld" when the two engines cannot agree.
    """
    if not shapely.intersects(shape.region, patch):
        return shape
    rings = [ring for part in shapely.get_parts(patch) for ring in (part.exterior, *part.interiors)]
    taken = Outline.joined(Outline.polygon(shapely.get_coordinates(ring)[:-1]) for ring in rings)
    twin = polygons.polygonal(shapely.difference(shape.region, patch))
    return agreed([shape.outline, taken], twin, shape.tolerance, curves.DIFFERENCES)


def fill_holes(shape: Shape, fills: Sequence[Region]) -> Shape:
    """The shape with those holes filled that lie in one of ``fills``; nothing else changes."""
    if not fills:
        return shape
    outline, area = shape.outline, shapely.union_all([shapely.buffer(f, shape.tolerance * 4) for f in fills])
    areas = measure.contour_areas(outline)
    points, ring_of = flatten(outline, shape.tolerance)
    filled = areas < 0
    filled &= np.bincount(ring_of, minlength=len(areas)) >= 3  # a sliver of two sides is no hole to fill
    wanted = filled[ring_of]
    if wanted.any():
        numbers = np.unique(ring_of[wanted], return_inverse=True)[1]
        rings = shapely.polygons(shapely.linearrings(points[wanted], indices=numbers))
        filled[filled] = shapely.covers(area, rings)
    if not filled.any():
        return shape
    kept = np.flatnonzero(~filled).tolist()
    parts = []
    for part in shapely.get_parts(shape.region):
        holes = [ring for ring in part.interiors if not shapely.covers(area, shapely.Polygon(ring))]
        parts.append(shapely.Polygon(part.exterior, holes))
    region = shapely.MultiPolygon(parts)
    return Shape(outline.arranged(kept, np.zeros_like(filled)), region, shape.tolerance)


def _groups(shapes: list[Shape]) -> list[list[int]]:
    """Shapes that may touch, by their boxes: those of different groups are far apart for certain.

    Words and lines that stand apart are welded one by one, which is quicker and leaves a letter
    that touches nothing exactly as it is drawn.
    """
    if not shapes:
        return []
    x0, y0, x1, y1 = shapely.bounds([s.region for s in shapes]).T
    meets = (x0[:, None] <= x1) & (x1[:, None] >= x0) & (y0[:, None] <= y1) & (y1[:, None] >= y0)
    pairs = np.argwhere(np.triu(meets, 1))
    nodes = np.array([len(s.outline.verbs) for s in shapes])
    if int(nodes[pairs].sum()) > MAX_CROWDING:
        raise Problem(
            "too-crowded",
            "So many letters lie over each other that the weld would take minutes.",
            "Widen the spacing of letters or lines, or take fewer letters.",
            "spacing",
        )
    return Groups(len(shapes), pairs.tolist()).all()


_COARSER = 4.0
"""A shape whose twin is so many times less true than another's is flattened anew, or the small one's holes
would be specks beside the large one."""


def _weld_group(shapes: list[Shape], shortest: float) -> Shape:
    if len(shapes) < 2:
        return shapes[0]
    finest = min(s.tolerance for s in shapes) * _COARSER
    shapes = [s.refined(finest) for s in shapes]
    region = polygons.union([s.region for s in shapes])
    welded = agreed([s.outline for s in shapes], region, max(s.tolerance for s in shapes))
    tidy = without_crumbs(welded.outline, shortest, [s.outline for s in shapes])
    return welded if tidy is welded.outline else replace(welded, outline=tidy)


def _all_rings(ring_of: Ints, outline: Outline) -> bool:
    """Whether every contour has the three sides that make an area."""
    counts = np.bincount(ring_of, minlength=len(outline.contour_starts))
    return bool((counts >= 3).all() and len(counts))


def _crossing(outline: Outline, tolerance: float) -> bool:
    """Whether a contour crosses itself or another, or runs along it side by side."""
    points, ring_of = flatten(outline, tolerance)
    rings = np.asarray(shapely.polygons(shapely.linearrings(points, indices=ring_of)))
    if not shapely.is_valid(rings).all():
        return True
    # Nearly always no edge meets another: asked of edges alone, that is quick.
    edges = shapely.get_exterior_ring(rings)
    one, other = shapely.STRtree(edges).query(edges, predicate="intersects")
    pairs = one != other
    one, other = rings[one[pairs]], rings[other[pairs]]
    if shapely.overlaps(one, other).any() or shapely.equals(one, other).any():
        return True
    touches = shapely.touches(one, other)
    shared = shapely.intersection(one[touches], other[touches])
    return bool((shapely.length(shared) > tolerance).any())


def _wound(outline: Outline, nesting: Nesting, tolerance: float, *, even_odd: bool) -> Shape:
    """Contours that do not cross, as a Shape: those with a winding number of 0 on one side only, or, by the
    even-odd rule, all."""
    kept = _is_real(nesting.areas, tolerance)
    if even_odd:
        is_hole = nesting.depth % 2 == 1
    else:
        turns = np.sign(nesting.areas).astype(np.intp)
        outside = nesting.inside @ turns
        within = outside + turns
        is_hole = within == 0
        kept &= is_hole != (outside == 0)
    order = nesting.by_piece(is_hole, kept)
    if not order:
        return Shape.empty()
    contours = _ordered(outline, order, is_hole, nesting.areas)
    rings = shapely.get_exterior_ring(nesting.rings)
    parts: list[list[int]] = []
    for ring in order:
        parts[-1].append(ring) if is_hole[ring] else parts.append([ring])
    polys = [shapely.polygons(rings[p[0]], holes=rings[p[1:]] if p[1:] else None) for p in parts]
    return Shape(contours, shapely.multipolygons(polys), tolerance)


def _ordered(outline: Outline, order: list[int], is_hole: Bools, areas: Floats) -> Outline:
    """Chosen contours in a given order, outer edges wound positive and holes negative."""
    return outline.arranged(order, (areas > 0) == is_hole)


def agreed(
    outlines: list[Outline],
    twin: Region,
    tolerance: float,
    routes: Sequence[curves.Route] = (),
    spared: Region | None = None,
) -> Shape:
    """The outline by the first route of the curve engine (a union, unless said) that matches its twin.

    With ``spared`` the twin is itself true to the tolerance only, and may differ there: then the two match
    when they differ nowhere by more than a hair. Raises Problem "weld" when no route matches.
    """
    where: measure.Box | None = None
    for route in routes or curves.ROUTES:
        check()
        try:
            outline, nesting = _even_odd(route(outlines), tolerance)
        except pathops.PathOpsError:
            continue
        where = _disagreement(outline, nesting, twin, tolerance)
        if where is not None and spared is not None:
            difference = shapely.symmetric_difference(polygons.region_of(outline, tolerance), twin)
            if _is_hair(shapely.difference(difference, spared), tolerance):
                where = None
        if where is None:
            return Shape(outline, twin, tolerance)
    where = where or _box_of(twin)
    raise _uncertain(f"near x {where.x + where.width / 2:.1f} mm, y {where.y + where.height / 2:.1f} mm")


def _uncertain(where: str = "") -> Problem:
    return Problem(
        "weld",
        "The outline could not be welded with certainty.",
        "Move one of the letters there by a hair, or change the spacing a little.",
        where,
    )


@contextmanager
def certain() -> Iterator[None]:
    """What is done inside either succeeds or is a Problem "weld", also where the polygon engine gives up."""
    try:
        yield
    except shapely.errors.GEOSException as error:
        if "bad_alloc" in str(error):  # it tells of memory in words only
            raise MemoryError from None
        raise _uncertain() from None


def _even_odd(united: Outline, tolerance: float) -> tuple[Outline, Nesting]:
    """The curve engine's contours with outer edges wound positive and holes negative.

    Specks are left out.
    """
    points, ring_of = flatten(united, tolerance)
    areas = ring_areas(points, ring_of, len(united.contour_starts))
    real = _is_real(areas, tolerance)
    if not real.all():
        united = united.arranged(np.flatnonzero(real).tolist(), np.zeros_like(real))
        of_real = real[ring_of]
        points, ring_of = points[of_real], (np.cumsum(real) - 1)[ring_of[of_real]]
        areas = areas[real]
    nesting = nest(points, ring_of, areas)
    is_hole = nesting.depth % 2 == 1
    order = nesting.by_piece(is_hole, np.ones_like(is_hole))
    return _ordered(united, order, is_hole, nesting.areas), nesting


def _is_real(areas: Floats, tolerance: float) -> Bools:
    """Whether contours are more than specks."""
    return np.asarray(np.abs(areas) > (_SPECK * tolerance) ** 2)


def _disagreement(outline: Outline, nesting: Nesting, region: Region, tolerance: float) -> measure.Box | None:
    """Where the outline covers something else than the region does; None when they agree."""
    holes = nesting.depth % 2 == 1
    covered = float(np.where(holes, -1.0, 1.0) @ np.abs(nesting.areas))
    # What flattening can take off or add is in proportion to the edge, not to the area.
    allowed = min(AREA_AGREEMENT * region.area, tolerance * region.length)
    same_area = abs(covered - region.area) <= allowed
    same_count = (int((~holes).sum()), int(holes.sum())) == polygons.count(region)
    if same_area and same_count:
        return None
    difference = shapely.symmetric_difference(polygons.region_of(outline, tolerance), region)
    # Of something as small as a dot the flattening alone takes more than that off the area.
    if (same_area or same_count) and _is_hair(difference, tolerance):
        return None
    parts = shapely.get_parts(difference)
    return _box_of(parts[np.argmax(shapely.area(parts))] if len(parts) else region)


def _is_hair(difference: shapely.Geometry, tolerance: float) -> bool:
    """Whether two regions differ only where edges just touch.

    There the count of pieces or holes hangs on less than the flattening can tell: each engine's
    edge is true to the tolerance, so the difference is nowhere wider than twice that.
    """
    return bool(shapely.buffer(difference, -tolerance).is_empty)


def _box_of(region: shapely.Geometry) -> measure.Box:
    x0, y0, x1, y1 = shapely.bounds(region)
    return measure.Box(x0, y0, x1 - x0, y1 - y0)
