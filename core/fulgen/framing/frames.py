"""Frames: the library. Each is drawn from a few measures, with the bands that it offers; all were drawn for
Fulgen.

A frame is drawn around 0, 0 in mm, y down. Measures are mm; those that are not set follow from the size of
the frame, or from the name (a gap that suits its proportions).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from fulgen.framing.bands import Band, gap, strip
from fulgen.framing.initials import bar, initial, split
from fulgen.geometry.measure import Box
from fulgen.geometry.offset import offset
from fulgen.geometry.operations import subtract
from fulgen.geometry.outline import Outline
from fulgen.geometry.polygons import Region
from fulgen.geometry.shape import FLATNESS_MM, Shape
from fulgen.geometry.shape_library import LIBRARY_SHAPES, annulus, disc, ellipse, rectangle
from fulgen.geometry.weld import clean, weld
from fulgen.lettering.faces import Face
from fulgen.problem import Problem
from fulgen.units import show_length

Use = Literal["edges", "holes", "letters"]
"""What becomes of a name: it runs into edges, it is cut out as holes, or its letters are shaped to fill."""


_DUST = 1e-6


@dataclass(frozen=True)
class Measure:
    """What can be set of a frame: its name in the recipe, in words, and its bounds. A length is in mm,
    its bounds as shares of the frame's larger measure; one without a usual value follows from the name."""

    key: str
    label: str
    kind: Literal["length", "count", "share"]
    low: float
    high: float
    default: float | None


@dataclass(frozen=True, eq=False)
class FormRequest:
    """What is asked of a frame: how wide and high it is, measures that are set, how wide each name is in
    heights from its tops to where it stands and, once that is known, in mm, how much smaller names are to be
    than they would fit by these (1: not), the air beside them and the depth they need in edges, and the
    letters of its own with their face."""

    width: float
    height: float
    given: Mapping[str, float]
    names: Sequence[float]
    widths: Sequence[float] = ()
    smaller: float = 1.0
    air: float = 3.0
    depth: float = 1.0
    holes: bool = False
    text: str = ""
    face: Face | None = None
    measures: Sequence[Measure] = ()

    @property
    def larger(self) -> float:
        return max(self.width, self.height)

    def __getitem__(self, key: str) -> float:
        """A measure: as set, or as usual. Raises Problem "no-room" where it is out of its bounds."""
        measure = next(m for m in self.measures if m.key == key)
        is_length = measure.kind == "length"
        unit = self.larger if is_length else 1.0
        value = self.given.get(key, (measure.default or 0.0) * unit)
        low, high = measure.low * unit, measure.high * unit
        if not low - _DUST <= value <= high + _DUST:
            shown: Callable[[float], str] = show_length if is_length else "{:g}".format
            raise _no_room(
                f"“{measure.label}” is {shown(value)}; in a frame {show_length(self.larger)} across it can "
                f"be {shown(low)} to {shown(high)}.",
                "Choose a value between these, or another size of the frame.",
            )
        return value

    def is_set(self, key: str) -> bool:
        return key in self.given

    def letters(self, height: float) -> Shape:
        """The letters of its own, so high."""
        assert self.face is not None
        return initial(self.text, self.face, height)


@dataclass(frozen=True, eq=False)
class FrameDrawing:
    """A frame as drawn: its body, and its bands."""

    body: Shape
    bands: tuple[Band, ...]


@dataclass(frozen=True, eq=False)
class FrameForm:
    """A frame of the library: its name, what it is for in a few words, its usual width to height, what
    becomes of names (the usual first), how many it takes at most, whether it has letters of its own, and how
    it is drawn."""

    name: str
    description: str
    ratio: float
    uses: tuple[Use, ...]
    draw: Callable[[FormRequest], FrameDrawing]
    measures: tuple[Measure, ...]
    most_names: int = 1
    has_initial: bool = False

    @property
    def middle(self) -> bool:
        """Whether the middle one of its letters is larger."""
        return "edges" in self.uses and any(measure.key == "middle" for measure in self.measures)


def _clean(*outlines: Outline) -> Shape:
    return clean(Outline.joined(outlines), FLATNESS_MM)


_TRUE_MM = 0.005
"""Openings are true to this: depths are measured from them."""


def _opening(inner: Shape) -> Region:
    return inner.refined(_TRUE_MM).region


def _no_room(what: str, todo: str) -> Problem:
    return Problem("no-room", what, todo, "values")


def _open_plate(plate: Shape, inner: Shape, where: Box | None = None) -> FrameDrawing:
    """A plate opened up but for its rim: a name runs into it at both sides."""
    if not inner or min(inner.box.width, inner.box.height) < 1.0:
        raise _no_room(
            "The rim leaves nothing open for a name.", "Make the rim thinner, or the frame larger."
        )
    body = subtract(plate, [inner])
    band = Band(where or inner.box, "across", body.region, sides=_opening(inner))
    return FrameDrawing(body, (band,))


def _solid_plate(plate: Shape, inner: Shape, where: Box | None = None) -> FrameDrawing:
    """A plate from which a name is cut out, with air to its rim."""
    if not inner:
        raise _no_room("The rim leaves no place for a name.", "Make the rim thinner, or the frame larger.")
    return FrameDrawing(plate, (Band(where or inner.box, "within", plate.region, sides=_opening(inner)),))


def _plate(asked: FormRequest, plate: Shape, inner: Shape, where: Box | None = None) -> FrameDrawing:
    return _solid_plate(plate, inner, where) if asked.holes else _open_plate(plate, inner, where)


# --- rings and plates ------------------------------------------------------------------------------------


def _loop(asked: FormRequest, top: float) -> list[Outline]:
    """A hanging loop on the highest point of a frame: an eye for a cord. Its hole stays clear of the rim."""
    cord, wall = asked["cord"], asked["loop"]
    if cord <= 0:
        return []
    return [annulus(0.0, top - cord / 2 - 0.2 * wall, (cord + wall) / 2, wall)]


def _ring(asked: FormRequest) -> FrameDrawing:
    radius, rim = asked.width / 2, asked["rim"]
    body = weld([_clean(annulus(0, 0, radius - rim / 2, rim)), *map(_clean, _loop(asked, -radius))])
    inner = clean(disc(0, 0, radius - rim), FLATNESS_MM)
    return FrameDrawing(body, (Band(inner.box, "across", body.region, sides=_opening(inner)),))


def _double_ring(asked: FormRequest) -> FrameDrawing:
    radius, rim, space, count = asked.width / 2, asked["rim"], asked["space"], round(asked["spokes"])
    inside = radius - rim - space - rim
    if inside < 2.0:
        raise _no_room(
            "The two rings leave nothing open for a name.", "Make them thinner, or the frame larger."
        )
    rings = [_clean(annulus(0, 0, r - rim / 2, rim)) for r in (radius, radius - rim - space)]
    reach = space + rim
    spokes = []
    for n in range(count):
        turn = 2 * math.pi * (n + 0.5) / count
        at = radius - rim - space / 2
        spoke = clean(rectangle(rim, reach), FLATNESS_MM).turned(math.degrees(turn) + 90)
        spokes.append(spoke.placed(at * math.cos(turn), at * math.sin(turn)))
    body = weld([*rings, *spokes, *map(_clean, _loop(asked, -radius))])
    inner = clean(disc(0, 0, inside), FLATNESS_MM)
    return FrameDrawing(body, (Band(inner.box, "across", body.region, sides=_opening(inner)),))


def _word_ring(asked: FormRequest) -> FrameDrawing:
    radius, rim = asked.width / 2, asked["rim"]
    two = asked["outer"] >= 0.5
    outer = radius - rim if two else radius
    space = _space_for(asked, outer)
    inner = outer - space
    if inner - rim < 1.0:
        raise _no_room("The ring is too small for its words.", "Make it larger, or the words lower.")
    rings = [_clean(annulus(0, 0, inner - rim / 2, rim))]
    if two:
        rings += [_clean(annulus(0, 0, radius - rim / 2, rim)), *map(_clean, _loop(asked, -radius))]
        count = round(asked["spokes"])
        for n in range(count):
            # Spokes stand where no words are: at the left and right between two, at the bottom under one.
            both = len(asked.names) > 1
            turn = 2 * math.pi * n / count if both else math.pi / 2 + (n - (count - 1) / 2) * math.pi / 4
            spoke = clean(rectangle(rim, space + rim), FLATNESS_MM).turned(math.degrees(turn) + 90)
            at = inner + space / 2
            rings.append(spoke.placed(at * math.cos(turn), at * math.sin(turn)))
    body = weld(rings)
    box = Box(-outer, -outer, 2 * outer, 2 * outer)
    # A second name reads along the bottom; there its feet are outside.
    bands = [
        Band(box, "around", body.region, radii=(inner, outer, two), bottom=bottom)
        for bottom in ((False, True) if two else (False,))
    ]
    return FrameDrawing(body, tuple(bands))


_HIGHEST = 0.2
"""Words around a ring are no higher than this share of it, unless that is set. (†)"""

_FILLED = 0.9
"""Words fill this share of their part of a ring, for letters turned against each other take more room. (†)"""


def _space_for(asked: FormRequest, outer: float) -> float:
    """How high words are between two rings: as set, or so that all fit along the middle between them."""
    if asked.is_set("space"):
        return asked["space"]
    measure = next(m for m in asked.measures if m.key == "space")
    part = 2 * math.pi * _FILLED / max(1, len(asked.names))
    # A word of an aspect a and a height h is a · h long; its part of the middle is part · (outer - h / 2).
    fits = [(part * outer - 2 * asked.air) / (aspect + part / 2) for aspect in asked.names]
    high = asked.smaller * min(fits, default=math.inf)
    return min(_HIGHEST * asked.larger, max(measure.low * asked.larger, high))


def _oval(asked: FormRequest) -> FrameDrawing:
    x, y, rim = asked.width / 2, asked.height / 2, asked["rim"]
    if min(x, y) - rim < 0.5:
        raise _no_room(
            "The rim leaves nothing open for a name.", "Make the rim thinner, or the frame larger."
        )
    return _plate(asked, _clean(ellipse(0, 0, x, y)), _clean(ellipse(0, 0, x - rim, y - rim)))


def _shield(asked: FormRequest) -> FrameDrawing:
    plate = _clean(LIBRARY_SHAPES["shield"].drawn(asked.width, asked.height, {}))
    inner = offset(plate, -asked["rim"])
    box = inner.box if inner else plate.box
    return _plate(asked, plate, inner, Box(box.x, box.y, box.width, 0.72 * box.height))


def _banner(asked: FormRequest) -> FrameDrawing:
    w, h, rim = asked.width, asked.height, asked["rim"]
    plate = _clean(LIBRARY_SHAPES["banner"].drawn(w, h, {}))
    # The panel in front of the tails, as the form draws it.
    panel = Box(-w / 2 + 0.14 * w, -h / 2, 0.72 * w, 0.78 * h)
    room = Box(panel.x + rim, panel.y + rim, panel.width - 2 * rim, panel.height - 2 * rim)
    if min(room.width, room.height) < 1.0:
        raise _no_room(
            "The rim leaves nothing open for a name.", "Make the rim thinner, or the banner larger."
        )
    return _plate(asked, plate, bar(room, min(room.height, room.width) * 0.08))


def _key_tag(asked: FormRequest) -> FrameDrawing:
    w, h, rim, cord = asked.width, asked.height, asked["rim"], asked["cord"]
    corner = asked["corner"]
    eye = cord + 2 * rim
    room = Box(-w / 2 + eye, -h / 2 + rim, w - eye - rim, h - 2 * rim)
    if min(room.width, room.height) < 2.0:
        raise _no_room("Rim and hole leave nothing open for a name.", "Make them smaller, or the tag larger.")
    plate = _clean(rectangle(w, h, corner))
    plate = subtract(plate, [_clean(disc(-w / 2 + rim + cord / 2, 0, cord / 2))])
    return _plate(asked, plate, bar(room, max(0.0, corner - rim)))


def _stencil(asked: FormRequest) -> FrameDrawing:
    w, h, rim = asked.width, asked.height, asked["rim"]
    room = Box(-w / 2 + rim, -h / 2 + rim, w - 2 * rim, h - 2 * rim)
    if min(room.width, room.height) < 2.0:
        raise _no_room("The rim leaves no place for a name.", "Make the rim thinner, or the plate larger.")
    return _solid_plate(_clean(rectangle(w, h, asked["corner"])), bar(room))


# --- bars and posts --------------------------------------------------------------------------------------


def _standing(box: Box, body: Shape, *, alike: bool = False) -> Band:
    """A band whose name stands on what is below it."""
    return Band(box, "stand", body.region, rows=strip(-1e4, box.bottom), alike=alike)


def _on_bar(asked: FormRequest) -> FrameDrawing:
    w, thick = asked.width, asked["bar"]
    # As wide as the bar, the word is as high as it comes out.
    height = (w / asked.names[0] if asked.names else asked.height - thick) + asked.air
    body = bar(Box(-w / 2, 0.0, w, thick), thick / 2 * asked["round"])
    return FrameDrawing(body, (_standing(Box(-w / 2, -height, w, height), body),))


def _between_lines(asked: FormRequest) -> FrameDrawing:
    w, thick = asked.width, asked["bar"]
    open_ = _gap_for(asked, w, 0.9 * asked.larger, asked.depth)
    length = _length_for(asked, w, open_, asked.depth)
    y = open_ / 2
    radius = thick / 2 * asked["round"]
    body = weld([bar(Box(-length / 2, at, length, thick), radius) for at in (-y - thick, y)])
    band = Band(Box(-length / 2, -y, length, open_), "upright", body.region, rows=strip(-y, y))
    return FrameDrawing(body, (band,))


def _gap_for(asked: FormRequest, length: float, most: float, beyond: float) -> float:
    """How far apart two edges are: as set, or so that the name fits a length with its air, as it is drawn,
    and goes ``beyond`` what is open at both of them."""
    if asked.is_set("gap"):
        return asked["gap"]
    suits = (length - 2 * asked.air) / asked.names[0] - 2 * beyond if asked.names else most
    measure = next(m for m in asked.measures if m.key == "gap")
    return min(most, max(measure.low * asked.larger, suits))


def _length_for(asked: FormRequest, length: float, open_: float, beyond: float) -> float:
    """How long bars are: as long as the frame is wide, or longer where a name is that has set the gap."""
    if not asked.names or asked.is_set("gap"):
        return length
    wide = asked.widths[0] if asked.widths else asked.names[0] * (open_ + 2 * beyond)
    if wide + 2 * asked.air > _LONGEST * length:
        raise Problem(
            "too-long",
            f"The name is so long that the frame would be {show_length(wide + 2 * asked.air)} wide.",
            "Make the frame wider or its gap smaller, set the name on two lines, or take a narrower face.",
            "members",
        )
    return max(length, wide + 2 * asked.air)


_LONGEST = 2.5
"""A name makes its frame so many times as wide as asked at most. (†)"""


def _gate(asked: FormRequest) -> FrameDrawing:
    w, h, post, rail = asked.width, asked.height, asked["post"], asked["rail"]
    x, y = w / 2, h / 2
    if w - 2 * post < 2.0 or h - rail < 2.0:
        raise _no_room(
            "Posts and rail leave nothing open for a name.", "Make them thinner, or the gate larger."
        )
    ball = 0.62 * post
    foot = y - 0.16 * h
    shapes = [bar(Box(-x, foot - rail, w, rail))]
    for side in (-1, 1):
        at = side * (x - post / 2)
        shapes.append(bar(Box(at - post / 2, -y + ball, post, h - ball), 0.12 * post))
        shapes.append(_clean(disc(at, -y + ball, ball)))
    body = weld(shapes)
    top = -y + 2 * ball
    box = Box(-x + post, top, w - 2 * post, foot - rail - top)
    band = Band(box, "between", body.region, gap(box.x, box.right), strip(-1e4, box.bottom))
    return FrameDrawing(body, (band,))


def _crew(asked: FormRequest) -> FrameDrawing:
    w, h, rim, rail = asked.width, asked.height, asked["rim"], asked["rail"]
    rows = max(1, len(asked.names))
    row = (h - 2 * rim - (rows - 1) * rail) / rows
    room = w - 2 * rim
    if row < 2.0 or room < 2.0:
        raise _no_room(f"There is no room for {rows} names.", "Make the frame higher, or its rails thinner.")
    outer = _clean(rectangle(w, h, asked["corner"]))
    inner = [
        bar(Box(-w / 2 + rim, -h / 2 + rim + n * (row + rail), room, row), max(0.0, asked["corner"] - rim))
        for n in range(rows)
    ]
    body = subtract(outer, inner)
    return FrameDrawing(body, tuple(_standing(hole.box, body, alike=True) for hole in inner))


# --- initials --------------------------------------------------------------------------------------------


def _split_initial(asked: FormRequest) -> FrameDrawing:
    h, thick = asked.height, asked["bar"]
    letter = asked.letters(h)
    width = max(asked.width, letter.box.width)
    open_ = _gap_for(asked, width, 0.5 * h, asked.depth)
    middle = (asked["rise"] - 0.5) * -h
    if open_ + 2 * thick > 0.8 * h or abs(middle) + open_ / 2 + thick > 0.47 * h:
        raise _no_room(
            f"An initial {show_length(h)} high has no room for a band of {show_length(open_)} with its bars.",
            "Make the gap or the bars smaller, move the band to the middle, or make the initial higher.",
        )
    length = _length_for(asked, width, open_, asked.depth)
    top, bottom = middle - open_ / 2, middle + open_ / 2
    radius = thick / 2 * asked["round"]
    bars = [bar(Box(-length / 2, at, length, thick), radius) for at in (top - thick, bottom)]
    body = weld([split(letter, top, bottom), *bars])
    band = Band(Box(-length / 2, top, length, open_), "upright", body.region, rows=strip(top, bottom))
    return FrameDrawing(body, (band,))


def _pierced_initial(asked: FormRequest) -> FrameDrawing:
    h, rim = asked.height, asked["rim"]
    letter = asked.letters(h)
    width = max(asked.width, letter.box.width)
    open_ = _gap_for(asked, width - 2 * rim, 0.5 * h, -asked.air)
    thick = open_ + 2 * rim
    middle = (asked["rise"] - 0.5) * -h
    if thick > 0.8 * h or abs(middle) + thick / 2 > 0.48 * h:
        raise _no_room(
            f"An initial {show_length(h)} high has no room for a band of {show_length(thick)}.",
            "Make the band smaller, move it to the middle, or make the initial higher.",
        )
    inner = _length_for(asked, width - 2 * rim, open_, -asked.air)
    plank = bar(Box(-inner / 2 - rim, middle - thick / 2, inner + 2 * rim, thick), thick / 2 * asked["round"])
    room = Box(-inner / 2, middle - open_ / 2, inner, open_)
    body = weld([letter, plank])
    return FrameDrawing(body, (Band(room, "within", body.region, sides=_opening(bar(room))),))


# --- monograms -------------------------------------------------------------------------------------------


def _round_monogram(asked: FormRequest) -> FrameDrawing:
    radius, rim = asked.width / 2, asked["rim"]
    body = weld([_clean(annulus(0, 0, radius - rim / 2, rim)), *map(_clean, _loop(asked, -radius))])
    inner = clean(disc(0, 0, radius - rim), FLATNESS_MM)
    if radius - rim < 2.0:
        raise _no_room("The ring leaves nothing open for letters.", "Make it thinner, or the frame larger.")
    return FrameDrawing(body, (Band(inner.box, "across", body.region, sides=_opening(inner)),))


# --- the library -----------------------------------------------------------------------------------------


def _length(key: str, label: str, low: float, high: float, usual: float | None) -> Measure:
    return Measure(key, label, "length", low, high, usual)


_RIM = _length("rim", "Rim", 0.008, 0.2, 0.05)
_CORD = _length("cord", "Hole for the cord", 0.0, 0.25, 0.06)
_LOOP = _length("loop", "Loop", 0.01, 0.1, 0.04)
_BAR = _length("bar", "Bars", 0.008, 0.2, 0.045)
_ROUND = Measure("round", "Round ends", "share", 0.0, 1.0, 1.0)
_RISE = Measure("rise", "Height of the band", "share", 0.25, 0.75, 0.5)
_GAP = _length("gap", "Gap", 0.1, 0.7, None)
_CORNER = _length("corner", "Corners", 0.0, 0.3, 0.06)

_EDGES: tuple[Use, ...] = ("edges",)
_EITHER: tuple[Use, ...] = ("edges", "holes")

FRAMES: dict[str, FrameForm] = {
    frame.name: frame
    for frame in (
        FrameForm("name ring", "A name in a ring that hangs", 1.0, _EDGES, _ring, (_RIM, _CORD, _LOOP)),
        FrameForm("double ring", "A name in two rings, one in the other", 1.0, _EDGES, _double_ring,
                  (_length("rim", "Rings", 0.008, 0.12, 0.035),
                   _length("space", "Between the rings", 0.01, 0.2, 0.05),
                   Measure("spokes", "Spokes", "count", 2, 24, 8), _CORD, _LOOP)),
        FrameForm("word ring", "Words around a ring", 1.0, _EDGES, _word_ring,
                  (_length("rim", "Rings", 0.01, 0.12, 0.04),
                   _length("space", "Height of the words", 0.04, 0.35, None),
                   Measure("outer", "Outer ring", "count", 0, 1, 1),
                   Measure("spokes", "Spokes", "count", 0, 12, 2),
                   _length("cord", "Hole for the cord", 0.0, 0.25, 0.0), _LOOP), most_names=2),
        FrameForm("oval plate", "A name in an oval", 1.7, _EITHER, _oval, (_RIM,)),
        FrameForm("shield plate", "A name in a shield", 0.82, _EITHER, _shield, (_RIM,)),
        FrameForm("banner plate", "A name on a banner", 3.4, _EITHER, _banner,
                  (_length("rim", "Rim", 0.008, 0.1, 0.025),)),
        FrameForm("key tag", "A name on a tag with a hole", 2.6, _EITHER, _key_tag,
                  (_length("rim", "Rim", 0.01, 0.12, 0.045), _length("cord", "Hole", 0.03, 0.25, 0.08),
                   _CORNER)),
        FrameForm("stencil plate", "A name cut out, its counters held", 2.6, ("holes",), _stencil,
                  (_length("rim", "Rim", 0.01, 0.25, 0.03), _CORNER)),
        FrameForm("on a bar", "A word standing on a bar", 3.2, _EDGES, _on_bar,
                  (_length("bar", "Bar", 0.008, 0.2, 0.04), _ROUND)),
        FrameForm("between lines", "A name between two lines", 3.2, _EDGES, _between_lines,
                  (_length("bar", "Lines", 0.008, 0.15, 0.03), _length("gap", "Gap", 0.04, 0.9, None),
                   _ROUND)),
        FrameForm("gate sign", "A name between two posts", 2.0, _EDGES, _gate,
                  (_length("post", "Posts", 0.02, 0.2, 0.07), _length("rail", "Rail", 0.01, 0.15, 0.035))),
        FrameForm("crew board", "Several names in one frame", 0.9, _EDGES, _crew,
                  (_length("rim", "Rim", 0.01, 0.15, 0.045), _length("rail", "Rails", 0.008, 0.1, 0.025),
                   _CORNER),
                  most_names=12),
        FrameForm("split initial", "A name across an initial", 0.9, _EDGES, _split_initial,
                  (_GAP, _BAR, _RISE, _ROUND), has_initial=True),
        FrameForm("pierced initial", "A name cut out across an initial", 0.9, ("holes",), _pierced_initial,
                  (_length("gap", "Height of the band", 0.1, 0.6, None),
                   _length("rim", "Rim", 0.01, 0.1, 0.03), _RISE,
                   Measure("round", "Round ends", "share", 0.0, 1.0, 0.5)), has_initial=True),
        FrameForm("round monogram", "Three letters shaped to a ring", 1.0, ("letters",), _round_monogram,
                  (_RIM, Measure("middle", "Middle letter", "share", 0.25, 0.6, 0.42),
                   _length("cord", "Hole for the cord", 0.0, 0.25, 0.0), _LOOP)),
        FrameForm("tall monogram", "Three letters, the middle one larger", 1.3, _EDGES, _on_bar,
                  (_length("bar", "Bar", 0.008, 0.2, 0.05), _ROUND,
                   Measure("middle", "Middle letter", "share", 1.0, 2.2, 1.5))),
    )
}  # fmt: skip
"""The library by name, in the order it is shown."""


def frame_of(name: str) -> FrameForm:
    """A frame by its name. Raises Problem "no-frame" where there is none."""
    form = FRAMES.get(name)
    if form is None:
        raise Problem(
            "no-frame", f"There is no frame called “{name[:40]}”.", "Choose one of the frames.", "form"
        )
    return form
