"""A line of text as a row of letters, by HarfBuzz.

Terms. A *cluster* is what a maker sees as one letter: a base character with its accents, or
several characters merged by a ligature. A *run* is a stretch of a line that one font file draws
in one direction. Whole runs are shaped, not letters, because scripts change letters to suit
their neighbours.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby

import uharfbuzz as hb

from fulgen.bounded import Bounded
from fulgen.geometry.outline import Outline
from fulgen.geometry.weld import Shape, weld
from fulgen.lettering.faces import Face

Features = tuple[tuple[str, bool], ...]


@dataclass(frozen=True)
class Glyph:
    """A drawing of the face and where it stands from its letter's origin, for a size of 1."""

    file: int
    id: int
    x: float
    y: float


@dataclass(frozen=True, eq=False)
class ShapedLetter:
    """A letter as the face sets it, for a size of 1: its origin on the line, advance and glyphs."""

    face: Face
    text: str
    x: float
    advance: float
    glyphs: tuple[Glyph, ...]

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


def _file_for(face: Face, cluster: str) -> int | None:
    plain = "".join(c for c in cluster if not _invisible(c))
    if not plain:
        return 0
    found = face.file_for(plain)
    return face.file_for(unicodedata.normalize("NFD", plain)) if found is None else found


def _invisible(char: str) -> bool:
    """Spaces, joiners and variation selectors, which no face needs to draw."""
    return char.isspace() or unicodedata.category(char) == "Cf" or "\ufe00" <= char <= "\ufe0f"


def shape_line(face: Face, text: str, features: Features = ()) -> tuple[ShapedLetter, ...]:
    """The letters of one line from left to right, spaces included, starting at x = 0."""
    return _lines.get((face.key, text, features), lambda: tuple(_shaped(face, text, features)))


_lines: Bounded[tuple[str, str, Features], tuple[ShapedLetter, ...]] = Bounded(
    16 * 2**20, lambda letters: 200 + 3000 * len(letters)
)
_composed: Bounded[tuple[str, tuple[Glyph, ...]], Shape] = Bounded(
    16 * 2**20, lambda shape: 4000 + shape.outline.points.nbytes * 12
)


def _shaped(face: Face, text: str, features: Features) -> Iterator[ShapedLetter]:
    x = 0.0
    for run, file, direction in _runs(face, text):
        for cluster, glyphs, advance in _shape_run(face, file, run, direction, features):
            yield ShapedLetter(face, cluster, x, advance, glyphs)
            x += advance


def _runs(face: Face, text: str) -> list[tuple[str, int, str]]:
    """Runs in the order they stand from left to right: text, file and direction.

    The line's own direction is that of its first strong letter; letters without a direction go
    with those before them (the main rules of Unicode Annex 9, without nested embeddings).
    """
    rows: list[tuple[str, int, str]] = []
    found = clusters(text)
    base = next((d for d in map(_direction, found) if d), "ltr")
    direction, file = base, 0
    for cluster in found:
        direction = _direction(cluster) or direction
        own = _file_for(face, cluster)
        file = file if cluster.isspace() or own is None else own
        rows.append((cluster, file, direction))
    runs = [
        ("".join(row[0] for row in group), key[0], key[1])
        for key, group in groupby(rows, key=lambda row: (row[1], row[2]))
    ]
    return runs[::-1] if base == "rtl" else runs


def _direction(cluster: str) -> str:
    kind = unicodedata.bidirectional(cluster[0])
    return "rtl" if kind in ("R", "AL") else "ltr" if kind in ("L", "EN") else ""


def _shape_run(
    face: Face, file: int, run: str, direction: str, features: Features
) -> Iterator[tuple[str, tuple[Glyph, ...], float]]:
    buffer = hb.Buffer()
    # Any white space is set as a space, which every face has.
    buffer.add_str("".join(" " if c.isspace() else c for c in run))
    buffer.direction = direction
    buffer.guess_segment_properties()
    hb.shape(face.fonts[file], buffer, dict(features))
    upem = face.files[file].face.upem
    placed = list(zip(buffer.glyph_infos, buffer.glyph_positions, strict=True))
    starts = sorted({info.cluster for info, _ in placed})
    end_of = dict(zip(starts, [*starts[1:], len(run)], strict=True))
    for start, group in groupby(placed, key=lambda pair: pair[0].cluster):
        glyphs, advance = [], 0.0
        for info, at in group:
            x, y = advance + at.x_offset / upem, -at.y_offset / upem
            glyphs.append(Glyph(file, info.codepoint, x, y))
            advance += at.x_advance / upem
        yield run[start : end_of[start]], tuple(glyphs), advance
