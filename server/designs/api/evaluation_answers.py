"""An evaluation as it is answered: by key, and only what the browser does not hold."""

import math
from collections.abc import Callable, Iterable, Sequence
from typing import TypeVar

from designs.api.evaluation_schemas import (
    FORM_UNITS,
    BandOut,
    BodyOut,
    BridgeOut,
    BuiltPartOut,
    ClusterOut,
    EvaluationOut,
    ExtraOut,
    FilmOut,
    FormOut,
    LetterOut,
    MarksOut,
    PartOut,
    PieceOut,
    PlaceOut,
    RegionOut,
    TieOut,
    UnmetOut,
)
from designs.api.values import BoxOut, MarkOut, PointOut, problem_out
from fulgen.geometry.outline import Outline
from fulgen.geometry.paths import path_data
from fulgen.geometry.placement import Placement
from fulgen.geometry.shape import Shape
from fulgen.geometry.shape_library import Handle, library_shape
from fulgen.joining.bars import Tie
from fulgen.lettering.layout import PlacedLetter
from fulgen.parts.built_lettering import BuiltLettering
from fulgen.parts.built_part import PlacedPart
from fulgen.parts.combination import BuiltCombination
from fulgen.parts.frame_builder import BuiltFrame
from fulgen.parts.shape import ShapePart
from fulgen.parts.welding import own_marks
from fulgen.recipe.evaluation import Bridge, Cluster, Evaluation, Failure
from fulgen.recipe.tree import Tree

Thing = TypeVar("Thing")


def _by_key(
    things: Iterable[Thing], key_of: Callable[[Thing], str], have: frozenset[str]
) -> dict[str, Thing]:
    """Things by their keys, each once, without those that the browser has."""
    return {key: thing for thing in things if (key := key_of(thing)) not in have}


def evaluation_out(evaluation: Evaluation, have: frozenset[str]) -> EvaluationOut:
    clusters = _by_key(evaluation.clusters, lambda cluster: cluster.key, have)
    built = _by_key(evaluation.built.values(), lambda placed: placed.build_key, have)
    marked = _by_key(filter(evaluation.marked, evaluation.built.values()), _marks_key, have)
    letterings = [placed.built for placed in built.values() if isinstance(placed.built, BuiltLettering)]
    forms = _by_key(
        (letter.form.outline for m in letterings for letter in m.layout.letters),
        lambda outline: outline.digest,
        have,
    )
    return EvaluationOut(
        display_name=evaluation.recipe.display_name,
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
        built=[_built_part(key, placed, evaluation) for key, placed in built.items()],
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
    answers = []
    for part in evaluation.recipe.parts:
        placed, failure = evaluation.built.get(part.id), failure_of(part.id)
        answers.append(
            PartOut(
                id=part.id,
                within=parent.get(part.id),
                shown=evaluation.part(part.id) is not None,
                built=placed.build_key if placed else None,
                marks=_marks_key(placed) if placed and evaluation.marked(placed) else None,
                use=part.use,
                film=part.film.upper(),
                place=_place(placed.place if placed else part.place),
                box=_box(placed) if placed else None,
                problem=problem_out(failure.problem) if failure else None,
            )
        )
    return answers


def _marks_key(placed: PlacedPart) -> str:
    return f"{placed.build_key} {placed.use}"


def _marks(key: str, placed: PlacedPart) -> MarksOut:
    marks = own_marks(placed)
    return MarksOut(
        key=key, marks=[MarkOut(d=path_data(m.outline, closed=m.closed), use=m.use) for m in marks]
    )


def _place(place: Placement) -> PlaceOut:
    return PlaceOut(x=place.x, y=place.y, turn=place.turn, scale=place.scale, flip=place.flip)


def _box(placed: PlacedPart) -> BoxOut | None:
    x0, y0, x1, y1 = placed.box
    return None if math.isnan(x0) else BoxOut(x=x0, y=y0, width=x1 - x0, height=y1 - y0)


def _cluster(cluster: Cluster) -> ClusterOut:
    pieces = [
        PieceOut(d=path_data(piece.outline), area_mm2=piece.area, box=BoxOut.of(piece.box), holes=piece.holes)
        for piece in cluster.pieces
    ]
    return ClusterOut(key=cluster.key, pieces=pieces)


def _built_part(key: str, placed: PlacedPart, evaluation: Evaluation) -> BuiltPartOut:
    built = placed.built
    return (
        _built_lettering(key, built)
        if isinstance(built, BuiltLettering)
        else _built_solid(key, placed, evaluation)
    )


def _built_solid(key: str, placed: PlacedPart, evaluation: Evaluation) -> BuiltPartOut:
    built, part = placed.built, evaluation.recipe.part(placed.id)
    return BuiltPartOut(
        key=key,
        bodies=[
            *_bodies(None, built.shapes),
            *(b for layer in built.others for b in _bodies(layer.film, layer.shapes)),
        ],
        handles=_handles(part) if isinstance(part, ShapePart) else [],
        regions=[
            RegionOut(
                key=region.key,
                covers=list(region.covers),
                d=path_data(region.shape.outline),
                film=region.film,
            )
            for region in (built.divisions if isinstance(built, BuiltCombination) else ())
        ],
        bands=_bands(built) if isinstance(built, BuiltFrame) else [],
        letters=[],
        extras=[],
        ties=[],
        baselines_mm=[],
        capital_height_mm=0.0,
        size_mm=built.size,
        width_mm=0.0,
        height_mm=0.0,
        lost_shapes=[],
        waiting_shapes=[],
    )


def _bands(built: BuiltFrame) -> list[BandOut]:
    answers = []
    for number, band in enumerate(built.bands):
        fitted = built.fitted[number] if number < len(built.fitted) else None
        box = _box(built.members[fitted.part]) if fitted else None
        answers.append(
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
    return answers


def _bodies(film: str | None, shapes: Sequence[tuple[Shape, Placement]]) -> list[BodyOut]:
    if not shapes:
        return []
    d = "".join(path_data(place.outline(shape.outline)) for shape, place in shapes)
    return [BodyOut(film=film, d=d)]


def _handles(part: ShapePart) -> list[Handle]:
    form = library_shape(part.form)
    size = part.width_mm, part.height_mm
    found = (form.handle(parameter.key, *size, part.values) for parameter in form.parameters)
    return [handle for handle in found if handle is not None]


def _built_lettering(key: str, built: BuiltLettering) -> BuiltPartOut:
    width, height = built.measures
    return BuiltPartOut(
        key=key,
        bodies=[body for layer in built.others for body in _bodies(layer.film, layer.shapes)],
        letters=[_letter(built, letter) for letter in built.layout.letters],
        extras=[
            ExtraOut(d=path_data(place.outline(shape.outline)), letter=letter)
            for shape, place, letter in built.extras
        ],
        ties=[_tie(built, tie) for tie in built.ties],
        baselines_mm=[] if built.layout.paths else list(built.layout.baselines),
        curved=bool(built.layout.paths),
        capital_height_mm=built.capital_height,
        size_mm=built.size,
        width_mm=width,
        height_mm=height,
        lost_shapes=list(built.lost_shapes),
        waiting_shapes=list(built.waiting_shapes),
    )


def _letter(built: BuiltLettering, letter: PlacedLetter) -> LetterOut:
    at, place, box = letter.letter.at, letter.place, letter.form.box
    if place.turn:
        x0, y0, x1, y1 = place.region(letter.form.region).bounds
    else:
        x0, y0 = place.x + box.x * place.scale, place.y + box.y * place.scale
        x1, y1 = x0 + box.width * place.scale, y0 + box.height * place.scale
    return LetterOut(
        id=built.id_of(letter),
        at=at,
        line=letter.line,
        text=letter.text,
        form=letter.form.outline.digest,
        x=place.x,
        y=place.y,
        turn=place.turn,
        box=BoxOut(x=x0, y=y0, width=x1 - x0, height=y1 - y0),
        marks=len(built.joined.marks.get(at, ())),
        own_film=built.is_own(letter),
    )


def _tie(built: BuiltLettering, tie: Tie) -> TieOut:
    letters = [built.layout.letters[n] for n in tie.ends]
    return TieOut(
        d=path_data(_on_part(built, tie.shape.outline)),
        letters=[built.id_of(letter) for letter in letters],
        texts=[letter.text for letter in letters],
        length_mm=tie.length * built.size,
    )


def _on_part(built: BuiltLettering, outline: Outline) -> Outline:
    return outline.placed(0.0, 0.0, built.size)


def _bridge(bridge: Bridge) -> BridgeOut:
    return BridgeOut(
        number=bridge.number,
        parts=sorted(bridge.bar.parts),
        ends=[PointOut(x=x, y=y) for x, y in bridge.ends or ()],
        necks_mm=list(bridge.necks),
    )
