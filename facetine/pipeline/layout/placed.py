"""A laid-out figure: every box at its place."""

from __future__ import annotations

from typing import NamedTuple

from facetine.pipeline.guides.boxes import PlacedSpan, PlacedWords
from facetine.pipeline.guides.labels import Labels
from facetine.pipeline.guides.legend_box import PlacedLegends
from facetine.pipeline.layout.body import PlacedPanel
from facetine.pipeline.layout.request import Styles
from facetine.scene.region import Region


def _side_by_side(one: Region, other: Region) -> bool:
    return one.y < other.bottom and other.y < one.bottom


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
    others: tuple[Region, ...] = ()
    """What stands beside the figure on its sheet."""

    @property
    def pages(self) -> int:
        """How many there are."""
        return max(place.panel.page for place in self.panels) + 1

    def free_to_the_right(self, place: PlacedPanel) -> float:
        """How far to the right something beside a panel's marks may reach: to its neighbour, the legends, or the edge."""
        bounds, box = [self.width], place.box
        for other in self.panels:
            if other.panel.page == place.panel.page and other.box.x >= box.right and _side_by_side(other.box, box):
                bounds += [other.box.x, *(band.region.x for band in other.bands if band.side == "left" and band.labelled)]
        beside = [*self.others, *(heading.region for heading in place.headings)]
        beside += [self.legends.region] if self.legends.legends else []
        bounds += [region.x for region in beside if region.x >= box.right and _side_by_side(region, box)]
        return min(bounds)

    @property
    def x_labels(self) -> Labels:
        """The labels of the first panel's x axis."""
        return self.panels[0].labels("below")

    @property
    def y_labels(self) -> Labels:
        """The labels of the first panel's y axis."""
        return self.panels[0].labels("left")
