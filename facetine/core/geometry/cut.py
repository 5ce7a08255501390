"""Straight lines cut at the edges of a rectangle."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray


def cut_segments(ends: FloatArray, low: tuple[float, float], high: tuple[float, float]) -> FloatArray:
    """The parts of straight lines that lie in a rectangle.

    Args:
        ends: Shape (n, 4): x and y of the one end, x and y of the other; finite.
        low: The least x and y of the rectangle.
        high: The largest ones.

    Returns:
        Shape (m, 4), m ≤ n, each in its direction; lines that pass by are left out.

    Source: Liang & Barsky (1984), "A New Concept and Method for Line Clipping", ACM Transactions on Graphics 3(1), 1–22.

    >>> cut_segments(np.array([[-1.0, -1.0, 3.0, 3.0], [5.0, 0.0, 5.0, 1.0]]), (0.0, 0.0), (2.0, 1.0)).tolist()
    [[0.0, 0.0, 1.0, 1.0]]
    """
    start, way = ends[:, :2], ends[:, 2:] - ends[:, :2]
    with np.errstate(divide="ignore", invalid="ignore"):
        first, last = (np.array(low) - start) / way, (np.array(high) - start) / way
    inside = (start >= np.array(low)) & (start <= np.array(high))
    # A line along an edge is in or out all the way.
    enter = np.where(way == 0, np.where(inside, 0.0, np.inf), np.minimum(first, last)).max(axis=1)
    leave = np.where(way == 0, np.where(inside, 1.0, -np.inf), np.maximum(first, last)).min(axis=1)
    enter, leave = np.maximum(enter, 0.0), np.minimum(leave, 1.0)
    kept = enter < leave
    enter, leave, start, way = enter[kept, None], leave[kept, None], start[kept], way[kept]
    cut: FloatArray = np.hstack([start + enter * way, start + leave * way])
    return cut
