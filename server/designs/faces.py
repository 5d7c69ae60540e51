"""The faces to choose from: those that ship, and those a maker added.

An added face is checked before it is kept, and rated later: how it joins as it is set. A rating that was cut
short (the server was stopped) is taken up again when the list is next asked for.
"""

import json
import logging
from dataclasses import asdict
from functools import lru_cache
from typing import Any

from django.db.models import Q
from ninja import Schema

from designs.models import OwnFace
from designs.typed import one_line
from fulgen.bounded import BoundedCache
from fulgen.joining.rating import Rating, rate
from fulgen.lettering.catalogue import FACES_DIR, OWN, FaceChoice, Family, families, find_family, own_family
from fulgen.lettering.faces import Axis, Face, Feature, FontFile, face_name
from fulgen.lettering.layout import lay_out
from fulgen.lettering.setting import Faces, Setting
from fulgen.problem import Problem

log = logging.getLogger("fulgen")

OWN_PREFIX = "own-"
MAX_OWN_FACES = 200
MOST_LETTERS = 80
"""Of the name of a face, and of a word about its licence."""

SAMPLE = "Willow"


def face_of(choice: FaceChoice) -> Face:
    """The face a recipe names, shipped or added. Raises Problem "no-face"."""
    return family_of(choice.family).face(choice.weight, choice.axes)


def family_of(name: str) -> Family:
    """A family by its name or slug. Raises Problem "no-face"."""
    return _own(name) if name.startswith(OWN_PREFIX) else find_family(name)


def family_name(slug: str) -> str:
    """What a face is called, by what it is kept under; that itself where it is not here."""
    try:
        return family_of(slug).name
    except Problem:
        return slug


_own_families: BoundedCache[str, Family] = BoundedCache(
    64 * 2**20, lambda family: sum(file.size for file in family.weights[0].face.files)
)
"""Families of the maker's own, up to so many bytes of files."""


def _own(slug: str) -> Family:
    def read() -> Family:
        row = OwnFace.objects.filter(slug=slug).first()
        if row is None:
            raise Problem(
                "no-face", "The face of this design is not here.", "Choose another, or add its file again."
            )
        return own_family(slug, row.name, FontFile(bytes(row.data), row.file_name))

    return _own_families.get(slug, read)


class JoinsOut(Schema):
    """How a face joins as it is set: the shares of common pairs that are joined, the thinnest stroke as
    a share of the size, and a word for it."""

    small: float
    capital: float
    thinnest: float
    words: str

    @classmethod
    def of(cls, rating: Rating) -> "JoinsOut":
        return cls(small=rating.small, capital=rating.capital, thinnest=rating.thinnest, words=rating.words)


class FaceOut(Schema):
    """A family to choose: its kind, weights or axes, what can be switched, and how it joins. While that is
    being worked out, rated_share says how far it is; rating_failed, that it could not be."""

    slug: str
    name: str
    kind: str
    weights: list[int]
    axes: list[Axis]
    features: list[Feature]
    licence: str
    joins: JoinsOut | None
    rated_share: float = 1.0
    rating_failed: bool = False


def listed() -> list[FaceOut]:
    """All families to choose from: the maker's own first."""
    own = OwnFace.objects.filter(listed=True).defer("data")
    return [*map(_own_out, own), *shipped_faces()]


def unrated() -> list[str]:
    """Faces of the maker's own on the list whose rating, or what they can do, is not worked out yet."""
    rows = OwnFace.objects.filter(listed=True, rating_failed=False)
    return list(rows.filter(Q(rating__isnull=True) | Q(about__isnull=True)).values_list("slug", flat=True))


@lru_cache(maxsize=1)
def shipped_faces() -> tuple[FaceOut, ...]:
    """The families that ship, as the list shows them."""
    return tuple(map(_shipped_out, families().values()))


def _shipped_out(family: Family) -> FaceOut:
    rating = shipped_ratings().get(family.slug)
    return FaceOut(
        slug=family.slug, name=family.name, kind=family.kind, weights=list(family.numbered_weights),
        axes=list(family.axes), features=list(family.face().features()), licence="SIL Open Font License 1.1",
        joins=JoinsOut.of(rating) if rating else None,
    )  # fmt: skip


def _own_out(row: OwnFace) -> FaceOut:
    """A face of the maker's own as the list shows it: what its file can do is kept beside it, so that a list
    of many does not read many files."""
    return FaceOut(
        slug=row.slug, name=row.name, kind=OWN, weights=[], licence=row.licence,
        joins=JoinsOut.of(Rating(**row.rating)) if row.rating else None,
        rated_share=row.rated_share, rating_failed=row.rating_failed,
        **(row.about or {"axes": [], "features": []}),
    )  # fmt: skip


def _about(family: Family) -> dict[str, Any]:
    return {
        "axes": [asdict(axis) for axis in family.axes],
        "features": [asdict(feature) for feature in family.face().features()],
    }


@lru_cache(maxsize=1)
def shipped_ratings() -> dict[str, Rating]:
    """How the shipped families join, as ./fulgen schemas wrote it down."""
    rows = json.loads((FACES_DIR / "ratings.json").read_text("utf-8"))
    return {slug: Rating(**row) for slug, row in rows.items()}


def add(data: bytes, file_name: str, licence: str) -> FaceOut:
    """A face added to the list, once it is checked. Raises Problem when it is no face.

    The same file again is the same face.
    """
    file = FontFile(data, file_name[-80:] or "the file")
    slug = f"{OWN_PREFIX}{file.key}"
    row = OwnFace.objects.filter(slug=slug).first()
    if row is None:
        if OwnFace.objects.filter(listed=True).count() >= MAX_OWN_FACES:
            raise Problem(
                "list-full", f"The list holds {MAX_OWN_FACES} faces of your own.", "Take some off first."
            )
        family = own_family(slug, one_line(face_name(file), MOST_LETTERS), file)
        # Drawing a word finds what is wrong inside before anyone relies on it.
        _try_out(family.face())
        row = OwnFace(slug=slug, name=family.name, data=data, file_name=file.name, about=_about(family))
    row.listed = True
    row.licence = one_line(licence, MOST_LETTERS) or row.licence
    row.save()
    return _own_out(OwnFace.objects.defer("data").get(slug=slug))


def _try_out(face: Face) -> None:
    known = [chr(c) for c in sorted(face.letters) if chr(c).isalpha()][:400]
    text = SAMPLE if not set(SAMPLE) - set(known) else "".join(known[:6])
    if not text:
        raise Problem("bad-face", f"{face.name} has no letters.", "Choose another file.")
    lay_out(Setting(text=text), Faces(face))


def take_off(slug: str) -> None:
    """Off the list; designs that use it keep it."""
    _change_listing(slug, False)


def put_back(slug: str) -> FaceOut:
    """Back on the list."""
    return _own_out(_change_listing(slug, True))


def _change_listing(slug: str, to: bool) -> OwnFace:
    row = OwnFace.objects.filter(slug=slug).defer("data").first()
    if row is None:
        raise Problem("not-found", "There is no such face of your own.", "Reload the list.")
    row.listed = to
    row.save(update_fields=["listed"])
    return row


def rate_own(slug: str) -> None:
    """Works out how a face of the maker's own joins, and what it can do, and keeps both."""
    row = OwnFace.objects.filter(slug=slug)

    def done(share: float) -> None:
        row.update(rated_share=share)

    try:
        family = _own(slug)
        rating = rate(family.face(), done)
        row.update(rating=rating.as_dict(), rated_share=1.0, about=_about(family))
    except Exception:
        log.exception("rating %s failed", slug)
        rating_failed(slug)


def rating_failed(slug: str) -> None:
    """Told once, and not tried again at every look at the list: the file is as it was then."""
    OwnFace.objects.filter(slug=slug).update(rating_failed=True)
