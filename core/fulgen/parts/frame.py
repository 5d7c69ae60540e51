"""Frames as parts of a design: material with bands, and the names that are fitted into them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from fulgen.bounded import Bounded, digest
from fulgen.framing.bands import Band, Manner, opening_around
from fulgen.framing.contact import Edge, contacts, reached_down, ties
from fulgen.framing.fit import Centre, Feet, Ink, Pose, across, standing, upright, within
from fulgen.framing.frames import Asked, Drawn, FrameForm, Use, frame_of
from fulgen.framing.islands import with_bridges
from fulgen.framing.monogram import IntoDisc, cells
from fulgen.frozen import NO_OTHERS, STRICT, WHOLE, Flag
from fulgen.geometry.bend import bent_shape
from fulgen.geometry.measure import Box
from fulgen.geometry.operations import without
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, polygonal
from fulgen.geometry.weld import FLATNESS_MM, Shape, clean, weld
from fulgen.joining.anchors import PartId
from fulgen.joining.bars import Bar
from fulgen.joining.strength import Body
from fulgen.joining.words import HOLE_STEP, NECK_STEP, rounded_up
from fulgen.lettering.catalogue import FaceChoice
from fulgen.lettering.course import Course
from fulgen.lettering.faces import Face
from fulgen.lettering.letters import AS_SET, MarkWay
from fulgen.lettering.setting import Faces, Size
from fulgen.parts.combination import MadeCombination, welded_to_edges
from fulgen.parts.lettering import Lettering, MadeLettering, length_along, make_lettering
from fulgen.parts.made import Placed
from fulgen.parts.part import SAYS_ITS_KIND, Millimetres, Part
from fulgen.parts.solid import Solid
from fulgen.parts.welding import body_of, welded
from fulgen.problem import Problem
from fulgen.units import show_length

MAX_NAMES = 12

SMALLEST_CAPITAL_MM = 2.5
"""Lettering lower than this is neither cut nor weeded cleanly from any material (common practice, no
source)."""

ContourNumber = Annotated[int, Field(ge=0, le=100_000), WHOLE]
_LEAST_CAPITAL_MM = 0.5
"""Nothing is made smaller than this on the way to a fit."""

Along = Annotated[float, Field(strict=True, ge=-3000.0, le=3000.0)]


@dataclass(frozen=True)
class Fit:
    """How names are fitted: the air beside them, how deep they run into edges (as deep as their necks need,
    unless said), and how they may bend: made wider or narrower by so much at most, their letters spread to
    fill the room, each reached down to a lower edge. feet says what stands on that, centre what is laid in
    the middle."""

    __pydantic_config__ = STRICT

    air_mm: Annotated[float, Field(strict=True, ge=0.0, le=300.0)] = 3.0
    depth_mm: Annotated[float, Field(strict=True, ge=0.05, le=50.0)] | None = None
    stretch: Annotated[float, Field(strict=True, ge=1.0, le=1.6)] = 1.15
    spread: Flag = False
    reach: Flag = False
    feet: Feet | None = None
    centre: Centre = "box"


@dataclass(frozen=True)
class OwnBand:
    """A band drawn on artwork: its box from the middle of the work, how a name is held there, and the edges
    it runs into, by the numbers of their contours: all, where none are named."""

    __pydantic_config__ = STRICT

    x: Along
    y: Along
    width_mm: Millimetres
    height_mm: Millimetres
    manner: Manner = "across"
    edges: Annotated[tuple[ContourNumber, ...], Field(max_length=60)] = ()


class Frame(Part):
    """A frame and the names in its bands: members, in the order of the bands. form is one of the library, or
    "own": then ground is what it is made of, and bands are drawn on it. values are measures that are set,
    holes says that names are cut out of it, text are letters of its own: the name's first one, unless
    said."""

    model_config = SAYS_ITS_KIND

    kind: Literal["frame"] = "frame"
    form: Annotated[str, Field(min_length=1, max_length=40)] = "name ring"
    width_mm: Millimetres = 80.0
    height_mm: Millimetres = 80.0
    values: dict[
        Annotated[str, Field(pattern=r"^[a-z]{1,20}$")], Annotated[float, Field(strict=True, ge=-1e4, le=1e4)]
    ] = Field(default_factory=dict, max_length=12, json_schema_extra=NO_OTHERS)
    holes: Flag = False
    text: Annotated[str, Field(max_length=6)] = ""
    face: FaceChoice = FaceChoice("Anton")
    fit: Fit = Fit()
    members: tuple[PartId, ...] = Field((), max_length=MAX_NAMES)
    ground: PartId | None = None
    bands: tuple[OwnBand, ...] = Field((), max_length=MAX_NAMES)

    @model_validator(mode="after")
    def _own_or_not(self) -> Frame:
        if (self.form == "own") != (self.ground is not None):
            raise PydanticCustomError("ground", "A frame of artwork needs its artwork, and no other does.")
        return self

    @property
    def contains(self) -> tuple[str, ...]:
        return self.members if self.ground is None else (self.ground, *self.members)

    @property
    def needs(self) -> tuple[str, ...]:
        """Names are made in it: only what it is made of comes first."""
        return () if self.ground is None else (self.ground,)

    @property
    def says(self) -> str:
        """What a maker calls it."""
        return self.name or ("frame" if self.form == "own" else self.form)


@dataclass(frozen=True, eq=False)
class FittedName:
    """A name in its band, in the frame: which one it is, the band, where it lies, how much air is beside it
    at its left and right (negative where it runs into edges there), how deep it runs into edges, and how
    much wider its letters were made."""

    part: str
    band: Band
    air: tuple[float, float]
    depth: float
    stretch: float

    @property
    def key(self) -> str:
        """All that the name was changed by."""
        return repr((self.depth, self.stretch, self.air, self.band.box))


@dataclass(frozen=True, eq=False)
class MadeFrame(MadeCombination):
    """What a frame comes to: with what it is without its names, and how they are fitted."""

    bare: Solid | None = None
    fitted: tuple[FittedName, ...] = ()
    bands: tuple[Band, ...] = ()

    def stood(self, part: Placed) -> Iterator[Placed]:
        """The frame without its names, and the names."""
        if self.bare is not None and self.standing:
            yield replace(part, made=self.bare, key=f"{part.key} bare")
        yield from super().stood(part)


@dataclass(frozen=True, eq=False)
class NameAsked:
    """A name as it is asked for: the lettering, its faces, and the bars laid on it by hand. share and
    hole_share are the neck and the hole too small to weed, as shares of the size, that it was joined with
    before."""

    lettering: Lettering
    faces: Faces
    bars: tuple[Bar, ...]
    hole_mm: float
    share: float = 0.0
    hole_share: float = 0.0

    @property
    def key(self) -> str:
        """All that its making depends on."""
        return digest(self.lettering.making_key(), *self.faces.key, repr(self.bars), repr(self.hole_mm))

    @property
    def target(self) -> float:
        """The neck that it needs at edges, in mm."""
        return self.lettering.join.neck_mm

    def made(
        self, capitals: float, stretch: float = 1.0, spread: float = 0.0, course: Course | None = None
    ) -> MadeLettering:
        """The name with capitals so many mm high, made wider and its letters spread, along a course."""
        own = self.lettering
        changed = {
            "course": course,
            "align": own.align if course is None else "centre",
            "size": Size("capitals", capitals),
            "join": replace(own.join, neck_mm=self._neck(capitals / self.faces.face.capital_height)),
            "stretch": round(own.stretch * stretch, 6),
            "spacing_share": own.spacing_share + spread,
        }
        hole = _known(self.hole_mm, self.hole_share, capitals / self.faces.face.capital_height)
        return make_lettering(own.model_copy(update=changed), self.faces, self.bars, hole)

    def _neck(self, size: float) -> float:
        """The neck that letters are joined with: as asked, or a little wider where they were so joined at a
        size near this one. What was worked out then serves again."""
        return _known(self.target, self.share, size)

    def joined_about(self, size: float) -> NameAsked:
        """The name, to be joined at all sizes near to one as it is at a size a little smaller."""
        small = _SMALLEST * size
        return replace(
            self,
            share=rounded_up(self.target / small, NECK_STEP),
            hole_share=rounded_up(self.hole_mm / small, HOLE_STEP),
        )

    @property
    def as_set(self) -> NameAsked:
        """The name with its letters as the face sets them, and its dots with them."""
        join = replace(self.lettering.join, how="set", marks=MarkWay.KEEP, tie=False)
        return replace(self, lettering=self.lettering.model_copy(update={"join": join}))

    def with_larger_middle(self, times: float) -> NameAsked:
        """The name with its middle letter so many times as large: of a monogram."""
        own = self.lettering
        letters = [at for at, sign in enumerate(own.text) if not sign.isspace()]
        if len(letters) < 3:
            return self
        key = own.ids[letters[len(letters) // 2]]
        change = own.letters.get(key, AS_SET)
        changed = {**own.letters, key: replace(change, scale=change.scale * times)}
        return replace(self, lettering=own.model_copy(update={"letters": changed}))


def _known(least_mm: float, share: float, size: float) -> float:
    """A length that is to be at least so long: a share of the size where that is not much longer."""
    return share * size if least_mm <= share * size <= _WIDER * least_mm else least_mm


def make_frame(
    part: Frame, names: Sequence[NameAsked], ground: Placed | None, face: Face | None
) -> MadeFrame:
    """A frame with its names fitted.

    Raises Problem "no-frame", "no-room", "too-many-names", "too-small", "no-edge", "crosses-edge", "weld".
    """
    form = None if ground is not None else frame_of(part.form)
    use: Use = form.uses[0] if form and len(form.uses) == 1 else "holes" if part.holes else "edges"
    feet = part.fit.feet or ("lowest" if form and form.has_initial else "baseline")
    if form and form.middle:
        times = part.values.get("middle", next(m.usual or 1.0 for m in form.measures if m.key == "middle"))
        names = [name.with_larger_middle(times) for name in names]
    if use == "holes":  # holes that run into each other would only make islands
        names = [name.as_set for name in names]
    suits = form is not None and any(m.key == "gap" for m in form.measures) and "gap" not in part.values
    made = [_natural(part, name.as_set) for name in names]
    # How a name is joined hangs on its size a little, and a gap that follows from the name on both.
    depth = part.fit.depth_mm or _DEPTHS[0] * max((name.target for name in names), default=1.0)
    follows = _Follows(depth)
    if use == "edges":
        # About how large names come out is found from letters not joined yet, which is quick.
        drawn = _own(part, ground) if ground else _drawn(part, form, names, made, feet, face, follows)
        rough = [_Fitting(part, use, feet, *pair, suits) for pair in zip(names, drawn.bands, strict=False)]
        if len(rough) == len(names):
            sizes = [f.about(m) for f, m in zip(rough, made, strict=True)]
            if all(band.alike for band in drawn.bands):
                sizes = [min(sizes)] * len(sizes) if sizes else []
            names = [name.joined_about(size) for name, size in zip(names, sizes, strict=True)]
            made = [name.made(size * name.faces.face.capital_height) for name, size in zip(
                names, sizes, strict=True)]  # fmt: skip
    for _ in range(_FRAME_ROUNDS):
        drawn = _own(part, ground) if ground else _drawn(part, form, names, made, feet, face, follows)
        if len(names) > len(drawn.bands):
            raise _too_many(len(names), len(drawn.bands))
        fittings = [_Fitting(part, use, feet, *pair, suits) for pair in zip(names, drawn.bands, strict=False)]
        if len(fittings) > 1 and all(fitting.band.alike for fitting in fittings):
            fitted = _fitted_alike(fittings)
        else:
            fitted = [fitting.fitted(m) for fitting, m in zip(fittings, made, strict=True)]
        deeper = max((one.told.depth for one in fitted), default=depth)
        fit = all(fitting.fits(one) for fitting, one in zip(fittings, fitted, strict=True))
        if fit and deeper == depth:
            break
        depth = deeper
        made = [f.name.made(o.made.capital_height) for f, o in zip(fittings, fitted, strict=True)]
        widths = tuple(ink_of(m).box.width * one.pose.size for m, one in zip(made, fitted, strict=True))
        follows = _Follows(depth, widths, follows.smaller * min(f.room(o) for f, o in zip(
            fittings, fitted, strict=True)))  # fmt: skip
    else:
        if form is not None and all(band.manner == "upright" for band in drawn.bands):
            # Joints that change with the least change of width never settle: the bars are made to suit.
            wide = tuple(one.told.band.box.width - sum(one.told.air) for one in fitted)
            drawn = _drawn(part, form, names, made, feet, face, replace(follows, widths=wide))
            fittings = [replace(f, band=band) for f, band in zip(fittings, drawn.bands, strict=True)]
            fitted = [f.again(one) for f, one in zip(fittings, fitted, strict=True)]
    for fitting, one in zip(fittings, fitted, strict=True):
        fitting.look(one)
    added = [shape for one in fitted for shape in one.added]
    bare = Solid(part.id, f"the {part.says}", weld([drawn.body, *added]) if added else drawn.body)
    members = {one.made.lettering.id: one.placed for one in fitted}
    body, others = _together(part, use, bare.body, list(members.values()))
    return MadeFrame(
        part.id, f"the {part.says}", body, others, tuple(ground.lines) if ground else (),
        {ground.id: ground, **members} if ground else members,
        () if use == "holes" else tuple(members), (), bare, tuple(one.told for one in fitted), drawn.bands,
    )  # fmt: skip


_FRAME_ROUNDS = 4

_SMALLER = 0.97
"""What is too long is made a little smaller than would just fit: joints do not shrink with letters."""

_AS_DRAWN = 0.01
"""Letters made wider by less are as they are drawn, to the eye. (†)"""


def _too_many(names: int, bands: int) -> Problem:
    places = "1 place" if bands == 1 else f"{bands} places"
    return Problem(
        "too-many-names",
        f"There are {names} names, and this frame has {places}.",
        "Take a name out, or choose a frame with more places.",
        "members",
    )


# --- the frame -------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Follows:
    """What a frame follows from its names once they were fitted: the depth that they need, how wide they are
    in mm, and how much smaller they have to be."""

    depth: float
    widths: tuple[float, ...] = ()
    smaller: float = 1.0


def _drawn(
    part: Frame, form: FrameForm | None, names: Sequence[NameAsked], natural: Sequence[MadeLettering],
    feet: Feet, face: Face | None, follows: _Follows,
) -> Drawn:  # fmt: skip
    assert form is not None
    aspects = []
    for made in natural:
        ink = ink_of(made)
        aspects.append(round(ink.box.width / (ink.lowest(feet) - ink.box.y), 4))
    text = part.text or next((initial_of(name.lettering.text) for name in names), "")
    asked = Asked(
        part.width_mm, part.height_mm, part.values, aspects, follows.widths, follows.smaller,
        part.fit.air_mm, follows.depth, part.holes,
        text or "A", face, form.measures,
    )  # fmt: skip
    key = digest(form.name, repr(replace(asked, face=None, measures=())), face.key if face else "")
    return _frames.get(key, partial(form.draw, asked))


_frames: Bounded[str, Drawn] = Bounded(
    8 * 2**20, lambda drawn: 20_000 + drawn.body.kept_bytes * (1 + len(drawn.bands))
)


def initial_of(text: str) -> str:
    """The initial of a name: its first letter, as a capital."""
    return next((sign.upper() for sign in text if sign.isalnum()), "")


def _own(part: Frame, ground: Placed) -> Drawn:
    """A frame made of another part, with the bands that were drawn on it."""
    body = body_of(ground)
    bands = []
    for own in part.bands:
        box = Box(own.x - own.width_mm / 2, own.y - own.height_mm / 2, own.width_mm, own.height_mm)
        edges = _pointed_at(body, own.edges)
        across = own.manner in ("across", "between")
        sides = opening_around(box, edges, across=True) if across else None
        rows = None if own.manner in ("across", "within") else opening_around(box, edges, across=False)
        if own.manner == "within":
            sides = shapely.box(box.x, box.y, box.right, box.bottom)
        if any(open_ is not None and open_.area < _DUST_MM2 for open_ in (sides, rows)):
            raise Problem(
                "no-open",
                "The place for the name lies on material: nothing is open there for it to run into.",
                "Move the place to where the drawing is open, or let the name touch no edge.",
                "bands",
            )
        bands.append(Band(box, own.manner, edges, sides, rows))
    if not bands:
        raise Problem("no-band", "This frame has no place for a name yet.", "Draw a band on it.", "bands")
    return Drawn(body, tuple(bands))


_DUST_MM2 = 0.1


def _pointed_at(body: Shape, edges: Sequence[int]) -> Region:
    """The material along some contours of a body; all of it where none are named. Raises Problem
    "no-edge"."""
    if not edges:
        return body.region
    contours = list(body.outline.contours())
    if max(edges) >= len(contours):
        raise Problem(
            "no-edge",
            "An edge that was pointed at is not there any more.",
            "Point at an edge again.",
            "bands",
        )
    # Material lies along a contour on one side: the pieces that have a point of it on their border.
    pieces = shapely.get_parts(body.region)
    marks = shapely.points([contours[n].points[0] for n in edges])
    near = shapely.dwithin(shapely.boundary(pieces)[:, None], marks, 2 * body.tolerance).any(axis=1)
    return polygonal(shapely.union_all(pieces[near])) if near.any() else body.region


def _together(part: Frame, use: Use, body: Shape, names: Sequence[Placed]) -> tuple[Shape, dict[str, Shape]]:
    """A frame and its names as one body; those of other films stay by themselves, laid over it."""
    if use == "holes":
        plate = without(body, [body_of(name) for name in names])
        return with_bridges(plate, max((n.made.lettering.join.neck_mm for n in names if isinstance(
            n.made, MadeLettering)), default=1.0)), {}  # fmt: skip
    film = part.film.upper()
    own = [name for name in names if name.film == film]
    others: dict[str, list[Shape]] = {}
    for name in names:
        if name.film != film:
            others.setdefault(name.film, []).append(body_of(name))
    chosen = sorted({edge for band in part.bands for edge in band.edges})
    if chosen and own:
        whole = welded_to_edges(body, [body_of(name) for name in own], chosen)
    else:
        frame = Placed(part.id, film, Solid(part.id, part.says, body), Placement(), "", "")
        whole = welded([frame, *own]) if own else body
    return whole, {colour: weld(shapes) for colour, shapes in others.items()}


# --- names -----------------------------------------------------------------------------------------------


_SMALLEST, _WIDER = 0.93, 1.25
"""Names are joined as at a size smaller by this, and with necks wider by this at most: a fit goes through a
few sizes. (†)"""

_LETTER_WIDTH = 0.62
"""About how wide a letter is in heights of a capital: only the first guess of a size hangs on it."""


def _natural(part: Frame, name: NameAsked) -> MadeLettering:
    """A name at about the size that it will have."""
    longest = max(map(len, name.lettering.text.split("\n")))
    guess = min(0.5 * part.height_mm, 0.85 * part.width_mm / (_LETTER_WIDTH * longest))
    return name.made(min(max(guess, 1.0), 1000.0))


def ink_of(made: MadeLettering) -> Ink:
    """What is seen of a name."""
    on = Placement(scale=1 / made.size)
    regions = [on.region(place.region(shape.region)) for shape, place in made.shapes]
    return Ink.of(polygonal(shapely.union_all(regions)), made.layout.baselines[-1] / made.size)


@dataclass(frozen=True, eq=False)
class _Fitted:
    """A name fitted: what it was made to, where it lies, what was added so that it holds, and what is
    told."""

    made: MadeLettering
    pose: Pose
    added: tuple[Shape, ...]
    told: FittedName

    @property
    def placed(self) -> Placed:
        lettering = self.made.lettering
        place = Placement(self.pose.x, self.pose.y, 0.0, self.pose.size / self.made.size)
        key = digest(lettering.making_key(), repr(self.made.size), self.told.key)
        return Placed(lettering.id, lettering.film.upper(), self.made, place, key, digest(key, repr(place)))


_DEPTHS = (0.6, 1.0, 1.5, 2.1)
"""How deep a name is run into an edge, in necks: the least that holds is taken. (†)"""

_ROUNDS = 4

_SAME_SIZE = 1e-4

_TOUCHING = 0.004
"""Letters nearer than this share of the size run into each other."""

_MOST_APART = 0.2
"""Letters that are cut out are spread by this share of the size at most. (†)"""

_MOST_SPREAD = 0.6
"""Letters are spread by this share of the size at most: further apart they are no word. (†)"""


@dataclass(frozen=True, eq=False)
class _Fitting:
    """A name on its way into a band. ``follows`` says that the band is drawn to suit the name, so it keeps
    its proportions; ``size`` is that of all names that are to look alike."""

    part: Frame
    use: Use
    feet: Feet
    name: NameAsked
    band: Band
    follows: bool = False
    size: float | None = None

    def fitted(self, made: MadeLettering) -> _Fitted:
        """The name at the size and place at which it holds."""
        if self.use == "letters":
            return self._shaped(made)
        if self.band.manner == "around":
            return self._around(made)
        fit, capital = self.part.fit, self.name.faces.face.capital_height
        bent, held = (1.0, 0.0), False
        depth = fit.depth_mm or _DEPTHS[0] * self.name.target
        ink = ink_of(made)
        pose = self.pose(ink, depth)
        wanted = self._bent(ink, pose, *bent)
        for _ in range(_ROUNDS):
            bent = wanted
            if pose.size * capital < _LEAST_CAPITAL_MM:
                raise self._too_small(made, pose.size * capital)
            made = self.name.made(pose.size * capital, *bent)
            ink = ink_of(made)
            if self.use == "edges" and fit.depth_mm is None:
                # Never less deep than before: else two sizes could ask for each other's depth for ever.
                least, held = self._deep_enough(made, ink)
                held = held and least >= depth
                depth = max(depth, least)
            pose = self.pose(ink, depth)
            wanted = self._bent(ink, pose, *bent)
            if (
                abs(pose.size - made.size) <= _SAME_SIZE * made.size
                and abs(wanted[0] - bent[0]) <= _SAME_SIZE
            ):
                break
        else:
            held = False
        added = self._added(made, pose, held) if self.use == "edges" else ()
        return _Fitted(made, pose, added, self._told(made, pose, ink, depth, bent[0]))

    def about(self, made: MadeLettering) -> float:
        """About the size that the name will have, told from letters that are not joined."""
        if self.band.radii is not None:
            return made.size
        least = _LEAST_CAPITAL_MM / self.name.faces.face.capital_height
        return max(self.pose(ink_of(made), _DEPTHS[0] * self.name.target).size, least)

    def again(self, one: _Fitted) -> _Fitted:
        """A name that was fitted already, in a band of another length: no larger or smaller."""
        ink, told = ink_of(one.made), one.told
        pose = self.pose(ink, told.depth)
        added = self._added(one.made, pose) if self.use == "edges" else ()
        return _Fitted(one.made, pose, added, self._told(one.made, pose, ink, told.depth, told.stretch))

    def pose(self, ink: Ink, depth: float) -> Pose:
        """Where a name lies in its band, and how large it is."""
        band, fit = self.band, self.part.fit
        if band.manner in ("upright", "stand", "within") and band.box.width <= 2 * fit.air_mm:
            raise Problem(
                "no-room",
                "The air beside the name leaves no room for it.",
                "Take less air, or make the frame wider.",
                "fit",
            )
        if band.manner in ("across", "between"):
            return across(ink, band, depth, fit.centre, self.feet)
        if band.manner == "upright":
            return upright(ink, band, depth, self.feet, fit.centre)
        if band.manner == "within":
            return within(ink, band, fit.air_mm, fit.centre)
        wide = (band.box.width - 2 * fit.air_mm) / ink.box.width
        high = (band.box.height - fit.air_mm) / (ink.lowest(self.feet) - ink.box.y)
        return standing(ink, band, self.size or min(wide, high), depth, self.feet, fit.centre)

    def _bent(self, ink: Ink, pose: Pose, stretch: float, spread: float) -> tuple[float, float]:
        """How much wider letters are to be made, and how far to be spread, so that the air is as asked, where
        they now are so."""
        band, fit = self.band, self.part.fit
        if self.use == "holes":
            return 1.0, self._apart(pose, spread)
        if band.manner != "upright" or (self.follows and not fit.spread):
            return 1.0, 0.0
        lacking = (band.box.width - 2 * fit.air_mm) / pose.size - ink.box.width
        wanted = round(float(stretch * (1 + lacking / ink.box.width)), 5)
        gaps = len(self.name.lettering.text.strip()) - 1
        if fit.spread and gaps and (wanted > 1 or spread):
            return 1.0, round(min(max(spread + lacking / gaps, 0.0), _MOST_SPREAD), 5)
        if wanted > fit.stretch and abs(stretch - 1) < 1e-9:
            return 1.0, 0.0  # a short name stays as it is drawn, with more air
        return min(fit.stretch, max(1 / fit.stretch, wanted)), 0.0

    def _apart(self, pose: Pose, spread: float) -> float:
        """How far letters are to be spread that are cut out, so that what stays between them holds; those
        that run into each other by themselves, as in a script, do."""
        made = self.name.made(pose.size * self.name.faces.face.capital_height)
        gaps = shapely.distance(made.regions[:-1], made.regions[1:]) / made.size
        lacking = [self.name.target / pose.size - gap for gap in gaps.tolist() if gap > _TOUCHING]
        return round(min(max(0.0, *lacking, 0.0), _MOST_APART), 5) if lacking else spread

    # --- how it holds ---

    def _letters(self, made: MadeLettering) -> list[Body]:
        """Its letters in shares of the size, with what is known of their strength."""
        found = []
        for p in made.layout.letters:
            turn = p.place.turn
            key = f"{p.form.outline.digest} {turn}"
            body = _bodies.get(key, partial(_turned_body, p.form.region, turn))
            found.append(body.moved(p.place.x / made.size, p.place.y / made.size))
        return found

    def _edges(self, pose: Pose) -> list[Edge]:
        """The edges of the band in shares of the size, seen from where the name lies."""
        on = Placement(pose.x, pose.y, 0.0, pose.size)
        given = self.band.gives(self.name.target)
        return [
            Edge(on.region_back(piece), gives / pose.size)
            for piece, gives in zip(self.band.pieces, given, strict=True)
        ]

    def _deep_enough(self, made: MadeLettering, ink: Ink) -> tuple[float, bool]:
        """The least depth at which all letters that meet edges hold there; the one where most do, if there is
        none. And whether all hold."""
        letters, best, low = self._letters(made), (-1.0, 0.0), ink.lowest(self.feet)
        for share in _DEPTHS:
            depth = share * self.name.target
            pose = self.pose(ink, depth)
            if best[0] >= 0 and self.band.pierced(pose.points(ink)[ink.points[:, 1] <= low]):
                break
            met = [c.holds for c in contacts(letters, self._edges(pose), self.name.target / pose.size)]
            if met and all(met):
                return depth, True
            holding = sum(met) / len(met) if met else 0.0
            if holding > best[0]:
                best = (holding, depth)
        return best[1], False

    def _added(self, made: MadeLettering, pose: Pose, held: bool = False) -> tuple[Shape, ...]:
        """What makes letters hold at edges, where they are not ``held``, and ties to the frame what is not in
        one with it."""
        target, edges = self.name.target / pose.size, self._edges(pose)
        found = []
        for contact in () if held else contacts(self._letters(made), edges, target):
            more = None if contact.holds else contact.strengthened()
            found += [more] if more is not None else []
        if self.part.fit.reach and self.band.manner in ("upright", "stand", "between"):
            found += reached_down(self._letters(made), edges, target)
        on = Placement(scale=1 / made.size)
        seen = [on.region(place.region(shape.region)) for shape, place in made.shapes]
        seen += [region for _, region in found]
        if self.name.lettering.join.marks is not MarkWay.KEEP or not made.loose_marks:
            found += ties(seen, polygonal(shapely.union_all([edge.region for edge in edges])), target)
        where = Placement(pose.x, pose.y, 0.0, pose.size)
        return tuple(clean(where.outline(outline), FLATNESS_MM) for outline, _ in found)

    def look(self, one: _Fitted) -> None:
        """Raises Problem "too-small" or "too-long" where the name does not fit."""
        pose, made = one.pose, one.made
        capital = pose.size * self.name.faces.face.capital_height
        if capital < SMALLEST_CAPITAL_MM:
            raise self._too_small(made, capital)
        if self._beyond(one) > _AIR_MM and self.band.radii is not None:
            raise Problem(
                "too-long",
                f"{_shown(made)} is {show_length(self._beyond(one))} too long for its part of a ring.",
                "Make the words lower or the ring larger, or take a narrower face.",
                "members",
            )
        if self.band.manner != "upright":
            return
        beyond = 2 * self.part.fit.air_mm - sum(one.told.air)
        if beyond > 2 * _AIR_MM:
            raise Problem(
                "too-long",
                f"{_shown(made)} is {show_length(beyond)} too long for its band, with its letters made "
                f"{round(100 - 100 / self.part.fit.stretch)} % narrower.",
                "Let the gap follow the name, take less air or a narrower face, or make the frame wider.",
                "members",
            )

    def _beyond(self, one: _Fitted) -> float:
        """How much longer a name is than its part of the ring that it goes around, in mm."""
        if self.band.radii is None:
            return 0.0
        inner, outer, _ = self.band.radii
        part = math.pi * (outer + inner) / max(1, min(2, len(self.part.members)))
        length = max(length_along(one.made.layout, p.line) for p in one.made.layout.letters)
        return length + 2 * self.part.fit.air_mm - part

    def room(self, one: _Fitted) -> float:
        """How many times as large a name may be that is too long for its part of a ring; 1 where it fits."""
        beyond = self._beyond(one)
        if beyond <= 0:
            return 1.0
        length = max(length_along(one.made.layout, p.line) for p in one.made.layout.letters)
        return max(0.3, (length - beyond) / length * _SMALLER)

    def fits(self, one: _Fitted) -> bool:
        """Whether a name is as it is drawn, and has the room that it needs."""
        short = 2 * self.part.fit.air_mm - sum(one.told.air) if self.band.manner == "upright" else 0.0
        return abs(one.told.stretch - 1) < _AS_DRAWN and short <= _AIR_MM and self._beyond(one) <= 0

    def _too_small(self, made: MadeLettering, capital: float) -> Problem:
        wider = self.part.width_mm * SMALLEST_CAPITAL_MM / max(capital, 0.1)
        high = show_length(max(capital, 0.0))
        return Problem(
            "too-small",
            f"{_shown(made)} would be {high} high in this {self.part.says}: too small to cut.",
            f"Make the frame {show_length(math.ceil(wider))} wide, set the name on two lines, shorten it, or "
            "take a narrower face.",
            "members",
        )

    def _told(self, made: MadeLettering, pose: Pose, ink: Ink, depth: float, stretch: float) -> FittedName:
        left = pose.x + ink.box.x * pose.size - self.band.box.x
        right = self.band.box.right - (pose.x + ink.box.right * pose.size)
        runs_in = self.band.manner in ("across", "between", "around")
        air = (-depth, -depth) if runs_in else (float(left), float(right))
        return FittedName(made.lettering.id, self.band, air, depth, stretch)

    def _around(self, made: MadeLettering) -> _Fitted:
        """A name along a ring: its feet in one edge, its tops in the other."""
        assert self.band.radii is not None
        inner, outer, is_held = self.band.radii
        bottom = self.band.bottom
        depth = self.part.fit.depth_mm or _DEPTHS[0] * self.name.target
        own = self.name.lettering.course or Course()
        course = replace(
            own, kind="circle", diameter_mm=2 * (outer if bottom else inner), stands=True, distance_mm=0.0,
            side="inside" if bottom else "outside", reading="inward" if bottom else "outward",
            place=own.place + (180.0 if bottom else 0.0),
        )  # fmt: skip
        wanted = outer - inner + (depth if is_held else 0.0)
        capitals = wanted + depth
        for _ in range(_ROUNDS):
            # How letters are joined does not matter for how far they reach.
            made = self.name.as_set.made(capitals, course=course)
            r = np.hypot(*shapely.get_coordinates(shapely.union_all(made.regions)).T)
            reached = outer - float(r.min()) if bottom else float(r.max()) - inner
            if abs(reached - wanted) <= 0.02 or reached <= 0:
                break
            capitals *= (wanted + depth) / (reached + depth)
        made = self.name.made(capitals, course=course)
        pose = Pose(made.size, 0.0, 0.0)
        added = self._added(made, pose)
        told = FittedName(made.lettering.id, self.band, (-depth, -depth), depth, 1.0)
        return _Fitted(made, pose, added, told)

    def _shaped(self, made: MadeLettering) -> _Fitted:
        """Letters shaped to fill a disc, with their tops and feet in its ring."""
        depth = self.part.fit.depth_mm or _DEPTHS[1] * self.name.target
        letters = made.layout.letters
        if len(letters) > MOST_SHAPED:
            raise Problem(
                "too-many-letters",
                f"There are {len(letters)} letters, and a round monogram has up to {MOST_SHAPED}.",
                "Type two or three initials.",
                "members",
            )
        radius = self.band.box.width / 2 + depth
        places = cells(len(letters), radius, self.part.values.get("middle", 0.42), self.part.fit.air_mm / 2)
        bends = [
            IntoDisc(letter.letter.drawn.box, radius, *place)
            for letter, place in zip(letters, places, strict=True)
        ]
        made = made.shaped([
            bent_shape(letter.letter.drawn, bend, SHAPED_TO_MM)
            for letter, bend in zip(letters, bends, strict=True)
        ])  # fmt: skip
        pose = Pose(made.size, 0.0, 0.0)
        ink = ink_of(made)
        return _Fitted(made, pose, self._added(made, pose), self._told(made, pose, ink, depth, 1.0))


def _shown(made: MadeLettering) -> str:
    """A name as it is named to a maker."""
    text = made.lettering.text.replace("\n", " ")
    return f"“{text if len(text) <= 24 else text[:23] + '…'}”"


def _turned_body(region: Region, turn: float) -> Body:
    return Body(Placement(turn=turn).region(region) if turn else region)


_bodies: Bounded[str, Body] = Bounded(8 * 2**20)


def _fitted_alike(fittings: Sequence[_Fitting]) -> list[_Fitted]:
    """Names of one size in their bands: that of the one with the least room. It is found from letters that
    are not joined yet, which is quick, and mended once they are."""
    rough = [_natural(f.part, f.name.as_set) for f in fittings]
    deep = _DEPTHS[0] * fittings[0].name.target
    size = min(f.pose(ink_of(made), deep).size for f, made in zip(fittings, rough, strict=True))
    for _ in range(_ROUNDS):
        fitted = [replace(f, size=size).fitted(made) for f, made in zip(fittings, rough, strict=True)]
        least = min(f.pose(ink_of(one.made), deep).size for f, one in zip(fittings, fitted, strict=True))
        if least >= size * (1 - _SAME_SIZE):
            break
        size = least
    return fitted


_AIR_MM = 0.1
"""Air that lacks no more than this is as asked."""

MOST_SHAPED = 5

SHAPED_TO_MM = 0.01
"""Shaped letters are true to the disc they fill by this."""
