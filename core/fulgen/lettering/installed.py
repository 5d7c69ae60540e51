"""Faces that are installed on this computer: found in the folders where systems keep them, and read there.

Folders: those of the Font Management Guide of freedesktop's fontconfig, of macOS and of Windows (from
memory). Licence bits: OS/2 fsType (OpenType 1.9, "OS/2", fsType). Writing systems: OS/2 ulUnicodeRange of the
same chapter, which a face says of itself.
"""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from pathlib import Path

from fontTools.ttLib import TTCollection, TTFont, TTLibError

from fulgen.bounded import digest
from fulgen.budget import check
from fulgen.lettering.fontfile import MAX_FILE_BYTES
from fulgen.problem import Problem

USUAL_FOLDERS = (
    "/usr/share/fonts", "/usr/local/share/fonts", "~/.fonts", "~/.local/share/fonts",
    "/System/Library/Fonts", "/Library/Fonts", "~/Library/Fonts",
    "C:/Windows/Fonts", "~/AppData/Local/Microsoft/Windows/Fonts",
)  # fmt: skip

MOST_FILES = 3_000
"""Of so many files at most faces are listed."""

_SUFFIXES = frozenset({".ttf", ".otf", ".ttc", ".otc"})
_COLLECTIONS = frozenset({".ttc", ".otc"})
_MOST_IN_ONE = 64

_RESTRICTED, _PREVIEW, _PICTURES_ONLY = 0x0002, 0x0004, 0x0200

_RANGES = {
    "Latin": 0, "Greek": 7, "Cyrillic": 9, "Armenian": 10, "Hebrew": 11, "Arabic": 13, "Devanagari": 15,
    "Thai": 24, "Georgian": 26,
}  # fmt: skip


@dataclass(frozen=True)
class InstalledFace:
    """A face in a file of this computer, by its number in that, and by a key that tells no path. forbids:
    what its licence bits forbid, in words; empty where they forbid nothing."""

    key: str
    name: str
    path: Path
    number: int
    systems: tuple[str, ...]
    forbids: str


def installed_faces(folders: Sequence[Path]) -> list[InstalledFace]:
    """The faces in some folders and those within, by name; files that cannot be read are left out."""
    found: list[InstalledFace] = []
    for path in _files(folders):
        check()
        try:
            about = path.stat()
        except OSError:
            continue
        if about.st_size <= MAX_FILE_BYTES * (4 if path.suffix.lower() in _COLLECTIONS else 1):
            found += _faces_in(path, about.st_mtime_ns, about.st_size)
    return sorted(found, key=lambda face: face.name.lower())


def usual_folders() -> list[Path]:
    """Those of USUAL_FOLDERS that are here."""
    return [path for path in (Path(name).expanduser() for name in USUAL_FOLDERS) if path.is_dir()]


def _files(folders: Sequence[Path]) -> Iterator[Path]:
    count = 0
    for folder in folders:
        for where, inner, names in os.walk(folder):
            inner.sort()
            for name in sorted(names):
                if Path(name).suffix.lower() in _SUFFIXES:
                    count += 1
                    if count > MOST_FILES:
                        return
                    yield Path(where) / name


@lru_cache(maxsize=MOST_FILES)
def _faces_in(path: Path, _changed: int, _size: int) -> tuple[InstalledFace, ...]:
    """The faces of a file, looked up once while it stays as it is."""
    try:
        if path.suffix.lower() in _COLLECTIONS:
            with path.open("rb") as stream:
                count = len(TTCollection(stream, lazy=True).fonts)
            return tuple(_looked_up(path, number) for number in range(min(count, _MOST_IN_ONE)))
        return (_looked_up(path, -1),)
    except (OSError, TTLibError, KeyError, AttributeError, ValueError, IndexError, AssertionError):
        return ()


def _looked_up(path: Path, number: int) -> InstalledFace:
    with path.open("rb") as stream, TTFont(stream, lazy=True, fontNumber=number) as font:
        names, about = font["name"], font["OS/2"]
        family = names.getBestFamilyName() or path.stem
        style = names.getBestSubFamilyName() or ""
        bits = about.ulUnicodeRange1
        systems = tuple(name for name, bit in _RANGES.items() if bits >> bit & 1)
        name = f"{family} {style}".strip() if style not in ("", "Regular") else family
        key = digest(str(path), str(number))
        return InstalledFace(key, name[:80], path, number, systems, _forbidden(about.fsType))


def _forbidden(bits: int) -> str:
    if bits & _RESTRICTED:
        return "Its maker lets nobody put it into other files: ask before you share the shop."
    if bits & _PICTURES_ONLY:
        return "Its maker lets only pictures of it be put into other files, no outlines."
    if bits & _PREVIEW:
        return "Its maker lets it be put into files for looking and printing only."
    return ""


def face_data(face: InstalledFace) -> bytes:
    """The bytes of an installed face as a file of its own. Raises Problem "no-face"."""
    try:
        if face.number < 0:
            return face.path.read_bytes()
        with TTFont(face.path, fontNumber=face.number) as font:
            out = BytesIO()
            font.save(out)
            return out.getvalue()
    except (OSError, TTLibError):
        raise Problem(
            "no-face", f"{face.name} is not on this computer any more.", "List the faces again."
        ) from None
