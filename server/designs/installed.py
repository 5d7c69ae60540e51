"""Faces installed on the computer that Fulgen runs on: listed when a maker asks, copied into the shop when
one is taken."""

import os
from pathlib import Path

from designs import faces
from designs.faces import FaceOut
from fulgen.lettering.catalogue import Family, own_family
from fulgen.lettering.faces import FontFile
from fulgen.lettering.installed import InstalledFace, face_data, installed_faces, usual_folders
from fulgen.problem import Problem


def folders() -> list[Path]:
    """Where they are looked for: where FULGEN_FONT_FOLDERS says, or where systems keep them."""
    said = os.environ.get("FULGEN_FONT_FOLDERS")
    return usual_folders() if said is None else [Path(name) for name in said.split(os.pathsep) if name]


def listed() -> list[InstalledFace]:
    """All of them, by name."""
    return installed_faces(folders())


def found(key: str) -> InstalledFace:
    """One of them. Raises Problem "no-face"."""
    face = next((face for face in listed() if face.key == key), None)
    if face is None:
        raise Problem(
            "no-face", "This face is not installed on this computer any more.", "List the faces again."
        )
    return face


def family(face: InstalledFace) -> Family:
    """An installed face as a family, to look at. Raises Problem "no-face", "bad-face"."""
    return own_family(face.key, face.name, FontFile(face_data(face), face.path.name))


def take(key: str) -> FaceOut:
    """Copies an installed face into the shop. Raises Problem "no-face", "bad-face", "list-full"."""
    face = found(key)
    return faces.add(face_data(face), face.path.name, face.forbids)
