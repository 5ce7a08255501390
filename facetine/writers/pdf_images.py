"""Pictures as objects of a PDF document.

Source: ISO 32000-1:2008, 8.9.
"""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from facetine.scene.marks import Bitmap
from facetine.writers.inks import RGB, Inks
from facetine.writers.pdf_streams import packed

if TYPE_CHECKING:
    from pikepdf import Object, Pdf
    from PIL import Image


def image_object(document: Pdf, mark: Bitmap, inks: Inks = RGB) -> Object:
    """A picture as an image: a JPEG of the document's colors as it is, anything else as its pixels."""
    from pikepdf import Dictionary, Name
    from PIL import Image

    if mark.pixels is not None:
        return _of_pixels(document, Image.fromarray(mark.pixels, "RGBA"), inks)
    with Image.open(io.BytesIO(mark.content)) as image:
        spaces = {"L": Name.DeviceGray, "RGB": Name.DeviceRGB}
        said = Dictionary(Type=Name.XObject, Subtype=Name.Image, Width=mark.width, Height=mark.height, BitsPerComponent=8)
        if mark.sort == "jpeg" and image.mode in spaces and (inks.colors == "rgb" or image.mode == "L"):
            said.ColorSpace, said.Filter = spaces[image.mode], Name.DCTDecode
            return document.make_stream(mark.content, said)
        clear = "A" in image.getbands() or "transparency" in image.info
        pixels = image.convert("RGBA" if clear else "RGB")
    if clear:
        return _of_pixels(document, pixels, inks)
    said.ColorSpace = Name(f"/{inks.space}")
    return packed(document, inks.image(pixels).tobytes(), said)


def _of_pixels(document: Pdf, pixels: Image.Image, inks: Inks) -> Object:
    """An image of pixels, with how opaque each is."""
    from pikepdf import Dictionary, Name

    said = Dictionary(
        Type=Name.XObject, Subtype=Name.Image, Width=pixels.width, Height=pixels.height, BitsPerComponent=8,
        ColorSpace=Name(f"/{inks.space}"), SMask=_mask(document, pixels),
    )  # fmt: skip
    return packed(document, inks.image(pixels.convert("RGB")).tobytes(), said)


def _mask(document: Pdf, pixels: Image.Image) -> Object:
    """How opaque each pixel is."""
    from pikepdf import Dictionary, Name

    said = Dictionary(
        Type=Name.XObject, Subtype=Name.Image, Width=pixels.width, Height=pixels.height, BitsPerComponent=8,
        ColorSpace=Name.DeviceGray,
    )  # fmt: skip
    return packed(document, pixels.getchannel("A").tobytes(), said)
