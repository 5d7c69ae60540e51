"""Joints: where two letters or parts hold together, measured and judged once, for every stage.

A seam is measured by itself, as it is joined; what is cut is looked at as a whole, with all that was laid on
it. The joint is as wide as the narrower of the two, and is judged by what the material holds and by what was
asked for. Join, Check, the report and the files all tell it so.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import shapely

from fulgen.geometry.outline import Point
from fulgen.geometry.polygons import Region
from fulgen.geometry.wear import AS_WIDE, is_under
from fulgen.joining.materials import Limits
from fulgen.joining.seam import AS_GIVEN, State
from fulgen.parts.combination import standing_in
from fulgen.parts.seams import PlacedSeam
from fulgen.parts.weak import weak_places
from fulgen.recipe.contacts import Contact, contacts
from fulgen.recipe.evaluate import Cluster, Evaluation

AT_JOINT = 0.5
"""A weak place this near to the chord across a joint, in shares of the limit, is that of the joint."""


class Holding(StrEnum):
    """How two neighbours hold together: apart, only touching, narrower than the material holds, narrower
    than was asked for, as strong as the letters themselves, or as asked."""

    GAP = "gap"
    TOUCHING = "touching"
    WEAK = "weak"
    NARROW = "narrow"
    LETTERING = "lettering"
    JOINED = "joined"


@dataclass(frozen=True)
class Judged:
    """How a joint holds, as a plain value: how wide it is, what was asked for, the limit that it is held
    against (all in mm), the ends of the chord across it on the work, and what it is between, in words."""

    holding: Holding
    neck: float
    asked: float
    limit: float
    ends: tuple[Point, Point]
    between: tuple[str, str]


@dataclass(frozen=True, eq=False)
class Joint:
    """A seam between letters, or a contact of parts, and how it is judged."""

    of: PlacedSeam | Contact
    judged: Judged

    @property
    def part(self) -> str:
        """The part that it is told of."""
        return _part_of(self.of)


def _part_of(joint: PlacedSeam | Contact) -> str:
    return joint.made.lettering.id if isinstance(joint, PlacedSeam) else joint.one.part


def joints(evaluation: Evaluation) -> tuple[Joint, ...]:
    """Every joint of a design: the seams of its letterings in reading order, and the contacts of its
    parts."""
    limits = evaluation.recipe.limits
    mended = {touch_up.at.part for touch_up in evaluation.recipe.touch_ups}
    where: dict[str, tuple[Cluster | None, bool]] = {}
    for cluster in evaluation.clusters:
        parts = [part for member in cluster.members for part in standing_in(member)]
        by_hand = bool(cluster.mends) or any(
            part.id in mended or part.made.smooth_mm for part in (*cluster.members, *parts)
        )
        where |= {part.id: (cluster, by_hand) for part in parts}
    every: list[PlacedSeam | Contact] = [*evaluation.seams, *contacts(evaluation)]
    found = []
    for of in every:
        found.append(Joint(of, _judged(of, *where.get(_part_of(of), _NOWHERE), limits)))
    return tuple(found)


_NOWHERE: tuple[Cluster | None, bool] = (None, False)
"""Letters that are cut out are in no cluster, nor is what could not be welded."""


def _judged(of: PlacedSeam | Contact, cluster: Cluster | None, mended: bool, limits: Limits) -> Judged:
    neck = of.neck
    if cluster is None:
        # Letters that are cut out, or could not be welded, hold nothing: nothing is asked of them.
        holding = _holding(of.state, neck, 0.0, 0.0, as_lettering=False)
        return Judged(holding, neck, 0.0, 0.0, of.ends, (of.left_text, of.right_text))
    if of.state not in (State.GAP, State.TOUCHING):
        chord, reach = shapely.LineString(of.ends), AT_JOINT * limits.neck_mm
        near = [
            weak.width
            for weak, _ in weak_places(cluster.shape, limits)
            if shapely.dwithin(chord, weak.place, reach)
        ]
        if near:
            neck = min(near) if mended else min(neck, *near)
        elif mended and is_under(neck, limits.neck_mm):
            neck = max(neck, _across(cluster.shape.region, of.ends, limits.neck_mm))
    as_lettering = of.as_lettering and neck >= AS_GIVEN * of.given
    # Where the letters give no more, it is a stroke as they are.
    limit = min(limits.neck_mm, limits.stroke_mm) if as_lettering else limits.neck_mm
    holding = _holding(of.state, neck, of.target, limit, as_lettering)
    return Judged(holding, neck, of.target, limit, of.ends, (of.left_text, of.right_text))


def _across(region: Region, ends: tuple[Point, Point], reach: float) -> float:
    """How far it is from edge to edge along the chord across a joint that was made wider by hand or by rule;
    the least way across, where no chord is known."""
    (x0, y0), (x1, y1) = ends
    along = np.arctan2(y1 - y0, x1 - x0)
    known = math.hypot(x1 - x0, y1 - y0) > 1e-9
    ways = np.array([along]) if known else np.linspace(0, np.pi, _WAYS, endpoint=False)
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    arms = np.stack([np.cos(ways), np.sin(ways)], axis=1) * (reach + math.hypot(x1 - x0, y1 - y0) / 2)
    lines = shapely.linestrings(np.stack([middle - arms, middle + arms], axis=1))
    parts, of = shapely.get_parts(shapely.intersection(lines, region), return_index=True)
    here = shapely.dwithin(parts, shapely.Point(middle), 1e-6)
    lengths = np.zeros(len(ways))
    np.maximum.at(lengths, of[here], shapely.length(parts[here]))
    return float(lengths.min())


_WAYS = 18


def _holding(state: State, neck: float, asked: float, limit: float, as_lettering: bool) -> Holding:
    if state is State.GAP:
        return Holding.GAP
    if state is State.TOUCHING:
        return Holding.TOUCHING
    if is_under(neck, limit):
        return Holding.WEAK
    if as_lettering:
        return Holding.LETTERING
    return (
        Holding.JOINED if not asked or (state is State.JOINED and neck >= AS_WIDE * asked) else Holding.NARROW
    )
