"""What is asked and answered of an evaluation."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from designs.api.values import AnyRecipe, BoxOut, MarkOut, PointOut
from designs.problems import ProblemOut
from fulgen.framing.bands import Manner
from fulgen.frozen import Flag
from fulgen.geometry.shape_library import Handle
from fulgen.lettering.letters import Way
from fulgen.parts.part import Use

FORM_UNITS = 1000
"""Letters' forms are drawn in thousandths of the face's size."""


Key = Annotated[str, Field(max_length=40)]


class EvaluateIn(Schema):
    """A recipe, and the keys of what the browser holds already."""

    recipe: AnyRecipe
    have: Annotated[list[Key], Field(max_length=1_000)] = []


class PieceOut(Schema):
    d: str
    area_mm2: float
    box: BoxOut
    holes: int


class ClusterOut(Schema):
    """What is welded together, by its key: its pieces, on the work."""

    key: str
    pieces: list[PieceOut]


class FilmOut(Schema):
    """What is cut from one film: its clusters by their keys."""

    colour: str
    clusters: list[str]


class LetterOut(Schema):
    """A letter before the weld, in its part's frame: its id, where it stands in the text, its form by key and
    where that lies and how it is turned there (degrees clockwise), the box around it, how many dots or
    accents it has, and whether it is cut from the part's own film."""

    id: int
    at: int
    line: int
    text: str
    form: str
    x: float
    y: float
    turn: float
    box: BoxOut
    marks: int
    own_film: bool


class ExtraOut(Schema):
    """What a part is cut from beside its letters, in its frame: bars that join, ties and underlines. letter
    is the one it goes along with, if any."""

    d: str
    letter: int | None


class TieOut(Schema):
    """A bridge laid to tie what is loose, in its part's frame: its outline, the ids of the letters at its
    ends and their texts, and how much of it is in the open."""

    d: str
    letters: list[int]
    texts: list[str]
    length_mm: float


class BodyOut(Schema):
    """What of a part is cut from a film; None: from the part's own."""

    film: str | None
    d: str


class RegionOut(Schema):
    """A region of a division: its key, the members that cover it, its outline, and the film it is cut
    from."""

    key: str
    covers: list[str]
    d: str
    film: str | None


class BandOut(Schema):
    """A place for a name in a frame, in the frame's own frame of reference: its box and the outline of what
    is open there, how a name is held there, and the radii of the ring that it runs around. name is the part
    in it, if any: then also the box around that, how deep it runs into edges, and how many times as wide its
    letters were made."""

    box: BoxOut
    d: str
    manner: Manner
    ring: list[float]
    name: str | None
    name_box: BoxOut | None
    depth_mm: float
    stretch: float


class BuiltPartOut(Schema):
    """What a part comes to, by its key, in its own frame: letters, ties and all else it is cut from;
    baselines from the top, capital height and the face's size, and the width and height by which that is
    asked for (along a line, as if it were straight); letters for which a shape was chosen that the
    face in use does not have; and those whose nodes were changed on another outline than they have now.

    What is no lettering is drawn by its bodies and the handles of its shape; a division by its
    regions, a frame by its bands, too. curved: its letters stand on a line that is not straight.
    """

    key: str
    bodies: list[BodyOut] = []
    handles: list[Handle] = []
    regions: list[RegionOut] = []
    bands: list[BandOut] = []
    curved: bool = False
    letters: list[LetterOut]
    extras: list[ExtraOut]
    ties: list[TieOut]
    baselines_mm: list[float]
    capital_height_mm: float
    size_mm: float
    width_mm: float
    height_mm: float
    lost_shapes: list[str]
    waiting_shapes: list[str]


class MarksOut(Schema):
    """What of a part is not cut, by its key, in the part's own frame."""

    key: str
    marks: list[MarkOut]


class FormOut(Schema):
    """A letter's form by its key, in thousandths of the size."""

    key: str
    d: str


class PlaceOut(Schema):
    """Where a part lies on the work. Members of a combination may lie further out, and larger, than parts are
    laid by hand."""

    x: float
    y: float
    turn: float
    scale: float
    flip: bool


class PartOut(Schema):
    """A part of the recipe: what it was made to, by its key, where that lies on the work, and the box around
    it there; or why it could not be made. within is the combination that it is a member of; hidden parts are
    not shown. marks is the key of what of it is not cut, if anything is; use is what it is for."""

    id: str
    within: str | None
    shown: bool
    built: str | None
    marks: str | None
    film: str
    use: Use
    place: PlaceOut
    box: BoxOut | None
    problem: ProblemOut | None


class BridgeOut(Schema):
    """A bridge laid by hand, on the work: its number in the recipe, the parts it holds to, its ends, and the
    necks by which it hangs there. One without ends has lost what it held to."""

    number: int
    parts: list[str]
    ends: list[PointOut]
    necks_mm: list[float]


class UnmetOut(Schema):
    """Something that was asked for and is not so, of a part or of the whole recipe; all is made all the
    same."""

    part: str | None
    problem: ProblemOut


class EvaluationOut(Schema):
    """What a recipe comes to, in mm on the work; y down, not mirrored. box is around what is cut, or around
    what is drawn where nothing is. loose_marks of the pieces are dots and accents. clusters, built, marks and
    forms are those that the browser did not say it has. display_name is what the design goes by until it has
    a name."""

    display_name: str
    box: BoxOut
    films: list[FilmOut]
    parts: list[PartOut]
    bridges: list[BridgeOut]
    cut_length_mm: float
    nodes: int
    loose_marks: int
    unmet: list[UnmetOut]
    clusters: list[ClusterOut]
    built: list[BuiltPartOut]
    marks: list[MarksOut]
    forms: list[FormOut]


class SeamOut(Schema):
    """Where two neighbours meet, on the work: left and right are letters' ids; lengths in mm.

    neck is 0 where they do not meet; at_least says that it is wider than Fulgen tells. ends are those of
    the gap or of the chord across the neck. chosen is the maker's way, done the one that was taken. squeeze
    is the slide as a share of the left letter's width. weak says that it is narrower than the material
    holds, narrow that it is narrower than was asked for, lettering that it is as strong as the letters
    themselves, which give given_mm; limit_mm is what it is held against. meets is the other part where two
    parts meet: then left is a letter of this part, or 0 for all of it, and there is no right one. flow is
    where a flow leaves and arrives. white is the mean distance of the two in the band of the small letters,
    as they are and as the face sets them.
    """

    part: str
    left: int
    right: int
    left_text: str
    right_text: str
    line: int
    gap_mm: float
    neck_mm: float
    at_least: bool
    asked_mm: float
    limit_mm: float
    state: Literal["gap", "touching", "weak", "narrow", "lettering", "joined"]
    given_mm: float
    flow: list[PointOut]
    letter_gap_mm: float
    set_letter_gap_mm: float
    ends: list[PointOut]
    meets: str | None
    chosen: Way | None
    done: Way
    shift_mm: float
    squeeze: float
    covered: float
    remedy: str
    stubs: int
    pinholes: int
    notches: int
    trimmed: int
    filled: int


class KeyedSeamOut(Schema):
    key: str
    seam: SeamOut


class SeamsOut(Schema):
    """The seams of a part by their keys, in reading order; and those that the browser did not say it has."""

    part: str
    keys: list[str]
    seams: list[KeyedSeamOut]


class FileRequest(Schema):
    """A design to be saved; anyway: whatever stands at the gate."""

    name: Annotated[str, Field(max_length=400)] = ""
    recipe: AnyRecipe
    anyway: Flag = False
