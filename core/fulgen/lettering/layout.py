"""Rows of letters as lines on the work, at the size a maker measures.

A maker measures the finished thing: its overall width, its overall height, or the height of a
capital. The face's own size (the em, in mm) follows from that. Lines are aligned by what will be
cut, not by the invisible room around letters.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial

import numpy as np

from fulgen.bounded import BoundedCache, digest
from fulgen.geometry.measure import Box
from fulgen.geometry.offset import Corners, offset
from fulgen.geometry.outline import Floats
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import Shape
from fulgen.lettering.catalogue import families_with
from fulgen.lettering.course import Down, Path, Stand
from fulgen.lettering.faces import Face
from fulgen.lettering.letters import AS_SET, LetterChange
from fulgen.lettering.reshape import LetterShape, mark_of, reshaped
from fulgen.lettering.setting import Faces, Setting
from fulgen.lettering.shaping import ShapedLetter, Special, clusters, missing_letters, shape_line
from fulgen.lettering.stand_ins import StandIn, fitted, fitted_layers
from fulgen.lettering.writing_systems import system_of
from fulgen.problem import Problem
from fulgen.units import show_length

MAX_EXTENT_MM = 10_000.0
"""Nothing is set wider or higher: no blank is that large, and outlines stay exact."""

_ALIGN_SHARE = {"left": 0.0, "centre": 0.5, "right": 1.0}


@dataclass(frozen=True)
class Treatment:
    """What is done to a letter's shape, in this order: made wider by ``stretch`` and slanted to the right by
    ``slant`` degrees, nodes changed or a shape put in its place, scaled about its origin and turned (degrees
    clockwise) about its middle, and its edge moved outwards by ``thicker``, a share of the size."""

    stretch: float = 1.0
    slant: float = 0.0
    shape: LetterShape | None = None
    stand_in: StandIn | None = None
    turn: float = 0.0
    scale: float = 1.0
    thicker: float = 0.0
    corners: Corners = "round"


FormKey = str
"""A short name for all that a letter and its body depend on: its text, its glyphs, and what is done to its
shape."""


@dataclass(frozen=True, eq=False)
class SetLetter:
    """A letter on its line, for a size of 1: the place of its first character in the text, its origin
    with all that moves it and the part of it that hands have done, how many letters come before it,
    its shape and what that depends on, and its shape as the face draws it, made wider or slanted where asked;
    ``mark`` tells what the face draws; by its ``middle``, from its origin, it stands on a line that bends."""

    text: str
    at: int
    x: float
    y: float
    by_hand: float
    order: int
    key: FormKey
    treatment: Treatment
    form: Shape
    drawn: Shape
    mark: Callable[[], str]
    middle: float = 0.0

    @property
    def stand(self) -> Stand:
        """Where it stands on its line."""
        return Stand(self.x, self.y, self.order, self.middle)

    @property
    def stands_in(self) -> bool:
        """Whether a shape stands in the letter's place."""
        return self.treatment.stand_in is not None

    @property
    def showing(self) -> str:
        """What is to be seen in the letter's place, in a word: its text, or what stands in for it."""
        stand_in = self.treatment.stand_in
        return self.text if stand_in is None else f"({stand_in.shape})"[:20]

    def shows(self, seen: str) -> bool:
        """Whether what was seen here once still is: nothing in particular, a stand-in, or the letter, be it
        merged with the next by now."""
        return seen in ("", self.showing) or (self.treatment.stand_in is None and self.text.startswith(seen))

    @cached_property
    def treated(self) -> Placement:
        """Where the letter as the face draws it lies on its form, thickening left aside."""
        return turned(self.drawn.box, self.treatment.turn, self.treatment.scale)


def turned(box: Box, degrees: float, scale: float) -> Placement:
    """Scaled about the origin, then turned clockwise about the middle of the box."""
    middle = complex(box.x + box.width / 2, box.y + box.height / 2) * scale
    rest = middle * (1 - Placement(turn=degrees).factor)
    return Placement(rest.real, rest.imag, degrees, scale)


Lines = tuple[tuple[SetLetter, ...], ...]


@dataclass(frozen=True, eq=False)
class PlacedLetter:
    """A letter in its part's frame: its line number, and where its form lies."""

    letter: SetLetter
    line: int
    place: Placement

    @property
    def text(self) -> str:
        return self.letter.text

    @property
    def form(self) -> Shape:
        return self.letter.form

    @cached_property
    def drawn_place(self) -> Placement:
        """Where the letter as the face draws it lies: anchors on it are kept in that frame."""
        return self.letter.treated.within(self.place)


@dataclass(frozen=True, eq=False)
class Layout:
    """Letters in reading order, the size of the face in mm, and for each line its baseline and the x
    at which its own 0 lies.

    The first baseline is y = 0; the leftmost edge of the widest line is x = 0. Along ``paths``, one for
    each line, lines begin so far along theirs; baselines are as if they were straight.
    """

    letters: tuple[PlacedLetter, ...]
    size: float
    baselines: tuple[float, ...]
    starts: tuple[float, ...]
    spacing: float

    paths: tuple[Path, ...] = ()

    def pose(self, line: int, stand: Stand) -> Placement:
        """Where something lies that stands on a line."""
        size = self.size
        x = self.starts[line] + stand.x * size + stand.order * self.spacing
        if not self.paths:
            return Placement(x, self.baselines[line] + stand.y * size, 0.0, size)
        return self.paths[line].pose(x, stand.y * size, stand.middle * size, size)


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


def lay_out(setting: Setting, faces: Faces) -> Layout:
    """The words set and sized. Raises Problem when they cannot be: no letters, letters the
    face lacks, or a size that the spacing makes impossible."""
    lines = set_lines(setting, faces)
    return place(setting, lines, size_of(setting, faces.face, lines))


def set_lines(setting: Setting, faces: Faces, thicker: float = 0.0) -> Lines:
    """The letters of each line as the face sets them and hands have moved them, their edges moved outwards
    by a share of the size; spaces are left out.

    Raises Problem when there are none, or the face lacks some.
    """
    changes = setting.changes
    _have_letters(setting, faces)
    features = tuple(sorted(setting.features.items()))
    lines = []
    start = 0
    for text in setting.text.split("\n"):
        specials = {
            at - start: Special(faces.own.get(at), tuple(sorted(change.alternates.items())))
            for at, change in changes.items()
            if start <= at < start + len(text) and (change.alternates or at in faces.own)
        }
        letters: list[SetLetter] = []
        moved = wider = 0.0
        for order, shaped in enumerate(shape_line(faces.face, text, features, specials)):
            change = changes.get(start + shaped.at, AS_SET)
            moved += change.carry
            treatment = _treatment(setting, change, shaped.text, thicker)
            form = _formed(shaped, treatment)
            hand = moved + change.dx
            x = shaped.x * setting.stretch + wider + order * setting.spacing_share + hand
            if form:
                middle = form.box.x + form.box.width / 2
                letters.append(
                    SetLetter(
                        shaped.text, start + shaped.at, x, change.dy, hand, order,
                        _form_key(shaped, treatment), treatment, form,
                        _widened(shaped.shape, treatment), partial(_mark, shaped), middle,
                    )
                )  # fmt: skip
            moved += change.after
            # A larger letter takes more room.
            wider += shaped.advance * setting.stretch * (change.scale - 1)
            if treatment.stand_in and form:
                wider += _wider_by(treatment, shaped) * change.scale
        is_down = setting.course is not None and setting.course.is_down
        lines.append(_stacked(letters, setting, changes) if is_down else tuple(letters))
        start += len(text) + 1
    if not any(lines):
        raise Problem("no-letters", "There is nothing to cut yet.", "Type a word.", "text")
    return tuple(lines)


def _stacked(
    letters: Sequence[SetLetter], setting: Setting, changes: Mapping[int, LetterChange]
) -> tuple[SetLetter, ...]:
    """Letters one under the other: what is along the line is how far down they stand, what is below it how
    far to the right."""
    assert setting.course is not None
    found: list[SetLetter] = []
    along = 0.0
    for n, letter in enumerate(letters):
        change = changes.get(letter.at, AS_SET)
        box = letter.form.box
        along += change.carry
        hand = change.dy + change.carry
        room = setting.course.gap_share + setting.spacing_share
        x = along - box.y + change.dy
        found.append(replace(letter, x=x, y=change.dx, by_hand=hand, order=n))
        along += box.height + room + change.after
    return tuple(found)


def _treatment(setting: Setting, change: LetterChange, text: str, thicker: float) -> Treatment:
    # Spaces have no shape to change.
    stand_in = change.stand_in if not text.isspace() else None
    own = change.shape if change.shape and change.shape.edits else None
    kind = setting.kinds.get(text)
    shape = own or (kind if kind and kind.edits else None)
    return Treatment(
        setting.stretch, setting.slant, shape, stand_in, change.turn, change.scale, thicker, setting.corners
    )


_PLAIN = Treatment()


def _form_key(shaped: ShapedLetter, treatment: Treatment) -> FormKey:
    return shaped.digest if treatment == _PLAIN else digest(shaped.digest, repr(treatment))


def _formed(shaped: ShapedLetter, treatment: Treatment) -> Shape:
    """The letter's shape with all that is done to it. Raises Problem when nothing of it is left."""
    if treatment == _PLAIN:
        return shaped.shape
    return _forms.get(_form_key(shaped, treatment), lambda: _treated(shaped, treatment))


def _treated(shaped: ShapedLetter, treatment: Treatment) -> Shape:
    form = _widened(shaped.shape, treatment)
    if treatment.stand_in is not None and form:
        form = fitted(treatment.stand_in.drawn, form.box, treatment.stand_in.to)
    elif treatment.shape is not None and form:
        form = reshaped(form, treatment.shape, _mark(shaped))
    if treatment.turn != 0.0 or treatment.scale != 1.0:
        form = turned(form.box, treatment.turn, treatment.scale).shape(form)
    if form and treatment.thicker:
        form = offset(form, treatment.thicker, treatment.corners)
        if not form:
            raise Problem(
                "too-thin",
                f"Made so much thinner, nothing is left of {name_of(shaped.text)}.",
                "Thin the lettering by less.",
                "thicken_mm",
            )
    return form


def layers_of(letter: SetLetter) -> list[tuple[str, Shape]]:
    """What of a letter is cut from films of its own: the colours of what stands in for it, as it stands."""
    treatment = letter.treatment
    if treatment.stand_in is None or not treatment.stand_in.layers:
        return []
    key = digest(letter.key, "layers")

    def made() -> list[tuple[str, Shape]]:
        assert treatment.stand_in is not None
        box = letter.drawn.box
        placed = turned(fitted(treatment.stand_in.drawn, box, treatment.stand_in.to).box, treatment.turn,
                        treatment.scale)  # fmt: skip
        return [(film, placed.shape(shape)) for film, shape in fitted_layers(treatment.stand_in, box)]

    return _layers.get(key, made)


_layers: BoundedCache[FormKey, list[tuple[str, Shape]]] = BoundedCache(8 * 2**20)


def _wider_by(treatment: Treatment, shaped: ShapedLetter) -> float:
    """How much more room a stand-in takes than its letter."""
    assert treatment.stand_in is not None
    box = _widened(shaped.shape, treatment).box
    return fitted(treatment.stand_in.drawn, box, treatment.stand_in.to).box.width - box.width


def _mark(shaped: ShapedLetter) -> str:
    return mark_of(shaped.shape.outline)


def _widened(shape: Shape, treatment: Treatment) -> Shape:
    """A letter made so many times as wide, and slanted."""
    if (treatment.stretch == 1.0 and treatment.slant == 0.0) or not shape:
        return shape
    key = shape.step_key, treatment.stretch, treatment.slant
    return _wider.get(key, lambda: shape.widened(treatment.stretch, treatment.slant))


_wider: BoundedCache[tuple[str, float, float], Shape] = BoundedCache(8 * 2**20)


_forms: BoundedCache[FormKey, Shape] = BoundedCache(32 * 2**20)


def _have_letters(setting: Setting, faces: Faces) -> None:
    plain, start = [], 0
    for cluster in clusters(setting.text):
        own = faces.own.get(start)
        if own and not cluster.isspace():
            if missing_letters(own, cluster):
                raise _lacks(own, setting.text, [cluster])
        else:
            plain.append(cluster)
        start += len(cluster)
    lacking = missing_letters(faces.face, "".join(plain).replace("\n", " "))
    if lacking:
        raise _lacks(faces.face, setting.text, lacking)


def place(
    setting: Setting,
    lines: Lines,
    size: float,
    path: Path | None = None,
    spacing: float | None = None,
    starts: tuple[float, ...] | None = None,
) -> Layout:
    """Set lines at a size in mm, aligned: along a path, if there is one, with another letter spacing or
    other starts, if there are any. Raises Problem when the whole would be too large."""
    spacing = setting.spacing_mm if spacing is None else spacing
    rows = _rows(lines, path)
    extents = [row.extent(size, spacing) for row in rows]
    widest = max(right - left for left, right in extents)
    height = size * _height(setting, rows)
    if max(widest, height) > MAX_EXTENT_MM:
        raise too_large(max(widest, height), "size")
    if starts is None:
        share = _ALIGN_SHARE[setting.align]
        # On a path a line lies about its place; else lines lie beside each other, from 0 on.
        room = 0.0 if path is not None else widest * share
        starts = tuple(room - (right - left) * share - left for left, right in extents)
    baselines = tuple(n * setting.line_spacing * size for n in range(len(lines)))
    paths = () if path is None else tuple(path.lowered(below) for below in baselines)
    layout = Layout((), size, baselines, starts, spacing, paths)
    letters = tuple(
        PlacedLetter(s, number, layout.pose(number, s.stand))
        for number, letters in enumerate(lines)
        for s in letters
    )
    return replace(layout, letters=letters)


def too_large(across: float, where: str) -> Problem:
    """What is said of lettering that is larger than Fulgen sets, in mm."""
    return Problem(
        "too-large",
        f"The lettering would be {show_length(across)} across.",
        f"Fulgen sets up to {MAX_EXTENT_MM / 1000:.0f} m: choose a smaller size or fewer letters.",
        where,
    )


def _rows(lines: Lines, path: Path | None = None) -> list[_Row]:
    rows = []
    for letters in lines:
        boxes = np.array([s.form.box for s in letters]).reshape(-1, 4)
        if isinstance(path, Down):
            boxes = boxes[:, [1, 0, 3, 2]] - np.array([[0.0, s.middle, 0.0, 0.0] for s in letters])
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


def straight_size(setting: Setting, lines: Lines, size: float) -> tuple[float, float]:
    """How wide and high lines are at a size, in mm, as if the line that they run along were straight."""
    is_down = setting.course is not None and setting.course.is_down
    rows = _rows(lines, Down() if is_down else None)
    extents = [row.extent(size, setting.spacing_mm) for row in rows if len(row.order)]
    long, across = max(right - left for left, right in extents), size * _height(setting, rows)
    return (across, long) if is_down else (long, across)


def size_of(setting: Setting, face: Face, lines: Lines) -> float:
    """The face's size in mm at which the letters measure what was asked. Along a course they are measured as
    if that were straight.

    Raises Problem when the letter spacing makes that impossible.
    """
    is_down = setting.course is not None and setting.course.is_down
    rows = _rows(lines, Down() if is_down else None)
    asked = setting.size.mm
    if setting.size.measure == "capitals":
        return setting.size.mm / face.capital_height
    if setting.size.measure == "face":
        return setting.size.mm
    if (setting.size.measure == "height") != is_down:
        return asked / _height(setting, rows)
    filled = [row for row in rows if len(row.order)]
    size = min(_size_for_width(row, asked, setting.spacing_mm) for row in filled)
    for row in filled:
        left, right = row.extent(size, setting.spacing_mm)
        # Under its own least size a line is spread by its spacing, and wider again.
        if right - left > asked * (1 + 1e-9):
            raise _no_such_width(asked)
    return size


def _size_for_width(row: _Row, asked: float, spacing: float) -> float:
    """The largest size at which a line is as wide as asked.

    The width is a convex, piecewise linear function of the size (the greatest of right edges
    less the least of left edges), so Newton's method from above ends at its largest root.
    """
    natural = float(row.rights.max() - row.lefts.min())
    slack = abs(spacing) * len(row.order) * (1 + float(np.ptp(row.order)))
    size = (asked + slack) / max(natural, 1e-6) + 1.0
    for _ in range(200):
        last = int(np.argmax(row.rights * size + row.order * spacing))
        first = int(np.argmin(row.lefts * size + row.order * spacing))
        slope = float(row.rights[last] - row.lefts[first])
        if slope <= 0:
            break
        better = (asked - float(row.order[last] - row.order[first]) * spacing) / slope
        if better <= 0:
            break
        if abs(better - size) <= 1e-12 * size:
            return better
        size = better
    raise _no_such_width(asked)


def _no_such_width(asked: float) -> Problem:
    return Problem(
        "impossible-size",
        f"With this letter spacing no size is {show_length(asked)} wide.",
        "Bring the spacing nearer to 0, or choose another width.",
        "spacing",
    )


def _lacks(face: Face, text: str, lacking: list[str]) -> Problem:
    able = families_with("".join(lacking)) and families_with(text)
    system = system_of("".join(lacking))
    # Some have a few of them, as signs: Ω, μ, π.
    few = 2 * sum(ord(char) in face.letters for char in system.needs) < len(system.needs)
    if len(lacking) > 1 and few:
        what = f"{face.name} has no {system.name} letters."
        todo = f"Take a face that has them, such as {' or '.join(able[:3])}."
    else:
        named = [name_of(letter) for letter in lacking[:6]]
        more = f" and {len(lacking) - 6} more" if len(lacking) > 6 else ""
        what = f"{face.name} has no {', '.join(named)}{more}."
        them = "the letter" if len(lacking) == 1 else "those letters"
        todo = f"Use {' or '.join(able[:3])}, or leave {them} out."
    return Problem("missing-letters", what, todo if able else _NO_FACE, "text", able)


_NO_FACE = "No face here has all of these letters; leave out the ones named."


def name_of(letter: str) -> str:
    """A letter as it is named to a maker: itself and its code, so that a box glyph is no riddle.

    >>> name_of("Ж")
    '“Ж” (U+0416)'
    """
    codes = " ".join(f"U+{ord(c):04X}" for c in letter[:3])
    return f"“{letter}” ({codes})" if letter.isprintable() else f"the sign {codes}"
