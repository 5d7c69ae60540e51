"""SVG: the outline for any cutter's software, at true size.

Width and height are in mm and the viewBox has one unit to the mm, so a reader that knows CSS
lengths (CSS Values 4, section 6.2: 1in = 25.4mm = 96px) opens it at true size, and one that
ignores them still has the right proportions. One path a film, absolute curves, no transforms,
no strokes. Holes are wound against their outer edge, so nonzero and even-odd fill agree (SVG 2,
section 13.4.2).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from io import BytesIO
from xml.etree import ElementTree
from xml.sax.saxutils import escape, quoteattr

import numpy as np
import svgelements

from fulgen.geometry.outline import Outline
from fulgen.geometry.pen import OutlinePen
from fulgen.geometry.weld import Shape, clean, weld
from fulgen.lettering.stand_ins import FINENESS, MAX_SIDES, outline_from
from fulgen.problem import Problem
from fulgen.recipe.evaluate import Evaluation, as_cut, box_as_cut

DECIMALS = 3
"""A micrometre: finer than any cutter steps (HP-GL's plotter unit is 25 µm: HP 7475A
Interfacing and Programming Manual, from memory)."""

_LETTER = ("M", "L", "Q", "C")
_NUMBERS = (2, 2, 4, 6)


def path_data(outline: Outline, decimals: int = DECIMALS) -> str:
    """An outline as the d of a path: absolute M, L, Q, C and Z, short numbers."""
    numbers = (np.round(outline.points, decimals) + 0.0).ravel().tolist()
    words = [f"{number:.7g}" for number in numbers]
    out: list[str] = []
    at = 0
    for verb in outline.verbs.tolist():
        if verb == 0 and out:
            out.append("Z")
        end = at + _NUMBERS[verb]
        out.append(_LETTER[verb] + " ".join(words[at:end]))
        at = end
    return "".join(out) + "Z" if out else ""


def write_svg(evaluation: Evaluation) -> str:
    """The design as an SVG document, its top left corner at 0, 0, as it is cut: mirrored where it says so.

    Raises Problem while a part of it cannot be made.
    """
    box = box_as_cut(evaluation.whole().box, evaluation.recipe)
    width, height = (f"{round(v, DECIMALS):.7g}" for v in (box.width, box.height))
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm"'
        f' viewBox="0 0 {width} {height}">',
        f"<title>{_text(words_of(evaluation))}</title>",
        f"<desc>{_text(description(evaluation))}</desc>",
    ]
    for number, film in enumerate(evaluation.films, 1):
        d = path_data(as_cut(film.outline, evaluation.recipe).placed(-box.x, -box.y))
        lines.append(f'<path id="film-{number}" fill={quoteattr(film.colour)} d="{d}"/>')
    return "\n".join([*lines, "</svg>", ""])


MAX_FILE_BYTES = 2**20
MAX_ELEMENTS = 2_000
MAX_DATA = 400_000
"""Letters of path data and points in a file that is read."""

_PASSED_OVER = frozenset(
    ("defs", "symbol", "pattern", "mask", "clipPath", "marker", "image", "text", "script", "foreignObject")
)
"""Elements that draw nothing by themselves, or no outline."""

_SVG = "http://www.w3.org/2000/svg"


def read_drawing(data: bytes, name: str) -> Shape:
    """What the shapes of an SVG file cover, as one shape in its user units: filled by their own fill rules,
    strokes, text and pictures passed over.

    Nothing outside the file is read. Raises Problem "bad-shape".
    """
    root = _parsed(data, name)
    try:
        drawing = svgelements.SVG.parse(BytesIO(ElementTree.tostring(root)), reify=True)
        drawn = [_filled(element) for element in drawing.elements() if isinstance(element, svgelements.Shape)]
        shape = weld([part for part in drawn if part])
    except Problem:
        raise
    except Exception:  # the reader fails in many ways on what is no drawing
        raise _not_read(f"{name} cannot be read as SVG.") from None
    if not shape:
        raise _not_read(f"{name} holds no closed outline.")
    return shape


def _parsed(data: bytes, name: str) -> ElementTree.Element:
    """The elements of a file, within bounds, those that draw no outline left out."""
    if len(data) > MAX_FILE_BYTES:
        raise _not_read(f"{name} is larger than 1 MB.")
    # Entities can name other files or grow without end, and no drawing needs them (XML 1.0, section 4.2).
    if b"<!ENTITY" in data or b"\x00" in data:
        raise _not_read(f"{name} holds declarations that Fulgen does not read.")
    try:
        root = ElementTree.fromstring(data)
    except ElementTree.ParseError:
        raise _not_read(f"{name} cannot be read as SVG.") from None
    if root.tag not in ("svg", f"{{{_SVG}}}svg"):
        raise _not_read(f"{name} is not an SVG drawing.")
    for name_of_size in ("viewBox", "width", "height"):  # a shape has no size of its own
        root.attrib.pop(name_of_size, None)
    elements = list(root.iter())
    if len(elements) > MAX_ELEMENTS:
        raise _not_read(f"{name} holds more than {MAX_ELEMENTS:,} elements.")
    for parent in elements:
        for child in list(parent):
            kind = str(child.tag).rsplit("}", 1)[-1]
            if kind == "use":  # copies of copies grow without end
                raise _not_read(f"{name} holds linked copies, which Fulgen does not read.")
            if kind in _PASSED_OVER:
                parent.remove(child)
    lengths = sum(len(e.get("d", "")) + len(e.get("points", "")) for e in root.iter())
    if lengths > MAX_DATA:
        raise _not_read(f"The shapes of {name} have too many points.")
    return root


def _filled(element: svgelements.Shape) -> Shape:
    """What a shape covers by its fill rule (SVG 2, section 13.4.2)."""
    path = svgelements.Path(element).reify()
    path.approximate_arcs_with_cubics()
    pen = OutlinePen(MAX_SIDES)
    draw: dict[str, tuple[Callable[..., None], tuple[str, ...]]] = {
        "Move": (pen.moveTo, ("end",)),
        "Line": (pen.lineTo, ("end",)),
        "Close": (pen.lineTo, ("end",)),
        "QuadraticBezier": (pen.qCurveTo, ("control", "end")),
        "CubicBezier": (pen.curveTo, ("control1", "control2", "end")),
    }
    for side in path:
        add, names = draw[type(side).__name__]
        points = [getattr(side, name) for name in names]
        if None not in points:  # the end of a contour without sides
            add(*((point.x, point.y) for point in points))
    outline = outline_from(pen)
    reach = float(np.ptp(outline.points, axis=0).max()) if outline else 0.0
    if reach == 0.0:
        return Shape.empty()
    rule = str(element.values.get("fill-rule") or "")
    return clean(outline, reach * FINENESS / 4, even_odd=rule.strip() == "evenodd")


def _not_read(what: str) -> Problem:
    return Problem(
        "bad-shape",
        what,
        "Choose an SVG file with closed outlines; turn text and linked copies into outlines first.",
    )


def words_of(evaluation: Evaluation) -> str:
    """The words of a design, on one line."""
    return " / ".join(" ".join(part.text.split()) for part in evaluation.recipe.parts)


def description(evaluation: Evaluation) -> str:
    """Words, faces and figures, so that nobody forgets which face it was."""
    return " ".join(_sentences(evaluation))


def _sentences(evaluation: Evaluation) -> Iterator[str]:
    for _, made in evaluation.letterings:
        part = made.lettering
        face = " ".join(
            [made.faces.face.name, *(f"{tag} {value:g}" for tag, value in made.faces.face.location)]
        )
        if part.face.weight and not made.faces.face.location:
            face += f" {part.face.weight}"
        spacing = f", letter spacing {part.spacing_mm:g} mm" if part.spacing_mm else ""
        if part.spacing_share:
            spacing += f", letter spacing {part.spacing_share * 100:g} % of the size"
        words = " ".join(part.text.split())
        yield f"“{words}” in {face}, size {made.size:.2f} mm{spacing}."
    box, count = evaluation.box, len(evaluation.pieces)
    mirrored = " Mirrored: cut from the back." if evaluation.recipe.mirror else ""
    pieces = f"{count} piece{'s' if count != 1 else ''}"
    yield f"{box.width:.2f} × {box.height:.2f} mm, {pieces}, {evaluation.cut_length:.1f} mm of cut.{mirrored}"
    yield "Made with Fulgen."


def _text(words: str) -> str:
    """Text for XML 1.0: escaped, without the signs XML cannot hold (section 2.2)."""
    return escape("".join(c for c in words if c >= " " and c not in "\ufffe\uffff"))
