"""How an order is made and laid: what may give way, the sheets, and what is drawn beside the pieces."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import Field

from fulgen.frozen import STRICT, Flag
from fulgen.recipe.cutting import Room, Side, Turns
from fulgen.recipe.model import Recipe
from fulgen.sheet.sheets import Sheet

Arrangement = Literal["rows", "closely"]
"""In rows, which are staggered where all pieces are of one shape and that saves film; or each where it takes
the least."""

NumberUse = Literal["none", "draw", "score"]
"""How the numbers of rows are put into the waste beside their pieces: by pen, or lightly cut."""

Share = Annotated[float, Field(strict=True, ge=0.0, le=0.5)]
FaceName = Annotated[str, Field(min_length=1, max_length=80)]


@dataclass(frozen=True)
class RowRoom:
    """How wide and high a row may be, in mm."""

    __pydantic_config__ = STRICT

    width_mm: Side = 100.0
    height_mm: Side = 50.0


@dataclass(frozen=True)
class GiveWay:
    """What a row may do where it cannot be made as the design is, or is larger than the room: its letters
    narrower by a share at most, all of it smaller by a share at most, its words in two lines, other families
    in turn; and whether it is made ready to cut. room is how large a row may be; letters_mm is the size of
    the face that all letters have instead of their own, in mm."""

    __pydantic_config__ = STRICT

    narrower: Share = 0.0
    smaller: Share = 0.0
    two_lines: Flag = False
    faces: Annotated[tuple[FaceName, ...], Field(max_length=6)] = ()
    ready: Flag = False
    room: RowRoom | None = None
    letters_mm: Annotated[float, Field(strict=True, gt=0.0, le=3000.0)] | None = None


NOTHING = GiveWay()


@dataclass(frozen=True)
class OrderSheet:
    """What all films of an order are cut from, where that is not as the design has it."""

    __pydantic_config__ = STRICT

    roll: Flag = False
    width_mm: Side = 300.0
    height_mm: Side = 300.0
    margin_mm: Room = 5.0


@dataclass(frozen=True)
class OrderPlan:
    """All that is asked once for an order: what may give way, whether all rows have letters of one size, the
    sheets and the room between pieces, how these lie and may be turned, the numbers beside them, whether a
    sheet waits until it is full, and the machine ("": that of the design)."""

    __pydantic_config__ = STRICT

    give_way: GiveWay = field(default=NOTHING)
    same_size: Flag = False
    sheet: OrderSheet | None = None
    spacing_mm: Annotated[float, Field(strict=True, ge=0.0, le=1000.0)] | None = None
    arrangement: Arrangement = "rows"
    turns: Turns = "half"
    numbers: NumberUse = "none"
    hold_back: Flag = False
    machine: Annotated[str, Field(max_length=60)] = ""

    def sheet_of(self, design: Recipe, film: str) -> Sheet:
        """What a film is cut from."""
        spacing = design.cut.spacing_mm if self.spacing_mm is None else self.spacing_mm
        if self.sheet is None:
            return Sheet.of(design.cut.stock(film), spacing)
        own = self.sheet
        return Sheet(own.width_mm, own.height_mm, own.margin_mm, spacing, own.roll)


AS_THE_DESIGN = OrderPlan()
