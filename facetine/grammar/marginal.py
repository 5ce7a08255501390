"""What is said of distributions at the edges of panels."""

from __future__ import annotations

from dataclasses import dataclass

from facetine.grammar.given import Plain
from facetine.grammar.layer import Layer
from facetine.grammar.options import choice, number
from facetine.messages.errors import OptionError, told, unknown

SIDES = ("top", "right", "bottom", "left")
SIZES = {"rug": 0.07, "boxes": 0.16, "violins": 0.2, "points": 0.16}
"""Depths of marginals as shares of a panel, where they are other than a quarter."""


@dataclass(frozen=True, kw_only=True)
class Marginal:
    """A layer in a small panel at one side, on the axis that it shares with the panel."""

    side: str
    """top, right, bottom or left."""
    layer: Layer
    size: float | None = None
    """How deep it is, as a share of the panel's side."""
    panels: str = "each"
    """Whether each panel has one, or it stands once at the edge of the figure."""

    @property
    def axis(self) -> str:
        """The axis that it shares, as the reader sees it."""
        return "x" if self.side in ("top", "bottom") else "y"

    @property
    def depth(self) -> float:
        """As a share of the panel's side."""
        return SIZES.get(self.layer.verb, 0.25) if self.size is None else self.size

    def said(self) -> Plain:
        """The options that differ from their defaults."""
        own: Plain = {"size": self.size} if self.size is not None else {}
        own |= {"panels": self.panels} if self.panels != "each" else {}
        # A marginal explains no looks where nothing is said, as a layer does.
        legend: Plain = {} if self.layer.legend is False else {"legend": self.layer.legend}
        return own | {name: value for name, value in self.layer.said().items() if name != "legend"} | legend


def checked_side(side: object, where: str) -> str:
    """One of the four sides.

    Raises:
        OptionError: It is none.
    """
    if not isinstance(side, str) or side not in SIDES:
        raise unknown(OptionError, where, "no side", side if isinstance(side, str) else told(side), SIDES, "sides")
    return side


def checked_size(size: object, where: str) -> float | None:
    """How deep a marginal is."""
    return None if size is None else float(number(0.02, 2)(size, f"{where}: size"))


def checked_panels(panels: object, where: str) -> str:
    """Each panel, or the edge."""
    return str(choice("each", "edge", name="words")(panels, f"{where}: panels"))
