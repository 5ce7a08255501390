"""Widths and edges as analysts say them: in the unit of the data, for times in days or in words."""

from __future__ import annotations

import itertools
import math
import re

import numpy as np

from facetine.core.arrays import FloatArray, is_number
from facetine.core.asked import Asked
from facetine.core.scales.calendar import Step, calendar_edges, instant, local_midnight, nearest_step, step_of
from facetine.core.stats.binning import MOST_BINS, chosen_edges, rule_width
from facetine.data.table import Levels
from facetine.grammar.options import Check, accepted, accepting, names, numbers, whole
from facetine.layers.context import AxisSpace
from facetine.messages.errors import OptionError, told

DAY = 86_400e6
"""Microseconds."""
UNITS = {
    "second": 1e6,
    "minute": 6e7,
    "hour": 3.6e9,
    "day": DAY,
    "week": 7 * DAY,
    "month": 30.436875 * DAY,
    "year": 365.2425 * DAY,
}
"""Microseconds of each unit, of months and years on average."""
_WORDS = re.compile(r"(?:(\d+(?:\.\d+)?) )?(second|minute|hour|day|week|month|year)s?")


def width_option(value: object, where: str) -> float | str:
    """A width above zero, or for times such as "2 hours" or "1 month".

    Raises:
        OptionError: It is neither.
    """
    if isinstance(value, str):
        found = _WORDS.fullmatch(value)
        if found is None or float(found[1] or 1) <= 0:
            raise OptionError(
                where, f"{told(value)} is no width", 'a number above 0, or for times such as "2 hours" or "1 month"'
            )
        return value
    if not is_number(value) or value <= 0:
        raise OptionError(where, f'is a number above 0, or for times such as "2 hours", not {told(value)}', of_option=True)
    return float(value)


def bins_option(low: int, high: int) -> Check:
    """How many intervals there are, or of times how wide they are; a list is answered by the option that takes it."""
    count = whole(low, high)

    def check(value: object, where: str) -> int | str:
        if isinstance(value, list | tuple | np.ndarray | range):
            raise OptionError(
                where, "is how many there are, not a list", "edges=[…] takes the ends of the intervals", of_option=True
            )
        if isinstance(value, str):
            if _WORDS.fullmatch(value) is None:
                raise OptionError(
                    where, f'is how many there are, or a width of times such as "1 month", not {told(value)}', of_option=True
                )
            return str(width_option(value, where))
        return int(count(value, where))

    return accepting(check, accepted(count))


def edges_option(value: object, where: str) -> Levels:
    """Two or more increasing numbers, or dates.

    Raises:
        OptionError: It is none.
    """
    edges = names(value.tolist() if isinstance(value, np.ndarray) and value.ndim == 1 else value, where)
    if len(edges) < 2:
        raise OptionError(where, f"is a list of numbers or dates, not {told(value)}", of_option=True)
    good = [not isinstance(edge, bool) and isinstance(edge, int | float | np.number) for edge in edges]
    if all(good):
        if not all(is_number(edge) for edge in edges):
            raise OptionError(where, "holds a number that is not finite", of_option=True)
        if any(after <= before for before, after in itertools.pairwise(numbers(edges, where))):
            raise OptionError(where, f"must increase, which {told(value)} does not", of_option=True)
    elif any(good) or not all(isinstance(edge, str) or hasattr(edge, "isoformat") for edge in edges):
        raise OptionError(where, f"is a list of numbers or dates, not {told(value)}", of_option=True)
    return edges


def edges_in_data(edges: Levels, axis: AxisSpace, where: str, name: str = "edges") -> FloatArray:
    """Edges as numbers of the data; dates on an axis of times.

    Raises:
        OptionError: They are dates on an axis of numbers or the reverse, or have no place on the axis.
    """
    dates = not isinstance(edges[0], int | float | np.number)
    if dates != (axis.kind == "time"):
        raise OptionError(where, f"{name} are {'dates' if dates else 'numbers'}, but the axis shows {axis.kind}s")
    found = np.array([instant(edge, axis.zone, f"{where}: {name}") for edge in edges] if dates else edges, float)
    if (np.diff(found) <= 0).any():
        raise OptionError(where, f"{name} must increase, which {edges!r} do not")
    if not axis.transform.admits(found).all():
        raise OptionError(where, f"{name} {edges!r} have no place on this scale", "its values are above zero")
    return found


def width_in_data(width: float | str, axis: AxisSpace, where: str, name: str) -> float:
    """A width as a number in the unit of the data, microseconds for times; a month is a twelfth of 365.2425 days.

    Raises:
        OptionError: It is in words, but the axis shows no times.
    """
    if isinstance(width, str):
        if axis.kind != "time":
            raise OptionError(where, f"{name}={width!r} is for times, but the axis shows numbers")
        count, unit = _parts(width)
        return count * UNITS[unit]
    return width * (DAY if axis.kind == "time" else 1.0)


def _parts(width: str) -> tuple[float, str]:
    found = _WORDS.fullmatch(width)
    assert found is not None
    return float(found[1] or 1), found[2]


def edges_of_width(x: FloatArray, width: float | str, axis: AxisSpace, where: str) -> FloatArray:
    """Edges of one width in the unit of the data; of times, those of the calendar by the clocks of their zone.

    Args:
        x: The smallest and the largest value, shape (2,), or none.
        width: A number, of times in days, or such as "6 hours".
        axis: What is known of the axis.
        where: Who asks, for errors.

    Raises:
        OptionError: The width makes more than 2000 bins.
    """
    size = width_in_data(width, axis, where, "bin_width")
    if len(x) and (x.max() - x.min()) / size > MOST_BINS:
        raise OptionError(
            where, f"bin_width={width!r} makes {(x.max() - x.min()) / size:,.0f} bins", f"{MOST_BINS:,} are the most"
        )
    if axis.kind == "time" and len(x):
        step = _step(width)
        low, high = float(x.min()), float(x.max())
        # A step of hours that divides no day begins at the first midnight, as one of no unit does.
        if step is not None and (step.unit != "microsecond" or DAY % step.size == 0):
            return calendar_edges(low, high, step, axis.zone)
        first = local_midnight(low, axis.zone)
        count = math.floor((high - first) / size) + 1
        before = math.floor((low - first) / size)
        return first + size * np.arange(before, count + 1, dtype=float)
    edges = chosen_edges(x, width=size)
    if not axis.transform.admits(edges).all():
        # On a log axis the lowest bin begins at the lowest value: zero has no place there.
        edges = np.concatenate([[float(x.min())], edges[edges > x.min()]])
    return edges


def _step(width: float | str) -> Step | None:
    """A width as whole units of the calendar; None where it is none, such as 1.3 days."""
    count, unit = _parts(width) if isinstance(width, str) else (float(width), "day")
    finer = {"year": 12.0, "week": 7.0, "day": 24.0, "hour": 60.0, "minute": 60.0}
    while not count.is_integer():
        # Half a day is twelve hours; parts of a month are none.
        if unit not in finer:
            return None
        count = round(count * finer[unit], 9)
        unit = {"year": "month", "week": "day", "day": "hour", "hour": "minute", "minute": "second"}[unit]
    return step_of(int(count), unit)


def usual_edges(spread: Asked, axis: AxisSpace, bins: int | str | None, where: str, wanted: int | None = None) -> FloatArray:
    """Edges in the unit of the data: so many even ones, of a width in words, or those that suit.

    Args:
        spread: Of the values, in the unit of the data.
        axis: What is known of their axis.
        bins: How many, or a width such as "1 month"; None for what suits: round numbers, or steps of the calendar.
        where: Who asks, for errors.
        wanted: About how many suit; None leaves it to the rule of Freedman and Diaconis.
    """
    if isinstance(bins, str):
        return edges_of_width(spread.ends, bins, axis, where)
    if bins is not None or not spread.rows or axis.kind != "time":
        return chosen_edges(spread, bins=bins if bins is not None else wanted)
    width = (spread.high - spread.low) / wanted if wanted else rule_width(spread, "freedman_diaconis")
    return time_edges(spread.low, spread.high, width, axis.zone)


def time_edges(low: float, high: float, width: float, zone: str | None) -> FloatArray:
    """Edges of the step of the calendar that comes nearest to a width in microseconds; days about a single instant."""
    width = max(width, (high - low) / MOST_BINS)
    return calendar_edges(low, high, nearest_step(width) if width > 0 else step_of(1, "day"), zone)
