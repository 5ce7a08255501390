"""Color spaces: sRGB, linear light, OKLab and OKLCH; luminance, contrast and distance."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray

_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_FROM_LMS = np.linalg.inv(_TO_LMS)
_FROM_LAB = np.linalg.inv(_TO_LAB)


def from_hex(colors: list[str] | tuple[str, ...]) -> FloatArray:
    """sRGB of shape (n, 3) in 0…1 from "#rrggbb"."""
    return np.array([[int(color[i : i + 2], 16) for i in (1, 3, 5)] for color in colors], float).reshape(-1, 3) / 255.0


def to_hex(rgb: FloatArray) -> list[str]:
    """ "#rrggbb" from sRGB of shape (n, 3); values outside 0…1 are cut."""
    parts = np.rint(np.clip(rgb, 0.0, 1.0) * 255).astype(int).tolist()
    return [f"#{red:02x}{green:02x}{blue:02x}" for red, green, blue in parts]


def linear_light(rgb: FloatArray) -> FloatArray:
    """Linear light from sRGB, shapes alike.

    Source: IEC 61966-2-1:1999.
    """
    result: FloatArray = np.where(rgb <= 0.04045, rgb / 12.92, ((np.maximum(rgb, 0.0) + 0.055) / 1.055) ** 2.4)
    return result


def gamma_coded(light: FloatArray) -> FloatArray:
    """sRGB from linear light, shapes alike: the inverse of `linear_light`."""
    positive = np.maximum(light, 0.0)
    result: FloatArray = np.where(light <= 0.0031308, light * 12.92, 1.055 * positive ** (1 / 2.4) - 0.055)
    return result


def oklab(rgb: FloatArray) -> FloatArray:
    """OKLab of shape (n, 3) from sRGB of shape (n, 3).

    Source: B. Ottosson (2020), "A perceptual color space for image processing"; CSS Color Module Level 4.
    """
    result: FloatArray = np.cbrt(linear_light(rgb) @ _TO_LMS.T) @ _TO_LAB.T
    return result


def from_oklab(lab: FloatArray) -> FloatArray:
    """sRGB of shape (n, 3) from OKLab; outside 0…1 where no screen shows the color."""
    return gamma_coded(((lab @ _FROM_LAB.T) ** 3) @ _FROM_LMS.T)


def from_oklch(lch: FloatArray) -> FloatArray:
    """sRGB of shape (n, 3) from lightness 0…1, chroma and hue in degrees, shape (n, 3)."""
    hue = np.deg2rad(lch[:, 2])
    return from_oklab(np.column_stack([lch[:, 0], lch[:, 1] * np.cos(hue), lch[:, 1] * np.sin(hue)]))


def luminance(rgb: FloatArray) -> FloatArray:
    """Relative luminance of shape (n,): 0 for black, 1 for white.

    Source: W3C, Web Content Accessibility Guidelines 2.1, "relative luminance".
    """
    result: FloatArray = linear_light(rgb) @ np.array([0.2126, 0.7152, 0.0722])
    return result


def contrast(rgb: FloatArray, ground: FloatArray) -> FloatArray:
    """Contrast ratio of each color of shape (n, 3) against a ground of shape (3,) or (n, 3), from 1 to 21.

    Source: W3C, Web Content Accessibility Guidelines 2.1, "contrast ratio".
    """
    one, other = luminance(rgb), luminance(np.atleast_2d(ground))
    result: FloatArray = (np.maximum(one, other) + 0.05) / (np.minimum(one, other) + 0.05)
    return result


def distances(rgb: FloatArray) -> FloatArray:
    """Distances in OKLab between all pairs, shape (n, n); 0.02 is about the least that is seen."""
    lab = oklab(rgb)
    result: FloatArray = np.sqrt(((lab[:, None, :] - lab[None, :, :]) ** 2).sum(axis=2))
    return result


def blend(colors: tuple[str, ...] | list[str], count: int) -> list[str]:
    """So many colors evenly spread along the line through the given ones, in OKLab."""
    lab = oklab(from_hex(list(colors)))
    at = np.linspace(0.0, len(colors) - 1.0, count) if count > 1 else np.array([0.0])
    steps = np.arange(len(colors), dtype=float)
    return to_hex(from_oklab(np.column_stack([np.interp(at, steps, lab[:, axis]) for axis in range(3)])))


_DARK = 0.5
"""Under this lightness (of OKLab) a ground is dark."""


def is_dark(color: str) -> bool:
    """Whether light inks are read better on a color, #rrggbb, than dark ones.

    >>> is_dark("#202020"), is_dark("#ffffff")
    (True, False)
    """
    return bool(oklab(from_hex([color]))[0, 0] < _DARK)
