"""Strokes: where a letter's strokes end and run, found on its outline.

     tip              A stroke is walked from its tip inwards. At each step a chord is laid across it: its
   ╭──┬──┬──┬──       middle is on the stroke's centreline, its length is the stroke's width, and the step
   ╰──┴──┴──┴──       from chord to chord is its direction.

All in shares of the size, y down.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from fulgen.geometry.outline import Bools, Floats
from fulgen.joining.strength import Body

_STEP = 0.015
"""From chord to chord."""

_FARTHEST = 0.5
"""A stroke is walked this far from its tip."""

_AROUND = 0.07
"""How far around a tip is looked at to see where its stroke comes from."""

_WIDEST = 0.3
"""A wider chord crosses no stroke."""

_SPREADS = 1.7
"""Where the chord is so much longer than those before it, the stroke has run into another."""

_LONGER = 0.9
"""A stroke's end is longer than this many times its width."""


@dataclass(frozen=True, eq=False)
class Stroke:
    """A stroke walked from its tip: middles (N, 2), the directions towards the tip (N, 2), and widths
    (N,)."""

    tip: Floats
    middles: Floats
    outwards: Floats
    widths: Floats

    def moved(self, dx: float, dy: float) -> Stroke:
        """The stroke elsewhere."""
        by = np.array([dx, dy])
        return Stroke(self.tip + by, self.middles + by, self.outwards, self.widths)


def chords(sides: tuple[Floats, Floats], at: Floats, along: Floats) -> tuple[Floats, Floats]:
    """How far it is from each place (N, 2) to the nearest side on both sides of it, (N,) each: ahead in its
    direction ``along`` (N, 2), and behind. Infinite where there is none."""
    starts, ends = sides
    e = ends - starts
    rel = starts[None] - at[:, None]
    cross = along[:, None, 0] * e[None, :, 1] - along[:, None, 1] * e[None, :, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (rel[..., 0] * e[None, :, 1] - rel[..., 1] * e[None, :, 0]) / cross
        s = (rel[..., 0] * along[:, None, 1] - rel[..., 1] * along[:, None, 0]) / cross
    hit = (s >= 0) & (s < 1) & np.isfinite(t)
    ahead = np.where(hit & (t > 1e-9), t, np.inf).min(axis=1)
    behind = np.where(hit & (t < -1e-9), -t, np.inf).min(axis=1)
    return ahead, behind


def strokes_of(body: Body) -> tuple[Stroke, ...]:
    """The strokes of a letter that end, walked from their tips."""
    whole, dx, dy = body.origin
    if "strokes" not in whole.known:
        whole.known["strokes"] = tuple(_walked(whole, _tips(whole)))
    return tuple(stroke.moved(dx, dy) for stroke in whole.known["strokes"])


_APART = 0.012
"""An outline is looked at in steps of this for where it turns back."""

_HALVES = (2, 4, 6)
"""So many steps to both sides: thin strokes turn back within a few, heavy ones within more."""

_TURNS_BACK = math.cos(math.radians(105))


def _tips(body: Body) -> list[Floats]:
    """Where the outline turns back, outwards: stroke ends, and other corners."""
    tips: list[Floats] = []
    for ring in body.rings:
        along = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(ring, axis=0).T))))
        count = int(along[-1] / _APART)
        if count < 4 * max(_HALVES):
            continue
        at = np.arange(count) * (along[-1] / count)
        points = np.stack([np.interp(at, along, ring[:, axis]) for axis in (0, 1)], axis=1)
        ways = np.roll(points, -1, axis=0) - points
        ways /= np.maximum(np.hypot(*ways.T), 1e-9)[:, None]
        area = float(
            (points[:, 0] * np.roll(points[:, 1], -1) - np.roll(points[:, 0], -1) * points[:, 1]).sum()
        )
        best = np.full(count, 2.0)
        for half in _HALVES:
            before, after = np.roll(ways, half, axis=0), np.roll(ways, -half + 1, axis=0)
            cosine = (before * after).sum(axis=1)
            # It turns as the ring is wound: out of the letter, and not into it.
            middle = points - (np.roll(points, half, axis=0) + np.roll(points, -half, axis=0)) / 2
            cross = before[:, 0] * middle[:, 1] - before[:, 1] * middle[:, 0]
            cosine = np.where(cross * area < 0, cosine, 2.0)
            best = np.minimum(best, cosine)
        turned = best < _TURNS_BACK
        while turned.any():
            n = int(np.where(turned, best, 2.0).argmin())
            # Of a blunt end the middle is its tip.
            near = np.abs((np.arange(count) - n + count // 2) % count - count // 2) <= max(_HALVES)
            alike = np.flatnonzero(near & turned & (best < best[n] + 0.15))
            middle = alike[len(alike) // 2] if np.ptp(alike) < count // 2 else n
            tips.append(points[middle])
            turned &= ~near
    return tips


def _walked(body: Body, tips: list[Floats]) -> list[Stroke]:
    """The strokes that end at some places on a letter's edge, walked from there; where none ends there is
    none."""
    starts = [(tip, inwards) for tip in tips if (inwards := _inwards(body, tip)) is not None]
    if not starts:
        return []
    ways = np.array([way / math.hypot(*way) for _, way in starts])
    at = np.array([tip + way * min(0.006, math.hypot(*way)) for tip, way in starts])
    found = (_stroke(tip, *walk) for (tip, _), walk in zip(starts, walked(body, at, ways), strict=True))
    return [stroke for stroke in found if stroke is not None]


def walked(body: Body, at: Floats, ways: Floats) -> list[tuple[list[Floats], list[float]]]:
    """Strokes walked from places in them (N, 2) in directions (N, 2), all at once: of each the middles of the
    chords and their lengths, until the stroke ends or runs into another."""
    at, ways = at.copy(), ways.copy()
    before = ways.copy()
    last = np.full_like(at, np.nan)
    recent = np.full((len(at), 3), -np.inf)
    going = np.ones(len(at), np.bool_)
    middles: list[list[Floats]] = [[] for _ in at]
    widths: list[list[float]] = [[] for _ in at]
    for step in range(int(_FARTHEST / _STEP)):
        rows = np.flatnonzero(going)
        if not len(rows):
            break
        across = np.stack([-ways[rows, 1], ways[rows, 0]], axis=1)
        one, other = chords(body.sides, at[rows], across)
        width = one + other
        good = width < _WIDEST
        if step > 2:
            good &= width <= _SPREADS * recent[rows].max(axis=1)
        middle = at[rows] + across * (np.where(good, one - other, 0.0) / 2)[:, None]
        if step:
            way = middle - last[rows]
            good &= (way * ways[rows]).sum(axis=1) > 0
            way = way / np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)[:, None]
            # A stroke that bends goes on bending.
            ahead = 0.4 * ways[rows] + way + 0.5 * (way - before[rows])
            ways[rows] = ahead / np.maximum(np.hypot(ahead[:, 0], ahead[:, 1]), 1e-9)[:, None]
            before[rows] = way
        going[rows[~good]] = False
        for n, row in enumerate(rows.tolist()):
            if good[n]:
                middles[row].append(middle[n])
                widths[row].append(float(width[n]))
        last[rows] = middle
        recent[rows, step % 3] = width
        at[rows] = middle + ways[rows] * _STEP
        going[rows] &= np.asarray(shapely.contains_xy(body.region, at[rows, 0], at[rows, 1]))
    return list(zip(middles, widths, strict=True))


def _inwards(body: Body, tip: Floats) -> Floats | None:
    """Where the stroke comes from that ends at a place: the middle of what is around it."""
    point = shapely.Point(tip)
    parts = shapely.get_parts(shapely.intersection(body.region, shapely.buffer(point, _AROUND, quad_segs=4)))
    if not len(parts):
        return None
    part = parts[int(shapely.distance(parts, point).argmin())] if len(parts) > 1 else parts[0]
    way = np.asarray(shapely.get_coordinates(shapely.centroid(part))[0] - tip)
    return way if math.hypot(*way) > 1e-4 else None


def _stroke(tip: Floats, middles: list[Floats], widths: list[float]) -> Stroke | None:
    if len(middles) < 4:
        return None
    # At the outer side of a bend the chord runs along the stroke at first, and is long.
    if max(widths[:3]) > _SPREADS * float(np.median(widths[2:8])):
        return None
    path = np.array(middles)
    if float(np.hypot(*np.diff(path, axis=0).T).sum()) < _LONGER * float(np.median(widths)):
        return None
    ways = np.gradient(path, axis=0)
    return Stroke(tip, path, -ways / np.maximum(np.hypot(*ways.T), 1e-12)[:, None], np.array(widths))


@dataclass(frozen=True, eq=False)
class Frames:
    """Places in strokes: middles (N, 2), directions along the stroke (N, 2), and widths (N,)."""

    middles: Floats
    along: Floats
    widths: Floats

    def __len__(self) -> int:
        return len(self.widths)

    @classmethod
    def none(cls) -> Frames:
        return cls(np.zeros((0, 2)), np.zeros((0, 2)), np.zeros(0))

    def moved(self, dx: float) -> Frames:
        """The places moved to the right."""
        return Frames(self.middles + np.array((dx, 0.0)), self.along, self.widths)

    def only(self, which: Bools) -> Frames:
        """Those chosen by a flag each."""
        return Frames(self.middles[which], self.along[which], self.widths[which])


def joined_frames(some: list[Frames]) -> Frames:
    return Frames(
        *(np.concatenate([getattr(f, name) for f in some]) for name in ("middles", "along", "widths"))
    )


def frame_near(body: Body, place: Floats) -> tuple[Floats, Floats, float] | None:
    """The middle of the stroke nearest to a place on a letter, the stroke's direction there and its width."""
    rows = [Frames(s.middles, s.outwards, s.widths) for s in strokes_of(body)]
    starts, ends = body.sides
    e = ends - starts
    lengths = np.hypot(e[:, 0], e[:, 1])
    long = lengths > 1e-9
    along = e[long] / lengths[long][:, None]
    at = (starts + ends)[long] / 2
    inwards = np.stack([-along[:, 1], along[:, 0]], axis=1)
    inside = np.asarray(shapely.contains_xy(body.region, *(at + 1e-3 * inwards).T))
    inwards = np.where(inside[:, None], inwards, -inwards)
    away = at - place
    near = away[:, 0] ** 2 + away[:, 1] ** 2 < _WIDEST**2
    if near.any():
        at, along, inwards = at[near], along[near], inwards[near]
        across, _ = chords(body.sides, at + 1e-4 * inwards, inwards)
        good = across < _WIDEST
        at, along, inwards, across = at[good], along[good], inwards[good], across[good] + 1e-4
        rows.append(Frames(at + inwards * across[:, None] / 2, along, across))
    frames = joined_frames(rows) if rows else Frames.none()
    if not len(frames):
        return None
    n = int(np.hypot(*(frames.middles - place).T).argmin())
    return frames.middles[n], frames.along[n], float(frames.widths[n])


def frames_facing(body: Body, place: Floats, within: float, spacing: float = 0.02) -> Frames:
    """Where strokes run past a place outside them, on the edge that faces it: the middles of chords laid
    straight in from points of that edge, and the edge's own direction."""
    starts, ends = body.sides
    e = ends - starts
    lengths = np.hypot(e[:, 0], e[:, 1])
    middle = (starts + ends) / 2
    # Outer edges run clockwise on the screen or not: the inside is asked for, not assumed.
    close = np.hypot(*(middle - place).T) < within + lengths
    starts, e, lengths = starts[close], e[close], lengths[close]
    if not len(lengths):
        return Frames.none()
    counts = np.maximum(1, np.ceil(lengths / spacing).astype(int))
    side = np.repeat(np.arange(len(lengths)), counts)
    first = np.repeat(np.cumsum(counts) - counts, counts)
    share = (np.arange(len(side)) - first + 0.5) / counts[side]
    at = starts[side] + e[side] * share[:, None]
    along = e[side] / np.maximum(lengths[side], 1e-12)[:, None]
    inwards = np.stack([-along[:, 1], along[:, 0]], axis=1)
    inside = np.asarray(shapely.contains_xy(body.region, *(at + 1e-3 * inwards).T))
    inwards = np.where(inside[:, None], inwards, -inwards)
    away = place - at
    distance = np.hypot(*away.T)
    faces = ((inwards * away).sum(axis=1) < -0.05 * distance) & (distance < within)
    at, along, inwards, distance = at[faces], along[faces], inwards[faces], distance[faces]
    if not len(at):
        return Frames.none()
    order = np.argsort(distance)
    crowd = np.abs(at[order][:, None] - at[order][None]).sum(axis=2) <= spacing
    kept: list[int] = []
    free = np.ones(len(order), np.bool_)
    while free.any() and len(kept) < 14:
        n = int(free.argmax())
        kept.append(int(order[n]))
        free &= ~crowd[n]
    at, along, inwards = at[kept], along[kept], inwards[kept]
    across, _ = chords(body.sides, at + 1e-4 * inwards, inwards)
    good = across < _WIDEST
    at, along, inwards, across = at[good], along[good], inwards[good], across[good] + 1e-4
    return Frames(at + inwards * across[:, None] / 2, along, across)
