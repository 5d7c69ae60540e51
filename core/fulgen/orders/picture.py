"""What a row looks like: as it is seen, also where it is cut from the back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from fulgen.formats.drawn_sheet import USE_COLOURS
from fulgen.geometry import measure
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.geometry.placement import Placement
from fulgen.orders.working import WorkedRow
from fulgen.parts.built_part import Mark

PICTURE_UNITS = 400.0
"""The longer side of a picture, in its own units: with one decimal it is finer than a screen."""

_AROUND = 1
"""So many units are left around it."""


def seen(worked: WorkedRow) -> tuple[Sequence[tuple[str, Outline]], Sequence[Mark]]:
    """The outlines of a row by their films, and what is not cut, as the row is looked at."""
    places = [(motif, Placement(flip=motif.film in worked.mirrored)) for motif in worked.motifs]
    films = [(motif.film, place.outline(motif.whole.outline)) for motif, place in places]
    marks = [
        replace(mark, outline=place.outline(mark.outline)) for motif, place in places for mark in motif.uncut
    ]
    return films, marks


def picture_svg(worked: WorkedRow) -> str:
    """A row as a picture (SVG 2); "" where there is nothing of it."""
    films, marks = seen(worked)
    if not films and not marks:
        return ""
    box = measure.box(Outline.joined([*(o for _, o in films), *(mark.outline for mark in marks)]))
    scale = PICTURE_UNITS / max(box.width, box.height, 1e-6)

    def small(outline: Outline, closed: bool = True) -> str:
        return path_data(outline.placed(-box.x * scale, -box.y * scale, scale), decimals=1, closed=closed)

    drawn = [f'<path fill="{film}" d="{small(outline)}"/>' for film, outline in films if outline]
    for mark in marks:
        is_area = mark.use == "engrave"
        colour = USE_COLOURS.get(mark.use, "#4A4B4C")
        ink = f'fill="{colour}"' if is_area else f'fill="none" stroke="{colour}" stroke-width="2"'
        drawn.append(f'<path {ink} d="{small(mark.outline, closed=is_area or mark.closed)}"/>')
    # A line along its edge is seen with all of its width.
    size = f"{box.width * scale + 2 * _AROUND:.1f} {box.height * scale + 2 * _AROUND:.1f}"
    view = f"{-_AROUND} {-_AROUND} {size}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{view}">{"".join(drawn)}</svg>'
