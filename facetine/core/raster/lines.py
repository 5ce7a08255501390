"""Long lines with the vertices that can't be told apart taken away."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray, IntArray


def thinned(points: FloatArray, starts: IntArray, step: float) -> tuple[FloatArray, IntArray]:
    """Lines that run to the right, of whose vertices within each step only the first, lowest, highest and last are left.

    What is drawn moves by no more than a step: a line that stays within one covers all from its lowest to its highest
    place.

    Args:
        points: Shape (m, 2): the vertices of all parts.
        starts: Shape (k,): where each part begins.
        step: In the unit of the points.

    Returns:
        Fewer vertices and where their parts begin; the same where a line runs back, or nothing would be gained.
    """
    x, y = points.T
    part = np.zeros(len(x), np.int64)
    part[starts] = 1
    part = np.cumsum(part) - 1
    if bool((np.diff(x)[np.diff(part) == 0] < 0).any()):
        return points, starts
    cell = np.floor(x / step).astype(np.int64)
    begins = np.flatnonzero(np.r_[True, (np.diff(cell) != 0) | (np.diff(part) != 0)])
    if 4 * len(begins) >= len(x):
        return points, starts
    ends = np.append(begins[1:], len(x)) - 1
    low, high = np.minimum.reduceat(y, begins), np.maximum.reduceat(y, begins)
    across = np.column_stack([x[begins], x[begins], x[ends], x[ends]])
    # Whichever end comes first, the line goes to the nearer extreme before the farther one.
    up = np.abs(y[begins] - low) <= np.abs(y[begins] - high)
    down = np.column_stack([y[begins], np.where(up, low, high), np.where(up, high, low), y[ends]])
    kept = np.column_stack([across.ravel(), down.ravel()])
    return kept, 4 * np.searchsorted(begins, starts)
