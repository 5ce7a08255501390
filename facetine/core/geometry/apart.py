"""Things on a line moved apart."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray


def moved_apart(at: FloatArray, size: float, low: float, high: float) -> FloatArray:
    """Places at least `size` apart, each as near to where it was as the others let it, all between two ends.

    Places that meet are gathered into a block about their mean, which grows until it meets no other: the least squares
    solution for a fixed order. Where there is no room for all they are spread evenly over it.

    Args:
        at: Wanted places, shape (n,).
        size: Least distance.
        low: Smallest place allowed.
        high: Largest place allowed.

    Source: pool adjacent violators; Barlow, Bartholomew, Bremner & Brunk (1972), Statistical Inference under Order
    Restrictions, section 1.2.

    >>> moved_apart(np.array([1.0, 1.0, 9.0]), 2.0, 0.0, 10.0).tolist()
    [0.0, 2.0, 9.0]
    """
    count = len(at)
    if count == 0:
        return at
    if (count - 1) * size > high - low:
        size = (high - low) / max(count - 1, 1)
    order = np.argsort(at, kind="stable")
    wanted = at[order] - size * np.arange(count)
    blocks: list[list[float]] = []
    for value in wanted.tolist():
        blocks.append([value, 1.0])
        while len(blocks) > 1 and blocks[-2][0] > blocks[-1][0]:
            mean, weight = blocks.pop()
            before = blocks[-1]
            before[0] = (before[0] * before[1] + mean * weight) / (before[1] + weight)
            before[1] += weight
    level = np.concatenate([np.full(int(weight), mean) for mean, weight in blocks])
    level = np.clip(level, low, high - size * (count - 1))
    out = np.empty(count)
    out[order] = level + size * np.arange(count)
    return out
