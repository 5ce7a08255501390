"""The names of the array types that travel through all rooms, and what a number is."""

from __future__ import annotations

import math
from numbers import Integral, Real
from typing import Any, TypeAlias, TypeGuard

import numpy as np
from numpy.typing import NDArray

FloatArray: TypeAlias = NDArray[np.float64]
"""Numbers; NaN stands for a missing one."""
IntArray: TypeAlias = NDArray[np.int64]
"""Positions in another array; −1 stands for a missing one."""
BoolArray: TypeAlias = NDArray[np.bool_]
AnyArray: TypeAlias = NDArray[Any]
_NUMBER = np.dtype(float)


def in_zone(times: AnyArray, zone: str) -> AnyArray:
    """Times in UTC that say which zone they are to be read in; arrays have no other place for it."""
    # Anew from its name: a type that says a zone already would keep it.
    zoned: AnyArray = times.view(np.dtype(times.dtype.str, metadata={"zone": zone}))
    return zoned


def zone_of(times: AnyArray) -> str | None:
    """The zone that an array of times says; None where it says none."""
    said = times.dtype.metadata
    return None if said is None else said.get("zone")


def mask_of(values: AnyArray) -> BoolArray | None:
    """Where an array is masked, shape (n,); None where it has no mask. Asking an array itself would load masked arrays."""
    return np.ma.getmaskarray(values) if hasattr(values, "mask") else None


def with_none(array: AnyArray) -> AnyArray:
    """An array of objects with None where there is no value; as it is where there are all."""
    mask = mask_of(array)
    if mask is None:
        return array
    objects = np.asarray(array).astype(object)
    objects[mask] = None
    return objects


def is_number(value: object) -> TypeGuard[float]:
    """Whether it is a finite number, of Python or of NumPy, which truth values are not."""
    if isinstance(value, bool) or not isinstance(value, Real):
        return False
    if getattr(value, "dtype", _NUMBER).kind == "m":  # a duration: to NumPy's types a whole number, not to a reader
        return False
    try:
        return math.isfinite(float(value))
    except OverflowError:
        return False


def is_whole(value: object) -> TypeGuard[int]:
    """Whether it is a whole number as a type says it, of Python or of NumPy; 3.0 is none."""
    return isinstance(value, Integral) and is_number(value)


def plain(value: Any) -> Any:
    """A number, text or truth value of NumPy as Python's own; anything else as it is."""
    return value.item() if isinstance(value, np.number | np.str_ | np.bool_) and value.dtype.kind != "m" else value
