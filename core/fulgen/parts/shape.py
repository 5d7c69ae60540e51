"""Shapes: forms of the library, as wide and high as asked, with their parameters."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from fulgen.frozen import NO_OTHERS
from fulgen.geometry.forms import form_of
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.geometry.weld import clean
from fulgen.parts.part import ANY_FILM, SAYS_ITS_KIND, Millimetres, Part
from fulgen.parts.solid import Solid


class ShapePart(Part):
    """A form of the library by its name. values are parameters that are not as usual; what a form does not
    know is passed over. It lies with its middle at its place."""

    model_config = SAYS_ITS_KIND

    kind: Literal["shape"] = "shape"
    form: Annotated[str, Field(min_length=1, max_length=40)] = "disc"
    width_mm: Millimetres = 60.0
    height_mm: Millimetres = 60.0
    values: dict[
        Annotated[str, Field(pattern=r"^[a-z]{1,20}$")], Annotated[float, Field(strict=True, ge=-1e4, le=1e4)]
    ] = Field(default_factory=dict, max_length=12, json_schema_extra=NO_OTHERS)

    def _unseen(self) -> dict[str, Any]:
        return {"film": ANY_FILM}

    @property
    def says(self) -> str:
        """What a maker calls it."""
        return self.name or self.form


def make_shape(part: ShapePart) -> Solid:
    """A shape. Raises Problem "no-shape"."""
    drawn = form_of(part.form).drawn(part.width_mm, part.height_mm, part.values)
    return Solid(part.id, f"the {part.says}", clean(drawn, FLATNESS_MM))
