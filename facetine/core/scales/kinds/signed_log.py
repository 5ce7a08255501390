"""Linear around zero, logarithmic far from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.formats import written
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import Ticks, signed_log_ticks


@dataclass(frozen=True, slots=True)
class SignedLog(Transform):
    """Linear around zero, logarithmic far from it, on both sides: sign(x) log10(1 + |x| / threshold).

    Source: Webber (2013), "A bi-symmetric log transformation for wide-range data", Measurement Science and Technology
    24, 027001.
    """

    says: ClassVar[str] = "linear around zero, logarithmic far from it, on both sides; threshold="

    threshold: float = 1.0

    def forward(self, values: FloatArray) -> FloatArray:
        """Places; zero stays at zero."""
        result: FloatArray = np.sign(values) * np.log10(1 + np.abs(values) / self.threshold)
        return result

    def inverse(self, places: FloatArray) -> FloatArray:
        """Values."""
        result: FloatArray = np.sign(places) * self.threshold * (10.0 ** np.abs(places) - 1)
        return result

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:  # noqa: ARG002
        """Zero, and powers of ten on both sides."""
        return signed_log_ticks(low, high, self.threshold, wanted)

    def texts(self, values: Sequence[float]) -> list[str]:
        """Each as short as it can be, since they differ by orders."""
        return [written([value])[0] for value in values]

    def spelled(self, sign: str) -> str:
        """By its name, since the formula is long."""
        return f"signed_log *{sign}*"

    def sql(self, column: str) -> str:
        """The formula."""
        return f"(sign({column}) * log10(1 + abs({column}) / {self.threshold!r}))"

    def expression(self, column: Any) -> Any:
        """That of what is above zero, less that of what is below."""
        above, below = column.clip(0.0, None), (-column).clip(0.0, None)
        return (1 + above / self.threshold).log(10.0) - (1 + below / self.threshold).log(10.0)
