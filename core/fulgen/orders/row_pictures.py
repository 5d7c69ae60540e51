"""Pictures of rows, one each, as PNG: drawn by PDFium from a page of the row's size."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence

from fulgen.budget import check
from fulgen.formats import pdf_in
from fulgen.formats.pdf import new_document
from fulgen.orders.proof import draw_row
from fulgen.orders.working import WorkedRow
from fulgen.units import MM_PER_INCH

LONGER_SIDE_PX = 1200
_EDGE_MM = 2.0


def write_row_pictures(rows: Sequence[WorkedRow]) -> Iterator[bytes]:
    """A picture of each row, on transparent ground, its longer side so many pixels."""
    for row in rows:
        check()
        wide, high = row.width_mm + 2 * _EDGE_MM, row.height_mm + 2 * _EDGE_MM
        page = new_document(row.row.title, (wide, high))
        page.add_page()
        draw_row(page, row, (_EDGE_MM, _EDGE_MM), (row.width_mm, row.height_mm))
        picture = pdf_in.page_picture(bytes(page.output()), LONGER_SIDE_PX / max(wide, high) * MM_PER_INCH)
        data = io.BytesIO()
        picture.save(data, "PNG")
        yield data.getvalue()
