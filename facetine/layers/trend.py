"""Trends: fitted lines with their confidence bands."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.columns import Columns
from facetine.core.scales.formats import fixed
from facetine.core.stats.groups import grouped
from facetine.core.stats.regression import Fit, least_squares, logistic, quantile_line, robust
from facetine.core.stats.smooth import loess, moving_average
from facetine.errors import KindError, OptionError
from facetine.grammar.options import choice, flag, ink, number, option, whole
from facetine.grammar.scale import DASHES
from facetine.layers.areas import ribbons
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.lines import drawn_lines, line_key
from facetine.layers.summary import each_group, need_numbers
from facetine.scene.marks import Mark, Paths, Region
from facetine.scene.typeset import set_text

METHODS = ("linear", "polynomial", "loess", "logistic", "robust", "quantile", "moving")
_PLACES = 80


def _level(value: Any, where: str) -> float:
    return float(number(0.01, 0.9999)(value, where))


@dataclass(frozen=True, kw_only=True)
class Trend(DrawnLayer):
    """A line fitted to each group, with a band for what is known of it."""

    verb: ClassVar[str] = "trend"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    space: ClassVar[Any] = "axis"
    first: ClassVar[str | None] = "method"
    method: str = option("linear", choice(*METHODS, name="methods"), "How the line is fitted.")
    color: str | None = option(None, ink, "Ink of the line, and of its band.")
    opacity: float | None = option(None, number(0, 1), "How much the line covers; 1 by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "Its pattern; solid by default.")
    line_width: float | None = option(None, number(0.01, 100), "Its width in points.")
    level: float | None = option(0.95, _level, "Level of the confidence band; None for no band.")
    degree: int | None = option(None, whole(0, 12), "Of the polynomial: 2 by default, also for loess, which takes 0 to 2.")
    span: float = option(0.75, number(0.01, 10), "Share of the rows that each local fit of loess sees.")
    share: float = option(0.5, number(0.001, 0.999), 'The quantile of method "quantile".')
    window: int = option(7, whole(1), "Rows of a moving average.")
    equation: bool = option(False, flag, "Whether the equation of a straight line or polynomial is written at its end.")

    def compute(self, rows: Columns, context: Context) -> Columns:
        """80 places of each group's line with its band; the rows' own places for a moving average.

        Raises:
            KindError: x or y holds categories.
        """
        need_numbers(context, "x")
        if self.method == "loess" and self.degree is not None and self.degree > 2:
            raise OptionError(f"{context.where}: loess takes a degree of 0, 1 or 2, not {self.degree}")
        if self.equation and self.method in ("loess", "moving", "logistic"):
            raise OptionError(
                f"{context.where}: {self.method} has no equation", "linear, polynomial, robust and quantile have one"
            )
        if not (self.method == "logistic" and context.kinds.get("y") == "yes_no"):
            need_numbers(context, "y")

        def make(part: Columns) -> Mapping[str, AnyArray]:
            try:
                return self._fitted(part)
            except ValueError as problem:
                if "0 and 1" in str(problem):
                    raise KindError(
                        f"{context.where}: a logistic fit needs {problem}", f"column: {context.columns.get('y')}"
                    ) from problem
                context.say(f"{context.where}: a group of {len(part)} rows has no {self.method} line: it needs {problem}")
                none = np.zeros(0)
                return {"x": none, "y": none, "y_low": none, "y_high": none, "equation": none.astype(object)}

        return each_group(rows, make, ("x", "y", "y_low", "y_high", "equation"))

    def _fitted(self, part: Columns) -> Mapping[str, AnyArray]:
        x, y, weights = part["x"], part["y"].astype(float), part.get("weight")
        if self.method == "moving":
            at, value = moving_average(x, y, self.window)
            return _columns(at, value, value * np.nan, value * np.nan, "")
        at = np.linspace(float(x.min()), float(x.max()), _PLACES)
        if self.method == "logistic":
            odds = logistic(x, y, at, self.level or 0.95)
            low, high = (odds.low, odds.high) if self.level else (at * np.nan, at * np.nan)
            return _columns(at, odds.value, low, high, "")
        fit = self._fit(x, y, at, weights)
        low, high = fit.band(self.level) if self.level else (at * np.nan, at * np.nan)
        return _columns(at, fit.value, low, high, _equation(fit) if self.equation else "")

    def _fit(self, x: FloatArray, y: FloatArray, at: FloatArray, weights: FloatArray | None) -> Fit:
        if self.method == "linear":
            return least_squares(x, y, at, 1, weights)
        if self.method == "polynomial":
            return least_squares(x, y, at, 2 if self.degree is None else self.degree, weights)
        if self.method == "loess":
            return loess(x, y, at, self.span, 2 if self.degree is None else self.degree, weights)
        return robust(x, y, at) if self.method == "robust" else quantile_line(x, y, at, self.share)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Bands first, lines over them, equations last."""
        yield from ribbons(rows, panel, 0.2)
        yield from drawn_lines(rows, panel)
        if self.equation:
            yield from _equations(rows, panel)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def _columns(at: FloatArray, value: FloatArray, low: FloatArray, high: FloatArray, equation: str) -> dict[str, AnyArray]:
    return {"x": at, "y": value, "y_low": low, "y_high": high, "equation": np.full(len(at), equation, object)}


def _equation(fit: Fit) -> str:
    """*y* = a + b *x*, with three significant digits."""
    text = f"*y* = {_significant(fit.coefficients[0])}"
    for power, value in enumerate(fit.coefficients[1:].tolist(), 1):
        sign = "−" if value < 0 else "+"
        name = "*x*" if power == 1 else f"*x*^{power}^"
        text += f" {sign} {_significant(abs(value))} {name}"
    if not np.isnan(fit.explained):
        text += f",  *R*^2^ = {fixed(fit.explained, 2)}"
    return text


def _significant(value: float) -> str:
    text = f"{value:.3g}"
    if "e" in text:
        digits, power = text.split("e")
        return f"{digits} × 10^{int(power)}^".replace("-", "−")
    return text.replace("-", "−")


def _equations(rows: Columns, panel: PanelView) -> Iterator[Mark]:
    """The equations of all groups below each other, in the corner of the panel that the lines leave freest."""
    groups = grouped(rows.group)
    first = [int(groups.order[start]) for start in groups.starts.tolist()]
    blocks = [set_text(rows["equation"][row], panel.type._replace(color=panel.looks["color"].of(row))) for row in first]
    wide = max((block.width for block in blocks), default=0.0)
    step = 1.35 * panel.type.size
    box = panel.box
    corners = [(right, low) for low in (False, True) for right in (True, False)]

    def covered(corner: tuple[bool, bool]) -> int:
        left = box.right - wide if corner[0] else box.x
        top = box.bottom - step * len(blocks) if corner[1] else box.y
        inside = (rows["x"] >= left - 4) & (rows["x"] <= left + wide + 4)
        inside &= (rows["y"] >= top - 4) & (rows["y"] <= top + step * len(blocks) + 4)
        return int(inside.sum())

    right, low = min(corners, key=covered)
    top = box.bottom - step * len(blocks) if low else box.y
    for place, block in enumerate(blocks):
        x = box.right if right else box.x + 2
        yield from block.placed(x, top + place * step, 1.0 if right else 0.0, role="equation")
