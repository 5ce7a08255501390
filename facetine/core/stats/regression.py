"""Fitted lines by iteration: robust and logistic regression."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.fits import Fit
from facetine.core.stats.polynomials import Basis
from facetine.core.stats.quantiles import weighted_quantiles
from facetine.core.stats.weights import evened


def robust(x: FloatArray, y: FloatArray, at: FloatArray, tuning: float = 1.345, weights: FloatArray | None = None) -> Fit:
    """A straight line that few outliers hardly move: Huber's estimate by iteratively reweighted least squares.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        at: Places of shape (m,).
        tuning: Residuals beyond so many robust standard deviations count less; 1.345 keeps 95 % of the efficiency for
            normal errors.
        weights: Shape (n,), positive: how much each row counts beside that; a common factor changes nothing.

    Returns:
        The line; its errors are asymptotic.

    Raises:
        ValueError: There are fewer than two different x.

    Source: Huber (1981), Robust Statistics, sections 7.3, 7.8 (scale by the median absolute deviation) and 7.6, with
    the correction factor of equation 6.5, for the covariance.
    """
    if len(np.unique(x)) < 2:
        raise ValueError("2 different x at least")
    basis = Basis.of(float(x.min()), float(x.max()))
    design = basis.columns(x, 1)
    mass = np.ones(len(x)) if weights is None else evened(weights)
    offset = float(np.median(y))
    target = y - offset
    solved = _weighed_solution(design, target, mass)
    scale, settled = 0.0, False
    for _ in range(400):
        residual = target - design @ solved
        scale = float(_median(np.abs(residual - _median(residual, weights)), weights)) / 0.6744897501960817
        if scale <= 1e-12 * (np.abs(target).max() or 1.0):
            settled = True
            break
        weight = np.minimum(1.0, tuning * scale / np.maximum(np.abs(residual), 1e-300))
        fresh = _weighed_solution(design, target, mass * weight)
        moved = float(np.abs(fresh - solved).max())
        solved = fresh
        if moved <= 1e-11 * (scale + float(np.abs(solved).max())):
            settled = True
            break
    columns = basis.columns(at, 1)
    coefficients = basis.plain(solved)
    coefficients[0] += offset
    covariance = _huber_covariance(target - design @ solved, scale, tuning, design, mass)
    error = np.sqrt(np.einsum("ij,jk,ik->i", columns, covariance, columns))
    slope = basis.slope(1)
    slope_error = math.sqrt(float(slope @ covariance @ slope)) if np.isfinite(covariance).all() else math.nan
    return Fit(
        columns @ solved + offset, error, math.inf, coefficients, residual_std=scale, slope_error=slope_error, settled=settled
    )


def _median(values: FloatArray, weights: FloatArray | None) -> float:
    if weights is None:
        return float(np.median(values))
    return float(weighted_quantiles(values, weights, np.array([0.5]))[0])


def _weighed_solution(design: FloatArray, target: FloatArray, mass: FloatArray) -> FloatArray:
    root = np.sqrt(mass)
    return np.asarray(np.linalg.lstsq(design * root[:, None], target * root, rcond=None)[0], np.float64)


def _huber_covariance(residual: FloatArray, scale: float, tuning: float, design: FloatArray, mass: FloatArray) -> FloatArray:
    """Of the two coefficients in the basis, shape (2, 2)."""
    count, parameters = design.shape
    if scale <= 0 or count <= parameters:
        return np.full((parameters, parameters), math.nan)
    score = np.clip(residual / scale, -tuning, tuning)
    inside = float((mass * (np.abs(residual / scale) <= tuning)).sum()) / count
    if inside == 0:
        return np.full((parameters, parameters), math.nan)
    correction = 1 + parameters / count * (1 - inside) / inside
    variance = correction**2 * scale**2 * float((mass * score**2).sum()) / (count - parameters) / inside**2
    return np.asarray(variance * np.linalg.inv(design.T @ (design * mass[:, None])))


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
    slope_error: float
    """Standard error of the slope; NaN where the outcomes are separated."""


def logistic(x: FloatArray, y: FloatArray, at: FloatArray, level: float = 0.95, weights: FloatArray | None = None) -> Odds:
    """The probability of y = 1 given x, by maximum likelihood with Newton's method and halved steps.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), 0 or 1.
        at: Places of shape (m,).
        level: Of the band, which is made on the scale of log odds.
        weights: Shape (n,), positive: how much each row counts in the likelihood, set to a mean of 1.

    Returns:
        The curve. Where one x separates the outcomes there is no best slope: the curve is a step there, and `settled` is
        false.

    Raises:
        ValueError: There are fewer than two different x, or y holds another value than 0 and 1.

    Source: Hosmer, Lemeshow & Sturdivant (2013), Applied Logistic Regression, sections 1.2 and 1.4; Albert & Anderson
    (1984), Biometrika 71, 1–10, for separation.
    """
    from scipy.special import expit, ndtri

    if len(np.unique(x)) < 2:
        raise ValueError("2 different x at least")
    if not np.isin(y, (0.0, 1.0)).all():
        raise ValueError("y of two values, 0 and 1")
    step = _separated(x, y, at)
    none = np.full(len(at), math.nan)
    if step is not None:
        return Odds(step, none, none, np.full(2, math.nan), False, math.nan)
    mass = np.ones(len(x)) if weights is None else evened(weights)
    # Scaled by where most of x lies: a far x must not squeeze the others together.
    low, middle, high = np.quantile(x, [0.25, 0.5, 0.75]).tolist()
    scale = (high - low) or float(np.std(x)) or 1.0
    design = np.column_stack([np.ones(len(x)), (x - middle) / scale])
    solved, settled = _most_likely(design, y, mass)
    chance = expit(design @ solved)
    covariance = np.linalg.inv(design.T @ (design * (mass * chance * (1 - chance))[:, None]))
    columns = np.column_stack([np.ones(len(at)), (at - middle) / scale])
    eta = columns @ solved
    reach = float(ndtri(0.5 + level / 2)) * np.sqrt(np.einsum("ij,jk,ik->i", columns, covariance, columns))
    slope = float(solved[1]) / scale
    coefficients = np.array([float(solved[0]) - slope * middle, slope])
    error = math.sqrt(float(covariance[1, 1])) / scale
    return Odds(expit(eta), expit(eta - reach), expit(eta + reach), coefficients, settled, error)


def _most_likely(design: FloatArray, y: FloatArray, mass: FloatArray) -> tuple[FloatArray, bool]:
    """Coefficients of the largest likelihood, and whether the search came to its end."""
    from scipy.special import expit

    def fit(at: FloatArray) -> float:
        eta = design @ at
        return float((mass * (y * eta - np.logaddexp(0.0, eta))).sum())

    solved = np.zeros(2)
    now = fit(solved)
    for _ in range(200):
        chance = expit(design @ solved)
        gradient = design.T @ (mass * (y - chance))
        information = design.T @ (design * (mass * chance * (1 - chance))[:, None])
        step = np.linalg.lstsq(information, gradient, rcond=1e-14)[0]
        if float(np.abs(step).max()) <= 1e-9 * (1 + float(np.abs(solved).max())):
            # Newton's steps shrink by squares: one of 1e-9 leaves nothing that a float could hold.
            return solved + step, True
        size, fresh = 1.0, fit(solved + step)
        # Near the top the likelihood is flat to the last digit; rounding must not pass for a step down.
        while fresh < now - 1e-12 * (1 + abs(now)) and size > 1e-12:
            size /= 2
            fresh = fit(solved + size * step)
        if size <= 1e-12:
            # Rounding alone stands between here and the top.
            return solved, float(np.abs(step).max()) <= 1e-6 * (1 + float(np.abs(solved).max()))
        solved, now = solved + size * step, fresh
    return solved, False


def _separated(x: FloatArray, y: FloatArray, at: FloatArray) -> FloatArray | None:
    """The step to which the likelihood runs away where one x separates the outcomes, shape (m,); None where none does."""
    ones, zeros = x[y == 1], x[y == 0]
    if not len(ones) or not len(zeros):
        return np.full(len(at), 1.0 if len(ones) else 0.0)
    if zeros.max() <= ones.min():
        middle = (float(zeros.max()) + float(ones.min())) / 2
        return np.where(at == middle, 0.5, (at > middle).astype(float))
    if ones.max() <= zeros.min():
        middle = (float(ones.max()) + float(zeros.min())) / 2
        return np.where(at == middle, 0.5, (at < middle).astype(float))
    return None
