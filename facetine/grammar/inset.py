"""What is said of a figure set into a panel of another one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from facetine.core.arrays import is_number
from facetine.grammar.given import Plain
from facetine.messages.errors import OptionError, told

if TYPE_CHECKING:
    from facetine.grammar.sentence import Sentence


@dataclass(frozen=True, kw_only=True)
class Inset:
    """A figure in a panel."""

    figure: Sentence
    at: tuple[float, float, float, float]
    """Left, lower, right and upper edge."""
    units: str = "share"
    """Whether these are shares of the panel or values on its axes."""
    panel: str | None = None
    """Which panel, by what it is called; the first where nothing is said."""
    zoom: bool = False
    """Whether a box in the panel shows what the inset shows, with lines between the two."""

    def said(self) -> Plain:
        """The options that differ from their defaults."""
        own: Plain = {"at": self.at}
        own |= {"units": self.units} if self.units != "share" else {}
        own |= {"panel": self.panel} if self.panel is not None else {}
        return own | ({"zoom": True} if self.zoom else {})


def checked_place(at: object, units: str, where: str) -> tuple[float, float, float, float]:
    """The four edges of an inset.

    Raises:
        OptionError: They are no four numbers that make a rectangle; or shares outside the panel.
    """
    if not isinstance(at, tuple | list) or len(at) != 4 or not all(is_number(edge) for edge in at):
        raise OptionError(
            f"{where}: at is (left, lower, right, upper), not {told(at)}",
            "such as (0.55, 0.55, 0.98, 0.98), in shares of the panel",
        )
    left, lower, right, upper = map(float, at)
    if not (left < right and lower < upper):
        raise OptionError(f"{where}: at {at!r} is no rectangle", "left is less than right, lower less than upper")
    if units == "share" and not (left >= 0 and right <= 1 and lower >= 0 and upper <= 1):
        raise OptionError(
            f"{where}: at {at!r} reaches beyond the panel", 'shares are from 0 to 1; units="data" takes values on the axes'
        )
    return left, lower, right, upper
