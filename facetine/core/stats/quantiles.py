"""Quantiles, boxes and empirical distributions: the one place from which all layers take them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.weights import effective_size

# Plotting parameters (a, b) of the continuous types: p(k) = (k − a) / (n + 1 − a − b).
_PLACES = {4: (0.0, 1.0), 5: (0.5, 0.5), 6: (0.0, 0.0), 7: (1.0, 1.0), 8: (1 / 3, 1 / 3), 9: (3 / 8, 3 / 8)}
_FEW, _MANY = 8, 2000
DEFAULT_TYPE = 7
"""Type 7: linear between (k − 1)/(n − 1), so that 0 and 1 are the extremes."""


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
    if kind <= 3:
        return _stepwise(np.sort(x), shares, kind)
    a, b = _PLACES[kind]
    place = _settled(shares * (count + 1 - a - b) + a - 1, count)
    low = np.floor(place)
    below, above = (np.clip(at, 0, count - 1).astype(np.int64) for at in (low, low + 1))
    # A few values need not be found by sorting all.
    few = len(shares) <= _FEW and count > _MANY
    ordered = np.partition(x, np.unique(np.concatenate([below, above]))) if few else np.sort(x)
    first, second = ordered[below], ordered[above]
    result: FloatArray = first + (place - low) * (second - first)
    return result


def _settled(place: FloatArray, count: int) -> FloatArray:
    """Places in a sorted sample, those that rounding alone keeps from a whole number set to it.

    A place is a product and two sums of numbers up to n + 1; each rounds by half a unit in the last place of n + 1 at
    most, and the share itself comes rounded, by as much again after the product. Four such units bound it all.
    """
    whole = np.rint(place)
    return np.where(np.abs(place - whole) <= 4 * np.spacing(count + 1.0), whole, place)


def _stepwise(ordered: FloatArray, shares: FloatArray, kind: int) -> FloatArray:
    """Types 1 to 3: the inverse of the empirical distribution, with averaging, and to the nearest even."""
    count = len(ordered)
    place = _settled(count * shares - (0.5 if kind == 3 else 0.0), count)
    low = np.floor(place)
    exact = place == low
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


class Middles(NamedTuple):
    """A weighted sample in order, and where the middle of each row's weight lies."""

    ordered: FloatArray
    """Shape (n,), increasing."""
    middle: FloatArray
    """Shape (n,): the weight of all rows before, and half of a row's own, where a row weighs 1 on average."""


def weight_middles(x: FloatArray, weights: FloatArray) -> Middles:
    """The rows by increasing value with the middles of their weights.

    Rows of one value share their weight evenly, so that their order has no effect.

    Args:
        x: Shape (n,), finite, n ≥ 1.
        weights: Shape (n,), positive.
    """
    _, place, ties = np.unique(x, return_inverse=True, return_counts=True)
    even = (np.bincount(place, weights) / ties)[place]
    order = np.argsort(x, kind="stable")
    mass = even[order] * (len(x) / float(weights.sum()))
    return Middles(x[order], np.cumsum(mass) - mass / 2)


def weighted_quantiles(x: FloatArray, weights: FloatArray, shares: FloatArray) -> FloatArray:
    """Quantiles of a weighted sample, which for equal weights are those of type 7.

    The weighted quantile function is a step at each sorted row, as long as its share of all weights. A quantile is its mean
    over [(h − 1)/n, h/n] with h = p(n − 1) + 1, where n is Kish's effective size (Σw)² / Σw²: for equal weights that spans
    the two rows between which type 7 is linear. Rescaling all weights, or changing the order of rows, changes nothing. It is
    not the quantile of a sample in which each row is repeated as often as its weight says: a weight is how much a row
    counts, not how often it was seen. At 0 and 1 it is the mean of the outermost n-th of all weight.

    Args:
        x: Shape (n,), finite.
        weights: Shape (n,), positive.
        shares: Shape (k,), between 0 and 1.

    Returns:
        Shape (k,); NaN for an empty sample.

    Source: Akinshin (2023), "Weighted quantile estimators", arXiv:2304.07265, sections 2 and 3 (type 7); Kish (1965), Survey
    Sampling.

    >>> weighted_quantiles(np.array([1.0, 2, 3, 10]), np.array([1.0, 1, 5, 1]), np.array([0.5]))
    array([3.])
    """
    shares = np.asarray(shares, float)
    if not len(x):
        return np.full(len(shares), np.nan)
    if (weights == weights[0]).all():
        return quantiles(x, shares)
    order = np.argsort(x, kind="stable")
    ordered, size = x[order], effective_size(weights)
    ends = risen(weights[order])
    starts = np.concatenate([[0.0], ends[:-1]])
    found = []
    for share in shares.tolist():
        low = share * (size - 1) / size
        high = min(low + 1 / size, 1.0)
        first, last = int(np.searchsorted(ends, low, side="right")), int(np.searchsorted(ends, high, side="left")) + 1
        first = min(first, len(x) - 1)
        part, base = slice(first, max(last, first + 1)), float(ordered[first])
        held = np.minimum(ends[part], high) - np.maximum(starts[part], low)
        mean = float(held @ (ordered[part] - base)) / float(held.sum()) if held.sum() > 0 else 0.0
        found.append(min(max(base + mean, float(ordered[0])), float(ordered[-1])))
    return np.array(found)


WHISKER = 1.5
"""Whiskers reach to the outermost values that lie so many heights of the box from it, at most.

Source: Tukey (1977), Exploratory Data Analysis, chapter 2.
"""
NOTCH = 1.57
"""A notch reaches so many heights of the box, divided by √n, either way from the median; n is the effective size.

Source: McGill, Tukey & Larsen (1978), The American Statistician 32, 12–16; Kish (1965), Survey Sampling.
"""


def risen(mass: FloatArray) -> FloatArray:
    """The share of all mass up to each place, the last one 1.

    Args:
        mass: Shape (n,), not negative, with some above zero; n ≥ 1.
    """
    share: FloatArray = np.cumsum(mass) / mass.sum()
    share[-1] = 1.0
    return share


def plotting_positions(count: int) -> FloatArray:
    """Shares (i − 3/8) / (n + 1/4) for the sorted values of a sample, shape (n,).

    Source: Blom (1958), Statistical Estimates and Transformed Beta-Variables, chapter 6.
    """
    return np.asarray((np.arange(1, count + 1) - 3 / 8) / (count + 1 / 4), np.float64)


def weighted_positions(x: FloatArray, weights: FloatArray) -> tuple[FloatArray, FloatArray]:
    """The sorted sample and the share of each row: (c + 1/8) / (n + 1/4) with the middles c of `weight_middles`.

    For equal weights these are the `plotting_positions`.

    Args:
        x: Shape (n,), finite, n ≥ 1.
        weights: Shape (n,), positive.
    """
    ordered, middle = weight_middles(x, weights)
    return ordered, (middle + 1 / 8) / (len(x) + 1 / 4)


class Pairs(NamedTuple):
    """Quantiles of two samples at the same shares."""

    first: FloatArray
    """Shape (m,)."""
    second: FloatArray
    """Shape (m,)."""


def paired_quantiles(first: FloatArray, second: FloatArray) -> Pairs:
    """Two samples against each other: all rows of the larger one against quantiles (type 9) of the smaller.

    Quantiles of type 9 at the plotting positions of a sample are its values, so that a sample against itself, or
    against itself in another order, lies on the identity.

    Args:
        first: Shape (n,), finite.
        second: Shape (k,), finite.
    """
    shares = plotting_positions(max(len(first), len(second)))
    return Pairs(quantiles(first, shares, 9), quantiles(second, shares, 9))


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
    """Intercept and slope of the line through the quartiles of a quantile–quantile plot.

    Args:
        theory: The quartiles along x, shape (2,).
        sample: Those along y, shape (2,).
    """
    slope = (sample[1] - sample[0]) / (theory[1] - theory[0]) if theory[1] > theory[0] else 0.0
    return float(sample[0] - slope * theory[0]), float(slope)
