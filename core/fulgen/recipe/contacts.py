"""Contacts: where parts that are welded meet each other, as seams with a neck. In mm on the work."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import combinations, islice

import shapely

from fulgen.bounded import BoundedCache
from fulgen.geometry.erosion import eroded
from fulgen.geometry.outline import Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, overlay, polygonal
from fulgen.joining.seam import WIDEST_NECK, Seam, State
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.combination import standing_in
from fulgen.parts.frame_builder import BuiltFrame
from fulgen.recipe.evaluation import Evaluation
from fulgen.steps import key_of

MOST_CONTACTS = 120
"""No more are measured: each takes some milliseconds."""

_WITHIN = 0.97
"""What lies on another by this share of its area rests on it: it has no neck there."""

_DUST_MM2 = 1e-3


@dataclass(frozen=True)
class End:
    """One side of a contact: the part, the letter of it by its id where it is lettering, and in words."""

    part: str
    letter: int | None
    display_name: str


@dataclass(frozen=True, eq=False)
class Contact:
    """Where two parts meet: the ends, lettering first; the neck, the one asked for, what the two themselves
    give up to that, whether it is wider than is measured, how it holds, whether that is all that the two
    give, and the ends of the chord across it."""

    one: End
    other: End
    neck: float
    target: float
    given: float
    at_least: bool
    state: State
    as_lettering: bool
    ends: tuple[Point, Point]

    @property
    def left_text(self) -> str:
        return self.one.display_name

    @property
    def right_text(self) -> str:
        return self.other.display_name


@dataclass(frozen=True, eq=False)
class _Body:
    end: End
    region: Region
    key: str


def contacts(evaluation: Evaluation) -> list[Contact]:
    """Where the parts of a design meet, in their order."""
    asked = evaluation.recipe.limits.neck_mm
    meetings = (meeting for cluster in evaluation.clusters for meeting in _meetings(cluster.members, asked))
    return list(islice(_measured_at(meetings), MOST_CONTACTS))


def narrow_contacts(members: Sequence[PlacedPart], limit: float) -> Iterator[Contact]:
    """The contacts of parts at which no disc of a limit lies in both: only they may be too narrow."""
    narrow = (meeting for meeting in _meetings(members, limit) if meeting.is_narrow(limit))
    return _measured_at(islice(narrow, MOST_CONTACTS))


def _measured_at(meetings: Iterable[_Meeting]) -> Iterator[Contact]:
    return (contact for meeting in meetings if (contact := meeting.measured()) is not None)


def _neighbours(members: Sequence[PlacedPart]) -> Iterator[tuple[PlacedPart, PlacedPart]]:
    """Parts that may meet, lettering first."""
    standing = [(part, member) for member in members for part in standing_in(member)]
    for (one, whole), (other, other_whole) in combinations(standing, 2):
        # A name of another film lies in its frame and holds to nothing there.
        in_frame = whole is other_whole and isinstance(whole.built, BuiltFrame)
        if in_frame and one.film != other.film:
            continue
        if one.id != other.id and _boxes_meet(one, other):
            is_second = isinstance(other.built, BuiltLettering) and not isinstance(one.built, BuiltLettering)
            yield (other, one) if is_second else (one, other)


def _boxes_meet(one: PlacedPart, other: PlacedPart) -> bool:
    a, b = one.box, other.box
    return a[0] <= b[2] and a[2] >= b[0] and a[1] <= b[3] and a[3] >= b[1]


@dataclass(frozen=True, eq=False)
class _Meeting:
    """Two bodies that meet, the size that they are measured in, and the neck that is asked for, in mm."""

    one: _Body
    other: _Body
    size: float
    target: float

    def is_narrow(self, limit: float) -> bool:
        """Whether no disc of a limit lies in what both cover."""
        shared = overlay(shapely.intersection, self.one.region, self.other.region)
        return not len(eroded(shared, limit))

    def measured(self) -> Contact | None:
        key = key_of((self.one.key, self.other.key, self.size, self.target))
        return _contacts.get(key, partial(_measured, self.one, self.other, self.size, self.target))


def _meetings(members: Sequence[PlacedPart], asked_mm: float) -> Iterator[_Meeting]:
    """Where parts that are welded together meet; what is asked of those that ask for nothing themselves."""
    for one, other in _neighbours(members):
        built, target = one.built, asked_mm
        if isinstance(built, BuiltLettering):
            target = built.lettering.join.neck_mm * one.place.scale
        left, right = _bodies(one), _bodies(other)
        tree = shapely.STRtree([body.region for body in right])
        for body in left:
            for n in sorted(tree.query(body.region, predicate="intersects").tolist()):
                yield _Meeting(body, right[n], one.size, target)


def _bodies(part: PlacedPart) -> Sequence[_Body]:
    """What of a part meets others: its letters one by one, or its pieces."""
    built = part.built
    if not isinstance(built, BuiltLettering):
        pieces = shapely.get_parts(shapely.union_all([shape.region for shape in part.everything]))
        end = End(part.id, None, built.names_at(0.0, 0.0)[0].removeprefix("the "))
        return [_Body(end, polygonal(piece), f"{part.step_key} {n}") for n, piece in enumerate(pieces)]
    return [
        _Body(
            End(part.id, built.id_of(letter), letter.text),
            part.place.region(letter.place.region(letter.form.region)),
            f"{part.step_key} {built.id_of(letter)}",
        )
        for letter in built.own_letters
    ]


def _measured(one: _Body, other: _Body, size: float, target: float) -> Contact | None:
    shared = shapely.intersection(one.region, other.region).area
    smaller = min(one.region.area, other.region.area)
    if shared < _DUST_MM2 or shared > _WITHIN * smaller:
        return None
    in_shares = Placement(scale=1 / size)
    seam = Seam(in_shares.region(one.region), in_shares.region(other.region))
    state = seam.state(target / size)
    neck, given = seam.neck * size, seam.gives(target / size) * size
    (x0, y0), (x1, y1) = seam.ends
    return Contact(
        one.end,
        other.end,
        neck,
        target,
        given,
        seam.neck >= WIDEST_NECK,
        state,
        state is State.JOINED and neck < target - 1e-3 * size and given < 0.99 * target,
        ((x0 * size, y0 * size), (x1 * size, y1 * size)),
    )


_contacts: BoundedCache[str, Contact | None] = BoundedCache(4 * 2**20)
