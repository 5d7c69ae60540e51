"""What a maker asks of joints: how letters come together, how wide necks are, what becomes of dots."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from fulgen.frozen import STRICT, Flag
from fulgen.joining.anchors import Place
from fulgen.lettering.letters import MarkWay
from fulgen.lettering.stand_ins import StandIn


@dataclass(frozen=True)
class RefusedTie:
    """A tie the maker does not want, by the places at its ends."""

    __pydantic_config__ = STRICT

    one: Place
    other: Place


@dataclass(frozen=True)
class JoinOptions:
    """How letters are joined: set leaves them as the face sets them, auto brings them together: as drawn
    (tight is 0), tightly (1), or between. The neck is the width every joint is to have; notches at seams are
    rounded by smooth_mm (0: not). Dots and accents are kept apart, lowered into their letters, or tied to
    them by a small bar, mark_bar_mm wide (in the strokes' weight unless said); mark_shape stands in their
    place. tie lays the shortest good bridges that make one piece of everything; those in refused are left
    out."""

    __pydantic_config__ = STRICT

    how: Literal["set", "auto"] = "set"
    neck_mm: Annotated[float, Field(strict=True, ge=0.1, le=50.0)] = 1.2
    tight: Annotated[float, Field(strict=True, ge=0.0, le=1.0)] = 0.5
    smooth_mm: Annotated[float, Field(strict=True, ge=0.0, le=20.0)] = 0.0
    marks: MarkWay = MarkWay.KEEP
    mark_bar_mm: Annotated[float, Field(strict=True, ge=0.1, le=50.0)] | None = None
    mark_shape: StandIn | None = None
    tie: Flag = False
    refused: Annotated[tuple[RefusedTie, ...], Field(max_length=200)] = ()
