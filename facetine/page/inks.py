"""How marks look, for a page that paints some of them anew."""

from __future__ import annotations

from typing import NamedTuple

from facetine.scene.marks import MarkerStyle
from facetine.writers.numbers import short
from facetine.writers.svg import marker_path

BOX = "box"
"""The path of a mark that fills its box."""


class Ink(NamedTuple):
    """How a mark looks."""

    fill: str | None
    line: str | None = None
    """The color of its border, or of its strokes."""
    width: float = 0.0
    """Of its border, in points."""
    opacity: float = 1.0
    path: str = ""
    """Its outline around its middle, as a path of SVG; BOX where it fills its box; nothing where a dot stands for it."""


def marker_ink(style: MarkerStyle, opacity: float) -> Ink:
    """How a marker looks."""
    radius = short(style.radius, 3)
    arc = f"a{radius} {radius} 0 1 0"
    disc = f"M-{radius} 0{arc} {short(2 * style.radius, 3)} 0{arc} {short(-2 * style.radius, 3)} 0z"
    traced = marker_path(style)
    return Ink(
        style.fill, style.outline, style.line_width if style.outline else 0.0, opacity, f"M0 0{traced}" if traced else disc
    )
