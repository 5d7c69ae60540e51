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

VERSION = 2

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


class SeamAfter(_Part):
    """What the maker chose for the seam after a letter: a way to join, or None for the best; whether
    stubs are trimmed and pinholes filled, or None for: where letters are brought together."""

    way: Literal["leave", "slide", "reach", "bridge", "apart"] | None = None
    trim: bool | None = None


Tag = Annotated[str, Field(pattern=r"^[a-z0-9]{4}$")]
Move = Annotated[float, Field(ge=-20.0, le=20.0)]
LetterId = Annotated[int, Field(ge=1, le=1_000_000)]


class ShapeEdit(_Part):
    """One change of the nodes of a letter's outline, which are named by their numbers in it. Lengths are
    shares of the size, y down. move: nodes go by dx, dy with their handles. before, after: that handle of a
    node does. insert: a node called new is put into the side that follows, at a time of it. remove: nodes
    go, and one curve is drawn in their place. smooth, sharp: whether the outline flows through them."""

    kind: Literal["move", "before", "after", "insert", "remove", "smooth", "sharp"]
    nodes: tuple[Annotated[int, Field(ge=0, le=100_000)], ...] = Field(min_length=1, max_length=400)
    dx: Move = 0.0
    dy: Move = 0.0
    time: float = Field(0.5, ge=0.01, le=0.99)
    new: int = Field(0, ge=0, le=100_000)


class LetterShape(_Part):
    """Changes of the nodes of one outline, told by its mark; on another outline they wait."""

    of: str = Field(pattern=r"^[0-9a-f]{12}$")
    edits: tuple[ShapeEdit, ...] = Field((), max_length=300)


class StandIn(_Part):
    """A shape in place of a letter or a mark: one of the shape library by its name, or the maker's own as
    SVG path data; as high as the letter, or filling its box."""

    shape: str = Field("heart", min_length=1, max_length=60)
    d: str = Field("", max_length=60_000)
    to: Literal["height", "box"] = "height"


class LetterChange(_Part):
    """What a hand has done to one letter. Lengths are shares of the face's size, so they scale with it.

    dx, dy move this letter alone (y down); carry moves it and all that follow on its line; after is
    room added behind it; turn is in degrees clockwise about its middle. alternates are features of
    its own, by tag. apart says whether it stands apart from its neighbours; None leaves that to what
    kind of sign it is. marks says what is done with its dots and accents, mark_shape what stands in their
    place; None leaves that to the word. shape are changes of its nodes, stand_in is a shape in its place.
    """

    dx: Move = 0.0
    dy: Move = 0.0
    carry: Move = 0.0
    after: Move = 0.0
    turn: float = Field(0.0, ge=-180.0, le=180.0)
    scale: float = Field(1.0, ge=0.1, le=10.0)
    alternates: dict[Tag, Annotated[int, Field(ge=0, le=99)]] = Field(default_factory=dict, max_length=8)
    face: FaceChoice | None = None
    apart: bool | None = None
    seam: SeamAfter = SeamAfter()
    marks: Literal["keep", "lower", "bridge"] | None = None
    mark_shape: StandIn | None = None
    shape: LetterShape | None = None
    stand_in: StandIn | None = None


class Refused(_Part):
    """A tie the maker does not want, by the ids of the letters at its ends."""

    one: LetterId
    other: LetterId


class Join(_Part):
    """How letters are joined: set leaves them as the face sets them, auto brings them together. The
    neck is the width every joint is to have; notches at seams are rounded by smooth_mm (0: not). Dots and
    accents are kept apart, lowered into their letters, or tied to them by a small bar, mark_bar_mm wide (in
    the strokes' weight unless said); mark_shape stands in their place. tie lays the shortest good bridges
    that make one piece of everything; those in refused, by the ids of the letters at their ends, are left
    out."""

    how: Literal["set", "auto"] = "set"
    neck_mm: float = Field(1.2, ge=0.1, le=50.0)
    smooth_mm: float = Field(0.0, ge=0.0, le=20.0)
    marks: Literal["keep", "lower", "bridge"] = "keep"
    mark_bar_mm: float | None = Field(None, ge=0.1, le=50.0)
    mark_shape: StandIn | None = None
    tie: bool = False
    refused: tuple[Refused, ...] = Field((), max_length=200)


class Anchor(_Part):
    """A place on a letter as the face draws it, from its origin, in shares of its size: it goes where the
    letter goes."""

    letter: LetterId
    x: Move
    y: Move


class Bar(_Part):
    """A bridge laid by hand, from one letter to another. bulge bends it: how far its middle stands off, as
    a share of its length, to the right of its way."""

    start: Anchor
    end: Anchor
    width_mm: float = Field(1.5, ge=0.1, le=100.0)
    bulge: float = Field(0.0, ge=-1.0, le=1.0)


class Underline(_Part):
    """A bar or swash under each line, through all its words: how thick it is, how far it reaches up over the
    baseline, and how far it goes on beyond the letters at each end."""

    style: Literal["bar", "swash"] = "bar"
    thick_mm: float = Field(3.0, ge=0.2, le=200.0)
    over_mm: float = Field(1.5, ge=-200.0, le=200.0)
    beyond_mm: float = Field(2.0, ge=-500.0, le=500.0)


class TouchUp(_Part):
    """A repair of the welded outline, kept by its place on a letter and replayed after every change.

    fill: the hole there is filled. cut: what is thinner than size_mm there is taken off. thicken: it is made
    size_mm wide. close: a gap narrower than size_mm is filled. remove: the node there goes, and a smooth
    curve is drawn in its place. move: it goes by dx, dy (shares of the size). smooth: the stretch from there
    to ``to`` is smoothed. round: the corner there is rounded by size_mm.
    """

    kind: Literal["fill", "cut", "thicken", "close", "remove", "move", "smooth", "round"]
    part: str = Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")
    at: Anchor
    to: Anchor | None = None
    size_mm: float = Field(0.0, ge=0.0, le=100.0)
    dx: Move = 0.0
    dy: Move = 0.0


class Limits(_Part):
    """What a material holds, in mm: the narrowest neck, stroke, hole and piece, and the narrowest gap
    between two edges."""

    neck_mm: float = Field(ge=0.0, le=50.0)
    stroke_mm: float = Field(ge=0.0, le=50.0)
    hole_mm: float = Field(ge=0.0, le=50.0)
    piece_mm: float = Field(ge=0.0, le=50.0)
    gap_mm: float = Field(ge=0.0, le=20.0)


class MaterialChoice(_Part):
    """A material by its name, and limits of the maker's own where they are not those of its kind."""

    name: str = Field("Adhesive film", min_length=1, max_length=60)
    limits: Limits | None = None


class Known(_Part):
    """A finding that the maker accepts as it is: its kind, where it is, and its measure."""

    kind: str = Field(min_length=1, max_length=40)
    part: str = Field("", max_length=40)
    at: Anchor
    mm: float = Field(ge=0.0, le=100_000.0)


class Lettering(_Part):
    """Live text: words in a face, at a size, in one film, with the first baseline's left end at x, y.

    letter_ids names each character of the text, so that what a hand has done to a letter stays with it
    when the text is edited; where there are none, or not as many as characters, they count from 1. kinds
    are changes of the nodes of every letter of a kind. bars are bridges laid by hand. thicken_mm moves every
    edge outwards (inwards where negative).
    """

    kind: Literal["lettering"] = "lettering"
    id: str = Field("lettering-1", pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")
    text: str = ""
    letter_ids: tuple[LetterId, ...] = Field((), max_length=MAX_LETTERS + MAX_LINES)
    letters: dict[LetterId, LetterChange] = Field(default_factory=dict, max_length=MAX_LETTERS)
    kinds: dict[Annotated[str, Field(min_length=1, max_length=8)], LetterShape] = Field(
        default_factory=dict, max_length=60
    )
    join: Join = Join()
    bars: tuple[Bar, ...] = Field((), max_length=100)
    underline: Underline | None = None
    thicken_mm: float = Field(0.0, ge=-20.0, le=50.0)
    corners: Literal["round", "mitred"] = "round"
    face: FaceChoice = FaceChoice()
    features: dict[Tag, bool] = Field(default_factory=dict, max_length=40)
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
        # Composed letters: one character, one letter id.
        joined = unicodedata.normalize("NFC", "\n".join(lines))
        # Signs without a shape or a meaning on a cutter: control characters, lone surrogates.
        return "".join(
            " " if c == "\t" else c
            for c in joined
            if c in "\n\t" or unicodedata.category(c) not in ("Cc", "Cs")
        )

    @field_validator("letter_ids")
    @classmethod
    def _all_different(cls, ids: tuple[int, ...]) -> tuple[int, ...]:
        if len(set(ids)) < len(ids):
            raise PydanticCustomError("same_id", "Two letters have the same id.")
        return ids

    @property
    def ids(self) -> tuple[int, ...]:
        """The id of each character of the text."""
        if len(self.letter_ids) == len(self.text):
            return self.letter_ids
        return tuple(range(1, len(self.text) + 1))

    @property
    def changes(self) -> dict[int, LetterChange]:
        """What hands have done, by the place of the letter in the text."""
        return {at: self.letters[name] for at, name in enumerate(self.ids) if name in self.letters}


class Recipe(_Part):
    """A design in its stored form."""

    format: Literal["fulgen-recipe"] = "fulgen-recipe"
    version: Literal[2] = 2
    unit: Literal["mm", "in"] = "mm"
    mirror: bool = False
    material: MaterialChoice = MaterialChoice()
    touch_ups: tuple[TouchUp, ...] = Field((), max_length=300)
    known: tuple[Known, ...] = Field((), max_length=300)
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
