"""Recipes from options: how words are set, joined and framed."""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from fulgen.problem import Problem
from fulgen.units import parse_length

if TYPE_CHECKING:
    from fulgen.joining.materials import Material
    from fulgen.lettering.catalogue import FaceSource
    from fulgen.recipe.model import Recipe


_FACE_FILE = re.compile(r".*\.(ttf|otf|woff2?|ttc)$|.*[/\\].*", re.IGNORECASE)


def recipe_maker(options: argparse.Namespace) -> tuple[Callable[..., Recipe], FaceSource]:
    """A function from texts to recipe by the options given, and where its face comes from."""
    from fulgen.recipe.model import VERSION
    from fulgen.recipe.versions import recipe_from

    spacing_mm, spacing_share = _spacing(options.spacing)
    axes = dict(_axis(text) for text in options.axis)
    family, faces = _face(options.face, axes)
    chosen = material_named(options.material) if options.material else None
    neck = 1.2 if chosen is None else chosen.joint_mm
    if options.neck is not None:
        neck = parse_length(options.neck, where="--neck")
    frame = _frame_asked(options) if options.framed else None
    part = {
        "face": {"family": family, "weight": options.weight, "axes": axes},
        "features": dict(_feature(text) for text in options.feature),
        "spacing_mm": spacing_mm,
        "spacing_share": spacing_share,
        "join": {
            "how": options.join,
            "neck_mm": neck,
            "tight": options.tight,
            "smooth_mm": parse_length(options.smooth, where="--smooth"),
            "marks": options.marks,
            "tie": options.tie or frame is not None,
        },
        "thicken_mm": parse_length(options.thicken, where="--thicken"),
        "slant": options.slant,
        "corners": options.corners,
    }
    if frame is None:
        part |= _set_as(options)

    def recipe_for(*texts: str) -> Recipe:
        whole: dict[str, Any] = {"format": "fulgen-recipe", "version": VERSION, "mirror": options.mirror}
        if chosen:
            whole["material"] = {"name": chosen.name}
        if options.ready:
            whole["ready"] = {}
        names = [{**part, "id": f"lettering-{n}", "text": text} for n, text in enumerate(texts, 1)]
        held = [{**frame, "members": [name["id"] for name in names]}] if frame is not None else []
        return recipe_from({**whole, "parts": [*names, *held]})

    recipe_for("")  # settings are wrong or right whatever the text is
    return recipe_for, faces


def _set_as(options: argparse.Namespace) -> dict[str, Any]:
    """How large words are, and how they run."""
    measures = {"width": "width", "height": "height", "capitals": "capitals", "face_size": "face"}
    asked = next((option for option in measures if getattr(options, option)), "capitals")
    course = _course(options.on) if options.on else None
    return {
        "size": {
            "measure": measures[asked],
            "mm": parse_length(getattr(options, asked) or "25mm", where=f"--{asked.replace('_', '-')}"),
        },
        "line_spacing": options.line_spacing,
        "align": options.align or ("centre" if course else "left"),
        "course": course,
    }


def _course(text: str) -> dict[str, Any]:
    """What words run along, as it is said: "circle:60mm,inside"."""
    kind, _, rest = text.partition(":")
    kind, *more = [word.strip() for word in kind.split(",")] if not rest else [kind.strip()]
    words = [word.strip() for word in rest.split(",") if word.strip()] or more
    lengths = [word for word in words if word[:1].isdigit() or word[:1] in ".-"]
    said = set(words) - set(lengths)
    flags = {"inside", "inward", "bottom", "bent"}
    if kind not in ("circle", "arc", "wave", "down") or said - flags or (kind != "down" and not lengths):
        raise Problem(
            "usage",
            f"“{text}” is not a line to set words on.",
            "Write it like circle:60mm, arc:120mm,0.3, wave:150mm,8mm or down.",
            "--on",
        )
    course: dict[str, Any] = {"kind": kind, "letters": "bent" if "bent" in said else "turned"}
    if kind == "down":
        course["spine_mm"] = parse_length(lengths[0], where="--on") if lengths else 0.0
        return course
    course["diameter_mm" if kind == "circle" else "length_mm"] = parse_length(lengths[0], where="--on")
    if kind == "arc" and len(lengths) > 1:
        course["bulge"] = _number(lengths[1], "--on")
    if kind == "wave":
        course |= {"swing_mm": parse_length(lengths[1], where="--on")} if len(lengths) > 1 else {}
        course |= {"waves": _number(lengths[2], "--on")} if len(lengths) > 2 else {}
    course |= {"side": "inside"} if "inside" in said else {}
    course |= {"reading": "inward"} if "inward" in said else {}
    course |= {"place": 180.0} if "bottom" in said else {}
    return course


def _number(text: str, where: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise Problem("usage", f"“{text}” is not a number.", "Write it like 0.3.", where) from None


def _frame_asked(options: argparse.Namespace) -> dict[str, Any]:
    """The frame that is asked for, as a part of a recipe."""
    from fulgen.framing.frames import frame_of
    from fulgen.lettering.catalogue import find_family

    form = frame_of(options.name)
    width = parse_length(options.width or "80mm", where="--width")
    height = parse_length(options.height, where="--height") if options.height else width / form.ratio
    values = {}
    for text in options.set:
        key, _, value = text.partition("=")
        measure = next((m for m in form.measures if m.key == key), None)
        if measure is None or not value:
            keys = ", ".join(m.key for m in form.measures)
            raise Problem("usage", f"“{text}” sets nothing of a {form.name}.", f"It has: {keys}.", "--set")
        values[key] = (
            parse_length(value, where="--set") if measure.kind == "length" else _number(value, "--set")
        )
    return {
        "kind": "frame",
        "id": "frame-1",
        "form": form.name,
        "width_mm": width,
        "height_mm": height,
        "values": values,
        "holes": options.holes and "holes" in form.uses,
        "text": options.initial,
        "face": {"family": find_family(options.initial_face).slug},
        "fit": {
            "air_mm": parse_length(options.air, where="--air"),
            "depth_mm": parse_length(options.depth, where="--depth") if options.depth else None,
        },
    }


def material_named(name: str) -> Material:
    """The material that a name means: the whole of it, or enough of it to tell it from others."""
    from fulgen.joining.materials import MATERIALS

    wanted = name.casefold().strip()
    exact = [m for m in MATERIALS if m.name.casefold() == wanted]
    found = exact or [m for m in MATERIALS if m.name.casefold().startswith(wanted)]
    if len(found) != 1 or not wanted:
        raise Problem(
            "usage",
            f"“{name}” is not a material.",
            f"Choose one of: {'; '.join(m.name for m in MATERIALS)}.",
            "--material",
        )
    return found[0]


def _face(name: str, axes: dict[str, float]) -> tuple[str, FaceSource]:
    from fulgen.lettering.catalogue import shipped_face

    if not _FACE_FILE.fullmatch(name):
        from fulgen.lettering.catalogue import find_family

        return find_family(name).slug, shipped_face
    from fulgen.lettering.faces import read_face

    face = read_face(Path(name), tuple(sorted(axes.items())))
    return face.name[:80], lambda _choice: face


def _spacing(text: str) -> tuple[float, float]:
    if text.strip().endswith("%"):
        try:
            return 0.0, float(text.strip()[:-1]) / 100
        except ValueError:
            raise Problem(
                "not-a-length",
                f"“{text}” is not a spacing.",
                "Type a length such as -0.4mm, or a share such as -2%.",
                "--spacing",
            ) from None
    return parse_length(text, where="--spacing"), 0.0


def _axis(text: str) -> tuple[str, float]:
    tag, _, value = text.partition("=")
    try:
        return tag, float(value)
    except ValueError:
        raise Problem(
            "usage", f"“{text}” is not an axis and a value.", "Write it like wght=650.", "--axis"
        ) from None


def _feature(text: str) -> tuple[str, bool]:
    tag, _, state = text.partition("=")
    if state not in ("", "on", "off"):
        raise Problem(
            "usage", f"“{text}” is not a feature and on or off.", "Write it like liga=off.", "--feature"
        )
    return tag, state != "off"


def readied(recipe: Recipe, options: argparse.Namespace) -> Recipe:
    """The recipe, made ready where that is asked for."""
    from fulgen.recipe.changes import readied

    return readied(recipe) if options.ready else recipe
