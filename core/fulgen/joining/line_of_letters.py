"""A line of letters as joining sees it: who is whose neighbour, and what becomes of each seam."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.bounded import BoundedCache
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import Shape
from fulgen.joining.heights import Hand
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.letter_gap import ScanExtent, scan_extent
from fulgen.joining.marks import SettledMark
from fulgen.joining.pair_joining import JoinRequest, Joint
from fulgen.joining.seam import TOUCH, Seam, Trim
from fulgen.joining.strength import Body
from fulgen.joining.stroke_extensions import Addition
from fulgen.lettering.bodies import APART, HANGING, body_and_marks, carrier_and_bits
from fulgen.lettering.course import Path, Stand
from fulgen.lettering.layout import FormKey, Lines, SetLetter
from fulgen.lettering.letters import AS_SET, LetterChange

_NEAR, _NEAR_DEGREES = 2e-3, 0.25
"""How near is near enough to decide: a tenth of what a joint gives or takes."""


STEP, _STEP_DEGREES = 1e-6, 1e-4
"""Distances and turns are rounded to these for what is remembered of a pair: a thousandth of a hair."""


@dataclass(frozen=True)
class LetterView:
    """A letter as another one sees it: its form, by the key of that, and the place where it lies, on the step
    by which it is remembered."""

    key: FormKey
    place: Placement
    letter: SetLetter = field(compare=False)

    kept_bytes = 1_000
    """Letters' forms are kept elsewhere."""

    @property
    def body(self) -> Body:
        """Its body there."""
        own = (
            body_of_letter(self.letter)
            if self.place.turn == 0.0
            else _turned_body(self.letter, self.place.turn)
        )
        return own.moved(self.place.x, self.place.y)

    @property
    def marks(self) -> Region:
        """Its dots and accents there."""
        marks = body_and_bits(self.letter)[1]
        return marks if marks.is_empty else self.place.region(marks)


@dataclass(frozen=True)
class Pair:
    """Two neighbours as the left one sees them. What is worked out of pairs is kept by values like this one,
    which hold all that it may hang on."""

    left: LetterView
    right: LetterView

    @property
    def facing(self) -> tuple[Body, Body]:
        return facing_parts(self.left.body, self.right.body)

    def joined_by(self, bar: Region) -> tuple[Body, Body]:
        """The strokes that face each other; of a letter in several strokes that a bar joins by others,
        those."""
        left, right = self.facing
        return _met(left, self.left.body, bar), _met(right, self.right.body, bar)


@dataclass(frozen=True, eq=False)
class LineSeam:
    """The seam of two neighbours in a line.

    left, right: places in the text; line: its number; stand: where the left letter stands on it.
    joint: what was done; own, there: where the left letter and the right one lie as the left one sees them,
    as they end up.
    look: the two by themselves; held: the seam with what else of the line holds the two together; whites: the
    white between the two, as they end up and as the face sets them.
    trimmed: stubs taken off; filled: how many pinholes were filled. A ``squeeze`` is the share of the
    left letter's width by which the pair was slid together.
    """

    left: int
    right: int
    line: int
    stand: Stand
    joint: Joint
    own: Placement
    there: Placement
    look: Callable[[], Seam]
    held: Callable[[Seam], Seam | None]
    letter_gaps: Callable[[], tuple[float, float]]
    trimmed: tuple[Trim, ...] = ()
    filled: int = 0
    squeeze: float = 0.0

    @cached_property
    def alone(self) -> Seam:
        """The two as they hold by themselves."""
        return self.look()

    @cached_property
    def measured(self) -> Seam:
        """The two as they hold, be it by a third letter. Worked out when it is asked for."""
        if self.alone.neck > TOUCH:
            return self.alone
        return self.held(self.alone) or self.alone


@dataclass(frozen=True, eq=False)
class Patch:
    """Something on a line that is no letter: a bar to weld in or a hole to fill, as the letter sees it that
    stands there."""

    line: int
    stand: Stand
    shape: Shape


@dataclass(frozen=True, eq=False)
class JoinedLines:
    """Lines of letters, joined: letters in their places with their stubs trimmed, seams in reading
    order, bars to weld in, and pinholes to fill."""

    lines: Lines
    seams: tuple[LineSeam, ...]
    bars: tuple[Patch, ...]
    fills: tuple[Patch, ...]
    marks: Mapping[int, tuple[SettledMark, ...]]


@dataclass(frozen=True, eq=False)
class LineOfLetters:
    """A line of letters with all that is asked of its joints: its number, its letters from left to right,
    the room added between them, what is wished of a pair, and what the maker has decided for the words and
    for single letters, by their places in the text. All in shares of the size, but for the narrowest slit
    that can be weeded, and the size itself, rounded down a little: both in mm."""

    number: int
    letters: Sequence[SetLetter]
    step: float
    request: JoinRequest
    join: JoinOptions
    changes: Mapping[int, LetterChange]
    hand: Hand
    gap_mm: float = 0.0
    size: float = 1.0
    path: Path | None = None
    start: float = 0.0

    def change(self, letter: SetLetter) -> LetterChange:
        return self.changes.get(letter.at, AS_SET)

    @property
    def auto(self) -> bool:
        return self.join.how == "auto"

    def pose(self, stand: Stand) -> Placement:
        """Where a letter lies that stands somewhere, be the line straight or not."""
        along = stand.x + stand.order * self.step
        if self.path is None:
            return Placement(along, stand.y)
        return self.path.pose(self.start + along, stand.y, stand.middle)

    def frame(self, stand: Stand) -> Placement:
        """The frame in which a letter sees what is around it."""
        pose = self.pose(stand)
        return pose if self.path is None else replace(pose, turn=pose.turn - self.path.turned_by)

    def seen(self, a: Stand, b: Stand) -> Placement:
        """Where a letter lies as another sees it, by where they stand."""
        if self.path is None:
            return Placement(b.x - a.x + (b.order - a.order) * self.step, b.y - a.y)
        return self.pose(b).seen_from(self.frame(a))

    def about(self, there: Placement) -> Placement:
        """A place near enough to one to work out what is done there: on a line that bends letters lie to each
        other in ever other ways, and what was worked out is to serve again."""
        if self.path is None:
            return there
        x, y = (round(v / _NEAR) * _NEAR for v in (there.x, there.y))
        return Placement(x, y, round(there.turn / _NEAR_DEGREES) * _NEAR_DEGREES)

    def between(self, a: SetLetter, b: SetLetter) -> Placement:
        """Where a letter lies as another sees it."""
        return self.seen(a.stand, b.stand)

    def pair(self, left: SetLetter, right: SetLetter, there: Placement) -> Pair:
        """Two neighbours, the right one where the left one sees it."""
        own = Placement() if self.path is None else Placement(turn=self.path.turned_by)
        return Pair(LetterView(left.key, own, left), LetterView(right.key, on_step(there), right))

    def from_letter(self, letter: SetLetter, other: SetLetter) -> Placement:
        """Where another letter lies in the frame in which a letter is drawn."""
        if self.path is None:
            return self.between(letter, other)
        return self.pose(other.stand).seen_from(self.pose(letter.stand))

    def seen_from(self, first: SetLetter, letter: SetLetter) -> Region:
        """The body of a letter as another sees it."""
        return LetterView(letter.key, self.between(first, letter), letter).body.region

    @cached_property
    def neighbours(self) -> dict[int, int]:
        """Who meets whom, as places in the line: the left one and the right one."""
        return dict(self._pairs())

    def _pairs(self) -> Iterator[tuple[int, int]]:
        last: int | None = None
        order = -1
        for index, letter in enumerate(self.letters):
            if last is not None and letter.order != order + 1:
                last = None  # a space lies between
            order = letter.order
            apart = self.change(letter).stands_apart
            hangs = letter.text in HANGING and apart is None
            if letter.text in APART if apart is None else apart:
                last = None
            elif not hangs:
                if last is not None:
                    yield last, index
                last = index

    @cached_property
    def _crowd(self) -> shapely.STRtree:
        """All bodies where they are on the line, seen from its first letter."""
        return shapely.STRtree([self.seen_from(self.letters[0], letter) for letter in self.letters])

    def held_by_others(self, left: int, right: int, seam: Seam) -> Seam | None:
        """The seam with what else holds the two together, where another letter reaches both."""
        pair, near = (left, right), self._crowd.geometries
        reached = [set(self._crowd.query(near[n], predicate="intersects").tolist()) for n in pair]
        between = [
            self.seen_from(self.letters[left], self.letters[n])
            for n in sorted((reached[0] & reached[1]).difference(pair))
        ]
        between = [
            o for o in between if shapely.intersects(o, seam.left) and shapely.intersects(o, seam.right)
        ]
        if not between:
            return None
        held = [*between, *([seam.between] if seam.between is not None else [])]
        helped = Seam(seam.left, seam.right, polygonal(shapely.union_all(held)), seam.bodies)
        return helped if helped.neck > seam.neck else None


_SIZE_STEP = 0.04
"""How finely sizes are distinguished where slits are looked for."""


def stepped(size: float) -> float:
    """A size in mm rounded down to a step of 4 %: so the slits of a seam serve again at another size."""
    return math.exp(math.floor(math.log(max(size, 1e-6)) / _SIZE_STEP) * _SIZE_STEP)


def place_before_hands(letter: SetLetter, shift: float = 0.0) -> Stand:
    """Where a letter stands before hands have moved it: pairs are joined where the face sets them."""
    return Stand(letter.x - letter.by_hand + shift, 0.0, letter.order, letter.middle)


def rounded_place(there: Placement) -> tuple[int, int, int]:
    """A place as it is remembered."""
    return round(there.x / STEP), round(there.y / STEP), round(there.turn / _STEP_DEGREES)


def on_step(there: Placement) -> Placement:
    """The very place that is remembered: what is worked out is worked out there, whoever asks first."""
    x, y, turn = rounded_place(there)
    return Placement(x * STEP, y * STEP, turn * _STEP_DEGREES)


def facing_parts(left: Body, right: Body) -> tuple[Body, Body]:
    """Of letters drawn in several strokes, the strokes that face each other: they make the seam."""
    return _nearest_parts(left, right), _nearest_parts(right, left)


def _nearest_parts(letter: Body, neighbour: Body) -> Body:
    parts = shapely.get_parts(letter.region)
    if len(parts) < 2:
        return letter
    distances = shapely.distance(parts, neighbour.region)
    return _body_of(parts[distances <= distances.min() + TOUCH])


def _met(facing: Body, letter: Body, bar: Region) -> Body:
    """What of a letter a bar meets: the strokes that face the neighbour, or else others."""
    if shapely.intersects(facing.region, bar):
        return facing
    parts = shapely.get_parts(letter.region)
    met = parts[shapely.intersects(parts, bar)]
    return _body_of(met) if len(met) else facing


def _body_of(parts: NDArray[np.object_]) -> Body:
    return Body(polygonal(shapely.MultiPolygon(list(parts))))


def patch_on_letter(line: LineOfLetters, letter: SetLetter, bar: Addition) -> Patch:
    return Patch(line.number, letter.stand, bar.shape)


def body_of_letter(letter: SetLetter) -> Body:
    def body() -> Body:
        if letter.stands_in:
            return Body(letter.form.region)
        return Body(body_and_marks(letter.text, letter.form.region)[0])

    return _bodies_kept.get(letter.key, body)


def _turned_body(letter: SetLetter, turn: float) -> Body:
    steps = round(turn / _STEP_DEGREES)
    turn = steps * _STEP_DEGREES
    key = (letter.key, steps)
    return _turned.get(key, lambda: Body(Placement(turn=turn).region(body_of_letter(letter).region)))


def extent_of_letter(letter: SetLetter, x_height: float) -> ScanExtent:
    return _reaches.get((letter.key, x_height), lambda: scan_extent(body_of_letter(letter).region, x_height))


def body_and_bits(letter: SetLetter) -> tuple[Region, Region]:
    """What the detached bits of a letter hang on, and those bits."""
    if letter.stands_in:
        return letter.form.region, shapely.MultiPolygon()
    return _loose_bits.get(letter.key, lambda: carrier_and_bits(letter.text, letter.form.region))


# What is known of letters and pairs, for every word and size they come in.
_bodies_kept: BoundedCache[FormKey, Body] = BoundedCache(16 * 2**20)


_turned: BoundedCache[tuple[FormKey, int], Body] = BoundedCache(12 * 2**20)


_reaches: BoundedCache[tuple[FormKey, float], ScanExtent] = BoundedCache(4 * 2**20)


_loose_bits: BoundedCache[FormKey, tuple[Region, Region]] = BoundedCache(8 * 2**20)
