"""The shipped faces that slow tests go through. Quick tests go through all of them; the slow ones, too, where
FULGEN_EVERY_FACE is set."""

import os

from fulgen.lettering.catalogue import families

THOROUGH = (
    "alex-brush", "alfa-slab-one", "allura", "anton", "archivo-black", "bebas-neue", "big-shoulders-display",
    "birthstone", "caveat", "charm", "courgette", "dancing-script", "grand-hotel", "great-vibes",
    "kaushan-script", "lobster", "nunito", "oswald", "pacifico", "parisienne", "paytone-one", "pinyon-script",
    "playwrite-us-trad", "sacramento", "unbounded",
)  # fmt: skip

LOOKED_AT = sorted(families()) if os.environ.get("FULGEN_EVERY_FACE") else THOROUGH
