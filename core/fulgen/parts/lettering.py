"""Lettering: live text, set, joined, tied and underlined, as a part of a design."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial
from typing import Any, Literal

import numpy as np
import shapely

from fulgen.bounded import Bounded, digest
from fulgen.geometry.bend import Bend, bent_shape
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats, Outline, Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, count, polygonal
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.joining.anchors import Anchor, PartId, within_reach
from fulgen.joining.bars import MOST_TIES, Bar, Tie, Underline, bar_shape, neck_at, snapped, ties, underline
from fulgen.joining.heights import Hand
from fulgen.joining.materials import Weedable
from fulgen.joining.seam import Seam
from fulgen.joining.wishes import Join
from fulgen.joining.words import Joined, LineSeam, Patch, join_lines
from fulgen.lettering.bodies import carrier_and_bits
from fulgen.lettering.course import AlongPath, Circle, Course, Path, Polyline, Stand, Warped, path_of
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import (
    Layout,
    Lines,
    PlacedLetter,
    layers_of,
    place,
    set_lines,
    size_of,
    straight_size,
)
from fulgen.lettering.setting import Faces, Setting
from fulgen.parts.made import Layer, Made
from fulgen.parts.part import ANY_FILM, Part
from fulgen.problem import Problem
from fulgen.roots import root
from fulgen.units import show_length


class Lettering(Setting, Part):
    """Live text as a part: how it is set and joined. Where it lies is where its first baseline's left end
    is."""

    kind: Literal["lettering"] = "lettering"
    id: PartId = "lettering-1"
    join: Join = Join()
    underline: Underline | None = None

    @property
    def needs(self) -> tuple[str, ...]:
        """The part whose line it runs along."""
        course = self.course
        return (course.of,) if course is not None and course.kind == "line" and course.of else ()

    def _unseen(self) -> dict[str, Any]:
        # Letters and stand-ins may have films of their own, where they are others.
        has_colours = any(change.stand_in or change.film for change in self.letters.values())
        film = {} if has_colours else {"film": ANY_FILM}
        return {"name": "", **film}


@dataclass(frozen=True, eq=False)
class LaidBar:
    """A bridge laid by hand, in shares of the size: its shape and ends, and the necks, in mm, by which
    it hangs on its letters. A bar is empty when a letter of it is gone."""

    bar: Bar
    shape: Shape
    ends: tuple[Point, Point] | None
    necks: tuple[float, float]


@dataclass(frozen=True)
class Hold:
    """A bar between two letters: what it is, its neck in mm and its ends, in the part's frame."""

    what: str
    neck: float
    ends: tuple[Point, Point]


@dataclass(frozen=True, eq=False)
class MadeLettering(Made):
    """Lettering as laid out: where its letters and baselines are, how its letters meet, and what else ties
    them. Bars, ties and underlines are in shares of the size."""

    lettering: Lettering
    faces: Faces
    layout: Layout
    joined: Joined
    laid: tuple[LaidBar, ...]
    ties: tuple[Tie, ...]
    underlines: tuple[Shape, ...]
    unmet: tuple[Problem, ...] = ()

    @property
    def kept_bytes(self) -> int:
        """About how many bytes it keeps alive: its letters' forms are kept elsewhere, its seams are not."""
        return 20_000 + 6_000 * len(self.layout.letters) + 40_000 * len(self.joined.seams)

    @property
    def size(self) -> float:
        return self.layout.size

    @cached_property
    def is_smoothed(self) -> bool:
        return self.lettering.join.smooth_mm > 0 or bool(self._smoothed_seams)

    @cached_property
    def _smoothed_seams(self) -> dict[int, float]:
        """The radii of seams that have one of their own, by the id of the letter before each."""
        ids = self.lettering.ids
        return {
            ids[at]: change.seam.smooth_mm
            for at, change in self.lettering.changes.items()
            if change.seam is not None and change.seam.smooth_mm is not None
        }

    def smoothing_at(self, left: int) -> float:
        """The radius by which the notches of a seam are rounded; left: the id of the letter before it."""
        return self._smoothed_seams.get(left, self.lettering.join.smooth_mm)

    @cached_property
    def _seams_of(self) -> list[frozenset[int]]:
        """The seams that each shape has a share in, by the ids of the letters before them."""
        before = {seam.right: seam.left for seam in self.joined.seams}
        ids = self.lettering.ids
        own = [
            frozenset({ids[at], *((ids[before[at]],) if at in before else ())})
            for at in (letter.letter.at for letter in self.own_letters)
        ]
        return [*own, *(frozenset({goes} if goes else ()) for _, _, goes in self.extras)]

    def smoothing(self, one: int, other: int) -> float:
        known = self._seams_of
        both = known[one] & known[other] if max(one, other) < len(known) else frozenset()
        return max(map(self.smoothing_at, both), default=self.lettering.join.smooth_mm)

    @cached_property
    def shapes(self) -> Sequence[tuple[Shape, Placement]]:
        """Letters that are cut from the lettering's own film, what joins them, and bars, ties and underlines;
        and what of others' colours is of that film."""
        letters = ((p.form, p.place) for p in self.own_letters)
        own = self._in_films.get(self.lettering.film.upper(), ())
        return [*letters, *((shape, place) for shape, place, _ in self.extras), *own]

    @cached_property
    def drawn(self) -> Sequence[tuple[Shape, Placement]]:
        """All letters and what joins them, whatever their film."""
        letters = ((p.form, p.place) for p in self.layout.letters)
        return [*letters, *((shape, place) for shape, place, _ in self.extras)]

    @cached_property
    def others(self) -> Sequence[Layer]:
        """Letters with a film of their own, and the colours of what stands in for letters."""
        films = self._in_films.items()
        return [Layer(film, shapes) for film, shapes in films if film != self.lettering.film.upper()]

    @cached_property
    def own_letters(self) -> tuple[PlacedLetter, ...]:
        """The letters that are cut whole from the lettering's own film."""
        return tuple(filter(self.is_own, self.layout.letters))

    def is_own(self, placed: PlacedLetter) -> bool:
        """Whether a letter is cut whole from the lettering's own film."""
        return not self._films_of(placed)

    def _films_of(self, placed: PlacedLetter) -> list[tuple[str, Shape]]:
        """What of a letter is cut from which film, where that is not all from the lettering's own."""
        change = self.lettering.changes.get(placed.letter.at)
        if change is not None and change.film is not None:
            film = change.film.upper()
            return [] if film == self.lettering.film.upper() else [(film, placed.form)]
        return layers_of(placed.letter)

    @cached_property
    def _in_films(self) -> dict[str, list[tuple[Shape, Placement]]]:
        films: dict[str, list[tuple[Shape, Placement]]] = {}
        for placed in self.layout.letters:
            for film, shape in self._films_of(placed):
                films.setdefault(film, []).append((shape, placed.place))
        return films

    @cached_property
    def extras(self) -> list[tuple[Shape, Placement, int | None]]:
        """All that is no letter: bars that join, bars laid by hand, ties and underlines; with the id of the
        letter that it goes along with, if any."""
        ids = self.lettering.ids
        at_order = {(p.line, p.letter.order): ids[p.letter.at] for p in self.layout.letters}
        joints = [
            (bar.shape, self._patch_place(bar), at_order.get((bar.line, bar.stand.order)))
            for bar in self.joined.bars
        ]
        shapes = [bar.shape for bar in self.laid if bar.shape]
        shapes += [tie.shape for tie in self.ties] + list(self.underlines)
        return [*joints, *((shape, self._whole, None) for shape in shapes)]

    @property
    def fills(self) -> Sequence[tuple[Region, Placement]]:
        """Pinholes to be filled."""
        return [(fill.shape.region, self._patch_place(fill)) for fill in self.joined.fills]

    @cached_property
    def _whole(self) -> Placement:
        """From shares of the size to mm."""
        return Placement(scale=self.layout.size)

    def _patch_place(self, patch: Patch) -> Placement:
        return self.frame(patch.line, patch.stand)

    def seam_place(self, seam: LineSeam) -> Placement:
        """Where a seam lies, which is measured in shares of the size from its left letter's origin."""
        return self.frame(seam.line, seam.stand)

    def frame(self, line: int, stand: Stand) -> Placement:
        """The frame in which a letter sees what is around it (see ``joining.words.Line``)."""
        pose, paths = self.layout.pose(line, stand), self.layout.paths
        return replace(pose, turn=pose.turn - paths[line].turned_by) if paths else pose

    def shaped(self, forms: Sequence[Shape]) -> MadeLettering:
        """The same letters in other forms, given in the part's frame: each by itself, nothing joins them."""
        letters = []
        for letter, form in zip(self.layout.letters, forms, strict=True):
            place = letter.place
            own = form.placed(-place.x / place.scale, -place.y / place.scale, 1 / place.scale)
            key = digest(letter.letter.key, own.outline.digest)
            letters.append(replace(letter, letter=replace(letter.letter, form=own, key=key)))
        joined = replace(self.joined, seams=(), bars=(), fills=())
        layout = replace(self.layout, letters=tuple(letters))
        return replace(self, layout=layout, joined=joined, laid=(), ties=(), underlines=())

    # --- letters and places on them ---

    @cached_property
    def by_id(self) -> dict[int, PlacedLetter]:
        """Letters by their ids."""
        ids = self.lettering.ids
        return {ids[letter.letter.at]: letter for letter in self.layout.letters}

    def id_of(self, letter: PlacedLetter) -> int:
        return self.lettering.ids[letter.letter.at]

    @cached_property
    def texts(self) -> dict[int, str]:
        """What letters are, by their places in the text."""
        return {letter.letter.at: letter.text for letter in self.layout.letters}

    @cached_property
    def regions(self) -> list[Region]:
        """The letters in the part's frame."""
        return [letter.place.region(letter.form.region) for letter in self.layout.letters]

    @cached_property
    def _tree(self) -> shapely.STRtree:
        return shapely.STRtree(self.regions)

    def nearest(self, x: float, y: float) -> PlacedLetter:
        """The letter nearest to a place."""
        return self.layout.letters[int(self._tree.nearest(shapely.Point(x, y)))]

    def find(self, anchor: Anchor) -> Point | None:
        if anchor.letter is None:
            return self._whole.point(anchor.x, anchor.y)
        letter = self.by_id.get(anchor.letter)
        if letter is None or not letter.letter.shows(anchor.of):
            return None
        return letter.drawn_place.point(anchor.x, anchor.y)

    def anchor(self, x: float, y: float) -> Anchor:
        return self.anchor_on(self.nearest(x, y), x, y)

    def anchor_on(self, letter: PlacedLetter, x: float, y: float) -> Anchor:
        """A place in the part's frame as one on a letter."""
        own = letter.drawn_place.back(x, y)
        return Anchor(
            self.lettering.id, within_reach(own[0]), within_reach(own[1]), self.id_of(letter),
            of=letter.letter.showing,
        )  # fmt: skip

    def names_at(self, x: float, y: float) -> tuple[str, ...]:
        around = shapely.Point(x, y).buffer(_AT_A_PLACE * self.size)
        close = sorted(int(n) for n in self._tree.query(around, predicate="intersects"))
        return tuple(self.layout.letters[n].text for n in close[:2]) or (self.nearest(x, y).text,)

    def vector_on(self, anchor: Anchor, dx: float, dy: float) -> Point:
        return dx / self.size, dy / self.size

    def snapped(self, x: float, y: float) -> Point:
        letter = self.nearest(x, y)
        return letter.place.point(*snapped(letter.form.region, letter.place.back(x, y)))

    def region_at(self, anchor: Anchor) -> Region | None:
        letter = self.by_id.get(anchor.letter or 0)
        return None if letter is None else letter.place.region(letter.form.region)

    # --- what is to be said of it ---

    @property
    def waiting_shapes(self) -> tuple[str, ...]:
        """Letters whose nodes were changed on another outline than they have now."""
        return tuple(
            letter.text
            for letter in self.layout.letters
            if (change := letter.letter.treatment.shape) is not None
            and not letter.letter.stands_in
            and change.of != letter.letter.mark()
        )

    @property
    def closed_counters(self) -> tuple[str, ...]:
        """Letters that have fewer holes than the face draws, because they were thickened."""
        if self.lettering.thicken_mm <= 0:
            return ()
        return tuple(
            letter.text
            for letter in self.layout.letters
            if not letter.letter.stands_in and _holes(letter.form) < _holes(letter.letter.drawn)
        )

    @property
    def lost_shapes(self) -> tuple[str, ...]:
        """Letters for which another shape was chosen that the face in use does not have."""
        part, known = self.lettering, self.faces.face.substitutions
        return tuple(
            part.text[at]
            for at, change in part.changes.items()
            if change.face is None and not known.issuperset(change.alternates)
        )

    @property
    def loose_marks(self) -> int:
        """How many dots and accents come off as pieces of their own."""
        return sum(mark.loose for marks in self.joined.marks.values() for mark in marks)

    @property
    def loose_bits(self) -> Iterator[Region]:
        """The dots and accents of letters that have loose ones, in the part's frame."""
        for letter in self.layout.letters:
            if any(mark.loose for mark in self.joined.marks.get(letter.letter.at, ())):
                _, bits = carrier_and_bits(letter.text, letter.form.region)
                yield from (letter.place.region(polygonal(bit)) for bit in shapely.get_parts(bits))

    @property
    def capital_height(self) -> float:
        return self.faces.face.capital_height * self.layout.size

    def holds(self, left: int, right: int) -> Iterator[Hold]:
        """The bars laid by hand and the ties from one letter to another, by their places in the text."""
        ids, on = self.lettering.ids, self._whole
        pair = {ids[left], ids[right]}
        for bar in self.laid:
            if bar.ends and {bar.bar.start.letter, bar.bar.end.letter} == pair:
                one, other = bar.ends
                yield Hold("bridged by hand", min(bar.necks), (on.point(*one), on.point(*other)))
        for tie in self.ties:
            if {self.id_of(self.layout.letters[n]) for n in tie.ends} == pair:
                box = tie.shape.box
                middle = box.y + box.height / 2
                ends = on.point(box.x, middle), on.point(box.right, middle)
                yield Hold("tied", self.lettering.join.neck_mm, ends)

    @property
    def measures(self) -> tuple[float, float]:
        """Width and height as sizes are asked for: along a course, as if that were straight."""
        if self.lettering.course is None:
            return self.extent
        return straight_size(self.lettering, self.joined.lines, self.size)

    @cached_property
    def extent(self) -> tuple[float, float]:
        """Width and height of all that is cut, as far as it was made of shapes."""
        if self.layout.paths or self.lettering.warp is not None:
            bounds = shapely.total_bounds([at.region(shape.region) for shape, at in self.drawn])
            return float(bounds[2] - bounds[0]), float(bounds[3] - bounds[1])
        boxes = np.array([(*shape.box, at.x, at.y, at.scale) for shape, at in self.drawn])
        low = boxes[:, 0:2] * boxes[:, 6:] + boxes[:, 4:6]
        high = (boxes[:, 0:2] + boxes[:, 2:4]) * boxes[:, 6:] + boxes[:, 4:6]
        width, height = (high.max(axis=0) - low.min(axis=0)).tolist()
        return width, height


_AT_A_PLACE = 0.04
"""Letters this near to a place, in shares of the size, are what is there. (†)"""


def _holes(shape: Shape) -> int:
    return count(shape.region)[1]


_SIZE_ROUNDS = 4
"""The necks asked for hang on the size, and the size that makes a width hangs on how far letters slide.
A few rounds settle it; the last one sets the size exactly."""

_SAME_SIZE = 1e-3
"""Joints made for a size this near to another are the same."""

_LEAST_SHARE = 0.02
"""Letters are not made smaller than this, as a share of their size without what goes beyond them."""

MOST_THICKER = 1.0
"""Letters are thickened by their size at most: a backing for a name is about a third of it."""

_EXACT_MM = 1e-4
"""A tenth of a micrometre: so true is the size of what is cut to the one that was asked for."""

TOLD_MM = 0.02
"""What is off by more than this from what was asked is told: about a cutter's step (0.025 mm, HP-GL's plotter
unit: HP 7475A Interfacing and Programming Manual, from memory)."""


@dataclass(frozen=True, eq=False)
class Line:
    """A line that lettering runs along, in its frame: whether it is closed, and how far from it its edge is,
    where it is a band."""

    outline: Outline
    closed: bool
    edge: float = 0.0


def make_lettering(
    part: Lettering, faces: Faces, bars: Sequence[Bar], least: Weedable, line: Line | None = None
) -> MadeLettering:
    """Words laid out, joined and tied; ``bars`` are those laid by hand from letter to letter, and holes
    and slits narrower than the ``least`` are too small to weed. ``line`` is what a course runs along that is
    no line of its own.

    Raises Problem when they cannot be set, or not at that size.
    """
    if part.course is not None:
        return _warped(_along(part, faces, bars, least, part.course, line))
    plain = set_lines(part, faces)
    size = size_of(part, faces.face, plain)
    joined_at = partial(_joined_at, part, faces, least, plain)
    if part.size.measure == "width":
        # How far letters slide makes nearly all of the difference, and is known sooner than the rest.
        for _ in range(_SIZE_ROUNDS):
            before, size = size, size_of(part, faces.face, joined_at(size, only_slid=True).lines)
            if abs(size - before) <= _SAME_SIZE * size:
                break
    for _ in range(_SIZE_ROUNDS):
        joined, joined_for = joined_at(size), size
        size = size_of(part, faces.face, joined.lines)
        if abs(size - joined_for) <= _SAME_SIZE * size:
            break

    def made_at(size: float) -> MadeLettering:
        return _warped(_tied(part, faces, bars, joined, None, place(part, joined.lines, size)))

    if part.size.measure in ("capitals", "face"):
        made = made_at(size)
    else:
        # Underlines and bars go beyond the letters, and a bend makes them higher: the whole is measured.
        for _ in range(_SIZE_ROUNDS):
            made = _measuring(part, made_at, size)
            size = made.size
            if abs(size - joined_for) <= _SAME_SIZE * size:
                break
            joined, joined_for = joined_at(size), size
    return replace(made, unmet=(*made.unmet, *_unmet(part, made, joined_for)))


def _measuring(part: Lettering, made_at: Callable[[float], MadeLettering], start: float) -> MadeLettering:
    """Lettering at the size at which all of it is as wide or as high as asked, looked for from a size near
    it.

    Raises Problem "impossible-size" where what goes beyond the letters leaves no room for them.
    """
    asked = part.size.mm
    tried: dict[float, MadeLettering] = {}

    def over(size: float) -> float:
        if size not in tried:
            tried[size] = made_at(size)
        return _measured(tried[size]) - asked

    least = _LEAST_SHARE * start
    slope = (over(start) + asked) / start
    found = root(over, start, slope, _EXACT_MM, least=least)
    if found.at <= least and not found.is_exact:
        raise Problem(
            "impossible-size",
            f"What goes beyond the letters leaves them no room within {show_length(asked)}.",
            "Choose a larger size, or let the underline reach less far.",
            "size",
        )
    return tried[found.at]


def _measured(made: MadeLettering) -> float:
    """What was asked of the size, as it is."""
    measure = made.lettering.size.measure
    if measure == "capitals":
        return made.capital_height
    if measure == "face":
        return made.size
    width, height = made.measures
    return width if measure == "width" else height


def _unmet(part: Lettering, made: MadeLettering, joined_for: float) -> Iterator[Problem]:
    """What was asked of the size and is not so; ``joined_for`` is the size that joints were made for."""
    got = _measured(made)
    if abs(got - part.size.mm) > TOLD_MM:
        what = _MEASURED[part.size.measure]
        yield Problem(
            "size-not-met",
            f"It is {show_length(got, places=2)} {what}: {show_length(part.size.mm, places=2)} was asked "
            "for, and no size gives just that.",
            "Choose a size a little larger or smaller.",
            "size",
        )
    yield from off_from_joints(made, made.size, joined_for)


_MEASURED = {"width": "wide", "height": "high", "capitals": "high, its capitals", "face": "large, its face"}


def off_from_joints(made: MadeLettering, size: float, joined_for: float | None = None) -> Iterator[Problem]:
    """Joints and strokes that are off, for letters have another size than the one they were made for."""
    part = made.lettering
    off = abs(size / (joined_for or made.size) - 1) * max(part.join.neck_mm, abs(part.thicken_mm))
    if off > TOLD_MM:
        yield Problem(
            "joints-not-met",
            f"Joints and strokes are off by up to {show_length(off, places=2)}: how letters are joined here "
            "changes with every change of their size.",
            "Choose a size a little larger or smaller.",
            "size",
        )


def _joined_at(
    part: Lettering,
    faces: Faces,
    least: Weedable,
    plain: Lines,
    size: float,
    layout: Layout | None = None,
    only_slid: bool = False,
) -> Joined:
    """Lines joined at a size, as they lie in a layout along a path."""
    thicker = _thicker(part.thicken_mm, size)
    if thicker > MOST_THICKER:
        raise Problem(
            "too-thick",
            f"Thickened by {show_length(part.thicken_mm)}, letters of this size are only blots.",
            "Thicken by less, or choose a larger size.",
            "thicken_mm",
        )
    lines = set_lines(part, faces, thicker) if thicker else plain
    spacing = part.spacing_mm if layout is None else layout.spacing
    along = () if layout is None else tuple(zip(layout.paths, layout.starts, strict=False))
    return join_lines(
        lines, size, spacing, part.join, part.changes, least,
        Hand(faces.face.x_height, faces.face.leans), along,
        in_place=part.course is not None and part.course.spread > 0, only_slid=only_slid,
    )  # fmt: skip


# --- along a course --------------------------------------------------------------------------------------


_COURSE_ROUNDS = 6
"""Where letters stand on a line hangs on how far joining slides them, and that on how they are turned there:
a few rounds settle it."""

_SETTLED = 2e-4
"""Letters that move along their line by less than this share of the size have settled."""

_SUNK = 0.6
"""Feet run into a line by this share of the neck that is asked for, where it lies highest under them. (†)"""


def _along(
    part: Lettering, faces: Faces, bars: Sequence[Bar], least: Weedable, course: Course, line: Line | None
) -> MadeLettering:
    """Lettering along a course: joined as its letters are turned there, or joined straight and bent."""
    plain = set_lines(part, faces)
    size = size_of(part, faces.face, plain)
    edge = 0.0 if line is None else line.edge
    drawn = None if line is None else (line.outline, line.closed)
    is_bent = course.letters == "bent" and not course.is_down
    if course.is_down and course.spine_mm:
        # What hangs on a spine need not hold by itself.
        part = part.model_copy(update={"join": replace(part.join, how="set")})
    joined, spacing, raised = Joined(plain, (), (), (), {}), part.spacing_mm, edge
    joined_for, joined_at = size, np.zeros(0)
    starts: tuple[float, ...] = ()
    for _ in range(_COURSE_ROUNDS):
        path = path_of(course, faces.face.capital_height * size, drawn, raised)
        layout = place(part, joined.lines, size, path, spacing)
        spacing = _spread(course, path, layout, spacing)
        if course.stands:
            raised = edge - _SUNK * part.join.neck_mm - _falls_away(layout)
        path = path_of(course, faces.face.capital_height * size, drawn, raised)
        layout = place(part, joined.lines, size, path, spacing)
        at = _stand_of(layout, raised)
        if len(joined_at) and np.abs(at - joined_at).max() <= _SETTLED * size:
            starts = layout.starts
            break
        straight = replace(layout, paths=())
        joined = _joined_at(part, faces, least, plain, size, straight if is_bent else layout)
        joined_for, joined_at, starts = size, at, layout.starts
        size = size_of(part, faces.face, joined.lines)
    # Where they do not come to rest letters lie where they were joined: a joint holds before a middle is met.
    layout = place(part, joined.lines, size, path, spacing)
    beside = float(np.abs(np.subtract(layout.starts, starts)).max())
    layout = place(part, joined.lines, size, path, spacing, starts)
    if not is_bent:
        made = _tied(part, faces, bars, joined, path, layout)
    else:
        _look_at_bend(layout)
        straight = place(part, joined.lines, size, None, spacing)
        moved_by = straight.starts[0] - layout.starts[0]
        line_key = "" if line is None else line.outline.digest
        told = digest(repr(course), repr((size, moved_by, raised)), line_key)
        bends = [
            AlongPath(own, moved_by, below, f"{told} {below}")
            for own, below in zip(layout.paths, layout.baselines, strict=True)
        ]
        made = bent_lettering(_tied(part, faces, bars, joined, None, straight), bends, layout)
    unmet = (*made.unmet, *_unmet(part, made, joined_for), *_unmet_along(course, path, layout, beside))
    return replace(made, unmet=unmet)


def _stand_of(layout: Layout, raised: float) -> Floats:
    """What tells how letters lie to each other along a path, in mm."""
    at = [layout.size, layout.spacing, raised]
    if isinstance(layout.paths[0], Polyline):  # other lines bend in the same way everywhere
        at += [v for letter in layout.letters for v in (letter.place.x, letter.place.y)]
    return np.array(at)


def _unmet_along(course: Course, path: Path, layout: Layout, beside: float) -> Iterator[Problem]:
    """What was asked of a course and is not so; ``beside`` is how far the lettering lies beside its place."""
    if beside > TOLD_MM:
        yield Problem(
            "place-not-met",
            f"The words lie {show_length(beside, places=2)} beside their place on the line: how letters are "
            "joined here changes with every move along it.",
            "Choose a place or a size a little different, if that matters.",
            "course",
        )
    if course.spread and isinstance(path, Circle | Polyline) and len(layout.letters) > 1:
        wanted, reached = _spread_wanted(course, path), length_along(layout, _longest(layout))
        if abs(reached - wanted) > TOLD_MM:
            yield Problem(
                "spread-not-met",
                f"The words are {show_length(reached)} long on their line: {show_length(wanted)} was asked "
                "for, and letters are not spread that far.",
                "Choose larger letters, or ask for a shorter part of the line.",
                "course",
            )


def _falls_away(layout: Layout) -> float:
    """How far the line falls away under the feet of a letter at most, in mm."""
    most = 0.0
    for p in layout.letters:
        stand, half = p.letter.stand, p.form.box.width * layout.size / 2
        at = layout.starts[p.line] + (stand.x + stand.middle) * layout.size + stand.order * layout.spacing
        z, way = layout.paths[p.line].at(np.array([at, at - half, at + half]), np.zeros(3))
        below = ((z[1:] - z[0]) * way[0].conjugate()).imag
        most = max(most, float(below.max()))
    return most


def _spread(course: Course, path: Path, layout: Layout, spacing: float) -> float:
    """The room between letters at which the longest line is as long as the course asks."""
    if not course.spread or not isinstance(path, Circle | Polyline):
        return spacing
    longest = _longest(layout)
    gaps = max((p.letter.order for p in layout.letters if p.line == longest), default=0)
    if not gaps:
        return spacing
    lacking = _spread_wanted(course, path) - length_along(layout, longest)
    return min(300.0, max(-100.0, spacing + lacking / gaps))


def _spread_wanted(course: Course, path: Circle | Polyline) -> float:
    """How long the longest line is to be, in mm."""
    if isinstance(path, Circle):
        return math.radians(course.spread) * path.measured
    return min(course.spread, 1.0) * path.length


def _longest(layout: Layout) -> int:
    """The line with the most letters and spaces."""
    orders = dict.fromkeys(range(len(layout.starts)), 0)
    for p in layout.letters:
        orders[p.line] = max(orders[p.line], p.letter.order)
    return max(orders, key=lambda line: orders[line])


def length_along(layout: Layout, line: int) -> float:
    """How long a line of letters is, measured along itself, in mm."""
    ends = [
        (p.letter.x * layout.size + p.letter.order * layout.spacing, p.form.box)
        for p in layout.letters
        if p.line == line
    ]
    left = min(at + box.x * layout.size for at, box in ends)
    return max(at + box.right * layout.size for at, box in ends) - left


def _look_at_bend(layout: Layout) -> None:
    """Raises Problem "too-bent" where letters reach the middle that a line bends around."""
    for p in layout.letters:
        path, box = layout.paths[p.line], p.form.box
        if not isinstance(path, Circle):
            return
        low, high = ((p.letter.y + y) * layout.size for y in (box.bottom, box.y))
        if min(path.radius - path.way * low, path.radius - path.way * high) < 0.05 * layout.size:
            raise Problem(
                "too-bent", "The circle is too small: bent letters would reach its middle.",
                "Make it larger, set smaller letters, or have them turned and not bent.", "course",
            )  # fmt: skip


BENT_TO = 2e-4
"""Bent letters are true to the bend by this share of the size: 5 µm where that is 25 mm."""


def _warped(made: MadeLettering) -> MadeLettering:
    """Lettering bent as a whole, where that is asked."""
    warp = made.lettering.warp
    if warp is None or not warp.amount:
        return made
    x0, y0, x1, y1 = shapely.total_bounds([at.region(shape.region) for shape, at in made.drawn]).tolist()
    bend = Warped(warp, Box(x0, y0, x1 - x0, y1 - y0))
    return bent_lettering(made, [bend] * len(made.layout.baselines), made.layout)


def bent_lettering(made: MadeLettering, bends: Sequence[Bend], there: Layout) -> MadeLettering:
    """Lettering under maps of its frame, one for each line: its letters and all that joins them keep their
    curves, and its seams are measured as they then lie. Letters stand as they do in ``there``."""
    size = made.size
    layout = replace(made.layout, paths=there.paths, starts=there.starts)
    tolerance = BENT_TO * size

    def bent_from(shape: Shape, bend: Bend, was: Placement, now: Placement) -> Shape:
        key = (shape.step_key, repr((was, tolerance)), repr(now), bend.key)
        return _bent.get(key, lambda: now.shape_back(bent_shape(was.shape(shape), bend, tolerance)))

    def region_from(region: Region, bend: Bend, was: Placement, now: Placement) -> Region:
        def moved_to(xy: Floats) -> Floats:
            z = bend.at(xy[:, 0] + 1j * xy[:, 1])
            return np.stack([z.real, z.imag], axis=1)

        return now.region_back(polygonal(shapely.transform(was.region(region), moved_to)))

    letters = []
    for p in made.layout.letters:
        now = layout.pose(p.line, p.letter.stand)
        form = bent_from(p.form, bends[p.line], p.place, now)
        key = digest(p.letter.key, repr(p.place), bends[p.line].key)
        letters.append(replace(p, place=now, letter=replace(p.letter, form=form, key=key)))
    changed = replace(made, layout=replace(layout, letters=tuple(letters)))

    def patched(patch: Patch) -> Patch:
        was, now = made.frame(patch.line, patch.stand), changed.frame(patch.line, patch.stand)
        if not patch.shape.outline:
            filled = region_from(patch.shape.region, bends[patch.line], was, now)
            return replace(patch, shape=replace(patch.shape, region=filled))
        return replace(patch, shape=bent_from(patch.shape, bends[patch.line], was, now))

    def seamed(seam: LineSeam) -> LineSeam:
        was, now = made.frame(seam.line, seam.stand), changed.frame(seam.line, seam.stand)
        bend = bends[seam.line]

        def mapped(flat: Seam) -> Seam:
            between = None if flat.between is None else region_from(flat.between, bend, was, now)
            return Seam(
                region_from(flat.left, bend, was, now), region_from(flat.right, bend, was, now), between
            )

        def held(_: Seam) -> Seam | None:
            flat = seam.held(seam.look())
            return None if flat is None else mapped(flat)

        joint, bar = seam.joint, seam.joint.bar
        if bar is not None and bar.ends is not None:
            ends = [now.back(*_mapped(bend, *was.point(*end))) for end in bar.ends]
            joint = replace(joint, bar=replace(bar, ends=(ends[0], ends[1])))
        return replace(seam, joint=joint, look=lambda: mapped(seam.look()), held=held)

    whole = Placement(scale=size)
    joined = replace(
        made.joined,
        seams=tuple(map(seamed, made.joined.seams)),
        bars=tuple(map(patched, made.joined.bars)),
        fills=tuple(map(patched, made.joined.fills)),
    )

    def laid_there(bar: LaidBar) -> LaidBar:
        ends = bar.ends
        if ends is not None:
            one, other = (whole.back(*_mapped(bends[0], *whole.point(*end))) for end in ends)
            ends = one, other
        return replace(bar, shape=bent_from(bar.shape, bends[0], whole, whole), ends=ends)

    return replace(
        changed,
        joined=joined,
        laid=tuple(map(laid_there, made.laid)),
        ties=tuple(replace(tie, shape=bent_from(tie.shape, bends[0], whole, whole)) for tie in made.ties),
        underlines=tuple(bent_from(line, bends[0], whole, whole) for line in made.underlines),
    )


def _mapped(bend: Bend, x: float, y: float) -> Point:
    z = complex(bend.at(np.array([complex(x, y)]))[0])
    return z.real, z.imag


_bent: Bounded[tuple[str, str, str, str], Shape] = Bounded(24 * 2**20)


# --- bars, ties and underlines ---------------------------------------------------------------------------


def _tied(
    part: Lettering, faces: Faces, bars: Sequence[Bar], joined: Joined, path: Path | None, about: Layout
) -> MadeLettering:
    """Joined words at the size of a layout, with bars, underlines and ties."""
    size = about.size
    layout = place(part, joined.lines, size, path, about.spacing)
    made = MadeLettering(part, faces, layout, joined, (), (), ())
    regions: list[Region] = []
    in_shares = Placement(scale=1 / size)
    if bars or part.join.tie:
        regions = [in_shares.region(region) for region in made.regions]
    laid = _laid(part, bars, layout, regions)
    lines = (*_underlines(part, layout), *_spine(part, layout))
    tied: list[Tie] | None = []
    if part.join.tie:
        joints = [made.frame(bar.line, bar.stand).within(in_shares).region(bar.shape.region) for bar in
                  joined.bars]  # fmt: skip
        refused = {
            frozenset((pair.one.letter, pair.other.letter))
            for pair in part.join.refused
            if pair.one.part == pair.other.part == part.id
        }
        numbers = [n for n, letter in enumerate(layout.letters) if made.is_own(letter)]
        ids = [part.ids[layout.letters[n].letter.at] for n in numbers]
        tied = ties(
            [regions[n] for n in numbers],
            [*joints, *(bar.shape.region for bar in laid if bar.shape), *(line.region for line in lines)],
            part.join.neck_mm / size,
            lambda a, b: frozenset((ids[a], ids[b])) not in refused,
        )
        if tied is not None:
            tied = [replace(tie, ends=(numbers[tie.ends[0]], numbers[tie.ends[1]])) for tie in tied]
    unmet = () if tied is not None else (_NOT_TIED,)
    return replace(made, laid=laid, ties=tuple(tied or ()), underlines=lines, unmet=unmet)


_NOT_TIED = Problem(
    "not-tied",
    f"Nothing is tied: the words are in more than {MOST_TIES} pieces.",
    "Join the letters first, or set fewer words in one part.",
    "join",
)


def _spine(part: Lettering, layout: Layout) -> tuple[Shape, ...]:
    """The bar behind letters that stand one under the other."""
    course = part.course
    if course is None or not course.is_down or not course.spine_mm:
        return ()
    half, size = course.spine_mm / 2 / layout.size, layout.size
    found = []
    for number, below in enumerate(layout.baselines):
        letters = [letter for letter in layout.letters if letter.line == number]
        if letters:
            top = min(p.place.y / size + p.form.box.y for p in letters)
            bottom = max(p.place.y / size + p.form.box.bottom for p in letters)
            at = below / size
            corners = [(at - half, top), (at + half, top), (at + half, bottom), (at - half, bottom)]
            found.append(clean(Outline.polygon(corners), LETTER_FLATNESS))
    return tuple(found)


_THICKER_STEP = 1e-4
"""How finely a thickening is told, as a share of the size: 2 µm of it at a size of 40 mm, far below what a
cutter steps. So letters once thickened serve again when the size changes a little."""


def _thicker(mm: float, size: float) -> float:
    return round(round(mm / size / _THICKER_STEP) * _THICKER_STEP, 6)


def _laid(part: Lettering, bars: Sequence[Bar], layout: Layout, regions: list[Region]) -> tuple[LaidBar, ...]:
    """Bars laid by hand, where their letters are now."""
    index = {part.ids[letter.letter.at]: n for n, letter in enumerate(layout.letters)}
    size = layout.size
    found = []
    for bar in bars:
        hung = [(anchor, index[anchor.letter]) for anchor in (bar.start, bar.end) if anchor.letter in index]
        if len(hung) < 2:
            found.append(LaidBar(bar, Shape.empty(), None, (0.0, 0.0)))
            continue
        places = [layout.letters[n].drawn_place.point(anchor.x, anchor.y) for anchor, n in hung]
        (x0, y0), (x1, y1) = places
        start, end = (x0 / size, y0 / size), (x1 / size, y1 / size)
        shape = bar_shape(start, end, bar.width_mm / size, bar.bulge)
        one, other = (neck_at(regions[n], shape.region) for _, n in hung)
        found.append(LaidBar(bar, shape, (start, end), (one * size, other * size)))
    return tuple(found)


def _underlines(part: Lettering, layout: Layout) -> tuple[Shape, ...]:
    """The underline of each line that has letters."""
    line = part.underline
    if line is None or layout.paths:
        return ()  # a line that lettering runs along is one already
    size, beyond = layout.size, line.beyond_mm / layout.size
    found = []
    for number, baseline in enumerate(layout.baselines):
        letters = [letter for letter in layout.letters if letter.line == number]
        if not letters:
            continue
        left = min(p.place.x / size + p.form.box.x for p in letters) - beyond
        right = max(p.place.x / size + p.form.box.right for p in letters) + beyond
        if right - left > 0.01:
            found.append(
                underline(left, right, baseline / size, line.thick_mm / size, line.over_mm / size, line.style)
            )
    return tuple(found)
