"""Ticks of number axes: an optimising search for linear axes, decades and their parts for log axes."""

from __future__ import annotations

import math
import sys
from collections.abc import Iterator
from decimal import Decimal
from functools import lru_cache
from typing import NamedTuple

MOST = 11
"""More labelled ticks than these help nobody."""
# Steps in order of preference, as integers over ten so that ticks come out exact (25 is 2.5).
_STEPS = (10, 50, 20, 25, 40, 30)
# Weights of simplicity, coverage and density, from the paper (its fourth, legibility, is decided by the layout).
_SIMPLE, _COVER, _DENSE = 0.25, 0.2, 0.5


class Ticks(NamedTuple):
    """Places of ticks on a number axis, in the unit of the data."""

    at: tuple[float, ...]
    """Labelled ticks, increasing."""
    minor: tuple[float, ...] = ()
    """Ticks without a label, increasing, none of them in `at`."""


@lru_cache(maxsize=4096)
def linear_ticks(low: float, high: float, wanted: int) -> Ticks:
    """Evenly spaced round values between two ends, about as many as wanted.

    Scores every sequence of round steps by how simple it is, how well it covers the range and how close its density
    is to the wanted one, and returns the best. All ticks lie in [low, high]; there are two at least where two floats
    of the range can be told apart, otherwise one.

    Args:
        low: Lower end of the axis, finite.
        high: Upper end of the axis, finite, not below `low`.
        wanted: Desired number of ticks, 2 or more.

    Returns:
        Ticks with no minor ones.

    Source: Talbot, Lin & Hanrahan (2010), "An Extension of Wilkinson's Algorithm for Positioning Tick Labels on Axes",
    IEEE Transactions on Visualization and Computer Graphics 16(6), 1036–1043; restricted to ticks inside the range
    that are multiples of their step.

    >>> linear_ticks(0.0, 10.3, 5).at
    (0.0, 2.5, 5.0, 7.5, 10.0)
    """
    low, high = max(low, -sys.float_info.max), min(high, sys.float_info.max)
    span = high - low
    if not math.isfinite(span):
        half = linear_ticks(low / 4, high / 4, wanted)
        return Ticks(tuple(value * 4 for value in half.at))
    if 0.0 < max(abs(low), abs(high)) < 1e-250:
        # Near the smallest of floats, steps would have lost their digits.
        larger = linear_ticks(low * 1e100, high * 1e100, wanted).at
        return Ticks(tuple(float(Decimal(repr(value)).scaleb(-100)) for value in larger))
    if span <= 8 * math.ulp(max(abs(low), abs(high))):
        return Ticks((low,))
    best_score = -math.inf
    best: tuple[int, int, int, int] | None = None  # first, step, count, power: ticks are (first + i step) 10^power
    for order, step in enumerate(_STEPS):
        simple = 1.0 - order / (len(_STEPS) - 1)
        for count in range(2, min(4 * wanted + 4, MOST + 1)):
            if _SIMPLE * (simple + 1.0) + _COVER + _DENSE * _density(count, wanted) < best_score:
                if count > wanted:
                    break
                continue
            for score, first, power in _fitting(low, high, wanted, step, count, simple):
                # Of equals the first one stays, whatever the noise of their last digits.
                if score > best_score + 1e-9:
                    best_score, best = score, (first, step, count, power)
    if best is None:
        return Ticks((low, high))
    first, step, count, power = best
    return Ticks(tuple(_exact(first + i * step, power) for i in range(count)))


def whole_ticks(low: float, high: float, wanted: int) -> Ticks:
    """Whole round values between two ends, about as many as wanted, fewer where the range holds fewer.

    >>> whole_ticks(2028.9, 2031.1, 6).at
    (2029.0, 2030.0, 2031.0)
    """
    for fewer in range(wanted, 1, -1):
        at = linear_ticks(low, high, fewer).at
        if all(value.is_integer() for value in at):
            return Ticks(at)
    first, last = math.ceil(low), math.floor(high)
    step = max(1, math.ceil((last - first) / max(wanted - 1, 1)))
    return Ticks(tuple(float(value) for value in range(first, last + 1, step)))


def _density(count: float, wanted: int) -> float:
    """One where the number of ticks is the wanted one, falling with their ratio either way."""
    ratio = (count - 1) / (wanted - 1)
    return 2.0 - max(ratio, 1.0 / ratio)


def _fitting(low: float, high: float, wanted: int, step: int, count: int, simple: float) -> Iterator[tuple[float, int, int]]:
    """Score, first tick and power of ten of every sequence with this step and count that covers the range well."""
    span = high - low
    power = math.floor(math.log10(span / (count - 1)) - math.log10(step) + 1e-9)
    unit = _exact(1, power)
    if unit == 0.0:
        return
    least = math.ceil(low / unit / step - 1e-9) * step
    most = math.floor((high / unit - step * (count - 1)) / step + 1e-9) * step
    if most - least > 4 * step:
        return  # far too short for the range; a larger count will do
    for first in range(least, most + 1, step):
        last = first + step * (count - 1)
        start, end = first * unit, last * unit
        cover = 1.0 - 50.0 * (((high - end) / span) ** 2 + ((low - start) / span) ** 2)
        zero = 1.0 if first <= 0 <= last else 0.0
        dense = _density(1 + (count - 1) * span / (end - start), wanted)
        yield _SIMPLE * (simple + zero) + _COVER * cover + _DENSE * dense, first, power


def _exact(number: int, power: int) -> float:
    """number × 10^power, correctly rounded, so that no tick is 0.30000000000000004."""
    return float(f"{number}e{power}")


def log_ticks(low: float, high: float, wanted: int, base: float = 10.0) -> Ticks:
    """Decades with their parts as minor ticks; parts of a decade, or even steps, where the range is short.

    Args:
        low: Lower end of the axis, above zero.
        high: Upper end of the axis, above `low`.
        wanted: Desired number of labelled ticks, 2 or more.
        base: Of the logarithm; with another one than ten its powers are the ticks.

    Returns:
        Labelled and minor ticks, all in [low, high].

    >>> log_ticks(1.0, 1000.0, 4).at
    (1.0, 10.0, 100.0, 1000.0)
    """
    if base != 10.0:
        return _power_ticks(low, high, wanted, base)
    first, last = math.ceil(math.log10(low) - 1e-9), math.floor(math.log10(high) + 1e-9)
    decades = last - first + 1
    if decades >= 2:
        every = max(1, math.ceil(decades / max(wanted, 2)))
        powers = range(first + (-first) % every, last + 1, every)
        if len(powers) < 2:
            powers = range(first, last + 1, max(1, last - first))
        at = tuple(_exact(1, power) for power in powers)
        if every > 1:
            minor = tuple(_exact(1, power) for power in range(first, last + 1) if power not in powers)
        else:
            minor = _parts(low, high, range(2, 10))
        if decades > 2 or every > 1 or wanted <= 3:
            return Ticks(at, minor)
    for parts in ((1, 3), (1, 2, 5), tuple(range(1, 10))):
        at = _parts(low, high, parts)
        if min(wanted, 3) <= len(at) <= MOST:
            return Ticks(at, tuple(value for value in _parts(low, high, range(1, 10)) if value not in at))
    return linear_ticks(low, high, wanted)


def _parts(low: float, high: float, digits: range | tuple[int, ...]) -> tuple[float, ...]:
    first, last = math.floor(math.log10(low)), math.ceil(math.log10(high))
    values = (_exact(digit, power) for power in range(first, last + 1) for digit in digits)
    slack = 1e-9
    return tuple(value for value in values if low * (1 - slack) <= value <= high * (1 + slack))


def _power_ticks(low: float, high: float, wanted: int, base: float) -> Ticks:
    """Powers of a base, every one or every second, third, …"""
    first, last = math.ceil(math.log(low, base) - 1e-9), math.floor(math.log(high, base) + 1e-9)
    count = last - first + 1
    if count < 2:
        return linear_ticks(low, high, wanted)
    every = max(1, math.ceil(count / max(wanted, 2)))
    powers = range(first + (-first) % every, last + 1, every)
    if len(powers) < 2:
        powers = range(first, last + 1, max(1, last - first))
    at = tuple(float(base) ** power for power in powers)
    rest = (float(base) ** power for power in range(first, last + 1) if power not in powers)
    return Ticks(at, tuple(rest))


def signed_log_ticks(low: float, high: float, threshold: float, wanted: int) -> Ticks:
    """Zero and decades of the threshold on both sides; even steps where the range does not leave its surroundings.

    >>> signed_log_ticks(-500.0, 20000.0, 1.0, 6).at
    (-100.0, 0.0, 100.0, 10000.0)
    """
    reach = max(abs(low), abs(high))
    start = round(math.log10(threshold))
    last = math.floor(math.log10(reach) + 1e-9)
    if last - start < 1:
        return linear_ticks(low, high, wanted)
    sides = (low < 0) + (high > 0)
    every = max(1, math.ceil((last - start) * sides / max(wanted - 1, 1)))
    sizes = [_exact(1, power) for power in range(last - (last - start) // every * every, last + 1, every) if power > start]
    at = [sign * size for sign in (-1, 1) for size in sizes if low <= sign * size <= high]
    if low <= 0 <= high:
        at.append(0.0)
    minor = [sign * _exact(1, power) for sign in (-1, 1) for power in range(start, last + 1)]
    inside = tuple(sorted(value for value in minor if low <= value <= high and value not in at))
    return Ticks(tuple(sorted(at)), inside) if len(at) > 1 else linear_ticks(low, high, wanted)


def logit_ticks(low: float, high: float, wanted: int) -> Ticks:
    """Shares that are round in odds: a half, tenths and hundredths from both ends; even steps where the range is short.

    >>> logit_ticks(0.005, 0.995, 5).at
    (0.01, 0.1, 0.5, 0.9, 0.99)
    """
    ends = [_exact(1, -power) for power in range(15, 0, -1)]
    every = [*ends, 0.5, *(1 - value for value in reversed(ends))]
    at = [value for value in every if low <= value <= high]
    while len(at) > max(wanted, 2) + 1:
        outer = [value for value in at if value != 0.5]
        at = sorted({*outer[1::2], *([0.5] if 0.5 in at else [])})
    return Ticks(tuple(at)) if len(at) > 2 else linear_ticks(low, high, wanted)


_DURATIONS = ((1.0, "s"), (60.0, "min"), (3600.0, "h"), (86400.0, "d"))


def duration_ticks(low: float, high: float, wanted: int) -> tuple[Ticks, float, str]:
    """Ticks at round seconds, minutes, hours or days, with the unit's length in seconds and its name.

    >>> duration_ticks(0.0, 7200.0, 4)[0].at
    (0.0, 1800.0, 3600.0, 5400.0, 7200.0)
    """
    length, name = next(((size, unit) for size, unit in reversed(_DURATIONS) if high - low >= 1.5 * size), _DURATIONS[0])
    if name in ("min", "h"):
        steps = (1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200, 10800, 21600, 43200)
        step = min(steps, key=lambda size: abs(math.log((high - low) / size / max(wanted - 1, 1))))
        first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
        if last > first:
            return Ticks(tuple(float(number * step) for number in range(first, last + 1))), length, name
    found = linear_ticks(low / length, high / length, wanted)
    return Ticks(tuple(value * length for value in found.at)), length, name
