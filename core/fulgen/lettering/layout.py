"""Rows of letters as lines on the work, at the size a maker measures.

A maker measures the finished thing: its overall width, its overall height, or the height of a
capital. The face's own size (the em, in mm) follows from that. Lines are aligned by what will be
cut, not by the invisible room around letters.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from fulgen.bounded import Bounded
from fulgen.geometry.offset import Corners, offset
from fulgen.geometry.outline import Floats
from fulgen.geometry.weld import Shape
from fulgen.lettering.catalogue import families_with
from fulgen.lettering.faces import Face
from fulgen.lettering.reshape import Reshaping, reshaped
from fulgen.lettering.shaping import (
    Features,
    LetterKey,
    ShapedLetter,
    Special,
    clusters,
    missing_letters,
    shape_line,
)
from fulgen.lettering.stand_ins import fitted, library_shape, own_shape
from fulgen.problem import Problem
from fulgen.units import show_length

Align = Literal["left", "centre", "right"]
SizeMeasure = Literal["width", "height", "capitals"]

MAX_EXTENT_MM = 10_000.0
"""Nothing is set wider or higher: no blank is that large, and outlines stay exact."""

_ALIGN_SHARE = {"left": 0.0, "centre": 0.5, "right": 1.0}


@dataclass(frozen=True)
class StandIn:
    """A shape in place of a letter: one of the library by its name, or the maker's own as path data; as high
    as the letter ("height") or filling its box ("box")."""

    name: str
    d: str = ""
    to: str = "height"

    @property
    def shape(self) -> Shape:
        return own_shape(self.d) if self.d else library_shape(self.name)


@dataclass(frozen=True)
class Work:
    """What is done to a letter's shape, in this order: nodes changed or a shape put in its place, scaled
    about its origin and turned (degrees clockwise) about its middle, and its edge moved outwards by
    ``thicker``, a share of the size."""

    reshaping: Reshaping | None = None
    stand_in: StandIn | None = None
    turn: float = 0.0
    scale: float = 1.0
    thicker: float = 0.0
    corners: Corners = "round"


@dataclass(frozen=True, eq=False)
class Own:
    """What a hand has done to one letter; lengths are shares of the size.

    dx, dy: how far this letter alone is moved. carry: how far it and all that follow on the line are
    moved. after: room added behind it. turn: degrees clockwise about its middle. scale: its size among
    the others. special: a face or features of its own. reshaping: its nodes changed. stand_in: a shape in
    its place.
    """

    dx: float = 0.0
    dy: float = 0.0
    carry: float = 0.0
    after: float = 0.0
    turn: float = 0.0
    scale: float = 1.0
    special: Special | None = None
    reshaping: Reshaping | None = None
    stand_in: StandIn | None = None


@dataclass(frozen=True, eq=False)
class Setting:
    """How words are to be set. Lengths in mm; shares are of the size (the em). ``own`` is what a hand
    has done, by the place of the letter's first character in the text; ``kinds`` are the nodes changed of
    every letter of a kind. ``thicker`` is how far every edge is moved outwards, a share."""

    text: str
    face: Face
    measure: SizeMeasure
    size: float
    features: Features = ()
    spacing: float = 0.0
    spacing_share: float = 0.0
    line_spacing: float = 1.2
    align: Align = "left"
    own: Mapping[int, Own] = field(default_factory=dict)
    kinds: Mapping[str, Reshaping] = field(default_factory=dict)
    thicker: float = 0.0
    corners: Corners = "round"


FormKey = tuple[LetterKey, Work]
"""What a form depends on: the letter, and what is done to its shape."""


@dataclass(frozen=True, eq=False)
class SetLetter:
    """A letter on its line, for a size of 1: the place of its first character in the text, its origin
    with all that moves it and the part of it that hands have done, how many letters come before it,
    its shape and what that depends on, and its shape as the face draws it."""

    text: str
    at: int
    x: float
    y: float
    by_hand: float
    order: int
    key: FormKey
    form: Shape
    drawn: Shape

    @property
    def stands_in(self) -> bool:
        """Whether a shape stands in the letter's place."""
        return self.key[1].stand_in is not None

    def from_drawn(self, x: float, y: float) -> tuple[float, float]:
        """Where a point of the letter as the face draws it is on its form."""
        work, box = self.key[1], self.drawn.box
        middle = complex(box.x + box.width / 2, box.y + box.height / 2) * work.scale
        z = (complex(x, y) * work.scale - middle) * cmath.exp(1j * math.radians(work.turn)) + middle
        return z.real, z.imag

    def to_drawn(self, x: float, y: float) -> tuple[float, float]:
        """The point of the letter as the face draws it that is here on its form."""
        work, box = self.key[1], self.drawn.box
        middle = complex(box.x + box.width / 2, box.y + box.height / 2) * work.scale
        z = ((complex(x, y) - middle) * cmath.exp(-1j * math.radians(work.turn)) + middle) / work.scale
        return z.real, z.imag


Lines = tuple[tuple[SetLetter, ...], ...]


@dataclass(frozen=True, eq=False)
class PlacedLetter:
    """A letter on the work: its line number and its origin in mm."""

    letter: SetLetter
    line: int
    x: float
    y: float

    @property
    def text(self) -> str:
        return self.letter.text

    @property
    def form(self) -> Shape:
        return self.letter.form


@dataclass(frozen=True, eq=False)
class Layout:
    """Letters in reading order, the size of the face in mm, and for each line its baseline and the x
    at which its own 0 lies.

    The first baseline is y = 0; the leftmost edge of the widest line is x = 0.
    """

    letters: tuple[PlacedLetter, ...]
    size: float
    baselines: tuple[float, ...]
    starts: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class _Row:
    """Edges of a line's letters at size s and spacing m: lefts·s + order·m, rights·s + order·m."""

    lefts: Floats
    rights: Floats
    order: Floats
    top: float
    bottom: float

    def extent(self, size: float, spacing: float) -> tuple[float, float]:
        if not len(self.order):
            return 0.0, 0.0
        return (
            float((self.lefts * size + self.order * spacing).min()),
            float((self.rights * size + self.order * spacing).max()),
        )


def lay_out(setting: Setting) -> Layout:
    """The words set and sized. Raises Problem when they cannot be: no letters, letters the
    face lacks, or a size that the spacing makes impossible."""
    lines = set_lines(setting)
    return place(setting, lines, size_of(setting, lines))


def set_lines(setting: Setting) -> Lines:
    """The letters of each line as the face sets them and hands have moved them; spaces are left out.

    Raises Problem when there are none, or the face lacks some.
    """
    _have_letters(setting)
    lines = []
    start = 0
    for text in setting.text.split("\n"):
        specials = {
            at - start: own.special
            for at, own in setting.own.items()
            if own.special and start <= at < start + len(text)
        }
        letters: list[SetLetter] = []
        moved = wider = 0.0
        for order, shaped in enumerate(shape_line(setting.face, text, setting.features, specials)):
            own = setting.own.get(start + shaped.at, _AS_SET)
            moved += own.carry
            work = _work(setting, own, shaped.text)
            form = _formed(shaped, work)
            hand = moved + own.dx
            x = shaped.x + wider + order * setting.spacing_share + hand
            if form:
                letters.append(
                    SetLetter(
                        shaped.text, start + shaped.at, x, own.dy, hand, order,
                        (shaped.key, work), form, shaped.shape,
                    )
                )  # fmt: skip
            moved += own.after
            wider += shaped.advance * (own.scale - 1)  # a larger letter takes more room
            if work.stand_in and form:
                wider += _wider_by(work.stand_in, shaped) * own.scale
        lines.append(tuple(letters))
        start += len(text) + 1
    if not any(lines):
        raise Problem("no-letters", "There is nothing to cut yet.", "Type a word.", "text")
    return tuple(lines)


_AS_SET = Own()


def _work(setting: Setting, own: Own, text: str) -> Work:
    # Spaces have no shape to change.
    stand_in = own.stand_in if not text.isspace() else None
    reshaping = own.reshaping or setting.kinds.get(text)
    return Work(reshaping, stand_in, own.turn, own.scale, setting.thicker, setting.corners)


_PLAIN = Work()


def _formed(shaped: ShapedLetter, work: Work) -> Shape:
    """The letter's shape with all that is done to it. Raises Problem when nothing of it is left."""
    if work == _PLAIN:
        return shaped.shape
    return _forms.get((shaped.key, work), lambda: _worked(shaped, work))


def _worked(shaped: ShapedLetter, work: Work) -> Shape:
    form = shaped.shape
    if work.stand_in is not None and form:
        form = fitted(work.stand_in.shape, form.box, work.stand_in.to)
    elif work.reshaping is not None and form:
        form = reshaped(form, work.reshaping)
    if work.turn != 0.0 or work.scale != 1.0:
        form = form.turned(work.turn, work.scale)
    if form and work.thicker:
        form = offset(form, work.thicker, work.corners)
        if not form:
            raise Problem(
                "too-thin",
                f"Made so much thinner, nothing is left of {name_of(shaped.text)}.",
                "Thin the lettering by less.",
                "thicken_mm",
            )
    return form


def _wider_by(stand_in: StandIn, shaped: ShapedLetter) -> float:
    """How much more room a stand-in takes than its letter."""
    box = shaped.shape.box
    return fitted(stand_in.shape, box, stand_in.to).box.width - box.width


_forms: Bounded[FormKey, Shape] = Bounded(32 * 2**20, lambda s: 4000 + s.outline.points.nbytes * 12)


def _have_letters(setting: Setting) -> None:
    plain, start = [], 0
    for cluster in clusters(setting.text):
        own = setting.own.get(start)
        if own and own.special and own.special.face and not cluster.isspace():
            face = own.special.face
            if missing_letters(face, cluster):
                raise _lacks(replace(setting, face=face), [cluster])
        else:
            plain.append(cluster)
        start += len(cluster)
    lacking = missing_letters(setting.face, "".join(plain).replace("\n", " "))
    if lacking:
        raise _lacks(setting, lacking)


def place(setting: Setting, lines: Lines, size: float) -> Layout:
    """Set lines at a size in mm, aligned. Raises Problem when the whole would be too large."""
    rows = _rows(lines)
    extents = [row.extent(size, setting.spacing) for row in rows]
    widest = max(right - left for left, right in extents)
    height = size * _height(setting, rows)
    if max(widest, height) > MAX_EXTENT_MM:
        raise Problem(
            "too-large",
            f"The lettering would be {show_length(max(widest, height))} across.",
            f"Fulgen sets up to {MAX_EXTENT_MM / 1000:.0f} m: choose a smaller size or fewer letters.",
            "size",
        )
    placed, starts = [], []
    for number, (letters, (left, right)) in enumerate(zip(lines, extents, strict=True)):
        start = (widest - (right - left)) * _ALIGN_SHARE[setting.align] - left
        starts.append(start)
        y = number * setting.line_spacing * size
        placed += [
            PlacedLetter(s, number, start + s.x * size + s.order * setting.spacing, y + s.y * size)
            for s in letters
        ]
    baselines = tuple(n * setting.line_spacing * size for n in range(len(lines)))
    return Layout(tuple(placed), size, baselines, tuple(starts))


def _rows(lines: Lines) -> list[_Row]:
    rows = []
    for letters in lines:
        boxes = np.array([s.form.box for s in letters]).reshape(-1, 4)
        x, y = np.array([(s.x, s.y) for s in letters]).reshape(-1, 2).T
        rows.append(_Row(
            x + boxes[:, 0], x + boxes[:, 0] + boxes[:, 2], np.array([float(s.order) for s in letters]),
            float((y + boxes[:, 1]).min(initial=np.inf)),
            float((y + boxes[:, 1] + boxes[:, 3]).max(initial=-np.inf)),
        ))  # fmt: skip
    return rows


def _height(setting: Setting, rows: list[_Row]) -> float:
    tops = [row.top + n * setting.line_spacing for n, row in enumerate(rows)]
    bottoms = [row.bottom + n * setting.line_spacing for n, row in enumerate(rows)]
    return max(bottoms) - min(tops)


def size_of(setting: Setting, lines: Lines) -> float:
    """The face's size in mm at which the lettering measures what was asked.

    Raises Problem when the letter spacing makes that impossible.
    """
    rows = _rows(lines)
    if setting.measure == "capitals":
        return setting.size / setting.face.capital_height
    if setting.measure == "height":
        return setting.size / _height(setting, rows)
    filled = [row for row in rows if len(row.order)]
    size = min(_size_for_width(row, setting) for row in filled)
    for row in filled:
        left, right = row.extent(size, setting.spacing)
        # Under its own least size a line is spread by its spacing, and wider again.
        if right - left > setting.size * (1 + 1e-9):
            raise _no_such_width(setting)
    return size


def _size_for_width(row: _Row, setting: Setting) -> float:
    """The largest size at which a line is as wide as asked.

    The width is a convex, piecewise linear function of the size (the greatest of right edges
    less the least of left edges), so Newton's method from above ends at its largest root.
    """
    spacing = setting.spacing
    natural = float(row.rights.max() - row.lefts.min())
    slack = abs(spacing) * len(row.order) * (1 + float(np.ptp(row.order)))
    size = (setting.size + slack) / max(natural, 1e-6) + 1.0
    for _ in range(200):
        last = int(np.argmax(row.rights * size + row.order * spacing))
        first = int(np.argmin(row.lefts * size + row.order * spacing))
        slope = float(row.rights[last] - row.lefts[first])
        if slope <= 0:
            break
        better = (setting.size - float(row.order[last] - row.order[first]) * spacing) / slope
        if better <= 0:
            break
        if abs(better - size) <= 1e-12 * size:
            return better
        size = better
    raise _no_such_width(setting)


def _no_such_width(setting: Setting) -> Problem:
    return Problem(
        "impossible-size",
        f"With this letter spacing no size is {show_length(setting.size)} wide.",
        "Bring the spacing nearer to 0, or choose another width.",
        "spacing",
    )


def _lacks(setting: Setting, lacking: list[str]) -> Problem:
    named = [name_of(letter) for letter in lacking[:6]]
    more = f" and {len(lacking) - 6} more" if len(lacking) > 6 else ""
    able = families_with("".join(lacking)) and families_with(setting.text)
    if able:
        todo = f"Use {' or '.join(able[:3])}, or leave the letter out."
    else:
        todo = "No face here has all of these letters; leave out the ones named."
    return Problem(
        "missing-letters",
        f"{setting.face.name} has no {', '.join(named)}{more}.",
        todo,
        "text",
        able,
    )


def name_of(letter: str) -> str:
    """A letter as it is named to a maker: itself and its code, so that a box glyph is no riddle.

    >>> name_of("Ж")
    '“Ж” (U+0416)'
    """
    codes = " ".join(f"U+{ord(c):04X}" for c in letter[:3])
    return f"“{letter}” ({codes})" if letter.isprintable() else f"the sign {codes}"
