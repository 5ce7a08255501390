"""Intervals: a center and how far values, or our knowledge of it, reach around."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.columns import Columns
from facetine.core.query import Moment, Quantiles, Query, Source, Total
from facetine.core.scales.kinds.log import Log
from facetine.core.stats.binning import MOST_BINS
from facetine.core.stats.centers import BOOTSTRAPS, CENTERS, REACHES, interval, median_shares, share_interval, spread_interval
from facetine.data.table import Levels
from facetine.grammar.aesthetics import TURNED, Mapped
from facetine.grammar.lengths import shift_option
from facetine.grammar.options import choice, flag, ink, number, option, whole
from facetine.grammar.scale import SHAPES
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.ends import given_along
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.lines import SEAM
from facetine.layers.look import Look
from facetine.layers.points import marker_style
from facetine.layers.summary import (
    COUNT,
    PLACE_X,
    PLACE_Y,
    cells,
    each_part,
    edges_of_bins,
    in_bins,
    need_numbers,
    need_slots,
)
from facetine.layers.values import template
from facetine.layers.widths import bins_option, edges_option
from facetine.messages.errors import KindError, OptionError
from facetine.messages.findings import so_many
from facetine.scene.marks import Mark, Markers, Paths, Stroke, segments
from facetine.scene.region import Region
from facetine.scene.shapes import is_filled

_SUMMED = ("confidence", "std_error", "std_dev")
"""Reaches of a mean that follow from sums."""


@dataclass(frozen=True, kw_only=True)
class Intervals(DrawnLayer):
    """A dot at the center and a line to both ends; or ends as they are given, along y, along x, or along both as a cross."""

    verb: ClassVar[str] = "intervals"
    chosen_says: ClassVar[str] = (
        "Follows: means with intervals by t, standard errors or standard deviations, and given ends. Of all rows: "
        "medians, shares, quartiles, ranges, and what is resampled."
    )
    examples: ClassVar[tuple[Example, ...]] = (
        Example("A category and a number", 4, {"x": "rind", "y": "mass_kg"}, ["intervals"]),
    )
    in_slots: ClassVar[bool] = True
    averages: ClassVar[bool] = True
    reaches: ClassVar[str] = "always"
    dark_on_own: ClassVar[bool] = True
    spans: ClassVar[bool] = True
    compares_spaces: ClassVar[bool] = True
    takes_ends: ClassVar[bool] = True
    by_place: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = (
        "x",
        "y",
        "x_low",
        "x_high",
        "y_low",
        "y_high",
        "color",
        "opacity",
        "line_width",
        "size",
        "shape",
        "group",
        "weight",
    )
    required: ClassVar[tuple[str, ...]] = ("x",)
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "line_width", "size", "shape")
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "interval"
    can_turn: ClassVar[bool] = True
    because: ClassVar[str] = 'a mean of masses is a mass; `space="axis"` takes places on the axis'
    weighs: ClassVar[str] = "weighted means, medians and shares; intervals follow the effective size of the sample"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "center": Computed("y"), "low": Computed("y"),
        "high": Computed("y"), "count": COUNT,
    }  # fmt: skip
    from_theme: ClassVar[Mapping[str, str]] = {"slot_share": "bar_width"}

    color: str | None = option(None, ink, "Of line and dot.")
    opacity: float | None = option(None, number(0, 1), "1 by default.")
    line_width: float | None = option(None, number(0.01, 100))
    size: float | None = option(None, number(0, 1000), "Of the dot; 0 for none.")
    shape: str | None = option(None, choice(*SHAPES, name="shapes"))
    around: str = option("mean", choice(*CENTERS, name="centers"))
    reach: str = option("confidence", choice(*REACHES, name="reaches"))
    level: float = option(0.95, number(0.01, 0.9999))
    bootstrap: int = option(0, whole(0, 1_000_000))
    bootstrap_ends: str = option("bias_corrected", choice(*BOOTSTRAPS, name="kinds"))
    space: str | None = option(
        None,
        choice("data", "axis", name="spaces"),
        "From the data by default.",
    )
    bins: int | str | None = option(None, bins_option(1, MOST_BINS), "Where intervals are computed; they stand in the middle.")
    edges: Levels | None = option(None, edges_option, "Where intervals are computed.")
    boxed: bool = option(False, flag)
    caps: float = option(0.0, number(0, 100))
    slot_share: float | None = option(None, number(0.01, 1))
    arrange: str | None = option(
        None,
        choice("side_by_side", "overlay", name="arrangements"),
        "Side by side on categories by default; on numbers they stay where they are.",
    )
    shift: str | None = option(None, shift_option)
    value_labels: str | None = option(None, template, 'Such as "{mean:.1f}", at the upper end.')

    def lacks(self, mapped: Mapped) -> str | None:
        """x, and either y or both ends; or the same along the other axis."""
        given = given_along(mapped)
        if given:
            other = "x" if "y" in given else "y"
            return other if mapped.get(other) is None and len(given) == 1 else None
        return next((name for name in ("x", "y") if mapped.get(name) is None), None)

    def names(self) -> Mapping[str, Computed]:
        """All, and the center under its own name."""
        return {**self.computed, self.around: Computed("y", column="center")}

    def names_told(self, context: Context, horizontal: bool) -> Mapping[str, Computed]:
        """Without a center that was not computed, and without places that nothing is mapped to."""
        names = dict(self.names())
        if given_along(context.columns):
            names.pop(self.around, None)
            if "y" not in context.columns:
                names.pop("center", None)
            for axis in ("x", "y"):
                if axis not in context.columns:
                    names.pop(TURNED[axis] if horizontal else axis, None)
        return names

    def all_names(self) -> Mapping[str, Computed]:
        """With all centers."""
        return {**self.computed, **{name: Computed("y", column="center") for name in CENTERS}}

    def summarises(self, mapped: Mapped) -> bool:
        """Unless the ends are given."""
        return not given_along(mapped)

    def uses_weight(self, mapped: Mapped) -> bool:
        """Unless the ends are given."""
        return self.summarises(mapped)

    def as_share(self) -> tuple[str, ...]:
        """A share is that of yes."""
        return ("y",) if self.around == "share" else ()

    def value_drawn(self, context: Context) -> Drawn | None:
        """The center, where it is computed."""
        if "y_low" in context.columns and "y_high" in context.columns:
            return Drawn()
        if self.around == "share":
            return Drawn(title=f"Share of {context.titles['y'].inside}" if "y" in context.titles else "Share")
        if self.around == "mean" and self.works_in == "axis" and not context.axis("y").even:
            return Drawn("geometric mean" if isinstance(context.axis("y").transform, Log) else "mean on the axis")
        return Drawn(self.around)

    def prepare(self, source: Source, context: Context) -> Self:
        """The edges of intervals of x, the same in all panels and groups."""
        summed = not given_along(context.columns)
        return replace(self, bins=None, edges=edges_of_bins(self.bins, self.edges, summed, source, context))

    def finish(self, context: Context) -> Finish | None:
        """Means with intervals by t, or by the spread; given ends are those of their rows."""
        if given_along(context.columns):
            return Finish("rows", "row")
        if self.around != "mean" or self.bootstrap or self.reach not in _SUMMED:
            return None
        said = {"reach": self.reach, "level": self.level, "caps": self.caps, "boxed": self.boxed}
        return Finish("intervals", "place", said)

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each place of each group: center, low and high."""
        if "y_low" in source and "y_high" in source:
            return self._open(self._given(source.rows(), context), context)
        source = in_bins(source, self.edges, context)
        if context.kinds.get("y") == "time":
            raise KindError(context.where, f"y needs numbers, but {context.columns['y']!r} holds times")
        if self.around == "share":
            self._check_share(source, context)
        else:
            need_numbers(context, "y")
        intervals = self._summed(source, context)
        for row in np.flatnonzero(np.isnan(intervals["low"])).tolist():
            few = f"{so_many(int(intervals['rows'][row]), 'value')} too few for an interval; the center stands alone"
            context.say("too-few-rows", few, part=intervals.take(np.array([row])))
        return self._open(
            intervals.dropped("rows").put(y=intervals["center"], y_low=intervals["low"], y_high=intervals["high"]), context
        )

    def _given(self, rows: Columns, context: Context) -> Columns:
        """Ends as they are given; where no center is, the middle is a place of theirs alone, and no center is made up."""
        crossed = "x_low" in rows and "x_high" in rows
        if crossed and self.boxed:
            raise OptionError(context.where, "boxed=True is for intervals along one axis", "leave it out for crosses")
        none = np.full(len(rows), np.nan)
        center = rows["y"] if "y" in rows and ("x" in rows or not crossed) else none
        for axis in ("x", "y"):
            if axis not in rows:
                rows = rows.put(**{axis: rows[f"{axis}_low"] / 2 + rows[f"{axis}_high"] / 2})
        return rows.put(low=rows["y_low"], high=rows["y_high"], center=center, count=np.ones(len(rows)))

    def _summed(self, source: Source, context: Context) -> Columns:
        """Center and ends of each group, with its numbers of rows."""
        middle = "median" if self.around == "median" else "mean"
        totals = (Total("rows", "rows"), Total("size", "effective"), Total("count", "count"), Total("center", middle, "y"))
        centers = source.ask(Query(totals, keys=("x",)))
        if self.reach == "quartiles":
            return self._between(source, centers, (0.25, 0.75))
        if self.reach == "range":
            ends = source.ask(Query((Total("low", "min", "y"), Total("high", "max", "y")), keys=("x",)))
            return centers.dropped("size").put(low=ends["low"], high=ends["high"])
        if self.reach == "confidence" and self.bootstrap and self.around != "share":
            ends = each_part(source, lambda part: self._resampled(part.rows(), context), ("low", "high"), "x")
            return centers.dropped("size").put(low=ends["low"], high=ends["high"])
        if self.reach == "confidence" and self.around == "median":
            sizes = zip(centers["rows"].tolist(), centers["size"].tolist(), strict=True)
            shares = [median_shares(int(rows), size, self.level, "weight" in source) for rows, size in sizes]
            own = np.array([(0.0, 1.0) if said is None else said for said in shares]).reshape(len(centers), 2)
            made = self._between(source, centers, own)
            few = np.array([said is None for said in shares], bool)
            return made.put(low=np.where(few, np.nan, made["low"]), high=np.where(few, np.nan, made["high"]))
        return self._by_spread(source, centers)

    def _between(self, source: Source, centers: Columns, shares: tuple[float, float] | FloatArray) -> Columns:
        """With quantiles as ends."""
        ends = source.ask(Query((Quantiles(("low", "high"), "y", shares),), keys=("x",)))
        return centers.dropped("size").put(low=ends["low"], high=ends["high"])

    def _by_spread(self, source: Source, centers: Columns) -> Columns:
        """With ends that follow from the standard deviation, or from the share itself."""
        size, middle = centers["size"], centers["center"]
        mean = middle if self.around != "median" else source.ask(Query((Total("mean", "mean", "y"),), keys=("x",)))["mean"]
        square = source.ask(Query((Moment("square", "y", 2, mean),), keys=("x",)))["square"]
        several = centers["rows"] > 1
        spread = np.where(several, np.sqrt(square / np.where(several, 1 - 1 / size, 1.0)), np.nan)
        triples = zip(middle.tolist(), spread.tolist(), size.tolist(), strict=True)
        if self.around == "share":
            ends = [share_interval(center, count, self.reach, self.level) for center, _, count in triples]
        else:
            ends = [spread_interval(center, own, count, self.around, self.reach, self.level) for center, own, count in triples]
        low, high = (np.array([getattr(end, name) for end in ends], float) for name in ("low", "high"))
        return centers.dropped("size").put(low=low, high=high)

    def _resampled(self, part: Columns, context: Context) -> Mapping[str, AnyArray]:
        ends = interval(
            part["y"].astype(float), self.around, self.reach, self.level, self.bootstrap, context.seed,
            part.get("weight"), self.bootstrap_ends,
        )  # fmt: skip
        return {"low": np.array([ends.low]), "high": np.array([ends.high])}

    def _check_share(self, source: Source, context: Context) -> None:
        values = source.ask(Query(keys=("y",), by_panel=False, by_group=False))["y"]
        if not np.isin(values, (0.0, 1.0)).all():
            raise KindError(
                context.where,
                f"a share needs yes and no, or 1 and 0, but {context.columns['y']!r} holds other values",
                f".derive(…) makes one, such as {context.columns['y']} > 5",
            )
        if self.reach not in ("confidence", "std_error"):
            raise OptionError(context.where, f"a share has no {self.reach}", 'reach: "confidence", "std_error"')

    def _open(self, rows: Columns, context: Context) -> Columns:
        """Ends without a place on the axis are kept open: they reach as far as the axis does."""
        axis = context.axis("y")
        if self.works_in == "axis" or axis.even:
            return rows.put(open_low=np.zeros(len(rows)), open_high=np.zeros(len(rows)))
        placed = axis.transform.admits(rows["y"])
        ends = {}
        for name in ("low", "high"):
            value = rows[f"y_{name}"]
            lost = placed & np.isfinite(value) & ~axis.transform.admits(value)
            ends[f"open_{name}"] = lost.astype(float)
            # The axis need not make room for an end that it can't show.
            ends[f"y_{name}"] = np.where(lost, rows["y"], value)
        count = int(sum(values.sum() for name, values in ends.items() if name.startswith("open")))
        if count:
            context.say(
                "open-ends",
                f"{so_many(count, 'end')} without a place on the scale of y; drawn open to the end of the axis",
                'space="axis" computes intervals on the axis itself',
            )
        return rows.put(**ends)

    def stands_side_by_side(self, context: Context) -> bool:
        """On an axis of categories, if nothing is said."""
        return self.arrange == "side_by_side" or (self.arrange is None and context.discrete("x"))

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:
        """Groups side by side."""
        need_slots(self.shift, context)
        arrange = "side_by_side" if self.stands_side_by_side(context) else "overlay"
        center, left, right = cells(rows, self.slot_share or 1.0, arrange, context, "box" if self.boxed else "")
        if not self.boxed:
            return rows.put(x=center)
        reach = 0.42 * (right - left)
        return rows.put(x=center, x_low=center - reach, x_high=center + reach)

    def labelled_rows(self, rows: Columns) -> Columns:
        """Every interval, as a box without width; a center that stands alone is its own end."""
        ends = {name: np.where(np.isfinite(rows[name]), rows[name], rows["y"]) for name in ("y_low", "y_high")}
        return rows.put(x_low=rows["x"], x_high=rows["x"], **ends)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Lines first, dots over them."""
        places = panel.y(np.array([0.0, 1.0]))
        ends = (panel.box.bottom, panel.box.y) if places[1] < places[0] else (panel.box.y, panel.box.bottom)
        for row in range(len(rows)):
            number = rows.numbers[[row]]
            x, y, low, high = (float(rows[name][row]) for name in ("x", "y", "y_low", "y_high"))
            opened = [name for name, end in (("low", ends[0]), ("high", ends[1])) if rows[f"open_{name}"][row] > 0]
            low, high = (ends[0] if "low" in opened else low), (ends[1] if "high" in opened else high)
            looks = {name: look.of(row) for name, look in panel.looks.items()}
            stroke = Stroke(looks["color"], looks["line_width"], (), looks["opacity"])
            if self.boxed and np.isfinite(low) and np.isfinite(high):
                left, right = float(rows["x_low"][row]), float(rows["x_high"][row])
                ring = np.array([[left, low], [right, low], [right, high], [left, high]])
                yield Paths(
                    ring, np.zeros(1, np.int64), None, looks["color"], 0.3 * looks["opacity"], closed=True, rows=number.repeat(4)
                )
                yield segments(np.array([[left, y, right, y]]), stroke._replace(width=1.6 * stroke.width), number)
                continue
            if np.isfinite(low) and np.isfinite(high):
                lines = np.array(self._lines(x, low, high, opened, 1.0 if low > high else -1.0))
                if panel.halo:
                    yield segments(lines, Stroke(panel.ground, looks["line_width"] + 2 * SEAM))
                yield segments(lines, stroke, number.repeat(len(lines)))
            if "x_low" in rows and not self.boxed:
                left, right = float(rows["x_low"][row]), float(rows["x_high"][row])
                if np.isfinite(left) and np.isfinite(right):
                    yield segments(
                        np.array([[left, y, right, y], *self._caps_across(y, left, right)]),
                        stroke,
                        number.repeat(3 if self.caps else 1),
                    )
            if looks["size"] > 0 and np.isfinite(rows["center"][row]):
                edge = (panel.ground, SEAM) if panel.halo and is_filled(looks["shape"]) else (None, 0.0)
                style = marker_style(looks["shape"], looks["size"], looks["color"], *edge)
                yield Markers(np.array([[x, y]]), (style,), None, looks["opacity"], number)

    def _lines(self, x: float, low: float, high: float, opened: list[str], down: float) -> list[list[float]]:
        """The line with its caps; an open end has the tip of an arrow in the place of a cap."""
        lines = [[x, low, x, high]]
        for name, end, way in (("low", low, down), ("high", high, -down)):
            if name in opened:
                lines += [[x + side, end - 2.2 * way, x, end] for side in (-1.6, 1.6)]
            elif self.caps:
                lines.append([x - self.caps / 2, end, x + self.caps / 2, end])
        return lines

    def _caps_across(self, y: float, left: float, right: float) -> list[list[float]]:
        return [[end, y - self.caps / 2, end, y + self.caps / 2] for end in (left, right)] if self.caps else []

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:
        """A dot on an upright line."""
        x, y = box.x + box.width / 2, box.y + box.height / 2
        shade = looks["color"].values[0]
        yield segments(np.array([[x, box.y, x, box.bottom]]), Stroke(shade, looks["line_width"].values[0]))
        size = min(looks["size"].values[0], box.height)
        yield Markers(np.array([[x, y]]), (marker_style(looks["shape"].values[0], size, shade, None, 0.0),))
