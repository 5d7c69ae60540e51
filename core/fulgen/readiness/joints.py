"""Joints: where two letters or parts hold together, measured and judged once, for every stage.

A seam is measured by itself, as it is joined; what is cut is looked at as a whole, with all that was laid on
it. The joint is as wide as the narrower of the two, and is judged by what the material holds and by what was
asked for. Join, Check, the report and the files all tell it so.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import shapely

from fulgen.geometry.erosion import WIDTH_TOLERANCE, is_below_limit
from fulgen.geometry.outline import Point
from fulgen.geometry.thin import least_across, width_across
from fulgen.joining.materials import Limits
from fulgen.joining.seam import State
from fulgen.parts.combination import standing_in
from fulgen.parts.seams import PlacedSeam, is_as_lettering, limit_of
from fulgen.parts.weak_places import weak_places
from fulgen.recipe.contacts import Contact, contacts
from fulgen.recipe.evaluation import Cluster, Evaluation

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
class Judgement:
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
    judgement: Judgement

    @property
    def part(self) -> str:
        """The part that it is reported with."""
        return _part_of(self.of)


def _part_of(joint: PlacedSeam | Contact) -> str:
    return joint.built.lettering.id if isinstance(joint, PlacedSeam) else joint.one.part


def joints(evaluation: Evaluation) -> tuple[Joint, ...]:
    """Every joint of a design: the seams of its letterings in reading order, and the contacts of its
    parts."""
    limits = evaluation.recipe.limits
    mended = {touch_up.at.part for touch_up in evaluation.recipe.touch_ups}
    where: dict[str, tuple[Cluster | None, bool]] = {}
    for cluster in evaluation.clusters:
        parts = [part for member in cluster.members for part in standing_in(member)]
        by_hand = cluster.as_welded is not None or any(
            part.id in mended or part.built.is_smoothed for part in (*cluster.members, *parts)
        )
        where |= {part.id: (cluster, by_hand) for part in parts}
    every: list[PlacedSeam | Contact] = [*evaluation.seams, *contacts(evaluation)]
    found = []
    for of in every:
        found.append(Joint(of, _judged(of, *where.get(_part_of(of), _NOWHERE), limits)))
    return tuple(found)


_NOWHERE: tuple[Cluster | None, bool] = (None, False)
"""Letters that are cut out are in no cluster, nor is what could not be welded."""


def _judged(of: PlacedSeam | Contact, cluster: Cluster | None, mended: bool, limits: Limits) -> Judgement:
    neck = of.neck
    if cluster is None:
        # Letters that are cut out, or could not be welded, hold nothing: nothing is asked of them.
        holding = _holding(of.state, neck, 0.0, 0.0, as_lettering=False)
        return Judgement(holding, neck, 0.0, 0.0, of.ends, (of.left_text, of.right_text))
    if of.state not in (State.GAP, State.TOUCHING):
        chord, reach = shapely.LineString(of.ends), AT_JOINT * limits.neck_mm
        near = [
            weak.width
            for weak, _ in weak_places(cluster.shape, limits)
            if shapely.dwithin(chord, weak.place, reach)
        ]
        if near:
            neck = min(near) if mended else min(neck, *near)
        elif isinstance(of, PlacedSeam) and of.smoothing:
            neck = max(neck, least_across(cluster.shape.region, of.ends, of.smoothing))
        elif mended and is_below_limit(neck, limits.neck_mm):
            neck = max(neck, width_across(cluster.shape.region, of.ends, limits.neck_mm))
    as_lettering = is_as_lettering(of, neck)
    limit = limit_of(as_lettering, limits)
    holding = _holding(of.state, neck, of.target, limit, as_lettering)
    return Judgement(holding, neck, of.target, limit, of.ends, (of.left_text, of.right_text))


def _holding(state: State, neck: float, asked: float, limit: float, as_lettering: bool) -> Holding:
    if state is State.GAP:
        return Holding.GAP
    if state is State.TOUCHING:
        return Holding.TOUCHING
    if is_below_limit(neck, limit):
        return Holding.WEAK
    if as_lettering:
        return Holding.LETTERING
    return (
        Holding.JOINED
        if not asked or (state is State.JOINED and neck >= WIDTH_TOLERANCE * asked)
        else Holding.NARROW
    )
