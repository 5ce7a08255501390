"""Raster images, made from our own PDF, so that the two can't differ."""

from __future__ import annotations

import io
import math
import threading
from typing import TYPE_CHECKING

from facetine.errors import OptionError
from facetine.scene.marks import Scene
from facetine.writers.formats import Format, Options, Written
from facetine.writers.pdf import pdf

if TYPE_CHECKING:
    from PIL import Image

_MARKERS_A_PAGE = 100_000
_MOST_PIXELS = 200_000_000
_ONE_AT_A_TIME = threading.Lock()


def png(scene: Scene, *, dpi: float = 300.0, transparent: bool = False) -> bytes:
    """A scene as a PNG that knows its physical size.

    Args:
        scene: The drawing.
        dpi: Pixels an inch.
        transparent: Whether the sheet stays clear where nothing is drawn.
    """
    width, height = (max(1, math.ceil(round(side * dpi / 72, 3))) for side in (scene.width, scene.height))
    content = pdf(scene, ground=not transparent, sheets=_MARKERS_A_PAGE)
    # The rasteriser keeps state for the whole process: two threads in it at once end the interpreter.
    with _ONE_AT_A_TIME:
        image = _rendered(content, width, height, transparent)
    buffer = io.BytesIO()
    image.save(buffer, "PNG", dpi=(dpi, dpi))
    return buffer.getvalue()


def _written(scene: Scene, options: Options) -> Written:
    pixels = scene.width * scene.height * (options.dpi / 72) ** 2
    if pixels > _MOST_PIXELS:
        raise OptionError(
            f"figure.export: dpi={options.dpi:g} makes {pixels / 1e6:,.0f} million pixels", "200 million are the most"
        )
    return Written(png(scene, dpi=options.dpi, transparent=not options.ground))


FORMAT = Format("pixels at dpi=, made from the PDF", _written, pixels=True)


def _rendered(content: bytes, width: int, height: int, transparent: bool) -> Image.Image:
    """The pages of a document over each other, as pixels."""
    import pypdfium2
    import pypdfium2.raw as pdfium

    document = pypdfium2.PdfDocument(content)
    try:
        layout = pdfium.FPDFBitmap_BGRA if transparent else pdfium.FPDFBitmap_BGRx
        bitmap = pypdfium2.PdfBitmap.new_native(width, height, layout, rev_byteorder=True)
        bitmap.fill_rect((255, 255, 255, 0 if transparent else 255), 0, 0, width, height)
        flags = pdfium.FPDF_ANNOT | pdfium.FPDF_REVERSE_BYTE_ORDER
        # Each page is drawn over the ones before it and let go.
        for number in range(len(document)):
            page = document[number]
            pdfium.FPDF_RenderPageBitmap(bitmap, page, 0, 0, width, height, 0, flags)
            page.close()
        shown: Image.Image = bitmap.to_pil() if transparent else bitmap.to_pil().convert("RGB")
        bitmap.close()
    finally:
        document.close()
    return shown
