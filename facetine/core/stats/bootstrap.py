"""Bootstrap intervals of means and medians: by percentiles, and corrected for bias and skewness."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.stats.quantiles import quantiles, weighted_quantiles

_BLOCK = 4_000_000
_LEFT_OUT = 200


def resampled(
    x: FloatArray, around: str, level: float, draws: int, seed: int, weights: FloatArray | None, corrected: bool
) -> tuple[float, float]:
    """The ends of a bootstrap confidence interval.

    Rows are drawn with equal chances, each with its weight. The corrected interval takes the percentiles at
    Φ(z₀ + (z₀ + z) / (1 − a (z₀ + z))), where z₀ is the share of samples below the estimate as a normal quantile and a
    the acceleration from the jackknife.

    Args:
        x: Sample of shape (n,), finite, n ≥ 2.
        around: "mean" or "median".
        level: Confidence level between 0 and 1.
        draws: Number of samples.
        seed: Of the drawing. The order of rows has no effect.
        weights: Shape (n,), positive, or None.
        corrected: Whether for bias and acceleration.

    Source: Efron & Tibshirani (1993), An Introduction to the Bootstrap, sections 13.3 (percentiles) and 14.3 (corrected).
    """
    order = np.argsort(x, kind="stable") if weights is None else np.lexsort((weights, x))
    ordered, mass = x[order], None if weights is None else weights[order]
    rng = np.random.default_rng(seed)
    step = max(1, _BLOCK // len(x))
    parts = []
    for start in range(0, draws, step):
        rows = rng.integers(0, len(x), (min(step, draws - start), len(x)))
        parts.append(_statistics(ordered[rows], around, None if mass is None else mass[rows]))
    found = np.concatenate(parts)
    shares = np.array([0.5 - level / 2, 0.5 + level / 2])
    if corrected:
        shares = _corrected(ordered, around, mass, found, shares)
    low, high = quantiles(found, shares).tolist()
    return low, high


def _statistics(samples: FloatArray, around: str, weights: FloatArray | None) -> FloatArray:
    """The mean or median of each row of an array of shape (m, n)."""
    if weights is None:
        return np.asarray(samples.mean(axis=1) if around == "mean" else np.median(samples, axis=1))
    if around == "mean":
        return np.asarray((samples * weights).sum(axis=1) / weights.sum(axis=1))
    half = np.array([0.5])
    return np.array([weighted_quantiles(one, mass, half)[0] for one, mass in zip(samples, weights, strict=True)])


def _corrected(x: FloatArray, around: str, weights: FloatArray | None, found: FloatArray, shares: FloatArray) -> FloatArray:
    from scipy.special import ndtr, ndtri

    estimate = _statistics(x[None, :], around, None if weights is None else weights[None, :])[0]
    # Samples that hit the estimate itself, as medians often do, count half.
    below = (np.count_nonzero(found < estimate) + np.count_nonzero(found == estimate) / 2) / len(found)
    bias = float(ndtri(min(max(below, 0.5 / len(found)), 1 - 0.5 / len(found))))
    acceleration = _acceleration(_jackknifed(x, around, weights))
    z = bias + ndtri(shares)
    result: FloatArray = ndtr(bias + z / (1 - acceleration * z))
    return result


def _acceleration(left_out: FloatArray) -> float:
    """Σd³ / (6 (Σd²)^(3/2)) of the deviations d of the estimates without one row each from their mean."""
    deviation = left_out.mean() - left_out
    spread = float((deviation**2).sum())
    return float((deviation**3).sum()) / (6 * spread**1.5) if spread > 0 else 0.0


def _jackknifed(x: FloatArray, around: str, weights: FloatArray | None) -> FloatArray:
    """The estimate without each row; a weighted median of many rows without each of 200 evenly mixed parts of them."""
    count = len(x)
    if around == "mean":
        mass = np.ones(count) if weights is None else weights
        moved = x - x[0]
        return np.asarray((float(mass @ moved) - mass * moved) / (mass.sum() - mass))
    if weights is None:
        # Without row i of a sorted sample, what follows it moves down by one.
        rest, row = count - 1, np.arange(count)
        lower, upper = (rest - 1) // 2, rest // 2
        return np.asarray((x[lower + (row <= lower)] + x[upper + (row <= upper)]) / 2)
    part: AnyArray = np.arange(count) % min(count, _LEFT_OUT)
    half = np.array([0.5])
    kept = [part != number for number in range(min(count, _LEFT_OUT))]
    return np.array([weighted_quantiles(x[rows], weights[rows], half)[0] for rows in kept])
