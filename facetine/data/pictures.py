"""Pictures read from their files."""

from __future__ import annotations

import io
from pathlib import Path
from typing import NamedTuple

import numpy as np

from facetine.errors import DataError, told


class PictureFile(NamedTuple):
    """A picture as it came."""

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
        content = Path(path).read_bytes()  # type: ignore[arg-type]
    except (OSError, TypeError, ValueError) as problem:
        raise DataError(f"picture: {told(path)} can't be read", str(problem)[:120]) from problem
    try:
        with Image.open(io.BytesIO(content)) as image:
            sort, (width, height) = str(image.format).lower(), image.size
            corner = image.convert("L").crop((width * 2 // 3, height * 4 // 5, width, height))
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as problem:
        raise DataError(f"picture: {told(path)} is no picture", "PNG and JPEG are read") from problem
    if sort not in ("png", "jpeg"):
        raise DataError(f"picture: {told(path)} is a {sort.upper()}", "PNG and JPEG are read")
    return PictureFile(content, sort, width, height, float(np.asarray(corner, float).mean()) < 128)
