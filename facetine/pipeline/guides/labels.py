"""Labels of axes fitted to the room they have: on one line, wrapped, in two rows, turned, or only some of them."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import partial
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.theme import Theme
from facetine.pipeline.guides.ticks import AxisTicks, axis_ticks, number_texts
from facetine.pipeline.scales.axes import Axis
from facetine.scene.typeset import Block, TextStyle, set_text

# Turned names stand a line apart; where not even every fourth has that, nothing else helps.
_HOPELESS = 4
_MOST_TRIED = 12
"""So many ticks are tried in search of two that stand apart."""
_APART = 1.02
"""How far names beside a panel stand apart at least, in heights of the tallest."""
_BETWEEN = 0.7
"""Room between names of several lines, in sizes of their letters, where the height of the sheet is left open."""


class Labels(NamedTuple):
    """Labels of an axis as they are set, below, above or beside a panel."""

    ticks: AxisTicks
    blocks: tuple[Block, ...]
    depth: float
    """How far they reach away from the panel, in points, from where the first of them begins."""
    angle: float = 0.0
    """0, or 90 where they are turned."""
    outer: tuple[tuple[int, int, Block], ...] = ()
    """For crossed columns: first and last tick, and the name behind them."""
    inner_depth: float = 0.0
    """How far the names of the inner columns reach, where there are outer ones."""
    drops: tuple[float, ...] = ()
    """How much lower each label stands, where they stand in two rows."""

    lacking: float = 0.0
    """How much longer its panel would have to be for a second label, in points, where there is but one."""

    @property
    def unlabelled(self) -> tuple[int, ...]:
        """The ticks that have a label, but no room for it; their blocks are empty."""
        pairs = zip(self.ticks.labels, self.blocks, strict=True)
        return tuple(place for place, (label, block) in enumerate(pairs) if label and not block.lines)


NO_LABELS = Labels(AxisTicks((), ()), (), 0.0)


@dataclass(frozen=True, slots=True)
class LabelFitter:
    """Fits the labels of an axis, for panels of one size after the other."""

    axis: Axis
    theme: Theme
    type: TextStyle
    """How labels are set."""
    columns: int
    """How many panels stand side by side."""
    width: float
    """Of the sheet, in points."""
    height: float
    """Of the sheet, or its width where it has none yet."""
    gap: float = 0.0
    """Room between panels that stand side by side, in points."""
    _ticks: dict[int, AxisTicks] = field(default_factory=dict)
    """Those that were found before, by how many were wanted: finding them takes longer than setting their labels."""

    def ticks(self, wanted: int) -> AxisTicks:
        """Ticks of the axis, about as many as wanted."""
        if wanted not in self._ticks:
            self._ticks[wanted] = axis_ticks(self.axis, wanted)
        return self._ticks[wanted]

    def x_labels(self, panel_width: float) -> Labels:
        """Those under the x axis of a panel."""
        if not self.theme.axes:
            return NO_LABELS
        if self.axis.kind == "levels":
            return self._nested(self._level_labels(panel_width), panel_width)
        axis = self.axis
        return self.number_labels(self.ticks, axis.spec.ticks is not None, panel_width)

    def keeps(self, labels: Labels, length: float, longer: float, *, upright: bool) -> bool:
        """Whether labels of numbers that had room in panels of a length are also those of longer ones: as many are wanted there.

        Args:
            labels: As they were fitted.
            length: To which.
            longer: The new length.
            upright: Whether the axis runs upwards.
        """
        if self.axis.kind == "levels" or not self.theme.axes or not 0.0 < length < longer:
            return False
        wanted = self._wanted_up if upright else self._wanted_across
        count = wanted(longer)
        return wanted(length) == count and labels.ticks.at == self.ticks(count).at

    def _wanted_across(self, width: float) -> int:
        return max(2, min(9, int(width / (4.2 * self.type.size))))

    def _wanted_up(self, height: float) -> int:
        return max(2, min(9, int(height / (3.6 * self.type.size)) + 1))

    @property
    def _gap(self) -> float | None:
        return self.gap if self.columns > 1 else None

    def number_labels(self, ticks_for: Callable[[int], AxisTicks], said: bool, panel_width: float) -> Labels:
        """As many ticks as have room for their labels on one line; where they were said, every second, third, … label."""
        axis, type_ = self.axis, self.type
        least = 0.7 * type_.size
        wanted = self._wanted_across(panel_width)
        best: Labels | None = None
        # Where few are wanted, none or one may fall into the range: one alone tells no distance.
        for count in (*range(wanted, 1, -1), *(() if wanted > 3 else range(wanted + 1, wanted + 4))):
            ticks = ticks_for(count)
            blocks = tuple(set_text(label, type_) for label in ticks.labels)
            height = max((block.height for block in blocks), default=0.0)
            found = Labels(ticks, blocks, height)
            if not _collide(axis, ticks.at, blocks, panel_width, least, self._gap) and (len(ticks.at) > 1 or said):
                return found
            if count <= wanted:
                best = found
            if said:
                break
        assert best is not None
        if said:
            return self._thinned(best, said, panel_width, least)
        for beside in (self._gap, None):
            free = partial(self._clear, panel_width, least, beside)
            two = self._two(ticks_for, free)
            if two is not None:
                return two._replace(depth=max(block.height for block in two.blocks))
        one = self._thinned(best, said, panel_width, least)
        # The two labels of the fewest ticks would need so much.
        widths = sorted(block.width for block in best.blocks)[-2:]
        share = float(np.ptp(axis.extent.share(_array(best.ticks.at)))) if len(best.ticks.at) > 1 else 0.5
        needed = (sum(widths) / 2 + least) / max(share, 0.25)
        return one._replace(lacking=max(needed - panel_width, 1.0)) if len(one.blocks) < 2 else one

    def _clear(self, width: float, least: float, beside: float | None, at: tuple[float, ...], blocks: tuple[Block, ...]) -> bool:
        return not _collide(self.axis, at, blocks, width, least, beside)

    def _two(
        self, ticks_for: Callable[[int], AxisTicks], apart: Callable[[tuple[float, ...], tuple[Block, ...]], bool]
    ) -> Labels | None:
        """Two ticks whose labels stand apart, as far from each other as any, written shorter where they must be."""
        short = self.axis.kind == "linear" and self.axis.spec.format is None
        for shorter in (False, True) if short else (False,):
            found = list[tuple[float, Labels]]()
            for count in range(2, _MOST_TRIED):
                for pair in self._pairs(ticks_for(count), shorter):
                    blocks = tuple(set_text(text, self.type) for text in pair.labels)
                    if pair.labels[0] != pair.labels[1] and apart(pair.at, blocks):
                        found.append((abs(pair.at[1] - pair.at[0]), Labels(pair, blocks, 0.0)))
            if found:
                return max(found, key=lambda one: one[0])[1]
        return None

    def _pairs(self, ticks: AxisTicks, shorter: bool) -> Iterator[AxisTicks]:
        """Two ticks of some, the first or the last among them."""
        count, axis = len(ticks.at), self.axis
        for first, last in {(0, place) for place in range(1, count)} | {(place, count - 1) for place in range(count - 1)}:
            at = (ticks.at[first], ticks.at[last])
            texts = _with_contexts(ticks.labels, (first, last)) if axis.kind == "time" else ticks.labels
            pair = (texts[first], texts[last])
            if shorter:
                values = tuple(axis.transform.inverse(np.array(at)).tolist())
                written = number_texts(values, ScaleSpec(format="si"), f"figure.scale({axis.name!r})")
                pair = (written[0], written[1])
            yield AxisTicks(at, pair)

    def _thinned(self, labels: Labels, said: bool, width: float, least: float) -> Labels:
        """Some of the labels only, where even those of two ticks are too wide; ticks that were said keep their marks.

        Where a single label is too wide to keep clear of the next panel's, those of one panel at least do not meet: room is
        made between panels then.
        """
        count = len(labels.blocks)
        for beside in (self._gap, None):
            for every in range(1, count + 1):
                some = self._some(labels, tuple(range(0, count, every)), said)
                if not _collide(self.axis, some.ticks.at, some.blocks, width, least, beside):
                    return some
        return labels

    def _some(self, labels: Labels, kept: tuple[int, ...], said: bool) -> Labels:
        """Labels of some ticks only; the other ticks stand without, or go if nobody said them."""
        ticks = labels.ticks
        texts = _with_contexts(ticks.labels, kept) if self.axis.kind == "time" and self.axis.spec.format is None else ticks.labels
        if not said:
            ticks = ticks._replace(at=tuple(ticks.at[place] for place in kept), labels=tuple(texts[place] for place in kept))
            return Labels(ticks, tuple(set_text(text, self.type) for text in ticks.labels), labels.depth)
        blocks = tuple(set_text(text if place in kept else "", self.type) for place, text in enumerate(texts))
        return Labels(ticks, blocks, labels.depth)

    def _nested(self, labels: Labels, panel_width: float) -> Labels:
        """Adds the names of the outer of crossed columns, below a rule under the names of the inner ones."""
        axis = self.axis
        if not axis.outer or len(labels.blocks) != len(axis.outer):
            return labels
        slot = panel_width / len(axis.outer)
        outer = tuple(
            (first, last, set_text(name, self.type, round((last - first + 0.9) * slot, 2)))
            for first, last, name in _runs(axis.outer)
        )
        deep = max(block.height for _, _, block in outer)
        return labels._replace(outer=outer, inner_depth=labels.depth, depth=labels.depth + 2 * self.theme.gap + deep)

    def _level_labels(self, panel_width: float) -> Labels:
        """Category labels: on one line, else wrapped, else in two rows, else turned, else only some of them."""
        type_ = self.type
        ticks = self.ticks(0)
        count = max(len(ticks.at), 1)
        slot = panel_width / count - 0.5 * type_.size
        every = math.ceil(1.05 * type_.leading / (panel_width / count))
        if every > _HOPELESS:
            # So many names that only some have room however they are set: only these are measured.
            return _turned(ticks, self._set(ticks, every))
        level = tuple(set_text(label, type_) for label in ticks.labels)
        height = max((block.height for block in level), default=0.0)
        if all(block.width <= slot for block in level):
            return Labels(ticks, level, height)
        longest = max(_longest_word(label, type_) for label in ticks.labels)
        if longest <= slot:
            wrapped = tuple(set_text(label, type_, round(slot, 2)) for label in ticks.labels)
            if max(len(block.lines) for block in wrapped) <= 3:
                return Labels(ticks, wrapped, max(block.height for block in wrapped))
        two = self._in_two_rows(ticks, level, panel_width)
        if two is not None:
            return two
        limit = 0.34 * self.height
        turned = tuple(set_text(label, type_, limit) for label in ticks.labels)
        lines = max(len(block.lines) for block in turned)
        if math.ceil((0.15 + lines) * type_.leading / (panel_width / count)) > 1:
            turned = self._set(ticks, every)
        return _turned(ticks, turned)

    def _set(self, ticks: AxisTicks, every: int, width: float | None = None) -> tuple[Block, ...]:
        """Every second, third, … label; the others are empty."""
        return tuple(set_text("" if place % every else label, self.type, width) for place, label in enumerate(ticks.labels))

    def _in_two_rows(self, ticks: AxisTicks, level: tuple[Block, ...], panel_width: float) -> Labels | None:
        """Every second label a row lower, where that keeps all of them apart; None where it does not."""
        axis, type_ = self.axis, self.type
        least = 0.7 * type_.size
        if len(level) < 3 or axis.outer or any(len(block.lines) > 1 for block in level):
            return None
        for row in (0, 1):
            if _collide(axis, ticks.at[row::2], level[row::2], panel_width, least, self._gap):
                return None
        # In the upper row, the first one must not come under the labels of the y axis; then it is the lower one.
        at = axis.extent.share(_array(ticks.at)) * panel_width
        lower = int(level[0].width / 2 - float(at.min()) <= self.theme.gap)
        drops = tuple(type_.leading * ((number + lower + 1) % 2) for number in range(len(level)))
        return Labels(ticks, level, level[0].height + type_.leading, drops=drops)

    def y_labels(self, panel_height: float) -> Labels:
        """Those beside the y axis of a panel."""
        if not self.theme.axes:
            return NO_LABELS
        axis, type_ = self.axis, self.type
        if axis.kind == "levels":
            ticks = self.ticks(0)
            limit = self._side_limit
            blocks = tuple(set_text(label, type_, limit) for label in ticks.labels)
            every = self._every(blocks, panel_height)
            if every > 1:
                blocks = self._set(ticks, every, limit)
            side = Labels(ticks, blocks, max((block.width for block in blocks), default=0.0))
            if not axis.outer or len(blocks) != len(axis.outer):
                return side
            outer = tuple((first, last, set_text(name, type_, limit)) for first, last, name in _runs(axis.outer))
            wide = max(block.width for _, _, block in outer)
            return side._replace(outer=outer, inner_depth=side.depth, depth=side.depth + 2 * self.theme.gap + wide)
        return self.number_side(self.ticks, axis.spec.ticks is not None, panel_height)

    def height_of_names(self) -> float:
        """How high a panel must be so that all names of categories beside it have room, whatever their lines."""
        axis, type_ = self.axis, self.type
        if not self.theme.axes or not axis.labels or axis.spec.ticks in (0, ()):
            return 0.0
        # Only names that may have several lines need be set.
        long = [label for label in axis.labels if "\n" in label or len(label) * type_.size > self._side_limit]
        tallest = max((set_text(label, type_, self._side_limit).height for label in long), default=0.0)
        # Lines of one name stand closer than those of two.
        each = tallest + _BETWEEN * type_.size if tallest > type_.leading else 0.0
        for first, last, name in _runs(axis.outer):
            each = max(each, (set_text(name, type_, self._side_limit).height + _BETWEEN * type_.size) / (last - first + 1))
        return len(axis.labels) * each

    @property
    def _side_limit(self) -> float:
        """How wide names beside a panel may be before they are broken."""
        return round(0.38 * self.width, 2)

    def number_side(self, ticks_for: Callable[[int], AxisTicks], said: bool, panel_height: float) -> Labels:
        """As many ticks as have room for their labels above each other."""
        axis, type_ = self.axis, self.type
        wanted = self._wanted_up(panel_height)
        for count in range(2 if said else wanted, 1, -1):
            ticks = ticks_for(count)
            blocks = tuple(set_text(label.replace("\n", " "), type_) for label in ticks.labels)
            if max((block.width for block in blocks), default=0.0) > 0.25 * self.width:
                blocks = tuple(set_text(label, type_) for label in ticks.labels)
            every = _all_apart(self._middles(ticks.at, blocks, panel_height), blocks)
            if every == 1:
                break
        lacking = 0.0
        if every > 1 or (len(ticks.at) < 2 and not said):
            some = self._some(Labels(ticks, blocks, 0.0), tuple(range(0, len(blocks), every)), said)
            while not said and _all_apart(self._middles(some.ticks.at, some.blocks, panel_height), some.blocks) > 1:
                # What began at a tick that is left out stands with the next one, which is higher then.
                every += 1
                some = self._some(Labels(ticks, blocks, 0.0), tuple(range(0, len(blocks), every)), said)
            if not said and len(some.blocks) < 2 and not axis.empty:

                def apart(at: tuple[float, ...], blocks: tuple[Block, ...]) -> bool:
                    return _all_apart(axis.extent.share(_array(at)) * panel_height, blocks) == 1

                two = self._two(ticks_for, apart)
                needed = 2.6 * (blocks[0].height if blocks else type_.size)
                some = two if two is not None else some._replace(lacking=max(needed - panel_height, 1.0))
            ticks, blocks, lacking = some.ticks, some.blocks, some.lacking
        return Labels(ticks, blocks, max((block.width for block in blocks), default=0.0), lacking=lacking)

    def _middles(self, at: tuple[float, ...], blocks: tuple[Block, ...], length: float) -> FloatArray:
        """Where labels beside a panel have their middles, in points from its start."""
        places = self.axis.extent.share(_array(at)) * length
        return np.array([held_within(place, block, length) for place, block in zip(places.tolist(), blocks, strict=True)])

    def _every(self, blocks: tuple[Block, ...], panel_height: float) -> int:
        if not blocks:
            return 1
        slot = panel_height / len(blocks)
        tallest = max(block.height for block in blocks)
        return max(1, math.ceil(_APART * tallest / slot - 1e-9))


def held_within(middle: float, block: Block, length: float) -> float:
    """Where a label beside a panel has its middle: several lines stand no farther over an end than one would.

    Args:
        middle: Where its tick is, in points from an end of the panel.
        block: The label.
        length: Of the panel.
    """
    over = (len(block.lines) - 1) * block.type.leading / 2
    return min(max(middle, over), length - over) if 0.0 < over <= length / 2 else middle


def _turned(ticks: AxisTicks, blocks: tuple[Block, ...]) -> Labels:
    return Labels(ticks, blocks, max((block.width for block in blocks), default=0.0), 90.0)


def _with_contexts(labels: tuple[str, ...], kept: tuple[int, ...]) -> tuple[str, ...]:
    """Two-line labels of times, where the day, month or year that began at a tick without room is told by the next one."""
    texts, context = [], ""
    for place, label in enumerate(labels):
        fine, _, own = label.partition("\n")
        context = own or context
        texts.append(f"{fine}\n{context}" if context and place in kept else label)
        if place in kept:
            context = ""
    return tuple(texts)


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


def _longest_word(label: str, type_: TextStyle) -> float:
    return max((set_text(word, type_).width for word in label.split()), default=0.0)


def _collide(
    axis: Axis, places: tuple[float, ...], blocks: tuple[Block, ...], width: float, least: float, gap: float | None = None
) -> bool:
    """Whether two labels come closer than `least`, line by line.

    With a gap there is another panel at that distance, whose first labels must keep clear of the last ones of this.
    """
    at = (axis.extent.share(_array(places)) * width).tolist()
    for line in range(max((len(block.lines) for block in blocks), default=0)):
        spans = sorted(
            (x - block.widths[line] / 2, x + block.widths[line] / 2)
            for x, block in zip(at, blocks, strict=True)
            if line < len(block.widths)
        )
        if gap is not None and spans:
            spans.append((spans[0][0] + width + gap, spans[0][1] + width + gap))
        if any(after[0] - before[1] < least for before, after in itertools.pairwise(spans)):
            return True
    return False


def _all_apart(at: FloatArray, blocks: tuple[Block, ...]) -> int:
    """Of which labels above each other there is room for all: every one, or every second, third, …"""
    if not blocks:
        return 1
    leading = 1.25 * blocks[0].type.size - blocks[0].type.cap - blocks[0].type.descent
    for every in range(1, len(blocks)):
        chosen = sorted((place, block.height) for place, block in zip(at.tolist()[::every], blocks[::every], strict=True))
        if all(high - low >= (tall + taller) / 2 + leading for (low, tall), (high, taller) in itertools.pairwise(chosen)):
            return every
    return len(blocks)
