"""What every part of a stored document has in common: it cannot be changed in place, it says no to fields it
does not know, and it holds no number that is none.

Small values are plain frozen dataclasses, quick to make and to compare, wherever they are used in the
computation; a recipe holds the very same values and checks them against their annotated limits.
"""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

STRICT = ConfigDict(extra="forbid", allow_inf_nan=False, revalidate_instances="always")
"""How a dataclass is checked where it goes into a document, wherever it comes from:
``__pydantic_config__ = STRICT``."""


class Frozen(BaseModel):
    """A part of a document."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, revalidate_instances="always")
