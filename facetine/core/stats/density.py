"""Kernel densities of one variable: exact sums, and a binned convolution for large samples."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.binning import counted_evenly
from facetine.core.stats.quantiles import quantiles, weighted_quantiles
from facetine.core.stats.weights import effective_size

_EXACT = 2_000_000
_GRID = 1 << 12
_BLOCK = 1 << 20
_MOST_STRETCHES = 200
_MOST_PLACES = 4000
_MOST_FINE = 1 << 22
_ROUNDS = 8


class Curve(NamedTuple):
    """A function at some places."""

    at: FloatArray
    """Shape (m,), increasing."""
    value: FloatArray
    """Shape (m,)."""


def bandwidth(x: FloatArray, rule: str | float = "scott", weights: FloatArray | None = None) -> float:
    """The standard deviation of the Gaussian kernel.

    Args:
        x: Sample of shape (n,), finite.
        rule: "scott" (s n^(-1/5)), "silverman" (s (3n/4)^(-1/5)), or the bandwidth itself, in the unit of x.
        weights: Shape (n,), not negative; then n is Kish's effective size and s is weighted.

    Returns:
        The bandwidth; 0.0 for n < 2 or a constant sample.

    Source: Scott (1992), Multivariate Density Estimation, section 6.5; Silverman (1986), Density Estimation, section 3.4.
    """
    if not isinstance(rule, str):
        return float(rule)
    if len(x) < 2 or np.ptp(x) <= 8 * np.spacing(np.abs(x).max()):
        return 0.0
    mass = np.ones(len(x)) if weights is None else weights
    size = effective_size(mass)
    share = mass / mass.sum()
    center = float(share @ x)
    return rule_bandwidth(float(share @ (x - center) ** 2), size, rule)


def rule_bandwidth(square: float, size: float, rule: str) -> float:
    """The bandwidth of a rule, from the mean square of the distances to the mean and the effective size of the sample."""
    spread = square / (1 - 1 / size) if size > 1 else 0.0
    factor = size if rule == "scott" else size * 3 / 4
    return math.sqrt(max(spread, 0.0)) * float(factor ** (-1 / 5))


def robust_bandwidth(x: FloatArray, power: float, weights: FloatArray | None = None) -> float:
    """min(s, IQR / 1.349) n^(-power): a bandwidth that a few far values do not widen; 0.0 for a constant sample.

    Args:
        x: Sample of shape (n,), finite.
        power: 1/5 for one variable, 1/6 for two.
        weights: Shape (n,), positive; then n is Kish's effective size.

    Source: Silverman (1986), Density Estimation, section 3.4.2 (the spread) and 4.3.2 (the powers).
    """
    plain = bandwidth(x, "scott", weights)
    if plain <= 0:
        return 0.0
    size = len(x) if weights is None else effective_size(weights)
    shares = np.array([0.25, 0.75])
    low, high = (quantiles(x, shares) if weights is None else weighted_quantiles(x, weights, shares)).tolist()
    spread = plain * float(size ** (1 / 5))
    middle = (high - low) / 1.349
    return (min(spread, middle) if middle > 0 else spread) * float(size ** (-power))


def kernel_density(
    x: FloatArray,
    at: FloatArray,
    width: float,
    weights: FloatArray | None = None,
    low: float = -math.inf,
    high: float = math.inf,
    parts: list[Stretch] | None = None,
) -> FloatArray:
    """The Gaussian kernel density (1/nh) Σ φ((x − xᵢ)/h) at some places.

    Up to two million pairs of value and place are summed one by one; beyond that each stretch of the sample without a
    gap of ten bandwidths is counted on a fine grid of its own, convolved with the kernel, and read off by interpolation.
    The error is below a thousandth of the peak, however far outliers lie.

    Args:
        x: Sample of shape (n,), finite.
        at: Places of shape (m,).
        width: Bandwidth, above zero.
        weights: Shape (n,), not negative.
        low: Lower bound of what can occur; mass that the kernel would put beyond it is reflected.
        high: Upper bound, likewise.
        parts: The `stretches` of the sample, where they are known.

    Returns:
        Shape (m,), integrating to 1 over the line, or over the bounds; zeros for an empty sample.

    Source: Silverman (1986), Density Estimation, sections 2.4, 2.10 (reflection) and 3.5 (convolution).
    """
    if not len(x):
        return np.zeros(len(at))
    if len(x) * len(at) <= _EXACT:
        value = _summed(x, at, width, weights)
        for bound in (low, high):
            if math.isfinite(bound):
                value = value + _summed(2 * bound - x, at, width, weights)
    else:
        value = np.zeros(len(at))
        for part in stretches(x, width, weights) if parts is None else parts:
            value += _convolved(part, at, width, low, high)
    return np.where((at < low) | (at > high), 0.0, value)


def _summed(x: FloatArray, at: FloatArray, width: float, weights: FloatArray | None) -> FloatArray:
    mass = np.full(len(x), 1.0 / len(x)) if weights is None else weights / weights.sum()
    out = np.empty(len(at))
    step = max(1, _BLOCK // len(x))
    with np.errstate(over="ignore", under="ignore"):
        for start in range(0, len(at), step):
            distance = (at[start : start + step, None] - x[None, :]) / width
            out[start : start + step] = np.exp(-0.5 * distance**2) @ mass
    return out / (width * math.sqrt(2 * math.pi))


class Stretch(NamedTuple):
    """A part of a sample without a wide gap."""

    values: FloatArray
    """Shape (k,)."""
    mass: FloatArray | None
    """Shape (k,): the share of each in the whole sample; None where each has as much as any other."""
    share: float
    """The share of all of them."""
    low: float
    """The smallest value."""
    high: float
    """The largest value."""
    counts: FloatArray | None = None
    """What lies in the cells of its `_fine_grid`, where they were counted."""


def stretches(x: FloatArray, width: float, weights: FloatArray | None = None) -> list[Stretch]:
    """A sample cut wherever it has a gap of more than ten bandwidths, across which kernels do not reach.

    Args:
        x: Shape (n,), finite.
        width: Bandwidth, above zero.
        weights: Shape (n,), not negative.
    """
    if not len(x):
        return []
    mass = None if weights is None else weights / weights.sum()
    low, high = float(x.min()), float(x.max())
    start, end, cells = _fine_grid(low, high, width)
    if cells <= _MOST_FINE:
        counts = counted_evenly(x, start, end, cells, mass)
        filled = np.flatnonzero(counts)
        # Where no run of empty cells is as long as a gap, nothing need be sorted, and the counts serve the convolution.
        if len(filled) < 2 or np.diff(filled).max() * (end - start) / cells <= 10 * width:
            return [Stretch(x, mass, 1.0, low, high, counts)]
    order = np.argsort(x, kind="stable")
    ordered = x[order]
    cuts = np.flatnonzero(np.diff(ordered) > 10 * width) + 1
    values = np.split(ordered, cuts)
    masses = [None] * len(values) if mass is None else np.split(mass[order], cuts)
    shares = [len(part) / len(x) if own is None else float(own.sum()) for part, own in zip(values, masses, strict=True)]
    return [
        Stretch(part, own, share, float(part[0]), float(part[-1]))
        for part, own, share in zip(values, masses, shares, strict=True)
    ]


def _fine_grid(low: float, high: float, width: float) -> tuple[float, float, int]:
    """Ends and cells of a grid that resolves the kernel: sixteen cells a bandwidth at least."""
    start, end = low - 6 * width, high + 6 * width
    return start, end, int(min(max(_GRID, 16 * (end - start) / width), 1e15))


def _convolved(part: Stretch, at: FloatArray, width: float, low: float, high: float) -> FloatArray:
    start, end, cells = _fine_grid(part.low, part.high, width)
    if cells > _MOST_FINE:
        # A stretch as long and thin as this has so few values a bandwidth that they are summed where they lie.
        return _windowed(part, at, width, low, high)
    step = (end - start) / cells
    mass = counted_evenly(part.values, start, end, cells, part.mass) if part.counts is None else part.counts
    mass = mass * (part.share / mass.sum())
    reach = min(math.ceil(6 * width / step), cells)
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) * step / width) ** 2) / (width * math.sqrt(2 * math.pi))
    length = 1 << (cells + 2 * reach).bit_length()
    smooth = np.fft.irfft(np.fft.rfft(mass, length) * np.fft.rfft(kernel, length), length)[reach : reach + cells]
    middles = start + (np.arange(cells) + 0.5) * step
    value = np.interp(at, middles, smooth, left=0.0, right=0.0)
    for bound in (low, high):
        if math.isfinite(bound):
            value = value + np.interp(2 * bound - at, middles, smooth, left=0.0, right=0.0)
    return np.maximum(value, 0.0)


def _windowed(part: Stretch, at: FloatArray, width: float, low: float, high: float) -> FloatArray:
    """Exact sums over the values within eight bandwidths of each place."""
    order = np.argsort(part.values, kind="stable")
    values = part.values[order]
    mass = np.full(len(values), part.share / len(values)) if part.mass is None else part.mass[order]
    places = [at, *(2 * bound - at for bound in (low, high) if math.isfinite(bound))]
    out = np.zeros(len(at))
    for place in places:
        first = np.searchsorted(values, place - 8 * width)
        last = np.searchsorted(values, place + 8 * width)
        for number in np.flatnonzero(last > first).tolist():
            chosen = slice(first[number], last[number])
            near = (place[number] - values[chosen]) / width
            out[number] += float(np.exp(-0.5 * near**2) @ mass[chosen])
    return out / (width * math.sqrt(2 * math.pi))


def density_curve(
    x: FloatArray,
    width: float,
    weights: FloatArray | None = None,
    low: float = -math.inf,
    high: float = math.inf,
    count: int = 256,
) -> Curve:
    """A density over the range of a sample and three bandwidths beyond, cut at the bounds.

    Where 256 even places would pass over a peak, each stretch of the sample without a wide gap has places of its own, so
    that a straight line between places stays within a hundredth of the peak.

    Returns:
        `count` places or more and their densities; an empty curve for a bandwidth of zero.
    """
    if not len(x) or width <= 0:
        return Curve(np.zeros(0), np.zeros(0))
    first, last = max(float(x.min()) - 3 * width, low), min(float(x.max()) + 3 * width, high)
    found = stretches(x, width, weights) if (last - first) / width > count / 4 else None
    at = _places(first, last, width, count, found)
    return Curve(at, kernel_density(x, at, width, weights, low, high, found))


def distance_of_mass(away: FloatArray, width: float, weights: FloatArray | None, mass: float) -> float:
    """How far from a bound at which the kernel is reflected a density holds so much mass.

    Args:
        away: Distances of the sample from the bound, shape (n,), not negative.
        width: Bandwidth, above zero.
        weights: Shape (n,), not negative.
        mass: Above zero, below 1.

    Returns:
        The distance, to a millionth of itself.
    """
    from scipy.special import ndtr

    share = np.full(len(away), 1.0 / len(away)) if weights is None else weights / weights.sum()
    low, high = 0.0, float(away.max()) + 8 * width
    for _ in range(200):
        middle = (low + high) / 2
        held = float((ndtr((middle - away) / width) - ndtr((-middle - away) / width)) @ share)
        low, high = (middle, high) if held < mass else (low, middle)
        if high - low <= 1e-6 * high:
            break
    return high


def refined_curve(heights: Callable[[FloatArray], FloatArray], at: FloatArray) -> Curve:
    """A function with places between others wherever a straight line misses it by more than a five-hundredth of its peak.

    Args:
        heights: The function, of an array of places.
        at: Places to begin with, shape (m,), increasing.
    """
    value = heights(at)
    for _ in range(_ROUNDS):
        middle = at[:-1] + np.diff(at) / 2
        between = heights(middle)
        miss = np.abs(between - (value[:-1] + value[1:]) / 2) > value.max(initial=0.0) / 500
        if not miss.any() or len(at) > _MOST_PLACES:
            break
        order = np.argsort(every := np.concatenate([at, middle[miss]]), kind="stable")
        at, value = every[order], np.concatenate([value, between[miss]])[order]
    return Curve(at, value)


def _places(first: float, last: float, width: float, count: int, found: list[Stretch] | None) -> FloatArray:
    at = np.linspace(first, last, count)
    if found is None:
        return at
    parts = [at]
    for part in found[:_MOST_STRETCHES]:
        ends = part.low - 4 * width, part.high + 4 * width
        fine = int(min(max(4 * (ends[1] - ends[0]) / width, 33), _MOST_PLACES))
        # A little farther out the curve has come down to nothing, so that no slope leads across the gap.
        parts += [np.linspace(*ends, fine), np.array([ends[0] - 5 * width, ends[1] + 5 * width])]
    return np.unique(np.clip(np.concatenate(parts), first, last))


def summed_exactly(rows: int, count: int = 256) -> bool:
    """Whether a density of so many rows is a sum over them all, and not read off a fine grid."""
    return rows * count <= _EXACT


def fine_edges(low: float, high: float, width: float) -> FloatArray | None:
    """Even edges of the cells in which a large sample is counted for its density, shape (k + 1,).

    Args:
        low: Its smallest value.
        high: Its largest value.
        width: Bandwidth, above zero.

    Returns:
        None where there would be too many cells, so that the rows themselves are needed.
    """
    start, end, cells = _fine_grid(low, high, width)
    return np.linspace(start, end, cells + 1) if cells <= _MOST_FINE else None


def counted_curve(
    cells: FloatArray, edges: FloatArray, ends: tuple[float, float], width: float, low: float, high: float, count: int = 256
) -> Curve | None:
    """A density from what lies in the cells of `fine_edges`, within a thousandth of the peak of `density_curve`.

    Args:
        cells: Shape (k,): counts or sums of weights.
        edges: Shape (k + 1,).
        ends: The smallest and the largest value.
        width: Bandwidth, above zero.
        low: Lower bound of what can occur.
        high: Upper bound.
        count: Places, at least.

    Returns:
        None where the sample has a gap across which no kernel reaches, so that the rows themselves are needed.
    """
    filled = np.flatnonzero(cells)
    if len(filled) > 1 and np.diff(filled).max() * (edges[1] - edges[0]) > 10 * width:
        return None
    whole = [Stretch(np.zeros(0), None, 1.0, *ends, cells)]
    first, last = max(ends[0] - 3 * width, low), min(ends[1] + 3 * width, high)
    at = _places(first, last, width, count, whole if (last - first) / width > count / 4 else None)
    value = _convolved(whole[0], at, width, low, high)
    return Curve(at, np.where((at < low) | (at > high), 0.0, value))
