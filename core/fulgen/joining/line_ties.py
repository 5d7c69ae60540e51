"""What hangs loose in a line tied, and stray pinholes filled."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from fulgen.geometry.operations import straight_sided
from fulgen.geometry.polygons import Region, holes_of, polygonal
from fulgen.joining.line_of_letters import LineOfLetters, Patch, body_of_letter, patch_on_letter
from fulgen.joining.stroke_extensions import tied_together
from fulgen.lettering.bodies import APART, HANGING
from fulgen.lettering.faces import LETTER_FLATNESS
from fulgen.lettering.layout import SetLetter

NEAR_BY = 2
"""A mark may be held by a letter this many places away."""


def ties_of_line(line: LineOfLetters, pairs: Mapping[int, int], bars: Sequence[Patch]) -> list[Patch]:
    """Bridges for what hangs loose within each row of neighbours."""
    letters = line.letters
    found: list[Patch] = []
    rows: list[list[int]] = []
    for left, right in pairs.items():
        if rows and rows[-1][-1] == left:
            rows[-1].append(right)
        else:
            rows.append([left, right])
    # Letters that a hand has moved apart stay so; only what one letter is drawn of is tied.
    by_hand = {n for row in rows for n in row if len({(letters[m].by_hand, letters[m].y) for m in row}) > 1}
    rows = [part for row in rows for part in ([[n] for n in row] if by_hand.intersection(row) else [row])]
    lone = set(range(len(letters))) - {n for row in rows for n in row}
    rows += [[n] for n in sorted(lone) if letters[n].text not in APART | HANGING]
    for row in rows:
        first = letters[row[0]]
        if len(row) == 1 and shapely.get_num_geometries(body_of_letter(first).region) < 2:
            continue
        pieces = [line.seen_from(first, letters[n]) for n in row]
        orders = {letters[n].order for n in row}
        added = [_from_letter(line, first, b) for b in bars if b.stand.order in orders]
        most = len(pieces) * _MOST_DRAWN_OF
        bridges = tied_together([*pieces, *added], line.request.neck, 1e-5, most)
        found += [patch_on_letter(line, first, bar) for bar in bridges]
    return found


_MOST_DRAWN_OF = 60
"""A letter drawn of more parts than this is not tied together: it is a pattern of dots."""


def _from_letter(line: LineOfLetters, first: SetLetter, patch: Patch) -> Region:
    """A patch in the frame of a letter of its line."""
    there = line.seen(first.stand, patch.stand)
    if line.path is not None:
        there = line.frame(patch.stand).seen_from(line.frame(first.stand))
    return there.region(patch.shape.region)


def stray_pinholes(line: LineOfLetters, bars: Sequence[Patch], fills: Sequence[Patch]) -> list[Patch]:
    """Pinholes between letters that are not neighbours, such as a swash and the letter after next."""
    first = line.letters[0]
    bodies = [line.seen_from(first, letter) for letter in line.letters]
    added = [_from_letter(line, first, bar) for bar in bars]
    if not _others_meet(bodies, added, line.neighbours):
        return []
    known = np.array([hole.area for body in bodies for hole in holes_of(body)])
    filled = [_from_letter(line, first, fill) for fill in fills]
    found = []
    for hole in holes_of(polygonal(shapely.union_all([*bodies, *added]))):
        if hole.area < _FLECK or (np.abs(known - hole.area) <= 1e-3 * known + _FLECK).any():
            continue
        if not shapely.buffer(hole, -line.request.hole / 2).is_empty:
            continue
        if not any(shapely.intersects(hole, region) for region in filled):
            shape = straight_sided(hole, LETTER_FLATNESS)
            found.append(Patch(line.number, first.stand, shape))
    return found


def _others_meet(bodies: Sequence[Region], added: Sequence[Region], neighbours: Mapping[int, int]) -> bool:
    """Whether letters meet that are not neighbours, by themselves or by what was added: nothing else encloses
    a hole that no seam knows of."""
    everything = np.array([*bodies, *added], object)
    one, other = shapely.STRtree(everything).query(everything, predicate="intersects")
    count = len(bodies)
    meets = {(a, b) for a, b in zip(one.tolist(), other.tolist(), strict=True) if a < b}
    if any(b < count and neighbours.get(a) != b for a, b in meets):
        return True
    by_added: dict[int, list[int]] = {}
    for a, b in meets:
        if b >= count:
            by_added.setdefault(b, []).append(a)
    return any(len(held) != 2 or neighbours.get(min(held)) != max(held) for held in by_added.values())


_FLECK = 1e-6
"""A smaller hole is left by rounding."""
