"""Cells: a plane divided into squares or hexagons, each in the color of what it holds."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Self

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.columns import Columns, joined
from facetine.core.stats.binning import chosen_edges
from facetine.core.stats.cells import HEXAGON, counted_hexagons, counted_squares
from facetine.core.stats.groups import AGGREGATES, aggregated, grouped
from facetine.errors import KindError, OptionError, told
from facetine.findings import so_many_rows
from facetine.grammar.options import choice, flag, ink, number, option, whole
from facetine.layers.bars import rectangles, square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn, Space
from facetine.layers.look import Look, batches
from facetine.layers.summary import COUNT, PLACE_X, PLACE_Y, aggregate_drawn
from facetine.layers.values import template
from facetine.layers.widths import edges_in_data, edges_option
from facetine.scene.marks import Mark, Paths, Rects, Region

# Cells of about this size, in points, show both the shape of the data and their own count.
_SIDE = 6.5
_MOST_PLACES = 400


def _edge_lists(value: Any, where: str) -> tuple[Any, Any]:
    if getattr(value, "ndim", 1) == 0 or not isinstance(value, list | tuple | np.ndarray) or len(value) != 2:
        raise OptionError(f"{where} are two lists, for x and for y, not {told(value)}", "such as ([0, 10, 50], None)")
    x, y = (None if edges is None else edges_option(edges, where) for edges in value)
    return x, y


@dataclass(frozen=True, kw_only=True)
class Cells(DrawnLayer):
    """A heat map: with color mapped, one cell for each x and y as given; without it, counts of the rows in each."""

    verb: ClassVar[str] = "cells"
    values_inside: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity")
    computes_in: ClassVar[Space] = "axis"
    filled_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "cell"
    computed_looks: ClassVar[tuple[str, ...]] = ("color",)
    because: ClassVar[str] = "cells look even"
    weighs: ClassVar[str] = "a row counts as often as its weight says: sums of weights, Σwx, weighted means and medians"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "count": COUNT, "share": Computed("the share of all rows of the panel"),
        "value": Computed("what the color shows", "color", "color"),
    }  # fmt: skip

    color: str | None = option(None, ink, "One color for all cells.")
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 1 by default.")
    cell: str = option("square", choice("square", "hex", name="cells"), "The shape of cells of numbers.")
    bins: int | None = option(None, whole(1, 1000), "Cells along each number axis; about one for each 6.5 points by default.")
    all_pairs: bool = option(False, flag, "Whether combinations that do not occur are drawn too.")
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What color shows of several rows in one cell.")
    gap: float = option(0.0, number(0, 0.9), "Room between cells, as a share of their size.")
    value_labels: str | None = option(None, template, 'What is written in the cells, such as "{count}".')
    edges: Any = option(
        None, _edge_lists, "Ends of cells along x and y in the unit of the data: two lists, either of which may be None."
    )

    def names(self) -> Mapping[str, Computed]:
        """With the aggregate."""
        extra = (
            {}
            if self.aggregate in ("none", "count")
            else {self.aggregate: Computed(f"the {self.aggregate} of color", "color", "color")}
        )
        return {**self.computed, **extra}

    def all_names(self) -> Mapping[str, Computed]:
        """With all aggregates."""
        extra: dict[str, Computed] = {
            how: Computed(f"the {how} of color", "color", "color") for how in AGGREGATES[1:] if how != "count"
        }
        return {**self.computed, **extra}

    def shows(self, mapped: Mapping[str, Any]) -> tuple[str, ...]:
        """Opacities only where each cell is a row."""
        given = mapped.get("color") is not None and self.aggregate == "none"
        return self.takes if given else tuple(name for name in self.takes if name != "opacity")

    def uses_weight(self, mapped: Mapping[str, Any]) -> bool:
        """Unless colors are given."""
        return mapped.get("color") is None or self.aggregate != "none"

    def results(self, mapped: Mapping[str, Any]) -> bool:
        """Where rows are counted or taken together."""
        return mapped.get("color") is None or self.aggregate != "none" or self.cell == "hex"

    def look_drawn(self, context: Context) -> Drawn:
        """Colors as given, aggregates, or counts."""
        if "color" not in context.columns:
            return Drawn(title=context.weight_title())
        return aggregate_drawn(self.aggregate, context)

    def prepare(self, rows: Columns, context: Context) -> Self:
        """The edges along both axes, from all rows at once, as places on them."""
        edges = tuple(
            None if context.discrete(axis) or not len(rows) else self._edges(rows[axis], place, axis, context)
            for place, axis in enumerate(("x", "y"))
        )
        if self.cell == "hex" and None in [None if edge is None else 1 for edge in edges] and len(rows):
            raise OptionError(f"{context.where}: hexagons need numbers on both axes", 'leave out cell="hex"')
        return replace(self, edges=edges)

    def prepare_apart(self, along_x: Columns, along_y: Columns, context: Context) -> Self:
        """The edges along x and those along y, each from the rows of all panels that share that axis."""
        across, up = self.prepare(along_x, context), self.prepare(along_y, context)
        return replace(across, edges=(across.edges[0] if across.edges else None, up.edges[1] if up.edges else None))

    def _edges(self, values: FloatArray, place: int, name: str, context: Context) -> FloatArray:
        if self.edges is not None and self.edges[place] is not None:
            if self.cell == "hex":
                raise OptionError(f"{context.where}: hexagons have no edges", "bins= says how many")
            axis = context.axis(name)
            return axis.transform.forward(edges_in_data(self.edges[place], axis, context.where))
        side = _SIDE * (math.sqrt(3) / 2 if self.cell == "hex" and place else 1.0)
        return chosen_edges(values, bins=self.bins or max(5, round(context.room[place] / side)))

    def compute(self, rows: Columns, context: Context) -> Columns:
        """A row for each cell, with its color."""
        if not len(rows):
            none = np.zeros(0)
            return rows.put(x_low=none, x_high=none, y_low=none, y_high=none, color=none, count=none, share=none)
        if context.discrete("color") and self.aggregate != "none":
            raise KindError(
                f"{context.where}: no {self.aggregate} of {context.columns['color']!r}, which holds categories",
                "leave color unmapped to count rows",
            )
        if self.cell == "hex":
            return self._hexagons(rows, context)
        if "color" in rows:
            return self._given(rows, context)
        parts = [self._counted(rows.take(rows.panel == panel), context) for panel in np.unique(rows.panel).tolist()]
        return joined(parts)

    def _slots(self, values: FloatArray, axis: int) -> tuple[IntArray, FloatArray]:
        """Which cell each value lies in, −1 for none, and the edges of all."""
        edges = self.edges[axis]
        if edges is None:
            count = int(values.max()) + 1
            return values.astype(np.int64), np.arange(count + 1).astype(np.float64) - 0.5
        place = np.clip(np.searchsorted(edges, values, side="right") - 1, 0, len(edges) - 2)
        return np.where((values < edges[0]) | (values > edges[-1]), -1, place), edges

    def _counted(self, rows: Columns, context: Context) -> Columns:
        across, edges_x = self._slots(rows["x"], 0)
        up, edges_y = self._slots(rows["y"], 1)
        _say_outside((across < 0) | (up < 0), rows, context)
        counts = counted_squares(rows["x"].astype(float), rows["y"].astype(float), edges_x, edges_y, rows.get("weight"))
        row, column = np.nonzero(counts > 0) if not self.all_pairs else np.indices(counts.shape).reshape(2, -1)
        base = Columns({}, np.full(len(row), rows.panel[0]), np.zeros(len(row), np.int64))
        made = base.put(**self._boxes(column, row, edges_x, edges_y))
        weight = counts[row, column]
        return made.put(count=weight, share=weight / max(counts.sum(), 1e-300), color=weight)

    def _boxes(self, column: IntArray, row: IntArray, edges_x: FloatArray, edges_y: FloatArray) -> dict[str, AnyArray]:
        low_x, high_x, low_y, high_y = edges_x[column], edges_x[column + 1], edges_y[row], edges_y[row + 1]
        trim_x, trim_y = self.gap / 2 * (high_x - low_x), self.gap / 2 * (high_y - low_y)
        return {
            "x": (low_x + high_x) / 2, "y": (low_y + high_y) / 2,
            "x_low": low_x + trim_x, "x_high": high_x - trim_x, "y_low": low_y + trim_y, "y_high": high_y - trim_y,
        }  # fmt: skip

    def _given(self, rows: Columns, context: Context) -> Columns:
        """Colors as they are, one row a cell; numbers that lie on no grid are binned where an aggregate is said."""
        grid: list[tuple[IntArray, FloatArray]] = []
        for place, axis in enumerate(("x", "y")):
            many = not context.discrete(axis) and len(np.unique(rows[axis])) > _MOST_PLACES
            if many and self.aggregate == "none":
                raise OptionError(
                    f"{context.where}: {context.columns[axis]!r} has more than {_MOST_PLACES} different values, so the "
                    "rows lie on no grid of cells",
                    f"aggregate: {', '.join(AGGREGATES[1:])}; then its values are binned",
                )
            binned = many or self.bins is not None or (self.edges is not None and self._said_edges(place))
            grid.append(self._slots(rows[axis], place) if binned or context.discrete(axis) else _own_grid(rows[axis]))
        (across, edges_x), (up, edges_y) = grid
        outside = (across < 0) | (up < 0)
        if outside.any():
            _say_outside(outside, rows, context)
            rows, across, up = rows.take(~outside), across[~outside], up[~outside]
        groups = grouped(rows.panel, across, up)
        if len(groups.starts) < len(rows) and self.aggregate == "none":
            raise _several(rows, len(groups.starts), context)
        weights = rows.get("weight")
        value = (
            rows["color"]
            if self.aggregate == "none"
            else aggregated(rows["color"].astype(float), groups, self.aggregate, weights)
        )
        value = value[groups.first] if self.aggregate == "none" else value
        count = aggregated(rows["x"], groups, "count", weights)
        column, row = across[groups.first], up[groups.first]
        rows = rows.take(groups.first)
        total = np.bincount(rows.panel, count)[rows.panel]
        made = Columns({**rows.values, **self._boxes(column, row, edges_x, edges_y)}, rows.panel, np.zeros(len(rows), np.int64))
        made = made.put(color=value, count=count, share=count / total)
        return self._all(made, column, row, edges_x, edges_y, context) if self.all_pairs else made

    def _said_edges(self, place: int) -> bool:
        """Whether edges were said; by now those that were not are filled in, as even ones."""
        edges = self.edges[place]
        return edges is not None and np.ptp(np.diff(edges)) > 1e-9 * np.ptp(edges)

    def _all(
        self, rows: Columns, column: IntArray, row: IntArray, edges_x: FloatArray, edges_y: FloatArray, context: Context
    ) -> Columns:
        """Adds the combinations that do not occur: their counts are zero, their given values are missing."""
        counts = "color" not in context.columns or self.aggregate == "count"
        parts = [rows]
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
            raise _several(rows, -1, context)
        x, y = self.edges
        width, height = float(np.ptp(x)) / (len(x) - 1), float(np.ptp(y)) / (len(y) - 1)
        parts = []
        for panel in np.unique(rows.panel).tolist():
            here = rows.take(rows.panel == panel)
            weights = here.get("weight")
            found = counted_hexagons(here["x"], here["y"], width, height, weights)
            size = len(found.x)
            base = Columns({}, np.full(size, panel), np.zeros(size, np.int64))
            color = found.weight
            if "color" in here:
                color = aggregated(here["color"].astype(float), grouped(found.cell), self.aggregate, weights)
            parts.append(
                base.put(
                    x=found.x, y=found.y, x_low=found.x - width / 2, x_high=found.x + width / 2,
                    y_low=found.y - height * 2 / 3, y_high=found.y + height * 2 / 3,
                    count=found.weight, share=found.weight / found.weight.sum(), color=color,
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
            yield from rectangles(rows, dict(panel.looks) | _PLAIN)
            return
        corners = np.array(HEXAGON)
        width = np.abs(rows["x_high"] - rows["x_low"])
        height = np.abs(rows["y_high"] - rows["y_low"])
        shape = np.stack([corners[:, 0] * 1.0, corners[:, 1] * np.sqrt(3) / 2], axis=1)
        color = panel.looks["color"]
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
                points, starts, None, shade, panel.looks["opacity"].values[0], closed=True, rows=rows.numbers[chosen].repeat(6)
            )

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, dict(looks) | _PLAIN)


_PLAIN = {"outline": Look((None,)), "line_width": Look((0.0,))}


def _own_grid(values: FloatArray) -> tuple[IntArray, FloatArray]:
    """Cells about the values that occur, as wide as the smallest distance between two."""
    found, place = np.unique(values, return_inverse=True)
    width = float(np.diff(found).min()) if len(found) > 1 else 1.0
    # The values that lie on the grid between, so that no cell touches two.
    steps = np.rint((found - found[0]) / width)
    if len(found) > 1 and np.abs(found - found[0] - steps * width).max() <= 1e-6 * width and steps[-1] <= 100_000:
        edges = found[0] + (np.arange(int(steps[-1]) + 2) - 0.5) * width
        return steps.astype(np.int64)[place], edges
    # On no even grid each value has a cell of its own; cells between them stay empty.
    edges = np.column_stack([found - width / 2, found + width / 2]).ravel()
    return 2 * place.astype(np.int64), edges


def _several(rows: Columns, cells: int, context: Context) -> OptionError:
    said = f"share {cells} cells" if cells >= 0 else "share hexagons"
    return OptionError(
        f"{context.where}: {len(rows)} rows {said}; say what color shows of them",
        f"aggregate: {', '.join(AGGREGATES[1:])}; or leave color unmapped to count rows",
    )


def _say_outside(outside: AnyArray, rows: Columns, context: Context) -> None:
    if outside.any():
        context.say(
            "rows-outside-edges", f"{so_many_rows(int(outside.sum()))} outside the edges not counted in any cell", part=rows
        )
