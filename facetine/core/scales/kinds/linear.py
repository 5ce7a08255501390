"""Even steps."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from facetine.core.arrays import FloatArray
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import Ticks, linear_ticks, whole_ticks


@dataclass(frozen=True, slots=True)
class Linear(Transform):
    """The identity."""

    says: ClassVar[str] = "numbers in even steps"
    even: ClassVar[bool] = True

    def forward(self, values: FloatArray) -> FloatArray:
        """The values themselves."""
        return values

    def inverse(self, places: FloatArray) -> FloatArray:
        """The places themselves."""
        return places

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:
        """Round numbers, or whole ones."""
        return whole_ticks(low, high, wanted) if whole else linear_ticks(low, high, wanted)

    def spelled(self, sign: str) -> str:
        """The variable."""
        return f"*{sign}*"

    def sql(self, column: str) -> str:
        """The column."""
        return column

    def expression(self, column: Any) -> Any:
        """The column."""
        return column
