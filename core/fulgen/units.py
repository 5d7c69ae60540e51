"""Lengths as a maker types and reads them, in millimetres or inches."""

from __future__ import annotations

import math
import re
from typing import Literal

from fulgen.problem import Problem

Unit = Literal["mm", "in"]

MM_PER_INCH = 25.4
"""Exact by definition: international yard and pound agreement, 1959 (1 in = 25.4 mm)."""

MM_PER_POINT = MM_PER_INCH / 72
"""The point of desktop publishing (ISO 32000-1, 8.3.2.3: the default unit of user space)."""

_MM_PER = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": MM_PER_INCH, "inch": MM_PER_INCH,
           "inches": MM_PER_INCH, '"': MM_PER_INCH, "″": MM_PER_INCH, "pt": MM_PER_POINT}  # fmt: skip

_LENGTH = re.compile(r"(?P<sign>[-−+]?)\s*(?P<number>[\d.,/ -]*\d[.,]?)\s*(?P<unit>[a-z\"″]*)")
_DECIMAL = r"(?P<whole>\d{1,9}(?:[.,]\d{0,9})?|[.,]\d{1,9})"
_FRACTION = r"(?P<top>\d{1,6})/(?P<bottom>\d{1,6})"
_AMOUNT = re.compile(rf"{_DECIMAL}|(?:(?P<before>\d{{1,9}})[ -])?{_FRACTION}")


def parse_length(text: str, default: Unit = "mm", where: str = "") -> float:
    """Millimetres meant by ``text``: "40 mm", "7in", "1/8 in", "2 1/2\\"", "-0.4", "0,5mm".

    A bare number is taken in ``default``. Raises Problem for anything else.

    >>> parse_length("2 1/2in"), parse_length("1/8 in"), parse_length("2,5", "mm")
    (63.5, 3.175, 2.5)
    """
    match = _LENGTH.fullmatch(text.strip().lower())
    if match:
        amount = _AMOUNT.fullmatch(match["number"].strip())
        unit = match["unit"] or default
        if amount and unit in _MM_PER and int(amount["bottom"] or 1):
            value = float((amount["whole"] or amount["before"] or "0").replace(",", "."))
            value += int(amount["top"] or 0) / int(amount["bottom"] or 1)
            return value * _MM_PER[unit] * (-1.0 if match["sign"] in ("-", "−") else 1.0)
    raise _not_a_length(text, where)


def _not_a_length(text: str, where: str) -> Problem:
    shown = text.strip()
    shown = shown if len(shown) <= 24 else shown[:23] + "…"
    return Problem(
        "not-a-length",
        f"“{shown}” is not a length." if shown else "There is no length here.",
        "Type a number with a unit, such as 40 mm, 7 in or 1/8 in.",
        where,
    )


def show_length(mm: float, unit: Unit = "mm", places: int = 1) -> str:
    """The length as a maker reads it: tenths of a millimetre or hundredths of an inch, or finer.

    >>> show_length(182.44), show_length(25.4, "in")
    ('182.4 mm', '1.00 in')
    """
    if not math.isfinite(mm):
        return "?"
    return f"{mm / MM_PER_INCH:.{places + 1}f} in" if unit == "in" else f"{mm:.{places}f} mm"


def counted(count: int, one: str, many: str = "") -> str:
    """So many of a thing in words: 1 piece, 3 pieces."""
    return f"{count} {one if count == 1 else many or one + 's'}"
