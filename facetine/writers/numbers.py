"""Numbers as vector formats want them: two decimals of a point (3.5 µm), no more digits than needed."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from facetine.messages.errors import ExportError
from facetine.scene.marks import AnyArray, FloatArray, IntArray

# Texts of 0, 0.01, 0.02, … points: a coordinate on a sheet is one of few, so many are looked up, not formatted.
_TABLE: list[str] = []
_FARTHEST = 1e15
"""Hundredths of a point: what leaves the sheet runs no further, where readers count no more."""
_LARGEST = 150_000
_MANY = 200


def check_finite(values: FloatArray) -> None:
    """The last guard: no file may hold a number that is none.

    Raises:
        ExportError: A number is infinite or missing.
    """
    if not np.isfinite(values).all():
        raise ExportError(
            "figure.export",
            "a mark has a place or size that is not finite, so the file would be corrupt",
            "this is a fault of Facetine's; the figure without its last layer may do",
        )


def put(pattern: str, values: AnyArray) -> str:
    """A pattern with a gap, `%s`, for each number, filled with numbers of at most two decimals.

    One call of the formatter for all of them is the quickest way through Python.

    >>> put("%s %s m", np.array([[1.5, 2.0]]))
    '1.5 2 m'
    """
    hundredths = _hundredths(values).ravel()
    return pattern % tuple(map(_writing(hundredths), hundredths.tolist()))


def _hundredths(values: AnyArray) -> IntArray:
    check_finite(values)
    counts: IntArray = np.rint(values * 100).clip(-_FARTHEST, _FARTHEST).astype(np.int64)
    return counts


def _writing(hundredths: IntArray) -> Callable[[int], str]:
    """What writes each of some numbers: looked up where they are many and none is out of the ordinary."""
    if hundredths.size > _MANY and hundredths.min() >= 0:
        most = int(hundredths.max())
        if most < _LARGEST:
            if most >= len(_TABLE):
                _TABLE.extend(map(_decimal, range(len(_TABLE), most + 1)))
            return _TABLE.__getitem__
    return _decimal


def _decimal(hundredths: int) -> str:
    return f"{hundredths / 100:.7g}"


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
    gap = "%d" if hundredths else "%s"
    patterns = [gap.join(part.replace("%", "%%") for part in template) for template in templates]
    if which is None or len(patterns) == 1:
        pattern = patterns[0] * len(values)
    else:
        pattern = "".join(map(patterns.__getitem__, which.tolist()))
    return pattern % tuple(_hundredths(values).ravel().tolist()) if hundredths else put(pattern, values)


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
    parts = [f"{then}%s{between}%s"] * len(points)
    for start in starts.tolist():
        parts[start] = f"{close if start else ''}{first}%s{between}%s"
    return put("".join(parts), points) + close


def short(value: float, decimals: int = 2) -> str:
    """One number without needless zeros.

    >>> short(12.5), short(3.0), short(-0.001)
    ('12.5', '3', '0')
    """
    if not math.isfinite(value):
        check_finite(np.array([value]))
    return f"{round(value, decimals) + 0.0:.7g}"
