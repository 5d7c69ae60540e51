"""Seams of a line measured, stubs cut, and slits closed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

import shapely

from fulgen.bounded import BoundedCache
from fulgen.geometry.operations import cut_out
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, holes_of, polygonal
from fulgen.geometry.shape import Shape
from fulgen.geometry.thin import slots
from fulgen.joining.letter_gap import gaps_between, letter_gap, scan_extent
from fulgen.joining.line_of_letters import (
    STEP,
    LineOfLetters,
    LineSeam,
    Pair,
    body_of_letter,
    extent_of_letter,
)
from fulgen.joining.pair_joining import Joint
from fulgen.joining.seam import Seam, Trim
from fulgen.joining.stroke_extensions import Addition
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import SetLetter
from fulgen.lettering.letters import Way


@dataclass(frozen=True)
class SeamRequest:
    """The seam of two neighbours with what is added to them, by its key."""

    pair: Pair
    added: str
    bar: Addition | None = field(compare=False)

    kept_bytes = 2_500

    @property
    def seam(self) -> Seam:
        if self.bar is None:
            left, right = self.pair.facing
            return Seam(left.region, right.region, None, (left, right))
        left, right = self.pair.joined_by(self.bar.region)
        return Seam(left.region, right.region, self.bar.region, (left, right))


@dataclass(frozen=True)
class SlitsRequest:
    """The slits that a seam leaves: the seam, the gap that is too narrow to weed, the size, both in mm, and
    the width of a hole that is, as a share of the size."""

    seam: SeamRequest
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


def seam_request(pair: Pair, bar: Addition | None) -> SeamRequest:
    return SeamRequest(pair, "" if bar is None else bar.shape.step_key, bar)


def finish_seam(
    line: LineOfLetters, left: int, right: int, joint: Joint
) -> tuple[LineSeam, tuple[Region, ...], Region | None]:
    """The seam as it ends up, the pinholes to be filled, and what closes its slits."""
    a, b = line.letters[left], line.letters[right]
    there = line.between(a, b)
    look: Callable[[], Seam] = partial(measure_seam, line, a, b, there, joint.bar)
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
        holes = tuple(hole.region for hole in alone.pinholes(line.request.hole)) if fill else ()
    closed = _closing(line, a, b, there, joint.bar) if fill else _NOT_CLOSED
    squeeze = -joint.shift / max(a.form.box.width, 1e-6) if joint.shift < 0 else 0.0
    return (
        LineSeam(
            a.at, b.at, line.number, a.stand, joint, line.between(a, a), there, look,
            partial(line.held_by_others, left, right), partial(letter_gaps, line, a, b, joint.shift), trimmed,
            len(holes), squeeze,
        ),
        (*holes, *closed.holes),
        closed.fill,
    )  # fmt: skip


_NOT_CLOSED = Closed(None, ())


def _closing(
    line: LineOfLetters, a: SetLetter, b: SetLetter, there: Placement, bar: Addition | None
) -> Closed:
    """What closes the slits that a seam leaves. Along a line that bends, that is left to the ready rule."""
    if line.gap_mm <= 0 or line.path is not None:
        return _NOT_CLOSED
    asked = SlitsRequest(seam_request(line.pair(a, b, there), bar), line.gap_mm, line.size, line.request.hole)
    return _slits.get(asked, partial(_closed, asked))


def _closed(asked: SlitsRequest) -> Closed:
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


def letter_gaps(line: LineOfLetters, a: SetLetter, b: SetLetter, shift: float) -> tuple[float, float]:
    """The white between two letters, as they end up and as the face sets them."""
    there = line.between(a, b)
    if line.path is not None:
        pair = line.pair(a, b, there)
        left, right = (scan_extent(seen.body.region, line.hand.x_height) for seen in (pair.left, pair.right))
        now = gaps_between(left, right, 0.0)
        return letter_gap(now), letter_gap(now, -shift)
    set_apart = there.x - shift - (b.by_hand - a.by_hand)
    left, right = extent_of_letter(a, line.hand.x_height), extent_of_letter(b, line.hand.x_height)
    as_set = letter_gap(gaps_between(left, right, set_apart))
    if there.y:
        right = scan_extent(body_of_letter(b).region, line.hand.x_height, there.y)
    return letter_gap(gaps_between(left, right, there.x)), as_set


def measure_seam(
    line: LineOfLetters, a: SetLetter, b: SetLetter, there: Placement, bar: Addition | None
) -> Seam:
    asked = seam_request(line.pair(a, b, there), bar)
    return _seams.get(asked, lambda: asked.seam)


def with_stubs_cut(letters: Sequence[SetLetter], seams: Sequence[LineSeam]) -> tuple[SetLetter, ...]:
    """The letters with their stubs taken off."""
    patches: dict[int, list[Region]] = {}
    for seam in seams:
        for trim in seam.trimmed:
            whose, lies = (seam.left, seam.own) if trim.stub.of_left else (seam.right, seam.there)
            patches.setdefault(whose, []).append(lies.region_back(trim.patch))
    return tuple(
        replace(letter, form=cut_stub(letter, polygonal(shapely.union_all(patches[letter.at]))))
        if letter.at in patches
        else letter
        for letter in letters
    )


def cut_stub(letter: SetLetter, patch: Region) -> Shape:
    patch = polygonal(shapely.set_precision(patch, STEP))
    key = (letter.key, letter.form.step_key, shapely.to_wkb(patch))
    return _cut_forms.get(key, lambda: cut_out(letter.form, patch))


_slits: BoundedCache[SlitsRequest, Closed] = BoundedCache(4 * 2**20)


_seams: BoundedCache[SeamRequest, Seam] = BoundedCache(40 * 2**20)


_cut_forms: BoundedCache[tuple[object, ...], Shape] = BoundedCache(8 * 2**20)
