"""What weights amount to: the size of the sample that says as much without them."""

from __future__ import annotations

from facetine.core.arrays import FloatArray


def effective_size(weights: FloatArray) -> float:
    """Kish's effective sample size, (Σw)² / Σw²: n for equal weights, whatever they are.

    Args:
        weights: Shape (n,), not negative, with one above zero at least.

    Source: Kish (1965), Survey Sampling, section 11.7.
    """
    scaled = weights / weights.max()  # so that no square runs over
    return float(scaled.sum() ** 2 / (scaled**2).sum())


def evened(weights: FloatArray) -> FloatArray:
    """The same weights with a mean of 1, so that nothing depends on their unit; shape (n,)."""
    scaled = weights / weights.max()
    result: FloatArray = scaled * (len(scaled) / scaled.sum())
    return result
