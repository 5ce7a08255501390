"""Sums that keep their digits: of large numbers that cancel each other, what is left is right."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.core.arrays import FloatArray, IntArray

_CANCELLED = 1000.0
"""Where the sizes sum to so many times the sum, digits were lost; below it a plain sum errs by less than 1e-11 of itself."""
_LARGEST = 1e290
"""Beyond it the powers of two that cut numbers into parts leave what floats can hold: there sums are plain."""


def grouped_sums(values: FloatArray, starts: IntArray) -> FloatArray:
    """The sum of each of several stretches of numbers, right to the last digits also where they cancel.

    Args:
        values: Shape (n,), finite.
        starts: Shape (k,), increasing from 0: where each stretch begins; none is empty.

    Returns:
        Shape (k,). Groups whose numbers do not cancel are summed pairwise; the others in exact parts.

    Source: Rump, Ogita & Oishi (2008), "Accurate Floating-Point Summation Part I", SIAM J. Sci. Comput. 31, 189–224.

    >>> grouped_sums(np.array([1e16, 1.0, 1.0, 1.0, -1e16]), np.array([0]))
    array([3.])
    """
    if not len(starts):
        return np.zeros(0)
    with np.errstate(over="ignore", invalid="ignore"):
        plain = np.add.reduceat(values, starts)
        size = np.add.reduceat(np.abs(values), starts)
    lost = np.flatnonzero((size > _CANCELLED * np.abs(plain)) & (size < _LARGEST))
    if not len(lost):
        return np.asarray(plain, np.float64)
    ends = np.append(starts[1:], len(values))
    sizes = (ends - starts)[lost]
    first = np.cumsum(sizes) - sizes
    rows = np.arange(int(sizes.sum())) + np.repeat(starts[lost] - first, sizes)
    total, rest = np.zeros(len(lost)), np.zeros(len(lost))
    for part in exact_parts(values[rows], first):
        total, error = _two_sum(total, np.add.reduceat(part, first))
        rest += error
    plain[lost] = total + rest
    return np.asarray(plain, np.float64)


def running_sums(values: FloatArray, starts: IntArray) -> tuple[FloatArray, FloatArray]:
    """The sum of each stretch of numbers up to each of them, as two floats whose exact sum it is, but for the last digits.

    The difference of two of them, taken float by float, is right also where it is small beside both.

    Args:
        values: Shape (n,), finite.
        starts: Shape (k,), increasing from 0: where each stretch begins; none is empty.

    Returns:
        The large parts and the small ones, each of shape (n,).
    """
    total, rest = np.zeros(len(values)), np.zeros(len(values))
    sizes = np.diff(np.append(starts, len(values)))
    # Parts are cut for all numbers together, and each stretch is scaled to one size, so that sums over all of them are exact.
    for part, power in _parts(values, starts, np.full(len(starts), len(values))):
        scale = np.repeat(np.where(power > 0, power, 1.0), sizes)
        partial = np.cumsum(part / scale)
        before = np.where(starts > 0, partial[starts - 1], 0.0)
        total, error = _two_sum(total, (partial - np.repeat(before, sizes)) * scale)
        rest += error
    return total, rest


def exact_parts(values: FloatArray, starts: IntArray) -> Iterator[FloatArray]:
    """Numbers cut into parts of like size, which sum up to them and whose sums, in any order, lose no digit.

    Args:
        values: Shape (n,), finite.
        starts: Shape (k,), increasing from 0: where stretches begin, each with parts of its own.

    Yields:
        Arrays of shape (n,), the largest parts first.
    """
    for part, _ in _parts(values, starts, np.diff(np.append(starts, len(values)))):
        yield part


def _parts(values: FloatArray, starts: IntArray, counts: IntArray) -> Iterator[tuple[FloatArray, FloatArray]]:
    """The parts, and for each stretch the power of two that none of its numbers exceeds; so many of them can be summed."""
    rest, sizes = values, np.diff(np.append(starts, len(values)))
    many = 2.0 ** np.ceil(np.log2(counts + 2.0))
    while len(starts):
        largest = np.maximum.reduceat(np.abs(rest), starts)
        there = largest > 0
        if not there.any():
            return
        power = np.where(there, 2.0 ** np.ceil(np.log2(np.where(there, largest, 1.0))), 0.0)
        edge = np.repeat(power * many, sizes)
        part = (edge + rest) - edge
        rest = rest - part
        yield part, power


def _two_sum(one: FloatArray, other: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Sums and what rounding took from them.

    Source: Knuth (1997), The Art of Computer Programming 2, section 4.2.2, theorem B.
    """
    total = one + other
    seen = total - one
    return total, (one - (total - seen)) + (other - seen)
