"""Fitted lines: least squares, polynomials, robust, quantile and logistic regression, each with what it can say of its error."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray


class Fit(NamedTuple):
    """A fitted curve at some places, and what is known of it."""

    value: FloatArray
    """Shape (m,)."""
    error: FloatArray
    """Shape (m,): standard error of the value; NaN where there is none."""
    freedom: float
    """Residual degrees of freedom; infinite where the errors are asymptotic."""
    coefficients: FloatArray
    """Shape (p,): intercept, slope, and so on, in the units of the data; empty where the curve has none."""
    explained: float = math.nan
    """Share of the variance that the curve explains; NaN where it has no meaning."""

    def band(self, level: float) -> tuple[FloatArray, FloatArray]:
        """Confidence band for the curve by Student's t, each end of shape (m,)."""
        from scipy.special import ndtri, stdtrit

        share = 0.5 + level / 2
        if not self.freedom > 0:
            return self.value * math.nan, self.value * math.nan
        factor = float(ndtri(share) if math.isinf(self.freedom) else stdtrit(self.freedom, share))
        return self.value - factor * self.error, self.value + factor * self.error


class _Basis(NamedTuple):
    """x moved and scaled to −1…1, where polynomials are well conditioned."""

    center: float
    scale: float

    @classmethod
    def of(cls, x: FloatArray) -> _Basis:
        low, high = float(x.min()), float(x.max())
        return cls(low + (high - low) / 2, (high - low) / 2 or 1.0)

    def columns(self, x: FloatArray, degree: int) -> FloatArray:
        """Legendre polynomials up to a degree, shape (n, degree + 1)."""
        return np.asarray(np.polynomial.legendre.legvander((x - self.center) / self.scale, degree), np.float64)

    def plain(self, coefficients: FloatArray) -> FloatArray:
        """Coefficients of 1, x, x², … from those of the Legendre polynomials."""
        series = np.polynomial.legendre.Legendre(coefficients, [self.center - self.scale, self.center + self.scale])
        plain = series.convert(kind=np.polynomial.Polynomial, domain=[-1, 1], window=[-1, 1])
        result = np.zeros(len(coefficients))
        result[: len(plain.coef)] = plain.coef
        return result


def least_squares(x: FloatArray, y: FloatArray, at: FloatArray, degree: int = 1, weights: FloatArray | None = None) -> Fit:
    """A polynomial by (weighted) least squares, by an orthogonal decomposition of a well-conditioned basis.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        degree: 1 for a straight line.
        weights: Shape (n,), positive: the inverse of each value's variance, up to a factor.

    Returns:
        The curve; its errors are NaN where n ≤ degree + 1.

    Raises:
        ValueError: There are fewer than degree + 1 different x.

    Source: Golub & Van Loan (2013), Matrix Computations, section 5.3; Draper & Smith (1998), Applied Regression
    Analysis, section 3.1, for the error of the curve.
    """
    if len(np.unique(x)) < degree + 1:
        raise ValueError(f"{degree + 1} different x at least")
    basis = _Basis.of(x)
    offset = float(np.mean(y - y[0])) + float(y[0])
    root = np.ones(len(x)) if weights is None else np.sqrt(weights)
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
    mean = float((root**2) @ (y - offset)) / float((root**2).sum())
    total = float((root**2) @ (y - offset - mean) ** 2)
    coefficients = basis.plain(solved)
    coefficients[0] += offset
    explained = 1.0 - float(residual @ residual) / total if total > 0 else math.nan
    return Fit(
        columns @ solved + offset,
        np.sqrt(sigma2 * (reach**2).sum(axis=0)) if freedom > 0 else np.full(len(at), math.nan),
        freedom,
        coefficients,
        explained,
    )


def robust(x: FloatArray, y: FloatArray, at: FloatArray, tuning: float = 1.345) -> Fit:
    """A straight line that few outliers hardly move: Huber's estimate by iteratively reweighted least squares.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        tuning: Residuals beyond so many robust standard deviations count less; 1.345 keeps 95 % of the efficiency for
            normal errors.

    Returns:
        The line; its errors are asymptotic.

    Raises:
        ValueError: There are fewer than two different x.

    Source: Huber (1981), Robust Statistics, sections 7.3, 7.8 (scale by the median absolute deviation) and 7.6, with
    the correction factor of equation 6.5, for the covariance.
    """
    if len(np.unique(x)) < 2:
        raise ValueError("2 different x at least")
    basis = _Basis.of(x)
    design = basis.columns(x, 1)
    offset = float(np.median(y))
    target = y - offset
    solved: FloatArray = np.asarray(np.linalg.lstsq(design, target, rcond=None)[0], np.float64)
    scale = 0.0
    for _ in range(200):
        residual = target - design @ solved
        scale = float(np.median(np.abs(residual - np.median(residual)))) / 0.6744897501960817
        if scale <= 1e-12 * (np.abs(target).max() or 1.0):
            break
        weight = np.minimum(1.0, tuning * scale / np.maximum(np.abs(residual), 1e-300))
        root = np.sqrt(weight)
        fresh = np.asarray(np.linalg.lstsq(design * root[:, None], target * root, rcond=None)[0], np.float64)
        moved = float(np.abs(fresh - solved).max())
        solved = fresh
        if moved <= 1e-12 * (1.0 + float(np.abs(solved).max())):
            break
    columns = basis.columns(at, 1)
    coefficients = basis.plain(solved)
    coefficients[0] += offset
    error = _huber_error(target - design @ solved, scale, tuning, design, columns)
    return Fit(columns @ solved + offset, error, math.inf, coefficients)


def _huber_error(residual: FloatArray, scale: float, tuning: float, design: FloatArray, columns: FloatArray) -> FloatArray:
    count, parameters = design.shape
    if scale <= 0 or count <= parameters:
        return np.full(len(columns), math.nan)
    score = np.clip(residual / scale, -tuning, tuning)
    inside = float((np.abs(residual / scale) <= tuning).mean())
    if inside == 0:
        return np.full(len(columns), math.nan)
    correction = 1 + parameters / count * (1 - inside) / inside
    variance = correction**2 * scale**2 * float((score**2).sum()) / (count - parameters) / inside**2
    inverse = np.linalg.inv(design.T @ design)
    result: FloatArray = np.sqrt(variance * np.einsum("ij,jk,ik->i", columns, inverse, columns))
    return result


def quantile_line(x: FloatArray, y: FloatArray, at: FloatArray, share: float = 0.5) -> Fit:
    """The straight line with a given share of the values below it, by linear programming.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        share: Between 0 and 1; 0.5 for the median.

    Returns:
        The line; it comes without errors.

    Raises:
        ValueError: There are fewer than two different x.

    Source: Koenker & Bassett (1978), Econometrica 46, 33–50.
    """
    from scipy.optimize import linprog

    if len(np.unique(x)) < 2:
        raise ValueError("2 different x at least")
    basis = _Basis.of(x)
    design = basis.columns(x, 1)
    offset, spread = float(np.median(y)), float(np.abs(y - np.median(y)).max()) or 1.0
    # The dual has two equations only: the largest yᵀa with Xᵀa = (1 − share) Xᵀ1 and 0 ≤ a ≤ 1; its prices are the line.
    found = linprog(
        -(y - offset) / spread,
        A_eq=design.T,
        b_eq=(1 - share) * design.sum(axis=0),
        bounds=(0, 1),
        method="highs",
    )
    solved = -np.asarray(found.eqlin.marginals) * spread
    coefficients = basis.plain(solved)
    coefficients[0] += offset
    value = basis.columns(at, 1) @ solved + offset
    return Fit(value, np.full(len(at), math.nan), math.nan, coefficients)


class Odds(NamedTuple):
    """A fitted probability at some places with its band."""

    value: FloatArray
    """Shape (m,), between 0 and 1."""
    low: FloatArray
    high: FloatArray
    coefficients: FloatArray
    """Intercept and slope of the log odds."""
    settled: bool
    """False where the two outcomes are separated by x, so that no finite slope is best."""


def logistic(x: FloatArray, y: FloatArray, at: FloatArray, level: float = 0.95) -> Odds:
    """The probability of y = 1 given x, by maximum likelihood with Newton's method.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), 0 or 1.
        at: Places of shape (m,).
        level: Of the band, which is made on the scale of log odds.

    Raises:
        ValueError: There are fewer than two different x, or y holds another value than 0 and 1.

    Source: Hosmer, Lemeshow & Sturdivant (2013), Applied Logistic Regression, sections 1.2 and 1.4.
    """
    from scipy.special import expit, ndtri

    if len(np.unique(x)) < 2:
        raise ValueError("2 different x at least")
    if not np.isin(y, (0.0, 1.0)).all():
        raise ValueError("y of two values, 0 and 1")
    basis = _Basis.of(x)
    design = basis.columns(x, 1)
    solved, settled = np.zeros(2), False
    information = np.eye(2)
    for _ in range(60):
        chance = expit(design @ solved)
        spread = np.maximum(chance * (1 - chance), 1e-12)
        information = design.T @ (design * spread[:, None])
        step = np.linalg.solve(information, design.T @ (y - chance))
        step *= min(1.0, 4.0 / float(np.abs(step).max() or 1.0))
        solved = solved + step
        if float(np.abs(step).max()) < 1e-12 * (1 + float(np.abs(solved).max())):
            settled = bool(np.abs(solved).max() < 30)
            break
    columns = basis.columns(at, 1)
    eta = columns @ solved
    error = np.sqrt(np.einsum("ij,jk,ik->i", columns, np.linalg.inv(information), columns))
    factor = float(ndtri(0.5 + level / 2))
    if not settled:
        error = np.full(len(at), math.nan)
    return Odds(expit(eta), expit(eta - factor * error), expit(eta + factor * error), basis.plain(solved), settled)
