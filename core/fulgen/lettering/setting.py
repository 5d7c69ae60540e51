"""Setting: how words are set, as a recipe keeps it, and the faces it names, found."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator
from pydantic_core import PydanticCustomError

from fulgen.frozen import NO_OTHERS, STRICT, WHOLE, Flag, Frozen
from fulgen.geometry.offset import Corners
from fulgen.lettering.catalogue import FaceChoice, FaceSource
from fulgen.lettering.course import Course, Warp
from fulgen.lettering.faces import Face
from fulgen.lettering.habits import MOST_HABITS, Habit, with_habits
from fulgen.lettering.letters import LetterChange, LetterId, LetterKey, Tag
from fulgen.lettering.reshape import LetterShape

Align = Literal["left", "centre", "right"]

MAX_LETTERS = 500
MAX_LINES = 20


@dataclass(frozen=True)
class Size:
    """What the maker measures: the overall width or height, the height of a capital, or the size of the
    face as type is measured (its em)."""

    __pydantic_config__ = STRICT

    measure: Literal["width", "height", "capitals", "face"] = "capitals"
    mm: Annotated[float, Field(strict=True, ge=1.0, le=3000.0)] = 25.0


class Setting(Frozen):
    """How words are set: text in a face, at a size. Lengths in mm; shares are of the size (the em).

    letter_ids names each character of the text, so that what a hand has done to a letter stays with it
    when the text is edited; where there are none, or not as many as characters, they count from 1.
    next_letter_id is greater than every id there ever was, so that none is used twice. letters is what a hand
    has done, by these ids; kinds are changes of the nodes of every letter of a kind; habits are what is done
    to letters and pairs of a family wherever they come. thicken_mm moves every edge outwards (inwards where
    negative); stretch makes letters so many times as wide, slant leans them to the right by so many degrees.
    course is what they run along, if not a straight line, warp how they are bent as a whole.
    """

    text: str = Field(
        "",
        description=f"At most {MAX_LETTERS} letters on at most {MAX_LINES} lines.",
        json_schema_extra={"maxLength": MAX_LETTERS + MAX_LINES - 1},
    )
    letter_ids: tuple[LetterId, ...] = Field(
        (), max_length=MAX_LETTERS + MAX_LINES, json_schema_extra={"uniqueItems": True}
    )
    next_letter_id: Annotated[int, Field(ge=1, le=1_000_001), WHOLE] = 1
    letters: dict[LetterKey, LetterChange] = Field(
        default_factory=dict,
        max_length=MAX_LETTERS,
        json_schema_extra={"propertyNames": {"pattern": "^([1-9][0-9]{0,5}|1000000)$"}},
    )
    kinds: dict[Annotated[str, Field(min_length=1, max_length=8)], LetterShape] = Field(
        default_factory=dict, max_length=60
    )
    habits: tuple[Habit, ...] = Field(default=(), max_length=MOST_HABITS)
    thicken_mm: float = Field(0.0, strict=True, ge=-20.0, le=50.0)
    corners: Corners = "round"
    stretch: float = Field(1.0, strict=True, ge=0.5, le=2.0)
    slant: float = Field(0.0, strict=True, ge=-45.0, le=45.0)
    face: FaceChoice = FaceChoice()
    features: dict[Tag, Flag] = Field(default_factory=dict, max_length=40, json_schema_extra=NO_OTHERS)
    size: Size = Size()
    spacing_mm: float = Field(0.0, strict=True, ge=-100.0, le=300.0)
    spacing_share: float = Field(0.0, strict=True, ge=-0.5, le=2.0)
    line_spacing: float = Field(1.2, strict=True, ge=0.3, le=5.0)
    align: Align = "left"
    course: Course | None = None
    warp: Warp | None = None

    @model_validator(mode="before")
    @classmethod
    def _plain_text(cls, data: Any) -> Any:
        """Only signs that can be cut, in composed form; an id that named a sign that goes is gone with it."""
        text = data.get("text") if isinstance(data, dict) else None
        if not isinstance(text, str) or len(text) > 4 * MAX_LETTERS:
            return data
        signs = list(composed(text))
        ids = data.get("letter_ids", ())
        places = [at for _, at in signs]
        named = isinstance(ids, list | tuple) and len(ids) == len(text) and len(set(places)) == len(places)
        kept = {"letter_ids": [ids[at] for at in places]} if named else {}
        return {**data, "text": "".join(sign for sign, _ in signs), **kept}

    @field_validator("text")
    @classmethod
    def _within_bounds(cls, text: str) -> str:
        lines = text.split("\n")
        letters = sum(map(len, lines))
        if letters > MAX_LETTERS:
            raise PydanticCustomError(
                "too_many_letters",
                "There are {letters} letters, and a part holds up to {most}.",
                {"letters": f"{letters:,}", "most": MAX_LETTERS},
            )
        if len(lines) > MAX_LINES:
            raise PydanticCustomError(
                "too_many_lines",
                "There are {lines} lines, and a part holds up to {most}.",
                {"lines": f"{len(lines):,}", "most": MAX_LINES},
            )
        return text

    @field_validator("letter_ids")
    @classmethod
    def _all_different(cls, ids: tuple[int, ...]) -> tuple[int, ...]:
        if len(set(ids)) < len(ids):
            raise PydanticCustomError("same_id", "Two letters have the same id.")
        return ids

    @model_validator(mode="after")
    def _next_is_new(self) -> Setting:
        used = max((*self.ids, *self.letters), default=0)
        if self.next_letter_id <= used:
            # A frozen model is changed once, while it is made.
            self.__dict__["next_letter_id"] = used + 1
        return self

    @property
    def ids(self) -> tuple[int, ...]:
        """The id of each character of the text."""
        if len(self.letter_ids) == len(self.text):
            return self.letter_ids
        return tuple(range(1, len(self.text) + 1))

    @property
    def changes(self) -> dict[int, LetterChange]:
        """What hands have done, by the place of the letter in the text."""
        own = {at: self.letters[name] for at, name in enumerate(self.ids) if name in self.letters}
        if not self.habits:
            return own
        habits = [habit for habit in self.habits if habit.letters not in self.kinds]
        return with_habits(self.text, self.face.family, habits, own)


def composed(text: str) -> Iterator[tuple[str, int]]:
    r"""The signs of a text that can be cut, in composed form (NFC: one character, one letter id), each with
    the place where it stood.

    >>> list(composed("a\x0b\r\ne\u0301"))
    [('a', 0), ('\n', 3), ('é', 4)]
    """
    run, start = "", 0
    for at, sign in enumerate(text):
        if sign == "\r":
            if text[at + 1 : at + 2] == "\n":
                continue
            sign = "\n"
        elif sign == "\t":
            sign = " "
        elif sign != "\n" and unicodedata.category(sign) in ("Cc", "Cs"):
            continue  # control characters and lone surrogates have no shape and no meaning on a cutter
        # What composes is a starter and the marks after it (Unicode Annex 15), and Hangul's letters.
        composes = run and unicodedata.normalize("NFC", run[-1] + sign) != run[-1] + sign
        if run and (composes or unicodedata.combining(sign)):
            run += sign
        else:
            yield from ((c, start + n) for n, c in enumerate(unicodedata.normalize("NFC", run)))
            run, start = sign, at
    yield from ((c, start + n) for n, c in enumerate(unicodedata.normalize("NFC", run)))


@dataclass(frozen=True, eq=False)
class Faces:
    """The faces of a setting, found: that of the words, and those of single letters by their places."""

    face: Face
    own: Mapping[int, Face] = field(default_factory=dict)

    @classmethod
    def of(cls, setting: Setting, source: FaceSource) -> Faces:
        own = {at: source(change.face) for at, change in setting.changes.items() if change.face}
        return cls(source(setting.face), own)
