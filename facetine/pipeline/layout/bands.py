"""Bands: the line, ticks and labels of an axis at one of the four sides of a panel."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.position import Extent
from facetine.grammar.theme import Theme
from facetine.pipeline.guides.boxes import Direction, Size
from facetine.pipeline.guides.labels import NO_LABELS, LabelFitter, Labels, held_within
from facetine.pipeline.guides.ticks import SecondAxis
from facetine.pipeline.rows.panels import AxisKey, Grid, Panel, Panels
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
        else:
            height = block.type.cap + (len(block.lines) - 1) * block.type.leading
            middle = region.y + held_within(at - region.y, block, region.height)
            place, anchor = (region.right - away, 1.0) if self.side == "left" else (region.x + away, 0.0)
            group.add(block.placed(place, middle - height / 2, anchor, role="tick"))

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


_APART = 0.7
"""How far labels of neighbouring panels stay apart, as a share of their size."""


_Lengths = Mapping[int, float]


_NONE: Mapping[Any, Any] = {}


_ALONG: dict[str, tuple[Side, ...]] = {"x": ("below", "above"), "y": ("left", "right")}


_AXIS: dict[Side, str] = {"below": "x", "above": "x", "left": "y", "right": "y"}


class Rooms(NamedTuple):
    """Room beside the panels: what one round of measuring finds and the next one starts from."""

    left: tuple[float, ...]
    """For each column of panels."""
    right: tuple[float, ...]
    over: float
    """Room that labels under the last column take beyond what stands at its right."""

    def met_by(self, given: Rooms) -> bool:
        """Whether rooms that were given are those that are needed, or larger by less than can be seen."""
        return all(-0.05 < own - need < 0.15 for own, need in zip(given._flat(), self._flat(), strict=True))

    def most(self, other: Rooms) -> Rooms:
        """The larger of each."""
        return Rooms(tuple(map(max, self.left, other.left)), tuple(map(max, self.right, other.right)), max(self.over, other.over))

    def _flat(self) -> tuple[float, ...]:
        return (*self.left, *self.right, self.over)


class Bands(NamedTuple):
    """What stands at the four sides of panels. Panels of one axis and one length share a band."""

    panels: Panels
    theme: Theme
    unfitted: Mapping[tuple[Side, AxisKey], Band]
    shown: Mapping[Side, frozenset[int]]
    """The panels that bear labels at each side."""
    fitted: Mapping[tuple[Side, AxisKey, float], Band] = _NONE
    """By the length of the panel, rounded."""
    widths: _Lengths = _NONE
    """Of the panels by number; empty before they are known."""
    heights: _Lengths = _NONE
    drop: float = 0.0
    """How much of the room under the panels labels of the y axis take before those of the x axis."""

    def at(self, side: Side, panel: Panel) -> Band | None:
        """What stands at a side of a panel; None for nothing."""
        if panel.own_axis and panel.own_axis != _AXIS[side] and panel.number not in self.shown[side]:
            return None
        key = panel.key(_AXIS[side])
        length = (self.widths if _AXIS[side] == "x" else self.heights).get(panel.number)
        plain = self.unfitted.get((side, key))
        return plain if length is None or plain is None else self.fitted[side, key, round(length, 3)]

    @property
    def on_top(self) -> bool:
        """Whether any panel has a second axis above it."""
        return any(side == "above" for side, _ in self.unfitted)

    def across(self, widths: _Lengths) -> Bands:
        """Bands below and above fitted to the widths of panels."""
        bands = self._fitted("x", widths)
        return bands._replace(drop=bands._dropped())

    def down(self, heights: _Lengths) -> Bands:
        """Bands at the left and at the right fitted to the heights of panels."""
        return self._fitted("y", heights)

    def _fitted(self, axis: str, lengths: _Lengths) -> Bands:
        fitted = {at: band for at, band in self.fitted.items() if _AXIS[at[0]] != axis}
        known = {(side, key): band for (side, key, _), band in self.fitted.items()}
        for side in _ALONG[axis]:
            for panel in self.panels:
                key, length = panel.key(axis), lengths[panel.number]
                at, plain = (side, key, round(length, 3)), self.unfitted.get((side, key))
                if plain is not None and at not in fitted:
                    fitted[at] = self.fitted.get(at) or known.get((side, key), plain).fitted(length)
        if axis == "x":
            return self._replace(fitted=fitted, widths=lengths)
        return self._replace(fitted=fitted, heights=lengths)

    def _dropped(self) -> float:
        if not self.heights:
            return 0.0
        seen: dict[tuple[int, int], float] = {}
        for panel in self.panels:
            left, below = self.at("left", panel), self.at("below", panel)
            if panel.number in self.shown["left"] and left is not None and below is not None:
                pair = (id(left), id(below))
                if pair not in seen:
                    seen[pair] = _hanging(left, below)
        return max(0.0, max(seen.values(), default=0.0) - self.ticks_below)

    @property
    def ticks_below(self) -> float:
        """How long the longest ticks under a panel are."""
        return max(band.ticks for (side, _), band in self.unfitted.items() if side == "below")

    def depths(self, side: Side) -> list[tuple[Panel, float]]:
        """How deep the band of each panel is that bears labels at a side."""
        shown = self.shown[side]
        found = ((panel, self.at(side, panel)) for panel in self.panels if panel.number in shown)
        return [(panel, band.depth) for panel, band in found if band is not None]

    def overs(self, columns: int) -> list[tuple[float, float]]:
        """How far labels above and below the panels of each column stand over its ends."""
        start, end = [0.0] * columns, [0.0] * columns
        overhangs: dict[int, tuple[float, float]] = {}
        for panel in self.panels:
            for side in ("below", "above"):
                band = self.at(side, panel)
                if band is None:
                    continue
                if id(band) not in overhangs:
                    overhangs[id(band)] = band.overhang()
                before, after = overhangs[id(band)]
                start[panel.columns.start] = max(start[panel.columns.start], before)
                end[panel.columns.stop - 1] = max(end[panel.columns.stop - 1], after)
        return list(zip(start, end, strict=True))

    def rooms(self, grid: Grid, beside: float) -> Rooms:
        """Room that they need beside the panels as they are fitted now.

        Args:
            grid: The tracks of the panels.
            beside: Room that is there beside the last column, over which its labels may stand.
        """
        over = self.overs(len(grid.columns))
        left, right = [0.0] * len(over), [0.0] * len(over)
        for panel, depth in self.depths("left"):
            left[panel.columns.start] = max(left[panel.columns.start], depth)
        for panel, depth in self.depths("right"):
            right[panel.columns.stop - 1] = max(right[panel.columns.stop - 1], depth)
        left[0] = max(left[0], over[0][0])
        for column in range(1, len(over)):
            # Labels of neighbouring panels must not meet between them.
            before, after = over[column - 1][1], over[column][0]
            apart = _APART * self.theme.tick_text_size if before and after else 0.0
            left[column] = max(left[column], before + after + apart - grid.column_gaps[column] - right[column - 1])
        return Rooms(tuple(left), tuple(right), max(0.0, over[-1][1] - beside))

    def below(self, rows: int) -> list[float]:
        """Room under each row of panels; labels over an empty place of the grid have that."""
        there = {(panel.page, row, column) for panel in self.panels for row in panel.rows for column in panel.columns}
        ticks, deepest, last = self.ticks_below, [0.0] * rows, rows - 1
        for panel, depth in self.depths("below"):
            followed = any((panel.page, panel.rows.stop, column) in there for column in panel.columns)
            row = panel.rows.stop - 1 if followed else last
            deepest[row] = max(deepest[row], depth)
        # Bands that only have ticks have these in the gap between rows.
        labels = [depth + self.drop if depth > ticks else ticks for depth in deepest]
        return [room if row == last else room - ticks for row, room in enumerate(labels)]

    def above(self, rows: int) -> list[float]:
        """Room for second axes over each row of panels."""
        deepest = [0.0] * rows
        for panel, depth in self.depths("above"):
            deepest[panel.rows.start] = max(deepest[panel.rows.start], depth)
        return deepest


def _hanging(left: Band, below: Band) -> float:
    """How far the lowest label of a y axis reaches below its panel, where a label of the x axis comes under it."""
    y, labels, theme = left.fitter.axis, below.labels, left.fitter.theme
    if left.length < 0 or not labels.blocks or labels.angle or y.kind == "levels":
        return 0.0
    across = below.fitter.axis.extent.share(np.array(labels.ticks.at, float)) * below.length
    starts = [place - block.width / 2 for place, block in zip(across.tolist(), labels.blocks, strict=True) if block.lines]
    start = min(starts, default=math.inf)
    if start > -(theme.gap + theme.tick_length):
        return 0.0
    at = y.extent.share(np.array(left.labels.ticks.at, float)) * left.length
    depths = (block.height / 2 - place for place, block in zip(at.tolist(), left.labels.blocks, strict=True) if block.lines)
    return max(depths, default=0.0)
