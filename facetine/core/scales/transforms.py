"""Transforms of a continuous axis: from data values to the space in which the axis is even."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray


class Transform(Protocol):
    """A strictly increasing function of numbers and its inverse."""

    def forward(self, values: FloatArray) -> FloatArray:
        """From data to axis space; shape kept; NaN where a value has no place."""

    def inverse(self, places: FloatArray) -> FloatArray:
        """From axis space to data; shape kept."""

    def admits(self, values: FloatArray) -> BoolArray:
        """Where a value has a place on the axis; false for NaN and infinite ones."""


@dataclass(frozen=True, slots=True)
class Linear:
    """The identity."""

    def forward(self, values: FloatArray) -> FloatArray:
        """The values themselves."""
        return values

    def inverse(self, places: FloatArray) -> FloatArray:
        """The places themselves."""
        return places

    def admits(self, values: FloatArray) -> BoolArray:
        """All finite values."""
        return np.isfinite(values)


@dataclass(frozen=True, slots=True)
class Log:
    """The logarithm to some base; only positive values have a place."""

    base: float = 10.0

    def forward(self, values: FloatArray) -> FloatArray:
        """The logarithms, NaN where values are not positive."""
        with np.errstate(divide="ignore", invalid="ignore"):
            places = np.log10(values)
        if self.base != 10.0:
            places = places / math.log10(self.base)
        return np.where(np.isfinite(places), places, np.nan)

    def inverse(self, places: FloatArray) -> FloatArray:
        """The base to the power of the places; what no float can hold is taken to the end of what it can."""
        furthest = 307.0 / math.log10(self.base)
        result: FloatArray = np.power(self.base, np.clip(places, -furthest, furthest))
        return result

    def admits(self, values: FloatArray) -> BoolArray:
        """Finite values above zero."""
        result: BoolArray = np.isfinite(values) & (values > 0)
        return result


@dataclass(frozen=True, slots=True)
class Power:
    """A power of the size, with the sign kept: 0.5 for the square root."""

    exponent: float = 0.5

    def forward(self, values: FloatArray) -> FloatArray:
        """sign(x) |x|^p."""
        result: FloatArray = np.sign(values) * np.abs(values) ** self.exponent
        return result

    def inverse(self, places: FloatArray) -> FloatArray:
        """sign(u) |u|^(1/p)."""
        result: FloatArray = np.sign(places) * np.abs(places) ** (1 / self.exponent)
        return result

    def admits(self, values: FloatArray) -> BoolArray:
        """All finite values."""
        return np.isfinite(values)


@dataclass(frozen=True, slots=True)
class Symlog:
    """Linear around zero, logarithmic far from it, on both sides: sign(x) log10(1 + |x| / threshold).

    Source: Webber (2013), "A bi-symmetric log transformation for wide-range data", Measurement Science and Technology
    24, 027001.
    """

    threshold: float = 1.0

    def forward(self, values: FloatArray) -> FloatArray:
        """Places; zero stays at zero."""
        result: FloatArray = np.sign(values) * np.log10(1 + np.abs(values) / self.threshold)
        return result

    def inverse(self, places: FloatArray) -> FloatArray:
        """Values."""
        result: FloatArray = np.sign(places) * self.threshold * (10.0 ** np.abs(places) - 1)
        return result

    def admits(self, values: FloatArray) -> BoolArray:
        """All finite values."""
        return np.isfinite(values)


@dataclass(frozen=True, slots=True)
class Logit:
    """The log odds of shares, log10(x / (1 − x)); only values between 0 and 1 have a place."""

    def forward(self, values: FloatArray) -> FloatArray:
        """Log odds, NaN outside of 0 to 1."""
        with np.errstate(divide="ignore", invalid="ignore"):
            places = np.log10(values) - np.log10(1 - values)
        return np.where(np.isfinite(places), places, np.nan)

    def inverse(self, places: FloatArray) -> FloatArray:
        """Shares."""
        result: FloatArray = 1 / (1 + 10.0**-places)
        return result

    def admits(self, values: FloatArray) -> BoolArray:
        """Values between 0 and 1, the ends not included."""
        result: BoolArray = np.isfinite(values) & (values > 0) & (values < 1)
        return result
