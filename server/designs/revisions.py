"""Revisions: how a recipe is kept, and how long.

A recipe is kept compressed (zlib: RFC 1950), and its long texts, which are drawings, apart from it and only
once, by their digest: a thousand saves of a design with a large drawing keep the drawing once. Nothing is
rewritten: what is read back is the very text that was kept.

What is let go (``let_go``): a design's newest revision, its first and those with a name stay; of the others
all of the last day, the last of each hour for a week, and the last of each day for a quarter of a year."""

from __future__ import annotations

import re
import zlib
from collections.abc import Iterable
from datetime import datetime, timedelta
from hashlib import sha256

from django.utils import timezone

from designs.models import Design, LongText, Revision

LONG = 1_000
"""Letters from which on a text is kept apart."""

_LONG_TEXT = re.compile(rf'"[^"\\]{{{LONG},}}"')
_KEPT_APART = re.compile(r'\{"\$kept":"([0-9a-f]{64})"\}')

LET_GO_EVERY = 50
"""Old revisions are looked through at every so many-th save."""

_DAY, _WEEK, _QUARTER = timedelta(days=1), timedelta(days=7), timedelta(days=92)


def keep(design: Design, number: int, recipe: str, window: str = "", edit: int = 0) -> Revision:
    """Keeps a recipe as a revision of a design."""
    short, texts = taken_apart(recipe)
    revision = Revision.objects.create(
        design=design, number=number, packed=packed(short), window=window, edit=edit
    )
    if texts:
        known = set(LongText.objects.filter(pk__in=texts).values_list("pk", flat=True))
        LongText.objects.bulk_create(
            LongText(digest=digest, packed=packed(text))
            for digest, text in texts.items()
            if digest not in known
        )
        revision.texts.set(LongText.objects.filter(pk__in=texts))
    if number % LET_GO_EVERY == 0:
        let_go(design)
    return revision


def taken_apart(recipe: str) -> tuple[str, dict[str, str]]:
    """A recipe with the digests of its long texts in their places, and those texts."""
    texts: dict[str, str] = {}

    def apart(found: re.Match[str]) -> str:
        digest = sha256(found[0].encode()).hexdigest()
        texts[digest] = found[0]
        return f'{{"$kept":"{digest}"}}'

    return _LONG_TEXT.sub(apart, recipe), texts


def recipe_of(revision: Revision) -> str:
    """The recipe of a revision, just as it was kept."""
    short = unpacked(revision.packed)
    if not _KEPT_APART.search(short):
        return short
    texts = {text.digest: unpacked(text.packed) for text in revision.texts.all()}
    return _KEPT_APART.sub(lambda found: texts[found[1]], short)


def newest(design: Design) -> str:
    """The newest recipe of a design."""
    return recipe_of(design.revisions.get(number=design.head))


def let_go(design: Design, now: datetime | None = None) -> None:
    """Lets old revisions of a design go, by the rule above, and drawings that none has any more."""
    rows = list(design.revisions.filter(name="").order_by("number").values_list("number", "made"))
    kept = {1, design.head} | kept_by_age(rows, now or timezone.now())
    old = [number for number, _ in rows if number not in kept]
    if old:
        design.revisions.filter(number__in=old).delete()
        LongText.objects.filter(revision=None).delete()


def kept_by_age(rows: Iterable[tuple[int, datetime]], now: datetime) -> set[int]:
    """The numbers of those that stay for when they were made, of versions of whatever is kept, the oldest
    first: all of the last day, the last of each hour for a week, and of each day for a quarter of a year."""
    last_of: dict[tuple[str, datetime], int] = {}
    kept = set()
    for number, made in rows:
        age = now - made
        hour = made.replace(minute=0, second=0, microsecond=0)
        if age < _DAY:
            kept.add(number)
        elif age < _WEEK:
            last_of["hour", hour] = number
        elif age < _QUARTER:
            last_of["day", hour.replace(hour=0)] = number
    return kept | set(last_of.values())


def packed(text: str) -> bytes:
    """A text as it is kept."""
    return zlib.compress(text.encode(), 6)


def unpacked(data: bytes | memoryview) -> str:
    """The text that was packed."""
    return zlib.decompress(data).decode()
