"""An order of rows in which neighbours are alike."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray, IntArray

MOST = 400
"""Of more rows the leaves stand as the tree has them."""


def similar_order(values: FloatArray) -> IntArray:
    """The order of rows in which the distances of neighbours add up to the least that their clustering allows.

    Rows are joined by average linkage of the root of their mean squared difference, over the columns that both have; two
    rows without a common column are as far apart as the farthest two. Of the 2^(n − 1) orders of the leaves of that tree
    the one with the least sum of distances of neighbours is taken, and of its two directions the one in which the first
    of the rows as they came stands in the first half. More than 400 rows stand as the tree has them.

    Args:
        values: Shape (n, m); NaN where there is none.

    Returns:
        Shape (n,): the places of rows.

    Source: Bar-Joseph, Gifford & Jaakkola (2001), Bioinformatics 17 Suppl 1, S22–S29, as products of matrices in which
    sums are least values. The tree is that of SciPy's `linkage`, whose own order of leaves is not always the closest.
    """
    count = len(values)
    if count < 3:
        return np.arange(count)
    distances = _distances(values)
    if not distances.any():
        return np.arange(count)
    from scipy.cluster.hierarchy import leaves_list, linkage
    from scipy.spatial.distance import squareform

    tree = linkage(distances, "average")
    order = leaves_list(tree).astype(np.int64) if count > MOST else _closest(tree, squareform(distances))
    first = int(np.flatnonzero(order == 0)[0])
    return order[::-1].copy() if first > (count - 1) / 2 else order


class _Join(NamedTuple):
    """Two parts of a tree as one, with the closest order for each leaf at its left end and each at its right one."""

    leaves: IntArray
    """Shape (k,): those of the first part, then those of the second."""
    length: FloatArray
    """Shape (k, k): the least sum for two ends; infinite where no order has them."""
    parts: tuple[_Join, _Join] | None = None
    inner: tuple[IntArray, IntArray] | None = None
    """For a left end and the second part's first leaf the first part's last one, and for both ends that first leaf."""


def _closest(tree: FloatArray, apart: FloatArray) -> IntArray:
    """The leaves in the order whose neighbours are closest."""
    joins = [_Join(np.array([leaf]), np.zeros((1, 1))) for leaf in range(len(apart))]
    for one, other in tree[:, :2].astype(int).tolist():
        first, second = joins[one], joins[other]
        over, last = _least(first.length, apart[np.ix_(first.leaves, second.leaves)])
        whole, begin = _least(over, second.length)
        size, split = len(first.leaves) + len(second.leaves), len(first.leaves)
        length = np.full((size, size), np.inf)
        length[:split, split:] = whole
        length[split:, :split] = whole.T
        joins.append(_Join(np.concatenate([first.leaves, second.leaves]), length, (first, second), (last, begin)))
    root = joins[-1]
    left, right = (int(place) for place in np.unravel_index(np.argmin(root.length), root.length.shape))
    order: IntArray = np.array(_leaves(root, left, right), np.int64)
    return order


def _least(one: FloatArray, other: FloatArray) -> tuple[FloatArray, IntArray]:
    """The least of one[i, k] + other[k, j] over k, shape (n, m), and for which k that is."""
    best = np.full((len(one), other.shape[1]), np.inf)
    where = np.zeros(best.shape, np.int64)
    for k in range(len(other)):
        found = one[:, k, None] + other[None, k]
        better = found < best
        best[better], where[better] = found[better], k
    return best, where


def _leaves(join: _Join, left: int, right: int) -> list[int]:
    """The leaves between two ends, which are places among them."""
    if join.parts is None or join.inner is None:
        return [int(leaf) for leaf in join.leaves]
    first, second = join.parts
    split = len(first.leaves)
    if left >= split:
        return _leaves(join, right, left)[::-1]
    begin = int(join.inner[1][left, right - split])
    last = int(join.inner[0][left, begin])
    return [*_leaves(first, left, last), *_leaves(second, begin, right - split)]


def _distances(values: FloatArray) -> FloatArray:
    """Of all pairs of rows, shape (n (n − 1) / 2,), in the order of `scipy.spatial.distance`."""
    there = ~np.isnan(values)
    # About their mean, so that a large offset does not eat the digits.
    values = values - values[there].mean() if there.any() else values
    filled, known = np.where(there, values, 0.0), there.astype(float)
    # Sums over common columns, by products of matrices: Σ(a − b)² = Σa² + Σb² − 2Σab.
    squares = (filled**2) @ known.T
    common = known @ known.T
    sums = np.maximum(squares + squares.T - 2 * filled @ filled.T, 0.0)
    one, other = np.triu_indices(len(values), 1)
    shared = common[one, other]
    apart = np.sqrt(np.divide(sums[one, other], shared, out=np.full(len(one), np.nan), where=shared > 0))
    farthest = np.nanmax(apart) if np.isfinite(apart).any() else 0.0
    result: FloatArray = np.where(np.isnan(apart), farthest, apart)
    return result
