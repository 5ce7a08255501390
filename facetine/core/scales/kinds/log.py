"""Orders of magnitude."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.scales.formats import base_powers, powers, significant
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import Ticks, log_ticks


@dataclass(frozen=True, slots=True)
class Log(Transform):
    """The logarithm to some base; only positive values have a place."""

    says: ClassVar[str] = "orders of magnitude; base= for another base than 10"
    has_zero: ClassVar[bool] = False
    any_unit: ClassVar[bool] = True

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

    def domain(self) -> tuple[float, float]:
        """From zero on."""
        return 0.0, math.inf

    def without_place(self) -> str:
        """Zero and what is below."""
        return "of zero or less"

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:  # noqa: ARG002
        """Powers of the base, or round values within one."""
        return log_ticks(low, high, wanted, self.base)

    def texts(self, values: Sequence[float]) -> list[str]:
        """Powers where there are many orders, else numbers."""
        return powers(values) if self.base == 10.0 else base_powers(values, self.base)

    def spelled(self, sign: str) -> str:
        """Its logarithm."""
        return f"log~{significant(self.base, 6)}~ *{sign}*"

    def worded(self, name: str) -> str:
        """Its logarithm."""
        return f"the logarithm of {name}"

    def unit_word(self) -> str:
        """A decade, a doubling, or a step of the base."""
        return {10.0: "decade", 2.0: "doubling"}.get(self.base, f"factor of {significant(self.base, 3)}")

    def sql(self, column: str) -> str:
        """The common logarithm, over that of the base."""
        return f"log10({column})" if self.base == 10.0 else f"(log10({column}) / {math.log10(self.base)!r})"

    def expression(self, column: Any) -> Any:
        """The logarithm to the base."""
        return column.log(self.base)
