"""The command that checks a design."""

from __future__ import annotations

import argparse
import json

from fulgen.cli.output import BLOCKED, one_design, read_text
from fulgen.cli.recipes import material_named, readied


def check_recipe(options: argparse.Namespace) -> int:
    from fulgen.readiness.findings import blocking, findings
    from fulgen.readiness.mend_summary import counted_mends, counts
    from fulgen.recipe.evaluate import evaluate
    from fulgen.recipe.model import MaterialChoice
    from fulgen.recipe.versions import read_recipe
    from fulgen.report import report, unmet_words

    recipe = read_recipe(read_text(options.recipe))
    if options.material:
        choice = MaterialChoice(name=material_named(options.material).name)
        recipe = recipe.model_copy(update={"material": choice})
    with one_design():
        evaluation = evaluate(readied(recipe, options)).whole()
        found = findings(evaluation)
    if evaluation.recipe.ready and not options.json:
        for kind, count in counts(evaluation).items():
            print(f"{'mended':8}{counted_mends(kind, count)}.")
    if options.json:
        print(json.dumps(report(evaluation)["findings"], indent=2, ensure_ascii=False))
    else:
        for finding in found:
            state = "known" if finding.accepted else "blocks" if finding.blocks else "look"
            remedy = f"  [{finding.remedy.label}]" if finding.remedy else ""
            print(f"{state:8}{finding.what(recipe.unit)}{remedy}")
        for line in unmet_words(evaluation):
            print(f"{'look':8}{line}")
    stops = len(blocking(found))
    if not options.json:
        said = "Clear to cut" if not stops else f"{stops} to repair before the cut"
        print(f"{said} ({recipe.material.name}).")
    return BLOCKED if stops else 0
