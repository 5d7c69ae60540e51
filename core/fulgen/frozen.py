"""What every part of a stored document has in common: it cannot be changed in place, it says no to fields it
does not know, and it holds no number that is none. Numbers and flags are taken as such only (strict=True): a
true is no 1, and a text is no number.

Small values are plain frozen dataclasses, quick to make and to compare, wherever they are used in the
computation; a recipe holds the very same values and checks them against their annotated limits.
"""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Strict
from pydantic_core import PydanticCustomError

STRICT = ConfigDict(extra="forbid", allow_inf_nan=False, revalidate_instances="always")
"""How a dataclass is checked where it goes into a document, wherever it comes from:
``__pydantic_config__ = STRICT``."""


NO_OTHERS: dict[str, Any] = {"additionalProperties": False}
"""Said in the schema of a table whose keys have a pattern: there are no others."""

Flag = Annotated[bool, Strict()]
"""Yes or no."""


def _whole(value: Any) -> Any:
    if isinstance(value, bool | str):
        raise PydanticCustomError("int_type", "This is not a number.")
    return value


WHOLE = BeforeValidator(_whole)
"""A whole number: 2 and 2.0, which JSON does not tell apart."""


class Frozen(BaseModel):
    """A part of a document."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, revalidate_instances="always")
