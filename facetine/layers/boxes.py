"""Boxes and whiskers: five numbers of a sample, and what lies far out."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.columns import Columns, joined
from facetine.core.query import Quantiles, Query, Reach, Source, Total, WithinGroup
from facetine.core.stats.groups import grouped
from facetine.core.stats.quantiles import NOTCH, WHISKER
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.lengths import shift_option
from facetine.grammar.options import choice, flag, number, numbers, option
from facetine.layers.bars import square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Space
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look
from facetine.layers.marking import Tinted
from facetine.layers.summary import COUNT, PLACE_X, PLACE_Y, cells, need_slots
from facetine.layers.values import template
from facetine.messages.errors import KindError, OptionError, told
from facetine.scene.marks import Mark, Markers, MarkerStyle, Paths, Rects, Stroke, segments
from facetine.scene.region import Region

MEDIAN = 1.8
"""How many times as wide as its border the line at the median of a box or violin is."""
_QUARTILES = (0.25, 0.5, 0.75)
_NUMBERS = ("whisker_low", "q1", "median", "q3", "whisker_high", "notch_low", "notch_high")


def _whiskers(value: object, where: str) -> str | tuple[float, float]:
    if isinstance(value, str):
        return str(choice("1.5 iqr", "range", name="whiskers")(value, where))
    ends = numbers(value, where) if isinstance(value, list | tuple) else ()
    if len(ends) != 2 or not 0 <= ends[0] < ends[1] <= 100:
        raise OptionError(
            where, f'are "1.5 iqr", "range" or a pair of percentiles such as (10, 90), not {told(value)}', of_option=True
        )
    return ends[0], ends[1]


@dataclass(frozen=True, kw_only=True)
class Boxes(Tinted, DrawnLayer):
    """A box from quartile to quartile with the median, whiskers, and points for what lies beyond them."""

    verb: ClassVar[str] = "boxes"
    chosen_says: ClassVar[str] = "Follows: quartiles, whiskers, notches and what lies beyond, of the chosen rows."
    examples: ClassVar[tuple[Example, ...]] = (
        Example("A category and a number", 1, {"x": "rind", "y": "firmness_n"}, ["boxes"]),
    )
    in_slots: ClassVar[bool] = True
    shows_spread: ClassVar[bool] = True
    kept_free: ClassVar[bool] = True
    by_place: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("y",)
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    computes_in: ClassVar[Space] = "axis"
    thing: ClassVar[str] = "box"
    because: ClassVar[str] = (
        "whiskers are found by distances, which a reader sees on the axis; quartiles are the same but for interpolation"
    )
    weighs: ClassVar[str] = "weighted quantiles; the notch follows the effective size of the sample"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "count": COUNT,
        "whisker_low": Computed("y"), "q1": Computed("y"),
        "median": Computed("y"), "q3": Computed("y"),
        "whisker_high": Computed("y"),
        "notch_low": Computed("y"), "notch_high": Computed("y"),
    }  # fmt: skip
    can_turn: ClassVar[bool] = True
    from_theme: ClassVar[Mapping[str, str]] = {"box_width": "bar_width"}
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.8}

    line_width: float | None = option(None, number(0.01, 100), "0.8 by default.")
    whiskers: str | tuple[float, float] = option("1.5 iqr", _whiskers)
    notches: bool = option(False, flag)
    outliers: bool = option(True, flag)
    box_width: float | None = option(None, number(0.01, 1))
    arrange: str = option("side_by_side", choice("side_by_side", "overlay", name="arrangements"))
    shift: str | None = option(None, shift_option)
    value_labels: str | None = option(None, template, 'Such as "{median:.1f}".')

    def things(self, rows: Columns) -> AnyArray | None:
        """Boxes, and the values beyond their whiskers."""
        return np.where(np.isnan(rows["median"]), "outlier", "box")

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def finish(self, context: Context) -> Finish:  # noqa: ARG002
        """Quartiles, whiskers and what lies beyond them."""
        ends = list(self.whiskers) if isinstance(self.whiskers, tuple) else self.whiskers
        return Finish("boxes", "place", {"whiskers": ends, "outliers": self.outliers, "notches": self.notches})

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each box, and one for each value beyond its whiskers, which has no median."""
        if context.discrete("y") or context.kinds.get("y") == "time":
            raise KindError(
                context.where,
                f"y needs numbers, but {context.columns['y']!r} holds "
                f"{'times' if context.kinds.get('y') == 'time' else 'categories'}",
                "a box shows quartiles of numbers; the category belongs on the other axis",
            )
        if "x" not in source:
            source = source.with_constant("x", 0.0)
        quartiles = source.ask(
            Query(
                (Total("count", "count"), Total("size", "effective"), Quantiles(("q1", "median", "q3"), "y", _QUARTILES)),
                keys=("x",),
            )
        )
        notch = NOTCH * (quartiles["q3"] - quartiles["q1"]) / np.sqrt(quartiles["size"])
        low, high = self._whisker_ends(source, quartiles)
        boxes = quartiles.dropped("size").put(
            y=quartiles["median"],
            whisker_low=low,
            whisker_high=high,
            notch_low=quartiles["median"] - notch,
            notch_high=quartiles["median"] + notch,
        )
        far = source.rows(WithinGroup("y", low, high, outside=True), keys=("x",))
        return _with_outliers(boxes, far, self.outliers)

    def _whisker_ends(self, source: Source, quartiles: Columns) -> tuple[FloatArray, FloatArray]:
        """Where the whiskers of each box end."""
        if isinstance(self.whiskers, tuple):
            shares = (self.whiskers[0] / 100, self.whiskers[1] / 100)
            ends = source.ask(Query((Quantiles(("low", "high"), "y", shares),), keys=("x",)))
            return ends["low"], ends["high"]
        # Whiskers reach to the outermost values that are not too far from their box.
        reach = WHISKER * (quartiles["q3"] - quartiles["q1"]) if self.whiskers != "range" else np.full(len(quartiles), np.inf)
        near = Reach(("low", "high"), "y", quartiles["q1"] - reach, quartiles["q3"] + reach)
        ends = source.ask(Query((near,), keys=("x",)))
        return np.minimum(ends["low"], quartiles["q1"]), np.maximum(ends["high"], quartiles["q3"])

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:
        """Boxes side by side in their slots; places that scales must know are given their names."""
        need_slots(self.shift, context)
        center, left, right = cells(rows, self.box_width or 1.0, self.arrange, context, "box")
        if self.arrange == "side_by_side":
            left, right = center - 0.45 * (right - left), center + 0.45 * (right - left)
        return rows.put(x=center, x_low=left, x_high=right, y_low=rows["whisker_low"], y_high=rows["whisker_high"])

    def labelled_rows(self, rows: Columns) -> Columns:
        """The boxes alone, up to their farthest value, beyond which there is room for a text."""
        boxes = rows.take(~np.isnan(rows["median"]))
        return boxes.put(y_high=boxes["y_to"])

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Whiskers, box, median and far values of each box."""
        for row in np.flatnonzero(~np.isnan(rows["median"])).tolist():
            shade = panel.looks["color"].of(row)
            line = panel.looks["outline"].of(row) or shade
            stroke = Stroke(line, panel.looks["line_width"].of(row))
            yield from self._one(rows, row, panel, shade, stroke, panel.looks["opacity"].of(row))
        far = np.flatnonzero(np.isnan(rows["median"]))
        for shade in dict.fromkeys(panel.looks["color"].of(row) for row in far.tolist()):
            chosen = [row for row in far.tolist() if panel.looks["color"].of(row) == shade]
            at = np.column_stack([rows["x"][chosen], rows["y"][chosen]])
            yield Markers(at, (MarkerStyle("disc", 1.1, None, shade, 0.6),), rows=rows.numbers[chosen])

    def _one(self, rows: Columns, row: int, panel: PanelView, shade: str, stroke: Stroke, opacity: float) -> Iterator[Mark]:
        number = rows.numbers[[row]]
        # A notch that is wider than its box ends at the quartiles.
        left, right, middle = (float(rows[name][row]) for name in ("x_low", "x_high", "x"))
        values = np.array([rows[name][row] for name in _NUMBERS])
        values[5:] = np.clip(values[5:], values[1], values[3])
        low, q1, median, q3, high, notch_low, notch_high = panel.y(values).tolist()
        yield segments(np.array([[middle, low, middle, q1], [middle, q3, middle, high]]), stroke, number.repeat(2))
        if self.notches:
            waist = (right - left) / 4
            half = [
                (right, q1), (right, notch_low), (right - waist, median), (right, notch_high), (right, q3),
                (left, q3), (left, notch_high), (left + waist, median), (left, notch_low), (left, q1),
            ]  # fmt: skip
        else:
            waist = 0.0
            half = [(right, q1), (right, q3), (left, q3), (left, q1)]
        yield Paths(
            np.array(half), np.zeros(1, np.int64), stroke, shade, 0.25 * opacity, closed=True, rows=number.repeat(len(half))
        )
        thick = stroke._replace(width=MEDIAN * stroke.width)
        yield segments(np.array([[left + waist, median, right - waist, median]]), thick, number)

    def redraws_rows(self) -> bool:
        """Whether outliers are drawn as points."""
        return self.outliers

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def _with_outliers(boxes: Columns, far: Columns, drawn: bool) -> Columns:
    """Boxes, each followed by a row for every value beyond its whiskers where these are drawn, which has no median.

    `y_to` is the farthest value of each box.
    """
    far = far.take(np.lexsort((far["y"], far["x"], far.group, far.panel)) if drawn else np.zeros(0, np.int64))
    nothing = dict.fromkeys((*_NUMBERS, "count"), np.full(len(far), np.nan))
    own = {name: far[name] for name in boxes.values if name in far} | nothing
    both = joined([boxes, Columns({name: own[name] for name in boxes.values}, far.panel, far.group, far.row)])
    outlying = np.append(np.zeros(len(boxes)), np.ones(len(far)))
    # A box stands before its values; keys that are equal keep the order in which they came.
    order = np.lexsort((outlying, both["x"], both.group, both.panel))
    both = both.take(order)
    groups = grouped(both.panel, both.group, both["x"])
    top = np.where(np.isnan(both["whisker_high"]), both["y"], both["whisker_high"])
    farthest = np.maximum.reduceat(top, groups.starts) if len(both) else top
    return both.put(y_to=np.repeat(farthest, groups.sizes))
