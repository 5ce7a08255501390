"""What every kind of scale for numbers answers: where a value goes, which ticks suit, and how they are written."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import fields, is_dataclass
from typing import Any, ClassVar, Self

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.scales.formats import written
from facetine.core.scales.ticks import Ticks, linear_ticks


class Transform:
    """A kind of scale for numbers: a strictly increasing function and its inverse, its ticks and its words.

    A kind is one class in one file: a frozen dataclass whose fields are the options that it takes. What is not said here
    is as on an even scale.
    """

    __slots__ = ()
    says: ClassVar[str] = ""
    """What it is, for the catalog."""
    even: ClassVar[bool] = False
    """Whether places are the values themselves."""
    has_zero: ClassVar[bool] = True
    """Whether zero has a place, on which marks can stand."""
    one_sided: ClassVar[bool] = False
    """Whether an axis of values from zero on shows no room below zero."""
    any_unit: ClassVar[bool] = False
    """Whether values in another unit, above zero, are read on a scale of the same kind."""

    @classmethod
    def options(cls) -> tuple[str, ...]:
        """The names of the options that a scale of this kind takes: the fields of its dataclass."""
        return tuple(field.name for field in fields(cls)) if is_dataclass(cls) else ()

    @classmethod
    def of(cls, options: dict[str, Any]) -> Self:
        """The kind with its options; those that were not said have its defaults.

        Raises:
            ValueError: An option has an impossible value; what it says is told where the scale was asked for.
        """
        return cls(**options)

    def forward(self, values: FloatArray) -> FloatArray:
        """From data to axis space; shape kept; NaN where a value has no place."""
        raise NotImplementedError

    def inverse(self, places: FloatArray) -> FloatArray:
        """From axis space to data; shape kept."""
        raise NotImplementedError

    def admits(self, values: FloatArray) -> BoolArray:
        """Where a value has a place on the axis; false for NaN and infinite ones."""
        return np.isfinite(values)

    def domain(self) -> tuple[float, float]:
        """The bounds between which values have a place; infinite where there are none."""
        return -math.inf, math.inf

    def without_place(self) -> str:
        """What finite values without a place have in common, such as "of zero or less"; empty where all have one."""
        return ""

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:
        """About as many round values between two as are wanted; `whole` where all the data are whole numbers."""
        del whole
        return linear_ticks(low, high, wanted)

    def texts(self, values: Sequence[float]) -> list[str]:
        """How ticks are written where no format is said."""
        return written(values)

    def spelled(self, sign: str) -> str:
        """The place of a variable as a formula in inline markup, such as "√*y*"."""
        raise NotImplementedError

    def worded(self, name: str) -> str:
        """The place of a variable in words."""
        return f"{name} as it stands on its axis"

    def unit_word(self) -> str:
        """What a step of one along an uneven axis is called."""
        return "unit of the axis"

    def sql(self, column: str) -> str:
        """The place of a column's values as a SQL expression; for values that have one."""
        raise NotImplementedError

    def expression(self, column: Any) -> Any:
        """The same as an expression of a data frame library, from one of the column."""
        raise NotImplementedError
