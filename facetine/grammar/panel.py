"""What is said of the size of panels."""

from __future__ import annotations

from dataclasses import dataclass

from facetine.grammar.given import Length, Plain
from facetine.grammar.lengths import in_points
from facetine.grammar.options import differing, length, number, option
from facetine.messages.errors import OptionError


@dataclass(frozen=True, kw_only=True)
class PanelSpec:
    """Width, height and ratio of every panel; None where nothing is said."""

    ratio: float | None = option(None, number(0.01, 100))
    width: Length = option(None, length)
    height: Length = option(None, length)

    @property
    def sides(self) -> tuple[float | None, float | None]:
        """Width and height in points, each where it was said or follows."""
        width, height = (None if said is None else in_points(said, "figure.panel") for said in (self.width, self.height))
        if self.ratio is not None and width is not None:
            height = self.ratio * width
        elif self.ratio is not None and height is not None:
            width = height / self.ratio
        return width, height

    def said(self) -> Plain:
        """What was said."""
        return differing(self)


def check_panel(panel: PanelSpec) -> None:
    """Refuses what would say a side twice, or nothing.

    Raises:
        OptionError: All three are given.
    """
    if panel.ratio is not None and panel.width is not None and panel.height is not None:
        raise OptionError("figure.panel", "ratio, width and height say one side twice", "give two of them")
