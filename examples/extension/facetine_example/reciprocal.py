"""Even steps of one over the value."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import Ticks, linear_ticks


@dataclass(frozen=True, slots=True)
class Reciprocal(Transform):
    """−1/x, which rises with x; only values above zero have a place."""

    says: ClassVar[str] = "even steps of one over the value, such as of speeds for equal times"
    has_zero: ClassVar[bool] = False

    def forward(self, values: FloatArray) -> FloatArray:
        """−1/x, NaN where values are not above zero."""
        return np.where(values > 0, -1.0 / np.where(values > 0, values, 1.0), np.nan)

    def inverse(self, places: FloatArray) -> FloatArray:
        """−1/u; places at or beyond the end of the axis are taken to a place just before it."""
        return -1.0 / np.minimum(places, -1e-300)

    def admits(self, values: FloatArray) -> BoolArray:
        """Finite values above zero."""
        return np.isfinite(values) & (values > 0)

    def without_place(self) -> str:
        """Zero and what is below."""
        return "of zero or less"

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:  # noqa: ARG002
        """The values whose reciprocals are round, where these have few digits, else round values."""
        found = [1.0 / place for place in linear_ticks(1.0 / high, 1.0 / low, wanted).at if place > 0]
        short = [value for value in sorted(found) if float(f"{value:.3g}") == value]
        return Ticks(tuple(short), ()) if len(short) > 2 else linear_ticks(low, high, wanted)

    def spelled(self, sign: str) -> str:
        """One over the variable."""
        return f"−1/*{sign}*"

    def sql(self, column: str) -> str:
        """The formula."""
        return f"(-1.0 / {column})"

    def expression(self, column: Any) -> Any:
        """The formula."""
        return -1.0 / column
