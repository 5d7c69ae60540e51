"""Rows of an order: what each says, what is to be known of it, and the design with its values."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from fulgen.framing.frames import FRAMES
from fulgen.lettering.catalogue import NO_OWN, named_family
from fulgen.orders.fields import Field, Matching
from fulgen.orders.lists import Table
from fulgen.parts.combination import Combination
from fulgen.parts.frame import Frame
from fulgen.parts.lettering import Lettering
from fulgen.parts.part import Part
from fulgen.problem import Problem
from fulgen.readiness.films import COLOUR_WORDS
from fulgen.recipe.changes import retyped
from fulgen.recipe.cutting import MOST_COPIES
from fulgen.recipe.model import Recipe
from fulgen.units import parse_length


@dataclass(frozen=True)
class Row:
    """A row of an order: its place in the order, from 1; what it says; what is to be known of it before it is
    made; and how many are cut."""

    number: int
    values: Mapping[Field, str]
    notes: tuple[str, ...] = field(default=())

    @property
    def words(self) -> str:
        """All its words, in one line."""
        said = (value for one, value in self.values.items() if one.kind == "words")
        return " ".join(" ".join(value.split()) for value in said if value.strip())

    @property
    def title(self) -> str:
        """What it goes by on sheets: its number and words."""
        return f"{self.number:03d} {self.words}"

    @property
    def is_empty(self) -> bool:
        return not self.words

    @property
    def copies(self) -> int:
        """How many of it are cut. Raises Problem "bad-count" where that is no number of things."""
        said = next((value for one, value in self.values.items() if one.kind == "copies"), "1")
        number = re.sub(r"[.,]0*$", "", said.strip())
        if not number.isdecimal() or not 1 <= int(number) <= MOST_COPIES:
            todo = f"Type a number from 1 to {MOST_COPIES}."
            raise Problem("bad-count", f"“{said[:20]}” is not how many to cut.", todo, "copies")
        return int(number)


def rows_of(table: Table, matching: Matching) -> tuple[Row, ...]:
    """The rows of a list, none left out."""
    return noted([Row(number, matching.values(cells)) for number, (_, cells) in enumerate(table.rows, 1)])


def noted(rows: Iterable[Row]) -> tuple[Row, ...]:
    """The rows with what is to be known of each: what stands there twice, or nearly, is noted beside it."""
    seen: dict[tuple[str, ...], int] = {}
    near: dict[tuple[str, ...], int] = {}
    found = []
    for row in rows:
        number = row.number
        said = tuple(f"{one.kind}{one.part}={value}" for one, value in row.values.items())
        alike = tuple(_plain(text) for text in said)
        if row.is_empty:
            row = replace(row, notes=("There is no name in this row.",))
        elif said in seen:
            row = replace(row, notes=(f"The same as row {seen[said]}.",))
        elif alike in near:
            row = replace(
                row, notes=(f"The same as row {near[alike]}, but for spaces, capitals or accents.",)
            )
        seen.setdefault(said, number)
        near.setdefault(alike, number)
        found.append(row)
    return tuple(found)


def _plain(text: str) -> str:
    """A text without case, spaces and accents."""
    apart = unicodedata.normalize("NFD", text.casefold())
    return "".join(sign for sign in apart if not unicodedata.combining(sign) and not sign.isspace())


def recipe_of(design: Recipe, row: Row, own: Mapping[str, str] = NO_OWN) -> Recipe:
    """The design with what a row says. Initials follow their names by themselves. ``own``: the names of the
    maker's own faces, by their slugs.

    Raises Problem "bad-film", "no-face", "not-a-length" and what a recipe says of words that are too many.
    """
    parts: dict[str, Part] = {part.id: part for part in design.parts}
    first = next((part for part in design.parts if isinstance(part, Lettering) and not part.hidden), None)
    for one, value in row.values.items():
        part = parts.get(one.part)
        if one.kind == "words" and isinstance(part, Lettering):
            parts[one.part] = retyped(part, "\n".join(line.strip() for line in value.strip().split("\n")))
    for one, value in row.values.items():
        if one.kind == "film" and first is not None:
            parts = _in_film(parts, _cut_with(design, first).film, film_of(design, value))
        elif one.kind == "face" and first is not None:
            parts = _in_face(parts, first, named_family(value, own)[0])
        elif one.kind == "size" and first is not None:
            parts = _in_size(parts, first, parse_length(value, "mm", "size"))
    return design.model_copy(update={"parts": tuple(parts.values())})


def words_without_place(design: Recipe, row: Row) -> tuple[str, ...]:
    """What a row says in letterings that the design does not have any more."""
    known = {part.id for part in design.parts if isinstance(part, Lettering)}
    said = (value for one, value in row.values.items() if one.kind == "words" and one.part not in known)
    return tuple(" ".join(value.split()) for value in said if value.strip())


def film_of(design: Recipe, said: str) -> str:
    """The film that a row means: by its colour, by what the shop calls it, or by a word for a colour. Raises
    Problem "bad-film"."""
    if re.fullmatch(r"#[0-9a-fA-F]{6}", said.strip()):
        return said.strip().upper()
    wanted = said.strip().casefold()
    named = {stock.name.strip().casefold(): stock.film for stock in design.cut.stocks if stock.name.strip()}
    words = {word.casefold(): colour for word, colour in COLOUR_WORDS.items()}
    film = named.get(wanted) or words.get(wanted)
    if film is None:
        known = [stock.name for stock in design.cut.stocks if stock.name.strip()] or list(COLOUR_WORDS)
        todo = f"Choose one of {', '.join(known)}, or a colour such as #2B5674."
        raise Problem("bad-film", f"No film is called “{said[:40]}”.", todo, "film")
    return film.upper()


def _cut_with(design: Recipe, words: Part) -> Part:
    """What words are cut with: the outermost combination that they are part of, or they themselves."""
    holder = next((p for p in design.parts if isinstance(p, Combination) and words.id in p.members), None)
    return words if holder is None else _cut_with(design, holder)


def _in_film(parts: Mapping[str, Part], old: str, new: str) -> dict[str, Part]:
    """All that is of one film, in another."""
    return {
        name: part.model_copy(update={"film": new}) if part.film.upper() == old.upper() else part
        for name, part in parts.items()
    }


def _in_face(parts: Mapping[str, Part], first: Lettering, family: str) -> dict[str, Part]:
    """All words of the first ones' family, in another."""
    return {
        name: in_family(part, family)
        if isinstance(part, Lettering) and part.face.family == first.face.family
        else part
        for name, part in parts.items()
    }


def in_family(part: Lettering, family: str) -> Lettering:
    """Lettering in another family, as that has it."""
    face = replace(part.face, family=family, weight=None, axes={})
    return part.model_copy(update={"face": face, "features": {}})


def _in_size(parts: Mapping[str, Part], first: Lettering, mm: float) -> dict[str, Part]:
    """The first words in another size, as the design measures it; a frame that holds them in another
    width."""
    frame = next((p for p in parts.values() if isinstance(p, Frame) and first.id in p.members), None)
    if frame is not None:
        by = mm / frame.width_mm
        sized: Part = frame.model_copy(
            update={"width_mm": mm, "height_mm": frame.height_mm * by, "values": _grown(frame, by)}
        )
        return {**parts, frame.id: sized}
    part = parts[first.id]
    assert isinstance(part, Lettering)
    return {**parts, first.id: part.model_copy(update={"size": replace(part.size, mm=mm)})}


def _grown(frame: Frame, by: float) -> dict[str, float]:
    """A frame's measures that are lengths, so many times as large."""
    lengths = (
        {m.key for m in FRAMES[frame.form].measures if m.kind == "length"} if frame.form in FRAMES else set()
    )
    return {key: value * by if key in lengths else value for key, value in frame.values.items()}


def has_words(rows: Sequence[Row]) -> bool:
    """Whether there is anything to make."""
    return any(not row.is_empty for row in rows)
