"""The bands of all panels, fitted to the lengths that these have."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np

from facetine.grammar.theme import Theme
from facetine.pipeline.layout.bands import Band, Side
from facetine.pipeline.rows.panels import AxisKey, Grid, Panel, Panels

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
