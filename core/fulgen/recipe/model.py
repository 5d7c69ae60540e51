"""What a recipe may say. Limits are part of the model, so nothing unbounded gets past it.

The models are the schema, the validation and the API's types at once. Lengths are millimetres;
shares are of the face's size. A stored recipe never changes meaning: a change of meaning is a
new version and a migration (see versions).
"""

from __future__ import annotations

import json
import unicodedata
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator
from pydantic_core import PydanticCustomError

VERSION = 1

MAX_LETTERS = 500
MAX_LETTERS_IN_ALL = 1000
MAX_LINES = 20
MAX_PARTS = 24

Share = Annotated[float, Field(ge=-0.5, le=2.0)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class FaceChoice(_Part):
    """A family by its name, and the weight or axes wanted of it."""

    family: str = Field("pacifico", min_length=1, max_length=80)
    weight: int | None = Field(None, ge=1, le=1000)
    axes: dict[Annotated[str, Field(pattern=r"^[A-Za-z0-9]{4}$")], float] = Field(
        default_factory=dict, max_length=16
    )


class Size(_Part):
    """What the maker measures: the overall width or height, or the height of a capital."""

    measure: Literal["width", "height", "capitals"] = "capitals"
    mm: float = Field(25.0, ge=1.0, le=3000.0)


class Lettering(_Part):
    """Live text: words in a face, at a size, in one film, with the first baseline's left end at x, y."""

    kind: Literal["lettering"] = "lettering"
    id: str = Field("lettering-1", pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")
    text: str = ""
    face: FaceChoice = FaceChoice()
    features: dict[Annotated[str, Field(pattern=r"^[a-z0-9]{4}$")], bool] = Field(
        default_factory=dict, max_length=40
    )
    size: Size = Size()
    spacing_mm: float = Field(0.0, ge=-100.0, le=300.0)
    spacing_share: Share = 0.0
    line_spacing: float = Field(1.2, ge=0.3, le=5.0)
    align: Literal["left", "centre", "right"] = "left"
    film: str = Field("#2B5674", pattern=r"^#[0-9A-Fa-f]{6}$")
    x: float = Field(0.0, ge=-5000.0, le=5000.0)
    y: float = Field(0.0, ge=-5000.0, le=5000.0)

    @field_validator("text")
    @classmethod
    def _within_bounds(cls, text: str) -> str:
        lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
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
        joined = "\n".join(lines)
        # Signs without a shape or a meaning on a cutter: control characters, lone surrogates.
        return "".join(
            " " if c == "\t" else c
            for c in joined
            if c in "\n\t" or unicodedata.category(c) not in ("Cc", "Cs")
        )


class Recipe(_Part):
    """A design in its stored form."""

    format: Literal["fulgen-recipe"] = "fulgen-recipe"
    version: Literal[1] = 1
    unit: Literal["mm", "in"] = "mm"
    mirror: bool = False
    parts: tuple[Lettering, ...] = Field((Lettering(),), min_length=1, max_length=MAX_PARTS)

    @field_validator("parts")
    @classmethod
    def _fit_together(cls, parts: tuple[Lettering, ...]) -> tuple[Lettering, ...]:
        if len({p.id for p in parts}) < len(parts):
            raise PydanticCustomError("same_id", "Two parts have the same id.")
        letters = sum(len(p.text) for p in parts)
        if letters > MAX_LETTERS_IN_ALL:
            raise PydanticCustomError(
                "too_many_letters",
                "There are {letters} letters, and a design holds up to {most}.",
                {"letters": f"{letters:,}", "most": f"{MAX_LETTERS_IN_ALL:,}"},
            )
        return parts

    def stored(self) -> str:
        """The recipe as JSON, the same text for the same recipe: sorted keys, no spaces."""
        return json.dumps(
            self.model_dump(mode="json"), sort_keys=True, separators=(",", ":"), ensure_ascii=False
        )
