"""Dots and accents of a line, lowered or tied once its letters are joined."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from fulgen.bounded import BoundedCache
from fulgen.geometry.polygons import Region
from fulgen.geometry.shape import Shape
from fulgen.joining.line_of_letters import LetterView, LineOfLetters, body_and_bits, on_step
from fulgen.joining.line_ties import NEAR_BY
from fulgen.joining.marks import Settled, SettledMark, settle
from fulgen.lettering.bodies import LIKE_BITS
from fulgen.lettering.layout import FormKey, SetLetter
from fulgen.lettering.letters import MarkWay
from fulgen.lettering.stand_ins import StandIn


@dataclass(frozen=True)
class MarksRequest:
    """What becomes of the dots and accents of a letter: the letter as it is drawn and, by its key, as it is
    trimmed, the letters near by, what is wished, and how wide a bar to a mark is."""

    letter: FormKey
    trimmed: str
    near: tuple[LetterView, ...]
    way: MarkWay
    instead: StandIn | None
    neck: float
    hole: float
    bar: float | None
    drawn: SetLetter = field(compare=False)
    form: Shape = field(compare=False)

    kept_bytes = 2_500


def with_marks(
    line: LineOfLetters, trimmed: Sequence[SetLetter]
) -> tuple[tuple[SetLetter, ...], dict[int, tuple[SettledMark, ...]]]:
    """The letters with their dots and accents settled, and what became of each."""
    settled: dict[int, tuple[SettledMark, ...]] = {}
    join, request = line.join, line.request
    letters = list(trimmed)
    for index, letter in enumerate(line.letters):
        marks = body_and_bits(letter)[1]
        if marks.is_empty:
            continue
        change = line.change(letter)
        way = change.marks or join.marks
        if letter.text in LIKE_BITS and way is MarkWay.LOWER:
            way = MarkWay.BRIDGE
        shape = change.mark_shape or join.mark_shape
        near = tuple(
            LetterView(other.key, on_step(line.from_letter(letter, other)), other)
            for n, other in enumerate(line.letters)
            if n != index and abs(n - index) <= NEAR_BY and _meets(line, letter, marks, other)
        )
        bar = request.neck * join.mark_bar_mm / join.neck_mm if join.mark_bar_mm else None
        form = letters[index].form
        asked = MarksRequest(
            letter.key, form.step_key, near, way, shape, request.neck, request.hole, bar, letter, form
        )
        result = _settled.get(asked, partial(_settled_mark, asked))
        settled[letter.at] = result.marks
        letters[index] = replace(letters[index], form=result.form)
    return tuple(letters), settled


def _meets(line: LineOfLetters, letter: SetLetter, marks: Region, other: SetLetter) -> bool:
    """Whether another letter's box meets that of a letter's marks: else it cannot hold them."""
    there = line.from_letter(letter, other)
    left, top, right, bottom = marks.bounds
    if there.turn:
        x0, y0, x1, y1 = there.region(other.form.region).bounds
    else:
        box = other.form.box
        x0, y0, x1, y1 = box.x + there.x, box.y + there.y, box.right + there.x, box.bottom + there.y
    return bool(x0 <= right and x1 >= left and y0 <= bottom and y1 >= top)


def _settled_mark(asked: MarksRequest) -> Settled:
    others = [seen.body.region for seen in asked.near]
    instead = asked.instead.drawn if asked.instead else None
    return settle(
        asked.form, *body_and_bits(asked.drawn), others, asked.way, asked.neck, instead, asked.hole,
        asked.bar, chained=asked.drawn.text in LIKE_BITS,
    )  # fmt: skip


_settled: BoundedCache[MarksRequest, Settled] = BoundedCache(16 * 2**20)
