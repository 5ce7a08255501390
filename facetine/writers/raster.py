"""Raster images, made from our own PDF, so that the two can't differ."""

from __future__ import annotations

import io
import math
import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from facetine.messages.errors import ExportError, OptionError
from facetine.scene.marks import AnyArray, Bitmap, Group, Markers, Rects, Scene
from facetine.scene.region import Region
from facetine.writers.formats import Format, Options, Written
from facetine.writers.inks import srgb
from facetine.writers.pdf import pdf
from facetine.writers.pixel_grid import Grid, own_pixels
from facetine.writers.png import png_file

if TYPE_CHECKING:
    from PIL import Image

_MARKERS_A_PAGE = 100_000
_MOST_PIXELS = 200_000_000
_MOST_PAINTED = 6e8
"""Pixels that markers and rectangles may cover, each as often as it is covered."""
_MOST_OF_WEBP = 16_383
_ONE_AT_A_TIME = threading.Lock()


def image_of(scene: Scene, *, dpi: float = 300.0, transparent: bool = False) -> Image.Image:
    """A scene as an image, with a clear ground if that is wanted."""
    from PIL import Image

    return Image.fromarray(pixels_of(scene, dpi=dpi, transparent=transparent))


def pixels_of(scene: Scene, *, dpi: float = 300.0, transparent: bool = False) -> AnyArray:
    """A scene as pixels.

    Args:
        scene: The drawing.
        dpi: Pixels an inch.
        transparent: Whether the sheet stays clear where nothing is drawn.

    Returns:
        Shape (height, width, 3), or (height, width, 4) with opacity; eight bits.
    """
    width, height = (max(1, math.ceil(round(side * dpi / 72, 3))) for side in scene.sheet)
    if scene.page is None:
        scene = own_pixels(scene, Grid(width / scene.width, height / scene.height, width, height))
    _must_be_paintable(scene, dpi)
    content = pdf(scene, options=Options(ground=not transparent), sheets=_MARKERS_A_PAGE)
    # The rasteriser keeps state for the whole process: two threads in it at once end the interpreter.
    with _ONE_AT_A_TIME:
        return _rendered(content, width, height, transparent)


def _must_be_paintable(scene: Scene, dpi: float) -> None:
    """Takes a drawing whose marks are painted in seconds.

    Raises:
        ExportError: They cover the sheet so often that it would take minutes.
    """

    def painted(group: Group) -> float:
        """In points²."""
        total = 0.0
        for item in group.items:
            if isinstance(item, Group):
                total += painted(item)
            elif isinstance(item, Markers) and item.styles:
                each = [math.pi * (style.radius + style.line_width) ** 2 for style in item.styles]
                total += sum(each[number] * count for number, count in _counted(item))
            elif isinstance(item, Rects):
                total += float((item.boxes[:, 2] * item.boxes[:, 3]).sum())
        return total

    if painted(scene.root) * (dpi / 72) ** 2 > _MOST_PAINTED:
        said = f"the marks cover the sheet so often that their pixels at {dpi:g} dpi would take minutes"
        raise ExportError("figure.export", said, "a smaller size= or dpi=, thin=2000, or a format of vectors, such as .pdf")


def _counted(marks: Markers) -> list[tuple[int, int]]:
    """The number of each style, and how many markers have it."""
    if marks.which is None:
        return [(0, len(marks.at))]
    return list(enumerate(np.bincount(marks.which, minlength=len(marks.styles)).tolist()))


def png(scene: Scene, *, dpi: float = 300.0, transparent: bool = False) -> bytes:
    """A scene as a PNG that knows its physical size."""
    return png_file(pixels_of(scene, dpi=dpi, transparent=transparent), dpi)


def picture_of(scene: Scene, region: Region, dpi: float) -> Bitmap:
    """A part of a scene as a picture that stands where it stood, its edges on pixels.

    Args:
        scene: The drawing.
        region: The part.
        dpi: Pixels an inch.
    """
    image = image_of(scene, dpi=dpi).convert("RGB")
    per = 72 / dpi
    left, top = max(0, math.floor(region.x / per)), max(0, math.floor(region.y / per))
    right, bottom = min(image.width, math.ceil(region.right / per)), min(image.height, math.ceil(region.bottom / per))
    part = image.crop((left, top, right, bottom))
    # A whole number of pixels spans a sheet that is not a whole number of them wide.
    across, down = scene.width / image.width, scene.height / image.height
    box = Region(left * across, top * down, part.width * across, part.height * down)
    return Bitmap(box, _saved(part, "PNG", dpi), "png", part.width, part.height)


def clear_picture(scene: Scene, region: Region, dpi: float) -> Bitmap:
    """A part of a scene as pixels that let through what lies below, its edges on pixels."""
    image = image_of(scene, dpi=dpi, transparent=True)
    per = 72 / dpi
    left, top = max(0, math.floor(region.x / per)), max(0, math.floor(region.y / per))
    right, bottom = min(image.width, math.ceil(region.right / per)), min(image.height, math.ceil(region.bottom / per))
    part = image.crop((left, top, max(right, left + 1), max(bottom, top + 1)))
    box = Region(left * per, top * per, part.width * per, part.height * per)
    import numpy as np

    return Bitmap(box, b"", "png", part.width, part.height, np.asarray(part.convert("RGBA")))


def _saved(image: Image.Image, sort: str, dpi: float, said: str = "", **options: Any) -> bytes:
    """An image as a file, with what it shows in words."""
    if sort == "PNG":
        import numpy as np

        return png_file(np.asarray(image), dpi, said, options.get("icc_profile"))
    buffer = io.BytesIO()
    if said:
        options |= _with_words(sort, said)
    image.save(buffer, sort, dpi=(dpi, dpi), **options)
    return buffer.getvalue()


def _with_words(sort: str, said: str) -> dict[str, Any]:
    """Where a format keeps words: the image description of TIFF and Exif.

    Source: TIFF 6.0, tag 270.
    """
    from PIL import Image

    if sort == "TIFF":
        return {"description": said.encode("utf-8")}
    exif = Image.Exif()
    exif[270] = said.encode("utf-8") if not said.isascii() else said
    return {"exif": exif}


def _in_gray(pixels: AnyArray) -> AnyArray:
    """Pixels with one channel where all their colors are gray."""
    if pixels.shape[2] != 3:
        return pixels
    some = pixels[:: max(1, len(pixels) // 40)]
    if (some[..., 0] != some[..., 1]).any():
        return pixels
    same = bool((pixels[..., 0] == pixels[..., 1]).all() and (pixels[..., 1] == pixels[..., 2]).all())
    return pixels[..., 0] if same else pixels


def _written(sort: str, clear: bool, **saved: Any) -> Callable[[Scene, Options], Written]:
    """What writes a format of pixels.

    Args:
        sort: What the format is called.
        clear: Whether it can leave the sheet clear.
        **saved: How it is stored.
    """

    def write(scene: Scene, options: Options) -> Written:
        from PIL import Image

        count = math.prod(scene.sheet) * (options.dpi / 72) ** 2
        if count > _MOST_PIXELS:
            raise OptionError(
                "figure.export", f"dpi={options.dpi:g} makes {count / 1e6:,.0f} million pixels", "200 million are the most"
            )
        if not options.ground and not clear:
            raise OptionError(
                "figure.export", f"transparent has no effect on {sort}, which has a ground", "png, tiff and webp can be clear"
            )
        if sort == "WEBP" and max(scene.sheet) * options.dpi / 72 > _MOST_OF_WEBP:
            raise OptionError("figure.export", f"a webp has at most {_MOST_OF_WEBP:,} pixels a side", "a smaller dpi=, or png")
        pixels, inks = pixels_of(scene, dpi=options.dpi, transparent=not options.ground), options.inks
        if inks.colors == "cmyk":
            if not options.ground:
                raise OptionError("figure.export", "pixels of four inks can't be transparent", "leave one of the two out")
            image = inks.image(Image.fromarray(pixels))
            profile = {"icc_profile": inks.press} if inks.press is not None else {}
            return Written(_saved(image, sort, options.dpi, scene.description, **saved, **profile))
        if not options.icc and sort != "WEBP":
            pixels = _in_gray(pixels)
        if sort == "PNG":
            return Written(png_file(pixels, options.dpi, scene.description, srgb() if options.icc else None))
        image = Image.fromarray(pixels)
        profile = {"icc_profile": srgb()} if options.icc else {}
        said = ("webp keeps no resolution; its physical size is up to the program that places it",) if sort == "WEBP" else ()
        return Written(_saved(image, sort, options.dpi, scene.description, **saved, **profile), said)

    return write


_LOST = "vectors: texts and marks are pixels"
FORMAT = Format(
    "pixels at dpi=, made from the PDF",
    _written("PNG", clear=True),
    pixels=True,
    suits="screens, drafts, word processors",
    loses=_LOST,
)
TIFF = Format(
    "pixels for print, compressed without loss",
    _written("TIFF", clear=True, compression="tiff_lzw"),
    pixels=True,
    takes=frozenset({"colors"}),
    suits="journals that ask for pixels",
    loses=_LOST,
)
JPEG = Format(
    "pixels with loss, for photographs and the web",
    _written("JPEG", clear=False, quality=95, subsampling=0),
    pixels=True,
    takes=frozenset({"colors"}),
    suits="plates of photographs",
    loses=f"{_LOST}; edges get smudged",
)
WEBP = Format(
    "pixels for the web, without loss",
    _written("WEBP", clear=True, lossless=True),
    pixels=True,
    suits="web pages",
    loses=f"{_LOST}; the resolution",
)


def _rendered(content: bytes, width: int, height: int, transparent: bool) -> AnyArray:
    """The pages of a document over each other, as pixels."""
    import numpy as np
    import pypdfium2
    import pypdfium2.raw as pdfium

    document = pypdfium2.PdfDocument(content)
    try:
        layout = pdfium.FPDFBitmap_BGRA if transparent else pdfium.FPDFBitmap_BGR
        bitmap = pypdfium2.PdfBitmap.new_native(width, height, layout, rev_byteorder=True)
        bitmap.fill_rect((255, 255, 255, 0 if transparent else 255), 0, 0, width, height)
        flags = pdfium.FPDF_ANNOT | pdfium.FPDF_REVERSE_BYTE_ORDER
        # Each page is drawn over the ones before it and let go.
        for number in range(len(document)):
            page = document[number]
            pdfium.FPDF_RenderPageBitmap(bitmap, page, 0, 0, width, height, 0, flags)
            page.close()
        shown: AnyArray = np.array(bitmap.to_numpy())
        bitmap.close()
    finally:
        document.close()
    return shown
