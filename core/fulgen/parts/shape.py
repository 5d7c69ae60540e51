"""Shapes: forms of the library, as wide and high as asked, with their parameters."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from fulgen.frozen import NO_OTHERS
from fulgen.geometry.shape import FLATNESS_MM
from fulgen.geometry.shape_library import library_shape
from fulgen.geometry.weld import clean
from fulgen.parts.built_solid import BuiltSolid
from fulgen.parts.part import ANY_FILM, KIND_IS_REQUIRED, Millimetres, Part


class ShapePart(Part):
    """A form of the library by its name. values are parameters that are not as usual; what a form does not
    know is passed over. It lies with its middle at its place."""

    model_config = KIND_IS_REQUIRED

    kind: Literal["shape"] = "shape"
    form: Annotated[str, Field(min_length=1, max_length=40)] = "disc"
    width_mm: Millimetres = 60.0
    height_mm: Millimetres = 60.0
    values: dict[
        Annotated[str, Field(pattern=r"^[a-z]{1,20}$")], Annotated[float, Field(strict=True, ge=-1e4, le=1e4)]
    ] = Field(default_factory=dict, max_length=12, json_schema_extra=NO_OTHERS)

    def _ignored_by_build(self) -> dict[str, Any]:
        return {"film": ANY_FILM}

    @property
    def display_name(self) -> str:
        """What a maker calls it."""
        return self.name or self.form


def build_shape(part: ShapePart) -> BuiltSolid:
    """A shape. Raises Problem "no-shape"."""
    drawn = library_shape(part.form).drawn(part.width_mm, part.height_mm, part.values)
    return BuiltSolid(part.id, f"the {part.display_name}", clean(drawn, FLATNESS_MM))
