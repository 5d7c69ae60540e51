"""Paper to print on: ISO 216 (A4), and ANSI/ASME Y14.1 (size A, "letter")."""

from typing import Literal

from fulgen.units import MM_PER_INCH

Paper = Literal["a4", "letter"]

PAPERS: dict[Paper, tuple[float, float]] = {
    "a4": (210.0, 297.0),
    "letter": (8.5 * MM_PER_INCH, 11 * MM_PER_INCH),
}
"""Width and height in mm, upright."""
