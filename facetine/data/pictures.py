"""Pictures read from their files."""

from __future__ import annotations

import io
import warnings
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from facetine.data.plain import MOST_PICTURE, plain_bytes
from facetine.messages.errors import DataError, told

if TYPE_CHECKING:
    from PIL import Image

_FORMATS = ("PNG", "JPEG")
_MOST_PIXELS = 80_000_000
_PLAIN = ("1", "L", "LA", "P", "PA", "RGB", "RGBA")
"""Pixels that every reader shows alike."""


class PictureFile(NamedTuple):
    """A picture as it came; as a PNG where readers would show its file unlike each other."""

    content: bytes
    sort: str
    """png or jpeg."""
    width: int
    """In pixels."""
    height: int
    dark: bool
    """Whether its lower right corner is darker than mid gray."""


def read_picture(path: object) -> PictureFile:
    """A picture from its file.

    Raises:
        DataError: There is no such file, or it is no PNG or JPEG.
    """
    from PIL import Image, UnidentifiedImageError

    try:
        content = plain_bytes(Path(path), MOST_PICTURE)  # type: ignore[arg-type]
    except (OSError, TypeError, ValueError) as problem:
        said = problem.strerror if isinstance(problem, OSError) else None
        raise DataError("picture", f"{told(path)} can't be read", said or str(problem)[:120]) from problem
    try:
        with warnings.catch_warnings():
            # Large ones are refused here, in our own words.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            # No other reader is asked: what calls itself a picture may be a program for one of them.
            opened = Image.open(io.BytesIO(content), formats=_FORMATS)
        with opened as image:
            sort = str(image.format).lower()
            if image.width * image.height > _MOST_PIXELS:
                size = f"{image.width:,} × {image.height:,} pixels"
                raise DataError("picture", f"{told(path)} has {size}", f"at most {_MOST_PIXELS // 10**6} million; a smaller one")
            shown = _as_shown(image)
            (width, height), corner = shown.size, shown.convert("L")
            if shown is not image:
                buffer = io.BytesIO()
                shown.save(buffer, "PNG")
                content = buffer.getvalue()
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as problem:
        raise DataError("picture", f"{told(path)} is no picture", "PNG and JPEG are read") from problem
    corner = corner.crop((width * 2 // 3, height * 4 // 5, width, height))
    return PictureFile(
        content, "png" if shown is not image else sort, width, height, float(np.asarray(corner, float).mean()) < 128
    )


def _as_shown(image: Image.Image) -> Image.Image:
    """The picture itself where all readers show it alike; else upright, as its camera says, with eight bits a channel."""
    from PIL import ExifTags, Image, ImageOps

    turned = image.getexif().get(ExifTags.Base.Orientation, 1) != 1
    upright = ImageOps.exif_transpose(image) if turned else image
    if upright.mode.startswith("I"):
        # Instruments write gray of sixteen bits, of which 257 steps make one of eight.
        return Image.fromarray((np.clip(np.asarray(upright), 0, 65535) // 257).astype(np.uint8))
    return upright.convert("RGB") if upright.mode not in _PLAIN else upright
