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
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import shapely

from fulgen.bounded import BoundedCache
from fulgen.geometry.operations import straight_sided
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.polygons import moved as moved_by
from fulgen.joining.heights import Hand, ends_high
from fulgen.joining.join_options import JoinOptions
from fulgen.joining.letter_gap import gaps_between, letter_gap, overlapping, scan_extent
from fulgen.joining.line_finish import SeamRequest, finish_seam, seam_request, with_stubs_cut
from fulgen.joining.line_marks import with_marks
from fulgen.joining.line_of_letters import (
    STEP,
    JoinedLines,
    LetterView,
    LineOfLetters,
    LineSeam,
    Pair,
    Patch,
    extent_of_letter,
    on_step,
    patch_on_letter,
    place_before_hands,
    stepped,
)
from fulgen.joining.line_ties import stray_pinholes, ties_of_line
from fulgen.joining.materials import Weedable
from fulgen.joining.pair_joining import (
    CLEARANCE,
    JoinRequest,
    Joint,
    Neighbours,
    Option,
    needed,
    options,
    relaid,
)
from fulgen.joining.rhythm import Choices, decide
from fulgen.joining.seam import WIDEST_NECK
from fulgen.joining.strength import held_together
from fulgen.joining.stroke_extensions import Addition
from fulgen.lettering.course import Path
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import Lines, SetLetter
from fulgen.lettering.letters import LetterChange, Way


@dataclass(frozen=True)
class PairRequest:
    """What can be done between two neighbours: the two, the signs that hang between them, what is wished, how
    the face is written, and whether their line is straight."""

    pair: Pair
    signs: tuple[LetterView, ...]
    request: JoinRequest
    hand: Hand
    straight: bool

    kept_bytes = 2_500


@dataclass(frozen=True)
class BarRequest:
    """What is added to two neighbours that a hand has moved: the two, what is wished, and its kind."""

    pair: Pair
    request: JoinRequest
    kind: str
    hand: Hand

    kept_bytes = 2_500


def join_lines(
    lines: Lines,
    size: float,
    spacing: float,
    join: JoinOptions,
    changes: Mapping[int, LetterChange],
    least: Weedable,
    hand: Hand,
    along: Sequence[tuple[Path, float]] = (),
    in_place: bool = False,
    only_slid: bool = False,
) -> JoinedLines:
    """Lines joined at a size in mm, with a letter spacing in mm; holes and slits narrower than the ``least``
    are too small to weed. ``hand`` is how the face is written. ``along`` are the paths that lines follow, in
    mm, with where each starts on its own. ``in_place``: letters are joined without
    sliding, for the room between them is asked for."""
    # No stroke is wider than necks are measured, so more is not worth trying for.
    neck = min(rounded_up(join.neck_mm / size, NECK_STEP), 0.8 * WIDEST_NECK)
    request = JoinRequest(neck, rounded_up(least.hole_mm / size, HOLE_STEP), in_place=in_place)
    step = spacing / size
    joined = []
    for n, letters in enumerate(lines):
        line = LineOfLetters(n, letters, step, request, join, changes, hand, least.gap_mm, stepped(size))
        if along:
            path, start = along[n]
            line = replace(line, path=path.scaled(1 / size), start=start / size)
        joined.append(_joined(line, only_slid))
    return JoinedLines(
        tuple(j.lines[0] for j in joined),
        tuple(s for j in joined for s in j.seams),
        tuple(b for j in joined for b in j.bars),
        tuple(f for j in joined for f in j.fills),
        {at: marks for j in joined for at, marks in j.marks.items()},
    )


def _joined(line: LineOfLetters, only_slid: bool) -> JoinedLines:
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
        return JoinedLines((tuple(letters),), (), (), (), {})
    line = replace(line, letters=letters)
    seams: list[LineSeam] = []
    bars: list[Patch] = []
    fills: list[Patch] = []
    for left, right in line.neighbours.items():
        a = letters[left]
        joint = _laid_anew(line, joints[left], a, letters[right])
        seam, taken, closing = finish_seam(line, left, right, joint)
        seams.append(seam)
        if joint.bar is not None:
            bars.append(patch_on_letter(line, a, joint.bar))
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
        bars += ties_of_line(line, tied, bars)
        if any(joint.shift or joint.bar for joint in joints.values()):
            fills += stray_pinholes(line, bars, fills)
    settled, marks = with_marks(line, with_stubs_cut(letters, seams))
    return JoinedLines((settled,), tuple(seams), tuple(bars), tuple(fills), marks)


NECK_STEP, HOLE_STEP = 0.003, 0.01
"""What is asked of a pair is rounded up to these, so that a word a hair larger asks for the same and
nothing is worked out anew: at a size of 40 mm a neck is up to 0.12 mm wider than asked."""


def rounded_up(share: float, step: float) -> float:
    """A share as a whole number of steps, no less than it is."""
    return round(math.ceil(share / step - 1e-9) * step, 6)


def _joints_of(line: LineOfLetters) -> dict[int, Joint]:
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


def _on_the_line(line: LineOfLetters, left: int, right: int, joint: Joint) -> Joint:
    """A joint as it is to be where letters have slid along a line that bends: looked at again there, for the
    two are turned against each other in another way than where they were set."""
    a, b = line.letters[left], line.letters[right]
    kept = line.change(a).seam.way in (Way.LEAVE, Way.APART) or joint.way is Way.APART
    if line.path is None or not line.auto or kept:
        return joint
    if abs(joint.shift) >= STEP:
        there = _choices(line, a, line.letters[left + 1 : right], b, joint.shift)
        again = min(there.options, key=lambda option: option.cost).joint
        way = Way.SLIDE if again.way is Way.LEAVE else again.way
        joint = replace(again, way=way, shift=joint.shift + again.shift)
    return _made_sure(line, a, b, joint)


_CLOSER, _CLOSER_STEPS = 0.004, 8
"""So much closer two letters are slid, and so often, where they lie a hair off what was looked at."""


def _made_sure(line: LineOfLetters, a: SetLetter, b: SetLetter, joint: Joint) -> Joint:
    """The joint so that it holds exactly where the letters will lie: what is done was worked out for a place
    near it."""
    at = place_before_hands(a)
    for step in range(_CLOSER_STEPS):
        shift = joint.shift - step * _CLOSER
        pair = line.pair(a, b, line.seen(at, place_before_hands(b, shift)))
        asked = seam_request(pair, joint.bar)
        if _sure.get((asked, line.request.neck), partial(_holds, asked, line.request.neck)):
            way = Way.SLIDE if step and joint.way is Way.LEAVE else joint.way
            return replace(joint, way=way, shift=shift) if step else joint
        if joint.bar is not None:
            laid = relaid(_neighbours(pair, line.hand), line.request, joint.bar.kind)
            return replace(joint, bar=laid if laid is not None else joint.bar)
    return joint


def _holds(asked: SeamRequest, neck: float) -> bool:
    left, right = asked.pair.facing
    return held_together(asked.seam.whole, left, right, needed(left, right, neck))


def _choices(
    line: LineOfLetters, left: SetLetter, hanging: Sequence[SetLetter], right: SetLetter, slid: float = 0.0
) -> Choices:
    """What can be done between two neighbours where the face sets them, or the right one has slid to."""
    choice = line.change(left).seam
    way = choice.way

    if way is None and not line.auto:
        way = Way.LEAVE
    at = place_before_hands(left)
    request = replace(line.request, way=way, flow=choice.flow if way is Way.FLOW else None)
    there = line.about(line.seen(at, place_before_hands(right, slid)))
    signs = tuple(
        LetterView(h.key, on_step(line.about(line.seen(at, place_before_hands(h, slid / 2)))), h)
        for h in hanging
    )
    asked = PairRequest(line.pair(left, right, there), signs, request, line.hand, line.path is None)
    return _options.get(asked, partial(_worked_out, asked))


def _worked_out(asked: PairRequest) -> Choices:
    request, x_height, there = asked.request, asked.hand.x_height, asked.pair.right.place
    body, other = asked.pair.facing
    signs = [sign.place.region(sign.letter.form.region) for sign in asked.signs]
    room = _room_under(body.region, signs, other.region) if request.may_slide else 0.0
    if asked.straight:
        left, right = (
            extent_of_letter(seen.letter, x_height) for seen in (asked.pair.left, asked.pair.right)
        )
        gaps = gaps_between(left, right, there.x - room)
    else:
        gaps = gaps_between(scan_extent(body.region, x_height), scan_extent(other.region, x_height), -room)
    found = options(_neighbours(asked.pair, asked.hand, room), request, gaps)
    moved = [replace(o, joint=replace(o.joint, shift=o.joint.shift - room)) for o in found]
    return Choices(
        tuple(moved), letter_gap(gaps), overlapping(gaps), fixed=request.way is not None or room > 0
    )


def _neighbours(pair: Pair, hand: Hand, nearer: float = 0.0) -> Neighbours:
    """Two neighbours to be joined, the right one so much nearer than it lies."""
    left, right = pair.facing
    there, marks = pair.right.place, pair.right.marks
    return Neighbours(
        left=left,
        right=right.moved(-nearer, 0.0),
        hand=hand,
        left_marks=pair.left.marks,
        right_marks=moved_by(marks, -nearer, 0.0),
        ends_high=ends_high(pair.left.letter.text),
        there=replace(there, x=there.x - nearer),
    )


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


def _laid_anew(line: LineOfLetters, joint: Joint, a: SetLetter, b: SetLetter) -> Joint:
    """The joint with its bar laid to where a hand has moved the letters; without it, where they are now
    so far apart that no bar goes across."""
    bar = joint.bar
    if bar is None or (a.by_hand == b.by_hand and a.y == b.y):
        return joint
    choice = line.change(a).seam
    request = replace(line.request, way=choice.way, flow=choice.flow)
    asked = BarRequest(line.pair(a, b, line.between(a, b)), request, bar.kind, line.hand)
    # Only the bar is remembered: the same places can come from another slide and another hand.
    return replace(joint, bar=_bars.get(asked, partial(_laid, asked)))


def _laid(asked: BarRequest) -> Addition | None:
    return relaid(_neighbours(asked.pair, asked.hand), asked.request, asked.kind)


_bars: BoundedCache[BarRequest, Addition | None] = BoundedCache(4 * 2**20)


_options: BoundedCache[PairRequest, Choices] = BoundedCache(48 * 2**20)


_decided: BoundedCache[tuple[tuple[Choices, ...], float], list[Option]] = BoundedCache(4 * 2**20)


_sure: BoundedCache[tuple[SeamRequest, float], bool] = BoundedCache(2 * 2**20)
