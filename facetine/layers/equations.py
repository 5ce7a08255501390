"""Equations of fitted lines: what was fitted, with as many digits as the drawn line needs."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.calendar import strftime
from facetine.core.scales.formats import MINUS, rounded, significant
from facetine.layers.context import AxisSpace
from facetine.layers.widths import DAY

_YEAR = 365.2425 * DAY
# The printed equation may miss the line by so much of the data's range: far below what an eye sees.
_SLACK = 1e-3
_MOST_DIGITS = 6


class TimeUnit(NamedTuple):
    """In what the slope on an axis of times is told."""

    length: float
    """Microseconds."""
    name: str
    start: float
    """The instant from which it is counted."""


def time_unit(x: FloatArray) -> TimeUnit:
    """Years from the first January for ranges of more than three years, hours for less than three days, else days."""
    low, high = float(x.min()), float(x.max())
    length, name = (_YEAR, "years") if high - low > 3 * _YEAR else (3600e6, "hours") if high - low < 3 * DAY else (DAY, "days")
    if name == "years":
        month = np.array(low).astype(np.int64).astype("datetime64[us]").astype("datetime64[Y]")
        return TimeUnit(length, name, float(month.astype("datetime64[us]").astype(np.int64)))
    return TimeUnit(length, name, math.floor(low / DAY) * DAY)


def equation(
    fit: Callable[[FloatArray], FloatArray],
    x: FloatArray,
    y: FloatArray,
    line: FloatArray,
    axes: tuple[AxisSpace, AxisSpace],
    explained: float,
) -> str:
    """The equation of a straight line or polynomial in inline markup.

    Args:
        fit: From x, moved and scaled, to the coefficients of 1, x, x², … there.
        x: The rows' places on the axis, shape (n,).
        y: Likewise.
        line: The line at x, shape (n,).
        axes: What is known of x and y.
        explained: R², NaN for none.
    """
    slack = _SLACK * (float(np.ptp(y)) or float(np.abs(y).max()) or 1.0)
    left = axes[1].transform.spelled("y")
    if axes[0].kind == "time":
        unit = time_unit(x)
        moved = (x - unit.start) / unit.length
        coefficients = fit(moved)
        digits = _digits(coefficients, moved, line, slack, 15)
        terms = _terms(coefficients, digits, "*t*")
        (start,) = strftime([unit.start], "%d %b %Y", axes[0].zone)
        return f"{left} = {terms}{_explained(explained)}\n(*t* in {unit.name} from {start})"
    right = axes[0].transform.spelled("x")
    coefficients = fit(x)
    digits = _digits(coefficients, x, line, slack, _MOST_DIGITS)
    if digits <= _MOST_DIGITS:
        return f"{left} = {_terms(coefficients, digits, right)}{_explained(explained)}"
    # Powers of large numbers cancel each other: about the middle they are small.
    center = _round_middle(x)
    coefficients = fit(x - center)
    digits = _digits(coefficients, x - center, line, slack, 15)
    sign = MINUS if center > 0 else "+"
    inner = f"({right} {sign} {significant(abs(center), 15)})"
    return f"{left} = {_terms(coefficients, digits, inner)}{_explained(explained)}"


def _digits(coefficients: FloatArray, x: FloatArray, line: FloatArray, slack: float, most: int) -> int:
    """The fewest significant digits, three at least, with which the equation stays by its line; one more than most if none do."""
    for digits in range(3, most + 1):
        rounded = [float(f"{value:.{digits - 1}e}") for value in coefficients.tolist()]
        if np.abs(np.polynomial.polynomial.polyval(x, rounded) - line).max() <= slack:
            return digits
    return most + 1


def _round_middle(x: FloatArray) -> float:
    """A number of few digits near the middle of a range."""
    low, high = float(x.min()), float(x.max())
    middle, step = low + (high - low) / 2, 10.0 ** math.floor(math.log10((high - low) or 1.0))
    return float(round(middle / step) * step)


def _terms(coefficients: FloatArray, digits: int, right: str) -> str:
    text = significant(float(coefficients[0]), digits)
    for power, value in enumerate(coefficients[1:].tolist(), 1):
        sign = MINUS if value < 0 else "+"
        name = (
            right if power == 1 else f"{right}^{power}^" if "log" not in right or right.startswith("(") else f"({right})^{power}^"
        )
        text += f" {sign} {significant(abs(value), digits)} {name}"
    return text


def _explained(value: float) -> str:
    """What is explained, with three digits, and as many more as it takes not to say that all is."""
    if math.isnan(value):
        return ""
    digits = next((count for count in range(3, 9) if value >= 1 or float(f"{value:.{count}g}") < 1), 9)
    return f",  *R*^2^ = {rounded(value, digits)}"
