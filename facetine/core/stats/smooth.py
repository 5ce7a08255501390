"""Curves that follow the data: local regression and moving averages."""

from __future__ import annotations

import math

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.stats.fits import Fit
from facetine.core.stats.sums import running_sums
from facetine.core.stats.weights import evened

_EXACT = 1500
_NODES = 120


def loess(
    x: FloatArray, y: FloatArray, at: FloatArray, span: float = 0.7, degree: int = 2, weights: FloatArray | None = None
) -> Fit:
    """Local regression with tricube weights.

    At every place a polynomial is fitted to the nearest `span` of the rows, each weighted by (1 − (d/h)³)³, where h is
    the distance of the farthest of them (for a span over 1, that of the farthest row times the span).

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        span: Share of the rows that each fit sees, above 0.
        degree: 0, 1 or 2.
        weights: Shape (n,), positive: the inverse of each value's variance, up to a factor, which changes nothing.

    Returns:
        The curve with its standard errors and equivalent residual degrees of freedom. Up to 1500 rows these are summed
        from the smoother at every row; for more, its diagonal and row sums of squares are read off at 120 places.

    Raises:
        ValueError: There are too few different x for the degree.

    Source: Cleveland (1979), J. Am. Stat. Assoc. 74, 829–836; Cleveland & Devlin (1988), J. Am. Stat. Assoc. 83,
    596–610, for the errors.
    """
    order = np.argsort(x, kind="stable")
    xs = x[order]
    distinct = len(np.unique(xs))
    if distinct < degree + 1:
        raise ValueError(f"{degree + 1} different x at least")
    base = float(y[0])
    ys = y[order] - base
    mass = None if weights is None else evened(weights)[order]
    count = len(xs)
    width = min(count, max(math.ceil(span * count), degree + 1))
    value, norm, _ = _local(xs, ys, at, width, max(span, 1.0), degree, mass, None)
    nodes = xs if count <= _EXACT else np.interp(np.linspace(0, count - 1, _NODES), np.arange(count), xs)
    own = np.arange(count) if count <= _EXACT else None
    fitted, squares, diagonal = _local(xs, ys, nodes, width, max(span, 1.0), degree, mass, own)
    if own is None:
        fitted, squares, diagonal = (np.interp(xs, nodes, line) for line in (fitted, squares, diagonal))
    residual = ys - fitted
    # tr(L) and tr(LᵀL) give the residual degrees of freedom δ₁ = n − 2 tr(L) + tr(LᵀL).
    freedom = count - 2 * float(diagonal.sum()) + float(squares.sum())
    sigma2 = float((residual**2 * (1.0 if mass is None else mass)).sum()) / freedom if freedom > 1e-6 else math.nan
    error = np.sqrt(sigma2 * norm) if math.isfinite(sigma2) else np.full(len(at), math.nan)
    spread = math.sqrt(sigma2) if math.isfinite(sigma2) else math.nan
    return Fit(value + base, error, freedom, np.zeros(0), residual_std=spread)


def _local(
    xs: FloatArray,
    ys: FloatArray,
    at: FloatArray,
    width: int,
    stretch: float,
    degree: int,
    mass: FloatArray | None,
    own: IntArray | None,
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Local fits at some places: their values, Σlᵢ² of their weights, and each one's weight on its own row.

    Args:
        xs: Sorted, shape (n,).
        ys: Shape (n,).
        at: Shape (m,).
        width: Rows that a fit sees.
        stretch: Factor of its reach.
        degree: Of the polynomials.
        mass: Prior weights, shape (n,).
        own: The row that each place is; None where places are no rows, then the nearest row stands for it.
    """
    starts = _windows(xs, at, width)
    value, squares, diagonal = np.empty(len(at)), np.empty(len(at)), np.empty(len(at))
    nearest = np.clip(np.searchsorted(xs, at), 0, len(xs) - 1) if own is None else own
    for number, (place, start) in enumerate(zip(at.tolist(), starts.tolist(), strict=True)):
        end = start + width
        distance = xs[start:end] - place
        reach = max(-float(distance[0]), float(distance[-1])) * stretch
        if reach <= 0:
            weight = np.ones(width)
        else:
            # No row of the window lies beyond its reach, so the cube needs no cut at zero.
            near = np.abs(distance) / reach
            weight = 1 - near * near * near
            weight = weight * weight * weight
        if mass is not None:
            weight = weight * mass[start:end]
        if reach <= 0 or not weight.any():
            weight = np.ones(width)
        within = distance / (reach or 1.0)
        row = _equivalent_kernel(within, weight, _degree_here(within, weight, degree))
        value[number] = row @ ys[start:end]
        squares[number] = row @ row if mass is None else (row**2) @ (1 / mass[start:end])
        inside = nearest[number] - start
        diagonal[number] = row[inside] if 0 <= inside < width else 0.0
    return value, squares, diagonal


def _degree_here(distance: FloatArray, weight: FloatArray, degree: int) -> int:
    """The degree, or the highest for which there are enough different places with a weight; distances are sorted."""
    there = distance[weight > 0]
    if degree == 0 or len(there) < 2:
        return 0
    apart = np.diff(there)
    return min(degree, int((apart > 0).sum()))


def _equivalent_kernel(distance: FloatArray, weight: FloatArray, degree: int) -> FloatArray:
    """The weights lᵢ with which a local fit at zero sums the values: e₀ᵀ (XᵀWX)⁻¹ XᵀW. They sum to 1."""
    if degree == 0:
        return np.asarray(weight / weight.sum())
    powers = [weight, weight * distance]
    if degree == 2:
        powers.append(powers[1] * distance)
    moments = [float(power.sum()) for power in powers]
    moments += [float(powers[-1] @ distance)]
    if degree == 2:
        moments.append(float(powers[-1] @ distance**2))
    size = degree + 1
    system = np.array([[moments[row + column] for column in range(size)] for row in range(size)]) / moments[0]
    if np.linalg.cond(system) > 1e14:
        # Places so close together that their powers can't be told apart carry a lower degree.
        return _equivalent_kernel(distance, weight, degree - 1)
    solved = np.linalg.solve(system, np.eye(size)[0]) / moments[0]
    total = solved[0] * powers[0] + solved[1] * powers[1]
    return np.asarray(total + solved[2] * powers[2] if degree == 2 else total)


def _windows(xs: FloatArray, at: FloatArray, width: int) -> IntArray:
    """Where the nearest `width` sorted values begin for each place, by bisection over all places at once."""
    low = np.zeros(len(at), np.int64)
    high = np.full(len(at), len(xs) - width, np.int64)
    while (low < high).any():
        middle = (low + high) // 2
        # The window should move right while the value that would enter is nearer than the one that would leave.
        right = at - xs[middle] > xs[np.minimum(middle + width, len(xs) - 1)] - at
        right &= low < high
        low = np.where(right, middle + 1, low)
        high = np.where(right, high, np.where(low < high, middle, high))
    return low


def moving_average(x: FloatArray, y: FloatArray, window: int, weights: FloatArray | None = None) -> tuple[FloatArray, FloatArray]:
    """Means of so many neighbouring rows, centered; at the ends of those that are there.

    An even window takes half of the row at either end of it, so that it is centered too. Rows of one x stand for their
    mean, and have one average, so that their order has no effect.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        window: Number of rows, 1 or more.
        weights: Shape (n,), positive.

    Returns:
        The sorted x and the averages, each of shape (n,).

    Source: Kendall & Stuart (1966), The Advanced Theory of Statistics 3, section 46.14, for even windows.
    """
    order = np.argsort(x, kind="stable")
    xs = x[order]
    ties = np.unique(xs, return_inverse=True, return_counts=True)
    mass = np.ones(len(y)) if weights is None else weights[order]
    mass, product = _shared(mass, ties), _shared(mass * y[order], ties)
    half = window // 2
    value, weight = _moving_sum(product, half), _moving_sum(mass, half)
    if window % 2 == 0:
        value, weight = (value + _moving_sum(product, half - 1)) / 2, (weight + _moving_sum(mass, half - 1)) / 2
    return xs, _shared(value / np.where(weight > 0, weight, 1.0), ties)


def _shared(values: FloatArray, ties: tuple[FloatArray, IntArray, IntArray]) -> FloatArray:
    """Each value as the mean of those at the same x, so that their order has no effect."""
    _, place, counts = ties
    if len(counts) == len(values):
        return values
    result: FloatArray = (np.bincount(place, values) / counts)[place]
    return result


def _moving_sum(values: FloatArray, reach: int) -> FloatArray:
    """The sum of each value and of so many on either side of it."""
    place = np.arange(len(values))
    last, first = np.minimum(place + reach + 1, len(values)), np.maximum(place - reach, 0)
    # The sums up to both ends are each in two parts, so that a far value does not eat the digits of all that come after.
    large, small = (np.concatenate([[0.0], part]) for part in running_sums(values, np.zeros(min(1, len(values)), np.int64)))
    result: FloatArray = (large[last] - large[first]) + (small[last] - small[first])
    return result
