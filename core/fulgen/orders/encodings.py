"""The encoding of a text of names, where nothing in it says so: the one in which its words look most like
words.

Names are few, so what larger texts are told apart by (pairs of letters) says little here. What says more: a
word is of one script, has its capital in front or is all of one case, and holds no signs but letters.
"""

from __future__ import annotations

import re
import unicodedata

LIKELY = ("cp1252", "cp1250", "cp1251", "cp1253", "cp1254", "cp1257", "iso8859_2", "koi8_r", "mac_roman")
"""Encodings of a byte a letter that spreadsheets write, the likelier first. (†)"""

_OFTEN = {"CYRILLIC": frozenset("оаеинтсрвлкмя"), "GREEK": frozenset("αοιετσνηρκλς")}
"""Letters that are frequent in names of scripts that share their bytes. (†)"""


def likely_encoding(data: bytes) -> str | None:
    """The encoding in which the words look most like words; None where it is none of those known.

    >>> likely_encoding("Łukasz".encode("cp1250")), likely_encoding("François".encode("cp1252"))
    ('cp1250', 'cp1252')
    """
    best: tuple[float, str] | None = None
    for encoding in LIKELY:
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        score = sum(
            _looks_like_a_word(word) for word in set(re.split(r"[\s,;|\"'().-]+", text)) if not word.isascii()
        )
        if best is None or score > best[0] + 1e-9:
            best = score, encoding
    return best[1] if best else None


def _looks_like_a_word(word: str) -> float:
    if not word.isalpha():
        return -1.0
    scripts = {unicodedata.name(letter).split()[0] for letter in word}
    if len(scripts) > 1 or not (word.istitle() or word.islower() or word.isupper()):
        return -0.5
    (script,) = scripts
    if script == "LATIN":
        return 1.5 if any(letter.isascii() for letter in word) else 1.0
    often = _OFTEN.get(script, frozenset())
    plain = (unicodedata.normalize("NFD", letter)[0].lower() for letter in word)
    return 1.0 + sum(letter in often for letter in plain) / len(word)
