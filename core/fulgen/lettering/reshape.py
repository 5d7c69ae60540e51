"""A letter's shape changed by hand: edits of its nodes, replayed on the outline the face draws.

Edits name nodes by their numbers in the face's outline, so they scale with it and the letter stays text.
They belong to one outline; on another (another face, another alternate) they wait until it is back.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from fulgen.frozen import STRICT, WHOLE
from fulgen.geometry.nodes import (
    Contour,
    Node,
    inserted,
    nodes_of,
    outline_of,
    removed,
    smoothed,
    with_handle,
)
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.problem import Problem

EditKind = Literal["move", "before", "after", "insert", "remove", "smooth", "sharp"]

Move = Annotated[float, Field(strict=True, ge=-20.0, le=20.0)]
"""How far something is moved, in shares of the size."""

NodeName = Annotated[int, Field(ge=0, le=100_000), WHOLE]


@dataclass(frozen=True)
class ShapeEdit:
    """One change of a letter's nodes, named by their numbers; lengths are shares of the size, y down.

    move: nodes and their handles go by dx, dy. before, after: that handle of a node does. insert: a node
    called ``new`` is put into the side that follows, at a time of it. remove: nodes go, and one curve is
    drawn in their place. smooth: the outline flows through them; sharp: their handles move by themselves.
    """

    __pydantic_config__ = STRICT

    kind: EditKind
    nodes: Annotated[tuple[NodeName, ...], Field(min_length=1, max_length=400)]
    dx: Move = 0.0
    dy: Move = 0.0
    time: Annotated[float, Field(strict=True, ge=0.01, le=0.99)] = 0.5
    new: NodeName = 0


@dataclass(frozen=True)
class LetterShape:
    """Changes of the nodes of one outline, known by its mark; on another outline they wait."""

    __pydantic_config__ = STRICT

    of: Annotated[str, Field(pattern=r"^[0-9a-f]{12}$")]
    edits: Annotated[tuple[ShapeEdit, ...], Field(max_length=300)] = ()


def mark_of(outline: Outline) -> str:
    """A short mark by which an outline is known again."""
    seen = hashlib.blake2s(outline.verbs.tobytes(), digest_size=6)
    seen.update(np.round(outline.points, 5).tobytes())
    return seen.hexdigest()


def edited(outline: Outline, edits: Sequence[ShapeEdit]) -> tuple[Contour, ...]:
    """The nodes of an outline after edits. Those of nodes that are gone change nothing."""
    contours = list(nodes_of(outline))
    for edit in edits:
        wanted = set(edit.nodes)
        for number, contour in enumerate(contours):
            places = {n for n, node in enumerate(contour) if node.name in wanted}
            if places:
                contours[number] = _changed(contour, places, edit)
    return tuple(contours)


def _changed(contour: Contour, places: set[int], edit: ShapeEdit) -> Contour:
    by = complex(edit.dx, edit.dy)
    if edit.kind == "remove":
        return removed(contour, places)[0]
    if edit.kind == "insert":
        return inserted(contour, min(places), edit.time, edit.new)
    if edit.kind == "smooth":
        for place in places:
            contour = smoothed(contour, place)
        return contour
    return tuple(_touched(node, edit.kind, by) if n in places else node for n, node in enumerate(contour))


def _touched(node: Node, kind: EditKind, by: complex) -> Node:
    if kind == "move":
        return node.moved(by)
    if kind == "sharp":
        return replace(node, sharp=True)
    handle = node.before if kind == "before" else node.after
    return with_handle(node, kind == "before", (node.at if handle is None else handle) + by)


def reshaped(shape: Shape, change: LetterShape, mark: str) -> Shape:
    """The shape after edits; as it is where they belong to another outline than that of a mark.

    Raises Problem "reshape" when nothing is left of it.
    """
    if not change.edits or change.of != mark:
        return shape
    outline = outline_of(edited(shape.outline, change.edits))
    result = clean(outline, shape.tolerance) if outline else Shape.empty()
    if not result:
        raise Problem(
            "reshape",
            "After these changes nothing is left of a letter’s shape.",
            "Undo the last of them, or put a space in its place.",
            "letters",
        )
    return result


@dataclass(frozen=True)
class StrokeEnd:
    """Where a stroke ends: its tip, the direction outwards, the width there, and the nodes that make it
    (move them along, and the stroke is longer)."""

    tip: complex
    way: complex
    width: float
    nodes: tuple[int, ...]


_TURNED = math.radians(140)
"""Where the outline turns by this much within a short way, a stroke ends there."""

_WITHIN = 0.26
"""A short way: as a share of the size. (†)"""


def stroke_ends(contours: Sequence[Contour]) -> tuple[StrokeEnd, ...]:
    """The ends of a letter's strokes: short runs of nodes around which the outline turns back."""
    found: list[tuple[float, StrokeEnd, set[int]]] = []
    for contour in contours:
        count = len(contour)
        if count < 3:
            continue
        turns, lengths = _turns(contour)
        for start in range(count):
            turned = length = 0.0
            for steps in range(min(count - 1, 12)):
                node = (start + steps) % count
                turned += turns[node]
                if turned >= _TURNED:
                    run = [contour[(start + k) % count] for k in range(steps + 1)]
                    found.append((length, _end_of(contour, start, steps, run), {n.name for n in run}))
                    break
                length += lengths[node]
                turned += _bend(contour[node], contour[(node + 1) % count])
                if length > _WITHIN:
                    break
                if turned >= _TURNED:
                    run = [contour[(start + k) % count] for k in range(steps + 2)]
                    found.append((length, _end_of(contour, start, steps + 1, run), {n.name for n in run}))
                    break
    ends: list[StrokeEnd] = []
    taken: set[int] = set()
    for _, end, names in sorted(found, key=lambda row: row[0]):
        if not names & taken and end.width > 1e-4:
            taken |= names
            ends.append(end)
    return tuple(ends)


def _turns(contour: Contour) -> tuple[list[float], list[float]]:
    """How far the outline turns at each node (outwards is positive), and the length of the side after it."""
    turns, lengths = [], []
    for before, node, after in zip(
        (contour[-1], *contour[:-1]), contour, (*contour[1:], contour[0]), strict=True
    ):
        into = node.at - _first_other(node.at, node.before, before.after, before.at)
        out = _first_other(node.at, node.after, after.before, after.at) - node.at
        turns.append(_angle(into, out))
        lengths.append(abs(after.at - node.at))
    return turns, lengths


def _first_other(at: complex, *places: complex | None) -> complex:
    return next((place for place in places if place is not None and abs(place - at) > 1e-9), at + 1)


def _angle(into: complex, out: complex) -> float:
    z = out * into.conjugate()
    return math.atan2(z.imag, z.real)


def _bend(node: Node, following: Node) -> float:
    """How far a side turns from its start to its end."""
    leaving = _first_other(node.at, node.after, following.before, following.at) - node.at
    arriving = following.at - _first_other(following.at, following.before, node.after, node.at)
    return _angle(leaving, arriving)


def _end_of(contour: Contour, start: int, steps: int, run: Sequence[Node]) -> StrokeEnd:
    count = len(contour)
    before, after = contour[start - 1], contour[(start + steps + 1) % count]
    first, last = run[0], run[-1]
    into = first.at - _first_other(first.at, first.before, before.after, before.at)
    out = _first_other(last.at, last.after, after.before, after.at) - last.at
    way = into / (abs(into) or 1) - out / (abs(out) or 1)
    way = way / abs(way) if abs(way) > 1e-6 else into / (abs(into) or 1)
    furthest = max((node.at for node in run), key=lambda at: (at * way.conjugate()).real)
    middle = (first.at + last.at) / 2
    depth = ((furthest - middle) * way.conjugate()).real
    # On a rounded end the width is that of the chord between the nodes where it begins.
    return StrokeEnd(middle + way * depth, way, abs(last.at - first.at), tuple(n.name for n in run))
