"""Lettering whose outlines are bent: by a warp, or to a line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely

from fulgen.bounded import BoundedCache, digest
from fulgen.geometry.bend import Bend, bent_shape
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import Floats, Point
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.shape import Shape
from fulgen.joining.line_of_letters import LineSeam, Patch
from fulgen.joining.seam import Seam
from fulgen.lettering.course import Circle, Warped
from fulgen.lettering.layout import (
    Layout,
)
from fulgen.parts.built_lettering import BuiltLettering, LaidBar
from fulgen.problem import Problem


def validate_bend(layout: Layout) -> None:
    """Raises Problem "too-bent" where letters reach the middle that a line bends around."""
    for p in layout.letters:
        path, box = layout.paths[p.line], p.form.box
        if not isinstance(path, Circle):
            return
        low, high = ((p.letter.y + y) * layout.size for y in (box.bottom, box.y))
        if min(path.radius - path.way * low, path.radius - path.way * high) < 0.05 * layout.size:
            raise Problem(
                "too-bent", "The circle is too small: bent letters would reach its middle.",
                "Make it larger, set smaller letters, or have them turned and not bent.", "course",
            )  # fmt: skip


BENT_TO = 2e-4
"""Bent letters are true to the bend by this share of the size: 5 µm where that is 25 mm."""


def with_warp(built: BuiltLettering) -> BuiltLettering:
    """Lettering bent as a whole, where that is asked."""
    warp = built.lettering.warp
    if warp is None or not warp.amount:
        return built
    x0, y0, x1, y1 = shapely.total_bounds([at.region(shape.region) for shape, at in built.drawn]).tolist()
    bend = Warped(warp, Box(x0, y0, x1 - x0, y1 - y0))
    return bent_lettering(built, [bend] * len(built.layout.baselines), built.layout)


def bent_lettering(built: BuiltLettering, bends: Sequence[Bend], there: Layout) -> BuiltLettering:
    """Lettering under maps of its frame, one for each line: its letters and all that joins them keep their
    curves, and its seams are measured as they then lie. Letters stand as they do in ``there``."""
    size = built.size
    layout = replace(built.layout, paths=there.paths, starts=there.starts)
    tolerance = BENT_TO * size

    def bent_from(shape: Shape, bend: Bend, was: Placement, now: Placement) -> Shape:
        key = (shape.step_key, repr((was, tolerance)), repr(now), bend.key)
        return bend_shapes.get(key, lambda: now.shape_back(bent_shape(was.shape(shape), bend, tolerance)))

    def region_from(region: Region, bend: Bend, was: Placement, now: Placement) -> Region:
        def moved_to(xy: Floats) -> Floats:
            z = bend.at(xy[:, 0] + 1j * xy[:, 1])
            return np.stack([z.real, z.imag], axis=1)

        return now.region_back(polygonal(shapely.transform(was.region(region), moved_to)))

    letters = []
    for p in built.layout.letters:
        now = layout.pose(p.line, p.letter.stand)
        form = bent_from(p.form, bends[p.line], p.place, now)
        key = digest(p.letter.key, repr(p.place), bends[p.line].key)
        letters.append(replace(p, place=now, letter=replace(p.letter, form=form, key=key)))
    changed = replace(built, layout=replace(layout, letters=tuple(letters)))

    def patched(patch: Patch) -> Patch:
        was, now = built.frame(patch.line, patch.stand), changed.frame(patch.line, patch.stand)
        if not patch.shape.outline:
            filled = region_from(patch.shape.region, bends[patch.line], was, now)
            return replace(patch, shape=replace(patch.shape, region=filled))
        return replace(patch, shape=bent_from(patch.shape, bends[patch.line], was, now))

    def seamed(seam: LineSeam) -> LineSeam:
        was, now = built.frame(seam.line, seam.stand), changed.frame(seam.line, seam.stand)
        bend = bends[seam.line]

        def mapped(flat: Seam) -> Seam:
            between = None if flat.between is None else region_from(flat.between, bend, was, now)
            return Seam(
                region_from(flat.left, bend, was, now), region_from(flat.right, bend, was, now), between
            )

        def held(_: Seam) -> Seam | None:
            flat = seam.held(seam.look())
            return None if flat is None else mapped(flat)

        joint, bar = seam.joint, seam.joint.bar
        if bar is not None and bar.ends is not None:
            ends = [now.back(*_mapped(bend, *was.point(*end))) for end in bar.ends]
            joint = replace(joint, bar=replace(bar, ends=(ends[0], ends[1])))
        return replace(seam, joint=joint, look=lambda: mapped(seam.look()), held=held)

    whole = Placement(scale=size)
    joined = replace(
        built.joined,
        seams=tuple(map(seamed, built.joined.seams)),
        bars=tuple(map(patched, built.joined.bars)),
        fills=tuple(map(patched, built.joined.fills)),
    )

    def laid_there(bar: LaidBar) -> LaidBar:
        ends = bar.ends
        if ends is not None:
            one, other = (whole.back(*_mapped(bends[0], *whole.point(*end))) for end in ends)
            ends = one, other
        return replace(bar, shape=bent_from(bar.shape, bends[0], whole, whole), ends=ends)

    return replace(
        changed,
        joined=joined,
        laid=tuple(map(laid_there, built.laid)),
        ties=tuple(replace(tie, shape=bent_from(tie.shape, bends[0], whole, whole)) for tie in built.ties),
        underlines=tuple(bent_from(line, bends[0], whole, whole) for line in built.underlines),
    )


def _mapped(bend: Bend, x: float, y: float) -> Point:
    z = complex(bend.at(np.array([complex(x, y)]))[0])
    return z.real, z.imag


bend_shapes: BoundedCache[tuple[str, str, str, str], Shape] = BoundedCache(24 * 2**20)
