"""Polynomials by least squares from sums, which any engine can answer."""

from __future__ import annotations

import math

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.query import Aggregate, Derived, Moment, Products, Query, Residual, Scaled, Source, Total
from facetine.core.stats.fits import Fit
from facetine.core.stats.polynomials import Basis

_WORST = 1e10
"""Sums of products keep six digits of a solution up to this condition; a second step on the residuals brings back the rest."""
_GOOD = 30.0
"""Up to this condition the first step has all digits that matter."""


def polynomial(source: Source, at: FloatArray, degree: int) -> Fit | None:
    """The curve of `least_squares` for the rows of a source, x and y, asked for in four questions.

    Normal equations in Legendre polynomials are solved, then once more for the residuals of the first solution.

    Args:
        source: Rows of one group.
        at: Places of shape (m,).
        degree: 1 for a straight line.

    Returns:
        None where x lies so unevenly that sums lose the solution: then the rows themselves are needed.

    Raises:
        ValueError: There are fewer than degree + 1 different x.

    Source: Björck (1996), Numerical Methods for Least Squares Problems, section 2.2 (normal equations) and 2.9 (their
    iterative refinement).
    """
    totals = (Total("rows", "rows"), Total("mass", "count"), Total("low", "min", "x"), Total("high", "max", "x"),
              Total("distinct", "distinct", "x"), Total("mean", "mean", "y"))  # fmt: skip
    found = _asked(source, totals)
    if found["distinct"][0] < degree + 1:
        raise ValueError(f"{degree + 1} different x at least")
    rows, offset = int(found["rows"][0]), float(found["mean"][0])
    basis = Basis.of(float(found["low"][0]), float(found["high"][0]))
    # Weights are set to a mean of 1, so that nothing depends on their unit.
    even: tuple[Derived, ...] = (Scaled("weight", "weight", rows / float(found["mass"][0])),) if "weight" in source else ()

    def left(coefficients: FloatArray) -> tuple[Derived, ...]:
        return (*even, Residual("rest", "x", "y", basis.center, basis.scale, coefficients, offset))

    products = Products("x", "rest", degree, basis.center, basis.scale)
    none = np.zeros(degree + 1)
    sums = _asked(source, (products, Moment("total", "rest", 2, np.zeros(1))), left(none))
    matrix = _matrix(sums, degree)
    condition = float(np.linalg.cond(matrix)) if np.isfinite(matrix).all() else math.inf
    if condition > _WORST:
        return None
    first = np.asarray(np.linalg.solve(matrix, _side(sums, degree)), np.float64)
    solved = first
    if condition > _GOOD:
        solved = first + np.linalg.solve(matrix, _side(_asked(source, (products,), left(first)), degree))
    rest = float(_asked(source, (Moment("square", "rest", 2, np.zeros(1)),), left(solved))["square"][0]) * rows
    total = float(sums["total"][0]) * rows
    freedom = rows - degree - 1
    sigma2 = rest / freedom if freedom > 0 else math.nan
    columns = basis.columns(at, degree)
    slope = basis.slope(degree)
    reach = (columns * np.linalg.solve(matrix, columns.T).T).sum(axis=1)
    steep = float(slope @ np.linalg.solve(matrix, slope))
    coefficients = basis.plain(solved)
    coefficients[0] += offset
    return Fit(
        columns @ solved + offset,
        np.sqrt(sigma2 * reach) if freedom > 0 else np.full(len(at), math.nan),
        freedom, coefficients,
        explained=1.0 - rest / total if total > 0 else math.nan,
        residual_std=math.sqrt(sigma2) if freedom > 0 else math.nan,
        slope_error=math.sqrt(sigma2 * steep) if freedom > 0 and degree == 1 else math.nan,
    )  # fmt: skip


def _asked(source: Source, aggregates: tuple[Aggregate, ...], derived: tuple[Derived, ...] = ()) -> Columns:
    return source.ask(Query(aggregates, derived=derived, by_panel=False, by_group=False))


def _matrix(sums: Columns, degree: int) -> FloatArray:
    """Of the normal equations, shape (degree + 1, degree + 1)."""
    matrix = np.zeros((degree + 1, degree + 1))
    for first in range(degree + 1):
        for second in range(first, degree + 1):
            matrix[first, second] = matrix[second, first] = sums[f"{first} {second}"][0]
    return matrix


def _side(sums: Columns, degree: int) -> FloatArray:
    """Their right side, shape (degree + 1,)."""
    return np.array([sums[f"{place} y"][0] for place in range(degree + 1)])
