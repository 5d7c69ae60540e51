"""A seam: two neighbouring letters as they stand, and what a maker would look for with a glass.

The *main part* of a letter is the largest of what is left of it outside its neighbour; the neck runs
from one main part to the other. What is left beyond the neighbour's far side is a stub.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.budget import check
from fulgen.geometry.outline import Floats, Point
from fulgen.geometry.polygons import Region, holes_of, overlay, polygonal
from fulgen.joining.necks import FINENESS, NEARBY, Chord, narrowest_chord, stopped_at, worn_neck
from fulgen.joining.strength import Body, held_together, neck_between

WIDEST_NECK = 0.3
"""Necks are measured up to this width; few letters have a wider stroke."""

TOUCH = 4e-3
"""Letters nearer than this, or joined by less, only touch: 0.16 mm where the size is 40 mm. It is well
above the flattening of the outlines, so an engine's rounding is never taken for a joint."""

AS_GIVEN = 0.95
"""A joint of this share of what its letters give holds as they do: it comes apart with them."""

_LEAST_STUB = 0.012
"""A stroke end that sticks out by less is covered, as far as the eye goes. (†)"""

_LONGEST_STUB = 0.35
"""What goes on for longer is a limb of the letter, that its neighbour only crosses. (†)"""

TRUE_STUB = 0.16
"""A longer end is a swash or a serif of the letter's own, drawn to be seen. († by looking at the shipped
faces: crossbars and exit strokes that slide through a stem come out at 0.02 to 0.12.)"""

_TRUE_STUB_AREA = 0.014

_STUBBY = 2.0
"""A stroke end longer than this many times its width is an arm of the letter."""

LARGEST_PINHOLE = 0.085
"""No wider hole is called a pinhole, however small the lettering: the counters of bold faces start
there. († by looking at the shipped faces.)"""

_BAY = 0.025
"""How far apart the sides of a notch are where it ends."""

DEEP_NOTCH = 0.12
"""A deeper notch shows as a slit where the letters should flow. (†)"""

_WINDOW = 0.22
"""Only what is this near to where the letters meet is looked at for their neck."""

_CUT_DEPTHS = (0.02, 0.01, 0.005)
"""How far inside the neighbour a stub is cut: less where the neighbour is a hairline."""

_DUST = 1e-6

_GRID, _ALMOST = 0.01, 0.985
"""What letters give is asked for in these steps; whether they hold together, at a little less, for outlines
are flattened."""


class State(StrEnum):
    """How two neighbours hold together."""

    GAP = "gap"
    TOUCHING = "touching"
    THIN = "thin"
    JOINED = "joined"


@dataclass(frozen=True, eq=False)
class Stub:
    """What is left of a letter past the far side of its neighbour: how far it sticks out, whose it is,
    its area, and whether it lies on the neighbour's side of the joint."""

    depth: float
    of_left: bool
    region: Region
    is_beyond: bool

    @property
    def is_true(self) -> bool:
        """Whether it is a stroke end by accident, and no arm, swash or serif of the letter's own: those
        are longer than wide, or do not point at the neighbour."""
        stubby = self.depth**2 <= _STUBBY * self.region.area
        return stubby and self.is_beyond and self.depth <= TRUE_STUB and self.region.area <= _TRUE_STUB_AREA


@dataclass(frozen=True, eq=False)
class Trim:
    """A stub and what to cut out of its letter to take it off: the cut lies inside the neighbour, where
    nothing shows."""

    stub: Stub
    patch: Region


@dataclass(frozen=True, eq=False)
class Hole:
    """A hole that no letter has by design: the widest disc in it, and its area."""

    width: float
    region: Region


@dataclass(frozen=True)
class Notch:
    """A sharp bay: its corner, its angle in degrees, and how deep it is before it opens."""

    corner: Point
    angle: float
    depth: float


@dataclass(frozen=True, eq=False)
class Seam:
    """Two neighbours as they stand, the left letter's origin at 0, 0. Measured when asked.

    ``between`` is whatever else holds them, such as a bridge or a third letter; ``bodies`` are the two with
    what is known of them.
    """

    left: Region
    right: Region
    between: Region | None = None
    bodies: tuple[Body, Body] | None = None

    kept_bytes = 40_000
    """About how many bytes a seam keeps alive once it is measured."""

    def state(self, target: float) -> State:
        """How the seam holds where a neck of ``target`` is asked for."""
        if self.gap > 0:
            return State.TOUCHING if self.gap <= TOUCH else State.GAP
        if self.neck <= TOUCH:
            return State.TOUCHING
        return State.JOINED if self.holds(target) else State.THIN

    def holds(self, target: float) -> bool:
        """Whether the neck is as asked, or all that the letters themselves give."""
        if self.neck >= target - _DUST:
            return True
        if self.neck <= TOUCH:
            return False
        given = self.gives(target)
        given = _ALMOST * target if given >= target else AS_GIVEN * given
        return (given < _ALMOST * target and self.neck >= given) or held_together(
            self.whole, *self._both, given
        )

    def gives(self, target: float) -> float:
        """The greatest width up to ``target`` at which both letters hold by themselves."""
        left, right = self._both
        return min(left.gives(target), right.gives(target))

    @cached_property
    def _both(self) -> tuple[Body, Body]:
        return self.bodies or (Body(self.left), Body(self.right))

    @cached_property
    def _shared(self) -> Region:
        return polygonal(overlay(shapely.intersection, self.left, self.right))

    @property
    def meets(self) -> bool:
        """Whether the two overlap at all."""
        return self.overlaps_by(_DUST)

    def overlaps_by(self, area: float) -> bool:
        """Whether the two share more than an area."""
        return bool(self._shared.area > area)

    @cached_property
    def whole(self) -> Region:
        """All of it, welded."""
        whole = polygonal(overlay(shapely.union, self.left, self.right))
        return polygonal(whole if self.between is None else overlay(shapely.union, whole, self.between))

    @cached_property
    def gap(self) -> float:
        """The distance between the two; 0 when they meet, if only through what is between them."""
        apart = float(shapely.distance(self.left, self.right))
        return 0.0 if apart and self.between is not None and self.neck else apart

    @cached_property
    def _rests(self) -> tuple[NDArray[np.object_], NDArray[np.object_]]:
        """What is left of each letter outside the other."""
        return _rest(self.left, self.right, self.between), _rest(self.right, self.left, self.between)

    @cached_property
    def _mains(self) -> tuple[Region, Region] | None:
        """The main parts; None when one letter lies wholly on the other."""
        left, right = self._rests
        return (_largest(left), _largest(right)) if len(left) and len(right) else None

    @cached_property
    def neck(self) -> float:
        """The neck, up to WIDEST_NECK; 0 when they do not meet.

        Joints at several places hold as well as the best of them. Where a stroke is thinner behind the joint
        than in it, the letters come apart there: that is the neck.
        """
        check()
        here = self._neck_here
        if here <= TOUCH:
            return here
        step = math.ceil(here / _GRID) * _GRID
        width = _ALMOST * min(here, self.gives(round(step, 6)))
        if width <= TOUCH or held_together(self.whole, *self._both, width):
            return here
        return neck_between(self.whole, *self._both, width, FINENESS)

    @cached_property
    def _neck_here(self) -> float:
        """The neck where the two meet, whatever their strokes are beyond."""
        if self.between is None and self._shared.area < _DUST:
            return 0.0
        if self._mains is None:
            inner = min(self.left, self.right, key=lambda region: region.area)
            return min(
                WIDEST_NECK, 2 * float(shapely.maximum_inscribed_circle(inner, tolerance=FINENESS).length)
            )
        if self._halves is not None:
            return min(half._neck_here for half in self._halves)
        if self._chord is not None:
            return min(WIDEST_NECK, self._chord.width)
        return worn_neck(self._near, *self._sides, WIDEST_NECK)

    @cached_property
    def _halves(self) -> tuple[Seam, Seam] | None:
        """Where the two hold only by what is between them: the left one with that and the right one,
        and the other way round. The weaker of these joints is the neck."""
        if self.between is None or self._shared.area >= _DUST:
            return None
        left = polygonal(overlay(shapely.union, self.left, self.between))
        right = polygonal(overlay(shapely.union, self.between, self.right))
        return Seam(left, self.right), Seam(self.left, right)

    @cached_property
    def _chord(self) -> Chord | None:
        """The neck of the best joint, where every joint lies between two notches."""
        if self.between is not None:
            return None
        joints = shapely.get_parts(self._shared)
        joints = joints[shapely.area(joints) > _DUST]
        meets = shapely.distance(joints[:, None], shapely.points(self.corners)) < _DUST
        if not len(joints) or not len(self.corners) or (meets.sum(axis=1) != 2).any():
            return None
        chords = []
        for own in meets:
            (x0, y0), (x1, y1) = self.corners[own].tolist()
            chord = narrowest_chord(self.whole, ((x0, y0), (x1, y1)))
            if chord is None:
                return None
            chords.append(chord)
        return max(chords, key=lambda chord: chord.width)

    @cached_property
    def _near(self) -> Region:
        """The part of the whole that matters for the neck."""
        if self.between is not None:
            return self.whole
        x0, y0, x1, y1 = self._shared.bounds
        window = x0 - _WINDOW, y0 - _WINDOW, x1 + _WINDOW, y1 + _WINDOW
        return polygonal(shapely.clip_by_rect(self.whole, *window))

    @cached_property
    def _sides(self) -> tuple[Region, Region]:
        """The main parts without what belongs to the joint itself."""
        joint = shapely.buffer(self._shared if self.between is None else self.between, NEARBY, quad_segs=4)
        left, right = self._mains or (self.left, self.right)
        far_left = polygonal(overlay(shapely.difference, left, joint))
        far_right = polygonal(overlay(shapely.difference, right, joint))
        return far_left if far_left.area > 1e-3 else left, far_right if far_right.area > 1e-3 else right

    @cached_property
    def ends(self) -> tuple[Point, Point]:
        """The ends of the gap, or of the chord across the neck."""
        if self._halves is not None and self.neck:
            return min(self._halves, key=lambda half: half._neck_here).ends
        if self._chord is not None:
            return self._chord.ends
        if self.neck and self._mains is not None:
            stopped = stopped_at(self._near, *self._sides, self.neck)
            if stopped is not None:
                return stopped
            joint = self.between if self.between is not None and self._shared.is_empty else self._shared
            x, y = shapely.get_coordinates(shapely.point_on_surface(joint)).tolist()[0]
            return (x, y), (x, y)
        (x0, y0), (x1, y1) = shapely.get_coordinates(shapely.shortest_line(self.left, self.right)).tolist()
        return (x0, y0), (x1, y1)

    @cached_property
    def corners(self) -> NDArray[np.float64]:
        """Where the two outlines cross on the outline of the whole, (K, 2)."""
        crossing = shapely.intersection(shapely.boundary(self.left), shapely.boundary(self.right))
        points = np.unique(np.round(shapely.get_coordinates(crossing), 7), axis=0)
        if not len(points):
            return points
        on_edge = shapely.distance(shapely.boundary(self.whole), shapely.points(points)) < _DUST
        return np.asarray(points[on_edge])

    @cached_property
    def stubs(self) -> tuple[Stub, ...]:
        """Stroke ends past the far side."""
        if self._mains is None:
            return ()
        found = []
        if self._shared.is_empty:
            return ()
        middle = shapely.centroid(self._shared).x
        for rest, main, other in zip(self._rests, self._mains, (self.right, self.left), strict=True):
            for part in rest:
                # A part that does not meet the neighbour is a detached bit of the letter, not an end.
                if part is main or shapely.distance(part, other) > _DUST:
                    continue
                depth = float(shapely.distance(other, shapely.points(shapely.get_coordinates(part))).max())
                if _LEAST_STUB < depth < _LONGEST_STUB:
                    of_left = other is self.right
                    past = shapely.centroid(part).x - middle
                    found.append(Stub(depth, of_left, part, past > 0 if of_left else past < 0))
        return tuple(found)

    @property
    def true_stubs(self) -> tuple[Stub, ...]:
        return tuple(stub for stub in self.stubs if stub.is_true)

    def trims(self, *, all_of_them: bool) -> tuple[Trim, ...]:
        """How to take off each stub that the joint does not need: the true ones, or all of them."""
        wanted = self.stubs if all_of_them else self.true_stubs
        return tuple(Trim(stub, patch) for stub in wanted if (patch := self._patch_for(stub)) is not None)

    def _patch_for(self, stub: Stub) -> Region | None:
        neighbour = self.right if stub.of_left else self.left
        for depth in _CUT_DEPTHS:
            inside = shapely.intersection(shapely.buffer(stub.region, depth), neighbour)
            patch = shapely.union(shapely.buffer(stub.region, 1e-3), inside)
            left = shapely.difference(self.left, patch) if stub.of_left else self.left
            right = self.right if stub.of_left else shapely.difference(self.right, patch)
            cut = Seam(polygonal(left), polygonal(right), self.between)
            if cut.neck >= 0.97 * self.neck:
                return polygonal(patch)
        return None

    @cached_property
    def holes(self) -> tuple[Hole, ...]:
        """Holes that are no letter's own counter, whole and unharmed."""
        own = [shapely.area(hole) for letter in (self.left, self.right) for hole in holes_of(letter)]
        found = []
        for hole in holes_of(self.whole):
            if not any(abs(hole.area - area) <= 1e-4 * area + _DUST for area in own):
                circle = shapely.maximum_inscribed_circle(hole, tolerance=1e-3)
                found.append(Hole(2 * float(circle.length), hole))
        return tuple(found)

    def pinholes(self, width: float) -> tuple[Hole, ...]:
        """New holes too small for a hole of ``width`` to be weeded."""
        return tuple(hole for hole in self.holes if hole.width < min(width, LARGEST_PINHOLE))

    @cached_property
    def notches(self) -> tuple[Notch, ...]:
        """The bays beside the neck: walked away from along both edges until they open."""
        if not len(self.corners):
            return ()
        rings = shapely.get_parts(shapely.boundary(self.whole))
        nearest = shapely.distance(rings[:, None], shapely.points(self.corners)).argmin(axis=0)
        steps: Floats = np.arange(1, 31, dtype=np.float64) * 0.01
        walks = [
            _walk_both_ways(rings[n], c, steps) for n, c in zip(nearest.tolist(), self.corners, strict=True)
        ]
        ahead, behind = (np.concatenate([walk[side] for walk in walks]) for side in (0, 1))
        apart = np.hypot(*(ahead - behind).T).reshape(len(self.corners), -1)
        middles = ((ahead + behind) / 2).reshape(*apart.shape, 2)[:, 1]
        inward = ~shapely.contains_xy(self.whole, middles[:, 0], middles[:, 1])
        opened = apart >= _BAY
        depths = np.where(opened.any(axis=1), steps[opened.argmax(axis=1)], steps[-1])
        angles = np.degrees(2 * np.arcsin(np.minimum(1.0, apart[:, 1] / (2 * steps[1]))))
        return tuple(
            Notch((x, y), angle, depth)
            for (x, y), angle, depth, bay in zip(
                self.corners.tolist(), angles.tolist(), depths.tolist(), inward.tolist(), strict=True
            )
            if bay
        )

    @property
    def deep_notches(self) -> tuple[Notch, ...]:
        return tuple(notch for notch in self.notches if notch.depth > DEEP_NOTCH)

    @cached_property
    def covered(self) -> float:
        """The largest share of a counter that the other letter fills."""
        shares = [0.0]
        for letter, by in ((self.left, self.right), (self.right, self.left)):
            for counter in holes_of(letter):
                if counter.area > 1e-3:
                    shares.append(shapely.intersection(counter, by).area / counter.area)
        return max(shares)

    @cached_property
    def contact(self) -> float:
        """How long the longest place is where the two lie on each other: half way around it."""
        parts = shapely.get_parts(self._shared)
        return float(shapely.length(parts).max(initial=0.0)) / 2

    @cached_property
    def overlap(self) -> float:
        """The share of the smaller letter that lies on the other."""
        return float(self._shared.area / max(min(self.left.area, self.right.area), _DUST))


def _rest(letter: Region, neighbour: Region, between: Region | None) -> NDArray[np.object_]:
    rest = overlay(shapely.difference, letter, neighbour)
    if between is not None:
        rest = overlay(shapely.difference, polygonal(rest), between)
    parts = np.asarray(shapely.get_parts(rest))
    # Rounding leaves slivers along edges that coincide.
    return parts[shapely.area(parts) > _DUST] if len(parts) else parts


def _largest(parts: NDArray[np.object_]) -> Region:
    largest: Region = parts[int(np.argmax(shapely.area(parts)))]
    return largest


def _walk_both_ways(ring: shapely.LinearRing, corner: Floats, steps: Floats) -> tuple[Floats, Floats]:
    """Points so far along a ring from a corner of it, walked forwards and backwards, (N, 2) each."""
    points = shapely.get_coordinates(ring)
    along = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))))
    at = along[int(np.abs(points - corner).sum(axis=1).argmin())]
    return tuple(
        np.stack(
            [np.interp((at + way * steps) % along[-1], along, points[:, axis]) for axis in (0, 1)], axis=1
        )
        for way in (1, -1)
    )  # type: ignore[return-value]
