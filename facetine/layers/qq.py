"""Quantile–quantile plots: whether a sample has the shape of a distribution, or of another sample."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.columns import Columns
from facetine.core.geometry.cut import cut_segments
from facetine.core.query import Source
from facetine.core.stats.groups import grouped
from facetine.core.stats.quantiles import (
    paired_quantiles,
    quantiles,
    quartile_line,
    theoretical_quantiles,
    weighted_positions,
    weighted_quantiles,
)
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, flag, option
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.marking import Filled, Sized
from facetine.layers.points import drawn_points, point_key
from facetine.layers.summary import PLACE_X, PLACE_Y, each_part, need_numbers
from facetine.messages.errors import OptionError
from facetine.scene.marks import Mark, Markers, Stroke, segments
from facetine.scene.region import Region

_UNITS = {"normal": "standard deviations", "uniform": "shares of the range", "exponential": "multiples of the mean"}
_NAMES = ("x", "y", "theory", "observed", "line_from", "line_to", "line_low", "line_high")


@dataclass(frozen=True, kw_only=True)
class Qq(Filled, Sized, DrawnLayer):
    """Sorted values against the quantiles of a distribution, or of x as a second sample, with the line through the quartiles."""

    verb: ClassVar[str] = "qq"
    chosen_says: ClassVar[str] = "Of all rows: the line and the places that are compared are made of every row anew."
    examples: ClassVar[tuple[Example, ...]] = (Example("One number", 4, {"y": "ph"}, ["qq"]),)
    in_order: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "size", "shape", "group", "weight")
    apart: ClassVar[tuple[str, ...]] = ("x", "y")
    drops_outside: ClassVar[bool] = True
    because: ClassVar[str] = "ranks are the same on any axis; the line is straight on the axes, through the quartiles there"
    weighs: ClassVar[str] = "a row counts as often as its weight says: positions by the middles of weights"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y,
        "theory": Computed("x"), "observed": Computed("y"),
    }  # fmt: skip
    required: ClassVar[tuple[str, ...]] = ("y",)
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "size", "shape", "line_width")

    distribution: str = option(
        "normal",
        choice("normal", "uniform", "exponential", name="distributions"),
    )
    line: bool = option(True, flag)

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always: a point is a rank, not a row."""
        return True

    def place_drawn(self, context: Context) -> Drawn | None:
        """What x is where it is computed."""
        return (
            Drawn()
            if "x" in context.columns
            else Drawn(title=f"{self.distribution.capitalize()} quantiles ({_UNITS[self.distribution]})")
        )

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each value, or for each row of the larger of two samples."""
        rows = source.rows()
        need_numbers(context, "y")
        two = "x" in rows
        if two:
            need_numbers(context, "x")
            if "weight" in rows:
                raise OptionError(context.where, "weights are for a sample against a distribution", 'map={"weight": None}')

        def make(part: Source) -> Mapping[str, AnyArray]:
            rows = part.rows()
            theory, sample = self._pairs(rows, two)
            if not len(sample):
                none = np.zeros(0)
                return dict.fromkeys(_NAMES, none)
            ends = self._line(theory, rows, context) if len(sample) > 1 else np.full(2, np.nan)
            between = context.axis("x").transform.forward(theory[[0, -1]].astype(float))
            full = np.ones(len(sample))
            return {
                "x": theory, "y": sample, "theory": theory, "observed": sample,
                "line_from": full * between[0], "line_to": full * between[1],
                "line_low": full * ends[0], "line_high": full * ends[1],
            }  # fmt: skip

        return each_part(source, make, _NAMES)

    def _line(self, theory: FloatArray, rows: Columns, context: Context) -> FloatArray:
        """The line through the quartiles, straight on the axes: its places at the first and the last point, shape (2,)."""
        x, y = (context.axis(axis).transform for axis in ("x", "y"))
        shares, weights = np.array([0.25, 0.75]), rows.get("weight")
        placed = y.forward(rows["y"][~np.isnan(rows["y"])].astype(float))
        if weights is None:
            sample = quantiles(placed, shares)
        else:
            sample = weighted_quantiles(placed, weights[~np.isnan(rows["y"])], shares)
        if "x" in context.columns:
            first = quantiles(x.forward(rows["x"][~np.isnan(rows["x"])].astype(float)), shares)
        else:
            first = x.forward(theoretical_quantiles(shares, self.distribution))
        base, slope = quartile_line(first, sample)
        ends: FloatArray = base + slope * x.forward(theory[[0, -1]])
        return ends

    def _pairs(self, part: Columns, two: bool) -> tuple[AnyArray, AnyArray]:
        y = part["y"][~np.isnan(part["y"])]
        if two:
            x = part["x"][~np.isnan(part["x"])]
            return paired_quantiles(x, y) if len(x) and len(y) else (x[:0], y[:0])
        if not len(y):
            return y, y
        weights = part.get("weight")
        ordered, shares = weighted_positions(y, np.ones(len(y)) if weights is None else weights)
        return theoretical_quantiles(shares, self.distribution), ordered

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """The line of each group under its points."""
        groups = grouped(rows.group)
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            chosen = groups.order[start : start + size]
            row = int(chosen[0])
            places = np.array([rows[name][row] for name in ("line_from", "line_low", "line_to", "line_high")])
            if self.line and np.isfinite(places).all() and places[0] != places[2]:
                # Of all rows, whichever of them a window shows; and cut at the edges, since it may leave the values behind.
                across, up = panel.x(places[[0, 2]]), panel.y(places[[1, 3]])
                box = panel.box
                line = cut_segments(np.array([[across[0], up[0], across[1], up[1]]]), (box.x, box.y), (box.right, box.bottom))
                yield segments(line, Stroke(panel.looks["color"].of(row), 0.7))
        yield from drawn_points(rows, panel)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Markers]:
        """One marker in the middle."""
        yield from point_key(box, looks)
