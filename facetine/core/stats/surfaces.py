"""Kernel densities of two variables, on a grid."""

from __future__ import annotations

import math
from typing import NamedTuple, TypeAlias

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.density import stretches

_MOST_CELLS = 640
"""Nodes of a grid along an axis."""


class Surface(NamedTuple):
    """A function on a grid."""

    x: FloatArray
    """Shape (m,), increasing."""
    y: FloatArray
    """Shape (k,), increasing."""
    value: FloatArray
    """Shape (k, m)."""


Bounds: TypeAlias = tuple[float, float]


_ANYWHERE: Bounds = (-math.inf, math.inf)


def density_surface(
    x: FloatArray,
    y: FloatArray,
    width_x: float,
    width_y: float,
    weights: FloatArray | None = None,
    cells: int = 128,
    support: tuple[Bounds, Bounds] = (_ANYWHERE, _ANYWHERE),
) -> Surface:
    """The density of two variables by a product of Gaussian kernels, on a grid.

    The sample is counted in a fine grid by linear sharing among the four nearest nodes, then convolved along each axis.
    The grid lies where the sample does: far stretches that hold less than a hundredth of it stay outside, so that a
    cell is a quarter of a bandwidth at most, or, where more than `_MOST_CELLS` would be needed, as wide as that allows.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        width_x: Bandwidth along x, above zero.
        width_y: Bandwidth along y, above zero.
        weights: Shape (n,), not negative.
        cells: Least number of nodes along each axis.
        support: The ends of x and of y; the grid ends there, and mass beyond is reflected.

    Returns:
        Densities of the whole sample: they integrate to the share of it that lies in the grid, which reaches four
        bandwidths beyond.

    Source: Wand (1994), J. Comput. Graph. Stat. 3, 433–445.
    """
    shift_x, shift_y = _far_off(x, width_x), _far_off(y, width_y)
    if shift_x or shift_y:
        near = tuple((low - shift, high - shift) for (low, high), shift in zip(support, (shift_x, shift_y), strict=True))
        found = density_surface(x - shift_x, y - shift_y, width_x, width_y, weights, cells, (near[0], near[1]))
        return Surface(found.x + shift_x, found.y + shift_y, found.value)
    mass = np.ones(len(x)) if weights is None else weights
    grid_x, grid_y = _grid(x, width_x, weights, cells, support[0]), _grid(y, width_y, weights, cells, support[1])
    total = float(mass.sum())
    inside = (x >= grid_x[0]) & (x <= grid_x[-1]) & (y >= grid_y[0]) & (y <= grid_y[-1])
    if not inside.all():
        x, y, mass = x[inside], y[inside], mass[inside]
    step_x, step_y = grid_x[1] - grid_x[0], grid_y[1] - grid_y[0]
    across, up = len(grid_x), len(grid_y)
    place_x, place_y = (x - grid_x[0]) / step_x, (y - grid_y[0]) / step_y
    left = np.minimum(place_x.astype(np.int64), across - 2)
    lower = np.minimum(place_y.astype(np.int64), up - 2)
    share_x, share_y = place_x - left, place_y - lower
    counts = np.zeros(across * up)
    for dx, part_x in ((0, 1 - share_x), (1, share_x)):
        for dy, part_y in ((0, 1 - share_y), (1, share_y)):
            counts += np.bincount((lower + dy) * across + left + dx, mass * part_x * part_y, minlength=across * up)
    kernel_x, kernel_y = _kernel_matrix(grid_x, width_x, support[0]), _kernel_matrix(grid_y, width_y, support[1])
    value = kernel_y @ counts.reshape(up, across) @ kernel_x.T
    return Surface(grid_x, grid_y, value / (total * 2 * math.pi * width_x * width_y))


def _far_off(values: FloatArray, width: float) -> float:
    """How far values lie from zero where that is so far, against their bandwidth, that a grid there would lose its steps."""
    return float(values[0]) if len(values) and float(np.abs(values).max()) > 1e9 * width and values[0] else 0.0


def _grid(values: FloatArray, width: float, weights: FloatArray | None, cells: int, ends: Bounds) -> FloatArray:
    parts = [part for part in stretches(values, width, weights) if part.share >= 0.01]
    if not parts:
        parts = stretches(values, width, weights)
    low, high = parts[0].low - 4 * width, parts[-1].high + 4 * width
    low, high = max(low, ends[0]), min(high, ends[1])
    count = int(min(max(cells, 4 * (high - low) / width), _MOST_CELLS))
    return np.linspace(low, high, count)


def _kernel_matrix(grid: FloatArray, width: float, ends: Bounds) -> FloatArray:
    result: FloatArray = np.exp(-0.5 * ((grid[:, None] - grid[None, :]) / width) ** 2)
    for end in ends:
        if math.isfinite(end):
            result = result + np.exp(-0.5 * ((grid[:, None] + grid[None, :] - 2 * end) / width) ** 2)
    return result


def enclosing_levels(
    surface: Surface, x: FloatArray, y: FloatArray, shares: FloatArray, weights: FloatArray | None = None
) -> FloatArray:
    """The densities whose contours enclose given shares of the rows.

    The level of a share p is the quantile 1 − p of the densities at the rows themselves; a row outside of the grid
    stands below all that lie in it.

    Args:
        surface: The density of the rows.
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        shares: Between 0 and 1, shape (k,).
        weights: Shape (n,), positive.

    Returns:
        Shape (k,); 0 for a share of which too much lies outside of the grid.

    Source: Hyndman (1996), The American Statistician 50, 120–126, section 3.1.
    """
    density = _read_off(surface, x, y)
    order = np.argsort(density)[::-1]
    mass = np.ones(len(x)) if weights is None else weights[order]
    enclosed = np.cumsum(mass) / mass.sum()
    # Halfway to the next row out, so that a contour passes between rows.
    place = np.minimum(np.searchsorted(enclosed, shares - 1e-12), len(x) - 1)
    inner, outer = density[order][place], density[order][np.minimum(place + 1, len(x) - 1)]
    result: FloatArray = (inner + outer) / 2
    return result


def _read_off(surface: Surface, x: FloatArray, y: FloatArray) -> FloatArray:
    """The surface at some places, linear within each cell; 0 outside of the grid."""
    place_x = (x - surface.x[0]) / (surface.x[1] - surface.x[0])
    place_y = (y - surface.y[0]) / (surface.y[1] - surface.y[0])
    rows, columns = surface.value.shape
    inside = (place_x >= 0) & (place_x <= columns - 1) & (place_y >= 0) & (place_y <= rows - 1)
    place_x, place_y = place_x[inside], place_y[inside]
    left = np.minimum(place_x.astype(np.int64), columns - 2)
    lower = np.minimum(place_y.astype(np.int64), rows - 2)
    across, up = place_x - left, place_y - lower
    value = surface.value
    low = value[lower, left] * (1 - across) + value[lower, left + 1] * across
    high = value[lower + 1, left] * (1 - across) + value[lower + 1, left + 1] * across
    out = np.zeros(len(x))
    out[inside] = low * (1 - up) + high * up
    return out
