"""Lists read: names pasted or typed, one a line, CSV of any usual separator and encoding, and XLSX.

A list is hostile until it is read: it is bounded in bytes, rows, columns and letters, and a formula is a text
like any other; of a spreadsheet only what its cells show is read.
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

from fulgen.orders.encodings import likely_encoding
from fulgen.problem import Problem

MOST_BYTES = 8 * 2**20
MOST_UNPACKED_BYTES = 64 * 2**20
MOST_ROWS = 5_000
MOST_COLUMNS = 40
MOST_LETTERS = 500
"""Letters of one cell."""

_SEPARATORS = "\t;,|"


@dataclass(frozen=True)
class Table:
    """A list as it was read: the headings of its columns, "" where it has none, and its rows, each with the
    number that it has in its file. Rows are as long as there are columns."""

    headings: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]

    def column(self, number: int) -> list[str]:
        return [cells[number] for _, cells in self.rows]


def read_list(data: bytes, name: str, headings: Iterable[str] = ()) -> Table:
    """A list from a file. Its first row is taken for headings where one of its cells is one of those known.

    Raises Problem "bad-list" where it cannot be read, or is larger than a list may be.
    """
    if len(data) > MOST_BYTES:
        raise _bad(f"{name} is larger than {MOST_BYTES // 2**20} MB.", "Split the list.")
    is_workbook = data.startswith(b"PK")
    cells = _sheet_cells(data, name) if is_workbook else _text_cells(_decoded(data, name), name)
    return _table(cells, name, headings)


def read_pasted(text: str, headings: Iterable[str] = ()) -> Table:
    """A list as it was pasted: one name a line, or the cells of a spreadsheet. Raises Problem "bad-list"."""
    return _table(_text_cells(text, "The list"), "The list", headings)


def _decoded(data: bytes, name: str) -> str:
    """A text in whatever encoding: by its mark (Unicode 16, section 23.8), as UTF-8 where it can be that, and
    otherwise as its letters make it likely."""
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            return _as(data, encoding, name)
    if b"\0" in data[:2_000]:
        return _as(data, "utf-16-le" if data[1:2] == b"\0" else "utf-16-be", name)
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        return _as(data, likely_encoding(data) or "cp1252", name)


def _as(data: bytes, encoding: str, name: str) -> str:
    try:
        return data.decode(encoding)
    except (UnicodeDecodeError, LookupError):
        raise _bad(f"The letters of {name} cannot be read.", "Save it as CSV in UTF-8.") from None


def _text_cells(text: str, name: str) -> Iterator[Sequence[str]]:
    """The rows of a text. One cell a line is one cell, whatever it holds."""
    if "\0" in text:
        raise _bad(f"{name} is no list.", "Choose a CSV or XLSX file, or one name a line.")
    separator = _separator(text)
    try:
        if separator is None:
            yield from ([line] for line in text.splitlines())
        else:
            yield from csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    except csv.Error:
        raise _bad(f"{name} cannot be read as a list.", "Save it again as CSV.") from None


def _separator(text: str) -> str | None:
    """What parts the cells: the sign by which most of the first rows fall into equally many, more than one;
    None where there is none."""
    found: list[tuple[int, int, str]] = []
    for rank, sign in enumerate(_SEPARATORS):
        try:
            read = csv.reader(io.StringIO(text, newline=""), delimiter=sign)
            rows = list(islice((row for row in read if row), 30))
        except csv.Error:
            continue
        widths = [len(row) for row in rows]
        usual = max(set(widths), key=widths.count, default=1)
        alike = widths.count(usual)
        if usual > 1 and 2 * alike > len(widths):
            found.append((alike, -rank, sign))
    return max(found)[2] if found else None


def _sheet_cells(data: bytes, name: str) -> Iterator[Sequence[str]]:
    """The rows of the first sheet of a workbook (ECMA-376), read by openpyxl: what its cells show."""
    from openpyxl import load_workbook  # with its XML library: imported when it is wanted

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            size = sum(entry.file_size for entry in packed.infolist())
        if size > MOST_UNPACKED_BYTES:
            raise _bad(f"{name} holds more than a list may.", "Save only the list, as CSV.")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        sheet = book.worksheets[0]
        for row in sheet.iter_rows(max_row=MOST_ROWS + 2, max_col=MOST_COLUMNS + 1, values_only=True):
            cells = [_shown(value) for value in row]
            while cells and not cells[-1]:
                cells.pop()
            yield cells
    except Problem:
        raise
    except Exception:  # whatever a broken workbook makes its reader raise
        raise _bad(f"{name} cannot be read as a spreadsheet.", "Save it again as XLSX or CSV.") from None


def _shown(value: object) -> str:
    """What a cell shows: nothing, a text, or a number without a needless point."""
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value)


def _table(cells: Iterable[Sequence[str]], name: str, headings: Iterable[str]) -> Table:
    known = {folded(heading) for heading in headings}
    rows: list[tuple[int, list[str]]] = []
    for number, row in enumerate(cells, 1):
        if number > MOST_ROWS + 1:
            raise _bad(f"{name} has more than {MOST_ROWS:,} rows.", "Split the list.")
        if len(row) > MOST_COLUMNS:
            raise _bad(f"Row {number} of {name} has more than {MOST_COLUMNS} cells.", "Leave out columns.")
        if any(len(cell) > MOST_LETTERS for cell in row):
            raise _bad(
                f"Row {number} of {name} has a cell of more than {MOST_LETTERS} letters.",
                "Shorten it, or leave it out.",
            )
        rows.append((number, list(row)))
    while rows and not any(cell.strip() for cell in rows[-1][1]):
        rows.pop()
    if not rows:
        raise _bad(f"There are no rows in {name}.", "Put a name on each line.")
    wide = max(len(row) for _, row in rows)
    even = [(number, (*row, *[""] * (wide - len(row)))) for number, row in rows]
    first = even[0][1]
    if known and any(folded(cell) in known for cell in first):
        if len(even) == 1:
            raise _bad(f"{name} has headings and no rows.", "Put a name on each line below them.")
        return Table(tuple(cell.strip() for cell in first), tuple(even[1:]))
    return Table(("",) * wide, tuple(even))


def folded(text: str) -> str:
    """A word as headings are compared: without case, space and signs."""
    return "".join(sign for sign in text.casefold() if sign.isalnum())


def _bad(what: str, todo: str) -> Problem:
    return Problem("bad-list", what, todo, "list")
