"""Functions of numbers as an analyst writes them: a factor, SQL, or a callable."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.data.expressions import evaluated
from facetine.data.intake import taken_in
from facetine.messages.errors import FacetineError, told


def applied(
    function: float | str | Callable[[FloatArray], AnyArray],
    values: FloatArray,
    name: str,
    where: str,
    error: type[FacetineError],
    *,
    gaps: bool = False,
) -> FloatArray:
    """What a function makes of numbers: times a factor, by a SQL expression, or by a callable.

    Args:
        function: The function.
        values: Shape (n,).
        name: What a value is called in SQL.
        where: Who asks, for the error.
        error: Its class.
        gaps: Whether it may make no number of some values.

    Returns:
        Shape (n,); NaN where it makes none.

    Raises:
        FacetineError: The expression or the callable fails, or makes no number of each value.
    """
    if isinstance(function, int | float):
        return values * float(function)
    try:
        with np.errstate(all="ignore"):
            if isinstance(function, str):
                column = evaluated(function, taken_in({name: values}, where), name, where)
                converted = np.asarray(column.values, float) if column.kind == "number" else np.empty(0)
            else:
                converted = np.asarray(function(values), float)
    except FacetineError:
        raise
    except Exception as problem:
        raise error(
            where, f"failed: {type(problem).__name__}: {problem}", "it is called with an array", of_option=True
        ) from problem
    if gaps and converted.shape == ():
        converted = np.full(values.shape, float(converted))
    if converted.shape != values.shape:
        what = told(function) if isinstance(function, str) else "the callable"
        raise error(where, f"{what} makes no number of each value", f"shape {values.shape} became {converted.shape}")
    return np.where(np.isfinite(converted), converted, np.nan) if gaps else converted
