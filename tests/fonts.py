"""Small fonts made for tests: known outlines in every container, with the traps of each."""

from __future__ import annotations

import io
from itertools import pairwise

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

UPEM = 1000
SQUARE = [(100, 0), (100, 500), (600, 500), (600, 0)]
"""The letter "a" of a test font: 500 units square, standing on the baseline; clockwise, as TrueType winds."""

HEBREW = "אבג"


def _draw(pen, corners):
    pen.moveTo(corners[0])
    for corner in corners[1:]:
        pen.lineTo(corner)
    pen.closePath()


def make_font(kind: str = "ttf", letters: str = "abHאבג", advance: int = 700) -> bytes:
    """A font with one square for every letter, as "ttf", "otf" (CFF), "woff" or "woff2"."""
    cff = kind == "otf"
    names = [".notdef", "space", *(f"u{ord(c):04X}" for c in letters)]
    builder = FontBuilder(UPEM, isTTF=not cff)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({32: "space", **{ord(c): f"u{ord(c):04X}" for c in letters}})
    glyphs = {}
    for name in names:
        pen = T2CharStringPen(advance, None) if cff else TTGlyphPen(None)
        if name not in (".notdef", "space"):
            _draw(pen, SQUARE)
        glyphs[name] = pen.getCharString() if cff else pen.glyph()
    if cff:
        builder.setupCFF("TestSquare", {}, glyphs, {})
    else:
        builder.setupGlyf(glyphs)
    builder.setupHorizontalMetrics(dict.fromkeys(names, (advance, 100)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Test Square", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    out = io.BytesIO()
    if kind in ("woff", "woff2"):
        builder.font.flavor = kind
    builder.font.save(out)
    return out.getvalue()


def repacked(path, flavor: str) -> bytes:
    """A shipped font file in another container."""
    font = TTFont(path)
    font.flavor = flavor or None
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def subset(path, characters: str) -> bytes:
    """The part of a font file that draws ``characters``, as the web delivers it."""
    from fontTools.subset import Options, Subsetter

    font = TTFont(path)
    subsetter = Subsetter(Options(layout_features="*"))
    subsetter.populate(text=characters)
    subsetter.subset(font)
    font.flavor = "woff2"
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def two_signs_of_one_glyph(one: str, other: str) -> bytes:
    """A font in which two signs are drawn by the same glyph: a tall bit, and a small one above it."""
    names = [".notdef", "space", "both"]
    builder = FontBuilder(UPEM, isTTF=True)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({32: "space", ord(one): "both", ord(other): "both"})
    pen = TTGlyphPen(None)
    _draw(pen, [(100, 0), (100, 400), (250, 400), (250, 0)])
    _draw(pen, [(110, 520), (110, 640), (240, 640), (240, 520)])
    empty = TTGlyphPen(None).glyph()
    builder.setupGlyf({".notdef": empty, "space": empty, "both": pen.glyph()})
    builder.setupHorizontalMetrics(dict.fromkeys(names, (350, 100)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Two Signs", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    out = io.BytesIO()
    builder.font.save(out)
    return out.getvalue()


def _one_letter_font(draw, names=(), more=lambda builder: None) -> bytes:
    """A font whose letters of "Willow" are all one glyph."""
    order = [".notdef", "space", "x", *names]
    builder = FontBuilder(UPEM, isTTF=True)
    builder.setupGlyphOrder(order)
    builder.setupCharacterMap({32: "space", **dict.fromkeys(map(ord, "Willow"), "x")})
    empty = TTGlyphPen(None).glyph()
    builder.setupGlyf({name: draw() if name not in (".notdef", "space") else empty for name in order})
    builder.setupHorizontalMetrics(dict.fromkeys(order, (700, 0)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Harm", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    more(builder)
    out = io.BytesIO()
    builder.font.save(out)
    return out.getvalue()


def _square():
    pen = TTGlyphPen(None)
    _draw(pen, SQUARE)
    return pen.glyph()


def with_corners(count: int) -> bytes:
    """A font whose letter is one polygon of so many sides that cross each other all over."""

    def draw():
        pen = TTGlyphPen(None)
        _draw(pen, [(n * 7919 % 997, n * 6271 % 991) for n in range(count)])
        return pen.glyph()

    return _one_letter_font(draw)


def substituting(steps: int) -> bytes:
    """A font that puts ten letters in the place of one, again and again."""
    names = [f"x{n}" for n in range(steps)]
    chain = ["x", *names]
    rules = "\n".join(
        f"lookup l{n} {{ sub {a} by {' '.join([b] * 10)}; }} l{n};"
        for n, (a, b) in enumerate(pairwise(chain))
    )
    uses = " ".join(f"lookup l{n};" for n in range(steps))

    def more(builder):
        builder.addOpenTypeFeatures(f"{rules}\nfeature calt {{ {uses} }} calt;")

    return _one_letter_font(_square, names, more)


def tagged_axis(tag: bytes) -> bytes:
    """A variable font whose axis has such a tag."""

    def more(builder):
        builder.setupFvar([("wght", 100, 400, 900, "Weight")], [])

    return _one_letter_font(_square, (), more).replace(b"wght", tag)
