"""Colors as printers want them: red, green and blue, or the four inks of a press.

Four inks are made by the formula of ISO 32000-1:2008, 10.3.5, with all gray taken over by black: cyan, magenta and
yellow are what a color lacks of red, green and blue, less their smallest, which is black. A gray is so made of black
alone. Or by a press's own profile, from sRGB, relative colorimetric with black point compensation. Dark texts are pure
black either way: letters of several inks come out with colored edges where these do not meet.
"""

from __future__ import annotations

import io
from functools import lru_cache
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

import numpy as np

from facetine.messages.errors import OptionError
from facetine.scene.marks import AnyArray

if TYPE_CHECKING:
    from PIL import Image, ImageCms

Colors: TypeAlias = Literal["rgb", "cmyk"]
_DARK = 0.36
"""A text whose red, green and blue are all at most so strong is printed in pure black."""


class Inks(NamedTuple):
    """How the colors of a file are written."""

    colors: Colors = "rgb"
    press: bytes | None = None
    """The profile of the press; None for the formula."""

    @property
    def space(self) -> str:
        """What PDF calls it."""
        return "DeviceCMYK" if self.colors == "cmyk" else "DeviceRGB"

    def amounts(self, color: str, text: bool = False) -> tuple[float, ...]:
        """A color's red, green and blue, or its four inks, from 0 to 1."""
        red, green, blue = (int(color[i : i + 2], 16) / 255 for i in (1, 3, 5))
        if self.colors == "rgb":
            return red, green, blue
        if color == "#000000" or (text and max(red, green, blue) <= _DARK):
            return 0.0, 0.0, 0.0, 1.0
        if self.press is not None:
            return _by_profile(color, self.press)
        return tuple(four_inks(np.array([red, green, blue])).tolist())

    def image(self, image: Image.Image) -> Image.Image:
        """An image of red, green and blue in these colors."""
        from PIL import Image

        if self.colors == "rgb":
            return image.convert("RGB")
        if self.press is not None:
            from PIL import ImageCms

            made = ImageCms.applyTransform(image.convert("RGB"), _transform(self.press))
            assert made is not None
            return made
        inks = four_inks(np.asarray(image.convert("RGB"), np.float32) / 255)
        return Image.fromarray(np.rint(inks * 255).astype(np.uint8), "CMYK")


RGB = Inks()


def four_inks(colors: AnyArray) -> AnyArray:
    """Colors of shape (…, 3) from 0 to 1 as cyan, magenta, yellow and black of shape (…, 4).

    >>> four_inks(np.array([1.0, 0.5, 0.25])).tolist(), four_inks(np.array([0.2, 0.2, 0.2])).tolist()
    ([0.0, 0.5, 0.75, 0.0], [0.0, 0.0, 0.0, 0.8])
    """
    lacking = 1.0 - colors
    black = lacking.min(axis=-1, keepdims=True)
    return np.concatenate([lacking - black, black], axis=-1)


def checked_press(content: bytes, where: str) -> bytes:
    """The profile of a press.

    Raises:
        OptionError: It is none, or one of other colors than four inks.
    """
    from PIL import ImageCms

    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(content)).profile
    except OSError:
        raise OptionError(where, "is no ICC profile", "printers hand out theirs", of_option=True) from None
    if profile.xcolor_space.strip() != "CMYK":
        raise OptionError(where, f"is a profile of {profile.xcolor_space.strip()}, not of four inks (CMYK)", of_option=True)
    return content


def srgb() -> bytes:
    """The sRGB profile, without the date on which it was made."""
    from PIL import ImageCms

    profile = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    # Bytes 24 to 35 are the date, 84 to 99 an identifier that may follow it (ICC.1:2022, 7.2).
    profile[24:36] = bytes([0x07, 0xE8, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0])
    profile[84:100] = bytes(16)
    # What it holds is as of version 4.2, the last one that PDF 1.7 knows.
    profile[8:12] = bytes([4, 0x20, 0, 0])
    return bytes(profile)


@lru_cache(maxsize=4)
def _transform(press: bytes) -> ImageCms.ImageCmsTransform:
    from PIL import ImageCms

    own = ImageCms.ImageCmsProfile(io.BytesIO(press))
    return ImageCms.buildTransform(
        ImageCms.createProfile("sRGB"), own, "RGB", "CMYK", ImageCms.Intent.RELATIVE_COLORIMETRIC,
        ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )  # fmt: skip


@lru_cache(maxsize=1024)
def _by_profile(color: str, press: bytes) -> tuple[float, ...]:
    from PIL import Image, ImageCms

    rgb = tuple(int(color[i : i + 2], 16) for i in (1, 3, 5))
    made = ImageCms.applyTransform(Image.new("RGB", (1, 1), rgb), _transform(press))
    assert made is not None
    return tuple(value / 255 for value in made.getpixel((0, 0)))  # type: ignore[union-attr]
