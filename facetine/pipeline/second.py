"""A second axis: the same values in another unit, never other data."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.kinds.linear import Linear
from facetine.data.expressions import evaluated
from facetine.data.intake import taken_in
from facetine.errors import FacetineError, ScaleError
from facetine.grammar.scale import ScaleSpec, SecondSpec
from facetine.pipeline.guide import AxisTicks, number_texts
from facetine.pipeline.settle import Axis

_STEPS = 4097


def second_spec(axis: Axis) -> SecondSpec | None:
    """What is said of an axis's second one; None where there is none.

    Raises:
        ScaleError: The axis has categories or times, which have no other unit.
    """
    if axis.spec.second is None or axis.empty:
        return None
    if axis.kind in ("levels", "time"):
        what = "categories" if axis.kind == "levels" else "times"
        raise ScaleError(f"figure.scale({axis.name!r}): second is for numbers, and the axis has {what}")
    return SecondSpec(**axis.spec.second)


def second_ticks(axis: Axis, second: SecondSpec) -> Callable[[int], AxisTicks]:
    """What makes ticks of a second axis, about as many as wanted, at places of the first.

    The function is tabulated over the axis, so that its inverse is found without asking for it: between two of the
    4,097 entries it is taken as straight, an error of less than a thousandth of a point for any smooth function.

    Raises:
        ScaleError: The function is not finite or does not go one way all over the axis, or a tick is no number.
    """
    where = f"figure.scale({axis.name!r}): second"
    places = np.linspace(axis.extent.low, axis.extent.high, _STEPS)
    made = _converted(second.of, axis.transform.inverse(places), where)
    steps = np.diff(made)
    if not np.isfinite(made).all() or not ((steps > 0).all() or (steps < 0).all()):
        low, high = axis.transform.inverse(places[[0, -1]]).tolist()
        raise ScaleError(
            f"{where}: of does not lead from each value to one of its own between {low:g} and {high:g}",
            "a conversion of units rises or falls all the way",
        )
    if steps[0] < 0:
        places, made = places[::-1], made[::-1]
    low, high = float(made[0]), float(made[-1])
    transform = axis.transform if axis.transform.any_unit and low > 0 else Linear()
    spec = ScaleSpec(format=second.format)

    def ticks(wanted: int) -> AxisTicks:
        if isinstance(second.ticks, tuple):
            at = tuple(sorted(value for value in second.ticks if low <= value <= high))
            minor: tuple[float, ...] = ()
        else:
            at, minor = transform.ticks(low, high, max(second.ticks or wanted, 2))
        labels = number_texts(at, spec, where, transform)
        return AxisTicks(_found(at, made, places), labels, _found(minor, made, places))

    return ticks


def _found(values: tuple[float, ...], made: FloatArray, places: FloatArray) -> tuple[float, ...]:
    return tuple(np.interp(np.array(values, float), made, places).tolist())


def _converted(of: Any, values: FloatArray, where: str) -> FloatArray:
    """The values in the other unit: times a factor, by a SQL expression in `value`, or by a callable.

    Raises:
        ScaleError: The expression or the callable fails, or makes no number of each value.
    """
    if isinstance(of, int | float):
        return values * float(of)
    try:
        if isinstance(of, str):
            column = evaluated(of, taken_in({"value": values}, where), "value", where)
            made = np.asarray(column.values, float) if column.kind == "number" else np.empty(0)
        else:
            made = np.asarray(of(values), float)
    except FacetineError:
        raise
    except Exception as problem:
        raise ScaleError(f"{where}: of failed: {type(problem).__name__}: {problem}", "it is called with an array") from problem
    if made.shape != values.shape:
        raise ScaleError(f"{where}: of makes no number of each value", f"shape {values.shape} became {made.shape}")
    return made
