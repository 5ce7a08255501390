"""Log odds of shares."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.scales.formats import MINUS, written_shares
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import Ticks, logit_ticks


@dataclass(frozen=True, slots=True)
class Logit(Transform):
    """The log odds of shares, log10(x / (1 − x)); only values between 0 and 1 have a place."""

    says: ClassVar[str] = "shares between 0 and 1, with space at both ends"
    has_zero: ClassVar[bool] = False

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

    def domain(self) -> tuple[float, float]:
        """Between zero and one."""
        return 0.0, 1.0

    def without_place(self) -> str:
        """The ends, and what lies beyond them."""
        return "not between 0 and 1"

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:  # noqa: ARG002
        """Shares such as 0.1, 0.5, 0.9, 0.99."""
        return logit_ticks(low, high, wanted)

    def texts(self, values: Sequence[float]) -> list[str]:
        """With as many nines as there are."""
        return written_shares(values)

    def worded(self, name: str) -> str:
        """The log odds."""
        return f"the log odds of {name}"

    def spelled(self, sign: str) -> str:
        """The log odds."""
        return f"log~10~ (*{sign}* / (1 {MINUS} *{sign}*))"

    def sql(self, column: str) -> str:
        """The formula."""
        return f"(log10({column}) - log10(1 - {column}))"

    def expression(self, column: Any) -> Any:
        """The formula."""
        return column.log(10.0) - (1 - column).log(10.0)
