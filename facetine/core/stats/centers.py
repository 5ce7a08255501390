"""Centers of samples and how sure they are: means, medians and shares, and intervals around them."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.groups import aggregated, grouped
from facetine.core.stats.quantiles import quantiles, weighted_quantiles
from facetine.core.stats.weights import effective_size

CENTERS = ("mean", "median", "share")
REACHES = ("confidence", "std_error", "std_dev", "quartiles", "range")
BOOTSTRAPS = ("bias_corrected", "percentile")


class Interval(NamedTuple):
    """A center and the two ends around it."""

    center: float
    low: float
    high: float


def center(x: FloatArray, how: str, weights: FloatArray | None = None) -> float:
    """The "mean" or "median" of a sample, by the same sums as all aggregates; NaN for an empty one."""
    return float(aggregated(x, grouped(np.zeros(len(x))), how, weights)[0]) if len(x) else math.nan


def standard_deviation(x: FloatArray, weights: FloatArray | None = None) -> float:
    """√(Σ(x − x̄)² / (n − 1)); NaN for n < 2.

    With weights √(Σw(x − x̄)² / Σw / (1 − 1/n)), where x̄ is weighted and n is Kish's effective size.
    """
    if len(x) < 2:
        return math.nan
    if weights is None:
        return float(np.std(x - x[0], ddof=1))
    share = weights / weights.sum()
    moved = x - x[0]
    spread = float(share @ (moved - float(share @ moved)) ** 2)
    return math.sqrt(spread / (1 - 1 / effective_size(weights)))


def interval(
    x: FloatArray,
    around: str = "mean",
    reach: str = "confidence",
    level: float = 0.95,
    draws: int = 0,
    seed: int = 1,
    weights: FloatArray | None = None,
    bootstrap: str = "bias_corrected",
) -> Interval:
    """A center with the interval around it.

    Args:
        x: Sample of shape (n,), finite; zeros and ones for a share.
        around: "mean", "median", or "share".
        reach: "confidence" (of a mean by Student's t, of a median by order statistics, of a share by Wilson's score, or
            of the first two by bootstrap), "std_error", "std_dev", "quartiles" or "range".
        level: Confidence level between 0 and 1.
        draws: Bootstrap samples for the confidence interval; 0 for the formula.
        seed: Seed of the bootstrap.
        weights: Shape (n,), positive. The sample's size is then Kish's effective one, (Σw)² / Σw², and the median has
            Woodruff's interval.
        bootstrap: "bias_corrected" for the bias-corrected and accelerated interval, or "percentile".

    Returns:
        The interval; its ends are NaN where the sample is too small for them, all is NaN for an empty one.

    Raises:
        ValueError: There is no such center or reach.

    Source: Student (1908), Biometrika 6, 1–25; Conover (1999), Practical Nonparametric Statistics, section 3.2, and
    Woodruff (1952), J. Am. Stat. Assoc. 47, 635–646, for the median; Wilson (1927), J. Am. Stat. Assoc. 22, 209–212, for
    the share; Kish (1965), Survey Sampling, section 11.7, for the effective size.
    """
    if around not in CENTERS:
        raise ValueError(f"no center {around!r}")
    if reach not in REACHES:
        raise ValueError(f"no reach {reach!r}")
    if not len(x):
        return Interval(math.nan, math.nan, math.nan)
    size = float(len(x)) if weights is None else effective_size(weights)
    if around == "share":
        return share_interval(center(x, "mean", weights), size, reach, level)
    middle = center(x, around, weights)
    if reach == "quartiles":
        return Interval(middle, *_quantiles(x, weights, 0.25, 0.75))
    if reach == "range":
        return Interval(middle, float(x.min()), float(x.max()))
    if reach == "confidence" and draws and len(x) > 1:
        from facetine.core.stats.bootstrap import resampled

        return Interval(middle, *resampled(x, around, level, draws, seed, weights, bootstrap == "bias_corrected"))
    if reach == "confidence" and around == "median":
        shares = median_shares(len(x), size, level, weights is not None)
        return Interval(middle, *(_quantiles(x, weights, *shares) if shares else (math.nan, math.nan)))
    return spread_interval(middle, standard_deviation(x, weights), size, around, reach, level)


def spread_interval(middle: float, spread: float, size: float, around: str, reach: str, level: float) -> Interval:
    """An interval that follows from a standard deviation.

    Args:
        middle: The center.
        spread: The standard deviation; NaN where there are too few values.
        size: The size of the sample, or its effective one.
        around: "mean" or "median".
        reach: "std_dev", "std_error", or "confidence" of a mean by Student's t.
        level: Confidence level between 0 and 1.
    """
    if reach == "std_dev":
        return Interval(middle, middle - spread, middle + spread)
    error = spread / math.sqrt(size)
    if reach == "std_error":
        error *= 1.0 if around == "mean" else math.sqrt(math.pi / 2)
        return Interval(middle, middle - error, middle + error)
    if not size > 1 or math.isnan(spread):
        return Interval(middle, math.nan, math.nan)
    from scipy.special import stdtrit

    half = float(stdtrit(size - 1, 0.5 + level / 2)) * error
    return Interval(middle, middle - half, middle + half)


def median_shares(count: int, size: float, level: float, weighted: bool) -> tuple[float, float] | None:
    """The quantiles between which a median lies with a confidence; None where the sample is too small.

    Without weights, order statistics whose binomial coverage is at least the level, as shares of type 7; with them
    1/2 ± z/(2√n), where n is the effective size.

    Source: Conover (1999), Practical Nonparametric Statistics, section 3.2; Woodruff (1952), J. Am. Stat. Assoc. 47,
    635–646.
    """
    from scipy.special import bdtr, ndtri

    if weighted:
        half = float(ndtri(0.5 + level / 2)) / (2 * math.sqrt(size))
        return (0.5 - half, 0.5 + half) if half < 0.5 and count > 1 else None
    # P(fewer than k of n values lie below the median) ≤ (1 − level) / 2.
    below = int(np.searchsorted(bdtr(np.arange(count), count, 0.5), (1 - level) / 2, side="right"))
    return ((below - 1) / (count - 1), (count - below) / (count - 1)) if below and count > 1 else None


def _quantiles(x: FloatArray, weights: FloatArray | None, *shares: float) -> list[float]:
    at = np.array(shares)
    found: list[float] = (quantiles(x, at) if weights is None else weighted_quantiles(x, weights, at)).tolist()
    return found


def share_interval(share: float, size: float, reach: str, level: float) -> Interval:
    """A share with Wilson's score interval, or its standard error.

    Raises:
        ValueError: A share has no such reach.
    """
    if reach == "std_error":
        error = math.sqrt(share * (1 - share) / size)
        return Interval(share, share - error, share + error)
    if reach != "confidence":
        raise ValueError(f"no {reach} of a share")
    from scipy.special import ndtri

    z2 = float(ndtri(0.5 + level / 2)) ** 2
    middle = (share + z2 / (2 * size)) / (1 + z2 / size)
    half = math.sqrt(z2) / (1 + z2 / size) * math.sqrt(share * (1 - share) / size + z2 / (4 * size**2))
    # At 0 and 1 the formula's end is the share itself, but for rounding.
    return Interval(share, 0.0 if share == 0 else middle - half, 1.0 if share == 1 else middle + half)
