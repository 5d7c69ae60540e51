"""Fitting: a name on its way into the band of a frame, made at the size at which it holds there."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from fulgen.framing.bands import Band
from fulgen.framing.contact import Edge, contacts, reached_down, ties
from fulgen.framing.fit_solver import Feet, Ink, Pose, across, standing, upright, within
from fulgen.framing.frames import FRAMES, Use
from fulgen.framing.monogram import IntoDisc, cells
from fulgen.geometry.bend import bent_shape
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.weld import clean
from fulgen.joining.bars import Bar
from fulgen.joining.line_joining import HOLE_STEP, NECK_STEP, rounded_up
from fulgen.joining.materials import Weedable
from fulgen.joining.strength import Body
from fulgen.lettering.course import Course
from fulgen.lettering.letters import AS_SET, MarkWay
from fulgen.lettering.setting import Faces, Size
from fulgen.parts.built_lettering import REPORTED_FROM_MM, BuiltLettering, off_from_joints
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.frame import Frame
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_builder import build_lettering
from fulgen.parts.lettering_course import length_along
from fulgen.problem import Problem
from fulgen.steps import Step, key_of
from fulgen.units import show_length

SMALLEST_CAPITAL_MM = 2.5
"""Lettering lower than this is neither cut nor weeded cleanly from any material (common practice, no
source)."""

_LEAST_CAPITAL_MM = 0.5
"""Nothing is made smaller than this on the way to a fit."""


@dataclass(frozen=True, eq=False)
class FittedName:
    """A name in its band, in the frame: which one it is, the band, where it lies, how much air is beside it
    at its left and right (negative where it runs into edges there), how deep it runs into edges, how much
    wider its letters were made, what they were joined with that the lettering does not say, and what was
    asked and is not so."""

    part: str
    band: Band
    air: tuple[float, float]
    depth: float
    stretch: float
    joined: tuple[float, float]
    unmet: tuple[Problem, ...] = ()


@dataclass(frozen=True, eq=False)
class NameRequest:
    """A name as it is asked for: the lettering, its faces, the bars laid on it by hand, what is too small to
    weed, and its film. share and hole_share are the neck and the hole too small to weed, as shares of the
    size, that it was joined with before."""

    lettering: Lettering
    faces: Faces
    bars: tuple[Bar, ...]
    least: Weedable
    film: str
    share: float = 0.0
    hole_share: float = 0.0

    @property
    def target(self) -> float:
        """The neck that it needs at edges, in mm."""
        return self.lettering.join.neck_mm

    def built(
        self, capitals: float, stretch: float = 1.0, spread: float = 0.0, course: Course | None = None
    ) -> BuiltLettering:
        """The name with capitals so many mm high, made wider and its letters spread, along a course."""
        own = self.lettering
        changed = {
            "course": course,
            "align": own.align if course is None else "centre",
            "size": Size("capitals", capitals),
            "join": replace(own.join, neck_mm=self._neck(capitals / self.faces.face.capital_height)),
            "stretch": round(own.stretch * stretch, 6),
            "spacing_share": own.spacing_share + spread,
        }
        hole = _known(self.least.hole_mm, self.hole_share, capitals / self.faces.face.capital_height)
        built = build_lettering(
            own.model_copy(update=changed), self.faces, self.bars, replace(self.least, hole_mm=hole)
        )
        # Seams are measured against the neck that was asked for, not the one that they were joined with.
        return replace(built, lettering=built.lettering.model_copy(update={"join": own.join}))

    @property
    def joined(self) -> tuple[float, float]:
        """What it is joined with that the lettering does not say."""
        return self.share, self.hole_share

    def _neck(self, size: float) -> float:
        """The neck that letters are joined with: as asked, or a little wider where they were so joined at a
        size near this one. What was worked out then serves again."""
        return _known(self.target, self.share, size)

    def joined_about(self, size: float) -> NameRequest:
        """The name, to be joined at all sizes near to one as it is at a size a little smaller."""
        small = _SMALLEST * size
        return replace(
            self,
            share=rounded_up(self.target / small, NECK_STEP),
            hole_share=rounded_up(self.least.hole_mm / small, HOLE_STEP),
        )

    @property
    def as_set(self) -> NameRequest:
        """The name with its letters as the face sets them, and its dots with them."""
        join = replace(self.lettering.join, how="set", marks=MarkWay.KEEP, tie=False)
        return replace(self, lettering=self.lettering.model_copy(update={"join": join}))

    def with_larger_middle(self, times: float) -> NameRequest:
        """The name with its middle letter so many times as large: of a monogram."""
        own = self.lettering
        letters = [at for at, sign in enumerate(own.text) if not sign.isspace()]
        if len(letters) < 3:
            return self
        key = own.ids[letters[len(letters) // 2]]
        change = own.letters.get(key, AS_SET)
        changed = {**own.letters, key: replace(change, scale=change.scale * times)}
        return replace(self, lettering=own.model_copy(update={"letters": changed}))


def _known(least_mm: float, share: float, size: float) -> float:
    """A length that is to be at least so long: a share of the size where that is not much longer."""
    return share * size if least_mm <= share * size <= _WIDER * least_mm else least_mm


_SMALLEST, _WIDER = 0.93, 1.25
"""Names are joined as at a size smaller by this, and with necks wider by this at most: a fit goes through a
few sizes. (†)"""

_LETTER_WIDTH = 0.62
"""About how wide a letter is in heights of a capital: only the first guess of a size hangs on it."""


def natural(part: Frame, name: NameRequest) -> BuiltLettering:
    """A name at about the size that it will have."""
    longest = max(map(len, name.lettering.text.split("\n")))
    guess = min(0.5 * part.height_mm, 0.85 * part.width_mm / (_LETTER_WIDTH * longest))
    return name.built(min(max(guess, 1.0), 1000.0))


def ink_of(built: BuiltLettering) -> Ink:
    """What is seen of a name."""
    on = Placement(scale=1 / built.size)
    regions = [on.region(place.region(shape.region)) for shape, place in built.drawn]
    return Ink.of(polygonal(shapely.union_all(regions)), built.layout.baselines[-1] / built.size)


@dataclass(frozen=True, eq=False)
class Fitted:
    """A name fitted: what it was made to, where it lies, what was added so that it holds, and what came
    of it."""

    built: BuiltLettering
    pose: Pose
    added: tuple[Shape, ...]
    outcome: FittedName

    def placed(self, film: str, frame_key: str) -> PlacedPart:
        """The name where it lies in the frame that is made under a key."""
        place = Placement(self.pose.x, self.pose.y, 0.0, self.pose.size / self.built.size)
        key = key_of((frame_key, self.built.lettering.id))
        return PlacedPart(self.built.lettering.id, film.upper(), self.built, place, key, key_of((key, place)))


DEPTHS = (0.6, 1.0, 1.5, 2.1)
"""How deep a name is run into an edge, in necks: the least that holds is taken. (†)"""

_ROUNDS = 4

_SAME_SIZE = 1e-4

_TOUCHING = 0.004
"""Letters nearer than this share of the size run into each other."""

_MOST_APART = 0.2
"""Letters that are cut out are spread by this share of the size at most. (†)"""

_MOST_SPREAD = 0.6
"""Letters are spread by this share of the size at most: further apart they are no word. (†)"""


_SMALLER = 0.97
"""What is too long is made a little smaller than would just fit: joints do not shrink with letters."""

AS_DRAWN = 0.01
"""Letters made wider by less are as they are drawn, to the eye. (†)"""


@dataclass(frozen=True, eq=False)
class Fitting:
    """A name on its way into a band. ``follows`` says that the band is drawn to suit the name, so it keeps
    its proportions; ``size`` is that of all names that are to look alike."""

    part: Frame
    use: Use
    feet: Feet
    name: NameRequest
    band: Band
    follows: bool = False
    size: float | None = None

    def fitted(self, built: BuiltLettering) -> Fitted:
        """The name at the size and place at which it holds."""
        if self.use == "letters":
            return self._shaped(built)
        if self.band.manner == "around":
            return self._around(built)
        fit, capital = self.part.fit, self.name.faces.face.capital_height
        bent, held = (1.0, 0.0), False
        depth = fit.depth_mm or DEPTHS[0] * self.name.target
        ink = ink_of(built)
        pose = self.pose(ink, depth)
        wanted = self._bent(ink, pose, *bent)
        for _ in range(_ROUNDS):
            bent = wanted
            if pose.size * capital < _LEAST_CAPITAL_MM:
                raise self._too_small(built, pose.size * capital)
            built = self.name.built(pose.size * capital, *bent)
            ink = ink_of(built)
            if self.use == "edges" and fit.depth_mm is None:
                # Never less deep than before: else two sizes could ask for each other's depth for ever.
                least, held = self._deep_enough(built, ink)
                held = held and least >= depth
                depth = max(depth, least)
            pose = self.pose(ink, depth)
            wanted = self._bent(ink, pose, *bent)
            if (
                abs(pose.size - built.size) <= _SAME_SIZE * built.size
                and abs(wanted[0] - bent[0]) <= _SAME_SIZE
            ):
                break
        else:
            held = False
        added = self._added(built, pose, held) if self.use == "edges" else ()
        return Fitted(built, pose, added, self._outcome(built, pose, ink, depth, bent[0]))

    def about(self, built: BuiltLettering) -> float:
        """About the size that the name will have, judged by letters that are not joined."""
        if self.band.radii is not None:
            return built.size
        least = _LEAST_CAPITAL_MM / self.name.faces.face.capital_height
        return max(self.pose(ink_of(built), DEPTHS[0] * self.name.target).size, least)

    def again(self, one: Fitted) -> Fitted:
        """A name that was fitted already, in a band of another length: no larger or smaller."""
        ink, outcome = ink_of(one.built), one.outcome
        pose = self.pose(ink, outcome.depth)
        added = self._added(one.built, pose) if self.use == "edges" else ()
        again = self._outcome(one.built, pose, ink, outcome.depth, outcome.stretch)
        return Fitted(one.built, pose, added, again)

    def pose(self, ink: Ink, depth: float) -> Pose:
        """Where a name lies in its band, and how large it is."""
        band, fit = self.band, self.part.fit
        if band.manner in ("upright", "stand", "within") and band.box.width <= 2 * fit.air_mm:
            raise Problem(
                "no-room",
                "The air beside the name leaves no room for it.",
                "Take less air, or make the frame wider.",
                "fit",
            )
        if band.manner in ("across", "between"):
            return across(ink, band, depth, fit.centre, self.feet)
        if band.manner == "upright":
            return upright(ink, band, depth, self.feet, fit.centre)
        if band.manner == "within":
            return within(ink, band, fit.air_mm, fit.centre)
        wide = (band.box.width - 2 * fit.air_mm) / ink.box.width
        high = (band.box.height - fit.air_mm) / (ink.lowest(self.feet) - ink.box.y)
        return standing(ink, band, self.size or min(wide, high), depth, self.feet, fit.centre)

    def _bent(self, ink: Ink, pose: Pose, stretch: float, spread: float) -> tuple[float, float]:
        """How much wider letters are to be made, and how far to be spread, so that the air is as asked, where
        they now are so."""
        band, fit = self.band, self.part.fit
        if self.use == "holes":
            return 1.0, self._apart(pose, spread)
        if band.manner != "upright" or (self.follows and not fit.spread):
            return 1.0, 0.0
        lacking = (band.box.width - 2 * fit.air_mm) / pose.size - ink.box.width
        wanted = round(float(stretch * (1 + lacking / ink.box.width)), 5)
        gaps = len(self.name.lettering.text.strip()) - 1
        if fit.spread and gaps and (wanted > 1 or spread):
            return 1.0, round(min(max(spread + lacking / gaps, 0.0), _MOST_SPREAD), 5)
        if wanted > fit.stretch and abs(stretch - 1) < 1e-9:
            return 1.0, 0.0  # a short name stays as it is drawn, with more air
        return min(fit.stretch, max(1 / fit.stretch, wanted)), 0.0

    def _apart(self, pose: Pose, spread: float) -> float:
        """How far letters are to be spread that are cut out, so that what stays between them holds; those
        that run into each other by themselves, as in a script, do."""
        built = self.name.built(pose.size * self.name.faces.face.capital_height)
        gaps = shapely.distance(built.regions[:-1], built.regions[1:]) / built.size
        lacking = [self.name.target / pose.size - gap for gap in gaps.tolist() if gap > _TOUCHING]
        return round(min(max(0.0, *lacking), _MOST_APART), 5) if lacking else spread

    # --- how it holds ---

    def _letters(self, built: BuiltLettering) -> list[Body]:
        """Its letters in shares of the size, with what is known of their strength."""
        found = []
        for p in built.layout.letters:
            body = _turned_body((p.form.region, p.place.turn))
            found.append(body.moved(p.place.x / built.size, p.place.y / built.size))
        return found

    def _edges(self, pose: Pose) -> list[Edge]:
        """The edges of the band in shares of the size, seen from where the name lies."""
        on = Placement(pose.x, pose.y, 0.0, pose.size)
        given = self.band.gives(self.name.target)
        return [
            Edge(on.region_back(piece), gives / pose.size)
            for piece, gives in zip(self.band.pieces, given, strict=True)
        ]

    def _deep_enough(self, built: BuiltLettering, ink: Ink) -> tuple[float, bool]:
        """The least depth at which all letters that meet edges hold there; the one where most do, if there is
        none. And whether all hold."""
        letters, best, low = self._letters(built), (-1.0, 0.0), ink.lowest(self.feet)
        for share in DEPTHS:
            depth = share * self.name.target
            pose = self.pose(ink, depth)
            if best[0] >= 0 and self.band.pierced(pose.points(ink)[ink.points[:, 1] <= low]):
                break
            met = [c.holds for c in contacts(letters, self._edges(pose), self.name.target / pose.size)]
            if met and all(met):
                return depth, True
            holding = sum(met) / len(met) if met else 0.0
            if holding > best[0]:
                best = (holding, depth)
        return best[1], False

    def _added(self, built: BuiltLettering, pose: Pose, held: bool = False) -> tuple[Shape, ...]:
        """What makes letters hold at edges, where they are not ``held``, and ties to the frame what is not in
        one with it."""
        target, edges = self.name.target / pose.size, self._edges(pose)
        found = []
        for contact in () if held else contacts(self._letters(built), edges, target):
            more = None if contact.holds else contact.strengthened()
            found += [more] if more is not None else []
        if self.part.fit.reach and self.band.manner in ("upright", "stand", "between"):
            found += reached_down(self._letters(built), edges, target)
        on = Placement(scale=1 / built.size)
        seen = [on.region(place.region(shape.region)) for shape, place in built.shapes]
        seen += [region for _, region in found]
        if self.name.lettering.join.marks is not MarkWay.KEEP or not built.loose_marks:
            found += ties(seen, polygonal(shapely.union_all([edge.region for edge in edges])), target)
        where = Placement(pose.x, pose.y, 0.0, pose.size)
        return tuple(clean(where.outline(outline), FLATNESS_MM) for outline, _ in found)

    @property
    def _gap_can_follow(self) -> bool:
        """Whether the gap was set, and could be drawn to suit the name instead."""
        form = FRAMES.get(self.part.form)
        free = form is not None and any(m.key == "gap" and m.default is None for m in form.measures)
        return free and "gap" in self.part.values

    def look(self, one: Fitted) -> None:
        """Raises Problem "too-small" or "too-long" where the name does not fit."""
        pose, built = one.pose, one.built
        capital = pose.size * self.name.faces.face.capital_height
        if capital < SMALLEST_CAPITAL_MM:
            raise self._too_small(built, capital)
        if self._beyond(one) > _AIR_MM and self.band.radii is not None:
            raise Problem(
                "too-long",
                f"{_shown(built)} is {show_length(self._beyond(one))} too long for its part of a ring.",
                "Make the words lower or the ring larger, or take a narrower face.",
                "members",
            )
        if self.band.manner != "upright":
            return
        beyond = 2 * self.part.fit.air_mm - sum(one.outcome.air)
        if beyond > 2 * _AIR_MM:
            raise Problem(
                "too-long",
                f"{_shown(built)} is {show_length(beyond)} too long for its band, with its letters made "
                f"{round(100 - 100 / self.part.fit.stretch)} % narrower.",
                ("Let the gap follow the name, take" if self._gap_can_follow else "Take")
                + " less air or a narrower face, or make the frame wider.",
                "members",
            )

    def _beyond(self, one: Fitted) -> float:
        """How much longer a name is than its part of the ring that it goes around, in mm."""
        if self.band.radii is None:
            return 0.0
        inner, outer, _ = self.band.radii
        part = math.pi * (outer + inner) / max(1, min(2, len(self.part.members)))
        length = max(length_along(one.built.layout, p.line) for p in one.built.layout.letters)
        return length + 2 * self.part.fit.air_mm - part

    def room(self, one: Fitted) -> float:
        """How many times as large a name may be that is too long for its part of a ring; 1 where it fits."""
        beyond = self._beyond(one)
        if beyond <= 0:
            return 1.0
        length = max(length_along(one.built.layout, p.line) for p in one.built.layout.letters)
        return max(0.3, (length - beyond) / length * _SMALLER)

    def fits(self, one: Fitted) -> bool:
        """Whether a name is as it is drawn, and has the room that it needs."""
        short = 2 * self.part.fit.air_mm - sum(one.outcome.air) if self.band.manner == "upright" else 0.0
        return abs(one.outcome.stretch - 1) < AS_DRAWN and short <= _AIR_MM and self._beyond(one) <= 0

    def _too_small(self, built: BuiltLettering, capital: float) -> Problem:
        wider = self.part.width_mm * SMALLEST_CAPITAL_MM / max(capital, 0.1)
        high = show_length(max(capital, 0.0))
        return Problem(
            "too-small",
            f"{_shown(built)} would be {high} high in this {self.part.display_name}: too small to cut.",
            f"Make the frame {show_length(math.ceil(wider))} wide, set the name on two lines, shorten it, or "
            "take a narrower face.",
            "members",
        )

    def _outcome(
        self, built: BuiltLettering, pose: Pose, ink: Ink, depth: float, stretch: float
    ) -> FittedName:
        left = pose.x + ink.box.x * pose.size - self.band.box.x
        right = self.band.box.right - (pose.x + ink.box.right * pose.size)
        runs_in = self.band.manner in ("across", "between", "around")
        air = (-depth, -depth) if runs_in else (float(left), float(right))
        unmet = tuple(self._unmet(built, pose, air))
        return FittedName(built.lettering.id, self.band, air, depth, stretch, self.name.joined, unmet)

    def _unmet(self, built: BuiltLettering, pose: Pose, air: tuple[float, float]) -> Iterator[Problem]:
        """What was asked of the fit and is not so."""
        fit, name = self.part.fit, _shown(built)
        if fit.depth_mm is not None and pose.off > REPORTED_FROM_MM:
            yield Problem(
                "depth-not-met",
                f"{name} is not as deep in the edges as asked: {show_length(fit.depth_mm, places=2)}, and it "
                f"is off by {show_length(pose.off, places=2)}.",
                "Type another depth, or let Fulgen choose it.",
                "fit",
            )
        yield from off_from_joints(built, pose.size)
        more = sum(air) / 2 - fit.air_mm
        if self.follows and self.band.manner == "upright" and abs(more) > REPORTED_FROM_MM:
            yield Problem(
                "air-not-met",
                f"There are {show_length(fit.air_mm + more, places=2)} of air beside {name}: "
                f"{show_length(fit.air_mm, places=2)} was asked for, and no gap of this frame gives "
                "just that.",
                "Ask for that much air, make the frame wider or narrower, or take another face.",
                "fit",
            )

    def _around(self, built: BuiltLettering) -> Fitted:
        """A name along a ring: its feet in one edge, its tops in the other."""
        assert self.band.radii is not None
        inner, outer, is_held = self.band.radii
        bottom = self.band.bottom
        depth = self.part.fit.depth_mm or DEPTHS[0] * self.name.target
        own = self.name.lettering.course or Course()
        course = replace(
            own, kind="circle", diameter_mm=2 * (outer if bottom else inner), stands=True, distance_mm=0.0,
            side="inside" if bottom else "outside", reading="inward" if bottom else "outward",
            place=own.place + (180.0 if bottom else 0.0),
        )  # fmt: skip
        wanted = outer - inner + (depth if is_held else 0.0)
        capitals = wanted + depth
        for _ in range(_ROUNDS):
            # How letters are joined does not matter for how far they reach.
            built = self.name.as_set.built(capitals, course=course)
            r = np.hypot(*shapely.get_coordinates(shapely.union_all(built.regions)).T)
            reached = outer - float(r.min()) if bottom else float(r.max()) - inner
            if abs(reached - wanted) <= REPORTED_FROM_MM or reached <= 0:
                break
            capitals *= (wanted + depth) / (reached + depth)
        built = self.name.built(capitals, course=course)
        pose = Pose(built.size, 0.0, 0.0, abs(reached - wanted))
        added = self._added(built, pose)
        return Fitted(built, pose, added, self._outcome(built, pose, ink_of(built), depth, 1.0))

    def _shaped(self, built: BuiltLettering) -> Fitted:
        """Letters shaped to fill a disc, with their tops and feet in its ring."""
        depth = self.part.fit.depth_mm or DEPTHS[1] * self.name.target
        letters = built.layout.letters
        if len(letters) > MOST_SHAPED:
            raise Problem(
                "too-many-letters",
                f"There are {len(letters)} letters, and a round monogram has up to {MOST_SHAPED}.",
                "Type two or three initials.",
                "members",
            )
        radius = self.band.box.width / 2 + depth
        places = cells(len(letters), radius, self.part.values.get("middle", 0.42), self.part.fit.air_mm / 2)
        bends = [
            IntoDisc(letter.letter.drawn.box, radius, *place)
            for letter, place in zip(letters, places, strict=True)
        ]
        built = built.shaped([
            bent_shape(letter.letter.drawn, bend, SHAPED_TO_MM)
            for letter, bend in zip(letters, bends, strict=True)
        ])  # fmt: skip
        pose = Pose(built.size, 0.0, 0.0)
        ink = ink_of(built)
        return Fitted(built, pose, self._added(built, pose), self._outcome(built, pose, ink, depth, 1.0))


def _shown(built: BuiltLettering) -> str:
    """A name as it is named to a maker."""
    text = built.lettering.text.replace("\n", " ")
    return f"“{text if len(text) <= 24 else text[:23] + '…'}”"


def _turned(asked: tuple[Region, float]) -> Body:
    region, turn = asked
    return Body(Placement(turn=turn).region(region) if turn else region)


_turned_body: Step[tuple[Region, float], Body] = Step(_turned, 8 * 2**20)


def fitted_alike(fittings: Sequence[Fitting]) -> list[Fitted]:
    """Names of one size in their bands: that of the one with the least room. It is found from letters that
    are not joined yet, which is quick, and mended once they are."""
    rough = [natural(f.part, f.name.as_set) for f in fittings]
    deep = DEPTHS[0] * fittings[0].name.target
    size = min(f.pose(ink_of(built), deep).size for f, built in zip(fittings, rough, strict=True))
    for _ in range(_ROUNDS):
        fitted = [replace(f, size=size).fitted(built) for f, built in zip(fittings, rough, strict=True)]
        least = min(f.pose(ink_of(one.built), deep).size for f, one in zip(fittings, fitted, strict=True))
        if least >= size * (1 - _SAME_SIZE):
            break
        size = least
    return fitted


_AIR_MM = 0.1
"""Air that lacks no more than this is as asked."""

MOST_SHAPED = 5

SHAPED_TO_MM = 0.01
"""Shaped letters are true to the disc they fill by this."""
