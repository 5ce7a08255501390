"""A laid-out figure: every box at its place."""

from __future__ import annotations

from typing import NamedTuple

from facetine.pipeline.body import PlacedPanel
from facetine.pipeline.boxes import PlacedSpan, PlacedWords
from facetine.pipeline.labels import Labels
from facetine.pipeline.legend import PlacedLegends
from facetine.pipeline.sheet import Styles


class Layout(NamedTuple):
    """Every box of a figure, in points."""

    width: float
    height: float
    styles: Styles
    titles: tuple[PlacedWords, ...]
    """Title, subtitle, note and titles of axes, in drawing order."""
    panels: tuple[PlacedPanel, ...]
    legends: PlacedLegends
    spans: tuple[tuple[int, PlacedSpan], ...] = ()
    """Outer headings, each with the page on which it stands."""

    @property
    def pages(self) -> int:
        """How many there are."""
        return max(place.panel.page for place in self.panels) + 1

    @property
    def x_labels(self) -> Labels:
        """The labels of the first panel's x axis."""
        return self.panels[0].labels("below")

    @property
    def y_labels(self) -> Labels:
        """The labels of the first panel's y axis."""
        return self.panels[0].labels("left")
