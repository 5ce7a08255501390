"""The ink of marks to whose color nothing is mapped, so that no mark vanishes on another or passes for a category."""

from __future__ import annotations

from facetine.grammar.theme import Theme
from facetine.pipeline.split import Part


def _follows(part: Part) -> bool:
    """Whether a layer's color follows data."""
    computed = "color" in part.layer.computed_looks and part.layer.constant("color") is None
    return "color" in part.columns or computed


def default_color(place: int, parts: list[Part], theme: Theme, first: str) -> str:
    """The color of a layer where none is said.

    It is the palette's first, but that of the text where another layer maps colors, which the first one would seem to be
    one of, and for lines and points on filled marks that have the palette's first color themselves.
    """
    layer = parts[place].layer
    usual = layer.usual.get("color")
    if usual is not None:
        return theme.text_color if usual == "text" else str(usual)
    if any(_follows(part) for number, part in enumerate(parts) if number != place):
        return theme.text_color
    below = any(part.layer.filled_marks and part.layer.constant("color") is None for part in parts[:place])
    return theme.text_color if below and not layer.filled_marks else first


def needs_halo(place: int, parts: list[Part]) -> bool:
    """Whether a layer of lines lies over filled marks of its own color, so that it needs a seam of the ground."""
    part = parts[place]
    if not part.layer.line_marks:
        return False
    own = part.columns["color"].name if "color" in part.columns else part.layer.constant("color")
    if own is None:
        return False
    for below in parts[:place]:
        if below.layer.filled_marks:
            theirs = below.columns["color"].name if "color" in below.columns else below.layer.constant("color")
            if theirs == own:
                return True
    return False
