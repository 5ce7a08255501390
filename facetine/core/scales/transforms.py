"""Transforms of a continuous axis: from data values to the space in which the axis is even."""

from __future__ import annotations

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
    """The decimal logarithm; only positive values have a place."""

    def forward(self, values: FloatArray) -> FloatArray:
        """log10 of the values, NaN where they are not positive."""
        with np.errstate(divide="ignore", invalid="ignore"):
            places = np.log10(values)
        return np.where(np.isfinite(places), places, np.nan)

    def inverse(self, places: FloatArray) -> FloatArray:
        """Ten to the power of the places."""
        result: FloatArray = np.power(10.0, places)
        return result

    def admits(self, values: FloatArray) -> BoolArray:
        """Finite values above zero."""
        result: BoolArray = np.isfinite(values) & (values > 0)
        return result
