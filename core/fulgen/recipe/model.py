"""What a recipe may say. Limits are part of the model, so nothing unbounded gets past it.

The models are the schema, the validation and the API's types at once; the values in them are those the
layers below compute with. Lengths are millimetres; shares are of a part's size. A stored recipe never changes
meaning: a change of meaning is a new version and a migration (see versions).
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any, Literal, TypeAlias, Union

from pydantic import ConfigDict, Discriminator, Field, Tag, field_validator
from pydantic_core import PydanticCustomError

from fulgen.frozen import STRICT, Flag, Frozen
from fulgen.joining.anchors import Anchor
from fulgen.joining.bars import Bar
from fulgen.joining.materials import Limits, Material, material
from fulgen.parts.frame import Frame
from fulgen.parts.kinds import PART_KINDS
from fulgen.parts.lettering import Lettering
from fulgen.parts.part import Part
from fulgen.parts.ready import Ready
from fulgen.parts.touchups import TouchUp
from fulgen.recipe.cutting import CutPlan
from fulgen.recipe.photo import Photo
from fulgen.units import Unit

VERSION = 12

MAX_LETTERS_IN_ALL = 1000
MAX_PARTS = 400
MAX_TOUCH_UPS = 300
MAX_ACCEPTED_FINDINGS = 300
MAX_BARS = 200
MAX_MATERIALS = 40


def _kind_of(data: Any) -> str:
    """The kind of a part; what does not say is lettering."""
    kind = data.get("kind", "lettering") if isinstance(data, dict) else getattr(data, "kind", "lettering")
    return kind if isinstance(kind, str) else ""


if TYPE_CHECKING:
    AnyPart: TypeAlias = Part
else:
    # Every kind of part that there is; they are distinguished by ``kind``.
    AnyPart = Annotated[
        Union[tuple(Annotated[kind.model, Tag(kind.name)] for kind in PART_KINDS)],  # noqa: UP007
        Discriminator(_kind_of),
    ]


@dataclass(frozen=True)
class MaterialChoice:
    """A material by its name, and limits of the maker's own where they are not those of its kind."""

    __pydantic_config__ = STRICT

    name: Annotated[str, Field(min_length=1, max_length=60)] = "Adhesive film"
    limits: Limits | None = None


@dataclass(frozen=True)
class AcceptedFinding:
    """A finding that the maker accepts as it is: its kind, where it is, and its measure."""

    __pydantic_config__ = STRICT

    kind: Annotated[str, Field(min_length=1, max_length=40)]
    at: Anchor
    mm: Annotated[float, Field(strict=True, ge=0.0, le=100_000.0)]


class Recipe(Frozen):
    """A design in its stored form. materials are those of the shop's own, as they were when they were chosen;
    bars are bridges laid by hand; mirror: it is cut from the back; ready: it is made ready for its material
    after all else; photo lies under it, to be seen."""

    # A recipe of any source says what it is.
    model_config = ConfigDict(json_schema_extra={"required": ["format", "version"]})

    format: Literal["fulgen-recipe"] = "fulgen-recipe"
    version: Literal[12] = 12
    unit: Unit = "mm"
    mirror: Flag = False
    material: MaterialChoice = MaterialChoice()
    materials: tuple[Material, ...] = Field((), max_length=MAX_MATERIALS)
    cut: CutPlan = CutPlan()
    bars: tuple[Bar, ...] = Field((), max_length=MAX_BARS)
    touch_ups: tuple[TouchUp, ...] = Field((), max_length=MAX_TOUCH_UPS)
    accepted_findings: tuple[AcceptedFinding, ...] = Field((), max_length=MAX_ACCEPTED_FINDINGS)
    ready: Ready | None = None
    photo: Photo | None = None
    parts: tuple[AnyPart, ...] = Field(
        (Lettering(),),
        min_length=1,
        max_length=MAX_PARTS,
        description=f"Each with an id of its own; at most {MAX_LETTERS_IN_ALL:,} letters in all.",
    )

    @field_validator("parts")
    @classmethod
    def _fit_together(cls, parts: tuple[AnyPart, ...]) -> tuple[AnyPart, ...]:
        if len({p.id for p in parts}) < len(parts):
            raise PydanticCustomError("same_id", "Two parts have the same id.")
        members = [member for part in parts for member in part.contains]
        if len(set(members)) < len(members):
            raise PydanticCustomError("two_places", "A part is in two combinations, or twice in one.")
        words = {part.id for part in parts if isinstance(part, Lettering)}
        others = {part.id for part in parts} - words
        if any(others & set(part.members) for part in parts if isinstance(part, Frame)):
            raise PydanticCustomError(
                "no_name", "What is fitted into a frame is lettering, and nothing else."
            )
        letters = sum(len(p.text) for p in parts if isinstance(p, Lettering))
        if letters > MAX_LETTERS_IN_ALL:
            raise PydanticCustomError(
                "too_many_letters",
                "There are {letters} letters, and a design holds up to {most}.",
                {"letters": f"{letters:,}", "most": f"{MAX_LETTERS_IN_ALL:,}"},
            )
        return parts

    @property
    def limits(self) -> Limits:
        """What its material holds."""
        return self.material.limits or self.material_named(self.material.name).limits

    def material_named(self, name: str) -> Material:
        """A material by its name: as the shop had it, where it had one of its own."""
        return next((own for own in self.materials if own.name == name), material(name))

    def material_of(self, film: str) -> Material:
        """What a film is made of."""
        return self.material_named(self.cut.stock(film).material or self.material.name)

    def mirrors(self, film: str) -> bool:
        """Whether a film is cut from its back."""
        own = self.cut.stock(film).mirror
        return self.mirror if own is None else own

    def part(self, part_id: str) -> AnyPart | None:
        """The part of that id."""
        return next((part for part in self.parts if part.id == part_id), None)

    @property
    def words(self) -> list[str]:
        """The words of each lettering, on one line; what is empty is left out."""
        texts = (" ".join(part.text.split()) for part in self.parts if isinstance(part, Lettering))
        return [text for text in texts if text]

    @property
    def display_name(self) -> str:
        """What the design is called until it has a name: by its words."""
        words = [text if len(text) <= 40 else f"{text[:39]}…" for text in self.words]
        if len(words) > 2:
            return f"{words[0]}, {words[1]} and {len(words) - 2} more"
        return ", ".join(words) or "Untitled"

    @property
    def families(self) -> list[str]:
        """The faces that its words are set in, each once."""
        faces = (part.face.family for part in self.parts if isinstance(part, Lettering) and part.text.strip())
        return list(dict.fromkeys(faces))

    def lettering(self, part_id: str) -> Lettering | None:
        """The lettering of that id, or the first there is."""
        letterings = [part for part in self.parts if isinstance(part, Lettering)]
        return next(
            (part for part in letterings if part.id == part_id), letterings[0] if letterings else None
        )

    def stored(self) -> str:
        """The recipe as JSON, the same text for the same recipe: sorted keys, no spaces."""
        plain: Any = self.model_dump(mode="json")
        return json.dumps(plain, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
