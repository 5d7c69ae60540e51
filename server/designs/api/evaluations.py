"""What a recipe comes to: outlines, seams, and files.

Answers go by key: the browser says which outlines, parts and letters' forms it holds, and is sent the others.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from typing import Annotated, Literal, TypeVar
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from designs.api.values import AnyRecipe, BoxOut, MarkOut, PointOut, Problems, answered, problem_out
from designs.faces import face_of
from designs.problems import ProblemOut
from fulgen.bounded import digest
from fulgen.formats.names import safe_names
from fulgen.formats.svg import write_svg
from fulgen.framing.bands import Manner
from fulgen.frozen import Flag
from fulgen.geometry.forms import Handle, form_of
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import Shape
from fulgen.joining.bars import Tie
from fulgen.lettering.layout import PlacedLetter
from fulgen.lettering.letters import Way
from fulgen.parts.combination import MadeCombination
from fulgen.parts.framed import MadeFrame
from fulgen.parts.lettering import MadeLettering
from fulgen.parts.made import Placed
from fulgen.parts.part import Use
from fulgen.parts.seams import PlacedSeam
from fulgen.parts.shape import ShapePart
from fulgen.parts.welding import own_marks
from fulgen.readiness.gate import look_whether_ready
from fulgen.readiness.joints import Joint, Judged, joints
from fulgen.recipe.contacts import Contact
from fulgen.recipe.evaluate import Bridge, Cluster, Evaluation, Failure, evaluate
from fulgen.recipe.tree import Tree

router = Router(tags=["evaluations"])

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


class MadeOut(Schema):
    """What a part comes to, by its key, in its own frame: letters, ties and all else it is cut from;
    baselines from the top, capital height and the face's size, and the width and height by which that is
    asked for (along a line, as if it were straight); letters for which a shape was chosen that the
    face in use does not have; and those whose nodes were changed on another outline than they have now.

    What is no lettering is told by its bodies and the handles of its shape; a division by its
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
    made: str | None
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
    what is drawn where nothing is. loose_marks of the pieces are dots and accents. clusters, made, marks and
    forms are those that the browser did not say it has. called is what the design goes by until it has a
    name."""

    called: str
    box: BoxOut
    films: list[FilmOut]
    parts: list[PartOut]
    bridges: list[BridgeOut]
    cut_length_mm: float
    nodes: int
    loose_marks: int
    unmet: list[UnmetOut]
    clusters: list[ClusterOut]
    made: list[MadeOut]
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
    white_mm: float
    white_set_mm: float
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


@router.post("/evaluate", response={200: EvaluationOut, **Problems}, operation_id="evaluate")
def evaluate_recipe(request: HttpRequest, wanted: EvaluateIn) -> HttpResponse:
    """The outline the knife will follow, and its figures but those of its seams. A part that cannot be made
    is told beside it, and the others are there."""
    return answered(_evaluation(evaluate(wanted.recipe, face_of), frozenset(wanted.have)))


@router.post("/seams", response={200: list[SeamsOut], **Problems}, operation_id="measureSeams")
def measure_seams(request: HttpRequest, wanted: EvaluateIn) -> list[SeamsOut]:
    """The seams of a recipe, each measured: asked for after its outline, which is there sooner."""
    evaluation, have = evaluate(wanted.recipe, face_of), frozenset(wanted.have)
    told_of: dict[str, list[Joint]] = {}
    for joint in joints(evaluation):
        told_of.setdefault(joint.part, []).append(joint)
    told = []
    for part in evaluation.parts:
        own = told_of.get(part.id, [])
        if not isinstance(part.made, MadeLettering) and not own:
            continue
        seams = [
            KeyedSeamOut(key=digest(seam.model_dump_json()), seam=seam)
            for seam in (_joint(joint, evaluation) for joint in own)
        ]
        new = [one for one in seams if one.key not in have]
        told.append(SeamsOut(part=part.id, keys=[one.key for one in seams], seams=new))
    return told


def _joint(joint: Joint, evaluation: Evaluation) -> SeamOut:
    if isinstance(joint.of, PlacedSeam):
        return _seam(joint.of, joint.judged, evaluation)
    return _contact(joint.of, joint.judged)


def _contact(contact: Contact, judged: Judged) -> SeamOut:
    """A contact as the seam that it is: nothing is done there by itself."""
    return SeamOut(
        part=contact.one.part,
        left=contact.one.letter or 0,
        right=contact.other.letter or 0,
        left_text=contact.one.says,
        right_text=contact.other.says,
        line=0,
        gap_mm=0.0,
        neck_mm=judged.neck,
        asked_mm=judged.asked,
        limit_mm=judged.limit,
        at_least=contact.at_least and judged.neck == contact.neck,
        state=judged.holding.value,
        given_mm=contact.given,
        flow=[],
        white_mm=0.0,
        white_set_mm=0.0,
        ends=[PointOut(x=x, y=y) for x, y in contact.ends],
        meets=contact.other.part,
        chosen=None,
        done=Way.LEAVE,
        shift_mm=0.0,
        squeeze=0.0,
        covered=0.0,
        remedy="",
        stubs=0,
        pinholes=0,
        notches=0,
        trimmed=0,
        filled=0,
    )


@router.post("/svg", response={200: str, **Problems}, operation_id="saveSvg")
def save_svg(request: HttpRequest, file: FileRequest) -> HttpResponse:
    """The design as an SVG file, once nothing stands at the gate, or anyway."""
    evaluation = evaluate(file.recipe, face_of)
    document = write_svg(evaluation)
    if not file.anyway:
        look_whether_ready(evaluation)
    name = f"{safe_names([file.name.strip() or file.recipe.called])[0]}.svg"
    disposition = f"attachment; filename=\"lettering.svg\"; filename*=UTF-8''{quote(name)}"
    return HttpResponse(document, "image/svg+xml", headers={"Content-Disposition": disposition})


Thing = TypeVar("Thing")


def _by_key(
    things: Iterable[Thing], key_of: Callable[[Thing], str], have: frozenset[str]
) -> dict[str, Thing]:
    """Things by their keys, each once, without those that the browser has."""
    return {key: thing for thing in things if (key := key_of(thing)) not in have}


def _evaluation(evaluation: Evaluation, have: frozenset[str]) -> EvaluationOut:
    clusters = _by_key(evaluation.clusters, lambda cluster: cluster.key, have)
    made = _by_key(evaluation.made.values(), lambda placed: placed.made_key, have)
    marked = _by_key(filter(evaluation.marked, evaluation.made.values()), _marks_key, have)
    letterings = [placed.made for placed in made.values() if isinstance(placed.made, MadeLettering)]
    forms = _by_key(
        (letter.form.outline for m in letterings for letter in m.layout.letters),
        lambda outline: outline.digest,
        have,
    )
    return EvaluationOut(
        called=evaluation.recipe.called,
        box=BoxOut.of(evaluation.extent),
        films=[
            FilmOut(colour=film.colour, clusters=[cluster.key for cluster in film.clusters])
            for film in evaluation.films
        ],
        parts=_parts(evaluation),
        bridges=[_bridge(bridge) for bridge in evaluation.bridges],
        cut_length_mm=evaluation.cut_length,
        nodes=evaluation.nodes,
        loose_marks=evaluation.loose_marks,
        unmet=[UnmetOut(part=one.part, problem=problem_out(one.problem)) for one in evaluation.unmet],
        clusters=[_cluster(cluster) for cluster in clusters.values()],
        made=[_made(key, placed, evaluation) for key, placed in made.items()],
        marks=[_marks(key, placed) for key, placed in marked.items()],
        forms=[
            FormOut(key=key, d=path_data(outline.placed(0, 0, FORM_UNITS), decimals=2))
            for key, outline in forms.items()
        ],
    )


def _parts(evaluation: Evaluation) -> list[PartOut]:
    def failure_of(part_id: str) -> Failure | None:
        return next((failure for failure in evaluation.failures if part_id in failure.parts), None)

    parent = Tree(evaluation.recipe).parent
    told = []
    for part in evaluation.recipe.parts:
        placed, failure = evaluation.made.get(part.id), failure_of(part.id)
        told.append(
            PartOut(
                id=part.id,
                within=parent.get(part.id),
                shown=evaluation.part(part.id) is not None,
                made=placed.made_key if placed else None,
                marks=_marks_key(placed) if placed and evaluation.marked(placed) else None,
                use=part.use,
                film=part.film.upper(),
                place=_place(placed.place if placed else part.place),
                box=_box(placed) if placed else None,
                problem=problem_out(failure.problem) if failure else None,
            )
        )
    return told


def _marks_key(placed: Placed) -> str:
    return f"{placed.made_key} {placed.use}"


def _marks(key: str, placed: Placed) -> MarksOut:
    marks = own_marks(placed)
    return MarksOut(
        key=key, marks=[MarkOut(d=path_data(m.outline, closed=m.closed), use=m.use) for m in marks]
    )


def _place(place: Placement) -> PlaceOut:
    return PlaceOut(x=place.x, y=place.y, turn=place.turn, scale=place.scale, flip=place.flip)


def _box(placed: Placed) -> BoxOut | None:
    x0, y0, x1, y1 = placed.box
    return None if math.isnan(x0) else BoxOut(x=x0, y=y0, width=x1 - x0, height=y1 - y0)


def _cluster(cluster: Cluster) -> ClusterOut:
    pieces = [
        PieceOut(d=path_data(piece.outline), area_mm2=piece.area, box=BoxOut.of(piece.box), holes=piece.holes)
        for piece in cluster.pieces
    ]
    return ClusterOut(key=cluster.key, pieces=pieces)


def _made(key: str, placed: Placed, evaluation: Evaluation) -> MadeOut:
    made = placed.made
    return (
        _made_lettering(key, made)
        if isinstance(made, MadeLettering)
        else _made_solid(key, placed, evaluation)
    )


def _made_solid(key: str, placed: Placed, evaluation: Evaluation) -> MadeOut:
    made, part = placed.made, evaluation.recipe.part(placed.id)
    return MadeOut(
        key=key,
        bodies=[
            *_bodies(None, made.shapes),
            *(b for layer in made.others for b in _bodies(layer.film, layer.shapes)),
        ],
        handles=_handles(part) if isinstance(part, ShapePart) else [],
        regions=[
            RegionOut(
                key=region.key,
                covers=list(region.covers),
                d=path_data(region.shape.outline),
                film=region.film,
            )
            for region in (made.divisions if isinstance(made, MadeCombination) else ())
        ],
        bands=_bands(made) if isinstance(made, MadeFrame) else [],
        letters=[],
        extras=[],
        ties=[],
        baselines_mm=[],
        capital_height_mm=0.0,
        size_mm=made.size,
        width_mm=0.0,
        height_mm=0.0,
        lost_shapes=[],
        waiting_shapes=[],
    )


def _bands(made: MadeFrame) -> list[BandOut]:
    told = []
    for number, band in enumerate(made.bands):
        fitted = made.fitted[number] if number < len(made.fitted) else None
        box = _box(made.members[fitted.part]) if fitted else None
        told.append(
            BandOut(
                box=BoxOut.of(band.box),
                d=path_data(band.opening, decimals=2),
                manner=band.manner,
                ring=list(band.radii[:2]) if band.radii else [],
                name=fitted.part if fitted else None,
                name_box=box,
                depth_mm=fitted.depth if fitted else 0.0,
                stretch=fitted.stretch if fitted else 1.0,
            )
        )
    return told


def _bodies(film: str | None, shapes: Sequence[tuple[Shape, Placement]]) -> list[BodyOut]:
    if not shapes:
        return []
    d = "".join(path_data(place.outline(shape.outline)) for shape, place in shapes)
    return [BodyOut(film=film, d=d)]


def _handles(part: ShapePart) -> list[Handle]:
    form = form_of(part.form)
    size = part.width_mm, part.height_mm
    found = (form.handle(parameter.key, *size, part.values) for parameter in form.parameters)
    return [handle for handle in found if handle is not None]


def _made_lettering(key: str, made: MadeLettering) -> MadeOut:
    width, height = made.measures
    return MadeOut(
        key=key,
        bodies=[body for layer in made.others for body in _bodies(layer.film, layer.shapes)],
        letters=[_letter(made, letter) for letter in made.layout.letters],
        extras=[
            ExtraOut(d=path_data(place.outline(shape.outline)), letter=letter)
            for shape, place, letter in made.extras
        ],
        ties=[_tie(made, tie) for tie in made.ties],
        baselines_mm=[] if made.layout.paths else list(made.layout.baselines),
        curved=bool(made.layout.paths),
        capital_height_mm=made.capital_height,
        size_mm=made.size,
        width_mm=width,
        height_mm=height,
        lost_shapes=list(made.lost_shapes),
        waiting_shapes=list(made.waiting_shapes),
    )


def _letter(made: MadeLettering, letter: PlacedLetter) -> LetterOut:
    at, place, box = letter.letter.at, letter.place, letter.form.box
    if place.turn:
        x0, y0, x1, y1 = place.region(letter.form.region).bounds
    else:
        x0, y0 = place.x + box.x * place.scale, place.y + box.y * place.scale
        x1, y1 = x0 + box.width * place.scale, y0 + box.height * place.scale
    return LetterOut(
        id=made.id_of(letter),
        at=at,
        line=letter.line,
        text=letter.text,
        form=letter.form.outline.digest,
        x=place.x,
        y=place.y,
        turn=place.turn,
        box=BoxOut(x=x0, y=y0, width=x1 - x0, height=y1 - y0),
        marks=len(made.joined.marks.get(at, ())),
        own_film=made.is_own(letter),
    )


def _tie(made: MadeLettering, tie: Tie) -> TieOut:
    letters = [made.layout.letters[n] for n in tie.ends]
    return TieOut(
        d=path_data(_on_part(made, tie.shape.outline)),
        letters=[made.id_of(letter) for letter in letters],
        texts=[letter.text for letter in letters],
        length_mm=tie.length * made.size,
    )


def _on_part(made: MadeLettering, outline: Outline) -> Outline:
    return outline.placed(0.0, 0.0, made.size)


def _bridge(bridge: Bridge) -> BridgeOut:
    return BridgeOut(
        number=bridge.number,
        parts=sorted(bridge.bar.parts),
        ends=[PointOut(x=x, y=y) for x, y in bridge.ends or ()],
        necks_mm=list(bridge.necks),
    )


def _seam(placed: PlacedSeam, judged: Judged, evaluation: Evaluation) -> SeamOut:
    recipe, part = evaluation.recipe, placed.made.lettering
    seam, measured = placed.seam, placed.seam.measured
    choice = part.changes.get(seam.left)
    return SeamOut(
        part=part.id,
        left=part.ids[seam.left],
        right=part.ids[seam.right],
        left_text=placed.left_text,
        right_text=placed.right_text,
        line=seam.line,
        gap_mm=placed.gap,
        neck_mm=judged.neck,
        asked_mm=judged.asked,
        limit_mm=judged.limit,
        at_least=judged.neck >= placed.widest_told,
        state=judged.holding.value,
        given_mm=placed.given,
        flow=[PointOut(x=x, y=y) for x, y in placed.flow_ends or ()],
        white_mm=placed.whites[0],
        white_set_mm=placed.whites[1],
        ends=[PointOut(x=x, y=y) for x, y in placed.ends],
        meets=None,
        chosen=choice.seam.way if choice else None,
        done=seam.joint.way,
        shift_mm=placed.shift,
        squeeze=seam.squeeze,
        covered=measured.covered,
        remedy=placed.remedy(recipe.unit),
        stubs=max(0, sum(stub.is_true for stub in measured.stubs) - len(seam.trimmed)),
        pinholes=max(0, placed.pinholes(recipe.limits.hole_mm) - seam.filled),
        notches=len(measured.deep_notches),
        trimmed=len(seam.trimmed),
        filled=seam.filled,
    )
