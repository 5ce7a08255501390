"""Pictures on plates: photographs and schemes, with what is said of their scale."""

from __future__ import annotations

import re
from dataclasses import dataclass

from facetine.core.arrays import is_number
from facetine.data.pictures import read_picture
from facetine.grammar.given import Target
from facetine.grammar.options import choice, text
from facetine.messages.errors import OptionError, told

_UNITS = {"km": 1e6, "m": 1e3, "cm": 10.0, "mm": 1.0, "µm": 1e-3, "um": 1e-3, "nm": 1e-6}
"""Lengths in millimetres."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture as it came, with its size in pixels."""

    path: str
    content: bytes
    sort: str
    """png or jpeg."""
    width: int
    """In pixels."""
    height: int
    dark: bool
    """Whether its lower right corner is dark."""
    scale_bar: str | None = None
    """How long the bar is in the picture's world, such as "5 mm"."""
    pixels_per_mm: float | None = None
    title: str = ""
    fit: str = "inside"
    """inside: whole, with room beside; fill: cut so that it fills its place."""
    alt: str = ""
    """What it shows, for readers who can't see it."""

    @property
    def bar(self) -> tuple[float, str]:
        """The bar's length in pixels and its words; 0 where there is none."""
        if self.scale_bar is None or self.pixels_per_mm is None:
            return 0.0, ""
        value, unit = _length(self.scale_bar)
        return value * _UNITS[unit] * self.pixels_per_mm, self.scale_bar.strip().replace("um", "µm")

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.width, self.height


def _length(said: str) -> tuple[float, str]:
    found = re.fullmatch(r"\s*(\d+(?:\.\d+)?)\s*(\w+)\s*", said)
    if found is None or found[2] not in _UNITS:
        raise OptionError("picture", f"scale_bar {told(said)} is no length", f'such as "5 mm"; units: {", ".join(_UNITS)}')
    return float(found[1]), found[2]


def picture_of(
    path: Target, scale_bar: str | None, pixels_per_mm: float | None, title: str | None, fit: str, alt: str | None
) -> Picture:
    """A picture read from its file.

    Raises:
        DataError: There is no such file, or it is no PNG or JPEG.
        OptionError: A scale bar and pixels_per_mm do not stand together, or make a bar longer than the picture.
    """
    file = read_picture(path)
    if (scale_bar is None) != (pixels_per_mm is None):
        raise OptionError("picture", "scale_bar and pixels_per_mm belong together", 'such as scale_bar="5 mm", pixels_per_mm=40')
    if pixels_per_mm is not None and not (is_number(pixels_per_mm) and pixels_per_mm > 0):
        raise OptionError("picture", f"pixels_per_mm is a number above zero, not {told(pixels_per_mm)}")
    made = Picture(
        str(path), file.content, file.sort, file.width, file.height, file.dark,
        None if scale_bar is None else text(scale_bar, "picture: scale_bar"),
        None if pixels_per_mm is None else float(pixels_per_mm), "" if title is None else text(title, "picture: title"),
        str(choice("inside", "fill", name="words")(fit, "picture: fit")), "" if alt is None else text(alt, "picture: alt"),
    )  # fmt: skip
    if made.bar[0] > 0.9 * file.width:
        raise OptionError(
            "picture",
            f"a bar of {scale_bar} is longer than the picture",
            f"it shows {file.width / (made.pixels_per_mm or 1):.3g} mm",
        )
    return made
