"""Densities of one variable: a smooth histogram."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, is_number
from facetine.core.asked import Asked
from facetine.core.columns import Columns
from facetine.core.query import Between, Bins, Moment, Query, Source, Total
from facetine.core.stats.density import (
    Curve,
    bandwidth,
    counted_curve,
    density_curve,
    distance_of_mass,
    fine_edges,
    kernel_density,
    refined_curve,
    rule_bandwidth,
    summed_exactly,
)
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.given import Ends, Place
from facetine.grammar.options import choice, flag, ink, option, pair
from facetine.layers.areas import ribbons
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import AxisSpace, Computed, Context, Drawn, Space
from facetine.layers.example import Example
from facetine.layers.lines import drawn_lines, eased, line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.layers.summary import PLACE_X, PLACE_Y, each_part, need_numbers
from facetine.layers.widths import edges_in_data, width_in_data, width_option
from facetine.messages.errors import DataError, KindError, OptionError, told
from facetine.messages.findings import so_many, so_many_rows
from facetine.scene.marks import Paths
from facetine.scene.region import Region

_LARGEST = 1e150
_LEFT = 2e-4
"""The mass of a density between the end of its curve and a bound that the axis can't show."""


def bandwidth_option(value: object, where: str) -> str | float:
    """A rule's name, or a bandwidth above zero in the unit of the data.

    Raises:
        OptionError: It is neither.
    """
    if isinstance(value, str) and not value[:1].isdigit():
        return str(choice("scott", "silverman", name="rules, beside a number")(value, where))
    return width_option(value, where)


class Kernel(NamedTuple):
    """How a density is estimated along one axis: in the unit of the data, or on the axis itself."""

    rule: str | float
    """A rule's name, or the bandwidth in that space."""
    low: float
    high: float
    """The bounds of what can occur, in that space; infinite where there are none."""
    in_data: bool

    @classmethod
    def of(cls, rule: str | float, support: Ends, axis: AxisSpace, where: str) -> Kernel:
        """From options in the unit of the data. A bandwidth in numbers asks for an estimate in the data's own space.

        Raises:
            OptionError: An end of the support has no place on the axis.
        """
        words = rule in ("scott", "silverman")
        in_data = not words and not axis.even
        size = rule if words else width_in_data(rule, axis, where, "bandwidth")
        ends = []
        for end, usual in zip(support, (-math.inf, math.inf), strict=True):
            if end is None:
                ends.append(usual)
                continue
            if in_data or axis.even or axis.kind == "time":
                ends.append(_end(end, axis, where))
            else:
                placed = float(axis.transform.forward(np.array([_end(end, axis, where)]))[0])
                ends.append(placed if math.isfinite(placed) else usual)
        if not ends[0] < ends[1]:
            raise OptionError(where, f"support {support!r} holds nothing", "the first end lies below the second")
        return cls(size, ends[0], ends[1], in_data)

    def curve(self, part: Source, name: str, axis: AxisSpace) -> Curve:
        """The density for each unit of the axis, at places on it, of values that lie on it.

        A large sample is counted in fine cells, which any engine can do.
        """
        totals = (Total("rows", "rows"), Total("size", "effective"), Total("low", "min", name), Total("high", "max", name),
                  Total("mean", "mean", name))  # fmt: skip
        summary = part.ask(Query(totals))
        rows, size, low, high = (float(summary[said][0]) for said in ("rows", "size", "low", "high"))
        too_large(np.array([low, high]))
        if not self.in_data and not summed_exactly(int(rows)) and high - low > 8 * math.ulp(max(abs(low), abs(high))):
            width = self.rule
            if isinstance(width, str):
                square = part.ask(Query((Moment("square", name, 2, summary["mean"]),)))["square"]
                width = rule_bandwidth(float(square[0]), size, width)
            edges = fine_edges(low, high, width) if width > 0 else None
            if edges is not None:
                cells = part.ask(Query((Total("cells", "count"),), bins=(Bins(name, edges, even=True),)))["cells"]
                curve = counted_curve(cells, edges, (low, high), width, self.low, self.high)
                if curve is not None:
                    return curve
        all_rows = part.rows()
        return self._of_rows(all_rows[name], all_rows.get("weight"), axis)

    def _of_rows(self, places: FloatArray, weights: FloatArray | None, axis: AxisSpace) -> Curve:
        if not self.in_data:
            return density_curve(places, bandwidth(places, self.rule, weights), weights, self.low, self.high)
        values = axis.transform.inverse(places)
        width = bandwidth(values, self.rule, weights)
        # What has no place on the axis can't occur: as at the end of a support, the kernel is reflected there.
        ends = axis.transform.domain()
        low, high = max(self.low, ends[0]), min(self.high, ends[1])
        curve = density_curve(values, width, weights, low, high)
        if not len(curve.at):
            return curve
        first, last = _reached(values, width, weights, (low, high), axis)
        at = np.concatenate([np.linspace(first, last, 400), axis.transform.forward(curve.at)])
        at = np.unique(at[np.isfinite(at) & (at >= first) & (at <= last)])
        step = 1e-6 * max(float(np.ptp(at)), 1e-9)

        def heights(at: FloatArray) -> FloatArray:
            stretch = (axis.transform.inverse(at + step) - axis.transform.inverse(at - step)) / (2 * step)
            return kernel_density(values, axis.transform.inverse(at), width, weights, low, high) * stretch

        return refined_curve(heights, at)


def _reached(
    values: FloatArray, width: float, weights: FloatArray | None, bounds: tuple[float, float], axis: AxisSpace
) -> tuple[float, float]:
    """How far a curve is drawn, in places on the axis: beyond it lie less than three ten-thousandths of the mass at each end."""
    found = []
    for side, (bound, end) in enumerate(zip(bounds, (values.min() - 4 * width, values.max() + 4 * width), strict=True)):
        reach = max(end, bound) if side == 0 else min(end, bound)
        if not axis.transform.admits(np.array([reach]))[0]:
            # Towards a bound without a place the curve goes on until next to nothing is left.
            near = distance_of_mass(np.abs(values - bound), width, weights, _LEFT)
            reach = bound + near if side == 0 else bound - near
        found.append(float(axis.transform.forward(np.array([reach]))[0]))
    return found[0], found[1]


def too_large(values: FloatArray) -> None:
    """Refuses numbers whose squares no float can hold.

    Raises:
        DataError: There is one.
    """
    if len(values) and float(np.abs(values).max()) > _LARGEST:
        raise DataError(
            "density", f"numbers beyond {_LARGEST:g} have no density", ".derive(…) brings them nearer, such as x / 1e200"
        )


def _end(value: Place, axis: AxisSpace, where: str) -> float:
    if axis.kind == "time":
        return float(edges_in_data((value, "9999-12-31"), axis, where, "support")[0])
    if not is_number(value):
        raise OptionError(where, f"support holds {told(value)}, which is no number")
    return float(value)


def within_support(source: Source, name: str, kernel: Kernel, axis: AxisSpace, context: Context) -> Source:
    """The rows that can occur; says how many can't. `name` holds places on the axis."""
    if math.isinf(kernel.low) and math.isinf(kernel.high):
        return source
    low, high = kernel.low, kernel.high
    if kernel.in_data:
        # The bounds are values: every kind of axis has them in the order of its places.
        there = axis.transform.forward(np.array([low, high]))
        low, high = (usual if math.isnan(end) else end for end, usual in zip(there.tolist(), (-math.inf, math.inf), strict=True))
    good = Between(name, low, high)
    counted = Query((Total("rows", "rows"),), by_panel=False, by_group=False)
    outside = int(source.ask(counted)["rows"].sum() - source.keeping(good).ask(counted)["rows"].sum())
    if not outside:
        return source
    context.say("rows-outside-support", f"{so_many_rows(outside)} outside the support left out")
    return source.keeping(good)


def say_below_zero(
    lowest: float, places: FloatArray, column: str | None, kernel: Kernel, axis: AxisSpace, context: Context
) -> None:
    """Says where a density promises values below zero of a variable that has none; its lowest value is given."""
    if not len(places) or not axis.even or axis.kind == "time" or math.isfinite(kernel.low):
        return
    if lowest >= 0 > places.min():
        context.say(
            "density-below-zero",
            f"the density reaches below zero, where {column} has no values",
            "support=(0, None) ends it at zero",
        )


@dataclass(frozen=True, kw_only=True)
class Density(Stroked, DrawnLayer):
    """A curve that shows where values are dense, by a Gaussian kernel."""

    verb: ClassVar[str] = "density"
    chosen_says: ClassVar[str] = "Of all rows: its curve is made of every row anew, and its bandwidth with it."
    examples: ClassVar[tuple[Example, ...]] = (Example("One number", 2, {"x": "mass_kg"}, [{"density": {"filled": True}}]),)
    counts_by_bins: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    computes_in: ClassVar[Space] = "axis"
    from_zero: ClassVar[bool] = True
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "curve"
    can_turn: ClassVar[bool] = True
    because: ClassVar[str] = (
        "a bump is as wide here as there; a bandwidth in numbers is in the unit of the data, and the estimate then too"
    )
    weighs: ClassVar[str] = "a row counts as often as its weight says; the bandwidth follows the effective size of the sample"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X,
        "y": PLACE_Y,
        "density": Computed("number", "Of its group; over a histogram of densities, of what those are parts of."),
        "count": Computed("number", "As a density over bins of `bin_width`."),
    }

    color: str | None = option(None, ink, "Of the curve, and of the area under it.")
    bandwidth: str | float = option(
        "scott",
        bandwidth_option,
    )
    measure: str = option(
        "density",
        choice("density", "count", name="measures"),
        '"count" lies over a histogram.',
    )
    bin_width: str | float | None = option(
        None, width_option, "A count lies over bins of it; over those of the figure's histogram by default."
    )
    support: Ends = option((None, None), pair)
    filled: bool = option(False, flag)

    def lacks(self, mapped: Mapped) -> str | None:
        """One of x and y."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def names_told(self, context: Context, horizontal: bool) -> Mapping[str, Computed]:  # noqa: ARG002
        """Without the count where it is none."""
        return {name: entry for name, entry in self.names().items() if name != "count" or self.measure == "count"}

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def value_drawn(self, context: Context) -> Drawn | None:
        """The measure."""
        return Drawn(title=context.weight_title() if self.measure == "count" else context.density_title("x"))

    def compute(self, source: Source, context: Context) -> Columns:
        """256 places or more of each group's curve."""
        if "y" in source:
            raise KindError(
                context.where,
                "both x and y are mapped, but a density computes one of them",
                'take one away with map={"y": None}, or draw .contours()',
            )
        need_numbers(context, "x")
        axis = context.axis("x")
        kernel = Kernel.of(self.bandwidth, self.support, axis, context.where)
        source = within_support(source, "x", kernel, axis, context)
        wholes = _wholes(source) if context.bins is not None and context.bins.of_panel else None

        def make(part: Source) -> Mapping[str, AnyArray]:
            curve = kernel.curve(part, "x", axis)
            whole = part.ask(Query((Total("rows", "rows"), Total("count", "count"))))
            if not len(curve.at):
                said = so_many(int(whole["rows"][0]), "value")
                context.say("group-without-spread", f"no density of {said} without spread; a group is left out", part=whole)
            mass = float(whole["count"][0])
            share = 1.0 if wholes is None else mass / wholes[int(whole.panel[0])]
            per_unit = curve.value * axis.unit_length * share
            count = (
                curve.value * mass * self._bin_width(curve.at, axis, context)
                if self.measure == "count"
                else curve.value * math.nan
            )
            return {"x": curve.at, "density": per_unit, "count": count}

        curves = each_part(source, make, ("x", "density", "count"))
        say_below_zero(Asked(source, "x").low, curves["x"], context.columns.get("x"), kernel, axis, context)
        return curves.put(y=curves[self.measure], y_low=np.zeros(len(curves)), y_high=curves[self.measure])

    def _bin_width(self, at: FloatArray, axis: AxisSpace, context: Context) -> FloatArray | float:
        """The width of the bins that the count lies over, on the axis, at each place."""
        if self.bin_width is not None:
            return _on_axis(width_in_data(self.bin_width, axis, context.where, "bin_width"), at, axis)
        if context.bins is None:
            raise OptionError(
                context.where,
                'measure="count" lies over bins, but the figure has no histogram before it',
                "bin_width= says their width",
            )
        places, edges = np.diff(axis.transform.forward(context.bins.edges)), np.diff(context.bins.edges)
        if np.ptp(places) <= 1e-6 * places.max():
            return float(places.mean())
        if np.ptp(edges) <= 1e-6 * edges.max():
            return _on_axis(float(edges.mean()), at, axis)
        context.say(
            "bins-uneven", "the histogram's bins are uneven; the curve lies over bins of their mean width", severity="warning"
        )
        return float(places.mean())

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """The curves, over their areas."""
        if self.filled:
            yield from ribbons(*eased(rows, panel, "y_low", "y_high"), 0.3)
        yield from drawn_lines(*eased(rows, panel, "y"))

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def _wholes(source: Source) -> dict[int, float]:
    """The sums of the weights of all groups, by panel."""
    found = source.ask(Query((Total("count", "count"),), by_group=False))
    return dict(zip(found.panel.tolist(), found["count"].tolist(), strict=True))


def _on_axis(width: float, at: FloatArray, axis: AxisSpace) -> FloatArray | float:
    """A width in the unit of the data as one on the axis, at each place."""
    if axis.even:
        return width
    step = 1e-6 * max(float(np.ptp(at)), 1e-9)
    stretch = (axis.transform.inverse(at + step) - axis.transform.inverse(at - step)) / (2 * step)
    return np.asarray(width / stretch)
