"""Smooth curves with as few vertices as show them."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray, IntArray


def enough(x: FloatArray, curves: FloatArray, tolerance: float) -> IntArray:
    """Which vertices are enough for curves over common places, such as a line with the ends of its band.

    Every second, fourth, … vertex and the last one are tried, the fewest first, so that those that stay stand evenly
    and a hand can move them.

    Args:
        x: Shape (n,): increasing places.
        curves: Shape (k, n): the curves at these places; where one has no value, all vertices stay.
        tolerance: How far a straight line between two that stay may run from one that does not.

    Returns:
        Positions of those that stay, increasing, from the first to the last.
    """
    count = len(x)
    everything = np.arange(count)
    if count < 4 or not (np.diff(x) > 0).all() or not np.isfinite(curves).all():
        return everything
    stride = 1 << (count - 2).bit_length()
    while stride > 1:
        kept = np.unique(np.append(everything[::stride], count - 1))
        if all(np.abs(np.interp(x, x[kept], curve[kept]) - curve).max() <= tolerance for curve in curves):
            return kept
        stride //= 2
    return everything
