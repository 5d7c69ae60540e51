"""Nesting: parts arranged to use little film: by their profiles (``skyline``), and few parts by the strip
packing of spyrrow (Gardeyn and Wauters, "sparrow"), too.

That packs outlines without holes into a strip of a given height that is to be as short as can be; here the
strip runs down the sheet. Parts of a motif stay together: what is packed is the outline around all of them.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace

import numpy as np
import shapely
import spyrrow
from shapely.geometry import Polygon

from fulgen.budget import check
from fulgen.geometry.measure import Box
from fulgen.geometry.polygons import polygonal
from fulgen.recipe.cutting import CutPlan, Turns
from fulgen.sheet.motifs import Motif
from fulgen.sheet.sheets import LaidMotif, LaidSheet, Sheet, in_rows, sheet_with, validate_fit
from fulgen.sheet.skyline import laid_by_skyline
from fulgen.units import Unit

_ANGLES: dict[Turns, Sequence[float] | None] = {
    "none": (0.0,),
    "half": (0.0, 180.0),
    "quarter": (0.0, 90.0, 180.0, 270.0),
    "any": None,
}
_COARSE_MM = 0.15
"""Outlines are packed with so much around them, and with few points."""

_FULL = 0.72
"""A sheet is first tried with parts that cover so much of it together."""

_LOOK_S = 0.1

_HAIR = 1e-6


def nested(
    motifs: Sequence[LaidMotif], sheet: Sheet, turns: Turns, seconds: int = 3, unit: Unit = "mm"
) -> list[list[LaidMotif]]:
    """The motifs on as few sheets as are found, and far up on each: by their profiles in a moment; where they
    are few, by strip packing, too, within so many seconds.

    Raises Problem "no-room", "no-sheet".
    """
    usable = sheet.usable
    for one in motifs:
        validate_fit(one.motif, usable, unit)
    found = [laid_by_skyline(motifs, usable, sheet.spacing_mm, _ANGLES[turns] or _QUARTERS)]
    if len({id(one.motif) for one in motifs}) <= _FEW:
        with suppress(_NotFound):
            found.append(_by_strips(motifs, usable, sheet.spacing_mm, turns, seconds))
    return min(found, key=lambda sheets: (len(sheets), sum(map(_reach, sheets))))


_QUARTERS = (0.0, 90.0, 180.0, 270.0)

_FEW = 40
"""Strip packing takes long for more motifs than so many, and finds nothing better then."""


def _reach(laid: Sequence[LaidMotif]) -> float:
    return max((float(one.covers.bounds[3]) for one in laid), default=0.0)


class _NotFound(Exception):
    """No arrangement was found in time."""


def _by_strips(
    motifs: Sequence[LaidMotif], usable: Box, spacing: float, turns: Turns, seconds: int
) -> list[list[LaidMotif]]:
    """The motifs by strip packing, sheet by sheet. What time is too short for lies in rows on sheets of its
    own."""
    left = sorted(motifs, key=lambda one: -_area(one.motif))
    sheets: list[list[LaidMotif]] = []
    covered = sum(_area(one.motif) for one in left) / (_FULL * usable.width * usable.height)
    each = max(1, int(seconds / max(1.0, covered)))
    ends = time.monotonic() + 1.5 * seconds
    while left:
        if time.monotonic() > ends:
            sheets += in_rows(left, usable, spacing, [])
            break
        taken = _as_many_as_fit(left, usable, spacing, turns, each)
        sheets.append(taken)
        placed = {(id(one.motif), one.copy) for one in taken}
        left = [one for one in left if (id(one.motif), one.copy) not in placed]
    return sheets


def copies_by_film(motifs: Sequence[Motif], plan: CutPlan) -> dict[str, list[LaidMotif]]:
    """Every copy of every motif, by the film that it is cut from."""
    found: dict[str, list[LaidMotif]] = {}
    for motif in motifs:
        film = (plan.stock(motif.film).substitute_film or motif.film).upper()
        found.setdefault(film, []).extend(LaidMotif(motif, 0.0, 0.0, 0.0, n) for n in range(motif.copies))
    return found


def nested_sheets(
    by_film: Mapping[str, Sequence[LaidMotif]],
    stock_of: Callable[[str], Sheet],
    plan: CutPlan,
    turns: Turns,
    unit: Unit = "mm",
) -> list[LaidSheet]:
    """All motifs of each film closely on its sheets. Raises Problem as ``nested`` does."""
    return [
        sheet_with(film, stock_of(film), own, plan)
        for film, wanted in by_film.items()
        for own in nested(wanted, stock_of(film), turns, unit=unit)
    ]


def _as_many_as_fit(
    motifs: Sequence[LaidMotif], usable: Box, spacing: float, turns: Turns, seconds: int
) -> list[LaidMotif]:
    covered = np.cumsum([_area(one.motif) for one in motifs])
    count = max(1, int(np.searchsorted(covered, _FULL * usable.width * usable.height, side="right")))
    while count:
        found = _packed(motifs[:count], usable, spacing, turns, seconds)
        if found is not None:
            return found
        count = count - max(1, count // 12) if count > 1 else 0
    raise _NotFound


def _packed(
    motifs: Sequence[LaidMotif], usable: Box, spacing: float, turns: Turns, seconds: int
) -> list[LaidMotif] | None:
    """The motifs in a strip as wide as the sheet; None where it gets longer than that."""
    if len(motifs) == 1:
        box = motifs[0].motif.box
        return [replace(motifs[0], x=usable.x + box.width / 2, y=usable.y + box.height / 2)]
    alike: dict[int, list[LaidMotif]] = {}
    for one in motifs:
        alike.setdefault(id(one.motif), []).append(one)
    items = []
    for name, ones in alike.items():
        outline = _outline_of(ones[0].motif)
        # The strip of the library runs to the right, ours down: both are turned by a quarter.
        points = [(y, -x) for x, y in outline.exterior.coords[:-1]]
        items.append(spyrrow.Item(str(name), points, len(ones), _ANGLES[turns]))
    # The library keeps the room free along the edges, too, where the margin is enough.
    strip = spyrrow.StripPackingInstance("sheet", usable.width + 2 * spacing, items)
    config = spyrrow.StripPackingConfig(
        min_items_separation=spacing, total_computation_time=seconds, num_workers=2, seed=1
    )
    solution = _solved(strip, config)
    if solution.width > usable.height + 2 * spacing:
        return None
    found = []
    for item in solution.placed_items:
        one = alike[int(item.id)].pop()
        x, y = item.translation
        found.append(_laid(one, item.rotation, (usable.right + spacing - y, usable.y - spacing + x)))
    if not _keep_their_room(found, usable, spacing):
        raise _NotFound
    return found


def _keep_their_room(laid: Sequence[LaidMotif], usable: Box, spacing: float) -> bool:
    """Whether motifs lie on the sheet, and as far apart as they are to be, whatever the library says."""
    covers = [one.covers for one in laid]
    x, y, right, bottom = shapely.total_bounds(covers)
    if x < usable.x - _HAIR or right > usable.right + _HAIR or y < usable.y - _HAIR:
        return False
    one, other = shapely.STRtree(covers).query(
        covers, predicate="dwithin", distance=max(0.0, spacing - _HAIR)
    )
    return bool(bottom <= usable.bottom + _HAIR and np.all(one == other))


def _laid(one: LaidMotif, turn: float, origin: tuple[float, float]) -> LaidMotif:
    """A motif turned about its middle, so that this lies at a place."""
    return replace(one, x=origin[0], y=origin[1], turn=turn % 360)


def _solved(
    strip: spyrrow.StripPackingInstance, config: spyrrow.StripPackingConfig
) -> spyrrow.StripPackingSolution:
    """Packs in a thread of its own, so that it can be stopped while somebody waits."""
    found: list[spyrrow.StripPackingSolution] = []
    thread = threading.Thread(target=lambda: found.append(strip.solve(config)), daemon=True)
    thread.start()
    while thread.is_alive():
        thread.join(_LOOK_S)
        check()
    if not found:
        raise _NotFound
    return found[0]


def _outline_of(motif: Motif) -> Polygon:
    """The outline around a motif, about its middle, with few points."""
    x, y = motif.middle
    drawn = [shapely.MultiPoint(mark.outline.points).convex_hull for mark in motif.uncut]
    covers = shapely.union_all([motif.whole.region, *drawn])
    region = shapely.transform(covers, lambda points: points - (x, y))
    size = max(motif.box.width, motif.box.height)
    for gap in (0.0, 0.01, 0.02, 0.05):
        # What lies apart is bridged by growing and shrinking it again.
        grown = polygonal(
            region.buffer(gap * size + _COARSE_MM, quad_segs=4).buffer(-gap * size, quad_segs=4)
        )
        grown = polygonal(grown.simplify(_COARSE_MM * 0.6))
        if isinstance(grown, Polygon):
            return Polygon(grown.exterior)
    return Polygon(shapely.get_coordinates(shapely.convex_hull(region)))


def _area(motif: Motif) -> float:
    return float(_outline_of(motif).area)
