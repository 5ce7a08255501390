"""Ticks of axes with their texts."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import is_number
from facetine.core.scales.calendar import instant, stepped_ticks, strftime, time_ticks
from facetine.core.scales.formats import formatted, written
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.errors import OptionError, ScaleError, told
from facetine.grammar.scale import EVERY, ScaleSpec
from facetine.pipeline.settle import Axis
from facetine.pipeline.wording import called_format

_EVEN = Linear()


class AxisTicks(NamedTuple):
    """Ticks of an axis."""

    at: tuple[float, ...]
    """Places in axis space."""
    labels: tuple[str, ...]
    """Inline markup, one a tick; a second line where a new day, month or year begins."""
    minor: tuple[float, ...] = ()
    """Places without a label."""
    thinned: bool = False
    """Whether ticks were left out because their labels would be the same."""


def axis_ticks(axis: Axis, wanted: int) -> AxisTicks:
    """Ticks of an axis, about as many as wanted where the analyst did not say which.

    Raises:
        ScaleError: A tick was asked for that is no value of the axis.
        OptionError: The scale's format can't write its values.
    """
    where = f"figure.scale({axis.name!r})"
    if axis.kind == "levels":
        return AxisTicks(tuple(float(place) for place in range(len(axis.labels))), axis.labels)
    if axis.empty:
        return AxisTicks((), ())  # numbers here would be made up
    spec = axis.spec
    if isinstance(spec.ticks, str) and axis.kind != "time":
        raise ScaleError(f"{where}: ticks {spec.ticks!r} are for times", "give a list of numbers, or how many")
    if isinstance(spec.ticks, int):
        if spec.ticks == 0:
            return AxisTicks((), ())
        wanted = max(spec.ticks, 2)
    if axis.kind == "time":
        return _time_axis(axis, wanted, where)
    # The room beside the outermost values may reach beyond what a float can hold.
    ends = axis.transform.inverse(np.array([axis.extent.low, axis.extent.high]))
    low, high = (ends if np.isfinite(ends).all() else np.nan_to_num(ends)).tolist()
    minor: tuple[float, ...] = ()
    if isinstance(spec.ticks, tuple):
        chosen = numbers_said(spec.ticks, where)
        at = tuple(value for value in chosen if low <= value <= high)
    else:
        at, minor = axis.transform.ticks(low, high, max(wanted, 2), whole=axis.whole)
    if spec.minor_ticks is False:
        minor = ()
    elif spec.minor_ticks and not minor and len(at) > 1:
        minor = _between(at, low, high)
    at, labels, thinned = told_apart(at, lambda values: number_texts(values, spec, where, axis.transform))
    places = axis.transform.forward(np.array(at, float)).tolist()
    return AxisTicks(tuple(places), labels, tuple(axis.transform.forward(np.array(minor, float)).tolist()), thinned)


def told_apart(
    at: tuple[float, ...], write: Callable[[tuple[float, ...]], tuple[str, ...]]
) -> tuple[tuple[float, ...], tuple[str, ...], bool]:
    """Ticks with their labels, thinned evenly until no two labels are the same; and whether that was needed."""
    for every in range(1, max(len(at), 1) + 1):
        chosen = at[::every]
        labels = write(chosen)
        said = [label for label in labels if label]
        if len(set(said)) == len(said):
            return chosen, labels, every > 1
    return at, write(at), False


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
            raise ScaleError(f"{where}: ticks holds {told(value)}, which is no number")
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
            f"{where}: {told(form)} is no format for numbers: {problem}",
            'such as ",.1f", "percent", "si", "scientific" or "€{value:,.0f}"; or a callable',
        ) from problem


def _as_number(key: object) -> float | None:
    try:
        return float(str(key))
    except (TypeError, ValueError):
        return None


def _time_axis(axis: Axis, wanted: int, where: str) -> AxisTicks:
    low, high = axis.extent.low, axis.extent.high
    if isinstance(axis.spec.ticks, tuple):
        at = tuple(sorted(instant(value, axis.zone, f"{where}: ticks") for value in axis.spec.ticks))
        at = tuple(value for value in at if low <= value <= high)
        labels = _stamps(at, axis)
    elif isinstance(axis.spec.ticks, str):
        every = re.fullmatch(EVERY, axis.spec.ticks)
        assert every is not None
        try:
            at, labels, _ = stepped_ticks(low, high, int(every[1] or 1), every[2], axis.zone)
        except ValueError as problem:
            raise ScaleError(f"{where}: {axis.spec.ticks!r} makes {problem}", "a longer step") from problem
    else:
        at, labels, _ = time_ticks(low, high, max(wanted, 2), axis.zone)
    texts = time_texts(at, labels, axis.spec, axis.zone, where)
    if axis.spec.format is None or len(set(texts)) == len(texts):
        return AxisTicks(at, texts)
    # Of ticks that are written alike the first stands for all, such as January for a year.
    first = [place for place, text in enumerate(texts) if not text or text not in texts[:place]]
    return AxisTicks(tuple(at[place] for place in first), tuple(texts[place] for place in first), thinned=True)


def _stamps(at: tuple[float, ...], axis: Axis) -> tuple[str, ...]:
    return tuple(text.replace(" 00:00", "") for text in strftime(at, "%d %b %Y %H:%M", axis.zone))


def time_texts(at: tuple[float, ...], labels: tuple[str, ...], spec: ScaleSpec, zone: str | None, where: str) -> tuple[str, ...]:
    """Times written by the scale's format, else as the calendar gave them."""
    form = spec.format
    if form is None:
        return labels
    if callable(form):
        moments = np.array(at).astype(np.int64).astype("datetime64[us]").tolist()
        return tuple(called_format(form, moment, where) for moment in moments)
    if not isinstance(form, str) or "%" not in form:
        raise OptionError(f"{where}: {form!r} is no format for times", 'such as "%b %Y"; or a callable')
    try:
        return tuple(strftime(at, form, zone))
    except ValueError as problem:
        raise OptionError(f"{where}: {problem}") from problem
