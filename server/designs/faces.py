"""The faces to choose from: those that ship, and those a maker added.

An added face is checked before it is kept, and rated in the background: how it joins as it is set.
A rating that was cut short (the server was stopped) is taken up again when the list is next asked for.
"""

import json
import logging
import threading
from functools import lru_cache
from typing import Any

from django.db import connection

from designs.models import OwnFace
from fulgen.joining.rating import Rating, rate
from fulgen.lettering.catalogue import FACES_DIR, Family, families, find_family, own_family
from fulgen.lettering.faces import Face, FontFile, face_name
from fulgen.problem import Problem
from fulgen.recipe.model import FaceChoice

log = logging.getLogger("fulgen")

OWN_PREFIX = "own-"
MAX_OWN_FACES = 200
SAMPLE = "Willow"


def face_of(choice: FaceChoice) -> Face:
    """The face a recipe names, shipped or added. Raises Problem "no-face"."""
    return family_of(choice.family).face(choice.weight, choice.axes)


def family_of(name: str) -> Family:
    """A family by its name or slug. Raises Problem "no-face"."""
    return _own(name) if name.startswith(OWN_PREFIX) else find_family(name)


@lru_cache(maxsize=16)
def _own(slug: str) -> Family:
    row = OwnFace.objects.filter(slug=slug).first()
    if row is None:
        raise Problem(
            "no-face", "The face of this design is not here.", "Choose another, or add its file again."
        )
    return own_family(slug, row.name, FontFile(bytes(row.data), row.file_name))


def listed() -> list[tuple[Family, OwnFace | None]]:
    """All families to choose from: the maker's own first. Ratings that are missing are begun."""
    own = list(OwnFace.objects.filter(listed=True).defer("data"))
    for row in own:
        if row.rating is None:
            _rate_in_background(row.slug)
    return [*((_own(row.slug), row) for row in own), *((family, None) for family in families().values())]


@lru_cache(maxsize=1)
def shipped_ratings() -> dict[str, Rating]:
    """How the shipped families join, as ./fulgen schemas wrote it down."""
    rows = json.loads((FACES_DIR / "ratings.json").read_text("utf-8"))
    return {slug: Rating(**row) for slug, row in rows.items()}


def add(data: bytes, file_name: str, licence: str) -> OwnFace:
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
        family = own_family(slug, _plain(face_name(file)), file)
        # Drawing a word finds what is wrong inside before anyone relies on it.
        _try_out(family.face())
        row = OwnFace(slug=slug, name=family.name, data=data, file_name=file.name)
    row.listed = True
    row.licence = _plain(licence)[:400] or row.licence
    row.save()
    _rate_in_background(slug)
    return row


def _try_out(face: Face) -> None:
    from fulgen.lettering.layout import Setting, lay_out

    known = [chr(c) for c in sorted(face.letters) if chr(c).isalpha()][:400]
    text = SAMPLE if not set(SAMPLE) - set(known) else "".join(known[:6])
    if not text:
        raise Problem("bad-face", f"{face.name} has no letters.", "Choose another file.")
    lay_out(Setting(text, face, "capitals", 25.0))


def take_off(slug: str) -> None:
    """Off the list; designs that use it keep it."""
    _change_listing(slug, False)


def put_back(slug: str) -> OwnFace:
    """Back on the list."""
    return _change_listing(slug, True)


def _change_listing(slug: str, to: bool) -> OwnFace:
    row = OwnFace.objects.filter(slug=slug).first()
    if row is None:
        raise Problem("not-found", "There is no such face of your own.", "Reload the list.")
    row.listed = to
    row.save(update_fields=["listed"])
    return row


_rating_now: set[str] = set()
_rating_lock = threading.Lock()


def _rate_in_background(slug: str) -> None:
    with _rating_lock:
        if slug in _rating_now:
            return
        _rating_now.add(slug)
    threading.Thread(target=_rate, args=(slug,), daemon=True).start()


def _rate(slug: str) -> None:
    try:
        row = OwnFace.objects.filter(slug=slug)

        def done(share: float) -> None:
            row.update(rated_share=share)

        if row.filter(rating__isnull=True).exists():
            rating = rate(_own(slug).face(), done)
            row.update(rating=rating.as_dict(), rated_share=1.0)
    except Exception:
        log.exception("rating %s failed", slug)
    finally:
        with _rating_lock:
            _rating_now.discard(slug)
        connection.close()


def rating_of(family: Family, row: OwnFace | None) -> Rating | None:
    """How a family joins, if it is known yet."""
    if row is None:
        return shipped_ratings().get(family.slug)
    return Rating(**row.rating) if row.rating else None


def _plain(text: str) -> str:
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())[:80]


def as_out(family: Family, row: OwnFace | None) -> dict[str, Any]:
    """A family as the list shows it."""
    rating = rating_of(family, row)
    return {
        "slug": family.slug,
        "name": family.name,
        "kind": family.kind,
        "weights": list(family.numbered_weights),
        "axes": family.axes,
        "features": family.face().features(),
        "licence": row.licence if row else "SIL Open Font License 1.1",
        "joins": None if rating is None else {**rating.as_dict(), "words": rating.words},
        "rated_share": row.rated_share if row else 1.0,
    }
