"""Findings: what would go wrong on the material, each with its place, its measure and the limit it breaks.

The polygon twin of each cluster is looked at. A finding *blocks* when what comes off would tear or be lost;
others are for the maker to look at. A finding the maker accepts stays accepted while it is unchanged.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from itertools import islice, zip_longest
from typing import Literal, TypeAlias

import numpy as np
import shapely
from numpy.typing import NDArray

from fulgen.budget import shared
from fulgen.geometry.measure import Box
from fulgen.geometry.polygons import Region, longest_side, numbered_holes, polygonal
from fulgen.geometry.shape import CLOSE_NODES_MM, Shape
from fulgen.geometry.thin import (
    NECK_IS_SHORT,
    Slot,
    Thinness,
    ThinPlace,
    WeakPlace,
    inscribed_width,
    is_sliver,
    is_stroke,
    stroke_width,
)
from fulgen.geometry.wear import is_under
from fulgen.geometry.weld import geos_errors_as_problems
from fulgen.joining.anchors import Anchor, Place
from fulgen.joining.bars import Bar
from fulgen.joining.materials import Limits
from fulgen.lettering.bodies import APART, LIKE_BITS, carrier_and_bits
from fulgen.lettering.layout import PlacedLetter
from fulgen.lettering.letters import AS_SET, MarkWay, SeamAfter, Way
from fulgen.parts.combination import standing_in
from fulgen.parts.lettering import Lettering, MadeLettering
from fulgen.parts.made import Placed
from fulgen.parts.ready import is_small_piece
from fulgen.parts.touchups import TouchUp, TouchUpKind
from fulgen.parts.weak import narrow_gaps, thinness, weak_places
from fulgen.parts.welding import body_of
from fulgen.problem import Problem
from fulgen.readiness.joints import (
    AT_JOINT,
    Holding,
    Judged,
    joints,
)
from fulgen.readiness.whereabouts import Whereabouts
from fulgen.recipe.changes import Change, with_bar, with_letter, with_lettering, with_touch_ups
from fulgen.recipe.evaluate import Cluster, Evaluation
from fulgen.recipe.model import Known, Recipe
from fulgen.steps import Step
from fulgen.units import MM_PER_INCH, Unit

Kind = Literal[
    "mark",
    "piece",
    "small-piece",
    "neck",
    "narrow",
    "hairline",
    "sliver",
    "hole",
    "counter",
    "near",
    "slit",
    "points",
]

MOST_OF_A_KIND = 40
"""No more of one kind are told; a face thin all over would have hundreds."""

_SAME_PLACE = 0.03
"""An accepted finding is the same within this share of the size, and within _SAME_MEASURE of its measure."""
_SAME_MEASURE = 0.1

_MORE = 1.1


def wide_enough(limit: float) -> float:
    """How wide something thinner than a limit is made: a little wider, so that the repair itself is not
    in question."""
    return limit * _MORE


@dataclass(frozen=True, eq=False)
class Remedy:
    """What repairs a finding in one action: a word for it, and the recipe with it taken."""

    label: str
    take: Change


LENGTH = "\0"
"""Where a length goes in what a finding says: a sign that nobody can type."""


@dataclass(frozen=True, eq=False)
class Finding:
    """One thing that the check has found; lengths in mm, places on the work.

    said: the fact, with LENGTH where ``lengths`` go, which are shown in the maker's unit. measure: how
    wide, large or many; limit: what it breaks. at: the place it is kept by. known_as: the numbers of what the
    recipe accepts that it is.
    """

    kind: Kind
    said: str
    lengths: tuple[float, ...]
    blocks: bool
    box: Box
    measure: float
    limit: float
    at: Anchor
    size: float
    remedy: Remedy | None = None
    film: str = ""
    known_as: tuple[int, ...] = ()

    kept_bytes = 1_000

    def what(self, unit: Unit) -> str:
        """The fact in one sentence."""
        return with_lengths(self.said, self.lengths, unit)

    @property
    def accepted(self) -> bool:
        """Whether the maker knows of it and takes it as it is."""
        return bool(self.known_as)

    @property
    def place(self) -> tuple[float, float]:
        return self.box.x + self.box.width / 2, self.box.y + self.box.height / 2

    @property
    def known(self) -> Known:
        """The finding as a recipe says that it is accepted."""
        return Known(self.kind, self.at, round(self.measure, 4))


def with_lengths(said: str, lengths: Iterable[float], unit: Unit) -> str:
    """Words with lengths put in where LENGTH stands."""
    parts = said.split(LENGTH)
    shown = (_shown(length, unit) for length in lengths)
    return "".join(text + length for text, length in zip_longest(parts, shown, fillvalue=""))


def _shown(mm: float, unit: Unit) -> str:
    return f"{mm / MM_PER_INCH:.3f} in" if unit == "in" else f"{mm:.2f} mm"


def findings(evaluation: Evaluation) -> tuple[Finding, ...]:
    """All that the check finds, what blocks the cut first, then in reading order. Each cluster is looked at
    once for as long as it, its joints and the limits stay."""
    recipe, limits = evaluation.recipe, evaluation.recipe.limits
    judged: dict[str, list[Judged]] = {}
    for joint in joints(evaluation):
        judged.setdefault(joint.part, []).append(joint.judged)
    found = [
        replace(
            finding,
            film=film.colour,
            known_as=tuple(n for n, known in enumerate(recipe.known) if _is_same(finding, known)),
        )
        for film in evaluation.films
        for cluster in film.clusters
        for finding in _found(_Asked(cluster, limits, tuple(_joints_of(cluster, judged))))
    ]
    return tuple(sorted(found, key=lambda f: (f.accepted, not f.blocks, round(f.box.y, -1), f.box.x)))


def _joints_of(cluster: Cluster, judged: Mapping[str, Sequence[Judged]]) -> Iterator[Judged]:
    for member in cluster.members:
        for part in standing_in(member):
            yield from judged.get(part.id, ())


@dataclass(frozen=True, eq=False)
class _Asked:
    """All that the findings of a cluster depend on."""

    cluster: Cluster
    limits: Limits
    joints: tuple[Judged, ...]


def _looked_at(asked: _Asked) -> tuple[Finding, ...]:
    with geos_errors_as_problems():
        return tuple(_searched(asked))


_found: Step[_Asked, tuple[Finding, ...]] = Step(_looked_at, 8 * 2**20)


def _searched(asked: _Asked) -> Iterator[Finding]:
    cluster, limits = asked.cluster, asked.limits
    # Nearly all of the work is GEOS's, which lets threads go on side by side.
    weak = _workers.submit(shared(weak_places), cluster.shape, limits)
    gaps = _workers.submit(shared(narrow_gaps), cluster.shape, limits)
    strokes = thinness(cluster.shape, limits.stroke_mm)
    found = tuple(place for place, _ in weak.result())
    look = _Look(
        cluster.members, cluster.shape, limits.neck_mm,
        cluster, limits, strokes, found, asked.joints, gaps.result(),
    )  # fmt: skip
    searches = (_pieces, _thin, _holes, _near_misses, _points, _counters)
    for search in searches:
        yield from islice(search(look), MOST_OF_A_KIND)


_workers = ThreadPoolExecutor(2, "findings")


def blocking(found: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """Those that block the cut and are not accepted."""
    return tuple(f for f in found if f.blocks and not f.accepted)


def _is_same(finding: Finding, known: Known) -> bool:
    if known.kind != finding.kind or known.at.place != finding.at.place:
        return False
    if known.at.of not in ("", finding.at.of):
        return False
    away = math.hypot(known.at.x - finding.at.x, known.at.y - finding.at.y)
    return away <= _SAME_PLACE and abs(known.mm - finding.measure) <= _SAME_MEASURE * max(
        finding.measure, 0.01
    )


Repair: TypeAlias = Callable[[Placed, Anchor], Remedy | None]
"""Makes the remedy of a finding from the part and the place it is kept by."""


@dataclass(frozen=True, eq=False)
class _Look(Whereabouts):
    """What is welded together as it is looked at: where it is thinner than strokes may be, where it would
    tear, how its joints hold, and its narrow gaps."""

    cluster: Cluster
    limits: Limits
    strokes: Thinness
    weak: tuple[WeakPlace, ...]
    joints: tuple[Judged, ...]
    gaps: tuple[Slot, ...]

    @property
    def region(self) -> Region:
        return self.cluster.shape.region

    @property
    def letterings(self) -> Iterator[tuple[Placed, MadeLettering]]:
        standing = (part for member in self.cluster.members for part in standing_in(member))
        return ((part, part.made) for part in standing if isinstance(part.made, MadeLettering))

    def finding(
        self, kind: Kind, said: str, place: shapely.Geometry, measure: float, limit: float,
        *lengths: float, blocks: bool = True, remedy: Repair | None = None,
    ) -> Finding:  # fmt: skip
        x0, y0, x1, y1 = shapely.bounds(place).tolist()
        part, anchor = self.anchor(place)
        return Finding(
            kind, said, lengths, blocks, Box(x0, y0, x1 - x0, y1 - y0), measure, limit, anchor, part.size,
            remedy(part, anchor) if remedy else None,
        )  # fmt: skip


def _touch_up(label: str, kind: TouchUpKind, size_mm: float) -> Repair:
    """A remedy that is a touch-up of the welded outline."""

    def remedy(part: Placed, anchor: Anchor) -> Remedy:
        touch_up = TouchUp(kind, anchor, size_mm=round(size_mm, 4))
        return Remedy(label, lambda recipe: with_touch_ups(recipe, [touch_up]))

    return remedy


def _with_its_letter(anchor: Anchor, change: Callable[[Lettering], Lettering]) -> Change:
    return lambda recipe: with_lettering(recipe, anchor.part, change)


# --- pieces -----------------------------------------------------------------------------------------


def _pieces(look: _Look) -> Iterator[Finding]:
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


def _words(look: _Look, pieces: NDArray[np.object_]) -> dict[int, str]:
    """Pieces that are not what holds their word together: the letter they are of, by the piece."""
    tree = shapely.STRtree(pieces)
    loose: dict[int, str] = {}
    areas = shapely.area(pieces)
    for part, made in look.letterings:
        for word in _runs_of_letters(part, made):
            held: dict[int, str] = {}
            for letter, region in word:
                on = shapely.point_on_surface(shapely.get_parts(region))
                for piece in tree.query(on, predicate="intersects")[1].tolist():
                    held.setdefault(int(piece), letter.text)
            if len(held) > 1:
                main = max(held, key=lambda n: float(areas[n]))
                loose |= {n: text for n, text in held.items() if n != main}
    return loose


def _runs_of_letters(part: Placed, made: MadeLettering) -> Iterator[list[tuple[PlacedLetter, Region]]]:
    """The letters of each word with their areas on the work."""
    run: list[tuple[PlacedLetter, Region]] = []
    text = made.lettering.text
    for letter, shape in zip(made.own_letters, part.shapes, strict=False):
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


def _mark_of(look: _Look, piece: Region) -> _Mark | None:
    """The dot, accent or other bit of a letter that a piece is, if it is one."""
    x, y = shapely.get_coordinates(shapely.point_on_surface(piece))[0].tolist()
    part = look.near(x, y)
    if not isinstance(part.made, MadeLettering):
        return None
    letter = part.made.nearest(*part.place.back(x, y))
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


def _lowered(part: Placed, anchor: Anchor) -> Remedy:
    return _settled("Lower it into its letter", MarkWay.LOWER, anchor)


def _bridged(part: Placed, anchor: Anchor) -> Remedy:
    return _settled("Tie its parts together", MarkWay.BRIDGE, anchor)


def _settled(label: str, way: MarkWay, anchor: Anchor) -> Remedy:
    """What is done with the detached bits of one letter."""
    letter = anchor.letter or 0
    return Remedy(label, _with_its_letter(anchor, lambda p: with_letter(p, letter, marks=way)))


def _tie_to(look: _Look, piece: Region, others: list[Region]) -> Repair:
    """A bridge from a piece to the nearest of others; where the two are neighbours with a gap, they are
    brought together instead."""

    def remedy(part: Placed, anchor: Anchor) -> Remedy | None:
        if not others:
            return None
        nearest = others[int(shapely.distance(piece, others).argmin())]
        one, other = shapely.get_coordinates(shapely.shortest_line(piece, nearest)).tolist()
        return _bridge_or_slide(look, (one[0], one[1]), (other[0], other[1]))

    return remedy


def _bridge_or_slide(look: _Look, one: tuple[float, float], other: tuple[float, float]) -> Remedy:
    parts = look.near(*one), look.near(*other)
    ends = [part.anchor(*at) for part, at in zip(parts, (one, other), strict=True)]
    made = parts[0].made
    if parts[0] is parts[1] and isinstance(made, MadeLettering) and made.lettering.join.how == "set":
        ids = {end.letter for end in ends}
        for seam in made.joined.seams:
            pair = (made.lettering.ids[seam.left], made.lettering.ids[seam.right])
            if set(pair) == ids and len(ids) > 1 and seam.measured.neck == 0:
                return Remedy("Bring them together", _with_its_letter(ends[0], partial(_slid, left=pair[0])))
    neck = made.lettering.join.neck_mm if isinstance(made, MadeLettering) else look.limits.neck_mm

    def bridged(recipe: Recipe) -> Recipe:
        start, end = (part.anchor(*part.snapped(*at)) for part, at in zip(parts, (one, other), strict=True))
        return with_bar(recipe, Bar(start, end, width_mm=min(100.0, max(0.1, neck))))

    return Remedy("Bridge it", bridged)


def _slid(lettering: Lettering, left: int) -> Lettering:
    now = lettering.letters.get(left, AS_SET)
    return with_letter(lettering, left, seam=SeamAfter(Way.SLIDE, now.seam.trim))


# --- what is too thin ---------------------------------------------------------------------------------


def _thin(look: _Look) -> Iterator[Finding]:
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
        # A joint in the middle of a stroke that is told already is told with that.
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


def _weak_joint(look: _Look, joint: Judged, around: Region) -> Finding:
    one, other = joint.between
    return look.finding(
        "neck", f"The neck between {one} and {other} is weak: {LENGTH} wide.",
        around, joint.neck, joint.limit, joint.neck, remedy=_thickened(look, [around], joint.limit),
    )  # fmt: skip


def _narrow_joint(look: _Look, joint: Judged, chord: shapely.LineString) -> Finding:
    one, other = joint.between
    around = polygonal(shapely.buffer(chord, joint.neck / 2))
    return look.finding(
        "narrow", f"The neck between {one} and {other} is narrower than you asked: {LENGTH} of {LENGTH}.",
        around, joint.neck, joint.asked, joint.neck, joint.asked, blocks=False,
    )  # fmt: skip


def _in_rows(weak: list[tuple[float, Region]], distance: float) -> list[list[tuple[float, Region]]]:
    """Necks one after the other on one stroke are told as one: its narrowest, which comes first."""
    rows: list[list[tuple[float, Region]]] = []
    for width, place in sorted(weak, key=lambda row: row[0]):
        for row in rows:
            if any(shapely.dwithin(place, other, distance) for _, other in row):
                row.append((width, place))
                break
        else:
            rows.append([(width, place)])
    return rows


def _thickened(look: _Look, places: list[Region], width: float) -> Repair:
    """Every one of some thin places made as wide as it should be."""

    def remedy(part: Placed, anchor: Anchor) -> Remedy:
        touch_ups = []
        for place in places:
            x, y = shapely.get_coordinates(shapely.point_on_surface(place))[0].tolist()
            at = look.near(x, y).anchor(x, y)
            touch_ups.append(TouchUp("thicken", at, size_mm=round(wide_enough(width), 4)))
        return Remedy("Thicken here", lambda recipe: with_touch_ups(recipe, touch_ups))

    return remedy


def _hairline(look: _Look, place: ThinPlace) -> Finding | None:
    limit = look.limits.stroke_mm
    if is_sliver(look.strokes, place):
        return look.finding(
            "sliver", f"A sliver sticks out {look.whose_place(place.region)}: {LENGTH} wide.",
            place.region, place.width, limit, place.width, remedy=_touch_up("Take it off", "cut", limit),
        )  # fmt: skip
    if not is_stroke(look.strokes, place):
        return None
    # Between two strokes it holds as a neck does.
    wide = max(limit, look.limits.neck_mm) if len(place.cores) > 1 else limit
    width = stroke_width(look.strokes, place)
    if not is_under(width, limit):
        return None
    return look.finding(
        "hairline",
        f"A stroke {look.whose_place(place.region)} is thin: {LENGTH} over {LENGTH}.",
        place.region, width, limit, width, place.length,
        remedy=_touch_up("Thicken here", "thicken", wide_enough(wide)),
    )  # fmt: skip


# --- holes and gaps -------------------------------------------------------------------------------------


def _holes(look: _Look) -> Iterator[Finding]:
    limit = look.limits.hole_mm
    for contour, hole in numbered_holes(look.region):
        if not shapely.buffer(hole, -limit / 2).is_empty:
            continue
        width = inscribed_width(hole, 1e-2)
        if width >= limit:
            continue
        x, y = shapely.get_coordinates(shapely.point_on_surface(hole))[0].tolist()
        yield look.finding(
            "hole",
            f"A hole {look.whose(contour) or look.where(x, y)} is too small to weed: {LENGTH} across.",
            hole, width, limit, width, remedy=_touch_up("Fill it", "fill", width),
        )  # fmt: skip


def _near_misses(look: _Look) -> Iterator[Finding]:
    limit = look.limits.gap_mm
    for slot in look.gaps:
        if slot.slit:
            yield look.finding(
                "slit", f"A slit {look.whose_place(slot.region)} is too narrow to weed: {LENGTH}.",
                slot.region, slot.width, limit, slot.width,
                remedy=_touch_up("Close the slit", "close", limit),
            )  # fmt: skip
            continue
        yield look.finding(
            "near",
            f"Two edges {look.whose_place(slot.region)} almost touch: {LENGTH} apart.",
            slot.region, slot.width, limit, slot.width, blocks=False,
            remedy=_touch_up("Close the gap", "close", limit),
        )  # fmt: skip


def _points(look: _Look) -> Iterator[Finding]:
    """Nodes that no cutter can tell from their neighbours."""
    sides, _ = look.cluster.shape.outline.cubics
    if not len(sides):
        return
    chords = np.hypot(*(sides[:, 3] - sides[:, 0]).T)
    short = np.flatnonzero(chords < CLOSE_NODES_MM)
    if not len(short):
        return
    close: dict[Place, list[tuple[Anchor, float, float]]] = {}
    for x, y in sides[short[:_MOST_POINTS], 3].tolist():
        anchor = look.near(x, y).anchor(x, y)
        close.setdefault(anchor.place, []).append((anchor, x, y))
    for spots in close.values():
        _, x, y = spots[0]
        name = look.near(x, y).names_at(x, y)[0]
        many = f"{len(spots)} points in {name} are" if len(spots) > 1 else f"1 point in {name} is"
        yield look.finding(
            "points", f"{many} nearer to the next than {LENGTH}: more than a knife can follow.",
            shapely.MultiPoint([(x, y) for _, x, y in spots]), float(len(spots)), CLOSE_NODES_MM,
            CLOSE_NODES_MM, blocks=False, remedy=partial(_taken_out, [anchor for anchor, _, _ in spots]),
        )  # fmt: skip


_MOST_POINTS = 60
"""No more needless points are told, for each of them takes a touch-up."""


def _taken_out(spots: list[Anchor], part: Placed, anchor: Anchor) -> Remedy:
    touch_ups = [TouchUp("remove", at) for at in spots]
    return Remedy("Take them out", lambda recipe: with_touch_ups(recipe, touch_ups))


def _counters(look: _Look) -> Iterator[Finding]:
    """Counters that thickening has closed."""
    for part, made in look.letterings:
        closed = set(made.closed_counters)
        for letter, shape in zip(made.own_letters, part.shapes, strict=False):
            if letter.text in closed:
                closed.discard(letter.text)
                thicken = made.lettering.thicken_mm
                yield look.finding(
                    "counter", f"Thickening has closed a counter of {letter.text}.",
                    shape.region, thicken, thicken, remedy=partial(_thinner, thicken),
                )  # fmt: skip


def _thinner(thicken: float, part: Placed, anchor: Anchor) -> Remedy:
    half = round(thicken / 2, 4)
    return Remedy(
        "Thicken by half as much",
        _with_its_letter(anchor, lambda p: p.model_copy(update={"thicken_mm": half})),
    )


# --- the thinnest stroke ----------------------------------------------------------------------------------

_WIDEST_STROKE = 0.4
"""No stroke is looked for that is wider than this share of the size."""


def thinnest_stroke(evaluation: Evaluation) -> float:
    """How wide the thinnest stroke is, in mm: the width from which on the check finds a thin stroke; to a
    hundredth of a millimetre."""
    if not evaluation.parts:
        raise Problem("no-letters", "There is nothing to measure: no part is shown.", "Show a part again.")
    size = max(part.size for part in evaluation.parts)
    return _thinnest([cluster.shape for cluster in evaluation.clusters], size)


def thinnest_stroke_of(part: Placed) -> float:
    """How wide the thinnest stroke of a part is by itself, likewise."""
    return _thinnest([body_of(part)], part.size)


def _thinnest(shapes: Sequence[Shape], size: float) -> float:
    most = _WIDEST_STROKE * size
    width = _NARROWEST_STROKE_MM
    # From below: a shape that is thin all over has no strokes that are thinner than the rest.
    while width < most:
        worn = [thinness(shape, width) for shape in shapes]
        found = [
            stroke_width(thin, place) for thin in worn for place in thin.places if is_stroke(thin, place)
        ]
        if found:
            return min(found)
        width *= _WIDER
    return most


_NARROWEST_STROKE_MM, _WIDER = 0.1, 1.3
"""Strokes are looked for from so many mm on, in steps of so many times as wide."""


def why_no_place(finding: Finding) -> str:
    """Why a repair can find no place to hold, in words."""
    return _NO_PLACE.get(finding.kind, "The repair finds no place to hold there.")


_NO_PLACE: dict[Kind, str] = {
    "neck": "The neck is not thin by itself there: what is beside it was changed, or lies too near.",
    "hairline": "The thin place is not there any more: what is beside it was changed by another repair.",
    "sliver": "The sliver is not there any more, or taking it off would leave nothing.",
    "hole": "The hole is not there any more, or has become another one.",
    "slit": "The slit is not there any more, or it has opened.",
    "near": "The gap is not there any more, or its edges meet at one end: that is a bay, and can be weeded.",
    "points": "Without these points a piece or a hole would come or go.",
}
