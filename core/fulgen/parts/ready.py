"""Made ready to cut: a rule of the design by which what is welded is mended where its material cannot hold.

Strokes and necks that are too thin become as wide as the material asks, holes too small to weed are opened or
filled, slits and narrow gaps closed, slivers taken off, pieces too small to hold made larger or tied. It is
done anew after every change of the design, on what is welded and touched up; what is wide enough stays to the
last point. The check asks the same questions (see ``weak``), so what is mended is no finding any more. What
cannot be mended stays as it is, and the check tells it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Annotated, Literal, TypeAlias

import numpy as np
import shapely
from pydantic import Field

from fulgen.frozen import STRICT
from fulgen.geometry import polygons
from fulgen.geometry.erosion import is_below_limit
from fulgen.geometry.fillet import bay_angles, round_bays, sharp_bays
from fulgen.geometry.least_width import widened
from fulgen.geometry.offset import offset, stroked
from fulgen.geometry.operations import cut_out, fill_holes, straight_sided, subtract, without_small
from fulgen.geometry.outline import Point
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import CLOSE_NODES_MM, FINEST_MM, Shape
from fulgen.geometry.thin import (
    WeakPlace,
    inscribed_width,
    is_sliver,
    thin_strokes,
    width_across,
)
from fulgen.geometry.weld import weld
from fulgen.joining.anchors import Anchor
from fulgen.joining.materials import Limits
from fulgen.parts.built_part import SourceOfShape
from fulgen.parts.touchups import PINHOLE
from fulgen.parts.weak_places import narrow_gaps, thinness, weak_places
from fulgen.steps import key_of

MendKind: TypeAlias = Literal["stroke", "neck", "sliver", "gap", "hole", "piece"]
"""What is mended: strokes and necks too thin, slivers, gaps and slits too narrow, holes too small to weed,
pieces too small to hold."""

MEND_KINDS: tuple[MendKind, ...] = ("stroke", "neck", "sliver", "gap", "hole", "piece")

Way: TypeAlias = Literal["heavier", "taken off", "closed", "opened", "filled", "larger", "tied", "left out"]

MAX_LEFT = 300


@dataclass(frozen=True)
class Left:
    """A place that is left as it is, by the kind of what would be mended there."""

    __pydantic_config__ = STRICT

    kind: MendKind
    at: Anchor


@dataclass(frozen=True)
class Ready:
    """What is asked of the rule: kinds and places that are left as they are."""

    __pydantic_config__ = STRICT

    kinds_left: Annotated[tuple[MendKind, ...], Field(max_length=len(MEND_KINDS))] = ()
    places_left: Annotated[tuple[Left, ...], Field(max_length=MAX_LEFT)] = ()


@dataclass(frozen=True, eq=False)
class Mend:
    """A place that was mended, and how: where it is, what is there now or was, and how wide it was, in mm."""

    kind: MendKind
    way: Way
    place: Region
    was: float

    kept_bytes = 2_000


@dataclass(frozen=True)
class LeftSpot:
    """A place on the work that is left as it is: what lies within ``near`` mm of it."""

    kind: MendKind
    at: Point
    near: float


@dataclass(frozen=True)
class WeakJoint:
    """A joint that is narrower by itself than it is to be: the ends of the chord across it, and how wide it
    is to be, in mm."""

    ends: tuple[Point, Point]
    limit: float


@dataclass(frozen=True, eq=False)
class ReadyRequest:
    """All that making ready depends on: the shape, the material's limits, the joints that are weak by
    themselves, and what is left as it is."""

    shape: Shape
    key: str
    limits: Limits
    joints: tuple[WeakJoint, ...] = ()
    kinds_left: tuple[MendKind, ...] = ()
    spots_left: tuple[LeftSpot, ...] = ()

    @property
    def step_key(self) -> str:
        # The shape goes in by the key of the steps that it came from.
        return key_of([getattr(self, one.name) for one in fields(self) if one.name != "shape"])

    def wants(self, kind: MendKind, place: shapely.Geometry) -> bool:
        """Whether something is to be mended there."""
        return kind not in self.kinds_left and not any(
            spot.kind == kind and shapely.dwithin(place, shapely.Point(spot.at), spot.near)
            for spot in self.spots_left
        )


@dataclass(frozen=True, eq=False)
class ReadyResult:
    """A shape with all mended that could be, and what was."""

    shape: Shape
    mends: tuple[Mend, ...] = ()


@dataclass(frozen=True, eq=False)
class _State:
    """The shape as far as it is mended."""

    asked: ReadyRequest
    shape: Shape
    mends: list[Mend] = field(default_factory=list)

    @property
    def limits(self) -> Limits:
        return self.asked.limits

    def now(self, shape: Shape, mends: Sequence[Mend]) -> _State:
        return self if not mends else replace(self, shape=shape, mends=[*self.mends, *mends])


_MOST_ROUNDS = 3
"""What mends one place may leave another: a hole between heavier strokes. It is looked at again so often."""


def make_ready(asked: ReadyRequest) -> ReadyResult:
    """The shape made ready."""
    state = _State(asked, asked.shape)
    for _ in range(_MOST_ROUNDS):
        before = len(state.mends)
        for step in (_pieces, _slivers_and_strokes, _necks, _gaps, _holes):
            state = step(state)
        if len(state.mends) == before:
            break
    # What is mended may leave crumbs that no knife can cut.
    shape = without_small(state.shape, FINEST_MM) if state.mends else state.shape
    return ReadyResult(shape, _each_once(state.mends))


def _each_once(mends: Sequence[Mend]) -> tuple[Mend, ...]:
    """Mends without those of a place that an earlier one of its kind is of: it took two rounds."""
    found: list[Mend] = []
    for mend in mends:
        if not any(one.kind == mend.kind and shapely.intersects(one.place, mend.place) for one in found):
            found.append(mend)
    return tuple(found)


# --- strokes and necks --------------------------------------------------------------------------------------


def _slivers_and_strokes(state: _State) -> _State:
    limit = state.limits.stroke_mm
    if limit <= 0:
        return state
    thin = thinness(state.shape, limit)
    slivers = [place for place in thin.places if is_sliver(thin, place)]
    slivers = [place for place in slivers if state.asked.wants("sliver", place.region)]
    shape = state.shape
    if slivers:
        patch = polygonal(
            shapely.buffer(
                shapely.union_all([place.region for place in slivers]), shape.tolerance, join_style="mitre"
            )
        )
        shape = cut_out(shape, patch)
        if not shape:
            return state
        state = state.now(shape, [Mend("sliver", "taken off", p.region, p.width) for p in slivers])
        thin = thinness(shape, limit)
    strokes = [
        (place, width)
        for place, width in thin_strokes(thin)
        if is_below_limit(width, limit) and state.asked.wants("stroke", place.region)
    ]
    if not strokes:
        return state
    heavier = widened(shape, limit, [place.region for place, _ in strokes])
    if heavier is shape:
        return state
    return state.now(heavier, [Mend("stroke", "heavier", place.region, width) for place, width in strokes])


def _weak(state: _State, shape: Shape) -> list[tuple[WeakPlace, float]]:
    """Where the shape would tear, and how wide it is to be there."""
    found = list(weak_places(shape, state.limits))
    known = shapely.STRtree([weak.place for weak, _ in found])
    for joint in state.asked.joints:
        chord = shapely.LineString(joint.ends)
        width = width_across(shape.region, joint.ends, joint.limit)
        if is_below_limit(width, joint.limit) and not len(known.query(chord, "dwithin", joint.limit)):
            found.append((_at_chord(joint, width), joint.limit))
    return [one for one in found if state.asked.wants("neck", one[0].place)]


def _at_chord(joint: WeakJoint, width: float) -> WeakPlace:
    """A weak joint as a weak place: what is around its chord."""
    (x0, y0), (x1, y1) = joint.ends
    along = np.array([x1 - x0, y1 - y0])
    long = float(np.hypot(*along))
    over = np.array([-along[1], along[0]]) / long if long > 1e-9 else np.array([1.0, 0.0])
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    across = np.stack([middle - over * joint.limit, middle + over * joint.limit])
    return WeakPlace(
        polygonal(shapely.buffer(shapely.LineString(joint.ends), joint.limit / 2)), width, across
    )


def _necks(state: _State) -> _State:
    """Necks are made heavier as strokes are; where that does not do, the bays beside them are rounded, and
    where that does not either, a stroke is laid across."""
    first = left = _weak(state, state.shape)
    shape = state.shape
    for mended in (_as_strokes, _gussets, _ties):
        if not left:
            break
        shape = mended(shape, left)
        left = _weak(state, shape)
    still = shapely.STRtree([weak.place for weak, _ in left])
    held = [weak for weak, _ in first if not len(still.query(weak.place, "intersects"))]
    return state.now(shape, [Mend("neck", "heavier", weak.place, weak.width) for weak in held])


def _as_strokes(shape: Shape, necks: Sequence[tuple[WeakPlace, float]]) -> Shape:
    for limit in dict.fromkeys(limit for _, limit in necks):
        places = [shapely.buffer(weak.place, _ROUND_NECK * limit) for weak, at in necks if at == limit]
        shape = widened(shape, limit, places)
    return shape


def _gussets(shape: Shape, necks: Sequence[tuple[WeakPlace, float]]) -> Shape:
    """The bays beside necks rounded, each by just the radius that makes up for what is lacking."""
    for weak, limit in necks:
        lacking = limit * _WIDER - weak.width
        at = shape.outline.sides.cubics[sharp_bays(shape.outline), 0]
        near = shapely.dwithin(shapely.points(at), weak.place, _BESIDE_NECK * limit)
        for corner in at[near]:
            # Rounding one bay gives the sides of others other numbers.
            bays = sharp_bays(shape.outline)
            here = bays[np.hypot(*(shape.outline.sides.cubics[bays, 0] - corner).T) < 1e-9][:1]
            # An arc of a radius r in a bay of an angle a lies r (1 / sin(a / 2) - 1) before its corner.
            half = bay_angles(shape.outline)[here] / 2
            deep = np.maximum(1 / np.sin(half) - 1, 1e-6)
            shape = round_bays(shape, here, min([limit, *(lacking / deep)]))
    return shape


def _ties(shape: Shape, necks: Sequence[tuple[WeakPlace, float]]) -> Shape:
    bands = [stroked(weak.across, limit * _WIDER, shape.tolerance).named("tie") for weak, limit in necks]
    return weld([shape, *bands], shortest=CLOSE_NODES_MM)


_ROUND_NECK = 0.25
"""What is heavier at a neck is so from this far on each side of it, in limits."""

_BESIDE_NECK = 1.0
"""Bays this near to a neck, in limits, are rounded for it."""

_WIDER = 1.05


# --- gaps and holes -----------------------------------------------------------------------------------------


def _gaps(state: _State) -> _State:
    limit, shape = state.limits.gap_mm, state.shape
    gaps = [slot for slot in narrow_gaps(shape, state.limits) if state.asked.wants("gap", slot.region)]
    if not gaps:
        return state
    # A little over both edges, so that nothing is left between.
    fill = shapely.union_all([slot.region for slot in gaps])
    fill = polygonal(shapely.buffer(fill, 2 * shape.tolerance, join_style="mitre"))
    fill = polygonal(shapely.simplify(fill, shape.tolerance / 2))
    closed = weld([shape, straight_sided(fill, shape.tolerance).named("gap")], shortest=CLOSE_NODES_MM)
    near = shapely.buffer(fill, PINHOLE * limit)
    before = polygons.holes_of(shape.region)
    new = [hole for hole in polygons.holes_of(closed.region) if shapely.within(hole, near)]
    new = [hole for hole in new if not any(shapely.equals_exact(hole, own, 1e-9) for own in before)]
    return state.now(
        fill_holes(closed, new), [Mend("gap", "closed", slot.region, slot.width) for slot in gaps]
    )


def _holes(state: _State) -> _State:
    limit, shape = state.limits.hole_mm, state.shape
    small = [
        (contour, hole, inscribed_width(hole, 1e-2))
        for contour, hole in polygons.numbered_holes(shape.region)
        if shapely.buffer(hole, -limit / 2).is_empty
    ]
    small = [one for one in small if one[2] < limit and state.asked.wants("hole", one[1])]
    if not small:
        return state
    mends: list[Mend] = []
    filled = []
    opened = shape
    for contour, hole, width in small:
        wider = _opened(state, opened, contour, hole, width)
        if wider is None:
            filled.append(hole)
            mends.append(Mend("hole", "filled", hole, width))
        else:
            opened = wider
            mends.append(Mend("hole", "opened", hole, width))
    return state.now(fill_holes(opened, filled), mends)


_OPENED_FROM = 0.6
"""A letter's counter that is smaller, as a share of the limit, would be another one if it were opened. (†)"""


def _opened(state: _State, shape: Shape, contour: int, hole: shapely.Polygon, width: float) -> Shape | None:
    """The shape with a letter's own counter opened to the limit; None where it is no letter's own, where it
    would become another one, or where the strokes around it give too little."""
    limits = state.limits
    if width < _OPENED_FROM * limits.hole_mm or not _is_of_one(state.shape, contour):
        return None
    by = (limits.hole_mm * _WIDER - width) / 2
    around = next(
        (p for p in shapely.get_parts(shape.region) if shapely.contains(shapely.Polygon(p.exterior), hole)),
        None,
    )
    if around is None:
        return None
    rim = hole.exterior
    others = [ring for ring in (around.exterior, *around.interiors) if shapely.distance(ring, rim) > 0]
    if min(map(rim.distance, others), default=0.0) < limits.stroke_mm + by:
        return None
    wider = subtract(shape, [offset(_hole_as_shape(state.shape, contour), by)])
    return wider if polygons.count(wider.region) == polygons.count(shape.region) else None


def _hole_as_shape(shape: Shape, contour: int) -> Shape:
    """A hole of a shape as a shape of its own."""
    outline = shape.outline.arranged([contour], _one_of(len(shape.outline.contour_starts), contour))
    return Shape.of(outline, shape.tolerance)


def _one_of(count: int, chosen: int) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    flags = np.zeros(count, np.bool_)
    flags[chosen] = True
    return flags


def _is_of_one(shape: Shape, contour: int) -> bool:
    """Whether all sides of a hole come from one letter, or one shape of a part."""
    if shape.origins is None:
        return False
    numbers = set(shape.origins.source[shape.outline.sides.contour_of == contour].tolist())
    return len(numbers) == 1 and isinstance(shape.origins.sources[numbers.pop()], SourceOfShape)


# --- pieces -------------------------------------------------------------------------------------------------

SMALL_IS_SHORT = 3.0
"""A piece longer than so many limits can be taken hold of, however thin it is. (†)"""


def is_small_piece(piece: Region, limit: float) -> bool:
    """Whether a piece is too small to be held: no disc of the limit lies in it, and it is not long."""
    return polygons.longest_side(piece) < SMALL_IS_SHORT * limit and bool(
        shapely.buffer(piece, -limit / 2).is_empty
    )


_LARGER_FROM = 0.6
"""A piece is made larger where it has this share of the limit at least. (†)"""

_TIED_WITHIN = 3.0
"""A piece is tied to another one within so many limits; else it is left out. (†)"""


def _pieces(state: _State) -> _State:
    """Pieces too small to hold are made larger, tied to a neighbour, or left out, in this order of liking."""
    limit, shape = state.limits.piece_mm, state.shape
    pieces = [polygonal(piece) for piece in shapely.get_parts(shape.region)]
    small = [is_small_piece(piece, limit) and state.asked.wants("piece", piece) for piece in pieces]
    if not any(small):
        return state
    firm = [piece for piece, is_small in zip(pieces, small, strict=True) if not is_small]
    kept: list[int] = []
    added: list[Shape] = []
    mends: list[Mend] = []
    ring = 0
    for piece, is_small in zip(pieces, small, strict=True):
        own = range(ring, ring + polygons.count(piece)[1] + 1)
        ring = own.stop
        if not is_small:
            kept += own
            continue
        width = inscribed_width(piece, 1e-2)
        larger = _larger(state, shape.with_contours(own), width, firm)
        tie = None if larger else _tie(state, piece, firm)
        if larger:
            added.append(larger)
        elif tie:
            kept += own
            added.append(tie)
        mends.append(Mend("piece", "larger" if larger else "tied" if tie else "left out", piece, width))
    rest = shape.with_contours(kept) if kept else Shape.empty()
    if not rest and not added:
        return state
    return state.now(weld([rest, *added], shortest=CLOSE_NODES_MM), mends)


def _larger(state: _State, piece: Shape, width: float, firm: Sequence[Region]) -> Shape | None:
    """A piece made as large as it has to be; None where that is much larger, or too near to another one."""
    limits = state.limits
    if width < _LARGER_FROM * limits.piece_mm:
        return None
    larger = offset(piece, (limits.piece_mm * _WIDER - width) / 2)
    apart = min((shapely.distance(larger.region, other) for other in firm), default=math.inf)
    return larger.named("piece") if apart > limits.gap_mm else None


def _tie(state: _State, piece: Region, firm: Sequence[Region]) -> Shape | None:
    """A stroke from a piece to the nearest of others; None where they are far."""
    limits = state.limits
    far = [shapely.distance(piece, other) for other in firm]
    if not far or min(far) >= _TIED_WITHIN * limits.piece_mm:
        return None
    nearest = firm[far.index(min(far))]
    start, end = shapely.get_coordinates(shapely.shortest_line(shapely.point_on_surface(piece), nearest))
    long = float(np.hypot(*(end - start)))
    width = max(limits.neck_mm, limits.stroke_mm, _THINNEST_TIE_MM) * _WIDER
    # It ends half a width in its neighbour, for its end is round.
    into = end + (end - start) / max(long, 1e-9) * width / 2
    return stroked(np.array([start, into]), width, state.shape.tolerance).named("tie")


_THINNEST_TIE_MM = 0.2
"""A tie is at least so wide, also where the material has no limits."""
