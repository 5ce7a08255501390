"""Ticks of axes with their texts, those of a second axis too."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray, is_number
from facetine.core.scales.calendar import finer_ticks, instant, stepped_ticks, strftime, time_ticks
from facetine.core.scales.formats import escaped, formatted, without_sign, written
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.core.scales.readback import number_read
from facetine.core.scales.ticks import Ticks
from facetine.data.functions import applied
from facetine.grammar.scale import EVERY, ScaleSpec, SecondAxisSpec
from facetine.messages.errors import OptionError, ScaleError, told
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.wording import called_format

_EVEN = Linear()


class AxisTicks(NamedTuple):
    """Ticks of an axis."""

    at: tuple[float, ...]
    """Places in axis space."""
    labels: tuple[str, ...]
    """Inline markup, one a tick; a second line where a new day, month or year begins."""
    minor: tuple[float, ...] = ()
    """Places without a label."""
    beyond: tuple[str, ...] = ()
    """Ticks that the analyst listed and that lie outside the axis, in words."""
    alike: tuple[str, ...] = ()
    """Labels that the format writes at several ticks."""


def axis_ticks(axis: Axis, wanted: int) -> AxisTicks:
    """Ticks of an axis, about as many as wanted where the analyst did not say which.

    Raises:
        ScaleError: A tick was asked for that is no value of the axis.
        OptionError: The scale's format can't write its values.
    """
    where = f"figure.scale({axis.name!r})"
    if axis.kind == "levels":
        if axis.spec.ticks in (0, ()):
            return AxisTicks((), ())
        return AxisTicks(tuple(float(place) for place in range(len(axis.labels))), axis.labels)
    if axis.empty:
        return AxisTicks((), ())  # numbers here would be made up
    spec = axis.spec
    if isinstance(spec.ticks, str) and axis.kind != "time":
        raise ScaleError(where, f"ticks {spec.ticks!r} are for times", "give a list of numbers, or how many")
    if isinstance(spec.ticks, int):
        if spec.ticks == 0:
            return AxisTicks((), ())
        wanted = max(spec.ticks, 2)
    if axis.kind == "time":
        if spec.ticks == 0:
            return AxisTicks((), ())
        return time_axis_ticks((axis.extent.low, axis.extent.high), spec, axis.zone, wanted, where)
    # The room beside the outermost values may reach beyond what a float can hold.
    ends = axis.transform.inverse(np.array([axis.extent.low, axis.extent.high]))
    low, high = (ends if np.isfinite(ends).all() else np.nan_to_num(ends)).tolist()
    minor: tuple[float, ...] = ()
    beyond: tuple[float, ...] = ()
    if isinstance(spec.ticks, tuple):
        at, beyond = within(numbers_said(spec.ticks, where), low, high)
    else:
        at, minor = written_truly(
            lambda count: axis.transform.ticks(low, high, count, whole=axis.whole), max(wanted, 2), spec, where, axis.transform
        )
    if spec.minor_ticks is False:
        minor = ()
    elif spec.minor_ticks and not minor and len(at) > 1:
        minor = _between(at, low, high)
    labels = number_texts(at, spec, where, axis.transform)
    places = axis.transform.forward(np.array(at, float)).tolist()
    same = alike(labels, tuple(map(abs, at)) if without_sign(spec.format) else at) if isinstance(spec.format, str) else []
    within_minor = tuple(axis.transform.forward(np.array(minor, float)).tolist())
    return AxisTicks(tuple(places), labels, within_minor, tuple(written(beyond)), tuple(same))


def within(values: tuple[float, ...], low: float, high: float) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The values in a range, whose ends may be off by the noise of a transform; and those outside."""
    slack = 1e-12 * max(abs(low), abs(high))
    inside = tuple(value for value in values if low - slack <= value <= high + slack)
    return inside, tuple(value for value in values if value not in inside)


def written_truly(ticks: Callable[[int], Ticks], wanted: int, spec: ScaleSpec, where: str, transform: Transform = _EVEN) -> Ticks:
    """Ticks that the scale's format writes as they are, so that 2.5 is never labelled 2, and no two alike.

    Where it can write none of the choices, they are those that were wanted; a note, or the check, says what a format loses.
    Texts of a callable or a dict are the analyst's own.

    Args:
        ticks: Makes about so many ticks.
        wanted: How many are wanted.
        spec: What is said of the scale.
        where: Who asks, for errors.
        transform: The kind of the scale.
    """
    usual = ticks(wanted)
    if not isinstance(spec.format, str):
        return usual
    for count in range(wanted, 1, -1):
        found = ticks(count)
        texts = number_texts(found.at, spec, where, transform)
        sizes = tuple(abs(value) for value in found.at) if without_sign(spec.format) else found.at
        if len(found.at) > 1 and not any(map(_loses, texts, sizes)) and not alike(texts, sizes):
            return found
    return usual


def alike(texts: tuple[str, ...], values: tuple[float, ...]) -> list[str]:
    """Texts that stand at several values: of −5 and 5 written without a sign both may be 5."""
    first: dict[str, float] = {}
    return [text for text, value in zip(texts, values, strict=True) if text and first.setdefault(text, value) != value]


def _loses(text: str, value: float) -> bool:
    """Whether a text tells another number, by more than half a percent; texts that are no plain number do not."""
    told = number_read(text)
    return math.isfinite(told) and not math.isclose(told, value, rel_tol=0.005, abs_tol=1e-12)


def _between(at: tuple[float, ...], low: float, high: float) -> tuple[float, ...]:
    """The middle between ticks, also outside the first and last one where there is room."""
    step = at[1] - at[0]
    middles = [value + step / 2 for value in (at[0] - step, *at)]
    return tuple(value for value in middles if low <= value <= high)


def numbers_said(values: tuple[object, ...], where: str) -> tuple[float, ...]:
    """Ticks that the analyst wrote, in their order.

    Raises:
        ScaleError: One is no number.
    """
    numbers = []
    for value in values:
        if not is_number(value):
            raise ScaleError(where, f"ticks holds {told(value)}, which is no number")
        numbers.append(float(value))
    return tuple(sorted(numbers))


def number_texts(values: tuple[float, ...], spec: ScaleSpec, where: str, transform: Transform = _EVEN) -> tuple[str, ...]:
    """Numbers written by the scale's format, else as short as they can be."""
    form = spec.format
    if form is None:
        return tuple(transform.texts(values))
    if callable(form):
        return tuple(called_format(form, value, where) for value in values)
    if isinstance(form, Mapping):
        plain = written(values)
        words = {_as_number(key): str(text) for key, text in form.items()}
        return tuple(words.get(value, text) for value, text in zip(values, plain, strict=True))
    try:
        return tuple(formatted(values, form))
    except ValueError as problem:
        raise OptionError(
            where,
            f"{told(form)} is no format for numbers: {problem}",
            'such as ",.1f", "percent", "si", "scientific" or "€{value:,.0f}"; or a callable',
        ) from problem


def _as_number(key: object) -> float | None:
    try:
        return float(str(key))
    except (TypeError, ValueError):
        return None


def time_axis_ticks(ends: tuple[float, float], spec: ScaleSpec, zone: str | None, wanted: int, where: str) -> AxisTicks:
    """Ticks of times between two ends: those that were listed, every so many units, or about as many as wanted.

    Raises:
        ScaleError: A tick is no time, or there would be more than 1,000.
        OptionError: The format can't write times.
    """
    if isinstance(spec.ticks, tuple):
        said = tuple(sorted(instant(value, zone, f"{where}: ticks") for value in spec.ticks))
        at, beyond = within(said, *ends)
        return AxisTicks(at, time_texts(at, _stamps(at, zone), spec, zone, where), beyond=_stamps(beyond, zone))
    if isinstance(spec.ticks, str):
        every = re.fullmatch(EVERY, spec.ticks)
        assert every is not None
        try:
            at, labels, _ = stepped_ticks(*ends, int(every[1] or 1), every[2], zone)
        except ValueError as problem:
            raise ScaleError(where, f"{spec.ticks!r} makes {problem}", "a longer step") from problem
        return AxisTicks(at, time_texts(at, labels, spec, zone, where), finer_ticks(at, *ends, zone) if spec.minor_ticks else ())
    usual: AxisTicks | None = None
    for count in range(max(spec.ticks or wanted, 2), 1, -1):
        at, labels, _ = time_ticks(*ends, count, zone)
        texts = time_texts(at, labels, spec, zone, where)
        minor = finer_ticks(at, *ends, zone) if spec.minor_ticks else ()
        usual = usual or AxisTicks(at, texts, minor)
        # Where a format says years alone, months would all be called the same: then years are the ticks.
        if len(at) > 1 and not _neighbours_alike(texts):
            return AxisTicks(at, texts, minor)
    assert usual is not None
    return usual._replace(alike=_neighbours_alike(usual.labels) if isinstance(spec.format, str) else ())


def _neighbours_alike(texts: tuple[str, ...]) -> tuple[str, ...]:
    """Texts that two ticks beside each other have; hours and months come again, but not at once."""
    return tuple(text for text, after in pairwise(texts) if text and text == after)


def _stamps(at: tuple[float, ...], zone: str | None) -> tuple[str, ...]:
    return tuple(text.replace(" 00:00", "") for text in strftime(at, "%d %b %Y %H:%M", zone))


def time_texts(at: tuple[float, ...], labels: tuple[str, ...], spec: ScaleSpec, zone: str | None, where: str) -> tuple[str, ...]:
    """Times written by the scale's format, else as the calendar gave them."""
    form = spec.format
    if form is None:
        return labels
    if callable(form):
        moments = np.array(at).astype(np.int64).astype("datetime64[us]").tolist()
        return tuple(called_format(form, moment, where) for moment in moments)
    if not isinstance(form, str) or "%" not in form:
        raise OptionError(where, f"{form!r} is no format for times", 'such as "%b %Y"; or a callable')
    try:
        return tuple(strftime(at, form, zone))
    except ValueError as problem:
        raise OptionError(where, f"{problem}") from problem


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
        raise ScaleError(where, "second_axis is for numbers and times, and the axis has categories")
    if (axis.kind == "time") != (second.zone is not None):
        what, would = (
            ("times", 'zone="Asia/Tokyo" shows them in another zone') if axis.kind == "time" else ("numbers", "convert= converts")
        )
        raise ScaleError(where, f"the axis has {what}, for which second_axis is no such one", f"second_axis={{…}}: {would}")
    where = f"{where}: second_axis"
    if second.zone is not None:
        if axis.zone is None:
            raise ScaleError(where, "the times have no zone of their own", "give them one in the data frame")
        if second.ticks is not None:
            raise ScaleError(where, "ticks have no effect on times in another zone", "leave them out")
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
            where,
            f"of does not lead from each value to one of its own between {low:g} and {high:g}",
            "a conversion of units rises or falls all the way",
        )
    if steps[0] < 0:
        places, converted = places[::-1], converted[::-1]
    transform = axis.transform if axis.transform.any_unit and converted[0] > 0 else Linear()
    return SecondAxis(second, converted, places, transform, where)
