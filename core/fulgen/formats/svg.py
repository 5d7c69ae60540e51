"""SVG: the outline for any cutter's software, at true size.

Width and height are in mm and the viewBox has one unit to the mm, so a reader that knows CSS
lengths (CSS Values 4, section 6.2: 1in = 25.4mm = 96px) opens it at true size, and one that
ignores them still has the right proportions. One path a film, absolute curves, no transforms; strokes
only for lines that are drawn or scored. Holes are wound against their outer edge, so nonzero and
even-odd fill agree (SVG 2, section 13.4.2).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from xml.sax.saxutils import escape, quoteattr

import numpy as np
import shapely

from fulgen.formats import svg_in
from fulgen.formats.drawn_sheet import HAIRLINE_MM, LINE_COLOURS, DrawnSheet, ReadSheet
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import LINE, MOVE, Outline
from fulgen.geometry.paths import DECIMALS, path_data
from fulgen.geometry.placement import Placement
from fulgen.geometry.polygons import polygonal
from fulgen.parts.made import DrawnLine
from fulgen.recipe.evaluate import Evaluation, as_cut, box_as_cut


def write_svg(evaluation: Evaluation) -> str:
    """The design as an SVG document, its top left corner at 0, 0, as it is cut: mirrored where it says so.

    Raises Problem while a part of it cannot be made.
    """
    box = box_as_cut(_box_with_lines(evaluation.whole()), evaluation.recipe)
    width, height = (f"{round(v, DECIMALS):.7g}" for v in (box.width, box.height))
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm"'
        f' viewBox="0 0 {width} {height}">',
        f"<title>{_text(words_of(evaluation))}</title>",
        f"<desc>{_text(description(evaluation))}</desc>",
    ]
    seen = Placement(flip=evaluation.recipe.mirror).within(Placement(-box.x, -box.y))
    free = [replace(one.line, outline=seen.outline(one.line.outline)) for one in evaluation.lines]
    lines += _not_cut(free, HAIRLINE_MM)
    for number, film in enumerate(evaluation.films, 1):
        d = path_data(as_cut(film.outline, evaluation.recipe).placed(-box.x, -box.y))
        lines.append(f'<path id="film-{number}" fill={quoteattr(film.colour)} d="{d}"/>')
    return "\n".join([*lines, "</svg>", ""])


def _box_with_lines(evaluation: Evaluation) -> Box:
    """The box around all that is cut, and around what is drawn or scored."""
    boxes = [evaluation.box, *(measure.box(one.line.outline) for one in evaluation.lines)]
    return measure.box_around(np.array([(b.x, b.y, b.right, b.bottom) for b in boxes]))


def write_sheet(drawn: DrawnSheet, _tolerance: float) -> bytes:
    """A sheet as an SVG document of its size: a path for each piece, in the order of the cut, filled or as a
    line; what is drawn, what is scored and what only helps weeding are groups of lines by themselves."""
    width, height = (f"{round(v, DECIMALS):.7g}" for v in (drawn.width, drawn.height))
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm"'
        f' viewBox="0 0 {width} {height}">',
        f"<title>{_text(drawn.about.title)}</title>",
        f"<desc>{_text(drawn.about.says)}</desc>",
    ]
    lines += _not_cut(drawn.lines, drawn.line_mm)
    group = f'<g id="film" fill={quoteattr(drawn.colour)}>'
    lines += [
        _lines_group("cut", drawn.hairline_mm) if drawn.hairline_mm else group,
        *(f'<path d="{path_data(piece)}"/>' for piece in drawn.pieces),
        "</g>",
    ]
    if drawn.helps:
        lines.append('<g id="weeding" fill="none" stroke="#808080" stroke-width="0.1">')
        for line in drawn.helps:
            verbs = np.full(len(line), LINE, np.uint8)
            verbs[0] = MOVE
            lines.append(f'<path d="{path_data(Outline(verbs, line), closed=False)}"/>')
        lines.append("</g>")
    return "\n".join([*lines, "</svg>", ""]).encode()


def _not_cut(drawn: Sequence[DrawnLine], width: float) -> Iterator[str]:
    """Lines that are drawn or scored, a group for each use."""
    for use in ("draw", "score"):
        own = [line for line in drawn if line.use == use]
        if own:
            yield _lines_group(use, width)
            yield from (f'<path d="{path_data(line.outline, closed=line.closed)}"/>' for line in own)
            yield "</g>"


def _lines_group(use: str, width: float) -> str:
    return f'<g id="{use}" fill="none" stroke="{LINE_COLOURS[use]}" stroke-width="{width:g}">'


def read_sheet(data: bytes, tolerance: float) -> ReadSheet:
    """What an SVG file fills, or encloses by lines to be cut, and how large it says it is."""
    _, shown = svg_in.read_cuts(data, "the file", tolerance / 2, LINE_COLOURS["cut"])
    region = polygonal(shapely.union_all(shown))
    return ReadSheet(*svg_in.stated_size(data), region, region.area)


def words_of(evaluation: Evaluation) -> str:
    """The words of a design, on one line."""
    return " / ".join(" ".join(made.lettering.text.split()) for _, made in evaluation.letterings)


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
    if evaluation.lines:
        lines = len(evaluation.lines)
        yield f"{lines} {'line is' if lines == 1 else 'lines are'} drawn or scored, and not cut."
    yield f"{box.width:.2f} × {box.height:.2f} mm, {pieces}, {evaluation.cut_length:.1f} mm of cut.{mirrored}"
    yield "Made with Fulgen."


def _text(words: str) -> str:
    """Text for XML 1.0: escaped, without the signs XML cannot hold (section 2.2)."""
    return escape("".join(c for c in words if c >= " " and c not in "\ufffe\uffff"))
