"""What a fitted curve says: its values, their errors, and how its slope compares with another one's."""

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
