"""PNG: a picture of a sheet on transparent ground, drawn by PDFium from the sheet's page.

The pHYs chunk says how many pixels there are to the metre (PNG, third edition, section 11.3.4.3), iTXt chunks
what it is of (section 11.3.3.4)."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from fulgen.formats import pdf, pdf_in
from fulgen.formats.drawn_sheet import DrawnSheet, ReadSheet
from fulgen.units import MM_PER_INCH

DPI = 300
MOST_PX = 6_000


def write_sheet(drawn: DrawnSheet, tolerance: float) -> bytes:
    """The sheet as a filled picture, 300 pixels to the inch where that is not too many."""
    dpi = min(DPI, MOST_PX / max(drawn.width, drawn.height) * MM_PER_INCH)
    picture = pdf_in.page_picture(
        pdf.write_sheet(replace(drawn, weeding_cuts=(), hairline_mm=0.0), tolerance), dpi
    )
    about = PngInfo()
    about.add_itxt("Title", drawn.about.title)
    about.add_itxt("Description", drawn.about.description)
    data = io.BytesIO()
    picture.save(data, "PNG", dpi=(dpi, dpi), pnginfo=about, compress_level=3)
    return data.getvalue()


def read_sheet(data: bytes, _tolerance: float) -> ReadSheet:
    """How large the picture is, and how much of it is covered."""
    with Image.open(io.BytesIO(data)) as picture:
        dpi = float(picture.info["dpi"][0])
        alpha = np.asarray(picture.getchannel("A"), dtype=np.float64) / 255
    pixel = MM_PER_INCH / dpi
    high, wide = alpha.shape
    return ReadSheet(wide * pixel, high * pixel, None, float(alpha.sum()) * pixel**2, pixel)
