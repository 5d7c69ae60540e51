"""Pieces that are loose or too small to hold: dots, accents, and parts of words."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.geometry.polygons import Region, longest_side, polygonal
from fulgen.geometry.thin import (
    inscribed_width,
)
from fulgen.joining.anchors import Anchor
from fulgen.joining.bars import Bar
from fulgen.lettering.bodies import APART, LIKE_BITS, carrier_and_bits
from fulgen.lettering.layout import PlacedLetter
from fulgen.lettering.letters import AS_SET, MarkWay, SeamAfter, Way
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.lettering import Lettering
from fulgen.parts.ready import is_small_piece
from fulgen.readiness.cluster_view import ClusterView, Search, change_of_letter
from fulgen.readiness.finding import LENGTH, Finding, Remedy, Repair
from fulgen.recipe.changes import with_bar, with_letter
from fulgen.recipe.model import Recipe


def _loose_pieces(look: ClusterView) -> Iterator[Finding]:
    """Pieces too small to hold, and those that are loose: a part of a word, or a mark of a letter."""
    pieces = [polygonal(piece) for piece in shapely.get_parts(look.region)]
    if not pieces:
        return
    loose = _words(look, np.array(pieces, dtype=object))
    firm = [piece for number, piece in enumerate(pieces) if number not in loose]
    for number, piece in enumerate(pieces):
        mark = _mark_of(look, piece)
        remedy = mark.remedy if mark else _tie_to(look, piece, [p for p in firm if p is not piece])
        if is_small_piece(piece, look.limits.piece_mm):
            width = inscribed_width(piece, 1e-2)
            what = mark.what if mark else f"A piece {look.whose_place(piece)}"
            yield look.finding(
                "small-piece", f"{what} is too small to hold: {LENGTH} across.",
                piece, width, look.limits.piece_mm, width, remedy=remedy,
            )  # fmt: skip
        elif mark or (number in loose and loose[number] not in APART):
            whose = mark.what if mark else f"A part of the word at {loose[number]}"
            yield look.finding(
                "mark" if mark else "piece",
                f"{whose} comes off as a piece of its own.",
                piece, longest_side(piece), 0.0, blocks=False, remedy=remedy,
            )  # fmt: skip


def _words(look: ClusterView, pieces: NDArray[np.object_]) -> dict[int, str]:
    """Pieces that are not what holds their word together: the letter they are of, by the piece."""
    tree = shapely.STRtree(pieces)
    loose: dict[int, str] = {}
    areas = shapely.area(pieces)
    for part, built in look.letterings:
        for word in _runs_of_letters(part, built):
            held: dict[int, str] = {}
            for letter, region in word:
                on = shapely.point_on_surface(shapely.get_parts(region))
                for piece in tree.query(on, predicate="intersects")[1].tolist():
                    held.setdefault(int(piece), letter.text)
            if len(held) > 1:
                main = max(held, key=lambda n: float(areas[n]))
                loose |= {n: text for n, text in held.items() if n != main}
    return loose


def _runs_of_letters(part: PlacedPart, built: BuiltLettering) -> Iterator[list[tuple[PlacedLetter, Region]]]:
    """The letters of each word with their areas on the work."""
    run: list[tuple[PlacedLetter, Region]] = []
    text = built.lettering.text
    for letter, shape in zip(built.own_letters, part.shapes, strict=False):
        if run and any(c.isspace() for c in text[run[-1][0].letter.at : letter.letter.at]):
            yield run
            run = []
        run.append((letter, shape.region))
    if run:
        yield run


@dataclass(frozen=True, eq=False)
class _Mark:
    """A detached bit of a letter, in words, and what holds it."""

    what: str
    remedy: Repair


def _mark_of(look: ClusterView, piece: Region) -> _Mark | None:
    """The dot, accent or other bit of a letter that a piece is, if it is one."""
    x, y = shapely.get_coordinates(shapely.point_on_surface(piece))[0].tolist()
    part = look.near(x, y)
    if not isinstance(part.built, BuiltLettering):
        return None
    letter = part.built.nearest(*part.place.back(x, y))
    if letter.letter.stands_in:
        return None
    body, marks = carrier_and_bits(letter.text, letter.letter.drawn.region)
    anchor = part.anchor(x, y)
    at = shapely.Point(anchor.x, anchor.y)
    if marks.is_empty or marks.distance(at) >= body.distance(at):
        return None
    name = next((name for name, texts in _MARK_NAMES.items() if letter.text in texts), "accent")
    return _Mark(f"The {name} of {letter.text}", _bridged if letter.text in LIKE_BITS else _lowered)


_MARK_NAMES = {"dot": "ijİĳ:;…÷", "foot": "!?¡¿", "other part": '=%‰"“”„«»″'}


def _lowered(part: PlacedPart, anchor: Anchor) -> Remedy:
    return _settled("Lower it into its letter", MarkWay.LOWER, anchor)


def _bridged(part: PlacedPart, anchor: Anchor) -> Remedy:
    return _settled("Tie its parts together", MarkWay.BRIDGE, anchor)


def _settled(label: str, way: MarkWay, anchor: Anchor) -> Remedy:
    """What is done with the detached bits of one letter."""
    letter = anchor.letter or 0
    return Remedy(label, change_of_letter(anchor, lambda p: with_letter(p, letter, marks=way)))


def _tie_to(look: ClusterView, piece: Region, others: list[Region]) -> Repair:
    """A bridge from a piece to the nearest of others; where the two are neighbours with a gap, they are
    brought together instead."""

    def remedy(part: PlacedPart, anchor: Anchor) -> Remedy | None:
        if not others:
            return None
        nearest = others[int(shapely.distance(piece, others).argmin())]
        one, other = shapely.get_coordinates(shapely.shortest_line(piece, nearest)).tolist()
        return _bridge_or_slide(look, (one[0], one[1]), (other[0], other[1]))

    return remedy


def _bridge_or_slide(look: ClusterView, one: tuple[float, float], other: tuple[float, float]) -> Remedy:
    parts = look.near(*one), look.near(*other)
    ends = [part.anchor(*at) for part, at in zip(parts, (one, other), strict=True)]
    built = parts[0].built
    if parts[0] is parts[1] and isinstance(built, BuiltLettering) and built.lettering.join.how == "set":
        ids = {end.letter for end in ends}
        for seam in built.joined.seams:
            pair = (built.lettering.ids[seam.left], built.lettering.ids[seam.right])
            if set(pair) == ids and len(ids) > 1 and seam.measured.neck == 0:
                return Remedy("Bring them together", change_of_letter(ends[0], partial(_slid, left=pair[0])))
    neck = built.lettering.join.neck_mm if isinstance(built, BuiltLettering) else look.limits.neck_mm

    def bridged(recipe: Recipe) -> Recipe:
        start, end = (part.anchor(*part.snapped(*at)) for part, at in zip(parts, (one, other), strict=True))
        return with_bar(recipe, Bar(start, end, width_mm=min(100.0, max(0.1, neck))))

    return Remedy("Bridge it", bridged)


def _slid(lettering: Lettering, left: int) -> Lettering:
    now = lettering.letters.get(left, AS_SET)
    return with_letter(lettering, left, seam=SeamAfter(Way.SLIDE, now.seam.trim))


LOOSE_PIECES = Search(
    _loose_pieces,
    {
        "mark": "",
        "piece": "",
        "small-piece": "",
    },
)
