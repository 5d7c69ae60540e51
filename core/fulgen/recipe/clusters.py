"""Parts of one film made into outlines: bridges drawn, what meets welded, touched up, and made ready.

Each weld is kept under the parts that meet in it and where they lie, each touch-up under what it was done to.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import chain

import numpy as np

from fulgen.bounded import BoundedCache
from fulgen.geometry.erosion import is_below_limit
from fulgen.geometry.groups import Groups
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import clean, geos_errors_as_problems
from fulgen.joining.bars import Bar, bar_shape, neck_at
from fulgen.joining.materials import Limits
from fulgen.joining.seam import State
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.combination import standing_in
from fulgen.parts.ready import LeftSpot, Ready, ReadyRequest, ReadyResult, WeakJoint, make_ready
from fulgen.parts.seams import PlacedSeam, is_as_lettering, limit_of
from fulgen.parts.touchups import NEAR, spot_of, touched_up
from fulgen.parts.welding import welded
from fulgen.problem import Problem
from fulgen.recipe.contacts import Contact, narrow_contacts
from fulgen.recipe.evaluation import Bridge, Cluster
from fulgen.recipe.model import Recipe
from fulgen.recipe.tree import Tree
from fulgen.steps import Step, key_of


def bridges_of(recipe: Recipe, built: dict[str, PlacedPart]) -> tuple[Bridge, ...]:
    """The bridges laid by hand, where what they hold to is now."""
    found = []
    within = {
        (part_id, laid.bar): laid
        for part_id, placed in built.items()
        if isinstance(placed.built, BuiltLettering)
        for laid in placed.built.laid
    }
    for number, bar in enumerate(recipe.bars):
        start, end = built.get(bar.start.part), built.get(bar.end.part)
        gone = Bridge(number, bar, Shape.empty(), None, (0.0, 0.0))
        if start is None or end is None:
            found.append(gone)
        elif start is end:
            laid = within.get((start.id, bar))
            if laid is None or laid.ends is None:
                found.append(gone)
                continue
            on = Placement(scale=start.built.size).within(start.place)
            necks = (laid.necks[0] * start.place.scale, laid.necks[1] * start.place.scale)
            ends = on.point(*laid.ends[0]), on.point(*laid.ends[1])
            found.append(Bridge(number, bar, on.shape(laid.shape), ends, necks))
        else:
            found.append(_between(number, bar, start, end) or gone)
    return tuple(found)


def _between(number: int, bar: Bar, start: PlacedPart, end: PlacedPart) -> Bridge | None:
    """A bridge from one part to another."""
    one, other = start.find(bar.start), end.find(bar.end)
    held, held_too = start.built.region_at(bar.start), end.built.region_at(bar.end)
    if one is None or other is None or held is None or held_too is None:
        return None
    size = start.size
    drawn = bar_shape(
        (one[0] / size, one[1] / size), (other[0] / size, other[1] / size), bar.width_mm / size, bar.bulge
    )
    shape = clean(drawn.outline.placed(0.0, 0.0, size), FLATNESS_MM)
    in_shares = Placement(scale=1 / size)
    necks = [
        size * neck_at(in_shares.region(part.place.region(region)), in_shares.region(shape.region))
        for part, region in ((start, held), (end, held_too))
    ]
    return Bridge(number, bar, shape, (one, other), (necks[0], necks[1]))


def by_film(parts: Sequence[PlacedPart]) -> dict[str, list[PlacedPart]]:
    """The films, each where its foremost part is, and what is cut from them."""
    films: dict[str, list[PlacedPart]] = {}
    for part in (part for part in parts if part.use == "cut"):
        for layer in part.in_films:
            films[layer.film] = [*films.pop(layer.film, []), layer]
    return films


def clustered(
    members: Sequence[PlacedPart], bridges: Sequence[Bridge], tree: Tree
) -> Iterator[tuple[tuple[PlacedPart, ...], tuple[Bridge, ...]]]:
    """Parts of one film whose boxes meet, and the bridges from one of them to another. A bridge to a part of
    another film is cut with the part it starts from."""
    ids = {part.id: n for n, part in reversed(list(enumerate(members)))}
    between = [b for b in bridges if b.ends and len(b.bar.parts) > 1 and tree.top(b.bar.start.part) in ids]
    x0, y0, x1, y1 = np.array([part.weld_box for part in members]).T
    meets = (x0[:, None] <= x1) & (x1[:, None] >= x0) & (y0[:, None] <= y1) & (y1[:, None] >= y0)
    apart = np.array([part.built.apart for part in members])
    meets &= ~apart[:, None] & ~apart
    groups = Groups(len(members), np.argwhere(np.triu(meets, 1)).tolist())
    for bridge in between:
        start, end = (tree.top(place.part) for place in (bridge.bar.start, bridge.bar.end))
        groups.join(ids[start], ids.get(end, ids[start]))
    for group in groups.all():
        own = set(group)
        yield (
            tuple(members[n] for n in sorted(group)),
            tuple(b for b in between if ids[tree.top(b.bar.start.part)] in own),
        )


def weld_cluster(
    members: tuple[PlacedPart, ...], between: tuple[Bridge, ...], recipe: Recipe, tree: Tree
) -> Cluster | Problem:
    """The outline of a cluster: welded, holes filled, notches rounded, touched up, and made ready, in this
    order."""
    welding = _Welding(members, tuple(bridge.shape for bridge in between))
    key = key_of(welding)
    shape = _welds.result_or_problem(welding, key)
    if isinstance(shape, Problem):
        return shape
    by_id = {member.id: member for member in members}
    lost: list[int] = []
    for number, touch_up in enumerate(recipe.touch_ups):
        member = by_id.get(tree.top(touch_up.at.part))
        if member is None:
            continue
        spot = spot_of(touch_up, member)
        if spot is None:
            lost.append(number)
            continue
        next_key = key_of((key, touch_up, spot))
        changed = _touched.get(next_key, partial(touched_up, shape, touch_up, spot))
        if changed is None:
            lost.append(number)
        else:
            shape, key = changed, next_key
    if recipe.ready is None:
        return Cluster(members, shape, tuple(lost), key)
    limits = recipe.limits
    joints = _weak_joints.get(key_of((welding.members, limits)), partial(_joints_below, members, limits))
    asked = ReadyRequest(
        shape, key, limits, joints, recipe.ready.kinds_left, _spots_left(recipe.ready, by_id, tree)
    )
    ready = _readied(asked)
    return Cluster(members, ready.shape, tuple(lost), key_of(asked), ready.mends, shape)


def _joints_below(members: Sequence[PlacedPart], limits: Limits) -> tuple[WeakJoint, ...]:
    """The seams of letterings, and the contacts of parts, that are weak by themselves."""
    seams = (
        PlacedSeam(part.built, line_seam, part.place)
        for member in members
        for part in standing_in(member)
        if isinstance(part.built, BuiltLettering)
        for line_seam in part.built.joined.seams
    )
    joints: Iterator[PlacedSeam | Contact] = chain(seams, narrow_contacts(members, limits.neck_mm))
    found = []
    for joint in joints:
        if joint.state not in (State.GAP, State.TOUCHING) and is_below_limit(joint.neck, limits.neck_mm):
            limit = limit_of(is_as_lettering(joint, joint.neck), limits)
            if is_below_limit(joint.neck, limit):
                found.append(WeakJoint(joint.ends, limit))
    return tuple(found)


def _spots_left(ready: Ready, members: Mapping[str, PlacedPart], tree: Tree) -> tuple[LeftSpot, ...]:
    """The places on some parts that are left as they are."""
    spots = []
    for left in ready.places_left:
        member = members.get(tree.top(left.at.part))
        at = member.find(left.at) if member else None
        if member and at:
            spots.append(LeftSpot(left.kind, at, NEAR * member.size))
    return tuple(spots)


@dataclass(frozen=True)
class _Welding:
    """All that a weld is made of: parts where they lie, and the bridges between them."""

    members: tuple[PlacedPart, ...]
    bridges: tuple[Shape, ...]


def _weld(given: _Welding) -> Shape:
    with geos_errors_as_problems():
        return welded(given.members, given.bridges)


def _make_ready(given: ReadyRequest) -> ReadyResult:
    with geos_errors_as_problems():
        return make_ready(given)


_welds: Step[_Welding, Shape] = Step(_weld, 48 * 2**20)
_touched: BoundedCache[str, Shape | None] = BoundedCache(48 * 2**20)
_weak_joints: BoundedCache[str, tuple[WeakJoint, ...]] = BoundedCache(4 * 2**20)
_readied: Step[ReadyRequest, ReadyResult] = Step(_make_ready, 24 * 2**20)
