"""The faces to choose from: those that ship, and those a maker added.

An added face is checked before it is kept, and rated later: how it joins as it is set. A rating that was cut
short (the server was stopped) is taken up again when the list is next asked for.
"""

import logging
import unicodedata
from functools import lru_cache

from ninja import Schema

from designs.models import FavouriteFace, OwnFace
from designs.typed import one_line
from fulgen.bounded import BoundedCache
from fulgen.joining.face_record import FaceRecord, alike, record_of, shipped_records
from fulgen.joining.rating import Rating
from fulgen.lettering.catalogue import OWN, FaceChoice, Family, families, find_family, own_family
from fulgen.lettering.faces import Axis, Face, Feature, FontFile, face_name
from fulgen.lettering.facts import Facts
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
    """How a face joins in a writing system as it is set: the shares of common pairs that are joined, the
    thinnest stroke and the smallest counter as shares of the size, and a word for it."""

    system: str
    small: float
    capital: float
    thinnest: float
    counter: float
    words: str

    @classmethod
    def of(cls, system: str, rating: Rating) -> "JoinsOut":
        return cls(system=system, words=rating.words, **rating.as_dict())


class FaceOut(Schema):
    """A family to choose: its kind, weights or axes, what can be switched, the writing systems that it
    writes, what its looks are called, whether its letters
    are written as a hand does, and how it joins in each writing system. While that is being worked
    out, rated_share says how far it is; rating_failed, that it could not be."""

    slug: str
    name: str
    kind: str
    weights: list[int]
    axes: list[Axis]
    features: list[Feature]
    licence: str
    systems: list[str]
    looks: list[str]
    written: bool
    joins: list[JoinsOut]
    favourite: bool = False
    rated_share: float = 1.0
    rating_failed: bool = False


def listed() -> list[FaceOut]:
    """All families to choose from: the maker's own first."""
    favourites = set(FavouriteFace.objects.values_list("slug", flat=True))
    own = map(_own_out, OwnFace.objects.filter(listed=True).defer("data"))
    return [
        face.model_copy(update={"favourite": face.slug in favourites}) for face in (*own, *shipped_faces())
    ]


def unrated() -> list[str]:
    """Faces of the maker's own on the list of which it is not worked out yet how they look and join."""
    rows = OwnFace.objects.filter(listed=True, rating_failed=False, record__isnull=True)
    return list(rows.values_list("slug", flat=True))


@lru_cache(maxsize=1)
def shipped_faces() -> tuple[FaceOut, ...]:
    """The families that ship, as the list shows them."""
    return tuple(map(_shipped_out, families().values()))


def _shipped_out(family: Family) -> FaceOut:
    record = shipped_records().get(family.slug)
    return FaceOut(
        slug=family.slug, name=family.name, kind=family.kind, weights=list(family.numbered_weights),
        axes=list(family.axes), features=list(family.facts.features), licence="SIL Open Font License 1.1",
        systems=[system.name for system in family.facts.systems],
        looks=_looks(record), written=family.facts.written, joins=_joins(record),
    )  # fmt: skip


def _looks(record: FaceRecord | None) -> list[str]:
    return list(record.said) if record else []


def _joins(record: FaceRecord | None) -> list[JoinsOut]:
    return [JoinsOut.of(system, rating) for system, rating in record.ratings.items()] if record else []


def _own_out(row: OwnFace) -> FaceOut:
    """A face of the maker's own as the list shows it: what its file says is kept beside it, so that a list of
    many does not read many files."""
    facts = Facts.from_dict(row.facts) if row.facts else None
    record = FaceRecord.from_dict(row.record) if row.record else None
    return FaceOut(
        slug=row.slug, name=row.name, kind=OWN, weights=[], licence=row.licence,
        axes=list(facts.axes) if facts else [], features=list(facts.features) if facts else [],
        systems=[system.name for system in facts.systems] if facts else [],
        rated_share=row.rated_share, rating_failed=row.rating_failed,
        looks=_looks(record), written=facts is not None and facts.written, joins=_joins(record),
    )  # fmt: skip


def set_favourite(slug: str, on: bool) -> None:
    """Whether a face is one of the shop's favourites. Raises Problem "no-face"."""
    if on:
        FavouriteFace.objects.get_or_create(slug=family_of(slug).slug)
    else:
        FavouriteFace.objects.filter(slug=slug).delete()


def own_names() -> dict[str, str]:
    """The names of the maker's own faces, by their slugs: those on the list first. One that was taken off is
    still meant by who says its name."""
    return dict(OwnFace.objects.order_by("-listed", "pk").values_list("slug", "name"))


def like(slug: str) -> list[str]:
    """The faces to choose from that look most like one, the most similar first: of those that write what it
    writes first. Raises Problem "no-face", "not-measured"."""
    known = _records()
    if slug not in known:
        raise Problem(
            "not-measured", f"How {family_of(slug).name} looks is being measured.", "Try again in a moment."
        )
    first = next(iter(known[slug].ratings))
    return [other for other in alike(slug, known) if first in known[other].ratings]


def able(text: str) -> list[str]:
    """The faces to choose from that have every letter of a text: the maker's own first."""
    needed = {ord(char) for char in unicodedata.normalize("NFC", text) if not char.isspace()}
    own = OwnFace.objects.filter(listed=True).values_list("slug", "facts")
    mine = [slug for slug, row in own if row and needed <= Facts.from_dict(row).letters]
    return [*mine, *(slug for slug, family in families().items() if needed <= family.letters)]


def _records() -> dict[str, FaceRecord]:
    own = OwnFace.objects.filter(listed=True).values_list("slug", "record")
    return {**{slug: FaceRecord.from_dict(row) for slug, row in own if row}, **shipped_records()}


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
        row = OwnFace(
            slug=slug, name=family.name, data=data, file_name=file.name, facts=family.facts.as_dict()
        )
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
    """Works out how a face of the maker's own looks and joins, and keeps it."""
    row = OwnFace.objects.filter(slug=slug)

    def done(share: float) -> None:
        row.update(rated_share=share)

    try:
        family = _own(slug)
        record = record_of(family, done)
        row.update(record=record.as_dict(), rated_share=1.0, facts=family.facts.as_dict())
    except Exception:
        log.exception("rating %s failed", slug)
        rating_failed(slug)


def rating_failed(slug: str) -> None:
    """Told once, and not tried again at every look at the list: the file is as it was then."""
    OwnFace.objects.filter(slug=slug).update(rating_failed=True)
