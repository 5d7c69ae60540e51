"""Fields: what the rows of an order may say otherwise than the design, and the columns that say it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from fulgen.orders.lists import Table, folded
from fulgen.parts.lettering import Lettering
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe

FieldKind = Literal["words", "film", "face", "size", "copies"]


@dataclass(frozen=True)
class Field:
    """What a row may say: its kind, the part that it is of ("" for the whole design), what it is called on
    the screen, and the headings by which it is known."""

    kind: FieldKind
    part: str
    heading: str
    headings: tuple[str, ...] = ()

    @property
    def key(self) -> str:
        """What it goes by where it is kept."""
        return f"{self.kind}:{self.part}"

    def is_called(self, heading: str) -> bool:
        return folded(heading) in map(folded, self.headings)


def fields_of(recipe: Recipe) -> tuple[Field, ...]:
    """All fields of a design. The words of its letterings come first, in their order: the first is its name.

    A lettering's own words are no heading: they may well be a name of the list.
    """
    words = [part for part in recipe.parts if isinstance(part, Lettering) and not part.hidden]
    found = []
    for n, part in enumerate(words):
        usual = (_NAMES, _SECOND)[n] if n < 2 else ()
        headings = (part.id, *((part.name,) if part.name else ()), f"line {n + 1}", *usual)
        found.append(Field("words", part.id, part.name or _shown(part.text) or part.id, headings))
    return (
        *found,
        Field("film", "", "Film", ("film", "colour", "color", "vinyl")),
        Field("face", "", "Face", ("face", "font", "typeface")),
        Field("size", "", "Size", ("size", "height", "width")),
        Field(
            "copies", "", "How many", ("how many", "copies", "quantity", "qty", "number", "pieces", "count")
        ),
    )


_NAMES = ("name", "names", "text", "words", "first name")
_SECOND = ("second line", "surname", "last name")


def _shown(text: str) -> str:
    return " ".join(text.split())


@dataclass(frozen=True)
class Matching:
    """Which column says which field, and the columns that say none."""

    columns: tuple[tuple[int, Field], ...]
    unused: tuple[int, ...] = ()

    def values(self, cells: Sequence[str]) -> dict[Field, str]:
        """What a row says, field by field; an empty cell says nothing but for words."""
        said = {field: cells[column].replace("\\n", "\n").strip() for column, field in self.columns}
        return {field: value for field, value in said.items() if value or field.kind == "words"}


def headings_of(fields: Iterable[Field]) -> list[str]:
    """All headings by which fields are known."""
    return [heading for field in fields for heading in field.headings]


def matched(table: Table, fields: Sequence[Field], said: Mapping[str, str] | None = None) -> Matching:
    """The columns of a list and what they say: as said (heading or number to part or field), else by their
    headings, and where a list has none, in order: the words of the letterings.

    Raises Problem "no-column", "no-field" where what is said is not there.
    """
    taken: dict[int, Field] = {}
    for heading, name in (said or {}).items():
        taken[_column(table, heading)] = _field(fields, name)
    for number, heading in enumerate(table.headings):
        field = next(
            (f for f in fields if heading and f.is_called(heading) and f not in taken.values()), None
        )
        if number not in taken and field is not None:
            taken[number] = field
    words = [field for field in fields if field.kind == "words"]
    if not any(table.headings) and not taken:
        taken = dict(enumerate(words[: len(table.headings)]))
    if not any(field.kind == "words" for field in taken.values()):
        raise Problem(
            "no-column", "No column of the list is known to hold names.",
            f"Call one “{words[0].heading}” or “Name”." if words else "Add lettering to the design.", "list",
        )  # fmt: skip
    unused = tuple(n for n in range(len(table.headings)) if n not in taken)
    return Matching(tuple(sorted(taken.items(), key=lambda row: row[0])), unused)


def _column(table: Table, said: str) -> int:
    for number, heading in enumerate(table.headings):
        if folded(heading) == folded(said) and folded(said):
            return number
    if said.isdigit() and 1 <= int(said) <= len(table.headings):
        return int(said) - 1
    known = ", ".join(f"“{heading}”" for heading in table.headings if heading) or "only numbers"
    raise Problem("no-column", f"The list has no column “{said}”.", f"It has {known}.", "field")


def _field(fields: Sequence[Field], said: str) -> Field:
    found = next((f for f in fields if f.part == said or f.is_called(said)), None)
    if found is None:
        known = ", ".join(f"“{field.part or field.heading}”" for field in fields)
        raise Problem(
            "no-field", f"“{said}” is nothing that a row can say.", f"Choose one of {known}.", "field"
        )
    return found
