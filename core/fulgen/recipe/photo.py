"""A photograph under the work: seen at its true size, never cut."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from fulgen.frozen import STRICT, Flag
from fulgen.geometry.placement import Coordinate

ImageName = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
"""What a picture is kept under: the digest of its file."""

Side = Annotated[float, Field(strict=True, ge=1.0, le=20_000.0)]


@dataclass(frozen=True)
class Photo:
    """A photograph of what the lettering is for: its picture, where the middle of it lies on the work, how
    wide and high it is in mm, by how many degrees clockwise it is turned, and how strongly it shows (1: as it
    is). It is in no file but the proof."""

    __pydantic_config__ = STRICT

    image: ImageName
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    width_mm: Side = 300.0
    height_mm: Side = 200.0
    turn: Annotated[float, Field(strict=True, ge=-360.0, le=360.0)] = 0.0
    shows: Annotated[float, Field(strict=True, ge=0.05, le=1.0)] = 1.0
    hidden: Flag = False
