"""Face and Family: what a maker picks, and where letters' outlines come from.

A *family* is a set of faces under one name, with weights. A *face* is one weight of it at one
place on its axes. A face may be spread over several *font files*, each holding some of the
letters (subset files, as the web delivers them); for every letter the first file that has it is
used. Everything a face tells is in shares of the size (the em), y down, baseline at 0.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from io import BytesIO
from pathlib import Path
from typing import Literal

import numpy as np
import uharfbuzz as hb

from fulgen.bounded import BoundedCache
from fulgen.geometry import measure
from fulgen.geometry.flatten import flat_contours
from fulgen.geometry.outline import Floats, Outline
from fulgen.geometry.pen import OutlinePen
from fulgen.geometry.shape import Shape
from fulgen.geometry.weld import clean
from fulgen.lettering.fontfile import MAX_FILE_BYTES, sfnt_bytes
from fulgen.problem import Problem

LETTER_FLATNESS = 6e-4
"""How far the polygon twin of a letter may be from its curves, as a share of the size."""

MAX_SEGMENTS = 6000
"""Sides in one letter. The busiest shipped letter has about 300."""

Location = tuple[tuple[str, float], ...]
"""Axis values, sorted by axis: (("wght", 650.0),)."""


@dataclass(frozen=True)
class Axis:
    """A way a variable face can be changed smoothly: its tag, name, and range."""

    tag: str
    name: str
    low: float
    default: float
    high: float


@dataclass(frozen=True)
class Feature:
    """Something a face can do with letters that can be turned on or off."""

    tag: str
    name: str
    default: bool


class FontFile:
    """One font file, checked, and HarfBuzz's view of it."""

    def __init__(self, data: bytes, name: str, *, shipped: bool = False) -> None:
        sfnt = sfnt_bytes(data, name)
        self.name = name
        self.shipped = shipped
        self.size = len(sfnt)
        self.key = hashlib.blake2b(sfnt, digest_size=12).hexdigest()
        self.face = hb.Face(sfnt)
        if not self.face.glyph_count or not self.face.unicodes:
            raise Problem(
                "bad-face",
                f"The face file {name} has no letters.",
                "Get the file again, or choose another face.",
            )

    @cached_property
    def letters(self) -> frozenset[int]:
        """Code points the file has."""
        return frozenset(self.face.unicodes)

    def axes(self) -> tuple[Axis, ...]:
        names = {
            "wght": "Weight",
            "wdth": "Width",
            "slnt": "Slant",
            "ital": "Italic",
            "opsz": "Size drawn for",
        }
        with self._proper_names():
            infos = self.face.axis_infos
        return tuple(
            Axis(a.tag, names.get(a.tag) or self.face.get_name(a.name_id) or a.tag,
                 float(a.min_value), float(a.default_value), float(a.max_value))
            for a in infos
        )  # fmt: skip

    def feature_tags(self, table: Literal["GSUB", "GPOS"]) -> Sequence[str]:
        """Tags of the features of a table."""
        with self._proper_names():
            return tuple(self.face.get_language_feature_tags(table))

    @contextmanager
    def _proper_names(self) -> Iterator[None]:
        try:
            yield
        except UnicodeDecodeError:  # a tag is four ASCII signs (OpenType, "Data types")
            raise Problem(
                "bad-face",
                f"The face file {self.name} is damaged: an axis or a feature of it has no proper name.",
                "Get the file again, or choose another face.",
            ) from None


@dataclass(frozen=True, eq=False)
class Face:
    """Font files at a place on their axes. Compared and cached by ``key``."""

    name: str
    files: tuple[FontFile, ...]
    location: Location = ()

    @property
    def kept_bytes(self) -> int:
        """About how many bytes the face keeps alive beside its files: HarfBuzz's fonts."""
        return 8_000 * len(self.files)

    @property
    def step_key(self) -> str:
        return self.key

    @cached_property
    def key(self) -> str:
        parts = [f.key for f in self.files] + [f"{tag}={value!r}" for tag, value in self.location]
        return "+".join(parts)

    @cached_property
    def fonts(self) -> tuple[hb.Font, ...]:
        """HarfBuzz fonts in font units, one for each file, set to the location."""
        fonts = []
        for file in self.files:
            font = hb.Font(file.face)
            if self.location:
                font.set_variations(dict(self.location))
            fonts.append(font)
        return tuple(fonts)

    @cached_property
    def letters(self) -> frozenset[int]:
        """Code points the face has."""
        return frozenset().union(*(f.letters for f in self.files))

    def file_for(self, cluster: str) -> int | None:
        """Which file draws a letter with its accents: the first that has all of it."""
        points = {ord(c) for c in cluster}
        for index, file in enumerate(self.files):
            if points <= file.letters:
                return index
        return None

    def glyph(self, file: int, glyph_id: int) -> Shape:
        """A glyph's clean shape, for a size of 1. Raises Problem for a glyph without bounds."""
        return _glyphs.get((self.key, file, glyph_id), lambda: self._draw(file, glyph_id))

    def drawn(self, file: int, glyph_id: int) -> Outline:
        """A glyph's contours as the face draws them, for a size of 1."""
        pen = OutlinePen(MAX_SEGMENTS)
        self.fonts[file].draw_glyph_with_pen(glyph_id, pen)
        if pen.overflowed:
            raise Problem(
                "bad-face",
                f"A letter of {self.name} has more than {MAX_SEGMENTS:,} sides.",
                "Choose a face with simpler letters.",
            )
        upem = self.files[file].face.upem
        return Outline(pen.outline.verbs, pen.outline.points * (1 / upem, -1 / upem))

    def _draw(self, file: int, glyph_id: int) -> Shape:
        drawn = self.drawn(file, glyph_id)
        if not np.isfinite(drawn.points).all() or np.abs(drawn.points).max(initial=0.0) > 100:
            raise Problem(
                "bad-face",
                f"A letter of {self.name} is drawn far outside any sensible size.",
                "Choose another face.",
            )
        return clean(drawn, LETTER_FLATNESS)

    def _height_of(self, letters: str) -> float:
        """The height of the first of some letters that the face has, as drawn; 0 where it has none."""
        for letter in letters:
            file = self.file_for(letter)
            if file is not None:
                glyph_id = self.fonts[file].get_nominal_glyph(ord(letter))
                top = -measure.box(self.drawn(file, glyph_id or 0)).y
                if top > 0:
                    return top
        return 0.0

    @cached_property
    def capital_height(self) -> float:
        """Height of a capital as drawn, as a share of the size: H's, or the tallest flat capital."""
        if top := self._height_of("HIEXZ"):
            return top
        return 0.7  # a face without Latin capitals; a usual proportion, from memory

    @cached_property
    def x_height(self) -> float:
        """Height of a small letter as drawn, as a share of the size: x's, or the lowest flat small
        letter's."""
        if top := self._height_of("xzvu"):
            return top
        return 0.5  # a face without Latin small letters; a usual proportion, from memory

    @cached_property
    def is_written(self) -> bool:
        """Whether its small letters are written: they lean to the right (by more than _UPRIGHT in
        the mean of their steep sides), or their strokes run on to where the next letter begins."""
        stems = list(self._stems())
        if not stems:
            return False
        leaning, lengths = np.concatenate([steep_sides(self.drawn(*stem)) for stem in stems]).T
        leans = float(leaning @ lengths) > _UPRIGHT * float(lengths.sum())
        return leans or sum(self._runs_on(*stem) for stem in stems) * 2 >= len(stems)

    def _runs_on(self, file: int, glyph: int) -> bool:
        """Whether a letter reaches as far as its room does."""
        box = measure.box(self.drawn(file, glyph))
        advance = self.fonts[file].get_glyph_h_advance(glyph) / self.files[file].face.upem
        return bool(box.x + box.width >= advance)

    def _stems(self) -> Iterator[tuple[int, int]]:
        """Small letters made of stems, of those that the face has."""
        for letter in "nuhimr":
            file = self.file_for(letter)
            if file is not None and (glyph := self.fonts[file].get_nominal_glyph(ord(letter))):
                yield file, glyph

    @cached_property
    def substitutions(self) -> frozenset[str]:
        """Tags of all features that give letters other shapes."""
        return frozenset(tag for f in self.files for tag in f.feature_tags("GSUB"))

    def features(self) -> tuple[Feature, ...]:
        """What can be switched, in the order a maker meets it."""
        found = {}
        for file in self.files:
            for tag in (*file.feature_tags("GSUB"), *file.feature_tags("GPOS")):
                if tag in FEATURE_NAMES:
                    name, usual = FEATURE_NAMES[tag]
                    found[tag] = Feature(tag, name, usual)
        if any("kern" in f.face.table_tags for f in self.files):
            found["kern"] = Feature("kern", *FEATURE_NAMES["kern"])
        return tuple(found[tag] for tag in FEATURE_NAMES if tag in found)


_UPRIGHT = math.radians(2.5)
"""(†) Of the faces that ship, written ones lean by 3.4 to 22 degrees, the others by 1.3 at most, or back."""

_STEEP = math.radians(35)


def steep_sides(outline: Outline) -> Floats:
    """By how much each steep side of an outline leans, in radians, and how long it is, (N, 2)."""
    ways = np.concatenate([np.diff(ring, axis=0) for ring in flat_contours(outline, LETTER_FLATNESS)])
    ways = np.where(ways[:, 1:] > 0, -ways, ways)  # upwards; y is down
    leaning = np.arctan2(ways[:, 0], -ways[:, 1])
    return np.asarray(np.stack([leaning, np.hypot(*ways.T)], axis=1)[np.abs(leaning) < _STEEP])


FEATURE_NAMES: dict[str, tuple[str, bool]] = {
    "kern": ("Pairs sit closer or wider (kerning)", True),
    "liga": ("Letters that merge (ligatures)", True),
    "calt": ("Letters that suit their neighbours", True),
    "init": ("Special first letters", False),
    "fina": ("Special last letters", False),
    "dlig": ("Fancy merged letters", False),
    "hlig": ("Old merged letters", False),
    "swsh": ("Swashes", False),
    "salt": ("Other letter shapes", False),
    "onum": ("Old-style figures", False),
    "tnum": ("Figures of one width", False),
    "frac": ("Fractions", False),
    "ordn": ("Raised ordinals", False),
    "smcp": ("Small capitals", False),
    "zero": ("Slashed zero", False),
    **{f"ss{n:02}": (f"Style set {n}", False) for n in range(1, 21)},
}
"""Features by their OpenType tag: words for makers, and whether they are on unless switched.

init and fina of Latin scripts are off by default because HarfBuzz applies them to Arabic only;
the registry says they are for cursive joining (OpenType feature registry, Microsoft).
"""


_glyphs: BoundedCache[tuple[str, int, int], Shape] = BoundedCache(64 * 2**20)


def read_face(path: Path, location: Location = ()) -> Face:
    """A face from a file of the maker's. Raises Problem when it cannot be read or is no font."""
    try:
        is_plain = path.is_file()  # a device or a pipe never ends
        with path.open("rb") if is_plain else BytesIO() as stream:
            data = stream.read(MAX_FILE_BYTES + 1)
    except OSError:
        is_plain = False
    if not is_plain:
        raise Problem("no-face", f"There is no face file {path.name} there.", "Check the path.")
    file = FontFile(data, path.name)
    return at_location(Face(face_name(file), (file,)), dict(location))


def at_location(face: Face, axes: dict[str, float]) -> Face:
    """The face with its axes set; axes it lacks are ignored, values kept in range."""
    known = {axis.tag: axis for axis in face.files[0].axes()}
    place = {
        tag: min(max(value, known[tag].low), known[tag].high) for tag, value in axes.items() if tag in known
    }
    return Face(face.name, face.files, tuple(sorted(place.items())))


def face_name(file: FontFile) -> str:
    """Family and style as the file names itself (name IDs 16/17, else 1/2 of the OpenType name table)."""
    family = file.face.get_name(16) or file.face.get_name(1) or Path(file.name).stem
    style = file.face.get_name(17) or file.face.get_name(2) or ""
    return f"{family} {style}".strip() if style not in ("", "Regular") else family
