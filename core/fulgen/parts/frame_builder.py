"""Frames built: their material and bands, with the names fitted into them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import shapely

from fulgen.framing.bands import Band, opening_around
from fulgen.framing.fit_solver import Feet
from fulgen.framing.frames import FRAMES, FormRequest, FrameDrawing, FrameForm, Use, frame_of
from fulgen.framing.islands import with_bridges
from fulgen.geometry.measure import Box
from fulgen.geometry.operations import subtract
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import Region, count, polygonal
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import weld
from fulgen.lettering.faces import Face
from fulgen.lettering.setting import Faces
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.combination import BuiltCombination, welded_to_edges
from fulgen.parts.frame import Frame
from fulgen.parts.frame_fitting import (
    DEPTHS,
    Fitted,
    FittedName,
    Fitting,
    NameRequest,
    fitted_alike,
    ink_of,
    natural,
)
from fulgen.parts.kind import Surroundings
from fulgen.parts.lettering import Lettering
from fulgen.parts.lettering_input import own_bars
from fulgen.parts.welding import body_of, marks_of, welded
from fulgen.problem import Problem
from fulgen.steps import Step, key_of
from fulgen.units import counted


@dataclass(frozen=True, eq=False)
class BuiltFrame(BuiltCombination):
    """What a frame comes to: with what it is without its names, and how they are fitted. falls_apart: some of
    it hung together by what is cut from another film."""

    bare: BuiltSolid | None = None
    fitted: tuple[FittedName, ...] = ()
    bands: tuple[Band, ...] = ()
    ground: PlacedPart | None = None

    falls_apart: bool = False

    @property
    def unmet(self) -> Sequence[Problem]:
        own = [_FALLS_APART.fresh()] if self.falls_apart else []
        return [*own, *(problem for name in self.fitted for problem in name.unmet)]

    def stood(self, part: PlacedPart) -> Iterator[PlacedPart]:
        """The frame without its names, and the names."""
        if self.bare is not None and self.standing:
            bare_key = key_of((part.build_key, "bare"))
            yield replace(part, built=self.bare, build_key=bare_key, key=key_of((bare_key, part.place)))
        yield from super().stood(part)


@dataclass(frozen=True)
class FrameRequest:
    """All that a frame is built from: what is asked of it, its names, the drawing that it is made of and that
    one's film, and the face of its initial, where it has such."""

    part: Frame
    names: tuple[NameRequest, ...]
    ground: PlacedPart | None
    ground_film: str | None
    face: Face | None


def gather_frame(part: Frame, around: Surroundings) -> FrameRequest:
    """Names that are empty or hidden are left out. Raises Problem where a face is not there."""
    names = tuple(
        NameRequest(
            name.build_input(),
            Faces.of(name, around.faces),
            own_bars(name, around),
            around.limits.weedable,
            name.film,
        )
        for name in map(around.part, part.members)
        if isinstance(name, Lettering) and not name.hidden and name.text.strip()
    )
    has_initial = part.form in FRAMES and FRAMES[part.form].has_initial
    ground = around.built(part.ground) if part.ground else None
    ground_film = ground.film if ground else None
    face = around.faces(part.face) if has_initial else None
    return FrameRequest(part.build_input(), names, ground, ground_film, face)


def build_frame(asked: FrameRequest) -> BuiltFrame:
    """A frame with its names fitted.

    Raises Problem "no-frame", "no-ground", "no-room", "too-many-names", "too-small", "no-edge",
    "crosses-edge", "weld".
    """
    part, ground, face = asked.part, asked.ground, asked.face
    names: Sequence[NameRequest] = asked.names
    if part.form == "own" and ground is None:
        raise Problem(
            "no-ground",
            "This frame is made of a drawing, and has none.",
            "Take it off, and make a frame of a drawing again.",
            "ground",
        )
    form = None if ground is not None else frame_of(part.form)
    if form and form.middle:
        times = part.values.get("middle", next(m.default or 1.0 for m in form.measures if m.key == "middle"))
        names = [name.with_larger_middle(times) for name in names]
    framing = _Framing(part, form, ground, face)
    if framing.use == "holes":  # holes that run into each other would only make islands
        names = [name.as_set for name in names]
    drawn, fitted = framing.fitted(names)
    added = [shape for one in fitted for shape in one.added]
    bare = BuiltSolid(
        part.id, f"the {part.display_name}", weld([drawn.body, *added]) if added else drawn.body
    )
    key, films = key_of(asked), {name.lettering.id: name.film for name in names}
    members = {id_: one.placed(films[id_], key) for one in fitted for id_ in (one.built.lettering.id,)}
    body, others = _together(part, framing.use, bare.body, list(members.values()))
    whole = count(body.region)[0]
    if ground is not None:
        body, others = _in_colours(ground, framing.use, body, others, list(members.values()), part.film)
    return BuiltFrame(
        part.id, f"the {part.display_name}", body, others, marks_of(ground, whole=False) if ground else (),
        {ground.id: ground, **members} if ground else members,
        () if framing.use == "holes" else tuple(members), (), bare,
        tuple(one.outcome for one in fitted), drawn.bands, ground, count(body.region)[0] > whole,
    )  # fmt: skip


_FALLS_APART = Problem(
    "colours-apart",
    "Some of the frame hangs together only by a part of another colour, and films do not hold each other.",
    "Move the place for the name, or give that part of the drawing the colour of the frame.",
    "film",
)


def _in_colours(
    ground: PlacedPart,
    use: Use,
    body: Shape,
    others: dict[str, Shape],
    names: Sequence[PlacedPart],
    film: str,
) -> tuple[Shape, dict[str, Shape]]:
    """A frame of a drawing in several colours: what is of another than the drawing's own stays a film of its
    own, and the rest of the frame is without it. Names are whole."""
    layers = [layer for layer in ground.in_films if layer.film != ground.film]
    if not layers:
        return body, others
    coloured = {layer.film: welded([layer]) for layer in layers}
    own = [welded([layer]) for layer in ground.in_films if layer.film == ground.film]
    alone = subtract(weld(list(coloured.values())), own)
    body = subtract(body, [alone])
    if use != "holes":
        body = weld([body, *(body_of(name) for name in names if name.film == film.upper())])
    laid = {colour: weld([shape, *([others[colour]] if colour in others else [])])
            for colour, shape in coloured.items()}  # fmt: skip
    return body, others | laid


@dataclass(frozen=True)
class _Follows:
    """What a frame follows from its names once they were fitted: the depth that they need, how wide they are
    in mm, and how much smaller they have to be."""

    depth: float
    widths: tuple[float, ...] = ()
    smaller: float = 1.0


@dataclass(frozen=True, eq=False)
class _Framing:
    """A frame and its names on their way to suit each other: names are fitted into the bands of the frame,
    and its gaps may follow from the names."""

    part: Frame
    form: FrameForm | None
    ground: PlacedPart | None
    face: Face | None

    @property
    def use(self) -> Use:
        if self.form and len(self.form.uses) == 1:
            return self.form.uses[0]
        return "holes" if self.part.holes else "edges"

    @property
    def feet(self) -> Feet:
        return self.part.fit.feet or ("lowest" if self.form and self.form.has_initial else "baseline")

    @property
    def suits(self) -> bool:
        """Whether the gap is drawn to suit the names."""
        has_gap = self.form is not None and any(m.key == "gap" for m in self.form.measures)
        return has_gap and "gap" not in self.part.values

    def fitted(self, names: Sequence[NameRequest]) -> tuple[FrameDrawing, list[Fitted]]:
        """The frame as it is drawn in the end, and the names in its bands."""
        part, built = self.part, [natural(self.part, name.as_set) for name in names]
        # How a name is joined hangs on its size a little, and a gap that follows from the name on both.
        follows = _Follows(part.fit.depth_mm or DEPTHS[0] * max((n.target for n in names), default=1.0))
        if self.use == "edges":
            names, built = self._joined_about(names, built, follows)
        for _ in range(_FRAME_ROUNDS):
            drawn = self._drawn(names, built, follows)
            fittings = self._fittings(names, drawn)
            if len(fittings) > 1 and all(fitting.band.alike for fitting in fittings):
                fitted = fitted_alike(fittings)
            else:
                fitted = [fitting.fitted(m) for fitting, m in zip(fittings, built, strict=True)]
            pairs = list(zip(fittings, fitted, strict=True))
            deeper = max((one.outcome.depth for one in fitted), default=follows.depth)
            if deeper == follows.depth and all(fitting.fits(one) for fitting, one in pairs):
                break
            built = [fitting.name.built(one.built.capital_height) for fitting, one in pairs]
            widths = (ink_of(m).box.width * one.pose.size for m, one in zip(built, fitted, strict=True))
            smaller = follows.smaller * min(fitting.room(one) for fitting, one in pairs)
            follows = _Follows(deeper, tuple(widths), smaller)
        else:
            if self.form is not None and all(band.manner == "upright" for band in drawn.bands):
                # Joints that change with the least change of width never settle: the bars are made to suit.
                wide = tuple(one.outcome.band.box.width - sum(one.outcome.air) for one in fitted)
                drawn = self._drawn(names, built, replace(follows, widths=wide))
                fittings = self._fittings(names, drawn)
                fitted = [f.again(one) for f, one in zip(fittings, fitted, strict=True)]
        for fitting, one in zip(fittings, fitted, strict=True):
            fitting.look(one)
        return drawn, fitted

    def _joined_about(
        self, names: Sequence[NameRequest], built: Sequence[BuiltLettering], follows: _Follows
    ) -> tuple[list[NameRequest], list[BuiltLettering]]:
        """Names joined at about the sizes that they will have, which is found from letters that are not
        joined: that is quick."""
        drawn = self._drawn(names, built, follows)
        sizes = [f.about(m) for f, m in zip(self._fittings(names, drawn), built, strict=True)]
        if sizes and all(band.alike for band in drawn.bands):
            sizes = [min(sizes)] * len(sizes)
        joined = [name.joined_about(size) for name, size in zip(names, sizes, strict=True)]
        return joined, [
            name.built(size * name.faces.face.capital_height)
            for name, size in zip(joined, sizes, strict=True)
        ]  # fmt: skip

    def _fittings(self, names: Sequence[NameRequest], drawn: FrameDrawing) -> list[Fitting]:
        if len(names) > len(drawn.bands):
            raise _too_many(len(names), len(drawn.bands))
        return [
            Fitting(self.part, self.use, self.feet, name, band, self.suits)
            for name, band in zip(names, drawn.bands, strict=False)
        ]

    def _drawn(
        self, names: Sequence[NameRequest], built: Sequence[BuiltLettering], follows: _Follows
    ) -> FrameDrawing:
        """The frame for names of such proportions."""
        part, form = self.part, self.form
        if form is None:
            assert self.ground is not None
            return _own(part, self.ground)
        inks = [ink_of(one) for one in built]
        aspects = [round(ink.box.width / (ink.lowest(self.feet) - ink.box.y), 4) for ink in inks]
        text = part.text or next((initial_of(name.lettering.text) for name in names), "")
        asked = FormRequest(
            part.width_mm, part.height_mm, part.values, aspects, follows.widths, follows.smaller,
            part.fit.air_mm, follows.depth, part.holes,
            text or "A", self.face, form.measures,
        )  # fmt: skip
        return _frames((form.name, asked))


_FRAME_ROUNDS = 4


def _too_many(names: int, bands: int) -> Problem:
    places = counted(bands, "place")
    return Problem(
        "too-many-names",
        f"There are {names} names, and this frame has {places}.",
        "Take a name out, or choose a frame with more places.",
        "members",
    )


_frames: Step[tuple[str, FormRequest], FrameDrawing] = Step(
    lambda given: frame_of(given[0]).draw(given[1]),
    8 * 2**20,
    lambda drawn: 20_000 + drawn.body.kept_bytes * (1 + len(drawn.bands)),
)


def initial_of(text: str) -> str:
    """The initial of a name: its first letter, as a capital."""
    return next((sign.upper() for sign in text if sign.isalnum()), "")


def _own(part: Frame, ground: PlacedPart) -> FrameDrawing:
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
    return FrameDrawing(body, tuple(bands))


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


def _together(
    part: Frame, use: Use, body: Shape, names: Sequence[PlacedPart]
) -> tuple[Shape, dict[str, Shape]]:
    """A frame and its names as one body; those of other films stay by themselves, laid over it."""
    if use == "holes":
        plate = subtract(body, [body_of(name) for name in names])
        return with_bridges(plate, max((n.built.lettering.join.neck_mm for n in names if isinstance(
            n.built, BuiltLettering)), default=1.0)), {}  # fmt: skip
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
        frame = PlacedPart(part.id, film, BuiltSolid(part.id, part.display_name, body), Placement(), "", "")
        whole = welded([frame, *own]) if own else body
    return whole, {colour: weld(shapes) for colour, shapes in others.items()}
