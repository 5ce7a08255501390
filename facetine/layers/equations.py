"""Equations of fitted lines: what was fitted, with as many digits as the drawn line needs."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.calendar import instant, local_midnight, strftime
from facetine.core.scales.formats import MINUS, rounded, significant
from facetine.layers.context import AxisSpace
from facetine.layers.widths import DAY

_YEAR = 365.2425 * DAY
# The printed equation may miss the line by so much of the data's range: far below what an eye sees.
_SLACK = 1e-3
_FEW, _MOST = 6, 15
"""Digits of an equation in x as it is, and about another origin."""


class TimeUnit(NamedTuple):
    """In what the slope on an axis of times is told."""

    length: float
    """Microseconds."""
    name: str
    start: float
    """The instant from which it is counted."""


def time_unit(low: float, high: float, zone: str | None) -> TimeUnit:
    """Years from the first January for ranges of more than three years, hours for less than three days, else days."""
    length, name = (_YEAR, "years") if high - low > 3 * _YEAR else (3600e6, "hours") if high - low < 3 * DAY else (DAY, "days")
    if name == "years":
        (year,) = strftime([low], "%Y", zone)
        # Years before the first are written with the sign of print.
        return TimeUnit(length, name, instant(f"{int(year.replace(chr(0x2212), '-')):04d}-01-01", zone, "trend"))
    return TimeUnit(length, name, local_midnight(low, zone))


def equation(
    fit: Callable[[float, float], FloatArray],
    at: FloatArray,
    line: FloatArray,
    reach: float,
    axes: tuple[AxisSpace, AxisSpace],
    explained: float,
    unit: TimeUnit | None = None,
) -> str | None:
    """The equation of a straight line or polynomial in inline markup; None where none of 15 digits follows the line.

    Args:
        fit: From an origin and a unit of x to the coefficients of 1, x, x², … there.
        at: Places all over the range of x, shape (m,).
        line: The line there, shape (m,).
        reach: The range of the data's y, a thousandth of which the equation may miss the line by.
        axes: What is known of x and y.
        explained: R², NaN for none.
        unit: In what times are counted.
    """
    slack = _SLACK * (reach or float(np.abs(line).max()) or 1.0)
    left = axes[1].transform.spelled("y")
    if unit is not None:
        coefficients = fit(unit.start, unit.length)
        digits = _digits(coefficients, (at - unit.start) / unit.length, line, slack, _MOST)
        terms = _terms(coefficients, digits, "*t*")
        (start,) = strftime([unit.start], "%d %b %Y", axes[0].zone)
        return f"{left} = {terms}{_explained(explained)}\n(*t* in {unit.name} from {start})" if digits <= _MOST else None
    right = axes[0].transform.spelled("x")
    coefficients = fit(0.0, 1.0)
    digits = _digits(coefficients, at, line, slack, _FEW)
    if digits <= _FEW:
        return f"{left} = {_terms(coefficients, digits, right)}{_explained(explained)}"
    # Powers of large numbers cancel each other: about the middle they are small.
    center = _round_middle(at)
    coefficients = fit(center, 1.0)
    digits = _digits(coefficients, at - center, line, slack, _MOST)
    if digits > _MOST:
        return None
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
