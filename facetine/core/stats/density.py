"""Kernel densities of one variable: exact sums, and a binned convolution for large samples."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.binning import counted_evenly

_EXACT = 2_000_000
_GRID = 1 << 12
_BLOCK = 1 << 20


class Curve(NamedTuple):
    """A function at some places."""

    at: FloatArray
    """Shape (m,), increasing."""
    value: FloatArray
    """Shape (m,)."""


def effective_size(weights: FloatArray) -> float:
    """Kish's effective sample size, (Σw)² / Σw².

    Source: Kish (1965), Survey Sampling, section 11.7.
    """
    return float(weights.sum() ** 2 / (weights**2).sum())


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
    spread = float(share @ (x - center) ** 2) / (1 - 1 / size) if size > 1 else 0.0
    factor = size if rule == "scott" else size * 3 / 4
    return math.sqrt(max(spread, 0.0)) * float(factor ** (-1 / 5))


def kernel_density(
    x: FloatArray,
    at: FloatArray,
    width: float,
    weights: FloatArray | None = None,
    low: float = -math.inf,
    high: float = math.inf,
) -> FloatArray:
    """The Gaussian kernel density (1/nh) Σ φ((x − xᵢ)/h) at some places.

    Up to two million pairs of value and place are summed one by one; beyond that the sample is counted on a fine grid,
    convolved with the kernel, and read off by interpolation, with an error below a thousandth of the peak.

    Args:
        x: Sample of shape (n,), finite.
        at: Places of shape (m,).
        width: Bandwidth, above zero.
        weights: Shape (n,), not negative.
        low: Lower bound of what can occur; mass that the kernel would put beyond it is reflected.
        high: Upper bound, likewise.

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
        value = _convolved(x, at, width, weights, low, high)
    return np.where((at < low) | (at > high), 0.0, value)


def _summed(x: FloatArray, at: FloatArray, width: float, weights: FloatArray | None) -> FloatArray:
    mass = np.full(len(x), 1.0 / len(x)) if weights is None else weights / weights.sum()
    out = np.empty(len(at))
    step = max(1, _BLOCK // len(x))
    for start in range(0, len(at), step):
        distance = (at[start : start + step, None] - x[None, :]) / width
        out[start : start + step] = np.exp(-0.5 * distance**2) @ mass
    return out / (width * math.sqrt(2 * math.pi))


def _convolved(x: FloatArray, at: FloatArray, width: float, weights: FloatArray | None, low: float, high: float) -> FloatArray:
    start, end = float(x.min()) - 5 * width, float(x.max()) + 5 * width
    # The grid must resolve the kernel: sixteen cells a bandwidth at least.
    cells = int(min(max(_GRID, 16 * (end - start) / width), 1 << 20))
    step = (end - start) / cells
    mass = counted_evenly(x, start, end, cells, weights)
    mass = mass / mass.sum()
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


def density_curve(
    x: FloatArray,
    width: float,
    weights: FloatArray | None = None,
    low: float = -math.inf,
    high: float = math.inf,
    count: int = 256,
) -> Curve:
    """A density over the range of a sample and three bandwidths beyond, cut at the bounds.

    Returns:
        `count` places and their densities; an empty curve for a bandwidth of zero.
    """
    if not len(x) or width <= 0:
        return Curve(np.zeros(0), np.zeros(0))
    at = np.linspace(max(float(x.min()) - 3 * width, low), min(float(x.max()) + 3 * width, high), count)
    return Curve(at, kernel_density(x, at, width, weights, low, high))


class Surface(NamedTuple):
    """A function on a grid."""

    x: FloatArray
    """Shape (m,), increasing."""
    y: FloatArray
    """Shape (k,), increasing."""
    value: FloatArray
    """Shape (k, m)."""


def density_surface(
    x: FloatArray, y: FloatArray, width_x: float, width_y: float, weights: FloatArray | None = None, cells: int = 128
) -> Surface:
    """The density of two variables by a product of Gaussian kernels, on a grid.

    The sample is counted in a fine grid by linear sharing among the four nearest nodes, then convolved along each axis.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        width_x: Bandwidth along x, above zero.
        width_y: Bandwidth along y, above zero.
        weights: Shape (n,), not negative.
        cells: Nodes along each axis.

    Returns:
        Densities that integrate to 1 over the grid, which reaches four bandwidths beyond the data.

    Source: Wand (1994), J. Comput. Graph. Stat. 3, 433–445.
    """
    grid_x = np.linspace(float(x.min()) - 4 * width_x, float(x.max()) + 4 * width_x, cells)
    grid_y = np.linspace(float(y.min()) - 4 * width_y, float(y.max()) + 4 * width_y, cells)
    step_x, step_y = grid_x[1] - grid_x[0], grid_y[1] - grid_y[0]
    place_x, place_y = (x - grid_x[0]) / step_x, (y - grid_y[0]) / step_y
    left, lower = place_x.astype(np.int64), place_y.astype(np.int64)
    share_x, share_y = place_x - left, place_y - lower
    mass = np.ones(len(x)) if weights is None else weights
    counts = np.zeros(cells * cells)
    for dx, part_x in ((0, 1 - share_x), (1, share_x)):
        for dy, part_y in ((0, 1 - share_y), (1, share_y)):
            counts += np.bincount((lower + dy) * cells + left + dx, mass * part_x * part_y, minlength=cells * cells)
    value = counts.reshape(cells, cells) / mass.sum()
    value = _kernel_matrix(grid_y, width_y) @ value @ _kernel_matrix(grid_x, width_x).T
    return Surface(grid_x, grid_y, value / (value.sum() * step_x * step_y))


def _kernel_matrix(grid: FloatArray, width: float) -> FloatArray:
    result: FloatArray = np.exp(-0.5 * ((grid[:, None] - grid[None, :]) / width) ** 2)
    return result


def mass_levels(surface: Surface, masses: FloatArray) -> FloatArray:
    """The densities whose contours enclose given shares of the whole: highest-density regions.

    Args:
        surface: A density.
        masses: Shares between 0 and 1, shape (k,).

    Returns:
        Shape (k,).

    Source: Hyndman (1996), The American Statistician 50, 120–126.
    """
    ordered = np.sort(surface.value.ravel())[::-1]
    enclosed = np.cumsum(ordered) / ordered.sum()
    result: FloatArray = ordered[np.minimum(np.searchsorted(enclosed, masses), len(ordered) - 1)]
    return result
