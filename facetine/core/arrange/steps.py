"""How far apart places along an axis are: which of them are one, and how wide the marks on them may be."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray

_ONE = 1e-6
"""Places nearer than this share of the typical step are one."""
_ROUNDING = 16 * float(np.finfo(float).eps)
"""Places nearer than this share of the largest number differ by how they were computed alone."""


def merged_places(x: FloatArray, along: FloatArray) -> FloatArray:
    """Values of which those whose places differ by rounding, or by less than a millionth of the typical step, are one.

    Args:
        x: Shape (n,), in any order.
        along: Shape (n,): their places along the axis, which rise or fall with them; NaN for none.

    Returns:
        Shape (n,): each value, or another one of those that are one with it.

    >>> x = np.array([0.1 * 3, 0.3, 0.2])
    >>> merged_places(x, x).tolist()
    [0.3, 0.3, 0.2]
    """
    places = np.unique(along[np.isfinite(along)])
    if len(places) < 2:
        return x
    gaps = np.diff(places)
    least = max(_rounding(places), _ONE * typical_step(places))
    if gaps.min() > least:
        return x
    places, first, which = np.unique(along, return_index=True, return_inverse=True)
    fresh = np.append(True, ~(np.diff(places) <= least))
    leader = np.maximum.accumulate(np.where(fresh, np.arange(len(places)), 0))
    result: FloatArray = x[first[leader]][which.reshape(-1)]
    return np.where(np.isfinite(along), result, x)


def _rounding(places: FloatArray) -> float:
    """What places, shape (n,) with n > 0, may differ by only because of how they were computed."""
    return _ROUNDING * float(np.abs(places).max())


def typical_step(x: FloatArray) -> float:
    """The typical distance of neighbours: the middle one of all distances, the lower of two middle ones.

    Distances that are rounding are none. One place has the step 1.

    Args:
        x: Shape (n,), in any order.

    >>> typical_step(np.array([1.0, 2.0, 3.0, 3.00001, 4.0, 9.0]))
    1.0
    """
    places = np.unique(x[np.isfinite(x)])
    gaps = np.diff(places)
    gaps = np.sort(gaps[gaps > _rounding(places)]) if len(gaps) else gaps
    return float(gaps[(len(gaps) - 1) // 2]) if len(gaps) else 1.0


def cells_of(x: FloatArray, width: float) -> tuple[FloatArray, FloatArray]:
    """Where the mark on each place begins and ends: half a width on both sides, or halfway to a neighbour that is nearer.

    Args:
        x: Shape (n,), in any order, with the same place any number of times.
        width: Of marks that have room.

    Returns:
        Lower and upper ends, each of shape (n,); no two places share more than an end.

    >>> low, high = cells_of(np.array([1.0, 1.5, 4.0]), 1.0)
    >>> low.tolist(), high.tolist()
    ([0.5, 1.25, 3.5], [1.25, 2.0, 4.5])
    """
    places, which = np.unique(x, return_inverse=True)
    half = np.diff(places) / 2
    low = places - np.minimum(width / 2, np.append(np.inf, half))
    high = places + np.minimum(width / 2, np.append(half, np.inf))
    which = which.reshape(-1)
    return low[which], high[which]
