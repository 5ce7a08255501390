"""How strongly two variables go together, on one measure from 0 to 1, so that pairs of any kinds can be set in order."""

from __future__ import annotations

import math

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.stats.correlation import spearman


def of_numbers(x: FloatArray, y: FloatArray) -> float:
    """The size of the rank correlation of two samples.

    Args:
        x: Sample of shape (n,), finite.
        y: Likewise.

    Returns:
        From 0 to 1; NaN for fewer than three pairs or a constant sample.

    >>> of_numbers(np.array([1.0, 2.0, 3.0, 4.0]), np.array([9.0, 7.0, 4.0, 1.0]))
    1.0
    """
    return math.nan if len(x) < 3 else abs(spearman(x, y).r)


def of_groups(values: FloatArray, groups: IntArray) -> float:
    """How far groups tell values apart: the root of the share of variance between groups, corrected for their number.

    ε² = 1 − (W / (n − k)) / (T / (n − 1)), with the sums of squares within groups, W, and in all, T, of n values in k groups;
    below zero it counts as zero.

    Args:
        values: Sample of shape (n,), finite.
        groups: Codes of shape (n,), each the group of a value.

    Returns:
        From 0 to 1; NaN for a constant sample, a single group, or no more values than groups.

    Source: Kelley (1935), Proceedings of the National Academy of Sciences 21, 554–559.

    >>> round(of_groups(np.array([1.0, 2.0, 11.0, 12.0]), np.array([0, 0, 1, 1])), 3)
    0.993
    """
    _, codes, counts = np.unique(groups, return_inverse=True, return_counts=True)
    kinds, size = len(counts), len(values)
    # Scaled by their reach, squares of huge numbers do not run over.
    moved = values / 2 - np.mean(values / 2) if size else values
    reach = float(np.abs(moved).max()) if size else 0.0
    if kinds < 2 or size <= kinds or not reach > 1e-13 * float(np.abs(values).max()):
        return math.nan
    moved = moved / reach
    means = np.bincount(codes, moved) / counts
    within, total = float(((moved - means[codes]) ** 2).sum()), float(((moved - moved.mean()) ** 2).sum())
    return math.sqrt(max(0.0, 1 - (within / (size - kinds)) / (total / (size - 1))))


def of_categories(first: IntArray, second: IntArray) -> float:
    """Cramér's V of two groupings, corrected for what chance alone gives.

    Args:
        first: Codes of shape (n,).
        second: Likewise.

    Returns:
        From 0 to 1; NaN where one of them has a single group, or for fewer than two rows.

    Source: Bergsma (2013), Journal of the Korean Statistical Society 42, 323–328.

    >>> round(of_categories(np.array([0, 0, 1, 1] * 9), np.array([1, 1, 0, 0] * 9)), 6)
    1.0
    """
    (_, rows), (_, columns) = (np.unique(one, return_inverse=True) for one in (first, second))
    height, width, size = int(rows.max(initial=-1)) + 1, int(columns.max(initial=-1)) + 1, len(first)
    if height < 2 or width < 2 or size < 2:
        return math.nan
    seen = np.bincount(rows * width + columns, minlength=height * width).reshape(height, width)
    expected = np.outer(seen.sum(axis=1), seen.sum(axis=0)) / size
    share = float(((seen - expected) ** 2 / expected).sum()) / size
    corrected = max(0.0, share - (height - 1) * (width - 1) / (size - 1))
    lower = min(height - (height - 1) ** 2 / (size - 1), width - (width - 1) ** 2 / (size - 1)) - 1
    return math.nan if lower <= 0 else min(1.0, math.sqrt(corrected / lower))
