"""What can stand on a sheet or in a plate: parts that are measured round by round, then placed, and what they are then."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple, Protocol, Self

from facetine.pipeline.guides.boxes import PlacedBox, PlacedSpan, PlacedWords
from facetine.pipeline.guides.labels import Labels
from facetine.pipeline.guides.legend_box import PlacedLegends
from facetine.pipeline.layout.body import PlacedPanel
from facetine.pipeline.layout.request import Styles
from facetine.scene.region import Region


class Placement(NamedTuple):
    """What stands on a sheet at its place."""

    figures: tuple[tuple[int, Layout], ...]
    """By their numbers."""
    boxes: tuple[PlacedBox, ...] = ()
    """Letters, pictures and titles around them."""


class Part(Protocol):
    """What can stand on a sheet or in a plate, measured round by round for the room that its panels have.

    Its inner region reaches from the left edge of its first panels to the right edge of its last ones, and likewise from
    the top down; `left`, `right`, `above` and `below` tell what it needs around that.
    """

    @property
    def left(self) -> float:
        """Room at the left of its panels."""

    @property
    def aside(self) -> float:
        """Of that room, what legends take."""

    @property
    def right(self) -> float:
        """Room at the right of them."""

    @property
    def least_width(self) -> float:
        """The least width of its inner region."""

    @property
    def fixed_width(self) -> bool:
        """Whether it has that width and no other."""

    @property
    def above(self) -> float:
        """Room above its first panels, at a width."""

    @property
    def below(self) -> float:
        """Room under its last panels, at a width."""

    @property
    def fixed_height(self) -> bool:
        """Whether its inner region has one height and no other."""

    def least_height(self, natural: bool) -> float:
        """The least height of its inner region; the one that suits it where that is asked for."""

    def planned(self, room: float) -> Part:
        """With its legends arranged for the room from the left edge of its panels to its right end."""

    def across(self, inner: float) -> Part:
        """With everything fitted to a width of its inner region."""

    def narrowed(self, height: float) -> Part:
        """With narrower panels, where a said ratio of their sides makes them too high for a height."""

    def down(self, inner: float, natural: bool) -> Part:
        """With everything fitted to a height of its inner region."""

    def settled(self, growing: bool) -> Part:
        """As it should be measured next: the same one where its rooms were right."""

    def place(self, inner: Region, outer: Region) -> Placement:
        """Everything at its place: the inner region, and that with the room around it."""


@dataclass(frozen=True, slots=True)
class Wrapping:
    """A part with something around it; where nothing else is said, it is as the part inside."""

    part: Part

    @property
    def left(self) -> float:
        """That of the part."""
        return self.part.left

    @property
    def aside(self) -> float:
        """That of the part."""
        return self.part.aside

    @property
    def right(self) -> float:
        """That of the part."""
        return self.part.right

    @property
    def least_width(self) -> float:
        """That of the part."""
        return self.part.least_width

    @property
    def fixed_width(self) -> bool:
        """That of the part."""
        return self.part.fixed_width

    @property
    def above(self) -> float:
        """That of the part."""
        return self.part.above

    @property
    def below(self) -> float:
        """That of the part."""
        return self.part.below

    @property
    def fixed_height(self) -> bool:
        """That of the part."""
        return self.part.fixed_height

    def least_height(self, natural: bool) -> float:
        """That of the part."""
        return self.part.least_height(natural)

    def planned(self, room: float) -> Self:
        """With the part so."""
        return replace(self, part=self.part.planned(room))

    def across(self, inner: float) -> Self:
        """With the part so."""
        return replace(self, part=self.part.across(inner))

    def narrowed(self, height: float) -> Self:
        """With the part so."""
        return replace(self, part=self.part.narrowed(height))

    def down(self, inner: float, natural: bool) -> Self:
        """With the part so."""
        return replace(self, part=self.part.down(inner, natural))

    def settled(self, growing: bool) -> Self:
        """Itself where the part's rooms were right."""
        part = self.part.settled(growing)
        return self if part is self.part else replace(self, part=part)


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
