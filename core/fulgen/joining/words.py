"""A whole line: who is whose neighbour, where each letter goes, what is added and what is taken off.

Letters between two spaces are one word. Its letters are neighbours in a row; signs that stand apart
(a full stop) end the row, signs that hang in the air (an apostrophe) are passed over: the letters
below them meet each other. Every letter keeps its dots and accents with it.

Joining goes from left to right, one pair after the other, each pair on its own: what a pair needs does
not depend on the word it stands in, so it is worked out once. Last, whatever still hangs loose (a
capital drawn in two strokes) is tied to its nearest neighbour by a bridge.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np
import shapely

from fulgen.bounded import Bounded
from fulgen.geometry.operations import cut_out, straight_sided
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, holes_of, polygonal
from fulgen.geometry.polygons import moved as moved_by
from fulgen.geometry.shape import Shape
from fulgen.geometry.thin import slots
from fulgen.joining.heights import Hand, ends_high
from fulgen.joining.marks import Settled, SettledMark, settle
from fulgen.joining.materials import Weedable
from fulgen.joining.reaches import Addition, tied_together
from fulgen.joining.rhythm import Choices, decide
from fulgen.joining.seam import TOUCH, WIDEST_NECK, Seam, Trim
from fulgen.joining.solve import CLEARANCE, Joint, Option, Wish, needed, options, relaid
from fulgen.joining.strength import Body, held_together
from fulgen.joining.white import Reach, gaps_between, overlapping, reach_of, white
from fulgen.joining.wishes import Join
from fulgen.lettering.bodies import APART, HANGING, LIKE_BITS, body_and_marks, carrier_and_bits
from fulgen.lettering.course import Path, Stand
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import FormKey, Lines, SetLetter
from fulgen.lettering.letters import AS_SET, LetterChange, MarkWay, Way
from fulgen.lettering.stand_ins import StandIn

_NEAR, _NEAR_DEGREES = 2e-3, 0.25
"""How near is near enough to decide: a tenth of what a joint gives or takes."""

_STEP, _STEP_DEGREES = 1e-6, 1e-4
"""Distances and turns are rounded to these for what is remembered of a pair: a thousandth of a hair."""


@dataclass(frozen=True)
class Seen:
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
        own = _body(self.letter) if self.place.turn == 0.0 else _turned_body(self.letter, self.place.turn)
        return own.moved(self.place.x, self.place.y)


@dataclass(frozen=True)
class Pair:
    """Two neighbours as the left one sees them. What is worked out of pairs is kept by values like this one,
    which hold all that it may hang on."""

    left: Seen
    right: Seen

    @property
    def facing(self) -> tuple[Body, Body]:
        return _facing(self.left.body, self.right.body)


@dataclass(frozen=True)
class PairAsked:
    """What can be done between two neighbours: the two, the signs that hang between them, what is wished, how
    the face is written, and whether their line is straight."""

    pair: Pair
    signs: tuple[Seen, ...]
    wish: Wish
    hand: Hand
    straight: bool

    kept_bytes = 2_500


@dataclass(frozen=True)
class SeamAsked:
    """The seam of two neighbours with what is added to them, by its key."""

    pair: Pair
    added: str
    bar: Addition | None = field(compare=False)

    kept_bytes = 2_500

    @property
    def seam(self) -> Seam:
        left, right = self.pair.facing
        return Seam(left.region, right.region, None if self.bar is None else self.bar.region, (left, right))


@dataclass(frozen=True)
class SlitsAsked:
    """The slits that a seam leaves: the seam, the gap that is too narrow to weed, the size, both in mm, and
    the width of a hole that is, as a share of the size."""

    seam: SeamAsked
    gap_mm: float
    size: float
    hole: float

    kept_bytes = 2_500


@dataclass(frozen=True, eq=False)
class Closed:
    """What closes the slits of a seam, and small holes that this leaves, in the frame of its left letter."""

    fill: Region | None
    holes: tuple[Region, ...]

    kept_bytes = 1_500


@dataclass(frozen=True)
class BarAsked:
    """What is added to two neighbours that a hand has moved: the two, what is wished, and its kind."""

    pair: Pair
    wish: Wish
    kind: str
    hand: Hand

    kept_bytes = 2_500


@dataclass(frozen=True)
class MarksAsked:
    """What becomes of the dots and accents of a letter: the letter as it is drawn and, by its key, as it is
    trimmed, the letters near by, what is wished, and how wide a bar to a mark is."""

    letter: FormKey
    trimmed: str
    near: tuple[Seen, ...]
    way: MarkWay
    instead: StandIn | None
    neck: float
    hole: float
    bar: float | None
    drawn: SetLetter = field(compare=False)
    form: Shape = field(compare=False)

    kept_bytes = 2_500


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
    whites: Callable[[], tuple[float, float]]
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
class Joined:
    """Lines of letters, joined: letters in their places with their stubs trimmed, seams in reading
    order, bars to weld in, and pinholes to fill."""

    lines: Lines
    seams: tuple[LineSeam, ...]
    bars: tuple[Patch, ...]
    fills: tuple[Patch, ...]
    marks: Mapping[int, tuple[SettledMark, ...]]


@dataclass(frozen=True, eq=False)
class Line:
    """A line of letters with all that is asked of its joints: its number, its letters from left to right,
    the room added between them, what is wished of a pair, and what the maker has decided for the words and
    for single letters, by their places in the text. All in shares of the size, but for the narrowest slit
    that can be weeded, and the size itself, rounded down a little: both in mm."""

    number: int
    letters: Sequence[SetLetter]
    step: float
    wish: Wish
    join: Join
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
        return Pair(Seen(left.key, own, left), Seen(right.key, _on_step(there), right))

    def from_letter(self, letter: SetLetter, other: SetLetter) -> Placement:
        """Where another letter lies in the frame in which a letter is drawn."""
        if self.path is None:
            return self.between(letter, other)
        return self.pose(other.stand).seen_from(self.pose(letter.stand))

    def seen_from(self, first: SetLetter, letter: SetLetter) -> Region:
        """The body of a letter as another sees it."""
        return Seen(letter.key, self.between(first, letter), letter).body.region

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


def join_lines(
    lines: Lines,
    size: float,
    spacing: float,
    join: Join,
    changes: Mapping[int, LetterChange],
    least: Weedable,
    hand: Hand,
    along: Sequence[tuple[Path, float]] = (),
    in_place: bool = False,
    only_slid: bool = False,
) -> Joined:
    """Lines joined at a size in mm, with a letter spacing in mm; holes and slits narrower than the ``least``
    are too small to weed. ``hand`` is how the face is written. ``along`` are the paths that lines follow, in
    mm, with where each starts on its own. ``in_place``: letters are joined without
    sliding, for the room between them is asked for."""
    # No stroke is wider than what is told of necks, so more is not worth trying for.
    neck = min(rounded_up(join.neck_mm / size, NECK_STEP), 0.8 * WIDEST_NECK)
    wish = Wish(neck, rounded_up(least.hole_mm / size, HOLE_STEP), in_place=in_place)
    step = spacing / size
    joined = []
    for n, letters in enumerate(lines):
        line = Line(n, letters, step, wish, join, changes, hand, least.gap_mm, _stepped(size))
        if along:
            path, start = along[n]
            line = replace(line, path=path.scaled(1 / size), start=start / size)
        joined.append(_joined(line, only_slid))
    return Joined(
        tuple(j.lines[0] for j in joined),
        tuple(s for j in joined for s in j.seams),
        tuple(b for j in joined for b in j.bars),
        tuple(f for j in joined for f in j.fills),
        {at: marks for j in joined for at, marks in j.marks.items()},
    )


_SIZE_STEP = 0.04
"""How finely sizes are told from each other where slits are looked for."""


def _stepped(size: float) -> float:
    """A size in mm rounded down to a step of 4 %: so the slits of a seam serve again at another size."""
    return math.exp(math.floor(math.log(max(size, 1e-6)) / _SIZE_STEP) * _SIZE_STEP)


def _joined(line: Line, only_slid: bool) -> Joined:
    left_of = {right: left for left, right in line.neighbours.items()}
    letters = list(line.letters)
    joints = _joints_of(line)
    moved = 0.0
    for index, letter in enumerate(line.letters):
        left = left_of.get(index)
        if left is not None:
            between = letters[left + 1 : index]
            joint = joints[left]
            # What hangs above a joint stays above its middle.
            for n, hanging in enumerate(between, left + 1):
                letters[n] = replace(hanging, x=hanging.x + joint.shift / 2)
            moved += joint.shift
        if moved:
            letters[index] = replace(letter, x=letter.x + moved)
    if only_slid:
        return Joined((tuple(letters),), (), (), (), {})
    line = replace(line, letters=letters)
    seams: list[LineSeam] = []
    bars: list[Patch] = []
    fills: list[Patch] = []
    for left, right in line.neighbours.items():
        a = letters[left]
        joint = _laid_anew(line, joints[left], a, letters[right])
        seam, taken, closing = _finish(line, left, right, joint)
        seams.append(seam)
        if joint.bar is not None:
            bars.append(_patch(line, a, joint.bar))
        if closing is not None:
            bars.append(Patch(line.number, a.stand, straight_sided(closing, LETTER_FLATNESS)))
        for hole in taken:
            fills.append(Patch(line.number, a.stand, straight_sided(hole, LETTER_FLATNESS)))
    if line.auto:
        kept_so = (Way.APART, Way.LEAVE)
        tied = {
            left: right
            for left, right in line.neighbours.items()
            if line.change(letters[left]).seam.way not in kept_so
        }
        bars += _ties(line, tied, bars)
        if any(joint.shift or joint.bar for joint in joints.values()):
            fills += _stray_pinholes(line, bars, fills)
    settled, marks = _with_marks(line, _trimmed(letters, seams))
    return Joined((settled,), tuple(seams), tuple(bars), tuple(fills), marks)


NECK_STEP, HOLE_STEP = 0.003, 0.01
"""What is asked of a pair is rounded up to these, so that a word a hair larger asks for the same and
nothing is worked out anew: at a size of 40 mm a neck is up to 0.12 mm wider than asked."""


def rounded_up(share: float, step: float) -> float:
    """A share as a whole number of steps, no less than it is."""
    return round(math.ceil(share / step - 1e-9) * step, 6)


def _joints_of(line: Line) -> dict[int, Joint]:
    """What is to be done after each letter that has a neighbour: each row of neighbours is decided at
    once."""
    letters = line.letters
    if not line.auto and all(line.change(letters[left]).seam.way is None for left in line.neighbours):
        return dict.fromkeys(line.neighbours, Joint(Way.LEAVE))
    joints: dict[int, Joint] = {}
    row: list[int] = []
    last: int | None = None

    def decided() -> None:
        seams = tuple(choices[left] for left in row)
        chosen = _decided.get((seams, line.join.tight), lambda: decide(seams, line.join.tight))
        for left, option in zip(row, chosen, strict=True):
            joints[left] = _on_the_line(line, left, line.neighbours[left], option.joint)
        row.clear()

    choices: dict[int, Choices] = {}
    for left, right in line.neighbours.items():
        if last is not None and left != last:
            decided()
        choices[left] = _choices(line, letters[left], letters[left + 1 : right], letters[right])
        row.append(left)
        last = right
    decided()
    return joints


def _on_the_line(line: Line, left: int, right: int, joint: Joint) -> Joint:
    """A joint as it is to be where letters have slid along a line that bends: looked at again there, for the
    two are turned against each other in another way than where they were set."""
    a, b = line.letters[left], line.letters[right]
    kept = line.change(a).seam.way in (Way.LEAVE, Way.APART) or joint.way is Way.APART
    if line.path is None or not line.auto or kept:
        return joint
    if abs(joint.shift) >= _STEP:
        there = _choices(line, a, line.letters[left + 1 : right], b, joint.shift)
        again = min(there.options, key=lambda option: option.cost).joint
        way = Way.SLIDE if again.way is Way.LEAVE else again.way
        joint = replace(again, way=way, shift=joint.shift + again.shift)
    return _made_sure(line, a, b, joint)


_CLOSER, _CLOSER_STEPS = 0.004, 8
"""So much closer two letters are slid, and so often, where they lie a hair off what was looked at."""


def _made_sure(line: Line, a: SetLetter, b: SetLetter, joint: Joint) -> Joint:
    """The joint so that it holds exactly where the letters will lie: what is done was worked out for a place
    near it."""
    at = _before_hands(a)
    for step in range(_CLOSER_STEPS):
        shift = joint.shift - step * _CLOSER
        pair = line.pair(a, b, line.seen(at, _before_hands(b, shift)))
        asked = _seam_asked(pair, joint.bar)
        if _sure.get((asked, line.wish.neck), partial(_holds, asked, line.wish.neck)):
            way = Way.SLIDE if step and joint.way is Way.LEAVE else joint.way
            return replace(joint, way=way, shift=shift) if step else joint
        if joint.bar is not None:
            left, right = pair.facing
            laid = relaid(
                left,
                right,
                line.wish,
                joint.bar.kind,
                line.hand,
                ends_high(a.text),
                pair.right.place,
            )
            return replace(joint, bar=laid if laid is not None else joint.bar)
    return joint


def _seam_asked(pair: Pair, bar: Addition | None) -> SeamAsked:
    return SeamAsked(pair, "" if bar is None else bar.shape.step_key, bar)


def _holds(asked: SeamAsked, neck: float) -> bool:
    left, right = asked.pair.facing
    return held_together(asked.seam.whole, left, right, needed(left, right, neck))


def _before_hands(letter: SetLetter, shift: float = 0.0) -> Stand:
    """Where a letter stands before hands have moved it: pairs are joined where the face sets them."""
    return Stand(letter.x - letter.by_hand + shift, 0.0, letter.order, letter.middle)


def _choices(
    line: Line, left: SetLetter, hanging: Sequence[SetLetter], right: SetLetter, slid: float = 0.0
) -> Choices:
    """What can be done between two neighbours where the face sets them, or the right one has slid to."""
    choice = line.change(left).seam
    way = choice.way

    if way is None and not line.auto:
        way = Way.LEAVE
    at = _before_hands(left)
    wish = replace(line.wish, way=way, flow=choice.flow if way is Way.FLOW else None)
    there = line.about(line.seen(at, _before_hands(right, slid)))
    signs = tuple(
        Seen(h.key, _on_step(line.about(line.seen(at, _before_hands(h, slid / 2)))), h) for h in hanging
    )
    asked = PairAsked(line.pair(left, right, there), signs, wish, line.hand, line.path is None)
    return _options.get(asked, partial(_worked_out, asked))


def _worked_out(asked: PairAsked) -> Choices:
    wish, x_height, there = asked.wish, asked.hand.x_height, asked.pair.right.place
    body, other = asked.pair.facing
    signs = [sign.place.region(sign.letter.form.region) for sign in asked.signs]
    room = _room_under(body.region, signs, other.region) if wish.may_slide else 0.0
    if asked.straight:
        left, right = (_reach(seen.letter, x_height) for seen in (asked.pair.left, asked.pair.right))
        gaps = gaps_between(left, right, there.x - room)
    else:
        gaps = gaps_between(reach_of(body.region, x_height), reach_of(other.region, x_height), -room)
    found = options(
        body, other.moved(-room, 0.0), wish, gaps, asked.hand, ends_high(asked.pair.left.letter.text),
        replace(there, x=there.x - room),
    )  # fmt: skip
    moved = [replace(o, joint=replace(o.joint, shift=o.joint.shift - room)) for o in found]
    return Choices(tuple(moved), white(gaps), overlapping(gaps), fixed=wish.way is not None or room > 0)


def _rounded(there: Placement) -> tuple[int, int, int]:
    """A place as it is remembered."""
    return round(there.x / _STEP), round(there.y / _STEP), round(there.turn / _STEP_DEGREES)


def _on_step(there: Placement) -> Placement:
    """The very place that is remembered: what is worked out is worked out there, whoever asks first."""
    x, y, turn = _rounded(there)
    return Placement(x * _STEP, y * _STEP, turn * _STEP_DEGREES)


def _room_under(left: Region, signs: Sequence[Region], right: Region) -> float:
    """How far the right letter may come nearer under signs that hang between before it crowds them:
    the room that the signs themselves take up."""
    if not signs:
        return 0.0
    sign = polygonal(shapely.union_all(signs))
    widest = float(shapely.bounds(sign)[2] - shapely.bounds(sign)[0]) + 2 * CLEARANCE
    room = 0.0
    while room < widest:
        nearer = room + 0.02
        hung, other = moved_by(sign, -nearer / 2, 0.0), moved_by(right, -nearer, 0.0)
        crowded = min(
            float(shapely.distance(hung, other)), float(shapely.distance(hung, left)),
            float(shapely.distance(left, other)),
        ) < CLEARANCE  # fmt: skip
        if crowded:
            break
        room = nearer
    return room


def _laid_anew(line: Line, joint: Joint, a: SetLetter, b: SetLetter) -> Joint:
    """The joint with its bar laid to where a hand has moved the letters; without it, where they are now
    so far apart that no bar goes across."""
    bar = joint.bar
    if bar is None or (a.by_hand == b.by_hand and a.y == b.y):
        return joint
    choice = line.change(a).seam
    wish = replace(line.wish, way=choice.way, flow=choice.flow)
    asked = BarAsked(line.pair(a, b, line.between(a, b)), wish, bar.kind, line.hand)
    # Only the bar is remembered: the same places can come from another slide and another hand.
    return replace(joint, bar=_bars.get(asked, partial(_laid, asked)))


def _laid(asked: BarAsked) -> Addition | None:
    left, right = asked.pair.facing
    high = ends_high(asked.pair.left.letter.text)
    return relaid(left, right, asked.wish, asked.kind, asked.hand, high, asked.pair.right.place)


def _finish(
    line: Line, left: int, right: int, joint: Joint
) -> tuple[LineSeam, tuple[Region, ...], Region | None]:
    """The seam as it ends up, the pinholes to be filled, and what closes its slits."""
    a, b = line.letters[left], line.letters[right]
    there = line.between(a, b)
    look: Callable[[], Seam] = partial(_measured, line, a, b, there, joint.bar)
    choice = line.change(a).seam
    brought = joint.way is not Way.APART and (joint.shift != 0 or joint.bar is not None)
    trim = choice.trim if choice.trim is not None else (line.auto and brought)
    fill = choice.trim if choice.trim is not None else (line.auto and joint.way is not Way.APART)
    trimmed: tuple[Trim, ...] = ()
    holes: tuple[Region, ...] = ()
    if trim or fill:
        alone = look()
        look = lambda: alone  # noqa: E731
        trimmed = alone.trims(all_of_them=bool(choice.trim)) if trim else ()
        holes = tuple(hole.region for hole in alone.pinholes(line.wish.hole)) if fill else ()
    closed = _closing(line, a, b, there, joint.bar) if fill else _NOT_CLOSED
    squeeze = -joint.shift / max(a.form.box.width, 1e-6) if joint.shift < 0 else 0.0
    return (
        LineSeam(
            a.at, b.at, line.number, a.stand, joint, line.between(a, a), there, look,
            partial(line.held_by_others, left, right), partial(_whites, line, a, b, joint.shift), trimmed,
            len(holes), squeeze,
        ),
        (*holes, *closed.holes),
        closed.fill,
    )  # fmt: skip


_NOT_CLOSED = Closed(None, ())


def _closing(line: Line, a: SetLetter, b: SetLetter, there: Placement, bar: Addition | None) -> Closed:
    """What closes the slits that a seam leaves. Along a line that bends, that is left to the ready rule."""
    if line.gap_mm <= 0 or line.path is not None:
        return _NOT_CLOSED
    asked = SlitsAsked(_seam_asked(line.pair(a, b, there), bar), line.gap_mm, line.size, line.wish.hole)
    return _slits.get(asked, partial(_closed, asked))


def _closed(asked: SlitsAsked) -> Closed:
    """Slits between two letters, or a letter and what joins them, closed; a letter's own stay."""
    seam = asked.seam.seam
    ends = [seam.left, seam.right, *([] if seam.between is None else [seam.between])]
    whole = polygonal(shapely.union_all(ends))
    in_mm, in_shares = Placement(scale=asked.size), Placement(scale=1 / asked.size)
    found = []
    for slot in slots(in_mm.region(whole), asked.gap_mm):
        region = in_shares.region(slot.region)
        beside = sum(bool(shapely.dwithin(region, end, LETTER_FLATNESS)) for end in ends)
        if slot.slit and beside > 1:
            found.append(region)
    if not found:
        return _NOT_CLOSED
    # A little over both edges, so that nothing is left between.
    wider = shapely.buffer(shapely.union_all(found), 2 * LETTER_FLATNESS, join_style="mitre")
    fill = polygonal(shapely.simplify(wider, LETTER_FLATNESS / 2))
    touched = shapely.buffer(fill, LETTER_FLATNESS)
    new = [
        hole
        for hole in holes_of(polygonal(shapely.union(whole, fill)))
        if shapely.intersects(hole, touched) and shapely.buffer(hole, -asked.hole / 2).is_empty
    ]
    return Closed(fill, tuple(new))


def _whites(line: Line, a: SetLetter, b: SetLetter, shift: float) -> tuple[float, float]:
    """The white between two letters, as they end up and as the face sets them."""
    there = line.between(a, b)
    if line.path is not None:
        pair = line.pair(a, b, there)
        left, right = (reach_of(seen.body.region, line.hand.x_height) for seen in (pair.left, pair.right))
        now = gaps_between(left, right, 0.0)
        return white(now), white(now, -shift)
    set_apart = there.x - shift - (b.by_hand - a.by_hand)
    left, right = _reach(a, line.hand.x_height), _reach(b, line.hand.x_height)
    as_set = white(gaps_between(left, right, set_apart))
    if there.y:
        right = reach_of(_body(b).region, line.hand.x_height, there.y)
    return white(gaps_between(left, right, there.x)), as_set


def _measured(line: Line, a: SetLetter, b: SetLetter, there: Placement, bar: Addition | None) -> Seam:
    asked = _seam_asked(line.pair(a, b, there), bar)
    return _seams.get(asked, lambda: asked.seam)


def _facing(left: Body, right: Body) -> tuple[Body, Body]:
    """Of letters drawn in several strokes, the strokes that face each other: they make the seam."""
    return _nearest_parts(left, right), _nearest_parts(right, left)


def _nearest_parts(letter: Body, neighbour: Body) -> Body:
    parts = shapely.get_parts(letter.region)
    if len(parts) < 2:
        return letter
    distances = shapely.distance(parts, neighbour.region)
    return Body(polygonal(shapely.MultiPolygon(list(parts[distances <= distances.min() + TOUCH]))))


def _trimmed(letters: Sequence[SetLetter], seams: Sequence[LineSeam]) -> tuple[SetLetter, ...]:
    """The letters with their stubs taken off."""
    patches: dict[int, list[Region]] = {}
    for seam in seams:
        for trim in seam.trimmed:
            whose, lies = (seam.left, seam.own) if trim.stub.of_left else (seam.right, seam.there)
            patches.setdefault(whose, []).append(lies.region_back(trim.patch))
    return tuple(
        replace(letter, form=_cut(letter, polygonal(shapely.union_all(patches[letter.at]))))
        if letter.at in patches
        else letter
        for letter in letters
    )


def _cut(letter: SetLetter, patch: Region) -> Shape:
    patch = polygonal(shapely.set_precision(patch, _STEP))
    key = (letter.key, letter.form.step_key, shapely.to_wkb(patch))
    return _cut_forms.get(key, lambda: cut_out(letter.form, patch))


def _with_marks(
    line: Line, trimmed: Sequence[SetLetter]
) -> tuple[tuple[SetLetter, ...], dict[int, tuple[SettledMark, ...]]]:
    """The letters with their dots and accents settled, and what became of each."""
    settled: dict[int, tuple[SettledMark, ...]] = {}
    join, wish = line.join, line.wish
    letters = list(trimmed)
    for index, letter in enumerate(line.letters):
        marks = _bits(letter)[1]
        if marks.is_empty:
            continue
        change = line.change(letter)
        way = change.marks or join.marks
        if letter.text in LIKE_BITS and way is MarkWay.LOWER:
            way = MarkWay.BRIDGE
        shape = change.mark_shape or join.mark_shape
        near = tuple(
            Seen(other.key, _on_step(line.from_letter(letter, other)), other)
            for n, other in enumerate(line.letters)
            if n != index and abs(n - index) <= _NEAR_BY and _meets(line, letter, marks, other)
        )
        bar = wish.neck * join.mark_bar_mm / join.neck_mm if join.mark_bar_mm else None
        form = letters[index].form
        asked = MarksAsked(
            letter.key, form.step_key, near, way, shape, wish.neck, wish.hole, bar, letter, form
        )
        result = _settled.get(asked, partial(_settled_mark, asked))
        settled[letter.at] = result.marks
        letters[index] = replace(letters[index], form=result.form)
    return tuple(letters), settled


def _meets(line: Line, letter: SetLetter, marks: Region, other: SetLetter) -> bool:
    """Whether another letter's box meets that of a letter's marks: else it cannot hold them."""
    there = line.from_letter(letter, other)
    left, top, right, bottom = marks.bounds
    if there.turn:
        x0, y0, x1, y1 = there.region(other.form.region).bounds
    else:
        box = other.form.box
        x0, y0, x1, y1 = box.x + there.x, box.y + there.y, box.right + there.x, box.bottom + there.y
    return bool(x0 <= right and x1 >= left and y0 <= bottom and y1 >= top)


def _settled_mark(asked: MarksAsked) -> Settled:
    others = [seen.body.region for seen in asked.near]
    instead = asked.instead.drawn if asked.instead else None
    return settle(
        asked.form, *_bits(asked.drawn), others, asked.way, asked.neck, instead, asked.hole, asked.bar,
        chained=asked.drawn.text in LIKE_BITS,
    )  # fmt: skip


_NEAR_BY = 2
"""A mark may be held by a letter this many places away."""


def _ties(line: Line, pairs: Mapping[int, int], bars: Sequence[Patch]) -> list[Patch]:
    """Bridges for what hangs loose within each row of neighbours."""
    letters = line.letters
    found: list[Patch] = []
    rows: list[list[int]] = []
    for left, right in pairs.items():
        if rows and rows[-1][-1] == left:
            rows[-1].append(right)
        else:
            rows.append([left, right])
    # Letters that a hand has moved apart stay so; only what one letter is drawn of is tied.
    by_hand = {n for row in rows for n in row if len({(letters[m].by_hand, letters[m].y) for m in row}) > 1}
    rows = [part for row in rows for part in ([[n] for n in row] if by_hand.intersection(row) else [row])]
    lone = set(range(len(letters))) - {n for row in rows for n in row}
    rows += [[n] for n in sorted(lone) if letters[n].text not in APART | HANGING]
    for row in rows:
        first = letters[row[0]]
        if len(row) == 1 and shapely.get_num_geometries(_body(first).region) < 2:
            continue
        pieces = [line.seen_from(first, letters[n]) for n in row]
        orders = {letters[n].order for n in row}
        added = [_from_letter(line, first, b) for b in bars if b.stand.order in orders]
        most = len(pieces) * _MOST_DRAWN_OF
        bridges = tied_together([*pieces, *added], line.wish.neck, 1e-5, most)
        found += [_patch(line, first, bar) for bar in bridges]
    return found


_MOST_DRAWN_OF = 60
"""A letter drawn of more parts than this is not tied together: it is a pattern of dots."""


def _from_letter(line: Line, first: SetLetter, patch: Patch) -> Region:
    """A patch in the frame of a letter of its line."""
    there = line.seen(first.stand, patch.stand)
    if line.path is not None:
        there = line.frame(patch.stand).seen_from(line.frame(first.stand))
    return there.region(patch.shape.region)


def _stray_pinholes(line: Line, bars: Sequence[Patch], fills: Sequence[Patch]) -> list[Patch]:
    """Pinholes between letters that are not neighbours, such as a swash and the letter after next."""
    first = line.letters[0]
    bodies = [line.seen_from(first, letter) for letter in line.letters]
    added = [_from_letter(line, first, bar) for bar in bars]
    if not _others_meet(bodies, added, line.neighbours):
        return []
    known = np.array([hole.area for body in bodies for hole in holes_of(body)])
    filled = [_from_letter(line, first, fill) for fill in fills]
    found = []
    for hole in holes_of(polygonal(shapely.union_all([*bodies, *added]))):
        if hole.area < _FLECK or (np.abs(known - hole.area) <= 1e-3 * known + _FLECK).any():
            continue
        if not shapely.buffer(hole, -line.wish.hole / 2).is_empty:
            continue
        if not any(shapely.intersects(hole, region) for region in filled):
            shape = straight_sided(hole, LETTER_FLATNESS)
            found.append(Patch(line.number, first.stand, shape))
    return found


def _others_meet(bodies: Sequence[Region], added: Sequence[Region], neighbours: Mapping[int, int]) -> bool:
    """Whether letters meet that are not neighbours, by themselves or by what was added: nothing else encloses
    a hole that no seam knows of."""
    everything = np.array([*bodies, *added], object)
    one, other = shapely.STRtree(everything).query(everything, predicate="intersects")
    count = len(bodies)
    meets = {(a, b) for a, b in zip(one.tolist(), other.tolist(), strict=True) if a < b}
    if any(b < count and neighbours.get(a) != b for a, b in meets):
        return True
    by_added: dict[int, list[int]] = {}
    for a, b in meets:
        if b >= count:
            by_added.setdefault(b, []).append(a)
    return any(len(held) != 2 or neighbours.get(min(held)) != max(held) for held in by_added.values())


_FLECK = 1e-6
"""A smaller hole is left by rounding."""


def _patch(line: Line, letter: SetLetter, bar: Addition) -> Patch:
    return Patch(line.number, letter.stand, bar.shape)


def _body(letter: SetLetter) -> Body:
    def body() -> Body:
        if letter.stands_in:
            return Body(letter.form.region)
        return Body(body_and_marks(letter.text, letter.form.region)[0])

    return _bodies.get(letter.key, body)


def _turned_body(letter: SetLetter, turn: float) -> Body:
    steps = round(turn / _STEP_DEGREES)
    turn = steps * _STEP_DEGREES
    key = (letter.key, steps)
    return _turned.get(key, lambda: Body(Placement(turn=turn).region(_body(letter).region)))


def _reach(letter: SetLetter, x_height: float) -> Reach:
    return _reaches.get((letter.key, x_height), lambda: reach_of(_body(letter).region, x_height))


def _bits(letter: SetLetter) -> tuple[Region, Region]:
    """What the detached bits of a letter hang on, and those bits."""
    if letter.stands_in:
        return letter.form.region, shapely.MultiPolygon()
    return _loose_bits.get(letter.key, lambda: carrier_and_bits(letter.text, letter.form.region))


# What is known of letters and pairs, for every word and size they come in.
_bodies: Bounded[FormKey, Body] = Bounded(16 * 2**20)
_turned: Bounded[tuple[FormKey, int], Body] = Bounded(12 * 2**20)
_reaches: Bounded[tuple[FormKey, float], Reach] = Bounded(4 * 2**20)
_loose_bits: Bounded[FormKey, tuple[Region, Region]] = Bounded(8 * 2**20)
_settled: Bounded[MarksAsked, Settled] = Bounded(16 * 2**20)
_bars: Bounded[BarAsked, Addition | None] = Bounded(4 * 2**20)
_options: Bounded[PairAsked, Choices] = Bounded(48 * 2**20)
_decided: Bounded[tuple[tuple[Choices, ...], float], list[Option]] = Bounded(4 * 2**20)
_sure: Bounded[tuple[SeamAsked, float], bool] = Bounded(2 * 2**20)
_slits: Bounded[SlitsAsked, Closed] = Bounded(4 * 2**20)
_seams: Bounded[SeamAsked, Seam] = Bounded(40 * 2**20)
_cut_forms: Bounded[tuple[object, ...], Shape] = Bounded(8 * 2**20)
