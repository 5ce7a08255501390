"""Legends measured and placed: in one row under the subtitle where they fit, at the right otherwise, else in several rows."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from facetine.grammar.lengths import shifts_points
from facetine.grammar.theme import Theme
from facetine.messages.errors import ScaleError
from facetine.pipeline.guides.boxes import Direction, Size
from facetine.pipeline.guides.legend_entries import ColorBar, Entry, Legend
from facetine.scene.marks import Gradient, Mark, Rects, Stroke, Text, segments
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import Block, TextStyle, set_text

_MOST_ENTRIES = 1_000
_BAR_LENGTH = 11.0
_BAR_DEPTH = 0.8


class PlacedEntry(NamedTuple):
    """One key with its label."""

    entry: Entry
    key: Region
    label: Block
    label_at: tuple[float, float]
    """Left and top."""


class _Cell(NamedTuple):
    """One entry, measured."""

    entry: Entry
    key_width: float
    key_height: float
    label: Block
    width: float


class PlacedLegend(NamedTuple):
    """One legend, its parts placed from the top left of all legends."""

    legend: Legend
    title: Block
    title_at: tuple[float, float]
    entries: tuple[PlacedEntry, ...]
    bar: Region | None
    upright: bool


class LegendPlan(NamedTuple):
    """All legends of a figure as they will stand, measured."""

    side: str
    """top, right, bottom, left, inside or none."""
    width: float
    height: float
    legends: tuple[PlacedLegend, ...]
    theme: Theme
    tick: TextStyle
    """How the labels of color bars are set."""

    @property
    def beside(self) -> float:
        """Room that they take at the left or at the right of what they explain."""
        return self.width + 1.5 * self.theme.block_gap if self.side in ("left", "right") else 0.0

    @property
    def over(self) -> float:
        """Room that they take above it."""
        return self.height + self.theme.block_gap if self.side == "top" and self.height else 0.0

    @property
    def under(self) -> float:
        """Room that they take below it."""
        return self.height + self.theme.block_gap if self.side == "bottom" and self.height else 0.0

    def measure(self, axis: Direction, across: float) -> Size:  # noqa: ARG002
        """What they take; they are arranged already for the room that there is."""
        size = self.width if axis == "x" else self.height
        return Size(size, size)

    def place(self, region: Region) -> PlacedLegends:
        """All legends from the top left of a region on, or as far beside it as they are shifted by hand."""
        right, down = shifts_points(self.theme.legend_shift)
        return PlacedLegends(self, region._replace(x=region.x + right, y=region.y + down))


class PlacedLegends(NamedTuple):
    """The legends at their place."""

    plan: LegendPlan
    region: Region

    @property
    def side(self) -> str:
        """top, right or none."""
        return self.plan.side

    @property
    def legends(self) -> tuple[PlacedLegend, ...]:
        """Each of them."""
        return self.plan.legends

    def draw(self, into: Sketch) -> None:
        """Adds a group with the marks of all legends; nothing where there is none."""
        if self.legends:
            group = into.group("legends", "Legends", kind="legend")
            for legend in self.legends:
                _draw(legend, self.region, self.plan.theme, self.plan.tick, group)


def plan_legends(
    legends: tuple[Legend, ...], theme: Theme, text: TextStyle, tick: TextStyle, room: float, height: float
) -> LegendPlan:
    """The first arrangement that fits.

    Args:
        legends: What is to be explained.
        theme: The looks.
        text: TextStyle of titles and labels.
        tick: TextStyle of the labels of color bars.
        room: Width from the left edge of the panels to the right margin, in points.
        height: Height of the sheet.
    """
    if not legends or theme.legend_place == "none":
        return LegendPlan("none", 0.0, 0.0, (), theme, tick)
    setter = _Setter(theme, text, tick)
    if theme.legend_place == "inside":
        return setter.in_column(legends, 0.4 * room)._replace(side="inside")
    most = theme.legend_columns
    for legend in legends:
        if len(legend.entries) > _MOST_ENTRIES:
            said = f"a legend of {len(legend.entries):,} entries, more than {_MOST_ENTRIES:,}"
            raise ScaleError("figure", said, "legend=False leaves it out; map group= instead; scale(…, top=8) pools the others")
    narrow = most is not None and any(len(legend.entries) > most for legend in legends)
    row = None if narrow else setter.in_rows(legends, room, one=True)
    beside, level = theme.legend_place in ("right", "left"), theme.legend_place in ("top", "bottom")
    made = None if beside else row
    if made is None and not level:
        column = setter.in_column(legends, 0.33 * room)
        made = column if beside or (column.width <= 0.34 * room and column.height <= 0.72 * height) else None
    made = made or setter.in_rows(legends, room, one=False)
    assert made is not None
    return made._replace(side=theme.legend_place) if theme.legend_place in ("bottom", "left") else made


class _Setter:
    """Places keys, labels and bars for one theme."""

    def __init__(self, theme: Theme, text: TextStyle, tick: TextStyle) -> None:
        self.theme, self.text, self.tick = theme, text, tick
        self.strong = text._replace(weight=700)
        self.size = text.size
        self.gap = 0.45 * self.size
        self.step = 1.25 * self.size
        self.line = 1.35 * self.size
        self.ticks = theme.gap

    def _key_size(self, entry: Entry) -> tuple[float, float]:
        """Room for the keys of all its layers, drawn over each other."""
        sizes = [layer.key_size(self.size, looks) for layer, looks in entry.keys] or [(0.8 * self.size, 0.8 * self.size)]
        return max(width for width, _ in sizes), max(height for _, height in sizes)

    def in_rows(self, legends: tuple[Legend, ...], room: float, one: bool) -> LegendPlan | None:
        """Level: title and entries side by side; all in one row, or None, or each legend in as many rows as it needs."""
        done: list[PlacedLegend] = []
        x = y = depth = wide = 0.0
        for legend in legends:
            if x and not one:
                x, y, depth = 0.0, y + depth + 0.4 * self.size, 0.0
            elif x:
                x += 1.6 * self.step
            placed, x, y, low = self._level(legend, x, y, room, one)
            depth = max(depth, low)
            if one and (x > room + 0.01 or y > 0):
                return None
            done.append(placed)
            wide = max(wide, x)
        return LegendPlan("top", wide, y + depth, tuple(done), self.theme, self.tick)

    def _level(self, legend: Legend, x: float, y: float, room: float, one: bool) -> tuple[PlacedLegend, float, float, float]:
        """One legend from (x, y); where the next thing may begin, and how deep its last row is."""
        width = None if one else round(room, 2)
        title = set_text(legend.title, self.strong, width)
        title_at = (x, y)
        depth = max(title.height, self.size)
        x += title.width + (self.step * 0.8 if title.lines else 0.0)
        if legend.bar is not None:
            if not one and x + self._bar_length(legend.bar) > room:
                x, y = 0.0, y + title.height + self.gap
            return self._level_bar(legend, legend.bar, title, title_at, x, y, room)
        start = x
        if start > 0.4 * room and not one:
            start, y, depth = 0.0, y + title.height + self.gap, self.size
        cells = [self._cell(entry, None if one else room - start) for entry in legend.entries]
        columns = len(cells) if one else self._columns([cell.width for cell in cells], room - start)
        widths = [max(cell.width for cell in cells[place::columns]) for place in range(columns)]
        entries, end = [], start
        for first in range(0, len(cells), columns):
            if first:
                y += depth + 0.35 * self.size
                depth = self.size
            x, row = start, cells[first : first + columns]
            overhang = max(self._overhang(cell.key_height) for cell in row)
            if not first and start > 0:
                # The title stands on the line of the first entries.
                title_at = (title_at[0], y + overhang)
            for cell, width in zip(row, widths, strict=False):
                depth = max(depth, overhang + cell.label.height, cell.key_height)
                entries.append(self._entry(cell, x, y + overhang))
                end = max(end, x + cell.width)
                x += width + self.step
        return PlacedLegend(legend, title, title_at, tuple(entries), None, False), end, y, depth

    def _cell(self, entry: Entry, room: float | None) -> _Cell:
        key_width, key_height = self._key_size(entry)
        label_room = None if room is None else round(max(room - key_width - self.gap, 2 * self.size), 2)
        label = set_text(entry.label, self.text, label_room)
        return _Cell(entry, key_width, key_height, label, key_width + self.gap + label.width)

    def _columns(self, widths: list[float], room: float) -> int:
        """As many columns as fit beside each other, each as wide as the widest of its entries."""
        for count in range(min(len(widths), self.theme.legend_columns or len(widths)), 1, -1):
            if sum(max(widths[place::count]) for place in range(count)) + (count - 1) * self.step <= room + 0.01:
                return count
        return 1

    def _overhang(self, key_height: float) -> float:
        """How far a key reaches over the capitals of its label."""
        return max(0.0, key_height / 2 - self.text.cap / 2) if key_height > 1.3 * self.size else 0.0

    def _entry(self, cell: _Cell, x: float, y: float) -> PlacedEntry:
        """A key whose middle stands at half the height of the label's first capitals, which begin at y."""
        middle = y + self.text.cap / 2
        key = Region(x, middle - cell.key_height / 2, cell.key_width, cell.key_height)
        return PlacedEntry(cell.entry, key, cell.label, (x + cell.key_width + self.gap, y))

    def _bar_length(self, bar: ColorBar) -> float:
        labels = [set_text(label, self.tick).width for label in bar.labels]
        return max(_BAR_LENGTH * self.size, sum(labels) + 0.7 * self.size * len(labels))

    def _level_bar(
        self,
        legend: Legend,
        bar: ColorBar,
        title: Block,
        title_at: tuple[float, float],
        x: float,
        y: float,
        room: float,
    ) -> tuple[PlacedLegend, float, float, float]:
        first, last = (set_text(bar.labels[i], self.tick).width / 2 if bar.labels else 0.0 for i in (0, -1))
        length = min(self._bar_length(bar), max(room - x - last, 4 * self.size))
        over = max(0.0, first - x - (bar.at[0] if bar.at else 0.0) * length)
        x += over
        length = min(length, max(room - x - last, 4 * self.size))
        bar = self._thinned(bar, length)
        legend = legend._replace(bar=bar)
        height = _BAR_DEPTH * self.size
        box = Region(x, y + self.text.cap / 2 - height / 2, length, height)
        label = max((set_text(text, self.tick).height for text in bar.labels), default=0.0)
        end = max(x + length, x + (bar.at[-1] if bar.at else 0.0) * length + last)
        depth = box.bottom - y + self.ticks + label
        return PlacedLegend(legend, title, title_at, (), box, False), end, y, depth

    def _thinned(self, bar: ColorBar, length: float, upright: bool = False) -> ColorBar:
        """Every tick, or every second, third, … one where the labels would meet; ends that go on keep theirs.

        Ticks that were listed stand without a label then, the others go.
        """
        blocks = [set_text(label, self.tick) for label in bar.labels]
        reach = [block.height if upright else block.width for block in blocks]
        count, least = len(reach), (0.2 if upright else 0.4) * self.size
        open_ends = count > 2 and bar.at[0] == 0.0 and bar.at[-1] == 1.0
        for every in range(1, count + 1):
            chosen = [0, *range(every, count - 1, every), count - 1] if open_ends else list(range(0, count, every))
            kept = [(bar.at[place], reach[place]) for place in chosen]
            near = ((after[0] - before[0]) * length - (before[1] + after[1]) / 2 < least for before, after in pairwise(kept))
            if any(near):
                continue
            if bar.listed:
                labels = tuple(label if place in chosen else "" for place, label in enumerate(bar.labels))
                return bar._replace(labels=labels, unlabelled=tuple(bar.labels[n] for n in range(count) if n not in chosen))
            return bar._replace(at=tuple(bar.at[n] for n in chosen), labels=tuple(bar.labels[n] for n in chosen))
        return bar

    def in_column(self, legends: tuple[Legend, ...], widest: float) -> LegendPlan:
        """Upright: legends below each other, an entry a line."""
        done: list[PlacedLegend] = []
        y = wide = height = 0.0
        for legend in legends:
            title = set_text(legend.title, self.strong, round(max(widest, 3 * self.size), 2))
            title_at = (0.0, y)
            wide = max(wide, title.width)
            if title.lines:
                y += title.height + 0.55 * self.size
            if legend.bar is not None:
                box = Region(0.0, y + 0.3 * self.size, _BAR_DEPTH * 1.2 * self.size, 9 * self.size)
                bar = self._thinned(legend.bar, box.height, upright=True)
                legend = legend._replace(bar=bar)
                labels = [set_text(text, self.tick) for text in bar.labels]
                widest_label = max((label.width for label in labels), default=0.0)
                wide = max(wide, box.width + 2 * self.ticks + widest_label)
                done.append(PlacedLegend(legend, title, title_at, (), box, True))
                y = box.bottom + 0.3 * self.size
            else:
                entries, y, reach = self._lines(legend, y, widest)
                wide = max(wide, reach)
                done.append(PlacedLegend(legend, title, title_at, entries, None, True))
            height = y
            y += 1.3 * self.size
        return LegendPlan("right", wide, height, tuple(done), self.theme, self.tick)

    def _lines(self, legend: Legend, y: float, widest: float) -> tuple[tuple[PlacedEntry, ...], float, float]:
        """Entries below each other, in as many columns as the theme says, from left to right and down."""
        if not legend.entries:
            return (), y - 0.4 * self.size, 0.0
        key = max(self._key_size(entry)[0] for entry in legend.entries)
        whole = [key + self.gap + set_text(entry.label, self.text).width for entry in legend.entries]
        columns = self._columns(whole, widest) if self.theme.legend_columns is not None else 1
        # Only a single column is so narrow that labels are broken.
        cells = [self._cell(entry, widest if columns == 1 else None)._replace(key_width=key) for entry in legend.entries]
        widths = [key + self.gap + max(cell.label.width for cell in cells[place::columns]) for place in range(columns)]
        starts = [sum(widths[:place]) + place * self.step for place in range(columns)]
        entries: list[PlacedEntry] = []
        for first in range(0, len(cells), columns):
            row = cells[first : first + columns]
            top = y + max(self._overhang(cell.key_height) for cell in row)
            placed = [self._entry(cell, x, top) for cell, x in zip(row, starts, strict=False)]
            entries += placed
            y = max(max(entry.key.bottom, entry.label_at[1] + entry.label.height) for entry in placed) + 0.4 * self.size
        return tuple(entries), y - 0.4 * self.size, starts[-1] + widths[-1]


def _draw(placed: PlacedLegend, at: Region, theme: Theme, tick: TextStyle, into: Sketch) -> None:
    """Adds the marks of one legend."""
    dx, dy = at.x, at.y
    group = into.group(f"legend-{placed.legend.name}", placed.legend.title or "Legend", kind="legend")
    group.add(placed.title.placed(dx + placed.title_at[0], dy + placed.title_at[1], role="legend title"))
    for number, entry in enumerate(placed.entries, 1):
        inner = group.group(f"entry-{number}", "Entry", kind="entry")
        key = entry.key._replace(x=entry.key.x + dx, y=entry.key.y + dy)
        for layer, looks in entry.entry.keys:
            marks = layer.draw_key(key, looks)
            share = entry.entry.opacity
            inner.add(marks if share == 1.0 else (mark.faded(share) for mark in marks))
        inner.add(entry.label.placed(dx + entry.label_at[0], dy + entry.label_at[1], role="legend"))
    if placed.bar is not None and placed.legend.bar is not None:
        box = placed.bar._replace(x=placed.bar.x + dx, y=placed.bar.y + dy)
        group.add(drawn_bar(placed.legend.bar, box, placed.upright, theme, tick))


def _blocks(bar: ColorBar, box: Region, upright: bool) -> Rects:
    """Even blocks of a stepped bar, from the left or from the bottom."""
    count = len(bar.colors)
    width, height = box.width / count, box.height / count
    if upright:
        blocks = [(box.x, box.bottom - (place + 1) * height, box.width, height) for place in range(count)]
    else:
        blocks = [(box.x + place * width, box.y, width, box.height) for place in range(count)]
    return Rects(np.array(blocks), bar.colors, np.arange(count))


def drawn_bar(bar: ColorBar, box: Region, upright: bool, theme: Theme, tick: TextStyle) -> Iterator[Mark]:
    """The marks of a bar in a box, with its ticks at the right where it is upright, else below."""
    if bar.stepped:
        yield _blocks(bar, box, upright)
    else:
        yield Gradient(box, bar.colors, upright)
    ends, texts = [], list[Text]()
    short = theme.gap * 0.6
    for share, label in zip(bar.at, bar.labels, strict=True):
        block = set_text(label, tick)
        if upright:
            y = box.bottom - share * box.height
            ends.append((box.right, y, box.right + short, y))
            texts.extend(block.placed(box.right + 2 * short, y - tick.cap / 2, role="legend tick"))
        else:
            x = box.x + share * box.width
            ends.append((x, box.bottom, x, box.bottom + short))
            texts.extend(block.placed(x, box.bottom + theme.gap, 0.5, role="legend tick"))
    if ends:
        yield segments(np.array(ends), Stroke(theme.axis_color, theme.axis_width))
    yield from texts
