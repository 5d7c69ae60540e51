"""Where a shape is thin: where no disc of a given width fits.

Terms, of mathematical morphology (J. Serra, "Image Analysis and Mathematical Morphology", 1982). Worn away
by half the width, a shape falls into *cores*; grown again they are its *opening*. What the opening leaves
out are the thin places. A thin place, or a spot where two grown cores meet, is a *tie* when it is all that
holds two cores together there.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.budget import check
from fulgen.geometry.erosion import ARC_SEGMENTS, eroded, is_below_limit
from fulgen.geometry.groups import Groups
from fulgen.geometry.outline import Floats, Point
from fulgen.geometry.polygons import Region, polygonal, uncrossed
from fulgen.roots import bisect

_GROWN = 1.05
"""Grown again by a little more than it was worn away: chords then leave no flakes behind, and edges that
nearly run on each other, which cost an overlay dear, are rare."""

_FLAKE = 0.04
"""Thin places smaller than a square of this share of the width are left by rounding."""


_BAY = 0.09
"""What a closing fills in a right-angled bay is (1 - π/4)/4 = 0.054 of the width squared: less than this is
no gap between two edges."""

_COARSE = 0.05
"""Outlines are looked at as closely as this share of the width; what is found is then measured in full."""


@dataclass(frozen=True, eq=False)
class ThinPlace:
    """A place where a disc of the width does not fit, and the cores it lies between."""

    region: Region
    cores: tuple[int, ...]

    @cached_property
    def length(self) -> float:
        """How long the place is: half of what is around it less its ends."""
        half = float(shapely.length(shapely.boundary(self.region))) / 2
        # Of a rectangle l × w half the girth is l + w and the area l · w.
        root = half * half - 4 * float(self.region.area)
        return (half + math.sqrt(root)) / 2 if root > 0 else half / 2

    @property
    def width(self) -> float:
        """How wide it is in the mean."""
        return float(self.region.area) / self.length if self.length else 0.0


@dataclass(frozen=True, eq=False)
class Thinness:
    """A shape looked at with a disc of ``width``: its cores as worn (K,) and grown again (K,), and its thin
    places."""

    whole: Region
    width: float
    worn: NDArray[np.object_]
    cores: NDArray[np.object_]
    places: tuple[ThinPlace, ...]

    @cached_property
    def _contacts(self) -> list[tuple[tuple[int, ...], Region]]:
        """All that lies between cores: thin places, and spots where grown cores meet."""
        found = [(place.cores, place.region) for place in self.places if len(place.cores) > 1]
        tree = shapely.STRtree(self.cores)
        one, other = tree.query(self.cores, predicate="intersects")
        for a, b in zip(one.tolist(), other.tolist(), strict=True):
            if a < b:
                shared = shapely.intersection(self.cores[a], self.cores[b])
                near = shapely.buffer(shared, self.width * 0.05)
                found += [((a, b), part) for part in shapely.get_parts(polygonal(near))]
        return _merged(found, self.width)

    def ties(self) -> list[tuple[tuple[int, ...], Region, float]]:
        """Contacts whose tearing frees a part: the cores, the place, and the area of the smaller part. The
        first two cores are of two parts, the smallest and another one."""
        contacts = self._contacts
        areas = shapely.area(self.cores)
        found = []
        for left_out, (cores, place) in enumerate(contacts):
            check()
            others = [c for n, (c, _) in enumerate(contacts) if n != left_out]
            groups = Groups(len(self.cores), _pairs(others)).labels()
            sides = {groups[core] for core in cores}
            if len(sides) > 1:
                of = np.array(groups)
                parts = sorted(sides, key=lambda side: float(areas[of == side].sum()))
                torn = sorted(cores, key=lambda core: parts.index(groups[core]))
                other = next(core for core in torn if groups[core] != groups[torn[0]])
                rest = tuple(core for core in torn[1:] if core != other)
                found.append(((torn[0], other, *rest), place, float(areas[of == parts[0]].sum())))
        return found

    def across(self, cores: tuple[int, ...], place: Region) -> Floats:
        """The way from core to core through a place that ties them, (2, 2)."""
        near = shapely.buffer(place, self.width * 2)
        ends = [shapely.intersection(self.worn[core], near) for core in cores[:2]]
        ends = [self.worn[c] if end.is_empty else end for c, end in zip(cores[:2], ends, strict=True)]
        return np.asarray(shapely.get_coordinates(shapely.shortest_line(*ends)))

    def through(self, place: ThinPlace) -> Floats:
        """The way along the middle of a thin place, from core to core where it lies between some, (N, 2)."""
        way = centreline(place.region, self.width)
        if not len(self.worn):
            return way
        ends = []
        for end in (way[0], way[-1]):
            line = shapely.shortest_line(self.worn, shapely.Point(end))
            nearest = line[int(shapely.length(line).argmin())]
            ends.append(shapely.get_coordinates(nearest)[:1] if nearest.length < self.width else way[:0])
        return np.concatenate([ends[0], way, ends[1]])

    def neck(self, cores: tuple[int, ...], place: Region) -> float:
        """How wide a disc can pass between cores at a place: to a hundredth of the width."""
        near = shapely.buffer(place, self.width * 1.5)
        # Other ways round do not count: only what is near the place is looked at.
        local = polygonal(shapely.intersection(self.whole, near))
        ends = [polygonal(shapely.intersection(self.cores[core], near)) for core in cores[:2]]
        kept = [shapely.difference(end, shapely.buffer(place, self.width * 0.6)) for end in ends]
        ends = [polygonal(k) if k.area > 0 else e for k, e in zip(kept, ends, strict=True)]

        def passes(width: float) -> bool:
            check()
            parts = eroded(local, width)
            return bool((shapely.intersects(parts, ends[0]) & shapely.intersects(parts, ends[1])).any())

        return sum(bisect(passes, 0.0, self.width, self.width / 100)) / 2


def width_across(region: Region, ends: tuple[Point, Point], reach: float) -> float:
    """How far it is from edge to edge along a chord, carried on by ``reach`` at both its ends; the least way
    across there, where the ends are one."""
    (x0, y0), (x1, y1) = ends
    long = math.hypot(x1 - x0, y1 - y0)
    ways = np.array([math.atan2(y1 - y0, x1 - x0)]) if long > 1e-9 else _ALL_WAYS
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    arms = np.stack([np.cos(ways), np.sin(ways)], axis=1) * (reach + long / 2)
    lines = shapely.linestrings(np.stack([middle - arms, middle + arms], axis=1))
    parts, of = shapely.get_parts(shapely.intersection(lines, region), return_index=True)
    here = shapely.dwithin(parts, shapely.Point(middle), 1e-6)
    lengths = np.zeros(len(ways))
    np.maximum.at(lengths, of[here], shapely.length(parts[here]))
    return float(lengths.min())


def least_across(region: Region, ends: tuple[Point, Point], reach: float) -> float:
    """The least way from edge to edge across a chord: from the edge around one of its ends to that around the
    other, each within ``reach`` and on its own side of the chord's middle. 0 where there is none."""
    (x0, y0), (x1, y1) = ends
    long = math.hypot(x1 - x0, y1 - y0)
    if long < 1e-9:
        return 0.0
    around = shapely.clip_by_rect(region, *_box_around(ends, 2 * reach + long))
    if around.is_empty:
        return 0.0
    edge = shapely.boundary(around)
    ux, uy = (x1 - x0) / long, (y1 - y0) / long
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    far = 4 * (reach + long)
    sides = []
    for (x, y), way in ((ends[0], -1), (ends[1], 1)):
        along, across = np.array([ux, uy]) * way, np.array([-uy, ux])
        corners = [middle - across * far, middle + across * far]
        half = shapely.Polygon([*corners, corners[1] + along * far, corners[0] + along * far])
        sides.append(shapely.intersection(edge, half & shapely.Point(x, y).buffer(reach + 1e-6)))
    return 0.0 if any(side.is_empty for side in sides) else float(shapely.distance(*sides))


def _box_around(ends: tuple[Point, Point], by: float) -> tuple[float, float, float, float]:
    xs, ys = zip(*ends, strict=True)
    return min(xs) - by, min(ys) - by, max(xs) + by, max(ys) + by


_ALL_WAYS = np.linspace(0, np.pi, 18, endpoint=False)


def inscribed_width(area: Region, tolerance: float) -> float:
    """How wide the largest disc is that lies in an area, its radius to the tolerance."""
    return 2 * float(shapely.length(shapely.maximum_inscribed_circle(area, tolerance=tolerance)))


def _merged(
    contacts: list[tuple[tuple[int, ...], Region]], within: float
) -> list[tuple[tuple[int, ...], Region]]:
    """Contacts of the same cores that lie next to each other, as one."""
    merged: list[tuple[tuple[int, ...], Region]] = []
    for cores, place in contacts:
        check()
        for n, (known, spot) in enumerate(merged):
            if set(known) == set(cores) and shapely.dwithin(spot, place, within):
                merged[n] = (known, polygonal(shapely.union(spot, place)))
                break
        else:
            merged.append((cores, place))
    return merged


def _pairs(contacts: list[tuple[int, ...]]) -> Iterator[tuple[int, int]]:
    return ((first, other) for first, *others in contacts for other in others)


def thinness(whole: Region, width: float) -> Thinness:
    """Where ``whole`` is thinner than ``width``."""
    whole = uncrossed(whole)
    coarse = uncrossed(shapely.simplify(whole, width * _COARSE))
    cores = eroded(coarse, width)
    grown = np.asarray(shapely.buffer(cores, width / 2 * _GROWN, quad_segs=ARC_SEGMENTS))
    rest = shapely.difference(coarse, shapely.union_all(grown)) if len(grown) else coarse
    parts = shapely.get_parts(polygonal(rest))
    parts = parts[shapely.area(parts) > (_FLAKE * width) ** 2]
    touching: dict[int, list[int]] = {n: [] for n in range(len(parts))}
    if len(parts) and len(grown):
        tree = shapely.STRtree(grown)
        place, core = tree.query(parts, predicate="dwithin", distance=1e-3 * width)
        for p, c in zip(place.tolist(), core.tolist(), strict=True):
            touching[p].append(c)
    places = tuple(ThinPlace(polygonal(part), tuple(touching[n])) for n, part in enumerate(parts))
    return Thinness(whole, width, cores, grown, places)


NECK_IS_SHORT = 3.0
"""A thin place longer than so many widths is a stroke, and judged as one. (†)"""

_REAL_PART = 2.0
"""What tears off is a part of real size when it is larger than a square of so many widths. (†)"""


@dataclass(frozen=True, eq=False)
class WeakPlace:
    """A place at which a part of real size would tear off, and how wide it is."""

    place: Region
    width: float
    across: Floats
    """The way from core to core through it, (2, 2)."""


def weak_places(thin: Thinness, longest: float = NECK_IS_SHORT) -> tuple[WeakPlace, ...]:
    """Places narrower than the disc that a shape was looked at with, and no longer than so many of its
    widths, at which a part of real size would tear off."""
    limit = thin.width
    found = []
    for cores, place, freed in thin.ties():
        if ThinPlace(place, cores).length > longest * limit or freed < (_REAL_PART * limit) ** 2:
            continue
        width = thin.neck(cores, place)
        if is_below_limit(width, limit):
            found.append(WeakPlace(place, width, thin.across(cores, place)))
    return tuple(found)


_HAIRLINE_IS_LONG = 1.5
TIP_IS_LONG = 5.0
"""Thin places between two strokes are strokes themselves from so many widths of length on, the tips of
tapering strokes from so many. (†)"""

_SHAVING = 0.6
"""Where a disc nearly fits only a shaving of the stroke is left out: what is this thin in the mean between
two strokes, as a share of the width, is measured by the disc that passes. (†)"""


def is_sliver(thin: Thinness, place: ThinPlace) -> bool:
    """Whether a thin place is a tip so thin that no stroke was meant to be there."""
    return (
        len(place.cores) == 1
        and place.width < _SLIVER * thin.width
        and place.length > TIP_IS_LONG * thin.width
    )


_SLIVER = 0.3
"""A tip this thin in the mean, as a share of the limit, is a sliver. (†)"""


def is_stroke(thin: Thinness, place: ThinPlace) -> bool:
    """Whether a thin place is a stroke thinner than the disc that a shape was looked at with."""
    between = len(place.cores) > 1
    if place.length < (_HAIRLINE_IS_LONG if between else TIP_IS_LONG) * thin.width:
        return False
    if between and place.width < _SHAVING * thin.width:
        return is_below_limit(thin.neck(place.cores, place.region), thin.width)
    return True


_AROUND = 5.0
"""So many widths around a place its strokes go on; what is cut off further away has no say in it."""


def stroke_width(thin: Thinness, place: ThinPlace) -> float:
    """How wide a thin stroke is: the width from which on it is one, to a hundredth of the disc's."""
    local = polygonal(shapely.intersection(thin.whole, shapely.buffer(place.region, _AROUND * thin.width)))

    def is_none_yet(width: float) -> bool:
        own = thinness(local, width)
        here = [one for one in own.places if shapely.intersects(one.region, place.region)]
        return not any(is_stroke(own, one) for one in here)

    return bisect(is_none_yet, 0.0, thin.width, thin.width / 100)[1]


_CLEARLY_THIN = 0.9


def thin_strokes(thin: Thinness) -> Iterator[tuple[ThinPlace, float]]:
    """The strokes thinner than the disc that a shape was looked at with, and how wide each is, in the mean
    where that is clear; also those too short to judge, whose parts hang together in other ways, too."""
    for place in thin.places:
        if is_sliver(thin, place):
            continue
        if is_stroke(thin, place):
            clear = place.width < _CLEARLY_THIN * thin.width
            yield place, place.width if clear else stroke_width(thin, place)
        elif len(place.cores) > 1:
            yield place, thin.neck(place.cores, place.region)


@dataclass(frozen=True, eq=False)
class Slot:
    """A narrow gap between edges: what a closing fills. ``width`` is the least distance across; ``slit``: it
    is closed at one end and about as wide all along."""

    region: Region
    width: float
    through: bool
    slit: bool = False

    @property
    def tears(self) -> bool:
        """Whether what lies in it is too narrow to be weeded: the bay between two edges that meet is not, for
        it comes to a point."""
        return self.through or self.slit


SLIT_IS_LONG_MM = 1.0
"""A shorter slit is nothing to weed. (†)"""

_SLIT_OPENS = 0.09
"""Edges of a slit open by no more than this over their length, about 5 degrees: edges that open faster are a
bay. (†)"""


def slots(whole: Region, width: float) -> list[Slot]:
    """Gaps of a shape narrower than ``width``; ``through`` those that are open at both ends.

    The bay between two edges that meet is open at one end only, and so is a slit.
    """
    whole = polygonal(shapely.simplify(whole, width * _COARSE))
    closed = shapely.buffer(shapely.buffer(whole, width / 2, quad_segs=ARC_SEGMENTS), -width / 2 * _GROWN)
    parts = shapely.get_parts(polygonal(shapely.difference(closed, whole)))
    parts = parts[shapely.area(parts) > _BAY * width**2]
    rims = [shapely.get_coordinates(part.exterior) for part in parts]
    on_edges = _sides_on(rims, whole, width * 1e-3)
    found = []
    for part, rim, on_edge in zip(parts, rims, on_edges, strict=True):
        check()
        chains = _runs(rim, on_edge)
        chains = [chain for chain in chains if chain.length > 0.05 * width]
        across = min(
            (float(shapely.distance(a, b)) for n, a in enumerate(chains) for b in chains[n + 1 :]),
            default=0.0,
        )
        through = across > 1e-3 * width
        slit = _slit(chains[0]) if len(chains) == 1 else 0.0
        found.append(Slot(polygonal(part), across if through else slit, through, slit > 0))
    return found


def _slit(rim: shapely.LineString) -> float:
    """How wide a slit is that has this rim, from mouth to mouth around its closed end; 0 where it is none:
    its edges open too fast, or it is short."""
    mouth = shapely.get_coordinates(rim)[[0, -1]].mean(axis=0)
    at = np.linspace(0, rim.length, max(17, int(rim.length / (SLIT_IS_LONG_MM / 16)) | 1))
    places = shapely.get_coordinates(shapely.line_interpolate_point(rim, at))
    end = int(np.hypot(*(places - mouth).T).argmax())
    step = at[1]
    many = math.ceil(SLIT_IS_LONG_MM / step)
    if min(end, len(at) - 1 - end) <= many:
        return 0.0
    side = shapely.LineString(places[end:])
    apart = np.asarray(shapely.distance(np.asarray(shapely.points(places[end::-1])), side))
    opening = (apart[many:] - apart[:-many]) / (many * step)
    # The closed end itself opens at once, to as wide as the slit is.
    narrow = np.flatnonzero((np.abs(opening) < _SLIT_OPENS) & (apart[:-many] > step / 2))
    return float(apart[many:][narrow].min()) if len(narrow) else 0.0


def _sides_on(rims: list[Floats], whole: Region, near: float) -> list[NDArray[np.bool_]]:
    """Which sides of rings run along the edge of a region, by their middles: one flag a side."""
    if not rims:
        return []
    middles = np.concatenate([(rim[1:] + rim[:-1]) / 2 for rim in rims])
    lines = shapely.get_parts(shapely.boundary(shapely.get_parts(whole)))
    ends, ring_of = shapely.get_coordinates(lines, return_index=True)
    inner = ring_of[1:] == ring_of[:-1]
    sides = shapely.linestrings(np.stack((ends[:-1], ends[1:]), axis=1)[inner])
    close, _ = shapely.STRtree(sides).query(shapely.points(middles), predicate="dwithin", distance=near)
    on_edge = np.zeros(len(middles), np.bool_)
    on_edge[close] = True
    return np.split(on_edge, np.cumsum([len(rim) - 1 for rim in rims])[:-1])


def _runs(rim: Floats, chosen: NDArray[np.bool_]) -> list[shapely.LineString]:
    """The stretches of a ring whose sides are chosen (one flag a side)."""
    if chosen.all() or not chosen.any():
        return []
    first = int(np.flatnonzero(~chosen)[0])
    order = np.roll(np.arange(len(chosen)), -first)
    runs: list[list[int]] = []
    for side in order.tolist():
        if chosen[side]:
            if runs and runs[-1][-1] == (side - 1) % len(chosen):
                runs[-1].append(side)
            else:
                runs.append([side])
    return [shapely.LineString(rim[[*run, run[-1] + 1]]) for run in runs]


def centreline(region: Region, width: float) -> Floats:
    """The longest way through the middle of a thin place, as points (N, 2) from end to end: edges of the
    Voronoi diagram of points on its rim that lie inside it (Blum's medial axis, nearly)."""
    rim = shapely.segmentize(shapely.boundary(region), max(width / 6, region.length / 400))
    points = shapely.MultiPoint(shapely.get_coordinates(rim))
    lines = shapely.get_parts(shapely.voronoi_polygons(points, only_edges=True))
    lines = shapely.get_parts(shapely.intersection(lines, region))
    lines = lines[(shapely.get_type_id(lines) == 1) & shapely.covers(shapely.buffer(region, 1e-9), lines)]
    if not len(lines):
        return _along_box(region)
    ends = np.stack([shapely.get_coordinates(shapely.get_point(lines, k)) for k in (0, -1)], axis=1)
    flat = np.round(ends.reshape(-1, 2), 7)
    places, index = np.unique(flat, axis=0, return_inverse=True)
    edges = index.reshape(-1, 2)
    lengths = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    near: dict[int, list[tuple[int, float]]] = {}
    for (a, b), length in zip(edges.tolist(), lengths.tolist(), strict=True):
        near.setdefault(a, []).append((b, length))
        near.setdefault(b, []).append((a, length))
    start = max(near, key=lambda n: len(near[n]))
    far = _furthest(near, start)[-1]
    way = _furthest(near, far)
    return np.asarray(places[way]) if len(way) > 1 else _along_box(region)


def _furthest(near: dict[int, list[tuple[int, float]]], start: int) -> list[int]:
    """The way from a place to the one furthest from it."""
    before, reach, order = {start: start}, {start: 0.0}, [start]
    for place in order:
        for other, length in near[place]:
            if other not in before:
                before[other], reach[other] = place, reach[place] + length
                order.append(other)
    place = max(reach, key=lambda n: reach[n])
    way = [place]
    while before[place] != place:
        place = before[place]
        way.append(place)
    return way[::-1]


def _along_box(region: Region) -> Floats:
    box = shapely.get_coordinates(shapely.minimum_rotated_rectangle(region))
    if len(box) < 5:
        centre = shapely.get_coordinates(shapely.centroid(region))[0]
        return np.array([centre, centre])
    a, b, c, d = box[:4]
    if np.hypot(*(b - a)) < np.hypot(*(c - b)):
        return np.array([(a + b) / 2, (c + d) / 2])
    return np.array([(b + c) / 2, (d + a) / 2])
