"""What the check finds, its remedies, and how much thicker lettering has to be."""

from collections.abc import Sequence
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from designs.api.values import AnyRecipe, BoxOut, Problems, RecipeIn
from designs.faces import face_of
from fulgen.frozen import WHOLE
from fulgen.joining.materials import Limits
from fulgen.parts.touchups import TouchUpKind
from fulgen.problem import Problem
from fulgen.readiness.films import alike_films, film_name
from fulgen.readiness.finding import Finding, wide_enough
from fulgen.readiness.findings import FindingKind, findings, why_no_place
from fulgen.readiness.thinnest_stroke import thinnest_stroke, thinnest_stroke_of
from fulgen.recipe.changes import with_part
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.model import AcceptedFinding, Recipe
from fulgen.recipe.tree import Tree
from fulgen.roots import root
from fulgen.units import Unit

router = Router(tags=["findings"])


class FindingOut(Schema):
    """What the check found, on the work: where, how large (measure is a number of points for points), the
    limit it breaks, and what repairs it. known is what a recipe keeps when the maker accepts it;
    known_as, by number, what it keeps of it now."""

    number: int
    kind: FindingKind
    what: str
    blocks: bool
    accepted: bool
    box: BoxOut
    measure: float
    limit: float
    part: str
    size_mm: float
    remedy: str | None
    as_accepted: AcceptedFinding
    accepted_as: list[int]


class LostTouchUp(Schema):
    """A touch-up that no longer finds its place: its number in the recipe, and what it did."""

    number: int
    what: str


class AlikeOut(Schema):
    """Two films that look alike, and what the shop calls them."""

    one: str
    other: str
    one_name: str
    other_name: str


class FindingsOut(Schema):
    """All that the check finds, the limits it goes by, how wide strokes are made that are under theirs,
    touch-ups that have lost their place, and films that look alike."""

    material: str
    limits: Limits
    wide_enough_mm: float
    findings: list[FindingOut]
    lost: list[LostTouchUp]
    alike: list[AlikeOut]


class RemedyIn(Schema):
    """Findings of a recipe, by their numbers."""

    recipe: AnyRecipe
    numbers: Annotated[
        list[Annotated[int, Field(ge=0, le=10_000), WHOLE]], Field(min_length=1, max_length=400)
    ]


class StrokeIn(Schema):
    """How wide the thinnest stroke of a part is to be."""

    recipe: AnyRecipe
    part: str
    stroke_mm: Annotated[float, Field(strict=True, ge=0.05, le=50)]


class ThickenOut(Schema):
    """By how much to thicken, how wide the thinnest stroke was and is then, and whether that is as asked."""

    thicken_mm: float
    before_mm: float
    after_mm: float
    is_met: bool


_DID: dict[TouchUpKind, str] = {
    "fill": "a hole was filled", "cut": "a sliver was taken off", "thicken": "a thin place was thickened",
    "close": "a gap was closed", "remove": "a point was taken out", "move": "a point was moved",
    "smooth": "a stretch was smoothed", "round": "a corner was rounded",
    "insert": "a point was put in", "before": "a curve was pulled", "after": "a curve was pulled",
}  # fmt: skip


@router.post("/findings", response={200: FindingsOut, **Problems}, operation_id="findings")
def list_findings(request: HttpRequest, wanted: RecipeIn) -> FindingsOut:
    """What would go wrong on the material."""
    recipe = wanted.recipe
    evaluation = evaluate(recipe, face_of)
    return FindingsOut(
        material=recipe.material.name,
        limits=recipe.limits,
        wide_enough_mm=wide_enough(recipe.limits.stroke_mm),
        findings=[_finding(n, f, recipe.unit) for n, f in enumerate(findings(evaluation))],
        lost=[LostTouchUp(number=n, what=f"Where {_DID[recipe.touch_ups[n].kind]}") for n in evaluation.lost],
        alike=[
            AlikeOut(
                one=one, other=other,
                one_name=film_name(evaluation.recipe, one), other_name=film_name(evaluation.recipe, other),
            )
            for one, other in alike_films([film.colour for film in evaluation.films])
        ],
    )  # fmt: skip


def _finding(number: int, finding: Finding, unit: Unit) -> FindingOut:
    return FindingOut(
        number=number,
        kind=finding.kind,
        what=finding.what(unit),
        blocks=finding.blocks,
        accepted=finding.accepted,
        box=BoxOut.of(finding.box),
        measure=finding.measure,
        limit=finding.limit,
        part=finding.at.part,
        size_mm=finding.size,
        remedy=finding.remedy.label if finding.remedy else None,
        as_accepted=finding.as_accepted,
        accepted_as=list(finding.accepted_as),
    )


@router.post("/findings/remedy", response={200: Recipe, **Problems}, operation_id="takeRemedy")
def take_remedy(request: HttpRequest, wanted: RemedyIn) -> Recipe:
    """The recipe with the remedies of findings taken, as many as find a place to hold."""
    before = evaluate(wanted.recipe, face_of)
    found = findings(before)
    chosen = [found[n] for n in dict.fromkeys(wanted.numbers) if n < len(found) and found[n].remedy]
    mended, taken = _with_remedies(wanted.recipe, chosen, len(before.lost))
    if not taken:
        what = why_no_place(chosen[0]) if chosen else "There is no remedy for this."
        raise Problem("no-remedy", what, "Make it ready, repair it by hand, or accept it.")
    return mended


def _with_remedies(recipe: Recipe, chosen: Sequence[Finding], lost: int) -> tuple[Recipe, int]:
    """A recipe with remedies taken, and how many: all at once where each finds its place, else by halves, so
    that one that finds none takes no other with it. ``lost``: how many touch-ups have no place already."""
    tried = recipe
    for finding in chosen:
        assert finding.remedy is not None
        tried = finding.remedy.take(tried)
    if len(evaluate(tried, face_of).lost) == lost:
        return tried, len(chosen)
    if len(chosen) < 2:
        return recipe, 0
    half = len(chosen) // 2
    first, one = _with_remedies(recipe, chosen[:half], lost)
    both, other = _with_remedies(first, chosen[half:], lost)
    return both, one + other


@router.post("/thicken-until", response={200: ThickenOut, **Problems}, operation_id="thickenUntil")
def thicken_until(request: HttpRequest, wanted: StrokeIn) -> ThickenOut:
    """By how much a part is to be thickened until its thinnest stroke is as wide as asked."""
    part = wanted.recipe.lettering(wanted.part)
    if part is None:
        raise Problem("no-part", "There is no lettering to thicken.", "Choose a lettering.", "parts")

    framed = Tree(wanted.recipe).is_framed(part.id)

    def thinnest(thicken_mm: float) -> float:
        thicker = part.model_copy(update={"thicken_mm": thicken_mm})
        if not framed:
            alone = wanted.recipe.model_copy(update={"parts": (thicker,)})
            return thinnest_stroke(evaluate(alone, face_of).whole())
        # A name in a frame is as large as it is fitted: it is measured there.
        built = evaluate(with_part(wanted.recipe, part.id, lambda _: thicker), face_of).whole()
        return thinnest_stroke_of(built.built[part.id])

    before = thinnest(part.thicken_mm)
    # The letters grow smaller where they keep their overall size: so it is found by trying.
    found = root(
        lambda thicken: thinnest(round(thicken, 3)) - wanted.stroke_mm,
        max(part.thicken_mm + (wanted.stroke_mm - before) / 2, 0.0),
        2.0,
        _STROKE_MM,
        least=0.0,
        most=50.0,
    )
    if found.at <= 0 and found.off > _STROKE_MM:
        raise Problem(
            "thick-enough",
            f"The thinnest stroke is {before:.2f} mm wide already.",
            "Type a wider one, or thin the lettering by a length below 0.",
            "thicken_mm",
        )
    by = round(found.at, 3)
    return ThickenOut(
        thicken_mm=by, before_mm=before, after_mm=wanted.stroke_mm + found.off, is_met=found.is_exact
    )


_STROKE_MM = 0.01
"""The thinnest stroke is rounded to a hundredth of a millimetre."""
