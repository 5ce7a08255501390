"""Rows that share keys, summarised without a loop over rows."""

from __future__ import annotations

from typing import Literal, NamedTuple, TypeAlias, get_args

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.stats.sums import grouped_sums

Aggregate: TypeAlias = Literal["none", "mean", "median", "sum", "count", "min", "max"]
AGGREGATES: tuple[Aggregate, ...] = get_args(Aggregate)


class Groups(NamedTuple):
    """Rows sorted into groups."""

    order: IntArray
    """Shape (n,): rows so that those of a group stand together, groups by increasing keys, rows as they came."""
    starts: IntArray
    """Shape (k,): where each group begins in `order`."""
    sizes: IntArray
    """Shape (k,): rows in each group."""

    @property
    def first(self) -> IntArray:
        """Shape (k,): the first row of each group."""
        result: IntArray = self.order[self.starts]
        return result

    @property
    def number(self) -> IntArray:
        """Shape (n,): the number of the group of each row, as the rows came."""
        number = np.empty(len(self.order), np.int64)
        number[self.order] = np.repeat(np.arange(len(self.starts)), self.sizes)
        return number


def grouped(*keys: AnyArray) -> Groups:
    """Groups of rows with equal keys, sorted by the first key, then the second, and so on.

    Args:
        keys: At least one array, all of shape (n,); NaN counts as one value.

    >>> grouped(np.array([2, 1, 2])).sizes
    array([1, 2])
    """
    count = len(keys[0])
    dividing = _dividing(keys) if count else []
    if not dividing:
        return all_of(count)
    order = (_sorted(dividing[0]) if len(dividing) == 1 else np.lexsort(dividing[::-1])).astype(np.int64, copy=False)
    fresh = np.zeros(count, bool)
    fresh[0] = True
    for key in dividing:
        line = key[order]
        differs = line[1:] != line[:-1]
        if line.dtype.kind == "f":
            differs &= ~(np.isnan(line[1:]) & np.isnan(line[:-1]))
        fresh[1:] |= differs
    starts = np.flatnonzero(fresh).astype(np.int64)
    return Groups(order, starts, np.diff(np.append(starts, count)).astype(np.int64))


def _sorted(key: AnyArray) -> AnyArray:
    """The order of one key, equal ones as they came."""
    if key.dtype.kind == "f":
        # The quick sort does not keep the order of equal keys; where there are none, that is no loss.
        order = np.argsort(key)
        line = key[order]
        if (line[1:] > line[:-1]).all():
            return order
    return np.argsort(key, kind="stable")


def all_of(count: int) -> Groups:
    """So many rows as one group; none at all are no group."""
    if not count:
        none = np.zeros(0, np.int64)
        return Groups(none, none, none)
    return Groups(np.arange(count), np.zeros(1, np.int64), np.array([count], np.int64))


_SMALL = 1 << 15


def _dividing(keys: tuple[AnyArray, ...]) -> list[AnyArray]:
    """The keys that differ among rows, whole numbers of small ranges put together: sorting them by counting is quick."""
    found: list[AnyArray] = []
    code, size = None, 1
    for key in keys:
        if key.dtype.kind not in "iub":
            if code is not None:
                found.append(code)
                code, size = None, 1
            if not (key == key[0]).all():
                found.append(key)
            continue
        low, high = int(key.min()), int(key.max())
        if low == high:
            continue
        width = high - low + 1
        if code is not None and size * width > _SMALL:
            found.append(code)
            code, size = None, 1
        if width > _SMALL:
            found.append(key)
            continue
        own = (key - low).astype(np.int16) if key.dtype.kind != "b" else key.astype(np.int16)
        code = own if code is None else (code.astype(np.int16) * np.int16(width) + own).astype(np.int16)
        size *= width
    return found if code is None else [*found, code]


def aggregated(values: FloatArray, groups: Groups, how: str, weights: FloatArray | None = None) -> FloatArray:
    """One number for each group.

    Args:
        values: Shape (n,), finite.
        groups: How the rows are grouped.
        how: mean, median, sum, count, min or max.
        weights: Shape (n,), positive. Then the count is the sum of weights, the sum Σwx, the mean Σwx / Σw, and the
            median the weighted quantile of a half; the extremes are those of all rows.

    Returns:
        Shape (k,). The median of an even number of values is the mean of the middle two.

    Raises:
        ValueError: There is no such aggregate.
    """
    if how not in AGGREGATES[1:]:
        raise ValueError(f"no aggregate {how!r}")
    if not len(groups.starts):
        return np.zeros(0)
    single = len(groups.starts) == 1  # then rows stand in their order already
    line = values if single else values[groups.order]
    if how in ("min", "max"):
        if single:
            return np.array([line.min() if how == "min" else line.max()])
        reduce = np.minimum.reduceat if how == "min" else np.maximum.reduceat
        extremes: FloatArray = reduce(line, groups.starts)
        return extremes
    if weights is not None:
        return _weighed(line, groups, how, weights if single else weights[groups.order])
    if how == "count":
        return groups.sizes.astype(float)
    if how in ("sum", "mean"):
        sums = grouped_sums(line, groups.starts)
        if how == "sum":
            return sums
        return _centered(sums / groups.sizes, line, groups, np.ones(len(line)), groups.sizes.astype(float))
    number = np.repeat(np.arange(len(groups.starts)), groups.sizes)
    line = line[np.lexsort((line, number))]
    low = groups.starts + (groups.sizes - 1) // 2
    high = groups.starts + groups.sizes // 2
    middle: FloatArray = line[low] + (line[high] - line[low]) / 2
    return middle


def _weighed(line: FloatArray, groups: Groups, how: str, weights: FloatArray) -> FloatArray:
    """Weighted sums, means and medians of rows that stand group by group."""
    from facetine.core.stats.quantiles import weighted_quantiles

    if how == "median":
        ends = np.append(groups.starts[1:], len(line)).tolist()
        half = np.array([0.5])
        parts = [slice(start, end) for start, end in zip(groups.starts.tolist(), ends, strict=True)]
        return np.array([weighted_quantiles(line[part], weights[part], half)[0] for part in parts])
    mass = grouped_sums(weights, groups.starts)
    if how == "count":
        return mass
    sums = grouped_sums(line * weights, groups.starts)
    if how == "sum":
        return sums
    return _centered(sums / mass, line, groups, weights, mass)


def _centered(center: FloatArray, line: FloatArray, groups: Groups, weights: FloatArray, mass: FloatArray) -> FloatArray:
    """Means taken about themselves once more, so that they lie among values that are nearly one; shape (k,).

    Where values of both signs cancel, distances to the mean would lose what the sums have kept.
    """
    about = (line - np.repeat(center, groups.sizes)) * weights
    alike = np.add.reduceat(np.abs(line) * weights, groups.starts) <= 2 * np.abs(center) * mass
    result: FloatArray = np.where(alike, center + np.add.reduceat(about, groups.starts) / mass, center)
    return result


def found_among(there: FloatArray, wanted: FloatArray) -> IntArray:
    """The first place at which each row stands among others, shape (n,); −1 where it does not.

    Args:
        there: Shape (m, k).
        wanted: Shape (n, k).

    >>> found_among(np.array([[1.0, 2.0], [3.0, 4.0], [1.0, 2.0]]), np.array([[3.0, 4.0], [1.0, 2.0], [0.0, 0.0]]))
    array([ 1,  0, -1])
    """
    kinds = kinds_of(there, wanted)
    place = np.full(int(kinds.max(initial=0)) + 1, -1, np.int64)
    place[kinds[: len(there)][::-1]] = np.arange(len(there))[::-1]
    found: IntArray = place[kinds[len(there) :]]
    return found


def kinds_of(*parts: FloatArray) -> IntArray:
    """A number for each row of several, one part after the other, shape (n,); equal for equal rows.

    Args:
        *parts: Each of shape (m, k).
    """
    # Column by column, which is quicker than rows as wholes.
    kinds: IntArray = np.zeros(sum(map(len, parts)), np.int64)
    for column in np.vstack(parts).T:
        codes = np.unique(column, return_inverse=True)[1].reshape(-1)
        kinds = np.unique(kinds * (int(codes.max(initial=0)) + 1) + codes, return_inverse=True)[1].reshape(-1)
    return kinds
