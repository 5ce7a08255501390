"""Intervals: a center and how far values, or our knowledge of it, reach around."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.core.columns import Columns
from facetine.core.stats.centers import REACHES, interval
from facetine.errors import KindError
from facetine.grammar.options import choice, flag, ink, number, option, whole
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.summary import at_place, each_group, need_numbers, refuse_numeric_looks, side_by_side
from facetine.layers.values import template
from facetine.scene.marks import Mark, Markers, MarkerStyle, Paths, Region, Stroke, segments


@dataclass(frozen=True, kw_only=True)
class Intervals(DrawnLayer):
    """A dot at the center and a line to both ends; or ends as they are given in y_low and y_high."""

    verb: ClassVar[str] = "intervals"
    takes: ClassVar[tuple[str, ...]] = (
        "x",
        "y",
        "y_low",
        "y_high",
        "color",
        "opacity",
        "line_width",
        "size",
        "shape",
        "group",
    )
    required: ClassVar[tuple[str, ...]] = ("x",)
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "line_width", "size", "shape")
    can_turn: ClassVar[bool] = True
    from_theme: ClassVar[Mapping[str, str]] = {"bar_width": "bar_width"}

    color: str | None = option(None, ink, "Ink of line and dot.")
    opacity: float | None = option(None, number(0, 1), "How much they cover; 1 by default.")
    line_width: float | None = option(None, number(0.01, 100), "Width of the line in points.")
    size: float | None = option(None, number(0, 1000), "Diameter of the dot in points; 0 for none.")
    shape: str | None = option(None, choice("disc", "triangle", "diamond", "square", "spike", "hexagon"), "Its outline.")
    around: str = option("mean", choice("mean", "median", name="centers"), "The center.")
    reach: str = option("confidence", choice(*REACHES, name="reaches"), "What the ends are.")
    level: float = option(0.95, number(0.01, 0.9999), "Level of a confidence interval.")
    bootstrap: int = option(0, whole(0, 1_000_000), "Samples of a seeded bootstrap; 0 for the formula.")
    boxed: bool = option(False, flag, "Whether the range is a box with the center as a line, instead of a line with a dot.")
    caps: float = option(0.0, number(0, 100), "Length of the caps at both ends in points.")
    bar_width: float | None = option(None, number(0.01, 1), "Share of its slot within which groups stand side by side.")
    arrange: str = option("abreast", choice("abreast", "overlay", name="arrangements"), "How groups share a slot.")
    value_labels: str | None = option(None, template, 'What is written at the upper end, such as "{mean:.1f}".')

    def lacks(self, mapped: Mapping[str, Any]) -> str | None:
        """x, and either y or both ends."""
        if mapped.get("x") is None:
            return "x"
        if mapped.get("y_low") is not None and mapped.get("y_high") is not None:
            return None
        return "y" if mapped.get("y") is None else None

    def compute(self, rows: Columns, context: Context) -> Columns:
        """A row for each place of each group: center, low and high."""
        slot = at_place(rows["x"], context)
        if "y_low" in rows and "y_high" in rows:
            center = rows.get("y")
            made = rows.put(low=rows["y_low"], high=rows["y_high"])
            made = made.put(y=(rows["y_low"] + rows["y_high"]) / 2 if center is None else center)
            return made.put(center=made["y"], slot=np.full(len(rows), slot))
        if context.kinds.get("y") == "time":
            raise KindError(f"{context.where}: y needs numbers, but {context.columns['y']!r} holds times")
        need_numbers(context, "y")
        refuse_numeric_looks(context)

        def make(part: Columns) -> Mapping[str, AnyArray]:
            found = interval(part["y"], self.around, self.reach, self.level, self.bootstrap, seed=1)
            if np.isnan(found.low):
                context.say(f"{context.where}: {len(part)} value(s) are too few for an interval; the center stands alone")
            return {
                "center": np.array([found.center]),
                "low": np.array([found.low]),
                "high": np.array([found.high]),
                "count": np.array([float(len(part))]),
            }

        made = each_group(rows, make, ("center", "low", "high", "count"), "x")
        return made.put(
            **{"y": made["center"], self.around: made["center"], "y_low": made["low"], "y_high": made["high"]},
            slot=np.full(len(made), slot),
        )

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """Groups side by side."""
        width = float(rows["slot"][0]) * (self.bar_width or 1.0) if len(rows) else 1.0
        center, width = side_by_side(rows, width, self.arrange)
        if not self.boxed:
            return rows.put(x=center)
        return rows.put(x=center, x_low=center - 0.42 * width, x_high=center + 0.42 * width)

    def labelled_rows(self, rows: Columns) -> Columns:
        """Every interval, as a box without width."""
        return rows.put(x_low=rows["x"], x_high=rows["x"])

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Lines first, dots over them."""
        for row in range(len(rows)):
            x, y, low, high = (float(rows[name][row]) for name in ("x", "y", "y_low", "y_high"))
            looks = {name: look.of(row) for name, look in panel.looks.items()}
            stroke = Stroke(looks["color"], looks["line_width"], (), looks["opacity"])
            if self.boxed and np.isfinite(low):
                left, right = float(rows["x_low"][row]), float(rows["x_high"][row])
                ring = np.array([[left, low], [right, low], [right, high], [left, high]])
                yield Paths(ring, np.zeros(1, np.int64), None, looks["color"], 0.3 * looks["opacity"], closed=True)
                yield segments(np.array([[left, y, right, y]]), stroke._replace(width=1.6 * stroke.width))
                continue
            if np.isfinite(low):
                ends = [[x, low, x, high]]
                if self.caps:
                    ends += [[x - self.caps / 2, end, x + self.caps / 2, end] for end in (low, high)]
                yield segments(np.array(ends), stroke)
            if looks["size"] > 0:
                style = MarkerStyle(looks["shape"], looks["size"] / 2, looks["color"])
                yield Markers(np.array([[x, y]]), (style,), None, looks["opacity"])

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:
        """A dot on an upright line."""
        x, y = box.x + box.width / 2, box.y + box.height / 2
        shade = looks["color"].values[0]
        yield segments(np.array([[x, box.y, x, box.bottom]]), Stroke(shade, looks["line_width"].values[0]))
        size = min(looks["size"].values[0], box.height)
        yield Markers(np.array([[x, y]]), (MarkerStyle(looks["shape"].values[0], size / 2, shade),))
