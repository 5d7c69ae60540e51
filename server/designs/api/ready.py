"""Making ready: what it does to a design, or would do, and what stands at the gate."""

from itertools import groupby

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from designs.api.values import BoxOut, Problems, RecipeIn, answered
from designs.faces import face_of
from fulgen.joining.anchors import Anchor
from fulgen.parts.ready import MEND_KINDS, MendKind, Ready
from fulgen.readiness.findings import blocking, findings
from fulgen.readiness.gate import stops
from fulgen.readiness.mend_summary import KIND_WORDS, Mended, counted_mends, mended
from fulgen.recipe.changes import readied
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.evaluation import Evaluation
from fulgen.units import Unit

router = Router(tags=["ready"])


class MendedOut(Schema):
    """A place that is mended: what it was, where on the work, and the place it is kept by."""

    what: str
    box: BoxOut
    size_mm: float
    at: Anchor


class MendedKindOut(Schema):
    """All that is mended of a kind: in words, and place by place. left: the kind is left as it is."""

    kind: MendKind
    name: str
    what: str
    left: bool
    places: list[MendedOut]


class LeftOut(Schema):
    """A place that is left as it is, by its number in the recipe."""

    number: int
    what: str


class StopOut(Schema):
    """What is to be known before a design goes out."""

    about: str
    what: str
    todo: str


class ReadyOut(Schema):
    """What making ready does to a design, or would do where it is not asked for: kind by kind; the places
    left as they are; what would still block the cut; and what stands at the gate as it is now."""

    asked: bool
    kinds: list[MendedKindOut]
    places_left: list[LeftOut]
    still: list[str]
    stops: list[StopOut]


@router.post("/ready", response={200: ReadyOut, **Problems}, operation_id="readyFor")
def ready_for(request: HttpRequest, wanted: RecipeIn) -> HttpResponse:
    """What making ready does, or would do."""
    recipe = wanted.recipe
    now = evaluate(recipe, face_of)
    built = evaluate(readied(recipe), face_of)
    ready = recipe.ready or Ready()
    return answered(
        ReadyOut(
            asked=recipe.ready is not None,
            kinds=_kinds(built, ready, recipe.unit),
            places_left=[
                LeftOut(number=n, what=KIND_WORDS[left.kind]) for n, left in enumerate(ready.places_left)
            ],
            still=[finding.what(recipe.unit) for finding in blocking(findings(built))],
            stops=[StopOut(about=stop.about, what=stop.what, todo=stop.todo) for stop in stops(now)],
        )
    )


def _kinds(built: Evaluation, ready: Ready, unit: Unit) -> list[MendedKindOut]:
    by_kind = {kind: list(some) for kind, some in groupby(mended(built), key=lambda one: one.kind)}
    return [
        MendedKindOut(
            kind=kind, name=KIND_WORDS[kind],
            what=counted_mends(kind, len(by_kind.get(kind, []))),
            left=kind in ready.kinds_left,
            places=[_place(one, unit) for one in by_kind.get(kind, [])],
        )
        for kind in MEND_KINDS
        if kind in by_kind or kind in ready.kinds_left
    ]  # fmt: skip


def _place(one: Mended, unit: Unit) -> MendedOut:
    return MendedOut(what=one.what(unit), box=BoxOut.of(one.box), size_mm=one.size, at=one.at)
