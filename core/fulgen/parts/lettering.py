"""Lettering: live text, set, joined, tied and underlined, as a part of a design."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely

from fulgen.bounded import digest
from fulgen.geometry.outline import Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, count, moved
from fulgen.geometry.weld import Shape
from fulgen.joining.anchors import Anchor, PartId, within_reach
from fulgen.joining.bars import Bar, Tie, Underline, bar_shape, neck_at, snapped, ties, underline
from fulgen.joining.wishes import Join
from fulgen.joining.words import Joined, LineSeam, Patch, join_lines
from fulgen.lettering.layout import Layout, PlacedLetter, layers_of, place, set_lines, size_of
from fulgen.lettering.setting import Faces, Setting
from fulgen.parts.made import Layer, Made
from fulgen.parts.part import Part
from fulgen.problem import Problem
from fulgen.units import show_length


class Lettering(Setting, Part):
    """Live text as a part: how it is set and joined. Where it lies is where its first baseline's left end
    is."""

    kind: Literal["lettering"] = "lettering"
    id: PartId = "lettering-1"
    join: Join = Join()
    underline: Underline | None = None

    def making_key(self) -> str:
        kept = {"place", "film", "next_letter_id", "name", "hidden", "locked", "travels"}
        return self.model_dump_json(exclude=kept)


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

    @property
    def kept_bytes(self) -> int:
        """About how many bytes it keeps alive: its letters' forms are kept elsewhere, its seams are not."""
        return 20_000 + 6_000 * len(self.layout.letters) + 40_000 * len(self.joined.seams)

    @property
    def size(self) -> float:
        return self.layout.size

    @property
    def smooth_mm(self) -> float:
        return self.lettering.join.smooth_mm

    @cached_property
    def shapes(self) -> Sequence[tuple[Shape, Placement]]:
        """Letters, what joins them, and bars, ties and underlines."""
        letters = ((p.form, p.place) for p in self.layout.letters)
        return [*letters, *((shape, place) for shape, place, _ in self.extras)]

    @cached_property
    def others(self) -> Sequence[Layer]:
        """The colours of what stands in for letters: laid over it, each in its film."""
        films: dict[str, list[tuple[Shape, Placement]]] = {}
        for placed in self.layout.letters:
            for film, shape in layers_of(placed.letter):
                films.setdefault(film, []).append((shape, placed.place))
        return [Layer(film, shapes) for film, shapes in films.items() if film != self.lettering.film.upper()]

    @cached_property
    def extras(self) -> list[tuple[Shape, Placement, int | None]]:
        """All that is no letter: bars that join, bars laid by hand, ties and underlines; with the id of the
        letter that it goes along with, if any."""
        ids = self.lettering.ids
        at_order = {(p.line, p.letter.order): ids[p.letter.at] for p in self.layout.letters}
        joints = [
            (bar.shape, self._patch_place(bar), at_order.get((bar.line, bar.order)))
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
        return self.layout.on_line(patch.line, patch.x, patch.y, patch.order)

    def seam_place(self, seam: LineSeam) -> Placement:
        """Where a seam lies, which is measured in shares of the size from its left letter's origin."""
        return self.layout.on_line(seam.line, seam.x, seam.y, seam.order)

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

    @cached_property
    def extent(self) -> tuple[float, float]:
        """Width and height of all that is cut, as far as it was made of shapes."""
        boxes = np.array([(*shape.box, at.x, at.y, at.scale) for shape, at in self.shapes])
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

_BEYOND_ROUNDS = 8

MOST_THICKER = 1.0
"""Letters are thickened by their size at most: a backing for a name is about a third of it."""

_EXACT_MM = 1e-4
"""A tenth of a micrometre: so true is the size of what is cut to the one that was asked for."""


def make_lettering(part: Lettering, faces: Faces, bars: Sequence[Bar], hole_mm: float) -> MadeLettering:
    """Words laid out, joined and tied; ``bars`` are those laid by hand from letter to letter, and holes
    narrower than ``hole_mm`` are too small to weed.

    Raises Problem when they cannot be set, or not at that size.
    """
    plain = set_lines(part, faces)
    size = size_of(part, faces.face, plain)
    beyond = 0.0

    def joined_at(size: float) -> Joined:
        thicker = _thicker(part.thicken_mm, size)
        if thicker > MOST_THICKER:
            raise Problem(
                "too-thick",
                f"Thickened by {show_length(part.thicken_mm)}, letters of this size are only blots.",
                "Thicken by less, or choose a larger size.",
                "thicken_mm",
            )
        lines = set_lines(part, faces, thicker) if thicker else plain
        return join_lines(lines, size, part.spacing_mm, part.join, part.changes, hole_mm, faces.face.x_height)

    for _ in range(_SIZE_ROUNDS):
        joined = joined_at(size)
        settled, size = size, size_of(part, faces.face, joined.lines)
        if abs(size - settled) <= 1e-3 * size:
            break
    made = _tied(part, faces, bars, joined, size)
    asked = part.size.mm
    for _ in range(_BEYOND_ROUNDS):
        if part.size.measure == "capitals":
            break
        over = made.extent[0 if part.size.measure == "width" else 1] - asked
        if abs(over) <= _EXACT_MM:
            break
        # Underlines and bars go beyond the letters by lengths of their own.
        beyond += over
        if beyond >= 0.98 * asked:
            raise Problem(
                "impossible-size",
                f"What goes beyond the letters leaves them no room within {show_length(asked)}.",
                "Choose a larger size, or let the underline reach less far.",
                "size",
            )
        joined = joined_at(size_of(part, faces.face, joined.lines, beyond))
        made = _tied(part, faces, bars, joined, size_of(part, faces.face, joined.lines, beyond))
    return made


def _tied(part: Lettering, faces: Faces, bars: Sequence[Bar], joined: Joined, size: float) -> MadeLettering:
    """Joined words at their size, with bars, underlines and ties."""
    layout = place(part, joined.lines, size)
    regions: list[Region] = []
    if bars or part.join.tie:
        regions = [moved(p.form.region, p.place.x / size, p.place.y / size) for p in layout.letters]
    laid = _laid(part, bars, layout, regions)
    lines = _underlines(part, layout)
    tied: list[Tie] = []
    if part.join.tie:
        joints = [
            moved(
                bar.shape.region,
                layout.starts[bar.line] / size + bar.x + bar.order * part.spacing_mm / size,
                layout.baselines[bar.line] / size + bar.y,
            )
            for bar in joined.bars
        ]
        refused = {
            frozenset((pair.one.letter, pair.other.letter))
            for pair in part.join.refused
            if pair.one.part == pair.other.part == part.id
        }
        ids = [part.ids[letter.letter.at] for letter in layout.letters]
        tied = ties(
            regions,
            [*joints, *(bar.shape.region for bar in laid if bar.shape), *(line.region for line in lines)],
            part.join.neck_mm / size,
            lambda a, b: frozenset((ids[a], ids[b])) not in refused,
        )
    return MadeLettering(part, faces, layout, joined, laid, tuple(tied), lines)


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
    if line is None:
        return ()
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
