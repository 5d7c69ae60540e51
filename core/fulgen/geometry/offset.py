"""Offset: a shape grown or shrunk by an exact distance all around, with its curves kept.

           o────────────o         what lies within the distance of a side is a *strip*: the side, its parallel
           │   strip    │⟍        curve, and a straight line at either end
    ───────p────────────p  ⟍      what lies within the distance of a corner is a *join*: a sector of a disc,
    or a
             (side)      ╲ join   mitre

The union of a shape and the strips and joins outside it is the shape grown; without those inside it, it is
the shape shrunk. So an offset is an overlay like all others, and its curves are the parallel curves and arcs.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from fulgen.geometry import bezier, polygons
from fulgen.geometry.chords import flattened
from fulgen.geometry.fit import Complexes, fit_cubic
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Ints, Outline
from fulgen.geometry.polygons import Region, overlay, polygonal
from fulgen.geometry.shape import Shape, beside, combined_sources

Corners = Literal["round", "mitred"]

MITRE_LIMIT = 4.0
"""A mitred corner reaches no further than this many distances; a sharper one is cut off straight
(SVG 2, section 13.5.5: the initial value of stroke-miterlimit)."""

_TRUE = 0.15
"""How true parallel curves are drawn, in flattenings."""

_MOST_HALVINGS = 6
_SPIKE = 0.05
"""A corner that turns by half a circle, but for so much (radians), is a spike."""

_SMOOTH = 1e-7
"""Sides that go on with less of a turn than this (radians) have no corner between them."""


def offset(shape: Shape, distance: float, corners: Corners = "round") -> Shape:
    """The shape with its edge moved outwards by ``distance`` (inwards where negative), in its own units.

    Counters that close and parts that vanish are gone from the result.
    """
    if not shape or distance == 0.0:
        return shape
    tolerance = min(shape.tolerance, max(0.05 * abs(distance), 0.1 * shape.tolerance))
    shape = Shape.of(shape.outline, tolerance)
    sides, contour_of = shape.outline.cubics
    z = np.ascontiguousarray(sides).view(np.complex128)[..., 0].T
    firsts = np.flatnonzero(np.append(True, contour_of[1:] != contour_of[:-1]))
    following = np.arange(len(contour_of)) + 1
    following[np.append(firsts[1:], len(contour_of)) - 1] = firsts
    nodes = np.arange(len(contour_of)), following
    drawn = [_strips(z, distance, shape.tolerance, nodes), _joins(z, following, distance, corners)]
    region = shape.region
    how = shapely.union if distance > 0 else shapely.difference
    return _combined(shape, Outline.joined(drawn), lambda covered: overlay(how, region, covered))


def _combined(shape: Shape, drawn: Outline, made: Callable[[Region], BaseGeometry]) -> Shape:
    """What is made of a shape and of all that some contours cover, each by itself."""
    source = flattened(drawn, shape.tolerance)
    covered = polygons.covered_by_each(source.xy, source.chords.closing)
    found = polygonal(made(covered))
    return combined_sources(beside(shape, source) if shape else source, found, shape.tolerance)


def _tangents(z: Complexes) -> tuple[Complexes, Complexes]:
    """The directions in which sides (4, S) leave their starts and arrive at their ends."""

    def first_way(points: Complexes) -> Complexes:
        ways = points[1:] - points[0]
        size = np.abs(ways)
        far = size > 1e-9 * size.max(axis=0)
        way = ways[far.argmax(axis=0), np.arange(ways.shape[1])]
        return np.asarray(way / np.maximum(np.abs(way), 1e-300))

    return first_way(z), -first_way(z[::-1])


def _headings(z: Complexes, t: Floats) -> Complexes:
    """The directions of sides (4, S) at parameters (K,), (K, S); where a side stands still, those of its
    ends."""
    way = bezier.derivative(z[:, None], t[:, None])
    size = np.abs(way)
    first, last = _tangents(z)
    still = size <= 1e-9 * np.abs(np.diff(z, axis=0)).max(axis=0)
    unit = way / np.maximum(size, 1e-300)
    return np.asarray(np.where(still, np.where(t[:, None] < 0.5, first, last), unit))


def _strips(z: Complexes, distance: float, tolerance: float, nodes: tuple[Ints, Ints]) -> Outline:
    """What lies between sides (4, S) and their parallel curves, a contour each. ``nodes`` are the sides that
    end where others begin, and those others: strips that go on without a corner meet to the last bit, or
    there would be a slit between them, however fine, down to the node."""
    parallel, own = _parallels(z, distance, _TRUE * tolerance)
    contours = np.unique(own, return_counts=True)[1]
    is_line = _straight(z)
    verbs: list[Ints] = []
    points: list[Complexes] = []
    starts = np.cumsum(contours) - contours
    one, other = nodes
    ends, begins = parallel[3, (starts + contours - 1)[one]], parallel[0, starts[other]]
    goes_on = np.abs(ends - begins) < _SMOOTH * abs(distance)
    parallel[0, starts[other[goes_on]]] = ends[goes_on]
    for n, (start, many) in enumerate(zip(starts.tolist(), contours.tolist(), strict=True)):
        back = parallel[::-1, start : start + many][:, ::-1]  # from the end of the side to its start
        if is_line[n]:
            verbs.append(np.array([MOVE, LINE, LINE, LINE]))
            points.append(np.array([z[0, n], z[3, n], back[0, 0], back[3, -1]]))
        else:
            verbs.append(np.array([MOVE, CUBIC, LINE, *[CUBIC] * many]))
            points.append(np.concatenate((z[:, n], back[:1, 0], back[1:].T.ravel())))
    return _drawn(verbs, points)


def _drawn(verbs: list[Ints], points: list[Complexes]) -> Outline:
    if not verbs:
        return Outline.empty()
    flat = np.concatenate(points)
    return Outline(np.concatenate(verbs).astype(np.uint8), flat.view(np.float64).reshape(-1, 2))


def _straight(z: Complexes) -> NDArray[np.bool_]:
    """Which sides (4, S) are straight, their handles at thirds."""
    reach = 1e-9 * np.maximum(np.abs(z[3] - z[0]), 1e-300)
    return np.asarray(
        (np.abs(z[1] - (2 * z[0] + z[3]) / 3) <= reach) & (np.abs(z[2] - (z[0] + 2 * z[3]) / 3) <= reach)
    )


_AT = np.linspace(0.0, 1.0, 11)


def _parallels(z: Complexes, distance: float, tolerance: float) -> tuple[Complexes, Ints]:
    """The curves parallel to sides (4, S), each as a row of cubics (4, N), and the side of each (N,).

    The handles of a cubic lie along the side's own directions; how long they are is found by least squares,
    of what it is off across the curve. Where that is more than ``tolerance`` the side is halved (Tiller and
    Hanson, "Offsets of Two-Dimensional Profiles", 1984, halve likewise).
    """
    own, low, high = np.arange(z.shape[1]), np.zeros(z.shape[1]), np.ones(z.shape[1])
    done: list[tuple[Ints, Floats, Complexes]] = []
    for halving in range(_MOST_HALVINGS + 1):
        if not len(own):
            break
        part = _from_to(z[:, own], low, high)
        curve, off = _one_parallel(part, distance)
        good = (off <= tolerance) | (halving == _MOST_HALVINGS)
        done.append((own[good], low[good], curve[:, good]))
        own, low, high = own[~good], low[~good], high[~good]
        middle = (low + high) / 2
        own, low, high = (
            np.concatenate((own, own)),
            np.concatenate((low, middle)),
            np.concatenate((middle, high)),
        )
    sides = np.concatenate([row[0] for row in done])
    order = np.lexsort((np.concatenate([row[1] for row in done]), sides))
    return np.concatenate([row[2] for row in done], axis=1)[:, order], sides[order]


def _from_to(z: Complexes, start: Floats, end: Floats) -> Complexes:
    """Sides (4, S) each from one parameter to another."""
    s1, e1 = 1.0 - start, 1.0 - end
    at_s, at_e = s1 * z[:-1] + start * z[1:], e1 * z[:-1] + end * z[1:]
    ss, ee = s1 * at_s[:-1] + start * at_s[1:], e1 * at_e[:-1] + end * at_e[1:]
    se = e1 * at_s[:-1] + end * at_s[1:]
    return np.stack(
        (
            s1 * ss[0] + start * ss[1],
            e1 * ss[0] + end * ss[1],
            e1 * se[0] + end * se[1],
            e1 * ee[0] + end * ee[1],
        )
    )


def _one_parallel(z: Complexes, distance: float) -> tuple[Complexes, Floats]:
    """A cubic for each side (4, S) that runs along it at a distance, and by how much it is off."""
    first, last = _tangents(z)
    begin, end = z[0] - 1j * distance * first, z[3] - 1j * distance * last
    heading = _headings(z, _AT)
    across = -1j * heading
    aim = bezier.point(z[:, None], _AT[:, None]) + distance * across
    b0, b1, b2, b3 = (weight[:, None] for weight in bezier.bernstein(_AT))
    rest = aim - begin * (b0 + b1) - end * (b2 + b3)
    rows = []
    for axis, weight in ((across, 1.0), (heading, _ALONG)):
        rows.append(
            (weight * b1 * (first * axis.conj()).real, -weight * b2 * (last * axis.conj()).real,
             weight * (rest * axis.conj()).real)
        )  # fmt: skip
    p, q, r = (np.concatenate(column) for column in zip(*rows, strict=True))
    pp, qq, pq = (p * p).sum(axis=0), (q * q).sum(axis=0), (p * q).sum(axis=0)
    pr, qr = (p * r).sum(axis=0), (q * r).sum(axis=0)
    determinant = pp * qq - pq * pq
    sound = determinant > 1e-12 * pp * qq
    determinant = np.where(sound, determinant, 1.0)
    third = np.abs(end - begin) / 3
    one = np.where(sound, (pr * qq - qr * pq) / determinant, third)
    other = np.where(sound, (qr * pp - pr * pq) / determinant, third)
    curve = np.stack((begin, begin + one * first, end - other * last, end))
    apart = bezier.point(curve[:, None], _AT[:, None]) - aim
    return curve, np.abs((apart * across.conj()).real).max(axis=0)


_ALONG = 0.02
"""How much being off along the curve counts beside being off across it: just so that handles are never
unsaid."""


def _joins(z: Complexes, following: Ints, distance: float, corners: Corners) -> Outline:
    """What lies within the distance of the nodes between sides and the sides that follow them, where the edge
    turns away from the side it is moved to."""
    first, last = _tangents(z)
    return _sectors(z[3], last, first[following], distance, corners)


def _sectors(at: Complexes, into: Complexes, out: Complexes, distance: float, corners: Corners) -> Outline:
    turn = np.angle(out * into.conj())
    # On the other side of a bend the strips overlap. A spike opens to both: its sides may cross by a hair.
    opens = (turn * np.sign(distance) > 0) | (np.abs(turn) > np.pi - _SPIKE) | (np.abs(turn) < 1e-3)
    opens &= np.abs(turn) >= _SMOOTH
    verbs: list[Ints] = []
    points: list[Complexes] = []
    for n in np.flatnonzero(opens).tolist():
        p, angle = at[n], float(turn[n])
        arm, other = -1j * distance * into[n], -1j * distance * out[n]
        if abs(angle) < 1e-3:
            verbs.append(np.array([MOVE, LINE, LINE]))
            points.append(np.array([p, p + arm, p + other]))
        elif corners == "round":
            if angle * distance < 0:
                angle = np.copysign(2 * np.pi - abs(angle), distance)
            arc = bezier.arc(p, arm, angle)
            arc[-1][3] = p + other if abs(abs(turn[n]) - np.pi) > 1e-6 else arc[-1][3]
            verbs.append(np.array([MOVE, LINE, *[CUBIC] * len(arc)]))
            points.append(np.concatenate(([p, p + arm], *(a[1:] for a in arc))))
        else:
            reach = 1 / max(abs(np.cos(angle / 2)), 1e-12)
            tip = p + (arm + other) / abs(arm + other or 1) * abs(distance) * reach
            sharp = [tip] if reach <= MITRE_LIMIT else []
            verbs.append(np.array([MOVE, *[LINE] * (2 + len(sharp))]))
            points.append(np.array([p, p + arm, *sharp, p + other]))
    return _drawn(verbs, points)


Ends = Literal["round", "square", "pointed"]


def band(line: Outline, width: float, tolerance: float, ends: Ends = "round") -> Shape:
    """An open line, one contour that is not closed, as a band of a width: with round ends, square ones that
    end where the line does, or pointed ones that go half a width beyond."""
    tolerance = min(tolerance, 0.02 * width)
    z = _open_sides(line)
    if not z.shape[1]:
        return Shape.empty()
    half = width / 2
    first, last = _tangents(z)
    inner = np.arange(z.shape[1] - 1)
    drawn = []
    for side in (half, -half):
        drawn.append(_strips(z, side, tolerance, (inner, inner + 1)))
        drawn.append(_sectors(z[3, inner], last[inner], first[inner + 1], side, "round"))
    for at, way in ((z[0, 0], -first[0]), (z[3, -1], last[-1])):
        across = 1j * way * half
        if ends == "round":
            arc = bezier.arc(complex(at), complex(-across), np.pi)
            arc[-1][3] = at + across
            drawn.append(
                _drawn(
                    [np.array([MOVE, *[CUBIC] * len(arc)])],
                    [np.concatenate(([at - across], *(a[1:] for a in arc)))],
                )
            )
        elif ends == "pointed":
            drawn.append(
                _drawn(
                    [np.array([MOVE, LINE, LINE])], [np.array([at - across, at + half * way, at + across])]
                )
            )
    nothing = replace(Shape.empty(), tolerance=tolerance)
    return _combined(nothing, Outline.joined(drawn), lambda covered: covered)


def _open_sides(line: Outline) -> Complexes:
    """The sides (4, S) of an open line: its closing side is none of them."""
    sides = line.sides
    z = np.ascontiguousarray(sides.cubics).view(np.complex128)[..., 0].T
    closes = bool((line.points[0] != line.points[-1]).any())
    return z[:, : z.shape[1] - 1] if closes else z


def stroked(line: Floats, width: float, tolerance: float) -> Shape:
    """A line (N, 2) as a band of a width with round ends, drawn as a smooth curve through its points."""
    points = line[:, 0] + 1j * line[:, 1]
    if np.abs(points - points[0]).max() < 1e-9:
        points = np.array([points[0], points[0] + 1e-6])
    return band(through(points, max(tolerance, width * 0.04)), width, tolerance)


def through(points: Complexes, tolerance: float) -> Outline:
    """A smooth open line through points, true to a tolerance."""
    along = _fitted(points, tolerance)
    return Outline(
        np.array([MOVE, *[CUBIC] * len(along)], np.uint8),
        np.array([(z.real, z.imag) for z in (along[0][0], *(p for c in along for p in c[1:]))]),
    )


Cubic = tuple[complex, complex, complex, complex]


def _fitted(points: Complexes, tolerance: float) -> list[Cubic]:
    """A row of smooth curves through points, each within the tolerance of them."""

    def way(at: int) -> complex:
        step = max(1, min(3, len(points) // 4))
        low, high = max(0, at - step), min(len(points) - 1, at + step)
        return complex(points[high] - points[low])

    def between(first: int, last: int, depth: int) -> list[Cubic]:
        result = fit_cubic(points[first : last + 1], way(first), way(last))
        if result.error <= tolerance or last - first < 4 or depth > 5:
            return [result.curve]
        middle = (first + last) // 2
        return [*between(first, middle, depth + 1), *between(middle, last, depth + 1)]

    return between(0, len(points) - 1, 0)
