"""Bands: the line, ticks and labels of an axis at one of the four sides of a panel."""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.position import Extent
from facetine.grammar.theme import Theme
from facetine.pipeline.guides.boxes import Direction, Size
from facetine.pipeline.guides.labels import NO_LABELS, LabelFitter, Labels
from facetine.pipeline.guides.second_axis import SecondAxis
from facetine.scene.marks import Stroke, segments
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import Block

Side = Literal["below", "left", "above", "right"]
_NAMES = {
    "below": ("x-axis", "x axis"), "left": ("y-axis", "y axis"),
    "above": ("second-x-axis", "Second x axis"), "right": ("second-y-axis", "Second y axis"),
}  # fmt: skip
_MINOR = 0.55
"""Length of minor ticks, as a share of that of the others."""
_RULE = 0.42
"""How far the rule under an outer name reaches beyond its first and last tick, as a share of a slot."""


class Band(NamedTuple):
    """An axis at one side of its panels, with its labels as they fit a length."""

    side: Side
    fitter: LabelFitter
    second: SecondAxis | None = None
    """The axis in other units, which stands there instead."""
    labels: Labels = NO_LABELS
    length: float = -1.0
    """Of the panel to which the labels are fitted; negative before."""

    @property
    def along(self) -> Direction:
        """The direction in which its axis runs."""
        return "x" if self.side in ("below", "above") else "y"

    @property
    def ticks(self) -> float:
        """How long its ticks are; categories have none."""
        theme = self.fitter.theme
        return theme.tick_length if self.fitter.axis.kind != "levels" and theme.axes else 0.0

    def fitted(self, length: float) -> Band:
        """The band with labels for panels of a length."""
        if length == self.length:
            return self
        fitter, second, level = self.fitter, self.second, self.along == "x"
        if second is None and fitter.keeps(self.labels, self.length, length, upright=not level):
            return self._replace(length=length)
        if second is None:
            labels = fitter.x_labels(length) if level else fitter.y_labels(length)
        else:
            said = second.spec.ticks is not None
            labels = (fitter.number_labels if level else fitter.number_side)(second.ticks, said, length)
        return Band(self.side, fitter, second, labels, length)

    def measure(self, axis: Direction, across: float) -> Size:
        """How far it reaches away from a panel of a length, and how far its labels stand over the panel's ends.

        Along its own axis it needs no room: it is as long as its panel.
        """
        if axis == self.along:
            return Size(0.0, 0.0)
        band = self.fitted(across)
        return Size(band.depth, band.depth, *band.overhang())

    @property
    def depth(self) -> float:
        """How far it reaches away from the panel to which it is fitted."""
        gap, labels = self.fitter.theme.gap, self.labels
        if self.side == "left" and not labels.blocks:
            return gap
        if self.side == "below" and not labels.depth:
            return self.ticks
        return self.ticks + gap + labels.depth

    def overhang(self) -> tuple[float, float]:
        """How far its outermost labels stand over the left and the right end of a panel, at least 0."""
        if self.along == "y":
            return 0.0, 0.0
        labels, start, end = self.labels, 0.0, 0.0
        at = self.fitter.axis.extent.share(np.array(labels.ticks.at, float)) * self.length
        for block, x in zip(labels.blocks, at.tolist(), strict=True):
            # Turned, a line is centered by its capitals, and its descent stands over.
            half = (block.height + block.type.descent if labels.angle else block.width) / 2
            start, end = max(start, half - x), max(end, x + half - self.length)
        return start, end

    def place(self, region: Region, drop: float = 0.0, labelled: bool = True) -> PlacedBand:
        """The band at the edge of a panel.

        Args:
            region: From the panel's edge outwards, as long as the panel.
            drop: How much farther from the panel than usual its labels stand.
            labelled: Whether its labels are written, and not only its line and ticks.
        """
        axis = self.fitter.axis
        stated_ends = tuple(end for end, stated in zip((axis.extent.low, axis.extent.high), axis.stated, strict=True) if stated)
        levels = axis.kind == "levels"
        return PlacedBand(self.side, self.labels, axis.extent, stated_ends, levels, self.fitter.theme, region, drop, labelled)


class PlacedBand(NamedTuple):
    """A band at its place."""

    side: Side
    labels: Labels
    extent: Extent
    said: tuple[float, ...]
    """The ends that were said as limits, which the axis' line reaches."""
    levels: bool
    """Whether it shows categories, whose axis has neither line nor ticks."""
    theme: Theme
    region: Region
    drop: float
    labelled: bool

    def at(self, places: tuple[float, ...]) -> FloatArray:
        """From axis space to points along the axis."""
        share, region = self.extent.share(np.array(places, float)), self.region
        return region.x + share * region.width if self.side in ("below", "above") else region.bottom - share * region.height

    def draw(self, into: Sketch) -> None:
        """Adds line, ticks, labels and outer names."""
        group, labels = into.group(*_NAMES[self.side], kind="axis"), self.labels
        at = self.at(labels.ticks.at)
        long = 0.0
        if not self.levels and len(at):
            long = self.theme.tick_length
            group.add([segments(self._line_and_ticks(at), Stroke(self.theme.axis_color, self.theme.axis_width))])
        if not self.labelled:
            return
        away = long + self.drop + self.theme.gap
        for number, (place, block) in enumerate(zip(at.tolist(), labels.blocks, strict=True)):
            self._label(block, place, away + (labels.drops[number] if labels.drops else 0.0), group)
        for first, last, block in labels.outer:
            low, high = sorted((float(at[first]), float(at[last])))
            self._outer_name(block, low, high, away + labels.inner_depth + self.theme.gap, group)

    def _line_and_ticks(self, at: FloatArray) -> FloatArray:
        """The line from the first to the last tick, or to the limits that were said, with ticks outwards; shape (n, 4)."""
        minor, long = self.at(self.labels.ticks.minor), self.theme.tick_length
        reach = np.concatenate([at, minor, self.at(self.said)])
        # Along the axis and outwards from it, then turned to where the axis is.
        ends = [(min(reach), 0.0, max(reach), 0.0)] if len(reach) > 1 else []
        ends += [(place, 0.0, place, long) for place in at.tolist()]
        ends += [(place, 0.0, place, _MINOR * long) for place in minor.tolist()]
        lines = np.array(ends)
        if self.side in ("below", "above"):
            lines[:, [1, 3]] = self._outwards(lines[:, [1, 3]])
            return lines
        across = self._outwards(lines[:, [1, 3]])
        return np.column_stack([across[:, 0], lines[:, 0], across[:, 1], lines[:, 2]])

    def _outwards(self, away: FloatArray) -> FloatArray:
        """Places at a distance from the panel's edge."""
        region = self.region
        return {
            "below": region.y + away, "above": region.bottom - away, "left": region.right - away, "right": region.x + away,
        }[self.side]  # fmt: skip

    def _label(self, block: Block, at: float, away: float, group: Sketch) -> None:
        region = self.region
        if self.side == "below":
            _x_label(block, at, region.y + away, self.labels.angle, group)
        elif self.side == "above":
            top = region.bottom - away - block.height + block.type.descent
            group.add(block.placed(at, top, 0.5, role="tick"))
        elif self.side == "left":
            height = block.type.cap + (len(block.lines) - 1) * block.type.leading
            group.add(block.placed(region.right - away, at - height / 2, 1.0, role="tick"))
        else:
            group.add(block.placed(region.x + away, at - block.type.cap / 2, role="tick"))

    def _outer_name(self, block: Block, low: float, high: float, away: float, group: Sketch) -> None:
        """The name of the outer of crossed columns, behind a rule along what belongs to it."""
        count, region, gap = max(len(self.labels.ticks.at), 1), self.region, self.theme.gap
        stroke = Stroke(self.theme.axis_color, self.theme.axis_width)
        if self.side == "below":
            slot, top = region.width / count, region.y + away
            group.add([segments(np.array([[low - _RULE * slot, top, high + _RULE * slot, top]]), stroke)])
            group.add(block.placed((low + high) / 2, top + gap, 0.5, role="tick"))
        else:
            slot, right = region.height / count, region.right - away
            group.add([segments(np.array([[right, low - _RULE * slot, right, high + _RULE * slot]]), stroke)])
            group.add(block.placed(right - gap, (low + high) / 2 - block.type.cap / 2, 1.0, role="tick"))


def _x_label(block: Block, x: float, top: float, angle: float, group: Sketch) -> None:
    if angle == 0:
        group.add(block.placed(x, top, 0.5, role="tick"))
        return
    # Turned labels read upwards and end at the axis; their lines stand side by side around the tick.
    middle = (len(block.lines) - 1) / 2
    for number, runs in enumerate(block.lines):
        shifted = x + (number - middle) * block.type.leading + block.type.cap / 2
        line = Block((runs,), (block.widths[number],), block.type)
        group.add(line.placed(shifted, top - block.type.cap, 1.0, angle, "tick"))
