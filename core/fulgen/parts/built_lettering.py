"""What lettering comes to: where its letters are, how they meet, and what else ties them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely

from fulgen.bounded import digest
from fulgen.geometry.outline import Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, count, polygonal
from fulgen.geometry.shape import Shape
from fulgen.joining.anchors import Anchor, within_reach
from fulgen.joining.bars import Bar, Tie, snapped
from fulgen.joining.line_of_letters import JoinedLines, LineSeam, Patch
from fulgen.lettering.bodies import carrier_and_bits
from fulgen.lettering.course import Stand
from fulgen.lettering.layout import (
    Layout,
    PlacedLetter,
    layers_of,
    straight_size,
)
from fulgen.lettering.setting import Faces
from fulgen.parts.built_part import BuiltPart, Layer
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.units import show_length


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
class BuiltLettering(BuiltPart):
    """Lettering as laid out: where its letters and baselines are, how its letters meet, and what else ties
    them. Bars, ties and underlines are in shares of the size."""

    lettering: Lettering
    faces: Faces
    layout: Layout
    joined: JoinedLines
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
        """The frame in which a letter sees what is around it (see
        ``joining.line_of_letters.LineOfLetters``)."""
        pose, paths = self.layout.pose(line, stand), self.layout.paths
        return replace(pose, turn=pose.turn - paths[line].turned_by) if paths else pose

    def shaped(self, forms: Sequence[Shape]) -> BuiltLettering:
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


SAME_SIZE = 1e-3
"""Joints made for a size this near to another are the same."""


REPORTED_FROM_MM = 0.02
"""What is off by more than this from what was asked is reported: about a cutter's step (0.025 mm, HP-GL's
plotter unit: HP 7475A Interfacing and Programming Manual, from memory)."""


def off_from_joints(built: BuiltLettering, size: float, joined_for: float | None = None) -> Iterator[Problem]:
    """Joints and strokes that are off, for letters have another size than the one they were made for."""
    part = built.lettering
    off = abs(size / (joined_for or built.size) - 1) * max(part.join.neck_mm, abs(part.thicken_mm))
    if off > REPORTED_FROM_MM:
        yield Problem(
            "joints-not-met",
            f"Joints and strokes are off by up to {show_length(off, places=2)}: how letters are joined here "
            "changes with every change of their size.",
            "Choose a size a little larger or smaller.",
            "size",
        )
