"""Cells: a plane divided into squares or hexagons, each in the color of what it holds."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, NamedTuple, Self

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.asked import Asked
from facetine.core.columns import Columns, joined
from facetine.core.query import Between, Bins, InBins, Query, Source, Total
from facetine.core.stats.binning import chosen_edges
from facetine.core.stats.cells import HEXAGON, counted_hexagons
from facetine.core.stats.groups import AGGREGATES, aggregated, grouped
from facetine.data.table import Levels
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.options import choice, flag, ink, number, option
from facetine.layers.bars import rectangles, square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn, Space
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look, batches
from facetine.layers.summary import COUNT, PLACE_X, PLACE_Y, aggregate_drawn
from facetine.layers.values import template
from facetine.layers.widths import bins_option, edges_in_data, edges_option, usual_edges
from facetine.messages.errors import KindError, OptionError, told
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Mark, Paths, Rects, Stroke
from facetine.scene.region import Region

# Cells of about this size, in points, show both the shape of the data and their own count.
_SIDE = 6.5
_MOST_PLACES = 400
_MOST_CELLS = 1_000_000


def _edge_lists(value: object, where: str) -> tuple[Levels | None, Levels | None]:
    if getattr(value, "ndim", 1) == 0 or not isinstance(value, list | tuple | np.ndarray) or len(value) != 2:
        raise OptionError(
            where, f"are two lists, for x and for y, not {told(value)}", "such as ([0, 10, 50], None)", of_option=True
        )
    x, y = (None if edges is None else edges_option(edges, where) for edges in value)
    return x, y


_COUNT_THEM = 'map={"color": None} counts all rows, with .facet(…) those of each category; .contours() draws lines of each'


class _Cuts(NamedTuple):
    """The edges of cells along an axis."""

    at: FloatArray
    """Shape (k + 1,), places on the axis."""
    said: bool
    """Whether the analyst gave them."""


@dataclass(frozen=True, kw_only=True)
class Cells(DrawnLayer):
    """A heat map: with color mapped, one cell for each x and y as given; without it, counts of the rows in each."""

    verb: ClassVar[str] = "cells"
    chosen_says: ClassVar[str] = "Follows: counts and aggregates in squares, and given colors. Of all rows: hexagons."
    examples: ClassVar[tuple[Example, ...]] = (
        Example("One category, or two", 3, {"x": "rind", "y": "cellar"}, [{"cells": {"legend": False, "outline": "white"}}]),
        Example(
            "Two numbers",
            4,
            {"x": "moisture_pct", "y": "ph"},
            [{"cells": {"cell": "hex", "bins": 14, "legend": False}}],
            called='cells(cell="hex")',
        ),
    )
    undivided: ClassVar[bool] = True
    amounts: ClassVar[bool] = True
    color_is_value: ClassVar[bool] = True
    values_inside: ClassVar[bool] = True
    keeps_groups: ClassVar[bool] = False
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    bordered: ClassVar[bool] = True
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.5}
    computes_in: ClassVar[Space] = "axis"
    filled_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "cell"
    computed_looks: ClassVar[tuple[str, ...]] = ("color",)
    because: ClassVar[str] = "cells look even"
    weighs: ClassVar[str] = "a row counts as often as its weight says: sums of weights, Σwx, weighted means and medians"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "count": COUNT, "share": Computed("number", "Of all rows of the panel."),
        "value": Computed("color", column="color"),
    }  # fmt: skip

    color: str | None = option(None, ink, "One for all cells.")
    outline: str | None = option(None, ink, "None where it is not set.")
    line_width: float | None = option(None, number(0, 100), "0.5 by default.")
    opacity: float | None = option(None, number(0, 1), "1 by default.")
    cell: str = option("square", choice("square", "hex", name="cells"))
    bins: int | str | None = option(
        None, bins_option(1, 1000), "Along each number axis; about one for each 6.5 points by default."
    )
    all_pairs: bool = option(False, flag)
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "In a cell, of color.")
    gap: float = option(0.0, number(0, 0.9))
    value_labels: str | None = option(None, template)
    edges: Any = option(None, _edge_lists)

    def names(self) -> Mapping[str, Computed]:
        """With the aggregate."""
        extra = {} if self.aggregate in ("none", "count") else {self.aggregate: Computed("color", column="color")}
        return {**self.computed, **extra}

    def all_names(self) -> Mapping[str, Computed]:
        """With all aggregates."""
        extra: dict[str, Computed] = {how: Computed("color", column="color") for how in AGGREGATES[1:] if how != "count"}
        return {**self.computed, **extra}

    def shows(self, mapped: Mapped) -> tuple[str, ...]:
        """Opacities only where each cell is a row."""
        given = mapped.get("color") is not None and self.aggregate == "none"
        return self.takes if given else tuple(name for name in self.takes if name != "opacity")

    def uses_weight(self, mapped: Mapped) -> bool:
        """Unless colors are given."""
        return mapped.get("color") is None or self.aggregate != "none"

    def results(self, mapped: Mapped) -> bool:
        """Where rows are counted or taken together."""
        return mapped.get("color") is None or self.aggregate != "none" or self.cell == "hex"

    def look_drawn(self, context: Context) -> Drawn:
        """Colors as given, aggregates, or counts."""
        if "color" not in context.columns:
            return Drawn(title=context.weight_title())
        return aggregate_drawn(self.aggregate, context)

    def prepare(self, source: Source, context: Context) -> Self:
        """The edges along both axes, from all rows at once, as places on them."""
        spreads = {axis: Asked(source, axis) for axis in ("x", "y") if not context.discrete(axis)}
        there = all(spread.rows for spread in spreads.values())
        edges = tuple(
            _Cuts(self._edges(spreads[axis], place, axis, context), self.edges is not None and self.edges[place] is not None)
            if axis in spreads and spreads[axis].rows
            else None
            for place, axis in enumerate(("x", "y"))
        )
        if self.cell == "hex" and any(edge is None for edge in edges) and there:
            raise OptionError(context.where, "hexagons need numbers on both axes", 'leave out cell="hex"')
        return replace(self, edges=edges)

    def prepare_apart(self, along_x: Source, along_y: Source, context: Context) -> Self:
        """The edges along x and those along y, each from the rows of all panels that share that axis."""
        across, up = self.prepare(along_x, context), self.prepare(along_y, context)
        return replace(across, edges=(across.edges[0] if across.edges else None, up.edges[1] if up.edges else None))

    def _edges(self, spread: Asked, place: int, name: str, context: Context) -> FloatArray:
        if self.edges is not None and self.edges[place] is not None:
            if self.cell == "hex":
                raise OptionError(context.where, "hexagons have no edges", "bins= says how many")
            axis = context.axis(name)
            return axis.transform.forward(edges_in_data(self.edges[place], axis, context.where))
        side = _SIDE * (math.sqrt(3) / 2 if self.cell == "hex" and place else 1.0)
        axis, wanted = context.axis(name), max(5, round(context.room[place] / side))
        if axis.kind == "time" and self.cell == "square":
            return usual_edges(spread, axis, self.bins, context.where, wanted)
        if isinstance(self.bins, str):
            raise OptionError(context.where, f"bins={self.bins!r} is a width of times, in squares", "bins= says how many")
        return chosen_edges(spread, bins=self.bins or wanted)

    def finish(self, context: Context) -> Finish | None:
        """Counts or aggregates in squares, or the cells of rows; hexagons stay as all rows make them."""
        if self.cell == "hex":
            return None
        if self.aggregate == "none" and "color" in context.columns:
            return Finish("rows", "row")
        how = "count" if "color" not in context.columns else self.aggregate
        return Finish("cells", "cell", {"how": how, "every": self.all_pairs}, counts=how == "count")

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each cell, with its color."""
        if context.discrete("color") and self.aggregate != "none":
            raise KindError(
                context.where,
                f"no {self.aggregate} of {context.columns['color']!r}, which holds categories",
                _COUNT_THEM,
            )
        if not Asked(source, "x").rows:
            none = np.zeros(0)
            return source.rows().put(x_low=none, x_high=none, y_low=none, y_high=none, color=none, count=none, share=none)
        if self.cell == "hex":
            return self._hexagons(source.rows(), context)
        return self._given(source, context) if "color" in source else self._counted(source, context)

    def cell_edges(self, source: Source, context: Context) -> Mapping[str, FloatArray] | None:
        """Those of all cells, also where nothing lies."""
        if self.cell != "square" or not Asked(source, "x").rows:
            return None
        given = "color" in source
        return {
            axis: self._grid(source, place, axis, context) if given else self._slots(source, place)
            for place, axis in enumerate(("x", "y"))
        }

    def _slots(self, source: Source, place: int) -> FloatArray:
        """The edges of all cells along an axis."""
        edges = self.edges[place]
        if edges is None:
            count = int(Asked(source, "xy"[place]).high) + 1
            return np.arange(count + 1).astype(np.float64) - 0.5
        known: FloatArray = edges.at
        return known

    def _counted(self, source: Source, context: Context) -> Columns:
        edges_x, edges_y = self._slots(source, 0), self._slots(source, 1)
        _say_outside(source, edges_x, edges_y, context)
        pairs = (len(edges_x) - 1) * (len(edges_y) - 1)
        if self.all_pairs:
            _check_pairs(pairs, context)
        total = (Total("count", "count"),)
        if pairs <= _MOST_CELLS:
            names, question = (
                ("bin of x", "bin of y"),
                Query(total, bins=(Bins("x", edges_x), Bins("y", edges_y)), by_group=False),
            )
        else:
            # Most of so many cells are empty: those alone are asked for that are not.
            names, inside = ("across", "up"), _inside(edges_x, edges_y)
            derived = (InBins("across", "x", edges_x), InBins("up", "y", edges_y))
            question = Query(total, keys=names, filters=inside, by_group=False, derived=derived)
        counts = source.ask(question)
        column, row = (counts[name].astype(np.int64) for name in names)
        kept = np.lexsort((column, row, counts.panel))
        if not self.all_pairs:
            kept = kept[counts["count"][kept] > 0]
        column, row, weight, panel = column[kept], row[kept], counts["count"][kept], counts.panel[kept]
        totals = np.bincount(panel, weight)
        base = Columns({}, panel, np.zeros(len(row), np.int64))
        table = base.put(**self._boxes(column, row, edges_x, edges_y))
        return table.put(count=weight, share=weight / np.maximum(totals[panel], 1e-300), color=weight)

    def _boxes(self, column: IntArray, row: IntArray, edges_x: FloatArray, edges_y: FloatArray) -> dict[str, AnyArray]:
        low_x, high_x, low_y, high_y = edges_x[column], edges_x[column + 1], edges_y[row], edges_y[row + 1]
        trim_x, trim_y = self.gap / 2 * (high_x - low_x), self.gap / 2 * (high_y - low_y)
        return {
            "x": (low_x + high_x) / 2, "y": (low_y + high_y) / 2,
            "x_low": low_x + trim_x, "x_high": high_x - trim_x, "y_low": low_y + trim_y, "y_high": high_y - trim_y,
        }  # fmt: skip

    def _given(self, source: Source, context: Context) -> Columns:
        """Colors as they are, one row a cell; numbers that lie on no grid are binned where an aggregate is said."""
        edges_x, edges_y = (self._grid(source, place, axis, context) for place, axis in enumerate(("x", "y")))
        _say_outside(source, edges_x, edges_y, context)
        inside = _inside(edges_x, edges_y)
        how = self.aggregate
        totals = [Total("count", "count"), Total("rows", "rows")]
        if how != "none":
            totals.append(Total("result", how, "color"))
        cells = source.ask(
            Query(
                tuple(totals), keys=("across", "up"), filters=inside, by_group=False,
                derived=(InBins("across", "x", edges_x), InBins("up", "y", edges_y)),
            )
        )  # fmt: skip
        rows = int(cells["rows"].sum())
        if len(cells) < rows and how == "none":
            raise _several(rows, len(cells), context)
        column, row, count = cells["across"].astype(np.int64), cells["up"].astype(np.int64), cells["count"]
        color = cells["result"] if how != "none" else cells["color"]
        total = np.bincount(cells.panel, count)[cells.panel]
        values = {name: array for name, array in cells.values.items() if name not in ("across", "up", "rows", "result")}
        table = Columns(
            {**values, **self._boxes(column, row, edges_x, edges_y)}, cells.panel, np.zeros(len(cells), np.int64), cells.row
        )
        table = table.put(color=color, count=count, share=count / total)
        return self._all(table, column, row, edges_x, edges_y, context) if self.all_pairs else table

    def _grid(self, source: Source, place: int, axis: str, context: Context) -> FloatArray:
        """The edges of given cells along an axis."""
        if context.discrete(axis):
            return self._slots(source, place)
        values = source.ask(Query(keys=(axis,), by_panel=False, by_group=False))[axis]
        many = len(values) > _MOST_PLACES
        if many and self.aggregate == "none":
            raise OptionError(
                context.where,
                f"{context.columns[axis]!r} has more than {_MOST_PLACES} different values, so the rows lie on no grid of cells",
                _COUNT_THEM
                if context.discrete("color")
                else f"aggregate: {', '.join(AGGREGATES[1:])}; then its values are binned",
            )
        cuts = self.edges[place] if self.edges is not None else None
        binned = many or self.bins is not None or (cuts is not None and cuts.said)
        return self._slots(source, place) if binned else _own_grid(values)

    def _all(
        self, rows: Columns, column: IntArray, row: IntArray, edges_x: FloatArray, edges_y: FloatArray, context: Context
    ) -> Columns:
        """Adds the combinations that do not occur: their counts are zero, their given values are missing."""
        counts = "color" not in context.columns or self.aggregate == "count"
        parts = [rows]
        _check_pairs(len(np.unique(rows.panel)) * (len(edges_x) - 1) * (len(edges_y) - 1), context)
        for panel in np.unique(rows.panel).tolist():
            here = rows.panel == panel
            there = np.zeros((len(edges_y) - 1, len(edges_x) - 1), bool)
            there[row[here], column[here]] = True
            absent_row, absent_column = np.nonzero(~there)
            if not len(absent_row):
                continue
            blank = rows.take(here).take(np.zeros(len(absent_row), np.int64))
            none = np.zeros(len(absent_row))
            color = none if counts else np.full(len(none), np.nan) if not context.discrete("color") else np.full(len(none), -1)
            parts.append(
                blank.put(**self._boxes(absent_column, absent_row, edges_x, edges_y), color=color, count=none, share=none)
            )
        return joined(parts)

    def _hexagons(self, rows: Columns, context: Context) -> Columns:
        if "color" in rows and self.aggregate == "none":
            raise _several(len(rows), -1, context)
        x, y = (cuts.at for cuts in self.edges)
        width, height = float(np.ptp(x)) / (len(x) - 1), float(np.ptp(y)) / (len(y) - 1)
        parts = []
        for panel in np.unique(rows.panel).tolist():
            here = rows.take(rows.panel == panel)
            weights = here.get("weight")
            hexagons = counted_hexagons(here["x"], here["y"], width, height, weights)
            size = len(hexagons.x)
            base = Columns({}, np.full(size, panel), np.zeros(size, np.int64))
            color = hexagons.weight
            if "color" in here:
                color = aggregated(here["color"].astype(float), grouped(hexagons.cell), self.aggregate, weights)
            parts.append(
                base.put(
                    x=hexagons.x, y=hexagons.y, x_low=hexagons.x - width / 2, x_high=hexagons.x + width / 2,
                    y_low=hexagons.y - height * 2 / 3, y_high=hexagons.y + height * 2 / 3,
                    count=hexagons.weight, share=hexagons.weight / hexagons.weight.sum(), color=color,
                )
            )  # fmt: skip
        return joined(parts)

    def labelled_rows(self, rows: Columns) -> Columns:
        """Every cell."""
        return rows.put(**{"row number": np.arange(len(rows))})

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Rectangles, or hexagons."""
        if not len(rows):
            return
        if self.cell == "square":
            yield from rectangles(rows, panel.looks)
            return
        corners = np.array(HEXAGON)
        width = np.abs(rows["x_high"] - rows["x_low"])
        height = np.abs(rows["y_high"] - rows["y_low"])
        shape = np.stack([corners[:, 0] * 1.0, corners[:, 1] * np.sqrt(3) / 2], axis=1)
        color, outline = panel.looks["color"], panel.looks["outline"].values[0]
        border = Stroke(outline, panel.looks["line_width"].values[0]) if outline is not None else None
        for shade, rows_of_it in batches(color, len(rows)):
            chosen = np.arange(len(rows))[rows_of_it]
            points = np.stack(
                [
                    rows["x"][chosen, None] + shape[None, :, 0] * width[chosen, None],
                    rows["y"][chosen, None] + shape[None, :, 1] * height[chosen, None],
                ],
                axis=2,
            ).reshape(-1, 2)
            starts = np.arange(0, len(points), 6)
            yield Paths(
                points, starts, border, shade, panel.looks["opacity"].values[0], closed=True, rows=rows.numbers[chosen].repeat(6)
            )

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def _own_grid(values: FloatArray) -> FloatArray:
    """Edges of cells about the values that occur, as wide as the smallest distance between two."""
    width = float(np.diff(values).min()) if len(values) > 1 else 1.0
    # The values that lie on the grid between, so that no cell touches two.
    steps = np.rint((values - values[0]) / width)
    if len(values) > 1 and np.abs(values - values[0] - steps * width).max() <= 1e-6 * width and steps[-1] <= 100_000:
        return np.asarray(values[0] + (np.arange(int(steps[-1]) + 2) - 0.5) * width)
    # On no even grid each value has a cell of its own; cells between them stay empty.
    return np.column_stack([values - width / 2, values + width / 2]).ravel()


def _several(rows: int, cells: int, context: Context) -> OptionError:
    said = f"share {cells} cells" if cells >= 0 else "share hexagons"
    if context.discrete("color"):
        return OptionError(context.where, f"{rows} rows {said}, and color shows categories", _COUNT_THEM)
    return OptionError(
        context.where,
        f"{rows} rows {said}; say what color shows of them",
        f"aggregate: {', '.join(AGGREGATES[1:])}; or leave color unmapped to count rows",
    )


def _inside(edges_x: FloatArray, edges_y: FloatArray) -> tuple[Between, Between]:
    return Between("x", edges_x[0], edges_x[-1]), Between("y", edges_y[0], edges_y[-1])


def _check_pairs(count: int, context: Context) -> None:
    if count > _MOST_CELLS:
        said = f"all_pairs=True makes {count:,} cells"
        raise OptionError(context.where, said, f"{_MOST_CELLS:,} are the most; top=… or .keep(…) leaves levels out")


def _say_outside(source: Source, edges_x: FloatArray, edges_y: FloatArray, context: Context) -> None:
    """Says of each panel how many of its rows lie in no cell."""
    rows = (Total("rows", "rows"),)
    inside = (Between("x", edges_x[0], edges_x[-1]), Between("y", edges_y[0], edges_y[-1]))
    whole, kept = source.ask(Query(rows, by_group=False)), source.ask(Query(rows, filters=inside, by_group=False))
    left = dict(zip(kept.panel.tolist(), kept["rows"].tolist(), strict=True))
    for row, (panel, count) in enumerate(zip(whole.panel.tolist(), whole["rows"].tolist(), strict=True)):
        outside = int(count - left.get(panel, 0.0))
        if outside:
            said = f"{so_many_rows(outside)} outside the edges not counted in any cell"
            context.say("rows-outside-edges", said, part=whole.take(np.array([row])))
