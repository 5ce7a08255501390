"""How far apart places along an axis are: which of them are one, and how wide the marks on them may be."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray

_ONE = 1e-6
"""Places nearer than this share of the typical step are one."""
_ROUNDING = 16 * float(np.finfo(float).eps)
"""Places nearer than this share of the largest number differ by how they were computed alone."""


def merged_places(x: FloatArray) -> FloatArray:
    """Places of which those that differ by rounding, or by less than a millionth of the typical step, are one.

    Args:
        x: Shape (n,), in any order.

    Returns:
        Shape (n,): each place, or the lowest of those that are one with it.

    >>> merged_places(np.array([0.1 * 3, 0.3, 0.2])).tolist()
    [0.3, 0.3, 0.2]
    """
    places, which = np.unique(x, return_inverse=True)
    finite = places[np.isfinite(places)]
    if len(finite) < 2:
        return x
    gaps = np.diff(finite)
    least = max(_ROUNDING * float(np.abs(finite).max()), _ONE * typical_step(finite))
    if gaps.min() > least:
        return x
    first = np.maximum.accumulate(np.where(np.append(True, gaps > least), np.arange(len(finite)), 0))
    kept = np.concatenate([finite[first], places[len(finite) :]])
    result: FloatArray = kept[which.reshape(-1)]
    return result


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
    gaps = np.sort(gaps[gaps > _ROUNDING * float(np.abs(places).max())]) if len(gaps) else gaps
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
