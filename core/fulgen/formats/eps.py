"""EPS: a sheet as an Encapsulated PostScript picture, written and read side by side.

PostScript Language Document Structuring Conventions 3.0 and EPSF 3.0 (Adobe 5001, 5002); a unit is 1/72 inch,
y up. The picture is drawn in mm, by one scale at its beginning.
"""

from __future__ import annotations

import math
import re

import numpy as np

from fulgen.formats.drawn_path import DrawnPath
from fulgen.formats.drawn_sheet import USE_COLOURS, USES, DrawnSheet, ReadSheet, as_steps, rgb
from fulgen.formats.read_back import read_back
from fulgen.geometry.outline import CUBIC, LINE, MOVE, Floats, Outline
from fulgen.parts.part import Use
from fulgen.problem import Problem
from fulgen.units import MM_PER_INCH

POINTS_PER_MM = 72 / MM_PER_INCH

_MOST_TOKENS = 3_000_000


def write_sheet(drawn: DrawnSheet, _tolerance: float) -> bytes:
    """The sheet as EPS: filled paths, curves as curves."""
    wide, high = drawn.width * POINTS_PER_MM, drawn.height * POINTS_PER_MM
    lines = [
        "%!PS-Adobe-3.0 EPSF-3.0",
        f"%%BoundingBox: 0 0 {math.ceil(wide)} {math.ceil(high)}",
        f"%%HiResBoundingBox: 0 0 {wide:.4f} {high:.4f}",
        f"%%Title: ({_ascii(drawn.about.title)})",
        "%%Creator: (Fulgen)",
        f"% {_ascii(drawn.about.description)[:240]}",
        "%%LanguageLevel: 1",
        "%%EndComments",
        "/m{moveto}bind def /l{lineto}bind def /c{curveto}bind def /h{closepath}bind def",
        "gsave",
        f"{POINTS_PER_MM:.10f} dup scale",
    ]
    for mark in (mark for use in USES for mark in drawn.marks(use)):
        is_area = mark.use == "engrave"
        pen = [_colour(USE_COLOURS[mark.use])] if is_area else _pen(mark.use, drawn.line_mm)
        path = _path(mark.outline, drawn.height, mark.closed)
        lines += [*pen, *path, "fill" if is_area else "stroke"]
    lines += _pen("cut", drawn.hairline_mm) if drawn.hairline_mm else [_colour(drawn.colour)]
    for piece in drawn.pieces:
        lines += [*_path(piece, drawn.height), "stroke" if drawn.hairline_mm else "fill"]
    if drawn.weeding_cuts:
        lines += [_colour("#808080"), "0.1 setlinewidth"]
    for help_line in drawn.weeding_cuts:
        first, *others = (_numbers(point[None], drawn.height) for point in help_line)
        lines += ["newpath", f"{first} m", *(f"{point} l" for point in others), "stroke"]
    return ("\n".join([*lines, "grestore", "showpage", "%%EOF", ""])).encode("ascii")


def _colour(colour: str) -> str:
    return "{:.4f} {:.4f} {:.4f} setrgbcolor".format(*rgb(colour))


def _pen(use: Use, width: float) -> list[str]:
    return [_colour(USE_COLOURS[use]), f"{width:g} setlinewidth"]


def _path(outline: Outline, height: float, closed: bool = True) -> list[str]:
    lines = ["newpath"]
    for n, (kind, points) in enumerate(as_steps(outline)):
        if kind == 0 and n and closed:
            lines.append("h")
        lines.append(f"{_numbers(np.atleast_2d(points), height)} {'mlxc'[kind]}")
    return [*lines, "h"] if closed else lines


def _numbers(points: Floats, height: float) -> str:
    return " ".join(f"{x:.4f} {height - y:.4f}" for x, y in points.tolist())


def _ascii(text: str) -> str:
    """Text for a comment: what is not ASCII is shown as near to it as can be."""
    plain = text.replace("“", '"').replace("”", '"').replace("×", "x")
    return re.sub(r"[^ -~]|[()\\%]", "?", plain)


def read_sheet(data: bytes, tolerance: float) -> ReadSheet:
    """What an EPS file like ours fills, or encloses by lines to be cut, and what else it draws. Reads
    paths, scale, colour, fill and stroke, and the names that are defined for them.

    Raises Problem "bad-eps".
    """
    text = data.decode("latin-1")
    box = re.search(r"^%%HiResBoundingBox: (\S+) (\S+) (\S+) (\S+)$", text, re.MULTILINE)
    if box is None or not text.startswith("%!PS-Adobe"):
        raise Problem("bad-eps", "This is not an EPS file.", "Save it again.")
    left, bottom, right, top = (float(number) for number in box.groups())
    names: dict[str, str] = dict(re.findall(r"/(\w+)\{(\w+)\}bind def", text))
    tokens = re.sub(r"%[^\n]*|/\w+\{\w+\}bind def", " ", text).split()
    if len(tokens) > _MOST_TOKENS:
        raise Problem("bad-eps", "This EPS file is too large.", "Save it with fewer points.")
    stack: list[float] = []
    scale = 1.0
    verbs: list[int] = []
    points: list[tuple[float, float]] = []
    painted: list[DrawnPath] = []
    colour, closed = "", False
    high = (top - bottom) / POINTS_PER_MM
    for token in tokens:
        word = names.get(token, token)
        if word in ("moveto", "lineto", "curveto"):
            count = 6 if word == "curveto" else 2
            taken, stack = stack[-count:], stack[:-count]
            points += zip(taken[::2], taken[1::2], strict=True)
            verbs.append({"moveto": MOVE, "lineto": LINE, "curveto": CUBIC}[word])
        elif word == "newpath":
            verbs, points, closed = [], [], False
        elif word == "closepath":
            closed, stack = True, []
        elif word == "scale":
            scale = stack[-1]
            stack = []
        elif word in ("fill", "stroke"):
            up = np.array(points) * scale / POINTS_PER_MM
            outline = Outline(np.array(verbs, np.uint8), up * (1.0, -1.0) + (0.0, high))
            is_line = word == "stroke"
            painted.append(DrawnPath(outline, colour, "", is_line and not closed, is_line))
        elif word == "setrgbcolor":
            colour = "#" + "".join(f"{round(255 * share):02X}" for share in stack[-3:])
            stack = []
        elif word in ("setlinewidth", "dup", "gsave", "grestore", "showpage"):
            stack = stack if word == "dup" else []
        else:
            try:
                stack.append(float(word))
            except ValueError:
                raise Problem("bad-eps", f"“{word[:20]}” is not read here.", "Save it again.") from None
    return read_back((right - left) / POINTS_PER_MM, high, painted, tolerance)
