"""Trends: fitted lines with their bands, and what the fits say."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.asked import Asked
from facetine.core.columns import Columns
from facetine.core.fitted import polynomial
from facetine.core.query import Query, Source, Total
from facetine.core.scales.calendar import local_midnight, strftime
from facetine.core.scales.formats import rounded, significant
from facetine.core.stats.fits import Contrast, Fit, compared_slopes, t_factor, two_sided
from facetine.core.stats.groups import grouped
from facetine.core.stats.polynomials import least_squares
from facetine.core.stats.quantile_lines import quantile_line
from facetine.core.stats.regression import Odds, logistic, robust
from facetine.core.stats.smooth import loess, moving_average
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, flag, ink, number, option, whole, words_of
from facetine.layers.areas import ribbons
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import AxisSpace, Computed, Context, Space
from facetine.layers.equations import TimeUnit, equation, time_unit
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.lines import drawn_lines, eased, line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.layers.summary import PLACE_X, PLACE_Y, each_part, need_numbers
from facetine.layers.widths import DAY
from facetine.messages.errors import KindError, OptionError
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Mark, Paths
from facetine.scene.region import Region
from facetine.scene.typeset import set_text

METHODS = ("linear", "polynomial", "loess", "logistic", "robust", "quantile", "moving")
_FITS = {
    "linear": "Straight line of", "polynomial": "Polynomial of", "loess": "Local regression of",
    "logistic": "Logistic regression of", "robust": "Robust straight line of", "quantile": "Quantile line of",
    "moving": "Moving mean of",
}  # fmt: skip
# A line is straight between places to a hair's width where they are so many points apart.
_STEP, _LEAST_PLACES = 1.5, 101
_SAID = ("slope", "slope_low", "slope_high", "intercept", "r2", "count", "residual_std", "p")
_CONTRAST = ("slope_difference", "slope_difference_low", "slope_difference_high", "slope_difference_p")
_WORDS = ("equation", "coefficients", "origin")
_OF_LINES = ("slope", "slope_low", "slope_high", "intercept", "p")
_NOT_MADE: Mapping[str, tuple[str, ...]] = {
    "linear": (), "robust": ("r2",), "polynomial": _OF_LINES, "logistic": ("r2", "residual_std", "coefficients"),
    "quantile": ("slope_low", "slope_high", "p", "r2", "residual_std"),
    "loess": (*_OF_LINES, "coefficients", "origin", "r2"),
    "moving": (*_OF_LINES, "coefficients", "origin", "r2", "residual_std"),
}  # fmt: skip
_EVERY = ("x", "y", "y_low", "y_high", *_WORDS, *_SAID, *_CONTRAST)


_BANDS = choice("confidence", "prediction", name="bands")


def _band(value: object, where: str) -> str:
    if value is False:
        raise OptionError(where, "is what the band holds, not False", "level=None draws none", of_option=True)
    return str(_BANDS(value, where))


_band.words = words_of(_BANDS)  # type: ignore[attr-defined]


def _level(value: object, where: str) -> float:
    return float(number(0.01, 0.9999)(value, where))


@dataclass(frozen=True, kw_only=True)
class Trend(Stroked, DrawnLayer):
    """A line fitted to each group, with a band for what is known of it."""

    verb: ClassVar[str] = "trend"
    chosen_says: ClassVar[str] = (
        "Follows: straight lines of least squares with their bands. Of all rows: all other methods, robust errors, "
        "compared slopes, and lines with an equation."
    )
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "Two numbers",
            2,
            {"x": "age_days", "y": "firmness_n"},
            [{"points": {"color": "silver"}}, {"trend": {"method": "loess"}}],
        ),
    )
    fits: ClassVar[bool] = True
    compares_spaces: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    computes_in: ClassVar[Space] = "axis"
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "line"
    because: ClassVar[str] = 'a straight line is what a reader sees as straight; `space="data"` fits the data'
    weighs: ClassVar[str] = (
        "the inverse of each row's variance, up to a factor, in linear, polynomial, robust and loess fits; "
        "how much a row counts in the loss or likelihood of quantile and logistic fits and in moving means"
    )
    first: ClassVar[str | None] = "method"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X,
        "y": PLACE_Y,
        "slope": Computed(),
        "slope_low": Computed(),
        "slope_high": Computed(),
        "intercept": Computed("number", "On times at `origin`."),
        "coefficients": Computed("words", "On times of days from `origin`."),
        "origin": Computed("words"),
        "r2": Computed(),
        "count": Computed("count"),
        "residual_std": Computed(),
        "p": Computed(),
        "slope_difference": Computed(),
        "slope_difference_low": Computed(),
        "slope_difference_high": Computed(),
        "slope_difference_p": Computed(),
    }

    method: str = option("linear", choice(*METHODS, name="methods"))
    color: str | None = option(None, ink, "Of the line and of its band.")
    level: float | None = option(0.95, _level, "None for no band.", or_none=True)
    band: str = option("confidence", _band)
    robust_errors: bool = option(False, flag)
    degree: int | None = option(None, whole(0, 12))
    local_share: float = option(0.7, number(0.01, 10))
    quantile: float = option(0.5, number(0.001, 0.999))
    window: int = option(7, whole(1))
    space: str | None = option(None, choice("data", "axis", name="spaces"), "From places by default.")
    compare: str | None = option(None, choice("slopes", name="comparisons"))
    equation: bool = option(False, flag)

    @property
    def smooths(self) -> bool:
        """Curves that follow the rows near each place."""
        return self.method in ("loess", "polynomial", "moving")

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def names_told(self, context: Context, horizontal: bool) -> Mapping[str, Computed]:  # noqa: ARG002
        """What the method makes; of a group that has no number it is missing."""
        lacking = set(_NOT_MADE[self.method])
        if not self.compare:
            lacking |= set(_CONTRAST)
        if context.axis("x").kind != "time":
            lacking.add("origin")
        return {name: entry for name, entry in self.names().items() if name not in lacking}

    def as_share(self) -> tuple[str, ...]:
        """A logistic curve is the share of yes."""
        return ("y",) if self.method == "logistic" else ()

    def finish(self, context: Context) -> Finish | None:
        """A straight line of least squares with its band; what needs more than sums stays as all rows make it."""
        if self.method != "linear" or self.robust_errors or self.equation or self.compare:
            return None
        places = max(_LEAST_PLACES, math.ceil(context.room[0] / _STEP) + 1)
        return Finish("trend", "group", {"places": places, "level": self.level, "band": self.band, "space": self.works_in})

    def compute(self, source: Source, context: Context) -> Columns:
        """Places of each group's line, one a point and a half or less, with its band; a moving average at its own rows.

        Raises:
            KindError: x or y holds categories.
            OptionError: An option does not suit the method.
        """
        need_numbers(context, "x")
        if not (self.method == "logistic" and context.kinds.get("y") == "yes_no"):
            need_numbers(context, "y")
        self._check(context)
        fits: dict[int, tuple[int, Fit]] = {}
        # All groups count times from one origin, so that their equations can be compared.
        times = None
        if context.axis("x").kind == "time" and Asked(source, "x").rows:
            low, high = Asked(source, "x").ends.tolist()
            times = _Times.of(low, high, context.axis("x").zone)

        def make(part: Source) -> Mapping[str, AnyArray]:
            try:
                return self._fitted(part, context, fits, times)
            except ValueError as problem:
                if "0 and 1" in str(problem):
                    raise KindError(
                        context.where, f"a logistic fit needs {problem}", f"column: {context.columns.get('y')}"
                    ) from problem
                whole = part.ask(Query((Total("rows", "rows"),)))
                few = f"{so_many_rows(int(whole['rows'][0]))} without a {self.method} line, which needs {problem}"
                context.say("no-fit", few, part=whole)
                return {name: np.zeros(0, object if name in _WORDS else float) for name in _EVERY}

        return each_part(source, make, _EVERY)

    def _check(self, context: Context) -> None:
        method, where = self.method, context.where
        if method == "loess" and self.degree is not None and self.degree > 2:
            raise OptionError(where, f"loess takes a degree of 0, 1 or 2, not {self.degree}")
        if self.degree is not None and method not in ("polynomial", "loess"):
            raise OptionError(where, f"degree has no effect on {method}", "it belongs to polynomial and loess")
        if self.equation and method in ("loess", "moving", "logistic"):
            raise OptionError(where, f"{method} has no equation", "linear, polynomial, robust and quantile have one")
        if self.robust_errors and method not in ("linear", "polynomial"):
            raise OptionError(where, f"robust_errors has no effect on {method}", "linear and polynomial have them")
        if self.band == "prediction" and method not in ("linear", "polynomial", "loess"):
            raise OptionError(where, f"{method} has no prediction band", "linear, polynomial and loess have one")
        if self.compare and method not in ("linear", "robust"):
            raise OptionError(where, f"slopes are compared of straight lines, not of {method}", "linear and robust have slopes")
        for axis in ("x", "y"):
            if method == "logistic" and axis == "y" and not context.axis("y").even and self.works_in == "axis":
                raise OptionError(where, "a logistic fit needs an even axis of y", 'space="data" fits the data themselves')

    def _fitted(
        self, source: Source, context: Context, fits: dict[int, tuple[int, Fit]], times: _Times | None
    ) -> Mapping[str, AnyArray]:
        if self.method in ("linear", "polynomial") and not (self.robust_errors or self.equation):
            spread = Asked(source, "x")
            at = self._places(spread.ends, context)
            fit = polynomial(source, at, self._degree)
            if fit is not None:
                return self._told(fit, at, source, context, fits, spread.rows, times)
        part = source.rows()
        x, y, weights = part["x"], part["y"].astype(float), part.get("weight")
        if self.method == "moving":
            at, value = moving_average(x, y, self.window, weights)
            return _table(at, value, at * math.nan, at * math.nan, {"count": float(len(x))})
        at = self._places(x, context)
        if self.method == "logistic":
            return self._odds(logistic(x, y, at, self.level or 0.95, weights), at, part, context, times)
        fit = self._fit(x, y, at, weights)
        if not fit.settled:
            context.say(
                "not-converged",
                f"the {self.method} fit did not settle",
                "the line may not be the best one",
                part=part,
                severity="warning",
            )
        line = self._told(fit, at, source, context, fits, len(x), times)
        if self.equation:
            text = self._equation(fit, at, part, context, times)
            if text is None:
                context.say("equation-unsaid", "no equation of 15 digits follows the line; none is written", part=part)
            line["equation"] = np.full(len(at), text, object)
        return line

    def _told(
        self,
        fit: Fit,
        at: FloatArray,
        source: Source,
        context: Context,
        fits: dict[int, tuple[int, Fit]],
        rows: int,
        times: _Times | None,
    ) -> dict[str, AnyArray]:
        """The places of a line, with its band and what it says."""
        low, high = fit.band(self.level, self.band) if self.level else (at * math.nan, at * math.nan)
        coefficients = fit.coefficients if times is None else times.coefficients(fit, at)
        numbers = self._said(fit, coefficients, context) | {"count": float(rows)}
        if self.compare:
            numbers |= _difference(fit, source.ask(Query()), fits, self.level or 0.95, context.axis("x").unit_length)
        line = _table(at, fit.value, low, high, numbers, times)
        if len(coefficients):
            words = ", ".join(significant(value, 4) for value in coefficients.tolist())
            line["coefficients"] = np.full(len(at), words, object)
        return line

    @property
    def _degree(self) -> int:
        return 1 if self.method == "linear" else 2 if self.degree is None else self.degree

    def _places(self, x: FloatArray, context: Context) -> FloatArray:
        """Even places on the axis, in the space of the fit."""
        count = max(_LEAST_PLACES, math.ceil(context.room[0] / _STEP) + 1)
        axis = context.axis("x")
        if self.works_in == "axis" or axis.even:
            return np.linspace(float(x.min()), float(x.max()), count)
        low, high = axis.transform.forward(np.array([x.min(), x.max()])).tolist()
        return np.clip(axis.transform.inverse(np.linspace(low, high, count)), x.min(), x.max())

    def _fit(self, x: FloatArray, y: FloatArray, at: FloatArray, weights: FloatArray | None) -> Fit:
        if self.method in ("linear", "polynomial"):
            return least_squares(x, y, at, self._degree, weights, self.robust_errors)
        if self.method == "loess":
            return loess(x, y, at, self.local_share, 2 if self.degree is None else self.degree, weights)
        return robust(x, y, at, weights=weights) if self.method == "robust" else quantile_line(x, y, at, self.quantile, weights)

    def _said(self, fit: Fit, coefficients: FloatArray, context: Context) -> dict[str, float]:
        """What the fit says; on times slopes are per day, and intercepts at the origin that is told with them."""
        numbers = {"r2": fit.explained, "residual_std": fit.residual_std}
        if len(coefficients) != 2:
            return numbers
        slope, unit = float(fit.coefficients[1]), context.axis("x").unit_length
        low, high = _ends(slope, fit.slope_error, fit.freedom, self.level, unit)
        ends = {"slope_low": low, "slope_high": high}
        return numbers | {"slope": slope * unit, "intercept": float(coefficients[0]), "p": fit.slope_p} | ends

    def _odds(self, odds: Odds, at: FloatArray, part: Columns, context: Context, times: _Times | None) -> Mapping[str, AnyArray]:
        if not odds.settled:
            what = (
                "one x separates the two outcomes, so that no slope is best"
                if np.isnan(odds.slope_error)
                else "the fit did not settle"
            )
            context.say(
                "separated" if np.isnan(odds.slope_error) else "not-converged",
                f"{what}; the band is left out",
                part=part,
                severity="warning",
            )
        low, high = (odds.low, odds.high) if self.level and odds.settled else (at * np.nan, at * np.nan)
        start, slope = odds.coefficients.tolist()
        unit = context.axis("x").unit_length
        start += slope * times.midnight if times is not None else 0.0
        numbers = {
            "slope": slope * unit, "intercept": start, "count": float(len(part)),
            "p": two_sided(slope, odds.slope_error, math.inf),
            **dict(zip(("slope_low", "slope_high"), _ends(slope, odds.slope_error, math.inf, self.level, unit), strict=True)),
        }  # fmt: skip
        return _table(at, odds.value, low, high, numbers, times)

    def _equation(self, fit: Fit, at: FloatArray, part: Columns, context: Context, times: _Times | None) -> str | None:
        x, y, weights = part["x"], part["y"].astype(float), part.get("weight")

        def coefficients(origin: float, unit: float) -> FloatArray:
            moved = (x - origin) / unit
            return self._fit(moved, y, moved[:1], weights).coefficients

        axes = context.axis("x"), context.axis("y")
        if self.works_in == "data":
            axes = (AxisSpace(kind=axes[0].kind, zone=axes[0].zone), AxisSpace(kind=axes[1].kind))
        unit = times.unit if times is not None else None
        return equation(coefficients, at, fit.value, float(np.ptp(y)), axes, fit.explained, unit)

    def labelled_rows(self, rows: Columns) -> Columns:
        """The last place of each line."""
        groups = grouped(rows.panel, rows.group)
        return rows.take(groups.order[groups.starts + groups.sizes - 1]) if len(rows) else rows

    def described(self, rows: Columns, context: Context) -> list[str]:
        """What is fitted on what, and what the compared slopes say, in sentences."""
        if not len(rows):
            return []
        y, x = (self._worded(axis, context) for axis in ("y", "x"))
        sentences = [f"{_FITS[self.method]} {y} {'along' if self.method == 'moving' else 'on'} {x}."]
        if not self.compare:
            return sentences
        ends = self.labelled_rows(rows)
        for row in np.flatnonzero(~np.isnan(ends["slope_difference"])).tolist():
            place = context.place(ends.take(np.array([row])))
            low, high = (rounded(float(ends[f"slope_difference_{end}"][row])) for end in ("low", "high"))
            by = rounded(float(ends["slope_difference"][row]))
            p = rounded(float(ends["slope_difference_p"][row]))
            sentences.append(f"The slope of {place or 'a group'} differs from the first by {by} ({low} to {high}, p = {p}).")
        return sentences

    def _worded(self, axis: str, context: Context) -> str:
        """What a fit works on: a variable, or what its axis makes of it."""
        name = context.titles[axis].inside if axis in context.titles else axis
        space = context.axis(axis)
        return name if self.works_in == "data" or space.even else space.transform.worded(name)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Bands first, lines over them, equations last."""
        yield from ribbons(*eased(rows, panel, "y_low", "y_high"), 0.2)
        yield from drawn_lines(*eased(rows, panel, "y"))
        if self.equation:
            yield from _equations(rows, panel)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def _ends(slope: float, error: float, freedom: float, level: float | None, unit: float) -> tuple[float, float]:
    """The confidence interval of a slope; NaN where it has no error."""
    reach = t_factor(level or 0.95, freedom) * error if error >= 0 and freedom > 0 else math.nan
    return (slope - reach) * unit, (slope + reach) * unit


class _Times(NamedTuple):
    """How a fit on times is told: by days from a midnight, and in its equation by a unit that suits the range."""

    midnight: float
    """In microseconds since 1970 UTC."""
    said: str
    unit: TimeUnit

    @classmethod
    def of(cls, low: float, high: float, zone: str | None) -> _Times:
        midnight = local_midnight(low, zone)
        return cls(midnight, strftime([midnight], "%d %b %Y", zone)[0], time_unit(low, high, zone))

    def coefficients(self, fit: Fit, at: FloatArray) -> FloatArray:
        """Those of days from the midnight, of a curve that is known at many places; shape of the fit's."""
        if not len(fit.coefficients):
            return fit.coefficients
        days = (at - self.midnight) / DAY
        if len(fit.coefficients) == 2:
            slope = float(fit.coefficients[1]) * DAY
            return np.array([float(fit.value[0]) - slope * float(days[0]), slope])
        made = np.polynomial.Polynomial.fit(days, fit.value, len(fit.coefficients) - 1).convert().coef
        return np.pad(made, (0, len(fit.coefficients) - len(made)))


def _table(
    at: FloatArray,
    value: FloatArray,
    low: FloatArray,
    high: FloatArray,
    said: Mapping[str, float],
    times: _Times | None = None,
) -> dict[str, AnyArray]:
    """The places of a line with what its fit says at each."""
    numbers = {name: np.full(len(at), said.get(name, math.nan)) for name in (*_SAID, *_CONTRAST)}
    words = {name: np.full(len(at), None, object) for name in _WORDS}
    words["origin"] = np.full(len(at), times.said if times is not None else None, object)
    return {"x": at, "y": value, "y_low": low, "y_high": high, **words, **numbers}


def _difference(fit: Fit, part: Columns, fits: dict[int, tuple[int, Fit]], level: float, unit: float) -> dict[str, float]:
    """The difference of a group's slope to that of the first group of its panel, which is kept."""
    panel, group = int(part.panel[0]), int(part.group[0])
    first = fits.setdefault(panel, (group, fit))
    if first[0] == group:
        return {}
    contrast: Contrast = compared_slopes(first[1], fit, level)
    values = (contrast.difference * unit, contrast.low * unit, contrast.high * unit, contrast.p)
    return dict(zip(_CONTRAST, values, strict=True))


def _equations(rows: Columns, panel: PanelView) -> Iterator[Mark]:
    """The equations of all groups below each other, in the corner of the panel that the lines leave freest."""
    groups = grouped(rows.group)
    first = [int(groups.order[start]) for start in groups.starts.tolist() if rows["equation"][int(groups.order[start])]]
    blocks = [set_text(rows["equation"][row], panel.type._replace(color=panel.looks["color"].of(row))) for row in first]
    wide = max((block.width for block in blocks), default=0.0)
    step = max((block.height for block in blocks), default=0.0) + 0.35 * panel.type.size
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
