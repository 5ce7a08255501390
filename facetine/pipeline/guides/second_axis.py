"""A second axis: the same values in another unit, never other data."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.calendar import time_ticks
from facetine.core.scales.formats import escaped, written
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.data.functions import applied
from facetine.grammar.scale import ScaleSpec, SecondAxisSpec
from facetine.messages.errors import ScaleError
from facetine.pipeline.guides.ticks import AxisTicks, number_texts, time_texts, within, written_truly
from facetine.pipeline.scales.axes import Axis

_STEPS = 4097


class SecondAxis(NamedTuple):
    """The values of an axis in another unit, tabulated over it, so that a value is found without asking for the inverse.

    Between two of the 4,097 entries the conversion is taken as straight, an error of less than a thousandth of a point for
    any smooth function.
    """

    spec: SecondAxisSpec
    values: FloatArray
    """Shape (4097,), increasing: in the other unit."""
    places: FloatArray
    """Shape (4097,): where they stand on the first axis."""
    transform: Transform
    """The kind of scale on which its ticks are round."""
    where: str
    zone: str | None = None
    """Of times: the zone in which they are shown."""

    def ticks(self, wanted: int) -> AxisTicks:
        """Its ticks, about as many as wanted, at places of the first axis."""
        low, high = float(self.values[0]), float(self.values[-1])
        if self.zone is not None:
            at, labels, _ = time_ticks(low, high, max(wanted, 2), self.zone)
            return AxisTicks(at, time_texts(at, labels, ScaleSpec(format=self.spec.format), self.zone, self.where))
        if isinstance(self.spec.ticks, tuple):
            at, beyond = within(tuple(sorted(self.spec.ticks)), low, high)
            minor: tuple[float, ...] = ()
        else:
            count = max(self.spec.ticks or wanted, 2)
            spec, beyond = ScaleSpec(format=self.spec.format), ()
            at, minor = written_truly(partial(self.transform.ticks, low, high), count, spec, self.where, self.transform)
        labels = number_texts(at, ScaleSpec(format=self.spec.format), self.where, self.transform)
        return AxisTicks(self._found(at), labels, self._found(minor), tuple(written(beyond)))

    def _found(self, values: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(np.interp(np.array(values, float), self.values, self.places).tolist())


def second_axis(axis: Axis) -> SecondAxis | None:
    """The second axis of an axis; None where nothing is said of one.

    Raises:
        ScaleError: The axis has categories or times, which have no other unit; the conversion is not finite or does not go
            one way all over the axis; or a tick is no number.
    """
    if axis.spec.second_axis is None or axis.empty:
        return None
    where = f"figure.scale({axis.name!r})"
    second = SecondAxisSpec(**axis.spec.second_axis)
    if axis.kind == "levels":
        raise ScaleError(f"{where}: second_axis is for numbers and times, and the axis has categories")
    if (axis.kind == "time") != (second.zone is not None):
        what, would = (
            ("times", 'zone="Asia/Tokyo" shows them in another zone') if axis.kind == "time" else ("numbers", "convert= converts")
        )
        raise ScaleError(f"{where}: the axis has {what}, for which second_axis is no such one", f"second_axis={{…}}: {would}")
    where = f"{where}: second_axis"
    if second.zone is not None:
        if axis.zone is None:
            raise ScaleError(f"{where}: the times have no zone of their own", "give them one in the data frame")
        if second.ticks is not None:
            raise ScaleError(f"{where}: ticks have no effect on times in another zone", "leave them out")
        ends = np.array([axis.extent.low, axis.extent.high])
        named = second if second.title else replace(second, title=escaped(second.zone))
        return SecondAxis(named, ends, ends, axis.transform, where, second.zone)
    places = np.linspace(axis.extent.low, axis.extent.high, _STEPS)
    assert second.convert is not None
    converted = applied(second.convert, axis.transform.inverse(places), "value", where, ScaleError)
    steps = np.diff(converted)
    if not np.isfinite(converted).all() or not ((steps > 0).all() or (steps < 0).all()):
        low, high = axis.transform.inverse(places[[0, -1]]).tolist()
        raise ScaleError(
            f"{where}: of does not lead from each value to one of its own between {low:g} and {high:g}",
            "a conversion of units rises or falls all the way",
        )
    if steps[0] < 0:
        places, converted = places[::-1], converted[::-1]
    transform = axis.transform if axis.transform.any_unit and converted[0] > 0 else Linear()
    return SecondAxis(second, converted, places, transform, where)
