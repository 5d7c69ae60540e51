"""Fillets: sharp bays of an outline rounded by an arc that touches both sides.

        ____        ____
            \\  /                \\_/     the arc touches both sides of the bay and fills its
             \\/          →                corner; nothing else of the outline changes

The arc's centre lies a radius away from both sides. It is looked for along one side of the bay: a
centre a radius off that side is moved outwards until the other side is a radius away too. The sides
are then split where the arc touches them (de Casteljau), and the arc is drawn between as cubics.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.budget import check
from fulgen.geometry import bezier, measure, polygons
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Ints, Outline
from fulgen.geometry.polygons import Region
from fulgen.geometry.shape import Origins, Shape

Complexes = NDArray[np.complex128]

SHARPEST_ROUNDED = math.radians(150)
"""A bay wider than this needs no rounding."""

_SAMPLES = 16
"""Points looked at on each side of a contour to begin with."""

_AREA_SAME = 1e-3
"""Rounding bays adds the area that the arcs fill, as a share of all, and no other."""

_REACH = 10.0
"""A fillet reaches no further from its corner than this many radii."""


@dataclass(frozen=True, eq=False)
class _Fillet:
    """An arc at a corner of a contour: from ``start`` to ``end``, as side number and time in one figure
    (3.25 is a quarter into side 3), its centre and its ends, and the area it fills."""

    start: float
    end: float
    centre: complex
    begin: complex
    finish: complex
    rim: Complexes

    @cached_property
    def filled(self) -> Region:
        """The area between the arc and the two sides of the bay."""
        arc = _arc_points(self.centre, self.finish, self.begin, 24)[1:-1]
        ring = np.concatenate((self.rim, arc))
        # Where the arc leaves a straight side, the two may cross by the last bit of a number.
        return polygons.polygonal(
            shapely.make_valid(shapely.Polygon(np.stack([ring.real, ring.imag], axis=1)))
        )


def sharp_bays(outline: Outline) -> Ints:
    """The corners of an outline that are bays narrower than SHARPEST_ROUNDED, by the sides that begin there
    (K,)."""
    return np.flatnonzero(bay_angles(outline) < SHARPEST_ROUNDED)


def bay_angles(outline: Outline) -> Floats:
    """The angle between the sides that meet at the start of each side, where that is a bay; infinite where it
    is none (S,)."""
    sides, _ = outline.cubics
    if not len(sides):
        return np.zeros(0)
    before = outline.sides.before
    arriving, leaving = _end_tangents(sides)
    back, ahead = -arriving[before], leaving
    # Outer edges are wound positive: a bay turns against that, in holes too.
    is_bay = np.imag(np.conj(arriving[before]) * ahead) < 0
    return np.where(is_bay, np.abs(np.angle(ahead * back.conj())), np.inf)


def round_bays(shape: Shape, bays: Ints, radius: float) -> Shape:
    """The shape with the bays at the starts of some sides (K,) rounded by ``radius`` mm; a bay that has no
    room for the arc takes a smaller one, or stays as it is. Pieces and holes stay the same. Sides that stay
    are still known by where they come from."""
    if not len(bays) or radius <= 0:
        return shape
    outline = shape.outline
    sides, contour_of = outline.cubics
    parts: list[Outline] = []
    rows: list[tuple[int, float, float]] = []
    gained = 0.0
    for number, contour in enumerate(outline.contours()):
        own = np.flatnonzero(contour_of == number)
        first = int(own[0]) if len(own) else 0
        at = [bay - first for bay in bays.tolist() if contour_of[bay] == number]
        fillets = _fillets(sides[own], at, radius, shape) if at else []
        if fillets:
            redrawn, drawn = _redrawn(sides[own], fillets)
            parts.append(redrawn)
            rows += [(first + n if n >= 0 else -1, start, end) for n, start, end in drawn]
        else:
            parts.append(contour)
            rows += [(n, 0.0, 1.0) for n in own.tolist()]
        gained += sum(f.filled.area for f in fillets)
    if not gained:
        return shape
    rounded = Shape.of(Outline.joined(parts), shape.tolerance, _origins_of(shape, rows))
    expected = measure.area(outline) + gained
    same = polygons.count(rounded.region) == polygons.count(shape.region)
    if same and abs(measure.area(rounded.outline) - expected) <= _AREA_SAME * expected:
        return rounded
    return shape if radius < 0.02 else round_bays(shape, bays, radius / 2)


def _origins_of(shape: Shape, rows: Sequence[tuple[int, float, float]]) -> Origins | None:
    """Where sides come from that are parts of those of a shape, by number (-1: an arc) and parameters."""
    if shape.origins is None:
        return None
    side, start, end = (np.array(column) for column in zip(*rows, strict=True))
    arcs = side < 0
    found = shape.origins.parts(np.maximum(side, 0), start, end)
    source = np.where(arcs, len(found.sources), found.source)
    return replace(found, sources=(*found.sources, "arc"), source=source)


def _fillets(sides: Floats, at: list[int], radius: float, shape: Shape) -> list[_Fillet]:
    found: list[_Fillet] = []
    for corner in at:
        check()
        for size in (radius, radius / 2, radius / 4):
            fillet = _fillet(sides, corner, size)
            if fillet is None or not _is_free(fillet, shape):
                continue
            if not any(_overlap(fillet, other, len(sides)) for other in found):
                found.append(fillet)
                break
    return sorted(found, key=lambda f: f.start % len(sides))


def _is_free(fillet: _Fillet, shape: Shape) -> bool:
    """Whether what the arc fills is open ground."""
    filled = fillet.filled
    if filled.area == 0:
        return False
    inner = shapely.buffer(filled, -shape.tolerance)
    if inner.is_empty:
        return True
    # Only what is near is laid over it: the whole of a page would be dear.
    around = shapely.buffer(shapely.box(*inner.bounds), shape.tolerance, join_style="mitre").bounds
    inside = shapely.intersection(inner, shapely.make_valid(shapely.clip_by_rect(shape.region, *around)))
    return bool(inside.area <= 0.02 * filled.area)


def _overlap(one: _Fillet, other: _Fillet, count: int) -> bool:
    spans = [(f.start + turn * count, f.end + turn * count) for f in (other,) for turn in (-1, 0, 1)]
    return any(one.start < end and start < one.end for start, end in spans)


def _fillet(sides: Floats, corner: int, radius: float) -> _Fillet | None:
    """The arc at the start of side ``corner``."""
    back = _branch(sides, corner, -1, _REACH * radius)
    ahead = _branch(sides, corner, +1, _REACH * radius)
    turn = math.copysign(1.0, (np.conj(back.heading) * ahead.heading).imag)
    line = shapely.linestrings(np.stack([ahead.points.real, ahead.points.imag], axis=1))

    def centre(at: float) -> complex:
        point, heading = _at(sides, back.place(at))
        # Walked away from the corner, the bay lies on the side of the turn.
        return point + radius * turn * 1j * heading

    def lacks(at: float) -> float:
        c = centre(at)
        return radius - float(shapely.distance(line, shapely.Point(c.real, c.imag)))

    steps = np.linspace(0.0, back.length, 33)[1:]
    low = 0.0
    for high in steps.tolist():
        if lacks(high) <= 0:
            break
        low = high
    else:
        return None
    for _ in range(20):
        middle = (low + high) / 2
        low, high = (middle, high) if lacks(middle) > 0 else (low, middle)
    c = centre(high)
    touch = float(shapely.line_locate_point(line, shapely.Point(c.real, c.imag)))
    if not 0 < touch < ahead.length * 0.999:
        return None
    start, end = back.place(high), _nearest(sides, ahead.place(touch), c)
    begin = _at(sides, start)[0]
    finish, heading = _at(sides, end)
    # Where the other side ends before the arc could touch it along its edge, there is no room.
    if abs(((finish - c) * np.conj(heading)).real) > 0.1 * radius:
        return None
    walked = back.points[: int(np.searchsorted(back.along, high))][::-1]
    onward = ahead.points[1 : int(np.searchsorted(ahead.along, touch))]
    rim = np.concatenate(([begin], walked, onward, [finish]))
    return _Fillet(start, end, c, begin, finish, rim)


@dataclass(frozen=True, eq=False)
class _Branch:
    """One side of a bay, walked from its corner: points, their distance along, and their places."""

    points: Complexes
    along: Floats
    places: Floats
    heading: complex

    @property
    def length(self) -> float:
        return float(self.along[-1])

    def place(self, along: float) -> float:
        return float(np.interp(along, self.along, self.places))


def _branch(sides: Floats, corner: int, step: int, reach: float) -> _Branch:
    points: list[complex] = [complex(*sides[corner, 0])]
    places: list[float] = [float(corner)]
    length = 0.0
    count = len(sides)
    for hop in range(max(1, count // 2)):
        number = corner + hop if step > 0 else corner - 1 - hop
        times = np.linspace(0, 1, _SAMPLES + 1)[1:] if step > 0 else np.linspace(1, 0, _SAMPLES + 1)[1:]
        if hop and _turns(points, _point(sides[number % count], float(times[0]))):
            break
        for t in times.tolist():
            point = _point(sides[number % count], t)
            length += abs(point - points[-1])
            points.append(point)
            places.append(number + t)
            if length >= reach:
                break
        if length >= reach:
            break
    z = np.array(points)
    along = np.concatenate(([0.0], np.cumsum(np.abs(np.diff(z)))))
    first = z[1] - z[0]
    return _Branch(z, along, np.array(places), complex(first / (abs(first) or 1.0)))


_CORNER = math.radians(40)
"""A side of a bay ends where its edge turns by more than this."""


def _turns(points: list[complex], onward: complex) -> bool:
    """Whether a line turns a corner on its way to a further point."""
    before, after = points[-1] - points[-2], onward - points[-1]
    return bool(before and after and abs(np.angle(after / before)) > _CORNER)


def _point(side: Floats, t: float) -> complex:
    return complex(*bezier.point(side, t))


def _at(sides: Floats, place: float) -> tuple[complex, complex]:
    """Point and direction (walked away from the corner behind: against the contour) at a place."""
    number = math.floor(place)
    t = place - number
    side = sides[number % len(sides)]
    heading = -complex(*bezier.derivative(side, t))
    return _point(side, t), heading / (abs(heading) or 1.0)


def _nearest(sides: Floats, place: float, to: complex) -> float:
    """The place near ``place`` that is nearest to a point."""
    width = 1.5 / _SAMPLES
    for _ in range(8):
        trial = place + np.linspace(-width, width, 9)
        distances = [abs(_at(sides, p)[0] - to) for p in trial.tolist()]
        place = float(trial[int(np.argmin(distances))])
        width /= 4
    return place


def _sweep(centre: complex, begin: complex, finish: complex) -> float:
    """The angle from begin to finish around the centre, the short way."""
    return float(np.angle((finish - centre) / (begin - centre)))


def _arc_points(centre: complex, begin: complex, finish: complex, count: int) -> Complexes:
    turn = np.exp(1j * _sweep(centre, begin, finish) * np.linspace(0, 1, count))
    return np.asarray(centre + (begin - centre) * turn)


def _redrawn(sides: Floats, fillets: list[_Fillet]) -> tuple[Outline, list[tuple[int, float, float]]]:
    """A contour with its fillets in place of what they cover; and for each side of it the one that it is a
    part of (-1: an arc), and from where to where on that."""
    count = len(sides)
    verbs: list[int] = [MOVE]
    points: list[tuple[float, float]] = [(fillets[0].finish.real, fillets[0].finish.imag)]
    drawn: list[tuple[int, float, float]] = []

    def draw(side: Floats) -> None:
        straight = np.abs(side[1] - (2 * side[0] + side[3]) / 3).max() < 1e-9
        straight &= np.abs(side[2] - (side[0] + 2 * side[3]) / 3).max() < 1e-9
        verbs.append(LINE if straight else CUBIC)
        points.extend(map(tuple, (side[3:] if straight else side[1:]).tolist()))

    for index, fillet in enumerate(fillets):
        following = fillets[(index + 1) % len(fillets)]
        begin, end = fillet.end % count, following.start % count
        if end <= begin:
            end += count
        place = begin
        while place < end - 1e-12:
            number = math.floor(place + 1e-12)
            stop = min(number + 1.0, end)
            part = bezier.part(sides[number % count], max(0.0, place - number), stop - number)
            draw(part)
            drawn.append((number % count, max(0.0, place - number), stop - number))
            place = stop
        f = following
        arc = bezier.arc(f.centre, f.begin - f.centre, _sweep(f.centre, f.begin, f.finish))
        for side in arc:
            verbs.append(CUBIC)
            points.extend((z.real, z.imag) for z in side[1:])
        # To the last bit, or a side of no length would close the contour.
        points[-1] = (f.finish.real, f.finish.imag)
        drawn += [(-1, 0.0, 1.0)] * len(arc)
    return Outline(np.array(verbs, np.uint8), np.array(points)), drawn


def _end_tangents(sides: Floats) -> tuple[Complexes, Complexes]:
    """Directions in which sides arrive at their ends and leave their starts, as unit complex numbers."""

    def first_way(points: Floats) -> Complexes:
        z = points[..., 0] + 1j * points[..., 1]
        ways = z[:, 1:] - z[:, :1]
        size = np.abs(ways)
        far = size > 1e-9 * size.max(axis=1, keepdims=True)
        chosen = ways[np.arange(len(ways)), far.argmax(axis=1)]
        return np.asarray(chosen / np.maximum(np.abs(chosen), 1e-300))

    return -first_way(sides[:, ::-1]), first_way(sides)
