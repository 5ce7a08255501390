"""Cells: a plane divided into squares or hexagons, each in the color of what it holds."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Self

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns, joined
from facetine.core.stats.binning import chosen_edges
from facetine.core.stats.cells import HEXAGON, counted_hexagons, counted_squares
from facetine.core.stats.groups import AGGREGATES, aggregated, grouped
from facetine.errors import KindError, OptionError
from facetine.grammar.options import anything, choice, flag, ink, number, option, whole
from facetine.layers.bars import rectangles, square_key
from facetine.layers.base import Context, DrawnLayer, Look, PanelView, batches
from facetine.layers.values import template
from facetine.scene.marks import Mark, Paths, Rects, Region

_BINS = 30
_MOST_PLACES = 400


@dataclass(frozen=True, kw_only=True)
class Cells(DrawnLayer):
    """A heat map: with color mapped, one cell for each x and y as given; without it, counts of the rows in each."""

    verb: ClassVar[str] = "cells"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity")
    space: ClassVar[Any] = "axis"
    computed_looks: ClassVar[Mapping[str, str]] = {"color": "Count"}

    color: str | None = option(None, ink, "One color for all cells.")
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 1 by default.")
    cell: str = option("square", choice("square", "hex", name="cells"), "The shape of cells of numbers.")
    bins: int | None = option(None, whole(1, 1000), "Cells along each number axis; 30 by default.")
    all_pairs: bool = option(False, flag, "Whether combinations that do not occur are drawn too.")
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What color shows of several rows in one cell.")
    gap: float = option(0.0, number(0, 0.9), "Room between cells, as a share of their size.")
    value_labels: str | None = option(None, template, 'What is written in the cells, such as "{count:.0f}".')
    edges: Any = option(None, anything, "Ends of cells along x and y, two lists of numbers.")

    def prepare(self, rows: Columns, context: Context) -> Self:
        """The edges along both axes, from all rows at once."""
        edges = {
            axis: None if context.discrete(axis) or not len(rows) else self._edges(rows[axis], place)
            for place, axis in enumerate(("x", "y"))
        }
        if self.cell == "hex" and (edges["x"] is None or edges["y"] is None) and len(rows):
            raise OptionError(f"{context.where}: hexagons need numbers on both axes", 'leave out cell="hex"')
        return replace(self, edges=(edges["x"], edges["y"]))

    def _edges(self, values: FloatArray, place: int) -> FloatArray:
        if self.edges is not None:
            return np.asarray(self.edges[place], float)
        return chosen_edges(values, bins=self.bins or _BINS)

    def compute(self, rows: Columns, context: Context) -> Columns:
        """A row for each cell, with its color."""
        if not len(rows):
            none = np.zeros(0)
            return rows.put(x_low=none, x_high=none, y_low=none, y_high=none, color=none, count=none)
        if self.cell == "hex":
            return self._hexagons(rows)
        if "color" in rows:
            return self._given(rows, context)
        parts = [self._counted(rows.take(rows.panel == panel), context) for panel in np.unique(rows.panel).tolist()]
        return joined(parts)

    def _slots(self, values: FloatArray, axis: int) -> tuple[IntArray, FloatArray]:
        """Which cell each value lies in, and the edges of all."""
        edges = self.edges[axis]
        if edges is None:
            count = int(values.max()) + 1
            return values.astype(np.int64), np.arange(count + 1).astype(np.float64) - 0.5
        place = np.clip(np.searchsorted(edges, values, side="right") - 1, 0, len(edges) - 2)
        return place, edges

    def _counted(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        edges_x = self._slots(rows["x"], 0)[1]
        edges_y = self._slots(rows["y"], 1)[1]
        counts = counted_squares(rows["x"].astype(float), rows["y"].astype(float), edges_x, edges_y, rows.get("weight"))
        row, column = np.nonzero(counts > 0) if not self.all_pairs else np.indices(counts.shape).reshape(2, -1)
        made = self._boxes(rows, column, row, edges_x, edges_y)
        weight = counts[row, column]
        return made.put(count=weight, share=weight / max(counts.sum(), 1e-300), color=weight)

    def _boxes(self, rows: Columns, column: IntArray, row: IntArray, edges_x: FloatArray, edges_y: FloatArray) -> Columns:
        low_x, high_x, low_y, high_y = edges_x[column], edges_x[column + 1], edges_y[row], edges_y[row + 1]
        trim_x, trim_y = self.gap / 2 * (high_x - low_x), self.gap / 2 * (high_y - low_y)
        base = Columns({}, np.full(len(row), rows.panel[0]), np.zeros(len(row), np.int64))
        return base.put(
            x=(low_x + high_x) / 2, y=(low_y + high_y) / 2,
            x_low=low_x + trim_x, x_high=high_x - trim_x, y_low=low_y + trim_y, y_high=high_y - trim_y,
        )  # fmt: skip

    def _given(self, rows: Columns, context: Context) -> Columns:
        """Colors as they are, one row a cell; numbers that lie on no grid are binned where an aggregate is said."""
        if context.discrete("color") and self.aggregate != "none":
            raise KindError(
                f"{context.where}: no {self.aggregate} of {context.columns['color']!r}, which holds categories",
                "leave color unmapped to count rows",
            )
        widths = {}
        for place, axis in enumerate(("x", "y")):
            if not context.discrete(axis) and len(np.unique(rows[axis])) > _MOST_PLACES:
                if self.aggregate == "none":
                    raise OptionError(
                        f"{context.where}: {context.columns[axis]!r} has more than {_MOST_PLACES} different values, so the "
                        "rows lie on no grid of cells",
                        f"aggregate: {', '.join(AGGREGATES[1:])}; then its values are binned",
                    )
                column, edges = self._slots(rows[axis], place)
                rows = rows.put(**{axis: ((edges[:-1] + edges[1:]) / 2)[column]})
                widths[axis] = float(edges[1] - edges[0]) / 2
        groups = grouped(rows.panel, rows["x"], rows["y"])
        if len(groups.starts) < len(rows):
            if self.aggregate == "none":
                raise OptionError(
                    f"{context.where}: {len(rows)} rows share {len(groups.starts)} cells; say what color shows of them",
                    f"aggregate: {', '.join(AGGREGATES[1:])}; or leave color unmapped to count rows",
                )
            value = aggregated(rows["color"].astype(float), groups, self.aggregate)
            count = groups.sizes.astype(float)
            rows = rows.take(groups.first).put(color=value, count=count)
        else:
            rows = rows.put(count=np.ones(len(rows)))
        half_x, half_y = ((widths.get(axis) or _half(rows[axis], context.discrete(axis))) * (1 - self.gap) for axis in ("x", "y"))
        rows = Columns(rows.values, rows.panel, np.zeros(len(rows), np.int64))
        made = rows.put(
            x_low=rows["x"] - half_x, x_high=rows["x"] + half_x, y_low=rows["y"] - half_y, y_high=rows["y"] + half_y
        ).put(value=rows["color"])
        return _with_all_pairs(made, half_x, half_y) if self.all_pairs else made

    def _hexagons(self, rows: Columns) -> Columns:
        span_x, span_y = (float(np.ptp(self.edges[axis])) for axis in (0, 1))
        count = self.bins or _BINS
        width, height = span_x / count, span_y / count
        parts = []
        for panel in np.unique(rows.panel).tolist():
            here = rows.take(rows.panel == panel)
            found = counted_hexagons(here["x"], here["y"], width, height, here.get("weight"))
            size = len(found.x)
            base = Columns({}, np.full(size, panel), np.zeros(size, np.int64))
            color = found.weight
            if "color" in here:
                how = "mean" if self.aggregate == "none" else self.aggregate
                color = aggregated(here["color"].astype(float), grouped(found.cell), how)
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
            yield Paths(points, starts, None, shade, panel.looks["opacity"].values[0], closed=True)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, dict(looks) | _PLAIN)


_PLAIN = {"outline": Look((None,)), "line_width": Look((0.0,))}


def _half(values: FloatArray, discrete: bool) -> float:
    """Half the distance of neighbouring cells."""
    if discrete:
        return 0.5
    found = np.unique(values)
    return float(np.diff(found).min()) / 2 if len(found) > 1 else 0.5


def _with_all_pairs(rows: Columns, half_x: float, half_y: float) -> Columns:
    """Adds the combinations that do not occur, whose color is missing."""
    parts = [rows]
    for panel in np.unique(rows.panel).tolist():
        here = rows.take(rows.panel == panel)
        xs, ys = np.unique(here["x"]), np.unique(here["y"])
        there = set(zip(here["x"].tolist(), here["y"].tolist(), strict=True))
        absent = [(x, y) for x in xs.tolist() for y in ys.tolist() if (x, y) not in there]
        if not absent:
            continue
        at = np.array(absent, float)
        blank = here.take(np.zeros(len(absent), np.int64))
        missing = np.full(len(absent), np.nan)
        parts.append(
            blank.put(
                x=at[:, 0], y=at[:, 1], x_low=at[:, 0] - half_x, x_high=at[:, 0] + half_x,
                y_low=at[:, 1] - half_y, y_high=at[:, 1] + half_y, color=missing, value=missing, count=missing * 0,
            )
        )  # fmt: skip
    return joined(parts)
