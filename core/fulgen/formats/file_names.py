"""Names of files: what a maker called a thing, so that every system can keep it."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence


def safe_names(texts: Sequence[str]) -> list[str]:
    """File names for texts: letters, figures and hyphens only, no two alike in any case.

    >>> safe_names(["Zoë & co", "../etc", "zoë  CO", "!"])
    ['Zoë-co', 'etc', 'zoë-CO-2', 'lettering']
    """
    taken: set[str] = set()
    names = []
    for text in texts:
        kept = "".join(c if c.isalnum() else "-" for c in unicodedata.normalize("NFC", text))
        stem = re.sub("-+", "-", kept).strip("-")
        while len(stem.encode()) > 100:
            stem = stem[:-1]
        # Names that some systems keep for devices (Windows file naming conventions).
        reserved = re.fullmatch(r"(?i)con|prn|aux|nul|(com|lpt)\d", stem)
        stem = f"{stem}-name" if reserved else stem or "lettering"
        name, count = stem, 1
        while name.casefold() in taken:
            count += 1
            name = f"{stem}-{count}"
        taken.add(name.casefold())
        names.append(name)
    return names
