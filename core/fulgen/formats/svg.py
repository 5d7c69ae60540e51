"""SVG: the outline for any cutter's software, at true size.

Width and height are in mm and the viewBox has one unit to the mm, so a reader that knows CSS
lengths (CSS Values 4, section 6.2: 1in = 25.4mm = 96px) opens it at true size, and one that
ignores them still has the right proportions. One path a film, absolute curves, no transforms; a
group for each use that is not to be cut, of areas or of strokes. Holes are wound against their outer edge, so
nonzero and even-odd fill agree (SVG 2, section 13.4.2).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from fulgen.formats import svg_in
from fulgen.formats.carried import svg_with_recipe
from fulgen.formats.drawn_path import ReadRequest
from fulgen.formats.drawn_sheet import HAIRLINE_MM, USE_COLOURS, USES, DrawnSheet, ReadSheet
from fulgen.formats.read_back import read_back
from fulgen.geometry import measure
from fulgen.geometry.measure import Box
from fulgen.geometry.outline import LINE, MOVE, Outline
from fulgen.geometry.paths import DECIMALS, path_data
from fulgen.geometry.placement import Placement
from fulgen.parts.built_part import Mark
from fulgen.parts.part import Use
from fulgen.readiness.uses import uncut_words
from fulgen.recipe.evaluation import Evaluation, as_cut, box_as_cut


def write_svg(evaluation: Evaluation) -> str:
    """The design as an SVG document, its top left corner at 0, 0, as it is cut: mirrored where it says so.

    Raises Problem while a part of it cannot be made.
    """
    box = box_as_cut(_box_with_marks(evaluation.whole()), evaluation.recipe)
    width, height = (f"{round(v, DECIMALS):.7g}" for v in (box.width, box.height))
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm"'
        f' viewBox="0 0 {width} {height}">',
        f"<title>{_text(words_of(evaluation))}</title>",
        f"<desc>{_text(description(evaluation))}</desc>",
    ]
    seen = Placement(flip=evaluation.recipe.mirror).within(Placement(-box.x, -box.y))
    uncut = [replace(one.mark, outline=seen.outline(one.mark.outline)) for one in evaluation.marks]
    lines += _not_cut(uncut, HAIRLINE_MM)
    for number, film in enumerate(evaluation.films, 1):
        d = path_data(as_cut(film.outline, evaluation.recipe).placed(-box.x, -box.y))
        lines.append(f'<path id="film-{number}" fill={quoteattr(film.colour)} d="{d}"/>')
    return "\n".join([*lines, "</svg>", ""])


def _box_with_marks(evaluation: Evaluation) -> Box:
    """The box around all that is cut, engraved, drawn or scored."""
    boxes = [measure.box(one.mark.outline) for one in evaluation.marks if one.mark.use != "guide"]
    boxes += [evaluation.box] if evaluation.pieces or not boxes else []
    return measure.box_around(np.array([(b.x, b.y, b.right, b.bottom) for b in boxes]))


def write_sheet(drawn: DrawnSheet, _tolerance: float) -> bytes:
    """A sheet as an SVG document of its size: a path for each piece, in the order of the cut, filled or as a
    line; each other use, and what only helps weeding, is a group by itself."""
    width, height = (f"{round(v, DECIMALS):.7g}" for v in (drawn.width, drawn.height))
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm"'
        f' viewBox="0 0 {width} {height}">',
        f"<title>{_text(drawn.about.title)}</title>",
        f"<desc>{_text(drawn.about.description)}</desc>",
    ]
    lines += _not_cut(drawn.uncut, drawn.line_mm)
    group = f'<g id="film" fill={quoteattr(drawn.colour)}>'
    lines += [
        _lines_group("cut", drawn.hairline_mm) if drawn.hairline_mm else group,
        *(f'<path d="{path_data(piece)}"/>' for piece in drawn.pieces),
        "</g>",
    ]
    if drawn.weeding_cuts:
        lines.append('<g id="weeding" fill="none" stroke="#808080" stroke-width="0.1">')
        for line in drawn.weeding_cuts:
            verbs = np.full(len(line), LINE, np.uint8)
            verbs[0] = MOVE
            lines.append(f'<path d="{path_data(Outline(verbs, line), closed=False)}"/>')
        lines.append("</g>")
    document = "\n".join([*lines, "</svg>", ""])
    if drawn.design is not None:
        document = svg_with_recipe(document, drawn.about.title, drawn.design)
    return document.encode()


def _not_cut(uncut: Sequence[Mark], width: float) -> Iterator[str]:
    """What is engraved, drawn or scored, a group for each use."""
    for use in USES:
        own = [mark for mark in uncut if mark.use == use]
        if own:
            filled = f'<g id="{use}" fill="{USE_COLOURS[use]}">'
            yield filled if use == "engrave" else _lines_group(use, width)
            yield from (f'<path d="{path_data(mark.outline, closed=mark.closed)}"/>' for mark in own)
            yield "</g>"


def _lines_group(use: Use, width: float) -> str:
    return f'<g id="{use}" fill="none" stroke="{USE_COLOURS[use]}" stroke-width="{width:g}">'


def read_sheet(data: bytes, tolerance: float) -> ReadSheet:
    """What an SVG file fills, or encloses by lines to be cut, what else it draws, and how large it says it
    is."""
    return read_back(*svg_in.stated_size(data), svg_in.read(data, "the file", ReadRequest()).drawn, tolerance)


def words_of(evaluation: Evaluation) -> str:
    """The words of a design, on one line."""
    return " / ".join(" ".join(built.lettering.text.split()) for _, built in evaluation.letterings)


def description(evaluation: Evaluation) -> str:
    """Words, faces and figures, so that nobody forgets which face it was."""
    return " ".join(_sentences(evaluation))


def _sentences(evaluation: Evaluation) -> Iterator[str]:
    for _, built in evaluation.letterings:
        part = built.lettering
        face = " ".join(
            [built.faces.face.name, *(f"{tag} {value:g}" for tag, value in built.faces.face.location)]
        )
        if part.face.weight and not built.faces.face.location:
            face += f" {part.face.weight}"
        spacing = f", letter spacing {part.spacing_mm:g} mm" if part.spacing_mm else ""
        if part.spacing_share:
            spacing += f", letter spacing {part.spacing_share * 100:g} % of the size"
        words = " ".join(part.text.split())
        yield f"“{words}” in {face}, size {built.size:.2f} mm{spacing}."
    box, count = evaluation.extent, len(evaluation.pieces)
    mirrored = " Mirrored: cut from the back." if evaluation.recipe.mirror else ""
    pieces = f"{count} piece{'s' if count != 1 else ''}"
    for _, words in uncut_words(evaluation):
        yield f"{words}, and not cut."
    yield f"{box.width:.2f} × {box.height:.2f} mm, {pieces}, {evaluation.cut_length:.1f} mm of cut.{mirrored}"
    yield "Made with Fulgen."


def _text(words: str) -> str:
    """Text for XML 1.0: escaped, without the signs XML cannot hold (section 2.2)."""
    return escape("".join(c for c in words if c >= " " and c not in "\ufffe\uffff"))
