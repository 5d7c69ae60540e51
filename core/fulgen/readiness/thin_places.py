"""What is too thin: weak necks, thin strokes, slivers, and joints that are narrower than was asked."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import shapely

from fulgen.geometry.erosion import is_below_limit
from fulgen.geometry.measure import Box
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.thin import (
    NECK_IS_SHORT,
    ThinPlace,
    is_sliver,
    is_stroke,
    stroke_width,
)
from fulgen.joining.anchors import Anchor
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.touchups import TouchUp
from fulgen.readiness.cluster_view import ClusterView, Search, touch_up_remedy
from fulgen.readiness.finding import LENGTH, Finding, Remedy, Repair, wide_enough
from fulgen.readiness.joints import (
    AT_JOINT,
    Holding,
    Judgement,
)
from fulgen.recipe.changes import with_touch_ups


def _thin(look: ClusterView) -> Iterator[Finding]:
    """Thin strokes, joints and weak necks; a place that is both is a neck when it is short."""
    limit = look.limits.neck_mm
    places = sorted(look.strokes.places, key=lambda place: -place.length)
    long = [place for place in places if place.length > NECK_IS_SHORT * limit]
    hairlines = [(place.region, finding) for place in long if (finding := _hairline(look, place)) is not None]
    told_of = shapely.STRtree([region for region, _ in hairlines])
    joints = [(joint, shapely.LineString(joint.ends)) for joint in look.joints]
    at_necks: list[Region] = []
    for joint, chord in joints:
        if joint.holding is not Holding.WEAK:
            continue
        around = polygonal(shapely.buffer(chord, max(AT_JOINT * limit, joint.neck / 2)))
        at_necks.append(around)
        # A joint in the middle of a stroke that is reported already belongs to that.
        if not len(told_of.query(chord, predicate="intersects")):
            yield _weak_joint(look, joint, around)
    yield from (finding for _, finding in hairlines)
    others = [
        (weak.width, weak.place)
        for weak in look.weak
        if not any(shapely.dwithin(chord, weak.place, AT_JOINT * limit) for _, chord in joints)
        and not len(told_of.query(weak.place, predicate="intersects"))
    ]
    for group in _in_rows(others, 2 * limit):
        width, narrowest = group[0]
        row = [place for _, place in group]
        finding = look.finding(
            "neck",
            f"The neck {look.whose_place(narrowest)} is weak: {LENGTH} wide.",
            narrowest, width, limit, width, remedy=_thickened(look, row, limit),
        )  # fmt: skip
        x0, y0, x1, y1 = shapely.total_bounds(row).tolist()
        yield replace(finding, box=Box(x0, y0, x1 - x0, y1 - y0))
    necks = shapely.STRtree([*at_necks, *(place for _, place in others)])
    for place in places:
        if place.length <= NECK_IS_SHORT * limit and not len(
            necks.query(place.region, predicate="intersects")
        ):
            finding = _hairline(look, place)
            if finding is not None:
                yield finding
    for joint, chord in joints:
        if joint.holding is Holding.NARROW:
            yield _narrow_joint(look, joint, chord)


def _weak_joint(look: ClusterView, joint: Judgement, around: Region) -> Finding:
    one, other = joint.between
    return look.finding(
        "neck", f"The neck between {one} and {other} is weak: {LENGTH} wide.",
        around, joint.neck, joint.limit, joint.neck, remedy=_thickened(look, [around], joint.limit),
    )  # fmt: skip


def _narrow_joint(look: ClusterView, joint: Judgement, chord: shapely.LineString) -> Finding:
    one, other = joint.between
    around = polygonal(shapely.buffer(chord, joint.neck / 2))
    return look.finding(
        "narrow", f"The neck between {one} and {other} is narrower than you asked: {LENGTH} of {LENGTH}.",
        around, joint.neck, joint.asked, joint.neck, joint.asked, blocks=False,
    )  # fmt: skip


def _in_rows(weak: list[tuple[float, Region]], distance: float) -> list[list[tuple[float, Region]]]:
    """Necks one after the other on one stroke are one finding: its narrowest, which comes first."""
    rows: list[list[tuple[float, Region]]] = []
    for width, place in sorted(weak, key=lambda row: row[0]):
        for row in rows:
            if any(shapely.dwithin(place, other, distance) for _, other in row):
                row.append((width, place))
                break
        else:
            rows.append([(width, place)])
    return rows


def _thickened(look: ClusterView, places: list[Region], width: float) -> Repair:
    """Every one of some thin places made as wide as it should be."""

    def remedy(part: PlacedPart, anchor: Anchor) -> Remedy:
        touch_ups = []
        for place in places:
            x, y = shapely.get_coordinates(shapely.point_on_surface(place))[0].tolist()
            at = look.near(x, y).anchor(x, y)
            touch_ups.append(TouchUp("thicken", at, size_mm=round(wide_enough(width), 4)))
        return Remedy("Thicken here", lambda recipe: with_touch_ups(recipe, touch_ups))

    return remedy


def _hairline(look: ClusterView, place: ThinPlace) -> Finding | None:
    limit = look.limits.stroke_mm
    if is_sliver(look.strokes, place):
        return look.finding(
            "sliver", f"A sliver sticks out {look.whose_place(place.region)}: {LENGTH} wide.",
            place.region, place.width, limit, place.width,
            remedy=touch_up_remedy("Take it off", "cut", limit),
        )  # fmt: skip
    if not is_stroke(look.strokes, place):
        return None
    # Between two strokes it holds as a neck does.
    wide = max(limit, look.limits.neck_mm) if len(place.cores) > 1 else limit
    width = stroke_width(look.strokes, place)
    if not is_below_limit(width, limit):
        return None
    return look.finding(
        "hairline",
        f"A stroke {look.whose_place(place.region)} is thin: {LENGTH} over {LENGTH}.",
        place.region, width, limit, width, place.length,
        remedy=touch_up_remedy("Thicken here", "thicken", wide_enough(wide)),
    )  # fmt: skip


THIN_PLACES = Search(
    _thin,
    {
        "neck": "The neck is not thin by itself there: what is beside it was changed, or lies too near.",
        "narrow": "",
        "hairline": "The thin place is not there any more: what is beside it was changed by another repair.",
        "sliver": "The sliver is not there any more, or taking it off would leave nothing.",
    },
)
