"""From a design to its sheets: what the Cut stage shows, what its files hold, and what its jobs cut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from fulgen.recipe.cutting import LaidCopy
from fulgen.recipe.evaluation import Evaluation
from fulgen.recipe.model import Recipe
from fulgen.sheet.motifs import Motif, motifs_of
from fulgen.sheet.sheets import LaidSheet, Sheet, laid_out, validate_copies


@dataclass(frozen=True, eq=False)
class Other:
    """Another design on the same sheets: its id, its name, how many of it, and what it comes to."""

    id: str
    name: str
    copies: int
    evaluation: Evaluation


def sheets_of(name: str, evaluation: Evaluation, others: Sequence[Other] = ()) -> list[LaidSheet]:
    """The sheets of a design, and of others that are cut with it, as its plan asks for them. Raises
    Problem."""
    plan = evaluation.recipe.cut

    def stock_of(film: str) -> Sheet:
        return Sheet.of(plan.stock(film), plan.spacing_mm)

    return laid_out(_motifs(name, evaluation, others), stock_of, plan, evaluation.recipe.unit)


def nested_closely(name: str, evaluation: Evaluation, seconds: int, others: Sequence[Other] = ()) -> Recipe:
    """The recipe with all that is cut arranged to use little film, in so many seconds. Raises Problem."""
    # With its packing library: imported when it is wanted.
    from fulgen.sheet.nest import copies_by_film, nested

    recipe = evaluation.recipe
    plan = replace(recipe.cut, laid=())
    motifs = _motifs(name, evaluation, others)
    validate_copies(motifs)
    wanted = copies_by_film(motifs, plan)
    laid = []
    each = max(1, seconds // max(1, len(wanted)))
    for film, own in wanted.items():
        sheet = Sheet.of(plan.stock(film), plan.spacing_mm)
        for n, there in enumerate(nested(own, sheet, plan.turns, each, recipe.unit)):
            for one in there:
                motif = one.motif
                at = (one.x, one.y, one.turn)
                laid.append(LaidCopy(motif.film, motif.part, one.copy, film, n, *at, design=motif.origin))
    return recipe.model_copy(update={"cut": replace(plan, laid=tuple(laid), closely=True)})


def film_taken(name: str, evaluation: Evaluation, recipe: Recipe, others: Sequence[Other] = ()) -> float:
    """How much length of film all sheets take that a recipe's plan asks for, in mm: on each sheet as far as
    what is laid there reaches. The recipe differs from that of the evaluation by its plan alone."""
    sheets = sheets_of(name, replace(evaluation, recipe=recipe), others)
    return sum(sheet.reach_mm for sheet in sheets)


def _motifs(name: str, evaluation: Evaluation, others: Sequence[Other]) -> list[Motif]:
    plan = evaluation.recipe.cut
    found = motifs_of(name, evaluation, plan)
    for other in others:
        found += motifs_of(other.name, other.evaluation, plan, other.copies, other.id)
    return found
