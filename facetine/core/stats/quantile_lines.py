"""Straight lines with a given share of the values below them."""

from __future__ import annotations

import math

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.fits import Fit
from facetine.core.stats.weights import evened


def quantile_line(x: FloatArray, y: FloatArray, at: FloatArray, share: float = 0.5, weights: FloatArray | None = None) -> Fit:
    """The straight line with a given share of the values below it: the least Σw ρ(y − a − bx).

    A best line goes through two of the rows. From the line through one row, the best slope about that row is a weighted
    quantile of the slopes to all others, found by sorting; the row that it meets is the next to turn about, until no
    row on the line leads further down. Slopes are compared one with another, so that a far outlier takes no digits from
    the rest.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        share: Between 0 and 1; 0.5 for the median.
        weights: Shape (n,), positive.

    Returns:
        The line; it comes without errors.

    Raises:
        ValueError: There are fewer than two different x.

    Source: Koenker & Bassett (1978), Econometrica 46, 33–50, for the criterion; Wesolowsky (1981), Communications in
    Statistics: Simulation and Computation 10, 479–491, for the descent.
    """
    if len(np.unique(x)) < 2:
        raise ValueError("2 different x at least")
    mass = np.ones(len(x)) if weights is None else evened(weights)
    center = float(np.median(x))
    moved = x - center
    row, slope, settled = _least_line(moved, y, share, mass)
    intercept = float(y[row] - slope * moved[row])
    coefficients = np.array([intercept - slope * center, slope])
    value = intercept + slope * (at - center)
    return Fit(value, np.full(len(at), math.nan), math.nan, coefficients, settled=settled)


def _least_line(x: FloatArray, y: FloatArray, share: float, mass: FloatArray) -> tuple[int, float, bool]:
    """A row on a best line, its slope, and whether the descent came to its end."""
    row = _first_row(x, y, share, mass)
    best, slope, other = _best_slope(row, x, y, share, mass)
    for _ in range(1000):
        on_line = _rows_met(row, other, slope, x, y)
        lower = None
        for turn in on_line:
            loss, steeper, meets = _best_slope(turn, x, y, share, mass)
            if loss < best * (1 - 1e-13) - 1e-300:
                lower = (turn, loss, steeper, meets)
                break
        if lower is None:
            return row, slope, True
        row, best, slope, other = lower
    return row, slope, False


def _first_row(x: FloatArray, y: FloatArray, share: float, mass: FloatArray) -> int:
    """A row near a good line: the quantile of the residuals from a robust slope between thirds of x."""
    order = np.argsort(x, kind="stable")
    third = max(1, len(x) // 3)
    left, right = order[:third], order[-third:]
    run = float(np.median(x[right]) - np.median(x[left]))
    slope = float(np.median(y[right]) - np.median(y[left])) / run if run > 0 else 0.0
    by_residual = np.argsort(y - slope * x, kind="stable")
    reached = np.cumsum(mass[by_residual]) >= share * mass.sum()
    return int(by_residual[int(np.argmax(reached))])


def _best_slope(row: int, x: FloatArray, y: FloatArray, share: float, mass: FloatArray) -> tuple[float, float, int]:
    """The least loss of a line through a row, its slope, and the other row that it meets."""
    run, rise = x - x[row], y - y[row]
    away = np.flatnonzero(run != 0)
    slopes = rise[away] / run[away]
    cost = np.abs(run[away]) * mass[away]
    wanted = float((cost * np.where(run[away] > 0, share, 1 - share)).sum())
    order = np.argsort(slopes, kind="stable")
    place = min(int(np.searchsorted(np.cumsum(cost[order]), wanted * (1 - 1e-15))), len(order) - 1)
    other = int(away[order[place]])
    slope = float(slopes[order[place]])
    residual = rise - slope * run
    residual[other] = 0.0
    return float((mass * np.where(residual > 0, share * residual, (share - 1) * residual)).sum()), slope, other


def _rows_met(row: int, other: int, slope: float, x: FloatArray, y: FloatArray) -> list[int]:
    """Rows on a line, one for each x and twenty at most: those from which a better line may start."""
    near = np.abs(y - y[row] - slope * (x - x[row])) <= 16 * np.spacing(np.maximum(np.abs(y), np.abs(slope * x)))
    met = np.flatnonzero(near)
    _, first = np.unique(x[met], return_index=True)
    chosen = [other, *met[first].tolist()]
    return [one for one in dict.fromkeys(chosen) if one != row][:20]
