"""Combinations: parts made into one by an operation, each still what it is.

The members lie in the frame of the combination and are not on the work by themselves. The first of them is
the ground: what is cut out of, kept clear, or welded to. In an operation the film of a member does not
matter, but where a combination is divided, or names stand in a halo. Members that are not cut have no share
in it: they lie on what it comes to."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from fulgen.frozen import STRICT, WHOLE, Flag
from fulgen.geometry import measure
from fulgen.geometry.flatten import flatten
from fulgen.geometry.offset import offset
from fulgen.geometry.operations import divided, filled, intersect, subtract, without_small
from fulgen.geometry.outline import Outline, Point
from fulgen.geometry.pieces import pieces
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import clean, weld
from fulgen.joining.anchors import Anchor, PartId
from fulgen.parts.built_part import Layer, PlacedPart
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.kind import Surroundings
from fulgen.parts.part import KIND_IS_REQUIRED, FilmColour, Part, Use
from fulgen.parts.welding import body_of, marks_of
from fulgen.problem import Problem

Operation = Literal["weld", "cut", "overlap", "divide", "halo", "edges"]
"""All welded; the others cut out of the ground; what all of them cover; every region by itself; the ground
cleared around the others; the others welded to chosen edges of the ground."""

MAX_MEMBERS = 60


@dataclass(frozen=True)
class Halo:
    """How the ground is kept clear around the others: by what distance, and whether they *stand* in the clear
    or are cut *through* a solid backing that is welded to the ground. Islands that would be left inside their
    counters go unless they are kept."""

    __pydantic_config__ = STRICT

    mm: Annotated[float, Field(strict=True, ge=0.1, le=100.0)] = 2.5
    manner: Literal["stand", "through"] = "stand"
    islands: Flag = False


class Combination(Part):
    """Parts made into one. Crumbs that a disc of ``least_mm`` does not fit into are left out. edges are
    contours of the ground by their numbers, where they are what is welded to; films says of regions of a
    division, by what covers them, which film they are cut from, or none."""

    model_config = KIND_IS_REQUIRED

    kind: Literal["combination"] = "combination"
    how: Operation = "weld"
    members: tuple[PartId, ...] = Field(min_length=1, max_length=MAX_MEMBERS)
    halo: Halo = Halo()
    least_mm: Annotated[float, Field(strict=True, ge=0.0, le=50.0)] = 0.3
    edges: tuple[Annotated[int, Field(ge=0, le=100_000), WHOLE], ...] = Field((), max_length=60)
    films: dict[Annotated[str, Field(min_length=1, max_length=600)], FilmColour | Literal["none"]] = Field(
        default_factory=dict, max_length=400
    )

    @property
    def contains(self) -> tuple[str, ...]:
        return self.members

    @property
    def needs(self) -> tuple[str, ...]:
        return self.members

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or _SAYS[self.how]


_SAYS: dict[Operation, str] = {
    "weld": "welded parts",
    "cut": "cut-out",
    "overlap": "overlap",
    "divide": "division",
    "halo": "parts with a halo",
    "edges": "parts welded to edges",
}


@dataclass(frozen=True, eq=False)
class Division:
    """A region of a division: what tells it, the members that cover it, its shape, and its film."""

    key: str
    covers: tuple[str, ...]
    shape: Shape
    film: str | None


@dataclass(frozen=True, eq=False)
class BuiltCombination(BuiltSolid):
    """What a combination comes to, with its members where they lie in it: they answer for places on it. Those
    that are ``standing`` are in it with all of their edges, or welded to it."""

    members: Mapping[str, PlacedPart] = field(default_factory=dict)
    standing: tuple[str, ...] = ()
    divisions: tuple[Division, ...] = ()

    @property
    def others(self) -> Sequence[Layer]:
        if not self.divisions:
            return super().others
        regions = ((division.film, division.shape) for division in self.divisions)
        return [Layer(film, [(shape, Placement())], apart=True) for film, shape in regions if film]

    def stood(self, part: PlacedPart) -> Iterator[PlacedPart]:
        """The parts whose edges are those of what it comes to, where it lies as ``part``."""
        for member in (self.members[member_id] for member_id in self.standing):
            yield from standing_in(member.under(part.place, f"{part.key} {member.key}"))

    @cached_property
    def _inner(self) -> list[tuple[PlacedPart, BuiltCombination]]:
        found = ((placed, placed.built) for placed in self.members.values())
        return [(placed, built) for placed, built in found if isinstance(built, BuiltCombination)]

    def find(self, anchor: Anchor) -> Point | None:
        if anchor.part == self.part_id:
            return super().find(anchor)
        if anchor.part in self.members:
            return self.members[anchor.part].find(anchor)
        for placed, built in self._inner:
            at = built.find(anchor)
            if at is not None:
                return placed.place.point(*at)
        return None

    def anchor(self, x: float, y: float) -> Anchor:
        member = self.nearest(x, y)
        return member.anchor(x, y) if member else super().anchor(x, y)

    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        member = self.nearest(x, y)
        return member.names_at(x, y) if member else super().names_at(x, y)

    def nearest(self, x: float, y: float) -> PlacedPart | None:
        """The member nearest to a place, of several there the last; None where there is none."""
        at = shapely.Point(x, y)
        members = list(self.members.values())
        if not members:
            return None
        far = [
            min((float(shapely.distance(s.region, at)) for s in m.everything), default=1e9) for m in members
        ]
        return members[len(far) - 1 - int(np.argmin(far[::-1]))]


def standing_in(part: PlacedPart) -> Iterator[PlacedPart]:
    """The parts whose edges are those of what a part comes to, where they lie: itself, or the members that
    are welded in it."""
    built = part.built
    if isinstance(built, BuiltCombination):
        yield from built.stood(part)
    else:
        yield part


@dataclass(frozen=True)
class CombinationInput:
    """All that a combination is built from: its members, which lie in its frame, their films and uses, and
    how many times as large lengths there are on the work."""

    part: Combination
    members: tuple[PlacedPart, ...]
    films: tuple[str, ...]
    uses: tuple[Use, ...]
    scale: float


def gather_combination(part: Combination, around: Surroundings) -> CombinationInput:
    """Members that are empty or failed are left out. Raises Problem "no-part" where none is shown."""
    members = [around.built(name) for name in part.members if not _is_hidden(around.part(name))]
    shown = tuple(member for member in members if member)
    if not shown:
        raise Problem("no-part", "All parts of this are hidden.", "Show one of them again.", part.id)
    films, uses = tuple(one.film for one in shown), tuple(one.use for one in shown)
    return CombinationInput(part.build_input(), shown, films, uses, around.scale_of(part.id))


def _is_hidden(part: Part | None) -> bool:
    return part is None or part.hidden


def build_combination(given: CombinationInput) -> BuiltCombination:
    """A combination of its members.

    Raises Problem "nothing-left", "crosses-edge", "no-edge", "too-many", "weld".
    """
    part, scale = given.part, given.scale
    members: Sequence[PlacedPart] = given.members
    every, members = members, [member for member in members if member.use == "cut"] or members
    bodies = [body_of(member) for member in members]
    marks = tuple(mark for member in every for mark in marks_of(member, whole=member not in members))
    others: dict[str, Shape] = {}
    divisions: tuple[Division, ...] = ()
    if part.how == "divide":
        divisions = _divided(part, members, bodies)
        body, others = Shape.empty(), {d.key: d.shape for d in divisions if d.film}
    elif part.how == "halo":
        body, others = _with_halo(part, members, bodies, scale)
    elif part.how == "edges":
        body = welded_to_edges(bodies[0], bodies[1:], part.edges)
    elif part.how == "cut":
        body = subtract(bodies[0], bodies[1:])
    elif part.how == "overlap":
        body = intersect(bodies)
    else:
        body = weld(bodies)
    if part.how != "edges":
        least = part.least_mm / scale
        body = without_small(body, least)
        others = {film: firm for film, shape in others.items() if (firm := without_small(shape, least))}
        kept = (d for d in divisions if d.key in others or not d.film)
        divisions = tuple(replace(d, shape=others.get(d.key, d.shape)) for d in kept)
    if not body and not others and not marks:
        todo = "Move the parts, or choose another operation."
        raise Problem("nothing-left", _NOTHING[part.how], todo, "members")
    return BuiltCombination(
        part.id, f"the {part.display_name}", body, others, marks, {member.id: member for member in every},
        _standing(part, members), divisions,
    )  # fmt: skip


def _standing(part: Combination, members: Sequence[PlacedPart]) -> tuple[str, ...]:
    ids = tuple(member.id for member in members)
    if part.how in ("weld", "edges"):
        return ids
    return ids[1:] if part.how == "halo" and part.halo.manner == "stand" else ()


_NOTHING: dict[Operation, str] = {
    "weld": "There is nothing to weld: the parts are empty.",
    "cut": "Nothing is left: what is cut out covers all of it.",
    "overlap": "Nothing is left: the parts have no place in common.",
    "divide": "Nothing is left: every region is left out.",
    "halo": "Nothing is left: the halo clears all of it.",
    "edges": "There is nothing to weld: the parts are empty.",
}


def _divided(
    part: Combination, members: Sequence[PlacedPart], bodies: Sequence[Shape]
) -> tuple[Division, ...]:
    """The regions, each a piece of its own, by what covers them and from left to right."""
    found: list[Division] = []
    for share in divided(bodies):
        covers = tuple(members[n].id for n in share.covers)
        alike = "+".join(covers)
        usual = members[share.covers[-1]].film
        for number, piece in enumerate(pieces(share.shape), 1):
            key = f"{alike}/{number}"
            film = part.films.get(key, part.films.get(alike, usual))
            shape = clean(piece.outline, share.shape.tolerance)
            found.append(Division(key, covers, shape, None if film == "none" else film.upper()))
    return tuple(found)


def _with_halo(
    part: Combination, members: Sequence[PlacedPart], bodies: Sequence[Shape], scale: float
) -> tuple[Shape, dict[str, Shape]]:
    names = weld(bodies[1:])
    around = offset(names.refined(FLATNESS_MM / scale), part.halo.mm / scale)
    if not part.halo.islands:
        around = filled(around, lambda hole: True)
    if part.halo.manner == "through":
        return subtract(weld([bodies[0], around]), [names]), {}
    clear = subtract(bodies[0], [around])
    ground, others = [clear], dict[str, list[Shape]]()
    for member, body in zip(members[1:], bodies[1:], strict=True):
        (ground if member.film == members[0].film else others.setdefault(member.film, [])).append(body)
    return weld(ground), {film: weld(shapes) for film, shapes in others.items()}


def welded_to_edges(ground: Shape, names: Sequence[Shape], edges: Sequence[int]) -> Shape:
    """Shapes welded to some contours of a ground, by their numbers; all its other contours stay to the last
    point.

    A contour that is the outer edge of a piece has the material inside, one of a hole has it outside.
    Raises Problem "no-edge" when a contour is not there, "crosses-edge" when a shape runs over one that is
    not chosen."""
    contours = list(ground.outline.contours())
    if not edges or max(edges) >= len(contours):
        raise Problem(
            "no-edge",
            "No edge to weld to is chosen."
            if not edges
            else "An edge that was chosen is not there any more.",
            "Point at an edge of the first part.",
            "edges",
        )
    chosen = sorted(set(edges))
    is_hole = measure.contour_areas(ground.outline) < 0
    tolerance = ground.tolerance
    outer = [clean(contours[n], tolerance) for n in chosen if not is_hole[n]]
    holes = [clean(contours[n].reversed(), tolerance) for n in chosen if is_hole[n]]
    name = weld(names)
    if outer:
        built = weld([subtract(weld(outer), holes), name]).outline
    else:
        built = subtract(weld(holes), [name]).outline.reversed()
    kept = [contours[n] for n in range(len(contours)) if n not in chosen]
    if kept and built and _cross(Outline.joined(kept), built, tolerance):
        raise Problem(
            "crosses-edge",
            "What is welded also runs over an edge that is not chosen.",
            "Point at that edge too, or move the part away from it.",
            "edges",
        )
    return clean(Outline.joined([*kept, built]), tolerance)


def _cross(one: Outline, other: Outline, tolerance: float) -> bool:
    lines = [
        np.asarray(shapely.linearrings(points, indices=ring_of))
        for points, ring_of in (flatten(outline, tolerance) for outline in (one, other))
    ]
    return bool(shapely.STRtree(lines[0]).query(lines[1], predicate="intersects").size)
