"""Numbers as vector formats want them: two decimals of a point (3.5 µm), no more digits than needed."""

from __future__ import annotations

import numpy as np

from facetine.scene.marks import FloatArray


def cells(values: FloatArray) -> tuple[float, ...]:
    """All numbers of an array in reading order, rounded so that `%.7g` writes at most two decimals."""
    # Adding zero turns −0 into 0.
    return tuple((np.round(values, 2) + 0.0).ravel().tolist())


def short(value: float, decimals: int = 2) -> str:
    """One number without needless zeros.

    >>> short(12.5), short(3.0), short(-0.001)
    ('12.5', '3', '0')
    """
    return f"{round(value, decimals) + 0.0:.7g}"
