"""Polynomials by least squares."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.fits import Fit
from facetine.core.stats.weights import evened


class Basis(NamedTuple):
    """x moved and scaled to −1…1, where polynomials are well conditioned."""

    center: float
    scale: float

    @classmethod
    def of(cls, low: float, high: float) -> Basis:
        """That of values between two ends."""
        return cls(low + (high - low) / 2, (high - low) / 2 or 1.0)

    def columns(self, x: FloatArray, degree: int) -> FloatArray:
        """Legendre polynomials up to a degree, shape (n, degree + 1)."""
        return np.asarray(np.polynomial.legendre.legvander((x - self.center) / self.scale, degree), np.float64)

    def slope(self, degree: int) -> FloatArray:
        """By how much each of the polynomials rises in the unit of x, at the center, shape (degree + 1,)."""
        line = np.zeros(degree + 1)
        if degree:
            line[1] = 1 / self.scale
        return line

    def plain(self, coefficients: FloatArray) -> FloatArray:
        """Coefficients of 1, x, x², … from those of the Legendre polynomials."""
        series = np.polynomial.legendre.Legendre(coefficients, [self.center - self.scale, self.center + self.scale])
        plain = series.convert(kind=np.polynomial.Polynomial, domain=[-1, 1], window=[-1, 1])
        result = np.zeros(len(coefficients))
        result[: len(plain.coef)] = plain.coef
        return result


def least_squares(
    x: FloatArray,
    y: FloatArray,
    at: FloatArray,
    degree: int = 1,
    weights: FloatArray | None = None,
    robust_errors: bool = False,
) -> Fit:
    """A polynomial by (weighted) least squares, by an orthogonal decomposition of a well-conditioned basis.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        degree: 1 for a straight line.
        weights: Shape (n,), positive: the inverse of each value's variance, up to a factor, which changes nothing.
        robust_errors: Whether errors allow for a variance that differs between rows (HC3).

    Returns:
        The curve; its errors are NaN where n ≤ degree + 1.

    Raises:
        ValueError: There are fewer than degree + 1 different x.

    Source: Golub & Van Loan (2013), Matrix Computations, section 5.3; Draper & Smith (1998), Applied Regression
    Analysis, section 3.1, for the error of the curve; MacKinnon & White (1985), J. Econometrics 29, 305–325, for HC3.
    """
    if len(np.unique(x)) < degree + 1:
        raise ValueError(f"{degree + 1} different x at least")
    basis = Basis.of(float(x.min()), float(x.max()))
    offset = float(np.mean(y - y[0])) + float(y[0])
    root = np.ones(len(x)) if weights is None else np.sqrt(evened(weights))
    design = basis.columns(x, degree) * root[:, None]
    q, r = np.linalg.qr(design)
    target = (y - offset) * root
    solved = np.linalg.solve(r, q.T @ target)
    # One step of refinement takes back what rounding took.
    solved = solved + np.linalg.solve(r, q.T @ (target - design @ solved))
    residual = target - design @ solved
    freedom = len(x) - degree - 1
    sigma2 = float(residual @ residual) / freedom if freedom > 0 else math.nan
    columns = basis.columns(at, degree)
    reach = np.linalg.solve(r.T, columns.T)
    slope = np.linalg.solve(r.T, basis.slope(degree))
    if freedom > 0 and robust_errors:
        # Each row's leverage is that of its line of Q; a row that the curve must meet has no residual to speak of.
        apart = np.maximum(1.0 - (q**2).sum(axis=1), 1e-12)
        scaled = q * (residual / apart)[:, None]
        error = np.sqrt(((scaled @ reach) ** 2).sum(axis=0))
        slope_error = math.sqrt(float(((scaled @ slope) ** 2).sum()))
    else:
        error = np.sqrt(sigma2 * (reach**2).sum(axis=0)) if freedom > 0 else np.full(len(at), math.nan)
        slope_error = math.sqrt(sigma2 * float((slope**2).sum())) if freedom > 0 else math.nan
    mean = float((root**2) @ (y - offset)) / float((root**2).sum())
    total = float((root**2) @ (y - offset - mean) ** 2)
    coefficients = basis.plain(solved)
    coefficients[0] += offset
    return Fit(
        columns @ solved + offset, error, freedom, coefficients,
        explained=1.0 - float(residual @ residual) / total if total > 0 else math.nan,
        residual_std=math.sqrt(sigma2) if freedom > 0 else math.nan,
        slope_error=slope_error if degree == 1 else math.nan,
    )  # fmt: skip
