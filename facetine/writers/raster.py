"""Raster images, made from our own PDF, so that the two can't differ."""

from __future__ import annotations

import io


def png(pdf: bytes, *, dpi: float = 300.0, transparent: bool = False) -> bytes:
    """The page of a PDF as a PNG that knows its physical size.

    Args:
        pdf: A document as made by `writers.pdf`.
        dpi: Pixels an inch.
        transparent: Whether the sheet stays clear where nothing is drawn.
    """
    import pypdfium2

    document = pypdfium2.PdfDocument(pdf)
    try:
        ground = (255, 255, 255, 0) if transparent else (255, 255, 255, 255)
        bitmap = document[0].render(scale=dpi / 72.0, fill_color=ground, maybe_alpha=transparent, rev_byteorder=True)
        image = bitmap.to_pil()
    finally:
        document.close()
    buffer = io.BytesIO()
    image.save(buffer, "PNG", dpi=(dpi, dpi))
    return buffer.getvalue()
