"""Made-up input that nobody would type: random recipes within the model's limits, by a seed.

Values lean to the ends of their ranges, where things go wrong.
"""

import random

from fulgen.framing.frames import FRAMES
from fulgen.geometry.shape_library import LIBRARY_SHAPES
from fulgen.lettering.catalogue import families

WORDS = (
    "Willowmere", "Tern & Thistle", "Zoë Łucja", "fi ffl", "!?.:;…", "HI", "o", "Moss\nHeron", "''", "i j ä",
    "  ", "1 2 3", "", "Quixbyford", "L'Ouëst", "mmmmnnn", "e\u0301e", "Ll", "8%&", "ÅÄÖ",
)  # fmt: skip
SIGNS = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ äëïöüéèçñ.,:;!?'\"&-–1234567890"
SHAPES = ("heart", "star", "compass rose", "anchor", "boat", "ring", "disc", "paw")
PATHS = (
    "M0 0L10 0L10 10L0 10Z", "M0 0L10 10L0 10L10 0Z", "M0 0C9 0 0 9 9 9L0 20Z", "M0 0L1000 1L0 2Z",
    "M0 0L9 0L9 9L0 9ZM3 3L3 6L6 6L6 3Z", "M0 0L1 0L1 1L0 1ZM1 1L2 1L2 2L1 2Z",
)  # fmt: skip


class Dice(random.Random):
    """Draws of what recipes are made of."""

    def number(self, low, high):
        """A number of a range: an end of it, one near its middle, or any; small ones as often as large
        ones."""
        kind = self.random()
        if kind < 0.2:
            return self.choice((low, high))
        if kind < 0.4 and low > 0:
            return low * (high / low) ** self.random()
        if kind < 0.6 and low <= 0 <= high:
            return self.choice((0.0, self.uniform(low, high) / 50))
        return self.uniform(low, high)

    def maybe(self, chance=0.3):
        return self.random() < chance

    def some(self, **values):
        """Some of the fields, each drawn by its function."""
        return {name: draw() for name, draw in values.items() if self.maybe(0.4)}

    def text(self, most):
        if self.maybe(0.6):
            return self.choice(WORDS)[:most]
        length = self.randint(1, most)
        return "".join(self.choice(SIGNS + "\n" * (length > 10)) for _ in range(length))

    def face(self):
        family = self.choice(list(families().values()))
        axes = {a.tag: self.number(a.low, a.high) for a in family.axes if self.maybe()}
        return {"family": family.slug, "weight": self.choice((None, 100, 400, 700, 900)), "axes": axes}

    def stand_in(self):
        own = {"d": self.choice(PATHS)} if self.maybe() else {}
        return {"shape": self.choice(SHAPES), "to": self.choice(("height", "box")), **own}

    def anchor(self, parts):
        part = self.choice(parts)
        place = {"letter": self.choice(range(1, 3 + len(part["text"])))} if self.maybe(0.7) else {}
        return {"part": part["id"], "x": self.number(-1, 2), "y": self.number(-1, 1), **place}

    def letter(self):
        way = ("leave", "slide", "reach", "bridge", "apart", None)
        return self.some(
            dx=lambda: self.number(-2, 2), dy=lambda: self.number(-2, 2), carry=lambda: self.number(-2, 2),
            after=lambda: self.number(-2, 2), turn=lambda: self.number(-180, 180),
            scale=lambda: self.number(0.1, 10), face=self.face, apart=self.maybe,
            seam=lambda: {
                "way": self.choice(way), "trim": self.choice((None, True, False)),
                "smooth_mm": self.choice((None, None, self.number(0, 20))),
            },
            marks=lambda: self.choice(("keep", "lower", "bridge")), mark_shape=self.stand_in,
            stand_in=self.stand_in,
        )  # fmt: skip

    def lettering(self, number, most):
        text = self.text(most)
        join = self.some(
            how=lambda: self.choice(("set", "auto", "auto")), neck_mm=lambda: self.number(0.1, 50),
            smooth_mm=lambda: self.number(0, 20), marks=lambda: self.choice(("keep", "lower", "bridge")),
            mark_bar_mm=lambda: self.number(0.1, 50), mark_shape=self.stand_in, tie=lambda: True,
        )  # fmt: skip
        changed = self.sample(range(1, len(text) + 2), min(len(text), self.choice((0, 0, 1, 3))))
        return {
            "id": f"part-{number}", "text": text, "join": join, "face": self.face(),
            "letters": {str(name): self.letter() for name in changed},
            **self.some(
                size=lambda: {
                    "measure": self.choice(("width", "height", "capitals", "face")),
                    "mm": self.number(1, 3000),
                },
                stretch=lambda: self.number(0.5, 2), slant=lambda: self.number(-45, 45),
                alignment=self.alignment, course=self.course,
                warp=lambda: {
                    "kind": self.choice(("arch", "wave", "bulge")), "amount": self.number(-1, 1),
                    "waves": self.number(0.25, 10),
                },
                thicken_mm=lambda: self.number(-20, 50), corners=lambda: self.choice(("round", "mitred")),
                spacing_mm=lambda: self.number(-100, 300), spacing_share=lambda: self.number(-0.5, 2),
                line_spacing=lambda: self.number(0.3, 5), align=lambda: self.choice(("centre", "right")),
                place=lambda: {
                    "x": self.number(-300, 300), "y": self.number(-300, 300), "turn": self.number(-360, 360),
                    "scale": self.number(0.01, 100), "flip": self.maybe(),
                },
                underline=lambda: {
                    "style": self.choice(("bar", "swash")), "thick_mm": self.number(0.2, 200),
                    "over_mm": self.number(-200, 200), "beyond_mm": self.number(-500, 500),
                },
            ),
        }  # fmt: skip

    def alignment(self):
        """Held by nothing, by another part, or by one that is held by it: that is refused."""
        return {
            "to": self.choice((None, None, None, "part-0", "part-1", "gone")),
            "across": self.choice(("left", "centre", "right", None)),
            "down": self.choice(("top", "middle", "bottom", None)),
        }

    def course(self):
        return {
            "kind": self.choice(("circle", "arc", "wave", "down")),
            **self.some(
                letters=lambda: self.choice(("turned", "bent")), diameter_mm=lambda: self.number(1, 5000),
                side=lambda: self.choice(("inside", "outside")), stands=self.maybe,
                reading=lambda: self.choice(("inward", "outward")), length_mm=lambda: self.number(1, 5000),
                bulge=lambda: self.number(-1, 1), swing_mm=lambda: self.number(0, 500),
                waves=lambda: self.number(0.25, 20), place=lambda: self.number(-360, 360),
                spread=lambda: self.number(0, 360), distance_mm=lambda: self.number(-500, 500),
                gap_share=lambda: self.number(-1, 2), spine_mm=lambda: self.number(0, 100),
            ),
        }  # fmt: skip

    def frame(self, parts):
        """A frame around some of the letterings there are."""
        form = self.choice(list(FRAMES.values()))
        larger = self.number(0.1, 5000)
        values = {
            m.key: self.number(m.low, m.high) * (larger if m.kind == "length" else 1)
            for m in form.measures
            if self.maybe()
        }
        return {
            "kind": "frame", "id": "frame-1", "form": form.name, "width_mm": larger,
            "height_mm": self.number(0.1, larger), "values": values, "holes": self.maybe(),
            "text": self.choice(("", "A", "Ω", "fi", " ")), "face": self.face(),
            "members": [part["id"] for part in parts if self.maybe(0.7)],
            "fit": self.some(
                air_mm=lambda: self.number(0, 300), depth_mm=lambda: self.number(0.05, 50),
                stretch=lambda: self.number(1, 1.6), spread=self.maybe, reach=self.maybe,
                feet=lambda: self.choice(("baseline", "lowest")), centre=lambda: self.choice(("box", "seen")),
            ),
        }  # fmt: skip

    def touch_up(self, parts):
        kinds = ("fill", "cut", "thicken", "close", "remove", "move", "smooth", "round")
        to = {"to": self.anchor(parts)} if self.maybe() else {}
        return {
            "kind": self.choice(kinds), "at": self.anchor(parts), "size_mm": self.number(0, 100),
            "dx": self.number(-20, 20), "dy": self.number(-20, 20), **to,
        }  # fmt: skip

    # --- every other kind of part ---

    def film(self):
        return self.choice(("#2B5674", "#C4502E", "#c4502e", "#FFFFFF"))

    def place(self):
        return {
            "x": self.number(-5000, 5000), "y": self.number(-300, 300), "turn": self.number(-360, 360),
            "scale": self.number(0.01, 100), "flip": self.maybe(),
        }  # fmt: skip

    def near(self):
        return {"x": self.number(-40, 40), "y": self.number(-40, 40), "turn": self.choice((0.0, 30.0))}

    def shape(self):
        form = self.choice(list(LIBRARY_SHAPES.values()))
        values = {p.key: self.number(p.low, p.high) for p in form.parameters if self.maybe()}
        width, height = self.number(0.1, 300), self.number(0.1, 300)
        return {"kind": "shape", "form": form.name, "width_mm": width, "height_mm": height, "values": values}

    def line(self):
        at = lambda: {"x": self.number(-60, 60), "y": self.number(-60, 60), "corner": self.maybe()}  # noqa: E731
        return {
            "kind": "line", "course": self.choice(("straight", "arc", "wave", "free")),
            "points": [at() for _ in range(self.choice((2, 2, 3, 9)))],
            **self.some(
                bulge=lambda: self.number(-2, 2), swing_mm=lambda: self.number(0, 500),
                waves=lambda: self.randint(1, 60),
                width_mm=lambda: self.number(0.1, 300), ends=lambda: self.choice(("round", "square",
                "pointed")),
            ),
        }  # fmt: skip

    def artwork(self):
        items = [
            {
                "d": self.choice(PATHS),
                "line": self.maybe(),
                "width_mm": self.number(0, 20),
                "film": self.film(),
            }
            for _ in range(self.choice((1, 2, 4)))
        ]
        return {
            "kind": "artwork", "items": items,
            "contours": {str(n): {"off": True} for n in range(6) if self.maybe(0.4)},
            **self.some(
                colours=lambda: self.choice(("own", "one")), across=lambda: self.number(0.01, 100),
                down=lambda: self.number(0.01, 100), close_mm=lambda: self.number(0, 20),
                lines=lambda: self.choice(("draw", "score", "band")), band_mm=lambda: self.number(0, 100),
            ),
        }  # fmt: skip

    def ornament(self):
        face = {"family": self.choice(list(families()))}
        return {
            "kind": "ornament",
            "face": face,
            "glyph": self.randint(0, 400),
            "height_mm": self.number(0.1, 300),
        }

    def backing(self, ids):
        return {
            "kind": "backing", "of": self.choice(ids), "by_mm": self.number(-30, 60),
            "corners": self.choice(("round", "mitred")), "holes": self.choice(("keep", "fill small",
            "fill all")), "fill_mm": self.number(0, 100),
        }  # fmt: skip

    def combination(self, ids):
        members = self.sample(ids, min(len(ids), self.choice((1, 2, 2, 3))))
        halo = {
            "mm": self.number(0.1, 100),
            "manner": self.choice(("stand", "through")),
            "islands": self.maybe(),
        }
        return {
            "kind": "combination", "how": self.choice(("weld", "cut", "overlap", "divide", "halo", "edges")),
            "members": members, "halo": halo, "least_mm": self.number(0, 50),
            "edges": [self.randint(0, 4) for _ in range(self.choice((0, 1, 2)))],
        }  # fmt: skip


def random_recipe(seed, most_letters=12, most_parts=3):
    """A recipe, as plain data, of up to so many letters a part and so many parts."""
    dice = Dice(seed)
    parts = [dice.lettering(n, most_letters) for n in range(dice.choice((1, 1, dice.randint(1, most_parts))))]
    bars = [
        {
            "start": dice.anchor(parts), "end": dice.anchor(parts), "width_mm": dice.number(0.1, 100),
            "bulge": dice.number(-1, 1),
        }
        for _ in range(dice.choice((0, 0, 1, 3)))
    ]  # fmt: skip
    framed = [dice.frame(parts)] if dice.maybe() else []
    return {
        "format": "fulgen-recipe", "version": 3, "parts": [*parts, *framed], "bars": bars,
        "mirror": dice.maybe(), "touch_ups": [dice.touch_up(parts) for _ in range(dice.choice((0, 0, 1, 4)))],
        "material": {"name": dice.choice(("Card", "Adhesive film", "Ply, 3 mm"))},
    }  # fmt: skip


def random_design(seed, most_parts=6):
    """A recipe of every kind of part, as plain data."""
    dice = Dice(seed)
    parts, free = [], []
    for number in range(dice.randint(1, most_parts)):
        ids = [part["id"] for part in free]
        kind = dice.choice(
            ("lettering", "shape", "line", "artwork", "ornament", "frame", "backing", "combination")
        )
        if kind == "lettering":
            own = dice.lettering(number, 6)
            own["course"] = {"kind": "line", "of": dice.choice(ids)} if ids and dice.maybe(0.2) else None
            if own["course"] is None:
                del own["course"]
        elif kind == "frame":
            letterings = [part for part in free if part.get("kind", "lettering") == "lettering"]
            own = dice.frame(letterings)
            if ids and dice.maybe(0.2):
                own |= {"form": "own", "ground": dice.choice(ids)}
                own["members"] = [name for name in own["members"] if name != own["ground"]]
        elif kind in ("backing", "combination") and ids:
            own = getattr(dice, kind)(ids)
        else:
            own = getattr(dice, kind if kind in ("shape", "line", "artwork", "ornament") else "shape")()
        own |= {"id": f"part-{number}", "place": dice.place() if dice.maybe(0.3) else dice.near()}
        own |= dice.some(film=dice.film, hidden=lambda: True, name=lambda: dice.choice(("", "{a}", "plate")))
        gone = {*own.get("members", ()), own.get("ground")}
        free = [part for part in free if part["id"] not in gone]
        if dice.maybe(0.25):
            own = {**own, "use": dice.choice(("cut", "engrave", "draw", "score", "guide"))}
        parts.append(own)
        free.append(own)
    worded = [{"text": "Mo", **part} for part in parts]
    bars = [
        {"start": dice.anchor(worded), "end": dice.anchor(worded), "width_mm": dice.number(0.1, 20)}
        for _ in range(dice.choice((0, 0, 1, 2)))
    ]  # fmt: skip
    touch_ups = [dice.touch_up(worded) for _ in range(dice.choice((0, 0, 1, 3)))]
    limits = {
        name: dice.number(0.0, 4.0) for name in ("neck_mm", "stroke_mm", "hole_mm", "piece_mm", "gap_mm")
    }
    left = [
        {"kind": dice.choice(("stroke", "neck", "sliver", "gap", "hole", "piece")), "at": dice.anchor(worded)}
        for _ in range(dice.choice((0, 0, 1, 2)))
    ]  # fmt: skip
    ready = {
        "kinds_left": [dice.choice(("stroke", "hole", "gap"))][: dice.choice((0, 1))],
        "places_left": left,
    }
    return {
        "format": "fulgen-recipe", "version": 11, "parts": parts, "bars": bars, "touch_ups": touch_ups,
        "ready": dice.choice((None, ready, ready)),
        "material": {"name": "Mine", "limits": dice.choice((None, None, limits))},
    }  # fmt: skip


def _part(text, number=0, **more):
    return {"id": f"part-{number}", "text": text, **more}


def _design(*parts, **more):
    return {"format": "fulgen-recipe", "version": 3, "parts": list(parts), **more}


_PAGE = "\n".join(("Kestrel Quixby Vyvyan Jazz"[n % 7 :] + "mmmmmmm")[:25] for n in range(20))
_MARKED = "\n".join("äöüéñ" * 5 for _ in range(20))
_JOINED = {"how": "auto", "tie": True, "smooth_mm": 1.0}
_WIDE = {"measure": "width", "mm": 3000}
_TOUCHED = [
    {
        "kind": ("thicken", "cut", "close", "fill", "smooth", "round")[n % 6], "size_mm": 3.0,
        "at": {"part": "part-0", "letter": 1 + n, "x": 0.2, "y": -0.2},
    }
    for n in range(300)
]  # fmt: skip

EDGES = {
    "a page, tied and smoothed": _design(_part(_PAGE, join=_JOINED)),
    "a page of brush letters, tied": _design(_part(_PAGE, face={"family": "kaushan-script"}, join=_JOINED)),
    "a page of plain letters, tied": _design(_part(_PAGE, face={"family": "anton"}, join=_JOINED)),
    "a page, smoothed, three metres wide": _design(
        _part(_PAGE, size=_WIDE, join={"how": "auto", "smooth_mm": 20.0})
    ),
    "marks lowered on a page": _design(_part(_MARKED, join={"how": "auto", "marks": "lower"})),
    "marks tied on a page": _design(_part(_MARKED, join={"how": "auto", "marks": "bridge", "tie": True})),
    "24 parts, tied": _design(
        *(
            _part("Kestrel Quixby", n, join=_JOINED, place={"x": 3.0 * n, "y": 9.0 * n})
            for n in range(24)
        )
    ),
    "24 parts over each other": _design(*(_part("mmmmmmmmmmmm", n, join=_JOINED) for n in range(24))),
    "300 touch-ups on a page": _design(_part(_PAGE), touch_ups=_TOUCHED),
    "300 touch-ups on a word": _design(
        _part("Willowmere"),
        touch_ups=[{**t, "at": {**t["at"], "letter": 1 + n % 10}} for n, t in enumerate(_TOUCHED)],
    ),
    "200 bars on a page": _design(
        _part(_PAGE),
        bars=[
            {
                "start": {"part": "part-0", "letter": 1 + n, "x": 0.1, "y": -0.1},
                "end": {"part": "part-0", "letter": 300 + n, "x": 0.1, "y": -0.1}, "width_mm": 9.0,
            }
            for n in range(200)
        ],
    ),
    "tiny, much thickened": _design(
        _part(_PAGE, size={"measure": "width", "mm": 1.0}, thicken_mm=0.05, join=_JOINED)
    ),
    "thickened by half": _design(_part(_PAGE, thicken_mm=12.0, corners="mitred")),
    "thinned": _design(_part(_PAGE, thicken_mm=-0.4, join=_JOINED)),
    "all letters on one spot": _design(_part("m" * 400, spacing_share=-0.5)),
    "lines on one spot": _design(_part(_PAGE, line_spacing=0.3, spacing_share=-0.4, join=_JOINED)),
    "stand-ins everywhere": _design(
        _part(
            _PAGE, join=_JOINED,
            letters={
                str(n): {"stand_in": {"shape": "compass rose"}, "turn": 9.0 * n % 180} for n in range(1, 500)
            },
        )
    ),
    "a huge neck": _design(_part(_PAGE, join={**_JOINED, "neck_mm": 50.0})),
    "swashes under a page": _design(
        _part(_PAGE, join=_JOINED, underline={"style": "swash", "thick_mm": 200.0, "over_mm": 100.0})
    ),
    "a page around a circle": _design(
        _part(_PAGE, join=_JOINED, course={"kind": "circle", "diameter_mm": 900.0})
    ),
    "a page along a wave, bent": _design(
        _part(
            _PAGE, join=_JOINED, course={"kind": "wave", "letters": "bent", "length_mm": 600.0, "waves": 20.0}
        )
    ),
    "a page downwards": _design(_part(_PAGE, join=_JOINED, course={"kind": "down"})),
    "a page arched": _design(_part(_PAGE, join=_JOINED, warp={"kind": "arch", "amount": 1.0})),
    "twelve long names on a board": _design(
        *(_part("Kestrel Quixby Vyvyan", n, join=_JOINED) for n in range(12)),
        {"kind": "frame", "id": "frame-1", "form": "crew board", "width_mm": 900.0, "height_mm": 1200.0,
         "members": [f"part-{n}" for n in range(12)]},
    ),
    "a page at a hundred times": _design(_part("Willowmere", place={"scale": 100.0}, join=_JOINED)),
}  # fmt: skip
"""Recipes at the edge of the model's limits."""


def random_drawing(seed):
    """A file that is nearly an SVG drawing."""
    dice = Dice(seed)

    def number():
        return dice.choice(
            (f"{dice.uniform(-99, 99):.3f}", "0", "1e9", "-1e-9", "10%", "3mm", "nan", "1e999", "")
        )

    def path():
        return "".join(
            dice.choice("MmLlHhVvCcSsQqTtAaZz") + " ".join(number() for _ in range(dice.randrange(8)))
            for _ in range(dice.choice((1, 5, 40)))
        )

    def some(*names):
        return " ".join(f'{name}="{number()}"' for name in names if dice.maybe(0.7))

    def element(depth):
        style = dice.choice(("", ' style="visibility:hidden"', ' fill-rule="evenodd"', ' class="a"'))
        turn = dice.choice(
            ("", f' transform="rotate({number()}) scale({number()})"', ' transform="matrix(1 2"')
        )
        if depth < 5 and dice.maybe(0.4):
            inside = "".join(element(depth + 1) for _ in range(dice.randrange(4)))
            kind = dice.choice(("g", "svg", "switch", "symbol", "defs", "a"))
            return (
                f'<{kind} id="i{dice.randrange(5)}"{style}{turn} viewBox="0 0 9 {number()}">{inside}</{kind}>'
            )
        return dice.choice(
            (
                f'<path d="{path()}"{style}{turn}/>',
                f"<rect {some('x', 'y', 'width', 'height', 'rx', 'ry')}{style}{turn}/>",
                f"<circle {some('cx', 'cy', 'r')}{style}/>",
                f"<ellipse {some('cx', 'cy', 'rx', 'ry')}{turn}/>",
                f'<polygon points="{" ".join(number() for _ in range(dice.randrange(12)))}"/>',
                f'<use href="#i{dice.randrange(6)}" {some("x", "y", "width", "height")}/>',
                "<style>.a{fill-rule:evenodd}#i1{display:none}</style>", "<text>&amp;</text>",
            )
        )  # fmt: skip

    inside = "".join(element(0) for _ in range(6))
    data = bytearray(f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 90">{inside}</svg>'.encode())
    if dice.maybe(0.2):
        data[dice.randrange(len(data))] = dice.randrange(256)
    return bytes(data[: dice.randrange(len(data))] if dice.maybe(0.05) else data)
