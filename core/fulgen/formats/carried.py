"""The file that is cut is the file that can be edited: SVG and PDF files carry the recipe that they were
written from, in their metadata (SVG 2, section 5.10) or as a file within (ISO 32000-1, section 7.11.4).

With it goes a fingerprint of what the file draws: where the drawing was changed since, both are there to
choose from. Faces of the shop's own are named by their digests in the recipe itself.
"""

from __future__ import annotations

import base64
import json
import re
import zlib
from collections.abc import Iterable
from dataclasses import dataclass
from xml.sax.saxutils import quoteattr

from fulgen.bounded import digest
from fulgen.formats.drawing import parsed
from fulgen.formats.drawn_path import DrawnPath, ReadRequest
from fulgen.formats.svg_in import READ_BOUNDS
from fulgen.geometry.paths import path_data
from fulgen.problem import Problem
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import MAX_RECIPE_BYTES, read_recipe, recipe_from, to_store

NAMESPACE = "urn:fulgen:recipe"
FILE_IN_PDF = "recipe.json"

_DECIMALS = 1
"""Points are compared to a tenth of a millimetre: programs that pass a file on round them. (†)"""

_MOST_NAME = 120


@dataclass(frozen=True)
class CarriedDesign:
    """A design as a file carries it; is_changed: what the file draws was changed since it was written."""

    name: str
    recipe: Recipe
    is_changed: bool


def fingerprint(drawn: Iterable[DrawnPath]) -> str:
    """A mark of what a drawing shows, whatever the order of its things."""
    seen = sorted(f"{one.colour.upper()} {path_data(one.outline, _DECIMALS)}" for one in drawn)
    return digest(*seen)


def svg_with_recipe(document: str, name: str, recipe: Recipe) -> str:
    """An SVG file with the recipe of what it draws. Raises Problem "recipe-too-large"."""
    from fulgen.formats import svg_in

    drawn = fingerprint(svg_in.read(document.encode(), name or "the file", ReadRequest()).drawn)
    carried = (
        f'<metadata><recipe xmlns="{NAMESPACE}" drawing={quoteattr(drawn)}>'
        f"{base64.b64encode(zlib.compress(_as_json(name, recipe))).decode('ascii')}</recipe></metadata>\n"
    )
    # Behind the description, where those who only look at its beginning find title and words as before.
    at = document.index("</desc>") + len("</desc>\n")
    return f"{document[:at]}{carried}{document[at:]}"


def for_pdf(name: str, recipe: Recipe, drawn: Iterable[DrawnPath]) -> bytes:
    """What a PDF carries as a file within."""
    return json.dumps({**json.loads(_as_json(name, recipe)), "drawing": fingerprint(drawn)}).encode()


def _as_json(name: str, recipe: Recipe) -> bytes:
    return json.dumps({"name": name[:_MOST_NAME], "recipe": json.loads(to_store(recipe))}).encode()


def read_carried(data: bytes, name: str) -> CarriedDesign | None:
    """The design that a file carries, or that it is: a recipe as JSON. None where there is none.

    Raises Problem where it carries one that cannot be read, and as readers of drawings do.
    """
    if data.lstrip()[:1] == b"{":
        return CarriedDesign(re.sub(r"\.json$", "", name), read_recipe(data), False)
    if data.startswith(b"%PDF"):
        return _in_pdf(data, name)
    if b"<svg" in data[:4_000] or b"<SVG" in data[:4_000]:
        return _in_svg(data, name)
    return None


def _in_svg(data: bytes, name: str) -> CarriedDesign | None:
    from fulgen.formats import svg_in

    found = next(parsed(data, name, READ_BOUNDS).iter(f"{{{NAMESPACE}}}recipe"), None)
    if found is None or not found.text:
        return None
    try:
        packed = base64.b64decode(found.text, validate=False)
        unpack = zlib.decompressobj()
        text = unpack.decompress(packed, 2 * MAX_RECIPE_BYTES)
        if unpack.unconsumed_tail:
            raise ValueError("larger than a recipe may be")
    except (ValueError, zlib.error):
        raise _unreadable(name) from None
    drawn = svg_in.read(data, name, ReadRequest()).drawn
    return _carried(text, name, found.get("drawing", ""), drawn)


def _in_pdf(data: bytes, name: str) -> CarriedDesign | None:
    from fulgen.formats import pdf_in

    text = pdf_in.file_within(data, name, FILE_IN_PDF, 2 * MAX_RECIPE_BYTES)
    return None if text is None else _carried(text, name, "", pdf_in.read(data, name, ReadRequest()).drawn)


def _carried(text: bytes, name: str, mark: str, drawn: Iterable[DrawnPath]) -> CarriedDesign:
    try:
        kept = json.loads(text)
        called, row = str(kept["name"]), kept["recipe"]
        mark = mark or str(kept["drawing"])
    except (ValueError, KeyError, TypeError, RecursionError):
        raise _unreadable(name) from None
    return CarriedDesign(called[:_MOST_NAME], recipe_from(row), fingerprint(drawn) != mark)


def _unreadable(name: str) -> Problem:
    return Problem(
        "bad-file", f"{name} carries a design that is damaged.",
        "Open it as a drawing, or take another copy.", "file",
    )  # fmt: skip
