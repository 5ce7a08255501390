"""Boxes: what stands on a sheet is measured, then placed, then draws itself."""

from __future__ import annotations

from typing import Literal, NamedTuple, Protocol

import numpy as np

from facetine.grammar.theme import Theme
from facetine.scene.marks import Stroke, segments
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import Block, TextStyle, balanced, least_width, set_text

Direction = Literal["x", "y"]
_RULE = 14.0
"""Length of the rule over a heading, in points."""


class Size(NamedTuple):
    """Room that a box needs along one direction, in points."""

    least: float
    natural: float
    """What it takes where there is enough."""
    over_start: float = 0.0
    """How far it stands over its tracks at their beginning, across that direction, as labels do at the ends of an axis."""
    over_end: float = 0.0


class PlacedBox(Protocol):
    """A box at its place."""

    @property
    def region(self) -> Region:
        """What it was given."""

    def draw(self, into: Sketch) -> None:
        """Adds its marks to a group."""


class Box(Protocol):
    """Something that stands on a sheet."""

    def measure(self, axis: Direction, across: float) -> Size:
        """The room that it needs along a direction.

        Args:
            axis: x or y.
            across: How much room it has in the other direction, in points.
        """

    def place(self, region: Region) -> PlacedBox:
        """The box at its place."""


class Words(NamedTuple):
    """A title or a note: a text in a group of its own, wrapped into lines of about the same length."""

    text: str
    style: TextStyle
    name: str
    """Of its group."""
    title: str
    """Of its group, in words."""
    role: str
    anchor: float = 0.0
    """0 where it begins at the left edge of its region, 1 where it ends at the right one."""

    def block(self, width: float) -> Block:
        """The text set at a width."""
        return balanced(self.text, self.style, round(width, 2))

    def measure(self, axis: Direction, across: float) -> Size:
        """Its height at a width; or its width, unwrapped, down to that of its longest word."""
        if axis == "y":
            height = self.block(across).height
            return Size(height, height)
        longest = max((set_text(word, self.style).width for word in self.text.split()), default=0.0)
        return Size(longest, set_text(self.text, self.style).width)

    def place(self, region: Region) -> PlacedWords:
        """The text wrapped at the width of the region."""
        return PlacedWords(self, self.block(region.width), region)


class PlacedWords(NamedTuple):
    """A text at its place."""

    words: Words
    block: Block
    region: Region

    def draw(self, into: Sketch) -> None:
        """Adds a group with the text; nothing where there is none."""
        if self.block.lines:
            words, region = self.words, self.region
            x = region.x + words.anchor * region.width
            group = into.group(words.name, words.title, kind="title")
            group.add(self.block.placed(x, region.y, words.anchor, role=words.role))


class Heading(NamedTuple):
    """What stands over a panel, with a short rule above it."""

    text: str
    style: TextStyle
    theme: Theme

    def block(self, width: float) -> Block:
        """The text set at a width."""
        return balanced(self.text, self.style, round(width, 2))

    @property
    def least_width(self) -> float:
        """The width of its widest syllable."""
        return least_width(self.text, self.style)

    def measure(self, axis: Direction, across: float) -> Size:
        """Its height over a panel of a width, with the room around it; or its width, which is the panel's."""
        if axis == "x":
            return Size(0.0, 0.0)
        height = self.block(across).height + 2 * self.theme.gap
        return Size(height, height)

    def place(self, region: Region) -> PlacedHeading:
        """The heading at the top of a region as wide as its panel."""
        return PlacedHeading(self.block(region.width), self.theme, region)


class PlacedHeading(NamedTuple):
    """A heading at its place."""

    block: Block
    theme: Theme
    region: Region

    def draw(self, into: Sketch) -> None:
        """Adds rule and text."""
        group, left, top = into.group("heading", "Heading", kind="heading"), self.region.x, self.region.y
        rule = np.array([[left, top, left + min(_RULE, self.region.width), top]])
        group.add([segments(rule, Stroke(self.theme.text_color, 2 * self.theme.axis_width))])
        group.add(self.block.placed(left, top + self.theme.gap, role="heading"))


class SpanHeading(NamedTuple):
    """An outer heading over columns of panels, or beside rows of them, behind a rule along all that belong to it."""

    axis: str
    """x over columns, y beside rows."""
    text: str
    style: TextStyle
    theme: Theme

    def block(self, room: float) -> Block:
        """The text set at a width."""
        return balanced(self.text, self.style, round(room, 2))

    def depth(self, room: float) -> float:
        """How high it is over columns of a width; or how wide beside rows, where it has that width at most."""
        gap = self.theme.gap
        return self.block(room).height + 2 * gap if self.axis == "x" else self.block(room).width + 4 * gap

    def place(self, region: Region) -> PlacedSpan:
        """The heading in a region as long as what belongs to it."""
        room = region.width if self.axis == "x" else region.width - 4 * self.theme.gap + 0.02
        return PlacedSpan(self.axis, self.block(room), self.theme, region)


class PlacedSpan(NamedTuple):
    """An outer heading at its place."""

    axis: str
    block: Block
    theme: Theme
    region: Region

    def draw(self, into: Sketch) -> None:
        """Adds rule and text."""
        group, (left, top, width, height), gap = into.group("heading", "Heading", kind="heading"), self.region, self.theme.gap
        stroke = Stroke(self.theme.text_color, 2 * self.theme.axis_width)
        if self.axis == "x":
            group.add([segments(np.array([[left, top, left + width, top]]), stroke)])
            group.add(self.block.placed(left, top + gap, role="heading"))
        else:
            group.add([segments(np.array([[left + gap, top, left + gap, top + height]]), stroke)])
            group.add(self.block.placed(left + 2.5 * gap, top, role="heading"))
