"""How closely two samples go together: correlation coefficients with their intervals."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray


class Correlation(NamedTuple):
    """A coefficient and its interval; NaN where there is none."""

    r: float
    low: float
    high: float
    size: int
    """How many pairs it is of."""


def pearson(x: FloatArray, y: FloatArray, level: float = 0.95) -> Correlation:
    """The product-moment coefficient, with the interval of Fisher's z, whose standard error is 1 / √(n − 3).

    Args:
        x: Sample of shape (n,), finite.
        y: Likewise.
        level: Of the interval, between 0 and 1.

    Returns:
        NaN for fewer than two pairs or a constant sample; no interval for fewer than four pairs.

    Source: Fisher (1921), Metron 1, 3–32.

    >>> pearson(np.array([1.0, 2.0, 3.0, 4.0]), np.array([1.0, 2.0, 4.0, 3.0])).r
    0.8
    """
    r = _product_moment(x, y)
    return Correlation(r, *_interval(r, len(x), 1.0, level), len(x))


def spearman(x: FloatArray, y: FloatArray, level: float = 0.95) -> Correlation:
    """The coefficient of ranks, equal values sharing their mean rank, with an interval on Fisher's scale.

    The standard error on that scale is √((1 + r²/2) / (n − 3)).

    Args:
        x: Sample of shape (n,), finite.
        y: Likewise.
        level: Of the interval, between 0 and 1.

    Returns:
        NaN for fewer than two pairs or a constant sample; no interval for fewer than four pairs.

    Source: Bonett & Wright (2000), Psychometrika 65, 23–28.
    """
    r = _product_moment(mid_ranks(x), mid_ranks(y))
    return Correlation(r, *_interval(r, len(x), 1.0 + r * r / 2, level), len(x))


def mid_ranks(x: FloatArray) -> FloatArray:
    """Ranks from 1 on, equal values sharing their mean; shape kept.

    >>> mid_ranks(np.array([3.0, 1.0, 3.0])).tolist()
    [2.5, 1.0, 2.5]
    """
    _, place, counts = np.unique(x, return_inverse=True, return_counts=True)
    last = np.cumsum(counts)
    ranks: FloatArray = (last - (counts - 1) / 2)[place]
    return ranks


def _product_moment(x: FloatArray, y: FloatArray) -> float:
    if len(x) < 2:
        return math.nan
    parts = []
    for values in (x, y):
        # Scaled by their reach, squares of huge or tiny numbers neither run over nor vanish.
        moved = values / 2 - np.mean(values / 2)
        reach = float(np.abs(moved).max())
        if not reach > 1e-13 * float(np.abs(values).max()):
            return math.nan
        moved = moved / reach
        parts.append(moved / math.sqrt(float(moved @ moved)))
    return float(np.clip(parts[0] @ parts[1], -1.0, 1.0))


def _interval(r: float, count: int, spread: float, level: float) -> tuple[float, float]:
    from scipy.special import ndtri

    if math.isnan(r) or count < 4:
        return math.nan, math.nan
    if abs(r) == 1:
        return r, r
    half = float(ndtri(0.5 + level / 2)) * math.sqrt(spread / (count - 3))
    middle = math.atanh(r)
    return math.tanh(middle - half), math.tanh(middle + half)


METHODS = {"pearson": pearson, "spearman": spearman}
