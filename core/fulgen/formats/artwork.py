"""Artwork read: a drawing of any kind that is read (`formats.readers`), as a part of areas and lines in mm.

What a file says is taken as it is; what it does not say, such as its units, is asked. Everything is bounded:
bytes, elements, points and time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from fulgen.budget import check
from fulgen.formats.drawn_path import DrawnPath, ReadDrawing, ReadRequest, bad
from fulgen.formats.readers import reader_for
from fulgen.geometry import measure
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.paths import path_data
from fulgen.parts.artwork import MAX_ART_DATA, MAX_ITEMS, ArtItem, Artwork, ContourChoice
from fulgen.parts.part import Use
from fulgen.units import counted

WHITE = frozenset(("#FFFFFF", "#FEFEFE"))
LARGEST_MM = 4_000.0

_TOGETHER_MM = 0.02
"""Ends of lines nearer than this are drawn as one: a plotter's step, HP-GL (from memory)."""


_AS_USUAL = ReadRequest()


@dataclass(frozen=True)
class ReadArtwork:
    """A drawing as a part, whether its size was stated, how large it is in mm, and notes for the maker."""

    artwork: Artwork
    size_stated: bool
    width_mm: float
    height_mm: float
    notes: tuple[str, ...] = field(default=())


def read_artwork(data: bytes, name: str, request: ReadRequest = _AS_USUAL) -> ReadArtwork:
    """A drawing from a file of any kind that is read. Raises Problem "bad-artwork"."""
    return as_artwork(reader_for(data, name).read(data, name, request))


def as_artwork(read: ReadDrawing) -> ReadArtwork:
    """A drawing as a part, its middle at 0, 0. Raises Problem "bad-artwork" where nothing is drawn, or too
    much."""
    notes = list(read.notes)
    drawn = [d for d in _with_chained_lines(read.drawn) if d.outline]
    if not drawn:
        raise bad(
            f"{read.name} holds no outlines.",
            "Turn text and pictures into outlines in a drawing program first.",
        )
    box = measure.box(Outline.joined(d.outline for d in drawn))
    if max(box.width, box.height) > LARGEST_MM:
        raise bad(
            f"{read.name} is {max(box.width, box.height) / 1000:.1f} m across.",
            "Say that its numbers are of a smaller unit, or scale it down first.",
        )
    if max(box.width, box.height) < 1e-3:
        raise bad(f"{read.name} is drawn too small to see.", "Scale it up first.")
    by = (-(box.x + box.width / 2), -(box.y + box.height / 2))
    items = [_item(replace(d, outline=d.outline.placed(*by))) for d in drawn]
    items = [item for item in items if item.d]
    if len(items) > MAX_ITEMS or sum(len(item.d) for item in items) > MAX_ART_DATA:
        raise bad(
            f"{read.name} holds more points than a design does: it takes about 25,000.",
            "Leave out what is not needed, or simplify it in a drawing program.",
        )
    off = _white_areas(items)
    if off:
        notes.append(
            f"{counted(len(off), 'white contour was', 'white contours were')} left out; "
            "take them in under “Choose contours”."
        )
    colours = {item.film for item in items}
    artwork = Artwork(
        id="artwork-1",
        source=read.name[:60],
        items=tuple(items),
        contours=off,
        film=items[0].film if items[0].film not in WHITE else "#2B5674",
        colours="own" if len(colours - WHITE) > 1 else "one",
        uses=_uses_of(items),
    )
    return ReadArtwork(artwork, read.size_stated, box.width, box.height, tuple(notes))


def _item(drawn: DrawnPath) -> ArtItem:
    closed = not drawn.line
    return ArtItem(
        path_data(drawn.outline, closed=closed),
        drawn.colour,
        drawn.group[:80],
        line=drawn.line,
        width_mm=round(min(drawn.width_mm, 500.0), 4),
    )


_USE_OF_GROUP: dict[str, Use] = {"engrave": "engrave", "draw": "draw", "score": "score", "guide": "guide"}


def _uses_of(items: Sequence[ArtItem]) -> dict[str, Use]:
    """What colours are for, where all that has them is in a group or layer that is named so."""
    found: dict[str, set[Use]] = {}
    for item in items:
        found.setdefault(item.film, set()).add(_USE_OF_GROUP.get(item.group.lower(), "cut"))
    return {film: use for film, (use, *others) in found.items() if not others and use != "cut"}


def _white_areas(items: Sequence[ArtItem]) -> dict[int, ContourChoice]:
    """White areas are grounds and gaps, and no film: they are left out, where there is anything else."""
    if all(item.film in WHITE for item in items):
        return {}
    off: dict[int, ContourChoice] = {}
    number = 0
    for item in items:
        count = item.d.count("M")
        if item.film in WHITE and len(off) + count <= 5_000:
            off.update({number + n: ContourChoice(off=True) for n in range(count)})
        number += count
    return off


# --- areas and lines ---------------------------------------------------------------------------------------


def _with_chained_lines(drawn: Sequence[DrawnPath]) -> list[DrawnPath]:
    """Lines of one colour and group put together where their ends meet; those that close are areas, and all
    that a group closes is one area, in which what lies within is a hole."""
    found: list[DrawnPath] = [d for d in drawn if not d.stroked]
    stroked: dict[tuple[str, str], list[DrawnPath]] = {}
    for d in drawn:
        if d.stroked:
            stroked.setdefault((d.colour, d.group), []).append(d)
    for (colour, group), rows in stroked.items():
        check()
        width = max(d.width_mm for d in rows)
        closed = [d.outline for d in rows if not d.line]
        for chain in chained([d.outline for d in rows if d.line]):
            if math.dist(chain.points[0], chain.points[-1]) <= _TOGETHER_MM and len(chain.verbs) > 2:
                closed.append(chain)
            else:
                found.append(DrawnPath(chain, colour, group, True, True, width))
        if closed:
            found.append(DrawnPath(Outline.joined(closed), colour, group, False, True))
    return found


def chained(lines: Sequence[Outline], within: float = _TOGETHER_MM) -> list[Outline]:
    """Open lines put together where their ends meet, each turned as it has to be."""
    ends: dict[tuple[int, int], list[tuple[int, bool]]] = {}

    def cell(point: Floats) -> tuple[int, int]:
        return round(float(point[0]) / within), round(float(point[1]) / within)

    for number, line in enumerate(lines):
        ends.setdefault(cell(line.points[0]), []).append((number, True))
        ends.setdefault(cell(line.points[-1]), []).append((number, False))
    used = [False] * len(lines)

    def following(point: Floats) -> Outline | None:
        x, y = cell(point)
        for dx in (0, -1, 1):
            for dy in (0, -1, 1):
                for number, at_start in ends.get((x + dx, y + dy), ()):
                    line = lines[number]
                    at = line.points[0] if at_start else line.points[-1]
                    if not used[number] and math.dist(at, point) <= within:
                        used[number] = True
                        return line if at_start else backwards(line)
        return None

    found = []
    for number, line in enumerate(lines):
        if used[number]:
            continue
        used[number] = True
        chain = line
        for _ in range(2):
            while (more := following(chain.points[-1])) is not None:
                chain = Outline(
                    np.concatenate((chain.verbs, more.verbs[1:])),
                    np.concatenate((chain.points, more.points[1:])),
                )
            chain = backwards(chain)
        found.append(chain)
    return found


def backwards(line: Outline) -> Outline:
    """An open line walked the other way."""
    verbs = np.concatenate((line.verbs[:1], line.verbs[:0:-1]))
    return Outline(verbs, line.points[::-1].copy())
