"""Values in SVG attributes: lengths, colours, transforms and view boxes."""

from __future__ import annotations

import math
import re
from xml.etree.ElementTree import Element

import tinycss2
import tinycss2.color3
from fontTools.misc.transform import Transform

from fulgen.units import MM_PER_INCH

_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d{1,3})?"


LENGTH = re.compile(rf"\s*({_NUMBER})\s*(px|pt|pc|mm|cm|in|q|Q|%|)\s*")


PX_PER_UNIT = {
    "": 1.0,
    "px": 1.0,
    "pt": 96 / 72,
    "pc": 16.0,
    "in": 96.0,
    "mm": 96 / MM_PER_INCH,
    "cm": 960 / MM_PER_INCH,
    "q": 24 / MM_PER_INCH,
    "Q": 24 / MM_PER_INCH,
}
"""User units to each unit (CSS Values 4, section 6.2)."""


URL = re.compile(r"""url\(\s*["']?#([^"')]+)["']?\s*\)""")


NUMBERS = re.compile(_NUMBER)


TRANSFORM_STEP = re.compile(r"([a-zA-Z]+)\s*\(([^()]*)\)")


TRANSFORMS = re.compile(r"(?:[\s,]*[a-zA-Z]+\s*\([^()]*\))*[\s,]*")


def transform_step(name: str, numbers: list[float]) -> Transform | None:
    unit, count = Transform(), len(numbers)
    if name == "matrix" and count == 6:
        return Transform(*numbers)
    if name == "translate" and count in (1, 2):
        return unit.translate(numbers[0], numbers[1] if count == 2 else 0.0)
    if name == "scale" and count in (1, 2):
        return unit.scale(numbers[0], numbers[-1])
    if name == "rotate" and count in (1, 3):
        x, y = numbers[1:] or (0.0, 0.0)
        return unit.translate(x, y).rotate(math.radians(numbers[0])).translate(-x, -y)
    if name in ("skewX", "skewY") and count == 1:
        angle = math.radians(numbers[0])
        return unit.skew(angle, 0.0) if name == "skewX" else unit.skew(0.0, angle)
    return None


def paint_colour(value: str | None, around: str | None, current: str) -> str | None:
    """A paint as a colour: taken over where nothing is said, None for no paint. Gradients and patterns are
    black, as what has no colour to say is (CSS Color 4, by tinycss2)."""
    if value is None or value == "inherit":
        return around
    if value in ("none", "transparent"):
        return None
    found = tinycss2.color3.parse_color(value[:200])
    if found is None:
        return "#000000"
    if not isinstance(found, tinycss2.color3.RGBA):
        return current  # currentColor
    if found.alpha == 0:
        return None
    return "#" + "".join(f"{round(255 * part):02X}" for part in found[:3])


def view_box(element: Element) -> tuple[float, float, float, float] | None:
    """The view box of an element: x, y, width and height; None where it has none, or an empty one."""
    numbers = [float(number) for number in NUMBERS.findall(element.get("viewBox", "")[:200])]
    if len(numbers) != 4 or numbers[2] <= 0 or numbers[3] <= 0:
        return None
    x, y, width, height = numbers
    return x, y, width, height


def view_scale(
    box: tuple[float, float, float, float], size: tuple[float, float], how: str
) -> tuple[float, float]:
    """How many times as large a view box is in the place it fills, across and down (SVG 2, section 8.6)."""
    across, down = size[0] / box[2], size[1] / box[3]
    align, *more = how.split() or ["xMidYMid"]
    if align == "none":
        return across, down
    even = max(across, down) if more == ["slice"] else min(across, down)
    return even, even


def fit_view_box(box: tuple[float, float, float, float], size: tuple[float, float], how: str) -> Transform:
    """From a view box to the place it fills (SVG 2, section 8.6)."""
    x, y, width, height = box
    align = (how.split() or ["xMidYMid"])[0]
    across, down = view_scale(box, size, how)
    share = {"Min": 0.0, "Max": 1.0}
    room_x, room_y = size[0] - width * across, size[1] - height * down
    return (
        Transform()
        .translate(room_x * share.get(align[1:4], 0.5), room_y * share.get(align[5:8], 0.5))
        .scale(across, down)
        .translate(-x, -y)
    )
