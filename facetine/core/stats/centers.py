"""Centers of samples and how sure they are: means, medians, and intervals around them."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.groups import aggregated, grouped
from facetine.core.stats.quantiles import quantiles

REACHES = ("confidence", "std_error", "std_dev", "quartiles", "range")


class Interval(NamedTuple):
    """A center and the two ends around it."""

    center: float
    low: float
    high: float


def center(x: FloatArray, how: str) -> float:
    """The "mean" or "median" of a sample, by the same sums as all aggregates; NaN for an empty one."""
    return float(aggregated(x, grouped(np.zeros(len(x))), how)[0]) if len(x) else math.nan


def standard_deviation(x: FloatArray) -> float:
    """√(Σ(x − x̄)² / (n − 1)); NaN for n < 2."""
    return float(np.std(x - x[0], ddof=1)) if len(x) > 1 else math.nan


def interval(
    x: FloatArray,
    around: str = "mean",
    reach: str = "confidence",
    level: float = 0.95,
    draws: int = 0,
    seed: int = 1,
) -> Interval:
    """A center with the interval around it.

    Args:
        x: Sample of shape (n,), finite.
        around: "mean" or "median".
        reach: "confidence" (of a mean by Student's t, of a median by order statistics, or either by bootstrap),
            "std_error", "std_dev", "quartiles" or "range".
        level: Confidence level between 0 and 1.
        draws: Bootstrap samples for the confidence interval; 0 for the formula.
        seed: Seed of the bootstrap.

    Returns:
        The interval; its ends are NaN where the sample is too small for them, all is NaN for an empty one.

    Raises:
        ValueError: There is no such center or reach.

    Source: Student (1908), Biometrika 6, 1–25; Conover (1999), Practical Nonparametric Statistics, section 3.2, for the
    median; Efron & Tibshirani (1993), An Introduction to the Bootstrap, section 13.3, for the percentile interval.
    """
    if around not in ("mean", "median"):
        raise ValueError(f"no center {around!r}")
    if reach not in REACHES:
        raise ValueError(f"no reach {reach!r}")
    count = len(x)
    if not count:
        return Interval(math.nan, math.nan, math.nan)
    middle = center(x, around)
    if reach == "quartiles":
        low, high = quantiles(x, np.array([0.25, 0.75])).tolist()
        return Interval(middle, low, high)
    if reach == "range":
        return Interval(middle, float(x.min()), float(x.max()))
    spread = standard_deviation(x)
    if reach == "std_dev":
        return Interval(middle, middle - spread, middle + spread)
    error = spread / math.sqrt(count)
    if reach == "std_error":
        error *= 1.0 if around == "mean" else math.sqrt(math.pi / 2)
        return Interval(middle, middle - error, middle + error)
    if count < 2:
        return Interval(middle, math.nan, math.nan)
    if draws:
        return _bootstrapped(x, around, middle, level, draws, seed)
    if around == "median":
        return _order_interval(x, middle, level)
    from scipy.special import stdtrit

    half = float(stdtrit(count - 1, 0.5 + level / 2)) * error
    return Interval(middle, middle - half, middle + half)


def _bootstrapped(x: FloatArray, around: str, middle: float, level: float, draws: int, seed: int) -> Interval:
    """The percentile interval; large samples are resampled in parts to keep memory small."""
    rng = np.random.default_rng(seed)
    ordered = np.sort(x)  # so that the order of rows changes nothing
    found = []
    step = max(1, 4_000_000 // len(x))
    for start in range(0, draws, step):
        sample = ordered[rng.integers(0, len(x), (min(step, draws - start), len(x)))]
        found.append(sample.mean(axis=1) if around == "mean" else np.median(sample, axis=1))
    low, high = quantiles(np.concatenate(found), np.array([0.5 - level / 2, 0.5 + level / 2])).tolist()
    return Interval(middle, low, high)


def _order_interval(x: FloatArray, middle: float, level: float) -> Interval:
    """Order statistics whose binomial coverage of the median is at least the level, where the sample is large enough."""
    from scipy.special import bdtr

    ordered, count = np.sort(x), len(x)
    # P(fewer than k of n values lie below the median) ≤ (1 − level) / 2.
    shares = bdtr(np.arange(count), count, 0.5)
    below = int(np.searchsorted(shares, (1 - level) / 2, side="right"))
    if below == 0:
        return Interval(middle, math.nan, math.nan)
    return Interval(middle, float(ordered[below - 1]), float(ordered[count - below]))
