"""Histograms: how often values fall where."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np

from facetine.core.arrange.bars import shares, stacked
from facetine.core.arrays import AnyArray
from facetine.core.asked import Asked
from facetine.core.columns import Columns
from facetine.core.query import Between, Bins, Query, Source, Total
from facetine.core.stats.binning import MOST_BINS, RULES, chosen_edges, rule_width
from facetine.core.stats.groups import grouped
from facetine.data.table import Levels
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, ink, option
from facetine.layers.bars import rectangles, square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import BinsBeside, Computed, Context, Drawn, Space
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look
from facetine.layers.marking import Filled
from facetine.layers.stacking import check_lengths
from facetine.layers.summary import COUNT, need_numbers, slots
from facetine.layers.values import template
from facetine.layers.widths import bins_option, edges_in_data, edges_of_width, edges_option, time_edges, width_option
from facetine.messages.errors import KindError, OptionError
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Rects
from facetine.scene.region import Region

# Bars narrower than this, in points, stand without a line between them.
_LEAST_PARTED = 3.0
MEASURES = ("count", "share", "density")


@dataclass(frozen=True, kw_only=True)
class Histogram(Filled, DrawnLayer):
    """Bars over intervals of a number or a time, the same intervals in all panels and groups."""

    verb: ClassVar[str] = "histogram"
    chosen_says: ClassVar[str] = "Follows: the same bins; shares and densities are of the chosen rows."
    examples: ClassVar[tuple[Example, ...]] = (Example("One number", 1, {"x": "mass_kg"}, [{"histogram": {"bins": 12}}]),)
    amounts: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    bordered: ClassVar[bool] = True
    computes_in: ClassVar[Space] = "data"
    from_zero: ClassVar[bool] = True
    stands: ClassVar[bool] = True
    filled_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "bin"
    can_turn: ClassVar[bool] = True
    because: ClassVar[str] = "edges are values; by default they are even on the axis, so that bins look even"
    weighs: ClassVar[str] = "a row counts as often as its weight says: sums of weights in the place of counts"
    computed: ClassVar[Mapping[str, Computed]] = {
        "count": COUNT,
        "share": Computed(
            "number", 'Of all rows of the panel; of its group with share_of="group", of its bin with arrange="share".'
        ),
        "density": Computed(),
        "low": Computed("x", column="x_from"),
        "high": Computed("x", column="x_till"),
    }

    outline: str | None = option(None, ink, "A thin line in the color of the sheet where it is not set.")
    bins: int | str | None = option(None, bins_option(1, 2000), "So many are of even width on the axis.")
    bin_width: str | float | None = option(None, width_option)
    edges: Levels | None = option(None, edges_option)
    rule: str = option("freedman_diaconis", choice(*RULES, name="rules"))
    measure: str = option("count", choice(*MEASURES, name="measures"))
    share_of: str = option("panel", choice("panel", "group", name="wholes"), "Stacked or not.")
    arrange: str = option("stack", choice("stack", "share", "overlay", name="arrangements"))
    value_labels: str | None = option(None, template)

    def lacks(self, mapped: Mapped) -> str | None:
        """One of x and y."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def names(self) -> Mapping[str, Computed]:
        """All that it computes."""
        return self.computed

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def value_drawn(self, context: Context) -> Drawn | None:
        """The measure."""
        if self.arrange == "share":
            return Drawn(title=context.share_title(" in each bin"))
        if self.measure == "share":
            return Drawn(title=context.share_title(" of each group" if self.share_of == "group" and context.groups else ""))
        return Drawn(title=context.weight_title() if self.measure == "count" else context.density_title("x"))

    def prepare(self, source: Source, context: Context) -> Self:
        """The edges, from all rows at once."""
        if "y" in source:
            raise KindError(
                context.where,
                "both x and y are mapped, but a histogram computes one of them",
                f'take one away with map={{"y": None}}, draw .cells(), or weigh rows by it: map={{"y": None, "weight": '
                f"{context.columns.get('y', '…')!r}}}",
            )
        need_numbers(context, "x")
        if sum(given is not None for given in (self.bins, self.bin_width, self.edges)) > 1:
            raise OptionError(context.where, "bins, bin_width and edges say the same thing", "give one of them")
        if self.share_of == "group" and self.arrange != "overlay" and len(context.groups) > 1:
            raise OptionError(
                context.where,
                f"shares of each group do not stand on each other: together they would be {len(context.groups)}",
                'arrange="overlay", or share_of="panel"',
            )
        axis = context.axis("x")
        if self.edges is not None:
            edges = edges_in_data(self.edges, axis, context.where)
        elif self.bin_width is not None or isinstance(self.bins, str):
            edges = edges_of_width(Asked(source, "x").ends, self.bin_width or str(self.bins), axis, context.where)
        else:
            edges = _chosen(source, self.bins, self.rule, context)
        return replace(self, edges=tuple(edges.tolist()))

    def finish(self, context: Context) -> Finish:  # noqa: ARG002
        """Counts of the same bins, as shares or densities of the chosen rows."""
        said = {"measure": self.measure, "whole": self.share_of, "arrange": self.arrange}
        return Finish("histogram", "bin", said, counts=self.measure == "count" and self.arrange != "share")

    def compute(self, source: Source, context: Context) -> Columns:
        """One row an interval of each group, also where nothing fell."""
        edges = np.array(self.edges)
        whole = source.ask(
            Query(
                (Total("total", "count"), Total("rows", "rows"), Total("low", "min", "x"), Total("high", "max", "x")),
                by_group=False,
            )
        )
        if len(whole) and (whole["low"].min() < edges[0] or whole["high"].max() > edges[-1]):
            inside = source.ask(Query((Total("rows", "rows"),), filters=(Between("x", edges[0], edges[-1]),), by_group=False))
            outside = int(whole["rows"].sum() - inside["rows"].sum())
            context.say("rows-outside-edges", f"{so_many_rows(outside)} outside the edges not counted in any bin")
        bins = Bins("x", edges)
        counts = source.ask(Query((Total("count", "count"),), bins=(bins,)))
        totals = np.zeros(int(whole.panel.max()) + 1 if len(whole) else 0)
        totals[whole.panel] = whole["total"]
        place, groups = counts["bin of x"], grouped(counts.panel, counts.group)
        own = np.repeat(np.add.reduceat(counts["count"], groups.starts), groups.sizes) if len(counts) else totals
        total = own if self.share_of == "group" else totals[counts.panel]
        share = np.divide(counts["count"], total, out=counts["count"].copy(), where=total > 0)
        low, high = edges[:-1][place], edges[1:][place]
        bars = counts.dropped("bin of x").put(
            x=low / 2 + high / 2, x_low=low, x_high=high, x_from=low, x_till=high,
            share=share, density=share / _widths(edges, context)[place],
        )  # fmt: skip
        return bars.put(y=bars[self.measure])

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:
        """Bars on top of each other, or over each other."""
        low, high = np.zeros(len(rows)), rows["y"]
        if self.arrange != "overlay" and len(rows):
            check_lengths(self.arrange, slots(rows), rows.group, high, context)
            value = shares(slots(rows), high) if self.arrange == "share" else high
            rows = rows.put(share=value) if self.arrange == "share" else rows
            low, high = stacked(slots(rows), rows.group, value)
        return rows.put(y_low=low, y_high=high, y=high)

    def spanning(self, rows: Columns) -> Columns:
        """Bins in which something fell: the others are those of other panels."""
        return rows.take(rows["count"] > 0)

    def labelled_rows(self, rows: Columns) -> Columns:
        """Bars that have a height."""
        numbered = rows.put(**{"row number": np.arange(len(rows))})
        return numbered.take(rows["count"] > 0)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Rects]:
        """Rectangles where something fell, set off from each other by a thin line of the sheet's color."""
        filled = rows["count"] > 0
        looks = {name: look.take(filled) for name, look in panel.looks.items()}
        widths = np.abs(rows["x_high"] - rows["x_low"])
        if looks["outline"] == Look((None,)) and len(widths) and widths.min() > _LEAST_PARTED:
            looks |= {"outline": Look((panel.ground,)), "line_width": Look((0.4,))}
        yield from rectangles(rows.take(filled), looks)

    def bins_of_axis(self) -> BinsBeside | None:
        """The edges of its bins, and what their densities are parts of."""
        return BinsBeside(np.array(self.edges), self.measure == "density" and self.share_of == "panel")

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def _chosen(source: Source, bins: int | str | None, rule: str, context: Context) -> AnyArray:
    """Edges that are even on the axis: round multiples, or steps of the calendar, chosen from all rows."""
    axis = context.axis("x")
    spread = Asked(source, "x", None if axis.even else axis.transform)
    reach = spread.high / 2 - spread.low / 2 if spread.rows else 0.0
    if bins is None and 0 < reach < 1e300:
        asked = rule_width(spread, rule) / 2  # type: ignore[arg-type]
        if asked > 0 and reach / asked > MOST_BINS:
            context.say(
                "bins-limited",
                f"the rule asks for {reach / asked:,.0f} bins; {MOST_BINS:,} are drawn",
                "bin_width= or limits= look closer",
            )
    if axis.kind == "time" and bins is None and spread.rows:
        return time_edges(spread.low, spread.high, rule_width(spread, rule), axis.zone)  # type: ignore[arg-type]
    edges = chosen_edges(spread, bins=None if bins is None else int(bins), rule=rule)  # type: ignore[arg-type]
    if axis.even:
        return edges
    there = axis.transform.inverse(edges)
    if spread.rows:
        # The way to the axis and back must not lose the outermost values.
        low, high = Asked(source, "x").ends.tolist()
        there[0], there[-1] = min(there[0], low), max(there[-1], high)
    return there


def _widths(edges: AnyArray, context: Context) -> AnyArray:
    """The width of each bin in the unit of the axis: days for times, decades on a log axis."""
    axis = context.axis("x")
    return np.diff(axis.transform.forward(edges)) / axis.unit_length
