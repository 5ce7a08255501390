"""Powers of the size, the square root among them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.formats import significant
from facetine.core.scales.kinds.base import Transform


@dataclass(frozen=True, slots=True)
class Power(Transform):
    """A power of the size, with the sign kept: 0.5 for the square root."""

    says: ClassVar[str] = "any power of the size; exponent="
    one_sided: ClassVar[bool] = True

    exponent: float = 0.5

    def forward(self, values: FloatArray) -> FloatArray:
        """sign(x) |x|^p."""
        result: FloatArray = np.sign(values) * np.abs(values) ** self.exponent
        return result

    def inverse(self, places: FloatArray) -> FloatArray:
        """sign(u) |u|^(1/p)."""
        result: FloatArray = np.sign(places) * np.abs(places) ** (1 / self.exponent)
        return result

    def worded(self, name: str) -> str:
        """Its power, or root."""
        return f"the square root of {name}" if self.exponent == 0.5 else f"{name} to the power of {significant(self.exponent, 6)}"

    def spelled(self, sign: str) -> str:
        """Its power, or root."""
        return f"√*{sign}*" if self.exponent == 0.5 else f"*{sign}*^{significant(self.exponent, 6)}^"

    def sql(self, column: str) -> str:
        """The power of the size with the sign of the value."""
        return f"(sign({column}) * pow(abs({column}), {self.exponent!r}))"

    def expression(self, column: Any) -> Any:
        """The power of what is above zero, less that of what is below."""
        return column.clip(0.0, None) ** self.exponent - (-column).clip(0.0, None) ** self.exponent


@dataclass(frozen=True, slots=True)
class SquareRoot(Power):
    """The square root of the size, with the sign kept."""

    says: ClassVar[str] = "square roots: large values closer together, zero at home"

    @classmethod
    def options(cls) -> tuple[str, ...]:
        """None: its exponent is one half."""
        return ()
