"""Quantiles, boxes and empirical distributions: the one place from which all layers take them."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray

# Plotting parameters (a, b) of the continuous types: p(k) = (k − a) / (n + 1 − a − b).
_PLACES = {4: (0.0, 1.0), 5: (0.5, 0.5), 6: (0.0, 0.0), 7: (1.0, 1.0), 8: (1 / 3, 1 / 3), 9: (3 / 8, 3 / 8)}
DEFAULT_TYPE = 7
"""TextStyle 7: linear between (k − 1)/(n − 1), so that 0 and 1 are the extremes."""


def quantiles(x: FloatArray, shares: FloatArray, kind: int = DEFAULT_TYPE) -> FloatArray:
    """Sample quantiles of one of the nine published types.

    Args:
        x: Sample of shape (n,), finite.
        shares: Shape (k,), between 0 and 1.
        kind: 1 to 9; 7 by default.

    Returns:
        Shape (k,); NaN for an empty sample.

    Raises:
        ValueError: There is no such type.

    Source: Hyndman & Fan (1996), The American Statistician 50, 361–365.
    """
    if kind not in range(1, 10):
        raise ValueError(f"quantiles have types 1 to 9, not {kind!r}")
    count = len(x)
    shares = np.asarray(shares, float)
    if count == 0:
        return np.full(len(shares), np.nan)
    ordered = np.sort(x)
    if kind <= 3:
        return _stepwise(ordered, shares, kind)
    a, b = _PLACES[kind]
    place = shares * (count + 1 - a - b) + a - 1
    fuzz = 4 * np.finfo(float).eps
    low = np.floor(place + fuzz)
    part = place - low
    part[np.abs(part) < fuzz] = 0.0
    first = ordered[np.clip(low, 0, count - 1).astype(np.int64)]
    second = ordered[np.clip(low + 1, 0, count - 1).astype(np.int64)]
    result: FloatArray = first + part * (second - first)
    return result


def _stepwise(ordered: FloatArray, shares: FloatArray, kind: int) -> FloatArray:
    """Types 1 to 3: the inverse of the empirical distribution, with averaging, and to the nearest even."""
    count = len(ordered)
    shift = -0.5 if kind == 3 else 0.0
    place = count * shares + shift
    low = np.floor(place + 4 * np.finfo(float).eps * count)
    exact = np.abs(place - low) < 4 * np.finfo(float).eps * count
    if kind == 1:
        part = np.where(exact, 0.0, 1.0)
    elif kind == 2:
        part = np.where(exact, 0.5, 1.0)
    else:
        part = np.where(exact & (low % 2 == 0), 0.0, 1.0)
    first = ordered[np.clip(low - 1, 0, count - 1).astype(np.int64)]
    second = ordered[np.clip(low, 0, count - 1).astype(np.int64)]
    result: FloatArray = first + part * (second - first)
    return result


def weighted_quantiles(x: FloatArray, weights: FloatArray, shares: FloatArray) -> FloatArray:
    """Quantiles of a weighted sample: linear between the middles of each value's share of the weight.

    With equal weights this is type 5.

    Args:
        x: Shape (n,), finite.
        weights: Shape (n,), positive.
        shares: Shape (k,), between 0 and 1.
    """
    if not len(x):
        return np.full(len(shares), np.nan)
    order = np.argsort(x, kind="stable")
    mass = weights[order] / weights.sum()
    middles = np.cumsum(mass) - mass / 2
    result: FloatArray = np.interp(shares, middles, x[order])
    return result


class Box(NamedTuple):
    """The five numbers of a box plot, its notch and what lies beyond its whiskers."""

    low: float
    """End of the lower whisker."""
    lower: float
    """First quartile."""
    median: float
    upper: float
    """Third quartile."""
    high: float
    """End of the upper whisker."""
    notch_low: float
    notch_high: float
    outliers: FloatArray
    """Shape (m,), increasing."""


def box(
    x: FloatArray,
    whiskers: str | tuple[float, float] = "1.5 iqr",
    kind: int = DEFAULT_TYPE,
    weights: FloatArray | None = None,
) -> Box:
    """Box statistics.

    Args:
        x: Sample of shape (n,), finite, n ≥ 1.
        whiskers: "1.5 iqr": to the outermost values within 1.5 times the box's height from it; "range": to the extremes;
            a pair of percentiles, such as (5, 95).
        kind: TextStyle of the quantiles of a sample without weights.
        weights: Shape (n,), positive: how much each value counts. For the notch, n is then the effective number of
            values, (Σw)² / Σw².

    Returns:
        The box; for n = 1 all five numbers are that value. The notch is median ± 1.57 IQR / √n.

    Source: Tukey (1977), Exploratory Data Analysis, chapter 2; McGill, Tukey & Larsen (1978), The American
    Statistician 32, 12–16, for the notch; Kish (1965), Survey Sampling, for the effective number.
    """
    ordered = np.sort(x)

    def at(shares: FloatArray) -> list[float]:
        found = quantiles(ordered, shares, kind) if weights is None else weighted_quantiles(x, weights, shares)
        return [float(value) for value in found]

    lower, median, upper = at(np.array([0.25, 0.5, 0.75]))
    count = len(x) if weights is None else float(weights.sum() ** 2 / (weights**2).sum())
    reach = 1.5 * (upper - lower)
    if whiskers == "range":
        low, high = float(ordered[0]), float(ordered[-1])
    elif isinstance(whiskers, tuple):
        low, high = at(np.array(whiskers) / 100)
    else:
        low = min(float(ordered[np.searchsorted(ordered, lower - reach)]), lower)
        high = max(float(ordered[np.searchsorted(ordered, upper + reach, side="right") - 1]), upper)
    notch = 1.57 * (upper - lower) / math.sqrt(count)
    outliers = ordered[(ordered < low) | (ordered > high)]
    return Box(low, lower, median, upper, high, median - notch, median + notch, outliers)


class Steps(NamedTuple):
    """An empirical distribution function."""

    at: FloatArray
    """Shape (m,): the distinct values, increasing."""
    share: FloatArray
    """Shape (m,): the share of the sample at or below each."""


def empirical_distribution(x: FloatArray, weights: FloatArray | None = None) -> Steps:
    """The share of a sample at or below each of its values.

    Args:
        x: Sample of shape (n,), finite.
        weights: Shape (n,), not negative.
    """
    if not len(x):
        return Steps(np.zeros(0), np.zeros(0))
    at, place = np.unique(x, return_inverse=True)
    mass = np.bincount(place, weights).astype(float)
    share = np.cumsum(mass) / mass.sum()
    share[-1] = 1.0
    return Steps(at, share)


def plotting_positions(count: int) -> FloatArray:
    """Shares (i − a) / (n + 1 − 2a) for the sorted values of a sample: a = 3/8 up to ten values, else 1/2.

    Source: Blom (1958), Statistical Estimates and Transformed Beta-Variables, chapter 6.
    """
    a = 3 / 8 if count <= 10 else 0.5
    return np.asarray((np.arange(1, count + 1) - a) / (count + 1 - 2 * a), np.float64)


def theoretical_quantiles(shares: FloatArray, distribution: str) -> FloatArray:
    """Quantiles of the standard normal, uniform or exponential distribution.

    Raises:
        ValueError: There is no such distribution.
    """
    if distribution == "normal":
        from scipy.special import ndtri

        result: FloatArray = ndtri(shares)
        return result
    if distribution == "uniform":
        return shares
    if distribution == "exponential":
        return -np.log1p(-shares)
    raise ValueError(f"no distribution {distribution!r}")


def quartile_line(theory: FloatArray, sample: FloatArray) -> tuple[float, float]:
    """Intercept and slope of the line through the quartiles of a quantile–quantile plot."""
    q = np.array([0.25, 0.75])
    below, above = quantiles(sample, q)
    left, right = quantiles(theory, q)
    slope = (above - below) / (right - left) if right > left else 0.0
    return float(below - slope * left), float(slope)
