"""Bars: heights as given, or counts of rows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np

from facetine.core.arrange.bars import shares, stacked
from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.core.stats.binning import MOST_BINS
from facetine.core.stats.groups import AGGREGATES
from facetine.data.table import Levels
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, number, option
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look, batches, combined
from facetine.layers.marking import Filled
from facetine.layers.stacking import check_lengths, check_stack, is_amount
from facetine.layers.summary import (
    COUNT,
    PLACE_X,
    PLACE_Y,
    aggregate_drawn,
    aggregate_names,
    at_one_place,
    cells,
    edges_of_bins,
    every_aggregate,
    in_bins,
    slots,
    summarised,
)
from facetine.layers.values import template
from facetine.layers.widths import bins_option, edges_option
from facetine.messages.errors import KindError, OptionError
from facetine.scene.marks import Rects, Stroke
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Bars(Filled, DrawnLayer):
    """Bars from zero: with y mapped, the heights as given; without, the number of rows at each x."""

    verb: ClassVar[str] = "bars"
    chosen_says: ClassVar[str] = (
        "Follows: counts, aggregates and given heights, each at its place; shares are of the chosen rows."
    )
    examples: ClassVar[tuple[Example, ...]] = (
        Example("One category, or two", 1, {"x": "rind"}, ["bars"]),
        Example(
            "One category, or two", 2, {"x": "rind", "color": "milk"}, [{"bars": {"legend": False}}], called="bars of groups"
        ),
    )
    column_as: ClassVar[str] = "bars"
    amounts: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    bordered: ClassVar[bool] = True
    from_zero: ClassVar[bool] = True
    stands: ClassVar[bool] = True
    filled_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "bar"
    can_turn: ClassVar[bool] = True
    by_place: ClassVar[bool] = True
    from_theme: ClassVar[Mapping[str, str]] = {"bar_width": "bar_width"}
    because: ClassVar[str] = "a mean of masses is a mass, whatever the axis"
    weighs: ClassVar[str] = "a row counts as often as its weight says: sums of weights, Σwx, weighted means and medians"
    computed: ClassVar[Mapping[str, Computed]] = {
        "height": Computed("y"),
        "count": COUNT,
        "share": Computed("number", 'Of all rows of the panel; with arrange="share", of its slot.'),
    }

    bar_width: float | None = option(None, number(0.01, 1), "The theme's by default.")
    arrange: str | None = option(
        None,
        choice("stack", "side_by_side", "share", "overlay", name="arrangements"),
        "Counts, sums and given amounts stand on each other by default; means and the like, and heights that are no amounts "
        "(shares, temperatures, rates), side by side.",
    )
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"))
    bins: int | str | None = option(None, bins_option(1, MOST_BINS), "Where bars count or aggregate; they stand in the middle.")
    edges: Levels | None = option(None, edges_option, "Where bars count or aggregate.")
    value_labels: str | None = option(None, template)

    def lacks(self, mapped: Mapped) -> str | None:
        """Bars need an x or, for horizontal ones, a y."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def names(self) -> Mapping[str, Computed]:
        """The height with what it is, and its place."""
        given = aggregate_names(self.aggregate) or ({"count": COUNT} if self.value_counts else {})
        share = {"share": self.computed["share"]} if self.aggregate in ("none", "count", "sum") or self.arrange == "share" else {}
        return {"x": PLACE_X, "y": PLACE_Y, "height": self.computed["height"], **given, **share}

    @property
    def value_counts(self) -> bool:
        """Whether its heights may be counts."""
        return self.aggregate in ("none", "count")

    def all_names(self) -> Mapping[str, Computed]:
        """Those of all aggregates."""
        return {"x": PLACE_X, "y": PLACE_Y, **self.computed, **every_aggregate()}

    def summarises(self, mapped: Mapped) -> bool:
        """Unless heights are given."""
        return self.aggregate != "none" or mapped.get("x") is None or mapped.get("y") is None

    def uses_weight(self, mapped: Mapped) -> bool:
        """Unless heights are given."""
        return self.summarises(mapped)

    def value_drawn(self, context: Context) -> Drawn | None:
        """Heights as they are, aggregates, counts, or shares of them."""
        if self.arrange == "share":
            inside = context.titles["y"].inside if "y" in context.titles and self.aggregate != "count" else ""
            return Drawn(title=f"Share of {inside}" if inside else context.share_title())
        if "y" not in context.columns:
            return Drawn(title=context.weight_title())
        return aggregate_drawn(self.aggregate, context)

    def _arranged(self, context: Context) -> str:
        return self.arrange or ("stack" if is_amount(self.aggregate, context) else "side_by_side")

    def stands_side_by_side(self, context: Context) -> bool:
        """Where that is asked for, and for means and the like."""
        return self._arranged(context) == "side_by_side"

    def prepare(self, source: Source, context: Context) -> Self:
        """How bars of one slot share it, and the edges of intervals, the same in all panels and groups.

        Raises:
            OptionError: Means or the like are to stand on each other.
        """
        arrange = self._arranged(context)
        check_stack(arrange, self.aggregate, context)
        summed = self.aggregate != "none" or "y" not in context.columns
        edges = edges_of_bins(self.bins, self.edges, summed, source, context)
        return replace(self, arrange=arrange, bins=None, edges=edges)

    def finish(self, context: Context) -> Finish:
        """Counts, aggregates or given heights, arranged as those of all rows are."""
        counted = "y" not in context.columns
        how = "count" if counted else self.aggregate
        said = {"how": how, "arrange": self._arranged(context)}
        counts = how == "count" and self.arrange != "share"
        return Finish("bars", "row" if how == "none" else "place", said, counts=counts)

    def nothing(self, rows: Columns) -> Columns:
        """Bars without a length, which move none of those that stand on them."""
        return rows.put(y=np.zeros(len(rows)))

    def compute(self, source: Source, context: Context) -> Columns:
        """One row a bar, with its height in y and what it is in a column of its own name."""
        if context.discrete("x") and context.discrete("y"):
            raise KindError(
                context.where,
                "both x and y hold categories, so no bar has a height",
                "map one of them to color, or to the facet; without y the rows are counted",
            )
        source = in_bins(source, self.edges, context)
        if "y" not in source:
            bars = source.ask(Query((Total("count", "count"), Total("rows", "rows")), keys=("x",)))
            if len(bars) > 2 and (bars["rows"] == 1).all() and "weight" not in source:
                context.say(
                    "counts-of-one",
                    "every bar counts one row",
                    "if the heights stand in a column, map it to the other axis",
                    severity="warning",
                )
            return _with_shares(bars.dropped("rows").put(y=bars["count"], height=bars["count"]))
        if self.aggregate != "none":
            summary = summarised(source, self.aggregate, context)
            return _with_shares(summary.put(height=summary["y"]))
        rows = source.rows()
        groups = at_one_place(rows)
        if len(groups.starts) < len(rows):
            raise OptionError(
                context.where,
                f"{len(rows)} rows share {len(groups.starts)} bars; say what a bar shows of them",
                f"aggregate: {', '.join(AGGREGATES[1:])}; or leave {context.columns['y']!r} unmapped to count rows",
            )
        return _with_shares(rows.put(height=rows["y"], count=np.ones(len(rows))))

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:
        """The ends of every bar along and across."""
        slot = slots(rows)
        height = rows["y"]
        center, left, right = cells(rows, self.bar_width or 1.0, str(self.arrange), context, "bar")
        low, high = np.minimum(height, 0.0), np.maximum(height, 0.0)
        if self.arrange in ("stack", "share"):
            check_lengths(self.arrange, slot, rows.group, height, context)
            value = shares(slot, height) if self.arrange == "share" else height
            rows = rows.put(share=value) if self.arrange == "share" else rows
            low, high = stacked(slot, rows.group, value)
        return rows.put(x=center, x_low=left, x_high=right, y_low=low, y_high=high, y=high)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Rects]:
        """Rectangles."""
        yield from rectangles(rows, panel.looks)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def rectangles(rows: Columns, looks: Mapping[str, Look]) -> Iterator[Rects]:
    """Rectangles between the low and high ends of the rows, one batch for each opacity and border."""
    count = len(rows)
    if not count:
        return
    x = np.sort(np.column_stack([rows["x_low"], rows["x_high"]]), axis=1)
    y = np.sort(np.column_stack([rows["y_low"], rows["y_high"]]), axis=1)
    boxes = np.column_stack([x[:, 0], y[:, 0], x[:, 1] - x[:, 0], y[:, 1] - y[:, 0]])
    fills, which = combined(looks, ("color",), count)
    borders, border = combined(looks, ("outline", "line_width", "opacity"), count)
    for (outline, line_width, opacity), chosen in batches(Look(tuple(borders), border), count):
        stroke = Stroke(outline, line_width) if outline else None
        kept = None if which is None else which[chosen]
        yield Rects(boxes[chosen], tuple(fill for (fill,) in fills), kept, stroke, opacity, rows.numbers[chosen])


def square_key(box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
    """A filled square: how areas stand in a legend."""
    side = min(box.width, box.height)
    square = np.array([[box.x + (box.width - side) / 2, box.y + (box.height - side) / 2, side, side]])
    outline = looks["outline"].values[0] if "outline" in looks else None
    stroke = Stroke(outline, looks["line_width"].values[0]) if outline else None
    yield Rects(square, (looks["color"].values[0],), None, stroke, 1.0)


def _with_shares(rows: Columns) -> Columns:
    """Adds each bar's share of what the bars of its panel add up to."""
    if not len(rows):
        return rows.put(share=np.zeros(0))
    total = np.bincount(rows.panel, np.abs(rows["height"]))[rows.panel]
    return rows.put(share=np.divide(rows["height"], total, out=np.zeros(len(rows)), where=total > 0))
