"""Numbers as vector formats want them: two decimals of a point (3.5 µm), no more digits than needed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import chain

import numpy as np

from facetine.errors import ExportError
from facetine.scene.marks import AnyArray, FloatArray, IntArray

# Texts of 0, 0.01, 0.02, … points: a coordinate on a sheet is one of few, so many are looked up, not formatted.
_TABLE: list[str] = []
_LARGEST = 150_000
_MANY = 200


def check_finite(values: FloatArray) -> None:
    """The last guard: no file may hold a number that is none.

    Raises:
        ExportError: A number is infinite or missing.
    """
    if not np.isfinite(values).all():
        raise ExportError(
            "figure.export: a mark has a place or size that is not finite, so the file would be corrupt",
            "this is a fault of Facetine's; the figure without its last layer may do",
        )


def texts(*columns: FloatArray) -> list[list[str]]:
    """The numbers of some arrays of shape (n,) with at most two decimals."""
    values = np.array(columns)
    check_finite(values)
    hundredths = np.rint(values * 100).astype(np.int64)
    if values.size > _MANY and hundredths.min() >= 0:
        most = int(hundredths.max())
        if most < _LARGEST:
            if most >= len(_TABLE):
                _TABLE.extend([f"{number / 100:.7g}" for number in range(len(_TABLE), most + 1)])
            return [list(map(_TABLE.__getitem__, column)) for column in hundredths.tolist()]
    return [[f"{number / 100:.7g}" for number in column] for column in hundredths.tolist()]


def wholes(*columns: FloatArray) -> list[list[str]]:
    """The numbers of some arrays of shape (n,) in whole hundredths."""
    values = np.array(columns)
    check_finite(values)
    return [list(map(str, column)) for column in np.rint(values * 100).astype(np.int64).tolist()]


def woven(*columns: Sequence[str]) -> str:
    """Texts read row by row: the first of every column, then the second of every column, and so on."""
    return "".join(chain.from_iterable(zip(*columns, strict=True)))


def filled(templates: Sequence[tuple[str, ...]], which: IntArray | None, values: AnyArray, *, hundredths: bool = False) -> str:
    """Templates with gaps, one for each row, filled with the row's numbers.

    Args:
        templates: The k + 1 texts before, between and after the k numbers of a row.
        which: Shape (n,): position of each row's template; None where all have the first.
        values: Shape (n, k).
        hundredths: Whether they are written as whole hundredths.

    >>> filled([("<", " ", ">")], None, np.array([[1.5, 2.0], [3.0, 4.25]]))
    '<1.5 2><3 4.25>'
    """
    count, gaps = values.shape
    numbers = wholes(*values.T) if hundredths else texts(*values.T)
    columns: list[Sequence[str]] = []
    for part in range(gaps + 1):
        choices = [template[part] for template in templates]
        if which is None or len(set(choices)) == 1:
            columns.append([choices[0]] * count)
        else:
            columns.append(list(map(choices.__getitem__, which.tolist())))
        if part < gaps:
            columns.append(numbers[part])
    return woven(*columns)


def traced(points: FloatArray, starts: IntArray, first: str, then: str, between: str, close: str = "") -> str:
    """Polylines written out.

    Args:
        points: Shape (m, 2).
        starts: Shape (k,): where each part begins.
        first: What stands before the first vertex of a part.
        then: What stands before every other one.
        between: What stands between x and y.
        close: What stands after a part.
    """
    count = len(points)
    heads = [then] * count
    for start in starts.tolist():
        heads[start] = (close if start else "") + first
    x, y = texts(points[:, 0], points[:, 1])
    return woven(heads, x, [between] * count, y) + close


def short(value: float, decimals: int = 2) -> str:
    """One number without needless zeros.

    >>> short(12.5), short(3.0), short(-0.001)
    ('12.5', '3', '0')
    """
    if not math.isfinite(value):
        check_finite(np.array([value]))
    return f"{round(value, decimals) + 0.0:.7g}"
