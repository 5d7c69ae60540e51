"""The shape library. Each is drawn into a box from a few parameters; all were drawn for Fulgen.

A form is drawn around 0, 0 in mm, y down, as wide and as high as asked. Lengths among its parameters are mm,
shares are of the form's own measures, so a form made larger looks the same.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from fontTools.svgLib.path import parse_path

from fulgen.geometry import bezier, measure
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Outline, Point
from fulgen.geometry.pen import OutlinePen
from fulgen.problem import Problem

Values = Mapping[str, float]
Draw = Callable[[float, float, Values], Outline]

_K = 4 / 3 * math.tan(math.pi / 8)
"""Handles of a quarter circle, in radii (textbook)."""


@dataclass(frozen=True)
class Parameter:
    """What can be changed of a form: its name in the recipe, in words, and its bounds. ``kind`` says what it
    counts: a share of the form, a number of things, or degrees."""

    key: str
    label: str
    kind: Literal["share", "count", "degrees"]
    low: float
    high: float
    default: float


@dataclass(frozen=True)
class Handle:
    """Where a parameter is taken hold of, and how far that moves when the parameter grows by 1."""

    key: str
    x: float
    y: float
    dx: float
    dy: float


_STEP = 1e-4
"""How finely a parameter is changed to see what moves with it, as a share of its range."""

_AS_FAR = 0.999
"""Of nodes that move alike the first is the handle, so it stays the same one while it is dragged."""


@dataclass(frozen=True, eq=False)
class LibraryShape:
    """A form of the library: its name, what kind of thing it is, its usual width to height, its parameters,
    and how it is drawn."""

    name: str
    group: str
    ratio: float
    parameters: tuple[Parameter, ...]
    draw: Draw

    def values(self, given: Values) -> dict[str, float]:
        """All parameters: as given and within their bounds, or as usual."""
        return {p.key: min(p.high, max(p.low, float(given.get(p.key, p.default)))) for p in self.parameters}

    def drawn(self, width: float, height: float, given: Values) -> Outline:
        """Its outline around 0, 0, in a box of a width and height in mm."""
        return _stretched(self.draw(width, height, self.values(given)), width, height)

    def handle(self, key: str, width: float, height: float, given: Values) -> Handle | None:
        """Where a parameter can be taken hold of: the place on the edge that moves furthest with it. None for
        what counts things."""
        parameter = next(p for p in self.parameters if p.key == key)
        if parameter.kind == "count":
            return None
        values = self.values(given)
        step = (parameter.high - parameter.low) * _STEP
        # At its highest value it can only be looked at from below.
        at = min(values[key] + step, parameter.high - step)
        places = [
            _places(self.drawn(width, height, {**values, key: value}))
            for value in (values[key], at, at + step)
        ]
        if places[1].shape != places[2].shape:
            return None
        moves = (places[2] - places[1]) / step
        far = np.hypot(moves[:, 0], moves[:, 1])
        n = int(np.flatnonzero(far >= far.max() * _AS_FAR)[0])
        if far[n] < 1e-6:
            return None
        here = places[0] if places[0].shape == places[1].shape else places[1]
        (x, y), (dx, dy) = here[n].tolist(), moves[n].tolist()
        return Handle(key, x, y, dx, dy)


def _places(outline: Outline) -> Floats:
    """The nodes of an outline and the middles of its sides, (2 S, 2)."""
    sides, _ = outline.cubics
    middles = (sides[:, 0] + 3 * sides[:, 1] + 3 * sides[:, 2] + sides[:, 3]) / 8
    return np.concatenate([sides[:, 3], middles])


# --- pens ----------------------------------------------------------------------------------------------


class _Pen:
    """Draws one contour."""

    def __init__(self, x: float, y: float) -> None:
        self.verbs = [MOVE]
        self.points: list[Point] = [(x, y)]

    def line(self, x: float, y: float) -> _Pen:
        self.verbs.append(LINE)
        self.points.append((x, y))
        return self

    def curve(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> _Pen:
        self.verbs.append(CUBIC)
        self.points += [(x1, y1), (x2, y2), (x, y)]
        return self

    def arc(self, cx: float, cy: float, rx: float, ry: float, start: float, end: float) -> _Pen:
        """An elliptic arc from an angle to another (degrees, clockwise on the screen); a line leads to it."""
        z = _arc(start, end)
        first = (cx + rx * z[0].real, cy + ry * z[0].imag)
        if math.dist(first, self.points[-1]) > 1e-9:
            self.line(*first)
        for k in range(1, len(z), 3):
            self.verbs.append(CUBIC)
            self.points += [(cx + rx * p.real, cy + ry * p.imag) for p in z[k : k + 3]]
        return self

    @property
    def outline(self) -> Outline:
        return Outline(np.array(self.verbs, np.uint8), np.array(self.points, dtype=np.float64))


def _arc(start: float, end: float) -> list[complex]:
    """A unit arc between two angles (degrees) as cubics, one after another."""
    a, b = math.radians(start), math.radians(end)
    sides = bezier.arc(0j, cmath.rect(1, a), b - a)
    return [sides[0][0], *(z for side in sides for z in side[1:])]


def ellipse(cx: float, cy: float, rx: float, ry: float, *, hole: bool = False) -> Outline:
    """An ellipse of four cubics."""
    drawn = _Pen(cx + rx, cy).arc(cx, cy, rx, ry, 0, 360).outline
    return drawn.reversed() if hole else drawn


def disc(cx: float, cy: float, radius: float, *, hole: bool = False) -> Outline:
    """A disc of four cubics."""
    return ellipse(cx, cy, radius, radius, hole=hole)


def annulus(cx: float, cy: float, radius: float, width: float) -> Outline:
    """A ring whose middle runs at a radius."""
    return Outline.joined([disc(cx, cy, radius + width / 2), disc(cx, cy, radius - width / 2, hole=True)])


def rectangle(w: float, h: float, radius: float = 0.0) -> Outline:
    """A rectangle around 0, 0, its corners rounded."""
    x, y, r = w / 2, h / 2, min(radius, w / 2, h / 2)
    if r <= 1e-9:
        return Outline.polygon([(-x, -y), (x, -y), (x, y), (-x, y)])
    pen = _Pen(x - r, -y).arc(x - r, r - y, r, r, -90, 0).arc(x - r, y - r, r, r, 0, 90)
    return pen.arc(r - x, y - r, r, r, 90, 180).arc(r - x, r - y, r, r, 180, 270).outline


def star(points: int, inner: float, turn: float = 0.0) -> Outline:
    """A star in the circle of radius 1: its inner corners lie at ``inner``."""
    rim = [
        cmath.rect(1.0 if n % 2 == 0 else inner, math.pi * n / points - math.pi / 2 + turn)
        for n in range(2 * points)
    ]
    return Outline.polygon([(z.real, z.imag) for z in rim])


def _stretched(outline: Outline, w: float, h: float) -> Outline:
    """An outline stretched into a box around 0, 0."""
    box = measure.box(outline)
    middle = (box.x + box.width / 2, box.y + box.height / 2)
    scale = (w / box.width, h / box.height)
    return Outline(outline.verbs, (outline.points - middle) * scale)


def _path(d: str) -> Outline:
    pen = OutlinePen(4_000)
    parse_path(d, pen)
    return pen.outline


def _picture(d: str) -> Draw:
    """A form drawn once, and stretched."""
    return lambda w, h, v: _stretched(_path(d), w, h)


def _parts(*outlines: Outline) -> Outline:
    return Outline.joined(outlines)


def _corners(*corners: Point) -> Outline:
    """A solid polygon, whichever way its corners go around."""
    drawn = Outline.polygon(corners)
    return drawn if measure.area(drawn) > 0 else drawn.reversed()


# --- forms by construction -------------------------------------------------------------------------------


def _ring(w: float, h: float, v: Values) -> Outline:
    band = v["width"] * min(w, h) / 2
    return _parts(ellipse(0, 0, w / 2, h / 2), ellipse(0, 0, w / 2 - band, h / 2 - band, hole=True))


def _frame(w: float, h: float, v: Values) -> Outline:
    band, radius = v["width"] * min(w, h) / 2, v["corner"] * min(w, h) / 2
    inner = rectangle(w - 2 * band, h - 2 * band, max(0.0, radius - band)).reversed()
    return _parts(rectangle(w, h, radius), inner)


def _arch(w: float, h: float, v: Values) -> Outline:
    rise = min(v["rise"] * w / 2, h)
    x, top, foot = w / 2, -h / 2, h / 2
    return _Pen(-x, foot).line(-x, top + rise).arc(0, top + rise, x, rise, 180, 360).line(x, foot).outline


def _shield(w: float, h: float, v: Values) -> Outline:
    x, y, side = w / 2, h / 2, v["straight"] * h - h / 2
    dip = v["dip"] * h
    pen = _Pen(-x, -y).curve(-x / 2, -y + dip, -x / 4, -y + dip * 0.4, 0, -y)
    pen = pen.curve(x / 4, -y + dip * 0.4, x / 2, -y + dip, x, -y).line(x, side)
    pen = pen.curve(x, side + (y - side) * 0.55, x * 0.45, y - (y - side) * 0.2, 0, y)
    return pen.curve(-x * 0.45, y - (y - side) * 0.2, -x, side + (y - side) * 0.55, -x, side).outline


def _star(w: float, h: float, v: Values) -> Outline:
    return _stretched(star(round(v["points"]), v["depth"]), w, h)


def _burst(w: float, h: float, v: Values) -> Outline:
    count, inner = round(v["points"]), 1 - v["depth"]
    pen = _Pen(0.0, -1.0)
    for n in range(2 * count):
        a, b = (math.pi * (n + k) / count - math.pi / 2 for k in (0, 1))
        p, q = cmath.rect(1.0 if n % 2 == 0 else inner, a), cmath.rect(inner if n % 2 == 0 else 1.0, b)
        # A wave around the circle: level where it is outermost and innermost.
        reach = 0.5 * (b - a)
        one, other = p * (1 + 1j * reach * 0.9), q * (1 - 1j * reach * 0.9)
        pen = pen.curve(one.real, one.imag, other.real, other.imag, q.real, q.imag)
    return _stretched(pen.outline, w, h)


def _polygon(w: float, h: float, v: Values) -> Outline:
    sides = round(v["sides"])
    turn = -math.pi / 2 + (math.pi / sides if sides % 2 == 0 else 0.0)
    rim = [cmath.rect(1.0, 2 * math.pi * n / sides + turn) for n in range(sides)]
    return _stretched(Outline.polygon([(z.real, z.imag) for z in rim]), w, h)


def _banner(w: float, h: float, v: Values) -> Outline:
    x, y, notch = w / 2, h / 2, v["notch"] * h
    tail = min(v["tail"] * w, w * 0.3)
    drop = h * 0.22
    inner = x - tail * 1.35
    tails = (
        _corners((side * inner, drop - y), (side * x, drop - y), (side * (x - notch), drop / 2), (side * x, y),
                 (side * inner, y))
        for side in (1, -1)
    )  # fmt: skip
    return _parts(rectangle(2 * (x - tail), h - drop).placed(0, -drop / 2), *tails)


def _pennant(w: float, h: float, v: Values) -> Outline:
    x, y, cut = w / 2, h / 2, v["cut"] * w
    narrow = y * v["narrow"]
    return Outline.polygon([(-x, -y), (x, -narrow), (x - cut, 0.0), (x, narrow), (-x, y)])


def _scroll(w: float, h: float, v: Values) -> Outline:
    rod = v["roll"] * h / 2
    knob = rod * 0.62
    rods = []
    for side in (1, -1):
        at = side * (w / 2 - rod / 2)
        rods += [
            rectangle(rod, h - 2 * knob, rod * 0.3).placed(at, 0),
            *(disc(at, end * (h / 2 - knob * 0.75), knob * 0.75) for end in (1, -1)),
        ]
    sheet = _Pen(-w / 2 + rod / 2, -h / 2 + rod)
    for side in (-1, 1):
        x0, y0, third = sheet.points[-1][0], side * (h / 2 - rod), (w - rod) / 3
        way = -side
        sheet = sheet if side < 0 else sheet.line(x0, y0)
        dip = rod * 0.5
        sheet.curve(x0 + way * third, y0 + dip, x0 + 2 * way * third, y0 - dip, x0 + 3 * way * third, y0)
    return _parts(sheet.outline, *rods)


def _bar(w: float, h: float, v: Values) -> Outline:
    return rectangle(w, h, v["round"] * min(w, h) / 2)


def _arrow(w: float, h: float, v: Values) -> Outline:
    x, y, head, shaft = w / 2, h / 2, min(v["head"] * w, w), v["shaft"] * h / 2
    return Outline.polygon([
        (-x, -shaft), (x - head, -shaft), (x - head, -y), (x, 0), (x - head, y), (x - head, shaft), (-x, shaft)
    ])  # fmt: skip


def _cloud(w: float, h: float, v: Values) -> Outline:
    bumps = round(v["bumps"])
    x, y = w / 2, h / 2
    foot = min(h * 0.36, w / 4)
    lower = rectangle(w, 2 * foot, foot).placed(0, y - foot)
    discs = []
    for n in range(bumps):
        share = (n + 0.5) / bumps
        up = math.sin(math.pi * share)
        radius = min((0.8 + 0.5 * up) * w / (bumps + 1.2), h * 0.45)
        cx = -x + radius + (w - 2 * radius) * share
        cy = max(-y + radius, y - foot - up * (h - foot - radius))
        discs.append(disc(cx, cy, radius))
        discs.append(Outline.polygon([(cx - radius, cy), (cx + radius, cy), (cx + radius * 0.8, y - foot / 2),
                                      (cx - radius * 0.8, y - foot / 2)]))  # fmt: skip
    return _parts(lower, *discs)


def _wave(w: float, h: float, v: Values) -> Outline:
    count, thick = round(v["waves"]), v["thick"] * h
    rise = (h - thick) / 2
    length = w / (2 * count)

    def edge(pen: _Pen, start: float, y: float, way: float, flip: float) -> _Pen:
        # Handles of 0.3642 of half a wave's length follow a sine closely (numerical fit, from memory).
        for n in range(2 * count):
            x0 = start + way * n * length
            side = flip * (1 if n % 2 == 0 else -1) * rise
            pen = pen.curve(
                x0 + way * length * 0.3642, y + side, x0 + way * length * 0.6358, y - side,
                x0 + way * length, y - side,
            )  # fmt: skip
        return pen

    top = _Pen(-w / 2, rise - thick / 2)
    top = edge(top, -w / 2, -thick / 2, 1, 1)
    last = top.points[-1]
    top = top.line(last[0], last[1] + thick)
    return edge(top, w / 2, thick / 2, -1, 1).outline


def _compass(w: float, h: float, v: Values) -> Outline:
    thin = v["waist"]
    rim = annulus(0, 0, 0.62, 0.07) if v["ring"] >= 0.5 else Outline.empty()
    drawn = _parts(star(4, thin * 1.15), star(4, thin * 0.8, math.pi / 4).placed(0, 0, 0.68), rim)
    return Outline(drawn.verbs, drawn.points * (w / 2, h / 2))


def _wheel(w: float, h: float, v: Values) -> Outline:
    count = round(v["spokes"])
    spokes = []
    for n in range(count):
        turn = cmath.rect(1.0, math.pi * (2 * n / count - 0.5))
        grip = [(0.0, -0.035), (0.78, -0.035), (0.84, -0.062), (0.97, -0.05), (1.0, 0.0)]
        corners = [complex(a, b) for a, b in grip] + [complex(a, -b) for a, b in reversed(grip[:-1])]
        spokes.append(Outline.polygon([((z * turn).real, (z * turn).imag) for z in corners]))
    drawn = _parts(*spokes, annulus(0, 0, 0.62, v["rim"]), disc(0, 0, 0.17))
    return Outline(drawn.verbs, drawn.points * (w / 2, h / 2))


def _anchor(w: float, h: float, v: Values) -> Outline:
    d = (
        "M.45 .26L.55 .26L.55 .34L.74 .34L.74 .44L.55 .44L.55 .87C.7 .84 .82 .74 .86 .6L.78 .62L.9 .42L1 .62"
        "L.95 .61C.9 .84 .72 1 .5 1C.28 1 .1 .84 .05 .61L0 .62L.1 .42L.22 .62L.14 .6C.18 .74 .3 .84 .45 .87"
        "L.45 .44L.26 .44L.26 .34L.45 .34Z"
    )
    return _stretched(_parts(_path(d), annulus(0.5, 0.15, 0.11, v["eye"])), w, h)


def _paddle(w: float, h: float, v: Values) -> Outline:
    x, y, shaft = w / 2, h / 2, v["shaft"] * w / 2
    blade, grip = v["blade"] * h, min(w * 0.62, h * 0.12)
    top = y - blade
    pen = _Pen(-shaft, -y + grip * 0.3).line(-shaft, top - blade * 0.18)
    pen = pen.curve(-shaft, top + blade * 0.1, -x, top + blade * 0.16, -x, top + blade * 0.42)
    pen = pen.line(-x * 0.9, y - blade * 0.16).curve(-x * 0.86, y, -x * 0.5, y, 0, y)
    pen = pen.curve(x * 0.5, y, x * 0.86, y, x * 0.9, y - blade * 0.16).line(x, top + blade * 0.42)
    pen = pen.curve(x, top + blade * 0.16, shaft, top + blade * 0.1, shaft, top - blade * 0.18)
    pen = pen.line(shaft, -y + grip * 0.3)
    handle = rectangle(grip, grip * 0.5, grip * 0.25).placed(0, -y + grip * 0.25)
    blade_drawn = pen.outline if measure.area(pen.outline) > 0 else pen.outline.reversed()
    return _parts(blade_drawn, handle)


def _buoy(w: float, h: float, v: Values) -> Outline:
    """A life-ring: a ring, and four straps that stand a little above it."""
    band = v["width"]
    straps = []
    for n in range(4):
        a = 45 + 90 * n
        half = v["straps"] / 2
        out, inn = 1.0, 1.0 - band
        pen = _Pen(0, 0)
        z = [cmath.rect(1, math.radians(a + s)) for s in (-half, half)]
        pen = _Pen(z[0].real * out, z[0].imag * out).arc(0, 0, out, out, a - half, a + half)
        straps.append(
            pen.line(z[1].real * inn, z[1].imag * inn).arc(0, 0, inn, inn, a + half, a - half).outline
        )
    inset = band * 0.12
    ring = annulus(0, 0, 1 - band / 2, band - 2 * inset)
    drawn = _parts(ring, *straps)
    return Outline(drawn.verbs, drawn.points * (w / 2, h / 2))


def _sail(w: float, h: float, v: Values) -> Outline:
    x, y, belly = w / 2, h / 2, v["belly"] * w
    mast = -x + (1 - v["jib"]) * w * 0.5
    gap = 0.035 * w
    main = (
        _Pen(mast + gap, -y)
        .curve(mast + gap + belly, -y + h * 0.3, x, y - h * 0.35, x, y)
        .line(mast + gap, y)
    )
    low = y - h * 0.06
    jib = _Pen(mast - gap, -y + h * 0.14)
    jib = jib.curve(mast - gap - belly * 0.4, 0, -x + w * 0.1, low - h * 0.2, -x, low).line(mast - gap, low)
    tie = rectangle(4 * gap, h * 0.06).placed(mast, y - h * 0.12)
    jib_drawn = jib.outline if measure.area(jib.outline) > 0 else jib.outline.reversed()
    return _parts(main.outline, jib_drawn, tie)


def _flower(w: float, h: float, v: Values) -> Outline:
    count = round(v["petals"])
    far = [cmath.rect(0.6, 2 * math.pi * n / count - math.pi / 2) for n in range(count)]
    radius = min(0.4, 0.6 * math.sin(math.pi / count) * 1.12)
    drawn = _parts(*(disc(z.real, z.imag, radius) for z in far), disc(0, 0, 0.62))
    return _stretched(drawn, w, h)


def _sun(w: float, h: float, v: Values) -> Outline:
    count = round(v["rays"])
    drawn = _parts(star(count, 0.58), disc(0, 0, 0.6))
    return Outline(drawn.verbs, drawn.points * (w / 2, h / 2))


def _gear(w: float, h: float, v: Values) -> Outline:
    count, deep = round(v["teeth"]), 1 - v["depth"]
    corners: list[complex] = []
    for n in range(count):
        for share, radius in ((-0.28, deep), (-0.19, 1.0), (0.19, 1.0), (0.28, deep)):
            corners.append(cmath.rect(radius, 2 * math.pi * (n + share) / count - math.pi / 2))
    rim = Outline.polygon([(z.real, z.imag) for z in corners])
    drawn = _parts(rim, disc(0, 0, v["bore"], hole=True))
    return Outline(drawn.verbs, drawn.points * (w / 2, h / 2))


def _tag(w: float, h: float, v: Values) -> Outline:
    x, y, corner = w / 2, h / 2, v["corner"] * h / 2
    hole = v["hole"] * h / 2
    pen = _Pen(-x + corner * 1.6, -y).line(x - corner * 0.4, -y)
    r = corner * 0.4
    pen = pen.arc(x - r, -y + r, r, r, -90, 0).arc(x - r, y - r, r, r, 0, 90).line(-x + corner * 1.6, y)
    pen = pen.line(-x, y - corner).line(-x, -y + corner)
    return _parts(pen.outline, disc(-x + corner * 0.7 + hole * 1.4, 0, hole, hole=True))


def _cross(w: float, h: float, v: Values) -> Outline:
    x, y, a = w / 2, h / 2, v["arm"] * min(w, h) / 2
    return Outline.polygon([
        (-a, -y), (a, -y), (a, -a), (x, -a), (x, a), (a, a), (a, y), (-a, y), (-a, a), (-x, a), (-x, -a), (-a, -a)
    ])  # fmt: skip


def _drop(w: float, h: float, v: Values) -> Outline:
    x, y, belly = w / 2, h / 2, v["belly"] * h - h / 2
    low = y - belly
    pen = _Pen(0, -y).curve(x * 0.22, -y + (belly + y) * 0.5, x, belly - low * 0.75, x, belly)
    pen = pen.curve(x, belly + low * _K, x * _K, y, 0, y).curve(-x * _K, y, -x, belly + low * _K, -x, belly)
    return pen.curve(-x, belly - low * 0.75, -x * 0.22, -y + (belly + y) * 0.5, 0, -y).outline


def _leaf(w: float, h: float, v: Values) -> Outline:
    x, y, stem = w / 2, h / 2, v["stem"] * h
    foot, half = y - stem, w * 0.045
    pen = _Pen(0, -y).curve(x * 1.5, -y + h * 0.22, x * 1.35, foot - h * 0.1, half, foot)
    pen = pen.line(half, y).line(-half, y).line(-half, foot) if stem > 1e-9 else pen.line(-half, foot)
    drawn = pen.curve(-x * 1.35, foot - h * 0.1, -x * 1.5, -y + h * 0.22, 0, -y).outline
    return _stretched(drawn, w, h)


def _fish(w: float, h: float, v: Values) -> Outline:
    x, y, tail = w / 2, h / 2, v["tail"] * w
    root = x - tail
    pen = _Pen(-x, 0).curve(-x * 0.62, -y * 1.06, root - (root + x) * 0.2, -y * 0.9, root, -y * 0.2)
    pen = pen.line(x, -y * 0.8).curve(x - tail * 0.3, -y * 0.3, x - tail * 0.3, y * 0.3, x, y * 0.8)
    pen = pen.line(root, y * 0.2)
    drawn = pen.curve(root - (root + x) * 0.2, y * 0.9, -x * 0.62, y * 1.06, -x, 0).outline
    return _stretched(drawn, w, h)


def _moon(w: float, h: float, v: Values) -> Outline:
    x, y = w / 2, h / 2
    inner = v["full"] * w - x
    pen = _Pen(x, -y).curve(x - w * 0.7, -y, -x - w * 0.02, -y + h * 0.2, -x, 0)
    pen = pen.curve(-x - w * 0.02, y - h * 0.2, x - w * 0.7, y, x, y)
    pen = pen.curve(inner + w * 0.28, y * 0.75, inner, y * 0.42, inner, 0)
    return _stretched(pen.curve(inner, -y * 0.42, inner + w * 0.28, -y * 0.75, x, -y).outline, w, h)


def _paw(w: float, h: float, v: Values) -> Outline:
    toes = [(0.14, 0.42, 0.1), (0.36, 0.2, 0.115), (0.64, 0.2, 0.115), (0.86, 0.42, 0.1)]
    pad = _path(
        "M.5 .42C.66 .42 .82 .66 .82 .8C.82 .94 .68 .98 .5 .9C.32 .98 .18 .94 .18 .8C.18 .66 .34 .42 .5 .42Z"
    )
    tied = [_path(f"M.5 .7L{x - 0.035} {y}L{x + 0.035} {y}Z") for x, y, _ in toes]
    return _stretched(_parts(*(disc(x, y, r) for x, y, r in toes), pad, *tied), w, h)


def _boat(w: float, h: float, v: Values) -> Outline:
    return _stretched(
        _path(
            "M.46 0C.7 .16 .84 .38 .88 .62L.46 .62ZM.4 .14L.4 .62L.12 .62C.16 .42 .26 .26 .4 .14Z"
            "M.4 0L.46 0L.46 .72L.4 .72ZM0 .68L1 .68C.94 .86 .82 1 .66 1L.34 1C.18 1 .06 .86 0 .68Z"
        ),
        w,
        h,
    )


_HEART = (
    "M.5 1C.2 .78 0 .58 0 .33C0 .14 .14 0 .3 0C.39 0 .46 .05 .5 .13C.54 .05 .61 0 .7 0C.86 0 1 .14 1 .33"
    "C1 .58 .8 .78 .5 1Z"
)


# --- the library -------------------------------------------------------------------------------------------


def _share(key: str, label: str, low: float, high: float, usual: float) -> Parameter:
    return Parameter(key, label, "share", low, high, usual)


def _count(key: str, label: str, low: int, high: int, usual: int) -> Parameter:
    return Parameter(key, label, "count", low, high, usual)


def _form(name: str, group: str, ratio: float, draw: Draw, *parameters: Parameter) -> LibraryShape:
    return LibraryShape(name, group, ratio, parameters, draw)


_CORNER = _share("corner", "Corners", 0.0, 1.0, 0.0)

LIBRARY_SHAPES: dict[str, LibraryShape] = {
    form.name: form
    for form in (
        _form("disc", "plates", 1.0, lambda w, h, v: ellipse(0, 0, w / 2, h / 2)),
        _form("oval", "plates", 1.5, lambda w, h, v: ellipse(0, 0, w / 2, h / 2)),
        _form("ring", "plates", 1.0, _ring, _share("width", "Band", 0.02, 0.95, 0.32)),
        _form("rectangle", "plates", 1.6, lambda w, h, v: rectangle(w, h, v["corner"] * min(w, h) / 2), _CORNER),
        _form("bar", "plates", 6.0, _bar, _share("round", "Round ends", 0.0, 1.0, 1.0)),
        _form("frame", "plates", 1.4, _frame, _share("width", "Band", 0.02, 0.95, 0.2), _CORNER),
        _form("polygon", "plates", 1.0, _polygon, _count("sides", "Sides", 3, 24, 6)),
        _form("arch", "plates", 0.75, _arch, _share("rise", "Rise of the arch", 0.05, 2.0, 1.0)),
        _form("shield", "plates", 0.82, _shield, _share("straight", "Straight sides", 0.1, 0.8, 0.45),
              _share("dip", "Dip of the top", 0.0, 0.3, 0.1)),
        _form("tag", "plates", 1.9, _tag, _share("corner", "Shoulders", 0.1, 0.95, 0.6),
              _share("hole", "Hole", 0.05, 0.5, 0.18)),
        _form("banner", "plates", 4.0, _banner, _share("notch", "Notch", 0.0, 0.6, 0.25),
              _share("tail", "Tails", 0.05, 0.3, 0.14)),
        _form("pennant", "plates", 1.8, _pennant, _share("cut", "Cut of the tail", 0.0, 0.8, 0.25),
              _share("narrow", "Narrowing", 0.05, 1.0, 0.6)),
        _form("scroll", "plates", 2.2, _scroll, _share("roll", "Rolls", 0.12, 0.5, 0.26)),
        _form("cloud", "plates", 1.6, _cloud, _count("bumps", "Bumps", 2, 8, 3)),
        _form("heart", "signs", 1.0, _picture(_HEART)),
        _form("star", "signs", 1.05, _star, _count("points", "Points", 3, 40, 5),
              _share("depth", "Inner corners", 0.08, 0.98, 0.45)),
        _form("burst", "signs", 1.0, _burst, _count("points", "Waves", 5, 60, 16),
              _share("depth", "Depth", 0.02, 0.5, 0.12)),
        _form("arrow", "signs", 1.8, _arrow, _share("head", "Head", 0.1, 1.0, 0.45),
              _share("shaft", "Shaft", 0.05, 1.0, 0.45)),
        _form("cross", "signs", 1.0, _cross, _share("arm", "Arms", 0.05, 0.95, 0.34)),
        _form("gear", "signs", 1.0, _gear, _count("teeth", "Teeth", 5, 48, 12),
              _share("depth", "Depth of the teeth", 0.04, 0.4, 0.2), _share("bore", "Bore", 0.05, 0.6, 0.3)),
        _form("paw", "signs", 1.06, _paw),
        _form("drop", "nature", 0.64, _drop, _share("belly", "Belly", 0.4, 0.85, 0.66)),
        _form("leaf", "nature", 0.7, _leaf, _share("stem", "Stem", 0.0, 0.4, 0.14)),
        _form("flower", "nature", 1.0, _flower, _count("petals", "Petals", 4, 16, 5)),
        _form("sun", "nature", 1.0, _sun, _count("rays", "Rays", 6, 40, 12)),
        _form("moon", "nature", 0.62, _moon, _share("full", "Fullness", 0.15, 0.8, 0.48)),
        _form("wave", "nature", 3.2, _wave, _count("waves", "Waves", 1, 12, 3),
              _share("thick", "Thickness", 0.1, 0.8, 0.4)),
        _form("fish", "nature", 1.9, _fish, _share("tail", "Tail", 0.1, 0.5, 0.26)),
        _form("anchor", "boats", 1.0, _anchor, _share("eye", "Eye", 0.03, 0.14, 0.08)),
        _form("boat", "boats", 1.0, _boat),
        _form("buoy", "boats", 1.0, _buoy, _share("width", "Band", 0.1, 0.7, 0.36),
              Parameter("straps", "Straps", "degrees", 6, 60, 24)),
        _form("compass rose", "boats", 1.0, _compass, _share("waist", "Waist", 0.06, 0.5, 0.18),
              _count("ring", "Ring (1 or 0)", 0, 1, 1)),
        _form("paddle", "boats", 0.24, _paddle, _share("blade", "Blade", 0.2, 0.7, 0.42),
              _share("shaft", "Shaft", 0.1, 0.8, 0.26)),
        _form("sail", "boats", 0.9, _sail, _share("belly", "Belly", 0.0, 0.7, 0.4),
              _share("jib", "Jib", 0.1, 0.8, 0.3)),
        _form("wheel", "boats", 1.0, _wheel, _count("spokes", "Spokes", 4, 12, 8),
              _share("rim", "Rim", 0.06, 0.36, 0.16)),
    )
}  # fmt: skip
"""The library by name, in the order it is shown."""


def library_shape(name: str, where: str = "form") -> LibraryShape:
    """A form by its name, which ``where`` in a recipe gives. Raises Problem "no-shape" where there is none."""
    form = LIBRARY_SHAPES.get(name)
    if form is None:
        raise Problem(
            "no-shape",
            f"There is no shape called “{name[:40]}”.",
            "Choose one from the shape library.",
            where,
        )
    return form
