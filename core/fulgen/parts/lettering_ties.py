"""What holds letters together: joints at a size, bars laid by hand, ties of what is loose, underlines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from fulgen.geometry.outline import Outline
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.joining.bars import MOST_TIES, Bar, Tie, bar_shape, neck_at, ties, underline
from fulgen.joining.heights import Hand
from fulgen.joining.line_joining import join_lines
from fulgen.joining.line_of_letters import JoinedLines
from fulgen.joining.materials import Weedable
from fulgen.lettering.course import Path
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import (
    Layout,
    Lines,
    place,
    set_lines,
)
from fulgen.lettering.setting import Faces
from fulgen.parts.built_lettering import BuiltLettering, LaidBar
from fulgen.parts.lettering import MOST_THICKER, Lettering
from fulgen.problem import Problem
from fulgen.units import show_length

LEAST_SHARE = 0.02
"""Letters are not made smaller than this, as a share of their size without what goes beyond them."""


def join_at_size(
    part: Lettering,
    faces: Faces,
    least: Weedable,
    plain: Lines,
    size: float,
    layout: Layout | None = None,
    only_slid: bool = False,
) -> JoinedLines:
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
        Hand(faces.face.x_height, faces.face.is_written), along,
        in_place=part.course is not None and part.course.spread > 0, only_slid=only_slid,
    )  # fmt: skip


def with_ties(
    part: Lettering, faces: Faces, bars: Sequence[Bar], joined: JoinedLines, path: Path | None, about: Layout
) -> BuiltLettering:
    """Joined words at the size of a layout, with bars, underlines and ties."""
    size = about.size
    layout = place(part, joined.lines, size, path, about.spacing)
    built = BuiltLettering(part, faces, layout, joined, (), (), ())
    regions: list[Region] = []
    in_shares = Placement(scale=1 / size)
    if bars or part.join.tie:
        regions = [in_shares.region(region) for region in built.regions]
    laid = _laid(part, bars, layout, regions)
    lines = (*_underlines(part, layout), *_spine(part, layout))
    tied: list[Tie] | None = []
    if part.join.tie:
        joints = [built.frame(bar.line, bar.stand).within(in_shares).region(bar.shape.region) for bar in
                  joined.bars]  # fmt: skip
        refused = {
            frozenset((pair.one.letter, pair.other.letter))
            for pair in part.join.refused
            if pair.one.part == pair.other.part == part.id
        }
        numbers = [n for n, letter in enumerate(layout.letters) if built.is_own(letter)]
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
    return replace(built, laid=laid, ties=tuple(tied or ()), underlines=lines, unmet=unmet)


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
"""How finely a thickening is rounded, as a share of the size: 2 µm of it at a size of 40 mm, far below what a
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
