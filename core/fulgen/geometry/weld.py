"""Weld: one outline of everything that overlaps, with counters kept and curves kept (see overlay)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager

import numpy as np
import shapely
import shapely.errors

from fulgen.budget import check
from fulgen.geometry import polygons
from fulgen.geometry.contact import finer_where_near
from fulgen.geometry.flatten import flatten
from fulgen.geometry.groups import Groups
from fulgen.geometry.nesting import Nesting, nest, ring_areas
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Gathered, Shape, combined, joined, of_winding
from fulgen.problem import Problem

_SPECK = 2.0
"""A drawn contour smaller than a square of this many tolerances is a fleck that no blade can cut."""

MAX_CROWDING = 160_000
"""The most work a weld may be: nodes of shapes whose boxes meet, summed over all such pairs. A page
of 450 script letters is about 60,000; at the bound the slowest weld found took about 3 s."""

_CROSSING_FINENESS = 16
"""Contours are looked at this much more closely when it is asked whether they cross."""


def clean(outline: Outline, tolerance: float, *, even_odd: bool = False) -> Shape:
    """The area an outline covers by the nonzero rule, or by the even-odd one, as a Shape.

    Contours that do not cross keep their points exactly; only their winding is set.
    Raises Problem "too-crossed" when they cross thousands of times.
    """
    outline = _with_sides(outline)
    if not outline:
        return Shape.empty()
    if _crossing(outline, tolerance / _CROSSING_FINENESS):
        return of_winding(outline, tolerance, even_odd=even_odd, fleck=_SPECK * tolerance)
    points, ring_of = flatten(outline, tolerance)
    areas = ring_areas(points, ring_of, len(outline.contour_starts))
    return _wound(outline, nest(points, ring_of, areas), tolerance, even_odd=even_odd)


def weld(shapes: Sequence[Shape], fleck: float = 0.0, shortest: float = 0.0) -> Shape:
    """The union of shapes, without pieces and holes that a disc of the diameter ``fleck`` does not fit into,
    and without sides shorter than ``shortest`` that none of them has.

    Raises Problem "too-crowded" when so much lies over each other that it would take minutes.
    """
    solid = [s for s in shapes if s]
    groups = [_weld_group([solid[n] for n in group], fleck, shortest) for group in _groups(solid)]
    return groups[0] if len(groups) == 1 else joined(groups)


def _groups(shapes: list[Shape]) -> list[list[int]]:
    """Shapes that may touch, by their boxes: those of different groups are far apart for certain.

    Words and lines that stand apart are welded one by one, which is quicker and leaves a letter
    that touches nothing exactly as it is drawn.
    """
    if not shapes:
        return []
    x0, y0, x1, y1 = shapely.bounds([s.region for s in shapes]).T
    meets = (x0[:, None] <= x1) & (x1[:, None] >= x0) & (y0[:, None] <= y1) & (y1[:, None] >= y0)
    pairs = np.argwhere(np.triu(meets, 1))
    nodes = np.array([len(s.outline.verbs) for s in shapes])
    if int(nodes[pairs].sum()) > MAX_CROWDING:
        raise Problem(
            "too-crowded",
            "So many letters lie over each other that the weld would take minutes.",
            "Widen the spacing of letters or lines, or take fewer letters.",
            "spacing",
        )
    return Groups(len(shapes), pairs.tolist()).all()


_COARSER = 4.0
"""A shape whose twin is so many times less true than another's is flattened anew, or the small one's holes
would be specks beside the large one."""


def have_same_area(shapes: Sequence[Shape]) -> list[Shape]:
    """Shapes with twins of about the same fineness, or one's flattening is the other's sliver."""
    finest = min(s.tolerance for s in shapes) * _COARSER
    return [s.refined(finest) for s in shapes]


def _weld_group(shapes: list[Shape], fleck: float, shortest: float) -> Shape:
    if len(shapes) < 2:
        return shapes[0]
    check()
    gathered = finer_where_near(Gathered.of(have_same_area(shapes)))
    return combined(gathered, polygons.union(list(gathered.regions)), fleck, shortest)


def _with_sides(outline: Outline) -> Outline:
    """The outline without contours that are points."""
    count = len(outline.contour_starts)
    own = np.bincount(outline.sides.contour_of, minlength=count) if outline else np.zeros(0, np.intp)
    if own.all():
        return outline
    return outline.arranged(np.flatnonzero(own).tolist(), np.zeros(count, np.bool_))


def _crossing(outline: Outline, tolerance: float) -> bool:
    """Whether a contour crosses itself or another, or runs along it side by side."""
    points, ring_of = flatten(outline, tolerance)
    rings = np.asarray(shapely.polygons(shapely.linearrings(points, indices=ring_of)))
    if not shapely.is_valid(rings).all():
        return True
    # Nearly always no edge meets another: asked of edges alone, that is quick.
    edges = shapely.get_exterior_ring(rings)
    one, other = shapely.STRtree(edges).query(edges, predicate="intersects")
    pairs = one != other
    one, other = rings[one[pairs]], rings[other[pairs]]
    if shapely.overlaps(one, other).any() or shapely.equals(one, other).any():
        return True
    touches = shapely.touches(one, other)
    shared = shapely.intersection(one[touches], other[touches])
    return bool((shapely.length(shared) > tolerance).any())


def _wound(outline: Outline, nesting: Nesting, tolerance: float, *, even_odd: bool) -> Shape:
    """Contours that do not cross, as a Shape: those with a winding number of 0 on one side only, or, by the
    even-odd rule, all."""
    kept = np.abs(nesting.areas) > (_SPECK * tolerance) ** 2
    if even_odd:
        is_hole = nesting.depth % 2 == 1
    else:
        turns = np.sign(nesting.areas).astype(np.intp)
        outside = nesting.inside @ turns
        within = outside + turns
        is_hole = within == 0
        kept &= is_hole != (outside == 0)
    order = nesting.by_piece(is_hole, kept)
    # Outer edges are wound positive and holes negative.
    return Shape.of(outline.arranged(order, (nesting.areas > 0) == is_hole), tolerance)


@contextmanager
def geos_errors_as_problems() -> Iterator[None]:
    """Where the polygon engine gives up inside, that is a Problem "weld"."""
    try:
        yield
    except shapely.errors.GEOSException as error:
        if "bad_alloc" in str(error):  # it tells of memory in words only
            raise MemoryError from None
        raise Problem(
            "weld", "The outline could not be worked out here.", "Undo the last change, or move it by a hair."
        ) from None
