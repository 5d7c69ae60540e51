"""The shipped faces that slow tests go through. Quick tests go through all of them; the slow ones, too, where
FULGEN_EVERY_FACE is set."""

import os
from collections.abc import Sequence

from fulgen.lettering.catalogue import families

THOROUGH = (
    "alex-brush", "alfa-slab-one", "allura", "anton", "archivo-black", "bebas-neue", "big-shoulders-display",
    "birthstone", "caveat", "charm", "courgette", "dancing-script", "grand-hotel", "great-vibes",
    "kaushan-script", "lobster", "nunito", "oswald", "pacifico", "parisienne", "paytone-one", "pinyon-script",
    "playwrite-us-trad", "sacramento", "unbounded",
)  # fmt: skip


def written(slug: str, texts: Sequence[str]) -> list[str]:
    """Those of some texts of which a face has all letters: the faces of `THOROUGH` have those of all."""
    letters = families()[slug].letters
    return [text for text in texts if {ord(c) for c in text if not c.isspace()} <= letters]


LOOKED_AT = sorted(families()) if os.environ.get("FULGEN_EVERY_FACE") else THOROUGH
