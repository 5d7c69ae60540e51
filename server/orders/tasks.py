"""What workers of the queue do: rows worked out. A task is pure: what it needs comes with it or in parcels,
and all it does is to answer. It can be done twice, by whichever worker, and changes nothing."""

from __future__ import annotations

import base64
import logging
import math
import resource
import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any, TypedDict

from django_tasks import task
from pydantic import TypeAdapter

from fulgen.lettering.catalogue import FaceChoice, own_family, shipped_face
from fulgen.lettering.faces import Face, FontFile
from fulgen.orders.by_hand import ByHand
from fulgen.orders.fields import Field
from fulgen.orders.kept import packed
from fulgen.orders.picture import picture_svg
from fulgen.orders.plan import GiveWay
from fulgen.orders.rows import Row, recipe_of
from fulgen.orders.working import ROW_SECONDS, WorkedRow, worked_out
from fulgen.recipe.model import Recipe
from fulgen.recipe.versions import read_stored, to_store
from orders.parcels import opened

log = logging.getLogger("fulgen")

_GRACE_S = 5.0


class RowIn(TypedDict):
    """A row to be worked out: its number, what it says by the keys of fields, and the parcels of the recipes
    with which a hand began and that it made."""

    number: int
    values: dict[str, str]
    by_hand: list[str] | None


class RowsIn(TypedDict):
    """Rows of one order: the parcel of their design, what may give way, and the shop's own faces that they
    need, each with its parcel, name and the name of its file."""

    design: str
    give_way: dict[str, Any]
    faces: dict[str, list[str]]
    rows: list[RowIn]


class RowOut(TypedDict):
    """A row worked out: as ``fulgen.orders.kept`` packs it, in base64; its picture; what the list shows; and
    its recipe, where it was made otherwise than the design and the list say."""

    number: int
    packed: str
    picture: str
    state: str
    reasons: list[str]
    width_mm: float
    height_mm: float
    letters_mm: float
    pieces: int
    films: list[str]
    recipe: str | None


_GIVE_WAY = TypeAdapter(GiveWay)


@task()
def work_rows(asked: RowsIn) -> list[RowOut]:
    """Works out rows, one after the other. What goes wrong with a row is its own failure."""
    give_way = _GIVE_WAY.validate_python(asked["give_way"])
    design = _recipe(asked["design"])
    with _bounded(len(asked["rows"]) * ROW_SECONDS + _GRACE_S):
        return [_worked(design, row, give_way, asked["faces"]) for row in asked["rows"]]


def _worked(design: Recipe, asked: RowIn, give_way: GiveWay, faces: Mapping[str, list[str]]) -> RowOut:
    def face_of(choice: FaceChoice) -> Face:
        if choice.family not in faces:
            return shipped_face(choice)
        digest, name, file_name = faces[choice.family]
        file = FontFile(_bytes(digest), file_name)
        return own_family(choice.family, name, file).face(choice.weight, choice.axes)

    by_hand = ByHand(*map(_recipe, asked["by_hand"])) if asked["by_hand"] else None
    row = Row(asked["number"], {field_of(key): value for key, value in asked["values"].items()})
    own = {slug: name for slug, (_, name, _) in faces.items()}
    return _told(worked_out(design, row, give_way, face_of, by_hand, own), design, own)


def field_of(key: str) -> Field:
    """A field by the key under which it is kept."""
    kind, _, part = key.partition(":")
    return Field(kind, part, "")  # type: ignore[arg-type]


def _told(worked: WorkedRow, design: Recipe, own: Mapping[str, str]) -> RowOut:
    made = worked.recipe
    return {
        "number": worked.row.number,
        "packed": base64.b64encode(packed(worked)).decode("ascii"),
        "picture": picture_svg(worked),
        "state": worked.state,
        "reasons": list(worked.reasons),
        "width_mm": worked.width_mm,
        "height_mm": worked.height_mm,
        "letters_mm": worked.letters_mm,
        "pieces": worked.pieces,
        "films": list(dict.fromkeys(motif.film.upper() for motif in worked.motifs)),
        "recipe": to_store(made) if made and made != recipe_of(design, worked.row, own) else None,
    }


def _recipe(digest: str) -> Recipe:
    found = opened(digest, _read_recipe)
    assert isinstance(found, Recipe)
    return found


def _read_recipe(data: bytes) -> Recipe:
    return read_stored(data.decode())


def _bytes(digest: str) -> bytes:
    found = opened(digest, bytes)
    assert isinstance(found, bytes)
    return found


@contextmanager
def _bounded(seconds: float) -> Iterator[None]:
    """Has the system end this process where a call that nothing else can end takes the time of all rows
    together."""
    _, hard = resource.getrlimit(resource.RLIMIT_CPU)
    most = math.ceil(time.process_time() + seconds)
    resource.setrlimit(
        resource.RLIMIT_CPU, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard)
    )
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_CPU, (hard, hard))
