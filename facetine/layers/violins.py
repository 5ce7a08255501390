"""Violins: densities mirrored about the place of their category."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.core.asked import Asked
from facetine.core.columns import Columns
from facetine.core.query import Quantiles, Query, Source, Total
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.given import Ends
from facetine.grammar.lengths import shift_option
from facetine.grammar.options import choice, flag, number, option, pair
from facetine.layers.bars import square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.boxes import MEDIAN
from facetine.layers.context import Computed, Context, Space
from facetine.layers.density import Kernel, bandwidth_option, say_below_zero, within_support
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.marking import Tinted
from facetine.layers.summary import (
    COUNT,
    PLACE_X,
    PLACE_Y,
    cells,
    each_part,
    need_numbers,
    need_slots,
)
from facetine.messages.errors import KindError
from facetine.scene.marks import Mark, Paths, Rects, Stroke, segments
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Violins(Tinted, DrawnLayer):
    """Densities of each category, mirrored, or halves that face each other for a color of two values."""

    verb: ClassVar[str] = "violins"
    chosen_says: ClassVar[str] = "Of all rows: its curve is made of every row anew, and its bandwidth with it."
    examples: ClassVar[tuple[Example, ...]] = (Example("A category and a number", 2, {"x": "milk", "y": "mass_kg"}, ["violins"]),)
    in_slots: ClassVar[bool] = True
    shows_spread: ClassVar[bool] = True
    by_place: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("y",)
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    computes_in: ClassVar[Space] = "axis"
    thing: ClassVar[str] = "violin"
    because: ClassVar[str] = "a bump is as wide here as there"
    weighs: ClassVar[str] = "a row counts as often as its weight says in the density; weighted quartiles"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "count": COUNT, "q1": Computed("y"),
        "median": Computed("y"), "q3": Computed("y"),
        "density": Computed(),
    }  # fmt: skip
    can_turn: ClassVar[bool] = True
    from_theme: ClassVar[Mapping[str, str]] = {"violin_width": "bar_width"}
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.7}

    line_width: float | None = option(None, number(0.01, 100), "0.7 by default.")
    half: str | None = option(None, choice("left", "right", "split", name="halves"))
    bandwidth: str | float = option(
        "scott",
        bandwidth_option,
    )
    support: Ends = option((None, None), pair)
    quartiles: bool = option(True, flag)
    equal: str = option(
        "peak",
        choice("peak", "area", "row_area", name="measures"),
    )
    violin_width: float | None = option(None, number(0.01, 1))
    arrange: str = option("side_by_side", choice("side_by_side", "overlay", name="arrangements"))
    shift: str | None = option(None, shift_option)

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def compute(self, source: Source, context: Context) -> Columns:
        """256 places of each violin's density, and its quartiles."""
        need_numbers(context, "y")
        axis = context.axis("y")
        kernel = Kernel.of(self.bandwidth, self.support, axis, context.where)
        source = within_support(source, "y", kernel, axis, context)
        if "x" not in source:
            source = source.with_constant("x", 0.0)
        whole = source.ask(Query(keys=("x",)))
        if self.half == "split" and len(np.unique(whole.group)) > 2:
            raise KindError(
                context.where,
                f'half="split" needs two groups, but there are {len(np.unique(whole.group))}',
                "map color to a column of two values",
            )

        asked = (Total("count", "count"), Total("rows", "rows"), Quantiles(("q1", "median", "q3"), "y", (0.25, 0.5, 0.75)))

        def make(part: Source) -> Mapping[str, AnyArray]:
            curve, found = kernel.curve(part, "y", axis), part.ask(Query(asked))
            if not len(curve.at):
                few = f"a group of {found['rows'][0]:.0f} without spread has no density and is left out"
                context.say("group-without-spread", few, part=found)
            filled = {name: np.full(len(curve.at), found[name][0]) for name in ("count", "q1", "median", "q3")}
            return {"y": curve.at, "density": curve.value * context.axis("y").unit_length, **filled}

        curves = each_part(source, make, ("y", "density", "count", "q1", "median", "q3"), "x")
        say_below_zero(Asked(source, "y").low, curves["y"], context.columns.get("y"), kernel, axis, context)
        return curves

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:
        """Widths in the unit of x, and centers side by side."""
        need_slots(self.shift, context)
        if not len(rows):
            return rows.put(x_low=rows["x"], x_high=rows["x"], center=rows["x"])
        arrange = "overlay" if self.half == "split" else self.arrange
        center, left, right = cells(rows, self.violin_width or 1.0, arrange, context, "violin")
        size = rows["density"] * (rows["count"] if self.equal == "row_area" else 1.0)
        if self.equal == "peak":
            groups = grouped(rows.panel, rows.group, rows["x"])
            largest = np.empty(len(rows))
            largest[groups.order] = np.repeat(np.maximum.reduceat(size[groups.order], groups.starts), groups.sizes)
        else:
            largest = np.full(len(rows), size.max())
        reach = 0.47 * (right - left) * size / largest
        low, high = center - reach, center + reach
        side = self._side(rows)
        low = np.where(side > 0, center, low)
        high = np.where(side < 0, center, high)
        return rows.put(x=center, x_low=low, x_high=high, center=center)

    def _side(self, rows: Columns) -> AnyArray:
        """−1 for left halves, 1 for right ones, 0 for whole violins, shape (n,)."""
        if self.half == "split":
            first = rows.group == np.unique(rows.group)[0]
            return np.where(first, -1, 1)
        return np.full(len(rows), {"left": -1, "right": 1, None: 0}[self.half])

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """An outline for each violin with lines at its quartiles."""
        groups = grouped(rows.group, rows["center"])
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            chosen = groups.order[start : start + size]
            part = rows.take(chosen)
            row = int(chosen[0])
            shade = panel.looks["color"].of(row)
            stroke = Stroke(panel.looks["outline"].of(row) or shade, panel.looks["line_width"].of(row))
            right = np.column_stack([part["x_high"], part["y"]])
            left = np.column_stack([part["x_low"], part["y"]])[::-1]
            ring = np.concatenate([right, left])
            numbers = np.concatenate([part.numbers, part.numbers[::-1]])
            tint = 0.3 * panel.looks["opacity"].of(row)
            yield Paths(ring, np.zeros(1, np.int64), stroke, shade, tint, closed=True, rows=numbers)
            if self.quartiles:
                yield from _quartile_lines(part, panel, stroke)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def _quartile_lines(part: Columns, panel: PanelView, stroke: Stroke) -> Iterator[Paths]:
    at = panel.y(np.array([part[name][0] for name in ("q1", "median", "q3")]))
    order = np.argsort(part["y"])
    left = np.interp(at, part["y"][order], part["x_low"][order])
    right = np.interp(at, part["y"][order], part["x_high"][order])
    lines = np.column_stack([left, at, right, at])
    yield segments(lines[[0, 2]], stroke._replace(dash=(1.5, 1.5)), part.numbers[[0, 0]])
    yield segments(lines[[1]], stroke._replace(width=MEDIAN * stroke.width), part.numbers[[0]])
