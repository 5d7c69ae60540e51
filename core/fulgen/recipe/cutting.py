"""How a design is to be cut: what the Cut stage keeps of it.

It changes nothing of what the design comes to. Places are in mm on a sheet, y down, of the middle of the box
around what is laid there.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from fulgen.frozen import STRICT, WHOLE, Flag
from fulgen.parts.part import FilmColour

MOST_COPIES = 500
MOST_STOCKS = 40
MOST_LAID = 2_000
MOST_SHEETS = 200
MOST_OTHERS = 60

MOST_MM = 20_000.0
"""No sheet or length of a roll is longer."""

Side = Annotated[float, Field(strict=True, ge=0.0, le=MOST_MM)]
Room = Annotated[float, Field(strict=True, ge=0.0, le=1000.0)]
OnSheet = Annotated[float, Field(strict=True, ge=-MOST_MM, le=MOST_MM)]

DesignId = Annotated[str, Field(pattern=r"^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")]

Turns = Literal["none", "half", "quarter", "any"]
"""How parts may be turned to save film: a half turn keeps the grain."""

Boxes = Literal["none", "each", "sheet"]
"""What is boxed for weeding."""


@dataclass(frozen=True)
class Stock:
    """What one film is: the shop's name for it, its material where it is not that of the design, a sheet or a
    roll, how large it is, the margin that the rollers need, the film on whose sheets it is cut instead of its
    own, and whether it is mirrored where that is not as the design is."""

    __pydantic_config__ = STRICT

    film: FilmColour
    name: Annotated[str, Field(max_length=40)] = ""
    material: Annotated[str, Field(min_length=1, max_length=60)] | None = None
    roll: Flag = False
    width_mm: Side = 300.0
    height_mm: Side = 300.0
    margin_mm: Room = 5.0
    substitute_film: FilmColour | None = None
    mirror: Flag | None = None


@dataclass(frozen=True)
class ExtraDesign:
    """Another design of the shelf that is cut from the same sheets, by its id, and how many of it."""

    __pydantic_config__ = STRICT

    design: DesignId
    copies: Annotated[int, Field(ge=1, le=MOST_COPIES), WHOLE] = 1


@dataclass(frozen=True)
class LaidCopy:
    """Where a hand, or the nesting, laid a copy of a part: part is "" for all of a film of the design, or the
    first part of what is welded together; sheets count from 0; turn is in degrees clockwise; design is "" for
    this one, or that of another on the same sheets."""

    __pydantic_config__ = STRICT

    film: FilmColour
    part: Annotated[str, Field(max_length=60)]
    copy: Annotated[int, Field(ge=0, lt=MOST_COPIES), WHOLE]
    sheet_film: FilmColour
    sheet: Annotated[int, Field(ge=0, lt=MOST_SHEETS), WHOLE]
    x: OnSheet
    y: OnSheet
    turn: Annotated[float, Field(strict=True, ge=-360.0, le=360.0)] = 0.0
    design: DesignId | Literal[""] = ""


@dataclass(frozen=True)
class CutPlan:
    """How a design is cut: copies, the room between them, whether the parts of a film keep their place to
    each other, how they may be turned, whether they were laid closely, what helps weeding, whether films get
    marks by which they meet, whether the maker knows that the mirror is not as the material is usually cut,
    the machine, and the other designs on the same sheets."""

    __pydantic_config__ = STRICT

    copies: Annotated[int, Field(ge=1, le=MOST_COPIES), WHOLE] = 1
    spacing_mm: Room = 3.0
    together: Flag = True
    turns: Turns = "none"
    closely: Flag = False
    boxes: Boxes = "none"
    waste_lines: Flag = False
    clearance_mm: Annotated[float, Field(strict=True, ge=0.5, le=50.0)] = 2.0
    marks: Flag = False
    mirror_accepted: Flag = False
    pieces_accepted: Flag = False
    machine: Annotated[str, Field(min_length=1, max_length=60)] = "Drag knife"
    stocks: Annotated[tuple[Stock, ...], Field(max_length=MOST_STOCKS)] = ()
    laid: Annotated[tuple[LaidCopy, ...], Field(max_length=MOST_LAID)] = ()
    extra_designs: Annotated[tuple[ExtraDesign, ...], Field(max_length=MOST_OTHERS)] = ()

    def stock(self, film: str) -> Stock:
        """What a film is; as usual where nothing is said."""
        return next((stock for stock in self.stocks if stock.film.upper() == film.upper()), Stock(film))
