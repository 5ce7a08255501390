"""Contours: lines of equal density, or of equal given values."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, is_whole
from facetine.core.columns import Columns
from facetine.core.geometry.contours import contour_pieces
from facetine.core.query import Between, Source
from facetine.core.scales.ticks import linear_ticks
from facetine.core.stats.density import robust_bandwidth
from facetine.core.stats.groups import grouped
from facetine.core.stats.surfaces import Surface, density_surface, enclosing_levels
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.options import flag, ink, number, numbers, option, pair
from facetine.grammar.scale import DASHES
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Space
from facetine.layers.density import too_large
from facetine.layers.example import Example
from facetine.layers.lines import line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.layers.summary import PLACE_X, PLACE_Y, each_part, need_numbers
from facetine.layers.widths import width_in_data, width_option
from facetine.messages.errors import DataError, OptionError, told
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Mark, Paths, Stroke
from facetine.scene.region import Region

_LEVELS = 9
_NAMES = ("x", "y", "piece", "level")


Bounds = tuple[float | None, float | None]


def _levels(value: object, where: str) -> int | tuple[float, ...]:
    if is_whole(value) and 1 <= value <= 50:
        return int(value)
    levels = numbers(value, where)
    if not levels:
        raise OptionError(where, f"is a number of levels up to 50, or a list of them, not {told(value)}", of_option=True)
    return tuple(sorted(levels))


def _bandwidths(value: object, where: str) -> tuple[str | float, str | float]:
    if isinstance(value, list | tuple):
        if len(value) != 2:
            raise OptionError(where, f"is one width, or a pair for x and y, not {told(value)}", of_option=True)
        return width_option(value[0], where), width_option(value[1], where)
    return (width_option(value, where),) * 2


def _supports(value: object, where: str) -> dict[str, Bounds]:
    if not isinstance(value, Mapping) or not value or not set(value) <= {"x", "y"}:
        raise OptionError(where, f'is a dict of x and y, such as {{"x": (0, None)}}, not {told(value)}', of_option=True)
    ends = {}
    for axis, said in value.items():
        place = f"{where}[{axis!r}]"
        low, high = (None if end is None else float(number()(end, place)) for end in pair(said, place))
        ends[axis] = low, high
        if low is not None and high is not None and low >= high:
            raise OptionError("", f"{where}[{axis!r}] holds nothing", "the first end lies below the second")
    return ends


@dataclass(frozen=True, kw_only=True)
class Contours(Stroked, DrawnLayer):
    """Lines, or filled steps, around where rows are dense; each encloses a share of them."""

    verb: ClassVar[str] = "contours"
    chosen_says: ClassVar[str] = "Of all rows: its surface is made of every row anew."
    examples: ClassVar[tuple[Example, ...]] = (Example("Two numbers", 3, {"x": "moisture_pct", "y": "ph"}, ["contours"]),)
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    computes_in: ClassVar[Space] = "axis"
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "piece"
    because: ClassVar[str] = "a bump is as wide here as there"
    weighs: ClassVar[str] = (
        "a row counts as often as its weight says; bandwidths follow the effective size, levels enclose shares of weight"
    )
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "level": Computed(),
    }  # fmt: skip
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.8}

    color: str | None = option(None, ink, "Of the lines, or of the filled steps.")
    line_width: float | None = option(None, number(0.01, 100), "0.8 by default.")
    filled: bool = option(False, flag, "Deeper with each level.")
    levels: int | tuple[float, ...] | None = option(
        None, _levels
    )  # fmt: skip
    given: bool = option(False, flag)
    smoothing: float = option(1.0, number(0.01, 100))
    bandwidth: tuple[str | float, str | float] | None = option(None, _bandwidths)
    support: Mapping[str, tuple[float | None, float | None]] | None = option(None, _supports)

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Unless heights are given, which color shows."""
        return not self.given

    def results(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always: lines between the rows."""
        return True

    def uses_weight(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Unless heights are given."""
        return not self.given

    def compute(self, source: Source, context: Context) -> Columns:
        """The vertices of every line, numbered by piece, with the level of each."""
        rows = source.rows()
        need_numbers(context, "x", "y")
        if self.given:
            if "color" not in rows or context.discrete("color"):
                raise OptionError(context.where, "given=True needs the heights in color", 'write map={"color": "…"}')
            pieces = each_part(source, lambda part: self._from_grid(part.rows(), context), _NAMES)
            return pieces.put(color=pieces["level"])
        support = [self._support(axis, context) for axis in ("x", "y")]
        for axis, (low, high) in zip(("x", "y"), support, strict=True):
            good = Between(axis, low, high)
            outside = len(source.rows()) - len(source.rows(good))
            if outside:
                context.say("rows-outside-support", f"{so_many_rows(outside)} outside the support of {axis} left out")
                source = source.keeping(good)
        rows = source.rows()
        for axis in ("x", "y"):
            too_large(rows[axis])

        def make(source: Source) -> Mapping[str, AnyArray]:
            part = source.rows()
            weights = part.get("weight")
            widths = [self._width(part[axis], weights, place, context) for place, axis in enumerate(("x", "y"))]
            if len(part) < 3 or min(widths) <= 0:
                context.say(
                    "group-without-spread", f"{len(part)} rows without spread have no contours and are left out", part=part
                )
                return {name: np.zeros(0) for name in _NAMES}
            surface = density_surface(part["x"], part["y"], widths[0], widths[1], weights, support=(support[0], support[1]))
            shares = self._shares(context)
            heights = enclosing_levels(surface, part["x"], part["y"], shares, weights)
            lost = shares[heights <= 0]
            if len(lost):
                context.say("levels-left-out", f"the share {lost.min():g} is spread too thin for a contour", part=part)
            return self._traced(surface, heights[heights > 0], shares[heights > 0])

        return each_part(source, make, _NAMES)

    def _support(self, axis: str, context: Context) -> tuple[float, float]:
        ends = (self.support or {}).get(axis, (None, None))
        space = context.axis(axis)
        placed = [
            usual if end is None else float(space.transform.forward(np.array([float(end)]))[0])
            for end, usual in zip(ends, (-math.inf, math.inf), strict=True)
        ]
        return tuple(usual if math.isnan(end) else end for end, usual in zip(placed, (-math.inf, math.inf), strict=True))  # type: ignore[return-value]

    def _width(self, values: FloatArray, weights: FloatArray | None, place: int, context: Context) -> float:
        """The rule's bandwidth for two variables, min(s, IQR / 1.349) n^(−1/6), or that which was said."""
        if self.bandwidth is None:
            return self.smoothing * robust_bandwidth(values, 1 / 6, weights)
        axis = context.axis("xy"[place])
        if not axis.even:
            raise OptionError(
                context.where,
                f"a bandwidth in the unit of the data has no one width on this scale of {'xy'[place]}",
                "smoothing= widens the rule's",
            )
        return self.smoothing * width_in_data(self.bandwidth[place], axis, context.where, "bandwidth")

    def _shares(self, context: Context) -> FloatArray:
        if self.levels is None or isinstance(self.levels, int):
            return np.linspace(0, 1, (self.levels or _LEVELS) + 2)[1:-1][::-1]
        if not all(0 < level < 1 for level in self.levels):
            raise OptionError(context.where, f"levels of densities are shares between 0 and 1, not {self.levels!r}")
        return np.array(self.levels)[::-1]

    def labelled_rows(self, rows: Columns) -> Columns:
        """The first vertex of each piece."""
        groups = grouped(rows.panel, rows.group, rows["piece"]) if len(rows) else None
        return rows if groups is None else rows.take(groups.first)

    def _from_grid(self, part: Columns, context: Context) -> Mapping[str, AnyArray]:
        xs, column = np.unique(part["x"], return_inverse=True)
        ys, row = np.unique(part["y"], return_inverse=True)
        if len(xs) < 2 or len(ys) < 2 or len(part) != len(xs) * len(ys):
            raise DataError(
                context.where,
                f"heights are given at {len(part)} places, which are no full grid of {len(xs)} × {len(ys)}",
                "contours of given values need one height for every pair of x and y",
            )
        height = np.zeros((len(ys), len(xs)))
        height[row, column] = part["color"]
        surface = Surface(xs, ys, height)
        if isinstance(self.levels, tuple):
            levels = np.array(self.levels)
        else:
            levels = np.array(linear_ticks(float(height.min()), float(height.max()), self.levels or _LEVELS).at)
        return self._traced(surface, levels, levels)

    def _traced(self, surface: Surface, heights: FloatArray, names: FloatArray) -> Mapping[str, AnyArray]:
        """Vertices of all levels, lowest first; holes belong to the piece around them."""
        made: dict[str, list[FloatArray]] = {name: [] for name in _NAMES}
        piece = 0
        for height, name in sorted(zip(heights.tolist(), names.tolist(), strict=True)):
            for rings in contour_pieces(surface, height, self.filled):
                for ring in rings:
                    made["x"].append(ring[:, 0])
                    made["y"].append(ring[:, 1])
                    made["piece"].append(np.full(len(ring), float(piece)))
                    made["level"].append(np.full(len(ring), name))
                piece += 1
        return {name: np.concatenate(parts) if parts else np.zeros(0) for name, parts in made.items()}

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Pieces, lower levels first."""
        if not len(rows):
            return
        groups = grouped(rows.group, rows["piece"])
        # Steps of a density lie over each other and deepen; those of given heights have colors of their own.
        veil = 1.0 if self.given else min(0.9, 1.6 / (len(np.unique(rows["level"])) + 2))
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            chosen = np.sort(groups.order[start : start + size])
            looks = {name: look.of(int(chosen[0])) for name, look in panel.looks.items()}
            at = np.column_stack([rows["x"][chosen], rows["y"][chosen]])
            if self.filled:
                yield Paths(
                    at,
                    _ring_starts(at),
                    None,
                    looks["color"],
                    looks["opacity"] * veil,
                    closed=True,
                    rows=rows.numbers[chosen],
                )
                continue
            pattern = tuple(length * looks["line_width"] for length in DASHES[looks["dash"]])
            stroke = Stroke(looks["color"], looks["line_width"], pattern, looks["opacity"])
            yield Paths(at, np.zeros(1, np.int64), stroke, rows=rows.numbers[chosen])

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def _ring_starts(at: FloatArray) -> AnyArray:
    """Where each closed ring begins: a ring ends where it comes back to its first vertex."""
    starts, first = [0], 0
    for place in range(1, len(at)):
        if place > first and (at[place] == at[first]).all() and place + 1 < len(at):
            first = place + 1
            starts.append(first)
    return np.array(starts, np.int64)
