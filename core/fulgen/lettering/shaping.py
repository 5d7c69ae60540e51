"""A line of text as a row of letters, by HarfBuzz.

Terms. A *cluster* is what a maker sees as one letter: a base character with its accents, or
several characters merged by a ligature. A *run* is a stretch of a line that one font file draws
in one direction. Whole runs are shaped, not letters, because scripts change letters to suit
their neighbours.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby

import uharfbuzz as hb

from fulgen.bounded import BoundedCache, digest
from fulgen.geometry.outline import Outline
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import weld
from fulgen.lettering.faces import Face
from fulgen.problem import Problem

Features = tuple[tuple[str, int], ...]
"""Feature tags with their values: 0 is off, 1 is on, more is the number of an alternate."""


@dataclass(frozen=True, eq=False)
class Special:
    """What one letter has of its own: another face, or features of its own."""

    face: Face | None = None
    features: Features = ()

    @property
    def key(self) -> tuple[str, Features]:
        return (self.face.key if self.face else "", self.features)


Specials = Mapping[int, Special]
"""By the place of the letter's first character in the line."""


@dataclass(frozen=True)
class Glyph:
    """A drawing of the face and where it stands from its letter's origin, for a size of 1."""

    file: int
    id: int
    x: float
    y: float


LetterKey = tuple[str, tuple[Glyph, ...]]


@dataclass(frozen=True, eq=False)
class ShapedLetter:
    """A letter as the face sets it, for a size of 1: the place of its first character in the line, its
    origin on the line, advance and glyphs."""

    face: Face
    text: str
    at: int
    x: float
    advance: float
    glyphs: tuple[Glyph, ...]

    @property
    def key(self) -> LetterKey:
        """What the letter's shape depends on."""
        return (self.face.key, self.glyphs)

    @cached_property
    def digest(self) -> str:
        """A short name for the letter and its shape: quicker to compare than what it stands for."""
        return digest(self.text, self.face.key, repr(self.glyphs))

    @cached_property
    def shape(self) -> Shape:
        """The letter's clean shape, made when it is first asked for."""
        glyphs = self.glyphs
        if len(glyphs) == 1 and glyphs[0].x == 0 and glyphs[0].y == 0:
            return self.face.glyph(glyphs[0].file, glyphs[0].id)
        return _composed.get(
            (self.face.key, glyphs),
            lambda: weld([self.face.glyph(g.file, g.id).placed(g.x, g.y) for g in glyphs]),
        )

    @property
    def drawn(self) -> Outline:
        """The letter's contours as the face draws them: quicker, and good enough to look at."""
        return Outline.joined(self.face.drawn(g.file, g.id).placed(g.x, g.y) for g in self.glyphs)


def clusters(text: str) -> list[str]:
    """Letters with the accents and joiners that follow them, in composed form (NFC)."""
    found: list[str] = []
    for char in unicodedata.normalize("NFC", text):
        follows = unicodedata.category(char) in ("Mn", "Mc", "Me", "Cf") or (
            found and found[-1][-1] == "\u200d"
        )
        if found and follows:
            found[-1] += char
        else:
            found.append(char)
    return found


def missing_letters(face: Face, text: str) -> list[str]:
    """Letters of ``text`` that the face cannot draw, each once, in order."""
    lacking = (c for c in clusters(text) if _file_for(face, c) is None)
    return list(dict.fromkeys(lacking))


def letters_alone(face: Face, text: str) -> Iterator[ShapedLetter]:
    """Each character of a text set by itself; what has no shape, or what the face cannot draw, is passed
    over."""
    for char in text:
        if not missing_letters(face, char):
            yield from (letter for letter in shape_line(face, char) if letter.shape)


def _file_for(face: Face, cluster: str) -> int | None:
    plain = "".join(c for c in cluster if not _invisible(c))
    if not plain:
        return 0
    found = face.file_for(plain)
    return face.file_for(unicodedata.normalize("NFD", plain)) if found is None else found


def _invisible(char: str) -> bool:
    """Spaces, joiners and variation selectors, which no face needs to draw."""
    return char.isspace() or unicodedata.category(char) == "Cf" or "\ufe00" <= char <= "\ufe0f"


def shape_line(
    face: Face, text: str, features: Features = (), specials: Specials | None = None
) -> tuple[ShapedLetter, ...]:
    """The letters of one line from left to right, spaces included, starting at x = 0.

    ``text`` is in composed form (NFC), or places in ``specials`` would be of another text.
    """
    own = specials or {}
    key = (face.key, text, features, tuple((at, own[at].key) for at in sorted(own)))
    return _lines.get(key, lambda: tuple(_shaped(face, text, features, own)))


_lines: BoundedCache[tuple[object, ...], tuple[ShapedLetter, ...]] = BoundedCache(
    16 * 2**20, lambda letters: 200 + 1500 * len(letters)
)
_composed: BoundedCache[LetterKey, Shape] = BoundedCache(16 * 2**20)


def _shaped(face: Face, text: str, features: Features, specials: Specials) -> Iterator[ShapedLetter]:
    x = 0.0
    for run in _runs(face, text, specials):
        for cluster, at, glyphs, advance in _shape_run(run, features):
            yield ShapedLetter(run.face, cluster, at, x, advance, glyphs)
            x += advance


@dataclass(frozen=True, eq=False)
class _Run:
    """A stretch of a line drawn by one file of one face: its text, the place of each character in the
    line, and the features of single letters (start, end, tag, value) within it."""

    face: Face
    file: int
    direction: str
    text: str
    places: tuple[int, ...]
    own_features: tuple[tuple[int, int, str, int], ...]


def _runs(face: Face, text: str, specials: Specials) -> list[_Run]:
    """Runs in the order they stand from left to right.

    The line's own direction is that of its first strong letter; letters without a direction go
    with those before them (the main rules of Unicode Annex 9, without nested embeddings).
    """
    found = clusters(text)
    base = next((d for d in map(_direction, found) if d), "ltr")
    direction, file, place = base, 0, 0
    rows: list[tuple[str, int, Face, int, str]] = []
    for cluster in found:
        special = specials.get(place)
        own_face = special.face if special and special.face and not cluster.isspace() else face
        direction = _direction(cluster) or direction
        own = _file_for(own_face, cluster)
        file = file if cluster.isspace() or own is None else own
        rows.append((cluster, place, own_face, min(file, len(own_face.files) - 1), direction))
        place += len(cluster)
    runs = []
    for _, group in groupby(rows, key=lambda row: (row[2].key, row[3], row[4])):
        members = list(group)
        start = members[0][1]
        runs.append(
            _Run(
                members[0][2],
                members[0][3],
                members[0][4],
                "".join(cluster for cluster, *_ in members),
                tuple(at + n for cluster, at, *_ in members for n in range(len(cluster))),
                tuple(
                    (at - start, at - start + len(cluster), tag, value)
                    for cluster, at, *_ in members
                    if at in specials
                    for tag, value in specials[at].features
                ),
            )
        )
    return runs[::-1] if base == "rtl" else runs


def _direction(cluster: str) -> str:
    kind = unicodedata.bidirectional(cluster[0])
    return "rtl" if kind in ("R", "AL") else "ltr" if kind in ("L", "EN") else ""


MAX_GLYPHS_A_LETTER = 12
"""Substitutions may put several glyphs in a letter's place, in the mean; without a bound they multiply."""


def _shape_run(run: _Run, features: Features) -> Iterator[tuple[str, int, tuple[Glyph, ...], float]]:
    buffer = hb.Buffer()
    # Any white space is set as a space, which every face has.
    buffer.add_str("".join(" " if c.isspace() else c for c in run.text))
    buffer.direction = run.direction
    buffer.guess_segment_properties()
    wanted: dict[str, list[tuple[int, int, int]]] = {
        tag: [(0, len(run.text), int(value))] for tag, value in features
    }
    for start, end, tag, value in run.own_features:
        wanted.setdefault(tag, []).append((start, end, value))
    try:
        hb.shape(run.face.fonts[run.file], buffer, wanted)
        exploded = len(buffer) > MAX_GLYPHS_A_LETTER * max(1, len(run.text))
    except MemoryError:  # HarfBuzz gives up by itself beyond a bound of its own
        exploded = True
    if exploded:
        raise Problem(
            "bad-face",
            f"{run.face.name} puts far too many signs in the place of a letter.",
            "Choose another face.",
        )
    upem = run.face.files[run.file].face.upem
    placed = list(zip(buffer.glyph_infos, buffer.glyph_positions, strict=True))
    starts = sorted({info.cluster for info, _ in placed})
    end_of = dict(zip(starts, [*starts[1:], len(run.text)], strict=True))
    for start, group in groupby(placed, key=lambda pair: pair[0].cluster):
        glyphs, advance = [], 0.0
        for info, at in group:
            x, y = advance + at.x_offset / upem, -at.y_offset / upem
            glyphs.append(Glyph(run.file, info.codepoint, x, y))
            advance += at.x_advance / upem
        yield run.text[start : end_of[start]], run.places[start], tuple(glyphs), advance
