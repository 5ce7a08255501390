"""Even steps of one over the value."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import Ticks, linear_ticks


@dataclass(frozen=True, slots=True)
class Reciprocal(Transform):
    """−1/(x − start), which rises with x; only values above the start have a place."""

    says: ClassVar[str] = "even steps of one over the value, such as of speeds for equal times; start="
    has_zero: ClassVar[bool] = False

    start: float = 0.0
    """The value from which it counts: −273.15 for degrees Celsius. A field is an option of the scale."""

    def __post_init__(self) -> None:
        if isinstance(self.start, bool) or not isinstance(self.start, int | float) or not math.isfinite(self.start):
            raise ValueError(f"start is a finite number, not {self.start!r}")

    def forward(self, values: FloatArray) -> FloatArray:
        """−1/(x − start), NaN where values are not above the start."""
        above = values - self.start
        return np.where(above > 0, -1.0 / np.where(above > 0, above, 1.0), np.nan)

    def inverse(self, places: FloatArray) -> FloatArray:
        """Start − 1/u; places at or beyond the end of the axis are taken to a place just before it."""
        return self.start - 1.0 / np.minimum(places, -1e-300)

    def admits(self, values: FloatArray) -> BoolArray:
        """Finite values above the start."""
        return np.isfinite(values) & (values > self.start)

    def without_place(self) -> str:
        """The start and what is below."""
        return "of zero or less" if self.start == 0 else f"of {self.start:g} or less"

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:  # noqa: ARG002
        """The values whose reciprocals are round, where these have few digits, else round values."""
        if self.start != 0:
            return linear_ticks(low, high, wanted)
        found = [1.0 / place for place in linear_ticks(1.0 / high, 1.0 / low, wanted).at if place > 0]
        short = [value for value in sorted(found) if float(f"{value:.3g}") == value]
        return Ticks(tuple(short), ()) if len(short) > 2 else linear_ticks(low, high, wanted)

    def spelled(self, sign: str) -> str:
        """One over the variable."""
        return f"−1/*{sign}*" if self.start == 0 else f"−1/(*{sign}* − {self.start:g})"

    def sql(self, column: str) -> str:
        """The formula."""
        return f"(-1.0 / ({column} - {self.start!r}))"

    def expression(self, column: Any) -> Any:
        """The formula."""
        return -1.0 / (column - self.start)
