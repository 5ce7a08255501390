"""The body of a figure: panels in tracks, with the tracks of their bands at all four sides.

A plate joins the tracks of several bodies; a figure of its own puts them between its titles and its note.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from facetine.grammar.theme import Theme
from facetine.pipeline.bands import Band, PlacedBand, Side
from facetine.pipeline.boxes import Heading, PlacedHeading
from facetine.pipeline.labels import LabelFitter, Labels
from facetine.pipeline.panels import AxisKey, Panel, Panels, outermost
from facetine.pipeline.sheet import Request, styles_of
from facetine.pipeline.stack import Line, Stack
from facetine.scene.region import Region

LEAST_PANEL = 12.0
"""A panel is never narrower or lower, in points."""
_RATIO = 0.7
"""Height of a panel by its width, where nothing says another one."""
_SIDE = 0.18
"""The most that headings at the right of the panels take, as a share of the sheet."""
_APART = 0.7
"""How far labels of neighbouring panels stay apart, as a share of their size."""


class Rooms(NamedTuple):
    """Room beside the panels: what one round of measuring finds and the next one starts from."""

    left: tuple[float, ...]
    """For each column of panels."""
    right: tuple[float, ...]
    over: float
    """Room that labels under the last column take beyond what stands at its right."""

    def near(self, other: Rooms) -> bool:
        """Whether two measurings agree."""
        return all(abs(one - two) < 0.05 for one, two in zip(self._flat(), other._flat(), strict=True))

    def most(self, other: Rooms) -> Rooms:
        """The larger of each."""
        return Rooms(tuple(map(max, self.left, other.left)), tuple(map(max, self.right, other.right)), max(self.over, other.over))

    def _flat(self) -> tuple[float, ...]:
        return (*self.left, *self.right, self.over)


class PlacedPanel(NamedTuple):
    """A panel at its place, with what stands around it."""

    panel: Panel
    box: Region
    bands: tuple[PlacedBand, ...]
    headings: tuple[PlacedHeading, ...]
    """What stands over it, and beside it."""

    def band(self, side: Side) -> PlacedBand | None:
        """The band at a side; None where there is none."""
        return next((band for band in self.bands if band.side == side), None)

    def labels(self, side: Side) -> Labels:
        """Those of the axis at a side that has one, below or left."""
        band = self.band(side)
        assert band is not None
        return band.labels

    def labelled(self, side: Side) -> bool:
        """Whether labels are written at a side."""
        band = self.band(side)
        return band is not None and band.labelled


@dataclass(frozen=True, slots=True)
class Body:
    """Panels and bands, measured for panels of one size."""

    panels: Panels
    theme: Theme
    bands: Mapping[tuple[Side, AxisKey], Band]
    headings: Mapping[int, Heading]
    """What stands over panels, by their numbers."""
    sides: Mapping[int, Heading]
    """What stands at the right of the panels that end a row, by their numbers."""
    widest: float
    """The most that headings at the right may take, in points."""
    shown: Mapping[Side, frozenset[int]]
    """The panels that bear labels at each side."""
    gaps: tuple[float, float]
    """Room between columns and between rows of panels."""
    drop: float = 0.0
    """How much of the room under the panels labels of the y axis take before those of the x axis."""

    @property
    def columns(self) -> int:
        """How many panels stand side by side."""
        return max(panel.columns.stop for panel in self.panels)

    @property
    def rows(self) -> int:
        """How many stand below each other."""
        return max(panel.rows.stop for panel in self.panels)

    def band(self, side: Side, panel: Panel) -> Band | None:
        """What stands at a side of a panel."""
        return self.bands.get((side, panel.x if side in ("below", "above") else panel.y))

    def across(self, width: float) -> Body:
        """Bands below and above fitted to panels of a width; the others are as they were fitted before."""
        body = self._fitted("x", width, 0.0)
        return body._with_drop(body._dropped())

    def down(self, height: float) -> Body:
        """Bands at the left and at the right fitted to panels of a height."""
        return self._fitted("y", height, self.drop)

    def _fitted(self, along: str, length: float, drop: float) -> Body:
        bands = {at: band.fitted(length) if band.along == along else band for at, band in self.bands.items()}
        return Body(self.panels, self.theme, bands, self.headings, self.sides, self.widest, self.shown, self.gaps, drop)

    def _with_drop(self, drop: float) -> Body:
        return (
            Body(self.panels, self.theme, self.bands, self.headings, self.sides, self.widest, self.shown, self.gaps, drop)
            if drop
            else self
        )

    def _dropped(self) -> float:
        hanging = (self._hanging(panel) for panel in self.panels if panel.number in self.shown["left"])
        ticks = self._ticks_below()
        return max(0.0, max(hanging, default=0.0) - ticks)

    def _hanging(self, panel: Panel) -> float:
        """How far the lowest label of a y axis reaches below the panel, where a label of the x axis comes under it."""
        left, below = self.bands["left", panel.y], self.bands["below", panel.x]
        y, labels = left.fitter.axis, below.labels
        if left.length < 0 or not labels.blocks or labels.angle or y.kind == "levels":
            return 0.0
        across = below.fitter.axis.extent.share(np.array(labels.ticks.at, float)) * below.length
        start = min(place - block.width / 2 for place, block in zip(across.tolist(), labels.blocks, strict=True))
        if start > -(self.theme.gap + self.theme.tick_length):
            return 0.0
        at = y.extent.share(np.array(left.labels.ticks.at, float)) * left.length
        depths = (block.height / 2 - place for place, block in zip(at.tolist(), left.labels.blocks, strict=True))
        return max(depths, default=0.0)

    def _depths(self, side: Side) -> list[tuple[Panel, float]]:
        """How deep the band of each panel is that bears labels at a side."""
        depths: dict[AxisKey, float] = {}
        for (where, key), band in self.bands.items():
            if where == side:
                depths[key] = band.depth
        shown, upright = self.shown[side], side in ("below", "above")
        return [
            (panel, depths[panel.x if upright else panel.y])
            for panel in self.panels
            if panel.number in shown and (panel.x if upright else panel.y) in depths
        ]

    def _overs(self) -> list[tuple[float, float]]:
        """How far labels above and below the panels of each column stand over its ends."""
        columns = self.columns
        start, end = [0.0] * columns, [0.0] * columns
        overhangs = {at: band.overhang() for at, band in self.bands.items() if band.along == "x"}
        for panel in self.panels:
            for side in ("below", "above"):
                before, after = overhangs.get((side, panel.x), (0.0, 0.0))
                start[panel.columns.start] = max(start[panel.columns.start], before)
                end[panel.columns.stop - 1] = max(end[panel.columns.stop - 1], after)
        return list(zip(start, end, strict=True))

    def rooms(self, beside: float) -> Rooms:
        """Room that the bands need as they are fitted now.

        Args:
            beside: Room that is there beside the last column, over which its labels may stand.
        """
        over = self._overs()
        left, right = [0.0] * len(over), [0.0] * len(over)
        for panel, depth in self._depths("left"):
            left[panel.columns.start] = max(left[panel.columns.start], depth)
        for panel, depth in self._depths("right"):
            right[panel.columns.stop - 1] = max(right[panel.columns.stop - 1], depth)
        left[0] = max(left[0], over[0][0])
        for column in range(1, len(over)):
            # Labels of neighbouring panels must not meet between them.
            before, after = over[column - 1][1], over[column][0]
            apart = _APART * self.theme.tick_text_size if before and after else 0.0
            left[column] = max(left[column], before + after + apart - self.gaps[0] - right[column - 1])
        return Rooms(tuple(left), tuple(right), max(0.0, over[-1][1] - beside))

    @property
    def beside(self) -> float:
        """Room that headings at the right of the panels take."""
        if not self.sides:
            return 0.0
        widths = (one.block(self.widest).width for one in self.sides.values())
        return max(widths) + 3 * self.theme.gap

    def add_columns(self, stack: Stack, rooms: Rooms) -> None:
        """Tracks from the left to the right: each column of panels between its bands."""
        for column in range(self.columns):
            if column:
                stack.add(f"gap {column}", self.gaps[0])
            stack.add(f"left {column}", rooms.left[column])
            stack.add(f"panel {column}", LEAST_PANEL, 1.0)
            stack.add(f"right {column}", rooms.right[column])
        stack.add("side headings", self.beside)

    def add_rows(self, stack: Stack, width: float, natural: bool) -> None:
        """Tracks from the top down: each row of panels under its headings, between its bands.

        Args:
            stack: Takes the tracks.
            width: Of a panel.
            natural: Whether panels are at least as high as suits their width.
        """
        theme = self.theme
        heading = max((one.measure("y", width).natural for one in self.headings.values()), default=0.0)
        headed = {self.panels[number].rows.start for number in self.headings}
        if self.headings and any(side == "above" for side, _ in self.bands):
            heading += theme.tick_length
        ticks = self._ticks_below()
        rows = self.rows
        above = [0.0] * rows
        for panel, depth in self._depths("above"):
            above[panel.rows.start] = max(above[panel.rows.start], depth)
        below = self._below()
        natural_height = self.natural_height(width) if natural else LEAST_PANEL
        for row in range(rows):
            if row:
                # Within a column of panels, the ticks of the upper ones stand in the gap.
                stack.add(f"between {row}", self.gaps[1] + ticks)
            stack.add(f"heading {row}", heading if row in headed else 0.0)
            # The labels of a second x axis stand between the heading and the panel.
            stack.add(f"above {row}", above[row])
            stack.add(f"panel {row}", natural_height, 1.0)
            for number, one in self.sides.items():
                if row in self.panels[number].rows:
                    stack.need(f"panel {row}", f"panel {row}", one.measure("y", self.widest).natural)
            stack.add(f"below {row}", below[row])

    def _ticks_below(self) -> float:
        return max(band.ticks for (side, _), band in self.bands.items() if side == "below")

    def _below(self) -> list[float]:
        """Room for bands under each row; labels over an empty place of the grid have that."""
        there = {(row, column) for panel in self.panels for row in panel.rows for column in panel.columns}
        ticks, deepest = self._ticks_below(), [0.0] * self.rows
        last = len(deepest) - 1
        for panel, depth in self._depths("below"):
            followed = any((panel.rows.stop, column) in there for column in panel.columns)
            row = panel.rows.stop - 1 if followed else last
            deepest[row] = max(deepest[row], depth)
        # Bands that only have ticks have these in the gap between rows.
        labels = [depth + self.drop if depth > ticks else ticks for depth in deepest]
        return [room if row == last else room - ticks for row, room in enumerate(labels)]

    def natural_height(self, width: float) -> float:
        """A height of panels that suits their width and the number of categories."""
        size = self.theme.tick_text_size
        height = max(width * _RATIO, 4 * size, LEAST_PANEL)
        counts = [len(band.fitter.axis.labels) for (side, _), band in self.bands.items()
                  if side == "left" and band.fitter.axis.kind == "levels"]  # fmt: skip
        if counts:
            each = 1.45 * size
            count = max(*counts, 2)
            height = max(count * each, min(height, count * 2.6 * each))
        return height

    def placed(self, columns: Line, rows: Line) -> tuple[PlacedPanel, ...]:
        """All panels at their places on placed tracks."""
        return tuple(self._placed(panel, columns, rows) for panel in self.panels)

    def _placed(self, panel: Panel, columns: Line, rows: Line) -> PlacedPanel:
        left, top = columns.start(f"panel {panel.columns.start}"), rows.start(f"panel {panel.rows.start}")
        right, bottom = columns.end(f"panel {panel.columns.stop - 1}"), rows.end(f"panel {panel.rows.stop - 1}")
        box = Region(left, top, right - left, bottom - top)
        bands = []
        for side in ("below", "left", "above", "right"):
            band = self.band(side, panel)
            if band is not None:
                drop = self.drop if side == "below" else 0.0
                bands.append(band.place(_beside(box, side, band.depth), drop, panel.number in self.shown[side]))
        headings = []
        if panel.number in self.headings:
            track = f"heading {panel.rows.start}"
            headings.append(self.headings[panel.number].place(Region(left, rows.start(track), box.width, rows.size(track))))
        if panel.number in self.sides:
            start = columns.start("side headings") + 3 * self.theme.gap
            headings.append(self.sides[panel.number].place(Region(start, top, self.widest, box.height)))
        return PlacedPanel(panel, box, tuple(bands), tuple(headings))


def _beside(box: Region, side: Side, depth: float) -> Region:
    """The stretch along one side of a panel."""
    if side == "below":
        return Region(box.x, box.bottom, box.width, depth)
    if side == "above":
        return Region(box.x, box.y - depth, box.width, depth)
    return Region(box.x - depth if side == "left" else box.right, box.y, depth, box.height)


def body_of(request: Request) -> Body:
    """The body of a figure, before anything is fitted."""
    panels, theme, styles = request.panels, request.theme, styles_of(request.theme)
    gaps = request.gaps or (theme.panel_gap, theme.panel_gap)
    columns = max(panel.columns.stop for panel in panels)
    bands: dict[tuple[Side, AxisKey], Band] = {}
    for key, axis in request.scales.axes.items():
        fitter = LabelFitter(axis, theme, styles.tick, columns, request.width, request.height or request.width, gaps[0])
        bands["below" if key.axis == "x" else "left", key] = Band("below" if key.axis == "x" else "left", fitter)
        if key in request.second_axes:
            side: Side = "above" if key.axis == "x" else "right"
            bands[side, key] = Band(side, fitter, request.second_axes[key])
    below, left, above, right = outermost(panels) if not request.repeat_axes else (frozenset(range(len(panels))),) * 4
    over, beside = (
        {panel.number: Heading(said, styles.heading, theme) for panel in panels if (said := getattr(panel, name)) is not None}
        for name in ("heading", "side_heading")
    )
    return Body(
        panels,
        theme,
        bands,
        over,
        beside,
        _SIDE * request.width,
        {"below": below, "left": left, "above": above, "right": right},
        gaps,
    )
