"""Computed values written into texts: numbers with the digits that mean something, counts whole, times as times."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal, TypeAlias

from facetine.core.scales.calendar import strftime
from facetine.core.scales.formats import by_format, rounded_alike
from facetine.core.scales.templates import is_time_pattern

Sort: TypeAlias = Literal["number", "count", "time", "words"]
_DIGITS = 4


def value_texts(values: Sequence[float | str | None], form: str, sort: Sort, zone: str | None = None) -> list[str | None]:
    """Values of one name, written alike.

    Args:
        values: Numbers, NaN where missing; microseconds since 1970 for times; for words texts, None where missing.
        form: A format of a template; "" for the usual one: four significant digits of the largest number and three of each,
            counts whole, times by day.
        sort: What the values are.
        zone: The zone of times.

    Returns:
        Texts in inline markup; None where the value is missing.

    Raises:
        ValueError: The format does not suit the values; the message says why.

    >>> value_texts([31.6227766, 5.0], "", "number")
    ['31.62', '5.00']
    >>> value_texts([50.0, math.nan], ",", "count")
    ['50', None]
    """
    there = [value for value in values if value is not None and not (isinstance(value, float) and math.isnan(value))]
    texts = iter(_texts(there, form, sort, zone))
    return [None if value is None or (isinstance(value, float) and math.isnan(value)) else next(texts) for value in values]


def _texts(values: list[float | str], form: str, sort: Sort, zone: str | None) -> list[str]:
    if sort == "words":
        if form:
            raise ValueError(f"{form!r} formats numbers or times, and this is a word")
        return [str(value) for value in values]
    numbers = [float(value) for value in values]
    if sort == "time":
        return _times(numbers, form, zone)
    if is_time_pattern(form):
        raise ValueError(f"{form!r} writes times, and this is a number")
    if form == "percent":
        return [f"{text} %" for text in rounded_alike([round(value * 100, 12) for value in numbers], _DIGITS - 1)]
    return by_format(numbers, form) if form else rounded_alike(numbers, _DIGITS)


def _times(numbers: list[float], form: str, zone: str | None) -> list[str]:
    if form and not is_time_pattern(form):
        raise ValueError(f"{form!r} writes numbers, and this is a time")
    if form:
        return strftime(numbers, form, zone)
    days = strftime(numbers, "%d %b %Y", zone)
    clocks = strftime(numbers, "%H:%M", zone)
    if all(clock == "00:00" for clock in clocks):
        return days
    return [f"{day} {clock}" for day, clock in zip(days, clocks, strict=True)]
