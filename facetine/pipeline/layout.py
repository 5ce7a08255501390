"""Where everything on the sheet goes: first measured, then placed. Nothing is cut, nothing overlaps.

From the top: title, subtitle, legends, the title of the y axis, the panels with their headings and ticks, the title of
the x axis, the note. All of it starts at the left edge of the first panel.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.geometry.tracks import TooSmallError
from facetine.errors import ExportError
from facetine.findings import Findings
from facetine.grammar.lengths import LARGEST
from facetine.pipeline.labels import LabelFitter, Side, XLabels
from facetine.pipeline.legend import LegendPlan, plan_legends
from facetine.pipeline.panels import AxisKey, Panel, outermost
from facetine.pipeline.settle import Axis
from facetine.pipeline.sheet import Layout, PanelPlace, Request, fonts_of
from facetine.pipeline.stack import Line, Stack
from facetine.scene.marks import Region
from facetine.scene.typeset import Block, TextStyle, balanced

_LEAST_PANEL = 12.0
_RATIO = 0.7


def lay_out(request: Request, findings: Findings) -> Layout:
    """Measures all parts and places them.

    The width of the y labels depends on the height of the panels, which depends on how titles wrap, which depends on
    the width of the y labels; a few rounds settle it.

    Raises:
        ExportError: The sheet is too small for what must stand on it.
    """
    return _Layouter(request, findings).run()


class _Layouter:
    """The rounds of measuring; what is found in one is the guess of the next."""

    def __init__(self, request: Request, findings: Findings) -> None:
        self.request = request
        self.theme = request.theme
        self.findings = findings
        self.fonts = fonts_of(request.theme)
        self.count = len(request.panels)
        self.columns = max(panel.columns.stop for panel in request.panels)
        self.rows = max(panel.rows.stop for panel in request.panels)
        self.x, self.y = request.scales.first("x"), request.scales.first("y")
        theme = self.theme
        bare = theme.tick_length + theme.gap
        self.left = theme.margin + 2.4 * theme.text_size + bare
        self.right = theme.margin
        self.panel_width = self.panel_height = 0.0
        self.beside = 0.0
        """Room for the labels of a second y axis."""
        self.axes = request.scales.axes
        self.fitters = {key: self._fitter(axis) for key, axis in self.axes.items()}
        self.x_labels: dict[AxisKey, XLabels] = {}
        self.y_labels: dict[AxisKey, Side] = {}
        self.shown = outermost(request.panels)
        self.bands = [0.0] * self.columns
        """Room for labels at the left of the panels of each column but the first, which has it in `left`."""
        self.top_labels: XLabels | None = None
        self.right_labels: Side | None = None
        self.seconds = request.seconds
        self.legend_plan = LegendPlan()

    def _fitter(self, axis: Axis) -> LabelFitter:
        request = self.request
        return LabelFitter(axis, self.theme, self.fonts.tick, self.columns, request.width, request.height or request.width)

    def run(self) -> Layout:
        """Rounds until the margins stand still, then the placing."""
        for turn in range(16):
            self._plan_legends()
            columns = self._columns()
            width = self.panel_width = columns.size("panel 0")
            frame = self._measured(width)
            needed = (*self._margins(width), self._labels_beside(), *self._bands())
            before = (self.left, self.right, self.beside, *self.bands)
            if turn >= 4:
                # Two layouts can lead to each other; from here on, room for labels is only added.
                needed = tuple(map(max, needed, before))
            if all(abs(now - then) < 0.05 for now, then in zip(needed, before, strict=True)):
                break
            self.left, self.right, self.beside, *self.bands = needed
        return self._place(columns, frame)

    def _measured(self, width: float) -> _Frame:
        """All labels for panels of a width, and the heights that follow from them."""
        self.x_labels = {key: self.fitters[key].x_labels(width) for key in self.axes if key.axis == "x"}
        if "x" in self.seconds:
            second = self.seconds["x"]
            self.top_labels = self._fitter(self.x).number_labels(second.ticks, second.spec.ticks is not None, width)
        frame = self._frame(width)
        self.panel_height = frame.rows.size("panel 0")
        self.y_labels = {key: self.fitters[key].y_labels(self.panel_height) for key in self.axes if key.axis == "y"}
        if "y" in self.seconds:
            second = self.seconds["y"]
            self.right_labels = self._fitter(self.y).number_side(second.ticks, second.spec.ticks is not None, self.panel_height)
        return frame

    def _plan_legends(self) -> None:
        room = self.request.width - self.left - self.theme.margin
        height = self.request.height or self.request.width * 0.7
        self.legend_plan = plan_legends(self.request.legends, self.theme, self.fonts.text, self.fonts.tick, room, height)

    def _beside(self) -> float:
        """Room that a legend at the right takes."""
        plan = self.legend_plan
        beside = plan.width + self.theme.block_gap * 1.5 if plan.place == "right" else 0.0
        return beside + self.request.names + self.beside

    def _labels_beside(self) -> float:
        """Room for the labels of a second y axis."""
        if self.right_labels is None:
            return 0.0
        return self.right_labels.width + self.theme.gap + self.theme.tick_length

    def _columns(self) -> Line:
        """From the left: labels, panels with gaps between, and what stands beside them."""
        stack = Stack()
        stack.add("left", self.left)
        for column in range(self.columns):
            if column:
                stack.add(f"gap {column}", self.theme.panel_gap)
                stack.add(f"labels {column}", self.bands[column])
            stack.add(f"panel {column}", _LEAST_PANEL, 1.0)
        stack.add("right", self.right + self._beside())
        try:
            return stack.placed(self.request.width)
        except TooSmallError as problem:
            raise self._too_small("width", problem.needed) from None

    def _too_small(self, side: str, needed: float) -> ExportError:
        millimetres = math.ceil(needed / 72 * 25.4 / 5) * 5
        return ExportError(
            f"figure.export: the {side} is too small for the figure's texts and {self.count} "
            f"panel{'s' if self.count != 1 else ''}",
            f'{side}="{millimetres} mm" would do; or a smaller text_size, or shorter titles',
        )

    def _margins(self, panel_width: float) -> tuple[float, float]:
        """Room left and right of the panels for labels, also those that reach beyond their tick."""
        theme = self.theme
        left, right = theme.margin + self._side(0), theme.margin
        for upper, axis in ((self.top_labels, self.x), *((self.x_labels[key], self.axes[key]) for key in self.x_labels)):
            if upper is None:
                continue
            at = axis.extent.share(np.array(upper.ticks.at, float)) * panel_width
            for block, x in zip(upper.blocks, at.tolist(), strict=True):
                # Turned, a line is centered by its capitals, and its descent stands over.
                half = (block.height + block.type.descent if upper.angle else block.width) / 2
                left = max(left, theme.margin + half - x)
                right = max(right, theme.margin + x + half - panel_width)
        return left, max(theme.margin, right - self._beside())

    def _side(self, column: int) -> float:
        """Room for the labels of the y axes of a column of panels."""
        theme, room = self.theme, 0.0
        for panel in self.request.panels:
            if panel.columns.start == column and panel.number in self.shown[1]:
                labels = self.y_labels[panel.y]
                ticks = theme.tick_length if self.axes[panel.y].kind != "levels" else 0.0
                room = max(room, labels.width + theme.gap + ticks if labels.blocks else theme.gap)
        return room

    def _bands(self) -> list[float]:
        return [0.0, *(self._side(column) for column in range(1, self.columns))]

    def _wrapped(self, text: str, type_: TextStyle, width: float) -> Block:
        return balanced(text, type_, round(width, 2))

    def _frame(self, panel_width: float) -> _Frame:
        """What is written around the panels, and the rows of everything from the top down."""
        texts = self._texts(panel_width)
        x_drop = self._drop()
        stack = Stack()
        self._add_above(stack, texts)
        self._add_panels(stack, texts, panel_width, x_drop)
        theme, plan = self.theme, self.legend_plan
        ticks = theme.tick_length if self.x.kind != "levels" and theme.axes else 0.0
        deepest = max((labels.height for labels in self.x_labels.values() if labels.blocks), default=0.0)
        stack.add("below", ticks + (x_drop + deepest + theme.gap if deepest else 0.0))
        stack.add("x title", texts.x_title.height + theme.gap if texts.x_title.lines else 0.0)
        note = texts.note.height + theme.block_gap if texts.note.lines else 0.0
        stack.add("note", note)
        stack.add("bottom", theme.margin)
        if plan.place == "right":
            stack.need("legend", "bottom", plan.height + note + theme.margin)
        try:
            rows = stack.placed(self.request.height)
        except TooSmallError as problem:
            raise self._too_small("height", problem.needed) from None
        if rows.length > LARGEST:
            metres = f"{rows.length / 72 * 0.0254:,.1f} m high, more than {LARGEST / 72 * 0.0254:.2f} m"
            raise ExportError(
                f"figure.export: the sheet would be {metres}",
                "height= says another one; .facet(per_row=…) sets more panels beside each other; .keep(…) leaves categories out",
            )
        return _Frame(texts, rows, x_drop)

    def _texts(self, panel_width: float) -> _Texts:
        """Everything written but labels, wrapped at the room it has."""
        request, theme, fonts = self.request, self.theme, self.fonts
        room = request.width - self.left - theme.margin
        beside = room - self._beside()
        y_title, right_titles = self._upper_titles(beside + self.beside)
        return _Texts(
            self._wrapped(request.title, fonts.title, room),
            self._wrapped(request.subtitle, fonts.quiet, room),
            self._wrapped(request.note, fonts.tick, room),
            self._wrapped(self.x.title if theme.axes else "", fonts.text, beside),
            y_title,
            tuple(right_titles),
            tuple(
                self._wrapped(text, fonts.heading, panel_width) for panel in request.panels if (text := panel.heading) is not None
            ),
        )

    def _add_above(self, stack: Stack, texts: _Texts) -> None:
        """Tracks above the panels."""
        theme, plan = self.theme, self.legend_plan
        stack.add("top", theme.margin)
        for name, block, after in (("title", texts.title, theme.gap * 1.2), ("subtitle", texts.subtitle, theme.gap)):
            stack.add(name, block.height + after if block.lines else 0.0)
        stack.add("under titles", theme.block_gap - theme.gap if texts.title.lines or texts.subtitle.lines else 0.0)
        stack.add("legend", plan.height + theme.block_gap if plan.place == "top" and plan.height else 0.0)
        upper = texts.headings or self.top_labels
        for number, block in enumerate(texts.right_titles):
            # The first stands beside the title of the y axis.
            line = max(block.height, texts.y_title.height if number == 0 else 0.0)
            stack.add("second title" if number else "y title", line + theme.gap * (1.6 if upper else 1.8))
        if not texts.right_titles:
            bare = 0.0 if texts.headings else 0.35 * theme.tick_text_size
            titled = texts.y_title.height + theme.gap * (1.6 if texts.headings else 1.8)
            stack.add("y title", titled if texts.y_title.lines else bare)

    def _add_panels(self, stack: Stack, texts: _Texts, panel_width: float, x_drop: float) -> None:
        """Tracks of the rows of panels, each under its headings."""
        theme = self.theme
        heading = max((block.height for block in texts.headings), default=0.0) + 2 * theme.gap if texts.headings else 0.0
        if texts.headings and "x" in self.seconds:
            heading += theme.tick_length
        # Within a column of panels, the ticks of the upper ones stand in the gap.
        ticks = self.x.kind != "levels" and theme.axes and self.rows > 1
        between = theme.panel_gap + (theme.tick_length if ticks else 0.0)
        least = _LEAST_PANEL if self.request.height is not None else self._natural_height(panel_width)
        for row in range(self.rows):
            if row:
                stack.add(f"between {row}", between + self._below(row - 1, x_drop))
            stack.add(f"heading {row}", heading)
            if row == 0:
                # The labels of a second x axis stand between the heading and the panel.
                labels = self.top_labels
                stack.add("upper", labels.height + theme.gap + theme.tick_length if labels is not None else 0.0)
            stack.add(f"panel {row}", least, 1.0)

    def _below(self, row: int, x_drop: float) -> float:
        """Room for the labels of x axes that end within the grid: below a row whose panels have their own."""
        if len(self.x_labels) == 1:
            return 0.0
        own = [self.x_labels[panel.x] for panel in self.request.panels if panel.rows.start == row]
        deepest = max((labels.height for labels in own if labels.blocks), default=0.0)
        return deepest + x_drop + self.theme.gap if deepest else 0.0

    def _drop(self) -> float:
        """How much of the room under the panels labels of the y axis take before those of the x axis."""
        ticks = self.theme.tick_length if self.x.kind != "levels" and self.theme.axes else 0.0
        hanging = (self._hanging(panel) for panel in self.request.panels if panel.number in self.shown[1])
        return max(0.0, max(hanging, default=0.0) - ticks)

    def _hanging(self, panel: Panel) -> float:
        """How far the lowest label of a y axis reaches below the panel, where a label of the x axis comes under it."""
        side, labels = self.y_labels.get(panel.y), self.x_labels.get(panel.x)
        x, y = self.axes[panel.x], self.axes[panel.y]
        if side is None or labels is None or not labels.blocks or labels.angle or y.kind == "levels":
            return 0.0
        across = x.extent.share(np.array(labels.ticks.at, float)) * self.panel_width
        left = min(place - block.width / 2 for place, block in zip(across.tolist(), labels.blocks, strict=True))
        if left > -(self.theme.gap + self.theme.tick_length):
            return 0.0
        at = y.extent.share(np.array(side.ticks.at, float)) * self.panel_height
        return max(block.height / 2 - place for place, block in zip(at.tolist(), side.blocks, strict=True)) if len(at) else 0.0

    def _upper_titles(self, room: float) -> tuple[Block, list[Block]]:
        """The title of the y axis, and those of second axes; side by side where they fit, else in half of the room each."""
        type_, title = self.fonts.text, self.y.title if self.theme.axes else ""
        said = [self.seconds[name].spec.title for name in ("y", "x") if name in self.seconds]
        titles = [text for text in said if text]
        left = self._wrapped(title, type_, room)
        if not titles:
            return left, []
        rights = [self._wrapped(text, type_, room) for text in titles]
        if left.lines and left.width + rights[0].width + 2 * type_.size > room:
            left, rights[0] = self._wrapped(title, type_, 0.47 * room), self._wrapped(titles[0], type_, 0.47 * room)
        return left, rights

    def _natural_height(self, panel_width: float) -> float:
        """A height that suits the width and the number of categories."""
        height = max(panel_width * _RATIO, 4 * self.fonts.tick.size, _LEAST_PANEL)
        if self.y.kind == "levels":
            each = 1.45 * self.fonts.tick.size
            count = max(len(self.y.labels), 2)
            height = max(count * each, min(height, count * 2.6 * each))
        return height

    def _say_unnamed(self) -> None:
        """Says of the layout that stands, not of the tries before it, which categories have no room for their names."""
        mends = {"x": "map the column to y, or make the figure wider", "y": "make the figure higher"}
        said: set[tuple[str, str]] = set()
        ticks_of = {key: labels.ticks for key, labels in self.x_labels.items()}
        ticks_of |= {key: labels.ticks for key, labels in self.y_labels.items()}
        for key, ticks in ticks_of.items():
            axis = self.axes[key]
            named = len(ticks.at)
            if axis.kind == "levels" and self.theme.axes and 0 < named < len(axis.labels) and (axis.name, "names") not in said:
                said.add((axis.name, "names"))
                every = _ordinal(math.ceil(len(axis.labels) / named))
                self.findings.add(
                    "names-left-out",
                    f"figure.scale({axis.name!r})",
                    f"{len(axis.labels)} categories on {axis.name} leave room for the name of every {every} one only",
                    mends[axis.name],
                )
            if ticks.thinned and (axis.name, "ticks") not in said:
                said.add((axis.name, "ticks"))
                self.findings.add(
                    "ticks-thinned",
                    f"figure.scale({axis.name!r})",
                    f"ticks whose labels would be the same in the format {axis.spec.format!r} are left out",
                    "a format with more digits tells them apart",
                )

    def _place(self, columns: Line, frame: _Frame) -> Layout:
        theme, rows = self.theme, frame.rows
        self._say_unnamed()
        layout = Layout(self.request.width, rows.length, self.fonts, self.left)
        layout.legends = self.legend_plan
        layout.x_drop = frame.x_drop
        layout.top_labels, layout.right_labels = self.top_labels, self.right_labels
        right = columns.end(f"panel {self.columns - 1}")
        for number, block in enumerate(frame.texts.right_titles):
            beside = self.beside if number == 0 and self.right_labels is not None else 0.0
            layout.right_titles.append((block, rows.start("second title" if number else "y title"), right + beside))
        for name, block in (("title", frame.texts.title), ("subtitle", frame.texts.subtitle), ("y_title", frame.texts.y_title)):
            if block.lines:
                setattr(layout, name, (block, rows.start(name.replace("_", " "))))
        for number, panel in enumerate(self.request.panels):
            across, down = f"panel {panel.columns.start}", f"panel {panel.rows.start}"
            box = Region(columns.start(across), rows.start(down), columns.size(across), rows.size(down))
            heading = frame.texts.headings[number] if frame.texts.headings else None
            top = rows.start(f"heading {panel.rows.start}") + theme.gap
            labels = self.x_labels[panel.x], self.y_labels[panel.y]
            layout.panels.append(PanelPlace(panel, box, *labels, heading, top, *(number in side for side in self.shown)))
        if frame.texts.x_title.lines:
            layout.x_title = (frame.texts.x_title, rows.start("x title") + theme.gap)
        if frame.texts.note.lines:
            layout.note = (frame.texts.note, rows.start("bottom") - frame.texts.note.height)
        if self.legend_plan.place == "right":
            layout.legend_at = (self.request.width - theme.margin - self.legend_plan.width, rows.start("legend"))
        else:
            layout.legend_at = (self.left, rows.start("legend"))
        return layout


class _Texts(NamedTuple):
    """What is written around the panels."""

    title: Block
    subtitle: Block
    note: Block
    x_title: Block
    y_title: Block
    right_titles: tuple[Block, ...]
    """Of second axes: that of y, then that of x."""
    headings: tuple[Block, ...]


class _Frame(NamedTuple):
    """What is found in one round."""

    texts: _Texts
    rows: Line
    """The tracks from the top down."""
    x_drop: float
    """Room that labels of the y axis take before those of the x axis."""


def _ordinal(number: int) -> str:
    return {2: "second", 3: "third"}.get(number, f"{number}th")
