"""Bars laid over a whole design: bridges by hand, ties of what is loose, and underlines.

All in shares of the size, y down.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from fulgen.budget import check
from fulgen.frozen import STRICT
from fulgen.geometry.groups import Groups
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Outline, Point
from fulgen.geometry.polygons import Region, holes_of, polygonal
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.joining.anchors import Anchor
from fulgen.joining.flow import Flows, flow_cost
from fulgen.joining.seam import TOUCH, Seam
from fulgen.joining.strength import Body, held_together
from fulgen.joining.stroke_extensions import best_bridge
from fulgen.joining.webs import webs_across
from fulgen.lettering.faces import LETTER_FLATNESS


@dataclass(frozen=True)
class Bar:
    """A bridge laid by hand, from one anchor to another. bulge bends it: how far its middle stands off, as
    a share of its length, to the right of its way."""

    __pydantic_config__ = STRICT

    start: Anchor
    end: Anchor
    width_mm: Annotated[float, Field(strict=True, ge=0.1, le=100.0)] = 1.5
    bulge: Annotated[float, Field(strict=True, ge=-1.0, le=1.0)] = 0.0

    @property
    def parts(self) -> frozenset[str]:
        """The parts it holds to."""
        return frozenset((self.start.part, self.end.part))


@dataclass(frozen=True)
class Underline:
    """A bar or swash under each line, through all its words: how thick it is, how far it reaches up over the
    baseline, and how far it goes on beyond the letters at each end."""

    __pydantic_config__ = STRICT

    style: Literal["bar", "swash"] = "bar"
    thick_mm: Annotated[float, Field(strict=True, ge=0.2, le=200.0)] = 3.0
    over_mm: Annotated[float, Field(strict=True, ge=-200.0, le=200.0)] = 1.5
    beyond_mm: Annotated[float, Field(strict=True, ge=-500.0, le=500.0)] = 2.0


_AROUND = 0.09
"""How far around a point the stroke is looked for whose middle a bar's end snaps to. (†)"""

MOST_TIES = 60
"""No more bridges than this are laid at once: what is in more pieces is no word."""


def snapped(letter: Region, point: Point) -> Point:
    """The middle of the stroke of a letter that is nearest to a point: there a bar's end is buried."""
    at = shapely.Point(point)
    if not shapely.intersects(letter, at):
        on_edge = shapely.get_coordinates(shapely.shortest_line(letter, at))[0]
        at = shapely.Point(on_edge)
    near = polygonal(shapely.intersection(letter, shapely.buffer(at, _AROUND)))
    parts = shapely.get_parts(near)
    parts = parts[shapely.area(parts) > 1e-8]
    if not len(parts):
        return float(at.x), float(at.y)
    part = parts[int(shapely.distance(parts, at).argmin())]
    x, y = shapely.get_coordinates(shapely.maximum_inscribed_circle(part, tolerance=1e-3))[0].tolist()
    return x, y


def bar_shape(start: Point, end: Point, width: float, bulge: float = 0.0) -> Shape:
    """A bar from a point to another; with a bulge its middle stands off to the right of its way by that
    share of its length, and both sides are curves."""
    a, b = complex(*start), complex(*end)
    way = b - a
    if abs(way) < 1e-6:
        way = 1e-6 + 0j
    across = way / abs(way) * 1j * width / 2
    if bulge == 0.0:
        corners = [a - across, b - across, b + across, a + across]
        outline = Outline.polygon([(z.real, z.imag) for z in corners])
    else:
        # A parabola through the middle: its handles stand off by 4/3 of the bulge.
        off = way * 1j * bulge * 4 / 3
        out, back = way / 3 + off, way / 3 - off
        left, right = 1j * out / abs(out) * width / 2, 1j * back / abs(back) * width / 2
        # Each side starts across from the parabola's end, runs its way, and stands off by half the width
        # in the middle: of a cubic, that is met by handles longer or shorter by 2/3 w tan(half the angle).
        lean = math.atan2(4 / 3 * bulge, 1 / 3)
        more = width * 2 / 3 * math.tan(lean / 2)
        one, other = (max(0.0, 1 - more / abs(out)), max(0.0, 1 + more / abs(out)))
        z = np.array(
            [
                a - left,
                a - left + out * one,
                b - right - back * one,
                b - right,
                b + right,
                b + right - back * other,
                a + left + out * other,
                a + left,
            ]
        )
        verbs = np.array([MOVE, CUBIC, LINE, CUBIC], np.uint8)
        outline = Outline(verbs, np.stack([z.real, z.imag], axis=1))
    return clean(outline, LETTER_FLATNESS)


def neck_at(letter: Region, bar: Region) -> float:
    """The neck by which a bar hangs on a letter; 0 where it does not reach it."""
    return Seam(letter, bar).neck


@dataclass(frozen=True, eq=False)
class Tie:
    """A bridge that ties two loose areas: its shape, and the letters at its ends by their index."""

    shape: Shape
    ends: tuple[int, int]
    length: float


def ties(
    letters: Sequence[Region],
    others: Sequence[Region],
    neck: float,
    allowed: Callable[[int, int], bool],
) -> list[Tie] | None:
    """The shortest good bridges that make one piece of letters and what else there is: a least spanning
    tree over the loose areas (Kruskal's way: shortest first, none that ties what is tied).

    ``allowed`` says of two letters, by index, whether a bridge may be laid between them. None where it is in
    more pieces than MOST_TIES.
    """
    whole = polygonal(shapely.union_all([*letters, *others]))
    areas = shapely.get_parts(whole)
    areas = areas[shapely.area(areas) > 1e-6]
    count = len(areas)
    if count > MOST_TIES:
        return None
    one, other = np.triu_indices(count, 1)
    distances = shapely.distance(areas[one], areas[other])
    groups = Groups(count)
    found: list[Tie] = []
    for pair in np.argsort(distances, kind="stable").tolist():
        a, b = int(one[pair]), int(other[pair])
        if groups.together(a, b):
            continue
        check()
        left, right = polygonal(areas[a]), polygonal(areas[b])
        one_end, other_end = shapely.get_coordinates(shapely.shortest_line(left, right))
        nearest = _nearest(letters, one_end), _nearest(letters, other_end)
        if not allowed(*nearest):
            continue
        shape = clean(_tie(left, right, neck), LETTER_FLATNESS)
        found.append(Tie(shape, nearest, float(distances[pair])))
        groups.join(a, b)
    return found


def _tie(left: Region, right: Region, neck: float) -> Outline:
    """What ties two areas best: a stroke carried on from the one into the other, a web where they are near,
    or a straight bar."""
    one, other = Body(left), Body(right)
    held = 0.95 * min(neck, one.gives(neck), other.gives(neck))
    flows = [*Flows(one, other, held, True).at(0.0), *Flows(other, one, held, False).at(0.0)]
    drawn = [(flow.flow.outline, flow.flow.region) for flow in sorted(flows, key=flow_cost)[:2]]
    webs = webs_across(one, other)
    web = webs.at(0.0, neck) if webs is not None else None
    if web is not None:
        near = float(shapely.distance(left, right)) < _NEAR_ENOUGH
        drawn.insert(0 if near else len(drawn), (web.outline, web.region))
    holes = len(holes_of(left)) + len(holes_of(right))
    for outline, region in drawn:
        whole = polygonal(shapely.union_all([left, right, region]))
        if held_together(whole, one, other, held) and len(holes_of(whole)) == holes:
            return outline
    bar = best_bridge(one, other, neck)
    if bar is not None and Seam(left, right, bar.region, (one, other)).neck > TOUCH:
        return bar.outline
    return Outline.polygon(_straight(left, right, neck))


_NEAR_ENOUGH = 0.08
"""Areas nearer than this are tied by a web, those further apart by a stroke. (†)"""


def _nearest(letters: Sequence[Region], at: Floats) -> int:
    return int(shapely.distance(np.array(letters, dtype=object), shapely.Point(at)).argmin())


def _straight(left: Region, right: Region, width: float) -> Floats:
    """A bar straight across from the middle of one stroke to the middle of the other, however far."""
    line = shapely.get_coordinates(shapely.shortest_line(left, right))
    start = np.array(snapped(left, (line[0][0], line[0][1])))
    end = np.array(snapped(right, (line[1][0], line[1][1])))
    way = end - start
    across = np.array([-way[1], way[0]]) / (math.hypot(*way) or 1.0) * width / 2
    return np.array([start - across, end - across, end + across, start + across])


def underline(
    left: float, right: float, baseline: float, thick: float, over: float, style: Literal["bar", "swash"]
) -> Shape:
    """A bar or swash below a line of letters, from left to right: ``thick`` high, reaching ``over`` above
    the baseline. A swash swings, and runs out at both ends to two fifths of its thickness."""
    top = baseline - over
    bottom = top + thick
    if style == "bar":
        outline = Outline.polygon([(left, top), (right, top), (right, bottom), (left, bottom)])
    else:
        width, swing = right - left, 0.6 * thick
        thin = 0.4 * thick
        outline = Outline(
            np.array([MOVE, CUBIC, LINE, CUBIC], np.uint8),
            np.array([
                (left, top + swing), (left + 0.3 * width, top - 0.4 * swing),
                (left + 0.7 * width, top + 0.4 * swing), (right, top - swing),
                (right, top - swing + thin), (left + 0.7 * width, bottom + 0.6 * swing),
                (left + 0.3 * width, bottom), (left, top + swing + thin),
            ]),
        )  # fmt: skip
    return clean(outline, LETTER_FLATNESS)
