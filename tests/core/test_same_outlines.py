"""While parts are laid on new ground: every outline is the same, byte for byte, as before.

The recipes and the digests of their SVG were written down by the code as it was; those whose outlines change
by a mended fault (the size with an underline, small holes in large words) are left out.
"""

import hashlib
import json
from pathlib import Path

import pytest

from fulgen.formats.svg import write_svg
from fulgen.recipe.evaluate import evaluate
from fulgen.recipe.versions import recipe_from

ROWS = json.loads((Path(__file__).parent / "same_outlines.json").read_text("utf-8"))


@pytest.mark.parametrize("row", ROWS, ids=lambda row: row["digest"])
def test_the_outline_is_the_same_as_before(row):
    svg = write_svg(evaluate(recipe_from(row["recipe"])))
    assert hashlib.sha256(svg.encode()).hexdigest()[:16] == row["digest"]
