"""Outline: closed Bézier contours as two flat arrays.

The arrays are the verbs and points of a drawing: MOVE takes one point and opens a contour,
LINE takes one, QUAD two, CUBIC three. Every contour closes back to its MOVE by itself; when the
last point differs from the first, the closing side is a straight line. Millimetres, y down.

An outline is a plain value. Whoever makes, measures, moves, welds or writes one needs nothing
but this file, so readers, writers and engines never know each other.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]
Point = tuple[float, float]

MOVE, LINE, QUAD, CUBIC = 0, 1, 2, 3
POINTS_OF = np.array([1, 1, 2, 3], dtype=np.intp)
"""How many points each verb takes."""


@dataclass(frozen=True, eq=False)
class Sides:
    """The sides of an outline, closing sides included.

    cubics: each as a cubic Bézier (S, 4, 2); lines and quadratics are raised exactly, so every measure
    needs one formula only; contour_of: the contour each belongs to (S,); verbs: what each was drawn as (S,);
    controls: the first point its verb takes, as x + iy (S,): of a quadratic its control point.
    """

    cubics: Floats
    contour_of: Ints
    verbs: NDArray[np.uint8]
    controls: NDArray[np.complex128]

    @property
    def before(self) -> Ints:
        """The number of the side before each side, around its contour (S,)."""
        before = np.arange(len(self.contour_of)) - 1
        firsts = np.flatnonzero(np.append(True, self.contour_of[1:] != self.contour_of[:-1]))
        before[firsts] = np.append(firsts[1:], len(self.contour_of)) - 1
        return before


@dataclass(frozen=True, eq=False)
class Outline:
    """Closed contours. ``verbs`` is (V,) uint8, ``points`` is (P, 2) float64, in mm."""

    verbs: NDArray[np.uint8]
    points: Floats

    @classmethod
    def empty(cls) -> Outline:
        return cls(np.zeros(0, np.uint8), np.zeros((0, 2)))

    @classmethod
    def polygon(cls, corners: Sequence[tuple[float, float]] | Floats) -> Outline:
        """One contour of straight sides."""
        points = np.asarray(corners, dtype=np.float64)
        verbs = np.full(len(points), LINE, np.uint8)
        verbs[0] = MOVE
        return cls(verbs, points)

    @classmethod
    def joined(cls, outlines: Iterable[Outline]) -> Outline:
        """All contours of several outlines in one, nothing welded."""
        all_of_them = [o for o in outlines if len(o.verbs)]
        if not all_of_them:
            return cls.empty()
        whole = cls(
            np.concatenate([o.verbs for o in all_of_them]),
            np.concatenate([o.points for o in all_of_them]),
        )
        if all("sides" in o.__dict__ for o in all_of_them):  # known sides need not be worked out again
            known = [o.sides for o in all_of_them]
            firsts = np.cumsum([0, *(len(o.contour_starts) for o in all_of_them)])
            whole.__dict__["sides"] = Sides(
                np.concatenate([sides.cubics for sides in known]),
                np.concatenate([sides.contour_of + n for sides, n in zip(known, firsts, strict=False)]),
                np.concatenate([sides.verbs for sides in known]),
                np.concatenate([sides.controls for sides in known]),
            )
        return whole

    def __bool__(self) -> bool:
        return len(self.verbs) > 0

    @property
    def kept_bytes(self) -> int:
        """About how many bytes the outline keeps alive, with its sides once they are asked for."""
        return 400 + len(self.verbs) + self.points.nbytes * 6

    @cached_property
    def digest(self) -> str:
        """A short mark by which the very same outline is known again."""
        seen = hashlib.blake2b(self.verbs.tobytes(), digest_size=10)
        seen.update(self.points.tobytes())
        return seen.hexdigest()

    def moved_by(self, move: Callable[[Floats], Floats]) -> Outline:
        """The outline with each point (N, 2) where an affine map takes it. Its sides are moved, too, which is
        quicker than to work them out anew."""
        return self.with_moved(move(self.all_points))

    @cached_property
    def all_points(self) -> Floats:
        """Its points, those of its sides as cubics, and the controls of these, in one table (N, 2)."""
        sides = self.sides
        controls = np.ascontiguousarray(sides.controls).view(np.float64).reshape(-1, 2)
        return np.concatenate((self.points, sides.cubics.reshape(-1, 2), controls))

    def with_moved(self, moved: Floats) -> Outline:
        """The outline with ``all_points`` elsewhere."""
        sides, count = self.sides, len(self.points)
        after = count + 4 * len(sides.verbs)
        outline = Outline(self.verbs, moved[:count])
        outline.__dict__["sides"] = Sides(
            moved[count:after].reshape(-1, 4, 2),
            sides.contour_of,
            sides.verbs,
            np.ascontiguousarray(moved[after:]).view(np.complex128)[:, 0],
        )
        return outline

    def placed(self, dx: float, dy: float, scale: float = 1.0) -> Outline:
        """The outline scaled about the origin, then moved."""
        return self.moved_by(lambda xy: xy * scale + (dx, dy))

    def mirrored(self) -> Outline:
        """Left and right swapped about x = 0; outer contours keep their winding."""
        return Outline(self.verbs, self.points * (-1.0, 1.0)).reversed()

    @cached_property
    def contour_starts(self) -> Ints:
        """Index into ``verbs`` of each contour's MOVE."""
        return np.flatnonzero(self.verbs == MOVE)

    @cached_property
    def point_starts(self) -> Ints:
        """Index into ``points`` of the first point of each verb, and one past the last."""
        return np.concatenate(([0], np.cumsum(POINTS_OF[self.verbs])))

    def stretch(self, start: int, end: int) -> Outline:
        """The contours from ``start`` up to ``end``."""
        bounds = np.append(self.contour_starts, len(self.verbs))[[start, end]]
        first, last = self.point_starts[bounds]
        return Outline(self.verbs[bounds[0] : bounds[1]], self.points[first:last])

    def contours(self) -> Iterator[Outline]:
        """Each contour as an outline of its own, in order."""
        return (self.stretch(n, n + 1) for n in range(len(self.contour_starts)))

    def reversed(self) -> Outline:
        """Every contour walked the other way, from the same first point."""
        count = len(self.contour_starts)
        return self.arranged(range(count), np.ones(count, np.bool_))

    def arranged(self, order: Sequence[int], turned: Bools) -> Outline:
        """The contours named by ``order``, in that order; those that are ``turned`` (C,) walked the
        other way from the same first point."""
        drawn = self._closed_by_sides(turned)
        verb_ends = np.append(drawn.contour_starts[1:], len(drawn.verbs)).tolist()
        point_ends = drawn.point_starts[verb_ends].tolist()
        verb_starts = drawn.contour_starts.tolist()
        point_starts = drawn.point_starts[verb_starts].tolist()
        verbs, points = [], []
        for contour in order:
            own_verbs = drawn.verbs[verb_starts[contour] : verb_ends[contour]]
            own_points = drawn.points[point_starts[contour] : point_ends[contour]]
            if turned[contour]:
                verbs += [own_verbs[:1], own_verbs[:0:-1]]
                points.append(own_points[::-1])
            else:
                verbs.append(own_verbs)
                points.append(own_points)
        if not verbs:
            return Outline.empty()
        arranged = Outline(np.concatenate(verbs), np.concatenate(points))
        arranged.__dict__["sides"] = self._arranged_sides(order, turned)
        return arranged

    def _arranged_sides(self, order: Sequence[int], turned: Bools) -> Sides:
        """What ``sides`` is after arranging: known sides need not be worked out again."""
        own = self.sides
        rows = self.arranged_rows(order, turned)
        backwards = turned[own.contour_of[rows]]
        cubics = own.cubics[rows]
        if backwards.any():
            cubics = np.where(backwards[:, None, None], cubics[:, ::-1], cubics)
        bounds = np.searchsorted(own.contour_of, np.arange(len(turned) + 1))
        counts = np.diff(bounds)[np.asarray(order, np.intp)]
        return Sides(cubics, np.repeat(np.arange(len(counts)), counts), own.verbs[rows], own.controls[rows])

    def arranged_rows(self, order: Sequence[int], turned: Bools) -> Ints:
        """The side of this outline that each side of the arranged one is."""
        bounds = np.searchsorted(self.sides.contour_of, np.arange(len(turned) + 1)).tolist()
        rows = [np.arange(bounds[c], bounds[c + 1]) for c in order]
        return np.concatenate(
            [own[::-1] if turned[c] else own for c, own in zip(order, rows, strict=True)]
            or [np.zeros(0, np.intp)]
        )

    def _closed_by_sides(self, which: Bools) -> Outline:
        """The outline with the closing side of some contours drawn in so many words: walked
        backwards it comes first, so it has to be there."""
        if not self:
            return self
        starts = self.contour_starts
        ends = np.append(starts[1:], len(self.verbs))
        firsts = self.points[self.point_starts[starts]]
        open_ended = (firsts != self.points[self.point_starts[ends] - 1]).any(axis=1) & which
        if not open_ended.any():
            return self
        verbs = np.insert(self.verbs, ends[open_ended], np.uint8(LINE))
        at = self.point_starts[ends[open_ended]]
        return Outline(verbs, np.insert(self.points, at, firsts[open_ended], axis=0))

    @property
    def cubics(self) -> tuple[Floats, Ints]:
        """All sides as cubic Béziers (S, 4, 2) with the contour each belongs to (S,)."""
        return self.sides.cubics, self.sides.contour_of

    @cached_property
    def sides(self) -> Sides:
        """All sides. Those of no length are left out; closing sides are included."""
        verbs, points, starts = self.verbs, self.points, self.point_starts
        if not len(verbs):
            return Sides(
                np.zeros((0, 4, 2)), np.zeros(0, np.intp), np.zeros(0, np.uint8), np.zeros(0, np.complex128)
            )
        # As complex numbers, which halves the steps.
        z = np.ascontiguousarray(points).view(np.complex128)[:, 0]
        moves, first_of, end_of = self.contour_starts, starts[:-1], starts[1:] - 1
        contour_of = np.cumsum(verbs == MOVE) - 1
        ends = z[end_of]
        begins = z[first_of - 1]
        # A MOVE's row becomes the closing side of its contour.
        lasts = np.append(moves[1:], len(verbs)) - 1
        begins[moves] = ends[lasts]
        one, other = begins.copy(), ends.copy()
        straight = np.flatnonzero(verbs <= LINE)
        # A third of each coordinate by itself: numpy divides complex numbers less exactly.
        third = ((ends[straight] - begins[straight]).view(np.float64) / 3).view(np.complex128)
        one[straight] += third
        other[straight] -= third
        quad = np.flatnonzero(verbs == QUAD)
        control = z[first_of[quad]]
        one[quad] += (control - begins[quad]) * (2 / 3)
        other[quad] += (control - ends[quad]) * (2 / 3)
        cubic = np.flatnonzero(verbs == CUBIC)
        one[cubic] = z[first_of[cubic]]
        other[cubic] = z[first_of[cubic] + 1]
        # The closing side goes to the end of its contour.
        order = np.arange(1, len(verbs) + 1)
        order[lasts] = moves
        # The first point that a verb takes: of a quadratic its control point. A closing side is a line.
        controls, drawn = z[first_of], np.where(verbs == MOVE, np.uint8(LINE), verbs)
        sides = np.stack((begins, one, other, ends), axis=1)[order]
        contour_of, drawn, controls = contour_of[order], drawn[order], controls[order]
        none = (sides[:, 0] == sides[:, 3]) & (sides[:, 0] == sides[:, 1]) & (sides[:, 0] == sides[:, 2])
        if none.any():
            sides, contour_of, drawn, controls = (
                sides[~none],
                contour_of[~none],
                drawn[~none],
                controls[~none],
            )
        return Sides(sides.view(np.float64).reshape(-1, 4, 2), contour_of, drawn, controls)
