"""The names of the array types that travel through all rooms."""

from __future__ import annotations

from typing import Any, TypeAlias

import numpy as np
from numpy.typing import NDArray

FloatArray: TypeAlias = NDArray[np.float64]
"""Numbers; NaN stands for a missing one."""
IntArray: TypeAlias = NDArray[np.int64]
"""Positions in another array; −1 stands for a missing one."""
BoolArray: TypeAlias = NDArray[np.bool_]
AnyArray: TypeAlias = NDArray[Any]
