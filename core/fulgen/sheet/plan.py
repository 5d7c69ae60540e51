"""From a design to its sheets: what the Cut stage shows, what its files hold, and what its jobs cut."""

from __future__ import annotations

from dataclasses import replace

from fulgen.recipe.cutting import Laid
from fulgen.recipe.evaluate import Evaluation
from fulgen.recipe.model import Recipe
from fulgen.sheet.motifs import motifs_of
from fulgen.sheet.nest import nested
from fulgen.sheet.sheets import LaidMotif, LaidSheet, Sheet, laid_out, look_at_copies


def sheets_of(name: str, evaluation: Evaluation) -> list[LaidSheet]:
    """The sheets of a design, as its plan asks for them. Raises Problem."""
    plan = evaluation.recipe.cut

    def stock_of(film: str) -> Sheet:
        return Sheet.of(plan.stock(film), plan.spacing_mm)

    return laid_out(motifs_of(name, evaluation, plan), stock_of, plan, evaluation.recipe.unit)


def nested_closely(name: str, evaluation: Evaluation, seconds: int) -> Recipe:
    """The recipe with all that is cut arranged to use little film, in so many seconds. Raises Problem."""
    recipe = evaluation.recipe
    plan = replace(recipe.cut, laid=())
    motifs = motifs_of(name, evaluation, plan)
    look_at_copies(plan, len(motifs))
    wanted: dict[str, list[LaidMotif]] = {}
    for motif in motifs:
        film = (plan.stock(motif.film).onto or motif.film).upper()
        own = [LaidMotif(motif, 0.0, 0.0, 0.0, copy) for copy in range(plan.copies)]
        wanted[film] = [*wanted.get(film, []), *own]
    laid = []
    each = max(1, seconds // max(1, len(wanted)))
    for film, own in wanted.items():
        sheet = Sheet.of(plan.stock(film), plan.spacing_mm)
        for n, there in enumerate(nested(own, sheet, plan.turns, each, recipe.unit)):
            laid += [
                Laid(one.motif.film, one.motif.part, one.copy, film, n, one.x, one.y, one.turn)
                for one in there
            ]
    return recipe.model_copy(update={"cut": replace(plan, laid=tuple(laid))})
