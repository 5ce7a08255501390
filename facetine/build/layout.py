"""Where everything on the sheet goes: first measured, then placed. Nothing is cut, nothing overlaps.

From the top: title, subtitle, legends, the title of the y axis, the panels with their headings and ticks, the title of
the x axis, the note. All of it starts at the left edge of the first panel.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from facetine.build.guide import AxisTicks, Legend, axis_ticks
from facetine.build.legend import LegendPlan, plan_legends
from facetine.build.notes import Notes
from facetine.build.train import Axis
from facetine.core.arrays import FloatArray
from facetine.errors import ExportError
from facetine.grammar.theme import Theme
from facetine.scene.marks import Region
from facetine.scene.typeset import Block, Type, balanced, set_text

_LEAST_PANEL = 12.0
_RATIO = 0.7


class Fonts(NamedTuple):
    """How each sort of text is set."""

    title: Type
    text: Type
    quiet: Type
    tick: Type
    heading: Type


class Request(NamedTuple):
    """What is to be laid out."""

    width: float
    height: float | None
    """None for the height that suits."""
    theme: Theme
    title: str
    subtitle: str
    note: str
    x: Axis
    y: Axis
    headings: tuple[str, ...] | None
    """One a panel; None for a figure without a facet."""
    per_row: int | None
    legends: tuple[Legend, ...]
    names: float = 0.0
    """Room that the names of lines need at the right of the panels."""


class XLabels(NamedTuple):
    """Labels under the x axis as they are set."""

    ticks: AxisTicks
    blocks: tuple[Block, ...]
    angle: float
    """0, or 90 where they are turned."""
    height: float
    outer: tuple[tuple[int, int, Block], ...] = ()
    """For crossed columns: first and last tick, and the name below them."""
    inner_height: float = 0.0


class Side(NamedTuple):
    """Labels beside the y axis."""

    ticks: AxisTicks
    blocks: tuple[Block, ...]
    width: float
    outer: tuple[tuple[int, int, Block], ...] = ()
    """For crossed columns: first and last tick, and the name beside them."""
    inner_width: float = 0.0


class PanelPlace(NamedTuple):
    """One panel."""

    box: Region
    row: int
    column: int
    heading: Block | None
    heading_top: float
    shows_x: bool
    """Whether its x axis is labelled: the lowest panel of each column."""
    shows_y: bool


@dataclass(slots=True)
class Layout:
    """Every box of a figure, in points."""

    width: float
    height: float
    fonts: Fonts
    left: float = 0.0
    """Where everything written starts: the left edge of the first panel."""
    title: tuple[Block, float] | None = None
    """A block and the y of its top; likewise below."""
    subtitle: tuple[Block, float] | None = None
    y_title: tuple[Block, float] | None = None
    x_title: tuple[Block, float] | None = None
    note: tuple[Block, float] | None = None
    panels: list[PanelPlace] = field(default_factory=list)
    x_labels: XLabels | None = None
    y_labels: Side | None = None
    legends: LegendPlan | None = None
    legend_at: tuple[float, float] = (0.0, 0.0)


def fonts_of(theme: Theme) -> Fonts:
    """The types of a theme."""
    family, size, leading = theme.font, theme.text_size, theme.line_height
    return Fonts(
        Type(family, theme.title_text_size, int(theme.title_weight), theme.text_color, leading),
        Type(family, size, 400, theme.text_color, leading),
        Type(family, size, 400, theme.tick_color, leading),
        Type(family, theme.tick_text_size, 400, theme.tick_color, leading),
        Type(family, size, int(theme.heading_weight), theme.text_color, leading),
    )


def lay_out(request: Request, notes: Notes) -> Layout:
    """Measures all parts and places them.

    The width of the y labels depends on the height of the panels, which depends on how titles wrap, which depends on
    the width of the y labels; a few rounds settle it.

    Raises:
        ExportError: The sheet is too small for what must stand on it.
    """
    return _Layouter(request, notes).run()


class _Layouter:
    """The rounds of measuring; what is found in one is the guess of the next."""

    def __init__(self, request: Request, notes: Notes) -> None:
        self.request = request
        self.theme = request.theme
        self.notes = notes
        self.fonts = fonts_of(request.theme)
        self.count = len(request.headings) if request.headings is not None else 1
        self.columns, self.rows = self._grid()
        theme = self.theme
        bare = theme.tick_length + theme.gap
        self.left = theme.margin + 2.4 * theme.text_size + bare
        self.right = theme.margin
        self.x_labels: XLabels | None = None
        self.y_labels: Side | None = None
        self.legend_plan = LegendPlan()

    def _grid(self) -> tuple[int, int]:
        if self.request.headings is None:
            return 1, 1
        count = max(self.count, 1)
        per_row = self.request.per_row
        if per_row is None:
            most = max(1, int(self.request.width // (11 * self.theme.text_size)))
            per_row = min(most, count if count <= 3 else math.ceil(math.sqrt(count)))
            if count == 4 and per_row == 3:
                per_row = 2
        columns = min(per_row, count)
        return columns, math.ceil(count / columns)

    def run(self) -> Layout:
        """Rounds until the margins stand still, then the placing."""
        seen: list[tuple[float, float]] = []
        for turn in range(6):
            self._plan_legends()
            width = self._panel_width()
            self.x_labels = self._x_labels(width)
            frame = self._frame(width)
            self.y_labels = self._y_labels(frame.panel_height)
            left, right = self._margins(width)
            if abs(left - self.left) < 0.05 and abs(right - self.right) < 0.05:
                return self._place(width, frame)
            # Two layouts can lead to each other; then the one with more room for labels is taken.
            if turn >= 3 and (round(left, 1), round(right, 1)) in seen:
                left, right = max(left, self.left), max(right, self.right)
            seen.append((round(left, 1), round(right, 1)))
            self.left, self.right = left, right
        width = self._panel_width()
        self.x_labels = self._x_labels(width)
        frame = self._frame(width)
        self.y_labels = self._y_labels(frame.panel_height)
        return self._place(width, frame)

    # Measures -------------------------------------------------------------------------------------------------------

    def _plan_legends(self) -> None:
        room = self.request.width - self.left - self.theme.margin
        height = self.request.height or self.request.width * 0.7
        self.legend_plan = plan_legends(self.request.legends, self.theme, self.fonts.text, self.fonts.tick, room, height)

    def _beside(self) -> float:
        """Room that a legend at the right takes."""
        plan = self.legend_plan
        beside = plan.width + self.theme.block_gap * 1.5 if plan.place == "right" else 0.0
        return beside + self.request.names

    def _panel_width(self) -> float:
        room = self.request.width - self.left - self.right - self._beside()
        width = (room - (self.columns - 1) * self.theme.panel_gap) / self.columns
        if width < _LEAST_PANEL:
            self._too_small("width", self.request.width + (_LEAST_PANEL - width) * self.columns)
        return width

    def _too_small(self, side: str, needed: float) -> None:
        millimetres = math.ceil(needed / 72 * 25.4 / 5) * 5
        raise ExportError(
            f"figure.export: the {side} is too small for the figure's texts and {self.count} "
            f"panel{'s' if self.count != 1 else ''}",
            f'{side}="{millimetres} mm" would do; or a smaller text_size, or shorter titles',
        )

    def _margins(self, panel_width: float) -> tuple[float, float]:
        """Room left and right of the panels for labels, also those that reach beyond their tick."""
        theme, labels = self.theme, self.x_labels
        assert labels is not None
        assert self.y_labels is not None
        value_axis = self.request.y.kind != "levels"
        side = self.y_labels.width + theme.gap + (theme.tick_length if value_axis else 0.0)
        left = theme.margin + (side if self.y_labels.blocks else theme.gap)
        right = theme.margin
        if labels.blocks and labels.angle == 0:
            at = self.request.x.span.share(_array(labels.ticks.at)) * panel_width
            for block, x in zip(labels.blocks, at.tolist(), strict=True):
                left = max(left, theme.margin + block.width / 2 - x)
                right = max(right, theme.margin + x + block.width / 2 - panel_width)
        return left, max(theme.margin, right - self._beside())

    def _wrapped(self, text: str, type_: Type, width: float) -> Block:
        return balanced(text, type_, round(width, 2))

    def _frame(self, panel_width: float) -> _Frame:
        """Heights of everything above, between and below the panels."""
        request, theme, fonts = self.request, self.theme, self.fonts
        room = request.width - self.left - theme.margin
        title = self._wrapped(request.title, fonts.title, room)
        subtitle = self._wrapped(request.subtitle, fonts.quiet, room)
        note = self._wrapped(request.note, fonts.tick, room)
        beside = room - self._beside()
        y_title = self._wrapped(request.y.title if theme.axes else "", fonts.text, beside)
        x_title = self._wrapped(request.x.title if theme.axes else "", fonts.text, beside)
        headings = tuple(self._wrapped(text, fonts.heading, panel_width) for text in request.headings or ())
        tallest = max((block.height for block in headings), default=0.0)
        heading = tallest + 2 * theme.gap if headings else 0.0

        top = theme.margin
        tops = {}
        for name, block, after in (("title", title, theme.gap * 1.2), ("subtitle", subtitle, theme.gap)):
            tops[name] = top
            if block.lines:
                top += block.height + after
        if title.lines or subtitle.lines:
            top += theme.block_gap - theme.gap
        tops["legend"] = top
        if self.legend_plan.place == "top" and self.legend_plan.height:
            top += self.legend_plan.height + theme.block_gap
        tops["y_title"] = top
        if y_title.lines:
            top += y_title.height + theme.gap * (1.6 if headings else 1.8)
        elif not headings:
            top += 0.35 * theme.tick_text_size
        labels = self.x_labels
        assert labels is not None
        value_axis = request.x.kind != "levels" and theme.axes
        below = theme.tick_length if value_axis else 0.0
        below += labels.height + theme.gap if labels.blocks else 0.0
        bottom = below + (x_title.height + theme.gap if x_title.lines else 0.0)
        bottom += note.height + theme.block_gap if note.lines else 0.0
        bottom += theme.margin
        # Within a column of panels, the ticks of the upper ones stand in the gap.
        between = theme.panel_gap + (theme.tick_length if value_axis and self.rows > 1 else 0.0)
        if request.height is None:
            panel_height = self._natural_height(panel_width)
            height = top + self.rows * (heading + panel_height) + (self.rows - 1) * between + bottom
        else:
            height = request.height
            panel_height = (height - top - bottom - (self.rows - 1) * between) / self.rows - heading
        if panel_height < _LEAST_PANEL:
            self._too_small("height", height + (_LEAST_PANEL - panel_height) * self.rows)
        return _Frame(title, subtitle, note, y_title, x_title, headings, heading, tops, top, below, between, height, panel_height)

    def _natural_height(self, panel_width: float) -> float:
        """A height that suits the width and the number of categories."""
        height = panel_width * _RATIO
        if self.request.y.kind == "levels":
            each = 1.45 * self.fonts.tick.size
            count = max(len(self.request.y.labels), 2)
            height = max(count * each, min(height, count * 2.6 * each))
        return height

    # Labels ---------------------------------------------------------------------------------------------------------

    def _x_labels(self, panel_width: float) -> XLabels:
        if not self.theme.axes:
            return XLabels(AxisTicks((), ()), (), 0.0, 0.0)
        if self.request.x.kind == "levels":
            return self._nested(self._level_labels(panel_width), panel_width)
        type_ = self.fonts.tick
        least = 0.7 * type_.size
        wanted = max(2, min(9, int(panel_width / (4.2 * type_.size))))
        best: XLabels | None = None
        for count in range(wanted, 1, -1):
            ticks = axis_ticks(self.request.x, count)
            blocks = tuple(set_text(label, type_) for label in ticks.labels)
            height = max((block.height for block in blocks), default=0.0)
            best = XLabels(ticks, blocks, 0.0, height)
            if not _collide(self.request.x, ticks, blocks, panel_width, least):
                return best
            if self.request.x.spec.ticks is not None:
                break
        assert best is not None
        return _thinned(self.request.x, best, panel_width, least)

    def _nested(self, labels: XLabels, panel_width: float) -> XLabels:
        """Adds the names of the outer of crossed columns, below a rule under the names of the inner ones."""
        axis = self.request.x
        if not axis.outer or len(labels.blocks) != len(axis.outer):
            return labels
        slot = panel_width / len(axis.outer)
        outer = tuple(
            (first, last, set_text(name, self.fonts.tick, round((last - first + 0.9) * slot, 2)))
            for first, last, name in _runs(axis.outer)
        )
        deep = max(block.height for _, _, block in outer)
        return labels._replace(outer=outer, inner_height=labels.height, height=labels.height + 2 * self.theme.gap + deep)

    def _level_labels(self, panel_width: float) -> XLabels:
        """Category labels: on one line, else wrapped, else turned, else only some of them."""
        axis, type_ = self.request.x, self.fonts.tick
        ticks = axis_ticks(axis, 0)
        count = max(len(ticks.at), 1)
        slot = panel_width / count - 0.5 * type_.size
        level = tuple(set_text(label, type_) for label in ticks.labels)
        height = max((block.height for block in level), default=0.0)
        if all(block.width <= slot for block in level):
            return XLabels(ticks, level, 0.0, height)
        longest = max(_longest_word(label, type_) for label in ticks.labels)
        if longest <= slot:
            wrapped = tuple(set_text(label, type_, round(slot, 2)) for label in ticks.labels)
            if max(len(block.lines) for block in wrapped) <= 3:
                return XLabels(ticks, wrapped, 0.0, max(block.height for block in wrapped))
        limit = 0.34 * (self.request.height or self.request.width)
        turned = tuple(set_text(label, type_, limit) for label in ticks.labels)
        lines = max(len(block.lines) for block in turned)
        depth = max(block.width for block in turned)
        every = max(1, math.ceil((0.15 + lines) * type_.leading / (panel_width / count)))
        if every > 1:
            turned = tuple(set_text(label, type_) for label in ticks.labels)
            every = max(1, math.ceil(1.05 * type_.leading / (panel_width / count)))
            depth = max(block.width for block in turned)
        if every > 1:
            ticks = AxisTicks(ticks.at[::every], ticks.labels[::every])
            turned = turned[::every]
            depth = max(block.width for block in turned)
        return XLabels(ticks, turned, 90.0, depth)

    def _y_labels(self, panel_height: float) -> Side:
        if not self.theme.axes:
            return Side(AxisTicks((), ()), (), 0.0)
        axis, type_ = self.request.y, self.fonts.tick
        if axis.kind == "levels":
            ticks = axis_ticks(axis, 0)
            limit = round(0.38 * self.request.width, 2)
            blocks = tuple(set_text(label, type_, limit) for label in ticks.labels)
            every = self._every(blocks, panel_height)
            if every > 1:
                ticks = AxisTicks(ticks.at[::every], ticks.labels[::every])
                blocks = blocks[::every]
            side = Side(ticks, blocks, max((block.width for block in blocks), default=0.0))
            if not axis.outer or len(blocks) != len(axis.outer):
                return side
            outer = tuple((first, last, set_text(name, type_, limit)) for first, last, name in _runs(axis.outer))
            wide = max(block.width for _, _, block in outer)
            return side._replace(outer=outer, inner_width=side.width, width=side.width + 2 * self.theme.gap + wide)
        wanted = max(2, min(9, int(panel_height / (3.6 * type_.size)) + 1))
        for count in range(wanted, 1, -1):
            ticks = axis_ticks(axis, count)
            blocks = tuple(set_text(label.replace("\n", " "), type_) for label in ticks.labels)
            at = sorted((axis.span.share(_array(ticks.at)) * panel_height).tolist())
            gaps = [b - a for a, b in itertools.pairwise(at)]
            if not gaps or min(gaps) >= 1.25 * type_.size:
                break
        else:
            every = max(1, math.ceil(1.25 * type_.size / max(min(gaps), 1e-6)))
            ticks = AxisTicks(ticks.at[::every], ticks.labels[::every], ticks.minor)
            blocks = blocks[::every]
        return Side(ticks, blocks, max((block.width for block in blocks), default=0.0))

    def _every(self, blocks: tuple[Block, ...], panel_height: float) -> int:
        if not blocks:
            return 1
        slot = panel_height / len(blocks)
        tallest = max(block.height for block in blocks)
        return max(1, math.ceil(1.02 * tallest / slot))

    # Placing --------------------------------------------------------------------------------------------------------

    def _say_unnamed(self) -> None:
        """Says of the layout that stands, not of the tries before it, which categories have no room for their names."""
        assert self.x_labels is not None
        assert self.y_labels is not None
        mends = {"x": "map the column to y, or make the figure wider", "y": "make the figure higher"}
        for axis, labels in ((self.request.x, self.x_labels), (self.request.y, self.y_labels)):
            named = len(labels.ticks.at)
            if axis.kind == "levels" and self.theme.axes and 0 < named < len(axis.labels):
                every = _ordinal(math.ceil(len(axis.labels) / named))
                self.notes.say(
                    f"{len(axis.labels)} categories on {axis.name} leave room for the name of every {every} one only; "
                    f"{mends[axis.name]}"
                )

    def _place(self, panel_width: float, frame: _Frame) -> Layout:
        theme = self.theme
        self._say_unnamed()
        layout = Layout(self.request.width, frame.height, self.fonts, self.left)
        layout.x_labels, layout.y_labels, layout.legends = self.x_labels, self.y_labels, self.legend_plan
        for name in ("title", "subtitle", "y_title"):
            block = getattr(frame, name)
            if block.lines:
                setattr(layout, name, (block, frame.tops[name]))
        bottom = frame.top
        for number in range(self.count):
            row, column = divmod(number, self.columns)
            above = frame.top + row * (frame.heading + frame.panel_height + frame.between)
            x = self.left + column * (panel_width + theme.panel_gap)
            box = Region(x, above + frame.heading, panel_width, frame.panel_height)
            bottom = max(bottom, box.bottom)
            heading = frame.headings[number] if frame.headings else None
            lowest = number + self.columns >= self.count
            layout.panels.append(PanelPlace(box, row, column, heading, above + theme.gap, lowest, column == 0))
        below = bottom + frame.below
        if frame.x_title.lines:
            layout.x_title = (frame.x_title, below + theme.gap)
        if frame.note.lines:
            layout.note = (frame.note, frame.height - theme.margin - frame.note.height)
        if self.legend_plan.place == "right":
            layout.legend_at = (self.request.width - theme.margin - self.legend_plan.width, frame.tops["legend"])
        else:
            layout.legend_at = (self.left, frame.tops["legend"])
        return layout


class _Frame(NamedTuple):
    """Heights found in one round."""

    title: Block
    subtitle: Block
    note: Block
    y_title: Block
    x_title: Block
    headings: tuple[Block, ...]
    heading: float
    tops: dict[str, float]
    top: float
    below: float
    between: float
    height: float
    panel_height: float


def _runs(names: tuple[str, ...]) -> list[tuple[int, int, str]]:
    """First place, last place and name of every stretch of equal names."""
    runs: list[tuple[int, int, str]] = []
    for place, name in enumerate(names):
        if runs and runs[-1][2] == name:
            runs[-1] = (runs[-1][0], place, name)
        else:
            runs.append((place, place, name))
    return runs


def _array(values: tuple[float, ...]) -> FloatArray:
    return np.array(values, float)


def _longest_word(label: str, type_: Type) -> float:
    return max((set_text(word, type_).width for word in label.split()), default=0.0)


def _ordinal(number: int) -> str:
    return {2: "second", 3: "third"}.get(number, f"{number}th")


def _collide(axis: Axis, ticks: AxisTicks, blocks: tuple[Block, ...], width: float, least: float) -> bool:
    """Whether two labels come closer than `least`, line by line."""
    at = (axis.span.share(_array(ticks.at)) * width).tolist()
    for line in range(max((len(block.lines) for block in blocks), default=0)):
        spans = sorted(
            (x - block.widths[line] / 2, x + block.widths[line] / 2)
            for x, block in zip(at, blocks, strict=True)
            if line < len(block.widths)
        )
        if any(after[0] - before[1] < least for before, after in itertools.pairwise(spans)):
            return True
    return False


def _thinned(axis: Axis, labels: XLabels, width: float, least: float) -> XLabels:
    """Every second, third, … label where even two ticks are too many for their texts."""
    ticks, blocks = labels.ticks, labels.blocks
    for every in range(1, len(blocks) + 1):
        kept = AxisTicks(ticks.at[::every], ticks.labels[::every], ticks.minor)
        if not _collide(axis, kept, blocks[::every], width, least):
            return XLabels(kept, blocks[::every], 0.0, labels.height)
    return labels
