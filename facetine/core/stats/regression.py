"""Fitted lines: least squares, polynomials, robust, quantile and logistic regression, each with what it can say of its error."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.quantiles import weighted_quantiles
from facetine.core.stats.weights import evened


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
    residual_std: float = math.nan
    """Standard deviation of the residuals; NaN where it has no meaning."""
    slope_error: float = math.nan
    """Standard error of the slope of a straight line; NaN where there is none."""
    settled: bool = True
    """Whether the computation came to its end."""

    def band(self, level: float, what: str = "confidence") -> tuple[FloatArray, FloatArray]:
        """Band by Student's t, each end of shape (m,).

        Args:
            level: Between 0 and 1.
            what: "confidence" for the curve, "prediction" for one more value: √(σ² + error²) in the place of the error.
        """
        if not self.freedom > 0:
            return self.value * math.nan, self.value * math.nan
        error = self.error if what == "confidence" else np.hypot(self.error, self.residual_std)
        reach = t_factor(level, self.freedom) * error
        return self.value - reach, self.value + reach

    @property
    def slope_p(self) -> float:
        """Two-sided p of a slope of zero; NaN where the slope has no error."""
        return two_sided(float(self.coefficients[1]), self.slope_error, self.freedom) if len(self.coefficients) == 2 else math.nan


def t_factor(level: float, freedom: float) -> float:
    """So many standard errors either way hold a level, by Student's t; by the normal for infinite freedom."""
    from scipy.special import ndtri, stdtrit

    share = 0.5 + level / 2
    return float(ndtri(share) if math.isinf(freedom) else stdtrit(freedom, share))


def two_sided(difference: float, error: float, freedom: float) -> float:
    """Two-sided p of a difference from zero; NaN without an error."""
    from scipy.special import ndtr, stdtr

    if not (error >= 0 and freedom > 0):
        return math.nan
    if error == 0:
        return 0.0 if difference else 1.0
    score = -abs(difference / error)
    return 2 * float(ndtr(score) if math.isinf(freedom) else stdtr(freedom, score))


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
    basis = _Basis.of(x)
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
    basis = _Basis.of(x)
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


class Contrast(NamedTuple):
    """The difference between two slopes."""

    difference: float
    low: float
    high: float
    p: float


def compared_slopes(first: Fit, second: Fit, level: float = 0.95) -> Contrast:
    """By how much the second slope exceeds the first, with its interval and two-sided p.

    The errors of both lines are kept apart; degrees of freedom are Welch and Satterthwaite's.

    Args:
        first: A straight line with an error of its slope.
        second: Another one.
        level: Of the interval.

    Returns:
        All but the difference are NaN where a slope has no error.

    Source: Welch (1947), Biometrika 34, 28–35; Satterthwaite (1946), Biometrics Bulletin 2, 110–114.
    """
    difference = float(second.coefficients[1] - first.coefficients[1])
    parts = [(fit.slope_error**2, fit.freedom) for fit in (first, second)]
    variance = sum(part for part, _ in parts)
    if not variance >= 0:
        return Contrast(difference, math.nan, math.nan, math.nan)
    error = math.sqrt(variance)
    spread = sum(part**2 / freedom for part, freedom in parts)
    freedom = variance**2 / spread if spread > 0 else math.inf
    reach = t_factor(level, freedom) * error
    return Contrast(difference, difference - reach, difference + reach, two_sided(difference, error, freedom))
